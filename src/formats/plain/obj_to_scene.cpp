// Second stage of the OBJ reader: faces sorted into parts and materials, corners made into vertices.
#include <algorithm>
#include <atomic>
#include <map>
#include <optional>
#include <unordered_map>

#include "base/phrase.h"
#include "base/text.h"
#include "formats/plain/mtl.h"
#include "formats/plain/obj_parse.h"
#include "formats/plain/simple_parts.h"
#include "formats/text/text_encoding.h"
#include "geometry/polygon.h"

namespace rakugo::formats {
namespace {

using obj::Corner;
using obj::File;
using obj::kNone;
using obj::StateKind;

// Faces that follow each other with everything alike.
struct Run {
  size_t first_face = 0, end_face = 0;
  int smoothing = 0;  // 0: flat
};

// What becomes one primitive.
struct Batch {
  std::string part, material;
  std::vector<Run> runs;
};

// Numbers for the corners that are alike: open addressing, no more than half full.
class CornerTable {
 public:
  // Most meshes have a vertex for four to six corners.
  explicit CornerTable(size_t corners) {
    size_t size = 16;
    while (size < corners / 2) size *= 2;
    slots_.assign(size, UINT32_MAX);
  }
  uint32_t number(const Corner& c) {
    for (size_t at = hashOf(c) & (slots_.size() - 1);; at = (at + 1) & (slots_.size() - 1)) {
      if (slots_[at] == UINT32_MAX) {
        const auto fresh = static_cast<uint32_t>(known.size());
        slots_[at] = fresh;
        known.push_back(c);
        if (known.size() * 2 > slots_.size()) grow();
        return fresh;
      }
      if (known[slots_[at]] == c) return slots_[at];
    }
  }
  std::vector<Corner> known;

 private:
  static size_t hashOf(const Corner& c) {
    uint64_t h = static_cast<uint32_t>(c.position) * 0x9E3779B97F4A7C15ull;
    h ^= (static_cast<uint64_t>(static_cast<uint32_t>(c.uv)) + 0x7F4A7C15ull) * 0xC2B2AE3D27D4EB4Full;
    h ^= (static_cast<uint64_t>(static_cast<uint32_t>(c.normal)) + 0x165667B1ull) * 0xD6E8FEB86659FD93ull;
    return h ^ h >> 32;
  }
  void grow() {
    slots_.assign(slots_.size() * 2, UINT32_MAX);
    for (uint32_t i = 0; i < known.size(); ++i) {
      size_t at = hashOf(known[i]) & (slots_.size() - 1);
      while (slots_[at] != UINT32_MAX) at = (at + 1) & (slots_.size() - 1);
      slots_[at] = i;
    }
  }
  std::vector<uint32_t> slots_;
};

// The piece of the file's faces that face lies in.
size_t pieceOf(const File& file, size_t face) {
  const auto after = std::upper_bound(file.faces.begin(), file.faces.end(), face,
                                      [](size_t f, const obj::Faces& piece) { return f < piece.first; });
  return static_cast<size_t>(after - file.faces.begin()) - 1;
}

// Gives up each piece once the last batch that needs it is through with it: the corners go as the vertices
// come, and never lie beside the whole model.
class Pieces {
 public:
  Pieces(File& file, const std::vector<Batch>& batches) : file_(file), left_(file.faces.size()) {
    for (const Batch& batch : batches) {
      size_t next = 0;  // pieces before this are counted for the batch
      for (const Run& run : batch.runs)
        for (size_t p = std::max(next, pieceOf(file, run.first_face)); p <= pieceOf(file, run.end_face - 1);
             next = ++p)
          ++left_[p];
    }
  }
  [[nodiscard]] const obj::Faces& at(size_t piece) const { return file_.faces[piece]; }
  [[nodiscard]] size_t of(size_t face) const { return pieceOf(file_, face); }
  void done(size_t piece) {
    if (--left_[piece] > 0) return;
    std::vector<Corner>().swap(file_.faces[piece].corners);
    std::vector<uint32_t>().swap(file_.faces[piece].ends);
  }

 private:
  File& file_;
  std::vector<std::atomic<uint32_t>> left_;
};

class BatchBuilder {
 public:
  // `used`: one a position of the file, set for those that a face names.
  BatchBuilder(const File& file, Pieces& pieces, const Batch& batch, bool smooth_by_groups,
               std::vector<std::atomic<uint8_t>>& used)
      : file_(file), pieces_(pieces), batch_(batch), by_groups_(smooth_by_groups), used_(used) {}

