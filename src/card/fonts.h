#pragma once
// The shipped B612 (SIL OFL) for windows and printed pages.

namespace uadze::card {

/// Once there is a QGuiApplication; more than once is fine.
void load_fonts();

}  // namespace uadze::card
