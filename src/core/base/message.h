#pragma once
// What is said about an input: where it is wrong, what was expected, what was found.
//
// Example:
//   const Message m{.file = "p4.json", .place = "/setups/0/name", .expected = "a text", .found = "the number 3"};
//   EXPECT_EQ(m.text(), "error: p4.json: /setups/0/name: expected a text, found the number 3");
#include <stdexcept>
#include <string>
#include <vector>

namespace uadze {

enum class Severity { note, warning, error };

struct Message {
  Severity severity = Severity::error;
  std::string file;      ///< as the user named it; empty if there is none
  std::string place;     ///< JSON pointer, or "line 12, column lat_acc"
  std::string expected;  ///< empty where the sentence in `found` says all
  std::string found;

  /// "error: p4.json: /setups/0/name: expected a text, found the number 3"
  std::string text() const;
};

using Messages = std::vector<Message>;

/// One or more errors in an input. Whatever was being read is not applied at all.
class InputError : public std::runtime_error {
 public:
  explicit InputError(Message message);
  explicit InputError(Messages messages);
  const Messages& messages() const { return messages_; }

 private:
  Messages messages_;
};

/// A value read from outside, with the notes and warnings that came up on the way.
template <class T>
struct Read {
  T value;
  Messages notes;
};

bool has_errors(const Messages& messages);
std::string text_of(const Messages& messages);

}  // namespace uadze
