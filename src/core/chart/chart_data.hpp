#pragma once

#include <array>
#include <cstdint>
#include <cursimeter/chart_spec.hpp>
#include <cursimeter/detail/runner_state.hpp>
#include <limits>
#include <optional>
#include <string>
#include <vector>

#include "core/chart/conditions.hpp"
#include "core/chart/traits.hpp"

/// A compiled chart: what `advance` reads. Plain data, written once by compile.
namespace cursimeter::detail {

inline constexpr double never = std::numeric_limits<double>::infinity();
inline constexpr std::uint8_t no_threshold = 0xff;

/// What a bit of Facts::derived stands for.
enum class Quantity : std::uint8_t { meter, speed, time, rise, latch, ready, possible, active };

/// A comparison or latch that has a bit of its own in Facts::derived. "above" means value >= from.
struct DerivedFact {
    Quantity quantity = Quantity::meter;
    std::uint8_t index = 0;
    double from = 0.0;
    double level = 0.0;  ///< as the chart says it
    friend bool operator==(const DerivedFact&, const DerivedFact&) = default;
};

/// A stretch of a gain curve: constant acceleration while the speed is within these fractions of the
/// full speed.
struct CurvePiece {
    double from_fraction = 0.0;
    double to_fraction = 0.0;
    double slope = 0.0;  ///< fraction per second, positive
    friend bool operator==(const CurvePiece&, const CurvePiece&) = default;
};

/// A gain law's numbers for one case (speeding up, slowing down, no move wanted).
struct GainRate {
    double value = 0.0;             ///< m/s^2 of a ramp, s of an ease
    double inverse = 0.0;           ///< 1 / value
    double factor = 1.0;            ///< of modifiers, for curves
    std::uint16_t first_piece = 0;  ///< of a curve
    std::uint16_t piece_count = 0;
    friend bool operator==(const GainRate&, const GainRate&) = default;
};

struct CompiledGain {
    GainLaw law = GainLaw::instant;
    bool turns_at_once = false;  ///< the law changes the speed alone; so does velocity at once
    GainRate up, down, idle;
    friend bool operator==(const CompiledGain&, const CompiledGain&) = default;
};

struct Drain {
    double per_second = 0.0;
    double per_metre = 0.0;
    friend bool operator==(const Drain&, const Drain&) = default;
};

inline constexpr std::uint8_t no_action = 0xff;
inline constexpr std::uint8_t no_modifier = 0xff;
inline constexpr std::uint8_t no_cooldown = 0xff;

struct CompiledAir {
    double rise_gravity = 0.0, fall_gravity = 0.0;  ///< m/s^2
    double terminal = 0.0;                          ///< m/s
    double steer = 0.0, brake = 0.0;                ///< m/s^2
    friend bool operator==(const CompiledAir&, const CompiledAir&) = default;
};

struct CompiledLaunch {
    std::array<double, limits::jumps> speeds{};  ///< m/s upward at take-off
    std::uint8_t count = 0;                      ///< 0: the state does not launch
    double cut_gravity = 0.0;  ///< m/s^2 while rising, once the key was released; 0: not cut
    std::uint8_t by = no_action;
    bool off_wall = false;
    double away_sine = 1.0, away_cosine = 0.0;
    std::optional<double> away_speed;  ///< m/s
    friend bool operator==(const CompiledLaunch&, const CompiledLaunch&) = default;
};

struct CompiledSlide {
    double boost = 0.0, boost_limit = 0.0, top = 0.0;  ///< m/s
    double friction = 0.0;                             ///< m/s^2
    double pull = 0.0;                                 ///< m/s^2; gravity that counts along slopes
    friend bool operator==(const CompiledSlide&, const CompiledSlide&) = default;
};

struct CompiledBurst {
    std::array<Along, 5> along{};
    std::uint8_t along_count = 0;
    double speed = 0.0;    ///< m/s
    double seconds = 0.0;  ///< s
    double gravity = 0.0;  ///< m/s^2
    friend bool operator==(const CompiledBurst&, const CompiledBurst&) = default;
};

struct CompiledFly {
    bool by_look = true;
    std::uint8_t up = no_action, down = no_action;
    double climb = 0.0, dive = 0.0, sink = 0.0;  ///< m/s
    friend bool operator==(const CompiledFly&, const CompiledFly&) = default;
};

inline constexpr double usual_wall_reach = 0.3;  ///< m between body and wall, where a chart says no other

struct CompiledWall {
    double reach = 0.0;        ///< m
    double least_speed = 0.0;  ///< m/s
    double most_sine = 0.0;    ///< of the angle between velocity and wall
    double seconds = 0.0;      ///< s
    double climb = 0.0;        ///< m/s
    double gravity = 0.0;      ///< m/s^2
    double growth = 0.0;       ///< m/s^3
    friend bool operator==(const CompiledWall&, const CompiledWall&) = default;
};

struct CompiledState {
    CompiledCondition enter, stay;
    Range attempts;  ///< what is tried, in order, from this state
    Range watchings;
    Range calm_attempts, calm_watchings;  ///< the same where no press is there that any state asks for
    StateMask from = 0;                   ///< from which it may be entered
    StateKind kind = StateKind::ground;
    bool low = false;
    bool again = false;
    std::uint8_t cooldown = no_cooldown;
    std::string name, was;
    double forward = 0.0, side = 0.0, back = 0.0;  ///< m/s
    double wind = 0.0;
    double strides_per_metre = 0.0;  ///< of two steps each; 0: no footsteps
    double slope_up = 1.0, slope_down = 1.0;
    Traits traits;
    CompiledAir air;
    CompiledLaunch launch;
    CompiledSlide slide;
    CompiledBurst burst;
    CompiledFly fly;
    CompiledWall wall;
    std::array<double, limits::meters> costs{};
    DerivedBit possible_bit;  ///< "possible"
    CompiledGain gain;
    bool follows_turns = false;                  ///< as `follow_target` does
    bool arcs_on_ramp = false;                   ///< turns along an arc, under the ramp law
    std::array<Drain, limits::meters> drains{};  ///< by meter
    MeterMask drained = 0;                       ///< those with a drain
    DerivedBit drain_gate;                       ///< "fast enough to drain"; none: always
    friend bool operator==(const CompiledState&, const CompiledState&) = default;
};

/// Levels that count as equal: this part of the capacity (about 1e-12).
inline constexpr double meter_quantum = 0x1p-40;

/// Levels of a meter at which something changes. A level that rests below `from` is below the mark, any other at or above
/// it; one that passes the mark does so at `level`, and from then on counts as on the side that it came to.
struct Mark {
    double level = 0.0;  ///< as the chart says it
    double from = 0.0;
    DerivedBit bit;  ///< the fact "above"
    bool bottom = false, top = false, latch = false, release = false;
    std::uint8_t threshold = no_threshold;  ///< index of the threshold that lies here

