#include "gui/stations/slosh/kept_runs_dialog.h"

#include <QDialogButtonBox>
#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>
#include <set>

#include "core/report/resolved_report.h"
#include "gui/widgets/table_page.h"

namespace uadze::gui {

KeptRunsDialog::KeptRunsDialog(Workspace& workspace, std::filesystem::path folder, QWidget* parent)
    : QDialog(parent),
      w_(workspace),
      folder_(std::move(folder)),
      table_(new TablePage("kept runs")),
      says_(new QLabel) {
  setObjectName("kept runs dialog");
  setWindowTitle("Resolved runs beside the project");
  resize(820, 360);
  says_->setWordWrap(true);
  auto* column = new QVBoxLayout(this);
  column->addWidget(says_);
  column->addWidget(table_, 1);
  auto* buttons = new QDialogButtonBox(QDialogButtonBox::Close);
  auto* chosen = buttons->addButton("Throw away", QDialogButtonBox::ActionRole);
  auto* all = buttons->addButton("Throw all away", QDialogButtonBox::ActionRole);
  chosen->setToolTip("The chosen rows; they are run anew when they are asked for again");
  column->addWidget(buttons);
  connect(chosen, &QPushButton::clicked, this, [this] { throw_away(false); });
  connect(all, &QPushButton::clicked, this, [this] { throw_away(true); });
  connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
  refresh();
}

void KeptRunsDialog::refresh() {
  lines_ = solve::kept_runs(folder_);
  double all = 0;
  for (const auto& line : lines_) all += 1e-6 * static_cast<double>(line.bytes);
  says_->setText(QString("%1 runs, %2 MB, in %3. A question that was resolved before is answered from here.")
                     .arg(lines_.size())
                     .arg(all, 0, 'f', 1)
                     .arg(QString::fromStdString(folder_.filename().string())));
  table_->show_table(report::runs_table(lines_, w_.units()));
}

void KeptRunsDialog::throw_away(bool all) {
  std::vector<solve::KeptLine> gone;
  std::set<int> rows;
  for (const auto* item : table_->selectedItems()) rows.insert(item->row());
  for (int r = 0; r < static_cast<int>(lines_.size()); ++r)
    if (all || rows.contains(r)) gone.push_back(lines_[static_cast<size_t>(r)]);
  try {
    solve::throw_away(gone);
    refresh();
  } catch (const std::exception& error) {
    refresh();
    says_->setText("▲ " + QString::fromUtf8(error.what()));
  }
}

}  // namespace uadze::gui
