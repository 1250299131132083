#include "gui/stations/part_form.h"

#include "gui/widgets/edit_table.h"

namespace uadze::gui {
namespace {

using project::Project;
using tank::TankParts;

/// Builds the rows of one part. Accessors find the part anew in whatever project they are given.
class Builder {
 public:
  Builder(Workspace& w, EditForm& form, std::optional<PartRef> part) : w_(w), form_(form), part_(part) {}

  void build() {
    if (!part_) return whole();
    form_.add_heading(part_title(w_.setup()->tank, *part_));
    if (name_of(const_cast<TankParts&>(w_.setup()->tank), *part_))
      form_.add_text("Name", text([part = *part_](TankParts& t) { return name_of(t, part); }));
    switch (part_->kind) {
      case PartKind::shape:
      case PartKind::body:
        return shape();
      case PartKind::collector:
        form_.add_choice("Top", {"open", "closed"},
                         get([i = index()](const TankParts& t) { return t.collectors[i].open_top ? 0 : 1; }),
                         set([i = index()](TankParts& t, int k) { t.collectors[i].open_top = k == 0; }));
        return shape();
      case PartKind::baffle:
        return baffle();
      case PartKind::opening:
        return opening();
      case PartKind::foam:
        quantity(
            "Porosity", Quantity::fraction, [i = index()](TankParts& t) { return &t.foam[i].porosity; },
            "Share of the foam's volume that fuel can take");
        quantity(
            "Permeability, m2", Quantity::plain,
            [i = index()](TankParts& t) { return &t.foam[i].permeability; },
            "Darcy permeability: 10 pores an inch about 1e-7 m2, 25 about 1e-8");
        if (w_.setup()->tank.foam[index()].shape) shape();
        return;
      case PartKind::pickup:
        place([i = index()](TankParts& t) { return &t.pickups[i].position; });
        quantity(
            "Sock radius", Quantity::length,
            [i = index()](TankParts& t) { return &t.pickups[i].sock_radius; },
            "A level disc; 0 is a bare tube end");
        form_.add_text("Feeds", text([i = index()](TankParts& t) { return &t.pickups[i].feeds; }));
        return;
      case PartKind::return_outlet:
        return place([i = index()](TankParts& t) { return &t.returns[i].position; });
      case PartKind::vent:
        return place([](TankParts& t) { return &t.vent->position; });
      case PartKind::sender:
        return sender();
    }
  }

 private:
  size_t index() const { return static_cast<size_t>(part_->index); }

  /// The tank of the chosen setup if the part is still there.
  TankParts* tank(Project& p) const {
    const int i = w_.setup_index();
    if (i < 0 || i >= static_cast<int>(p.setups.size())) return nullptr;
    TankParts& t = p.setups[static_cast<size_t>(i)].tank;
    return !part_ || exists(t, *part_) ? &t : nullptr;
  }

