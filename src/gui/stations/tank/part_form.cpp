#include "gui/stations/tank/part_form.h"

#include "gui/widgets/edit_table.h"

namespace uadze::gui {
namespace {

using project::Project;
using tank::TankParts;

/// Builds the rows of one part. Accessors find the part anew in whatever project they are given.
class PartFormBuilder {
 public:
  PartFormBuilder(Workspace& w, EditForm& form, std::optional<PartRef> part)
      : w_(w), form_(form), part_(part) {}

  void build() {
    if (!part_) return whole();
    form_.add_heading(part_title(w_.setup()->tank, *part_));
    const auto i = static_cast<size_t>(part_->index);
    switch (part_->kind) {
      case TankPartKind::shape:
        return shape();
      case TankPartKind::body:
        rows<tank::Body>({"name"}, [i](TankParts& t) { return &t.bodies[i]; });
        return shape();
      case TankPartKind::collector:
        rows<tank::Collector>({"name", "top", "crowded_percent"},
                              [i](TankParts& t) { return &t.collectors[i]; });
        return shape();
      case TankPartKind::baffle:
        rows<tank::Baffle>({"name"}, [i](TankParts& t) { return &t.baffles[i]; });
        return baffle();
      case TankPartKind::opening:
        return opening();
      case TankPartKind::foam:
        rows<tank::Foam>({"name"}, [i](TankParts& t) { return &t.foam[i]; });
        foam_type(i);
        rows<tank::Foam>({"porosity_percent", "permeability_m2", "keeps_percent"},
                         [i](TankParts& t) { return &t.foam[i]; });
        if (w_.setup()->tank.foam[i].shape) shape();
        return;
      case TankPartKind::pickup:
        return rows<tank::Pickup>({"name", "position_mm", "sock_radius_mm", "feeds"},
                                  [i](TankParts& t) { return &t.pickups[i]; });
      case TankPartKind::return_outlet:
        return rows<tank::ReturnOutlet>({"name", "position_mm"}, [i](TankParts& t) { return &t.returns[i]; });
      case TankPartKind::vent:
        return rows<tank::Vent>({"position_mm"}, [](TankParts& t) { return &*t.vent; });
      case TankPartKind::sender:
        return rows<tank::Sender>(
            {"pivot_mm", "arm_mm", "heading_deg", "empty_deg", "full_deg", "bent_deg", "raised_mm"},
            [](TankParts& t) { return &*t.sender; });
    }
  }

 private:
  size_t index() const { return static_cast<size_t>(part_->index); }

  /// The tank of the chosen setup if the part is still there.
  TankParts* tank(Project& p) const {
    const int i = w_.selection.setup_index();
    if (i < 0 || i >= static_cast<int>(p.setups.size())) return nullptr;
    TankParts& t = p.setups[static_cast<size_t>(i)].tank;
    return !part_ || exists(t, *part_) ? &t : nullptr;
  }

  /// Rows on fields of what `at` gives of the tank, while the part is there.
  template <class Owner>
  void rows(std::initializer_list<const char*> keys, std::function<Owner*(TankParts&)> at) {
    for (const char* key : keys)
      form_.add<Owner>(key, [*this, at](Project& p) {
        TankParts* t = tank(p);
        return t ? at(*t) : nullptr;
      });
  }
  std::function<int(const Project&)> get(std::function<int(const TankParts&)> at) const {
    return [*this, at](const Project& p) {
      const TankParts* t = tank(const_cast<Project&>(p));
      return t ? at(*t) : -1;
    };
  }
  std::function<void(Project&, int)> set(std::function<void(TankParts&, int)> change) const {
    return [*this, change](Project& p, int k) {
      if (TankParts* t = tank(p)) change(*t, k);
    };
  }
  /// A type of the catalogue gives its figures; figures of one's own are no type's.
  void foam_type(size_t i) {
    const auto catalogue = w_.runs.catalogue();
    if (!catalogue || catalogue->foams.empty()) return;
    QStringList names;
    for (const auto& f : catalogue->foams) names << QString::fromStdString(f.name);
    form_.add_choice("Figures of", names, get([i, catalogue](const TankParts& t) {
                       for (size_t k = 0; k < catalogue->foams.size(); ++k)
                         if (const auto& f = catalogue->foams[k]; f.porosity == t.foam[i].porosity &&
                                                                  f.permeability == t.foam[i].permeability &&
                                                                  f.keeps == t.foam[i].keeps)
                           return static_cast<int>(k);
                       return -1;
                     }),
                     set([i, catalogue](TankParts& t, int k) {
                       const auto& f = catalogue->foams[static_cast<size_t>(k)];
                       t.foam[i].porosity = f.porosity;
                       t.foam[i].permeability = f.permeability;
                       t.foam[i].keeps = f.keeps;
                     }),
                     "Of the catalogue; empty where the figures are your own");
  }
  void whole() {
    form_.add_heading("Whole tank");
    rows<TankParts>({"usable_percent"}, [](TankParts& t) { return &t; });
    form_.add_heading("Pickups");
    const auto pickup = [*this](Project& p, int r) -> tank::Pickup& {
      return tank(p)->pickups.at(static_cast<size_t>(r));
    };
    const auto coordinate = [&](const char* name, int k) {
      return quantity_column(w_, name, Quantity::length,
                             [pickup, k](Project& p, int r) -> double& { return pickup(p, r).position[k]; });
    };
    auto* table = new EditTable(
        w_, "Pickups",
        {text_column("Pickup", [pickup](Project& p, int r) -> std::string& { return pickup(p, r).name; }),
         coordinate("x", 0), coordinate("y", 1), coordinate("z", 2),
         quantity_column(w_, "sock", Quantity::length,
                         [pickup](Project& p, int r) -> double& { return pickup(p, r).sock_radius; }),
         text_column("feeds", [pickup](Project& p, int r) -> std::string& { return pickup(p, r).feeds; })},
        {[*this](const Project& p) {
           const TankParts* t = tank(const_cast<Project&>(p));
           return t ? static_cast<int>(t->pickups.size()) : 0;
         },
         [*this](Project& p) {
           if (const auto car = w_.runs.car())
             add_part(*tank(p), *car->tank, {"Pickup", TankPartKind::pickup, 0}, std::nullopt);
         },
         [*this](Project& p, int r) { tank(p)->pickups.erase(tank(p)->pickups.begin() + r); }});
    table->set_visible_rows(3);
    table->table()->setObjectName("pickups");
    form_.add_widget(table);
    auto* hint =
        new QLabel("Choose a part in the list or in the picture to change it; drag it in the picture.");
    hint->setWordWrap(true);
    form_.add_widget(hint);
  }

