#pragma once
// A value that is made when it is first asked for. Safe from several threads: who asks meanwhile waits; where
// making it throws nothing is kept, and the next to ask makes it. What makes it must not ask for it itself.
//
// Example:
//   Once<int> once;
//   EXPECT_EQ(once.known(), nullptr);
//   EXPECT_EQ(once.get([] { return 7; }), 7);
//   EXPECT_EQ(once.get([] { return 8; }), 7);
//   EXPECT_EQ(*once.known(), 7);
#include <atomic>
#include <mutex>
#include <optional>

namespace uadze {

template <class Value>
class Once {
 public:
  /// Nothing until it was made; at once.
  const Value* known() const { return known_.load(); }
  template <class Make>
  const Value& get(Make&& make) {
    if (const Value* value = known()) return *value;
    const std::lock_guard lock(mutex_);
    if (!value_) value_.emplace(make());
    known_ = &*value_;
    return *value_;
  }

 private:
  std::mutex mutex_;
  std::optional<Value> value_;
  std::atomic<const Value*> known_{nullptr};
};

}  // namespace uadze
