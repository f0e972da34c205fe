#include "render/renderer.h"

#include <algorithm>
#include <cmath>

#include <glm/gtc/matrix_transform.hpp>

#include "render/shaders.h"

namespace rakugo::render {
namespace {

constexpr int kShadowSide = 1536;
constexpr int kOcclusionUnit = 5, kBonesUnit = 7;

glm::mat4 viewProjection(const Camera& camera, float aspect) {
  return camera.projection(aspect) * camera.view();
}

}  // namespace

glm::vec3 linear(glm::vec3 srgb) {
  for (int i = 0; i < 3; ++i)
    srgb[i] = srgb[i] <= 0.04045F ? srgb[i] / 12.92F : std::pow((srgb[i] + 0.055F) / 1.055F, 2.4F);
  return srgb;
}

glm::vec3 weightColor(float share) {
  // As in the drawing look's program: sand to plum in quarters, white where nothing is followed.
  if (!(share > 0)) return glm::vec3(1);
  const float step = std::ceil(std::min(share, 1.0F) * 4) / 4;
  return glm::mix(glm::vec3(0.96F, 0.87F, 0.66F), glm::vec3(0.42F, 0.16F, 0.36F), (step - 0.25F) / 0.75F);
}

Ambience Ambience::at(float night) {
  Ambience out;
  out.night = night;
  out.sun_direction =
      glm::normalize(glm::mix(glm::vec3(0.45F, 0.5F, 0.62F), glm::vec3(-0.5F, 0.35F, 0.55F), night));
  out.sun = glm::mix(glm::vec3(4.6F, 4.0F, 3.2F), glm::vec3(0.13F, 0.18F, 0.29F), night);
  out.sky = glm::mix(glm::vec3(0.5F, 0.68F, 0.9F), glm::vec3(0.026F, 0.042F, 0.085F), night);
  out.ground = glm::mix(glm::vec3(0.26F, 0.25F, 0.23F), glm::vec3(0.016F, 0.019F, 0.028F), night);
  out.fog = glm::mix(glm::vec3(0.86F, 0.93F, 0.96F), glm::vec3(0.04F, 0.056F, 0.092F), night);
  return out;
}

Renderer::Renderer(Gl* gl)
    : gl_(gl),
      lit_(gl, glsl::kMeshVertex, glsl::kLitFragment),
      depth_(gl, glsl::kMeshVertex, glsl::kDepthFragment),
      gbuffer_(gl, glsl::kMeshVertex, glsl::kGbufferFragment),
      composite_(gl, glsl::kFullVertex, glsl::kCompositeFragment),
      sky_(gl, glsl::kSkyVertex, glsl::kSkyFragment),
      line_(gl, glsl::kLineVertex, glsl::kLineFragment),
      halo_(gl, glsl::kHaloVertex, glsl::kHaloFragment),
      copy_(gl, glsl::kFullVertex, glsl::kCopyFragment),
      particle_(gl, glsl::kParticleVertex, glsl::kParticleFragment),
      bones_(gl),
      shadow_(gl),
      items_(gl),
      ghost_(gl),
      through_(gl) {
  gl_->glGenVertexArrays(1, &empty_vao_);
  gl_->glGenVertexArrays(1, &line_vao_);
  gl_->glGenBuffers(1, &line_buffer_);
}

Renderer::~Renderer() {
  gl_->glDeleteVertexArrays(1, &empty_vao_);
  gl_->glDeleteVertexArrays(1, &line_vao_);
  gl_->glDeleteBuffers(1, &line_buffer_);
}

void Renderer::shadows(const std::vector<DrawItem>& items, const Ambience& ambience, glm::vec3 center,
                       float radius_m) {
  const glm::vec3 side = std::abs(glm::dot(ambience.sun_direction, ambience.up)) > 0.99F
                             ? glm::vec3(ambience.up.y, ambience.up.z, ambience.up.x)
                             : ambience.up;
  const glm::mat4 view = glm::lookAt(center + ambience.sun_direction * radius_m * 2.0F, center, side);
  shadow_matrix_ = glm::ortho(-radius_m, radius_m, -radius_m, radius_m, 0.01F, radius_m * 4) * view;
  shadow_.resize(kShadowSide, kShadowSide, {});
  shadow_.bind();
  gl_->glEnable(GL_DEPTH_TEST);
  gl_->glDepthMask(GL_TRUE);
  gl_->glClear(GL_DEPTH_BUFFER_BIT);
  gl_->glDisable(GL_CULL_FACE);
  gl_->glEnable(GL_POLYGON_OFFSET_FILL);
  gl_->glPolygonOffset(2, 4);
  depth_.use();
  depth_.set("view_projection", shadow_matrix_);
  useCut(depth_, true);
  for (const DrawItem& item : items) {
    if (item.presence != Presence::whole) continue;
    placeItem(depth_, item);
    for (const bundle::Submesh& s : item.submeshes)
      if (item.materials[s.material]->record.alpha != "blend")
        item.mesh->drawRange(s.first_index, s.index_count);
  }
  gl_->glDisable(GL_POLYGON_OFFSET_FILL);
}

void Renderer::useCut(Program& program, bool cut) {
  program.set("has_cut", cut && cut_ ? 1 : 0);
  if (cut_) program.set("cut", *cut_);
}

void Renderer::placeItem(Program& program, const DrawItem& item) {
  program.set("model", item.matrix);
  program.set("selected", item.selected ? 1.0F : 0.0F);
  program.set("pointed", item.pointed ? 1.0F : 0.0F);
  program.set("opacity", item.presence == Presence::through ? 0.2F : 1.0F);
  const bool bent = item.bones && !item.bones->empty() && item.mesh->has(bundle::Semantic::joints);
  program.set("bent", bent ? 1 : 0);
  program.set("bones", kBonesUnit);
  if (bent) bones_.use(*item.bones, kBonesUnit);
}

void Renderer::useMaterial(Program& program, const DrawMaterial& material, const Ambience& ambience) {
  const bundle::MaterialRecord& r = material.record;
  glm::vec4 base(r.base_color[0], r.base_color[1], r.base_color[2], r.base_color[3]);
  if (material.tint) base = glm::vec4(linear(*material.tint), base.w);
  base = glm::vec4(glm::vec3(base) * material.effect.color, base.w);
  glm::vec3 emissive(r.emissive[0], r.emissive[1], r.emissive[2]);
  emissive += material.effect.emitted;
  if (material.glows) emissive += linear(ambience.glow) * (0.04F + 5.5F * ambience.night);
  program.set("base", base);
  program.set("metallic", r.metallic);
  program.set("roughness", r.roughness * material.effect.roughness);
  program.set("emissive", emissive);
  program.set("cutoff", r.alpha == "mask" ? r.alpha_cutoff : 0.0F);
  program.set("normal_scale", r.normal_scale);
  program.set("normal_of_two", material.pictures[2] && material.pictures[2]->twoChannels() ? 1 : 0);
  program.set("blend", r.alpha == "blend" ? 1 : 0);
  program.set("occlusion_strength", r.occlusion_strength);
  program.set("unlit", r.unlit ? 1 : 0);
  struct Map {
    const char *sampler, *flag, *set, *row_u, *row_v;
    int unit;
  };
  static constexpr std::array<Map, 5> kMaps = {
      {{"base_map", "has_base", "sets[0]", "rows[0]", "rows[1]", 0},
       {"mr_map", "has_mr", "sets[1]", "rows[2]", "rows[3]", 1},
       {"normal_map", "has_normal", "sets[2]", "rows[4]", "rows[5]", 2},
       {"occlusion_map", "has_occlusion", "sets[3]", "rows[6]", "rows[7]", kOcclusionUnit},
       {"emissive_map", "has_emissive", "sets[4]", "rows[8]", "rows[9]", 3}}};
  for (size_t i = 0; i < kMaps.size(); ++i) {
    const Map& map = kMaps[i];
    program.set(map.sampler, map.unit);
    program.set(map.flag, material.pictures[i] ? 1 : 0);
    if (!material.pictures[i]) continue;
    const bundle::PictureLookup& lookup = r.lookups[i];
    material.pictures[i]->bind(map.unit, lookup, r.filter == "nearest");
    const auto rows = lookup.rows();
    program.set(map.set, static_cast<int>(lookup.uv));
    program.set(map.row_u, glm::vec3(rows[0][0], rows[0][1], rows[0][2]));
    program.set(map.row_v, glm::vec3(rows[1][0], rows[1][1], rows[1][2]));
  }
  // What is cut open is seen from inside too.
  if (r.double_sided || r.alpha == "blend" || cut_)
    gl_->glDisable(GL_CULL_FACE);
  else
    gl_->glEnable(GL_CULL_FACE);
}

void Renderer::beginLit(const Camera& camera, float aspect, const Ambience& ambience) {
  lit_.use();
  lit_.set("view_projection", viewProjection(camera, aspect));
  lit_.set("shadow_matrix", shadow_matrix_);
  lit_.set("eye", camera.position());
  lit_.set("sun_direction", ambience.sun_direction);
  lit_.set("sun", ambience.sun);
  lit_.set("sky", ambience.sky);
  lit_.set("ground", ambience.ground);
  lit_.set("fog", ambience.fog);
  lit_.set("fog_density", ambience.fog_density);
  lit_.set("up", ambience.up);
  lit_.set("shadow_map", 4);
  lit_.set("shadow_texel", 1.0F / kShadowSide);
  useCut(lit_, true);
  lit_.set("has_shadow", shadow_.width() > 0 ? 1 : 0);
  if (shadow_.width() > 0) shadow_.bindDepth(4);
  const size_t count = std::min(kMostLights, ambience.lights.size());
  lit_.set("light_count", static_cast<int>(count));
  for (size_t i = 0; i < count; ++i) {
    const PointLight& light = ambience.lights[i];
    const auto set = [&](const char* name, const auto& value) {
      lit_.set((std::string(name) + "[" + std::to_string(i) + "]").c_str(), value);
    };
    set("light_position", light.position);
    set("light_color", light.color);
    set("light_beam", glm::vec4(light.direction, light.cos_edge));
    set("light_end", glm::vec2(light.cos_full, light.reach));
  }
}

void Renderer::lit(const std::vector<DrawItem>& items, const Camera& camera, float aspect,
                   const Ambience& ambience, const std::function<void()>& between) {
  beginLit(camera, aspect, ambience);
  gl_->glEnable(GL_DEPTH_TEST);
  gl_->glDepthMask(GL_TRUE);
  gl_->glDisable(GL_BLEND);
  struct Late {
    const DrawItem* item;
    const bundle::Submesh* submesh;
    float distance;
  };
  std::vector<Late> late;
  for (const DrawItem& item : items) {
    if (item.presence == Presence::hidden) continue;
    placeItem(lit_, item);
    for (const bundle::Submesh& s : item.submeshes) {
      const DrawMaterial& material = *item.materials[s.material];
      if (material.record.alpha == "blend" || item.presence == Presence::through) {
        late.push_back({&item, &s, glm::distance(camera.position(), glm::vec3(item.matrix[3]))});
        continue;
      }
      useMaterial(lit_, material, ambience);
      item.mesh->drawRange(s.first_index, s.index_count);
    }
  }
  if (between) {
    gl_->glDisable(GL_CULL_FACE);
    between();
    if (late.empty()) return;
    lit_.use();
    if (shadow_.width() > 0) shadow_.bindDepth(4);
  }
  std::stable_sort(late.begin(), late.end(),
                   [](const Late& a, const Late& b) { return a.distance > b.distance; });
  gl_->glEnable(GL_BLEND);
  gl_->glBlendFuncSeparate(GL_SRC_ALPHA, GL_ONE_MINUS_SRC_ALPHA, GL_ONE, GL_ONE_MINUS_SRC_ALPHA);
  gl_->glDepthMask(GL_FALSE);
  for (const Late& l : late) {
    placeItem(lit_, *l.item);
    useMaterial(lit_, *l.item->materials[l.submesh->material], ambience);
    l.item->mesh->drawRange(l.submesh->first_index, l.submesh->index_count);
  }
  gl_->glDepthMask(GL_TRUE);
  gl_->glDisable(GL_BLEND);
  gl_->glDisable(GL_CULL_FACE);
}

void Renderer::halos(const Camera& camera, float aspect, const Ambience& ambience) {
  if (ambience.lights.empty()) return;
  gl_->glEnable(GL_DEPTH_TEST);
  gl_->glDepthMask(GL_FALSE);
  gl_->glEnable(GL_BLEND);
  gl_->glBlendFunc(GL_ONE, GL_ONE);
  halo_.use();
  halo_.set("view", camera.view());
  halo_.set("projection", camera.projection(aspect));
  halo_.set("radius", 0.75F);
  gl_->glBindVertexArray(empty_vao_);
  const glm::vec3 eye = camera.position();
  for (const PointLight& light : ambience.lights) {
    if (light.halo == glm::vec3(0)) continue;
    // A beam shines at those who stand in it.
    if (light.direction != glm::vec3(0) &&
        glm::dot(light.direction, glm::normalize(eye - light.position)) < light.cos_edge)
      continue;
    halo_.set("tone", light.halo);
    halo_.set("center", light.position);
    gl_->glDrawArrays(GL_TRIANGLE_STRIP, 0, 4);
  }
  gl_->glDepthMask(GL_TRUE);
  gl_->glDisable(GL_BLEND);
}

void Renderer::particles(std::vector<ParticleSprite> sprites, const Camera& camera, float aspect,
                         const Ambience& ambience) {
  if (sprites.empty()) return;
  const glm::vec3 eye = camera.position();
  const auto away = [&](const ParticleSprite& s) {
    const glm::vec3 to = s.position - eye;
    return glm::dot(to, to);
  };
  std::sort(sprites.begin(), sprites.end(),
            [&](const ParticleSprite& a, const ParticleSprite& b) { return away(a) > away(b); });
  struct Corner {
    glm::vec3 center;
    float radius;
    glm::vec4 color;
    glm::vec2 corner;
    float glow;
  };
  std::vector<Corner> corners;
  corners.reserve(sprites.size() * 6);
  static constexpr std::array<std::array<float, 2>, 6> kCorners = {
      {{-1, -1}, {1, -1}, {1, 1}, {-1, -1}, {1, 1}, {-1, 1}}};
  for (const ParticleSprite& s : sprites)
    for (const auto& c : kCorners) corners.push_back({s.position, s.radius, s.color, {c[0], c[1]}, s.glow});
  gl_->glBindVertexArray(line_vao_);
  gl_->glBindBuffer(GL_ARRAY_BUFFER, line_buffer_);
  gl_->glBufferData(GL_ARRAY_BUFFER, static_cast<GLsizeiptr>(corners.size() * sizeof(Corner)), corners.data(),
                    GL_STREAM_DRAW);
  const std::array<std::pair<GLint, size_t>, 5> layout = {{{3, 0}, {1, 12}, {4, 16}, {2, 32}, {1, 40}}};
  for (GLuint i = 0; i < layout.size(); ++i) {
    gl_->glEnableVertexAttribArray(i);
    gl_->glVertexAttribPointer(i, layout[i].first, GL_FLOAT, GL_FALSE, sizeof(Corner),
                               reinterpret_cast<const void*>(layout[i].second));
  }
  gl_->glEnable(GL_DEPTH_TEST);
  gl_->glDepthMask(GL_FALSE);
  gl_->glEnable(GL_BLEND);
  gl_->glBlendFunc(GL_ONE, GL_ONE_MINUS_SRC_ALPHA);
  particle_.use();
  particle_.set("view", camera.view());
  particle_.set("projection", camera.projection(aspect));
  particle_.set("around", ambience.sky * 0.7F + ambience.ground * 0.5F + ambience.sun * 0.12F);
  gl_->glDrawArrays(GL_TRIANGLES, 0, static_cast<GLsizei>(corners.size()));
  gl_->glDisableVertexAttribArray(4);
  gl_->glDepthMask(GL_TRUE);
  gl_->glDisable(GL_BLEND);
}

void Renderer::stretch(GLuint texture) {
  gl_->glDisable(GL_DEPTH_TEST);
  gl_->glDisable(GL_BLEND);
  copy_.use();
  copy_.set("picture", 0);
  gl_->glActiveTexture(GL_TEXTURE0);
  gl_->glBindTexture(GL_TEXTURE_2D, texture);
  for (const GLenum p : {GL_TEXTURE_MIN_FILTER, GL_TEXTURE_MAG_FILTER})
    gl_->glTexParameteri(GL_TEXTURE_2D, p, GL_LINEAR);
  gl_->glBindVertexArray(empty_vao_);
  gl_->glDrawArrays(GL_TRIANGLES, 0, 3);
}

void Renderer::sky(const Camera& camera, float aspect, const Ambience& ambience) {
  // At the far end of the depth range, behind everything.
  gl_->glEnable(GL_DEPTH_TEST);
  gl_->glDepthFunc(GL_LEQUAL);
  gl_->glDepthMask(GL_FALSE);
  sky_.use();
  sky_.set("back", glm::inverse(viewProjection(camera, aspect)));
  sky_.set("eye", camera.position());
  sky_.set("sun_direction", ambience.sun_direction);
  sky_.set("sun", ambience.sun);
  sky_.set("sky", ambience.sky);
  sky_.set("fog", ambience.fog);
  sky_.set("up", ambience.up);
  sky_.set("night", ambience.night);
  gl_->glBindVertexArray(empty_vao_);
  gl_->glDrawArrays(GL_TRIANGLES, 0, 3);
  gl_->glDepthMask(GL_TRUE);
  gl_->glDepthFunc(GL_LESS);
}

void Renderer::gbuffer(const std::vector<DrawItem>& items, Presence presence, const Camera& camera,
                       Target& target, int width, int height, bool cut) {
  target.resize(width, height, {GL_RGBA8, GL_RGBA16F});
  target.bind();
  gl_->glDisable(GL_BLEND);
  gl_->glEnable(GL_DEPTH_TEST);
  gl_->glDepthMask(GL_TRUE);
  gl_->glClearColor(0, 0, 0, 0);
  gl_->glClear(GL_COLOR_BUFFER_BIT | GL_DEPTH_BUFFER_BIT);
  gl_->glDisable(GL_CULL_FACE);
  gbuffer_.use();
  gbuffer_.set("view_projection",
               viewProjection(camera, static_cast<float>(width) / static_cast<float>(height)));
  gbuffer_.set("eye", camera.position());
  useCut(gbuffer_, cut);
  const Ambience plain;
  float part = 0;
  for (const DrawItem& item : items) {
    if (item.presence != presence) continue;
    placeItem(gbuffer_, item);
    gbuffer_.set("weights_of", item.weights_of.value_or(-1));
    for (const bundle::Submesh& s : item.submeshes) {
      // Normals are shifted by a multiple of four a part, so that the edge filter sees where one part ends.
      gbuffer_.set("part", std::fmod(part++, 5.0F) * 4.0F);
      useMaterial(gbuffer_, *item.materials[s.material], plain);
      if (item.wash) {
        gbuffer_.set("base", glm::vec4(linear(*item.wash), 1));
        gbuffer_.set("has_base", 0);
      }
      gl_->glDisable(GL_CULL_FACE);
      item.mesh->drawRange(s.first_index, s.index_count);
    }
  }
}

void Renderer::drawing(const std::vector<DrawItem>& items, const std::vector<DrawItem>& ghost,
                       const Camera& camera, GLuint framebuffer, int width, int height,
                       const DrawingStyle& style, float scale) {
  const bool through = std::any_of(items.begin(), items.end(),
                                   [](const DrawItem& item) { return item.presence == Presence::through; });
  gbuffer(items, Presence::whole, camera, items_, width, height, true);
  gbuffer(ghost, Presence::whole, camera, ghost_, width, height, false);
  if (through) gbuffer(items, Presence::through, camera, through_, width, height, true);
  gl_->glBindFramebuffer(GL_FRAMEBUFFER, framebuffer);
  gl_->glViewport(0, 0, width, height);
  gl_->glDisable(GL_DEPTH_TEST);
  gl_->glEnable(GL_BLEND);
  gl_->glBlendFuncSeparate(GL_SRC_ALPHA, GL_ONE_MINUS_SRC_ALPHA, GL_ONE, GL_ONE_MINUS_SRC_ALPHA);
  composite_.use();
  items_.bindTexture(0, 0);
  items_.bindTexture(1, 1);
  ghost_.bindTexture(1, 2);
  composite_.set("wash", 0);
  composite_.set("form", 1);
  composite_.set("ghost", 2);
  composite_.set("through", 3);
  composite_.set("has_through", through ? 1 : 0);
  if (through) through_.bindTexture(1, 3);
  composite_.set("texel", glm::vec2(1.0F / static_cast<float>(width), 1.0F / static_cast<float>(height)));
  composite_.set("sheet", style.sheet);
  composite_.set("ink", style.ink);
  composite_.set("accent", style.accent);
  composite_.set("scale", scale);
  composite_.set("ghost_style", static_cast<int>(style.ghost));
  // Light from over the left shoulder of whoever looks.
  const glm::mat4 back = glm::inverse(camera.view());
  composite_.set("light", glm::normalize(glm::mat3(back) * glm::vec3(-0.45F, 0.6F, 0.66F)));
  gl_->glBindVertexArray(empty_vao_);
  gl_->glDrawArrays(GL_TRIANGLES, 0, 3);
  gl_->glDisable(GL_BLEND);
}

void Renderer::lines(const std::vector<LineVertex>& vertices, const Camera& camera, int width, int height,
                     float width_px, bool depth_test) {
  if (vertices.size() < 2) return;
  struct Corner {
    glm::vec3 a, b;
    glm::vec4 color;
    glm::vec2 corner;
  };
  std::vector<Corner> corners;
  static constexpr std::array<std::array<float, 2>, 6> kCorners = {
      {{0, -1}, {1, -1}, {1, 1}, {0, -1}, {1, 1}, {0, 1}}};
  for (size_t i = 0; i + 1 < vertices.size(); i += 2)
    for (const auto& c : kCorners)
      corners.push_back({vertices[i].position,
                         vertices[i + 1].position,
                         c[0] < 0.5F ? vertices[i].color : vertices[i + 1].color,
                         {c[0], c[1]}});
  gl_->glBindVertexArray(line_vao_);
  gl_->glBindBuffer(GL_ARRAY_BUFFER, line_buffer_);
  gl_->glBufferData(GL_ARRAY_BUFFER, static_cast<GLsizeiptr>(corners.size() * sizeof(Corner)), corners.data(),
                    GL_STREAM_DRAW);
  const std::array<std::pair<GLint, size_t>, 4> layout = {{{3, 0}, {3, 12}, {4, 24}, {2, 40}}};
  for (GLuint i = 0; i < 4; ++i) {
    gl_->glEnableVertexAttribArray(i);
    gl_->glVertexAttribPointer(i, layout[i].first, GL_FLOAT, GL_FALSE, sizeof(Corner),
                               reinterpret_cast<const void*>(layout[i].second));
  }
  if (depth_test)
    gl_->glEnable(GL_DEPTH_TEST);
  else
    gl_->glDisable(GL_DEPTH_TEST);
  gl_->glDepthMask(GL_FALSE);
  gl_->glEnable(GL_BLEND);
  gl_->glBlendFuncSeparate(GL_SRC_ALPHA, GL_ONE_MINUS_SRC_ALPHA, GL_ONE, GL_ONE_MINUS_SRC_ALPHA);
  line_.use();
  line_.set("view_projection",
            viewProjection(camera, static_cast<float>(width) / static_cast<float>(height)));
  line_.set("viewport", glm::vec2(width, height));
  line_.set("width", width_px);
  gl_->glDrawArrays(GL_TRIANGLES, 0, static_cast<GLsizei>(corners.size()));
  gl_->glDepthMask(GL_TRUE);
  gl_->glDisable(GL_BLEND);
}

}  // namespace rakugo::render
