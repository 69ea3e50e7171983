#include "app/retune/retune_view.h"

#include <QFileInfo>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QScopedValueRollback>
#include <QVBoxLayout>
#include <algorithm>
#include <cmath>

#include "app/look/look.h"
#include "app/widgets/fit_columns.h"
#include "app/widgets/plain_table.h"
#include "app/widgets/property_form.h"
#include "core/quantity/print.h"
#include "shop/retune_report.h"
#include "shop/words.h"

namespace pecorra {

RetuneView::RetuneView(Workspace& workspace, QWidget* parent)
    : LazyWidget(parent),
      workspace_(workspace),
      model_(new TextModel({}, this, {speed, feed, time, tightest})),
      table_(plain_table(model_, QStringLiteral("section_table"))),
      columns_(new FitColumns(table_, comment)),
      title_(section_heading(QString(), 16)),
      facts_(new QLabel),
      empty_(new QLabel),
      notice_(new LeftAloneList),
      back_(new QPushButton(tr("‹ Jobs"))),
      again_(new QPushButton(tr("Reload"))),
      report_(new QPushButton(tr("Report"))),
      write_(new QPushButton(tr("Write program"))),
      next_(new QPushButton(tr("Next change"))),
      colouring_(new SwitchRow({tr("Change"), tr("Feed before"), tr("Feed after")})),
      difference_(new DifferenceView),
      moves_(new MovesView),
      split_(new QSplitter(Qt::Vertical)),
      lower_(new QSplitter(Qt::Horizontal)) {
  auto* layout = new QVBoxLayout(this);
  layout->setContentsMargins(0, 0, 0, 0);
  layout->setSpacing(6);
  auto* head = new QHBoxLayout;
  head->setSpacing(8);
  back_->setFlat(true);
  back_->setCursor(Qt::PointingHandCursor);
  back_->setObjectName(QStringLiteral("retune_back"));
  back_->setToolTip(tr("All jobs and programs (Alt+Left)"));
  head->addWidget(back_);
  title_->setObjectName(QStringLiteral("retune_title"));
  head->addWidget(title_);
  set_tone(facts_, Tone::quiet);
  facts_->setObjectName(QStringLiteral("retune_facts"));
  facts_->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Preferred);
  head->addWidget(facts_, 1);
  next_->setObjectName(QStringLiteral("next_change"));
  next_->setToolTip(tr("N: next change, P: previous change, in the program"));
  write_->setObjectName(QStringLiteral("write_retuned"));
  report_->setObjectName(QStringLiteral("retune_report"));
  report_->setToolTip(tr("What each tool runs at and what is wrong with the program, as PDF or HTML"));
  for (QPushButton* b : {next_, again_, report_, write_}) head->addWidget(b);
  again_->setObjectName(QStringLiteral("read_again"));
  again_->setToolTip(tr("Reloads the program from its file (F5)"));
  layout->addLayout(head);
  layout->addWidget(notice_);
  columns_->give_way(comment);
  columns_->set_margin(15);
  table_->setTabKeyNavigation(false);
  table_->setHorizontalScrollMode(QAbstractItemView::ScrollPerPixel);
  split_->addWidget(table_);
  auto* picture = new QWidget;
  auto* column = new QVBoxLayout(picture);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(4);
  colouring_->setObjectName(QStringLiteral("colouring"));
  auto* switches = new QHBoxLayout;
  switches->addWidget(colouring_);
  switches->addStretch(1);
  column->addLayout(switches);
  column->addWidget(moves_, 1);
  lower_->addWidget(difference_);
  lower_->addWidget(picture);
  lower_->setSizes({490, 280});
  lower_->setHandleWidth(8);
  split_->addWidget(lower_);
  split_->setHandleWidth(8);
  split_->setStretchFactor(1, 1);
  layout->addWidget(split_, 1);
  empty_->setAlignment(Qt::AlignCenter);
  empty_->setWordWrap(true);
  empty_->setObjectName(QStringLiteral("retune_empty"));
  layout->addWidget(empty_, 1);
  connect(back_, &QPushButton::clicked, this, &RetuneView::closed);
  connect(again_, &QPushButton::clicked, this, &RetuneView::read_again);
  connect(write_, &QPushButton::clicked, this, &RetuneView::write_wanted);
  connect(report_, &QPushButton::clicked, this, &RetuneView::report_wanted);
  connect(next_, &QPushButton::clicked, this, [this] { difference_->next_change(false); });
  connect(split_, &QSplitter::splitterMoved, this, [this] { list_is_sized_ = true; });
  connect(colouring_, &SwitchRow::chosen, this,
          [this](int i) { moves_->set_colouring(static_cast<MovesView::Colouring>(i)); });
  connect(table_->selectionModel(), &QItemSelectionModel::currentRowChanged, this, [this](const QModelIndex& now) {
    difference_->show_section(now.row());
    moves_->show_section(now.row());
    emit section_changed();
  });
  const auto choose_block = [this](std::size_t block) {
    moves_->show_block(block);
    difference_->show_block(block);
    if (!shown_) return;
    const auto& sections = shown_->reading->sections;
    for (std::size_t i = 0; i < sections.size(); ++i)
      if (block >= sections[i].first && block <= sections[i].last && static_cast<int>(i) != section()) {
        const QSignalBlocker quiet(table_->selectionModel());
        table_->setCurrentIndex(model_->index(static_cast<int>(i), 0));
        table_->viewport()->update();
        difference_->show_section(static_cast<int>(i), false);
        moves_->show_section(static_cast<int>(i));
        emit section_changed();
        break;
      }
  };
  connect(difference_, &DifferenceView::block_chosen, this, choose_block);
  connect(moves_, &MovesView::block_chosen, this, choose_block);
  connect(notice_, &LeftAloneList::block_chosen, this, choose_block);
  for (const auto changed : {&Workspace::data_changed, &Workspace::context_changed})
    connect(&workspace_, changed, this, &RetuneView::update_when_seen);
}

