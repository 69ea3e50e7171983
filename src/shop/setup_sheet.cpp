#include "shop/setup_sheet.h"

#include <QObject>
#include <algorithm>
#include <cmath>
#include <map>

#include "core/cutter/kinds.h"
#include "core/cutter/profile.h"
#include "core/operation/holes.h"
#include "core/quantity/print.h"
#include "shop/program_file.h"
#include "shop/words.h"

namespace pecorra {
namespace {

QString clock_text(double seconds) {
  const int s = static_cast<int>(std::lround(seconds));
  return s >= 3600 ? QStringLiteral("%1:%2:%3")
                         .arg(s / 3600)
                         .arg(s / 60 % 60, 2, 10, QLatin1Char('0'))
                         .arg(s % 60, 2, 10, QLatin1Char('0'))
                   : QStringLiteral("%1:%2").arg(s / 60).arg(s % 60, 2, 10, QLatin1Char('0'));
}

class Builder {
 public:
  Builder(const ShopState& state, const PlanRequest& request, const JobPlan& plan, UnitSystem units)
      : state_(state),
        request_(request),
        plan_(plan),
        job_(*request.job),
        units_(units),
        tools_(tool_plan(state, job_)) {}

  SetupSheet run() {
    SetupSheet sheet;
    words(sheet.words);
    sheet.title = text_of(job_.name);
    const Machine* machine = state_.machines.find(job_.machine);
    const WorkMaterial* material = state_.materials.find(job_.material);
    QStringList about;
    for (const std::string& part :
         {request_.head.shop, machine ? machine->name : std::string(), material ? material->name : std::string()})
      if (!part.empty()) about << text_of(part);
    sheet.subtitle = about.join(QStringLiteral(" · "));
    sheet.revision = text_of(revision_text(request_.shop_file, job_));
    sheet.hazard = text_of(request_.head.hazard);
    sheet.program = text_of(program_name(request_.dialect, request_.head.number));
    sheet.program += (sheet.program.isEmpty() ? QString() : QStringLiteral(" · ")) +
                     (is_inch(job_.program_unit) ? QObject::tr("program in inches") : QObject::tr("program in mm"));
    std::vector<const Setup*> setups;
    for (const Setup& setup : job_.setups) setups.push_back(&setup);
    if (setups.empty()) setups.push_back(nullptr);
    for (std::size_t i = 0; i < setups.size(); ++i) {
      SheetSetup made = setup_of_sheet(setups[i], i);
      if (!made.operations.empty() || setups.size() == 1) sheet.setups.push_back(std::move(made));
    }
    return sheet;
  }

 private:
  QString length(double mm) const { return text_of(shown(mm, Quantity::length, units_)); }
  QString length_with_unit(double mm) const { return quantity_text(mm, Quantity::length, units_); }
  static void words(SheetWords& w) {
    w.zero = QObject::tr("Zero point");
    w.stock = QObject::tr("Stock");
    w.offset = QObject::tr("Work offset");
    w.clamps = QObject::tr("Keep clear");
    w.time = QObject::tr("Time");
    w.planned = QObject::tr("stick-out");
    w.measured = QObject::tr("measured");
    w.operations = QObject::tr("Operations");
    w.cutters = QObject::tr("Cutters");
    w.page = QObject::tr("page %1");
    w.guess = QObject::tr("guess");
    w.proven = QObject::tr("proven");
    w.operation_columns = {QObject::tr("No."),   QObject::tr("Operation"),
                           QStringLiteral("T"),  QStringLiteral("S"),
                           QStringLiteral("F"),  QStringLiteral("ap"),
                           QStringLiteral("ae"), QObject::tr("Coolant"),
                           QObject::tr("Time"),  QString()};
  }

