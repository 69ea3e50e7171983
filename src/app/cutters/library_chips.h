// The libraries in a row, one or all selected; cutters can be dropped on each, and a right-click shows its actions.
#pragma once

#include <QPushButton>
#include <QWidget>
#include <functional>
#include <vector>

#include "app/workspace.h"

namespace pecorra {

class PickList;
class SharedLibraries;

class LibraryChips : public QWidget {
  Q_OBJECT
 public:
  LibraryChips(Workspace& workspace, SharedLibraries& shared, QWidget* parent = nullptr);
  std::optional<Id> current() const { return current_; }
  void set_current(const std::optional<Id>& library);
  // The actions of one library, or of all.
  void open_actions(const std::optional<Id>& library);
  // Asks for a name, then makes it.
  void new_library();
  void rename(const Id& library);
  void copy(const Id& library);
  void switch_on(const Id& library, bool on);
  void remove(const Id& library);
  bool eventFilter(QObject* object, QEvent* event) override;

 signals:
  void chosen(const std::optional<pecorra::Id>& library);
  void dropped(const std::vector<pecorra::Id>& cutters, const pecorra::Id& library, bool copy);
  void import_wanted(const std::optional<pecorra::Id>& library);
  void export_wanted(const std::optional<pecorra::Id>& library);
  void share_wanted(const pecorra::Id& library);  // or its file is somewhere else
  void open_shared_wanted();
  void stock_sheet_wanted();
  void look_wanted(const pecorra::Id& library);

 private:
  void rebuild();
  QPushButton* chip_of(const std::optional<Id>& library) const;
  void ask_name(QWidget* under, const QString& hint, std::function<void(const QString&)> named);

  Workspace& workspace_;
  SharedLibraries& shared_;
  std::optional<Id> current_;
  struct Chip {
    std::optional<Id> library;
    QString text;
    bool on = true;
    QString file{};  // that it is shared as
    int waiting = 0;
    bool trouble = false;
    bool operator==(const Chip&) const = default;
  };
  std::vector<Chip> chips_;
  std::vector<QPushButton*> buttons_;
  QPushButton* add_;
  PickList* list_ = nullptr;
};

}  // namespace pecorra
