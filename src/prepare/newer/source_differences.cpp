#include "prepare/newer/source_differences.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <set>

#include "base/phrase.h"
#include "base/text.h"
#include "prepare/step.h"

namespace rakugo::prepare {
namespace {

using base::Json;
using scene::Model;
using scene::NodeIndex;

constexpr double kSameName = 0.6;
// More pairs than this are not compared: the work is their product.
constexpr size_t kMostCompared = 400;

// What makes a part recognisable: how much it draws, how large it is, where it is.
struct Shape {
  uint64_t triangles = 0, vertices = 0;
  glm::vec3 center{0}, size{0};
  bool drawn = false;
};

Shape shapeOf(const Model& model, NodeIndex part, const std::vector<glm::mat4>& world) {
  Shape out;
  const scene::Node& node = model.node(part);
  out.center = glm::vec3(world[part.value()][3]);
  if (!node.mesh.valid()) return out;
  for (const scene::Primitive& p : model.mesh(node.mesh).primitives) {
    out.triangles += p.indices.size() / 3;
    out.vertices += p.positions.size();
  }
  const geometry::Bounds box = scene::partBounds(model, part, world);
  if (box.empty()) return out;
  out.center = box.center();
  out.size = box.size();
  out.drawn = true;
  return out;
}

double ratio(double a, double b) {
  const double high = std::max(a, b);
  return high > 0 ? std::min(a, b) / high : 1;
}

double nameLikeness(const std::string& a, const std::string& b) {
  const std::string x = base::lowerAscii(a.substr(a.rfind('/') + 1)),
                    y = base::lowerAscii(b.substr(b.rfind('/') + 1));
  const auto longest = static_cast<double>(std::max<size_t>({x.size(), y.size(), 1}));
  return std::max(0.0, 1 - base::editDistance(x, y) / longest);
}

double likeness(const Shape& a, const Shape& b, float whole, const std::string& from, const std::string& to) {
  if (a.drawn != b.drawn) return 0;
  const double distance = glm::length(a.center - b.center) / std::max(whole, 1e-9F);
  const double place = std::max(0.0, 1 - 4 * distance), name = nameLikeness(from, to);
  if (!a.drawn) return 0.5 * place + 0.5 * name;
  const double size =
      ratio(glm::length(a.size), glm::length(b.size)) *
      std::max(0.0, 1.0 - glm::length(a.size - b.size) / std::max(1e-9F, glm::length(a.size)));
  const double mesh = ratio(static_cast<double>(a.triangles), static_cast<double>(b.triangles));
  return 0.3 * mesh + 0.3 * size + 0.3 * place + 0.1 * name;
}

template <class Set>
std::vector<std::string> without(const Set& a, const Set& b) {
  std::vector<std::string> out;
  std::set_difference(a.begin(), a.end(), b.begin(), b.end(), std::back_inserter(out));
  return out;
}

// Takes the likeliest pairs out of the two lists.
template <class Likeness>
std::vector<Renamed> pairUp(std::vector<std::string>& gone, std::vector<std::string>& fresh, Likeness alike) {
  std::vector<Renamed> all, out;
  if (gone.size() > kMostCompared || fresh.size() > kMostCompared) return out;
  for (const std::string& g : gone)
    for (const std::string& n : fresh)
      if (const double l = alike(g, n); l > kSameName) all.push_back({g, n, l});
  std::stable_sort(all.begin(), all.end(),
                   [](const Renamed& a, const Renamed& b) { return a.likeness > b.likeness; });
  std::set<std::string> from, to;
  for (const Renamed& r : all) {
    if (from.count(r.from) != 0 || to.count(r.to) != 0) continue;
    from.insert(r.from);
    to.insert(r.to);
    out.push_back(r);
  }
  std::erase_if(gone, [&](const std::string& g) { return from.count(g) != 0; });
  std::erase_if(fresh, [&](const std::string& n) { return to.count(n) != 0; });
  return out;
}

std::set<std::string> boneNames(const Model& model) {
  std::set<std::string> out;
  for (const NodeIndex j : scene::usedJoints(model)) out.insert(model.node(j).name);
  return out;
}

std::set<std::string> materialKeys(const Model& model) {
  std::set<std::string> out;
  for (const scene::Material& m : model.materials) out.insert(m.key);
  return out;
}

double materialLikeness(const Model& was, const Model& is, const std::string& from, const std::string& to) {
  const scene::Material &a = was.materials[scene::findMaterial(was, from).value()],
                        &b = is.materials[scene::findMaterial(is, to).value()];
  const auto picture = [](const Model& m, const scene::TextureUse& use) {
    return use.image.valid() ? m.images[use.image.value()].uri + m.images[use.image.value()].name
                             : std::string();
  };
  const double color = std::max(0.0, 1 - static_cast<double>(glm::length(a.base_color - b.base_color)));
  const std::string one = picture(was, a.base_color_texture), two = picture(is, b.base_color_texture);
  const double pictures = one == two ? 1 : one.empty() != two.empty() ? 0 : nameLikeness(one, two);
  return 0.35 * color + 0.35 * pictures + 0.3 * nameLikeness(from, to);
}

bool sameMesh(const Model& a, NodeIndex i, const Model& b, NodeIndex j) {
  const scene::MeshIndex m = a.node(i).mesh, n = b.node(j).mesh;
  if (m.valid() != n.valid()) return false;
  if (!m.valid()) return true;
  const scene::Mesh &x = a.mesh(m), &y = b.mesh(n);
  if (x.primitives.size() != y.primitives.size()) return false;
  for (size_t k = 0; k < x.primitives.size(); ++k) {
    const scene::Primitive &p = x.primitives[k], &q = y.primitives[k];
    if (p.positions != q.positions || p.indices != q.indices || p.normals != q.normals || p.uvs != q.uvs ||
        p.weights != q.weights || p.joints != q.joints)
      return false;
  }
  return true;
}

void say(std::vector<std::string>& out, const std::vector<std::string>& keys, const char* what,
         const char* happened) {
  if (keys.empty()) return;
  std::vector<std::string> names;
  for (const std::string& k : keys) names.push_back(k.substr(k.rfind('/') + 1));
  out.push_back(std::string(keys.size() == 1 ? what : (std::string(what) + "s").c_str()) + " " + happened +
                ": " + base::listText(names, 6) + ".");
}

void sayCount(std::vector<std::string>& out, uint64_t was, uint64_t is, const char* what) {
  if (was != is)
    out.push_back(
        base::phrase("{0} {1}; there were {2}.", base::groupedText(is), what, base::groupedText(was)));
}

// A bone as it stands among all bones of its model.
struct BoneShape {
  glm::vec3 place{0}, share{0};  // in the model's space; in the box of all bones, 0 to 1
  size_t children = 0, depth = 0;
};

std::map<std::string, BoneShape> boneShapes(const Model& model) {
  const auto world = scene::worldMatrices(model);
  const std::vector<NodeIndex> joints = scene::usedJoints(model);
  geometry::Bounds box;
  for (const NodeIndex j : joints) box.add(glm::vec3(world[j.value()][3]));
  std::map<std::string, BoneShape> out;
  for (const NodeIndex j : joints) {
    BoneShape shape;
    shape.place = glm::vec3(world[j.value()][3]);
    const glm::vec3 size = box.size();
    for (int i = 0; i < 3; ++i) shape.share[i] = size[i] > 0 ? (shape.place[i] - box.min[i]) / size[i] : 0;
    shape.children = model.node(j).children.size();
    for (NodeIndex up = model.node(j).parent; up.valid(); up = model.node(up).parent) ++shape.depth;
    out.emplace(model.node(j).key, shape);
  }
  return out;
}

double boneLikeness(const BoneShape& a, const BoneShape& b, float whole, const std::string& from,
                    const std::string& to) {
  const double name = nameLikeness(from, to);
  // Where it stands, or where it stands among the others: a model may come back larger, or elsewhere.
  const double apart =
      std::min(glm::length(a.place - b.place) / std::max(whole, 1e-9F), glm::length(a.share - b.share));
  const double place = std::max(0.0, 1 - 4 * apart);
  const double tree = (a.children == b.children ? 0.5 : 0) + (a.depth == b.depth ? 0.5 : 0);
  const double all = 0.5 * place + 0.25 * name + 0.25 * tree;
  return name == 1 ? std::max(all, 0.9) : all;
}

std::set<std::string> keysOf(const std::map<std::string, BoneShape>& shapes) {
  std::set<std::string> out;
  for (const auto& [key, shape] : shapes) out.insert(key);
  return out;
}

// Parts are what is no bone.
std::set<std::string> partKeys(const Model& model, const std::map<std::string, BoneShape>& bones) {
  std::set<std::string> out;
  for (const NodeIndex i : scene::reachedNodes(model))
    if (bones.count(model.node(i).key) == 0) out.insert(model.node(i).key);
  return out;
}

std::string lastName(const std::string& key) { return key.substr(key.rfind('/') + 1); }

// Takes the names of renamed bones out of the lists of those that are gone and new.
void forgetRenamed(NewerDifference& out) {
  const auto forget = [](std::vector<std::string>& names, const std::string& key) {
    std::erase(names, lastName(key));
  };
  for (const Renamed& r : out.bones) forget(out.bones_gone, r.from), forget(out.bones_new, r.to);
}

// What keys of a preparation mean in the newer model.
class References {
 public:
  References(const Model& is, const NewerDifference& difference) : is_(is), difference_(difference) {}

