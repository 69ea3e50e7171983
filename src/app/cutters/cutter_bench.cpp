#include "app/cutters/cutter_bench.h"

#include <QFileInfo>
#include <QHBoxLayout>
#include <QPushButton>
#include <QVBoxLayout>
#include <algorithm>
#include <cmath>

#include "app/look/look.h"
#include "app/widgets/pick_list.h"
#include "core/cutter/form_profile.h"
#include "core/cutter/kinds/threads.h"
#include "shop/drawing_file.h"
#include "shop/recipe_edit.h"
#include "shop/task.h"
#include "shop/words.h"

namespace pecorra {

QString cutter_subtitle(const ShopState& state, const Cutter& cutter, UnitSystem units) {
  QStringList what;
  for (const std::string& part : {cutter.maker + (cutter.series.empty() ? "" : " " + cutter.series), cutter.order_code})
    if (!part.empty()) what << text_of(part);
  if (cutter.tool_material)
    what << (cutter.own_material.empty() ? label_text(label_of(*cutter.tool_material)) : text_of(cutter.own_material)) +
                (cutter.coating.empty() ? QString() : QStringLiteral(", ") + text_of(cutter.coating));
  if (cutter.quality) what << QObject::tr("%1 quality").arg(label_text(label_of(*cutter.quality)).toLower());
  if (cutter.edge_direction) what << label_text(label_of(*cutter.edge_direction)).toLower();
  if (cutter.rotation == Rotation::counter_clockwise) what << QObject::tr("counter-clockwise (M4)");
  if (const Insert* insert = state.inserts.find(cutter.insert))
    what << text_of(insert->name + (insert->grade.empty() ? "" : " " + insert->grade));
  const Assembly* assembly = state.assembly_of(cutter.id);
  if (const Holder* holder = assembly ? state.holders.find(assembly->holder) : nullptr) what << text_of(holder->name);
  if (const auto drill = tapping_drill_mm(cutter))
    what << QObject::tr("pre-drill %1").arg(quantity_text(*drill, Quantity::length, units));
  if (!cutter.guesses.empty()) what << QObject::tr("sizes guessed");
  if (cutter.unit == UnitSystem::inch) what << QObject::tr("bought in inches");
  return what.join(QStringLiteral(" · "));
}

// What is wrong with the sizes, else with how the cutter is held; empty: nothing.
QString bench_fault(const ShopState& state, const Cutter& cutter, const Assembly* assembly) {
  for (const Message& m : check_cutter(cutter))
    if (m.severity == Severity::error) return QObject::tr("Draft: %1").arg(sentence(m, cutter.unit));
  if (!assembly) return {};
  for (const Message& m :
       check_assembly(cutter, state.holders.find(assembly->holder), *assembly, state.collets.find(assembly->collet)))
    if (m.severity != Severity::note && m.code != "stickout_missing") return sentence(m, cutter.unit);
  return {};
}

DrawnCut drawn_cut(OperationKind operation, const std::optional<double>& ap_mm, const std::optional<double>& ae_mm) {
  DrawnCut cut;
  cut.ap_mm = ap_mm;
  cut.ae_mm = ae_mm;
  cut.both_sides = operation == OperationKind::slot;
  cut.hole = process_of(operation) != Process::milling;
  return cut;
}

CutterBench::CutterBench(Workspace& workspace, QWidget* parent)
    : LazyWidget(parent),
      workspace_(workspace),
      head_(new BenchHead(QStringLiteral("bench_title"))),
      drawing_(new CutterDrawing),
      stack_(new QStackedWidget),
      sides_(new SwitchRow({tr("Conditions"), tr("Sizes"), tr("Assembly"), tr("History")})),
      conditions_(new ConditionsPanel),
      form_(new CutterForm(workspace)),
      assembly_(new AssemblyPanel(workspace)),
      ghost_(new QPushButton(tr("Ghost"))),
      save_(new QPushButton(tr("Save"))) {
  auto* layout = bench_column(this);
  layout->addWidget(head_);
  layout->addWidget(drawing_);
  auto* row = new QHBoxLayout;
  row->setSpacing(0);
  row->addWidget(sides_);
  row->addStretch(1);
  for (QPushButton* button : {ghost_, save_}) {
    button->setFlat(true);
    head_->add_button(button);
  }
  ghost_->setObjectName(QStringLiteral("ghost"));
  ghost_->setToolTip(tr("Another cutter drawn behind this one, to compare"));
  save_->setToolTip(tr("The drawing as SVG, DXF or PDF"));
  layout->addLayout(row);
  connect(ghost_, &QPushButton::clicked, this, &CutterBench::choose_ghost);
  connect(save_, &QPushButton::clicked, this, &CutterBench::save_wanted);
  sides_->setObjectName(QStringLiteral("bench_sides"));

  auto* form_page = new QWidget;
  auto* form_column = new QVBoxLayout(form_page);
  form_column->setContentsMargins(0, 0, 0, 0);
  form_column->addWidget(form_);
  form_column->addStretch(1);
  stack_->addWidget(scrolled(conditions_));
  stack_->addWidget(scrolled(form_page));
  stack_->addWidget(scrolled(assembly_));
  layout->addWidget(stack_, 1);

  connect(sides_, &SwitchRow::chosen, this, [this](int side) { show_side(static_cast<Side>(side)); });
  connect(conditions_, &ConditionsPanel::source_clicked, this, &CutterBench::source_clicked);
  connect(conditions_, &ConditionsPanel::offer_taken, this, [this] {
    const Cutter* cutter = workspace_.cutter();
    const WorkMaterial* material = workspace_.material();
    const auto e = cutter ? workspace_.evaluation_of(*cutter, assembly_->assembly()) : std::nullopt;
    if (!e || !material) return;
    const Cutter set = assembly_->assembly() ? as_set(*cutter, *assembly_->assembly()) : *cutter;
    RowChange made = row_into_shop(workspace_.state(),
                                   row_from(workspace_.state(), set, *material,
                                            context_for(workspace_.context(), set.kind).operation, e->resolution),
                                   tr("Row for %1").arg(text_of(cutter->name)));
    workspace_.shop().apply(std::move(made.change));
    emit source_clicked(made.target);
  });
  connect(conditions_, &ConditionsPanel::second_offer_taken, this, &CutterBench::keep_recipe);
  connect(conditions_, &ConditionsPanel::follow_chosen, this, [this](int i) {
    if (i < 0 || i >= static_cast<int>(followed_.size())) return;
    follow_ = followed_[static_cast<std::size_t>(i)];
    refresh();
  });
  connect(drawing_, &CutterDrawing::dimension_clicked, this, [this](const QString& key) {
    if (key == QLatin1String("wall_height_mm") || find_property<Assembly>(key.toStdString())) {
      show_side(assembly);
      assembly_->focus_field(key);
    } else if (find_property<Cutter>(key.toStdString())) {
      show_side(sizes);
      form_->focus_field(key);
    } else {
      show_side(conditions);
    }
  });
  connect(drawing_, &CutterDrawing::dimension_dragged, this, [this](const QString& key, double value, bool done) {
    // A set diameter is what is drawn.
    const bool set =
        key == QLatin1String("diameter_mm") && assembly_->assembly() && assembly_->assembly()->set_diameter_mm;
    if (key == QLatin1String("wall_height_mm")) assembly_->drag_wall(value);
    else if (key == QLatin1String("ap_mm") || key == QLatin1String("ae_mm")) drag_cut(key, value, done);
    else if (set || key == QLatin1String("stickout_mm"))
      assembly_->drag(set ? QStringLiteral("set_diameter_mm") : key, value, done);
    else form_->drag(key, value, done);
  });
  connect(drawing_, &CutterDrawing::drag_left, this, &CutterBench::refresh);
  connect(assembly_, &AssemblyPanel::shown_changed, this, &CutterBench::refresh);
  connect(form_, &CutterForm::field_focused, drawing_, &CutterDrawing::set_lit);
  connect(assembly_, &AssemblyPanel::field_focused, drawing_, &CutterDrawing::set_lit);
  connect(form_, &CutterForm::previewed, this,
          [this](const Cutter& cutter) { draw(cutter, assembly_->assembly(), {}); });
  connect(assembly_, &AssemblyPanel::previewed, this, [this](const Assembly& tried) {
    if (const Cutter* cutter = workspace_.cutter()) draw(*cutter, &tried, {});
  });
  connect(conditions_, &ConditionsPanel::what_if_wanted, this, &CutterBench::what_if_wanted);
  connect(conditions_, &ConditionsPanel::usual_wanted, this, [this] { workspace_.try_what_if({}); });
  connect(conditions_, &ConditionsPanel::cutter_wanted, this, [this](const Id& id) { workspace_.select_cutter(id); });
  connect(conditions_, &ConditionsPanel::change_wanted, this, [this](const Suggestion& change) {
    WhatIf tried = workspace_.what_if();
    find_property<WhatIf>(change.property)->set(tried, change.value);
    workspace_.try_what_if(tried);
  });
  connect(&workspace_, &Workspace::what_if_changed, this, [this] {
    if (isVisible()) refresh_cut();
    else update_when_seen();
  });
  connect(&workspace_, &Workspace::selection_changed, this, &CutterBench::update_when_seen);
  connect(&workspace_, &Workspace::context_changed, this, &CutterBench::update_when_seen);
  connect(&workspace_, &Workspace::data_changed, this, &CutterBench::update_when_seen);
}

void CutterBench::show_side(Side side) {
  if (side == sizes) form_->prepare();
  if (side == assembly) assembly_->prepare();
  if (side == history) history_panel();
  stack_->setCurrentIndex(side);
  sides_->set_current(side);
  refresh();
}

void CutterBench::keep_recipe() {
  const Cutter* cutter = workspace_.cutter();
  const WorkMaterial* material = workspace_.material();
  const auto e =
      cutter ? workspace_.evaluation_of(*cutter, assembly_->assembly(), follow_, workspace_.what_if()) : std::nullopt;
  if (!e || !material || !e->cut.results.n_rpm)
    return emit said(tr("Nothing to save: this cutter has no speed and feed here."), true);
  const Cutter set = assembly_->assembly() ? as_set(*cutter, *assembly_->assembly()) : *cutter;
  RecipeChange made = keep_as_recipe(workspace_.state(), set, *material,
                                     context_for(workspace_.context(), set.kind).operation, *e, workspace_.what_if());
  workspace_.try_what_if({});
  workspace_.shop().apply(std::move(made.change));
  emit source_clicked({Id{}, made.recipe});
}

HistoryPanel& CutterBench::history_panel() {
  if (!history_) {
    history_ = new HistoryPanel(workspace_);
    stack_->addWidget(history_);
    connect(history_, &HistoryPanel::said, this, &CutterBench::said);
    connect(history_, &HistoryPanel::job_wanted, this, &CutterBench::job_wanted);
    history_->show_cutter(workspace_.cutter_id());
  }
  return *history_;
}

void CutterBench::choose_ghost() {
  if (drawing_->has_ghost()) {
    show_ghost({});
    return;
  }
  if (!ghosts_) ghosts_ = new PickList(this);
  std::vector<PickItem> items;
  items.push_back(
      {tr("An outline from DXF or SVG …"), tr("the maker's, or measured"), [this] { emit ghost_outline_wanted(); }});
  for (const Cutter& c : workspace_.state().cutters) {
    if (c.id == workspace_.cutter_id()) continue;
    items.push_back({text_of(c.name), label_text(label_of(c.kind)), [this, id = c.id] {
                       if (const Cutter* other = workspace_.state().cutters.find(id)) show_ghost(silhouette(*other));
                     }});
  }
  ghosts_->open(ghost_->mapToGlobal(QPoint(ghost_->width() - 340, ghost_->height() + 2)), 340, std::move(items), 0,
                tr("Cutter to compare with"));
}

void CutterBench::show_ghost(Profile outline) {
  drawing_->set_ghost(std::move(outline));
  ghost_->setText(drawing_->has_ghost() ? tr("No ghost") : tr("Ghost"));
}

void CutterBench::read_ghost(const QString& file) {
  // A file that names no unit is taken to be in the cutter's.
  const double unstated = workspace_.cutter() && workspace_.cutter()->unit == UnitSystem::inch ? mm_per_inch : 1;
  workspace_.tasks().run(
      this, tr("Reading %1").arg(QFileInfo(file).fileName()),
      [file, unstated](Task&) { return read_drawing_file(file, unstated); },
      [this, file](const DrawingRead& read) {
        if (!read.fault.isEmpty()) return emit said(read.fault, true);
        const Contour* longest = longest_line(read.drawing);
        Profile outline = longest ? profile_of_outline(outline_from(longest->vertices, longest->closed)) : Profile{};
        if (outline.empty())
          return emit said(
              tr("%1 has no line beside the axis, x = 0, that could be an outline.").arg(QFileInfo(file).fileName()),
              true);
        show_ghost(std::move(outline));
        emit said(tr("Behind the cutter: %1, %2").arg(QFileInfo(file).fileName(), read.note), false);
      });
}

void CutterBench::draw(const Cutter& cutter, const Assembly* held, const DrawnCut& cut) {
  const Holder* holder = held ? workspace_.state().holders.find(held->holder) : nullptr;
  const Cutter set = held ? as_set(cutter, *held) : cutter;
  drawing_->set_extension(held ? held->extension_diameter_mm : std::nullopt,
                          held ? held->extension_length_mm : std::nullopt);
  drawing_->set_wall(side() == assembly ? assembly_->wall() : std::nullopt);
  drawing_->show_cutter(&set, holder, held ? stickout_of(*held) : std::nullopt, cut, workspace_.units());
}

void CutterBench::take_first_change() {
  if (!conditions_->take_first_change()) emit said(tr("No limit is close here."), false);
}

// The depth and width of the cut are tried, nothing else is changed by dragging them.
void CutterBench::drag_cut(const QString& key, double value, bool) {
  workspace_.try_what_if(tried_with(workspace_.what_if(), shown_.cut, key.toStdString(), value));
}

void CutterBench::refresh() {
  const Cutter* cutter = workspace_.cutter();
  form_->show_cutter(cutter);
  assembly_->show_cutter(cutter);
  if (history_) history_->show_cutter(workspace_.cutter_id());
  if (cutter)
    head_->say(QString::number(cutter->number), text_of(cutter->name),
               cutter_subtitle(workspace_.state(), *cutter, workspace_.units()),
               bench_fault(workspace_.state(), *cutter, assembly_->assembly()));
  else head_->say({}, tr("No cutter"), tr("Make one with “New cutter” (Ctrl+N)."));
  refresh_cut();
}

void CutterBench::refresh_cut() {
  const Cutter* cutter = workspace_.cutter();
  const Context context = cutter ? context_for(workspace_.context(), cutter->kind) : workspace_.context();
  shown_ = {};
  if (!cutter) {
    drawing_->show_cutter(nullptr, nullptr, std::nullopt, {}, context.units);
    shown_.why_not = tr("Nothing selected.");
    conditions_->show_conditions(shown_, context.units);
    emit cut_changed();
    return;
  }
  // Another cutter or operation starts anew.
  if (follow_for_ != std::pair(cutter->id, context.operation)) follow_.reset();
  follow_for_ = {cutter->id, context.operation};
  const WhatIf& tried = workspace_.what_if();
  const Assembly* held = assembly_->assembly();
  followed_ = followed_of(workspace_.state(), *cutter, context);
  if (std::find(followed_.begin(), followed_.end(), follow_) == followed_.end()) follow_.reset();
  shown_ = present_cut(workspace_.state(), workspace_.shop().resolver(),
                       {*cutter, held, context, follow_, tried, !workspace_.shop().is_read_only()});
  conditions_->show_conditions(shown_, context.units);
  // What is tried is drawn as well; beside a wall the cut is not.
  DrawnCut drawn;
  if (shown_.cut && !(side() == assembly && assembly_->wall()))
    drawn = drawn_cut(context.operation, shown_.cut->cut.ap_mm, shown_.cut->cut.ae_mm);
  if (tried.stickout_mm && held) {
    Assembly further = *held;
    further.stickout_mm = tried.stickout_mm;
    further.measured_stickout_mm.reset();
    draw(*cutter, &further, drawn);
  } else {
    draw(*cutter, held, drawn);
  }
  emit cut_changed();
}

}  // namespace pecorra

#include "moc_cutter_bench.cpp"
