#include "core/resolved/run.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <cstdlib>
#include <fstream>
#include <limits>

#include "core/base/files.h"
#include "core/base/message.h"

namespace uadze::resolved {
namespace {

constexpr std::string_view checkpoint_mark = "uadze resolved 2\n";
constexpr size_t most_checkpoint = size_t{2} << 30;

void put(std::string& out, const Sample& s) {
  resolved::put(out, s.time), resolved::put(out, s.volume), resolved::put(out, s.filled);
  for (int a = 0; a < 3; ++a) resolved::put(out, s.centroid[a]), resolved::put(out, s.force[a]);
  resolved::put(out, s.energy), resolved::put(out, s.fastest);
  resolved::put(out, s.space), resolved::put(out, s.wet), resolved::put(out, s.share);
  resolved::put(out, s.through), resolved::put(out, s.open);
}

void get(Reader& in, Sample& s) {
  in.get(s.time), in.get(s.volume), in.get(s.filled);
  for (int a = 0; a < 3; ++a) in.get(s.centroid[a]), in.get(s.force[a]);
  in.get(s.energy), in.get(s.fastest);
  in.get(s.space), in.get(s.wet), in.get(s.share), in.get(s.through), in.get(s.open);
}

class Runner {
 public:
  Runner(const RunInput& input, const RunOptions& options, Progress* progress)
      : in_(input),
        options_(options),
        progress_(progress),
        lattice_(std::make_shared<const Lattice>(
            make_lattice(input.tank, input.parts, {.size = options.size}, input.meshes))),
        fuel_(input.tank, lattice_, input.fuel),
        owed_(input.draws.size(), 0.0),
        owed_before_(input.draws.size(), 0.0),
        drawn_(input.draws.size(), 0.0),
        last_through_(input.tank.openings.size(), 0.0) {
    if (!(options.sample >= 1e-4) || !std::isfinite(options.sample))
      throw InputError(Message{
          .place = "sample", .expected = "0.1 ms or more", .found = fmt::format("{:g} s", options.sample)});
    if (input.drive.time.size() < 2)
      throw InputError(Message{.place = "drive", .expected = "two instants or more", .found = "fewer"});
  }

  RunResult run() {
    const double begin = in_.drive.begin(), end = in_.drive.end();
    const auto count = static_cast<size_t>(std::llround((end - begin) / options_.sample));
    size_t done = 0;
    if (!thaw(done)) {
      fill();
      out_.samples.push_back(sample(0));
    }
    double saved = static_cast<double>(done) * options_.sample;
    for (size_t k = done; k < count; ++k) {
      const double from = begin + static_cast<double>(k) * options_.sample;
      // In pieces, so that a wish to stop is heard and the push follows its trace.
      const int pieces = std::max(1, static_cast<int>(std::ceil(options_.sample / 0.0201)));
      for (int piece = 0; piece < pieces; ++piece) {
        if (progress_) progress_->check();
        const double dt = options_.sample / pieces;
        // What is drawn closes up within the step, before anybody looks.
        circulate(dt);
        fuel_.advance(dt, in_.drive.push(from + (piece + 0.5) * dt));
      }
      out_.samples.push_back(sample(options_.sample));
      if (options_.seen) options_.seen(fuel_, k + 1);
      if (progress_) progress_->report(static_cast<double>(k + 1) / static_cast<double>(count));
      const double now = static_cast<double>(k + 1) * options_.sample;
      if (!options_.checkpoint.empty() && now - saved >= options_.every && k + 1 < count) {
        saved = now;
        try {
          freeze();
          failed_.clear();
        } catch (const std::exception& error) {
          failed_ = error.what();
        }
      }
    }
    if (!options_.checkpoint.empty()) {
      std::error_code ignored;
      std::filesystem::remove(options_.checkpoint, ignored);
    }
    out_.steps = fuel_.steps();
    for (const std::string& s : lattice_->said) out_.said.push_back({s, {}});
    if (!failed_.empty())
      out_.said.push_back(
          {"Its last checkpoint could not be written, so it could not have gone on from there: " + failed_,
           {}});
    say_shallow();
    out_.cells = lattice_->count();
    out_.particles = fuel_.particles().size();
    out_.size = options_.size;
    for (const Sample& s : out_.samples)
      if (s.volume > 0) out_.worst_filled = std::max(out_.worst_filled, std::abs(s.filled / s.volume - 1));
    return std::move(out_);
  }