int RetuneView::section() const { return table_->currentIndex().isValid() ? table_->currentIndex().row() : -1; }

void RetuneView::open_file(const QString& name) {
  if (task_) task_->cancel();
  reading_ = QFileInfo(name).absoluteFilePath();
  task_ = workspace_.tasks().run(
      this, tr("Reading %1").arg(QFileInfo(name).fileName()), [name](Task&) { return read_program_file(name); },
      [this](tl::expected<ForeignProgram, QString> read) {
        task_.reset();
        const QString wanted = std::exchange(reading_, QString());
        if (!read) {
          fault_ = read.error();
          emit said(read.error(), true);
          // A program that is kept is shown all the same, with what is wrong.
          if (const RetunedProgram* kept = program_for(workspace_.state(), wanted)) {
            file_.reset();
            shown_.reset();
            workspace_.select_program(kept->id);
            emit opened();
            update_when_seen();
          }
          return;
        }
        fault_.clear();
        keep(*read);
      });
  emit opened();
}

void RetuneView::keep(const ForeignProgram& read) {
  // The file and what is kept for it change together.
  const QScopedValueRollback keeping(keeping_, true);
  file_ = read;
  const ShopState& state = workspace_.state();
  if (const RetunedProgram* kept = program_for(state, read.file)) {
    workspace_.select_program(kept->id);
    if (kept->print != read.print) {
      RetunedProgram after = *kept;
      after.print = read.print;
      Change change;
      change.label = tr("%1: new version loaded").arg(text_of(after.name));
      change.edit(*kept, after);
      workspace_.shop().apply(std::move(change));
    }
  } else {
    const RetunedProgram made =
        new_program(state, read, workspace_.shown_material(), workspace_.shown_machine(), workspace_.shown_pace());
    Change change;
    change.label = tr("Program %1").arg(text_of(made.name));
    change.add(made);
    workspace_.shop().apply(std::move(change));
    workspace_.select_program(made.id);
  }
  keeping_ = false;
  emit opened();
  update_when_seen();
}

