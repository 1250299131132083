#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <QSlider>
#include <QVBoxLayout>

#include "gui/stations/station.h"
#include "gui/stations/tank_view.h"
#include "gui/widgets/edit_form.h"
#include "gui/widgets/edit_table.h"
#include "gui/widgets/level_bar.h"
#include "gui/widgets/working_view.h"

namespace uadze::gui {
namespace {

using project::Project;
using project::TankSetup;

class TankStation : public StationView {
 public:
  explicit TankStation(Workspace& w) : w_(w), picture_(new QWidget), view_(new TankView(w)) {
    auto* bar = new QHBoxLayout;
    bar->setContentsMargins(8, 4, 8, 0);
    const std::pair<const char*, TankView::Look> looks[] = {{"Corner", TankView::Look::corner},
                                                            {"Side", TankView::Look::side},
                                                            {"Front", TankView::Look::front},
                                                            {"Top", TankView::Look::top}};
    for (const auto& [name, from] : looks) {
      auto* button = new QPushButton(name);
      button->setToolTip(QString("Looks at the tank from %1").arg(QString(name).toLower()));
      bar->addWidget(button);
      QObject::connect(button, &QPushButton::clicked, view_, [this, from = from] { view_->look(from); });
    }
    bar->addStretch();
    bar->addWidget(new LevelBar(w));
    auto* layout = new QVBoxLayout(picture_);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(0);
    layout->addLayout(bar);
    layout->addWidget(view_, 1);

    auto* form = new EditForm(w);
    form->add_heading("Pickups (drag them in the picture)");
    const auto at = [this](Project& p, int r) -> tank::Pickup& {
      return tank(p).pickups.at(static_cast<size_t>(r));
    };
    const auto coordinate = [&](const char* name, int k) {
      return quantity_column(w, name, Quantity::length,
                             [at, k](Project& p, int r) -> double& { return at(p, r).position[k]; });
    };
    auto* pickups = new EditTable(
        w, "Pickups",
        {text_column("Pickup", [at](Project& p, int r) -> std::string& { return at(p, r).name; }),
         coordinate("x", 0), coordinate("y", 1), coordinate("z", 2),
         quantity_column(w, "sock", Quantity::length,
                         [at](Project& p, int r) -> double& { return at(p, r).sock_radius; }),
         text_column("feeds", [at](Project& p, int r) -> std::string& { return at(p, r).feeds; })},
        {[this](const Project& p) { return has(p) ? static_cast<int>(tank(p).pickups.size()) : 0; },
         [this](Project& p) {
           const tank::Solid solid = tank::make_solid(tank(p).shape);
           Vec3 place = solid.centroid();
           for (int k = 0; k < 2000 && solid.contains(place - Vec3(0, 0, 0.001)); ++k) place.z() -= 0.001;
           place = ((place * 1000).array().round() / 1000).matrix();
           const bool surge = p.setups[static_cast<size_t>(w_.setup_index())].surge.has_value();
           const auto& pumps = p.setups[static_cast<size_t>(w_.setup_index())].lift_pumps;
           tank(p).pickups.push_back({"pickup " + std::to_string(tank(p).pickups.size() + 1), place, 0.02,
                                      surge && !pumps.empty() ? pumps.front().name : "engine"});
         },
         [this](Project& p, int r) { tank(p).pickups.erase(tank(p).pickups.begin() + r); }});
    pickups->set_visible_rows(3);
    pickups->table()->setObjectName("pickups");
    form->add_widget(pickups);
    QObject::connect(pickups, &EditTable::row_selected, view_, &TankView::choose_pickup);
    QObject::connect(view_, &TankView::pickup_chosen, pickups, [pickups](int row) {
      if (row >= 0 && pickups->table()->currentRow() != row) pickups->table()->setCurrentCell(row, 0);
    });

    form->add_heading("Shape: a profile pushed along an axis");
    form->add_choice(
        "Axis", {"x, profile in y z", "y, profile in x z", "z, profile in x y"},
        [this](const Project& p) { return has(p) ? static_cast<int>(tank(p).shape.axis) : -1; },
        [this](Project& p, int k) { tank(p).shape.axis = static_cast<tank::Axis>(k); });
    form->add_quantity("From", Quantity::length,
                       [this](Project& p) { return has(p) ? &tank(p).shape.from : nullptr; });
    form->add_quantity("To", Quantity::length,
                       [this](Project& p) { return has(p) ? &tank(p).shape.to : nullptr; });
    form->add_quantity(
        "May be filled to", Quantity::fraction,
        [this](Project& p) { return has(p) ? &tank(p).usable_share : nullptr; },
        "Share of the whole volume that may be filled");
    const auto profile_column = [&](int k) {
      EditColumn column = quantity_column(w, k == 0 ? "First" : "Second", Quantity::length,
                                          [this, k](Project& p, int r) -> double& {
                                            return tank(p).shape.profile.at(static_cast<size_t>(r))[k];
                                          });
      column.changing_title = [this, k](const Project& p) {
        return QString("xyz"[has(p) ? tank::profile_axes(tank(p).shape.axis)[static_cast<size_t>(k)] : k]);
      };
      return column;
    };
    auto* profile = new EditTable(
        w, "Profile", {profile_column(0), profile_column(1)},
        {[this](const Project& p) { return has(p) ? static_cast<int>(tank(p).shape.profile.size()) : 0; },
         [this](Project& p) {
           // Half way along the side that closes the outline, a little outward, so that it stays simple.
           auto& points = tank(p).shape.profile;
           const Vec2 a = points.back(), b = points.front(), side = b - a;
           const double turn = tank::polygon_area(points) > 0 ? 1 : -1;
           points.push_back((a + b) / 2 + turn * 0.02 * Vec2(side.y(), -side.x()));
         },
         [this](Project& p, int r) { tank(p).shape.profile.erase(tank(p).shape.profile.begin() + r); }});
    profile->set_visible_rows(4);
    form->add_widget(profile);
    working_ = new WorkingView(w);
    side_ = new SidePanel(form, working_, 70);
    for (auto signal : {&Workspace::changed, &Workspace::cursor_moved, &Workspace::level_changed})
      QObject::connect(&w, signal, working_, [this] {
        if (working_->isVisible()) refresh();
      });
    refresh();
  }
  QWidget* picture() override { return picture_; }
  QWidget* side() override { return side_; }
  void shown() override { refresh(); }

