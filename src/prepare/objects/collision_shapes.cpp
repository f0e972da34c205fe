#include "prepare/objects/collision_shapes.h"

#include <algorithm>
#include <cmath>
#include <deque>
#include <limits>
#include <map>
#include <mutex>

#include "base/phrase.h"
#include "base/sha256.h"
#include "base/text.h"
#include "geometry/convex_parts.h"
#include "geometry/hull.h"
#include "geometry/nearest.h"
#include "geometry/simplify.h"
#include "geometry/welding.h"
#include "prepare/objects/piece_errors.h"
#include "prepare/objects/piece_parts.h"
#include "prepare/objects/piece_values.h"
#include "prepare/parts/pieces.h"
#include "rulebook/piece_sorts.h"
#include "scene/rest_pose.h"

namespace rakugo::prepare {
namespace {

constexpr uint32_t kSides = 24;  // of what is round
constexpr double kPi = 3.14159265358979323846;

// The object's piece that a shape is made of: the nearest model that carries it; null: all models.
const mod::PieceDoc* carryingModel(const mod::ObjectDoc& object, const mod::PieceDoc& shape) {
  for (const mod::PieceDoc* one : mod::carriersOf(object, shape))
    if (one->isModel()) return one;
  return nullptr;
}

// Keys of the parts that a shape is made of; none: all.
std::vector<std::string> chosenParts(const mod::PieceDoc& shape) {
  std::vector<std::string> out;
  const auto given = shape.values.find("parts");
  if (given != shape.values.end() && given->is_array())
    for (const base::Json& one : *given)
      if (one.is_string()) out.push_back(one.get<std::string>());
  return out;
}

void addModel(const scene::Model& model, const glm::mat4& place, const std::vector<std::string>& parts,
              ShapeMesh& out) {
  const auto world = scene::worldMatrices(model);
  std::set<scene::NodeIndex> chosen;
  for (const std::string& part : parts)
    if (const scene::NodeIndex node = scene::findPart(model, part); node.valid())
      chosen.merge(partTree(model, node));
  for (const scene::NodeIndex i : scene::reachedNodes(model)) {
    if (!parts.empty() && chosen.count(i) == 0) continue;
    const scene::WholeMesh whole = scene::placedMesh(model, i, world);
    const auto first = static_cast<uint32_t>(out.corners.size());
    for (const glm::vec3& v : whole.positions) out.corners.push_back(glm::vec3(place * glm::vec4(v, 1)));
    for (const uint32_t v : whole.indices) out.triangles.push_back(first + v);
  }
}

// A ring of corners round `up`, at a height.
void addRing(ShapeMesh& out, const GameAxes& axes, double radius, double height) {
  for (uint32_t i = 0; i < kSides; ++i) {
    const double turn = 2 * kPi * i / kSides;
    out.corners.push_back(axes.forward * static_cast<float>(radius * std::cos(turn)) +
                          axes.side * static_cast<float>(radius * std::sin(turn)) +
                          axes.up * static_cast<float>(height));
  }
}

// A solid of revolution: rings from below to above, closed by a corner at each end.
ShapeMesh turned(const GameAxes& axes, const std::vector<std::pair<double, double>>& rings, double low,
                 double high) {
  ShapeMesh out;
  out.corners.push_back(axes.up * static_cast<float>(low));
  for (const auto& [radius, height] : rings) addRing(out, axes, radius, height);
  const auto top = static_cast<uint32_t>(out.corners.size());
  out.corners.push_back(axes.up * static_cast<float>(high));
  for (uint32_t i = 0; i < kSides; ++i) {
    const uint32_t j = (i + 1) % kSides;
    out.triangles.insert(out.triangles.end(), {0, 1 + j, 1 + i});
    for (uint32_t r = 0; r + 1 < rings.size(); ++r) {
      const uint32_t a = 1 + r * kSides, b = a + kSides;
      out.triangles.insert(out.triangles.end(), {a + i, a + j, b + j, a + i, b + j, b + i});
    }
    const uint32_t last = top - kSides;
    out.triangles.insert(out.triangles.end(), {last + i, last + j, top});
  }
  return out;
}

// Rings of half a ball round a height, its pole left out.
void addHalf(std::vector<std::pair<double, double>>& rings, double radius, double height, bool upper) {
  constexpr int kRings = 6;
  for (int i = 0; i <= kRings; ++i) {
    const int step = upper ? i : kRings - i;
    if (step == kRings) continue;
    const double angle = kPi / 2 * step / kRings;
    rings.emplace_back(radius * std::cos(angle), height + (upper ? 1 : -1) * radius * std::sin(angle));
  }
}

ShapeMesh boxMesh(const GameAxes& axes, const glm::dvec3& size) {
  ShapeMesh out;
  for (int i = 0; i < 8; ++i) {
    const auto half = [&](int axis) {
      return static_cast<float>(((i >> axis) & 1) != 0 ? size[axis] / 2 : -size[axis] / 2);
    };
    out.corners.push_back(axes.forward * half(0) + axes.side * half(1) + axes.up * half(2));
  }
  out.triangles = {0, 2, 1, 1, 2, 3, 4, 5, 6, 5, 7, 6, 0, 1, 4, 1, 5, 4,
                   2, 6, 3, 3, 6, 7, 0, 4, 2, 2, 4, 6, 1, 3, 5, 3, 7, 5};
  return out;
}

ShapeMesh fewer(const ShapeMesh& under, size_t triangles) {
  // Places, not vertices: seams of UVs are none of a shape.
  const geometry::Welding welding = geometry::weldEqual(under.corners);
  ShapeMesh out;
  for (const uint32_t v : welding.first) out.corners.push_back(under.corners[v]);
  for (size_t t = 0; t + 2 < under.triangles.size(); t += 3) {
    const uint32_t a = welding.of[under.triangles[t]], b = welding.of[under.triangles[t + 1]],
                   c = welding.of[under.triangles[t + 2]];
    if (a != b && b != c && c != a) out.triangles.insert(out.triangles.end(), {a, b, c});
  }
  geometry::SimplifyOptions options;
  options.triangles = triangles;
  if (const auto made = geometry::simplify({out.corners, out.triangles, {}, 0}, options))
    out.triangles = made->indices;
  // What no triangle names goes.
  std::vector<uint32_t> number(out.corners.size(), UINT32_MAX);
  std::vector<glm::vec3> corners;
  for (uint32_t& v : out.triangles) {
    if (number[v] == UINT32_MAX) {
      number[v] = static_cast<uint32_t>(corners.size());
      corners.push_back(out.corners[v]);
    }
    v = number[v];
  }
  out.corners = std::move(corners);
  return out;
}

// Of a heavy model its simplified mesh is cut: a shape need not be finer, and nobody waits for minutes.
ShapeMesh hulls(const ShapeMesh& model, size_t most, size_t corners) {
  constexpr size_t kHeavy = 40'000;
  const bool heavy = model.triangles.size() / 3 > kHeavy;
  const ShapeMesh lighter = heavy ? fewer(model, kHeavy) : ShapeMesh();
  const ShapeMesh& under = heavy ? lighter : model;
  geometry::ConvexPartsOptions options;
  options.most_parts = most;
  options.most_corners = corners;
  ShapeMesh out;
  for (const geometry::Hull& hull : geometry::convexParts(under.corners, under.triangles, options)) {
    const auto first = static_cast<uint32_t>(out.corners.size());
    out.corners.insert(out.corners.end(), hull.corners.begin(), hull.corners.end());
    for (const uint32_t v : hull.triangles) out.triangles.push_back(first + v);
    out.ends.push_back({out.corners.size(), out.triangles.size()});
  }
  return out;
}

ShapeMesh makeOf(const ShapeValues& says, const ShapeMesh& under) {
  const auto corners = static_cast<size_t>(std::max<int64_t>(4, says.corners));
  if (says.form == "hulls")
    return hulls(under, static_cast<size_t>(std::max<int64_t>(1, says.hulls)), corners);
  if (says.form == "mesh") return fewer(under, static_cast<size_t>(std::max<int64_t>(4, says.triangles)));
  geometry::HullOptions options;
  options.most_corners = corners;
  geometry::Hull hull = geometry::convexHull(under.corners, options);
  return {std::move(hull.corners), std::move(hull.triangles), {}};
}

// What is made of a model, by the content of that and by what the shape says.
ShapeMesh made(const ShapeValues& says, const ShapeMesh& under) {
  constexpr size_t kMost = 256;
  struct Kept {
    std::mutex lock;
    std::map<base::Digest, std::shared_ptr<const ShapeMesh>> meshes;
    std::deque<base::Digest> order;  // the oldest first
  };
  static Kept kept;
  base::Bytes all;
  const auto add = [&](std::span<const std::byte> bytes) {
    all.insert(all.end(), bytes.begin(), bytes.end());
  };
  const std::string limits = says.form + " " + std::to_string(says.corners) + " " +
                             std::to_string(says.triangles) + " " + std::to_string(says.hulls) + "\n";
  add(std::as_bytes(std::span(limits)));
  add(std::as_bytes(std::span(under.corners)));
  add(std::as_bytes(std::span(under.triangles)));
  const base::Digest key = base::sha256(all);
  {
    const std::lock_guard guard(kept.lock);
    if (const auto known = kept.meshes.find(key); known != kept.meshes.end()) return *known->second;
  }
  auto mesh = std::make_shared<const ShapeMesh>(makeOf(says, under));
  const std::lock_guard guard(kept.lock);
  if (kept.meshes.emplace(key, mesh).second) kept.order.push_back(key);
  while (kept.order.size() > kMost) {
    kept.meshes.erase(kept.order.front());
    kept.order.pop_front();
  }
  return *mesh;
}

// The rotation whose axes are those, as a piece's turn: forward, side and up go to them.
glm::dquat turnTo(const GameAxes& axes, const glm::dmat3& to) {
  const glm::dmat3 from(glm::dvec3(axes.forward), glm::dvec3(axes.side), glm::dvec3(axes.up));
  return glm::normalize(glm::quat_cast(to * glm::transpose(from)));
}

// A frame along an axis: up is the axis.
glm::dmat3 frameAlong(const GameAxes& axes, const glm::dvec3& up) {
  glm::dvec3 forward = glm::dvec3(axes.forward) - glm::dot(glm::dvec3(axes.forward), up) * up;
  if (glm::length(forward) < 1e-6) forward = glm::dvec3(axes.side) - glm::dot(glm::dvec3(axes.side), up) * up;
  forward = glm::normalize(forward);
  return {forward, glm::cross(up, forward), up};
}

// The box's axes in the order and the directions nearest to the game's, so that a box that is not turned says
// no turn.
void settle(const GameAxes& game, glm::dmat3& axes, glm::dvec3& size) {
  const std::array<glm::dvec3, 3> wanted = {glm::dvec3(game.forward), glm::dvec3(game.side),
                                            glm::dvec3(game.up)};
  glm::dmat3 out(1);
  glm::dvec3 sizes(0);
  std::array<bool, 3> used{};
  for (int i = 0; i < 2; ++i) {
    int best = -1;
    for (int k = 0; k < 3; ++k)
      if (!used[static_cast<size_t>(k)] &&
          (best < 0 || std::abs(glm::dot(axes[k], wanted[static_cast<size_t>(i)])) >
                           std::abs(glm::dot(axes[best], wanted[static_cast<size_t>(i)]))))
        best = k;
    used[static_cast<size_t>(best)] = true;
    const glm::dvec3& axis = axes[best];
    out[i] = glm::dot(axis, wanted[static_cast<size_t>(i)]) < 0 ? -axis : axis;
    sizes[i] = size[best];
  }
  for (int k = 0; k < 3; ++k)
    if (!used[static_cast<size_t>(k)]) sizes[2] = size[k];
  out[2] = glm::cross(out[0], out[1]);
  axes = out;
  size = sizes;
}

struct Fit {
  glm::dvec3 center{0};
  glm::dmat3 axes{1};
  glm::dvec3 size{0};
};

std::optional<Fit> fitOf(const std::string& form, const ShapeMesh& under, const GameAxes& axes) {
  const geometry::Hull hull = geometry::convexHull(under.corners);
  if (hull.empty()) return std::nullopt;
  Fit out;
  if (form == "sphere") {
    const geometry::FittedBall ball = geometry::leastBall(hull.corners);
    out.center = ball.center;
    out.axes = {glm::dvec3(axes.forward), glm::dvec3(axes.side), glm::dvec3(axes.up)};
    out.size = glm::dvec3(2 * ball.radius);
  } else if (form == "capsule" || form == "cylinder") {
    const bool capsule = form == "capsule";
    geometry::FittedRound round = capsule ? geometry::leastCapsule(hull) : geometry::leastCylinder(hull);
    if (glm::dot(round.axis, glm::dvec3(axes.up)) < -1e-9) round.axis = -round.axis;
    out.center = round.center;
    out.axes = frameAlong(axes, round.axis);
    out.size = {2 * round.radius, 2 * round.radius, round.height + (capsule ? 2 * round.radius : 0)};
  } else {
    const geometry::FittedBox box = geometry::leastBox(hull);
    out.center = box.center;
    out.axes = box.axes;
    out.size = box.size;
    settle(axes, out.axes, out.size);
  }
  return out;
}

// Up to a millimetre, and never less than it was.
double roundedUp(double metres) { return std::ceil(metres * 1000 - 1e-3) / 1000; }

using Planes = std::vector<glm::vec4>;

// The faces of each convex body.
std::vector<Planes> facesOf(const ShapeMesh& shape) {
  std::vector<Planes> out(std::max<size_t>(1, shape.ends.size()));
  size_t body = 0;
  for (size_t t = 0; t + 2 < shape.triangles.size(); t += 3) {
    while (body + 1 < out.size() && t >= shape.ends[body].triangles) ++body;
    const glm::dvec3 a(shape.corners[shape.triangles[t]]), b(shape.corners[shape.triangles[t + 1]]),
        c(shape.corners[shape.triangles[t + 2]]);
    const glm::dvec3 n = glm::cross(b - a, c - a);
    const double length = glm::length(n);
    if (length > 0)
      out[body].emplace_back(glm::vec3(n / length), static_cast<float>(glm::dot(n / length, a)));
  }
  return out;
}

// How far a place lies out of a convex body; 0 within.
double outOf(const Planes& planes, const glm::vec3& v) {
  double most = 0;
  for (const glm::vec4& plane : planes)
    most = std::max(most, static_cast<double>(glm::dot(glm::vec3(plane), v) - plane.w));
  return most;
}

// Places spread over triangles: corners and middles.
std::vector<glm::vec3> spreadOver(const ShapeMesh& mesh) {
  std::vector<glm::vec3> out = mesh.corners;
  for (size_t t = 0; t + 2 < mesh.triangles.size(); t += 3) {
    const glm::vec3 &a = mesh.corners[mesh.triangles[t]], &b = mesh.corners[mesh.triangles[t + 1]],
                    &c = mesh.corners[mesh.triangles[t + 2]];
    out.push_back((a + b + c) / 3.0F);
    for (const glm::vec3& middle : {(a + b) / 2.0F, (b + c) / 2.0F, (c + a) / 2.0F}) out.push_back(middle);
  }
  return out;
}

}  // namespace

ShapeValues shapeValues(const mod::PieceDoc& piece, const std::vector<rulebook::Field>& fields) {
  ShapeValues out;
  out.parts = chosenParts(piece);
  for (const rulebook::Field& field : fields) {
    const base::Json value = valueOf(piece, field);
    const double number = value.is_number() ? value.get<double>() : 0;
    if (field.id == "form" && value.is_string()) out.form = value.get<std::string>();
    if (field.id == "length_m") out.size_m.x = number;
    if (field.id == "width_m") out.size_m.y = number;
    if (field.id == "height_m") out.size_m.z = number;
    if (field.id == "corners") out.corners = static_cast<int64_t>(number);
    if (field.id == "triangles") out.triangles = static_cast<int64_t>(number);
    if (field.id == "hulls") out.hulls = static_cast<int64_t>(number);
    if (field.id == "friction") out.friction = number;
    if (field.id == "bounce") out.bounce = number;
  }
  return out;
}

bool isMadeOfModel(const std::string& form) { return form == "hull" || form == "hulls" || form == "mesh"; }

bool fieldCounts(const mod::PieceDoc& piece, const std::string& field) {
  if (piece.sort == mod::kMovingSort)
    return field != "span_deg" || base::textOf(piece.values, "moves") == "swings";
  if (piece.sort != rulebook::pieceSortName(rulebook::PieceSort::shape)) return true;
  const auto given = piece.values.find("form");
  const std::string form =
      given != piece.values.end() && given->is_string() ? given->get<std::string>() : "hull";
  if (field == "length_m") return form == "box";
  if (field == "width_m") return !isMadeOfModel(form);
  if (field == "height_m") return form == "box" || form == "capsule" || form == "cylinder";
  if (field == "corners") return form == "hull" || form == "hulls";
  if (field == "hulls") return form == "hulls";
  return field != "triangles" || form == "mesh";
}

ShapeMesh modelUnderShape(const rulebook::Rulebook& book, const mod::ObjectDoc& object,
                          const mod::PieceDoc& shape, const ModelOf& model) {
  ShapeMesh out;
  const glm::mat4 back = glm::inverse(placeInObject(object, shape));
  const mod::PieceDoc* carrier = carryingModel(object, shape);
  const std::vector<std::string> parts = chosenParts(shape);
  for (const mod::PieceDoc& piece : object.pieces) {
    if (!piece.isModel() || (carrier != nullptr && carrier != &piece)) continue;
    if (carrier == nullptr && apartRoot(book, object, piece) != nullptr) continue;
    if (const scene::Model* of = model(piece.model))
      addModel(*of, back * placeInObject(object, piece), parts, out);
  }
  return out;
}

ShapeMesh shapeMesh(const ShapeValues& says, const ShapeMesh& under, const GameAxes& axes) {
  if (isMadeOfModel(says.form)) return made(says, under);
  if (says.form == "box") return boxMesh(axes, says.size_m);
  const double radius = says.size_m.y / 2;
  if (says.form == "cylinder") {
    const double half = says.size_m.z / 2;
    return turned(axes, {{radius, -half}, {radius, half}}, -half, half);
  }
  const double straight = says.form == "capsule" ? std::max(0.0, says.size_m.z / 2 - radius) : 0;
  std::vector<std::pair<double, double>> rings;
  addHalf(rings, radius, -straight, false);
  if (straight == 0) rings.pop_back();  // both halves begin with the widest ring
  addHalf(rings, radius, straight, true);
  return turned(axes, rings, -straight - radius, straight + radius);
}

base::Status fitShape(mod::ObjectDoc& object, const std::string& piece, const rulebook::Rulebook& book,
                      const ModelOf& model) {
  const mod::PieceDoc* found = findPiece(object, piece);
  if (found == nullptr) return unknownPiece(piece);
  const std::string form = shapeValues(*found, fieldsOfPiece(book, object, *found)).form;
  if (isMadeOfModel(form)) return {};
  const GameAxes axes = gameAxes(book);
  // Fitted in the space of what carries it, where the shape will stand.
  mod::ObjectDoc next = object;
  PiecePlace nowhere;
  RAKUGO_TRY(placePiece(next, piece, nowhere, book.side()));
  const auto fit = fitOf(form, modelUnderShape(book, next, *findPiece(next, piece), model), axes);
  if (!fit)
    return base::Error{"piece.shape",
                       base::phrase("There is nothing to hold: no model, or one that lies in a plane."),
                       {},
                       base::phrase("Let the shape hang on a model that has a body.")};
  const glm::dquat turn = turnTo(axes, fit->axes);
  const auto rounded = [](double v) { return std::round(v * 1e6) / 1e6 + 0.0; };
  PiecePlace place;
  for (int i = 0; i < 3; ++i) place.position_m[static_cast<size_t>(i)] = rounded(fit->center[i]);
  place.turn = {rounded(turn.x), rounded(turn.y), rounded(turn.z), rounded(turn.w)};
  RAKUGO_TRY(placePiece(next, piece, place, book.side()));
  const std::array<const char*, 3> ids = {"length_m", "width_m", "height_m"};
  for (int i = 0; i < 3; ++i)
    RAKUGO_TRY(setPieceValue(next, piece, ids[static_cast<size_t>(i)], roundedUp(fit->size[i])));
  object = std::move(next);
  return {};
}

ShapeOff shapeOff(const ShapeMesh& shape, const ShapeMesh& under, bool convex) {
  ShapeOff out;
  if (shape.empty() || under.empty()) return out;
  const std::vector<Planes> bodies = convex ? facesOf(shape) : std::vector<Planes>();
  if (convex)
    for (const glm::vec3& v : under.corners) {
      // How far it lies out of the body that it lies in, or out of which it lies least.
      double out_m = std::numeric_limits<double>::infinity();
      for (const Planes& planes : bodies) out_m = std::min(out_m, outOf(planes, v));
      if (out_m > out.short_m) out.short_m = out_m, out.short_at = v;
    }
  const geometry::Surface surface(under.corners, under.triangles);
  for (const glm::vec3& v : spreadOver(shape)) {
    // Where two bodies meet nobody bumps into either.
    constexpr double kMeet_m = 1e-5;
    const auto meet = [&](const Planes& planes) { return outOf(planes, v) < kMeet_m; };
    if (bodies.size() > 1 && std::count_if(bodies.begin(), bodies.end(), meet) > 1) continue;
    if (const auto near = surface.nearest(v); near && static_cast<double>(near->distance) > out.beyond_m)
      out.beyond_m = static_cast<double>(near->distance), out.beyond_at = v;
  }
  if (convex) return out;
  const geometry::Surface own(shape.corners, shape.triangles);
  for (const glm::vec3& v : spreadOver(under))
    if (const auto near = own.nearest(v); near && static_cast<double>(near->distance) > out.short_m)
      out.short_m = static_cast<double>(near->distance), out.short_at = v;
  return out;
}

}  // namespace rakugo::prepare
