#include "render/gl.h"

namespace rakugo::render {

std::optional<Gl> lookUpGl(const FindFunction& find) {
  Gl out;
  bool whole = true;
#define RAKUGO_GL_LOOK_UP(result, name, arguments)              \
  out.name = reinterpret_cast<decltype(out.name)>(find(#name)); \
  whole = whole && out.name != nullptr;
  RAKUGO_GL_FUNCTIONS(RAKUGO_GL_LOOK_UP)
#undef RAKUGO_GL_LOOK_UP
  if (!whole) return std::nullopt;
  GLint major = 0, minor = 0, count = 0;
  out.glGetIntegerv(GL_MAJOR_VERSION, &major);
  out.glGetIntegerv(GL_MINOR_VERSION, &minor);
  if (major < 3 || (major == 3 && minor < 3)) return std::nullopt;
  out.glGetIntegerv(GL_NUM_EXTENSIONS, &count);
  for (GLint i = 0; i < count; ++i)
    if (const GLubyte* name = out.glGetStringi(GL_EXTENSIONS, static_cast<GLuint>(i)))
      out.extensions.insert(reinterpret_cast<const char*>(name));
  return out;
}

}  // namespace rakugo::render
