#include "formats/obj_parse.h"

#include <algorithm>
#include <limits>
#include <map>

#include "base/text.h"
#include "formats/numbers.h"

namespace rakugo::formats::obj {
namespace {

// A chunk numbers its own elements from zero; what it counts back from itself may lie in an earlier chunk.
// Such indices are kept as small numbers below this until all chunks are counted.
constexpr int kBack = -(1 << 30);
constexpr int kMostElements = 1 << 29;  // so that no index meets kBack
constexpr size_t kChunkBytes = size_t{1} << 20;

struct Chunk {
  std::string_view text;
  size_t first_line = 0;  // of the file, from 0; known once all chunks before are counted
  File own;
  std::vector<uint32_t> corner_counts, face_lines;  // by face
  size_t text_lines = 0;
  bool colored = false;
  std::map<std::string, std::pair<uint64_t, size_t>> odd;  // statement -> how often, first line
  std::optional<base::Error> error;
  size_t error_line = 0;
};

class ChunkParser {
 public:
  ChunkParser(Chunk& chunk, const std::string& name) : chunk_(chunk), out_(chunk.own), name_(name) {}

  void run() {
    std::string_view rest = chunk_.text;
    while (!rest.empty() && !chunk_.error) {
      const size_t end = std::min(rest.find('\n'), rest.size());
      std::string_view line = rest.substr(0, end);
      rest.remove_prefix(std::min(end + 1, rest.size()));
      line_ = chunk_.text_lines++;
      // A backslash at the end of a line joins the next one to it.
      if (const auto whole = trimmed(line); !whole.empty() && whole.back() == '\\') {
        joined_.clear();
        std::string_view part = whole;
        while (!part.empty() && part.back() == '\\') {
          joined_ += part.substr(0, part.size() - 1);
          joined_ += ' ';
          const size_t next = std::min(rest.find('\n'), rest.size());
          part = trimmed(rest.substr(0, next));
          const bool more = !rest.empty();
          rest.remove_prefix(std::min(next + 1, rest.size()));
          if (!more) break;
          ++chunk_.text_lines;
        }
        joined_ += part;
        // Names live as long as the file: what was joined is kept only for numbers.
        statement(joined_, whole);
      } else {
        statement(line, line);
      }
    }
  }

 private:
  void fail(const char* code, const std::string& message, const std::string& cure) {
    if (chunk_.error) return;
    chunk_.error = base::Error{code, message, base::Place{name_}, cure};
    chunk_.error_line = line_;
  }

  // `line` may be a joined one; `lasting` is text of the file, for names.
  void statement(std::string_view line, std::string_view lasting) {
    const char* at = line.data();
    const char* end = at + line.size();
    while (at != end && isSpace(*at)) ++at;
    if (at == end || *at == '#') return;
    const char* word = at;
    while (at != end && !isSpace(*at)) ++at;
    const std::string_view what(word, static_cast<size_t>(at - word));
    if (what == "v") return position(at, end);
    if (what == "vt") return uv(at, end);
    if (what == "vn") return normal(at, end);
    if (what == "f" || what == "fo") return face(at, end);
    if (what == "l") return ++out_.lines, void();
    if (what == "p") return ++out_.points, void();
    std::string_view rest = trimmed(lasting);
    nextWord(rest);
    rest = trimmed(rest);
    if (what == "o") return state(StateKind::object, rest);
    if (what == "g") return state(StateKind::group, rest);
    if (what == "usemtl") return state(StateKind::material, rest);
    if (what == "s") return state(StateKind::smoothing, rest);
    if (what == "mtllib") return out_.libraries.push_back(rest);
    auto& [count, first] = chunk_.odd.try_emplace(base::presentable(what, 24), 0, line_).first->second;
    ++count;
    if (chunk_.odd.size() > 64)
      fail("obj.statement", "Most of this file is no OBJ statement.", "Export it again, as OBJ or as glTF.");
  }

  void state(StateKind kind, std::string_view text) {
    out_.states.push_back({chunk_.corner_counts.size(), kind, text});
  }

