#include "core/solve/study_run.h"

#include <fcntl.h>
#include <sys/file.h>
#include <tbb/parallel_for.h>
#include <unistd.h>

#include <algorithm>
#include <mutex>

#include "core/base/files.h"
#include "core/base/message.h"

namespace uadze::solve {
namespace {

/// Holds the task while it runs: another run of it waits for nothing and leaves it alone.
class TaskHold {
 public:
  explicit TaskHold(const std::filesystem::path& result) : name_(result.string() + ".lock") {
    file_ = ::open(name_.c_str(), O_CREAT | O_RDWR | O_CLOEXEC, 0666);
    mine_ = file_ >= 0 && ::flock(file_, LOCK_EX | LOCK_NB) == 0;
  }
  ~TaskHold() {
    if (mine_) ::unlink(name_.c_str());
    if (file_ >= 0) ::close(file_);
  }
  TaskHold(const TaskHold&) = delete;
  bool mine() const { return mine_; }

 private:
  std::string name_;
  int file_ = -1;
  bool mine_ = false;
};

}  // namespace

std::filesystem::path results_folder(const std::filesystem::path& study) {
  std::filesystem::path out = study;
  return out.replace_extension() += ".results";
}

TaskRan run_into(const Study& study, const std::filesystem::path& folder, int number, Progress* progress) {
  const auto file = result_file(folder, number);
  const TaskHold hold(file);
  if (!hold.mine()) return TaskRan::busy;
  std::error_code ignored;
  if (std::filesystem::exists(file, ignored)) {
    try {
      if (parse_result(read_file(file), file.string()).key == task_key(study, number))
        return TaskRan::was_there;
    } catch (const InputError&) {
      // Half of a result is none: it is run again.
    }
  }
  write_file_atomically(file, result_text(run_task(study, number, progress)));
  return TaskRan::done;
}

StudyRan run_missing(const Study& study, const std::filesystem::path& folder, Progress* progress) {
  std::error_code failed;
  std::filesystem::create_directories(folder, failed);
  if (failed)
    throw InputError(
        Message{.file = folder.string(), .expected = "a folder for results", .found = failed.message()});
  StudyRan out;
  std::mutex mutex;
  int ended = 0;
  tbb::parallel_for(1, study.tasks() + 1, [&](int number) {
    if (progress && progress->cancelled()) return;
    Progress own(progress);
    std::string why;
    TaskRan ran = TaskRan::done;
    try {
      ran = run_into(study, folder, number, &own);
    } catch (const Cancelled&) {
      return;
    } catch (const InputError& error) {
      why = error.what();
    }
    const std::lock_guard lock(mutex);
    if (!why.empty())
      out.failed.emplace_back(number, why);
    else
      ++(ran == TaskRan::done ? out.done : ran == TaskRan::was_there ? out.there : out.busy);
    if (progress) progress->report(static_cast<double>(++ended) / study.tasks());
  });
  if (progress) progress->check();
  std::sort(out.failed.begin(), out.failed.end());
  return out;
}

}  // namespace uadze::solve
