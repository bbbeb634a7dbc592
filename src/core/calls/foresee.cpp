#include <cursimeter/foresee.hpp>

namespace cursimeter {

Foreseen foresee_stop(const Chart& chart, const Runner& runner, const Terrain* terrain, Seconds at_most) {
    Intent hands;
    hands.look = {runner.yaw(), runner.pitch()};
    return foresee(
        chart, runner, hands, terrain, [](const Runner& then) { return then.speed() == 0.0; }, at_most);
}

Foreseen foresee_speed(const Chart& chart, const Runner& runner, const Intent& hands, double speed,
                       const Terrain* terrain, Seconds at_most) {
    // What a ramp comes to is its target to the last bit, an ease comes near it.
    const double enough = speed * (1.0 - 1e-12);
    return foresee(
        chart, runner, hands, terrain, [enough](const Runner& then) { return then.speed() >= enough; },
        at_most);
}

}  // namespace cursimeter