  // Up to `most` numbers; the count, or -1 after saying what is none.
  int numbers(const char* at, const char* end, float* into, int most) {
    int count = 0;
    while (true) {
      while (at != end && isSpace(*at)) ++at;
      if (at == end || *at == '#') return count;
      if (count == most) return count;
      const char* next = readFloat(at, end, into[count]);
      // A number ends where its word does; a comment may follow at once, but not a point ("1.#IND" is none).
      if (next != nullptr && next != end && !isSpace(*next) && (*next != '#' || next[-1] == '.'))
        next = nullptr;
      if (next == nullptr) {
        // What programs write where a division by zero stood: kept as such, for the checks to find.
        std::string_view word(at, static_cast<size_t>(end - at));
        const std::string low = base::lowerAscii(nextWord(word));
        const std::string_view bare =
            low.substr(0, 1) == "-" ? std::string_view(low).substr(1) : std::string_view(low);
        if (bare.rfind("nan", 0) != 0 && bare.rfind("inf", 0) != 0 && bare.rfind("1.#", 0) != 0) {
          fail("obj.number", "\"" + base::presentable(low, 40) + "\" is no number.",
               "Export the model again.");
          return -1;
        }
        into[count] = std::numeric_limits<float>::quiet_NaN();
        next = at + low.size();
      }
      at = next;
      ++count;
    }
  }

  void position(const char* at, const char* end) {
    float n[7] = {0, 0, 0, 1, 1, 1, 1};
    const int count = numbers(at, end, n, 7);
    if (count < 0) return;
    if (count < 3)
      return fail("obj.number", "A position has three numbers; this one has " + std::to_string(count) + ".",
                  "Export the model again.");
    out_.positions.emplace_back(n[0], n[1], n[2]);
    // Six or seven numbers carry a colour; four are a weight that only curves use.
    if (count >= 6) {
      if (!chunk_.colored) out_.colors.resize(out_.positions.size() - 1, glm::vec4(1));
      chunk_.colored = true;
      out_.colors.emplace_back(n[3], n[4], n[5], count == 7 ? n[6] : 1.0F);
    } else if (chunk_.colored) {
      out_.colors.emplace_back(1.0F);
    }
  }

  void uv(const char* at, const char* end) {
    float n[3] = {0, 0, 0};
    const int count = numbers(at, end, n, 3);
    if (count < 0) return;
    if (count < 1)
      return fail("obj.number", "A texture coordinate has no number.", "Export the model again.");
    out_.uvs.emplace_back(n[0], 1 - n[1]);
  }

  void normal(const char* at, const char* end) {
    float n[3] = {0, 0, 0};
    const int count = numbers(at, end, n, 3);
    if (count < 0) return;
    if (count < 3)
      return fail("obj.number", "A normal has three numbers; this one has " + std::to_string(count) + ".",
                  "Export the model again.");
    out_.normals.emplace_back(n[0], n[1], n[2]);
  }

  // An index of the file, from 1, or from the end when negative; false when it is none.
  bool index(const char*& at, const char* end, size_t known, int& into) {
    int n = 0;
    const char* next = readInteger(at, end, n);
    if (next == nullptr || n == 0 || n > kMostElements || n < -kMostElements) {
      fail("obj.index",
           "A face names an element that cannot be: \"" +
               base::presentable(std::string_view(at, static_cast<size_t>(end - at)), 40) + "\".",
           "Indices begin at 1; export the model again.");
      return false;
    }
    at = next;
    into = n > 0 ? n - 1 : kBack + static_cast<int>(known) + n;
    return true;
  }

  void face(const char* at, const char* end) {
    const size_t before = out_.corners.size();
    while (true) {
      while (at != end && isSpace(*at)) ++at;
      if (at == end || *at == '#') break;
      Corner c;
      if (!index(at, end, out_.positions.size(), c.position)) return;
      if (at != end && *at == '/') {
        ++at;
        if (at != end && *at != '/' && !isSpace(*at) && !index(at, end, out_.uvs.size(), c.uv)) return;
        if (at != end && *at == '/') {
          ++at;
          if (at != end && !isSpace(*at) && !index(at, end, out_.normals.size(), c.normal)) return;
        }
      }
      if (at != end && !isSpace(*at))
        return fail("obj.index", "A corner of a face is not written as position/texture/normal.",
                    "Export the model again.");
      out_.corners.push_back(c);
    }
    const size_t count = out_.corners.size() - before;
    if (count < 3) {
      // One or two corners are a point or a line by another name.
      out_.corners.resize(before);
      if (count == 1) ++out_.points;
      if (count == 2) ++out_.lines;
      return;
    }
    chunk_.corner_counts.push_back(static_cast<uint32_t>(count));
    chunk_.face_lines.push_back(static_cast<uint32_t>(line_));
  }

