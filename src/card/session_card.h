#pragma once
// The session card: one printed page a session for the pit wall.
//
//   +--------------------------------------------------+
//   | Race, 3 h                    P4, surge fitted    |
//   |  START WITH 48.6 L      BRING BACK 3.5 L         |
//   |  kg, per cent, gauge, dip   | refuelling, fill   |
//   |  track with the tightest    | starvation map     |
//   |  assumptions, cautions, date and version         |
//   +--------------------------------------------------+
//
//   write_pdf("cards.pdf", results, units, "Ostrel");       // works without a display
//   draw_card(painter, page, result, units, "Ostrel");       // on any paper
#include <QPainter>
#include <QRectF>
#include <string>
#include <vector>

#include "core/report/card_text.h"

namespace uadze::card {

/// In points (1/72 in) of a page of `page`'s size; the painter is scaled so.
void draw_card(QPainter& p, const QRectF& page, const solve::SessionResult& session, const UnitSystem& units,
               const std::string& project);

/// A4, one page each. Throws InputError if the file can not be written. Makes itself a QGuiApplication if
/// there is none.
void write_pdf(const std::string& path, const std::vector<solve::SessionResult>& sessions,
               const UnitSystem& units, const std::string& project);

}  // namespace uadze::card
