// Sheets in and out: CSV as RFC 4180 has it and as spreadsheets write it, XLSX against a general-purpose library.
#include <catch2/catch.hpp>
#include <cstdio>
#include <cstdlib>
#include <filesystem>
#include <fstream>
#include <random>

#include "formats/sheet/sheet_file.h"

using namespace pecorra;

namespace {

using Lines = std::vector<std::vector<std::string>>;

Lines lines_of(std::string_view text) {
  const auto sheet = read_csv(text);
  REQUIRE(sheet.has_value());
  return sheet->lines;
}

struct Folder {
  std::filesystem::path path =
      std::filesystem::temp_directory_path() / ("pecorra-sheet-" + std::to_string(std::random_device{}()));
  Folder() { std::filesystem::create_directories(path); }
  ~Folder() { std::filesystem::remove_all(path); }
  std::string file(const char* name) const { return (path / name).string(); }
};

bool write_book(const Sheet& sheet, const std::string& file) {
  const auto bytes = xlsx_of(sheet);
  return bytes && (std::ofstream(file, std::ios::binary) << *bytes);
}

}  // namespace

TEST_CASE("CSV: separators are found, quotes and line ends inside them kept, empty lines keep their place") {
  CHECK(lines_of("a,b\r\n1,2\r\n") == Lines{{"a", "b"}, {"1", "2"}});
  CHECK(lines_of("a;b\n1,5;2\n") == Lines{{"a", "b"}, {"1,5", "2"}});
  CHECK(lines_of("a\tb\n1,5\t\n") == Lines{{"a", "b"}, {"1,5", ""}});
  CHECK(lines_of("\"a \"\"x\"\", b\",\"two\nlines\"\n") == Lines{{"a \"x\", b", "two\nlines"}});
  CHECK(lines_of("a,b\n\n1,2\n")[2] == std::vector<std::string>{"1", "2"});
  CHECK(lines_of("\xef\xbb\xbf"
                 "a,b\n") == Lines{{"a", "b"}});
  CHECK(lines_of("\xd8 10;\xb5m\n") == Lines{{"Ø 10", "µm"}});  // Windows-1252
}

TEST_CASE("CSV: what is none is refused with a reason") {
  CHECK(read_csv("").error().text == "is empty");
  CHECK(read_csv(std::string_view("\xff\xfe"
                                  "a\0b",
                                  5))
            .error()
            .text.find("UTF-8") != std::string::npos);
  CHECK(read_csv(std::string_view("\xff\xfe\x00\xdc", 4)).error().text.find("UTF-8") != std::string::npos);
  CHECK_FALSE(read_csv(std::string_view("PK\0\0", 4)).has_value());
}

TEST_CASE("a long CSV, which is split in two halves, reads as its short pieces do") {
  // Ends of lines inside quotation marks, and marks that stand for inches, all around the middle; the middle falls on
  // another place each time.
  const std::string pieces[] = {"12,\"two\nlines\",x\n", "7/16\",end mill,\"a, b\"\n", "\"say \"\"one\"\"\n\n\",,3\n",
                                "\n", "8, drill ,\"\n\n\n\n\"\n"};
  Lines wanted_of[5];
  for (int i = 0; i < 5; ++i) wanted_of[i] = read_csv(pieces[i]).value().lines;
  REQUIRE(wanted_of[0] == Lines{{"12", "two\nlines", "x"}});
  REQUIRE(wanted_of[1] == Lines{{"7/16\"", "end mill", "a, b"}});
  std::mt19937 random(1);
  for (int round = 0; round < 24; ++round) {
    std::string text;
    Lines wanted;
    while (text.size() < (1u << 20) + 5000u * static_cast<unsigned>(round)) {
      const auto k = random() % 5;
      text += pieces[k];
      wanted.insert(wanted.end(), wanted_of[k].begin(), wanted_of[k].end());
    }
    CHECK(read_csv(text).value().lines == wanted);
  }
  // A mark that is never closed goes to the end, also where it begins in the first half.
  std::string open = "a,\"b\n";
  open.append(3 << 20, '\n');
  const auto read = read_csv(open);
  CHECK((!read || read->lines.size() == 1));
}

