#include "shop/task.h"

#include <algorithm>

namespace pecorra {

Tasks::~Tasks() {
  for (const TaskPointer& task : tasks_) task->cancel();
}

std::vector<TaskPointer> Tasks::running() const {
  std::vector<TaskPointer> seen;
  std::copy_if(tasks_.begin(), tasks_.end(), std::back_inserter(seen),
               [](const TaskPointer& task) { return !task->title().isEmpty(); });
  return seen;
}

void Tasks::begin(const TaskPointer& task) {
  tasks_.push_back(task);
  if (!task->title().isEmpty()) emit changed();
}

void Tasks::end(const TaskPointer& task) {
  if (std::erase(tasks_, task) > 0 && !task->title().isEmpty()) emit changed();
}

void Tasks::fail(const QString& title, const QString& why) {
  emit failed(title.isEmpty() ? tr("Failed: %1").arg(why) : tr("%1 failed: %2").arg(title, why));
}

}  // namespace pecorra

#include "moc_task.cpp"
