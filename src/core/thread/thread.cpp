// Sizes: ISO 261 (metric coarse and fine), ASME B1.1 / ISO 725 (unified), ISO 228-1 (G), ISO 7-1 (R, Rc), ASME B1.20.1
// (NPT). Tapping drills: ISO 2306 for metric coarse; elsewhere major − pitch to the nearest 0.1 mm, the pipe and
// unified ones as handbooks list them. All typed from memory of these tables.
#include "core/thread/thread.h"

#include <fmt/format.h>
#include <algorithm>
#include <cctype>
#include <cmath>

#include "core/quantity/print.h"
#include "core/quantity/units.h"

namespace pecorra {
namespace {

struct CoarseSize {
  double major, pitch, drill;
};
constexpr CoarseSize coarse[] = {
    {1, 0.25, 0.75},  {1.1, 0.25, 0.85}, {1.2, 0.25, 0.95}, {1.4, 0.3, 1.1}, {1.6, 0.35, 1.25}, {1.8, 0.35, 1.45},
    {2, 0.4, 1.6},    {2.2, 0.45, 1.75}, {2.5, 0.45, 2.05}, {3, 0.5, 2.5},   {3.5, 0.6, 2.9},   {4, 0.7, 3.3},
    {4.5, 0.75, 3.7}, {5, 0.8, 4.2},     {6, 1, 5},         {7, 1, 6},       {8, 1.25, 6.8},    {9, 1.25, 7.8},
    {10, 1.5, 8.5},   {11, 1.5, 9.5},    {12, 1.75, 10.2},  {14, 2, 12},     {16, 2, 14},       {18, 2.5, 15.5},
    {20, 2.5, 17.5},  {22, 2.5, 19.5},   {24, 3, 21},       {27, 3, 24},     {30, 3.5, 26.5},   {33, 3.5, 29.5},
    {36, 4, 32},      {39, 4, 35},       {42, 4.5, 37.5},   {45, 4.5, 40.5}, {48, 5, 43},       {52, 5, 47},
    {56, 5.5, 50.5},  {60, 5.5, 54.5},   {64, 6, 58}};

// Fine pitches of ISO 261 that go with a size.
struct FineSize {
  double major;
  double pitches[4];
};
constexpr FineSize fine[] = {
    {1, {0.2}},           {1.2, {0.2}},         {1.4, {0.2}},         {1.6, {0.2}},          {1.8, {0.2}},
    {2, {0.25}},          {2.2, {0.25}},        {2.5, {0.35}},        {3, {0.35}},           {3.5, {0.35}},
    {4, {0.5}},           {4.5, {0.5}},         {5, {0.5}},           {5.5, {0.5}},          {6, {0.75}},
    {7, {0.75}},          {8, {1, 0.75}},       {9, {1, 0.75}},       {10, {1.25, 1, 0.75}}, {11, {1, 0.75}},
    {12, {1.5, 1.25, 1}}, {14, {1.5, 1.25, 1}}, {15, {1.5, 1}},       {16, {1.5, 1}},        {17, {1.5, 1}},
    {18, {2, 1.5, 1}},    {20, {2, 1.5, 1}},    {22, {2, 1.5, 1}},    {24, {2, 1.5, 1}},     {25, {2, 1.5, 1}},
    {26, {1.5}},          {27, {2, 1.5, 1}},    {28, {2, 1.5, 1}},    {30, {3, 2, 1.5, 1}},  {32, {2, 1.5}},
    {33, {3, 2, 1.5}},    {35, {1.5}},          {36, {3, 2, 1.5}},    {38, {1.5}},           {39, {3, 2, 1.5}},
    {40, {3, 2, 1.5}},    {42, {4, 3, 2, 1.5}}, {45, {4, 3, 2, 1.5}}, {48, {4, 3, 2, 1.5}},  {50, {3, 2, 1.5}},
    {52, {4, 3, 2, 1.5}}, {55, {4, 3, 2, 1.5}}, {56, {4, 3, 2, 1.5}}, {58, {4, 3, 2, 1.5}},  {60, {4, 3, 2, 1.5}},
    {62, {4, 3, 2, 1.5}}, {64, {4, 3, 2, 1.5}}};

// Threads per inch; 0: no such thread. Drills as handbooks list them for about 75 % of thread, in mm.
struct UnifiedSize {
  const char* size;
  double inch;
  double unc, unf, unef;
  double unc_drill, unf_drill, unef_drill;
};
constexpr UnifiedSize unified[] = {{"#0", 0.060, 0, 80, 0, 0, 1.25, 0},
                                   {"#1", 0.073, 64, 72, 0, 1.55, 1.55, 0},
                                   {"#2", 0.086, 56, 64, 0, 1.8, 1.85, 0},
                                   {"#3", 0.099, 48, 56, 0, 2.1, 2.1, 0},
                                   {"#4", 0.112, 40, 48, 0, 2.35, 2.4, 0},
                                   {"#5", 0.125, 40, 44, 0, 2.65, 2.7, 0},
                                   {"#6", 0.138, 32, 40, 0, 2.85, 2.95, 0},
                                   {"#8", 0.164, 32, 36, 0, 3.5, 3.5, 0},
                                   {"#10", 0.190, 24, 32, 0, 3.9, 4.1, 0},
                                   {"#12", 0.216, 24, 28, 32, 4.5, 4.6, 4.7},
                                   {"1/4", 0.25, 20, 28, 32, 5.1, 5.5, 5.6},
                                   {"5/16", 0.3125, 18, 24, 32, 6.6, 6.9, 7.2},
                                   {"3/8", 0.375, 16, 24, 32, 8.0, 8.5, 8.8},
                                   {"7/16", 0.4375, 14, 20, 28, 9.4, 9.9, 10.2},
                                   {"1/2", 0.5, 13, 20, 28, 10.8, 11.5, 11.8},
                                   {"9/16", 0.5625, 12, 18, 24, 12.2, 12.9, 13.3},
                                   {"5/8", 0.625, 11, 18, 24, 13.5, 14.5, 14.8},
                                   {"3/4", 0.75, 10, 16, 20, 16.5, 17.5, 17.8},
                                   {"7/8", 0.875, 9, 14, 20, 19.5, 20.4, 21.0},
                                   {"1", 1.0, 8, 12, 20, 22.25, 23.25, 24.2},
                                   {"1-1/8", 1.125, 7, 12, 18, 25.0, 26.5, 27.2},
                                   {"1-1/4", 1.25, 7, 12, 18, 28.0, 29.5, 30.5},
                                   {"1-3/8", 1.375, 6, 12, 18, 30.75, 32.75, 33.5},
                                   {"1-1/2", 1.5, 6, 12, 18, 34.0, 36.0, 36.8}};

struct PipeSize {
  const char* size;
  double major, tpi, g_drill, r_drill;
};
constexpr PipeSize pipe[] = {
    {"1/16", 7.723, 28, 6.8, 6.4},     {"1/8", 9.728, 28, 8.8, 8.4},      {"1/4", 13.157, 19, 11.8, 11.2},
    {"3/8", 16.662, 19, 15.25, 14.75}, {"1/2", 20.955, 14, 19.0, 18.25},  {"5/8", 22.911, 14, 21.0, 0},
    {"3/4", 26.441, 14, 24.5, 23.75},  {"7/8", 30.201, 14, 28.25, 0},     {"1", 33.249, 11, 30.75, 30.0},
    {"1-1/4", 41.910, 11, 39.5, 38.5}, {"1-1/2", 47.803, 11, 45.0, 44.5}, {"2", 59.614, 11, 57.0, 56.0}};
struct NptSize {
  const char* size;
  double outside_in, tpi, drill;
};
constexpr NptSize npt[] = {{"1/16", 0.3125, 27, 6.15}, {"1/8", 0.405, 27, 8.5},      {"1/4", 0.540, 18, 11.0},
                           {"3/8", 0.675, 18, 14.5},   {"1/2", 0.840, 14, 17.8},     {"3/4", 1.050, 14, 23.0},
                           {"1", 1.315, 11.5, 29.0},   {"1-1/4", 1.660, 11.5, 37.8}, {"1-1/2", 1.900, 11.5, 44.0},
                           {"2", 2.375, 11.5, 56.0}};

// Capitals without blanks; × is x.
std::string tidy(std::string_view text) {
  std::string out;
  for (std::size_t i = 0; i < text.size(); ++i) {
    const auto c = static_cast<unsigned char>(text[i]);
    if (c == 0xC3 && i + 1 < text.size() && static_cast<unsigned char>(text[i + 1]) == 0x97) {
      out += 'X';
      ++i;
    } else if (c == ',') {
      out += '.';
    } else if (!std::isspace(c)) {
      out += static_cast<char>(std::toupper(c));
    }
  }
  return out;
}

std::optional<double> decimal(std::string_view text) {
  if (text.empty() || text.size() > 8) return std::nullopt;
  double whole = 0, part = 0, scale = 1;
  bool behind = false, digit = false;
  for (const char c : text) {
    if (c == '.' && !behind) behind = true;
    else if (c >= '0' && c <= '9') {
      digit = true;
      if (behind) part += (c - '0') * (scale /= 10);
      else whole = whole * 10 + (c - '0');
    } else return std::nullopt;
  }
  return digit ? std::optional(whole + part) : std::nullopt;
}

tl::unexpected<ThreadFault> refuse(std::string text) { return tl::unexpected(ThreadFault{std::move(text)}); }
bool same(double a, double b) { return std::abs(a - b) < 1e-6; }
double to_tenth(double v) { return std::round(v * 10) / 10; }

Thread metric_thread(double major, double pitch, bool is_coarse, double drill) {
  Thread t;
  t.family = is_coarse ? ThreadFamily::metric : ThreadFamily::metric_fine;
  t.designation = is_coarse ? "M" + plain(major, 2) : "M" + plain(major, 2) + "×" + plain(pitch, 3);
  t.major_mm = major;
  t.pitch_mm = pitch;
  t.tapping_drill_mm = drill;
  return t;
}

tl::expected<Thread, ThreadFault> parse_metric(std::string_view rest) {
  const std::size_t cross = rest.find('X');
  const auto major = decimal(rest.substr(0, cross));
  if (!major) return refuse("M must be followed by the diameter in mm, as in M8 or M10x1");
  const auto size =
      std::find_if(std::begin(coarse), std::end(coarse), [&](const CoarseSize& c) { return same(c.major, *major); });
  const auto fines =
      std::find_if(std::begin(fine), std::end(fine), [&](const FineSize& f) { return same(f.major, *major); });
  if (size == std::end(coarse) && fines == std::end(fine)) {
    const auto nearest =
        std::min_element(std::begin(coarse), std::end(coarse), [&](const CoarseSize& a, const CoarseSize& b) {
          return std::abs(a.major - *major) < std::abs(b.major - *major);
        });
    return refuse(fmt::format("M{} is not in ISO 261; the nearest is M{}", plain(*major, 3), plain(nearest->major, 2)));
  }
  std::string known;
  if (size != std::end(coarse)) known = plain(size->pitch, 3);
  if (fines != std::end(fine))
    for (const double p : fines->pitches)
      if (p > 0) known += (known.empty() ? "" : ", ") + plain(p, 3);
  if (cross == std::string_view::npos) {
    if (size == std::end(coarse))
      return refuse(fmt::format("M{} has no coarse pitch; ISO 261 has {}", plain(*major, 2), known));
    return metric_thread(size->major, size->pitch, true, size->drill);
  }
  const auto pitch = decimal(rest.substr(cross + 1));
  if (!pitch) return refuse("the pitch in mm follows the ×, as in M10x1");
  if (size != std::end(coarse) && same(size->pitch, *pitch))
    return metric_thread(size->major, size->pitch, true, size->drill);
  if (fines != std::end(fine))
    for (const double p : fines->pitches)
      if (p > 0 && same(p, *pitch))
        return metric_thread(fines->major, p, false,
                             p < 0.5 ? std::round((fines->major - p) * 20) / 20 : to_tenth(fines->major - p));
  return refuse(fmt::format("M{} has no pitch {}; ISO 261 has {}", plain(*major, 2), plain(*pitch, 3), known));
}

Thread inch_thread(ThreadFamily family, std::string designation, double major_mm, double tpi, double drill,
                   double flank) {
  Thread t;
  t.family = family;
  t.designation = std::move(designation);
  t.major_mm = major_mm;
  t.pitch_mm = mm_per_inch / tpi;
  t.threads_per_inch = tpi;
  t.flank_angle_deg = flank;
  t.tapping_drill_mm = drill;
  t.tapped_taper = family == ThreadFamily::r || family == ThreadFamily::npt;
  return t;
}

tl::expected<Thread, ThreadFault> parse_pipe(std::string_view size, ThreadFamily family, const char* letters) {
  if (family == ThreadFamily::npt) {
    for (const NptSize& s : npt)
      if (size == s.size)
        return inch_thread(family, std::string(s.size) + " NPT", s.outside_in * mm_per_inch, s.tpi, s.drill, 60);
  } else {
    for (const PipeSize& s : pipe) {
      if (size != s.size) continue;
      const double drill = family == ThreadFamily::g ? s.g_drill : s.r_drill;
      if (drill <= 0) break;
      return inch_thread(family, std::string(letters) + (family == ThreadFamily::g ? "" : " ") + s.size, s.major, s.tpi,
                         drill, 55);
    }
  }
  return refuse(fmt::format("{} has no size “{}”; sizes are 1/16, 1/8, 1/4, 3/8, 1/2, 3/4, 1, 1-1/4, 1-1/2 and 2",
                            letters, size));
}

tl::expected<Thread, ThreadFault> parse_unified(std::string_view text) {
  std::string_view series;
  for (const std::string_view name :
       {std::string_view("UNEF"), std::string_view("UNC"), std::string_view("UNF"), std::string_view("UN")})
    if (text.size() > name.size() && text.substr(text.size() - name.size()) == name) {
      series = name;
      text.remove_suffix(name.size());
      break;
    }
  const UnifiedSize* size = nullptr;
  std::string_view rest;
  for (const UnifiedSize& s : unified) {  // the longest size that fits: 1-1/8 before 1
    const std::string_view name = s.size;
    if (text.substr(0, name.size()) != name) continue;
    const std::string_view behind = text.substr(name.size());
    if (!behind.empty() && behind.front() != '-') continue;
    if (!size || name.size() > std::string_view(size->size).size()) {
      size = &s;
      rest = behind;
    }
  }
  if (!size) return refuse("is not a known thread; write M8, M10x1, 1/4-20 UNC, #10-32, G1/2, Rc 1/2 or 1/2 NPT");
  struct Known {
    ThreadFamily family;
    const char* name;
    double tpi, drill;
  };
  const Known all[] = {{ThreadFamily::unc, "UNC", size->unc, size->unc_drill},
                       {ThreadFamily::unf, "UNF", size->unf, size->unf_drill},
                       {ThreadFamily::unef, "UNEF", size->unef, size->unef_drill}};
  std::string known;
  for (const Known& k : all)
    if (k.tpi > 0) known += (known.empty() ? "" : ", ") + fmt::format("{}-{} {}", size->size, plain(k.tpi, 1), k.name);
  std::optional<double> tpi;
  if (!rest.empty()) {
    tpi = decimal(rest.substr(1));
    if (!tpi) return refuse(fmt::format("threads per inch follow the hyphen; known: {}", known));
  }
  if (!tpi && series.empty()) return refuse(fmt::format("threads per inch or series are missing; known: {}", known));
  for (const Known& k : all) {
    if (k.tpi <= 0 || (tpi && !same(*tpi, k.tpi)) || (!series.empty() && series != "UN" && series != k.name)) continue;
    return inch_thread(k.family, fmt::format("{}-{} {}", size->size, plain(k.tpi, 1), k.name), size->inch * mm_per_inch,
                       k.tpi, k.drill, 60);
  }
  return refuse(fmt::format("{} has no such thread; known: {}", size->size, known));
}

}  // namespace

double Thread::minor_mm() const {
  if (flank_angle_deg == 55) return major_mm - 2 * 0.640327 * pitch_mm;
  return major_mm - 2 * 0.625 * std::sqrt(3.0) / 2 * pitch_mm;
}

double Thread::forming_drill_mm() const { return major_mm - pitch_mm / 2 + deviation_mm; }

namespace {

// A class at the end, taken off: 6H, 5H6H, 6g after metric designations, 2B, 3A after unified ones.
std::string taken_class(std::string_view& text) {
  while (!text.empty() && std::isspace(static_cast<unsigned char>(text.back()))) text.remove_suffix(1);
  const bool metric = !text.empty() && (text.front() == 'M' || text.front() == 'm');
  std::size_t from = text.size();
  const auto pair_before = [&](std::size_t end, std::string_view letters, char low, char high) {
    return end >= 3 && letters.find(text[end - 1]) != std::string_view::npos && text[end - 2] >= low &&
           text[end - 2] <= high;
  };
  if (metric) {
    while (pair_before(from, "GHefgh", '3', '9')) from -= 2;
  } else if (pair_before(from, "AB", '1', '3') && text.find_first_of("NnUu-") != std::string_view::npos) {
    from -= 2;
  }
  std::string found(text.substr(from));
  if (found.empty()) return found;
  text.remove_suffix(found.size());
  while (!text.empty() && (text.back() == '-' || std::isspace(static_cast<unsigned char>(text.back()))))
    text.remove_suffix(1);
  return found;
}

// ISO 965-1, formulas from memory: tolerance of the minor diameter at grade 6, and what other grades have of it.
double minor_tolerance(double pitch_mm, char grade) {
  const double six = pitch_mm < 1 ? 433 * pitch_mm - 190 * std::pow(pitch_mm, 1.22) : 230 * std::pow(pitch_mm, 0.7);
  const double part = grade == '4' ? 0.63 : grade == '5' ? 0.8 : grade == '7' ? 1.25 : grade == '8' ? 1.6 : 1;
  return six * part / 1000;
}

void take_class(Thread& t) {
  const bool metric = t.family == ThreadFamily::metric || t.family == ThreadFamily::metric_fine;
  if (!metric) return;
  const std::string& c = t.tolerance_class;
  // 5H6H: pitch diameter, then minor diameter.
  t.minor_tolerance_mm = minor_tolerance(t.pitch_mm, c.size() >= 2 ? c[c.size() - 2] : '6');
  if (!c.empty() && c.back() == 'G') t.deviation_mm = (15 + 11 * t.pitch_mm) / 1000;
  const double widest = t.minor_mm() + t.deviation_mm + t.minor_tolerance_mm;
  if (c.empty() || t.is_of_bolt()) return;
  if (t.tapping_drill_mm > widest) t.tapping_drill_mm = std::floor(widest * 20) / 20;
  if (t.tapping_drill_mm < t.minor_mm() + t.deviation_mm - 0.1 * t.pitch_mm)
    t.tapping_drill_mm = std::ceil((t.minor_mm() + t.deviation_mm) * 20) / 20;
}

tl::expected<Thread, ThreadFault> parse_size(std::string_view designation);

}  // namespace

tl::expected<Thread, ThreadFault> parse_thread(std::string_view designation) {
  std::string_view size = designation.substr(0, 65);
  std::string of_class = taken_class(size);
  auto thread = parse_size(size);
  if (!thread) return thread;
  thread->tolerance_class = std::move(of_class);
  take_class(*thread);
  return thread;
}

namespace {

tl::expected<Thread, ThreadFault> parse_size(std::string_view designation) {
  if (designation.size() > 64) return refuse("is too long for a thread; write M8 or 1/4-20 UNC");
  const std::string text = tidy(designation);
  if (text.empty()) return refuse("expected a thread, such as M8, M10x1, 1/4-20 UNC or G1/2");
  auto behind = [&](std::size_t n) { return std::string_view(text).substr(n); };
  if (text[0] == 'M') return parse_metric(behind(1));
  if (text[0] == 'G') return parse_pipe(behind(1), ThreadFamily::g, "G");
  if (text.substr(0, 2) == "RC" || text.substr(0, 2) == "RP") return parse_pipe(behind(2), ThreadFamily::r, "Rc");
  if (text[0] == 'R') return parse_pipe(behind(1), ThreadFamily::r, "Rc");
  if (text.size() > 3 && text.substr(text.size() - 3) == "NPT") {
    std::string_view size = std::string_view(text).substr(0, text.size() - 3);
    for (const NptSize& s : npt)  // "1/2-14NPT" as well
      if (const std::string with = fmt::format("{}-{}", s.size, plain(s.tpi, 1)); size == with) size = s.size;
    return parse_pipe(size, ThreadFamily::npt, "NPT");
  }
  return parse_unified(text);
}

}  // namespace

const std::vector<Thread>& coarse_metric_threads() {
  static const std::vector<Thread> all = [] {
    std::vector<Thread> list;
    for (const CoarseSize& c : coarse) list.push_back(metric_thread(c.major, c.pitch, true, c.drill));
    return list;
  }();
  return all;
}

}  // namespace pecorra
