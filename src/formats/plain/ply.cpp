#include "formats/plain/ply.h"

#include <algorithm>
#include <charconv>
#include <cmath>
#include <optional>

#include "base/phrase.h"
#include "base/text.h"
#include "formats/pictures/srgb.h"
#include "formats/plain/simple_parts.h"
#include "formats/text/numbers.h"
#include "formats/text/words.h"
#include "geometry/polygon.h"

namespace rakugo::formats {
namespace {

enum class Type : unsigned char { i8, u8, i16, u16, i32, u32, f32, f64 };

struct Property {
  std::string name;
  Type type = Type::f32, count_type = Type::u8;
  bool list = false;
};
struct Element {
  std::string name;
  uint64_t count = 0;
  std::vector<Property> properties;
};
enum class Encoding : unsigned char { text, little, big };
struct PlyHeader {
  Encoding encoding = Encoding::text;
  std::string version;
  std::vector<Element> elements;
  size_t end = 0;
  int lines = 0;
};

std::optional<Type> typeOf(std::string_view word) {
  static const std::pair<const char*, Type> kNames[] = {
      {"char", Type::i8},   {"int8", Type::i8},     {"uchar", Type::u8},   {"uint8", Type::u8},
      {"short", Type::i16}, {"int16", Type::i16},   {"ushort", Type::u16}, {"uint16", Type::u16},
      {"int", Type::i32},   {"int32", Type::i32},   {"uint", Type::u32},   {"uint32", Type::u32},
      {"float", Type::f32}, {"float32", Type::f32}, {"double", Type::f64}, {"float64", Type::f64}};
  for (const auto& [name, type] : kNames)
    if (word == name) return type;
  return std::nullopt;
}

size_t bytesOf(Type type) {
  switch (type) {
    case Type::i8:
    case Type::u8:
      return 1;
    case Type::i16:
    case Type::u16:
      return 2;
    case Type::f64:
      return 8;
    default:
      return 4;
  }
}

// Reads the header, statement by statement.
class HeaderReader {
 public:
  explicit HeaderReader(const std::string& name) : name_(name) {}

