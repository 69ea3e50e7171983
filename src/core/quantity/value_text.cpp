#include "core/quantity/value_text.h"

#include <fmt/format.h>
#include <boost/multiprecision/cpp_int.hpp>
#include <optional>
#include <vector>

namespace pecorra {
namespace {

using Rational = boost::multiprecision::cpp_rational;
using Integer = boost::multiprecision::cpp_int;

constexpr std::size_t longest_text = 256;
constexpr int deepest_brackets = 32;

enum class TokenKind { number, fraction_mark, unit, plus, minus, times, divide, open, close, end };

struct Token {
  TokenKind kind = TokenKind::end;
  std::size_t place = 0;
  std::size_t length = 0;
  bool blank_before = false;
  bool whole = false;  // digits only
  Rational value = 0;  // of a number or a fraction mark
  LengthUnit unit = LengthUnit::mm;
};

struct FractionMark {
  std::string_view text;
  int numerator;
  int denominator;
};
constexpr FractionMark fraction_marks[] = {{"½", 1, 2},  {"¼", 1, 4}, {"¾", 3, 4}, {"⅐", 1, 7}, {"⅑", 1, 9},
                                           {"⅒", 1, 10}, {"⅓", 1, 3}, {"⅔", 2, 3}, {"⅕", 1, 5}, {"⅖", 2, 5},
                                           {"⅗", 3, 5},  {"⅘", 4, 5}, {"⅙", 1, 6}, {"⅚", 5, 6}, {"⅛", 1, 8},
                                           {"⅜", 3, 8},  {"⅝", 5, 8}, {"⅞", 7, 8}};
constexpr std::string_view blanks[] = {" ", "\t", "\u00a0", "\u2007", "\u2009", "\u202f"};
struct Sign {
  std::string_view text;
  TokenKind kind;
};
constexpr Sign signs[] = {{"+", TokenKind::plus},        {"-", TokenKind::minus},  {"\u2212", TokenKind::minus},
                          {"*", TokenKind::times},       {"×", TokenKind::times},  {"·", TokenKind::times},
                          {"/", TokenKind::divide},      {"÷", TokenKind::divide}, {"\u2044", TokenKind::divide},
                          {"\u2215", TokenKind::divide}, {"(", TokenKind::open},   {")", TokenKind::close}};

bool is_digit(char c) { return c >= '0' && c <= '9'; }
bool is_letter(char c) { return (c >= 'a' && c <= 'z') || (c >= 'A' && c <= 'Z'); }

class Lexer {
 public:
  explicit Lexer(std::string_view text) : text_(text) {}

  tl::expected<std::vector<Token>, ValueFault> run() {
    std::vector<Token> tokens;
    for (;;) {
      const bool blank = skip_blanks();
      Token token;
      token.blank_before = blank;
      token.place = at_;
      if (at_ >= text_.size()) {
        tokens.push_back(token);
        return tokens;
      }
      if (auto fault = read(token)) return tl::unexpected(*fault);
      token.length = at_ - token.place;
      tokens.push_back(token);
    }
  }

 private:
  bool starts(std::string_view what) const { return text_.substr(at_, what.size()) == what; }

  std::size_t blank_at(std::size_t place) const {
    for (const std::string_view blank : blanks)
      if (text_.substr(place, blank.size()) == blank) return blank.size();
    return 0;
  }
  std::size_t after_blanks(std::size_t place) const {
    while (place < text_.size()) {
      const std::size_t size = blank_at(place);
      if (size == 0) break;
      place += size;
    }
    return place;
  }
  bool skip_blanks() {
    const std::size_t start = at_;
    at_ = after_blanks(at_);
    return at_ != start;
  }
  std::size_t digits_from(std::size_t place) const {
    std::size_t end = place;
    while (end < text_.size() && is_digit(text_[end])) ++end;
    return end - place;
  }
  ValueFault fault(std::string code, std::size_t place, std::size_t end) const {
    return {place, end - place, std::move(code), std::string(text_.substr(place, end - place))};
  }

  std::optional<ValueFault> read(Token& token) {
    const char c = text_[at_];
    if (is_digit(c) || c == '.' || c == ',') return read_number(token);
    for (const FractionMark& mark : fraction_marks)
      if (starts(mark.text)) {
        token.kind = TokenKind::fraction_mark;
        token.value = Rational(mark.numerator, mark.denominator);
        at_ += mark.text.size();
        return std::nullopt;
      }
    for (const Sign& sign : signs)
      if (starts(sign.text)) {
        token.kind = sign.kind;
        at_ += sign.text.size();
        return std::nullopt;
      }
    return read_unit(token);
  }

