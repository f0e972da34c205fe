// First stage of the OBJ reader: text to lists, in chunks on all cores.
#pragma once

#include <climits>
#include <string>
#include <string_view>
#include <vector>

#include "formats/plain/obj.h"
#include "formats/text/words.h"

namespace rakugo::formats::obj {

/// One corner of a face: positions in the file's lists, or `kNone`.
struct Corner {
  int position = INT_MIN, uv = INT_MIN, normal = INT_MIN;
  bool operator==(const Corner&) const = default;
};
inline constexpr int kNone = INT_MIN;

/// What holds from a face on.
enum class StateKind : unsigned char { object, group, material, smoothing };
struct State {
  size_t face = 0;  ///< the first face it holds for
  StateKind kind = StateKind::object;
  std::string_view text;  ///< trimmed; into the file's text
};

/// Faces that follow each other in the text. The corners are most of what a file holds, so they lie in such
/// pieces, each of which can be given up once its faces are made.
struct Faces {
  size_t first = 0;  ///< the number of its first face in the whole file
  std::vector<Corner> corners;
  std::vector<uint32_t> ends;  ///< by face: where its corners end in `corners`
};

/// The whole file; every index of a corner is `kNone` or in range.
struct File {
  std::vector<glm::vec3> positions;
  std::vector<glm::vec4> colors;  ///< empty, or one a position
  std::vector<glm::vec2> uvs;
  std::vector<glm::vec3> normals;
  std::vector<Faces> faces;  ///< none of them empty
  size_t face_count = 0;
  std::vector<State> states;  ///< ascending faces
  std::vector<std::string_view> libraries;
  uint64_t lines = 0, points = 0;  ///< elements of these kinds
  std::vector<base::Note> notes;
};

/// Parses UTF-8 text that outlives the result. Errors: obj.index, obj.number, obj.too_large, job.cancelled.
base::Result<File> parse(std::string_view text, const std::string& name, const ReadOptions& options);

}  // namespace rakugo::formats::obj
