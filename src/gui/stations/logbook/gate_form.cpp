#include "gui/stations/logbook/gate_form.h"

#include <QFileDialog>
#include <QHBoxLayout>
#include <QTimer>
#include <QVBoxLayout>

#include "core/base/files.h"
#include "core/report/book_report.h"
#include "core/solve/circuit_point.h"

namespace uadze::gui {
namespace {

QString q(const std::string& text) { return QString::fromStdString(text); }

QString lines_of(const std::vector<std::string>& lines, const char* sign) {
  QString out;
  for (const std::string& l : lines)
    out += QString("<p style='margin:3px 0'>%1 %2</p>").arg(sign, q(l).toHtmlEscaped());
  return out;
}

}  // namespace

GateForm::GateForm(Workspace& workspace, QWidget* parent)
    : QWidget(parent),
      w_(workspace),
      title_(entry_words("gate title")),
      cautions_(entry_words("gate cautions")),
      how_(entry_words("gate how")),
      verdict_(entry_words("gate verdict")),
      after_(entry_words("gate explained")),
      by_(remembered_field("by", "Who did it")),
      second_(remembered_field("second", "Who looked too: another person")),
      instrument_(remembered_field("instrument", "Which gauge, can or meter")),
      checked_until_(remembered_field("checked until", "2027-03-31")),
      note_(entry_field("gate note", "Anything else")),
      begin_(entry_button("Begin", "begin test")),
      write_(entry_button("Write the test", "write test")),
      failed_(entry_button("It failed", "test failed")),
      photo_(entry_button("Photo…", "gate photo")),
      bench_(entry_button("Read a bench…", "read bench")),
      model_(entry_button("Take into the model", "into model")) {
  auto* inner = new QWidget;
  auto* column = new QVBoxLayout(inner);
  column->setContentsMargins(0, 0, 8, 0);
  column->addWidget(title_);
  column->addWidget(cautions_);
  column->addWidget(how_);
  body_place_ = new QVBoxLayout;
  column->addLayout(body_place_);
  auto* people = new QFormLayout;
  people->setRowWrapPolicy(QFormLayout::WrapLongRows);
  second_label_ = new QLabel("Looked at too");
  instrument_label_ = new QLabel("Instrument");
  checked_label_ = new QLabel("Its check until");
  people->addRow("By", by_);
  people->addRow(second_label_, second_);
  people->addRow(instrument_label_, instrument_);
  people->addRow(checked_label_, checked_until_);
  people->addRow("Note", note_);
  column->addLayout(people);
  auto* extra = new QHBoxLayout;
  extra->addWidget(photo_);
  extra->addWidget(bench_);
  column->addLayout(extra);
  column->addWidget(after_);
  column->addWidget(model_);
  column->addStretch(1);

  auto* all = new QVBoxLayout(this);
  all->setContentsMargins(10, 8, 10, 8);
  all->addWidget(entry_scroll(inner), 1);
  all->addWidget(verdict_);
  auto* buttons = new QHBoxLayout;
  buttons->addWidget(begin_);
  buttons->addWidget(write_, 1);
  buttons->addWidget(failed_);
  all->addLayout(buttons);

  // How long a test still runs goes with the clock.
  auto* clock = new QTimer(this);
  connect(clock, &QTimer::timeout, this, [this] {
    if (isVisible()) tell();
  });
  clock->start(20000);
  for (QLineEdit* e : {by_, second_, instrument_, checked_until_, note_})
    connect(e, &QLineEdit::textChanged, this, [this] { tell(); });
  connect(begin_, &QPushButton::clicked, this, &GateForm::begin);
  connect(write_, &QPushButton::clicked, this, [this] { write(false); });
  connect(failed_, &QPushButton::clicked, this, [this] { write(true); });
  connect(bench_, &QPushButton::clicked, this, &GateForm::read_bench);
  connect(model_, &QPushButton::clicked, this, &GateForm::into_model);
  connect(photo_, &QPushButton::clicked, this, [this] {
    const QString file = QFileDialog::getOpenFileName(this, "A photo for this test", {},
                                                      "Pictures (*.jpg *.jpeg *.png *.webp)");
    if (file.isEmpty()) return;
    if (const auto kept = w_.book.keep(file)) {
      draft().photos.push_back(*kept);
      tell();
    }
  });
}

const logbook::GateStatus* GateForm::status() const {
  const auto* in = w_.book.garage();
  if (!in) return nullptr;
  for (const auto& s : in->gates)
    if (s.gate.id == gate_) return &s;
  return nullptr;
}

void GateForm::choose(const std::string& gate) {
  const std::string setup = w_.setup() ? w_.setup()->name : std::string();
  if (gate == gate_ && setup == of_setup_ && body_) return refresh();
  if (body_) keep_draft();
  gate_ = gate, of_setup_ = setup;
  last_written_ = 0;
  after_->clear();
  build_fields();
  refresh();
}

void GateForm::keep_draft() {
  Draft& d = draft();
  d.readings.clear(), d.seen.clear();
  for (const Field& f : fields_) d.readings[f.expected.what] = f.value->text();
  for (const QCheckBox* box : looks_)
    if (box->isChecked()) d.seen << box->text();
  d.way = way_ ? way_->currentText() : QString();
  d.note = note_->text();
}

void GateForm::build_fields() {
  delete body_;
  body_ = new QWidget;
  way_ = nullptr;
  looks_.clear(), fields_.clear();
  auto* form = new QFormLayout(body_);
  form->setContentsMargins(0, 4, 0, 4);
  form->setRowWrapPolicy(QFormLayout::WrapAllRows);
  body_place_->addWidget(body_);
  const auto* s = status();
  const Draft was = draft();
  if (s) {
    if (!s->gate.ways.empty()) {
      way_ = new QComboBox;
      way_->setObjectName("gate way");
      way_->setAccessibleName("How it is done");
      way_->setMinimumHeight(target_height);
      for (const auto& w : s->gate.ways) way_->addItem(q(w));
      if (!was.way.isEmpty()) way_->setCurrentText(was.way);
      connect(way_, &QComboBox::currentIndexChanged, this, [this] { tell(); });
      form->addRow("How", way_);
    }
    for (const build::Expected& e : s->gate.readings) {
      Field f{e, new QLabel, entry_field("reading " + q(e.what))};
      f.says->setWordWrap(true);
      f.value->setText(was.readings.contains(e.what) ? was.readings.at(e.what) : QString());
      connect(f.value, &QLineEdit::textChanged, this, [this] { tell(); });
      form->addRow(f.says, f.value);
      fields_.push_back(f);
    }
    for (const auto& look : s->gate.look) {
      auto* box = new QCheckBox(q(look));
      box->setMinimumHeight(target_height);
      box->setChecked(was.seen.contains(box->text()));
      connect(box, &QCheckBox::toggled, this, [this] { tell(); });
      form->addRow(box);
      looks_.push_back(box);
    }
  }
  note_->setText(was.note);
}

void GateForm::refresh() {
  const auto* s = status();
  setEnabled(s != nullptr);
  if (!s) {
    title_->setText(w_.setup() ? "" : "No setup is chosen.");
    cautions_->clear(), how_->clear(), verdict_->clear();
    return;
  }
  // Its gate came after the form: the background had not computed it yet.
  if (fields_.empty() && looks_.empty() && !s->gate.readings.empty()) build_fields();
  title_->setText(QString("<b>%1</b>").arg(q(s->gate.title)));
  cautions_->setText(lines_of(s->gate.cautions, "▲"));
  how_->setText(lines_of(s->gate.how, "•") +
                QString("<p style='margin:3px 0'>Limit: %1.</p>").arg(q(s->gate.limit).toHtmlEscaped()));
  second_->setVisible(s->gate.two_people), second_label_->setVisible(s->gate.two_people);
  for (QWidget* x :
       std::initializer_list<QWidget*>{instrument_, instrument_label_, checked_until_, checked_label_})
    x->setVisible(s->gate.instrument);
  bench_->setVisible(!s->gate.readings.empty());
  begin_->setVisible(s->gate.lasts > 0);
  begin_->setEnabled(!s->begun);
  const auto* in = w_.book.garage();
  const logbook::Record* last = nullptr;
  for (const auto& r : w_.book.records())
    if (r.number == last_written_) last = &r;
  model_->setVisible(last && in && w_.setup() && solve::corrected(*w_.setup(), *in, *last).has_value());
  tell();
}

std::optional<logbook::Record> GateForm::record(QString& fault) const {
  const auto* s = status();
  if (!s) return std::nullopt;
  logbook::Record r{.kind = logbook::Kind::test, .setup = of_setup_, .subject = gate_};
  r.by = by_->text().trimmed().toStdString();
  if (s->gate.two_people) r.second = second_->text().trimmed().toStdString();
  if (s->gate.instrument) {
    r.instrument = instrument_->text().trimmed().toStdString();
    r.checked_until = checked_until_->text().trimmed().toStdString();
  }
  r.note = note_->text().trimmed().toStdString();
  if (way_) r.way = way_->currentText().toStdString();
  for (const QCheckBox* box : looks_)
    if (box->isChecked()) r.seen.push_back(box->text().toStdString());
  for (const Field& f : fields_) {
    const std::string typed = f.value->text().trimmed().toStdString();
    if (typed.empty()) continue;
    try {
      r.readings.push_back(report::typed_reading(s->gate, f.expected.what, typed, w_.units()));
    } catch (const InputError& error) {
      fault = error.what();
      return std::nullopt;
    }
  }
  const auto at = drafts_.find({of_setup_, gate_});
  if (at != drafts_.end()) r.photos = at->second.photos;
  return r;
}

void GateForm::tell() {
  const auto* s = status();
  const auto* in = w_.book.garage();
  if (!s || !in) return;
  QString fault;
  const auto r = record(fault);
  // What is expected follows the volts that are entered.
  const build::Gate here = r ? solve::gate_at_volts(*in, s->gate, r->readings) : s->gate;
  for (const Field& f : fields_)
    for (const build::Expected& e : here.readings)
      if (e.what == f.expected.what) {
        const auto show = [&](double v) {
          return w_.show(v, e.quantity, e.quantity == Quantity::pressure ? 2 : -1);
        };
        QString says = q(e.what) + (e.may_lack ? " (if it can be read)" : "");
        if (e.value) says += ": " + show(*e.value);
        if (e.low && e.high)
          says += QString(", %1 to %2").arg(show(*e.low), show(*e.high));
        else if (e.low)
          says += QString(", %1 at the least").arg(show(*e.low));
        else if (e.high)
          says += QString(", %1 at the most").arg(show(*e.high));
        f.says->setText(says);
        f.value->setPlaceholderText(
            e.quantity == Quantity::flow
                ? QString("%1, or 1.35 L / 30 s")
                      .arg(QString::fromUtf8(shown_unit(e.quantity, w_.units()).name.data()))
                : QString::fromUtf8(shown_unit(e.quantity, w_.units()).name.data()));
      }
  QString text;
  if (s->begun) text += q(report::time_left(*s, w_.book.at())) + ". ";
  const QString why = w_.book.no_writing();
  if (!why.isEmpty()) {
    text = "▲ " + why;
    write_->setEnabled(false), failed_->setEnabled(false), begin_->setEnabled(false);
  } else if (!r) {
    text += "▲ " + fault;
    write_->setEnabled(false), failed_->setEnabled(true);
  } else {
    const logbook::Record judged = solve::with_verdict(*in, *s, *r, w_.book.at());
    const auto missing = solve::missing(*s, judged, w_.book.at());
    const bool bad = judged.verdict == logbook::Verdict::failed;
    if (bad)
      text += "■ Failed: " + q(judged.reason);
    else if (missing.empty())
      text += "✓ Passed. " + q(judged.reason);
    else
      text += q(missing.front()) +
              (missing.size() > 1 ? QString(" (%1 more)").arg(missing.size() - 1) : QString());
    write_->setEnabled(missing.empty());
    write_->setText(bad ? "Write the test: failed" : "Write the test");
    failed_->setEnabled(!r->by.empty());
    begin_->setEnabled(!s->begun && !r->by.empty());
    if (!r->photos.empty()) text += QString(" %1 photo(s).").arg(r->photos.size());
  }
  verdict_->setText(text);
}

void GateForm::begin() {
  const auto* s = status();
  QString fault;
  const auto drafted = record(fault);
  if (!s || !drafted) return;
  logbook::Record r{.kind = logbook::Kind::begun, .setup = of_setup_, .subject = gate_, .by = drafted->by};
  r.content = s->gate.content;
  r.note = drafted->note;
  remember(by_);
  w_.book.write(r);
}

void GateForm::write(bool failed) {
  const auto* s = status();
  const auto* in = w_.book.garage();
  QString fault;
  auto r = record(fault);
  if (!s || !in || !r) return;
  logbook::Record judged = solve::with_verdict(*in, *s, *r, w_.book.at());
  if (failed && judged.verdict != logbook::Verdict::failed) {
    judged.verdict = logbook::Verdict::failed;
    judged.reason = judged.note.empty() ? "failed by eye" : judged.note;
  }
  for (const QLineEdit* e : {by_, second_, instrument_, checked_until_}) remember(e);
  const auto written = w_.book.write(judged);
  if (!written) return;
  QString text = written->verdict == logbook::Verdict::passed ? "✓ Written: passed." : "■ Written: failed.";
  for (const auto& e : solve::explained(*in, *written))
    text += QString("<p style='margin:3px 0'>%1 %2</p>")
                .arg(e.misfit < 1 ? "Fits:" : "In part:", q(e.text.in(w_.units())).toHtmlEscaped());
  last_written_ = written->number;
  // The next test of it begins with nothing; what was written is in the book.
  drafts_.erase({of_setup_, gate_});
  build_fields();
  refresh();
  after_->setText(text);
}

void GateForm::read_bench() {
  const auto* s = status();
  if (!s) return;
  const QString file =
      QFileDialog::getOpenFileName(this, "What a bench wrote", {}, "Readings (*.csv);;All files (*)");
  if (file.isEmpty()) return;
  try {
    for (const auto& r : report::parse_bench(read_file(file.toStdString()), file.toStdString(), s->gate))
      for (const Field& f : fields_)
        if (f.expected.what == r.what)
          f.value->setText(
              q(format(r.value, r.quantity, w_.units(), r.quantity == Quantity::pressure ? 3 : -1)));
  } catch (const InputError& error) {
    emit w_.document.refused(error.what());
  }
}

void GateForm::into_model() {
  const auto* in = w_.book.garage();
  if (!in || !w_.setup()) return;
  for (const auto& r : w_.book.records()) {
    if (r.number != last_written_) continue;
    const auto corrected = solve::corrected(*w_.setup(), *in, r);
    if (!corrected) return;
    const int index = w_.selection.setup_index();
    w_.document.edit(QString("Take %1 into the model").arg(q(r.subject)),
                     [&](project::Project& p) { p.setups[static_cast<size_t>(index)] = *corrected; });
  }
}

}  // namespace uadze::gui
