#include "gui/stations/tank/tank_marks.h"

#include <algorithm>
#include <cmath>
#include <numbers>

#include "core/tank/gauge.h"

namespace uadze::gui {
namespace {

class Marks {
 public:
  Marks(QPainter& p, Workspace& w, const MarksLook& look)
      : p_(p),
        w_(w),
        t_(w.theme()),
        look_(look),
        parts_(w.setup()->tank),
        tank_(*w.runs.car()->tank),
        meshes_(w.document.sources()->tanks.meshes()) {}

  void paint() {
    dimensions();
    axes();
    pull();
    openings();
    sender();
    returns_and_vent();
    handles();
    pickups();
    gas();
    faults();
    tags();
  }

 private:
  QPointF at(const Vec3& v) const { return look_.on_screen(v); }
  bool chosen(TankPartKind kind, size_t i, int owner = -1) const {
    return look_.chosen && *look_.chosen == PartRef{kind, static_cast<int>(i), owner};
  }
  QString length(double v) const {
    return w_.show(v, Quantity::length, w_.units().length == LengthUnit::inch ? 2 : 0);
  }

  /// A name on paper beside a point, put where it covers no mark and no other name once all are known.
  void tag(const QPointF& c, const QString& text, bool strong) { tags_.push_back({c, text, strong}); }
  /// Nothing may be written over a mark of this size.
  void keep_clear(const QPointF& c, double radius) {
    taken_.push_back(QRectF(c - QPointF(radius, radius), QSizeF(2 * radius, 2 * radius)));
  }

  void tags() {
    // What was asked for by name is placed first.
    std::stable_sort(tags_.begin(), tags_.end(),
                     [](const Tag& a, const Tag& b) { return a.strong > b.strong; });
    const QRectF whole(QPointF(2, 2), QSizeF(look_.size) - QSizeF(4, 4));
    for (const Tag& tag : tags_) {
      p_.setFont(text_font(0.9, tag.strong));
      const double wide = p_.fontMetrics().horizontalAdvance(tag.text) + 8, high = 16;
      QRectF best;
      double least = 1e300;
      // Right and left of the mark, above and below it, then the same further out.
      for (double away : {0.0, 14.0, 30.0, 48.0})
        for (const auto& [x, y] : {std::pair{12.0, -22.0 - away},
                                   {12.0, 6.0 + away},
                                   {-12.0 - wide, -22.0 - away},
                                   {-12.0 - wide, 6.0 + away},
                                   {-wide / 2, -28.0 - away},
                                   {-wide / 2, 12.0 + away},
                                   {14.0 + away, -8.0},
                                   {-14.0 - wide - away, -8.0}}) {
          const QRectF box(tag.at + QPointF(x, y), QSizeF(wide, high));
          double cost = 0.02 * away;
          if (!whole.contains(box)) cost += 1e3;
          for (const QRectF& other : taken_) {
            const QRectF both = box.intersected(other);
            if (!both.isEmpty()) cost += 1 + both.width() * both.height();
          }
          if (cost < least) least = cost, best = box;
        }
      best.moveLeft(std::clamp(best.left(), 2.0, std::max(2.0, whole.right() - wide)));
      taken_.push_back(best);
      const QPointF nearest(std::clamp(tag.at.x(), best.left(), best.right()),
                            std::clamp(tag.at.y(), best.top(), best.bottom()));
      if (const QPointF d = nearest - tag.at; std::hypot(d.x(), d.y()) > 18) {
        p_.setPen(QPen(t_.faint, 0.8));
        p_.drawLine(tag.at, nearest);
      }
      QColor back = t_.paper;
      back.setAlpha(215);
      p_.fillRect(best, back);
      p_.setPen(t_.ink);
      p_.drawText(best, Qt::AlignCenter, tag.text);
    }
  }

