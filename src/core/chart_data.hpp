#pragma once

#include <array>
#include <cstdint>
#include <cursimeter/chart_spec.hpp>
#include <cursimeter/detail/runner_state.hpp>
#include <limits>
#include <optional>
#include <string>
#include <vector>

/// A compiled chart: what `advance` reads. Plain data, written once by compile.
namespace cursimeter::detail {

inline constexpr double never = std::numeric_limits<double>::infinity();
inline constexpr std::uint8_t no_mark = 0xff;

/// One term of a condition: a fact that must be set, or must not.
struct Term {
    bool derived = false;  ///< in which word of Facts
    std::uint8_t bit = 0;
    bool negated = false;
    std::string text;
    std::string path;

    [[nodiscard]] bool holds(const Facts& facts) const {
        const std::uint64_t word = derived ? facts.derived : facts.fixed;
        return ((word >> bit & 1U) != 0) != negated;
    }
};

/// All terms of a clause at once: (facts & care) == want.
struct Clause {
    Facts care, want;
    std::uint16_t first_term = 0;
    std::uint16_t term_count = 0;

    [[nodiscard]] bool holds(const Facts& facts) const {
        return (((facts.fixed ^ want.fixed) & care.fixed) |
                ((facts.derived ^ want.derived) & care.derived)) == 0;
    }
};

/// Any of these clauses; none at all means always.
struct CompiledCondition {
    std::uint16_t first_clause = 0;
    std::uint16_t clause_count = 0;
};

/// A stretch of a gain curve: constant acceleration while the speed is within these fractions of the
/// full speed.
struct CurvePiece {
    double from_fraction = 0.0;
    double to_fraction = 0.0;
    double slope = 0.0;  ///< fraction per second, positive
};

/// A gain law's numbers for one case (speeding up, slowing down, no move wanted).
struct GainRate {
    double value = 0.0;             ///< m/s^2 of a ramp, s of an ease
    double inverse = 0.0;           ///< 1 / value
    std::uint16_t first_piece = 0;  ///< of a curve
    std::uint16_t piece_count = 0;
};

struct CompiledGain {
    GainLaw law = GainLaw::instant;
    GainRate up, down, idle;
};

struct Drain {
    double per_second = 0.0;
    double per_metre = 0.0;
};

struct CompiledState {
    std::string name;
    double forward = 0.0, side = 0.0, back = 0.0;  ///< m/s
    CompiledGain gain;
    CompiledCondition enter, stay;
    std::uint32_t from = 0;                      ///< bit per state from which it may be entered
    std::array<Drain, limits::meters> drains{};  ///< by meter
    std::uint8_t drained = 0;                    ///< bit per meter with a drain
    std::optional<std::uint8_t> drain_gate;      ///< derived bit "fast enough to drain"; none: always
};

/// Levels of a meter at which something changes. A level below `from` counts as below the mark, any
/// other as above; on the way down the meter stops at `below`, the nearest level that counts as below.
struct Mark {
    double level = 0.0;  ///< as the chart says it
    double from = 0.0;
    double below = 0.0;
    std::uint64_t derived_bit = 0;  ///< mask of the fact "above", 0 if no term reads it
    bool bottom = false, top = false, latch = false, release = false;
};

struct CompiledMeter {
    std::string name;
    double capacity = 0.0, start = 0.0;
    double refill_rate = 0.0, refill_wait = 0.0;
    std::optional<SpentSpec> spent;
    std::uint64_t spent_bit = 0;  ///< mask in Facts::derived, 0 if no term reads it
    std::vector<Mark> marks;      ///< ascending
};

/// A speed that some condition or drain reads.
struct SpeedMark {
    double value = 0.0;  ///< m/s; above means speed >= value
    std::uint64_t derived_bit = 0;
};

/// A time in the state that some condition reads.
struct TimeMark {
    double seconds = 0.0;  ///< the fact holds from here on
    std::uint64_t derived_bit = 0;
};

struct CompiledAction {
    std::string name;
    PressMode press = PressMode::hold;
};

struct ChartData {
    std::string name;
    std::uint64_t digest = 0;
    std::uint32_t tag = 0;  ///< short form of the digest that runners carry
    double forward_cosine = 0.5;
    std::uint64_t meter_bits = 0;  ///< derived facts about meters
    std::uint16_t toggles = 0;
    std::vector<std::uint8_t> rank;
    std::vector<CompiledState> states;
    std::vector<CompiledAction> actions;
    std::vector<CompiledMeter> meters;
    std::vector<Term> terms;
    std::vector<Clause> clauses;
    std::vector<CurvePiece> pieces;
    std::vector<SpeedMark> speed_marks;
    std::vector<TimeMark> time_marks;
};

/// The one way from the public value to its inside.
struct RunnerAccess {
    template <class R>
    static auto& state(R& runner) {
        return runner.state_;
    }
};

}  // namespace cursimeter::detail
