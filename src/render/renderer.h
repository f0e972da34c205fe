// Draws things: meshes with materials, in the lit look or in the drawing look.
#pragma once

#include <array>
#include <functional>
#include <memory>
#include <optional>
#include <vector>

#include "bundle/records.h"
#include "render/camera.h"
#include "render/gpu.h"
#include "render/presence.h"

namespace rakugo::render {

/// How something that is going on changes a material: rain, wear, a lamp that is lit.
struct LookEffect {
  glm::vec3 color{1};    ///< the base colour is multiplied by it, in linear light
  float roughness = 1;   ///< the same for roughness, which stays within 0 and 1
  glm::vec3 emitted{0};  ///< linear, added to what the material gives off
  bool operator==(const LookEffect&) const = default;
};

/// A material ready to draw. `tint` replaces the base colour factor's RGB when it is set (a painted role);
/// what glows has the ambience's glow added as emitted light, times the night.
struct DrawMaterial {
  bundle::MaterialRecord record;
  /// In the order of `MaterialRecord::pictures`; null where there is none.
  std::array<std::shared_ptr<GpuPicture>, 5> pictures;
  std::optional<glm::vec3> tint;  ///< sRGB
  bool glows = false;
  LookEffect effect;
};

/// A mesh somewhere.
struct DrawItem {
  std::shared_ptr<GpuMesh> mesh;
  std::vector<bundle::Submesh> submeshes;
  std::vector<std::shared_ptr<DrawMaterial>> materials;  ///< by the submeshes' material number
  glm::mat4 matrix{1};
  bool selected = false;
  bool pointed = false;  ///< in the drawing look: outlined, as what is under the pointer
  Presence presence = Presence::whole;
  /// Where bones put the vertices, in the mesh's space, before `matrix`; null: where they are stored. One a
  /// bone that a vertex names.
  std::shared_ptr<const std::vector<glm::mat4>> bones;
  /// In the drawing look: how far each vertex follows that bone, in place of its materials' colours.
  std::optional<int> weights_of;
  std::optional<glm::vec3> wash;  ///< sRGB: in the drawing look, in place of its materials' colours
};

struct PointLight {
  glm::vec3 position{0};
  glm::vec3 color{0};                  ///< linear, at one metre
  glm::vec3 halo{0};                   ///< sRGB: the shine round it, as strong as it is seen
  glm::vec3 direction{0};              ///< a unit vector; zero: it shines all round
  float cos_edge = -1, cos_full = -1;  ///< cosines of half the cone, and of where its light begins to fade
  float reach = 0;                     ///< metres; 0: no end. Falls off as in KHR_lights_punctual of glTF 2.0
};
/// Lights beyond these are not used.
inline constexpr size_t kMostLights = 8;

/// A round spot that faces the eye.
struct ParticleSprite {
  glm::vec3 position{0};
  float radius = 0;    ///< metres
  glm::vec4 color{1};  ///< linear, with opacity
  float glow = 0;      ///< 0: lit by what is around; 1: it shines by itself, and is added
};

/// Light and air.
struct Ambience {
  glm::vec3 sun_direction{0.4F, 0.3F, 0.85F};  ///< towards the sun
  glm::vec3 sun{2.9F, 2.6F, 2.2F}, sky{0.48F, 0.58F, 0.7F}, ground{0.3F, 0.27F, 0.23F};
  glm::vec3 fog{0.75F, 0.82F, 0.86F};
  float fog_density = 0;
  float night = 0;  ///< 0 day .. 1 night
  glm::vec3 glow{1.0F, 0.72F, 0.36F};
  glm::vec3 up{0, 0, 1};
  std::vector<PointLight> lights;  ///< the first `kMostLights` are used
  /// Day and night of the same place.
  static Ambience at(float night);
};

struct LineVertex {
  glm::vec3 position;
  glm::vec4 color;  ///< sRGB with alpha
};

/// Colours of the drawing look, sRGB.
struct DrawingStyle {
  glm::vec3 paper{0.969F, 0.949F, 0.91F}, sheet{1, 1, 1}, ink{0.133F, 0.149F, 0.184F},
      accent{0.169F, 0.298F, 0.549F};
  /// Hatched where no item stands before it; its outline alone; or let through over all that is drawn.
  enum class Ghost { hatch, outline, overlay };
  Ghost ghost = Ghost::hatch;
};

/// Owns the programs. One a context; destroy it while that context is current.
class Renderer {
 public:
  explicit Renderer(Gl* gl);
  ~Renderer();
  [[nodiscard]] Gl* gl() const { return gl_; }

  /// Draws the sun's depth of `items` around `center` (radius metres), to be used by `lit`. Leaves another
  /// framebuffer bound.
  void shadows(const std::vector<DrawItem>& items, const Ambience& ambience, glm::vec3 center,
               float radius_m);
  /// Lit look into the bound framebuffer, blended materials last and far ones first. `between` is called once
  /// the opaque things stand: what is drawn there (sky, water) costs nothing where they hide it.
  void lit(const std::vector<DrawItem>& items, const Camera& camera, float aspect, const Ambience& ambience,
           const std::function<void()>& between = nullptr);
  /// The shine round the ambience's lights, seen from within their cones; after `lit`.
  void halos(const Camera& camera, float aspect, const Ambience& ambience);
  /// Particles, the far ones first; after `lit`.
  void particles(std::vector<ParticleSprite> sprites, const Camera& camera, float aspect,
                 const Ambience& ambience);
  /// A sky over all of the picture that nothing has been drawn in.
  void sky(const Camera& camera, float aspect, const Ambience& ambience);
  /// Drawing look: washes and ink edges over what `framebuffer` shows; the ghost as the style says.
  /// `scale` is the number of device pixels in one pixel of the window.
  void drawing(const std::vector<DrawItem>& items, const std::vector<DrawItem>& ghost, const Camera& camera,
               GLuint framebuffer, int width, int height, const DrawingStyle& style, float scale);
  /// Cuts open what is drawn from now on: of a point p, in metres, nothing is drawn where
  /// dot(plane, (p, 1)) > 0. Ghosts stay whole.
  void cutAway(std::optional<glm::vec4> plane) { cut_ = plane; }
  /// Draws a texture over the whole bound framebuffer, stretched to its size.
  void stretch(GLuint texture);
  /// Lines of a width in pixels; `first` and every second vertex begin a line.
  void lines(const std::vector<LineVertex>& vertices, const Camera& camera, int width, int height,
             float width_px, bool depth_test = true);

 private:
  /// Makes the lit program the present one, with camera, light and air.
  void beginLit(const Camera& camera, float aspect, const Ambience& ambience);
  void placeItem(Program& program, const DrawItem& item);
  void useMaterial(Program& program, const DrawMaterial& material, const Ambience& ambience);
  void useCut(Program& program, bool cut);
  void gbuffer(const std::vector<DrawItem>& items, Presence presence, const Camera& camera, Target& target,
               int width, int height, bool cut);
  Gl* gl_;
  Program lit_, depth_, gbuffer_, composite_, sky_, line_, halo_, copy_, particle_;
  GpuBones bones_;
  Target shadow_, items_, ghost_, through_;
  std::optional<glm::vec4> cut_;
  glm::mat4 shadow_matrix_{1};
  GLuint empty_vao_ = 0, line_vao_ = 0, line_buffer_ = 0;
};

/// The colour of the drawing look for how far a vertex follows a bone (0 to 1), sRGB: for legends.
glm::vec3 weightColor(float share);

/// sRGB to linear, a channel at a time.
glm::vec3 linear(glm::vec3 srgb);

}  // namespace rakugo::render
