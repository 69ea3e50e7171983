// Files of cutters: JSON libraries and MTConnect assets come back the same; what is damaged or hostile is refused with
// a reason.
#include <catch2/catch.hpp>
#include <random>

#include "../support/random_cutters.h"
#include "formats/encoding.h"
#include "formats/json/library_file.h"
#include "formats/mtconnect/assets.h"
#include "formats/sheet/sheet_file.h"

using namespace pecorra;

namespace {

LibraryFile sample() {
  std::mt19937 random(31);
  LibraryFile file;
  file.shop = "Teasel & Yard <north>";
  file.library.id = Id::from_name("library");
  file.library.name = "Guests";
  Insert insert;
  insert.id = Id::from_name("insert");
  insert.name = "APKT 160408";
  file.inserts.push_back(insert);
  Holder holder;
  holder.id = Id::from_name("holder");
  holder.name = "ER32";
  holder.stations = {{0, 50}, {40, 50}};
  file.holders.push_back(holder);
  int n = 0;
  for (const CutterKind kind : cutter_kinds()) {
    Cutter c = random_cutter(kind, random);
    c.id = Id::from_name("cutter " + std::to_string(n));
    c.number = ++n;
    c.name = "Ø < 12 & \"x\" ≥";
    c.maker = "Tansy & Rudd";
    c.order_code = n % 3 ? "TR-" + std::to_string(n) : "";
    c.guesses = {"reach_mm"};
    c.accepted = {{"flutes_long", "as ordered"}};
    c.typed = {{"diameter_mm", "7/16\""}};
    c.price = 1.0 / 3;
    if (kind == CutterKind::face_mill) c.insert = insert.id;
    Assembly a;
    a.id = Id::from_name("assembly " + std::to_string(n));
    a.cutter = c.id;
    a.holder = holder.id;
    a.stickout_mm = 31.7;
    a.usual = true;
    file.assemblies.push_back(a);
    if (n % 4 == 0) {
      Recipe r;
      r.id = Id::from_name("recipe " + std::to_string(n));
      r.cutter = c.id;
      r.name = "light";
      r.kind = kind;
      r.vc_m_min = 100.1;
      r.feed_mm = 0.031;
      r.proven = true;
      file.recipes.push_back(r);
    }
    file.cutters.push_back(std::move(c));
  }
  return file;
}

}  // namespace

TEST_CASE("a library as JSON is read back exactly, with everything that belongs to its cutters") {
  const LibraryFile file = sample();
  const auto read = read_library(library_text(file));
  REQUIRE(read.has_value());
  CHECK(read->part_faults.empty());
  for (const FormatFaults& f : read->faults) CHECK(f.empty());
  CHECK(read->file.shop == file.shop);
  CHECK(read->file.library.name == "Guests");
  CHECK(read->file.cutters == file.cutters);
  CHECK(read->file.assemblies == file.assemblies);
  CHECK(read->file.recipes == file.recipes);
  CHECK(read->file.holders == file.holders);
  CHECK(read->file.inserts == file.inserts);
}

TEST_CASE("a library with faults: each cutter says its own, the others stand") {
  const auto read = read_library(
      R"({"cutters": [{"kind": "drill", "diameter_mm": 8}, {"kind": "dril"}, 7, {"diameter_mm": 5}, {"kind": "drill", "diameter_mm": -1}, {"kind": "drill", "colour": "red"}, {"kind": "drill", "insert": "nobody's"},
                                     {"kind": "drill", "number": 0}, {"kind": "drill", "diameter_mm": 6, "assemblies": [{"stickout_mm": 20}]}], "holders": [{"stations": [[1]]}, 5]})");
  REQUIRE(read.has_value());
  REQUIRE(read->faults.size() == 9);
  for (const std::size_t right : {0, 8}) CHECK(read->faults[right].empty());
  for (const std::size_t wrong : {1, 2, 3, 4, 5, 6, 7}) {
    INFO(wrong);
    CHECK_FALSE(read->faults[wrong].empty());
  }
  CHECK(read->part_faults.size() == 2);
  REQUIRE(read->file.assemblies.size() == 1);
  CHECK(read->file.assemblies[0].cutter == read->file.cutters[8].id);
  CHECK_FALSE(read->has_id[8]);
  for (const char* text : {"", "{", "[]", "{\"cutters\": 7}", "{\"cutters\": [], \"format_version\": 2}",
                           "{\"cutters\": [], \"cutters\": []}"})
    CHECK_FALSE(read_library(text).has_value());
  CHECK_FALSE(read_library(std::string(100000, '[')).has_value());
}

TEST_CASE("MTConnect: what is written is read back exactly, sizes with the symbols of ISO 13399") {
  const LibraryFile file = sample();
  std::vector<AssetExtra> extras{{file.cutters[0].id, "ER32", 31.7, 95.25, 1.5}};
  const std::string xml = mtconnect_text(file, extras, "2026-11-26T10:00:00Z");
  for (const char* part :
       {"urn:mtconnect.org:MTConnectAssets:1.4", "<CuttingDiameterMax code=\"DC\"", "<OverallToolLength code=\"OAL\"",
        "code=\"LPR\" nominal=\"31.7\"", "units=\"MILLIMETER\"", "<ProgramToolNumber>1<"})
    CHECK(xml.find(part) != std::string::npos);
  const auto read = read_mtconnect(xml, [&](const std::string& name) {
    return name == "APKT 160408" ? std::optional(file.inserts[0].id) : std::nullopt;
  });
  REQUIRE(read.has_value());
  REQUIRE(read->cutters.size() == file.cutters.size());
  for (std::size_t i = 0; i < file.cutters.size(); ++i) {
    INFO(key_of(file.cutters[i].kind));
    CHECK(read->faults[i].empty());
    CHECK(read->cutters[i] == file.cutters[i]);
  }
  CHECK(read->extras[0].holder == "ER32");
  CHECK(read->extras[0].stickout_mm == 31.7);
  CHECK(read->extras[0].gauge_length_mm == 95.25);
}