  SheetSetup setup_of_sheet(const Setup* setup, std::size_t place) {
    SheetSetup out;
    out.name = setup && !setup->name.empty() ? text_of(setup->name) : QObject::tr("Setup %1").arg(place + 1);
    const StockBlock stock = stock_of(job_, setup);
    const Box& plan = stock.plan;
    out.stock_mm = QRectF(plan.low_x, plan.low_y, plan.width(), plan.depth());
    out.stock = QStringLiteral("%1 × %2").arg(length(plan.width()), length(plan.depth()));
    out.stock = stock.has_height ? out.stock + QStringLiteral(" × ") + length_with_unit(stock.top - stock.bottom)
                                 : QStringLiteral("%1 × %2").arg(length(plan.width()), length_with_unit(plan.depth()));
    if (setup) {
      out.zero_mm = QPointF(setup->zero_x_mm.value_or(0), setup->zero_y_mm.value_or(0));
      const double z = setup->zero_z_mm.value_or(0);
      // As the setter finds it: from the corner and the top of the stock.
      out.zero =
          QObject::tr("X %1, Y %2 from the front left corner, Z %3")
              .arg(length_with_unit(out.zero_mm.x() - plan.low_x), length_with_unit(out.zero_mm.y() - plan.low_y),
                   std::abs(z - stock.top) < 1e-9 ? QObject::tr("at the top")
                   : z < stock.top                ? QObject::tr("%1 below the top").arg(length_with_unit(stock.top - z))
                                   : QObject::tr("%1 above the top").arg(length_with_unit(z - stock.top)));
      out.offset = text_of(setup->work_offset.empty() ? request_.dialect.first_work_offset : setup->work_offset);
      if (!setup->clamps.empty()) {
        QStringList tops;
        for (const Clamp& clamp : setup->clamps)
          tops << QObject::tr("%1 up to Z %2")
                      .arg(text_of(clamp.outline.key), length_with_unit(clamp.top_mm - setup->zero_z_mm.value_or(0)));
        out.clamps = tops.join(QStringLiteral(", ")) + QObject::tr(" (shaded)");
      }
    }
    shapes(setup, out);
    double seconds = 0;
    for (std::size_t i = 0; i < job_.operations.size(); ++i) {
      if (setup_of(job_, job_.operations[i]) != setup) continue;
      operation(i, out);
      if (!has_error(plan_.faults[i])) seconds += plan_.times[i].total_s();
    }
    out.time = clock_text(seconds);
    return out;
  }

  void shapes(const Setup* setup, SheetSetup& out) const {
    const auto add = [&](const Contour& line, SheetShape::Role role) {
      SheetShape shape{role, {}};
      for (const Point2& p : flattened(line, 0.05)) shape.points.emplace_back(p.x, p.y);
      if (line.closed && !shape.points.empty()) shape.points.push_back(shape.points.front());
      if (!shape.points.empty()) out.shapes.push_back(std::move(shape));
    };
    constexpr std::size_t most = 20000;  // more are a grey patch
    for (const JobLine& line : lines_of(job_))
      if (out.shapes.size() < most) add(*line.contour, SheetShape::part);
    for (const Feature& f : job_.features)
      for (const Point2& p : f.at)
        if (out.shapes.size() < most) add(circle_contour(p, drilled_mm(f).value_or(1)), SheetShape::part);
    if (!setup) return;
    for (const Clamp& clamp : setup->clamps)
      for (const JobLine& line : lines_of(job_))
        if (line.key == clamp.outline.key) add(*line.contour, SheetShape::clamp);
  }

  QString feed_text(const RunsAt& at) const {
    const auto text = [&](double vf) { return text_of(shown(vf, Quantity::table_feed, units_)); };
    if (!at.vf_mm_min) return {};
    return at.vf_high_mm_min ? text(*at.vf_mm_min) + QStringLiteral("–") + text(*at.vf_high_mm_min)
                             : text(*at.vf_mm_min);
  }
  QString conditions(const RunsAt& at) const {
    QStringList parts;
    if (at.n_rpm) parts << QStringLiteral("S %1").arg(text_of(plain(*at.n_rpm, 0)));
    if (at.vf_mm_min) parts << QStringLiteral("F %1").arg(feed_text(at));
    if (at.ap_mm) parts << QStringLiteral("ap %1").arg(length(*at.ap_mm));
    if (at.ae_mm) parts << QStringLiteral("ae %1").arg(length(*at.ae_mm));
    return parts.join(QStringLiteral("  "));
  }

  void operation(std::size_t i, SheetSetup& out) {
    const Operation& o = job_.operations[i];
    SheetOperation row;
    row.number = QString::number(i + 1);
    row.kind = label_text(label_of(o.path));
    row.name = o.name.empty() ? row.kind : text_of(o.name);
    row.comment = text_of(o.comment);
    const int t = tools_.of[i].t;
    row.t = t > 0 ? QStringLiteral("T%1").arg(t) : QString();
    const RunsAt at = runs_at(o, plan_.operations[i]->facts());
    if (at.n_rpm) row.s = text_of(plain(*at.n_rpm, 0));
    row.f = feed_text(at);
    if (at.ap_mm) row.ap = length(*at.ap_mm);
    if (at.ae_mm) row.ae = length(*at.ae_mm);
    if (o.taken.coolant != Coolant::off) row.coolant = label_text(label_of(o.taken.coolant));
    row.source = text_of(o.taken.source_text);
    details(i, row);
    row.guess = o.taken.guess;
    row.proven = o.taken.proven && !o.taken.guess;
    if (has_error(plan_.faults[i])) {
      row.fault = QObject::tr("Not in the program: it has an error");
    } else {
      row.time = clock_text(plan_.times[i].total_s());
    }
    out.operations.push_back(row);
    if (t <= 0) return;
    SheetCutter* known = nullptr;
    for (SheetCutter& c : out.cutters)
      if (c.t == row.t) known = &c;
    if (!known) {
      out.cutters.push_back(cutter(i));
      known = &out.cutters.back();
      seconds_of_[known->t] = 0;
    }
    if (const QString said = conditions(at); !known->cuts.contains(said)) known->cuts << said;
    known->guessed = known->guessed || o.taken.guess;
    if (!has_error(plan_.faults[i])) seconds_of_[known->t] += plan_.times[i].total_s();
    known->time = clock_text(seconds_of_[known->t]);
  }

