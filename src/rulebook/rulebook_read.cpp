// From rulebook.json to a Rulebook: by the rows of its keys, then as a whole.
#include "base/json.h"
#include "base/phrase.h"
#include "rulebook/contradictions.h"
#include "rulebook/key_reader.h"
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
  if (doubts != nullptr) {
    Mistakes doubted(file, scan, *doubts);
    findDoubts(out, doubted);
  }
  return out;
}

}  // namespace rakugo::rulebook
