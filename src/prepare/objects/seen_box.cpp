#include "prepare/objects/seen_box.h"

#include <algorithm>
#include <cmath>
#include <glm/gtc/constants.hpp>

#include "geometry/moved_box.h"
#include "prepare/parts/pieces.h"
#include "rulebook/piece_sorts.h"
#include "scene/rest_pose.h"

namespace rakugo::prepare {
namespace {

// How far the vertices of a primitive can be from where they stand, all morph targets worn at once.
float morphReach(const scene::Primitive& p) {
  float most = 0;
  for (size_t v = 0; !p.morphs.empty() && v < p.positions.size(); ++v) {
    float sum = 0;
    for (const scene::MorphTarget& morph : p.morphs)
      if (v < morph.positions.size()) sum += glm::length(morph.positions[v]);
    if (std::isfinite(sum)) most = std::max(most, sum);
  }
  return most;
}

float scaleOf(const glm::mat4& matrix) {
  return std::max({glm::length(glm::vec3(matrix[0])), glm::length(glm::vec3(matrix[1])),
                   glm::length(glm::vec3(matrix[2]))});
}

// What bones and animations make of a model: for each node how far all that hangs on it can be from it.
class Reach {
 public:
  explicit Reach(const scene::Model& model)
      : model_(model),
        world_(scene::worldMatrices(model)),
        own_(model.nodes.size()),
        moves_(model.nodes.size()),
        shift_(model.nodes.size()),
        grow_(model.nodes.size(), 1.0F) {
    for (const scene::Skin& skin : model.skins)
      for (const scene::NodeIndex joint : skin.joints)
        if (joint.valid() && joint.value() < moves_.size()) moves_[joint.value()] = true;
    for (const scene::Animation& animation : model.animations)
      for (const scene::Channel& channel : animation.channels) note(channel);
    const std::vector<scene::NodeIndex> nodes = scene::reachedNodes(model);
    for (const scene::NodeIndex i : nodes)
      if (moves_[i.value()])
        for (const scene::NodeIndex child : model.node(i).children) moves_[child.value()] = true;
    for (const scene::NodeIndex i : nodes) attach(i);
    reach_.assign(own_.begin(), own_.end());
    for (auto at = nodes.rbegin(); at != nodes.rend(); ++at) {
      const size_t i = at->value();
      for (const scene::NodeIndex child : model.node(*at).children) {
        const size_t c = child.value();
        reach_[i] = std::max(reach_[i], glm::distance(place(c), place(i)) + shift_[c] + reach_[c]);
      }
      reach_[i] *= grow_[i];
    }
  }

  // Boxes of what moves by bones or animations, in the model's space.
  void addMoving(geometry::Bounds& box) const {
    std::vector<bool> below(model_.nodes.size());
    for (const scene::NodeIndex i : scene::reachedNodes(model_)) {
      const size_t n = i.value();
      if (moves_[n] && !below[n] && reach_[n] > 0) {
        const float radius = reach_[n] + shift_[n];
        box.add(place(n) - radius);
        box.add(place(n) + radius);
      }
      for (const scene::NodeIndex child : model_.node(i).children)
        if (moves_[n]) below[child.value()] = true;
    }
  }
  // Whether a part stands where it is at rest.
  [[nodiscard]] bool stands(scene::NodeIndex i) const {
    return !moves_[i.value()] && !model_.node(i).skin.valid();
  }
  [[nodiscard]] const std::vector<glm::mat4>& world() const { return world_; }

 private:
  [[nodiscard]] glm::vec3 place(size_t node) const { return {world_[node][3]}; }

