// What a job is written to: programs and setup sheets.
#include <QFileInfo>
#include <algorithm>

#include "app/jobs/jobs_page.h"
#include "formats/paper/paper.h"
#include "shop/program_file.h"
#include "shop/setup_sheet.h"
#include "shop/words.h"
#include "store/write_file.h"

namespace pecorra {
namespace {

struct Written {
  QString fault;
  QStringList faulty, files;
  int blocks = 0;
};

QString file_of_setup(const QString& file, const Setup& setup, std::size_t place) {
  const QFileInfo info(file);
  QString name = setup.name.empty() ? QString::number(place + 1) : text_of(setup.name).toLower().simplified();
  for (QChar& c : name)
    if (!c.isLetterOrNumber()) c = QLatin1Char('_');
  const QString ending = info.suffix().isEmpty() ? QString() : QLatin1Char('.') + info.suffix();
  return info.path() + QLatin1Char('/') + info.completeBaseName() + QLatin1Char('_') + name + ending;
}

Written write_programs(const PlanRequest& request, const QString& file, bool each_setup, UnitSystem units, Task& task) {
  const JobPlan plan = plan_job(request, [&task](double done) { return task.report(done); });
  Written w;
  if (task.is_cancelled()) {
    w.fault = QObject::tr("Cancelled; no program was written");
    return w;
  }
  for (std::size_t i = 0; i < plan.faults.size(); ++i)
    for (const Message& m : plan.faults[i])
      if (m.severity == Severity::error)
        w.faulty << QObject::tr("operation %1, %2: %3")
                        .arg(i + 1)
                        .arg(text_of(request.job->operations[i].name), sentence(m, units));
  if (!w.faulty.isEmpty()) return w;
  const auto write = [&](const QString& name, std::optional<std::size_t> setup) {
    const std::string program = program_of(request, plan, setup).text;
    if (const QString fault = write_file(name, QByteArray::fromStdString(program)); !fault.isEmpty()) w.fault = fault;
    else {
      w.files << QFileInfo(name).fileName();
      remember_program(request.shop_file, *request.job, QFileInfo(name).absoluteFilePath());
    }
    w.blocks += static_cast<int>(std::count(program.begin(), program.end(), '\n'));
  };
  if (!each_setup) write(file, {});
  else
    for (std::size_t i = 0; i < request.job->setups.size() && w.fault.isEmpty(); ++i) {
      const Setup& setup = request.job->setups[i];
      if (std::any_of(request.job->operations.begin(), request.job->operations.end(),
                      [&](const Operation& o) { return setup_of(*request.job, o) == &setup; }))
        write(file_of_setup(file, setup, i), i);
    }
  return w;
}

}  // namespace

QString JobsPage::proposed_file() const {
  QString name = workspace_.job() ? text_of(workspace_.job()->name).toLower().simplified() : QStringLiteral("program");
  for (QChar& c : name)
    if (!c.isLetterOrNumber()) c = QLatin1Char('_');
  return name;
}

// Programs and sheets name the job's revision as the file has it: what was accepted has to be there first.
void JobsPage::once_saved(std::function<void()> then) {
  Shop& shop = workspace_.shop();
  if (shop.saving() != Shop::Saving::saving) return then();
  connect(
      &shop, &Shop::saving_changed, this, [this, then = std::move(then)] { once_saved(then); },
      Qt::SingleShotConnection);
}

void JobsPage::write_program(const QString& file, bool each_setup) {
  if (!workspace_.job()) return;
  once_saved([this, file, each_setup] {
    const Job* kept = workspace_.job();
    if (!kept) return;
    PlanRequest request = plan_request(workspace_.state(), *kept);
    request.shop_file = workspace_.shop().file();
    workspace_.tasks().run(
        this, tr("Writing %1").arg(QFileInfo(file).fileName()),
        [request = std::move(request), file, each_setup, units = workspace_.units()](Task& task) {
          return write_programs(request, file, each_setup, units, task);
        },
        [this](const Written& w) {
          if (!w.faulty.isEmpty()) emit said(tr("Nothing written: %1").arg(w.faulty.join(QStringLiteral("; "))), true);
          else if (!w.fault.isEmpty()) emit said(w.fault, true);
          else
            emit said(tr("Program written: %1, %2 blocks").arg(w.files.join(QStringLiteral(", "))).arg(w.blocks),
                      false);
        });
  });
}

void JobsPage::write_sheet(const QString& file, bool portrait) {
  if (!workspace_.job()) return;
  once_saved([this, file, portrait] {
    const Job* kept = workspace_.job();
    if (!kept) return;
    PlanRequest request = plan_request(workspace_.state(), *kept);
    request.shop_file = workspace_.shop().file();
    workspace_.tasks().run(
        this, tr("Writing %1").arg(QFileInfo(file).fileName()),
        [state = workspace_.state(), request = std::move(request), file, portrait,
         units = workspace_.units()](Task& task) {
          const JobPlan plan = plan_job(request, [&task](double done) { return task.report(done); });
          if (task.is_cancelled()) return QObject::tr("Cancelled; no setup sheet was written");
          const SetupSheet sheet = setup_sheet_of(state, request, plan, units);
          const auto orientation = portrait ? PaperOrientation::portrait : PaperOrientation::landscape;
          const bool html = file.endsWith(QLatin1String(".html"), Qt::CaseInsensitive) ||
                            file.endsWith(QLatin1String(".htm"), Qt::CaseInsensitive);
          const tl::expected<QByteArray, FormatFault> bytes =
              html ? setup_sheet_html(sheet, orientation) : setup_sheet_pdf(sheet, orientation);
          return bytes ? write_file(file, *bytes) : reader_text(bytes.error());
        },
        [this, file](const QString& fault) {
          if (!fault.isEmpty()) emit said(fault, true);
          else emit said(tr("Setup sheet written: %1").arg(QFileInfo(file).fileName()), false);
        });
  });
}

}  // namespace pecorra
