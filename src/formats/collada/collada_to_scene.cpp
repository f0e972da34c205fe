// Last stage of the COLLADA reader: the tree of nodes, and what hangs in it.
#include <algorithm>
#include <cmath>
#include <set>

#include "base/phrase.h"
#include "base/text.h"
#include "formats/collada/collada_animation.h"
#include "formats/collada/collada_material.h"
#include "formats/collada/collada_skin.h"

namespace rakugo::formats {
namespace collada {
namespace {

using scene::NodeIndex;

// What a symbol of a mesh is bound to by an instance.
struct Bound {
  Element material;
  UvBinding uvs;
};
using Binding = std::map<std::string, Bound>;

// A controller taken apart: the mesh at its end, what blends it and what bends it.
struct Controlled {
  Geometry* geometry = nullptr;
  const SkinData* skin = nullptr;
  const std::vector<MorphData>* morphs = nullptr;
  Element skin_element, morph_element;
};

class ToScene {
 public:
  ToScene(Library& library, ReadModel& out) : library_(library), out_(out), materials_(library, out) {}

  base::Status run() {
    readAsset();
    RAKUGO_TRY(readGeometries());
    RAKUGO_TRY(readTree());
    RAKUGO_TRY(bindSkins());
    RAKUGO_TRY(putLoose());
    out_.cameras = std::max(static_cast<uint32_t>(out_.model.cameras.size()), defined("cameras", "camera"));
    out_.lights = std::max(static_cast<uint32_t>(out_.model.lights.size()), defined("lights", "light"));
    tree_.nodes = first_use_;
    RAKUGO_ASSIGN(out_.model.animations, readAnimations(library_, tree_));
    if (out_.model.nodes.empty() && out_.model.meshes.empty())
      return library_.error("collada.empty", base::phrase("The file holds no scene and no mesh."),
                            library_.root(), base::phrase("Export the model with its meshes."));
    if (out_.lines > 0)
      library_.note(
          "collada.no_triangles",
          base::phrase("Games draw triangles; left out: {0}.", base::countText(out_.lines, "line", "lines")),
          library_.root());
    scene::assignKeys(out_.model);
    return {};
  }

 private:
  void readAsset() {
    const Element asset = library_.root().child("asset");
    scene::Frame& frame = out_.model.frame;
    out_.unit_m = 1;  // the schema's default
    if (const pugi::xml_node unit = asset.node.child("unit")) {
      const double metre = unit.attribute("meter").as_double(1);
      if (metre > 0 && std::isfinite(metre))
        out_.unit_m = metre;
      else
        library_.note("collada.unit", base::phrase("The file's unit is no length; metres are taken."),
                      asset.with(unit));
    }
    std::string storage;
    const auto up = wordsOf(textOf(asset.node.child("up_axis"), storage));
    const std::string axis = up.empty() ? "Y_UP" : up[0];
    // The specification's table (1.4.1, chapter 5, up_axis): what points up, and what comes out of the
    // picture.
    using geometry::Axis;
    frame.up = axis == "Z_UP" ? Axis::plus_z : axis == "X_UP" ? Axis::plus_x : Axis::plus_y;
    frame.forward = axis == "Z_UP" ? Axis::minus_y : Axis::plus_z;
    out_.up = frame.up;
  }

  // How many things of a kind the file's libraries define.
  uint32_t defined(const std::string& library, const char* kind) {
    uint32_t out = 0;
    for (pugi::xml_node l = library_.root().node.child(("library_" + library).c_str()); l;
         l = l.next_sibling(("library_" + library).c_str()))
      for (pugi::xml_node one = l.child(kind); one; one = one.next_sibling(kind)) ++out;
    return out;
  }

  // --- geometries

  base::Status readGeometries() {
    std::vector<Element> all;
    const Element root = library_.root();
    for (pugi::xml_node l = root.node.child("library_geometries"); l;
         l = l.next_sibling("library_geometries"))
      for (pugi::xml_node g = l.child("geometry"); g; g = g.next_sibling("geometry"))
        all.push_back(root.with(g));
    std::vector<std::optional<base::Result<Geometry>>> read(all.size());
    base::parallelFor(all.size(), [&](size_t i) { read[i] = readGeometry(library_, all[i]); });
    for (size_t i = 0; i < all.size(); ++i) {
      if (!read[i]->ok()) return read[i]->error();
      geometries_[all[i].node.internal_object()] = std::make_unique<Geometry>(std::move(*read[i]).value());
      order_.push_back(all[i]);
    }
    return {};
  }