  base::Result<PlyHeader> read(std::string_view text) {
    size_t at = 0;
    while (true) {
      const size_t end = text.find('\n', at);
      if (end == std::string_view::npos || end - at > 4096 || out_.lines > 10'000)
        return fault("ply.header", base::phrase("The header does not end with \"end_header\"."));
      std::string_view line = text.substr(at, end - at);
      at = end + 1;
      ++out_.lines;
      const std::string_view what = nextWord(line);
      if (what == "end_header") break;
      if (const auto done = statement(what, line); !done) return done.error();
    }
    if (!format_)
      return fault("ply.header", base::phrase("The header does not say how the numbers are written."));
    out_.end = at;
    return std::move(out_);
  }

 private:
  [[nodiscard]] base::Error fault(const char* code, const std::string& message) const {
    return base::Error{code, message, base::Place{name_, "", -1, out_.lines},
                       base::phrase("Export the model again.")};
  }

  base::Result<void> statement(std::string_view what, std::string_view line) {
    if (what == "ply" || what == "comment" || what == "obj_info" || what.empty()) return {};
    if (what == "format") return format(line);
    if (what == "element") return element(line);
    if (what == "property") return property(line);
    return fault("ply.header",
                 base::phrase("\"{0}\" is no statement of a header.", base::presentable(what, 40)));
  }

  base::Result<void> format(std::string_view line) {
    const std::string_view kind = nextWord(line);
    if (kind == "ascii")
      out_.encoding = Encoding::text;
    else if (kind == "binary_little_endian")
      out_.encoding = Encoding::little;
    else if (kind == "binary_big_endian")
      out_.encoding = Encoding::big;
    else
      return fault("ply.header",
                   base::phrase("\"{0}\" is no encoding of the format.", base::presentable(kind, 40)));
    out_.version =
        std::string(kind == "ascii" ? "text" : "binary") + " " + base::presentable(nextWord(line), 8);
    format_ = true;
    return {};
  }

  base::Result<void> element(std::string_view line) {
    Element element;
    element.name = base::presentable(nextWord(line), 60);
    const std::string_view count = nextWord(line);
    const auto [stop, error] = std::from_chars(count.data(), count.data() + count.size(), element.count);
    if (error != std::errc() || stop != count.data() + count.size())
      return fault("ply.header", base::phrase("The element {0} has no count.", element.name));
    for (const Element& other : out_.elements)
      if (other.name == element.name)
        return fault("ply.header", base::phrase("There are two elements of the name {0}.", element.name));
    if (out_.elements.size() >= 64)
      return fault("ply.header", base::phrase("The file names more elements than a model has."));
    out_.elements.push_back(std::move(element));
    return {};
  }

  base::Result<void> property(std::string_view line) {
    if (out_.elements.empty())
      return fault("ply.header", base::phrase("A property stands before any element."));
    Property property;
    std::string_view word = nextWord(line);
    if (word == "list") {
      property.list = true;
      const auto count = typeOf(nextWord(line));
      if (!count || *count == Type::f32 || *count == Type::f64)
        return fault("ply.type", base::phrase("The count of a list has no whole type."));
      property.count_type = *count;
      word = nextWord(line);
    }
    const auto type = typeOf(word);
    if (!type)
      return fault("ply.type",
                   base::phrase("\"{0}\" is no type of the format.", base::presentable(word, 40)));
    property.type = *type;
    property.name = base::lowerAscii(base::presentable(nextWord(line), 60));
    out_.elements.back().properties.push_back(std::move(property));
    return {};
  }

  const std::string& name_;
  PlyHeader out_;
  bool format_ = false;
};

// The numbers behind the header, one after the other, however they are written.
class Numbers {
 public:
  Numbers(base::ByteSpan bytes, const PlyHeader& header)
      : bytes_(bytes), at_(header.end), encoding_(header.encoding), line_(header.lines) {}
  [[nodiscard]] bool text() const { return encoding_ == Encoding::text; }
  // The next number; `ok` becomes false at the end or where there is none.
  double next(Type type) {
    if (text()) return word();
    const size_t size = bytesOf(type);
    if (bytes_.size() - at_ < size) return ok = false, 0;
    std::byte raw[8];
    for (size_t i = 0; i < size; ++i) raw[encoding_ == Encoding::big ? size - 1 - i : i] = bytes_[at_ + i];
    at_ += size;
    const base::ByteSpan value(raw, size);
    switch (type) {
      case Type::i8:
        return base::loadAt<int8_t>(value, 0);
      case Type::u8:
        return base::loadAt<uint8_t>(value, 0);
      case Type::i16:
        return base::loadAt<int16_t>(value, 0);
      case Type::u16:
        return base::loadAt<uint16_t>(value, 0);
      case Type::i32:
        return base::loadAt<int32_t>(value, 0);
      case Type::u32:
        return base::loadAt<uint32_t>(value, 0);
      case Type::f32:
        return static_cast<double>(base::loadAt<float>(value, 0));
      case Type::f64:
        return base::loadAt<double>(value, 0);
    }
    return 0;
  }
  [[nodiscard]] size_t left() const { return bytes_.size() - at_; }
  [[nodiscard]] base::Place place(const std::string& name) const {
    return text() ? base::Place{name, "", -1, line_ + 1} : base::Place{name, "", static_cast<int64_t>(at_)};
  }
  bool ok = true;

