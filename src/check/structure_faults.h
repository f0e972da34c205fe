// The table of what can be wrong with a mesh, as the game sees it: words, what a rulebook asks for, meaning
// and mends. Findings, docs/checks.md and the Shape station all read this one table; how each is counted
// stands in `scene/structure.h`.
#pragma once

#include <string>
#include <vector>

#include "base/json.h"
#include "rulebook/rulebook.h"
#include "scene/structure.h"

namespace rakugo::check {

/// One sort of fault.
struct FaultRow {
  scene::FaultCode code;
  const char* check;                   ///< id of the check that reports it
  bool asked;                          ///< by every game, where its rulebook does not say otherwise
  const char *one, *many;              ///< what is counted: "triangle", "triangles"
  const char *is_one, *is_many;        ///< what a finding says of it: "has no surface"
  const char *label_one, *label_many;  ///< after its count, in a list: "triangle without a surface"
  const char* fine;                    ///< when it may be meant; empty: it never is
};
/// All sorts, in the order in which a list shows them.
const std::vector<FaultRow>& faultTable();
const FaultRow& faultRow(scene::FaultCode code);
/// The row of the check with that id; null where the check is about something else.
const FaultRow* faultOfCheck(std::string_view check);

/// Whether a fault of that sort is held against models of a kind. The rulebook's outcomes say so, by the id
/// of the check: any outcome asks for it, "meant" does not. Where they are silent: what every game asks for,
/// and, for grids of flat faces, vertices without a shape and edges off the axes. `kind` may be null.
bool asksFor(scene::FaultCode code, const rulebook::Rulebook& book, const rulebook::Kind* kind);
/// Whether one of the faults that are asked for needs a thorough look.
bool asksThoroughLook(const rulebook::Rulebook& book, const rulebook::Kind* kind);

/// What one sort of fault comes to in a model.
struct FoundFault {
  scene::FaultCode code;
  bool asked = false;  ///< held against the model, and said by a finding
  uint64_t count = 0;
  std::string first_part;          ///< key
  std::vector<std::string> parts;  ///< names, or keys of those without
  std::vector<glm::vec3> marks_m;  ///< in the model's space; at most `scene::kMostMarks`
};
/// Counts a sort of fault over the parts of a model. Parts where it is none by its nature are left out:
/// vertices that could be one tell nothing where normals or UVs are still missing. UVs that are missing where
/// no picture is shown are counted, but not asked for. `part`: key of the only part to look at; empty for
/// all.
FoundFault foundFault(scene::FaultCode code, const scene::Model& model,
                      const std::vector<scene::PartStructure>& structure, const rulebook::Rulebook& book,
                      const rulebook::Kind* kind, const std::string& part = {});

/// What a sort of fault does in the game, and what cures it.
struct FaultMeaning {
  std::string reason;  ///< what happens in the game
  std::string cure;    ///< what to do about it
  std::string fine;    ///< when it may be meant; empty: it never is
};
/// The words of its check, the rulebook's own where it has some.
FaultMeaning meaningOf(scene::FaultCode fault, const rulebook::Rulebook& book);

/// A step that mends a fault (`prepare::setOrAddStep` puts it into a preparation), and what its button says.
struct FaultMend {
  const char* step;
  base::Json values;
  std::string label;
};
/// The mends of a sort of fault, the one that changes least first; none for what has to be mended where the
/// model is made. `diagonal_m`: of the model's box; a speck is measured by it.
std::vector<FaultMend> mendsOf(scene::FaultCode fault, double diagonal_m);

}  // namespace rakugo::check
