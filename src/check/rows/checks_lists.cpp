// Checks of what objects name, and of the game's lists that they enter.
#include <algorithm>

#include "base/text.h"
#include "check/rows/piece_findings.h"
#include "mod/references.h"
#include "prepare/objects/piece_values.h"
#include "prepare/objects/thing_names.h"
#include "rulebook/field_value.h"

namespace rakugo::check {
namespace {

using base::Json;

// Where a value stands: on the card, in an entry of a list, at a piece.
struct ValuePlace {
  std::string said;   // for people: "the card", "its 2nd entry in Recipes"
  std::string field;  // of the finding's place
  Json* (*in)(mod::ObjectDoc& object, size_t at);
  size_t at = 0;
};

Json* cardOf(mod::ObjectDoc& object, size_t) { return &object.card; }
Json* entryOf(mod::ObjectDoc& object, size_t at) {
  return at < object.lists.size() ? &object.lists[at].values : nullptr;
}
Json* pieceOf(mod::ObjectDoc& object, size_t at) {
  return at < object.pieces.size() ? &object.pieces[at].values : nullptr;
}

std::string entryText(const mod::ObjectDoc& doc, const rulebook::GameList& list, size_t at) {
  size_t number = 0, count = 0;
  for (size_t i = 0; i < doc.lists.size(); ++i) {
    if (doc.lists[i].list != list.id) continue;
    ++count;
    if (i <= at) ++number;
  }
  return count > 1 ? phrase("{0}, entry {1}", list.title, number) : list.title;
}

// Calls body(place, fields, values) for the card, each entry in a known list and each piece of an object.
template <class Body>
void eachValues(const Context& context, const mod::ObjectDoc& doc, const Body& body) {
  if (const rulebook::Kind* kind = context.book->findKind(doc.kind))
    body(ValuePlace{phrase("the card"), {}, cardOf, 0}, kind->fields, doc.card);
  for (size_t i = 0; i < doc.lists.size(); ++i)
    if (const rulebook::GameList* list = context.book->findList(doc.lists[i].list))
      body(ValuePlace{entryText(doc, *list, i), "list-" + list->id, entryOf, i}, list->fields,
           doc.lists[i].values);
  for (size_t i = 0; i < doc.pieces.size(); ++i)
    body(ValuePlace{doc.pieces[i].name, "piece-" + doc.pieces[i].name, pieceOf, i},
         prepare::fieldsOfPiece(*context.book, doc, doc.pieces[i]), doc.pieces[i].values);
}

// Another thing in the place of what a reference names.
Mend renameMend(const std::string& object, const ValuePlace& place, const rulebook::Field& field, int row,
                const rulebook::Field& cell, const prepare::ThingName& better) {
  return objectMend(
      object, phrase("{0} is {1}", cell.title, better.title),
      [place, id = field.id, one_column = field.columns.size() == 1, row, column = cell.id,
       value = better.value](mod::ObjectDoc& doc) -> base::Status {
        Json* values = place.in(doc, place.at);
        if (values == nullptr || !values->contains(id)) return {};
        Json& whole = (*values)[id];
        if (row < 0)
          whole = value;
        else if (whole.is_array() && static_cast<size_t>(row) < whole.size())
          (one_column ? whole[static_cast<size_t>(row)] : whole[static_cast<size_t>(row)][column]) = value;
        return {};
      });
}

void checkReferences(const Context& context, const CheckRow& row, Findings& out) {
  for (const auto& [name, doc] : context.mod->objects)
    eachValues(context, doc,
               [&, &name = name](const ValuePlace& place, const std::vector<rulebook::Field>& fields,
                                 const Json& values) {
                 for (const rulebook::Field& field : fields) {
                   const Json* value = base::memberOf(values, field.id.c_str());
                   if (value == nullptr) continue;
                   prepare::eachReferenceOf(
                       field, *value, [&](const rulebook::Field& cell, int at, const std::string& named) {
                         const auto fault = prepare::referenceFault(*context.book, *context.mod, cell, named);
                         if (!fault) return;
                         const std::string of = &cell == &field || field.columns.size() == 1
                                                    ? field.title
                                                    : phrase("{0}, {1}", field.title, cell.title);
                         Finding f = aboutPiece(
                             context, row, name, {},
                             at < 0 ? phrase("{0} of {1}, {2}: it {3}.", of, name, place.said, *fault)
                                    : phrase("{0} of {1}, {2}, row {3}: it {4}.", of, name, place.said,
                                             at + 1, *fault));
                         f.place.field = place.field.empty() ? field.id : place.field;
                         f.measured = base::presentable(named, 60);
                         const std::vector<prepare::ThingName> all =
                             prepare::thingsFor(*context.book, *context.mod, cell);
                         std::vector<std::string> names;
                         for (const prepare::ThingName& one : all) names.push_back(one.value);
                         const std::string near = base::nearMiss(named, names);
                         for (const prepare::ThingName& one : all)
                           if (one.value == near)
                             f.mends.push_back(renameMend(name, place, field, at, cell, one));
                         f.expected = names.empty() ? phrase("there is nothing it could name")
                                                    : base::listText(names, 6);
                         out.push_back(std::move(f));
                       });
                 }
               });
}

Mend dropEntry(const std::string& object, const std::string& entry, size_t at) {
  return objectMend(object, phrase("Take it out of {0}", entry), [at](mod::ObjectDoc& doc) -> base::Status {
    if (at < doc.lists.size()) doc.lists.erase(doc.lists.begin() + static_cast<ptrdiff_t>(at));
    return {};
  });
}

Finding aboutList(const Context& context, const CheckRow& row, const std::string& object,
                  const std::string& list, std::string sentence) {
  Finding f = aboutPiece(context, row, object, {}, std::move(sentence));
  f.place.field = "list-" + list;
  return f;
}

void checkListUnknown(const Context& context, const CheckRow& row, Findings& out) {
  for (const auto& [name, doc] : context.mod->objects) {
    const rulebook::Kind* kind = context.book->findKind(doc.kind);
    for (size_t i = 0; i < doc.lists.size(); ++i) {
      const rulebook::GameList* list = context.book->findList(doc.lists[i].list);
      if (list != nullptr && (kind == nullptr || list->takes(doc.kind))) continue;
      Finding f =
          aboutList(context, row, name, doc.lists[i].list,
                    list == nullptr ? phrase("{0} stands in \"{1}\", a list that the game does not have.",
                                             name, base::presentable(doc.lists[i].list, 40))
                                    : phrase("{0} stands in {1}, which takes no {2}.", name, list->title,
                                             base::lowerAscii(kind->title)));
      std::vector<std::string> takes;
      for (const rulebook::GameList& one : context.book->lists)
        if (one.takes(doc.kind)) takes.push_back(one.title);
      f.measured = base::presentable(doc.lists[i].list, 40);
      f.expected = takes.empty() ? phrase("no list takes it") : base::listText(takes, 8);
      f.mends.push_back(
          dropEntry(name, list != nullptr ? list->title : base::presentable(doc.lists[i].list, 40), i));
      out.push_back(std::move(f));
    }
  }
}

void checkListCount(const Context& context, const CheckRow& row, Findings& out) {
  for (const auto& [name, doc] : context.mod->objects)
    for (const rulebook::GameList& list : context.book->lists) {
      if (!list.takes(doc.kind) || context.book->findKind(doc.kind) == nullptr) continue;
      int64_t count = 0;
      for (size_t i = 0; i < doc.lists.size(); ++i)
        if (doc.lists[i].list == list.id) ++count;
      if (count >= list.least && count <= list.most) continue;
      Finding f = aboutList(
          context, row, name, list.id,
          count < list.least ? phrase("{0} stands in {1} {2} times; the game needs {3}.{4}", name, list.title,
                                      count, list.least, list.help.empty() ? "" : " " + list.help)
                             : phrase("{0} stands in {1} {2} times; the game takes {3}.", name, list.title,
                                      count, list.most));
      f.measured = std::to_string(count);
      f.expected = count < list.least ? phrase("at least {0}", list.least) : phrase("at most {0}", list.most);
      // Which of them goes is for the person to say.
      if (count > list.most) {
        for (size_t i = 0; i < doc.lists.size(); ++i)
          if (doc.lists[i].list == list.id) f.mends.push_back(dropEntry(name, entryText(doc, list, i), i));
      } else {
        f.mends.push_back(
            objectMend(name, phrase("Put it into {0}", list.title),
                       [entry = prepare::newEntry(list)](mod::ObjectDoc& object) -> base::Status {
                         object.lists.push_back(entry);
                         return {};
                       }));
      }
      out.push_back(std::move(f));
    }
}

void checkListValues(const Context& context, const CheckRow& row, Findings& out) {
  for (const auto& [name, doc] : context.mod->objects)
    for (size_t i = 0; i < doc.lists.size(); ++i) {
      const rulebook::GameList* list = context.book->findList(doc.lists[i].list);
      if (list == nullptr) continue;
      const Json& values = doc.lists[i].values;
      for (const rulebook::Field& field : list->fields) {
        const Json* value = base::memberOf(values, field.id.c_str());
        const bool empty = value == nullptr || rulebook::isEmpty(*value);
        if (empty && !(field.required && field.when.holds(values))) continue;
        const auto fault = empty ? std::optional<rulebook::FieldFault>({phrase("is empty"), {}})
                                 : rulebook::fieldFault(field, *value);
        if (!fault) continue;
        Finding f = aboutList(context, row, name, list->id,
                              phrase("{0}, {1}: {2} {3}.{4}", name, entryText(doc, *list, i), field.title,
                                     fault->what, empty && !field.help.empty() ? " " + field.help : ""));
        f.expected = fault->expected;
        if (!field.default_value.is_null() && (empty || !rulebook::hasRows(field)))
          f.mends.push_back(objectMend(
              name, phrase("Set it to the usual value"),
              [i, id = field.id, usual = field.default_value](mod::ObjectDoc& object) -> base::Status {
                if (i < object.lists.size()) object.lists[i].values[id] = usual;
                return {};
              }));
        out.push_back(std::move(f));
      }
    }
}

}  // namespace

std::vector<CheckRow> listChecks() {
  using S = Severity;
  return {{"field.reference",
           812,
           S::shows,
           Station::objects,
           {"mod.documents", "object.card"},
           "A value names something that is not there",
           "The game finds nothing by that name, and leaves out what hangs on it.",
           "Choose something that is there, or take the value out.",
           checkReferences},
          {"list.unknown",
           814,
           S::shows,
           Station::objects,
           {"mod.documents"},
           "An entry in a list that does not take it",
           "The game never offers it there.",
           "Take it out of the list.",
           checkListUnknown},
          {"list.count",
           815,
           S::shows,
           Station::objects,
           {"mod.documents"},
           "Too many entries in a list, or too few",
           "Players do not come by it, or find it twice.",
           "Put it in, or take it out.",
           checkListCount},
          {"list.values",
           816,
           S::shows,
           Station::objects,
           {"mod.documents"},
           "An entry in a list is empty or outside its limits",
           "The game leaves the entry out, or takes another value.",
           "Fill it in within its limits.",
           checkListValues}};
}

}  // namespace rakugo::check
