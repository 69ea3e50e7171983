#include "serve/condition_service.h"

#include <QDateTime>
#include <QFile>
#include <QFileInfo>
#include <algorithm>
#include <array>
#include <charconv>
#include <cmath>
#include <functional>
#include <iostream>

#include "cli/answers.h"
#include "shop/shipped.h"

namespace pecorra {
namespace {

using Parameters = std::vector<std::pair<std::string, std::string>>;

constexpr std::size_t most_given_bytes = 32u << 20, most_at_once = 1000;

HttpReply refused(int status, const std::string& text) {
  return {status, Json{{"error", {{"text", text}}}}.dump() + "\n"};
}
std::string faults_text(const FormatFaults& faults) {
  Json list = Json::array();
  for (const FormatFault& f : faults) list.push_back({{"place", f.key}, {"text", f.text}});
  return Json{{"error", {{"text", "the input is wrong"}, {"faults", std::move(list)}}}}.dump(
             -1, ' ', false, Json::error_handler_t::replace) +
         "\n";
}
HttpReply refused(const FormatFaults& faults) { return {400, faults_text(faults)}; }
HttpReply reply_of(tl::expected<std::string, FormatFaults> answer, const char* type = "application/json") {
  if (!answer) return refused(answer.error());
  return {200, std::move(*answer), type};
}

// However it is compared, it takes as long.
bool same_secret(std::string_view a, std::string_view b) {
  unsigned differs = a.size() == b.size() ? 0 : 1;
  for (std::size_t i = 0; i < b.size(); ++i)
    differs |= static_cast<unsigned char>(b[i]) ^ static_cast<unsigned char>(i < a.size() ? a[i] : 0);
  return differs == 0;
}

// Texts and numbers of an object; what was there by the same name is replaced.
void put_all(Parameters& parameters, const Json& object, FormatFaults& faults) {
  for (const auto& [key, value] : object.items()) {
    if (value.is_null()) continue;
    if (!value.is_string() && !value.is_number()) {
      faults.push_back({key, "is neither a text nor a number"});
      continue;
    }
    std::string text = value.is_string() ? value.get<std::string>() : value.dump();
    const auto there = std::find_if(parameters.begin(), parameters.end(),
                                    [&key = key](const auto& parameter) { return parameter.first == key; });
    if (there != parameters.end()) there->second = std::move(text);
    else parameters.emplace_back(key, std::move(text));
  }
}

// Of the query, or of the body of a POST.
tl::expected<Parameters, FormatFaults> parameters_of(const HttpRequest& request, bool body_too) {
  auto out = read_query(request.query);
  if (!out) return tl::unexpected(FormatFaults{{"query", out.error()}});
  if (body_too && request.method == "POST") {
    const auto body = parse_json(request.body);
    if (!body) return tl::unexpected(FormatFaults{body.error()});
    if (!body->is_object()) return tl::unexpected(FormatFaults{{"body", "is not an object; expected {…}"}});
    FormatFaults faults;
    put_all(*out, *body, faults);
    if (!faults.empty()) return tl::unexpected(std::move(faults));
  }
  return std::move(*out);
}

// Takes parameters by their keys; those that nobody asked for are faults.
class Taken {
 public:
  explicit Taken(Parameters all) : all_(std::move(all)) { known_.reserve(16); }
  void text(const char* key, std::string& into, bool required = false) {
    known_.push_back(key);
    for (const auto& [k, value] : all_)
      if (k == key) return void(into = value);
    if (required) faults_.push_back({key, "is missing"});
  }
  template <class Number>
  void number(const char* key, Number& into, bool required = false) {
    std::string value;
    text(key, value, required);
    if (value.empty()) return;
    double read = 0;
    const auto [end, error] = std::from_chars(value.data(), value.data() + value.size(), read);
    if (error != std::errc() || end != value.data() + value.size() || !std::isfinite(read))
      return faults_.push_back({key, "“" + value.substr(0, 100) + "” is not a number"});
    if constexpr (std::is_same_v<Number, int>) {
      if (read != std::floor(read) || std::abs(read) > 2e9)
        return faults_.push_back({key, "“" + value.substr(0, 100) + "” is not a whole number"});
      into = static_cast<int>(read);
    } else {
      into = read;
    }
  }
  FormatFaults faults() {
    for (const auto& [k, unused] : all_)
      if (std::find(known_.begin(), known_.end(), k) == known_.end()) {
        const std::string near = nearest_text(k, std::vector<std::string>(known_.begin(), known_.end()));
        faults_.push_back({k.substr(0, 100),
                           "is not known here" + (near.empty() ? std::string() : "; the nearest is “" + near + "”")});
      }
    return std::move(faults_);
  }

