#include "core/project/catalogue_file.h"

#include <fmt/format.h>

#include <algorithm>

#include "core/base/files.h"
#include "core/circuit/parts.h"
#include "core/project/json_reader.h"

namespace uadze::project {

extern const char* const shipped_catalogue_text;  // made from data/catalogue.json

namespace {

using namespace circuit;

constexpr double litre_per_hour = 1e-3 / 3600;
const std::vector<std::string> no_yes{"no", "yes"};
const NumberRule flow{.factor = litre_per_hour, .low = 0, .high = 20000, .missing = {}, .above_low = true};
const NumberRule kilopascal{.factor = 1e3, .low = 0, .high = 1e5};

bool yes(JsonReader& in, const char* key, bool missing) {
  return in.choice(key, no_yes, missing ? 1 : 0) == 1;
}

template <class Type>
Type entry(JsonReader& in, const char* mass_key = "mass_kg") {
  Type out;
  out.name = in.text("name");
  out.note = in.text("note", "");
  out.mass = in.number(mass_key, {.low = 0, .high = 1000, .missing = 0.0});
  out.cost = static_cast<CostClass>(in.choice("cost", cost_names(), 1));
  return out;
}

template <class Type>
void put(std::vector<Type>& list, Type entry) {
  const auto same =
      std::find_if(list.begin(), list.end(), [&](const Type& t) { return t.name == entry.name; });
  if (same == list.end())
    list.push_back(std::move(entry));
  else
    *same = std::move(entry);
}

class CatalogueReader {
 public:
  CatalogueReader(Catalogue& out, JsonReader root, const std::filesystem::path& folder,
                  const std::string& file, Messages& messages)
      : out_(out), root_(std::move(root)), folder_(folder), file_(file), messages_(messages) {}

  void run() {
    const int version = root_.whole("undertow_adze_catalogue", 1, 1000000, std::nullopt);
    if (version > 1)
      root_.fail("undertow_adze_catalogue", "version 1",
                 fmt::format("version {}: written by a newer Undertow Adze", version));
    root_.text("notes", "");
    for (JsonReader& in : root_.list("pumps")) pump(in);
    for (JsonReader& in : root_.list("filters")) {
      auto t = entry<FilterType>(in);
      t.flow = in.number("flow_l_h", flow);
      t.clean = in.number("clean_kpa", kilopascal);
      t.loaded = in.number("loaded_kpa", kilopascal);
      t.viscous = in.number("viscous_percent", {.factor = 0.01, .low = 0, .high = 100, .missing = t.viscous});
      t.mesh = in.number("mesh_micron", {.factor = 1e-6, .low = 0, .high = 1e4, .missing = 0.0});
      t.paper = yes(in, "paper", false);
      if (t.loaded < t.clean) in.fail("loaded_kpa", "not below clean_kpa", "less");
      done(out_.filters, in, std::move(t));
    }
    for (JsonReader& in : root_.list("check_valves")) {
      auto t = entry<CheckValveType>(in);
      t.cracking = in.number("cracking_kpa", kilopascal);
      t.flow = in.number("flow_l_h", flow);
      t.drop = in.number("drop_kpa", kilopascal);
      done(out_.check_valves, in, std::move(t));
    }
    for (auto [key, list] : {std::pair{"sensors", &out_.sensors}, std::pair{"diffusers", &out_.diffusers}})
      for (JsonReader& in : root_.list(key)) {
        auto t = entry<RestrictionType>(in);
        t.flow = in.number("flow_l_h", flow);
        t.drop = in.number("drop_kpa", kilopascal);
        done(*list, in, std::move(t));
      }
    for (JsonReader& in : root_.list("regulators")) {
      auto t = entry<RegulatorType>(in);
      t.slope = in.number("slope_kpa_per_100_l_h",
                          {.factor = 1e3 / (100 * litre_per_hour), .low = 0, .high = 1e4, .missing = 0.0});
      t.open_flow = in.number("open_flow_l_h", flow);
      t.open_drop = in.number("open_drop_kpa", kilopascal);
      done(out_.regulators, in, std::move(t));
    }
    for (JsonReader& in : root_.list("injectors")) {
      auto t = entry<InjectorType>(in);
      t.flow = in.number("flow_l_h", flow);
      t.difference =
          in.number("at_kpa", {.factor = 1e3, .low = 0, .high = 1e5, .missing = 3e5, .above_low = true});
      done(out_.injectors, in, std::move(t));
    }
    for (JsonReader& in : root_.list("hoses")) hose(in);
    for (JsonReader& in : root_.list("relays")) {
      auto t = entry<RelayType>(in);
      electric(in, t);
      done(out_.relays, in, std::move(t));
    }
    for (JsonReader& in : root_.list("fuses")) {
      auto t = entry<FuseType>(in);
      electric(in, t);
      done(out_.fuses, in, std::move(t));
    }
    for (JsonReader& in : root_.list("alternators")) alternator(in);
    root_.warn_unknown();
  }

 private:
  template <class Type>
  void done(std::vector<Type>& list, JsonReader& in, Type type) {
    in.warn_unknown();
    put(list, std::move(type));
  }

  template <class Type>
  static void electric(JsonReader& in, Type& t) {
    t.rating = in.number("rating_a", {.low = 0, .high = 1000, .missing = {}, .above_low = true});
    t.resistance = in.number("resistance_mohm", {.factor = 1e-3, .low = 0, .high = 1000, .missing = 0.0});
  }

