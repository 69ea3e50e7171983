#include "app/jobs/operation_model.h"

#include <QMimeData>
#include <algorithm>
#include <cmath>
#include <set>

#include "app/look/look.h"
#include "core/quantity/print.h"
#include "shop/words.h"

namespace pecorra {

void OperationModel::show_job(Shown job, Shown anew, Shown moved) {
  const auto same = [](const Shown& a, const Shown& b) {
    return a && b && a->id == b->id &&
           std::equal(a->operations.begin(), a->operations.end(), b->operations.begin(), b->operations.end(),
                      [](const Operation& x, const Operation& y) { return x.id == y.id; });
  };
  const bool steady = same(job_, job);
  // Another trial of the same job changes its conditions alone.
  const bool conditions = job_ == job && anew_ && anew && anew_->machine == anew->machine && moved_ == moved;
  if (!steady) beginResetModel();
  job_ = std::move(job);
  anew_ = std::move(anew);
  moved_ = std::move(moved);
  tools_ = job_ ? workspace_.tools().numbers() : std::vector<int>{};
  reports_.clear();
  if (!steady) endResetModel();
  else if (rowCount() > 0)
    emit dataChanged(index(0, conditions ? speed : 0), index(rowCount() - 1, conditions ? tightest : column_count - 1));
}

// Until the paths are planned, the engagement beside a straight wall is used.
const CutReport& OperationModel::report(std::size_t i) const {
  const Job& job = anew_ ? *anew_ : *job_;
  reports_.resize(job.operations.size());
  if (!reports_[i]) {
    const bool planned = plan_.operations.size() == job.operations.size();
    reports_[i] =
        report_of(workspace_.state(), job, job.operations[i], planned ? plan_.operations[i]->facts() : PathFacts{});
  }
  return *reports_[i];
}

void OperationModel::show_plan(const JobPlan& plan) {
  plan_ = plan;
  reports_.clear();
  if (rowCount() > 0) emit dataChanged(index(0, 0), index(rowCount() - 1, column_count - 1));
}

Qt::ItemFlags OperationModel::flags(const QModelIndex& index) const {
  const Qt::ItemFlags usual = QAbstractTableModel::flags(index);
  return index.isValid() ? usual | Qt::ItemIsDragEnabled : usual | Qt::ItemIsDropEnabled;
}

namespace {
const QString rows_mime = QStringLiteral("application/x-pecorra-operation-rows");
}

QStringList OperationModel::mimeTypes() const { return {rows_mime}; }

QMimeData* OperationModel::mimeData(const QModelIndexList& indexes) const {
  std::set<int> rows;
  for (const QModelIndex& i : indexes) rows.insert(i.row());
  QStringList text;
  for (const int row : rows) text << QString::number(row);
  auto* data = new QMimeData;
  data->setData(rows_mime, text.join(QLatin1Char(' ')).toUtf8());
  return data;
}

bool OperationModel::dropMimeData(const QMimeData* data, Qt::DropAction, int row, int, const QModelIndex& parent) {
  if (!job_ || !data->hasFormat(rows_mime)) return false;
  Places places;
  for (const QByteArray& at : data->data(rows_mime).split(' ')) places.push_back(at.toInt());
  if (places.empty() || places.back() >= rowCount()) return false;
  const int before = row >= 0 ? row : parent.isValid() ? parent.row() : rowCount();
  // The view takes dragged rows away by itself when told that they moved; the job does.
  emit put_wanted(places, before);
  return false;
}

int OperationModel::changes() const {
  if (!job_ || !anew_) return 0;
  int count = 0;
  for (std::size_t i = 0; i < job_->operations.size(); ++i)
    count += fingerprint(job_->operations[i]) != fingerprint(anew_->operations[i]);
  return count;
}

// As most of the path runs; without one yet, and of a trial, as the tables answer.
QString OperationModel::value_text(const Operation& o, int column, const PathFacts& path) const {
  const UnitSystem units = workspace_.units();
  const RunsAt t = runs_at(o, path);
  const auto feed_text = [&](double vf) { return text_of(shown(vf, Quantity::table_feed, units)); };
  if (column == speed) return t.n_rpm ? text_of(shown(*t.n_rpm, Quantity::spindle_speed, units)) : QString();
  if (column == feed)
    return !t.vf_mm_min       ? QString()
           : t.vf_high_mm_min ? feed_text(*t.vf_mm_min) + QStringLiteral("–") + feed_text(*t.vf_high_mm_min)
                              : feed_text(*t.vf_mm_min);
  if (!t.ap_mm && !t.ae_mm) return QString();
  auto part = [&](const std::optional<double>& v) {
    return v ? text_of(shown(*v, Quantity::length, units)) : QStringLiteral("—");
  };
  return part(t.ap_mm) + QStringLiteral(" × ") + part(t.ae_mm);
}

QVariant OperationModel::data(const QModelIndex& index, int role) const {
  if (!job_ || !index.isValid()) return {};
  const auto i = static_cast<std::size_t>(index.row());
  const Operation& o = job_->operations[i];
  const Operation& now = anew_ ? anew_->operations[i] : o;
  const Message* fault = nullptr;
  if (i < plan_.faults.size())
    for (const Message& m : plan_.faults[i])
      if (!fault || m.severity > fault->severity) fault = &m;
  if (role == fault_role)
    return fault && fault->severity == Severity::error ? sentence(*fault, workspace_.units()) : QString();
  if (role == moved_role) return moved_ && source_moved(o, moved_->operations[i]);
  if (role == mark_role) return static_cast<int>(mark_of(now.taken));
  if (role == new_text_role) {
    if (!anew_ || (index.column() != speed && index.column() != feed && index.column() != depth_width))
      return QString();
    const QString before = value_text(o, index.column(), {}), after = value_text(now, index.column(), {});
    return before == after ? QString() : after.isEmpty() ? tr("none") : after;
  }
  if (role == Qt::TextAlignmentRole) {
    return static_cast<int>((is_right_aligned(index.column()) ? Qt::AlignRight : Qt::AlignLeft) | Qt::AlignVCenter);
  }
  if (role == Qt::ToolTipRole) {
    if (fault) return sentence(*fault, workspace_.units());
    if (index.column() == follows)
      return mark_name(mark_of(now.taken)) + QStringLiteral(": ") + text_of(now.taken.source_text);
    return {};
  }
  if (role != Qt::DisplayRole) return {};
  switch (index.column()) {
    case number: return index.row() + 1;
    case operation: return text_of(o.name.empty() ? std::string(label_of(o.path)) : o.name);
    case cutter: {
      if (o.cutter.id.is_null()) return tr("pick a cutter");
      return QStringLiteral("T%1 %2").arg(tools_[i]).arg(text_of(o.cutter.name));
    }
    case speed:
    case feed:
    case depth_width:
      return value_text(o, index.column(),
                        !anew_ && i < plan_.operations.size() ? plan_.operations[i]->facts() : PathFacts{});
    case follows: return now.taken.source == SourceKind::none ? tr("nothing") : label_text(label_of(now.taken.source));
    case tightest: {
      const CutReport& cut = report(i);
      if (cut.headroom.empty()) return QString();
      const Headroom& h = cut.headroom.front();
      if (h.limit == Limit::spindle_speed && std::abs(h.used - 1) < 0.002) return headroom_text(h, workspace_.units());
      return tightest_text(h);
    }
    case time:
      return i < plan_.times.size() && plan_.figures[i].minutes > 0 ? duration_text(plan_.times[i].total_s() / 60)
                                                                    : QString();
    default: return {};
  }
}

QVariant OperationModel::headerData(int section, Qt::Orientation orientation, int role) const {
  if (orientation != Qt::Horizontal) return {};
  if (role == Qt::TextAlignmentRole) {
    return static_cast<int>((is_right_aligned(section) ? Qt::AlignRight : Qt::AlignLeft) | Qt::AlignVCenter);
  }
  if (role != Qt::DisplayRole) return {};
  const QString unit = text_of(unit_text(Quantity::table_feed, workspace_.units()));
  switch (section) {
    case number: return QStringLiteral("#");
    case operation: return tr("Operation");
    case cutter: return tr("Cutter");
    case speed: return tr("S rpm");
    case feed: return tr("F %1").arg(unit);
    case depth_width: return tr("ap × ae %1").arg(text_of(unit_text(Quantity::length, workspace_.units())));
    case follows: return tr("Follows");
    case tightest: return tr("Tightest");
    case time: return tr("Time");
    default: return {};
  }
}

}  // namespace pecorra

#include "moc_operation_model.cpp"
