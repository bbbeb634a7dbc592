#include "core/tick/open_ground.hpp"

#include "core/motion/footsteps.hpp"
#include "core/runner/timers.hpp"
#include "core/tick/turning.hpp"

namespace cursimeter::detail {
namespace {

/// What only ticks with instants read: up to the waits.
inline void expect_rest(const RunnerState& runner) {
    constexpr std::uintptr_t from = offsetof(RunnerState, derived) / cache_line;
    expect<offsetof(RunnerState, timers) / cache_line - from + 1>(reinterpret_cast<std::uintptr_t>(&runner) +
                                                                  from * cache_line);
}

}  // namespace

void advance_busily(const ChartData& chart, RunnerState& runner, const Intent& intent, bool turned,
                    Report& report, const ChoiceWatch* watch) {
    expect_rest(runner);
    const glm::dvec3 before = runner.position;
    advance_busy(chart, runner, intent, {}, report.seconds, report, watch, turned);
    report.displacement = runner.position - before;
}

void glide_on(const ChartData& chart, RunnerState& runner, Report& report) {
    const glm::dvec3 before = runner.position;
    if (chart.has_strides) {
        const StepsFrom start(chart, runner);
        glide(chart, runner, report.seconds);
        tell_steps(chart, runner, report, start, start.clock);
    } else {
        glide(chart, runner, report.seconds);
    }
    report.displacement = runner.position - before;
}

Went advance_turning(const ChartData& chart, RunnerState& runner, const Intent& intent, Report& report,
                     const ChoiceWatch* watch, Turn turn) {
    if (turn == Turn::on_way) {
        const glm::dvec3 before = runner.position;
        if (follow_target(chart, runner, report.seconds)) {
            report.displacement = runner.position - before;
            return Went::otherwise;
        }
    } else if (turn == Turn::unheeded && reach_of_tick(runner, report.seconds) < runner.next_due) {
        glide_on(chart, runner, report);
        return glides_plainly(runner) && !chart.has_strides ? Went::looking : Went::otherwise;
    }
    advance_busily(chart, runner, intent, true, report, watch);
    return Went::otherwise;
}

void advance_unquietly(const ChartData& chart, RunnerState& runner, const Intent& intent, Seconds dt,
                       Report& report, const ChoiceWatch* watch) {
    if (!begin_tick(chart, runner, intent, dt, report)) [[unlikely]] {
        return;
    }
    if (runner.in_world) [[unlikely]] {
        change_world(runner, true);
    }
    advance_busily(chart, runner, intent, false, report, watch);
}

void advance_in_world(const ChartData& data, RunnerState& state, const Intent& intent, const Terrain& terrain,
                      Seconds dt, Report& report, const ChoiceWatch* watch) {
    if (!begin_tick(data, state, intent, dt, report)) {
        return;
    }
    if (!state.in_world) {
        change_world(state, false);
    }
    const glm::dvec3 before = state.position;
    advance_busy(data, state, intent, {&terrain, {}}, report.seconds, report, watch);
    report.displacement = state.position - before;
}

}  // namespace cursimeter::detail
