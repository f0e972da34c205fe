#include "formats/collada/collada_mesh.h"

#include <algorithm>

#include "base/jobs.h"
#include "base/phrase.h"
#include "base/text.h"
#include "geometry/polygon.h"

namespace rakugo::formats::collada {
namespace {

constexpr uint32_t kNone = UINT32_MAX;

// What a semantic gives to a vertex, in the order of the welding key.
enum Role : unsigned char { position, normal, uv0, uv1, color, tangent, binormal, kRoles };

struct Input {
  Role role = position;
  size_t offset = 0;
  Numbers numbers;
  Element source;
  int set = 0;
};

// One <triangles>, <polylist>... : its inputs, and its corners as rows of `stride` whole numbers.
struct Corners {
  std::vector<Input> inputs;
  size_t stride = 1;
  std::vector<int> rows;
  [[nodiscard]] const Input* find(Role role) const {
    for (const Input& i : inputs)
      if (i.role == role) return &i;
    return nullptr;
  }
};

std::optional<Role> roleOf(std::string_view semantic) {
  if (semantic == "POSITION") return position;
  if (semantic == "NORMAL") return normal;
  if (semantic == "TEXCOORD" || semantic == "UV") return uv0;
  if (semantic == "COLOR") return color;
  if (semantic == "TEXTANGENT" || semantic == "TANGENT") return tangent;
  if (semantic == "TEXBINORMAL" || semantic == "BINORMAL") return binormal;
  return std::nullopt;
}

// Makes vertices of rows: rows that name the same places share one. Vertices of a first place hang on a
// chain.
class Welder {
 public:
  Welder(size_t places, size_t rows, size_t width) : width_(width) {
    // A small piece of a large mesh must not pay for all its places.
    dense_ = places <= rows * 4 + 64;
    if (dense_) head_.assign(places, kNone);
    keys_.reserve(rows * width / 3);
    next_.reserve(rows / 3);
  }
  uint32_t number(const std::array<uint32_t, kRoles>& key) {
    uint32_t& head = dense_ ? head_[key[0]] : sparse_.try_emplace(key[0], kNone).first->second;
    for (uint32_t v = head; v != kNone; v = next_[v]) {
      const uint32_t* known = &keys_[v * width_];
      bool same = true;
      for (size_t i = 1; i < width_; ++i) same = same && known[i] == key[i];
      if (same) return v;
    }
    const auto fresh = static_cast<uint32_t>(next_.size());
    next_.push_back(head);
    keys_.insert(keys_.end(), key.begin(), key.begin() + static_cast<ptrdiff_t>(width_));
    head = fresh;
    return fresh;
  }
  [[nodiscard]] size_t size() const { return next_.size(); }
  [[nodiscard]] uint32_t place(size_t vertex, size_t i) const { return keys_[vertex * width_ + i]; }

 private:
  size_t width_;
  bool dense_ = true;
  std::vector<uint32_t> head_, next_, keys_;
  std::unordered_map<uint32_t, uint32_t> sparse_;
};

class PieceBuilder {
 public:
  PieceBuilder(Library& library, Element element, const Corners& corners)
      : library_(library),
        element_(element),
        corners_(corners),
        by_role_(roles(corners)),
        slots_(slots(by_role_)),
        welder_(by_role_[0].input->numbers.count, corners.rows.size() / corners.stride, slots_.size()) {}

  /// Every row looked at once: an error where an index leads out of its source. What follows relies on it.
  base::Status checkRows() const {
    for (const Slot& slot : slots_) {
      bool good = true;
      for (size_t i = slot.offset; i < corners_.rows.size(); i += corners_.stride)
        good &= static_cast<uint32_t>(corners_.rows[i]) < slot.below;
      if (!good) return faultIn(slot);
    }
    return {};
  }
  /// The number of the vertex at a row.
  uint32_t take(size_t row) {
    const int* at = &corners_.rows[row * corners_.stride];
    std::array<uint32_t, kRoles> key;
    for (size_t i = 0; i < slots_.size(); ++i) key[i] = static_cast<uint32_t>(at[slots_[i].offset]);
    return welder_.number(key);
  }
  void triangle(uint32_t a, uint32_t b, uint32_t c) { indices_.insert(indices_.end(), {a, b, c}); }
  void reserve(size_t triangles) { indices_.reserve(triangles * 3); }
  [[nodiscard]] glm::vec3 positionOf(size_t row) const {
    const Input& input = *by_role_[0].input;
    const auto index = static_cast<size_t>(corners_.rows[row * corners_.stride + input.offset]);
    return {input.numbers.at(index, 0), input.numbers.at(index, 1), input.numbers.at(index, 2)};
  }

