#include "shop/retune_file.h"

#include <fmt/format.h>

#include <QCryptographicHash>
#include <QDir>
#include <QFile>
#include <QFileInfo>
#include <QObject>
#include <QRegularExpression>
#include <algorithm>

#include "shop/shop.h"
#include "shop/words.h"
#include "store/write_file.h"

namespace pecorra {

std::string bytes_print(std::string_view bytes) {
  QCryptographicHash hash(QCryptographicHash::Sha256);
  // In pieces: a length is no longer than an int in some versions.
  constexpr std::size_t piece = 1u << 26;
  for (std::size_t at = 0; at < bytes.size(); at += piece)
    hash.addData(QByteArrayView(bytes.data() + at, static_cast<qsizetype>(std::min(piece, bytes.size() - at))));
  return hash.result().toHex().left(32).toStdString();
}

// Files beside a program, by the number that is their name; those with the program's ending first.
static std::multimap<int, QString> numbered_beside(const QFileInfo& program) {
  static const QRegularExpression number(QStringLiteral("^O?0*([0-9]{1,8})$"),
                                         QRegularExpression::CaseInsensitiveOption);
  std::multimap<int, QString> out;
  for (const bool same_ending : {true, false})
    for (const QFileInfo& file : program.absoluteDir().entryInfoList(QDir::Files | QDir::Readable, QDir::Name)) {
      const auto match = number.match(file.completeBaseName());
      const bool same = file.suffix().compare(program.suffix(), Qt::CaseInsensitive) == 0;
      if (match.hasMatch() && same == same_ending && file.absoluteFilePath() != program.absoluteFilePath())
        out.emplace(match.captured(1).toInt(), file.absoluteFilePath());
    }
  return out;
}

void attach_subprograms(ProgramText& text, const QFileInfo& program) {
  constexpr int most_files = 200;
  std::vector<int> missing = missing_subprograms(text);
  if (missing.empty()) return;
  const std::multimap<int, QString> beside = numbered_beside(program);
  std::set<QString> tried;
  qint64 room = longest_program - static_cast<qint64>(text.bytes());  // for all of them
  for (int files = 0; files < most_files && !missing.empty(); missing = missing_subprograms(text)) {
    bool any = false;
    for (const int called : missing)
      // P21000: twice O1000.
      for (const int number : {called, called % 10000}) {
        const auto found = beside.find(number);
        if (found == beside.end() || !tried.insert(found->second).second) continue;
        QFile file(found->second);
        if (file.size() > room || !file.open(QIODevice::ReadOnly)) continue;
        room -= file.size();
        any = text.attach(number, file.readAll().toStdString()) || any;
        ++files;
        break;
      }
    if (!any) return;
  }
}

tl::expected<ForeignProgram, QString> read_program_file(const QString& name) {
  const QFileInfo info(name);
  if (!info.exists()) return tl::unexpected(QObject::tr("There is no file %1").arg(name));
  if (info.isDir()) return tl::unexpected(QObject::tr("%1 is a folder; choose a program in it").arg(name));
  if (!info.isFile()) return tl::unexpected(QObject::tr("%1 is not a regular file").arg(name));
  QFile file(name);
  if (info.size() > longest_program)
    return tl::unexpected(QObject::tr("%1 is larger than 1 GB, the most that can be read").arg(info.fileName()));
  if (!file.open(QIODevice::ReadOnly))
    return tl::unexpected(QObject::tr("%1 cannot be read: %2").arg(name, file.errorString()));
  std::string bytes(static_cast<std::size_t>(info.size()), '\0');
  const qint64 got = file.read(bytes.data(), info.size());
  if (got < 0) return tl::unexpected(QObject::tr("%1 cannot be read: %2").arg(name, file.errorString()));
  bytes.resize(static_cast<std::size_t>(got));
  ForeignProgram out;
  out.file = info.absoluteFilePath();
  out.print = bytes_print(bytes);
  auto text = ProgramText::read(std::move(bytes));
  if (text.empty()) return tl::unexpected(QObject::tr("%1 is empty").arg(info.fileName()));
  attach_subprograms(text, info);
  out.text = std::make_shared<const ProgramText>(std::move(text));
  return out;
}

std::size_t RetunedFile::changed_words() const {
  std::size_t count = 0;
  for (const Retuned::Section& s : done.sections) count += s.changed_words;
  return count;
}

std::string_view RetunedFile::line(std::size_t block) const {
  if (block >= starts.size()) return {};
  const std::size_t end = block + 1 < starts.size() ? starts[block + 1] : done.text.size();
  std::string_view text = std::string_view(done.text).substr(starts[block], end - starts[block]);
  while (!text.empty() && (text.back() == '\n' || text.back() == '\r')) text.remove_suffix(1);
  return text;
}

std::vector<RetunedFile::LeftAlone> RetunedFile::left_alone() const {
  constexpr std::size_t longest_text = 200;
  std::vector<LeftAlone> out;
  for (const NotUnderstood& n : reading->not_understood)
    out.push_back({n.block, std::string(read.text->line(n.block).substr(0, longest_text)), n.why});
  for (const auto& [number, used_by] : done.kept_subprograms) {
    std::string list;
    for (const int t : used_by) list += (list.empty() ? "T" : ", T") + std::to_string(t);
    out.push_back({reading->subprogram_block.at(number), "O" + std::to_string(number),
                   "a subprogram of several tools, " + list + "; its S and F stay"});
  }
  for (const auto& [number, block] : reading->attached)
    out.push_back({block, std::string(read.text->line(block).substr(0, longest_text)),
                   "the subprogram it calls is in a separate file; S and F there stay as they are"});
  return out;
}

bool RetunedFile::has_open_cutters() const {
  return std::any_of(sections.begin(), sections.end(), [](const RetunedSection& s) {
    return !s.found.cutter && s.found.by == FoundBy::nothing && !s.left_out;
  });
}

RetuneRequest request_of(const RetunedProgram& program) {
  RetuneRequest request;
  request.material = program.material;
  request.machine = program.machine;
  request.pace = program.pace.value_or(100);
  request.in_proportion = program.in_proportion;
  request.arc_centres = program.arc_centres;
  request.stock_top_mm = program.stock_top_mm;
  request.tools = program.tools;
  return request;
}

std::shared_ptr<const RetunedFile> retune_file(const ShopState& state, const RetunedProgram& program,
                                               ForeignProgram read, const ReadProgress& go_on,
                                               const std::shared_ptr<const RetunedFile>& again, RetuneParts parts) {
  const Machine* machine = state.machines.find(program.machine);
  if (!machine || !state.materials.find(program.material)) return nullptr;
  bool stopped = false;
  const auto share = [&](double from, double to) -> ReadProgress {
    if (!go_on) return {};
    return [&stopped, &go_on, from, to](double done) {
      stopped = stopped || !go_on(from + (to - from) * done);
      return !stopped;
    };
  };
  auto out = std::make_shared<RetunedFile>();
  out->program = program;
  out->read = std::move(read);
  const ProgramText& before = *out->read.text;
  const Rapid rapid{machine->rapid_mm_min.value_or(0)};
  const bool same = again && again->read.text == out->read.text && again->program.machine == program.machine;
  out->reading =
      same ? again->reading : std::make_shared<const ProgramReading>(read_program(before, rapid, share(0, 0.3)));
  if (stopped) return nullptr;
  const Resolver resolver(state.tables.shared(), state.resolver_options());
  out->sections = plan_retune(state, resolver, before, *out->reading, request_of(program));
  std::vector<NewConditions> conditions;
  for (const RetunedSection& s : out->sections) conditions.push_back(s.conditions);
  out->done = retune(before, *out->reading, conditions, rapid, share(0.3, 0.7));
  if (stopped) return nullptr;
  const std::string& text = out->done.text;
  const std::size_t lines = parts == RetuneParts::text ? 0 : before.size();
  for (std::size_t at = 0, block = 0; at < text.size() && block < lines; ++block) {
    out->starts.push_back(static_cast<std::uint32_t>(at));
    const std::size_t end = text.find('\n', at);
    at = end == std::string::npos ? text.size() : end + 1;
  }
  for (std::size_t block = 0; block < lines; ++block)
    if (out->line(block) != before.line(block)) out->changed_lines.push_back(static_cast<std::uint32_t>(block));
  if (parts == RetuneParts::all) {
    ProgramText after = ProgramText::read(text);
    after.attach_those_of(before);
    out->moves = std::make_shared<const ProgramMoves>(moves_of(before, after, *out->reading, share(0.7, 1)));
  }
  if (stopped) return nullptr;
  std::string ran;
  for (std::size_t i = 0; i < out->sections.size(); ++i) {
    const RetunedSection& s = out->sections[i];
    out->minutes_was += out->reading->sections[i].minutes;
    out->minutes += out->done.sections[i].minutes;
    if (s.conditions.n_rpm)
      ran += fmt::format("{}:{:.6g},{:.6g},{:.6g},{:.6g};", out->reading->sections[i].tool, *s.conditions.n_rpm,
                         s.conditions.vf_mm_min, s.conditions.plunge_mm_min, s.conditions.ramp_mm_min);
  }
  out->print = bytes_print(ran);
  return out;
}

RetunedProgram new_program(const ShopState& state, const ForeignProgram& read, const Id& material, const Id& machine,
                           double pace) {
  RetunedProgram out;
  out.id = new_id();
  out.file = read.file.toStdString();
  out.name = QFileInfo(read.file).fileName().toStdString();
  out.print = read.print;
  out.material = material;
  out.machine = machine;
  if (pace != 100) out.pace = pace;
  const std::string pattern = file_pattern(out.name);
  // The latest counts.
  for (const RetunedProgram& other : state.programs)
    if (other.machine == machine && file_pattern(other.name) == pattern) {
      out.tools = other.tools;
      out.in_proportion = other.in_proportion;
      out.arc_centres = other.arc_centres;
    }
  for (ToolPairing& p : out.tools) p.remembered = true;
  return out;
}

const RetunedProgram* program_for(const ShopState& state, const QString& file) {
  const std::string name = QFileInfo(file).absoluteFilePath().toStdString();
  for (const RetunedProgram& p : state.programs)
    if (p.file == name) return &p;
  return nullptr;
}

ProgramSummary summary_of(const ShopState& state, const RetunedProgram& program, const ReadProgress& go_on) {
  ProgramSummary out;
  auto read = read_program_file(QString::fromStdString(program.file));
  if (!read) return out;
  out.new_version = read->print != program.print;
  if (!state.machines.find(program.machine) || !state.materials.find(program.material)) {
    out.health = ProgramHealth::no_context;
    return out;
  }
  const auto made = retune_file(state, program, std::move(*read), go_on, {}, RetuneParts::text);
  if (!made) return out;
  out.sections = static_cast<int>(made->sections.size());
  out.minutes = made->minutes;
  out.health = made->has_open_cutters()               ? ProgramHealth::open_cutters
               : program.written_print.empty()        ? ProgramHealth::unwritten
               : program.written_print != made->print ? ProgramHealth::moved
                                                      : ProgramHealth::ready;
  return out;
}

static QString put_aside(const QString& name, QString& aside) {
  if (!QFile::exists(name)) return {};
  for (int i = 0; i < 10000; ++i) {
    aside = name + QStringLiteral(".bak") + (i ? QString::number(i + 1) : QString());
    if (QFile::exists(aside)) continue;
    QFile file(name);
    return file.rename(aside) ? QString() : file.errorString();
  }
  return QStringLiteral("there are too many backups beside it");
}

QString put_text(const std::string& text, const QString& out, QString& aside) {
  if (QString fault = put_aside(out, aside); !fault.isEmpty())
    return QObject::tr("The file that is there cannot be renamed: %1").arg(fault);
  QString fault = write_file(out, QByteArray::fromRawData(text.data(), static_cast<qsizetype>(text.size())));
  if (!fault.isEmpty() && !aside.isEmpty()) QFile::rename(aside, out);  // as it was
  return fault;
}

QString write_retuned(const RetunedFile& retuned, const QString& out, QString& aside) {
  QFile now(retuned.read.file);
  if (!now.open(QIODevice::ReadOnly))
    return QObject::tr("The program %1 is no longer there").arg(QFileInfo(retuned.read.file).fileName());
  const QByteArray bytes = now.readAll();
  if (bytes_print({bytes.data(), static_cast<std::size_t>(bytes.size())}) != retuned.read.print)
    return QObject::tr("The program %1 has changed since it was read; reload it first")
        .arg(QFileInfo(retuned.read.file).fileName());
  now.close();
  if (QString fault = fault_of_target(out); !fault.isEmpty()) return fault;
  return put_text(retuned.done.text, out, aside);
}

}  // namespace pecorra
