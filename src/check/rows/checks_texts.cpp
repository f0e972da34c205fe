// Checks of the texts that the game looks up by their ids.
#include <algorithm>
#include <set>

#include "base/text.h"
#include "check/checks.h"
#include "prepare/objects/text_ids.h"

namespace rakugo::check {
namespace {

std::string documentOf(const std::string& language) { return "texts/" + language + ".json"; }

// Ids that no object names, in any language.
std::vector<std::string> unusedTexts(const Context& context,
                                     const std::map<std::string, prepare::TextUse>& named) {
  std::set<std::string> out;
  for (const auto& [language, doc] : context.mod->texts)
    for (const auto& [id, text] : doc.texts)
      if (named.count(id) == 0) out.insert(id);
  return {out.begin(), out.end()};
}

std::string titleOf(const rulebook::Rulebook& book, const std::string& language) {
  for (const rulebook::Language& one : book.languages)
    if (one.id == language) return one.title;
  return base::presentable(language, 40);
}

// A text that is named has to be there in the language that is shown where another has none.
void checkTextMissing(const Context& context, const CheckRow& row, Findings& out) {
  if (context.book->languages.empty()) return;
  const rulebook::Language& first = context.book->languages.front();
  const auto named = prepare::namedTexts(*context.book, *context.mod);
  const std::vector<std::string> unused = unusedTexts(context, named);
  for (const auto& [id, use] : named) {
    if (prepare::textIn(*context.mod, first.id, id) != nullptr) continue;
    Finding f = begin(context, row,
                      phrase("{0} of {1} names the text \"{2}\", which is not there in {3}.", use.title,
                             use.object, base::presentable(id, 60), first.title));
    f.place.object = use.object;
    f.place.document = "objects/" + use.object + ".object.json";
    f.place.field = use.field;
    f.measured = phrase("no text");
    f.expected = phrase("a text in {0}", first.title);
    if (const std::string near = base::nearMiss(id, unused); !near.empty())
      f.mends.push_back({phrase("Name the text {0} that is there", near),
                         [object = use.object, id = id, near, book = context.book](mod::ModState& mod) {
                           if (mod.objects.count(object) != 0)
                             prepare::renameTexts(*book, mod.objects[object], [&](const std::string& text) {
                               return text == id ? near : text;
                             });
                         }});
    out.push_back(std::move(f));
  }
}

void checkTextUntranslated(const Context& context, const CheckRow& row, Findings& out) {
  const auto named = prepare::namedTexts(*context.book, *context.mod);
  for (size_t i = 1; i < context.book->languages.size(); ++i) {
    const rulebook::Language& language = context.book->languages[i];
    // Whoever brings no text in a language does not speak it.
    if (context.mod->texts.count(language.id) == 0) continue;
    std::vector<std::string> missing;
    for (const auto& [id, use] : named)
      if (prepare::textIn(*context.mod, language.id, id) == nullptr) missing.push_back(id);
    if (missing.empty()) continue;
    Finding f =
        begin(context, row,
              phrase("{0} not there in {1}: {2}.",
                     missing.size() == 1 ? phrase("A text is") : phrase("{0} texts are", missing.size()),
                     language.title, base::listText(missing, 6)));
    f.place.document = documentOf(language.id);
    f.measured = std::to_string(named.size() - missing.size());
    f.expected = std::to_string(named.size());
    out.push_back(std::move(f));
  }
}

void checkTextLanguage(const Context& context, const CheckRow& row, Findings& out) {
  std::vector<std::string> known;
  for (const rulebook::Language& one : context.book->languages) known.push_back(one.id);
  for (const auto& [language, doc] : context.mod->texts) {
    if (std::find(known.begin(), known.end(), language) != known.end()) continue;
    Finding f = begin(context, row,
                      known.empty() ? phrase("{0} brings texts in \"{1}\"; the game takes none from mods.",
                                             context.mod->card.title, base::presentable(language, 40))
                                    : phrase("{0} brings texts in \"{1}\", which the game does not speak.",
                                             context.mod->card.title, base::presentable(language, 40)));
    f.place.document = documentOf(language);
    f.measured = base::presentable(language, 40);
    f.expected = base::listText(known, 12);
    // By another name of the same: "en" for "en-GB", "EN" for "en".
    for (const std::string& one : known) {
      const std::string a = base::lowerAscii(language), b = base::lowerAscii(one);
      const bool same = a == b || a.starts_with(b + "-") || b.starts_with(a + "-") ||
                        a.starts_with(b + "_") || b.starts_with(a + "_");
      if (!same || context.mod->texts.count(one) != 0) continue;
      f.mends.push_back(
          {phrase("It is {0}", titleOf(*context.book, one)),
           [language = language, one](mod::ModState& mod) { mod.texts.rename(language, one); }});
    }
    out.push_back(std::move(f));
  }
}

void checkTextUnused(const Context& context, const CheckRow& row, Findings& out) {
  if (context.book->languages.empty()) return;
  const auto named = prepare::namedTexts(*context.book, *context.mod);
  for (const std::string& id : unusedTexts(context, named)) {
    std::string language;
    for (const auto& [one, doc] : context.mod->texts)
      if (language.empty() && doc.texts.count(id) != 0) language = one;
    Finding f = begin(context, row,
                      phrase("Nothing names the text \"{0}\"; it is not built.", base::presentable(id, 60)));
    f.place.document = documentOf(language);
    f.place.field = id;
    f.measured = base::presentable(id, 60);
    out.push_back(std::move(f));
  }
}

}  // namespace

std::vector<CheckRow> textChecks() {
  using S = Severity;
  return {{"text.missing",
           841,
           S::shows,
           Station::objects,
           {"mod.documents"},
           "A text that is named and not there",
           "Players read its id in place of the text.",
           "Write the text, or name one that is there.",
           checkTextMissing},
          {"text.language",
           842,
           S::tidy,
           Station::objects,
           {"mod.documents"},
           "Texts in a language that the game does not speak",
           "Nobody reads them.",
           "Call the language as the game does, or take its texts out.",
           checkTextLanguage},
          {"text.untranslated",
           843,
           S::tidy,
           Station::objects,
           {"mod.documents"},
           "Texts that are missing in a language",
           "Players of that language read some texts in another one.",
           "Write them in this language too.",
           checkTextUntranslated},
          {"text.unused",
           844,
           S::tidy,
           Station::objects,
           {"mod.documents"},
           "A text that nothing names",
           "It is left out of what is built; often its id was meant otherwise.",
           "Let a value name it, or take it out.",
           checkTextUnused}};
}

}  // namespace rakugo::check
