#include <algorithm>
#include <cmath>
#include <cursimeter/adapters/bullet_terrain.hpp>

namespace cursimeter {
namespace {

btVector3 to_bullet(const glm::dvec3& v) {
    return {btScalar(v.x), btScalar(v.y), btScalar(v.z)};
}
glm::dvec3 from_bullet(const btVector3& v) {
    return {double(v.x()), double(v.y()), double(v.z())};
}

/// The capsule in Bullet's terms: its place is its middle.
struct Body {
    btCapsuleShapeZ shape;
    double half;
    explicit Body(const Capsule& capsule)
        : shape(btScalar(capsule.radius), btScalar(std::max(1e-6, capsule.height - 2.0 * capsule.radius))),
          half(0.5 * capsule.height) {}
    [[nodiscard]] btTransform at(const glm::dvec3& feet) const {
        return btTransform(btQuaternion::getIdentity(), to_bullet(feet + glm::dvec3(0.0, 0.0, half)));
    }
};

/// The deepest overlap of a body with anything.
struct Deepest final : btCollisionWorld::ContactResultCallback {
    const btCollisionObject* body;
    double depth = 0.0;
    glm::dvec3 normal{0.0, 0.0, 1.0};

    explicit Deepest(const btCollisionObject* own) : body(own) {}
    btScalar addSingleResult(btManifoldPoint& point, const btCollisionObjectWrapper* first, int, int,
                             const btCollisionObjectWrapper*, int, int) override {
        const double found = -double(point.getDistance());
        if (found > depth) {
            depth = found;
            const glm::dvec3 to_first = from_bullet(point.m_normalWorldOnB);
            normal = first->getCollisionObject() == body ? to_first : -to_first;
        }
        return 0;
    }
};

/// Whether anything that is not static is in a box.
struct AnyMoving final : btBroadphaseAabbCallback {
    bool any = false;
    bool process(const btBroadphaseProxy* proxy) override {
        any = any || !static_cast<const btCollisionObject*>(proxy->m_clientObject)->isStaticObject();
        return !any;
    }
};

/// The first hit that closes in: what the body only leaves or glides along is passed over.
struct FirstClosing final : btCollisionWorld::ClosestConvexResultCallback {
    btVector3 motion;
    FirstClosing(const btVector3& from, const btVector3& to)
        : ClosestConvexResultCallback(from, to), motion(to - from) {}
    btScalar addSingleResult(btCollisionWorld::LocalConvexResult& result, bool in_world) override {
        const btVector3 normal =
            in_world ? result.m_hitNormalLocal
                     : result.m_hitCollisionObject->getWorldTransform().getBasis() * result.m_hitNormalLocal;
        return motion.dot(normal) < btScalar(-1e-7) * motion.length()
                   ? ClosestConvexResultCallback::addSingleResult(result, in_world)
                   : m_closestHitFraction;
    }
};

}  // namespace

glm::dvec3 BulletTerrain::upmost_face(const btVector3& point, const glm::dvec3& normal) const {
    // Straight down, a little to either side of the touch: on an edge the two surfaces that meet there.
    constexpr double reach = 0.02, aside = 0.004;
    const double level = std::sqrt(normal.x * normal.x + normal.y * normal.y);
    if (level < 1e-3 || normal.z < 0.02) {
        return normal;
    }
    glm::dvec3 upmost = normal;
    bool found = false;
    for (const double side : {-aside, aside}) {
        const btVector3 beside =
            point + btVector3(btScalar(normal.x / level * side), btScalar(normal.y / level * side), 0);
        const btVector3 from = beside + btVector3(0, 0, btScalar(reach));
        const btVector3 to = beside - btVector3(0, 0, btScalar(reach));
        btCollisionWorld::ClosestRayResultCallback ray(from, to);
        world_->rayTest(from, to, ray);
        if (ray.hasHit()) {
            const glm::dvec3 face = from_bullet(ray.m_hitNormalWorld.normalized());
            upmost = !found || face.z > upmost.z ? face : upmost;
            found = true;
        }
    }
    return upmost;
}

bool BulletTerrain::sweep(const Sweep& sweep, Hit& hit) const noexcept {
    const Body body(sweep.body);
    const btTransform from = body.at(sweep.from), to = body.at(sweep.from + sweep.motion);
    FirstClosing found(from.getOrigin(), to.getOrigin());
    world_->convexSweepTest(&body.shape, from, to, found);
    if (!found.hasHit()) {
        return false;
    }
    hit.fraction = std::clamp(double(found.m_closestHitFraction), 0.0, 1.0);
    hit.normal = from_bullet(found.m_hitNormalWorld.normalized());
    hit.face = upmost_face(found.m_hitPointWorld, hit.normal);
    if (std::sqrt(std::pow(hit.face.x - hit.normal.x, 2) + std::pow(hit.face.y - hit.normal.y, 2) +
                  std::pow(hit.face.z - hit.normal.z, 2)) < 1e-3) {
        hit.normal = hit.face;  // a touch of the face itself, but for the sweep's own rounding
    }
    hit.surface = static_cast<std::uint32_t>(std::max(0, found.m_hitCollisionObject->getUserIndex()));
    return true;
}

bool BulletTerrain::overlap(const Capsule& capsule, const glm::dvec3& feet, double /*at*/,
                            Overlap& overlap) const noexcept {
    Body body(capsule);
    btCollisionObject object;
    object.setCollisionShape(&body.shape);
    object.setWorldTransform(body.at(feet));
    Deepest deepest(&object);
    world_->contactTest(&object, deepest);
    overlap = {deepest.depth, deepest.normal};
    return deepest.depth > 0.0;
}

ZoneReading BulletTerrain::zones(const glm::dvec3& point, double /*at*/) const noexcept {
    return zone_reader ? zone_reader(point) : ZoneReading{};
}

bool BulletTerrain::moves(const glm::dvec3& low, const glm::dvec3& high) const noexcept {
    AnyMoving found;
    world_->getBroadphase()->aabbTest(to_bullet(low), to_bullet(high), found);
    return found.any;
}

glm::dvec3 BulletTerrain::surface_motion(std::uint32_t surface, double /*at*/,
                                         double seconds) const noexcept {
    const btCollisionObjectArray& objects = world_->getCollisionObjectArray();
    for (int i = 0; i < objects.size(); ++i) {
        if (static_cast<std::uint32_t>(std::max(0, objects[i]->getUserIndex())) == surface) {
            return from_bullet(objects[i]->getInterpolationLinearVelocity()) * seconds;
        }
    }
    return {0.0, 0.0, 0.0};
}

}  // namespace cursimeter
