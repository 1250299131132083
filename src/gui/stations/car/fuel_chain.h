#pragma once
// The way of the fuel from tank to engine as a picture, with flows and levels at the lap cursor.
#include "gui/widgets/lap_picture.h"

namespace uadze::gui {

class FuelChain : public LapPicture {
 public:
  explicit FuelChain(Workspace& workspace, QWidget* parent = nullptr);

 protected:
  void draw_moving(QPainter& p) override;
};

}  // namespace uadze::gui
