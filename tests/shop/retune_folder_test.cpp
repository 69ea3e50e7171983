// Programs of a folder, a watched folder, and the report on a program.
#include <QDir>
#include <QFile>
#include <QTemporaryDir>
#include <catch2/catch.hpp>

#include "demo_copy.h"
#include "formats/paper/paper.h"
#include "shop/retune_folder.h"
#include "shop/retune_report.h"

using namespace pecorra;

namespace {

const QByteArray milled = "G21 G90\n(END MILL D12)\nT5 M6\nS2500 M3\nG0 X0 Y0 Z5.\nG1 Z-3. F200\nX100. F600\nM30\n";
const QByteArray unknown = "G21 G90\nT944 M6\nS2500 M3\nG0 X0 Y0 Z5.\nG1 Z-3. F200\nX100. F600\nM30\n";

struct Folders {
  ShopState state = the_demo();
  QTemporaryDir from, to;
  FolderWish wish;
  Folders() {
    wish.to = to.path();
    wish.material = state.materials.named("C45")->id;
    wish.machine = state.machines.named("Fettler 6")->id;
  }
  void put(const char* name, const QByteArray& text) { write(from.filePath(name), text); }
  static void write(const QString& name, const QByteArray& text) {
    QFile file(name);
    REQUIRE(file.open(QIODevice::WriteOnly));
    file.write(text);
  }
  QByteArray text(const QString& name) {
    QFile file(name);
    CHECK(file.open(QIODevice::ReadOnly));
    return file.readAll();
  }
};

}  // namespace

TEST_CASE("programs of a folder: which files they are, each retuned, none over itself") {
  Folders f;
  for (const char* name : {"b.nc", "A.TAP", "O1234", "o77", "notes.doc", "Ox"}) f.put(name, milled);
  QStringList names;
  for (const QString& file : programs_in(f.from.path())) names << QFileInfo(file).fileName();
  names.sort();
  CHECK(names == QStringList{"A.TAP", "O1234", "b.nc", "o77"});
  CHECK(fault_of_folders(f.from.path(), f.to.path()).isEmpty());
  CHECK(fault_of_folders(f.from.path(), f.from.path()).contains("folder other than"));
  CHECK(fault_of_folders(f.from.path(), f.from.path() + "/../" + QDir(f.from.path()).dirName()).contains("other than"));
  CHECK(fault_of_folders(f.from.path(), f.to.filePath("none")).contains("no folder"));
  CHECK(fault_of_folders(f.from.filePath("b.nc"), f.to.path()).contains("not a folder"));

  FolderLine line = retune_into(f.state, f.from.filePath("b.nc"), f.wish);
  REQUIRE(line.is_written());
  CHECK(f.text(line.out).size() > 50);
  CHECK(f.text(line.out) != milled);
  CHECK(f.text(f.from.filePath("b.nc")) == milled);
  CHECK(line.aside.isEmpty());
  // What is there is put aside.
  line = retune_into(f.state, f.from.filePath("b.nc"), f.wish);
  CHECK(QFile::exists(line.aside));
  // Only looked at.
  f.wish.to.clear();
  line = retune_into(f.state, f.from.filePath("b.nc"), f.wish);
  CHECK(line.made);
  CHECK(line.out.isEmpty());
}

TEST_CASE("a program with a T that nothing identifies is written only where that is allowed") {
  Folders f;
  f.put("x.nc", unknown);
  CHECK(retune_into(f.state, f.from.filePath("x.nc"), f.wish).is_written());
  f.wish.whole_only = true;
  const FolderLine line = retune_into(f.state, f.from.filePath("x.nc"), f.wish);
  CHECK_FALSE(line.is_written());
  CHECK(line.fault.contains("assign"));
  CHECK(QDir(f.to.path()).entryList(QDir::Files).size() == 1);
  // With its cutter stated for all.
  ToolPairing pairing;
  pairing.t = 944;
  pairing.cutter = f.state.cutters[0].id;
  f.wish.tools = {pairing};
  CHECK(retune_into(f.state, f.from.filePath("x.nc"), f.wish).is_written());
}

TEST_CASE("a watched folder: what has come to rest is due, once, and again when it changes") {
  Folders f;
  FolderWatch watch(f.from.path(), f.to.path());
  f.put("x.nc", milled);
  const QString file = f.from.filePath("x.nc");
  CHECK(watch.due().isEmpty());  // it may still grow
  f.put("x.nc", milled + unknown);
  CHECK(watch.due().isEmpty());
  CHECK(watch.due() == QStringList{file});
  CHECK(watch.due() == QStringList{file});  // until it is done
  watch.done(file);
  CHECK(watch.due().isEmpty());
  // Another version of it, a moment later.
  f.put("x.nc", milled);
  QFile later(file);
  REQUIRE(later.open(QIODevice::ReadWrite));
  REQUIRE(later.setFileTime(QDateTime::currentDateTime().addSecs(5), QFileDevice::FileModificationTime));
  later.close();
  CHECK(watch.due().isEmpty());
  CHECK(watch.due() == QStringList{file});
  watch.done(file);
  // One with an old date in its place, as copying with dates leaves it.
  f.put("x.nc", unknown);
  QFile old(file);
  REQUIRE(old.open(QIODevice::ReadWrite));
  REQUIRE(old.setFileTime(QDateTime::currentDateTime().addDays(-9), QFileDevice::FileModificationTime));
  old.close();
  Folders::write(f.to.filePath("x.nc"), milled);
  CHECK(watch.due().isEmpty());
  CHECK(watch.due() == QStringList{file});
  watch.done(file);
  CHECK(watch.due().isEmpty());
  // What was written before the start is not written again.
  FolderWatch next(f.from.path(), f.to.path());
  Folders::write(f.to.filePath("x.nc"), milled);
  QFile written(f.to.filePath("x.nc"));
  REQUIRE(written.open(QIODevice::ReadWrite));
  REQUIRE(written.setFileTime(QDateTime::currentDateTime().addSecs(9), QFileDevice::FileModificationTime));
  written.close();
  CHECK(next.due().isEmpty());
  CHECK(next.due().isEmpty());
}

