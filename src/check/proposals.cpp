#include "check/proposals.h"

#include <algorithm>
#include <cmath>

#include "base/phrase.h"
#include "base/text.h"
#include "check/checks.h"
#include "check/space_guess.h"
#include "prepare/edit_steps.h"
#include "prepare/step.h"
#include "prepare/steps.h"

namespace rakugo::check {
namespace {

using base::Json;
using base::lengthText;

// Bones from which on a skeleton may be a person's.
constexpr size_t kPersonBones = 15;
constexpr double kPersonLow_m = 1.2, kPersonHigh_m = 2.3;

struct Weighed {
  double weight = 0;
  std::vector<std::string> reasons;
  void say(double w, std::string reason) {
    weight += w;
    reasons.push_back(std::move(reason));
  }
};

const prepare::LengthUnit* unitOf(double metres) {
  for (const prepare::LengthUnit& u : prepare::lengthUnits())
    if (std::abs(u.metres / metres - 1) < 0.01) return &u;
  return nullptr;
}

struct Subject {
  const mod::ModelDoc& doc;
  const ModelState& state;
  const formats::ReadModel& read;
};

std::optional<Subject> subjectOf(const Context& context, const std::string& model) {
  const auto doc = context.mod->models.find(model);
  const auto state = context.models.find(model);
  if (doc == context.mod->models.end() || state == context.models.end() || !state->second.prepared.model)
    return std::nullopt;
  const auto source = context.sources.find(doc->second.source);
  if (source == context.sources.end() || !source->second.read) return std::nullopt;
  return Subject{doc->second, state->second, *source->second.read};
}

// Whether it is known which way the model stands: by its file, or because a step has turned it.
bool standsSurely(const Subject& subject) {
  return subject.read.up || subject.state.prepared.model->frame.turned;
}

// What the sizes say of reading the lengths in a unit: `extents` are those of the prepared model read so.
void weighSizes(const Context& context, const Subject& subject, glm::dvec3 extents, Weighed& out) {
  const rulebook::Kind* kind = subject.state.kind;
  if (kind != nullptr) {
    const bool any = kind->length_m || kind->width_m || kind->height_m;
    // One that may lie on its side has the size of its kind when it has it standing.
    if (!standsSurely(subject))
      for (const glm::dvec3 other :
           {glm::dvec3(extents.x, extents.z, extents.y), glm::dvec3(extents.z, extents.y, extents.x)})
        if (misfit(other, *kind) < misfit(extents, *kind) - 1e-9) extents = other;
    const double off = misfit(extents, *kind);
    if (any && off < 0.02)
      out.say(2, base::phrase("a {0} is that large ({1} high)", base::lowerAscii(kind->title),
                              lengthText(extents.z)));
    else if (any && off < std::log10(3.0))
      out.say(0.75, base::phrase("that is near the size of a {0} ({1} high)", base::lowerAscii(kind->title),
                                 lengthText(extents.z)));
    if (const auto ghost = context.ghosts.find(kind->id);
        ghost != context.ghosts.end() && ghost->second.model) {
      const double ours = std::max({extents.x, extents.y, extents.z});
      const glm::dvec3 size = ghost->second.size_m;
      const double theirs = std::max({size.x, size.y, size.z});
      if (theirs > 0 && ours > 0 && std::abs(std::log2(ours / theirs)) < 1)
        out.say(0.5, base::phrase("{0} is {1} at its longest, this then {2}", kind->ghost_title,
                                  lengthText(theirs), lengthText(ours)));
    }
  }
  const size_t bones = scene::usedJoints(subject.read.model).size();
  const double height = std::max({extents.x, extents.y, extents.z});
  if (bones >= kPersonBones && height >= kPersonLow_m && height <= kPersonHigh_m)
    out.say(1, base::phrase("{0} bones may be a person's, who then stands {1}", std::to_string(bones),
                            lengthText(height)));
}

}  // namespace

const char* confidenceName(Confidence confidence) {
  return confidence == Confidence::sure ? "sure" : confidence == Confidence::likely ? "likely" : "a guess";
}

namespace {

// A unit that lengths may be meant in, and what speaks for it.
struct UnitCandidate {
  const prepare::LengthUnit* unit;  // null for one that has no name
  double metres;
  Weighed weighed;
  [[nodiscard]] std::string name() const {
    return unit != nullptr ? base::phrase(unit->title) : base::numberText(metres, 6) + " m";
  }
  [[nodiscard]] bool is(double other_metres) const { return std::abs(metres / other_metres - 1) < 0.01; }
};

std::vector<UnitCandidate> weighedUnits(const Context& context, const Subject& subject,
                                        const glm::dvec3& extents, double present_m, bool decided) {
  const std::optional<double> said = subject.read.unit_m;
  std::vector<UnitCandidate> all;
  for (const prepare::LengthUnit& u : prepare::lengthUnits()) all.push_back({&u, u.metres, {}});
  if (said && unitOf(*said) == nullptr) all.push_back({nullptr, *said, {}});
  for (UnitCandidate& c : all) {
    // By the standard glTF is in metres, and exporters forget it most; a unit that a file spells out weighs
    // more.
    const bool by_standard = subject.read.format.rfind("glTF", 0) == 0;
    if (said && c.is(*said))
      c.weighed.say(by_standard ? 1.25 : 2.5,
                    by_standard ? base::phrase("glTF is in metres") : base::phrase("the file says so"));
    if (decided && c.is(present_m)) c.weighed.say(2, base::phrase("a step of yours says so"));
    weighSizes(context, subject, extents * (c.metres / present_m), c.weighed);
    // Of two that fit alike the commoner: metres and centimetres before millimetres before inches and feet.
    // How near another thing of its kind is in size must not make inches of it.
    const double rare = c.unit == nullptr || c.unit->metres == 1 || c.unit->metres == 0.01 ? 0
                        : c.unit->metres == 0.001                                          ? 0.1
                                                                                           : 0.6;
    if (!c.weighed.reasons.empty()) c.weighed.weight -= rare;
  }
  return all;
}

Mend unitMend(const std::string& model, const UnitCandidate& chosen, const Proposal& proposal) {
  if (chosen.unit != nullptr)
    return stepOrEditMend(model, "read_lengths", Json{{"unit", chosen.unit->id}},
                          base::phrase("Read lengths as {0}", proposal.title));
  return {base::phrase("Scale everything by {0}", base::numberText(proposal.factor, 6)),
          [model, factor = proposal.factor](mod::ModState& mod) {
            if (auto* doc = mod.models.change(model)) prepare::scaleBy(*doc, factor);
          }};
}

}  // namespace

std::optional<Proposal> proposeUnit(const Context& context, const std::string& model) {
  const auto subject = subjectOf(context, model);
  if (!subject) return std::nullopt;
  const scene::Model& prepared = *subject->state.prepared.model;
  const double present_m = prepared.frame.read_unit_m;
  const glm::dvec3 extents = prepare::gameExtents(subject->state.box_m, prepared.frame, *context.book);
  if (!(std::max({extents.x, extents.y, extents.z}) > 0)) return std::nullopt;
  const std::optional<double> said = subject->read.unit_m;

  // A unit that a person chose stands, unless the sizes say plainly that it was a slip.
  const bool plausible =
      subject->state.kind == nullptr || misfit(extents, *subject->state.kind) < std::log10(3.0);
  const bool decided = plausible && std::any_of(subject->doc.steps.begin(), subject->doc.steps.end(),
                                                [](const mod::StepDoc& step) {
                                                  return step.kind == "read_lengths" && step.enabled;
                                                });
  const std::vector<UnitCandidate> all = weighedUnits(context, *subject, extents, present_m, decided);
  const auto best = std::max_element(
      all.begin(), all.end(),
      [](const UnitCandidate& a, const UnitCandidate& b) { return a.weighed.weight < b.weighed.weight; });
  Proposal out;
  const auto present =
      std::find_if(all.begin(), all.end(), [&](const UnitCandidate& c) { return c.is(present_m); });
  // What stands as it is needs a stronger reason to be changed than to be left.
  const bool stay = present != all.end() && present->weighed.weight >= best->weighed.weight - 1e-9;
  const UnitCandidate& chosen = stay ? *present : *best;
  out.title = chosen.unit != nullptr ? base::phrase(chosen.unit->title)
                                     : base::phrase("{0} m a unit", base::numberText(chosen.metres, 6));
  out.reasons = chosen.weighed.reasons;
  out.from_file = said && chosen.is(*said);
  out.factor = chosen.metres / present_m;
  out.taken = std::abs(out.factor - 1) < 1e-6;
  for (const UnitCandidate& c : all)
    if (&c != &chosen && !c.weighed.reasons.empty() && c.weighed.weight >= 1)
      out.against.push_back(base::phrase("read as {0}, {1}", c.name(), c.weighed.reasons.front()));
  if (chosen.weighed.weight < 0.5)
    out.confidence = Confidence::guess;
  else
    out.confidence = out.against.empty() ? Confidence::sure : Confidence::likely;
  if (!out.taken) out.mend = unitMend(model, chosen, out);
  return out;
}

namespace {

using geometry::Axis;

// A way that the model may stand, and what speaks for it.
struct AxesCandidate {
  Axis up, forward;
  Weighed weighed;
};

// How badly the model's proportions, standing so, fit those of the kind, in the unit that fits best.
double standingMisfit(const glm::dvec3& size, Axis up, Axis forward, const rulebook::Kind& kind) {
  const glm::dvec3 u = glm::abs(geometry::axisVector(up)), f = glm::abs(geometry::axisVector(forward));
  const glm::dvec3 side = glm::dvec3(1) - u - f;
  const glm::dvec3 extents(glm::dot(size, f), glm::dot(size, side), glm::dot(size, u));
  double best = 99;
  for (const prepare::LengthUnit& unit : prepare::lengthUnits())
    best = std::min(best, misfit(extents * unit.metres, kind));
  return best;
}

std::vector<AxesCandidate> weighedAxes(const Subject& subject, const glm::dvec3& size) {
  const scene::Frame& frame = subject.read.model.frame;
  const rulebook::Kind* kind = subject.state.kind;
  std::vector<AxesCandidate> all;
  for (const auto& [up, forward] :
       {std::pair(Axis::plus_y, Axis::plus_z), std::pair(Axis::plus_z, Axis::minus_y),
        std::pair(Axis::plus_x, Axis::plus_z)})
    all.push_back({up, up == frame.up ? frame.forward : forward, {}});
  if (std::none_of(all.begin(), all.end(), [&](const AxesCandidate& c) { return c.up == frame.up; }))
    all.push_back({frame.up, frame.forward, {}});
  for (AxesCandidate& c : all) {
    if (subject.read.up && c.up == *subject.read.up)
      c.weighed.say(2.5, base::phrase("the file says that {0} is up", sideName(c.up)));
    if (kind == nullptr || !(kind->length_m || kind->width_m || kind->height_m)) continue;
    // Lying on its side a thing that stands is told by its proportions; along the ground it may face any way.
    const glm::vec3 across = glm::cross(geometry::axisVector(c.up), geometry::axisVector(c.forward));
    const double fits = std::min(standingMisfit(size, c.up, c.forward, *kind),
                                 standingMisfit(size, c.up, geometry::nearestAxis(across), *kind));
    double others = 99;
    for (const AxesCandidate& o : all)
      if (o.up != c.up) others = std::min(others, standingMisfit(size, o.up, o.forward, *kind));
    if (fits < 0.02 && others > 0.1)
      c.weighed.say(
          1.5, base::phrase("only so its proportions are those of a {0}", base::lowerAscii(kind->title)));
  }
  return all;
}

}  // namespace

std::optional<Proposal> proposeAxes(const Context& context, const std::string& model) {
  const auto subject = subjectOf(context, model);
  if (!subject) return std::nullopt;
  const rulebook::Rulebook& book = *context.book;
  const scene::Model& source = subject->read.model;
  const scene::Frame& frame = source.frame;
  const rulebook::Kind* kind = subject->state.kind;
  const glm::dvec3 size = scene::boundsOf(source).size();
  if (!(std::max({size.x, size.y, size.z}) > 0)) return std::nullopt;
  // The unit has been settled by now, or is settled apart: only proportions count.
  std::vector<AxesCandidate> all = weighedAxes(*subject, size);
  // Where nothing speaks, what is taken now stays.
  auto best = std::find_if(all.begin(), all.end(), [&](const AxesCandidate& c) { return c.up == frame.up; });
  for (auto c = all.begin(); c != all.end(); ++c)
    if (c->weighed.weight > best->weighed.weight + 1e-9) best = c;
  Proposal out;
  Axis forward = best->forward;
  bool ghost_speaks = false;
  std::vector<std::string> reasons = best->weighed.reasons;
  if (kind != nullptr) {
    scene::Frame standing = frame;
    standing.up = best->up;
    standing.forward = best->forward;
    const Ghost* ghost = context.ghostOf(*kind);
    if (const auto guess =
            ghost != nullptr ? guessFacing(ghost, book, standing, occupancyOf(source)) : std::nullopt) {
      forward = guess->forward;
      ghost_speaks = guess->likeness > 0.3;
      if (ghost_speaks)
        reasons.push_back(base::phrase("looking to {0} it is most like {1} ({2} %)", sideName(forward),
                                       kind->ghost_title, base::numberText(guess->likeness * 100, 0)));
    }
  }
  out.title = base::phrase("{0} up, {1} forward", sideName(best->up), sideName(forward));
  out.reasons = reasons;
  out.from_file = subject->read.up && best->up == *subject->read.up;
  for (const AxesCandidate& c : all)
    if (c.up != best->up && c.weighed.weight >= 1)
      out.against.push_back(base::phrase("with {0} up, {1}", sideName(c.up), c.weighed.reasons.front()));
  out.confidence = reasons.empty()                                          ? Confidence::guess
                   : out.against.empty() && (out.from_file || ghost_speaks) ? Confidence::sure
                                                                            : Confidence::likely;
  const bool at_game = best->up == book.up && forward == book.forward;
  const auto turn = std::find_if(subject->doc.steps.begin(), subject->doc.steps.end(),
                                 [](const mod::StepDoc& s) { return s.kind == "turn" && s.enabled; });
  const Json values{{"forward", geometry::axisName(forward)}, {"up", geometry::axisName(best->up)}};
  if (turn == subject->doc.steps.end())
    out.taken = at_game && best->up == frame.up;
  else
    out.taken = base::textOf(turn->values, "forward") == geometry::axisName(forward) &&
                base::textOf(turn->values, "up") == geometry::axisName(best->up);
  if (!out.taken)
    out.mend = stepOrEditMend(model, "turn", values,
                              base::phrase("Turn so that the {0} side faces forward", sideName(forward)));
  return out;
}

}  // namespace rakugo::check