  void dimension(const Vec3& a, const Vec3& b, double value, const Vec3& middle) {
    const QPointF m = (at(a) + at(b)) / 2, d = at(b) - at(a);
    if (std::hypot(d.x(), d.y()) < 40) return;
    const QPointF out = m - at(middle);
    const double n = std::max(1.0, std::hypot(out.x(), out.y()));
    const QRectF box(m.x() + out.x() / n * 26 - 50, m.y() + out.y() / n * 16 - 8, 100, 16);
    QRectF used;
    p_.drawText(box, Qt::AlignCenter, length(value), &used);
    taken_.push_back(used);
  }

  void dimensions() {
    const Vec3 low = tank_.lower_corner(), high = tank_.upper_corner();
    p_.setFont(figure_font(0.85));
    p_.setPen(t_.faint);
    // Of the four edges along an axis the one that stands out most, those below first.
    const auto box = [&](const Vec3& a, const Vec3& b) {
      for (int axis = 0; axis < 3; ++axis) {
        Vec3 best_from = a, best_to = b;
        double best = -1e300;
        for (int k = 0; k < 4; ++k) {
          Vec3 from = a, to = a;
          const int u = (axis + 1) % 3, v = (axis + 2) % 3;
          from[u] = to[u] = k & 1 ? b[u] : a[u];
          from[v] = to[v] = k & 2 ? b[v] : a[v];
          to[axis] = b[axis];
          const QPointF out = (at(from) + at(to)) / 2 - at((a + b) / 2);
          const double standing = std::hypot(out.x(), out.y()) + 0.5 * out.y();
          if (standing > best) best = standing, best_from = from, best_to = to;
        }
        dimension(best_from, best_to, b[axis] - a[axis], (a + b) / 2);
      }
    };
    box(low, high);
    if (!look_.chosen) return;
    if (const tank::Shape* shape = shape_of(parts_, *look_.chosen);
        shape && look_.chosen->kind != TankPartKind::shape) {
      const tank::Solid solid = make_solid(*shape, meshes_);
      p_.setPen(t_.ink);
      box(solid.lower_corner(), solid.upper_corner());
    }
  }

  void axes() {
    const QPointF base(54, look_.size.height() - 52), o = at(Vec3::Zero());
    const double scale = (at(Vec3(look_.eye.unitOrthogonal() * 0.1)) - o).manhattanLength();
    p_.setFont(text_font(0.85));
    for (const auto& [axis, name] : {std::pair{Vec3(Vec3::UnitX()), "front"},
                                     {Vec3(Vec3::UnitY()), "left"},
                                     {Vec3(Vec3::UnitZ()), "up"}}) {
      const QPointF tip = base + (at(axis * 0.1) - o) * (26 / std::max(scale, 1.0));
      p_.setPen(QPen(t_.ink, 1.4));
      p_.drawLine(base, tip);
      if ((tip - base).manhattanLength() > 8)
        p_.drawText(QRectF(tip.x() - 24 + (tip.x() - base.x()) * 0.5,
                           tip.y() - 8 + (tip.y() - base.y()) * 0.4, 48, 16),
                    Qt::AlignCenter, name);
    }
  }

  void pull() {
    const Vec3 f = look_.fuel->pull;
    const QPointF from(look_.size.width() - 70, 60), o = at(Vec3::Zero());
    const double unit =
        26 / std::max(1.0, (at(Vec3(look_.eye.unitOrthogonal() * 0.1)) - o).manhattanLength());
    const QPointF d = (at(f / standard_gravity * 0.1) - o) * unit;
    const double n = std::hypot(d.x(), d.y());
    p_.setPen(QPen(t_.trouble, 2));
    p_.drawLine(from, from + d);
    if (n > 4) {
      const QPointF u = d / n, v(-u.y(), u.x());
      p_.setBrush(t_.trouble);
      p_.drawPolygon(QPolygonF{from + d + u * 4, from + d - u * 6 + v * 4, from + d - u * 6 - v * 4});
    }
    p_.setPen(t_.faint);
    p_.setFont(text_font(0.85));
    p_.drawText(QRectF(look_.size.width() - 190, 6, 182, 16), Qt::AlignRight,
                "pull on the fuel " + w_.show(f.norm(), Quantity::acceleration));
  }

