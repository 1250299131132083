#include "core/build/kept.h"

#include <fmt/format.h>

#include "core/base/content_key.h"
#include "core/build/order.h"

namespace uadze::build {

std::string content_of(const Step& step) {
  KeyMaker key;
  key.add(step.title);
  for (const Phrase& line : step.how) key.add(line.in());
  for (const std::string& line : step.cautions) key.add(line);
  for (const Need& n : step.needs) key.add(n.what), key.add(n.size), key.add(n.count);
  const ContentKey made = key.key();
  return fmt::format("{:016x}", made.high ^ made.low);
}

StepState state_of(const Step& step, const std::string& setup, const std::vector<Done>& done) {
  StepState out = StepState::open;
  for (const Done& d : done)
    if (d.setup == setup && d.step == step.title)
      out = d.content == content_of(step) ? StepState::done : StepState::again;
  return out;
}

std::vector<char> done_flags(const std::vector<Step>& steps, const std::string& setup,
                             const std::vector<Done>& done) {
  std::vector<char> out;
  for (const Step& s : steps) out.push_back(state_of(s, setup, done) == StepState::done);
  return out;
}

}  // namespace uadze::build
