// What is done with a program that is being retuned.
#include <QFileInfo>

#include "app/retune/retune_view.h"
#include "shop/retune_report.h"
#include "shop/words.h"

namespace pecorra {

QString RetuneView::proposed_file() const {
  const RetunedProgram* program = workspace_.program();
  if (!program) return {};
  if (!program->written.empty()) return text_of(program->written);
  const QFileInfo file(text_of(program->file));
  return file.absolutePath() + QLatin1Char('/') + file.completeBaseName() + QStringLiteral("-retuned") +
         (file.suffix().isEmpty() ? QString() : QLatin1Char('.') + file.suffix());
}

void RetuneView::write(const QString& out) {
  if (!is_current()) return emit said(tr("The program is still being calculated; try again in a moment"), true);
  struct Written {
    QString fault, aside;
  };
  workspace_.tasks().run(
      this, tr("Writing %1").arg(QFileInfo(out).fileName()),
      [made = shown_, out](Task&) {
        Written w;
        w.fault = write_retuned(*made, out, w.aside);
        return w;
      },
      [this, made = shown_, out](const Written& w) {
        if (!w.fault.isEmpty()) return emit said(w.fault, true);
        if (const RetunedProgram* program = workspace_.state().programs.find(made->program.id)) {
          RetunedProgram after = *program;
          after.written = QFileInfo(out).absoluteFilePath().toStdString();
          after.written_print = made->print;
          Change change;
          change.label = tr("%1 written to %2").arg(text_of(after.name), QFileInfo(out).fileName());
          change.edit(*program, after);
          if (!change.empty()) workspace_.shop().apply(std::move(change));
        }
        emit said(w.aside.isEmpty()
                      ? tr("Program written to %1").arg(out)
                      : tr("Program written to %1; the old file is now %2").arg(out, QFileInfo(w.aside).fileName()),
                  false);
        // Over itself: what is in the file now is another program.
        if (QFileInfo(out).absoluteFilePath() == made->read.file) read_again();
      });
}

void RetuneView::leave_out(bool out) {
  const RetunedProgram* program = workspace_.program();
  if (!program || !shown_ || section() < 0) return;
  const int t = shown_->reading->sections[static_cast<std::size_t>(section())].tool;
  const RetunedSection& planned = shown_->sections[static_cast<std::size_t>(section())];
  RetunedProgram after = *program;
  after.pairing_for_section(t, planned.part, planned.parts).skip = out;
  Change change;
  change.label = out ? tr("T%1 left out").arg(t) : tr("T%1 retuned").arg(t);
  change.edit(*program, after);
  if (!change.empty()) workspace_.shop().apply(std::move(change));
}

void RetuneView::write_report(const QString& file) {
  if (!is_current()) return emit said(tr("The program is still being calculated; try again in a moment"), true);
  workspace_.tasks().run(
      this, tr("Writing %1").arg(QFileInfo(file).fileName()),
      [state = workspace_.state(), made = shown_, file, units = workspace_.units()](Task&) {
        return save_retune_report(state, *made, file, units);
      },
      [this, file](const QString& fault) {
        emit said(fault.isEmpty() ? tr("Report written: %1").arg(QFileInfo(file).fileName()) : fault, !fault.isEmpty());
      });
}

}  // namespace pecorra
