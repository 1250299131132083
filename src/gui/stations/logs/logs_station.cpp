// The Logs station: a log is opened, looked at, found out about, and held against the model. Reading, laps,
// channels and findings have a page each; here they are put together.
#include <QFileDialog>
#include <QFileInfo>
#include <QLabel>
#include <QProgressBar>
#include <QPushButton>
#include <QTabWidget>
#include <QTimer>
#include <QVBoxLayout>
#include <algorithm>

#include "core/report/log_report.h"
#include "gui/stations/logs/channels_page.h"
#include "gui/stations/logs/evidence_view.h"
#include "gui/stations/logs/findings_page.h"
#include "gui/stations/logs/held_page.h"
#include "gui/stations/logs/log_view.h"
#include "gui/stations/logs/logged_laps_page.h"
#include "gui/stations/logs/spectrum_view.h"
#include "gui/stations/station.h"

namespace uadze::gui {
namespace {

class LogsStation : public StationView {
 public:
  explicit LogsStation(Workspace& w)
      : w_(w),
        pages_(new QTabWidget),
        view_(new LogView(w)),
        channels_(new ChannelsPage),
        held_(new HeldPage(w)),
        evidence_(new EvidenceView(w)),
        spectrum_(new SpectrumView(w)),
        side_(new QWidget),
        tabs_(new QTabWidget),
        laps_(new LoggedLapsPage(w)),
        findings_(new FindingsPage(w)),
        fuel_(new FuelPage(w)) {
    pages_->addTab(view_, "Traces");
    pages_->addTab(channels_, "Channels");
    pages_->addTab(held_, "Logged and computed");
    pages_->addTab(evidence_, "Evidence");
    pages_->addTab(spectrum_, "Spectrum");
    auto* column = new QVBoxLayout(side_);
    column->setContentsMargins(10, 8, 10, 8);
    column->addLayout(opening_bar());
    about_ = new QLabel("No log is open.");
    about_->setObjectName("about the log");
    about_->setWordWrap(true);
    column->addWidget(about_);
    tabs_->addTab(laps_, "Laps");
    tabs_->addTab(findings_, "Findings");
    tabs_->addTab(fuel_, "Fuel");
    column->addWidget(tabs_, 1);
    poll_.setInterval(100);
    connect_pages();
    show(OpenedLog{});
  }
  QWidget* picture() override { return pages_; }
  QWidget* side() override { return side_; }
  void shown() override { laps_->refresh(); }
  void open_file(const QString& path) override {
    table_path_.clear();
    read(path);
  }

 private:
  QHBoxLayout* opening_bar() {
    auto* bar = new QHBoxLayout;
    open_ = new QPushButton("Open a log…");
    open_->setObjectName("open log");
    open_->setToolTip("Several at once: the trend over them is shown, each is looked at in its turn");
    bar->addWidget(open_);
    progress_ = new QProgressBar;
    progress_->setTextVisible(false);
    progress_->setMaximumHeight(10);
    progress_->setAccessibleName("Progress of reading the log");
    progress_->hide();
    bar->addWidget(progress_, 1);
    stop_ = new QPushButton("Stop");
    stop_->setObjectName("stop reading log");
    stop_->hide();
    bar->addWidget(stop_);
    table_ = new QPushButton("Its table of signals…");
    table_->setObjectName("open signals");
    table_->setToolTip("The log holds frames of a CAN bus: a JSON file says which bits are what");
    table_->hide();
    bar->addWidget(table_);
    bar->addStretch();
    return bar;
  }

