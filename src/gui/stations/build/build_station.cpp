// The Build station: the order of work with what each step needs, the lists that are cut, wired and bought
// from, and what of the build can not stay so.
#include <QDate>
#include <QFileDialog>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QScrollArea>
#include <QSettings>
#include <QTabWidget>
#include <QVBoxLayout>

#include "core/base/counted.h"
#include "core/base/files.h"
#include "core/build/own_steps.h"
#include "core/solve/circuit_point.h"
#include "gui/stations/build/hose_picture.h"
#include "gui/stations/build/own_way.h"
#include "gui/stations/station.h"
#include "gui/widgets/edit_table.h"
#include "gui/widgets/entry.h"
#include "gui/widgets/print.h"
#include "gui/widgets/table_page.h"

namespace uadze::gui {
namespace {

constexpr int have_column = 4, ordered_column = 5;  // of report::order_table

class BuildStation : public StationView {
 public:
  explicit BuildStation(Workspace& w)
      : w_(w),
        picture_(new QWidget),
        tabs_(new QTabWidget),
        steps_table_(new TablePage("steps of the build")),
        order_(new TablePage("order list")),
        cuts_(new TablePage("cutting list")),
        joints_(new TablePage("joints")),
        ports_(new TablePage("ports")),
        wires_(new TablePage("wires")),
        labels_(new TablePage("labels")),
        hose_(new HosePicture(w)),
        summary_(entry_words("progress of the build")),
        side_(new QWidget),
        step_(entry_words("step of the build")),
        found_(entry_words("findings of the build")),
        by_(new QLineEdit),
        done_(new QPushButton("Done")) {
    auto* column = new QVBoxLayout(picture_);
    column->setContentsMargins(0, 0, 0, 0);
    auto* first = new QWidget;
    auto* inner = new QVBoxLayout(first);
    inner->addWidget(summary_);
    inner->addWidget(steps_table_, 1);
    tabs_->setDocumentMode(true);
    tabs_->addTab(first, "Order of work");
    tabs_->addTab(order_, "Order list");
    auto* cutting = new QWidget;
    auto* below = new QVBoxLayout(cutting);
    below->setContentsMargins(0, 0, 0, 0);
    below->addWidget(cuts_, 1);
    below->addWidget(hose_);
    tabs_->addTab(cutting, "Cutting list");
    tabs_->addTab(joints_, "Joints");
    tabs_->addTab(ports_, "Ports");
    tabs_->addTab(wires_, "Wires");
    tabs_->addTab(labels_, "Labels");
    tabs_->addTab(make_own_way(w), "Your own way");
    column->addWidget(tabs_, 1);
    auto* bar = new QHBoxLayout;
    bar->setContentsMargins(8, 0, 8, 6);
    save_ = new QPushButton("Save list…");
    save_->setObjectName("save build list");
    auto* hint = new QLabel(
        "Ctrl+C copies a list for a spreadsheet; what is in stock and ordered is typed or pasted.");
    hint->setWordWrap(true);
    bar->addWidget(hint, 1);
    day_->setObjectName("hours a day");
    day_->setAccessibleName("Hours of work in a day, for the printed order of work");
    day_->setToolTip(day_->accessibleName());
    day_->setRange(1, 24), day_->setValue(QSettings().value("build/day", 8).toInt());
    day_->setSuffix(" h a day");
    QObject::connect(day_, &QSpinBox::valueChanged, picture_,
                     [](int hours) { QSettings().setValue("build/day", hours); });
    bar->addWidget(day_);
    bar->addWidget(save_);
    column->addLayout(bar);

    auto* right = new QVBoxLayout(side_);
    right->setContentsMargins(10, 8, 10, 8);
    right->addWidget(entry_scroll(step_), 3);
    auto* sign = new QHBoxLayout;
    by_->setObjectName("done by");
    by_->setAccessibleName("Done by");
    by_->setPlaceholderText("Who did it");
    by_->setText(QSettings().value("build/by").toString());
    by_->setMinimumHeight(36);
    done_->setObjectName("step done");
    done_->setMinimumHeight(36);
    torque_ = new QLineEdit;
    torque_->setObjectName("torque");
    torque_->setAccessibleName("Torque that was reached");
    torque_->setPlaceholderText("Torque");
    torque_->setMinimumHeight(36);
    photo_ = new QPushButton("Photo…");
    photo_->setObjectName("step photo");
    photo_->setMinimumHeight(36);
    QObject::connect(photo_, &QPushButton::clicked, picture_, [this] { add_photo(); });
    sign->addWidget(by_, 2);
    sign->addWidget(torque_, 1);
    right->addLayout(sign);
    auto* sign_below = new QHBoxLayout;
    sign_below->addWidget(photo_, 1);
    sign_below->addWidget(done_, 2);
    right->addLayout(sign_below);
    right->addWidget(new QLabel("<b>What can not stay so</b>"));
    right->addWidget(entry_scroll(found_), 2);

    steps_table_->setSelectionBehavior(QAbstractItemView::SelectRows);
    cuts_->setSelectionBehavior(QAbstractItemView::SelectRows);
    QObject::connect(cuts_, &QTableWidget::currentCellChanged, picture_, [this] { show_hose(); });
    steps_table_->verticalHeader()->setDefaultSectionSize(30);
    QObject::connect(steps_table_, &QTableWidget::currentCellChanged, picture_,
                     [this](int row, int, int, int) {
                       if (row >= 0 && row != chosen_) chosen_ = row, show_step();
                     });
    QObject::connect(done_, &QPushButton::clicked, picture_, [this] { toggle_done(); });
    QObject::connect(by_, &QLineEdit::editingFinished, picture_,
                     [this] { QSettings().setValue("build/by", by_->text().trimmed()); });
    QObject::connect(order_, &TablePage::typed, picture_,
                     [this](const QList<std::tuple<int, int, QString>>& cells) { stock(cells); });
    QObject::connect(save_, &QPushButton::clicked, picture_, [this] { save(); });
    const auto when_seen = [this] {
      if (picture_->isVisible()) refresh();
    };
    QObject::connect(&w, &Workspace::changed, picture_, when_seen);
    QObject::connect(&w, &Workspace::appearance_changed, picture_, when_seen);
  }
  QWidget* picture() override { return picture_; }
  QWidget* side() override { return side_; }
  void shown() override { refresh(); }

