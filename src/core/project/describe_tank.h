#pragma once
// The fields of a tank and its parts.
//
// Example:
//   EXPECT_EQ(project::written(tank::Sphere{{0, 0, 0}, 0.25})["radius_mm"], 250);
#include "core/project/field.h"
#include "core/tank/parts.h"

namespace uadze::project {

inline constexpr Range anywhere{-20000, 20000}, size_range{0, 20000}, direction_range{-1e6, 1e6};

template <class V>
void describe(V& v, tank::Box& b) {
  v.vector({"from_mm", "From", "One corner", must}, b.from, in_file::millimetre, anywhere);
  v.vector({"to_mm", "To", "The opposite corner", must}, b.to, in_file::millimetre, anywhere);
}

template <class V>
void describe(V& v, tank::Prism& p) {
  v.choice({"axis", "Axis", "Along which the profile is pushed", must}, p.axis);
  v.points(
      {"profile_mm", "Profile",
       "Points in the other two axes in the order x, y, z: (x, z) for axis y; the outline closes by itself "
       "and must not cross or touch itself",
       must},
      p.profile, in_file::millimetre, anywhere, 3);
  v.number({"from_mm", "From", "Where along the axis it begins", must}, p.from, in_file::millimetre,
           anywhere);
  v.number({"to_mm", "To", "Where along the axis it ends", must}, p.to, in_file::millimetre, anywhere);
}

template <class V>
void describe(V& v, tank::Cylinder& c) {
  v.vector({"start_mm", "Start", "Middle of one end", must}, c.start, in_file::millimetre, anywhere);
  v.vector({"end_mm", "End", "Middle of the other", must}, c.end, in_file::millimetre, anywhere);
  v.number({"radius_mm", "Radius", "", must}, c.radius, in_file::millimetre, size_range);
}

template <class V>
void describe(V& v, tank::Revolved& r) {
  v.vector({"start_mm", "Start", "A point on the axis", must}, r.start, in_file::millimetre, anywhere);
  v.vector({"direction", "Axis direction", "Along the axis", must}, r.direction, in_file::plain,
           direction_range);
  v.points({"profile_mm", "Profile", "Points [along the axis, radius], along never falling", must}, r.profile,
           in_file::millimetre, anywhere, 2);
}

template <class V>
void describe(V& v, tank::Sphere& s) {
  v.vector({"centre_mm", "Centre", "Its middle", must}, s.centre, in_file::millimetre, anywhere);
  v.number({"radius_mm", "Radius", "", must}, s.radius, in_file::millimetre, size_range);
}

template <class V>
void describe(V& v, tank::Saddle& s) {
  v.vector({"from_mm", "From", "One corner", must}, s.from, in_file::millimetre, anywhere);
  v.vector({"to_mm", "To", "The opposite corner", must}, s.to, in_file::millimetre, anywhere);
  v.pair({"tunnel_mm", "Tunnel, y", "From and to in y: a tunnel along x through the floor", must},
         s.tunnel_from, s.tunnel_to, in_file::millimetre, anywhere);
  v.number({"tunnel_top_mm", "Tunnel top z", "The two sides are joined over it", must}, s.tunnel_top,
           in_file::millimetre, anywhere);
}

inline constexpr NamedValue mesh_units[] = {{"mm", 1e-3}, {"cm", 1e-2}, {"m", 1.0}, {"inch", 0.0254}};

template <class V>
void describe(V& v, tank::MeshShape& m) {
  v.text({"file", "File", "STL, OBJ or PLY, relative to the project's folder", must}, m.file);
  v.one_of({"unit", "Unit", "Of the file's numbers"}, m.unit, mesh_units);
  v.text({"axes", "Axes forward, left, up", "Which of the file's point there, such as \"y -x z\""}, m.axes);
  v.vector({"move_mm", "Move", "After turning"}, m.move, in_file::millimetre, anywhere);
  v.listed({"weld", "Weld", "Join vertices that nearly coincide"}, m.mends);
  v.listed({"drop", "Drop", "Leave out triangles without area and repeated ones"}, m.mends);
  v.listed({"fill", "Fill", "Close flat holes"}, m.mends);
  v.listed({"orient", "Orient", "Turn triangles to face outward"}, m.mends);
}

template <class V>
void describe(V& v, tank::Shape& s) {
  v.variant({"kind", "Kind", "Which shape it is", must}, s, tank::shape_kinds());
}

/// `names`: of the ways it passes, which a baffle and a collector call differently.
template <class V>
void describe_opening(V& v, tank::OpeningPart& o, NameTable<tank::Passes> names) {
  v.text({"name", "Name", "In tables and pictures", must}, o.name);
  v.choice({"kind", "Form", "A notch stands on its place"}, o.form);
  v.vector({"at_mm", "Place", "Its middle; brought onto its plate or the nearest wall", must}, o.at,
           in_file::millimetre, anywhere);
  v.cases(o.form, [&](auto& w, tank::OpeningForm form) {
    constexpr Range open{0, 20000, true};
    if (form == tank::OpeningForm::round) {
      w.number({"diameter_mm", "Diameter", "", must}, o.diameter, in_file::millimetre, open);
    } else {
      w.number({"width_mm", "Width", "Along the plate, level", must}, o.width, in_file::millimetre, open);
      w.number({"height_mm", "Height", "Along the plate, up", must}, o.height, in_file::millimetre, open);
    }
  });
  v.number({"discharge", "Discharge coefficient",
            "0.62 for a sharp edge; 0.8 and more for a rounded one; 0.5 for a flap"},
           o.discharge, in_file::plain, {0, 1, true});
  v.choice({"passes", "Passes", "Which way fuel may go"}, o.passes, names);
  v.choice({"door", "Door", "What makes it pass one way"}, o.door);
}

template <class V>
void describe(V& v, tank::Baffle& b) {
  v.text({"name", "Name", "In tables and pictures", must}, b.name);
  v.vector({"point_mm", "Place", "A point of the plate", must}, b.point, in_file::millimetre, anywhere);
  v.vector({"normal", "Normal", "At right angles to the plate", must}, b.normal, in_file::plain,
           direction_range);
  v.optional_number(
      {"top_mm", "Height of the edge, z", "Above it the section is open; absent: up to the roof"}, b.top,
      in_file::millimetre, anywhere);
  v.places(
      {"outline_mm", "Outline", "Points in the plate, outside which it is open; absent: the whole section"},
      b.outline, "at_mm", in_file::millimetre, anywhere);
  v.list_by({"openings", "Openings", "Holes, slots, notches, doors"}, b.openings,
            [](auto& w, tank::OpeningPart& o) {
              describe_opening(w, o, [](tank::Passes p) { return name_of(p); });
            });
}

template <class V>
void describe(V& v, tank::Collector& c) {
  v.text({"name", "Name", "Its space bears it", must}, c.name);
  v.object({"shape", "Shape", "What it takes of the tank", must}, c.shape);
  v.flag({"top", "Top", "Open: fuel comes over its rim"}, c.open_top, "closed", "open");
  v.number(
      {"crowded_percent", "Crowded",
       "Share of its section that pumps, hoses and socks take: it breaks the swing in it; its volume stays"},
      c.crowded, in_file::percent, {0, 80});
  v.list_by({"openings", "Openings", "On its walls"}, c.openings,
            [](auto& w, tank::OpeningPart& o) { describe_opening(w, o, &tank::collector_name_of); });
}

template <class V>
void describe(V& v, tank::Foam& f) {
  v.text({"name", "Name", "In tables and pictures", must}, f.name);
  v.optional_object({"shape", "Shape", "Absent: everywhere in the tank"}, f.shape);
  v.number({"porosity_percent", "Porosity", "Share of the foam's volume that fuel can take"}, f.porosity,
           in_file::percent, {60, 100});
  v.number({"permeability_m2", "Permeability, m2",
            "Darcy permeability: 10 pores an inch about 1e-7 m2, 25 about 1e-8"},
           f.permeability, in_file::square_metre, {1e-12, 1e-3});
  v.number({"keeps_percent", "Keeps back",
            "Share of the foam's volume whose fuel never comes out: 2.5 (coarse) to 4.5 % (fine) at most"},
           f.keeps, in_file::percent, {0, 20});
}

template <class V>
void describe(V& v, tank::Body& b) {
  v.text({"name", "Name", "In tables and pictures", must}, b.name);
  v.object({"shape", "Shape", "The room it takes", must}, b.shape);
}

template <class V>
void describe(V& v, tank::Pickup& p) {
  v.text({"name", "Pickup", "Findings and maps name it", must}, p.name);
  v.vector({"position_mm", "Place", "Its middle, inside the tank", must}, p.position, in_file::millimetre,
           anywhere);
  v.number({"sock_radius_mm", "Sock radius", "A level disc; 0 is a bare tube end"}, p.sock_radius,
           in_file::millimetre, {0, 500});
  v.text({"feeds", "Feeds", "A lift pump's name, or \"engine\" without a surge tank"}, p.feeds);
}

template <class V>
void describe(V& v, tank::ReturnOutlet& r) {
  v.text({"name", "Name", "In tables and pictures", must}, r.name);
  v.vector({"position_mm", "Place", "Where overflow and return end; the first is used", must}, r.position,
           in_file::millimetre, anywhere);
}

template <class V>
void describe(V& v, tank::Vent& t) {
  v.vector({"position_mm", "Place", "Its space is open to the air", must}, t.position, in_file::millimetre,
           anywhere);
}

template <class V>
void describe(V& v, tank::Sender& s) {
  v.vector({"pivot_mm", "Pivot", "Of the float's arm", must}, s.pivot, in_file::millimetre, anywhere);
  v.number({"heading_deg", "Points, from forward", "To the left is positive"}, s.heading, in_file::degree,
           {-360, 360});
  v.number({"arm_mm", "Arm", "Pivot to the float's middle", must}, s.arm, in_file::millimetre,
           {0, 2000, true});
  v.number({"empty_deg", "Reads empty at", "Angle of the arm over level"}, s.empty, in_file::degree,
           {-90, 90});
  v.number({"full_deg", "Reads full at", "Angle of the arm over level"}, s.full, in_file::degree, {-90, 90});
  v.number({"bent_deg", "Arm bent up by", "Since it was calibrated"}, s.bent, in_file::degree, {-90, 90});
  v.number({"raised_mm", "Hanger raised by", "Since it was calibrated"}, s.raised, in_file::millimetre,
           {-500, 500});
}

template <class V>
void describe(V& v, tank::FilledStep& s) {
  v.number({"volume_l", "In the tank", "As it was filled, the car level", must}, s.volume, in_file::litre,
           {0, 5000});
  v.optional_number({"dip_mm", "Dip", "What the stick said", false, "not read"}, s.dip, in_file::millimetre,
                    {0, 5000});
  v.optional_number({"gauge_percent", "Gauge", "What the gauge said", false, "not read"}, s.gauge,
                    in_file::percent, {0, 100});
}

template <class V>
void describe(V& v, tank::TankParts& t) {
  v.inline_or_list({"shapes", "Shapes", "The tank is their union; a mesh only as the first"}, t.shapes,
                   t.short_form);
  v.number({"usable_percent", "May be filled to",
            "Share of the whole volume that may be filled; the rest is room to expand"},
           t.usable_share, in_file::percent, {0, 100, true});
  v.list({"baffles", "Baffles", "Plates across the tank"}, t.baffles);
  v.list({"collectors", "Collectors", "Boxes that hold fuel round a pickup"}, t.collectors);
  v.list({"foam", "Foam", "Takes some of the volume and slows the fuel"}, t.foam);
  v.list({"bodies", "Bodies", "What takes up room"}, t.bodies);
  v.list({"pickups", "Pickups", "Where fuel is drawn"}, t.pickups);
  v.list({"returns", "Returns", "Where overflow and return end"}, t.returns);
  v.optional_object({"vent", "Vent", "Absent: the tank is closed"}, t.vent);
  v.optional_object({"sender", "Level sender", "A float on an arm"}, t.sender);
  v.list({"filled_steps", "Filled in steps", "Dip and gauge as the tank itself said; stand above geometry"},
         t.filled);
}

}  // namespace uadze::project