  void connect_pages() {
    QObject::connect(open_, &QPushButton::clicked, view_, [this] { choose_files(); });
    QObject::connect(table_, &QPushButton::clicked, view_, [this] {
      const QString file =
          QFileDialog::getOpenFileName(side_, "Open a table of signals", QFileInfo(path_).path(),
                                       "Tables of signals (*.json);;All files (*)");
      if (file.isEmpty()) return;
      table_path_ = file;
      read(path_);
    });
    QObject::connect(stop_, &QPushButton::clicked, view_, [this] {
      waiting_.clear();
      reading_.cancel();
      done_reading();
    });
    QObject::connect(channels_, &ChannelsPage::remapped, view_,
                     [this](const std::optional<log::Mapping>& mapping) { read(path_, mapping); });
    QObject::connect(channels_, &ChannelsPage::ticks_changed, view_,
                     [this] { view_->show_channels(channels_->ticked()); });
    QObject::connect(held_, &HeldPage::computed, view_,
                     [this](const std::vector<float>& difference) { view_->show_computed(difference); });
    QObject::connect(held_, &HeldPage::looked_at, view_,
                     [this](double begin, double end) { view_->look_at(begin, end); });
    QObject::connect(findings_, &FindingsPage::looked_at, view_, [this](double begin, double end) {
      if (pages_->currentWidget() != view_) pages_->setCurrentWidget(view_);
      view_->look_at(begin, end);
    });
    QObject::connect(findings_, &FindingsPage::cause_chosen, view_, [this](int cause) {
      evidence_->choose(cause);
      pages_->setCurrentWidget(evidence_);
    });
    QObject::connect(laps_, &LoggedLapsPage::how_changed, view_, [this] {
      held_->set_how(laps_->how());
      spectrum_->set_cut_off(laps_->how().cut_off);
    });
    QObject::connect(laps_, &LoggedLapsPage::spectrum_wanted, view_,
                     [this] { pages_->setCurrentWidget(spectrum_); });
    QObject::connect(spectrum_, &SpectrumView::cut_off_changed, view_,
                     [this](double hertz) { laps_->set_cut_off(hertz); });
    QObject::connect(laps_, &LoggedLapsPage::lap_chosen, view_, [this](int lap) { choose_lap(lap, true); });
    QObject::connect(view_, &LogView::lap_chosen, view_, [this](int lap) { choose_lap(lap, false); });
    QObject::connect(&poll_, &QTimer::timeout, view_,
                     [this] { progress_->setValue(static_cast<int>(100 * reading_.fraction())); });
    QObject::connect(&w_, &Workspace::changed, view_, [this] { laps_->refresh(); });
    QObject::connect(&w_, &Workspace::appearance_changed, view_, [this] {
      laps_->show_list();
      findings_->show_lists();
    });
  }

  void choose_files() {
    const QString start =
        path_.isEmpty() ? QString::fromStdString(w_.document.folder().string()) : QFileInfo(path_).path();
    QStringList files = QFileDialog::getOpenFileNames(
        side_, "Open logs", start, "Logs (*.csv *.txt *.log *.tsv *.gz *.asc *.dat);;All files (*)");
    if (files.isEmpty()) return;
    const QString first = files.takeFirst();
    waiting_ = files;
    open_file(first);
  }

  void read(const QString& path, const std::optional<log::Mapping>& mapping = {}) {
    path_ = path;
    about_->setText("Reading " + QFileInfo(path).fileName() + " …");
    progress_->setValue(0);
    progress_->show(), stop_->show();
    poll_.start();
    LogRequest request = log_request(w_, path, table_path_);
    request.mapping = mapping;
    reading_.start(
        view_, [request](Progress& progress) { return open_log(request, progress); },
        [this](OpenedLog opened) {
          done_reading();
          const bool needs_table = opened.needs_table;
          show(std::move(opened));
          table_->setVisible(needs_table);
          if (needs_table)
            about_->setText("▲ " + QFileInfo(path_).fileName() +
                            " holds frames of a CAN bus: open its table of signals.");
          else if (!waiting_.isEmpty())
            open_file(waiting_.takeFirst());
        },
        [this](const QString& why) {
          // What is wrong with one must be seen: the others wait no longer.
          waiting_.clear();
          done_reading();
          about_->setText("▲ " + why);
        });
  }

  void done_reading() {
    poll_.stop();
    progress_->hide(), stop_->hide();
    if (about_->text().startsWith("Reading")) show_about();
  }

