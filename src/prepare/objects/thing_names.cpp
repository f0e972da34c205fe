#include "prepare/objects/thing_names.h"

#include <algorithm>
#include <map>

#include "base/phrase.h"
#include "base/text.h"
#include "mod/references.h"
#include "prepare/newer/incoming.h"

namespace rakugo::prepare {
namespace {

bool takesSort(const rulebook::Field& field, const std::string& sort) {
  return field.to.empty() || std::find(field.to.begin(), field.to.end(), sort) != field.to.end();
}

bool isSoundSource(const mod::SourceDoc& doc) { return sourceSortOf(doc.file) == SourceSort::sound; }

std::string objectTitle(const std::string& name, const mod::ObjectDoc& doc) {
  return doc.title.empty() ? name : doc.title;
}

}  // namespace

std::vector<ThingName> thingsFor(const rulebook::Rulebook& book, const mod::ModState& mod,
                                 const rulebook::Field& field) {
  std::vector<ThingName> out;
  for (const auto& [name, doc] : mod.objects)
    if (takesSort(field, doc.kind))
      out.push_back({mod::referenceTo(mod::Thing::object, name), objectTitle(name, doc)});
  if (takesSort(field, rulebook::kSoundSort))
    for (const auto& [name, doc] : mod.sources)
      if (isSoundSource(doc)) out.push_back({mod::referenceTo(mod::Thing::source, name), name});
  for (const rulebook::SharedAsset& asset : book.shared_assets)
    if (takesSort(field, asset.sort)) out.push_back({asset.id, asset.title.empty() ? asset.id : asset.title});
  // What is called the same is told apart by what documents write.
  std::map<std::string, int> called;
  for (const ThingName& one : out) ++called[one.title];
  for (ThingName& one : out)
    if (called[one.title] > 1) one.title = base::phrase("{0} ({1})", one.title, one.value);
  return out;
}

std::string thingTitle(const rulebook::Rulebook& book, const mod::ModState& mod, const std::string& value) {
  if (const auto named = mod::namedThing(value)) {
    if (named->thing == mod::Thing::source) return named->name;
    const auto object = mod.objects.find(named->name);
    return object != mod.objects.end() ? objectTitle(named->name, object->second) : named->name;
  }
  const rulebook::SharedAsset* shared = book.findShared(value);
  return shared != nullptr && !shared->title.empty() ? shared->title : value;
}

std::optional<std::string> referenceFault(const rulebook::Rulebook& book, const mod::ModState& mod,
                                          const rulebook::Field& field, const std::string& value) {
  if (value.empty()) return std::nullopt;
  const std::vector<ThingName> all = thingsFor(book, mod, field);
  if (std::any_of(all.begin(), all.end(), [&](const ThingName& one) { return one.value == value; }))
    return std::nullopt;
  const std::string shown = base::presentable(value, 60);
  if (const auto named = mod::namedThing(value)) {
    const bool source = named->thing == mod::Thing::source;
    if (source ? mod.sources.count(named->name) == 0 : mod.objects.count(named->name) == 0)
      return base::phrase("names \"{0}\", which the mod does not have", shown);
  } else if (book.findShared(value) == nullptr) {
    return base::phrase("names \"{0}\", which the game does not share", shown);
  }
  return base::phrase("names \"{0}\", which is nothing that it takes", shown);
}

void eachReferenceOf(const rulebook::Field& field, const base::Json& value,
                     const std::function<void(const rulebook::Field&, int, const std::string&)>& see) {
  if (field.type == rulebook::FieldType::reference && value.is_string())
    see(field, -1, value.get_ref<const std::string&>());
  if (field.type != rulebook::FieldType::list || !value.is_array()) return;
  for (size_t r = 0; r < value.size(); ++r)
    for (const rulebook::Field& column : field.columns) {
      if (column.type != rulebook::FieldType::reference) continue;
      const base::Json* cell =
          field.columns.size() == 1 ? &value[r] : base::memberOf(value[r], column.id.c_str());
      if (cell != nullptr && cell->is_string())
        see(column, static_cast<int>(r), cell->get_ref<const std::string&>());
    }
}

}  // namespace rakugo::prepare
