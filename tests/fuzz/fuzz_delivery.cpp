// What a rulebook's delivery writes, filled from values that anybody may have written:
// {"fill": PATTERN, "from": VALUES, "path": TEXT, "template": TEXT}; and what is put into a game's own file:
// {"file": TEXT, "at": TEXT, "entry": TEXT, "key": TEXT}.
// It comes out as JSON or is refused, no path leaves its folder, and putting twice is putting once.
#include "packing/delivery/delivered_path.h"
#include "packing/delivery/filled_json.h"
#include "packing/delivery/merged_file.h"
#include "packing/delivery/text_template.h"

extern "C" int LLVMFuzzerTestOneInput(const uint8_t* data, size_t size) {
  using namespace rakugo;
  const auto json = base::parseJson({reinterpret_cast<const char*>(data), size}, "fuzz");
  if (!json || !json->is_object()) return 0;
  const base::Json* values = base::memberOf(*json, "from");
  const base::Json none = base::Json::object();
  const packing::Scope scope(values != nullptr ? *values : none);
  packing::FillLimits limits;
  limits.values = 20'000;
  limits.bytes = size_t{1} << 20;
  if (const base::Json* pattern = base::memberOf(*json, "fill")) {
    if (const auto filled = packing::filledJson(*pattern, scope, limits)) {
      const auto again = base::parseJson(base::jsonText(*filled), "filled");
      // Deeper than JSON is read: values stand inside patterns.
      if (!again && again.error().code != "json.depth") __builtin_trap();
    }
  }
  for (const packing::TextKind kind : {packing::TextKind::xml, packing::TextKind::csv})
    if (const auto text = packing::filledTemplate(base::textOf(*json, "template"), scope, kind, limits))
      if (text->size() > limits.bytes) __builtin_trap();
  const std::string file = base::textOf(*json, "file"), at = base::textOf(*json, "at"),
                    entry = base::textOf(*json, "entry"), key = base::textOf(*json, "key");
  if (const auto put = packing::mergedJson(file, "f", at, base::Json(entry), key))
    if (const auto again = packing::mergedJson(*put, "f", at, base::Json(entry), key);
        again && *again != *put)
      __builtin_trap();
  if (const auto put = packing::mergedLines(file, "f", "m", entry, "#"))
    if (const auto again = packing::mergedLines(*put, "f", "m", entry, "#"); !again || *again != *put)
      __builtin_trap();
  (void)packing::mergedXml(file, "f", at, entry, key);
  const auto path = packing::deliveredPath(base::textOf(*json, "path"), scope);
  if (!path) return 0;
  // A name that leaves, or a way round.
  if (path->empty() || path->front() == '/' || path->find('\\') != std::string::npos) __builtin_trap();
  for (size_t from = 0; from <= path->size();) {
    const size_t end = std::min(path->find('/', from), path->size());
    const std::string name = path->substr(from, end - from);
    if (name.empty() || name == "." || name == "..") __builtin_trap();
    from = end + 1;
  }
  packing::DeliveredPaths paths;
  (void)paths.take(*path, "one");
  if (paths.take(*path, "other")) __builtin_trap();
  return 0;
}