  std::optional<ValueFault> read_unit(Token& token) {
    std::size_t end = at_;
    if (starts("µ")) end += std::string_view("µ").size();
    else if (starts("\u03bc")) end += std::string_view("\u03bc").size();
    while (end < text_.size() && is_letter(text_[end])) ++end;
    if (end == at_) {  // one character that is neither letter nor digit
      do ++end;
      while (end < text_.size() && (static_cast<unsigned char>(text_[end]) & 0xC0) == 0x80);
    }
    const auto unit = length_unit_from(text_.substr(at_, end - at_));
    if (!unit) return fault(is_letter(text_[at_]) ? "unknown_unit" : "unknown_character", at_, end);
    token.kind = TokenKind::unit;
    token.unit = *unit;
    at_ = end;
    return std::nullopt;
  }

  std::optional<ValueFault> read_number(Token& token) {
    const std::size_t start = at_;
    std::size_t length = digits_from(at_);
    std::string digits(text_.substr(at_, length));
    at_ += length;
    bool grouped = false;
    if (length >= 1 && length <= 3 && digits[0] != '0') {
      for (;;) {
        const std::size_t next = after_blanks(at_);
        if (next == at_ || digits_from(next) != 3) break;
        digits += text_.substr(next, 3);
        at_ = next + 3;
        grouped = true;
      }
    }
    token.kind = TokenKind::number;
    token.whole = true;
    if (at_ < text_.size() && (text_[at_] == '.' || text_[at_] == ',')) {
      token.whole = false;
      ++at_;
      const std::size_t decimals = digits_from(at_);
      if (length == 0 && decimals == 0) return fault("mark_without_digits", start, at_);
      digits += text_.substr(at_, decimals);
      at_ += decimals;
      if (at_ < text_.size() && (text_[at_] == '.' || text_[at_] == ',')) {
        std::size_t end = at_ + 1;
        while (end < text_.size() && (is_digit(text_[end]) || text_[end] == '.' || text_[end] == ',')) ++end;
        return fault("two_decimal_marks", start, end);
      }
      Integer scale = 1;
      for (std::size_t i = 0; i < decimals; ++i) scale *= 10;
      token.value = Rational(whole_number(digits), scale);
      return std::nullopt;
    }
    if (grouped) {  // `1 125/128` is 1 + 125/128 to one reader and 1125/128 to another
      const std::size_t next = after_blanks(at_);
      for (const Sign& sign : signs)
        if (sign.kind == TokenKind::divide && text_.substr(next, sign.text.size()) == sign.text)
          return fault("group_or_fraction", start, next + sign.text.size() + digits_from(next + sign.text.size()));
    }
    token.value = Rational(whole_number(digits));
    return std::nullopt;
  }

  static Integer whole_number(const std::string& digits) {  // a leading 0 would make it octal
    Integer value = 0;
    for (const char digit : digits) value = value * 10 + (digit - '0');
    return value;
  }

  std::string_view text_;
  std::size_t at_ = 0;
};

// An intermediate value: a plain number, or a length in millimetres.
struct Partial {
  Rational value = 0;
  bool length = false;
  bool literal = true;   // a number, perhaps with a unit behind it; false for a bracket that had units inside
  Rational unit_mm = 1;  // of a literal with a unit
};

class Parser {
 public:
  Parser(std::string_view text, std::vector<Token> tokens) : text_(text), tokens_(std::move(tokens)) {}

  tl::expected<Partial, ValueFault> run() {
    if (peek().kind == TokenKind::end) return tl::unexpected(fault("empty", peek()));
    auto value = sum(0);
    if (!value) return value;
    if (peek().kind == TokenKind::close) return tl::unexpected(fault("bracket_not_opened", peek()));
    if (peek().kind != TokenKind::end) return tl::unexpected(fault("sign_missing", peek()));
    return value;
  }

 private:
  using Result = tl::expected<Partial, ValueFault>;

  const Token& peek(std::size_t ahead = 0) const { return tokens_[std::min(at_ + ahead, tokens_.size() - 1)]; }
  bool tight(std::size_t ahead, TokenKind kind) const { return peek(ahead).kind == kind && !peek(ahead).blank_before; }
  ValueFault fault(std::string code, const Token& token) const { return fault(std::move(code), token, token); }
  ValueFault fault(std::string code, const Token& first, const Token& last) const {
    const std::size_t length = last.place + last.length - first.place;
    return {first.place, length, std::move(code), std::string(text_.substr(first.place, length))};
  }

  Result sum(int depth) {
    bool negative = false;
    if (peek().kind == TokenKind::plus || peek().kind == TokenKind::minus) {
      negative = peek().kind == TokenKind::minus;
      ++at_;
    }
    const Token first = peek();
    Result left = product(depth);
    if (!left) return left;
    if (negative) left->value = -left->value;
    while (peek().kind == TokenKind::plus || peek().kind == TokenKind::minus) {
      const bool minus = peek().kind == TokenKind::minus;
      ++at_;
      Result right = product(depth);
      if (!right) return right;
      if (left->length != right->length) return tl::unexpected(fault("bare_number_with_unit", first, tokens_[at_ - 1]));
      left->value = minus ? Rational(left->value - right->value) : Rational(left->value + right->value);
      left->literal = !left->length;
    }
    return left;
  }

