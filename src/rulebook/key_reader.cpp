#include "rulebook/key_reader.h"

#include <algorithm>
#include <cmath>
#include <map>

#include "base/phrase.h"
#include "base/text.h"

namespace rakugo::rulebook {
namespace {

using base::Json;

bool within(const std::string& outer, const std::string& inner) {
  return !outer.empty() && inner.size() > outer.size() && inner.compare(0, outer.size(), outer) == 0 &&
         inner[outer.size()] == '/';
}

// Twenty thousand as some write it: 20.000 is the number twenty.
bool looksLikeThousands(std::string_view token) {
  const size_t point = token.find('.');
  return point != std::string_view::npos && point > 0 && point < 4 && token.size() >= 5 &&
         token.substr(point) == ".000" && token[0] != '0';
}

class Reader {
 public:
  explicit Reader(Mistakes& mistakes) : mistakes_(mistakes) {}

  void object(const KeyTable& table, const Json& json, void* owner, const std::string& pointer) {
    if (!json.is_object())
      return mistakes_.add("rulebook.value", pointer,
                           base::phrase("An object is expected here: { \"key\": value }."));
    around_.push_back({&table, &json});
    for (const Key& key : table.keys) {
      const Json* value = base::memberOf(json, key.name.c_str());
      if (value != nullptr)
        one(key, *value, owner, pointer + "/" + key.name);
      else if (key.required)
        missing(table, key, pointer);
    }
    for (const auto& [name, value] : json.items())
      if (table.find(name) == nullptr) unknown(table, name, pointer);
    around_.pop_back();
  }

 private:
  struct Around {
    const KeyTable* table;
    const Json* json;
  };

  void one(const Key& key, const Json& value, void* owner, const std::string& pointer) {
    if (const auto wrong = misfit(key, value))
      return mistakes_.add("rulebook.value", pointer, wrong->first,
                           slipOf(key, value, pointer).value_or(wrong->second));
    if (const auto slip = slipOf(key, value, pointer))
      return mistakes_.add(
          "rulebook.value", pointer,
          base::phrase("A point stands where thousands are parted: this is {0}.", base::jsonLine(value)),
          *slip);
    switch (key.type) {
      case KeyType::object:
        return object(key.members(), value, key.inside(owner), pointer);
      case KeyType::list:
        return list(key, value, owner, pointer);
      case KeyType::by_check:
        return byCheck(key, value, owner, pointer);
      case KeyType::reference:
        if (!refers(key, value.get<std::string>(), pointer)) return;
        break;
      default:
        break;
    }
    key.store(owner, value);
  }

  // The cure when a number was written with a point between thousands.
  [[nodiscard]] std::optional<std::string> slipOf(const Key& key, const Json& value,
                                                  const std::string& pointer) const {
    const auto cure = [&](const std::string& place) -> std::optional<std::string> {
      std::string token(mistakes_.scan().plainText(place));
      if (!looksLikeThousands(token)) return std::nullopt;
      std::string whole = token;
      std::erase(whole, '.');
      return base::phrase("Write {0}, or {1} if that is meant.", whole, token.substr(0, token.find('.')));
    };
    if (value.is_number_float() &&
        (key.type == KeyType::number || key.type == KeyType::whole || key.type == KeyType::value))
      return cure(pointer);
    if (key.type == KeyType::band || key.type == KeyType::numbers)
      for (size_t i = 0; value.is_array() && i < value.size(); ++i)
        if (value[i].is_number_float())
          if (const auto found = cure(pointer + "/" + std::to_string(i))) return found;
    return std::nullopt;
  }

  void list(const Key& key, const Json& value, void* owner, const std::string& pointer) {
    std::map<std::string, size_t> seen;
    const bool named = key.members().find("id") != nullptr;
    for (size_t i = 0; i < value.size(); ++i) {
      const std::string place = pointer + "/" + std::to_string(i);
      object(key.members(), value[i], key.inside(owner), place);
      const std::string id = base::textOf(value[i], "id");
      if (!named || id.empty()) continue;
      if (const auto [first, fresh] = seen.emplace(id, i); !fresh)
        mistakes_.add("rulebook.repeated", place + "/id",
                      base::phrase("The id \"{0}\" stands twice in this list, first on line {1}.",
                                   base::presentable(id, 60),
                                   mistakes_.scan().lineOf(pointer + "/" + std::to_string(first->second))),
                      base::phrase("Give one of the two another id."));
    }
  }

