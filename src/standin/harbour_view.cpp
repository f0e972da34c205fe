#include "standin/harbour_view.h"

#include <algorithm>
#include <cmath>

#include <glm/gtc/matrix_transform.hpp>
#include <glm/gtc/quaternion.hpp>

#include "render/lamps.h"
#include "standin/harbour_points.h"
#include "standin/harbour_shapes.h"
#include "standin/role_effects.h"

namespace rakugo::standin {
namespace {

constexpr const char* kWaterVertex = R"(#version 330 core
uniform mat4 view_projection; uniform float level;
out vec3 world;
void main() {
  vec2 p = vec2((gl_VertexID & 1) * 2 - 1, (gl_VertexID >> 1) * 2 - 1) * 260.0;
  world = vec3(p, level);
  gl_Position = view_projection * vec4(world, 1.0);
})";

// Three drifting layers of noise as waves; sky mirrored with Fresnel, sun and lamps as glints, darker at the
// foot of the quay.
constexpr const char* kWaterFragment = R"(#version 330 core
in vec3 world; out vec4 result;
uniform vec3 eye; uniform float time; uniform vec3 sun_direction; uniform vec3 sun; uniform vec3 sky; uniform vec3 fog; uniform float night;
uniform int light_count; uniform vec3 light_position[8]; uniform vec3 light_color[8]; uniform vec3 light_halo[8]; uniform vec4 light_beam[8]; uniform vec2 light_end[8];
float hash(vec2 p) { p = fract(p * vec2(123.34, 345.45)); p += dot(p, p + 34.345); return fract(p.x * p.y); }
float noise(vec2 p) { vec2 i = floor(p), f = fract(p); f = f * f * (3.0 - 2.0 * f);
  return mix(mix(hash(i), hash(i + vec2(1, 0)), f.x), mix(hash(i + vec2(0, 1)), hash(i + vec2(1, 1)), f.x), f.y); }
float height(vec2 p) { return noise(p * 0.7 + time * vec2(0.25, 0.1)) * 0.55 + noise(p * 1.9 - time * vec2(0.2, 0.31)) * 0.27 + noise(p * 5.3 + time * vec2(0.5, -0.4)) * 0.1; }
void main() {
  float away = length(eye - world);
  float e = 0.02 + away * 0.004;
  float h = height(world.xy);
  vec3 n = normalize(vec3(-(height(world.xy + vec2(e, 0)) - h) / e, -(height(world.xy + vec2(0, e)) - h) / e, 2.2 + away * 0.05));
  vec3 v = normalize(eye - world), r = reflect(-v, n);
  r.z = abs(r.z);
  float fresnel = 0.03 + 0.97 * pow(clamp(1.0 - dot(n, v), 0.0, 1.0), 5.0);
  vec3 mirrored = mix(fog, sky * 0.9, smoothstep(0.0, 0.5, r.z));
  vec3 deep = mix(vec3(0.025, 0.11, 0.115), vec3(0.004, 0.009, 0.016), night);
  deep *= mix(0.75, 1.25, h);
  float wall = exp(-max(world.x - 2.8, 0.0) * 0.9) * step(abs(world.y), 32.0);
  vec3 color = mix(deep, mirrored, fresnel * (1.0 - 0.55 * wall)) * (1.0 - 0.3 * wall);
  color += sun * pow(max(dot(r, sun_direction), 0.0), 260.0) * 2.2;
  for (int i = 0; i < light_count; ++i) {
    vec3 l = light_position[i] - world; float d = length(l); l /= d;
    float share = 1.0;
    if (light_beam[i].xyz != vec3(0.0)) share = clamp((dot(light_beam[i].xyz, -l) - light_beam[i].w) / max(0.001, light_end[i].x - light_beam[i].w), 0.0, 1.0);
    // Mirrored is how bright the lamp looks; lit is what its light does to the water.
    vec3 mirror_dir = normalize(vec3(r.xy, r.z));
    color += light_halo[i] * share * pow(max(dot(mirror_dir, l), 0.0), 90.0) * 3.0 / (1.0 + d * 0.12);
    float far = light_end[i].y > 0.0 ? min(d / light_end[i].y, 1.0) : 0.0; far *= far;
    color += light_color[i] * share * (1.0 - far * far) * max(l.z, 0.0) * 0.05 / (1.0 + d * d);
  }
  color = mix(color, fog, 1.0 - exp(-away * 0.0075));
  color *= 0.62; color = clamp((color * (2.51 * color + 0.03)) / (color * (2.43 * color + 0.59) + 0.14), 0.0, 1.0);
  result = vec4(pow(max(color, 0.0), vec3(1.0 / 2.2)), 1.0);
})";

