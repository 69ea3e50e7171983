#include "core/iso/program_text.h"

#include <charconv>
#include <limits>

namespace pecorra {
namespace {

bool is_blank(char c) { return c == ' ' || c == '\t'; }
bool is_digit(char c) { return c >= '0' && c <= '9'; }
bool is_letter(char c) { return (c >= 'A' && c <= 'Z') || (c >= 'a' && c <= 'z'); }
char capital(char c) { return c >= 'a' && c <= 'z' ? static_cast<char>(c - 32) : c; }

// One block, from its first byte to its end.
class Lexer {
 public:
  Lexer(std::string_view text, std::size_t offset, std::vector<ProgramPiece>& pieces)
      : text_(text), offset_(offset), pieces_(pieces) {}

  bool has_m_or_o() const { return m_or_o_; }
  void run() {
    while (at_ < text_.size()) {
      blanks_from_ = at_;
      while (at_ < text_.size() && is_blank(text_[at_])) ++at_;
      begin_ = at_;
      if (at_ == text_.size()) return put(PieceKind::blank);
      const char c = text_[at_];
      if (is_letter(c) || c == ',' || c == ':') word();
      else if (c == '(') comment();
      else if (c == ';') rest(PieceKind::comment);
      else if (c == '/') skip();
      else if (c == '%') rest(PieceKind::percent);
      else if (c == '#') up_to_comment(PieceKind::assignment);
      else if (c == '[') up_to_comment(PieceKind::statement);
      else rest(PieceKind::unknown);
    }
  }

 private:
  void put(PieceKind kind, char letter = 0) {
    std::size_t blanks = begin_ - blanks_from_;
    constexpr std::size_t most = std::numeric_limits<std::uint16_t>::max();
    while (blanks > most) {  // more than a piece can have before it
      pieces_.push_back({static_cast<std::uint32_t>(offset_ + blanks_from_ + most), 0, static_cast<std::uint16_t>(most),
                         PieceKind::blank, 0});
      blanks_from_ += most;
      blanks -= most;
    }
    pieces_.push_back({static_cast<std::uint32_t>(offset_ + begin_), static_cast<std::uint32_t>(at_ - begin_),
                       static_cast<std::uint16_t>(blanks), kind, letter});
  }
  void rest(PieceKind kind) {
    at_ = text_.size();
    put(kind);
  }
  void up_to_comment(PieceKind kind) {
    while (at_ < text_.size() && text_[at_] != '(' && text_[at_] != ';') ++at_;
    while (at_ > begin_ + 1 && is_blank(text_[at_ - 1])) --at_;  // those belong to what follows
    put(kind);
  }
  void comment() {
    const std::size_t close = text_.find(')', at_);
    if (close == std::string_view::npos) return rest(PieceKind::unknown);
    at_ = close + 1;
    put(PieceKind::comment);
  }
  void skip() {
    ++at_;
    if (at_ < text_.size() && is_digit(text_[at_])) ++at_;
    put(PieceKind::skip);
  }