  Result product(int depth) {
    const Token first = peek();
    Result left = factor(depth);
    if (!left) return left;
    while (peek().kind == TokenKind::times || peek().kind == TokenKind::divide) {
      const bool divide = peek().kind == TokenKind::divide;
      ++at_;
      const Token second = peek();
      Result right = factor(depth);
      if (!right) return right;
      const Token& last = tokens_[at_ - 1];
      if (divide && right->value == 0) return tl::unexpected(fault("division_by_zero", second, last));
      if (left->length && right->length)
        return tl::unexpected(fault(divide ? "length_divided_by_length" : "two_units_multiplied", first, last));
      if (divide && right->length && !right->literal)
        return tl::unexpected(fault("number_divided_by_length", first, last));
      if (divide && right->length)  // the unit behind `10/4 in` covers the whole fraction
        left->value = left->value * right->unit_mm * right->unit_mm / right->value;
      else if (divide) left->value /= right->value;
      else left->value *= right->value;
      left->length = left->length || right->length;
      left->literal = false;
    }
    return left;
  }

  Result factor(int depth) {
    const Token token = peek();
    Partial partial;
    switch (token.kind) {
      case TokenKind::open: {
        if (depth >= deepest_brackets) return tl::unexpected(fault("too_many_brackets", token));
        ++at_;
        Result inside = sum(depth + 1);
        if (!inside) return inside;
        if (peek().kind != TokenKind::close)
          return tl::unexpected(peek().kind == TokenKind::end ? fault("bracket_not_closed", token)
                                                              : fault("sign_missing", peek()));
        ++at_;
        partial = *inside;
        partial.literal = !partial.length;
        break;
      }
      case TokenKind::number:
      case TokenKind::fraction_mark: {
        auto value = number();
        if (!value) return tl::unexpected(value.error());
        partial.value = *value;
        break;
      }
      case TokenKind::unit: return tl::unexpected(fault("number_missing", token));
      case TokenKind::end: return tl::unexpected(fault("number_missing", token));
      case TokenKind::close: return tl::unexpected(fault("number_missing", token));
      default: return tl::unexpected(fault("two_signs", token));
    }
    if (peek().kind == TokenKind::unit) {
      if (partial.length) return tl::unexpected(fault("unit_twice", token, peek()));
      const LengthUnitFact& fact = fact_of(peek().unit);
      partial.unit_mm = Rational(fact.numerator, fact.denominator);
      partial.value *= partial.unit_mm;
      partial.length = true;
      ++at_;
      if (peek().kind == TokenKind::unit) return tl::unexpected(fault("unit_twice", token, peek()));
    }
    return partial;
  }

  // A number, with the proper fraction behind it if it is a mixed one: 3 1/2, 3-1/2, 3½.
  tl::expected<Rational, ValueFault> number() {
    const Token first = peek();
    const bool in_fraction = at_ > 0 && tokens_[at_ - 1].kind == TokenKind::divide;
    ++at_;
    if (first.kind == TokenKind::fraction_mark || !first.whole || in_fraction) return first.value;
    const std::size_t hyphen = tight(0, TokenKind::minus) ? 1 : 0;
    const bool joined = hyphen == 0 || !peek(hyphen).blank_before;
    if (joined && peek(hyphen).kind == TokenKind::fraction_mark) {
      const Rational value = first.value + peek(hyphen).value;
      at_ += hyphen + 1;
      return value;
    }
    const bool fraction = joined && peek(hyphen).kind == TokenKind::number && peek(hyphen).whole &&
                          tight(hyphen + 1, TokenKind::divide) && tight(hyphen + 2, TokenKind::number) &&
                          peek(hyphen + 2).whole;
    if (!fraction) return first.value;
    const Token& numerator = peek(hyphen);
    const Token& denominator = peek(hyphen + 2);
    if (denominator.value == 0) return tl::unexpected(fault("division_by_zero", first, denominator));
    if (numerator.value >= denominator.value) return tl::unexpected(fault("mixed_or_difference", first, denominator));
    const Rational value = first.value + numerator.value / denominator.value;
    at_ += hyphen + 3;
    return value;
  }

