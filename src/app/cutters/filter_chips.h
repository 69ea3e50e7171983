// Filters of the cutter list besides words: each criterion is a removable chip, chosen from values with counts or as a
// range; can be saved by name.
#pragma once

#include <QPushButton>
#include <QWidget>
#include <map>

#include "app/cutters/cutter_model.h"

namespace pecorra {

class PickList;

class FilterChips : public QWidget {
  Q_OBJECT
 public:
  FilterChips(Workspace& workspace, CutterModel& model, QWidget* parent = nullptr);
  // A property to filter by; then its values with counts, or a range to type.
  void choose_property(QWidget* under);
  void choose_values(const std::string& key, const QPoint& at);
  void clear();
  void set_filter(const CutterFilter& filter);  // shows and applies it
  // As saved in the settings: words, values and ranges.
  QString saved_text(const QString& words) const;
  void restore(const QString& saved);
  void open_saved(QWidget* under);

 signals:
  void changed();
  void words_wanted(const QString& words);  // of a saved filter
  void said(const QString& what, bool fault);

 private:
  void rebuild();
  void remove(const std::string& key);
  QString text_of_criterion(const std::string& key) const;
  QString value_label(const std::string& key, const std::string& value) const;
  QString words_;

  Workspace& workspace_;
  CutterModel& model_;
  PickList* list_ = nullptr;

 public:
  void set_words(const QString& words) { words_ = words; }
};

}  // namespace pecorra
