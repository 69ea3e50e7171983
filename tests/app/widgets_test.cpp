// Widgets alone: the quantity field, the drop-down list, the drawing, the form.
#include <QSignalSpy>

#include <QPainter>
#include <QTemporaryDir>
#include <map>

#include "app/look/look.h"
#include "app/widgets/cutter_drawing.h"
#include "app/widgets/drawn_texts.h"
#include "app/widgets/eliding_label.h"
#include "app/widgets/filter_edit.h"
#include "app/widgets/headroom_bars.h"
#include "app/widgets/pick_list.h"
#include "app/widgets/plain_header.h"
#include "app/widgets/plain_table.h"
#include "app/widgets/property_form.h"
#include "app/widgets/text_model.h"
#include "app/widgets/wrapped_label.h"
#include "core/cutter/name_pattern.h"
#include "painted_texts.h"
#include "store/write_file.h"
#include "window_fixture.h"

using namespace pecorra;

TEST_CASE("a quantity field takes what is written, never rewrites it, and keeps what it cannot read") {
  QuantityEdit edit(Quantity::length, UnitSystem::metric);
  edit.show();
  std::vector<std::optional<double>> accepted;
  QObject::connect(&edit, &QuantityEdit::value_accepted,
                   [&](std::optional<double> v, const QString&) { accepted.push_back(v); });
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
  for (int i = 0; i < 5; ++i)
    items.push_back({QStringLiteral("End mill %1").arg(i), i == 3 ? "carbide" : "HSS", [&picked, i] { picked = i; }});
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
  drawing.resize(380, 220);
  for (const CutterKind kind : cutter_kinds())
    for (const double d : {3.0, 6.0, 12.0, 20.0}) {
      Cutter c = proposed_cutter(kind, d);
      drawing.show_cutter(&c, nullptr, std::nullopt, {}, UnitSystem::metric);
      drawing.grab();
      const auto& marks = drawing.sheet().marks;
      INFO(suggested_name(c));
      CHECK(marks.size() >= 4);
      for (std::size_t i = 0; i < marks.size(); ++i)
        for (std::size_t k = i + 1; k < marks.size(); ++k) {
          INFO(marks[i].key << " and " << marks[k].key);
          CHECK_FALSE(marks[i].box.overlaps(marks[k].box));
        }
      QSignalSpy clicked(&drawing, &CutterDrawing::dimension_clicked);
      const DrawBox box = marks[0].box;
      QTest::mouseClick(
          &drawing, Qt::LeftButton, {},
          QPoint(static_cast<int>((box.left + box.right) / 2), static_cast<int>((box.top + box.bottom) / 2)));
      REQUIRE(clicked.count() == 1);
      CHECK(clicked.at(0).at(0).toString() == text_of(marks[0].key));
    }
}

TEST_CASE("the end of a dimension is dragged to sensible steps; Esc leaves it") {
  CutterDrawing drawing;
  drawing.resize(620, 220);
  const Cutter c = proposed_cutter(CutterKind::end_mill, 12);
  drawing.show_cutter(&c, nullptr, std::nullopt, {}, UnitSystem::metric);
  drawing.grab();
  const auto grip = [&](std::string_view key) {
    for (const DimensionMark& m : drawing.sheet().marks)
      if (m.key == key) return QPoint(static_cast<int>(std::lround(m.grip.x)), static_cast<int>(std::lround(m.grip.y)));
    return QPoint();
  };
  QSignalSpy dragged(&drawing, &CutterDrawing::dimension_dragged), left(&drawing, &CutterDrawing::drag_left);
  const QPoint from = grip("flute_length_mm");
  const double per_pixel = 1 / drawing.sheet().scale;
  QTest::mousePress(&drawing, Qt::LeftButton, {}, from);
  QTest::mouseMove(&drawing, from + QPoint(0, 20));
  REQUIRE(dragged.count() >= 1);
  CHECK(dragged.last().at(0).toString() == QLatin1String("flute_length_mm"));
  CHECK_FALSE(dragged.last().at(2).toBool());
  const double value = dragged.last().at(1).toDouble();
  CHECK(value == Approx(*c.flute_length_mm - 20 * per_pixel).margin(per_pixel * 6));
  CHECK(std::abs(value * 2 - std::round(value * 2)) < 1e-9);  // whole or half millimetres at this scale
  QTest::mouseRelease(&drawing, Qt::LeftButton, {}, from + QPoint(0, 20));
  CHECK(dragged.last().at(2).toBool());
  const int said = static_cast<int>(dragged.count());
  QTest::mousePress(&drawing, Qt::LeftButton, {}, from);
  QTest::mouseMove(&drawing, from + QPoint(0, 30));
  QTest::keyClick(&drawing, Qt::Key_Escape);
  CHECK(left.count() == 1);
  QTest::mouseRelease(&drawing, Qt::LeftButton, {}, from + QPoint(0, 30));
  CHECK_FALSE(dragged.last().at(2).toBool());
  CHECK(dragged.count() == said + 1);
}

