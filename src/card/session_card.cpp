#include "card/session_card.h"

#include <QFile>
#include <QFontMetricsF>
#include <QGuiApplication>
#include <QImage>
#include <QPageSize>
#include <QPdfWriter>
#include <QTemporaryDir>
#include <algorithm>
#include <cmath>
#include <memory>

#include "card/fonts.h"
#include "core/base/files.h"
#include "core/base/version.h"
#include "core/base/when.h"

namespace uadze::card {
namespace {

const QColor ink("#1C2A2E"), faint("#5C686B"), rule("#C9C4B6"), trouble("#A8392B"), dry("#C8A15A"),
    thin("#9DB8A8"), covered("#0E6A73");

QString q(const std::string& text) { return QString::fromStdString(text); }

QFont face(double points, bool bold = false) {
  QFont font("B612");
  font.setPixelSize(std::max(1, static_cast<int>(std::lround(points))));
  font.setBold(bold);
  return font;
}

QColor mix(const QColor& a, const QColor& b, double u) {
  return QColor::fromRgbF(static_cast<float>(a.redF() + (b.redF() - a.redF()) * u),
                          static_cast<float>(a.greenF() + (b.greenF() - a.greenF()) * u),
                          static_cast<float>(a.blueF() + (b.blueF() - a.blueF()) * u));
}

QColor wet_colour(double wet) {
  return wet < 0.5 ? mix(dry, thin, 2 * wet) : mix(thin, covered, 2 * wet - 1);
}

class Card {
 public:
  Card(QPainter& p, const QRectF& page, const solve::SessionResult& session, const UnitSystem& units,
       const std::string& project, const logbook::Readiness* ready)
      : p_(p),
        page_(page.adjusted(36, 32, -36, -28)),
        s_(session),
        units_(units),
        project_(project),
        text_(report::card_text(session, units, ready)) {}

  void draw() {
    double y = heading();
    y = numbers(y);
    const double left = page_.width() * 0.56;
    const double column = y;
    double a = list(s_.possible() ? "the same, as" : "why", text_.also,
                    QRectF(page_.left(), column, left - 14, 400));
    double b =
        list("refuelling", text_.refuelling, QRectF(page_.left() + left, column, page_.width() - left, 400));
    b = list("in the tank: put in", text_.fill, QRectF(page_.left() + left, b + 4, page_.width() - left, 400),
             true);
    y = std::max(a, b) + 8;
    const double foot = footer();
    const double room = foot - y - 8;
    corners(QRectF(page_.left(), y, left - 14, room));
    map(QRectF(page_.left() + left, y, page_.width() - left, room));
  }

 private:
  void line(double y) {
    p_.setPen(QPen(rule, 0.8));
    p_.drawLine(QPointF(page_.left(), y), QPointF(page_.right(), y));
  }

  QRectF words(const QRectF& box, const QString& text, const QFont& font, const QColor& colour,
               int flags = Qt::AlignLeft | Qt::AlignTop | Qt::TextWordWrap) {
    p_.setFont(font);
    p_.setPen(colour);
    QRectF used;
    p_.drawText(box, flags, text, &used);
    return used;
  }

  /// One line, its end left out where there is no room.
  void cut(const QRectF& box, const QString& text, const QFont& font, const QColor& colour,
           Qt::Alignment side) {
    const QString fitting = QFontMetricsF(font).elidedText(text, Qt::ElideRight, box.width());
    words(box, fitting, font, colour, static_cast<int>(side) | Qt::AlignVCenter);
  }

  double heading() {
    const QRectF box(page_.left(), page_.top(), page_.width(), 30);
    // Names of any length: the title in smaller letters where it is long, the others cut with a sign.
    double size = 22;
    while (size > 12 && QFontMetricsF(face(size, true)).horizontalAdvance(q(text_.title)) > box.width())
      --size;
    cut(box, q(text_.title), face(size, true), ink, Qt::AlignLeft);
    const QRectF second = box.translated(0, 28).adjusted(0, 0, 0, -12);
    const double project =
        std::min(QFontMetricsF(face(11)).horizontalAdvance(q(project_)) + 2, second.width() * 0.45);
    cut(second.adjusted(second.width() - project, 0, 0, 0), q(project_), face(11), faint, Qt::AlignRight);
    cut(second.adjusted(0, 0, -project - 12, 0), q(text_.subtitle), face(11), faint, Qt::AlignLeft);
    line(page_.top() + 54);
    return page_.top() + 60;
  }

