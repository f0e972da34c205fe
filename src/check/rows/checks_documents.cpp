// Checks of what stands in a mod's documents: keys that no one knows, steps that an earlier save damaged.
#include <algorithm>

#include "base/text.h"
#include "check/checks.h"
#include "mod/step_documents.h"

namespace rakugo::check {
namespace {

using base::Json;

// An edit of one step of a model, which does nothing once either is gone.
Mend editStep(const std::string& model, const std::string& step, std::string label,
              std::function<void(mod::StepDoc&)> edit) {
  return {std::move(label), [model, step, edit = std::move(edit)](mod::ModState& mod) {
            if (auto* doc = mod.models.change(model))
              for (mod::StepDoc& one : doc->steps)
                if (one.id == step) edit(one);
          }};
}

Finding unknownKey(const Context& context, const CheckRow& row, const std::string& document,
                   const std::string& where, const std::string& key, const std::string& near) {
  Finding f = begin(
      context, row,
      near.empty() ? phrase("Rakugo does not know the key \"{0}\" ({1}); it is kept and does nothing.",
                            base::presentable(key, 60), where)
                   : phrase("Rakugo does not know the key \"{0}\" ({1}); it is kept and does nothing. Is "
                            "\"{2}\" meant?",
                            base::presentable(key, 60), where, near));
  f.measured = base::presentable(key, 60);
  f.expected = near;
  f.place.document = document;
  f.place.field = where;
  return f;
}

void checkStepRecovered(const Context& context, const CheckRow& row, Findings& out) {
  for (const auto& [name, doc] : context.mod->models)
    for (size_t i = 0; i < doc.steps.size(); ++i) {
      const mod::StepDoc& step = doc.steps[i];
      const Json* others = base::memberOf(step.more, mod::kRecoveredKey);
      if (others == nullptr) continue;
      Finding f = begin(
          context, row,
          phrase("Step {0} of {1} was damaged when an earlier Rakugo saved it. By its values it was: {2}.",
                 std::to_string(i + 1), name, prepare::sentenceText(step, nullptr, context.book)));
      f.place.model = name;
      f.place.step = step.id;
      f.place.field = step.id;
      f.place.document = "models/" + name + ".model.json";
      f.mends.push_back(editStep(name, step.id, phrase("Keep it so"),
                                 [](mod::StepDoc& one) { one.more.erase(mod::kRecoveredKey); }));
      if (others->is_array())
        for (const Json& other : *others) {
          const prepare::StepKind* kind =
              other.is_string() ? prepare::findStepKind(other.get<std::string>()) : nullptr;
          if (kind == nullptr) continue;
          f.mends.push_back(editStep(name, step.id, phrase("It was \"{0}\"", phrase(kind->title)),
                                     [id = std::string(kind->id)](mod::StepDoc& one) {
                                       one.kind = id;
                                       one.more.erase(mod::kRecoveredKey);
                                     }));
        }
      out.push_back(std::move(f));
    }
}

void checkRulebookReadable(const Context& context, const CheckRow& row, Findings& out) {
  for (const base::Error& error : context.rulebook_errors) {
    Finding f = begin(context, row, phrase("Of the rulebook {0}: {1}", context.book->title, error.text()));
    f.measured = error.place.text();
    f.place.document = "mod.json";
    f.place.field = error.place.file;
    out.push_back(std::move(f));
  }
}

void sayUnknownKeys(const Context& context, const CheckRow& row, mod::KeysOf documents, Findings& out) {
  for (const mod::UnknownKey& one : mod::unknownKeys(*context.mod, documents))
    out.push_back(unknownKey(context, row, one.document, one.pointer, one.key, one.near_miss));
}

void checkUnknownKeysBeside(const Context& context, const CheckRow& row, Findings& out) {
  sayUnknownKeys(context, row, mod::KeysOf::card_and_sources, out);
}

void checkUnknownKeys(const Context& context, const CheckRow& row, Findings& out) {
  sayUnknownKeys(context, row, mod::KeysOf::models_and_objects, out);
  for (const auto& [name, doc] : context.mod->models)
    for (size_t i = 0; i < doc.steps.size(); ++i) {
      const prepare::StepKind* kind = prepare::findStepKind(doc.steps[i].kind);
      if (kind == nullptr) continue;
      for (const auto& [key, value] : doc.steps[i].values.items()) {
        if (std::any_of(kind->parameters.begin(), kind->parameters.end(),
                        [&, k = key](const prepare::Parameter& one) { return one.key == k; }))
          continue;
        const std::vector<std::string> known = prepare::valueKeys(*kind);
        Finding f =
            unknownKey(context, row, "models/" + name + ".model.json",
                       "/steps/" + std::to_string(i) + "/values/" + key, key, base::nearMiss(key, known));
        f.place.model = name;
        f.place.step = doc.steps[i].id;
        out.push_back(std::move(f));
      }
    }
  for (const auto& [name, doc] : context.mod->objects) {
    const rulebook::Kind* kind = context.book->findKind(doc.kind);
    if (kind == nullptr) continue;
    for (const auto& [key, value] : doc.card.items()) {
      if (kind->findField(key) != nullptr) continue;
      std::vector<std::string> known;
      for (const rulebook::Field& field : kind->fields) known.push_back(field.id);
      const std::string near = base::nearMiss(key, known);
      // A field of its own is kept for whoever reads it; only what looks like a slip is worth a word.
      if (near.empty() || doc.card.contains(near)) continue;
      Finding f = unknownKey(context, row, "objects/" + name + ".object.json", "/card/" + key, key, near);
      f.place.object = name;
      f.mends.push_back({phrase("Call it \"{0}\"", near), [name = name, key = key, near](mod::ModState& mod) {
                           const auto found = mod.objects.find(name);
                           if (found == mod.objects.end() || !found->second.card.contains(key)) return;
                           Json renamed = Json::object();
                           for (const auto& [k, v] : found->second.card.items())
                             renamed[k == key ? near : k] = v;
                           mod.objects.at(name).card = std::move(renamed);
                         }});
      out.push_back(std::move(f));
    }
  }
}

}  // namespace

std::vector<CheckRow> documentChecks() {
  using S = Severity;
  return {
      {"step.recovered",
       40,
       S::shows,
       Station::shape,
       {"model.document"},
       "A step was damaged by an earlier version",
       "Its kind was lost when it was saved and is guessed from its values: a wrong guess does something "
       "else.",
       "Look at its sentence, and say whether it is right.",
       checkStepRecovered},
      {"document.unknown_key",
       940,
       S::tidy,
       Station::bundle,
       {"mod.documents", "model.document", "object.card"},
       "A key that no one knows",
       "It is kept and does nothing; a misspelt one leaves what it should set as it was.",
       "Correct its spelling in the file, or take it out.",
       checkUnknownKeys,
       checkUnknownKeysBeside},
      {"rulebook.unreadable",
       960,
       S::shows,
       Station::bundle,
       {"rulebook.errors"},
       "A file of the rulebook cannot be read",
       "What is checked by it is not checked: faults of that sort are passed in silence.",
       "Put the rulebook's file back, or install the rulebook again.",
       checkRulebookReadable},
  };
}

}  // namespace rakugo::check
