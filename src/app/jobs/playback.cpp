#include "app/jobs/playback.h"

#include <algorithm>

namespace pecorra {

Playback::Playback(std::shared_ptr<const Job> job, JobPlan plan) : job_(std::move(job)), plan_(std::move(plan)) {
  double at = 0;
  for (std::size_t i = 0; i < plan_.paths.size(); ++i) {
    begins_.push_back(at);
    // An operation in error is not in the program, nor is its change.
    if (plan_.paths[i].seconds() > 0) at += plan_.times[i].total_s() - plan_.times[i].path_s;
    starts_.push_back(at);
    at += plan_.paths[i].seconds();
  }
  begins_.push_back(at);
}

PlayPosition Playback::at(double seconds) const {
  PlayPosition p;
  p.seconds = std::clamp(seconds, 0.0, this->seconds());
  if (empty()) return p;
  const auto next = std::upper_bound(begins_.begin(), begins_.end() - 1, p.seconds);
  auto i = static_cast<std::size_t>(next - begins_.begin()) - 1;
  while (i > 0 && plan_.paths[i].seconds() <= 0) --i;
  const PathTime& path = plan_.paths[i];
  const std::vector<Move>& moves = path.of->path.moves;
  if (moves.empty()) return p;
  const std::vector<double>& ends = *path.ends;
  const double within = std::max(0.0, p.seconds - starts_[i]);
  p.stands = p.seconds < starts_[i];
  const auto m = std::min<std::size_t>(
      static_cast<std::size_t>(std::lower_bound(ends.begin(), ends.end(), within - 1e-9) - ends.begin()),
      moves.size() - 1);
  p.operation = static_cast<int>(i);
  p.move = static_cast<int>(m);
  const double from = m > 0 ? ends[m - 1] : 0, part = ends[m] > from ? (within - from) / (ends[m] - from) : 1;
  if (m == 0) p.at = {moves[0].x, moves[0].y, moves[0].z};
  else p.at = place_on(moves[m - 1].x, moves[m - 1].y, moves[m - 1].z, moves[m], std::clamp(part, 0.0, 1.0));
  p.feed_mm_min = moves[m].feed_mm_min;
  p.n_rpm = path.of->path.start_rpm > 0 ? path.of->path.start_rpm : job_->operations[i].taken.n_rpm.value_or(0);
  for (const MotionEvent& e : path.of->path.events) {
    if (e.before > m) break;
    if (e.kind == MotionEvent::spindle_speed) p.n_rpm = e.value;
  }
  return p;
}

double Playback::end_of(int operation, int move) const {
  const auto i = static_cast<std::size_t>(operation);
  if (operation < 0 || i >= plan_.paths.size() || plan_.paths[i].ends->empty()) return 0;
  const std::vector<double>& ends = *plan_.paths[i].ends;
  return starts_[i] + ends[std::min(static_cast<std::size_t>(std::max(0, move)), ends.size() - 1)];
}

double Playback::stepped(double seconds, bool back) const {
  const PlayPosition p = at(seconds);
  if (p.operation < 0) return 0;
  constexpr double near = 1e-9;
  int operation = p.operation, move = p.move;
  // Moves without length take no time: past them to one that does.
  for (int tries = 0; tries < 1000000; ++tries) {
    const double end = end_of(operation, move);
    if (back ? end < seconds - near : end > seconds + near) return end;
    move += back ? -1 : 1;
    const auto count = static_cast<int>(plan_.paths[static_cast<std::size_t>(operation)].ends->size());
    if (move >= 0 && move < count) continue;
    operation += back ? -1 : 1;
    if (operation < 0) return 0;
    if (operation >= static_cast<int>(plan_.paths.size())) return this->seconds();
    move = back ? static_cast<int>(plan_.paths[static_cast<std::size_t>(operation)].ends->size()) - 1 : 0;
  }
  return seconds;
}

void StockRun::begin(int operation) {
  const Job& job = *playback_->job();
  setup_ = setup_of(job, job.operations[static_cast<std::size_t>(operation)]);
  block_ = stock_of(job, setup_);
  double smallest = 1e9;
  int first = operation;
  for (std::size_t i = 0; i < job.operations.size(); ++i) {
    if (setup_of(job, job.operations[i]) != setup_) continue;
    first = std::min(first, static_cast<int>(i));
    if (const auto d = job.operations[i].cutter.diameter_mm) smallest = std::min(smallest, *d);
  }
  field_ = StockField(block_.plan, block_.top, smallest);
  operation_ = first;
  move_ = 0;
  begun_.clear();
}

void StockRun::keep(int operation) {
  constexpr std::size_t most = 48;
  if (begun_.size() < most) begun_.try_emplace(operation, field_);
}

StockRun::Picture StockRun::at(int operation, int move, const Colours& colours) {
  const Job& job = *playback_->job();
  const JobPlan& plan = playback_->plan();
  const Setup* setup = setup_of(job, job.operations[static_cast<std::size_t>(operation)]);
  if (field_.empty() || setup != setup_) begin(operation);
  if (std::pair(operation, move) < std::pair(operation_, move_)) {
    // Back: from the last operation that is kept.
    auto kept = begun_.upper_bound(operation);
    if (kept == begun_.begin()) begin(operation);
    else {
      --kept;
      field_ = kept->second;
      operation_ = kept->first;
      move_ = 0;
    }
  }
  for (; operation_ <= operation; ++operation_, move_ = 0) {
    const auto i = static_cast<std::size_t>(operation_);
    const Operation& o = job.operations[i];
    if (setup_of(job, o) != setup_) continue;
    if (move_ == 0) keep(operation_);
    const double cleared = declaration(o.path).cleared_mm(o);
    const std::vector<Move>& moves = plan.operations[i]->path.moves;
    if (operation_ < operation && move_ == 0) {
      field_.take_away(plan.operations[i]->path, cleared);
      continue;
    }
    const auto end = operation_ < operation ? moves.size() : std::min(moves.size(), static_cast<std::size_t>(move) + 1);
    for (auto m = std::max<std::size_t>(1, static_cast<std::size_t>(move_)); m < end; ++m)
      field_.cut(moves[m - 1].x, moves[m - 1].y, moves[m - 1].z, moves[m], cleared / 2);
    move_ = static_cast<int>(end);
    if (operation_ == operation) break;
  }
  // Paler where it is deeper; nothing where it is through.
  QImage image(field_.columns(), field_.rows(), QImage::Format_ARGB32_Premultiplied);
  const double top = block_.top, bottom = block_.has_height ? block_.bottom : top - 20;
  const QColor full = colours.cut;
  std::array<QRgb, 65> shades;
  for (std::size_t k = 0; k < shades.size(); ++k) {
    const double depth = static_cast<double>(k) / 64;
    QColor c = QColor::fromRgbF(static_cast<float>(full.redF() * (1 - 0.45 * depth)),
                                static_cast<float>(full.greenF() * (1 - 0.45 * depth)),
                                static_cast<float>(full.blueF() * (1 - 0.45 * depth)));
    shades[k] = k == 64 ? qRgba(0, 0, 0, 0) : qPremultiply(c.rgba());
  }
  for (int row = 0; row < field_.rows(); ++row) {
    auto* line = reinterpret_cast<QRgb*>(image.scanLine(field_.rows() - 1 - row));
    for (int column = 0; column < field_.columns(); ++column) {
      const double depth = (top - static_cast<double>(field_.height(column, row))) / std::max(1e-6, top - bottom);
      line[column] = shades[static_cast<std::size_t>(std::clamp(depth * 64, 0.0, 64.0))];
    }
  }
  const Box plan_box = field_.plan();
  return {std::move(image), QRectF(plan_box.low_x, plan_box.low_y, plan_box.width(), plan_box.depth())};
}

}  // namespace pecorra
