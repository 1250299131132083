#pragma once
// Names of enumerations, for files and tables. An enumeration has one table: a constexpr `name_of` beside it
// that switches over its values without a default, so that the compiler refuses a value without a name, and
// that gives nullptr for what is none. Everything else (how many there are, all names, the value of a name)
// follows from it.
//
//   enum class Door { none, flap };
//   constexpr const char* name_of(Door door) { switch (door) { case Door::none: return "none"; ... } return nullptr; }
//
// Example:
//   using uadze::session::Kind;
//   EXPECT_EQ(value_named<Kind>("sprint"), Kind::sprint);
//   EXPECT_EQ(names_of<Kind>().size(), static_cast<size_t>(count_of<Kind>()));
#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace uadze {

/// The table of an enumeration; another than `name_of` where one enumeration is named by its place.
template <class E>
using NameTable = const char* (*)(E);

template <class E>
constexpr int count_of(NameTable<E> table) {
  int n = 0;
  while (table(static_cast<E>(n)) != nullptr) ++n;
  return n;
}
template <class E>
constexpr int count_of() {
  int n = 0;
  while (name_of(static_cast<E>(n)) != nullptr) ++n;
  return n;
}

/// In the order of the values.
template <class E>
std::vector<std::string> names_of(NameTable<E> table) {
  std::vector<std::string> out;
  for (int k = 0; table(static_cast<E>(k)) != nullptr; ++k) out.emplace_back(table(static_cast<E>(k)));
  return out;
}
template <class E>
const std::vector<std::string>& names_of() {
  static const std::vector<std::string> names = names_of<E>([](E e) { return name_of(e); });
  return names;
}

/// Nothing if no value has that name.
template <class E>
std::optional<E> value_named(std::string_view name) {
  for (int k = 0; k < count_of<E>(); ++k)
    if (name == name_of(static_cast<E>(k))) return static_cast<E>(k);
  return std::nullopt;
}

}  // namespace uadze
