#include "app/cutters/cutter_import.h"

#include <QFileInfo>
#include <QHBoxLayout>
#include <QSettings>
#include <QVBoxLayout>

#include "app/look/look.h"
#include "app/widgets/pick_list.h"
#include "core/cutter/kinds.h"
#include "shop/task.h"
#include "shop/words.h"

namespace pecorra {
namespace {

class CutterChangeLines : public ChangeLines {
 public:
  CutterChangeLines(Workspace& workspace, Library library, std::shared_ptr<IncomingCutters> incoming,
                    CutterPreview preview, std::shared_ptr<const ShopState> before, QString from)
      : workspace_(workspace),
        library_(std::move(library)),
        incoming_(std::move(incoming)),
        preview_(std::make_shared<CutterPreview>(std::move(preview))),
        before_(std::move(before)),
        from_(std::move(from)) {}

  ~CutterChangeLines() override {
    drop_aside(std::move(preview_));
    drop_aside(std::move(incoming_));
    drop_aside(std::move(before_));
  }
  std::size_t size() const override { return preview_->lines.size(); }
  MergeState state(std::size_t i) const override { return preview_->lines[i].state; }
  QString line(std::size_t i) const override { return QString::number(preview_->lines[i].line); }
  bool picked(std::size_t i) const override { return preview_->lines[i].picked; }
  void pick(std::size_t i, bool picked) override { preview_->lines[i].picked = picked; }
  QString what(std::size_t i) const override {
    const Cutter& c = preview_->lines[i].value;
    return c.number > 0     ? QStringLiteral("%1  %2").arg(c.number).arg(text_of(c.name))
           : c.name.empty() ? label_text(label_of(c.kind))
                            : text_of(c.name);
  }
  QString change(std::size_t i) const override {
    const SheetLine<Cutter>& l = preview_->lines[i];
    const UnitSystem units = workspace_.units();
    QStringList parts = said_of(l);
    if (l.target) {
      const Cutter& before = before_->cutters[*l.target];
      for (const Property<Cutter>* p : l.changes) {
        if (p->quantity == Quantity::id) parts << QObject::tr("%1 changes").arg(label_text(p->label));
        else
          parts << property_change_text(label_text(p->label), p->get(before), p->get(l.value), p->quantity, p->choices,
                                        units);
      }
    } else if (l.state == MergeState::fresh) {
      QStringList what{label_text(label_of(l.value.kind))};
      if (const std::string size = size_text(l.value, units); !size.empty()) what << text_of(size);
      for (const std::string& s : {l.value.maker, l.value.order_code})
        if (!s.empty()) what << text_of(s);
      parts << what.join(QStringLiteral(", "));
    }
    if (i < preview_->held.size() && !preview_->held[i].text.empty()) parts << text_of(preview_->held[i].text);
    return parts.join(QStringLiteral("; "));
  }
  QString take_text(int picked) const override {
    return picked == 1 ? QObject::tr("Import 1 cutter") : QObject::tr("Import %1 cutters").arg(picked);
  }
  void take() override {
    before_.reset();  // while a copy is held, a change would copy the list
    workspace_.shop().apply(take_cutters(workspace_.state(), library_, *incoming_, *preview_, from_));
  }
  std::function<Finish()> take_aside() override {
    if (preview_->lines.size() < very_many_lines) return {};
    return [state = before_, library = library_, incoming = incoming_,
            preview = std::shared_ptr<const CutterPreview>(preview_), from = from_,
            shop = &workspace_.shop()]() mutable -> Finish {
      const auto read = std::make_shared<ReadChange>(take_cutters(*state, library, *incoming, *preview, from));
      state.reset();
      preview.reset();
      return [read, shop] { shop->apply(std::move(*read)); };
    };
  }

