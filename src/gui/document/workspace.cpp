#include "gui/document/workspace.h"

#include <algorithm>

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

void Workspace::evaluate() {
  if (const auto* s = setup()) {
    const auto* session = selection.session();
    const project::Setup now =
        solve::conditioned(*s, session ? solve::conditions_of(*s, *session) : solve::Conditions{});
    appearance.set_fuel_density(fluid::density(solve::fuel_of(now)));
  }
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
