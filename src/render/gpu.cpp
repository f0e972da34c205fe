#include "render/gpu.h"

#include <QOpenGLContext>
#include <QOpenGLExtraFunctions>
#include <QOpenGLFunctions>
#include <QOpenGLVersionFunctionsFactory>

#include "base/result.h"
#include "texture/block_decoder.h"

namespace rakugo::render {

Gl* currentGl() {
  QOpenGLContext* context = QOpenGLContext::currentContext();
  if (context == nullptr) return nullptr;
  auto* gl = QOpenGLVersionFunctionsFactory::get<Gl>(context);
  return gl != nullptr && gl->initializeOpenGLFunctions() ? gl : nullptr;
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
  QOpenGLFunctions* basic = QOpenGLContext::currentContext()->functions();
  if (!has(bundle::Semantic::uv0)) basic->glVertexAttrib2f(3, 0, 0);
  if (!has(bundle::Semantic::uv1)) basic->glVertexAttrib2f(4, 0, 0);
  if (!has(bundle::Semantic::color)) basic->glVertexAttrib4f(5, 1, 1, 1, 1);
  if (!has(bundle::Semantic::joints))
    QOpenGLContext::currentContext()->extraFunctions()->glVertexAttribI4ui(6, 0, 0, 0, 0);
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

bool takesFormat(bundle::PixelFormat format) {
  using F = bundle::PixelFormat;
  const QOpenGLContext* context = QOpenGLContext::currentContext();
  if (format == F::rgba8) return true;
  if (context == nullptr) return false;
  if (format == F::bc4 || format == F::bc5) return true;
  if (format == F::bc1 || format == F::bc3)
    return context->hasExtension("GL_EXT_texture_compression_s3tc") &&
           (context->hasExtension("GL_EXT_texture_sRGB") ||
            context->hasExtension("GL_EXT_texture_compression_s3tc_srgb"));
  return bundle::isAstc(format) && context->hasExtension("GL_KHR_texture_compression_astc_ldr");
}

GpuPicture::GpuPicture(Gl* gl, const bundle::Ktx2Picture& picture)
    : gl_(gl), two_channels_(picture.format == bundle::PixelFormat::bc5) {
  const bool as_it_is = takesFormat(picture.format);
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

Program::Program(Gl* gl, const char* vertex, const char* fragment) : gl_(gl) {
  const bool good = program_.addShaderFromSourceCode(QOpenGLShader::Vertex, vertex) &&
                    program_.addShaderFromSourceCode(QOpenGLShader::Fragment, fragment) && program_.link();
  if (!good) base::brokenPromise("a shader does not compile", program_.log().toStdString());
}

void Program::use() { program_.bind(); }
void Program::set(const char* name, float v) { program_.setUniformValue(name, v); }
void Program::set(const char* name, int v) { program_.setUniformValue(name, v); }
void Program::set(const char* name, glm::vec2 v) {
  gl_->glUniform2f(program_.uniformLocation(name), v.x, v.y);
}
void Program::set(const char* name, glm::vec3 v) {
  gl_->glUniform3f(program_.uniformLocation(name), v.x, v.y, v.z);
}
void Program::set(const char* name, glm::vec4 v) {
  gl_->glUniform4f(program_.uniformLocation(name), v.x, v.y, v.z, v.w);
}
void Program::set(const char* name, const glm::mat4& v) {
  gl_->glUniformMatrix4fv(program_.uniformLocation(name), 1, GL_FALSE, &v[0][0]);
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
