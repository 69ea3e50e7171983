// Coverage-guided fuzzing (libFuzzer) of what a shop holds: bodies of every kind, whole files, jobs up to their
// programs, and outlines up to their paths; the environment's PECORRA_FUZZ names which.
#include <sys/mman.h>
#include <unistd.h>

#include <QCoreApplication>
#include <QDir>
#include <QFile>
#include <QTemporaryDir>
#include <algorithm>
#include <cmath>
#include <cstdint>
#include <cstdlib>
#include <cstring>
#include <string>
#include <string_view>

#include "core/cutter/kinds.h"
#include "core/iso/modal_state.h"
#include "core/iso/program_text.h"
#include "core/motion/motion.h"
#include "core/program/program.h"
#include "formats/json/body.h"
#include "formats/json/objects.h"
#include "fuzz_target.h"
#include "shop/demo.h"
#include "shop/dialects.h"
#include "shop/job_file.h"
#include "shop/job_objects.h"
#include "shop/planning.h"
#include "shop/retune_plan.h"
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
  const PlanRequest request = plan_request(demo, read->job);
  const std::string program = program_of(request, plan_job(request, [&](double) { return ++asked < 2000; })).text;
  for (const char* wrong : {"nan", "inf", "S-", "F-"})
    if (program.find(wrong) != std::string::npos) std::abort();
}

// Bytes as outlines, up to the path of every kind of operation: sizes in front, then x, y and bulge of each vertex; a
// vertex with all bits set begins the next outline, which is an island of the first.
void trace(std::string_view input) {
  const auto byte = [&](std::size_t i) { return static_cast<double>(static_cast<unsigned char>(input[i])); };
  constexpr std::size_t head = 8, each = 5;
  if (input.size() < head + 2 * each) return;
  Operation o;
  const auto kind = static_cast<PathKind>(static_cast<std::size_t>(byte(0)) % choices_of<PathKind>().size());
  o.path = kind;
  o.operation = declaration(kind).usual;
  o.where = static_cast<ProfileWhere>(static_cast<int>(byte(1)) % 3);
  o.entry = static_cast<EntryKind>(static_cast<int>(byte(1)) / 3 % 5);
  o.climb = byte(1) < 128;
  // Large enough for a path to be short: time is not what is looked for here.
  const double d = 6 + byte(2) / 8;
  o.cutter = proposed_cutter(declaration(kind).milling ? CutterKind::end_mill : CutterKind::drill, d);
  o.cutter.id = Id{1, 1};
  o.depth_mm = 0.5 + byte(3) / 16;
  o.taken.n_rpm = 3000, o.taken.vf_mm_min = 500, o.taken.plunge_mm_min = 100;
  o.taken.ap_mm = 3 + byte(4) / 16;
  o.taken.ae_mm = d * (0.2 + byte(5) / 320);
  if (byte(6) > 128) o.finish_pass_mm = (byte(6) - 128) / 128;
  if (byte(7) > 128) o.finish_floor_mm = (byte(7) - 128) / 512;
  std::vector<Contour> lines(1);
  for (std::size_t i = head; i + each <= input.size() && lines.size() < 6; i += each) {
    std::int16_t x = 0, y = 0;
    std::memcpy(&x, input.data() + i, 2);
    std::memcpy(&y, input.data() + i + 2, 2);
    if (x == -1 && y == -1) {
      lines.emplace_back();
      continue;
    }
    const double bulge = static_cast<double>(static_cast<signed char>(input[i + 4])) / 64;
    lines.back().vertices.push_back({x / 256.0, y / 256.0, std::abs(bulge) < 0.2 ? 0 : bulge});
    lines.back().closed = true;
  }
  OperationInput from;
  from.stock = {-140, -140, 140, 140};
  from.stock_bottom = -20;
  from.slot_conditions = declaration(kind).full_width != FullWidth::usual;
  from.pockets = {{"p", lines[0], {}, {}}};
  for (std::size_t i = 0; i < lines.size(); ++i) {
    from.lines.push_back({"l" + std::to_string(i), lines[i]});
    if (i > 0) from.pockets[0].islands.push_back({"i" + std::to_string(i), lines[i]});
    for (const Vertex& v : lines[i].vertices) from.holes.push_back({"h", {v.x, v.y}, d, {}, false, {}});
  }
  StockField stock(from.stock, 0, d);
  int asked = 0;
  const PlannedPath made = plan_operation(o, from, stock, [&] { return ++asked > 200000; });
  if (has_error(made.messages) && !made.path.moves.empty()) std::abort();
  for (const Move& m : made.path.moves)
    if (!std::isfinite(m.x + m.y + m.z + m.centre_x + m.centre_y + m.feed_mm_min) || m.feed_mm_min < 0 ||
        m.z < -20.001 || m.z > made.path.safe_z + 1e-6)
      std::abort();
}

// A program: every byte comes back, and modes are followed whatever stands there.
void follow_program(std::string_view text) {
  const ProgramText program = ProgramText::read(std::string(text));
  if (program.print() != text) std::abort();
  ModalState state;
  for (std::size_t block = 0; block < program.size(); ++block) {
    std::size_t length = 0;
    for (const ProgramPiece& piece : program.pieces(block)) {
      length += piece.blanks + piece.length;
      if (const auto value = program.number(piece); value && !std::isfinite(*value)) std::abort();
    }
    if (length != program.line(block).size()) std::abort();
    state.apply(program, block);
  }
  // Retuned: as many lines, each as long at least as without its S and F; and with cutters found, whatever they are.
  const ProgramReading reading = read_program(program, {10000});
  NewConditions usual;
  usual.n_rpm = 2000, usual.vf_mm_min = 500, usual.plunge_mm_min = 150;
  const Retuned done = retune(program, reading, std::vector<NewConditions>(reading.sections.size(), usual), {10000});
  const auto lines = [](std::string_view of) { return std::count(of.begin(), of.end(), '\n'); };
  if (lines(done.text) != lines(text)) std::abort();
  // Nothing is to change: every byte comes back.
  std::vector<NewConditions> none(reading.sections.size());
  if (retune(program, reading, none).text != text) std::abort();
  static const ShopState demo = demo_state();
  static const Resolver resolver(demo.tables.shared(), demo.resolver_options());
  const RetuneRequest request{demo.materials.named("C45")->id, demo.machines.named("Fettler 6")->id, 100, {}};
  if (reading.sections.size() < 20) plan_retune(demo, resolver, program, reading, request);
}

// A dialect: refused, or it writes a program that the block model reads back.
void write_in_dialect(std::string_view text) {
  const auto dialect = read_dialect(std::string(text));
  if (!dialect) return;
  static const ShopState demo = demo_state();
  static PlanRequest request = plan_request(demo, *demo.job(demo.jobs.named("Two holes")->id));
  static const JobPlan plan = plan_job(request);
  request.dialect = *dialect;
  const std::string program = program_of(request, plan).text;
  if (ProgramText::read(program).print() != program) std::abort();
}

}  // namespace

extern "C" int LLVMFuzzerInitialize(int* argc, char*** argv) {
  static QCoreApplication application(*argc, *argv);
  return 0;
}

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
  static const FuzzTarget target = fuzz_target({{"body", read_body},
                                                {"shop", read_shop},
                                                {"path", plan},
                                                {"outline", trace},
                                                {"program", follow_program},
                                                {"dialect", write_in_dialect}});
  target({reinterpret_cast<const char*>(data), size});
  return 0;
}