  // What is at its last size after this operation, and where the first of them is in the program.
  QStringList points_to_measure(const Operation& o, const PlannedOperation& planned, double lowest) const {
    QStringList points;
    const Setup* setup = setup_of(job_, o);
    const double x0 = setup ? setup->zero_x_mm.value_or(0) : 0, y0 = setup ? setup->zero_y_mm.value_or(0) : 0,
                 z0 = setup ? setup->zero_z_mm.value_or(0) : 0;
    const bool taps = process_of(o.operation) == Process::tapping;
    std::map<QString, std::pair<int, Point2>> sizes;  // how many of each, and where the first is
    for (const BoundHole& hole : planned.input.holes) {
      const bool to_size = !hole.tolerance.empty() && makes_size(o, hole);
      if (!(taps && !hole.thread.empty()) && !to_size) continue;
      const QString size =
          taps ? text_of(hole.thread) : QStringLiteral("Ø%1 %2").arg(length(hole.diameter_mm), text_of(hole.tolerance));
      auto& [count, first] = sizes.try_emplace(size, 0, hole.at).first->second;
      ++count;
    }
    for (const auto& [size, where] : sizes) {
      const auto& [count, at] = where;
      points << (count > 1 ? QStringLiteral("%1 × ").arg(count) : QString()) +
                    QObject::tr("%1, first at X %2 Y %3").arg(size, length(at.x - x0), length(at.y - y0));
    }
    if (planned.path.moves.empty()) return points;
    if (o.operation == OperationKind::floor_finish || o.finish_floor_mm)
      points << QObject::tr("floor at Z %1").arg(length_with_unit(lowest - z0));
    if (o.operation == OperationKind::side_finish || o.finish_pass_mm) points << QObject::tr("finished walls");
    return points;
  }

  // Whether no later operation of the setup changes the size of a hole that this one makes.
  bool makes_size(const Operation& o, const BoundHole& hole) const {
    const auto made = [&](const Operation& by) {
      const OperationDeclaration& kind = declaration(by.path);
      return kind.takes(Role::hole) && (kind.leaves(by) & hole_made || kind.stage >= 5);
    };
    if (!made(o)) return false;
    const auto mine = std::find_if(job_.operations.begin(), job_.operations.end(),
                                   [&](const Operation& other) { return other.id == o.id; });
    for (auto later = mine; later != job_.operations.end(); ++later) {
      if (later == mine || !made(*later) || setup_of(job_, *later) != setup_of(job_, o)) continue;
      const auto& holes = plan_.operations[static_cast<std::size_t>(later - job_.operations.begin())]->input.holes;
      if (HolePlaces(holes).any_at(hole.at)) return false;
    }
    return true;
  }

  // Down to which Z of the program, on what, with which thread or tolerance, and what is not as it should be.
  void details(std::size_t i, SheetOperation& row) const {
    const Operation& o = job_.operations[i];
    const PlannedOperation& planned = *plan_.operations[i];
    QStringList parts;
    double lowest = planned.path.safe_z;
    for (const Move& m : planned.path.moves)
      if (m.feed_mm_min > 0) lowest = std::min(lowest, m.z);
    const Setup* setup = setup_of(job_, o);
    if (!planned.path.moves.empty())
      parts << QObject::tr("down to Z %1").arg(length_with_unit(lowest - (setup ? setup->zero_z_mm.value_or(0) : 0)));
    QStringList keys;
    for (const FeatureUse& use : o.features) keys << text_of(use.key);
    constexpr qsizetype most = 4;
    if (keys.size() > most) keys = keys.mid(0, most) << QObject::tr("%1 more").arg(o.features.size() - most);
    if (!keys.isEmpty()) parts << keys.join(QStringLiteral(", "));
    QStringList sizes;
    for (const BoundHole& hole : planned.input.holes) {
      QString size = text_of(hole.thread);
      if (hole.diameter_mm > 0 && hole.thread.empty())
        size = QStringLiteral("Ø%1 %2").arg(length(hole.diameter_mm), text_of(hole.tolerance)).trimmed();
      if (!size.isEmpty() && !sizes.contains(size)) sizes << size;
    }
    parts << sizes.mid(0, most);
    if (const QStringList points = points_to_measure(o, planned, lowest); !points.isEmpty())
      parts << QObject::tr("Measure: %1").arg(points.join(QStringLiteral("; ")));
    row.details = parts.join(QStringLiteral(" · "));
    for (const Message& m : plan_.faults[i])
      if (m.severity == Severity::warning || m.code == "rest_corners") row.warnings << sentence(m, units_);
    row.warnings.removeDuplicates();
  }

