// Which step takes which fault of a mesh away. Findings and the Shape station offer the same.
#pragma once

#include <string>
#include <vector>

#include "base/json.h"
#include "scene/structure.h"

namespace rakugo::prepare {

/// A step that mends a fault (`setOrAddStep` puts it into a preparation), and what its button says.
struct FaultMend {
  const char* step;
  base::Json values;
  std::string label;
};

/// The mends of a sort of fault, the one that changes least first; none for what has to be mended where the
/// model is made. `diagonal_m`: of the model's box; a speck is measured by it.
std::vector<FaultMend> mendsOf(scene::FaultCode fault, double diagonal_m);

}  // namespace rakugo::prepare
