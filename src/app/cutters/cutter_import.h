// Import of cutters: read in the background with progress and cancel, columns can be reassigned, every line is compared
// with the shop, then applied as one step.
#pragma once

#include <QHBoxLayout>
#include <QProgressBar>
#include <QScrollArea>
#include <QTimer>
#include <atomic>

#include "app/widgets/change_preview.h"
#include "shop/library_file.h"

namespace pecorra {

class PickList;

class CutterImport : public QWidget {
  Q_OBJECT
 public:
  CutterImport(Workspace& workspace, QWidget* parent = nullptr);
  ~CutterImport() override;
  // Into that library; none: a new one of the file's name.
  void read(const QString& file, const std::optional<Id>& library);
  bool is_reading() const { return work_ != nullptr; }
  ChangePreview& preview() { return *preview_; }
  const IncomingCutters& incoming() const { return *incoming_; }
  // What a column of the sheet is for: a key of column_key(), or empty.
  void set_column(std::size_t column, const std::string& key);

 signals:
  void started();
  void done();
  void said(const QString& what, bool fault);

 private:
  struct Result {
    std::shared_ptr<IncomingCutters> incoming;
    CutterPreview preview;
    std::shared_ptr<const ShopState> before;
  };
  void begin(std::function<Result(const Progress&)> work);
  void arrived(Result result);
  void show_columns();
  void choose_column(std::size_t column, QWidget* under);
  void choose_library();
  Library target() const;
  KnownNames names() const { return known_names(workspace_.state()); }

  Workspace& workspace_;
  QString file_, name_;
  std::optional<Id> library_;
  Library fresh_;  // where there is none yet
  std::shared_ptr<IncomingCutters> incoming_;
  TaskPointer work_;
  QTimer progress_timer_;
  QWidget* waiting_;
  QLabel *waiting_text_, *columns_text_;
  QProgressBar* bar_;
  QPushButton *cancel_, *into_;
  QScrollArea* columns_;
  ChangePreview* preview_;
  PickList* list_ = nullptr;
};

}  // namespace pecorra
