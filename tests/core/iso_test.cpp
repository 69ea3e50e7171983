// The block model: what is read and printed again is the same byte for byte, and words are what they say.
#include <catch2/catch.hpp>
#include <random>

#include "core/iso/block_writer.h"
#include "core/iso/modal_state.h"
#include "core/iso/program_text.h"

using namespace pecorra;

namespace {

std::string kinds_of(const std::string& line) {
  static constexpr const char* names = "wcs%=S?_";
  std::string out;
  const ProgramText p = ProgramText::read(line);
  for (std::size_t b = 0; b < p.size(); ++b)
    for (const ProgramPiece& piece : p.pieces(b)) out += names[static_cast<int>(piece.kind)];
  return out;
}

// Constructs of programs as they are met, by hand and from generators: words in every manner of writing.
std::vector<std::string> constructs() {
  std::vector<std::string> all{"",
                               "%",
                               "% TAPE",
                               "O0001",
                               ":1234",
                               "O0001 (NAME)",
                               "N10 G0 X1. Y2.",
                               "n10g0x1.y2.",
                               "G01X-1.5Y+2Z.5F100",
                               "G 01 X 1.5",
                               "G1 X1. (comment) Y2.",
                               "(only a comment)",
                               "(open",
                               ") closed",
                               "; to the end",
                               "G0 ; (both)",
                               "/G0 X1",
                               "/2 M8",
                               "// twice",
                               "G1 X#101 Y-#102 Z[#1+2]",
                               "X[[#1+2]*3]",
                               "#1=2.5",
                               "#100 = #101 + 1 (note)",
                               "#<_name>=1",
                               "X#<_name>",
                               "IF [#1 EQ 2] GOTO 10",
                               "WHILE [#1 LT 5] DO1",
                               "END1",
                               "GOTO 20",
                               "M98 P1000 L3",
                               "M98 P21000",
                               "M99",
                               "G65 P9010 A1. B2.",
                               "G54.1 P12",
                               "G10 L2 P1 X0",
                               "S3000 M3",
                               "M3 S3000",
                               "T5 M6",
                               "M6 T5",
                               "T05",
                               "T0505",
                               "S1=3000",
                               "M1=3",
                               "G1 X10. ,R2.",
                               "G1 X10. ,C1.",
                               "G2 X1 Y1 I.5 J-.5",
                               "G2 X1 Y1 R-5.",
                               "G83 Z-10. R2. Q1. F100 K3",
                               "G4 P500",
                               "G4 X1.5",
                               "G4 U1.",
                               "E1=5",
                               "D5",
                               "H5",
                               "G41 D5",
                               "G91 G28 Z0.",
                               "G53 Z0",
                               "M30",
                               "M02",
                               "X",
                               "X-",
                               "X.",
                               "X+.",
                               "X--1",
                               "X1.2.3",
                               "G1 X1*71",
                               "\"quoted\"",
                               "'apostrophe'",
                               "{x}",
                               "A1 B2 C3",
                               "U1 V2 W3",
                               "\tG1\tX1",
                               "  G1  X1  ",
                               "G1 X1 ",
                               "G1 X1\t",
                               "G1X1(a)(b)Y2",
                               "(a))",
                               "((nested))",
                               "(a(b)c)",
                               "LBL 1",
                               "CALL",
                               "X 1 . 5",
                               "G1 X1,5",
                               "G1 X1e5",
                               "N",
                               "N10",
                               "N10 N20",
                               "F",
                               "F.",
                               "F0.1",
                               "&",
                               "@714",
                               "=",
                               "==",
                               "#",
                               "#=",
                               "#[1]=2",
                               "##1",
                               "X##1",
                               "[",
                               "]",
                               "[]",
                               "X[",
                               "X[1",
                               "X[]",
                               "<",
                               ">",
                               "M",
                               "M3M8",
                               "DPRNT[X#1[53]]",
                               "POPEN",
                               "O<sub> CALL [1]",
                               "G1 Z-1 (Ø 12)",
                               "\xEF\xBB\xBF%",
                               "G1 X1\x01"};
  // The same with numbers, blanks, comments and deletes in all the places where they may stand.
  const std::vector<std::string> plain = all;
  for (const std::string& c : plain) {
    all.push_back("N120 " + c);
    all.push_back(c + " (behind)");
    all.push_back("/ " + c);
  }
  return all;
}

}  // namespace

TEST_CASE("several hundred constructs come back byte for byte, with every end of line") {
  const std::vector<std::string> all = constructs();
  CHECK(all.size() > 400);
  for (const std::string end : {"\n", "\r\n", "\r\r\n", ""}) {
    std::string whole;
    for (const std::string& line : all) {
      INFO(line);
      CHECK(ProgramText::read(line + end).print() == line + end);
      whole += line + (end.empty() ? "\n" : end);
    }
    CHECK(ProgramText::read(whole).print() == whole);
    if (!end.empty()) CHECK(ProgramText::read(whole).size() == all.size());
  }
  const std::string wide = "G1" + std::string(200000, ' ') + "X1\n";
  CHECK(ProgramText::read(wide).print() == wide);
}