  // Past [ … ], as far as brackets are balanced.
  bool past_brackets() {
    int depth = 0;
    for (std::size_t i = at_; i < text_.size(); ++i) {
      if (text_[i] == '[') ++depth;
      else if (text_[i] == ']' && --depth == 0) return at_ = i + 1, true;
      else if (text_[i] == '(' || text_[i] == ';') return false;
    }
    return false;
  }
  bool past_variable() {
    while (at_ < text_.size() && text_[at_] == '#') ++at_;
    if (at_ < text_.size() && text_[at_] == '[') return past_brackets();
    if (at_ < text_.size() && text_[at_] == '<') {  // by name
      const std::size_t close = text_.find('>', at_);
      if (close == std::string_view::npos) return false;
      return at_ = close + 1, true;
    }
    const std::size_t digits = at_;
    while (at_ < text_.size() && is_digit(text_[at_])) ++at_;
    return at_ > digits;
  }
  bool past_value() {
    while (at_ < text_.size() && is_blank(text_[at_])) ++at_;
    if (at_ < text_.size() && (text_[at_] == '-' || text_[at_] == '+')) ++at_;
    while (at_ < text_.size() && is_blank(text_[at_])) ++at_;
    if (at_ == text_.size()) return false;
    if (text_[at_] == '[') return past_brackets();
    if (text_[at_] == '#') return past_variable();
    std::size_t digits = 0;
    while (at_ < text_.size() && is_digit(text_[at_])) ++at_, ++digits;
    if (at_ < text_.size() && text_[at_] == '.') {
      ++at_;
      while (at_ < text_.size() && is_digit(text_[at_])) ++at_, ++digits;
    }
    return digits > 0;
  }
  void word() {
    char letter = capital(text_[at_++]);
    if (letter == ',' && at_ < text_.size() && is_letter(text_[at_])) ++at_;
    if (letter == ':') letter = 'O';
    if (!past_value()) {
      at_ = begin_;
      return up_to_comment(PieceKind::statement);
    }
    // S1=3000: an address with a number of its own.
    if (at_ < text_.size() && text_[at_] == '=') {
      ++at_;
      if (!past_value()) {
        at_ = begin_;
        return up_to_comment(PieceKind::statement);
      }
    }
    m_or_o_ = m_or_o_ || letter == 'M' || letter == 'O';
    put(PieceKind::word, letter);
  }