  SheetCutter cutter(std::size_t i) const {
    const Operation& o = job_.operations[i];
    const ToolPlace& place = tools_.of[i];
    const ProgramTool tool = program_tool(state_, job_, o, place);
    SheetCutter c;
    c.t = QStringLiteral("T%1").arg(place.t);
    c.name = text_of(o.cutter.name);
    const Library* library = state_.libraries.find(o.cutter.library);
    if (!o.generic_cutter && o.cutter.number > 0)
      c.number = library ? QStringLiteral("%1 %2").arg(text_of(library->name)).arg(o.cutter.number)
                         : QString::number(o.cutter.number);
    QStringList sizes;
    if (o.cutter.diameter_mm) sizes << QStringLiteral("Ø %1").arg(length_with_unit(*o.cutter.diameter_mm));
    if (o.cutter.corner_radius_mm && *o.cutter.corner_radius_mm > 0)
      sizes << QStringLiteral("R %1").arg(length(*o.cutter.corner_radius_mm));
    if (o.cutter.flutes) sizes << QStringLiteral("z %1").arg(*o.cutter.flutes);
    if (o.cutter.flute_length_mm) sizes << QObject::tr("flute length %1").arg(length(*o.cutter.flute_length_mm));
    c.sizes = sizes.join(QStringLiteral("  "));
    QStringList made_of;
    if (o.cutter.tool_material) made_of << within_sentence(label_text(label_of(*o.cutter.tool_material)));
    if (!o.cutter.coating.empty()) made_of << text_of(o.cutter.coating);
    if (o.generic_cutter)
      c.fetch =
          QObject::tr("Generic: fetch a %1, %2")
              .arg(within_sentence(label_text(label_of(o.cutter.kind))), (sizes + made_of).join(QStringLiteral(", ")));
    QStringList held{made_of.join(QLatin1Char(' ')), text_of(tool.holder)};
    held.removeAll(QString());
    c.holder = held.join(QStringLiteral(" · "));
    if (place.assembly)
      if (const Collet* collet = state_.collets.find(place.assembly->collet))
        c.holder += QStringLiteral(", ") + text_of(collet->name);
    const auto planned = place.assembly && place.assembly->stickout_mm ? place.assembly->stickout_mm : o.stickout_mm;
    if (planned) c.planned = length_with_unit(*planned);
    if (tool.measured && tool.stickout_mm) c.measured = length_with_unit(*tool.stickout_mm);
    c.message = text_of(o.cutter.message);
    c.generic = o.generic_cutter;
    if (tools_.has_magazine && !place.standing) c.to_load = QObject::tr("Load into pocket %1").arg(place.t);
    const Cutter* kept = state_.cutters.find(o.cutter.id);
    const QString code = o.cutter.order_code.empty() ? QString() : QStringLiteral(": ") + text_of(o.cutter.order_code);
    if (!o.generic_cutter && !kept) c.missing = QObject::tr("No longer in a library") + code;
    else if (kept && kept->in_stock && *kept->in_stock <= 0) c.missing = QObject::tr("None in stock") + code;
    outlines(o, place, c);
    return c;
  }

  void outlines(const Operation& o, const ToolPlace& place, SheetCutter& c) const {
    for (const ProfileSegment& segment : silhouette(o.cutter)) {
      const int parts = segment.arc ? 8 : 1;
      if (c.cutter.empty()) c.cutter.emplace_back(0, segment.from.y);
      for (int k = 0; k <= parts; ++k) {
        const ProfilePoint at = point_on(segment, static_cast<double>(k) / parts);
        c.cutter.emplace_back(at.x, at.y);
      }
    }
    c.flutes_mm = o.cutter.flute_length_mm.value_or(0);
    const Holder* holder = place.assembly ? state_.holders.find(place.assembly->holder) : nullptr;
    const auto out = o.stickout_mm ? o.stickout_mm : place.assembly ? place.assembly->stickout_mm : std::nullopt;
    if (holder && out)
      for (const Station& s : holder->stations) c.holder_outline.emplace_back(s.diameter_mm / 2, *out + s.distance_mm);
  }

  const ShopState& state_;
  const PlanRequest& request_;
  const JobPlan& plan_;
  const Job& job_;
  UnitSystem units_;
  ToolPlan tools_;
  std::map<QString, double> seconds_of_;
};

}  // namespace

SetupSheet setup_sheet_of(const ShopState& state, const PlanRequest& request, const JobPlan& plan, UnitSystem units) {
  return Builder(state, request, plan, units).run();
}

}  // namespace pecorra