  scene::Primitive build() {
    const size_t corners = cornerCount();
    CornerTable table(corners);
    out_.indices.reserve(corners);
    addFaces(table);
    const std::vector<Corner> known = std::move(table.known);
    table = CornerTable(0);
    for (const Corner& c : known) used_[static_cast<size_t>(c.position)].store(1, std::memory_order_relaxed);
    bool any_uv = false, any_normal = false;
    for (const Corner& c : known) {
      any_uv = any_uv || c.uv != kNone;
      any_normal = any_normal || c.normal != kNone;
    }
    const size_t n = known.size();
    out_.positions.reserve(n);
    for (const Corner& c : known) out_.positions.push_back(file_.positions[static_cast<size_t>(c.position)]);
    if (any_uv) {
      out_.uvs[0].reserve(n);
      for (const Corner& c : known)
        out_.uvs[0].push_back(c.uv == kNone ? glm::vec2(0) : file_.uvs[static_cast<size_t>(c.uv)]);
    }
    if (!file_.colors.empty()) {
      out_.colors.reserve(n);
      for (const Corner& c : known) out_.colors.push_back(file_.colors[static_cast<size_t>(c.position)]);
    }
    if (by_groups_) {
      smooth(known);
    } else if (any_normal) {
      out_.normals.reserve(n);
      for (const Corner& c : known)
        out_.normals.push_back(c.normal == kNone ? glm::vec3(0)
                                                 : file_.normals[static_cast<size_t>(c.normal)]);
    }
    return std::move(out_);
  }

 private:
  // Calls `body(piece, first face, end face)` for each stretch of a run in one piece; faces count from the
  // piece's first.
  template <class Body>
  void eachStretch(const Run& run, Body body) const {
    for (size_t p = pieces_.of(run.first_face), f = run.first_face; f < run.end_face; ++p) {
      const obj::Faces& piece = pieces_.at(p);
      const size_t end = std::min(run.end_face, piece.first + piece.ends.size());
      body(p, f - piece.first, end - piece.first);
      f = end;
    }
  }
  [[nodiscard]] size_t cornerCount() const {
    size_t out = 0;
    for (const Run& run : batch_.runs)
      eachStretch(run, [&](size_t p, size_t begin, size_t end) {
        const auto& ends = pieces_.at(p).ends;
        out += ends[end - 1] - (begin == 0 ? 0 : ends[begin - 1]);
      });
    return out;
  }
  void addFaces(CornerTable& table) {
    std::optional<size_t> open;
    for (const Run& run : batch_.runs)
      eachStretch(run, [&](size_t p, size_t begin, size_t end) {
        if (open && *open != p) pieces_.done(*open);
        open = p;
        for (size_t f = begin; f < end; ++f) face(pieces_.at(p), f, run.smoothing, table);
      });
    if (open) pieces_.done(*open);
  }

  void face(const obj::Faces& piece, size_t f, int smoothing, CornerTable& table) {
    const size_t begin = f == 0 ? 0 : piece.ends[f - 1], count = piece.ends[f] - begin;
    numbers_.clear();
    for (size_t i = 0; i < count; ++i) {
      Corner c = piece.corners[begin + i];
      // Where normals are made of groups, a corner is shared within its group, or within its face when flat.
      if (by_groups_) c.normal = smoothing != 0 ? -smoothing : static_cast<int>(piece.first + f);
      numbers_.push_back(table.number(c));
    }
    if (count == 3) {
      out_.indices.insert(out_.indices.end(), numbers_.begin(), numbers_.end());
      return;
    }
    corners_.clear();
    for (size_t i = 0; i < count; ++i)
      corners_.push_back(file_.positions[static_cast<size_t>(piece.corners[begin + i].position)]);
    cut_.clear();
    geometry::triangulatePolygon(corners_, cut_);
    for (const uint32_t i : cut_) out_.indices.push_back(numbers_[i]);
  }

