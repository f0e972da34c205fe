// Runtime meshes, materials and pictures of a bundle back as a model that can be written in an open format.
#pragma once

#include <map>
#include <string>
#include <vector>

#include "bundle/bundle_reader.h"
#include "bundle/records.h"
#include "packing/game_space.h"
#include "scene/model.h"

namespace rakugo::packing {

/// Makes models of the parts of a bundle's objects. What a bundle's entries say was checked by their readers;
/// the bundle outlives this.
class ModelUnpacker {
 public:
  ModelUnpacker(const bundle::Bundle& bundle, const rulebook::Rulebook& book)
      : bundle_(bundle), book_(book), space_(book) {}

  /// A model of those parts, each where `from_model` (the inverse of the model's place in the object, metres)
  /// puts it: in the game's axes, metres, at rest, without bones; materials and pictures as far as they are
  /// worn. Pictures become PNG. Errors: bundle.* of an entry that is missing or damaged.
  base::Result<scene::Model> model(const std::vector<const bundle::ObjectPiece*>& parts,
                                   const glm::mat4& from_model);
  /// Where a part stands in the object, metres.
  [[nodiscard]] glm::mat4 placeOf(const bundle::ObjectPiece& part) const;
  [[nodiscard]] const GameSpace& space() const { return space_; }
  /// What is not in the models, for people; empty where nothing is lost.
  [[nodiscard]] std::vector<std::string> lost() const;

 private:
  base::Result<base::Bytes> raw(const std::string& id, bundle::EntryKind kind) const;
  base::Result<scene::Mesh> mesh(const std::string& id, scene::Model& into);
  base::Result<scene::MaterialIndex> material(const std::string& id, scene::Model& into);
  base::Result<scene::ImageIndex> picture(const std::string& id, scene::Model& into);
  const bundle::Bundle& bundle_;
  const rulebook::Rulebook& book_;
  GameSpace space_;
  std::map<std::string, scene::MaterialIndex> materials_;  // of the model that is made
  std::map<std::string, scene::ImageIndex> images_;
  std::map<std::string, std::shared_ptr<const base::Bytes>> pictures_;  // as PNG, of all models
  bool bones_ = false, lighter_ = false, morphs_ = false;
};

}  // namespace rakugo::packing