  base::Result<Geometry*> geometry(const Element& element) {
    auto& slot = geometries_[element.node.internal_object()];
    if (!slot) {
      RAKUGO_ASSIGN(Geometry read, readGeometry(library_, element));
      slot = std::make_unique<Geometry>(std::move(read));
      order_.push_back(element);
    }
    return slot.get();
  }

  // Meshes that nothing in the scene uses still belong to the file; targets of a morph are none.
  base::Status putLoose() {
    for (const Element& e : order_) {
      const void* id = e.node.internal_object();
      if (targets_.count(id) != 0) continue;
      Geometry& g = *geometries_.at(id);
      out_.stored_vertices += g.positions;
      out_.lines += g.lines;
      out_.stored_meshes += g.pieces.empty() ? 0 : 1;
      out_.stored_primitives += g.pieces.size();
      for (const Piece& piece : g.pieces) out_.stored_triangles += piece.triangles;
      if (used_.count(id) == 0) RAKUGO_TRY(makeMesh({&g, nullptr, nullptr, {}, {}}, {}, e));
    }
    return {};
  }

  // --- meshes

  base::Result<Binding> bindingOf(const Element& instance) {
    Binding out;
    const pugi::xml_node common = instance.node.child("bind_material").child("technique_common");
    for (pugi::xml_node m = common.child("instance_material"); m; m = m.next_sibling("instance_material")) {
      Bound bound;
      RAKUGO_ASSIGN(bound.material, library_.follow(instance.with(m), m.attribute("target").value()));
      for (pugi::xml_node b = m.child("bind_vertex_input"); b; b = b.next_sibling("bind_vertex_input"))
        bound.uvs[b.attribute("semantic").value()] = b.attribute("input_set").as_int(0);
      out[m.attribute("symbol").value()] = std::move(bound);
    }
    return out;
  }

  base::Result<scene::MaterialIndex> materialOf(const Piece& piece, const Binding& binding,
                                                const Element& from) {
    if (piece.symbol.empty()) return scene::MaterialIndex();
    if (const auto bound = binding.find(piece.symbol); bound != binding.end() && bound->second.material)
      return materials_.material(bound->second.material, bound->second.uvs, piece.uv_set);
    // Some exporters bind nothing and name the material itself.
    const Element itself = Library::find(*from.document, piece.symbol);
    if (itself && std::string_view(itself.node.name()) == "material")
      return materials_.material(itself, {}, piece.uv_set);
    return materials_.plain(piece.symbol);
  }

  base::Result<scene::MeshIndex> makeMesh(const Controlled& what, const Binding& binding,
                                          const Element& from) {
    Geometry& g = *what.geometry;
    std::vector<scene::MaterialIndex> worn;
    std::string key = std::to_string(reinterpret_cast<uintptr_t>(&g)) + "/" +
                      std::to_string(reinterpret_cast<uintptr_t>(what.skin)) + "/" +
                      std::to_string(reinterpret_cast<uintptr_t>(what.morphs));
    for (const Piece& piece : g.pieces) {
      RAKUGO_ASSIGN(const scene::MaterialIndex m, materialOf(piece, binding, from));
      worn.push_back(m);
      key += "," + (m.valid() ? std::to_string(m.value()) : std::string("-"));
    }
    if (const auto known = meshes_.find(key); known != meshes_.end()) return known->second;
    auto mesh = std::make_shared<scene::Mesh>();
    mesh->name = g.name;
    // The first use takes the vertices themselves; later ones, with other materials or bones, a copy of its.
    const auto first = first_mesh_.find(&g);
    for (size_t i = 0; i < g.pieces.size(); ++i) {
      Piece& piece = g.pieces[i];
      RAKUGO_TRY(library_.take(piece.position_of.size() * 96, from));
      if (first != first_mesh_.end()) {
        piece.primitive = out_.model.mesh(first->second).primitives[i];
        piece.primitive.morphs.clear();
        piece.primitive.joints.clear();
        piece.primitive.weights.clear();
        piece.primitive.more_joints.clear();
        piece.primitive.more_weights.clear();
      }
      if (what.morphs != nullptr)
        for (const MorphData& morph : *what.morphs) {
          RAKUGO_ASSIGN(const Geometry* target, geometry(morph.geometry));
          RAKUGO_ASSIGN(const bool fits, putMorph(library_, morph, g, *target, piece));
          if (!fits) {
            library_.note("collada.morph",
                          base::phrase("A morph target has other vertices than its mesh and is left out."),
                          morph.geometry);
            piece.primitive.morphs.push_back(
                {std::vector<glm::vec3>(piece.primitive.positions.size()), {}, {}});
          }
        }
      if (what.skin != nullptr) putWeights(*what.skin, piece);
      piece.primitive.material = worn[i];
      mesh->primitives.push_back(std::move(piece.primitive));
    }
    if (what.morphs != nullptr)
      for (const MorphData& morph : *what.morphs) {
        mesh->morph_names.push_back(morph.name);
        mesh->morph_weights.push_back(morph.weight);
      }
    const scene::MeshIndex index(out_.model.meshes.size());
    out_.model.meshes.push_back(std::move(mesh));
    meshes_[key] = index;
    first_mesh_.emplace(&g, index);
    return index;
  }

