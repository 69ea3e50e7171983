// The fields of the selected operations, and what is typed there.
#include <algorithm>

#include "app/jobs/job_bench.h"
#include "app/widgets/wrapped_label.h"
#include "shop/operation_edit.h"
#include "shop/words.h"

namespace pecorra {

bool JobBench::has_company(const Job& job, const Operation& o) const {
  return std::any_of(job.operations.begin(), job.operations.end(),
                     [&](const Operation& other) { return other.id != o.id && other.cutter.id == o.cutter.id; });
}

void JobBench::build_form(const Operation& o) {
  built_for_ = o.path;
  form_->clear();
  const OperationDeclaration& path = declaration(o.path);
  form_->heading(label_text(label_of(o.path)));
  for (const std::string_view key : path.parameters) {
    FormField field = form_field(*find_property<Operation>(key), key == "own_coolant" ? tr("from the source")
                                                                 : key == "source"    ? tr("best available")
                                                                                      : QString());
    std::erase_if(field.choices, [&](const FieldChoice& c) {
      if (c.key.isEmpty()) return false;
      const std::string choice = c.key.toStdString();
      if (key == "operation") return (path.manners & bit(*choice_from_key<OperationKind>(choice))) == 0;
      return key == "source" && !can_be_followed(*choice_from_key<SourceKind>(choice));
    });
    form_->add(field);
    if (key != "name") continue;
    // Where there is more than one.
    FormField setup = form_field(*find_property<Operation>("setup"));
    setup.choices = {{QString(), QString()}};
    form_->add(setup);
    FormField behind = form_field(*find_property<Operation>("behind"));
    behind.choices = {{QString(), QString()}};
    form_->add(behind);
  }
}

void JobBench::show_values(const Operation& o) {
  const Job& job = *workspace_.job();
  // What the machine does not have cannot be chosen; the reason is shown.
  const Machine* machine = workspace_.state().machines.find(workspace_.shown_machine());
  std::vector<FieldChoice> coolants{{QString(), tr("from the source")}};
  for (int i = 0; i < static_cast<int>(choices_of<Coolant>().size()); ++i) {
    const auto coolant = static_cast<Coolant>(i);
    coolants.push_back(
        {text_of(key_of(coolant)), label_text(label_of(coolant)),
         machine && !has_coolant(*machine, coolant) ? tr("%1 has none").arg(text_of(machine->name)) : QString()});
  }
  form_->set_choices(QStringLiteral("own_coolant"), coolants);
  std::vector<FieldChoice> setups;
  for (std::size_t i = 0; i < job.setups.size(); ++i)
    setups.push_back({text_of(job.setups[i].id.text()),
                      job.setups[i].name.empty() ? tr("Setup %1").arg(i + 1) : text_of(job.setups[i].name)});
  form_->set_choices(QStringLiteral("setup"), setups);
  std::vector<FieldChoice> others{{text_of(Id{}.text()), tr("any order")}};
  constexpr std::size_t most_others = 300;  // a longer list helps nobody
  for (std::size_t i = 0; i < job.operations.size() && job.operations.size() <= most_others; ++i)
    if (job.operations[i].id != o.id)
      others.push_back(
          {text_of(job.operations[i].id.text()), tr("behind %1 %2").arg(i + 1).arg(text_of(job.operations[i].name))});
  form_->set_choices(QStringLiteral("behind"), others);
  form_->set_units(workspace_.units());
  form_->fill_from(o);
  form_->set_shown(QStringLiteral("behind"), others.size() > 1);
  if (const Setup* of = setup_of(job, o)) form_->fill(QStringLiteral("setup"), of->id.text());
  form_->set_shown(QStringLiteral("setup"), job.setups.size() > 1);
  // Where several differ, none of their values is shown.
  for (const QString& key : form_->keys()) {
    const Property<Operation>& p = *find_property<Operation>(key.toStdString());
    const bool differ = std::any_of(workspace_.operations().begin(), workspace_.operations().end(), [&](int i) {
      const Operation& other = job.operations[static_cast<std::size_t>(i)];
      return (has_parameter(other.path, p.key) || p.key == "setup" || p.key == "behind") && !(p.get(other) == p.get(o));
    });
    form_->set_various(key, differ);
  }
}

void JobBench::accept_operation(const QString& key, const Value& value, const QString& typed) {
  const Job* kept = workspace_.job();
  if (!kept || !selected(*kept)) return;
  workspace_.shop().apply(edited_operation(workspace_.state(), workspace_.shop().resolver(), *kept,
                                           workspace_.operations(), *find_property<Operation>(key.toStdString()), value,
                                           typed.toStdString(), workspace_.units()));
}

// For the operation, or once for its cutter.
void JobBench::accept_own(const QString& key, const Value& value, const QString& typed) {
  const Job* kept = workspace_.job();
  const Operation* o = kept ? selected(*kept) : nullptr;
  if (!o) return;
  if (!for_cutter_->isVisibleTo(this) || !for_cutter_->isChecked()) return accept_operation(key, value, typed);
  const auto* property = find_property<CutterValues>(key.toStdString().substr(4));
  workspace_.shop().apply(edited_cutter_values(workspace_.state(), workspace_.shop().resolver(), *kept, o->cutter.id,
                                               *property, value, workspace_.units()));
}

void JobBench::toggle_for_cutter(bool on) {
  const Job* kept = workspace_.job();
  if (!kept || !selected(*kept)) return;
  Change change =
      with_own_for_cutter(workspace_.state(), workspace_.shop().resolver(), *kept, workspace_.operation_index(), on);
  if (change.empty()) return refresh();
  workspace_.shop().apply(std::move(change));
}

// Every error and warning of the operation, with what mends it in one click.
void JobBench::say_faults(const std::vector<Message>& messages) {
  QStringList lines;
  bool any_error = false;
  for (const Severity severity : {Severity::error, Severity::warning})
    for (const Message& m : messages) {
      if (m.severity != severity) continue;
      any_error = any_error || severity == Severity::error;
      QString line = sentence(m, workspace_.units()).toHtmlEscaped();
      const auto link = [&](const QString& what, const QString& text) {
        line += QStringLiteral(" · <a href=\"%1\">%2</a>").arg(what, text.toHtmlEscaped());
      };
      if (m.code == "comes_too_early")
        for (const auto& [key, value] : m.values)
          if (key == "number") {
            const int number = static_cast<int>(std::get<double>(value));
            link(QStringLiteral("behind:%1").arg(number), tr("Move behind operation %1").arg(number));
          }
      if (m.code == "surface_is_gone") {
        link(QStringLiteral("faced"), tr("Count its depth from the faced surface"));
        link(QStringLiteral("all_faced"), tr("Same for the whole setup"));
      }
      lines << line;
    }
  const bool kept = workspace_.job() && selected(*workspace_.job());
  faults_->setVisible(kept && !lines.isEmpty() && !job_only_);
  faults_->setText(lines.join(QStringLiteral("<br>")));
  set_tone(faults_, any_error ? Tone::error : Tone::warning);
}

void JobBench::mend(const QString& how) {
  const Job* job = workspace_.job();
  const int at = workspace_.operation_index();
  if (!job || !selected(*job)) return;
  Change change;
  if (how.startsWith(QLatin1String("behind:"))) {
    change = moved_behind(*job, at, how.mid(7).toInt() - 1);
  } else {
    Places places;
    const Setup* here = setup_of(*job, job->operations[static_cast<std::size_t>(at)]);
    for (int i = 0; i < static_cast<int>(job->operations.size()); ++i)
      if (i == at ||
          (how == QLatin1String("all_faced") && setup_of(*job, job->operations[static_cast<std::size_t>(i)]) == here))
        places.push_back(i);
    change = counted_from_faced(workspace_.state(), workspace_.shop().resolver(), *job, places);
  }
  if (!change.empty()) workspace_.shop().apply(std::move(change));
}

}  // namespace pecorra
