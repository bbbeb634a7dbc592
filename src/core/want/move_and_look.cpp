#include "core/want/move_and_look.hpp"

#include <algorithm>
#include <cursimeter/numbers/detmath.hpp>

#include "core/chart/facts.hpp"

namespace cursimeter::detail {

Wish read_wish(const RunnerState& runner) {
    if (runner.locks != 0 || runner.rooted) {
        return {};  // a push or a block has taken control away
    }
    double forward = runner.move_forward, side = runner.move_side;
    const double largest = std::max(std::fabs(forward), std::fabs(side));
    double length = 0.0;
    if (largest > 1e3) {  // the squares of huge values would overflow
        forward /= largest;
        side /= largest;
        length = 1.0;
    }
    const double size = std::sqrt(forward * forward + side * side);
    if (size < smallest_move) {
        return {};
    }
    return {forward / size, side / size, length > 0.0 ? length : std::min(size, 1.0)};
}

bool take_move(RunnerState& runner, double forward, double side) {
    const bool defined = std::isfinite(forward) && std::isfinite(side);
    runner.move_forward = defined ? forward : 0.0;
    runner.move_side = defined ? side : 0.0;
    return defined;
}

bool take_look(RunnerState& runner, double yaw, double pitch) {
    if (!is_look(yaw, pitch)) {
        return false;
    }
    set_look(runner, yaw, pitch);
    return true;
}

bool take_focus(RunnerState& runner, const Focus& focus, double seconds) {
    // For the middle of the slice that follows, so that a circle round the point stays one.
    constexpr double middle = 0.5 * focus_slice;
    const glm::dvec3 to =
        focus.position + focus.velocity * (seconds + middle) - (runner.position + runner.velocity * middle);
    const double level = std::sqrt(to.x * to.x + to.y * to.y);
    if (!(level > 1e-6) || !std::isfinite(level) || !std::isfinite(to.z)) {
        return false;  // straight above or below: the last look stays
    }
    const double yaw = detmath::arc_tangent(to.y, to.x);
    const double pitch = detmath::arc_tangent(to.z - focus.eye_height, level);
    runner.facing = {to.x / level, to.y / level};
    runner.look_yaw = yaw;
    runner.look_pitch = pitch;
    return true;
}

std::uint8_t moving_facts(const ChartData& chart, const RunnerState& runner) {
    const Wish wish = read_wish(runner);
    if (wish.length == 0.0) {
        return 0;
    }
    if (runner.faces_movement || wish.forward >= chart.forward_cosine) {
        return fact::moving_ahead;
    }
    return wish.forward <= -chart.forward_cosine ? fact::moving_back : fact::moving_aside;
}

glm::dvec2 wish_direction(const RunnerState& runner) {
    const Wish wish = read_wish(runner);
    return runner.facing * wish.forward + right_of(runner) * wish.side;
}

}  // namespace cursimeter::detail