  void show_about() {
    if (!opened_.file) {
      about_->setText("No log is open.");
      return;
    }
    const log::Log& log = *opened_.log;
    about_->setText(QString("<b>%1</b>  %2, %3 a second, %4 channels<br>%5")
                        .arg(QFileInfo(path_).fileName().toHtmlEscaped())
                        .arg(QString::fromStdString(report::lap_time(log.duration())))
                        .arg(1 / std::max(log.step(), 1e-9), 0, 'g', 3)
                        .arg(log.channels.size())
                        .arg(QString::fromStdString(report::layout_words(*opened_.file)).toHtmlEscaped()));
  }

  void show(OpenedLog opened) {
    view_->show_log(nullptr, nullptr);
    opened_ = std::move(opened);
    if (opened_.file) {
      // Each log once; in the order of their clocks, of their opening where those say no date.
      std::erase_if(wear_, [&](const diagnosis::Wear& w) { return w.log == opened_.wear.log; });
      wear_.push_back(opened_.wear);
      if (std::all_of(wear_.begin(), wear_.end(), [](const diagnosis::Wear& w) { return w.begin > 1e8; }))
        std::stable_sort(wear_.begin(), wear_.end(), [](const diagnosis::Wear& a, const diagnosis::Wear& b) {
          return a.begin < b.begin;
        });
    }
    show_about();
    channels_->show_log(opened_.file);
    view_->show_log(opened_.log, opened_.laps);
    view_->show_channels(channels_->ticked());
    if (opened_.found) view_->show_difference(opened_.found->difference);
    std::vector<LogMark> marks;
    if (opened_.found)
      for (const auto& e : opened_.found->events) marks.push_back({e.begin, e.end, name_of(e.sign)});
    view_->mark(std::move(marks));
    const QString file = QFileInfo(path_).fileName();
    laps_->show_log(opened_, file);
    findings_->show_log(opened_, wear_);
    evidence_->show_diagnosis(opened_.said);
    spectrum_->show_log(opened_.log, opened_.laps);
    tabs_->setTabText(tabs_->indexOf(findings_), opened_.doubts.empty() ? "Findings" : "Findings ▲");
    if (opened_.laps) {
      if (const auto best = opened_.laps->best())
        choose_lap(opened_.laps->all[*best].number, false);
      else if (!opened_.laps->all.empty())
        choose_lap(opened_.laps->all.front().number, false);
    }
    const SharedLog shared{file, opened_.log, opened_.laps, opened_.found};
    fuel_->show_log(shared);
    held_->set_how(laps_->how());
    held_->show_log(shared);
  }

  void choose_lap(int number, bool look) {
    view_->choose_lap(number);
    laps_->choose(number);
    spectrum_->choose_lap(number);
    if (!look || !opened_.laps) return;
    for (const log::LoggedLap& lap : opened_.laps->all)
      if (lap.number == number)
        view_->look_at(lap.begin - 0.03 * lap.duration(), lap.end + 0.03 * lap.duration());
  }

  Workspace& w_;
  QTabWidget* pages_;
  LogView* view_;
  ChannelsPage* channels_;
  HeldPage* held_;
  EvidenceView* evidence_;
  SpectrumView* spectrum_;
  QWidget* side_;
  QTabWidget* tabs_;
  LoggedLapsPage* laps_;
  FindingsPage* findings_;
  FuelPage* fuel_;
  QPushButton *open_, *table_, *stop_;
  QProgressBar* progress_;
  QLabel* about_;
  QTimer poll_;
  QString path_, table_path_;
  QStringList waiting_;  ///< files still to be opened
  OpenedLog opened_;
  std::vector<diagnosis::Wear> wear_;  ///< of the logs opened in this sitting
  Background<OpenedLog> reading_;
};

}  // namespace

std::unique_ptr<StationView> make_logs_station(Workspace& workspace) {
  return std::make_unique<LogsStation>(workspace);
}

}  // namespace uadze::gui
