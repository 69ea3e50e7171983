// Programs made elsewhere as a shop keeps them: read, worked out, written, listed, remembered.
#include <QDir>
#include <QFile>
#include <QTemporaryDir>
#include <catch2/catch.hpp>

#include "formats/json/objects.h"
#include "shop/demo.h"
#include "shop/retune_file.h"
#include "shop/shop.h"

using namespace pecorra;

namespace {

struct Kept {
  ShopState state = demo_state();
  QTemporaryDir dir;
  QString name = dir.filePath("LID_0412.NC");
  void put(const QByteArray& text) {
    QFile file(name);
    REQUIRE(file.open(QIODevice::WriteOnly));
    file.write(text);
  }
  ForeignProgram read() {
    auto read = read_program_file(name);
    REQUIRE(read.has_value());
    return *read;
  }
  RetunedProgram made() {
    return new_program(state, read(), state.materials.named("C45")->id, state.machines.named("Fettler 6")->id, 100);
  }
  std::vector<std::string> codes(const RetunedSection& s) {
    std::vector<std::string> out;
    for (const Message& m : s.as_it_is) out.push_back(m.code);
    return out;
  }
};

const QByteArray lid =
    "G21 G90\n(END MILL D12)\nT5 M6\nS2500 M3\nG0 X0 Y0 Z5.\nG1 Z-3. F200\nX100. F600\nG0 Z50.\nM5\n(TAP M10)\nT12 M6\n"
    "S300 M3\nG0 X10. Y10.\nG84 X10. Y10. Z-18. R5. F400\nG80\nM30\n";

bool has(const std::vector<std::string>& all, const std::string& one) {
  return std::find(all.begin(), all.end(), one) != all.end();
}

}  // namespace

TEST_CASE("what is stated for a program comes back from its file of objects") {
  RetunedProgram p;
  p.id = new_id();
  p.name = "x.nc", p.file = "/a/x.nc", p.print = "12", p.written = "/a/y.nc", p.written_print = "34";
  p.material = new_id(), p.machine = new_id();
  p.pace = 80;
  p.pairing_for(5).cutter = new_id();
  p.pairing_for(5).ap_mm = 2.5;
  p.pairing_for(7).skip = true;
  p.pairing_for(9).operation = OperationKind::slot;
  RetunedProgram back;
  FormatFaults faults;
  from_json(back, to_json(p), faults);
  CHECK(faults.empty());
  CHECK(back == p);
  CHECK(file_pattern("Lid_0412.nc") == file_pattern("LID_7.NC"));
  CHECK(file_pattern("Lid_0412.nc") != file_pattern("LIDS_7.NC"));
}

TEST_CASE("a program is listed by what is to be done with it") {
  Kept k;
  RetunedProgram p;
  k.put(lid);
  p = k.made();
  CHECK(p.name == "LID_0412.NC");
  CHECK(summary_of(k.state, p).health == ProgramHealth::unwritten);
  CHECK(summary_of(k.state, p).sections == 2);
  const auto made = retune_file(k.state, p, k.read());
  REQUIRE(made);
  p.written = "somewhere", p.written_print = made->print;
  CHECK(summary_of(k.state, p).health == ProgramHealth::ready);
  CHECK_FALSE(summary_of(k.state, p).new_version);
  // A pairing, the pace: the conditions move, and coming back they are the same.
  RetunedProgram slower = p;
  slower.pace = 60;
  CHECK(summary_of(k.state, slower).health == ProgramHealth::moved);
  k.put(lid + "(ONE MORE LINE)\n");
  CHECK(summary_of(k.state, p).new_version);
  k.put("G21 G90\n(NOBODY KNOWS)\nT77 M6\nS100 M3\nG1 X1. F10\nM30\n");
  CHECK(summary_of(k.state, p).health == ProgramHealth::open_cutters);
  RetunedProgram homeless = p;
  homeless.material = new_id();
  CHECK(summary_of(k.state, homeless).health == ProgramHealth::no_context);
  QFile::remove(k.name);
  CHECK(summary_of(k.state, p).health == ProgramHealth::missing);
}