 private:
  double word() {
    const std::string_view all = base::asText(bytes_);
    while (at_ < all.size() && (all[at_] == ' ' || all[at_] == '\t' || all[at_] == '\r' || all[at_] == '\n'))
      line_ += all[at_++] == '\n';
    const char* end = all.data() + all.size();
    // A double carries 32-bit indices exactly, and a float's value too.
    double value = 0;
    const auto [stop, error] = std::from_chars(all.data() + at_, end, value);
    if (error == std::errc::invalid_argument || stop == all.data() + at_) return ok = false, 0;
    at_ = static_cast<size_t>(stop - all.data());
    return value;
  }
  base::ByteSpan bytes_;
  size_t at_;
  Encoding encoding_;
  int line_;
};

// Where the numbers of a vertex go.
enum class Slot : unsigned char { x, y, z, nx, ny, nz, red, green, blue, alpha, u, v, other };

Slot slotOf(const std::string& name) {
  static const std::pair<const char*, Slot> kNames[] = {{"x", Slot::x},
                                                        {"y", Slot::y},
                                                        {"z", Slot::z},
                                                        {"nx", Slot::nx},
                                                        {"ny", Slot::ny},
                                                        {"nz", Slot::nz},
                                                        {"red", Slot::red},
                                                        {"green", Slot::green},
                                                        {"blue", Slot::blue},
                                                        {"alpha", Slot::alpha},
                                                        {"r", Slot::red},
                                                        {"g", Slot::green},
                                                        {"b", Slot::blue},
                                                        {"a", Slot::alpha},
                                                        {"diffuse_red", Slot::red},
                                                        {"diffuse_green", Slot::green},
                                                        {"diffuse_blue", Slot::blue},
                                                        {"s", Slot::u},
                                                        {"t", Slot::v},
                                                        {"u", Slot::u},
                                                        {"v", Slot::v},
                                                        {"texture_u", Slot::u},
                                                        {"texture_v", Slot::v}};
  for (const auto& [known, slot] : kNames)
    if (name == known) return slot;
  return Slot::other;
}

float linearOf(double value, Type type) {
  if (type == Type::f32 || type == Type::f64) return static_cast<float>(value);
  const double whole = type == Type::u16 || type == Type::i16 ? 65535 : 255;
  return lightOf(std::clamp(value / whole, 0.0, 1.0));
}

class PlyReader {
 public:
  PlyReader(base::ByteSpan bytes, const std::string& name, const ReadOptions& options,
            const PlyHeader& header)
      : name_(name), options_(options), header_(header), numbers_(bytes, header) {}

  base::Result<ReadModel> run() {
    for (const Element& element : header_.elements) {
      // Without properties there is nothing to read, however many are counted.
      if (element.properties.empty()) continue;
      RAKUGO_TRY(fits(element));
      if (element.name == "vertex")
        RAKUGO_TRY(vertices(element));
      else if (element.name == "face")
        RAKUGO_TRY(faces(element));
      else
        RAKUGO_TRY(others(element));
    }
    for (const uint32_t i : primitive_.indices)
      if (i >= primitive_.positions.size())
        return base::Error{"ply.index",
                           base::phrase("A face names vertex {0}; there are {1}.", base::groupedText(i),
                                        base::groupedText(primitive_.positions.size())),
                           base::Place{name_}, base::phrase("Export the model again.")};
    RAKUGO_TRY(cutPolygons());
    if (primitive_.indices.empty())
      return base::Error{"ply.empty",
                         primitive_.positions.empty() ? base::phrase("The file holds no vertices.")
                                                      : base::phrase("The file holds points only, no faces."),
                         base::Place{name_}, base::phrase("Export the model as a mesh.")};
    out_.stored_vertices = primitive_.positions.size();
    finish();
    return std::move(out_);
  }

