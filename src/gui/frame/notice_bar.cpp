#include "gui/frame/notice_bar.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QPainter>
#include <QPushButton>
#include <QScrollArea>
#include <algorithm>

namespace uadze::gui {

NoticeBar::NoticeBar(Workspace& workspace, QWidget* parent)
    : QWidget(parent), workspace_(workspace), label_(new QLabel(this)), buttons_(new QHBoxLayout) {
  setObjectName("notice");
  label_->setWordWrap(true);
  label_->setTextFormat(Qt::PlainText);  // names of files and channels may hold anything
  label_->setTextInteractionFlags(Qt::TextSelectableByMouse | Qt::TextSelectableByKeyboard);
  auto* layout = new QHBoxLayout(this);
  layout->setContentsMargins(16, 4, 8, 4);
  // Long ones scroll: the bar may not push the window's foot off the screen.
  auto* scroll = new QScrollArea(this);
  scroll->setWidget(label_);
  scroll->setWidgetResizable(true);
  scroll->setFrameShape(QFrame::NoFrame);
  scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  scroll_ = scroll;
  layout->addWidget(scroll, 1);
  layout->addLayout(buttons_);
  hide();
}

QString NoticeBar::text() const { return label_->text(); }

void NoticeBar::say(const QString& text, bool trouble, const Answers& answers) {
  show_text(text, trouble, answers.empty() ? Answers{{"Close", {}}} : answers);
}

void NoticeBar::offer(const QString& text, const Answers& answers) {
  offer_ = {text, answers};
  for (auto& [name, action] : offer_->answers)
    action = [this, then = action] {
      offer_.reset();
      hide();
      then();
    };
  dismiss();
}

void NoticeBar::dismiss() {
  if (offer_)
    show_text(offer_->text, false, offer_->answers);
  else
    hide();
}

void NoticeBar::show_text(const QString& text, bool trouble, const Answers& answers) {
  trouble_ = trouble;
  label_->setText((trouble ? "▲ " : "") + text);
  while (QLayoutItem* item = buttons_->takeAt(0)) {
    item->widget()->hide();
    item->widget()->deleteLater();
    delete item;
  }
  const auto add = [this](const QString& name, std::function<void()> action) {
    auto* button = new QPushButton(name, this);
    button->setObjectName(name);
    buttons_->addWidget(button);
    button->show();
    connect(button, &QPushButton::clicked, this, [this, action] {
      const auto then = action;  // the button goes with what it said
      dismiss();
      if (then) then();
    });
  };
  for (const auto& [name, action] : answers) add(name, action);
  show();
  fit();
  update();
}

void NoticeBar::fit() {
  const int line = label_->fontMetrics().lineSpacing();
  const int wide = std::max(scroll_->viewport()->width(), 200);
  scroll_->setFixedHeight(std::clamp(label_->heightForWidth(wide), line + 4, 3 * line + 4));
}

void NoticeBar::paintEvent(QPaintEvent*) {
  QPainter p(this);
  const Theme& t = workspace_.theme();
  p.fillRect(rect(), t.field);
  p.fillRect(QRect(0, 0, 4, height()), trouble_ ? t.trouble : t.covered);
  p.setPen(t.rule);
  p.drawLine(0, height() - 1, width(), height() - 1);
}

}  // namespace uadze::gui
