// The Logbook station: the gates of commissioning, what is due, and the book itself; each with its form.
#include <QFileDialog>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QStackedWidget>
#include <QTabWidget>
#include <QVBoxLayout>

#include "core/base/files.h"
#include "core/report/book_report.h"
#include "gui/stations/logbook/due_form.h"
#include "gui/stations/logbook/gate_form.h"
#include "gui/stations/logbook/record_form.h"
#include "gui/stations/station.h"
#include "gui/widgets/print.h"
#include "gui/widgets/table_page.h"

namespace uadze::gui {
namespace {

const char* sign_of(logbook::GateState state) {
  switch (state) {
    case logbook::GateState::passed:
      return "✓ ";
    case logbook::GateState::failed:
      return "■ ";
    case logbook::GateState::running:
      return "… ";
    case logbook::GateState::waiting:
      return "→ ";
    case logbook::GateState::again:
    case logbook::GateState::overdue:
      return "▲ ";
    case logbook::GateState::open:
      break;
  }
  return "☐ ";
}

QWidget* page_of(std::initializer_list<QWidget*> widgets, QLayout* bar = nullptr) {
  auto* out = new QWidget;
  auto* column = new QVBoxLayout(out);
  for (QWidget* w : widgets) column->addWidget(w, qobject_cast<QTableWidget*>(w) ? 1 : 0);
  if (bar) column->addLayout(bar);
  return out;
}

class LogbookStation : public StationView {
 public:
  explicit LogbookStation(Workspace& w)
      : w_(w),
        tabs_(new QTabWidget),
        ready_(entry_words("readiness")),
        gates_(new TablePage("gates")),
        due_words_(entry_words("due before the sessions")),
        due_(new TablePage("due list")),
        words_(entry_field("search the book", "Search: words by their beginning")),
        found_(entry_words("found in the book")),
        records_(new TablePage("records")),
        forms_(new QStackedWidget),
        gate_form_(new GateForm(w)),
        due_form_(new DueForm(w)),
        record_form_(new RecordForm(w)) {
    tabs_->setDocumentMode(true);
    tabs_->addTab(
        page_of({ready_, gates_}, bar({{"Hand-over file…", "save handover", [this] { save_handover(); }}})),
        "Gates");
    tabs_->addTab(
        page_of({due_words_, due_}, bar({{"Save calendar…", "save calendar", [this] { save_calendar(); }}})),
        "Due");
    tabs_->addTab(
        page_of({words_, found_, records_},
                bar({{"Save what is shown…", "save records", [this] { save_records(); }},
                     {"Prove the chain", "verify book", [this] { verify(); }},
                     {"Save aside what can be read", "rescue book", [this] { w_.book.rescue(); }}})),
        "Book");
    rescue_ = tabs_->findChild<QPushButton*>("rescue book");
    for (QWidget* f : std::initializer_list<QWidget*>{gate_form_, due_form_, record_form_})
      forms_->addWidget(f);
    for (TablePage* t : {gates_, due_, records_}) {
      t->setSelectionBehavior(QAbstractItemView::SelectRows);
      t->verticalHeader()->setDefaultSectionSize(32);
    }
    // What a test read takes two lines; fourteen gates fill the page at 800 lines.
    gates_->setWordWrap(true);
    gates_->verticalHeader()->setDefaultSectionSize(33);
    QObject::connect(tabs_, &QTabWidget::currentChanged, forms_, &QStackedWidget::setCurrentIndex);
    QObject::connect(gates_, &QTableWidget::currentCellChanged, forms_, [this](int row, int, int, int) {
      const auto* in = w_.book.garage();
      if (!filling_ && in && row >= 0 && row < static_cast<int>(in->gates.size()))
        gate_form_->choose(in->gates[static_cast<size_t>(row)].gate.id);
    });
    QObject::connect(due_, &QTableWidget::currentCellChanged, forms_, [this] { show_due(); });
    QObject::connect(records_, &QTableWidget::currentCellChanged, forms_, [this] { show_record(); });
    QObject::connect(words_, &QLineEdit::textChanged, forms_, [this] { show_records(); });
    const auto when_seen = [this] {
      if (tabs_->isVisible()) refresh();
    };
    QObject::connect(&w, &Workspace::changed, tabs_, when_seen);
    QObject::connect(&w, &Workspace::appearance_changed, tabs_, when_seen);
  }
  QWidget* picture() override { return tabs_; }
  QWidget* side() override { return forms_; }
  void shown() override { refresh(); }

 private:
  struct Button {
    QString text, name;
    std::function<void()> then;
  };
  QHBoxLayout* bar(std::vector<Button> buttons) {
    auto* out = new QHBoxLayout;
    out->addStretch(1);
    for (auto& b : buttons) {
      auto* made = entry_button(b.text, b.name);
      QObject::connect(made, &QPushButton::clicked, tabs_, b.then);
      out->addWidget(made);
    }
    return out;
  }
  QString setup_name() const { return w_.setup() ? QString::fromStdString(w_.setup()->name) : QString(); }

  void refresh() {
    filling_ = true;
    rescue_->setVisible(w_.book.broken());
    show_gates();
    show_due_list();
    filling_ = false;
    show_records();
    gate_form_->refresh();
  }

