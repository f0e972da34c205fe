// A demo mod that is examined, and mended by what is found.
#pragma once

#include <gtest/gtest.h>

#include "prepare/edit_steps.h"
#include "support/examined.h"
#include "support/test_folder.h"

namespace rakugo::test {

class MendedMod : public testing::Test {
 protected:
  explicit MendedMod(const char* name)
      : folder_(files_.copyOfMod(name, name)),
        book_(kelpwick()),
        state_(std::move(mod::loadMod(folder_)).value()) {}
  void examine() {
    x_ = examined(
        folder_, [this](mod::ModState& s) { s = state_; }, book_);
  }
  const check::Finding* find(const char* check, const std::string& field = {}) {
    for (const check::Finding& f : x_->findings)
      if (f.check == check && (field.empty() || f.place.field == field)) return &f;
    return nullptr;
  }
  /// Applies the mend of a finding that says that, or its first.
  bool mend(const char* check, const std::string& label = {}) {
    const check::Finding* f = find(check);
    if (f == nullptr) return false;
    for (const check::Mend& m : f->mends)
      if (label.empty() || m.label == label) {
        m.apply(state_);
        examine();
        return true;
      }
    return false;
  }
  const scene::Model& model(const char* name) { return *x_->context.models.at(name).prepared.model; }

  TestFolder files_;
  std::filesystem::path folder_;
  std::shared_ptr<const rulebook::Rulebook> book_;
  mod::ModState state_;
  std::shared_ptr<const check::Examination> x_;
};

}  // namespace rakugo::test
