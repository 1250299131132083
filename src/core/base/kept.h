#pragma once
// Values kept by the content of what decided them; when they take more than a budget of bytes, those that
// were asked for longest ago go. Safe from several threads.
//
// Example:
//   Kept<std::string> kept(100);
//   const ContentKey first = content_key("first"), second = content_key("second");
//   kept.keep(first, std::make_shared<const std::string>("a"), 60);
//   kept.keep(second, std::make_shared<const std::string>("b"), 60);
//   EXPECT_EQ(kept.find(first), nullptr) << "the least recently used went";
//   EXPECT_EQ(*kept.find(second), "b");
#include <list>
#include <map>
#include <memory>
#include <mutex>

#include "core/base/content_key.h"

namespace uadze {

template <class Value>
class Kept {
 public:
  using Pointer = std::shared_ptr<const Value>;
  explicit Kept(size_t budget) : budget_(budget) {}

  /// Nothing if it is not kept.
  Pointer find(const ContentKey& key) {
    const std::lock_guard lock(mutex_);
    const auto found = places_.find(key);
    if (found == places_.end()) return nullptr;
    order_.splice(order_.begin(), order_, found->second);
    return found->second->value;
  }

  /// The newest stays even if it is larger than the budget.
  void keep(const ContentKey& key, Pointer value, size_t bytes) {
    const std::lock_guard lock(mutex_);
    if (const auto found = places_.find(key); found != places_.end()) {
      bytes_ -= found->second->bytes;
      order_.erase(found->second);
      places_.erase(found);
    }
    order_.push_front({key, std::move(value), bytes});
    places_[key] = order_.begin();
    bytes_ += bytes;
    while (bytes_ > budget_ && order_.size() > 1) {
      bytes_ -= order_.back().bytes;
      places_.erase(order_.back().key);
      order_.pop_back();
    }
  }

  size_t bytes() const {
    const std::lock_guard lock(mutex_);
    return bytes_;
  }

 private:
  struct Entry {
    ContentKey key;
    Pointer value;
    size_t bytes;
  };
  const size_t budget_;
  mutable std::mutex mutex_;
  size_t bytes_ = 0;
  std::list<Entry> order_;  // the most recently used first
  std::map<ContentKey, typename std::list<Entry>::iterator> places_;
};

}  // namespace uadze
