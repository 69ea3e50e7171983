// What is done on the page of jobs.
#include <QClipboard>
#include <QFileInfo>
#include <QGuiApplication>
#include <QMimeData>
#include <algorithm>

#include "app/jobs/jobs_page.h"
#include "shop/drawing_file.h"
#include "shop/feature_edit.h"
#include "shop/operation_copies.h"
#include "shop/operation_edit.h"
#include "shop/setup_edit.h"
#include "shop/task.h"
#include "shop/words.h"
#include "store/write_file.h"

namespace pecorra {

void JobsPage::apply(tl::expected<Change, QString> change) {
  if (!change) return emit said(change.error(), true);
  workspace_.shop().apply(std::move(*change));
}

void JobsPage::read_drawing(const QString& file, bool into_this_job) {
  emit said(tr("Reading %1 …").arg(QFileInfo(file).fileName()), false);
  workspace_.tasks().run(
      this, tr("Reading %1").arg(QFileInfo(file).fileName()),
      [file](Task&) { return read_drawing_file(file, 1, true); },
      [this, into_this_job, job_id = workspace_.job_id()](const DrawingRead& read) {
        if (!read.fault.isEmpty()) {
          emit said(read.fault, true);
          return;
        }
        const auto kept = workspace_.state().job(job_id);
        if (into_this_job && kept) {
          Change change = with_drawing(*kept, read.drawing, read.note);
          if (change.empty()) return emit said(tr("The drawing is the same as before; nothing has changed."), false);
          workspace_.shop().apply(std::move(change));
          if (const QString news = drawing_news(*workspace_.job()); !news.isEmpty())
            emit said(tr("Drawing read again: %1. The operations are in error until that is accepted.").arg(news),
                      true);
          return;
        }
        NewJob made = pecorra::new_job(workspace_.state(), read.drawing, read.note, workspace_.shown_machine(),
                                       workspace_.shown_material());
        workspace_.shop().apply(std::move(made.change));
        workspace_.select_job(made.job);
        if (view_ >= all_jobs) show_view(operations);
      });
}

void JobsPage::open_program(const QString& file) {
  show_view(retuning);
  retune_->open_file(file);
}

void JobsPage::new_job() {
  std::vector<PickItem> items{{tr("From a drawing"), tr("DXF or SVG"), [this] { emit drawing_wanted(); }},
                              {tr("Without a drawing"), tr("features defined by dimensions"), [this] {
                                 NewJob made = pecorra::new_job(workspace_.state(), {}, {}, workspace_.shown_machine(),
                                                                workspace_.shown_material());
                                 workspace_.shop().apply(std::move(made.change));
                                 workspace_.select_job(made.job);
                                 show_view(setups);
                                 emit job_started();
                               }}};
  if (view_ == retuning) show_view(all_jobs);
  const QWidget* under = view_ == all_jobs ? jobs_->findChild<QPushButton*>(QStringLiteral("new_job")) : new_;
  kinds_->open(under->mapToGlobal(QPoint(under->width() - 320, under->height() + 2)), 320, std::move(items), 0,
               tr("New job"));
}

void JobsPage::copy_job() {
  const Job* job = workspace_.job();
  if (!job) return;
  NewJob made = copied_job(workspace_.state(), *job);
  workspace_.shop().apply(std::move(made.change));
  workspace_.select_job(made.job);
}

void JobsPage::delete_job() {
  if (const Job* kept = workspace_.job()) workspace_.shop().apply(without_job(*kept));
}

void JobsPage::add_something() {
  if (view_ == retuning) return emit foreign_program_wanted();
  if (!workspace_.job() || view_ == all_jobs) return new_job();
  if (view_ == operations) return new_operation();
  if (view_ == features) return new_feature();
  workspace_.shop().apply(added_setup(*workspace_.job()));
  setup_table_->setCurrentIndex(setup_model_->index(setup_model_->rowCount() - 1, 0));
}

void JobsPage::new_operation() {
  if (!workspace_.job()) return;
  std::vector<PickItem> items;
  for (std::size_t i = 0; i < choices_of<PathKind>().size(); ++i) {
    const auto kind = static_cast<PathKind>(i);
    items.push_back(
        {label_text(label_of(kind)), label_text(declaration(kind).about), [this, kind] { add_operation(kind); }});
  }
  kinds_->open(new_->mapToGlobal(QPoint(new_->width() - 360, new_->height() + 2)), 360, std::move(items), 0,
               tr("Kind of the new operation"));
}

void JobsPage::new_feature() {
  if (!workspace_.job()) return;
  std::vector<PickItem> items;
  const std::pair<FeatureKind, QString> kinds[] = {
      {FeatureKind::holes, tr("at places, in a row, a grid or a circle")},
      {FeatureKind::rectangle, tr("by length and width, with corner radius")},
      {FeatureKind::circle, tr("by diameter")},
      {FeatureKind::slot, tr("with round ends")},
      {FeatureKind::line, tr("by its points")},
      {FeatureKind::pocket, tr("from a closed line and islands")},
      {FeatureKind::face, tr("the top of the stock")},
      {FeatureKind::text, tr("to engrave")}};
  for (const auto& [kind, what] : kinds)
    items.push_back({label_text(label_of(kind)), what, [this, kind = kind] { add_feature(kind); }});
  kinds_->open(new_->mapToGlobal(QPoint(new_->width() - 360, new_->height() + 2)), 360, std::move(items), 0,
               tr("Kind of the new feature"));
}

void JobsPage::add_feature(FeatureKind kind) {
  const Job* job = workspace_.job();
  if (!job) return;
  if (view_ != features) show_view(features);
  // Of the lines that are selected, where they can be that.
  std::vector<std::string> lines;
  const JobIndex index(*job);
  for (const std::string& key : selected_features())
    if (const JobLine* line = index.line(key))
      if (kind == FeatureKind::holes ? line->is_circle() : kind == FeatureKind::pocket && line->contour->closed)
        lines.push_back(key);
  NewFeature made = added_feature(*job, kind, lines);
  workspace_.shop().apply(std::move(made.change));
  select_feature(made.key);
  emit feature_added();
}

// The operation that is selected; nothing without one.
std::optional<int> JobsPage::selected_operation() const {
  const Job* kept = workspace_.job();
  const int at = workspace_.operation_index();
  return kept && at >= 0 && at < static_cast<int>(kept->operations.size()) ? std::optional(at) : std::nullopt;
}

std::vector<std::string> JobsPage::selected_features() const {
  std::vector<std::string> keys;
  for (const QModelIndex& i : feature_table_->selectionModel()->selectedRows())
    keys.push_back(feature_model_->key_at(i.row()));
  return keys;
}

int JobsPage::selected_setup() const { return std::max(0, setup_table_->currentIndex().row()); }

void JobsPage::click_feature(const QString& key, Qt::KeyboardModifiers modifiers) {
  const Job* job = workspace_.job();
  if (!job) return;
  const std::string line = key.toStdString();
  const bool alone = modifiers.testFlag(Qt::ShiftModifier);
  if (view_ == setups) {
    const JobLine* outline = JobIndex(*job).line(line);
    if (!outline || !outline->contour->closed) return emit said(tr("A clamp needs a closed line."), true);
    return workspace_.shop().apply(clamp_clicked(*job, static_cast<std::size_t>(selected_setup()), line));
  }
  if (view_ == features) {
    const auto chosen = selected_features();
    if (modifiers.testFlag(Qt::ControlModifier) && !chosen.empty())
      return apply(feature_line_clicked(*job, chosen.front(), line, alone));
    return select_feature(line);
  }
  if (const auto at = selected_operation()) apply(feature_clicked(*job, *at, line, alone, workspace_.units()));
}

void JobsPage::next_line() {
  if (const auto at = selected_operation())
    workspace_.shop().apply(pecorra::next_line(*workspace_.job(), *at, workspace_.units()));
}

void JobsPage::add_operation(PathKind path) {
  const Job* kept = workspace_.job();
  if (!kept) return;
  const auto of = view_ == features ? selected_features() : std::vector<std::string>{};
  workspace_.shop().apply(added_operation(workspace_.state(), workspace_.shop().resolver(), *kept, path, of));
  workspace_.select_operation(static_cast<int>(workspace_.job()->operations.size()) - 1);
  if (view_ != operations) show_view(operations);
  emit operation_made();
}

void JobsPage::propose_chain() {
  const Job* job = workspace_.job();
  if (!job || view_ >= all_jobs) return;
  std::vector<std::string> keys;
  if (view_ == features) keys = selected_features();
  else if (const auto at = selected_operation())
    for (const FeatureUse& use : job->operations[static_cast<std::size_t>(*at)].features) keys.push_back(use.key);
  if (keys.empty()) return emit said(tr("Select a feature first: holes, or a pocket."), true);
  auto chain = proposed_chain(workspace_.state(), workspace_.shop().resolver(), *job, keys);
  if (chain.empty())
    return emit said(tr("Operations are proposed for identical holes and for pockets. Add others one by one."), true);
  const QString of = keys.size() == 1 ? text_of(keys.front()) : tr("%1 features").arg(keys.size());
  chain_->show_chain(std::move(chain), tr("Proposed for %1").arg(of));
  is_current_ = false;
  refresh();
}

void JobsPage::copy_something() {
  const Job* job = workspace_.job();
  if (!job || view_ == retuning) return;
  if (view_ == all_jobs) return copy_job();
  if (view_ == setups) return add_something();
  if (view_ == features) {
    const auto chosen = selected_features();
    if (chosen.empty() || !find_feature(*job, chosen.front())) return;
    NewFeature made = copied_feature(*job, chosen.front());
    workspace_.shop().apply(std::move(made.change));
    return select_feature(made.key);
  }
  const Places at = workspace_.operations();
  if (at.empty()) return;
  workspace_.shop().apply(copied_operation(*job, at));
  Places copies;
  for (int i = 1; i <= static_cast<int>(at.size()); ++i) copies.push_back(at.back() + i);
  workspace_.select_operations(copies, copies.front());
}

void JobsPage::delete_something() {
  if (view_ == retuning) return retune_->leave_out(true);
  const Job* job = workspace_.job();
  if (!job) return;
  if (view_ == all_jobs) return delete_job();
  if (view_ == setups) {
    Change change = without_setup(*job, static_cast<std::size_t>(selected_setup()));
    if (change.empty()) return emit said(tr("A job needs at least one setup."), true);
    return workspace_.shop().apply(std::move(change));
  }
  if (view_ == features) {
    Change change = without_features(*job, selected_features());
    if (change.empty()) return emit said(tr("Lines of the drawing change with the drawing."), true);
    return workspace_.shop().apply(std::move(change));
  }
  workspace_.shop().apply(without_operation(*job, workspace_.operations()));
}

void JobsPage::copy_to_clipboard() {
  const Job* job = workspace_.job();
  if (!job || view_ != operations || workspace_.operations().empty()) return;
  auto* copied = new QMimeData;
  copied->setData(operations_mime_type(), QByteArray::fromStdString(copied_text(*job, workspace_.operations())));
  copied->setText(plain_text(*job, workspace_.operations(), workspace_.units()));
  QGuiApplication::clipboard()->setMimeData(copied);
  const std::size_t count = workspace_.operations().size();
  emit said(count == 1 ? tr("One operation copied; Ctrl+V puts it into another job")
                       : tr("%1 operations copied; Ctrl+V puts them into another job").arg(count),
            false);
}

void JobsPage::paste() {
  const Job* job = workspace_.job();
  if (!job) return;
  if (view_ == features) return emit places_wanted();
  const QMimeData* there = QGuiApplication::clipboard()->mimeData();
  const QByteArray text = there ? there->data(operations_mime_type()) : QByteArray();
  auto pasted =
      pasted_operations(workspace_.state(), workspace_.shop().resolver(), *job,
                        workspace_.operations().empty() ? -1 : workspace_.operations().back(), text.toStdString());
  if (!pasted) return emit said(pasted.error(), true);
  if (view_ != operations) show_view(operations);
  workspace_.shop().apply(std::move(pasted->change));
  workspace_.select_operations(pasted->at, pasted->at.front());
}

void JobsPage::accept_lines() {
  if (workspace_.job() && !workspace_.operations().empty())
    workspace_.shop().apply(features_accepted(*workspace_.job(), workspace_.operations()));
}

void JobsPage::move_operation(int by) {
  const Places at = workspace_.operations();
  Change change = workspace_.job() ? moved_operation(*workspace_.job(), at, by) : Change{};
  if (change.empty()) return;
  workspace_.shop().apply(std::move(change));
  // Those that lay apart stand together now.
  const int first = by < 0 ? at.front() + by : at.back() + by - static_cast<int>(at.size()) + 1;
  Places now;
  for (int i = 0; i < static_cast<int>(at.size()); ++i) now.push_back(first + i);
  workspace_.select_operations(now, now.front());
}

void JobsPage::update_from_library() {
  if (const auto anew = workspace_.moved_job()) workspace_.shop().apply(updated_from_library(*workspace_.job(), *anew));
}

void JobsPage::keep_copy() {
  if (const auto anew = workspace_.moved_job()) workspace_.shop().apply(kept_copy(*workspace_.job(), *anew));
}

}  // namespace pecorra