  base::Result<Controlled> controlled(Element controller) {
    Controlled out;
    for (int depth = 0; depth < 8; ++depth) {
      if (!controller) return out;
      const std::string_view kind = controller.node.name();
      if (kind == "geometry") {
        RAKUGO_ASSIGN(out.geometry, geometry(controller));
        used_.insert(controller.node.internal_object());
        return out;
      }
      const Element skin = controller.child("skin"), morph = controller.child("morph");
      const Element inner = skin ? skin : morph;
      if (!inner) break;
      const void* id = inner.node.internal_object();
      if (skin) {
        auto& slot = skins_[id];
        if (!slot) {
          RAKUGO_ASSIGN(SkinData read, readSkin(library_, skin));
          slot = std::make_unique<SkinData>(std::move(read));
        }
        out.skin = slot.get();
        out.skin_element = skin;
      } else {
        auto& slot = morphs_[id];
        if (!slot) {
          RAKUGO_ASSIGN(std::vector<MorphData> read, readMorph(library_, morph));
          slot = std::make_unique<std::vector<MorphData>>(std::move(read));
        }
        for (const MorphData& m : *slot) targets_.insert(m.geometry.node.internal_object());
        out.morphs = slot.get();
        out.morph_element = morph;
      }
      // 1.5 spells the attribute as 1.4 does.
      RAKUGO_ASSIGN(controller, library_.follow(inner, inner.text("source")));
    }
    library_.note("collada.controller", base::phrase("A controller leads to no mesh and is left out."),
                  controller);
    return out;
  }

  // --- nodes

  struct Open {
    Element element;
    NodeIndex parent;
    int depth;
  };

  base::Status readTree() {
    const Element root = library_.root();
    const Element scene_element = root.child("scene").child("instance_visual_scene");
    Element visual;
    if (scene_element) {
      RAKUGO_ASSIGN(visual, library_.follow(scene_element, scene_element.text("url")));
    }
    if (!visual) visual = root.child("library_visual_scenes").child("visual_scene");
    if (!visual) return {};
    std::vector<Open> open;
    const auto below = [&](const Element& holder, NodeIndex parent, int depth) -> base::Status {
      // Backwards, for the stack gives back the last first.
      for (pugi::xml_node n = holder.node.last_child(); n; n = n.previous_sibling()) {
        const std::string_view kind = n.name();
        if (kind == "node") {
          open.push_back({holder.with(n), parent, depth});
        } else if (kind == "instance_node") {
          RAKUGO_ASSIGN(const Element target, library_.follow(holder.with(n), n.attribute("url").value()));
          if (target) open.push_back({target, parent, depth});
        }
      }
      return {};
    };
    RAKUGO_TRY(below(visual, {}, 1));
    while (!open.empty()) {
      if (library_.cancelled()) return base::cancelledError();
      const Open now = open.back();
      open.pop_back();
      if (now.depth > library_.options().limits.node_depth)
        return library_.error("collada.tree",
                              base::phrase("The nodes contain themselves, or are nested deeper than {0}.",
                                           library_.options().limits.node_depth),
                              now.element);
      RAKUGO_ASSIGN(const NodeIndex made, node(now));
      RAKUGO_TRY(below(now.element, made, now.depth + 1));
    }
    return {};
  }

