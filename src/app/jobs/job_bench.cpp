#include "app/jobs/job_bench.h"

#include <QHBoxLayout>
#include <QVBoxLayout>
#include <algorithm>

#include "app/cutters/cutter_bench.h"
#include "app/look/look.h"
#include "app/widgets/wrapped_label.h"
#include "shop/cutter_edit.h"
#include "shop/cutter_match.h"
#include "shop/edit.h"
#include "shop/operation_edit.h"

namespace pecorra {
namespace {

constexpr const char* own_keys[] = {"own_n_rpm", "own_vf_mm_min", "own_ap_mm", "own_ae_mm"};

QWidget* page_of(std::initializer_list<QWidget*> widgets) {
  auto* page = new QWidget;
  auto* column = new QVBoxLayout(page);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(4);
  for (QWidget* w : widgets) column->addWidget(w);
  column->addStretch(1);
  return scrolled(page);
}

}  // namespace

JobBench::JobBench(Workspace& workspace, QWidget* parent)
    : LazyWidget(parent),
      workspace_(workspace),
      head_(new BenchHead(QStringLiteral("operation_title"))),
      follows_(new WrappedLabel),
      drawing_text_(new WrappedLabel),
      lacks_(new WrappedLabel),
      faults_(new WrappedLabel),
      pick_(new QPushButton(tr("Pick a cutter"))),
      own_(new QPushButton),
      read_drawing_(new QPushButton(tr("Replace drawing"))),
      drawing_(new CutterDrawing),
      sides_(new SwitchRow({tr("Conditions"), tr("Operation"), tr("Job")})),
      stack_(new QStackedWidget),
      own_form_(new PropertyForm),
      form_(new PropertyForm),
      job_form_(new PropertyForm),
      for_cutter_(new QCheckBox),
      conditions_(new ConditionsPanel),
      cutters_(new PickList(this)) {
  auto* layout = bench_column(this);
  set_tone(drawing_text_, Tone::quiet);
  pick_->setObjectName(QStringLiteral("pick_cutter"));
  own_->setObjectName(QStringLiteral("own_values"));
  own_->setFlat(true);
  own_->setCursor(Qt::PointingHandCursor);
  head_->add_button(pick_);
  layout->addWidget(head_);
  layout->addWidget(drawing_);
  sides_->setObjectName(QStringLiteral("job_sides"));
  layout->addWidget(sides_);

  auto* follow_line = new QWidget;
  auto* follow_layout = new QHBoxLayout(follow_line);
  follow_layout->setContentsMargins(0, 4, 8, 0);
  follows_->setFont(Look::get().text(12));
  follows_->setObjectName(QStringLiteral("follows"));
  follow_layout->addWidget(follows_, 1);
  follow_layout->addWidget(own_);
  for (const char* key : own_keys) own_form_->add(form_field(*find_property<Operation>(key)));
  for (const Property<JobHead>& property : properties<JobHead>())
    if (property.quantity != Quantity::id && property.key != "pace") job_form_->add(form_field(property));
  for_cutter_->setObjectName(QStringLiteral("for_cutter"));
  read_drawing_->setObjectName(QStringLiteral("read_drawing"));
  faults_->setObjectName(QStringLiteral("faults"));
  faults_->setWordWrap(true);
  faults_->setContentsMargins(12, 4, 12, 4);
  faults_->setFont(Look::get().text(12));
  faults_->setTextInteractionFlags(Qt::LinksAccessibleByMouse | Qt::LinksAccessibleByKeyboard);
  faults_->setVisible(false);
  layout->addWidget(faults_);
  connect(faults_, &QLabel::linkActivated, this, &JobBench::mend);
  stack_->addWidget(page_of({follow_line, own_form_, for_cutter_, conditions_}));
  stack_->addWidget(page_of({form_}));
  lacks_->setObjectName(QStringLiteral("lacks"));
  stack_->addWidget(page_of({job_form_, drawing_text_, read_drawing_, section_heading(tr("Missing items")), lacks_}));
  layout->addWidget(stack_, 1);

  connect(sides_, &SwitchRow::chosen, stack_, &QStackedWidget::setCurrentIndex);
  connect(pick_, &QPushButton::clicked, this, &JobBench::pick_cutter);
  connect(own_, &QPushButton::clicked, this, &JobBench::toggle_own);
  connect(read_drawing_, &QPushButton::clicked, this, &JobBench::drawing_wanted);
  connect(conditions_, &ConditionsPanel::source_clicked, this, &JobBench::source_clicked);
  connect(conditions_, &ConditionsPanel::what_if_wanted, this, &JobBench::what_if_wanted);
  connect(conditions_, &ConditionsPanel::usual_wanted, this, [this] { workspace_.try_what_if({}); });
  connect(conditions_, &ConditionsPanel::change_wanted, this, [this](const Suggestion& change) {
    // Alone it is applied at once; with other trial values it is tried along with them.
    const bool beside = workspace_.what_if().any();
    try_one(change.property, change.value);
    if (!beside) take_tried();
  });
  connect(conditions_, &ConditionsPanel::cutter_wanted, this, &JobBench::set_cutter);
  drawing_->set_draggable({QStringLiteral("ap_mm"), QStringLiteral("ae_mm"), QStringLiteral("stickout_mm")});
  connect(drawing_, &CutterDrawing::dimension_dragged, this, [this](const QString& key, double value, bool done) {
    try_one(key.toStdString(), value);
    if (done) take_tried();
  });
  connect(drawing_, &CutterDrawing::drag_left, this, [this] { workspace_.try_what_if({}); });
  connect(&workspace_, &Workspace::what_if_changed, this, [this] {
    if (isVisible()) refresh_cut();
  });
  connect(own_form_, &PropertyForm::accepted, this, &JobBench::accept_own);
  connect(for_cutter_, &QCheckBox::clicked, this, &JobBench::toggle_for_cutter);
  connect(form_, &PropertyForm::accepted, this, &JobBench::accept_operation);
  connect(job_form_, &PropertyForm::accepted, this, &JobBench::accept_job);
  connect(&workspace_, &Workspace::job_changed, this, &JobBench::update_when_seen);
  connect(&workspace_, &Workspace::data_changed, this, [this] {
    lacks_of_.reset();
    update_when_seen();
  });
  connect(&workspace_, &Workspace::context_changed, this, &JobBench::update_when_seen);
}

const Operation* JobBench::selected(const Job& job) const {
  const int i = workspace_.operation_index();
  return i >= 0 && i < static_cast<int>(job.operations.size()) ? &job.operations[static_cast<std::size_t>(i)] : nullptr;
}

void JobBench::show_side(Side side) {
  stack_->setCurrentIndex(side);
  sides_->set_current(side);
}

void JobBench::show_job_only(bool only) {
  if (only == job_only_) return;
  job_only_ = only;
  if (!only) show_side(conditions_side);
  update_when_seen();
}

void JobBench::show_plan(const JobPlan& plan) {
  const bool corners = plan.facts() != plan_.facts();
  plan_ = plan;
  if (corners && isVisible()) refresh_cut();
  refresh_messages();
}

void JobBench::say_lacks() {
  QStringList lines;
  for (const Lack& lack : lacks_of(workspace_.state(), *workspace_.job()))
    lines << (lack.order_code.isEmpty() ? tr("%1: %2").arg(lack.what, lack.why)
                                        : tr("%1: %2. Order %3").arg(lack.what, lack.why, lack.order_code));
  lacks_->setText(lines.isEmpty() ? tr("Nothing is missing: cutters, inserts, holders and collets are in stock.")
                                  : lines.join(QLatin1Char('\n')));
  set_tone(lacks_, lines.isEmpty() ? Tone::quiet : Tone::error);
}

void JobBench::refresh() {
  const auto shown_job = workspace_.shown_job();
  const UnitSystem units = workspace_.units();
  const Operation* o = shown_job && !job_only_ ? selected(*shown_job) : nullptr;
  for (QWidget* w : {static_cast<QWidget*>(sides_), static_cast<QWidget*>(stack_)}) w->setVisible(shown_job != nullptr);
  if (shown_job) {
    job_form_->set_units(units);
    job_form_->fill_from(workspace_.job()->head());
    if (lacks_of_ != workspace_.kept_job()) {
      lacks_of_ = workspace_.kept_job();
      say_lacks();
    }
    const Drawing& d = shown_job->drawing();
    drawing_text_->setText(tr("Drawing %1: %2 lines, %3 circles.")
                               .arg(d.source.empty() ? tr("none") : text_of(d.source))
                               .arg(d.lines.size() - d.circles())
                               .arg(d.circles()));
  }
  pick_->setVisible(o != nullptr);
  drawing_->setVisible(!job_only_);
  sides_->setVisible(shown_job && !job_only_);
  if (job_only_ && shown_job) {
    const auto count = static_cast<int>(shown_job->operations.size());
    head_->say({}, text_of(shown_job->name), count == 1 ? tr("One operation") : tr("%1 operations").arg(count));
    return show_side(job_side);
  }
  if (!o) {
    head_->say({}, shown_job ? tr("No operation yet") : tr("No job"),
               shown_job ? tr("“New operation” adds one for the features of the job.")
                         : tr("“New job” starts from a drawing, or without one."));
    drawing_->show_cutter(nullptr, nullptr, std::nullopt, {}, units);
    own_->hide();
    own_form_->hide();
    for_cutter_->hide();
    follows_->clear();
    refresh_cut();
    form_->setVisible(false);
    if (shown_job) show_side(job_side);
    return;
  }
  const bool has_cutter = !o->cutter.id.is_null();
  pick_->setText(has_cutter ? tr("Another cutter") : tr("Pick a cutter"));
  QString about = tr("No cutter picked yet.");
  if (has_cutter) {
    const int t = workspace_.tools().of[static_cast<std::size_t>(workspace_.operation_index())].t;
    about = QStringLiteral("T%1 %2 · ").arg(t).arg(text_of(o->cutter.name)) +
            cutter_subtitle(workspace_.state(), o->cutter, workspace_.units());
  }
  const int several = static_cast<int>(workspace_.operations().size());
  if (several > 1)
    head_->say(QString::number(several), tr("operations"),
               tr("What you type applies to every one that has the field. Shown: %1 %2")
                   .arg(workspace_.operation_index() + 1)
                   .arg(text_of(o->name)));
  else
    head_->say(QString::number(workspace_.operation_index() + 1),
               label_text(o->name.empty() ? std::string(label_of(o->path)) : o->name), about);
  const bool own = o->has_own_speed(), for_cutter = o->taken.source == SourceKind::own_for_cutter;
  own_->setVisible(has_cutter && (own || o->taken.n_rpm));
  own_->setEnabled(!workspace_.is_trying());  // and not hidden: nothing moves for a trial
  own_->setText(own || for_cutter ? tr("Follow table") : tr("Make own values"));
  own_->setToolTip(own || for_cutter ? tr("Follows the tables again (Ctrl+L)")
                                     : tr("Unlocks speed, feed, depth and width for this operation alone (Ctrl+L)"));
  follows_->setText(
      o->taken.source == SourceKind::none ? tr("Follows no source yet")
      : own                               ? tr("Own values, typed here")
      : for_cutter
          ? tr("Own values, typed for this cutter in the job")
          : tr("Follows the %1 “%2”").arg(label_text(label_of(o->taken.source)), text_of(o->taken.source_text)));
  const CutterValues typed = values_for(*shown_job, o->cutter.id);
  own_form_->setVisible(own || !typed.empty() || (has_cutter && o->taken.source == SourceKind::none));
  own_form_->set_units(units);
  own_form_->fill_from(*o);
  for (const Property<CutterValues>& p : properties<CutterValues>())
    if (p.key != "cutter" && !find_property<Operation>("own_" + std::string(p.key))->get_number(*o))
      own_form_->fill(QStringLiteral("own_") + text_of(p.key), p.get(typed));
  for_cutter_->setVisible(own_form_->isVisibleTo(this) && has_cutter && (has_company(*shown_job, *o) || for_cutter));
  for_cutter_->setText(tr("For every operation with this cutter"));
  for_cutter_->setChecked(!typed.empty());

  refresh_cut();

  form_->setVisible(true);
  if (built_for_ != o->path) build_form(*o);
  const Operation* kept = selected(*workspace_.job());
  show_values(kept ? *kept : *o);
  refresh_messages();
}

void JobBench::refresh_cut() {
  const auto shown_job = workspace_.shown_job();
  const Operation* o = shown_job ? selected(*shown_job) : nullptr;
  const ShopState& state = workspace_.state();
  const UnitSystem units = workspace_.units();
  shown_ = {};
  if (!o) {
    shown_.why_not = tr("No operation selected.");
    conditions_->show_conditions(shown_, units);
    emit cut_changed();
    return;
  }
  const auto at = static_cast<std::size_t>(workspace_.operation_index());
  const PathFacts path = at < plan_.operations.size() ? plan_.operations[at]->facts() : PathFacts{};
  shown_ = present_cut(state, *shown_job, *o, path, workspace_.what_if(), units);
  if (at < plan_.operations.size())
    for (TrailStep& step : plan_.operations[at]->trail()) shown_.trail.push_back(std::move(step));
  conditions_->show_conditions(shown_, units);
  const HeldCutter held = held_for(state, *o, workspace_.what_if());
  const std::optional<double> ap = shown_.cut ? shown_.cut->cut.ap_mm : o->taken.ap_mm,
                              ae = shown_.cut ? shown_.cut->cut.ae_mm : o->taken.ae_mm;
  drawing_->show_cutter(o->cutter.id.is_null() ? nullptr : &o->cutter, state.holders.find(held.assembly.holder),
                        stickout_of(held.assembly), drawn_cut(o->operation, ap, ae), units);
  emit cut_changed();
}

void JobBench::try_one(std::string_view property, double value) {
  workspace_.try_what_if(tried_with(workspace_.what_if(), shown_.cut, property, value));
}

void JobBench::take_tried() {
  const WhatIf tried = workspace_.what_if();
  if (!tried.any() || !shown_.cut) return;
  if (workspace_.is_trying()) return emit said(tr("Accept or discard the trial material or machine first."), true);
  const CutResults results = shown_.cut->report.results;
  workspace_.try_what_if({});
  const Job* kept = workspace_.job();
  const Operation* o = kept ? selected(*kept) : nullptr;
  if (!o) return;
  workspace_.shop().apply(with_tried(workspace_.state(), workspace_.shop().resolver(), *kept,
                                     workspace_.operation_index(), tried, results));
}

void JobBench::take_first_change() {
  if (!conditions_->take_first_change()) emit said(tr("No limit is close here."), false);
}

// The rapid that is used, and whose it is.
std::vector<Message> JobBench::job_messages() const {
  const auto job = workspace_.shown_job();
  const Machine* machine = job ? workspace_.state().machines.find(job->machine) : nullptr;
  if (!machine || !machine->rapid_mm_min) return {};
  return {{Severity::note,
           job->rapid_mm_min ? "rapid_instead" : "rapid_of_machine",
           "rapid_mm_min",
           {{"machine", machine->name}, {"rapid_mm_min", *machine->rapid_mm_min}}}};
}

void JobBench::refresh_messages() {
  job_form_->show_messages(job_messages());
  const auto i = static_cast<std::size_t>(workspace_.operation_index());
  std::vector<Message> messages = i < plan_.faults.size() ? plan_.faults[i] : std::vector<Message>{};
  say_faults(messages);
  form_->show_messages(messages);
  own_form_->show_messages(std::move(messages));
}

void JobBench::set_cutter(const Id& id) {
  const Job* kept = workspace_.job();
  const Cutter* cutter = workspace_.state().cutters.find(id);
  if (!kept || !selected(*kept)) return;
  for (const Operation& o : kept->operations)
    if (!cutter && o.generic_cutter && o.cutter.id == id) cutter = &o.cutter;
  if (!cutter) return;
  workspace_.shop().apply(
      with_cutter(workspace_.state(), workspace_.shop().resolver(), *kept, workspace_.operations(), *cutter));
}

void JobBench::put_into_library(const Id& library) {
  const Job* kept = workspace_.job();
  if (!kept || !selected(*kept)) return;
  workspace_.shop().apply(generic_put_into_library(workspace_.state(), workspace_.shop().resolver(), *kept,
                                                   workspace_.operation_index(), library));
}

void JobBench::accept_job(const QString& key, const Value& value, const QString& typed) {
  const Job* kept = workspace_.job();
  if (!kept) return;
  Change change =
      edited_job(*kept, *find_property<JobHead>(key.toStdString()), value, typed.toStdString(), workspace_.units());
  if (change.empty()) return refresh();
  workspace_.shop().apply(std::move(change));
}

void JobBench::toggle_own() {
  const Job* kept = workspace_.job();
  if (!kept || !selected(*kept)) return;
  Change change = toggled_own(workspace_.state(), workspace_.shop().resolver(), *kept, workspace_.operations());
  if (change.empty()) return;
  workspace_.shop().apply(std::move(change));
  show_side(conditions_side);
}

void JobBench::pick_cutter() {
  const Job* kept = workspace_.job();
  const Operation* o = kept ? selected(*kept) : nullptr;
  if (!o) return;
  const UnitSystem units = workspace_.units();
  std::vector<PickItem> items;
  int current = 0;
  if (o->generic_cutter)
    for (const Library& library : workspace_.state().libraries)
      items.push_back({tr("Add to library “%1”").arg(text_of(library.name)), tr("no longer generic"),
                       [this, id = library.id] { put_into_library(id); }});
  constexpr std::size_t most = 200;
  CutterSearch search(workspace_.state(), workspace_.shop().resolver(), *kept, *o);
  const auto best = search.best();
  for (const CutterOption& option : search.first(most)) {
    if (option.cutter->id == o->cutter.id) current = static_cast<int>(items.size());
    const Conditions& c = option.resolution.conditions;
    QString detail = option.resolution.found() ? QStringLiteral("S %1  F %2")
                                                     .arg(text_of(shown(c.n_rpm, Quantity::spindle_speed, units)),
                                                          text_of(shown(c.vf_mm_min, Quantity::table_feed, units)))
                                               : reason_text(option.resolution.reason, option.cutter->kind);
    if (!option.fits()) detail = sentence(option.misfits.front(), units);
    else if (option.generic) detail = tr("generic, of this job");
    if (option.taken() && best)
      detail = (option.cutter == best->cutter ? tr("best match")
                                              : sentence(reason_against(option, *best, search.wanted()), units)) +
               QStringLiteral(" · ") + detail;
    // Numbers stand under each other.
    constexpr QChar figure_space(0x2007);
    items.push_back(
        {QStringLiteral("%1  %2").arg(option.cutter->number, 4, 10, figure_space).arg(text_of(option.cutter->name)),
         detail, [this, id = option.cutter->id] { set_cutter(id); }});
  }
  cutters_->open(pick_->mapToGlobal(QPoint(pick_->width() - 640, pick_->height() + 2)), 640, std::move(items), current,
                 tr("Cutters for %1").arg(label_text(label_of(o->operation))));
}

}  // namespace pecorra

#include "moc_job_bench.cpp"
