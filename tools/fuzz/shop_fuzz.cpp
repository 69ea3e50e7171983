// Coverage-guided fuzzing (libFuzzer) of what a shop holds: bodies of every kind, whole files, and jobs up to their
// programs; the environment's PECORRA_FUZZ names which.
#include <sys/mman.h>
#include <unistd.h>

#include <QCoreApplication>
#include <QDir>
#include <QFile>
#include <QTemporaryDir>
#include <cstdint>
#include <cstdlib>
#include <cstring>
#include <string>
#include <string_view>

#include "core/motion/motion.h"
#include "core/program/program.h"
#include "formats/json/body.h"
#include "formats/json/objects.h"
#include "fuzz_target.h"
#include "shop/demo.h"
#include "shop/job_file.h"
#include "shop/job_objects.h"
#include "shop/planning.h"
#include "shop/shop.h"

using namespace pecorra;

namespace {

// What is read whole is written so that it is read again, and says the same.
void read_body(std::string_view text) {
  if (text.empty()) return;
  const auto kind = static_cast<ObjectKind>(static_cast<unsigned char>(text[0]) % object_kind_count);
  text.remove_prefix(1);
  ShopState none;
  none.visit(kind, [&](const auto& collection) {
    using T = std::remove_cvref_t<decltype(collection.all()[0])>;
    FormatFaults faults;
    const auto object = object_from_body<T>(text, faults);
    if (!object || !faults.empty()) return;
    const std::string written = body_of(*object);
    const auto again = object_from_body<T>(written, faults);
    if (!again || !faults.empty() || body_of(*again) != written) std::abort();
  });
}

// A small shop whose bytes are changed: place and length of each change in front of its bytes. Or a whole file.
void read_shop(std::string_view input) {
  static const QTemporaryDir folder(QStringLiteral("/dev/shm/fuzz-XXXXXX"));
  static const QByteArray small = [] {
    ShopState state = new_shop_state("Small");
    const ShopState demo = demo_state();
    for (std::size_t i = 0; i < 5; ++i) state.cutters.put(demo.cutters[i]);
    for (const Library& l : demo.libraries) state.libraries.put(l);
    put_job(state, *demo.job(demo.jobs[0].id));
    const QString file = folder.filePath(QStringLiteral("small.pecorra"));
    if (!write_shop(state, file, QStringLiteral("made"))) std::abort();
    QFile in(file);
    if (!in.open(QIODevice::ReadOnly)) std::abort();
    return in.readAll();
  }();
  QByteArray bytes = small;
  if (input.starts_with("SQLite format 3")) bytes = QByteArray(input.data(), static_cast<qsizetype>(input.size()));
  else
    while (input.size() >= 4) {
      std::uint32_t place = 0;
      std::memcpy(&place, input.data(), 3);
      const auto length = std::min<std::size_t>(static_cast<unsigned char>(input[3]) % 32 + 1, input.size() - 4);
      place %= static_cast<std::uint32_t>(bytes.size());
      for (std::size_t i = 0; i < length; ++i)
        bytes[static_cast<qsizetype>((place + i) % static_cast<std::size_t>(bytes.size()))] = input[4 + i];
      input.remove_prefix(4 + length);
    }
  for (const QString& left : QDir(folder.path()).entryList({QStringLiteral("f.pecorra*")}, QDir::Files))
    QFile::remove(folder.filePath(left));
  const QString file = folder.filePath(QStringLiteral("f.pecorra"));
  QFile out(file);
  if (!out.open(QIODevice::WriteOnly) || out.write(bytes) != bytes.size()) return;
  out.close();
  load_shop(file);
}

// A job file, up to its program.
void plan(std::string_view text) {
  static const ShopState demo = demo_state();
  static const Resolver resolver(demo.tables.shared(), demo.resolver_options());
  const auto read = read_job_file(demo, resolver, text, QStringLiteral("/nowhere"));
  if (!read) return;
  int asked = 0;
  const JobPlan planned = plan_job(plan_request(demo, read->job), [&](double) { return ++asked < 2000; });
  for (const char* wrong : {"nan", "inf", "S-", "F-"})
    if (planned.program.find(wrong) != std::string::npos) std::abort();
}

}  // namespace

extern "C" int LLVMFuzzerInitialize(int* argc, char*** argv) {
  static QCoreApplication application(*argc, *argv);
  return 0;
}

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
  static const FuzzTarget target = fuzz_target({{"body", read_body}, {"shop", read_shop}, {"path", plan}});
  target({reinterpret_cast<const char*>(data), size});
  return 0;
}
