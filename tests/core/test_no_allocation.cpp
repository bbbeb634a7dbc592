#include <catch2/catch.hpp>

#include "support/bearer.hpp"
#include "support/counting_new.hpp"

using namespace support;

TEST_CASE("advance allocates nothing, over 100,000 ticks of every kind") {
    ChartSpec spec = bearer(ease(0.1, 0.2, 0.3));
    spec.states[1].drain_per_metre = {{"stamina", 0.3}};
    spec.states[1].gain = curve({{0.0, 0.0}, {0.5, 1.0}}, {{0.0, 1.0}, {0.2, 0.0}});
    const Chart chart = compile(spec);
    const ActionId sprint = chart.action("sprint");
    Runner runner = spawn(chart);
    IntentBuilder input;
    std::size_t events = 0;
    const std::size_t before = allocations();
    for (int i = 0; i < 100000; ++i) {
        if (i % 37 == 0) {
            input.press(sprint, 0.003);
        }
        if (i % 37 == 20) {
            input.release(sprint, 0.004);
        }
        input.look_to({.yaw = 0.001 * i, .pitch = 0.0}, 0.001);
        input.move_to({.forward = i % 100 < 80 ? 1.0 : 0.0, .side = 0.001 * (i % 300)}, 0.002);
        const Report report = advance(chart, runner, input.intent(), Seconds{1.0 / 60.0});
        events += report.event_count;
        input.next_tick();
    }
    const std::size_t after = allocations();
    CHECK(after == before);
    CHECK(events > 5000);
    // The counter itself works.
    void* probe = ::operator new(3);  // a plain call, which no compiler may leave out
    CHECK(allocations() == after + 1);
    ::operator delete(probe);
}
