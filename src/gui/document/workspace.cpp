#include "gui/document/workspace.h"

#include <algorithm>
#include <cmath>

#include "core/project/keys.h"

namespace uadze::gui {

Workspace::Workspace(QObject* parent) : QObject(parent) {
  connect(&document, &Document::replaced, this, [this] { runs.evaluator.forget(); });
  connect(&document, &Document::changed, this, &Workspace::evaluate);
  connect(&selection, &Selection::changed, this, &Workspace::evaluate);
  connect(&selection, &Selection::cursor_moved, this, &Workspace::cursor_moved);
  connect(&selection, &Selection::level_changed, this, [this] {
    runs.look_at_level();
    emit level_changed();
  });
  connect(&runs, &Runs::arrived, this, &Workspace::changed);
  connect(&runs, &Runs::level_arrived, this, &Workspace::level_changed);
  connect(&runs, &Runs::files_changed, this, &Workspace::evaluate);
  connect(&book, &Bookkeeper::changed, this, &Workspace::changed);
  connect(&appearance, &Appearance::changed, this, [this] {
    emit appearance_changed();
    emit changed();
  });
}

void Workspace::show_logged(LoggedMarks marks) {
  if (logged_.marks.empty() && marks.marks.empty()) return;
  logged_ = std::move(marks);
  emit changed();
}

ContentKey Workspace::uncalibrated_key() const {
  KeyMaker key;
  if (setup()) {
    project::Setup bare = *setup();
    bare.calibration.reset();
    key.add(project::key_of(bare));
  }
  return key.key();
}

void Workspace::show_splash(std::shared_ptr<const solve::CornerRow> row) {
  splash_ = std::move(row);
  splash_of_ = uncalibrated_key();
  emit cursor_moved();
}

std::shared_ptr<const solve::ResolvedFrame> Workspace::splash_at_cursor() const {
  const auto lap = runs.lap();
  const auto* reference = selection.lap_reference();
  if (!splash_ || !lap || !reference || splash_->job->ask.manoeuvre ||
      splash_->job->driven != reference->name)
    return nullptr;
  const size_t sample = std::min(selection.cursor(), lap->value.size() - 1);
  const double t = lap->value.time[sample];
  const auto& frames = splash_->kept.frames;
  const auto next = std::lower_bound(frames.begin(), frames.end(), t,
                                     [](const solve::ResolvedFrame& f, double at) { return f.time < at; });
  if (next == frames.end() || next->time - t > 0.2) return nullptr;
  return {splash_, &*next};
}

void Workspace::put_splash(FuelMoment& fuel) const {
  const auto seen = splash_at_cursor();
  if (!seen) return;
  fuel.splash = seen, fuel.pull = seen->pull;
  const auto& samples = splash_->kept.run.samples;
  const double since = seen->time - splash_->job->drive.begin();
  const auto at = std::min_element(samples.begin(), samples.end(), [&](const auto& a, const auto& b) {
    return std::abs(a.time - since) < std::abs(b.time - since);
  });
  if (at == samples.end() || at->space.size() != fuel.volume.size() || at->wet.size() != fuel.wet.size())
    return;
  fuel.volume = at->space, fuel.wet = at->wet;
}

void Workspace::evaluate() {
  if (const auto* s = setup()) {
    const auto* session = selection.session();
    const project::Setup now =
        solve::conditioned(*s, session ? solve::conditions_of(*s, *session) : solve::Conditions{});
    appearance.set_fuel_density(fluid::density(solve::fuel_of(now)));
  }
  if (splash_ && !(uncalibrated_key() == splash_of_)) splash_.reset();
  runs.evaluate();
  emit changed();
}

void Workspace::set_cursor(size_t sample) {
  const auto entry = runs.lap();
  selection.set_cursor(sample, entry ? entry->value.size() : 0);
}

void Workspace::set_cursor_time(double seconds) {
  if (const auto entry = runs.lap()) set_cursor(entry->value.index_at(seconds));
}

void Workspace::set_cursor_distance(double metres) {
  const auto entry = runs.lap();
  if (!entry) return;
  const auto& d = entry->value.distance;
  set_cursor(static_cast<size_t>(std::lower_bound(d.begin(), d.end(), metres) - d.begin()));
}

}  // namespace uadze::gui
