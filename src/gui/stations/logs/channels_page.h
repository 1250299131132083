#pragma once
// The log's channels: which column is what, and formulas of one line that make new ones. Every change is a
// mapping, kept for logs with the same header.
#include "gui/stations/logs/channel_table.h"
#include "gui/stations/logs/opened_log.h"

class QLabel;
class QLineEdit;

namespace uadze::gui {

class ChannelsPage : public QWidget {
  Q_OBJECT
 public:
  explicit ChannelsPage(QWidget* parent = nullptr);
  void show_log(std::shared_ptr<const log::LogFile> file);
  QStringList ticked() const { return table_->ticked(); }

 signals:
  /// The log is to be read anew by it; without one as the file proposes.
  void remapped(const std::optional<uadze::log::Mapping>& mapping);
  void ticks_changed();

 private:
  void map(const log::ColumnUse& use);
  void add_formula();
  void remove_formula();
  void keep(const log::Mapping& mapping);

  ChannelTable* table_;
  QLineEdit *name_, *text_, *unit_;
  QLabel* says_;
  std::shared_ptr<const log::LogFile> file_;
};

}  // namespace uadze::gui
