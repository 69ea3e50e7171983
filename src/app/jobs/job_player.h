// What plays a job: the bar, the cutter and the stock in the picture, the block in the program.
#pragma once

#include <QObject>
#include <memory>

#include "app/jobs/path_view.h"
#include "app/jobs/play_bar.h"
#include "app/jobs/program_view.h"
#include "app/workspace.h"

namespace pecorra {

class JobPlayer : public QObject {
  Q_OBJECT
 public:
  JobPlayer(Workspace& workspace, PathView& paths, ProgramView& program, PlayBar& bar, QObject* parent);
  void show_plan(std::shared_ptr<const Job> job, const JobPlan& plan);
  // How hard the machine works in an operation, in words.
  void say_load_with(std::function<QString(int operation)> load) { bar_.set_load(std::move(load)); }
  const std::shared_ptr<const Playback>& playback() const { return playback_; }

 signals:
  void operation_chosen(int operation);  // by its block, or by one of its moves in the picture

 private:
  void move_to(const PlayPosition& position);
  void draw_stock();
  CutterShown cutter_of(int operation) const;
  QString explain(int number, int move, QChar letter) const;

  Workspace& workspace_;
  PathView& paths_;
  ProgramView& program_;
  PlayBar& bar_;
  std::shared_ptr<const Playback> playback_ = std::make_shared<const Playback>();
  std::shared_ptr<StockRun> stock_;
  bool drawing_ = false;
  PlayPosition drawn_;
  int shown_operation_ = -1;
  CutterShown cutter_;
};

}  // namespace pecorra
