#include "app/window/strip.h"

#include <QFileInfo>
#include <QHBoxLayout>

#include "app/cutters/catalogue.h"
#include "app/look/look.h"

namespace pecorra {

Strip::Strip(Workspace& workspace, QWidget* parent)
    : QWidget(parent),
      workspace_(workspace),
      what_(new QLabel),
      saved_(new QLabel),
      work_(new QLabel),
      progress_(new QProgressBar),
      undo_(new QPushButton(tr("Undo"))),
      warnings_(new QPushButton),
      cancel_(new QPushButton(tr("Cancel"))),
      save_as_(new QPushButton(tr("Save as a new shop"))) {
  setFixedHeight(27);
  auto* layout = new QHBoxLayout(this);
  layout->setContentsMargins(16, 0, 16, 0);
  layout->setSpacing(12);
  what_->setTextFormat(Qt::PlainText);
  what_->setObjectName(QStringLiteral("strip_what"));
  saved_->setObjectName(QStringLiteral("strip_saved"));
  for (QPushButton* b : {undo_, warnings_, cancel_, save_as_}) {
    b->setFlat(true);
    b->setCursor(Qt::PointingHandCursor);
  }
  undo_->hide();
  layout->addWidget(what_);
  layout->addWidget(undo_);
  layout->addStretch(1);
  work_->setObjectName(QStringLiteral("strip_work"));
  cancel_->setObjectName(QStringLiteral("strip_cancel"));
  progress_->setTextVisible(false);
  progress_->setFixedSize(90, 6);
  for (QWidget* w : {static_cast<QWidget*>(work_), static_cast<QWidget*>(progress_), static_cast<QWidget*>(cancel_)}) {
    layout->addWidget(w);
    w->hide();
  }
  layout->addWidget(warnings_);
  layout->addWidget(saved_);
  layout->addWidget(save_as_);
  save_as_->setObjectName(QStringLiteral("strip_save_as"));
  save_as_->hide();
  // Short tasks are not shown: nothing blinks.
  work_timer_.setInterval(400);
  connect(&work_timer_, &QTimer::timeout, this, &Strip::show_work);
  connect(&workspace_.tasks(), &Tasks::changed, this, [this] {
    if (workspace_.tasks().running().empty()) show_work();
    else if (!work_timer_.isActive()) work_timer_.start();
  });
  connect(&workspace_.tasks(), &Tasks::failed, this, [this](const QString& what) { say(what, false, true); });
  connect(cancel_, &QPushButton::clicked, this, [this] {
    for (const TaskPointer& task : workspace_.tasks().running()) task->cancel();
  });
  connect(undo_, &QPushButton::clicked, this, &Strip::undo_clicked);
  connect(warnings_, &QPushButton::clicked, this, &Strip::drafts_clicked);
  connect(save_as_, &QPushButton::clicked, this, &Strip::save_as_clicked);
  connect(&workspace_.shop(), &Shop::did, this, [this](const QString& what, bool undo) { say(what, undo); });
  connect(&workspace_.shop(), &Shop::put_back, this, [this](const QString& why) { say(why, false, true); });
  connect(&workspace_.shop(), &Shop::saving_changed, this, [this](const QString& trouble) {
    if (!trouble.isEmpty() || workspace_.shop().saving() != Shop::Saving::failing) trouble_ = trouble;
    refresh();
  });
  connect(&workspace_.catalogue(), &CutterCatalogue::counted, this, &Strip::refresh);
  connect(&workspace_, &Workspace::data_changed, this, &Strip::refresh);
  connect(&Look::get(), &Look::changed, this, &Strip::refresh);
  refresh();
}

void Strip::say(const QString& what, bool can_be_undone, bool fault) {
  what_->setText(what);
  set_tone(what_, fault ? Tone::error : Tone::ink);
  undo_->setVisible(can_be_undone);
}

void Strip::show_work() {
  const std::vector<TaskPointer> running = workspace_.tasks().running();
  if (running.empty()) work_timer_.stop();
  else
    work_->setText(running.size() == 1 ? running.front()->title() + QStringLiteral(" …")
                                       : tr("%1 … and %2 more").arg(running.front()->title()).arg(running.size() - 1));
  const bool told = !running.empty() && running.front()->percent() >= 0;
  progress_->setRange(0, told ? 100 : 0);
  if (told) progress_->setValue(running.front()->percent());
  work_->setVisible(!running.empty());
  progress_->setVisible(!running.empty());
  cancel_->setVisible(told);  // what tells its progress asks whether to go on
}

void Strip::refresh() {
  const int drafts = workspace_.catalogue().drafts(), odd = workspace_.catalogue().odd_ones();
  warnings_->setText(tr("Needs attention: %1").arg(drafts + odd));
  warnings_->setVisible(drafts + odd > 0);
  QPixmap mark(14 * devicePixelRatio(), 14 * devicePixelRatio());
  mark.setDevicePixelRatio(devicePixelRatio());
  mark.fill(Qt::transparent);
  {
    QPainter p(&mark);
    draw_mark(p, QRectF(1, 2, 11, 11), drafts > 0 ? Mark::beyond : Mark::changed);
  }
  warnings_->setIcon(QIcon(mark));
  const QString file = QFileInfo(workspace_.shop().file()).completeBaseName();
  QString state = tr("saved");
  if (workspace_.shop().is_read_only()) state = tr("read-only");
  else if (workspace_.shop().saving() == Shop::Saving::saving) state = tr("saving");
  else if (workspace_.shop().saving() == Shop::Saving::failing)
    state = trouble_.isEmpty() ? tr("not saved") : tr("not saved: %1").arg(trouble_);
  saved_->setText(QStringLiteral("%1 · %2").arg(file, state));
  set_tone(saved_, workspace_.shop().saving() == Shop::Saving::failing ? Tone::error : Tone::quiet);
  save_as_->setVisible(workspace_.shop().is_replaced());
}

}  // namespace pecorra

#include "moc_strip.cpp"
