#pragma once

#include <array>
#include <cstdint>
#include <cursimeter/detail/bits.hpp>
#include <cursimeter/ids.hpp>
#include <glm/vec2.hpp>
#include <glm/vec3.hpp>

/// The layout of Runner. It is visible because a Runner is a value; reach it through Runner's
/// functions, since members come and go between versions.
namespace cursimeter::detail {

// One bit for each thing of a chart.
using ActionMask = std::uint32_t;
using StateMask = std::uint64_t;
using MeterMask = std::uint16_t;
using TimerMask = std::uint64_t;
static_assert(limits::actions <= 32 && limits::states <= 64 && limits::meters <= 16 && limits::timers <= 64);

using FixedFacts = Bits<3>;    ///< src/core/chart/facts.hpp says which bit is what
using LastingFacts = Bits<2>;  ///< those of them that outlast an instant
using DerivedFacts = Bits<limits::derived_facts / 64>;

/// What is true about a runner. `fixed` has one layout for all charts; `derived` holds the comparisons and latches that
/// the chart's own terms read.
struct Facts {
    FixedFacts fixed;
    DerivedFacts derived;
    friend bool operator==(const Facts&, const Facts&) = default;
};

/// The law of motion between two instants.
enum class SegmentKind : std::uint8_t { steady, ramp, ease };

/// Whether the speed rises or falls along the segment.
enum class Trend : std::uint8_t { constant, rising, falling };

/// What a segment's end brings.
enum class SegmentEnd : std::uint8_t {
    replan,   ///< another segment
    arrival,  ///< the target, exactly
    landing,  ///< the open ground
};

struct MeterState {
    double level = 0.0;  ///< at RunnerState::metered_at; it flows from there without being written
    double rate = 0.0;   ///< per second; negative while draining. A drain by the metre comes on top
};

/// A direction in six bytes, to about 2e-5 rad; exact along the axes.
struct PackedNormal {
    std::int16_t x = 0, y = 0, z = 0;
    friend bool operator==(const PackedNormal&, const PackedNormal&) = default;
};

/// What the world is like around the runner. Directions are kept as floats: they say which way, and
/// whatever they are off by is mended by the next sweep.
struct Surroundings {
    glm::vec2 gradient{0.0F};  ///< of the ground underfoot: rise per metre along x and y
    std::uint8_t barrier_count = 0;
    std::uint8_t zones = 0;  ///< bit per zone of the chart
    bool grounded : 1 = true;
    bool headroom : 1 = true;   ///< the full body fits here
    bool by_wall : 1 = false;   ///< a wall is at hand
    bool cornered : 1 = false;  ///< three things are in the way: no motion until another is wanted
    bool crushed : 1 = false;   ///< solids leave it no room
    std::array<PackedNormal, 2> barriers{};  ///< normals of what it is leaning against
    glm::vec3 wall_normal{0.0F};             ///< of the wall at hand; 0 without one
    glm::vec3 wind{0.0F};                    ///< m/s, of the zones around
    float pace = 1.0F;                       ///< speed factor of the zones around
    std::uint32_t ground = 0, beside = 0;    ///< surfaces underfoot and at hand
};

/// A time on the runner's clock in seven bytes (see src/core/runner/timers.hpp).
struct Stamp {
    std::array<std::uint8_t, 7> bytes{};
    friend bool operator==(const Stamp&, const Stamp&) = default;
};

/// Where a modifier is in its life.
enum class ModifierPhase : std::uint8_t {
    rising,   ///< fading in, or gaining stacks
    holding,  ///< at full strength
    falling,  ///< fading out, or losing stacks
    over,     ///< removed since the last tick, whose report will tell of it: changes nothing any more
};

/// One modifier at work, of one granter; of all of them where the stacking is `refresh`.
struct ModifierState {
    std::uint8_t modifier = 0;
    std::uint8_t source = 0;
    std::uint8_t strength = 0;    ///< percent; 0: this place is free
    std::uint8_t stacks : 4 = 0;  ///< 0 while it waits for the first of `build`
    ModifierPhase phase : 2 = ModifierPhase::rising;
    bool timed : 1 = false;   ///< `stamp` ends the phase, or the next stack's wait
    bool untold : 1 = false;  ///< no report has told of it yet
    Stamp stamp;
};

/// Who keeps a modifier at work whose stacking is `refresh`.
struct Holder {
    std::uint8_t modifier = 0;
    std::uint8_t source = 0;
    std::uint8_t strength = 0;  ///< percent; 0: this place is free
};

constexpr std::array<double, limits::meters> every_scale(double factor) {
    std::array<double, limits::meters> scales{};
    scales.fill(factor);
    return scales;
}

struct alignas(128) RunnerState {
    // Written by every tick: one cache line.
    double clock = 0.0;
    glm::dvec3 position{0.0};
    double distance = 0.0;
    glm::dvec3 velocity{0.0};  ///< its own; pushes, platforms and wind carry it besides

