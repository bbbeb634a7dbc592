#include "core/want/blocks.hpp"

#include "core/runner/timers.hpp"
#include "core/runner/wake.hpp"

namespace cursimeter::detail {
namespace {

/// Facts and the wanted movement are taken anew at the next tick's start.
void refresh(const ChartData& chart, RunnerState& runner) {
    runner.rooted = bans_of(chart, runner).movement;
    wake(runner);
}

}  // namespace

Bans bans_in_force(const ChartData& chart, const RunnerState& runner) {
    Bans bans;
    for (std::size_t i = 0; i < chart.blocks.size(); ++i) {
        if (runner.blocks[i] != 0) {
            bans.actions |= chart.blocks[i].actions;
            bans.states |= chart.blocks[i].states;
            bans.movement = bans.movement || chart.blocks[i].movement;
        }
    }
    return bans;
}

int block_against(const ChartData& chart, const RunnerState& runner, const Bans& what) {
    for (std::size_t i = 0; i < chart.blocks.size(); ++i) {
        const CompiledBlock& block = chart.blocks[i];
        if (runner.blocks[i] != 0 &&
            ((block.actions & what.actions) != 0 || (block.states & what.states) != 0 ||
             (block.movement && what.movement))) {
            return static_cast<int>(i);
        }
    }
    return -1;
}

bool forgets_press(const ChartData& chart, const RunnerState& runner, std::uint8_t action) {
    for (std::size_t i = 0; i < chart.blocks.size(); ++i) {
        if (runner.blocks[i] != 0 && chart.blocks[i].resume == Resume::press &&
            (chart.blocks[i].actions >> action & 1U) != 0) {
            return true;
        }
    }
    return false;
}

int begin_block(const ChartData& chart, RunnerState& runner, std::uint8_t block) {
    const CompiledBlock& compiled = chart.blocks[block];
    std::uint8_t& count = runner.blocks[block];
    if (count == 255) {
        return -1;
    }
    ++count;
    if (compiled.resume == Resume::press) {
        runner.on &= ~compiled.actions;
    }
    for (unsigned i = 0; i < chart.buffered_count; ++i) {
        if ((compiled.actions >> chart.buffered[i] & 1U) != 0) {
            stop_timer(runner, timer::buffer_first + i);
        }
    }
    refresh(chart, runner);
    return count;
}

int end_block(const ChartData& chart, RunnerState& runner, std::uint8_t block) {
    std::uint8_t& count = runner.blocks[block];
    if (count == 0) {
        return -1;
    }
    --count;
    refresh(chart, runner);
    return count;
}

}  // namespace cursimeter::detail
