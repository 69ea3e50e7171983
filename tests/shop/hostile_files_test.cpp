// Files that are meant to harm, or are broken on their way: refused with a message, nothing is changed, nothing grows.
// And disks that are full, folders that are write-protected, files that vanish.
#include <sys/resource.h>
#include <unistd.h>
#include <QDir>
#include <QElapsedTimer>
#include <QFile>
#include <QTemporaryDir>
#include <catch2/catch.hpp>
#include <csignal>
#include <cstdlib>
#include <fstream>

#include "demo_copy.h"
#include "shop/drawing_file.h"
#include "shop/library_file.h"
#include "shop/shop.h"

#include "../support/drawings.h"

using namespace pecorra;

namespace {

long peak_kb() {
  rusage usage{};
  getrusage(RUSAGE_SELF, &usage);
  return usage.ru_maxrss;
}

struct Folder {
  QTemporaryDir dir;
  QString put(const char* name, const QByteArray& bytes) {
    QFile file(dir.filePath(QLatin1String(name)));
    REQUIRE(file.open(QIODevice::WriteOnly));
    file.write(bytes);
    return file.fileName();
  }
  // Workbooks made by Python's zipfile: `script` has `z`, a writer for the file.
  QString workbook(const char* name, const QByteArray& script) {
    const QString at = dir.filePath(QLatin1String(name)),
                  code = put(
                      "make.py",
                      "import sys, zipfile, struct\nz = zipfile.ZipFile(sys.argv[1], 'w', zipfile.ZIP_DEFLATED)\n"
                      "book = '<workbook xmlns:r=\"r\"><sheets><sheet name=\"A\" r:id=\"rId1\"/></sheets></workbook>'\n"
                      "links = '<Relationships><Relationship Id=\"rId1\" Target=\"%s\"/></Relationships>'\n" +
                          script + "\nz.close()\n");
    REQUIRE(std::system(("/usr/bin/python3 " + code + " " + at).toStdString().c_str()) == 0);
    return at;
  }
};

std::string refusal(const QString& file) {
  const IncomingCutters read = read_cutter_file(file, UnitSystem::metric, {});
  CHECK_FALSE(read.fault.isEmpty());
  CHECK(read.lines.empty());
  return read.fault.toStdString();
}

std::vector<const Cutter*> all_of(const ShopState& state) {
  std::vector<const Cutter*> cutters;
  for (const Cutter& c : state.cutters) cutters.push_back(&c);
  return cutters;
}

const char* const ending_of[] = {"a.json", "a.csv", "a.xlsx", "a.xml", "a.dxf", "a.svg"};

}  // namespace

TEST_CASE("a workbook that unpacks to very much is refused before it is unpacked") {
  Folder f;
  const long before = peak_kb();
  const QString bomb = f.workbook(
      "bomb.xlsx",
      "z.writestr('xl/workbook.xml', book)\nz.writestr('xl/_rels/workbook.xml.rels', links % 'worksheets/sheet1.xml')\n"
      "z.writestr('xl/worksheets/sheet1.xml', b'<' * 300_000_000)");
  CHECK(QFile(bomb).size() < 1'000'000);
  CHECK_THAT(refusal(bomb), Catch::Contains("more than 200 MB"));
  // A size of 2 GB, and one of 2^64 - 1, claimed in the directory for a few bytes.
  for (const char* claim : {"struct.pack('<L', 0x80000000)", "struct.pack('<L', 0xFFFFFFFF)"}) {
    const QString file = f.workbook(
        "claim.xlsx",
        QByteArray("z.writestr('xl/workbook.xml', book)\nz.writestr('xl/_rels/workbook.xml.rels', links % "
                   "'worksheets/sheet1.xml')\nz.writestr('xl/worksheets/sheet1.xml', '<worksheet/>')\nz.close()\n"
                   "b = bytearray(open(sys.argv[1], 'rb').read())\nat = b.find(b'PK\\1\\2')\nb[at + 24:at + 28] = ") +
            claim + "\nopen(sys.argv[1], 'wb').write(b)");
    refusal(file);
  }
  CHECK(peak_kb() - before < 100 * 1024);
}

TEST_CASE("a workbook that points out of itself reads and writes nothing there") {
  Folder f;
  const QString file = f.workbook(
      "out.xlsx",
      "z.writestr('../../evil.txt', 'x')\nz.writestr('/tmp/evil-of-pecorra.txt', 'x')\nz.writestr('xl/workbook.xml', "
      "book)\nz.writestr('xl/_rels/workbook.xml.rels', links % '../../../../../etc/passwd')");
  CHECK_THAT(refusal(file), Catch::Contains("no sheet"));
  CHECK_FALSE(QFile::exists("/tmp/evil-of-pecorra.txt"));
  CHECK(QDir(f.dir.path()).entryList(QDir::Files).size() == 2);  // the workbook and its maker
}

