#include "gui/stations/build/own_way.h"

#include <QLabel>
#include <QVBoxLayout>

#include "core/base/names.h"
#include "gui/widgets/edit_form.h"
#include "gui/widgets/edit_table.h"

namespace uadze::gui {
namespace {

using project::Project;

/// The chosen setup's own steps, by their place in the project.
std::vector<size_t> own_steps(const Workspace& w, const Project& p) {
  std::vector<size_t> out;
  for (size_t i = 0; w.setup() && i < p.own_steps.size(); ++i)
    if (p.own_steps[i].setup == w.setup()->name) out.push_back(i);
  return out;
}

build::OwnStep& own_step(const Workspace& w, Project& p, int row) {
  return p.own_steps.at(own_steps(w, p).at(static_cast<size_t>(row)));
}

EditTable* steps_table(Workspace& w) {
  EditColumn how{"how, parted by ;", Quantity::plain, true,
                 [&w](const Project& p, int r) {
                   QStringList lines;
                   for (const auto& h : own_step(w, const_cast<Project&>(p), r).how)
                     lines << QString::fromStdString(h);
                   return lines.join("; ");
                 },
                 [&w](Project& p, int r, const QString& text) {
                   auto& lines = own_step(w, p, r).how;
                   lines.clear();
                   for (const QString& part : text.split(';', Qt::SkipEmptyParts))
                     if (!part.trimmed().isEmpty()) lines.push_back(part.trimmed().toStdString());
                 }};
  EditColumn minutes{"takes [min]", Quantity::plain, false,
                     [&w](const Project& p, int r) {
                       return QString::number(own_step(w, const_cast<Project&>(p), r).minutes, 'g', 4);
                     },
                     [&w](Project& p, int r, const QString& text) {
                       own_step(w, p, r).minutes = typed_quantity(text, Quantity::plain, w.units());
                     }};
  return new EditTable(
      w, "Own steps",
      {text_column("step", [&w](Project& p, int r) -> std::string& { return own_step(w, p, r).title; }),
       text_column("after", [&w](Project& p, int r) -> std::string& { return own_step(w, p, r).after; }),
       minutes, how},
      {[&w](const Project& p) { return static_cast<int>(own_steps(w, p).size()); },
       [&w](Project& p) {
         if (!w.setup()) throw std::runtime_error("choose a setup first");
         p.own_steps.push_back({.setup = w.setup()->name, .title = "Step of your own"});
       },
       [&w](Project& p, int r) {
         p.own_steps.erase(p.own_steps.begin() +
                           static_cast<std::ptrdiff_t>(own_steps(w, p).at(static_cast<size_t>(r))));
       }});
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
  heading(
      "<b>What lines must clear</b>: boxes in the car's axes; a route that comes nearer is said among the "
      "findings.");
  column->addWidget(keep_outs_table(workspace), 2);
  heading("<b>Wires</b>");
  column->addWidget(scheme_form(workspace));
  return out;
}

}  // namespace uadze::gui
