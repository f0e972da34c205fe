#include "packing/delivery/text_template.h"

#include <kainjow/mustache.hpp>

#include <algorithm>
#include <deque>
#include <map>
#include <optional>

#include "base/phrase.h"
#include "base/text.h"

namespace rakugo::packing {
namespace {

using base::Json;
using base::phrase;
namespace mustache = kainjow::mustache;

// A tag of the template, by the number that stands for it while it is rendered.
struct Tag {
  enum Sort : unsigned char { value, section, inverted } sort = value;
  PlaceholderText text;  ///< of one placeholder; of no piece for "."
  int line = 0;
  size_t body_bytes = 0;  ///< of the template inside a section
};

base::Error atLine(base::Error error, int line) {
  error.place.line = line;
  return error;
}

base::Result<Tag> parseTag(Tag::Sort sort, const std::string& name, int line) {
  Tag out{sort, {}, line, 0};
  if (name == ".") return out;
  if (name.find_first_of("{}") != std::string::npos)
    return atLine(
        {"place.syntax", phrase("\"{0}\" is no name of a value.", base::presentable(name, 60)), {}, {}},
        line);
  auto parsed = parsePlaceholders("{" + name + "}");
  if (!parsed) return atLine(parsed.error(), line);
  out.text = std::move(parsed).value();
  return out;
}

// The template with numbers in place of names, and what those stand for.
struct Numbered {
  std::string text;
  std::vector<Tag> tags;
};

base::Result<Numbered> numbered(std::string_view text) {
  constexpr size_t kMostTags = 20'000, kDeepest = 64;
  struct Open {
    std::string name;
    size_t tag, from;
  };
  Numbered out;
  std::vector<Open> open;
  int line = 1;
  for (size_t i = 0; i < text.size();) {
    if (text[i] != '{' || i + 1 >= text.size() || text[i + 1] != '{') {
      line += text[i] == '\n' ? 1 : 0;
      out.text += text[i++];
      continue;
    }
    const bool whole = i + 2 < text.size() && text[i + 2] == '{';
    const std::string_view closing = whole ? "}}}" : "}}";
    const size_t from = i + closing.size(), end = text.find(closing, from);
    if (end == std::string_view::npos)
      return atLine(
          {"place.syntax", phrase("A tag is opened and not closed."), {}, phrase("Close it with }}.")}, line);
    std::string name(text.substr(from, end - from));
    const int at = line;
    line += static_cast<int>(std::count(name.begin(), name.end(), '\n'));
    i = end + closing.size();
    const auto trim = [](std::string& s) {
      while (!s.empty() && (s.back() == ' ' || s.back() == '\t' || s.back() == '\n' || s.back() == '\r'))
        s.pop_back();
      s.erase(0, std::min(s.find_first_not_of(" \t\r\n"), s.size()));
    };
    trim(name);
    const char sign = name.empty() || whole ? '\0' : name.front();
    if (sign == '!') {
      out.text += "{{!}}";  // a comment that stands alone leaves no line either
      continue;
    }
    if (sign == '>' || sign == '=' || sign == '&')
      return atLine({"place.syntax",
                     phrase("A tag that begins with \"{0}\" is not taken.", std::string(1, sign)),
                     {},
                     phrase("There are values, sections and comments.")},
                    at);
    const bool opens = sign == '#' || sign == '^', closes = sign == '/';
    if (opens || closes) {
      name.erase(0, 1);
      trim(name);
    }
    if (closes) {
      if (open.empty() || open.back().name != name)
        return atLine(
            {"place.section",
             open.empty()
                 ? phrase("The section \"{0}\" is closed and was not opened.", base::presentable(name, 60))
                 : phrase("The section \"{0}\" is closed before \"{1}\".", base::presentable(name, 60),
                          base::presentable(open.back().name, 60)),
             {},
             phrase("Close sections in the order in which they were opened, the last first.")},
            at);
      out.text += "{{/" + std::to_string(open.back().tag) + "}}";
      out.tags[open.back().tag].body_bytes = from - open.back().from;
      open.pop_back();
      continue;
    }
    if (out.tags.size() == kMostTags || open.size() == kDeepest)
      return atLine({"place.too_large", phrase("The template has too many tags."), {}, {}}, at);
    RAKUGO_ASSIGN(Tag tag, parseTag(sign == '#'   ? Tag::section
                                    : sign == '^' ? Tag::inverted
                                                  : Tag::value,
                                    name, at));
    const std::string number = std::to_string(out.tags.size());
    if (opens) open.push_back({name, out.tags.size(), i});
    out.tags.push_back(std::move(tag));
    out.text += whole ? "{{{" + number + "}}}" : "{{" + (opens ? std::string(1, sign) : "") + number + "}}";
  }
  if (!open.empty())
    return atLine({"place.section",
                   phrase("The section \"{0}\" is not closed.", base::presentable(open.back().name, 60)),
                   {},
                   phrase("Close it with its name after a slash.")},
                  out.tags[open.back().tag].line);
  return out;
}

bool isNothing(const Json& value) { return isEmptyValue(value) || value == Json(false); }

// Takes what is rendered, as streams do, up to a limit.
struct Written {
  size_t most = 0;
  std::string text;
  Written& operator<<(const std::string& part);
};

// Stops rendering; caught where that was begun.
struct Stop {};

Written& Written::operator<<(const std::string& part) {
  if (part.size() > most - text.size()) throw Stop();
  text += part;
  return *this;
}

// What the renderer asks for values by the numbers of tags. It keeps all that it hands out until it is done.
class Values : public mustache::basic_context<std::string> {
 public:
  Values(const std::vector<Tag>& tags, const Scope& scope, const FillLimits& limits)
      : tags_(tags), limits_(limits) {
    scopes_.push_back(&scope);
  }