TEST_CASE("MTConnect: assets of other programs, by symbol or element, in inches, with prefixes; a DOCTYPE is refused") {
  const auto read = read_mtconnect(
      R"(<?xml version="1.0"?><m:MTConnectAssets xmlns:m="urn:mtconnect.org:MTConnectAssets:1.3"><m:Header/><m:Assets>
    <m:CuttingTool assetId="A.12" toolId="FR-8" serialNumber="1" timestamp="2020-01-01T00:00:00Z" manufacturers="Ferrow"><m:Description>Ball nose end mill, carbide</m:Description>
      <m:CuttingToolLifeCycle><m:CutterStatus><m:Status>NEW</m:Status></m:CutterStatus><m:ProgramToolNumber>12</m:ProgramToolNumber>
        <m:Measurements><m:CuttingDiameterMax code="DC" units="INCH" nominal="0.5">0.4998</m:CuttingDiameterMax><m:OverallToolLength nominal="76.2">76.2</m:OverallToolLength><m:Unknown code="ZZ" nominal="1"/></m:Measurements>
        <m:CuttingItems count="2"><m:CuttingItem indices="1-2" itemId="e"><m:Measurements><m:ToolLeadAngle code="PSIR" nominal="30" units="DEGREE"/></m:Measurements></m:CuttingItem></m:CuttingItems>
      </m:CuttingToolLifeCycle></m:CuttingTool>
    <m:CuttingToolArchetype assetId="x"><m:Description>Sharpener</m:Description><m:CuttingToolLifeCycle><m:ProgramToolNumber>zero</m:ProgramToolNumber><m:Measurements><m:X code="DC" nominal="-3"/></m:Measurements></m:CuttingToolLifeCycle></m:CuttingToolArchetype>
  </m:Assets></m:MTConnectAssets>)");
  REQUIRE(read.has_value());
  REQUIRE(read->cutters.size() == 2);
  const Cutter& c = read->cutters[0];
  CHECK(read->faults[0].empty());
  CHECK(c.kind == CutterKind::ball);
  CHECK(c.number == 12);
  CHECK(c.diameter_mm == 12.7);
  CHECK(c.overall_length_mm == 76.2);
  CHECK(c.flutes == 2);
  CHECK(c.maker == "Ferrow");
  CHECK(c.order_code == "FR-8");
  CHECK(c.cutting_edge_angle_deg == 60.0);
  CHECK_FALSE(read->has_id[0]);
  CHECK(read->faults[1].size() == 3);
  std::string bomb = "<?xml version=\"1.0\"?><!DOCTYPE b [<!ENTITY a \"ha\">";
  for (char e = 'b'; e < 'k'; ++e)
    bomb += std::string("<!ENTITY ") + e + " \"&" + static_cast<char>(e - 1) + ";&" + static_cast<char>(e - 1) + ";\">";
  CHECK(read_mtconnect(bomb + "]><MTConnectAssets><Assets/></MTConnectAssets>").error().text.find("DOCTYPE") !=
        std::string::npos);
  CHECK_FALSE(read_mtconnect("").has_value());
  CHECK_FALSE(read_mtconnect("<a><b></a>").has_value());
  CHECK_FALSE(read_mtconnect("<Assets2/>").has_value());
}

TEST_CASE("texts in any encoding become UTF-8, strictly") {
  CHECK(is_utf8("Ø ≥ é"));
  for (const char* wrong : {"\xff", "\xc3", "\xc0\x80", "\xed\xa0\x80", "\xf5\x80\x80\x80", "\xe0\x80\x80"})
    CHECK_FALSE(is_utf8(wrong));
  CHECK(as_utf8("\xd8 10") == "Ø 10");
  CHECK(from_utf16(std::string_view("A\0\xd8\0", 4), false) == "AØ");
  CHECK(from_utf16(std::string_view("\xd8\x3d\xde\x00", 4), true) == "\xf0\x9f\x98\x80");
  // As a spreadsheet saves “Unicode text”: UTF-16 with its mark, parted by tabs; and without the mark.
  const std::string_view marked("\xff\xfeN\0o\0\t\0D\0\n\0\x31\0\t\0\x35\0\n\0", 20);
  for (const std::string_view text : {marked, marked.substr(2)}) {
    const auto sheet = read_csv(text);
    REQUIRE(sheet.has_value());
    CHECK(sheet->lines == std::vector<std::vector<std::string>>{{"No", "D"}, {"1", "5"}});
  }
}

TEST_CASE("no cell can run as a formula, and every text comes back as it was") {
  const Sheet sheet{
      "",
      {{"a", "b"}, {"=1+1", "@sum"}, {"+49 1", "-0.25"}, {"-", "'=x"}, {"=cmd|' /C calc'!A0", "it's"}, {"\tx", "''"}}};
  const std::string text = csv_text(sheet);
  CHECK(text.find("'=1+1") != std::string::npos);
  CHECK(text.find(",-0.25") != std::string::npos);  // a number is a number
  CHECK(text.find("\n=") == std::string::npos);
  CHECK(text.find(",=") == std::string::npos);
  CHECK(text.find("\"=") == std::string::npos);
  CHECK(read_csv(text)->lines == sheet.lines);
}
