#pragma once
// The open project, its undo history, its file and its autosave.
//
//   document.edit("Move pickup", [&](Project& p) { p.setups[0].tank.pickups[1].position.x() = -0.2; });
//
// An edit that would leave the project with a fault is refused whole, and `refused` says why.
#include <QObject>
#include <QThreadPool>
#include <QTimer>
#include <QUndoStack>
#include <functional>

#include "core/project/project_file.h"
#include "core/solve/open.h"

namespace uadze::gui {

/// Work that was not saved when the application went down.
struct Leftover {
  QString autosave;  ///< the autosave's own path
  QString project;   ///< the project it belongs to; empty if it was never saved
  QString when;
};

class Document : public QObject {
  Q_OBJECT
 public:
  explicit Document(QObject* parent = nullptr);
  ~Document() override;

  const project::Project& project() const { return project_; }
  QString path() const { return path_; }
  QString title() const;
  std::filesystem::path folder() const;
  bool is_modified() const { return !undo_.isClean() || restored_; }
  QUndoStack* undo() { return &undo_; }
  /// The files that the project names and what is kept of them, shared with the background runs.
  const std::shared_ptr<solve::Sources>& sources() const { return sources_; }

  /// Edits that follow each other with the same merge key (not 0) become one step of the history.
  bool edit(const QString& what, const std::function<void(project::Project&)>& change, int merge_key = 0);
  /// Ends merging: the next edit with the same key is a step of its own.
  void end_merge() { ++merge_epoch_; }

  /// These throw InputError and leave the open project as it is.
  void open(const QString& path, solve::Outside outside = solve::Outside::refused);
  void save();
  void save_as(const QString& path);
  /// Whether somebody else wrote the file since it was opened or saved here.
  bool changed_on_disk() const;
  void start_new();

  const Messages& notes() const { return notes_; }

  /// Autosaves of processes that are gone.
  static std::vector<Leftover> leftovers();
  static void discard(const Leftover& leftover);
  /// Opens the autosaved state as unsaved work.
  void restore(const Leftover& leftover);
  /// Where autosaves are kept (made if missing).
  static QString autosave_folder();

 signals:
  void replaced();      ///< by another project; `changed` follows
  void changed();       ///< the project's values
  void file_changed();  ///< another path, or saved
  void refused(const QString& why);
  void autosave_failed(const QString& why);

 private:
  friend class EditCommand;
  void set_project(project::Project project);
  std::string place_of_file() const;
  void adopt(project::Opened opened, QString path, std::shared_ptr<solve::Sources> sources);
  void write_autosave();
  void drop_autosave();

  project::Project project_;
  QString path_;
  std::shared_ptr<solve::Sources> sources_ = std::make_shared<solve::Sources>();
  std::string text_;  ///< what is on the disk
  Messages notes_;
  QUndoStack undo_;
  bool restored_ = false;
  int merge_epoch_ = 0;
  QTimer autosave_timer_;
  QString autosave_path_;
  QThreadPool writer_;  ///< of autosaves
};

}  // namespace uadze::gui