  void byCheck(const Key& key, const Json& value, void* owner, const std::string& pointer) {
    Key entry = key;
    entry.required = true;
    entry.type = key.choices.empty() ? KeyType::text : KeyType::choice;
    Json good = Json::object();
    for (const auto& [check, said] : value.items()) {
      entry.name = base::presentable(check, 60);
      if (const auto wrong = misfit(entry, said))
        mistakes_.add("rulebook.value", pointer + "/" + check, wrong->first, wrong->second);
      else
        good[check] = said;
    }
    key.store(owner, good);
  }

  // Looks the id up in the nearest list of that name above.
  bool refers(const Key& key, const std::string& id, const std::string& pointer) {
    if (id.empty()) return true;
    for (size_t up = around_.size(); up-- > 0;) {
      const Key* list = around_[up].table->find(key.refers_to);
      if (list == nullptr || list->type != KeyType::list) continue;
      std::vector<std::string> known;
      if (const Json* entries = base::memberOf(*around_[up].json, list->name.c_str());
          entries != nullptr && entries->is_array())
        for (const Json& entry : *entries) known.push_back(base::textOf(entry, "id"));
      if (std::find(known.begin(), known.end(), id) != known.end()) return true;
      if (mistakes_.full()) return false;
      const std::string near = base::nearMiss(id, known);
      mistakes_.add(
          "rulebook.reference", pointer,
          base::phrase("There is no \"{0}\" among `{1}`.", base::presentable(id, 60), key.refers_to),
          !near.empty()   ? base::phrase("Is \"{0}\" meant?", near)
          : known.empty() ? base::phrase("Add it there, or leave this out.")
                          : base::phrase("Known are: {0}.", base::listText(known, 12)));
      return false;
    }
    return true;
  }

  void missing(const KeyTable& table, const Key& key, const std::string& pointer) {
    // A key that is there under another name is one mistake.
    for (const std::string& slip : key.slips)
      if (base::memberOf(*around_.back().json, slip.c_str()) != nullptr && table.find(slip) == nullptr)
        return;
    for (const auto& [name, value] : around_.back().json->items())
      if (table.find(name) == nullptr && base::nearMiss(name, {key.name}) == key.name) return;
    mistakes_.add(
        "json.missing", pointer + "/" + key.name, base::phrase("The key \"{0}\" is missing.", key.name),
        base::phrase("It takes {0}{1}", takesText(key), (key.means.empty() ? "." : ": " + key.means)));
  }

  void unknown(const KeyTable& table, const std::string& name, const std::string& pointer) {
    if (mistakes_.full()) return;
    std::vector<std::string> known;
    std::string cure;
    for (const Key& key : table.keys) {
      known.push_back(key.name);
      if (std::find(key.slips.begin(), key.slips.end(), name) != key.slips.end() && cure.empty() &&
          base::memberOf(*around_.back().json, key.name.c_str()) == nullptr)
        cure = base::phrase("Is \"{0}\" meant?", key.name);
    }
    if (const std::string near = base::nearMiss(name, known); !near.empty())
      cure = base::phrase("Is \"{0}\" meant?", near);
    if (cure.empty())
      for (const KeyTable* other : keyTables())
        if (other != &table && other->find(name) != nullptr) {
          cure = base::phrase("It belongs to {0}{1}.", base::lowerAscii(other->title.substr(0, 1)),
                              other->title.substr(1));
          break;
        }
    if (cure.empty())
      cure = known.size() <= 8
                 ? base::phrase("Known here are: {0}.", base::listText(known, 8))
                 : base::phrase("docs/rulebook.md has all keys; `rakugo-tool rulebook keys` lists them.");
    mistakes_.add("json.unknown_key", pointer + "/" + name,
                  base::phrase("The key \"{0}\" is not known here.", base::presentable(name, 60)), cure);
  }

  Mistakes& mistakes_;
  std::vector<Around> around_;
};

}  // namespace

bool Mistakes::related(const std::string& pointer) const {
  return std::any_of(places_.begin(), places_.end(), [&](const std::string& place) {
    return place == pointer || within(place, pointer) || within(pointer, place);
  });
}

bool Mistakes::inside(const std::string& pointer) const {
  return std::any_of(places_.begin(), places_.end(),
                     [&](const std::string& place) { return place == pointer || within(pointer, place); });
}

void Mistakes::add(const std::string& code, const std::string& pointer, const std::string& message,
                   const std::string& cure) {
  if (full() || related(pointer)) return;
  places_.push_back(pointer);
  base::Error out{code, message, base::Place{file_, base::presentable(pointer, 400)}, cure};
  out.place.line = scan_->lineOf(pointer);
  out_->push_back(std::move(out));
}

void readByKeys(const KeyTable& table, const Json& json, void* owner, Mistakes& mistakes) {
  Reader(mistakes).object(table, json, owner, "");
}

}  // namespace rakugo::rulebook
