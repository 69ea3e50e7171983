// Programs made elsewhere as a shop keeps them: read, worked out, written, listed, remembered.
#include <QDir>
#include <QFile>
#include <QTemporaryDir>
#include <catch2/catch.hpp>

#include "demo_copy.h"
#include "formats/json/objects.h"
#include "shop/retune_file.h"
#include "shop/shop.h"

using namespace pecorra;

namespace {

struct Kept {
  ShopState state = the_demo();
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
  p.pairing_for(9, 2).operation = OperationKind::side_finish;
  p.stock_top_mm = 1.5;
  RetunedProgram back;
  FormatFaults faults;
  from_json(back, to_json(p), faults);
  CHECK(faults.empty());
  CHECK(back == p);
  CHECK(file_pattern("Lid_0412.nc") == file_pattern("LID_7.NC"));
  CHECK(file_pattern("Lid_0412.nc") != file_pattern("LIDS_7.NC"));
}

TEST_CASE("what is stated for one section of a tool leaves the others as they were stated") {
  RetunedProgram p;
  p.pairing_for(5).cutter = new_id();
  p.pairing_for(5).ap_mm = 2;
  p.pairing_for_section(5, 2, 3).ap_mm = 1;
  for (const int part : {1, 2, 3}) CHECK(*stated_for(p.tools, 5, part).ap_mm == (part == 2 ? 1 : 2));
  CHECK(stated_for(p.tools, 5, 3).cutter == p.pairing(5)->cutter);
  p.pairing_for_section(5, 2, 3).ap_mm.reset();
  CHECK_FALSE(stated_for(p.tools, 5, 2).ap_mm);
  // Of a tool with one section it is the tool's.
  p.pairing_for_section(7, 1, 1).skip = true;
  CHECK(p.pairing(7)->skip);
  // Left out as a whole, and one of them taken in again.
  p.pairing_for(9).skip = true;
  p.pairing_for_section(9, 1, 2).skip = false;
  CHECK_FALSE(stated_for(p.tools, 9, 1).skip);
  CHECK(stated_for(p.tools, 9, 2).skip);
}

TEST_CASE("a section's work comes from its comment, its first depth from the top of the stock; both can be stated") {
  Kept k;
  const QByteArray pass = "G0 X0 Y0 Z5.\nG1 Z-3. F200\nX100. F600\nG0 Z50.\n";
  k.put("G21 G90\n(END MILL D12)\nT5 M6\nS2500 M3\n" + pass + "(FINISH WALLS)\n" + pass + "M30\n");
  RetunedProgram p = k.made();
  auto done = retune_file(k.state, p, k.read());
  REQUIRE(done->sections.size() == 2);
  CHECK(done->sections[0].operation == OperationKind::side_rough);
  CHECK(done->sections[1].operation == OperationKind::side_finish);
  CHECK(done->sections[1].parts == 2);
  CHECK_FALSE(done->sections[0].ap_mm);  // one level says nothing of its depth
  const auto& said = done->sections[1].messages;
  CHECK(std::any_of(said.begin(), said.end(), [](const Message& m) { return m.code == "retune_comment_seen"; }));
  CHECK(*done->sections[0].conditions.n_rpm != *done->sections[1].conditions.n_rpm);
  p.stock_top_mm = 1;
  done = retune_file(k.state, p, k.read());
  CHECK(*done->sections[0].ap_mm == Approx(4));
  p.pairing_for_section(5, 1, 2).operation = OperationKind::slot;
  p.pairing_for_section(5, 1, 2).ap_mm = 2;
  done = retune_file(k.state, p, k.read());
  CHECK(done->sections[0].operation == OperationKind::slot);
  CHECK(*done->sections[0].ap_mm == 2);
  CHECK(done->sections[1].operation == OperationKind::side_finish);
  CHECK(*done->sections[1].ap_mm == Approx(4));
}

TEST_CASE("subprograms in files beside a program are found by their number and left as they are") {
  Kept k;
  k.put("G21 G90\n(END MILL D12)\nT5 M6\nS2500 M3\nG0 X0 Y0 Z5.\nM98 P1000\nM98 P2000\nM98 P21000\nX50. F600\nM30\n");
  const auto beside = [&](const char* name, const QByteArray& text) {
    QFile file(k.dir.filePath(name));
    REQUIRE(file.open(QIODevice::WriteOnly));
    file.write(text);
  };
  beside("o1000.nc", "O1000\nG1 Z-3. F200\nM98 P3\nM99\n");
  beside("1000.txt", "G1 X1.\nM99\n");  // that with the program's ending counts
  beside("0003.NC", "X100. F500\nM99\n");
  const auto done = retune_file(k.state, k.made(), k.read());
  REQUIRE(done->reading->not_understood.size() == 1);  // O2000 is nowhere
  CHECK(done->reading->not_understood[0].block == 6);
  CHECK(done->reading->attached.size() == 2);
  const auto alone = done->left_alone();
  REQUIRE(alone.size() == 3);
  CHECK(alone.back().block == 5);
  CHECK(done->read.text->size() == 10);
  CHECK(done->done.text.find("X100.") == std::string::npos);
  // Where feeds stand in another file, the speed stays too.
  REQUIRE(done->sections.size() == 1);
  CHECK_FALSE(done->sections[0].conditions.n_rpm);
  CHECK(std::string(done->done.text) == done->read.text->print());
  const auto& moves = done->moves->moves;
  CHECK(std::any_of(moves.begin(), moves.end(), [](const ProgramMove& m) { return m.x == 100 && m.block == 5; }));
}

TEST_CASE("a cutter whose moves all stand in a file of their own has its section") {
  Kept k;
  k.put("G21 G90\n(TAP M10)\nT12 M6\nS300 M3\nM98 P7\nM30\n");
  QFile file(k.dir.filePath("O0007.NC"));
  REQUIRE(file.open(QIODevice::WriteOnly));
  file.write("G84 X10. Y10. Z-18. R5. F450\nX20.\nG80\nM99\n");
  file.close();
  const auto done = retune_file(k.state, k.made(), k.read());
  REQUIRE(done->sections.size() == 1);
  CHECK(done->reading->sections[0].tool == 12);
  CHECK(done->reading->sections[0].n_rpm == 300);
  CHECK(done->sections[0].found.cutter);
  CHECK(done->done.text == k.read().text->print());
}

TEST_CASE("threads are milled by the centre, and leads go by the table") {
  Kept k;
  const auto mill = std::find_if(k.state.cutters.begin(), k.state.cutters.end(), [](const Cutter& c) {
    return c.kind == CutterKind::thread_mill && !has_error(check_cutter(c));
  });
  REQUIRE(mill != k.state.cutters.end());
  k.put(
      "G21 G90\n(THREAD)\nT900 M6\nS2500 M3\nG0 X0 Y0 Z5.\nG0 Z-9.\nG1 X5. F200\nG3 X5. Z-7.5 I-5. F300\n"
      "G1 X0 F200\nG0 Z50.\nM30\n");
  RetunedProgram p = k.made();
  p.pairing_for(900).cutter = mill->id;
  const auto done = retune_file(k.state, p, k.read());
  const NewConditions& c = done->sections[0].conditions;
  CHECK(done->sections[0].operation == OperationKind::thread_mill);
  CHECK(c.cuts_threads);
  CHECK(*c.arc_radius_mm == *mill->diameter_mm / 2);
  CHECK(c.lead_mm_min == 0);  // the rule's lead is as fast as the cut
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