TEST_CASE("random bytes come back, and every byte is in one piece") {
  std::mt19937 random(7);
  const std::string letters = "GXYZNFSTMO#[]()/%;,.:=-+0123456789 \t\r\n\xC3\x84<>IJKR";
  for (int run = 0; run < 3000; ++run) {
    std::string text;
    for (unsigned i = random() % 120; i > 0; --i) text += letters[random() % letters.size()];
    const ProgramText p = ProgramText::read(text);
    REQUIRE(p.print() == text);
    for (std::size_t b = 0; b < p.size(); ++b) {
      std::size_t sum = 0;
      for (const ProgramPiece& piece : p.pieces(b)) sum += piece.blanks + piece.length;
      REQUIRE(sum == p.line(b).size());
    }
  }
}

TEST_CASE("words, comments, deletes, assignments and statements are told apart") {
  CHECK(kinds_of("N10 G01 X-1.5 F100") == "wwww");
  CHECK(kinds_of("G1X1Y2(c)Z3") == "wwwcw");
  CHECK(kinds_of("/2 M8 ; off") == "swc");
  CHECK(kinds_of("#1=2 (two)") == "=c");
  CHECK(kinds_of("IF [#1 EQ 2] GOTO 10") == "S");
  CHECK(kinds_of("X[#1+[2*3]] Y#101") == "ww");
  CHECK(kinds_of("G1 X1 (open") == "ww?");
  CHECK(kinds_of("G1 X1 *71") == "ww?");
  CHECK(kinds_of("G1 X10. ,R2.") == "www");
  CHECK(kinds_of("S1=3000") == "w");
  CHECK(kinds_of("G1 ") == "w_");
  CHECK(word_value("X-1.5") == -1.5);
  CHECK(word_value("G 01") == 1);
  CHECK(word_value("Z+.5") == 0.5);
  CHECK(word_value("X5.") == 5);
  CHECK(word_value(",R2.") == 2);
  CHECK_FALSE(word_value("X#101"));
  CHECK_FALSE(word_value("X[1+2]"));
  CHECK_FALSE(word_value("S1=3000"));
}

TEST_CASE("numbers beyond any code and variables of variables are no harm") {
  const std::string text = "T96666666666 M1e9\nG99999999999999999999 S1\nX" + std::string(100000, '#') + "1\n";
  const ProgramText p = ProgramText::read(text);
  CHECK(p.print() == text);
  ModalState s;
  for (std::size_t b = 0; b < p.size(); ++b) s.apply(p, b);
  CHECK(s.s == 1.0);
  CHECK(s.waiting_t == 0);
}

TEST_CASE("a block is replaced and the others stay") {
  ProgramText p = ProgramText::read("G0 X1\r\nG1 X2 F100\r\nM30");
  p.replace(1, "G1 X2 F250");
  CHECK(p.print() == "G0 X1\r\nG1 X2 F250\r\nM30");
  CHECK(p.line(1) == "G1 X2 F250");
}

TEST_CASE("what holds after a block: modes, feeds, cutter") {
  const ProgramText p = ProgramText::read(
      "G20 G90 G17 G40 G94\nT5\nM6 T7\nS3000 M3\nM8\nG54\nG0 X1\nG1 X2 F10.\nG83 Z-1 R.1 Q.1 F5\nX3\nG80\nG18 G2 X1 Z1 "
      "I.5\nG95\nG21\nM9 M5\nM30\n");
  ModalState s;
  const auto after = [&](std::size_t block) {
    static std::size_t at = 0;
    for (; at <= block; ++at) s.apply(p, at);
  };
  after(2);
  CHECK(s.inch);
  CHECK(s.t == 7);  // the T of its own block
  after(5);
  CHECK((s.spindle == 3 && s.coolant && s.work_offset == 54 && s.s == 3000.0));
  after(7);
  CHECK((s.motion == 1 && s.f == 10.0));
  after(9);
  CHECK((s.cycle == 83 && s.f == 5.0));
  after(11);
  CHECK((s.cycle == 0 && s.motion == 2 && s.plane == Plane::zx));
  after(15);
  CHECK((s.feed_mode == FeedMode::per_turn && !s.inch && s.spindle == 5 && !s.coolant && s.ended));
}

TEST_CASE("numbers are written as the control has them") {
  const auto number = [](double v, int decimals, BlockWriter::Point point, bool zero = true) {
    std::string out;
    BlockWriter::append_number(out, in_steps(v, decimals), decimals, point, zero);
    return out;
  };
  using enum BlockWriter::Point;
  CHECK(number(5, 3, always) == "5.");
  CHECK(number(5, 3, where_needed) == "5");
  CHECK(number(5, 3, full) == "5.000");
  CHECK(number(-0.5, 3, always) == "-0.5");
  CHECK(number(-0.5, 3, always, false) == "-.5");
  CHECK(number(0, 3, always, false) == "0.");
  CHECK(number(-0.0004, 3, always) == "0.");
  CHECK(number(1234.5678, 2, always) == "1234.57");
  CHECK(number(100, 0, where_needed) == "100");
}

TEST_CASE("blocks are numbered, comments go on in another, codes have two digits") {
  BlockStyle style;
  style.block_letter = "N";
  style.block_last = 20;
  style.two_digit_codes = true;
  style.longest_comment = 12;
  style.line_end = "\r\n";
  BlockWriter out(style);
  out.lines("%\nG21");
  out.code('G', 1);
  out.word("X", 1500, 3, BlockWriter::Point::always);
  out.end();
  out.comment("one two  three four");
  out.code('M', 30);
  out.end();
  CHECK(out.take() == "%\r\nN10 G21\r\nN20 G01 X1.5\r\n(ONE TWO)\r\n(THREE FOUR)\r\nN10 M30\r\n");
  CHECK(out.blocks() == 6);
}
