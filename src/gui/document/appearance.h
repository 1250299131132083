#pragma once
// How things are shown: units and theme, remembered from one start to the next.
//
//   appearance.show(0.0475, Quantity::volume)      // "47.5 L"
#include <QObject>

#include "core/base/units.h"
#include "gui/look/theme.h"

namespace uadze::gui {

class Appearance : public QObject {
  Q_OBJECT
 public:
  explicit Appearance(QObject* parent = nullptr);

  const UnitSystem& units() const { return units_; }
  /// `remember`: also at the next start.
  void set_units(const UnitSystem& units, bool remember = true);
  /// kg/m3, of the fuel that flows are shown of by mass.
  void set_fuel_density(double density) { units_.fuel_density = density; }
  const Theme& theme() const { return theme_; }
  void set_dark(bool dark, bool remember = true);
  QString show(double si, Quantity quantity, int decimals = -1) const;

 signals:
  void changed();

 private:
  UnitSystem units_;
  Theme theme_;
};

}  // namespace uadze::gui
