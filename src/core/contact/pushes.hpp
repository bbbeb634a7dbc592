#pragma once

#include <cursimeter/runner.hpp>

#include "core/runner/timers.hpp"

/// What moves a runner besides its own velocity: pushes that fade, and the wind of zones.
namespace cursimeter::detail {

/// Seconds until a push has faded, 0 if none acts in this place.
[[nodiscard]] double push_left(const RunnerState& runner, std::size_t push);
/// Whether a push acts.
[[nodiscard]] inline bool is_pushed(const RunnerState& runner) {
    constexpr TimerMask pushes = (TimerMask{1} << limits::pushes) - 1;
    return (runner.ticking >> timer::push_first & pushes) != 0;
}
/// How far pushes and wind carry the runner in dt seconds, m. No push may end meanwhile.
[[nodiscard]] glm::dvec3 carried_by(const ChartData& chart, const RunnerState& runner, double dt);
/// The velocity with which pushes and wind carry it now, m/s.
[[nodiscard]] glm::dvec3 carrying_velocity(const ChartData& chart, const RunnerState& runner);
/// Takes from all pushes what of them points against a surface.
void stop_pushes_against(RunnerState& runner, const glm::dvec3& normal);
/// Adds a push that begins with `velocity` and fades evenly to nothing.
void add_push(RunnerState& runner, const glm::dvec2& velocity, double seconds, bool locks);
/// Whether a push's values are numbers in range.
[[nodiscard]] bool is_push(const Push& push);
/// What `push` does, its values being in range. Returns whether it did anything.
bool apply_push(RunnerState& runner, const Push& push);
void end_push(RunnerState& runner, std::size_t push);
/// Notes whether anything carries the runner.
inline void refresh_carried(const ChartData& chart, RunnerState& runner) {
    runner.carried = is_pushed(runner) ||
                     (runner.around.wind != glm::vec3(0.0F) && chart.states[runner.state].wind != 0.0);
}
/// Part of the zones' wind that carries the present state.
[[nodiscard]] glm::dvec3 wind_on(const ChartData& chart, const RunnerState& runner);

}  // namespace cursimeter::detail
