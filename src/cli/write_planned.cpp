#include "cli/write_planned.h"

#include <QThread>

#include "shop/merge_change.h"

namespace pecorra::cli {

int write_planned(const std::string& shop, const Planner& planner) {
  constexpr int most_tries = 100;
  const QString file = QString::fromStdString(shop);
  for (int i = 0;; ++i) {
    const auto loaded = load_shop(file);
    if (!loaded) return say(loaded.error());
    const auto plan = planner(*loaded);
    if (!plan) return plan.error();
    if (!plan->change.empty()) {
      const auto written = write_change(file, loaded->seq, plan->change);
      if (!written) {
        const StoreFault& fault = written.error();
        const bool clash = fault.trouble == StoreTrouble::conflict || fault.trouble == StoreTrouble::taken;
        const bool one_value = fault.trouble == StoreTrouble::conflict && !fault.clash.property.empty();
        if (clash && !one_value && i + 1 < most_tries) {
          QThread::msleep(1 + static_cast<unsigned long>(i));
          continue;
        }
        if (!clash) return say(fault);
        std::cerr << "shop: nothing was written: " << refusal_text(loaded->state, fault).toStdString() << "\n";
        return failed;
      }
    }
    std::cout << plan->answer.dump(2) << "\n";
    return answered;
  }
}

}  // namespace pecorra::cli
