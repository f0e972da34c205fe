// Checks of models that are made from another model of their object, and of what the game shows apart.
#include <algorithm>
#include <map>

#include "base/text.h"
#include "check/rows/piece_findings.h"
#include "mod/following.h"
#include "mod/piece_tree.h"
#include "prepare/objects/derived_model.h"
#include "prepare/objects/object_variants.h"
#include "prepare/objects/piece_edits.h"
#include "prepare/parts/pieces.h"

namespace rakugo::check {
namespace {

void checkMadeFrom(const Context& context, const CheckRow& row, Findings& out) {
  for (const auto& [name, doc] : context.mod->objects) {
    const rulebook::Kind* kind = context.book->findKind(doc.kind);
    if (kind == nullptr) continue;
    for (const mod::PieceDoc& piece : doc.pieces) {
      const rulebook::KindModel* rule = piece.isModel() ? kind->findModel(piece.as) : nullptr;
      const mod::PieceDoc* from = rule != nullptr ? prepare::pieceMadeFrom(doc, *rule) : nullptr;
      const auto model = context.mod->models.find(piece.model);
      if (from == nullptr || from->model == piece.model || model == context.mod->models.end() ||
          prepare::beginsAs(model->second, from->model))
        continue;
      const std::string is = prepare::beginningOf(model->second);
      Finding f =
          aboutPiece(context, row, name, piece.name,
                     phrase("{0} of {1} is not made from {2}: when that changes, the {3} stays as it is.",
                            piece.model, name, from->model, base::lowerAscii(rule->title)));
      f.place.model = piece.model;
      f.measured = is.empty() ? phrase("made from {0}", model->second.source) : phrase("made from {0}", is);
      f.expected = phrase("made from {0}", from->model);
      if (!is.empty())
        f.mends.push_back({phrase("Make {0} from {1}", piece.model, from->model),
                           [of = piece.model, from = from->model](mod::ModState& mod) {
                             mod::ModelDoc* changed = mod.models.change(of);
                             if (changed == nullptr) return;
                             for (mod::StepDoc& step : changed->steps)
                               if (step.enabled && step.kind == "as_model") step.values["model"] = from;
                           }});
      out.push_back(std::move(f));
    }
  }
}

// A variant whose document, or that of what it follows, was changed by another program.
void checkBehind(const Context& context, const CheckRow& row, Findings& out) {
  for (const auto& [name, doc] : context.mod->objects) {
    if (doc.follows.name.empty()) continue;
    if (!context.mod->objects.contains(doc.follows.name)) {
      Finding f = aboutPiece(
          context, row, name, {},
          phrase("{0} follows {1}, which is not there.", name, base::presentable(doc.follows.name, 60)));
      f.measured = phrase("not there");
      f.expected = phrase("an object of the mod");
      f.mends.push_back({phrase("Let {0} stand alone", name),
                         [name = name](mod::ModState& mod) { (void)mod::standAlone(mod, name); }});
      out.push_back(std::move(f));
      continue;
    }
    const std::vector<std::string> differ = mod::differencesFromFollowed(*context.mod, doc);
    std::vector<std::string> behind;
    for (const std::string& one : differ)
      if (std::find(doc.follows.own.begin(), doc.follows.own.end(), one) == doc.follows.own.end())
        behind.push_back(prepare::ownText(one, context.book->findKind(doc.kind)));
    if (behind.empty()) continue;
    Finding f = aboutPiece(context, row, name, {},
                           phrase("{0} is not as {1}, and does not say that this is its own: {2}.", name,
                                  doc.follows.name, base::listText(behind, 4)));
    f.measured = base::countText(behind.size(), "difference", "differences");
    f.expected = phrase("none");
    f.mends.push_back(
        {phrase("Make it as {0} there", doc.follows.name), [name = name, differ](mod::ModState& mod) {
           const auto found = std::as_const(mod.objects).find(name);
           if (found == std::as_const(mod.objects).end()) return;
           const std::vector<std::string> own = found->second.follows.own;
           for (const std::string& one : differ)
             if (std::find(own.begin(), own.end(), one) == own.end()) (void)mod::likeDesign(mod, name, one);
         }});
    f.mends.push_back({phrase("Keep it as {0}'s own", name),
                       [name = name](mod::ModState& mod) { (void)mod::keepDifferences(mod, name); }});
    out.push_back(std::move(f));
  }
}

// What of the game's own an object stands in place of.
void checkReplaces(const Context& context, const CheckRow& row, Findings& out) {
  std::map<std::string, std::string> taken;  // by what it replaces, the first that does
  for (const auto& [name, doc] : context.mod->objects) {
    if (doc.replaces.empty()) continue;
    const rulebook::Kind* kind = context.book->findKind(doc.kind);
    const std::string title = kind != nullptr ? base::lowerAscii(kind->title) : doc.kind;
    std::vector<std::string> known;
    if (kind != nullptr && kind->replaces)
      for (const rulebook::SharedAsset& asset : context.book->shared_assets)
        if (asset.sort == kind->id) known.push_back(asset.id);
    const std::string shown = base::presentable(doc.replaces, 60);
    const auto [first, fresh] = taken.emplace(doc.replaces, name);
    Finding f = aboutPiece(context, row, name, {}, {});
    f.place.field = "replaces";
    f.measured = shown;
    if (std::find(known.begin(), known.end(), doc.replaces) == known.end()) {
      f.sentence =
          known.empty()
              ? phrase("{0} stands in place of {1}; a {2} replaces nothing of the game.", name, shown, title)
              : phrase("{0} stands in place of {1}, which is no {2} of the game's own.", name, shown, title);
      f.expected = known.empty() ? phrase("nothing") : base::listText(known, 6);
      const std::string near = base::nearMiss(doc.replaces, known);
      for (const std::string& one : known)
        if (near.empty() ? known.size() < 4 : one == near)
          f.mends.push_back(
              objectMend(name, phrase("Let it stand in place of {0}", one), [one](mod::ObjectDoc& object) {
                object.replaces = one;
                return base::Status();
              }));
    } else if (!fresh) {
      f.sentence = phrase("{0} and {1} both stand in place of {2}.", first->second, name, shown);
      f.expected = phrase("one of them");
    } else {
      continue;
    }
    f.mends.push_back(
        objectMend(name, phrase("Let it stand beside the game's own"), [](mod::ObjectDoc& object) {
          object.replaces.clear();
          return base::Status();
        }));
    out.push_back(std::move(f));
  }
}

void checkApart(const Context& context, const CheckRow& row, Findings& out) {
  for (const auto& [name, doc] : context.mod->objects) {
    for (const mod::PieceDoc& piece : doc.pieces) {
      if (piece.isModel() || piece.sort == mod::kGroupSort) continue;
      const mod::PieceDoc* apart = prepare::apartRoot(*context.book, doc, piece);
      if (apart == nullptr) continue;
      Finding f =
          aboutPiece(context, row, name, piece.name,
                     phrase("{0} hangs on {1}, which the game shows by itself and without what is no model.",
                            piece.name, apart->name));
      f.measured = phrase("on {0}", apart->name);
      f.expected = phrase("on the object, or on a model that is shown with it");
      f.mends.push_back(objectMend(name, phrase("Let {0} hang on the object", piece.name),
                                   [piece = piece.name, side = context.book->side()](mod::ObjectDoc& object) {
                                     return prepare::setParent(object, piece, {}, side);
                                   }));
      f.mends.push_back(objectMend(
          name, phrase("Take {0} out", piece.name),
          [piece = piece.name](mod::ObjectDoc& object) { return prepare::removePiece(object, piece); }));
      out.push_back(std::move(f));
    }
  }
}

}  // namespace

std::vector<CheckRow> derivedChecks() {
  using S = Severity;
  return {{"object.made_from",
           61,
           S::tidy,
           Station::objects,
           {"mod.documents"},
           "A version that does not follow what it is a version of",
           "The two grow apart: what is carried is no longer what stood there.",
           "Let it begin as the other model, and change only what has to be otherwise.",
           checkMadeFrom},
          {"object.behind",
           62,
           S::tidy,
           Station::objects,
           {"mod.documents"},
           "A variant that does not follow its design",
           "The game gets what neither the design nor the variant says.",
           "Make it as the design is, or say that it is the variant's own.",
           checkBehind},
          {"object.replaces",
           63,
           S::shows,
           Station::objects,
           {"mod.documents"},
           "In place of what the game does not have",
           "The game's own thing stays where it is, or two of the mod's want its place.",
           "Choose which of the game's things it replaces, or let it stand beside them.",
           checkReplaces},
          {"piece.apart",
           82,
           S::shows,
           Station::objects,
           {"mod.documents"},
           "A piece on what the game shows by itself",
           "It is built into nothing, and nobody sees or hears it.",
           "Let it hang on the object, or take it out.",
           checkApart}};
}

}  // namespace rakugo::check
