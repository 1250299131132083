#pragma once
// What is looked at: the chosen setup and session, the one lap cursor, a level picked by hand.
#include <QObject>
#include <optional>

#include "gui/document/document.h"

namespace uadze::gui {

class Selection : public QObject {
  Q_OBJECT
 public:
  explicit Selection(const Document& document, QObject* parent = nullptr)
      : QObject(parent), document_(document) {}

  int setup_index() const;    ///< -1 if there is none
  int session_index() const;  ///< -1 if there is none
  const project::Setup* setup() const;
  const session::Session* session() const;
  /// The session's lap; the first where there is no session.
  const project::LapReference* lap_reference() const;
  void choose_setup(int index);
  void choose_session(int index);

  size_t cursor() const { return cursor_; }  ///< sample of the lap
  /// `samples`: of the lap; the cursor stays on it.
  void set_cursor(size_t sample, size_t samples);

  /// m3; nothing: the clean level.
  std::optional<double> picked_level() const { return level_; }
  void pick_level(std::optional<double> volume);

  /// The first setup and session, the lap's start and the clean level.
  void reset();

 signals:
  void changed();  ///< setup or session
  void cursor_moved();
  void level_changed();

 private:
  const Document& document_;
  int setup_ = 0, session_ = 0;
  size_t cursor_ = 0;
  std::optional<double> level_;
};

}  // namespace uadze::gui
