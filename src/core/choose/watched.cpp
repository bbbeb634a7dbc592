#include "core/choose/watched.hpp"

#include "core/chart/facts.hpp"
#include "core/runner/timers.hpp"

namespace cursimeter::detail {

std::uint64_t buffered_presses(const ChartData& chart, const RunnerState& runner) {
    std::uint64_t bits = 0;
    for (unsigned i = 0; i < chart.buffered_count; ++i) {
        if (ticks(runner, timer::buffer_first + i)) {
            bits |= fact::bit(fact::pressed_first + chart.buffered[i]);
        }
    }
    return bits;
}

std::uint64_t watched_facts(const ChartData& chart, const RunnerState& runner) {
    const CompiledState& state = chart.states[runner.state];
    std::uint64_t bits = chart.always_watched;
    if (state.drain_gate) {
        bits |= fact::bit(*state.drain_gate);
    }
    if (state.watching_count == 0) {
        return bits;
    }
    const std::uint64_t fixed = fact::fixed_of(runner.lasting) | buffered_presses(chart, runner);
    const Watching* const end = chart.watchings.data() + state.first_watching + state.watching_count;
    for (const Watching* watching = end - state.watching_count; watching != end; ++watching) {
        const std::uint64_t differs = ((fixed ^ watching->want.fixed) & watching->care.fixed) |
                                      ((runner.derived ^ watching->want.derived) & watching->care.derived);
        bits |= differs == 0 ? watching->crossed : 0;
    }
    return bits;
}

}  // namespace cursimeter::detail