  void pump(JsonReader& in) {
    auto t = entry<PumpType>(in);
    const bool engine = in.choice("driven_by", {"electricity", "engine"}, 0) == 1;
    std::vector<PumpCurve> curves;
    for (JsonReader& c : in.list("curves")) {
      PumpCurve curve;
      curve.drive = engine ? c.number("rotation_rpm", {.factor = 1.0 / 60, .low = 0, .high = 30000})
                           : c.number("voltage_v", {.low = 0, .high = 60});
      for (JsonReader& p : c.list("points", true)) {
        curve.points.push_back({p.number("bar", {.factor = 1e5, .low = 0, .high = 300}),
                                p.number("l_h", {.factor = litre_per_hour, .low = 0, .high = 20000}),
                                p.number("a", {.low = 0, .high = 500, .missing = 0.0})});
        p.warn_unknown();
      }
      c.warn_unknown();
      curves.push_back(std::move(curve));
    }
    const bool point = in.has("point"), bench = in.has("bench_file");
    if (static_cast<int>(!curves.empty()) + point + bench != 1)
      in.fail("", "one of curves, bench_file and point",
              fmt::format("{}", static_cast<int>(!curves.empty()) + point + bench));
    if (bench) {
      const std::string file = in.text("bench_file");
      try {
        t.curves = read_bench_curve(folder_ / file);
      } catch (const InputError& error) {
        messages_.insert(messages_.end(), error.messages().begin(), error.messages().end());
      }
    } else if (point) {
      if (auto p = in.object("point")) {
        const NumberRule above{.low = 0, .high = 100, .missing = {}, .above_low = true};
        SinglePoint single;
        single.flow = p->number("l_h", flow);
        single.pressure =
            p->number("bar", {.factor = 1e5, .low = 0, .high = 300, .missing = {}, .above_low = true});
        single.voltage = p->number("v", above);
        single.current = p->number("a", {.low = 0, .high = 500, .missing = 0.0});
        p->warn_unknown();
        if (single.flow > 0 && single.pressure > 0 && single.voltage > 0) t.curves = estimated_curves(single);
      }
    } else {
      t.curves.curves = std::move(curves);
    }
    t.curves.engine_driven = engine;
    t.curves.inlet_margin = in.number(
        "inlet_margin_kpa", {.factor = 1e3, .low = 0, .high = 200, .missing = t.curves.inlet_margin});
    t.curves.idle_leak = in.number(
        "idle_leak_l_h", {.factor = litre_per_hour, .low = 0, .high = 5000, .missing = t.curves.idle_leak});
    t.built_in_check = in.choice("check_valve", {"none", "built in"}, 1) == 1;
    t.alcohol = yes(in, "alcohol", true);
    if (!t.curves.curves.empty())
      for (Message m : curve_faults(t.curves, in.place() + "/curves")) {
        m.file = file_;
        messages_.push_back(std::move(m));
      }
    done(out_.pumps, in, std::move(t));
  }

  void hose(JsonReader& in) {
    auto t = entry<HoseType>(in, "mass_kg_m");
    t.roughness = in.number("roughness_um", {.factor = 1e-6, .low = 0, .high = 5000, .missing = t.roughness});
    t.lies_in_fuel = yes(in, "lies_in_fuel", false);
    t.alcohol = yes(in, "alcohol", true);
    if (auto bores = in.object("bore_mm", true))
      for (int dash = 1; dash <= 48; ++dash)
        if (const auto bore =
                bores->number_if(std::to_string(dash),
                                 {.factor = 1e-3, .low = 0, .high = 200, .missing = {}, .above_low = true}))
          t.bore[dash] = *bore;
    done(out_.hoses, in, std::move(t));
  }

  void alternator(JsonReader& in) {
    auto t = entry<AlternatorType>(in);
    t.voltage = in.number("voltage_v", {.low = 5, .high = 60, .missing = t.voltage});
    for (JsonReader& p : in.list("output", true)) {
      const double speed = p.number("rotation_rpm", {.factor = 1.0 / 60, .low = 0, .high = 50000});
      if (!t.output.empty() && speed <= t.output.back().first)
        p.fail("rotation_rpm", "a speed above the one before", "not above");
      t.output.emplace_back(speed, p.number("a", {.low = 0, .high = 1000}));
      p.warn_unknown();
    }
    done(out_.alternators, in, std::move(t));
  }

  Catalogue& out_;
  JsonReader root_;
  const std::filesystem::path& folder_;
  const std::string& file_;
  Messages& messages_;
};

}  // namespace

Catalogue with_entries(Catalogue base, const std::string& text, const std::string& file,
                       const std::filesystem::path& folder, Messages& notes) {
  const Json json = parse_json(text, file);
  Messages messages;
  CatalogueReader(base, JsonReader(json, file, messages), folder, file, messages).run();
  if (has_errors(messages)) throw InputError(std::move(messages));
  notes.insert(notes.end(), messages.begin(), messages.end());
  return base;
}

const std::shared_ptr<const Catalogue>& shipped_catalogue() {
  static const auto catalogue = [] {
    Messages notes;
    return std::make_shared<const Catalogue>(
        with_entries({}, shipped_catalogue_text, "shipped catalogue", {}, notes));
  }();
  return catalogue;
}

std::shared_ptr<const Catalogue> load_catalogue(const std::vector<std::string>& files,
                                                const std::filesystem::path& folder, Messages& notes) {
  if (files.empty()) return shipped_catalogue();
  Catalogue out = *shipped_catalogue();
  for (const std::string& file : files) {
    const auto path = folder / file;
    out = with_entries(std::move(out), read_file(path), path.string(), path.parent_path(), notes);
  }
  return std::make_shared<const Catalogue>(std::move(out));
}

}  // namespace uadze::project
