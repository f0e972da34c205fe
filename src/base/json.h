// JSON (RFC 8259) through nlohmann-json, without exceptions, with a depth limit, and with places in every
// complaint.
#pragma once

#include <nlohmann/json.hpp>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "base/json_fwd.h"
#include "base/limits.h"
#include "base/result.h"

namespace rakugo::base {

/// Parses UTF-8 text. Refuses: ill-formed text (with line), nesting above `limits.json_depth`, repeated keys.
/// Errors: json.syntax, json.depth, json.too_large, json.repeated_key.
Result<Json> parseJson(std::string_view text, const std::string& file, const Limits& limits = {});

/// Two-space indentation, one value a line, newline at the end. Ill-formed UTF-8 is replaced, never thrown
/// on; control codes (text.h) are written as \u escapes, so that what is printed turns no terminal.
std::string jsonText(const Json& json);
/// One line, for logs and protocols.
std::string jsonLine(const Json& json);

/// The text of a member, or "" when `json` is no object, has no such member, or it is no text. Never throws.
std::string textOf(const Json& json, const char* key);
/// The member, or null when `json` is no object or has no such member. Never throws.
const Json* memberOf(const Json& json, const char* key);
/// The known name that `name` is most likely a slip of: at most a quarter of its letters differ (one for
/// short names), two neighbours that changed places counted once. Empty when none is that near.
std::string nearMiss(std::string_view name, const std::vector<std::string>& known);

/// Reads fields of one JSON value and collects complaints instead of stopping at the first.
/// Every getter returns its fallback when the field is absent or of the wrong type; wrong types are
/// complained of.
class JsonFields {
 public:
  /// `json` must outlive this. `pointer` is the value's place in its file ("" for the root).
  JsonFields(const Json& json, std::string file, std::string pointer, std::vector<Error>& complaints);

  [[nodiscard]] bool has(const char* key) const;
  std::string text(const char* key, std::string fallback = {});
  std::string requiredText(const char* key);
  double number(const char* key, double fallback = 0);
  int64_t integer(const char* key, int64_t fallback = 0);
  bool flag(const char* key, bool fallback = false);
  std::optional<double> optionalNumber(const char* key);
  std::vector<std::string> texts(const char* key);
  /// Exactly `count` finite numbers, or nothing.
  std::optional<std::vector<double>> numbers(const char* key, size_t count);
  /// The members of an array of objects, or of an object of objects; empty when absent.
  std::vector<JsonFields> objects(const char* key);
  std::optional<JsonFields> object(const char* key);
  /// The members whose keys are not in `known`, in their order; an empty object when this is no object.
  [[nodiscard]] Json others(std::initializer_list<const char*> known) const;
  /// Complains of every key that is not in `known`, with the nearest known one as the cure.
  void refuseOthers(std::initializer_list<const char*> known);
  void complain(const std::string& code, const std::string& message, const std::string& key = {},
                const std::string& cure = {});
  [[nodiscard]] std::string pointerTo(const std::string& key) const;
  [[nodiscard]] const Json& json() const { return *json_; }

 private:
  const Json* find(const char* key) const;
  const Json* json_;
  std::string file_;
  std::string pointer_;
  std::vector<Error>* complaints_;
};

}  // namespace rakugo::base