 private:
  std::string setup_name() const { return w_.setup() ? w_.setup()->name : std::string(); }

  void refresh() {
    const auto catalogue = w_.runs.catalogue();
    const auto* setup = w_.setup();
    circuit_.reset();
    steps_.clear(), items_.clear();
    if (setup && setup->circuit && catalogue) circuit_ = solve::circuit_case(*setup, catalogue);
    tabs_->setEnabled(circuit_.has_value());
    save_->setEnabled(circuit_.has_value());
    if (!circuit_) {
      for (TablePage* t : {steps_table_, order_, cuts_, joints_, ports_, wires_, labels_}) t->show_table({});
      summary_->setText(
          setup ? "This setup has no circuit yet: draw it at the Circuit station, and its lists and "
                  "its order of work stand here."
                : "No setup is chosen.");
      step_->clear(), found_->clear();
      done_->setEnabled(false);
      return;
    }
    const circuit::Case& c = *circuit_;
    auto order = build::work_order(c, setup_name(),
                                   {w_.project().own_steps, w_.project().step_changes, w_.project().scheme});
    steps_ = std::move(order.steps);
    items_ = build::order_list(c, steps_, w_.project().stock);
    chosen_ = std::clamp(chosen_, 0, static_cast<int>(steps_.size()) - 1);
    order_->show_table(report::order_table(items_, steps_, w_.units()), {have_column, ordered_column});
    cuts_->show_table(report::cutting_table(c, w_.units()));
    if (cuts_->currentRow() < 0 && cuts_->rowCount() > 0) cuts_->setCurrentCell(0, 0);
    show_hose();
    joints_->show_table(report::joints_table(c));
    ports_->show_table(report::ports_table(c));
    labels_->show_table(report::labels_table(c, w_.project().scheme));
    wires_->show_table(report::wires_table(c, w_.project().scheme, w_.units()));
    show_steps();
    QStringList lines;
    for (const Phrase& p : order.refused) lines << "▲ " + QString::fromStdString(p.in(w_.units()));
    for (const circuit::Finding& f : build::check(c, setup->keep_outs))
      lines << QString(f.severity == Severity::error     ? "■ "
                       : f.severity == Severity::warning ? "▲ "
                                                         : "· ") +
                   QString::fromStdString(f.text.in(w_.units()));
    found_->setText(lines.isEmpty() ? "Nothing was found." : lines.join("\n\n"));
  }

  void show_hose() {
    std::optional<build::HoseCut> hose;
    if (circuit_) {
      const auto all = build::cutting_list(*circuit_);
      const int row = cuts_->currentRow();
      if (row >= 0 && row < static_cast<int>(all.size())) hose = all[static_cast<size_t>(row)];
    }
    hose_->show_hose(std::move(hose));
  }