  void push(const mustache::data* data) override {
    const auto entry = entries_.find(data);
    if (entry == entries_.end()) {
      scopes_.push_back(scopes_.back());  // a section that is shown once changes nothing
      return;
    }
    const Json& value = *entry->second.value;
    Json& counted = counted_.emplace_back(Json{{"number", entry->second.number}});
    if (!value.is_object()) counted["item"] = value;
    const Scope& outer = made_.emplace_back(counted, scopes_.back());
    scopes_.push_back(value.is_object() ? &made_.emplace_back(value, &outer) : &outer);
  }
  void pop() override { scopes_.pop_back(); }

  const mustache::data* get(const std::string& number) const override {
    const Tag& tag = tags_[std::stoul(number)];
    auto value = valueOf(tag);
    if (!value) return failed(value.error(), tag);
    if (++given_ > limits_.values) return failed(tooLarge(), tag);
    if (tag.sort == Tag::value) {
      const auto text = printedValue(*value);
      if (!text) return failed(text.error(), tag);
      bytes_ += text->size();
      if (bytes_ > limits_.bytes) return failed(tooLarge(), tag);
      return &handed_.emplace_back(*text);
    }
    // A line is kept in memory until it is whole: what a section may write is counted before it does.
    const size_t times = tag.sort == Tag::section && value->is_array() ? value->size() : 1;
    given_ += times;
    if (given_ > limits_.values || (tag.body_bytes > 0 && times > (limits_.bytes - bytes_) / tag.body_bytes))
      return failed(tooLarge(), tag);
    bytes_ += times * tag.body_bytes;
    if (isNothing(*value)) return &handed_.emplace_back(false);
    if (tag.sort == Tag::inverted || !value->is_array()) return &handed_.emplace_back(true);
    // The entries live as long as this does.
    const Json& list = lists_.emplace_back(std::move(*value));
    mustache::data& entries = handed_.emplace_back(mustache::data::type::list);
    for (size_t i = 0; i < list.size(); ++i) entries.push_back(mustache::data(true));
    size_t i = 0;
    for (const mustache::data& one : entries.list_value()) {
      entries_[&one] = {&list[i], i + 1};
      ++i;
    }
    return &entries;
  }
  const mustache::data* get_partial(const std::string&) const override { return nullptr; }

