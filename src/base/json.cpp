#include "base/json.h"

#include <algorithm>
#include <cmath>
#include <set>

#include "base/json_scan.h"
#include "base/phrase.h"
#include "base/text.h"

namespace rakugo::base {
namespace {

using Parser = nlohmann::json_sax<Json>;

// Builds a Json value from parser events. The library's own DOM builder has no depth limit and accepts
// repeated keys.
class Builder : public Parser {
 public:
  Builder(const Limits& limits, std::string file) : limits_(limits), file_(std::move(file)) {}
  bool null() override { return put(nullptr); }
  bool boolean(bool value) override { return put(value); }
  bool number_integer(number_integer_t value) override { return put(value); }
  bool number_unsigned(number_unsigned_t value) override { return put(value); }
  bool number_float(number_float_t value, const string_t&) override { return put(value); }
  bool string(string_t& value) override { return put(std::move(value)); }
  bool binary(binary_t&) override { return false; }
  bool start_object(std::size_t) override { return open(Json::object()); }
  bool start_array(std::size_t) override { return open(Json::array()); }
  bool end_object() override { return close(); }
  bool end_array() override { return close(); }
  bool key(string_t& value) override {
    if (!keys_.back().insert(value).second) {
      error_ = Error{"json.repeated_key",
                     phrase("The key \"{0}\" stands twice in one object.", presentable(value)), Place{file_},
                     phrase("Keep one of the two.")};
      return false;
    }
    key_ = std::move(value);
    return true;
  }
  bool parse_error(std::size_t position, const std::string&,
                   const nlohmann::detail::exception& cause) override {
    position_ = position;
    std::string what = cause.what();
    if (const size_t at = what.find("syntax error"); at != std::string::npos) what = what.substr(at);
    error_ = Error{"json.syntax", phrase("This is not well-formed JSON: {0}.", presentable(what, 160)),
                   Place{file_}, ""};
    return false;
  }
  Json root;
  std::optional<Error> error_;
  size_t position_ = 0;

