// A bare Qt main window that loads the same fonts and fills a table view with as many rows of the shop named as it has
// cutters (our first page lists them), until its first picture is on the screen. Arguments: the shop file, the number
// of rows.
#include <QApplication>
#include <QEvent>
#include <QFontDatabase>
#include <QMainWindow>
#include <QSqlDatabase>
#include <QSqlQuery>
#include <QStandardItemModel>
#include <QTableView>

namespace {

class FirstPaint : public QObject {
 public:
  bool eventFilter(QObject*, QEvent* event) override {
    if (event->type() == QEvent::Paint && !done_) {
      done_ = true;
      QMetaObject::invokeMethod(
          qApp, [] { qApp->exit(0); }, Qt::QueuedConnection);
    }
    return false;
  }

 private:
  bool done_ = false;
};

}  // namespace

int main(int argc, char** argv) {
  if (argc < 3) return 2;
  QApplication application(argc, argv);
  for (const char* name :
       {"PecorraText-Regular.otf", "PecorraText-Bold.otf", "PecorraMono-Regular.ttf", "PecorraMono-Bold.ttf"})
    QFontDatabase::addApplicationFont(QStringLiteral(":/pecorra/fonts/") + QLatin1String(name));
  QSqlDatabase database = QSqlDatabase::addDatabase(QStringLiteral("QSQLITE"));
  database.setDatabaseName(QString::fromLocal8Bit(argv[1]));
  if (!database.open()) return 1;
  QStandardItemModel model;
  QSqlQuery query(QStringLiteral("SELECT id, kind, revision, body FROM object LIMIT ") +
                  QString::fromLocal8Bit(argv[2]));
  while (query.next()) {
    QList<QStandardItem*> row;
    for (int i = 0; i < 4; ++i) row << new QStandardItem(query.value(i).toString().left(200));
    model.appendRow(row);
  }
  QMainWindow window;
  auto* table = new QTableView;
  table->setModel(&model);
  window.setCentralWidget(table);
  window.resize(1280, 800);
  FirstPaint first;
  window.installEventFilter(&first);
  window.show();
  const int code = application.exec();
  std::_Exit(code);
}
