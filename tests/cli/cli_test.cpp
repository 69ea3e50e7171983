// The command line, run as a program: what it prints, where, and how it ends.
#include <QFile>
#include <QFileInfo>
#include <QProcess>
#include <QRegularExpression>
#include <QTemporaryDir>
#include <catch2/catch.hpp>
#include <cmath>
#include <nlohmann/json.hpp>

#include "../support/core_application.h"
#include "../support/program_reader.h"

PECORRA_CORE_APPLICATION_TESTS

namespace {

using Json = nlohmann::json;

struct Run {
  int code = -1;
  std::string out, error;
  Json json() const { return Json::parse(out); }
};

Run run(const QStringList& arguments, const QByteArray& input = {}) {
  QProcess process;
  process.start(QStringLiteral(PECORRA_CLI), arguments);
  REQUIRE(process.waitForStarted(10000));
  process.write(input);
  process.closeWriteChannel();
  REQUIRE(process.waitForFinished(60000));
  CHECK(process.exitStatus() == QProcess::NormalExit);  // never a crash
  return {process.exitCode(), process.readAllStandardOutput().toStdString(),
          process.readAllStandardError().toStdString()};
}

Run compute(const Json& request) { return run({"compute"}, QByteArray::fromStdString(request.dump())); }

Json sample() {
  return Json::parse(R"({"cutter": {"kind": "end_mill", "diameter_mm": 10, "flutes": 4},
    "material": {"kc11_n_mm2": 2220, "mc": 0.14}, "machine": {"max_rpm": 12000, "efficiency": 0.85, "power_curve_rpm_kw": [[1500, 11], [12000, 11]]},
    "cut": {"operation": "side_rough", "vc_m_min": 180, "fz_mm": 0.05, "ap_mm": 10, "ae_mm": 2}})");
}

// A refusal: exit 2, the key on stderr, nothing on stdout.
void refused(const Run& r, const char* key) {
  INFO(r.error << r.out);
  CHECK(r.code == 2);
  CHECK(r.out.empty());
  CHECK(r.error.find(key) != std::string::npos);
  CHECK(r.error.find(": ") != std::string::npos);
}

struct Demo {
  QTemporaryDir dir;
  QString shop = dir.filePath("demo.pecorra");
  Demo() { REQUIRE(run({"demo", shop}).code == 0); }
  Run resolve(const QStringList& more = {}, const QString& number = "219", const QString& operation = "side_rough",
              const QString& material = "42CrMo4 +QT") {
    return run(QStringList{"resolve", "--shop", shop, "--library", "Iron and steels", "--number", number, "--material",
                           material, "--machine", "Fettler 6", "--operation", operation} +
               more);
  }
};

}  // namespace

// Exports of every kept shop as an earlier Pecorra wrote them (tests/data/exports): the same, byte for byte.
TEST_CASE("kept shops of every version are exported as they always were") {
  QTemporaryDir dir;
  for (const char* version : {"version-1", "version-2"})
    for (const char* format : {"json", "csv", "dxf", "svg"}) {
      INFO(version << " " << format);
      const QString data = QStringLiteral(PECORRA_TEST_DATA), name = QString::fromLatin1(version),
                    shop = dir.filePath(name + ".pecorra"), out = dir.filePath(name + "." + format);
      QFile::remove(shop);
      REQUIRE(QFile::copy(data + "/shops/" + name + ".pecorra", shop));
      QFile::setPermissions(shop, QFile::ReadOwner | QFile::WriteOwner);
      REQUIRE(run({"export", "--shop", shop, "--library", "Old cabinet", "--format", format, out}).code == 0);
      QFile written(out), kept(data + "/exports/" + name + "." + format);
      REQUIRE(written.open(QIODevice::ReadOnly));
      REQUIRE(kept.open(QIODevice::ReadOnly));
      CHECK(written.readAll() == kept.readAll());
    }
}

TEST_CASE("value prints six decimals in the unit asked for") {
  const std::pair<QStringList, const char*> rows[] = {{{"value", "1-1/8 in", "--as", "mm"}, "28.575000"},
                                                      {{"value", "7/16\"", "--as", "mm"}, "11.112500"},
                                                      {{"value", "10 thou", "--as", "um"}, "254.000000"},
                                                      {{"value", "12,5 mm", "--as", "mm"}, "12.500000"},
                                                      {{"value", "3/4*25.4", "--as", "mm"}, "19.050000"},
                                                      {{"value", "1/2", "--as", "mm", "--from", "in"}, "12.700000"},
                                                      {{"value", "-3", "--as", "cm"}, "-0.300000"},
                                                      {{"value", "-1/2\"", "--as", "mm"}, "-12.700000"},
                                                      {{"value", "1\xE2\x80\x93 2 mm", "--as", "mm"}, nullptr},
                                                      {{"value", "12 kg", "--as", "mm"}, nullptr},
                                                      {{"value", "2 mm * 3 mm", "--as", "mm"}, nullptr},
                                                      {{"value", "1 + 2 mm", "--as", "mm"}, nullptr},
                                                      {{"value", "", "--as", "mm"}, nullptr},
                                                      {{"value", "12", "--as", "furlong"}, nullptr}};
  for (const auto& [arguments, printed] : rows) {
    const Run r = run(arguments);
    INFO(arguments.join(' ').toStdString() << " → " << r.out << r.error);
    if (printed) {
      CHECK(r.code == 0);
      CHECK(r.out == std::string(printed) + "\n");
    } else {
      CHECK(r.code == 2);
      CHECK(r.out.empty());
      CHECK_FALSE(r.error.empty());
    }
  }
}

TEST_CASE("compute answers the check list") {
  const Run r = compute(sample());
  REQUIRE(r.code == 0);
  const Json results = r.json()["results"];
  CHECK(results["n_rpm"].get<double>() == Approx(5729.578).epsilon(1e-6));
  CHECK(results["pc_kw"].get<double>() == Approx(1.451).margin(5e-4));
  CHECK(results["motor_power_kw"].get<double>() == Approx(1.707).margin(5e-4));
  CHECK(results["mc_nm"].get<double>() == Approx(2.42).margin(5e-3));
  CHECK_FALSE(results.contains("thrust_n"));
  const Json headroom = r.json()["headroom"];
  for (std::size_t i = 1; i < headroom.size(); ++i)
    CHECK(headroom[i - 1]["used"].get<double>() >= headroom[i]["used"].get<double>());
  CHECK(r.json()["messages"].is_array());
}

TEST_CASE("compute gives forces, deflection and frequency where cutter, stick-out and material are known") {
  // The whole request of the contract.
  Json request = sample();
  request["cutter"].update(Json{{"helix_deg", 35},
                                {"rake_deg", 6},
                                {"flute_length_mm", 22},
                                {"reach_mm", 30},
                                {"neck_diameter_mm", 9.5},
                                {"shank_diameter_mm", 10},
                                {"overall_length_mm", 72},
                                {"tool_material", "carbide"},
                                {"core_ratio", 0.8}});
  request["material"]["rake_ref_deg"] = 6;
  request["stickout_mm"] = 35;
  request["cut"].update(Json{{"permitted_deflection_mm", 0.02}, {"wear_factor", 1.0}});
  const Json answer = compute(request).json(), results = answer["results"];
  for (const char* key : {"force_mean_n", "force_peak_n", "deflection_mm", "natural_frequency_hz"}) {
    INFO(key);
    REQUIRE(results.contains(key));
    CHECK(results[key].get<double>() > 0);
  }
  // Mean torque over the radius is the mean tangential force; with 0.3 outwards no tooth is over 1.044 of it.
  CHECK(results["force_peak_n"].get<double>() >= results["force_mean_n"].get<double>());
  CHECK(results["force_mean_n"].get<double>() ==
        Approx(results["mc_nm"].get<double>() * 1000 / 5 * std::hypot(1, 0.3)).epsilon(0.06));
  bool deflection = false;
  for (const Json& h : answer["headroom"])
    if (h["limit"] == "deflection")
      deflection = h["value"] == results["deflection_mm"] && h["limit_value"] == 0.02 && !h.contains("worst_used");
  CHECK(deflection);
  // Under a stated load at the tip: a plain cantilever is F·L³/(3·E·I).
  request["cutter"]["core_ratio"] = 1;
  request["cutter"].erase("neck_diameter_mm");
  request["cut"]["tip_load_n"] = 100;
  const double plain = compute(request).json()["results"]["deflection_mm"].get<double>();
  CHECK(plain == Approx(100 * 35.0 * 35 * 35 / (3 * 600e3 * 3.14159265358979 / 64 * 1e4)));
  request["stickout_mm"] = 38.5;  // 10 % more is 33 % more
  CHECK(compute(request).json()["results"]["deflection_mm"].get<double>() / plain == Approx(1.331));
  // Without the stick-out, or without what it is made of, neither is told; the forces are.
  request.erase("stickout_mm");
  CHECK_FALSE(compute(request).json()["results"].contains("deflection_mm"));
  CHECK_FALSE(compute(request).json()["results"].contains("natural_frequency_hz"));
  CHECK(compute(request).json()["results"].contains("force_peak_n"));
  request["stickout_mm"] = 35;
  request["cutter"].erase("tool_material");
  CHECK_FALSE(compute(request).json()["results"].contains("deflection_mm"));
}