  Piece build() {
    Piece out;
    out.primitive.indices = std::move(indices_);
    // Each role by itself, on all cores; binormals need normals and tangents and come after.
    base::parallelFor(by_role_.size(), [&](size_t i) {
      if (by_role_[i].role != binormal) fill(i, out);
    });
    for (size_t i = 0; i < by_role_.size(); ++i)
      if (by_role_[i].role == binormal) fill(i, out);
    return out;
  }

 private:
  struct Used {
    Role role;
    const Input* input;
    size_t slot = 0;
  };
  // Inputs at one offset share their indices.
  struct Slot {
    size_t offset = 0;
    uint32_t below = UINT32_MAX;  ///< every index
  };
  static std::vector<Used> roles(const Corners& corners) {
    std::vector<Used> out;
    for (unsigned char r = 0; r < kRoles; ++r)
      if (const Input* input = corners.find(static_cast<Role>(r)))
        out.push_back({static_cast<Role>(r), input});
    return out;
  }
  static std::vector<Slot> slots(std::vector<Used>& used) {
    std::vector<Slot> out;
    for (Used& u : used) {
      const auto same =
          std::find_if(out.begin(), out.end(), [&](const Slot& s) { return s.offset == u.input->offset; });
      u.slot = static_cast<size_t>(same - out.begin());
      if (same == out.end()) out.push_back({u.input->offset, UINT32_MAX});
      Slot& slot = out[u.slot];
      // No index is negative, so that none beyond what an int holds is one either.
      slot.below = static_cast<uint32_t>(std::min<uint64_t>({slot.below, u.input->numbers.count, 1U << 31}));
    }
    return out;
  }
  [[nodiscard]] base::Error faultIn(const Slot& slot) const {
    for (size_t row = 0; row < corners_.rows.size() / corners_.stride; ++row)
      for (const Used& u : by_role_) {
        const int index = corners_.rows[row * corners_.stride + u.input->offset];
        if (u.input->offset == slot.offset &&
            (index < 0 || static_cast<size_t>(index) >= u.input->numbers.count))
          return library_.error("collada.index",
                                base::phrase("Index {0} of corner {1} is outside its source of {2} elements.",
                                             index, row, u.input->numbers.count),
                                element_);
      }
    return library_.error("collada.index", base::phrase("An index is outside its source."), element_);
  }
  void fill(size_t i, Piece& out) const {
    scene::Primitive& p = out.primitive;
    const size_t n = welder_.size(), slot = by_role_[i].slot;
    const Numbers& from = by_role_[i].input->numbers;
    const auto each = [&](auto put) {
      for (size_t v = 0; v < n; ++v) put(v, static_cast<size_t>(welder_.place(v, slot)));
    };
    const auto vec3s = [&](std::vector<glm::vec3>& to) {
      to.resize(n);
      const float* values = from.values->data() + from.offset;
      const size_t x = from.components[0], y = from.components[1], z = from.components[2];
      each([&](size_t v, size_t k) {
        const float* at = values + k * from.stride;
        to[v] = {at[x], at[y], at[z]};
      });
    };
    switch (by_role_[i].role) {
      case position:
        vec3s(p.positions);
        places(slot, out.position_of);
        break;
      case normal:
        vec3s(p.normals);
        places(slot, out.normal_of);
        break;
      case uv0:
      case uv1: {
        const size_t set = by_role_[i].role == uv0 ? 0 : 1;
        out.uv_set[set] = by_role_[i].input->set;
        p.uvs[set].resize(n);
        // COLLADA counts from the picture's lower edge.
        each([&](size_t v, size_t k) { p.uvs[set][v] = {from.at(k, 0), 1 - from.at(k, 1)}; });
        break;
      }
      case color:
        p.colors.resize(n);
        each([&](size_t v, size_t k) {
          p.colors[v] = {from.at(k, 0), from.at(k, 1), from.at(k, 2),
                         from.components.size() > 3 ? from.at(k, 3) : 1.0F};
        });
        break;
      case tangent:
        p.tangents.resize(n);
        each([&](size_t v, size_t k) { p.tangents[v] = {from.at(k, 0), from.at(k, 1), from.at(k, 2), 1}; });
        break;
      default:
        if (p.tangents.size() == n && p.normals.size() == n)
          each([&](size_t v, size_t k) {
            const glm::vec3 b(from.at(k, 0), from.at(k, 1), from.at(k, 2));
            if (glm::dot(glm::cross(p.normals[v], glm::vec3(p.tangents[v])), b) < 0) p.tangents[v].w = -1;
          });
    }
  }
  void places(size_t slot, std::vector<uint32_t>& out) const {
    out.resize(welder_.size());
    for (size_t v = 0; v < out.size(); ++v) out[v] = welder_.place(v, slot);
  }

