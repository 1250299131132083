#pragma once
// A form on single values of the project: labels, fields that take any unit, choices. Every change is an
// edit.
//
//   EditForm form(workspace);
//   form.add_quantity("Power", Quantity::power, [&](Project& p) -> double* { ... });
#include <QFormLayout>
#include <QWidget>
#include <functional>
#include <optional>

#include "gui/document/workspace.h"

class QLineEdit;

namespace uadze::gui {

class EditForm : public QWidget {
  Q_OBJECT
 public:
  explicit EditForm(Workspace& workspace, QWidget* parent = nullptr);

  /// Accessors give nullptr where there is nothing to edit: the field is then disabled.
  QLineEdit* add_quantity(const QString& label, Quantity quantity,
                          std::function<double*(project::Project&)> at, const QString& tip = {});
  /// Of a value that may be absent: an empty field. `otherwise` stands in it as a hint then.
  QLineEdit* add_optional(const QString& label, Quantity quantity,
                          std::function<std::optional<double>*(project::Project&)> at,
                          const QString& otherwise, const QString& tip = {});
  QLineEdit* add_text(const QString& label, std::function<std::string*(project::Project&)> at);
  void add_choice(const QString& label, const QStringList& choices,
                  std::function<int(const project::Project&)> get,
                  std::function<void(project::Project&, int)> set, const QString& tip = {});
  void add_heading(const QString& text);
  void add_widget(QWidget* widget);
  void refresh();

 protected:
  void showEvent(QShowEvent*) override { refresh(); }

 private:
  QLineEdit* add_field(const QString& label, const QString& tip);

  Workspace& workspace_;
  QFormLayout* layout_;
  std::vector<std::function<void()>> refreshers_;
};

}  // namespace uadze::gui
