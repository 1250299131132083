#pragma once
// A log as the station's pages show it, and its reading: by what a person once chose for logs with this
// header, else as the file proposes.
#include <QString>

#include "core/diagnosis/cause.h"
#include "core/diagnosis/trend.h"
#include "core/log/mounting.h"
#include "core/log/text.h"
#include "gui/document/workspace.h"

class QTableWidget;

namespace uadze::gui {

/// All that is shown of a log, made in the background.
struct OpenedLog {
  std::shared_ptr<const log::LogFile> file;
  std::shared_ptr<const log::Log> log;  ///< that of the file
  std::shared_ptr<const log::Laps> laps;
  std::shared_ptr<const diagnosis::Found> found;
  std::shared_ptr<const diagnosis::Diagnosis> said;
  log::Mounting mounting;
  diagnosis::Wear wear;
  Messages notes, doubts;
  bool needs_table = false;  ///< frames of a bus, and no table of signals yet
};

struct LogRequest {
  std::string path, table_path;         ///< of the log; of its table of signals, "" if it needs none
  std::optional<log::Mapping> mapping;  ///< as chosen now; else what is kept, else as proposed
  diagnosis::FindOptions find;
  std::filesystem::path cache;
};

/// What the workspace decides of a request: limits, set pressure, corners.
LogRequest log_request(const Workspace& workspace, const QString& path, const QString& table_path);
/// Throws InputError.
OpenedLog open_log(const LogRequest& request, Progress& progress);

/// Kept for logs with this header.
void keep_mapping(const log::Layout& layout, const log::Mapping& mapping);
void forget_mapping(const log::Layout& layout);

QString said(const Message& message);
/// A read-only table whose rows are chosen one at a time.
QTableWidget* row_list(const QString& name, const QStringList& titles);

}  // namespace uadze::gui