  void shape() {
    const PartRef part = *part_;
    const tank::Shape& now = *shape_of(w_.setup()->tank, part);
    const auto of = [part](TankParts& t) { return shape_of(t, part); };
    const auto outline = [part](auto kind) {
      return [part](TankParts& t) { return &std::get<decltype(kind)>(*shape_of(t, part)).profile; };
    };
    if (std::holds_alternative<tank::Box>(now)) {
      rows<tank::Shape>({"from_mm", "to_mm"}, of);
    } else if (std::holds_alternative<tank::Prism>(now)) {
      form_.add_choice("Axis", {"x, profile in y z", "y, profile in x z", "z, profile in x y"},
                       get([part](const TankParts& t) {
                         return static_cast<int>(std::get<tank::Prism>(*shape_of(t, part)).axis);
                       }),
                       set([part](TankParts& t, int k) {
                         std::get<tank::Prism>(*shape_of(t, part)).axis = static_cast<tank::Axis>(k);
                       }));
      rows<tank::Shape>({"from_mm", "to_mm"}, of);
      profile(outline(tank::Prism{}), [part](const TankParts& t, int k) {
        return QString("xyz"[tank::profile_axes(
            std::get<tank::Prism>(*shape_of(t, part)).axis)[static_cast<size_t>(k)]]);
      });
    } else if (std::holds_alternative<tank::Cylinder>(now)) {
      rows<tank::Shape>({"radius_mm", "start_mm", "end_mm"}, of);
    } else if (std::holds_alternative<tank::Revolved>(now)) {
      rows<tank::Shape>({"start_mm", "direction"}, of);
      profile(outline(tank::Revolved{}),
              [](const TankParts&, int k) { return QString(k == 0 ? "along" : "radius"); });
    } else if (std::holds_alternative<tank::Sphere>(now)) {
      rows<tank::Shape>({"radius_mm", "centre_mm"}, of);
    } else if (auto* saddle = std::get_if<tank::Saddle>(&now); saddle) {
      rows<tank::Shape>({"from_mm", "to_mm"}, of);
      for (const auto& [label, member] : {std::pair{"Tunnel from y", &tank::Saddle::tunnel_from},
                                          std::pair{"Tunnel to y", &tank::Saddle::tunnel_to}})
        form_.add_quantity(
            label, Quantity::length,
            [*this, of, member = member](Project& p) {
              TankParts* t = tank(p);
              return t ? &(std::get<tank::Saddle>(*of(*t)).*member) : nullptr;
            },
            "A tunnel along x through the floor");
      rows<tank::Shape>({"tunnel_top_mm"}, of);
    } else {
      rows<tank::Shape>({"file", "axes", "move_mm"}, of);
    }
  }