TEST_CASE("the wheel zooms about the pointer, dragging pans, a double click shows all again") {
  CutterDrawing drawing;
  drawing.resize(620, 220);
  const Cutter c = proposed_cutter(CutterKind::barrel, 12);
  drawing.show_cutter(&c, nullptr, std::nullopt, {}, UnitSystem::metric);
  const QPointF about(drawing.sheet().axis_x + 10, drawing.sheet().tip_y - 15);
  const double y = (drawing.sheet().tip_y - about.y()) / drawing.sheet().scale;
  drawing.zoom_by(4, about);
  CHECK(drawing.sheet().px(0, y).y == Approx(about.y()).margin(0.01));
  const double axis = drawing.sheet().axis_x;
  QTest::mousePress(&drawing, Qt::LeftButton, {}, QPoint(300, 100));
  QTest::mouseMove(&drawing, QPoint(340, 100));
  QTest::mouseRelease(&drawing, Qt::LeftButton, {}, QPoint(340, 100));
  CHECK(drawing.sheet().axis_x == Approx(axis + 40).margin(0.5));
  QTest::mouseDClick(&drawing, Qt::LeftButton, {}, QPoint(300, 100));
  CHECK(drawing.zoom() == 1);
  QTest::keyClick(&drawing, Qt::Key_Plus);
  CHECK(drawing.zoom() == Approx(1.25));
  QTest::keyClick(&drawing, Qt::Key_0);
  CHECK(drawing.zoom() == 1);
}

TEST_CASE("sizes that clash leave the last fitting outline, faint, and say why; it is saved in three formats") {
  CutterDrawing drawing;
  drawing.resize(620, 220);
  Cutter c = proposed_cutter(CutterKind::bull_nose, 12);
  c.id = Id::from_name("c");
  c.name = "Bull nose <R1>";
  drawing.show_cutter(&c, nullptr, std::nullopt, {}, UnitSystem::metric);
  const QImage fine = drawing.grab().toImage();
  for (const auto& [ending, start] : {std::pair{"svg", "<svg"}, {"dxf", "0\nSECTION"}, {"pdf", "%PDF"}}) {
    const auto picture = drawing.picture(ending);
    INFO(ending);
    REQUIRE(picture.has_value());
    CHECK(picture->startsWith(start));
    CHECK(picture->size() > 500);
  }
  CHECK(drawing.picture("bmp").error().contains(".svg"));
  QTemporaryDir dir;
  CHECK(write_file(dir.filePath("drawing.svg"), *drawing.picture("svg")).isEmpty());
  CHECK(write_file(dir.filePath("none/drawing.svg"), "x").contains("drawing.svg"));
  c.corner_radius_mm = 7;
  drawing.show_cutter(&c, nullptr, std::nullopt, {}, UnitSystem::metric);
  CHECK_FALSE(drawing.sheet().profile.empty());
  CHECK(drawing.grab().toImage() != fine);
  Cutter other = proposed_cutter(CutterKind::ball, 12);
  other.flute_length_mm = 1;
  drawing.show_cutter(&other, nullptr, std::nullopt, {}, UnitSystem::metric);
  CHECK(drawing.sheet().profile.empty());
  CHECK_FALSE(drawing.picture("svg").has_value());
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
      for (int i = 1; i < polygon.size(); ++i)
        area += polygon[i - 1].x() * polygon[i].y() - polygon[i].x() * polygon[i - 1].y();
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
  form.show_messages({{Severity::warning, "diameter_looks_like_inch", "diameter_mm", {{"ratio", 55.0}}},
                      {Severity::error, "missing", "diameter_mm", {}}});
  auto* fault = form.findChild<QLabel*>("fault_diameter_mm");
  CHECK(fault->isVisible());
  CHECK(fault->text().startsWith("Required"));
  CHECK(form.findChild<QLineEdit*>("field_diameter_mm")->property("fault").toBool());
  form.show_messages({});
  CHECK_FALSE(fault->isVisible());
  CHECK_FALSE(form.findChild<QLineEdit*>("field_diameter_mm")->property("fault").toBool());
  QString key;
  Value value;
  QObject::connect(&form, &PropertyForm::accepted,
                   [&](const QString& k, const Value& v, const QString&) { key = k, value = v; });
  auto* combo = form.findChild<QComboBox*>("field_tool_material");
  combo->setCurrentIndex(0);
  emit combo->activated(0);
  CHECK(key == "tool_material");
  CHECK(std::holds_alternative<std::monostate>(value));
}

