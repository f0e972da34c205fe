#include "packing/delivery/merged_file.h"

#include <algorithm>
#include <pugixml.hpp>
#include <sstream>
#include <vector>

#include "base/json_pointer.h"
#include "base/phrase.h"
#include "base/text.h"

namespace rakugo::packing {
namespace {

using base::Json;
using base::phrase;

base::Error nothingAt(const std::string& name, const std::string& at, const std::vector<std::string>& known) {
  return base::Error{"merge.at",
                     phrase("{0} has nothing at \"{1}\".", name, base::presentable(at, 80)),
                     {name, at},
                     known.empty() ? phrase("Look at the game's file.")
                                   : phrase("There are {0}.", base::listText(known, 12))};
}

base::Result<Json*> placeIn(Json& whole, const std::string& name, const std::string& at) {
  Json* here = &whole;
  if (!at.empty() && at.front() != '/') return nothingAt(name, at, {});
  for (const std::string& part : base::pointerKeys(at)) {
    Json* next = nullptr;
    if (here->is_object() && here->contains(part)) next = &(*here)[part];
    if (here->is_array() && !part.empty() && part.size() < 9 &&
        std::all_of(part.begin(), part.end(), [](char c) { return c >= '0' && c <= '9'; }))
      if (const size_t i = std::stoul(part); i < here->size()) next = &(*here)[i];
    if (next == nullptr) {
      std::vector<std::string> known;
      if (here->is_object())
        for (const auto& [key, value] : here->items()) known.push_back(key);
      return nothingAt(name, at, known);
    }
    here = next;
  }
  return here;
}

base::Error xmlFault(const std::string& name, std::string_view text, const pugi::xml_parse_result& parsed) {
  base::Error out{
      "merge.syntax", phrase("{0} is no XML: {1}.", name, std::string(parsed.description())), {name, {}}, {}};
  const auto end = std::min(static_cast<size_t>(std::max<std::ptrdiff_t>(parsed.offset, 0)), text.size());
  out.place.line =
      1 + static_cast<int>(std::count(text.begin(), text.begin() + static_cast<std::ptrdiff_t>(end), '\n'));
  return out;
}

std::string written(const pugi::xml_node& node) {
  std::ostringstream out;
  node.print(out, "", pugi::format_raw);
  return out.str();
}

constexpr unsigned kKeepAll = pugi::parse_default | pugi::parse_comments | pugi::parse_declaration |
                              pugi::parse_doctype | pugi::parse_pi | pugi::parse_ws_pcdata_single;

}  // namespace

base::Result<std::string> mergedJson(std::string_view file, const std::string& name, const std::string& at,
                                     const Json& entry, const std::string& key) {
  RAKUGO_ASSIGN(Json whole, base::parseJson(file, name));
  RAKUGO_ASSIGN(Json* const place, placeIn(whole, name, at));
  if (place->is_object()) {
    if (key.empty())
      return base::Error{"merge.key",
                         phrase("At \"{0}\" {1} has an object: the entry needs a key.", at, name),
                         {name, at},
                         phrase("Say under which key it stands.")};
    (*place)[key] = entry;
    return base::jsonText(whole);
  }
  if (!place->is_array())
    return base::Error{"merge.at",
                       phrase("At \"{0}\" {1} has neither a list nor an object.", at, name),
                       {name, at},
                       phrase("Name the list that the entry is put into.")};
  const Json* own = key.empty() ? nullptr : base::memberOf(entry, key.c_str());
  if (!key.empty() && own == nullptr)
    return base::Error{"merge.key",
                       phrase("The entry for {0} has no \"{1}\".", name, base::presentable(key, 40)),
                       {name, at},
                       phrase("Its key is what tells it from others.")};
  const auto same = std::find_if(place->begin(), place->end(), [&](const Json& one) {
    if (own == nullptr) return one == entry;
    const Json* other = base::memberOf(one, key.c_str());
    return other != nullptr && *other == *own;
  });
  if (same != place->end())
    *same = entry;
  else
    place->push_back(entry);
  return base::jsonText(whole);
}

base::Result<std::string> mergedXml(std::string_view file, const std::string& name, const std::string& at,
                                    const std::string& entry, const std::string& key) {
  pugi::xml_document whole, made;
  if (const auto parsed = whole.load_buffer(file.data(), file.size(), kKeepAll); !parsed)
    return xmlFault(name, file, parsed);
  if (const auto parsed = made.load_buffer(entry.data(), entry.size()); !parsed)
    return xmlFault(phrase("the entry for {0}", name), entry, parsed);
  const pugi::xml_node own = made.document_element();
  if (!own || own.next_sibling())
    return base::Error{"merge.syntax", phrase("The entry for {0} is not one element.", name), {name, at}, {}};
  pugi::xml_node place = whole;
  // Names of elements have neither "~" nor "/" in them: the path is read as a pointer is.
  for (const std::string& part : base::pointerKeys(at)) {
    const pugi::xml_node next = place.child(part.c_str());
    if (!next) {
      std::vector<std::string> known;
      for (const pugi::xml_node child : place.children())
        if (child.type() == pugi::node_element) known.emplace_back(child.name());
      return nothingAt(name, at, known);
    }
    place = next;
  }
  if (place == whole) return nothingAt(name, at, {whole.document_element().name()});
  if (!key.empty() && !own.attribute(key.c_str()))
    return base::Error{"merge.key",
                       phrase("The entry for {0} has no \"{1}\".", name, base::presentable(key, 40)),
                       {name, at},
                       phrase("Its key is what tells it from others.")};
  pugi::xml_node same;
  for (const pugi::xml_node child : place.children(own.name())) {
    const bool equal = key.empty() ? written(child) == written(own)
                                   : child.attribute(key.c_str()) &&
                                         std::string_view(child.attribute(key.c_str()).value()) ==
                                             own.attribute(key.c_str()).value();
    if (equal) {
      same = child;
      break;
    }
  }
  if (same) {
    place.insert_copy_after(own, same);
    place.remove_child(same);
  } else {
    place.append_copy(own);
  }
  std::ostringstream out;
  whole.save(out, "  ");
  return out.str();
}

base::Result<std::string> mergedLines(std::string_view file, const std::string& name, const std::string& mark,
                                      const std::string& lines, const std::string& comment) {
  const std::string first = comment + " " + mark + " begins", last = comment + " " + mark + " ends";
  const std::string end = file.find("\r\n") != std::string_view::npos ? "\r\n" : "\n";
  const auto fault = [&](const std::string& says) {
    return base::Error{"merge.mark", says, {name, {}}, phrase("Put the marks of {0} right by hand.", mark)};
  };
  // Lines without their ends, and whether the last one had one.
  const auto split = [](std::string_view text) {
    std::vector<std::string> out;
    for (size_t from = 0; from < text.size();) {
      const size_t stop = std::min(text.find('\n', from), text.size());
      std::string line(text.substr(from, stop - from));
      if (!line.empty() && line.back() == '\r') line.pop_back();
      out.push_back(std::move(line));
      from = stop + 1;
    }
    return out;
  };
  std::vector<std::string> made = split(lines);
  if (std::find(made.begin(), made.end(), first) != made.end() ||
      std::find(made.begin(), made.end(), last) != made.end())
    return base::Error{
        "merge.lines", phrase("What is put into {0} holds its own marks.", name), {name, {}}, {}};
  made.insert(made.begin(), first);
  made.push_back(last);
  std::vector<std::string> all = split(file);
  const auto begins = std::find(all.begin(), all.end(), first), ends = std::find(begins, all.end(), last);
  auto place = all.end();
  if (begins == all.end()) {
    if (std::find(all.begin(), all.end(), last) != all.end())
      return fault(phrase("{0} has the end of what {1} put there, and not its beginning.", name, mark));
  } else {
    if (ends == all.end())
      return fault(phrase("{0} has the beginning of what {1} put there, and not its end.", name, mark));
    if (std::find(ends, all.end(), first) != all.end())
      return fault(phrase("{0} has the marks of {1} twice.", name, mark));
    place = all.erase(begins, ends + 1);
  }
  all.insert(place, made.begin(), made.end());
  std::string out;
  for (const std::string& line : all) out += line + end;
  return out;
}

}  // namespace rakugo::packing
