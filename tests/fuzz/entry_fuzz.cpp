// Random and hostile texts for number fields: entry_fuzz [COUNT [SEED]]. Half are well-formed and made together with
// their exact value (Boost's rational numbers, no code of ours); each must be understood as exactly that. The other
// half are noise, half of it well-formed texts with a few characters changed: refused with a place inside the text, or
// understood as a finite value that reads the same when it is printed and read again.
#include <boost/multiprecision/cpp_int.hpp>
#include <chrono>
#include <cstdio>
#include <cstdlib>
#include <random>
#include <string>

#include "core/quantity/entry.h"
#include "core/quantity/value_text.h"

using namespace pecorra;
using Rational = boost::multiprecision::cpp_rational;
using Whole = boost::multiprecision::cpp_int;

namespace {

std::mt19937_64 random_bits;
int any(int n) { return static_cast<int>(random_bits() % static_cast<unsigned>(n)); }
template <class T, std::size_t n>
const T& one_of(const T (&list)[n]) {
  return list[any(static_cast<int>(n))];
}

struct Written {
  std::string text;
  Rational value;  // in mm where it has a unit, else plain
  bool has_unit = false;
};

struct Unit {
  const char* name;
  Rational mm;
};
const Unit units[] = {{"mm", 1},
                      {"cm", 10},
                      {"m", 1000},
                      {"um", Rational(1, 1000)},
                      {"µm", Rational(1, 1000)},
                      {"in", Rational(254, 10)},
                      {"inch", Rational(254, 10)},
                      {"\"", Rational(254, 10)},
                      {"″", Rational(254, 10)},
                      {"ft", Rational(3048, 10)},
                      {"thou", Rational(254, 10000)},
                      {"mil", Rational(254, 10000)}};

std::string digits(int most) {
  std::string s;
  const int n = 1 + any(most);
  for (int i = 0; i < n; ++i) s += static_cast<char>('0' + any(10));
  return s;
}

// A plain number: whole, decimal with point or comma, fraction, mixed fraction, unicode fraction.
Written number() {
  switch (any(6)) {
    case 0: {
      const std::string s = digits(5);
      return {s,
              Rational(Whole(std::string("0") == s ? "0" : s.substr(std::min(s.find_first_not_of('0'), s.size() - 1)))),
              false};
    }
    case 1: {
      const std::string a = digits(4), b = digits(5);
      const std::string whole = a + b;
      Rational value(Whole(whole.substr(std::min(whole.find_first_not_of('0'), whole.size() - 1))));
      for (std::size_t i = 0; i < b.size(); ++i) value /= 10;
      return {a + (any(2) ? "." : ",") + b, value, false};
    }
    case 2: {
      const int a = 1 + any(63), b = 1 + any(127);
      return {std::to_string(a) + "/" + std::to_string(b), Rational(a, b), false};
    }
    case 3:
    case 4: {
      const int w = 1 + any(20), b = 2 << any(6), a = 1 + any(b - 1);
      return {std::to_string(w) + (any(2) ? "-" : " ") + std::to_string(a) + "/" + std::to_string(b),
              w + Rational(a, b), false};
    }
    default: {
      static const std::pair<const char*, Rational> marks[] = {
          {"½", Rational(1, 2)}, {"¼", Rational(1, 4)}, {"¾", Rational(3, 4)}, {"⅛", Rational(1, 8)},
          {"⅜", Rational(3, 8)}, {"⅝", Rational(5, 8)}, {"⅞", Rational(7, 8)}};
      const auto& [mark, value] = one_of(marks);
      if (any(2)) return {mark, value, false};
      const int w = 1 + any(30);
      return {std::to_string(w) + mark, w + value, false};
    }
  }
}

Written with_unit(Written w) {
  const Unit& unit = one_of(units);
  return {w.text + (any(2) ? " " : "") + unit.name, w.value * unit.mm, true};
}

// Sums of lengths, products with one unit, quotients of plain numbers, brackets.
Written expression(int depth, bool unit) {
  const int form = depth <= 0 ? 0 : any(5);
  switch (form) {
    case 1: {  // sum: all with units or all without
      Written a = expression(depth - 1, unit), b = expression(depth - 1, unit);
      const bool minus = any(2);
      return {"(" + a.text + ")" + (minus ? (any(2) ? " - " : " − ") : " + ") + "(" + b.text + ")",
              minus ? Rational(a.value - b.value) : Rational(a.value + b.value), unit};
    }
    case 2: {
      Written a = expression(depth - 1, unit), b = expression(depth - 1, false);
      return {"(" + a.text + ")" + (any(2) ? "*" : " × ") + "(" + b.text + ")", a.value * b.value, unit};
    }
    case 3: {
      Written a = expression(depth - 1, unit), b = number();
      if (b.value == 0) return a;
      return {"(" + a.text + ") / (" + b.text + ")", a.value / b.value, unit};
    }
    case 4: {
      Written a = expression(depth - 1, unit);
      return {"(" + a.text + ")", a.value, unit};
    }
    default: return unit ? with_unit(number()) : number();
  }
}

// Six decimals, the last rounded half away from zero.
std::string rounded(const Rational& value) {
  const Rational scaled = abs(value) * 1000000;
  Whole whole = numerator(scaled) / denominator(scaled);
  const Rational rest = scaled - Rational(whole);
  if (rest >= Rational(1, 2)) ++whole;
  std::string text = whole.str();
  if (text.size() < 7) text.insert(0, 7 - text.size(), '0');
  text.insert(text.size() - 6, ".");
  return value < 0 && whole != 0 ? "-" + text : text;
}

std::string noise(const std::string& base) {
  static const char* const pieces[] = {"0",   "9",     ".",  ",",  "/",    "-",    "+",
                                       "*",   "(",     ")",  " ",  "mm",   "in",   "\"",
                                       "'",   "½",     "¾",  "×",  "−",    "e",    "E9",
                                       "inf", "nan",   "\t", "\n", "\0x",  "\xff", "\xc3",
                                       "°",   "1e400", "//", "--", "thou", "ft",   "999999999999999999999999",
                                       "%",   "\\",    "⁄",  "٣",  "１"};
  std::string text = any(2) ? base : "";
  const int changes = 1 + any(text.empty() ? 30 : 4);
  for (int i = 0; i < changes; ++i) {
    const std::size_t at = text.empty() ? 0 : random_bits() % (text.size() + 1);
    switch (any(3)) {
      case 0: text.insert(at, one_of(pieces)); break;
      case 1:
        if (at < text.size()) text.erase(at, 1 + static_cast<std::size_t>(any(3)));
        else text += one_of(pieces);
        break;
      default:
        if (at < text.size()) text[at] = static_cast<char>(any(256));
        else text += static_cast<char>(any(256));
    }
  }
  return text;
}

int wrong = 0;
void complain(const char* what, const std::string& text, const std::string& said, const std::string& right) {
  if (++wrong <= 20)
    std::fprintf(stderr, "%s: “%s” gave %s, right is %s\n", what, text.c_str(), said.c_str(), right.c_str());
}

}  // namespace

