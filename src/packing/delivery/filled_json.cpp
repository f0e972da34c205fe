#include "packing/delivery/filled_json.h"

#include "base/json_pointer.h"
#include "base/phrase.h"
#include "base/text.h"

namespace rakugo::packing {
namespace {

using base::Json;
using base::phrase;

class Filler {
 public:
  explicit Filler(const FillLimits& limits) : values_left_(limits.values), bytes_left_(limits.bytes) {}

  // Patterns are as deep as the JSON reader allows, and so is this.
  base::Result<Json> fill(const Json& pattern, const Scope& scope, const std::string& pointer) {
    if (values_left_-- == 0) return tooLarge(pointer);
    if (pattern.is_string()) return text(pattern.get_ref<const std::string&>(), scope, pointer);
    if (pattern.is_array()) {
      Json out = Json::array();
      for (size_t i = 0; i < pattern.size(); ++i) {
        RAKUGO_ASSIGN(Json one, fill(pattern[i], scope, pointer + "/" + std::to_string(i)));
        out.push_back(std::move(one));
      }
      return out;
    }
    if (!pattern.is_object()) return Json(pattern);
    if (pattern.contains("each") && pattern.contains("write")) return each(pattern, scope, pointer);
    if (pattern.contains("if") && pattern.contains("then")) return chosen(pattern, scope, pointer);
    return members(pattern, scope, pointer);
  }

 private:
  static base::Error at(base::Error error, const std::string& pointer) {
    if (error.place.path.empty()) error.place.path = pointer;
    return error;
  }
  static base::Error tooLarge(const std::string& pointer) {
    return at({"place.too_large",
               phrase("What this writes grows without bounds."),
               {},
               phrase("Write fewer lists inside lists.")},
              pointer);
  }

  base::Result<Json> text(const std::string& pattern, const Scope& scope, const std::string& pointer) {
    auto filled = filledValue(pattern, scope);
    if (!filled) return at(filled.error(), pointer);
    const size_t bytes = filled->is_string() ? filled->get_ref<const std::string&>().size() : sizeOf(*filled);
    if (bytes > bytes_left_) return tooLarge(pointer);
    bytes_left_ -= bytes;
    return filled;
  }

  // Roughly what a value that was put in whole weighs.
  static size_t sizeOf(const Json& value) { return value.is_structured() ? base::jsonLine(value).size() : 8; }

  base::Result<Json> members(const Json& pattern, const Scope& scope, const std::string& pointer) {
    Json out = Json::object();
    for (const auto& [written, inside] : pattern.items()) {
      std::string key = written;
      bool may_be_left_out = false;
      if (key.ends_with("??")) {
        key.pop_back();
      } else if (key.ends_with('?')) {
        key.pop_back();
        may_be_left_out = true;
      }
      const std::string place = pointer + "/" + base::pointerToken(written);
      RAKUGO_ASSIGN(Json value, fill(inside, scope, place));
      if (may_be_left_out && isEmptyValue(value)) continue;
      RAKUGO_TRY(add(out, key, std::move(value), scope, place));
    }
    return out;
  }

  base::Status add(Json& out, const std::string& key_pattern, Json value, const Scope& scope,
                   const std::string& pointer) {
    auto key = filledText(key_pattern, scope);
    if (!key) return at(key.error(), pointer);
    if (key->size() > bytes_left_) return tooLarge(pointer);
    bytes_left_ -= key->size();
    if (out.contains(*key))
      return at({"place.key",
                 phrase("The key \"{0}\" comes out twice.", base::presentable(*key, 60)),
                 {},
                 phrase("Write keys that differ, such as by an id.")},
                pointer);
    out[*key] = std::move(value);
    return {};
  }

  // Whether what `name` says holds: it equals `is`, or is neither empty nor false.
  static base::Result<bool> holds(const Json& name, const Json* is, const Scope& scope) {
    if (!name.is_string())
      return base::Error{"place.syntax",
                         phrase("A condition is the name of a value."),
                         {},
                         phrase("Write it without braces, such as card.lit.")};
    RAKUGO_ASSIGN(const Json value, scope.valueOf(name.get<std::string>()));
    if (is != nullptr) return value == *is;
    return !isEmptyValue(value) && value != Json(false);
  }

  base::Result<Json> chosen(const Json& pattern, const Scope& scope, const std::string& pointer) {
    const auto met = holds(pattern["if"], base::memberOf(pattern, "is"), scope);
    if (!met) return at(met.error(), pointer + "/if");
    if (*met) return fill(pattern["then"], scope, pointer + "/then");
    if (!pattern.contains("else")) return Json();
    return fill(pattern["else"], scope, pointer + "/else");
  }

  base::Result<Json> each(const Json& pattern, const Scope& scope, const std::string& pointer) {
    const Json& named = pattern["each"];
    if (!named.is_string())
      return at({"place.each", phrase("`each` names a list."), {}, phrase("Such as points.hub.")},
                pointer + "/each");
    const auto list = scope.find(named.get<std::string>());
    if (!list) return at(list.error(), pointer + "/each");
    if (!(*list)->is_array())
      return at({"place.each",
                 phrase("\"{0}\" is no list.", base::presentable(named.get<std::string>(), 60)),
                 {},
                 phrase("Write its value by a placeholder.")},
                pointer + "/each");
    const Json* key = base::memberOf(pattern, "key");
    if (key != nullptr && !key->is_string())
      return at({"place.syntax", phrase("`key` is a text with a placeholder."), {}, {}}, pointer + "/key");
    Json out = key != nullptr ? Json::object() : Json::array();
    size_t number = 0;
    for (const Json& entry : **list) {
      ++number;
      Json counted{{"number", number}};
      if (!entry.is_object()) counted["item"] = entry;
      const Scope outer(counted, &scope);
      const Scope inner = entry.is_object() ? Scope(entry, &outer) : outer;
      if (const Json* where = base::memberOf(pattern, "where")) {
        const auto met = holds(*where, base::memberOf(pattern, "is"), inner);
        if (!met) return at(met.error(), pointer + "/where");
        if (!*met) continue;
      }
      RAKUGO_ASSIGN(Json made, fill(pattern["write"], inner, pointer + "/write"));
      if (key != nullptr) {
        RAKUGO_TRY(add(out, key->get<std::string>(), std::move(made), inner, pointer + "/key"));
      } else {
        out.push_back(std::move(made));
      }
    }
    return out;
  }

  size_t values_left_, bytes_left_;
};

}  // namespace

base::Result<Json> filledJson(const Json& pattern, const Scope& scope, const FillLimits& limits) {
  return Filler(limits).fill(pattern, scope, {});
}

}  // namespace rakugo::packing
