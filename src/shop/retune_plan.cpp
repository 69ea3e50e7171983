#include "shop/retune_plan.h"

#include <fmt/format.h>

#include <algorithm>
#include <charconv>
#include <cmath>

#include "core/iso/block_writer.h"
#include "core/library/trade_words.h"
#include "core/quantity/print.h"
#include "shop/job_objects.h"
#include "shop/tool_plan.h"

namespace pecorra {
namespace {

bool is_digit(char c) { return c >= '0' && c <= '9'; }
bool is_letter(char c) { return (c >= 'A' && c <= 'Z') || (c >= 'a' && c <= 'z'); }
char capital(char c) { return c >= 'a' && c <= 'z' ? static_cast<char>(c - 32) : c; }

std::string capitals(std::string_view text) {
  std::string out(text);
  std::transform(out.begin(), out.end(), out.begin(), capital);
  return out;
}

// 12, 12.5, .5, 1/2, 1-1/2 from a place on; `at` behind it.
std::optional<double> number_at(std::string_view text, std::size_t& at) {
  const auto plain = [&](std::size_t from, std::size_t& end) -> std::optional<double> {
    double value = 0;
    if (from >= text.size() || !(is_digit(text[from]) || text[from] == '.')) return std::nullopt;
    const auto [stop, fault] =
        std::from_chars(text.data() + from, text.data() + text.size(), value, std::chars_format::fixed);
    if (fault != std::errc()) return std::nullopt;
    end = static_cast<std::size_t>(stop - text.data());
    return value;
  };
  std::size_t end = at;
  const auto first = plain(at, end);
  if (!first) return std::nullopt;
  at = end;
  std::optional<double> second, third;
  std::size_t behind = end;
  if (end < text.size() && text[end] == '/') {
    if ((second = plain(end + 1, behind)) && *second > 0) return at = behind, *first / *second;
  } else if (end < text.size() && (text[end] == '-' || text[end] == ' ')) {
    if ((second = plain(end + 1, behind)) && behind < text.size() && text[behind] == '/' &&
        (third = plain(behind + 1, behind)) && *third > 0)
      return at = behind, *first + *second / *third;
  }
  return first;
}

bool is_complete(const Cutter& c) { return !has_error(check_cutter(c)); }

bool is_same_size(double a, double b) { return std::abs(a - b) < 0.006; }

// Words apart: "HS-1212" in "(T5 HS-1212 ROUGH)".
bool holds_word(const std::string& text, const std::string& word) {
  for (std::size_t at = text.find(word); at != std::string::npos; at = text.find(word, at + 1)) {
    const auto joins = [](char c) { return is_digit(c) || is_letter(c) || c == '-' || c == '.'; };
    const std::size_t end = at + word.size();
    if ((at == 0 || !joins(text[at - 1])) && (end == text.size() || !joins(text[end]))) return true;
  }
  return false;
}

std::string said_of(const NamedSize& s) {
  if (!s.thread.empty()) return s.thread;
  std::string out = "Ø" + plain(s.diameter_mm.value_or(0), 3) + " mm";
  if (s.corner_radius_mm) out += " R" + plain(*s.corner_radius_mm, 3);
  return s.kind ? std::string(label_of(*s.kind)) + " " + out : out;
}

bool suits(const Cutter& c, const NamedSize& s) {
  if (!s.thread.empty()) {
    const bool threads = c.kind == CutterKind::tap || c.kind == CutterKind::thread_mill;
    return threads && capitals(c.thread) == s.thread;
  }
  if (!c.diameter_mm || !s.diameter_mm || !is_same_size(*c.diameter_mm, *s.diameter_mm)) return false;
  if (s.corner_radius_mm) {
    const double r = c.kind == CutterKind::ball ? *c.diameter_mm / 2 : c.corner_radius_mm.value_or(0);
    if (!is_same_size(r, *s.corner_radius_mm)) return false;
  }
  return !s.kind || c.kind == *s.kind;
}

class Plan {
 public:
  Plan(const ShopState& state, const Resolver& resolver, const ProgramText& program, const ProgramReading& reading,
       const RetuneRequest& request)
      : state_(state),
        resolver_(resolver),
        program_(program),
        reading_(reading),
        request_(request),
        material_(*state.materials.find(request.material)),
        machine_(*state.machines.find(request.machine)) {
    for (const Library& l : state.libraries)
      if (!l.switched_on) off_.insert(l.id);
    if (reading.own) find_job();
  }

