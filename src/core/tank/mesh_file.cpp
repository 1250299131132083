#include "core/tank/mesh_file.h"

#include <fmt/format.h>

#include <algorithm>
#include <bit>
#include <cmath>
#include <cstring>
#include <unordered_map>

#include "core/base/files.h"
#include "core/base/units.h"

namespace uadze::tank {
namespace {

constexpr size_t most_triangles = 5'000'000;

/// Vertices by place: the same three numbers are the same vertex.
class Builder {
 public:
  explicit Builder(MeshFile& mesh) : mesh_(mesh) {}
  int vertex(const Vec3& p) {
    const Key key{bits(p.x()), bits(p.y()), bits(p.z())};
    const auto [found, fresh] = index_.try_emplace(key, static_cast<int>(mesh_.vertices.size()));
    if (fresh) mesh_.vertices.push_back(p);
    return found->second;
  }

 private:
  using Key = std::array<std::uint64_t, 3>;
  struct Hash {
    size_t operator()(const Key& k) const {
      std::uint64_t h = 1469598103934665603ULL;
      for (std::uint64_t v : k) h = (h ^ v) * 1099511628211ULL, h ^= h >> 29;
      return static_cast<size_t>(h);
    }
  };
  static std::uint64_t bits(double v) { return std::bit_cast<std::uint64_t>(v == 0 ? 0.0 : v); }
  MeshFile& mesh_;
  std::unordered_map<Key, int, Hash> index_;
};

[[noreturn]] void fail(const std::string& file, std::string place, std::string expected, std::string found) {
  throw InputError(Message{
      .file = file, .place = std::move(place), .expected = std::move(expected), .found = std::move(found)});
}

/// Words of a text, line by line.
class Lines {
 public:
  Lines(std::string_view text, const std::string& file) : text_(text), file_(file) {}
  bool next() {
    words_.clear();
    while (at_ < text_.size() && words_.empty()) {
      const size_t end = std::min(text_.find('\n', at_), text_.size());
      std::string_view line = text_.substr(at_, end - at_);
      at_ = end + 1;
      ++number_;
      size_t i = 0;
      const auto blank = [](char c) { return c == ' ' || c == '\t' || c == '\r'; };
      while (i < line.size()) {
        while (i < line.size() && blank(line[i])) ++i;
        const size_t from = i;
        while (i < line.size() && !blank(line[i])) ++i;
        if (i > from) words_.push_back(line.substr(from, i - from));
      }
    }
    return !words_.empty();
  }
  const std::vector<std::string_view>& words() const { return words_; }
  std::string place() const { return fmt::format("line {}", number_); }
  size_t position() const { return std::min(at_, text_.size()); }
  double number(size_t word, const char* what) const {
    if (word >= words_.size()) fail(file_, place(), what, "the line's end");
    const auto value = parse_number(words_[word]);
    if (!value || !std::isfinite(*value))
      fail(file_, place(), what, fmt::format("\"{}\"", words_[word].substr(0, 40)));
    return *value;
  }
  Vec3 vertex(size_t first) const {
    return {number(first, "a number, x"), number(first + 1, "a number, y"), number(first + 2, "a number, z")};
  }

