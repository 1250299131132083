#include "core/base/message.h"

#include <algorithm>

namespace uadze {

std::string Message::text() const {
  std::string out = severity == Severity::error     ? "error: "
                    : severity == Severity::warning ? "warning: "
                                                    : "note: ";
  if (!file.empty()) out += file + ": ";
  if (!place.empty()) out += place + ": ";
  if (!expected.empty()) out += "expected " + expected + ", found ";
  return out + found;
}

std::string text_of(const Messages& messages) {
  std::string out;
  for (const auto& message : messages) out += (out.empty() ? "" : "\n") + message.text();
  return out;
}

bool has_errors(const Messages& messages) {
  return std::any_of(messages.begin(), messages.end(),
                     [](const Message& m) { return m.severity == Severity::error; });
}

InputError::InputError(Message message) : InputError(Messages{std::move(message)}) {}
InputError::InputError(Messages messages)
    : std::runtime_error(text_of(messages)), messages_(std::move(messages)) {}

}  // namespace uadze
