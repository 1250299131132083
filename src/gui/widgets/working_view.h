#pragma once
// Shows derivations: the number, its formula, inputs with units, source, and the steps below it.
#include <QTextBrowser>

#include "core/base/derivation.h"
#include "gui/document/workspace.h"

namespace uadze::gui {

class WorkingView : public QTextBrowser {
  Q_OBJECT
 public:
  explicit WorkingView(Workspace& workspace, QWidget* parent = nullptr);
  /// Sentences first, then numbers with their working, then cautions in words.
  void show_all(const std::vector<Derivation>& derivations, const QStringList& cautions,
                const QStringList& sentences = {});

 protected:
  void showEvent(QShowEvent* event) override;

 private:
  void render();
  void lay_out();
  QString html(const Derivation& derivation, int depth) const;

  Workspace& workspace_;
  std::vector<Derivation> derivations_;
  QStringList cautions_, sentences_;
  QString shown_;       ///< what is laid out
  bool stale_ = false;  ///< the text is older than what is to be shown
};

/// With figures that keep their units at a line's end: a space that does not break, and a joiner after the
/// stroke of "L/h".
QString unbroken(QString text);

/// The cautions that go with handling fuel at all.
QStringList fuel_cautions(const Workspace& workspace);

}  // namespace uadze::gui
