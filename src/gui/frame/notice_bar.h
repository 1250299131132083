#pragma once
// A strip for what must be said or asked without stopping the work: faults, offers to restore.
#include <QWidget>
#include <functional>

#include "gui/document/workspace.h"

class QHBoxLayout;
class QLabel;
class QScrollArea;

namespace uadze::gui {

class NoticeBar : public QWidget {
  Q_OBJECT
 public:
  explicit NoticeBar(Workspace& workspace, QWidget* parent = nullptr);
  using Answers = std::vector<std::pair<QString, std::function<void()>>>;
  /// Buttons close the bar before their action.
  void say(const QString& text, bool trouble, const Answers& answers = {});
  /// A question that stands until it is answered: what is said meanwhile comes before it, and it comes back.
  void offer(const QString& text, const Answers& answers);
  QString text() const;
  void dismiss();

 protected:
  void paintEvent(QPaintEvent* event) override;
  void resizeEvent(QResizeEvent*) override { fit(); }

 private:
  struct Offer {
    QString text;
    Answers answers;
  };
  void fit();
  void show_text(const QString& text, bool trouble, const Answers& answers);

  Workspace& workspace_;
  std::optional<Offer> offer_;
  QLabel* label_;
  QScrollArea* scroll_;
  QHBoxLayout* buttons_;
  bool trouble_ = false;
};

}  // namespace uadze::gui
