#pragma once
// A form on single values of the project: labels, fields that take any unit, choices. Every change is an
// edit. What a field is called, means and is measured in comes from its description (core/project/field.h).
//
//   EditForm form(workspace);
//   form.add<starvation::Engine>("power_kw", [&](Project& p) { return &p.setups[0].engine; });
#include <QFormLayout>
#include <QWidget>
#include <functional>
#include <optional>

#include "core/project/field_finder.h"
#include "gui/document/workspace.h"

class QLineEdit;

namespace uadze::gui {

class EditForm : public QWidget {
  Q_OBJECT
 public:
  explicit EditForm(Workspace& workspace, QWidget* parent = nullptr);

  /// A row (three for a place) on the field of a described value. `owner` gives the value in a project, or
  /// nullptr where there is none: the row is then disabled. `label`: in place of the description's.
  template <class Owner>
  void add(const std::string& key, std::function<Owner*(project::Project&)> owner,
           const QString& label = {}) {
    const auto find = [key, owner](project::Project& p) {
      Owner* value = owner(p);
      return value ? project::find_field(*value, key) : project::FoundField{};
    };
    project::FoundField sample = find(const_cast<project::Project&>(workspace_.project()));
    Owner usual{};
    if (!sample.found()) sample = project::find_field(usual, key);
    add_found(sample, find, label);
  }

  /// Accessors give nullptr where there is nothing to edit: the field is then disabled. `zero`: shown as a
  /// hint in place of 0; an empty field is then 0.
  QLineEdit* add_quantity(const QString& label, Quantity quantity,
                          std::function<double*(project::Project&)> at, const QString& tip = {},
                          const QString& zero = {});
  /// Of a value that may be absent: an empty field. `otherwise` stands in it as a hint then.
  QLineEdit* add_optional(const QString& label, Quantity quantity,
                          std::function<std::optional<double>*(project::Project&)> at,
                          const QString& otherwise, const QString& tip = {});
  QLineEdit* add_text(const QString& label, std::function<std::string*(project::Project&)> at,
                      const QString& tip = {});
  void add_choice(const QString& label, const QStringList& choices,
                  std::function<int(const project::Project&)> get,
                  std::function<void(project::Project&, int)> set, const QString& tip = {});
  void add_heading(const QString& text);
  void add_widget(QWidget* widget);
  void refresh();

 protected:
  void showEvent(QShowEvent*) override { refresh(); }

 private:
  using Find = std::function<project::FoundField(project::Project&)>;
  void add_found(const project::FoundField& sample, const Find& find, const QString& label);
  QLineEdit* add_field(const QString& label, const QString& tip);

  Workspace& workspace_;
  QFormLayout* layout_;
  std::vector<std::function<void()>> refreshers_;
};

}  // namespace uadze::gui
