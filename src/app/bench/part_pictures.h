// Small pictures of a model's parts, for lists of them.
#pragma once

#include <QImage>
#include <map>
#include <memory>
#include <set>

#include "app/shell/background.h"
#include "geometry/axes.h"
#include "scene/model.h"

namespace rakugo::app {

/// Draws parts beside the other work; `drawn` says that more of them are there.
class PartPictures : public QObject {
  Q_OBJECT
 public:
  explicit PartPictures(QObject* parent);
  /// The picture of a part, or none yet: then it is drawn, and `drawn` follows. `up` and `forward` of the
  /// model's space.
  QImage pictureOf(const std::shared_ptr<const scene::Model>& model, scene::NodeIndex part, glm::vec3 up,
                   glm::vec3 forward);

 Q_SIGNALS:
  void drawn();

 private:
  struct Wanted {
    std::shared_ptr<const scene::Model> model;
    scene::NodeIndex part;
    glm::vec3 up, forward;
  };
  void draw();
  bool night_ = false;  ///< the colours that `known_` is drawn in
  std::map<const scene::Mesh*, std::pair<std::shared_ptr<const scene::Mesh>, QImage>> known_;
  std::vector<Wanted> wanted_;
  std::set<const scene::Mesh*> asked_;  ///< wanted, or being drawn
  Background background_;               ///< last, so that it ends before what its results are put into
};

/// One part, whole, on a clear ground, from `lit` where the light falls to `shade`; `side` pixels each way.
/// Drawn without OpenGL, on any thread. Cost: linear in triangles.
QImage partPicture(const scene::Model& model, scene::NodeIndex part, const std::vector<glm::mat4>& world,
                   glm::vec3 up, glm::vec3 forward, int side, QColor lit, QColor shade);

}  // namespace rakugo::app
