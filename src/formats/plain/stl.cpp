#include "formats/plain/stl.h"

#include <array>
#include <bit>
#include <cmath>
#include <limits>
#include <unordered_map>

#include "base/phrase.h"
#include "base/text.h"
#include "formats/plain/simple_parts.h"
#include "formats/text/numbers.h"
#include "formats/text/text_encoding.h"
#include "formats/text/words.h"

namespace rakugo::formats {
namespace {

constexpr size_t kHeader = 84, kFacet = 50;

uint32_t facetCount(base::ByteSpan bytes) { return base::loadAt<uint32_t>(bytes, 80); }

bool isBinary(base::ByteSpan bytes) {
  return bytes.size() >= kHeader && (bytes.size() - kHeader) / kFacet == facetCount(bytes) &&
         facetCount(bytes) > 0;
}

bool beginsWithSolid(base::ByteSpan bytes) {
  return bytes.size() >= 6 && base::lowerAscii(base::asText(bytes.first(5))) == "solid";
}

// Welds corners by the bits of their position; minus zero is zero.
class Welder {
 public:
  void corner(glm::vec3 p) {
    const glm::vec3 key = p + glm::vec3(0);
    const auto [at, fresh] = known_.try_emplace(key, static_cast<uint32_t>(out.positions.size()));
    if (fresh) out.positions.push_back(p);
    out.indices.push_back(at->second);
  }
  scene::Primitive out;

 private:
  struct Hash {
    size_t operator()(const glm::vec3& p) const {
      uint64_t h = 0;
      for (int i = 0; i < 3; ++i) h = (h ^ std::bit_cast<uint32_t>(p[i])) * 0x9E3779B97F4A7C15ull;
      return h ^ (h >> 29);
    }
  };
  struct Same {
    bool operator()(const glm::vec3& a, const glm::vec3& b) const {
      return std::bit_cast<std::array<uint32_t, 3>>(a) == std::bit_cast<std::array<uint32_t, 3>>(b);
    }
  };
  std::unordered_map<glm::vec3, uint32_t, Hash, Same> known_;
};

void addSolid(ReadModel& out, const std::string& name, scene::Primitive primitive) {
  out.stored_vertices += primitive.indices.size();
  scene::Mesh mesh{name, {}};
  mesh.primitives.push_back(std::move(primitive));
  addPart(out.model, std::move(mesh));
}

class TextReader {
 public:
  TextReader(std::string_view text, const std::string& name, const std::string& stem, ReadModel& out)
      : text_(text), name_(name), stem_(stem), out_(out) {}

  base::Status run() {
    while (next()) {
      const std::string what = base::lowerAscii(nextWord(line_));
      if (what.empty()) continue;
      if (what == "solid") {
        if (corners_ != 0) return fault(base::phrase("A solid begins inside a facet."));
        finish();
        title_ = base::presentable(trimmed(line_));
      } else if (what == "vertex") {
        RAKUGO_TRY(vertex());
      } else if (what == "endfacet") {
        if (corners_ != 3) return fault(base::phrase("A facet has {0} corners in place of three.", corners_));
        corners_ = 0;
      } else if (what != "facet" && what != "outer" && what != "endloop" && what != "endsolid") {
        return fault(base::phrase("\"{0}\" is no statement of the format.", base::presentable(what, 40)));
      }
    }
    if (corners_ != 0)
      return base::Error{"stl.cut", base::phrase("The file ends inside a facet."), place(),
                         base::phrase("Export it again.")};
    finish();
    return {};
  }

 private:
  bool next() {
    if (text_.empty()) return false;
    line_ = nextLine(text_);
    ++number_;
    return true;
  }
  [[nodiscard]] base::Place place() const { return {name_, "", -1, number_}; }
  [[nodiscard]] base::Error fault(const std::string& message) const {
    return {"stl.syntax", message, place(), base::phrase("Export the model again.")};
  }
  base::Status vertex() {
    glm::vec3 p(0);
    for (int i = 0; i < 3; ++i) {
      const std::string_view word = nextWord(line_);
      const std::string low = base::lowerAscii(word);
      if (readFloat(word.data(), word.data() + word.size(), p[i]) != nullptr) continue;
      if (low.find("nan") == std::string::npos && low.find("inf") == std::string::npos)
        return fault(base::phrase("A corner has three numbers; here one is missing."));
      p[i] = std::numeric_limits<float>::quiet_NaN();
    }
    if (++corners_ > 3) return fault(base::phrase("A facet has more than three corners."));
    welder_.corner(p);
    return {};
  }
  void finish() {
    if (!welder_.out.indices.empty()) addSolid(out_, title_.empty() ? stem_ : title_, std::move(welder_.out));
    welder_ = Welder();
  }

  std::string_view text_, line_;
  const std::string& name_;
  const std::string& stem_;
  ReadModel& out_;
  Welder welder_;
  std::string title_;
  int number_ = 0, corners_ = 0;
};

}  // namespace

bool looksLikeStl(base::ByteSpan bytes) {
  if (isBinary(bytes)) return true;
  if (!beginsWithSolid(bytes)) return false;
  const std::string start = base::lowerAscii(base::asText(bytes.first(std::min<size_t>(bytes.size(), 4096))));
  return start.find("facet") != std::string::npos || start.find("endsolid") != std::string::npos;
}

base::Result<ReadModel> readStl(base::ByteSpan bytes, const std::string& name, const ReadOptions& options) {
  ReadModel out;
  out.format = "STL";
  out.model.frame.up = geometry::Axis::plus_z;
  out.model.frame.forward = geometry::Axis::plus_x;
  const std::string stem = partNameOf(name);
  if (bytes.size() / kFacet > options.limits.elements)
    return base::Error{"stl.too_large", base::phrase("The model has more facets than Rakugo takes in."),
                       base::Place{name}, base::phrase("Split it into several files.")};
  if (isBinary(bytes)) {
    out.version = "binary";
    const uint32_t count = facetCount(bytes);
    Welder welder;
    welder.out.indices.reserve(size_t{count} * 3);
    for (uint32_t f = 0; f < count; ++f) {
      if (f % 65536 == 0 && options.progress != nullptr && options.progress->cancelled())
        return base::cancelledError();
      for (size_t c = 0; c < 3; ++c)
        welder.corner(base::loadAt<glm::vec3>(bytes, kHeader + size_t{f} * kFacet + 12 + c * 12));
    }
    if (const size_t over = (bytes.size() - kHeader) % kFacet; over != 0)
      out.notes.push_back({"stl.more",
                           base::phrase("{0} follow the last facet.", base::countText(over, "byte", "bytes")),
                           base::Place{name, "", static_cast<int64_t>(bytes.size() - over)}});
    addSolid(out, stem, std::move(welder.out));
  } else if (beginsWithSolid(bytes)) {
    out.version = "text";
    std::string storage;
    const auto text = asUtf8(bytes, storage);
    if (text) RAKUGO_TRY(TextReader(*text, name, stem, out).run());
  } else if (bytes.size() >= kHeader) {
    return base::Error{
        "stl.cut",
        base::phrase("The file counts {0} facets and holds {1}.", base::groupedText(facetCount(bytes)),
                     base::groupedText((bytes.size() - kHeader) / kFacet)),
        base::Place{name, "", 80}, base::phrase("It was cut off or damaged; copy or export it again.")};
  }
  if (out.model.meshes.empty())
    return base::Error{"stl.empty", base::phrase("The file holds no facet."), base::Place{name},
                       base::phrase("Export the model again.")};
  scene::assignKeys(out.model);
  return out;
}

}  // namespace rakugo::formats
