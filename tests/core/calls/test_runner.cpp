#include <catch2/catch.hpp>
#include <cmath>
#include <cstring>
#include <type_traits>

#include "support/bearer.hpp"

using namespace support;

TEST_CASE("a runner is a small value that may be copied as bytes") {
    STATIC_REQUIRE(std::is_trivially_copyable_v<Runner>);
    STATIC_REQUIRE(sizeof(Runner) == 1280);  // as docs/embedding.md says
    const Chart chart = compile(bearer(ramp(12.0, 16.0, 10.0)));
    Runner runner = spawn(chart);
    pass(chart, runner, {1.0, 0.2}, 0.31, 0.01, {chart.action("sprint")});
    alignas(Runner) unsigned char bytes[sizeof(Runner)];
    std::memcpy(bytes, &runner, sizeof(Runner));
    Runner restored = spawn(chart);
    std::memcpy(&restored, bytes, sizeof(Runner));
    CHECK(digest(restored) == digest(runner));
    pass(chart, runner, {0.5, 0.2}, 1.0);
    pass(chart, restored, {0.5, 0.2}, 1.0);
    CHECK(digest(restored) == digest(runner));
}

TEST_CASE("spawning places the runner and nothing else") {
    const Chart chart = compile(bearer());
    const Runner runner = spawn(chart, {{1.0, -2.0, 3.0}, 1.5});
    CHECK(runner.position() == glm::dvec3(1.0, -2.0, 3.0));
    CHECK(runner.yaw() == 1.5);
    CHECK(runner.velocity() == glm::dvec3(0.0));
    CHECK(runner.clock().value == 0.0);
    CHECK(runner.time_in_state().value == 0.0);
    CHECK(runner.distance() == 0.0);
}

TEST_CASE("a runner that is placed elsewhere is at rest there, and as tired as it was") {
    const Chart chart = compile(bearer(ramp(12.0, 16.0, 10.0)));
    Runner runner = spawn(chart);
    pass(chart, runner, {1.0, 0.0}, 5.0, 0.01, {chart.action("sprint")});
    Push push;
    push.strength = 5.0;
    push.seconds = 2.0;
    CHECK(cursimeter::push(runner, push));
    const double level = read_meter(chart, runner, MeterId{0}).level;
    const double distance = runner.distance();
    place(chart, runner, {{-7.0, 2.0, 1.5}, 0.5});
    CHECK(runner.position() == glm::dvec3(-7.0, 2.0, 1.5));
    CHECK(runner.velocity() == glm::dvec3(0.0));
    CHECK(carrying_velocity(chart, runner) == glm::dvec3(0.0));
    CHECK(runner.yaw() == 0.5);
    CHECK(read_meter(chart, runner, MeterId{0}).level == level);
    CHECK(runner.distance() == distance);
    // From there it goes on by the chart: a second at 2.4 m/s less the ramp's 0.24 m, at the height it was put.
    Intent intent;
    intent.move = {1.0, 0.0};
    for (int i = 0; i < 100; ++i) {
        static_cast<void>(advance(chart, runner, intent, Seconds{0.01}));
    }
    CHECK(runner.position().x == Approx(-7.0 + 2.16).margin(1e-9));
    CHECK(runner.position().z == 1.5);
    const std::uint64_t before = digest(runner);
    CHECK_THROWS_AS(place(chart, runner, {{std::nan(""), 0.0, 0.0}, 0.0}), ChartError);
    CHECK(digest(runner) == before);
}

TEST_CASE("the digest sees every difference that matters") {
    const Chart chart = compile(bearer());
    const Runner base = spawn(chart);
    CHECK(digest(base) == digest(spawn(chart)));
    Runner moved = spawn(chart, {{1e-12, 0.0, 0.0}, 0.0});
    CHECK(digest(moved) != digest(base));
    Runner other_mode = base;
    set_press_mode(other_mode, ActionId{0}, PressMode::toggle);
    CHECK(digest(other_mode) != digest(base));
    Runner later = base;
    static_cast<void>(tick(chart, later, {}, {}, 1e-9));
    CHECK(digest(later) != digest(base));
    CHECK(digest(spawn(chart, {{-0.0, 0.0, 0.0}, 0.0})) == digest(base));  // zero is zero
}

TEST_CASE("reports tell displacement and time") {
    const Chart chart = compile(bearer());
    Runner runner = spawn(chart);
    const Report report = tick(chart, runner, {0.0, -1.0}, {}, 0.05);
    CHECK(report.seconds == 0.05);
    CHECK(report.displacement == runner.position());
    CHECK(near(report.displacement.y, 0.105, 1e-15));
    CHECK(report.refusal == Refusal::none);
}