  Chunk& chunk_;
  File& out_;
  const std::string& name_;
  std::string joined_;
  size_t line_ = 0;
};

// At line ends that no backslash hides.
std::vector<Chunk> split(std::string_view text) {
  std::vector<Chunk> out;
  while (!text.empty()) {
    size_t end = std::min(kChunkBytes, text.size());
    while (end < text.size()) {
      end = std::min(text.find('\n', end), text.size() - 1) + 1;
      const std::string_view last =
          trimmed(text.substr(end > 300 ? end - 300 : 0, std::min<size_t>(end, 300)));
      if (last.empty() || last.back() != '\\') break;
    }
    out.emplace_back();
    out.back().text = text.substr(0, end);
    text.remove_prefix(end);
  }
  return out;
}

// From a chunk's way of counting to the file's; false when it leads nowhere.
bool settle(int& index, size_t base, size_t all) {
  if (index == kNone) return true;
  const int64_t whole = index >= 0 ? index : static_cast<int64_t>(index) - kBack + static_cast<int64_t>(base);
  if (whole < 0 || whole >= static_cast<int64_t>(all)) return false;
  index = static_cast<int>(whole);
  return true;
}

void addNotes(const std::vector<Chunk>& chunks, const std::string& name, File& out) {
  std::map<std::string, std::pair<uint64_t, size_t>> odd;
  for (const Chunk& c : chunks)
    for (const auto& [what, seen] : c.odd) {
      auto& [count, first] = odd.try_emplace(what, 0, c.first_line + seen.second).first->second;
      count += seen.first;
    }
  for (const auto& [what, seen] : odd)
    if (out.notes.size() < 20)
      out.notes.push_back(
          {"obj.statement",
           base::countText(seen.first, "line", "lines") + " that begin with \"" + what + "\" are left out.",
           base::Place{name, "", -1, static_cast<int>(seen.second + 1)}});
}

}  // namespace

base::Result<File> parse(std::string_view text, const std::string& name, const ReadOptions& options) {
  std::vector<Chunk> chunks = split(text);
  base::parallelFor(chunks.size(), [&](size_t i) {
    if (options.progress != nullptr && options.progress->cancelled()) return;
    ChunkParser(chunks[i], name).run();
  });
  if (options.progress != nullptr && options.progress->cancelled()) return base::cancelledError();
  File out;
  size_t positions = 0, uvs = 0, normals = 0, corners = 0, faces = 0, line = 0;
  bool colored = false;
  for (Chunk& c : chunks) {
    c.first_line = line;
    line += c.text_lines;
    if (c.error) {
      c.error->place.line = static_cast<int>(c.first_line + c.error_line + 1);
      return *c.error;
    }
    positions += c.own.positions.size();
    uvs += c.own.uvs.size();
    normals += c.own.normals.size();
    corners += c.own.corners.size();
    faces += c.corner_counts.size();
    colored = colored || c.colored;
  }
  const uint64_t most = std::min<uint64_t>(options.limits.elements, kMostElements);
  if (std::max({positions, uvs, normals, corners}) > most)
    return base::Error{"obj.too_large", "The model has more elements than Rakugo takes in.",
                       base::Place{name}, "Split it into several files."};
  out.positions.reserve(positions);
  out.uvs.reserve(uvs);
  out.normals.reserve(normals);
  out.corners.reserve(corners);
  out.face_ends.reserve(faces);
  if (colored) out.colors.reserve(positions);
  for (Chunk& c : chunks) {
    const size_t p = out.positions.size(), t = out.uvs.size(), n = out.normals.size(),
                 f = out.face_ends.size();
    // Indices may point forward too: the whole counts are the limit.
    size_t of_face = 0, face = 0;
    for (Corner& corner : c.own.corners) {
      if (!settle(corner.position, p, positions) || !settle(corner.uv, t, uvs) ||
          !settle(corner.normal, n, normals))
        return base::Error{
            "obj.index", "A face names a position, texture coordinate or normal that the file does not have.",
            base::Place{name, "", -1, static_cast<int>(c.first_line + c.face_lines[face] + 1)},
            "The file seems to be cut off or put together of others; export it again."};
      if (++of_face == c.corner_counts[face]) of_face = 0, ++face;
    }
    const auto append = [](auto& to, auto& from) {
      to.insert(to.end(), from.begin(), from.end());
      std::remove_reference_t<decltype(from)>().swap(from);
    };
    if (colored) {
      c.own.colors.resize(c.own.positions.size(), glm::vec4(1));
      append(out.colors, c.own.colors);
    }
    append(out.positions, c.own.positions);
    append(out.uvs, c.own.uvs);
    append(out.normals, c.own.normals);
    append(out.corners, c.own.corners);
    uint32_t end = out.face_ends.empty() ? 0 : out.face_ends.back();
    for (const uint32_t count : c.corner_counts) out.face_ends.push_back(end += count);
    for (State& s : c.own.states) {
      s.face += f;
      out.states.push_back(s);
    }
    append(out.libraries, c.own.libraries);
    out.lines += c.own.lines;
    out.points += c.own.points;
  }
  addNotes(chunks, name, out);
  return out;
}

}  // namespace rakugo::formats::obj
