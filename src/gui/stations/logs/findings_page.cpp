#include "gui/stations/logs/findings_page.h"

#include <QHeaderView>
#include <QLabel>
#include <QScrollArea>
#include <QTableWidget>
#include <QVBoxLayout>

#include "core/base/counted.h"
#include "core/report/diagnosis_report.h"
#include "gui/widgets/filling.h"
#include "gui/widgets/whole_words.h"

namespace uadze::gui {
namespace {

constexpr double worth_saying = 0.02;  // probability of a cause

}  // namespace

FindingsPage::FindingsPage(Workspace& workspace, QWidget* parent)
    : QWidget(parent),
      w_(workspace),
      answer_(new QLabel),
      why_(new QLabel),
      events_(row_list("events of the log", {"Lap", "What", "Where"})),
      causes_(row_list("causes of the log", {"Sure", "Cause"})),
      scroll_(new QScrollArea) {
  auto* column = new QVBoxLayout(this);
  answer_->setObjectName("findings of the log");
  answer_->setWordWrap(true);
  answer_->setTextInteractionFlags(Qt::TextSelectableByMouse | Qt::TextSelectableByKeyboard);
  column->addWidget(answer_);
  for (int k : {0, 1}) events_->horizontalHeader()->setSectionResizeMode(k, QHeaderView::ResizeToContents);
  show_whole(events_, 2);
  column->addWidget(events_, 4);
  causes_->setToolTip("A cause chosen shows its evidence");
  column->addWidget(causes_);
  why_->setObjectName("doubts of the log");
  why_->setWordWrap(true);
  why_->setAlignment(Qt::AlignTop | Qt::AlignLeft);
  why_->setTextInteractionFlags(Qt::TextSelectableByMouse | Qt::TextSelectableByKeyboard);
  scroll_->setWidgetResizable(true);
  scroll_->setFrameShape(QFrame::NoFrame);
  scroll_->viewport()->setAutoFillBackground(false);
  scroll_->setWidget(why_);
  column->addWidget(scroll_, 3);
  connect(events_, &QTableWidget::currentCellChanged, this, [this](int row, int, int, int) {
    if (filling_ || !found_ || row < 0 || row >= static_cast<int>(found_->events.size())) return;
    const auto& e = found_->events[static_cast<size_t>(row)];
    emit looked_at(e.begin - 4, e.end + 4);
  });
  const auto chosen = [this] {
    if (filling_) return;
    show_why();
    if (cause() >= 0) emit cause_chosen(cause());
  };
  connect(causes_, &QTableWidget::currentCellChanged, this, chosen);
  connect(causes_, &QTableWidget::cellClicked, this, chosen);
}

void FindingsPage::show_log(const OpenedLog& opened, const std::vector<diagnosis::Wear>& wear) {
  found_ = opened.found, said_ = opened.said;
  doubts_.clear(), trends_.clear();
  for (const Message& m : opened.doubts) doubts_ << said(m);
  for (const Message& m : opened.notes) doubts_ << said(m);
  if (found_)
    for (const Message& m : found_->notes) doubts_ << said(m);
  if (said_)
    for (const diagnosis::Trend& t : diagnosis::trends(wear))
      if (t.clear) trends_ << "Over the logs opened: " + QString::fromStdString(t.sentence) + ".";
  filling_ = true;
  causes_->setRowCount(0);
  for (size_t k = 0; said_ && k < said_->causes.size(); ++k) {
    const auto& suspect = said_->causes[k];
    if (suspect.probability < worth_saying) break;
    const int row = causes_->rowCount();
    causes_->insertRow(row);
    causes_->setItem(
        row, 0, new QTableWidgetItem(QString::fromStdString(diagnosis::sure_words(suspect.probability))));
    causes_->setItem(row, 1, new QTableWidgetItem(name_of(suspect.cause)));
  }
  causes_->resizeColumnsToContents();
  causes_->setVisible(causes_->rowCount() > 0);
  causes_->setFixedHeight(causes_->horizontalHeader()->sizeHint().height() + 4 +
                          std::min(causes_->rowCount(), 3) * causes_->verticalHeader()->defaultSectionSize());
  if (causes_->rowCount() > 0) causes_->setCurrentCell(0, 0);
  filling_ = false;
  show_lists();
}

int FindingsPage::cause() const { return causes_->rowCount() > 0 ? causes_->currentRow() : -1; }

void FindingsPage::show_lists() {
  filling_ = true;
  events_->setRowCount(found_ ? static_cast<int>(found_->events.size()) : 0);
  QString text;
  if (found_) {
    const Filling quiet(events_);
    for (int row = 0; row < events_->rowCount(); ++row) {
      const auto& e = found_->events[static_cast<size_t>(row)];
      const QString lost = QString::fromStdString(report::lost_words(e, w_.units()));
      const QString what = e.sign == diagnosis::Sign::pressure ? "−" + lost
                           : e.sign == diagnosis::Sign::pump   ? "pump −" + lost
                           : e.sign == diagnosis::Sign::level  ? QString("level switch")
                                                               : lost;
      const QString cells[] = {e.lap ? QString::number(e.lap) : "",
                               what + " for " + w_.show(e.duration(), Quantity::duration),
                               QString::fromStdString(report::where_words(e))};
      for (int k = 0; k < 3; ++k) {
        events_->setItem(row, k, new QTableWidgetItem(cells[k]));
        events_->item(row, k)->setToolTip(cells[k]);
      }
    }
    const size_t n = found_->events.size();
    text = n == 0 ? QString("Nothing was lean and no pressure was lost, as far as the channels show.")
                  : QString::fromStdString(counted(n, "event")) + ".";
    if (found_->usual > 0)
      text += " Over the injectors " + w_.show(found_->usual, Quantity::pressure) + " is the measure.";
    if (said_ && said_->enough)
      text = "<b>" + QString::fromStdString(said_->answer).toHtmlEscaped() + "</b><br>" + text;
  }
  events_->resizeRowsToContents();
  answer_->setText(text);
  filling_ = false;
  show_why();
}

void FindingsPage::show_why() {
  QStringList lines;
  if (said_ && cause() >= 0) {
    const auto& suspect = said_->causes[static_cast<size_t>(cause())];
    for (const std::string& e : suspect.evidence) lines << "+ " + QString::fromStdString(e);
    for (const std::string& e : suspect.against) lines << "− " + QString::fromStdString(e);
  }
  lines << trends_;
  if (said_ && !said_->next_test.empty()) lines << "Next: " + QString::fromStdString(said_->next_test);
  if (!lines.isEmpty() && !doubts_.isEmpty()) lines << "";
  lines << doubts_;
  why_->setText(lines.join("\n"));
  scroll_->setVisible(!lines.isEmpty());
}

}  // namespace uadze::gui