 private:
  // A count is held against the bytes that are left: each number takes at least one.
  base::Status fits(const Element& element) {
    uint64_t least = 0;
    for (const Property& p : element.properties)
      least += numbers_.text() ? 1 : bytesOf(p.list ? p.count_type : p.type);
    if (element.count == 0) return {};
    if (element.count > numbers_.left() / least)
      return base::Error{"ply.cut",
                         base::phrase("The file counts {0} of the element {1} and is too short for them.",
                                      base::groupedText(element.count), element.name),
                         numbers_.place(name_),
                         base::phrase("It was cut off or damaged; copy or export it again.")};
    if (element.count > options_.limits.elements)
      return base::Error{"ply.too_large", base::phrase("The model has more elements than Rakugo takes in."),
                         base::Place{name_}, base::phrase("Split it into several files.")};
    return {};
  }
  [[nodiscard]] base::Error cut() const {
    return {numbers_.left() == 0 ? "ply.cut" : "ply.number",
            numbers_.left() == 0 ? base::phrase("The file ends too early.")
                                 : base::phrase("Here stands no number."),
            numbers_.place(name_), base::phrase("It was cut off or damaged; copy or export it again.")};
  }
  [[nodiscard]] bool stopped(uint64_t i) const {
    return i % 65536 == 0 && options_.progress != nullptr && options_.progress->cancelled();
  }

  // Passes over a list; its length is held against what is left.
  base::Status skipList(const Property& p) {
    const double count = numbers_.next(p.count_type);
    if (!numbers_.ok) return cut();
    if (!(count >= 0) || count > static_cast<double>(numbers_.left())) return cut();
    for (auto i = static_cast<uint64_t>(count); i > 0; --i) (void)numbers_.next(p.type);
    return numbers_.ok ? base::Status() : base::Status(cut());
  }

  base::Status vertices(const Element& element) {
    bool has[13] = {};
    for (const Property& p : element.properties) {
      const Slot slot = p.list ? Slot::other : slotOf(p.name);
      has[static_cast<size_t>(slot)] = true;
      if (slot == Slot::other) other_.push_back(p.name);
    }
    const auto all = [&](std::initializer_list<Slot> slots) {
      return std::all_of(slots.begin(), slots.end(), [&](Slot s) { return has[static_cast<size_t>(s)]; });
    };
    if (!all({Slot::x, Slot::y, Slot::z}))
      return base::Error{"ply.header", base::phrase("The vertices have no x, y and z."), base::Place{name_},
                         base::phrase("Export the model again.")};
    const bool normals = all({Slot::nx, Slot::ny, Slot::nz}),
               colors = all({Slot::red, Slot::green, Slot::blue}), uvs = all({Slot::u, Slot::v});
    for (uint64_t i = 0; i < element.count; ++i) {
      if (stopped(i)) return base::cancelledError();
      float at[12] = {0, 0, 0, 0, 0, 0, 1, 1, 1, 1, 0, 0};
      for (const Property& p : element.properties) {
        if (p.list) {
          RAKUGO_TRY(skipList(p));
          continue;
        }
        const double value = numbers_.next(p.type);
        if (!numbers_.ok) return cut();
        const Slot slot = slotOf(p.name);
        if (slot == Slot::other) continue;
        const bool color = slot >= Slot::red && slot <= Slot::blue;
        at[static_cast<size_t>(slot)] =
            color ? linearOf(value, numbers_.text() && value > 1 ? Type::u8 : p.type)
            : slot == Slot::alpha
                ? static_cast<float>(p.type == Type::f32 || p.type == Type::f64 ? value : value / 255)
                : static_cast<float>(value);
      }
      primitive_.positions.emplace_back(at[0], at[1], at[2]);
      if (normals) primitive_.normals.emplace_back(at[3], at[4], at[5]);
      if (colors) primitive_.colors.emplace_back(at[6], at[7], at[8], at[9]);
      if (uvs) primitive_.uvs[0].emplace_back(at[10], 1 - at[11]);
    }
    return {};
  }

