#include "render/headless_gl.h"

#define EGL_NO_X11
#define MESA_EGL_NO_X11_HEADERS
#include <EGL/egl.h>
#include <EGL/eglext.h>

#include "base/phrase.h"
#include "base/text.h"

namespace rakugo::render {
namespace {

base::Error noGl(const std::string& what) {
  return {
      "gl.none",
      base::phrase("There is no OpenGL without a display: {0}.", what),
      {},
      base::phrase("Install Mesa's software drawing (libegl1, libgl1-mesa-dri), or run it on a display.")};
}

std::string failed(const char* call) {
  return base::phrase("{0} fails with {1}", call, base::numberText(static_cast<double>(eglGetError()), 0));
}

}  // namespace

base::Result<std::unique_ptr<HeadlessGl>> HeadlessGl::make() {
  std::unique_ptr<HeadlessGl> out(new HeadlessGl);
  const auto display = eglGetPlatformDisplay(EGL_PLATFORM_SURFACELESS_MESA, EGL_DEFAULT_DISPLAY, nullptr);
  if (display == EGL_NO_DISPLAY) return noGl(failed("eglGetPlatformDisplay"));
  if (eglInitialize(display, nullptr, nullptr) == EGL_FALSE) return noGl(failed("eglInitialize"));
  out->display_ = display;
  if (eglBindAPI(EGL_OPENGL_API) == EGL_FALSE) return noGl(failed("eglBindAPI"));
  const EGLint wanted[] = {EGL_SURFACE_TYPE, EGL_PBUFFER_BIT, EGL_RENDERABLE_TYPE, EGL_OPENGL_BIT, EGL_NONE};
  EGLConfig config = EGL_NO_CONFIG_KHR;
  EGLint count = 0;
  if (eglChooseConfig(display, wanted, &config, 1, &count) == EGL_FALSE || count == 0)
    config = EGL_NO_CONFIG_KHR;  // a context that draws into framebuffers alone needs none
  const EGLint version[] = {EGL_CONTEXT_MAJOR_VERSION,
                            3,
                            EGL_CONTEXT_MINOR_VERSION,
                            3,
                            EGL_CONTEXT_OPENGL_PROFILE_MASK,
                            EGL_CONTEXT_OPENGL_CORE_PROFILE_BIT,
                            EGL_NONE};
  const auto context = eglCreateContext(display, config, EGL_NO_CONTEXT, version);
  if (context == EGL_NO_CONTEXT) return noGl(failed("eglCreateContext"));
  out->context_ = context;
  if (eglMakeCurrent(display, EGL_NO_SURFACE, EGL_NO_SURFACE, context) == EGL_FALSE)
    return noGl(failed("eglMakeCurrent"));
  const auto gl = lookUpGl([](const char* name) { return reinterpret_cast<void*>(eglGetProcAddress(name)); });
  if (!gl) return noGl(base::phrase("it is older than 3.3"));
  out->gl_ = *gl;
  return out;
}

HeadlessGl::~HeadlessGl() {
  if (display_ == nullptr) return;
  eglMakeCurrent(display_, EGL_NO_SURFACE, EGL_NO_SURFACE, EGL_NO_CONTEXT);
  if (context_ != nullptr) eglDestroyContext(display_, context_);
  eglTerminate(display_);
}

}  // namespace rakugo::render