 private:
  bool open(Json&& empty) {
    if (static_cast<int>(stack_.size()) >= limits_.json_depth) {
      error_ = Error{"json.depth", phrase("The JSON is nested deeper than {0} levels.", limits_.json_depth),
                     Place{file_}, ""};
      return false;
    }
    Json* placed = place(std::move(empty));
    stack_.push_back(placed);
    keys_.emplace_back();
    return true;
  }
  bool close() {
    stack_.pop_back();
    keys_.pop_back();
    return true;
  }
  template <class T>
  bool put(T&& value) {
    place(Json(std::forward<T>(value)));
    return true;
  }
  Json* place(Json&& value) {
    if (stack_.empty()) {
      root = std::move(value);
      return &root;
    }
    Json& parent = *stack_.back();
    if (parent.is_array()) {
      parent.push_back(std::move(value));
      return &parent.back();
    }
    // Appended directly: ordered_json's operator[] searches all earlier keys, and repeats are refused above.
    auto& members = parent.get_ref<Json::object_t&>();
    members.emplace_back(std::move(key_), std::move(value));
    return &members.back().second;
  }
  const Limits& limits_;
  std::string file_;
  std::vector<Json*> stack_;
  std::vector<std::set<std::string>> keys_;
  std::string key_;
};

int lineOf(std::string_view text, size_t position) {
  position = std::min(position, text.size());
  return 1 + static_cast<int>(
                 std::count(text.begin(), text.begin() + static_cast<std::ptrdiff_t>(position), '\n'));
}

}  // namespace

Result<Json> parseJson(std::string_view text, const std::string& file, const Limits& limits) {
  if (text.size() > limits.json_bytes)
    return Error{"json.too_large", phrase("The JSON text is larger than Rakugo reads."), Place{file}, ""};
  if (!isUtf8(text))
    return Error{"json.syntax", phrase("The text is not UTF-8."), Place{file},
                 phrase("Save the file as UTF-8.")};
  Builder builder(limits, file);
  try {
    const bool good = Json::sax_parse(text.begin(), text.end(), static_cast<Parser*>(&builder));
    if (good && !builder.error_) return std::move(builder.root);
  } catch (const std::exception& e) {
    builder.error_ =
        Error{"json.syntax", phrase("The JSON cannot be read: {0}", presentable(e.what())), Place{file}, ""};
  }
  Error error =
      builder.error_.value_or(Error{"json.syntax", phrase("This is not well-formed JSON."), Place{file}, ""});
  if (error.code == "json.syntax")
    if (const auto slip = jsonSlip(text, file)) return *slip;
  if (builder.position_ > 0) {
    error.place.line = lineOf(text, builder.position_);
    error.place.offset = static_cast<int64_t>(builder.position_);
  }
  return error;
}

std::string jsonText(const Json& json) {
  return escapedControls(json.dump(2, ' ', false, Json::error_handler_t::replace)) + "\n";
}
std::string jsonLine(const Json& json) {
  return escapedControls(json.dump(-1, ' ', false, Json::error_handler_t::replace));
}

const Json* memberOf(const Json& json, const char* key) {
  if (!json.is_object()) return nullptr;
  const auto at = json.find(key);
  return at == json.end() ? nullptr : &*at;
}

std::string textOf(const Json& json, const char* key) {
  const Json* found = memberOf(json, key);
  return found != nullptr && found->is_string() ? found->get<std::string>() : std::string();
}

std::string nearMiss(std::string_view name, const std::vector<std::string>& known) {
  const std::string* nearest = nullptr;
  size_t least = std::max<size_t>(1, (name.size() + 1) / 4) + 1;
  for (const std::string& one : known)
    if (const auto distance = static_cast<size_t>(editDistance(one, name)); distance < least) {
      least = distance;
      nearest = &one;
    }
  return nearest != nullptr ? *nearest : std::string();
}

JsonFields::JsonFields(const Json& json, std::string file, std::string pointer,
                       std::vector<Error>& complaints)
    : json_(&json), file_(std::move(file)), pointer_(std::move(pointer)), complaints_(&complaints) {
  if (!json.is_object()) complain("json.type", phrase("An object is expected here."));
}

const Json* JsonFields::find(const char* key) const { return memberOf(*json_, key); }

Json JsonFields::others(std::initializer_list<const char*> known) const {
  Json out = Json::object();
  if (json_->is_object())
    for (const auto& [key, value] : json_->items())
      if (std::none_of(known.begin(), known.end(), [&, k = key](const char* name) { return k == name; }))
        out[key] = value;
  return out;
}

bool JsonFields::has(const char* key) const { return find(key) != nullptr; }

std::string JsonFields::pointerTo(const std::string& key) const {
  return key.empty() ? pointer_ : pointer_ + "/" + key;
}

void JsonFields::complain(const std::string& code, const std::string& message, const std::string& key,
                          const std::string& cure) {
  complaints_->push_back(Error{code, message, Place{file_, pointerTo(key)}, cure});
}

std::string JsonFields::text(const char* key, std::string fallback) {
  const Json* found = find(key);
  if (!found) return fallback;
  if (!found->is_string()) return complain("json.type", phrase("A text is expected here."), key), fallback;
  return found->get<std::string>();
}

std::string JsonFields::requiredText(const char* key) {
  if (!has(key)) complain("json.missing", phrase("The field \"{0}\" is missing.", key), key);
  std::string out = text(key);
  if (has(key) && out.empty())
    complain("json.empty", phrase("The field \"{0}\" must not be empty.", key), key);
  return out;
}

double JsonFields::number(const char* key, double fallback) { return optionalNumber(key).value_or(fallback); }

std::optional<double> JsonFields::optionalNumber(const char* key) {
  const Json* found = find(key);
  if (!found) return std::nullopt;
  if (!found->is_number() || !std::isfinite(found->get<double>()))
    return complain("json.type", phrase("A number is expected here."), key), std::nullopt;
  return found->get<double>();
}

int64_t JsonFields::integer(const char* key, int64_t fallback) {
  const Json* found = find(key);
  if (!found) return fallback;
  if (found->is_number_integer() && !(found->is_number_unsigned() && found->get<uint64_t>() > INT64_MAX))
    return found->get<int64_t>();
  complain("json.type", phrase("A whole number is expected here."), key);
  return fallback;
}

bool JsonFields::flag(const char* key, bool fallback) {
  const Json* found = find(key);
  if (!found) return fallback;
  if (!found->is_boolean())
    return complain("json.type", phrase("true or false is expected here."), key), fallback;
  return found->get<bool>();
}

std::vector<std::string> JsonFields::texts(const char* key) {
  std::vector<std::string> out;
  const Json* found = find(key);
  if (!found) return out;
  if (!found->is_array()) return complain("json.type", phrase("A list of texts is expected here."), key), out;
  for (size_t i = 0; i < found->size(); ++i) {
    if ((*found)[i].is_string())
      out.push_back((*found)[i].get<std::string>());
    else
      complain("json.type", phrase("A text is expected here."), std::string(key) + "/" + std::to_string(i));
  }
  return out;
}

std::optional<std::vector<double>> JsonFields::numbers(const char* key, size_t count) {
  const Json* found = find(key);
  if (!found) return std::nullopt;
  std::vector<double> out;
  if (found->is_array())
    for (const Json& one : *found)
      if (one.is_number() && std::isfinite(one.get<double>())) out.push_back(one.get<double>());
  if (!found->is_array() || out.size() != count || found->size() != count)
    return complain("json.type", phrase("A list of {0} numbers is expected here.", count), key), std::nullopt;
  return out;
}

std::vector<JsonFields> JsonFields::objects(const char* key) {
  std::vector<JsonFields> out;
  const Json* found = find(key);
  if (!found) return out;
  if (!found->is_array()) return complain("json.type", phrase("A list is expected here."), key), out;
  for (size_t i = 0; i < found->size(); ++i)
    out.emplace_back((*found)[i], file_, pointerTo(key) + "/" + std::to_string(i), *complaints_);
  return out;
}

std::optional<JsonFields> JsonFields::object(const char* key) {
  const Json* found = find(key);
  if (!found) return std::nullopt;
  return JsonFields(*found, file_, pointerTo(key), *complaints_);
}

void JsonFields::refuseOthers(std::initializer_list<const char*> known) {
  if (!json_->is_object()) return;
  for (const auto& [key, value] : json_->items()) {
    if (std::any_of(known.begin(), known.end(), [&, k = key](const char* name) { return k == name; }))
      continue;
    const std::string near = nearMiss(key, {known.begin(), known.end()});
    complain("json.unknown_key", phrase("The key \"{0}\" is not known here.", presentable(key)), key,
             near.empty() ? "" : phrase("Is \"{0}\" meant?", near));
  }
}

}  // namespace rakugo::base