  void show_gates() {
    const auto* in = w_.book.garage();
    const QString why = w_.book.trouble();
    if (!in) {
      gates_->show_table({});
      ready_->setText(
          !why.isEmpty() ? "▲ " + why
          : !w_.setup()  ? QString("No setup is chosen.")
          : !w_.setup()->circuit
              ? QString("This setup has no circuit yet: draw it at the Circuit station, and what it must "
                        "pass stands here.")
              : QString("Computing what each gate should read…"));
      return;
    }
    report::Table table{{"gate", "state", "last", "by", "due again", "says"}, {}};
    const report::Table all = report::gates_table(in->gates, w_.book.at(), w_.units());
    const auto day = [](const std::string& at) {
      return at.substr(0, at.find(' '));
    };  // the hour is in the book
    for (size_t k = 0; k < all.rows.size(); ++k) {
      const auto& r = all.rows[k];
      table.rows.push_back({r[1], sign_of(in->gates[k].state) + r[2], day(r[3]), r[4], r[5], r[6]});
    }
    // First looked at: the first that is not passed.
    int row = gates_->currentRow();
    if (row < 0) {
      const auto open = std::find_if(in->gates.begin(), in->gates.end(),
                                     [](const auto& g) { return g.state != logbook::GateState::passed; });
      row = open == in->gates.end() ? 0 : static_cast<int>(open - in->gates.begin());
    }
    gates_->show_table(std::move(table));
    gates_->setCurrentCell(std::min(row, gates_->rowCount() - 1), 0);
    gate_form_->choose(in->gates[static_cast<size_t>(std::max(gates_->currentRow(), 0))].gate.id);
    QString text = in->readiness.ready ? QString(
                                             "<b>✓ %1 is ready</b>: every gate is passed, nothing is "
                                             "overdue. The series' scrutineers and "
                                             "licensed practice stand above.")
                                             .arg(setup_name().toHtmlEscaped())
                                       : QString("<b>▲ %1 is not ready</b>: %2 open.")
                                             .arg(setup_name().toHtmlEscaped())
                                             .arg(in->readiness.open.size());
    if (!why.isEmpty())
      text += "<br>▲ " + why.toHtmlEscaped();
    else if (!w_.book.no_writing().isEmpty())
      text += "<br>" + w_.book.no_writing().toHtmlEscaped();
    ready_->setText(text);
  }

  void show_due_list() {
    const auto* in = w_.book.garage();
    due_->show_table(in ? due_rows(in->due) : report::Table{});
    if (!in) {
      due_words_->clear();
      return show_due();
    }
    if (due_->currentRow() < 0 && due_->rowCount() > 0) due_->setCurrentCell(0, 0);
    const QStringList over = w_.book.overdue_before_sessions();
    due_words_->setText(over.isEmpty() ? "Nothing more will be overdue before the planned sessions are over."
                                       : "▲ " + over.mid(0, 3).join("<br>▲ "));
    show_due();
  }

  /// Without what the form beside says at length.
  static report::Table due_rows(const std::vector<logbook::Due>& due) {
    report::Table out{{"part", "state", "by day", "ran", "task"}, {}};
    for (const auto& d : due) {
      const char* sign = d.state == logbook::DueState::overdue     ? "■ "
                         : d.state == logbook::DueState::soon      ? "▲ "
                         : d.state == logbook::DueState::not_known ? "? "
                                                                   : "✓ ";
      out.rows.push_back({d.what, std::string(sign) + name_of(d.state), d.day,
                          d.since && d.hours > 0
                              ? report::running_hours(d.used) + " of " + report::running_hours(d.hours)
                              : "",
                          d.task});
    }
    return out;
  }
  report::Table record_rows() const {
    report::Table out{{"record", "when", "what", "by", "says"}, {}};
    const std::string here = setup_name().toStdString();
    for (const logbook::Record& r : shown_)
      out.rows.push_back({std::to_string(r.number), shown_time(r.at),
                          std::string(name_of(r.kind)) + (r.subject.empty() ? "" : ": " + r.subject),
                          r.second.empty() ? r.by : r.by + " + " + r.second,
                          (r.setup == here || r.setup.empty() ? "" : "[" + r.setup + "] ") +
                              (r.amends ? "in place of " + std::to_string(r.amends) + ": " : "") +
                              report::summary(r, w_.units())});
    return out;
  }

  void show_due() {
    const auto* in = w_.book.garage();
    const int row = due_->currentRow();
    due_form_->choose(in && row >= 0 && row < static_cast<int>(in->due.size())
                          ? std::optional(in->due[static_cast<size_t>(row)])
                          : std::nullopt);
  }