TEST_CASE("a line of text is cut short where it does not fit, and stands where it is told to") {
  const auto ink = [](Qt::Alignment alignment, const QString& text, int width) {
    QImage paper(300, 30, QImage::Format_RGB32);
    paper.fill(Qt::white);
    QPainter painter(&paper);
    painter.setFont(Look::get().text(13));
    painter.setPen(Qt::black);
    draw_line(painter, QRectF(50, 0, width, 30), alignment, text);
    painter.end();
    int first = 300, last = -1;
    for (int x = 0; x < paper.width(); ++x)
      for (int y = 0; y < paper.height(); ++y)
        if (qGray(paper.pixel(x, y)) < 128) {
          first = std::min(first, x);
          last = std::max(last, x);
        }
    return std::pair(first, last);
  };
  const auto left = ink(Qt::AlignLeft, "End mill", 200), right = ink(Qt::AlignRight, "End mill", 200),
             middle = ink(Qt::AlignHCenter, "End mill", 200);
  CHECK(left.first >= 50);
  CHECK(left.first <= 54);
  CHECK(right.second <= 250);
  CHECK(right.second >= 244);
  CHECK(std::abs((middle.first + middle.second) / 2 - 150) <= 3);
  CHECK(left.second - left.first == right.second - right.first);
  const auto cut = ink(Qt::AlignLeft, "Bull-nose end mill R1 Ø12 × 26 of a very long name", 80);
  CHECK(cut.second <= 131);
  CHECK(cut.second >= 110);
  CHECK(ink(Qt::AlignLeft, "", 80).second == -1);
}

TEST_CASE("letters are drawn beforehand only until that is enough") {
  int asked = 0;
  Look::get().warm_up([&] { return ++asked >= 4; });
  CHECK(asked == 4);
  asked = 0;
  Look::get().warm_up([&] { return ++asked < 0; });
  CHECK(asked > 10);
}

TEST_CASE("a filter gets its clear button with the first letter; a header is one line high") {
  QWidget list;
  list.setFocusPolicy(Qt::StrongFocus);
  FilterEdit filter("Filter", [&list] { return &list; });
  CHECK(filter.placeholderText() == "Filter");
  CHECK_FALSE(filter.isClearButtonEnabled());
  filter.setText("e");
  CHECK(filter.isClearButtonEnabled());
  PlainHeader header(12);
  CHECK(header.sizeHint().height() == QFontMetrics(header.font()).height() + 8);
}

TEST_CASE("the drawn icons of all kinds differ from each other where their shapes do") {
  std::map<QByteArray, QString> seen;
  int same = 0;
  for (const CutterKind kind : cutter_kinds()) {
    QImage paper(36, 44, QImage::Format_RGB32);
    paper.fill(Qt::white);
    QPainter painter(&paper);
    draw_cutter_icon(painter, QRectF(2, 2, 32, 40), proposed_cutter(kind, 10), Qt::black);
    painter.end();
    const QByteArray bits(reinterpret_cast<const char*>(paper.constBits()), static_cast<int>(paper.sizeInBytes()));
    bool drawn = false;
    for (int y = 0; y < paper.height(); ++y)
      for (int x = 0; x < paper.width(); ++x) drawn = drawn || qGray(paper.pixel(x, y)) < 128;
    INFO(label_of(kind));
    CHECK(drawn);
    same += !seen.emplace(bits, text_of(label_of(kind))).second;
  }
  CHECK(same == 0);
  // A draft has an icon of its own.
  Cutter draft = proposed_cutter(CutterKind::end_mill, 10);
  draft.flutes.reset();
  QImage paper(36, 44, QImage::Format_RGB32);
  paper.fill(Qt::white);
  QPainter painter(&paper);
  draw_cutter_icon(painter, QRectF(2, 2, 32, 40), draft, Qt::black);
  painter.end();
  CHECK_FALSE(seen.contains(
      QByteArray(reinterpret_cast<const char*>(paper.constBits()), static_cast<int>(paper.sizeInBytes()))));
}