  using Number = std::function<double*(TankParts&)>;
  std::function<std::string*(Project&)> text(std::function<std::string*(TankParts&)> at) const {
    return [*this, at](Project& p) {
      TankParts* t = tank(p);
      return t ? at(*t) : nullptr;
    };
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
  void quantity(const QString& label, Quantity quantity, Number at, const QString& tip = {}) {
    form_.add_quantity(
        label, quantity,
        [*this, at](Project& p) {
          TankParts* t = tank(p);
          return t ? at(*t) : nullptr;
        },
        tip);
  }
  void place(const std::function<Vec3*(TankParts&)>& at, const QString& prefix = {}) {
    static const char* const names[] = {"x, forward", "y, left", "z, up"};
    for (int k = 0; k < 3; ++k)
      quantity(prefix.isEmpty() ? QString(names[k]) : prefix + " " + "xyz"[k], Quantity::length,
               [at, k](TankParts& t) { return &(*at(t))[k]; });
  }

  void whole() {
    form_.add_heading("Whole tank");
    quantity(
        "May be filled to", Quantity::fraction, [](TankParts& t) { return &t.usable_share; },
        "Share of the whole volume that may be filled; the rest is room to expand");
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
           if (const auto car = w_.car())
             add_part(*tank(p), *car->tank, {"Pickup", PartKind::pickup, 0}, std::nullopt);
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
    const tank::Shape& now = *shape_of(w_.setup()->tank, *part_);
    const PartRef part = *part_;
    if (std::holds_alternative<tank::Box>(now)) {
      place([part](TankParts& t) { return &std::get<tank::Box>(*shape_of(t, part)).from; }, "From");
      place([part](TankParts& t) { return &std::get<tank::Box>(*shape_of(t, part)).to; }, "To");
    } else if (std::holds_alternative<tank::Prism>(now)) {
      form_.add_choice("Axis", {"x, profile in y z", "y, profile in x z", "z, profile in x y"},
                       get([part](const TankParts& t) {
                         return static_cast<int>(std::get<tank::Prism>(*shape_of(t, part)).axis);
                       }),
                       set([part](TankParts& t, int k) {
                         std::get<tank::Prism>(*shape_of(t, part)).axis = static_cast<tank::Axis>(k);
                       }));
      quantity("From", Quantity::length,
               [part](TankParts& t) { return &std::get<tank::Prism>(*shape_of(t, part)).from; });
      quantity("To", Quantity::length,
               [part](TankParts& t) { return &std::get<tank::Prism>(*shape_of(t, part)).to; });
      profile([part](TankParts& t) { return &std::get<tank::Prism>(*shape_of(t, part)).profile; },
              [part](const TankParts& t, int k) {
                return QString("xyz"[tank::profile_axes(
                    std::get<tank::Prism>(*shape_of(t, part)).axis)[static_cast<size_t>(k)]]);
              });
    } else if (std::holds_alternative<tank::Cylinder>(now)) {
      quantity("Radius", Quantity::length,
               [part](TankParts& t) { return &std::get<tank::Cylinder>(*shape_of(t, part)).radius; });
      place([part](TankParts& t) { return &std::get<tank::Cylinder>(*shape_of(t, part)).start; }, "Start");
      place([part](TankParts& t) { return &std::get<tank::Cylinder>(*shape_of(t, part)).end; }, "End");
    } else if (std::holds_alternative<tank::Revolved>(now)) {
      place([part](TankParts& t) { return &std::get<tank::Revolved>(*shape_of(t, part)).start; }, "Start");
      for (int k = 0; k < 3; ++k)
        quantity(QString("Axis direction ") + "xyz"[k], Quantity::plain, [part, k](TankParts& t) {
          return &std::get<tank::Revolved>(*shape_of(t, part)).direction[k];
        });
      profile([part](TankParts& t) { return &std::get<tank::Revolved>(*shape_of(t, part)).profile; },
              [](const TankParts&, int k) { return QString(k == 0 ? "along" : "radius"); });
    } else if (std::holds_alternative<tank::Sphere>(now)) {
      quantity("Radius", Quantity::length,
               [part](TankParts& t) { return &std::get<tank::Sphere>(*shape_of(t, part)).radius; });
      place([part](TankParts& t) { return &std::get<tank::Sphere>(*shape_of(t, part)).centre; }, "Centre");
    } else if (std::holds_alternative<tank::Saddle>(now)) {
      place([part](TankParts& t) { return &std::get<tank::Saddle>(*shape_of(t, part)).from; }, "From");
      place([part](TankParts& t) { return &std::get<tank::Saddle>(*shape_of(t, part)).to; }, "To");
      quantity("Tunnel from y", Quantity::length,
               [part](TankParts& t) { return &std::get<tank::Saddle>(*shape_of(t, part)).tunnel_from; });
      quantity("Tunnel to y", Quantity::length,
               [part](TankParts& t) { return &std::get<tank::Saddle>(*shape_of(t, part)).tunnel_to; });
      quantity("Tunnel top z", Quantity::length,
               [part](TankParts& t) { return &std::get<tank::Saddle>(*shape_of(t, part)).tunnel_top; });
    } else {
      form_.add_text(
          "File", text([part](TankParts& t) { return &std::get<tank::MeshShape>(*shape_of(t, part)).file; }));
      form_.add_text("Axes forward, left, up", text([part](TankParts& t) {
                       return &std::get<tank::MeshShape>(*shape_of(t, part)).axes;
                     }));
      place([part](TankParts& t) { return &std::get<tank::MeshShape>(*shape_of(t, part)).move; }, "Move");
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
                       const auto car = w->car();
                       if (k == 0)
                         t.baffles[i].top.reset();
                       else if (!t.baffles[i].top && car)
                         t.baffles[i].top = car->tank->upper_corner().z() -
                                            0.1 * (car->tank->upper_corner() - car->tank->lower_corner()).z();
                     }));
    quantity(
        "Height of the edge, z", Quantity::length,
        [at](TankParts& t) { return at(t).top ? &*at(t).top : nullptr; }, "Above it the section is open");
    place([at](TankParts& t) { return &at(t).point; });
    for (int k = 0; k < 3; ++k)
      quantity(QString("Normal ") + "xyz"[k], Quantity::plain,
               [at, k](TankParts& t) { return &at(t).normal[k]; });
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
                       o.form = static_cast<tank::Form>(k);
                       // Sizes of the other form are taken from the one it had.
                       if (o.diameter <= 0) o.diameter = std::min(o.width, o.height);
                       if (o.width <= 0) o.width = o.diameter;
                       if (o.height <= 0) o.height = o.diameter;
                     }));
    const bool round = read(w_.setup()->tank).form == tank::Form::round;
    quantity("Diameter", Quantity::length,
             [at, round](TankParts& t) { return round ? &at(t).diameter : nullptr; });
    quantity("Width", Quantity::length, [at, round](TankParts& t) { return round ? nullptr : &at(t).width; });
    quantity("Height", Quantity::length,
             [at, round](TankParts& t) { return round ? nullptr : &at(t).height; });
    quantity(
        "Discharge coefficient", Quantity::plain, [at](TankParts& t) { return &at(t).discharge; },
        "0.62 for a sharp edge; 0.8 and more for a rounded one; 0.5 for a flap");
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
    place([at](TankParts& t) { return &at(t).at; });
  }

  void sender() {
    const auto at = [](TankParts& t) -> tank::Sender& { return *t.sender; };
    place([at](TankParts& t) { return &at(t).pivot; }, "Pivot");
    quantity("Arm", Quantity::length, [at](TankParts& t) { return &at(t).arm; });
    quantity(
        "Points, from forward", Quantity::angle, [at](TankParts& t) { return &at(t).heading; },
        "To the left is positive");
    quantity(
        "Reads empty at", Quantity::angle, [at](TankParts& t) { return &at(t).empty; },
        "Angle of the arm over level");
    quantity(
        "Reads full at", Quantity::angle, [at](TankParts& t) { return &at(t).full; },
        "Angle of the arm over level");
    quantity(
        "Arm bent up by", Quantity::angle, [at](TankParts& t) { return &at(t).bent; },
        "Since it was calibrated");
    quantity(
        "Hanger raised by", Quantity::length, [at](TankParts& t) { return &at(t).raised; },
        "Since it was calibrated");
  }

  Workspace& w_;
  EditForm& form_;
  std::optional<PartRef> part_;
};

}  // namespace

EditForm* make_part_form(Workspace& workspace, const std::optional<PartRef>& part) {
  auto* form = new EditForm(workspace);
  if (workspace.setup()) Builder(workspace, *form, part).build();
  return form;
}

}  // namespace uadze::gui
