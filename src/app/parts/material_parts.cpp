// The work materials: found by any designation, each value with how well it is founded.
#include "app/parts/part_section.h"
#include "app/parts/parts_page.h"
#include "core/material/hardness.h"

namespace pecorra {
namespace {

PartSpec<WorkMaterial> material_spec(Workspace& workspace) {
  PartSpec<WorkMaterial> spec;
  spec.title = QObject::tr("Materials");
  spec.new_text = QObject::tr("New material");
  spec.empty_text = QObject::tr("No materials yet. “New material” makes one; speeds and feeds need one.");
  spec.all = &ShopState::materials;
  spec.columns = {"name",       "group",     "hardness_hb",  "strength_n_mm2",
                  "kc11_n_mm2", "condition", "designations", "force_evidence"};
  spec.by_symbol = true;
  spec.sorted = false;
  spec.fields = {"name",
                 "designations",
                 "cut_here",
                 "group",
                 "subgroup",
                 "hazard",
                 "vdi_group",
                 "condition",
                 "hardness_hb",
                 "hardness_from_hb",
                 "hardness_to_hb",
                 "strength_n_mm2",
                 "strength_from_n_mm2",
                 "strength_to_n_mm2",
                 "strength_evidence",
                 "kc11_n_mm2",
                 "mc",
                 "rake_ref_deg",
                 "force_evidence",
                 "kc11_milling_n_mm2",
                 "mc_milling",
                 "milling_from_mm",
                 "milling_to_mm",
                 "milling_evidence",
                 "unit_power_n_mm2",
                 "unit_power_evidence",
                 "density_g_cm3",
                 "density_evidence",
                 "hazard_source",
                 "source",
                 "notes"};
  spec.fresh = [] {
    WorkMaterial m;
    m.name = QObject::tr("New material").toStdString();
    m.cut_here = true;
    m.source = QObject::tr("Entered by the shop").toStdString();
    return m;
  };
  spec.check = check_material;
  spec.users = [&workspace](const WorkMaterial& m) {
    QStringList users;
    for (const JobHead& job : workspace.state().jobs)
      if (job.material == m.id) users << QObject::tr("the job %1").arg(text_of(job.name));
    for (const ConditionTable& t : workspace.state().tables)
      if (std::any_of(t.rows.begin(), t.rows.end(), [&](const ConditionRow& row) { return row.material == m.id; }))
        users << QObject::tr("rows of %1").arg(text_of(t.name));
    return users;
  };
  // Hardness in the scales that people ask for.
  spec.subtitle = [](const WorkMaterial& m) {
    QStringList what{label_text(label_of(m.group))};
    if (m.hardness_hb) {
      QStringList scales{QObject::tr("%1 HB").arg(text_of(plain(*m.hardness_hb, 0)))};
      for (const HardnessScale scale : {HardnessScale::hv, HardnessScale::hrc, HardnessScale::rm})
        if (const auto value = convert_hardness(*m.hardness_hb, HardnessScale::hb, scale))
          scales << text_of(plain(*value, scale == HardnessScale::hrc ? 1 : 0)) + QChar(0xa0) + text_of(name_of(scale));
      what << scales.join(QStringLiteral(" ≈ "));
    }
    return what.join(QStringLiteral(" · "));
  };
  return spec;
}

}  // namespace

PartsPage* make_materials_page(Workspace& workspace) {
  return new PartsPage(
      QObject::tr("Materials"), QObject::tr("Filter: name or any designation"),
      {new PartSection<WorkMaterial>(workspace, material_spec(workspace), QStringLiteral("material"), nullptr)});
}

}  // namespace pecorra
