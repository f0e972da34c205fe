// Findings as text and as open formats that other programs read.
#pragma once

#include <string>

#include "base/json_fwd.h"
#include "check/examiner.h"

namespace rakugo::check {

/// One line a finding with its place and first cure, those set aside with their reason, and the sum.
std::string reportText(const Examination& examination);
/// Our own JSON: one object with every finding and its mends' labels.
base::Json reportJson(const Examination& examination);
/// SARIF 2.1.0 (OASIS standard, 27 March 2020): one run; rules are the table's checks; `stops` is an error,
/// `shows` a warning, `tidy` a note; what is set aside is suppressed with its justification. `version` is
/// this program's.
base::Json reportSarif(const Examination& examination, const std::string& version);
/// JUnit XML as continuous-integration services read it: one test suite, one case a check; `stops` and
/// `shows` are failures, `tidy` and what is set aside stand in the case's system-out.
std::string reportJUnit(const Examination& examination);

}  // namespace rakugo::check
