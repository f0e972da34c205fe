#include "standin/bodies.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <map>

#include <btBulletDynamicsCommon.h>
#include <glm/gtc/quaternion.hpp>

namespace rakugo::standin {
namespace {

constexpr float kGravity = 9.81F, kStep_s = 1.0F / 240, kWater_kg_m3 = 1025, kBed_m = 6;

btVector3 bt(const glm::vec3& v) { return {v.x, v.y, v.z}; }
glm::vec3 vec(const btVector3& v) { return {v.x(), v.y(), v.z()}; }

btTransform transformOf(const glm::mat4& m) {
  const glm::quat q = glm::quat_cast(glm::mat3(m));
  return btTransform(btQuaternion(q.x, q.y, q.z, q.w), bt(glm::vec3(m[3])));
}
glm::mat4 matrixOf(const btTransform& t) {
  const btQuaternion q = t.getRotation();
  glm::mat4 out = glm::mat4_cast(glm::quat(q.w(), q.x(), q.y(), q.z()));
  out[3] = glm::vec4(vec(t.getOrigin()), 1);
  return out;
}

// A part of a body as water presses on it: a small box of its volume.
struct Cell {
  btVector3 at;  // from the centre of mass
  float volume_m3, height_m;
};

// A solid of one shape, where it lies in the object.
struct Solid {
  std::unique_ptr<btConvexShape> shape;
  btTransform place;
  float volume_m3 = 0;
  btVector3 middle{0, 0, 0};  // of its mass, in its own space
  float friction = 0.6F, bounce = 0.2F;
};

// Volume and centre of a hull: the sum over its triangles of tetrahedra from the origin.
void weighHull(const bundle::ObjectShape& shape, Solid& out) {
  glm::dvec3 sum(0);
  double volume = 0;
  const auto corner = [&](uint32_t i) {
    return glm::dvec3(shape.corners[i][0], shape.corners[i][1], shape.corners[i][2]);
  };
  for (const auto& t : shape.triangles) {
    const glm::dvec3 a = corner(t[0]), b = corner(t[1]), c = corner(t[2]);
    const double v = glm::dot(a, glm::cross(b, c)) / 6;
    volume += v;
    sum += v * (a + b + c) / 4.0;
  }
  if (std::abs(volume) < 1e-9) return;
  const glm::vec3 middle(sum / volume);
  out.middle = bt(middle);
  out.volume_m3 = static_cast<float>(std::abs(volume));
}

Solid solidOf(const bundle::ObjectShape& shape) {
  constexpr float kPi = 3.14159265F;
  Solid out;
  out.friction = shape.friction;
  out.bounce = shape.bounce;
  const glm::quat turn(shape.turn[3], shape.turn[0], shape.turn[1], shape.turn[2]);
  out.place = btTransform(btQuaternion(turn.x, turn.y, turn.z, turn.w),
                          btVector3(shape.position[0], shape.position[1], shape.position[2]));
  const glm::vec3 size = glm::max(glm::vec3(shape.size[0], shape.size[1], shape.size[2]), glm::vec3(0.002F));
  const float radius = size.y / 2;
  if (shape.form == "sphere") {
    out.shape = std::make_unique<btSphereShape>(radius);
    out.volume_m3 = 4.0F / 3 * kPi * radius * radius * radius;
  } else if (shape.form == "capsule") {
    const float between = std::max(size.z - size.y, 0.0F);
    out.shape = std::make_unique<btCapsuleShapeZ>(radius, between);
    out.volume_m3 = kPi * radius * radius * (between + 4.0F / 3 * radius);
  } else if (shape.form == "cylinder") {
    out.shape = std::make_unique<btCylinderShapeZ>(btVector3(radius, radius, size.z / 2));
    out.volume_m3 = kPi * radius * radius * size.z;
  } else if (shape.form == "hull" || shape.form == "mesh") {
    auto hull = std::make_unique<btConvexHullShape>();
    for (const auto& corner : shape.corners) hull->addPoint({corner[0], corner[1], corner[2]}, false);
    hull->recalcLocalAabb();
    hull->setMargin(0.005F);
    weighHull(shape, out);
    out.shape = std::move(hull);
  } else {
    out.shape = std::make_unique<btBoxShape>(bt(size / 2.0F));
    out.volume_m3 = size.x * size.y * size.z;
  }
  return out;
}

// The object's bounding box, where nothing says what one bumps into.
Solid boxOf(const bundle::ObjectRecord& object) {
  bundle::ObjectShape box;
  box.form = "box";
  box.friction = 0.6F;
  box.bounce = 0.1F;
  for (size_t i = 0; i < 3; ++i) {
    box.size[i] = std::max(object.bounds_max[i] - object.bounds_min[i], 0.01F);
    box.position[i] = (object.bounds_max[i] + object.bounds_min[i]) / 2;
  }
  return solidOf(box);
}

float massOf(const bundle::ObjectRecord& object) {
  const bool said = object.card.contains("mass") && object.card["mass"].is_number();
  return said ? std::clamp(object.card["mass"].get<float>(), 0.01F, 1e6F) : 1.0F;
}

// Whether a point lies in a shape; of a hull by its farthest points along many directions.
bool inside(const btConvexShape& shape, const btVector3& p) {
  const float across = std::sqrt(p.x() * p.x() + p.y() * p.y());
  if (const auto* ball = dynamic_cast<const btSphereShape*>(&shape)) return p.length() <= ball->getRadius();
  if (const auto* capsule = dynamic_cast<const btCapsuleShape*>(&shape)) {
    const float beyond = std::max(0.0F, std::abs(p.z()) - capsule->getHalfHeight());
    return std::sqrt(across * across + beyond * beyond) <= capsule->getRadius();
  }
  if (const auto* round = dynamic_cast<const btCylinderShape*>(&shape)) {
    const btVector3 half = round->getHalfExtentsWithMargin();
    return across <= half.x() && std::abs(p.z()) <= half.z();
  }
  static const std::vector<btVector3> kWays = [] {
    std::vector<btVector3> out;
    constexpr int kCount = 96;
    for (int i = 0; i < kCount; ++i) {
      const float z = 1 - (2 * static_cast<float>(i) + 1) / kCount, r = std::sqrt(1 - z * z);
      const float a = 2.39996323F * static_cast<float>(i);
      out.emplace_back(r * std::cos(a), r * std::sin(a), z);
    }
    for (int axis = 0; axis < 3; ++axis)
      for (const float s : {-1.0F, 1.0F}) {
        btVector3 way(0, 0, 0);
        way[axis] = s;
        out.push_back(way);
      }
    return out;
  }();
  return std::all_of(kWays.begin(), kWays.end(), [&](const btVector3& way) {
    return way.dot(p) <= way.dot(shape.localGetSupportingVertexWithoutMargin(way)) + shape.getMargin();
  });
}

}  // namespace

struct Bodies::World {
  explicit World(const Ground& ground) : water_m(ground.water_m) {
    dynamics.setGravity({0, 0, -kGravity});
    // What has sunk into another is pushed out without being sped up, or every bounce would gain by it.
    dynamics.getSolverInfo().m_splitImpulse = 1;
    dynamics.getSolverInfo().m_splitImpulsePenetrationThreshold = 0;
    const auto lay = [&](const glm::vec3& low, const glm::vec3& high) {
      auto shape = std::make_unique<btBoxShape>(bt((high - low) / 2.0F));
      btRigidBody::btRigidBodyConstructionInfo info(0, nullptr, shape.get());
      info.m_startWorldTransform.setOrigin(bt((low + high) / 2.0F));
      info.m_friction = 1;
      info.m_restitution = 1;  // what falls upon it bounces by its own
      auto body = std::make_unique<btRigidBody>(info);
      dynamics.addRigidBody(body.get());
      ground_shapes.push_back(std::move(shape));
      ground_bodies.push_back(std::move(body));
    };
    for (const Ground::Box& box : ground.boxes) lay(box.low, box.high);
    if (water_m) {
      const float bed = *water_m - kBed_m;
      lay({-500, -500, bed - 4}, {500, 500, bed});
    }
  }
  ~World() {
    for (auto& [id, body] : bodies) dynamics.removeRigidBody(body->rigid.get());
    for (auto& body : ground_bodies) dynamics.removeRigidBody(body.get());
  }