  void show_steps() {
    const auto& kept = w_.project().done;
    const std::vector<char> flags = build::done_flags(steps_, setup_name(), kept);
    const auto ready = build::can_start(steps_, items_, flags);
    report::Table table{{"", "step", "takes", "state", "waits for"}, {}};
    int done = 0;
    for (size_t k = 0; k < steps_.size(); ++k) {
      const build::StepState state = build::state_of(steps_[k], setup_name(), kept);
      done += state == build::StepState::done;
      const bool now = std::find(ready.begin(), ready.end(), static_cast<int>(k)) != ready.end();
      std::string waits;
      const auto add = [&](const std::string& what) { waits += (waits.empty() ? "" : ", ") + what; };
      if (state != build::StepState::done) {
        std::string before;
        int count = 0;
        for (int a : steps_[k].after)
          if (!flags[static_cast<size_t>(a)]) before += (count++ ? ", " : "") + std::to_string(a + 1);
        if (count > 0) add((count == 1 ? "step " : "steps ") + before);
        int lacking = 0;
        for (const build::Need& n : steps_[k].needs)
          for (const build::OrderItem& i : items_)
            lacking += i.what == n.what && i.size == n.size && i.have < n.count - 1e-9;
        if (lacking > 0) add(counted(lacking, "part"));
      }
      table.rows.push_back({std::to_string(k + 1), steps_[k].title, report::work_time(steps_[k].minutes),
                            state == build::StepState::done    ? "✓ done"
                            : state == build::StepState::again ? "▲ to be done again"
                            : now                              ? "→ can be started"
                                                               : "open",
                            waits});
    }
    steps_table_->show_table(std::move(table));
    steps_table_->setCurrentCell(chosen_, 1);
    summary_->setText(
        QString("%1 of %2 steps done. %3 can be started with what is in stock. The longest "
                "chain to the first start "
                "takes %4 of work.")
            .arg(done)
            .arg(steps_.size())
            .arg(ready.size())
            .arg(QString::fromStdString(report::work_time(build::longest_chain(steps_, flags)))));
    show_step();
  }

  void show_step() {
    if (steps_.empty()) return;
    const build::Step& s = steps_[static_cast<size_t>(chosen_)];
    const auto text = [](const std::string& t) { return QString::fromStdString(t).toHtmlEscaped(); };
    QString out = QString("<b>%1  %2</b>").arg(chosen_ + 1).arg(text(s.title));
    for (const std::string& c : s.cautions) out += "<p style='margin:4px 0'>▲ " + text(c) + "</p>";
    for (const Phrase& h : s.how) out += "<p style='margin:4px 0'>☐ " + text(h.in(w_.units())) + "</p>";
    if (!s.needs.empty()) {
      QStringList needs;
      for (const build::Need& n : s.needs)
        needs << text(report::amount(n.count, n.metres, w_.units()) + " × " + n.what +
                      (n.size.empty() ? "" : ", " + n.size));
      out += "<p><b>Needs</b><br>" + needs.join("<br>") + "</p>";
    }
    if (!s.tools.empty()) {
      QStringList tools;
      for (const std::string& t : s.tools) tools << text(t);
      out += "<p><b>Tools</b><br>" + tools.join(", ") + "</p>";
    }
    const build::Done* last = nullptr;
    for (const build::Done& d : w_.project().done)
      if (d.setup == setup_name() && d.step == s.title) last = &d;
    const build::StepState state = build::state_of(s, setup_name(), w_.project().done);
    if (last)
      out +=
          QString("<p>%1 by %2, %3%5%4</p>")
              .arg(state == build::StepState::done ? "✓ Done" : "▲ Was done", text(last->by), text(last->on),
                   state == build::StepState::again ? "; the circuit has changed since: do it again" : "",
                   last->torque.empty() ? QString() : ", " + text(last->torque));
    step_->setText(out);
    done_->setEnabled(true);
    done_->setText(state == build::StepState::done ? "Not done" : "Done");
  }

  void add_photo() {
    const QString file = QFileDialog::getOpenFileName(side_, "A photo of this step", {},
                                                      "Pictures (*.jpg *.jpeg *.png *.webp)");
    if (file.isEmpty()) return;
    if (const auto kept = w_.book.keep(file)) {
      photos_.push_back(*kept);
      photo_->setText(QString("%1 photo(s)").arg(photos_.size()));
    }
  }

  /// What is proof and no draft goes into the book: a photo, a torque.
  void into_book(const build::Step& step, const std::string& by, const std::string& torque) {
    if (photos_.empty() && torque.empty()) return;
    logbook::Record r{.kind = logbook::Kind::part, .setup = setup_name(), .subject = step.title, .by = by};
    r.content = build::content_of(step), r.torque = torque, r.photos = photos_;
    if (!w_.book.write(r)) return;
    photos_.clear();
    photo_->setText("Photo…");
  }

