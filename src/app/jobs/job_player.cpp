#include "app/jobs/job_player.h"

#include "core/cutter/kinds.h"
#include "core/cutter/profile.h"
#include "shop/words.h"

namespace pecorra {

JobPlayer::JobPlayer(Workspace& workspace, PathView& paths, ProgramView& program, PlayBar& bar, QObject* parent)
    : QObject(parent), workspace_(workspace), paths_(paths), program_(program), bar_(bar) {
  connect(&bar_, &PlayBar::moved, this, &JobPlayer::move_to);
  connect(&bar_, &PlayBar::closed, this, [this] {
    drawn_ = {};
    paths_.show_cutter({});
  });
  connect(&program_, &ProgramView::block_chosen, this, [this](int number, int move) {
    emit operation_chosen(number - 1);
    if (move >= 0 && !playback_->empty()) bar_.go_to(playback_->end_of(number - 1, move));
  });
  connect(&paths_, &PathView::move_clicked, this, [this](int operation, int move) {
    emit operation_chosen(operation);
    if (!playback_->empty()) bar_.go_to(playback_->end_of(operation, move));
  });
  program_.explain_with([this](int number, int move, QChar letter) { return explain(number, move, letter); });
}

void JobPlayer::show_plan(std::shared_ptr<const Job> job, const JobPlan& plan) {
  if (!job || plan.operations.size() != job->operations.size()) {
    playback_ = std::make_shared<const Playback>();
  } else {
    // Where nothing moved otherwise, it goes on as it was.
    const bool same = playback_->job() && playback_->job()->id == job->id &&
                      playback_->plan().operations == plan.operations && playback_->job() == job;
    if (same) return;
    playback_ = std::make_shared<const Playback>(std::move(job), plan);
  }
  stock_ = std::make_shared<StockRun>(playback_);
  shown_operation_ = -1;
  drawn_ = {};
  bar_.show_playback(playback_, workspace_.units());
}

CutterShown JobPlayer::cutter_of(int operation) const {
  const Operation& o = playback_->job()->operations[static_cast<std::size_t>(operation)];
  CutterShown shown;
  shown.diameter_mm = o.cutter.diameter_mm.value_or(0);
  for (const ProfileSegment& segment : silhouette(o.cutter)) {
    const int parts = segment.arc ? 8 : 1;
    if (shown.cutter.isEmpty()) shown.cutter << QPointF(0, segment.from.y);
    for (int i = 0; i <= parts; ++i) {
      const ProfilePoint at = point_on(segment, static_cast<double>(i) / parts);
      shown.cutter << QPointF(at.x, at.y);
    }
  }
  const Assembly* held = workspace_.state().assembly_of(o.cutter.id);
  const Holder* holder = held ? workspace_.state().holders.find(held->holder) : nullptr;
  if (holder && o.stickout_mm)
    for (const Station& s : holder->stations)
      shown.holder << QPointF(s.diameter_mm / 2, *o.stickout_mm + s.distance_mm);
  return shown;
}

void JobPlayer::move_to(const PlayPosition& position) {
  if (position.operation < 0) return;
  if (position.operation != shown_operation_) {
    shown_operation_ = position.operation;
    cutter_ = cutter_of(position.operation);
  }
  cutter_.at = position.at;
  cutter_.cuts = position.feed_mm_min > 0;
  paths_.show_cutter(cutter_);
  program_.show_move(position.operation + 1, position.move);
  draw_stock();
}

// Aside, one picture at a time; the newest place is what is drawn next.
void JobPlayer::draw_stock() {
  const PlayPosition& now = bar_.position();
  if (drawing_ || (now.operation == drawn_.operation && now.move == drawn_.move) || now.operation < 0) return;
  drawing_ = true;
  drawn_ = now;
  workspace_.tasks().run(
      this, {},
      [stock = stock_, operation = now.operation, move = now.move, colours = colours()](Task&) {
        return stock->at(operation, move, colours);
      },
      [this, of = stock_](const StockRun::Picture& picture) {
        drawing_ = false;
        if (of == stock_ && bar_.is_on()) paths_.show_stock(picture.image, picture.plan);
        if (bar_.is_on()) draw_stock();
      });
}

QString JobPlayer::explain(int number, int move, QChar letter) const {
  const auto& job = playback_->job();
  const auto i = static_cast<std::size_t>(number - 1);
  if (!job || number < 1 || i >= job->operations.size() || (letter != QLatin1Char('S') && letter != QLatin1Char('F')))
    return {};
  const Operation& o = job->operations[i];
  const auto& moves = playback_->plan().operations[i]->path.moves;
  QStringList said;
  QString head = letter == QLatin1Char('S') ? tr("Speed") : tr("Feed");
  if (letter == QLatin1Char('F') && move >= 0 && static_cast<std::size_t>(move) < moves.size())
    head += QStringLiteral(", ") + label_text(label_of(moves[static_cast<std::size_t>(move)].kind)).toLower();
  said << QStringLiteral("<b>%1</b> · %2 %3")
              .arg(head.toHtmlEscaped(), QString::number(number), text_of(o.name).toHtmlEscaped());
  if (!o.taken.source_text.empty()) said << text_of(o.taken.source_text).toHtmlEscaped();
  for (const TrailStep& step : o.taken.trail) {
    const QString text = sentence(step, workspace_.units());
    if (!text.isEmpty()) said << text.toHtmlEscaped();
    if (said.size() > 14) break;
  }
  return said.join(QStringLiteral("<br>"));
}

}  // namespace pecorra

#include "moc_job_player.cpp"
