#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>

#include "core/solve/setup.h"
#include "gui/stations/car/fuel_chain.h"
#include "gui/stations/circuit/circuit_form.h"
#include "gui/stations/station.h"
#include "gui/widgets/edit_form.h"
#include "gui/widgets/edit_table.h"
#include "gui/widgets/working_view.h"

namespace uadze::gui {
namespace {

using project::Project;
using project::Setup;

class CarStation : public StationView {
  int index(const Project& p) const {
    return std::min(w_.selection.setup_index(), static_cast<int>(p.setups.size()) - 1);
  }
  /// What `get` gives of the chosen setup in a project.
  template <class Get>
  auto of(Get get) const {
    return [this, get](Project& p) {
      return index(p) < 0 ? nullptr : get(p.setups[static_cast<size_t>(index(p))]);
    };
  }

 public:
  explicit CarStation(Workspace& w) : w_(w), picture_(new FuelChain(w)) {
    auto* form = new EditForm(w);
    form->add<Setup>("name", of([](Setup& s) { return &s; }));
    auto* buttons = new QWidget;
    auto* row = new QHBoxLayout(buttons);
    row->setContentsMargins(0, 0, 0, 0);
    auto* copy = new QPushButton("Duplicate");
    copy->setToolTip("A second setup beside this one, to compare");
    auto* remove = new QPushButton("Remove setup");
    row->addWidget(copy);
    row->addWidget(remove);
    row->addStretch();
    form->add_widget(buttons);
    QObject::connect(copy, &QPushButton::clicked, form, [this] { duplicate(); });
    QObject::connect(remove, &QPushButton::clicked, form, [this] {
      if (w_.project().setups.size() < 2) return;
      w_.document.edit("Remove setup",
                       [this](Project& p) { p.setups.erase(p.setups.begin() + w_.selection.setup_index()); });
    });

    form->add_heading("Fuel");
    for (const char* key : {"ethanol_percent", "methanol_percent", "temperature_c", "petrol_density_kg_m3",
                            "reid_pressure_kpa"})
      form->add<fluid::Blend>(key, of([](Setup& s) { return &s.fuel; }));
    form->add_heading("Engine");
    for (const char* key :
         {"demand_from", "flow_scale", "power_kw", "consumption_g_kwh", "idle_flow_l_h", "lambda"})
      form->add<starvation::Engine>(key, of([](Setup& s) { return &s.engine; }));
    choice(
        form, "Figures are of", {"the fuel above", "another fuel"},
        [](const Setup& s) { return s.engine.figures_of ? 1 : 0; },
        [](Setup& s, int k) {
          if (k == 0)
            s.engine.figures_of.reset();
          else if (!s.engine.figures_of)
            s.engine.figures_of = {s.fuel.ethanol, s.fuel.methanol, {}, s.fuel.temperature};
        });
    for (const char* key : {"ethanol_percent", "methanol_percent", "lambda", "temperature_c"})
      form->add<starvation::FigureFuel>(
          key, of([](Setup& s) { return s.engine.figures_of ? &*s.engine.figures_of : nullptr; }));
    form->add_heading("Surge tank and main pump");
    choice(
        form, "Surge tank", {"none", "fitted"}, [](const Setup& s) { return s.surge ? 1 : 0; },
        [](Setup& s, int k) {
          if (k == 0) {
            s.surge.reset();
          } else if (!s.surge) {
            s.surge = starvation::SurgeTank{1e-3, circuit::ReturnTo::surge_tank};
            complete_circuit(s);
          }
        });
    form->add<starvation::SurgeTank>("volume_l", of([](Setup& s) { return s.surge ? &*s.surge : nullptr; }));
    choice(
        form, "Engine return to", {"surge tank", "main tank", "tee with the overflow"},
        [](const Setup& s) { return s.surge ? static_cast<int>(s.surge->engine_return) : -1; },
        [](Setup& s, int k) {
          if (s.surge) s.surge->engine_return = static_cast<circuit::ReturnTo>(k);
          complete_circuit(s);
        });
    for (const char* key : {"main_pump_flow_l_h", "line_hold_l"})
      form->add<Setup>(key, of([](Setup& s) { return &s; }));
    form->add_heading("Lift pumps");
    auto* pumps = new EditTable(
        w, "Lift pumps",
        {text_column("Lift pump", [this](Project& p, int r) -> std::string& { return pump(p, r).name; }),
         quantity_column(w, "Flow", Quantity::flow,
                         [this](Project& p, int r) -> double& { return pump(p, r).flow; })},
        {[this](const Project& p) {
           return index(p) < 0 ? 0
                               : static_cast<int>(p.setups[static_cast<size_t>(index(p))].lift_pumps.size());
         },
         [this](Project& p) {
           auto& list = p.setups.at(static_cast<size_t>(index(p))).lift_pumps;
           list.push_back({"lift " + std::to_string(list.size() + 1), 100e-3 / 3600});
         },
         [this](Project& p, int r) {
           auto& list = p.setups.at(static_cast<size_t>(index(p))).lift_pumps;
           list.erase(list.begin() + r);
         }});
    pumps->set_visible_rows(3);
    form->add_widget(pumps);

    auto* working = new WorkingView(w);
    side_ = new SidePanel(form, working);
    const auto refresh = [this, working] {
      const Setup* s = w_.setup();
      if (s)
        working->show_all({fluid::density_working(s->fuel), fluid::stoichiometric_working(s->fuel),
                           fluid::heating_working(s->fuel), solve::demand_factor_working(*s)},
                          fuel_cautions(w_));
    };
    QObject::connect(&w, &Workspace::changed, working, [working, refresh] {
      if (working->isVisible()) refresh();
    });
    shown_ = refresh;
    refresh();
  }
  QWidget* picture() override { return picture_; }
  QWidget* side() override { return side_; }
  void shown() override { shown_(); }

 private:
  starvation::LiftPump& pump(Project& p, int r) const {
    return p.setups.at(static_cast<size_t>(index(p))).lift_pumps.at(static_cast<size_t>(r));
  }
  void choice(EditForm* form, const QString& label, const QStringList& choices,
              std::function<int(const Setup&)> get, std::function<void(Setup&, int)> set) {
    form->add_choice(
        label, choices,
        [this, get](const Project& p) {
          return index(p) < 0 ? -1 : get(p.setups[static_cast<size_t>(index(p))]);
        },
        [this, set](Project& p, int k) { set(p.setups.at(static_cast<size_t>(index(p))), k); });
  }
  void duplicate() {
    const Setup* now = w_.setup();
    if (!now) return;
    Setup copy = *now;
    for (int k = 2; w_.project().find_setup(copy.name); ++k)
      copy.name = now->name + " (" + std::to_string(k) + ")";
    if (w_.document.edit("Duplicate setup", [&](Project& p) { p.setups.push_back(copy); }))
      w_.selection.choose_setup(static_cast<int>(w_.project().setups.size()) - 1);
  }

  Workspace& w_;
  FuelChain* picture_;
  QWidget* side_;
  std::function<void()> shown_;
};

}  // namespace

std::unique_ptr<StationView> make_car_station(Workspace& workspace) {
  return std::make_unique<CarStation>(workspace);
}

}  // namespace uadze::gui