  void toggle_done() {
    const build::Step step = steps_[static_cast<size_t>(chosen_)];
    const std::string setup = setup_name();
    const bool was = build::state_of(step, setup, w_.project().done) == build::StepState::done;
    const std::string by = by_->text().trimmed().toStdString();
    const std::string torque = torque_->text().trimmed().toStdString();
    if (!was && by.empty()) {
      by_->setFocus();
      by_->setPlaceholderText("▲ A name stands at what was done");
      return;
    }
    const auto edit = [&](project::Project& p) {
      std::erase_if(p.done, [&](const build::Done& d) { return d.setup == setup && d.step == step.title; });
      if (!was)
        p.done.push_back({setup, step.title, by, QDate::currentDate().toString(Qt::ISODate).toStdString(),
                          build::content_of(step), torque});
    };
    if (!was) into_book(step, by, torque), torque_->clear();
    w_.document.edit(QString(was ? "Not done: %1" : "Done: %1").arg(QString::fromStdString(step.title)),
                     edit);
  }

  void stock(const QList<std::tuple<int, int, QString>>& cells) {
    struct Change {
      std::string what, size;
      bool have = false;
      double value = 0;
    };
    std::vector<Change> changes;
    QString fault;
    for (const auto& [row, column, typed] : cells) {
      if (row < 0 || row >= static_cast<int>(items_.size())) continue;
      const build::OrderItem& item = items_[static_cast<size_t>(row)];
      try {
        const double value =
            typed.isEmpty()
                ? 0.0
                : typed_quantity(typed, item.metres ? Quantity::length : Quantity::plain, w_.units());
        if (value < 0) throw std::runtime_error("expected 0 or more");
        changes.push_back({item.what, item.size, column == have_column, value});
      } catch (const std::exception& error) {
        fault = QString("%1: %2").arg(QString::fromStdString(item.what), error.what());
      }
    }
    if (!fault.isEmpty()) {
      // All of it or nothing.
      emit w_.document.refused(fault);
      refresh();
      return;
    }
    const bool done = w_.document.edit("Stock", [&](project::Project& p) {
      for (const Change& c : changes) {
        auto at = std::find_if(p.stock.begin(), p.stock.end(),
                               [&](const build::Stock& s) { return s.what == c.what && s.size == c.size; });
        if (at == p.stock.end()) at = p.stock.insert(p.stock.end(), {c.what, c.size, 0, 0});
        (c.have ? at->have : at->ordered) = c.value;
        if (at->have == 0 && at->ordered == 0) p.stock.erase(at);
      }
    });
    if (!done) refresh();
  }

  const TablePage* list_in_sight() const {
    const QWidget* page = tabs_->currentWidget();
    if (page == tabs_->widget(0)) return nullptr;
    const auto* table = qobject_cast<const TablePage*>(page);
    return table ? table : page->findChild<TablePage*>();
  }

  void save() {
    if (!circuit_) return;
    const TablePage* page = list_in_sight();
    const QString name = page ? page->objectName() : QString("order of work");
    const QString start =
        QString::fromStdString(w_.document.folder().string()) + "/" + name + (page ? ".csv" : ".pdf");
    const QString file =
        QFileDialog::getSaveFileName(side_, "Save", start, page ? "CSV (*.csv);;PDF (*.pdf)" : "PDF (*.pdf)");
    if (file.isEmpty()) return;
    try {
      write(file, page, name);
    } catch (const std::exception& error) {
      emit w_.document.refused(error.what());
    }
  }

  void write(const QString& file, const TablePage* page, const QString& name) {
    if (page && !file.endsWith(".pdf", Qt::CaseInsensitive)) {
      write_file_atomically(file.toStdString(), report::csv_of(page->shown()));
      return;
    }
    const QString title = QString::fromStdString(w_.project().name + ", " + setup_name()) + ": " + name;
    const auto flags = build::done_flags(steps_, setup_name(), w_.project().done);
    write_pdf(file, title,
              page ? html_of(page->shown()) : html_of(steps_, flags, 60.0 * day_->value(), w_.units()));
  }

  Workspace& w_;
  QWidget* picture_;
  QTabWidget* tabs_;
  TablePage *steps_table_, *order_, *cuts_, *joints_, *ports_, *wires_, *labels_;
  HosePicture* hose_;
  QLabel* summary_;
  QWidget* side_;
  QLabel *step_, *found_;
  QLineEdit* by_;
  QLineEdit* torque_ = nullptr;
  QSpinBox* day_ = new QSpinBox;
  QPushButton *done_, *save_, *photo_ = nullptr;
  std::vector<logbook::Photo> photos_;  // of the step that is being signed
  std::optional<circuit::Case> circuit_;
  std::vector<build::Step> steps_;
  std::vector<build::OrderItem> items_;
  int chosen_ = 0;
};

}  // namespace

std::unique_ptr<StationView> make_build_station(Workspace& workspace) {
  return std::make_unique<BuildStation>(workspace);
}

}  // namespace uadze::gui