  void profile(const std::function<std::vector<Vec2>*(TankParts&)>& points,
               const std::function<QString(const TankParts&, int)>& title) {
    const auto column = [&](int k) {
      EditColumn c = quantity_column(w_, k == 0 ? "First" : "Second", Quantity::length,
                                     [*this, points, k](Project& p, int r) -> double& {
                                       return points(*tank(p))->at(static_cast<size_t>(r))[k];
                                     });
      c.changing_title = [*this, title, k](const Project& p) {
        const TankParts* t = tank(const_cast<Project&>(p));
        return t ? title(*t, k) : QString();
      };
      return c;
    };
    auto* table = new EditTable(w_, "Profile", {column(0), column(1)},
                                {[*this, points](const Project& p) {
                                   TankParts* t = tank(const_cast<Project&>(p));
                                   return t ? static_cast<int>(points(*t)->size()) : 0;
                                 },
                                 [*this, points](Project& p) {
                                   // Half way along the side that closes the outline, a little outward, so
                                   // that it stays simple.
                                   auto& list = *points(*tank(p));
                                   const Vec2 a = list.back(), b = list.front(), side = b - a;
                                   const double turn = tank::polygon_area(list) > 0 ? 1 : -1;
                                   list.push_back((a + b) / 2 + turn * 0.02 * Vec2(side.y(), -side.x()));
                                 },
                                 [*this, points](Project& p, int r) {
                                   auto& list = *points(*tank(p));
                                   list.erase(list.begin() + r);
                                 }});
    table->set_visible_rows(5);
    form_.add_widget(table);
  }

  void baffle() {
    const auto at = [i = index()](TankParts& t) -> tank::Baffle& { return t.baffles[i]; };
    form_.add_choice("Upper edge", {"at the roof", "at a height"},
                     get([i = index()](const TankParts& t) { return t.baffles[i].top ? 1 : 0; }),
                     set([w = &w_, i = index()](TankParts& t, int k) {
                       const auto car = w->runs.car();
                       if (k == 0)
                         t.baffles[i].top.reset();
                       else if (!t.baffles[i].top && car)
                         t.baffles[i].top = car->tank->upper_corner().z() -
                                            0.1 * (car->tank->upper_corner() - car->tank->lower_corner()).z();
                     }));
    form_.add_quantity(
        "Height of the edge, z", Quantity::length,
        [*this, at](Project& p) -> double* {
          TankParts* t = tank(p);
          return t && at(*t).top ? &*at(*t).top : nullptr;
        },
        "Above it the section is open");
    rows<tank::Baffle>({"point_mm", "normal"}, [at](TankParts& t) { return &at(t); });
  }

  void opening() {
    const PartRef part = *part_;
    const auto at = [part](TankParts& t) -> tank::OpeningPart& { return *opening_of(t, part); };
    const auto read = [part](const TankParts& t) -> const tank::OpeningPart& { return *opening_of(t, part); };
    const bool in_baffle = part.owner < static_cast<int>(w_.setup()->tank.baffles.size());
    form_.add_choice("Form", {"round", "slot", "notch, standing"},
                     get([read](const TankParts& t) { return static_cast<int>(read(t).form); }),
                     set([at](TankParts& t, int k) {
                       tank::OpeningPart& o = at(t);
                       o.form = static_cast<tank::OpeningForm>(k);
                       // Sizes of the other form are taken from the one it had.
                       if (o.diameter <= 0) o.diameter = std::min(o.width, o.height);
                       if (o.width <= 0) o.width = o.diameter;
                       if (o.height <= 0) o.height = o.diameter;
                     }));
    const auto of = [part](TankParts& t) { return opening_of(t, part); };
    rows<tank::OpeningPart>({"name"}, of);
    if (read(w_.setup()->tank).form == tank::OpeningForm::round)
      rows<tank::OpeningPart>({"diameter_mm"}, of);
    else
      rows<tank::OpeningPart>({"width_mm", "height_mm"}, of);
    rows<tank::OpeningPart>({"discharge"}, of);
    form_.add_choice("Door", {"none: both ways", "flap", "ball valve"},
                     get([read](const TankParts& t) { return static_cast<int>(read(t).door); }),
                     set([at, in_baffle](TankParts& t, int k) {
                       at(t).door = static_cast<tank::Door>(k);
                       if (k == 0)
                         at(t).passes = tank::Passes::both;
                       else if (at(t).passes == tank::Passes::both)
                         at(t).passes = in_baffle ? tank::Passes::along : tank::Passes::against;
                     }));
    form_.add_choice("Passes",
                     in_baffle ? QStringList{"both ways", "along the normal", "against the normal"}
                               : QStringList{"both ways", "out", "in"},
                     get([read](const TankParts& t) { return static_cast<int>(read(t).passes); }),
                     set([at](TankParts& t, int k) {
                       at(t).passes = static_cast<tank::Passes>(k);
                       if (k == 0) at(t).door = tank::Door::none;
                     }));
    rows<tank::OpeningPart>({"at_mm"}, of);
  }

  Workspace& w_;
  EditForm& form_;
  std::optional<PartRef> part_;
};

}  // namespace

EditForm* make_part_form(Workspace& workspace, const std::optional<PartRef>& part) {
  auto* form = new EditForm(workspace);
  if (workspace.setup()) PartFormBuilder(workspace, *form, part).build();
  return form;
}

}  // namespace uadze::gui