// Of the game: what a lamp shines along.
constexpr glm::vec3 kForward(1, 0, 0);

}  // namespace

HarbourView::HarbourView(render::Gl* gl) : gl_(gl), renderer_(gl), water_(gl, kWaterVertex, kWaterFragment) {
  gl_->glGenVertexArrays(1, &water_vao_);
  harbour_ = itemsOf(buildHarbour());
  line_ = itemsOf({buildLine()});
  person_ = itemsOf(buildPerson(true));
  person_without_coat_ = itemsOf(buildPerson(false));
  camera.target = {0.6F, 0.2F, 1.15F};
  camera.distance_m = 9.6F;
  camera.yaw_rad = -0.62F;
  camera.pitch_rad = 0.12F;
  camera.field_of_view_rad = 0.62F;
}

HarbourView::~HarbourView() { gl_->glDeleteVertexArrays(1, &water_vao_); }

std::vector<render::DrawItem> HarbourView::itemsOf(const std::vector<HarbourPart>& parts) {
  std::vector<render::DrawItem> out;
  for (const HarbourPart& part : parts) {
    render::DrawItem item;
    const Movements& keepers = Movements::keepers();
    item.mesh = std::make_shared<render::GpuMesh>(
        gl_, part.bones.empty() ? part.mesh
                                : followBones(part.mesh, keepers.skeleton(), Play::ownBind(), part.bones));
    item.submeshes = part.mesh.submeshes;
    auto material = std::make_shared<render::DrawMaterial>();
    material->record.metallic = part.surface == "iron" ? 0.4F : 0;
    material->record.roughness = part.surface == "iron" ? 0.5F : part.surface == "window" ? 0.1F : 0.85F;
    material->record.double_sided = part.surface == "far";
    if (part.surface == "window") {
      material->record.base_color = {0.05F, 0.07F, 0.09F, 1};
      windows_.push_back(material);
    }
    auto& picture = surfaces_[part.surface];
    if (!picture)
      if (const auto drawn = drawSurface(part.surface); drawn.width > 0)
        picture = std::make_shared<render::GpuPicture>(gl_, drawn);
    material->pictures[0] = picture;
    item.materials = {material};
    out.push_back(std::move(item));
  }
  return out;
}

std::map<std::string, std::shared_ptr<render::DrawMaterial>> HarbourView::loadMaterials(
    const LoadedThing& object, Loaded& out) {
  std::map<std::string, std::shared_ptr<render::GpuPicture>> pictures;
  std::map<std::string, std::shared_ptr<render::DrawMaterial>> materials;
  for (const auto& [id, record] : object.materials) {
    auto material = std::make_shared<render::DrawMaterial>();
    material->record = record;
    const auto picture = [&](const std::string& name) -> std::shared_ptr<render::GpuPicture> {
      const auto found = object.pictures.find(name);
      if (found == object.pictures.end()) return nullptr;
      auto& gpu = pictures[name];
      if (!gpu) gpu = std::make_shared<render::GpuPicture>(gl_, found->second);
      return gpu;
    };
    const std::array<std::string, 5> names = record.pictures();
    for (size_t i = 0; i < names.size(); ++i) material->pictures[i] = picture(names[i]);
    if (const RoleEffect* effect = effectOf(object.record.kind, record.role, object.record.card)) {
      material->glows = effect->act == RoleEffect::Act::glow;
      if (effect->act == RoleEffect::Act::tint) {
        material->tint = effect->tone;
        if (effect->chosen) out.painted.emplace_back(material, effect->tone);
      }
    }
    out.changing.push_back(material);
    materials[id] = std::move(material);
  }
  return materials;
}

