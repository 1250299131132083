#include "gui/widgets/edit_form.h"

#include <QComboBox>
#include <QLabel>
#include <QLineEdit>

#include "core/base/require.h"
#include "gui/widgets/edit_table.h"

namespace uadze::gui {

EditForm::EditForm(Workspace& workspace, QWidget* parent)
    : QWidget(parent), workspace_(workspace), layout_(new QFormLayout(this)) {
  layout_->setContentsMargins(0, 0, 0, 0);
  layout_->setVerticalSpacing(4);
  layout_->setFieldGrowthPolicy(QFormLayout::AllNonFixedFieldsGrow);
  connect(&workspace_, &Workspace::changed, this, [this] {
    if (isVisible()) refresh();
  });
}

void EditForm::refresh() {
  for (const auto& r : refreshers_) r();
}

QLineEdit* EditForm::add_field(const QString& label, const QString& tip) {
  auto* field = new QLineEdit(this);
  field->setAccessibleName(label);
  field->setObjectName(label);
  if (!tip.isEmpty()) field->setToolTip(tip);
  layout_->addRow(label, field);
  return field;
}

void EditForm::add_found(const project::FoundField& sample, const Find& find, const QString& other_label) {
  UADZE_REQUIRE(sample.found(), "a form asks for fields that are described");
  const QString label = other_label.isEmpty() ? QString::fromUtf8(sample.field.label) : other_label;
  const QString tip = QString::fromUtf8(sample.field.sentence);
  const auto member = [find](auto kind) {
    using Kind = decltype(kind);
    return [find](project::Project& p) -> Kind {
      const project::FoundField found = find(p);
      const Kind* at = std::get_if<Kind>(&found.at);
      return at ? *at : nullptr;
    };
  };
  if (std::holds_alternative<double*>(sample.at)) {
    add_quantity(label, sample.unit.quantity, member(static_cast<double*>(nullptr)), tip,
                 QString::fromUtf8(sample.field.otherwise));
  } else if (std::holds_alternative<std::optional<double>*>(sample.at)) {
    add_optional(label, sample.unit.quantity, member(static_cast<std::optional<double>*>(nullptr)),
                 sample.field.otherwise ? QString::fromUtf8(sample.field.otherwise) : "none", tip);
  } else if (std::holds_alternative<std::string*>(sample.at)) {
    add_text(label, member(static_cast<std::string*>(nullptr)), tip);
  } else if (std::holds_alternative<Vec3*>(sample.at)) {
    static const char* const own[] = {"x, forward", "y, left", "z, up"};
    static const char* const ways[] = {"forward", "left", "up"};
    for (int k = 0; k < 3; ++k)
      add_quantity(
          label == "Place"  ? QString(own[k])
          : label == "Runs" ? label + " " + ways[k]
                            : label + " " + "xyz"[k],
          sample.unit.quantity,
          [at = member(static_cast<Vec3*>(nullptr)), k](project::Project& p) -> double* {
            Vec3* place = at(p);
            return place ? &(*place)[k] : nullptr;
          },
          tip);
  } else if (const auto* choice = std::get_if<project::WordChoice>(&sample.at)) {
    QStringList words;
    for (const std::string& word : choice->words) words << QString::fromStdString(word);
    add_choice(
        label, words,
        [find](const project::Project& p) {
          const project::FoundField found = find(const_cast<project::Project&>(p));
          const auto* now = std::get_if<project::WordChoice>(&found.at);
          return now ? now->get() : -1;
        },
        [find](project::Project& p, int k) {
          const project::FoundField found = find(p);
          if (const auto* now = std::get_if<project::WordChoice>(&found.at)) now->set(k);
        },
        tip);
  } else {
    UADZE_REQUIRE(false, "this kind of field has no row in a form");
  }
}

QLineEdit* EditForm::add_quantity(const QString& label, Quantity quantity,
                                  std::function<double*(project::Project&)> at, const QString& tip,
                                  const QString& zero) {
  QLineEdit* field =
      add_field(label, tip.isEmpty() ? "Any unit may be typed, for instance 12 gal or 3 in." : tip);
  field->setFont(figure_font());
  field->setPlaceholderText(zero);
  const auto refresher = [this, field, quantity, at, zero] {
    const double* value = at(const_cast<project::Project&>(workspace_.project()));
    field->setEnabled(value != nullptr);
    if (!field->hasFocus() || !field->isModified())
      field->setText(value && (*value != 0 || zero.isEmpty()) ? workspace_.show(*value, quantity) : "");
  };
  refreshers_.push_back(refresher);
  refresher();
  connect(field, &QLineEdit::editingFinished, this, [this, field, label, quantity, at, refresher, zero] {
    if (field->isModified()) {
      const QString text = field->text().isEmpty() && !zero.isEmpty() ? "0" : field->text();
      field->setModified(false);
      workspace_.document.edit("Change " + label, [&](project::Project& p) {
        if (double* value = at(p)) *value = typed_quantity(text, quantity, workspace_.units());
      });
    }
    refresher();
  });
  return field;
}

QLineEdit* EditForm::add_optional(const QString& label, Quantity quantity,
                                  std::function<std::optional<double>*(project::Project&)> at,
                                  const QString& otherwise, const QString& tip) {
  QLineEdit* field = add_field(label, tip);
  field->setFont(figure_font());
  field->setPlaceholderText(otherwise);
  const auto refresher = [this, field, quantity, at] {
    const std::optional<double>* value = at(const_cast<project::Project&>(workspace_.project()));
    field->setEnabled(value != nullptr);
    if (!field->hasFocus() || !field->isModified())
      field->setText(value && *value ? workspace_.show(**value, quantity) : "");
  };
  refreshers_.push_back(refresher);
  refresher();
  connect(field, &QLineEdit::editingFinished, this, [this, field, label, quantity, at, refresher] {
    if (field->isModified()) {
      const QString text = field->text().trimmed();
      field->setModified(false);
      workspace_.document.edit("Change " + label, [&](project::Project& p) {
        std::optional<double>* value = at(p);
        if (!value) return;
        if (text.isEmpty())
          value->reset();
        else
          *value = typed_quantity(text, quantity, workspace_.units());
      });
    }
    refresher();
  });
  return field;
}

QLineEdit* EditForm::add_text(const QString& label, std::function<std::string*(project::Project&)> at,
                              const QString& tip) {
  QLineEdit* field = add_field(label, tip);
  const auto refresher = [this, field, at] {
    const std::string* value = at(const_cast<project::Project&>(workspace_.project()));
    field->setEnabled(value != nullptr);
    const QString text = value ? QString::fromStdString(*value) : QString();
    if ((!field->hasFocus() || !field->isModified()) && field->text() != text) {
      field->setText(text);
      field->setCursorPosition(0);
    }
  };
  refreshers_.push_back(refresher);
  refresher();
  connect(field, &QLineEdit::editingFinished, this, [this, field, label, at, refresher] {
    if (field->isModified()) {
      const QString text = field->text();
      field->setModified(false);
      workspace_.document.edit("Change " + label, [&](project::Project& p) {
        if (std::string* value = at(p)) *value = text.trimmed().toStdString();
      });
    }
    refresher();
  });
  return field;
}

void EditForm::add_choice(const QString& label, const QStringList& choices,
                          std::function<int(const project::Project&)> get,
                          std::function<void(project::Project&, int)> set, const QString& tip) {
  auto* box = new QComboBox(this);
  box->addItems(choices);
  box->setAccessibleName(label);
  box->setObjectName(label);
  box->setToolTip(tip);
  box->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
  box->setMinimumContentsLength(8);
  layout_->addRow(label, box);
  const auto refresher = [this, box, get] {
    const int now = get(workspace_.project());
    box->setEnabled(now >= 0);
    box->setCurrentIndex(now);
  };
  refreshers_.push_back(refresher);
  refresher();
  connect(box, &QComboBox::activated, this, [this, label, set, refresher](int index) {
    workspace_.document.edit("Change " + label, [&](project::Project& p) { set(p, index); });
    refresher();
  });
}

void EditForm::add_heading(const QString& text) {
  auto* heading = new QLabel(text, this);
  QFont font = heading->font();
  font.setBold(true);
  heading->setFont(font);
  heading->setContentsMargins(0, 6, 0, 0);
  layout_->addRow(heading);
}

void EditForm::add_widget(QWidget* widget) { layout_->addRow(widget); }

}  // namespace uadze::gui
