#include "gui/widgets/level_bar.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QSignalBlocker>
#include <QSlider>

namespace uadze::gui {
namespace {
constexpr int slider_steps = 2000;
}

LevelBar::LevelBar(Workspace& workspace, QWidget* parent)
    : QWidget(parent),
      workspace_(workspace),
      slider_(new QSlider(Qt::Horizontal, this)),
      field_(new QLineEdit(this)),
      clean_(new QPushButton("Clean level", this)) {
  slider_->setRange(0, slider_steps);
  slider_->setPageStep(slider_steps / 20);
  slider_->setFixedWidth(130);
  slider_->setAccessibleName("Level shown");
  slider_->setObjectName("level");
  field_->setFixedWidth(84);
  field_->setFont(figure_font());
  field_->setAccessibleName("Level shown");
  clean_->setCheckable(true);
  clean_->setSizePolicy(QSizePolicy::Fixed, QSizePolicy::Fixed);
  clean_->setToolTip("Shows the clean level of the chosen setup and session");
  auto* layout = new QHBoxLayout(this);
  layout->setContentsMargins(0, 0, 0, 0);
  layout->addWidget(new QLabel("in the tank", this));
  layout->addWidget(slider_);
  layout->addWidget(field_);
  layout->addWidget(clean_);
  connect(slider_, &QSlider::valueChanged, this, [this](int value) {
    if (const auto car = workspace_.runs.car())
      workspace_.selection.pick_level(car->tank->volume() * value / slider_steps);
  });
  connect(field_, &QLineEdit::editingFinished, this, [this] {
    if (field_->isModified())
      if (const auto value =
              parse_quantity(field_->text().toStdString(), Quantity::volume, workspace_.units()))
        workspace_.selection.pick_level(*value);
    field_->setModified(false);
    refresh();
  });
  connect(clean_, &QPushButton::clicked, this, [this] { workspace_.selection.pick_level(std::nullopt); });
  connect(&workspace_, &Workspace::changed, this, &LevelBar::refresh);
  connect(&workspace_, &Workspace::level_changed, this, &LevelBar::refresh);
  refresh();
}

void LevelBar::refresh() {
  const QSignalBlocker quiet(slider_);
  const auto car = workspace_.runs.car();
  setEnabled(car != nullptr);
  if (!car) return;
  slider_->setValue(static_cast<int>(workspace_.runs.level() / car->tank->volume() * slider_steps + 0.5));
  if (!field_->isModified()) field_->setText(workspace_.show(workspace_.runs.level(), Quantity::volume));
  clean_->setChecked(workspace_.selection.picked_level() == std::nullopt);
}

}  // namespace uadze::gui