void HarbourView::load(const LoadedThing& object, Loaded& out) {
  out.generation = object.generation;
  out.pieces.clear();
  out.lights.clear();
  out.painted.clear();
  out.changing.clear();
  const auto materials = loadMaterials(object, out);
  const bool lit = object.record.card.contains("lit") && object.record.card["lit"] == true;
  std::map<std::string, std::shared_ptr<render::GpuMesh>> meshes;
  for (const bundle::ObjectPiece& piece : object.record.pieces) {
    Loaded::Piece own;
    own.region = piece.region;
    own.rig = piece.rig;
    own.bone = piece.bone;
    own.name = piece.name;
    const glm::quat turn(piece.turn[3], piece.turn[0], piece.turn[1], piece.turn[2]);
    const auto wear = [&](const std::string& id, float from_m) {
      const auto mesh = object.meshes.find(id);
      if (mesh == object.meshes.end()) return;
      auto& gpu = meshes[id];
      if (!gpu) gpu = std::make_shared<render::GpuMesh>(gl_, mesh->second);
      render::DrawItem item;
      item.mesh = gpu;
      item.submeshes = mesh->second.submeshes;
      for (const std::string& material : mesh->second.materials)
        item.materials.push_back(materials.at(material));
      item.matrix = glm::translate(glm::mat4(1), {piece.position[0], piece.position[1], piece.position[2]}) *
                    glm::mat4_cast(turn) *
                    glm::scale(glm::mat4(1), {piece.scale[0], piece.scale[1], piece.scale[2]});
      own.items.push_back(std::move(item));
      own.from_m.push_back(from_m);
      own.meshes.push_back(id);
      own.morphs.emplace_back();
    };
    wear(piece.mesh, 0);
    for (const auto& [mesh, from] : piece.lighter) wear(mesh, from);
    own.place = static_cast<size_t>(&piece - object.record.pieces.data());
    own.screw = piece.as == "screw";
    if (piece.apart) own.apart = piece.as;
    if (!own.items.empty()) out.pieces.push_back(std::move(own));
  }
  if (lit)
    for (const bundle::ObjectPoint& point : object.record.points)
      if (point.name == "light")
        out.lights.emplace_back(point.position[0], point.position[1], point.position[2]);
}

// Morph targets: by the thing's own animation, else as the mesh says; sizes that it comes in are called as
// the harbour calls them.
void HarbourView::shape(const LoadedThing& object, const Shown& shown, Loaded::Piece& piece) {
  for (size_t i = 0; i < piece.items.size(); ++i) {
    const bundle::MeshPayload& mesh = object.meshes.at(piece.meshes[i]);
    if (mesh.morphs.empty()) continue;
    std::vector<float> weights = morphsOf(object, shown, piece.rig, piece.name);
    for (size_t m = weights.size(); m < mesh.morphs.size(); ++m) weights.push_back(mesh.morphs[m].weight);
    for (size_t m = 0; m < mesh.morphs.size(); ++m)
      if (mesh.morphs[m].name == "broad") weights[m] = shown.build;
    if (weights == piece.morphs[i]) continue;
    piece.items[i].mesh->setVertices(bundle::morphed(mesh, weights));
    piece.morphs[i] = std::move(weights);
  }
}

void HarbourView::addShown(const LoadedThing& object, Loaded& loaded, const Shown& shown,
                           std::vector<render::DrawItem>& items) {
  std::vector<std::shared_ptr<const std::vector<glm::mat4>>> bent;
  for (const bundle::ObjectRig& rig : object.record.rigs)
    bent.push_back(std::make_shared<const std::vector<glm::mat4>>(
        bentBy(object.skeletons.at(rig.skeleton), poseOf(object, rig, shown))));
  for (Loaded::Piece& piece : loaded.pieces) {
    if (piece.apart != shown.apart) continue;
    if (!piece.region.empty() && std::count(shown.covered.begin(), shown.covered.end(), piece.region) > 0)
      continue;
    shape(object, shown, piece);
    // The last version whose distance is reached.
    const float away = glm::distance(camera.position(), glm::vec3(shown.matrix[3]));
    size_t far = 0;
    while (far + 1 < piece.items.size() && away >= piece.from_m[far + 1]) ++far;
    render::DrawItem item = piece.items[far];
    for (const bundle::Submesh& one : item.submeshes) drawn_triangles_ += one.index_count / 3;
    glm::mat4 carried(1);
    if (piece.rig >= 0 && piece.bone >= 0) {
      const glm::mat4 at = rigPlace(object.record.rigs[static_cast<size_t>(piece.rig)]);
      carried =
          at * (*bent[static_cast<size_t>(piece.rig)])[static_cast<size_t>(piece.bone)] * glm::inverse(at);
    } else if (piece.rig >= 0) {
      item.bones = bent[static_cast<size_t>(piece.rig)];
    }
    item.matrix = shown.matrix *
                  movedTo(object.record, shown.motion_rad, &bundle::ObjectMotion::pieces, piece.place) *
                  carried * item.matrix;
    if (piece.screw && shown.screw_rad != 0)
      item.matrix = glm::rotate(item.matrix, shown.screw_rad, glm::vec3(1, 0, 0));
    items.push_back(std::move(item));
  }
}

