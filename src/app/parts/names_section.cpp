#include "app/parts/names_section.h"

#include <QClipboard>
#include <QGuiApplication>
#include <QPushButton>
#include <QShortcut>

namespace pecorra {
namespace {

// 0: takes what is left.
void set_widths(QTableView& table, std::initializer_list<int> widths) {
  int i = 0;
  for (const int w : widths) {
    if (w > 0) table.setColumnWidth(i, w);
    else table.horizontalHeader()->setSectionResizeMode(i, QHeaderView::Stretch);
    ++i;
  }
}

}  // namespace

NamesSection::NamesSection(Workspace& workspace, QObject* parent)
    : PartsSection(parent),
      workspace_(workspace),
      preview_(new TextModel({tr("No."), tr("Name now"), tr("With this pattern")}, this)),
      note_(new QLabel),
      head_(new BenchHead(QStringLiteral("names_title"))),
      form_(new PropertyForm) {
  auto* page = new QWidget;
  auto* column = new QVBoxLayout(page);
  column->setContentsMargins(0, 0, 0, 0);
  note_->setWordWrap(true);
  note_->setObjectName(QStringLiteral("names_note"));
  table_ = plain_table(preview_, QStringLiteral("names_table"));
  set_widths(*table_, {64, 0, 0});
  column->addWidget(note_);
  column->addWidget(table_, 1);
  list_ = page;
  bench_ = new QWidget;
  auto* side = bench_column(bench_);
  side->addWidget(head_);
  auto* inside = new QWidget;
  auto* fields = new QVBoxLayout(inside);
  fields->setContentsMargins(0, 0, 0, 0);
  form_->heading(tr("Names of cutters"));
  FormField pattern = form_field(*find_property<ShopSettings>("name_pattern"));
  pattern.wide = true;
  form_->add(pattern);
  auto* help =
      new QLabel(tr("Properties are written in braces, by symbol or by field name: {kind}, {DC}, {RE}, {flute length}, "
                    "{NOF}, {tool material}, {coating}, {maker}, {order code}. A part in square brackets is skipped "
                    "where one of its properties is not given."));
  help->setWordWrap(true);
  help->setFont(Look::get().text(11.5));
  set_tone(help, Tone::quiet);
  form_->add_widget(help);
  form_->heading(tr("The shop"));
  for (const Property<ShopSettings>& property : properties<ShopSettings>())
    if (property.key != "name_pattern") form_->add(form_field(property));
  fields->addWidget(form_);
  fields->addStretch(1);
  side->addWidget(scrolled(inside), 1);
  connect(form_, &PropertyForm::accepted, this, &NamesSection::accept);
  connect(form_, &PropertyForm::being_typed, this, [this](const QString& key, const Value& value) {
    if (key == QLatin1String("name_pattern"))
      if (const std::string* text = std::get_if<std::string>(&value)) preview(*text);
  });
  connect(&workspace_, &Workspace::data_changed, this, &NamesSection::refresh);
  connect(&workspace_, &Workspace::context_changed, this, &NamesSection::refresh);
  refresh();
}

QString NamesSection::count_text() const { return {}; }
QWidget* NamesSection::focus_target() const { return table_; }

void NamesSection::refresh() {
  const ShopSettings settings = workspace_.state().shop_settings();
  head_->say({}, tr("Names and rounding"), text_of(settings.name));
  form_->set_units(workspace_.units());
  form_->fill_from(settings);
  preview(settings.name_pattern);
}

void NamesSection::preview(const std::string& pattern) {
  pattern_ = pattern;
  const auto tried = name_by_pattern(pattern, Cutter{});
  std::vector<Message> messages;
  if (!tried)
    messages.push_back({Severity::error,
                        "pattern_fault",
                        "name_pattern",
                        {{"place", static_cast<double>(tried.error().place)}, {"why", tried.error().text}}});
  form_->show_messages(std::move(messages));
  const ShopState& state = workspace_.state();
  std::vector<QStringList> lines;
  int own = 0;
  for (const Cutter& c : state.cutters) {
    if (c.name != state.name_for(c)) {
      ++own;
      continue;
    }
    lines.push_back({QString::number(c.number), text_of(c.name), text_of(suggested_name(c, pattern))});
  }
  const bool same = pattern == state.shop_settings().name_pattern;
  const std::size_t changed = static_cast<std::size_t>(
      std::count_if(lines.begin(), lines.end(), [](const QStringList& l) { return l[1] != l[2]; }));
  note_->setText(
      !tried ? tr("The pattern has an error; names stay as they are.")
      : same
          ? tr("%1 cutters are named by the pattern. %2 have their own names, which stay.").arg(lines.size()).arg(own)
          : tr("%1 cutters would be renamed: Enter accepts, Escape restores the pattern. %2 have their own names, "
               "which stay.")
                .arg(changed)
                .arg(own));
  preview_->set_lines(std::move(lines));
}

void NamesSection::accept(const QString& key, const Value& value, const QString& typed) {
  const ShopSettings before = workspace_.state().shop_settings();
  const Property<ShopSettings>& property = *find_property<ShopSettings>(key.toStdString());
  const ShopSettings after = edited(before, property, value, typed.toStdString(), workspace_.units());
  if (key == QLatin1String("name_pattern")) {
    const std::string pattern = after.name_pattern.empty() ? std::string(usual_name_pattern) : after.name_pattern;
    if (!name_by_pattern(pattern, Cutter{})) return preview(pattern);  // stays in the field, with what is wrong
    if (pattern == before.name_pattern) return refresh();
    return workspace_.shop().apply(change_name_pattern(workspace_.state(), pattern));
  }
  workspace_.shop().edit(before, after, edit_label(before, after, property, workspace_.units()));
}

ToBuySection::ToBuySection(Workspace& workspace, QObject* parent)
    : PartsSection(parent),
      workspace_(workspace),
      model_(new TextModel({tr("Item"), tr("Why"), tr("Maker and order code")}, this)),
      empty_(new QLabel) {
  auto* page = new QWidget;
  auto* column = new QVBoxLayout(page);
  column->setContentsMargins(0, 0, 0, 0);
  table_ = plain_table(model_, QStringLiteral("to_buy_table"));
  set_widths(*table_, {0, 220, 200});
  empty_->setAlignment(Qt::AlignCenter);
  empty_->setWordWrap(true);
  empty_->setText(
      tr("Nothing to buy: everything counted is in stock or on order. The quantity wanted is set on each cutter, "
         "insert, holder and collet."));
  column->addWidget(table_, 1);
  column->addWidget(empty_, 1);
  list_ = page;
  bench_ = new QWidget;
  auto* side = bench_column(bench_);
  auto* head = new BenchHead(QStringLiteral("to_buy_title"));
  head->say({}, tr("To buy"),
            tr("Quantity wanted minus stock and orders. Copy puts the list on the clipboard as text, one line each, "
               "for a letter or a spreadsheet."));
  side->addWidget(head);
  auto* copy = new QPushButton(tr("Copy the list"));
  copy->setObjectName(QStringLiteral("copy_to_buy"));
  side->addWidget(copy, 0, Qt::AlignLeft);
  side->addStretch(1);
  const auto take = [this] {
    QStringList text;
    for (const QStringList& line : model_->lines()) text << line.join(QLatin1Char('\t'));
    QGuiApplication::clipboard()->setText(text.join(QLatin1Char('\n')));
    emit said(tr("%1 lines copied").arg(text.size()), false);
  };
  connect(copy, &QPushButton::clicked, this, take);
  connect(new QShortcut(QKeySequence::Copy, table_, nullptr, nullptr, Qt::WidgetShortcut), &QShortcut::activated, this,
          take);
  connect(&workspace_, &Workspace::data_changed, this, &ToBuySection::refresh);
  refresh();
}

QString ToBuySection::count_text() const { return QString::number(model_->rowCount()); }
QWidget* ToBuySection::focus_target() const { return table_; }

void ToBuySection::refresh() {
  std::vector<QStringList> lines;
  for (const Lack& lack : pecorra::to_buy(workspace_.state())) lines.push_back({lack.what, lack.why, lack.order_code});
  model_->set_lines(std::move(lines));
  table_->setVisible(model_->rowCount() > 0);
  empty_->setVisible(model_->rowCount() == 0);
  emit counted();
}

}  // namespace pecorra

#include "moc_names_section.cpp"
