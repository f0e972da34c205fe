// Checks of what an object is made of: which of its kind's models, pairs, names.
#include <algorithm>
#include <mutex>

#include "base/text.h"
#include "check/rows/piece_findings.h"
#include "prepare/objects/derived_model.h"
#include "prepare/objects/piece_edits.h"
#include "prepare/parts/pieces.h"

namespace rakugo::check {
namespace {

Mend asMend(const std::string& object, const std::string& piece, const std::string& as,
            const std::string& title) {
  return objectMend(object, phrase("{0} is the {1}", piece, base::lowerAscii(title)),
                    [piece, as](mod::ObjectDoc& doc) { return prepare::setPieceAs(doc, piece, as); });
}

size_t countOf(const mod::ObjectDoc& doc, const std::string& as, bool of_models) {
  return static_cast<size_t>(std::count_if(
      doc.pieces.begin(), doc.pieces.end(),
      [&](const mod::PieceDoc& piece) { return piece.as == as && piece.isModel() == of_models; }));
}

void unknownModel(const Context& context, const CheckRow& row, const std::string& name,
                  const mod::PieceDoc& piece, const rulebook::Kind& kind, Findings& out) {
  std::vector<std::string> known;
  for (const rulebook::KindModel& model : kind.models) known.push_back(model.id);
  Finding f = aboutPiece(
      context, row, name, piece.name,
      known.empty() ? phrase("{0} of {1} says that it is the \"{2}\"; a {3} is made of one model.",
                             piece.name, name, base::presentable(piece.as, 40), base::lowerAscii(kind.title))
                    : phrase("{0} of {1} says that it is the \"{2}\"; a {3} has {4} beside its main model.",
                             piece.name, name, base::presentable(piece.as, 40), base::lowerAscii(kind.title),
                             base::listText(known, 8)));
  f.measured = base::presentable(piece.as, 40);
  f.expected = base::listText(known, 8);
  const std::string near = base::nearMiss(piece.as, known);
  for (const rulebook::KindModel& model : kind.models)
    if (near.empty() || model.id == near) f.mends.push_back(asMend(name, piece.name, model.id, model.title));
  f.mends.push_back(asMend(name, piece.name, {}, kind.title));
  out.push_back(std::move(f));
}

// Pieces that are the main model and could be one that is missing.
void offerPieces(const mod::ObjectDoc& doc, const std::string& name, const rulebook::KindModel& model,
                 Finding& f) {
  if (countOf(doc, {}, true) < 2) return;
  for (const mod::PieceDoc& piece : doc.pieces)
    if (piece.isModel() && piece.as.empty() && f.mends.size() < 4)
      f.mends.push_back(asMend(name, piece.name, model.id, model.title));
}

// A model that is made from another, where there are too few.
void offerDerived(const Context& context, const mod::ObjectDoc& doc, const std::string& name,
                  const rulebook::KindModel& model, Finding& f) {
  const mod::PieceDoc* from = prepare::pieceMadeFrom(doc, model);
  if (from == nullptr || countOf(doc, model.id, true) >= static_cast<size_t>(model.least)) return;
  const auto state = context.models.find(from->model);
  if (state == context.models.end() || !state->second.prepared.model) return;
  // Worked out when it is tried, in the background, and known when it is taken.
  struct Known {
    std::once_flag once;
    std::vector<mod::StepDoc> steps;
  };
  f.mends.push_back(
      {phrase("Make it from {0}", from->model),
       [name, as = model.id, book = context.book, known = std::make_shared<Known>(),
        prepared = state->second.prepared.model](mod::ModState& mod) {
         const prepare::StepsFor steps = [&](const rulebook::Kind& rules, const std::string& made) {
           std::call_once(known->once,
                          [&] { known->steps = prepare::stepsToDerive(*book, rules, made, *prepared); });
           return known->steps;
         };
         mod::ModState next = mod;
         if (prepare::addDerivedModel(next, *book, name, as, steps)) mod = std::move(next);
       }});
}

// A model or piece of the kind that an object has too few or too many of.
struct Counted {
  std::string id, title, help;
  int64_t least, most;
  const rulebook::Condition& when;
  bool of_models;
};

std::optional<Finding> countFault(const Context& context, const CheckRow& row, const std::string& name,
                                  const mod::ObjectDoc& doc, const rulebook::Kind& kind, const Counted& one) {
  const auto count = static_cast<int64_t>(countOf(doc, one.id, one.of_models));
  const int64_t least = one.when.holds(doc.card) ? one.least : 0;
  if (count >= least && count <= one.most) return std::nullopt;
  const std::string has = base::countText(static_cast<uint64_t>(count), "piece", "pieces"),
                    title = base::lowerAscii(one.title), of = base::lowerAscii(kind.title);
  Finding f =
      aboutPiece(context, row, name, {},
                 count < least ? phrase("{0} has {1} that is its {2}; a {3} needs {4}.{5}", name, has, title,
                                        of, std::to_string(least), one.help.empty() ? "" : " " + one.help)
                               : phrase("{0} has {1} that are its {2}; a {3} may have {4}.", name, has, title,
                                        of, std::to_string(one.most)));
  f.measured = std::to_string(count);
  f.expected = count < least ? phrase("at least {0}", std::to_string(least))
                             : phrase("at most {0}", std::to_string(one.most));
  return f;
}

void checkObjectModels(const Context& context, const CheckRow& row, Findings& out) {
  for (const auto& [name, doc] : context.mod->objects) {
    const rulebook::Kind* kind = context.book->findKind(doc.kind);
    if (kind == nullptr || doc.pieces.empty()) continue;
    bool all_known = true;
    for (const mod::PieceDoc& piece : doc.pieces)
      if (piece.isModel() && !piece.as.empty() && kind->findModel(piece.as) == nullptr) {
        unknownModel(context, row, name, piece, *kind, out);
        all_known = false;
      }
    for (const rulebook::KindModel& model : kind->models)
      if (auto f =
              countFault(context, row, name, doc, *kind,
                         {model.id, model.title, model.help, model.least, model.most, model.when, true})) {
        offerDerived(context, doc, name, model, *f);
        offerPieces(doc, name, model, *f);
        out.push_back(std::move(*f));
      }
    for (const rulebook::PieceRule& rule : kind->pieces)
      if (auto f = countFault(context, row, name, doc, *kind,
                              {rule.id, rule.title, rule.help, rule.least, rule.most, rule.when, false})) {
        if (f->measured == "0" || countOf(doc, rule.id, false) < static_cast<size_t>(rule.least))
          f->mends.push_back(objectMend(name, phrase("Add one: {0}", base::lowerAscii(rule.title)),
                                        [of = *kind, as = rule.id](mod::ObjectDoc& object) -> base::Status {
                                          RAKUGO_TRY(prepare::addRuledPiece(object, of, as));
                                          return {};
                                        }));
        out.push_back(std::move(*f));
      }
    // A piece that names an unknown model has been told already.
    if (countOf(doc, {}, true) == 0 && all_known) {
      Finding f = aboutPiece(context, row, name, {}, phrase("No piece of {0} is its main model.", name));
      for (const mod::PieceDoc& piece : doc.pieces)
        if (piece.isModel() && f.mends.size() < 4)
          f.mends.push_back(asMend(name, piece.name, {}, kind->title));
      out.push_back(std::move(f));
    }
  }
}

// Parents that are not there, carry nothing, or go round in a circle.
void checkParents(const Context& context, const CheckRow& row, Findings& out) {
  for (const auto& [name, doc] : context.mod->objects)
    for (const mod::PieceDoc& piece : doc.pieces) {
      if (piece.parent.empty()) continue;
      const mod::PieceDoc* parent = mod::findPiece(doc, piece.parent);
      std::string said;
      if (parent == nullptr)
        said = phrase("{0} of {1} hangs on {2}, which is not there.", piece.name, name,
                      base::presentable(piece.parent, 60));
      else if (!parent->carries())
        said = phrase("{0} of {1} hangs on {2}, which carries nothing.", piece.name, name,
                      base::presentable(piece.parent, 60));
      else if (parent == &piece || mod::hangsOn(doc, *parent, piece.name))
        said = phrase("{0} of {1} hangs on itself.", piece.name, name);
      if (said.empty()) continue;
      Finding f = aboutPiece(context, row, name, piece.name, std::move(said));
      f.measured = base::presentable(piece.parent, 60);
      f.mends.push_back(objectMend(name, phrase("Let {0} hang on the object itself", piece.name),
                                   [piece = piece.name](mod::ObjectDoc& object) -> base::Status {
                                     if (mod::PieceDoc* one = mod::findPiece(object, piece))
                                       one->parent.clear();
                                     return {};
                                   }));
      out.push_back(std::move(f));
    }
}

void checkPairs(const Context& context, const CheckRow& row, Findings& out) {
  const glm::vec3 side = context.book->side();
  for (const auto& [name, doc] : context.mod->objects)
    for (const mod::PieceDoc& piece : doc.pieces) {
      if (piece.pair.empty()) continue;
      const mod::PieceDoc* other = prepare::findPiece(doc, piece.pair);
      const Mend untie = objectMend(name, phrase("Let {0} stand alone", piece.name),
                                    [piece = piece.name, side](mod::ObjectDoc& object) {
                                      return prepare::pairPieces(object, piece, {}, side);
                                    });
      if (other == nullptr || other == &piece || other->pair != piece.name) {
        Finding f =
            aboutPiece(context, row, name, piece.name,
                       other == nullptr ? phrase("{0} of {1} is a pair with {2}, which is not there.",
                                                 piece.name, name, base::presentable(piece.pair, 60))
                                        : phrase("{0} of {1} is a pair with {2}, which names another.",
                                                 piece.name, name, base::presentable(piece.pair, 60)));
        f.mends.push_back(untie);
        out.push_back(std::move(f));
        continue;
      }
      if (piece.name > other->name) continue;  // told once
      if (!prepare::mayBePair(doc, piece, *other)) {
        Finding f = aboutPiece(context, row, name, piece.name,
                               phrase("{0} and {1} of {2} are a pair, and are of different sorts or hang on "
                                      "different pieces.",
                                      piece.name, other->name, name));
        f.mends.push_back(untie);
        out.push_back(std::move(f));
        continue;
      }
      const double off = prepare::offMirror(prepare::placeOf(piece), prepare::placeOf(*other), side);
      if (off < 0) continue;
      Finding f = aboutPiece(context, row, name, piece.name,
                             phrase("{0} and {1} of {2} are a pair and no mirror images: {3} apart.",
                                    piece.name, other->name, name, base::lengthText(off)));
      f.measured = base::lengthText(off);
      f.expected = phrase("the mirror image");
      const auto follow = [&, of = name](const std::string& leads, const std::string& follows) {
        f.mends.push_back(objectMend(of, phrase("Let {0} follow {1}", follows, leads),
                                     [leads, follows, side](mod::ObjectDoc& object) {
                                       return prepare::pairPieces(object, leads, follows, side);
                                     }));
      };
      follow(piece.name, other->name);
      follow(other->name, piece.name);
      f.mends.push_back(untie);
      out.push_back(std::move(f));
    }
}

// A game draws a thing while its box is in view, fits it into places and shops by it: one small piece far off
// makes it many times as large.
void checkPieceFar(const Context& context, const CheckRow& row, Findings& out) {
  constexpr float kTimes = 4;
  for (const auto& [name, doc] : context.mod->objects) {
    std::vector<geometry::Bounds> boxes;
    for (const mod::PieceDoc& piece : doc.pieces) boxes.push_back(boxOfPiece(context, doc, piece));
    const auto longest = [](const geometry::Bounds& box) {
      const glm::vec3 size = box.size();
      return std::max({size.x, size.y, size.z});
    };
    geometry::Bounds whole;
    for (const geometry::Bounds& box : boxes) whole.add(box);
    for (size_t i = 0; i < doc.pieces.size(); ++i) {
      geometry::Bounds rest;
      for (size_t other = 0; other < boxes.size(); ++other)
        if (other != i) rest.add(boxes[other]);
      if (boxes[i].empty() || rest.empty() || longest(boxes[i]) > longest(rest)) continue;
      if (longest(whole) <= kTimes * longest(rest)) continue;
      Finding f =
          aboutPiece(context, row, name, doc.pieces[i].name,
                     phrase("{0} stands so far off that {1} is {2} long instead of {3}.", doc.pieces[i].name,
                            name, base::lengthText(longest(whole)), base::lengthText(longest(rest))));
      f.measured = base::lengthText(longest(whole));
      f.expected = phrase("about {0}", base::lengthText(longest(rest)));
      f.place.marks_m = {boxes[i].center()};
      f.mends.push_back(
          objectMend(name, phrase("Bring it to the nearest place on {0}", name),
                     [piece = doc.pieces[i].name,
                      by = glm::clamp(boxes[i].center(), rest.min, rest.max) - boxes[i].center(),
                      side = context.book->side()](mod::ObjectDoc& object) -> base::Status {
                       const mod::PieceDoc* one = prepare::findPiece(object, piece);
                       if (one == nullptr) return {};
                       prepare::PiecePlace to = prepare::objectPlace(object, *one);
                       for (size_t c = 0; c < 3; ++c)
                         to.position_m[c] += static_cast<double>(by[static_cast<int>(c)]);
                       return prepare::placePiece(object, piece, prepare::placeUnder(object, *one, to), side);
                     }));
      f.mends.push_back(objectMend(name, phrase("Take {0} out", doc.pieces[i].name),
                                   [piece = doc.pieces[i].name](mod::ObjectDoc& object) {
                                     return prepare::removePiece(object, piece);
                                   }));
      out.push_back(std::move(f));
    }
  }
}

void checkPieceNames(const Context& context, const CheckRow& row, Findings& out) {
  for (const auto& [name, doc] : context.mod->objects)
    for (size_t i = 0; i < doc.pieces.size(); ++i) {
      const std::string& piece = doc.pieces[i].name;
      const bool twice = std::any_of(doc.pieces.begin(), doc.pieces.begin() + static_cast<std::ptrdiff_t>(i),
                                     [&](const mod::PieceDoc& one) { return one.name == piece; });
      if (!piece.empty() && !twice) continue;
      Finding f =
          aboutPiece(context, row, name, piece,
                     twice ? phrase("Two pieces of {0} are called {1}.", name, base::presentable(piece, 60))
                           : phrase("A piece of {0} has no name.", name));
      f.mends.push_back(objectMend(name, phrase("Call it otherwise"), [i](mod::ObjectDoc& object) {
        if (i >= object.pieces.size()) return base::Status();
        mod::PieceDoc& one = object.pieces[i];
        const std::string stem = !one.name.empty() ? one.name : one.isModel() ? one.model : one.sort;
        one.name.clear();
        one.name = prepare::freePieceName(object, stem);
        return base::Status();
      }));
      out.push_back(std::move(f));
    }
}

}  // namespace

std::vector<CheckRow> pieceChecks() {
  using S = Severity;
  return {
      {"piece.far",
       85,
       S::shows,
       Station::objects,
       {"mod.documents"},
       "A piece far off from the rest",
       "The game reckons with a thing many times as large: it is drawn when it is out of view, and fits "
       "nowhere.",
       "Bring it back, or take it out.",
       checkPieceFar},
      {"object.models",
       72,
       S::shows,
       Station::objects,
       {"mod.documents"},
       "An object is not made of what its kind has",
       "The game looks for each model, lamp and emitter of the kind; what it does not find is missing, and "
       "what it does not know is not held against any rule.",
       "Say which piece is which, or add what is missing.",
       checkObjectModels},
      {"piece.pair",
       74,
       S::shows,
       Station::objects,
       {"mod.documents"},
       "A pair that is none",
       "What should be the same on both sides is not.",
       "Let one follow the other, or untie them.",
       checkPairs},
      {"piece.parent",
       73,
       S::shows,
       Station::objects,
       {"mod.documents"},
       "A piece hangs on what cannot carry it",
       "It stands somewhere else than where it was put, or nowhere.",
       "Let it hang on a model, on a group, or on the object itself.",
       checkParents},
      {"piece.name",
       76,
       S::tidy,
       Station::objects,
       {"mod.documents"},
       "Two pieces with one name",
       "Nothing can tell them apart: edits and the game mean the first.",
       "Call one otherwise.",
       checkPieceNames}};
}

}  // namespace rakugo::check
