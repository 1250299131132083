#pragma once
// What an InputError says, or "accepted".
#include <functional>
#include <string>

#include "core/base/message.h"

namespace uadze::test {

inline std::string refusal(const std::function<void()>& doing) {
  try {
    doing();
  } catch (const InputError& error) {
    return text_of(error.messages());
  }
  return "accepted";
}

}  // namespace uadze::test
