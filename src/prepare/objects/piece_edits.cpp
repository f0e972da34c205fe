#include "prepare/objects/piece_edits.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <set>

#include "base/phrase.h"
#include "base/text.h"
#include "prepare/objects/piece_errors.h"
#include "prepare/objects/piece_values.h"
#include "prepare/parts/pieces.h"
#include "prepare/steps.h"
#include "rulebook/piece_sorts.h"

namespace rakugo::prepare {
namespace {

void put(mod::PieceDoc& piece, const PiecePlace& place) {
  piece.position_m = place.position_m;
  piece.turn = place.turn;
}

glm::dquat turnOf(const PiecePlace& place) {
  const glm::dquat turn(place.turn[3], place.turn[0], place.turn[1], place.turn[2]);
  const double length = glm::length(turn);
  return length > 0 ? turn / length : glm::dquat(1, 0, 0, 0);
}
glm::dvec3 positionOf(const PiecePlace& place) {
  return {place.position_m[0], place.position_m[1], place.position_m[2]};
}
// No zero with a sign: documents are compared as texts.
PiecePlace asPlace(const glm::dvec3& at, const glm::dquat& turn) {
  return {{at.x + 0.0, at.y + 0.0, at.z + 0.0}, {turn.x + 0.0, turn.y + 0.0, turn.z + 0.0, turn.w + 0.0}};
}

// Where what a piece carries has its origin: place and scale in the object.
struct Carrier {
  glm::dvec3 at{0};
  glm::dquat turn{1, 0, 0, 0};
  double scale = 1;
};
Carrier carrierOf(const mod::ObjectDoc& object, const mod::PieceDoc& piece) {
  Carrier out;
  for (const mod::PieceDoc* one : mod::carriersOf(object, piece)) {
    const PiecePlace place = placeOf(*one);
    const glm::dquat turn = turnOf(place);
    out.at = positionOf(place) + turn * (one->scale * out.at);
    out.turn = turn * out.turn;
    out.scale *= one->scale;
  }
  return out;
}

// The pair has the mirror image of its place, its scale and its values; colours are its own.
void follow(const mod::PieceDoc& leads, mod::PieceDoc& follows, const glm::vec3& side) {
  put(follows, mirrored(placeOf(leads), side));
  follows.scale = leads.scale;
  follows.values = pairedValues(leads, follows.values);
}

void untie(mod::ObjectDoc& object, const std::string& piece) {
  for (mod::PieceDoc& one : object.pieces)
    if (one.name == piece || one.pair == piece) one.pair.clear();
}

PiecePlace asPlace(const glm::mat4& at) {
  const glm::mat3 turned(glm::normalize(glm::vec3(at[0])), glm::normalize(glm::vec3(at[1])),
                         glm::normalize(glm::vec3(at[2])));
  const glm::quat turn = glm::normalize(glm::quat_cast(turned));
  return {{at[3].x, at[3].y, at[3].z}, {turn.x, turn.y, turn.z, turn.w}};
}

// "screw-2" is followed by "screw-3".
std::string stemOf(const std::string& piece) {
  const size_t dash = piece.rfind('-');
  const bool numbered = dash != std::string::npos && dash + 1 < piece.size() &&
                        piece.find_first_not_of("0123456789", dash + 1) == std::string::npos;
  return numbered ? piece.substr(0, dash) : piece;
}

// Copies a piece with all that hangs on it, right behind it; the names of the copies by those of the pieces.
base::Result<std::map<std::string, std::string>> copyTree(mod::ObjectDoc& object, const std::string& piece) {
  const mod::PieceDoc* found = findPiece(object, piece);
  if (found == nullptr) return unknownPiece(piece);
  std::vector<mod::PieceDoc> copies;
  std::map<std::string, std::string> names;
  size_t last = static_cast<size_t>(found - object.pieces.data());
  mod::ObjectDoc taken = object;  // the names that are no longer free
  for (size_t i = 0; i < object.pieces.size(); ++i) {
    const mod::PieceDoc& one = object.pieces[i];
    if (&one != found && !mod::hangsOn(object, one, piece)) continue;
    last = std::max(last, i);
    copies.push_back(one);
    copies.back().name = freePieceName(taken, stemOf(one.name));
    names[one.name] = copies.back().name;
    taken.pieces.push_back(copies.back());
  }
  const auto renamed = [&](const std::string& name, const std::string& otherwise) {
    const auto at = names.find(name);
    return at != names.end() ? at->second : otherwise;
  };
  for (mod::PieceDoc& copy : copies) {
    copy.pair = renamed(copy.pair, {});
    copy.parent = renamed(copy.parent, copy.parent);
  }
  object.pieces.insert(object.pieces.begin() + static_cast<std::ptrdiff_t>(last) + 1, copies.begin(),
                       copies.end());
  return names;
}

}  // namespace

PiecePlace placeOf(const mod::PieceDoc& piece) { return {piece.position_m, piece.turn}; }

PiecePlace objectPlace(const mod::ObjectDoc& object, const mod::PieceDoc& piece) {
  const Carrier on = carrierOf(object, piece);
  const PiecePlace place = placeOf(piece);
  return asPlace(on.at + on.turn * (on.scale * positionOf(place)), on.turn * turnOf(place));
}

PiecePlace placeUnder(const mod::ObjectDoc& object, const mod::PieceDoc& piece, const PiecePlace& in_object) {
  if (piece.parent.empty()) return in_object;
  const Carrier on = carrierOf(object, piece);
  const glm::dquat back = glm::conjugate(on.turn);
  return asPlace(back * (positionOf(in_object) - on.at) / on.scale, back * turnOf(in_object));
}

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

double offMirror(const PiecePlace& one, const PiecePlace& other, const glm::vec3& side) {
  const PiecePlace wanted = mirrored(one, side);
  double same_turn = 0;
  for (size_t i = 0; i < 4; ++i) same_turn += wanted.turn[i] * other.turn[i];
  const double off = glm::distance(positionOf(wanted), positionOf(other));
  return off < 1e-4 && std::abs(same_turn) > 1 - 1e-6 ? -1 : off;
}

base::Status placePiece(mod::ObjectDoc& object, const std::string& piece, const PiecePlace& place,
                        const glm::vec3& side) {
  mod::PieceDoc* found = findPiece(object, piece);
  if (found == nullptr) return unknownPiece(piece);
  put(*found, place);
  if (mod::PieceDoc* other = found->pair.empty() ? nullptr : findPiece(object, found->pair))
    follow(*found, *other, side);
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
  for (mod::PieceDoc& one : object.pieces) {
    if (one.pair == piece) one.pair = name;
    if (one.parent == piece) one.parent = name;
  }
  found->name = name;
  return {};
}

base::Status setPieceAs(mod::ObjectDoc& object, const std::string& piece, const std::string& as) {
  mod::PieceDoc* found = findPiece(object, piece);
  if (found == nullptr) return unknownPiece(piece);
  found->as = as == rulebook::kMainModel ? std::string() : as;
  return {};
}

base::Status scalePiece(mod::ObjectDoc& object, const std::string& piece, double scale) {
  mod::PieceDoc* found = findPiece(object, piece);
  if (found == nullptr) return unknownPiece(piece);
  if (!(scale >= 0.001 && scale <= 1000))
    return base::Error{"piece.scale",
                       base::phrase("A piece cannot be scaled by {0}.", base::numberText(scale)),
                       {},
                       base::phrase("Give a factor from 0.001 to 1000.")};
  found->scale = scale;
  if (mod::PieceDoc* other = found->pair.empty() ? nullptr : findPiece(object, found->pair))
    other->scale = scale;
  return {};
}

base::Status setParent(mod::ObjectDoc& object, const std::string& piece, const std::string& parent,
                       const glm::vec3& side) {
  mod::PieceDoc* found = findPiece(object, piece);
  if (found == nullptr) return unknownPiece(piece);
  const mod::PieceDoc* carrier = parent.empty() ? nullptr : findPiece(object, parent);
  if (!parent.empty() && carrier == nullptr) return unknownPiece(parent);
  if (carrier != nullptr &&
      (carrier == found || !carrier->carries() || mod::hangsOn(object, *carrier, piece)))
    return base::Error{"piece.parent",
                       carrier->carries()
                           ? base::phrase("{0} hangs on {1} itself.", base::presentable(parent, 60),
                                          base::presentable(piece, 60))
                           : base::phrase("{0} carries nothing: it is no model, no group and moves nothing.",
                                          base::presentable(parent, 60)),
                       {},
                       base::phrase("Name another piece.")};
  const auto hang = [&](mod::PieceDoc& one, const std::string& on) {
    const Carrier before = carrierOf(object, one);
    const PiecePlace place = objectPlace(object, one);
    one.parent = on;
    put(one, placeUnder(object, one, place));
    one.scale *= before.scale / carrierOf(object, one).scale;
  };
  hang(*found, parent);
  mod::PieceDoc* other = found->pair.empty() ? nullptr : findPiece(object, found->pair);
  if (other == nullptr) return {};
  hang(*other, carrier != nullptr && !carrier->pair.empty() ? carrier->pair : parent);
  follow(*found, *other, side);
  return {};
}

base::Status removePiece(mod::ObjectDoc& object, const std::string& piece) {
  if (findPiece(object, piece) == nullptr) return unknownPiece(piece);
  mod::removePieces(object, [&](const mod::PieceDoc& one) { return one.name == piece; });
  return {};
}

std::string freePieceName(const mod::ObjectDoc& object, const std::string& wanted) {
  std::string out = wanted;
  for (int n = 2; findPiece(object, out) != nullptr; ++n) out = wanted + "-" + std::to_string(n);
  return out;
}

base::Result<std::string> copyPiece(mod::ObjectDoc& object, const std::string& piece) {
  RAKUGO_ASSIGN(const auto names, copyTree(object, piece));
  return names.at(piece);
}

bool mayBePair(const mod::ObjectDoc& object, const mod::PieceDoc& a, const mod::PieceDoc& b) {
  if (a.sort != b.sort) return false;
  if (a.parent == b.parent) return true;
  const mod::PieceDoc* carrier = a.parent.empty() ? nullptr : findPiece(object, a.parent);
  return carrier != nullptr && !b.parent.empty() && carrier->pair == b.parent;
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
  if (!mayBePair(object, *one, *two))
    return base::Error{"piece.pair",
                       one->sort != two->sort
                           ? base::phrase("{0} and {1} are no pair: they are of different sorts.",
                                          base::presentable(piece, 60), base::presentable(other, 60))
                           : base::phrase("{0} and {1} are no pair: they hang on different pieces.",
                                          base::presentable(piece, 60), base::presentable(other, 60)),
                       {},
                       one->sort != two->sort ? base::phrase("Name a piece of the same sort.")
                                              : base::phrase("Let both hang on the same piece first.")};
  untie(object, piece);
  untie(object, other);
  one->pair = other;
  two->pair = piece;
  follow(*one, *two, side);
  return {};
}

base::Result<std::string> addMirrorImage(mod::ObjectDoc& object, const std::string& piece,
                                         const glm::vec3& side) {
  RAKUGO_ASSIGN(const auto names, copyTree(object, piece));
  RAKUGO_TRY(pairPieces(object, piece, names.at(piece), side));
  // What is a pair within stays one: together they are their own mirror image.
  for (const auto& [from, to] : names)
    if (from != piece && findPiece(object, from)->pair.empty()) {
      RAKUGO_TRY(pairPieces(object, from, to, side));
    }
  return names.at(piece);
}

base::Status copyPlace(mod::ObjectDoc& object, const std::string& from, const std::string& to, bool mirror,
                       const glm::vec3& side) {
  const mod::PieceDoc* given = findPiece(object, from);
  if (given == nullptr) return unknownPiece(from);
  const mod::PieceDoc* taker = findPiece(object, to);
  if (taker == nullptr) return unknownPiece(to);
  const PiecePlace place = objectPlace(object, *given);
  return placePiece(object, to, placeUnder(object, *taker, mirror ? mirrored(place, side) : place), side);
}

base::Result<std::string> addRuledPiece(mod::ObjectDoc& object, const rulebook::Kind& kind,
                                        const std::string& as) {
  const rulebook::PieceRule* rule = kind.findPiece(as);
  if (rule == nullptr) {
    std::vector<std::string> known;
    for (const rulebook::PieceRule& one : kind.pieces) known.push_back(one.id);
    return base::Error{
        "piece.sort",
        base::phrase("A {0} has no \"{1}\".", base::lowerAscii(kind.title), base::presentable(as, 40)),
        {},
        known.empty() ? base::phrase("The game takes no lamps or emitters in it.")
                      : base::phrase("It takes {0}.", base::listText(known, 12))};
  }
  mod::PieceDoc piece;
  piece.sort = rulebook::pieceSortName(rule->sort);
  piece.as = as;
  piece.name = freePieceName(object, as);
  for (const rulebook::Field& field : rule->fields)
    if (!field.default_value.is_null()) piece.values[field.id] = field.default_value;
  if (const mod::PieceDoc* first = mod::firstModelPiece(object);
      first != nullptr && rule->sort == rulebook::PieceSort::shape)
    piece.parent = first->name;
  object.pieces.push_back(piece);
  return piece.name;
}

base::Result<std::string> groupPieces(mod::ObjectDoc& object, const std::vector<std::string>& pieces,
                                      const std::string& name, const glm::vec3& side) {
  if (pieces.empty())
    return base::Error{"piece.few", base::phrase("A group carries at least one piece."), {}, {}};
  std::set<std::string> inside;
  for (const std::string& one : pieces) {
    const mod::PieceDoc* found = findPiece(object, one);
    if (found == nullptr) return unknownPiece(one);
    inside.insert(one);
    if (!found->pair.empty()) inside.insert(found->pair);
  }
  mod::PieceDoc group;
  group.sort = mod::kGroupSort;
  group.parent = findPiece(object, pieces.front())->parent;
  glm::dvec3 middle(0);
  bool paired = false;
  for (const std::string& one : inside) {
    const mod::PieceDoc* found = findPiece(object, one);
    if (found == nullptr) return unknownPiece(one);
    if (found->parent != group.parent)
      return base::Error{"piece.parent",
                         base::phrase("The pieces hang on different pieces."),
                         {},
                         base::phrase("Choose pieces that hang on the same one.")};
    middle += positionOf(placeOf(*found)) / static_cast<double>(inside.size());
    paired = paired || !found->pair.empty();
  }
  if (paired) middle -= glm::dot(middle, glm::dvec3(side)) * glm::dvec3(side);
  for (int i = 0; i < 3; ++i) middle[i] = std::round(middle[i] * 1e6) / 1e6;
  put(group, asPlace(middle, glm::dquat(1, 0, 0, 0)));
  group.name = freePieceName(object, name.empty() ? std::string(mod::kGroupSort) : name);
  const auto first = std::find_if(object.pieces.begin(), object.pieces.end(),
                                  [&](const mod::PieceDoc& one) { return inside.count(one.name) != 0; });
  object.pieces.insert(first, group);
  for (const std::string& one : inside) {
    RAKUGO_TRY(setParent(object, one, group.name, side));
  }
  return group.name;
}

std::optional<double> aboveFloor(const mod::ObjectDoc& object, const mod::PieceDoc& piece,
                                 const scene::Model& model, const glm::vec3& up) {
  const glm::mat4 place = placeInObject(object, piece);
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
  const auto above = aboveFloor(object, *found, model, up);
  if (!above) return {};
  PiecePlace place = objectPlace(object, *found);
  for (size_t i = 0; i < 3; ++i)
    place.position_m[i] -= std::round(*above * 1e6) / 1e6 * static_cast<double>(up[static_cast<int>(i)]);
  return placePiece(object, piece, placeUnder(object, *found, place), book.side());
}

base::Status spreadPieces(mod::ObjectDoc& object, const std::vector<std::string>& pieces,
                          const glm::vec3& side) {
  if (pieces.size() < 3)
    return base::Error{
        "piece.few", base::phrase("Pieces between two others are spread: name at least three."), {}, {}};
  for (const std::string& one : pieces)
    if (findPiece(object, one) == nullptr) return unknownPiece(one);
  const auto placeNow = [&](const std::string& one) { return objectPlace(object, *findPiece(object, one)); };
  const auto from = placeNow(pieces.front()).position_m, to = placeNow(pieces.back()).position_m;
  for (size_t n = 1; n + 1 < pieces.size(); ++n) {
    PiecePlace place = placeNow(pieces[n]);
    const double share = static_cast<double>(n) / static_cast<double>(pieces.size() - 1);
    for (size_t i = 0; i < 3; ++i)
      place.position_m[i] = std::round((from[i] + (to[i] - from[i]) * share) * 1e6) / 1e6 + 0.0;
    RAKUGO_TRY(placePiece(object, pieces[n], placeUnder(object, *findPiece(object, pieces[n]), place), side));
  }
  return {};
}

base::Status alignPieces(mod::ObjectDoc& object, const std::vector<std::string>& pieces,
                         const glm::vec3& along, const glm::vec3& side) {
  for (const std::string& one : pieces)
    if (findPiece(object, one) == nullptr) return unknownPiece(one);
  if (pieces.size() < 2)
    return base::Error{
        "piece.few", base::phrase("Pieces are aligned to the first: name at least two."), {}, {}};
  const glm::dvec3 axis(along);
  const double level = glm::dot(positionOf(objectPlace(object, *findPiece(object, pieces.front()))), axis);
  for (size_t n = 1; n < pieces.size(); ++n) {
    const mod::PieceDoc& piece = *findPiece(object, pieces[n]);
    const PiecePlace place = objectPlace(object, piece);
    const glm::dvec3 at = positionOf(place);
    RAKUGO_TRY(placePiece(
        object, pieces[n],
        placeUnder(object, piece, asPlace(at + (level - glm::dot(at, axis)) * axis, turnOf(place))), side));
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
  const glm::mat4 at = placeInObject(next, *whole);
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
    const PiecePlace place = asPlace(at * pieceMatrix(piece));
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

GameAxes gameAxes(const rulebook::Rulebook& book) {
  return {geometry::axisVector(book.forward), book.side(), geometry::axisVector(book.up)};
}

glm::dquat turnOf(const GameAxes& axes, const glm::dvec3& degrees) {
  const auto about = [](const glm::vec3& axis, double by) {
    return glm::angleAxis(glm::radians(by), glm::dvec3(axis));
  };
  return about(axes.up, degrees.z) * about(axes.side, degrees.y) * about(axes.forward, degrees.x);
}

}  // namespace rakugo::prepare
