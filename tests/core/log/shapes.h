#pragma once
// Logs as text in the shapes that loggers and spreadsheets write, all of the same twelve seconds of driving.
#include <fmt/format.h>
#include <zlib.h>

#include <cmath>
#include <functional>
#include <string>
#include <vector>

#include "core/base/vector.h"
#include "core/log/role.h"

namespace uadze::test {

using log::Role;

/// SI value of each role at a time; smooth, so that lower rates can be filled straight.
inline double logged(Role role, double t) {
  const double turn = std::sin(0.5 * t), push = std::cos(0.5 * t);
  switch (role) {
    case Role::time:
      return t;
    case Role::speed:
      return 40 + 5 * turn;
    case Role::lat_acc:
      return standard_gravity * 1.2 * turn;
    case Role::long_acc:
      return 2.5 * push;
    case Role::vert_acc:
      return standard_gravity;
    case Role::yaw_rate:
      return standard_gravity * 1.2 * turn / (40 + 5 * turn);
    case Role::throttle:
      return 0.5 + 0.5 * push;
    case Role::rpm:
      return (6000 + 1500 * turn) / 60;
    case Role::rail_pressure:
      return 3e5 + 2e4 * push;
    case Role::manifold_pressure:
      return 6.5e4 + 3e4 * push;
    case Role::lambda:
      return 0.9 + 0.05 * turn;
    case Role::battery:
      return 13.6 + 0.3 * push;
    case Role::distance:
      return 40 * t + 10 * (1 - push);
    case Role::fuel_temperature:
      return 305 + 0.5 * t;
    case Role::lap:
      return t < 6 ? 1 : 2;
    default:
      return 0;
  }
}

struct ShapeColumn {
  Role role;
  std::string name;
  std::string unit;   ///< as written
  double factor = 1;  ///< figure = (SI - offset) / factor
  double offset = 0;
  int digits = 3;
  int every = 1;  ///< rows between values; the others are blank
};

struct Shape {
  std::string name;
  std::vector<ShapeColumn> columns;
  char separator = ',';
  char decimal = '.';
  std::string thousands;
  std::string preamble;
  enum class Units { brackets, round, curly, behind, row, none } units = Units::brackets;
  std::string unit_lead = " ";               ///< between name and unit where it stands behind
  std::function<std::string(double)> clock;  ///< how a time is written, if not as a figure
  std::string end = "\n";
  std::string encoding = "UTF-8";
  bool quoted = false, trailing = false, header = true, mark = false, packed = false;
  std::string missing;  ///< what stands in blank cells
  std::string between_header_and_rows;
  std::string tail;
  int joined = 1;  ///< the same table again, header and all, so many times
  int padded = 0;  ///< width of cells
  double rate = 50;
  double time_begin = 0;
};

inline std::string figure(double value, int digits, const Shape& shape) {
  std::string out = fmt::format("{:.{}f}", value, digits);
  size_t point = out.find('.');
  if (point != std::string::npos) out[point] = shape.decimal;
  if (!shape.thousands.empty()) {
    size_t i = point == std::string::npos ? out.size() : point;
    const size_t first = out[0] == '-' ? 1 : 0;
    while (i > first + 3) out.insert(i -= 3, shape.thousands);
  }
  return out;
}

inline std::string utf16(const std::string& text, bool big, bool mark) {
  std::string out;
  const auto put = [&](unsigned c) {
    const char high = static_cast<char>(c >> 8), low = static_cast<char>(c & 0xFF);
    out += big ? high : low;
    out += big ? low : high;
  };
  if (mark) put(0xFEFF);
  for (size_t i = 0; i < text.size(); ++i) {
    const auto c = static_cast<unsigned char>(text[i]);
    if (c < 0x80)
      put(c);
    else if (c < 0xE0)
      put((c & 0x1Fu) << 6 | (static_cast<unsigned char>(text[i + 1]) & 0x3Fu)), i += 1;
    else
      put((c & 0x0Fu) << 12 | (static_cast<unsigned char>(text[i + 1]) & 0x3Fu) << 6 |
          (static_cast<unsigned char>(text[i + 2]) & 0x3Fu)),
          i += 2;
  }
  return out;
}

inline std::string latin1(const std::string& text) {
  std::string out;
  for (size_t i = 0; i < text.size(); ++i) {
    const auto c = static_cast<unsigned char>(text[i]);
    if (c < 0x80)
      out += text[i];
    else
      out += static_cast<char>((c & 0x1F) << 6 | (static_cast<unsigned char>(text[++i]) & 0x3F));
  }
  return out;
}

inline std::string gzipped(const std::string& text) {
  z_stream stream{};
  deflateInit2(&stream, 6, Z_DEFLATED, 16 + MAX_WBITS, 8, Z_DEFAULT_STRATEGY);
  std::string out(deflateBound(&stream, text.size()) + 64, '\0');
  stream.next_in = reinterpret_cast<Bytef*>(const_cast<char*>(text.data()));
  stream.avail_in = static_cast<uInt>(text.size());
  stream.next_out = reinterpret_cast<Bytef*>(out.data());
  stream.avail_out = static_cast<uInt>(out.size());
  deflate(&stream, Z_FINISH);
  out.resize(stream.total_out);
  deflateEnd(&stream);
  return out;
}

/// The bytes of a log of that shape.
inline std::string written(const Shape& shape) {
  const std::string mark(1, shape.separator == ' ' ? ' ' : shape.separator);
  const auto cell = [&](std::string text) {
    if (shape.padded)
      text =
          std::string(static_cast<size_t>(std::max(0, shape.padded - static_cast<int>(text.size()))), ' ') +
          text;
    return shape.quoted ? "\"" + text + "\"" : text;
  };
  std::string header, units;
  for (const ShapeColumn& c : shape.columns) {
    std::string name = c.name;
    const std::string unit = c.unit;
    switch (shape.units) {
      case Shape::Units::brackets:
        name += unit.empty() ? "" : " [" + unit + "]";
        break;
      case Shape::Units::round:
        name += unit.empty() ? "" : " (" + unit + ")";
        break;
      case Shape::Units::curly:
        name += unit.empty() ? "" : "{" + unit + "}";
        break;
      case Shape::Units::behind:
        name += unit.empty() ? "" : shape.unit_lead + unit;
        break;
      case Shape::Units::row:
      case Shape::Units::none:
        break;
    }
    header += (header.empty() ? "" : mark) + cell(name);
    units += (&c == shape.columns.data() ? "" : mark) + cell(unit.empty() ? "-" : unit);
  }
  std::string table;
  if (shape.header) table += header + shape.end;
  if (shape.header && shape.units == Shape::Units::row) table += units + shape.end;
  table += shape.between_header_and_rows;
  for (int row = 0; row < 12 * shape.rate; ++row) {
    const double t = row / shape.rate;
    for (size_t k = 0; k < shape.columns.size(); ++k) {
      const ShapeColumn& c = shape.columns[k];
      std::string text;
      if (c.role == Role::time && shape.clock)
        text = shape.clock(t);
      else if (row % c.every != 0)
        text = shape.missing;
      else
        text =
            figure(((c.role == Role::time ? shape.time_begin : 0) + logged(c.role, t) - c.offset) / c.factor,
                   c.digits, shape);
      table += (k ? mark : "") + cell(text);
    }
    table += (shape.trailing ? mark : "") + shape.end;
  }
  std::string out;
  for (int k = 0; k < shape.joined; ++k) out += shape.preamble + table;
  out += shape.tail;
  if (shape.encoding == "UTF-16")
    out = utf16(out, false, shape.mark);
  else if (shape.encoding == "UTF-16 big")
    out = utf16(out, true, shape.mark);
  else if (shape.encoding == "Latin-1")
    out = latin1(out);
  else if (shape.mark)
    out = "\xEF\xBB\xBF" + out;
  return shape.packed ? gzipped(out) : out;
}

/// More than sixty of them.
std::vector<Shape> log_shapes();

}  // namespace uadze::test
