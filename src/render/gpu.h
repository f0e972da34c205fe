// Meshes, pictures and programs on the graphics card. Every object belongs to the context that was current
// when it was made.
#pragma once

#include <QSurfaceFormat>
#include <glm/glm.hpp>
#include <memory>
#include <vector>

#include "bundle/ktx2.h"
#include "bundle/mesh_payload.h"
#include "bundle/records.h"
#include "render/gl.h"

namespace rakugo::render {

/// The functions of Qt's current context, or null when it has no OpenGL 3.3 core. They last as long as the
/// program.
Gl* currentGl();

/// What our windows ask for: OpenGL 3.3 core, 24 bits of depth, smoothed edges. To be set as the default
/// before the application object is made.
QSurfaceFormat surfaceFormat();

/// Buffers of one runtime mesh.
class GpuMesh {
 public:
  GpuMesh(Gl* gl, const bundle::MeshPayload& mesh);
  ~GpuMesh();
  GpuMesh(const GpuMesh&) = delete;
  GpuMesh& operator=(const GpuMesh&) = delete;
  void drawRange(uint32_t first_index, uint32_t count) const;
  /// Other vertices of the same number and layout, as `bundle::morphed` makes them.
  void setVertices(const base::Bytes& vertices);
  [[nodiscard]] bool has(bundle::Semantic semantic) const {
    return (present_ & (1u << static_cast<uint32_t>(semantic))) != 0;
  }

 private:
  Gl* gl_;
  GLuint vao_ = 0, vertices_ = 0, indices_ = 0;
  uint32_t present_ = 0;
};

/// Matrices of bones where the vertex program finds them: four texels each.
class GpuBones {
 public:
  explicit GpuBones(Gl* gl);
  ~GpuBones();
  GpuBones(const GpuBones&) = delete;
  GpuBones& operator=(const GpuBones&) = delete;
  void use(const std::vector<glm::mat4>& matrices, int unit);

 private:
  Gl* gl_;
  GLuint buffer_ = 0, texture_ = 0;
};

/// Whether the context takes textures of that format as they are; others are decoded first.
bool takesFormat(const Gl& gl, bundle::PixelFormat format);

/// A texture with its mip levels, in the picture's own format where the graphics take it, else decoded.
class GpuPicture {
 public:
  GpuPicture(Gl* gl, const bundle::Ktx2Picture& picture);
  ~GpuPicture();
  GpuPicture(const GpuPicture&) = delete;
  GpuPicture& operator=(const GpuPicture&) = delete;
  /// To a unit, for a material that looks it up so.
  void bind(int unit, const bundle::PictureLookup& lookup, bool nearest) const;
  /// It holds red and green alone: the third part of a normal is to be made from them.
  [[nodiscard]] bool twoChannels() const { return two_channels_; }

 private:
  Gl* gl_;
  GLuint texture_ = 0;
  bool two_channels_ = false;
};

/// A linked program; breaks its promise when the sources do not compile, for they are ours.
class Program {
 public:
  Program(Gl* gl, const char* vertex, const char* fragment);
  ~Program();
  Program(const Program&) = delete;
  Program& operator=(const Program&) = delete;
  void use();
  void set(const char* name, float v);
  void set(const char* name, int v);
  void set(const char* name, glm::vec2 v);
  void set(const char* name, glm::vec3 v);
  void set(const char* name, glm::vec4 v);
  void set(const char* name, const glm::mat4& v);

 private:
  Gl* gl_;
  [[nodiscard]] GLint place(const char* name) const { return gl_->glGetUniformLocation(program_, name); }
  GLuint program_ = 0;
};

/// An off-screen picture to draw into: up to two colour textures and depth.
class Target {
 public:
  explicit Target(Gl* gl) : gl_(gl) {}
  ~Target();
  Target(const Target&) = delete;
  Target& operator=(const Target&) = delete;
  /// Makes it that large, if it is not. `formats`: one sized internal format a colour texture; empty for a
  /// depth map alone.
  void resize(int width, int height, std::vector<GLenum> formats);
  void bind();
  void bindTexture(size_t which, int unit);
  void bindDepth(int unit);
  [[nodiscard]] int width() const { return width_; }
  [[nodiscard]] int height() const { return height_; }

 private:
  void release();
  Gl* gl_;
  int width_ = 0, height_ = 0;
  GLuint frame_ = 0, depth_ = 0;
  std::vector<GLuint> colors_;
};

}  // namespace rakugo::render