  Library& library_;
  Element element_;
  const Corners& corners_;
  std::vector<Used> by_role_;
  std::vector<Slot> slots_;
  Welder welder_;
  std::vector<uint32_t> indices_;
};

class GeometryReader {
 public:
  GeometryReader(Library& library, const Element& geometry) : library_(library) {
    out_.element = geometry;
    out_.name = nameOf(geometry.node);
  }

  base::Result<Geometry> run() {
    Element mesh = out_.element.child("mesh");
    if (!mesh) mesh = out_.element.child("convex_mesh");
    if (!mesh) {
      library_.note("collada.no_mesh",
                    base::phrase("A geometry that is no mesh (a curve or surface) is left out."),
                    out_.element);
      return std::move(out_);
    }
    for (pugi::xml_node n = mesh.node.first_child(); n; n = n.next_sibling()) {
      if (library_.cancelled()) return base::cancelledError();
      const std::string_view kind = n.name();
      const Element element = mesh.with(n);
      if (kind == "lines")
        out_.lines += n.attribute("count").as_ullong();
      else if (kind == "linestrips")
        RAKUGO_TRY(countStrips(element));
      else if (kind == "triangles" || kind == "polylist" || kind == "polygons" || kind == "tristrips" ||
               kind == "trifans")
        RAKUGO_TRY(piece(element, kind));
    }
    RAKUGO_TRY(countPositions(mesh));
    return std::move(out_);
  }

 private:
  struct Run {
    size_t begin = 0, count = 0;
    std::vector<size_t> holes;  // where they begin, from `begin`
  };

  // Each position once, however many pieces use it.
  base::Status countPositions(const Element& mesh) {
    for (pugi::xml_node v = mesh.node.child("vertices"); v; v = v.next_sibling("vertices"))
      for (pugi::xml_node i = v.child("input"); i; i = i.next_sibling("input"))
        if (std::string_view(i.attribute("semantic").value()) == "POSITION") {
          RAKUGO_ASSIGN(const Element source, library_.follow(mesh.with(i), i.attribute("source").value()));
          if (!source) continue;
          RAKUGO_ASSIGN(const Numbers numbers, library_.numbers(source));
          out_.positions += numbers.count;
          // A morph target may hold nothing else.
          if (!out_.position_source) out_.position_source = source;
        }
    return {};
  }

  base::Status countStrips(const Element& element) {
    Corners corners;
    RAKUGO_TRY(inputs(element, corners));
    for (pugi::xml_node p = element.node.child("p"); p; p = p.next_sibling("p")) {
      corners.rows.clear();
      RAKUGO_TRY(rows(element.with(p), corners));
      const size_t n = corners.rows.size() / corners.stride;
      out_.lines += n > 0 ? n - 1 : 0;
    }
    return {};
  }

  base::Status input(const Element& element, size_t offset, Corners& corners) {
    const std::string_view semantic = element.text("semantic");
    const std::string url = element.text("source");
    if (semantic == "VERTEX") {
      RAKUGO_ASSIGN(const Element vertices, library_.follow(element, url));
      if (!vertices)
        return library_.error("collada.reference",
                              base::phrase("The vertices that the element names are not there."), element);
      for (pugi::xml_node i = vertices.node.child("input"); i; i = i.next_sibling("input"))
        if (std::string_view(i.attribute("semantic").value()) != "VERTEX")
          RAKUGO_TRY(input(vertices.with(i), offset, corners));
      return {};
    }
    auto role = roleOf(semantic);
    if (!role) return {};
    if (*role == uv0 && corners.find(uv0) != nullptr) role = uv1;
    if (corners.find(*role) != nullptr) {
      if (*role == uv1)
        library_.note("collada.uv_set",
                      base::phrase("More than two sets of texture coordinates; the first two are read."),
                      element);
      return {};
    }
    RAKUGO_ASSIGN(const Element source, library_.follow(element, url));
    if (!source)
      return library_.error("collada.reference", base::phrase("The source that an input names is not there."),
                            element);
    Input out;
    out.role = *role;
    out.offset = offset;
    out.source = source;
    out.set = element.node.attribute("set").as_int(0);
    RAKUGO_ASSIGN(out.numbers, library_.layout(source));
    const size_t needed = *role == uv0 || *role == uv1 ? 2 : 3;
    if (out.numbers.components.size() < needed)
      return library_.error("collada.source",
                            base::phrase("The source gives {0} numbers an element where {1} are needed.",
                                         out.numbers.components.size(), needed),
                            source);
    corners.inputs.push_back(std::move(out));
    return {};
  }