  [[nodiscard]] const std::optional<base::Error>& error() const { return error_; }
  static base::Error tooLarge() {
    return {"place.too_large",
            phrase("What this writes grows without bounds."),
            {},
            phrase("Write fewer lists inside lists.")};
  }

 private:
  base::Result<Json> valueOf(const Tag& tag) const {
    if (tag.text.pieces.empty()) return scopes_.back()->valueOf("item");
    return filledValue(tag.text, *scopes_.back());
  }
  const mustache::data* failed(base::Error error, const Tag& tag) const {
    error_ = atLine(std::move(error), tag.line);
    throw Stop();
  }

  struct Entry {
    const Json* value = nullptr;
    size_t number = 0;
  };
  const std::vector<Tag>& tags_;
  const FillLimits limits_;
  std::vector<const Scope*> scopes_;
  std::deque<Scope> made_;
  std::deque<Json> counted_;
  // The renderer asks a constant; deques keep what is in them where it is.
  mutable std::deque<mustache::data> handed_;
  mutable std::deque<Json> lists_;
  mutable std::map<const mustache::data*, Entry> entries_;
  mutable size_t given_ = 0, bytes_ = 0;
  mutable std::optional<base::Error> error_;
};

std::string inXml(const std::string& value) {
  std::string out;
  for (const char c : value) {
    const auto code = static_cast<unsigned char>(c);
    if (c == '&')
      out += "&amp;";
    else if (c == '<')
      out += "&lt;";
    else if (c == '>')
      out += "&gt;";
    else if (c == '"')
      out += "&quot;";
    else if (c == '\'')
      out += "&apos;";
    else if (code >= 0x20 || c == '\t' || c == '\n')
      out += c;  // XML 1.0 has no other control codes
  }
  return out;
}

std::string inIni(const std::string& value) {
  std::string out = value;
  for (char& c : out)
    if (static_cast<unsigned char>(c) < 0x20 || c == 0x7F) c = ' ';
  return out;
}

std::string inCsv(const std::string& value) {
  if (value.find_first_of(",;\"\r\n\t") == std::string::npos) return value;
  std::string out = "\"";
  for (const char c : value) out += c == '"' ? "\"\"" : std::string(1, c);
  return out + "\"";
}

}  // namespace

TextKind textKindOf(std::string_view path) {
  const std::string lower = base::lowerAscii(path);
  if (lower.ends_with(".xml")) return TextKind::xml;
  if (lower.ends_with(".ini") || lower.ends_with(".cfg")) return TextKind::ini;
  return lower.ends_with(".csv") ? TextKind::csv : TextKind::plain;
}

base::Result<std::string> filledTemplate(std::string_view text, const Scope& scope, TextKind kind,
                                         const FillLimits& limits) {
  RAKUGO_ASSIGN(const Numbered made, numbered(text));
  mustache::mustache renderer(made.text);
  if (!renderer.is_valid()) return base::Error{"place.syntax", renderer.error_message(), {}, {}};
  renderer.set_custom_escape([kind](const std::string& value) {
    return kind == TextKind::xml   ? inXml(value)
           : kind == TextKind::ini ? inIni(value)
           : kind == TextKind::csv ? inCsv(value)
                                   : value;
  });
  Values values(made.tags, scope, limits);
  Written out{limits.bytes, {}};
  try {
    renderer.render(values, out);
  } catch (const Stop&) {
    return values.error() ? *values.error() : Values::tooLarge();
  } catch (const std::exception& fault) {
    return base::Error{"place.syntax", fault.what(), {}, {}};
  }
  return std::move(out.text);
}

}  // namespace rakugo::packing
