#include <algorithm>
#include <cmath>
#include <cursimeter/numbers/detmath.hpp>
#include <cursimeter/show/body_facing.hpp>

namespace cursimeter {

namespace {

constexpr double pi = 3.141592653589793;

/// -pi to pi.
double wrapped(double angle) {
    const double turns = std::floor((angle + pi) / (2.0 * pi));
    return angle - turns * 2.0 * pi;
}

}  // namespace

double BodyFacing::turn_to(double target, Seconds dt) {
    const double gap = wrapped(target - yaw_);
    const double most = rate_ > 0.0 ? rate_ * std::max(dt.value, 0.0) : 2.0 * pi;
    yaw_ = std::fabs(gap) <= most ? wrapped(target) : wrapped(yaw_ + (gap > 0.0 ? most : -most));
    return yaw_;
}

double BodyFacing::follow(const Runner& runner, Facing facing, Seconds dt) {
    const glm::dvec3 velocity = runner.velocity();
    if (facing == Facing::look) {
        return turn_to(runner.yaw(), dt);
    }
    const bool goes = velocity.x * velocity.x + velocity.y * velocity.y > 1e-4;
    return goes ? turn_to(detmath::arc_tangent(velocity.y, velocity.x), dt) : yaw_;
}

}  // namespace cursimeter
