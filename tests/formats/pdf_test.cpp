// A sheet as a PDF form: written, read, and filled in by a general-purpose library of another language (pypdf, Debian's
// python3-pypdf).
#include <catch2/catch.hpp>
#include <cstdlib>
#include <filesystem>
#include <fstream>
#include <iterator>

#include "formats/documents/form_sheet.h"

using namespace pecorra;

namespace {

// Two empty pages, A4 across.
const char* const empty_pages =
    "%PDF-1.4\n1 0 obj << /Type /Catalog /Pages 2 0 R >> endobj\n2 0 obj << /Type /Pages /Kids [3 0 R 4 0 R] /Count 2 "
    ">> endobj\n"
    "3 0 obj << /Type /Page /Parent 2 0 R /MediaBox [0 0 842 595] >> endobj\n4 0 obj << /Type /Page /Parent 2 0 R "
    "/MediaBox [0 0 842 595] >> endobj\n"
    "5 0 obj << /Producer (nobody) >> endobj\ntrailer << /Root 1 0 R /Info 5 0 R /Size 6 >>\n%%EOF\n";

const Sheet sample{"", {{"Number", "Name", "Diameter (mm)"}, {"210", "Ø 6 (long) \\ ≥ 3", "6"}, {"", "", ""}}};

std::vector<FormCell> cells() {
  std::vector<FormCell> list;
  for (std::size_t line = 0; line < 3; ++line)
    for (std::size_t column = 0; column < 3; ++column)
      list.push_back({line == 2, 30 + 100 * static_cast<double>(column), 40 + 16 * static_cast<double>(line), 100, 16,
                      line, column, line > 0});
  return list;
}

std::string whole(const std::filesystem::path& file) {
  std::ifstream in(file, std::ios::binary);
  return {std::istreambuf_iterator<char>(in), {}};
}

}  // namespace

TEST_CASE("PDF form: what is written is read back, whatever is in it") {
  const auto pdf = pdf_with_cells(empty_pages, sample, cells());
  REQUIRE(pdf.has_value());
  const auto back = read_pdf_form(*pdf);
  REQUIRE(back.has_value());
  REQUIRE(back->lines.size() == 2);  // nothing stands in the third
  CHECK(back->lines[0] == sample.lines[0]);
  CHECK(back->lines[1] == sample.lines[1]);
}

TEST_CASE("PDF form: filled in by another library, it is read as filled in") {
  const std::filesystem::path folder =
      std::filesystem::temp_directory_path() / ("pecorra-pdf-" + std::to_string(std::rand()));
  std::filesystem::create_directories(folder);
  const auto pdf = pdf_with_cells(empty_pages, sample, cells());
  REQUIRE(pdf.has_value());
  std::ofstream(folder / "ours.pdf", std::ios::binary) << *pdf;
  std::ofstream(folder / "fill.py") << R"(import sys, pypdf
folder = sys.argv[1]
reader = pypdf.PdfReader(folder + '/ours.pdf')
fields = reader.get_fields()
assert set(fields) == {f'L{l}C{c}' for l in range(3) for c in range(3)}, fields
assert fields['L1C1'].value == 'Ø 6 (long) \\ ≥ 3', fields['L1C1'].value
writer = pypdf.PdfWriter()
writer.clone_document_from_reader(reader)
writer.update_page_form_field_values(writer.pages[0], {'L1C2': '6.35'})
writer.update_page_form_field_values(writer.pages[1], {'L2C0': '211', 'L2C1': 'Fräser Ωmega'})
writer.write(folder + '/filled.pdf')
)";
  REQUIRE(std::system(("/usr/bin/python3 " + (folder / "fill.py").string() + " " + folder.string()).c_str()) == 0);
  const auto back = read_pdf_form(whole(folder / "filled.pdf"));
  REQUIRE(back.has_value());
  REQUIRE(back->lines.size() == 3);
  CHECK(back->lines[0] == sample.lines[0]);
  CHECK(back->lines[1] == std::vector<std::string>{"210", "Ø 6 (long) \\ ≥ 3", "6.35"});
  CHECK(back->lines[2] == std::vector<std::string>{"211", "Fräser Ωmega"});
  std::filesystem::remove_all(folder);
}

TEST_CASE("PDF form: what is none is refused with a reason") {
  for (const std::string& text : {std::string("%PDF-1.4\nnothing"), std::string(), std::string(3000, 'x')}) {
    const auto read = read_pdf_form(text);
    REQUIRE_FALSE(read.has_value());
    CHECK_THAT(read.error().text,
               Catch::Contains("not a readable PDF") || Catch::Contains("no stock-taking form fields"));
  }
  const auto plain = read_pdf_form(empty_pages);
  REQUIRE_FALSE(plain.has_value());
  CHECK_THAT(plain.error().text, Catch::Contains("no stock-taking form fields"));
  // Fields that hold each other, and a cell far away.
  const std::string circle =
      "%PDF-1.4\n1 0 obj << /Type /Catalog /Pages 2 0 R /AcroForm << /Fields [5 0 R] >> >> endobj\n2 0 obj << /Type "
      "/Pages /Kids [] /Count 0 >> endobj\n"
      "5 0 obj << /T (L9999999C9999999) /V (x) /Kids [5 0 R 5 0 R 5 0 R] >> endobj\ntrailer << /Root 1 0 R /Size 6 "
      ">>\n%%EOF\n";
  const auto read = read_pdf_form(circle);
  REQUIRE_FALSE(read.has_value());
  CHECK_THAT(read.error().text, Catch::Contains("no stock-taking form fields"));
}

TEST_CASE("PDF form: streams that the library would unpack unasked are read only where they are packed by Flate") {
  const auto refused = [](const std::string& dictionary) {
    const auto read = read_pdf_form("%PDF-1.5\n4 0 obj\n<<" + dictionary + " /Length 3>>\nstream\nabc\nendstream\n");
    return !read && read.error().text.find("compressed in a way") != std::string::npos;
  };
  CHECK(refused("/Type /ObjStm /Filter /LZWDecode"));
  CHECK(refused("/Type /XRef /Filter [/ASCII85Decode /FlateDecode]"));
  CHECK(refused("/Type /Obj#53tm /Filter /LZW#44ecode"));
  CHECK(refused("/Type /ObjStm /Filter [/FlateDecode /LZW]"));
  CHECK(refused("/Type /ObjStm /Filter /LZW"));
  CHECK_FALSE(refused("/Type /ObjStm /Filter /FlateDecode"));
  CHECK_FALSE(refused("/Type /XObject /Subtype /Image /Filter /DCTDecode"));
}
