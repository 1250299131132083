#include "core/solve/resolved_store.h"

#include <fmt/format.h>
#include <zlib.h>

#include <algorithm>
#include <chrono>
#include <cmath>
#include <fstream>

#include "core/base/files.h"
#include "core/base/json.h"
#include "core/base/message.h"
#include "core/resolved/bytes.h"

namespace uadze::solve {
namespace {

/// Of the file's layout, and of what a run computes.
constexpr std::string_view kept_mark = "uadze kept run 1\n";
constexpr size_t most_kept = size_t{2} << 30;

void put_points(std::string& out, const std::vector<Vec3>& points) {
  std::vector<float> list;
  for (const Vec3& p : points)
    for (int a = 0; a < 3; ++a) list.push_back(static_cast<float>(p[a]));
  resolved::put(out, list);
}

void get_points(resolved::Reader& in, std::vector<Vec3>& points) {
  std::vector<float> list;
  in.get(list);
  for (size_t k = 0; k + 2 < list.size(); k += 3)
    points.emplace_back(Eigen::Vector3f(list[k], list[k + 1], list[k + 2]).cast<double>());
}

void put_frames(std::string& out, const std::vector<ResolvedFrame>& frames) {
  resolved::put(out, static_cast<std::uint64_t>(frames.size()));
  for (const ResolvedFrame& f : frames) {
    resolved::put(out, f.time);
    for (int a = 0; a < 3; ++a) resolved::put(out, f.pull[a]);
    put_points(out, f.surface.points), put_points(out, f.surface.drops);
    resolved::put(out, f.surface.triangles), resolved::put(out, f.wet);
  }
}

void get_frames(resolved::Reader& in, std::vector<ResolvedFrame>& frames) {
  std::uint64_t count = 0;
  in.get(count);
  for (std::uint64_t k = 0; k < count; ++k) {
    ResolvedFrame f;
    in.get(f.time);
    for (int a = 0; a < 3; ++a) in.get(f.pull[a]);
    get_points(in, f.surface.points), get_points(in, f.surface.drops);
    in.get(f.surface.triangles), in.get(f.wet);
    for (const auto& t : f.surface.triangles)
      for (const int corner : t)
        if (corner < 0 || static_cast<size_t>(corner) >= f.surface.points.size())
          throw std::runtime_error("a corner that is not there");
    frames.push_back(std::move(f));
  }
}

std::string packed(const std::string& plain) {
  std::string out(compressBound(static_cast<uLong>(plain.size())), '\0');
  auto size = static_cast<uLongf>(out.size());
  if (compress2(reinterpret_cast<Bytef*>(out.data()), &size, reinterpret_cast<const Bytef*>(plain.data()),
                static_cast<uLong>(plain.size()), 1) != Z_OK)
    throw std::runtime_error("it can not be packed");
  out.resize(size);
  return out;
}

std::string unpacked(std::string_view bytes, std::uint64_t size) {
  if (size > most_kept) throw std::runtime_error("a size that can not be");
  std::string out(static_cast<size_t>(size), '\0');
  auto got = static_cast<uLongf>(out.size());
  if (uncompress(reinterpret_cast<Bytef*>(out.data()), &got, reinterpret_cast<const Bytef*>(bytes.data()),
                 static_cast<uLong>(bytes.size())) != Z_OK ||
      got != out.size())
    throw std::runtime_error("it is damaged");
  return out;
}

nlohmann::ordered_json label_of(const ResolvedJob& job, double seconds) {
  return {{"setup", job.setup},          {"driven", job.driven},    {"level_m3", job.ask.level},
          {"from_s", job.drive.begin()}, {"to_s", job.drive.end()}, {"cell_m", job.options.size},
          {"seconds", seconds}};
}

ContentKey kept_key(const ResolvedJob& job) {
  KeyMaker key;
  key.add("kept").add(resolved::key_of(job.input(), job.options));
  return key.key();
}

std::filesystem::path named(const KeepOptions& options, const ContentKey& key, const char* ending) {
  return options.folder / fmt::format("{:016x}{:016x}.{}", key.high, key.low, ending);
}

}  // namespace

std::filesystem::path runs_folder(const std::filesystem::path& project) {
  std::string name = project.filename().string();
  for (const std::string_view ending : {".json", ".uadze"})
    if (name.ends_with(ending)) name.resize(name.size() - ending.size());
  return project.parent_path() / (name + ".runs");
}

std::optional<KeptRun> kept_run(const ResolvedJob& job, const KeepOptions& options) {
  if (options.folder.empty()) return std::nullopt;
  KeptRun out;
  out.key = kept_key(job);
  const auto file = named(options, out.key, "run");
  std::error_code ignored;
  if (!std::filesystem::is_regular_file(file, ignored)) return std::nullopt;
  // One that can not be read is as good as none: the run takes its place.
  try {
    const std::string bytes = read_file(file, most_kept);
    std::string_view rest = bytes;
    const size_t line = rest.find('\n', kept_mark.size());
    if (!rest.starts_with(kept_mark) || line == std::string_view::npos) return std::nullopt;
    const auto label = json_of<nlohmann::json>(rest.substr(kept_mark.size(), line - kept_mark.size()));
    out.seconds = label.at("seconds").get<double>();
    resolved::Reader head{rest.substr(line + 1)};
    std::uint64_t size = 0;
    head.get(size);
    const std::string plain = unpacked(head.bytes, size);
    resolved::Reader in{plain};
    resolved::get(in, out.run);
    get_frames(in, out.frames);
    if (!in.bytes.empty()) return std::nullopt;
  } catch (const std::exception&) {
    return std::nullopt;
  }
  out.was_there = true;
  return out;
}

KeptRun resolve_kept(const ResolvedJob& job, const KeepOptions& options, Progress* progress) {
  if (auto there = kept_run(job, options)) return std::move(*there);
  KeptRun out;
  out.key = kept_key(job);
  resolved::RunOptions run = job.options;
  const resolved::RunInput input = job.input();
  const double driven = input.drive.end() - input.drive.begin();
  const double pictures = std::min(kept_pictures, most_pictures / std::max(driven, 1e-3));
  const auto each = static_cast<size_t>(std::max(1.0, std::round(1 / (pictures * run.sample))));
  run.seen = [&, each](const resolved::Fuel& fuel, size_t sample) {
    if (job.options.seen) job.options.seen(fuel, sample);
    if (sample % each != 0) return;
    const double t = job.drive.begin() + static_cast<double>(sample) * run.sample;
    ResolvedFrame frame{.time = t, .pull = job.drive.at(t), .surface = resolved::surface_of(fuel), .wet = {}};
    for (const tank::Pickup& p : job.car.pickups) frame.wet.push_back(fuel.wet(p.position, p.sock_radius));
    out.frames.push_back(std::move(frame));
  };
  run.gathered = [&] {
    std::string bytes;
    put_frames(bytes, out.frames);
    return bytes;
  };
  run.restore = [&](std::string_view bytes) {
    resolved::Reader in{bytes};
    out.frames.clear();
    get_frames(in, out.frames);
  };
  std::error_code failed;
  if (!options.folder.empty()) {
    std::filesystem::create_directories(options.folder, failed);
    if (failed) out.not_kept = options.folder.string() + ": " + failed.message();
    if (!failed && run.checkpoint.empty())
      run.checkpoint = named(options, out.key, "part"), run.every = options.every;
  }
  const auto begin = std::chrono::steady_clock::now();
  try {
    out.run = resolved::run(input, run, progress);
  } catch (const InputError& error) {
    // A checkpoint of ours that is damaged is begun anew; one that the user named is left to him.
    std::error_code ignored;
    const bool ours = job.options.checkpoint.empty() && !run.checkpoint.empty() &&
                      error.messages().front().file == run.checkpoint.string();
    if (!ours || !std::filesystem::remove(run.checkpoint, ignored)) throw;
    out.frames.clear();
    out.run = resolved::run(input, run, progress);
  }
  out.seconds = std::chrono::duration<double>(std::chrono::steady_clock::now() - begin).count();
  if (options.folder.empty() || failed) return out;
  try {
    std::string plain, bytes(kept_mark);
    resolved::put(plain, out.run);
    put_frames(plain, out.frames);
    bytes += label_of(job, out.seconds).dump() + "\n";
    resolved::put(bytes, static_cast<std::uint64_t>(plain.size()));
    bytes += packed(plain);
    write_file_atomically(named(options, out.key, "run"), bytes);
  } catch (const std::exception& error) {
    out.not_kept = error.what();
  }
  return out;
}

std::vector<KeptLine> kept_runs(const std::filesystem::path& folder) {
  std::vector<std::pair<std::filesystem::file_time_type, KeptLine>> found;
  std::error_code failed;
  for (std::filesystem::directory_iterator i(folder, failed), end; !failed && i != end; i.increment(failed)) {
    KeptLine line{.file = i->path(), .setup = {}, .driven = {}};
    std::error_code ignored;
    if (!i->is_regular_file(ignored)) continue;
    line.bytes = i->file_size(ignored);
    const std::string ending = line.file.extension().string();
    line.stopped = ending == ".part";
    // What a killed save has left is listed too, so that it can be thrown away.
    if (!line.stopped && !ending.starts_with(".part-") && ending != ".run") continue;
    std::string mark(kept_mark.size(), '\0'), text;
    std::ifstream in(line.file, std::ios::binary);
    if (ending == ".run" && in.read(mark.data(), static_cast<std::streamsize>(mark.size())) &&
        mark == kept_mark && std::getline(in, text) && text.size() < 10'000) {
      const auto label = json_or_none<nlohmann::json>(text);
      if (label.is_object()) {
        line.setup = label.value("setup", ""), line.driven = label.value("driven", "");
        line.level = label.value("level_m3", 0.0), line.size = label.value("cell_m", 0.0);
        line.from = label.value("from_s", 0.0), line.to = label.value("to_s", 0.0);
      }
    }
    found.emplace_back(i->last_write_time(ignored), std::move(line));
  }
  std::sort(found.begin(), found.end(), [](const auto& a, const auto& b) {
    return a.first != b.first ? a.first > b.first : a.second.file < b.second.file;
  });
  std::vector<KeptLine> out;
  for (auto& [time, line] : found) out.push_back(std::move(line));
  return out;
}

std::uintmax_t throw_away(const std::vector<KeptLine>& lines) {
  std::uintmax_t out = 0;
  for (const KeptLine& line : lines) {
    std::error_code failed;
    if (std::filesystem::remove(line.file, failed)) out += line.bytes;
    if (failed)
      throw InputError(Message{.file = line.file.string(),
                               .expected = "a run that can be thrown away",
                               .found = failed.message()});
  }
  return out;
}

}  // namespace uadze::solve