 private:
  void fill() {
    if (!in_.volumes.empty()) {
      fuel_.fill(in_.surfaces, in_.volumes);
      return;
    }
    if (!std::isfinite(in_.volume) || in_.volume < 0 || in_.volume > in_.tank.volume())
      throw InputError(Message{.place = "volume",
                               .expected = fmt::format("between 0 and {:.4g} L", in_.tank.volume() * 1e3),
                               .found = fmt::format("{:.4g} L", in_.volume * 1e3)});
    tank::PlaneCutter whole(in_.tank.whole);
    whole.aim(Vec3::UnitZ());
    const tank::Plane level{Vec3::UnitZ(), whole.offset_for(in_.volume).offset};
    std::vector<double> volumes;
    double all = 0;
    for (const tank::Space& s : in_.tank.spaces) {
      volumes.push_back(moments_below(s.solid, level).volume);
      all += volumes.back();
    }
    for (double& v : volumes) v *= all > 0 ? in_.volume / all : 0.0;
    fuel_.fill(std::vector<tank::Plane>(volumes.size(), level), volumes);
  }

  /// Fuel that lies hardly deeper than a cell is no more than films to these cells.
  void say_shallow() {
    tank::PlaneCutter whole(in_.tank.whole);
    whole.aim(Vec3::UnitZ());
    const double held = out_.samples.empty() ? 0.0 : out_.samples.front().volume;
    if (held <= 0) return;
    const double widest = whole.cut(whole.offset_for(held).offset).section.area;
    const double depth = widest > 0 ? held / widest : 0.0;
    if (depth < 2.5 * options_.size)
      out_.said.push_back(
          {"At rest the fuel lies {} deep in the mean, {1} of these cells: films run without pressure. "
           "Choose smaller cells, or take the answer for a hint.",
           {{depth, Quantity::length}, {depth / options_.size, Quantity::plain}}});
  }

  void circulate(double dt) {
    double all = 0;
    for (size_t p = 0; p < in_.draws.size(); ++p) {
      if (in_.draws[p] <= 0) continue;
      const tank::Pickup& pickup = in_.pickups[p];
      const double taken =
          fuel_.draw(pickup.position, std::max(pickup.sock_radius, 0.008) + options_.size / 2,
                     in_.draws[p] * dt, owed_[p]);
      drawn_[p] += taken;
      all += taken;
    }
    if (all > 0 || back_owed_ > 0) fuel_.pour(in_.back, all, back_owed_);
  }

  Sample sample(double since) {
    const State s = fuel_.state();
    Sample out{.time = s.time,
               .volume = s.volume,
               .filled = s.filled,
               .centroid = s.centroid,
               .force = s.force,
               .energy = s.energy,
               .fastest = s.fastest,
               .space = s.space,
               .wet = {},
               .share = {},
               .through = {},
               .open = s.door_open};
    for (const tank::Pickup& p : in_.pickups) out.wet.push_back(fuel_.wet(p.position, p.sock_radius));
    for (size_t p = 0; p < in_.draws.size(); ++p) {
      // Particles come whole, so what is owed of one counts as got.
      const double asked = in_.draws[p] * since;
      const double got = drawn_[p] + owed_[p] - owed_before_[p];
      out.share.push_back(asked > 0 ? std::clamp(got / asked, 0.0, 1.0) : 1.0);
      owed_before_[p] = owed_[p];
      drawn_[p] = 0;
    }
    for (size_t o = 0; o < s.through.size(); ++o) {
      out.through.push_back(since > 0 ? (s.through[o] - last_through_[o]) / since : 0.0);
      last_through_[o] = s.through[o];
    }
    return out;
  }