  double numbers(double y) {
    const double half = page_.width() / 2;
    const auto one = [&](double x, const report::CardLine& number, bool bad) {
      words(QRectF(x, y, half, 16), q(number.label).toUpper(), face(11, true), faint,
            Qt::AlignLeft | Qt::AlignVCenter);
      words(QRectF(x, y + 14, half, 66), (bad ? "▲ " : "") + q(number.value), face(54, true),
            bad ? trouble : ink, Qt::AlignLeft | Qt::AlignVCenter);
    };
    one(page_.left(), text_.start, !s_.risk.fits || !s_.lap->clean.exists);
    one(page_.left() + half * 1.12, text_.back, false);
    if (!s_.lap->clean.exists)
      words(QRectF(page_.left(), y + 78, page_.width(), 14), "Starves on this lap even with a full tank.",
            face(11, true), trouble);
    line(y + 94);
    return y + 102;
  }

  double list(const char* title, const std::vector<report::CardLine>& lines, const QRectF& box,
              bool narrow = false) {
    if (lines.empty()) return box.top();
    words(box, title, face(9, true), faint);
    double y = box.top() + 14;
    for (const report::CardLine& l : lines) {
      const double key = narrow ? 62 : 74;
      if (y > lowest_) {
        words(QRectF(box.left(), y, box.width(), 14),
              QString("… and %1 more, in the plan").arg(&lines.back() - &l + 1), face(10), ink);
        return y + 15;
      }
      const QRectF named = words(QRectF(box.left(), y, key - 4, 60), q(l.label), face(10, !narrow), ink);
      const QRectF used = words(QRectF(box.left() + key, y, box.width() - key, 60),
                                (narrow ? "+ " : "") + q(l.value), face(10), ink);
      y += std::max({used.height(), named.height(), 12.0}) + 3;
    }
    return y;
  }

  /// The track with the tightest corners, or their list where there is no way to draw it.
  void corners(const QRectF& box) {
    words(box, "tightest places", face(9, true), faint);
    double y = box.bottom();
    std::vector<report::CardCorner> list = text_.corners;
    if (list.empty()) {
      words(box.adjusted(0, 14, 0, 0), "no place starves at any level of the map", face(10), ink);
    } else {
      y -= 14.0 * static_cast<double>(list.size());
      for (size_t k = 0; k < list.size(); ++k)
        words(QRectF(box.left(), y + 14.0 * static_cast<double>(k), box.width(), 14),
              QString("%1  %2: %3").arg(k + 1).arg(q(list[k].place), q(list[k].text)), face(10), ink,
              Qt::AlignLeft | Qt::AlignVCenter);
    }
    const lap::Lap& lap = s_.lap->lap->value;
    if (lap.length() < 50 || lap.speed.empty()) return;
    const auto path = lap::path(lap, s_.lap->course.repeated);
    Vec2 low = path.front(), high = path.front();
    for (const Vec2& v : path) low = low.cwiseMin(v), high = high.cwiseMax(v);
    const double above = list.empty() ? 40 : 24;
    const QRectF room(box.left() + 14, box.top() + above, box.width() - 28, y - box.top() - above - 10);
    if (room.height() < 40) return;
    const double scale = std::min(room.width() / std::max(high.x() - low.x(), 1.0),
                                  room.height() / std::max(high.y() - low.y(), 1.0));
    const Vec2 middle = (low + high) / 2;
    const auto at = [&](size_t i) {
      return QPointF(room.center().x() + (path[i].x() - middle.x()) * scale,
                     room.center().y() - (path[i].y() - middle.y()) * scale);
    };
    QPolygonF way;
    for (size_t i = 0; i < path.size(); i += 4) way << at(i);
    way << at(path.size() - 1);
    p_.setBrush(Qt::NoBrush);
    p_.setPen(QPen(covered, 2.4, Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin));
    p_.drawPolyline(way);
    const QPointF start = at(0);
    p_.setPen(QPen(ink, 2));
    p_.drawLine(start + QPointF(-5, 0), start + QPointF(5, 0));
    for (size_t k = list.size(); k-- > 0;) {
      const auto i =
          static_cast<size_t>(std::lower_bound(lap.distance.begin(), lap.distance.end(), list[k].distance) -
                              lap.distance.begin());
      const QPointF c = at(std::min(i, path.size() - 1));
      p_.setPen(QPen(Qt::white, 1));
      p_.setBrush(trouble);
      p_.drawEllipse(c, 7.5, 7.5);
      words(QRectF(c.x() - 8, c.y() - 8, 16, 16), QString::number(k + 1), face(10, true), Qt::white,
            Qt::AlignCenter);
    }
  }