  QPolygonF outline_of(const tank::OpeningPart& part, const tank::Opening& made) const {
    Vec3 level = made.half_level.norm() > 0 ? Vec3(made.half_level.normalized()) : Vec3(Vec3::UnitY());
    Vec3 up = made.half_up.norm() > 0 ? Vec3(made.half_up.normalized()) : Vec3(Vec3::UnitZ());
    Vec3 middle = Vec3::Zero();
    for (const auto& c : made.cells) middle += c.at;
    middle /= static_cast<double>(made.cells.size());
    QPolygonF out;
    if (part.form == tank::OpeningForm::round)
      for (int k = 0; k < 24; ++k)
        out << at(middle + part.diameter / 2 *
                               (std::cos(k * std::numbers::pi / 12) * level +
                                std::sin(k * std::numbers::pi / 12) * up));
    else
      for (const auto& [a, b] : {std::pair{-1, -1}, {1, -1}, {1, 1}, {-1, 1}})
        out << at(middle + a * part.width / 2 * level + b * part.height / 2 * up);
    return out;
  }

  void openings() {
    for (const PartRef& ref : parts_of(parts_)) {
      const tank::OpeningPart* part = opening_of(parts_, ref);
      if (!part) continue;
      for (size_t k = 0; k < tank_.openings.size(); ++k) {
        const tank::Opening& made = tank_.openings[k];
        if (made.name.rfind(part->name, 0) != 0 || made.part != owner_name(ref)) continue;
        const double flow = k < look_.fuel->flow.size() ? look_.fuel->flow[k] : 0.0;
        const bool is_chosen = look_.chosen && *look_.chosen == ref, moves = std::abs(flow) > 0.5e-5;
        p_.setPen(QPen(t_.ink, is_chosen ? 2.4 : 1.2));
        QColor fill = moves ? t_.covered : t_.paper;
        fill.setAlpha(moves ? 190 : 140);
        // A shut door is crossed, an open one is clear.
        p_.setBrush(fill);
        const QPolygonF outline = outline_of(*part, made);
        p_.drawPolygon(outline);
        const QPointF c = outline.boundingRect().center();
        if (part->door != tank::Door::none && !moves) {
          p_.drawLine(outline.boundingRect().topLeft(), outline.boundingRect().bottomRight());
        }
        if (moves) {
          const QPointF way = at(made.normal * 0.05) - at(Vec3::Zero());
          const double n = std::hypot(way.x(), way.y());
          if (n > 2) {
            const QPointF d =
                way / n * (flow > 0 ? 1 : -1) * (10 + 12 * std::min(1.0, std::abs(flow) / 0.5e-3));
            p_.setPen(QPen(t_.ink, 1.6));
            p_.drawLine(c - d / 2, c + d / 2);
            const QPointF u = d / std::hypot(d.x(), d.y()), v(-u.y(), u.x());
            p_.setBrush(t_.ink);
            p_.drawPolygon(
                QPolygonF{c + d / 2 + u * 4, c + d / 2 - u * 4 + v * 4, c + d / 2 - u * 4 - v * 4});
          }
        }
        if (is_chosen) {
          QString text = QString::fromStdString(part->name);
          if (part->door != tank::Door::none)
            text += moves ? ": open, " : ": shut, ";
          else
            text += ": ";
          tag(c, text + w_.show(std::abs(flow), Quantity::flow), true);
        }
      }
    }
  }

  std::string owner_name(const PartRef& ref) const {
    const int baffles = static_cast<int>(parts_.baffles.size());
    return ref.owner < baffles ? parts_.baffles[static_cast<size_t>(ref.owner)].name
                               : parts_.collectors[static_cast<size_t>(ref.owner - baffles)].name;
  }

