#include "core/contact/footing.hpp"

#include <algorithm>

#include "core/contact/surroundings.hpp"
#include "core/numbers/space.hpp"
#include "core/runner/timers.hpp"

namespace cursimeter::detail {

void leave_ground(Instant& instant) {
    RunnerState& runner = instant.runner;
    runner.around.grounded = false;
    runner.around.gradient = glm::vec2(0.0F);
    runner.around.ground = 0;
    if (instant.chart.body.coyote > 0.0) {
        start_timer(runner, timer::coyote, instant.chart.body.coyote);
    }
    instant.emit(EventKind::lifted, runner.state, runner.speed);
    instant.dirty.note(Changed::contact);
}

void touch_down(Instant& instant, double impact) {
    RunnerState& runner = instant.runner;
    const glm::dvec3 normal = ground_normal(runner.around);
    impact = impact >= 0.0 ? impact : std::max(0.0, -inner(runner.velocity, normal));
    runner.around.grounded = true;
    runner.around.barrier_count = 0;
    runner.jumps = 0;
    runner.last_wall = 0;
    runner.cut = false;
    stop_timer(runner, timer::coyote);
    runner.landed_at = runner.clock;
    set_velocity(runner, runner.velocity - normal * inner(runner.velocity, normal));
    instant.emit(EventKind::landed, runner.state, impact);
    instant.dirty.note(Changed::contact);
}

}  // namespace cursimeter::detail
