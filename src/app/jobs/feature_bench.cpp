#include "app/jobs/feature_bench.h"

#include <QClipboard>
#include <QGuiApplication>
#include <QVBoxLayout>
#include <algorithm>

#include "app/look/look.h"
#include "app/widgets/conditions_panel.h"
#include "core/quantity/print.h"
#include "shop/edit.h"
#include "shop/feature_edit.h"

namespace pecorra {
namespace {

QString names_of(const std::vector<FeatureUse>& uses) {
  QStringList names;
  for (const FeatureUse& use : uses) names << text_of(use.key);
  return names.join(QStringLiteral(", "));
}

}  // namespace

FeatureBench::FeatureBench(Workspace& workspace, QWidget* parent)
    : LazyWidget(parent),
      workspace_(workspace),
      head_(new BenchHead(QStringLiteral("feature_title"))),
      form_(new PropertyForm),
      points_(new NumberTable(tr("Points"), QStringLiteral("Point"), "points", {tr("X"), tr("Y"), tr("Bulge")},
                              {Quantity::length, Quantity::length, Quantity::number})),
      made_of_(new QLabel),
      paste_(new QPushButton(tr("Paste X and Y"))),
      closed_(new QPushButton) {
  auto* layout = bench_column(this);
  layout->addWidget(head_);
  auto* inside = new QWidget;
  auto* column = new QVBoxLayout(inside);
  column->setContentsMargins(0, 0, 8, 0);
  column->setSpacing(6);
  column->addWidget(form_);
  made_of_->setWordWrap(true);
  made_of_->setFont(Look::get().text(12));
  made_of_->setObjectName(QStringLiteral("made_of"));
  set_tone(made_of_, Tone::quiet);
  column->addWidget(made_of_);
  column->addWidget(points_);
  auto* row = new QHBoxLayout;
  paste_->setObjectName(QStringLiteral("paste_places"));
  paste_->setToolTip(tr("X and Y of each place on a line, as copied from a spreadsheet (Ctrl+V)"));
  closed_->setObjectName(QStringLiteral("closed_line"));
  row->addWidget(paste_);
  row->addWidget(closed_);
  row->addStretch(1);
  column->addLayout(row);
  column->addStretch(1);
  layout->addWidget(scrolled(inside), 1);
  points_->set_proposal([](const NumberTable::Rows& rows, std::size_t place) -> std::vector<double> {
    std::vector<double> next = place == 0 ? std::vector<double>{0, 0, 0} : rows[place - 1];
    if (place > 0) next[0] += 10;
    next[2] = 0;
    return next;
  });
  connect(points_, &NumberTable::accepted, this, &FeatureBench::accept_points);
  connect(form_, &PropertyForm::accepted, this, &FeatureBench::accept);
  connect(paste_, &QPushButton::clicked, this, &FeatureBench::paste_places);
  connect(closed_, &QPushButton::clicked, this, [this] {
    const Feature* f = feature();
    if (!f) return;
    workspace_.shop().apply(feature_with_points(*workspace_.job(), key_, f->line.vertices, !f->line.closed, f->typed,
                                                f->line.closed ? tr("opened") : tr("closed")));
  });
  for (const auto changed : {&Workspace::job_changed, &Workspace::data_changed, &Workspace::context_changed})
    connect(&workspace_, changed, this, &FeatureBench::update_when_seen);
}

const Feature* FeatureBench::feature() const {
  const Job* job = workspace_.job();
  return job ? find_feature(*job, key_) : nullptr;
}

void FeatureBench::show_feature(const std::string& key) {
  if (key != key_) form_->finish_typing();
  key_ = key;
  update_when_seen();
}

void FeatureBench::start_typing() {
  refresh();
  const Feature* f = feature();
  if (!f) return;
  if (f->kind == FeatureKind::line) return points_->start(0, 0);
  for (const std::string& key : built_) {
    const Quantity quantity = find_property<Feature>(key)->quantity;
    if (key == "key" || quantity == Quantity::choice || quantity == Quantity::flag) continue;
    return form_->focus_field(text_of(key));
  }
}

void FeatureBench::build_form(const Feature& f) {
  std::vector<std::string> keys{"key"};
  for (const std::string_view key : fields_of(f.kind))
    if (asks_for(f, key) && !(key == "pattern" && !f.circles.empty())) keys.emplace_back(key);
  if (keys == built_) return;
  built_ = keys;
  form_->clear();
  for (const std::string& key : keys) {
    FormField field = form_field(*find_property<Feature>(key));
    if (key == "outline") field.choices = {{QString(), tr("none yet")}};
    form_->add(field);
  }
}

void FeatureBench::refresh() {
  const Feature* f = feature();
  const UnitSystem units = workspace_.units();
  const bool of_points = f && (f->kind == FeatureKind::line || (f->kind == FeatureKind::holes && f->circles.empty() &&
                                                                f->pattern == HolePattern::places));
  // Nobody types more by hand.
  constexpr std::size_t most_rows = 2000;
  const bool has_points = of_points && f->line.vertices.size() + f->at.size() <= most_rows;
  form_->setVisible(f != nullptr);
  points_->setVisible(has_points);
  paste_->setVisible(of_points);
  closed_->setVisible(f && f->kind == FeatureKind::line);
  if (!f) {
    head_->say({}, key_.empty() ? tr("No feature selected") : text_of(key_),
               key_.empty()
                   ? tr("“New feature” defines one by its dimensions; lines of a drawing are features already.")
                   : tr("Drawn; it changes with the drawing. “New feature” makes a pocket or holes of it."));
    made_of_->hide();
    return;
  }
  head_->say({}, text_of(f->key), label_text(label_of(f->kind)));
  build_form(*f);
  form_->set_units(units);
  if (f->kind == FeatureKind::pocket) {
    std::vector<FieldChoice> lines{{QString(), tr("none yet")}};
    for (const JobLine& line : lines_of(*workspace_.job()))
      if (line.contour->closed) lines.push_back({text_of(line.key), text_of(line.key)});
    form_->set_choices(QStringLiteral("outline"), lines);
  }
  form_->fill_from(*f);
  form_->show_messages(check_feature(*f));
  const bool made = f->kind == FeatureKind::pocket || !f->circles.empty();
  made_of_->setVisible(made || f->kind == FeatureKind::holes);
  made_of_->setText(
      f->kind == FeatureKind::pocket ? tr("Islands: %1. Ctrl+click a closed line in the picture to add or remove one.")
                                           .arg(f->islands.empty() ? tr("none") : names_of(f->islands))
      : made ? tr("Circles: %1. Ctrl+click a circle in the picture to add or remove those of its diameter, with Shift "
                  "just that one.")
                   .arg(names_of(f->circles))
             : tr("Ctrl+click circles in the picture to take them instead of typed places."));
  if (!has_points) return;
  of_holes_ = f->kind == FeatureKind::holes;
  NumberTable::Rows rows;
  if (of_holes_)
    for (const Point2& p : f->at) rows.push_back({p.x, p.y, 0});
  else
    for (const Vertex& v : f->line.vertices) rows.push_back({v.x, v.y, v.bulge});
  points_->table().setColumnHidden(2, of_holes_);
  points_->show_rows(rows, f->typed, units);
  closed_->setText(f->line.closed ? tr("Open the line") : tr("Close the line"));
}

void FeatureBench::accept(const QString& key, const Value& value, const QString& typed) {
  const Job* job = workspace_.job();
  if (!job || !feature()) return;
  const std::string text = typed.toStdString();
  auto change = edited_feature(*job, key_, *find_property<Feature>(key.toStdString()), value, text, workspace_.units());
  if (!change) {
    refresh();
    return emit said(change.error(), true);
  }
  if (change->empty()) return refresh();
  if (key == QLatin1String("key")) key_ = text;
  workspace_.shop().apply(std::move(*change));
  if (key == QLatin1String("key")) emit renamed(text_of(key_));
}

void FeatureBench::accept_points(const NumberTable::Rows& rows, const NumberTable::Typed& typed, const QString& what) {
  const Feature* f = feature();
  if (!f) return;
  std::vector<Vertex> points;
  for (const auto& row : rows) points.push_back({row[0], row[1], row.size() > 2 ? row[2] : 0});
  workspace_.shop().apply(feature_with_points(*workspace_.job(), key_, std::move(points), f->line.closed, typed, what));
}

void FeatureBench::paste_places() {
  const Feature* f = feature();
  if (!f || !points_->isVisible()) return;
  const auto places = places_in(QGuiApplication::clipboard()->text(), workspace_.units());
  if (!places) return emit said(places.error(), true);
  std::vector<Vertex> points;
  for (const Point2& p : *places) points.push_back({p.x, p.y, 0});
  workspace_.shop().apply(feature_with_points(*workspace_.job(), key_, std::move(points), f->line.closed, {},
                                              tr("%1 places pasted").arg(places->size())));
}

}  // namespace pecorra

#include "moc_feature_bench.cpp"
