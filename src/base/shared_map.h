// A map whose copies share their values.
#pragma once

#include <atomic>
#include <initializer_list>
#include <iterator>
#include <map>
#include <memory>
#include <string>
#include <string_view>
#include <utility>

namespace rakugo::base {

/// A sorted map from names to values of type V. A copy costs one pointer for each value, and comparing two
/// maps looks into those values only that they do not share. Reading never copies. `operator[]`, and `at` of
/// a map that is not const, give a value to write to: it is copied first where another map shares it, so that
/// no other map sees the change. References stay valid until the value is written to, or taken out, in this
/// map.
///
/// Copies may be read, written and destroyed in different threads at once; one map may not be written to
/// while another thread uses that same map.
template <class V>
class SharedMap {
  using Values = std::map<std::string, std::shared_ptr<V>, std::less<>>;

 public:
  using key_type = std::string;
  using mapped_type = V;
  using value_type = std::pair<const std::string, V>;
  using size_type = size_t;

  /// Goes over names and values, to read them.
  class const_iterator {
   public:
    using iterator_category = std::bidirectional_iterator_tag;
    using value_type = SharedMap::value_type;
    using difference_type = std::ptrdiff_t;
    using reference = std::pair<const std::string&, const V&>;
    struct pointer {
      reference both;
      const reference* operator->() const { return &both; }
    };

    const_iterator() = default;
    reference operator*() const { return {at_->first, *at_->second}; }
    pointer operator->() const { return {**this}; }
    const_iterator& operator++() { return ++at_, *this; }
    const_iterator& operator--() { return --at_, *this; }
    const_iterator operator++(int) { return const_iterator(at_++); }
    const_iterator operator--(int) { return const_iterator(at_--); }
    bool operator==(const const_iterator&) const = default;

   private:
    friend SharedMap;
    explicit const_iterator(typename Values::const_iterator at) : at_(at) {}
    typename Values::const_iterator at_;
  };
  using iterator = const_iterator;

  SharedMap() = default;
  SharedMap(std::initializer_list<value_type> values) {
    for (const value_type& one : values) emplace(one.first, one.second);
  }

  [[nodiscard]] const_iterator begin() const { return const_iterator(values_.begin()); }
  [[nodiscard]] const_iterator end() const { return const_iterator(values_.end()); }
  [[nodiscard]] size_t size() const { return values_.size(); }
  [[nodiscard]] bool empty() const { return values_.empty(); }
  [[nodiscard]] const_iterator find(std::string_view name) const {
    return const_iterator(values_.find(name));
  }
  [[nodiscard]] size_t count(std::string_view name) const { return values_.count(name); }
  [[nodiscard]] bool contains(std::string_view name) const { return values_.contains(name); }
  /// Throws std::out_of_range where there is no such name, as std::map does.
  [[nodiscard]] const V& at(const std::string& name) const { return *values_.at(name); }

  /// To write to; null where there is no such name.
  [[nodiscard]] V* change(const std::string& name) {
    const auto found = values_.find(name);
    return found == values_.end() ? nullptr : &own(found->second);
  }
  /// To write to. Throws std::out_of_range where there is no such name.
  [[nodiscard]] V& at(const std::string& name) { return own(values_.at(name)); }
  /// The first by name, to write to. The map must not be empty.
  [[nodiscard]] V& front() { return own(values_.begin()->second); }
  /// To write to; a new value where there is none of that name.
  V& operator[](const std::string& name) {
    std::shared_ptr<V>& value = values_[name];
    if (value == nullptr) value = std::make_shared<V>();
    return own(value);
  }
  /// Puts a value in unless the name is taken; where it is, and whether it was put in.
  std::pair<const_iterator, bool> emplace(std::string name, V value) {
    const auto [at, fresh] = values_.try_emplace(std::move(name));
    if (fresh) at->second = std::make_shared<V>(std::move(value));
    return {const_iterator(at), fresh};
  }
  void insert_or_assign(std::string name, V value) {
    values_.insert_or_assign(std::move(name), std::make_shared<V>(std::move(value)));
  }
  /// Puts the value of that name in `other` in here too, shared; does nothing where there is none.
  void share(const SharedMap& other, const std::string& name) {
    if (const auto found = other.values_.find(name); found != other.values_.end())
      values_.insert_or_assign(name, found->second);
  }
  /// Gives a value another name; false where there is none, or where the other name is taken.
  bool rename(const std::string& name, const std::string& other) {
    const auto found = values_.find(name);
    if (found == values_.end() || values_.contains(other)) return false;
    auto node = values_.extract(found);
    node.key() = other;
    values_.insert(std::move(node));
    return true;
  }
  size_t erase(const std::string& name) { return values_.erase(name); }
  const_iterator erase(const_iterator at) { return const_iterator(values_.erase(at.at_)); }
  void clear() { values_.clear(); }
  /// Takes out all for which `is_out(name, value)`.
  template <class Predicate>
  void eraseIf(Predicate is_out) {
    std::erase_if(values_, [&](const auto& one) { return is_out(one.first, std::as_const(*one.second)); });
  }
  /// Calls `change(name, value)` for all, with values to write to.
  template <class Change>
  void changeEach(Change change) {
    for (auto& [name, value] : values_) change(name, own(value));
  }

  /// Whether both maps, or neither, have that name, with an equal value. Values that are shared are not
  /// looked into.
  [[nodiscard]] bool same(const SharedMap& other, const std::string& name) const {
    const auto here = values_.find(name), there = other.values_.find(name);
    if (here == values_.end() || there == other.values_.end())
      return here == values_.end() && there == other.values_.end();
    return sameValue(here->second, there->second);
  }
  bool operator==(const SharedMap& other) const {
    return std::equal(
        values_.begin(), values_.end(), other.values_.begin(), other.values_.end(),
        [](const auto& a, const auto& b) { return a.first == b.first && sameValue(a.second, b.second); });
  }

 private:
  static bool sameValue(const std::shared_ptr<V>& a, const std::shared_ptr<V>& b) {
    return a == b || *a == *b;
  }
  static V& own(std::shared_ptr<V>& value) {
    if (value.use_count() != 1)
      value = std::make_shared<V>(*value);
    else  // whoever shared it last may have read it in another thread
      std::atomic_thread_fence(std::memory_order_acquire);
    return *value;
  }

  Values values_;
};

}  // namespace rakugo::base
