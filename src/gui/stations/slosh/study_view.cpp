#include "gui/stations/slosh/study_view.h"

#include <QFileDialog>
#include <QFileInfo>
#include <QHBoxLayout>
#include <QLabel>
#include <QProgressBar>
#include <QPushButton>
#include <QSplitter>
#include <QTimer>
#include <QVBoxLayout>

#include "core/report/study_report.h"
#include "gui/widgets/empty_words.h"
#include "gui/widgets/quantity_plot.h"
#include "gui/widgets/table_page.h"

namespace uadze::gui {

StudyView::StudyView(Workspace& workspace, QWidget* parent)
    : QWidget(parent),
      w_(workspace),
      open_(new QPushButton("Open study…")),
      run_(new QPushButton("Run what is missing")),
      take_(new QPushButton("Add as a setup")),
      bar_(new QProgressBar),
      says_(new QLabel),
      table_(new TablePage("study choices")),
      plot_(make_plot("study plot")),
      poll_(new QTimer(this)) {
  open_->setObjectName("open study");
  run_->setObjectName("run study");
  take_->setObjectName("take choice");
  take_->setToolTip("The chosen row's setup joins the project; can be undone");
  bar_->setObjectName("study progress");
  bar_->setAccessibleName("Progress of the study");
  bar_->setFixedWidth(150);
  bar_->hide();
  says_->setObjectName("study says");
  says_->setWordWrap(true);
  table_->setAccessibleName("The study's choices");
  table_->setSelectionBehavior(QAbstractItemView::SelectRows);
  say_when_empty(
      table_,
      "Each setup of a study gets a row here: what it changes, the fuel it asks for, how long it is bare; "
      "beside it the same as a picture, the best at the lower left.");
  auto* row = new QHBoxLayout;
  row->addWidget(open_);
  row->addWidget(says_, 1);
  row->addWidget(bar_);
  row->addWidget(run_);
  row->addWidget(take_);
  auto* split = new QSplitter(Qt::Horizontal);
  split->addWidget(table_);
  split->addWidget(plot_);
  // Hidden until there is a study: from nothing it would come as a line.
  plot_->setMinimumWidth(260);
  plot_->setMaximumWidth(320);
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(8, 4, 8, 4);
  column->addLayout(row);
  column->addWidget(split, 1);

  connect(open_, &QPushButton::clicked, this, [this] {
    const QString file = QFileDialog::getOpenFileName(this, "Open a study", {}, "Studies (*.json)");
    if (!file.isEmpty()) open(file);
  });
  connect(run_, &QPushButton::clicked, this, [this] {
    if (work_.running() && bar_->isVisible()) {
      work_.cancel();
      // What was done stands in the folder.
      start(false);
    } else {
      start(true);
    }
  });
  connect(take_, &QPushButton::clicked, this, [this] { take_setup(); });
  connect(table_, &QTableWidget::itemSelectionChanged, this, [this] {
    take_->setEnabled(seen_ && table_->currentRow() >= 0);
    show_plot();
  });
  poll_->setInterval(200);
  connect(poll_, &QTimer::timeout, this,
          [this] { bar_->setValue(static_cast<int>(100 * work_.fraction())); });
  connect(&w_, &Workspace::appearance_changed, this, [this] { show_seen(); });
  show_seen();
}

void StudyView::open(const QString& file) {
  file_ = file;
  seen_.reset();
  start(false);
}

void StudyView::start(bool run) {
  if (file_.isEmpty()) return;
  run_->setText(run ? "Stop" : "Run what is missing");
  bar_->setVisible(run);
  bar_->setValue(0);
  if (run) poll_->start();
  const auto end = [this] {
    poll_->stop(), bar_->hide();
    run_->setText("Run what is missing");
  };
  work_.start(
      this,
      [file = std::filesystem::path(file_.toStdString()), run](Progress& progress) {
        Seen out;
        out.study = std::make_shared<const solve::Study>(solve::read_study(file));
        check_study(*out.study);
        const auto folder = solve::results_folder(file);
        if (run) out.ran = solve::run_missing(*out.study, folder, &progress);
        out.gathered = solve::gather(*out.study, folder);
        return out;
      },
      [this, end](Seen seen) {
        end();
        seen_ = std::move(seen);
        show_seen();
      },
      [this, end](const QString& why) {
        end();
        says_->setText("▲ " + why);
      });
}

void StudyView::show_seen() {
  run_->setEnabled(seen_.has_value());
  take_->setEnabled(seen_ && table_->currentRow() >= 0);
  if (!seen_) {
    if (file_.isEmpty())
      says_->setText(
          "A study varies setups against cases, in a file of its own (see the guide). Open one to run it "
          "here, or "
          "to see what a cluster has run.");
    table_->show_table({});
    show_plot();
    return;
  }
  const auto& [study, gathered, ran] = *seen_;
  QString text = QString("<b>%1</b>: %2 choices, %3 tasks, %4 missing.")
                     .arg(QFileInfo(file_).fileName().toHtmlEscaped())
                     .arg(study->choices())
                     .arg(study->tasks())
                     .arg(gathered.missing.size());
  if (!ran.failed.empty())
    text += QString("<br>▲ %1 failed, task %2: %3")
                .arg(ran.failed.size())
                .arg(ran.failed.front().first)
                .arg(QString::fromStdString(ran.failed.front().second).toHtmlEscaped());
  if (!gathered.passed_over.empty())
    text += QString("<br>▲ %1 results passed over, the first: %2")
                .arg(gathered.passed_over.size())
                .arg(QString::fromStdString(gathered.passed_over.front()).toHtmlEscaped());
  says_->setText(text);
  {
    const QSignalBlocker quiet(table_);
    table_->show_table(report::choices_table(
        gathered, static_cast<int>(study->cases.size() * study->models.size()), w_.units()));
  }
  show_plot();
}

/// Fuel against the longest bare stretch: the best lie at the lower left.
void StudyView::show_plot() {
  plot_->setVisible(seen_.has_value());
  if (!seen_) return;
  const Theme& t = w_.theme();
  const Unit fuel = shown_unit(Quantity::volume, w_.units()),
             time = shown_unit(Quantity::duration, w_.units());
  style_plot(plot_, t, QString::fromStdString("fuel [" + std::string(fuel.name) + "]"),
             QString::fromStdString("longest bare [" + std::string(time.name) + "]"));
  QVector<double> at[3][2];
  for (size_t k = 0; k < seen_->gathered.choices.size(); ++k) {
    const auto& c = seen_->gathered.choices[k];
    if (c.done == 0) continue;
    const double x = fuel.from_si(c.level), y = time.from_si(c.longest);
    at[c.best ? 1 : 0][0] << x, at[c.best ? 1 : 0][1] << y;
    if (static_cast<int>(k) == table_->currentRow()) at[2][0] << x, at[2][1] << y;
  }
  const struct {
    const char* title;
    QCPScatterStyle style;
  } looks[3]{
      {"another is better", QCPScatterStyle(QCPScatterStyle::ssCircle, QPen(t.faint, 1.2), Qt::NoBrush, 7)},
      {"best", QCPScatterStyle(QCPScatterStyle::ssDisc, QPen(t.covered, 1.4), t.covered, 9)},
      {"chosen row", QCPScatterStyle(QCPScatterStyle::ssSquare, QPen(t.ink, 1.6), Qt::NoBrush, 15)}};
  for (int k = 0; k < 3; ++k) {
    auto* graph = plot_->addGraph();
    graph->setName(looks[k].title);
    graph->setLineStyle(QCPGraph::lsNone);
    graph->setScatterStyle(looks[k].style);
    graph->setData(at[k][0], at[k][1]);
  }
  plot_->rescaleAxes();
  for (QCPAxis* axis : {plot_->xAxis, plot_->yAxis}) axis->scaleRange(1.15);
  plot_->replot(QCustomPlot::rpQueuedReplot);
}

void StudyView::take_setup() {
  const int row = table_->currentRow();
  if (!seen_ || row < 0 || row >= static_cast<int>(seen_->gathered.choices.size())) return;
  try {
    const auto& study = *seen_->study;
    const auto task = solve::task_of(study, seen_->gathered.choices[static_cast<size_t>(row)].first_task);
    project::Setup setup = solve::setup_of(study, task);
    for (const auto& s : w_.project().setups)
      if (s.name == setup.name) throw std::runtime_error("the project has a setup \"" + setup.name + "\"");
    const QString name = QString::fromStdString(setup.name);
    w_.document.edit("Setup from a study",
                     [&](project::Project& p) { p.setups.push_back(std::move(setup)); });
    says_->setText("\"" + name + "\" is a setup of the project now.");
  } catch (const std::exception& error) {
    says_->setText("▲ " + QString::fromUtf8(error.what()));
  }
}

}  // namespace uadze::gui
