#include "core/world/asked_world.hpp"

#include <algorithm>

namespace cursimeter::detail {
namespace {

/// The box reaches further than it must by this, m, so that one question serves most ticks.
constexpr double margin = 0.1;

}  // namespace

void AskedWorld::ask(const glm::dvec3& low, const glm::dvec3& high, Questions questions) {
    if (is_asked(low, high)) {
        return;
    }
    low_ = low - glm::dvec3(margin);
    high_ = high + glm::dvec3(margin);
    floor_ = {};
    open_ = questions == Questions::all && is_open(terrain_, low_, high_, floor_);
    moves_ = !open_ && terrain_.moves(low_, high_);
}

/// Not for a body that is in the floor already.
bool AskedWorld::lies_in_open(const Capsule& body, const glm::dvec3& from, const glm::dvec3& motion) const {
    const glm::dvec3 to = from + motion;
    const double r = body.radius;
    return from.z >= floor_.height &&
           is_asked({std::min(from.x, to.x) - r, std::min(from.y, to.y) - r, std::min(from.z, to.z)},
                    {std::max(from.x, to.x) + r, std::max(from.y, to.y) + r,
                     std::max(from.z, to.z) + body.height});
}

bool AskedWorld::meets_floor(const Sweep& sweep, Hit& hit) const {
    const double fraction = (sweep.from.z - floor_.height) / -sweep.motion.z;
    if (!(sweep.motion.z < 0.0 && fraction < 1.0)) {
        return false;
    }
    hit = {fraction, {0.0, 0.0, 1.0}, {0.0, 0.0, 1.0}, floor_.surface};
    return true;
}

}  // namespace cursimeter::detail
