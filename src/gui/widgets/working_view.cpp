#include "gui/widgets/working_view.h"

#include <QRegularExpression>
#include <QScrollBar>

#include "core/circuit/findings.h"

namespace uadze::gui {

QString unbroken(QString text) {
  static const QRegularExpression figure(R"((?<=\d) (?=\S))"), stroke(R"((?<=\w)/(?=\w))");
  return text.replace(figure, QString(QChar::Nbsp)).replace(stroke, "/" + QString(QChar(0x2060)));
}

WorkingView::WorkingView(Workspace& workspace, QWidget* parent)
    : QTextBrowser(parent), workspace_(workspace) {
  setObjectName("working");
  setAccessibleName("Working and cautions");
  setOpenLinks(false);
  connect(&workspace_, &Workspace::appearance_changed, this, &WorkingView::render);
}

void WorkingView::show_all(const std::vector<Derivation>& derivations, const QStringList& cautions,
                           const QStringList& sentences) {
  sentences_ = sentences;
  derivations_ = derivations;
  cautions_ = cautions;
  render();
}

QString WorkingView::html(const Derivation& d, int depth) const {
  const Theme& t = workspace_.theme();
  const auto text = [](const std::string& s) { return QString::fromStdString(s).toHtmlEscaped(); };
  QString out = QString("<div style='margin-left:%1px; margin-top:8px'>").arg(depth * 8);
  out +=
      QString("<b>%1</b> = <span style=\"font-family:'B612'\"><b>%2</b></span><br>")
          .arg(text(d.name), QString::fromStdString(format_working(d.value, d.quantity, workspace_.units())));
  if (!d.formula.empty()) out += QString("<i>%1</i>").arg(text(d.formula));
  if (d.inputs.empty() && !d.formula.empty()) out += "<br>";
  if (!d.inputs.empty()) out += "<table cellspacing='0' cellpadding='1'>";
  for (const Term& term : d.inputs)
    out += QString(
               "<tr><td>%1&nbsp;</td><td align='right' style=\"font-family:'B612'\">%2&nbsp;</td>"
               "<td style='color:%5'>%3%4</td></tr>")
               .arg(text(term.symbol),
                    QString::fromStdString(format_working(term.value, term.quantity, workspace_.units()))
                        .replace(' ', "&nbsp;"),
                    text(term.meaning), term.source.empty() ? QString() : " · " + text(term.source),
                    t.faint.name());
  if (!d.inputs.empty()) out += "</table>";
  if (!d.source.empty())
    out += QString("<span style='color:%1'>Source: %2</span><br>").arg(t.faint.name(), text(d.source));
  if (!d.note.empty())
    out +=
        QString("<span style='color:%1'>%2</span>").arg(t.faint.name(), text(d.note.in(workspace_.units())));
  out += "</div>";
  for (const Derivation& step : d.steps) out += html(step, depth + 1);
  return out;
}

void WorkingView::showEvent(QShowEvent* event) {
  if (stale_) lay_out();
  QTextBrowser::showEvent(event);
}

void WorkingView::render() {
  // Laying out the text takes longer than all that is computed for it: not for a page behind another.
  stale_ = !isVisible();
  if (!stale_) lay_out();
}

void WorkingView::lay_out() {
  stale_ = false;
  QString out;
  for (const QString& sentence : sentences_)
    out += "<p style='margin-top:4px'>" + unbroken(sentence.toHtmlEscaped()) + "</p>";
  for (const Derivation& d : derivations_) out += html(d, 0);
  if (!cautions_.isEmpty()) {
    out += QString("<p style='color:%1'><b>&#9651; Caution</b></p><ul style='margin-left:-24px'>")
               .arg(workspace_.theme().trouble.name());
    for (const QString& c : cautions_) out += "<li>" + c.toHtmlEscaped() + "</li>";
    out += "</ul>";
  }
  if (out == shown_) return;  // laying out takes fifteen milliseconds, and most changes are of something else
  const int place = verticalScrollBar()->value();
  shown_ = out;
  // The scroll bar stays where it was: it would go with the old text and come with the new one, and all be
  // laid out at two more widths.
  if (verticalScrollBar()->isVisible()) setVerticalScrollBarPolicy(Qt::ScrollBarAlwaysOn);
  setHtml(out);
  setVerticalScrollBarPolicy(Qt::ScrollBarAsNeeded);
  verticalScrollBar()->setValue(place);
}

QStringList fuel_cautions(const Workspace& workspace) {
  QStringList out{
      "Fuel vapour ignites: ventilate, keep sparks and flames away, isolate the battery, earth the car and "
      "the "
      "rig against static, have an extinguisher manned.",
      "Lines hold pressure after the pump has stopped: relieve it before opening a joint. Protect eyes and "
      "skin.",
      "The series' technical regulations, local codes and licensed practice stand above anything computed "
      "here. "
      "The computation does not certify a car as safe."};
  if (const auto* setup = workspace.setup(); setup && setup->fuel.methanol > 0)
    out.prepend(QString::fromUtf8(circuit::methanol_caution));
  return out;
}

}  // namespace uadze::gui
