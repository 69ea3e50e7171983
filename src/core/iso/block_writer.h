// Writes blocks of words as a control wants them: numbers, blanks, block numbers, comments, ends of lines.
#pragma once

#include <cstdint>
#include <string>
#include <string_view>

namespace pecorra {

struct BlockStyle {
  bool blanks = true, leading_zero = true, two_digit_codes = false, upper_case = true;
  std::string line_end = "\n";
  std::string block_letter;  // empty: no block numbers
  int block_first = 10, block_step = 10, block_last = 99990;
  std::string comment_open = "(", comment_close = ")";
  int longest_comment = 0;  // letters of its text; 0: any
};

// Whole numbers of the last decimal, so that two equal words are equal numbers.
std::int64_t in_steps(double value, int decimals);

class BlockWriter {
 public:
  enum class Point { always, where_needed, full };
  explicit BlockWriter(BlockStyle style) : style_(std::move(style)), number_(style_.block_first) {}

  void word(std::string_view text);  // as it stands
  void code(char letter, int code);  // G1, M6
  void word(std::string_view letter, std::int64_t steps, int decimals, Point point);
  // Ends the block; nothing where it has no words. Without a number, where it shall have none.
  void end(bool numbered = true);
  void lines(std::string_view text, bool numbered = true);  // each as a block
  // In blocks of their own, as many as it needs; on several, each is as full as words allow.
  void comment(std::string_view text);
  // Behind the words of the present block; cut to the longest there may be.
  void comment_here(std::string_view text);

  std::size_t blocks() const { return blocks_; }
  std::string take() { return std::move(out_); }
  static void append_number(std::string& out, std::int64_t steps, int decimals, Point point, bool leading_zero);

 private:
  void gap();
  BlockStyle style_;
  std::string out_, block_;
  std::size_t blocks_ = 0;
  int number_ = 10;
};

// ASCII for a comment: Ø becomes D, × becomes X; brackets and what has no counterpart become blanks.
std::string comment_text(std::string_view text, bool upper_case = true);

}  // namespace pecorra