  base::Result<NodeIndex> add(scene::Node node, NodeIndex parent, const Element& element) {
    scene::Model& model = out_.model;
    if (model.nodes.size() >= library_.options().limits.nodes)
      return library_.error("collada.too_large", base::phrase("The file has more nodes than Rakugo reads."),
                            element);
    const NodeIndex index(model.nodes.size());
    node.parent = parent;
    (parent.valid() ? model.node(parent).children : model.roots).push_back(index);
    model.nodes.push_back(std::move(node));
    sids_.push_back(element.text("sid"));
    ids_.push_back(element.text("id"));
    return index;
  }

  base::Result<NodeIndex> node(const Open& now) {
    const void* id = now.element.node.internal_object();
    scene::Node made;
    made.name = nameOf(now.element.node);
    auto transforms = tree_.transforms.find(id);
    if (transforms == tree_.transforms.end()) {
      RAKUGO_ASSIGN(std::vector<Transform> read, transformsOf(library_, now.element));
      transforms = tree_.transforms.emplace(id, std::move(read)).first;
    }
    bool exact = true;
    if (!transforms->second.empty()) made.local = placeOf(transforms->second, exact);
    if (!exact)
      library_.note("collada.shear",
                    base::phrase("The node's placement shears; the nearest turn and scale are used."),
                    now.element);
    RAKUGO_ASSIGN(const NodeIndex index, add(std::move(made), now.parent, now.element));
    first_use_.emplace(id, index);
    RAKUGO_TRY(hang(now.element, index));
    return index;
  }

  // A single translation, or what is a turn and a scale already, is taken as it stands: a product and its
  // taking apart would cost its last bits.
  static scene::Placement placeOf(const std::vector<Transform>& transforms, bool& exact) {
    scene::Placement out;
    bool plain = true;
    int stage = 0;
    for (const Transform& t : transforms) {
      const auto& v = t.values;
      if (t.kind == Transform::Kind::translate && stage == 0) {
        out.position = {v[0], v[1], v[2]};
        stage = 1;
      } else if (t.kind == Transform::Kind::scale && stage < 2) {
        out.scale = {v[0], v[1], v[2]};
        stage = 2;
      } else {
        plain = false;
      }
    }
    if (plain) return out;
    return scene::placementOf(productOf(transforms), exact);
  }

  // The meshes, cameras and lights of a node. One mesh is the node's own; of several each gets a node below.
  base::Status hang(const Element& element, NodeIndex index) {
    struct Hung {
      scene::MeshIndex mesh;
      Element instance;
      Controlled what;
    };
    std::vector<Hung> hung;
    for (pugi::xml_node n = element.node.first_child(); n; n = n.next_sibling()) {
      const std::string_view kind = n.name();
      const Element instance = element.with(n);
      if (kind == "instance_geometry" || kind == "instance_controller") {
        RAKUGO_ASSIGN(const Element target, library_.follow(instance, n.attribute("url").value()));
        RAKUGO_ASSIGN(const Controlled what, controlled(target));
        if (what.geometry == nullptr || what.geometry->pieces.empty()) continue;
        RAKUGO_ASSIGN(const Binding binding, bindingOf(instance));
        RAKUGO_ASSIGN(const scene::MeshIndex mesh, makeMesh(what, binding, instance));
        hung.push_back({mesh, instance, what});
      } else if (kind == "instance_camera") {
        RAKUGO_ASSIGN(const Element target, library_.follow(instance, n.attribute("url").value()));
        if (target) out_.model.node(index).camera = camera(target);
      } else if (kind == "instance_light") {
        RAKUGO_ASSIGN(const Element target, library_.follow(instance, n.attribute("url").value()));
        if (target) out_.model.node(index).light = light(target);
      }
    }
    for (const Hung& h : hung) {
      NodeIndex wearer = index;
      if (hung.size() > 1) {
        scene::Node below;
        below.name = h.what.geometry->name;
        RAKUGO_ASSIGN(wearer, add(std::move(below), index, Element{}));
        ++out_.added_nodes;
      }
      out_.model.node(wearer).mesh = h.mesh;
      if (h.what.skin != nullptr) skinned_.push_back({wearer, h.what.skin, h.instance});
      if (h.what.morphs != nullptr) wearsMorphs(wearer, h.what.morph_element, h.what.morphs->size());
    }
    return {};
  }

