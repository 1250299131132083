#pragma once
// The build's lists and its work order as pages of A4, for the wall of the garage.
#include <QString>

#include "core/report/build_report.h"

namespace uadze::gui {

QString html_of(const report::Table& table);
/// Steps that are not done, by days of so many minutes, each day on its own pages: cautions, boxes to tick,
/// parts, tools, and lines for torque and name.
QString html_of(const std::vector<build::Step>& steps, const std::vector<char>& done, double day,
                const UnitSystem& units);
/// Throws InputError where the file can not be written; what stood there stays then.
void write_pdf(const QString& file, const QString& title, const QString& html);

}  // namespace uadze::gui
