#include "app/parts/dialect_preview.h"

#include <QVBoxLayout>

#include "app/look/look.h"
#include "shop/words.h"

namespace pecorra {

DialectPreview::DialectPreview(Workspace& workspace, QWidget* parent)
    : QWidget(parent), workspace_(workspace), head_(new QLabel), view_(new ProgramView) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 8, 0, 0);
  column->setSpacing(4);
  set_tone(head_, Tone::quiet);
  column->addWidget(head_);
  column->addWidget(view_, 1);
  view_->setObjectName(QStringLiteral("dialect_preview"));
}

void DialectPreview::show_dialect(const Dialect* dialect) {
  wants_ = dialect != nullptr;
  setVisible(wants_);
  if (!dialect || has_error(check_dialect(*dialect))) return;
  if (*dialect == wanted_ && planned_) return;
  wanted_ = *dialect;
  plan();
}

// The job in front, else the first that has operations; once for each state of it.
void DialectPreview::plan() {
  const ShopState& state = workspace_.state();
  Id wanted = workspace_.job_id();
  const auto has_operations = [&](const Id& job) {
    return std::any_of(state.operations.begin(), state.operations.end(),
                       [&](const Operation& o) { return o.job == job; });
  };
  if (!has_operations(wanted)) {
    wanted = {};
    for (const JobHead& job : state.jobs)
      if (wanted.is_null() && has_operations(job.id)) wanted = job.id;
  }
  if (wanted.is_null()) {
    head_->setText(tr("A job with operations shows here what this dialect makes of it."));
    view_->show_program({});
    return;
  }
  if (planned_ && job_ == wanted) return write();
  job_ = wanted;
  const auto job = state.job(wanted);
  if (!job) return;
  head_->setText(tr("Program of %1 in this dialect").arg(text_of(job->name)));
  workspace_.tasks().run(
      this, {},
      [request = plan_request(state, *job)](Task& task) mutable {
        auto made = std::make_shared<Planned>();
        made->request = std::move(request);
        made->plan = plan_job(made->request, [&task](double done) { return task.report(done); });
        return std::shared_ptr<const Planned>(std::move(made));
      },
      [this, wanted](const std::shared_ptr<const Planned>& planned) {
        if (wanted != job_) return;
        planned_ = planned;
        write();
      });
}

// One at a time; what was typed last is written next.
void DialectPreview::write() {
  if (busy_) {
    again_ = true;
    return;
  }
  busy_ = true;
  workspace_.tasks().run(
      this, {},
      [planned = planned_, dialect = wanted_](Task&) {
        PlanRequest request = planned->request;
        request.dialect = dialect;
        return std::make_shared<const WrittenProgram>(program_of(request, planned->plan));
      },
      [this](const std::shared_ptr<const WrittenProgram>& program) {
        busy_ = false;
        view_->show_program(program);
        if (std::exchange(again_, false)) write();
      });
}

}  // namespace pecorra

#include "moc_dialect_preview.cpp"