  base::Status inputs(const Element& element, Corners& corners) {
    size_t most = 0;
    for (pugi::xml_node i = element.node.child("input"); i; i = i.next_sibling("input")) {
      const uint64_t offset = i.attribute("offset").as_ullong(i.attribute("idx").as_ullong(0));
      if (offset > 63)
        return library_.error("collada.source", base::phrase("An input's offset is too large."),
                              element.with(i));
      most = std::max<size_t>(most, offset);
      RAKUGO_TRY(input(element.with(i), offset, corners));
    }
    corners.stride = most + 1;
    return {};
  }

  base::Status rows(const Element& p, Corners& corners) {
    std::string storage;
    const std::string_view text = p.document->listOf(p.node, storage);
    RAKUGO_TRY(library_.take(text.size() * 16, p));
    size_t bad = 0;
    if (!readIntegers(text, corners.rows, bad))
      return library_.error("collada.number",
                            base::phrase("\"{0}\" is no index.", base::presentable(text.substr(bad, 24), 24)),
                            p);
    const size_t left = corners.rows.size() % corners.stride;
    if (left != 0) {
      library_.note("collada.incomplete",
                    base::phrase("The last corner of a list is not complete and is left out."), p);
      corners.rows.resize(corners.rows.size() - left);
    }
    return {};
  }

  // Corners of one polygon, from row `begin`; holes as further runs of rows.
  base::Status polygon(PieceBuilder& builder, size_t begin, size_t count,
                       const std::vector<size_t>& holes = {}) {
    numbers_.resize(count);
    for (size_t i = 0; i < count; ++i) numbers_[i] = builder.take(begin + i);
    if (count < 3) return {};
    if (count == 3 && holes.empty())
      return builder.triangle(numbers_[0], numbers_[1], numbers_[2]), base::Status();
    places_.clear();
    for (size_t i = 0; i < count; ++i) places_.push_back(builder.positionOf(begin + i));
    cut_.clear();
    if (holes.empty())
      geometry::triangulatePolygon(places_, cut_);
    else
      geometry::triangulateWithHoles(places_, holes, cut_);
    for (size_t i = 0; i + 2 < cut_.size(); i += 3)
      builder.triangle(numbers_[cut_[i]], numbers_[cut_[i + 1]], numbers_[cut_[i + 2]]);
    return {};
  }

  base::Status polylist(const Element& element, const Corners& corners, PieceBuilder& builder) {
    std::vector<int> counts;
    std::string storage;
    const Element list = element.child("vcount");
    const std::string_view text = list.document->listOf(list.node, storage);
    size_t bad = 0;
    if (!readIntegers(text, counts, bad))
      return library_.error("collada.number",
                            base::phrase("\"{0}\" is no count.", base::presentable(text.substr(bad, 24), 24)),
                            list);
    size_t at = 0;
    const size_t all = corners.rows.size() / corners.stride;
    builder.reserve(all);
    for (size_t i = 0; i < counts.size(); ++i) {
      const int count = counts[i];
      if (count < 0 || static_cast<size_t>(count) > all - at)
        return library_.error(
            "collada.index",
            base::phrase("Polygon {0} has {1} corners, and {2} are left.", i, count, all - at), list);
      RAKUGO_TRY(polygon(builder, at, static_cast<size_t>(count)));
      at += static_cast<size_t>(count);
    }
    return {};
  }

  // <polygons>: each <p> one polygon, each <ph> one with holes. All rows are read first, then cut.
  base::Status readPolygons(const Element& element, Corners& corners) {
    for (pugi::xml_node n = element.node.first_child(); n; n = n.next_sibling()) {
      const std::string_view kind = n.name();
      if (kind != "p" && kind != "ph") continue;
      Run run{corners.rows.size() / corners.stride, 0, {}};
      RAKUGO_TRY(rows(element.with(kind == "p" ? n : n.child("p")), corners));
      for (pugi::xml_node h = n.child("h"); h; h = h.next_sibling("h")) {
        run.holes.push_back(corners.rows.size() / corners.stride - run.begin);
        RAKUGO_TRY(rows(element.with(h), corners));
      }
      run.count = corners.rows.size() / corners.stride - run.begin;
      runs_.push_back(std::move(run));
    }
    return {};
  }

