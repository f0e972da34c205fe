// What follows from the rows of keys besides reading: tables for people, a schema for editors, and the
// smallest rulebook.
#include <map>

#include "base/text.h"
#include "rulebook/key.h"
#include "rulebook/rulebook.h"

namespace rakugo::rulebook {
namespace {

using base::Json;

std::string cell(std::string text) {
  for (size_t at = 0; (at = text.find('|', at)) != std::string::npos; at += 2) text.replace(at, 1, "\\|");
  return text;
}

std::string checksText(const Key& key) {
  std::string out;
  for (const std::string& check : key.checks) out += (out.empty() ? "" : ", ") + ("`" + check + "`");
  return out;
}

std::string tableMarkdown(const KeyTable& table) {
  std::string out = "### " + table.title + "\n\n";
  if (!table.means.empty()) out += table.means + "\n\n";
  out += "| key | takes | when left out | what it says | checks |\n| --- | --- | --- | --- | --- |\n";
  for (const Key& key : table.keys) {
    const std::string absent = key.required            ? "**required**"
                               : key.initial.is_null() ? ""
                                                       : "`" + base::jsonLine(key.initial) + "`";
    out += "| `" + key.name + "` | " + cell(takesText(key)) + " | " + absent + " | " + cell(key.means) +
           " | " + checksText(key) + " |\n";
  }
  return out + "\n";
}

Json textSchema(const Key& key) {
  Json out{{"type", "string"}, {"maxLength", key.most_length}};
  if (key.required) out["minLength"] = 1;
  if (key.type == KeyType::id) out["pattern"] = "^[a-z0-9_-]*$";
  if (key.type == KeyType::text || key.type == KeyType::name) out["pattern"] = "^[^\\u0000-\\u001f\\u007f]*$";
  if (key.type == KeyType::path) out["pattern"] = "^(?!/)(?!.*(^|/)\\.\\.?(/|$))[^\\\\]*$";
  return out;
}

Json rangeSchema(const Key& key, const char* type) {
  Json out{{"type", type}};
  if (key.most < 1e15) {
    out[key.above_least ? "exclusiveMinimum" : "minimum"] = key.least;
    out["maximum"] = key.most;
  }
  return out;
}

Json listSchema(Json items, size_t least, size_t most) {
  return {{"type", "array"}, {"items", std::move(items)}, {"minItems", least}, {"maxItems", most}};
}

Json referenceTo(const KeyTable& table) { return {{"$ref", "#/$defs/" + table.id}}; }

Json wordSchema(const Key& key) {
  Json word = textSchema(key);
  word["minLength"] = 1;
  return word;
}

Json typeSchema(const Key& key) {
  switch (key.type) {
    case KeyType::text:
    case KeyType::id:
    case KeyType::name:
    case KeyType::path:
    case KeyType::reference:
      return textSchema(key);
    case KeyType::number:
      return rangeSchema(key, "number");
    case KeyType::whole:
      return rangeSchema(key, "integer");
    case KeyType::flag:
      return {{"type", "boolean"}};
    case KeyType::choice:
      return {{"enum", key.choices}};
    case KeyType::band:
      return listSchema(rangeSchema(key, "number"), 2, 2);
    case KeyType::numbers:
      return listSchema(rangeSchema(key, "number"), key.count, key.count > 0 ? key.count : key.most_entries);
    case KeyType::words: {
      Json out = listSchema(wordSchema(key), key.least_entries, key.most_entries);
      out["uniqueItems"] = true;
      return out;
    }
    case KeyType::value:
      return {{"type", {"string", "number", "boolean", "array"}}, {"maxItems", kMostRows}};
    case KeyType::object:
      return referenceTo(key.members());
    case KeyType::list:
      return listSchema(referenceTo(key.members()), key.least_entries, key.most_entries);
    case KeyType::by_check:
      return {{"type", "object"},
              {"additionalProperties", key.choices.empty() ? wordSchema(key) : Json{{"enum", key.choices}}}};
  }
  return Json::object();
}

Json keySchema(const Key& key) {
  Json out = typeSchema(key);
  std::string words = key.means;
  if (!key.unit.empty()) words += (words.empty() ? "In " : " In ") + key.unit + ".";
  if (!key.refers_to.empty()) words += " The id of an entry of \"" + key.refers_to + "\".";
  if (!words.empty()) out["description"] = words;
  if (!key.required && !key.initial.is_null()) out["default"] = key.initial;
  return out;
}

Json tableSchema(const KeyTable& table) {
  Json out{{"type", "object"}};
  if (!table.means.empty()) out["description"] = table.means;
  Json properties = Json::object(), required = Json::array();
  for (const Key& key : table.keys) {
    properties[key.name] = keySchema(key);
    if (key.required) required.push_back(key.name);
  }
  out["properties"] = properties;
  if (!required.empty()) out["required"] = required;
  out["additionalProperties"] = false;
  return out;
}

// What a required key holds in the smallest rulebook.
Json smallest(const Key& key) {
  if (key.type == KeyType::object || key.type == KeyType::list) {
    Json out = Json::object();
    for (const Key& member : key.members().keys)
      if (member.required) out[member.name] = smallest(member);
    return key.type == KeyType::object ? out : Json::array({out});
  }
  return key.example;
}

}  // namespace

std::string keysMarkdown() {
  std::string out;
  for (const KeyTable* table : keyTables()) out += tableMarkdown(*table);
  return out;
}

Json rulebookSchema() {
  Json out{{"$schema", "https://json-schema.org/draft/2020-12/schema"},
           {"title", "Rakugo rulebook, format 1"}};
  Json defs = Json::object();
  for (const KeyTable* table : keyTables())
    if (table != &rulebookKeys()) defs[table->id] = tableSchema(*table);
  const Json top = tableSchema(rulebookKeys());
  for (const auto& [key, value] : top.items()) out[key] = value;
  out["$defs"] = defs;
  return out;
}

Json smallestRulebook(const std::string& id, const std::string& title) {
  Json out = Json::object();
  for (const Key& key : rulebookKeys().keys)
    if (key.required) out[key.name] = smallest(key);
  out["id"] = id;
  out["title"] = title;
  return out;
}

}  // namespace rakugo::rulebook
