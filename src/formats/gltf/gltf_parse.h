// First stage of the glTF reader: container and JSON, buffers fetched. Internal to formats.
#pragma once

#include <string>
#include <vector>

#include "base/json.h"
#include "formats/gltf/gltf.h"

namespace rakugo::formats::gltf {

/// A parsed file: its JSON, and the bytes of its buffers.
struct File {
  std::string name;
  base::Json json;
  base::ByteSpan binary;  ///< the BIN chunk, a view into the input
  bool is_glb = false;
  uint64_t input_bytes = 0;
  std::vector<base::Bytes> fetched;  ///< storage behind `buffers`
  std::vector<base::ByteSpan> buffers;

  /// An error at a JSON pointer of this file.
  [[nodiscard]] base::Error error(const char* code, const std::string& message, const std::string& pointer,
                                  const std::string& cure = {}) const;
};

/// Container, JSON, version and required extensions. Buffers are not fetched yet.
base::Result<File> parse(base::ByteSpan bytes, const std::string& name, const base::Limits& limits);
/// Fills `buffers`. A buffer that cannot be had is an error.
base::Status fetchBuffers(File& file, const Fetch& fetch, const base::Limits& limits);

/// The bytes of a data URI (RFC 2397, base64), or an error; `mime` receives its media type.
base::Result<base::Bytes> decodeDataUri(const std::string& uri, std::string& mime, const File& file,
                                        const std::string& pointer);
bool isDataUri(const std::string& uri);
/// RFC 3986 percent-decoding.
std::string percentDecoded(const std::string& uri);

/// A member that must be a list, or an empty list.
const base::Json& listOf(const base::Json& json, const char* key);
/// A whole number from 0 on, however it is written (JSON knows 3 and 3.0 as one number); UINT64_MAX when it
/// is none.
uint64_t wholeOf(const base::Json& value);
/// An unsigned member, or `fallback` when absent; UINT64_MAX when it is no unsigned number.
uint64_t unsignedOf(const base::Json& json, const char* key, uint64_t fallback);
/// A member of the object's "extensions", or null.
const base::Json* extensionOf(const base::Json& json, const char* name);
/// A text member, or "".
std::string textOf(const base::Json& json, const char* key);

}  // namespace rakugo::formats::gltf
