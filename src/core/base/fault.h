#pragma once
// What is wrong with values in memory, and at which member. The member is named by its address and type, so
// that the compiler checks it; where a value came from a file, its place there is found from that in one
// place (project/places.h).
//
// Example:
//   struct Box { double width = -1.0; } box;
//   Faults faults;
//   faults.push_back({Severity::error, place_of(box.width), "above 0", "-1"});
//   EXPECT_EQ(faults[0].at, place_of(box.width));
//   EXPECT_NE(faults[0].at, place_of(box)) << "the same address, another type";
#include <string>
#include <typeindex>
#include <vector>

#include "core/base/message.h"

namespace uadze {

/// A member of a value that is still alive.
struct ValuePlace {
  const void* address = nullptr;
  std::type_index type = typeid(void);
  bool operator==(const ValuePlace&) const = default;
};

template <class T>
ValuePlace place_of(const T& member) {
  return {&member, typeid(T)};
}

struct Fault {
  Severity severity = Severity::error;
  ValuePlace at;
  std::string expected, found;
};
using Faults = std::vector<Fault>;

bool has_errors(const Faults& faults);

void add_fault(Faults& faults, Severity severity, const ValuePlace& at, std::string expected,
               std::string found);

}  // namespace uadze
