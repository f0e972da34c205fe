// Materials of COLLADA's common profile, with their pictures. Private to this library.
#pragma once

#include "formats/collada/collada_document.h"

namespace rakugo::formats::collada {

/// Which set of texture coordinates a material's name for one means, as an instance binds it.
using UvBinding = std::map<std::string, int>;

/// Materials as they are asked for; each once.
class Materials {
 public:
  Materials(Library& library, ReadModel& out) : library_(library), out_(out) {}
  /// The material of a <material> element. `uv_sets` are the set numbers behind the first and second texture
  /// coordinates of the mesh that asks first.
  base::Result<scene::MaterialIndex> material(const Element& element, const UvBinding& binding,
                                              const std::array<int, 2>& uv_sets);
  /// A plain one of that name, for a mesh that names a material which no instance binds.
  scene::MaterialIndex plain(const std::string& symbol);

 private:
  struct Effect;
  base::Status technique(const Effect& effect, const Element& shader, scene::Material& m);
  base::Status texture(const Effect& effect, const Element& texture, scene::TextureUse& use);
  base::Status own(const Effect& effect, const Element& shader, scene::Material& m);
  base::Result<scene::ImageIndex> image(const Element& element);
  base::Status color(const Element& holder, glm::vec4& out, bool& given);
  void opacity(const Element& shader, const glm::vec4& transparent, bool given, scene::Material& m);

  Library& library_;
  ReadModel& out_;
  std::map<const void*, scene::MaterialIndex> known_;
  std::map<std::string, scene::MaterialIndex> plain_;
  std::map<const void*, scene::ImageIndex> images_;
};

}  // namespace rakugo::formats::collada
