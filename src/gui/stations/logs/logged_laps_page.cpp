#include "gui/stations/logs/logged_laps_page.h"

#include <QCheckBox>
#include <QDoubleSpinBox>
#include <QFileInfo>
#include <QFormLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QTableWidget>
#include <QVBoxLayout>
#include <algorithm>
#include <cmath>
#include <numbers>

#include "core/base/files.h"
#include "core/report/log_report.h"
#include "core/solve/add_lap.h"
#include "gui/widgets/edit_table.h"
#include "gui/widgets/empty_words.h"

namespace uadze::gui {
namespace {

constexpr double farthest_sensor = 10.0;  // m, of any car

}  // namespace

LoggedLapsPage::LoggedLapsPage(Workspace& workspace, QWidget* parent) : QWidget(parent), w_(workspace) {
  auto* column = new QVBoxLayout(this);
  by_ = new QLabel;
  by_->setWordWrap(true);
  column->addWidget(by_);
  list_ = row_list("laps of the log", {"Lap", "Kind", "Time", "Length"});
  say_when_empty(list_, "The laps of an open log stand here; each can become a lap of the project.");
  column->addWidget(list_, 1);
  auto* form = new QFormLayout;
  cut_off_ = new QDoubleSpinBox;
  cut_off_->setObjectName("cut-off");
  cut_off_->setRange(0, 50);
  cut_off_->setDecimals(1);
  cut_off_->setValue(log::ToLapOptions{}.cut_off);
  cut_off_->setSuffix(" Hz");
  cut_off_->setSpecialValueText("no filter");
  cut_off_->setToolTip(
      "Accelerations above it are left out, without delay: over the fuel's own swing (1 to 3 Hz), under "
      "the engine's shaking (10 Hz and more)");
  auto* spectrum = new QPushButton("Spectrum");
  spectrum->setObjectName("show spectrum");
  spectrum->setToolTip("The accelerations by their frequency, with the cut-off in them");
  auto* cut = new QHBoxLayout;
  cut->addWidget(cut_off_, 1);
  cut->addWidget(spectrum);
  form->addRow("Cut off at", cut);
  turn_ = new QCheckBox("turn the sensor's axes by the log");
  turn_->setObjectName("turn axes");
  form->addRow("Sensor", turn_);
  auto* place = new QHBoxLayout;
  static constexpr const char* axis_names[] = {"forward", "left", "up"};
  for (int k = 0; k < 3; ++k) {
    from_sensor_[k] = new QLineEdit;
    from_sensor_[k]->setObjectName(QString("from sensor %1").arg(axis_names[k]));
    from_sensor_[k]->setAccessibleName(QString("From the sensor to the tank, %1").arg(axis_names[k]));
    from_sensor_[k]->setFont(figure_font());
    from_sensor_[k]->setToolTip(QString("How far %1 of the sensor the tank's middle is").arg(axis_names[k]));
    place->addWidget(from_sensor_[k]);
    connect(from_sensor_[k], &QLineEdit::editingFinished, this, [this, k] { take_place(k); });
  }
  form->addRow("To the tank", place);
  show_place();
  column->addLayout(form);
  add_ = new QPushButton("Add as a lap of the project");
  add_->setObjectName("add logged lap");
  column->addWidget(add_);
  says_ = new QLabel;
  says_->setObjectName("add lap says");
  says_->setWordWrap(true);
  column->addWidget(says_);
  connect(list_, &QTableWidget::currentCellChanged, this, [this](int row, int, int, int) {
    if (!filling_ && laps_ && row >= 0 && row < static_cast<int>(laps_->all.size()))
      emit lap_chosen(laps_->all[static_cast<size_t>(row)].number);
  });
  connect(turn_, &QCheckBox::toggled, this, &LoggedLapsPage::how_changed);
  connect(cut_off_, &QDoubleSpinBox::valueChanged, this, &LoggedLapsPage::how_changed);
  connect(spectrum, &QPushButton::clicked, this, &LoggedLapsPage::spectrum_wanted);
  connect(add_, &QPushButton::clicked, this, &LoggedLapsPage::add_lap);
}

void LoggedLapsPage::show_log(const OpenedLog& opened, const QString& file) {
  log_ = opened.log, laps_ = opened.laps, mounting_ = opened.mounting, file_ = file;
  chosen_ = 0;
  const bool turned = mounting_.standing > 0 || mounting_.straight > 0;
  const QSignalBlocker quiet(turn_);
  turn_->setEnabled(turned);
  turn_->setChecked(false);
  const auto degrees = [](double radians) {
    const QString text = QString::number(radians * 180 / std::numbers::pi, 'f', 1);
    return text == "-0.0" ? QString("0.0") : text;
  };
  turn_->setText(turned ? QString("turn by %1°, %2°, %3°")
                              .arg(degrees(mounting_.pitch))
                              .arg(degrees(mounting_.roll))
                              .arg(degrees(mounting_.yaw))
                        : QString("its axes are taken as the car's"));
  turn_->setToolTip(
      QString("From %1 s of standing and %2 s of straight braking and speeding up: pitch, roll, yaw")
          .arg(mounting_.standing, 0, 'f', 0)
          .arg(mounting_.straight, 0, 'f', 0));
  show_list();
  refresh();
}

void LoggedLapsPage::show_list() {
  show_place();
  filling_ = true;
  list_->setRowCount(0);
  by_->setText(laps_ ? QString("Parted by: %1.").arg(name_of(laps_->by)) : QString());
  const auto best = laps_ ? laps_->best() : std::nullopt;
  for (size_t k = 0; laps_ && k < laps_->all.size(); ++k) {
    const log::LoggedLap& lap = laps_->all[k];
    const int row = list_->rowCount();
    list_->insertRow(row);
    list_->setItem(row, 0, new QTableWidgetItem(QString::number(lap.number)));
    list_->setItem(
        row, 1, new QTableWidgetItem(QString(name_of(lap.kind)) + (best && *best == k ? ", quickest" : "")));
    list_->setItem(row, 2, new QTableWidgetItem(QString::fromStdString(report::lap_time(lap.duration()))));
    list_->setItem(row, 3, new QTableWidgetItem(w_.show(lap.length, Quantity::distance)));
    if (lap.number == chosen_) list_->setCurrentCell(row, 0);
  }
  list_->resizeColumnsToContents();
  filling_ = false;
}

void LoggedLapsPage::choose(int lap) {
  chosen_ = lap;
  filling_ = true;
  for (size_t k = 0; laps_ && k < laps_->all.size(); ++k)
    if (laps_->all[k].number == lap && list_->currentRow() != static_cast<int>(k))
      list_->setCurrentCell(static_cast<int>(k), 0);
  filling_ = false;
  refresh();
}

void LoggedLapsPage::refresh() {
  const bool lap = laps_ && !laps_->all.empty() && chosen_ > 0;
  const bool saved = !w_.document.folder().empty();
  add_->setEnabled(lap && saved);
  if (lap && !saved)
    says_->setText("Save the project first: the lap's file stands beside it.");
  else if (says_->text().startsWith("Save the project"))
    says_->clear();
}

void LoggedLapsPage::show_place() {
  for (int k = 0; k < 3; ++k) from_sensor_[k]->setText(w_.show(to_tank_[k], Quantity::length));
}

void LoggedLapsPage::take_place(int axis) {
  if (!from_sensor_[axis]->isModified()) return;
  try {
    const double at = typed_quantity(from_sensor_[axis]->text(), Quantity::length, w_.units());
    if (!(std::abs(at) <= farthest_sensor))
      throw std::runtime_error(w_.show(-farthest_sensor, Quantity::length).toStdString() + " to " +
                               w_.show(farthest_sensor, Quantity::length).toStdString() + " are expected");
    to_tank_[axis] = at;
    emit how_changed();
  } catch (const std::exception& error) {
    emit w_.document.refused(QString("To the tank: ") + error.what());
  }
  show_place();
}

log::ToLapOptions LoggedLapsPage::how() const {
  log::ToLapOptions out;
  out.cut_off = cut_off_->value();
  if (turn_->isChecked()) out.mounting = mounting_;
  out.from_sensor = to_tank_;
  return out;
}

void LoggedLapsPage::set_cut_off(double hertz) { cut_off_->setValue(hertz); }

/// The log's name without what it is packed in.
std::string LoggedLapsPage::bare_name() const {
  QString name = file_;
  if (name.endsWith(".gz", Qt::CaseInsensitive)) name.chop(3);
  return QFileInfo(name).completeBaseName().toStdString();
}

void LoggedLapsPage::add_lap() {
  const auto lap = std::find_if(laps_->all.begin(), laps_->all.end(),
                                [&](const log::LoggedLap& l) { return l.number == chosen_; });
  if (lap == laps_->all.end()) return;
  try {
    const auto made = log::to_lap(*log_, *lap, how());
    const std::string stem = bare_name() + "-lap-" + std::to_string(lap->number);
    // Beside the other laps, under a name that no file has.
    const auto folder = w_.document.folder();
    std::filesystem::create_directories(folder / "laps");
    std::string name = stem;
    for (int k = 2; std::filesystem::exists(folder / "laps" / (name + ".csv")); ++k)
      name = stem + "-" + std::to_string(k);
    const std::string relative = "laps/" + name + ".csv";
    write_file_atomically(folder / relative, lap::write_lap(made.value));
    const std::string title = bare_name() + ", lap " + std::to_string(lap->number);
    const bool done = w_.document.edit("Add lap from the log", [&](project::Project& p) {
      p.laps.push_back(solve::lap_reference(p, made.value, title, relative));
    });
    QStringList lines{done ? QString("Added as \"%1\", %2.")
                                 .arg(QString::fromStdString(w_.project().laps.back().name),
                                      QString::fromStdString(relative))
                           : QString("It was not added.")};
    for (const Message& m : made.notes) lines << said(m);
    says_->setText(lines.join("\n"));
  } catch (const std::exception& error) {
    says_->setText(QString("▲ Not added. ") + error.what());
  }
}

}  // namespace uadze::gui
