#include "core/project/json_patch.h"

#include <algorithm>

#include "core/base/json.h"

namespace uadze::project {
namespace {

/// Where a value stands in a text that is known to be well-formed.
struct Node {
  size_t begin = 0, end = 0;
  char kind = 'v';  // 'o'bject, 'a'rray, 'v'alue
  struct Member {
    std::string key;
    size_t begin = 0;  // of the key, or of the element
    size_t child = 0;
  };
  std::vector<Member> members;
};

class Scanner {
 public:
  explicit Scanner(const std::string& text) : text_(text) { root = value(); }
  std::vector<Node> nodes;
  size_t root = 0;

 private:
  void blank() {
    while (at_ < text_.size() && std::string_view(" \t\r\n").find(text_[at_]) != std::string_view::npos)
      ++at_;
  }
  void string() {
    for (++at_; text_[at_] != '"'; ++at_)
      if (text_[at_] == '\\') ++at_;
    ++at_;
  }
  size_t value() {
    blank();
    Node node;
    node.begin = at_;
    const char first = text_[at_];
    if (first == '{' || first == '[') {
      node.kind = first == '{' ? 'o' : 'a';
      const char close = first == '{' ? '}' : ']';
      ++at_;
      for (blank(); text_[at_] != close; blank()) {
        Node::Member member;
        member.begin = at_;
        if (node.kind == 'o') {
          string();
          member.key = json_of<Json>(text_.substr(member.begin, at_ - member.begin)).get<std::string>();
          blank();
          ++at_;  // the colon
        }
        member.child = value();
        node.members.push_back(std::move(member));
        blank();
        if (text_[at_] == ',') ++at_;
      }
      ++at_;
    } else if (first == '"') {
      string();
    } else {
      while (at_ < text_.size() && std::string_view(",]} \t\r\n").find(text_[at_]) == std::string_view::npos)
        ++at_;
    }
    node.end = at_;
    nodes.push_back(std::move(node));
    return nodes.size() - 1;
  }

  const std::string& text_;
  size_t at_ = 0;
};

bool same(const Json& a, const Json& b) { return a == b; }

std::string indented(std::string text, const std::string& pad) {
  for (size_t i = text.find('\n'); i != std::string::npos; i = text.find('\n', i + 1))
    text.insert(i + 1, pad);
  return text;
}

/// Lists of numbers on one line, as people write them; the rest indented by two.
std::string pretty(const Json& value, int depth = 0) {
  const std::string pad(static_cast<size_t>(2 * depth + 2), ' ');
  if (value.is_object() && !value.empty()) {
    std::string out = "{";
    for (const auto& [key, item] : value.items())
      out += (out.size() > 1 ? ",\n" : "\n") + pad + Json(key).dump() + ": " + pretty(item, depth + 1);
    return out + "\n" + std::string(static_cast<size_t>(2 * depth), ' ') + "}";
  }
  if (value.is_array() && !value.empty()) {
    const bool flat = std::none_of(value.begin(), value.end(), [](const Json& v) { return v.is_object(); });
    std::string out = "[";
    for (const auto& item : value) {
      if (out.size() > 1) out += flat ? ", " : ",";
      out += flat ? pretty(item, depth + 1) : "\n" + pad + pretty(item, depth + 1);
    }
    return flat ? out + "]" : out + "\n" + std::string(static_cast<size_t>(2 * depth), ' ') + "]";
  }
  return value.dump();
}

constexpr size_t most_pairs = 4000000;  ///< of elements that are held against each other

class Patcher {
 public:
  explicit Patcher(const std::string& text) : text_(text), scan_(text) {}

  std::string run(const Json& before, const Json& after) {
    const Node& root = scan_.nodes[scan_.root];
    return text_.substr(0, root.begin) + patched(scan_.root, before, after) + text_.substr(root.end);
  }

 private:
  std::string slice(size_t begin, size_t end) const { return text_.substr(begin, end - begin); }

  /// Blanks before a position back to the line's start.
  std::string pad_of(size_t position) const {
    const size_t line = text_.rfind('\n', position);
    const size_t start = line == std::string::npos ? 0 : line + 1;
    const size_t stop = text_.find_first_not_of(" \t", start);
    return text_.substr(start, std::min(stop, position) - start);
  }

  std::string fresh(const Json& value, const std::string& pad) const { return indented(pretty(value), pad); }

  std::string patched(size_t index, const Json& before, const Json& after) {
    const Node& node = scan_.nodes[index];
    if (same(before, after)) return slice(node.begin, node.end);
    if (node.kind == 'o' && before.is_object() && after.is_object()) return object(node, before, after);
    if (node.kind == 'a' && before.is_array() && after.is_array() && node.members.size() == before.size())
      return list(node, before, after);
    return fresh(after, pad_of(node.begin));
  }

  std::string array(const Node& node, const Json& before, const Json& after) {
    std::string out;
    size_t from = node.begin;
    for (size_t i = 0; i < node.members.size(); ++i) {
      const Node& child = scan_.nodes[node.members[i].child];
      out += slice(from, child.begin) + patched(node.members[i].child, before[i], after[i]);
      from = child.end;
    }
    return out + slice(from, node.end);
  }