 private:
  Parameters all_;
  std::vector<std::string_view> known_;
  FormatFaults faults_;
};

// What the shop's file looks like from outside; its log is beside it while others write.
std::array<qint64, 4> outside_of(const QString& file) {
  const QFileInfo main(file), log(file + QStringLiteral("-wal"));
  return {main.lastModified().toMSecsSinceEpoch(), main.size(),
          log.exists() ? log.lastModified().toMSecsSinceEpoch() : 0, log.exists() ? log.size() : 0};
}

std::string description() {
  QFile file(shipped_folder(QStringLiteral("serve")) + QStringLiteral("/openapi.json"));
  return file.open(QIODevice::ReadOnly) ? file.readAll().toStdString() : std::string();
}

}  // namespace

ConditionService::ConditionService(LoadedShop shop, QString file, std::string token)
    : file_(std::move(file)),
      token_(std::move(token)),
      description_(description()),
      now_(std::make_shared<Snapshot>(std::move(shop))),
      watcher_([this] { watch(); }) {}

ConditionService::~ConditionService() {
  {
    const std::lock_guard lock(mutex_);
    over_ = true;
  }
  wake_.notify_all();
  watcher_.join();
}

std::shared_ptr<ConditionService::Snapshot> ConditionService::snapshot() {
  const std::lock_guard lock(mutex_);
  return now_;
}

void ConditionService::watch() {
  auto seen = outside_of(file_);
  std::unique_lock lock(mutex_);
  while (!wake_.wait_for(lock, std::chrono::milliseconds(500), [this] { return over_; })) {
    lock.unlock();
    if (const auto outside = outside_of(file_); outside != seen) {
      if (auto loaded = load_shop(file_)) {
        seen = outside;
        auto anew = std::make_shared<Snapshot>(std::move(*loaded));
        lock.lock();
        now_ = std::move(anew);
        continue;
      } else {
        // Locked for a moment, say: it is tried again.
        std::cerr << "shop: not read again: " << loaded.error().sentence().toStdString() << "\n";
      }
    }
    lock.lock();
  }
}

bool ConditionService::is_long(const HttpRequest& request) {
  return request.path == "/chart" || request.path == "/shortlist" || request.path == "/resolve/many";
}

HttpReply ConditionService::answer(const HttpRequest& request) {
  try {
    return routed(request);
  } catch (const std::exception& error) {
    std::cerr << request.path << ": " << error.what() << "\n";
    return refused(500, "an internal error; the service goes on");
  }
}

HttpReply ConditionService::routed(const HttpRequest& request) {
  const bool asks = request.method == "GET" || request.method == "POST";
  if (request.path == "/openapi.json") {
    if (request.method == "GET") return {200, description_};
    HttpReply reply = refused(405, "only GET is answered here");
    reply.allow = "GET";
    return reply;
  }
  constexpr std::string_view bearer = "Bearer ";
  if (request.authorization.rfind(bearer, 0) != 0 ||
      !same_secret(std::string_view(request.authorization).substr(bearer.size()), token_))
    return refused(401, "the token is missing or wrong; send the header Authorization: Bearer TOKEN");
  const bool many = request.path == "/resolve/many", posted = many || request.path == "/shortlist";
  if (!posted && request.path != "/resolve" && request.path != "/chart")
    return refused(404,
                   "there is nothing here; there are /resolve, /resolve/many, /chart, /shortlist and /openapi.json");
  if (posted ? request.method != "POST" : !asks) {
    HttpReply reply = refused(405, posted ? "only POST is answered here" : "only GET and POST are answered here");
    reply.allow = posted ? "POST" : "GET, POST";
    return reply;
  }
  const auto now = snapshot();
  if (many) return resolved_many(request, *now);
  if (request.path == "/resolve") return resolved(request, *now);
  auto parameters = parameters_of(request, !posted);
  if (!parameters) return refused(parameters.error());
  Taken taken(std::move(*parameters));
  if (request.path == "/chart") {
    cli::ChartOptions options;
    taken.text("machine", options.machine, true);
    taken.text("operation", options.operation, true);
    taken.text("format", options.format);
    if (FormatFaults faults = taken.faults(); !faults.empty()) return refused(faults);
    return reply_of(cli::chart_answer(now->shop.state, now->resolver, options),
                    options.format == "csv" ? "text/csv; charset=utf-8" : "application/json");
  }
  cli::ShortlistOptions options;
  taken.text("machine", options.machine, true);
  taken.text("material", options.material, true);
  taken.text("tool-material", options.tool_material);
  taken.text("by", options.by);
  if (FormatFaults faults = taken.faults(); !faults.empty()) return refused(faults);
  return reply_of(cli::shortlist_answer(now->shop.state, now->resolver, options, request.body));
}

tl::expected<std::string, FormatFaults> ConditionService::answer_to(Parameters parameters, Snapshot& now) {
  Taken taken(std::move(parameters));
  cli::ResolveOptions options;
  taken.text("library", options.library, true);
  taken.number("number", options.number, true);
  taken.text("material", options.material, true);
  taken.text("machine", options.machine, true);
  taken.text("operation", options.operation, true);
  taken.text("source", options.source);
  taken.text("recipe", options.recipe);
  taken.number("ap", options.ap_mm);
  taken.number("ae", options.ae_mm);
  taken.number("pace", options.pace);
  if (FormatFaults faults = taken.faults(); !faults.empty()) return tl::unexpected(std::move(faults));
  std::unique_ptr<cli::WrittenSteps> steps;
  if (const std::lock_guard lock(now.mutex); !now.steps.empty()) {
    steps = std::move(now.steps.back());
    now.steps.pop_back();
  }
  if (!steps) steps = std::make_unique<cli::WrittenSteps>();
  auto answer = cli::resolve_answer(now.shop.state, now.resolver, options, *steps);
  const std::lock_guard lock(now.mutex);
  now.steps.push_back(std::move(steps));
  return answer;
}

HttpReply ConditionService::resolved(const HttpRequest& request, Snapshot& now) {
  std::string asked = request.method == "POST" ? request.query + "\n" + request.body : request.query;
  {
    const std::lock_guard lock(now.mutex);
    if (const auto given = now.given.find(asked); given != now.given.end()) return {200, given->second};
  }
  auto parameters = parameters_of(request, true);
  if (!parameters) return refused(parameters.error());
  auto answer = answer_to(std::move(*parameters), now);
  if (!answer) return refused(answer.error());
  const std::lock_guard lock(now.mutex);
  if (now.given_bytes > most_given_bytes) now.given.clear(), now.given_bytes = 0;
  now.given_bytes += asked.size() + answer->size();
  now.given.emplace(std::move(asked), *answer);
  return {200, std::move(*answer)};
}

// One wrong question leaves the others their answers.
HttpReply ConditionService::resolved_many(const HttpRequest& request, Snapshot& now) {
  const auto common = parameters_of(request, false);
  if (!common) return refused(common.error());
  const auto questions = parse_json(request.body);
  if (!questions) return refused(FormatFaults{questions.error()});
  if (!questions->is_array()) return refused(FormatFaults{{"body", "is not a list; expected [{…}, …]"}});
  if (questions->size() > most_at_once)
    return refused(FormatFaults{{"body", "has " + std::to_string(questions->size()) + " questions; at most " +
                                             std::to_string(most_at_once) + " are answered"}});
  std::string out = "[";
  constexpr std::size_t usual_answer = 8192;
  out.reserve(questions->size() * usual_answer);
  for (const Json& question : *questions) {
    FormatFaults faults;
    Parameters parameters = *common;
    if (question.is_object()) put_all(parameters, question, faults);
    else faults.push_back({"", "is not an object; expected {…}"});
    auto answer = faults.empty() ? answer_to(std::move(parameters), now) : tl::unexpected(std::move(faults));
    if (out.size() > 1) out += ",\n";
    out += answer ? *answer : faults_text(answer.error());
  }
  return {200, out + "]\n"};
}

}  // namespace pecorra
