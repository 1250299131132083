#pragma once
// A strip for what must be said or asked without stopping the work: faults, offers to restore.
#include <QWidget>
#include <functional>

#include "gui/document/workspace.h"

class QHBoxLayout;
class QLabel;

namespace uadze::gui {

class NoticeBar : public QWidget {
  Q_OBJECT
 public:
  explicit NoticeBar(Workspace& workspace, QWidget* parent = nullptr);
  /// Buttons close the bar after their action.
  void say(const QString& text, bool trouble,
           const std::vector<std::pair<QString, std::function<void()>>>& answers = {});
  QString text() const;
  void dismiss() { hide(); }

 protected:
  void paintEvent(QPaintEvent* event) override;

 private:
  Workspace& workspace_;
  QLabel* label_;
  QHBoxLayout* buttons_;
  bool trouble_ = false;
};

}  // namespace uadze::gui