  // So that animations of the weights find who wears them.
  void wearsMorphs(NodeIndex wearer, const Element& morph, size_t count) {
    for (pugi::xml_node i = morph.child("targets").node.child("input"); i; i = i.next_sibling("input")) {
      if (std::string_view(i.attribute("semantic").value()) != "MORPH_WEIGHT") continue;
      std::string_view url = i.attribute("source").value();
      if (!url.empty() && url[0] == '#') url.remove_prefix(1);
      const Element source = Library::find(*morph.document, url);
      if (!source) continue;
      // Channels name the source, or its array.
      for (const Element& e : {source, source.child("float_array")}) {
        tree_.morph_weights[e.node.internal_object()].push_back(wearer);
        tree_.morph_counts[e.node.internal_object()] = count;
      }
    }
  }

  scene::CameraIndex camera(const Element& element) {
    const auto [at, fresh] = cameras_.try_emplace(element.node.internal_object(), out_.model.cameras.size());
    if (!fresh) return at->second;
    scene::Camera c;
    c.name = nameOf(element.node);
    const pugi::xml_node common = element.node.child("optics").child("technique_common");
    const auto number = [](pugi::xml_node holder, const char* name, float fallback) {
      const float value = holder.child(name).text().as_float(fallback);
      return std::isfinite(value) ? value : fallback;
    };
    constexpr float kRadians = 3.14159265358979F / 180;
    if (const pugi::xml_node p = common.child("perspective")) {
      const float x = number(p, "xfov", 0) * kRadians, y = number(p, "yfov", 0) * kRadians,
                  aspect = number(p, "aspect_ratio", 0);
      c.aspect = aspect;
      if (y > 0)
        c.fov_y_rad = y;
      else if (x > 0)
        c.fov_y_rad = aspect > 0 ? 2 * std::atan(std::tan(x / 2) / aspect) : x;
      c.near_m = number(p, "znear", c.near_m);
      c.far_m = number(p, "zfar", 0);
    } else if (const pugi::xml_node o = common.child("orthographic")) {
      c.perspective = false;
      c.aspect = number(o, "aspect_ratio", 0);
      const float x = number(o, "xmag", 1);
      c.size_y = number(o, "ymag", c.aspect > 0 ? x / c.aspect : x);
      c.near_m = number(o, "znear", c.near_m);
      c.far_m = number(o, "zfar", 0);
    }
    out_.model.cameras.push_back(std::move(c));
    return at->second;
  }

  scene::LightIndex light(const Element& element) {
    const auto [at, fresh] = lights_.try_emplace(element.node.internal_object(), out_.model.lights.size());
    if (!fresh) return at->second;
    scene::Light l;
    l.name = nameOf(element.node);
    const pugi::xml_node common = element.node.child("technique_common"), kind = common.first_child();
    const std::string_view name = kind.name();
    l.kind = name == "directional" ? scene::Light::Kind::directional
             : name == "spot"      ? scene::Light::Kind::spot
                                   : scene::Light::Kind::point;
    std::string storage;
    std::vector<float> color;
    size_t bad = 0;
    if (readFloats(textOf(kind.child("color"), storage), color, bad) && color.size() >= 3)
      l.color = {color[0], color[1], color[2]};
    if (name == "spot")
      l.outer_rad = kind.child("falloff_angle").text().as_float(180) * 3.14159265358979F / 360;
    out_.model.lights.push_back(std::move(l));
    return at->second;
  }

  // --- skins

  struct Skinned {
    NodeIndex node;
    const SkinData* skin;
    Element instance;
  };

  // Nodes by sid (and by id) below some roots, or everywhere.
  struct Names {
    std::map<std::string, NodeIndex> by_sid, by_id, by_name;
  };
  const Names& namesBelow(const std::vector<NodeIndex>& roots) {
    std::string key;
    for (const NodeIndex r : roots) key += std::to_string(r.value()) + ",";
    const auto [at, fresh] = names_.try_emplace(key);
    if (!fresh) return at->second;
    std::vector<NodeIndex> open(roots.rbegin(), roots.rend());
    while (!open.empty()) {
      const NodeIndex now = open.back();
      open.pop_back();
      const scene::Node& n = out_.model.node(now);
      if (!sids_[now.value()].empty()) at->second.by_sid.emplace(sids_[now.value()], now);
      if (!ids_[now.value()].empty()) at->second.by_id.emplace(ids_[now.value()], now);
      if (!n.name.empty()) at->second.by_name.emplace(n.name, now);
      open.insert(open.end(), n.children.rbegin(), n.children.rend());
    }
    return at->second;
  }

