// How the game looks: harbour, water, sky, placed objects, by day and by night. Needs a current OpenGL
// context.
#pragma once

#include <map>
#include <memory>
#include <optional>
#include <set>

#include "render/renderer.h"
#include "standin/play.h"

namespace rakugo::standin {

class HarbourView {
 public:
  explicit HarbourView(render::Gl* gl);
  ~HarbourView();
  render::Camera camera;
  float night = 0;                 ///< 0 day .. 1 night
  std::optional<glm::vec3> paint;  ///< the player's choice, sRGB; nothing: each thing has its own
  std::set<std::string> switched;  ///< what goes on, by the names of `harbourSwitches`
  float time_s = 0;                ///< moves the water

  /// Puts the camera where the player looks from, turned aside by what was dragged; nothing changes while the
  /// player only looks round.
  void follow(const Play& play, float aside_rad = 0, float down_rad = 0);
  /// Looks at an object where it stands. False when it does not stand anywhere.
  bool lookAt(const Game& game, const Play& play, const std::string& object);
  /// Triangles of mods' things in the last frame, as far away as they stood.
  [[nodiscard]] uint64_t drawnTriangles() const { return drawn_triangles_; }
  /// Draws one frame into `framebuffer`.
  void draw(const Game& game, const Play& play, GLuint framebuffer, int width, int height);

 private:
  struct Loaded {
    uint64_t generation = 0;
    struct Piece {
      std::vector<render::DrawItem> items;  ///< the nearest first; matrices are relative to the object
      std::vector<float> from_m;            ///< by item: the distance it is drawn from
      std::string region;                   ///< of the body it covers, or empty
      std::string apart;                    ///< which of the models shown apart it is of; empty: none
      size_t place = 0;                     ///< among the pieces of the record
      bool screw = false;                   ///< it turns about its own +X while the boat makes way
      int rig = -1, bone = -1;              ///< as the object's record says
      std::vector<std::string> meshes;      ///< by item: the id of its mesh
      std::string name;
      std::vector<std::vector<float>> morphs;  ///< by item: what its vertices were made with
    };
    std::vector<Piece> pieces;
    std::vector<glm::vec3> lights;  ///< of its points
    /// What takes the player's paint, and its own tone without.
    std::vector<std::pair<std::shared_ptr<render::DrawMaterial>, glm::vec3>> painted;
    std::vector<std::shared_ptr<render::DrawMaterial>> changing;  ///< with what goes on
  };
  void load(const LoadedThing& object, Loaded& out);
  std::map<std::string, std::shared_ptr<render::DrawMaterial>> loadMaterials(const LoadedThing& object,
                                                                             Loaded& out);
  static void shape(const LoadedThing& object, const Shown& shown, Loaded::Piece& piece);
  void addShown(const LoadedThing& object, Loaded& loaded, const Shown& shown,
                std::vector<render::DrawItem>& items);
  void addLines(const bundle::ObjectRecord& record, const glm::mat4& place,
                std::vector<render::DrawItem>& items) const;
  void drawWater(const render::Ambience& ambience, float aspect);
  std::vector<render::DrawItem> itemsOf(const std::vector<struct HarbourPart>& parts);

  render::Gl* gl_;
  uint64_t drawn_triangles_ = 0;
  render::Renderer renderer_;
  render::Program water_;
  GLuint water_vao_ = 0;
  std::vector<render::DrawItem> harbour_, person_, person_without_coat_, line_;
  std::map<std::string, std::shared_ptr<render::GpuPicture>> surfaces_;
  std::map<std::string, Loaded> loaded_;
  std::vector<std::shared_ptr<render::DrawMaterial>> windows_;
};

}  // namespace rakugo::standin
