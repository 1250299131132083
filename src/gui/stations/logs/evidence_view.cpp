#include "gui/stations/logs/evidence_view.h"

#include <QLabel>
#include <QVBoxLayout>
#include <cmath>

#include "gui/widgets/quantity_plot.h"

namespace uadze::gui {

EvidenceView::EvidenceView(Workspace& workspace, QWidget* parent)
    : QWidget(parent), w_(workspace), title_(new QLabel), why_(new QLabel), plot_(make_plot("evidence")) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(14, 10, 14, 10);
  for (QLabel* label : {title_, why_}) label->setWordWrap(true);
  title_->setObjectName("title of the evidence");
  why_->setObjectName("evidence in words");
  why_->setTextInteractionFlags(Qt::TextSelectableByMouse | Qt::TextSelectableByKeyboard);
  column->addWidget(title_);
  column->addWidget(plot_, 1);
  column->addWidget(why_);
  connect(&workspace, &Workspace::appearance_changed, this, &EvidenceView::draw);
  draw();
}

void EvidenceView::show_diagnosis(std::shared_ptr<const diagnosis::Diagnosis> said) {
  said_ = std::move(said);
  cause_ = 0;
  draw();
}

void EvidenceView::choose(int cause) {
  cause_ = cause;
  draw();
}

void EvidenceView::draw() {
  const bool any = said_ && cause_ >= 0 && cause_ < static_cast<int>(said_->causes.size());
  plot_->setVisible(any && !said_->causes[static_cast<size_t>(cause_)].picture.empty());
  why_->setVisible(any);
  if (!any) {
    title_->setText(said_ ? "There is not enough in the log to name a cause." : "No log is open.");
    return;
  }
  const diagnosis::Suspect& suspect = said_->causes[static_cast<size_t>(cause_)];
  const diagnosis::Picture& picture = suspect.picture;
  const auto words = [](const std::string& text) { return QString::fromStdString(text).toHtmlEscaped(); };
  title_->setText(QString("<b>%1</b>, %2 sure<br>%3")
                      .arg(QString(name_of(suspect.cause)))
                      .arg(QString::fromStdString(diagnosis::sure_words(suspect.probability)))
                      .arg(words(picture.title)));
  QStringList lines;
  for (const std::string& e : suspect.evidence) lines << "+ " + QString::fromStdString(e);
  for (const std::string& e : suspect.against) lines << "− " + QString::fromStdString(e);
  why_->setText(lines.join("\n"));
  if (picture.empty()) return;

  const Theme& t = w_.theme();
  const Unit across = shown_unit(picture.x, w_.units()), up = shown_unit(picture.y, w_.units());
  const auto titled = [](const std::string& text, const Unit& unit) {
    return QString("%1 [%2]").arg(QString::fromStdString(text),
                                  QString::fromUtf8(unit.name.data(), static_cast<int>(unit.name.size())));
  };
  style_plot(plot_, t, titled(picture.x_title, across), titled(picture.y_title, up));
  const auto add = [&](const diagnosis::Picture::Points& points, const QString& name, const QColor& colour,
                       const QCPScatterStyle& scatter, bool line) {
    if (points.x.empty()) return;
    // By its keys: a graph is sorted along them, so that a curve is a curve.
    QVector<double> xs, ys;
    for (size_t i = 0; i < points.x.size(); ++i)
      xs << across.from_si(points.x[i]), ys << up.from_si(points.y[i]);
    QCPGraph* graph = plot_->addGraph();
    graph->setData(xs, ys);
    graph->setName(name);
    graph->setPen(QPen(colour, line ? 2 : 1));
    graph->setLineStyle(line ? QCPGraph::lsLine : QCPGraph::lsNone);
    graph->setScatterStyle(scatter);
  };
  add(picture.seen, "seen", t.covered, QCPScatterStyle(QCPScatterStyle::ssDisc, 4), false);
  add(picture.expected, picture.line ? "expected" : "this cause alone", t.dry,
      picture.line ? QCPScatterStyle() : QCPScatterStyle(QCPScatterStyle::ssCross, 5), picture.line);
  plot_->rescaleAxes();
  plot_->xAxis->scaleRange(1.04);
  plot_->yAxis->scaleRange(1.1);
  plot_->replot();
}

}  // namespace uadze::gui