  std::vector<RetunedSection> run() {
    std::vector<RetunedSection> out;
    std::map<int, int> parts;
    for (const ProgramSection& s : reading_.sections) {
      const int part = ++parts[s.tool];
      said_ = stated_for(request_.tools, s.tool, part);
      out.push_back(one(s));
      out.back().part = part;
    }
    for (std::size_t i = 0; i < out.size(); ++i) out[i].parts = parts[reading_.sections[i].tool];
    return out;
  }

 private:
  // The job that a program of ours names.
  void find_job() {
    std::set<std::string> said;
    for (std::size_t b = 0; b < std::min<std::size_t>(program_.size(), 12); ++b)
      for (const ProgramPiece& p : program_.pieces(b))
        if (p.kind == PieceKind::comment) said.insert(std::string(comment_inside(program_.text(p))));
    for (const JobHead& head : state_.jobs)
      // Alone, or behind the name of the shop.
      if (const std::string name = comment_text(head.name); std::any_of(
              said.begin(), said.end(), [&](const std::string& c) { return c == name || c.ends_with("  " + name); })) {
        if (!(job_ = state_.job(head.id))) continue;
        was_ = *job_;
        job_->material = request_.material;
        job_->machine = request_.machine;
        if (request_.pace != 100) job_->pace = request_.pace;
        return;
      }
  }

  static std::string place_text(const ShopState& state, const Cutter& c) {
    const Library* l = state.libraries.find(c.library);
    return fmt::format("{} ({} {})", c.name, l ? l->name : "", c.number);
  }

  static std::shared_ptr<const Cutter> held(const Cutter* c) {
    return c ? std::make_shared<const Cutter>(*c) : nullptr;
  }

  FoundCutter find(const ProgramSection& s) const {
    // One that has been deleted since is found out anew.
    if (const Cutter* stated = state_.cutters.find(said_.cutter))
      return {held(stated), said_.remembered ? FoundBy::remembered : FoundBy::told, false,
              said_.remembered ? "as in a program of its kind" : "stated"};
    std::vector<std::string> said;
    for (auto c = s.comments.rbegin(); c != s.comments.rend(); ++c) {
      // A list of cutters names others too.
      std::size_t at = 1;
      const std::string text = capitals(*c);
      if (text.starts_with('T') && at < text.size() && is_digit(text[at])) {
        const auto t = number_at(text, at);
        if (!t || *t != s.tool) continue;
      }
      said.push_back(text);
    }
    FoundCutter named = by_comment(s, said);
    if (named.cutter || !named.why.empty()) return named;
    // Within a program a T stays what it is.
    if (const auto before = of_tool_.find(s.tool); before != of_tool_.end() && fits_moves(s, *before->second.cutter))
      return before->second;
    for (const Pocket& p : state_.pockets)
      if (p.machine == request_.machine && p.number == s.tool)
        if (const Assembly* a = state_.assemblies.find(p.assembly))
          if (const Cutter* c = state_.cutters.find(a->cutter); c && fits_moves(s, *c))
            return {held(c), FoundBy::pocket, false, fmt::format("in pocket {} of {}", s.tool, machine_.name)};
    const Cutter* numbered = nullptr;
    int count = 0;
    for (const Cutter& c : state_.cutters)
      if (c.number == s.tool && !off_.contains(c.library) && is_complete(c)) numbered = &c, ++count;
    if (count == 1 && fits_moves(s, *numbered))
      return {held(numbered), FoundBy::number, true,
              fmt::format("the only cutter {} in the libraries that are switched on; a guess", s.tool)};
    return {nullptr, FoundBy::nothing, false,
            fmt::format("No comment, no pocket and no number says which cutter T{} is; state it", s.tool)};
  }

  // A tap taps, and only hole-making cutters drill.
  static bool fits_moves(const ProgramSection& s, const Cutter& c) {
    const auto count = [&](RunMove m) { return s.moves[static_cast<std::size_t>(m)]; };
    if (count(RunMove::tap) > 0) return c.kind == CutterKind::tap;
    if (count(RunMove::cut) == 0 && count(RunMove::cycle) > 0) return c.kind != CutterKind::tap;
    return c.kind != CutterKind::tap;
  }