  void freeze() const {
    std::string bytes(checkpoint_mark);
    const ContentKey key = key_of(in_, options_);
    resolved::put(bytes, key.high), resolved::put(bytes, key.low);
    resolved::put(bytes, owed_), resolved::put(bytes, owed_before_), resolved::put(bytes, back_owed_),
        resolved::put(bytes, last_through_);
    resolved::put(bytes, static_cast<std::uint64_t>(out_.samples.size()));
    for (const Sample& s : out_.samples) put(bytes, s);
    const std::string beside = options_.gathered ? options_.gathered() : std::string();
    resolved::put(bytes, std::vector<char>(beside.begin(), beside.end()));
    bytes += fuel_.frozen();
    write_file_atomically(options_.checkpoint, bytes);
  }

  bool thaw(size_t& done) {
    std::error_code ignored;
    if (options_.checkpoint.empty() || !std::filesystem::exists(options_.checkpoint, ignored)) return false;
    const std::string bytes = read_file(options_.checkpoint, most_checkpoint);
    const auto refuse = [&](const std::string& why) {
      return InputError(Message{.file = options_.checkpoint.string(),
                                .expected = "a checkpoint of this run, or none",
                                .found = why + ": take it away, or name another"});
    };
    if (!std::string_view(bytes).starts_with(checkpoint_mark)) throw refuse("another file");
    Reader in{std::string_view(bytes).substr(checkpoint_mark.size())};
    try {
      ContentKey key;
      in.get(key.high), in.get(key.low);
      if (key != key_of(in_, options_)) throw std::runtime_error("that of another run");
      std::uint64_t count = 0;
      in.get(owed_), in.get(owed_before_), in.get(back_owed_), in.get(last_through_), in.get(count);
      if (owed_.size() != in_.draws.size() || owed_before_.size() != owed_.size() || count == 0 ||
          count > 100'000'000)
        throw std::runtime_error("another length");
      for (std::uint64_t k = 0; k < count; ++k) {
        out_.samples.emplace_back();
        get(in, out_.samples.back());
      }
      std::vector<char> beside;
      in.get(beside);
      fuel_.thaw(in.bytes);
      if (options_.restore) options_.restore({beside.data(), beside.size()});
    } catch (const std::runtime_error& error) {
      throw refuse(error.what());
    }
    done = out_.samples.size() - 1;
    out_.resumed = true;
    return true;
  }

