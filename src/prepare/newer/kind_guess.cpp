#include "prepare/newer/kind_guess.h"

#include <algorithm>
#include <cmath>
#include <set>

#include "base/text.h"
#include "prepare/edit_steps.h"
#include "prepare/step.h"

namespace rakugo::prepare {
namespace {

// How many of the three bands hold when the model's lengths are read in the unit that suits the kind best; a
// unit other than the one written costs half a band, so that what is right as it stands comes first.
double sizeScore(const scene::Model& model, const rulebook::Rulebook& book, const rulebook::Kind& kind) {
  const glm::vec3 standing = gameExtents(model, book);
  double best = 0;
  for (const LengthUnit& unit : lengthUnits())
    // Few formats say which side is the front; one that looks sideways costs less than another unit.
    for (const bool sideways : {false, true}) {
      const glm::vec3 extents = sideways ? glm::vec3(standing.y, standing.x, standing.z) : standing;
      const double factor = unit.metres / model.frame.read_unit_m;
      // Inches and feet are written seldom enough that a kind which needs them is no likely one.
      const bool rare = std::string(unit.id) == "in" || std::string(unit.id) == "ft";
      double score = (std::abs(factor - 1) < 1e-9 ? 0 : rare ? -1.2 : -0.5) - (sideways ? 0.2 : 0), tight = 0;
      const std::optional<rulebook::Band>* bands[] = {&kind.length_m, &kind.width_m, &kind.height_m};
      for (int a = 0; a < 3; ++a) {
        const auto& band = *bands[a];
        if (!band || !band->holds(extents[a] * factor)) continue;
        score += 1;
        // A narrow band that holds says more than a wide one.
        tight += 1 / (1 + std::log2(std::max(1.0, band->max / std::max(band->min, 1e-6))));
      }
      best = std::max(best, score + tight);
    }
  return best;
}

double boneScore(const scene::Model& model, const rulebook::Rulebook& book, const rulebook::Kind& kind) {
  std::set<std::string> bones;
  for (const scene::NodeIndex joint : scene::usedJoints(model)) bones.insert(model.node(joint).name);
  const rulebook::Skeleton* skeleton = book.findSkeleton(kind.skeleton);
  if (skeleton == nullptr) return bones.empty() ? 0 : -2;  // bones in a thing that needs none
  if (bones.empty()) return -4;
  double known = 0;
  for (const rulebook::Bone& bone : skeleton->bones) known += bones.count(bone.id) != 0 ? 1 : 0;
  return 2 + 2 * known / static_cast<double>(skeleton->bones.size());
}

double hintScore(const scene::Model& model, const rulebook::Kind& kind) {
  double hits = 0;
  for (const scene::Material& m : model.materials)
    for (const rulebook::Role& role : kind.roles)
      for (const std::string& hint : role.hints)
        if (base::lowerAscii(m.name).find(base::lowerAscii(hint)) != std::string::npos) {
          hits += 1;
          break;
        }
  return std::min(1.0, 0.3 * hits);
}

// What a kind would refuse is hardly meant to be one.
double limitScore(const scene::Model& model, const rulebook::Kind& kind) {
  const scene::Counts counts = scene::countsOf(model);
  const bool over =
      (kind.max_triangles > 0 && counts.triangles > static_cast<uint64_t>(kind.max_triangles)) ||
      (kind.max_vertices > 0 && counts.vertices > static_cast<uint64_t>(kind.max_vertices));
  return over ? -1.5 : 0;
}

}  // namespace

const rulebook::Kind* likelyKind(const scene::Model& model, const rulebook::Rulebook& book) {
  const rulebook::Kind* best = nullptr;
  double best_score = 0;
  for (const rulebook::Kind& kind : book.kinds) {
    const double score = sizeScore(model, book, kind) + boneScore(model, book, kind) +
                         hintScore(model, kind) + limitScore(model, kind);
    if (best == nullptr || score > best_score + 1e-9) {
      best = &kind;
      best_score = score;
    }
  }
  return best;
}

}  // namespace rakugo::prepare
