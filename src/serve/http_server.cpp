#include "serve/http_server.h"

#include <algorithm>
#include <array>
#include <atomic>
#include <boost/asio/executor_work_guard.hpp>
#include <boost/asio/io_context.hpp>
#include <boost/asio/ip/tcp.hpp>
#include <boost/asio/post.hpp>
#include <boost/asio/signal_set.hpp>
#include <boost/asio/ssl.hpp>
#include <boost/asio/thread_pool.hpp>
#include <boost/beast/core.hpp>
#include <boost/beast/http.hpp>
#include <boost/beast/ssl.hpp>
#include <optional>
#include <thread>

namespace pecorra {
namespace {

namespace asio = boost::asio;
namespace beast = boost::beast;
namespace http = beast::http;
using tcp = asio::ip::tcp;
using Error = boost::system::error_code;
// All on one kind of executor: this file compiles in half the time.
using TcpStream = beast::basic_stream<tcp, asio::io_context::executor_type>;

std::string error_body(std::string_view text) { return "{\"error\": {\"text\": \"" + std::string(text) + "\"}}\n"; }

// Runs on a thread of its own; a connection stays with the one it was given to.
struct Loop {
  asio::io_context context{1};
  asio::executor_work_guard<asio::io_context::executor_type> open{context.get_executor()};
};

}  // namespace

struct HttpServer::Private {
  Private(HttpLimits l, Handler h, IsLong i)
      : limits(l),
        handler(std::move(h)),
        is_long(std::move(i)),
        loops(std::clamp(std::thread::hardware_concurrency(), 1u, 4u)) {}

  HttpLimits limits;
  Handler handler;
  IsLong is_long;
  std::optional<asio::ssl::context> tls;
  std::atomic<std::size_t> connections = 0, waiting = 0;
  std::vector<Loop> loops;
  asio::io_context& context = loops.front().context;
  tcp::acceptor acceptor{context};
  asio::steady_timer retry{context};
  asio::signal_set signals{context};
  std::size_t next_loop = 0;
  asio::thread_pool aside{1};

  void accept();
  void stop() {
    for (Loop& loop : loops) loop.context.stop();
  }
};

namespace {

// One connection. `Stream` is a TcpStream, or one with TLS around it.
template <class Stream>
class Session : public std::enable_shared_from_this<Session<Stream>> {
 public:
  template <class... More>
  Session(HttpServer::Private& server, TcpStream::socket_type socket, More&... more)
      : server_(server), stream_(std::move(socket), more...) {
    ++server_.connections;
  }
  ~Session() { --server_.connections; }
  auto executor() { return stream_.get_executor(); }

  void start() {
    if constexpr (has_tls) {
      hurry();
      stream_.async_handshake(asio::ssl::stream_base::server, [self = this->shared_from_this()](Error error) {
        if (!error) self->await();
      });
    } else {
      await();
    }
  }
  // Too many are here already.
  void refuse() {
    keep_ = false;
    parser_.emplace();
    send({503, error_body("too many connections; close some, or keep one open for many requests")});
  }

 private:
  static constexpr bool has_tls = !std::is_same_v<Stream, TcpStream>;

  // What comes after something was read or written: one type for all, as each is compiled by itself.
  struct Next {
    std::shared_ptr<Session> session;
    void (Session::*step)(Error, std::size_t);
    void operator()(Error error, std::size_t bytes) const { (*session.*step)(error, bytes); }
  };
  void read_some(std::size_t most, void (Session::*step)(Error, std::size_t)) {
    stream_.async_read_some(buffer_.prepare(most), Next{this->shared_from_this(), step});
  }

  // The next request may take its time to begin, but then has to come whole.
  void await() {
    parser_.emplace();
    parser_->header_limit(static_cast<std::uint32_t>(server_.limits.header_bytes));
    parser_->body_limit(server_.limits.body_bytes);
    if (buffer_.size() > 0) return read();
    let_idle();
    read_some(4096, &Session::begun);
  }
  void begun(Error error, std::size_t bytes) {
    if (error) return close();
    buffer_.commit(bytes);
    read();
  }

  void read() {
    // Most are here whole.
    Error error;
    parser_->eager(true);
    buffer_.consume(parser_->put(buffer_.data(), error));
    if (error != http::error::need_more && (error || parser_->is_done())) return take(error);
    if (!in_parts_) hurry();
    in_parts_ = true;
    read_some(65536, &Session::more);
  }
  void more(Error error, std::size_t bytes) {
    if (error == asio::error::eof && parser_->got_some()) {
      error = {};
      parser_->put_eof(error);
    }
    if (error) return take(error);
    buffer_.commit(bytes);
    read();
  }

  void take(Error error) {
    in_parts_ = false;
    if (!error) return answer();
    keep_ = false;
    unread_ = true;
    if (error == http::error::body_limit) send({413, error_body("the body is too long")});
    else if (error == http::error::header_limit || error == http::error::buffer_overflow)
      send({431, error_body("the header is too long")});
    else if (error == asio::error::eof || error == beast::error::timeout || error == asio::error::operation_aborted ||
             error == asio::error::connection_reset)
      close();
    else send({400, error_body("not an HTTP request")});
  }

