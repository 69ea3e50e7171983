#include "shop/generic_holders.h"

#include <QFile>
#include <algorithm>

#include "formats/json/objects.h"

namespace pecorra {

const std::vector<Holder>& generic_holders() {
  static const std::vector<Holder> all = [] {
    QFile file(QStringLiteral(":/pecorra/generic_holders.json"));
    if (!file.open(QIODevice::ReadOnly)) qFatal("shipped holders are missing");
    const auto json = parse_json(file.readAll().toStdString());
    if (!json) qFatal("shipped holders are faulty: %s", json.error().line().c_str());
    std::vector<Holder> list;
    for (const Json& side : (*json)["interfaces"])
      for (const Json& nose : (*json)["noses"]) {
        Holder h;
        h.machine_side = choice_from_key<MachineInterface>(side["interface"].get<std::string>());
        h.form = choice_from_key<HolderForm>(nose["form"].get<std::string>());
        if (!h.machine_side || !h.form) qFatal("shipped holder of an unknown kind");
        const double flange = side["flange_mm"].get<double>(), flange_length = side["flange_length_mm"].get<double>(),
                     length = nose["length_mm"].get<double>();
        for (const Json& s : nose["stations"]) h.stations.push_back({s[0].get<double>(), s[1].get<double>()});
        // Noses wider than the flange are not made.
        const double widest =
            std::max_element(h.stations.begin(), h.stations.end(), [](const Station& a, const Station& b) {
              return a.diameter_mm < b.diameter_mm;
            })->diameter_mm;
        if (widest > flange * 1.3) continue;
        h.stations.push_back({length, h.stations.back().diameter_mm});
        h.stations.push_back({length, flange});
        h.stations.push_back({length + flange_length, flange});
        h.clamp_from_mm = nose["clamp_from_mm"].get<double>();
        h.clamp_to_mm = nose["clamp_to_mm"].get<double>();
        h.clamp_length_mm = nose["clamp_length_mm"].get<double>();
        h.name = nose["name"].get<std::string>() + ", " + std::string(label_of(*h.machine_side));
        h.source = nose["source"].get<std::string>() + " " + side["source"].get<std::string>();
        h.id = Id::from_name("generic holder/" + h.name);
        list.push_back(std::move(h));
      }
    return list;
  }();
  return all;
}

}  // namespace pecorra
