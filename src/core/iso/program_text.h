// A program after ISO 6983 as blocks of words, without losing a byte: what is read and printed again is the same. What
// is not understood is kept as it stands and says so.
#pragma once

#include <cstdint>
#include <map>
#include <optional>
#include <span>
#include <string>
#include <string_view>
#include <vector>

namespace pecorra {

enum class PieceKind : std::uint8_t {
  word,        // a letter with its number, expression or variable
  comment,     // in brackets with their end, or behind a semicolon
  skip,        // block delete, perhaps with its number
  percent,     // start or end of the tape
  assignment,  // #1=…
  statement,   // IF, WHILE, GOTO and whatever else is no word, up to a comment
  unknown,     // a bracket without end, a check sum, a byte that no program has
  blank        // at the end of a block
};

// A part of a block with the blanks before it.
struct ProgramPiece {
  std::uint32_t begin = 0, length = 0;  // in the program's text, without the blanks
  std::uint16_t blanks = 0;
  PieceKind kind = PieceKind::word;
  char letter = 0;  // of a word, as a capital; ',' before a corner's chamfer or radius
};
static_assert(sizeof(ProgramPiece) == 12);

class ProgramText {
 public:
  ProgramText() = default;
  // Up to 4 GB; what is longer is not read and the program is empty.
  static ProgramText read(std::string text);

  std::size_t size() const { return own_blocks_; }  // blocks
  bool empty() const { return own_blocks_ == 0; }
  std::size_t bytes() const { return own_bytes_; }
  // A subprogram from a file of its own, to be run where it is called. Its blocks stand behind the others and are
  // neither counted nor printed. False where both together would be longer than 4 GB.
  struct Attached {
    int number = 0;
    std::size_t first = 0;  // block
  };
  bool attach(int number, std::string_view text);
  void attach_those_of(const ProgramText& other);
  const std::vector<Attached>& attached() const { return attached_; }
  std::size_t size_with_attached() const { return starts_.size(); }
  // Of a block as it was read; empty where it was replaced.
  std::span<const ProgramPiece> pieces(std::size_t block) const {
    if (!replaced_.empty() && replaced_.contains(block)) return {};
    const std::size_t from = starts_[block].piece,
                      to = block + 1 < starts_.size() ? starts_[block + 1].piece : pieces_.size();
    return {pieces_.data() + from, to - from};
  }
  std::string_view text(const ProgramPiece& piece) const { return view(piece.begin, piece.length); }
  std::string_view blanks(const ProgramPiece& piece) const { return view(piece.begin - piece.blanks, piece.blanks); }
  // The block as it stands now, without its end of line.
  std::string_view line(std::size_t block) const;
  std::string_view end_of_line(std::size_t block) const;
  // Blocks with an M or an O, rising: where a program changes cutters, calls, and ends.
  std::span<const std::uint32_t> blocks_with_m_or_o() const { return m_or_o_; }
  // What a word says: nothing where it is an expression or a variable.
  std::optional<double> number(const ProgramPiece& word) const;
  // Another line in place of a block's; without an end of line.
  void replace(std::size_t block, std::string line);
  std::string print() const;

 private:
  std::string_view view(std::size_t begin, std::size_t length) const {
    return std::string_view(text_).substr(begin, length);
  }
  struct Start {
    std::uint32_t text = 0, piece = 0, length = 0;  // of the line without its end
  };
  void read_blocks(std::size_t from);
  std::string text_;
  std::size_t own_blocks_ = 0, own_bytes_ = 0;
  std::vector<Start> starts_;
  std::vector<ProgramPiece> pieces_;
  std::vector<Attached> attached_;
  std::vector<std::uint32_t> m_or_o_;
  std::map<std::size_t, std::string> replaced_;
};

// The number that a word's text says behind its letter, blanks between them allowed: "X-1.5", "G 01".
std::optional<double> word_value(std::string_view word);

}  // namespace pecorra