  void answer() {
    const auto& message = parser_->get();
    keep_ = message.keep_alive();
    HttpRequest request;
    request.method = std::string(message.method_string());
    const std::string_view target(message.target().data(), message.target().size());
    const std::size_t mark = target.find('?');
    request.path = std::string(target.substr(0, mark));
    if (mark != std::string_view::npos) request.query = std::string(target.substr(mark + 1));
    request.authorization = std::string(message[http::field::authorization]);
    request.body = std::move(parser_->get().body());
    if (!server_.is_long || !server_.is_long(request)) return send(server_.handler(request));
    if (server_.waiting.fetch_add(1) >= server_.limits.waiting) {
      --server_.waiting;
      return send({503, error_body("too many long answers are being worked out; ask again later")});
    }
    idle_since_ = {};
    beast::get_lowest_layer(stream_).expires_never();
    asio::post(server_.aside, [self = this->shared_from_this(), request = std::move(request)] {
      HttpReply reply = self->server_.handler(request);
      // The session is let go on its own thread.
      asio::post(self->stream_.get_executor(), [self, reply = std::move(reply)] {
        --self->server_.waiting;
        self->send(reply);
      });
    });
  }

  void send(const HttpReply& reply) {
    http::response_header<> head;
    head.set(http::field::content_type, reply.type);
    head.set(http::field::cache_control, "no-store");
    if (!reply.allow.empty()) head.set(http::field::allow, reply.allow);
    if (reply.status == 401) head.set(http::field::www_authenticate, "Bearer");
    if (!keep_) head.set(http::field::connection, "close");
    head.set(http::field::content_length, std::to_string(reply.body.size()));
    reply_.clear();
    http::fields::writer lines(head, 11, static_cast<unsigned>(reply.status));
    for (const asio::const_buffer part : beast::buffers_range(lines.get()))
      reply_.append(static_cast<const char*>(part.data()), part.size());
    reply_ += reply.body;
    const asio::const_buffer whole = asio::buffer(reply_);
    std::size_t done = 0;
    if constexpr (!has_tls) {
      // Most replies fit what the system takes at once.
      Error error;
      while (!error && done < whole.size()) done += stream_.socket().write_some(whole + done, error);
      if (error != asio::error::would_block) return sent(error, done);
    }
    hurry();
    asio::async_write(stream_, whole + done, Next{this->shared_from_this(), &Session::sent});
  }

  void sent(Error error, std::size_t) {
    if (error) return close();
    if (!keep_) {
      close();
      if (unread_) drain();
    } else if (buffer_.size() > 0) {
      // Not from here: very many may have been sent at once.
      asio::post(stream_.get_executor(), [self = this->shared_from_this()] { self->await(); });
    } else {
      await();
    }
  }

  // A limit of a minute is not set anew for every request of a second.
  void let_idle() {
    const auto now = std::chrono::steady_clock::now();
    if (now - idle_since_ < std::chrono::seconds(1)) return;
    idle_since_ = now;
    beast::get_lowest_layer(stream_).expires_after(server_.limits.idle);
  }
  void hurry() {
    idle_since_ = {};
    beast::get_lowest_layer(stream_).expires_after(server_.limits.request);
  }

  // The rest of what was refused is read for a while: a sender that is still sending would not see the answer.
  void drain() {
    constexpr std::size_t most = 64u << 20;
    buffer_.clear();
    if (drained_ > most) return;
    hurry();
    read_some(65536, &Session::drained);
  }
  void drained(Error error, std::size_t bytes) {
    drained_ += bytes;
    if (!error) drain();
  }

  void close() {
    Error ignored;
    beast::get_lowest_layer(stream_).socket().shutdown(tcp::socket::shutdown_send, ignored);
  }

