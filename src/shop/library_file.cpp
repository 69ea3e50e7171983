#include "shop/library_file.h"

#include <fmt/format.h>
#include <QFile>
#include <QFileInfo>
#include <QObject>
#include <algorithm>
#include <unordered_map>
#include <unordered_set>

#include "core/base/parallel.h"
#include "formats/documents/form_sheet.h"
#include "formats/mtconnect/assets.h"
#include "formats/sheet/sheet_file.h"
#include "shop/cutter_edit.h"
#include "shop/number_plan.h"
#include "shop/shop.h"
#include "shop/words.h"

namespace pecorra {
namespace {

constexpr Choice format_choices[] = {{"json", "Pecorra library (JSON)"}, {"csv", "Table (CSV)"},
                                     {"xlsx", "Spreadsheet (XLSX)"},     {"mtconnect", "MTConnect assets (XML)"},
                                     {"dxf", "Outlines (DXF)"},          {"svg", "Drawings (SVG)"}};
constexpr qint64 most_bytes = 256ll << 20;

std::function<bool(std::size_t)> part_of(const Progress& progress, double from, double to, std::size_t whole) {
  if (!progress) return {};
  return [&progress, from, to, whole](std::size_t done) {
    return progress(from +
                    (to - from) * static_cast<double>(done) / static_cast<double>(std::max<std::size_t>(whole, 1)));
  };
}

// Turns an object of a file into a line: absent members count as cleared.
SheetLine<Cutter> line_of(Cutter cutter, int number, const FormatFaults& faults, bool has_id) {
  SheetLine<Cutter> line;
  line.line = number;
  for (const FormatFault& f : faults) line.faults.push_back({number, f.key, f.text});
  if (!has_id) cutter.id = {};
  for (const Property<Cutter>& p : cutter_cells()) {
    if (p.key == "library" || (p.key == "number" && cutter.number < 1)) continue;
    // Without a UUID it comes from a plain list: properties not mentioned are left alone.
    if (!has_id && same_value(p.get(cutter), p.get(Cutter{}))) continue;
    line.given.push_back(&p);
  }
  line.value = std::move(cutter);
  return line;
}

InsertNamed insert_named(const KnownNames& names) {
  return [&names](const std::string& name) -> std::optional<Id> {
    const auto found = names.inserts.find(name);
    return found == names.inserts.end() ? std::nullopt : std::optional(found->second);
  };
}

IncomingCutters read_json_file(const std::string& text, const KnownNames& names) {
  IncomingCutters out;
  auto read = read_library(text, insert_named(names));
  if (!read) {
    out.fault = reader_text(read.error());
    return out;
  }
  for (std::size_t i = 0; i < read->file.cutters.size(); ++i) {
    out.known_as.push_back(read->file.cutters[i].id);
    out.lines.push_back(
        line_of(std::move(read->file.cutters[i]), static_cast<int>(i) + 1, read->faults[i], read->has_id[i]));
  }
  read->file.cutters.clear();
  out.parts = std::move(read->file);
  out.part_faults = std::move(read->part_faults);
  return out;
}

IncomingCutters read_xml_file(const std::string& text, const KnownNames& names) {
  IncomingCutters out;
  auto read = read_mtconnect(text, insert_named(names));
  if (!read) {
    out.fault = reader_text(read.error());
    return out;
  }
  for (std::size_t i = 0; i < read->cutters.size(); ++i) {
    out.known_as.push_back(read->cutters[i].id);
    out.extras.push_back({read->extras[i].holder, read->extras[i].stickout_mm});
    out.lines.push_back(
        line_of(std::move(read->cutters[i]), static_cast<int>(i) + 1, read->faults[i], read->has_id[i]));
  }
  return out;
}

IdLookup insert_lookup(const KnownNames& names) {
  return [named = insert_named(names)](std::string_view key, const std::string& name) -> std::optional<std::string> {
    const auto found = key == "insert" ? named(name) : std::nullopt;
    return found ? std::optional(found->text()) : std::nullopt;
  };
}

// Why the cutter with this number may not be the one the line means.
std::string another_cutter(const Cutter& before, const Cutter& after) {
  std::string here = fmt::format("number {} here is {}", before.number, before.name);
  if (before.kind != after.kind) return here;
  const bool other_code =
      !before.order_code.empty() && !after.order_code.empty() && before.order_code != after.order_code;
  return other_code && before.diameter_mm != after.diameter_mm ? here + ", order code " + before.order_code
                                                               : std::string();
}

}  // namespace

template <>
std::span<const Choice> choices_of<CutterFormat>() {
  return format_choices;
}

std::optional<CutterFormat> format_of_file(const QString& file) {
  const QString ending = QFileInfo(file).suffix().toLower();
  if (ending == QLatin1String("xml")) return CutterFormat::mtconnect;
  if (ending == QLatin1String("txt") || ending == QLatin1String("tsv")) return CutterFormat::csv;
  return choice_from_key<CutterFormat>(ending.toStdString());
}

KnownNames known_names(const ShopState& state) {
  KnownNames names;
  for (const Insert& i : state.inserts) names.inserts.emplace(i.name, i.id);
  return names;
}

void read_again(IncomingCutters& incoming, const CutterSheetForm& form, UnitSystem units, const KnownNames& names,
                const Progress& progress) {
  incoming.form = form;
  const IdLookup inserts = insert_lookup(names);
  bool stopped = false;
  const auto step = part_of(progress, 0.3, 1, incoming.sheet->lines.size());
  CutterLines read = read_cutter_sheet(*incoming.sheet, form, units, inserts, [&](std::size_t done) {
    stopped = stopped || (step && !step(done));
    return !stopped;
  });
  incoming.stopped = stopped;
  incoming.lines = std::move(read.lines);
  incoming.extras = std::move(read.extras);
  incoming.unknown = std::move(read.unknown);
}

IncomingCutters read_cutter_file(
    const QString& file, UnitSystem units, const KnownNames& names,
    const std::function<std::optional<CutterSheetForm>(const CutterSheetForm&)>& remembered, const Progress& progress) {
  IncomingCutters out;
  const bool form = file.endsWith(QLatin1String(".pdf"), Qt::CaseInsensitive);
  const auto format = form ? CutterFormat::csv : format_of_file(file);
  if (!format || *format == CutterFormat::dxf || *format == CutterFormat::svg) {
    out.fault =
        format
            ? QObject::tr("holds outlines, not cutters; import it as the profile of a form cutter")
            : QObject::tr(
                  "has an unsupported file type; use .json, .csv, .xlsx or .xml, or the .pdf of a stock-taking sheet");
    return out;
  }
  tl::expected<Sheet, FormatFault> sheet = tl::unexpected(FormatFault{});
  if (*format == CutterFormat::xlsx) {
    if (!QFileInfo(file).isFile()) {
      out.fault = QObject::tr("is not a readable file");
      return out;
    }
    sheet = read_xlsx(file.toStdString());
  } else {
    QFile in(file);
    if (!QFileInfo(file).isFile() || !in.open(QIODevice::ReadOnly)) {
      out.fault = QFileInfo(file).isFile() ? in.errorString() : QObject::tr("is not a readable file");
      return out;
    }
    if (in.size() > most_bytes) {
      out.fault = QObject::tr("is larger than 256 MB");
      return out;
    }
    const QByteArray bytes = in.readAll();
    if (in.error() != QFileDevice::NoError) {
      out.fault = in.errorString();
      return out;
    }
    if (progress && !progress(0.05)) {
      out.stopped = true;
      return out;
    }
    if (*format == CutterFormat::json) return read_json_file(bytes.toStdString(), names);
    if (*format == CutterFormat::mtconnect) return read_xml_file(bytes.toStdString(), names);
    const std::string_view text(bytes.constData(), static_cast<std::size_t>(bytes.size()));
    sheet = form ? read_pdf_form(text) : read_csv(text);
  }
  if (!sheet) {
    out.fault = reader_text(sheet.error());
    return out;
  }
  if (progress && !progress(0.3)) {
    out.stopped = true;
    return out;
  }
  CutterSheetForm columns = guess_columns(*sheet);
  if (remembered)
    if (auto known = remembered(columns)) columns = std::move(*known);
  out.sheet = std::move(*sheet);
  out.form = columns;
  if (!columns.headed) {
    out.fault = QObject::tr("has no line of known headings; expected at least two, such as Type, Diameter, Flutes");
    return out;
  }
  read_again(out, columns, units, names, progress);
  return out;
}

CutterPreview preview_cutters(const ShopState& state, const Library& library, IncomingCutters& incoming,
                              const Progress& progress) {
  CutterPreview out;
  MergeRules<Cutter> rules = cutter_merge_rules();
  rules.objection = another_cutter;
  for (SheetLine<Cutter>& line : incoming.lines) line.value.library = library.id;
  out.lines = std::move(incoming.lines);
  incoming.lines.clear();
  merge_lines<Cutter>(state.cutters.all(), out.lines, rules, part_of(progress, 0, 0.9, out.lines.size()));
  TakenNumbers taken(state.cutters.all(), library.id);
  // Checks changed numbers against those in use; built only when a number changes.
  std::unordered_map<Id, std::unordered_map<int, const Cutter*>> numbered;
  for (SheetLine<Cutter>& m : out.lines) {
    if (m.state != MergeState::changed || m.value.number == state.cutters[*m.target].number) continue;
    if (numbered.empty())
      for (const Cutter& c : state.cutters) numbered[c.library].try_emplace(c.number, &c);
    const auto [other, is_free] = numbered[m.value.library].try_emplace(m.value.number, &m.value);
    if (is_free) {
      if (m.value.library == library.id) taken.take(m.value.number);
      continue;
    }
    m.state = MergeState::conflict;
    m.why = fmt::format("number {} here is {}", m.value.number, other->second->name);
    m.picked = false;
  }
  // Numbers of new cutters: stated ones first.
  std::vector<SheetLine<Cutter>*> without_number;
  for (SheetLine<Cutter>& m : out.lines) {
    if (m.target || m.state == MergeState::faulty) continue;
    if (m.value.id.is_null() || state.cutters.find(m.value.id)) m.value.id = new_id();
    m.value.revision = 0;
    if (m.state != MergeState::fresh) continue;
    if (m.value.number < 1 || taken.contains(m.value.number)) without_number.push_back(&m);
    else taken.take(m.value.number);
    if (m.value.name.empty() && m.value.number > 0) m.value.name = state.name_for(m.value);
  }
  const auto further = materials_of_recipes(state);
  for (SheetLine<Cutter>* m : without_number) {
    const int wished = std::exchange(m->value.number, 0);
    m->value.number = taken.free_for(m->value, state.number_blocks.all(), further);
    taken.take(m->value.number);
    if (m->value.name.empty()) m->value.name = state.name_for(m->value);
    if (wished > 0) m->why = fmt::format("number {} is taken; it gets {}", wished, m->value.number);
  }
  if (!incoming.extras.empty()) {
    std::unordered_map<std::string, Id> holders;
    for (const Holder& h : state.holders) holders.emplace(h.name, h.id);
    out.held.resize(out.lines.size());
    for (std::size_t i = 0; i < out.lines.size(); ++i) {
      const CutterLineExtra& extra = incoming.extras[i];
      SheetLine<Cutter>& m = out.lines[i];
      if (m.state == MergeState::faulty || extra == CutterLineExtra{}) continue;
      CutterPreview::Held& held = out.held[i];
      held.stickout_mm = extra.stickout_mm;
      if (const auto found = holders.find(extra.holder); found != holders.end()) held.holder = found->second;
      else if (!extra.holder.empty())
        held.text = fmt::format("holder “{}” is not in this shop and is skipped", extra.holder);
      const Assembly* a = m.target ? state.assembly_of(state.cutters[*m.target].id) : nullptr;
      if (!m.target) continue;
      const bool other_holder = !held.holder.is_null() && (!a || a->holder != held.holder);
      const bool other_stickout =
          held.stickout_mm && (!a || !a->stickout_mm || !same_value(Value(*a->stickout_mm), Value(*held.stickout_mm)));
      held.changes = other_holder || other_stickout;
      if (!held.changes) continue;
      if (other_holder) held.text = "holder " + extra.holder;
      if (other_stickout)
        held.text += (held.text.empty() ? "" : ", ") + fmt::format("stick-out {:.6g} mm", *held.stickout_mm);
      if (m.state == MergeState::same) m.state = MergeState::changed, m.picked = true;
    }
  }
  for (const SheetLine<Cutter>& m : out.lines) ++out.counts[static_cast<int>(m.state)];
  return out;
}

Change take_cutters(const ShopState& state, const Library& library, const IncomingCutters& incoming,
                    const CutterPreview& preview, const QString& from) {
  Change change;
  if (!state.libraries.find(library.id)) change.add(library);
  // Parts that cutters need come first. Those already here, by UUID or by name and content, are not changed.
  std::unordered_map<Id, Id> became;  // of parts that have another UUID here
  const auto bring = [&](const auto& parts, const auto& here) {
    for (const auto& part : parts) {
      if (here.find(part.id)) continue;
      const auto* same = here.named(part.name);
      auto copy = part;
      if (same) {
        copy.id = same->id;
        copy.revision = same->revision;
      }
      if (same && copy == *same) {
        became[part.id] = same->id;
        continue;
      }
      copy = part;
      copy.revision = 0;
      change.add(copy);
    }
  };
  // Only what the picked ones need.
  std::unordered_set<Id> wanted_cutters;
  for (std::size_t i = 0; i < preview.lines.size(); ++i)
    if (const auto& m = preview.lines[i];
        m.picked && m.state != MergeState::faulty && m.state != MergeState::same && i < incoming.known_as.size())
      wanted_cutters.insert(incoming.known_as[i]);
  std::unordered_set<Id> needed_ids;
  for (const Assembly& a : incoming.parts.assemblies)
    if (wanted_cutters.contains(a.cutter)) needed_ids.insert(a.holder), needed_ids.insert(a.collet);
  for (const Recipe& r : incoming.parts.recipes)
    if (wanted_cutters.contains(r.cutter)) needed_ids.insert(r.material);
  std::unordered_set<std::string> needed_names;
  const bool names_parts = !incoming.parts.inserts.empty() || !incoming.parts.edge_materials.empty();
  for (const SheetLine<Cutter>& m : preview.lines)
    if (names_parts && m.picked) {
      needed_ids.insert(m.value.insert);
      needed_names.insert(m.value.coating);
      needed_names.insert(m.value.own_material);
    }
  const auto only = [&](const auto& parts) {
    auto kept = parts;
    std::erase_if(kept, [&](const auto& p) { return !needed_ids.contains(p.id); });
    return kept;
  };
  bring(only(incoming.parts.holders), state.holders);
  bring(only(incoming.parts.collets), state.collets);
  bring(only(incoming.parts.inserts), state.inserts);
  bring(only(incoming.parts.materials), state.materials);
  for (const EdgeMaterial& m : incoming.parts.edge_materials)
    if (needed_names.contains(m.name) && !state.edge_materials.find(m.id) && !state.edge_materials.named(m.name)) {
      EdgeMaterial copy = m;
      copy.revision = 0;
      change.add(copy);
    }
  const auto now = [&](const Id& id) {
    const auto found = became.find(id);
    return found == became.end() ? id : found->second;
  };
  int taken = 0;
  std::unordered_map<Id, Id> cutter_of;  // as the file calls it -> here
  struct NewCutter {
    std::size_t line, place;  // in the change
  };
  std::vector<NewCutter> fresh;
  change.objects.reserve(change.objects.size() + preview.lines.size());
  for (std::size_t i = 0; i < preview.lines.size(); ++i) {
    const SheetLine<Cutter>& m = preview.lines[i];
    if (!m.picked || m.state == MergeState::faulty || m.state == MergeState::same) continue;
    ++taken;
    Id id = m.value.id;  // of its own already, where it is new
    if (m.target) {
      const Cutter& before = state.cutters[*m.target];
      Cutter after = m.value;
      after.insert = now(after.insert);
      id = after.id = before.id;
      after.revision = before.revision;
      change.edit(before, after);
    } else {
      fresh.push_back({i, change.objects.size()});
      change.objects.push_back({ObjectKind::cutter, id, {}, {}});
    }
    if (i < incoming.known_as.size()) cutter_of[incoming.known_as[i]] = id;
    if (i < preview.held.size() && (preview.held[i].changes || (!m.target && (!preview.held[i].holder.is_null() ||
                                                                              preview.held[i].stickout_mm)))) {
      const CutterPreview::Held& held = preview.held[i];
      const Assembly* before = m.target ? state.assembly_of(id) : nullptr;
      Assembly a = before ? *before : Assembly{};
      if (!before) {
        a.id = new_id();
        a.cutter = id;
      }
      if (!held.holder.is_null()) a.holder = held.holder;
      if (held.stickout_mm) {
        a.stickout_mm = held.stickout_mm;
        a.typed.erase("stickout_mm");
      }
      if (before) change.edit(*before, a);
      else change.add(a);
    }
  }
  // Writing the texts of many new cutters is most of the work.
  in_parts(fresh.size(), 1000, [&](std::size_t first, std::size_t last) {
    for (std::size_t k = first; k < last; ++k) {
      const Cutter& after = preview.lines[fresh[k].line].value;
      std::string& text = change.objects[fresh[k].place].after;
      if (became.empty() || !became.contains(after.insert)) {
        text = body_of(after);
        continue;
      }
      Cutter copy = after;
      copy.insert = now(after.insert);
      text = body_of(copy);
    }
  });
  for (const Assembly& a : incoming.parts.assemblies) {
    const auto cutter = cutter_of.find(a.cutter);
    if (cutter == cutter_of.end()) continue;
    Assembly copy = a;
    copy.cutter = cutter->second;
    copy.holder = now(copy.holder);
    copy.collet = now(copy.collet);
    const Assembly* here = state.assemblies.find(copy.id);
    if (here && here->cutter != copy.cutter) here = nullptr, copy.id = {};
    if (copy.id.is_null()) copy.id = new_id();
    copy.revision = here ? here->revision : 0;
    if (here) change.edit(*here, copy);
    else change.add(copy);
  }
  for (const Recipe& r : incoming.parts.recipes) {
    const auto cutter = cutter_of.find(r.cutter);
    if (cutter == cutter_of.end()) continue;
    Recipe copy = r;
    copy.cutter = cutter->second;
    copy.material = now(copy.material);
    const Recipe* here = state.recipes.find(copy.id);
    if (here && here->cutter != copy.cutter) here = nullptr, copy.id = {};
    if (copy.id.is_null()) copy.id = new_id();
    // What was proven elsewhere is not proven here.
    if (copy.proven && !(here && here->proven)) copy.proven = false;
    copy.revision = here ? here->revision : 0;
    if (here) change.edit(*here, copy);
    else change.add(copy);
  }
  change.label = taken == 1 ? QObject::tr("1 cutter from %1 into %2").arg(from, text_of(library.name))
                            : QObject::tr("%1 cutters from %2 into %3").arg(taken).arg(from, text_of(library.name));
  return change;
}

}  // namespace pecorra
