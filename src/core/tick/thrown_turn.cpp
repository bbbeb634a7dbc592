#include <algorithm>
#include <cmath>

#include "core/chart/chart_data.hpp"
#include "core/kinds/steering.hpp"
#include "core/motion/segment.hpp"
#include "core/numbers/space.hpp"
#include "core/tick/way.hpp"
#include "core/want/move_and_look.hpp"

/// Ticks in which the look turns in the air.
///
/// What is thrown has a constant acceleration until it has steered to where it wants to go, and another from there, with
/// gravity alone. The tick goes both in one go. It leaves out what a plan finds besides: barriers, wind and modifiers, of which
/// there must be none, and everything at which the vertical motion changes (the apex, the terminal speed, the ground), which
/// must lie beyond the tick. When those are due is not found either: the segment is left to be planned anew when the look comes to
/// rest. What is due by the chart's conditions stays true, since turning changes nothing of the vertical motion, and no speed is
/// watched.
namespace cursimeter::detail {
namespace {

/// Whether the vertical motion goes on as it is for dt seconds and an instant more.
bool falls_on(const CompiledAir& air, const RunnerState& runner, double gravity, double dt) {
    constexpr double width = 2.0 * instant_width.value;
    const double rise = runner.velocity.z, last = rise - gravity * dt;
    if (rise > 0.0) {
        return last > gravity * width;
    }
    const double height = runner.position.z - runner.floor + 0.5 * (rise + last) * dt;
    return air.terminal + last > gravity * width && (runner.in_world || height > -last * width);
}

/// A stretch of constant acceleration.
struct Throw {
    glm::dvec3 velocity{0.0};
    double speed = 0.0;
    glm::dvec3 moved{0.0};
    double path = 0.0;

    /// Returns false where its path has no short form.
    bool go_on(const glm::dvec3& acceleration, double seconds) {
        const glm::dvec3 from = velocity;
        const double before = speed;
        moved += from * seconds + acceleration * (0.5 * seconds * seconds);
        velocity += acceleration * seconds;
        speed = length_of(velocity);
        const double square = inner(acceleration, acceleration);
        if (!is_short(square * seconds * seconds, before, speed)) {
            const glm::dvec3 area = cross(from, acceleration);
            if (inner(area, area) <= straight_limit * straight_limit * square) {
                return false;  // straight up or down, maybe through a standstill
            }
        }
        path += ramp_path(from, acceleration, before, speed, seconds);
        return true;
    }
};

}  // namespace

bool follow_thrown(const ChartData& chart, RunnerState& runner, const CompiledState& state, double dt) {
    const CompiledAir& air = state.air;
    if (runner.modifier_count != 0 || runner.idle || air.steer <= 0.0) {
        return false;
    }
    const double gravity = gravity_of(state, runner);
    const double limit = length_of(runner.wanted);
    if (!(gravity > 0.0) || limit <= 0.0 || !falls_on(air, runner, gravity, dt) ||
        any_rise_between(chart, runner.velocity.z - gravity * dt, runner.velocity.z, &runner.watched) ||
        any_mark_between(chart, 0.0, never, &runner.watched)) {
        return false;
    }
    const glm::dvec2 target = air_target(runner, wish_direction(runner), limit);
    const glm::dvec2 gap = target - flat(runner.velocity);
    const double size = length_of(gap);
    const glm::dvec3 fall(0.0, 0.0, -gravity);
    Throw thrown{runner.velocity, runner.speed};
    double steered = 0.0;
    glm::dvec3 acceleration = fall;
    if (size > std::max(air.steer * instant_width.value, arrival_gap)) {
        steered = std::min(size / air.steer, dt);
        const glm::dvec2 steer = gap * (air.steer / size);
        acceleration = {steer.x, steer.y, -gravity};
        if (!thrown.go_on(acceleration, steered)) {
            return false;
        }
    }
    if (steered < dt) {
        thrown.velocity = {target.x, target.y, thrown.velocity.z};
        thrown.speed = length_of(thrown.velocity);
        acceleration = fall;
        if (!thrown.go_on(fall, dt - steered)) {
            return false;
        }
    }
    runner.position += thrown.moved;
    runner.distance += thrown.path;
    runner.clock += dt;
    runner.velocity = thrown.velocity;
    runner.speed = thrown.speed;
    runner.segment = SegmentKind::ramp;
    runner.acceleration = acceleration;
    runner.straight = false;
    runner.trend = inner(thrown.velocity, acceleration) < 0.0 ? Trend::falling : Trend::rising;
    runner.segment_end = SegmentEnd::replan;
    runner.segment_due = runner.clock;
    runner.next_due = std::min(runner.segment_due, runner.condition_due);
    return true;
}

}  // namespace cursimeter::detail
