#include "check/role_proposals.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <set>

#include "base/phrase.h"
#include "base/text.h"
#include "prepare/matching/letters.h"

namespace rakugo::check {
namespace {

using base::phrase;

// How much each sign counts. Nothing but a name, or two signs that agree, is enough for a proposal.
constexpr double kOwnName = 0.6, kPartName = 0.35, kElsewhere = 0.7, kGlows = 0.35, kSeeThrough = 0.3,
                 kColor = 0.2, kNeeded = 0.15, kLeast = 0.3, kMost = 0.95;
constexpr size_t kShortWord = 3;  // such a word must stand alone: "tar" is not in "target"

// The words of a name, folded: "LampGlass_02" is "lamp", "glass".
std::vector<std::string> wordsOf(const std::string& name) {
  std::vector<std::string> out;
  std::u32string word;
  const auto end = [&] {
    if (!word.empty()) out.push_back(prepare::textOf(word));
    word.clear();
  };
  prepare::Sign before = prepare::Sign::other;
  for (const prepare::Letter& letter : prepare::lettersOf(name)) {
    const bool apart = letter.sign == prepare::Sign::other || letter.sign == prepare::Sign::digit ||
                       (letter.sign == prepare::Sign::upper && before == prepare::Sign::lower) ||
                       ((letter.sign == prepare::Sign::unparted) != (before == prepare::Sign::unparted));
    if (apart) end();
    if (letter.sign != prepare::Sign::other && letter.sign != prepare::Sign::digit) word += letter.folded;
    before = letter.sign;
  }
  end();
  return out;
}

bool unparted(const std::string& word) {
  const auto letters = prepare::lettersOf(word);
  return !letters.empty() && letters.front().sign == prepare::Sign::unparted;
}

// Whether one of a name's words is, or begins or ends with, `word`: "lamps", "Glasscheibe".
bool says(const std::vector<std::string>& words, const std::string& word) {
  return std::any_of(words.begin(), words.end(), [&](const std::string& one) {
    if (unparted(word)) return one.find(word) != std::string::npos;
    if (word.size() <= kShortWord) return one == word || one == word + "s";
    // What stands before it must be long enough for a word: "lack" (varnish) is in "Bootslack", not in
    // "black".
    return one.starts_with(word) || (one.ends_with(word) && one.size() >= word.size() + kShortWord);
  });
}

// All words by which a name may mean the hint, the hint first.
std::vector<std::string> meaningsOfHint(const std::string& hint) {
  const std::string folded = prepare::foldedWord(hint);
  std::vector<std::string> out{folded};
  for (const std::vector<std::string>& group : materialWords())
    if (std::find(group.begin(), group.end(), folded) != group.end())
      out.insert(out.end(), group.begin(), group.end());
  return out;
}

// The same of all hints of a role, and of its id.
std::vector<std::string> meaningsOf(const rulebook::Role& role) {
  std::vector<std::string> out;
  std::vector<std::string> hints = role.hints;
  hints.push_back(role.id);
  for (const std::string& hint : hints) {
    const auto words = meaningsOfHint(hint);
    out.insert(out.end(), words.begin(), words.end());
  }
  return out;
}

struct Evidence {
  double sum = 0;
  std::vector<std::pair<double, std::string>> reasons;
  void add(double weight, std::string reason) {
    sum += weight;
    reasons.emplace_back(weight, std::move(reason));
  }
};

// What is asked of all materials in turn.
struct Asked {
  const Context& context;
  const ModelState& state;
  const scene::Model& model;
  std::map<uint32_t, std::vector<std::string>> parts;  // names of those that wear a material
  std::map<const rulebook::Role*, std::vector<std::string>> meanings = {};  // words for each role

  // The hint that a name says, in the language in which it says it; empty for none.
  [[nodiscard]] std::string hintIn(const std::vector<std::string>& words, const rulebook::Role& role) const {
    for (const std::string& word : meanings.at(&role))
      if (says(words, word)) return word;
    return {};
  }

  void byNames(const scene::Material& material, uint32_t index, const rulebook::Role& role,
               Evidence& out) const {
    if (const std::string word = hintIn(wordsOf(material.name.empty() ? material.key : material.name), role);
        !word.empty())
      out.add(kOwnName, phrase("its name says {0}", word));
    const auto worn = parts.find(index);
    if (worn == parts.end() || worn->second.size() > 3) return;
    for (const std::string& part : worn->second)
      if (!hintIn(wordsOf(part), role).empty()) return out.add(kPartName, phrase("{0} wears it", part));
  }

