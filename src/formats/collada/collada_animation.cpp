#include "formats/collada/collada_animation.h"

#include <algorithm>
#include <cmath>
#include <glm/gtc/matrix_transform.hpp>
#include <optional>
#include <set>

#include "base/phrase.h"
#include "base/text.h"
#include "formats/collada/collada_curve.h"
#include "formats/collada/collada_skin.h"

namespace rakugo::formats::collada {
namespace {

using scene::AnimatedPath;

constexpr float kPi = 3.14159265358979F;
// Between two keys of a turning or curved motion: no further apart than this.
constexpr float kSpacing_s = 1.0F / 30;
constexpr float kTurn_deg = 30;
constexpr size_t kMostPieces = 64;

// A curve and the numbers of a node that it drives.
struct Driver {
  size_t transform = 0;
  size_t first = 0, count = 0;  // in the transform's values
  const Curve* curve = nullptr;
};

std::optional<std::pair<Transform::Kind, size_t>> kindOf(std::string_view name) {
  using Kind = Transform::Kind;
  if (name == "matrix") return {{Kind::matrix, 16}};
  if (name == "rotate") return {{Kind::rotate, 4}};
  if (name == "translate") return {{Kind::translate, 3}};
  if (name == "scale") return {{Kind::scale, 3}};
  if (name == "skew") return {{Kind::skew, 7}};
  if (name == "lookat") return {{Kind::lookat, 9}};
  return std::nullopt;
}

glm::mat4 skewOf(const std::vector<float>& v) {
  // RenderMan's Skew: by an angle, from the direction `a` towards `b`.
  const glm::vec3 a(v[1], v[2], v[3]), b(v[4], v[5], v[6]);
  const float angle = v[0] * kPi / 180;
  const float la = glm::length(a), lb = glm::length(b);
  if (!(la > 0) || !(lb > 0)) return glm::mat4(1);
  const glm::vec3 n2 = b / lb;
  const glm::vec3 a1 = a - n2 * glm::dot(a, n2);
  const float a1_length = glm::length(a1);
  if (!(a1_length > 0)) return glm::mat4(1);
  const glm::vec3 n1 = a1 / a1_length, u = a / la;
  const float along = glm::dot(u, n1), across = glm::dot(u, n2);
  const float rx = along * std::cos(angle) - across * std::sin(angle),
              ry = along * std::sin(angle) + across * std::cos(angle);
  if (!(rx > 0)) return glm::mat4(1);
  const float lambda = along == 0 ? 0 : ry / rx - across / along;
  glm::mat4 out(1);
  for (int c = 0; c < 3; ++c)
    for (int r = 0; r < 3; ++r) out[c][r] += lambda * n1[c] * n2[r];
  return out;
}

glm::mat4 matrixOf(const Transform& t) {
  const std::vector<float>& v = t.values;
  switch (t.kind) {
    case Transform::Kind::matrix:
      return collada::matrixOf(v.data());
    case Transform::Kind::rotate: {
      const glm::vec3 axis(v[0], v[1], v[2]);
      const float length = glm::length(axis);
      if (!(length > 0) || !std::isfinite(length)) return glm::mat4(1);
      return glm::mat4_cast(glm::angleAxis(v[3] * kPi / 180, axis / length));
    }
    case Transform::Kind::translate:
      return glm::translate(glm::mat4(1), {v[0], v[1], v[2]});
    case Transform::Kind::scale:
      return glm::scale(glm::mat4(1), {v[0], v[1], v[2]});
    case Transform::Kind::skew:
      return skewOf(v);
    case Transform::Kind::lookat: {
      const glm::vec3 eye(v[0], v[1], v[2]), at(v[3], v[4], v[5]), up(v[6], v[7], v[8]);
      if (!(glm::length(glm::cross(at - eye, up)) > 0)) return glm::translate(glm::mat4(1), eye);
      return glm::inverse(glm::lookAt(eye, at, up));
    }
  }
  return glm::mat4(1);
}

// "X", "ANGLE", "(1)(2)"... of a transform: the numbers it means. Nothing when it is none of them.
std::optional<std::pair<size_t, size_t>> membersOf(const Transform& t, const std::string& member) {
  if (member.empty()) return {{0, t.values.size()}};
  if (member == "X" || member == "R" || member == "U" || member == "S") return {{0, 1}};
  if (member == "Y" || member == "G" || member == "V" || member == "T") return {{1, 1}};
  if (member == "Z" || member == "B") return {{2, 1}};
  if (member == "ANGLE") return {{t.kind == Transform::Kind::rotate ? 3 : 0, 1}};
  size_t numbers[2] = {0, 0}, count = 0;
  for (size_t at = 0; at < member.size() && count < 2; ++count) {
    if (member[at] != '(') return std::nullopt;
    size_t value = 0, digits = 0;
    for (++at; at < member.size() && member[at] >= '0' && member[at] <= '9' && digits < 4; ++at, ++digits)
      value = value * 10 + static_cast<size_t>(member[at] - '0');
    if (digits == 0 || at >= member.size() || member[at] != ')') return std::nullopt;
    ++at;
    numbers[count] = value;
  }
  const size_t place = count == 2 ? numbers[0] * 4 + numbers[1] : numbers[0];
  if (count == 0 || place >= t.values.size()) return std::nullopt;
  return {{place, 1}};
}

// "node/sid.X" in its three parts.
struct Target {
  std::string id, sid, member;
};
Target targetOf(const std::string& text) {
  Target out;
  const size_t slash = text.find('/'), last = text.rfind('/');
  out.id = text.substr(0, slash);
  std::string& tail = slash == std::string::npos ? out.id : out.sid;
  if (slash != std::string::npos) out.sid = text.substr(last + 1);
  const size_t cut = tail.find_first_of(".(");
  if (cut != std::string::npos) {
    out.member = tail.substr(tail[cut] == '.' ? cut + 1 : cut);
    tail.resize(cut);
  }
  return out;
}

class Reader {
 public:
  Reader(Library& library, const AnimatedTree& tree) : library_(library), tree_(tree) {}

