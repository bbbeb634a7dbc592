#pragma once

#include <algorithm>
#include <cmath>
#include <cursimeter/settle.hpp>
#include <glm/geometric.hpp>

/// A game's own collision, as plain as one would write it: carry, get out, sweep and slide, step up, let down, look
/// around. `Terrain` stands for whatever the game sweeps capsules with.
class GameMover {
  public:
    GameMover(const cursimeter::Terrain& terrain, cursimeter::Seconds dt)
        : terrain_(terrain), dt_(dt.value) {}

    /// Moves a runner that is at `from` by a plan. Returns how far it came, m, and fills `contacts`, for `settle` and
    /// for the next `propose`.
    glm::dvec3 move(const cursimeter::Plan& plan, const glm::dvec3& from,
                    cursimeter::Contacts& contacts) const {
        contacts = {};
        glm::dvec3 place = from + plan.carry, left = plan.displacement;
        glm::dvec3 before(0.0), footing(0.0);  // normals: of what was met last, and of what it might stand on
        cursimeter::Overlap inside;
        for (int attempt = 0; attempt < 4 && terrain_.overlap(plan.body, place, dt_, inside); ++attempt) {
            place += inside.normal * inside.depth;
        }
        if (terrain_.overlap(plan.body, place, dt_, inside) && inside.depth > 0.1) {
            return {0.0, 0.0, 0.0};  // solids leave it no room: it stays where it is
        }
        for (int bounce = 0; bounce < 4 && glm::dot(left, left) > 1e-12; ++bounce) {
            cursimeter::Hit hit;
            if (!sweep(plan.body, place, left, hit)) {
                place += left;
                break;
            }
            const bool ground = std::min(hit.face.z, hit.normal.z) >= plan.slope_cosine;
            const bool edge = glm::dot(hit.face, hit.normal) < 0.999;
            if (plan.keeps_to_ground && (!ground || edge) && step_up(plan, place, left)) {
                break;
            }
            place += left * hit.fraction;
            left *= 1.0 - hit.fraction;
            glm::dvec3 normal = hit.normal;
            if (plan.keeps_to_ground && !ground) {  // too steep to stand on: it stops like a wall
                normal = glm::normalize(glm::dvec3(normal.x, normal.y, 0.0));
            }
            left -= normal * std::min(0.0, glm::dot(left, normal));
            if (glm::dot(left, before) < -1e-9) {  // between two faces only the line along both is open
                const glm::dvec3 line = glm::cross(before, normal);
                left = line * (glm::dot(left, line) / std::max(glm::dot(line, line), 1e-9));
            }
            before = normal;
            if (ground) {
                footing = hit.normal;
            } else {
                tell_barrier(hit.normal, contacts);
            }
        }
        let_down(plan, place, contacts);
        if (!contacts.grounded && footing != glm::dvec3(0.0)) {
            tell_barrier(footing, contacts);  // a rim that does not hold it
        }
        find_wall(plan, place, contacts);
        contacts.headroom =
            !terrain_.overlap(plan.full_body, place + glm::dvec3(0.0, 0.0, 1e-3), dt_, inside);
        contacts.zones = terrain_.zones(place + glm::dvec3(0.0, 0.0, 0.5 * plan.body.height), dt_);
        return place - from;
    }