 private:
  std::string_view text_;
  const std::string& file_;
  size_t at_ = 0;
  int number_ = 0;
  std::vector<std::string_view> words_;
};

void read_text_stl(std::string_view bytes, const std::string& file, MeshFile& mesh) {
  mesh.format = "STL, text";
  Lines lines(bytes, file);
  Builder build(mesh);
  std::vector<int> corners;
  bool ended = false, in_facet = false;
  while (lines.next()) {
    const std::string_view word = lines.words()[0];
    ended = false;
    if (word == "vertex") {
      if (!in_facet) fail(file, lines.place(), "\"facet\" before a vertex", "\"vertex\"");
      corners.push_back(build.vertex(lines.vertex(1)));
    } else if (word == "facet") {
      if (in_facet) fail(file, lines.place(), "\"endfacet\" before the next facet", "\"facet\"");
      in_facet = true;
      corners.clear();
    } else if (word == "endfacet") {
      if (corners.size() != 3)
        fail(file, lines.place(), "3 vertices in the facet", fmt::format("{}", corners.size()));
      mesh.triangles.push_back({corners[0], corners[1], corners[2]});
      in_facet = false;
    } else if (word == "endsolid") {
      ended = true;
    } else if (word != "solid" && word != "outer" && word != "endloop") {
      fail(file, lines.place(), "facet, outer loop, vertex, endloop, endfacet or endsolid",
           fmt::format("\"{}\"", word.substr(0, 40)));
    }
  }
  if (in_facet || !ended) fail(file, lines.place(), "\"endsolid\"", "the file's end");
}

template <class T>
T from_bytes(const char* at, bool swap) {
  std::array<char, sizeof(T)> raw;
  std::memcpy(raw.data(), at, sizeof(T));
  if (swap) std::reverse(raw.begin(), raw.end());
  return std::bit_cast<T>(raw);
}

constexpr bool big_machine = std::endian::native == std::endian::big;

void read_binary_stl(std::string_view bytes, const std::string& file, MeshFile& mesh) {
  mesh.format = "STL, binary";
  const size_t count = from_bytes<std::uint32_t>(bytes.data() + 80, big_machine);
  if (bytes.size() < 84 + 50 * count)
    fail(file, fmt::format("byte {}", bytes.size()),
         fmt::format("{} facets of 50 bytes, as byte 80 says", count),
         fmt::format("the file's end after {}", (bytes.size() - 84) / 50));
  Builder build(mesh);
  mesh.triangles.reserve(count);
  for (size_t i = 0; i < count; ++i) {
    Triangle t{};
    for (size_t k = 0; k < 3; ++k) {
      Vec3 p;
      for (size_t a = 0; a < 3; ++a) {
        const size_t at = 84 + 50 * i + 12 + 12 * k + 4 * a;
        p[static_cast<int>(a)] = static_cast<double>(from_bytes<float>(bytes.data() + at, big_machine));
        if (!std::isfinite(p[static_cast<int>(a)]))
          fail(file, fmt::format("byte {}, facet {}", at, i), "a finite number", "infinity or not a number");
      }
      t[k] = build.vertex(p);
    }
    mesh.triangles.push_back(t);
  }
}

void add_fan(MeshFile& mesh, const std::vector<int>& corners) {
  for (size_t i = 2; i < corners.size(); ++i)
    mesh.triangles.push_back({corners[0], corners[i - 1], corners[i]});
}

void read_obj(std::string_view bytes, const std::string& file, MeshFile& mesh) {
  mesh.format = "OBJ";
  Lines lines(bytes, file);
  Builder build(mesh);
  std::vector<int> numbered;
  while (lines.next()) {
    const auto& words = lines.words();
    if (words[0] == "v") {
      numbered.push_back(build.vertex(lines.vertex(1)));
    } else if (words[0] == "f") {
      if (words.size() < 4)
        fail(file, lines.place(), "a face of 3 corners or more", fmt::format("{}", words.size() - 1));
      if (words.size() > 1001)
        fail(file, lines.place(), "a face of 1000 corners at most", fmt::format("{}", words.size() - 1));
      std::vector<int> corners;
      for (size_t k = 1; k < words.size(); ++k) {
        const std::string_view name = words[k].substr(0, words[k].find('/'));
        const double number = parse_number(name).value_or(0);
        const double index = number < 0 ? static_cast<double>(numbered.size()) + number : number - 1;
        if (number == 0 || number != std::floor(number) || index < 0 ||
            index >= static_cast<double>(numbered.size()))
          fail(file, lines.place(), fmt::format("a vertex number from 1 to {}", numbered.size()),
               fmt::format("\"{}\"", name.substr(0, 40)));
        corners.push_back(numbered[static_cast<size_t>(index)]);
      }
      add_fan(mesh, corners);
    }
  }
}

struct PlyProperty {
  std::string name, type, count_type;  // count_type: of a list's length; empty: a single value
};
struct PlyElement {
  std::string name;
  size_t count = 0;
  std::vector<PlyProperty> properties;
};

size_t ply_size(const std::string& type) {
  if (type == "char" || type == "uchar" || type == "int8" || type == "uint8") return 1;
  if (type == "short" || type == "ushort" || type == "int16" || type == "uint16") return 2;
  if (type == "int" || type == "uint" || type == "float" || type == "int32" || type == "uint32" ||
      type == "float32")
    return 4;
  if (type == "double" || type == "float64") return 8;
  return 0;
}

double ply_value(const char* at, const std::string& type, bool swap) {
  if (type == "char" || type == "int8") return from_bytes<std::int8_t>(at, swap);
  if (type == "uchar" || type == "uint8") return from_bytes<std::uint8_t>(at, swap);
  if (type == "short" || type == "int16") return from_bytes<std::int16_t>(at, swap);
  if (type == "ushort" || type == "uint16") return from_bytes<std::uint16_t>(at, swap);
  if (type == "int" || type == "int32") return from_bytes<std::int32_t>(at, swap);
  if (type == "uint" || type == "uint32") return from_bytes<std::uint32_t>(at, swap);
  if (type == "float" || type == "float32") return static_cast<double>(from_bytes<float>(at, swap));
  return from_bytes<double>(at, swap);
}

std::vector<PlyElement> read_ply_header(Lines& lines, const std::string& file, std::string& format) {
  std::vector<PlyElement> elements;
  lines.next();
  while (lines.next()) {
    const auto& words = lines.words();
    if (words[0] == "end_header") {
      if (format.empty()) fail(file, lines.place(), "a format line in the header", "none");
      return elements;
    }
    if (words[0] == "format") {
      format = words.size() > 1 ? std::string(words[1]) : "";
      if (format != "ascii" && format != "binary_little_endian" && format != "binary_big_endian")
        fail(file, lines.place(), "ascii, binary_little_endian or binary_big_endian", "\"" + format + "\"");
    } else if (words[0] == "element") {
      const auto count = words.size() > 2 ? parse_number(words[2]) : std::nullopt;
      if (!count || *count < 0 || *count > 5e7 || *count != std::floor(*count))
        fail(file, lines.place(), "a count of elements from 0 to 50000000",
             words.size() > 2 ? std::string(words[2]) : "none");
      elements.push_back({std::string(words[1]), static_cast<size_t>(*count), {}});
    } else if (words[0] == "property") {
      if (elements.empty()) fail(file, lines.place(), "an element before its properties", "a property");
      const bool list = words.size() == 5 && words[1] == "list";
      if (!list && words.size() != 3)
        fail(file, lines.place(), "property TYPE NAME, or property list TYPE TYPE NAME", "other words");
      PlyProperty p{std::string(words.back()), std::string(words[words.size() - 2]),
                    list ? std::string(words[2]) : ""};
      if (!ply_size(p.type) || (list && !ply_size(p.count_type)))
        fail(file, lines.place(), "a type such as float, double, uchar, int", "\"" + p.type + "\"");
      elements.back().properties.push_back(std::move(p));
    } else if (words[0] != "comment" && words[0] != "obj_info") {
      fail(file, lines.place(), "element, property or end_header",
           fmt::format("\"{}\"", words[0].substr(0, 40)));
    }
  }
  fail(file, lines.place(), "end_header", "the file's end");
}

void read_ply(std::string_view bytes, const std::string& file, MeshFile& mesh) {
  Lines lines(bytes, file);
  std::string format;
  const std::vector<PlyElement> elements = read_ply_header(lines, file, format);
  const bool text = format == "ascii";
  mesh.format = text ? "PLY, text" : "PLY, binary";
  const bool swap = (format == "binary_big_endian") != big_machine;
  // A header's word costs nothing: what it promises is held against what can still follow.
  const size_t rest = bytes.size() - std::min(lines.position(), bytes.size());
  double least = 0;
  for (const PlyElement& element : elements) {
    if (element.count > 0 && element.properties.empty())
      fail(file, "header", "a property of each element", "none of " + element.name);
    double each = 0;
    for (const PlyProperty& p : element.properties)
      each += text ? 2.0 : static_cast<double>(ply_size(p.count_type.empty() ? p.type : p.count_type));
    least += each * static_cast<double>(element.count);
  }
  if (least > static_cast<double>(rest) + 1)
    fail(file, "header", fmt::format("at least {:.0f} bytes after it, for what it promises", least),
         fmt::format("{}", rest));
  size_t at = lines.position(), word = 0;
  const auto value = [&](const std::string& type) {
    if (text) return lines.number(word++, "a number");
    if (at + ply_size(type) > bytes.size())
      fail(file, fmt::format("byte {}", at), "more values, as the header says", "the file's end");
    const double v = ply_value(bytes.data() + at, type, swap);
    at += ply_size(type);
    return v;
  };
  Builder build(mesh);
  std::vector<int> numbered;
  for (const PlyElement& element : elements)
    for (size_t i = 0; i < element.count; ++i) {
      if (text && !lines.next())
        fail(file, lines.place(), fmt::format("{} of {}", element.name, element.count),
             fmt::format("the file's end after {}", i));
      word = 0;
      const std::string place = text ? lines.place() : fmt::format("byte {}", at);
      Vec3 p = Vec3::Zero();
      for (const PlyProperty& property : element.properties) {
        if (property.count_type.empty()) {
          const double v = value(property.type);
          if (element.name == "vertex" && property.name.size() == 1 && property.name[0] >= 'x' &&
              property.name[0] <= 'z') {
            if (!std::isfinite(v))
              fail(file, place, "a finite number, " + property.name, "infinity or not a number");
            p[property.name[0] - 'x'] = v;
          }
          continue;
        }
        const double length = value(property.count_type);
        if (!(length >= 0 && length <= 1000))
          fail(file, place, "a list of 0 to 1000", fmt::format("{:.6g}", length));
        std::vector<int> corners;
        for (int k = 0; k < static_cast<int>(length); ++k) {
          const double index = value(property.type);
          if (element.name != "face" || property.name.rfind("vertex_ind", 0) != 0) continue;
          if (!(index >= 0 && index < static_cast<double>(numbered.size())) || index != std::floor(index))
            fail(file, place,
                 fmt::format("a vertex number from 0 to {}", static_cast<long>(numbered.size()) - 1),
                 fmt::format("{:.9g}", index));
          corners.push_back(numbered[static_cast<size_t>(index)]);
        }
        add_fan(mesh, corners);
      }
      if (element.name == "vertex") numbered.push_back(build.vertex(p));
    }
}

std::string ending(const std::string& file) {
  const size_t dot = file.rfind('.');
  std::string out = dot == std::string::npos ? "" : file.substr(dot + 1);
  for (char& c : out) c = c >= 'A' && c <= 'Z' ? static_cast<char>(c - 'A' + 'a') : c;
  return out;
}

}  // namespace

MeshFile parse_mesh(std::string_view bytes, const std::string& file) {
  MeshFile mesh;
  const std::string kind = ending(file);
  const bool counted =
      bytes.size() >= 84 && bytes.size() == 84 + 50 * static_cast<size_t>(from_bytes<std::uint32_t>(
                                                          bytes.data() + 80, big_machine));
  if (bytes.empty()) fail(file, "", "a mesh", "an empty file");
  if (bytes.substr(0, 4) == "ply\n" || bytes.substr(0, 4) == "ply\r")
    read_ply(bytes, file, mesh);
  else if (kind == "ply")
    fail(file, "line 1", "\"ply\"", "something else");
  else if (kind == "obj")
    read_obj(bytes, file, mesh);
  else if (!counted && bytes.substr(0, 5) == "solid" &&
           bytes.substr(0, 4096).find("facet") != std::string_view::npos)
    read_text_stl(bytes, file, mesh);
  else if (!counted && bytes.substr(0, 5) == "solid" && bytes.find('\0') == std::string_view::npos)
    read_text_stl(bytes, file, mesh);
  else if (kind == "stl" && bytes.size() >= 84)
    read_binary_stl(bytes, file, mesh);
  else if (kind == "stl")
    fail(file, fmt::format("byte {}", bytes.size()),
         "at least 84 bytes of a binary STL, or text that begins with \"solid\"", "the file's end");
  else
    fail(file, "", "a file that ends in .stl, .obj or .ply", "\"." + kind + "\"");
  if (mesh.triangles.empty()) fail(file, "", "triangles", "none");
  if (mesh.triangles.size() > most_triangles)
    fail(file, "", fmt::format("at most {} triangles", most_triangles),
         fmt::format("{}", mesh.triangles.size()));
  return mesh;
}

MeshFile read_mesh(const std::filesystem::path& path) { return parse_mesh(read_file(path), path.string()); }

}  // namespace uadze::tank
