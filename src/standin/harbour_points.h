// What the harbour itself hangs at the attachment points of things: lights, smoke, wash, mooring lines.
#pragma once

#include <glm/glm.hpp>
#include <vector>

#include "bundle/records.h"

namespace rakugo::standin {

/// Adds lamps and emitters for the points of a craft that mean them: red and green at "nav-port" and
/// "nav-starboard" by night, smoke at "funnel" and wash at "screw" under way. Where the craft brings a lamp
/// or an emitter of its own near a point, that is left alone.
void hangAtPoints(bundle::ObjectRecord& record);

/// A line from a point of a boat to where it is made fast; metres, in the harbour.
struct MooringLine {
  glm::vec3 from{0}, to{0};
};
/// Lines from "mooring-bow" and "mooring-stern" of a boat that stands so, each to the nearest bollard; none
/// where that is farther than a line reaches.
std::vector<MooringLine> mooringLines(const bundle::ObjectRecord& record, const glm::mat4& place);

}  // namespace rakugo::standin
