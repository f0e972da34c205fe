// Something that was worked out about a source and can be taken with one click.
#pragma once

#include <string>
#include <vector>

#include "check/finding.h"

namespace rakugo::check {

enum class Confidence : unsigned char {
  sure,    ///< all that is known says so
  likely,  ///< the stronger reasons say so, others do not
  guess    ///< nothing says anything; it is taken as it stands
};
const char* confidenceName(Confidence confidence);

struct Proposal {
  std::string title;  ///< "centimetres"; "+Z up, −Y forward"
  Confidence confidence = Confidence::guess;
  std::vector<std::string> reasons;  ///< sentences that speak for it
  std::vector<std::string> against;  ///< and against
  bool taken = false;                ///< the preparation reads it so, or nothing needs doing
  bool from_file = false;            ///< the file itself says so
  double factor = 1;                 ///< of lengths: by which the present ones grow when it is taken
  Mend mend;                         ///< takes it; empty when it is taken
};

}  // namespace rakugo::check