  FoundCutter by_comment(const ProgramSection& s, const std::vector<std::string>& said) const {
    for (const std::string& text : said) {
      const Cutter* by_code = nullptr;
      const Cutter* by_name = nullptr;
      for (const Cutter& c : state_.cutters) {
        if (!by_code && c.order_code.size() > 2 && holds_word(text, capitals(c.order_code))) by_code = &c;
        const std::string name = comment_text(c.name);
        if (by_name || name.size() < 4 || name.find_first_not_of(' ') == name.npos || !holds_word(text, name)) continue;
        // “NO 225” behind it says which of several.
        const std::size_t number = text.find(" NO ");
        if (number != std::string::npos && !holds_word(text, "NO " + std::to_string(c.number))) continue;
        by_name = &c;
      }
      if (by_code)
        return {held(by_code), FoundBy::order_code, false, "order code " + by_code->order_code + " in its comment"};
      if (by_name) return {held(by_name), FoundBy::name, false, "its name in the comment"};
    }
    for (const std::string& text : said) {
      NamedSize size = size_in(text);
      if (!size.any()) continue;
      std::vector<const Cutter*> fit;
      for (const Cutter& c : state_.cutters)
        if (!off_.contains(c.library) && suits(c, size) && fits_moves(s, c) && is_complete(c)) fit.push_back(&c);
      if (fit.empty()) {
        const Cutter* in_pocket = standing(s.tool);
        return {
            nullptr, FoundBy::nothing, false,
            fmt::format("The comment says {}, and no cutter of the libraries that are switched on is that{}; state it",
                        said_of(size),
                        in_pocket ? fmt::format(", while T{} is {}", s.tool, place_text(state_, *in_pocket)) : ""),
            true};
      }
      // Of several: what stands in that pocket, what has that number, what the shop has.
      const Cutter* best = nullptr;
      for (const Cutter* c : fit)
        if (c == standing(s.tool)) best = c;
      for (const Cutter* c : fit)
        if (!best && c->number == s.tool) best = c;
      const bool certain = best || fit.size() == 1;
      if (!best) best = fit.front();
      return {held(best), FoundBy::size, !certain,
              fmt::format("{} in its comment{}", said_of(size),
                          certain ? "" : fmt::format("; the first of {} that are; a guess", fit.size()))};
    }
    return {};
  }

  const Cutter* standing(int t) const {
    for (const Pocket& p : state_.pockets)
      if (p.machine == request_.machine && p.number == t)
        if (const Assembly* a = state_.assemblies.find(p.assembly)) return state_.cutters.find(a->cutter);
    return nullptr;
  }

