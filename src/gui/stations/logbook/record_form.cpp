#include "gui/stations/logbook/record_form.h"

#include <QFileDialog>
#include <QHBoxLayout>
#include <QImageReader>
#include <QVBoxLayout>

#include "core/logbook/photos.h"
#include "core/report/book_report.h"

namespace uadze::gui {
namespace {

constexpr int thumbnail = 96;  // px

/// Kinds that are written here; gates and parts have their own forms.
const std::vector<std::pair<const char*, logbook::Kind>> kinds{
    {"note", logbook::Kind::note}, {"incident", logbook::Kind::incident}, {"running", logbook::Kind::run}};

/// Small, decoded only as large as it is shown: a photo of a phone has twelve million points.
QPixmap small(const std::filesystem::path& file) {
  QImageReader reader(QString::fromStdString(file.string()));
  reader.setAutoTransform(true);
  const QSize whole = reader.size();
  if (whole.isValid()) reader.setScaledSize(whole.scaled(thumbnail, thumbnail, Qt::KeepAspectRatio));
  return QPixmap::fromImage(reader.read());
}

}  // namespace

RecordForm::RecordForm(Workspace& workspace, QWidget* parent)
    : QWidget(parent),
      w_(workspace),
      says_(entry_words("record says")),
      photos_(new QWidget),
      by_(remembered_field("by", "Who")),
      amended_(entry_field("amended note", "What stands in place of its note")),
      subject_(entry_field("new subject", "What it is about, or what was seen")),
      hours_(entry_field("new hours", "1.5 h, 40 min")),
      cause_(entry_field("new cause", "Why")),
      done_(entry_field("new done", "What was done")),
      link_(entry_field("new link", "A part, or a log and its moment")),
      amend_(entry_button("Amend", "amend record")),
      withdraw_(entry_button("Withdraw", "withdraw record")),
      write_(entry_button("Write", "write record")),
      photo_(entry_button("Photo…", "record photo")),
      kind_(new QComboBox) {
  by_->setObjectName("record by");
  by_->setAccessibleName("By");
  kind_->setObjectName("new kind");
  kind_->setAccessibleName("Kind of record");
  kind_->setMinimumHeight(target_height);
  for (const auto& [name, kind] : kinds) kind_->addItem(name);
  auto* all = new QVBoxLayout(this);
  all->setContentsMargins(10, 8, 10, 8);
  auto* shown = new QWidget;
  auto* above = new QVBoxLayout(shown);
  above->setContentsMargins(0, 0, 0, 0);
  above->addWidget(says_);
  above->addWidget(photos_);
  above->addStretch(1);
  all->addWidget(entry_scroll(shown), 1);
  all->addWidget(amended_);
  auto* change = new QHBoxLayout;
  change->addWidget(amend_);
  change->addWidget(withdraw_);
  all->addLayout(change);
  all->addWidget(new QLabel("<b>New record</b>"));
  form_ = new QFormLayout;
  form_->addRow("Kind", kind_);
  form_->addRow("What", subject_);
  form_->addRow("Ran", hours_);
  form_->addRow("Cause", cause_);
  form_->addRow("Done", done_);
  form_->addRow("Linked", link_);
  form_->addRow("By", by_);
  all->addLayout(form_);
  auto* buttons = new QHBoxLayout;
  buttons->addWidget(photo_);
  buttons->addWidget(write_, 1);
  all->addLayout(buttons);
  const auto fit = [this] {
    const auto kind = kinds[static_cast<size_t>(kind_->currentIndex())].second;
    form_->setRowVisible(hours_, kind == logbook::Kind::run);
    form_->setRowVisible(cause_, kind == logbook::Kind::incident);
    form_->setRowVisible(done_, kind == logbook::Kind::incident);
    form_->setRowVisible(link_, kind != logbook::Kind::run);
  };
  connect(kind_, &QComboBox::currentIndexChanged, this, fit);
  fit();
  connect(amend_, &QPushButton::clicked, this, [this] { amend(false); });
  connect(withdraw_, &QPushButton::clicked, this, [this] { amend(true); });
  connect(write_, &QPushButton::clicked, this, &RecordForm::write);
  connect(photo_, &QPushButton::clicked, this, [this] {
    const QString file = QFileDialog::getOpenFileName(this, "A photo for this record", {},
                                                      "Pictures (*.jpg *.jpeg *.png *.webp)");
    if (file.isEmpty()) return;
    if (const auto kept = w_.book.keep(file)) {
      kept_.push_back(*kept);
      photo_->setText(QString("%1 photo(s)").arg(kept_.size()));
    }
  });
}

void RecordForm::choose(std::int64_t number) {
  number_ = number;
  QString text;
  const logbook::Record* latest = nullptr;
  for (const auto& r : w_.book.records()) {
    if (r.number != number && r.amends != number) continue;
    latest = &r;
    logbook::Record one = r;
    one.amends = 0;
    const QString head =
        r.amends
            ? QString("<b>%1 by record %2</b><br>").arg(r.withdrawn ? "Withdrawn" : "Amended").arg(r.number)
            : QString();
    text +=
        head +
        QString::fromStdString(report::record_text(one, w_.units())).toHtmlEscaped().replace("\n", "<br>");
  }
  says_->setText(latest ? text : QString("Nothing is chosen."));
  amend_->setEnabled(latest != nullptr), withdraw_->setEnabled(latest && !latest->withdrawn);
  amended_->setEnabled(latest != nullptr);
  show_photos(latest ? *latest : logbook::Record{});
}

void RecordForm::show_photos(const logbook::Record& record) {
  delete photos_->layout();
  qDeleteAll(photos_->findChildren<QLabel*>(Qt::FindDirectChildrenOnly));
  auto* row = new QHBoxLayout(photos_);
  row->setContentsMargins(0, 4, 0, 4);
  for (const auto& p : record.photos) {
    auto* label = new QLabel;
    const auto file = logbook::photo_file(w_.book.file(), p);
    if (file)
      label->setPixmap(small(*file));
    else
      label->setText("▲ missing: " + QString::fromStdString(p.name));
    label->setToolTip(QString::fromStdString(p.name));
    label->setWordWrap(true);
    row->addWidget(label);
    label->show();  // at once: a row that is filled anew would be bare until the next event
  }
  row->addStretch(1);
  photos_->setVisible(!record.photos.empty());
}

void RecordForm::amend(bool withdraw) {
  const logbook::Record* latest = nullptr;
  for (const auto& r : w_.book.records())
    if (r.number == number_ || r.amends == number_) latest = &r;
  if (!latest) return;
  const std::string who = by_->text().trimmed().toStdString();
  if (who.empty()) {
    emit w_.document.refused("Who amends it stands with it: expected a name.");
    return;
  }
  if (!withdraw && amended_->text().trimmed().isEmpty()) {
    emit w_.document.refused("Expected what stands in place of its note.");
    return;
  }
  logbook::Record changed = *latest;
  changed.withdrawn = withdraw;
  if (!amended_->text().trimmed().isEmpty()) changed.note = amended_->text().trimmed().toStdString();
  changed.links.push_back("amended by " + who);
  if (w_.book.amend(number_, changed)) remember(by_), amended_->clear();
}

void RecordForm::write() {
  if (!w_.setup()) return;
  logbook::Record r{.kind = kinds[static_cast<size_t>(kind_->currentIndex())].second,
                    .setup = w_.setup()->name};
  r.by = by_->text().trimmed().toStdString();
  const std::string subject = subject_->text().trimmed().toStdString();
  if (r.kind == logbook::Kind::run) {
    const auto ran = parse_quantity(hours_->text().trimmed().toStdString(), Quantity::duration, w_.units());
    if (!ran || !(*ran > 0) || *ran > 1e6) {
      emit w_.document.refused("Ran: expected a time above 0 such as \"1.5 h\" or \"40 min\".");
      return;
    }
    r.seconds = *ran;
    r.session = subject;
  } else if (r.kind == logbook::Kind::incident) {
    r.subject = subject;
    r.cause = cause_->text().trimmed().toStdString(), r.done = done_->text().trimmed().toStdString();
  } else {
    r.note = subject;
  }
  if (r.kind != logbook::Kind::run && subject.empty()) {
    emit w_.document.refused("What: expected what it is about.");
    return;
  }
  if (const auto link = link_->text().trimmed(); !link.isEmpty() && r.kind != logbook::Kind::run)
    r.links = {link.toStdString()};
  r.photos = kept_;
  if (!w_.book.write(r)) return;
  remember(by_);
  for (QLineEdit* e : {subject_, hours_, cause_, done_, link_}) e->clear();
  kept_.clear();
  photo_->setText("Photo…");
}

}  // namespace uadze::gui
