// Every cap on what hostile input may make us do, in one place. Each has a test that meets it.
#pragma once

#include <cstdint>

namespace rakugo::base {

/// Caps for one file that is read. A reader compares every count with the bytes that remain before it sizes
/// anything by it.
struct Limits {
  uint64_t file_bytes = 2ull << 30;      ///< a file larger than this is not opened
  uint64_t json_bytes = 256ull << 20;    ///< JSON text
  uint64_t rulebook_bytes = 4ull << 20;  ///< a rulebook's text
  int json_depth = 64;                   ///< nested arrays and objects
  uint64_t elements = 64ull << 20;       ///< vertices, indices, keys in one array
  uint32_t nodes = 200'000;              ///< nodes in a scene
  int node_depth = 512;                  ///< parents above a node
  /// What a model draws in all, a mesh that many parts use counted for each: it is prepared, checked, drawn
  /// and built part by part.
  uint64_t drawn_triangles = 48ull << 20;
  uint64_t drawn_vertices = 96ull << 20;
  uint64_t drawn_parts = 50'000;
  uint32_t picture_side = 16'384;          ///< pixels
  uint64_t picture_pixels = 128ull << 20;  ///< pixels in all
  uint64_t memory_per_byte = 64;  ///< memory a reader may take for one byte of its file, above a fixed part
};

/// Caps for one bundle.
struct BundleLimits {
  uint32_t entries = 100'000;
  uint32_t id_bytes = 512;
  uint64_t entry_raw_bytes = 1ull << 30;
  uint64_t expansion = 2'000;  ///< raw bytes for one stored byte
  uint64_t manifest_bytes = 16ull << 20;
};

}  // namespace rakugo::base