TEST_CASE("a tick without an instant reports none") {
    const Chart chart = compile(bearer(ramp(12.0, 16.0, 10.0)));
    Runner runner = spawn(chart);
    CHECK(tick(chart, runner, {1.0, 0.0}).instants >= 1);
    CHECK(tick(chart, runner, {1.0, 0.0}).instants == 0);
}

TEST_CASE("the self-test passes here, and names what is wrong elsewhere") {
    const NumericHealth health = numeric_self_test();
    CHECK(health.rounding_ok);
    CHECK(health.contraction_ok);
    CHECK(health.denormals_ok);
    CHECK(health.digest_ok);
    CHECK(health.text() == "numeric self-test passed");
    NumericHealth sick = health;
    sick.denormals_ok = false;
    CHECK_FALSE(sick.ok());
    CHECK(
        sick.text() ==
        "numeric self-test failed: denormals are flushed to zero (was the program linked with -ffast-math?)");
}

TEST_CASE("a report's copy holds its events, and nothing of the room for more") {
    const Chart chart = compile(bearer());
    Runner runner = spawn(chart);
    const Report told = tick(chart, runner, {1.0, 0.0}, {chart.action("sprint")});
    REQUIRE(told.event_count > 0);
    Report copy;
    copy.event_table[told.event_count].value = 47.0;
    copy = told;
    REQUIRE(copy.event_count == told.event_count);
    for (std::size_t i = 0; i < told.event_count; ++i) {
        CHECK(copy.events()[i].kind == told.events()[i].kind);
        CHECK(copy.events()[i].at == told.events()[i].at);
    }
    CHECK(copy.displacement == told.displacement);
    CHECK(copy.seconds == told.seconds);
    CHECK(copy.instants == told.instants);
    CHECK(copy.event_table[told.event_count].value == 47.0);  // not written
    const Report& same = copy;
    copy = same;
    CHECK(copy.event_count == told.event_count);
    const Report other(copy);
    CHECK(other.event_count == told.event_count);
}

TEST_CASE("waits tell how long coyote time, presses, refills and cooldowns go on") {
    ChartSpec spec = bearer(ramp(12.0, 16.0, 10.0));
    const Chart chart = compile(spec);
    Runner runner = spawn(chart);
    CHECK(read_waits(chart, runner) == Waits{});
    // Sprints for a second, then walks: the refill begins 0.7 s after the last drain.
    pass(chart, runner, {1.0, 0.0}, 1.0, 0.01, {chart.action("sprint")});
    CHECK(read_waits(chart, runner).refills[0] == 0.0);  // no wait while it drains
    pass(chart, runner, {1.0, 0.0}, 0.3);
    CHECK(read_waits(chart, runner).refills[0] == Approx(0.4).margin(1e-9));
    pass(chart, runner, {1.0, 0.0}, 0.5);
    CHECK(read_waits(chart, runner).refills[0] == 0.0);
}

TEST_CASE(
    "a situation has one digest whenever it comes about, and another if anything differs that goes on") {
    const Chart chart = compile(bearer(ramp(12.0, 16.0, 10.0)));
    const auto stand = [&](Runner& runner, double seconds) { pass(chart, runner, {0.0, 0.0}, seconds); };
    Runner early = spawn(chart), late = early;
    stand(early, 1.0);
    stand(late, 7.3);
    CHECK(digest(early) != digest(late));
    CHECK(situation_digest(chart, early) == situation_digest(chart, late));
    // The same keys from either: the same situations all along.
    for (int i = 0; i < 120; ++i) {
        const std::vector<ActionId> held =
            i < 90 ? std::vector<ActionId>{chart.action("sprint")} : std::vector<ActionId>{};
        pass(chart, early, {1.0, 0.0}, 1.0 / 64.0, 1.0 / 64.0, held);
        pass(chart, late, {1.0, 0.0}, 1.0 / 64.0, 1.0 / 64.0, held);
        CAPTURE(i);
        REQUIRE(situation_digest(chart, early) == situation_digest(chart, late));
    }
    // Something that differs: a place, a level, a wait, a look.
    const std::uint64_t before = situation_digest(chart, early);
    Runner other = early;
    place(chart, other, {early.position() + glm::dvec3(0.01, 0.0, 0.0), early.yaw()});
    CHECK(situation_digest(chart, other) != before);
    other = early;
    CHECK(try_spend(chart, other, chart.meter("stamina"), 5.0));
    CHECK(situation_digest(chart, other) != before);
    other = early;
    pass(chart, other, {1.0, 0.0}, 0.05);
    CHECK(situation_digest(chart, other) != before);
}
