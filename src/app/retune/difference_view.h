// A program as it is and as it becomes, line beside line: only speeds and feeds that differ are lit. Of any length.
#pragma once

#include <QAbstractScrollArea>
#include <memory>

#include "shop/retune_file.h"

namespace pecorra {

class DifferenceView : public QAbstractScrollArea {
  Q_OBJECT
 public:
  explicit DifferenceView(QWidget* parent = nullptr);
  void show_program(std::shared_ptr<const RetunedFile> program);
  // Lights a section's lines, and scrolls to its first.
  void show_section(int section, bool scroll = true);
  void show_block(std::size_t block);
  // The next line that changes, from the one in front; false: there is none.
  bool next_change(bool backwards);
  std::size_t front() const { return front_; }

 signals:
  void block_chosen(std::size_t block);

 protected:
  void paintEvent(QPaintEvent* event) override;
  void resizeEvent(QResizeEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;
  bool viewportEvent(QEvent* event) override;

 private:
  void measure();
  int line_height() const;
  // Room for line numbers and the mark of a changed line.
  int margin() const;
  std::optional<std::size_t> block_at(int y) const;
  void keep_in_sight(std::size_t block);

  std::shared_ptr<const RetunedFile> program_;
  int section_ = -1;
  std::size_t front_ = 0;
};

}  // namespace pecorra
