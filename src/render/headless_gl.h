// OpenGL without a window and without a display: EGL on no surface (EGL_MESA_platform_surfaceless, EGL 1.5,
// section 3.7.3), drawn by software where there is no graphics card.
#pragma once

#include <memory>

#include "base/result.h"
#include "render/gl.h"

namespace rakugo::render {

/// Its context is current in the thread that made it, until it goes; everything made with its functions has
/// to go before. There is nothing to draw into but framebuffers of one's own.
class HeadlessGl {
 public:
  /// Errors: gl.none, with what EGL says and what to do.
  static base::Result<std::unique_ptr<HeadlessGl>> make();
  ~HeadlessGl();
  HeadlessGl(const HeadlessGl&) = delete;
  HeadlessGl& operator=(const HeadlessGl&) = delete;
  [[nodiscard]] Gl* gl() { return &gl_; }

 private:
  HeadlessGl() = default;
  void *display_ = nullptr, *context_ = nullptr;  // EGL's own; its header stays in the .cpp
  Gl gl_;
};

}  // namespace rakugo::render