  [[nodiscard]] bool has(const std::string& key, Reference what) const {
    if (what == Reference::material) return scene::findMaterial(is_, key).valid();
    if (scene::findPart(is_, key).valid()) return true;
    // A bone may be meant by its name.
    return what == Reference::bone && key.find('/') == std::string::npos &&
           std::any_of(is_.nodes.begin(), is_.nodes.end(),
                       [&](const scene::Node& node) { return node.name == key; });
  }

  // The pair whose first is the key, or begins it: a piece of a part goes with the part.
  [[nodiscard]] Renamed proposalFor(const std::string& key, Reference what) const {
    Renamed best;
    size_t longest = 0;
    const auto look = [&](const std::vector<Renamed>& pairs) {
      for (const Renamed& r : pairs) {
        const bool begins =
            key.starts_with(r.from) && key.size() > r.from.size() && key[r.from.size()] == '/';
        if ((key != r.from && !begins) || r.from.size() < longest) continue;
        longest = r.from.size();
        best = {key, r.to + key.substr(r.from.size()), r.likeness};
      }
    };
    if (what == Reference::material) {
      for (const Renamed& r : difference_.materials)
        if (r.from == key) return r;
      return {};
    }
    look(difference_.parts);
    look(difference_.bones);
    return best;
  }

