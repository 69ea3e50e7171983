#include "shop/shared_libraries.h"

#include <QFileInfo>

#include "shop/words.h"

namespace pecorra {
namespace {

constexpr int look_interval_ms = 1500;

QString key_of(const SharedLibrary& shared) { return text_of(shared.id.text()); }

}  // namespace

SharedLibraries::SharedLibraries(Shop& shop, Tasks& tasks, QObject* parent)
    : QObject(parent), shop_(shop), tasks_(tasks) {
  timer_.setInterval(look_interval_ms);
  connect(&timer_, &QTimer::timeout, this, &SharedLibraries::look);
  const auto follow = [this] {
    for (auto it = states_.begin(); it != states_.end();) {
      const auto id = Id::parse(it.key().toStdString());
      it = id && shop_.state().shared_libraries.find(*id) ? std::next(it) : states_.erase(it);
    }
    const bool any = !shop_.state().shared_libraries.empty() && !shop_.is_read_only();
    if (any && !timer_.isActive()) timer_.start();
    if (!any) timer_.stop();
    emit changed();
  };
  connect(&shop_, &Shop::changed, this, follow);
  follow();
}

SharedLibraries::~SharedLibraries() {
  // The last changes are written before the program ends.
  if (shop_.is_read_only()) return;
  for (const SharedLibrary& shared : shop_.state().shared_libraries) {
    const auto state = states_.constFind(key_of(shared));
    const Library* library = shop_.state().libraries.find(shared.library);
    if (state == states_.constEnd() || !library || !is_ours_changed(*state, shared.library)) continue;
    [[maybe_unused]] const auto last =
        QtConcurrent::run([shop = shop_.file(), shared, state = ShopState(shop_.state()), library = *library] {
          exchange_shared(shop, shared, shared_side(state, library));
        });
  }
}

SharedLibraries::Versions SharedLibraries::versions() const {
  const ShopState& s = shop_.state();
  return {s.cutters.version(), s.assemblies.version() + s.recipes.version(),
          s.libraries.version() + s.edge_materials.version() + s.inserts.version() + s.collets.version() +
              s.holders.version() + s.materials.version()};
}

bool SharedLibraries::is_ours_changed(const State& state, const Id& library) const {
  const Versions now = versions();
  if (!state.looked || now.kept != state.seen.kept || now.parts != state.seen.parts) return true;
  if (now.cutters == state.seen.cutters) return false;
  const auto put = shop_.state().cutters.put_since(state.seen.cutters);
  return !put || std::any_of(put->begin(), put->end(),
                             [&](std::size_t place) { return shop_.state().cutters[place].library == library; });
}

void SharedLibraries::look() {
  for (const SharedLibrary& shared : shop_.state().shared_libraries) {
    State& state = states_[key_of(shared)];
    if (state.busy) continue;
    if (is_ours_changed(state, shared.library)) {
      exchange(shared);
      continue;
    }
    // A folder on the network may take its time.
    state.busy = true;
    tasks_.run(
        this, {}, [file = text_of(shared.file)](Task&) { return mark_of_file(file); },
        [this, id = shared.id, file = shared.file](const FileMark& mark) {
          const SharedLibrary* now = shop_.state().shared_libraries.find(id);
          if (!now) return;
          State& here = states_[key_of(*now)];
          here.busy = false;
          const bool try_again = here.report && !here.report->fault.isEmpty() && !here.report->gone;
          if (now->file != file || !here.report || mark != here.report->mark || try_again) exchange(*now);
        });
  }
}

void SharedLibraries::exchange(const SharedLibrary& shared) {
  const Library* library = shop_.state().libraries.find(shared.library);
  State& state = states_[key_of(shared)];
  if (!library || state.busy) return;
  state.busy = true;
  state.looked = true;
  state.seen = versions();
  tasks_.run(
      this, {},
      [shop = shop_.file(), shared, held = std::make_shared<const ShopState>(shop_.state()), library = *library,
       make = state.make, stand = std::exchange(state.ours_stand, {})](Task&) mutable {
        const LibraryFile ours = shared_side(*held, library);
        held.reset();  // so that later changes need not copy the list
        return std::make_shared<const SharedReport>(exchange_shared(shop, shared, ours, make, stand));
      },
      [this, id = shared.id, file = shared.file](const std::shared_ptr<const SharedReport>& report) {
        const SharedLibrary* now = shop_.state().shared_libraries.find(id);
        if (!now) return;
        State& here = states_[key_of(*now)];
        here.busy = false;
        if (now->file != file) return look();
        const QString before = here.report ? here.report->fault : QString();
        const std::size_t waited = here.report ? here.report->lines.size() : 0;
        here.report = report;
        if (report->fault.isEmpty()) here.make = false;
        const QString name = QFileInfo(text_of(file)).fileName();
        if (!report->fault.isEmpty() && report->fault != before) emit said(report->fault, true);
        else if (report->written > 0)
          emit said(report->written == 1 ? tr("1 change written to %1").arg(name)
                                         : tr("%1 changes written to %2").arg(report->written).arg(name),
                    false);
        else if (report->lines.size() > waited && !here.just_opened)
          emit said(tr("%1 was changed by someone else: %2 to review").arg(name).arg(report->lines.size()), false);
        emit changed();
        if (!here.ours_stand.empty()) exchange(*now);
        if (std::exchange(here.just_opened, false) && !report->lines.empty()) emit opened(now->library);
      });
}

void SharedLibraries::settle(const Id& library, const std::vector<SharedLine>& lines) {
  const SharedLibrary* s = shared(library);
  if (!s) return;
  std::vector<SharedLine>& waiting = states_[key_of(*s)].ours_stand;
  waiting.insert(waiting.end(), lines.begin(), lines.end());
  exchange(*s);
}

const SharedLibrary* SharedLibraries::shared(const Id& library) const {
  for (const SharedLibrary& s : shop_.state().shared_libraries)
    if (s.library == library) return &s;
  return nullptr;
}

const SharedLibraries::State* SharedLibraries::state_of(const Id& library) const {
  const SharedLibrary* s = shared(library);
  const auto found = s ? states_.constFind(key_of(*s)) : states_.constEnd();
  return found == states_.constEnd() ? nullptr : &*found;
}

QString SharedLibraries::fault(const Id& library) const {
  const State* s = state_of(library);
  return s && s->report ? s->report->fault : QString();
}

int SharedLibraries::waiting(const Id& library) const {
  const State* s = state_of(library);
  return s && s->report ? static_cast<int>(s->report->lines.size()) : 0;
}

bool SharedLibraries::is_busy() const {
  return std::any_of(states_.begin(), states_.end(), [](const State& s) { return s.busy; });
}

std::optional<Id> SharedLibraries::to_look_at() const {
  for (const SharedLibrary& s : shop_.state().shared_libraries)
    if (waiting(s.library) > 0 || !fault(s.library).isEmpty()) return s.library;
  return std::nullopt;
}

std::shared_ptr<const SharedReport> SharedLibraries::changes(const Id& library) const {
  const State* s = state_of(library);
  return s && s->report && !s->report->lines.empty() ? s->report : nullptr;
}

void SharedLibraries::share(const Id& id, const QString& file) {
  const Library* library = shop_.state().libraries.find(id);
  if (!library || shared(id)) return;
  SharedLibrary made;
  made.id = new_id();
  made.library = id;
  made.file = QFileInfo(file).absoluteFilePath().toStdString();
  Change change;
  change.label = tr("%1 is shared as %2").arg(text_of(library->name), QFileInfo(file).fileName());
  change.add(made);
  states_[key_of(made)].make = true;
  shop_.apply(std::move(change));
  look();
}

void SharedLibraries::open(const QString& file) {
  const QString whole = QFileInfo(file).absoluteFilePath();
  for (const SharedLibrary& s : shop_.state().shared_libraries)
    if (text_of(s.file) == whole) return emit said(tr("%1 is already open").arg(QFileInfo(file).fileName()), false);
  // Only its name and UUID are needed at first.
  tasks_.run(
      this, tr("Reading %1").arg(QFileInfo(whole).fileName()),
      [whole, ours = LibraryFile{}](Task&) {
        SharedPrints nothing;
        return std::make_shared<const SharedReport>(exchange_shared(ours, whole, nothing));
      },
      [this, whole](const std::shared_ptr<const SharedReport>& report) {
        if (!report->fault.isEmpty()) return emit said(report->fault, true);
        Library library = report->theirs.library;
        library.revision = 0;
        library.switched_on = true;
        if (library.id.is_null()) library.id = new_id();
        if (library.name.empty()) library.name = QFileInfo(whole).completeBaseName().toStdString();
        Change change;
        if (const Library* known = shop_.state().libraries.find(library.id); !known) change.add(library);
        else if (shared(library.id))
          return emit said(tr("%1 is the library %2, which is already shared")
                               .arg(QFileInfo(whole).fileName(), text_of(known->name)),
                           true);
        SharedLibrary made;
        made.id = new_id();
        made.library = library.id;
        made.file = whole.toStdString();
        change.add(made);
        change.label = tr("Shared library %1 opened").arg(text_of(library.name));
        states_[key_of(made)].just_opened = true;
        shop_.apply(std::move(change));
        look();
      });
}

void SharedLibraries::stop(const Id& library) {
  const SharedLibrary* s = shared(library);
  if (!s) return;
  Change change;
  change.label = tr("%1 is no longer shared; the file stays").arg(text_of(shop_.state().libraries.find(library)->name));
  change.remove(*s);
  shop_.apply(std::move(change));
}

void SharedLibraries::set_file(const Id& library, const QString& file) {
  const SharedLibrary* before = shared(library);
  if (!before) return;
  SharedLibrary after = *before;
  after.file = QFileInfo(file).absoluteFilePath().toStdString();
  State& state = states_[key_of(*before)];
  state.make = true;
  state.looked = false;
  shop_.edit(*before, after, tr("Shared as %1").arg(QFileInfo(file).fileName()));
  look();
}

}  // namespace pecorra

#include "moc_shared_libraries.cpp"
