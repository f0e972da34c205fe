// Set-up taken from another object that has it: values of its card, roles of materials, attachment points,
// entries in the game's lists, lamps, emitters, shapes, sounds and moving parts. The other object may be of
// the same mod, of another, or of a bundle.
#pragma once

#include <string>
#include <vector>

#include "geometry/bounds.h"
#include "mod/documents.h"
#include "rulebook/rulebook.h"
#include "scene/model.h"

namespace rakugo::prepare {

enum class SetUp : unsigned char { field, role, point, entry, piece };
/// "field", "role", "point", "list", "piece".
const char* setUpName(SetUp sort);

/// Something that the donor has.
struct DonorOffer {
  SetUp sort = SetUp::field;
  std::string id;            ///< of the field, point or list; name of the piece or material
  std::string title;         ///< for people
  std::string theirs, ours;  ///< in words; `ours` is empty where there is nothing
  [[nodiscard]] bool differs() const { return theirs != ours; }
};

/// A material that parts of an object's main model wear.
struct DonorMaterial {
  std::string key, name, role;
};
/// What is taken over from what an object's main model is like when it is prepared: the first piece that is a
/// model. An empty box: places are carried over as they stand.
struct DonorBody {
  geometry::Bounds box_m;  ///< in the model's space
  std::vector<DonorMaterial> materials;
};
DonorBody donorBodyOf(const scene::Model& prepared);

/// An object of a mod.
struct DonorSide {
  const mod::ModState& mod;
  std::string object;
  DonorBody body;
};

/// All that may be taken: what both sides' kinds have. Values that name what the taking mod has not, and
/// pieces that its kind does not take, are left out. Points are those of the first piece that is a model.
std::vector<DonorOffer> donorOffers(const rulebook::Rulebook& book, const DonorSide& taker,
                                    const DonorSide& donor);

/// Takes what was chosen among the offers. Points and pieces that are there get the donor's place and values;
/// what is not there is added, on the object itself. A place keeps its share of the box along each axis, so
/// that a lamp at the masthead of a small boat is at that of a large one. Entries of a list replace those
/// that are there. A role goes to the materials that are called as the donor's. Two pieces that are a pair
/// and both taken stay one. Errors: mod.no_object, donor.no_model.
base::Status takeSetUp(mod::ModState& mod, const rulebook::Rulebook& book, const DonorSide& taker,
                       const DonorSide& donor, const std::vector<DonorOffer>& chosen);

/// The place in the second box that has the same share of it along each axis as a place has in the first; as
/// it is where either box is empty. An axis along which the first has no extent moves by the middles.
glm::dvec3 carriedOver(const glm::dvec3& place, const geometry::Bounds& from, const geometry::Bounds& to);

}  // namespace rakugo::prepare
