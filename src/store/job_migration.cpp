#include "store/job_migration.h"

#include <QSqlQuery>
#include <QVariant>
#include <algorithm>
#include <cmath>
#include <nlohmann/json.hpp>

#include "core/geometry/drawing.h"
#include "core/operation/operation_trail.h"

namespace pecorra {
namespace {

using Json = nlohmann::ordered_json;

struct NewObject {
  std::string kind, id, body;
};

double number(const Json& json, std::size_t at) {
  return at < json.size() && json[at].is_number() ? json[at].get<double>() : 0;
}

// The lines in the order that operations counted them: the contours, then the circles.
Drawing drawing_of(const Json& json) {
  Drawing drawing;
  if (!json.is_object()) return drawing;
  if (json.contains("contours") && json["contours"].is_array())
    for (const Json& entry : json["contours"]) {
      Contour contour;
      contour.closed = entry.is_object() && entry.value("closed", Json()).is_boolean() && entry["closed"].get<bool>();
      if (entry.is_object() && entry.contains("vertices") && entry["vertices"].is_array())
        for (const Json& v : entry["vertices"])
          if (v.is_array()) contour.vertices.push_back({number(v, 0), number(v, 1), number(v, 2)});
      drawing.add_line(std::move(contour));
    }
  if (json.contains("circles") && json["circles"].is_array())
    for (const Json& c : json["circles"])
      if (c.is_array()) drawing.add_circle({number(c, 0), number(c, 1)}, number(c, 2));
  return drawing;
}

Json lines_json(const Drawing& drawing) {
  Json lines = Json::array();
  for (const DrawnLine& line : drawing.lines) {
    Json entry{{"layer", ""}};
    if (line.is_circle()) {
      entry["circle"] = {line.centre().x, line.centre().y, line.diameter_mm};
    } else {
      if (line.contour.closed) entry["closed"] = true;
      entry["vertices"] = Json::array();
      for (const Vertex& v : line.contour.vertices)
        entry["vertices"].push_back(v.bulge == 0 ? Json{v.x, v.y} : Json{v.x, v.y, v.bulge});
    }
    lines.push_back(std::move(entry));
  }
  return lines;
}

// The block was laid around the middle of the drawing, its top at zero.
Json setup_json(const Json& job, const Drawing& drawing, const std::string& id, const std::string& of) {
  Json setup{{"id", id}, {"job", of}, {"rank", 1}};
  const Box box = bounds(drawing);
  const auto side = [&](const char* size, double low, double high, const char* from, const char* to) {
    if (!job.contains(size) || !job[size].is_number()) return;
    const double half = job[size].get<double>() / 2, middle = (low + high) / 2;
    setup[from] = middle - half;
    setup[to] = middle + half;
  };
  side("stock_width_mm", box.low_x, box.high_x, "x_low_mm", "x_high_mm");
  side("stock_depth_mm", box.low_y, box.high_y, "y_low_mm", "y_high_mm");
  if (job.contains("stock_height_mm") && job["stock_height_mm"].is_number()) {
    setup["z_low_mm"] = -job["stock_height_mm"].get<double>();
    setup["z_high_mm"] = 0;
  }
  if (job.contains("clearance_mm")) setup["clearance_mm"] = job["clearance_mm"];
  return setup;
}

Json features_json(const Json& operation, const Drawing& drawing, const std::vector<std::string>& keys) {
  Json features = Json::array();
  const auto use = [&](std::size_t i) { features.push_back({keys[i], print_of(drawing.lines[i].contour)}); };
  if (operation.contains("contours") && operation["contours"].is_array())
    for (const Json& index : operation["contours"])
      if (index.is_number()) {
        const double i = index.get<double>();
        if (i >= 0 && i < static_cast<double>(keys.size())) use(static_cast<std::size_t>(i));
        else features.push_back({"line " + std::to_string(static_cast<long long>(std::clamp(i, -1e9, 1e9)) + 1), ""});
      }
  if (operation.contains("hole_diameter_mm") && operation["hole_diameter_mm"].is_number())
    for (std::size_t i = 0; i < keys.size(); ++i)
      if (drawing.lines[i].is_circle() &&
          std::abs(drawing.lines[i].diameter_mm - operation["hole_diameter_mm"].get<double>()) < 1e-4)
        use(i);
  return features;
}

std::vector<NewObject> split(const std::string& job_id, Json& job) {
  std::vector<NewObject> out;
  const Json old_drawing = job.contains("drawing") ? job["drawing"] : Json();
  const Drawing drawing = drawing_of(old_drawing);
  const std::vector<std::string> keys = keys_of(drawing);
  const auto add = [&](const char* kind, Json body) {
    const std::string id = body["id"].get<std::string>();
    out.push_back({kind, id, body.dump()});
  };
  if (!drawing.lines.empty()) {
    Json part{{"id", Id::from_name("part/" + job_id).text()}, {"job", job_id}};
    part["source"] = old_drawing.contains("source") ? old_drawing["source"] : Json("");
    part["print"] = "";
    part["lines"] = lines_json(drawing);
    add("part", std::move(part));
  }
  add("setup", setup_json(job, drawing, Id::from_name("setup/" + job_id).text(), job_id));
  double rank = 0;
  if (job.contains("operations") && job["operations"].is_array())
    for (const Json& old : job["operations"]) {
      if (!old.is_object()) continue;
      Json o{{"id", ""}, {"job", job_id}, {"rank", ++rank}};
      o["id"] = old.contains("id") && old["id"].is_string() && Id::parse(old["id"].get<std::string>())
                    ? old["id"].get<std::string>()
                    : Id::from_name("operation/" + job_id + "/" + std::to_string(rank)).text();
      for (const auto& [key, value] : old.items())
        if (key != "id" && key != "contours" && key != "hole_diameter_mm" && key != "leave_mm") o[key] = value;
      if (old.contains("leave_mm")) o["leave_wall_mm"] = old["leave_mm"];
      const bool drills = old.contains("path") && old["path"] == "drilling";
      if (drills) o["path"] = "drill";
      if (drills && old.contains("peck_mm")) o["cycle"] = "peck";
      o["features"] = features_json(old, drawing, keys);
      if (o.contains("taken") && o["taken"].is_object() && o["taken"].contains("trail")) {
        Json trail{{"id", trail_id(*Id::parse(o["id"].get<std::string>())).text()}, {"operation", o["id"]}};
        trail["cut"] = o["taken"]["trail"];
        o["taken"].erase("trail");
        add("trail", std::move(trail));
      }
      add("operation", std::move(o));
    }
  for (const char* key :
       {"drawing", "operations", "stock_width_mm", "stock_depth_mm", "stock_height_mm", "clearance_mm"})
    job.erase(key);
  return out;
}

}  // namespace

QSqlError split_jobs(QSqlDatabase& database) {
  QSqlQuery all(database), put(database), change(database);
  if (!all.exec(QStringLiteral("SELECT id, body, seq FROM object WHERE kind = 'job'"))) return all.lastError();
  struct Row {
    QString id;
    std::string body;
    qlonglong seq = 0;
  };
  std::vector<Row> rows;
  while (all.next())
    rows.push_back({all.value(0).toString(), all.value(1).toString().toStdString(), all.value(2).toLongLong()});
  put.prepare(QStringLiteral("INSERT INTO object (id, kind, revision, body, seq) VALUES (?, ?, 1, ?, ?)"));
  change.prepare(QStringLiteral("UPDATE object SET body = ?, revision = revision + 1 WHERE id = ?"));
  for (const Row& row : rows) {
    Json job = Json::parse(row.body, nullptr, false);
    if (!job.is_object()) continue;  // told when the shop is opened
    for (const NewObject& object : split(row.id.toStdString(), job)) {
      put.addBindValue(QString::fromStdString(object.id));
      put.addBindValue(QString::fromStdString(object.kind));
      put.addBindValue(QString::fromStdString(object.body));
      put.addBindValue(row.seq);
      if (!put.exec()) return put.lastError();
    }
    change.addBindValue(QString::fromStdString(job.dump()));
    change.addBindValue(row.id);
    if (!change.exec()) return change.lastError();
  }
  return {};
}

}  // namespace pecorra