    /// Whether reaching it is told of, or closes or opens a latch, whoever reads it.
    [[nodiscard]] bool is_told() const {
        return bottom || top || latch || release || threshold != no_threshold;
    }
    friend bool operator==(const Mark&, const Mark&) = default;
};

/// Factors by how full another meter is.
struct Scale {
    std::uint8_t by = 0;
    std::vector<double> at, factors;
    friend bool operator==(const Scale&, const Scale&) = default;
};

struct CompiledMeter {
    std::string name, was;
    double capacity = 0.0, start = 0.0;
    double refill_rate = 0.0, refill_wait = 0.0;
    StateMask refill_in = ~StateMask{0};  ///< in which it refills
    CompiledCondition refill_when;
    std::vector<Scale> refill_scale, drain_scale;
    std::vector<LevelSpec> thresholds;
    std::uint8_t grants = no_modifier;  ///< when it is spent
    std::optional<SpentSpec> spent;
    DerivedBit spent_bit;
    std::vector<Mark> marks;  ///< ascending
    friend bool operator==(const CompiledMeter&, const CompiledMeter&) = default;
};

/// A speed that some condition or drain reads.
struct SpeedMark {
    double value = 0.0;    ///< m/s; above means speed >= value
    std::uint8_t bit = 0;  ///< of Facts::derived
    friend bool operator==(const SpeedMark&, const SpeedMark&) = default;
};

/// A time in the state that some condition reads.
struct TimeMark {
    double seconds = 0.0;  ///< the fact holds from here on
    std::uint8_t bit = 0;  ///< of Facts::derived
    friend bool operator==(const TimeMark&, const TimeMark&) = default;
};

/// A vertical speed that some condition reads.
struct RiseMark {
    double value = 0.0;    ///< m/s upward; above means rise >= value
    std::uint8_t bit = 0;  ///< of Facts::derived
    friend bool operator==(const RiseMark&, const RiseMark&) = default;
};

inline constexpr std::uint8_t no_buffer = 0xff;

struct CompiledAction {
    std::string name, was;
    PressMode press = PressMode::hold;
    double buffer = 0.0;                   ///< s
    std::uint8_t buffer_slot = no_buffer;  ///< among the chart's buffers
    friend bool operator==(const CompiledAction&, const CompiledAction&) = default;
};

struct CompiledCooldown {
    std::string name, was;
    double seconds = 0.0;
    std::uint8_t charges = 1;
    bool together = false;            ///< charges come back all at once
    bool from_end = false;            ///< it begins when the state is left
    std::uint8_t also = no_cooldown;  ///< another that begins with it
    DerivedBit ready_bit;
    friend bool operator==(const CompiledCooldown&, const CompiledCooldown&) = default;
};

/// What a modifier can change. Meters and cooldowns have one place each from their first on.
namespace measure {
inline constexpr unsigned speed = 0;
inline constexpr unsigned gain = 1;
inline constexpr unsigned jump = 2;
inline constexpr unsigned gravity = 3;
inline constexpr unsigned steer = 4;
inline constexpr unsigned burst = 5;
inline constexpr unsigned turn = 6;
inline constexpr unsigned drain_first = 7;
inline constexpr unsigned refill_first = drain_first + limits::meters;
inline constexpr unsigned cooldown_first = refill_first + limits::meters;
inline constexpr unsigned count = cooldown_first + limits::cooldowns;
static_assert(count <= 64, "a mask has a bit for each");
}  // namespace measure

/// The granter of modifiers that a chart's conditions bring about.
inline constexpr std::uint8_t chart_source = 0xff;
/// The granter of modifiers that a spent meter or an ended modifier brings about.
inline constexpr std::uint8_t meter_source = 0xfe;

struct Effect {
    std::uint8_t measure = 0;
    double adds = 0.0;
    double times = 1.0;
    std::optional<double> sets;
    double least = -never, most = never;
    friend bool operator==(const Effect&, const Effect&) = default;
};

struct CompiledModifier {
    std::string name, was;
    Stacking stacking = Stacking::refresh;
    double seconds = 0.0;  ///< 0: until removed
    double fade_in = 0.0, fade_out = 0.0;
    double first = 0.0;              ///< s until the first stack
    double build = 0.0, shed = 0.0;  ///< s per stack; 0: all at once
    std::uint8_t most = 1;           ///< stacks
    bool conditional = false;
    CompiledCondition holds_while;
    std::uint8_t then = no_modifier;
    std::uint64_t measures = 0;  ///< bit per measure that it changes
    DerivedBit active_bit;
    std::vector<Effect> effects;
    friend bool operator==(const CompiledModifier&, const CompiledModifier&) = default;
};

struct CompiledBlock {
    std::string name, was;
    ActionMask actions = 0;
    StateMask states = 0;
    bool movement = false;
    Resume resume = Resume::press;
    friend bool operator==(const CompiledBlock&, const CompiledBlock&) = default;
};

struct CompiledBody {
    double radius = 0.35, height = 1.8, low_height = 1.08;  ///< m
    double step_height = 0.35;                              ///< m
    double limit_cosine = 0.0, limit_sine = 0.0;            ///< of the slope limit
    double stick_speed = 0.0;                               ///< m/s
    double gravity = 0.0;                                   ///< m/s^2
    double coyote = 0.0;                                    ///< s
    friend bool operator==(const CompiledBody&, const CompiledBody&) = default;
};

struct ChartData {
    std::string name;
    std::uint64_t digest = 0;
    std::uint32_t tag = 0;     ///< short form of the digest that runners carry
    std::uint32_t naming = 0;  ///< digest of the names of everything that has an id, in order; never 0
    double forward_cosine = 0.5;
    DerivedFacts meter_bits;  ///< derived facts about meters
    ActionMask toggles = 0;
    std::uint8_t buffered_count = 0;
    double wall_reach = 0.0;    ///< m; how far off walls are looked for, 0: nothing needs to know of them
    double edge_gravity = 0.0;  ///< m/s^2; the strongest that may pull what has left an edge
    CompiledBody body;
    std::vector<std::uint8_t> rank;
    std::vector<CompiledState> states;
    std::vector<CompiledAction> actions;
    std::vector<CompiledMeter> meters;
    std::vector<CompiledCooldown> cooldowns;
    std::vector<CompiledModifier> modifiers;
    std::vector<CompiledBlock> blocks;
    bool has_strides = false;
    bool has_scales = false;  ///< a meter that another one scales
    bool has_refill_conditions = false;
    bool has_conditional = false;  ///< a modifier that holds while a condition does
    std::vector<std::string> zones;
    std::vector<std::uint8_t> needy;                       ///< states whose "possible" something reads
    std::array<std::uint8_t, limits::buffers> buffered{};  ///< action of each buffer
    std::vector<Term> terms;
    std::vector<Clause> clauses;
    std::vector<Attempt> attempts;    ///< of each state in turn, in rank order
    std::vector<Watching> watchings;  ///< of each state in turn
    std::uint64_t asked_presses = 0;  ///< presses that some state asks for (fact::press_bit)
    std::vector<CurvePiece> pieces;
    std::vector<SpeedMark> speed_marks;
    std::vector<TimeMark> time_marks;
    std::vector<RiseMark> rise_marks;
    DerivedFacts crossing_bits;              ///< about speeds, levels and times, which change by themselves
    DerivedFacts sudden_bits;                ///< that change at instants only: latches, cooldowns, modifiers
    DerivedFacts always_watched;             ///< that modifiers and refills read, in any state
    std::vector<DerivedFact> derived_facts;  ///< by bit; for those who explain, not for the tick
    friend bool operator==(const ChartData&, const ChartData&) = default;
};

/// The short form of a chart's digest.
[[nodiscard]] constexpr std::uint32_t tag_of(std::uint64_t digest) {
    return static_cast<std::uint32_t>(digest ^ (digest >> 32U));
}

/// What a clause asks of facts that change at instants only.
[[nodiscard]] inline Pattern sudden_part(const ChartData& chart, const Pattern& clause) {
    return {{clause.care.fixed, clause.care.derived & chart.sudden_bits},
            {clause.want.fixed, clause.want.derived & chart.sudden_bits}};
}

/// The first clause that holds: its index, or -1 if none does. For a condition without clauses, which
/// always holds, `always_holds`.
[[nodiscard]] inline int holding_clause(const ChartData& chart, const CompiledCondition& condition,
                                        const Facts& facts) {
    if (condition.clause_count == 0) {
        return always_holds;
    }
    for (int i = 0; i < condition.clause_count; ++i) {
        const int clause = condition.first_clause + i;
        if (chart.clauses[static_cast<std::size_t>(clause)].holds(facts)) {
            return clause;
        }
    }
    return -1;
}

/// The one way from the public value to its inside.
struct RunnerAccess {
    template <class R>
    static auto& state(R& runner) {
        return runner.state_;
    }
};

}  // namespace cursimeter::detail
