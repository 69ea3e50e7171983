#include "shop/retune_report.h"

#include <QFileInfo>
#include <QObject>
#include <QStringList>
#include <algorithm>

#include "core/quantity/print.h"
#include "formats/paper/paper.h"
#include "shop/words.h"
#include "store/write_file.h"

namespace pecorra {
namespace {

QString safe(const QString& text) { return text.toHtmlEscaped(); }

QString row_of(const char* tag, const QStringList& cells) {
  QString out = QStringLiteral("<tr>");
  for (const QString& cell : cells) out += QStringLiteral("<%1>%2</%1>").arg(QLatin1String(tag), cell);
  return out + QStringLiteral("</tr>");
}

}  // namespace

QString retune_summary(const RetunedFile& program) {
  const std::size_t words = program.changed_words();
  return QObject::tr("%1 → %2 min, %3")
      .arg(duration_text(program.minutes_was), duration_text(program.minutes),
           words == 0   ? QObject::tr("nothing changes")
           : words == 1 ? QObject::tr("1 word changes")
                        : QObject::tr("%L1 words change").arg(words));
}

QString retune_report(const ShopState& state, const RetunedFile& program, UnitSystem units) {
  const WorkMaterial* material = state.materials.find(program.program.material);
  const Machine* machine = state.machines.find(program.program.machine);
  const QString name = safe(text_of(program.program.name));
  QString out = QStringLiteral(
                    "<!DOCTYPE html><html><head><meta charset=\"utf-8\"><title>%1</title><style>"
                    "body{font-family:\"Pecorra Text\",sans-serif;font-size:10pt;color:#141414}"
                    "h1{font-size:16pt}h2{font-size:12pt}"
                    "table{border-collapse:collapse}"
                    "th,td{text-align:left;vertical-align:top;padding:3px 10px 3px 0;border-bottom:1px solid #969696}"
                    ".bad{font-weight:bold}.quiet{color:#5f5f5f}</style></head><body><h1>%1</h1>")
                    .arg(name);
  out += QStringLiteral("<p>%1<br>%2</p>")
             .arg(safe(QObject::tr("%1 on %2, pace %3")
                           .arg(material ? text_of(material->name) : QString(),
                                machine ? text_of(machine->name) : QString(),
                                QString::number(program.program.pace.value_or(100)))),
                  safe(retune_summary(program)));
  out += QStringLiteral("<table width=\"100%\">") +
         row_of("th",
                {QObject::tr("T"), QObject::tr("Lines"), QObject::tr("Cutter"), QObject::tr("Operation"),
                 QObject::tr("S rpm"), safe(QObject::tr("F %1").arg(text_of(unit_text(Quantity::table_feed, units)))),
                 QObject::tr("Tightest"), QObject::tr("Time")});
  const auto number = [&](double v, Quantity q) { return v > 0 ? text_of(shown(v, q, units)) : QString(); };
  std::vector<std::pair<QString, QStringList>> notes;  // each once, with the tools it is about
  for (std::size_t i = 0; i < program.sections.size(); ++i) {
    const ProgramSection& s = program.reading->sections[i];
    const RetunedSection& plan = program.sections[i];
    const NewConditions& c = plan.conditions;
    out += row_of(
        "td", {QString::number(s.tool), QStringLiteral("%1–%2").arg(s.first + 1).arg(s.last + 1),
               plan.found.cutter
                   ? safe(text_of(plan.found.cutter->name)) + (plan.left_out ? QObject::tr(" (left out)") : QString()) +
                         (plan.found.guess ? QObject::tr(" (guess)") : QString())
               : plan.left_out ? QObject::tr("left out")
                               : QStringLiteral("<span class=\"bad\">%1</span>").arg(QObject::tr("not assigned")),
               plan.found.cutter ? safe(label_text(label_of(plan.operation))) : QString(),
               change_text(number(s.n_rpm, Quantity::spindle_speed),
                           c.n_rpm ? number(*c.n_rpm, Quantity::spindle_speed) : QString()),
               change_text(number(s.main_mm_min(), Quantity::table_feed),
                           c.n_rpm ? number(c.vf_mm_min, Quantity::table_feed) : QString()),
               safe(tightest_change_text(plan.headroom_was, c.n_rpm ? plan.headroom : std::nullopt)),
               change_text(duration_text(s.minutes), duration_text(program.done.sections[i].minutes))});
    const auto note = [&](const Message& m, bool now) {
      QString text = safe(sentence(m, units));
      if (now) text += QObject::tr(" (in the program now)");
      if (m.severity == Severity::error) text = QStringLiteral("<span class=\"bad\">%1</span>").arg(text);
      const QString tool = QStringLiteral("T%1").arg(s.tool);
      const auto known = std::find_if(notes.begin(), notes.end(), [&](const auto& n) { return n.first == text; });
      if (known == notes.end()) notes.push_back({text, {tool}});
      else if (!known->second.contains(tool)) known->second << tool;
    };
    for (const Message& m : plan.only_as_it_is()) note(m, true);
    for (const Message& m : plan.messages)
      if (m.code.rfind("retune_", 0) == 0 || m.severity != Severity::note) note(m, false);
  }
  out += QStringLiteral("</table>");
  QString listed;
  for (const auto& [text, tools] : notes)
    listed += QStringLiteral("<li>%1: %2</li>").arg(tools.join(QStringLiteral(", ")), text);
  if (!listed.isEmpty()) out += QStringLiteral("<h2>%1</h2><ul>%2</ul>").arg(QObject::tr("Notes"), listed);
  const auto left = program.left_alone();
  if (!left.empty()) {
    constexpr std::size_t most = 500;
    out += QStringLiteral("<h2>%1</h2>").arg(QObject::tr("Not understood, S and F kept"));
    out += QStringLiteral("<table width=\"100%\">") +
           row_of("th", {QObject::tr("Line"), QObject::tr("Block"), QObject::tr("Reason")});
    for (std::size_t i = 0; i < std::min(left.size(), most); ++i)
      out += row_of("td",
                    {QString::number(left[i].block + 1), safe(text_of(left[i].text)), safe(reader_text(left[i].why))});
    out += QStringLiteral("</table>");
    if (left.size() > most) out += QStringLiteral("<p>%1</p>").arg(QObject::tr("and %L1 more").arg(left.size() - most));
  }
  return out + QStringLiteral("</body></html>");
}

QString save_retune_report(const ShopState& state, const RetunedFile& program, const QString& file, UnitSystem units) {
  const QString page = retune_report(state, program, units);
  if (!file.endsWith(QLatin1String(".pdf"), Qt::CaseInsensitive)) return write_file(file, page.toUtf8());
  const auto pdf = page_pdf(page, PaperOrientation::landscape);
  return pdf ? write_file(file, *pdf) : reader_text(pdf.error());
}

}  // namespace pecorra
