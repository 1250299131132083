#include "gui/stations/build/own_way.h"

#include <QLabel>
#include <QScrollArea>
#include <QVBoxLayout>

#include "core/base/names.h"
#include "gui/widgets/edit_form.h"
#include "gui/widgets/edit_table.h"

namespace uadze::gui {
namespace {

using project::Project;

/// Places of what belongs to the chosen setup.
template <class T>
std::vector<size_t> of_setup(const Workspace& w, const std::vector<T>& all) {
  std::vector<size_t> out;
  for (size_t i = 0; w.setup() && i < all.size(); ++i)
    if (all[i].setup == w.setup()->name) out.push_back(i);
  return out;
}

/// A table of what the project keeps for each setup: own steps, changes.
template <class T>
EditTable* setups_table(
    Workspace& w, const char* title, std::vector<T> Project::*list, T fresh,
    const std::function<std::vector<EditColumn>(const std::function<T&(Project&, int)>&)>& columns) {
  const auto at = [&w, list](Project& p, int row) -> T& {
    auto& all = p.*list;
    return all.at(of_setup(w, all).at(static_cast<size_t>(row)));
  };
  return new EditTable(
      w, title, columns(at),
      {[&w, list](const Project& p) { return static_cast<int>(of_setup(w, p.*list).size()); },
       [&w, list, fresh](Project& p) {
         if (!w.setup()) throw std::runtime_error("choose a setup first");
         (p.*list).push_back(fresh);
         (p.*list).back().setup = w.setup()->name;
       },
       [&w, list](Project& p, int r) {
         auto& all = p.*list;
         all.erase(all.begin() + static_cast<std::ptrdiff_t>(of_setup(w, all).at(static_cast<size_t>(r))));
       }});
}

/// Lines as one text, parted by semicolons.
template <class T>
EditColumn lines_column(const QString& title, std::function<T&(Project&, int)> at,
                        std::vector<std::string> T::*lines) {
  return {title, Quantity::plain, true,
          [at, lines](const Project& p, int r) {
            QStringList out;
            for (const auto& h : at(const_cast<Project&>(p), r).*lines) out << QString::fromStdString(h);
            return out.join("; ");
          },
          [at, lines](Project& p, int r, const QString& text) {
            auto& out = at(p, r).*lines;
            out.clear();
            for (const QString& part : text.split(';', Qt::SkipEmptyParts))
              if (!part.trimmed().isEmpty()) out.push_back(part.trimmed().toStdString());
          }};
}

EditTable* steps_table(Workspace& w) {
  using build::OwnStep;
  return setups_table<OwnStep>(
      w, "Own steps", &Project::own_steps, {.title = "Step of your own"},
      [&w](const std::function<OwnStep&(Project&, int)>& at) {
        EditColumn minutes{"takes [min]", Quantity::plain, false,
                           [at](const Project& p, int r) {
                             return QString::number(at(const_cast<Project&>(p), r).minutes, 'g', 4);
                           },
                           [&w, at](Project& p, int r, const QString& text) {
                             at(p, r).minutes = typed_quantity(text, Quantity::plain, w.units());
                           }};
        return std::vector<EditColumn>{
            text_column("step", [at](Project& p, int r) -> std::string& { return at(p, r).title; }),
            text_column("after", [at](Project& p, int r) -> std::string& { return at(p, r).after; }), minutes,
            lines_column<OwnStep>("how, parted by ;", at, &OwnStep::how)};
      });
}

EditTable* changes_table(Workspace& w) {
  using build::StepChange;
  return setups_table<StepChange>(
      w, "Changed steps", &Project::step_changes, {.step = "Make the place safe"},
      [&w](const std::function<StepChange&(Project&, int)>& at) {
        EditColumn minutes{"takes [min]", Quantity::plain, false,
                           [at](const Project& p, int r) {
                             const auto& m = at(const_cast<Project&>(p), r).minutes;
                             return m ? QString::number(*m, 'g', 4) : QString();
                           },
                           [&w, at](Project& p, int r, const QString& text) {
                             auto& m = at(p, r).minutes;
                             m.reset();
                             if (!text.trimmed().isEmpty())
                               m = typed_quantity(text, Quantity::plain, w.units());
                           }};
        return std::vector<EditColumn>{
            text_column("step", [at](Project& p, int r) -> std::string& { return at(p, r).step; }),
            text_column("only after", [at](Project& p, int r) -> std::string& { return at(p, r).after; }),
            minutes, lines_column<StepChange>("also, parted by ;", at, &StepChange::also)};
      });
}

EditTable* keep_outs_table(Workspace& w) {
  const auto box = [&w](Project& p, int r) -> build::KeepOut& {
    return p.setups.at(static_cast<size_t>(w.selection.setup_index())).keep_outs.at(static_cast<size_t>(r));
  };
  std::vector<EditColumn> columns{
      text_column("keep clear of", [box](Project& p, int r) -> std::string& { return box(p, r).name; })};
  const char* axes[]{"forward", "left", "up"};
  for (int k = 0; k < 3; ++k)
    columns.push_back(quantity_column(w, QString("%1 from").arg(axes[k]), Quantity::length,
                                      [box, k](Project& p, int r) -> double& { return box(p, r).low[k]; }));
  for (int k = 0; k < 3; ++k)
    columns.push_back(quantity_column(w, QString("%1 to").arg(axes[k]), Quantity::length,
                                      [box, k](Project& p, int r) -> double& { return box(p, r).high[k]; }));
  columns.push_back(quantity_column(w, "by", Quantity::length,
                                    [box](Project& p, int r) -> double& { return box(p, r).clearance; }));
  return new EditTable(
      w, "Keep-outs", std::move(columns),
      {[&w](const Project& p) {
         const int i = w.selection.setup_index();
         return i < 0 || i >= static_cast<int>(p.setups.size())
                    ? 0
                    : static_cast<int>(p.setups[static_cast<size_t>(i)].keep_outs.size());
       },
       [&w](Project& p) {
         const int i = w.selection.setup_index();
         if (i < 0) throw std::runtime_error("choose a setup first");
         p.setups.at(static_cast<size_t>(i))
             .keep_outs.push_back({"exhaust", Vec3(0.5, -0.1, -0.1), Vec3(1.0, 0.1, 0.1), 50e-3});
       },
       [&w](Project& p, int r) {
         auto& all = p.setups.at(static_cast<size_t>(w.selection.setup_index())).keep_outs;
         all.erase(all.begin() + r);
       }});
}

EditForm* scheme_form(Workspace& w) {
  auto* form = new EditForm(w);
  form->add_text(
      "Feed wires", [](Project& p) { return &p.scheme.feed; }, "Their colour");
  form->add_text(
      "Ground wires", [](Project& p) { return &p.scheme.ground; }, "Their colour");
  form->add_text(
      "Relay's coil", [](Project& p) { return &p.scheme.coil; }, "Its colour");
  form->add_choice(
      "Terminals", {"crimped", "soldered and sleeved"},
      [](const Project& p) { return static_cast<int>(p.scheme.joint); },
      [](Project& p, int k) { p.scheme.joint = static_cast<build::WireJoint>(k); },
      "Schools differ: both have their own faults");
  return form;
}

}  // namespace

QWidget* make_own_way(Workspace& workspace) {
  auto* out = new QWidget;
  auto* column = new QVBoxLayout(out);
  const auto heading = [&](const QString& text) {
    auto* label = new QLabel(text);
    label->setWordWrap(true);
    column->addWidget(label);
  };
  heading("<b>Steps of your own</b>: each stands behind the step that \"after\" names, or at the end.");
  column->addWidget(steps_table(workspace), 2);
  heading("<b>Steps that you do otherwise</b>: more to do there, another time, or a step that comes first.");
  column->addWidget(changes_table(workspace), 2);
  heading(
      "<b>What lines must clear</b>: boxes in the car's axes; a route that comes nearer is said among the "
      "findings.");
  column->addWidget(keep_outs_table(workspace), 2);
  heading("<b>Wires</b>");
  column->addWidget(scheme_form(workspace));
  // Three tables are taller than a small screen: they are scrolled, not the window stretched.
  auto* scroll = new QScrollArea;
  scroll->setWidget(out);
  scroll->setWidgetResizable(true);
  scroll->setFrameShape(QFrame::NoFrame);
  return scroll;
}

}  // namespace uadze::gui
