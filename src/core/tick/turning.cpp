#include "core/tick/turning.hpp"

#include <algorithm>
#include <cmath>

#include "core/contact/surroundings.hpp"
#include "core/effects/modifiers.hpp"
#include "core/motion/aim.hpp"
#include "core/motion/arc.hpp"
#include "core/motion/footsteps.hpp"
#include "core/motion/segment.hpp"
#include "core/numbers/space.hpp"
#include "core/runner/instant.hpp"
#include "core/runner/timers.hpp"
#include "core/tick/open_ground.hpp"
#include "core/tick/way.hpp"
#include "core/want/move_and_look.hpp"

/// Ticks in which the wanted velocity turns. A look that follows a mouse turns it in every tick, so these ticks go the
/// whole way to the target in one go, without planning its segments.
namespace cursimeter::detail {

Rates modified_rates(const ChartData& chart, const RunnerState& runner, const GainRate& down,
                     const GainRate& up) {
    const GainLaw law = chart.states[runner.state].gain.law;
    const double factor = gain_factor(chart, runner);
    const GainRate changed_down = changed_rate(down, law, factor), changed_up = changed_rate(up, law, factor);
    return {changed_down.value, changed_down.inverse, changed_up.value, changed_up.inverse};
}

namespace {

/// Whether a foot comes down on the way, or might: it does so at a time that only the plain way finds.
[[gnu::noinline]] bool foot_comes_down(const CompiledState& state, const RunnerState& runner, double dt) {
    const double most = std::max(runner.speed, std::fabs(runner.wanted.x) + std::fabs(runner.wanted.y));
    return may_step(state, runner, most, dt);
}

/// Whether the runner is on level ground, moves by itself alone, and pays nothing for it.
[[gnu::always_inline]] inline bool walks_plainly(const CompiledState& state, const RunnerState& runner,
                                                 double dt) {
    return state.follows_turns && runner.around.grounded && runner.by_distance == 0 && !runner.carried &&
           !on_slope(runner.around) && runner.around.barrier_count == 0 &&
           (state.strides_per_metre <= 0.0 || !foot_comes_down(state, runner, dt));
}

/// The commonest turn (motion/arc.hpp). Returns false, and changes nothing, in any other case.
bool follow_arc(const ChartData& chart, RunnerState& runner, const CompiledState& state, Report& report) {
    const glm::dvec2 target = level_target(runner);
    const Rates rates = rates_of(chart, runner, state.gain);
    const ArcAtSpeed<double> arc =
        arc_at_speed(runner.velocity.x, runner.velocity.y, target.x, target.y, runner.speed,
                     rates.down_inverse, rates.up_inverse, report.seconds);
    if (!arc.fits || any_mark_between(chart, runner.speed - arc.half, runner.speed)) {
        return false;
    }
    const double x = runner.position.x, y = runner.position.y;
    runner.position.x += arc.moved_x;
    runner.position.y += arc.moved_y;
    report.displacement = {runner.position.x - x, runner.position.y - y, 0.0};
    runner.distance += arc.walked;
    runner.clock += report.seconds;
    runner.velocity.x = target.x;
    runner.velocity.y = target.y;
    runner.speed = arc.speed;
    return true;
}

/// The same where the velocity has the wanted direction at once, and needs no other speed: a straight line.
bool turn_at_speed(RunnerState& runner, Report& report) {
    const double dt = report.seconds;
    const glm::dvec2 target = level_target(runner);
    const double speed = length_of(target);
    if (std::fabs(speed - runner.speed) > arrival_gap) {
        return false;
    }
    const double x = runner.position.x, y = runner.position.y;
    runner.position.x += target.x * dt;
    runner.position.y += target.y * dt;
    report.displacement = {runner.position.x - x, runner.position.y - y, 0.0};
    runner.distance += speed * dt;
    runner.clock += dt;
    runner.velocity.x = target.x;
    runner.velocity.y = target.y;
    runner.speed = speed;
    return true;
}

/// Under the instant law the velocity is the target's at once.
template <class Space>
bool follow_at_once(const ChartData& chart, RunnerState& runner, double dt) {
    const auto target = Space::target(chart, runner);
    const double target_speed = length_of(target);
    if (any_mark_between(chart, std::min(runner.speed, target_speed), std::max(runner.speed, target_speed)) ||
        !Space::may_go(chart, runner, target, dt)) {
        return false;
    }
    Space::move(runner, target * dt);
    runner.distance += target_speed * dt;
    runner.clock += dt;
    keep_target<Space>(chart, runner, target, target_speed);
    runner.next_due = std::min(runner.segment_due, runner.condition_due);
    return true;
}

/// By the state's gain law, straight through the space of velocities.
template <class Space>
bool follow_law(const ChartData& chart, RunnerState& runner, const CompiledState& state, double dt) {
    switch (state.gain.law) {
        case GainLaw::instant:
            return follow_at_once<Space>(chart, runner, dt);
        case GainLaw::ramp:
            return follow_ramp<Space>(chart, runner, state, dt);
        case GainLaw::ease:
            return follow_ease<Space>(chart, runner, state, dt);
        case GainLaw::curve:
            break;  // each piece of the curve is a segment of its own
    }
    return false;
}

/// The same from where a turn leaves the velocity that is at once.
template <class Space>
bool follow_gain(const ChartData& chart, RunnerState& runner, const CompiledState& state, double dt) {
    if (!state.gain.turns_at_once) {
        return follow_law<Space>(chart, runner, state, dt);
    }
    const glm::dvec3 before = runner.velocity;
    const glm::dvec3 target = Space::in_space(Space::target(chart, runner));
    turn_at_once(state.gain, runner, target);
    const double low = std::min(before.z, runner.velocity.z), high = std::max(before.z, runner.velocity.z);
    const bool jumps = low != high && any_rise_between(chart, low, high, &runner.watched);
    const glm::dvec3 gap = target - runner.velocity;
    const double near_enough = state.gain.law == GainLaw::ease ? ease_gap : arrival_gap;
    const bool there = length_of(gap) <= near_enough;
    const bool goes = !jumps && (there ? follow_at_once<Space>(chart, runner, dt)
                                       : follow_law<Space>(chart, runner, state, dt));
    if (!goes) {
        runner.velocity = before;
    }
    return goes;
}

/// Whether nothing but its own wishes moves it in the air or costs it anything, and nothing is in its way.
bool is_free(const RunnerState& runner) {
    return runner.around.barrier_count == 0 && !runner.carried && runner.by_distance == 0 &&
           !runner.around.crushed;
}

/// Takes such a look in, and follows it where that is soon done.
Turn take_turn(const ChartData& chart, RunnerState& runner, const Look& look, Report& report) {
    const bool is_news = runner.stale || runner.condition_due <= runner.clock + instant_width.value;
    if (is_news || !is_look(look.yaw, look.pitch)) {
        return Turn::pending;
    }
    set_look(runner, look.yaw, look.pitch);
    runner.around.cornered = false;
    const CompiledState& state = chart.states[runner.state];
    if (runner.idle || !is_steered(state, runner)) {
        return Turn::unheeded;
    }
    const double end = reach_of_tick(runner, report.seconds);
    const bool soon_done = runner.segment == SegmentKind::steady && end < runner.next_due &&
                           walks_plainly(state, runner, report.seconds) &&
                           (state.arcs_on_ramp ? follow_arc(chart, runner, state, report)
                                               : state.gain.turns_at_once && turn_at_speed(runner, report));
    if (soon_done) {
        return state.arcs_on_ramp ? Turn::on_arc : Turn::followed;
    }
    return end < runner.condition_due ? Turn::on_way : Turn::pending;
}

}  // namespace

bool follow_target(const ChartData& chart, RunnerState& runner, double dt) {
    const CompiledState& state = chart.states[runner.state];
    if (runner.around.grounded) {
        return walks_plainly(state, runner, dt) && follow_gain<OnLevel>(chart, runner, state, dt);
    }
    if (!is_free(runner)) {
        return false;
    }
    return state.traits.thrown
               ? follow_thrown(chart, runner, state, dt)
               : state.traits.aims_in_space && follow_gain<InFlight>(chart, runner, state, dt);
}

Went advance_on(const ChartData& chart, RunnerState& runner, const Intent& intent, Report& report,
                const ChoiceWatch* watch) {
    if (looks_as_before(runner, intent)) {
        advance_busily(chart, runner, intent, false, report, watch);
        return Went::otherwise;
    }
    expect_later_turn(runner);
    const Turn turn = take_turn(chart, runner, intent.look, report);
    if (turn == Turn::on_arc) {
        return Went::round;
    }
    return turn == Turn::followed ? Went::otherwise
                                  : advance_turning(chart, runner, intent, report, watch, turn);
}

}  // namespace cursimeter::detail
