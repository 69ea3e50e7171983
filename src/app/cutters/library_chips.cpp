#include "app/cutters/library_chips.h"

#include <QContextMenuEvent>
#include <QDropEvent>
#include <QHBoxLayout>
#include <QMimeData>

#include "app/cutters/shared_lines.h"
#include "app/look/look.h"
#include "app/widgets/pick_list.h"
#include "shop/number_plan.h"
#include "shop/words.h"

namespace pecorra {

LibraryChips::LibraryChips(Workspace& workspace, SharedLibraries& shared, QWidget* parent)
    : QWidget(parent), workspace_(workspace), shared_(shared), add_(new QPushButton(tr("+"))) {
  setObjectName(QStringLiteral("libraries"));
  auto* layout = new QHBoxLayout(this);
  layout->setContentsMargins(0, 0, 0, 0);
  layout->setSpacing(6);
  add_->setFlat(true);
  add_->setObjectName(QStringLiteral("new_library"));
  add_->setToolTip(tr("New library"));
  add_->setAccessibleName(tr("New library"));
  layout->addWidget(add_);
  layout->addStretch(1);
  connect(add_, &QPushButton::clicked, this, &LibraryChips::new_library);
  connect(&workspace_, &Workspace::data_changed, this, &LibraryChips::rebuild);
  connect(&shared_, &SharedLibraries::changed, this, &LibraryChips::rebuild);
  rebuild();
}

void LibraryChips::rebuild() {
  std::vector<Chip> chips{{std::nullopt, tr("All libraries"), true}};
  for (const Library& l : workspace_.state().libraries) {
    const SharedLibrary* shared = shared_.shared(l.id);
    chips.push_back({l.id, text_of(l.name), l.switched_on, shared ? text_of(shared->file) : QString(),
                     shared_.waiting(l.id), !shared_.fault(l.id).isEmpty()});
  }
  if (current_ && !workspace_.state().libraries.find(*current_)) {
    current_.reset();
    emit chosen(current_);
  }
  if (chips == chips_) return;
  chips_ = chips;
  for (QPushButton* b : buttons_) delete b;
  buttons_.clear();
  auto* box = static_cast<QHBoxLayout*>(layout());
  for (std::size_t i = 0; i < chips_.size(); ++i) {
    const Chip& chip = chips_[i];
    QString text = chip.on ? chip.text : tr("%1 (off)").arg(chip.text);
    if (!chip.file.isEmpty())
      text = chip.trouble   ? tr("%1, shared: file not found").arg(text)
             : chip.waiting ? tr("%1, shared: %2 to review").arg(text).arg(chip.waiting)
                            : tr("%1, shared").arg(text);
    auto* button = new QPushButton(text);
    button->setCheckable(true);
    button->setAutoDefault(false);
    button->setObjectName(QStringLiteral("libraries_%1").arg(i));
    button->setChecked(chips_[i].library == current_);
    button->setAcceptDrops(chips_[i].library.has_value());
    if (!chip.file.isEmpty())
      button->setToolTip(chip.trouble
                             ? shared_.fault(*chip.library)
                             : tr("Shared as %1. Right-click to review changes by others, and more.").arg(chip.file));
    else if (chips_[i].library)
      button->setToolTip(chips_[i].on ? tr("Right-click to rename, copy, switch off, delete or export. Drop cutters "
                                           "here to move them, with Ctrl to copy them.")
                                      : tr("Switched off: its cutters are not offered. Right-click to switch it on."));
    if (!chips_[i].on) set_tone(button, Tone::quiet);
    if (chip.waiting || chip.trouble) set_tone(button, Tone::warning);
    button->installEventFilter(this);
    connect(button, &QPushButton::clicked, this, [this, library = chips_[i].library] {
      set_current(library);
      emit chosen(library);
    });
    box->insertWidget(static_cast<int>(i), button);
    buttons_.push_back(button);
  }
}

void LibraryChips::set_current(const std::optional<Id>& library) {
  current_ = library;
  for (std::size_t i = 0; i < chips_.size(); ++i) buttons_[i]->setChecked(chips_[i].library == library);
}

QPushButton* LibraryChips::chip_of(const std::optional<Id>& library) const {
  for (std::size_t i = 0; i < chips_.size(); ++i)
    if (chips_[i].library == library) return buttons_[i];
  return add_;
}

bool LibraryChips::eventFilter(QObject* object, QEvent* event) {
  const auto at = std::find(buttons_.begin(), buttons_.end(), object);
  if (at == buttons_.end()) return QWidget::eventFilter(object, event);
  const std::optional<Id> library = chips_[static_cast<std::size_t>(at - buttons_.begin())].library;
  switch (event->type()) {
    case QEvent::ContextMenu: open_actions(library); return true;
    case QEvent::DragEnter:
    case QEvent::DragMove: {
      auto* drag = static_cast<QDragMoveEvent*>(event);
      if (!library || !drag->mimeData()->hasFormat(cutter_mime_type())) return false;
      drag->setDropAction(drag->modifiers() & Qt::ControlModifier ? Qt::CopyAction : Qt::MoveAction);
      drag->accept();
      (*at)->setDown(true);
      return true;
    }
    case QEvent::DragLeave: (*at)->setDown(false); return true;
    case QEvent::Drop: {
      auto* drop = static_cast<QDropEvent*>(event);
      (*at)->setDown(false);
      std::vector<Id> cutters;
      for (const QByteArray& line : drop->mimeData()->data(cutter_mime_type()).split('\n'))
        if (const auto id = Id::parse(line.toStdString()); id && !id->is_null()) cutters.push_back(*id);
      drop->acceptProposedAction();
      emit dropped(cutters, *library, drop->modifiers() & Qt::ControlModifier);
      return true;
    }
    default: return false;
  }
}

void LibraryChips::ask_name(QWidget* under, const QString& hint, std::function<void(const QString&)> named) {
  if (!list_) list_ = new PickList(this);
  list_->open(under->mapToGlobal(QPoint(0, under->height() + 2)), 280, {}, -1, hint,
              [this, named](const QString& text) {
                const QString name = text.trimmed();
                if (name.isEmpty()) return false;
                for (const Library& l : workspace_.state().libraries)
                  if (text_of(l.name) == name) return false;  // two of one name cannot be told apart
                named(name);
                return true;
              });
}

void LibraryChips::new_library() {
  ask_name(add_, tr("Name of the new library, then Enter"), [this](const QString& name) {
    Library library;
    library.id = new_id();
    library.name = name.toStdString();
    Change change;
    change.label = tr("New library: %1").arg(name);
    change.add(library);
    current_ = library.id;
    workspace_.shop().apply(std::move(change));
    emit chosen(current_);
  });
}

void LibraryChips::rename(const Id& id) {
  const Library* library = workspace_.state().libraries.find(id);
  if (!library) return;
  ask_name(chip_of(id), tr("New name for “%1”, then Enter").arg(text_of(library->name)),
           [this, id](const QString& name) {
             const Library* before = workspace_.state().libraries.find(id);
             if (!before) return;
             Library after = *before;
             after.name = name.toStdString();
             workspace_.shop().edit(*before, after, tr("Library %1 → %2").arg(text_of(before->name), name));
           });
}

void LibraryChips::copy(const Id& id) {
  const Library* library = workspace_.state().libraries.find(id);
  if (!library) return;
  Library other = *library;
  other.id = new_id();
  other.revision = 0;
  other.name = tr("%1, copy").arg(text_of(library->name)).toStdString();
  Change change = copy_library(workspace_.state(), id, other);
  current_ = other.id;
  workspace_.shop().apply(std::move(change));
  emit chosen(current_);
}

void LibraryChips::switch_on(const Id& id, bool on) {
  const Library* before = workspace_.state().libraries.find(id);
  if (!before) return;
  Library after = *before;
  after.switched_on = on;
  workspace_.shop().edit(*before, after,
                         on ? tr("%1 switched on").arg(text_of(before->name))
                            : tr("%1 switched off: its cutters are not offered").arg(text_of(before->name)));
}

void LibraryChips::remove(const Id& id) {
  if (current_ == id) {
    set_current(std::nullopt);
    emit chosen(current_);
  }
  workspace_.shop().apply(delete_library(workspace_.state(), id));
}

void LibraryChips::open_actions(const std::optional<Id>& id) {
  if (!list_) list_ = new PickList(this);
  std::vector<PickItem> items;
  const Library* library = id ? workspace_.state().libraries.find(*id) : nullptr;
  if (library) {
    const Id here = *id;
    items.push_back({tr("Rename"), {}, [this, here] { rename(here); }});
    items.push_back({tr("Copy with its cutters"), {}, [this, here] { copy(here); }});
    items.push_back({library->switched_on ? tr("Switch off") : tr("Switch on"),
                     library->switched_on ? tr("its cutters are not offered") : QString(),
                     [this, here, on = !library->switched_on] { switch_on(here, on); }});
    if (const SharedLibrary* shared = shared_.shared(here)) {
      if (const int waiting = shared_.waiting(here))
        items.insert(items.begin(), {tr("Review changes by others"), tr("%1 lines").arg(waiting),
                                     [this, here] { emit look_wanted(here); }});
      items.push_back({tr("Find the shared file …"), text_of(shared->file), [this, here] { emit share_wanted(here); }});
      items.push_back({tr("Stop sharing"), tr("library and file stay"), [this, here] { shared_.stop(here); }});
    } else {
      items.push_back({tr("Share as file …"), tr("for several computers"), [this, here] { emit share_wanted(here); }});
    }
    items.push_back({tr("Delete with its cutters"), tr("can be undone"), [this, here] { remove(here); }});
  }
  items.push_back({tr("Import cutters …"), tr("JSON, CSV, XLSX, XML"), [this, id] { emit import_wanted(id); }});
  items.push_back(
      {tr("Export cutters …"), tr("JSON, CSV, XLSX, XML, DXF, SVG"), [this, id] { emit export_wanted(id); }});
  items.push_back({tr("Stock-taking sheet …"), tr("to print or to fill in"), [this, id] {
                     set_current(id);
                     emit chosen(id);
                     emit stock_sheet_wanted();
                   }});
  items.push_back({tr("Open shared library …"), {}, [this] { emit open_shared_wanted(); }});
  items.push_back({tr("New library"), {}, [this] { new_library(); }});
  QPushButton* under = chip_of(id);
  list_->open(under->mapToGlobal(QPoint(0, under->height() + 2)), 440, std::move(items), 0,
              library ? text_of(library->name) : tr("All libraries"));
}

}  // namespace pecorra

#include "moc_library_chips.cpp"
