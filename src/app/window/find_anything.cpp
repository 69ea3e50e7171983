#include "app/window/find_anything.h"

#include "app/cutters/catalogue.h"
#include "shop/words.h"

namespace pecorra {

FindAnything::FindAnything(Workspace& workspace, QWidget* parent) : PickList(parent), workspace_(workspace) {
  setObjectName(QStringLiteral("find_anything"));
}

void FindAnything::open_over(QWidget* window, const std::vector<Command>& commands) {
  words_ = workspace_.catalogue().index();  // of its own: the list of cutters is narrowed otherwise
  std::vector<PickItem> items;
  for (const Command& c : commands) items.push_back({c.text, c.keys, c.run});
  for (const JobHead& job : workspace_.state().jobs)
    items.push_back({text_of(job.name), tr("job"), [this, id = job.id] { emit job_found(id); }});
  for (const WorkMaterial& m : workspace_.state().materials)
    items.push_back({text_of(m.name), tr("material · %1").arg(text_of(m.designations)),
                     [this, id = m.id] { emit material_found(id); }});
  for (const Machine& m : workspace_.state().machines)
    items.push_back({text_of(m.name), tr("machine"), [this, id = m.id] { emit machine_found(id); }});
  const int width = std::min(560, window->width() - 40);
  open(window->mapToGlobal(QPoint((window->width() - width) / 2, 70)), width, std::move(items), 0,
       tr("Cutter, material, job or action"));
  // Cutters come from the words of all of them; a few, typing more finds the others.
  set_more([this](const QString& text) {
    constexpr std::size_t most = 60;
    std::vector<PickItem> found;
    const auto& hits = words_.find(text.toStdString());
    const auto& cutters = workspace_.state().cutters;
    for (std::size_t i = 0; i < hits.size() && found.size() < most; ++i) {
      if (!hits[i]) continue;
      const Cutter& c = cutters[i];
      QStringList detail{tr("cutter")};
      for (const std::string& s : {c.maker, c.order_code})
        if (!s.empty()) detail << text_of(s);
      found.push_back({QStringLiteral("%1  %2").arg(c.number).arg(text_of(c.name)), detail.join(QStringLiteral(" · ")),
                       [this, id = c.id] { emit cutter_found(id); }});
    }
    return found;
  });
}

}  // namespace pecorra

#include "moc_find_anything.cpp"
