#include "app/retune/section_bench.h"

#include <QVBoxLayout>

#include "app/look/look.h"
#include "core/quantity/print.h"
#include "shop/edit.h"

namespace pecorra {

namespace {

QString why_text(const FoundCutter& found, int t) {
  switch (found.by) {
    case FoundBy::told: return QObject::tr("Assigned to T%1 in this program").arg(t);
    case FoundBy::remembered: return QObject::tr("Assigned to T%1 in a similar program").arg(t);
    case FoundBy::job: return QObject::tr("From the job operation that wrote this program");
    case FoundBy::order_code: return QObject::tr("The comment has its order code");
    case FoundBy::name: return QObject::tr("The comment has its name");
    case FoundBy::size:
      return found.guess ? QObject::tr("The comment has its size, as several cutters do; this is the first, a guess")
                         : QObject::tr("The comment has its size");
    case FoundBy::pocket: return QObject::tr("It is in pocket %1 of the machine").arg(t);
    case FoundBy::number:
      return QObject::tr("The only cutter numbered %1 in the libraries that are switched on; a guess").arg(t);
    case FoundBy::nothing: break;
  }
  return found.size_unknown
             ? QObject::tr("No cutter in the libraries that are switched on has the size in the comment. Pick one.")
             : QObject::tr("No comment, pocket or number identifies T%1. Pick a cutter.").arg(t);
}

}  // namespace

SectionBench::SectionBench(Workspace& workspace, QWidget* parent)
    : QWidget(parent),
      workspace_(workspace),
      head_(new BenchHead(QStringLiteral("section_title"))),
      why_(new QLabel),
      notes_(new QLabel),
      pick_(new QPushButton(tr("Pick a cutter"))),
      form_(new PropertyForm),
      whole_(new PropertyForm),
      conditions_(new ConditionsPanel),
      cutters_(new PickList(this)) {
  conditions_->only_show();
  auto* layout = bench_column(this);
  pick_->setObjectName(QStringLiteral("pick_section_cutter"));
  head_->add_button(pick_);
  layout->addWidget(head_);
  auto* inside = new QWidget;
  auto* column = new QVBoxLayout(inside);
  column->setContentsMargins(0, 0, 8, 0);
  column->setSpacing(6);
  why_->setWordWrap(true);
  why_->setFont(Look::get().text(12));
  why_->setObjectName(QStringLiteral("section_why"));
  column->addWidget(why_);
  notes_->setWordWrap(true);
  notes_->setFont(Look::get().text(12));
  notes_->setObjectName(QStringLiteral("section_notes"));
  set_tone(notes_, Tone::warning);
  column->addWidget(notes_);
  for (const char* key : {"operation", "ap_mm", "ae_mm", "skip"}) {
    const Property<ToolPairing>& property = *find_property<ToolPairing>(key);
    form_->add(form_field(property, property.quantity == Quantity::choice ? tr("the cutter's usual work") : QString()));
  }
  column->addWidget(form_);
  column->addWidget(conditions_);
  whole_head_ = section_heading(tr("The whole program"), 13);
  column->addWidget(whole_head_);
  for (const char* key : {"in_proportion", "arc_centres", "stock_top_mm"})
    whole_->add(form_field(*find_property<RetunedProgram>(key)));
  column->addWidget(whole_);
  column->addStretch(1);
  layout->addWidget(scrolled(inside), 1);
  connect(pick_, &QPushButton::clicked, this, &SectionBench::pick_cutter);
  connect(form_, &PropertyForm::accepted, this, &SectionBench::accept);
  connect(whole_, &PropertyForm::accepted, this, &SectionBench::accept_whole);
  connect(conditions_, &ConditionsPanel::source_clicked, this, &SectionBench::source_clicked);
}

const ProgramSection* SectionBench::section() const {
  if (!program_ || at_ < 0 || at_ >= static_cast<int>(program_->reading->sections.size())) return nullptr;
  return &program_->reading->sections[static_cast<std::size_t>(at_)];
}

const RetunedSection* SectionBench::planned() const {
  return section() ? &program_->sections[static_cast<std::size_t>(at_)] : nullptr;
}

void SectionBench::show_section(std::shared_ptr<const RetunedFile> program, int at) {
  program_ = std::move(program);
  at_ = at;
  const ProgramSection* s = section();
  const RetunedSection* plan = planned();
  pick_->setVisible(s);
  form_->setVisible(s);
  whole_->setVisible(s);
  whole_head_->setVisible(s);
  why_->setVisible(s);
  conditions_->setVisible(s);
  notes_->hide();
  if (!s)
    return head_->say({}, tr("No section"), tr("A section is everything one cutter does between two cutter changes."));
  const UnitSystem units = workspace_.units();
  const Cutter* cutter = plan->found.cutter.get();
  head_->say(
      QStringLiteral("T%1").arg(s->tool), cutter ? text_of(cutter->name) : tr("No cutter assigned"),
      plan->parts > 1
          ? tr("Section %1 of %2, lines %3 to %4").arg(plan->part).arg(plan->parts).arg(s->first + 1).arg(s->last + 1)
          : tr("Lines %1 to %2").arg(s->first + 1).arg(s->last + 1));
  pick_->setText(cutter ? tr("Another cutter") : tr("Pick a cutter"));
  QStringList why;
  if (plan->left_out) why << tr("Left out: S and F stay as they are");
  if (cutter || !plan->left_out) why << why_text(plan->found, s->tool);
  for (const Message& m : plan->messages)
    if (m.code.ends_with("_seen")) why << sentence(m, units);
  why_->setText(why.join(QLatin1Char('\n')));
  set_tone(why_, !cutter && !plan->left_out ? Tone::error : plan->found.guess ? Tone::warning : Tone::quiet);
  Context usual;
  usual.usual_work = true;
  std::vector<FieldChoice> operations{
      {QString(), cutter ? tr("usual: %1").arg(label_text(label_of(operation_for(usual, cutter->kind))))
                         : tr("the cutter's usual work")}};
  for (int i = 0; i < operation_count; ++i) {
    const auto kind = static_cast<OperationKind>(i);
    if (!cutter || can_do(cutter->kind, kind))
      operations.push_back({text_of(key_of(kind)), label_text(label_of(kind))});
  }
  form_->set_choices(QStringLiteral("operation"), operations);
  form_->set_units(units);
  form_->fill_from(stated_for(program_->program.tools, s->tool, plan->part));
  whole_->set_units(units);
  whole_->fill_from(program_->program);
  QStringList notes;
  for (const Message& m : plan->messages)
    if (m.code.starts_with("retune_") && !m.code.ends_with("_seen")) notes << sentence(m, units);
  QStringList dangers;
  for (const Message& m : plan->only_as_it_is()) dangers << sentence(m, units);
  if (!dangers.isEmpty())
    notes << tr("In the program now:") + QLatin1Char(' ') + dangers.join(QStringLiteral(". ")) + QLatin1Char('.');
  notes_->setText(notes.join(QLatin1Char('\n')));
  notes_->setVisible(!notes.isEmpty());
  conditions_->setVisible(cutter);
  if (!cutter) return;
  Context context;
  context.material = program_->program.material;
  context.machine = program_->program.machine;
  context.pace = program_->program.pace.value_or(100);
  context.operation = plan->operation;
  context.units = units;
  WhatIf cut;
  cut.ap_mm = plan->ap_mm, cut.ae_mm = plan->ae_mm;
  const Assembly* held = workspace_.state().assembly_of(cutter->id);  // as the list has it
  CutterCutQuestion question{*cutter, held, context, {}, cut, false};
  ShownConditions shown = present_cut(workspace_.state(), workspace_.shop().resolver(), question);
  // Of a program of this shop: what its operation runs at.
  if (plan->found.by == FoundBy::job) shown.trail = plan->trail;
  conditions_->show_conditions(shown, units);
}

void SectionBench::apply(const RetunedProgram& after, const QString& label) {
  const RetunedProgram* before = workspace_.state().programs.find(after.id);
  if (!before) return;
  Change change;
  change.label = label;
  change.edit(*before, after);
  if (!change.empty()) workspace_.shop().apply(std::move(change));
}

void SectionBench::accept(const QString& key, const Value& value, const QString& typed) {
  const ProgramSection* s = section();
  const RetunedProgram* program = s ? workspace_.state().programs.find(program_->program.id) : nullptr;
  if (!program) return;
  RetunedProgram after = *program;
  ToolPairing& pairing = after.pairing_for_section(s->tool, planned()->part, planned()->parts);
  const Property<ToolPairing>& property = *find_property<ToolPairing>(key.toStdString());
  const ToolPairing before = pairing;
  pairing = edited(pairing, property, value, typed.toStdString(), workspace_.units());
  apply(after, QStringLiteral("T%1: %2").arg(s->tool).arg(edit_label(before, pairing, property, workspace_.units())));
}

void SectionBench::accept_whole(const QString& key, const Value& value, const QString& typed) {
  const RetunedProgram* before = program_ ? workspace_.state().programs.find(program_->program.id) : nullptr;
  if (!before) return;
  const Property<RetunedProgram>& property = *find_property<RetunedProgram>(key.toStdString());
  const RetunedProgram after = edited(*before, property, value, typed.toStdString(), workspace_.units());
  apply(after,
        QStringLiteral("%1: %2").arg(text_of(after.name), edit_label(*before, after, property, workspace_.units())));
}

void SectionBench::set_cutter(const Id& id) {
  const ProgramSection* s = section();
  const RetunedProgram* program = s ? workspace_.state().programs.find(program_->program.id) : nullptr;
  if (!program) return;
  RetunedProgram after = *program;
  after.pairing_for(s->tool).cutter = id;
  after.pairing_for(s->tool).remembered = false;
  const Cutter* cutter = workspace_.state().cutters.find(id);
  apply(after, cutter ? tr("T%1 is %2").arg(s->tool).arg(text_of(cutter->name))
                      : tr("T%1: cutter chosen automatically").arg(s->tool));
}

void SectionBench::pick_cutter() {
  if (!section()) return;
  const ToolPairing* told = program_->program.pairing(section()->tool);
  const Cutter* now = planned()->found.cutter.get();
  std::vector<PickItem> items;
  int current = 0;
  if (told && !told->cutter.is_null())
    items.push_back({tr("Automatic"), tr("by comment, pocket or number"), [this] { set_cutter({}); }});
  const ShopState& state = workspace_.state();
  for (const Cutter& c : state.cutters) {
    const Library* library = state.libraries.find(c.library);
    if (c.retired || !c.diameter_mm || (library && !library->switched_on)) continue;
    if (now && now->id == c.id) current = static_cast<int>(items.size());
    items.push_back({QStringLiteral("%1 %2").arg(c.number).arg(text_of(c.name)),
                     library ? text_of(library->name) : QString(), [this, id = c.id] { set_cutter(id); }});
  }
  cutters_->open(pick_->mapToGlobal(QPoint(pick_->width() - 380, pick_->height() + 2)), 380, std::move(items), current,
                 tr("Cutter: number or name"));
}

}  // namespace pecorra

#include "moc_section_bench.cpp"
