#include <catch2/catch.hpp>
#include <cursimeter/foresee.hpp>
#include <limits>
#include <random>

#include "support/counting_new.hpp"
#include "support/modifiers.hpp"
#include "support/worlds.hpp"

using namespace support;

namespace {

/// Run up to a steady speed.
Runner running(const Chart& chart, const Intent& hands, double seconds = 3.0) {
    Runner runner = spawn(chart);
    for (double passed = 0.0; passed < seconds; passed += 0.05) {
        static_cast<void>(advance(chart, runner, hands, Seconds{0.05}));
    }
    return runner;
}

Intent forward_at(double stick) {
    Intent hands;
    hands.move = {stick, 0.0};
    return hands;
}

}  // namespace

TEST_CASE("foreseen: the braking distance is v^2 / 2a, the time v / a") {
    const Chart chart = compile(bearer(ramp(12.0, 16.0, 10.0)));
    const Runner runner = running(chart, forward_at(1.0));
    REQUIRE(runner.speed() == 2.4);
    const Foreseen stop = foresee_stop(chart, runner);
    CHECK(stop.happens);
    CHECK(stop.seconds == Approx(0.24).margin(2e-5));
    CHECK(stop.metres == Approx(0.288).margin(1e-6));
    CHECK(stop.at.x - runner.position().x == Approx(0.288).margin(1e-6));
    CHECK(foresee_stop(chart, spawn(chart)).seconds == 0.0);  // it stands already
}

TEST_CASE("foreseen: speeding up, and a speed that is never reached") {
    const Chart chart = compile(bearer(ramp(12.0, 16.0, 10.0)));
    const Runner runner = spawn(chart);
    const Foreseen half = foresee_speed(chart, runner, forward_at(1.0), 1.2),
                   whole = foresee_speed(chart, runner, forward_at(1.0), 2.4);
    CHECK(half.seconds == Approx(0.1).margin(2e-5));
    CHECK(half.metres == Approx(0.06).margin(3e-5));
    CHECK(whole.happens);
    CHECK(whole.seconds == Approx(0.2).margin(2e-5));
    const Foreseen never = foresee_speed(chart, runner, forward_at(1.0), 2.5, nullptr, Seconds{2.0});
    CHECK_FALSE(never.happens);
    CHECK(never.seconds == Approx(2.0));
    CHECK(never.metres == Approx(0.24 + 1.8 * 2.4));
    // A press counts from now on, and the hands are the caller's as before.
    const std::array<Change, 2> changes{Change::press(chart.action("sprint"), 0.01),
                                        Change::move_to({1.0, 0.0}, 0.02)};
    Intent hands;
    hands.changes = changes;
    CHECK(foresee_speed(chart, runner, hands, 6.5).happens);
    CHECK(hands.changes.size() == 2);
}

TEST_CASE("foreseen: an ease comes to a stand too, and any length of time is answered") {
    const Chart chart = compile(bearer(ease(0.1, 0.1, 0.1)));
    const Runner runner = running(chart, forward_at(1.0));
    const Foreseen stop = foresee_stop(chart, runner);
    CHECK(stop.happens);
    // v / ln 2 half-lives of way.
    CHECK(stop.metres == Approx(2.4 * 0.1 / 0.6931471805599453).margin(1e-3));
    const auto never = [](const Runner& /*then*/) { return false; };
    const double not_a_number = std::numeric_limits<double>::quiet_NaN();
    for (const double at_most : {0.0, -1.0, not_a_number}) {
        CHECK(foresee(chart, runner, forward_at(1.0), nullptr, never, Seconds{at_most}).seconds == 0.0);
    }
    CHECK(foresee(chart, runner, forward_at(1.0), nullptr, never, Seconds{1e300}).seconds == Approx(3600.0));
    CHECK(foresee(chart, runner, forward_at(not_a_number), nullptr, never, Seconds{1.0}).metres >= 0.0);
}

TEST_CASE("foreseen: in a world the way ends at a wall, and nothing is allocated") {
    const Chart chart = compile(bearer(ramp(12.0, 16.0, 1.0)));
    CourseSpec spec = floor_only();
    const Runner runner = running(chart, forward_at(1.0));
    const double wall = runner.position().x + 1.0;
    spec.boxes.push_back({{wall, -5.0, -1.0}, {wall + 1.0, 5.0, 3.0}, Degrees{0.0}});
    const Course course(spec);
    const CourseTerrain terrain(course, chart);
    const std::size_t before = allocations();
    const Foreseen stop = foresee_stop(chart, runner, &terrain), open = foresee_stop(chart, runner);
    CHECK(allocations() == before);
    CHECK(stop.at.x == Approx(wall - chart.body(runner.state()).radius).margin(5e-3));
    CHECK(open.metres == Approx(2.88).margin(1e-5));
}

TEST_CASE("foreseen: what is foreseen is what comes, at any moment of any run") {
    const Chart chart = compile(leaper());
    std::mt19937 random(9);
    Runner runner = spawn(chart);
    for (int i = 0; i < 400; ++i) {
        Intent hands;
        hands.move = {static_cast<double>(random() % 3) - 1.0, static_cast<double>(random() % 3) - 1.0};
        hands.held = random() % 4 == 0 ? key_bit(chart.action("jump")) : 0;
        static_cast<void>(advance(chart, runner, hands, Seconds{0.03}));
        const Foreseen stop = foresee_stop(chart, runner);
        REQUIRE(stop.happens);
        Runner then = runner;
        Intent idle;
        for (double left = stop.seconds; left > 0.0; left -= 0.1) {
            static_cast<void>(advance(chart, then, idle, Seconds{std::min(left, 0.1)}));
        }
        CAPTURE(i, stop.seconds);
        CHECK(then.speed() == Approx(0.0).margin(1e-3));
        CHECK(then.distance() - runner.distance() == Approx(stop.metres).margin(1e-5));
    }
}

TEST_CASE("speeds: the chart's, the top with what changes it, the target with the stick") {
    ChartSpec spec = bearer(ramp(12.0, 16.0, 10.0));
    spec.modifiers.push_back(modifier("broth", 5.0, 1.5));
    const Chart chart = compile(spec);
    Runner runner = running(chart, forward_at(0.5));
    SpeedReading speeds = read_speed(chart, runner);
    CHECK(speeds.base == 2.4);
    CHECK(speeds.top == 2.4);
    CHECK(speeds.target == Approx(1.2));
    static_cast<void>(grant(chart, runner, chart.modifier("broth")));
    static_cast<void>(advance(chart, runner, forward_at(0.5), Seconds{1.0 / 60.0}));
    speeds = read_speed(chart, runner);
    CHECK(speeds.base == 2.4);
    CHECK(speeds.top == Approx(3.6));
    CHECK(speeds.target == Approx(1.8));
    CHECK(read_speed(chart, running(chart, forward_at(-1.0))).base == 1.6);
    // Standing, it tells what full stick ahead would come to.
    speeds = read_speed(chart, running(chart, {}));
    CHECK(speeds.base == 2.4);
    CHECK(speeds.top == 2.4);
    CHECK(speeds.target == 0.0);
}