  RetunedSection one(const ProgramSection& s) {
    RetunedSection out;
    const ToolPairing& said = said_;
    if (s.surface_speed) say(out, Severity::warning, "retune_surface_speed");
    if (s.inverse_time) say(out, Severity::warning, "retune_inverse_time");
    if (s.n_rpm <= 0 && !s.surface_speed) say(out, Severity::warning, "retune_no_spindle");
    look_at(s, out);
    out.left_out = said.skip;
    if (s.operation) operation_ = s.operation;
    else if (!reading_.own) operation_.reset();
    if (said.cutter.is_null() && !said.operation && !said.ap_mm && !said.ae_mm && from_job(s, out)) return out;
    out.found = find(s);
    if (!out.found.cutter) return out;
    of_tool_.try_emplace(s.tool, out.found);
    const Cutter& c = *out.found.cutter;
    look_at_pitch(s, c, out);
    Context context;
    context.usual_work = true;
    context.pace = request_.pace;
    out.operation = said.operation ? *said.operation : proposed(s, c, operation_for(context, c.kind), out);
    if (!can_do(c.kind, out.operation)) {
      say(out, Severity::error, "retune_cannot_do",
          {{"cutter", std::string(label_of(c.kind))}, {"operation", std::string(label_of(out.operation))}});
      return out;
    }
    context.usual_work = false;
    context.operation = out.operation;
    Query query = query_for(state_, context);
    see_cut(s, c, said, out);
    query.ap_mm = out.ap_mm.value_or(not_given);
    query.ae_mm = out.ae_mm.value_or(not_given);
    const Evaluation e = evaluate(state_, resolver_, c, material_, machine_, query, state_.assembly_of(c.id));
    out.trail = e.trail;
    if (!out.left_out) out.messages.insert(out.messages.end(), e.cut.messages.begin(), e.cut.messages.end());
    if (!e.resolution.found()) {
      say(out, Severity::warning, "retune_no_answer");
      return out;
    }
    if (!e.cut.headroom.empty()) out.headroom = e.cut.headroom.front();
    if (s.n_rpm > 0 && s.main_mm_min() > 0) {
      Query was = query;
      was.own_n_rpm = s.n_rpm;
      was.own_vf_mm_min = s.main_mm_min();
      const Evaluation before = evaluate(state_, resolver_, c, material_, machine_, was, state_.assembly_of(c.id));
      if (!before.cut.headroom.empty()) out.headroom_was = before.cut.headroom.front();
      for (const Message& m : before.cut.messages)
        if (m.severity != Severity::note) out.as_it_is.push_back(m);
    }
    const Conditions& r = e.resolution.conditions;
    out.source = e.resolution.source;
    out.guess = e.resolution.guess || out.found.guess;
    if (s.feeds_elsewhere > 0) {
      say(out, Severity::warning, "retune_feeds_elsewhere");
      return out;
    }
    take(out, c, r.n_rpm, r.vf_mm_min, r.plunge_mm_min, r.ramp_mm_min);
    // A rule's lead is as fast as the cut; that is no reason to make one faster that was slower.
    if (r.lead_mm_min > 0 && r.lead_mm_min < r.vf_mm_min * (1 - 1e-9)) out.conditions.lead_mm_min = r.lead_mm_min;
    if (request_.in_proportion) out.conditions.in_proportion = true;
    out.conditions.stock_top_mm = request_.stock_top_mm;
    out.conditions.cuts_threads = out.operation == OperationKind::thread_mill;
    const bool by_centre = request_.arc_centres && process_of(out.operation) == Process::milling;
    if ((by_centre || out.conditions.cuts_threads) && c.diameter_mm) out.conditions.arc_radius_mm = *c.diameter_mm / 2;
    return out;
  }

  // The operation that its moves show; the usual one where they show none.
  OperationKind proposed(const ProgramSection& s, const Cutter& c, OperationKind usual, RetunedSection& out) const {
    const bool pecks = s.cycle == 73 || s.cycle == 83;
    if (usual == OperationKind::drill && pecks && can_do(c.kind, OperationKind::peck)) {
      say(out, Severity::note, "retune_peck_seen", {{"cycle", static_cast<double>(s.cycle)}});
      return OperationKind::peck;
    }
    constexpr double full = 0.95;  // of the diameter
    if (process_of(usual) == Process::milling && usual != OperationKind::face && s.cut_sizes.ae_mm && c.diameter_mm &&
        *s.cut_sizes.ae_mm >= full * *c.diameter_mm && *s.cut_sizes.ae_mm <= *c.diameter_mm + 0.001 &&
        can_do(c.kind, OperationKind::slot)) {
      say(out, Severity::note, "retune_slot_seen", {{"ae_mm", *s.cut_sizes.ae_mm}});
      return OperationKind::slot;
    }
    if (s.named && *s.named != usual && process_of(usual) == Process::milling && can_do(c.kind, *s.named)) {
      say(out, Severity::note, "retune_comment_seen",
          {{"comment", s.named_by}, {"operation", std::string(label_of(*s.named))}});
      return *s.named;
    }
    return usual;
  }

  // Depth and width of its cut: what is stated, else what its moves show and the cutter can do.
  void see_cut(const ProgramSection& s, const Cutter& c, const ToolPairing& said, RetunedSection& out) const {
    out.ap_mm = said.ap_mm;
    out.ae_mm = said.ae_mm;
    if (process_of(out.operation) != Process::milling) return;
    const CutEvidence::Found& seen = s.cut_sizes;
    if (!out.ap_mm && seen.ap_mm && *seen.ap_mm <= c.flute_length_mm.value_or(*seen.ap_mm)) {
      out.ap_mm = seen.ap_mm;
      say(out, Severity::note, "retune_depth_seen",
          {{"ap_mm", *seen.ap_mm}, {"levels", static_cast<double>(seen.levels)}});
    }
    // From the stock's top down to the first level is a cut too, and the only one where there is one level.
    if (!said.ap_mm && request_.stock_top_mm && seen.highest_mm && (seen.levels == 1 || seen.ap_mm)) {
      const double first = *request_.stock_top_mm - *seen.highest_mm;
      if (first > out.ap_mm.value_or(0) + 1e-9 && first <= c.flute_length_mm.value_or(first)) {
        out.ap_mm = first;
        say(out, Severity::note, "retune_top_seen", {{"ap_mm", first}});
      }
    }
    if (!out.ae_mm && seen.ae_mm && c.diameter_mm && *seen.ae_mm <= *c.diameter_mm + 0.001) {
      out.ae_mm = std::min(*seen.ae_mm, *c.diameter_mm);
      say(out, Severity::note, "retune_width_seen",
          {{"ae_mm", *seen.ae_mm}, {"passes", static_cast<double>(seen.passes)}});
    }
  }

