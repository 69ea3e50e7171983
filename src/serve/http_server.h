// A small HTTP/1.1 server with bounds on everything a sender can send, on Boost.Beast. It knows nothing of what it
// answers.
#pragma once

#include <chrono>
#include <functional>
#include <memory>
#include <string>
#include <string_view>
#include <tl/expected.hpp>

namespace pecorra {

struct HttpRequest {
  std::string method;  // upper case
  std::string path;    // without the query
  std::string query;   // behind the question mark, as sent
  std::string authorization;
  std::string body;
};
struct HttpReply {
  int status = 200;
  std::string body;
  std::string type = "application/json";
  std::string allow{};  // of 405
};

struct HttpLimits {
  std::size_t header_bytes = 8192, body_bytes = 1u << 20;
  std::size_t connections = 256;               // more are told so and closed
  std::chrono::seconds request{10}, idle{60};  // for a whole request; between two
  std::size_t waiting = 64;                    // long answers that wait for their turn; more are refused
};

struct HttpAddress {
  std::string address = "127.0.0.1";
  unsigned short port = 0;       // 0: any that is free
  std::string certificate, key;  // files, PEM; with both it is TLS
};

// Answers on the thread that runs it and, where the machine has more, on up to three others: the handler has to be safe
// from several. What takes long is marked by `is_long` and answered on a thread of its own.
class HttpServer {
 public:
  using Handler = std::function<HttpReply(const HttpRequest&)>;
  using IsLong = std::function<bool(const HttpRequest&)>;

  // Binds; the fault says what is wrong with the address, the port or the certificate.
  static tl::expected<std::unique_ptr<HttpServer>, std::string> open(const HttpAddress& address,
                                                                     const HttpLimits& limits, Handler handler,
                                                                     IsLong is_long = {});
  ~HttpServer();
  unsigned short port() const;
  void run();  // until SIGINT or SIGTERM where these are watched
  void stop_on_signals();

  struct Private;  // defined beside its functions

 private:
  explicit HttpServer(std::unique_ptr<Private> p);
  std::unique_ptr<Private> p_;
};

// Whether this is an address that only this machine reaches.
bool is_loopback(std::string_view address);
// "a=1&b=x%20y" by keys, decoded. Nothing where an escape is malformed or a key stands twice.
tl::expected<std::vector<std::pair<std::string, std::string>>, std::string> read_query(std::string_view query);

}  // namespace pecorra