TEST_CASE("entities that would grow, or fetch something, are refused") {
  Folder f;
  QByteArray bomb = "<?xml version=\"1.0\"?><!DOCTYPE a [<!ENTITY a0 \"ha\">";
  for (int i = 1; i < 12; ++i)
    bomb += "<!ENTITY a" + QByteArray::number(i) + " \"" +
            QByteArray("&a" + QByteArray::number(i - 1) + ";").repeated(10) + "\">";
  const QByteArray fetched = "<?xml version=\"1.0\"?><!DOCTYPE a [<!ENTITY a11 SYSTEM \"file:///etc/passwd\">";
  QElapsedTimer timer;
  timer.start();
  for (const QByteArray& head : {bomb, fetched}) {
    CHECK_THAT(refusal(f.put("a.xml", head + "]><MTConnectAssets><Assets>&a11;</Assets></MTConnectAssets>")),
               Catch::Contains("DOCTYPE"));
    const DrawingRead drawing =
        read_drawing_file(f.put("a.svg", head + "]><svg xmlns=\"http://www.w3.org/2000/svg\" width=\"10mm\" "
                                                "height=\"10mm\" viewBox=\"0 0 10 10\"><text>&a11;</text></svg>"),
                          1);
    CHECK(test::lines_in(drawing.drawing).empty());
    CHECK_FALSE(drawing.fault.isEmpty());
    const QString book = f.workbook(
        "e.xlsx", "z.writestr('xl/workbook.xml', r'''" + head +
                      "]>''' + book.replace('\"A\"', '\"&a11;\"'))\nz.writestr('xl/_rels/workbook.xml.rels', links % "
                      "'worksheets/sheet1.xml')\nz.writestr('xl/worksheets/sheet1.xml', '<worksheet/>')");
    refusal(book);
  }
  CHECK(timer.elapsed() < 20000);
}

TEST_CASE("what refers to itself ends") {
  Folder f;
  const DrawingRead dxf =
      read_drawing_file(f.put("a.dxf",
                              "0\nSECTION\n2\nBLOCKS\n0\nBLOCK\n2\nA\n0\nINSERT\n2\nB\n0\nINSERT\n2\nB\n0\nENDBLK\n0\nB"
                              "LOCK\n2\nB\n0\nINSERT\n2\nA\n0\nINSERT\n2\nA\n0\nENDBLK\n0\nENDSEC\n0\nSECTION\n2\nENTIT"
                              "IES\n0\nINSERT\n2\nA\n0\nENDSEC\n0\nEOF\n"),
                        1);
  CHECK_FALSE(dxf.fault.isEmpty());
  // Blocks within blocks that stand for 8 · 10^9 corners; found by fuzzing.
  QByteArray line = "0\nLWPOLYLINE\n70\n1\n";
  for (int i = 0; i < 2000; ++i) line += "10\n" + QByteArray::number(i) + "\n20\n" + QByteArray::number(i % 7) + "\n";
  const auto block = [](const char* name, const QByteArray& inside) {
    return QByteArray("0\nBLOCK\n2\n") + name + "\n" + inside + "0\nENDBLK\n";
  };
  const QByteArray array = "70\n200\n71\n10\n44\n1\n45\n1\n";
  QElapsedTimer timer;
  timer.start();
  const DrawingRead many = read_drawing_file(
      f.put("many.dxf", "0\nSECTION\n2\nBLOCKS\n" + block("A", line) + block("B", "0\nINSERT\n2\nA\n" + array) +
                            block("C", "0\nINSERT\n2\nB\n" + array) +
                            "0\nENDSEC\n0\nSECTION\n2\nENTITIES\n0\nINSERT\n2\nC\n0\nENDSEC\n0\nEOF\n"),
      1);
  std::size_t corners = 0;
  for (const Contour& c : test::lines_in(many.drawing)) corners += c.vertices.size();
  CHECK(corners < 3'000'000);
  CHECK(timer.elapsed() < 20000);
  const DrawingRead svg = read_drawing_file(f.put("a.svg",
                                                  "<svg xmlns=\"http://www.w3.org/2000/svg\" viewBox=\"0 0 9 9\"><g "
                                                  "id=\"a\"><use href=\"#a\"/><use href=\"#a\"/></g></svg>"),
                                            1);
  CHECK_FALSE(svg.fault.isEmpty());
  QByteArray deep = "{\"cutters\": ";
  deep += QByteArray("[").repeated(100000);
  CHECK_THAT(refusal(f.put("deep.json", deep)), Catch::Contains("levels"));
  // An assembly in the holder that is itself: refers to nothing that is there.
  IncomingCutters read = read_cutter_file(
      f.put(
          "self.json",
          R"({"cutters": [{"kind": "end_mill", "diameter_mm": 6, "flutes": 2, "id": "00000000-0000-0000-0000-00000000000a", "assemblies": [{"id": "00000000-0000-0000-0000-00000000000a", "holder": "00000000-0000-0000-0000-00000000000a"}]}]})"),
      UnitSystem::metric, {});
  REQUIRE(read.fault.isEmpty());
  const ShopState& state = the_demo();
  CutterPreview preview = preview_cutters(state, state.libraries[0], read);
  CHECK(preview.lines.size() == 1);
  CHECK(take_cutters(state, state.libraries[0], read, preview, "self.json").objects.size() == 2);
}