void HarbourView::follow(const Play& play, float aside_rad, float down_rad) {
  const auto sight = play.sight();
  if (!sight) return;
  // The camera stands on its forward side and looks back, so it is turned round to look ahead.
  camera.yaw_rad = sight->heading_rad + aside_rad + 3.14159265F;
  camera.distance_m = sight->own_eyes ? 4.0F : 5.2F;
  if (!sight->own_eyes) {
    camera.target = sight->eye;
    camera.pitch_rad = std::clamp(0.12F + down_rad, -0.2F, 1.4F);
    return;
  }
  camera.pitch_rad = std::clamp(0.04F + down_rad, -1.2F, 1.2F);
  camera.target = glm::vec3(0);
  camera.target = sight->eye - camera.position();  // the camera itself comes to stand in the eye
}

bool HarbourView::lookAt(const Game& game, const Play& play, const std::string& object) {
  const auto known = game.objects().find(object);
  if (known == game.objects().end()) return false;
  const bundle::ObjectRecord& r = known->second.record;
  for (const Shown& shown : play.shown()) {
    if (shown.object != object) continue;
    const glm::vec3 low(r.bounds_min[0], r.bounds_min[1], r.bounds_min[2]),
        high(r.bounds_max[0], r.bounds_max[1], r.bounds_max[2]);
    camera.target = glm::vec3(shown.matrix * glm::vec4((low + high) * 0.5F, 1));
    camera.distance_m = std::clamp(glm::length(high - low) * 2.4F, 1.5F, 60.0F);
    return true;
  }
  return false;
}

void HarbourView::draw(const Game& game, const Play& play, GLuint framebuffer, int width, int height) {
  std::erase_if(loaded_, [&](const auto& one) { return game.objects().count(one.first) == 0; });
  for (const auto& [name, object] : game.objects())
    if (Loaded& known = loaded_[name]; known.generation != object.generation) load(object, known);

  drawn_triangles_ = 0;
  render::Ambience ambience = render::Ambience::at(night);
  ambience.fog_density = 0.0052F;
  for (const auto& window : windows_) window->record.emissive = {0.9F * night, 0.55F * night, 0.22F * night};
  std::set<std::string> on = switched;
  if (play.speed_mps() < -0.05F) on.insert("astern");
  std::vector<render::DrawItem> items = harbour_, unseen;
  const glm::mat4 view =
      camera.projection(static_cast<float>(width) / static_cast<float>(height)) * camera.view();
  if (const auto person = play.ownKeeper()) {
    const auto bones = std::make_shared<const std::vector<glm::mat4>>(play.ownBones());
    for (render::DrawItem item : play.coat().empty() ? person_ : person_without_coat_) {
      item.matrix = *person * item.matrix;
      item.bones = bones;
      items.push_back(std::move(item));
    }
  }
  for (const Shown& shown : play.shown()) {
    const auto found = loaded_.find(shown.object);
    if (found == loaded_.end()) continue;
    for (const auto& [material, own] : found->second.painted) material->tint = paint.value_or(own);
    for (const auto& material : found->second.changing) material->effect = lookOf(on, material->record.role);
    // What is out of view is not drawn; its shadow may still fall where one looks.
    const bool seen =
        !shown.apart.empty() || mayBeSeen(game.objects().at(shown.object).record, view * shown.matrix);
    addShown(game.objects().at(shown.object), found->second, shown, seen ? items : unseen);
    if (!shown.steered) addLines(game.objects().at(shown.object).record, shown.matrix, items);
    if (!shown.apart.empty()) continue;  // its lights are where it stands
    for (const glm::vec3& light : found->second.lights)
      ambience.lights.push_back({glm::vec3(shown.matrix * glm::vec4(light, 1)),
                                 render::linear(ambience.glow) * 7.5F * night, ambience.glow * night});
    const bundle::ObjectRecord& record = game.objects().at(shown.object).record;
    for (size_t i = 0; i < record.lamps.size(); ++i)
      if (const bundle::ObjectLamp& lamp = record.lamps[i];
          const auto light = render::lightOf(
              lamp, shown.matrix * movedTo(record, shown.motion_rad, &bundle::ObjectMotion::lamps, i),
              kForward, play.moment(shown, lamp.lit), night))
        ambience.lights.push_back(*light);
  }
  render::keepNearest(ambience.lights, camera.target);
  // Shadows where the player looks; the whole quay's front while looking round.
  const auto sight = play.sight();
  std::vector<render::DrawItem> casting = items;
  casting.insert(casting.end(), unseen.begin(), unseen.end());
  renderer_.shadows(casting, ambience,
                    sight ? glm::vec3(glm::vec2(sight->eye), 0.5F) : glm::vec3(-0.5F, 0, 0.5F), 13);
  gl_->glBindFramebuffer(GL_FRAMEBUFFER, framebuffer);
  gl_->glViewport(0, 0, width, height);
  gl_->glClear(GL_COLOR_BUFFER_BIT | GL_DEPTH_BUFFER_BIT);
  const float aspect = static_cast<float>(width) / static_cast<float>(height);
  // Water after the opaque things, which hide much of it, and before what one sees through.
  renderer_.lit(items, camera, aspect, ambience, [&] {
    drawWater(ambience, aspect);
    renderer_.sky(camera, aspect, ambience);
  });
  renderer_.particles(play.particles().sprites(), camera, aspect, ambience);
  renderer_.halos(camera, aspect, ambience);
}

