// Machines made from files, and written as files.
#include <QFile>
#include <iostream>

#include "cli/lookup.h"
#include "cli/write_planned.h"
#include "shop/dialects.h"
#include "shop/machine_file.h"
#include "shop/words.h"

namespace pecorra::cli {

int machine_new(const MachineOptions& options) {
  QFile file(QString::fromStdString(options.file));
  if (!file.open(QIODevice::ReadOnly)) {
    std::cerr << "FILE: cannot be read: " << file.errorString().toStdString() << "\n";
    return failed;
  }
  const auto read = read_machine_file(file.readAll().toStdString());
  if (!read) return say(read.error());
  return write_planned(options.shop, [&](const LoadedShop& shop) -> tl::expected<Plan, int> {
    FormatFaults faults;
    if (shop.state.machines.named(read->name))
      faults.push_back({"name", "there is a machine “" + read->name + "” in this shop; use another name"});
    if (!dialect_named(shop.state, read->dialect))
      faults.push_back({"dialect", "“" + read->dialect + "” is no dialect of this shop"});
    if (!faults.empty()) return tl::unexpected(say(faults));
    Plan plan;
    plan.change.label = QObject::tr("New machine %1").arg(text_of(read->name));
    plan.change.add(*read);
    plan.answer = {{"machine", read->id.text()}, {"name", read->name}};
    return plan;
  });
}

int machine_show(const MachineOptions& options) {
  const auto loaded = load_shop(QString::fromStdString(options.shop));
  if (!loaded) return say(loaded.error());
  FormatFaults faults;
  const Machine* machine = find_named(loaded->state.machines, options.machine, "machine", faults);
  if (!machine)
    if (const auto id = Id::parse(options.machine)) machine = loaded->state.machines.find(*id);
  if (!machine) return say(faults);
  std::cout << machine_file(*machine).dump(1) << "\n";
  return answered;
}

}  // namespace pecorra::cli
