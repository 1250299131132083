#include "gui/document/selection.h"

#include <algorithm>

#include "core/solve/case.h"

namespace uadze::gui {

int Selection::setup_index() const {
  return std::min(setup_, static_cast<int>(document_.project().setups.size()) - 1);
}

int Selection::session_index() const {
  return std::min(session_, static_cast<int>(document_.project().sessions.size()) - 1);
}

const project::Setup* Selection::setup() const {
  const int i = setup_index();
  return i < 0 ? nullptr : &document_.project().setups[static_cast<size_t>(i)];
}

const session::Session* Selection::session() const {
  const int i = session_index();
  return i < 0 ? nullptr : &document_.project().sessions[static_cast<size_t>(i)];
}

const project::LapReference* Selection::lap_reference() const {
  const project::Project& project = document_.project();
  if (const auto* s = session()) return solve::reference_of(project, *s);
  return project.laps.empty() ? nullptr : &project.laps.front();
}

void Selection::choose_setup(int index) {
  if (index == setup_ || index < 0) return;
  setup_ = index;
  emit changed();
}

void Selection::choose_session(int index) {
  if (index == session_ || index < 0) return;
  session_ = index;
  emit changed();
}

void Selection::set_cursor(size_t sample, size_t samples) {
  sample = std::min(sample, samples > 0 ? samples - 1 : 0);
  if (sample == cursor_) return;
  cursor_ = sample;
  emit cursor_moved();
}

void Selection::pick_level(std::optional<double> volume) {
  level_ = volume;
  if (level_) level_ = std::max(*level_, 0.0);
  emit level_changed();
}

void Selection::reset() {
  setup_ = session_ = 0;
  cursor_ = 0;
  level_.reset();
  emit changed();
  emit cursor_moved();
  emit level_changed();
}

}  // namespace uadze::gui
