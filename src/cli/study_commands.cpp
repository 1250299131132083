// uadze study: a study's tasks planned, run one by one or all, gathered; handed to Slurm and asked for.
#include <sys/wait.h>
#include <unistd.h>

#include <cstdlib>
#include <filesystem>

#include "cli/common.h"
#include "core/base/counted.h"
#include "core/base/files.h"
#include "core/solve/study_run.h"

namespace uadze::cli {
namespace {

std::filesystem::path results_of(const StudyOptions& o) {
  return o.into.empty() ? solve::results_folder(o.file) : std::filesystem::path(o.into);
}

std::string plan_text(const solve::Study& study) {
  std::string out =
      fmt::format("{}, {}, {}: {}\n", counted(study.choices(), "choice"), counted(study.cases.size(), "case"),
                  counted(study.models.size(), "model"), counted(study.tasks(), "task"));
  // Every case once, and each model: choices cost much the same.
  double all = 0;
  const int per_choice = static_cast<int>(study.cases.size() * study.models.size());
  for (int k = 1; k <= per_choice; ++k) {
    const double one = solve::task_seconds(study, k);
    const auto task = solve::task_of(study, k);
    out +=
        fmt::format("  {}, {}: about {:.1f} core seconds\n", study.cases[task.case_].name, task.model, one);
    all += one * study.choices();
  }
  return out + fmt::format("about {:.3g} core hours in all\n", all / 3600);
}

int run(const StudyOptions& options, const solve::Study& study) {
  const auto folder = results_of(options);
  if (!options.task) {
    const auto ran = solve::run_missing(study, folder);
    // One that can not be is told; the rest went on.
    for (const auto& [number, why] : ran.failed) fmt::print(stderr, "task {}: {}\n", number, why);
    return ran.failed.empty() ? 0 : 1;
  }
  solve::task_of(study, *options.task);
  std::error_code failed;
  std::filesystem::create_directories(folder, failed);
  if (failed)
    throw InputError(
        Message{.file = folder.string(), .expected = "a folder for results", .found = failed.message()});
  if (solve::run_into(study, folder, *options.task) == solve::TaskRan::busy)
    fmt::print(stderr, "task {}: another process is at it\n", *options.task);
  return 0;
}

int gather(const StudyOptions& options, const solve::Study& study) {
  const auto gathered = solve::gather(study, results_of(options), !options.no_keys);
  write_or_put(options.output, options.tasks ? results_csv(gathered) : choices_csv(gathered));
  for (const std::string& why : gathered.passed_over) fmt::print(stderr, "passed over {}\n", why);
  if (!gathered.missing.empty())
    fmt::print(stderr, "{} of {} tasks are missing, the first is {}\n", gathered.missing.size(),
               study.tasks(), gathered.missing.front());
  return gathered.missing.empty() ? 0 : 1;
}

/// For a shell, whatever it holds.
std::string quoted(const std::string& text) {
  std::string out = "'";
  for (const char c : text) out += c == '\'' ? std::string("'\\''") : std::string(1, c);
  return out + "'";
}

std::string array_script(const StudyOptions& o, const solve::Study& study) {
  const auto folder = std::filesystem::absolute(results_of(o));
  const int minutes = static_cast<int>(o.hours * 60 + 0.999);
  std::string out = "#!/bin/sh\n";
  out += fmt::format(
      "#SBATCH --job-name=uadze-study\n#SBATCH --array=1-{}\n#SBATCH --time={}\n#SBATCH --mem={}M\n",
      study.tasks(), minutes, static_cast<int>(o.memory_gb * 1024));
  out += "#SBATCH --cpus-per-task=1\n#SBATCH --requeue\n";
  if (!o.partition.empty()) out += "#SBATCH --partition=" + o.partition + "\n";
  out += fmt::format("#SBATCH --output={}/log-%a.txt\n", folder.string());
  const auto self = std::filesystem::read_symlink("/proc/self/exe");
  return out + fmt::format("exec {} study run {} --into {} --task \"$SLURM_ARRAY_TASK_ID\"\n",
                           quoted(self.string()), quoted(std::filesystem::absolute(o.file).string()),
                           quoted(folder.string()));
}

/// Runs a program without a shell; its exit code, 127 where there is none.
int program(const std::vector<std::string>& words) {
  const pid_t child = ::fork();
  if (child == 0) {
    std::vector<char*> args;
    for (const std::string& w : words) args.push_back(const_cast<char*>(w.c_str()));
    args.push_back(nullptr);
    ::execvp(args[0], args.data());
    ::_exit(127);
  }
  int status = 0;
  if (child < 0 || ::waitpid(child, &status, 0) < 0) return 127;
  return WIFEXITED(status) ? WEXITSTATUS(status) : 126;
}

int submit(const StudyOptions& options, const solve::Study& study) {
  const std::string script = array_script(options, study);
  if (options.print) {
    put(script);
    return 0;
  }
  const auto folder = results_of(options);
  std::error_code failed;
  std::filesystem::create_directories(folder, failed);
  const auto file = folder / "study.sbatch";
  write_file_atomically(file, script);
  const int code = program({"sbatch", file.string()});
  if (code == 127)
    throw InputError(Message{.file = file.string(),
                             .expected = "Slurm on this machine (sbatch)",
                             .found = "none: take the script to one, or use study run"});
  return code;
}

int status(const StudyOptions& options, const solve::Study& study) {
  const auto gathered = solve::gather(study, results_of(options), false);
  put(fmt::format("{} of {} tasks have a result\n", study.tasks() - static_cast<int>(gathered.missing.size()),
                  study.tasks()));
  if (program({"squeue", "--name=uadze-study", "--array", "--format=%i %T %M %R"}) == 127)
    put("no Slurm on this machine (squeue): what waits there is not known\n");
  return gathered.missing.empty() ? 0 : 1;
}

}  // namespace

int study(const StudyOptions& options) {
  const solve::Study study = solve::read_study(options.file);
  // A task alone looks at what it needs itself.
  if (options.what == "plan" || options.what == "submit" || (options.what == "run" && !options.task))
    check_study(study);
  if (options.what == "plan") {
    put(plan_text(study));
    return 0;
  }
  if (options.what == "run") return run(options, study);
  if (options.what == "gather") return gather(options, study);
  return options.what == "submit" ? submit(options, study) : status(options, study);
}

}  // namespace uadze::cli
