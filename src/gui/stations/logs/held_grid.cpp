#include "gui/stations/logs/held_grid.h"

#include <QHelpEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QToolTip>
#include <algorithm>

#include "gui/widgets/lap_picture.h"

namespace uadze::gui {

namespace {
constexpr double grid_left = 118, grid_above = 78, grid_row = 24;
}

HeldGrid::HeldGrid(Workspace& workspace, QWidget* parent) : QWidget(parent), w_(workspace) {
  setObjectName("held grid");
  setAccessibleName("Laps by places: what log and model say");
  setFocusPolicy(Qt::StrongFocus);
  setMinimumHeight(static_cast<int>(grid_above + 2 * grid_row));
}

void HeldGrid::show_held(std::shared_ptr<const solve::LoggedCase> made,
                         const std::vector<solve::ComputedLap>& run) {
  made_ = std::move(made);
  cells_.clear();
  lap_ = place_ = -1;
  if (made_)
    for (size_t k = 0; k < made_->laps.size() && k < run.size(); ++k) {
      cells_.emplace_back();
      for (size_t p = 0; p < made_->places.size(); ++p) {
        const bool logged = made_->laps[k].event[p], said = run[k].event[p];
        cells_.back().push_back(logged && run[k].shows[p] ? Cell::both
                                : logged                  ? Cell::logged
                                : said                    ? Cell::computed
                                                          : Cell::neither);
      }
    }
  setMinimumHeight(
      static_cast<int>(grid_above + grid_row * std::max<double>(static_cast<double>(cells_.size()), 2) + 6));
  update();
}

QRectF HeldGrid::area() const {
  return QRectF(grid_left, grid_above, std::max(width() - grid_left - 10.0, 20.0),
                height() - grid_above - 4.0);
}

QRectF HeldGrid::cell(int lap, int place) const {
  const QRectF a = area();
  const double wide = a.width() / std::max<double>(static_cast<double>(made_ ? made_->places.size() : 1), 1);
  return {a.left() + place * wide, a.top() + lap * grid_row, wide, grid_row};
}

QPointF HeldGrid::on_screen(int lap, int place) const { return cell(lap, place).center(); }

void HeldGrid::choose(int lap, int place) {
  if (cells_.empty()) return;
  lap_ = std::clamp(lap, 0, static_cast<int>(cells_.size()) - 1);
  place_ = std::clamp(place, 0, static_cast<int>(made_->places.size()) - 1);
  setAccessibleDescription(words(lap_, place_));
  update();
  emit cell_chosen(lap_, place_);
}

QString HeldGrid::words(int lap, int place) const {
  static constexpr const char* said[] = {
      "the pressure holds in log and model", "the pressure falls in log and model",
      "the pressure falls only in the log", "the pressure falls only in the model"};
  const auto& one = made_->laps[static_cast<size_t>(lap)];
  return QString("Lap %1, %2, %3 in the tank: %4")
      .arg(one.number)
      .arg(QString::fromStdString(made_->places[static_cast<size_t>(place)].name),
           w_.show(one.level, Quantity::volume),
           said[static_cast<int>(cells_[static_cast<size_t>(lap)][static_cast<size_t>(place)])]);
}

void HeldGrid::paintEvent(QPaintEvent*) {
  const Theme& t = w_.theme();
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  p.fillRect(rect(), t.paper);
  if (cells_.empty()) return;
  const int laps = static_cast<int>(cells_.size()), places = static_cast<int>(made_->places.size());
  p.setFont(text_font(0.85));
  for (int c = 0; c < places; ++c) {
    const QRectF box = cell(0, c);
    p.save();
    p.translate(box.center().x(), grid_above - 6);
    p.rotate(-38);
    p.setPen(t.ink);
    p.drawText(QPointF(0, 0), QString::fromStdString(made_->places[static_cast<size_t>(c)].name));
    p.restore();
  }
  for (int k = 0; k < laps; ++k) {
    const QRectF row(area().left(), grid_above + k * grid_row, area().width(), grid_row);
    p.setPen(QPen(t.rule, 1));
    p.drawLine(row.bottomLeft(), row.bottomRight());
    const auto& lap = made_->laps[static_cast<size_t>(k)];
    p.setPen(t.ink);
    p.setFont(text_font(0.85));
    p.drawText(QRectF(4, row.top(), 60, grid_row), Qt::AlignLeft | Qt::AlignVCenter,
               QString(lap.flying ? "lap %1" : "%1, slow").arg(lap.number));
    p.setFont(figure_font(0.85));
    p.drawText(QRectF(56, row.top(), grid_left - 64, grid_row), Qt::AlignRight | Qt::AlignVCenter,
               w_.show(lap.level, Quantity::volume));
    for (int c = 0; c < places; ++c) {
      const QPointF m = cell(k, c).center();
      const QPolygonF triangle{{m.x(), m.y() - 6}, {m.x() + 6, m.y() + 5}, {m.x() - 6, m.y() + 5}};
      p.setBrush(Qt::NoBrush);
      switch (cells_[static_cast<size_t>(k)][static_cast<size_t>(c)]) {
        case Cell::both:
          p.setPen(QPen(t.ink, 1.2));
          p.setBrush(t.ink);
          p.drawPolygon(triangle);
          break;
        case Cell::logged:
          p.setPen(QPen(t.trouble, 1.8));
          p.drawPolygon(triangle);
          break;
        case Cell::computed:
          p.setPen(QPen(t.trouble, 1.8));
          p.drawEllipse(m, 5, 5);
          break;
        case Cell::neither:
          p.setPen(QPen(t.faint, 1));
          p.setBrush(t.faint);
          p.drawEllipse(m, 1.2, 1.2);
          break;
      }
      if (k == lap_ && c == place_) {
        p.setPen(QPen(t.ink, 1.4));
        p.setBrush(Qt::NoBrush);
        p.drawRect(cell(k, c).adjusted(1, 1, -1, -1));
      }
    }
  }
  if (hasFocus()) draw_focus_ring(p, rect(), t);
}

void HeldGrid::mousePressEvent(QMouseEvent* event) {
  setFocus();
  for (int k = 0; k < static_cast<int>(cells_.size()); ++k)
    for (int c = 0; c < static_cast<int>(made_->places.size()); ++c)
      if (cell(k, c).contains(event->position())) choose(k, c);
}

void HeldGrid::keyPressEvent(QKeyEvent* event) {
  const int key = event->key();
  if (key == Qt::Key_Left || key == Qt::Key_Right)
    choose(std::max(lap_, 0), place_ + (key == Qt::Key_Right ? 1 : -1));
  else if (key == Qt::Key_Up || key == Qt::Key_Down)
    choose(lap_ + (key == Qt::Key_Down ? 1 : -1), std::max(place_, 0));
  else
    QWidget::keyPressEvent(event);
}

bool HeldGrid::event(QEvent* event) {
  if (event->type() == QEvent::ToolTip && !cells_.empty()) {
    const auto* help = static_cast<QHelpEvent*>(event);
    for (int k = 0; k < static_cast<int>(cells_.size()); ++k)
      for (int c = 0; c < static_cast<int>(made_->places.size()); ++c)
        if (cell(k, c).contains(help->pos())) {
          QToolTip::showText(help->globalPos(), words(k, c), this);
          return true;
        }
  }
  return QWidget::event(event);
}

}  // namespace uadze::gui