TEST_CASE("CSV that a spreadsheet would run as a formula is text, in and out") {
  Folder f;
  const ShopState& state = the_demo();
  IncomingCutters read = read_cutter_file(
      f.put("a.csv", "Type,Diameter,Flutes,Name,Order code\nEnd mill,6,2,\"=cmd|' /C calc'!A0\",@SUM(1)\n"),
      UnitSystem::metric, {});
  REQUIRE(read.fault.isEmpty());
  CutterPreview preview = preview_cutters(state, state.libraries[0], read);
  REQUIRE(preview.lines.size() == 1);
  const Cutter& c = preview.lines[0].value;
  CHECK(c.name == "=cmd|' /C calc'!A0");
  REQUIRE(write_cutter_file(state, &state.libraries[0], {&c}, CutterFormat::csv, f.dir.filePath("b.csv"),
                            UnitSystem::metric)
              .fault.isEmpty());
  QFile out(f.dir.filePath("b.csv"));
  REQUIRE(out.open(QIODevice::ReadOnly));
  const QByteArray text = out.readAll();
  CHECK(text.contains("'=cmd"));
  CHECK(text.contains("'@SUM(1)"));
  CHECK_FALSE(text.contains(",=cmd"));
}

TEST_CASE("a full disk: what was in the file stays, and it is said") {
  Folder f;
  const ShopState& state = the_demo();
  rlimit old{};
  getrlimit(RLIMIT_FSIZE, &old);
  const auto handler = std::signal(SIGXFSZ, SIG_IGN);
  for (int i = 0; i < 6; ++i) {
    const QString file = f.put(ending_of[i], "what was there");
    rlimit small = old;
    small.rlim_cur = 2048;  // a limit on the size of files stands for it
    setrlimit(RLIMIT_FSIZE, &small);
    const Written written = write_cutter_file(state, &state.libraries[0], all_of(state), static_cast<CutterFormat>(i),
                                              file, UnitSystem::metric);
    setrlimit(RLIMIT_FSIZE, &old);
    INFO(ending_of[i]);
    CHECK_FALSE(written.fault.isEmpty());
    QFile after(file);
    REQUIRE(after.open(QIODevice::ReadOnly));
    CHECK(after.readAll() == "what was there");
  }
  std::signal(SIGXFSZ, handler);
  CHECK(QDir(f.dir.path()).entryList(QDir::Files).size() == 6);  // nothing half is left beside them
}

TEST_CASE("a write-protected folder is said to be") {
  Folder f;
  const ShopState& state = the_demo();
  QFile::setPermissions(
      f.dir.path(), QFileDevice::ReadOwner | QFileDevice::ExeOwner | QFileDevice::ReadGroup | QFileDevice::ExeGroup);
  const bool root = geteuid() == 0;
  if (root) REQUIRE(seteuid(65534) == 0);  // nothing is protected from root
  QStringList faults;
  for (int i = 0; i < 6; ++i)
    faults << write_cutter_file(state, &state.libraries[0], all_of(state), static_cast<CutterFormat>(i),
                                f.dir.filePath(QLatin1String(ending_of[i])), UnitSystem::metric)
                  .fault;
  if (root) REQUIRE(seteuid(0) == 0);
  QFile::setPermissions(f.dir.path(), QFileDevice::ReadOwner | QFileDevice::WriteOwner | QFileDevice::ExeOwner);
  for (const QString& fault : faults) CHECK_THAT(fault.toStdString(), Catch::Contains("cannot be written"));
  CHECK(QDir(f.dir.path()).entryList(QDir::Files).empty());
}

TEST_CASE("a file that vanishes, is cut off or cannot be read changes nothing") {
  Folder f;
  const ShopState& state = the_demo();
  for (int i = 0; i < 4; ++i) {
    const QString file = f.dir.filePath(QLatin1String(ending_of[i]));
    INFO(ending_of[i]);
    CHECK_THAT(refusal(file), Catch::Contains("not a readable file"));
    REQUIRE(write_cutter_file(state, &state.libraries[0], all_of(state), static_cast<CutterFormat>(i), file,
                              UnitSystem::metric)
                .fault.isEmpty());
    // Gone while it is read: what was read of it counts, or it is refused; never a half of a cutter.
    const IncomingCutters read = read_cutter_file(file, UnitSystem::metric, known_names(state), {}, [&](double) {
      QFile::remove(file);
      return true;
    });
    if (read.fault.isEmpty()) CHECK(read.lines.size() == state.cutters.size());
    REQUIRE(write_cutter_file(state, &state.libraries[0], all_of(state), static_cast<CutterFormat>(i), file,
                              UnitSystem::metric)
                .fault.isEmpty());
    QFile cut(file);
    REQUIRE(cut.resize(cut.size() / 2));
    if (ending_of[i] != std::string("a.csv")) refusal(file);  // half of a table is a table
  }
  CHECK_THAT(refusal(f.dir.path() + "/."),
             Catch::Contains("unsupported file type") || Catch::Contains("not a readable file"));
}
