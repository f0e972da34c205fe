#include "rulebook/key.h"

#include <algorithm>
#include <cmath>
#include <set>

#include "base/files.h"
#include "base/phrase.h"
#include "base/text.h"
#include "rulebook/rulebook.h"

namespace rakugo::rulebook {
namespace {

using base::Json;
using Words = std::pair<std::string, std::string>;  // what is wrong, and the cure

// A value as a message shows it.
std::string shown(const Json& value) {
  std::string out = base::presentable(base::jsonLine(value), 40);
  return out.size() < 40 ? out : out + "…";
}

// A row of a list: a value, or named values.
bool isRow(const Json& row) {
  if (!row.is_object()) return row.is_primitive() && !row.is_null();
  return std::all_of(row.begin(), row.end(), [](const Json& cell) {
    return cell.is_primitive()
               ? !cell.is_null()
               : cell.is_array() && cell.size() <= 3 &&
                     std::all_of(cell.begin(), cell.end(), [](const Json& n) { return n.is_number(); });
  });
}

Words other(const Key& key, const Json& value, std::string cure = {}) {
  return {base::phrase("\"{0}\" takes {1}; {2} is given.", key.name, takesText(key), shown(value)),
          std::move(cure)};
}

bool inRange(const Key& key, double value) {
  return std::isfinite(value) && value <= key.most &&
         (key.above_least ? value > key.least : value >= key.least);
}

std::string rangeText(const Key& key) {
  std::string out;
  const auto end = [](double value) {
    return value >= 10'000 ? base::groupedText(static_cast<uint64_t>(value)) : base::numberText(value, 6);
  };
  if (key.most >= 1e15)
    out = "";
  else if (key.above_least)
    out = base::phrase(" above {0} and at most {1}", end(key.least), end(key.most));
  else
    out = base::phrase(" from {0} to {1}", end(key.least), end(key.most));
  if (!key.unit.empty()) out += " (" + key.unit + ")";
  return out;
}

// The number that "1.8" and "1.8 m" begin with; empty when they begin with none.
std::string unquoted(const Json& value) {
  const std::string text = value.is_string() ? value.get<std::string>() : std::string();
  return text.substr(0, std::min(text.find_first_not_of("0123456789.-"), text.size()));
}

std::optional<Words> textMisfit(const Key& key, const Json& value) {
  if (!value.is_string())
    return other(key, value, value.is_number() ? base::phrase("Write it between double quotes.") : "");
  const std::string text = value.get<std::string>();
  if (base::holdsControls(text))
    return Words{base::phrase("The text of \"{0}\" holds control codes.", key.name),
                 base::phrase("Take them out; a text is one line.")};
  if (text.size() > key.most_length)
    return Words{base::phrase("The text of \"{0}\" is longer than {1} bytes.", key.name, key.most_length),
                 base::phrase("Shorten it.")};
  if (text.empty() && key.required) return Words{base::phrase("\"{0}\" must not be empty.", key.name), ""};
  return std::nullopt;
}

std::optional<Words> idMisfit(const Json& value) {
  const std::string text = value.get<std::string>();
  if (std::all_of(text.begin(), text.end(), [](char c) {
        return (c >= 'a' && c <= 'z') || (c >= '0' && c <= '9') || c == '-' || c == '_';
      }))
    return std::nullopt;
  return Words{base::phrase("An id is made of lower-case letters, digits, dashes and underscores."),
               base::phrase("Write \"{0}\".", base::slug(text))};
}

std::optional<Words> choiceMisfit(const Key& key, const Json& value) {
  if (!value.is_string()) return other(key, value);
  const std::string word = value.get<std::string>();
  if (std::find(key.choices.begin(), key.choices.end(), word) != key.choices.end()) return std::nullopt;
  for (const std::string& known : key.choices)
    if (base::lowerAscii(known) == base::lowerAscii(word))
      return other(key, value, base::phrase("Write \"{0}\".", known));
  const std::string near = base::nearMiss(word, key.choices);
  return other(key, value, near.empty() ? "" : base::phrase("Is \"{0}\" meant?", near));
}

std::optional<Words> numberMisfit(const Key& key, const Json& value) {
  if (value.is_number() && inRange(key, value.get<double>())) return std::nullopt;
  const std::string bare = unquoted(value);
  return other(key, value, bare.empty() ? "" : base::phrase("Write {0} without quotes and unit.", bare));
}

std::optional<Words> wholeMisfit(const Key& key, const Json& value) {
  if (value.is_number_float() && value.get<double>() == std::floor(value.get<double>()))
    return other(key, value, base::phrase("Write it without a point: 20000 for twenty thousand."));
  const bool whole =
      value.is_number_integer() && !(value.is_number_unsigned() && value.get<uint64_t>() > INT64_MAX);
  return whole ? numberMisfit(key, value)
               : other(key, value, unquoted(value).empty() ? "" : base::phrase("Write it without quotes."));
}

std::optional<Words> numbersMisfit(const Key& key, const Json& value) {
  const size_t count = key.type == KeyType::band ? 2 : key.count;
  if (!value.is_array() || (count > 0 ? value.size() != count : value.size() > key.most_entries))
    return other(key, value,
                 key.type == KeyType::band && value.is_number()
                     ? base::phrase("Write both ends: [smallest, largest].")
                     : "");
  double largest = 0;
  for (const Json& one : value) {
    if (!one.is_number()) return other(key, value);
    largest = std::max(largest, one.get<double>());
  }
  for (const Json& one : value)
    if (!inRange(key, one.get<double>()))
      return other(
          key, value,
          key.most == 1 && key.least == 0 && largest <= 255 ? base::phrase("Divide each by 255.") : "");
  if (key.type == KeyType::band && value[0].get<double>() > value[1].get<double>())
    return other(key, value, base::phrase("The smallest comes first."));
  return std::nullopt;
}

std::optional<Words> wordsMisfit(const Key& key, const Json& value) {
  if (!value.is_array())
    return other(key, value, value.is_string() ? base::phrase("Put [ and ] around it.") : "");
  if (value.size() > key.most_entries || value.size() < key.least_entries) return other(key, value);
  std::set<std::string> seen;
  for (const Json& one : value) {
    if (const auto wrong = textMisfit(key, one)) return wrong;
    const std::string word = one.get<std::string>();
    if (word.empty())
      return Words{base::phrase("A text of \"{0}\" is empty.", key.name), base::phrase("Leave it out.")};
    if (!seen.insert(base::lowerAscii(word)).second)
      return Words{base::phrase("\"{0}\" stands twice in \"{1}\".", word, key.name),
                   base::phrase("Leave one of the two out.")};
  }
  return std::nullopt;
}

}  // namespace

const Key* KeyTable::find(const std::string& name) const {
  const auto at = std::find_if(keys.begin(), keys.end(), [&](const Key& key) { return key.name == name; });
  return at == keys.end() ? nullptr : &*at;
}

std::vector<const KeyTable*> keyTables() {
  std::vector<const KeyTable*> out{&rulebookKeys()};
  for (size_t i = 0; i < out.size(); ++i) {
    // Those of a table follow it, so that a reader meets them where they are named.
    size_t behind = i + 1;
    for (const Key& key : out[i]->keys) {
      if (key.members == nullptr) continue;
      const KeyTable* members = &key.members();
      if (std::find(out.begin(), out.end(), members) == out.end())
        out.insert(out.begin() + static_cast<std::ptrdiff_t>(behind++), members);
    }
  }
  return out;
}

void addRulebookKey(const std::string& table, Key key) {
  for (const KeyTable* known : keyTables()) {
    if (known->id != table) continue;
    auto& keys = const_cast<KeyTable*>(known)->keys;  // NOLINT: every table is made without const
    std::erase_if(keys, [&](const Key& one) { return one.name == key.name; });
    keys.push_back(std::move(key));
    return;
  }
  base::brokenPromise("a rulebook key for a table that is not there", table);
}

std::string takesText(const Key& key) {
  const std::string entries = std::to_string(key.most_entries);
  switch (key.type) {
    case KeyType::text:
      return base::phrase("a text");
    case KeyType::id:
      return base::phrase("an id");
    case KeyType::name:
      return base::phrase("a name of the game's own");
    case KeyType::path:
      return base::phrase("a path inside the rulebook's folder");
    case KeyType::reference:
      return base::phrase("an id of `{0}`", key.refers_to);
    case KeyType::number:
      return base::phrase("a number{0}", rangeText(key));
    case KeyType::whole:
      if (key.least == key.most) return base::phrase("the number {0}", base::numberText(key.least));
      return base::phrase("a whole number{0}", rangeText(key));
    case KeyType::flag:
      return base::phrase("true or false");
    case KeyType::choice: {
      std::vector<std::string> rest = key.choices;
      if (rest.size() == 1) return rest[0];
      const std::string last = rest.back();
      rest.pop_back();
      std::string out;
      for (const std::string& one : rest) out += (out.empty() ? "" : ", ") + one;
      return base::phrase("{0} or {1}", out, last);
    }
    case KeyType::band:
      return base::phrase("[smallest, largest],{0}", rangeText(key));
    case KeyType::numbers:
      return key.count > 0 ? base::phrase("a list of {0} numbers{1}", key.count, rangeText(key))
                           : base::phrase("a list of at most {0} numbers{1}", entries, rangeText(key));
    case KeyType::words:
      return base::phrase("{0} texts", (key.least_entries > 0
                                            ? base::phrase("a list of {0} to {1}", key.least_entries, entries)
                                            : base::phrase("a list of at most {0}", entries)));
    case KeyType::value:
      return base::phrase("a text, a number, true or false, or a list");
    case KeyType::object:
      return base::phrase("an object");
    case KeyType::list:
      return key.least_entries > 0 ? base::phrase("a list of {0} to {1} objects", key.least_entries, entries)
                                   : base::phrase("a list of at most {0} objects", entries);
    case KeyType::by_check:
      return key.choices.empty() ? base::phrase("an object: check id to a text")
                                 : base::phrase("an object: check id to an outcome");
  }
  return "";
}

std::optional<Words> misfit(const Key& key, const Json& value) {
  if (value.is_null()) return other(key, value, base::phrase("Leave the key out where there is no value."));
  switch (key.type) {
    case KeyType::text:
    case KeyType::name:
    case KeyType::reference:
      return textMisfit(key, value);
    case KeyType::id:
      if (const auto wrong = textMisfit(key, value)) return wrong;
      return idMisfit(value);
    case KeyType::path:
      if (const auto wrong = textMisfit(key, value)) return wrong;
      if (base::isInnerPath(value.get<std::string>())) return std::nullopt;
      return other(key, value,
                   base::phrase("Write it as seen from the rulebook's folder, with / between folders."));
    case KeyType::number:
      return numberMisfit(key, value);
    case KeyType::whole:
      return wholeMisfit(key, value);
    case KeyType::flag:
      if (value.is_boolean()) return std::nullopt;
      return other(key, value);
    case KeyType::choice:
      return choiceMisfit(key, value);
    case KeyType::band:
    case KeyType::numbers:
      return numbersMisfit(key, value);
    case KeyType::words:
      return wordsMisfit(key, value);
    case KeyType::value:
      if (value.is_string()) return textMisfit(key, value);
      if (value.is_number() || value.is_boolean()) return std::nullopt;
      if (value.is_array() && value.size() <= kMostRows &&
          std::all_of(value.begin(), value.end(), [](const Json& row) { return isRow(row); }))
        return std::nullopt;
      return other(key, value);
    case KeyType::object:
      if (!value.is_object()) return other(key, value);
      if (value.empty())
        return Words{base::phrase("An empty \"{0}\" has no effect.", key.name),
                     base::phrase("Leave it out.")};
      return std::nullopt;
    case KeyType::list:
      if (value.is_array() && value.size() >= key.least_entries && value.size() <= key.most_entries)
        return std::nullopt;
      return other(key, value, value.is_object() ? base::phrase("Put [ and ] around it.") : "");
    case KeyType::by_check:
      if (value.is_object()) return std::nullopt;
      return other(key, value);
  }
  return std::nullopt;
}

}  // namespace rakugo::rulebook