  base::Status faces(const Element& element) {
    for (uint64_t f = 0; f < element.count; ++f) {
      if (stopped(f)) return base::cancelledError();
      for (const Property& p : element.properties) {
        if (!p.list) {
          (void)numbers_.next(p.type);
          if (!numbers_.ok) return cut();
          if (f == 0) other_.push_back(p.name);
          continue;
        }
        if (p.name != "vertex_indices" && p.name != "vertex_index") {
          RAKUGO_TRY(skipList(p));
          if (f == 0) other_.push_back(p.name);
          continue;
        }
        const double count = numbers_.next(p.count_type);
        if (!numbers_.ok || !(count >= 0) || count > static_cast<double>(numbers_.left())) return cut();
        const size_t begin = primitive_.indices.size();
        for (auto i = static_cast<uint64_t>(count); i > 0; --i) {
          const double index = numbers_.next(p.type);
          if (!numbers_.ok) return cut();
          if (!(index >= 0) || index > 4294967294.0)
            return base::Error{"ply.index", base::phrase("A face names a vertex that cannot be."),
                               numbers_.place(name_), base::phrase("Export the model again.")};
          primitive_.indices.push_back(static_cast<uint32_t>(index));
        }
        // Triangles stay where they are; larger ones are cut once all vertices are known.
        if (count < 3) primitive_.indices.resize(begin);
        if (count > 3) {
          polygons_.emplace_back(primitive_.indices.begin() + static_cast<std::ptrdiff_t>(begin),
                                 primitive_.indices.end());
          primitive_.indices.resize(begin);
        }
      }
    }
    return {};
  }

  base::Status others(const Element& element) {
    if (element.count > 0 && other_.size() < 40) other_.push_back(base::phrase("element {0}", element.name));
    for (uint64_t i = 0; i < element.count; ++i) {
      if (stopped(i)) return base::cancelledError();
      for (const Property& p : element.properties) {
        if (p.list) {
          RAKUGO_TRY(skipList(p));
        } else {
          (void)numbers_.next(p.type);
          if (!numbers_.ok) return cut();
        }
      }
    }
    return {};
  }

  base::Status cutPolygons() {
    std::vector<glm::vec3> corners;
    std::vector<uint32_t> cut;
    for (const std::vector<uint32_t>& polygon : polygons_) {
      corners.clear();
      for (const uint32_t i : polygon) {
        if (i >= primitive_.positions.size())
          return base::Error{"ply.index",
                             base::phrase("A face names vertex {0}; there are {1}.", base::groupedText(i),
                                          base::groupedText(primitive_.positions.size())),
                             base::Place{name_}, base::phrase("Export the model again.")};
        corners.push_back(primitive_.positions[i]);
      }
      cut.clear();
      geometry::triangulatePolygon(corners, cut);
      for (const uint32_t i : cut) primitive_.indices.push_back(polygon[i]);
    }
    return {};
  }

  void finish() {
    out_.format = "PLY";
    out_.version = header_.version;
    std::sort(other_.begin(), other_.end());
    other_.erase(std::unique(other_.begin(), other_.end()), other_.end());
    if (!other_.empty())
      out_.notes.push_back(
          {"ply.left_out", base::phrase("Left out: {0}.", base::listText(other_, 12)), base::Place{name_}});
    scene::Mesh mesh{partNameOf(name_), {}};
    mesh.primitives.push_back(std::move(primitive_));
    addPart(out_.model, std::move(mesh));
    scene::assignKeys(out_.model);
  }

  const std::string& name_;
  const ReadOptions& options_;
  const PlyHeader& header_;
  Numbers numbers_;
  ReadModel out_;
  scene::Primitive primitive_;
  std::vector<std::vector<uint32_t>> polygons_;
  std::vector<std::string> other_;
};

}  // namespace

bool isPly(base::ByteSpan bytes) {
  const std::string_view text = base::asText(bytes.first(std::min<size_t>(bytes.size(), 5)));
  return text.substr(0, 4) == "ply\n" || text == "ply\r\n";
}

base::Result<ReadModel> readPly(base::ByteSpan bytes, const std::string& name, const ReadOptions& options) {
  RAKUGO_ASSIGN(const PlyHeader header, HeaderReader(name).read(base::asText(bytes)));
  return PlyReader(bytes, name, options, header).run();
}

}  // namespace rakugo::formats
