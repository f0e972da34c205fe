// A check that is added as a proof: its row and what it does, in this file alone.
#pragma once

#include "check/context.h"
#include "check/facts.h"

namespace rakugo::proof {

/// A model as wide as it is long, to a hundredth, is told.
inline check::CheckRow squareCheck() {
  using namespace check;
  return {"size.square",
          305,
          Severity::tidy,
          Station::shape,
          {"model.length_m", "model.width_m"},
          "A model as wide as it is long",
          "Players cannot tell which way it faces.",
          "Stretch it.",
          [](const Context& context, const CheckRow& row, std::vector<Finding>& out) {
            for (const auto& [name, model] : context.models) {
              const base::Json length = findFact("model.length_m")->value(context, model),
                               width = findFact("model.width_m")->value(context, model);
              if (!length.is_number() || std::abs(length.get<double>() / width.get<double>() - 1) > 0.01)
                continue;
              Finding f;
              f.check = row.id;
              f.severity = row.severity;
              f.sentence = name + " is as wide as it is long.";
              f.reason = reasonOf(row, *context.book);
              f.place.model = name;
              f.cure = row.cure;
              out.push_back(std::move(f));
            }
          }};
}

}  // namespace rakugo::proof