TEST_CASE("compute uses only what is given") {
  Json request = sample();
  request.erase("material");
  request.erase("machine");
  request["cut"] = {{"n_rpm", 1000}, {"fz_mm", 0.1}};
  const Json results = compute(request).json()["results"];
  CHECK(results["vf_mm_min"] == 400);
  CHECK_FALSE(results.contains("pc_kw"));
  CHECK_FALSE(results.contains("engagement_deg"));
  // Zero is "not given" for optional sizes, a value where it can be one.
  request["cutter"]["flute_length_mm"] = 0;
  request["cutter"]["corner_radius_mm"] = 0;
  CHECK(compute(request).code == 0);
}

TEST_CASE("compute refuses what cannot be right, a line for each fault") {
  auto with = [](const char* pointer, const Json& value) {
    Json request = sample();
    request[Json::json_pointer(pointer)] = value;
    return compute(request);
  };
  refused(with("/cut/n_rpm", 1000), "cut.vc_m_min");
  refused(with("/cut/fn_mm", 0.2), "cut.fz_mm");
  refused(with("/cut/ae_mm", 11), "cut.ae_mm");
  refused(with("/cut/ap_mm", -1), "cut.ap_mm");
  refused(with("/cut/vc_m_min", 0), "cut.vc_m_min");
  refused(with("/cut/operation", "Side_rough"), "cut.operation");
  refused(with("/cutter/kind", "endmill"), "end_mill");
  refused(with("/cutter/flutes", 2.5), "cutter.flutes");
  refused(with("/cutter/flutes", 0), "cutter.flutes");
  refused(with("/cutter/diametre_mm", 10), "diameter_mm");
  refused(with("/cutter/diameter_mm", "10"), "cutter.diameter_mm");
  refused(with("/cutter/tool_material", "Carbide"), "cutter.tool_material");
  refused(with("/cutter/helix_deg", 90), "cutter.helix_deg");
  refused(with("/cutter/cutting_edge_angle_deg", 91), "cutter.cutting_edge_angle_deg");
  refused(with("/cutter/core_ratio", 1.2), "cutter.core_ratio");
  refused(with("/machine/efficiency", 1.5), "machine.efficiency");
  refused(with("/machine/efficiency", 0), "machine.efficiency");
  refused(with("/machine/min_rpm", 20000), "machine");
  refused(with("/machine/power_curve_rpm_kw", Json::array({Json::array({1000, 5}), Json::array({500, 5})})),
          "machine.power_curve_rpm_kw");
  refused(with("/nonsense", 1), "nonsense");
  refused(with("/material/kc11_n_mm2", 0), "material.kc11_n_mm2");
  Json two = sample();
  two["cut"]["ae_mm"] = 11;
  two["cutter"]["flutes"] = 1.5;
  const Run both = compute(two);
  CHECK(both.error.find("cutter.flutes") != std::string::npos);
  for (const QByteArray& text :
       {QByteArray("{"), QByteArray(""), QByteArray("[1]"), QByteArray("{\"cut\": 1}"), QByteArray(100000, '['),
        QByteArray("{\"cut\": {\"fz_mm\": 1e999}}"), QByteArray("{\"cut\": {}, \"cut\": {}}"), QByteArray("nul"),
        QByteArray("\xFF\xFE\x00")}) {
    const Run r = run({"compute"}, text);
    CHECK(r.code == 2);
    CHECK(r.out.empty());
    CHECK_FALSE(r.error.empty());
  }
}

TEST_CASE("compute never prints nan or inf") {
  for (const char* kind :
       {"end_mill", "ball", "bull_nose", "face_mill", "chamfer_mill", "drill", "tap", "reamer", "thread_mill"})
    for (const double ap : {1e-12, 1.0, 1e6})
      for (const double fz : {1e-12, 0.05, 1e5}) {
        Json request = sample();
        request["cutter"]["kind"] = kind;
        request["cut"]["ap_mm"] = ap;
        request["cut"]["fz_mm"] = fz;
        request["cut"].erase("operation");
        if (std::string(kind) == "tap") request["cutter"]["pitch_mm"] = fz * 4;
        const Run r = compute(request);
        if (r.code == 0) {
          CHECK(r.out.find("nan") == std::string::npos);
          CHECK(r.out.find("inf") == std::string::npos);
          CHECK(r.out.find("null") == std::string::npos);
        } else {
          CHECK(r.code == 2);
        }
      }
}

TEST_CASE(
    "compute refuses what is larger than anything, and a tap's feed off its pitch; says what lengths contradict") {
  Json request = Json::parse(R"({"cutter": {"kind": "end_mill", "diameter_mm": 10, "flutes": 4, "flute_length_mm": 90,
    "overall_length_mm": 72}, "stickout_mm": 80, "cut": {"n_rpm": 3000, "fz_mm": 0.05, "ap_mm": 5, "ae_mm": 2}})");
  const Run long_ones = compute(request);
  REQUIRE(long_ones.code == 0);
  CHECK((long_ones.out.find("flutes_longer_than_overall") != std::string::npos));
  CHECK((long_ones.out.find("stickout_over_overall") != std::string::npos));
  CHECK_FALSE((long_ones.out.find("null") != std::string::npos));
  request["cutter"]["diameter_mm"] = 1e300;
  const Run huge = compute(request);
  CHECK(huge.code == 2);
  CHECK(huge.error.starts_with("cutter.diameter_mm: "));
  // M8: 1.25 mm a turn.
  Json tap = Json::parse(R"({"cutter": {"kind": "tap", "diameter_mm": 8, "pitch_mm": 1.25},
    "cut": {"n_rpm": 800, "vf_mm_min": 900}})");
  const Run off = compute(tap);
  CHECK(off.code == 2);
  CHECK(off.error.starts_with("cut.vf_mm_min: "));
  CHECK((off.error.find("1.25 mm") != std::string::npos));
  tap["cut"]["vf_mm_min"] = 1000;
  CHECK(compute(tap).code == 0);
}

TEST_CASE("resolve answers with conditions, source, trail, headroom") {
  Demo d;
  const Run r = d.resolve();
  REQUIRE(r.code == 0);
  const Json a = r.json();
  CHECK(a["source"] == "shop_table");
  CHECK(a["guess"] == false);
  CHECK(a["conditions"]["n_rpm"] == 2910);
  CHECK(a["conditions"]["vf_mm_min"] == 640);
  CHECK(a["conditions"]["ap_mm"] == 12);
  CHECK(a["conditions"]["coolant"] == "flood");
  CHECK(a["conditions"]["plunge_mm_min"].get<double>() < 640);
  REQUIRE(a["trail"].size() > 3);
  CHECK(a["trail"].front()["step"] == "source");
  for (const Json& step : a["trail"]) CHECK_FALSE(step["text"].get<std::string>().empty());
  CHECK(a["trail"].back()["values"]["n_rpm"] == 2910);
  CHECK_FALSE(a["headroom"].empty());
  // Asked for, paced, from one source only.
  CHECK(d.resolve({"--ap", "5", "--ae", "2"}).json()["conditions"]["ap_mm"] == 5);
  CHECK(d.resolve({"--pace", "80"}).json()["conditions"]["vf_mm_min"].get<double>() < 640);
  const Json starter = d.resolve({"--source", "starter_table"}).json();
  CHECK(starter["source"] == "starter_table");
  CHECK(starter["guess"] == true);
}

