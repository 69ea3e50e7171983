// One resolution, without and with its trail, against the same row looked up by prepared SQL in an in-memory SQLite
// plus the same arithmetic. Two look-ups: one that has to find the row as the resolver does (sources in their order,
// the material before its group), and one that is told the row's whole key. Half of the cutters lie between two rows;
// the SQL then reads the row above as well and interpolates, as the resolver does. Rounds of all four take turns, since
// the machine's pace changes from second to second; the medians of the rounds' ratios count.
#include <sqlite3.h>
#include <QCoreApplication>
#include <chrono>
#include <cmath>
#include <cstdio>
#include <numbers>

#include "shop/demo.h"
#include "shop/evaluation.h"

using namespace pecorra;

namespace {

double seconds() { return std::chrono::duration<double>(std::chrono::steady_clock::now().time_since_epoch()).count(); }

// One round, in nanoseconds for one call.
template <class Work>
double nanoseconds(int calls, Work work) {
  const double start = seconds();
  for (int i = 0; i < calls; ++i) work(i);
  return (seconds() - start) / calls * 1e9;
}

double median(std::vector<double> values) {
  std::nth_element(values.begin(), values.begin() + static_cast<std::ptrdiff_t>(values.size() / 2), values.end());
  return values[values.size() / 2];
}

class Rows {
 public:
  explicit Rows(const ShopState& state) {
    sqlite3_open(":memory:", &db_);
    sqlite3_exec(db_,
                 "CREATE TABLE row (level INTEGER, kind INTEGER, operation INTEGER, material TEXT, tool_material "
                 "INTEGER, diameter REAL, vc REAL, feed REAL, ap REAL, ae REAL, plunge REAL, ramp REAL)",
                 nullptr, nullptr, nullptr);
    sqlite3_stmt* insert = nullptr;
    sqlite3_prepare_v2(db_, "INSERT INTO row VALUES (?,?,?,?,?,?,?,?,?,?,?,?)", -1, &insert, nullptr);
    sqlite3_exec(db_, "BEGIN", nullptr, nullptr, nullptr);
    for (const ConditionTable& t : state.tables)
      for (const ConditionRow& r : t.rows) {
        sqlite3_bind_int(insert, 1, static_cast<int>(t.level));
        sqlite3_bind_int(insert, 2, static_cast<int>(r.kind));
        sqlite3_bind_int(insert, 3, static_cast<int>(r.operation));
        const std::string material = r.material.is_null() ? std::string(key_of(r.group)) : r.material.text();
        sqlite3_bind_text(insert, 4, material.data(), static_cast<int>(material.size()), SQLITE_TRANSIENT);
        sqlite3_bind_int(insert, 5, r.tool_material ? static_cast<int>(*r.tool_material) : -1);
        sqlite3_bind_double(insert, 6, *r.diameter_mm);
        sqlite3_bind_double(insert, 7, *r.vc_m_min);
        sqlite3_bind_double(insert, 8, *r.feed_mm);
        sqlite3_bind_double(insert, 9, r.ap_per_d.value_or(0));
        sqlite3_bind_double(insert, 10, r.ae_per_d.value_or(0));
        sqlite3_bind_double(insert, 11, r.plunge_factor.value_or(0.4));
        sqlite3_bind_double(insert, 12, r.ramp_factor.value_or(0.5));
        sqlite3_step(insert);
        sqlite3_reset(insert);
      }
    sqlite3_exec(db_, "COMMIT", nullptr, nullptr, nullptr);
    sqlite3_finalize(insert);
    sqlite3_exec(db_, "CREATE INDEX by_key ON row (kind, operation, material, tool_material, diameter)", nullptr,
                 nullptr, nullptr);
    sqlite3_exec(db_, "ANALYZE", nullptr, nullptr, nullptr);
    sqlite3_prepare_v2(db_,
                       "SELECT vc, feed, ap, ae, plunge, ramp, diameter FROM row WHERE kind = ? AND operation = ? AND "
                       "material = ? AND tool_material = ? AND diameter <= ? ORDER BY diameter DESC LIMIT 1",
                       -1, &told_, nullptr);
    sqlite3_prepare_v2(db_,
                       "SELECT vc, feed, ap, ae, plunge, ramp, diameter FROM row WHERE kind = ? AND operation = ? AND "
                       "material = ? AND tool_material = ? AND diameter > ? ORDER BY diameter LIMIT 1",
                       -1, &next_, nullptr);
    sqlite3_prepare_v2(db_,
                       "SELECT vc, feed, ap, ae, plunge, ramp, diameter FROM row WHERE kind = ?1 AND operation = ?2 "
                       "AND material IN (?3, ?6) AND tool_material IN (?4, -1) AND diameter <= ?5 "
                       "ORDER BY CASE level WHEN 2 THEN 4 ELSE level END + CASE WHEN material = ?3 THEN 0 ELSE 2 END, "
                       "tool_material = -1, diameter DESC LIMIT 1",
                       -1, &find_, nullptr);
  }
  ~Rows() {
    sqlite3_finalize(told_);
    sqlite3_finalize(next_);
    sqlite3_finalize(find_);
    sqlite3_close(db_);
  }
  // With a group the row must be found; without, its key is told.
  Conditions look_up(const Cutter& c, OperationKind operation, const std::string& material, const std::string& group,
                     const Rounding& rounding) {
    sqlite3_stmt* select_ = group.empty() ? told_ : find_;
    if (!group.empty()) sqlite3_bind_text(select_, 6, group.data(), static_cast<int>(group.size()), SQLITE_STATIC);
    bind(select_, c, operation, material);
    Conditions v;
    double row[6] = {}, at = 0;
    bool found = sqlite3_step(select_) == SQLITE_ROW;
    if (found) at = take(select_, row);
    sqlite3_reset(select_);
    const double d = *c.diameter_mm;
    if (found && at != d) {
      bind(next_, c, operation, material);
      double above[6] = {};
      if (sqlite3_step(next_) == SQLITE_ROW) {
        const double to = take(next_, above);
        for (int i = 0; i < 6; ++i) row[i] += (above[i] - row[i]) / (to - at) * (d - at);
      }
      sqlite3_reset(next_);
    }
    if (found) {
      v.ap_mm = row[2] * d;
      v.ae_mm = row[3] * d;
      v.n_rpm = round_down(1000 * row[0] / (std::numbers::pi * d), rounding.n);
      v.vf_mm_min = round_down(v.n_rpm * row[1] * *c.flutes, rounding.vf);
      v.plunge_mm_min = round_down(v.vf_mm_min * row[4], rounding.vf);
      v.ramp_mm_min = round_down(v.vf_mm_min * row[5], rounding.vf);
      v.fz_mm = row[1];
      v.vc_m_min = std::numbers::pi * d * v.n_rpm / 1000;
    }
    return v;
  }