  std::string_view text_;
  std::size_t offset_ = 0, at_ = 0, begin_ = 0, blanks_from_ = 0;
  std::vector<ProgramPiece>& pieces_;
  bool m_or_o_ = false;
};

}  // namespace

ProgramText ProgramText::read(std::string text) {
  ProgramText out;
  if (text.size() >= std::numeric_limits<std::uint32_t>::max()) return out;
  out.text_ = std::move(text);
  out.read_blocks(0);
  out.own_blocks_ = out.starts_.size();
  out.own_bytes_ = out.text_.size();
  return out;
}

void ProgramText::attach_those_of(const ProgramText& other) {
  for (std::size_t i = 0; i < other.attached_.size(); ++i) {
    const std::size_t from = other.starts_[other.attached_[i].first].text;
    const bool last = i + 1 == other.attached_.size();
    const std::size_t to = last ? other.text_.size() : other.starts_[other.attached_[i + 1].first].text;
    attach(other.attached_[i].number, other.view(from, to - from));
  }
}

bool ProgramText::attach(int number, std::string_view text) {
  if (text.empty() || text_.size() + text.size() >= std::numeric_limits<std::uint32_t>::max()) return false;
  const std::size_t from = text_.size();
  attached_.push_back({number, starts_.size()});
  text_ += text;
  read_blocks(from);
  return true;
}

void ProgramText::read_blocks(std::size_t from) {
  const std::string_view all = text_;
  // As much room as the beginning says that the whole will take.
  constexpr std::size_t beginning = 1 << 18;
  bool measured = from > 0;
  for (std::size_t at = from; at < all.size();) {
    if (!measured && at > beginning) {
      measured = true;
      const double share = 1.03 * static_cast<double>(all.size()) / static_cast<double>(at);
      pieces_.reserve(static_cast<std::size_t>(static_cast<double>(pieces_.size()) * share));
      starts_.reserve(static_cast<std::size_t>(static_cast<double>(starts_.size()) * share));
    }
    std::size_t end = all.find('\n', at);
    const std::size_t next = end == std::string_view::npos ? all.size() : end + 1;
    if (end == std::string_view::npos) end = all.size();
    while (end > at && all[end - 1] == '\r') --end;
    starts_.push_back({static_cast<std::uint32_t>(at), static_cast<std::uint32_t>(pieces_.size()),
                       static_cast<std::uint32_t>(end - at)});
    Lexer lexer(all.substr(at, end - at), at, pieces_);
    lexer.run();
    if (lexer.has_m_or_o()) m_or_o_.push_back(static_cast<std::uint32_t>(starts_.size() - 1));
    at = next;
  }
}

std::string_view ProgramText::line(std::size_t block) const {
  if (!replaced_.empty())
    if (const auto found = replaced_.find(block); found != replaced_.end()) return found->second;
  return view(starts_[block].text, starts_[block].length);
}

std::string_view ProgramText::end_of_line(std::size_t block) const {
  const std::size_t end = starts_[block].text + starts_[block].length,
                    next = block + 1 < starts_.size() ? starts_[block + 1].text : text_.size();
  return view(end, next - end);
}

std::optional<double> ProgramText::number(const ProgramPiece& word) const {
  // A letter, perhaps a sign, and up to nine digits with a point among them: nearly all words.
  const char* at = text_.data() + word.begin + 1;
  const char* const end = text_.data() + word.begin + word.length;
  if (word.length >= 2 && word.length <= 11) {
    const bool negative = *at == '-';
    at += negative;
    std::uint32_t digits = 0, behind_point = 0;
    bool point = false;
    const char* const first = at;
    for (; at != end; ++at) {
      const auto digit = static_cast<unsigned>(*at - '0');
      if (digit < 10) digits = digits * 10 + digit, behind_point += point;
      else if (*at == '.' && !point) point = true;
      else break;
    }
    static constexpr double powers[] = {1e0, 1e1, 1e2, 1e3, 1e4, 1e5, 1e6, 1e7, 1e8, 1e9};
    const std::ptrdiff_t count = end - first - point;
    if (at == end && count > 0 && count <= 9) {
      const double plain = digits / powers[behind_point];
      return negative ? -plain : plain;
    }
  }
  return word_value(text(word));
}

void ProgramText::replace(std::size_t block, std::string line) { replaced_[block] = std::move(line); }

std::string ProgramText::print() const {
  std::string out;
  out.reserve(own_bytes_);
  for (std::size_t i = 0; i < size(); ++i) {
    const auto of_block = pieces(i);
    if (of_block.empty()) out += line(i);
    for (const ProgramPiece& p : of_block) out += view(p.begin - p.blanks, p.length + p.blanks);
    out += end_of_line(i);
  }
  return out;
}

std::optional<double> word_value(std::string_view word) {
  std::size_t at = 0;
  while (at < word.size() && (is_letter(word[at]) || word[at] == ',' || word[at] == ':' || is_blank(word[at]))) ++at;
  bool negative = false;
  if (at < word.size() && (word[at] == '-' || word[at] == '+')) negative = word[at++] == '-';
  while (at < word.size() && is_blank(word[at])) ++at;
  // Up to 15 digits over a power of ten are exact, and several times quicker this way.
  std::int64_t digits = 0;
  std::size_t count = 0, behind_point = 0, i = at;
  bool point = false;
  for (; i < word.size() && count <= 15; ++i) {
    if (is_digit(word[i])) {
      digits = digits * 10 + (word[i] - '0');
      ++count;
      behind_point += point;
    } else if (word[i] == '.' && !point) {
      point = true;
    } else {
      break;
    }
  }
  if (i == word.size() && count > 0 && count <= 15) {
    static constexpr double powers[] = {1e0, 1e1, 1e2,  1e3,  1e4,  1e5,  1e6,  1e7,
                                        1e8, 1e9, 1e10, 1e11, 1e12, 1e13, 1e14, 1e15};
    const double plain = static_cast<double>(digits) / powers[behind_point];
    return negative ? -plain : plain;
  }
  double value = 0;
  const auto [end, fault] = std::from_chars(word.data() + at, word.data() + word.size(), value);
  if (fault != std::errc() || end != word.data() + word.size()) return std::nullopt;
  return negative ? -value : value;
}

}  // namespace pecorra
