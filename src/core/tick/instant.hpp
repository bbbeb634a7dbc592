#pragma once

#include <cursimeter/intent.hpp>
#include <cursimeter/report.hpp>

#include "core/chart/chart_data.hpp"
#include "core/effects/meters.hpp"

/// What happens at an instant: inputs are taken in, facts are gathered, a state is chosen, and what
/// holds from now on is planned.
namespace cursimeter::detail {

struct ChoiceWatch;

/// The instant being worked on.
struct Instant {
    const ChartData& chart;
    RunnerState& runner;
    Report& report;
    double at = 0.0;                  ///< s after the tick's start
    std::uint64_t momentary = 0;      ///< keys pressed and released at this very instant
    std::uint64_t expired = 0;        ///< presses whose buffer is over, as bits of `momentary`
    bool facts_changed = false;       ///< facts may differ from those last gathered
    bool wanted_changed = false;      ///< the wanted velocity must be computed anew
    bool turned = false;              ///< the wanted velocity must be turned into the world anew
    bool levels_changed = false;      ///< a meter's level made a jump
    bool rates_changed = false;       ///< a meter's refill may begin
    bool modifiers_changed = false;   ///< a modifier came, went or changed its strength
    glm::dvec3 ground_velocity{0.0};  ///< m/s, of the moving ground underfoot
    After after_burst = After::keep;
    const ChoiceWatch* watch = nullptr;  ///< see watch.hpp

    void emit(EventKind kind, std::uint8_t subject, double value = 0.0, Cause cause = {});
    /// For the functions of meters.hpp.
    void emit(MeterEvent event);
};

/// Takes a key's press or release in. One that the runner knows already changes nothing.
void take_key(Instant& instant, std::uint8_t action, bool down);
void take_change(Instant& instant, const Change& change);
/// Takes the start of a tick in: whatever differs from what the runner remembers.
void take_start(Instant& instant, const Intent& intent);

/// The facts about meters, which change only where a mark is reached: levels compared, latches.
[[nodiscard]] std::uint64_t meter_facts(const ChartData& chart, const RunnerState& runner);
/// Presses that wait for a state that they can bring about, as bits of Facts::fixed.
[[nodiscard]] std::uint64_t buffered_presses(const ChartData& chart, const RunnerState& runner);
/// The derived facts that could bring a change about if they changed now: those of clauses whose other terms hold, as
/// far as these can only change at an instant. Whatever else crosses a mark meanwhile is noted at the next instant.
[[nodiscard]] std::uint64_t watched_facts(const ChartData& chart, const RunnerState& runner);
/// All facts, those about meters given.
[[nodiscard]] Facts gather(const ChartData& chart, const RunnerState& runner, std::uint64_t momentary,
                           std::uint64_t meter_bits);

/// Meters on their marks, a state chosen (as often as states lead on to one another, each entered
/// once at most), and everything planned anew.
void settle_instant(Instant& instant);

/// Stands still: the rest of a tick is given up where contacts leave no time between them.
void give_up_motion(Instant& instant);

/// Lets dt seconds pass at once if the wanted velocity has changed, no fact has, and none will in them.
/// Returns false if time must be let pass step by step.
bool follow_turn(Instant& instant, double dt);

/// Comes down on the open ground if the leg that has just ended leads there.
void finish_leg(Instant& instant);

/// Plans the leg anew where no fact has changed: a turn of the look or the stick, or a leg's end.
void continue_leg(Instant& instant);

}  // namespace cursimeter::detail
