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
//   write_file_atomically("cards.pdf", pdf_of(results, units, "Ostrel"));    // works without a display
//   draw_card(painter, page, result, units, "Ostrel");       // on any paper
#include <QPainter>
#include <QRectF>
#include <string>
#include <vector>

#include "core/base/names.h"
#include "core/report/card_text.h"
#include "core/solve/garage.h"

namespace uadze::card {

/// `ready`: what the car's book says. In points (1/72 in) of a page of `page`'s size; the painter is scaled
/// so.
void draw_card(QPainter& p, const QRectF& page, const solve::SessionResult& session, const UnitSystem& units,
               const std::string& project, const logbook::Readiness* ready = nullptr);

enum class Paper { a4, letter };
constexpr const char* name_of(Paper value) {
  switch (value) {
    case Paper::a4:
      return "A4";
    case Paper::letter:
      return "letter";
  }
  return nullptr;
}

/// The bytes of a PDF, one page each. Makes itself a QGuiApplication if there is none. Throws InputError
/// without room for a temporary file.
std::string pdf_of(const std::vector<solve::SessionResult>& sessions, const UnitSystem& units,
                   const std::string& project, Paper paper = Paper::a4,
                   const solve::ReadyBySetup& ready = {});

}  // namespace uadze::card
