#include "app/cutters/bulk_change.h"

#include <QHBoxLayout>
#include <QVBoxLayout>
#include <iterator>

#include "app/look/look.h"
#include "app/widgets/pick_list.h"
#include "app/widgets/property_cell.h"
#include "core/base/parallel.h"
#include "core/quantity/entry.h"
#include "core/transfer/columns.h"
#include "shop/cutter_edit.h"
#include "shop/edit.h"
#include "shop/number_plan.h"
#include "shop/task.h"
#include "shop/words.h"

namespace pecorra {
namespace {

// Cutters of the shop at the time of the preview. Each result is calculated when shown or applied: there can be very
// many, and every keystroke rebuilds the lines.
class EditLines : public ChangeLines {
 public:
  struct Line {
    std::size_t cutter = 0;  // its place
    MergeState state = MergeState::changed;
    bool picked = true;
    int number = 0;  // that a plan gives it
  };
  struct Edit {
    std::function<Cutter(const ShopState&, const Cutter&, const Line&)> after;
    std::function<QString(const ShopState&, const Cutter& before, const Cutter& after, const Line&)> text;
    std::function<QString(int)> label;
  };
  EditLines(Workspace& workspace, std::shared_ptr<const ShopState> before, std::vector<Line> lines, Edit edit)
      : workspace_(workspace),
        before_(std::move(before)),
        lines_(std::make_shared<std::vector<Line>>(std::move(lines))),
        edit_(std::move(edit)) {}
  ~EditLines() override { drop_aside(std::move(before_)); }
  std::size_t size() const override { return lines_->size(); }
  MergeState state(std::size_t i) const override { return (*lines_)[i].state; }
  QString line(std::size_t i) const override { return QString::number(cutter(i).number); }
  QString line_heading() const override { return QObject::tr("No."); }
  bool picked(std::size_t i) const override { return (*lines_)[i].picked; }
  void pick(std::size_t i, bool picked) override { (*lines_)[i].picked = picked; }
  QString what(std::size_t i) const override { return text_of(cutter(i).name); }
  QString change(std::size_t i) const override {
    return edit_.text(*before_, cutter(i), edit_.after(*before_, cutter(i), (*lines_)[i]), (*lines_)[i]);
  }
  QString counts_text(const int (&counts)[5]) const override {
    QStringList parts{QObject::tr("%1 would change").arg(counts[static_cast<int>(MergeState::changed)])};
    if (const int same = counts[static_cast<int>(MergeState::same)]) parts << QObject::tr("%1 unchanged").arg(same);
    if (const int faulty = counts[static_cast<int>(MergeState::faulty)])
      parts << QObject::tr("%1 cannot be changed").arg(faulty);
    return parts.join(QStringLiteral(" · ")) +
           QObject::tr(". Nothing changes until you apply it; ticked lines are applied as one step.");
  }
  QString take_text(int picked) const override {
    return picked == 1 ? QObject::tr("Change 1 cutter") : QObject::tr("Change %1 cutters").arg(picked);
  }
  void take() override {
    Change change = made(*before_, *lines_, edit_);
    before_.reset();  // while a copy is held, a change would copy the list
    workspace_.shop().apply(std::move(change));
  }
  std::function<Finish()> take_aside() override {
    if (lines_->size() < very_many_lines) return {};
    return [state = before_, lines = lines_, edit = edit_, shop = &workspace_.shop()]() mutable -> Finish {
      const auto read = std::make_shared<ReadChange>(made(*state, *lines, edit));
      state.reset();
      return [read, shop] { shop->apply(std::move(*read)); };
    };
  }