  void sender() {
    // A float in a splash follows no surface that is known.
    if (!parts_.sender || look_.fuel->splash) return;
    const tank::Sender& s = *parts_.sender;
    // The float lies on the surface of the space that it is in.
    const int space = std::max(0, tank_.space_at(s.pivot));
    const double reading = sender_reading(s, look_.fuel->surface[static_cast<size_t>(space)]);
    const double angle = s.empty + reading * (s.full - s.empty) + s.bent;
    const Vec3 pivot = s.pivot + Vec3(0, 0, s.raised);
    const Vec3 tip = pivot + s.arm * Vec3(std::cos(angle) * std::cos(s.heading),
                                          std::cos(angle) * std::sin(s.heading), std::sin(angle));
    p_.setPen(QPen(t_.ink, chosen(TankPartKind::sender, 0) ? 2.6 : 1.6));
    p_.drawLine(at(pivot), at(tip));
    p_.setBrush(t_.paper);
    p_.drawEllipse(at(pivot), 3, 3);
    p_.setBrush(t_.dry);
    p_.drawEllipse(at(tip), 5, 5);
    keep_clear(at(tip), 6);
    keep_clear(at(pivot), 4);
    tag(at(tip), "gauge " + w_.show(reading, Quantity::fraction, 0), chosen(TankPartKind::sender, 0));
  }

  void returns_and_vent() {
    for (size_t i = 0; i < parts_.returns.size(); ++i) {
      const QPointF c = at(parts_.returns[i].position);
      p_.setPen(QPen(t_.ink, chosen(TankPartKind::return_outlet, i) ? 2.4 : 1.4));
      p_.setBrush(t_.paper);
      p_.drawPolygon(QPolygonF{c + QPointF(-5, -8), c + QPointF(5, -8), c});
      keep_clear(c + QPointF(0, -4), 6);
      tag(c, QString::fromStdString(parts_.returns[i].name), chosen(TankPartKind::return_outlet, i));
    }
    if (parts_.vent) {
      const QPointF c = at(parts_.vent->position);
      p_.setPen(QPen(t_.ink, chosen(TankPartKind::vent, 0) ? 2.4 : 1.4));
      p_.setBrush(t_.paper);
      p_.drawRect(QRectF(c.x() - 4, c.y() - 4, 8, 8));
      p_.drawLine(c, c + QPointF(0, -9));
      keep_clear(c, 7);
      tag(c, "vent", chosen(TankPartKind::vent, 0));
    }
  }

  void handles() {
    const auto handle = [&](const PartRef& ref) {
      const auto position = part_position(parts_, ref, meshes_);
      if (!position) return;
      const QPointF c = at(*position);
      const bool is = look_.chosen && *look_.chosen == ref;
      p_.setPen(QPen(t_.ink, is ? 2.2 : 1.0));
      p_.setBrush(is ? t_.covered : t_.paper);
      p_.drawPolygon(QPolygonF{c + QPointF(0, -6), c + QPointF(6, 0), c + QPointF(0, 6), c + QPointF(-6, 0)});
      keep_clear(c, 6);
      if (is) tag(c, part_title(parts_, ref), true);
    };
    for (const PartRef& ref : parts_of(parts_))
      if (ref.kind == TankPartKind::baffle || ref.kind == TankPartKind::collector ||
          ref.kind == TankPartKind::body)
        handle(ref);
  }

