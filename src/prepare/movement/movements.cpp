#include "prepare/movement/movements.h"

#include <cmath>
#include <map>
#include <mutex>

#include "base/phrase.h"
#include "base/text.h"
#include "prepare/bones/bone_ops.h"
#include "prepare/shipped_models.h"
#include "scene/pose.h"

namespace rakugo::prepare {
namespace {

base::Result<std::shared_ptr<const GameFigure>> figureOf(const scene::Model& model,
                                                         const std::filesystem::path& path,
                                                         const rulebook::Skeleton& skeleton) {
  auto out = std::make_shared<GameFigure>();
  out->model = model;
  out->model.frame.turned = true;  // it lies in the game's axes as it is
  std::map<std::string, scene::NodeIndex> named;
  for (const scene::NodeIndex i : scene::reachedNodes(out->model)) named.emplace(out->model.node(i).name, i);
  for (const rulebook::Bone& bone : skeleton.bones) {
    const auto found = named.find(bone.id);
    if (found == named.end())
      return base::Error{"movements.bone", base::phrase("The movements lack the bone \"{0}\".", bone.id),
                         base::Place{path.string()}, base::phrase("Name its nodes as the skeleton's bones.")};
    out->bones.push_back(found->second);
  }
  // A figure whose bones lie otherwise than the rulebook says would move models by axes that are not the
  // game's.
  const auto world = scene::worldMatrices(out->model);
  for (size_t s = 0; s < skeleton.bones.size(); ++s) {
    const glm::quat turn = scene::turnOf(world[out->bones[s].value()]);
    if (std::abs(glm::dot(turn, slotTurn(skeleton.bones[s]))) < 0.999F)
      return base::Error{
          "movements.turn",
          base::phrase("The bone \"{0}\" is turned otherwise in the movements than in the skeleton.",
                       skeleton.bones[s].id),
          base::Place{path.string()}, base::phrase("Give the skeleton's bone the turn that the file has.")};
  }
  for (const rulebook::Movement& movement : skeleton.movements) {
    size_t at = 0;
    while (at < out->model.animations.size() && out->model.animations[at].name != movement.id) ++at;
    if (at == out->model.animations.size())
      return base::Error{
          "movements.animation", base::phrase("The movements lack the animation \"{0}\".", movement.id),
          base::Place{path.string()}, base::phrase("Name its animations as the skeleton's movements.")};
    out->animations.push_back(at);
  }
  return std::shared_ptr<const GameFigure>(std::move(out));
}

}  // namespace

base::Result<std::shared_ptr<const GameFigure>> gameFigure(const rulebook::Rulebook& book,
                                                           const rulebook::Skeleton& skeleton) {
  if (skeleton.movements_file.empty())
    return base::Error{"movements.none",
                       base::phrase("The rulebook {0} ships no movements for the {1}.", book.title,
                                    base::lowerAscii(skeleton.title)),
                       {},
                       {}};
  RAKUGO_ASSIGN(const auto model, shippedModel(book, skeleton.movements_file));
  // Made anew when the file was read anew.
  struct Kept {
    std::shared_ptr<const scene::Model> from;
    std::shared_ptr<const GameFigure> figure;
  };
  static std::mutex lock;
  static std::map<std::string, Kept> kept;
  const std::filesystem::path path = book.folder / skeleton.movements_file;
  const std::lock_guard guard(lock);
  Kept& one = kept[path.string() + "\n" + skeleton.id];
  if (one.figure != nullptr && one.from == model) return one.figure;
  RAKUGO_ASSIGN(one.figure, figureOf(*model, path, skeleton));
  one.from = model;
  return one.figure;
}

}  // namespace rakugo::prepare
