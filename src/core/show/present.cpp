#include <algorithm>
#include <cmath>
#include <cursimeter/numbers/detmath.hpp>
#include <cursimeter/show/present.hpp>

#include "core/contact/surroundings.hpp"
#include "core/motion/aim.hpp"
#include "core/motion/footsteps.hpp"
#include "core/motion/segment.hpp"
#include "core/numbers/space.hpp"
#include "core/runner/pair.hpp"
#include "core/want/move_and_look.hpp"

namespace cursimeter {
namespace {

double usual_speed(const detail::ChartData& chart) {
    const auto usual = std::find_if(chart.rank.rbegin(), chart.rank.rend(), [&](std::uint8_t state) {
        return chart.states[state].traits.stands && chart.states[state].forward > 0.0;
    });
    return usual != chart.rank.rend() ? chart.states[*usual].forward : 0.0;
}

}  // namespace

Presentation present(const Chart& chart, const Runner& runner) {
    const detail::RunnerState& state = detail::paired(chart, runner, "present");
    const bool goes = state.faces_movement && detail::length_of(detail::flat(state.velocity)) > 0.01;
    const glm::dvec2 ahead = goes ? detail::flat(state.velocity) : state.facing;
    return present(chart, runner, detmath::arc_tangent(ahead.y, ahead.x));
}

Presentation present(const Chart& chart, const Runner& runner, double yaw) {
    const detail::ChartData& data = chart.data();
    const detail::RunnerState& state = detail::paired(chart, runner, "present");
    const detmath::SineCosine turned = detmath::sine_cosine(yaw);
    const glm::dvec2 ahead(turned.cosine, turned.sine), right(turned.sine, -turned.cosine);
    Presentation shown;
    const double usual = usual_speed(data);
    shown.pace = usual > 0.0 ? state.speed / usual : 0.0;
    const glm::dvec2 velocity = detail::flat(state.velocity);
    shown.heading = detmath::arc_tangent(-detail::inner(velocity, right), detail::inner(velocity, ahead));
    shown.rise = state.velocity.z;
    if (state.around.grounded) {
        const double rise = state.around.gradient.x * ahead.x + state.around.gradient.y * ahead.y;
        shown.slope = detmath::arc_tangent(rise, 1.0);
    }
    const glm::dvec2 gaining = detail::flat(detail::acceleration_now(data, state));
    shown.lean_forward = detail::inner(gaining, ahead);
    shown.lean_side = detail::inner(gaining, right);
    const detail::CompiledState& now = data.states[state.state];
    if (now.strides_per_metre > 0.0) {
        const double strides = detail::strides_at(state, now, state.distance);
        shown.stride = strides - std::floor(strides);
        shown.cadence = state.around.grounded ? 2.0 * now.strides_per_metre * state.speed : 0.0;
    }
    shown.time_in_state = runner.time_in_state();
    return shown;
}

}  // namespace cursimeter
