#include "app/parts/parts_page.h"

#include <QHBoxLayout>
#include <QVBoxLayout>

#include "app/look/look.h"
#include "app/widgets/filter_edit.h"
#include "app/widgets/property_form.h"

namespace pecorra {

PartsPage::PartsPage(const QString& title, const QString& hint, const std::vector<PartsSection*>& sections,
                     QWidget* parent)
    : QWidget(parent),
      switch_(new SwitchRow({})),
      count_(new QLabel),
      filter_(new FilterEdit(hint, [this] { return sections_[static_cast<std::size_t>(section())]->focus_target(); })),
      copy_(new QPushButton(tr("Copy"))),
      new_(new QPushButton),
      lists_(new QStackedWidget),
      benches_(new QStackedWidget) {
  auto* layout = new QVBoxLayout(this);
  layout->setContentsMargins(16, 12, 12, 8);
  layout->setSpacing(8);
  auto* head = new QHBoxLayout;
  head->addWidget(section_heading(title, 16));
  set_tone(count_, Tone::quiet);
  count_->setObjectName(QStringLiteral("part_count"));
  head->addWidget(count_);
  head->addStretch(1);
  filter_->setFixedWidth(230);
  filter_->setObjectName(QStringLiteral("part_filter"));
  head->addWidget(filter_);
  copy_->setObjectName(QStringLiteral("copy_part"));
  copy_->setToolTip(tr("Duplicate the selected one (Ctrl+D)"));
  head->addWidget(copy_);
  new_->setObjectName(QStringLiteral("new_part"));
  head->addWidget(new_);
  layout->addLayout(head);
  switch_->setObjectName(QStringLiteral("shop_sections"));
  switch_->setVisible(sections.size() > 1);
  layout->addWidget(switch_);
  layout->addWidget(lists_, 1);
  for (PartsSection* section : sections) {
    section->setParent(this);
    add_section(section);
  }
  QStringList titles;
  for (const PartsSection* s : sections_) titles << s->title();
  switch_->set_names(titles);
  connect(switch_, &SwitchRow::chosen, this, &PartsPage::show_section);
  connect(new_, &QPushButton::clicked, this, &PartsPage::add_part);
  connect(copy_, &QPushButton::clicked, this, &PartsPage::copy_part);
  connect(filter_, &QLineEdit::textChanged, this, [this](const QString& text) {
    for (PartsSection* s : sections_) s->set_text(text);
  });
  show_section(0);
}

void PartsPage::add_section(PartsSection* section) {
  sections_.push_back(section);
  lists_->addWidget(section->list());
  benches_->addWidget(section->bench());
  connect(section, &PartsSection::said, this, &PartsPage::said);
  connect(section, &PartsSection::counted, this, &PartsPage::refresh_title);
}

void PartsPage::show_section(int index) {
  lists_->setCurrentIndex(index);
  benches_->setCurrentIndex(index);
  switch_->set_current(index);
  refresh_title();
}

void PartsPage::refresh_title() {
  if (lists_->currentIndex() < 0 || lists_->currentIndex() >= static_cast<int>(sections_.size())) return;
  const PartsSection& s = *sections_[static_cast<std::size_t>(section())];
  const QString count = s.count_text();
  count_->setText(sections_.size() == 1 ? count
                  : count.isEmpty()     ? s.title()
                                        : QStringLiteral("%1 · %2").arg(s.title(), count));
  new_->setText(s.new_text());
  new_->setVisible(!s.new_text().isEmpty() && s.can_add());
  copy_->setVisible(!s.new_text().isEmpty());
  filter_->setVisible(!s.new_text().isEmpty());
}

void PartsPage::focus_list() { sections_[static_cast<std::size_t>(section())]->focus_target()->setFocus(); }

void PartsPage::focus_filter() {
  filter_->setFocus();
  filter_->selectAll();
}

std::vector<QWidget*> PartsPage::lists() const {
  std::vector<QWidget*> list;
  for (const PartsSection* s : sections_) list.push_back(s->focus_target());
  return list;
}

}  // namespace pecorra

#include "moc_parts_page.cpp"
