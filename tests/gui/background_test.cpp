// Work beside the interface: only the newest answers, in the interface's thread, and whatever goes wrong is
// told; nobody is called who is gone.
#include "gui/document/background.h"

#include <gtest/gtest.h>

#include <QApplication>
#include <QThread>
#include <QtTest>
#include <atomic>

namespace uadze::gui {
namespace {

bool wait_until(const std::function<bool()>& ready) {
  QElapsedTimer clock;
  clock.start();
  while (!ready()) {
    if (clock.elapsed() > 60000) return false;
    QTest::qWait(2);
  }
  return true;
}
/// All that was begun has ended and was delivered.
void settle() {
  ASSERT_TRUE(wait_until([] { return pending_work() == 0; }));
  QCoreApplication::processEvents();
}

TEST(BackgroundWork, IsDoneElsewhereAndDeliveredHere) {
  QObject owner;
  Background<int> job;
  EXPECT_FALSE(job.running());
  EXPECT_EQ(job.fraction(), 1.0);
  QThread* worked = nullptr;
  QThread* delivered = nullptr;
  int got = 0;
  job.start(
      &owner,
      [&](Progress& progress) {
        worked = QThread::currentThread();
        progress.report(0.5);
        return 42;
      },
      [&](int value) { got = value, delivered = QThread::currentThread(); }, [](const QString&) { FAIL(); });
  EXPECT_TRUE(job.running());
  EXPECT_EQ(got, 0) << "never before the event loop has its turn";
  settle();
  EXPECT_EQ(got, 42);
  EXPECT_NE(worked, QThread::currentThread());
  EXPECT_EQ(delivered, QThread::currentThread());
  EXPECT_FALSE(job.running());
}

TEST(BackgroundWork, OnlyTheNewestOfManyAnswers) {
  QObject owner;
  Background<int> job;
  std::vector<int> got;
  // Shared with those that end after this test.
  const auto cancelled = std::make_shared<std::atomic<int>>(0);
  for (int k = 0; k < 30; ++k)
    job.start(
        &owner,
        [k, cancelled](Progress& progress) {
          for (int n = 0; k < 29 && n < 2000; ++n) {
            if (progress.cancelled()) {
              ++*cancelled;
              throw Cancelled();
            }
            QThread::usleep(500);
          }
          return k;
        },
        [&](int value) { got.push_back(value); }, [](const QString& why) { FAIL() << why.toStdString(); });
  settle();
  EXPECT_EQ(got, std::vector<int>{29});
  // Those before it were told to stop, and did, long before their second was over.
  EXPECT_TRUE(wait_until([&] { return cancelled->load() >= 1; }));
}

TEST(BackgroundWork, WhatGoesWrongIsTold) {
  QObject owner;
  Background<int> job;
  QStringList told;
  const auto fail = [&](const QString& why) { told << why; };
  job.start(
      &owner, [](Progress&) -> int { throw std::runtime_error("no such lap"); }, [](int) { FAIL(); }, fail);
  settle();
  job.start(
      &owner, [](Progress&) -> int { throw 7; }, [](int) { FAIL(); }, fail);
  settle();
  EXPECT_EQ(told, (QStringList{"no such lap", "the computation failed"}));
  EXPECT_FALSE(job.running());
  // And the next is as good as ever.
  int got = 0;
  job.start(
      &owner, [](Progress&) { return 5; }, [&](int value) { got = value; }, fail);
  settle();
  EXPECT_EQ(got, 5);
}

TEST(BackgroundWork, StepsComeInTheirOrderAndBeforeTheEnd) {
  QObject owner;
  Background<int> job;
  std::vector<int> got;
  job.start_in_steps(
      &owner,
      [](Progress&, const Background<int>::Publish& publish) {
        for (int k = 1; k <= 20; ++k) publish(k);
        return 100;
      },
      [&](int step) { got.push_back(step); }, [&](int last) { got.push_back(last); },
      [](const QString&) { FAIL(); });
  settle();
  ASSERT_EQ(got.size(), 21u);
  EXPECT_TRUE(std::is_sorted(got.begin(), got.end()));
  EXPECT_EQ(got.back(), 100);
}

/// Work that waits at a gate and says that it went through; shared, as a thread of a busy machine may come to
/// it when the test that began it is over.
struct Gate {
  std::atomic<bool> open = false, passed = false;
};
std::function<int(Progress&)> waiting_at(std::shared_ptr<Gate> gate) {
  return [gate](Progress&) {
    while (!gate->open.load()) QThread::usleep(200);
    gate->passed = true;
    return 1;
  };
}
void let_through(Gate& gate) {
  gate.open = true;
  ASSERT_TRUE(wait_until([&] { return gate.passed.load(); }));
  QTest::qWait(50);  // what it brings would come in this time
}

TEST(BackgroundWork, NobodyIsCalledWhoIsGone) {
  bool called = false;
  const auto call = [&](int) { called = true; };
  const auto fail = [&](const QString&) { called = true; };
  {
    Background<int> job;
    auto owner = std::make_unique<QObject>();
    const auto gate = std::make_shared<Gate>();
    job.start(owner.get(), waiting_at(gate), call, fail);
    owner.reset();
    let_through(*gate);
    EXPECT_FALSE(called) << "its owner went first";
  }
  QObject owner;
  const auto gate = std::make_shared<Gate>();
  {
    Background<int> job;
    job.start(&owner, waiting_at(gate), call, fail);
  }
  let_through(*gate);
  EXPECT_FALSE(called) << "the job itself went first";
  EXPECT_EQ(pending_work(), 0) << "and is counted no more";
}

TEST(BackgroundWork, ACancelledOneIsNoLongerPending) {
  QObject owner;
  Background<int> job;
  std::atomic<bool> ended = false;
  job.start(
      &owner,
      [&](Progress& progress) -> int {
        while (!progress.cancelled()) QThread::usleep(200);
        ended = true;
        throw Cancelled();
      },
      [](int) { FAIL(); }, [](const QString&) { FAIL(); });
  EXPECT_EQ(pending_work(), 1);
  job.cancel();
  EXPECT_FALSE(job.running());
  EXPECT_EQ(pending_work(), 0);
  EXPECT_TRUE(wait_until([&] { return ended.load(); }));
  QTest::qWait(20);
}

}  // namespace
}  // namespace uadze::gui
