#include "shop/chart_grid.h"

#include <QStringList>

#include <algorithm>
#include <chrono>
#include <cmath>

#include "core/quantity/print.h"
#include "shop/words.h"

namespace pecorra {

void ChartGrid::clear() { *this = {}; }

void ChartGrid::set(const ShopState& state, const Resolver& resolver, const Context& context, const ChartWish& wish) {
  state_ = &state;
  resolver_ = &resolver;
  context_ = context;
  wish_ = wish;
  machine_ = state.machines.find(context.machine);
  materials_ = machine_ ? materials_in_order(state, !wish.all_materials) : std::vector<std::size_t>{};
  material_keys_.clear();
  for (const std::size_t i : materials_) material_keys_.push_back(resolver.key_of(state.materials[i]));
  if (machine_) machine_key_ = resolver.key_of(*machine_);
  query_ = query_for(state, context);
  cutters_.clear();
  operations_.clear();
  if (wish.rows == ChartRows::operations) {
    for (std::size_t i = 0; i < state.cutters.size(); ++i)
      if (state.cutters[i].id == wish.cutter) cutters_.push_back(i);
    if (!cutters_.empty())
      for (int i = 0; i < operation_count; ++i)
        if (can_do(state.cutters[cutters_[0]].kind, static_cast<OperationKind>(i)))
          operations_.push_back(static_cast<OperationKind>(i));
  } else {
    const QStringList words = text_of(wish.text).split(QLatin1Char(' '), Qt::SkipEmptyParts);
    for (std::size_t i = 0; i < state.cutters.size(); ++i) {
      const Cutter& c = state.cutters[i];
      if (wish.only_able && !can_do(c.kind, context_for(context, c.kind).operation)) continue;
      if (!words.isEmpty()) {
        const QString all = text_of(std::to_string(c.number) + " " + c.name + " " + std::string(label_of(c.kind)) +
                                    " " + c.maker + " " + c.series);
        if (!std::all_of(words.begin(), words.end(),
                         [&](const QString& w) { return all.contains(w, Qt::CaseInsensitive); }))
          continue;
      }
      cutters_.push_back(i);
    }
  }
  keys_.assign(cutters_.size(), {});
  key_ready_.assign(cutters_.size(), false);
  cells_.assign(static_cast<std::size_t>(row_count()) * materials_.size(), {});
  used_.clear();
  next_ = 0;
}

const Cutter& ChartGrid::cutter_at(int row) const {
  return state_->cutters[cutters_[wish_.rows == ChartRows::cutters ? static_cast<std::size_t>(row) : 0]];
}
OperationKind ChartGrid::operation_at(int row) const {
  return wish_.rows == ChartRows::operations ? operations_[static_cast<std::size_t>(row)]
                                             : context_for(context_, cutter_at(row).kind).operation;
}
const WorkMaterial& ChartGrid::material_at(int column) const {
  return state_->materials[materials_[static_cast<std::size_t>(column)]];
}

int ChartGrid::row_of(const Id& cutter) const {
  for (std::size_t i = 0; i < cutters_.size(); ++i)
    if (state_->cutters[cutters_[i]].id == cutter) return static_cast<int>(i);
  return -1;
}
int ChartGrid::row_of(OperationKind operation) const {
  const auto found = std::find(operations_.begin(), operations_.end(), operation);
  return found == operations_.end() ? -1 : static_cast<int>(found - operations_.begin());
}
int ChartGrid::column_of(const Id& material) const {
  for (int i = 0; i < column_count(); ++i)
    if (material_at(i).id == material) return i;
  return -1;
}

const CutterKey& ChartGrid::key_at(int row) const {
  const std::size_t at = wish_.rows == ChartRows::cutters ? static_cast<std::size_t>(row) : 0;
  if (!key_ready_[at]) {
    keys_[at] = key_as_used(*state_, *resolver_, cutter_at(row));
    key_ready_[at] = true;
  }
  return keys_[at];
}

const ChartCell& ChartGrid::cell(int row, int column) const {
  ChartCell& cell = cells_[place(row, column)];
  if (cell.ready) return cell;
  Query query = query_;
  query.operation = operation_at(row);
  const Resolution r =
      resolver_->resolve(key_at(row), material_keys_[static_cast<std::size_t>(column)], machine_key_, query);
  cell.ready = true;
  cell.source = r.source;
  cell.reason = r.reason;
  cell.guess = r.guess;
  cell.proven = r.proven;
  cell.held = r.held_speed || r.held_feed;
  if (!r.found()) return cell;
  const Conditions& c = r.conditions;
  cell.n_rpm = static_cast<float>(c.n_rpm);
  cell.vf_mm_min = static_cast<float>(c.vf_mm_min);
  const double q = c.ap_mm * c.ae_mm * c.vf_mm_min / 1000;
  cell.q_cm3_min = std::isfinite(q) ? static_cast<float>(q) : 0;
  return cell;
}

double ChartGrid::worst_used(int row, int column) const {
  if (!cell(row, column).found() || !machine_) return 0;
  const std::size_t at = place(row, column);
  if (const auto known = used_.find(at); known != used_.end()) return known->second;
  const Cutter& cutter = cutter_at(row);
  Query query = query_;
  query.operation = operation_at(row);
  const Evaluation e = evaluate(*state_, *resolver_, cutter, material_at(column), *machine_, query,
                                state_->assembly_of(cutter.id), {}, Extent::limits);
  const double used = e.cut.headroom.empty() ? 0 : e.cut.headroom.front().tightest();
  used_[at] = used;
  return used;
}

bool ChartGrid::work(std::int64_t microseconds) const {
  using Clock = std::chrono::steady_clock;
  const auto until = Clock::now() + std::chrono::microseconds(microseconds);
  const int columns = column_count();
  while (next_ < cells_.size()) {
    // Checks the clock once per row.
    const int row = static_cast<int>(next_ / static_cast<std::size_t>(columns));
    for (int c = 0; c < columns; ++c) cell(row, c);
    next_ = static_cast<std::size_t>(row + 1) * static_cast<std::size_t>(columns);
    if (Clock::now() >= until) break;
  }
  return is_complete();
}

Sheet ChartGrid::sheet(UnitSystem units) const {
  Sheet out;
  out.name = context_.usual_work ? "Chart" : "Chart, " + std::string(label_of(context_.operation));
  const bool by_cutter = wish_.rows == ChartRows::cutters;
  std::vector<std::string> heads =
      by_cutter ? std::vector<std::string>{"Number", "Name"} : std::vector<std::string>{"Number", "Operation"};
  const std::string feed_unit = unit_text(Quantity::table_feed, units);
  for (int c = 0; c < column_count(); ++c) {
    heads.push_back(material_at(c).name + " S (rpm)");
    heads.push_back(material_at(c).name + " F (" + feed_unit + ")");
    heads.push_back(material_at(c).name + " from");
  }
  out.lines.push_back(std::move(heads));
  for (int r = 0; r < row_count(); ++r) {
    std::vector<std::string> line{std::to_string(cutter_at(r).number),
                                  by_cutter ? cutter_at(r).name : std::string(label_of(operation_at(r)))};
    for (int c = 0; c < column_count(); ++c) {
      const ChartCell& v = cell(r, c);
      if (!v.found()) {
        line.insert(line.end(), {"", "", reason_text(v.reason, cutter_at(r).kind).toStdString()});
        continue;
      }
      line.push_back(shown(v.n_rpm, Quantity::spindle_speed, units));
      line.push_back(shown(v.vf_mm_min, Quantity::table_feed, units));
      line.push_back(std::string(label_of(v.source)) + (v.proven ? ", proven" : v.guess ? ", guess" : ""));
    }
    out.lines.push_back(std::move(line));
  }
  return out;
}

}  // namespace pecorra
