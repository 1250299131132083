#pragma once
// Always in sight: setup and session, the least start fuel, the tightest place, the reserve there. A click on
// a figure leads to its cause.
#include <QWidget>

#include "gui/document/workspace.h"

class QComboBox;
class QProgressBar;
class QPushButton;
class QToolButton;

namespace uadze::gui {

class VerdictFigure;

class VerdictStrip : public QWidget {
  Q_OBJECT
 public:
  explicit VerdictStrip(Workspace& workspace, QWidget* parent = nullptr);
  QString start_text() const;
  QString tightest_text() const;

 public slots:
  void refresh();

 private:
  /// What the strip tells, of a first answer or a fine one.
  struct Figures {
    QString about = {};  ///< before a figure that is not the last word
    session::RiskPlan risk;
    std::string tightest_place, tightest_side;
    starvation::LapFigures left;  ///< with the fuel that is brought back
    double tank = 0.0, usable = 0.0, density = 0.0;
    bool hopeless = false;                  ///< not even a full tank is clean
    std::vector<circuit::LapFault> faults;  ///< of the circuit, whatever is in the tank
    bool held_by_circuit = false, surge = false, by_circuit = false;
  };
  Figures figures_of(const solve::SessionResult& result) const;
  Figures figures_of(const solve::FirstAnswer& first) const;
  void tell(const Figures& figures, bool stale);
  void tell_why_not(bool stale);
  void lead_to_tightest();
  void show_next();
  void tell_readiness();

  Workspace& workspace_;
  QComboBox *setup_, *session_;
  VerdictFigure *start_, *tightest_, *reserve_, *rail_, *car_;
  QProgressBar* progress_;
  QToolButton* cancel_;
  QPushButton* next_;  ///< what the first answer still needs; hidden once there is one
  Station next_station_ = Station::laps;
};

/// A caption over a large figure with a small second line; a button.
class VerdictFigure : public QWidget {
  Q_OBJECT
 public:
  VerdictFigure(Workspace& workspace, const QString& caption, QWidget* parent);
  void set_caption(const QString& caption);
  void set_text(const QString& large, const QString& small, bool trouble, bool stale);
  const QString& large() const { return large_; }
  QSize sizeHint() const override;
  QSize minimumSizeHint() const override { return sizeHint(); }

 signals:
  void clicked();

 protected:
  void paintEvent(QPaintEvent* event) override;
  void mouseReleaseEvent(QMouseEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;
  void enterEvent(QEnterEvent*) override { update(); }
  void leaveEvent(QEvent*) override { update(); }

 private:
  Workspace& workspace_;
  QString caption_, large_, small_;
  bool trouble_ = false, stale_ = false;
};

}  // namespace uadze::gui