 private:
  const Cutter& cutter(std::size_t i) const { return before_->cutters[(*lines_)[i].cutter]; }
  static Change made(const ShopState& state, const std::vector<Line>& lines, const Edit& edit) {
    std::vector<const Line*> taken;
    for (const Line& l : lines)
      if (l.picked && l.state == MergeState::changed) taken.push_back(&l);
    std::vector<Change> each(taken.size());
    in_parts(taken.size(), 1000, [&](std::size_t first, std::size_t last) {
      for (std::size_t i = first; i < last; ++i) {
        const Cutter& before = state.cutters[taken[i]->cutter];
        each[i].edit(before, edit.after(state, before, *taken[i]));
      }
    });
    Change change;
    change.label = edit.label(static_cast<int>(taken.size()));
    change.objects.reserve(each.size());
    for (Change& one : each) std::move(one.objects.begin(), one.objects.end(), std::back_inserter(change.objects));
    return change;
  }
  Workspace& workspace_;
  std::shared_ptr<const ShopState> before_;
  std::shared_ptr<std::vector<Line>> lines_;
  Edit edit_;
};

}  // namespace

BulkChange::BulkChange(Workspace& workspace, QWidget* parent)
    : QWidget(parent),
      workspace_(workspace),
      what_(new QLabel),
      fault_(new QLabel),
      property_(new QPushButton),
      choice_(new QPushButton),
      value_(new QLineEdit),
      asked_(new QWidget),
      preview_(new ChangePreview(workspace)) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(6);
  what_->setFont(Look::get().text(14, true));
  column->addWidget(what_);
  auto* row = new QHBoxLayout(asked_);
  row->setContentsMargins(0, 0, 0, 0);
  property_->setObjectName(QStringLiteral("bulk_property"));
  choice_->setObjectName(QStringLiteral("bulk_choice"));
  value_->setObjectName(QStringLiteral("bulk_value"));
  value_->setFixedWidth(220);
  row->addWidget(property_);
  row->addWidget(new QLabel(QStringLiteral("→")));
  row->addWidget(value_);
  row->addWidget(choice_);
  row->addWidget(fault_, 1);
  row->addStretch(1);
  set_tone(fault_, Tone::error);
  column->addWidget(asked_);
  column->addWidget(preview_, 1);
  connect(property_, &QPushButton::clicked, this, &BulkChange::choose_property);
  connect(choice_, &QPushButton::clicked, this, &BulkChange::choose_value);
  connect(value_, &QLineEdit::textEdited, this, &BulkChange::set_text);
  connect(value_, &QLineEdit::returnPressed, preview_, &ChangePreview::start_taking);
  connect(preview_, &ChangePreview::done, this, &BulkChange::done);
  connect(preview_, &ChangePreview::said, this, &BulkChange::said);
}

void BulkChange::open(std::vector<Id> cutters) {
  cutters_ = std::move(cutters);
  what_->setText(tr("One property of %1 cutters").arg(cutters_.size()));
  asked_->show();
  text_.clear();
  value_->clear();
  show_changes();
  value_->setFocus();
}

void BulkChange::set_property(const std::string& key) {
  key_ = key;
  text_.clear();
  value_->clear();
  show_changes();
  if (!value_->isHidden()) return value_->setFocus();
  choice_->setFocus();
  choose_value();
}

void BulkChange::set_text(const QString& text) {
  text_ = text;
  if (value_->text() != text) value_->setText(text);
  show_changes();
}

void BulkChange::choose_text(const QString& text) {
  set_text(text);
  preview_->start_taking();
}

void BulkChange::choose_property() {
  if (!list_) list_ = new PickList(this);
  std::vector<PickItem> items;
  int current = 0;
  for (const Property<Cutter>& p : properties<Cutter>()) {
    if (p.key == "number" || p.quantity == Quantity::id)
      continue;  // numbers have a plan of their own, libraries are moved to
    if (p.key == key_) current = static_cast<int>(items.size());
    items.push_back(
        {label_text(p.label), label_text(p.symbol), [this, key = std::string(p.key)] { set_property(key); }});
  }
  list_->open(property_->mapToGlobal(QPoint(0, property_->height() + 2)), 300, std::move(items), current,
              tr("Property to change"));
}

void BulkChange::choose_value() {
  const Property<Cutter>& p = *find_property<Cutter>(key_);
  if (!list_) list_ = new PickList(this);
  std::vector<PickItem> items;
  if (p.quantity == Quantity::flag)
    for (const auto& [text, key] : {std::pair{tr("Yes"), QStringLiteral("yes")}, {tr("No"), QStringLiteral("no")}})
      items.push_back({text, {}, [this, k = key] { choose_text(k); }});
  for (const Choice& c : p.choices)
    items.push_back({label_text(c.label), {}, [this, k = text_of(c.key)] { choose_text(k); }});
  list_->open(choice_->mapToGlobal(QPoint(0, choice_->height() + 2)), 260, std::move(items), 0, label_text(p.label));
}

