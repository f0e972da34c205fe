// A step as a sentence: its row's template with the values in place.
#include <string_view>

#include "base/phrase.h"
#include "base/text.h"
#include "prepare/step.h"

namespace rakugo::prepare {
namespace {

using base::Json;

// Whether a value is there and says something.
bool says(const Json& values, const std::string& key) {
  const Json* value = base::memberOf(values, key.c_str());
  if (value == nullptr || value->is_null()) return false;
  if (value->is_string()) return !value->get<std::string>().empty();
  return !((value->is_array() || value->is_object()) && value->empty());
}

// The condition before the bar of a bracket: "key", "!key" or "key=value".
bool holds(std::string_view condition, const Json& values) {
  if (condition.starts_with('!')) return !says(values, std::string(condition.substr(1)));
  const size_t equals = condition.find('=');
  if (equals == std::string_view::npos) return says(values, std::string(condition));
  const Json* value = base::memberOf(values, std::string(condition.substr(0, equals)).c_str());
  return value != nullptr && *value == Json(std::string(condition.substr(equals + 1)));
}

class Sentence {
 public:
  Sentence(const StepKind& kind, const Json& values, const scene::Model* before,
           const rulebook::Rulebook* book)
      : kind_(kind), values_(values), before_(before), book_(book) {}

  std::vector<Word> words() {
    const std::string whole = base::phrase(kind_.sentence);
    std::string_view rest = whole;
    while (!rest.empty()) {
      const size_t open = rest.find('[');
      add(rest.substr(0, open));
      if (open == std::string_view::npos) break;
      const size_t bar = rest.find('|', open), close = rest.find(']', bar);
      if (holds(rest.substr(open + 1, bar - open - 1), values_)) add(rest.substr(bar + 1, close - bar - 1));
      rest.remove_prefix(close + 1);
    }
    return std::move(words_);
  }

 private:
  // Text and values, without brackets.
  void add(std::string_view text) {
    while (!text.empty()) {
      const size_t open = text.find('{');
      plain(text.substr(0, open));
      if (open == std::string_view::npos) return;
      const size_t close = text.find('}', open);
      if (const Parameter* p = kind_.find(std::string(text.substr(open + 1, close - open - 1)))) value(*p);
      text.remove_prefix(close + 1);
    }
  }

  void plain(std::string_view text) {
    if (text.empty()) return;
    if (!words_.empty() && words_.back().value_key.empty())
      words_.back().text += text;
    else
      words_.push_back({std::string(text), {}, Editor::none, {}});
  }

  void value(const Parameter& p) {
    const Json* given = base::memberOf(values_, p.key.c_str());
    Choices choices = choicesOf(p, before_, book_);
    const Editor editor = editorOf(p.type);
    std::string text = valueText(p, given != nullptr ? *given : p.initial, choices);
    if (editor == Editor::none) return plain(text);
    words_.push_back({std::move(text), p.key, editor, std::move(choices)});
  }

  const StepKind& kind_;
  const Json& values_;
  const scene::Model* before_;
  const rulebook::Rulebook* book_;
  std::vector<Word> words_;
};

}  // namespace

std::vector<Word> sentence(const mod::StepDoc& step, const scene::Model* before,
                           const rulebook::Rulebook* book) {
  const StepKind* kind = findStepKind(step.kind);
  if (kind == nullptr)
    return {{base::phrase("A step \"{0}\" that this Rakugo does not know", base::presentable(step.kind, 40)),
             {},
             {},
             {}}};
  return Sentence(*kind, step.values, before, book).words();
}

std::string sentenceText(const mod::StepDoc& step, const scene::Model* before,
                         const rulebook::Rulebook* book) {
  std::string out;
  for (const Word& word : sentence(step, before, book)) out += word.text;
  return out;
}

}  // namespace rakugo::prepare
