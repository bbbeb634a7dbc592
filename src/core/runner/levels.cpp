#include "core/runner/levels.hpp"

#include <algorithm>

namespace cursimeter::detail {

void lose_by_distance(const ChartData& chart, RunnerState& runner, double travelled) {
    write_levels(chart, runner);
    for (std::size_t i = 0; i < runner.meter_count; ++i) {
        if ((runner.by_distance >> i & 1U) != 0) {
            const double lost = chart.states[runner.state].drains[i].per_metre * travelled;
            runner.meters[i].level = std::max(0.0, runner.meters[i].level - lost);
        }
    }
}

double level_beside_marks(const CompiledMeter& meter, double level) {
    const double rounding = 0.5 * meter_quantum * meter.capacity;
    for (const Mark& mark : meter.marks) {
        if (level >= mark.level - rounding && level <= mark.level + rounding) {
            return mark.level;
        }
    }
    return std::clamp(level, 0.0, meter.capacity);
}

std::uint8_t marks_at_or_below(const CompiledMeter& meter, double level) {
    std::uint8_t count = 0;
    while (count < meter.marks.size() && meter.marks[count].from <= level) {
        ++count;
    }
    return count;
}

void catch_up_levels(const ChartData& chart, RunnerState& runner) {
    write_levels(chart, runner);
    for (std::size_t i = 0; i < runner.meter_count; ++i) {
        const std::vector<Mark>& marks = chart.meters[i].marks;
        const double level = runner.meters[i].level;
        std::uint8_t& above = runner.above[i];
        const bool rises = runner.meters[i].rate > 0.0;
        while (rises && above < marks.size() && marks[above].level < level) {
            ++above;
        }
        while (!rises && above > 0 && marks[above - 1U].level > level) {
            --above;
        }
    }
}

}  // namespace cursimeter::detail