  std::string list(const Node& node, const Json& before, const Json& after) {
    const std::vector<size_t> from = origins(before, after);
    bool in_place = before.size() == after.size();
    for (size_t k = 0; k < from.size(); ++k) in_place &= from[k] == k || !after[k].is_object();
    return in_place ? array(node, before, after) : moved(node, before, after, from);
  }

  /// Which element each one was: the same one, the one of its name, or the one that it is most alike (it was
  /// renamed); before.size() for a new one. So no element gets the layout, and the keys nobody knows, of
  /// another.
  static std::vector<size_t> origins(const Json& before, const Json& after) {
    const size_t none = before.size();
    std::vector<size_t> out(after.size(), none);
    std::vector<bool> used(before.size(), false);
    const auto name = [](const Json& v) { return v.is_object() && v.contains("name") ? v["name"] : Json(); };
    const auto match = [&](auto&& alike) {
      for (size_t k = 0; k < after.size(); ++k) {
        if (out[k] != none) continue;
        double best = 0;
        for (size_t i = 0; i < before.size(); ++i) {
          // Of two that are as much alike, the one that stood there.
          const double now = used[i] ? 0.0 : alike(before[i], after[k]) + (i == k ? 1e-6 : 0.0);
          if (now > best + 1e-9 && now > 1e-3) best = now, out[k] = i;
        }
        if (out[k] != none) used[out[k]] = true;
      }
    };
    for (size_t k = 0; k < std::min(after.size(), none); ++k)
      if (same(before[k], after[k])) out[k] = k, used[k] = true;
    if (after.size() * none > most_pairs) {
      // Too many to be held against each other: the rest by place.
      for (size_t k = 0; k < std::min(after.size(), none); ++k)
        if (out[k] == none) out[k] = k;
      return out;
    }
    match([](const Json& a, const Json& b) { return same(a, b) ? 1.0 : 0.0; });
    match([&](const Json& a, const Json& b) { return !name(b).is_null() && name(a) == name(b) ? 1.0 : 0.0; });
    match([](const Json& a, const Json& b) {
      if (!a.is_object() || !b.is_object() || a.empty()) return 0.0;
      double alike = 0;
      for (const auto& [key, value] : a.items()) alike += b.contains(key) && b[key] == value;
      const double share = alike / static_cast<double>(std::max(a.size(), b.size()));
      return share >= 0.5 ? share : 0.0;
    });
    return out;
  }

  std::string moved(const Node& node, const Json& before, const Json& after,
                    const std::vector<size_t>& from) {
    const bool many_lines = slice(node.begin, node.end).find('\n') != std::string::npos ||
                            (node.members.empty() && !after.empty() && after[0].is_object());
    const std::string outer = pad_of(node.begin);
    const std::string pad = node.members.empty() ? outer + "  " : pad_of(node.members[0].begin);
    std::string out = "[";
    for (size_t k = 0; k < after.size(); ++k) {
      if (k) out += many_lines ? "," : ", ";
      if (many_lines) out += "\n" + pad;
      out += from[k] < before.size() ? patched(node.members[from[k]].child, before[from[k]], after[k])
                                     : fresh(after[k], pad);
    }
    return out + (many_lines && !after.empty() ? "\n" + outer : "") + "]";
  }

  std::string object(const Node& node, const Json& before, const Json& after) {
    // Members that stay, each with the text before it; then the new ones.
    std::string out;
    size_t from = node.begin;
    bool dropped = false, any = false;
    for (const Node::Member& member : node.members) {
      const Node& child = scan_.nodes[member.child];
      const bool known = before.contains(member.key);
      if (known && !after.contains(member.key)) {
        if (from == node.begin) out += "{", dropped = true;
        from = child.end;
        continue;
      }
      std::string lead = slice(from, child.begin);
      if (dropped && !any)
        lead = lead.substr(lead.find_first_not_of(','));  // the first kept one leads no comma
      out += lead;
      any = true;
      out += known ? patched(member.child, before[member.key], after[member.key])
                   : slice(child.begin, child.end);
      from = child.end;
    }
    const bool many_lines =
        slice(node.begin, node.end).find('\n') != std::string::npos || node.members.empty();
    const std::string pad = node.members.empty() ? pad_of(node.begin) + "  " : pad_of(node.members[0].begin);
    if (node.members.empty()) out += "{", from = node.begin + 1;
    for (const auto& item : after.items()) {
      const std::string& key = item.key();
      const Json& value = item.value();
      if (before.contains(key) && same(before[key], value)) continue;
      const bool stands = std::any_of(node.members.begin(), node.members.end(),
                                      [&](const Node::Member& m) { return m.key == key; });
      if (stands) continue;
      out += any ? "," : "";
      out += many_lines ? "\n" + pad : any ? " " : "";
      out += Json(key).dump() + ": " + fresh(value, pad);
      any = true;
    }
    std::string tail = slice(from, node.end);
    if (node.members.empty() && many_lines) tail = "\n" + pad_of(node.begin) + "}";
    return out + tail;
  }

  const std::string& text_;
  Scanner scan_;
};

}  // namespace

std::string patched_text(const std::string& text, const Json& before, const Json& after) {
  if (text.empty()) return pretty(after) + "\n";
  return Patcher(text).run(before, after);
}

}  // namespace uadze::project