 private:
  static void bind(sqlite3_stmt* query, const Cutter& c, OperationKind operation, const std::string& material) {
    sqlite3_bind_int(query, 1, static_cast<int>(c.kind));
    sqlite3_bind_int(query, 2, static_cast<int>(operation));
    sqlite3_bind_text(query, 3, material.data(), static_cast<int>(material.size()), SQLITE_STATIC);
    sqlite3_bind_int(query, 4, static_cast<int>(*c.tool_material));
    sqlite3_bind_double(query, 5, *c.diameter_mm);
  }
  static double take(sqlite3_stmt* query, double* row) {
    for (int i = 0; i < 6; ++i) row[i] = sqlite3_column_double(query, i);
    return sqlite3_column_double(query, 6);
  }
  sqlite3* db_ = nullptr;
  sqlite3_stmt* told_ = nullptr;
  sqlite3_stmt* next_ = nullptr;
  sqlite3_stmt* find_ = nullptr;
};

}  // namespace

int main(int argc, char** argv) {
  QCoreApplication application(argc, argv);
  const ShopState state = demo_state();
  const Resolver resolver(state.tables.shared());
  Context context;
  context.material = state.materials.named("42CrMo4 +QT")->id;
  context.machine = state.machines.named("Fettler 6")->id;
  const Query query = query_for(state, context);
  std::vector<Cutter> cutters;
  for (const double d : {6.0, 7.0, 8.0, 9.0, 10.0, 11.0, 12.0, 14.0, 16.0, 18.0, 20.0, 19.0})
    cutters.push_back(proposed_cutter(CutterKind::end_mill, d));
  std::vector<CutterKey> keys;
  for (const Cutter& c : cutters) keys.push_back(resolver.key_of(c));
  const MaterialKey material = resolver.key_of(*state.materials.find(context.material));
  const MachineKey machine = resolver.key_of(*state.machines.find(context.machine));
  const std::string material_id = context.material.text();
  Rows rows(state);

  const std::string group(key_of(state.materials.find(context.material)->group));
  // All must find the same before they are timed.
  for (std::size_t i = 0; i < keys.size(); ++i) {
    const Conditions a = resolver.resolve(keys[i], material, machine, query).conditions;
    for (const std::string& by : {group, std::string()}) {
      const Conditions b = rows.look_up(cutters[i], context.operation, material_id, by, query.rounding);
      if (a.n_rpm == b.n_rpm && a.vf_mm_min == b.vf_mm_min && a.plunge_mm_min == b.plunge_mm_min) continue;
      std::fprintf(stderr, "they do not agree for %s: %g %g, %g %g\n", suggested_name(cutters[i]).c_str(), a.n_rpm,
                   a.vf_mm_min, b.n_rpm, b.vf_mm_min);
      return 1;
    }
  }
  double sum = 0;
  std::size_t at = 0;
  const auto next = [&] { return at = at + 1 == keys.size() ? 0 : at + 1; };
  std::vector<double> silent, told, find, key, by_silent, by_told, by_key;
  Trail trail;
  for (int round = 0; round < 41; ++round) {
    silent.push_back(nanoseconds(
        40000, [&](int) { sum += resolver.resolve(keys[next()], material, machine, query).conditions.n_rpm; }));
    find.push_back(nanoseconds(2000, [&](int) {
      const std::size_t i = next();
      sum += rows.look_up(cutters[i], context.operation, material_id, group, query.rounding).n_rpm;
    }));
    told.push_back(nanoseconds(2000, [&](int) {
      trail.clear();
      sum += resolver.resolve(keys[next()], material, machine, query, trail).conditions.n_rpm;
    }));
    key.push_back(nanoseconds(2000, [&](int) {
      const std::size_t i = next();
      sum += rows.look_up(cutters[i], context.operation, material_id, {}, query.rounding).n_rpm;
    }));
    by_silent.push_back(find.back() / silent.back());
    by_told.push_back(find.back() / told.back());
    by_key.push_back(key.back() / silent.back());
  }
  std::printf("%-44s %10s %10s %9s\n", "one resolution", "ours", "SQL", "ratio");
  std::printf("%-44s %7.0f ns %7.0f ns %7.1f ×   (at least 50)\n", "  without trail; SQL finds the row", median(silent),
              median(find), median(by_silent));
  std::printf("%-44s %7.0f ns %7.0f ns %7.1f ×   (at least 1)\n", "  with its trail; SQL finds the row", median(told),
              median(find), median(by_told));
  std::printf("%-44s %7.0f ns %7.0f ns %7.1f ×\n", "  without trail; SQL is told the row's key", median(silent),
              median(key), median(by_key));
  return sum > 0 ? 0 : 1;
}