TEST_CASE("no answer is an answer; what is not found names the nearest") {
  Demo d;
  const Run none = d.resolve({}, "313", "drill", "100Cr6 62 HRC");  // HSS in hardened steel
  CHECK(none.code == 0);
  CHECK(none.json()["source"] == "none");
  CHECK(none.json()["conditions"].empty());
  CHECK(none.json()["messages"][0]["code"].get<std::string>().starts_with("never_"));
  CHECK(none.json()["messages"][0]["text"].get<std::string>().find("Instead: use carbide") != std::string::npos);
  const Json beech = d.resolve({}, "219", "side_rough", "Beech").json();
  bool hazard = false;
  for (const Json& m : beech["messages"]) hazard = hazard || m["code"] == "hazard_wood_dust";
  CHECK(hazard);
  CHECK(d.resolve({}, "219", "drill").json()["messages"][0]["code"] == "cutter_cannot");
  CHECK(d.resolve({}, "246").json()["messages"][0]["code"] == "cutter_is_draft");
  refused(d.resolve({}, "219", "side_rough", "42CrMo4"), "42CrMo4 +QT");
  refused(d.resolve({}, "220"), "219");
  refused(d.resolve({}, "219", "side_ruff"), "side_rough");
  refused(d.resolve({"--pace", "0"}), "pace");
  refused(d.resolve({"--ae", "13"}), "ae");
  refused(run({"resolve", "--shop", d.dir.filePath("no.pecorra"), "--library", "x", "--number", "1", "--material", "x",
               "--machine", "x", "--operation", "slot"}),
          "no.pecorra");
  QFile words(d.dir.filePath("words.pecorra"));
  REQUIRE(words.open(QIODevice::WriteOnly));
  words.write("only words");
  words.close();
  refused(run({"program", "--shop", words.fileName(), "--job", "x", "-o", d.dir.filePath("x.nc")}), "words.pecorra");
}

TEST_CASE("holes of a job file: the cutter by itself with its reasons, a generic one marked, whole helices told") {
  Demo d;
  const QString file = d.dir.filePath("holes.json");
  QFile out(file);
  REQUIRE(out.open(QIODevice::WriteOnly));
  out.write(R"({"format_version": 1, "name": "Holes", "machine": "Fettler 6", "material": "C45",
    "stock": {"x_mm": [0, 100], "y_mm": [0, 60], "z_mm": [-20, 0]}, "clearance_mm": 15,
    "features": [{"id": "m", "kind": "holes", "at": [[20, 20], [80, 20]], "depth_mm": 10, "thread": "M8"},
                 {"id": "odd", "kind": "holes", "at": [[50, 40]], "diameter_mm": 7.77, "depth_mm": 10},
                 {"id": "wide", "kind": "holes", "at": [[50, 20]], "diameter_mm": 24, "depth_mm": 8}],
    "operations": [{"kind": "drill", "features": ["m"], "cutter": "auto", "depth_mm": 15, "depth_to": "full_diameter"},
                   {"kind": "tap", "features": ["m"], "cutter": "auto"},
                   {"kind": "drill", "features": ["odd"], "cutter": "auto"},
                   {"kind": "helical_bore", "features": ["wide"], "cutter": "auto"}]})");
  out.close();
  const Run made = run({"job", "new", "--shop", d.shop, file});
  INFO(made.error);
  REQUIRE(made.code == 0);
  const Json answer = Json::parse(made.out)["operations"];
  const auto says = [&](std::size_t i, const char* code) {
    return std::any_of(answer[i]["messages"].begin(), answer[i]["messages"].end(),
                       [&](const Json& m) { return m["code"] == code; });
  };
  CHECK(says(0, "cutter_chosen"));
  CHECK(says(0, "cutter_passed_over"));
  CHECK(answer[1]["status"] != "error");
  CHECK(answer[2]["status"] == "warning");
  CHECK(says(2, "generic"));
  const Json paths = Json::parse(run({"toolpath", "--shop", d.shop, "--job", "Holes"}).out)["operations"];
  CHECK(paths[0]["cutter"]["diameter_mm"] == 6.8);
  double lowest = 0;
  for (const Json& m : paths[1]["moves"]) {
    lowest = std::min(lowest, m["to"][2].get<double>());
    if (m["to"][2] < 0) CHECK(m["feed"] == paths[1]["n_rpm"].get<double>() * 1.25);
  }
  CHECK(lowest == Approx(-15));  // full thread, and four threads of lead
  int turns = 0;
  for (const Json& m : paths[3]["moves"])
    if (m.contains("arc") && m["kind"] == "ramp") turns = m["arc"]["turns"];
  CHECK(turns > 2);
  // Shown and made again it is the same, the generic cutter among it.
  const Run shown = run({"job", "show", "--shop", d.shop, "--job", "Holes"});
  Json again = Json::parse(shown.out);
  CHECK(again["operations"][2]["cutter"].contains("generic"));
  again["name"] = "Holes again";
  QFile second(d.dir.filePath("again.json"));
  REQUIRE(second.open(QIODevice::WriteOnly));
  second.write(QByteArray::fromStdString(again.dump()));
  second.close();
  REQUIRE(run({"job", "new", "--shop", d.shop, second.fileName()}).code == 0);
  Json same = Json::parse(run({"job", "show", "--shop", d.shop, "--job", "Holes again"}).out);
  same["name"] = "Holes again";
  CHECK(same == again);
}

TEST_CASE("a job is made from a file, checked, shown, updated from its sources, and its moves are told") {
  Demo d;
  const QString file = d.dir.filePath("cover.json");
  const auto write = [&](const char* text) {
    QFile out(file);
    REQUIRE(out.open(QIODevice::WriteOnly));
    out.write(text);
  };
  write(R"({"format_version": 1, "name": "Cover", "machine": "Fettler 6", "material": "EN AW-5083",
    "stock": {"x_mm": [-5, 105], "y_mm": [-5, 65], "z_mm": [-20, 0]}, "clearance_mm": 15,
    "features": [{"id": "edge", "kind": "line", "closed": true, "points": [[0, 0], [100, 0], [100, 60], [0, 60]]},
                 {"id": "p1", "kind": "pocket", "outline": "edge", "depth_mm": 8},
                 {"id": "h1", "kind": "holes", "at": [[10, 10], [90, 10]], "diameter_mm": 5, "depth_mm": 12}],
    "operations": [{"kind": "pocket", "name": "Floor", "features": ["p1"],
                    "cutter": {"library": "Bronze and light", "number": 46}, "own": {"ap_mm": 4, "ae_mm": 3}},
                   {"kind": "drill", "name": "Holes", "features": ["h1"], "cutter": "auto"},
                   {"kind": "profile", "name": "Too deep", "features": ["edge"], "depth_mm": 80,
                    "cutter": {"library": "Bronze and light", "number": 52}}]})");
  const Run made = run({"job", "new", "--shop", d.shop, file});
  INFO(made.error);
  REQUIRE(made.code == 0);
  const Json answer = Json::parse(made.out);
  REQUIRE(answer["operations"].size() == 3);
  CHECK(answer["operations"][0]["status"] != "error");
  CHECK(answer["operations"][2]["status"] == "error");
  const QString id = QString::fromStdString(answer["job"].get<std::string>());

  const Run path = run({"toolpath", "--shop", d.shop, "--job", "Cover"});
  REQUIRE(path.code == 0);
  const Json operations = Json::parse(path.out)["operations"];
  REQUIRE(operations.size() == 3);
  CHECK(operations[2]["moves"].empty());
  CHECK(operations[0]["cutter"]["diameter_mm"] == 8);
  double deepest = 0;
  for (const Json& m : operations[0]["moves"]) {
    const double z = m["to"][2];
    deepest = std::min(deepest, z);
    if (m["feed"] == 0) CHECK((m["kind"] == "rapid" || m["kind"] == "retract"));
    if (m.contains("arc")) CHECK(m["arc"]["plane"] == "xy");
  }
  CHECK(deepest == Approx(-8));
  CHECK(operations[0]["ap_mm"] == 4);
  int fed = 0;
  for (const Json& m : operations[1]["moves"]) fed += m["kind"] == "cycle";
  CHECK(fed == 2);
  CHECK(
      Json::parse(run({"toolpath", "--shop", d.shop, "--job", id, "--operation", "Holes"}).out)["operations"].size() ==
      1);
  refused(run({"toolpath", "--shop", d.shop, "--job", id, "--operation", "9"}), "operation");

  const Run shown = run({"job", "show", "--shop", d.shop, "--job", "Cover"});
  REQUIRE(shown.code == 0);
  CHECK(Json::parse(shown.out)["operations"][0]["own"]["ap_mm"] == 4);

  // Nothing has changed at the sources; then the speed of a starter table would have to, so the material is asked here.
  const Run checked = run({"job", "check", "--shop", d.shop, "--job", "Cover"});
  REQUIRE(checked.code == 0);
  CHECK(checked.out.find("changed_at_source") == std::string::npos);
  const Run updated = run({"job", "update", "--shop", d.shop, "--job", "Cover", "--keep"});
  REQUIRE(updated.code == 0);
  CHECK(Json::parse(updated.out)["operations"].empty());

  const Run features = run({"job", "features", QStringLiteral(PECORRA_TEST_DATA "/dxf/plate.dxf")});
  REQUIRE(features.code == 0);
  CHECK(Json::parse(features.out)["features"].size() == 3);

  // What is wrong is named, and nothing is made.
  write(
      R"({"format_version": 1, "machine": "Fettler 6", "material": "EN AW-5083", "operations": [{"kind": "facing"}]})");
  const Run wrong = run({"job", "new", "--shop", d.shop, file});
  CHECK(wrong.code == 2);
  CHECK(wrong.error.find("operations[0].kind") != std::string::npos);
  CHECK(run({"job", "show", "--shop", d.shop, "--job", "Job"}).code == 2);
}

