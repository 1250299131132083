#pragma once
// The book beside the open project, and what it says of the chosen setup; renewed when the project, the book
// or the hour changes.
//
//   if (const auto* in = workspace.book.garage()) show(in->gates);
//   workspace.book.write({.kind = logbook::Kind::note, .by = "R. Fell", .note = "tank out"});
//
// Another window's records are seen within seconds. What can not be written is said through the document's
// `refused`, and nothing is lost of what was typed.
#include <QObject>
#include <QTimer>
#include <memory>
#include <optional>

#include "core/solve/garage.h"
#include "gui/document/background.h"
#include "gui/document/runs.h"

namespace uadze::gui {

class Bookkeeper : public QObject {
  Q_OBJECT
 public:
  Bookkeeper(Document& document, const Selection& selection, const Runs& runs, QObject* parent = nullptr);

  const std::vector<logbook::Record>& records() const { return records_; }
  /// Of the chosen setup; nothing while it is computed for the first time, or without a circuit.
  const solve::InGarage* garage() const;
  const logbook::Readiness* readiness() const;
  solve::ReadyBySetup ready_by_setup() const;
  /// Where the book lies or would; empty for a project that was never saved.
  std::filesystem::path file() const;
  /// Why it can not be read; empty if it can, or there is none yet.
  const QString& trouble() const { return trouble_; }
  bool broken() const { return broken_; }
  /// Why nothing can be written; empty if it can.
  QString no_writing() const;

  /// As it was written; nothing if it was not, which is said.
  std::optional<logbook::Record> write(logbook::Record record);
  std::optional<logbook::Record> amend(std::int64_t number, logbook::Record changed);
  /// A picture kept beside the book; nothing if it can not be, which is said.
  std::optional<logbook::Photo> keep(const QString& picture);
  std::vector<std::int64_t> search(const QString& words) const;
  /// Saves aside what can be read of a broken book, and opens that in its place: the broken one is renamed.
  void rescue();
  /// What will be overdue before the end of which planned session, each driven after the one before; a line
  /// each.
  QStringList overdue_before_sessions() const;
  /// Moments now, for what is shown.
  Moment at() const { return now(); }

 signals:
  void changed();
  /// A test's hours are over.
  void reminded(const QString& what);

 private:
  void open();
  void look();  ///< for what another window wrote, and at the clock
  void compute();
  std::optional<logbook::Record> written(const std::function<logbook::Record(logbook::Book&)>& doing);

  Document& document_;
  const Selection& selection_;
  const Runs& runs_;
  std::optional<logbook::Book> book_;
  std::vector<logbook::Record> records_;
  QString trouble_;
  bool broken_ = false;
  std::shared_ptr<const solve::InGarage> garage_;
  std::string garage_of_;               ///< the setup's name
  ContentKey garage_key_, failed_key_;  ///< of all that decides it
  ContentKey content_key_;              ///< the same without the clock
  Background<std::shared_ptr<const solve::InGarage>> job_;
  QTimer timer_;
  std::vector<std::int64_t> said_;  ///< records of tests whose end was said
};

}  // namespace uadze::gui