  std::string_view text_;
  std::vector<Token> tokens_;
  std::size_t at_ = 0;
};

tl::expected<Partial, ValueFault> parse(std::string_view text) {
  if (text.size() > longest_text)
    return tl::unexpected(ValueFault{longest_text, text.size() - longest_text, "too_long", ""});
  auto tokens = Lexer(text).run();
  if (!tokens) return tl::unexpected(tokens.error());
  return Parser(text, std::move(*tokens)).run();
}

WrittenValue written(const Rational& value, bool has_unit) {
  return {boost::multiprecision::numerator(value).str(), boost::multiprecision::denominator(value).str(), has_unit};
}

Rational exact(const WrittenValue& value) {
  return Rational(Integer(value.numerator_mm), Integer(value.denominator_mm));
}

}  // namespace

double WrittenValue::mm() const { return exact(*this).convert_to<double>(); }

tl::expected<WrittenValue, ValueFault> parse_length(std::string_view text, LengthUnit bare) {
  auto value = parse(text);
  if (!value) return tl::unexpected(value.error());
  const bool has_unit = value->length;
  if (!has_unit) {
    const LengthUnitFact& fact = fact_of(bare);
    value->value *= Rational(fact.numerator, fact.denominator);
  }
  return written(value->value, has_unit);
}

tl::expected<WrittenValue, ValueFault> parse_number(std::string_view text) {
  auto value = parse(text);
  if (!value) return tl::unexpected(value.error());
  if (value->length) return tl::unexpected(ValueFault{0, text.size(), "unit_not_fitting", std::string(text)});
  return written(value->value, false);
}

std::string rounded_text(const WrittenValue& value, LengthUnit unit, int decimals) {
  const LengthUnitFact& fact = fact_of(unit);
  Integer scale = 1;
  for (int i = 0; i < decimals; ++i) scale *= 10;
  const Rational scaled = exact(value) * Rational(fact.denominator, fact.numerator) * scale;
  Integer numerator = boost::multiprecision::numerator(scaled);
  const Integer denominator = boost::multiprecision::denominator(scaled);
  const bool negative = numerator < 0;
  if (negative) numerator = -numerator;
  const Integer rounded = (numerator * 2 + denominator) / (denominator * 2);
  std::string digits = rounded.str();
  if (digits.size() <= static_cast<std::size_t>(decimals)) digits.insert(0, decimals + 1 - digits.size(), '0');
  if (decimals > 0) digits.insert(digits.size() - decimals, 1, '.');
  return negative && rounded != 0 ? "-" + digits : digits;
}

std::string sentence(const ValueFault& fault) {
  const std::string& s = fault.subject;
  if (fault.code == "empty") return "this is empty; enter a number, such as 12.5 mm or 7/16\"";
  if (fault.code == "too_long") return fmt::format("the text is longer than {} characters", longest_text);
  if (fault.code == "unknown_unit")
    return fmt::format("“{}” is not a known unit; use mm, cm, m, um, in, ft or thou", s);
  if (fault.code == "unknown_character") return fmt::format("“{}” has no meaning in a number", s);
  if (fault.code == "mark_without_digits") return "a decimal mark without digits";
  if (fault.code == "two_decimal_marks")
    return fmt::format("“{}” has two decimal marks; use one, and spaces between thousands", s);
  if (fault.code == "group_or_fraction")
    return fmt::format("“{}” could be a grouped number or a mixed fraction; write it with a decimal point, or as 1-1/2",
                       s);
  if (fault.code == "mixed_or_difference")
    return fmt::format(
        "“{}” could be a mixed number or a calculation; put spaces around the minus, or write a proper fraction", s);
  if (fault.code == "bracket_not_opened") return "this bracket was not opened";
  if (fault.code == "bracket_not_closed") return "this bracket is not closed";
  if (fault.code == "too_many_brackets") return fmt::format("more than {} nested brackets", deepest_brackets);
  if (fault.code == "sign_missing") return fmt::format("an operator is missing before “{}”", s);
  if (fault.code == "two_signs") return fmt::format("“{}” appears where a number should be", s);
  if (fault.code == "number_missing")
    return s.empty() ? "a number is missing at the end" : fmt::format("a number is missing before “{}”", s);
  if (fault.code == "bare_number_with_unit")
    return fmt::format("“{}” adds a number without a unit to a length; give both a unit", s);
  if (fault.code == "two_units_multiplied") return fmt::format("“{}” multiplies two lengths; one unit is enough", s);
  if (fault.code == "length_divided_by_length")
    return fmt::format("“{}” divides a length by a length, which is not a length", s);
  if (fault.code == "number_divided_by_length")
    return fmt::format("“{}” divides a number by a length, which is not a length", s);
  if (fault.code == "unit_twice") return fmt::format("“{}” has two units", s);
  if (fault.code == "division_by_zero") return fmt::format("“{}” divides by zero", s);
  if (fault.code == "unit_not_fitting") return "a length unit is not allowed here";
  return "this is not a number";
}

}  // namespace pecorra
