#include "gui/document/appearance.h"

#include <QApplication>
#include <QSettings>

namespace uadze::gui {
namespace {

/// Each choice of a unit by its key in the settings.
template <class Visit>
void each_choice(UnitSystem& units, Visit&& visit) {
  visit("units/volume", units.volume);
  visit("units/flow", units.flow);
  visit("units/pressure", units.pressure);
  visit("units/temperature", units.temperature);
  visit("units/length", units.length);
  visit("units/speed", units.speed);
  visit("units/mass", units.mass);
}

}  // namespace

Appearance::Appearance(QObject* parent) : QObject(parent) {
  QSettings settings;
  each_choice(units_, [&](const char* key, auto& choice) {
    choice = static_cast<std::decay_t<decltype(choice)>>(settings.value(key, 0).toInt());
  });
  theme_ = Theme::make(settings.value("dark", false).toBool());
}

void Appearance::set_units(const UnitSystem& units, bool remember) {
  const double density = units_.fuel_density;
  units_ = units;
  units_.fuel_density = density;
  if (remember) {
    QSettings settings;
    each_choice(units_,
                [&](const char* key, auto& choice) { settings.setValue(key, static_cast<int>(choice)); });
  }
  emit changed();
}

void Appearance::set_dark(bool dark, bool remember) {
  theme_ = Theme::make(dark);
  if (remember) QSettings().setValue("dark", dark);
  apply_theme(*qApp, theme_);
  emit changed();
}

QString Appearance::show(double si, Quantity quantity, int decimals) const {
  return QString::fromStdString(format(si, quantity, units_, decimals));
}

}  // namespace uadze::gui