TEST_CASE("program writes what the job says, or nothing") {
  Demo d;
  const QString out = d.dir.filePath("rail.nc");
  REQUIRE(run({"program", "--shop", d.shop, "--job", "Spindle rail", "-o", out}).code == 0);
  QFile file(out);
  REQUIRE(file.open(QIODevice::ReadOnly));
  const test::Reading r = test::read_program(file.readAll().toStdString());
  CHECK(r.ended);
  CHECK(r.steps.size() > 100);
  REQUIRE(run({"program", "--shop", d.shop, "--job", "Spindle rail", "-o", out, "--dialect", "by_hand"}).code == 0);
  refused(run({"program", "--shop", d.shop, "--job", "Spindle", "-o", out}), "Spindle rail");
  refused(run({"program", "--shop", d.shop, "--job", "Spindle rail", "-o", out, "--dialect", "none"}), "dialect");
  const Run unwritable = run({"program", "--shop", d.shop, "--job", "Spindle rail", "-o", "/proc/nowhere/x.nc"});
  CHECK(unwritable.code == 1);
  CHECK_FALSE(QFileInfo::exists("/proc/nowhere/x.nc"));
}

TEST_CASE("demo never writes over a file; the chart is complete") {
  Demo d;
  const Run again = run({"demo", d.shop});
  CHECK(again.code == 1);
  CHECK(again.error.find("already") != std::string::npos);
  const Run chart =
      run({"chart", "--shop", d.shop, "--machine", "Fettler 6", "--operation", "side_rough", "--format", "json"});
  REQUIRE(chart.code == 0);
  CHECK(chart.json()["chart"].size() == 73 * 177);
  const Run csv =
      run({"chart", "--shop", d.shop, "--machine", "Fettler 6", "--operation", "side_rough", "--format", "csv"});
  CHECK(std::count(csv.out.begin(), csv.out.end(), '\n') == 73 * 177 + 1);
}

TEST_CASE("words that the command line does not know are input faults") {
  CHECK(run({}).code == 2);
  CHECK(run({"nonsense"}).code == 2);
  CHECK(run({"value"}).code == 2);
  CHECK(run({"value", "12"}).code == 2);
  CHECK(run({"resolve", "--shop", "x"}).code == 2);
  CHECK(run({"--help"}).code == 0);
}

TEST_CASE(
    "every cutter of the demo is answered for: conditions that are consistent, or the reason why there are none") {
  const Demo d;
  struct Asked {
    const char* library;
    int number;
    const char* operation;
    bool answered;  // not drafts, and not what never turns
  };
  for (const Asked& a : {Asked{"Iron and steels", 219, "side_rough", true},
                         {"Iron and steels", 228, "side_rough", true},
                         {"Iron and steels", 249, "side_rough", true},
                         {"Iron and steels", 261, "side_finish", true},
                         {"Iron and steels", 267, "t_slot", true},
                         {"Iron and steels", 270, "dovetail", true},
                         {"Iron and steels", 273, "undercut", true},
                         {"Iron and steels", 276, "surface_finish", true},
                         {"Iron and steels", 279, "thread_mill", true},
                         {"Iron and steels", 288, "side_finish", true},
                         {"Iron and steels", 307, "drill", true},
                         {"Iron and steels", 319, "drill", true},
                         {"Iron and steels", 328, "back_bore", true},
                         {"Iron and steels", 246, "side_rough", false},
                         {"Standing set", 1, "face", true},
                         {"Standing set", 5, "centre", true},
                         {"Standing set", 8, "tap", true},
                         {"Standing set", 11, "ream", true},
                         {"Standing set", 15, "face", false},
                         {"Bench and board", 14, "engrave", false},
                         {"Bronze and light", 52, "side_rough", true}}) {
    const Run r = run({"resolve", "--shop", d.shop, "--library", a.library, "--number", QString::number(a.number),
                       "--material", "42CrMo4 +QT", "--machine", "Fettler 6", "--operation", a.operation});
    INFO(a.library << " " << a.number << " " << a.operation << " " << r.error);
    REQUIRE(r.code == 0);
    CHECK(r.out.find("nan") == std::string::npos);
    CHECK(r.out.find("inf") == std::string::npos);
    const Json answer = r.json();
    CHECK((answer["source"] != "none") == a.answered);
    if (!a.answered) {
      CHECK_FALSE(answer["messages"].empty());
      CHECK((!answer.contains("conditions") || answer["conditions"].empty()));
      continue;
    }
    const Json& c = answer["conditions"];
    const double n = c["n_rpm"], vf = c["vf_mm_min"], fn = c["fn_mm"];
    CHECK(n > 0);
    CHECK(c.value("vf_edge_mm_min", vf) == Approx(n * fn).epsilon(1e-9));
    CHECK(c["vc_m_min"].get<double>() ==
          Approx(3.14159265358979 * c["d_eff_mm"].get<double>() * n / 1000).epsilon(1e-9));
    REQUIRE(answer["trail"].size() >= 3);
    for (const Json& step : answer["trail"]) {
      CHECK_FALSE(step["step"].get<std::string>().empty());
      CHECK_FALSE(step["text"].get<std::string>().empty());
      CHECK(step["text"].get<std::string>().find('_') == std::string::npos);  // a sentence, no code
    }
  }
}

TEST_CASE("export writes a library as JSON, CSV, DXF and SVG, which check reads back without a fault") {
  Demo d;
  const QString out = d.dir.filePath("out");
  const auto written = [&](const QString& ending, const QStringList& more = {}) {
    const QString file = out + "." + ending;
    const Run r =
        run(QStringList{"export", "--shop", d.shop, "--library", "Standing set", "--format", ending, file} + more);
    INFO(r.error);
    CHECK(r.code == 0);
    CHECK(r.out.empty());
    QFile f(file);
    REQUIRE(f.open(QIODevice::ReadOnly));
    const Run checked = ending == "csv" ? Run{} : run({"check", file});
    if (ending != "csv") CHECK(checked.json()["errors"] == 0);
    return f.readAll().toStdString();
  };
  const Json json = Json::parse(written("json"));
  REQUIRE(json["cutters"].size() >= 15);
  int last = 0;
  for (const Json& c : json["cutters"]) {
    CHECK(c["number"].get<int>() > last);
    last = c["number"];
    CHECK(c["kind"].is_string());
    CHECK(c["name"].is_string());
    CHECK(c["diameter_mm"].is_number());
  }
  const std::string csv = written("csv");
  CHECK(std::count(csv.begin(), csv.end(), '\n') == static_cast<long>(json["cutters"].size()) + 1);
  CHECK(csv.find("CHECK INSERTS BEFORE START") != std::string::npos);
  const std::string dxf = written("dxf");
  CHECK(dxf.find("AC1009") != std::string::npos);
  for (const char* layer : {"CUTTING", "NECK", "SHANK", "LABELS"}) CHECK(dxf.find(layer) != std::string::npos);
  CHECK(dxf.find("Face mill \\U+00D863") != std::string::npos);
  const std::string svg = written("svg");
  CHECK(svg.find("id=\"holder\"") != std::string::npos);
  const std::string one = written("svg", {"--number", "2"});
  CHECK(one.size() < svg.size() / 4);
  refused(run({"export", "--shop", d.shop, "--library", "Standing sot", out}),
          "library: “Standing sot” is not in this shop; the nearest is “Standing set”");
  refused(run({"export", "--shop", d.shop, "--library", "Standing set", "--format", "gif", out}), "format");
  refused(run({"export", "--shop", d.shop, "--library", "Standing set", "--number", "777", out}), "number");
  CHECK(run({"export", "--shop", d.shop, "--library", "Standing set", "/nowhere/at/all.json"}).code == 1);
}

