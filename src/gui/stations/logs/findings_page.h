#pragma once
// What went wrong in a log: the events, the causes in their order with what speaks for and against them, the
// cheapest test, and what of the log can not be right.
#include "gui/stations/logs/opened_log.h"

class QLabel;
class QScrollArea;

namespace uadze::gui {

class FindingsPage : public QWidget {
  Q_OBJECT
 public:
  explicit FindingsPage(Workspace& workspace, QWidget* parent = nullptr);
  /// `wear`: of all logs opened in this sitting, in their order.
  void show_log(const OpenedLog& opened, const std::vector<diagnosis::Wear>& wear);
  /// In the units of now.
  void show_lists();
  /// The cause whose evidence is shown; -1: none.
  int cause() const;

 signals:
  /// s of the log.
  void looked_at(double begin, double end);
  void cause_chosen(int cause);

 private:
  void show_why();

  Workspace& w_;
  std::shared_ptr<const diagnosis::Found> found_;
  std::shared_ptr<const diagnosis::Diagnosis> said_;
  QStringList trends_, doubts_;
  QLabel *answer_, *why_;
  QTableWidget *events_, *causes_;
  QScrollArea* scroll_;
  bool filling_ = false;
};

}  // namespace uadze::gui
