#include "app/jobs/play_bar.h"

#include <QHBoxLayout>
#include <QKeyEvent>
#include <QSignalBlocker>
#include <QVBoxLayout>

#include "core/quantity/print.h"
#include "shop/words.h"

namespace pecorra {
namespace {

constexpr int steps_of_slider = 100000, frame_ms = 16;
constexpr double speeds[] = {1, 4, 10, 30, 100};

}  // namespace

PlayBar::PlayBar(QWidget* parent)
    : QWidget(parent),
      play_(new QPushButton),
      back_(new QPushButton(QStringLiteral("‹"))),
      forward_(new QPushButton(QStringLiteral("›"))),
      speed_(new QPushButton),
      close_(new QPushButton(tr("Stop"))),
      slider_(new QSlider(Qt::Horizontal)),
      time_(new QLabel),
      figures_(new QLabel) {
  setObjectName(QStringLiteral("play_bar"));
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(0);
  auto* row = new QHBoxLayout;
  row->setContentsMargins(0, 0, 0, 0);
  column->addLayout(row);
  column->addWidget(figures_);
  row->setSpacing(6);
  play_->setObjectName(QStringLiteral("play"));
  back_->setToolTip(tr("The block before (Left)"));
  forward_->setToolTip(tr("The next block (Right)"));
  speed_->setToolTip(tr("Times as fast as the machine"));
  close_->setToolTip(tr("Puts the cutter away and shows the whole stock (Esc)"));
  slider_->setRange(0, steps_of_slider);
  slider_->setObjectName(QStringLiteral("play_slider"));
  slider_->setToolTip(tr("Anywhere in the job"));
  slider_->setFocusPolicy(Qt::ClickFocus);
  for (QPushButton* b : {play_, back_, forward_, speed_, close_}) {
    b->setFlat(true);
    b->setCursor(Qt::PointingHandCursor);
    b->setFocusPolicy(Qt::TabFocus);
  }
  set_tone(time_, Tone::quiet);
  figures_->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Preferred);
  for (QWidget* w : std::initializer_list<QWidget*>{play_, back_, forward_}) row->addWidget(w);
  row->addWidget(slider_, 1);
  row->addWidget(time_);
  row->addWidget(speed_);
  row->addWidget(close_);
  timer_.setInterval(frame_ms);
  timer_.setTimerType(Qt::PreciseTimer);
  connect(&timer_, &QTimer::timeout, this, &PlayBar::tick);
  connect(play_, &QPushButton::clicked, this, [this] { set_playing(!is_playing()); });
  connect(back_, &QPushButton::clicked, this, [this] { go_to(playback_->stepped(position_.seconds, true)); });
  connect(forward_, &QPushButton::clicked, this, [this] { go_to(playback_->stepped(position_.seconds, false)); });
  connect(close_, &QPushButton::clicked, this, &PlayBar::close);
  connect(speed_, &QPushButton::clicked, this, [this] {
    speed_index_ = (speed_index_ + 1) % static_cast<int>(std::size(speeds));
    say();
  });
  connect(slider_, &QSlider::valueChanged, this,
          [this](int value) { go_to(playback_->seconds() * value / steps_of_slider); });
  say();
}

void PlayBar::show_playback(std::shared_ptr<const Playback> playback, UnitSystem units) {
  units_ = units;
  const bool other = !playback_->job() || !playback->job() || playback_->job()->id != playback->job()->id;
  playback_ = std::move(playback);
  timer_.stop();
  if (other || playback_->empty()) close();
  else if (on_) go_to(std::min(position_.seconds, playback_->seconds()));
  setEnabled(!playback_->empty());
  say();
}

void PlayBar::set_playing(bool on) {
  if (on && position_.seconds >= playback_->seconds()) position_.seconds = 0;
  if (on == is_playing() || playback_->empty()) return;
  if (on) {
    go_to(position_.seconds);
    clock_.start();
    timer_.start();
  } else {
    timer_.stop();
  }
  say();
}

void PlayBar::tick() {
  const double passed = static_cast<double>(clock_.restart()) / 1000;
  const double to = position_.seconds + passed * speeds[speed_index_];
  go_to(to);
  if (to < playback_->seconds()) return;
  timer_.stop();
  say();
}

void PlayBar::go_to(double seconds) {
  if (playback_->empty()) return;
  on_ = true;
  position_ = playback_->at(seconds);
  say();
  emit moved(position_);
}

void PlayBar::close() {
  timer_.stop();
  const bool was = on_;
  on_ = false;
  position_ = {};
  say();
  if (was) emit closed();
}

void PlayBar::say() {
  play_->setText(is_playing() ? tr("Pause") : tr("Play"));
  play_->setToolTip(is_playing() ? tr("Pause (Space)") : tr("Play the job (Space)"));
  speed_->setText(QStringLiteral("× %1").arg(speeds[speed_index_]));
  close_->setEnabled(on_);
  const double all = playback_->seconds();
  {
    const QSignalBlocker quiet(slider_);
    slider_->setValue(all > 0 ? static_cast<int>(position_.seconds / all * steps_of_slider) : 0);
  }
  const QString whole = duration_text(all / 60);
  time_->setText(on_ ? tr("%1 of %2").arg(duration_text(position_.seconds / 60), whole) : whole);
  QString text;
  if (on_ && position_.operation >= 0) {
    text = QStringLiteral("S %1 · ").arg(text_of(plain(position_.n_rpm, 0)));
    text += position_.stands ? tr("cutter change, spindle, checks")
            : position_.feed_mm_min > 0
                ? QStringLiteral("F %1").arg(text_of(shown(position_.feed_mm_min, Quantity::table_feed, units_)))
                : tr("rapid");
    if (position_.feed_mm_min > 0 && !position_.stands && load_)
      if (const QString load = load_(position_.operation); !load.isEmpty()) text += QStringLiteral(" · ") + load;
  }
  figures_->setText(text);
  figures_->setVisible(on_);
}

void PlayBar::keyPressEvent(QKeyEvent* event) {
  switch (event->key()) {
    case Qt::Key_Space: return set_playing(!is_playing());
    case Qt::Key_Left: return go_to(playback_->stepped(position_.seconds, true));
    case Qt::Key_Right: return go_to(playback_->stepped(position_.seconds, false));
    case Qt::Key_Escape: return close();
    default: QWidget::keyPressEvent(event);
  }
}

}  // namespace pecorra

#include "moc_play_bar.cpp"
