#include "core/project/catalogue_file.h"

#include <fmt/format.h>

#include <algorithm>

#include "core/base/files.h"
#include "core/project/describe_catalogue.h"
#include "core/project/field_reader.h"
#include "core/project/places.h"

namespace uadze::project {

extern const char* const shipped_catalogue_text;  // made from data/catalogue.json

namespace {

using circuit::Catalogue;
namespace fs = std::filesystem;

template <class Type>
void put(std::vector<Type>& list, std::vector<Type> more) {
  for (Type& entry : more) {
    const auto same =
        std::find_if(list.begin(), list.end(), [&](const Type& t) { return t.name == entry.name; });
    if (same == list.end())
      list.push_back(std::move(entry));
    else
      *same = std::move(entry);
  }
}

/// Curves from the bench file or the point, where a pump gives those.
void complete(PumpEntry& p, const fs::path& folder, Messages& messages, std::vector<fs::path>* read) {
  if (!p.bench_file.empty()) {
    try {
      if (!lies_inside(folder / p.bench_file, folder))
        throw InputError(Message{.file = (folder / p.bench_file).string(),
                                 .expected = "a bench file in the catalogue's folder or below it",
                                 .found = "one outside it"});
      const circuit::PumpCurves measured = circuit::read_bench_curve(folder / p.bench_file);
      p.type.curves.curves = measured.curves;
      p.type.curves.estimated = measured.estimated;
      if (read) read->push_back(folder / p.bench_file);
    } catch (const InputError& error) {
      messages.insert(messages.end(), error.messages().begin(), error.messages().end());
    }
  } else if (p.point && p.point->flow > 0 && p.point->pressure > 0 && p.point->voltage > 0) {
    const circuit::PumpCurves estimated = circuit::estimated_curves(*p.point);
    p.type.curves.curves = estimated.curves;
    p.type.curves.estimated = true;
  }
}

Faults entry_faults(const CatalogueFile& file) {
  Faults out;
  const auto fail = [&](const auto& member, std::string expected, std::string found) {
    add_fault(out, Severity::error, place_of(member), std::move(expected), std::move(found));
  };
  for (const PumpEntry& p : file.pumps) {
    const int ways = !p.type.curves.curves.empty() + !p.bench_file.empty() + p.point.has_value();
    if (ways != 1) fail(p, "one of curves, bench_file and point", fmt::format("{}", ways));
    if (!p.type.curves.curves.empty())
      for (Fault& f : circuit::curve_faults(p.type.curves)) out.push_back(std::move(f));
  }
  for (const auto& f : file.others.filters)
    if (f.loaded < f.clean) fail(f.loaded, "not below clean_kpa", "less");
  for (const auto& a : file.others.alternators)
    for (size_t i = 1; i < a.output.size(); ++i)
      if (a.output[i].first <= a.output[i - 1].first)
        fail(a.output[i].first, "a speed above the one before", "not above");
  return out;
}

}  // namespace

Catalogue with_entries(Catalogue base, const std::string& text, const std::string& file,
                       const fs::path& folder, Messages& notes, std::vector<fs::path>* read) {
  const Json json = parse_json(text, file);
  Messages messages;
  FieldReader reader(JsonReader(json, file, messages));
  const int version = reader.in().whole("undertow_adze_catalogue", 1, 1000000, std::nullopt);
  if (version > 1)
    reader.in().fail("undertow_adze_catalogue", "version 1",
                     fmt::format("version {}: written by a newer Undertow Adze", version));
  CatalogueFile entries;
  describe(reader, entries);
  reader.done();
  for (Message& m : places_in(entries).messages(entry_faults(entries), file))
    messages.push_back(std::move(m));
  for (PumpEntry& p : entries.pumps) complete(p, folder, messages, read);
  if (has_errors(messages)) throw InputError(std::move(messages));
  notes.insert(notes.end(), messages.begin(), messages.end());

  std::vector<circuit::PumpType> pumps;
  for (PumpEntry& p : entries.pumps) pumps.push_back(std::move(p.type));
  put(base.pumps, std::move(pumps));
  Catalogue& more = entries.others;
  put(base.filters, std::move(more.filters));
  put(base.check_valves, std::move(more.check_valves));
  put(base.sensors, std::move(more.sensors));
  put(base.diffusers, std::move(more.diffusers));
  put(base.regulators, std::move(more.regulators));
  put(base.injectors, std::move(more.injectors));
  put(base.hoses, std::move(more.hoses));
  put(base.relays, std::move(more.relays));
  put(base.fuses, std::move(more.fuses));
  put(base.alternators, std::move(more.alternators));
  put(base.foams, std::move(more.foams));
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

LoadedCatalogue load_catalogue(const std::vector<std::string>& files, const fs::path& folder, Messages& notes,
                               std::vector<fs::path>* read) {
  std::vector<fs::path> own;
  LoadedCatalogue out{*shipped_catalogue(), {}};
  for (const std::string& file : files) {
    const fs::path path = folder / file;
    own.push_back(path);
    out.value =
        with_entries(std::move(out.value), read_file(path), path.string(), path.parent_path(), notes, &own);
  }
  KeyMaker maker;
  maker.add(content_key(shipped_catalogue_text));
  for (const fs::path& path : own) maker.add(content_key(read_file(path)));
  out.key = maker.key();
  if (read) read->insert(read->end(), own.begin(), own.end());
  return out;
}

}  // namespace uadze::project
