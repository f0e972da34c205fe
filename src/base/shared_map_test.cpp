#include "base/shared_map.h"

#include <gtest/gtest.h>

#include <thread>
#include <vector>

namespace rakugo::base {
namespace {

// A value that counts how often it is compared.
struct Counted {
  int number = 0;
  static inline int compared = 0;
  bool operator==(const Counted& other) const { return ++compared, number == other.number; }
};

TEST(SharedMap, ReadsAsAMapDoes) {
  const SharedMap<int> map{{"b", 2}, {"a", 1}};
  std::string said;
  for (const auto& [name, value] : map) said += name + std::to_string(value);
  EXPECT_EQ(said, "a1b2");
  EXPECT_EQ(map.find("b")->second, 2);
  EXPECT_EQ(map.find("c"), map.end());
  EXPECT_EQ(std::prev(map.end())->first, "b");
  EXPECT_THROW((void)map.at("c"), std::out_of_range);
}

TEST(SharedMap, AChangeIsSeenInOneCopyAlone) {
  SharedMap<std::string> first{{"a", "one"}, {"b", "two"}};
  SharedMap<std::string> second = first;
  EXPECT_EQ(&first.find("a")->second, &second.find("a")->second) << "copies share";
  second["a"] = "three";
  second["c"] = "four";
  EXPECT_EQ(std::as_const(first).at("a"), "one");
  EXPECT_FALSE(first.contains("c"));
  EXPECT_EQ(&first.find("b")->second, &second.find("b")->second) << "what was not written to is still shared";
  const std::string* before = &second.at("a");
  second.at("a") += "!";
  EXPECT_EQ(&second.find("a")->second, before) << "a value of one map alone is not copied";
  EXPECT_EQ(*before, "three!");
}

TEST(SharedMap, SharedValuesAreNotCompared) {
  SharedMap<Counted> first{{"a", {1}}, {"b", {2}}};
  SharedMap<Counted> second = first;
  second["b"].number = 2;
  Counted::compared = 0;
  EXPECT_TRUE(first == second);
  EXPECT_EQ(Counted::compared, 1);
  EXPECT_TRUE(first.same(second, "a"));
  EXPECT_EQ(Counted::compared, 1);
  EXPECT_TRUE(first.same(second, "none")) << "neither has it";
  second["c"].number = 3;
  EXPECT_FALSE(first.same(second, "c"));
  EXPECT_FALSE(first == second);
  second.erase("c");
  second["b"].number = 5;
  EXPECT_FALSE(first.same(second, "b"));
}

TEST(SharedMap, ValuesAreRenamedSharedAndTakenOut) {
  SharedMap<int> first{{"a", 1}, {"b", 2}};
  EXPECT_FALSE(first.rename("a", "b")) << "taken";
  EXPECT_FALSE(first.rename("c", "d")) << "there is none";
  EXPECT_TRUE(first.rename("a", "z"));
  EXPECT_EQ(first, (SharedMap<int>{{"b", 2}, {"z", 1}}));
  EXPECT_FALSE(first.emplace("b", 7).second);
  EXPECT_EQ(std::as_const(first).at("b"), 2);
  SharedMap<int> second;
  second.share(first, "b");
  second.share(first, "none");
  EXPECT_EQ(second.size(), 1U);
  EXPECT_EQ(&second.find("b")->second, &first.find("b")->second);
  EXPECT_EQ(second.erase(second.find("b")), second.end());
  EXPECT_TRUE(second.empty());
}

TEST(SharedMap, AllValuesAreChangedOrSomeTakenOut) {
  SharedMap<int> first{{"a", 1}, {"b", 2}, {"c", 3}};
  SharedMap<int> second = first;
  second.eraseIf([](const std::string& name, int value) { return name == "a" || value == 3; });
  EXPECT_EQ(second, (SharedMap<int>{{"b", 2}}));
  second.changeEach([](const std::string&, int& value) { value *= 10; });
  EXPECT_EQ(second, (SharedMap<int>{{"b", 20}}));
  EXPECT_EQ(first, (SharedMap<int>{{"a", 1}, {"b", 2}, {"c", 3}}));
}

TEST(SharedMap, CopiesAreWrittenInDifferentThreads) {
  SharedMap<std::vector<int>> whole;
  for (int i = 0; i < 20; ++i) whole["v" + std::to_string(i)] = {i};
  std::vector<std::thread> threads;
  std::vector<SharedMap<std::vector<int>>> copies(4, whole);
  for (size_t t = 0; t < copies.size(); ++t)
    threads.emplace_back([&, t] {
      for (int round = 0; round < 200; ++round)
        for (int i = 0; i < 20; ++i) copies[t]["v" + std::to_string(i)].push_back(static_cast<int>(t));
    });
  for (std::thread& thread : threads) thread.join();
  for (const auto& [name, values] : whole) EXPECT_EQ(values.size(), 1U);
  for (size_t t = 0; t < copies.size(); ++t)
    for (const auto& [name, values] : copies[t]) {
      ASSERT_EQ(values.size(), 201U);
      EXPECT_EQ(values.back(), static_cast<int>(t));
    }
}

}  // namespace
}  // namespace rakugo::base
