#include "shop/feature_edit.h"

#include <QObject>
#include <algorithm>
#include <cmath>

#include "core/geometry/region.h"
#include "core/quantity/entry.h"
#include "core/quantity/print.h"
#include "core/thread/thread.h"
#include "shop/edit.h"
#include "shop/job_objects.h"
#include "shop/shop.h"
#include "shop/words.h"

namespace pecorra {
namespace {

bool is_taken(const Job& job, const std::string& key) {
  const std::vector<std::string> keys = feature_keys(job);
  return find_feature(job, key) || std::find(keys.begin(), keys.end(), key) != keys.end();
}

// "Pocket 1", or the next number that is free.
std::string free_key(const Job& job, const QString& name) {
  for (int i = 1;; ++i)
    if (std::string key = QStringLiteral("%1 %2").arg(name).arg(i).toStdString(); !is_taken(job, key)) return key;
}

Feature* feature_in(Job& job, const std::string& key) {
  for (Feature& f : job.features)
    if (f.key == key) return &f;
  return nullptr;
}

// How many closed lines lie around each; circles are left out.
struct Nested {
  const JobLine* line;
  std::vector<Point2> ring;
  double area = 0;
  int around = 0;
  std::size_t parent = 0;
};

constexpr std::size_t most_guessed = 2000;

std::vector<Nested> nested(const std::vector<JobLine>& lines) {
  std::vector<Nested> all;
  for (const JobLine& line : lines)
    if (line.contour->closed && !line.is_circle() && all.size() < most_guessed) {
      all.push_back({&line, flattened(*line.contour, 0.05)});
      all.back().area = std::abs(signed_area(all.back().ring));
    }
  std::stable_sort(all.begin(), all.end(), [](const Nested& a, const Nested& b) { return a.area > b.area; });
  for (std::size_t i = 0; i < all.size(); ++i)
    for (std::size_t k = 0; k < i; ++k)
      if (all[k].ring.size() > 2 && !all[i].ring.empty() && encloses(all[k].ring, all[i].ring.front())) {
        ++all[i].around;
        all[i].parent = k;
      }
  return all;
}

}  // namespace

void add_guessed_features(Job& job) {
  const std::vector<JobLine> lines = lines_of(job);
  const std::vector<Nested> all = nested(lines);
  std::vector<Feature> guessed;
  for (std::size_t i = 0; i < all.size(); ++i) {
    if (all[i].around % 2 == 0) continue;
    Feature f;
    f.kind = FeatureKind::pocket;
    f.outline = use_of(job, all[i].line->key);
    for (std::size_t k = i + 1; k < all.size(); ++k)
      if (all[k].around == all[i].around + 1 && all[k].parent == i) f.islands.push_back(use_of(job, all[k].line->key));
    guessed.push_back(std::move(f));
  }
  // Circles by layer and diameter, in the order of the file.
  std::vector<std::pair<std::pair<std::string, double>, std::vector<const JobLine*>>> groups;
  for (const JobLine& line : lines) {
    if (!line.is_circle()) continue;
    const std::string layer = line.key.substr(0, line.key.find_last_of('/'));
    const auto same = std::find_if(groups.begin(), groups.end(), [&](const auto& group) {
      return group.first.first == layer && std::abs(group.first.second - line.diameter_mm) < 1e-4;
    });
    if (same != groups.end()) same->second.push_back(&line);
    else groups.push_back({{layer, line.diameter_mm}, {&line}});
  }
  for (const auto& [what, circles] : groups) {
    Feature f;
    f.kind = FeatureKind::holes;
    for (const JobLine* circle : circles) f.circles.push_back(use_of(job, circle->key));
    guessed.push_back(std::move(f));
  }
  for (Feature& f : guessed) {
    f.key = free_key(job, label_text(label_of(f.kind)));
    job.features.push_back(std::move(f));
  }
}

namespace {

// Beside the holes that are there: to the right, row by row.
Point2 free_place(const Job& job, Point2 first) {
  constexpr double apart_mm = 20;
  constexpr int in_a_row = 10;
  std::vector<Point2> taken;
  for (const Feature& f : job.features)
    if (f.kind == FeatureKind::holes) taken.insert(taken.end(), f.at.begin(), f.at.end());
  const auto is_free = [&](Point2 p) {
    return std::none_of(taken.begin(), taken.end(),
                        [&](const Point2& t) { return std::hypot(t.x - p.x, t.y - p.y) < apart_mm / 2; });
  };
  Point2 place = first;
  for (int i = 1; !is_free(place) && i <= static_cast<int>(taken.size()) + in_a_row * in_a_row; ++i)
    place = {first.x + apart_mm * (i % in_a_row), first.y - apart_mm * (i / in_a_row)};
  return place;
}

}  // namespace

NewFeature added_feature(const Job& job, FeatureKind kind, const std::vector<std::string>& lines) {
  Job changed = job;
  Feature f;
  f.kind = kind;
  f.id = new_id();
  f.key = free_key(job, label_text(label_of(kind)));
  const StockBlock stock = stock_of(job, job.setups.empty() ? nullptr : &job.setups.front());
  const double x = std::round((stock.plan.low_x + stock.plan.high_x) / 2),
               y = std::round((stock.plan.low_y + stock.plan.high_y) / 2);
  const double wide = stock.plan.width() > 0 ? stock.plan.width() : 100,
               deep = stock.plan.depth() > 0 ? stock.plan.depth() : 60;
  const auto half = [](double of) { return std::max(1.0, std::round(of / 2)); };
  f.x_mm = x;
  f.y_mm = y;
  switch (kind) {
    case FeatureKind::line:
      f.line = {true,
                {{x - half(wide) / 2, y - half(deep) / 2, 0},
                 {x + half(wide) / 2, y - half(deep) / 2, 0},
                 {x, y + half(deep) / 2, 0}}};
      break;
    case FeatureKind::rectangle: f.length_mm = half(wide), f.width_mm = half(deep); break;
    case FeatureKind::circle: f.diameter_mm = half(std::min(wide, deep)); break;
    case FeatureKind::slot: f.length_mm = half(wide), f.width_mm = std::min(10.0, half(wide) / 2); break;
    case FeatureKind::text: f.text = "TEXT", f.height_mm = 6; break;
    case FeatureKind::face: f.depth_mm = 1; break;
    case FeatureKind::pocket:
      for (const std::string& key : lines)
        if (f.outline.key.empty()) f.outline = use_of(job, key);
        else f.islands.push_back(use_of(job, key));
      break;
    case FeatureKind::holes:
      f.through = true;
      for (const std::string& key : lines) f.circles.push_back(use_of(job, key));
      if (lines.empty()) f.at = {free_place(job, {x, y})}, f.diameter_mm = 8;
      break;
  }
  const auto asked = fields_of(kind);
  if (std::find(asked.begin(), asked.end(), "x_mm") == asked.end() || !f.circles.empty())
    f.x_mm.reset(), f.y_mm.reset();
  shape(f);
  NewFeature made{{}, f.key};
  const QString name = text_of(f.key);
  changed.features.push_back(std::move(f));
  made.change = job_change(QObject::tr("New feature: %1").arg(name), job, changed);
  return made;
}

NewFeature copied_feature(const Job& job, const std::string& key) {
  const Feature* from = find_feature(job, key);
  if (!from) return {};
  Job changed = job;
  Feature copy = *from;
  copy.id = new_id();
  copy.rank = 0;
  copy.key = free_key(job, label_text(label_of(copy.kind)));
  NewFeature made{{}, copy.key};
  changed.features.push_back(std::move(copy));
  made.change = job_change(QObject::tr("Copied %1: %2").arg(text_of(key), text_of(made.key)), job, changed);
  return made;
}

Change hole_dragged(const Job& job, const std::string& key, std::size_t hole, Point2 to, bool whole) {
  Job changed = job;
  Feature* f = feature_in(changed, key);
  if (!f || hole >= f->at.size()) return {};
  *f = with_hole_at(*f, hole, to, whole);
  return job_change(whole || f->pattern == HolePattern::places ? QObject::tr("%1: moved").arg(text_of(key))
                                                               : QObject::tr("%1: pattern dragged").arg(text_of(key)),
                    job, changed);
}

Change without_features(const Job& job, const std::vector<std::string>& keys) {
  Job changed = job;
  std::erase_if(changed.features,
                [&](const Feature& f) { return std::find(keys.begin(), keys.end(), f.key) != keys.end(); });
  if (changed.features.size() == job.features.size()) return {};
  return job_change(keys.size() == 1 ? QObject::tr("Deleted feature %1").arg(text_of(keys.front()))
                                     : QObject::tr("Deleted %1 features").arg(static_cast<int>(keys.size())),
                    job, changed);
}

tl::expected<Change, QString> edited_feature(const Job& job, const std::string& key, const Property<Feature>& property,
                                             const Value& value, const std::string& typed, UnitSystem units) {
  Job changed = job;
  Feature* f = feature_in(changed, key);
  if (!f) return Change{};
  const Feature before = *f;
  *f = edited(before, property, value, typed, units);
  if (property.key == "key" && f->key != before.key) {
    if (f->key.empty()) return tl::unexpected(QObject::tr("A feature needs a name."));
    if (is_taken(job, f->key)) return tl::unexpected(QObject::tr("“%1” is used already.").arg(text_of(f->key)));
    const std::string name = f->key;
    const auto rename = [&](FeatureUse& use) {
      if (use.key == before.key) use.key = name;
    };
    for (Operation& o : changed.operations)
      for (FeatureUse& use : o.features) rename(use);
    for (Feature& other : changed.features) {
      rename(other.outline);
      for (FeatureUse& use : other.islands) rename(use);
    }
    for (Setup& setup : changed.setups)
      for (Clamp& clamp : setup.clamps) rename(clamp.outline);
  }
  if (property.key == "outline") accept_lines(changed, *f);
  // A thread says how wide it is drilled; what was typed stays.
  if (property.key == "thread" && !f->thread.empty() && !f->typed.contains("diameter_mm") && parse_thread(f->thread))
    f->diameter_mm.reset();
  // Who types how deep it is does not want it through, as new holes are.
  if (property.key == "depth_mm" && f->depth_mm && f->through) f->through = false, f->typed.erase("through");
  // What was spaced stays where it is when single places are chosen.
  const std::vector<Point2> at = f->at;
  shape(*f);
  if (property.key == "pattern" && f->pattern == HolePattern::places && f->at.empty()) f->at = at;
  return job_change(text_of(before.key) + QStringLiteral(": ") + edit_label(before, *f, property, units), job, changed);
}

Change feature_with_points(const Job& job, const std::string& key, std::vector<Vertex> points, bool closed,
                           std::map<std::string, std::string, std::less<>> typed, const QString& what) {
  Job changed = job;
  Feature* f = feature_in(changed, key);
  if (!f) return {};
  f->typed = std::move(typed);
  if (f->kind == FeatureKind::holes) {
    f->at.clear();
    for (const Vertex& v : points) f->at.push_back({v.x, v.y});
  } else {
    f->line = {closed, std::move(points)};
  }
  shape(*f);
  return job_change(text_of(key) + QStringLiteral(": ") + what, job, changed);
}

tl::expected<Change, QString> feature_line_clicked(const Job& job, const std::string& key, const std::string& line,
                                                   bool alone) {
  Job changed = job;
  Feature* f = feature_in(changed, key);
  const JobIndex index(job);
  const JobLine* clicked = index.line(line);
  if (!f || !clicked || line == key) return Change{};
  const auto toggle = [&](std::vector<FeatureUse>& uses, const std::string& which) {
    if (std::erase_if(uses, [&](const FeatureUse& use) { return use.key == which; }) == 0)
      uses.push_back(use_of(job, which));
  };
  if (f->kind == FeatureKind::pocket) {
    if (!clicked->contour->closed) return tl::unexpected(QObject::tr("This line is open; pick a closed one."));
    if (f->outline.key.empty()) f->outline = use_of(job, line);
    else if (f->outline.key == line) f->outline = {};
    else toggle(f->islands, line);
  } else if (f->kind == FeatureKind::holes) {
    if (!clicked->is_circle()) return tl::unexpected(QObject::tr("Holes are drilled at circles; this is a line."));
    const bool out =
        std::any_of(f->circles.begin(), f->circles.end(), [&](const FeatureUse& u) { return u.key == line; });
    for (const std::string& same : alone ? std::vector<std::string>{line} : circles_of(job, clicked->diameter_mm)) {
      const bool there =
          std::any_of(f->circles.begin(), f->circles.end(), [&](const FeatureUse& u) { return u.key == same; });
      if (there == out) toggle(f->circles, same);
    }
  } else {
    return tl::unexpected(
        QObject::tr("%1 is defined by its dimensions; only pockets and holes are made from lines.").arg(text_of(key)));
  }
  shape(*f);
  return job_change(QObject::tr("%1: %2 picked").arg(text_of(key), text_of(line)), job, changed);
}

tl::expected<std::vector<Point2>, QString> places_in(const QString& text, UnitSystem units) {
  std::vector<Point2> places;
  int number = 0;
  for (const QString& line : text.split(QLatin1Char('\n'))) {
    ++number;
    const QString clean = line.trimmed();
    if (clean.isEmpty()) continue;
    QStringList cells;
    for (const QChar separator : {QLatin1Char('\t'), QLatin1Char(';'), QLatin1Char(' '), QLatin1Char(',')})
      if (clean.contains(separator)) {
        cells = clean.split(separator, Qt::SkipEmptyParts);
        break;
      }
    const auto wrong = [&] {
      return tl::unexpected(
          QObject::tr("Line %1, “%2”, is no place; expected X and Y").arg(number).arg(clean.left(40)));
    };
    if (cells.size() < 2) return wrong();
    const auto x = parse_entry(cells[0].trimmed().toStdString(), Quantity::length, units),
               y = parse_entry(cells[1].trimmed().toStdString(), Quantity::length, units);
    if (!x || !y) {
      if (places.empty() && number == 1) continue;  // a heading
      return wrong();
    }
    places.push_back({x->stored, y->stored});
  }
  if (places.empty()) return tl::unexpected(QObject::tr("Nothing to paste; expected X and Y of each place on a line"));
  return places;
}

}  // namespace pecorra