TEST_CASE("assembly answers with lengths, room beside a wall, weight, stiffness and the holders that fit") {
  Demo d;
  const QStringList base{"assembly", "--shop", d.shop, "--library", "Iron and steels", "--number", "219"};
  const Json a = run(base).json();
  CHECK(a["holder"] == "ER32");
  CHECK(a["figures"]["stickout_mm"] == 42);
  CHECK(a["figures"]["gauge_length_mm"] == 112);
  CHECK(a["figures"]["weight_kg"].get<double>() > 0.5);
  CHECK(a["holders_that_fit"].size() >= 2);
  CHECK(a["messages"].empty());
  const Json walled = run(base + QStringList{"--wall-height", "60", "--draft", "1", "--stickout", "40"}).json();
  CHECK(walled["figures"]["stickout_mm"] == 40);
  CHECK(walled["figures"]["clearance_mm"].get<double>() < 0);
  CHECK(walled["figures"]["reach_beside_wall_mm"].get<double>() <= 40 + 1e-9);
  const Json wrong = run(base + QStringList{"--holder", "Side-lock 20"}).json();
  CHECK(wrong["messages"][0]["code"] == "shank_not_in_holder");
  refused(run(base + QStringList{"--draft", "89"}), "draft");
  refused(run(base + QStringList{"--holder", "Side-lick 20"}),
          "holder: “Side-lick 20” is not in this shop; the nearest is “Side-lock 20”");
  refused(run(base + QStringList{"--name", "long"}), "name");
}

TEST_CASE("duplicates are listed, and merging keeps jobs running") {
  Demo d;
  const Json before = run({"duplicates", "--shop", d.shop}).json();
  REQUIRE(before["duplicates"].size() == 1);
  CHECK(before["duplicates"][0]["first"]["number"] == 213);
  const std::string job =
      run({"program", "--shop", d.shop, "--job", "Spindle rail", "-o", d.dir.filePath("a.nc")}).error;
  const Run merged = run({"merge", "--shop", d.shop, "--library", "Iron and steels", "--keep", "213", "--gone", "334"});
  CHECK(merged.code == 0);
  CHECK(run({"duplicates", "--shop", d.shop}).json()["duplicates"].empty());
  CHECK(run({"program", "--shop", d.shop, "--job", "Spindle rail", "-o", d.dir.filePath("b.nc")}).error == job);
  CHECK(run({"check", d.shop}).json()["errors"] == 1);  // the demo's draft
  refused(run({"merge", "--shop", d.shop, "--library", "Iron and steels", "--keep", "213", "--gone", "334"}), "gone");
  refused(run({"merge", "--shop", d.shop, "--library", "Iron and steels", "--keep", "213", "--gone", "213"}), "gone");
}

TEST_CASE("check names what is wrong in any file it reads") {
  Demo d;
  const auto write = [&](const char* name, const char* text) {
    const QString file = d.dir.filePath(name);
    QFile f(file);
    REQUIRE(f.open(QIODevice::WriteOnly));
    f.write(text);
    return file;
  };
  const Json library =
      run({"check", write("l.json",
                          R"({"cutters": [{"kind": "drill", "diameter_mm": 8, "flutes": 2.5}, {"kind": "dril"}, 7]})")})
          .json();
  CHECK(library["errors"].get<int>() >= 4);
  CHECK(library["findings"][0]["key"] == "cutters[0].flutes");
  CHECK(run({"check", write("x.json", "{")}).json()["errors"] == 1);
  CHECK(run({"check", write("x.dxf", "no drawing")}).json()["errors"] == 1);
  CHECK(run({"check", write("x.svg", "<svg")}).json()["errors"] == 1);
  const Json rows = run({"check", write("rows.csv", "D,vc,fz,Shelf\n10,100,0.05,A\n12,-5,0.05,A\n")}).json();
  CHECK(rows["kind"] == "rows");
  CHECK(rows["errors"] == 1);
  CHECK(rows["findings"][0]["key"] == "row 3.vc");
  CHECK(run({"check", write("x.xlsx", "no workbook")}).json()["errors"] == 1);
  CHECK(run({"check", write("list.csv", "a,b\n1,2\n")}).json()["errors"] == 1);  // no headings that are known
  refused(run({"check", write("x.pecorra", "no shop at all")}), "shop");
  refused(run({"check", write("x.txt", "text")}), "FILE");
  refused(run({"check", d.dir.filePath("nothing.dxf")}), "FILE");
}

TEST_CASE("the chart of any operation has a cell for every cutter and material, each with numbers or none") {
  const Demo d;
  for (const char* operation : {"slot", "face", "drill", "tap", "surface_finish", "engrave", "thread_mill", "bore"}) {
    const Run r =
        run({"chart", "--shop", d.shop, "--machine", "Fettler 6", "--operation", operation, "--format", "json"});
    INFO(operation);
    REQUIRE(r.code == 0);
    const Json chart = r.json()["chart"];
    CHECK(chart.size() == 73 * 177);
    for (const Json& cell : chart) CHECK(cell.is_object());
    CHECK(r.out.find("nan") == std::string::npos);
  }
}

TEST_CASE("resolve follows a recipe by name, or the usual one; what is no recipe here names what is") {
  Demo demo;
  const Json usual = demo.resolve({}, "249").json();
  CHECK(usual["source"] == "recipe");
  CHECK(usual["trail"][0]["step"] == "recipe");
  CHECK(usual["conditions"]["n_rpm"] == 2250);  // 1000 · 85 / (π · 12) = 2254.7, rounded down
  CHECK(usual["conditions"]["plunge_mm_min"] == 150);
  CHECK(usual["guess"] == false);
  const Json light = demo.resolve({"--recipe", "light"}, "249").json();
  CHECK(light["conditions"]["n_rpm"] == 1850);
  CHECK(light["conditions"]["ae_mm"] == Approx(1.8));
  CHECK(demo.resolve({"--source", "starter_table"}, "249").json()["source"] == "starter_table");
  refused(demo.resolve({"--recipe", "lihgt"}, "249"), "light");
  refused(demo.resolve({"--recipe", "light"}, "249", "slot"), "side roughing");
  refused(demo.resolve({"--recipe", "light"}), "no recipes");
  // For any material, and said so.
  const Json any = demo.resolve({}, "252", "side_rough", "EN-GJL-250").json();
  CHECK(any["source"] == "recipe");
  CHECK(any["trail"][0]["text"].get<std::string>().find("any material") != std::string::npos);
}

TEST_CASE("rows go out and come in; a dry run changes nothing; faults name row and column") {
  Demo demo;
  const QString csv = demo.dir.filePath("rows.csv"), xlsx = demo.dir.filePath("rows.xlsx");
  for (const QString& file : {csv, xlsx}) {
    REQUIRE(run({"export-rows", "--shop", demo.shop, "--table", "Carbide end mills, our own", file}).code == 0);
    const Json same = run({"import-rows", "--shop", demo.shop, "--table", "Carbide end mills, our own", file}).json();
    CHECK(same["same"] == 20);
    CHECK(same["changed"] == 0);
    CHECK(same["rejected"].empty());
  }
  QFile out(csv);
  REQUIRE(out.open(QIODevice::WriteOnly));
  out.write(
      "Type,Made of,Operation,Material,D (mm),vc,fz,Shelf\nEnd mill,Carbide,side roughing,42CrMo4 "
      "+QT,6,97,0.028,A\nEnd mill,Carbide,side roughing,42CrMo4 +QT,10,140,0.045,A\nEnd mill,Carbide,side "
      "roughing,1.7225,25,100,0.09,A\nEnd mill,Carbide,side roughing,Unobtainium,25,100,0.09,A\n");
  out.close();
  const auto import = [&](const QStringList& more) {
    return run(QStringList{"import-rows", "--shop", demo.shop, "--table", "Carbide end mills, our own", csv} + more)
        .json();
  };
  for (int round = 0; round < 2; ++round) {
    const Json dry = import({"--dry-run"});
    CHECK(dry["new"] == 1);  // by its other name
    CHECK(dry["changed"] == 1);
    CHECK(dry["conflict"] == 1);  // Ø10 is proven
    REQUIRE(dry["rejected"].size() == 1);
    CHECK(dry["rejected"][0]["row"] == 5);
    CHECK(dry["rejected"][0]["column"] == "Material");
    CHECK(dry["unknown_columns"] == Json::array({"Shelf"}));
  }
  import({});
  CHECK(demo.resolve({}, "210").json()["conditions"]["n_rpm"] == 5140);  // 1000 · 97 / (π · 6)
  CHECK(import({})["same"] == 2);
  refused(run({"import-rows", "--shop", demo.shop, "--table", "Carbide end mils", csv}), "Carbide end mills, our own");
  refused(run({"import-rows", "--shop", demo.shop, "--table", "Starter, end mills of carbide", csv}), "shipped");
  refused(
      run({"import-rows", "--shop", demo.shop, "--table", "Carbide end mills, our own", demo.dir.filePath("none.csv")}),
      "FILE");
}

