// The real window on a fresh demo shop, driven by keys and clicks as a user would.
#pragma once

#include <QApplication>
#include <QElapsedTimer>
#include <QFile>
#include <QLineEdit>
#include <QPushButton>
#include <QTemporaryDir>
#include <QTest>
#include <catch2/catch.hpp>

#include "app/window/main_window.h"
#include "core/quantity/print.h"
#include "demo_copy.h"
#include "shop/words.h"

namespace test {

struct Window {
  QTemporaryDir dir;
  QString file = dir.filePath("demo.pecorra");
  std::unique_ptr<pecorra::MainWindow> window;

  // On a copy of the demo shop, which is written once for all tests.
  Window() {
    REQUIRE(copy_demo_to(file));
    open();
  }
  explicit Window(const pecorra::ShopState& state) {
    REQUIRE(pecorra::write_shop(state, file, "made").has_value());
    open();
  }
  void open() {
    auto shop = pecorra::Shop::open(file);
    REQUIRE(shop.has_value());
    window = std::make_unique<pecorra::MainWindow>(std::move(*shop));
    window->appear();
    activate();
  }
  // A window manager gives the focus when it comes to it, and may take it away again while windows come and go: it is
  // asked until the window has it, as a user clicks on one that has not.
  void activate() {
    const auto is_active = [this] { return window->isActiveWindow() && QApplication::focusWidget(); };
    for (int tries = 0; tries < 100 && !is_active(); ++tries) {
      if (tries % 10 == 9) QApplication::setActiveWindow(window.get());
      window->raise();
      window->activateWindow();
      if (QTest::qWaitFor(is_active, 300)) break;
    }
    REQUIRE(window->isActiveWindow());
  }
  // Until it is so, however busy the machine is; a test that waits for nothing fails after long.
  template <class Condition>
  static void wait_until(Condition&& condition) {
    REQUIRE(QTest::qWaitFor(condition, 30000));
  }
  // Closes it as a user does and opens the file again.
  void again() {
    REQUIRE(window->shop().wait_until_saved(5000));
    window.reset();
    open();
  }
  const pecorra::ShopState& state() const { return window->workspace().state(); }
  pecorra::Workspace& workspace() { return window->workspace(); }

  // The one that is seen; a hidden one only where no other has its name, for their order is nobody's.
  template <class T = QWidget>
  T* find(const char* name) {
    INFO(name);
    const QList<T*> named = window->findChildren<T*>(QString::fromLatin1(name));
    for (T* w : named)
      if (w->isVisible()) return w;
    REQUIRE(named.size() == 1);
    return named.front();
  }
  // Unfolds a heading of a form, as it may be already.
  void open_section(QWidget& form, const char* key) {
    auto* head = form.findChild<QPushButton*>(QStringLiteral("fold_") + QLatin1String(key));
    REQUIRE(head);
    if (head->text().startsWith(QChar(0x25b8))) click(head);
  }
  // Whether one of that name is seen.
  bool shows(const char* name) {
    for (QWidget* found : window->findChildren<QWidget*>(QString::fromLatin1(name)))
      if (found->isVisible()) return true;
    return false;
  }
  // Who gets what is typed: something of the window, or of a list that is open.
  QWidget* typed_into() {
    QWidget* popup = QApplication::activePopupWidget();
    if (popup) return popup->focusWidget() ? popup->focusWidget() : popup;  // as the toolkit does
    if (!window->isActiveWindow()) activate();
    QWidget* focus = QApplication::focusWidget();
    return focus ? focus : window.get();
  }
  void keys(const QString& text) { QTest::keyClicks(typed_into(), text); }
  void key(Qt::Key k, Qt::KeyboardModifiers modifiers = Qt::NoModifier) {
    QTest::keyClick(typed_into(), k, modifiers);
    QApplication::processEvents();
  }
  void click(QWidget* w) {
    QTest::mouseClick(w, Qt::LeftButton);
    QApplication::processEvents();
  }
  // Types into a field as a user: everything in it is replaced.
  void type_into(const char* field, const QString& text, bool accept = true) {
    auto* edit = find<QLineEdit>(field);
    edit->setFocus();
    edit->selectAll();
    QTest::keyClick(edit, Qt::Key_Delete);
    QTest::keyClicks(edit, text);
    if (accept) QTest::keyClick(edit, Qt::Key_Return);
    QApplication::processEvents();
  }
  QString note(const char* field) { return find<QLabel>((std::string("note_") + field).c_str())->text(); }
  QString fault(const char* field) {
    const auto named = window->findChildren<QLabel*>(QStringLiteral("fault_") + QLatin1String(field));
    REQUIRE(!named.empty());
    for (const QLabel* label : named)
      if (label->isVisible()) return label->text();
    return {};
  }
  // The open drop-down list: narrows it by typing and takes the first.
  void pick(const QString& text) {
    wait_until([] { return QApplication::activePopupWidget() != nullptr; });
    QWidget* popup = QApplication::activePopupWidget();
    auto* filter = popup->findChild<QLineEdit*>();
    QTest::keyClicks(filter, text);
    QTest::keyClick(filter, Qt::Key_Return);
    QApplication::processEvents();
  }
  void choose_cutter(int number) {
    for (const pecorra::Cutter& c : state().cutters)
      if (c.number == number) {
        workspace().select_cutter(c.id);
        break;
      }
    QApplication::processEvents();
  }
  const pecorra::Cutter& cutter() { return *workspace().cutter(); }
  void wait_planned() {
    QTest::qWait(10);
    wait_until([this] { return window->jobs_page().is_planned(); });
  }
  QString cell(QAbstractItemModel& model, int row, int column) { return model.index(row, column).data().toString(); }
};

}  // namespace test
