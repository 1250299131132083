#include "gui/stations/slosh/map_view.h"

#include <QContextMenuEvent>
#include <QFileDialog>
#include <QKeyEvent>
#include <QMenu>
#include <QPainter>
#include <cmath>

#include "core/starvation/never_drawn.h"

namespace uadze::gui {

MapView::MapView(Workspace& workspace, QWidget* parent)
    : LapPicture(workspace, "map", "Starvation map: arrow keys move the cursor, Page Up and Down the level",
                 parent) {
  setMinimumSize(420, 190);
}

QRectF MapView::plot_area() const { return QRectF(rect()).adjusted(64, 30, -12, -34); }

QPointF MapView::on_screen(double distance, double level) const {
  const auto entry = workspace_.runs.lap();
  const auto car = workspace_.runs.car();
  const QRectF r = plot_area();
  if (!entry || !car) return r.center();
  const lap::Lap& lap = entry->value;
  return {r.left() + r.width() * (distance - lap.distance.front()) / std::max(lap.length(), 1e-9),
          r.bottom() - r.height() * level / car->tank->volume()};
}

QStringList MapView::layers() const {
  QStringList out{"all pickups"};
  const auto car = workspace_.runs.car();
  if (!car) return out;
  for (const auto& p : car->pickups) out << QString::fromStdString(p.name);
  out << (car->surge ? "surge tank" : "line, filter") << "rail pressure";
  return out;
}

void MapView::set_layer(int layer) {
  if (layer < 0 || layer == layer_) return;
  layer_ = layer;
  drop_still();
}

namespace {

/// 0..1 of what the layer shows: 1 is good throughout.
const std::vector<float>& layer_of(const starvation::MapRow& row, int layer) {
  const int pickups = static_cast<int>(row.pickups.size());
  if (layer >= 1 && layer <= pickups) return row.pickups[static_cast<size_t>(layer - 1)];
  if (layer == pickups + 1) return row.reserve;
  if (layer == pickups + 2) return row.rail;
  return row.wet;
}

}  // namespace

QImage MapView::map_image() const {
  const auto& result = workspace_.runs.evaluator.result().mapped;
  const starvation::StarvationMap* map = workspace_.runs.map();
  const auto entry = workspace_.runs.lap();
  const Theme& t = workspace_.theme();
  if (!map || !entry || map->rows.empty() || map->rows[0].wet.size() != entry->value.size()) return {};
  const QRectF area = plot_area();
  const int w = static_cast<int>(area.width()), h = static_cast<int>(area.height());
  QImage image(w, h, QImage::Format_RGB32);
  const lap::Lap& lap = entry->value;
  const size_t n = lap.size(), rows = map->rows.size();
  // Pressure over its limit, not over nothing.
  const bool rail = layer_ == static_cast<int>(map->rows[0].pickups.size()) + 2;
  const float floor = rail ? static_cast<float>(result->car->limits.mixture.share()) : 0.0f;
  // Samples of each column; several fall on one, and the barest of them counts.
  std::vector<std::pair<size_t, size_t>> columns(static_cast<size_t>(w));
  size_t i = 0;
  for (int x = 0; x < w; ++x) {
    const double end = lap.distance.front() + lap.length() * (x + 1) / w;
    const size_t first = i;
    while (i + 1 < n && lap.distance[i] < end) ++i;
    columns[static_cast<size_t>(x)] = {first, std::max(first, i)};
  }
  std::array<QRgb, 256> scale;
  for (int k = 0; k < 256; ++k) scale[static_cast<size_t>(k)] = t.wet(k / 255.0).rgb();
  std::vector<std::vector<float>> least(rows, std::vector<float>(static_cast<size_t>(w), 1.0f));
  for (size_t r = 0; r < rows; ++r)
    for (int x = 0; x < w; ++x)
      for (size_t k = columns[static_cast<size_t>(x)].first; k <= columns[static_cast<size_t>(x)].second; ++k)
        least[r][static_cast<size_t>(x)] =
            std::min(least[r][static_cast<size_t>(x)],
                     std::max((layer_of(map->rows[r], layer_)[k] - floor) / (1 - floor), 0.0f));
  const QRgb hatch = t.ink.rgb();
  for (int y = 0; y < h; ++y) {
    const double level = (h - y - 0.5) / h * static_cast<double>(rows) - 1;  // in rows; row r is level r + 1
    const size_t low = static_cast<size_t>(std::clamp(std::floor(level), 0.0, static_cast<double>(rows) - 1));
    const size_t high = std::min(low + 1, rows - 1);
    const float part = static_cast<float>(std::clamp(level - static_cast<double>(low), 0.0, 1.0));
    auto* line = reinterpret_cast<QRgb*>(image.scanLine(y));
    for (int x = 0; x < w; ++x) {
      const float wet =
          least[low][static_cast<size_t>(x)] * (1 - part) + least[high][static_cast<size_t>(x)] * part;
      line[x] = scale[static_cast<size_t>(std::clamp(wet, 0.0f, 1.0f) * 255)];
      // Bare: fine upright hatching; thin: dots. The tone is not the only sign.
      if (wet < 0.02f && (x + y) % 7 == 0)
        line[x] = qRgb((qRed(line[x]) * 2 + qRed(hatch)) / 3, (qGreen(line[x]) * 2 + qGreen(hatch)) / 3,
                       (qBlue(line[x]) * 2 + qBlue(hatch)) / 3);
      else if (wet >= 0.02f && wet < 0.98f && x % 5 == 0 && y % 5 == 0)
        line[x] = hatch;
    }
  }
  // Starving stretches: crossed bars at their level.
  QPainter p(&image);
  p.setRenderHint(QPainter::Antialiasing);
  const double each = static_cast<double>(h) / static_cast<double>(rows);
  for (size_t r = 0; r < rows; ++r)
    for (const auto& event : map->rows[r].events) {
      const double y = h - static_cast<double>(r + 1) * each;
      const double a = (event.start_distance - lap.distance.front()) / lap.length() * w,
                   b = (event.end_distance - lap.distance.front()) / lap.length() * w;
      const QRectF bar(a, y, std::max(b - a, 3.0), each);
      QColor wash = t.dark ? QColor("#8F2F22") : t.trouble;
      wash.setAlpha(215);
      p.fillRect(bar, wash);
      p.setClipRect(bar);
      p.setPen(QPen(QColor(255, 255, 255, 150), 1));
      for (double x = a - each; x < b + each; x += 6) p.drawLine(QPointF(x, y + each), QPointF(x + each, y));
      p.setClipping(false);
    }
  return image;
}

void MapView::draw_still(QPainter& p) {
  const Theme& t = workspace_.theme();
  const auto entry = workspace_.runs.lap();
  const auto car = workspace_.runs.car();
  const QRectF r = plot_area();
  if (!entry || !car) {
    p.setPen(t.faint);
    p.drawText(rect(), Qt::AlignCenter, "The map needs a lap.");
    return;
  }
  const lap::Lap& lap = entry->value;
  if (const QImage image = map_image(); !image.isNull()) {
    p.drawImage(r.topLeft(), image);
  } else {
    p.setPen(t.faint);
    const QString fault = workspace_.runs.fault();
    p.drawText(r.adjusted(20, 0, -20, 0), Qt::AlignCenter | Qt::TextWordWrap,
               !fault.isEmpty()                      ? fault
               : workspace_.runs.evaluator.running() ? QString("computing the map")
                                                     : QString("The map needs a session on this lap."));
  }
  p.setPen(QPen(t.rule, 1));
  p.setBrush(Qt::NoBrush);
  p.drawRect(r);

  const Unit volume = shown_unit(Quantity::volume, workspace_.units()),
             length = shown_unit(Quantity::distance, workspace_.units());
  const auto named = [](const Unit& u) {
    return QString::fromUtf8(u.name.data(), static_cast<int>(u.name.size()));
  };
  const auto step_for = [](double range, int most) {
    double step = std::pow(10, std::floor(std::log10(range / most)));
    while (range / step > most)
      step *= std::fmod(std::log10(step) + 100, 1.0) < 0.01   ? 2
              : std::fmod(std::log10(step) + 100, 1.0) < 0.35 ? 2.5
                                                              : 2;
    return step;
  };
  p.setFont(figure_font(0.85));
  p.setPen(t.faint);
  const double whole = volume.from_si(car->tank->volume()), step_v = step_for(whole, 8);
  for (double v = 0; v <= whole * 1.0001; v += step_v) {
    const double y = on_screen(lap.distance.front(), volume.to_si(v)).y();
    p.drawLine(QPointF(r.left() - 4, y), QPointF(r.left(), y));
    p.drawText(QRectF(0, y - 8, r.left() - 7, 16), Qt::AlignRight | Qt::AlignVCenter,
               QString::number(v, 'g', 4));
  }
  const double first = length.from_si(lap.distance.front()), last = length.from_si(lap.distance.back()),
               step_d = step_for(last - first, 10);
  for (double d = std::ceil(first / step_d) * step_d; d <= last; d += step_d) {
    const double x = on_screen(length.to_si(d), 0).x();
    p.drawLine(QPointF(x, r.bottom()), QPointF(x, r.bottom() + 4));
    p.drawText(QRectF(x - 40, r.bottom() + 4, 80, 16), Qt::AlignCenter, QString::number(d, 'g', 6));
  }
  p.setFont(text_font(0.85));
  p.drawText(QRectF(r.left(), height() - 17, r.width(), 16), Qt::AlignCenter,
             QString("distance [%1]").arg(named(length)));
  p.drawText(QRectF(4, 6, 220, 18), Qt::AlignLeft | Qt::AlignVCenter,
             QString("level in the main tank, held steady [%1]").arg(named(volume)));

  // Legend: each key with its tone and its sign.
  double x = r.right();
  const auto key = [&](const QString& name, const QColor& tone, int sign) {
    const double wide = p.fontMetrics().horizontalAdvance(name) + 30;
    x -= wide;
    const QRectF box(x, 9, 16, 12);
    p.fillRect(box, tone);
    p.setPen(QPen(sign == 3 ? QColor(255, 255, 255, 170) : t.ink, 1));
    p.setClipRect(box);
    if (sign == 1 || sign == 3)
      for (double k = -12; k < 18; k += sign == 1 ? 5 : 4)
        p.drawLine(QPointF(box.left() + k, box.bottom()), QPointF(box.left() + k + 12, box.top()));
    if (sign == 2)
      for (int a = 2; a < 16; a += 5)
        for (int b = 2; b < 12; b += 5) p.drawPoint(QPointF(box.left() + a, box.top() + b));
    p.setClipping(false);
    p.setPen(t.ink);
    p.drawText(QRectF(x + 20, 6, wide, 18), Qt::AlignLeft | Qt::AlignVCenter, name);
  };
  const QStringList names = layers();
  const bool pickups = layer_ < names.size() - 2;
  key("starving", t.dark ? QColor("#8F2F22") : t.trouble, 3);
  key(layer_ == 0                  ? "all bare"
      : pickups                    ? "bare"
      : layer_ == names.size() - 1 ? "at its limit"
                                   : "empty",
      t.dry, 1);
  key(layer_ == 0 ? "part covered" : pickups ? "part covered" : "between", t.thin, 2);
  key(layer_ == 0                  ? "all covered"
      : pickups                    ? "covered"
      : layer_ == names.size() - 1 ? "as set"
                                   : "full",
      t.covered, 0);

  draw_logged(p);
  if (const auto* v = workspace_.runs.verdict(); v && v->lap->clean.exists) {
    const double y = on_screen(0, v->lap->clean.level).y();
    if (v->lap->band) {
      // The model's own uncertainty: a strip with edges.
      const double top = on_screen(0, v->lap->band->high).y(), bottom = on_screen(0, v->lap->band->low).y();
      QColor wash = t.paper;
      wash.setAlpha(90);
      p.fillRect(QRectF(r.left(), top, r.width(), std::max(bottom - top, 1.0)), wash);
      p.setPen(QPen(t.ink, 1, Qt::DotLine));
      p.drawLine(QPointF(r.left(), top), QPointF(r.right(), top));
      p.drawLine(QPointF(r.left(), bottom), QPointF(r.right(), bottom));
    }
    p.setPen(QPen(t.paper, 4));
    p.drawLine(QPointF(r.left(), y), QPointF(r.right(), y));
    p.setPen(QPen(t.ink, 2));
    p.drawLine(QPointF(r.left(), y), QPointF(r.right(), y));
  }
}

/// Where the pressure fell in a log: a filled triangle where the model has it too, an open one where only the
/// log has.
void MapView::draw_logged(QPainter& p) {
  const Theme& t = workspace_.theme();
  const LoggedMarks& logged = workspace_.logged();
  const auto* setup = workspace_.setup();
  const auto* lap = workspace_.selection.lap_reference();
  if (logged.marks.empty() || !setup || !lap || setup->name != logged.setup || lap->name != logged.lap)
    return;
  const auto triangle = [&](const QPointF& at, bool filled) {
    const QPolygonF shape{{at.x(), at.y() - 6}, {at.x() + 6, at.y() + 5}, {at.x() - 6, at.y() + 5}};
    p.setPen(QPen(t.paper, 4));
    p.setBrush(Qt::NoBrush);
    p.drawPolygon(shape);
    p.setPen(QPen(t.ink, 1.6));
    p.setBrush(filled ? QBrush(t.ink) : QBrush(t.paper));
    p.drawPolygon(shape);
  };
  const QRectF r = plot_area();
  for (const auto& mark : logged.marks) {
    const QPointF at = on_screen(mark.distance, mark.level);
    if (r.contains(at)) triangle(at, mark.computed);
  }
  // Its own key, under the map's.
  p.setFont(text_font(0.85));
  const QString words = "pressure fell in log and model:       only in the log:       ";
  const double wide = p.fontMetrics().horizontalAdvance(words) + 10;
  const QRectF box(r.right() - wide - 6, r.top() + 6, wide, 20);
  p.fillRect(box, t.paper);
  p.setPen(t.ink);
  p.drawText(box, Qt::AlignCenter, words);
  const double from = box.left() + 5;
  triangle(
      {from + p.fontMetrics().horizontalAdvance("pressure fell in log and model:  ") + 4, box.center().y()},
      true);
  triangle(
      {from + p.fontMetrics().horizontalAdvance("pressure fell in log and model:       only in the log:  ") +
           4,
       box.center().y()},
      false);
}

/// Its name, on the other side of the cursor at `here`.
void MapView::label_clean_level(QPainter& p, double here) {
  const Theme& t = workspace_.theme();
  const QRectF r = plot_area();
  if (const auto* v = workspace_.runs.verdict(); v && v->lap->clean.exists) {
    const double y = on_screen(0, v->lap->clean.level).y();
    const auto up = [&](double volume) {
      return workspace_.show(session::rounded_up(volume, workspace_.units()), Quantity::volume);
    };
    const QString text =
        "clean level " + up(v->lap->clean.level) +
        (starvation::holds_up(v->lap->car->never_drawn, v->lap->clean.level)
             ? QString(": less never comes out")
         : v->lap->band ? QString(", band %1 to %2").arg(up(v->lap->band->low), up(v->lap->band->high))
                        : QString()) +
        (v->lap->car->calibration
             ? ", " + QString::fromStdString(starvation::calibrated_words(v->lap->car->calibration))
             : QString());
    p.setFont(text_font(0.9, true));
    const double wide = p.fontMetrics().horizontalAdvance(text) + 8;
    const QRectF box(here < r.center().x() ? r.right() - wide - 8 : r.left() + 8,
                     y - 20 < r.top() ? y + 3 : y - 20, wide, 17);
    p.fillRect(box, t.paper);
    p.setPen(t.ink);
    p.drawText(box, Qt::AlignCenter, text);
  }
}

void MapView::draw_moving(QPainter& p) {
  const Theme& t = workspace_.theme();
  const auto entry = workspace_.runs.lap();
  if (!entry || !workspace_.runs.car()) return;
  const lap::Lap& lap = entry->value;
  const QRectF r = plot_area();
  const size_t i = std::min(workspace_.selection.cursor(), lap.size() - 1);
  const QPointF here = on_screen(lap.distance[i], workspace_.runs.level());
  label_clean_level(p, here.x());
  p.setPen(QPen(t.paper, 3));
  p.drawLine(QPointF(here.x(), r.top()), QPointF(here.x(), r.bottom()));
  p.setPen(QPen(t.ink, 1.4));
  p.drawLine(QPointF(here.x(), r.top()), QPointF(here.x(), r.bottom()));
  p.setPen(QPen(t.paper, 3));
  p.drawLine(QPointF(r.left(), here.y()), QPointF(r.right(), here.y()));
  p.setPen(QPen(t.ink, 1.2, Qt::DashLine));
  p.drawLine(QPointF(r.left(), here.y()), QPointF(r.right(), here.y()));
  p.setBrush(t.paper);
  p.setPen(QPen(t.ink, 1.6));
  p.drawEllipse(here, 4, 4);
  const QString text = QString::fromStdString(lap::place_at(workspace_.runs.corners(), lap, lap.time[i])) +
                       ", " + workspace_.show(workspace_.runs.level(), Quantity::volume);
  p.setFont(text_font(0.9));
  const double wide = p.fontMetrics().horizontalAdvance(text) + 8;
  const QRectF box(here.x() + wide + 12 > r.right() ? here.x() - wide - 8 : here.x() + 8,
                   std::clamp(here.y() - 24, r.top() + 2, r.bottom() - 20), wide, 17);
  p.fillRect(box, t.paper);
  p.setPen(t.ink);
  p.drawText(box, Qt::AlignCenter, text);
}

void MapView::seek(const QPointF& point) {
  const auto entry = workspace_.runs.lap();
  const auto car = workspace_.runs.car();
  if (!entry || !car) return;
  const QRectF r = plot_area();
  workspace_.set_cursor_distance(entry->value.distance.front() +
                                 (point.x() - r.left()) / r.width() * entry->value.length());
  workspace_.selection.pick_level(std::clamp((r.bottom() - point.y()) / r.height(), 0.0, 1.0) *
                                  car->tank->volume());
}

void MapView::keyPressEvent(QKeyEvent* event) {
  const auto car = workspace_.runs.car();
  if (car && (event->key() == Qt::Key_PageUp || event->key() == Qt::Key_PageDown ||
              event->key() == Qt::Key_Up || event->key() == Qt::Key_Down)) {
    const bool up = event->key() == Qt::Key_PageUp || event->key() == Qt::Key_Up;
    const double step = event->modifiers() & Qt::ShiftModifier ? 0.1e-3 : car->tank->volume() / 60;
    workspace_.selection.pick_level(
        std::clamp(workspace_.runs.level() + (up ? step : -step), 0.0, car->tank->volume()));
    return;
  }
  LapPicture::keyPressEvent(event);
}

void MapView::contextMenuEvent(QContextMenuEvent* event) {
  QMenu menu(this);
  menu.addAction("Save picture…", this, [this] {
    const QString file =
        QFileDialog::getSaveFileName(this, "Save picture", "starvation-map.png", "PNG (*.png)");
    if (!file.isEmpty()) grab().save(file);
  });
  menu.exec(event->globalPos());
}

}  // namespace uadze::gui