  void byOthers(const scene::Material& material, const rulebook::Role& role, Evidence& out) const {
    for (const auto& [name, other] : context.models) {
      if (!other.prepared.model || other.kind != state.kind || &other == &state) continue;
      for (const scene::Material& m : other.prepared.model->materials)
        if (m.role == role.id && m.name == material.name)
          return out.add(kElsewhere, phrase("it plays that in {0}", name));
    }
  }

  void byLooks(const scene::Material& material, const rulebook::Role& role, Evidence& out) const {
    const bool glows = std::max({material.emissive.x, material.emissive.y, material.emissive.z}) > 0.01F &&
                       material.emissive_strength > 0;
    if (role.effect == "glow" && glows) out.add(kGlows, phrase("it glows"));
    const auto& words = meanings.at(&role);
    const std::string& clear = materialWords().front().front();  // the first group: what one sees through
    const bool glass = std::find(words.begin(), words.end(), clear) != words.end();
    if (glass && material.alpha == scene::AlphaMode::blend) out.add(kSeeThrough, phrase("it is see-through"));
    if (const auto color = shownColor(material)) {
      double apart = 0;
      for (int c = 0; c < 3; ++c) apart += std::pow((*color)[c] - role.swatch[static_cast<size_t>(c)], 2);
      if (std::sqrt(apart) < 0.12) out.add(kColor, phrase("its colour is much like the role's"));
    }
  }

  // sRGB; the picture's mean times the factor.
  [[nodiscard]] std::optional<glm::vec3> shownColor(const scene::Material& material) const {
    const auto encoded = [](float v) { return std::pow(std::clamp(v, 0.0F, 1.0F), 1 / 2.2F); };
    glm::vec3 out(encoded(material.base_color.x), encoded(material.base_color.y),
                  encoded(material.base_color.z));
    const scene::ImageIndex image = material.base_color_texture.image;
    if (!image.valid()) return out;
    if (!state.pictures[image.value()].info) return std::nullopt;
    const auto& mean = state.pictures[image.value()].traits.mean;
    return out * glm::vec3(mean[0], mean[1], mean[2]);
  }
};

}  // namespace

std::vector<RoleProposal> proposeRoles(const Context& context, const ModelState& state) {
  if (state.kind == nullptr || state.kind->roles.empty() || !state.prepared.model) return {};
  const scene::Model& model = *state.prepared.model;
  Asked asked{context, state, model, {}};
  for (const scene::NodeIndex i : scene::reachedNodes(model)) {
    const scene::Node& node = model.node(i);
    if (!node.mesh.valid()) continue;
    std::set<uint32_t> once;
    for (const scene::Primitive& p : model.mesh(node.mesh).primitives)
      if (p.material.valid() && once.insert(p.material.value()).second)
        asked.parts[p.material.value()].push_back(node.name);
  }
  for (const rulebook::Role& role : state.kind->roles) asked.meanings[&role] = meaningsOf(role);
  std::vector<uint32_t> open;
  std::set<std::string> played;
  for (const scene::MaterialIndex m : scene::usedMaterials(model)) {
    const scene::Material& material = model.materials[m.value()];
    if (material.role.empty())
      open.push_back(static_cast<uint32_t>(m.value()));
    else
      played.insert(material.role);
  }
  struct Pair {
    uint32_t material;
    const rulebook::Role* role;
    Evidence evidence;
  };
  std::vector<Pair> best;
  for (const uint32_t m : open) {
    std::optional<Pair> first;
    for (const rulebook::Role& role : state.kind->roles) {
      Pair pair{m, &role, {}};
      const scene::Material& material = model.materials[m];
      asked.byNames(material, m, role, pair.evidence);
      asked.byOthers(material, role, pair.evidence);
      asked.byLooks(material, role, pair.evidence);
      const bool needed = role.required && played.count(role.id) == 0;
      if (needed && (pair.evidence.sum > 0 || open.size() == 1))
        pair.evidence.add(open.size() == 1 ? kLeast : kNeeded,
                          open.size() == 1 ? phrase("the game needs the role, and nothing else is left")
                                           : phrase("the game needs the role"));
      if (!first || pair.evidence.sum > first->evidence.sum) first = std::move(pair);
    }
    if (first && first->evidence.sum >= kLeast - 1e-9) best.push_back(std::move(*first));
  }
  std::vector<RoleProposal> out;
  for (Pair& pair : best) {
    auto& reasons = pair.evidence.reasons;
    std::stable_sort(reasons.begin(), reasons.end(),
                     [](const auto& a, const auto& b) { return a.first > b.first; });
    RoleProposal& proposal = out.emplace_back();
    proposal.material = model.materials[pair.material].key;
    proposal.role = pair.role->id;
    proposal.certainty = std::min(kMost, pair.evidence.sum);
    for (auto& [weight, reason] : reasons) proposal.reasons.push_back(std::move(reason));
  }
  return out;
}

}  // namespace rakugo::check