  const RunInput& in_;
  const RunOptions& options_;
  Progress* progress_;
  std::shared_ptr<const Lattice> lattice_;
  Fuel fuel_;
  std::vector<double> owed_, owed_before_, drawn_, last_through_;
  double back_owed_ = 0.0;
  std::string failed_;  ///< why the last checkpoint is none
  RunResult out_;
};

}  // namespace

ContentKey key_of(const RunInput& input, const RunOptions& options) {
  KeyMaker key;
  key.add("resolved run 7").add(options.size).add(options.sample).add(input.volume);
  for (const tank::Space& s : input.tank.spaces) {
    key.add(s.name).add(s.vented);
    for (const Vec3& v : s.body.vertices()) key.add(v.x()).add(v.y()).add(v.z());
    for (const tank::Triangle& t : s.body.triangles()) key.add(t[0]).add(t[1]).add(t[2]);
  }
  for (const tank::Opening& o : input.tank.openings) {
    key.add(o.name).add(o.from).add(o.to).add(o.area).add(o.discharge).add(static_cast<int>(o.passes));
    for (const tank::Cell& c : o.cells) key.add(c.at.x()).add(c.at.y()).add(c.at.z()).add(c.area);
  }
  for (const tank::Foam& f : input.parts.foam) key.add(f.name).add(f.porosity).add(f.permeability);
  for (size_t s = 0; s < input.tank.spaces.size(); ++s) key.add(input.tank.spaces[s].darcy);
  key.add(input.drive.time).add(input.drive.yaw);
  for (const Vec3& f : input.drive.force) key.add(f.x()).add(f.y()).add(f.z());
  key.add(input.volumes).add(input.draws);
  for (const tank::Plane& p : input.surfaces)
    key.add(p.normal.x()).add(p.normal.y()).add(p.normal.z()).add(p.offset);
  for (const tank::Pickup& p : input.pickups)
    key.add(p.name).add(p.position.x()).add(p.position.y()).add(p.position.z()).add(p.sock_radius);
  key.add(input.back.x()).add(input.back.y()).add(input.back.z());
  const FuelOptions& f = input.fuel;
  key.add(f.density).add(f.viscosity).add(f.ambient).add(f.courant).add(f.longest_step).add(f.sealed);
  for (const Vec3& v : f.vents) key.add(v.x()).add(v.y()).add(v.z());
  return key.key();
}

namespace {

/// Between a sentence that is kept and its values; those of before had their values in words.
constexpr char unit_separator = '\x1f';

Phrase unpacked(const std::string& kept) {
  std::vector<std::string> parts(1);
  for (const char c : kept) {
    if (c == unit_separator)
      parts.emplace_back();
    else
      parts.back() += c;
  }
  Phrase out{parts[0], {}};
  for (size_t k = 1; k + 1 < parts.size(); k += 2) {
    const auto value = parse_number(parts[k]), quantity = parse_number(parts[k + 1]);
    if (!value || !quantity || *quantity < 0 || *quantity > static_cast<int>(Quantity::turn_rate))
      return {parts[0], {}};
    out.values.emplace_back(*value, static_cast<Quantity>(*quantity));
  }
  return out;
}

}  // namespace

void put(std::string& out, const RunResult& r) {
  put(out, static_cast<std::uint64_t>(r.samples.size()));
  for (const Sample& s : r.samples) put(out, s);
  put(out, static_cast<std::uint64_t>(r.said.size()));
  for (const Phrase& p : r.said) {
    std::string text = p.text;
    for (const auto& [value, quantity] : p.values)
      text += fmt::format("{0}{1}{0}{2}", unit_separator, value, static_cast<int>(quantity));
    put(out, std::vector<char>(text.begin(), text.end()));
  }
  put(out, r.steps), put(out, r.cells), put(out, static_cast<std::uint64_t>(r.particles));
  put(out, r.size), put(out, r.worst_filled);
}

void get(Reader& in, RunResult& r) {
  std::uint64_t count = 0;
  in.get(count);
  for (std::uint64_t k = 0; k < count; ++k) {
    r.samples.emplace_back();
    get(in, r.samples.back());
  }
  in.get(count);
  for (std::uint64_t k = 0; k < count; ++k) {
    std::vector<char> text;
    in.get(text);
    r.said.push_back(unpacked({text.begin(), text.end()}));
  }
  std::uint64_t particles = 0;
  in.get(r.steps), in.get(r.cells), in.get(particles), in.get(r.size), in.get(r.worst_filled);
  r.particles = static_cast<size_t>(particles);
}

double memory_needed(const RunInput& input, const RunOptions& options) {
  const double cell = options.size * options.size * options.size;
  const Vec3 size = input.tank.whole.upper_corner() - input.tank.whole.lower_corner();
  double cells = 1;
  for (int a = 0; a < 3; ++a) cells *= size[a] / options.size + 2;
  // What lattice and faces hold a cell; and four particles, twice, with a row of the solver.
  return 300.0 * cells + 1100.0 * input.volume / cell;
}

double memory_free() {
  std::ifstream in("/proc/meminfo");
  std::string line;
  while (std::getline(in, line))
    if (line.starts_with("MemAvailable:")) return 1024.0 * std::strtod(line.c_str() + 13, nullptr);
  return std::numeric_limits<double>::infinity();
}

RunResult run(const RunInput& input, const RunOptions& options, Progress* progress) {
  if (options.size > 0)
    if (const double needed = memory_needed(input, options), room = memory_free(); needed > room)
      throw InputError(
          Message{.place = "cells",
                  .expected = fmt::format("at most the {:.1f} GB of memory that are free", room * 1e-9),
                  .found = fmt::format("{:g} mm, which need some {:.1f} GB: choose larger ones",
                                       options.size * 1e3, needed * 1e-9)});
  return Runner(input, options, progress).run();
}

double estimated_seconds(const RunInput& input, const RunOptions& options) {
  // Steps by the speed that a g and a half gives over half the tank, and what is measured in bench/.
  const double cell = options.size * options.size * options.size;
  const double wet = input.volume / cell + 500;
  const double steps = std::max(83.0, 2.0 / (1.5 * options.size));
  return (input.drive.end() - input.drive.begin()) * steps * wet * 4.5e-6;
}

}  // namespace uadze::resolved