TEST_CASE("a line of text for which there is no room ends in …, and is whole again where there is") {
  ElidingLabel label(QStringLiteral("Roughing end mill Ø12 × 26"));
  const auto painted = [&label](int width) {
    label.resize(width, 20);
    QStringList texts;
    for (const test::PaintedText& p : test::TextRecorder::of(label)) texts << p.text;
    return texts.join(QLatin1Char(' '));
  };
  CHECK(painted(600) == label.text());
  const QString cut = painted(80);
  CHECK(cut.endsWith(QStringLiteral("…")));
  CHECK(label.text().startsWith(cut.chopped(1).trimmed()));
  CHECK(label.minimumSizeHint().width() < 100);
}

namespace {

struct TextPainter : QWidget {
  void paintEvent(QPaintEvent*) override {
    QPainter p(this);
    texts.draw(p, rect(), Qt::AlignRight, text);
  }
  DrawnTexts texts;
  QString text = QStringLiteral("Roughing end mill Ø12 × 26");
};

struct Painted : QObject {
  bool eventFilter(QObject*, QEvent* event) override {
    if (event->type() == QEvent::Paint) region += static_cast<QPaintEvent*>(event)->region();
    return false;
  }
  QRegion region;
};

}  // namespace

TEST_CASE("a text that was painted before is painted in the room there is now") {
  TextPainter label;
  const auto painted = [&label](int width) {
    label.resize(width, 20);
    return test::TextRecorder::of(label);
  };
  for (int i = 0; i < 2; ++i) {
    const auto whole = painted(600), cut = painted(80);
    REQUIRE(whole.size() == 1);
    CHECK(whole[0].text == label.text);
    CHECK(whole[0].place.right() == Approx(600).margin(1));
    REQUIRE_FALSE(cut.empty());
    CHECK(cut[0].text.size() < label.text.size());
    CHECK(cut.back().text.endsWith(QStringLiteral("…")));
    CHECK(cut.back().place.right() <= 80.5);
  }
  label.text = QStringLiteral("Another");
  CHECK(painted(600)[0].text == label.text);
}

TEST_CASE("a list paints the cells that changed, hidden columns or not, and no others") {
  TextModel model({QStringLiteral("A"), QStringLiteral("B"), QStringLiteral("C"), QStringLiteral("D")}, nullptr);
  model.set_lines({{QStringLiteral("1"), QStringLiteral("2"), QStringLiteral("3"), QStringLiteral("4")},
                   {QStringLiteral("5"), QStringLiteral("6"), QStringLiteral("7"), QStringLiteral("8")}});
  const std::unique_ptr<QTableView> table(plain_table(&model, QStringLiteral("list")));
  table->setColumnHidden(3, true);
  table->resize(400, 200);
  table->show();
  REQUIRE(QTest::qWaitForWindowExposed(table.get()));
  QApplication::processEvents();
  Painted painted;
  table->viewport()->installEventFilter(&painted);
  emit model.dataChanged(model.index(0, 1), model.index(1, 3));
  QApplication::processEvents();
  CHECK(painted.region.contains(table->visualRect(model.index(0, 1))));
  CHECK(painted.region.contains(table->visualRect(model.index(1, 2))));
  CHECK_FALSE(painted.region.intersects(table->visualRect(model.index(0, 0))));
}

TEST_CASE("a label of several lines is as high as a plain one, whatever text and font it had before") {
  const QString texts[] = {QStringLiteral("short"),
                           QStringLiteral("vc 151 m/min · fz 0.045 mm · hex 45 µm").repeated(4), QString(),
                           QStringLiteral("one\ntwo\nthree")};
  WrappedLabel wrapped;
  QLabel plain;
  plain.setWordWrap(true);
  for (int round = 0; round < 3; ++round)
    for (const QString& text : texts) {
      wrapped.setText(text);
      plain.setText(text);
      for (const double size : {9.0, 14.0}) {
        QFont font = plain.font();
        font.setPointSizeF(size);
        wrapped.setFont(font);
        plain.setFont(font);
        for (const int width : {60, 200, 340, 200}) CHECK(wrapped.heightForWidth(width) == plain.heightForWidth(width));
      }
      CHECK(wrapped.sizeHint() == plain.sizeHint());
    }
}
