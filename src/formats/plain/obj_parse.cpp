#include "formats/plain/obj_parse.h"

#include <algorithm>
#include <limits>
#include <map>
#include <memory>
#include <mutex>
#include <optional>

#include "base/phrase.h"
#include "base/text.h"
#include "formats/text/numbers.h"

namespace rakugo::formats::obj {
namespace {

// A chunk numbers its own elements from zero; what it counts back from itself may lie in an earlier chunk.
// Such indices are kept as small numbers below this until all chunks are counted.
constexpr int kBack = -(1 << 30);
constexpr int kMostElements = 1 << 29;  // so that no index meets kBack
constexpr size_t kChunkBytes = size_t{1} << 20;

// What a chunk's elements are gathered in: used again for the next chunk, so that no list of unknown length
// grows in fresh memory.
struct Lists {
  std::vector<glm::vec3> positions;
  std::vector<glm::vec4> colors;
  std::vector<glm::vec2> uvs;
  std::vector<glm::vec3> normals;
  std::vector<Corner> corners;
  std::vector<uint32_t> ends;        // by face
  std::vector<uint32_t> face_lines;  // by face
  void clear() {
    positions.clear();
    colors.clear();
    uvs.clear();
    normals.clear();
    corners.clear();
    ends.clear();
    face_lines.clear();
  }
};

struct Chunk {
  std::string_view text;
  size_t first_line = 0;  // of the file, from 0; known once all chunks before are counted
  Lists own;              // as long as what is in them
  std::vector<State> states;
  std::vector<std::string_view> libraries;
  uint64_t lines = 0, points = 0;
  size_t text_lines = 0;
  bool colored = false;
  std::map<std::string, std::pair<uint64_t, size_t>> odd;  // statement -> how often, first line
  std::optional<base::Error> error;
  size_t error_line = 0;
};

class ChunkParser {
 public:
  ChunkParser(Chunk& chunk, Lists& lists, const std::string& name)
      : chunk_(chunk), out_(lists), name_(name) {}

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
    chunk_.own = out_;  // a copy takes no more than it holds
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
    if (what == "l" || what == "p") return loose(what == "l", at, end);
    std::string_view rest = trimmed(lasting);
    nextWord(rest);
    rest = trimmed(rest);
    if (what == "o") return state(StateKind::object, rest);
    if (what == "g") return state(StateKind::group, rest);
    if (what == "usemtl") return state(StateKind::material, rest);
    if (what == "s") return state(StateKind::smoothing, rest);
    if (what == "mtllib") return chunk_.libraries.push_back(rest);
    auto& [count, first] = chunk_.odd.try_emplace(base::presentable(what, 24), 0, line_).first->second;
    ++count;
    if (chunk_.odd.size() > 64)
      fail("obj.statement", base::phrase("Most of this file is no OBJ statement."),
           base::phrase("Export it again, as OBJ or as glTF."));
  }

  void state(StateKind kind, std::string_view text) {
    chunk_.states.push_back({out_.ends.size(), kind, text});
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
          fail("obj.number", base::phrase("\"{0}\" is no number.", base::presentable(low, 40)),
               base::phrase("Export the model again."));
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
      return fail("obj.number", base::phrase("A position has three numbers; this one has {0}.", count),
                  base::phrase("Export the model again."));
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
      return fail("obj.number", base::phrase("A texture coordinate has no number."),
                  base::phrase("Export the model again."));
    out_.uvs.emplace_back(n[0], 1 - n[1]);
  }

  void normal(const char* at, const char* end) {
    float n[3] = {0, 0, 0};
    const int count = numbers(at, end, n, 3);
    if (count < 0) return;
    if (count < 3)
      return fail("obj.number", base::phrase("A normal has three numbers; this one has {0}.", count),
                  base::phrase("Export the model again."));
    out_.normals.emplace_back(n[0], n[1], n[2]);
  }

  // An index of the file, from 1, or from the end when negative; false when it is none.
  bool index(const char*& at, const char* end, size_t known, int& into) {
    int n = 0;
    const char* next = readInteger(at, end, n);
    if (next == nullptr || n == 0 || n > kMostElements || n < -kMostElements) {
      fail("obj.index",
           base::phrase("A face names an element that cannot be: \"{0}\".",
                        base::presentable(std::string_view(at, static_cast<size_t>(end - at)), 40)),
           base::phrase("Indices begin at 1; export the model again."));
      return false;
    }
    at = next;
    into = n > 0 ? n - 1 : kBack + static_cast<int>(known) + n;
    return true;
  }

  // A line of n corners is n - 1 pieces; of points each counts.
  void loose(bool line, const char* at, const char* end) {
    std::string_view rest(at, static_cast<size_t>(end - at));
    uint64_t words = 0;
    for (std::string_view word = nextWord(rest); !word.empty() && word[0] != '#'; word = nextWord(rest))
      ++words;
    if (line)
      chunk_.lines += words > 0 ? words - 1 : 0;
    else
      chunk_.points += words;
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
        return fail("obj.index",
                    base::phrase("A corner of a face is not written as position/texture/normal."),
                    base::phrase("Export the model again."));
      out_.corners.push_back(c);
    }
    const size_t count = out_.corners.size() - before;
    if (count < 3) {
      // One or two corners are a point or a line by another name.
      out_.corners.resize(before);
      if (count == 1) ++chunk_.points;
      if (count == 2) ++chunk_.lines;
      return;
    }
    out_.ends.push_back(static_cast<uint32_t>(out_.corners.size()));
    out_.face_lines.push_back(static_cast<uint32_t>(line_));
  }

