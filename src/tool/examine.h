// What several commands begin with: a mod, read and examined.
#pragma once

#include "check/examiner.h"

namespace rakugo::tool {

/// Loads, replays and checks the mod in a folder; with `game`, what is installed there is looked at too; with
/// `try_mends`, each mend is tried and causes are found (`Examiner::tryMends`).
base::Result<std::shared_ptr<const rakugo::check::Examination>> examineFolder(const std::string& folder,
                                                                              const std::string& game,
                                                                              bool try_mends = false);

}  // namespace rakugo::tool