    // Read by every tick: another. Lines come from memory in pairs.
    double next_due = 0.0;                       ///< the earlier of segment_due and condition_due
    double speed = 0.0;                          ///< of its own velocity
    double move_forward = 0.0, move_side = 0.0;  ///< as last given, unmended
    double look_yaw = 0.0, look_pitch = 0.0;     ///< as last given, unmended
    std::uint32_t chart_tag = 0;
    ActionMask held = 0;
    SegmentKind segment : 2 = SegmentKind::steady;
    Trend trend : 2 = Trend::constant;
    bool straight : 1 = true;   ///< the segment's velocity keeps its line
    bool carried : 1 = false;   ///< a push or wind moves it besides its own velocity
    bool in_world : 1 = false;  ///< a terrain, or the game, says what is around; otherwise open ground
    bool rooted : 1 = false;    ///< a block bans all movement
    std::uint8_t state = 0;
    std::uint8_t meter_count : 4 = 0;
    bool faces_movement : 1 = false;  ///< every direction is ahead
    bool idle : 1 = true;             ///< no move wanted
    SegmentEnd segment_end : 2 = SegmentEnd::replan;
    bool due_on_segment : 1 =
        true;  ///< false: condition_due is the same on any segment; true also where that is not known
    MeterMask by_distance = 0;        ///< bit per meter that is draining by the metre
    std::uint8_t modifier_count = 0;  ///< at work: those of `modifiers` from this one on are free

    // While the speed changes one more line is read, and while the look turns a fourth, up to the first of `around`.
    glm::dvec3 acceleration{0.0};  ///< of a ramp segment
    double segment_due = 0.0;      ///< end of the segment
    double condition_due = 0.0;    ///< something that a condition may read changes
    glm::dvec2 facing{1.0, 0.0};
    glm::dvec2 wanted{0.0};  ///< velocity aimed for, ahead and to the right of the facing, m/s
    DerivedFacts watched;    ///< derived facts that condition_due was found for
    Surroundings around;

    // Read or written at most instants: four lines more.
    DerivedFacts derived;  ///< Facts::derived, as last gathered
    LastingFacts lasting;  ///< of Facts::fixed, as last gathered
    std::uint64_t momentary =
        0;  ///< presses and releases at the last tick's end, which are worked at the next start
    StateMask lately_left = 0;  ///< states that may not come back by themselves yet
    TimerMask ticking = 0;
    double state_since = 0.0;
    double metered_at = 0.0;  ///< clock at which the meters' levels were written
    std::array<MeterState, limits::meters> meters{};
    std::array<std::uint8_t, limits::meters>
        above{};                  ///< of each meter's marks, how many its level is at or above
    ActionMask on = 0;            ///< bans apart
    ActionMask held_by_game = 0;  ///< on whatever the keys say
    ActionMask toggles = 0;
    std::uint64_t used = 0;  ///< four bits per cooldown: charges that have not come back
    MeterMask flowing = 0;   ///< those whose level is changing
    MeterMask draining = 0;
    MeterMask spent = 0;
    MeterMask levels_moved = 0;  ///< the game has changed their level, which no report has told of yet
    std::uint8_t moving = 0;     ///< what the move wanted now says: the facts from fact::moving on
    std::uint8_t jumps = 0;      ///< launches since the ground was left
    std::uint8_t locks : 2 = 0;  ///< bit per push that takes control away
    bool cut : 1 = false;        ///< the jump's key was released while rising
    bool struck : 1 = false;     ///< a push has begun that no report has told of yet
    bool stale : 1 = true;       ///< facts must be gathered before time goes on
    bool undoing : 1 = false;    ///< it was told that states undo each other's conditions
    float lag = 0.0F;            ///< s, up to instant_width: the last tick ended so much after `clock`
    double floor = 0.0;          ///< m; height of the open ground
    double stride = 0.0;         ///< phase of the stride at distance 0, 0 to 1
    std::array<glm::vec2, limits::pushes> fading{};  ///< m/s^2 by which each push, level, fades
    std::array<Stamp, limits::timers> timers{};

    // Read where a chart or a game has use for them.
    std::array<ModifierState, limits::modifiers> modifiers{};  ///< sorted, free places last
    std::array<std::uint8_t, limits::blocks> blocks{};         ///< how often each is in force
    std::uint32_t lately_switched = 0;  ///< bit per modifier that its condition may not switch by itself yet
    double switched_at = 0.0;           ///< clock at which a condition last switched a modifier
    double landed_at = -1.0;            ///< clock at which the ground was last reached
    double scaled_until = 0.0;  ///< clock until which the factors by which meters scale one another are kept
    std::array<double, limits::meters> scales = every_scale(1.0);
    std::array<Holder, limits::holders> holders{};  ///< sorted, free places last
    std::uint32_t last_wall = 0;  ///< surface that may not be run along again before landing; 0: none
};

struct RunnerAccess;

}  // namespace cursimeter::detail