  private:
    static void tell_barrier(const glm::dvec3& normal, cursimeter::Contacts& contacts) {
        if (contacts.barrier_count < contacts.barriers.size()) {
            contacts.barriers[contacts.barrier_count++] = normal;
        }
    }
    /// Keeps 1 mm from what it meets.
    bool sweep(const cursimeter::Capsule& body, const glm::dvec3& from, const glm::dvec3& motion,
               cursimeter::Hit& hit) const {
        if (!terrain_.sweep({body, from, motion, dt_}, hit)) {
            return false;
        }
        const double closing = -glm::dot(motion, hit.normal);
        hit.fraction = std::max(0.0, hit.fraction - 1e-3 / std::max(closing, 1e-3));
        return true;
    }
    bool step_up(const cursimeter::Plan& plan, glm::dvec3& place, const glm::dvec3& motion) const {
        const glm::dvec3 up(0.0, 0.0, plan.step_height), forward(motion.x, motion.y, 0.0);
        cursimeter::Hit hit;
        if (sweep(plan.body, place, up, hit) || sweep(plan.body, place + up, forward, hit) ||
            !sweep(plan.body, place + up + forward, -up, hit) || hit.face.z < plan.slope_cosine) {
            return false;
        }
        place += up + forward - up * hit.fraction;
        return true;
    }
    void let_down(const cursimeter::Plan& plan, glm::dvec3& place, cursimeter::Contacts& contacts) const {
        const bool rising = !plan.keeps_to_ground && plan.displacement.z > 0.0;
        const double reach = !plan.keeps_to_ground ? 0.01 : plan.sticks ? plan.step_height + 0.1 : 0.005;
        const glm::dvec3 down(0.0, 0.0, -reach);
        cursimeter::Hit hit;
        contacts.grounded = !rising && sweep(plan.body, place, down, hit) &&
                            hit.face.z >= plan.slope_cosine && !falls_away(plan, hit) &&
                            holds(plan, place + down * hit.fraction, hit);
        if (contacts.grounded) {
            place += down * hit.fraction;
            contacts.ground_normal = hit.face;
            contacts.ground_velocity = terrain_.surface_motion(hit.surface, dt_, 1e-3) * 1e3;
        }
    }
    /// Who is too fast to stick flies on where the ground falls away from the way that it goes. At an edge what matters is how far it
    /// is let down.
    static bool falls_away(const cursimeter::Plan& plan, const cursimeter::Hit& hit) {
        const glm::dvec3 velocity = plan.after.velocity();
        return plan.keeps_to_ground && !plan.sticks &&
               glm::dot(velocity, hit.face) > 0.005 * glm::length(velocity);
    }
    /// An edge holds it while there is a step to stand on below its middle; else it would hang on by its rim.
    bool holds(const cursimeter::Plan& plan, const glm::dvec3& place, const cursimeter::Hit& hit) const {
        const double thin = 0.2 * plan.body.radius;
        const glm::dvec3 down(0.0, 0.0, -plan.step_height);
        cursimeter::Hit below;
        return glm::dot(hit.face, hit.normal) > 0.999 ||
               (terrain_.sweep({{thin, 2.0 * thin}, place, down, dt_}, below) &&
                below.face.z >= plan.slope_cosine);
    }
    /// At either side of the way that it goes.
    void find_wall(const cursimeter::Plan& plan, const glm::dvec3& place,
                   cursimeter::Contacts& contacts) const {
        const glm::dvec3 along = plan.after.velocity();
        const double size = std::hypot(along.x, along.y);
        if (contacts.grounded || plan.reach <= 0.0 || size < 0.01) {
            return;
        }
        double nearest = 2.0;
        for (const double side : {1.0, -1.0}) {
            const glm::dvec3 aside = glm::dvec3(-along.y, along.x, 0.0) * (side * (plan.reach + 1e-3) / size);
            cursimeter::Hit hit;
            if (!terrain_.sweep({plan.body, place, aside, dt_}, hit) || hit.fraction >= nearest ||
                std::fabs(hit.normal.z) > 0.1 || glm::dot(hit.face, hit.normal) < 0.7) {
                continue;  // none there, further away, no wall, or the wall's end
            }
            nearest = hit.fraction;
            contacts.by_wall = true;
            contacts.wall_normal = glm::normalize(glm::dvec3(hit.normal.x, hit.normal.y, 0.0));
            contacts.wall_surface = hit.surface;
        }
    }

    const cursimeter::Terrain& terrain_;
    double dt_;
};
