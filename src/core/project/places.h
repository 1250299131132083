#pragma once
// Where a member of a project stands in its file, and whether its values are within their ranges: the one
// place where faults (base/fault.h) get their JSON pointers.
//
// Example:
//   using namespace uadze;
//   project::Project p;
//   p.setups.resize(2);
//   p.setups[1].surge = starvation::SurgeTank{.volume = -1.0};
//   const project::Places places = project::places_in(p);
//   EXPECT_EQ(places.pointer(place_of(p.setups[1].surge->volume)), "/setups/1/surge_tank/volume_l");
//   const Messages said = places.messages({{Severity::error, place_of(p.setups[0].name), "a text", "none"}}, "p.json");
//   EXPECT_EQ(said[0].text(), "error: p.json: /setups/0/name: expected a text, found none");
#include "core/base/fault.h"
#include "core/project/project.h"

namespace uadze::lap {
struct Track;
}

namespace uadze::project {

struct CatalogueFile;

class Places {
 public:
  /// JSON pointer of the member; that of the whole ("" or the prefix) if it is none of the described values'.
  std::string pointer(const ValuePlace& member) const;
  Messages messages(const Faults& faults, const std::string& file) const;
  /// Numbers out of their ranges, empty texts where one is needed: what reading the file would refuse.
  const Faults& out_of_range() const { return out_of_range_; }

 private:
  friend class PlaceVisitor;
  /// One step from a value to its member: "/key", "/key/2" or "/key/2/then". The texts are made when asked
  /// for: most values are never at fault, and the window looks at all of them with every move of a hand.
  struct Step {
    int from = -1;  ///< index of the step before; -1: the root
    const char* key = "";
    int index = -1;
    const char* then = nullptr;
  };
  struct Stand {
    ValuePlace member;
    Step step;
  };
  std::string text_of(const Step& step) const;

  std::vector<Stand> stands_;  ///< by member; the outermost of several that share an address comes first
  std::vector<Step> steps_;    ///< of the values that have members
  Faults out_of_range_;
  std::string root_;
};

/// The places refer to members of the value given, which must stay where it is. `root`: the value's own
/// place.
Places places_in(const Project& project);
Places places_in(const Setup& setup, const std::string& root = "");
Places places_in(const tank::TankParts& tank, const std::string& root = "");
Places places_in(const circuit::Circuit& circuit, const std::string& root = "");
Places places_in(const CatalogueFile& catalogue);
Places places_in(const lap::Track& track);

}  // namespace uadze::project
