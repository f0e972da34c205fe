// Checks of parts that turn or swing: what they move, and about what.
#include <algorithm>
#include <cmath>
#include <map>

#include "base/text.h"
#include "check/rows/piece_findings.h"
#include "prepare/objects/moving_parts.h"
#include "prepare/objects/piece_parts.h"
#include "rulebook/piece_sorts.h"

namespace rakugo::check {
namespace {

using rulebook::PieceSort;

prepare::ModelOf modelsOf(const Context& context) {
  return [&context](const std::string& name) -> const scene::Model* {
    const auto found = context.models.find(name);
    return found != context.models.end() ? found->second.prepared.model.get() : nullptr;
  };
}

template <class Body>
void eachMoving(const Context& context, const Body& body) {
  for (const auto& [name, doc] : context.mod->objects)
    for (const mod::PieceDoc& piece : doc.pieces)
      if (rulebook::pieceSortFrom(piece.sort) == PieceSort::moving) body(name, doc, piece);
}

// It names a part that is not there, or moves nothing at all.
void checkMovesNothing(const Context& context, const CheckRow& row, Findings& out) {
  const prepare::ModelOf models = modelsOf(context);
  eachMoving(context, [&](const std::string& name, const mod::ObjectDoc& doc, const mod::PieceDoc& piece) {
    const prepare::Moved moved = prepare::movedBy(doc, piece, models);
    const std::string part = base::textOf(piece.values, "part");
    if (part.empty() ? !moved.empty() : !moved.parts.empty()) return;
    const std::vector<std::string> parts = prepare::partsForPiece(doc, piece, models);
    if (!part.empty() && parts.empty()) return;  // its model could not be read: that has a finding of its own
    Finding f = aboutPiece(
        context, row, name, piece.name,
        part.empty()
            ? phrase("{0} of {1} moves nothing: it names no part, and carries nothing.", piece.name, name)
            : phrase("{0} of {1} moves the part \"{2}\", which is not there.", piece.name, name,
                     base::presentable(part, 60)));
    f.measured = base::presentable(part, 60);
    f.expected = base::listText(parts, 8);
    // What moves is for the person to say; a name that is nearly right is proposed.
    if (const std::string near = base::nearMiss(part, parts); !near.empty()) {
      f.mends.push_back(
          objectMend(name, phrase("It moves {0}", near), [piece = piece.name, near](mod::ObjectDoc& object) {
            return prepare::setPieceValue(object, piece, "part", near);
          }));
      f.mends.push_back(objectMend(
          name, phrase("Take {0} out", piece.name),
          [piece = piece.name](mod::ObjectDoc& object) { return prepare::removePiece(object, piece); }));
    }
    out.push_back(std::move(f));
  });
}

// How far the line that it goes round lies from the box of what it moves, in the piece's own space.
double offAxis(const geometry::Bounds& box, const glm::vec3& forward) {
  double off_sq = 0;
  for (int c = 0; c < 3; ++c) {
    if (std::abs(forward[c]) > 0.5F) continue;  // along the line
    const double out = std::max({0.0, static_cast<double>(box.min[c]), -static_cast<double>(box.max[c])});
    off_sq += out * out;
  }
  return std::sqrt(off_sq);
}

// A door swings about its edge, a wheel turns about its middle; nothing flies round a point beside itself.
void checkMovingFar(const Context& context, const CheckRow& row, Findings& out) {
  const prepare::ModelOf models = modelsOf(context);
  const glm::vec3 forward = geometry::axisVector(context.book->forward);
  eachMoving(context, [&](const std::string& name, const mod::ObjectDoc& doc, const mod::PieceDoc& piece) {
    const geometry::Bounds box = prepare::movedBox(doc, piece, models);
    if (box.empty()) return;
    const double off = offAxis(box, forward);
    const glm::vec3 size = box.size();
    const double most = static_cast<double>(std::max({size.x, size.y, size.z})) / 2;
    if (off <= most) return;
    Finding f = aboutPiece(context, row, name, piece.name,
                           phrase("{0} of {1} goes round a line {2} beside what it moves: that flies in a "
                                  "circle.",
                                  piece.name, name, base::lengthText(off)));
    f.measured = base::lengthText(off);
    f.expected = phrase("at most {0}", base::lengthText(most));
    std::map<std::string, std::shared_ptr<const scene::Model>> prepared;
    for (const mod::PieceDoc& one : doc.pieces)
      if (const auto state = context.models.find(one.model); state != context.models.end())
        prepared[one.model] = state->second.prepared.model;
    f.mends.push_back(objectMend(
        name, phrase("Put it in the middle of what it moves"),
        [piece = piece.name, book = context.book, prepared = std::move(prepared)](mod::ObjectDoc& object) {
          return prepare::centerMoving(object, piece, *book, [&](const std::string& model) {
            const auto found = prepared.find(model);
            return found != prepared.end() ? found->second.get() : nullptr;
          });
        }));
    f.mends.push_back(objectMend(
        name, phrase("Take {0} out", piece.name),
        [piece = piece.name](mod::ObjectDoc& object) { return prepare::removePiece(object, piece); }));
    out.push_back(std::move(f));
  });
}

}  // namespace

std::vector<CheckRow> movingChecks() {
  using S = Severity;
  return {{"piece.moves_nothing",
           83,
           S::shows,
           Station::objects,
           {"mod.documents"},
           "A moving part that moves nothing",
           "What should turn or swing stands still.",
           "Name the part that moves, or take the piece out.",
           checkMovesNothing},
          {"piece.moves_far",
           84,
           S::shows,
           Station::objects,
           {"mod.documents"},
           "A part that turns about a line beside itself",
           "Players see it fly round in a circle.",
           "Put the piece where the part turns.",
           checkMovingFar}};
}

}  // namespace rakugo::check
