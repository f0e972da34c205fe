// What a check may look at, and how it reports. Checks are pure: context in, findings out.
#pragma once

#include <map>
#include <optional>
#include <set>
#include <string>
#include <vector>

#include "base/shared_map.h"
#include "check/proposal.h"
#include "formats/pictures/picture_traits.h"
#include "formats/sounds.h"
#include "prepare/matching/bone_match.h"
#include "prepare/movement/pose_tests.h"
#include "prepare/objects/sound_pieces.h"
#include "prepare/replay.h"
#include "prepare/weights/skin_faults.h"
#include "prepare/weights/weight_faults.h"
#include "rulebook/rulebook.h"
#include "scene/regions.h"
#include "scene/same_parts.h"
#include "scene/seams.h"
#include "scene/structure.h"
#include "scene/variants.h"
#include "scene/weights.h"

namespace rakugo::geometry {
class Occupancy;
}

namespace rakugo::check {

/// A source as it was found on disk.
struct SourceState {
  prepare::SourceModel read;                    ///< null when it could not be read, or is no model
  std::shared_ptr<const formats::Sound> sound;  ///< of a source that is a sound
  /// What is made of it, remembered as long as it is the same sound.
  std::shared_ptr<prepare::SoundsMade> sounds_made;
  std::optional<formats::PictureInfo> picture;  ///< of a source that is a picture
  std::optional<base::Error> error;
  std::vector<std::string> changed_files;  ///< whose SHA-256 is not what source.json says
  std::vector<std::string> missing_files;  ///< that source.json names and that are not there
};

/// A picture of a prepared model, examined.
struct PictureState {
  std::optional<formats::PictureInfo> info;
  formats::PictureTraits traits;  ///< where it could be read
  std::optional<base::Error> error;
};

/// Which way a model seems to look, by its likeness to the game's own example.
struct FacingGuess {
  geometry::Axis forward;
  double likeness = 0, present = 0;  ///< 0 to 1: looking that way, and as it stands
};

/// Results worked out from a prepared model and kept until it changes, because each visits every vertex.
/// Pointers are null where there is no model.
struct ModelFacts {
  /// How its parts hang together.
  std::shared_ptr<const std::vector<scene::PartStructure>> structure;
  bool thorough = false;  ///< whether `structure` has what only a thorough look finds
  /// Its parts that are copies of each other.
  std::shared_ptr<const std::vector<scene::SameParts>> same_parts;
  /// What covers which region.
  std::shared_ptr<const std::vector<scene::RegionCover>> regions;
  /// How it meets the body of its kind; null too when the kind has none, or the model is not turned yet.
  std::shared_ptr<const scene::SeamReport> seams;
  /// Which of its bones are the game's, and what follows them; null where its kind has no skeleton.
  std::shared_ptr<const prepare::BoneMatch> bones;
  std::shared_ptr<const scene::WeightReport> weights;
  /// What the game's movements make of it at the moments that the rulebook names; null too where it ships
  /// none, or the model is not turned yet.
  std::shared_ptr<const std::vector<prepare::MomentOff>> moments;
  /// What its skin does in them, the worst first; null as above.
  std::shared_ptr<const std::vector<prepare::SkinFault>> skin_faults;
  /// Weights that are well formed and still wrong; null where its kind has no skeleton.
  std::shared_ptr<const prepare::WeightFaults> weight_faults;
  /// Nothing where its kind has no example.
  std::optional<FacingGuess> facing;
  geometry::Bounds box_m;
  double reach_m = 0;  ///< from its origin to its farthest vertex
};

struct ModelState : ModelFacts {
  prepare::Prepared prepared;          ///< model is null when the source could not be read
  std::vector<PictureState> pictures;  ///< one an image of the model
  /// The kind that it is held against here: of the first object that uses the model; null when none does.
  const rulebook::Kind* kind = nullptr;
  std::string object;                ///< the first object of that kind that uses it
  std::vector<std::string> objects;  ///< all objects of that kind that use it
  /// Other sizes of it that could be read, by variant, each through the same steps, and how it compares with
  /// the model.
  struct Variant {
    prepare::Prepared prepared;
    std::shared_ptr<const scene::VariantReport> report;
  };
  std::map<std::string, Variant> variants;
  std::optional<Proposal> unit, axes;  ///< of its source; nothing for a model without vertices
};

/// A ghost of the rulebook, read.
struct Ghost {
  std::shared_ptr<const scene::Model> model;
  glm::vec3 size_m{0};                               ///< of its box
  std::shared_ptr<const geometry::Occupancy> shape;  ///< in the game's axes
};

/// Another mod that is installed in the game.
struct InstalledMod {
  std::string file, id, title, author;
  std::vector<std::string> objects;  ///< ids of what it defines
};

struct Context {
  /// The example of a kind; null where there is none.
  [[nodiscard]] const Ghost* ghostOf(const rulebook::Kind& kind) const {
    const auto found = ghosts.find(kind.id);
    return found == ghosts.end() ? nullptr : &found->second;
  }
  const mod::ModState* mod = nullptr;
  const rulebook::Rulebook* book = nullptr;
  bool has_objects = false;  ///< of the whole mod, of which this may be a part
  base::SharedMap<SourceState> sources;
  base::SharedMap<ModelState> models;
  /// The same models held against the other kinds of the objects that use them; most have none.
  base::SharedMap<std::vector<ModelState>> further_kinds;
  std::map<std::string, Ghost> ghosts;  ///< by kind id
  std::vector<std::string> files;       ///< of the mod folder, relative, sorted
  /// Files of the rulebook that could not be read: what is checked by them is not checked.
  std::vector<base::Error> rulebook_errors;
  std::vector<InstalledMod> installed;  ///< in the game's order; empty when no game folder is known
};

/// The station of the window where a finding is mended.
enum class Station : unsigned char { sources, shape, skeleton, surface, objects, bundle, tryout };
/// "sources", "shape", ...
const char* stationName(Station station);

/// One row of the table of checks, beside the function that it runs.
struct CheckRow {
  const char* id;
  int rank;  ///< rows run, and findings of one severity stand, by rank
  Severity severity;
  Station station;
  std::vector<const char*> facts;  ///< ids of the facts that it looks at (facts.h)
  const char* title;               ///< "Size outside the kind's range"
  const char* reason;              ///< why it matters in any game; a rulebook may say it better
  const char* cure;                ///< what its mend does, or what the person can do
  void (*run)(const Context& context, const CheckRow& row, std::vector<Finding>& out);
  /// Where `run` looks at models and objects alone: what else it looks at, such as the mod's card. Else null.
  void (*run_beside)(const Context& context, const CheckRow& row, std::vector<Finding>& out) = nullptr;
};

/// All checks, in the order in which they run.
const std::vector<CheckRow>& checkTable();
/// The row of that id, or null.
const CheckRow* findCheck(const std::string& id);
/// Adds a row for the rest of the program; replaces one of that id. Call it before the first thread is
/// started.
void addCheck(CheckRow row);
/// Why a check matters in the game of a rulebook: in its own words where it has some.
std::string reasonOf(const CheckRow& row, const rulebook::Rulebook& book);
/// Runs the whole table, once (`KeptFindings`).
std::vector<Finding> runChecks(const Context& context, const base::Progress* progress = nullptr);
/// docs/checks.md, generated.
std::string checksDocument();

}  // namespace rakugo::check