TEST_CASE("the report has each T, before and after, what is wrong, and what is not understood") {
  Folders f;
  f.put("x.nc",
        "G21 G90\n(END MILL D12)\nT5 M6\nS2500 M3\nG0 X0 Y0 Z5.\nG1 Z-3. F200\nX100. F500\nG0 X0\nX10 & <b>\nT944 M6\n"
        "G1 X5 F100\nM30\n");
  f.wish.to.clear();
  const FolderLine line = retune_into(f.state, f.from.filePath("x.nc"), f.wish);
  REQUIRE(line.made);
  const QString page = retune_report(f.state, *line.made, UnitSystem::metric);
  for (const char* part :
       {"<h1>x.nc</h1>", "C45 on Fettler 6", "End mill Ø12", "2500 → ", "500 → ", "not assigned",
        "sideways rapid at cutting depth (in the program now)", "Not understood", "X10 &amp; &lt;b&gt;"}) {
    INFO(part);
    CHECK(page.contains(QString::fromUtf8(part)));
  }
  CHECK_FALSE(page.contains("<b>"));
  // What is so before and after is said once: here, that no holder fits this machine.
  f.wish.machine = f.state.machines.named("Slubber 2")->id;
  const FolderLine elsewhere = retune_into(f.state, f.from.filePath("x.nc"), f.wish);
  REQUIRE(elsewhere.made);
  CHECK(retune_report(f.state, *elsewhere.made, UnitSystem::metric).count("Slubber 2 takes") == 1);
  const QString pdf = f.to.filePath("r.pdf"), html = f.to.filePath("r.html");
  CHECK(save_retune_report(f.state, *line.made, html, UnitSystem::metric).isEmpty());
  CHECK(f.text(html) == page.toUtf8());
  CHECK(save_retune_report(f.state, *line.made, f.to.path(), UnitSystem::metric).size() > 5);
}

TEST_CASE("what the moves show is what the tables are asked for, unless something is stated") {
  Folders f;
  QByteArray levels = "G21 G90\n(END MILL D12)\nT5 M6\nS2500 M3\nG0 X0 Y0 Z5.\n";
  for (const char* z : {"-2.", "-4.", "-6."})
    levels += QByteArray("G0 X0 Y0\nG1 Z") + z + " F200\nX100. F600\nY4.\nX0\nY8.\nX100.\nY12.\nX0\nG0 Z5.\n";
  f.put("x.nc", levels + "M30\n");
  f.wish.to.clear();
  FolderLine line = retune_into(f.state, f.from.filePath("x.nc"), f.wish);
  REQUIRE(line.made);
  const RetunedSection& seen = line.made->sections[0];
  REQUIRE((seen.ap_mm && seen.ae_mm));
  CHECK(*seen.ap_mm == Approx(2));
  CHECK(*seen.ae_mm == Approx(4));
  const auto says = [](const RetunedSection& s, const char* code) {
    return std::any_of(s.messages.begin(), s.messages.end(), [&](const Message& m) { return m.code == code; });
  };
  CHECK(says(seen, "retune_depth_seen"));
  CHECK(says(seen, "retune_width_seen"));
  // The same, stated: the same speeds and feeds.
  ToolPairing pairing;
  pairing.t = 5;
  pairing.ap_mm = 2, pairing.ae_mm = 4;
  f.wish.tools = {pairing};
  line = retune_into(f.state, f.from.filePath("x.nc"), f.wish);
  CHECK(line.made->sections[0].conditions.n_rpm == seen.conditions.n_rpm);
  CHECK(line.made->sections[0].conditions.vf_mm_min == seen.conditions.vf_mm_min);
  CHECK_FALSE(says(line.made->sections[0], "retune_depth_seen"));
  // Passes as wide as the cutter are slots.
  QByteArray wide = levels;
  wide.replace("Y4.", "Y12.").replace("Y8.", "Y24.").replace("Y12.\nX0\nG0", "Y36.\nX0\nG0");
  f.put("x.nc", wide + "M30\n");
  f.wish.tools.clear();
  line = retune_into(f.state, f.from.filePath("x.nc"), f.wish);
  CHECK(line.made->sections[0].operation == OperationKind::slot);
  CHECK(says(line.made->sections[0], "retune_slot_seen"));
  // A cycle that pecks.
  f.put("x.nc", "G21 G90\n(DRILL D5)\nT5 M6\nS2500 M3\nG0 X0 Y0 Z5.\nG83 X1 Y1 Z-20. R2. Q3. F200\nX5\nG80\nM30\n");
  line = retune_into(f.state, f.from.filePath("x.nc"), f.wish);
  CHECK(line.made->sections[0].operation == OperationKind::peck);
  CHECK(line.made->sections[0].conditions.n_rpm.has_value());
}
