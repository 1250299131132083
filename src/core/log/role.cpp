#include "core/log/role.h"

#include <algorithm>
#include <array>
#include <cmath>

#include "core/base/require.h"
#include "core/base/vector.h"
#include "core/log/heading.h"

namespace uadze::log {
namespace {

constexpr double g = standard_gravity;
using enum Between;

// What is the same in other languages is written once.
constexpr std::array all_roles{
    RoleInfo{Role::time, "time", Quantity::duration, -1e7, 2e10, straight,
             "time|t|timestamp|elapsed*|zeit|temps|tempo|tiempo|utc time|clock|seconds|sec",
             "lap inj* gap delta dead best sector last open duration throttle", true},
    RoleInfo{Role::date, "date", Quantity::plain, -1e9, 1e9, held, "date|datum|fecha|day", "", false},
    RoleInfo{Role::lap, "lap number", Quantity::count, -1, 10000, held,
             "lap|lap n*|lap count*|lap c*|runde*|tour|giro|vuelta|laps|lap index|lap id",
             "time dist* best delta gap last fuel start beacon marker trigger", false},
    RoleInfo{Role::beacon, "lap beacon", Quantity::plain, -1e9, 1e9, held,
             "beacon|lap marker|lap trigger|lap beacon|start finish|sf|lap start", "count number", false},
    RoleInfo{Role::distance, "distance", Quantity::distance, -1e4, 1e7, straight,
             "distance|dist|lap dist*|odo*|strecke|weg|lap distance|driven", "fuel tank delta brake", true},
    RoleInfo{Role::speed, "speed", Quantity::speed, -1, 120, straight,
             "speed|velocity|vel|gps speed|ground speed|veh* speed|wheel "
             "speed|v|geschw*|vitesse|velocita|velocidad|vcar|spd",
             "engine rotation pump fan turbo gear target wind rpm shaft fl fr rl rr limit", true},
    RoleInfo{Role::lat_acc, "lateral acceleration", Quantity::acceleration, -5 * g, 5 * g, straight,
             "lat acc*|lateral*|lat g|g lat*|accel* y|acc y|ay|y acc*|quer*|acc lat*|accel* lat*|g force "
             "lat*|latacc|latg|glat|lat*|g force y|gforce y|g sensor y|y g|transv* acc*|side* acc*|cross "
             "acc*|side g|cross g|accy",
             "degrees deg position pos error coord* std north slip", true},
    RoleInfo{
        Role::long_acc, "longitudinal acceleration", Quantity::acceleration, -6 * g, 6 * g, straight,
        "long acc*|longitudinal*|long g|g long*|accel* x|acc x|ax|x acc*|laengs*|längs*|acc long*|accel* "
        "long*|g force long*|inline acc*|longacc|longg|glong|inline g|fore aft|lon acc*|lon g|g lon|long*|g "
        "force "
        "x|gforce x|g sensor x|x g|forward acc*|accx",
        "degrees deg position pos error coord* std east slip term trim", true},
    RoleInfo{Role::vert_acc, "vertical acceleration", Quantity::acceleration, -8 * g, 8 * g, straight,
             "vert acc*|vertical*|vert g|g vert*|accel* z|acc z|az|z acc*|hoch*|acc vert*|accel* "
             "vert*|vertacc|vertg|gvert|g force z|gforce z|g sensor z|z g|accz",
             "speed velocity position error std", true},
    RoleInfo{Role::yaw_rate, "yaw rate", Quantity::turn_rate, -4, 4, straight,
             "yaw|yaw rate|gyro z|yaw vel*|gier*|z gyro|yawrate|rate z|gz|wz|rotation z",
             "angle acc* heading", true},
    RoleInfo{Role::latitude, "latitude", Quantity::angle, -1.6, 1.6, straight,
             "latitude|gps lat*|lat|pos lat*|lat deg*", "acc* g force lateral vel*", false},
    RoleInfo{Role::longitude, "longitude", Quantity::angle, -3.2, 3.2, straight,
             "longitude|gps lon*|lon|lng|pos lon*|lon deg*|long deg*|gps long",
             "acc* g force longitudinal vel*", false},
    RoleInfo{Role::position_x, "position x", Quantity::distance, -1e7, 1e7, straight,
             "pos x|position x|x pos*|x|east*|utm x|gps x|local x", "acc* rate gyro force gforce g sensor",
             false},
    RoleInfo{Role::position_y, "position y", Quantity::distance, -1e8, 1e8, straight,
             "pos y|position y|y pos*|y|north*|utm y|gps y|local y", "acc* rate gyro force gforce g sensor",
             false},
    RoleInfo{Role::throttle, "throttle", Quantity::fraction, -0.06, 1.1, straight,
             "throttle|tps|throttle pos*|pedal|accelerator|app|aps|gas|throttle pedal|drossel*|thr|thr "
             "pos*|papillon|farfalla|gaspedal|throttle angle",
             "brake target volt* raw error clutch temp*", true},
    RoleInfo{Role::rpm, "engine speed", Quantity::rotation, -1, 420, straight,
             "rpm|engine speed|eng* rpm|engine rpm|revs|drehzahl|regime|giri|n mot*|eng* "
             "speed|nmot|rev*|crank* speed|engine rot*",
             "limit pump target turbo fan wheel shaft", true},
    RoleInfo{Role::rail_pressure, "fuel pressure", Quantity::pressure, -5e4, 1.5e6, straight,
             "fuel press*|rail press*|fuel p|fp|fuel rail press*|p fuel|kraftstoff* druck|benzin* "
             "druck|press* fuel|p rail|fuel rail p|pfuel|fuelpress*|kraftstoffdruck|benzindruck|rail "
             "p|fprs|fuel prs|presion combustible|pression essence|pressione benzina|press* rail",
             "lift low tank temp* target diff* duty pump oil error desired aim surge", true},
    RoleInfo{
        Role::manifold_pressure, "manifold pressure", Quantity::pressure, -1e5, 6e5, straight,
        "map|manifold press*|manifold|inlet press*|boost|boost press*|intake press*|saugrohr*|ladedruck|p "
        "man*|press* manifold|plenum press*|manifold abs* press*|inlet manifold press*",
        "target temp* duty position mode error aim number exhaust", true},
    RoleInfo{Role::air_pressure, "air pressure", Quantity::pressure, 4e4, 1.2e5, straight,
             "baro*|ambient press*|air press*|atm* press*|luftdruck|p amb*|atmos*|barometric*",
             "target temp* manifold brake tyre jack", false},
    RoleInfo{Role::lambda, "lambda", Quantity::plain, 0.4, 2.5, straight,
             "lambda|lam|afr|air fuel ratio|wideband|uego|o 2|lambda 1|lam 1|air fuel*|mixture|la 1",
             "target temp* trim heater desired corr* error aim integrator volt* status duty", true},
    RoleInfo{Role::injector_time, "injector opening time", Quantity::duration, -1e-4, 0.05, straight,
             "inj* time|inj* pulse*|pulse width|pw|injector pw|inj* pw|injection time|inj* duration|inj* "
             "open*|ti|einspritzzeit|fuel pulse*|inj* width|inj* ms|t inj*",
             "dead angle timing offset", true},
    RoleInfo{Role::injector_duty, "injector duty", Quantity::fraction, -0.01, 1.3, straight,
             "inj* duty*|injector dc|inj* dc|idc|duty injector|duty cycle|inj* duty cycle",
             "pump idle boost wastegate valve angle", true},
    RoleInfo{Role::fuel_flow, "fuel flow", Quantity::flow, -1e-5, 5e-4, straight,
             "fuel flow|fuel rate|fuel cons* rate|flow fuel|durchfluss|fuel flow rate|verbrauch",
             "total mass level pump return used", true},
    RoleInfo{Role::fuel_mass_flow, "fuel flow by mass", Quantity::mass_flow, -1e-3, 0.3, straight,
             "fuel flow|fuel rate|fuel mass flow|mass flow fuel|fuel mass rate",
             "total level pump return used air", true},
    RoleInfo{Role::air_flow, "air flow by mass", Quantity::mass_flow, -0.01, 2.0, straight,
             "maf|air mass*|mass air*|air flow|airflow|luftmasse*",
             "temp* raw volt* freq* fuel idle valve ratio", true},
    RoleInfo{Role::battery, "battery voltage", Quantity::voltage, -0.5, 20, straight,
             "batt* volt*|battery|batt|vbat*|ubat*|supply volt*|system volt*|volt* batt*|ecu "
             "volt*|volts|voltage|v batt*|bordspannung|u bat*|ecu batt*|power volt*|supply",
             "sensor ref* lambda temp* current charge tps pedal raw sig* 5", false},
    RoleInfo{Role::pump_current, "fuel pump current", Quantity::current, -2, 60, straight,
             "pump curr*|fuel pump curr*|pump a|pump amp*|i pump|curr* pump|fp curr*|pumpenstrom|fuel pump "
             "amp*|fuel pump a|lift curr*",
             "water oil temp*", false},
    RoleInfo{Role::fuel_temperature, "fuel temperature", Quantity::temperature, 240, 400, straight,
             "fuel temp*|temp* fuel|t fuel|kraftstoff* temp*|benzin* temp*|tfuel|fuel t|kraftstofftemp*", "",
             false},
    RoleInfo{Role::air_temperature, "air temperature", Quantity::temperature, 230, 380, straight,
             "air temp*|ambient temp*|intake temp*|iat|act|inlet temp*|air charge temp*|luft* temp*|amb* "
             "temp*|lufttemp*",
             "fuel water oil brake tyre exhaust", false},
    RoleInfo{Role::fuel_level, "fuel level", Quantity::volume, -1e-3, 0.4, straight,
             "fuel level|fuel lev*|tank level|fuel remain*|fuel left|tank*inhalt|fuel in tank|level "
             "fuel|fuel volume|fuel vol*|fuel qty|fuel tank|tankinhalt|fuel gauge|lvl fuel|fuel lvl",
             "switch low warn* flow temp* press* used surge", false},
    RoleInfo{Role::level_switch, "low level switch", Quantity::plain, -1, 2, held,
             "level switch|low fuel|fuel low|low level|fuel warn*|low level switch|level sw*|reserve "
             "light|surge low",
             "press* temp*", false},
    RoleInfo{Role::ethanol, "ethanol content", Quantity::fraction, -0.02, 1.02, straight,
             "ethanol|ethanol content|eth*|flex fuel|flex|e content|fuel comp*|alcohol*", "temp* freq* raw",
             false},
};

/// Whether a word stands in a pattern's place: "press*" for "press", "pressure".
bool fits(std::string_view pattern, std::string_view word) {
  if (pattern.ends_with('*')) return word.starts_with(pattern.substr(0, pattern.size() - 1));
  return word == pattern;
}

template <class Each>
void each_part(std::string_view text, char mark, Each&& each) {
  while (!text.empty()) {
    const size_t end = text.find(mark);
    if (const auto part = text.substr(0, end); !part.empty()) each(part);
    if (end == std::string_view::npos) return;
    text.remove_prefix(end + 1);
  }
}

}  // namespace

std::span<const RoleInfo> roles() { return all_roles; }

const RoleInfo& info_of(Role role) {
  const auto it =
      std::find_if(all_roles.begin(), all_roles.end(), [&](const RoleInfo& r) { return r.role == role; });
  UADZE_REQUIRE(it != all_roles.end(), "\"none\" is no role");
  return *it;
}

std::optional<Unit> unit_for(Role role, std::string_view name) {
  if (role == Role::none) return std::nullopt;
  if (role == Role::lambda) {
    if (name.empty() || name == "lambda" || name == "1") return Unit{"lambda", 1.0, 0, 3};
    if (name == "AFR" || name == "kg/kg") return Unit{"AFR", 1 / 14.7, 0, 1};
    if (name == "%") return Unit{"%", 0.01, 0, 1};
    return std::nullopt;
  }
  if (name == "mbar" && role == Role::time) return std::nullopt;
  return find_unit(name, info_of(role).quantity);
}

std::string unit_by_size(Role role, double median, double high) {
  const auto over = [&](double limit, const char* large, const char* small) {
    return high > limit ? large : small;
  };
  switch (role) {
    case Role::speed:
      return over(75, "km/h", "m/s");
    case Role::lat_acc:
    case Role::long_acc:
    case Role::vert_acc:
      return high > 200 ? "mg" : over(5, "m/s2", "g");
    case Role::yaw_rate:
      return over(4, "deg/s", "rad/s");
    case Role::throttle:
    case Role::injector_duty:
    case Role::ethanol:
      return over(1.5, "%", "1");
    case Role::rpm:
      return "1/min";
    case Role::rail_pressure:
      return high > 1.5e4 ? "Pa" : high > 1500 ? "mbar" : high > 125 ? "kPa" : over(20, "psi", "bar");
    case Role::manifold_pressure:
    case Role::air_pressure:
      return high > 1.5e4 ? "Pa" : high > 600 ? "mbar" : high > 35 ? "kPa" : over(7, "psi", "bar");
    case Role::lambda:
      return median > 5 ? "AFR" : "lambda";
    case Role::injector_time:
      return high > 100 ? "us" : over(0.1, "ms", "s");
    case Role::battery:
      return over(100, "mV", "V");
    case Role::pump_current:
      return over(200, "mA", "A");
    case Role::fuel_temperature:
    case Role::air_temperature:
      return median > 240 ? "K" : over(95, "°F", "°C");
    case Role::latitude:
    case Role::longitude:
      return over(3.2, "deg", "rad");
    case Role::time:
      return "s";
    case Role::distance:
    case Role::position_x:
    case Role::position_y:
      return "m";
    case Role::fuel_level:
      return "L";
    case Role::fuel_flow:
      return "L/h";
    case Role::fuel_mass_flow:
    case Role::air_flow:
      return "kg/h";
    case Role::none:
    case Role::date:
    case Role::lap:
    case Role::beacon:
    case Role::level_switch:
      return "";
  }
  return "";
}

double name_score(const RoleInfo& role, std::string_view name) {
  const std::vector<std::string> words = words_of(name);
  if (words.empty()) return 0;
  std::string joined;
  for (const std::string& word : words) joined += word;
  double best = 0;
  each_part(role.words, '|', [&](std::string_view set) {
    size_t wanted = 0, found = 0, first = words.size();
    std::string run;
    each_part(set, ' ', [&](std::string_view pattern) {
      ++wanted;
      run += pattern.substr(0, pattern.size() - pattern.ends_with('*'));
      const auto at =
          std::find_if(words.begin(), words.end(), [&](const std::string& w) { return fits(pattern, w); });
      if (at == words.end()) return;
      ++found;
      first = std::min(first, static_cast<size_t>(at - words.begin()));
    });
    double score = 0;
    if (found == wanted) {
      const double extra = static_cast<double>(words.size() - std::min(words.size(), wanted));
      const double per_word = wanted == 1 && set.size() <= 2 ? 0.3 : 0.13;
      // Numbers in a name ("lambda 1") say little.
      const double numbers =
          static_cast<double>(std::count_if(words.begin(), words.end(), [](const std::string& w) {
            return w.size() == 1 && w[0] >= '0' && w[0] <= '9';
          }));
      score = 1 - per_word * std::max(extra - 0.6 * numbers, 0.0) + 0.02 * static_cast<double>(wanted);
      if (set.ends_with('*') && wanted == 1) score -= 0.25;
    } else if (run.size() >= 5 && joined.find(run) != std::string::npos) {
      score = 0.85 - 0.03 * static_cast<double>(joined.size() - run.size());
    }
    best = std::max(best, score);
  });
  each_part(role.not_words, ' ', [&](std::string_view pattern) {
    if (std::any_of(words.begin(), words.end(), [&](const std::string& w) { return fits(pattern, w); }))
      best *= 0.3;
  });
  return std::clamp(best, 0.0, 1.0);
}

}  // namespace uadze::log
