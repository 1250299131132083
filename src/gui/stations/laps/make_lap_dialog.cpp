#include "gui/stations/laps/make_lap_dialog.h"

#include <QCheckBox>
#include <QDialogButtonBox>
#include <QFileDialog>
#include <QFormLayout>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QTableWidget>
#include <QVBoxLayout>
#include <cmath>
#include <numbers>

#include "core/base/files.h"
#include "core/lap/rescale.h"
#include "core/report/log_report.h"
#include "core/solve/add_lap.h"
#include "core/solve/setup.h"
#include "gui/stations/laps/track_sketch.h"

namespace uadze::gui {
namespace {

enum SegmentColumn { of_corner, of_length, of_radius, of_banking, of_grade, segment_columns };

/// Where its files stand: "laps/NAME.csv", under a name that none has.
std::string free_stem(const std::filesystem::path& folder, const std::string& wanted) {
  std::string stem;
  for (char c : wanted) {
    const auto letter = static_cast<unsigned char>(c);
    if (std::isalnum(letter))
      stem += static_cast<char>(std::tolower(letter));
    else if (!stem.empty() && stem.back() != '-')
      stem += '-';
  }
  while (!stem.empty() && stem.back() == '-') stem.pop_back();
  if (stem.empty()) stem = "lap";
  std::string out = stem;
  for (int k = 2; std::filesystem::exists(folder / "laps" / (out + ".csv")); ++k)
    out = stem + "-" + std::to_string(k);
  return out;
}

/// "1:35.440, 4600 m, at most 258 km/h and 2.60 g".
QString lap_words(const Workspace& w, const lap::Lap& lap) {
  double fastest = 0, hardest = 0;
  for (double v : lap.speed) fastest = std::max(fastest, v);
  for (double a : lap.lateral) hardest = std::max(hardest, std::abs(a));
  return QString("%1, %2, at most %3 and %4")
      .arg(QString::fromStdString(report::lap_time(lap.duration())), w.show(lap.length(), Quantity::distance),
           w.show(fastest, Quantity::speed), w.show(hardest, Quantity::acceleration));
}

}  // namespace

MakeLapDialog::MakeLapDialog(Workspace& workspace, QWidget* parent)
    : QDialog(parent),
      w_(workspace),
      name_(new QLineEdit("New track")),
      closed_(new QCheckBox("a circuit, driven again and again")),
      segments_(new QTableWidget(0, segment_columns)),
      sketch_(new TrackSketch(workspace)),
      says_(new QLabel),
      take_(new QPushButton("Add to the project")) {
  setWindowTitle("Make a lap");
  setObjectName("make lap dialog");
  resize(1120, 680);
  track_.name = "New track";
  track_.segments = {{.name = "", .length = 400},
                     {.name = "Corner 1", .length = 188.5, .radius = 60},
                     {.name = "", .length = 400},
                     {.name = "Corner 2", .length = 188.5, .radius = 60}};
  if (const auto* setup = w_.setup()) {
    car_.car.name = setup->name;
    if (setup->engine.power > 0) car_.car.power = 0.85 * setup->engine.power;
    if (setup->engine.consumption > 0) car_.car.consumption = setup->engine.consumption;
    if (setup->engine.idle_flow > 0) car_.car.idle_flow = setup->engine.idle_flow;
    car_.car.fuel_density = fluid::density(solve::fuel_of(*setup));
  }
  auto* left = new QVBoxLayout;
  auto* top = new QHBoxLayout;
  name_->setObjectName("track name");
  name_->setAccessibleName("Track");
  top->addWidget(new QLabel("Track"));
  top->addWidget(name_, 1);
  closed_->setObjectName("closed");
  closed_->setChecked(true);
  top->addWidget(closed_);
  left->addLayout(top);
  segments_->setObjectName("segments");
  segments_->setAccessibleName("Segments of the track");
  segments_->setSelectionBehavior(QAbstractItemView::SelectRows);
  segments_->setSelectionMode(QAbstractItemView::SingleSelection);
  segments_->setTabKeyNavigation(false);
  segments_->horizontalHeader()->setSectionResizeMode(QHeaderView::Stretch);
  segments_->setToolTip("Radius: + left, − right, empty straight. Only corners have names.");
  left->addWidget(segments_, 1);
  auto* rows = new QHBoxLayout;
  auto* add = new QPushButton("Add segment");
  add->setObjectName("add segment");
  auto* remove = new QPushButton("Remove segment");
  remove->setObjectName("remove segment");
  auto* open = new QPushButton("Open a track…");
  for (QPushButton* b : {add, remove, open}) rows->addWidget(b), b->setAutoDefault(false);
  rows->addStretch();
  left->addLayout(rows);
  auto* grid = new QGridLayout;
  const auto field = [&](const char* label, double lap::Car::*figure, Quantity quantity, const char* tip) {
    auto* edit = new QLineEdit;
    edit->setObjectName(label);
    edit->setAccessibleName(label);
    edit->setToolTip(tip);
    edit->setFont(figure_font());
    const int at = static_cast<int>(fields_.size());
    grid->addWidget(new QLabel(label), at / 2, 2 * (at % 2));
    grid->addWidget(edit, at / 2, 2 * (at % 2) + 1);
    fields_.push_back({edit, figure, quantity, label});
    connect(edit, &QLineEdit::editingFinished, this, [this] {
      if (!filling_) read_car();
    });
  };
  field("Mass", &lap::Car::mass, Quantity::mass, "With driver and fuel");
  field("Power at the wheels", &lap::Car::power, Quantity::power, "About 85 % of the engine's");
  field("Grip", &lap::Car::grip, Quantity::plain, "Of the tyres: force over load; 1.1 road, 1.5 slick");
  field("Traction share", &lap::Car::traction_share, Quantity::plain,
        "Of the grip that the driven wheels have");
  field("Brakes", &lap::Car::brake_limit, Quantity::acceleration, "The most that they give");
  field("Drag area, m²", &lap::Car::drag_area, Quantity::plain, "m2: drag coefficient times frontal area");
  field("Downforce area, m²", &lap::Car::downforce_area, Quantity::plain,
        "m2: lift coefficient times area, downward");
  left->addLayout(grid);
  says_->setObjectName("made lap says");
  says_->setWordWrap(true);
  says_->setMinimumHeight(40);
  left->addWidget(says_);
  auto* buttons = new QDialogButtonBox(QDialogButtonBox::Cancel);
  take_->setObjectName("take made lap");
  buttons->addButton(take_, QDialogButtonBox::ActionRole);
  left->addWidget(buttons);
  auto* row = new QHBoxLayout(this);
  auto* panel = new QWidget;
  panel->setLayout(left);
  row->addWidget(panel, 5);
  row->addWidget(sketch_, 6);

  connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
  connect(take_, &QPushButton::clicked, this, [this] {
    if (take()) accept();
  });
  connect(segments_, &QTableWidget::itemChanged, this, [this] {
    if (!filling_) read_table();
  });
  connect(segments_, &QTableWidget::currentCellChanged, this,
          [this] { sketch_->show_track(track_, segments_->currentRow()); });
  connect(sketch_, &TrackSketch::segment_chosen, this,
          [this](int k) { segments_->setCurrentCell(k, of_length); });
  connect(name_, &QLineEdit::textEdited, this,
          [this](const QString& text) { track_.name = text.toStdString(); });
  connect(closed_, &QCheckBox::toggled, this, [this](bool on) {
    track_.closed = on;
    compute();
  });
  connect(add, &QPushButton::clicked, this, [this] {
    const int at =
        segments_->currentRow() >= 0 ? segments_->currentRow() + 1 : static_cast<int>(track_.segments.size());
    track_.segments.insert(track_.segments.begin() + at, lap::Segment{.name = "", .length = 100});
    fill_table();
    segments_->setCurrentCell(at, of_length);
    compute();
  });
  connect(remove, &QPushButton::clicked, this, [this] {
    const int at = segments_->currentRow();
    if (at < 0 || track_.segments.size() < 2) return;
    track_.segments.erase(track_.segments.begin() + at);
    fill_table();
    compute();
  });
  connect(open, &QPushButton::clicked, this, [this] {
    const QString file = QFileDialog::getOpenFileName(this, "Open a track",
                                                      QString::fromStdString(w_.document.folder().string()),
                                                      "Tracks (*.json);;All files (*)");
    if (!file.isEmpty()) open_track(file);
  });
  fill_table();
  fill_car();
  compute();
}

void MakeLapDialog::say(const QString& text) { says_->setText(text); }

void MakeLapDialog::fill_table() {
  filling_ = true;
  const UnitSystem& units = w_.units();
  const auto named = [&](const char* title, Quantity q) {
    const Unit u = shown_unit(q, units);
    return QString("%1 [%2]").arg(title, QString::fromUtf8(u.name.data(), static_cast<int>(u.name.size())));
  };
  segments_->setHorizontalHeaderLabels({"Corner", named("Length", Quantity::distance),
                                        named("Radius", Quantity::distance),
                                        named("Banking", Quantity::angle), "Grade [%]"});
  segments_->setRowCount(static_cast<int>(track_.segments.size()));
  const auto figure = [&](double si, Quantity q) {
    const double value = shown_unit(q, units).from_si(si);
    return si == 0 ? QString() : QString::number(value, 'g', 6);
  };
  for (size_t k = 0; k < track_.segments.size(); ++k) {
    const lap::Segment& s = track_.segments[k];
    const QString cells[] = {QString::fromStdString(s.name), figure(s.length, Quantity::distance),
                             figure(s.radius, Quantity::distance), figure(s.banking, Quantity::angle),
                             s.grade == 0 ? QString() : QString::number(100 * s.grade, 'g', 6)};
    for (int c = 0; c < segment_columns; ++c)
      segments_->setItem(static_cast<int>(k), c, new QTableWidgetItem(cells[c]));
  }
  filling_ = false;
}

void MakeLapDialog::read_table() {
  lap::Track read = track_;
  for (size_t k = 0; k < read.segments.size(); ++k) {
    lap::Segment& s = read.segments[k];
    const auto cell = [&](int c) {
      const auto* item = segments_->item(static_cast<int>(k), c);
      return item ? item->text().trimmed() : QString();
    };
    s.name = cell(of_corner).toStdString();
    const auto number = [&](int c, Quantity q, double low, double high, const char* what, double& into) {
      const QString text = cell(c);
      if (text.isEmpty()) {
        into = 0;
        return true;
      }
      const auto value = parse_quantity(text.toStdString(), q, w_.units());
      if (!value || !(*value >= low && *value <= high)) {
        say(QString("▲ Row %1, %2: expected %3 to %4, found \"%5\"")
                .arg(k + 1)
                .arg(what, w_.show(low, q), w_.show(high, q), text));
        return false;
      }
      into = *value;
      return true;
    };
    double percent = 100 * s.grade;
    if (!number(of_length, Quantity::distance, 0.1, 20000, "length", s.length) ||
        !number(of_radius, Quantity::distance, -20000, 20000, "radius", s.radius) ||
        !number(of_banking, Quantity::angle, -0.52, 0.79, "banking", s.banking) ||
        !number(of_grade, Quantity::plain, -40, 40, "grade", percent)) {
      take_->setEnabled(false);
      return;
    }
    s.grade = percent / 100;
    if (!(s.length > 0) || (s.radius != 0 && std::abs(s.radius) < 3)) {
      say(QString("▲ Row %1: expected a length, and no radius or one of 3 m and more").arg(k + 1));
      take_->setEnabled(false);
      return;
    }
  }
  track_ = std::move(read);
  compute();
}

void MakeLapDialog::fill_car() {
  filling_ = true;
  for (const CarField& f : fields_)
    f.edit->setText(f.quantity == Quantity::plain ? QString::number(car_.car.*f.figure, 'g', 4)
                                                  : w_.show(car_.car.*f.figure, f.quantity));
  filling_ = false;
}

void MakeLapDialog::read_car() {
  for (const CarField& f : fields_) {
    // What was only shown rounded stays as it is.
    const QString shown = f.quantity == Quantity::plain ? QString::number(car_.car.*f.figure, 'g', 4)
                                                        : w_.show(car_.car.*f.figure, f.quantity);
    if (f.edit->text() == shown) continue;
    const auto value = parse_quantity(f.edit->text().toStdString(), f.quantity, w_.units());
    const bool may_be_none = f.figure == &lap::Car::drag_area || f.figure == &lap::Car::downforce_area;
    if (!value || !(*value >= 0) || (!may_be_none && *value <= 0) || *value > 1e7) {
      say(QString("▲ %1: expected a number above 0, found \"%2\"").arg(f.name, f.edit->text()));
      take_->setEnabled(false);
      return;
    }
    car_.car.*f.figure = *value;
  }
  compute();
}

void MakeLapDialog::compute() {
  sketch_->show_track(track_, segments_->currentRow());
  lap_.reset();
  try {
    lap_ = lap::simulate(track_, car_.car);
    QString text = lap_words(w_, *lap_) + ".";
    const lap::TrackPath path = lap::track_path(track_);
    const double off = std::abs(std::abs(path.turned) - 2 * std::numbers::pi);
    if (track_.closed && (path.gap > 0.02 * track_.length() || off > 0.1))
      text += QString(
                  "<br>▲ It ends %1 from its start, having turned %2 (a circuit turns 360°). Fuel and times "
                  "hardly mind; the picture does.")
                  .arg(w_.show(path.gap, Quantity::distance), w_.show(path.turned, Quantity::angle, 0));
    say(text);
  } catch (const std::exception& error) {
    say(QString("▲ ") + QString(error.what()).toHtmlEscaped());
  }
  const bool saved = !w_.document.folder().empty();
  take_->setEnabled(lap_ && saved);
  if (!saved) take_->setToolTip("Save the project first: the lap's file stands beside it.");
}

void MakeLapDialog::open_track(const QString& file) {
  try {
    const std::filesystem::path path = file.toStdString();
    lap::Track track = project::read_track(path).value;
    std::string beside = path.string();
    const std::string ending = ".track.json";
    if (beside.ends_with(ending)) {
      beside.replace(beside.size() - ending.size(), ending.size(), ".car.json");
      if (std::filesystem::exists(beside)) car_ = project::read_car(beside).value;
    }
    track_ = std::move(track);
    name_->setText(QString::fromStdString(track_.name));
    closed_->setChecked(track_.closed);
    fill_table();
    fill_car();
    compute();
  } catch (const std::exception& error) {
    say(QString("▲ ") + QString(error.what()).toHtmlEscaped());
  }
}

bool MakeLapDialog::take() {
  if (!lap_) return false;
  try {
    const auto folder = w_.document.folder();
    const std::string stem = free_stem(folder, track_.name);
    std::filesystem::create_directories(folder / "laps");
    write_file_atomically(folder / "laps" / (stem + ".csv"), lap::write_lap(*lap_));
    write_file_atomically(folder / "laps" / (stem + ".track.json"), project::track_text(track_));
    write_file_atomically(folder / "laps" / (stem + ".car.json"), project::car_text(car_));
    return w_.document.edit("Make a lap", [&](project::Project& p) {
      project::LapReference made = solve::lap_reference(p, *lap_, track_.name, "laps/" + stem + ".csv");
      made.corners = track_.corners();
      made.repeated = track_.closed;
      p.laps.push_back(std::move(made));
    });
  } catch (const std::exception& error) {
    say(QString("▲ Not added. ") + QString(error.what()).toHtmlEscaped());
    return false;
  }
}

ScaleLapDialog::ScaleLapDialog(Workspace& workspace, const std::string& lap_name, lap::Lap lap,
                               QWidget* parent)
    : QDialog(parent),
      w_(workspace),
      name_(lap_name),
      lap_(std::move(lap)),
      grip_(new QLineEdit("100 %")),
      power_(new QLineEdit("100 %")),
      says_(new QLabel),
      take_(new QPushButton("Add to the project")) {
  setWindowTitle("Scale a lap");
  setObjectName("scale lap dialog");
  auto* column = new QVBoxLayout(this);
  auto* about =
      new QLabel(QString("The line of \"%1\", driven with more or less of each. A first answer: where track "
                         "and car are known, make the lap of them.")
                     .arg(QString::fromStdString(lap_name).toHtmlEscaped()));
  about->setWordWrap(true);
  column->addWidget(about);
  auto* form = new QFormLayout;
  grip_->setObjectName("scale grip"), power_->setObjectName("scale power");
  form->addRow("Grip", grip_);
  form->addRow("Power", power_);
  column->addLayout(form);
  says_->setObjectName("scaled lap says");
  says_->setWordWrap(true);
  says_->setMinimumSize(420, 48);
  column->addWidget(says_);
  auto* buttons = new QDialogButtonBox(QDialogButtonBox::Cancel);
  take_->setObjectName("take scaled lap");
  buttons->addButton(take_, QDialogButtonBox::ActionRole);
  column->addWidget(buttons);
  connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
  connect(take_, &QPushButton::clicked, this, [this] {
    if (take()) accept();
  });
  for (QLineEdit* edit : {grip_, power_})
    connect(edit, &QLineEdit::editingFinished, this, &ScaleLapDialog::compute);
  compute();
}

void ScaleLapDialog::compute() {
  scaled_.reset();
  const auto grip = parse_quantity(grip_->text().toStdString(), Quantity::fraction, w_.units()),
             power = parse_quantity(power_->text().toStdString(), Quantity::fraction, w_.units());
  try {
    scaled_ = lap::rescaled(lap_, grip.value_or(-1), power.value_or(-1));
    says_->setText(QString("Now: %1<br>Scaled: %2").arg(lap_words(w_, lap_), lap_words(w_, *scaled_)));
  } catch (const InputError& error) {
    const Message& m = error.messages().front();
    says_->setText(QString("▲ %1: expected %2, found %3")
                       .arg(QString::fromStdString(m.place), QString::fromStdString(m.expected),
                            m.place == "grip" ? grip_->text() : power_->text()));
  }
  take_->setEnabled(scaled_ && !w_.document.folder().empty());
}

bool ScaleLapDialog::take() {
  if (!scaled_) return false;
  try {
    const auto folder = w_.document.folder();
    const std::string title =
        name_ + ", grip " + grip_->text().toStdString() + ", power " + power_->text().toStdString();
    const std::string stem = free_stem(folder, title);
    std::filesystem::create_directories(folder / "laps");
    write_file_atomically(folder / "laps" / (stem + ".csv"), lap::write_lap(*scaled_));
    return w_.document.edit("Scale a lap", [&](project::Project& p) {
      project::LapReference made = solve::lap_reference(p, *scaled_, title, "laps/" + stem + ".csv");
      if (const auto* from = p.find_lap(name_)) made.corners = from->corners, made.repeated = from->repeated;
      p.laps.push_back(std::move(made));
    });
  } catch (const std::exception& error) {
    says_->setText(QString("▲ Not added. ") + QString(error.what()).toHtmlEscaped());
    return false;
  }
}

}  // namespace uadze::gui