  struct Body {
    std::vector<Solid> solids;
    std::unique_ptr<btCompoundShape> shape;
    std::unique_ptr<btRigidBody> rigid;
    btTransform from_object;  // from the object's space to that of the centre of mass
    std::vector<Cell> cells;
    float still_s = 0, drag = 0;
    Struck struck;
    btVector3 before{0, 0, 0};  // its speed before the last step
    bool touched = false;
  };

  btDefaultCollisionConfiguration configuration;
  btCollisionDispatcher dispatcher{&configuration};
  btDbvtBroadphase broadphase;
  btSequentialImpulseConstraintSolver solver;
  btDiscreteDynamicsWorld dynamics{&dispatcher, &broadphase, &solver, &configuration};
  std::optional<float> water_m;
  std::vector<std::unique_ptr<btBoxShape>> ground_shapes;
  std::vector<std::unique_ptr<btRigidBody>> ground_bodies;
  std::map<size_t, std::unique_ptr<Body>> bodies;
  size_t next = 0;
  float left_s = 0;

  static void fill(Body& body, const btVector3& middle);
  void press(Body& body) const;
  void step();
};

// Small boxes that fill the solids: how deep each lies is how hard the water presses.
void Bodies::World::fill(Body& body, const btVector3& middle) {
  // Fine enough that a ball floats to the millimetre; coarser where there are many.
  const int along = body.solids.size() == 1 ? 20 : 10;
  for (const Solid& solid : body.solids) {
    btVector3 low, high;
    solid.shape->getAabb(btTransform::getIdentity(), low, high);
    const btVector3 size = (high - low) / static_cast<float>(along);
    std::vector<Cell> cells;
    for (int x = 0; x < along; ++x)
      for (int y = 0; y < along; ++y)
        for (int z = 0; z < along; ++z) {
          const btVector3 p =
              low + size * btVector3(static_cast<float>(x) + 0.5F, static_cast<float>(y) + 0.5F,
                                     static_cast<float>(z) + 0.5F);
          if (inside(*solid.shape, p)) cells.push_back({solid.place * p - middle, 0, size.z()});
        }
    for (Cell& cell : cells) {
      cell.volume_m3 = solid.volume_m3 / static_cast<float>(cells.size());
      cell.height_m = std::max(size.x(), std::max(size.y(), size.z()));
    }
    body.cells.insert(body.cells.end(), cells.begin(), cells.end());
  }
}

// Lift and drag of the water.
void Bodies::World::press(Body& body) const {
  if (!water_m) return;
  const btTransform& at = body.rigid->getWorldTransform();
  for (const Cell& cell : body.cells) {
    const btVector3 arm = at.getBasis() * cell.at;
    const float top = at.getOrigin().z() + arm.z() + cell.height_m / 2;
    const float share = std::clamp((*water_m - (top - cell.height_m)) / cell.height_m, 0.0F, 1.0F);
    if (share <= 0) continue;
    const float displaced_kg = kWater_kg_m3 * cell.volume_m3 * share;
    // Water that is moved along takes speed away.
    const btVector3 drag = body.rigid->getVelocityInLocalPoint(arm) * (-1.6F * displaced_kg);
    body.rigid->applyForce(btVector3(0, 0, displaced_kg * kGravity) + drag, arm);
  }
}

void Bodies::World::step() {
  for (auto& [id, body] : bodies) {
    body->before = body->rigid->getLinearVelocity();
    press(*body);
  }
  dynamics.stepSimulation(kStep_s, 0);
  std::map<const btCollisionObject*, bool> touching;
  for (int i = 0; i < dispatcher.getNumManifolds(); ++i) {
    const btPersistentManifold* manifold = dispatcher.getManifoldByIndexInternal(i);
    if (manifold->getNumContacts() > 0)
      touching[manifold->getBody0()] = touching[manifold->getBody1()] = true;
  }
  for (auto& [id, body] : bodies) {
    const bool touches = touching.count(body->rigid.get()) != 0;
    const float change = (body->rigid->getLinearVelocity() - body->before).length();
    if (touches && !body->touched && change > 0.25F) {
      ++body->struck.times;
      body->struck.speed = body->before.length();
    }
    body->touched = touches;
    const bool still = body->rigid->getLinearVelocity().length() < 0.012F &&
                       body->rigid->getAngularVelocity().length() < 0.08F;
    body->still_s = still ? body->still_s + kStep_s : 0;
  }
}

Bodies::Bodies(const Ground& ground) : world_(std::make_unique<World>(ground)) {}
Bodies::~Bodies() = default;

size_t Bodies::add(const bundle::ObjectRecord& object, const glm::mat4& place) {
  return put(object, place, false);
}
size_t Bodies::addFixed(const bundle::ObjectRecord& object, const glm::mat4& place) {
  return put(object, place, true);
}

size_t Bodies::put(const bundle::ObjectRecord& object, const glm::mat4& place, bool fixed) {
  auto body = std::make_unique<World::Body>();
  for (const bundle::ObjectShape& shape : object.shapes) {
    Solid solid = solidOf(shape);
    if (solid.volume_m3 > 0) body->solids.push_back(std::move(solid));
  }
  if (body->solids.empty()) body->solids.push_back(boxOf(object));
  float volume = 0;
  btVector3 middle(0, 0, 0);
  for (const Solid& solid : body->solids) {
    volume += solid.volume_m3;
    middle += solid.place * solid.middle * solid.volume_m3;
  }
  middle /= volume;
  body->from_object = btTransform(btQuaternion::getIdentity(), -middle);
  body->shape = std::make_unique<btCompoundShape>();
  for (const Solid& solid : body->solids)
    body->shape->addChildShape(body->from_object * solid.place, solid.shape.get());
  const float mass = fixed ? 0 : massOf(object);
  btVector3 inertia(0, 0, 0);
  if (fixed) {
    // It has no inertia to reckon with.
  } else if (body->solids.size() == 1)
    body->solids[0].shape->calculateLocalInertia(mass, inertia);
  else
    body->shape->calculateLocalInertia(mass, inertia);
  btRigidBody::btRigidBodyConstructionInfo info(mass, nullptr, body->shape.get(), inertia);
  info.m_startWorldTransform = transformOf(place) * body->from_object.inverse();
  info.m_friction = body->solids[0].friction;
  info.m_restitution = fixed ? 1 : body->solids[0].bounce;
  info.m_rollingFriction = 0.004F;
  info.m_spinningFriction = 0.004F;
  body->rigid = std::make_unique<btRigidBody>(info);
  body->rigid->setActivationState(DISABLE_DEACTIVATION);
  // What is small and quick must not pass through the quay within a step.
  body->rigid->setCcdMotionThreshold(0.05F);
  body->rigid->setCcdSweptSphereRadius(0.02F);
  if (!fixed) World::fill(*body, middle);
  world_->dynamics.addRigidBody(body->rigid.get());
  const size_t id = world_->next++;
  world_->bodies[id] = std::move(body);
  return id;
}

void Bodies::remove(size_t id) {
  const auto found = world_->bodies.find(id);
  if (found == world_->bodies.end()) return;
  world_->dynamics.removeRigidBody(found->second->rigid.get());
  world_->bodies.erase(found);
}

void Bodies::pass(float seconds) {
  if (world_->bodies.empty()) return;
  world_->left_s += seconds;
  for (; world_->left_s >= kStep_s; world_->left_s -= kStep_s) world_->step();
}

glm::mat4 Bodies::place(size_t id) const {
  const World::Body& body = *world_->bodies.at(id);
  return matrixOf(body.rigid->getWorldTransform() * body.from_object);
}

glm::vec3 Bodies::speed(size_t id) const { return vec(world_->bodies.at(id)->rigid->getLinearVelocity()); }

float Bodies::depth(size_t id) const {
  if (!world_->water_m) return 0;
  const World::Body& body = *world_->bodies.at(id);
  float lowest = *world_->water_m;
  for (const Solid& solid : body.solids) {
    const btTransform at = body.rigid->getWorldTransform() * body.from_object * solid.place;
    const btVector3 down = at.getBasis().transpose() * btVector3(0, 0, -1);
    lowest = std::min(lowest, (at * solid.shape->localGetSupportingVertex(down)).z());
  }
  return *world_->water_m - lowest;
}

Settled Bodies::settled(size_t id) const {
  const World::Body& body = *world_->bodies.at(id);
  if (body.still_s < 0.5F) return Settled::moving;
  if (depth(id) <= 0) return Settled::lies;
  return body.touched && *world_->water_m - body.rigid->getWorldTransform().getOrigin().z() > kBed_m - 2
             ? Settled::sunk
             : Settled::floats;
}

Bodies::Struck Bodies::struck(size_t id) const { return world_->bodies.at(id)->struck; }

}  // namespace rakugo::standin
