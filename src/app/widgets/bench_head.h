// The top of a bench: a number, a title, room for a button, and a quiet line below.
#pragma once

#include <QHBoxLayout>
#include <QLabel>
#include <QVBoxLayout>

#include "app/look/look.h"
#include "app/widgets/eliding_label.h"
#include "app/widgets/wrapped_label.h"

namespace pecorra {

// The paper of a bench, and the column of what stands on it.
inline QVBoxLayout* bench_column(QWidget* bench) {
  bench->setAutoFillBackground(true);
  bench->setBackgroundRole(QPalette::Base);
  auto* column = new QVBoxLayout(bench);
  column->setContentsMargins(16, 12, 8, 6);
  column->setSpacing(4);
  return column;
}

class BenchHead : public QWidget {
 public:
  explicit BenchHead(const QString& title_name) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(4);
    row_ = new QHBoxLayout;
    row_->setSpacing(8);
    number_->setFont(Look::get().text(13));
    title_->setFont(Look::get().text(16, true));
    title_->setObjectName(title_name);
    subtitle_->setFont(Look::get().text(12));
    set_tone(number_, Tone::quiet);
    set_tone(subtitle_, Tone::quiet);
    row_->addWidget(number_);
    row_->addWidget(title_, 1);
    column->addLayout(row_);
    column->addWidget(subtitle_);
    fault_->setFont(Look::get().text(12));
    fault_->setObjectName(title_name + QStringLiteral("_fault"));
    set_tone(fault_, Tone::error);
    column->addWidget(fault_);
    fault_->hide();
  }
  void add_button(QWidget* button) { row_->addWidget(button); }
  // `fault`: what is wrong with it, below the rest; empty: nothing.
  void say(const QString& number, const QString& title, const QString& subtitle, const QString& fault = {}) {
    number_->setText(number);
    number_->setVisible(!number.isEmpty());
    title_->setText(title);
    title_->setToolTip(title);
    subtitle_->setText(subtitle);
    fault_->setText(fault);
    fault_->setVisible(!fault.isEmpty());
    // Now: asked for while a bench is being shown, a new layout can get lost, and the line below is cut off.
    layout()->activate();
    if (QWidget* bench = parentWidget(); bench && bench->layout()) bench->layout()->activate();
  }

 private:
  QHBoxLayout* row_;
  QLabel* number_ = new QLabel;
  QLabel* title_ = new ElidingLabel;
  QLabel* subtitle_ = new WrappedLabel;
  QLabel* fault_ = new WrappedLabel;
};

}  // namespace pecorra
