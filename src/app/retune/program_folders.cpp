#include "app/retune/program_folders.h"

#include <QDir>
#include <QFileInfo>
#include <QHBoxLayout>
#include <QPushButton>
#include <QSettings>

#include "app/look/look.h"
#include "shop/words.h"

namespace pecorra {
namespace {

constexpr int every_ms = 1000;

QString name_of(const QString& file) { return QFileInfo(file).fileName(); }

// "A.NC: why", of the first few.
QString faults_text(const std::vector<FolderLine>& lines) {
  constexpr qsizetype most = 3;
  QStringList faults;
  for (const FolderLine& line : lines)
    if (!line.fault.isEmpty()) faults << QStringLiteral("%1: %2").arg(name_of(line.file), line.fault);
  const qsizetype count = faults.size();
  QString out = faults.mid(0, most).join(QStringLiteral("; "));
  if (count > most) out += QStringLiteral("; ") + QObject::tr("and %1 more").arg(count - most);
  return out;
}

}  // namespace

ProgramFolders::ProgramFolders(Workspace& workspace, QWidget* parent)
    : QWidget(parent), workspace_(workspace), text_(new QLabel), timer_(new QTimer(this)) {
  auto* row = new QHBoxLayout(this);
  row->setContentsMargins(0, 0, 0, 0);
  row->setSpacing(8);
  text_->setWordWrap(true);
  text_->setObjectName(QStringLiteral("watched_folder"));
  row->addWidget(text_, 1);
  auto* stop = new QPushButton(tr("Stop watching"));
  stop->setObjectName(QStringLiteral("stop_watching"));
  row->addWidget(stop);
  timer_->setInterval(every_ms);
  connect(timer_, &QTimer::timeout, this, &ProgramFolders::look);
  connect(stop, &QPushButton::clicked, this, &ProgramFolders::stop_watching);
  connect(&workspace_, &Workspace::data_changed, this, &ProgramFolders::show_watch);
  start();
}

void ProgramFolders::open_folder(const QString& folder) {
  struct Read {
    qsizetype files = 0;
    std::vector<ForeignProgram> programs;
    std::vector<FolderLine> faults;
  };
  task_ = workspace_.tasks().run(
      this, tr("Reading the programs in %1").arg(QDir(folder).dirName()),
      [folder](Task& task) {
        const QStringList files = programs_in(folder);
        Read out;
        out.files = files.size();
        for (qsizetype i = 0; i < files.size(); ++i) {
          if (!task.report(static_cast<double>(i) / static_cast<double>(files.size()))) break;
          auto read = read_program_file(files[i]);
          if (!read) {
            out.faults.push_back({files[i], {}, {}, read.error(), {}});
            continue;
          }
          read->text.reset();  // what is in it is read again when it is needed
          out.programs.push_back(std::move(*read));
        }
        return out;
      },
      [this, folder](const Read& read) {
        task_.reset();
        if (read.files == 0)
          return emit said(tr("No programs in %1; files ending in %2 are read")
                               .arg(folder, program_endings().join(QLatin1Char(' '))),
                           true);
        Change change;
        change.label = tr("Programs in %1").arg(QDir(folder).dirName());
        int fresh = 0;
        for (const ForeignProgram& p : read.programs)
          if (!program_for(workspace_.state(), p.file)) {
            change.add(new_program(workspace_.state(), p, workspace_.shown_material(), workspace_.shown_machine(),
                                   workspace_.shown_pace()));
            ++fresh;
          }
        if (!change.empty()) workspace_.shop().apply(std::move(change));
        const QString done = tr("Programs opened: %1, new: %2").arg(read.programs.size()).arg(fresh);
        emit said(read.faults.empty() ? done : done + QStringLiteral("; ") + faults_text(read.faults),
                  !read.faults.empty());
      });
}

void ProgramFolders::write_all(const QString& to) {
  const ShopState& state = workspace_.state();
  if (state.programs.empty()) return emit said(tr("No programs to write; open some first"), true);
  FolderWish asked;
  asked.to = to;
  asked.whole_only = true;
  task_ = workspace_.tasks().run(
      this, tr("Writing programs to %1").arg(QDir(to).dirName()),
      [state, asked](Task& task) {
        std::vector<FolderLine> lines;
        const auto all = static_cast<double>(state.programs.size());
        for (const RetunedProgram& p : state.programs) {
          const auto before = static_cast<double>(lines.size());
          if (!task.report(before / all)) break;
          const QString file = text_of(p.file);
          if (QString fault = fault_of_folders(QFileInfo(file).absolutePath(), asked.to); !fault.isEmpty()) {
            lines.push_back({file, {}, {}, std::move(fault), {}});
            continue;
          }
          lines.push_back(
              retune_into(state, file, asked, [&](double done) { return task.report((before + done) / all); }));
        }
        return lines;
      },
      [this, to](const std::vector<FolderLine>& lines) {
        task_.reset();
        Change change;
        change.label = tr("Programs written to %1").arg(QDir(to).dirName());
        int written = 0;
        for (const FolderLine& line : lines) {
          if (!line.is_written()) continue;
          ++written;
          const RetunedProgram* before = workspace_.state().programs.find(line.made->program.id);
          if (!before) continue;
          RetunedProgram after = *before;
          after.print = line.made->read.print;
          after.written = QFileInfo(line.out).absoluteFilePath().toStdString();
          after.written_print = line.made->print;
          change.edit(*before, after);
        }
        if (!change.empty()) workspace_.shop().apply(std::move(change));
        const QString done = tr("Programs written to %1: %2").arg(to).arg(written);
        const QString faults = faults_text(lines);
        emit said(faults.isEmpty() ? done : done + QStringLiteral("; ") + tr("not written: %1").arg(faults),
                  !faults.isEmpty());
      });
}

void ProgramFolders::watch(const QString& from, const QString& to) {
  task_ = workspace_.tasks().run(
      this, QString(), [from, to](Task&) { return fault_of_folders(from, to); },
      [this, from, to](const QString& fault) {
        task_.reset();
        if (!fault.isEmpty()) return emit said(fault, true);
        QSettings settings;
        settings.beginGroup(QStringLiteral("watched_folder"));
        settings.setValue(QStringLiteral("from"), QFileInfo(from).absoluteFilePath());
        settings.setValue(QStringLiteral("to"), QFileInfo(to).absoluteFilePath());
        settings.setValue(QStringLiteral("material"), text_of(workspace_.shown_material().text()));
        settings.setValue(QStringLiteral("machine"), text_of(workspace_.shown_machine().text()));
        settings.setValue(QStringLiteral("pace"), workspace_.shown_pace());
        settings.endGroup();
        start();
      });
}

void ProgramFolders::stop_watching() {
  QSettings().remove(QStringLiteral("watched_folder"));
  if (look_) look_->cancel();
  watch_.reset();
  timer_->stop();
  show_watch();
}

void ProgramFolders::start() {
  QSettings settings;
  settings.beginGroup(QStringLiteral("watched_folder"));
  const QString from = settings.value(QStringLiteral("from")).toString();
  if (!from.isEmpty()) {
    const auto id = [&](const char* key) {
      return Id::parse(settings.value(QLatin1String(key)).toString().toStdString()).value_or(Id{});
    };
    watch_ = std::make_shared<FolderWatch>(from, settings.value(QStringLiteral("to")).toString());
    material_ = id("material");
    machine_ = id("machine");
    pace_ = settings.value(QStringLiteral("pace"), 100).value<double>();
    written_ = 0;
    timer_->start();
  }
  show_watch();
}

void ProgramFolders::show_watch() {
  setVisible(watch_ != nullptr);
  if (!watch_) return;
  const WorkMaterial* material = workspace_.state().materials.find(material_);
  const Machine* machine = workspace_.state().machines.find(machine_);
  set_tone(text_, material && machine ? Tone::quiet : Tone::error);
  text_->setText(material && machine
                     ? tr("Watching %1 and writing to %2: %3 on %4, %5 written")
                           .arg(QDir::toNativeSeparators(watch_->from()), QDir::toNativeSeparators(watch_->to()),
                                text_of(material->name), text_of(machine->name))
                           .arg(written_)
                     : tr("Watching %1, but its material or machine is not in this shop; stop and set it up again")
                           .arg(watch_->from()));
}

FolderWish ProgramFolders::wish() const {
  FolderWish out;
  out.to = watch_->to();
  out.material = material_;
  out.machine = machine_;
  out.pace = pace_;
  out.whole_only = true;
  return out;
}

void ProgramFolders::look() {
  const ShopState& state = workspace_.state();
  if (look_ || !watch_ || !state.materials.find(material_) || !state.machines.find(machine_)) return;
  look_ = workspace_.tasks().run(
      this, QString(),
      [state, watch = watch_, asked = wish()](Task& task) {
        std::vector<FolderLine> lines;
        for (const QString& file : watch->due()) {
          if (task.is_cancelled()) break;
          lines.push_back(retune_into(state, file, asked, [&task](double done) { return task.report(done); }));
          watch->done(file);
        }
        return lines;
      },
      [this](const std::vector<FolderLine>& lines) {
        look_.reset();
        if (lines.empty()) return;
        for (const FolderLine& line : lines) written_ += line.is_written();
        show_watch();
        const QString faults = faults_text(lines);
        emit said(faults.isEmpty() ? tr("%1 retuned to %2").arg(name_of(lines.back().file), lines.back().out)
                                   : tr("not written: %1").arg(faults),
                  !faults.isEmpty());
      });
}

}  // namespace pecorra

#include "moc_program_folders.cpp"
