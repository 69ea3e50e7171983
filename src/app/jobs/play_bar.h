// Plays a planned job: to and fro by time or block, at any speed.
#pragma once

#include <QElapsedTimer>
#include <QLabel>
#include <QPushButton>
#include <QSlider>
#include <QTimer>
#include <QWidget>
#include <functional>

#include "app/jobs/playback.h"

namespace pecorra {

class PlayBar : public QWidget {
  Q_OBJECT
 public:
  explicit PlayBar(QWidget* parent = nullptr);
  // Another plan of the same job stays where it was, stopped.
  void show_playback(std::shared_ptr<const Playback> playback, UnitSystem units);
  // What is said of the load while this operation cuts.
  void set_load(std::function<QString(int operation)> load) { load_ = std::move(load); }
  void set_playing(bool on);
  void go_to(double seconds);
  bool is_playing() const { return timer_.isActive(); }
  bool is_on() const { return on_; }
  // Puts the cutter away.
  void close();
  const PlayPosition& position() const { return position_; }

 signals:
  void moved(const pecorra::PlayPosition& position);
  void closed();

 protected:
  void keyPressEvent(QKeyEvent* event) override;

 private:
  void tick();
  void say();

  std::shared_ptr<const Playback> playback_ = std::make_shared<const Playback>();
  std::function<QString(int)> load_;
  UnitSystem units_ = UnitSystem::metric;
  QPushButton *play_, *back_, *forward_, *speed_, *close_;
  QSlider* slider_;
  QLabel *time_, *figures_;
  QTimer timer_;
  QElapsedTimer clock_;
  PlayPosition position_;
  int speed_index_ = 2;
  bool on_ = false;
};

}  // namespace pecorra
