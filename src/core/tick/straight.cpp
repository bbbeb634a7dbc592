#include "core/contact/surroundings.hpp"
#include "core/motion/aim.hpp"
#include "core/motion/footsteps.hpp"
#include "core/motion/leg.hpp"
#include "core/numbers/space.hpp"
#include "core/tick/tick.hpp"
#include "core/tick/turning.hpp"
#include "core/world/traveller.hpp"

/// Most ticks in a world bring no contact either: whoever walks on level ground goes on walking on it, whoever falls goes on
/// falling. Such a tick is found out as on open ground, in one go, and the world is asked once whether the straight line from
/// its begin to its end is free and what is there: two sweeps on the ground, where the plain way takes two for each of up to
/// three legs, and a look for room before.
///
/// What it leaves out: the cutting of a turning tick into legs, and of legs into chords that keep within `chord_error` of
/// them; where this line bends by more than `straight_error` from the path, the plain way is taken. The end of the tick is
/// the same either way. Whatever the line meets, or is found changed at its end, is left to the plain way, which finds the
/// moment; so is everything near what moves, with pushes, or leaning against anything. Solids that only came to where the body
/// is are looked for where the world says that something moves. tests/core/world/test_straight.cpp compares both ways.
namespace cursimeter::detail {
namespace {

/// Deviation of the line from the tick's path, m: what it may brush past unseen, or miss of a corner.
constexpr double straight_error = 1e-3;

}  // namespace

bool go_straight(Instant& instant, const Terrain& terrain, double dt) {
    const ChartData& chart = instant.chart;
    RunnerState& runner = instant.runner;
    const Surroundings& around = runner.around;
    if (instant.dirty.any(dirty::facts) || runner.stale || runner.carried || around.crushed ||
        around.barrier_count != 0 || runner.condition_due <= runner.clock + dt) {
        return false;
    }
    const bool wanted = instant.dirty.any(dirty::wanted);
    const bool turned = chart.states[runner.state].traits.steered &&
                        (wanted || (instant.dirty.any(dirty::aim) && !runner.idle));
    RunnerState next = runner;
    double bend = 0.125;  // of a path whose velocity changes evenly, per m/s and s
    if (turned) {
        if (wanted) {
            plan_wanted(chart, next);
        }
        if (!follow_target(chart, next, dt)) {
            return false;
        }
        bend = 0.25;  // at most, if it changes in the middle
    } else if (runner.next_due <= runner.clock + dt) {
        return false;
    } else {
        glide(chart, next, dt);
    }
    if (bend * dt * length_of(next.velocity - runner.velocity) > straight_error) {
        return false;
    }
    Traveller traveller(instant, terrain, runner.clock + double{runner.lag}, dt);
    glm::dvec3 place(0.0);
    if (!traveller.crosses(next.position - runner.position, dt, place, next.around)) {
        return false;
    }
    const StepsFrom start(chart, runner);
    runner = next;
    runner.position = place;
    tell_steps(chart, runner, instant.report, start, start.clock);
    return true;
}

}  // namespace cursimeter::detail
