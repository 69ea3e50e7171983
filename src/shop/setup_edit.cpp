#include "shop/setup_edit.h"

#include <QObject>
#include <QRegularExpression>
#include <algorithm>

#include "core/quantity/entry.h"
#include "core/quantity/print.h"
#include "shop/edit.h"
#include "shop/evaluation.h"
#include "shop/job_objects.h"
#include "shop/shop.h"
#include "shop/words.h"

namespace pecorra {
namespace {

// The job with a setup to change, made where it had none.
Setup& setup_in(Job& job, std::size_t at) {
  if (job.setups.empty()) job.setups.emplace_back();
  return job.setups[std::min(at, job.setups.size() - 1)];
}

// "G54" → "G55"; others stay.
std::string next_offset(const std::string& offset) {
  if (offset.size() == 3 && offset.compare(0, 2, "G5") == 0 && offset[2] >= '4' && offset[2] < '9')
    return std::string("G5") + static_cast<char>(offset[2] + 1);
  return offset;
}

QString name_of(const Setup& setup, std::size_t at) {
  return setup.name.empty() ? QObject::tr("Setup %1").arg(static_cast<int>(at) + 1) : text_of(setup.name);
}

}  // namespace

Change added_setup(const Job& job) {
  Job changed = job;
  setup_in(changed, 0);
  for (std::size_t i = 0; i < changed.setups.size(); ++i)
    if (changed.setups[i].name.empty()) changed.setups[i].name = name_of(changed.setups[i], i).toStdString();
  Setup next = changed.setups.back();
  next.id = new_id();
  next.rank = 0;
  next.clamps.clear();
  next.typed.clear();
  next.work_offset = next_offset(next.work_offset);
  for (std::size_t i = changed.setups.size() + 1;; ++i) {
    next.name = QObject::tr("Setup %1").arg(static_cast<int>(i)).toStdString();
    if (std::none_of(changed.setups.begin(), changed.setups.end(), [&](const Setup& s) { return s.name == next.name; }))
      break;
  }
  const QString name = text_of(next.name);
  changed.setups.push_back(std::move(next));
  return job_change(QObject::tr("New setup: %1").arg(name), job, changed);
}

Change without_setup(const Job& job, std::size_t at) {
  if (job.setups.size() < 2 || at >= job.setups.size()) return {};
  Job changed = job;
  const Id gone = job.setups[at].id;
  changed.setups.erase(changed.setups.begin() + static_cast<std::ptrdiff_t>(at));
  for (Operation& o : changed.operations)
    if (o.setup == gone) o.setup = changed.setups.front().id;
  return job_change(QObject::tr("Deleted %1").arg(name_of(job.setups[at], at)), job, changed);
}

Change edited_setup(const ShopState& state, const Resolver& resolver, const Job& job, std::size_t at,
                    const Property<Setup>& property, const Value& value, const std::string& typed, UnitSystem units) {
  Job changed = job;
  Setup& setup = setup_in(changed, at);
  const Setup before = setup;
  setup = edited(before, property, value, typed, units);
  if (property.key == "skin") changed = retaken(state, resolver, std::move(changed));
  return job_change(text_of(job.name) + QStringLiteral(": ") + edit_label(before, setup, property, units), job,
                    changed);
}

Change with_zero_at(const Job& job, std::size_t at, const ZeroAt& where) {
  Job changed = job;
  Setup& setup = setup_in(changed, at);
  const StockBlock block = stock_of(job, &setup);
  const auto between = [](double low, double high, int side) {
    return side < 0 ? low : side > 0 ? high : (low + high) / 2;
  };
  setup.zero_x_mm = between(block.plan.low_x, block.plan.high_x, where.x);
  setup.zero_y_mm = between(block.plan.low_y, block.plan.high_y, where.y);
  setup.zero_z_mm = where.top ? block.top : block.bottom;
  for (const char* key : {"zero_x_mm", "zero_y_mm", "zero_z_mm"}) setup.typed.erase(key);
  return job_change(QObject::tr("%1: zero point moved").arg(text_of(job.name)), job, changed);
}

tl::expected<Change, QString> with_stock_size(const Job& job, std::size_t at, const QString& text, UnitSystem units) {
  // A length with its unit holds no x; a factor between lengths is one of these signs.
  static const QRegularExpression times(QStringLiteral("\\s*[×xX*]\\s*"));
  std::vector<double> sides;
  for (const QString& part : text.trimmed().split(times, Qt::SkipEmptyParts)) {
    const auto side = parse_entry(part.trimmed().toStdString(), Quantity::length, units);
    if (!side || !(side->stored > 0)) {
      sides.clear();
      break;
    }
    sides.push_back(side->stored);
  }
  if (sides.size() != 3)
    return tl::unexpected(QObject::tr("“%1” is no size; expected X × Y × Z, as in 120 × 80 × 20").arg(text));
  Job changed = job;
  Setup& setup = setup_in(changed, at);
  Setup free = setup;
  free.x_low_mm.reset(), free.x_high_mm.reset(), free.y_low_mm.reset(), free.y_high_mm.reset();
  const StockBlock part = stock_of(job, &free);
  const bool geometry = part.plan.width() > 0 || part.plan.depth() > 0;
  const double x = geometry ? (part.plan.low_x + part.plan.high_x - sides[0]) / 2 : setup.zero_x_mm.value_or(0),
               y = geometry ? (part.plan.low_y + part.plan.high_y - sides[1]) / 2 : setup.zero_y_mm.value_or(0);
  setup.x_low_mm = x;
  setup.x_high_mm = x + sides[0];
  setup.y_low_mm = y;
  setup.y_high_mm = y + sides[1];
  setup.z_high_mm = setup.z_high_mm.value_or(0);
  setup.z_low_mm = *setup.z_high_mm - sides[2];
  for (const char* key : {"x_low_mm", "x_high_mm", "y_low_mm", "y_high_mm", "z_low_mm", "z_high_mm"})
    setup.typed.erase(key);
  return job_change(QObject::tr("%1: stock %2").arg(text_of(job.name), text.trimmed()), job, changed);
}

Change clamp_clicked(const Job& job, std::size_t at, const std::string& line) {
  Job changed = job;
  Setup& setup = setup_in(changed, at);
  const bool gone = std::erase_if(setup.clamps, [&](const Clamp& c) { return c.outline.key == line; }) > 0;
  if (!gone) {
    const double above = 20;  // of the stock's top; a usual clamp
    setup.clamps.push_back({use_of(job, line), stock_of(job, &setup).top + above});
  }
  return job_change((gone ? QObject::tr("%1 is no longer a clamp") : QObject::tr("%1 is a clamp")).arg(text_of(line)),
                    job, changed);
}

Change with_clamp_top(const Job& job, std::size_t at, std::size_t clamp, double top_mm, UnitSystem units) {
  Job changed = job;
  Setup& setup = setup_in(changed, at);
  if (clamp >= setup.clamps.size()) return {};
  setup.clamps[clamp].top_mm = top_mm;
  return job_change(
      QObject::tr("Clamp %1: top at %2")
          .arg(text_of(setup.clamps[clamp].outline.key), text_of(shown_with_unit(top_mm, Quantity::length, units))),
      job, changed);
}

}  // namespace pecorra