  void map(const QRectF& box) {
    words(box, "fuel over the pickups: level against distance", face(9, true), faint);
    const auto& rows = solve::map_of(*s_.lap).rows;
    const QRectF r(box.left() + 26, box.top() + 18, box.width() - 28, box.height() - 46);
    if (rows.empty() || r.height() < 30) return;
    const lap::Lap& lap = s_.lap->lap->value;
    const int wide = 320;
    QImage image(wide, static_cast<int>(rows.size()), QImage::Format_RGB32);
    for (size_t k = 0; k < rows.size(); ++k) {
      auto* pixels = reinterpret_cast<QRgb*>(image.scanLine(static_cast<int>(rows.size() - 1 - k)));
      size_t i = 0;
      for (int x = 0; x < wide; ++x) {
        const double end = lap.distance.front() + lap.length() * (x + 1) / wide;
        float wet = 1;
        do wet = std::min(wet, rows[k].wet[i]);
        while (i + 1 < lap.size() && lap.distance[++i] < end);
        pixels[x] = wet_colour(wet).rgb();
      }
    }
    p_.drawImage(r, image);
    const double step = r.height() / static_cast<double>(rows.size());
    p_.setBrush(Qt::NoBrush);
    for (size_t k = 0; k < rows.size(); ++k)
      for (const auto& e : rows[k].events) {
        const double y = r.bottom() - step * (static_cast<double>(k) + 0.5);
        const auto x = [&](double d) {
          return r.left() + r.width() * (d - lap.distance.front()) / std::max(lap.length(), 1e-9);
        };
        p_.setPen(QPen(trouble, std::max(step * 0.8, 1.0), Qt::SolidLine, Qt::FlatCap));
        p_.drawLine(QPointF(x(e.start_distance), y),
                    QPointF(std::max(x(e.end_distance), x(e.start_distance) + 2), y));
      }
    p_.setPen(QPen(ink, 1.4));
    const double tank = s_.lap->car->tank->volume();
    const double y = r.bottom() - r.height() * s_.lap->clean.level / tank;
    if (s_.lap->clean.exists) p_.drawLine(QPointF(r.left(), y), QPointF(r.right(), y));
    p_.setPen(QPen(rule, 0.8));
    p_.drawRect(r);
    words(QRectF(box.left(), r.top() - 5, 24, 12), q(format(tank, Quantity::volume, units_, 0)), face(7),
          faint, Qt::AlignRight | Qt::AlignVCenter);
    words(QRectF(box.left(), r.bottom() - 7, 24, 12), "0", face(7), faint, Qt::AlignRight | Qt::AlignVCenter);
    words(QRectF(r.left(), r.bottom() + 2, r.width(), 24),
          "sand: bare, teal: covered, red bars: starves; " +
              (s_.lap->clean.exists
                   ? "line: clean level " +
                         q(format(session::rounded_up(s_.lap->clean.level, units_), Quantity::volume, units_))
                   : QString("no level is clean")),
          face(7.5), faint);
  }

