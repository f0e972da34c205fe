// A key of rulebooks that is added as a proof: its row, and the check that reads it, in this file alone.
#pragma once

#include "check/context.h"
#include "rulebook/key_rows.h"

namespace rakugo::proof {

/// "glitter" of a kind: how many parts may glitter.
inline rulebook::Key glitterKey() {
  return rulebook::rows::further<rulebook::Kind>("glitter", rulebook::KeyType::whole)
      .between(0, 9)
      .in("parts")
      .heldBy({"parts.glitter"})
      .says("Parts that may glitter at once.")
      .notCalled({"sparkle"});
}

/// An object of more parts than may glitter is told.
inline check::CheckRow glitterCheck() {
  using namespace check;
  return {"parts.glitter",
          306,
          Severity::shows,
          Station::shape,
          {"model.moments"},
          "More parts than may glitter",
          "The rest stays dull.",
          "Join parts.",
          [](const Context& context, const CheckRow& row, std::vector<Finding>& out) {
            for (const auto& [name, model] : context.models) {
              if (model.kind == nullptr || !model.kind->further.is_object() || !model.prepared.model)
                continue;
              const auto parts = scene::countsOf(*model.prepared.model).parts;
              const auto most = model.kind->further.value("glitter", uint64_t{0});
              if (parts <= most) continue;
              Finding f;
              f.check = row.id;
              f.severity = row.severity;
              f.sentence = name + " has " + std::to_string(parts) + " parts; " + std::to_string(most) +
                           " may glitter.";
              f.reason = reasonOf(row, *context.book);
              f.place.model = name;
              f.cure = row.cure;
              out.push_back(std::move(f));
            }
          }};
}

}  // namespace rakugo::proof
