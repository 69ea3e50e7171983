// The list of cutters, each with its speed and feed for the context line.
#pragma once

#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QStackedWidget>
#include <QTableView>
#include <QWidget>
#include <optional>

#include "app/cutters/cutter_model.h"
#include "app/cutters/filter_chips.h"
#include "app/cutters/library_chips.h"
#include "app/widgets/fit_columns.h"

namespace pecorra {

class BulkChange;
class CutterImport;
class PickList;
class SharedLibraries;
class ChangePreview;

class CuttersPage : public QWidget {
  Q_OBJECT
 public:
  CuttersPage(Workspace& workspace, QWidget* parent = nullptr);

  // Kind first: asks which, then makes it.
  void new_cutter();
  void make_cutter(CutterKind kind);
  void copy_cutter();
  void delete_cutter();
  // Those that are selected, in the order of the list.
  std::vector<Id> selected() const;
  void select(const std::vector<Id>& cutters);
  void move_selected(const Id& library, bool copy);
  // Asks for the library.
  void choose_target(bool copy);
  void mark_favourites();
  void choose_filter() { chips_->choose_property(narrow_); }
  std::vector<Id> shown() const;
  void change_many();
  // For the selected ones; all that are shown when it is one.
  void free_numbers();
  void import_file(const QString& file, const std::optional<Id>& library);
  void open_actions();
  enum View { list, importing, changing, sharing };
  View view() const { return view_; }
  void show_view(View view);
  // Changes by others in the library's file, for review.
  void look_at_shared(const Id& library);
  SharedLibraries& shared() { return *shared_; }
  ChangePreview& shared_changes();
  CutterImport& import();
  BulkChange& bulk();
  FilterChips& filters() { return *chips_; }
  LibraryChips& libraries() { return *libraries_; }
  void focus_filter();
  void focus_list();
  // Selects it, taking away a filter or library that hides it.
  void show_cutter(const Id& cutter);
  // Cycles through drafts and cutters with warnings.
  void show_next_to_look_at();
  // Which columns are seen, their order and widths; library and filters; for the next start.
  void remember() const;
  void choose_columns();
  void show_alike() { only_alike_->toggle(); }
  QTableView& table() { return *table_; }
  bool eventFilter(QObject* object, QEvent* event) override;
  void sort_by(CutterModel::Column column) { model_->sort_by(column); }

 signals:
  void said(const QString& what, bool fault);
  void import_wanted(const std::optional<pecorra::Id>& library);
  void export_wanted(const std::optional<pecorra::Id>& library);
  void share_wanted(const pecorra::Id& library);
  void open_shared_wanted();
  void stock_sheet_wanted();
  void cutter_made();  // its sizes are wanted now
  void open_sizes();

 private:
  void recall();
  // A page beside the list, made on first use.
  void add_page(View view, const QString& heading, QWidget* content);
  // The name takes the remaining width but stays readable; then the list scrolls sideways.
  void fit_name();
  void fit_columns();
  void follow_selection();
  bool is_empty_library() const;
  void refresh_title();
  Id target_library() const;

  Workspace& workspace_;
  CutterModel* model_;
  QTableView* table_;
  bool own_widths_ = false, fitting_ = false;
  TextWidths texts_;
  std::optional<UnitSystem> fitted_units_;
  QLabel *title_, *count_, *empty_;
  QLineEdit* filter_;
  SharedLibraries* shared_;
  LibraryChips* libraries_;
  FilterChips* chips_;
  QPushButton *new_, *only_open_, *only_alike_, *columns_, *narrow_, *kept_;
  PickList *column_list_ = nullptr, *actions_ = nullptr;
  QStackedWidget* stack_;
  CutterImport* import_ = nullptr;  // made on first use
  BulkChange* bulk_ = nullptr;
  ChangePreview* shared_changes_ = nullptr;
  QWidget* view_pages_[4] = {};
  View view_ = list;
};

}  // namespace pecorra