  // The sum of the faces round a position in one group, weighted by their area.
  void smooth(const std::vector<Corner>& known) {
    const auto key = [&](uint32_t v) {
      return static_cast<uint64_t>(static_cast<uint32_t>(known[v].position)) << 32 |
             static_cast<uint32_t>(known[v].normal);
    };
    std::unordered_map<uint64_t, glm::vec3> sums;
    for (size_t t = 0; t + 2 < out_.indices.size(); t += 3) {
      const glm::vec3 a = out_.positions[out_.indices[t]], b = out_.positions[out_.indices[t + 1]],
                      c = out_.positions[out_.indices[t + 2]];
      const glm::vec3 n = glm::cross(b - a, c - a);
      for (size_t i = 0; i < 3; ++i) sums.try_emplace(key(out_.indices[t + i]), 0).first->second += n;
    }
    out_.normals.assign(known.size(), glm::vec3(0, 0, 1));
    for (uint32_t v = 0; v < known.size(); ++v)
      if (const auto sum = sums.find(key(v)); sum != sums.end())
        if (const float length = glm::length(sum->second); length > 0 && std::isfinite(length))
          out_.normals[v] = sum->second / length;
  }

  const File& file_;
  Pieces& pieces_;
  const Batch& batch_;
  bool by_groups_;
  std::vector<std::atomic<uint8_t>>& used_;
  scene::Primitive out_;
  std::vector<uint32_t> numbers_, cut_;
  std::vector<glm::vec3> corners_;
};

// Sorts faces into batches: parts by object, or by group where there is no object; then by material.
std::vector<Batch> batchesOf(const File& file, const std::string& stem) {
  const bool objects = std::any_of(file.states.begin(), file.states.end(),
                                   [](const obj::State& s) { return s.kind == StateKind::object; });
  std::vector<Batch> out;
  std::map<std::pair<std::string, std::string>, size_t> known;
  std::string part, material;
  int smoothing = 0;
  size_t from = 0, next = 0;
  const auto flush = [&](size_t to) {
    if (to == from) return;
    const std::string& named = part.empty() ? stem : part;
    const auto [at, fresh] = known.try_emplace({named, material}, out.size());
    if (fresh) out.push_back({named, material, {}});
    out[at->second].runs.push_back({from, to, smoothing});
    from = to;
  };
  for (; next < file.states.size(); ++next) {
    const obj::State& s = file.states[next];
    flush(s.face);
    if (s.kind == (objects ? StateKind::object : StateKind::group)) part = base::presentable(s.text);
    if (s.kind == StateKind::material) material = std::string(s.text);
    if (s.kind == StateKind::smoothing) {
      smoothing = 0;
      for (const char c : s.text)
        smoothing = c >= '0' && c <= '9' && smoothing < 1'000'000 ? smoothing * 10 + (c - '0') : smoothing;
    }
  }
  flush(file.face_count);
  return out;
}

// Asks for each library: first the whole rest of its line, for names with spaces; then its words.
void readLibraries(const File& file, const std::string& name, const Fetch& fetch,
                   std::map<std::string, scene::Material>& materials, ReadModel& out) {
  for (const std::string_view line : file.libraries) {
    const auto take = [&](std::string path) {
      std::replace(path.begin(), path.end(), '\\', '/');
      const auto bytes =
          fetch ? fetch(path) : base::Result<base::Bytes>(base::Error{"file.missing", "", {}, ""});
      if (bytes) readMtl(*bytes, path, materials, out.model.images, out.notes);
      return bytes.ok();
    };
    if (line.empty() || take(std::string(line))) continue;
    std::string_view words = line;
    for (std::string_view word = nextWord(words); !word.empty(); word = nextWord(words)) {
      if ((word.size() != line.size() && take(std::string(word))) || out.notes.size() > 40) continue;
      out.notes.push_back({"obj.library_missing",
                           base::phrase("The material library {0} is not there; its materials are plain.",
                                        base::presentable(word, 80)),
                           base::Place{name}});
    }
  }
}

}  // namespace

bool looksLikeObj(base::ByteSpan bytes) {
  std::string storage;
  auto text = asUtf8(bytes.first(std::min<size_t>(bytes.size() & ~size_t{1}, size_t{1} << 16)), storage);
  if (!text) return false;
  while (!text->empty()) {
    std::string_view line = nextLine(*text);
    const std::string_view word = nextWord(line);
    if (word.empty() || word.front() == '#') continue;
    for (const char* known : {"v", "vn", "vt", "o", "g", "mtllib", "usemtl", "f", "s", "vp"})
      if (word == known) return true;
    return false;
  }
  return false;
}

namespace {

// Puts the primitives together: parts by name, materials in the order of their first use, pictures fetched.
void assemble(const std::vector<Batch>& batches, std::vector<scene::Primitive> primitives,
              const std::map<std::string, scene::Material>& library, const Fetch& fetch,
              scene::Model& model) {
  std::map<std::string, scene::MaterialIndex> materials;
  std::map<std::string, size_t> parts;
  std::vector<scene::Mesh> meshes;
  for (size_t i = 0; i < batches.size(); ++i) {
    const Batch& batch = batches[i];
    if (!batch.material.empty()) {
      const auto [at, fresh] = materials.try_emplace(batch.material, model.materials.size());
      if (fresh) {
        const auto found = library.find(batch.material);
        scene::Material plain;
        plain.metallic = 0;
        plain.name = base::presentable(batch.material);
        model.materials.push_back(found != library.end() ? found->second : plain);
        model.materials.back().name = plain.name;
      }
      primitives[i].material = at->second;
    }
    const auto [at, fresh] = parts.try_emplace(batch.part, meshes.size());
    if (fresh) meshes.push_back({batch.part, {}});
    meshes[at->second].primitives.push_back(std::move(primitives[i]));
  }
  for (scene::Mesh& mesh : meshes) addPart(model, std::move(mesh));
  for (scene::Image& image : model.images)
    if (fetch)
      if (auto read = fetch(image.uri))
        image.bytes = std::make_shared<const base::Bytes>(std::move(read).value());
  scene::assignKeys(model);
}

}  // namespace

base::Result<ReadModel> readObj(base::ByteSpan bytes, const std::string& name, const Fetch& fetch,
                                const ReadOptions& options) {
  std::string storage;
  const auto text = asUtf8(bytes, storage);
  if (!text)
    return base::Error{"obj.encoding", base::phrase("The text is cut off in the middle of a character."),
                       base::Place{name}, base::phrase("Copy or export the file again.")};
  std::string with_feeds;
  std::string_view lines = *text;
  // Old exports end their lines with a carriage return alone.
  if (lines.find('\n') == std::string_view::npos && lines.find('\r') != std::string_view::npos) {
    with_feeds = lines;
    std::replace(with_feeds.begin(), with_feeds.end(), '\r', '\n');
    lines = with_feeds;
  }
  RAKUGO_ASSIGN(File file, obj::parse(lines, name, options));
  ReadModel out;
  out.format = "OBJ";
  out.stored_vertices = file.positions.size();
  out.lines = file.lines;
  out.points = file.points;
  out.notes = std::move(file.notes);
  if (file.face_count == 0)
    return base::Error{"obj.empty",
                       file.lines + file.points > 0
                           ? base::phrase("The file holds lines or points only, no faces.")
                           : base::phrase("The file holds no faces."),
                       base::Place{name}, base::phrase("Export the model as a mesh.")};
  if (file.lines + file.points > 0)
    out.notes.push_back({"obj.no_triangles",
                         base::phrase("Games draw triangles; left out: {0}, {1}.",
                                      base::countText(file.lines, "line", "lines"),
                                      base::countText(file.points, "point", "points")),
                         base::Place{name}});
  const std::vector<Batch> batches = batchesOf(file, partNameOf(name));
  std::map<std::string, scene::Material> library;
  readLibraries(file, name, fetch, library, out);
  const bool by_groups =
      file.normals.empty() && std::any_of(file.states.begin(), file.states.end(),
                                          [](const obj::State& s) { return s.kind == StateKind::smoothing; });
  std::vector<scene::Primitive> primitives(batches.size());
  Pieces pieces(file, batches);
  std::vector<std::atomic<uint8_t>> used(file.positions.size());
  base::parallelFor(batches.size(), [&](size_t i) {
    if (options.progress == nullptr || !options.progress->cancelled())
      primitives[i] = BatchBuilder(file, pieces, batches[i], by_groups, used).build();
  });
  if (options.progress != nullptr && options.progress->cancelled()) return base::cancelledError();

  for (const std::atomic<uint8_t>& one : used) out.unused_vertices += one.load() == 0 ? 1 : 0;
  if (out.unused_vertices > 0)
    out.notes.push_back({"obj.unused_vertices",
                         base::phrase("{0} named by no face and left out.",
                                      base::countText(out.unused_vertices, "vertex is", "vertices are")),
                         base::Place{name}});

  assemble(batches, std::move(primitives), library, fetch, out.model);
  return out;
}

}  // namespace rakugo::formats