  base::Status strip(PieceBuilder& builder, const Run& run, bool fan) {
    numbers_.resize(run.count);
    for (size_t i = 0; i < run.count; ++i) numbers_[i] = builder.take(run.begin + i);
    for (size_t i = 2; i < run.count; ++i) {
      const uint32_t a = fan ? numbers_[0] : numbers_[i - 2], b = numbers_[i - 1], c = numbers_[i];
      if (a == b || b == c || a == c) continue;  // strips turn corners with empty triangles
      const bool odd = !fan && i % 2 == 1;
      builder.triangle(a, odd ? c : b, odd ? b : c);
    }
    return {};
  }

  static base::Status triangles(PieceBuilder& builder, size_t corners) {
    RAKUGO_TRY(builder.checkRows());
    builder.reserve(corners / 3);
    for (size_t i = 0; i + 2 < corners; i += 3) {
      const uint32_t a = builder.take(i), b = builder.take(i + 1), c = builder.take(i + 2);
      builder.triangle(a, b, c);
    }
    return {};
  }

  base::Status polygons(const Element& element, std::string_view kind, const Corners& corners,
                        PieceBuilder& builder) {
    RAKUGO_TRY(builder.checkRows());
    if (kind == "polylist") return polylist(element, corners, builder);
    for (const Run& run : runs_)
      RAKUGO_TRY(kind == "polygons" ? polygon(builder, run.begin, run.count, run.holes)
                                    : strip(builder, run, kind == "trifans"));
    return {};
  }

  base::Status piece(const Element& element, std::string_view kind) {
    Corners corners;
    RAKUGO_TRY(inputs(element, corners));
    const Input* positions = corners.find(position);
    runs_.clear();
    if (kind == "polygons" || kind == "tristrips" || kind == "trifans") {
      RAKUGO_TRY(readPolygons(element, corners));
    } else {
      for (pugi::xml_node p = element.node.child("p"); p; p = p.next_sibling("p"))
        RAKUGO_TRY(rows(element.with(p), corners));
    }
    if (corners.rows.empty()) return {};
    if (positions == nullptr) {
      library_.note("collada.no_positions", base::phrase("Triangles without positions are left out."),
                    element);
      return {};
    }
    const size_t all = corners.rows.size() / corners.stride;
    if (all > library_.options().limits.elements)
      return library_.error("collada.too_large", base::phrase("The mesh has more corners than Rakugo reads."),
                            element);
    PieceBuilder builder(library_, element, corners);
    base::Status filled, cut;
    const auto fillAll = [&] {
      for (Input& input : corners.inputs)
        if (filled = library_.fill(input.source, input.numbers); !filled) return;
    };
    if (kind == "triangles") {
      // Which corners are one vertex is told by their indices alone: done while the numbers are read.
      base::parallelFor(2, [&](size_t i) {
        if (i == 0)
          cut = triangles(builder, all);
        else
          fillAll();
      });
      if (all % 3 != 0)
        library_.note("collada.incomplete",
                      base::phrase("The last triangle is not complete and is left out."), element);
    } else {
      fillAll();
      if (filled) cut = polygons(element, kind, corners, builder);
    }
    RAKUGO_TRY(filled);
    RAKUGO_TRY(cut);
    Piece made = builder.build();
    made.triangles = made.primitive.indices.size() / 3;
    made.symbol = element.text("material");
    if (!out_.position_source) out_.position_source = positions->source;
    const Input* normals = corners.find(normal);
    if (out_.pieces.empty())
      out_.normal_source = normals != nullptr ? normals->source : Element{};
    else if (normals == nullptr || normals->source.node != out_.normal_source.node)
      out_.normal_source = {};
    out_.pieces.push_back(std::move(made));
    return {};
  }

  Library& library_;
  Geometry out_;
  std::vector<Run> runs_;
  std::vector<uint32_t> numbers_, cut_;
  std::vector<glm::vec3> places_;
};

}  // namespace

base::Result<Geometry> readGeometry(Library& library, const Element& geometry) {
  return GeometryReader(library, geometry).run();
}

}  // namespace rakugo::formats::collada