int main(int argc, char** argv) {
  const long count = argc > 1 ? std::atol(argv[1]) : 1000000;
  const unsigned long seed = argc > 2 ? std::strtoul(argv[2], nullptr, 10) : 20261125;
  random_bits.seed(seed);
  long understood = 0, refused = 0;
  double slowest = 0;
  for (long i = 0; i < count; ++i) {
    const Written w = expression(any(4), any(2));
    const bool well_formed = i % 2 == 0;
    const std::string text = well_formed ? w.text : noise(w.text);
    const auto start = std::chrono::steady_clock::now();
    const auto value = parse_length(text, LengthUnit::mm);
    slowest = std::max(slowest, std::chrono::duration<double>(std::chrono::steady_clock::now() - start).count());
    if (!value) {
      ++refused;
      if (well_formed) complain("refused", text, sentence(value.error()), rounded(w.value));
      if (value.error().place > text.size() || value.error().place + value.error().length > text.size())
        complain("place outside", text, std::to_string(value.error().place), "inside");
      if (value.error().code.empty() || sentence(value.error()).empty()) complain("no reason", text, "", "a reason");
      continue;
    }
    ++understood;
    const std::string said = rounded_text(*value, LengthUnit::mm, 6);
    if (well_formed && said != rounded(w.value)) complain("wrong", text, said, rounded(w.value));
    if (said.find_first_not_of("-0123456789.") != std::string::npos) complain("not a number", text, said, "digits");
    const auto again = parse_length(said, LengthUnit::mm);
    if (!again || rounded_text(*again, LengthUnit::mm, 6) != said)
      complain("not the same again", text, again ? rounded_text(*again, LengthUnit::mm, 6) : "refused", said);
    // The field's own way in takes the same texts.
    const auto entry = parse_entry(text, Quantity::length, UnitSystem::metric);
    if (entry && !(std::abs(entry->stored) < 1e300)) complain("not finite", text, "a field's value", "finite");
  }
  std::printf("%ld texts, %ld understood, %ld refused, %d wrong, slowest %.1f ms\n", count, understood, refused, wrong,
              slowest * 1e3);
  return wrong == 0 ? 0 : 1;
}
