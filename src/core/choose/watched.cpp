#include "core/choose/watched.hpp"

#include "core/chart/facts.hpp"
#include "core/runner/timers.hpp"

namespace cursimeter::detail {

std::uint64_t waiting_presses(const ChartData& chart, const RunnerState& runner) {
    std::uint64_t presses = 0;
    for (unsigned i = 0; i < chart.buffered_count; ++i) {
        if (ticks(runner, timer::buffer_first + i)) {
            presses |= fact::press_bit(chart.buffered[i]);
        }
    }
    return presses;
}

DerivedFacts watched_facts(const ChartData& chart, const RunnerState& runner) {
    const CompiledState& state = chart.states[runner.state];
    DerivedFacts bits = chart.always_watched;
    if (state.drain_gate) {
        bits.set(*state.drain_gate);
    }
    if (state.watching_count == 0) {
        return bits;
    }
    const Facts facts{fact::fixed_of(runner.lasting, buffered_presses(chart, runner)), runner.derived};
    const Watching* const end = chart.watchings.data() + state.first_watching + state.watching_count;
    for (const Watching* watching = end - state.watching_count; watching != end; ++watching) {
        if (watching->holds(facts)) {
            bits |= watching->crossed;
        }
    }
    return bits;
}

}  // namespace cursimeter::detail
