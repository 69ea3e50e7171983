#include "shop/retune_folder.h"

#include <QDateTime>
#include <QDir>
#include <QFileInfo>
#include <QObject>
#include <QRegularExpression>

namespace pecorra {

const QStringList& program_endings() {
  static const QStringList endings = [] {
    QStringList out;
    for (const char* ending : {"nc", "tap", "ngc", "gcode", "cnc", "txt", "iso", "eia", "min", "mpf"})
      out << QStringLiteral("*.%1").arg(QLatin1String(ending));
    return out;
  }();
  return endings;
}

QStringList programs_in(const QString& folder) {
  static const QRegularExpression numbered(QStringLiteral("^O[0-9]+$"), QRegularExpression::CaseInsensitiveOption);
  QStringList out;
  for (const QFileInfo& file : QDir(folder).entryInfoList(QDir::Files | QDir::Readable, QDir::Name))
    // Names are matched whatever their case.
    if (QDir::match(program_endings(), file.fileName()) || numbered.match(file.fileName()).hasMatch())
      out << file.absoluteFilePath();
  return out;
}

QString fault_of_folders(const QString& from, const QString& to) {
  for (const QString& folder : {from, to}) {
    if (!QFileInfo::exists(folder)) return QObject::tr("There is no folder %1").arg(folder);
    if (!QFileInfo(folder).isDir()) return QObject::tr("%1 is not a folder").arg(folder);
  }
  if (QFileInfo(from).canonicalFilePath() == QFileInfo(to).canonicalFilePath())
    return QObject::tr("Choose an output folder other than %1").arg(from);
  return {};
}

FolderLine retune_into(const ShopState& state, const QString& file, const FolderWish& wish, const ReadProgress& go_on) {
  FolderLine line;
  line.file = file;
  auto read = read_program_file(file);
  if (!read) return line.fault = read.error(), line;
  const RetunedProgram* kept = program_for(state, file);
  RetunedProgram program = kept ? *kept : new_program(state, *read, wish.material, wish.machine, wish.pace);
  if (!kept) {
    program.in_proportion = program.in_proportion || wish.in_proportion;
    program.arc_centres = program.arc_centres || wish.arc_centres;
    for (const ToolPairing& p : wish.tools)
      if (p.t) program.pairing_for(*p.t, p.part) = p;
  }
  line.made = retune_file(state, program, std::move(*read), go_on, {}, RetuneParts::text);
  if (!line.made) {
    const bool context = state.materials.find(program.material) && state.machines.find(program.machine);
    return line.fault = context ? QObject::tr("Cancelled") : QObject::tr("Its material or machine is not in this shop"),
           line;
  }
  if (wish.to.isEmpty()) return line;
  if (wish.whole_only && line.made->has_open_cutters())
    return line.fault = QObject::tr("Some tools have no cutter; open the program and assign them"), line;
  line.out = QDir(wish.to).filePath(QFileInfo(file).fileName());
  line.fault = write_retuned(*line.made, line.out, line.aside);
  return line;
}

FolderWatch::Seen FolderWatch::now(const QString& file) {
  const QFileInfo info(file);
  return {info.size(), info.lastModified().toMSecsSinceEpoch(), false, false};
}

QStringList FolderWatch::due() {
  QStringList out;
  std::map<QString, Seen> seen;
  for (const QString& file : programs_in(from_)) {
    Seen state = now(file);
    const auto before = seen_.find(file);
    const bool rests = before != seen_.end() && before->second.size == state.size && before->second.time == state.time;
    state.done = rests && before->second.done;
    state.changed = before != seen_.end() && (!rests || before->second.changed);
    const QFileInfo written(QDir(to_).filePath(QFileInfo(file).fileName()));
    const bool newer = !written.exists() || written.lastModified().toMSecsSinceEpoch() < state.time;
    if (rests && !state.done && (newer || state.changed)) out << file;
    seen[file] = state;
  }
  seen_ = std::move(seen);
  return out;
}

void FolderWatch::done(const QString& file) {
  if (const auto found = seen_.find(file); found != seen_.end()) found->second.done = true;
}

}  // namespace pecorra