  base::Result<std::vector<scene::Animation>> run() {
    std::vector<scene::Animation> out;
    const Element root = library_.root();
    std::vector<Element> all;
    for (pugi::xml_node l = root.node.child("library_animations"); l;
         l = l.next_sibling("library_animations"))
      for (pugi::xml_node a = l.child("animation"); a; a = a.next_sibling("animation"))
        all.push_back(root.with(a));
    if (all.empty()) return out;
    for (pugi::xml_node l = root.node.child("library_animation_clips"); l;
         l = l.next_sibling("library_animation_clips"))
      for (pugi::xml_node c = l.child("animation_clip"); c; c = c.next_sibling("animation_clip")) {
        std::vector<Element> used;
        for (pugi::xml_node i = c.child("instance_animation"); i; i = i.next_sibling("instance_animation")) {
          RAKUGO_ASSIGN(const Element a, library_.follow(root.with(i), i.attribute("url").value()));
          if (a) used.push_back(a);
        }
        begin_s_ = c.attribute("start").as_float(0);
        end_s_ = c.attribute("end").as_float(std::numeric_limits<float>::max());
        RAKUGO_TRY(gather(used, nameOf(c), out));
      }
    if (!out.empty()) return out;
    begin_s_ = std::numeric_limits<float>::lowest();
    end_s_ = std::numeric_limits<float>::max();
    RAKUGO_TRY(gather(all, all.size() == 1 ? nameOf(all[0].node) : std::string("animation"), out));
    return out;
  }

 private:
  // All channels below some <animation> elements into one animation.
  base::Status gather(const std::vector<Element>& elements, const std::string& name,
                      std::vector<scene::Animation>& out) {
    curves_.clear();
    drivers_.clear();
    weights_.clear();
    driven_.clear();
    weighed_.clear();
    for (const Element& e : elements) {
      std::vector<pugi::xml_node> open = {e.node};
      while (!open.empty()) {
        const pugi::xml_node now = open.back();
        open.pop_back();
        for (pugi::xml_node c = now.child("channel"); c; c = c.next_sibling("channel"))
          RAKUGO_TRY(channel(e.with(c)));
        for (pugi::xml_node n = now.last_child(); n; n = n.previous_sibling())
          if (std::string_view(n.name()) == "animation") open.push_back(n);
      }
      if (library_.cancelled()) return base::cancelledError();
    }
    scene::Animation animation;
    animation.name = name;
    // In the order of the file: addresses would give another one in every run.
    for (const void* node : driven_) RAKUGO_TRY(sample(node, drivers_.at(node), animation));
    for (const void* source : weighed_) RAKUGO_TRY(sampleWeights(source, weights_.at(source), animation));
    if (!animation.channels.empty()) out.push_back(std::move(animation));
    return {};
  }

