#include "check/consequence.h"

#include <algorithm>

#include "base/phrase.h"
#include "base/text.h"
#include "prepare/parts/pieces.h"

namespace rakugo::check {
namespace {

using rulebook::Outcome;

// Objects that a finding is about: the one it names, or all that use its model.
std::vector<const mod::ObjectDoc*> objectsOf(const Context& context, const FindingPlace& place) {
  std::vector<const mod::ObjectDoc*> out;
  if (!place.object.empty()) {
    if (const auto found = context.mod->objects.find(place.object); found != context.mod->objects.end())
      out.push_back(&found->second);
  } else if (!place.model.empty()) {
    for (const auto& [name, doc] : context.mod->objects)
      if (std::any_of(doc.pieces.begin(), doc.pieces.end(),
                      [&](const mod::PieceDoc& piece) { return piece.model == place.model; }))
        out.push_back(&doc);
  }
  return out;
}

// What a finding's model is to the object, or the object's own kind.
std::vector<const rulebook::Kind*> kindsFor(const Context& context, const mod::ObjectDoc& object,
                                            const FindingPlace& place) {
  std::vector<const rulebook::Kind*> out = prepare::kindsOfModel(*context.book, object, place.model);
  if (place.model.empty() || out.empty()) out = {context.book->findKind(object.kind)};
  return out;
}

// What is wrong with a source stops the game only where a model of an object is made of it; a size of such a
// model is missed by players; anything else is not shipped.
Severity mostOfSource(const Context& context, const std::string& source) {
  Severity out = Severity::tidy;
  for (const auto& [name, doc] : context.mod->models) {
    if (!mod::usesSource(doc, source)) continue;
    FindingPlace place;
    place.model = name;
    if (objectsOf(context, place).empty() && context.has_objects) continue;
    out = std::min(out, doc.source == source ? Severity::stops : Severity::shows);
  }
  return out;
}

}  // namespace

Severity severityOf(Outcome outcome) {
  switch (outcome) {
    case Outcome::refuses_mod:
    case Outcome::refuses_object:
      return Severity::stops;
    case Outcome::shows_wrong:
    case Outcome::shows_blank:
    case Outcome::takes_default:
      return Severity::shows;
    case Outcome::ignores:
    case Outcome::meant:
      return Severity::tidy;
  }
  return Severity::shows;
}

std::string outcomeText(Outcome outcome, const rulebook::Rulebook& book) {
  switch (outcome) {
    case Outcome::refuses_mod:
      return base::phrase("{0} refuses the whole mod.", book.title);
    case Outcome::refuses_object:
      return base::phrase("{0} does not load this object.", book.title);
    case Outcome::shows_wrong:
      return base::phrase("{0} loads it, and players see that something is wrong.", book.title);
    case Outcome::shows_blank:
      return base::phrase("{0} shows a blank there.", book.title);
    case Outcome::takes_default:
      return base::phrase("{0} takes a value of its own instead.", book.title);
    case Outcome::ignores:
      return base::phrase("{0} takes no notice of it.", book.title);
    case Outcome::meant:
      return base::phrase("{0} has it so.", book.title);
  }
  return {};
}

namespace {

void settleOutcome(const Context& context, const CheckRow& row,
                   const std::vector<const mod::ObjectDoc*>& objects, Finding& f) {
  const bool about_model = f.place.object.empty() && !f.place.model.empty();
  if (about_model && objects.empty() && context.has_objects) {
    if (f.severity == Severity::stops) f.severity = Severity::tidy;
    return;
  }
  if (f.place.object.empty() && f.place.model.empty() && !f.place.source.empty() &&
      f.severity == Severity::stops)
    f.severity = mostOfSource(context, f.place.source);
  std::optional<Outcome> worst;
  const auto weigh = [&](const rulebook::Kind* kind) {
    const rulebook::Field* field = kind != nullptr ? kind->findField(f.place.field) : nullptr;
    const auto outcome = rulebook::outcomeOf(*context.book, kind, field, f.check);
    if (outcome && (!worst || *outcome < *worst)) worst = outcome;
  };
  if (objects.empty()) weigh(nullptr);
  for (const mod::ObjectDoc* object : objects)
    for (const rulebook::Kind* kind : kindsFor(context, *object, f.place)) weigh(kind);
  if (!worst) return;
  f.outcome = worst;
  f.severity = severityOf(*worst);
  f.reason = outcomeText(*worst, *context.book);
  for (const auto& [id, reason] : context.book->reasons)
    if (id == row.id) f.reason += " " + reason;
}

}  // namespace

std::string reasonFor(std::string reason, const rulebook::Kind* kind) {
  constexpr std::string_view kOpen = "{kind}";
  const std::string word = kind != nullptr ? base::lowerAscii(kind->title) : "thing";
  for (size_t at = reason.find(kOpen); at != std::string::npos; at = reason.find(kOpen, at + word.size()))
    reason.replace(at, kOpen.size(), word);
  return reason;
}

void settle(const Context& context, const CheckRow& row, Finding& f) {
  const std::vector<const mod::ObjectDoc*> objects = objectsOf(context, f.place);
  settleOutcome(context, row, objects, f);
  f.reason = reasonFor(std::move(f.reason),
                       objects.empty() ? nullptr : kindsFor(context, *objects.front(), f.place).front());
}

}  // namespace rakugo::check
