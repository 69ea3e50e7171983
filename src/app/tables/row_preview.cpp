#include "app/tables/row_preview.h"

#include "shop/words.h"

namespace pecorra {
namespace {

class RowLines : public ChangeLines {
 public:
  RowLines(Workspace& workspace, const ConditionTable& into, const QString& from, const RowSheet& sheet)
      : workspace_(workspace), table_(into.id), from_(from), before_(into.rows), lines_(preview_rows(into, sheet)) {}

  std::size_t size() const override { return lines_.size(); }
  MergeState state(std::size_t i) const override { return lines_[i].state; }
  QString line(std::size_t i) const override { return QString::number(lines_[i].line); }
  bool picked(std::size_t i) const override { return lines_[i].picked; }
  void pick(std::size_t i, bool picked) override { lines_[i].picked = picked; }
  QString what(std::size_t i) const override {
    const ConditionRow& r = lines_[i].value;
    QStringList parts;
    parts << QStringLiteral("%1 Ø%2").arg(
        label_text(label_of(r.kind)),
        r.diameter_mm ? text_of(shown(*r.diameter_mm, Quantity::length, workspace_.units())) : QStringLiteral("?"));
    parts << label_text(label_of(r.operation));
    const WorkMaterial* m = workspace_.state().materials.find(r.material);
    parts << (m ? text_of(m->name) : text_of(key_of(r.group)));
    return parts.join(QStringLiteral(", "));
  }
  QString change(std::size_t i) const override {
    const SheetLine<ConditionRow>& l = lines_[i];
    const UnitSystem units = workspace_.units();
    QStringList parts = said_of(l);
    if (l.target) {
      const ConditionRow& before = before_[*l.target];
      for (const Property<ConditionRow>* p : l.changes)
        parts << property_change_text(label_text(p->symbol.empty() ? p->label : p->symbol), p->get(before),
                                      p->get(l.value), p->quantity, p->choices, units);
    } else if (l.state == MergeState::fresh) {
      if (l.value.vc_m_min)
        parts << QObject::tr("vc %1").arg(quantity_text(*l.value.vc_m_min, Quantity::cutting_speed, units));
      if (l.value.feed_mm)
        parts << QObject::tr("feed %1").arg(quantity_text(*l.value.feed_mm, Quantity::feed_per_tooth, units));
    }
    return parts.join(QStringLiteral("; "));
  }
  QString take_text(int picked) const override {
    return picked == 1 ? QObject::tr("Import 1 row") : QObject::tr("Import %1 rows").arg(picked);
  }
  void take() override {
    const ConditionTable* into = workspace_.state().tables.find(table_);
    if (!into) return;
    const auto count = std::count_if(lines_.begin(), lines_.end(), [](const auto& l) {
      return l.picked && l.state != MergeState::faulty && l.state != MergeState::same;
    });
    const ConditionTable after = with_rows(*into, lines_, new_id, current_user(), current_time().substr(0, 10));
    workspace_.shop().edit(*into, after,
                           QObject::tr("%1 rows from %2 into %3").arg(count).arg(from_, text_of(into->name)));
  }

 private:
  Workspace& workspace_;
  Id table_;
  QString from_;
  std::vector<ConditionRow> before_;  // rows of the table as they were when the preview was made
  std::vector<SheetLine<ConditionRow>> lines_;
};

}  // namespace

std::unique_ptr<ChangeLines> row_lines(Workspace& workspace, const Id& table, const QString& from,
                                       const RowSheet& sheet) {
  const ConditionTable* into = workspace.state().tables.find(table);
  return into ? std::make_unique<RowLines>(workspace, *into, from, sheet) : nullptr;
}

}  // namespace pecorra