TEST_CASE("a pocket is judged at its worst engagement as well") {
  Demo demo;
  const Json answer = demo.resolve({}, "219", "pocket_rough").json();
  bool worse = false;
  for (const Json& h : answer["headroom"])
    if (h.contains("worst_used")) worse = worse || h["worst_used"].get<double>() > h["used"].get<double>();
  CHECK(worse);
}

namespace {

void put(const QString& file, const QByteArray& text) {
  QFile out(file);
  REQUIRE(out.open(QIODevice::WriteOnly));
  out.write(text);
}

QString written(const QTemporaryDir& dir, const char* name, const QByteArray& text) {
  const QString file = dir.filePath(QLatin1String(name));
  put(file, text);
  return file;
}

QByteArray content(const QString& file) {
  QFile in(file);
  REQUIRE(in.open(QIODevice::ReadOnly));
  return in.readAll();
}

}  // namespace

TEST_CASE("import: new, changed, same, in conflict, rejected by row and column; a dry run changes nothing") {
  Demo demo;
  const QString list =
      written(demo.dir, "list.csv",
              "Tool #;Type;Dia;Flutes;Flute length;OAL;Description;Manufacturer\n1;Ball nose;6,5;2;13;57;Long "
              "ball;Ferrow\n2;end mill;1/2\";4;1\";3 in;;Ferrow\n3;drill;abc;2;13;57;;\n4;Sharpener;5;;;;;\n");
  const QStringList into{"import", "--shop", demo.shop, "--library", "Cabinet 3", list};
  const auto first = Json::parse(run(into + QStringList{"--dry-run"}).out);
  CHECK(first["new"] == 2);
  CHECK(run({"export", "--shop", demo.shop, "--library", "Cabinet 3", demo.dir.filePath("x.json")}).code ==
        2);  // not made by a dry run
  const auto taken = Json::parse(run(into).out);
  CHECK(taken["new"] == 2);
  REQUIRE(taken["rejected"].size() == 2);
  CHECK(taken["rejected"][0]["row"] == 4);
  CHECK(taken["rejected"][0]["column"] == "Dia");
  CHECK(taken["rejected"][1]["column"] == "Type");
  const auto again = Json::parse(run(into).out);
  CHECK(again["same"] == 2);
  CHECK(again["new"] == 0);
  const QString changed =
      written(demo.dir, "changed.csv", "No,Type,Dia,Flutes\n1,ball end mill,6.5,3\n2,drill,12.7,2\n");
  const auto third = Json::parse(run({"import", "--shop", demo.shop, "--library", "Cabinet 3", changed}).out);
  CHECK(third["changed"] == 1);
  CHECK(third["conflict"] == 1);  // number 2 is an end mill here
  refused(run({"import", "--shop", demo.shop, "--library", "Cabinet 3", demo.dir.filePath("none.csv")}), "FILE");
  refused(
      run({"import", "--shop", demo.shop, "--library", "Cabinet 3", written(demo.dir, "words.csv", "one,two\n3,4\n")}),
      "FILE");
  refused(run({"import", "--shop", demo.shop, "--library", "Cabinet 3",
               written(demo.dir, "broken.json", "{\"cutters\": [")}),
          "FILE");
  refused(run({"import", "--shop", demo.shop, "--library", "Cabinet 3",
               written(demo.dir, "newer.json", "{\"format_version\": 99, \"cutters\": []}")}),
          "FILE");
  refused(run({"import", "--shop", demo.shop, "--library", "Cabinet 3", written(demo.dir, "no.xlsx", "PK")}), "FILE");
}

TEST_CASE("a library goes out in every format and comes back the same, into its own shop and into a new one") {
  Demo demo;
  const QString fresh = demo.dir.filePath("fresh.pecorra");
  REQUIRE(run({"demo", fresh}).code == 0);
  for (const auto& [format, ending] :
       {std::pair{"json", "json"}, {"csv", "csv"}, {"xlsx", "xlsx"}, {"mtconnect", "xml"}}) {
    for (const char* library : {"Iron and steels", "Bench and board", "Standing set", "Bronze and light"}) {
      INFO(format << " " << library);
      const QString file = demo.dir.filePath(QStringLiteral("out.%1").arg(QLatin1String(ending)));
      REQUIRE(run({"export", "--shop", demo.shop, "--library", library, "--format", format, file}).code == 0);
      const auto back = Json::parse(run({"import", "--shop", fresh, "--library", library, file}).out);
      CHECK(back["changed"] == 0);
      CHECK(back["new"] == 0);
      CHECK(back["conflict"] == 0);
      CHECK(back["rejected"].empty());
      CHECK(back["same"].get<int>() > 5);
    }
  }
  refused(
      run({"export", "--shop", demo.shop, "--library", "Iron and steels", "--format", "pdf", demo.dir.filePath("x")}),
      "format");
}

TEST_CASE(
    "a cutter shared as one file is the same cutter in the other shop, with its assembly and recipes; what was proven "
    "is proven there anew") {
  Demo demo;
  const QString one = demo.dir.filePath("one.json"), two = demo.dir.filePath("two.json"),
                other = demo.dir.filePath("other.pecorra");
  REQUIRE(run({"export", "--shop", demo.shop, "--library", "Iron and steels", "--number", "219", one}).code == 0);
  REQUIRE(run({"demo", other}).code == 0);
  // As if the other shop had never had it.
  REQUIRE(run({"merge", "--shop", other, "--library", "Iron and steels", "--keep", "216", "--gone", "219"}).code == 0);
  const auto taken = Json::parse(run({"import", "--shop", other, "--library", "Guests", one}).out);
  CHECK(taken["new"] == 1);
  REQUIRE(run({"export", "--shop", other, "--library", "Guests", two}).code == 0);
  auto a = Json::parse(content(one).toStdString()), b = Json::parse(content(two).toStdString());
  REQUIRE(a["cutters"].size() == 1);
  REQUIRE(b["cutters"].size() == 1);
  for (auto* json : {&a, &b})
    for (const char* key : {"recipes", "assemblies"}) (*json)["cutters"][0].erase(key);
  CHECK(a["cutters"] == b["cutters"]);
}

TEST_CASE("a program is verified, in another unit and dialect, and by setup") {
  Demo d;
  const QString out = d.dir.filePath("cap.nc");
  const auto program = [&](QStringList more) {
    return run(QStringList{"program", "--shop", d.shop, "--job", "Roller end cap"} + more);
  };
  REQUIRE(program({"-o", out}).code == 0);
  const auto bytes = [&] {
    QFile file(out);
    REQUIRE(file.open(QIODevice::ReadOnly));
    return file.readAll();
  };
  const QByteArray first = bytes();
  CHECK(program({"--verify", out}).json()["same"] == true);
  CHECK(program({"-o", out, "--verify"}).json()["same"] == true);  // writes nothing
  REQUIRE(program({"-o", out}).code == 0);
  CHECK(bytes() == first);  // the same whenever it is written
  {
    QFile file(out);
    REQUIRE(file.open(QIODevice::WriteOnly));
    QByteArray other = first;
    other.replace("S690 M3", "S700 M3");
    file.write(other);
  }
  const Run differs = program({"--verify", out});
  CHECK(differs.code == 0);
  CHECK(differs.json()["same"] == false);
  REQUIRE(differs.json()["differences"].size() == 1);
  CHECK(differs.json()["differences"][0].get<std::string>().find("S700 M3, the job would write S690 M3") !=
        std::string::npos);
  CHECK(bytes().contains("S700"));
  REQUIRE(program({"-o", out, "--unit", "inch", "--dialect", "block_numbers"}).code == 0);
  CHECK(bytes().contains("G20"));
  CHECK(bytes().contains("\r\n"));
  CHECK(program({"--verify", out, "--unit", "inch", "--dialect", "block_numbers"}).json()["same"] == true);
  CHECK(program({"--verify", out}).json()["same"] == false);
  refused(program({"-o", out, "--unit", "cm"}), "unit");
  refused(program({"-o", out, "--setup", "Third"}), "setup");
  refused(program({}), "o: ");
  refused(program({"--verify", d.dir.filePath("none.nc")}), "none.nc");
  // Nothing there is lost where nothing can be written.
  CHECK(program({"-o", "/proc/nowhere/x.nc"}).code == 1);
  // What has to be put into the machine.
  const Json load = program({"-o", out}).json()["load"];
  REQUIRE(load.size() == 2);
  CHECK(load[0]["t"] == 17);
}

