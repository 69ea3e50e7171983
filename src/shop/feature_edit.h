// The edits of a job's features as changes: stated by numbers, or put together from lines of the drawing.
#pragma once

#include "shop/change.h"

namespace pecorra {

// Closed lines within the outline become pockets with what lies within them as islands; circles of one layer and
// diameter become holes. Guesses, for people to correct.
void add_guessed_features(Job& job);

struct NewFeature {
  Change change;
  std::string key;
};
// With usual sizes in the middle of the stock; `lines`: what it is made of, of the drawing.
NewFeature added_feature(const Job& job, FeatureKind kind, const std::vector<std::string>& lines = {});
NewFeature copied_feature(const Job& job, const std::string& key);
Change without_features(const Job& job, const std::vector<std::string>& keys);

// Sets one property, as typed; a new name goes to all that refer to it. Fails with the reason.
tl::expected<Change, QString> edited_feature(const Job& job, const std::string& key, const Property<Feature>& property,
                                             const Value& value, const std::string& typed, UnitSystem units);
// Its points, or the places of its holes, with what was typed in their cells.
Change feature_with_points(const Job& job, const std::string& key, std::vector<Vertex> points, bool closed,
                           std::map<std::string, std::string, std::less<>> typed, const QString& what);
// One of its holes pulled to a place, or all of them moved by as much; see with_hole_at().
Change hole_dragged(const Job& job, const std::string& key, std::size_t hole, Point2 to, bool whole);
// Adds a line of the drawing to a pocket or to holes, or takes it away. Fails with the reason.
tl::expected<Change, QString> feature_line_clicked(const Job& job, const std::string& key, const std::string& line,
                                                   bool alone);

// Places from a text, as copied from a spreadsheet: X and Y of each on a line. Numbers may have a unit; `units` where
// they have none. Fails naming the line.
tl::expected<std::vector<Point2>, QString> places_in(const QString& text, UnitSystem units);

}  // namespace pecorra
