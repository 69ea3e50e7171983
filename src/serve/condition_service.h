// Conditions, chart and shortlist of a shop over HTTP, for scripts of other programs: the same answers as on the
// command line. Read-only; a shop that changes meanwhile is read again.
#pragma once

#include <condition_variable>
#include <memory>
#include <mutex>
#include <string>
#include <thread>
#include <unordered_map>

#include "cli/answers.h"
#include "serve/http_server.h"
#include "shop/shop.h"

namespace pecorra {

class ConditionService {
 public:
  // `token`: what every request but that for the description has to bring.
  ConditionService(LoadedShop shop, QString file, std::string token);
  ~ConditionService();

  // Safe from several threads.
  HttpReply answer(const HttpRequest& request);
  static bool is_long(const HttpRequest& request);

 private:
  // A shop as it was once, with the answers already given from it.
  struct Snapshot {
    explicit Snapshot(LoadedShop loaded)
        : shop(std::move(loaded)), resolver(shop.state.tables.shared(), shop.state.resolver_options()) {}
    LoadedShop shop;
    Resolver resolver;
    std::mutex mutex;
    std::vector<std::unique_ptr<cli::WrittenSteps>> steps;  // those that no thread is using
    std::unordered_map<std::string, std::string> given;
    std::size_t given_bytes = 0;
  };
  std::shared_ptr<Snapshot> snapshot();
  HttpReply routed(const HttpRequest& request);
  using Parameters = std::vector<std::pair<std::string, std::string>>;
  static tl::expected<std::string, FormatFaults> answer_to(Parameters parameters, Snapshot& now);
  static HttpReply resolved(const HttpRequest& request, Snapshot& now);
  static HttpReply resolved_many(const HttpRequest& request, Snapshot& now);
  void watch();

  const QString file_;
  const std::string token_, description_;
  std::mutex mutex_;
  std::condition_variable wake_;
  bool over_ = false;
  std::shared_ptr<Snapshot> now_;
  std::thread watcher_;
};

}  // namespace pecorra
