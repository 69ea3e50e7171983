// Widgets alone: the quantity field, the drop-down list, the drawing, the form.
#include <QSignalSpy>

#include "app/widgets/cutter_drawing.h"
#include "app/widgets/headroom_bars.h"
#include "app/widgets/pick_list.h"
#include "app/widgets/property_form.h"
#include "window_fixture.h"

using namespace pecorra;

TEST_CASE("a quantity field takes what is written, never rewrites it, and keeps what it cannot read") {
  QuantityEdit edit(Quantity::length, UnitSystem::metric);
  edit.show();
  std::vector<std::optional<double>> accepted;
  QObject::connect(&edit, &QuantityEdit::value_accepted, [&](std::optional<double> v, const QString&) { accepted.push_back(v); });
  edit.show_value(12, {});
  CHECK(edit.text() == "12");
  edit.selectAll();
  QTest::keyClicks(&edit, "1-1/8 in");
  CHECK(edit.text() == "1-1/8 in");
  CHECK(edit.understood() == "= 28.575 mm");
  QTest::keyClick(&edit, Qt::Key_Return);
  REQUIRE(accepted.size() == 1);
  CHECK(*accepted[0] == Approx(28.575));
  QTest::keyClick(&edit, Qt::Key_Return);
  CHECK(accepted.size() == 1);  // nothing changed
  edit.selectAll();
  QTest::keyClicks(&edit, "rubbish");
  CHECK(edit.is_fault());
  QTest::keyClick(&edit, Qt::Key_Return);
  CHECK(accepted.size() == 1);
  CHECK(edit.text() == "rubbish");
  QTest::keyClick(&edit, Qt::Key_Escape);
  CHECK(edit.text() == "1-1/8 in");
  CHECK_FALSE(edit.is_fault());
  edit.selectAll();
  QTest::keyClick(&edit, Qt::Key_Delete);
  QTest::keyClick(&edit, Qt::Key_Return);
  REQUIRE(accepted.size() == 2);
  CHECK_FALSE(accepted[1].has_value());
}

TEST_CASE("a drop-down list narrows by every word typed") {
  QWidget parent;
  parent.show();
  PickList list(&parent);
  int picked = -1;
  std::vector<PickItem> items;
  for (int i = 0; i < 5; ++i) items.push_back({QStringLiteral("End mill %1").arg(i), i == 3 ? "carbide" : "HSS", [&picked, i] { picked = i; }});
  list.open({10, 10}, 300, items, 0, "hint");
  auto* filter = list.findChild<QLineEdit*>();
  QTest::keyClicks(filter, "carb mill");
  CHECK(list.shown_count() == 1);
  QTest::keyClick(filter, Qt::Key_Return);
  CHECK(picked == 3);
  CHECK_FALSE(list.isVisible());
  list.open({10, 10}, 300, items, 0, "hint");
  QTest::keyClicks(filter, "nothing");
  CHECK(list.shown_count() == 0);
  QTest::keyClick(filter, Qt::Key_Return);
  CHECK(picked == 3);
  list.hide();
}

TEST_CASE("the drawing has a dimension for every size, no text over another, and a click finds its field") {
  CutterDrawing drawing;
  drawing.resize(380, 200);
  for (const CutterKind kind : cutter_kinds())
    for (const double d : {3.0, 6.0, 12.0, 20.0}) {
      Cutter c = proposed_cutter(kind, d);
      drawing.show_cutter(&c, nullptr, std::nullopt, {}, UnitSystem::metric);
      drawing.grab();
      const auto& dimensions = drawing.dimensions();
      INFO(suggested_name(c));
      CHECK(dimensions.size() >= 4);
      for (std::size_t i = 0; i < dimensions.size(); ++i)
        for (std::size_t k = i + 1; k < dimensions.size(); ++k) {
          INFO(dimensions[i].key.toStdString() << " and " << dimensions[k].key.toStdString());
          CHECK_FALSE(dimensions[i].text_box.intersects(dimensions[k].text_box));
        }
      QSignalSpy clicked(&drawing, &CutterDrawing::dimension_clicked);
      QTest::mouseClick(&drawing, Qt::LeftButton, {}, dimensions[0].text_box.center().toPoint());
      REQUIRE(clicked.count() == 1);
      CHECK(clicked.at(0).at(0).toString() == dimensions[0].key);
    }
}

TEST_CASE("the silhouette is drawn to scale") {
  // The path's area is the area of the section: twice the half section.
  for (const CutterKind kind : cutter_kinds()) {
    const Cutter cutter = proposed_cutter(kind, 10);
    const Profile profile = silhouette(cutter);
    double widest = 0;
    for (const ProfileSegment& s : profile) widest = std::max({widest, s.from.x, s.to.x, point_on(s, 0.5).x});
    const QRectF box = silhouette_path(profile).boundingRect();
    INFO(label_of(kind));
    CHECK(box.width() == Approx(2 * widest).epsilon(0.01));
    CHECK(box.height() == Approx(*cutter.overall_length_mm));
    double area = 0;
    for (const QPolygonF& polygon : silhouette_path(profile).toSubpathPolygons())
      for (int i = 1; i < polygon.size(); ++i) area += polygon[i - 1].x() * polygon[i].y() - polygon[i].x() * polygon[i - 1].y();
    CHECK(std::abs(area / 2) == Approx(2 * half_section(profile).area_mm2).epsilon(8e-3));
  }
}

TEST_CASE("a form shows messages at their fields, the severest of each") {
  PropertyForm form;
  form.add(form_field(*find_property<Cutter>("diameter_mm")));
  form.add(form_field(*find_property<Cutter>("tool_material"), "not stated"));
  form.add(form_field(*find_property<Cutter>("name")));
  form.show();
  Cutter c = proposed_cutter(CutterKind::end_mill, 12);
  form.fill_from(c);
  CHECK(form.findChild<QComboBox*>("field_tool_material")->currentText() == "Carbide");
  form.show_messages({{Severity::warning, "diameter_looks_like_inch", "diameter_mm", {{"ratio", 55.0}}}, {Severity::error, "missing", "diameter_mm", {}}});
  auto* fault = form.findChild<QLabel*>("fault_diameter_mm");
  CHECK(fault->isVisible());
  CHECK(fault->text().startsWith("Needed"));
  CHECK(form.findChild<QLineEdit*>("field_diameter_mm")->property("fault").toBool());
  form.show_messages({});
  CHECK_FALSE(fault->isVisible());
  CHECK_FALSE(form.findChild<QLineEdit*>("field_diameter_mm")->property("fault").toBool());
  QString key;
  Value value;
  QObject::connect(&form, &PropertyForm::accepted, [&](const QString& k, const Value& v, const QString&) { key = k, value = v; });
  auto* combo = form.findChild<QComboBox*>("field_tool_material");
  combo->setCurrentIndex(0);
  emit combo->activated(0);
  CHECK(key == "tool_material");
  CHECK(std::holds_alternative<std::monostate>(value));
}
