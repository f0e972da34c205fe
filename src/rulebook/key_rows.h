// Makes rows of keys from the members that hold their values. What a key means when it is absent is what the
// member of a new owner holds.
#pragma once

#include <type_traits>

#include "rulebook/key.h"
#include "rulebook/rulebook.h"

namespace rakugo::rulebook {

/// A row while it is written: each function sets one thing and hands the row on.
struct KeyRow : Key {
  KeyRow says(std::string sentence) && { return means = std::move(sentence), std::move(*this); }
  KeyRow in(std::string of) && { return unit = std::move(of), std::move(*this); }
  KeyRow between(double low, double high) && { return least = low, most = high, std::move(*this); }
  KeyRow above(double low, double high) && { return above_least = true, std::move(*this).between(low, high); }
  KeyRow needed(base::Json such_as = nullptr) && {
    return required = true, example = std::move(such_as), std::move(*this);
  }
  KeyRow longest(size_t bytes) && { return most_length = bytes, std::move(*this); }
  KeyRow entries(size_t fewest, size_t most_of_them) && {
    return least_entries = fewest, most_entries = most_of_them, std::move(*this);
  }
  KeyRow heldBy(std::vector<std::string> ids) && { return checks = std::move(ids), std::move(*this); }
  KeyRow notCalled(std::vector<std::string> words) && { return slips = std::move(words), std::move(*this); }
};

namespace rows {

inline KeyRow row(const char* name, KeyType type) {
  KeyRow out;
  out.name = name;
  out.type = type;
  return out;
}

/// Any type whose value is the member's as it stands.
template <class Owner, class Value>
KeyRow plain(const char* name, KeyType type, Value Owner::*member) {
  KeyRow out = row(name, type);
  out.store = [member](void* owner, const base::Json& value) {
    static_cast<Owner*>(owner)->*member = value.get<Value>();
  };
  if constexpr (std::is_arithmetic_v<Value>) out.initial = Owner{}.*member;
  return out;
}

template <class Owner>
KeyRow text(const char* name, std::string Owner::*member, KeyType type = KeyType::text) {
  KeyRow out = plain(name, type, member);
  if (const std::string initial = Owner{}.*member; !initial.empty()) out.initial = initial;
  return out;
}
template <class Owner>
KeyRow title(std::string Owner::*member) {
  return text("title", member).needed("Thing").notCalled({"name", "label", "caption"});
}
template <class Owner>
KeyRow help(std::string Owner::*member) {
  return text("help", member)
      .longest(500)
      .says("A sentence for the person who prepares it.")
      .notCalled({"description", "hint", "tooltip", "info"});
}
template <class Owner>
KeyRow id(std::string Owner::*member) {
  return text("id", member, KeyType::id).needed("thing").notCalled({"key", "name"});
}
/// What the game reads in place of the id.
template <class Owner>
KeyRow word(std::string Owner::*member) {
  return text("word", member, KeyType::name)
      .says("The exact word that the game reads, where it is another than the id.")
      .notCalled({"game_name", "exact"});
}
template <class Owner>
KeyRow reference(const char* name, const char* list, std::string Owner::*member) {
  KeyRow out = text(name, member, KeyType::reference);
  out.refers_to = list;
  return out;
}
template <class Owner>
KeyRow flag(const char* name, bool Owner::*member) {
  return plain(name, KeyType::flag, member);
}
template <class Owner, class Whole>
KeyRow whole(const char* name, Whole Owner::*member) {
  return plain(name, KeyType::whole, member);
}
template <class Owner>
KeyRow number(const char* name, double Owner::*member) {
  return plain(name, KeyType::number, member);
}
template <class Owner>
KeyRow number(const char* name, std::optional<double> Owner::*member) {
  KeyRow out = row(name, KeyType::number);
  out.store = [member](void* owner, const base::Json& value) {
    static_cast<Owner*>(owner)->*member = value.get<double>();
  };
  return std::move(out).between(-1e15, 1e15);
}
template <class Owner>
KeyRow band(const char* name, std::optional<Band> Owner::*member) {
  KeyRow out = row(name, KeyType::band);
  out.store = [member](void* owner, const base::Json& value) {
    static_cast<Owner*>(owner)->*member = Band{value[0].get<double>(), value[1].get<double>()};
  };
  return out;
}
template <class Owner, class Number, size_t N>
KeyRow numbers(const char* name, std::array<Number, N> Owner::*member) {
  KeyRow out = row(name, KeyType::numbers);
  out.count = N;
  out.store = [member](void* owner, const base::Json& value) {
    for (size_t i = 0; i < N; ++i) (static_cast<Owner*>(owner)->*member)[i] = value[i].get<Number>();
  };
  const auto initial = Owner{}.*member;
  for (const Number one : initial) out.initial.push_back(one);
  return out;
}
template <class Owner, class Number, size_t N>
KeyRow numbers(const char* name, std::optional<std::array<Number, N>> Owner::*member) {
  KeyRow out = row(name, KeyType::numbers);
  out.count = N;
  out.store = [member](void* owner, const base::Json& value) {
    std::array<Number, N> given{};
    for (size_t i = 0; i < N; ++i) given[i] = value[i].get<Number>();
    static_cast<Owner*>(owner)->*member = given;
  };
  return out;
}
template <class Owner, class Enum>
KeyRow choice(const char* name, std::vector<std::pair<std::string, Enum>> named, Enum Owner::*member) {
  KeyRow out = row(name, KeyType::choice);
  for (const auto& [word, value] : named) {
    out.choices.push_back(word);
    if (value == Owner{}.*member) out.initial = word;
  }
  out.store = [member, named](void* owner, const base::Json& value) {
    for (const auto& [word, meant] : named)
      if (value == word) static_cast<Owner*>(owner)->*member = meant;
  };
  return out;
}
/// A choice among texts that the member holds as they are.
template <class Owner>
KeyRow oneOf(const char* name, std::vector<std::string> words, std::string Owner::*member) {
  KeyRow out = text(name, member, KeyType::choice);
  out.choices = std::move(words);
  return out;
}
template <class Owner>
KeyRow words(const char* name, std::vector<std::string> Owner::*member) {
  return plain(name, KeyType::words, member).entries(0, 64);
}
template <class Owner>
KeyRow hints(std::vector<std::string> Owner::*member) {
  return words("hints", member).longest(40).notCalled({"aliases", "synonyms", "keywords", "names"});
}
template <class Owner>
KeyRow value(const char* name, base::Json Owner::*member) {
  KeyRow out = row(name, KeyType::value).longest(2000);
  out.store = [member](void* owner, const base::Json& given) { static_cast<Owner*>(owner)->*member = given; };
  return out;
}
/// A file in the rulebook.
template <class Owner>
KeyRow file(const char* name, std::string Owner::*member) {
  return text(name, member, KeyType::path).longest(240).notCalled({"path", "model", "mesh", "glb"});
}
/// An object whose members are stored in the owner itself.
inline KeyRow group(const char* name, KeyTable& (*members)()) {
  KeyRow out = row(name, KeyType::object);
  out.members = members;
  out.inside = [](void* owner) { return owner; };
  return out;
}
template <class Owner, class Value>
KeyRow object(const char* name, Value Owner::*member, KeyTable& (*members)()) {
  KeyRow out = group(name, members);
  out.inside = [member](void* owner) -> void* { return &(static_cast<Owner*>(owner)->*member); };
  return out;
}
template <class Owner, class Value>
KeyRow list(const char* name, std::vector<Value> Owner::*member, KeyTable& (*members)()) {
  KeyRow out = row(name, KeyType::list).entries(0, 200);
  out.members = members;
  out.inside = [member](void* owner) -> void* {
    return &(static_cast<Owner*>(owner)->*member).emplace_back();
  };
  return out;
}
/// What the game does where a rule is broken, for one rule.
template <class Owner>
KeyRow outcome(const char* name, std::optional<Outcome> Owner::*member) {
  KeyRow out = row(name, KeyType::choice);
  out.choices = outcomeNames();
  out.store = [member](void* owner, const base::Json& value) {
    static_cast<Owner*>(owner)->*member = outcomeFromName(value.get<std::string>());
  };
  return out;
}
/// The same for rules by check id.
template <class Owner>
KeyRow outcomes(std::map<std::string, Outcome> Owner::*member) {
  KeyRow out = row("outcomes", KeyType::by_check);
  out.choices = outcomeNames();
  out.store = [member](void* owner, const base::Json& value) {
    for (const auto& [check, word] : value.items())
      (static_cast<Owner*>(owner)->*member)[check] = *outcomeFromName(word.template get<std::string>());
  };
  return out;
}
/// A key that Rakugo itself does not read: its value lies in the owner's `further`.
template <class Owner>
KeyRow further(const char* name, KeyType type) {
  KeyRow out = row(name, type);
  out.store = [key = std::string(name)](void* owner, const base::Json& value) {
    static_cast<Owner*>(owner)->further[key] = value;
  };
  return out;
}

}  // namespace rows
}  // namespace rakugo::rulebook
