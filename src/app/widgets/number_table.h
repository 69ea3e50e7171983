// A short table of numbers that people type: stations of a holder, sections of a shank, points of a power curve. What
// cannot be understood or does not fit stays in its cell with what is wrong below; whoever uses it keeps the rows.
#pragma once

#include <QLabel>
#include <QPushButton>
#include <QTableWidget>
#include <functional>
#include <map>
#include <string>
#include <vector>

#include "core/base/property.h"
#include "core/quantity/units.h"

namespace pecorra {

class NumberTable : public QWidget {
  Q_OBJECT
 public:
  using Rows = std::vector<std::vector<double>>;  // in the units of storage
  // What was typed, as it is kept with an object: "stations[2][1]" -> "1-1/2 in".
  using Typed = std::map<std::string, std::string, std::less<>>;

  // `name`: of one row, for buttons and tests: "Station"; `key`: under which texts are kept. `columns`: without their
  // unit; lengths where `quantities` does not say otherwise.
  NumberTable(const QString& heading, const QString& name, const std::string& key, const QStringList& columns,
              std::vector<Quantity> quantities = {}, QWidget* parent = nullptr);

  void show_rows(const Rows& rows, const Typed& typed, UnitSystem units);
  void say(const QString& fault);  // about what is kept
  // What is wrong with rows before they are accepted; empty: nothing.
  void set_check(std::function<QString(const Rows&)> check) { check_ = std::move(check); }
  // A new row, put in at this place.
  void set_proposal(std::function<std::vector<double>(const Rows&, std::size_t)> propose) {
    propose_ = std::move(propose);
  }
  QTableWidget& table() { return *table_; }
  void start(int row, int column);  // what is typed next goes there

 signals:
  // `typed`: all that the object keeps, with what changed here; `what`: "Station 2 added".
  void accepted(const std::vector<std::vector<double>>& rows,
                const std::map<std::string, std::string, std::less<>>& typed, const QString& what);
  void row_entered(int row);
  void finished();  // Enter in the last cell

 protected:
  bool eventFilter(QObject* watched, QEvent* event) override;

 private:
  void go_on(bool new_row);
  void accept_cell(int row, int column);
  void add_row();
  void remove_row();

  std::string cell_key(std::size_t row, std::size_t column) const;
  // The texts with one row more at `place`, or one less.
  Typed moved(std::size_t place, bool in) const;

  QString name_;
  std::string key_;
  QStringList columns_;
  std::vector<Quantity> quantities_;
  Rows rows_;
  Typed typed_;
  UnitSystem units_ = UnitSystem::metric;
  QTableWidget* table_;
  QPushButton* remove_;
  QLabel* fault_;
  std::function<QString(const Rows&)> check_;
  std::function<std::vector<double>(const Rows&, std::size_t)> propose_;
  bool filling_ = false;
};

}  // namespace pecorra
