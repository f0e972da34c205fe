#include "formats/collada/collada_skin.h"

#include <algorithm>
#include <cmath>

#include "base/phrase.h"
#include "base/text.h"

namespace rakugo::formats::collada {
namespace {

// The source behind one input of an element.
base::Result<Element> inputSource(Library& library, const Element& holder, std::string_view semantic) {
  for (pugi::xml_node i = holder.node.child("input"); i; i = i.next_sibling("input"))
    if (std::string_view(i.attribute("semantic").value()) == semantic)
      return library.follow(holder.with(i), i.attribute("source").value());
  return Element{};
}

size_t offsetOf(const Element& holder, std::string_view semantic) {
  for (pugi::xml_node i = holder.node.child("input"); i; i = i.next_sibling("input"))
    if (std::string_view(i.attribute("semantic").value()) == semantic)
      return i.attribute("offset").as_uint(0);
  return 0;
}

struct Influence {
  uint32_t joint = 0;
  float weight = 0;
};

base::Status readWeights(Library& library, const Element& element, SkinData& out) {
  RAKUGO_ASSIGN(const Element source, inputSource(library, element, "WEIGHT"));
  if (!source) return library.error("collada.source", base::phrase("The skin names no weights."), element);
  RAKUGO_ASSIGN(const Numbers numbers, library.numbers(source));
  const size_t joint_at = offsetOf(element, "JOINT"), weight_at = offsetOf(element, "WEIGHT");
  size_t stride = 1;
  for (pugi::xml_node i = element.node.child("input"); i; i = i.next_sibling("input"))
    stride = std::max<size_t>(stride, std::min<uint32_t>(i.attribute("offset").as_uint(0), 63) + 1);
  if (joint_at >= stride || weight_at >= stride)
    return library.error("collada.source", base::phrase("An input's offset is too large."), element);
  std::vector<int> counts, values;
  std::string storage;
  size_t bad = 0;
  if (!readIntegers(element.document->listOf(element.node.child("vcount"), storage), counts, bad))
    return library.error("collada.number", base::phrase("Something in the counts is no number."),
                         element.child("vcount"));
  if (!readIntegers(element.document->listOf(element.node.child("v"), storage), values, bad))
    return library.error("collada.number",
                         base::phrase("Something in the list of bones and weights is no number."),
                         element.child("v"));
  RAKUGO_TRY(library.take(counts.size() * sizeof(std::array<float, 12>), element));
  out.bones.assign(counts.size(), {});
  out.weights.assign(counts.size(), {});
  size_t at = 0, dropped = 0;
  std::vector<Influence> of;
  for (size_t v = 0; v < counts.size(); ++v) {
    if (counts[v] < 0 || static_cast<size_t>(counts[v]) > (values.size() - at) / stride)
      return library.error("collada.index", base::phrase("Vertex {0} has more weights than are listed.", v),
                           element);
    of.clear();
    for (int k = 0; k < counts[v]; ++k, at += stride) {
      const int joint = values[at + joint_at], weight = values[at + weight_at];
      if (weight < 0 || static_cast<size_t>(weight) >= numbers.count)
        return library.error("collada.index", base::phrase("A weight of vertex {0} is not in its source.", v),
                             element);
      // -1 stands for the bind shape itself: no bone moves it.
      if (joint == -1) continue;
      if (joint < 0 || static_cast<size_t>(joint) >= out.joints.size())
        return library.error(
            "collada.index",
            base::phrase("Vertex {0} follows bone {1}, and there are {2}.", v, joint, out.joints.size()),
            element);
      const float w = numbers.at(static_cast<size_t>(weight), 0);
      if (w > 0 && std::isfinite(w)) of.push_back({static_cast<uint32_t>(joint), w});
    }
    std::stable_sort(of.begin(), of.end(),
                     [](const Influence& a, const Influence& b) { return a.weight > b.weight; });
    if (of.size() > 8) ++dropped;
    for (size_t k = 0; k < std::min<size_t>(of.size(), 8); ++k) {
      out.bones[v][k] = static_cast<uint16_t>(std::min(of[k].joint, 65535U));
      out.weights[v][k] = of[k].weight;
    }
  }
  if (dropped > 0)
    library.note("collada.influences",
                 base::phrase("{0} more than eight bones; the eight heaviest are kept.",
                              base::countText(dropped, "vertex follows", "vertices follow")),
                 element);
  return {};
}

}  // namespace

glm::mat4 matrixOf(const float* rows) {
  glm::mat4 out;
  for (int i = 0; i < 16; ++i) out[i % 4][i / 4] = rows[i];
  return out;
}

base::Result<SkinData> readSkin(Library& library, const Element& skin) {
  SkinData out;
  const Element joints = skin.child("joints");
  RAKUGO_ASSIGN(const Element names, inputSource(library, joints, "JOINT"));
  if (!names) return library.error("collada.source", base::phrase("The skin names no bones."), skin);
  RAKUGO_ASSIGN(out.joints, library.words(names));
  out.by_id = static_cast<bool>(names.node.child("IDREF_array"));
  out.inverse_bind.assign(out.joints.size(), glm::mat4(1));
  glm::mat4 shape(1);
  if (const Element bind = skin.child("bind_shape_matrix")) {
    std::string storage;
    std::vector<float> values;
    size_t bad = 0;
    if (!readFloats(textOf(bind.node, storage), values, bad) || values.size() != 16)
      return library.error("collada.number", base::phrase("The bind shape is not made of sixteen numbers."),
                           bind);
    shape = matrixOf(values.data());
  }
  RAKUGO_ASSIGN(const Element matrices, inputSource(library, joints, "INV_BIND_MATRIX"));
  if (matrices) {
    RAKUGO_ASSIGN(const Numbers numbers, library.numbers(matrices));
    if (numbers.components.size() < 16 || numbers.count < out.joints.size())
      return library.error("collada.source",
                           base::phrase("There are fewer inverse bind matrices than bones."), matrices);
    for (size_t j = 0; j < out.joints.size(); ++j) {
      std::array<float, 16> rows{};
      for (size_t i = 0; i < 16; ++i) rows[i] = numbers.at(j, i);
      out.inverse_bind[j] = matrixOf(rows.data());
    }
  }
  // A product with the identity is left out: it could change the sign of a zero.
  if (shape != glm::mat4(1))
    for (glm::mat4& m : out.inverse_bind) m = m * shape;
  const Element weights = skin.child("vertex_weights");
  if (!weights) return library.error("collada.source", base::phrase("The skin has no weights."), skin);
  RAKUGO_TRY(readWeights(library, weights, out));
  return out;
}

base::Result<std::vector<MorphData>> readMorph(Library& library, const Element& morph) {
  const bool relative = std::string_view(morph.text("method")) == "RELATIVE";
  const Element targets = morph.child("targets");
  RAKUGO_ASSIGN(const Element names, inputSource(library, targets, "MORPH_TARGET"));
  RAKUGO_ASSIGN(const Element weights, inputSource(library, targets, "MORPH_WEIGHT"));
  if (!names) return library.error("collada.source", base::phrase("The morph names no targets."), morph);
  RAKUGO_ASSIGN(const std::vector<std::string> ids, library.words(names));
  Numbers amounts;
  if (weights) {
    RAKUGO_ASSIGN(amounts, library.numbers(weights));
  }
  std::vector<MorphData> out;
  for (size_t i = 0; i < ids.size(); ++i) {
    RAKUGO_ASSIGN(const Element geometry, library.follow(names, ids[i][0] == '#' ? ids[i] : "#" + ids[i]));
    if (!geometry) continue;
    out.push_back({nameOf(geometry.node), geometry, i < amounts.count ? amounts.at(i, 0) : 0.0F, relative});
  }
  return out;
}

void putWeights(const SkinData& skin, Piece& piece) {
  scene::Primitive& p = piece.primitive;
  const size_t n = p.positions.size();
  p.joints.assign(n, glm::u16vec4(0));
  p.weights.assign(n, glm::vec4(0));
  const bool more = std::any_of(piece.position_of.begin(), piece.position_of.end(), [&](uint32_t from) {
    return from < skin.weights.size() && skin.weights[from][4] > 0;
  });
  if (more) {
    p.more_joints.assign(n, glm::u16vec4(0));
    p.more_weights.assign(n, glm::vec4(0));
  }
  for (size_t v = 0; v < n; ++v) {
    const size_t from = piece.position_of[v];
    if (from >= skin.bones.size()) continue;
    for (int k = 0; k < 4; ++k) {
      const auto i = static_cast<size_t>(k);
      p.joints[v][k] = skin.bones[from][i];
      p.weights[v][k] = skin.weights[from][i];
      if (!more) continue;
      p.more_joints[v][k] = skin.bones[from][i + 4];
      p.more_weights[v][k] = skin.weights[from][i + 4];
    }
  }
}

base::Result<bool> putMorph(Library& library, const MorphData& morph, const Geometry& base,
                            const Geometry& target, Piece& piece) {
  if (!base.position_source || !target.position_source) return false;
  RAKUGO_ASSIGN(const Numbers from, library.numbers(base.position_source));
  RAKUGO_ASSIGN(const Numbers to, library.numbers(target.position_source));
  if (from.count != to.count) return false;
  RAKUGO_TRY(library.take(piece.position_of.size() * sizeof(glm::vec3) * 2, morph.geometry));
  scene::MorphTarget out;
  const auto delta = [&](const Numbers& a, const Numbers& b, size_t i) {
    const glm::vec3 end(b.at(i, 0), b.at(i, 1), b.at(i, 2));
    return morph.relative ? end : end - glm::vec3(a.at(i, 0), a.at(i, 1), a.at(i, 2));
  };
  for (const uint32_t i : piece.position_of) out.positions.push_back(delta(from, to, i));
  if (base.normal_source && target.normal_source && !piece.normal_of.empty()) {
    RAKUGO_ASSIGN(const Numbers a, library.numbers(base.normal_source));
    RAKUGO_ASSIGN(const Numbers b, library.numbers(target.normal_source));
    // Where a target has normals of its own layout, their places cannot be told from the base's.
    if (a.count == b.count)
      for (const uint32_t i : piece.normal_of) out.normals.push_back(delta(a, b, i));
  }
  piece.primitive.morphs.push_back(std::move(out));
  return true;
}

}  // namespace rakugo::formats::collada
