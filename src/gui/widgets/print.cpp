#include "gui/widgets/print.h"

#include <QBuffer>
#include <QFont>
#include <QPdfWriter>
#include <QTextDocument>

#include "core/base/files.h"

namespace uadze::gui {
namespace {

QString escaped(const std::string& text) { return QString::fromStdString(text).toHtmlEscaped(); }

}  // namespace

QString html_of(const report::Table& table) {
  QString out = "<table border='1' cellspacing='0' cellpadding='3' width='100%'><tr>";
  for (const std::string& c : table.columns) out += "<th align='left'>" + escaped(c) + "</th>";
  out += "</tr>";
  for (const auto& row : table.rows) {
    out += "<tr>";
    for (const std::string& cell : row) out += "<td>" + escaped(cell) + "</td>";
    out += "</tr>";
  }
  return out + "</table>";
}

namespace {

QString html_of(const build::Step& s, int number, const UnitSystem& units) {
  QString out = QString("<h3>%1&nbsp; %2 <small>(%3)</small></h3>")
                    .arg(number)
                    .arg(escaped(s.title), escaped(report::work_time(s.minutes)));
  for (const std::string& c : s.cautions) out += "<p style='margin:1px'><b>!</b> " + escaped(c) + "</p>";
  for (const Phrase& h : s.how) out += "<p style='margin:1px'>☐ " + escaped(h.in(units)) + "</p>";
  QStringList needs;
  for (const build::Need& n : s.needs)
    needs << escaped(report::amount(n.count, n.metres, units) + " × " + n.what +
                     (n.size.empty() ? "" : " " + n.size));
  if (!needs.isEmpty()) out += "<p style='margin:3px 1px'>Parts: " + needs.join("; ") + "</p>";
  QStringList tools;
  for (const std::string& t : s.tools) tools << escaped(t);
  if (!tools.isEmpty()) out += "<p style='margin:1px'>Tools: " + tools.join(", ") + "</p>";
  out +=
      "<p style='margin:8px 1px'>Torque ____________ &nbsp; By ____________________ &nbsp; On "
      "______________</p>";
  return out;
}

}  // namespace

QString html_of(const std::vector<build::Step>& steps, const std::vector<char>& done, double day,
                const UnitSystem& units) {
  QString out;
  const auto days = build::by_day(steps, done, day);
  for (size_t d = 0; d < days.size(); ++d) {
    out += QString("<h2%1>%2</h2>")
               .arg(d ? " style='page-break-before:always'" : "",
                    escaped(report::day_title(steps, days[d], d + 1)));
    for (int k : days[d]) out += html_of(steps[static_cast<size_t>(k)], k + 1, units);
  }
  return out;
}

void write_pdf(const QString& file, const QString& title, const QString& html) {
  QBuffer bytes;
  bytes.open(QIODevice::WriteOnly);
  {
    QPdfWriter pdf(&bytes);
    pdf.setPageSize(QPageSize(QPageSize::A4));
    pdf.setPageMargins(QMarginsF(14, 14, 14, 14), QPageLayout::Millimeter);
    pdf.setResolution(96);
    pdf.setTitle(title);
    QTextDocument page;
    page.setDefaultFont(QFont("B612", 8));
    page.setHtml(
        "<h2>" + title.toHtmlEscaped() + "</h2>" + html +
        "<p><small>Defers to the series' regulations, local codes and licensed practice; a list that is done "
        "does not make a car safe.</small></p>");
    page.setPageSize(QSizeF(pdf.width(), pdf.height()));
    page.print(&pdf);
  }
  write_file_atomically(file.toStdString(), bytes.data().toStdString());
}

}  // namespace uadze::gui
