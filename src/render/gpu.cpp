#include "render/gpu.h"

#include <QOpenGLContext>

#include "base/result.h"
#include "texture/block_decoder.h"

namespace rakugo::render {

Gl* currentGl() {
  QOpenGLContext* context = QOpenGLContext::currentContext();
  if (context == nullptr) return nullptr;
  if (context->format().majorVersion() < 3) return nullptr;
  // The functions themselves are the same for every context of the platform.
  static std::optional<Gl> functions = lookUpGl(
      [context](const char* name) { return reinterpret_cast<void*>(context->getProcAddress(name)); });
  return functions ? &*functions : nullptr;
}

QSurfaceFormat surfaceFormat() {
  QSurfaceFormat format;
  format.setVersion(3, 3);
  format.setProfile(QSurfaceFormat::CoreProfile);
  format.setDepthBufferSize(24);
  format.setSamples(4);
  return format;
}

GpuMesh::GpuMesh(Gl* gl, const bundle::MeshPayload& mesh) : gl_(gl) {
  gl_->glGenVertexArrays(1, &vao_);
  gl_->glBindVertexArray(vao_);
  gl_->glGenBuffers(1, &vertices_);
  gl_->glBindBuffer(GL_ARRAY_BUFFER, vertices_);
  gl_->glBufferData(GL_ARRAY_BUFFER, static_cast<GLsizeiptr>(mesh.vertices.size()), mesh.vertices.data(),
                    GL_STATIC_DRAW);
  gl_->glGenBuffers(1, &indices_);
  gl_->glBindBuffer(GL_ELEMENT_ARRAY_BUFFER, indices_);
  gl_->glBufferData(GL_ELEMENT_ARRAY_BUFFER, static_cast<GLsizeiptr>(mesh.indices.size() * 4),
                    mesh.indices.data(), GL_STATIC_DRAW);
  for (const bundle::Attribute& a : mesh.attributes) {
    const auto at = static_cast<GLuint>(a.semantic);
    present_ |= 1u << at;
    gl_->glEnableVertexAttribArray(at);
    const auto* offset = reinterpret_cast<const void*>(static_cast<uintptr_t>(a.offset));
    if (a.format == bundle::AttributeFormat::u16x4) {
      gl_->glVertexAttribIPointer(at, 4, GL_UNSIGNED_SHORT, static_cast<GLsizei>(mesh.stride), offset);
      continue;
    }
    const bool bytes = a.format == bundle::AttributeFormat::unorm8x4,
               shorts = a.format == bundle::AttributeFormat::unorm16x4;
    const GLint count = a.format == bundle::AttributeFormat::f32x2   ? 2
                        : a.format == bundle::AttributeFormat::f32x3 ? 3
                                                                     : 4;
    gl_->glVertexAttribPointer(at, count,
                               bytes    ? GL_UNSIGNED_BYTE
                               : shorts ? GL_UNSIGNED_SHORT
                                        : GL_FLOAT,
                               bytes || shorts ? GL_TRUE : GL_FALSE, static_cast<GLsizei>(mesh.stride),
                               offset);
  }
  gl_->glBindVertexArray(0);
}

GpuMesh::~GpuMesh() {
  gl_->glDeleteBuffers(1, &vertices_);
  gl_->glDeleteBuffers(1, &indices_);
  gl_->glDeleteVertexArrays(1, &vao_);
}

void GpuMesh::drawRange(uint32_t first_index, uint32_t count) const {
  gl_->glBindVertexArray(vao_);
  // Attributes a mesh lacks read a constant.
  if (!has(bundle::Semantic::uv0)) gl_->glVertexAttrib2f(3, 0, 0);
  if (!has(bundle::Semantic::uv1)) gl_->glVertexAttrib2f(4, 0, 0);
  if (!has(bundle::Semantic::color)) gl_->glVertexAttrib4f(5, 1, 1, 1, 1);
  if (!has(bundle::Semantic::joints)) gl_->glVertexAttribI4ui(6, 0, 0, 0, 0);
  gl_->glDrawElements(GL_TRIANGLES, static_cast<GLsizei>(count), GL_UNSIGNED_INT,
                      reinterpret_cast<const void*>(static_cast<uintptr_t>(first_index) * 4));
}

void GpuMesh::setVertices(const base::Bytes& vertices) {
  gl_->glBindBuffer(GL_ARRAY_BUFFER, vertices_);
  gl_->glBufferData(GL_ARRAY_BUFFER, static_cast<GLsizeiptr>(vertices.size()), vertices.data(),
                    GL_STATIC_DRAW);
}

GpuBones::GpuBones(Gl* gl) : gl_(gl) {
  gl_->glGenBuffers(1, &buffer_);
  gl_->glGenTextures(1, &texture_);
}

GpuBones::~GpuBones() {
  gl_->glDeleteTextures(1, &texture_);
  gl_->glDeleteBuffers(1, &buffer_);
}

void GpuBones::use(const std::vector<glm::mat4>& matrices, int unit) {
  gl_->glBindBuffer(GL_TEXTURE_BUFFER, buffer_);
  gl_->glBufferData(GL_TEXTURE_BUFFER, static_cast<GLsizeiptr>(matrices.size() * sizeof(glm::mat4)),
                    matrices.data(), GL_STREAM_DRAW);
  gl_->glActiveTexture(GL_TEXTURE0 + static_cast<GLenum>(unit));
  gl_->glBindTexture(GL_TEXTURE_BUFFER, texture_);
  gl_->glTexBuffer(GL_TEXTURE_BUFFER, GL_RGBA32F, buffer_);
}

namespace {

// Numbers of EXT_texture_compression_s3tc, EXT_texture_sRGB and KHR_texture_compression_astc_ldr; those of
// RGTC are OpenGL 3.0's own.
GLenum internalFormat(bundle::PixelFormat format, bool srgb) {
  using F = bundle::PixelFormat;
  switch (format) {
    case F::bc1:
      return srgb ? 0x8C4C : 0x83F0;
    case F::bc3:
      return srgb ? 0x8C4F : 0x83F3;
    case F::bc4:
      return GL_COMPRESSED_RED_RGTC1;
    case F::bc5:
      return GL_COMPRESSED_RG_RGTC2;
    case F::astc_4x4:
    case F::astc_5x4:
    case F::astc_5x5:
    case F::astc_6x5:
    case F::astc_6x6:
    case F::astc_8x5:
    case F::astc_8x6:
    case F::astc_8x8:
      return (srgb ? 0x93D0U : 0x93B0U) + static_cast<GLenum>(format) - static_cast<GLenum>(F::astc_4x4);
    default:
      return srgb ? GL_SRGB8_ALPHA8 : GL_RGBA8;
  }
}

}  // namespace

bool takesFormat(const Gl& gl, bundle::PixelFormat format) {
  using F = bundle::PixelFormat;
  const auto has = [&](const char* extension) { return gl.extensions.count(extension) != 0; };
  if (format == F::rgba8 || format == F::bc4 || format == F::bc5) return true;
  if (format == F::bc1 || format == F::bc3)
    return has("GL_EXT_texture_compression_s3tc") &&
           (has("GL_EXT_texture_sRGB") || has("GL_EXT_texture_compression_s3tc_srgb"));
  return bundle::isAstc(format) && has("GL_KHR_texture_compression_astc_ldr");
}

GpuPicture::GpuPicture(Gl* gl, const bundle::Ktx2Picture& picture)
    : gl_(gl), two_channels_(picture.format == bundle::PixelFormat::bc5) {
  const bool as_it_is = takesFormat(*gl, picture.format);
  const bundle::Ktx2Picture decoded = as_it_is ? bundle::Ktx2Picture() : texture::plainPicture(picture);
  const bundle::Ktx2Picture& made = as_it_is ? picture : decoded;
  const GLenum internal = internalFormat(made.format, made.srgb);
  gl_->glGenTextures(1, &texture_);
  gl_->glBindTexture(GL_TEXTURE_2D, texture_);
  for (size_t i = 0; i < made.levels.size(); ++i) {
    const auto level = static_cast<GLint>(i);
    const auto width = static_cast<GLsizei>(std::max(1U, made.width >> i)),
               height = static_cast<GLsizei>(std::max(1U, made.height >> i));
    if (made.format == bundle::PixelFormat::rgba8)
      gl_->glTexImage2D(GL_TEXTURE_2D, level, static_cast<GLint>(internal), width, height, 0, GL_RGBA,
                        GL_UNSIGNED_BYTE, made.levels[i].data());
    else
      gl_->glCompressedTexImage2D(GL_TEXTURE_2D, level, internal, width, height, 0,
                                  static_cast<GLsizei>(made.levels[i].size()), made.levels[i].data());
  }
  gl_->glTexParameteri(GL_TEXTURE_2D, GL_TEXTURE_MAX_LEVEL, static_cast<GLint>(picture.levels.size() - 1));
}

GpuPicture::~GpuPicture() { gl_->glDeleteTextures(1, &texture_); }

void GpuPicture::bind(int unit, const bundle::PictureLookup& lookup, bool nearest) const {
  using Wrap = bundle::PictureLookup::Wrap;
  gl_->glActiveTexture(GL_TEXTURE0 + static_cast<GLenum>(unit));
  gl_->glBindTexture(GL_TEXTURE_2D, texture_);
  gl_->glTexParameteri(GL_TEXTURE_2D, GL_TEXTURE_MIN_FILTER,
                       nearest ? GL_NEAREST_MIPMAP_NEAREST : GL_LINEAR_MIPMAP_LINEAR);
  gl_->glTexParameteri(GL_TEXTURE_2D, GL_TEXTURE_MAG_FILTER, nearest ? GL_NEAREST : GL_LINEAR);
  const auto wrap = [](Wrap w) {
    return w == Wrap::clamp ? GL_CLAMP_TO_EDGE : w == Wrap::mirror ? GL_MIRRORED_REPEAT : GL_REPEAT;
  };
  gl_->glTexParameteri(GL_TEXTURE_2D, GL_TEXTURE_WRAP_S, wrap(lookup.wrap[0]));
  gl_->glTexParameteri(GL_TEXTURE_2D, GL_TEXTURE_WRAP_T, wrap(lookup.wrap[1]));
}

namespace {

// What is wrong with a shader or program; empty: nothing.
template <class Ask, class Tell>
std::string trouble(GLuint of, GLenum what, const Ask& ask, const Tell& tell) {
  GLint good = 0, length = 0;
  ask(of, what, &good);
  if (good == GL_TRUE) return {};
  ask(of, GL_INFO_LOG_LENGTH, &length);
  std::string log(static_cast<size_t>(std::max(length, 1)), ' ');
  tell(of, static_cast<GLsizei>(log.size()), nullptr, log.data());
  return log;
}

}  // namespace

Program::Program(Gl* gl, const char* vertex, const char* fragment) : gl_(gl) {
  program_ = gl_->glCreateProgram();
  for (const auto& [sort, source] : {std::pair(GL_VERTEX_SHADER, vertex), {GL_FRAGMENT_SHADER, fragment}}) {
    const GLuint shader = gl_->glCreateShader(static_cast<GLenum>(sort));
    gl_->glShaderSource(shader, 1, &source, nullptr);
    gl_->glCompileShader(shader);
    if (const std::string log =
            trouble(shader, GL_COMPILE_STATUS, gl_->glGetShaderiv, gl_->glGetShaderInfoLog);
        !log.empty())
      base::brokenPromise("a shader does not compile", log);
    gl_->glAttachShader(program_, shader);
    gl_->glDeleteShader(shader);  // it goes with the program
  }
  gl_->glLinkProgram(program_);
  if (const std::string log =
          trouble(program_, GL_LINK_STATUS, gl_->glGetProgramiv, gl_->glGetProgramInfoLog);
      !log.empty())
    base::brokenPromise("a program does not link", log);
}

Program::~Program() { gl_->glDeleteProgram(program_); }

void Program::use() { gl_->glUseProgram(program_); }
void Program::set(const char* name, float v) { gl_->glUniform1f(place(name), v); }
void Program::set(const char* name, int v) { gl_->glUniform1i(place(name), v); }
void Program::set(const char* name, glm::vec2 v) { gl_->glUniform2f(place(name), v.x, v.y); }
void Program::set(const char* name, glm::vec3 v) { gl_->glUniform3f(place(name), v.x, v.y, v.z); }
void Program::set(const char* name, glm::vec4 v) { gl_->glUniform4f(place(name), v.x, v.y, v.z, v.w); }
void Program::set(const char* name, const glm::mat4& v) {
  gl_->glUniformMatrix4fv(place(name), 1, GL_FALSE, &v[0][0]);
}

Target::~Target() { release(); }

void Target::release() {
  if (frame_ == 0) return;
  gl_->glDeleteFramebuffers(1, &frame_);
  gl_->glDeleteTextures(1, &depth_);
  gl_->glDeleteTextures(static_cast<GLsizei>(colors_.size()), colors_.data());
  colors_.clear();
  frame_ = 0;
}

void Target::resize(int width, int height, std::vector<GLenum> formats) {
  if (frame_ != 0 && width == width_ && height == height_) return;
  release();
  width_ = width;
  height_ = height;
  gl_->glGenFramebuffers(1, &frame_);
  gl_->glBindFramebuffer(GL_FRAMEBUFFER, frame_);
  const auto texture = [&](GLenum internal, GLenum format, GLenum type) {
    GLuint id = 0;
    gl_->glGenTextures(1, &id);
    gl_->glBindTexture(GL_TEXTURE_2D, id);
    gl_->glTexImage2D(GL_TEXTURE_2D, 0, static_cast<GLint>(internal), width, height, 0, format, type,
                      nullptr);
    for (const GLenum p : {GL_TEXTURE_MIN_FILTER, GL_TEXTURE_MAG_FILTER})
      gl_->glTexParameteri(GL_TEXTURE_2D, p, GL_NEAREST);
    for (const GLenum p : {GL_TEXTURE_WRAP_S, GL_TEXTURE_WRAP_T})
      gl_->glTexParameteri(GL_TEXTURE_2D, p, GL_CLAMP_TO_EDGE);
    return id;
  };
  std::vector<GLenum> buffers;
  for (size_t i = 0; i < formats.size(); ++i) {
    colors_.push_back(texture(formats[i], GL_RGBA, formats[i] == GL_RGBA8 ? GL_UNSIGNED_BYTE : GL_FLOAT));
    buffers.push_back(GL_COLOR_ATTACHMENT0 + static_cast<GLenum>(i));
    gl_->glFramebufferTexture2D(GL_FRAMEBUFFER, buffers.back(), GL_TEXTURE_2D, colors_.back(), 0);
  }
  depth_ = texture(GL_DEPTH_COMPONENT24, GL_DEPTH_COMPONENT, GL_UNSIGNED_INT);
  gl_->glFramebufferTexture2D(GL_FRAMEBUFFER, GL_DEPTH_ATTACHMENT, GL_TEXTURE_2D, depth_, 0);
  if (buffers.empty()) {
    gl_->glDrawBuffer(GL_NONE);
    gl_->glReadBuffer(GL_NONE);
  } else {
    gl_->glDrawBuffers(static_cast<GLsizei>(buffers.size()), buffers.data());
  }
}

void Target::bind() {
  gl_->glBindFramebuffer(GL_FRAMEBUFFER, frame_);
  gl_->glViewport(0, 0, width_, height_);
}

void Target::bindTexture(size_t which, int unit) {
  gl_->glActiveTexture(GL_TEXTURE0 + static_cast<GLenum>(unit));
  gl_->glBindTexture(GL_TEXTURE_2D, colors_[which]);
}

void Target::bindDepth(int unit) {
  gl_->glActiveTexture(GL_TEXTURE0 + static_cast<GLenum>(unit));
  gl_->glBindTexture(GL_TEXTURE_2D, depth_);
}

}  // namespace rakugo::render