  void note(const scene::Channel& channel) {
    if (!channel.node.valid() || channel.node.value() >= moves_.size()) return;
    const size_t n = channel.node.value();
    if (channel.path == scene::AnimatedPath::weights) return;
    moves_[n] = true;
    if (channel.path == scene::AnimatedPath::turn) return;
    const scene::Placement& rest = model_.node(channel.node).local;
    // Between cubic keys a value goes beyond them.
    const float beyond = channel.interpolation == scene::Interpolation::cubic ? 1.5F : 1.0F;
    const float scale = scaleOf(world_[n]) / std::max(1e-9F, scaleOf(glm::mat4(rest.matrix())));
    for (size_t v = 0; v + 2 < channel.values.size(); v += 3) {
      const glm::vec3 key(channel.values[v], channel.values[v + 1], channel.values[v + 2]);
      if (channel.path == scene::AnimatedPath::position) {
        const float off = glm::distance(key, rest.position) * scale * beyond;
        if (std::isfinite(off)) shift_[n] = std::max(shift_[n], off);
      } else {
        for (int c = 0; c < 3; ++c)
          if (const float times = std::abs(key[c] / rest.scale[c]) * beyond; std::isfinite(times))
            grow_[n] = std::max(grow_[n], times);
      }
    }
  }

  // Vertices belong to the bones that they follow, else to their part.
  void attach(scene::NodeIndex i) {
    const scene::Node& node = model_.node(i);
    if (!node.mesh.valid()) return;
    const auto reach = [&](size_t to, const glm::vec3& at, float more) {
      const float off = glm::distance(at, place(to)) + more;
      if (std::isfinite(off)) own_[to] = std::max(own_[to], off);
    };
    const scene::WholeMesh rest = scene::placedMesh(model_, i, world_);
    size_t first = 0;
    for (const scene::Primitive& p : model_.mesh(node.mesh).primitives) {
      const float more = morphReach(p) * scaleOf(world_[i.value()]);
      const scene::Skin* skin = node.skin.valid() && p.joints.size() == p.positions.size()
                                    ? &model_.skins[node.skin.value()]
                                    : nullptr;
      for (size_t v = 0; v < p.positions.size() && first + v < rest.positions.size(); ++v) {
        const glm::vec3& at = rest.positions[first + v];
        if (skin == nullptr) {
          reach(i.value(), at, more);
          continue;
        }
        const auto follow = [&](const glm::u16vec4& joints, const glm::vec4& weights) {
          for (int k = 0; k < 4; ++k)
            if (weights[k] > 0 && joints[k] < skin->joints.size() && skin->joints[joints[k]].valid())
              reach(skin->joints[joints[k]].value(), at, more);
        };
        if (v < p.weights.size()) follow(p.joints[v], p.weights[v]);
        if (v < p.more_joints.size() && v < p.more_weights.size())
          follow(p.more_joints[v], p.more_weights[v]);
      }
      first += p.positions.size();
    }
  }