  void show_records() {
    // What was just written is looked at; else what was before.
    const auto& all = w_.book.records();
    const std::int64_t was = all.size() == known_ ? record_at(records_->currentRow()) : 0;
    known_ = all.size();
    shown_.clear();
    if (words_->text().trimmed().isEmpty()) {
      for (auto r = all.rbegin(); r != all.rend(); ++r) shown_.push_back(*r);
    } else {
      for (const auto n : w_.book.search(words_->text()))
        if (n >= 1 && n <= static_cast<std::int64_t>(all.size()))
          shown_.push_back(all[static_cast<size_t>(n - 1)]);
    }
    const size_t found = shown_.size();
    // A page that can be read; the search finds the rest.
    constexpr size_t most = 400;
    if (shown_.size() > most) shown_.resize(most);
    records_->show_table(record_rows());
    found_->setText(w_.book.trouble().isEmpty()
                        ? QString("%1 of %2 records%3")
                              .arg(found)
                              .arg(all.size())
                              .arg(found > most ? QString(", the latest %1 are shown").arg(most) : QString())
                        : "▲ " + w_.book.trouble());
    int row = 0;
    for (size_t k = 0; k < shown_.size(); ++k)
      if (shown_[k].number == was) row = static_cast<int>(k);
    if (!shown_.empty()) records_->setCurrentCell(row, 0);
    show_record();
  }
  std::int64_t record_at(int row) const {
    return row >= 0 && row < static_cast<int>(shown_.size()) ? shown_[static_cast<size_t>(row)].number : 0;
  }
  void show_record() {
    const std::int64_t n = record_at(records_->currentRow());
    const auto& all = w_.book.records();
    // An amendment is shown with the record that it is of.
    record_form_->choose(n > 0 && n <= static_cast<std::int64_t>(all.size()) &&
                                 all[static_cast<size_t>(n - 1)].amends
                             ? all[static_cast<size_t>(n - 1)].amends
                             : n);
  }

  void save(const QString& title, const QString& name, const QString& kinds,
            const std::function<void(const QString&)>& write) {
    const QString file = QFileDialog::getSaveFileName(
        tabs_, title, QString::fromStdString(w_.document.folder().string()) + "/" + name, kinds);
    if (file.isEmpty()) return;
    try {
      write(file);
    } catch (const std::exception& error) {
      emit w_.document.refused(error.what());
    }
  }

  void save_handover() {
    const auto* in = w_.book.garage();
    if (!in || !w_.setup()) return;
    save("Save the hand-over file", "hand-over.pdf", "PDF (*.pdf);;Text (*.txt)", [&](const QString& file) {
      const std::string text = report::handover_text(w_.setup()->name, *in, w_.book.records(), w_.units());
      if (file.endsWith(".txt", Qt::CaseInsensitive))
        write_file_atomically(file.toStdString(), text);
      else
        write_pdf(
            file, "Hand-over of " + setup_name(),
            "<pre style='white-space: pre-wrap'>" + QString::fromStdString(text).toHtmlEscaped() + "</pre>");
    });
  }
  void save_calendar() {
    const auto* in = w_.book.garage();
    if (!in) return;
    save("Save what is due as a calendar", "due.ics", "iCalendar (*.ics)", [&](const QString& file) {
      write_file_atomically(file.toStdString(),
                            logbook::calendar(setup_name().toStdString(), in->due, w_.book.at()));
    });
  }
  void save_records() {
    save("Save the records that are shown", "records.csv", "CSV (*.csv);;JSON (*.json);;PDF (*.pdf)",
         [&](const QString& file) {
           std::vector<logbook::Record> in_order(shown_.rbegin(), shown_.rend());
           if (file.endsWith(".json", Qt::CaseInsensitive)) {
             write_file_atomically(file.toStdString(), report::records_json(in_order));
           } else if (file.endsWith(".pdf", Qt::CaseInsensitive)) {
             write_pdf(file, "Book of " + QString::fromStdString(w_.project().name),
                       html_of(report::records_table(in_order, w_.units())));
           } else {
             write_file_atomically(file.toStdString(), report::records_csv(in_order));
           }
         });
  }
  void verify() {
    try {
      const auto book = logbook::Book::open(w_.book.file(), {.make = false, .read_only = true});
      const logbook::Proof proof = book.verify();
      QString text = proof.sound() ? QString("✓ %1 records, each as it was written; last hash %2…")
                                         .arg(proof.records)
                                         .arg(QString::fromStdString(proof.last_hash.substr(0, 12)))
                                   : "■ " + QString::fromStdString(proof.faults.front());
      if (!proof.against_copy) text += " There is no copy to hold it against.";
      found_->setText(text);
    } catch (const std::exception& error) {
      found_->setText(QString("■ %1").arg(error.what()));
    }
  }

  Workspace& w_;
  QTabWidget* tabs_;
  QLabel* ready_;
  TablePage* gates_;
  QLabel* due_words_;
  TablePage* due_;
  QLineEdit* words_;
  QLabel* found_;
  TablePage* records_;
  QPushButton* rescue_ = nullptr;
  QStackedWidget* forms_;
  GateForm* gate_form_;
  DueForm* due_form_;
  RecordForm* record_form_;
  std::vector<logbook::Record> shown_;
  size_t known_ = 0;  ///< records when they were shown last
  bool filling_ = false;
};

}  // namespace

std::unique_ptr<StationView> make_logbook_station(Workspace& workspace) {
  return std::make_unique<LogbookStation>(workspace);
}

}  // namespace uadze::gui