  // Whether the older model had it, or what it is a piece of.
  [[nodiscard]] bool wasThere(const std::string& key, Reference what) const {
    const auto among = [&](const std::vector<std::string>& gone, bool by_name) {
      return std::any_of(gone.begin(), gone.end(), [&](const std::string& one) {
        return key == one || (by_name && lastName(key) == one) || key.starts_with(one + "/");
      });
    };
    if (what == Reference::material) return among(difference_.materials_gone, false);
    return among(difference_.parts_gone, false) || among(difference_.bones_gone, true);
  }

 private:
  const Model& is_;
  const NewerDifference& difference_;
};

}  // namespace

bool NewerDifference::none() const { return sentences().empty(); }

std::vector<std::string> NewerDifference::sentences() const {
  std::vector<std::string> out;
  for (const Renamed& r : parts)
    out.push_back(base::phrase("Part {0} is most likely {1} now ({2} % alike).", lastName(r.from),
                               lastName(r.to), base::numberText(r.likeness * 100, 0)));
  for (const Renamed& r : bones)
    if (lastName(r.from) != lastName(r.to))
      out.push_back(base::phrase("Bone {0} is most likely {1} now ({2} % alike).", lastName(r.from),
                                 lastName(r.to), base::numberText(r.likeness * 100, 0)));
  for (const Renamed& r : materials)
    out.push_back(base::phrase("Material {0} is most likely {1} now ({2} % alike).", r.from, r.to,
                               base::numberText(r.likeness * 100, 0)));
  say(out, parts_gone, "Part", "gone");
  say(out, parts_new, "Part", "new");
  say(out, bones_gone, "Bone", "gone");
  say(out, bones_new, "Bone", "new");
  say(out, materials_gone, "Material", "gone");
  say(out, materials_new, "Material", "new");
  say(out, parts_changed, "Part", "reshaped");
  sayCount(out, was.triangles, is.triangles, "triangles");
  sayCount(out, was.vertices, is.vertices, "vertices");
  sayCount(out, animations_was, animations_is, "animations");
  return out;
}

NewerDifference differenceOf(const Model& was, const Model& is) {
  NewerDifference out;
  out.was = scene::countsOf(was);
  out.is = scene::countsOf(is);
  out.animations_was = was.animations.size();
  out.animations_is = is.animations.size();
  const auto old_bones = boneShapes(was), new_bones = boneShapes(is);
  const std::set<std::string> old_parts = partKeys(was, old_bones), new_parts = partKeys(is, new_bones);
  out.parts_gone = without(old_parts, new_parts);
  out.parts_new = without(new_parts, old_parts);
  const auto old_world = scene::worldMatrices(was), new_world = scene::worldMatrices(is);
  std::map<std::string, Shape> old_shapes, new_shapes;
  for (const std::string& key : out.parts_gone)
    old_shapes[key] = shapeOf(was, scene::findPart(was, key), old_world);
  for (const std::string& key : out.parts_new)
    new_shapes[key] = shapeOf(is, scene::findPart(is, key), new_world);
  const float whole = glm::length(scene::boundsOf(was).size());
  out.parts = pairUp(out.parts_gone, out.parts_new, [&](const std::string& g, const std::string& n) {
    return likeness(old_shapes.at(g), new_shapes.at(n), whole, g, n);
  });
  for (const std::string& key : old_parts)
    if (new_parts.count(key) != 0 && !sameMesh(was, scene::findPart(was, key), is, scene::findPart(is, key)))
      out.parts_changed.push_back(key);
  out.bones_gone = without(boneNames(was), boneNames(is));
  out.bones_new = without(boneNames(is), boneNames(was));
  std::vector<std::string> gone = without(keysOf(old_bones), keysOf(new_bones)),
                           fresh = without(keysOf(new_bones), keysOf(old_bones));
  out.bones = pairUp(gone, fresh, [&](const std::string& g, const std::string& n) {
    return boneLikeness(old_bones.at(g), new_bones.at(n), whole, g, n);
  });
  forgetRenamed(out);
  out.materials_gone = without(materialKeys(was), materialKeys(is));
  out.materials_new = without(materialKeys(is), materialKeys(was));
  out.materials =
      pairUp(out.materials_gone, out.materials_new,
             [&](const std::string& g, const std::string& n) { return materialLikeness(was, is, g, n); });
  return out;
}

std::vector<Misfit> misfitsOf(const mod::ModelDoc& doc, const Model& is, const NewerDifference& difference) {
  std::vector<Misfit> out;
  const References references(is, difference);
  std::set<std::string> made;  // names that steps give to bones
  for (const mod::StepDoc& step : doc.steps) {
    const StepKind* kind = findStepKind(step.kind);
    if (kind == nullptr || !step.values.is_object()) continue;
    Json values = step.values;
    for (const Parameter& parameter : kind->parameters) {
      if (!values.contains(parameter.key)) continue;
      Json& value = values[parameter.key];
      eachReference(parameter, value, [&](Json& one, Reference what) {
        const auto key = one.get<std::string>();
        if (key.empty() || made.count(key) != 0 || references.has(key, what)) return;
        const Renamed now = references.proposalFor(key, what);
        if (now.to.empty() && !references.wasThere(key, what)) return;
        out.push_back({step.id, sentenceText(step), key, now.to, now.likeness, what});
      });
      if (parameter.type == ParameterType::bone_names && value.is_object())
        for (const auto& [name, key] : value.items()) made.insert(name);
      if (parameter.type == ParameterType::slots && value.is_array())
        for (const Json& slot : value)
          if (slot.is_string()) made.insert(slot.get<std::string>());
    }
  }
  return out;
}

void follow(mod::ModelDoc& doc, const std::vector<Misfit>& misfits) {
  for (mod::StepDoc& step : doc.steps) {
    const StepKind* kind = findStepKind(step.kind);
    if (kind == nullptr || !step.values.is_object()) continue;
    for (const Parameter& parameter : kind->parameters) {
      if (!step.values.contains(parameter.key)) continue;
      eachReference(parameter, step.values[parameter.key], [&](Json& one, Reference what) {
        for (const Misfit& m : misfits)
          if (m.step == step.id && m.what == what && !m.proposal.empty() && one == Json(m.missing)) {
            one = m.proposal;
            break;
          }
      });
    }
  }
}

}  // namespace rakugo::prepare