  static NodeIndex jointIn(const Names& names, const std::string& joint, bool by_id) {
    const auto look = [&](const std::map<std::string, NodeIndex>& in) {
      const auto at = in.find(joint);
      return at == in.end() ? NodeIndex() : at->second;
    };
    // Exporters mix the three up.
    NodeIndex found = look(by_id ? names.by_id : names.by_sid);
    if (!found.valid()) found = look(by_id ? names.by_sid : names.by_id);
    if (!found.valid()) found = look(names.by_name);
    return found;
  }

  base::Status bindSkins() {
    std::map<std::pair<const SkinData*, std::vector<NodeIndex>>, scene::SkinIndex> known;
    for (const Skinned& s : skinned_) {
      std::vector<NodeIndex> roots;
      std::string storage;
      for (pugi::xml_node k = s.instance.node.child("skeleton"); k; k = k.next_sibling("skeleton")) {
        const auto words = wordsOf(textOf(k, storage));
        if (words.empty()) continue;
        RAKUGO_ASSIGN(const Element root, library_.follow(s.instance.with(k), words[0]));
        if (const auto at = first_use_.find(root.node.internal_object()); root && at != first_use_.end())
          roots.push_back(at->second);
      }
      const Names& near = namesBelow(roots);
      const Names& all = namesBelow(out_.model.roots);
      std::vector<NodeIndex> joints;
      for (const std::string& joint : s.skin->joints) {
        NodeIndex found = jointIn(near, joint, s.skin->by_id);
        if (!found.valid()) found = jointIn(all, joint, s.skin->by_id);
        if (!found.valid()) {
          library_.note(
              "collada.joint_missing",
              base::phrase(
                  "The bone \"{0}\" is not in the scene; what follows it follows the mesh's own node.",
                  base::presentable(joint, 60)),
              s.instance);
          found = s.node;
        }
        joints.push_back(found);
      }
      const auto [at, fresh] = known.try_emplace({s.skin, joints}, out_.model.skins.size());
      if (fresh) {
        scene::Skin skin;
        const Element controller = s.instance;
        RAKUGO_ASSIGN(const Element named, library_.follow(controller, controller.text("url")));
        skin.name = nameOf(named.node);
        skin.joints = joints;
        skin.inverse_bind = s.skin->inverse_bind;
        out_.model.skins.push_back(std::move(skin));
      }
      out_.model.node(s.node).skin = at->second;
    }
    return {};
  }

  Library& library_;
  ReadModel& out_;
  Materials materials_;
  std::map<const void*, std::unique_ptr<Geometry>> geometries_;
  std::vector<Element> order_;  // geometries as they were met
  std::set<const void*> used_, targets_;
  std::map<const void*, std::unique_ptr<SkinData>> skins_;
  std::map<const void*, std::unique_ptr<std::vector<MorphData>>> morphs_;
  std::map<std::string, scene::MeshIndex> meshes_;
  std::map<const Geometry*, scene::MeshIndex> first_mesh_;  // that took its vertices
  std::map<const void*, scene::CameraIndex> cameras_;
  std::map<const void*, scene::LightIndex> lights_;
  std::map<const void*, NodeIndex> first_use_;
  std::vector<std::string> sids_, ids_;  // by node
  std::vector<Skinned> skinned_;
  std::map<std::string, Names> names_;
  AnimatedTree tree_;
};

}  // namespace
}  // namespace collada

base::Result<ReadModel> readCollada(base::ByteSpan bytes, const std::string& name, const Fetch& fetch,
                                    const ReadOptions& options) {
  collada::Library library(name, fetch, options);
  RAKUGO_TRY(library.open(bytes));
  ReadModel out;
  out.format = "COLLADA";
  out.version = library.root().text("version");
  RAKUGO_TRY(collada::ToScene(library, out).run());
  out.notes = std::move(library.notes);
  return out;
}

}  // namespace rakugo::formats
