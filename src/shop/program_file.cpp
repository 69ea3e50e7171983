#include "shop/program_file.h"

#include <fmt/format.h>
#include <algorithm>
#include <string_view>

#include "formats/json/objects.h"
#include "shop/shop.h"
#include "store/store.h"

namespace pecorra {
namespace {

std::vector<std::string_view> lines_in(const std::string& text) {
  std::vector<std::string_view> lines;
  for (std::size_t at = 0; at < text.size();) {
    const std::size_t end = std::min(text.find('\n', at), text.size());
    lines.push_back(std::string_view(text).substr(at, end - at));
    at = end + 1;
  }
  return lines;
}

std::string shown_line(std::string_view line) {
  std::string text;
  for (const char c : line.substr(0, 120)) text += c == '\r' ? std::string("\\r") : std::string(1, c);
  // What is no UTF-8 would be no JSON.
  for (char& c : text)
    if (static_cast<unsigned char>(c) > 126 || static_cast<unsigned char>(c) < 32) c = '?';
  return text;
}

// How many of `a` and of `b` to pass over until both go on alike; the fewest. Programs differ in short stretches.
std::pair<std::size_t, std::size_t> gap(const std::vector<std::string_view>& a, std::size_t i,
                                        const std::vector<std::string_view>& b, std::size_t k) {
  constexpr std::size_t far = 400;
  const std::size_t left_a = a.size() - i, left_b = b.size() - k;
  for (std::size_t sum = 1; sum <= far; ++sum)
    for (std::size_t x = 0; x <= sum; ++x) {
      const std::size_t y = sum - x;
      if (x > left_a || y > left_b) continue;
      const bool both_end = x == left_a && y == left_b;
      const bool alike = x < left_a && y < left_b && a[i + x] == b[k + y] &&
                         (x + 1 >= left_a || y + 1 >= left_b || a[i + x + 1] == b[k + y + 1]);
      if (both_end || alike) return {x, y};
    }
  return {left_a, left_b};
}

}  // namespace

std::string revision_text(const QString& shop_file, const Job& job) {
  if (shop_file.isEmpty()) return {};
  const auto store = Store::open(shop_file);
  if (!store) return {};
  std::vector<Id> objects{job.id};
  for (const auto& o : job.setups) objects.push_back(o.id);
  for (const auto& o : job.features) objects.push_back(o.id);
  for (const auto& o : job.operations) objects.push_back(o.id);
  if (job.part) objects.push_back(job.part->id);
  const auto last = (*store)->last_change(objects, job.id);
  if (!last || last->seq == 0) return {};
  std::string when = last->when.substr(0, 16);
  std::replace(when.begin(), when.end(), 'T', ' ');
  return fmt::format("Revision {} of {} UTC", last->seq, when);
}

namespace {

std::string key_for(const Id& job) { return "programs/" + job.text(); }

std::vector<ProgramFile> read_programs(const std::string& bytes) {
  std::vector<ProgramFile> programs;
  const Json json = Json::parse(bytes, nullptr, false);
  if (!json.is_array()) return programs;
  const auto text = [](const Json& one, const char* key) {
    return one.is_object() && one.contains(key) && one[key].is_string() ? one[key].get<std::string>() : std::string();
  };
  for (const Json& one : json) programs.push_back({text(one, "file"), text(one, "revision"), text(one, "when")});
  return programs;
}

}  // namespace

void remember_program(const QString& shop_file, const Job& job, const QString& file) {
  constexpr std::size_t most = 50;
  const std::string revision = revision_text(shop_file, job);
  const auto store = Store::open(shop_file);
  if (!store || (*store)->is_read_only()) return;
  const auto before = (*store)->kept(key_for(job.id));
  std::vector<ProgramFile> programs = before ? read_programs(*before) : std::vector<ProgramFile>{};
  std::erase_if(programs, [&](const ProgramFile& p) { return p.file == file.toStdString(); });
  programs.insert(programs.begin(), {file.toStdString(), revision, current_time()});
  if (programs.size() > most) programs.resize(most);
  Json json = Json::array();
  for (const ProgramFile& p : programs) json.push_back({{"file", p.file}, {"revision", p.revision}, {"when", p.when}});
  (void)(*store)->keep(key_for(job.id), json.dump());
}

std::vector<ProgramFile> programs_written(const QString& shop_file, const Id& job) {
  const auto store = Store::open(shop_file);
  const auto bytes = store ? (*store)->kept(key_for(job)) : tl::unexpected(StoreFault{});
  return bytes ? read_programs(*bytes) : std::vector<ProgramFile>{};
}

int program_number(const JobHead& job) {
  if (job.program_number) return *job.program_number;
  unsigned sum = 0;
  for (const char c : job.id.text()) sum = sum * 31 + static_cast<unsigned char>(c);
  return 1 + static_cast<int>(sum % 7999);
}

int next_program_number(const ShopState& state) {
  int highest = 0;
  for (const JobHead& job : state.jobs) highest = std::max(highest, job.program_number.value_or(0));
  return highest + 1;
}

std::vector<std::string> program_differences(const std::string& found, const std::string& wanted, std::size_t most) {
  std::vector<std::string> out;
  if (found == wanted) return out;
  const auto a = lines_in(found), b = lines_in(wanted);
  std::size_t i = 0, k = 0;
  while (i < a.size() || k < b.size()) {
    if (i < a.size() && k < b.size() && a[i] == b[k]) {
      ++i, ++k;
      continue;
    }
    if (out.size() == most) {
      out.push_back("and more");
      return out;
    }
    const auto [x, y] = gap(a, i, b, k);
    for (std::size_t n = 0; n < std::max(x, y) && out.size() < most; ++n) {
      const std::string is = n < x ? shown_line(a[i + n]) : "", would = n < y ? shown_line(b[k + n]) : "";
      if (n >= x) out.push_back(fmt::format("line {}: the job would write here: {}", i + x + 1, would));
      else if (n >= y) out.push_back(fmt::format("line {}: {}, the job would not write it", i + n + 1, is));
      else out.push_back(fmt::format("line {}: {}, the job would write {}", i + n + 1, is, would));
    }
    i += x, k += y;
  }
  if (out.empty()) out.push_back("the end of the last line");
  return out;
}

}  // namespace pecorra
