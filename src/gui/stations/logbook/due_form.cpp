#include "gui/stations/logbook/due_form.h"

#include <QHBoxLayout>
#include <QVBoxLayout>

#include "core/report/book_report.h"

namespace uadze::gui {

DueForm::DueForm(Workspace& workspace, QWidget* parent)
    : QWidget(parent),
      w_(workspace),
      says_(entry_words("due says")),
      by_(remembered_field("by", "Who")),
      note_(entry_field("due note", "What was found or done")),
      fitted_(entry_button("Went in new", "went in new")),
      done_(entry_button("Done", "task done")),
      write_event_(entry_button("Write", "write event")),
      event_(new QComboBox) {
  by_->setObjectName("due by");
  by_->setAccessibleName("By");
  event_->setObjectName("event");
  event_->setAccessibleName("What happened");
  event_->setMinimumHeight(target_height);
  for (const auto& e : logbook::event_subjects()) event_->addItem(QString::fromStdString(e));
  auto* all = new QVBoxLayout(this);
  all->setContentsMargins(10, 8, 10, 8);
  all->addWidget(says_);
  auto* form = new QFormLayout;
  form->addRow("By", by_);
  form->addRow("Note", note_);
  all->addLayout(form);
  auto* buttons = new QHBoxLayout;
  buttons->addWidget(fitted_);
  buttons->addWidget(done_);
  all->addLayout(buttons);
  all->addSpacing(18);
  all->addWidget(new QLabel("<b>What happened to the car</b>"));
  auto* event = new QHBoxLayout;
  event->addWidget(event_, 1);
  event->addWidget(write_event_);
  all->addLayout(event);
  auto* hint = new QLabel(
      "A kerb has mounts and seams looked at, a crash opens every gate again, an opened line those "
      "that prove it tight.");
  hint->setWordWrap(true);
  all->addWidget(hint);
  all->addStretch(1);
  connect(fitted_, &QPushButton::clicked, this, [this] { write(logbook::Kind::fitted); });
  connect(done_, &QPushButton::clicked, this, [this] { write(logbook::Kind::service); });
  connect(write_event_, &QPushButton::clicked, this, &DueForm::happened);
}

void DueForm::choose(std::optional<logbook::Due> due) {
  due_ = std::move(due);
  fitted_->setEnabled(due_.has_value()), done_->setEnabled(due_.has_value());
  if (!due_) {
    says_->setText("Nothing is chosen.");
    return;
  }
  const auto q = [](const std::string& t) { return QString::fromStdString(t).toHtmlEscaped(); };
  QString text = QString("<b>%1</b><p>%2; %3.</p>").arg(q(due_->what), q(due_->task), q(due_->why));
  if (!due_->since && due_->event.empty())
    text += "<p>▲ It is not known when it went in: write it, and its life begins.</p>";
  else if (due_->since)
    text += "<p>Since " + q(shown_time(*due_->since)) + ".</p>";
  if (due_->since && due_->hours > 0)
    text += QString("<p>The car has run %1 of %2.</p>")
                .arg(q(report::running_hours(due_->used)), q(report::running_hours(due_->hours)));
  if (!due_->day.empty()) text += "<p>By " + q(due_->day) + ".</p>";
  says_->setText(text);
}

void DueForm::write(logbook::Kind kind) {
  if (!due_ || !w_.setup()) return;
  logbook::Record r{.kind = kind,
                    .setup = w_.setup()->name,
                    .subject = due_->what,
                    .by = by_->text().trimmed().toStdString()};
  if (kind == logbook::Kind::service) r.done = due_->task;
  r.note = note_->text().trimmed().toStdString();
  if (w_.book.write(r)) remember(by_), note_->clear();
}

void DueForm::happened() {
  if (!w_.setup()) return;
  logbook::Record r{.kind = logbook::Kind::event,
                    .setup = w_.setup()->name,
                    .subject = event_->currentText().toStdString(),
                    .by = by_->text().trimmed().toStdString()};
  r.note = note_->text().trimmed().toStdString();
  if (w_.book.write(r)) remember(by_), note_->clear();
}

}  // namespace uadze::gui
