// Checks of the mod's documents, objects and files.
#include <algorithm>
#include <cmath>
#include <map>
#include <set>

#include "base/text.h"
#include "check/checks.h"
#include "mod/icon_subject.h"
#include "mod/references.h"
#include "prepare/edit_steps.h"
#include "prepare/newer/incoming.h"
#include "rulebook/field_value.h"

namespace rakugo::check {
namespace {

using base::Json;

bool fileThere(const Context& context, const std::string& path) {
  return context.mod->icons.count(path) != 0 ||
         std::binary_search(context.files.begin(), context.files.end(), path);
}

// Calls body(name, doc, kind) for every object whose kind the rulebook has.
template <class Body>
void eachObject(const Context& context, const Body& body) {
  for (const auto& [name, doc] : context.mod->objects)
    if (const rulebook::Kind* kind = context.book->findKind(doc.kind)) body(name, doc, *kind);
}

Finding about(const Context& context, const CheckRow& row, const std::string& object, std::string sentence) {
  Finding f = begin(context, row, std::move(sentence));
  f.place.object = object;
  f.place.document = "objects/" + object + ".object.json";
  return f;
}

// The value nearest to what was meant that the field allows; null when there is none.
Json withinLimits(const rulebook::Field& field, const Json& value) {
  using rulebook::FieldType;
  if ((field.type == FieldType::number || field.type == FieldType::integer) && value.is_number()) {
    double n = value.get<double>();
    if (field.min) n = std::max(n, *field.min);
    if (field.max) n = std::min(n, *field.max);
    return field.type == FieldType::integer ? Json(static_cast<int64_t>(std::llround(n))) : Json(n);
  }
  // Rows that were written by hand are not thrown away for one that is wrong.
  return rulebook::hasRows(field) ? Json() : field.default_value;
}

Mend fieldMend(const std::string& object, const std::string& field, Json value, const std::string& label) {
  return {label, [object, field, value = std::move(value)](mod::ModState& mod) {
            if (auto* doc = mod.objects.change(object)) doc->card[field] = value;
          }};
}

std::string valueText(const Json& value) {
  if (value.is_string()) return value.get<std::string>();
  if (value.is_boolean()) return value.get<bool>() ? phrase("yes") : phrase("no");
  if (value.is_number()) return base::numberText(value.get<double>());
  return base::jsonLine(value);
}

void checkSourceReadable(const Context& context, const CheckRow& row, Findings& out) {
  for (const auto& [name, state] : context.sources) {
    if (!state.error) continue;
    Finding f = begin(context, row,
                      state.error->message + (state.error->cure.empty() ? "" : " " + state.error->cure));
    f.place.source = name;
    f.place.document =
        "sources/" + name + (state.error->place.path.empty() ? "" : " " + state.error->place.path);
    out.push_back(std::move(f));
  }
}

void checkSourceChanged(const Context& context, const CheckRow& row, Findings& out) {
  for (const auto& [name, state] : context.sources)
    for (const std::string& file : state.changed_files) {
      Finding f =
          begin(context, row, phrase("{0} in the source {1} is not the file that was taken in.", file, name));
      f.place.source = name;
      f.place.document = "sources/" + name + "/" + file;
      out.push_back(std::move(f));
    }
}

void checkStepFits(const Context& context, const CheckRow& row, Findings& out) {
  eachModel(context, [&](const std::string& name, const mod::ModelDoc& doc, const ModelState& state) {
    for (size_t i = 0; i < doc.steps.size(); ++i) {
      const prepare::StepOutcome& outcome = state.prepared.outcomes[i];
      if (outcome.state == prepare::StepState::good || outcome.state == prepare::StepState::off ||
          outcome.misses.empty())
        continue;
      Finding f = begin(context, row,
                        phrase("Step {0} of {1}: {2}", std::to_string(i + 1), name, outcome.misses.front()));
      f.place.model = name;
      f.place.step = doc.steps[i].id;
      f.place.document = "models/" + name + ".model.json";
      const std::string id = doc.steps[i].id;
      f.mends.push_back({phrase("Switch the step off"), [name, id](mod::ModState& mod) {
                           if (auto* found = mod.models.change(name))
                             for (mod::StepDoc& step : found->steps)
                               if (step.id == id) step.enabled = false;
                         }});
      out.push_back(std::move(f));
    }
  });
}

void checkObjects(const Context& context, const CheckRow& row, Findings& out) {
  if (!context.mod->objects.empty()) return;
  Finding f = begin(context, row, phrase("The mod holds no object; the game would find nothing in it."));
  f.place.document = "mod.json";
  if (context.book->kinds.size() == 1)
    for (const auto& [model, doc] : context.mod->models) {
      const std::string kind = context.book->kinds[0].id;
      f.mends.push_back({phrase("Make a {0} from {1}", base::lowerAscii(context.book->kinds[0].title), model),
                         [model = model, kind](mod::ModState& mod) {
                           mod::ObjectDoc object;
                           object.kind = kind;
                           object.pieces.push_back({model, model, {0, 0, 0}, {0, 0, 0, 1}});
                           if (mod.objects.count(model) == 0) mod.objects[model] = object;
                         }});
    }
  out.push_back(std::move(f));
}

void checkObjectKind(const Context& context, const CheckRow& row, Findings& out) {
  for (const auto& [name, doc] : context.mod->objects)
    if (context.book->findKind(doc.kind) == nullptr)
      out.push_back(about(context, row, name,
                          phrase("{0} is a \"{1}\", which {2} does not know.", name,
                                 base::presentable(doc.kind, 40), context.book->title)));
}

void checkObjectSameId(const Context& context, const CheckRow& row, Findings& out) {
  std::map<std::string, std::string> taken;
  for (const auto& [name, doc] : context.mod->objects) {
    const auto [first, fresh] = taken.emplace(base::slug(name), name);
    if (fresh) continue;
    Finding f =
        about(context, row, name,
              phrase("Both {0} and {1} are called {2} in the game.", first->second, name, first->first));
    f.measured = first->first;
    f.mends.push_back({phrase("Call the second one otherwise"), [name = name](mod::ModState& mod) {
                         const auto found = mod.objects.find(name);
                         if (found == mod.objects.end()) return;
                         std::set<std::string> ids;
                         for (const auto& [other, object] : mod.objects) ids.insert(base::slug(other));
                         std::string next = base::slug(name);
                         for (int n = 2; ids.count(next) != 0; ++n)
                           next = base::slug(name) + "-" + std::to_string(n);
                         mod.objects[next] = found->second;
                         mod.objects.erase(name);
                       }});
    out.push_back(std::move(f));
  }
}

void checkObjectPieces(const Context& context, const CheckRow& row, Findings& out) {
  for (const auto& [name, doc] : context.mod->objects) {
    if (mod::firstModelPiece(doc) == nullptr)
      out.push_back(about(context, row, name, phrase("{0} is made of no model.", name)));
    for (const mod::PieceDoc& piece : doc.pieces)
      if (piece.isModel() && context.mod->models.count(piece.model) == 0)
        out.push_back(about(context, row, name,
                            phrase("{0} is made of the model \"{1}\", which the mod does not have.", name,
                                   base::presentable(piece.model, 60))));
  }
  for (const auto& [name, doc] : context.mod->models)
    if (context.mod->sources.count(doc.source) == 0) {
      Finding f = begin(context, row,
                        phrase("The model {0} comes from the source \"{1}\", which the mod does not have.",
                               name, base::presentable(doc.source, 60)));
      f.place.model = name;
      f.place.document = "models/" + name + ".model.json";
      out.push_back(std::move(f));
    }
  for (const auto& [name, doc] : context.mod->models)
    for (const auto& [variant, source] : doc.variants)
      if (context.mod->sources.count(source) == 0) {
        Finding f =
            begin(context, row,
                  phrase("The size {0} of {1} comes from the source \"{2}\", which the mod does not have.",
                         base::presentable(variant, 40), name, base::presentable(source, 60)));
        f.place.model = name;
        f.place.field = variant;
        f.place.document = "models/" + name + ".model.json";
        out.push_back(std::move(f));
      }
}

void checkFieldEmpty(const Context& context, const CheckRow& row, Findings& out) {
  eachObject(context, [&](const std::string& name, const mod::ObjectDoc& doc, const rulebook::Kind& kind) {
    if (doc.title.empty()) {
      Finding f = about(context, row, name, phrase("{0} has no name that players could read.", name));
      f.place.field = "title";
      out.push_back(std::move(f));
    }
    for (const rulebook::Field& field : kind.fields) {
      if (!field.required || !field.when.holds(doc.card)) continue;
      const Json* value = base::memberOf(doc.card, field.id.c_str());
      if (value != nullptr && !rulebook::isEmpty(*value)) continue;
      Finding f = about(context, row, name,
                        phrase("The field {0} of {1} is empty.{2}", field.title, name,
                               (field.help.empty() ? "" : " " + field.help)));
      f.measured = phrase("empty");
      f.place.field = field.id;
      if (!field.default_value.is_null())
        f.mends.push_back(fieldMend(name, field.id, field.default_value,
                                    phrase("Set it to {0}", valueText(field.default_value))));
      out.push_back(std::move(f));
    }
  });
}

void checkFieldLimits(const Context& context, const CheckRow& row, Findings& out) {
  eachObject(context, [&](const std::string& name, const mod::ObjectDoc& doc, const rulebook::Kind& kind) {
    for (const rulebook::Field& field : kind.fields) {
      if (!doc.card.contains(field.id) || rulebook::isEmpty(doc.card[field.id])) continue;
      const Json& value = doc.card[field.id];
      const auto fault = rulebook::fieldFault(field, value);
      if (!fault) continue;
      Finding f = about(
          context, row, name,
          phrase("The field {0} of {1} {2}; it takes {3}.", field.title, name, fault->what, fault->expected));
      f.measured = base::presentable(valueText(value), 60);
      f.expected = fault->expected;
      f.place.field = field.id;
      if (const Json better = withinLimits(field, value); !better.is_null())
        f.mends.push_back(fieldMend(name, field.id, better, phrase("Set it to {0}", valueText(better))));
      out.push_back(std::move(f));
    }
  });
}

void checkIconMissing(const Context& context, const CheckRow& row, Findings& out) {
  eachObject(context, [&](const std::string& name, const mod::ObjectDoc& doc, const rulebook::Kind& kind) {
    if (kind.icon_width == 0 || !doc.icon.empty()) return;
    Finding f = about(context, row, name,
                      phrase("{0} has no icon; {1} shows one of {2} × {3} pixels.", name, context.book->title,
                             std::to_string(kind.icon_width), std::to_string(kind.icon_height)));
    f.expected = std::to_string(kind.icon_width) + " × " + std::to_string(kind.icon_height);
    f.place.field = "icon";
    out.push_back(std::move(f));
  });
}

void checkIconSize(const Context& context, const CheckRow& row, Findings& out) {
  eachObject(context, [&](const std::string& name, const mod::ObjectDoc& doc, const rulebook::Kind& kind) {
    const auto icon = context.mod->icons.find(doc.icon);
    if (kind.icon_width == 0 || doc.icon.empty() || icon == context.mod->icons.end()) return;
    const auto info = formats::pictureInfo(*icon->second, doc.icon);
    if (info && info->format == "PNG" && info->width == kind.icon_width && info->height == kind.icon_height)
      return;
    Finding f =
        about(context, row, name,
              !info ? phrase("The icon {0}: {1}", doc.icon, info.error().message)
                    : phrase("The icon of {0} is a {1} of {2} × {3} pixels; it must be a PNG of {4} × {5}.",
                             name, info->format, std::to_string(info->width), std::to_string(info->height),
                             std::to_string(kind.icon_width), std::to_string(kind.icon_height)));
    if (info) f.measured = std::to_string(info->width) + " × " + std::to_string(info->height);
    f.expected = std::to_string(kind.icon_width) + " × " + std::to_string(kind.icon_height);
    f.place.field = "icon";
    out.push_back(std::move(f));
  });
}

void checkIconOld(const Context& context, const CheckRow& row, Findings& out) {
  eachObject(context, [&](const std::string& name, const mod::ObjectDoc& doc, const rulebook::Kind& kind) {
    if (kind.icon_width == 0 || doc.icon.empty() || doc.icon_of.empty()) return;
    if (doc.icon_of == mod::iconSubject(*context.mod, name, *context.book)) return;
    Finding f =
        about(context, row, name,
              phrase("The icon of {0} was taken before it was changed: it may look otherwise now.", name));
    f.place.field = "icon";
    out.push_back(std::move(f));
  });
}

void checkFileMissing(const Context& context, const CheckRow& row, Findings& out) {
  for (const auto& [name, doc] : context.mod->objects) {
    if (doc.icon.empty() || fileThere(context, doc.icon)) continue;
    Finding f = about(context, row, name, phrase("The icon {0} of {1} is not in the mod.", doc.icon, name));
    f.place.field = "icon";
    out.push_back(std::move(f));
  }
  for (const auto& [name, state] : context.sources)
    for (const std::string& file : state.missing_files) {
      Finding f = begin(context, row, phrase("The file {0} of the source {1} is not there.", file, name));
      f.place.source = name;
      f.place.document = "sources/" + name + "/source.json";
      out.push_back(std::move(f));
    }
}

void checkFileUnused(const Context& context, const CheckRow& row, Findings& out) {
  std::set<std::string> used = mod::documentPaths(*context.mod), sources, models;
  for (const auto& [name, doc] : context.mod->models)
    for (std::string& source : mod::sourcesOf(doc)) sources.insert(std::move(source));
  for (const auto& [name, doc] : context.mod->objects)
    for (const mod::PieceDoc& piece : doc.pieces) models.insert(piece.model);
  for (const auto& [name, doc] : context.mod->objects)
    mod::eachReference(doc, [&](const mod::NamedThing& named, const std::string&) {
      if (named.thing == mod::Thing::source) sources.insert(named.name);
    });
  for (const auto& [name, doc] : context.mod->sources) {
    for (const mod::SourceFile& f : doc.files) used.insert("sources/" + name + "/" + f.path);
    for (const mod::SourceVersion& older : doc.older)
      for (const mod::SourceFile& f : older.files) used.insert("sources/" + name + "/" + f.path);
  }
  for (const auto& [name, doc] : context.mod->objects) used.insert(doc.icon);
  for (const std::string& file : context.files) {
    // A document that is not in the mod was renamed or taken out here; the next save removes its file.
    const mod::DocumentSort sort = mod::documentPath(file).sort;
    if (sort == mod::DocumentSort::model || sort == mod::DocumentSort::object ||
        sort == mod::DocumentSort::source)
      continue;
    const std::string leaf = file.substr(file.rfind('/') == std::string::npos ? 0 : file.rfind('/') + 1);
    // Hidden files and a read-me belong to the person, not to the mod.
    if (used.count(file) != 0 || leaf.front() == '.' || base::lowerAscii(leaf).rfind("readme", 0) == 0 ||
        base::lowerAscii(leaf).rfind("licen", 0) == 0)
      continue;
    Finding f = begin(context, row, phrase("Nothing uses {0}.", file));
    f.place.document = file;
    out.push_back(std::move(f));
  }
  for (const auto& [name, doc] : context.mod->sources) {
    const auto sort = prepare::sourceSortOf(doc.file);
    if (sources.count(name) != 0) continue;
    const char* what = sort == prepare::SourceSort::sound
                           ? "Nothing uses the sound {0}; it is not built into the package."
                       : sort == prepare::SourceSort::picture
                           ? "Nothing uses the picture {0}; it is not built into the package."
                           : "Nothing uses the source {0}; it is not built into the package.";
    Finding f = begin(context, row, phrase(what, name));
    f.place.source = name;
    f.place.document = "sources/" + name + "/source.json";
    out.push_back(std::move(f));
  }
  for (const auto& entry : context.mod->models) {
    const std::string& name = entry.first;
    if (models.count(name) != 0 || context.mod->objects.empty()) continue;
    Finding f = begin(context, row, phrase("No object uses the model {0}.", name));
    f.place.model = name;
    f.place.document = "models/" + name + ".model.json";
    out.push_back(std::move(f));
  }
}

void checkCredit(const Context& context, const CheckRow& row, Findings& out) {
  std::set<std::string> shipped;
  for (const auto& [name, doc] : context.mod->models) {
    shipped.insert(doc.source);
    for (const auto& [variant, source] : doc.variants) shipped.insert(source);
  }
  for (const std::string& name : shipped) {
    const auto source = context.mod->sources.find(name);
    if (source == context.mod->sources.end()) continue;
    const bool author = !source->second.author.empty(), licence = !source->second.licence.empty();
    if (author && licence) continue;
    Finding f = begin(
        context, row,
        phrase(author    ? "Nothing says of the source {0} under which licence it may be shared."
               : licence ? "Nothing says of the source {0} who made it."
                         : "Nothing says of the source {0} who made it and under which licence it may be "
                           "shared.",
               name));
    f.place.source = name;
    f.place.document = "sources/" + name + "/source.json";
    f.place.field = source->second.author.empty() ? "author" : "licence";
    if (!context.mod->card.author.empty() && source->second.author.empty())
      f.mends.push_back({phrase("It is by {0}", context.mod->card.author),
                         [name, author = context.mod->card.author](mod::ModState& mod) {
                           mod.sources[name].author = author;
                         }});
    out.push_back(std::move(f));
  }
}

void checkRulebookVersion(const Context& context, const CheckRow& row, Findings& out) {
  if (context.mod->card.rulebook_version == context.book->version) return;
  Finding f =
      begin(context, row,
            phrase("The mod follows version {0} of {1}; the present one is {2}.",
                   (context.mod->card.rulebook_version.empty() ? "?" : context.mod->card.rulebook_version),
                   context.book->title, context.book->version));
  f.measured = context.mod->card.rulebook_version;
  f.expected = context.book->version;
  f.place.document = "mod.json";
  f.mends.push_back(
      {phrase("Adopt version {0}", context.book->version),
       [version = context.book->version](mod::ModState& mod) { mod.card.rulebook_version = version; }});
  out.push_back(std::move(f));
}

void checkModCard(const Context& context, const CheckRow& row, Findings& out) {
  const auto need = [&](const std::string& value, const char* said, const char* field) {
    if (!value.empty()) return;
    Finding f = begin(context, row, phrase(said));
    f.place.document = "mod.json";
    f.place.field = field;
    out.push_back(std::move(f));
  };
  need(context.mod->card.title, "The mod has no title.", "title");
  need(context.mod->card.author, "The mod has no author.", "author");
  need(context.mod->card.description, "The mod has no description.", "description");
}

}  // namespace

std::vector<CheckRow> modChecks() {
  using S = Severity;
  return {
      {"source.unreadable",
       10,
       S::stops,
       Station::sources,
       {"source.contents"},
       "A source cannot be read",
       "Without its source a model cannot be prepared or built.",
       "Fetch or export the file again and take it in anew.",
       checkSourceReadable},
      {"source.changed",
       20,
       S::shows,
       Station::sources,
       {"source.files"},
       "A source's copy was changed",
       "What is built may differ from what its author made, and a step may meet other parts.",
       "Take the file in again as a new version.",
       checkSourceChanged},
      {"step.misses",
       30,
       S::shows,
       Station::shape,
       {"model.steps"},
       "A step no longer finds what it names",
       "The step does nothing, so what it cured is wrong again.",
       "Choose another part in its sentence, or switch it off.",
       checkStepFits},
      {"object.none",
       50,
       S::stops,
       Station::objects,
       {"mod.documents"},
       "The mod holds no object",
       "The game finds nothing to load.",
       "Make an object from a model.",
       checkObjects},
      {"object.kind",
       60,
       S::stops,
       Station::objects,
       {"mod.documents"},
       "An object's kind is not in the rulebook",
       "The game does not know what to do with it and refuses it.",
       "Choose a kind of the rulebook.",
       checkObjectKind},
      {"object.pieces",
       70,
       S::stops,
       Station::objects,
       {"mod.documents", "source.contents"},
       "An object has no model",
       "The game would place an invisible thing.",
       "Choose a model for it.",
       checkObjectPieces},
      {"object.same_id",
       80,
       S::stops,
       Station::objects,
       {"mod.documents"},
       "Two objects have one name in the game",
       "The game tells things apart by their names; letters that a name cannot hold are left out of it.",
       "Rename one of them.",
       checkObjectSameId},
      {"file.missing",
       90,
       S::shows,
       Station::sources,
       {"mod.files", "source.files"},
       "A file that is named does not exist",
       "The build leaves out what is not there, and what shows it stays blank.",
       "Put the file back, or change the name.",
       checkFileMissing},
      {"field.empty",
       800,
       S::shows,
       Station::objects,
       {"object.card"},
       "A field of the card is empty",
       "The game shows a blank, or falls back to a default.",
       "Fill it in.",
       checkFieldEmpty},
      {"field.limits",
       810,
       S::stops,
       Station::objects,
       {"object.card"},
       "A field of the card is outside its limits",
       "The game refuses the object.",
       "Bring it inside its limits.",
       checkFieldLimits},
      {"icon.missing",
       820,
       S::shows,
       Station::objects,
       {"object.icon"},
       "The icon is missing",
       "The shop shows an empty frame.",
       "Take it in the bench.",
       checkIconMissing},
      {"icon.size",
       830,
       S::shows,
       Station::objects,
       {"object.icon"},
       "The icon has the wrong size",
       "The shop shows it blurred or cut.",
       "Take it in the bench.",
       checkIconSize},
      {"icon.old",
       838,
       S::tidy,
       Station::objects,
       {"object.icon", "mod.documents"},
       "The icon is older than its object",
       "The shop shows what it looked like before.",
       "Take it again.",
       checkIconOld},
      {"file.unused",
       930,
       S::tidy,
       Station::sources,
       {"mod.files", "source.files"},
       "A file that nothing uses",
       "It is not shipped, but it makes the mod harder to keep.",
       "Remove it from the folder.",
       checkFileUnused},
      {"credit.missing",
       950,
       S::tidy,
       Station::sources,
       {"source.contents"},
       "A source without author or licence",
       "Whoever made it is owed the credit, and without a licence the mod may not be shared.",
       "Fill in where it comes from, at the Sources station.",
       checkCredit},
      {"rulebook.version",
       970,
       S::tidy,
       Station::bundle,
       {"mod.documents"},
       "The mod follows another version of the rulebook",
       "Rules may have changed since the mod was made.",
       "Adopt the present version and look through the findings.",
       checkRulebookVersion},
      {"mod.card",
       1000,
       S::tidy,
       Station::bundle,
       {"mod.documents"},
       "The mod's own card is not complete",
       "Players do not see who made the mod.",
       "Fill it in.",
       checkModCard},
  };
}

}  // namespace rakugo::check