  Chunk& chunk_;
  Lists& out_;
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
      out.notes.push_back({"obj.statement",
                           base::phrase("{0} that begin with \"{1}\" are left out.",
                                        base::countText(seen.first, "line", "lines"), what),
                           base::Place{name, "", -1, static_cast<int>(seen.second + 1)}});
}

// Lists that no chunk uses at the moment.
class Pool {
 public:
  std::unique_ptr<Lists> take() {
    const std::lock_guard guard(lock_);
    if (free_.empty()) return std::make_unique<Lists>();
    auto out = std::move(free_.back());
    free_.pop_back();
    out->clear();
    return out;
  }
  void give(std::unique_ptr<Lists> lists) {
    const std::lock_guard guard(lock_);
    free_.push_back(std::move(lists));
  }

 private:
  std::mutex lock_;
  std::vector<std::unique_ptr<Lists>> free_;
};

struct Totals {
  size_t positions = 0, uvs = 0, normals = 0, corners = 0, faces = 0;
  bool colored = false;
};

// How many elements of each kind come before a chunk.
void count(const Chunk& c, Totals& all) {
  all.positions += c.own.positions.size();
  all.uvs += c.own.uvs.size();
  all.normals += c.own.normals.size();
  all.corners += c.own.corners.size();
  all.faces += c.own.ends.size();
  all.colored = all.colored || c.colored;
}

// Indices may point forward too: the whole counts are the limit.
void settleAll(Chunk& c, const Totals& before, const Totals& all, const std::string& name) {
  size_t face = 0;
  for (size_t i = 0; i < c.own.corners.size(); ++i) {
    Corner& corner = c.own.corners[i];
    if (i == c.own.ends[face]) ++face;
    if (!settle(corner.position, before.positions, all.positions) ||
        !settle(corner.uv, before.uvs, all.uvs) || !settle(corner.normal, before.normals, all.normals)) {
      c.error = base::Error{
          "obj.index",
          base::phrase("A face names a position, texture coordinate or normal that the file does not have."),
          base::Place{name, "", -1, static_cast<int>(c.first_line + c.own.face_lines[face] + 1)},
          base::phrase("The file seems to be cut off or put together of others; export it again.")};
      return;
    }
  }
  std::vector<uint32_t>().swap(c.own.face_lines);
}

void join(std::vector<Chunk>& chunks, const Totals& all, File& out) {
  const auto append = [](auto& to, auto& from) {
    to.insert(to.end(), from.begin(), from.end());
    std::remove_reference_t<decltype(from)>().swap(from);
  };
  out.positions.reserve(all.positions);
  out.uvs.reserve(all.uvs);
  out.normals.reserve(all.normals);
  if (all.colored) out.colors.reserve(all.positions);
  for (Chunk& c : chunks) {
    if (all.colored) {
      c.own.colors.resize(c.own.positions.size(), glm::vec4(1));
      append(out.colors, c.own.colors);
    }
    append(out.positions, c.own.positions);
    append(out.uvs, c.own.uvs);
    append(out.normals, c.own.normals);
    for (State& s : c.states) {
      s.face += out.face_count;
      out.states.push_back(s);
    }
    append(out.libraries, c.libraries);
    out.lines += c.lines;
    out.points += c.points;
    if (c.own.ends.empty()) continue;
    out.faces.push_back({out.face_count, std::move(c.own.corners), std::move(c.own.ends)});
    out.face_count += out.faces.back().ends.size();
  }
}

}  // namespace

base::Result<File> parse(std::string_view text, const std::string& name, const ReadOptions& options) {
  std::vector<Chunk> chunks = split(text);
  const auto cancelled = [&] { return options.progress != nullptr && options.progress->cancelled(); };
  {
    Pool pool;
    base::parallelFor(chunks.size(), [&](size_t i) {
      if (cancelled()) return;
      auto lists = pool.take();
      ChunkParser(chunks[i], *lists, name).run();
      pool.give(std::move(lists));
    });
  }
  if (cancelled()) return base::cancelledError();
  Totals all;
  std::vector<Totals> before;
  size_t line = 0;
  for (Chunk& c : chunks) {
    c.first_line = line;
    line += c.text_lines;
    if (c.error) {
      c.error->place.line = static_cast<int>(c.first_line + c.error_line + 1);
      return *c.error;
    }
    before.push_back(all);
    count(c, all);
  }
  const uint64_t most = std::min<uint64_t>(options.limits.elements, kMostElements);
  if (std::max({all.positions, all.uvs, all.normals, all.corners}) > most)
    return base::Error{"obj.too_large", base::phrase("The model has more elements than Rakugo takes in."),
                       base::Place{name}, base::phrase("Split it into several files.")};
  base::parallelFor(chunks.size(), [&](size_t i) { settleAll(chunks[i], before[i], all, name); });
  for (const Chunk& c : chunks)
    if (c.error) return *c.error;
  File out;
  join(chunks, all, out);
  addNotes(chunks, name, out);
  return out;
}

}  // namespace rakugo::formats::obj
