// A preview of changes, line by line, each of which can be skipped: imported lines, one property of many cutters, new
// numbers. Nothing changes until they are applied.
#pragma once

#include <QAbstractTableModel>
#include <QLabel>
#include <QPushButton>
#include <QTableView>
#include <memory>

#include "app/widgets/switch_row.h"
#include "app/workspace.h"
#include "core/transfer/merge.h"
#include "shop/words.h"

namespace pecorra {

// What is shown; whoever makes it knows what the lines are.
class ChangeLines {
 public:
  virtual ~ChangeLines() = default;
  virtual std::size_t size() const = 0;
  virtual MergeState state(std::size_t i) const = 0;
  virtual QString line(std::size_t i) const = 0;  // its number in the file, or of the cutter
  virtual bool picked(std::size_t i) const = 0;
  virtual void pick(std::size_t i, bool picked) = 0;
  virtual QString what(std::size_t i) const = 0;
  virtual QString change(std::size_t i) const = 0;
  virtual QString take_text(int picked) const = 0;  // on the button
  virtual void take() = 0;
  // Very many lines are applied on another thread, which returns the rest of the work for this one. Nothing: take() is
  // quick.
  using Finish = std::function<void()>;
  static constexpr std::size_t very_many_lines = 3000;
  virtual std::function<Finish()> take_aside() { return {}; }
  // What else can be done with the lines that are not picked; nothing where the text is empty.
  virtual QString other_text(int) const { return {}; }
  virtual QString other_hint() const { return {}; }
  virtual void take_other() {}
  virtual QString line_heading() const { return QObject::tr("Line"); }
  virtual QString counts_text(const int (&counts)[5]) const;
  // What is wrong with a line, or in its way.
  template <class T>
  static QStringList said_of(const SheetLine<T>& line) {
    QStringList parts;
    if (!line.why.empty()) parts << reader_text(line.why);
    for (const CellFault& f : line.faults)
      parts << QObject::tr("column %1: %2").arg(text_of(f.column), reader_text(f.text));
    return parts;
  }
  bool can_be_picked(std::size_t i) const { return state(i) != MergeState::faulty && state(i) != MergeState::same; }
};

class ChangePreview : public QWidget {
  Q_OBJECT
 public:
  ChangePreview(Workspace& workspace, QWidget* parent = nullptr);
  // `from`: the file's name, or what else the changes come from; `unknown`: columns that are left out.
  void show_lines(std::unique_ptr<ChangeLines> lines, const QString& title, const QString& from,
                  const QStringList& unknown = {});
  const ChangeLines* lines() const;
  void start_taking();  // Enter applies what is ticked, if anything is
  void pick(std::size_t line, bool picked);
  int picked() const;
  void take();
  void take_other();
  void leave();
  QTableView& table() { return *view_; }
  void show_all();  // lines that need nothing too

 signals:
  void done();  // applied or cancelled
  void said(const QString& what, bool fault);

 private:
  void refresh();
  void drop();  // the shop is not what it was when they were made
  void set_usable(bool usable);
  enum Shown { to_take, all_lines, only_faults };

  class Model;
  Workspace& workspace_;
  Model* model_;
  QLabel *title_, *counts_, *unknown_;
  SwitchRow* shown_;
  QTableView* view_;
  QPushButton *take_, *other_, *leave_, *all_, *none_;
  bool is_taking_ = false;
  bool is_aside_ = false, has_changed_ = false;  // while they are taken on another thread
  QString from_;
};

}  // namespace pecorra
