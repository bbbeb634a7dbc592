#include <cursimeter/advance.hpp>
#include <cursimeter/rehearsal/rehearsal.hpp>

namespace cursimeter::rehearsal {

OnCourse::OnCourse(const Course& course, const std::vector<Chart>& charts, double tick_rate)
    : dt_(1.0 / tick_rate) {
    for (const Chart& chart : charts) {
        seen_.push_back({chart.digest(), CourseTerrain(course, chart)});
    }
}

Report OnCourse::advance_runner(const Chart& chart, Runner& runner, const Intent& intent,
                                const link::AdvanceContext& context) noexcept {
    Seen* seen = &seen_.front();
    for (Seen& one : seen_) {
        seen = one.chart == chart.digest() ? &one : seen;
    }
    seen->terrain.set_time((context.tick.value - 1) * dt_);
    return advance(chart, runner, intent, seen->terrain, context.dt);
}

}  // namespace cursimeter::rehearsal