TEST_CASE("a program of the same kind on the same machine is remembered") {
  Kept k;
  k.put(lid);
  RetunedProgram p = k.made();
  p.pairing_for(5).ap_mm = 1.25;
  p.pairing_for(5).cutter = k.state.cutters[0].id;
  k.state.programs.put(p);
  k.name = k.dir.filePath("lid_99.nc");
  k.put(lid);
  const RetunedProgram next = k.made();
  REQUIRE(next.tools.size() == 1);
  CHECK(next.tools[0].ap_mm == 1.25);
  CHECK(next.tools[0].cutter == k.state.cutters[0].id);
  const auto made = retune_file(k.state, next, k.read());
  CHECK(made->sections[0].found.by == FoundBy::remembered);
  // Deleted since, it is found out anew.
  k.state.cutters.remove(Id(next.tools[0].cutter));
  CHECK(retune_file(k.state, next, k.read())->sections[0].found.by == FoundBy::size);
  const RetunedProgram elsewhere =
      new_program(k.state, k.read(), p.material, k.state.machines.named("Slubber 2")->id, 100);
  CHECK(elsewhere.tools.empty());
  CHECK(program_for(k.state, k.dir.filePath("LID_0412.NC"))->id == p.id);
  CHECK(program_for(k.state, k.name) == nullptr);
}

TEST_CASE("a report names what is dangerous in a program as it is") {
  Kept k;
  k.put(lid);
  auto made = retune_file(k.state, k.made(), k.read());
  REQUIRE(made);
  REQUIRE(made->sections.size() == 2);
  // 300 a minute at 1.5 mm are 450 (tap feed: n times pitch, common practice, no source).
  CHECK(has(k.codes(made->sections[1]), "program_off_pitch"));
  QByteArray right = lid;
  k.put(right.replace("F400", "F450"));
  made = retune_file(k.state, k.made(), k.read());
  CHECK_FALSE(has(k.codes(made->sections[1]), "program_off_pitch"));
  // Where a magazine is kept, a T that stands in none of its pockets is named.
  CHECK_FALSE(has(k.codes(made->sections[0]), "program_no_spindle"));
  QByteArray still = lid;
  k.put(still.replace("S2500 M3\n", ""));
  made = retune_file(k.state, k.made(), k.read());
  CHECK(has(k.codes(made->sections[0]), "program_no_spindle"));
}

TEST_CASE("only its own bytes are written, and a failing disk leaves what was there") {
  Kept k;
  k.put(lid);
  const auto made = retune_file(k.state, k.made(), k.read());
  REQUIRE(made);
  QString aside;
  // A folder is no target, and neither is one that is not there.
  CHECK_FALSE(write_retuned(*made, k.dir.path(), aside).isEmpty());
  CHECK_FALSE(write_retuned(*made, k.dir.filePath("no/such/x.nc"), aside).isEmpty());
  CHECK(write_retuned(*made, k.name, aside).isEmpty());
  CHECK(aside == k.name + ".bak");
  QFile backup(aside);
  REQUIRE(backup.open(QIODevice::ReadOnly));
  CHECK(backup.readAll() == lid);
  // Retuned again it is the same.
  const auto again = retune_file(k.state, k.made(), k.read());
  CHECK(again->changed_lines.empty());
  CHECK(again->print == made->print);
  // Stopped, there is nothing.
  QByteArray longer = "G21 G90\n(END MILL D12)\nT5 M6\nS2500 M3\n";
  for (int i = 0; i < 20000; ++i) longer += "G1 X" + QByteArray::number(i % 100) + " F300\n";
  k.put(longer);
  CHECK(retune_file(k.state, k.made(), k.read(), [](double done) { return done < 0.5; }) == nullptr);
}
