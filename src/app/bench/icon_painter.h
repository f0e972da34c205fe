// Small pictures of what the bench shows: icons, and those in lists. Needs a current context, and no window.
#pragma once

#include <QColor>
#include <QImage>
#include <QSize>

#include "app/bench/uploaded_scene.h"

namespace rakugo::app {

/// How an icon is to look.
struct IconLook {
  QSize size;
  QColor ground;
  QColor ground_below;               ///< at the lower edge; invalid: the same
  float yaw_rad = 0, pitch_rad = 0;  ///< as of render::Camera
  float margin = 0;                  ///< left free at each side, as a share of it
  bool by_night = false;
  double outline_px = 0;  ///< width of the line round the thing
  QColor outline;
};
IconLook iconLookOf(const rulebook::Kind& kind);

/// A picture of items on the look's ground, seen by the camera whole; RGBA8888. The angle is the camera's.
/// What was bound to draw into is bound again.
QImage smallPicture(render::Renderer& renderer, std::vector<render::DrawItem> items,
                    const geometry::Bounds& box, glm::vec3 up, render::Camera camera, const IconLook& look);
/// The whole object of a scene that is uploaded with all its pictures, from the angle that the look says;
/// the camera says the lens. Null for a scene without vertices.
QImage paintIcon(render::Renderer& renderer, UploadedScene& shown, const BenchScene& scene,
                 render::Camera camera, const IconLook& look);

/// Makes a picture (RGBA8888) the icon of an object, taken as it was in the state that is `seen`.
void putIcon(mod::ModState& state, const std::string& object, const QImage& picture,
             const mod::ModState& seen, const rulebook::Rulebook& book);

}  // namespace rakugo::app