  // What is wrong with it as it is, whatever the tables say.
  void look_at(const ProgramSection& s, RetunedSection& out) const {
    const auto at = [&](Severity severity, const char* code, const std::optional<std::size_t>& block,
                        Details more = {}) {
      if (!block) return;
      Details values{{"line", static_cast<double>(*block + 1)}};
      values.insert(values.end(), more.begin(), more.end());
      out.as_it_is.push_back({severity, code, "", std::move(values)});
    };
    const std::string machine = machine_.name;
    at(Severity::error, "program_no_spindle", s.no_spindle);
    at(Severity::error, "program_no_feed", s.no_feed);
    at(Severity::warning, "program_rapid_at_depth", s.rapid_at_depth);
    if (!has_coolant(machine_, Coolant::flood))
      at(Severity::warning, "program_no_flood", s.flood, {{"machine", machine}});
    if (!has_coolant(machine_, Coolant::mist) && !has_coolant(machine_, Coolant::air))
      at(Severity::warning, "program_no_mist", s.mist, {{"machine", machine}});
    const bool magazine = std::any_of(state_.pockets.begin(), state_.pockets.end(),
                                      [&](const Pocket& p) { return p.machine == request_.machine; });
    if (magazine && !standing(s.tool))
      at(Severity::warning, "program_not_in_magazine", s.first,
         {{"t", static_cast<double>(s.tool)}, {"machine", machine}});
  }

  // Of a tap: its feed is not the pitch times its speed.
  void look_at_pitch(const ProgramSection& s, const Cutter& c, RetunedSection& out) const {
    constexpr double by_digits = 0.005;  // of a feed that is written in whole numbers
    if (c.kind != CutterKind::tap || !c.pitch_mm || s.tap_mm_min <= 0 || s.n_rpm <= 0) return;
    const double right = *c.pitch_mm * s.n_rpm;
    if (std::abs(s.tap_mm_min - right) <= by_digits * right) return;
    out.as_it_is.push_back({Severity::error,
                            "program_off_pitch",
                            "",
                            {{"line", static_cast<double>(s.first + 1)},
                             {"vf_mm_min", s.tap_mm_min},
                             {"pitch_mm", *c.pitch_mm},
                             {"right_mm_min", right}}});
  }

  // An operation of the job that wrote it, with what is its own.
  bool from_job(const ProgramSection& s, RetunedSection& out) {
    if (!job_ || !operation_ || *operation_ < 1 || static_cast<std::size_t>(*operation_) > job_->operations.size())
      return false;
    const auto place = static_cast<std::size_t>(*operation_) - 1;
    const Operation& was = was_->operations[place];
    Operation now = job_->operations[place];
    if (now.cutter.id.is_null()) return false;
    retake(state_, resolver_, *job_, now);
    out.operation = now.operation;
    out.found = {held(&now.cutter), FoundBy::job, false,
                 fmt::format("operation {} of the job {}", *operation_, job_->name)};
    // Which of its conditions, by the speed that the program has.
    const TakenConditions *t = &now.taken, *before = &was.taken;
    for (const auto& [old, anew] : {std::pair{&was.taken, &now.taken},
                                    {&was.taken_slot, &now.taken_slot},
                                    {&was.taken_finish, &now.taken_finish},
                                    {&was.taken_floor, &now.taken_floor}})
      if (old->n_rpm && anew->n_rpm && *old->n_rpm == s.n_rpm) {
        t = anew, before = old;
        break;
      }
    out.source = t->source;
    out.trail = t->trail;
    out.guess = t->guess;
    if (!t->n_rpm || !t->vf_mm_min) return true;
    take(out, now.cutter, *t->n_rpm, *t->vf_mm_min, t->plunge_mm_min.value_or(0), t->ramp_mm_min.value_or(0));
    out.conditions.in_proportion = true;
    out.conditions.was_vf_mm_min = before->vf_mm_min;
    return true;
  }

