#include "prepare/objects/piece_edits.h"

#include <algorithm>
#include <cmath>

#include "base/phrase.h"
#include "base/text.h"
#include "prepare/parts/pieces.h"
#include "prepare/steps.h"

namespace rakugo::prepare {
namespace {

base::Error unknownPiece(const std::string& piece) {
  return {"piece.unknown",
          base::phrase("The object has no piece \"{0}\".", base::presentable(piece, 60)),
          {},
          base::phrase("Name one of its pieces.")};
}

void put(mod::PieceDoc& piece, const PiecePlace& place) {
  piece.position_m = place.position_m;
  piece.turn = place.turn;
}

void untie(mod::ObjectDoc& object, const std::string& piece) {
  for (mod::PieceDoc& one : object.pieces)
    if (one.name == piece || one.pair == piece) one.pair.clear();
}

PiecePlace placeOf(const glm::mat4& at) {
  const glm::quat turn = glm::normalize(glm::quat_cast(glm::mat3(at)));
  return {{at[3].x, at[3].y, at[3].z}, {turn.x, turn.y, turn.z, turn.w}};
}

}  // namespace

PiecePlace placeOf(const mod::PieceDoc& piece) { return {piece.position_m, piece.turn}; }

PiecePlace mirrored(const PiecePlace& place, const glm::vec3& side) {
  const glm::dvec3 s(side);
  const auto reflected = [&](const glm::dvec3& v) { return v - 2 * glm::dot(v, s) * s; };
  const glm::dvec3 at = reflected({place.position_m[0], place.position_m[1], place.position_m[2]});
  // A rotation about an axis, seen in a mirror, turns the other way about the mirror image of the axis.
  const glm::dvec3 axis = -reflected({place.turn[0], place.turn[1], place.turn[2]});
  PiecePlace out{{at.x, at.y, at.z}, {axis.x, axis.y, axis.z, place.turn[3]}};
  // No zero with a sign: documents are compared as texts.
  for (double& v : out.position_m) v += 0.0;
  for (double& v : out.turn) v += 0.0;
  return out;
}

mod::PieceDoc* findPiece(mod::ObjectDoc& object, const std::string& piece) {
  const auto found = std::find_if(object.pieces.begin(), object.pieces.end(),
                                  [&](const mod::PieceDoc& one) { return one.name == piece; });
  return found != object.pieces.end() ? &*found : nullptr;
}
const mod::PieceDoc* findPiece(const mod::ObjectDoc& object, const std::string& piece) {
  return findPiece(const_cast<mod::ObjectDoc&>(object), piece);  // NOLINT: nothing is changed
}

base::Status placePiece(mod::ObjectDoc& object, const std::string& piece, const PiecePlace& place,
                        const glm::vec3& side) {
  mod::PieceDoc* found = findPiece(object, piece);
  if (found == nullptr) return unknownPiece(piece);
  put(*found, place);
  if (mod::PieceDoc* other = found->pair.empty() ? nullptr : findPiece(object, found->pair))
    put(*other, mirrored(place, side));
  return {};
}

base::Status renamePiece(mod::ObjectDoc& object, const std::string& piece, const std::string& name) {
  mod::PieceDoc* found = findPiece(object, piece);
  if (found == nullptr) return unknownPiece(piece);
  if (name == piece) return {};
  if (name.empty() || findPiece(object, name) != nullptr)
    return base::Error{"piece.name",
                       name.empty()
                           ? base::phrase("A piece needs a name.")
                           : base::phrase("Another piece is called {0}.", base::presentable(name, 60)),
                       {},
                       base::phrase("Choose another name.")};
  for (mod::PieceDoc& one : object.pieces)
    if (one.pair == piece) one.pair = name;
  found->name = name;
  return {};
}

base::Status setPieceAs(mod::ObjectDoc& object, const std::string& piece, const std::string& as) {
  mod::PieceDoc* found = findPiece(object, piece);
  if (found == nullptr) return unknownPiece(piece);
  found->as = as == rulebook::kMainModel ? std::string() : as;
  return {};
}

base::Status removePiece(mod::ObjectDoc& object, const std::string& piece) {
  if (findPiece(object, piece) == nullptr) return unknownPiece(piece);
  untie(object, piece);
  std::erase_if(object.pieces, [&](const mod::PieceDoc& one) { return one.name == piece; });
  return {};
}

std::string freePieceName(const mod::ObjectDoc& object, const std::string& wanted) {
  std::string out = wanted;
  for (int n = 2; findPiece(object, out) != nullptr; ++n) out = wanted + "-" + std::to_string(n);
  return out;
}

base::Result<std::string> copyPiece(mod::ObjectDoc& object, const std::string& piece) {
  const mod::PieceDoc* found = findPiece(object, piece);
  if (found == nullptr) return unknownPiece(piece);
  mod::PieceDoc copy = *found;
  copy.pair.clear();
  // "screw-2" is followed by "screw-3".
  std::string stem = piece;
  if (const size_t dash = stem.rfind('-');
      dash != std::string::npos && dash + 1 < stem.size() &&
      stem.find_first_not_of("0123456789", dash + 1) == std::string::npos)
    stem.erase(dash);
  copy.name = freePieceName(object, stem);
  const std::string name = copy.name;
  object.pieces.insert(object.pieces.begin() + (found - object.pieces.data()) + 1, std::move(copy));
  return name;
}

base::Status pairPieces(mod::ObjectDoc& object, const std::string& piece, const std::string& other,
                        const glm::vec3& side) {
  mod::PieceDoc* one = findPiece(object, piece);
  if (one == nullptr) return unknownPiece(piece);
  if (other.empty()) return untie(object, piece), base::Status();
  mod::PieceDoc* two = findPiece(object, other);
  if (two == nullptr) return unknownPiece(other);
  if (one == two)
    return base::Error{"piece.pair",
                       base::phrase("A piece is no pair with itself."),
                       {},
                       base::phrase("Name another piece.")};
  untie(object, piece);
  untie(object, other);
  one->pair = other;
  two->pair = piece;
  put(*two, mirrored(placeOf(*one), side));
  return {};
}

base::Result<std::string> addMirrorImage(mod::ObjectDoc& object, const std::string& piece,
                                         const glm::vec3& side) {
  RAKUGO_ASSIGN(const std::string name, copyPiece(object, piece));
  RAKUGO_TRY(pairPieces(object, piece, name, side));
  return name;
}

base::Status copyPlace(mod::ObjectDoc& object, const std::string& from, const std::string& to, bool mirror,
                       const glm::vec3& side) {
  const mod::PieceDoc* given = findPiece(object, from);
  if (given == nullptr) return unknownPiece(from);
  const PiecePlace place = placeOf(*given);
  return placePiece(object, to, mirror ? mirrored(place, side) : place, side);
}

std::optional<double> aboveFloor(const mod::PieceDoc& piece, const scene::Model& model, const glm::vec3& up) {
  const glm::mat4 place = pieceMatrix(piece);
  const auto world = scene::worldMatrices(model);
  std::optional<double> out;
  for (const scene::NodeIndex i : scene::reachedNodes(model)) {
    if (!model.node(i).mesh.valid()) continue;
    const glm::mat4 at = place * world[i.value()];
    for (const scene::Primitive& p : model.mesh(model.node(i).mesh).primitives)
      for (const glm::vec3& v : p.positions) {
        const double height = glm::dot(glm::dvec3(at * glm::vec4(v, 1)), glm::dvec3(up));
        if (std::isfinite(height)) out = std::min(out.value_or(height), height);
      }
  }
  return out;
}

base::Status putOnFloor(mod::ObjectDoc& object, const std::string& piece, const scene::Model& model,
                        const rulebook::Rulebook& book) {
  const mod::PieceDoc* found = findPiece(object, piece);
  if (found == nullptr) return unknownPiece(piece);
  const glm::vec3 up = geometry::axisVector(book.up);
  const auto above = aboveFloor(*found, model, up);
  if (!above) return {};
  PiecePlace place = placeOf(*found);
  for (size_t i = 0; i < 3; ++i)
    place.position_m[i] -= std::round(*above * 1e6) / 1e6 * static_cast<double>(up[static_cast<int>(i)]);
  return placePiece(object, piece, place, book.side());
}

base::Status spreadPieces(mod::ObjectDoc& object, const std::vector<std::string>& pieces,
                          const glm::vec3& side) {
  if (pieces.size() < 3)
    return base::Error{
        "piece.few", base::phrase("Pieces between two others are spread: name at least three."), {}, {}};
  for (const std::string& one : pieces)
    if (findPiece(object, one) == nullptr) return unknownPiece(one);
  const auto from = findPiece(object, pieces.front())->position_m,
             to = findPiece(object, pieces.back())->position_m;
  for (size_t n = 1; n + 1 < pieces.size(); ++n) {
    PiecePlace place = placeOf(*findPiece(object, pieces[n]));
    const double share = static_cast<double>(n) / static_cast<double>(pieces.size() - 1);
    for (size_t i = 0; i < 3; ++i)
      place.position_m[i] = std::round((from[i] + (to[i] - from[i]) * share) * 1e6) / 1e6 + 0.0;
    RAKUGO_TRY(placePiece(object, pieces[n], place, side));
  }
  return {};
}

base::Result<std::string> piecesFromCopies(mod::ModState& state, const std::string& object,
                                           const std::string& model, const scene::Model& prepared,
                                           const rulebook::Rulebook& book, const scene::SameParts& same,
                                           const std::string& as) {
  const auto found = state.objects.find(object);
  const auto from = state.models.find(model);
  if (found == state.objects.end() || from == state.models.end()) return unknownPiece(model);
  mod::ObjectDoc next = found->second;
  const auto whole = std::find_if(next.pieces.begin(), next.pieces.end(),
                                  [&](const mod::PieceDoc& piece) { return piece.model == model; });
  if (whole == next.pieces.end()) return unknownPiece(model);
  const GameAxes axes = gameAxes(prepared.frame, book);
  if (axes.up != geometry::axisVector(book.up) || axes.forward != geometry::axisVector(book.forward))
    return base::Error{"piece.turn_first",
                       base::phrase("Pieces stand along the game's axes, and {0} does not yet.", model),
                       {},
                       base::phrase("Turn the model first.")};
  const glm::mat4 at = pieceMatrix(*whole);
  // "screw_1" is the first of several screws.
  std::string part = prepared.node(same.parts[0]).name;
  if (const size_t end = part.find_last_not_of("0123456789_-. "); end != std::string::npos)
    part.resize(end + 1);
  part = base::slug(part.empty() ? "part" : part);
  std::string name = part;
  for (int n = 2; state.models.count(name) != 0; ++n) name = part + "-" + std::to_string(n);
  // The copies leave; one of them becomes a model of its own.
  const std::vector<mod::PointDoc> stood = placesOfCopies(from->second, prepared, book, same, false);
  mod::ModelDoc rest = from->second;
  std::vector<std::string> copies;
  for (const scene::NodeIndex i : same.parts) copies.push_back(prepared.node(i).key);
  dropParts(rest, copies);
  mod::ModelDoc alone = from->second;
  alone.points.clear();
  alone.variants.clear();
  std::vector<bool> stays(prepared.nodes.size(), false);
  std::vector<std::string> gone;
  for (const scene::NodeIndex i : scene::reachedNodes(prepared)) {
    const scene::NodeIndex parent = prepared.node(i).parent;
    stays[i.value()] = i == same.parts[0] || (parent.valid() && stays[parent.value()]);
    if (!stays[i.value()] && prepared.node(i).mesh.valid()) gone.push_back(prepared.node(i).key);
  }
  dropParts(alone, gone);
  setOrAddStep(alone, "origin", base::Json{{"to", "centre"}});
  for (const mod::PointDoc& point : stood) {
    mod::PieceDoc piece;
    piece.position_m = point.position_m;
    piece.turn = point.turn;
    const PiecePlace place = placeOf(at * pieceMatrix(piece));
    put(piece, place);
    piece.model = name;
    piece.as = as;
    piece.name = freePieceName(next, part + "-" + std::to_string(&point - stood.data() + 1));
    next.pieces.push_back(std::move(piece));
  }
  state.models[model] = std::move(rest);
  state.models[name] = std::move(alone);
  state.objects[object] = std::move(next);
  return name;
}

glm::dquat turnOf(const GameAxes& axes, const glm::dvec3& degrees) {
  const auto about = [](const glm::vec3& axis, double by) {
    return glm::angleAxis(glm::radians(by), glm::dvec3(axis));
  };
  return about(axes.up, degrees.z) * about(axes.side, degrees.y) * about(axes.forward, degrees.x);
}

}  // namespace rakugo::prepare
