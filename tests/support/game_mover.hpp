#pragma once

#include <cursimeter/settle.hpp>

#include "support/worlds.hpp"

/// A game's own collision, as plain as one would write it: sweep, slide, step up, let down.
namespace support {

class GameMover {
  public:
    GameMover(const Terrain& terrain, const Chart& chart)
        : terrain_(terrain), full_(chart.body(StateId{0})) {}

    glm::dvec3 move(const Plan& plan, const glm::dvec3& from, Contacts& contacts) const {
        contacts = {};
        glm::dvec3 place = from, left = plan.displacement;
        for (int bounce = 0; bounce < 4 && dot(left, left) > 1e-12; ++bounce) {
            Hit hit;
            if (!sweep(plan.body, place, left, hit)) {
                place += left;
                break;
            }
            const bool ground = std::min(hit.face.z, hit.normal.z) >= plan.slope_cosine;
            const bool edge = dot(hit.face, hit.normal) < 0.999;
            if (plan.keeps_to_ground && (!ground || edge) && step(plan, place, left)) {
                break;
            }
            place += left * hit.fraction;
            left *= 1.0 - hit.fraction;
            glm::dvec3 normal = hit.normal;
            if (plan.keeps_to_ground && !ground) {
                const double size = std::hypot(normal.x, normal.y);
                normal = {normal.x / size, normal.y / size, 0.0};
            }
            left -= normal * std::min(0.0, dot(left, normal));
            if (!ground && contacts.barrier_count < 2) {
                contacts.barriers[contacts.barrier_count++] = normal;
            }
        }
        let_down(plan, place, contacts);
        Overlap overlap;
        contacts.headroom = !terrain_.overlap(full_, place + glm::dvec3(0.0, 0.0, 1e-3), 0.0, overlap);
        contacts.zones = terrain_.zones(place + glm::dvec3(0.0, 0.0, 0.5 * plan.body.height), 0.0);
        return place - from;
    }

  private:
    static double dot(const glm::dvec3& a, const glm::dvec3& b) { return a.x * b.x + a.y * b.y + a.z * b.z; }
    bool sweep(const Capsule& body, const glm::dvec3& from, const glm::dvec3& motion, Hit& hit) const {
        if (!terrain_.sweep({body, from, motion, 0.0}, hit)) {
            return false;
        }
        const double closing = -dot(motion, hit.normal);
        hit.fraction = std::max(0.0, hit.fraction - 1e-3 / std::max(closing, 1e-3));
        return true;
    }
    bool step(const Plan& plan, glm::dvec3& place, const glm::dvec3& motion) const {
        const glm::dvec3 up(0.0, 0.0, plan.step_height), forward(motion.x, motion.y, 0.0);
        Hit hit;
        if (sweep(plan.body, place, up, hit) || sweep(plan.body, place + up, forward, hit) ||
            !sweep(plan.body, place + up + forward, up * -1.0, hit) || hit.face.z < plan.slope_cosine) {
            return false;
        }
        place += up + forward - up * hit.fraction;
        return true;
    }
    void let_down(const Plan& plan, glm::dvec3& place, Contacts& contacts) const {
        const bool rising = !plan.keeps_to_ground && plan.displacement.z > 0.0;
        const glm::dvec3 down(0.0, 0.0, plan.keeps_to_ground ? -plan.step_height - 0.1 : -0.01);
        Hit hit;
        contacts.grounded = !rising && sweep(plan.body, place, down, hit) && hit.face.z >= plan.slope_cosine;
        if (contacts.grounded) {
            place += down * hit.fraction;
            contacts.ground_normal = hit.face;
        }
    }

    const Terrain& terrain_;
    Capsule full_;
};

}  // namespace support