  void pickups() {
    for (size_t i = 0; i < parts_.pickups.size() && i < look_.fuel->wet.size(); ++i) {
      const tank::Pickup& pickup = parts_.pickups[i];
      const double wet = look_.fuel->wet[i];
      // The sock as it lies, then the mark: covered a full disc, thin a half one, bare an open ring with a
      // cross.
      QPolygonF sock;
      for (int k = 0; k < 36; ++k)
        sock << at(pickup.position + pickup.sock_radius * Vec3(std::cos(k * std::numbers::pi / 18),
                                                               std::sin(k * std::numbers::pi / 18), 0));
      p_.setPen(QPen(t_.ink, chosen(TankPartKind::pickup, i) ? 2.4 : 1.2));
      QColor wash = t_.wet(wet);
      wash.setAlpha(150);
      p_.setBrush(wash);
      p_.drawPolygon(sock);
      const QPointF c = at(pickup.position);
      p_.setBrush(wet > 0.98 ? t_.covered : t_.paper);
      p_.setPen(QPen(wet > 0.98 ? QColor(Qt::white) : wet > 0.02 ? t_.ink : t_.trouble, 1.8));
      p_.drawEllipse(c, 6, 6);
      keep_clear(c, 8);
      if (wet <= 0.02) {
        p_.drawLine(c + QPointF(-4, -4), c + QPointF(4, 4));
        p_.drawLine(c + QPointF(-4, 4), c + QPointF(4, -4));
      } else if (wet <= 0.98) {
        p_.setBrush(t_.ink);
        p_.drawPie(QRectF(c.x() - 6, c.y() - 6, 12, 12), 180 * 16, 180 * 16);
      }
      const QString state = wet > 0.98   ? "covered"
                            : wet > 0.02 ? w_.show(wet, Quantity::fraction, 0) + " covered"
                                         : "bare";
      tag(c, QString::fromStdString(pickup.name) + ": " + state, chosen(TankPartKind::pickup, i));
    }
  }

  void gas() {
    if (tank_.spaces.size() < 2) return;
    double y = 6;
    p_.setFont(text_font(0.85));
    for (size_t i = 0; i < tank_.spaces.size(); ++i) {
      const bool locked = i < look_.fuel->locked.size() && look_.fuel->locked[i];
      p_.setPen(locked ? t_.trouble : t_.faint);
      QRectF used;
      p_.drawText(QRectF(8, y, look_.size.width() / 2.0, 16), Qt::AlignLeft,
                  QString("%1 %2%3").arg(QString::fromStdString(tank_.spaces[i].name),
                                         w_.show(look_.fuel->volume[i], Quantity::volume, 2),
                                         locked ? "  ▲ gas locked in" : ""),
                  &used);
      taken_.push_back(used);
      y += 16;
    }
  }

  void faults() {
    const Messages messages = w_.runs.tank_messages();
    if (messages.empty()) return;
    const project::Places places = project::places_in(parts_);
    for (const PartRef& ref : parts_of(parts_)) {
      const auto position = part_position(parts_, ref, meshes_);
      if (!position || !message_of(messages, part_place(places, parts_, ref))) continue;
      const QPointF c = at(*position) + QPointF(0, -14);
      p_.setPen(QPen(t_.trouble, 1.6));
      p_.setBrush(t_.paper);
      p_.drawPolygon(QPolygonF{c + QPointF(0, -6), c + QPointF(6, 5), c + QPointF(-6, 5)});
      p_.drawLine(c + QPointF(0, -2), c + QPointF(0, 2));
    }
  }

  QPainter& p_;
  Workspace& w_;
  const Theme& t_;
  const MarksLook& look_;
  const tank::TankParts& parts_;
  const tank::Tank& tank_;
  const tank::MeshSource meshes_;
  struct Tag {
    QPointF at;
    QString text;
    bool strong;
  };
  std::vector<Tag> tags_;
  std::vector<QRectF> taken_;  ///< where marks and names are already
};

}  // namespace

std::optional<Message> message_of(const Messages& messages, const QString& place) {
  std::optional<Message> out;
  const std::string at = place.toStdString();
  for (const Message& m : messages)
    if (m.place == at || (!at.empty() && m.place.starts_with(at + "/")))
      if (!out || m.severity > out->severity) out = m;
  return out;
}

void paint_marks(QPainter& p, Workspace& workspace, const MarksLook& look) {
  if (!workspace.runs.car() || !workspace.setup() || !look.fuel) return;
  if (look.fuel->surface.size() != workspace.runs.car()->tank->spaces.size()) return;
  Marks(p, workspace, look).paint();
}

}  // namespace uadze::gui