void BulkChange::show_changes() {
  const Property<Cutter>& p = *find_property<Cutter>(key_);
  const UnitSystem units = workspace_.units();
  const bool chosen = p.quantity == Quantity::choice || p.quantity == Quantity::flag;
  property_->setText(label_text(p.label) + QStringLiteral(" ▾"));
  choice_->setVisible(chosen);
  value_->setVisible(!chosen);
  value_->setPlaceholderText(p.quantity == Quantity::text
                                 ? tr("new text; leave empty to clear")
                                 : tr("new value, such as 12 or 7/16\"; leave empty to clear"));
  QString shown_choice = tr("choose");
  for (const Choice& c : p.choices)
    if (text_of(c.key) == text_) shown_choice = label_text(c.label);
  if (p.quantity == Quantity::flag && !text_.isEmpty())
    shown_choice = text_ == QLatin1String("yes") ? tr("Yes") : tr("No");
  choice_->setText(shown_choice + QStringLiteral(" ▾"));
  // What was typed, read once.
  Value value;
  fault_->clear();
  const std::string typed = text_.trimmed().toStdString();
  const bool is_ready = !(chosen && typed.empty());
  if (p.quantity == Quantity::text) value = typed;
  else if (!typed.empty() && is_ready) {
    Cutter probe;
    if (const auto wrong = read_cell(probe, p, typed, units, IdLookup())) fault_->setText(text_of(*wrong));
    value = p.get(probe);
  }
  const auto state = std::make_shared<const ShopState>(workspace_.state());
  const bool can_be = is_ready && fault_->text().isEmpty();
  std::vector<EditLines::Line> lines;
  lines.reserve(cutters_.size());
  for (const Id& id : cutters_) {
    const Cutter* c = state->cutters.find(id);
    if (!c) continue;
    const Value now = p.get(*c);
    const bool same =
        !can_be || same_value(now, value) ||
        (std::holds_alternative<std::monostate>(value) && same_value(now, p.get(edited(*c, p, value, typed, units))));
    lines.push_back({static_cast<std::size_t>(c - state->cutters.all().data()),
                     same ? MergeState::same : MergeState::changed, !same});
  }
  EditLines::Edit edit;
  edit.after = [&p, value, typed, units, can_be](const ShopState& shop, const Cutter& c, const EditLines::Line&) {
    if (!can_be) return c;
    Cutter after = edited(c, p, value, typed, units);
    follow_name(shop, c, after);
    after.guesses.erase(std::string(p.key));
    return after;
  };
  edit.text = [&p, units](const ShopState&, const Cutter& before, const Cutter& after, const EditLines::Line& line) {
    return line.state == MergeState::same
               ? cell_text(before, p, units)
               : property_change_text(label_text(p.label), p.get(before), p.get(after), p.quantity, p.choices, units);
  };
  edit.label = [label = label_text(p.label), said = chosen ? shown_choice : text_](int count) {
    return tr("%1 of %2 cutters → %3").arg(label).arg(count).arg(said.isEmpty() ? tr("nothing") : said);
  };
  preview_->show_lines(std::make_unique<EditLines>(workspace_, state, std::move(lines), std::move(edit)), {},
                       tr("Change"));
}

void BulkChange::open_numbers(std::vector<Id> ids) {
  cutters_ = std::move(ids);
  const auto held = std::make_shared<const ShopState>(workspace_.state());
  const ShopState& state = *held;
  std::vector<std::size_t> places;
  for (const Id& id : cutters_)
    if (const Cutter* c = state.cutters.find(id))
      places.push_back(static_cast<std::size_t>(c - state.cutters.all().data()));
  const NumberPlan plan =
      plan_numbers(state.cutters.all(), places, state.number_blocks.all(), materials_of_recipes(state));
  std::vector<EditLines::Line> lines;
  for (const Renumbering& step : plan.steps) lines.push_back({step.cutter, MergeState::changed, true, step.to});
  for (const std::size_t place : plan.full) lines.push_back({place, MergeState::faulty, false});
  EditLines::Edit edit;
  edit.after = [](const ShopState&, const Cutter& c, const EditLines::Line& line) {
    Cutter after = c;
    after.number = line.number;
    return after;
  };
  edit.text = [](const ShopState& shop, const Cutter& before, const Cutter& after, const EditLines::Line& line) {
    if (line.state == MergeState::faulty) return tr("Its number block is full");
    const QString why = breach_text(shop, before);
    return tr("Number %1 → %2").arg(before.number).arg(after.number) +
           (why.isEmpty() ? tr("; used twice") : QStringLiteral("; ") + why);
  };
  edit.label = [](int count) { return tr("%1 cutters renumbered").arg(count); };
  what_->setText(plan.steps.empty() && plan.full.empty() ? tr("All numbers already follow the number blocks")
                                                         : tr("New numbers for %1 cutters").arg(plan.steps.size()));
  asked_->hide();
  preview_->show_lines(std::make_unique<EditLines>(workspace_, held, std::move(lines), std::move(edit)), {},
                       tr("Renumbering"));
  preview_->table().setFocus();
}

}  // namespace pecorra

#include "moc_bulk_change.cpp"