  HttpServer::Private& server_;
  Stream stream_;
  beast::flat_buffer buffer_;
  std::optional<http::request_parser<http::string_body>> parser_;
  std::string reply_;
  std::chrono::steady_clock::time_point idle_since_{};
  bool keep_ = true, unread_ = false, in_parts_ = false;
  std::size_t drained_ = 0;
};

}  // namespace

void HttpServer::Private::accept() {
  asio::io_context& its_own = loops[next_loop].context;
  next_loop = (next_loop + 1) % loops.size();
  acceptor.async_accept(its_own, [this](Error error, TcpStream::socket_type socket) {
    if (error == asio::error::operation_aborted) return;
    if (error) {
      // No more files may be open, say: others have to close first.
      retry.expires_after(std::chrono::milliseconds(100));
      retry.async_wait([this](Error stopped) {
        if (!stopped) accept();
      });
      return;
    }
    Error ignored;
    socket.set_option(tcp::no_delay(true), ignored);
    socket.non_blocking(true, ignored);
    const bool full = connections >= limits.connections;
    const auto begin = [full](auto session) {
      const auto executor = session->executor();
      asio::post(executor, [full, session = std::move(session)] { full ? session->refuse() : session->start(); });
    };
    if (tls) {
      if (!full) begin(std::make_shared<Session<beast::ssl_stream<TcpStream>>>(*this, std::move(socket), *tls));
    } else {
      begin(std::make_shared<Session<TcpStream>>(*this, std::move(socket)));
    }
    accept();
  });
}

HttpServer::HttpServer(std::unique_ptr<Private> p) : p_(std::move(p)) {}
HttpServer::~HttpServer() {
  p_->aside.join();
  p_->stop();
}

tl::expected<std::unique_ptr<HttpServer>, std::string> HttpServer::open(const HttpAddress& where,
                                                                        const HttpLimits& limits, Handler handler,
                                                                        IsLong is_long) {
  auto p = std::make_unique<Private>(limits, std::move(handler), std::move(is_long));
  Error error;
  const auto address = asio::ip::make_address(where.address, error);
  if (error) return tl::unexpected("“" + where.address + "” is no address; expected 127.0.0.1, ::1 or another");
  if (!where.certificate.empty()) {
    p->tls.emplace(asio::ssl::context::tls_server);
    p->tls->set_options(asio::ssl::context::default_workarounds | asio::ssl::context::no_tlsv1 |
                        asio::ssl::context::no_tlsv1_1);
    p->tls->use_certificate_chain_file(where.certificate, error);
    if (error) return tl::unexpected("the certificate " + where.certificate + " cannot be used: " + error.message());
    p->tls->use_private_key_file(where.key, asio::ssl::context::pem, error);
    if (error) return tl::unexpected("the key " + where.key + " cannot be used: " + error.message());
  }
  const tcp::endpoint endpoint(address, where.port);
  p->acceptor.open(endpoint.protocol(), error);
  if (!error) p->acceptor.set_option(asio::socket_base::reuse_address(true), error);
  if (!error) p->acceptor.bind(endpoint, error);
  if (!error) p->acceptor.listen(asio::socket_base::max_listen_connections, error);
  if (error)
    return tl::unexpected(where.address + ":" + std::to_string(where.port) +
                          " cannot be listened on: " + error.message());
  p->accept();
  return std::unique_ptr<HttpServer>(new HttpServer(std::move(p)));
}

unsigned short HttpServer::port() const { return p_->acceptor.local_endpoint().port(); }
void HttpServer::run() {
  std::vector<std::thread> others;
  for (std::size_t i = 1; i < p_->loops.size(); ++i) others.emplace_back([this, i] { p_->loops[i].context.run(); });
  p_->context.run();
  p_->stop();
  for (std::thread& other : others) other.join();
}
void HttpServer::stop_on_signals() {
  p_->signals.add(SIGINT);
  p_->signals.add(SIGTERM);
  p_->signals.async_wait([this](Error error, int) {
    if (!error) p_->stop();
  });
}

bool is_loopback(std::string_view address) {
  Error error;
  const auto read = asio::ip::make_address(std::string(address), error);
  return !error && read.is_loopback();
}

tl::expected<std::vector<std::pair<std::string, std::string>>, std::string> read_query(std::string_view query) {
  const auto decoded = [](std::string_view text) -> std::optional<std::string> {
    if (std::none_of(text.begin(), text.end(), [](char c) { return c == '+' || c == '%'; })) return std::string(text);
    std::string out;
    for (std::size_t i = 0; i < text.size(); ++i) {
      if (text[i] == '+') {
        out += ' ';
      } else if (text[i] != '%') {
        out += text[i];
      } else {
        int value = 0;
        for (std::size_t k = 1; k <= 2; ++k) {
          const char c = i + k < text.size() ? text[i + k] : ' ';
          const int digit = c >= '0' && c <= '9'   ? c - '0'
                            : c >= 'a' && c <= 'f' ? c - 'a' + 10
                            : c >= 'A' && c <= 'F' ? c - 'A' + 10
                                                   : -1;
          if (digit < 0) return std::nullopt;
          value = value * 16 + digit;
        }
        out += static_cast<char>(value);
        i += 2;
      }
    }
    return out;
  };
  std::vector<std::pair<std::string, std::string>> out;
  out.reserve(12);
  while (!query.empty()) {
    const std::string_view part = query.substr(0, query.find('&'));
    query.remove_prefix(std::min(query.size(), part.size() + 1));
    if (part.empty()) continue;
    const std::size_t equal = part.find('=');
    auto key = decoded(part.substr(0, equal));
    auto value = equal == std::string_view::npos ? std::string() : decoded(part.substr(equal + 1));
    if (!key || !value) return tl::unexpected("“" + std::string(part) + "” has a malformed % escape");
    for (const auto& [known, unused] : out)
      if (known == *key) return tl::unexpected("“" + *key + "” stands twice");
    out.emplace_back(std::move(*key), std::move(*value));
  }
  return out;
}

}  // namespace pecorra
