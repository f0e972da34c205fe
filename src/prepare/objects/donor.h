// Set-up taken from another object that has it: values of its card, attachment points, entries in the game's
// lists, lamps, emitters, shapes and sounds. The other object may be of the same mod or of another.
#pragma once

#include <string>
#include <vector>

#include "geometry/bounds.h"
#include "mod/documents.h"
#include "rulebook/rulebook.h"

namespace rakugo::prepare {

enum class SetUp : unsigned char { field, point, entry, piece };
/// "field", "point", "list", "piece".
const char* setUpName(SetUp sort);

/// Something that the donor has.
struct DonorOffer {
  SetUp sort = SetUp::field;
  std::string id;            ///< of the field, point or list; name of the piece
  std::string title;         ///< for people
  std::string theirs, ours;  ///< in words; `ours` is empty where there is nothing
  [[nodiscard]] bool differs() const { return theirs != ours; }
};

/// An object of a mod with the box of its main model as it is prepared; an empty box: places are carried over
/// as they stand.
struct DonorSide {
  const mod::ModState& mod;
  std::string object;
  geometry::Bounds box_m;  ///< of the first piece that is a model, in that model's space
};

/// All that may be taken: what both sides' kinds have. Values that name what the taking mod has not, and
/// pieces that its kind does not take, are left out. Points are those of the first piece that is a model.
std::vector<DonorOffer> donorOffers(const rulebook::Rulebook& book, const DonorSide& taker,
                                    const DonorSide& donor);

/// Takes what was chosen among the offers. Points and pieces that are there get the donor's place and values;
/// what is not there is added, on the object itself. A place keeps its share of the box along each axis, so
/// that a lamp at the masthead of a small boat is at that of a large one. Entries of a list replace those
/// that are there. Two pieces that are a pair and both taken stay one. Errors: mod.no_object, donor.no_model.
base::Status takeSetUp(mod::ModState& mod, const rulebook::Rulebook& book, const DonorSide& taker,
                       const DonorSide& donor, const std::vector<DonorOffer>& chosen);

/// The place in the second box that has the same share of it along each axis as a place has in the first; as
/// it is where either box is empty. An axis along which the first has no extent moves by the middles.
glm::dvec3 carriedOver(const glm::dvec3& place, const geometry::Bounds& from, const geometry::Bounds& to);

}  // namespace rakugo::prepare
