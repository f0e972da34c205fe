// The model that a command was given, as a file or as a mod's prepared one.
#pragma once

#include <memory>
#include <string>
#include <vector>

#include "base/result.h"
#include "scene/model.h"
#include "scene/named_places.h"

namespace rakugo::tool {

/// A model, with what is known of it beside its shape.
struct Subject {
  std::string name;  ///< of the model in its mod; empty for a file
  std::shared_ptr<const scene::Model> model;
  double unit_m = 1;
  std::vector<scene::NamedPlace> points;  ///< attachment points of a mod's model, empties of a file
};

/// "FILE", "MOD" (all its models) or "MOD:MODEL". A file's lengths are what it says of its unit, or metres.
/// Errors: those of the reader, model.unknown.
base::Result<std::vector<Subject>> subjectsOf(const std::string& text);
/// The same where there is to be one. Errors: also model.which.
base::Result<Subject> subjectOf(const std::string& text);

}  // namespace rakugo::tool
