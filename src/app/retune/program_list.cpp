#include "app/retune/program_list.h"

#include <QHBoxLayout>
#include <QKeyEvent>
#include <QPushButton>
#include <QVBoxLayout>

#include "app/look/look.h"
#include "app/widgets/fit_columns.h"
#include "app/widgets/plain_table.h"
#include "app/widgets/property_form.h"
#include "shop/words.h"

namespace pecorra {
namespace {

QString health_text(const ProgramSummary& s) {
  switch (s.health) {
    case ProgramHealth::missing: return QObject::tr("File not found");
    case ProgramHealth::no_context: return QObject::tr("Material or machine deleted");
    case ProgramHealth::open_cutters: return QObject::tr("Cutter not assigned");
    case ProgramHealth::moved: return QObject::tr("Changed at source");
    case ProgramHealth::unwritten: return QObject::tr("Not written yet");
    case ProgramHealth::ready: return s.new_version ? QObject::tr("New version") : QObject::tr("Written");
  }
  return {};
}

}  // namespace

ProgramList::ProgramList(Workspace& workspace, QWidget* parent)
    : LazyWidget(parent),
      workspace_(workspace),
      model_(new TextModel({tr("Program"), tr("Material"), tr("Machine"), tr("Sections"), tr("Time"), tr("State")},
                           this, {sections, time})),
      table_(plain_table(model_, QStringLiteral("program_table"))),
      columns_(new FitColumns(table_, name)),
      empty_(new QLabel(tr(
          "No programs yet. “Open program” reads one made elsewhere and gives it speeds and feeds from the tables."))),
      folders_(new ProgramFolders(workspace)) {
  auto* layout = new QVBoxLayout(this);
  layout->setContentsMargins(0, 8, 0, 0);
  layout->setSpacing(8);
  auto* head = new QHBoxLayout;
  head->setSpacing(8);
  head->addWidget(section_heading(tr("Programs made elsewhere"), 16));
  head->addStretch(1);
  const auto button = [&](const QString& text, const char* button_name, const QString& tip,
                          void (ProgramList::*wanted)()) {
    auto* b = new QPushButton(text);
    b->setObjectName(QLatin1String(button_name));
    b->setToolTip(tip);
    head->addWidget(b);
    connect(b, &QPushButton::clicked, this, wanted);
  };
  button(tr("Watch a folder"), "watch_folder",
         tr("Retunes each program put into a folder and writes the result to another folder, until you stop it"),
         &ProgramList::watch_wanted);
  button(tr("Write all"), "write_programs", tr("Writes all of these programs, retuned, to a folder"),
         &ProgramList::write_all_wanted);
  button(tr("Open folder"), "open_program_folder", tr("Opens every program in a folder to retune it"),
         &ProgramList::folder_wanted);
  button(tr("Open program"), "open_program", tr("One made elsewhere, to give it speeds and feeds (Ctrl+Alt+R)"),
         &ProgramList::file_wanted);
  layout->addLayout(head);
  layout->addWidget(folders_);
  empty_->setWordWrap(true);
  set_tone(empty_, Tone::quiet);
  empty_->setObjectName(QStringLiteral("programs_empty"));
  layout->addWidget(empty_);
  table_->setTabKeyNavigation(false);
  table_->installEventFilter(this);
  layout->addWidget(table_, 1);
  connect(folders_, &ProgramFolders::said, this, &ProgramList::said);
  connect(table_, &QTableView::doubleClicked, this, [this] {
    if (const RetunedProgram* p = current()) emit opened(text_of(p->file));
  });
  connect(&workspace_, &Workspace::data_changed, this, [this] { update_when_seen(); });
}

const RetunedProgram* ProgramList::current() const {
  const int row = table_->currentIndex().isValid() ? table_->currentIndex().row() : -1;
  const auto& all = workspace_.state().programs;
  return row >= 0 && row < static_cast<int>(all.size()) ? &all[static_cast<std::size_t>(row)] : nullptr;
}

void ProgramList::refresh() {
  show_lines();
  if (!task_) next();
}

void ProgramList::show_lines() {
  const ShopState& s = workspace_.state();
  std::vector<QStringList> lines;
  std::map<std::pair<int, int>, Tone> lit;
  for (const RetunedProgram& p : s.programs) {
    const WorkMaterial* of = s.materials.find(p.material);
    const Machine* on = s.machines.find(p.machine);
    const auto known = known_.find(p.id);
    const ProgramSummary* summary = known == known_.end() ? nullptr : &known->second.summary;
    const bool there = summary && summary->health > ProgramHealth::no_context;
    const int row = static_cast<int>(lines.size());
    lines.push_back({text_of(p.name), of ? text_of(of->name) : tr("none"), on ? text_of(on->name) : tr("none"),
                     there ? QString::number(summary->sections) : QString(),
                     there ? duration_text(summary->minutes) : QString(),
                     summary ? health_text(*summary) : QStringLiteral("…")});
    if (summary && !there) lit[{row, state}] = Tone::error;
    else if (summary && (summary->health == ProgramHealth::moved || summary->health == ProgramHealth::open_cutters))
      lit[{row, state}] = Tone::warning;
  }
  table_->setVisible(!lines.empty());
  empty_->setVisible(lines.empty());
  model_->set_lines(std::move(lines), std::move(lit));
  columns_->at_least(state, 150);
  columns_->fit();
}

void ProgramList::next() {
  if (!isVisible()) return;
  const std::vector<std::uint64_t> from = workspace_.sources();
  for (const RetunedProgram& p : workspace_.state().programs) {
    const auto known = known_.find(p.id);
    if (known != known_.end() && known->second.of == p && known->second.from == from) continue;
    task_ = workspace_.tasks().run(
        this, QString(),
        [state = workspace_.state(), p](Task& task) {
          return summary_of(state, p, [&task](double done) { return task.report(done); });
        },
        [this, p, from](const ProgramSummary& summary) {
          task_.reset();
          known_[p.id] = {summary, p, from};
          show_lines();
          next();
        });
    return;
  }
}

void ProgramList::showEvent(QShowEvent* event) {
  LazyWidget::showEvent(event);
  known_.clear();  // files may have changed meanwhile
  update_when_seen();
}

void ProgramList::delete_program() {
  const RetunedProgram* p = current();
  if (!p) return;
  Change change;
  change.label = tr("Program %1 deleted; its files stay").arg(text_of(p->name));
  change.remove(*p);
  workspace_.shop().apply(std::move(change));
}

bool ProgramList::eventFilter(QObject* watched, QEvent* event) {
  if (event->type() == QEvent::KeyPress) {
    const int key = static_cast<QKeyEvent*>(event)->key();
    if (key == Qt::Key_Delete) return delete_program(), true;
    if (key == Qt::Key_Return || key == Qt::Key_Enter) {
      if (const RetunedProgram* p = current()) emit opened(text_of(p->file));
      return true;
    }
  }
  return LazyWidget::eventFilter(watched, event);
}

}  // namespace pecorra

#include "moc_program_list.cpp"
