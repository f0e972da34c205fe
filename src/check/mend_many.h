// Several findings mended in one go.
#pragma once

#include <functional>

#include "check/examiner.h"

namespace rakugo::check {

/// A mend that was done.
struct DoneMend {
  std::string check;  ///< id
  std::string place, sentence, label;
};

struct MendedMod {
  mod::ModState state;
  std::vector<DoneMend> done;
};

/// A finding's mend leaves nothing to choose: mends were tried, this is the only one that is good, and no
/// other finding stands for this one.
bool isSure(const Examination& x, const Finding& finding);

/// Does the mends of all findings of `x` for which that holds, causes first. The mod is examined again after
/// each round of mends, at most one for each model and object in a round: one mend changes what others have
/// to do, and a finding that has gone by then needs none. Cost: an examination of what changed for each
/// round. `only`: those findings alone; all when it is empty. Errors: job.cancelled.
base::Result<MendedMod> mendSure(const Examination& x, base::Progress* progress = nullptr,
                                 const std::function<bool(const Finding&)>& only = nullptr);

}  // namespace rakugo::check
