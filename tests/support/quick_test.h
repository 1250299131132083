#pragma once

#include <gtest/gtest.h>

// TEST as GoogleTest has it, without a class for each test: a thousand of them took the compiler an eighth of
// its time for the core's tests. Read with the precompiled headers of all plain code; tests include
// <gtest/gtest.h> as ever.

namespace uadze::test {

// Tells GoogleTest of a test that needs no fixture. True, so that a constant can be initialised by it.
inline bool registered(const char* suite, const char* name, const char* file, int line, void (*body)()) {
  class Plain : public testing::Test {
   public:
    explicit Plain(void (*body)()) : body_(body) {}
    void TestBody() override { body_(); }

   private:
    void (*body_)();
  };
  testing::RegisterTest(suite, name, nullptr, nullptr, file, line,
                        [body]() -> testing::Test* { return new Plain(body); });
  return true;
}

}  // namespace uadze::test

#undef TEST
#define TEST(suite, name)                                                                  \
  static void suite##_##name##_body();                                                     \
  [[maybe_unused]] static const bool suite##_##name##_registered =                         \
      ::uadze::test::registered(#suite, #name, __FILE__, __LINE__, suite##_##name##_body); \
  static void suite##_##name##_body()
