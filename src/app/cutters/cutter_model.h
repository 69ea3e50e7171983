// Cutters of the chosen library with their conditions in the context: filtered by words, values and ranges, sorted by
// several columns. Conditions are calculated for visible rows.
#pragma once

#include <iterator>
#include <string_view>
#include <unordered_map>
#include <vector>

#include "app/cutters/catalogue.h"
#include "app/widgets/steady_table_model.h"
#include "app/workspace.h"
#include "core/library/cutter_find.h"

namespace pecorra {

class CutterModel : public SteadyTableModel {
  Q_OBJECT
 public:
  // After the number come columns that show one property each, hidden by default.
  enum Column {
    icon,
    speed,
    feed,
    mark,
    name,
    diameter,
    reach,
    flutes,
    made_of,
    assembly,
    removal,
    number,
    library_name,
    first_property
  };
  static constexpr std::string_view property_columns[] = {"corner_radius_mm",
                                                          "flute_length_mm",
                                                          "shank_diameter_mm",
                                                          "overall_length_mm",
                                                          "helix_deg",
                                                          "coating",
                                                          "quality",
                                                          "thread",
                                                          "maker",
                                                          "series",
                                                          "order_code",
                                                          "price",
                                                          "in_stock",
                                                          "wanted",
                                                          "on_order",
                                                          "retired",
                                                          "notes"};
  static constexpr int column_count = first_property + static_cast<int>(std::size(property_columns));
  enum Role { mark_role = Qt::UserRole, reason_role, draft_role, breach_role };
  struct SortBy {
    int column = number;
    bool down = false;
    bool operator==(const SortBy&) const = default;
  };

  CutterModel(Workspace& workspace, QObject* parent = nullptr);
  // One library, or all that are switched on.
  void set_library(const std::optional<Id>& library);
  void set_text(const QString& text);
  void set_filter(const CutterFilter& filter);
  const CutterFilter& filter() const { return filter_; }
  void set_only_to_look_at(bool only);
  // Only possible duplicates, side by side.
  void set_only_alike(bool only);
  // How a column is called in the list of columns.
  QString column_name(int section) const;
  // The property that a column shows and that can be filtered by; none: it shows something worked out.
  static std::string_view key_of_column(int column);
  const Cutter* cutter_at(int row) const;
  std::optional<Id> library() const { return library_; }
  // Every value of a property among what everything else lets through, with how many have it; the most frequent first.
  // For ids as text their names.
  struct ValueCount {
    std::string value;
    int count = 0;
  };
  std::vector<ValueCount> value_counts(std::string_view key) const;

  int columnCount(const QModelIndex& = {}) const override { return column_count; }
  QVariant data(const QModelIndex& index, int role) const override;
  QVariant headerData(int section, Qt::Orientation orientation, int role) const override;
  Qt::ItemFlags flags(const QModelIndex& index) const override;
  QStringList mimeTypes() const override;
  QMimeData* mimeData(const QModelIndexList& indexes) const override;
  Qt::DropActions supportedDragActions() const override { return Qt::MoveAction | Qt::CopyAction; }
  void sort(int column, Qt::SortOrder order) override;
  void set_sort(std::vector<SortBy> by);
  const std::vector<SortBy>& sorting() const { return sort_; }
  // By this column; again: the other way round. `further`: behind the columns it is sorted by already.
  void sort_by(int column, bool further = false);

 private:
  void follow_data();
  void arrange();    // the order of all cutters
  void judge_all();  // which ones pass all but the words
  bool passes(std::size_t place) const;
  void show();
  const Resolution& resolution(std::size_t place) const;
  double worst_used(std::size_t place) const;
  QString heading(int section) const;
  double sort_value(std::size_t place, int column) const;
  const std::string* sort_text(const Cutter& cutter, int column) const;
  bool before(std::size_t a, std::size_t b, std::size_t first) const;
  static const Property<Cutter>* property_of(int column);
  Qt::Alignment alignment(int column) const;

  Workspace& workspace_;
  std::optional<Id> library_;
  QString text_;
  CutterFilter filter_;
  bool only_to_look_at_ = false, only_alike_ = false;
  std::vector<SortBy> sort_{{number, false}};
  std::vector<std::uint32_t> order_;
  std::vector<std::uint8_t> passing_;
  static constexpr std::uint32_t nobody = ~std::uint32_t{0};
  std::vector<std::uint32_t> like_head_;  // of those that are alike, the first one; else nobody
  CutterCatalogue::Follower followed_;
  std::uint64_t libraries_version_ = ~std::uint64_t{0};
  Id kept_;  // changed under a filter that would hide it now
  mutable std::unordered_map<std::size_t, Resolution> resolutions_;
  mutable std::unordered_map<std::size_t, double> used_;
};

}  // namespace pecorra