 private:
  Workspace& workspace_;
  Library library_;
  std::shared_ptr<IncomingCutters> incoming_;
  std::shared_ptr<CutterPreview> preview_;
  std::shared_ptr<const ShopState> before_;  // the shop as it was when the preview was made
  QString from_;
};

// How a sheet of these headings was read the last time.
QString shape_key(const CutterSheetForm& form) {
  return QStringLiteral("import_columns/%1").arg(QString::number(print_of(shape_of(form)), 16));
}

QString column_text(const CutterColumn& column) {
  if (column.property) return label_text(column.property->label);
  const std::string_view key = column_key(column);
  return key == "id"                 ? QObject::tr("UUID")
         : key == "holder"           ? QObject::tr("Holder")
         : key == "stickout_mm"      ? QObject::tr("Stick-out")
         : key == "lead_angle_deg"   ? QObject::tr("Lead angle")
         : key == "threads_per_inch" ? QObject::tr("Threads per inch")
                                     : QObject::tr("skipped");
}

}  // namespace

CutterImport::CutterImport(Workspace& workspace, QWidget* parent)
    : QWidget(parent),
      workspace_(workspace),
      waiting_(new QWidget),
      waiting_text_(new QLabel),
      columns_text_(new QLabel(tr("Columns: click to change what each one is read as"))),
      bar_(new QProgressBar),
      cancel_(new QPushButton(tr("Cancel"))),
      into_(new QPushButton),
      columns_(new QScrollArea),
      preview_(new ChangePreview(workspace)) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(6);
  auto* wait = new QHBoxLayout(waiting_);
  wait->setContentsMargins(0, 0, 0, 0);
  wait->addWidget(waiting_text_);
  bar_->setRange(0, 100);
  bar_->setTextVisible(false);
  bar_->setFixedHeight(6);
  wait->addWidget(bar_, 1);
  cancel_->setObjectName(QStringLiteral("import_cancel"));
  wait->addWidget(cancel_);
  column->addWidget(waiting_);
  into_->setFlat(true);
  into_->setObjectName(QStringLiteral("import_into"));
  into_->setToolTip(tr("Another library"));
  auto* head = new QHBoxLayout;
  head->addWidget(into_);
  head->addStretch(1);
  column->addLayout(head);
  set_tone(columns_text_, Tone::quiet);
  column->addWidget(columns_text_);
  columns_->setFixedHeight(66);
  columns_->setWidgetResizable(true);
  columns_->setFrameShape(QFrame::NoFrame);
  columns_->setVerticalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  columns_->setObjectName(QStringLiteral("import_columns"));
  column->addWidget(columns_);
  column->addWidget(preview_, 1);
  connect(preview_, &ChangePreview::done, this, [this] {
    drop_aside(std::move(incoming_));
    emit done();
  });
  connect(preview_, &ChangePreview::said, this, &CutterImport::said);
  connect(into_, &QPushButton::clicked, this, &CutterImport::choose_library);
  connect(cancel_, &QPushButton::clicked, this, [this] {
    if (work_) work_->cancel();
  });
  progress_timer_.setInterval(60);
  connect(&progress_timer_, &QTimer::timeout, this, [this] {
    if (work_) bar_->setValue(work_->percent());
  });
}

CutterImport::~CutterImport() {
  if (work_) work_->cancel();
}

Library CutterImport::target() const {
  if (library_)
    if (const Library* l = workspace_.state().libraries.find(*library_)) return *l;
  return fresh_;
}

void CutterImport::read(const QString& file, const std::optional<Id>& library) {
  file_ = file;
  name_ = QFileInfo(file).fileName();
  library_ = library;
  fresh_ = {};
  fresh_.id = new_id();
  fresh_.name = QFileInfo(file).completeBaseName().toStdString();
  for (const Library& l : workspace_.state().libraries)
    if (!library && l.name == fresh_.name) library_ = l.id;
  std::map<QString, QStringList> remembered;
  QSettings settings;
  settings.beginGroup(QStringLiteral("import_columns"));
  for (const QString& key : settings.childKeys())
    remembered[QStringLiteral("import_columns/") + key] = settings.value(key).toStringList();
  const auto known = [remembered](const CutterSheetForm& guessed) -> std::optional<CutterSheetForm> {
    const auto found = remembered.find(shape_key(guessed));
    if (found == remembered.end() || found->second.size() != static_cast<qsizetype>(guessed.columns.size()))
      return std::nullopt;
    CutterSheetForm form = guessed;
    for (std::size_t i = 0; i < form.columns.size(); ++i)
      set_column_key(form.columns[i], found->second[static_cast<qsizetype>(i)].toStdString());
    return form;
  };
  begin([file, units = workspace_.units(), names = names(), known, to = target(),
         before = std::make_shared<const ShopState>(workspace_.state())](const Progress& progress) {
    Result result;
    result.before = before;
    result.incoming = std::make_shared<IncomingCutters>(
        read_cutter_file(file, units, names, known, [&](double part) { return progress(0.7 * part); }));
    if (result.incoming->fault.isEmpty() && !result.incoming->stopped)
      result.preview =
          preview_cutters(*before, to, *result.incoming, [&](double part) { return progress(0.7 + 0.3 * part); });
    return result;
  });
}

void CutterImport::set_column(std::size_t column, const std::string& key) {
  if (!incoming_ || !incoming_->sheet || column >= incoming_->form.columns.size()) return;
  CutterSheetForm form = incoming_->form;
  for (CutterColumn& other : form.columns)
    if (!key.empty() && column_key(other) == key) set_column_key(other, {});  // one column for a thing
  if (!set_column_key(form.columns[column], key)) return;
  QStringList keys;
  for (const CutterColumn& c : form.columns) keys << text_of(column_key(c));
  QSettings().setValue(shape_key(form), keys);
  begin([incoming = incoming_, form, units = workspace_.units(), names = names(), to = target(),
         before = std::make_shared<const ShopState>(workspace_.state())](const Progress& progress) {
    Result result;
    result.before = before;
    result.incoming = incoming;
    read_again(*incoming, form, units, names, [&](double part) { return progress(0.7 * part); });
    if (!incoming->stopped)
      result.preview = preview_cutters(*before, to, *incoming, [&](double part) { return progress(0.7 + 0.3 * part); });
    return result;
  });
}