  base::Status channel(const Element& element) {
    const std::string text = element.text("target");
    const Target target = targetOf(text);
    const auto leave = [&] {
      library_.note("collada.animation_target",
                    base::phrase("\"{0}\" moves nothing that Rakugo knows and is left out.",
                                 base::presentable(text, 80)),
                    element);
      return base::Status();
    };
    const Element found = Library::find(*element.document, target.id);
    RAKUGO_ASSIGN(const Element sampler, library_.follow(element, element.text("source")));
    if (!found || !sampler) return leave();
    RAKUGO_ASSIGN(auto curve, readCurve(library_, sampler));
    if (!curve) return {};
    const void* id = found.node.internal_object();
    if (tree_.morph_weights.count(id) != 0) {
      size_t which = 0;
      if (target.member.size() > 2)
        which = static_cast<size_t>(std::strtoul(target.member.c_str() + 1, nullptr, 10));
      curves_.push_back(std::make_unique<Curve>(std::move(*curve)));
      if (weights_.count(id) == 0) weighed_.push_back(id);
      weights_[id].emplace_back(which, curves_.back().get());
      return {};
    }
    const auto transforms = tree_.transforms.find(id);
    if (transforms == tree_.transforms.end() || tree_.nodes.count(id) == 0) return leave();
    for (size_t i = 0; i < transforms->second.size(); ++i) {
      const Transform& t = transforms->second[i];
      if (t.sid != target.sid || target.sid.empty()) continue;
      const auto members = membersOf(t, target.member);
      if (!members) return leave();
      // A sampler with fewer numbers than the element drives its first ones.
      const size_t count = std::min(members->second, curve->width);
      curves_.push_back(std::make_unique<Curve>(std::move(*curve)));
      if (drivers_.count(id) == 0) driven_.push_back(id);
      drivers_[id].push_back({i, members->first, count, curves_.back().get()});
      return {};
    }
    return leave();
  }

  // Times at which a node's motion is taken: all keys, and enough between them.
  std::vector<float> timesOf(const std::vector<Driver>& drivers, const std::vector<Transform>& rest,
                             bool held) const {
    std::vector<float> out;
    for (const Driver& d : drivers) {
      const Curve& c = *d.curve;
      const Transform::Kind kind = rest[d.transform].kind;
      for (size_t k = 0; k < c.times_s.size(); ++k) {
        out.push_back(c.times_s[k]);
        if (held || k + 1 == c.times_s.size() || c.ways[k] == Curve::Way::step) continue;
        const float from = c.times_s[k], length = c.times_s[k + 1] - from;
        float pieces = 1;
        if (c.ways[k] != Curve::Way::linear) pieces = std::ceil(length / kSpacing_s);
        if (kind == Transform::Kind::rotate) {
          const size_t angle = d.count == 1 ? 0 : 3;
          if (angle < c.width)
            pieces = std::max(
                pieces, std::ceil(std::abs(c.values.at(k + 1, angle) - c.values.at(k, angle)) / kTurn_deg));
        }
        const auto n = static_cast<size_t>(std::clamp(pieces, 1.0F, static_cast<float>(kMostPieces)));
        for (size_t i = 1; i < n; ++i)
          out.push_back(from + length * static_cast<float>(i) / static_cast<float>(n));
      }
    }
    if (begin_s_ > std::numeric_limits<float>::lowest()) out.push_back(begin_s_);
    if (end_s_ < std::numeric_limits<float>::max()) out.push_back(end_s_);
    std::sort(out.begin(), out.end());
    // Keys that the exporter meant to stand together.
    out.erase(std::unique(out.begin(), out.end(), [](float a, float b) { return b - a < 1e-5F; }), out.end());
    std::erase_if(out, [&](float t) { return t < begin_s_ || t > end_s_; });
    return out;
  }

  [[nodiscard]] float shifted(float time_s) const {
    return begin_s_ > std::numeric_limits<float>::lowest() ? time_s - begin_s_ : time_s;
  }

