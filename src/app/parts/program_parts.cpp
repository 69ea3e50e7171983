// What programs need of a machine: its magazine, and the dialect of its control.
#include "app/parts/program_parts.h"

#include <QFile>
#include <QFileInfo>
#include <set>

#include "app/parts/dialect_preview.h"
#include "app/parts/part_section.h"
#include "app/parts/parts_page.h"
#include "app/widgets/file_choice.h"
#include "app/widgets/pick_list.h"
#include "core/quantity/print.h"
#include "shop/dialects.h"
#include "shop/proven_step_edit.h"
#include "shop/shop.h"
#include "shop/tool_plan.h"
#include "shop/words.h"

namespace pecorra {
namespace {

QString assembly_text(const ShopState& state, const Id& id) {
  const Assembly* held = state.assemblies.find(id);
  const Cutter* cutter = held ? state.cutters.find(held->cutter) : nullptr;
  if (!cutter) return {};
  const Holder* holder = state.holders.find(held->holder);
  QString text = QStringLiteral("%1 %2").arg(cutter->number).arg(text_of(cutter->name));
  if (holder) text += QStringLiteral(" · ") + text_of(holder->name);
  if (!held->name.empty()) text += QStringLiteral(" · ") + text_of(held->name);
  return text;
}

// The machine of the context, else the first with a magazine.
const Machine* usual_machine(const Workspace& workspace) {
  if (const Machine* m = workspace.machine(); m && m->automatic_changer) return m;
  for (const Machine& m : workspace.state().machines)
    if (m.automatic_changer) return &m;
  return workspace.state().machines.empty() ? nullptr : &workspace.state().machines[0];
}

int free_pocket(const ShopState& state, const Id& machine) {
  int t = 1;
  const auto taken = [&](int n) {
    return std::any_of(state.pockets.begin(), state.pockets.end(),
                       [&](const Pocket& p) { return p.machine == machine && p.number == n; });
  };
  while (taken(t)) ++t;
  return t;
}

// Everything of the blocks that keep numbers for this machine's cutters, each in the pocket of its number.
Change pockets_of_block(const ShopState& state, const Machine& machine, const NumberBlock& block) {
  Change change;
  change.label = QObject::tr("Magazine of %1 from “%2”").arg(text_of(machine.name), text_of(block.name));
  for (const Cutter& c : state.cutters) {
    if (!belongs_to(block, c) || !block.holds(c.number) || c.library != block.library) continue;
    const Assembly* held = state.assembly_of(c.id);
    const bool taken = std::any_of(state.pockets.begin(), state.pockets.end(), [&](const Pocket& p) {
      return p.machine == machine.id && (p.number == c.number || (held && p.assembly == held->id));
    });
    if (!held || taken || (machine.pockets && c.number > *machine.pockets)) continue;
    Pocket pocket;
    pocket.id = new_id();
    pocket.machine = machine.id;
    pocket.number = c.number;
    pocket.assembly = held->id;
    change.add(pocket);
  }
  return change;
}

PartSpec<Pocket> magazine_spec(Workspace& workspace) {
  PartSpec<Pocket> spec;
  spec.title = QObject::tr("Magazines");
  spec.new_text = QObject::tr("New pocket");
  spec.empty_text = QObject::tr(
      "No magazine is kept. “New pocket” says what stands in a pocket of a machine, or takes all cutters of a number "
      "block; T in programs is that pocket then.");
  spec.all = &ShopState::pockets;
  spec.columns = {"assembly", "number", "machine", "name"};
  spec.fields = {"machine", "number", "assembly", "name"};
  spec.name_of = [&workspace](const Pocket& p) {
    const Machine* machine = workspace.state().machines.find(p.machine);
    return QObject::tr("Pocket %1 of %2")
        .arg(p.number.value_or(0))
        .arg(machine ? text_of(machine->name) : QObject::tr("no machine"));
  };
  spec.fresh = [&workspace] {
    Pocket p;
    if (const Machine* m = usual_machine(workspace)) {
      p.machine = m->id;
      p.number = free_pocket(workspace.state(), m->id);
    }
    return p;
  };
  spec.cell = [&workspace](const Pocket& p, const Property<Pocket>& property) -> std::optional<QString> {
    if (property.key == "assembly") {
      const QString text = assembly_text(workspace.state(), p.assembly);
      return p.assembly.is_null() ? QObject::tr("kept free")
             : text.isEmpty()     ? QObject::tr("no longer in the shop")
                                  : text;
    }
    if (property.key != "machine") return std::nullopt;
    const Machine* machine = workspace.state().machines.find(p.machine);
    return machine ? text_of(machine->name) : QString();
  };
  spec.choices = [&workspace](const Pocket& p, std::string_view key) {
    std::vector<FieldChoice> choices;
    const ShopState& state = workspace.state();
    if (key == "machine") {
      for (const Machine& m : state.machines) choices.push_back({text_of(m.id.text()), text_of(m.name)});
    } else if (key == "assembly") {
      choices.push_back({text_of(Id{}.text()), QObject::tr("kept free")});
      // Of very many, those that fit the spindle; the list would be of no use with all of them.
      constexpr std::size_t most = 400;
      const Machine* machine = state.machines.find(p.machine);
      const QString now = assembly_text(state, p.assembly);
      if (!now.isEmpty()) choices.push_back({text_of(p.assembly.text()), now});
      for (const Assembly& a : state.assemblies) {
        const Holder* holder = state.holders.find(a.holder);
        const bool fits = !machine || !machine->interface || !holder || !holder->machine_side ||
                          *machine->interface == *holder->machine_side;
        if (a.id == p.assembly || !fits) continue;
        const QString text = assembly_text(state, a.id);
        if (!text.isEmpty()) choices.push_back({text_of(a.id.text()), text});
        if (choices.size() > most) break;
      }
    }
    return choices;
  };
  spec.check = [&workspace](const Pocket& p) { return check_pocket(workspace.state(), p); };
  spec.subtitle = [&workspace](const Pocket& p) {
    const Assembly* held = workspace.state().assemblies.find(p.assembly);
    if (!held) return QObject::tr("Nothing stands in it");
    std::set<std::string> jobs;
    for (const Operation& o : workspace.state().operations)
      if (o.cutter.id == held->cutter)
        if (const JobHead* job = workspace.state().jobs.find(o.job); job && job->machine == p.machine)
          jobs.insert(job->name);
    QStringList names;
    for (const std::string& name : jobs) names << text_of(name);
    return names.isEmpty() ? QObject::tr("In no job on this machine")
                           : QObject::tr("In %1").arg(names.join(QStringLiteral(", ")));
  };
  spec.choose = [&workspace, kinds = static_cast<PickList*>(nullptr), fresh = spec.fresh](
                    QWidget* under, std::function<void(Pocket)> add) mutable {
    if (!kinds) kinds = new PickList(under->window());
    const ShopState& state = workspace.state();
    std::vector<PickItem> items;
    items.push_back(
        {QObject::tr("Empty: type pocket and cutter"), QObject::tr("by hand"), [add, fresh] { add(fresh()); }});
    if (const Machine* machine = usual_machine(workspace))
      for (const NumberBlock& block : state.number_blocks) {
        if (block.library.is_null()) continue;
        const Change change = pockets_of_block(state, *machine, block);
        if (change.objects.empty()) continue;
        items.push_back({QObject::tr("Put all of “%1” in %2").arg(text_of(block.name), text_of(machine->name)),
                         QObject::tr("%1 pockets").arg(change.objects.size()),
                         [&workspace, machine = machine->id, block] {
                           if (const Machine* m = workspace.state().machines.find(machine))
                             workspace.shop().apply(pockets_of_block(workspace.state(), *m, block));
                         }});
      }
    constexpr std::size_t most = 2000;
    for (const Assembly& a : state.assemblies) {
      const QString text = assembly_text(state, a.id);
      if (text.isEmpty()) continue;
      items.push_back({text, QString(), [add, fresh, id = a.id] {
                         Pocket p = fresh();
                         p.assembly = id;
                         add(p);
                       }});
      if (items.size() > most) break;
    }
    kinds->open(under->mapToGlobal(QPoint(under->width() - 460, under->height() + 2)), 460, std::move(items), 0,
                QObject::tr("What stands in the pocket: type to filter"));
  };
  return spec;
}

// Into the shop, in place of its own of that key; a wrong one changes nothing.
void read_dialect_file(Workspace& workspace, const QString& name, const std::function<void(const QString&)>& fail) {
  workspace.tasks().run(
      &workspace, QObject::tr("Reading %1").arg(QFileInfo(name).fileName()),
      [name](Task&) {
        QFile file(name);
        if (!file.open(QIODevice::ReadOnly)) {
          FormatFaults faults{{"", "cannot be read"}};
          return tl::expected<Dialect, FormatFaults>(tl::unexpected(std::move(faults)));
        }
        return read_dialect(file.read((1 << 20) + 1).toStdString());
      },
      [&workspace, name, fail](const tl::expected<Dialect, FormatFaults>& read) {
        if (read) return workspace.shop().apply(with_dialect(workspace.state(), *read));
        fail(QObject::tr("Cannot read %1: %2").arg(QFileInfo(name).fileName(), reader_text(read.error().front())));
      });
}

PartSpec<Dialect> dialect_spec(Workspace& workspace) {
  PartSpec<Dialect> spec;
  spec.title = QObject::tr("Dialects");
  spec.new_text = QObject::tr("New dialect");
  spec.empty_text = QObject::tr(
      "No dialects of your own. Machines use those that ship; “New dialect” starts from one of them, and its program "
      "is shown as you type.");
  spec.all = &ShopState::dialects;
  spec.columns = {"name", "key"};
  for (const Property<Dialect>& p : properties<Dialect>()) {
    for (const auto& [key, heading] : {std::pair{"before", "# Start and end"},
                                       {"tool_change", "# Cutters"},
                                       {"arcs", "# Motion"},
                                       {"spindle_on", "# Spindle and feed"},
                                       {"flood", "# Coolant"},
                                       {"cycle_drill", "# Cycles"},
                                       {"metric", "# Words"},
                                       {"block_letter", "# Lines and comments"},
                                       {"source", "# Origin"}})
      if (p.key == key) spec.fields.push_back(heading);
    spec.fields.push_back(p.key);
  }
  spec.lines = {"before",     "after",          "safe_retract",   "tool_change",   "preselect",
                "setup_stop", "measure_length", "measure_radius", "check_breakage"};
  spec.check = [&workspace](const Dialect& d) {
    auto messages = check_dialect(d);
    for (const Dialect& other : workspace.state().dialects)
      if (other.id != d.id && other.key == d.key)
        messages.push_back({Severity::error, "dialect_key_twice", "key", {{"key", d.key}}});
    return messages;
  };
  spec.users = [&workspace](const Dialect& d) {
    QStringList machines;
    // One that ships takes its place where the keys are the same.
    const bool ships = std::any_of(shipped_dialects().begin(), shipped_dialects().end(),
                                   [&](const Dialect& s) { return s.key == d.key; });
    if (!ships)
      for (const Machine& m : workspace.state().machines)
        if (m.dialect == d.key) machines << QObject::tr("the machine %1").arg(text_of(m.name));
    return machines;
  };
  spec.subtitle = [&workspace](const Dialect& d) {
    QStringList machines;
    for (const Machine& m : workspace.state().machines)
      if (m.dialect == d.key) machines << text_of(m.name);
    return machines.isEmpty() ? QObject::tr("Of no machine: choose it there")
                              : QObject::tr("Of %1").arg(machines.join(QStringLiteral(", ")));
  };
  // A key that machines name moves with them.
  spec.change = [&workspace](const Dialect& before, const Dialect& after, const QString& label) {
    Change change;
    change.label = label;
    change.edit(before, after);
    if (before.key != after.key)
      for (const Machine& m : workspace.state().machines)
        if (m.dialect == before.key) {
          Machine fresh = m;
          fresh.dialect = after.key;
          change.edit(m, fresh);
        }
    return change;
  };
  spec.below = [&workspace] { return new DialectPreview(workspace); };
  spec.below_share = 6;
  spec.show_below = [](QWidget* below, const Dialect* d) { static_cast<DialectPreview*>(below)->show_dialect(d); };
  spec.choose = [&workspace, fail = spec.fail, kinds = static_cast<PickList*>(nullptr)](
                    QWidget* under, std::function<void(Dialect)> add) mutable {
    if (!kinds) kinds = new PickList(under->window());
    std::vector<PickItem> items;
    items.push_back({QObject::tr("From a file"), QStringLiteral("JSON"), [&workspace, under, add, fail] {
                       const QString file = file_to_read(under->window(), QObject::tr("Read a dialect"),
                                                         "folders/dialects", QObject::tr("Dialects (*.json)"));
                       if (!file.isEmpty()) read_dialect_file(workspace, file, *fail);
                     }});
    for (const Dialect* d : dialects_of(workspace.state()))
      items.push_back(
          {text_of(d->name), d->id.is_null() ? QObject::tr("ships") : QObject::tr("own"), [&workspace, add, from = *d] {
             Dialect own = from;
             own.id = {};
             for (int i = 2; dialect_named(workspace.state(), own.key); ++i)
               own.key = from.key + "_" + std::to_string(i);
             own.name = QObject::tr("%1, own").arg(text_of(from.name)).toStdString();
             add(own);
           }});
    kinds->open(under->mapToGlobal(QPoint(under->width() - 400, under->height() + 2)), 400, std::move(items), 0,
                QObject::tr("Like which one: type to filter"));
  };
  return spec;
}

PartSpec<ProvenStep> proven_spec(Workspace& workspace) {
  PartSpec<ProvenStep> spec;
  spec.title = QObject::tr("Proven steps");
  spec.new_text = QObject::tr("New step");
  spec.can_add = false;
  spec.empty_text = QObject::tr(
      "No proven steps yet. In a job, “Save as a proven step” keeps the selected operations with all their values; "
      "“Use a proven step” does exactly the same elsewhere.");
  spec.all = &ShopState::proven_steps;
  spec.columns = {"name", "feature", "material", "machine", "source"};
  spec.fields = {"name", "feature", "material", "machine", "any_cutter", "source", "notes"};
  spec.can_add = false;
  spec.cell = [&workspace](const ProvenStep& s, const Property<ProvenStep>& p) -> std::optional<QString> {
    if (p.key == "material") {
      const WorkMaterial* m = workspace.state().materials.find(s.material);
      return m ? text_of(m->name) : QString();
    }
    if (p.key != "machine") return std::nullopt;
    const Machine* m = workspace.state().machines.find(s.machine);
    return m ? text_of(m->name) : QString();
  };
  spec.choices = [&workspace](const ProvenStep&, std::string_view key) {
    std::vector<FieldChoice> choices;
    if (key == "material")
      for (const WorkMaterial& m : workspace.state().materials)
        choices.push_back({text_of(m.id.text()), text_of(m.name)});
    if (key == "machine")
      for (const Machine& m : workspace.state().machines) choices.push_back({text_of(m.id.text()), text_of(m.name)});
    return choices;
  };
  spec.users = [&workspace](const ProvenStep& s) { return users_of_step(workspace.state(), s.id); };
  spec.subtitle = [&workspace](const ProvenStep& s) {
    QStringList lines;
    for (const Operation& o : s.operations) {
      QString line = QStringLiteral("%1 · %2").arg(text_of(o.name), text_of(o.cutter.name));
      if (o.taken.n_rpm) line += QStringLiteral(" · S %1").arg(text_of(plain(*o.taken.n_rpm, 0)));
      if (o.taken.vf_mm_min)
        line +=
            QStringLiteral(" F %1").arg(text_of(shown(*o.taken.vf_mm_min, Quantity::table_feed, workspace.units())));
      lines << line;
    }
    const QStringList users = users_of_step(workspace.state(), s.id);
    lines << (users.isEmpty() ? QObject::tr("Used nowhere")
                              : QObject::tr("Used by %1").arg(users.mid(0, 4).join(QStringLiteral("; "))));
    return lines.join(QLatin1Char('\n'));
  };
  return spec;
}

}  // namespace

PartsSection* make_proven_section(Workspace& workspace) {
  return new PartSection<ProvenStep>(workspace, proven_spec(workspace), QStringLiteral("proven_step"), nullptr);
}

PartsSection* make_magazine_section(Workspace& workspace) {
  return new PartSection<Pocket>(workspace, magazine_spec(workspace), QStringLiteral("pocket"), nullptr);
}

PartsSection* make_dialect_section(Workspace& workspace) {
  return new PartSection<Dialect>(workspace, dialect_spec(workspace), QStringLiteral("dialect"), nullptr);
}

}  // namespace pecorra
