#include "formats/gltf/gltf_parse.h"

#include <algorithm>
#include <array>
#include <cmath>

#include "base/phrase.h"
#include "base/text.h"

namespace rakugo::formats {
namespace {

constexpr uint32_t kGlbMagic = 0x46546C67, kChunkJson = 0x4E4F534A, kChunkBin = 0x004E4942;

}  // namespace

bool isGlb(base::ByteSpan bytes) {
  return bytes.size() >= 4 && base::loadAt<uint32_t>(bytes, 0) == kGlbMagic;
}

namespace gltf {

using base::Json;

base::Error File::error(const char* code, const std::string& message, const std::string& pointer,
                        const std::string& cure) const {
  return {code, message, base::Place{name, pointer},
          cure.empty() ? base::phrase("Export the model again; this file does not follow glTF 2.0.") : cure};
}

const Json& listOf(const Json& json, const char* key) {
  static const Json kEmpty = Json::array();
  if (!json.is_object()) return kEmpty;
  const auto at = json.find(key);
  return at != json.end() && at->is_array() ? *at : kEmpty;
}

uint64_t wholeOf(const Json& value) {
  if (value.is_number_unsigned()) return value.get<uint64_t>();
  if (!value.is_number_float()) return UINT64_MAX;
  const auto number = value.get<double>();
  constexpr double kMostExact = 9007199254740992;  // 2^53
  return number >= 0 && number <= kMostExact && number == std::floor(number) ? static_cast<uint64_t>(number)
                                                                             : UINT64_MAX;
}

uint64_t unsignedOf(const Json& json, const char* key, uint64_t fallback) {
  if (!json.is_object()) return fallback;
  const auto at = json.find(key);
  return at == json.end() ? fallback : wholeOf(*at);
}

const Json* extensionOf(const Json& json, const char* name) {
  if (!json.is_object()) return nullptr;
  const auto at = json.find("extensions");
  if (at == json.end() || !at->is_object()) return nullptr;
  const auto found = at->find(name);
  return found != at->end() && found->is_object() ? &*found : nullptr;
}

std::string textOf(const Json& json, const char* key) {
  if (!json.is_object()) return {};
  const auto at = json.find(key);
  return at != json.end() && at->is_string() ? at->get<std::string>() : std::string();
}

bool isDataUri(const std::string& uri) { return uri.rfind("data:", 0) == 0; }

std::string percentDecoded(const std::string& uri) {
  const auto digit = [](char c) {
    return c >= '0' && c <= '9'   ? c - '0'
           : c >= 'a' && c <= 'f' ? c - 'a' + 10
           : c >= 'A' && c <= 'F' ? c - 'A' + 10
                                  : -1;
  };
  std::string out;
  for (size_t i = 0; i < uri.size(); ++i) {
    if (uri[i] == '%' && i + 2 < uri.size() && digit(uri[i + 1]) >= 0 && digit(uri[i + 2]) >= 0) {
      out += static_cast<char>(digit(uri[i + 1]) * 16 + digit(uri[i + 2]));
      i += 2;
    } else {
      out += uri[i];
    }
  }
  return base::isUtf8(out) && out.find('\0') == std::string::npos ? out : base::presentable(uri);
}

base::Result<base::Bytes> decodeDataUri(const std::string& uri, std::string& mime, const File& file,
                                        const std::string& pointer) {
  const size_t comma = uri.find(',');
  if (comma == std::string::npos || uri.find(";base64") == std::string::npos || uri.find(";base64") > comma)
    return file.error("gltf.buffer", base::phrase("The data URI is not base64."), pointer);
  mime = uri.substr(5, uri.find(';') - 5);
  base::Bytes out;
  out.reserve((uri.size() - comma) / 4 * 3);
  uint32_t bits = 0;
  int have = 0;
  for (size_t i = comma + 1; i < uri.size(); ++i) {
    const char c = uri[i];
    int value = -1;
    if (c >= 'A' && c <= 'Z') value = c - 'A';
    if (c >= 'a' && c <= 'z') value = c - 'a' + 26;
    if (c >= '0' && c <= '9') value = c - '0' + 52;
    if (c == '+') value = 62;
    if (c == '/') value = 63;
    if (c == '=') break;
    if (value < 0)
      return file.error("gltf.buffer",
                        base::phrase("The data URI holds a character that base64 does not have."), pointer);
    bits = bits << 6 | static_cast<uint32_t>(value);
    have += 6;
    if (have >= 8) {
      have -= 8;
      out.push_back(static_cast<std::byte>(bits >> have & 0xFFu));
    }
  }
  return out;
}

namespace {

base::Status splitGlb(File& file, base::ByteSpan bytes, std::string_view& json) {
  const auto bad = [&](const std::string& what, uint64_t at) {
    return base::Error{"gltf.container", what, base::Place{file.name, "", static_cast<int64_t>(at)},
                       base::phrase("The file is cut off or damaged; export or download it again.")};
  };
  base::ByteReader in(bytes);
  in.read<uint32_t>();
  const auto version = in.read<uint32_t>();
  const auto length = in.read<uint32_t>();
  if (!in.ok()) return bad(base::phrase("The file ends inside its header."), in.at());
  if (version == 1)
    return base::Error{"gltf.version", base::phrase("This is glTF 1.0, which Rakugo does not read."),
                       base::Place{file.name, "", 4}, base::phrase("Export the model as glTF 2.0.")};
  if (version != 2) return bad(base::phrase("The container's version is {0}, not 2.", version), 4);
  if (length > bytes.size())
    return bad(base::phrase("The file has {0} bytes, its header promises {1}.", bytes.size(), length), 8);
  bool first = true;
  while (in.at() + 8 <= length) {
    const uint64_t at = in.at();
    const auto chunk_length = in.read<uint32_t>();
    const auto type = in.read<uint32_t>();
    if (chunk_length > length - in.at()) return bad(base::phrase("A chunk is longer than the file."), at);
    const base::ByteSpan chunk = in.bytes(chunk_length);
    if (first && type != kChunkJson) return bad(base::phrase("The first chunk is not JSON."), at);
    if (first) json = base::asText(chunk);
    if (!first && type == kChunkBin && file.binary.empty()) file.binary = chunk;
    first = false;
  }
  if (first) return bad(base::phrase("The file holds no chunk."), in.at());
  return {};
}

// Extensions that may be required.
constexpr std::array<const char*, 8> kUnderstood = {
    "KHR_materials_unlit",        "KHR_lights_punctual",
    "KHR_texture_transform",      "KHR_materials_emissive_strength",
    "KHR_mesh_quantization",      "EXT_texture_webp",
    "KHR_draco_mesh_compression", "EXT_meshopt_compression"};

}  // namespace

base::Result<File> parse(base::ByteSpan bytes, const std::string& name, const base::Limits& limits) {
  File file;
  file.name = name;
  file.input_bytes = bytes.size();
  file.is_glb = isGlb(bytes);
  std::string_view text = base::asText(bytes);
  if (file.is_glb) RAKUGO_TRY(splitGlb(file, bytes, text));
  if (text.rfind("\xEF\xBB\xBF", 0) == 0) text.remove_prefix(3);
  while (!text.empty() && (text.back() == '\0' || text.back() == ' ')) text.remove_suffix(1);
  RAKUGO_ASSIGN(file.json, base::parseJson(text, name, limits));
  if (!file.json.is_object())
    return file.error("gltf.container", base::phrase("The JSON is not an object."), "");
  const Json asset = file.json.contains("asset") ? file.json["asset"] : Json();
  const std::string version = textOf(asset, "version");
  if (version.empty())
    return file.error("gltf.version", base::phrase("The file does not say which glTF version it is."),
                      "/asset/version");
  if (version.rfind("2.", 0) != 0)
    return file.error(
        "gltf.version",
        base::phrase("This is glTF {0}; Rakugo reads glTF 2.0.", base::presentable(version, 16)),
        "/asset/version", base::phrase("Export the model as glTF 2.0."));
  const Json& required = listOf(file.json, "extensionsRequired");
  for (size_t i = 0; i < required.size(); ++i) {
    const std::string extension = required[i].is_string() ? required[i].get<std::string>() : "?";
    if (std::none_of(kUnderstood.begin(), kUnderstood.end(),
                     [&](const char* known) { return extension == known; }))
      return file.error("gltf.extension",
                        base::phrase("The file requires the extension {0}, which Rakugo does not read.",
                                     base::presentable(extension, 64)),
                        "/extensionsRequired/" + std::to_string(i),
                        base::phrase("Export the model again without it."));
  }
  return file;
}

base::Status fetchBuffers(File& file, const Fetch& fetch, const base::Limits& limits) {
  const Json& buffers = listOf(file.json, "buffers");
  uint64_t total = 0;
  file.fetched.resize(buffers.size());
  for (size_t i = 0; i < buffers.size(); ++i) {
    const std::string pointer = "/buffers/" + std::to_string(i);
    const std::string uri = textOf(buffers[i], "uri");
    const uint64_t length = unsignedOf(buffers[i], "byteLength", 0);
    base::ByteSpan bytes;
    const Json* compressed = extensionOf(buffers[i], "EXT_meshopt_compression");
    if (uri.empty() && compressed != nullptr && compressed->value("fallback", Json()) == Json(true)) {
      // A stand-in for readers without the extension; its views are decompressed from elsewhere.
      file.buffers.emplace_back();
      continue;
    }
    if (uri.empty()) {
      if (i != 0 || !file.is_glb)
        return file.error("gltf.buffer", base::phrase("The buffer names no file."), pointer);
      bytes = file.binary;
    } else {
      std::string mime;
      auto got =
          isDataUri(uri) ? decodeDataUri(uri, mime, file, pointer + "/uri") : fetch(percentDecoded(uri));
      if (!got)
        return file.error("gltf.buffer",
                          base::phrase("The buffer \"{0}\" cannot be read: {1}",
                                       base::presentable(percentDecoded(uri), 80), got.error().message),
                          pointer + "/uri",
                          base::phrase("Keep the .bin file beside the .gltf, with the same name."));
      file.fetched[i] = std::move(got).value();
      total += file.fetched[i].size();
      if (total > limits.file_bytes)
        return file.error("gltf.too_large", base::phrase("The buffers are larger than Rakugo reads."),
                          pointer);
      bytes = file.fetched[i];
    }
    if (length > bytes.size())
      return file.error("gltf.buffer",
                        base::phrase("The buffer promises {0} bytes and has {1}.", length, bytes.size()),
                        pointer + "/byteLength");
    file.buffers.push_back(bytes.first(length));
  }
  return {};
}

}  // namespace gltf

}  // namespace rakugo::formats
