#include "app/jobs/setup_bench.h"

#include <QVBoxLayout>

#include "app/look/look.h"
#include "app/widgets/conditions_panel.h"
#include "core/quantity/print.h"
#include "shop/edit.h"
#include "shop/setup_edit.h"

namespace pecorra {

SetupBench::SetupBench(Workspace& workspace, QWidget* parent)
    : LazyWidget(parent),
      workspace_(workspace),
      head_(new BenchHead(QStringLiteral("setup_title"))),
      form_(new PropertyForm),
      clamps_form_(new PropertyForm),
      size_(new QLineEdit),
      zero_(new QPushButton(tr("Zero point at …"))),
      clamps_hint_(new QLabel),
      places_(new PickList(this)) {
  auto* layout = bench_column(this);
  layout->addWidget(head_);
  auto* inside = new QWidget;
  auto* column = new QVBoxLayout(inside);
  column->setContentsMargins(0, 0, 8, 0);
  column->setSpacing(6);
  auto* row = new QHBoxLayout;
  row->addWidget(new QLabel(tr("Stock")));
  size_->setObjectName(QStringLiteral("stock_size"));
  size_->setToolTip(tr("X × Y × Z of the block, around the middle of the geometry; from the zero point without any"));
  row->addWidget(size_, 1);
  zero_->setObjectName(QStringLiteral("zero_at"));
  row->addWidget(zero_);
  column->addLayout(row);
  for (const Property<Setup>& property : properties<Setup>())
    if (property.quantity != Quantity::id && property.key != "rank") form_->add(form_field(property));
  column->addWidget(form_);
  column->addWidget(section_heading(tr("Clamps")));
  clamps_hint_->setWordWrap(true);
  clamps_hint_->setFont(Look::get().text(12));
  set_tone(clamps_hint_, Tone::quiet);
  column->addWidget(clamps_hint_);
  column->addWidget(clamps_form_);
  column->addStretch(1);
  layout->addWidget(scrolled(inside), 1);
  connect(form_, &PropertyForm::accepted, this, &SetupBench::accept);
  connect(clamps_form_, &PropertyForm::accepted, this, [this](const QString& key, const Value& value, const QString&) {
    const double* top = std::get_if<double>(&value);
    if (!top || !workspace_.job()) return refresh();
    workspace_.shop().apply(
        with_clamp_top(*workspace_.job(), at_, static_cast<std::size_t>(key.toInt()), *top, workspace_.units()));
  });
  connect(size_, &QLineEdit::returnPressed, this, &SetupBench::accept_size);
  connect(size_, &QLineEdit::editingFinished, this, [this] {
    if (size_->isModified()) accept_size();
  });
  connect(zero_, &QPushButton::clicked, this, &SetupBench::choose_zero);
  for (const auto changed : {&Workspace::job_changed, &Workspace::data_changed, &Workspace::context_changed})
    connect(&workspace_, changed, this, &SetupBench::update_when_seen);
}

void SetupBench::show_setup(int index) {
  at_ = static_cast<std::size_t>(std::max(0, index));
  update_when_seen();
}

void SetupBench::refresh() {
  const Job* job = workspace_.job();
  const UnitSystem units = workspace_.units();
  if (!job) return head_->say({}, tr("No job"), {});
  const Setup none;
  const Setup& setup = at_ < job->setups.size() ? job->setups[at_] : none;
  const StockBlock block = stock_of(*job, &setup);
  const auto length = [&](double v) { return text_of(shown(v, Quantity::length, units)); };
  const QString size =
      QStringLiteral("%1 × %2 × %3")
          .arg(length(block.plan.width()), length(block.plan.depth()), length(block.top - block.bottom));
  head_->say(QString::number(at_ + 1), setup.name.empty() ? tr("Setup %1").arg(at_ + 1) : text_of(setup.name),
             tr("Stock %1 %2").arg(size, text_of(unit_text(Quantity::length, units))));
  if (!size_->isModified() || !size_->hasFocus()) {
    size_->setText(size);
    size_->setModified(false);
  }
  form_->set_units(units);
  form_->fill_from(setup);
  form_->show_messages(check_setup(setup));
  std::vector<std::string> clamps;
  for (const Clamp& clamp : setup.clamps) clamps.push_back(clamp.outline.key);
  if (clamps != built_clamps_) {
    built_clamps_ = clamps;
    clamps_form_->clear();
    for (std::size_t i = 0; i < clamps.size(); ++i) {
      FormField field;
      field.key = QString::number(i);
      field.label = tr("Top of %1").arg(text_of(clamps[i]));
      field.help = tr("No move enters its outline below this height");
      field.quantity = Quantity::length;
      clamps_form_->add(field);
    }
  }
  clamps_form_->set_units(units);
  for (std::size_t i = 0; i < setup.clamps.size(); ++i) clamps_form_->fill(QString::number(i), setup.clamps[i].top_mm);
  clamps_hint_->setText(clamps.empty() ? tr("None. Click a closed line in the picture to make a clamp of it.")
                                       : tr("Click a line in the picture to add or remove one."));
}

void SetupBench::accept(const QString& key, const Value& value, const QString& typed) {
  const Job* job = workspace_.job();
  if (!job) return;
  workspace_.shop().apply(edited_setup(workspace_.state(), workspace_.shop().resolver(), *job, at_,
                                       *find_property<Setup>(key.toStdString()), value, typed.toStdString(),
                                       workspace_.units()));
}

void SetupBench::accept_size() {
  const Job* job = workspace_.job();
  if (!job) return;
  size_->setModified(false);
  auto change = with_stock_size(*job, at_, size_->text(), workspace_.units());
  if (!change) {
    refresh();
    return emit said(change.error(), true);
  }
  workspace_.shop().apply(std::move(*change));
}

void SetupBench::type_stock() {
  prepare();
  size_->setFocus();
  size_->selectAll();
}

void SetupBench::choose_zero() {
  const Job* job = workspace_.job();
  if (!job) return;
  std::vector<PickItem> items;
  const std::pair<int, QString> along[] = {{-1, tr("left")}, {0, tr("middle")}, {1, tr("right")}},
                                across[] = {{-1, tr("front")}, {0, tr("middle")}, {1, tr("back")}};
  for (const bool top : {true, false})
    for (const auto& [y, depth] : across)
      for (const auto& [x, side] : along) {
        const QString place = x == 0 && y == 0 ? tr("centre")
                              : x == 0         ? depth
                              : y == 0         ? side
                                               : depth + QLatin1Char(' ') + side;
        items.push_back({top ? tr("Top, %1").arg(place) : tr("Bottom, %1").arg(place), {}, [this, x = x, y = y, top] {
                           workspace_.shop().apply(with_zero_at(*workspace_.job(), at_, {x, y, top}));
                         }});
      }
  places_->open(zero_->mapToGlobal(QPoint(zero_->width() - 240, zero_->height() + 2)), 240, std::move(items), 0,
                tr("Zero point on the stock"));
}

}  // namespace pecorra

#include "moc_setup_bench.cpp"
