#pragma once
// Which column of the log is which channel, in which unit, with which sign: as proposed, how sure, and all of
// it to be changed. What the first rows hold stands beside it.
#include <QTableWidget>

#include "core/log/log.h"
#include "gui/document/workspace.h"

namespace uadze::gui {

class ChannelTable : public QTableWidget {
  Q_OBJECT
 public:
  explicit ChannelTable(QWidget* parent = nullptr);
  void show_file(const log::LogFile* file);
  /// Ticked columns, in their order.
  QStringList ticked() const;

 signals:
  /// One column is meant otherwise.
  void mapped(const uadze::log::ColumnUse& use);
  void ticks_changed();

 private:
  void change(int row, const std::function<void(log::ColumnUse&)>& edit);

  QStringList known_formulas_;
  std::vector<log::ColumnUse> uses_;
  bool filling_ = false;
};

}  // namespace uadze::gui
