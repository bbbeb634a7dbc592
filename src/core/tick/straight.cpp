#include <array>
#include <cstddef>
#include <cstring>

#include "core/numbers/space.hpp"
#include "core/tick/tick.hpp"
#include "core/world/open_box.hpp"
#include "core/world/traveller.hpp"

/// Most ticks in a world bring no contact either: whoever walks on level ground goes on walking on it, whoever falls goes on
/// falling. Such a tick is found out as on open ground, in one go. Then the world is asked whether the box around its way is open
/// (world/open_box.hpp); where it is not, whether the straight line from its begin to its end is free and what is there: two
/// sweeps on the ground, where the plain way takes two for each of up to three segments, and a look for room before.
///
/// What it leaves out: the cutting of a turning tick into segments, and of segments into chords that keep within `chord_error` of
/// them; where this line bends by more than `straight_error` from the path, the plain way is taken. The end of the tick is
/// the same either way. Whatever the line meets, or is found changed at its end, is left to the plain way, which finds the
/// moment; so is everything near what moves, with pushes, or leaning against anything. Solids that only came to where the body
/// is are looked for where the world says that something moves. tests/core/world/test_straight.cpp compares both ways.
namespace cursimeter::detail {
namespace {

/// Deviation of the line from the tick's path, m: what it may brush past unseen, or miss of a corner.
constexpr double straight_error = 1e-3;

/// What motion changes of a runner: all that stands before the facts.
class Motion {
  public:
    explicit Motion(const RunnerState& runner) { std::memcpy(bytes_.data(), &runner, bytes_.size()); }
    void put_back(RunnerState& runner) const {
        std::memcpy(static_cast<void*>(&runner), bytes_.data(), bytes_.size());
    }

  private:
    std::array<std::byte, offsetof(RunnerState, derived)> bytes_;
};

/// Whether the runner moves by itself alone, and motion changes nothing else of it.
bool moves_plainly(const ChartData& chart, const RunnerState& runner) {
    const Surroundings& around = runner.around;
    const bool may_take_off = around.grounded && chart.states[runner.state].traits.aims_in_space;
    return !runner.carried && runner.by_distance == 0 && !around.crushed && around.barrier_count == 0 &&
           !may_take_off;
}

/// By how much the path leaves the line at most, m, where its velocity changes by `change` in dt seconds. A change that is even
/// leaves it by 1/8 of change times time. Of those that only slow down, as steering in the air does, or a turn on the ground
/// that is quicker in braking than in speeding up, the worst is even for two thirds of the time and over then: (2/3)^3 / 2. Of
/// any other, the worst comes at once in the middle: 1/4.
double bend_of(const Instant& instant, bool turned, const glm::dvec3& change, double dt) {
    constexpr double even = 1.0 / 8.0, slowing = 4.0 / 27.0, any = 1.0 / 4.0;
    if (!turned) {
        return even * dt * length_of(change);
    }
    const CompiledState& state = instant.chart.states[instant.runner.state];
    if (state.traits.thrown && !instant.runner.around.grounded) {
        return dt * length_of(glm::dvec3(slowing * change.x, slowing * change.y, even * change.z));
    }
    const CompiledGain& gain = state.gain;
    if (gain.turns_at_once && !instant.runner.idle) {
        return 0.0;  // along its new direction from the start
    }
    const bool slows = gain.law == GainLaw::ease
                           ? gain.down.value <= gain.up.value
                           : gain.law != GainLaw::curve && gain.down.value >= gain.up.value;
    return (slows ? slowing : any) * dt * length_of(change);
}

}  // namespace

bool go_straight(Instant& instant, const Terrain& terrain, double dt) {
    RunnerState& runner = instant.runner;
    if (!moves_plainly(instant.chart, runner)) {
        return false;
    }
    const Motion before(runner);
    const glm::dvec3 from = runner.position, velocity = runner.velocity;
    const double clock = runner.clock;
    const Dirty dirty = instant.dirty;
    const std::uint16_t events = instant.report.event_count;
    const std::uint32_t lost = instant.report.events_lost;
    const auto give_up = [&] {
        before.put_back(runner);
        instant.dirty = dirty;
        instant.report.event_count = events;
        instant.report.events_lost = lost;
        return false;
    };
    const bool turned = dirty.any(dirty::wanted | dirty::aim);
    if (!follow_turn(instant, dt)) {
        return give_up();
    }
    const double bend = bend_of(instant, turned, runner.velocity - velocity, dt);
    const glm::dvec3 motion = runner.position - from, last = runner.velocity;
    if (goes_through_open(instant.chart, runner, terrain, from, motion, bend)) {
        return true;
    }
    if (bend > straight_error) {
        return give_up();
    }
    const Motion after(runner);
    before.put_back(runner);
    Traveller traveller(instant, terrain, clock + double{runner.lag}, dt, Questions::but_open);
    glm::dvec3 place(0.0);
    Surroundings around;
    if (!traveller.crosses(motion, last, dt, place, around)) {
        return give_up();
    }
    after.put_back(runner);
    runner.position = place;
    runner.around = around;
    return true;
}

}  // namespace cursimeter::detail
