#pragma once
// Programs that a test begins and kills: the test program again, with another word on its command line.
#include <QString>

namespace uadze::gui {

/// Opens, edits, waits for the autosave, says "ready", and waits to be killed.
int work_until_killed(const QString& file);

/// Edits without end, a save now and then, each told once it is done: for scripts/kill-window.
int edit_until_killed(const QString& file, quint32 seed);

/// Ends as the program does whose window is closed during work that hears of it late, and goes on asking and
/// telling.
int end_while_working();

}  // namespace uadze::gui