TEST_CASE("a job's setup sheet as PDF and HTML") {
  Demo d;
  for (const QString ending : {"pdf", "html"}) {
    const QString out = d.dir.filePath("cap." + ending);
    const Run written = run({"sheet", "--shop", d.shop, "--job", "Roller end cap", "-o", out});
    INFO(written.error);
    REQUIRE(written.code == 0);
    CHECK(written.json()["setups"] == 1);
    QFile file(out);
    REQUIRE(file.open(QIODevice::ReadOnly));
    const QByteArray bytes = file.readAll();
    CHECK(bytes.startsWith(ending == "pdf" ? "%PDF-1" : "<!DOCTYPE html>"));
    if (ending == "pdf") continue;
    for (const char* text :
         {"Roller end cap", "Fettler 6", "T17", "Side-lock 20", "58 mm", "S 1980  F 990  ap 7.333  ae 7",
          "Load into pocket 17", "170 × 170 × 30 mm", "G54", "CHECK INSERTS BEFORE START", "guess"})
      CHECK(bytes.contains(text));
    // Nothing from outside.
    for (const char* text : {"http://", "https://", "src=", "url(", "<script", "@import"})
      CHECK_FALSE(bytes.contains(text));
  }
  refused(run({"sheet", "--shop", d.shop, "--job", "Roller end cap", "-o", d.dir.filePath("x.txt")}), "o: ");
  refused(run({"sheet", "--shop", d.shop, "--job", "None", "-o", d.dir.filePath("x.pdf")}), "job");
}

TEST_CASE("dialects are listed, shown, and taken into a shop") {
  Demo d;
  const auto dialect = [&](QStringList more) { return run(QStringList{"dialect", "--shop", d.shop} + more); };
  CHECK(dialect({}).json()["dialects"].size() == 6);
  const Run shown = dialect({"--show", "plain"});
  const QString own = d.dir.filePath("own.json");
  const auto write = [&](std::string text) {
    QFile file(own);
    REQUIRE(file.open(QIODevice::WriteOnly));
    file.write(QByteArray::fromStdString(text));
  };
  Json changed = Json::parse(shown.out);
  changed["key"] = "mine";
  changed["name"] = "Mine";
  changed["flood"] = "M108";
  write(changed.dump(1));
  CHECK(run({"check", own}).code == 0);
  CHECK(dialect({"--read", own}).json()["dialects"].size() == 7);
  const QString out = d.dir.filePath("x.nc");
  REQUIRE(run({"program", "--shop", d.shop, "--job", "Roller end cap", "-o", out, "--dialect", "mine"}).code == 0);
  QFile program(out);
  REQUIRE(program.open(QIODevice::ReadOnly));
  CHECK(program.readAll().contains("M108"));
  // A wrong file is refused with its line, and the last good one stays.
  changed["tool_change"] = "M6";
  write(changed.dump(1));
  const Run wrong = dialect({"--read", own});
  refused(wrong, "tool_change");
  CHECK(wrong.error.find("line ") != std::string::npos);
  CHECK(run({"check", own}).out.find("tool_change") != std::string::npos);
  CHECK(Json::parse(dialect({"--show", "mine"}).out)["tool_change"] == "T{t} M6\n");
  refused(dialect({"--show", "other"}), "show");
}

// Every command names the program, says its exit codes, and its example runs as it stands on the demo.
TEST_CASE("the help of every command has an example that works") {
  const Run all = run({"--help"});
  CHECK(all.code == 0);
  CHECK(all.out.find("Usage: pecorra-cli") != std::string::npos);
  QStringList commands;
  static const QRegularExpression name(QStringLiteral("^  ([a-z-]+) "), QRegularExpression::MultilineOption);
  QString list = QString::fromStdString(all.out);
  list = list.mid(list.indexOf(QLatin1String("Subcommands")));
  for (auto found = name.globalMatch(list); found.hasNext();) commands << found.next().captured(1);
  CHECK(commands.size() >= 15);
  Demo demo;
  QTemporaryDir folder;
  const auto in_folder = [&](const char* file, const QByteArray& text) {
    QFile out(folder.filePath(QLatin1String(file)));
    REQUIRE(out.open(QIODevice::WriteOnly));
    out.write(text);
  };
  in_folder("cut.json", QByteArray::fromStdString(sample().dump()));
  in_folder("feature.json", R"({"kind": "circle", "diameter_mm": 40, "depth_mm": 5, "operation": "pocket"})");
  in_folder("IN.nc", "T219 M6\nS1000 M3\nG1 X10. F100\nM30\n");
  in_folder("list.csv", "Type,Dia,Flutes,Flute length,OAL\nend mill,12,4,26,83\n");
  in_folder("rows.csv", "Kind,Operation,Group,DC,vc,fz\nend mill,slot,P,12,90,0.04\n");
  for (const QString& command : commands) {
    INFO(command.toStdString());
    const Run help = run({command, "--help"});
    CHECK(help.code == 0);
    CHECK(help.out.find("Usage: pecorra-cli " + command.toStdString()) != std::string::npos);
    CHECK(help.out.find("Exit codes: 0") != std::string::npos);
    const QString text = QString::fromStdString(help.out);
    const qsizetype at = text.indexOf(QLatin1String("  pecorra-cli "));
    REQUIRE(at >= 0);
    const QString example = text.mid(at + 2, text.indexOf(QLatin1Char('\n'), at + 2) - at - 2);
    INFO(example.toStdString());
    QFile::remove(folder.filePath("demo.pecorra"));
    if (command != "demo") REQUIRE(QFile::copy(demo.shop, folder.filePath("demo.pecorra")));
    QProcess shell;
    shell.setWorkingDirectory(folder.path());
    shell.start("sh",
                {"-c", "exec " + QString(example).replace(QLatin1String("pecorra-cli"), QStringLiteral(PECORRA_CLI))});
    if (command == "serve") {  // until it is told to stop
      REQUIRE(shell.waitForReadyRead(60000));
      shell.terminate();
    }
    REQUIRE(shell.waitForFinished(60000));
    INFO(shell.readAllStandardError().toStdString());
    CHECK(shell.exitCode() == 0);
  }
}