void HarbourView::addLines(const bundle::ObjectRecord& record, const glm::mat4& place,
                           std::vector<render::DrawItem>& items) const {
  constexpr float kThick_m = 0.025F;
  for (const MooringLine& line : mooringLines(record, place)) {
    const glm::vec3 way = line.to - line.from;
    const float length = glm::length(way);
    if (length < 0.01F) continue;
    const glm::vec3 along = way / length;
    const glm::vec3 side =
        glm::normalize(glm::cross(std::abs(along.z) > 0.9F ? glm::vec3(1, 0, 0) : glm::vec3(0, 0, 1), along));
    const glm::mat4 matrix(glm::vec4(way, 0), glm::vec4(side * kThick_m, 0),
                           glm::vec4(glm::cross(along, side) * kThick_m, 0), glm::vec4(line.from, 1));
    for (render::DrawItem item : line_) {
      item.matrix = matrix * item.matrix;
      items.push_back(std::move(item));
    }
  }
}

void HarbourView::drawWater(const render::Ambience& ambience, float aspect) {
  gl_->glEnable(GL_DEPTH_TEST);
  gl_->glDisable(GL_CULL_FACE);
  water_.use();
  water_.set("view_projection", camera.projection(aspect) * camera.view());
  water_.set("level", kWaterLevel_m);
  water_.set("eye", camera.position());
  water_.set("time", time_s);
  water_.set("sun_direction", ambience.sun_direction);
  water_.set("sun", ambience.sun);
  water_.set("sky", ambience.sky);
  water_.set("fog", ambience.fog);
  water_.set("night", ambience.night);
  const int count = static_cast<int>(std::min(render::kMostLights, ambience.lights.size()));
  water_.set("light_count", count);
  for (int i = 0; i < count; ++i) {
    const render::PointLight& light = ambience.lights[static_cast<size_t>(i)];
    const auto set = [&](const char* name, const auto& value) {
      water_.set((std::string(name) + "[" + std::to_string(i) + "]").c_str(), value);
    };
    set("light_position", light.position);
    set("light_color", light.color);
    set("light_halo", light.halo);
    set("light_beam", glm::vec4(light.direction, light.cos_edge));
    set("light_end", glm::vec2(light.cos_full, light.reach));
  }
  gl_->glBindVertexArray(water_vao_);
  gl_->glDrawArrays(GL_TRIANGLE_STRIP, 0, 4);
}

}  // namespace rakugo::standin