void RetuneView::read_again() {
  if (const RetunedProgram* program = workspace_.program()) open_file(text_of(program->file));
}

namespace {

// What it becomes depends on; not where it was written.
RetunedProgram as_asked(RetunedProgram program) {
  program.revision = 0;
  program.name.clear();
  program.written.clear();
  program.written_print.clear();
  return program;
}

}  // namespace

bool RetuneView::is_current() const {
  const RetunedProgram* program = workspace_.program();
  return shown_ && program && of_ == as_asked(*program) && from_ == workspace_.sources() && file_ &&
         file_->text == shown_->read.text;
}

void RetuneView::refresh() {
  if (keeping_) return;
  const RetunedProgram* program = workspace_.program();
  if (!program) {
    // Deleted, or its opening was undone.
    if (!reading_.isEmpty()) return show_result();
    file_.reset();
    shown_.reset();
    show_result();
    return emit closed();
  }
  if (file_ && file_->file != text_of(program->file)) file_.reset();
  if (!file_) {
    shown_.reset();
    if (reading_.isEmpty() && fault_.isEmpty()) open_file(text_of(program->file));
    return show_result();
  }
  if (is_current()) return show_result();
  if (!lack().isEmpty()) {
    shown_.reset();
    return show_result();
  }
  work();
  show_result();
}

void RetuneView::work() {
  if (task_) task_->cancel();
  const RetunedProgram program = *workspace_.program();
  const std::vector<std::uint64_t> from = workspace_.sources();
  task_ = workspace_.tasks().run(
      this, tr("Speeds and feeds of %1").arg(text_of(program.name)),
      [state = workspace_.state(), program, read = *file_, again = shown_](Task& task) {
        return retune_file(
            state, program, read, [&task](double done) { return task.report(done); }, again);
      },
      [this, program, from](std::shared_ptr<const RetunedFile> made) {
        if (!made) return;  // another is on its way
        task_.reset();
        const RetunedProgram* now = workspace_.program();
        if (!now || !(as_asked(*now) == as_asked(program))) return update_when_seen();
        of_ = as_asked(program);
        from_ = from;
        drop_aside(std::exchange(shown_, std::move(made)));
        show_result();
      });
}

QString RetuneView::lack() const {
  const RetunedProgram* program = workspace_.program();
  if (!program) return {};
  if (!workspace_.state().materials.find(program->material))
    return tr("Its material is no longer in the shop; choose another in the line above.");
  if (!workspace_.state().machines.find(program->machine))
    return tr("Its machine is no longer in the shop; choose another in the line above.");
  return {};
}

void RetuneView::show_notice() {
  QString text;
  const RetunedProgram* program = workspace_.program();
  if (!fault_.isEmpty()) text = fault_;
  else if (const QString missing = lack(); !missing.isEmpty()) text = missing;
  else if (shown_ && program && !program->written_print.empty() && program->written_print != shown_->print)
    text = tr("Changed at source since this program was written to %1. The speeds and feeds below are new.")
               .arg(QFileInfo(text_of(program->written)).fileName());
  notice_->say(text, shown_);
}