void CutterImport::begin(std::function<Result(const Progress&)> what) {
  if (work_) return;
  waiting_text_->setText(tr("Reading %1 …").arg(name_));
  bar_->setValue(0);
  waiting_->show();
  preview_->hide();
  columns_->hide();
  columns_text_->hide();
  into_->hide();
  progress_timer_.start();
  emit started();
  work_ = workspace_.tasks().run(
      this, {},
      [what = std::move(what)](Task& task) { return what([&task](double part) { return task.report(part); }); },
      [this](Result result) { arrived(std::move(result)); });
}

void CutterImport::arrived(Result result) {
  const bool cancelled = work_->is_cancelled() || result.incoming->stopped;
  work_.reset();
  progress_timer_.stop();
  waiting_->hide();
  incoming_ = result.incoming;
  if (cancelled || !incoming_->fault.isEmpty()) {
    emit said(cancelled ? tr("Import of %1 cancelled; nothing was changed").arg(name_)
                        : tr("%1 %2").arg(name_, incoming_->fault),
              !cancelled);
    emit done();
    return;
  }
  preview_->show();
  into_->show();
  into_->setText(library_ ? tr("%1 → %2").arg(name_, text_of(target().name))
                          : tr("%1 → %2, a new library").arg(name_, text_of(target().name)));
  show_columns();
  QStringList unknown;
  for (const std::string& heading : incoming_->unknown) unknown << QStringLiteral("“%1”").arg(text_of(heading));
  preview_->show_lines(std::make_unique<CutterChangeLines>(workspace_, target(), incoming_, std::move(result.preview),
                                                           result.before, name_),
                       {}, name_, unknown);
  if (!incoming_->part_faults.empty())
    emit said(tr("Skipped: %1").arg(reader_text(incoming_->part_faults.front())), true);
  preview_->table().setFocus();
}

void CutterImport::show_columns() {
  const bool sheet = incoming_->sheet.has_value();
  columns_->setVisible(sheet);
  columns_text_->setVisible(sheet);
  if (!sheet) return;
  auto* row = new QWidget;
  auto* box = new QHBoxLayout(row);
  box->setContentsMargins(0, 0, 0, 0);
  box->setSpacing(4);
  for (std::size_t i = 0; i < incoming_->form.columns.size(); ++i) {
    const CutterColumn& c = incoming_->form.columns[i];
    if (c.heading.empty() && !c.role) continue;
    auto* one = new QWidget;
    auto* stack = new QVBoxLayout(one);
    stack->setContentsMargins(4, 0, 4, 0);
    stack->setSpacing(0);
    auto* heading = new QLabel(text_of(c.heading));
    set_tone(heading, Tone::quiet);
    QString what = column_text(c);
    if (c.units && c.property && (c.property->quantity == Quantity::length))
      what += is_inch(*c.units) ? tr(", in") : tr(", mm");
    auto* button = new QPushButton(what);
    button->setFlat(true);
    button->setAutoDefault(false);
    button->setObjectName(QStringLiteral("import_column_%1").arg(i));
    if (!c.role) set_tone(button, Tone::warning);
    connect(button, &QPushButton::clicked, this, [this, i, button] { choose_column(i, button); });
    stack->addWidget(heading);
    stack->addWidget(button, 0, Qt::AlignLeft);
    box->addWidget(one);
  }
  box->addStretch(1);
  columns_->setWidget(row);
}

void CutterImport::choose_column(std::size_t column, QWidget* under) {
  if (!incoming_) return;
  if (!list_) list_ = new PickList(this);
  std::vector<PickItem> items;
  int current = 0;
  const auto offer = [&](const std::string& key, const QString& text, const QString& detail) {
    if (key == column_key(incoming_->form.columns[column])) current = static_cast<int>(items.size());
    items.push_back({text, detail, [this, column, key] { set_column(column, key); }});
  };
  offer("", tr("Skipped"), {});
  for (const Property<Cutter>& p : cutter_cells())
    if (p.key != "library") offer(std::string(p.key), label_text(p.label), label_text(p.symbol));
  offer("holder", tr("Holder"), tr("of the assembly"));
  offer("stickout_mm", tr("Stick-out"), tr("of the assembly"));
  offer("lead_angle_deg", tr("Lead angle"), tr("90° minus the cutting edge angle"));
  offer("threads_per_inch", tr("Threads per inch"), tr("pitch"));
  offer("id", tr("UUID"), {});
  list_->open(under->mapToGlobal(QPoint(0, under->height() + 2)), 300, std::move(items), current,
              tr("“%1” is").arg(text_of(incoming_->form.columns[column].heading)));
}

void CutterImport::choose_library() {
  if (!list_) list_ = new PickList(this);
  std::vector<PickItem> items;
  for (const Library& l : workspace_.state().libraries)
    items.push_back({text_of(l.name), {}, [this, id = l.id] { read(file_, id); }});
  list_->open(into_->mapToGlobal(QPoint(0, into_->height() + 2)), 280, std::move(items), 0, tr("Into library"));
}

}  // namespace pecorra

#include "moc_cutter_import.cpp"
