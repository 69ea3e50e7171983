#include "app/cutters/shared_lines.h"

#include "shop/words.h"

namespace pecorra {
namespace {

class SharedLines : public ChangeLines {
 public:
  SharedLines(Workspace& workspace, SharedLibraries& owner, const Id& library,
              std::shared_ptr<const SharedReport> report)
      : workspace_(workspace), owner_(owner), library_(library), report_(std::move(report)), there_(report_->theirs) {
    // Conflicts have to be decided explicitly.
    for (const SharedLine& line : report_->lines)
      picked_.push_back(line.state == SharedState::from_file && !moves(line));
  }
  std::size_t size() const override { return report_->lines.size(); }
  MergeState state(std::size_t i) const override {
    const SharedLine& line = report_->lines[i];
    if (line.state != SharedState::from_file || moves(line)) return MergeState::conflict;
    return line.here ? MergeState::changed : MergeState::fresh;
  }
  QString line(std::size_t i) const override { return QString::number(i + 1); }
  bool picked(std::size_t i) const override { return picked_[i]; }
  void pick(std::size_t i, bool picked) override { picked_[i] = picked; }
  QString what(std::size_t i) const override { return shared_line_name(workspace_.state(), there_, report_->lines[i]); }
  QString change(std::size_t i) const override {
    return shared_line_changes(workspace_.state(), library_, there_, report_->lines[i], workspace_.units())
        .join(QStringLiteral("; "));
  }
  QString take_text(int picked) const override {
    return picked == 1 ? QObject::tr("Apply 1 change") : QObject::tr("Apply %1 changes").arg(picked);
  }
  QString counts_text(const int (&counts)[5]) const override {
    return QObject::
        tr("In the file: %1 new · %2 changed · %3 in conflict. Ticked lines are taken from the file; the others wait.")
            .arg(counts[0])
            .arg(counts[1])
            .arg(counts[3]);
  }
  void take() override {
    std::vector<std::size_t> places;
    for (std::size_t i = 0; i < picked_.size(); ++i)
      if (picked_[i]) places.push_back(i);
    const Library* library = workspace_.state().libraries.find(library_);
    if (!library) return;
    workspace_.shop().apply(take_shared(workspace_.state(), *library, *report_, places));
    settle(true);
  }
  QString other_text(int rest) const override {
    return rest == 1 ? QObject::tr("The other line keeps this shop's value")
                     : QObject::tr("The other %1 keep this shop's values").arg(rest);
  }
  QString other_hint() const override {
    return QObject::tr("For lines without a tick, this shop's values are written to the file");
  }
  void take_other() override { settle(false); }

 private:
  void settle(bool picked) {
    std::vector<SharedLine> lines;
    for (std::size_t i = 0; i < picked_.size(); ++i)
      if (picked_[i] == picked) lines.push_back(report_->lines[i]);
    owner_.settle(library_, lines);
  }
  bool moves(const SharedLine& line) const {
    const Cutter* c = line.kind == ObjectKind::cutter ? workspace_.state().cutters.find(line.id) : nullptr;
    return c && c->library != library_;
  }
  Workspace& workspace_;
  SharedLibraries& owner_;
  Id library_;
  std::shared_ptr<const SharedReport> report_;
  SharedSide there_;
  std::vector<bool> picked_;
};

}  // namespace

std::unique_ptr<ChangeLines> shared_lines(Workspace& workspace, SharedLibraries& shared, const Id& library) {
  auto report = shared.changes(library);
  return report ? std::make_unique<SharedLines>(workspace, shared, library, std::move(report)) : nullptr;
}

}  // namespace pecorra