  base::Status sample(const void* id, const std::vector<Driver>& drivers, scene::Animation& animation) {
    const std::vector<Transform>& rest = tree_.transforms.at(id);
    const bool held =
        std::all_of(drivers.begin(), drivers.end(), [](const Driver& d) { return d.curve->held(); });
    const std::vector<float> times = timesOf(drivers, rest, held);
    if (times.empty()) return {};
    RAKUGO_TRY(library_.take(times.size() * 64, library_.root()));
    std::vector<Transform> now = rest;
    std::vector<scene::Placement> keys;
    for (const float t : times) {
      for (const Driver& d : drivers)
        for (size_t i = 0; i < d.count; ++i) now[d.transform].values[d.first + i] = d.curve->at(t, i);
      bool exact = true;
      keys.push_back(scene::placementOf(productOf(now), exact));
      // The shorter way round from key to key.
      if (keys.size() > 1 && glm::dot(keys[keys.size() - 2].turn, keys.back().turn) < 0)
        keys.back().turn = -keys.back().turn;
    }
    bool exact = true;
    const scene::Placement still = scene::placementOf(productOf(rest), exact);
    const auto put = [&](AnimatedPath path, auto value, int width, bool always) {
      const auto differs = [&](const scene::Placement& a, const scene::Placement& b) {
        for (int i = 0; i < width; ++i)
          if (std::abs(value(a)[i] - value(b)[i]) > 1e-6F) return true;
        return false;
      };
      const bool moves = std::any_of(keys.begin(), keys.end(), [&](const scene::Placement& k) {
        return differs(k, keys[0]) || differs(k, still);
      });
      if (!moves && !always) return false;
      scene::Channel c;
      c.node = tree_.nodes.at(id);
      c.path = path;
      c.interpolation = held ? scene::Interpolation::step : scene::Interpolation::linear;
      for (size_t k = 0; k < keys.size(); ++k) {
        c.times_s.push_back(shifted(times[k]));
        for (int i = 0; i < width; ++i) c.values.push_back(value(keys[k])[i]);
      }
      animation.channels.push_back(std::move(c));
      return true;
    };
    const bool turned = put(
        AnimatedPath::turn,
        [](const scene::Placement& p) { return glm::vec4(p.turn.x, p.turn.y, p.turn.z, p.turn.w); }, 4,
        false);
    const bool scaled = put(
        AnimatedPath::scale, [](const scene::Placement& p) { return p.scale; }, 3, false);
    // A motion that stands still stays a motion.
    put(
        AnimatedPath::position, [](const scene::Placement& p) { return p.position; }, 3, !turned && !scaled);
    return {};
  }

  base::Status sampleWeights(const void* source, const std::vector<std::pair<size_t, const Curve*>>& curves,
                             scene::Animation& animation) {
    const size_t count = tree_.morph_counts.at(source);
    std::vector<Driver> drivers;
    for (const auto& [which, curve] : curves) drivers.push_back({0, which, 1, curve});
    const std::vector<Transform> none(1);
    const std::vector<float> times = timesOf(drivers, none, false);
    RAKUGO_TRY(library_.take(times.size() * count * 4, library_.root()));
    scene::Channel c;
    c.path = AnimatedPath::weights;
    for (const float t : times) {
      c.times_s.push_back(shifted(t));
      std::vector<float> now(count, 0.0F);
      for (const auto& [which, curve] : curves) {
        // A curve without a number in its target drives all weights.
        for (size_t i = 0; i < (curve->width > 1 ? curve->width : 1); ++i)
          if (which + i < count) now[which + i] = curve->at(t, i);
      }
      c.values.insert(c.values.end(), now.begin(), now.end());
    }
    for (const scene::NodeIndex node : tree_.morph_weights.at(source)) {
      c.node = node;
      animation.channels.push_back(c);
    }
    return {};
  }

  Library& library_;
  const AnimatedTree& tree_;
  float begin_s_ = 0, end_s_ = 0;
  std::vector<std::unique_ptr<Curve>> curves_;
  std::map<const void*, std::vector<Driver>> drivers_;
  std::map<const void*, std::vector<std::pair<size_t, const Curve*>>> weights_;
  std::vector<const void*> driven_, weighed_;  // their keys in the file's order
};

}  // namespace

base::Result<std::vector<Transform>> transformsOf(Library& library, const Element& node) {
  std::vector<Transform> out;
  for (pugi::xml_node n = node.node.first_child(); n; n = n.next_sibling()) {
    const auto kind = kindOf(n.name());
    if (!kind) continue;
    Transform t;
    t.kind = kind->first;
    t.sid = n.attribute("sid").value();
    std::string storage;
    size_t bad = 0;
    const bool good = readFloats(textOf(n, storage), t.values, bad) && t.values.size() == kind->second &&
                      std::all_of(t.values.begin(), t.values.end(), [](float v) { return std::isfinite(v); });
    if (!good)
      return library.error("collada.number",
                           base::phrase("<{0}> is not made of {1} finite numbers.", n.name(), kind->second),
                           node.with(n));
    out.push_back(std::move(t));
  }
  return out;
}

glm::mat4 productOf(const std::vector<Transform>& transforms) {
  glm::mat4 out(1);
  for (const Transform& t : transforms) out = out * matrixOf(t);
  return out;
}

base::Result<std::vector<scene::Animation>> readAnimations(Library& library, const AnimatedTree& tree) {
  return Reader(library, tree).run();
}

}  // namespace rakugo::formats::collada
