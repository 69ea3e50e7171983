#include "app/jobs/feature_model.h"

#include <algorithm>

#include "core/quantity/print.h"
#include "shop/words.h"

namespace pecorra {

void FeatureModel::show_job(std::shared_ptr<const Job> job) {
  std::vector<std::string> keys;
  if (job) {
    for (const Feature& f : job->features) keys.push_back(f.key);
    for (std::string& key : keys_of(job->drawing())) keys.push_back(std::move(key));
    for (std::string& key : text_keys_of(job->drawing())) keys.push_back(std::move(key));
  }
  const bool same = keys == keys_;
  if (!same) beginResetModel();
  keys_ = std::move(keys);
  job_ = std::move(job);
  index_ = job_ ? std::make_unique<JobIndex>(*job_) : nullptr;
  if (!same) endResetModel();
  else if (rowCount() > 0) emit dataChanged(index(0, 0), index(rowCount() - 1, column_count - 1));
}

std::string FeatureModel::key_at(int row) const {
  return row < 0 || row >= rowCount() ? std::string() : keys_[static_cast<std::size_t>(row)];
}

int FeatureModel::row_of(const std::string& key) const {
  const auto found = std::find(keys_.begin(), keys_.end(), key);
  return found == keys_.end() ? -1 : static_cast<int>(found - keys_.begin());
}

Places FeatureModel::users_of(const std::string& key) const {
  Places users;
  if (!job_) return users;
  std::vector<std::string> as{key};
  const auto made_of = [&](const std::vector<FeatureUse>& uses) {
    return std::any_of(uses.begin(), uses.end(), [&](const FeatureUse& use) { return use.key == key; });
  };
  for (const Feature& f : job_->features)
    if (f.outline.key == key || made_of(f.islands) || made_of(f.circles)) as.push_back(f.key);
  for (std::size_t i = 0; i < job_->operations.size(); ++i)
    for (const FeatureUse& use : job_->operations[i].features)
      if (std::find(as.begin(), as.end(), use.key) != as.end()) {
        users.push_back(static_cast<int>(i));
        break;
      }
  return users;
}

QString FeatureModel::size_text(const Feature& f) const {
  const UnitSystem units = workspace_.units();
  const auto length = [&](const std::optional<double>& v) {
    return v ? text_of(shown(*v, Quantity::length, units)) : QStringLiteral("…");
  };
  const QString times = QStringLiteral(" × ");
  switch (f.kind) {
    case FeatureKind::rectangle:
      return length(f.length_mm) + times + length(f.width_mm) +
             (f.corner_radius_mm.value_or(0) > 0 ? QStringLiteral(" R") + length(f.corner_radius_mm) : QString());
    case FeatureKind::slot: return length(f.length_mm) + times + length(f.width_mm);
    case FeatureKind::circle: return QStringLiteral("Ø") + length(f.diameter_mm);
    case FeatureKind::text: return QStringLiteral("“%1” %2").arg(text_of(f.text), length(f.height_mm));
    case FeatureKind::pocket:
      if (f.islands.empty()) return text_of(f.outline.key);
      return f.islands.size() == 1 ? tr("%1, one island").arg(text_of(f.outline.key))
                                   : tr("%1, %2 islands").arg(text_of(f.outline.key)).arg(f.islands.size());
    case FeatureKind::holes: {
      std::optional<double> d = f.diameter_mm;
      if (!d && !f.circles.empty() && index_)
        if (const JobLine* circle = index_->line(f.circles.front().key); circle && circle->is_circle())
          d = circle->diameter_mm;
      QStringList text{QString::number(f.at.size() + f.circles.size()) + QStringLiteral(" ×")};
      if (d) text << QStringLiteral("Ø") + length(d);
      for (const std::string& more : {f.thread, f.tolerance})
        if (!more.empty()) text << text_of(more);
      return text.join(QLatin1Char(' '));
    }
    case FeatureKind::face: return tr("top of the stock");
    case FeatureKind::line: {
      const JobLine* line = index_ ? index_->line(f.key) : nullptr;
      return line ? size_text(*line) : QString();
    }
  }
  return {};
}

QString FeatureModel::size_text(const JobLine& line) const {
  const UnitSystem units = workspace_.units();
  if (line.is_circle()) return QStringLiteral("Ø") + text_of(shown(line.diameter_mm, Quantity::length, units));
  const Box box = bounds(*line.contour);
  return text_of(shown(box.width(), Quantity::length, units)) + QStringLiteral(" × ") +
         text_of(shown(box.depth(), Quantity::length, units));
}

QString FeatureModel::fault_of(const Feature& f) const {
  std::vector<Message> messages = check_feature(f);
  if (index_) {
    if (!f.outline.key.empty()) index_->stands(f.outline, messages);
    for (const std::vector<FeatureUse>* uses : {&f.islands, &f.circles})
      for (const FeatureUse& use : *uses) index_->stands(use, messages);
  }
  for (const Message& m : messages)
    if (m.severity == Severity::error) {
      const Property<Feature>* property = find_property<Feature>(m.property);
      const QString what =
          m.code == "missing" && property ? label_text(property->label) + QStringLiteral(": ") : QString();
      return what + sentence(m, workspace_.units());
    }
  return {};
}

QVariant FeatureModel::data(const QModelIndex& i, int role) const {
  if (!job_ || !i.isValid()) return {};
  const std::string key = key_at(i.row());
  const Feature* f = index_->feature(key);
  const JobLine* line = f ? nullptr : index_->line(key);
  if (role == fault_role) return f ? fault_of(*f) : QString();
  if (role == Qt::TextAlignmentRole)
    return static_cast<int>((i.column() == depth ? Qt::AlignRight : Qt::AlignLeft) | Qt::AlignVCenter);
  if (role == Qt::ToolTipRole && f && i.column() == name) return fault_of(*f);
  if (role != Qt::DisplayRole) return {};
  switch (i.column()) {
    case name: return text_of(key);
    case kind:
      if (f) return label_text(label_of(f->kind));
      if (!line) return label_text(label_of(FeatureKind::text));
      return line->is_circle()       ? tr("circle, drawn")
             : line->contour->closed ? tr("closed line, drawn")
                                     : tr("open line, drawn");
    case size:
      if (f) return size_text(*f);
      if (line) return size_text(*line);
      if (const DrawnText* text = index_->text(key)) return QStringLiteral("“%1”").arg(text_of(text->text));
      return {};
    case depth:
      if (!f) return {};
      return f->depth_mm  ? text_of(shown(*f->depth_mm, Quantity::length, workspace_.units()))
             : f->through ? tr("through")
                          : QString();
    case used_by: {
      QStringList names;
      for (const int at : users_of(key))
        names << QStringLiteral("%1 %2").arg(at + 1).arg(text_of(job_->operations[static_cast<std::size_t>(at)].name));
      return names.join(QStringLiteral(", "));
    }
    default: return {};
  }
}

QVariant FeatureModel::headerData(int section, Qt::Orientation orientation, int role) const {
  if (orientation != Qt::Horizontal) return {};
  if (role == Qt::TextAlignmentRole)
    return static_cast<int>((section == depth ? Qt::AlignRight : Qt::AlignLeft) | Qt::AlignVCenter);
  if (role != Qt::DisplayRole) return {};
  switch (section) {
    case name: return tr("Feature");
    case kind: return tr("Kind");
    case size: return tr("Size %1").arg(text_of(unit_text(Quantity::length, workspace_.units())));
    case depth: return tr("Depth %1").arg(text_of(unit_text(Quantity::length, workspace_.units())));
    case used_by: return tr("Used by");
    default: return {};
  }
}

}  // namespace pecorra

#include "moc_feature_model.cpp"