void RetuneView::show_result() {
  const RetunedProgram* program = workspace_.program();
  const UnitSystem units = workspace_.units();
  title_->setText(program              ? text_of(program->name)
                  : reading_.isEmpty() ? tr("No program")
                                       : QFileInfo(reading_).fileName());
  show_notice();
  split_->setVisible(shown_ != nullptr);
  empty_->setVisible(!shown_);
  empty_->setText(
      !fault_.isEmpty()
          ? tr("The program cannot be read. Put the file back, then “Reload”; the cutters assigned to it are kept.")
          : tr("Reading …"));
  write_->setEnabled(shown_ && !shown_->changed_lines.empty());
  write_->setToolTip(shown_ && shown_->changed_lines.empty()
                         ? tr("Nothing to change: the program already has these values")
                         : tr("Writes a new file, or replaces the program and keeps a backup (Ctrl+E)"));
  next_->setEnabled(shown_ && !shown_->changed_lines.empty());
  again_->setEnabled(program);
  difference_->show_program(shown_);
  moves_->show_program(shown_, units);
  if (!shown_) {
    facts_->clear();
    model_->set_lines({});
    return emit section_changed();
  }
  facts_->setText(retune_summary(*shown_));
  const QString feed_unit = text_of(unit_text(Quantity::table_feed, units));
  model_->set_headings({tr("T"), tr("Program comment"), tr("Cutter"), tr("S rpm"), tr("F %1").arg(feed_unit),
                        tr("Time"), tr("Tightest")});
  std::vector<QStringList> lines;
  std::map<std::pair<int, int>, Tone> lit;
  const auto number = [&](double v, Quantity q) { return v > 0 ? text_of(shown(v, q, units)) : QString(); };
  for (std::size_t i = 0; i < shown_->sections.size(); ++i) {
    const ProgramSection& s = shown_->reading->sections[i];
    const RetunedSection& plan = shown_->sections[i];
    const int at = static_cast<int>(i);
    const bool answered = plan.conditions.n_rpm.has_value();
    lines.push_back({QString::number(s.tool), s.comments.empty() ? QString() : text_of(s.comments.back()),
                     !plan.found.cutter ? (plan.left_out ? tr("left out") : tr("not assigned"))
                     : plan.left_out    ? tr("%1, left out").arg(text_of(plan.found.cutter->name))
                                        : text_of(plan.found.cutter->name),
                     change_text(number(s.n_rpm, Quantity::spindle_speed),
                                 answered ? number(*plan.conditions.n_rpm, Quantity::spindle_speed) : QString()),
                     change_text(number(s.main_mm_min(), Quantity::table_feed),
                                 answered ? number(plan.conditions.vf_mm_min, Quantity::table_feed) : QString()),
                     change_text(duration_text(s.minutes), duration_text(shown_->done.sections[i].minutes)),
                     tightest_change_text(plan.headroom_was, answered ? plan.headroom : std::nullopt)});
    if (!plan.found.cutter && !plan.left_out) lit[{at, cutter}] = Tone::error;
    else if (plan.found.guess) lit[{at, cutter}] = Tone::warning;
    if (plan.headroom && answered && plan.headroom->tightest() > 1) lit[{at, tightest}] = Tone::error;
  }
  const int row = section();
  model_->set_lines(std::move(lines), std::move(lit));
  columns_->fit(true);
  fit_list();
  if (section() < 0 && model_->rowCount() > 0) {
    const QSignalBlocker quiet(table_->selectionModel());
    table_->setCurrentIndex(model_->index(std::clamp(row, 0, model_->rowCount() - 1), 0));
  }
  difference_->show_section(section(), row < 0);
  moves_->show_section(section());
  emit section_changed();
}

void RetuneView::resizeEvent(QResizeEvent* event) {
  LazyWidget::resizeEvent(event);
  if (event->oldSize().height() != event->size().height()) fit_list();
}

void RetuneView::fit_list() {
  const int rows =
      table_->horizontalHeader()->height() + model_->rowCount() * table_->verticalHeader()->defaultSectionSize() + 20;
  layout()->activate();
  if (split_->height() < 200 || list_is_sized_) return;
  const int wanted = std::clamp(rows, 80, split_->height() * 40 / 100);
  split_->setSizes({wanted, split_->height() - wanted - split_->handleWidth()});
}

}  // namespace pecorra

#include "moc_retune_view.cpp"
