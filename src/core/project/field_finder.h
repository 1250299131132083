#pragma once
// One field of a value by its key: what a form's row needs. The field is found anew in whatever value is at
// hand, so that a row works on any copy of the project.
//
// Example:
//   using namespace uadze;
//   starvation::Engine engine;
//   const project::FoundField found = project::find_field(engine, "power_kw");
//   EXPECT_STREQ(found.field.label, "Power");
//   EXPECT_EQ(found.unit.quantity, Quantity::power);
//   *std::get<double*>(found.at) = 250e3;
//   EXPECT_DOUBLE_EQ(engine.power, 250e3);
#include <variant>

#include "core/project/field.h"
#include "core/project/project.h"

namespace uadze::project {

/// A member that is one of some words.
struct WordChoice {
  std::vector<std::string> words;
  std::function<int()> get;
  std::function<void(int)> set;
};

struct FoundField {
  Field field{"", "", ""};
  FileUnit unit = in_file::plain;
  Range range;
  /// Nothing: the value has no such field now (it depends on another).
  std::variant<std::monostate, double*, std::optional<double>*, int*, std::optional<int>*, std::string*,
               Vec3*, std::vector<Vec2>*, WordChoice>
      at;
  bool found() const { return at.index() != 0; }
};

/// Of the described values whose fields a form shows; of nested ones ask the nested.
template <class T>
FoundField find_field(T& value, std::string_view key);

}  // namespace uadze::project
