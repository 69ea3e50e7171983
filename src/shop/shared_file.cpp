#include "shop/shared_file.h"

#include <QFile>
#include <QFileInfo>
#include <QLockFile>
#include <QObject>
#include <algorithm>

#include "core/library/cutter_rows.h"
#include "shop/number_plan.h"
#include "shop/shop.h"
#include "shop/words.h"
#include "store/write_file.h"

namespace pecorra {
namespace {

constexpr qint64 most_bytes = 256ll << 20;
constexpr int lock_wait_ms = 3000;
constexpr int lock_stale_ms = 30000;

// What cutters refer to by name is the same thing under any UUID.
Id named_id(ObjectKind kind, const std::string& name) { return Id::from_name(std::string(key_of(kind)) + "/" + name); }
Id part_key(const Insert& i) { return named_id(ObjectKind::insert, i.name); }
Id part_key(const EdgeMaterial& m) { return named_id(ObjectKind::edge_material, m.name); }
template <class T>
Id part_key(const T& part) {
  return part.id;
}

template <class T>
std::string print_text(const T& part) {
  Json json = to_json(part);
  json.erase("id");
  return json.dump();
}
std::string print_text(const Library& l) { return Json{{"name", l.name}, {"notes", l.notes}}.dump(); }

template <class T>
const T* by_id(const std::vector<T>& all, const Id& id) {
  const auto found = std::find_if(all.begin(), all.end(), [&](const T& t) { return part_key(t) == id; });
  return found == all.end() ? nullptr : &*found;
}

// Calls visit(kind, parts of a, parts of b) for every list of parts that cutters refer to.
template <class A, class B, class Visit>
void each_part(A& a, B& b, Visit&& visit) {
  visit(ObjectKind::edge_material, a.edge_materials, b.edge_materials);
  visit(ObjectKind::insert, a.inserts, b.inserts);
  visit(ObjectKind::collet, a.collets, b.collets);
  visit(ObjectKind::holder, a.holders, b.holders);
  visit(ObjectKind::material, a.materials, b.materials);
}

void put(LibraryFile& file, const CutterParts& parts) {
  file.cutters.push_back(*parts.cutter);
  for (const Assembly* a : parts.assemblies) file.assemblies.push_back(*a);
  for (const Recipe* r : parts.recipes) file.recipes.push_back(*r);
}

struct Read {
  QString fault;
  bool gone = false;
  LibraryFile file;
  QString not_understood;         // the first thing not understood; empty: none
  std::unordered_set<Id> unread;  // cutters of the file that contain something not understood
};

Read read_shared(const QString& name) {
  Read out;
  const QString short_name = QFileInfo(name).fileName();
  QFile in(name);
  if (!QFileInfo::exists(name)) {
    out.gone = true;
    return out;
  }
  if (!QFileInfo(name).isFile() || !in.open(QIODevice::ReadOnly)) {
    out.fault = QObject::tr("“%1” cannot be read: %2")
                    .arg(short_name, QFileInfo(name).isFile() ? in.errorString() : QObject::tr("it is not a file"));
    return out;
  }
  if (in.size() > most_bytes) {
    out.fault = QObject::tr("“%1” is larger than 256 MB").arg(short_name);
    return out;
  }
  const QByteArray bytes = in.readAll();
  if (in.error() != QFileDevice::NoError) {
    out.fault = QObject::tr("“%1” cannot be read: %2").arg(short_name, in.errorString());
    return out;
  }
  auto read = read_library(std::string_view(bytes.constData(), static_cast<std::size_t>(bytes.size())));
  if (!read) {
    out.fault = QObject::tr("“%1” %2; it was not changed").arg(short_name, reader_text(read.error()));
    return out;
  }
  const auto not_understood = [&](const std::string& what, const FormatFaults& faults) {
    if (!faults.empty() && out.not_understood.isEmpty())
      out.not_understood = QStringLiteral("%1: %2").arg(text_of(what), reader_text(faults.front()));
  };
  not_understood(read->file.library.name, read->part_faults);
  std::vector<Cutter> whole;
  for (std::size_t i = 0; i < read->file.cutters.size(); ++i) {
    Cutter& c = read->file.cutters[i];
    not_understood(c.name, read->faults[i]);
    if (!read->has_id[i]) not_understood(c.name, {{"id", "is missing; every cutter of a shared library has one"}});
    else if (read->faults[i].empty()) whole.push_back(std::move(c));
    else out.unread.insert(c.id);
  }
  read->file.cutters = std::move(whole);
  out.file = std::move(read->file);
  return out;
}

struct Comparison {
  std::vector<SharedLine> differing;
  SharedPrints agreed;  // of everything equal on both sides now
};

// What could not be read is left out on both sides.
Comparison compare(const LibraryFile& ours, const LibraryFile& theirs, const SharedPrints& common,
                   const std::unordered_set<Id>& unread) {
  Comparison out;
  const auto take = [&](ObjectKind kind, const Id& id, std::optional<std::uint64_t> here,
                        std::optional<std::uint64_t> there) {
    const auto known = common.find(id);
    if (unread.contains(id)) {
      if (known != common.end()) out.agreed.insert(*known);
      return;
    }
    const SharedState state =
        shared_state(known == common.end() ? std::nullopt : std::optional(known->second), here, there);
    if (state != SharedState::same)
      out.differing.push_back({kind, id, state, here.has_value(), there.has_value(), there.value_or(0)});
    else if (here) out.agreed[id] = *here;
  };
  if (!theirs.library.id.is_null() || !theirs.library.name.empty())
    take(ObjectKind::library, ours.library.id, print_of(print_text(ours.library)),
         print_of(print_text(theirs.library)));
  each_part(ours, theirs, [&](ObjectKind kind, const auto& mine, const auto& others) {
    // What only one side has is copied along with the cutter that needs it.
    for (const auto& part : others)
      if (const auto* same = by_id(mine, part_key(part)))
        take(kind, part_key(part), print_of(print_text(*same)), print_of(print_text(part)));
  });
  const SharedSide here(ours), there(theirs);
  std::vector<const Cutter*> order;
  for (const Cutter& c : ours.cutters) order.push_back(&c);
  for (const Cutter& c : theirs.cutters)
    if (!here.find(c.id)) order.push_back(&c);
  for (const Cutter* c : order) {
    const CutterParts *mine = here.find(c->id), *others = there.find(c->id);
    take(ObjectKind::cutter, c->id, mine ? std::optional(here.print(*mine)) : std::nullopt,
         others ? std::optional(there.print(*others)) : std::nullopt);
  }
  return out;
}

// The file with our side of the lines we have to write; nothing if there are none.
std::optional<LibraryFile> written_side(const LibraryFile& ours, const LibraryFile& theirs,
                                        const std::vector<SharedLine>& lines, int& count) {
  std::unordered_set<Id> to_file;
  for (const SharedLine& line : lines) to_file.insert(line.id);
  count = static_cast<int>(to_file.size());
  if (to_file.empty()) return std::nullopt;
  LibraryFile out;
  out.shop = theirs.shop.empty() ? ours.shop : theirs.shop;
  out.library = theirs.library.id.is_null() || to_file.contains(ours.library.id) ? ours.library : theirs.library;
  const SharedSide here(ours), there(theirs);
  for (const Cutter& c : theirs.cutters) {
    if (!to_file.contains(c.id)) put(out, *there.find(c.id));
    else if (const CutterParts* mine = here.find(c.id)) put(out, *mine);
  }
  for (const Cutter& c : ours.cutters)
    if (to_file.contains(c.id) && !there.find(c.id)) put(out, *here.find(c.id));
  // What they refer to: ours if we changed it, else the file's.
  std::unordered_set<Id> needed;
  std::unordered_map<Id, std::string> insert_names;
  for (const LibraryFile* file : {&ours, &theirs})
    for (const Insert& i : file->inserts) insert_names[i.id] = i.name;
  for (const Cutter& c : out.cutters) {
    if (const auto name = insert_names.find(c.insert); name != insert_names.end())
      needed.insert(named_id(ObjectKind::insert, name->second));
    for (const std::string& name : {c.coating, c.own_material})
      if (!name.empty()) needed.insert(named_id(ObjectKind::edge_material, name));
  }
  for (const Assembly& a : out.assemblies) needed.insert(a.holder), needed.insert(a.collet);
  for (const Recipe& r : out.recipes) needed.insert(r.material);
  each_part(ours, theirs, [&](ObjectKind, const auto& mine, const auto& others) {
    using Part = typename std::remove_cvref_t<decltype(mine)>::value_type;
    std::vector<Part>* into = nullptr;
    each_part(out, out, [&](ObjectKind, auto& list, auto&) {
      if constexpr (std::is_same_v<std::remove_cvref_t<decltype(list)>, std::vector<Part>>) into = &list;
    });
    for (const Part& part : others)
      if (needed.contains(part_key(part))) {
        const Part* changed = to_file.contains(part_key(part)) ? by_id(mine, part_key(part)) : nullptr;
        into->push_back(changed ? *changed : part);
      }
    for (const Part& part : mine)
      if (needed.contains(part_key(part)) && !by_id(others, part_key(part))) into->push_back(part);
  });
  // Every insert is referred to by its UUID in the list that is written.
  for (Cutter& c : out.cutters)
    if (const auto name = insert_names.find(c.insert); name != insert_names.end())
      if (const Insert* listed = by_id(out.inserts, named_id(ObjectKind::insert, name->second))) c.insert = listed->id;
  return out;
}

QString lock_trouble(QLockFile& lock, const QString& file) {
  if (lock.error() == QLockFile::PermissionError)
    return QObject::tr("“%1” cannot be written: its folder is write-protected").arg(QFileInfo(file).fileName());
  qint64 process = 0;
  QString host, application;
  if (lock.getLockInfo(&process, &host, &application))
    return QObject::tr("“%1” is being written on %2; trying again").arg(QFileInfo(file).fileName(), host);
  return QObject::tr("“%1” cannot be locked for writing; trying again").arg(QFileInfo(file).fileName());
}

std::string kept_key(const SharedLibrary& shared) { return "shared/" + shared.id.text(); }

template <class T>
QStringList differing(const T& before, const T& after, std::span<const Property<T>> list, UnitSystem units) {
  QStringList texts;
  for (const Property<T>& p : list) {
    if (p.key == "library" || p.key == "typed" || same_value(p.get(before), p.get(after))) continue;
    if (p.quantity == Quantity::id) texts << QObject::tr("%1 changes").arg(label_text(p.label));
    else texts << property_change_text(label_text(p.label), p.get(before), p.get(after), p.quantity, p.choices, units);
  }
  return texts;
}

template <class T>
void differing_kept(QStringList& texts, const QString& what, const std::vector<const T*>& before,
                    const std::vector<const T*>& after) {
  int fresh = 0, changed = 0, gone = 0;
  const auto among = [](const std::vector<const T*>& list, const Id& id) {
    const auto found = std::find_if(list.begin(), list.end(), [&](const T* t) { return t->id == id; });
    return found == list.end() ? nullptr : *found;
  };
  for (const T* t : after) {
    const T* known = among(before, t->id);
    fresh += !known;
    changed += known && print_text(*known) != print_text(*t);
  }
  for (const T* t : before) gone += !among(after, t->id);
  if (fresh) texts << QObject::tr("%1 new %2").arg(fresh).arg(what);
  if (changed) texts << QObject::tr("%1 changed %2").arg(changed).arg(what);
  if (gone) texts << QObject::tr("%1 %2 fewer").arg(gone).arg(what);
}

CutterParts parts_of(const ShopState& state, const Cutter& cutter) {
  CutterParts parts{&cutter, {}, {}};
  for (const std::size_t i : state.assemblies.of_cutter(cutter.id)) parts.assemblies.push_back(&state.assemblies[i]);
  for (const std::size_t i : state.recipes.of_cutter(cutter.id)) parts.recipes.push_back(&state.recipes[i]);
  return parts;
}

// Calls visit(part of the file, part here or null) for the part of that line.
template <class Visit>
void visit_part(const ShopState& state, const LibraryFile& theirs, const SharedLine& line, Visit&& visit) {
  const auto pair = [&](const auto& there, const auto& here) {
    if (const auto* part = by_id(there, line.id)) visit(*part, by_id(here, line.id));
  };
  switch (line.kind) {
    case ObjectKind::edge_material: return pair(theirs.edge_materials, state.edge_materials.all());
    case ObjectKind::insert: return pair(theirs.inserts, state.inserts.all());
    case ObjectKind::collet: return pair(theirs.collets, state.collets.all());
    case ObjectKind::holder: return pair(theirs.holders, state.holders.all());
    case ObjectKind::material: return pair(theirs.materials, state.materials.all());
    default: return;
  }
}

}  // namespace

SharedSide::SharedSide(const LibraryFile& file) : file_(file), inserts_(insert_names(file)) {
  for (const Cutter& c : file.cutters) cutters_[c.id].cutter = &c;
  const auto of = [&](const Id& cutter) -> CutterParts* {
    const auto found = cutters_.find(cutter);
    return found == cutters_.end() ? nullptr : &found->second;
  };
  for (const Assembly& a : file.assemblies)
    if (CutterParts* parts = of(a.cutter)) parts->assemblies.push_back(&a);
  for (const Recipe& r : file.recipes)
    if (CutterParts* parts = of(r.cutter)) parts->recipes.push_back(&r);
  const auto earlier = [](const auto* a, const auto* b) { return a->id.text() < b->id.text(); };
  for (auto& [id, parts] : cutters_) {
    std::sort(parts.assemblies.begin(), parts.assemblies.end(), earlier);
    std::sort(parts.recipes.begin(), parts.recipes.end(), earlier);
  }
}

const CutterParts* SharedSide::find(const Id& id) const {
  const auto found = cutters_.find(id);
  return found == cutters_.end() ? nullptr : &found->second;
}

std::uint64_t SharedSide::print(const CutterParts& parts) const {
  return print_of(cutter_entry(inserts_, *parts.cutter, parts.assemblies, parts.recipes).dump());
}

FileMark mark_of_file(const QString& file) {
  const QFileInfo info(file);
  return info.isFile() ? FileMark{info.size(), info.lastModified()} : FileMark{};
}

LibraryFile shared_side(const ShopState& state, const Library& library) {
  LibraryFile file;
  file.shop = state.shop_settings().name;
  file.library = library;
  std::unordered_set<Id> ids;
  for (const Cutter& c : state.cutters)
    if (c.library == library.id) file.cutters.push_back(c), ids.insert(c.id);
  for (const Assembly& a : state.assemblies)
    if (ids.contains(a.cutter)) file.assemblies.push_back(a);
  for (const Recipe& r : state.recipes)
    if (ids.contains(r.cutter)) file.recipes.push_back(r);
  file.edge_materials = state.edge_materials.all();
  file.inserts = state.inserts.all();
  file.collets = state.collets.all();
  file.holders = state.holders.all();
  file.materials = state.materials.all();
  return file;
}

SharedReport exchange_shared(const LibraryFile& ours, const QString& file, SharedPrints& common, bool make,
                             const std::unordered_set<Id>& may_go) {
  SharedReport report;
  QLockFile lock(file + QStringLiteral(".lock"));
  lock.setStaleLockTime(lock_stale_ms);
  // Read without a lock first: usually there is nothing to write, and files are replaced as a whole.
  for (const bool locked : {false, true}) {
    if (locked && !lock.tryLock(lock_wait_ms)) {
      report.fault = lock_trouble(lock, file);
      return report;
    }
    report.mark = mark_of_file(file);
    Read read = read_shared(file);
    report.fault = read.fault;
    report.gone = read.gone;
    if (!read.fault.isEmpty()) return report;
    if (read.gone && !make) {
      report.fault =
          QObject::tr("“%1” is no longer in its folder; nothing was changed here").arg(QFileInfo(file).fileName());
      return report;
    }
    report.theirs = std::move(read.file);
    const Comparison comparison = compare(ours, report.theirs, common, read.unread);
    report.lines.clear();
    std::vector<SharedLine> to_write;
    for (const SharedLine& line : comparison.differing)
      (line.state == SharedState::to_file && (line.here || may_go.contains(line.id)) ? to_write : report.lines)
          .push_back(line);
    int count = 0;
    auto out = written_side(ours, report.theirs, to_write, count);
    if (!out && read.gone) out = LibraryFile{ours.shop, ours.library, {}, {}, {}, {}, {}, {}, {}, {}};
    if (!read.not_understood.isEmpty()) {
      report.fault =
          QObject::tr(
              "“%1” contains entries this Pecorra does not understand, so it is not written until they are fixed: %2")
              .arg(QFileInfo(file).fileName(), read.not_understood);
      out.reset();
    } else if (out && !locked) {
      continue;
    }
    if (out) {
      const std::string text = library_text(*out);
      // Cutters that could not be read are not passed on.
      const auto back = read_library(text);
      FormatFaults faults = back ? back->part_faults : FormatFaults{back.error()};
      if (back)
        for (const FormatFaults& own : back->faults) faults.insert(faults.end(), own.begin(), own.end());
      if (!faults.empty()) {
        report.fault =
            QObject::tr("Not written to “%1”: %2").arg(QFileInfo(file).fileName(), reader_text(faults.front()));
        return report;
      }
      if (const QString fault = write_file(file, QByteArray::fromStdString(text)); !fault.isEmpty()) {
        report.fault = fault;
        return report;
      }
      report.written = count;
      report.gone = false;
      report.theirs = std::move(*out);
      report.mark = mark_of_file(file);
    }
    const Comparison after = report.written ? compare(ours, report.theirs, common, read.unread) : comparison;
    // Where both still differ, the last common hash is kept; hashes of objects deleted on both sides are dropped.
    SharedPrints kept = after.agreed;
    for (const SharedLine& line : after.differing)
      if (const auto known = common.find(line.id); known != common.end()) kept[line.id] = known->second;
    common = std::move(kept);
    return report;
  }
  return report;
}

SharedReport exchange_shared(const QString& shop_file, const SharedLibrary& shared, const LibraryFile& ours, bool make,
                             const std::vector<SharedLine>& ours_stand) {
  SharedReport report;
  auto store = Store::open(shop_file);
  if (!store) {
    report.fault = store.error().sentence();
    return report;
  }
  const auto bytes = (*store)->kept(kept_key(shared));
  if (!bytes) {
    report.fault = bytes.error().sentence();
    return report;
  }
  const QString file = text_of(shared.file);
  SharedPrints common = prints_from(*bytes);
  std::unordered_set<Id> may_go;
  for (const SharedLine& line : ours_stand) {
    if (!line.here) may_go.insert(line.id);
    // As if ours were an edit of theirs.
    if (line.there) common[line.id] = line.print;
    else common.erase(line.id);
  }
  report = exchange_shared(ours, file, common, make, may_go);
  const std::string now = bytes_of(common);
  if (prints_from(*bytes) != common)
    if (const auto fault = (*store)->keep(kept_key(shared), now); fault && report.fault.isEmpty())
      report.fault = fault->sentence();
  return report;
}

QString shared_line_name(const ShopState& state, const SharedSide& there, const SharedLine& line) {
  if (line.kind == ObjectKind::library) return QObject::tr("The library itself");
  if (line.kind == ObjectKind::cutter) {
    const CutterParts* parts = there.find(line.id);
    const Cutter* c = parts ? parts->cutter : state.cutters.find(line.id);
    return c ? QStringLiteral("%1  %2").arg(c->number).arg(text_of(c->name)) : QString();
  }
  QString name;
  const QString kind = label_text(label_of(line.kind));
  visit_part(state, there.file(), line,
             [&](const auto& part, const auto*) { name = QStringLiteral("%1 %2").arg(kind, text_of(part.name)); });
  return name;
}

QStringList shared_line_changes(const ShopState& state, const Id& library, const SharedSide& side,
                                const SharedLine& line, UnitSystem units) {
  QStringList texts;
  if (line.state == SharedState::both)
    texts << (line.here && line.there ? QObject::tr("changed here and in the file")
              : line.there            ? QObject::tr("deleted here, changed in the file")
                                      : QObject::tr("changed here, deleted in the file"));
  if (line.kind == ObjectKind::library) {
    if (const Library* here = state.libraries.find(library))
      texts << differing(*here, side.file().library, properties<Library>().first(2), units);
  } else if (line.kind != ObjectKind::cutter) {
    visit_part(state, side.file(), line, [&](const auto& there, const auto* here) {
      using Shared = std::remove_cvref_t<decltype(there)>;
      if (here) texts << differing<Shared>(*here, there, properties<Shared>(), units);
    });
  } else if (line.state == SharedState::to_file) {
    texts << QObject::tr("was deleted here but is in the file; tick to restore it");
  } else if (!line.there) {
    texts << QObject::tr("was removed from the file; it would be deleted here");
  } else {
    const CutterParts& there = *side.find(line.id);
    const Cutter* here = state.cutters.find(line.id);
    if (here && here->library != library) {
      const Library* other = state.libraries.find(here->library);
      texts << QObject::tr("is in %1 here; it would move")
                   .arg(other ? text_of(other->name) : QObject::tr("another library"));
    } else if (!here) {
      texts << label_text(label_of(there.cutter->kind));
      if (!there.cutter->maker.empty()) texts << text_of(there.cutter->maker);
      if (!there.cutter->order_code.empty()) texts << text_of(there.cutter->order_code);
      if (!there.recipes.empty()) texts << QObject::tr("%1 recipes").arg(there.recipes.size());
      return texts;
    }
    const CutterParts before = parts_of(state, *here);
    texts << differing(*here, *there.cutter, cutter_cells(), units);
    differing_kept(texts, QObject::tr("assemblies"), before.assemblies, there.assemblies);
    differing_kept(texts, QObject::tr("recipes"), before.recipes, there.recipes);
  }
  if (texts.isEmpty()) texts << QObject::tr("details change");
  return texts;
}

Change take_shared(const ShopState& state, const Library& library, const SharedReport& report,
                   const std::vector<std::size_t>& places) {
  Change change;
  const LibraryFile& theirs = report.theirs;
  const SharedSide there(theirs);
  std::unordered_set<Id> needed;
  std::unordered_set<Id> brought;  // keys of parts that have their own line
  int taken = 0;
  const auto put_object = [&](const auto* before, auto after, const Id& id) {
    after.id = id;
    after.revision = before ? before->revision : 0;
    if (before) change.edit(*before, after);
    else change.add(after);
  };
  std::vector<const SharedLine*> cutters;
  for (const std::size_t place : places) {
    const SharedLine& line = report.lines[place];
    ++taken;
    if (line.kind == ObjectKind::cutter) {
      cutters.push_back(&line);
    } else if (line.kind == ObjectKind::library) {
      Library after = library;
      after.name = theirs.library.name;
      after.notes = theirs.library.notes;
      change.edit(library, after);
    } else {
      visit_part(state, theirs, line, [&](const auto& part, const auto* here) {
        if (here) put_object(here, part, here->id);
      });
      brought.insert(line.id);
    }
  }
  // Numbers after the change.
  std::unordered_set<Id> coming;
  for (const SharedLine* line : cutters) coming.insert(line->id);
  std::vector<Cutter> after_it;  // those longest in the file first
  for (const Cutter& c : theirs.cutters) {
    const Cutter* here = state.cutters.find(c.id);
    if (coming.contains(c.id)) after_it.push_back(c);
    else if (here && here->library == library.id) after_it.push_back(*here);
  }
  for (const Cutter& c : state.cutters)
    if (c.library == library.id && !coming.contains(c.id) && !there.find(c.id)) after_it.push_back(c);
  TakenNumbers numbers(std::span<const Cutter>{}, library.id);
  std::vector<const Cutter*> second;
  for (const Cutter& c : after_it) {
    if (numbers.contains(c.number)) second.push_back(&c);
    else numbers.take(c.number);
  }
  const auto further = materials_of_recipes(state);
  std::unordered_map<Id, int> give_way;
  for (const Cutter* c : second) {
    const int number = give_way[c->id] = numbers.free_for(*c, state.number_blocks.all(), further);
    numbers.take(number);
    if (coming.contains(c->id)) continue;
    Cutter after = *state.cutters.find(c->id);
    after.number = number;
    change.edit(*state.cutters.find(c->id), after);
  }
  std::vector<Id> gone;
  const auto shop_insert = [&](const Id& id) -> Id {
    for (const Insert& i : theirs.inserts)
      if (i.id == id)
        if (const Insert* here = by_id(state.inserts.all(), part_key(i))) return here->id;
    return id;
  };
  for (const SharedLine* line : cutters) {
    const CutterParts* parts = there.find(line->id);
    if (!parts) {
      gone.push_back(line->id);
      continue;
    }
    Cutter after = *parts->cutter;
    const Cutter* here = state.cutters.find(line->id);
    after.library = library.id;
    needed.insert(after.insert);
    after.insert = shop_insert(after.insert);
    for (const std::string& name : {after.coating, after.own_material})
      needed.insert(named_id(ObjectKind::edge_material, name));
    if (const auto given = give_way.find(after.id); given != give_way.end()) after.number = given->second;
    put_object(here, after, after.id);
    const auto put_kept = [&](const auto& collection, const auto& wanted) {
      for (const auto* t : wanted) {
        const auto* known = collection.find(t->id);
        auto copy = *t;
        if (known && known->cutter != after.id) known = nullptr, copy.id = new_id();
        put_object(known, copy, copy.id);
      }
      for (const std::size_t i : collection.of_cutter(after.id))
        if (std::none_of(wanted.begin(), wanted.end(), [&](const auto* t) { return t->id == collection[i].id; }))
          change.remove(collection[i]);
    };
    put_kept(state.assemblies, parts->assemblies);
    put_kept(state.recipes, parts->recipes);
    for (const Assembly* a : parts->assemblies) needed.insert(a->holder), needed.insert(a->collet);
    for (const Recipe* r : parts->recipes) needed.insert(r->material);
  }
  Change removal = delete_cutters(state, gone);
  change.objects.insert(change.objects.end(), removal.objects.begin(), removal.objects.end());
  // What they refer to and this shop does not have.
  Change first;
  each_part(theirs, theirs, [&](ObjectKind, const auto& parts, const auto&) {
    for (const auto& part : parts) {
      if (!needed.contains(part.id) && !needed.contains(part_key(part))) continue;
      bool here = false;
      each_part(state, state, [&](ObjectKind, const auto& mine, const auto&) {
        if constexpr (std::is_same_v<std::remove_cvref_t<decltype(mine[0])>, std::remove_cvref_t<decltype(part)>>)
          here = mine.find(part.id) || by_id(mine.all(), part_key(part));
      });
      if (here) continue;
      auto copy = part;
      copy.revision = 0;
      first.add(copy);
    }
  });
  change.objects.insert(change.objects.begin(), first.objects.begin(), first.objects.end());
  change.label = taken == 1
                     ? QObject::tr("1 change from the shared file into %1").arg(text_of(library.name))
                     : QObject::tr("%1 changes from the shared file into %2").arg(taken).arg(text_of(library.name));
  return change;
}

}  // namespace pecorra
