// From rulebook.json to a Rulebook: by the rows of its keys, then as a whole.
#include <algorithm>

#include "base/json.h"
#include "base/phrase.h"
#include "rulebook/contradictions.h"
#include "rulebook/field_value.h"
#include "rulebook/key_reader.h"
#include "rulebook/piece_sorts.h"
#include "rulebook/rulebook.h"

namespace rakugo::rulebook {
namespace {

// A rulebook of another format is refused before its keys are read: they may mean something else.
std::optional<base::Error> otherFormat(const base::Json& json, const std::string& file,
                                       const base::JsonScan& scan) {
  const base::Json* format = base::memberOf(json, "format");
  if (format == nullptr || !format->is_number_integer() || *format == 1) return std::nullopt;
  base::Error out{
      "rulebook.format",
      base::phrase("The rulebook has format {0}; this version of Rakugo reads format 1.", format->dump()),
      base::Place{file, "/format"},
      *format > 1 ? base::phrase("Use a newer Rakugo.") : base::phrase("Write 1.")};
  out.place.line = scan.lineOf("/format");
  return out;
}

// What holds for a kind's further models is complete by itself.
void completeModels(Rulebook& book) {
  for (Kind& kind : book.kinds)
    for (KindModel& model : kind.models) {
      if (model.rules.empty()) model.rules.emplace_back();
      Kind& rules = model.rules.front();
      rules.id = kind.id + "/" + model.id;
      rules.title = model.title;
      rules.help = model.help;
      rules.outcomes = kind.outcomes;
      // What is made from another wears the same materials, of which it need not keep each.
      const KindModel* from = kind.findModel(model.made_from);
      if (!rules.roles.empty() || model.made_from.empty()) continue;
      rules.roles = from != nullptr && !from->rules.empty() ? from->kind().roles : kind.roles;
      for (Role& role : rules.roles) role.required = false, role.when = {};
    }
}

// What every piece of a sort says comes first, as the rule has it where it says something of it.
void completePieces(Rulebook& book) {
  for (Kind& kind : book.kinds)
    for (PieceRule& rule : kind.pieces) {
      std::vector<Field> all = pieceValues(rule.sort);
      for (Field& field : rule.fields) {
        const auto same =
            std::find_if(all.begin(), all.end(), [&](const Field& one) { return one.id == field.id; });
        if (same == all.end()) {
          all.push_back(std::move(field));
          continue;
        }
        if (!field.min) field.min = same->min;
        if (!field.max) field.max = same->max;
        if (field.unit.empty()) field.unit = same->unit;
        if (field.help.empty()) field.help = same->help;
        if (field.columns.empty()) field.columns = same->columns;
        if (field.default_value.is_null() && !fieldFault(field, same->default_value))
          field.default_value = same->default_value;
        *same = std::move(field);
      }
      rule.fields = std::move(all);
    }
}

}  // namespace

base::Result<Rulebook> parseRulebook(std::string_view text, const std::string& file,
                                     std::vector<base::Error>* mistakes, std::vector<base::Error>* doubts) {
  std::vector<base::Error> own;
  std::vector<base::Error>& list = mistakes != nullptr ? *mistakes : own;
  const auto refuse = [&](base::Error error) {
    list.push_back(error);
    return error;
  };
  base::Limits limits;
  limits.json_bytes = limits.rulebook_bytes;
  auto json = base::parseJson(text, file, limits);
  if (!json) return refuse(json.error());
  const base::JsonScan scan(text);
  if (const auto other = otherFormat(*json, file, scan)) return refuse(*other);
  Rulebook out;
  Mistakes found(file, scan, list);
  readByKeys(rulebookKeys(), *json, &out, found);
  completeModels(out);
  findContradictions(out, found);
  if (!list.empty()) return list.front();
  completePieces(out);
  if (doubts != nullptr) {
    Mistakes doubted(file, scan, *doubts);
    findDoubts(out, doubted);
  }
  return out;
}

}  // namespace rakugo::rulebook