  /// From the bottom up; returns where it begins.
  double footer() {
    QString text;
    for (const auto& a : text_.assumptions) text += "· " + q(a) + "\n";
    QString caution;
    for (const auto& c : text_.cautions) caution += "▲ " + q(c) + "\n";
    p_.setFont(face(8.5));
    const double room = page_.width();
    const QRectF a = p_.boundingRect(QRectF(0, 0, room, 400), Qt::TextWordWrap, text.trimmed());
    p_.setFont(face(9, true));
    const QRectF c = p_.boundingRect(QRectF(0, 0, room, 400), Qt::TextWordWrap, caution.trimmed());
    const double last = page_.bottom() - 12;
    const double top = last - a.height() - c.height() - 14;
    line(top);
    words(QRectF(page_.left(), top + 4, room, a.height() + 2), text.trimmed(), face(8.5), ink);
    words(QRectF(page_.left(), top + 8 + a.height(), room, c.height() + 2), caution.trimmed(), face(9, true),
          trouble);
    words(QRectF(page_.left(), last, room, 12),
          QString("Undertow Adze %1 · %2").arg(version(), QString::fromStdString(day_of(now()))), face(8),
          faint, Qt::AlignRight | Qt::AlignVCenter);
    return top;
  }

  QPainter& p_;
  QRectF page_;
  const solve::SessionResult& s_;
  const UnitSystem& units_;
  const std::string& project_;
  report::CardText text_;
  /// Where lists end: what is below belongs to the track, the map and the foot.
  double lowest_ = page_.bottom() - 250;
};

}  // namespace

void draw_card(QPainter& p, const QRectF& page, const solve::SessionResult& session, const UnitSystem& units,
               const std::string& project, const logbook::Readiness* ready) {
  load_fonts();
  p.setRenderHint(QPainter::Antialiasing);
  Card(p, page, session, units, project, ready).draw();
}

std::string pdf_of(const std::vector<solve::SessionResult>& sessions, const UnitSystem& units,
                   const std::string& project, Paper paper, const solve::ReadyBySetup& ready) {
  std::unique_ptr<QGuiApplication> app;
  static int count = 1;
  static char name[] = "uadze";
  static char* arguments[] = {name, nullptr};
  if (!QGuiApplication::instance()) {
    if (qEnvironmentVariableIsEmpty("QT_QPA_PLATFORM")) qputenv("QT_QPA_PLATFORM", "offscreen");
    // A missing runtime folder and the like concern windows, not a page.
    const QtMessageHandler before =
        qInstallMessageHandler([](QtMsgType, const QMessageLogContext&, const QString&) {});
    app = std::make_unique<QGuiApplication>(count, arguments);
    qInstallMessageHandler(before);
  }
  load_fonts();
  QTemporaryDir folder;
  const QString made = folder.filePath("card.pdf");
  {
    QPdfWriter pdf(made);
    pdf.setPageSize(QPageSize(paper == Paper::a4 ? QPageSize::A4 : QPageSize::Letter));
    pdf.setPageMargins(QMarginsF(0, 0, 0, 0));
    pdf.setResolution(144);
    pdf.setTitle("Session cards: " + q(project));
    pdf.setCreator(QString("Undertow Adze %1").arg(version()));
    QPainter p(&pdf);
    for (size_t k = 0; k < sessions.size(); ++k) {
      if (k > 0) pdf.newPage();
      p.save();
      p.scale(2, 2);
      const auto of = ready.find(sessions[k].setup);
      draw_card(p, QRectF(0, 0, pdf.width() / 2.0, pdf.height() / 2.0), sessions[k], units, project,
                of == ready.end() ? nullptr : &of->second);
      p.restore();
    }
  }
  QFile file(made);
  if (!file.open(QIODevice::ReadOnly))
    throw InputError(Message{.file = made.toStdString(),
                             .place = {},
                             .expected = "a PDF that can be written",
                             .found = "no temporary file for it"});
  return file.readAll().toStdString();
}

}  // namespace uadze::card