TEST_CASE("CSV: whatever is written is read back, whatever is in it") {
  std::mt19937 random(4);
  const std::string pieces[] = {"a", "\"", ",", ";", "\n", "Ø", " ", "1.5", "'", "\t"};
  for (int n = 0; n < 500; ++n) {
    Sheet sheet;
    for (int r = 0; r < 4; ++r) {
      std::vector<std::string> line;
      for (int c = 0; c < 3; ++c) {
        std::string text;
        for (unsigned k = random() % 4; k > 0; --k) text += pieces[random() % std::size(pieces)];
        line.push_back(text);
      }
      line.push_back("end");
      sheet.lines.push_back(line);
    }
    sheet.lines.insert(sheet.lines.begin(), {"one", "two", "three", "four"});
    // A tab inside quotes decides nothing about the separator.
    REQUIRE(lines_of(csv_text(sheet)) == sheet.lines);
  }
}

TEST_CASE("XLSX: written here, read here; read by a general-purpose library, and what that writes read here") {
  Folder folder;
  Sheet sheet;
  sheet.name = "Steel [rough]";
  sheet.lines = {{"Diameter (mm)", "Note"}, {"12.5", "Ø & <b>"}, {"", ""}, {"-0.25", "1e5"}};
  const std::string file = folder.file("ours.xlsx");
  REQUIRE(write_book(sheet, file));
  const auto back = read_xlsx(file);
  REQUIRE(back.has_value());
  CHECK(back->name == "Steel rough");
  REQUIRE(back->lines.size() == 4);
  CHECK(back->lines[0] == sheet.lines[0]);
  CHECK(back->lines[1] == sheet.lines[1]);
  CHECK(back->lines[3] == sheet.lines[3]);
  // openpyxl (Debian's python3-openpyxl) is the other party.
  const std::string script = folder.file("other.py"), theirs = folder.file("theirs.xlsx"),
                    seen = folder.file("seen.txt");
  std::ofstream(script) << R"(import sys, openpyxl, datetime
ours, theirs, seen = sys.argv[1:]
sheet = openpyxl.load_workbook(ours).active
open(seen, 'w').write(repr([[c.value for c in row] for row in sheet.iter_rows()]))
book = openpyxl.Workbook()
book.active.title = 'Empty one'
page = book.create_sheet('Rows')
page.append(['Diameter', 'vc', 'Proven', 'Date'])
page.append([6, 0.1 + 0.2, True, datetime.date(2026, 11, 3)])
page['A4'] = '1/2"'
book.save(theirs)
)";
  const std::string command = "/usr/bin/python3 " + script + " " + file + " " + theirs + " " + seen;
  REQUIRE(std::system(command.c_str()) == 0);
  std::string text;
  std::getline(std::ifstream(seen), text);
  CHECK(text == "[['Diameter (mm)', 'Note'], [12.5, 'Ø & <b>'], [None, None], [-0.25, '1e5']]");
  const auto other = read_xlsx(theirs);
  REQUIRE(other.has_value());
  CHECK(other->name == "Rows");
  CHECK(other->lines == Lines{{"Diameter", "vc", "Proven", "Date"}, {"6", "0.3", "yes", "2026-11-03"}, {}, {"1/2\""}});
}

TEST_CASE("XLSX: what is none is refused, and nothing half is written") {
  Folder folder;
  std::ofstream(folder.file("text.xlsx")) << "no archive";
  CHECK(read_xlsx(folder.file("text.xlsx")).error().text == "is not an XLSX file");
  CHECK_FALSE(read_xlsx(folder.file("missing.xlsx")).has_value());
  // Cut short at many places: an answer or a reason, never a crash.
  Sheet sheet;
  sheet.lines = {{"a", "b"}, {"1", "2"}};
  REQUIRE(write_book(sheet, folder.file("whole.xlsx")));
  std::ifstream in(folder.file("whole.xlsx"), std::ios::binary);
  const std::string whole((std::istreambuf_iterator<char>(in)), {});
  std::mt19937 random(5);
  for (int n = 0; n < 60; ++n) {
    std::string part = whole;
    if (n % 2) part.resize(random() % part.size());
    else
      for (int k = 0; k < 8; ++k) part[random() % part.size()] = static_cast<char>(random());
    std::ofstream(folder.file("part.xlsx"), std::ios::binary) << part;
    (void)read_xlsx(folder.file("part.xlsx"));
  }
}
