#include <catch2/catch.hpp>
#include <cmath>
#include <limits>

#include "core/runner/plausible.hpp"
#include "support/bearer.hpp"

using namespace support;

TEST_CASE("a runner from outside with a number that no tick can bear is refused, whichever it is") {
    const Chart chart = compile(bearer());
    const Runner fresh = spawn(chart);
    REQUIRE(detail::plausible(chart.data(), detail::RunnerAccess::state(fresh)));
    using State = detail::RunnerState;
    const std::vector<void (*)(State&, double)> fields{
        [](State& state, double value) { state.position.y = value; },
        [](State& state, double value) { state.velocity.x = value; },
        [](State& state, double value) { state.acceleration.z = value; },
        [](State& state, double value) { state.speed = value; },
        [](State& state, double value) { state.distance = value; },
        [](State& state, double value) { state.stride = value; },
        [](State& state, double value) { state.floor = value; },
        [](State& state, double value) { state.move_side = value; },
        [](State& state, double value) { state.look_pitch = value; },
        [](State& state, double value) { state.wanted.x = value; },
        [](State& state, double value) { state.meters[0].rate = value; },
        [](State& state, double value) { state.scales[0] = value; },
        [](State& state, double value) { state.fading[1].x = static_cast<float>(value); },
        [](State& state, double value) { state.around.wind.z = static_cast<float>(value); },
        [](State& state, double value) { state.around.pace = static_cast<float>(value); },
        [](State& state, double value) { state.around.gradient.y = static_cast<float>(value); },
        [](State& state, double value) { state.around.wall_normal.x = static_cast<float>(value); },
    };
    const double infinite = std::numeric_limits<double>::infinity();
    for (std::size_t i = 0; i < fields.size(); ++i) {
        for (const double value : std::vector<double>{infinite, -infinite, std::nan(""), 1e30, -1e30}) {
            CAPTURE(i, value);
            Runner runner = fresh;
            fields[i](detail::RunnerAccess::state(runner), value);
            CHECK_FALSE(detail::plausible(chart.data(), detail::RunnerAccess::state(runner)));
        }
    }
}
