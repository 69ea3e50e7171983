#include "app/retune/left_alone_list.h"

#include <QHBoxLayout>
#include <QVBoxLayout>

#include "app/look/look.h"
#include "app/widgets/fit_columns.h"
#include "app/widgets/plain_table.h"
#include "shop/words.h"

namespace pecorra {
namespace {

constexpr std::size_t most_lines = 10000;
constexpr int rows_seen = 6;

}  // namespace

LeftAloneList::LeftAloneList(QWidget* parent)
    : QWidget(parent),
      text_(new QLabel),
      fold_(new QPushButton),
      model_(new TextModel({tr("Line"), tr("Block"), tr("Reason")}, this, {0})),
      table_(plain_table(model_, QStringLiteral("left_alone_table"))),
      columns_(new FitColumns(table_, 2)) {
  setObjectName(QStringLiteral("retune_notice"));
  setAttribute(Qt::WA_StyledBackground);
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(12, 5, 8, 5);
  column->setSpacing(4);
  auto* row = new QHBoxLayout;
  text_->setWordWrap(true);
  text_->setObjectName(QStringLiteral("retune_banner"));
  row->addWidget(text_, 1);
  fold_->setFlat(true);
  fold_->setCursor(Qt::PointingHandCursor);
  fold_->setObjectName(QStringLiteral("left_alone_fold"));
  row->addWidget(fold_);
  column->addLayout(row);
  column->addWidget(table_);
  connect(fold_, &QPushButton::clicked, this, [this] { set_open(table_->isHidden()); });
  connect(table_->selectionModel(), &QItemSelectionModel::currentRowChanged, this, [this](const QModelIndex& now) {
    if (now.isValid() && now.row() < static_cast<int>(blocks_.size()))
      emit block_chosen(blocks_[static_cast<std::size_t>(now.row())]);
  });
  set_open(false);
  const auto paint = [this] {
    setStyleSheet(QStringLiteral("#retune_notice{background:%1;border-left:4px solid %2}")
                      .arg(colours().notice.name(), colours().warning.name()));
  };
  paint();
  connect(&Look::get(), &Look::changed, this, paint);
}

void LeftAloneList::set_open(bool open) {
  table_->setVisible(open);
  fold_->setText(open ? tr("Hide lines") : tr("Show lines"));
  if (open) columns_->fit();
}

void LeftAloneList::say(const QString& text, const std::shared_ptr<const RetunedFile>& program) {
  if (program != program_) {
    program_ = program;
    blocks_.clear();
    std::vector<QStringList> lines;
    if (program)
      for (const RetunedFile::LeftAlone& l : program->left_alone()) {
        if (lines.size() == most_lines) break;
        QString why = reader_text(l.why);
        if (!why.isEmpty()) why[0] = why[0].toUpper();
        lines.push_back({QString::number(l.block + 1), text_of(l.text), why});
        blocks_.push_back(l.block);
      }
    model_->set_lines(std::move(lines));
    fit_to_rows(*table_, rows_seen);
    if (blocks_.empty()) set_open(false);
    else if (!table_->isHidden()) columns_->fit();
  }
  QString all = text;
  if (!blocks_.empty()) {
    if (!all.isEmpty()) all += QLatin1Char('\n');
    all += blocks_.size() == 1 ? tr("Line %1 was not understood and keeps its S and F.").arg(blocks_[0] + 1)
                               : tr("%L1 lines were not understood and keep their S and F.").arg(blocks_.size());
  }
  text_->setText(all);
  fold_->setVisible(!blocks_.empty());
  setVisible(!all.isEmpty());
}

}  // namespace pecorra

#include "moc_left_alone_list.cpp"
