#include "prepare/objects/text_ids.h"

#include <algorithm>

#include "base/phrase.h"
#include "base/text.h"
#include "prepare/objects/piece_values.h"
#include "rulebook/field_value.h"

namespace rakugo::prepare {
namespace {

using base::Json;
using rulebook::FieldType;

// Calls see(text, field, column) for every value among `values` that names a text; of no list the column is
// the field itself.
template <class Values, class See>
void eachText(const std::vector<rulebook::Field>& fields, Values& values, const See& see) {
  const auto look = [&](auto& value, const rulebook::Field& field, const rulebook::Field& column) {
    if (column.type == FieldType::text_id && value.is_string()) see(value, field, column);
  };
  if (!values.is_object()) return;
  for (const rulebook::Field& field : fields) {
    const auto found = values.find(field.id);
    if (found == values.end()) continue;
    look(*found, field, field);
    if (!rulebook::hasRows(field) || !found->is_array()) continue;
    for (auto& row : *found)
      for (const rulebook::Field& column : field.columns) {
        if (!row.is_object())
          look(row, field, column);
        else if (const auto cell = row.find(column.id); cell != row.end())
          look(*cell, field, column);
      }
  }
}

// Calls see(text, field, place) for every value of an object that names a text.
template <class Object, class See>
void eachTextOf(const rulebook::Rulebook& book, Object& object, const See& see) {
  if (const rulebook::Kind* kind = book.findKind(object.kind))
    eachText(kind->fields, object.card,
             [&](auto& text, const rulebook::Field& field, const rulebook::Field& column) {
               see(text, column, field.id);
             });
  for (auto& entry : object.lists)
    if (const rulebook::GameList* list = book.findList(entry.list))
      eachText(list->fields, entry.values,
               [&](auto& text, const rulebook::Field&, const rulebook::Field& column) {
                 see(text, column, "list-" + list->id);
               });
  for (auto& piece : object.pieces)
    if (!piece.isModel())
      eachText(fieldsOfPiece(book, object, piece), piece.values,
               [&](auto& text, const rulebook::Field&, const rulebook::Field& column) {
                 see(text, column, "piece-" + piece.name);
               });
}

}  // namespace

std::vector<TextUse> textsNamedBy(const rulebook::Rulebook& book, const std::string& name,
                                  const mod::ObjectDoc& object) {
  std::vector<TextUse> out;
  eachTextOf(book, object, [&](const Json& text, const rulebook::Field& field, const std::string& place) {
    if (std::string id = text.get<std::string>(); !id.empty())
      out.push_back({std::move(id), name, place, field.title});
  });
  return out;
}

std::map<std::string, TextUse> namedTexts(const rulebook::Rulebook& book, const mod::ModState& state) {
  std::map<std::string, TextUse> out;
  for (const auto& [name, object] : state.objects)
    for (TextUse& use : textsNamedBy(book, name, object))
      if (book.findShared(use.id) == nullptr) out.emplace(use.id, use);
  return out;
}

void renameTexts(const rulebook::Rulebook& book, mod::ObjectDoc& object,
                 const std::function<std::string(const std::string& id)>& now) {
  eachTextOf(book, object, [&](Json& text, const rulebook::Field&, const std::string&) {
    text = now(text.get<std::string>());
  });
}

const std::string* textIn(const mod::ModState& state, const std::string& language, const std::string& id) {
  const auto doc = state.texts.find(language);
  if (doc == state.texts.end()) return nullptr;
  const auto found = doc->second.texts.find(id);
  return found != doc->second.texts.end() ? &found->second : nullptr;
}

void setText(mod::ModState& state, const std::string& language, const std::string& id,
             const std::string& text) {
  if (!text.empty()) {
    state.texts[language].texts[id] = text;
    return;
  }
  if (textIn(state, language, id) == nullptr) return;
  mod::TextsDoc& doc = state.texts.at(language);
  doc.texts.erase(id);
  if (doc.texts.empty()) state.texts.erase(language);
}

base::Status renameText(const rulebook::Rulebook& book, mod::ModState& state, const std::string& from,
                        const std::string& to) {
  if (to.empty()) return base::Error{"text.id", base::phrase("A text has an id."), {}, {}};
  const auto there = [&](const std::string& id) {
    const std::map<std::string, TextUse> named = namedTexts(book, state);
    return named.count(id) != 0 || std::any_of(state.texts.begin(), state.texts.end(), [&](const auto& doc) {
             return doc.second.texts.count(id) != 0;
           });
  };
  if (!there(from))
    return base::Error{"text.unknown",
                       base::phrase("The mod has no text \"{0}\".", base::presentable(from, 60)),
                       {},
                       base::phrase("Look at the list of its texts.")};
  if (from == to) return {};
  if (there(to))
    return base::Error{"text.taken",
                       base::phrase("There is a text \"{0}\" already.", base::presentable(to, 60)),
                       {},
                       base::phrase("Choose another id.")};
  state.texts.changeEach([&](const std::string&, mod::TextsDoc& doc) {
    auto text = doc.texts.extract(from);
    if (text.empty()) return;
    text.key() = to;
    doc.texts.insert(std::move(text));
  });
  for (const auto& [name, object] : mod::ModState(state).objects) {
    const std::vector<TextUse> uses = textsNamedBy(book, name, object);
    if (std::any_of(uses.begin(), uses.end(), [&](const TextUse& use) { return use.id == from; }))
      renameTexts(book, state.objects[name], [&](const std::string& id) { return id == from ? to : id; });
  }
  return {};
}

}  // namespace rakugo::prepare