  const scene::Model& model_;
  std::vector<glm::mat4> world_;
  std::vector<float> own_, reach_;
  std::vector<bool> moves_;
  std::vector<float> shift_, grow_;
};

// A moving part in the object's space, with what it moves.
struct Sweep {
  glm::dvec3 at, axis;
  double from_rad = 0, to_rad = 0;
  Moved moved;
  [[nodiscard]] bool moves(size_t piece, scene::NodeIndex node) const {
    if (std::find(moved.pieces.begin(), moved.pieces.end(), piece) != moved.pieces.end()) return true;
    return std::any_of(moved.parts.begin(), moved.parts.end(),
                       [&](const auto& one) { return one.first == piece && one.second.count(node) != 0; });
  }
};

// Those that hang on others first: what both move is moved by them first.
std::vector<Sweep> sweepsOf(const rulebook::Rulebook& book, const mod::ObjectDoc& object,
                            const ModelOf& models) {
  std::vector<std::pair<size_t, Sweep>> out;
  for (const mod::PieceDoc& piece : object.pieces) {
    if (rulebook::pieceSortFrom(piece.sort) != rulebook::PieceSort::moving) continue;
    const MovingValues says = movingValues(piece, fieldsOfPiece(book, object, piece));
    const PiecePlace place = objectPlace(object, piece);
    Sweep one;
    one.at = {place.position_m[0], place.position_m[1], place.position_m[2]};
    one.axis = glm::normalize(glm::dquat(place.turn[3], place.turn[0], place.turn[1], place.turn[2]) *
                              glm::dvec3(geometry::axisVector(book.forward)));
    one.to_rad = glm::two_pi<double>();
    if (says.moves == "swings") {
      one.from_rad = glm::radians(static_cast<double>(std::min(says.span_deg[0], says.span_deg[1])));
      one.to_rad = glm::radians(static_cast<double>(std::max(says.span_deg[0], says.span_deg[1])));
    }
    one.moved = movedBy(object, piece, models);
    out.emplace_back(mod::carriersOf(object, piece).size(), std::move(one));
  }
  std::stable_sort(out.begin(), out.end(), [](const auto& a, const auto& b) { return a.first > b.first; });
  std::vector<Sweep> sweeps;
  for (auto& [depth, one] : out) sweeps.push_back(std::move(one));
  return sweeps;
}

}  // namespace

geometry::Bounds sweptBox(const geometry::Bounds& box, const glm::dvec3& at, const glm::dvec3& axis,
                          double from_rad, double to_rad) {
  geometry::Bounds out;
  if (box.empty()) return out;
  for (int corner = 0; corner < 8; ++corner) {
    const glm::dvec3 p((corner & 1) != 0 ? box.max.x : box.min.x, (corner & 2) != 0 ? box.max.y : box.min.y,
                       (corner & 4) != 0 ? box.max.z : box.min.z);
    const glm::dvec3 along = axis * glm::dot(p - at, axis), u = p - at - along, v = glm::cross(axis, u);
    const auto put = [&](double a) { out.add(glm::vec3(at + along + u * std::cos(a) + v * std::sin(a))); };
    put(from_rad);
    put(to_rad);
    for (int c = 0; c < 3; ++c)
      for (double a = std::atan2(v[c], u[c]) - 4 * glm::pi<double>(); a <= to_rad; a += glm::pi<double>())
        if (a >= from_rad) put(a);
  }
  return out;
}

geometry::Bounds seenBox(const rulebook::Rulebook& book, const mod::ObjectDoc& object, const ModelOf& models,
                         const SizesOf& sizes) {
  geometry::Bounds out;
  const std::vector<Sweep> sweeps = sweepsOf(book, object, models);
  for (size_t piece = 0; piece < object.pieces.size(); ++piece) {
    const mod::PieceDoc& doc = object.pieces[piece];
    const scene::Model* own = doc.isModel() ? models(doc.model) : nullptr;
    if (own == nullptr || apartRoot(book, object, doc) != nullptr) continue;
    const glm::mat4 place = placeInObject(object, doc);
    std::vector<const scene::Model*> all = {own};
    if (sizes)
      for (const scene::Model* size : sizes(doc.model)) all.push_back(size);
    for (const scene::Model* model : all) {
      const Reach reach(*model);
      const auto add = [&](geometry::Bounds box, const auto& moved) {
        for (const Sweep& sweep : sweeps)
          if (moved(sweep)) box = sweptBox(box, sweep.at, sweep.axis, sweep.from_rad, sweep.to_rad);
        out.add(box);
      };
      geometry::Bounds moving;
      reach.addMoving(moving);
      add(geometry::movedBox(moving, place),
          [&](const Sweep& sweep) { return sweep.moves(piece, scene::NodeIndex()); });
      for (const scene::NodeIndex i : scene::reachedNodes(*model)) {
        const scene::Node& node = model->node(i);
        if (!node.mesh.valid() || !reach.stands(i)) continue;
        geometry::Bounds box;
        for (const scene::Primitive& p : model->mesh(node.mesh).primitives) {
          geometry::Bounds one = geometry::boundsOf(p.positions);
          if (const float more = morphReach(p); more > 0 && !one.empty()) {
            one.min -= more;
            one.max += more;
          }
          box.add(one);
        }
        add(geometry::movedBox(box, place * reach.world()[i.value()]),
            [&](const Sweep& sweep) { return sweep.moves(piece, i); });
      }
    }
  }
  return out;
}

}  // namespace rakugo::prepare