TEST_CASE("a program made elsewhere is retuned: cutters by what says which they are, S and F by the tables") {
  QTemporaryDir folder;
  const QString shop = folder.filePath("demo.pecorra"), in = folder.filePath("in.nc"), out = folder.filePath("out.nc");
  REQUIRE(run({"demo", shop}).code == 0);
  const QByteArray program =
      "%\nO1001 (PLATE)\nG21 G90\n(HS-1212 ROUGH)\nT5 M6\nS2500 M3\nG0 X0 Y0 Z5.\nG1 Z-3. F200\nX100. F600\nG0 Z50.\n"
      "(TAP M10)\nT10 M6\nS300 M3\nG84 X10. Y10. Z-18. R5. F450\nX90.\nG80\n(D17.3)\nT30 M6\nS1000 M3\nG1 X5. "
      "F100\nM30\n%\n";
  put(in, program);
  const QStringList usual{"retune", "--shop", shop, "--material", "42CrMo4 +QT", "--machine", "Fettler 6", in};
  const Run r = run(usual + QStringList{"-o", out});
  INFO(r.error);
  REQUIRE(r.code == 0);
  const Json tools = r.json()["tools"];
  REQUIRE(tools.size() == 3);
  CHECK(tools[0]["cutter"]["number"] == 219);
  CHECK(tools[0]["operation"] == "side_rough");
  CHECK(tools[0]["lines"] == Json({5, 11}));
  CHECK(tools[0]["old"]["vf_mm_min"] == 600);
  CHECK(tools[0]["moves"] ==
        Json({{"rapid", 2}, {"plunge", 1}, {"ramp", 0}, {"cut", 1}, {"retract", 0}, {"cycle", 0}}));
  // The same as `resolve` says.
  const Json resolved = run({"resolve", "--shop", shop, "--library", "Iron and steels", "--number", "219", "--material",
                             "42CrMo4 +QT", "--machine", "Fettler 6", "--operation", "side_rough"})
                            .json()["conditions"];
  CHECK(tools[0]["new"]["n_rpm"] == resolved["n_rpm"]);
  CHECK(tools[0]["new"]["vf_mm_min"] == resolved["vf_mm_min"]);
  CHECK(tools[0]["new"]["plunge_mm_min"] == resolved["plunge_mm_min"]);
  // A tap is fed its pitch by the speed.
  CHECK(tools[1]["new"]["vf_mm_min"].get<double>() == Approx(1.5 * tools[1]["new"]["n_rpm"].get<double>()));
  // No cutter of that size: it says so and keeps its words.
  CHECK(tools[2]["new"].empty());
  CHECK(tools[2]["cutter"]["why"].get<std::string>().find("17.3") != std::string::npos);
  CHECK(tools[2]["changed_words"] == 0);
  const QByteArray written = content(out);
  CHECK(written.contains("S1000 M3\nG1 X5. F100\nM30"));
  CHECK(written.contains(QByteArray("S") + QByteArray::number(resolved["n_rpm"].get<int>()) + " M3"));
  // Again: the one that is there goes aside.
  CHECK(run(usual + QStringList{"-o", out, "--skip", "5", "--tool", "30=Iron and steels/219"}).code == 0);
  CHECK(content(out + ".bak") == written);
  CHECK(content(out).contains("S2500 M3"));
  CHECK_FALSE(content(out).contains("X5. F100"));
  // Of what was retuned nothing changes.
  const QString twice = folder.filePath("twice.nc");
  QStringList again = usual;
  again.last() = out + ".bak";
  CHECK(run(again + QStringList{"-o", twice}).code == 0);
  CHECK(content(twice) == written);

  refused(run(usual + QStringList{"-o", in}), "o:");
  refused(run(usual), "o:");
  refused(run(usual + QStringList{"--check", "--tool", "5=Nope/1"}), "tool:");
  refused(run(usual + QStringList{"--check", "--operation", "5=nope"}), "operation:");
  refused(run(usual + QStringList{"--check", "--ap", "5=-1"}), "ap:");
  refused(run(usual + QStringList{"--check", "--skip", "x"}), "skip:");
  CHECK(content(in) == program);
  const qint64 before = QFileInfo(shop).size();
  CHECK(run(usual + QStringList{"--check"}).code == 0);
  CHECK(QFileInfo(shop).size() == before);
}

TEST_CASE("a folder of programs, a watched one, a report, and feeds as chosen, on the command line") {
  QTemporaryDir folder, from, to;
  const QString shop = folder.filePath("demo.pecorra");
  REQUIRE(run({"demo", shop}).code == 0);
  const QByteArray program =
      "G21 G90\n(HS-1212)\nT5 M6\nS2500 M3\nG0 X0 Y0 Z5.\nG1 Z-3. F200.\nX40. F600.\nG3 X40. Y40. I0. J20.\nM30\n";
  for (const char* name : {"a.nc", "b.tap", "readme.doc"}) put(from.filePath(name), program);
  const QStringList usual{"retune", "--shop", shop, "--material", "C45", "--machine", "Fettler 6"};
  const Run before = run(usual + QStringList{"--skip", "5", from.filePath("a.nc"), "--check"});
  CHECK(before.code == 0);  // an option takes one value, and no program
  const Run all = run(usual + QStringList{from.path(), "-o", to.path()});
  INFO(all.error << all.out);
  REQUIRE(all.code == 0);
  const Json answer = all.json();
  REQUIRE(answer["programs"].size() == 2);
  double minutes = 0;
  for (const Json& p : answer["programs"]) {
    CHECK(p["fault"] == "");
    CHECK(p["tools"][0]["cutter"]["number"] == 219);
    minutes += p["minutes"]["new"].get<double>();
  }
  CHECK(answer["minutes"]["new"].get<double>() == Approx(minutes));
  CHECK(content(to.filePath("a.nc")) == content(to.filePath("b.tap")));
  CHECK(content(to.filePath("a.nc")) != program);
  CHECK(content(from.filePath("a.nc")) == program);
  CHECK_FALSE(QFile::exists(to.filePath("readme.doc")));
  // The same as one alone.
  const QString one = folder.filePath("one.nc"), pdf = folder.filePath("r.pdf"), html = folder.filePath("r.html");
  REQUIRE(run(usual + QStringList{from.filePath("a.nc"), "-o", one, "--report", pdf}).code == 0);
  CHECK(content(one) == content(to.filePath("a.nc")));
  CHECK(content(pdf).startsWith("%PDF"));
  REQUIRE(run(usual + QStringList{from.filePath("a.nc"), "--check", "--report", html}).code == 0);
  CHECK(content(html).contains("HS-1212") == false);  // the cutter's name, not the comment
  CHECK(content(html).contains("2500"));
  // Feeds: a plunge as the table has it, or its third of the cutting feed; an inside arc by its centre.
  const Json now = run(usual + QStringList{from.filePath("a.nc"), "--check"}).json()["tools"][0]["new"];
  const double vf = now["vf_mm_min"].get<double>();
  const auto fed = [&](const QStringList& more) {
    REQUIRE(run(usual + QStringList{from.filePath("a.nc"), "-o", one} + more).code == 0);
    return content(one);
  };
  const auto feed = [](double v) { return "F" + QByteArray::number(std::floor(v * 10 + 1e-6) / 10, 'f', 1); };
  const auto same = [](QByteArray f) { return f.endsWith(".0") ? f.chopped(1) : f; };
  CHECK(fed({}).contains("Z-3. " + same(feed(now["plunge_mm_min"].get<double>()))));
  CHECK(fed({"--feeds", "proportion"}).contains("Z-3. " + same(feed(vf * 200 / 600))));
  // A 12 mm cutter on a circle of R 20: its edge is at R 26.
  CHECK(fed({"--arc-centres"}).contains("J20. " + same(feed(vf * 20 / 26))));
  CHECK_FALSE(fed({}).contains("J20. F"));
  refused(run(usual + QStringList{from.filePath("a.nc"), "--check", "--feeds", "some"}), "feeds:");
  refused(run(usual + QStringList{from.filePath("a.nc"), "--check", "--report", "x.doc"}), "report:");
  refused(run(usual + QStringList{from.path(), "-o", from.path()}), "o:");
  refused(run(usual + QStringList{from.path(), "-o", to.filePath("none")}), "o:");
  refused(run(usual + QStringList{from.filePath("a.nc"), "-o", to.path(), "--watch"}), "watch:");

  // A watched folder writes what arrives, and never to where it came from.
  QTemporaryDir in, out;
  QProcess process;
  process.start(QStringLiteral(PECORRA_CLI), usual + QStringList{in.path(), "-o", out.path(), "--watch"});
  REQUIRE(process.waitForStarted(10000));
  put(in.filePath("new.nc"), program);
  for (int tries = 0; tries < 300 && !process.canReadLine(); ++tries) process.waitForReadyRead(100);
  REQUIRE(process.canReadLine());
  const Json line = Json::parse(process.readLine().toStdString());
  CHECK(line["fault"] == "");
  CHECK(content(out.filePath("new.nc")) == content(to.filePath("a.nc")));
  CHECK(content(in.filePath("new.nc")) == program);
  process.terminate();
  CHECK(process.waitForFinished(10000));
}

TEST_CASE("every program that Pecorra writes is understood whole and retuned to itself") {
  QTemporaryDir folder;
  const QString shop = folder.filePath("demo.pecorra"), in = folder.filePath("in.nc"), out = folder.filePath("out.nc");
  REQUIRE(run({"demo", shop}).code == 0);
  const std::tuple<const char*, const char*, const char*> jobs[] = {{"Roller end cap", "EN-GJL-250", "Fettler 6"},
                                                                    {"Spindle rail", "42CrMo4 +QT", "Fettler 6"},
                                                                    {"Two holes", "C45", "Fettler 6"},
                                                                    {"Gear cover", "EN AW-5083", "Slubber 2"}};
  for (const auto& [job, material, machine] : jobs)
    for (const char* dialect : {"plain", "block_numbers", "by_hand", "router_inch", "lines_only"}) {
      INFO(job << " " << dialect);
      REQUIRE(run({"program", "--shop", shop, "--job", job, "--dialect", dialect, "-o", in}).code == 0);
      const Run r = run({"retune", "--shop", shop, "--material", material, "--machine", machine, in, "-o", out});
      REQUIRE(r.code == 0);
      CHECK(r.json()["not_understood"].empty());
      QFile before(in), after(out);
      CHECK(before.open(QIODevice::ReadOnly));
      CHECK(after.open(QIODevice::ReadOnly));
      CHECK(before.readAll() == after.readAll());
      QFile::remove(out);
    }
}