  static void take(RetunedSection& out, const Cutter& c, double n, double vf, double plunge, double ramp) {
    if (out.left_out || !(n > 0) || !(vf > 0)) return;
    const auto or_zero = [](double v) { return v > 0 ? v : 0.0; };
    out.conditions.n_rpm = n;
    out.conditions.vf_mm_min = vf;
    out.conditions.plunge_mm_min = or_zero(plunge);
    out.conditions.ramp_mm_min = or_zero(ramp);
    if (c.kind == CutterKind::tap) out.conditions.pitch_mm = c.pitch_mm;
  }

  static void say(RetunedSection& out, Severity severity, const char* code, Details values = {}) {
    out.messages.push_back({severity, code, "", std::move(values)});
  }

  const ShopState& state_;
  const Resolver& resolver_;
  const ProgramText& program_;
  const ProgramReading& reading_;
  const RetuneRequest& request_;
  const WorkMaterial& material_;
  const Machine& machine_;
  std::set<Id> off_;
  std::optional<Job> job_, was_;
  std::optional<int> operation_;
  std::map<int, FoundCutter> of_tool_;
  ToolPairing said_;  // of the section at hand
};

}  // namespace

NamedSize size_in(std::string_view comment) {
  NamedSize out;
  const std::string text = capitals(comment);
  out.kind = kind_in_words(text);
  for (std::size_t i = 0; i < text.size(); ++i) {
    const bool begins = i == 0 || !(is_letter(text[i - 1]) || is_digit(text[i - 1]) || text[i - 1] == '.');
    if (!begins) continue;
    std::size_t at = i;
    // The sign of a diameter is two bytes.
    const bool sign = text.compare(i, 2, "Ø") == 0 || text.compare(i, 2, "ø") == 0;
    if (text[i] == 'D' || sign) {
      at = i + (sign ? 2 : 1);
      while (at < text.size() && (text[at] == ' ' || text[at] == '=')) ++at;
      if (auto v = number_at(text, at)) {
        if (at < text.size() && text[at] == '"') *v *= mm_per_inch;
        if (!out.diameter_mm) out.diameter_mm = v;
        i = at - 1;
      }
    } else if (text[i] == 'R') {
      at = i + 1;
      if (const auto v = number_at(text, at)) {
        if (!out.corner_radius_mm) out.corner_radius_mm = v;
        i = at - 1;
      }
    } else if (text[i] == 'M') {
      at = i + 1;
      if (const auto v = number_at(text, at); v && out.thread.empty()) {
        out.thread = text.substr(i, at - i);
        // With its pitch: M8X1.25.
        if (at < text.size() && text[at] == 'X')
          if (std::size_t behind = at + 1; number_at(text, behind)) at = behind;
        i = at - 1;
      }
    } else if (is_digit(text[i]) || text[i] == '.') {
      const auto v = number_at(text, at);
      if (!v) continue;
      const bool inch =
          at < text.size() && (text[at] == '"' || text.compare(at, 3, " IN") == 0 || text.compare(at, 2, "IN") == 0);
      const bool mm = text.compare(at, 2, "MM") == 0 || text.compare(at, 3, " MM") == 0;
      if (!out.diameter_mm && (inch || mm)) out.diameter_mm = *v * (inch ? mm_per_inch : 1);
      i = at - 1;
    }
  }
  // A thread alone is a tap's size; a word for a kind that cuts no thread says otherwise.
  if (!out.thread.empty() && out.kind && *out.kind != CutterKind::tap && *out.kind != CutterKind::thread_mill)
    out.thread.clear();
  return out;
}

std::vector<Message> RetunedSection::only_as_it_is() const {
  std::vector<Message> out;
  for (const Message& m : as_it_is)
    if (std::none_of(messages.begin(), messages.end(), [&m](const Message& n) { return n.code == m.code; }))
      out.push_back(m);
  return out;
}

std::vector<RetunedSection> plan_retune(const ShopState& state, const Resolver& resolver, const ProgramText& program,
                                        const ProgramReading& reading, const RetuneRequest& request) {
  return Plan(state, resolver, program, reading, request).run();
}

}  // namespace pecorra
