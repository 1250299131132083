#include "core/logbook/record.h"

#include <fmt/format.h>

#include <cmath>
#include <map>

#include "core/base/json.h"
#include "core/base/message.h"
#include "core/base/names.h"

namespace uadze::logbook {
namespace {

using Json = nlohmann::json;

constexpr std::pair<Quantity, const char*> quantities[]{
    {Quantity::plain, "number"},         {Quantity::count, "count"},
    {Quantity::fraction, "share"},       {Quantity::length, "length_m"},
    {Quantity::volume, "volume_m3"},     {Quantity::duration, "time_s"},
    {Quantity::flow, "flow_m3_s"},       {Quantity::temperature, "temperature_k"},
    {Quantity::pressure, "pressure_pa"}, {Quantity::voltage, "voltage_v"},
    {Quantity::current, "current_a"},    {Quantity::resistance, "resistance_ohm"}};

/// Texts of a record by their key: one list for writing and reading.
struct Text {
  const char* key;
  std::string Record::*member;
};
constexpr Text texts[]{{"setup", &Record::setup},
                       {"subject", &Record::subject},
                       {"by", &Record::by},
                       {"second", &Record::second},
                       {"instrument", &Record::instrument},
                       {"checked_until", &Record::checked_until},
                       {"way", &Record::way},
                       {"limit", &Record::limit},
                       {"reason", &Record::reason},
                       {"content", &Record::content},
                       {"session", &Record::session},
                       {"cause", &Record::cause},
                       {"done", &Record::done},
                       {"torque", &Record::torque},
                       {"note", &Record::note}};

class Reader {
 public:
  Reader(const Json& json, std::string where) : json_(json), where_(std::move(where)) {}

  [[noreturn]] void fail(const std::string& key, const std::string& expected) const {
    const auto at = json_.find(key);
    throw InputError(Message{.file = where_,
                             .place = "/" + key,
                             .expected = expected,
                             .found = at == json_.end() ? "nothing" : at->dump().substr(0, 60)});
  }
  std::string text(const std::string& key) const {
    const auto at = json_.find(key);
    if (at == json_.end()) return {};
    if (!at->is_string()) fail(key, "a text");
    return at->get<std::string>();
  }
  std::vector<std::string> list(const std::string& key) const {
    const auto at = json_.find(key);
    if (at == json_.end()) return {};
    if (!at->is_array() || !std::all_of(at->begin(), at->end(), [](const Json& j) { return j.is_string(); }))
      fail(key, "a list of texts");
    return at->get<std::vector<std::string>>();
  }
  std::int64_t whole(const std::string& key) const {
    const auto at = json_.find(key);
    if (at == json_.end()) return 0;
    if (!at->is_number_integer()) fail(key, "a whole number");
    return at->get<std::int64_t>();
  }
  bool yes(const std::string& key) const {
    const auto at = json_.find(key);
    if (at == json_.end()) return false;
    if (!at->is_boolean()) fail(key, "true or false");
    return at->get<bool>();
  }
  double number(const Json& from, const std::string& key, const std::string& place) const {
    const auto at = from.find(key);
    if (at == from.end() || !at->is_number() || !std::isfinite(at->get<double>()))
      fail(place, "a number as " + key);
    return at->get<double>();
  }
  template <class E>
  E named(const std::string& key, E otherwise) const {
    if (!json_.contains(key)) return otherwise;
    const auto value = value_named<E>(text(key));
    if (!value) fail(key, fmt::format("one of {}", fmt::join(names_of<E>(), ", ")));
    return *value;
  }
  std::vector<Reading> readings() const {
    std::vector<Reading> out;
    const auto at = json_.find("readings");
    if (at == json_.end()) return out;
    if (!at->is_array()) fail("readings", "a list");
    for (const Json& r : *at) {
      if (!r.is_object()) fail("readings", "a list of readings");
      Reading one;
      const Reader inner(r, where_ + ": readings");
      one.what = inner.text("what");
      const std::string quantity = inner.text("quantity");
      const auto known = std::find_if(std::begin(quantities), std::end(quantities),
                                      [&](const auto& q) { return q.second == quantity; });
      if (known == std::end(quantities)) inner.fail("quantity", "a quantity such as pressure_pa");
      one.quantity = known->first;
      one.value = inner.number(r, "value", "value");
      if (r.contains("expected")) one.expected = inner.number(r, "expected", "expected");
      out.push_back(std::move(one));
    }
    return out;
  }
  std::vector<Photo> photos() const {
    std::vector<Photo> out;
    const auto at = json_.find("photos");
    if (at == json_.end()) return out;
    if (!at->is_array()) fail("photos", "a list");
    for (const Json& p : *at) {
      if (!p.is_object()) fail("photos", "a list of photos");
      const Reader inner(p, where_ + ": photos");
      out.push_back({inner.text("content"), inner.text("name")});
    }
    return out;
  }

