#pragma once
// Plain values as bytes, and back: what a checkpoint is made of. Only for the machine that wrote them.
//
// Example:
//   std::string out;
//   resolved::put(out, 2.5), resolved::put(out, std::vector<int>{1, 2});
//   resolved::Reader in{out};
//   double x = 0; std::vector<int> list;
//   in.get(x), in.get(list);
//   EXPECT_EQ(list.size(), 2u);
//   EXPECT_THROW(in.get(x), std::runtime_error) << "it ends there";
#include <cstdint>
#include <cstring>
#include <stdexcept>
#include <string>
#include <string_view>
#include <vector>

namespace uadze::resolved {

template <class T>
void put(std::string& out, const T& value) {
  out.append(reinterpret_cast<const char*>(&value), sizeof value);
}
template <class T>
void put(std::string& out, const std::vector<T>& list) {
  put(out, static_cast<std::uint64_t>(list.size()));
  out.append(reinterpret_cast<const char*>(list.data()), list.size() * sizeof(T));
}

struct Reader {
  std::string_view bytes;
  template <class T>
  void get(T& value) {
    if (bytes.size() < sizeof value) throw std::runtime_error("it ends too early");
    std::memcpy(static_cast<void*>(&value), bytes.data(), sizeof value);
    bytes.remove_prefix(sizeof value);
  }
  template <class T>
  void get(std::vector<T>& list) {
    std::uint64_t n = 0;
    get(n);
    if (n > bytes.size() / sizeof(T)) throw std::runtime_error("it ends too early");
    list.resize(static_cast<std::size_t>(n));
    if (n > 0) std::memcpy(static_cast<void*>(list.data()), bytes.data(), list.size() * sizeof(T));
    bytes.remove_prefix(list.size() * sizeof(T));
  }
};

}  // namespace uadze::resolved
