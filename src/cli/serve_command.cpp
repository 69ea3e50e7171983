// Conditions for scripts of other programs, over HTTP.
#include <sys/stat.h>

#include <QFile>
#include <QRandomGenerator>
#include <iostream>

#include "cli/lookup.h"
#include "serve/condition_service.h"

namespace pecorra::cli {
namespace {

constexpr std::size_t shortest_token = 16, longest_token = 1024;

std::string made_token() {
  std::array<quint32, 8> words{};
  QRandomGenerator::system()->fillRange(words.data(), static_cast<qsizetype>(words.size()));
  std::string out;
  for (const quint32 word : words) out += QString::number(word, 16).rightJustified(8, QLatin1Char('0')).toStdString();
  return out;
}

// Of the file, which is made for its owner alone where there is none.
std::optional<std::string> token_in(const std::string& name, FormatFaults& faults) {
  const auto wrong = [&](const std::string& text) {
    faults.push_back({"token-file", text});
    return std::nullopt;
  };
  QFile file(QString::fromStdString(name));
  if (file.exists()) {
    if (!file.open(QIODevice::ReadOnly)) return wrong("cannot be read: " + file.errorString().toStdString());
    const std::string token = file.read(longest_token + 2).trimmed().toStdString();
    if (token.size() < shortest_token || token.size() > longest_token)
      return wrong("has " + std::to_string(token.size()) + " characters; a token has between 16 and 1024");
    if (std::any_of(token.begin(), token.end(), [](char c) { return c <= ' ' || c > '~'; }))
      return wrong("has more than one word, or characters beyond ASCII; expected one token");
    if (file.permissions() & (QFile::ReadGroup | QFile::ReadOther))
      std::cerr << "token-file: others can read it; chmod 600 " << name << "\n";
    return token;
  }
  const mode_t before = ::umask(0077);
  const bool made = file.open(QIODevice::WriteOnly | QIODevice::NewOnly);
  ::umask(before);
  const std::string token = made_token();
  if (!made || file.write((token + "\n").c_str()) < 0 || !file.flush())
    return wrong("cannot be made: " + file.errorString().toStdString());
  return token;
}

}  // namespace

int serve(const ServeOptions& options) {
  auto loaded = load_shop(QString::fromStdString(options.shop));
  if (!loaded) return say(loaded.error());
  FormatFaults faults;
  const bool tls = !options.certificate.empty() && !options.key.empty();
  if (options.certificate.empty() != options.key.empty())
    faults.push_back({options.key.empty() ? "key" : "certificate", "is missing; TLS needs both"});
  else if (!is_loopback(options.address) && !tls)
    faults.push_back({"address", "“" + options.address +
                                     "” can be reached from other machines: give --certificate and --key for TLS, or "
                                     "leave it at 127.0.0.1"});
  if (options.port < 0 || options.port > 65535) faults.push_back({"port", "must be between 0 (any) and 65535"});
  if (!faults.empty()) return say(faults);
  std::string token;
  if (options.token_file.empty()) token = made_token();
  else if (auto read = token_in(options.token_file, faults)) token = std::move(*read);
  if (!faults.empty()) return say(faults);

  ConditionService service(std::move(*loaded), QString::fromStdString(options.shop), token);
  const HttpAddress where{options.address, static_cast<unsigned short>(options.port), options.certificate, options.key};
  auto server = HttpServer::open(
      where, {}, [&](const HttpRequest& request) { return service.answer(request); }, ConditionService::is_long);
  if (!server) return say(FormatFaults{{"serve", server.error()}});
  const std::string host =
      options.address.find(':') == std::string::npos ? options.address : "[" + options.address + "]";
  Json said{{"url", (tls ? "https://" : "http://") + host + ":" + std::to_string((*server)->port())}};
  if (options.token_file.empty()) said["token"] = token;
  else said["token_file"] = options.token_file;
  (*server)->stop_on_signals();
  std::cout << said.dump() << std::endl;
  (*server)->run();
  return answered;
}

}  // namespace pecorra::cli