 private:
  const Json& json_;
  std::string where_;
};

}  // namespace

const char* quantity_name(Quantity quantity) {
  for (const auto& [value, name] : quantities)
    if (value == quantity) return name;
  return nullptr;
}

std::string text_of(const Record& r) {
  Json out{{"kind", name_of(r.kind)}, {"number", r.number}, {"at", utc_text(r.at)}};
  if (r.amends) out["amends"] = r.amends;
  if (r.withdrawn) out["withdrawn"] = true;
  if (r.clock_back) out["clock_back"] = true;
  for (const Text& t : texts)
    if (!(r.*t.member).empty()) out[t.key] = r.*t.member;
  if (!r.seen.empty()) out["seen"] = r.seen;
  if (!r.links.empty()) out["links"] = r.links;
  if (r.verdict != Verdict::none) out["verdict"] = name_of(r.verdict);
  if (r.seconds != 0) out["seconds"] = r.seconds;
  for (const Reading& one : r.readings) {
    Json j{{"what", one.what}, {"quantity", quantity_name(one.quantity)}, {"value", one.value}};
    if (one.expected) j["expected"] = *one.expected;
    out["readings"].push_back(std::move(j));
  }
  for (const Photo& p : r.photos) out["photos"].push_back({{"content", p.content}, {"name", p.name}});
  // What is no UTF-8 (a name from a foreign file) is marked, not refused: the record counts more.
  return out.dump(-1, ' ', false, Json::error_handler_t::replace);
}

Record parse_record(const std::string& text, const std::string& where) {
  const Json json = json_or_none<Json>(text);
  if (!json.is_object())
    throw InputError(Message{.file = where, .expected = "a record as JSON", .found = text.substr(0, 60)});
  const Reader reader(json, where);
  Record out;
  out.kind = reader.named("kind", Kind::note);
  out.number = reader.whole("number");
  if (json.contains("at")) {
    const auto at = utc_of(reader.text("at"));
    if (!at) reader.fail("at", "a moment such as \"2026-11-28T09:30:00Z\"");
    out.at = *at;
  }
  out.amends = reader.whole("amends");
  out.withdrawn = reader.yes("withdrawn");
  out.clock_back = reader.yes("clock_back");
  for (const Text& t : texts) out.*t.member = reader.text(t.key);
  out.seen = reader.list("seen");
  out.links = reader.list("links");
  out.verdict = reader.named("verdict", Verdict::none);
  if (json.contains("seconds")) out.seconds = reader.number(json, "seconds", "seconds");
  if (out.seconds < 0) reader.fail("seconds", "0 or more");
  out.readings = reader.readings();
  out.photos = reader.photos();
  return out;
}

std::vector<Record> standing(const std::vector<Record>& all) {
  std::vector<Record> out;
  std::map<std::int64_t, size_t> place;
  for (const Record& r : all) {
    const auto first = r.amends ? place.find(r.amends) : place.end();
    if (first == place.end()) {
      place[r.number] = out.size();
      out.push_back(r);
      continue;
    }
    Record& former = out[first->second];
    const auto number = former.number;
    const Moment at = former.at;
    former = r;
    former.number = number, former.at = at, former.amends = r.number;
    // A later amendment may name either.
    place[r.number] = first->second;
  }
  std::erase_if(out, [](const Record& r) { return r.withdrawn; });
  return out;
}

}  // namespace uadze::logbook
