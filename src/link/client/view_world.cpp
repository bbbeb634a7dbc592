#include "link/client/view_world.hpp"

#include <algorithm>

#include "core/numbers/space.hpp"

namespace cursimeter::link {
namespace {

/// m by which the body is thinner, since places are told to a centimetre; and that it keeps from what it meets.
constexpr double thinner = 0.03, apart = 0.01;
/// Solids that it goes along, one after the other.
constexpr int most_solids = 3;
/// m; shorter ways lead into nothing.
constexpr double least_way = 1e-3;

}  // namespace

glm::dvec3 kept_out(const Terrain& world, const Capsule& body, bool grounded, double step_height,
                    const glm::dvec3& from, const glm::dvec3& to) {
    const double radius = std::max(0.05, body.radius - thinner);
    const double raised = grounded ? std::min(step_height + thinner, body.height - 2.0 * radius) : thinner;
    Sweep sweep;
    sweep.body = {radius, std::max(2.0 * radius, body.height - raised - thinner)};
    const glm::dvec3 up{0.0, 0.0, std::max(0.0, raised)};
    glm::dvec3 place = from, rest = to - from;
    for (int i = 0; i < most_solids && detail::length_of(rest) > least_way; ++i) {
        sweep.from = place + up;
        sweep.motion = rest;
        Hit hit;
        if (!world.sweep(sweep, hit) || !(hit.fraction < 1.0)) {
            return place + rest;
        }
        const double length = detail::length_of(rest);
        place += rest * std::max(0.0, hit.fraction - apart / length);
        rest *= 1.0 - std::max(0.0, hit.fraction);
        const double into = rest.x * hit.normal.x + rest.y * hit.normal.y + rest.z * hit.normal.z;
        rest -= hit.normal * std::min(0.0, into);
    }
    return place;
}

}  // namespace cursimeter::link
