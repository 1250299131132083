#pragma once
// A choice as wide as its name asks, within bounds; what does not fit ends in "…" and stands whole in the
// tip.
//
//   ElidedBox box;
//   box.addItem("Practice of the second day, before noon");
#include <QComboBox>

namespace uadze::gui {

class ElidedBox : public QComboBox {
  Q_OBJECT
 public:
  static constexpr int least = 190, most = 420;  ///< px, that it wants
  static constexpr int pressed = 160;            ///< px, that it does with where the rest needs the room

  explicit ElidedBox(QWidget* parent = nullptr);
  QSize sizeHint() const override;
  QSize minimumSizeHint() const override;
  /// What is shown of the chosen name.
  QString shown_text() const;

 protected:
  void paintEvent(QPaintEvent*) override;
};

}  // namespace uadze::gui