 private:
  bool has(const Project& p) const {
    return w_.setup_index() >= 0 && w_.setup_index() < static_cast<int>(p.setups.size());
  }
  TankSetup& tank(Project& p) const { return p.setups.at(static_cast<size_t>(w_.setup_index())).tank; }
  const TankSetup& tank(const Project& p) const {
    return p.setups.at(static_cast<size_t>(w_.setup_index())).tank;
  }

  void refresh() {
    const auto car = w_.car();
    const auto surface = w_.surface_at_cursor();
    if (!car || !surface) return;
    const tank::Moments fuel = moments_below(car->tank, *surface);
    std::vector<Derivation> all;
    all.push_back({.name = "Whole volume",
                   .value = car->tank.volume(),
                   .quantity = Quantity::volume,
                   .formula = "V = 1/6 sum over faces of a · (b × c)",
                   .inputs = {{"n", "triangles of the closed surface",
                               static_cast<double>(car->tank.triangles().size()), Quantity::count, "shape"},
                              {"V_use", "may be filled", car->tank.volume() * w_.setup()->tank.usable_share,
                               Quantity::volume, "entered share"}},
                   .source = "divergence theorem, exact"});
    const Vec3 c = fuel.centroid();
    all.push_back(
        {.name = "Fuel at the cursor",
         .value = fuel.volume,
         .quantity = Quantity::volume,
         .formula = "n = -f/|f|; n · x = offset cuts off V",
         .inputs = {{"x", "centroid, forward", c.x(), Quantity::length, "exact"},
                    {"y", "centroid, left", c.y(), Quantity::length, "exact"},
                    {"z", "centroid, up", c.z(), Quantity::length, "exact"},
                    {"A", "free surface", section(car->tank, *surface).area, Quantity::area, "exact"}},
         .source = "settled model: the free surface is normal to the effective gravity f"});
    for (const auto& pickup : car->pickups)
      all.push_back({.name = "Depth of " + pickup.name,
                     .value = depth(pickup, *surface),
                     .quantity = Quantity::length,
                     .formula = "d = offset - n · p; wet: part of the sock's disc below the surface",
                     .inputs = {{"w", "wet fraction", wet_fraction(pickup, *surface), Quantity::fraction,
                                 "computed"}}});
    QStringList cautions{
        "Never weld or cut at or near a tank that has held fuel: vapour stays in it for weeks. Leave it to "
        "licensed work."};
    working_->show_all(all, cautions + fuel_cautions());
  }

  Workspace& w_;
  QWidget* picture_;
  TankView* view_;
  QWidget* side_;
  WorkingView* working_;
};

}  // namespace

std::unique_ptr<StationView> make_tank_station(Workspace& workspace) {
  return std::make_unique<TankStation>(workspace);
}

}  // namespace uadze::gui
