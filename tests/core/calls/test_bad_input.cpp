#include <catch2/catch.hpp>
#include <limits>

#include "support/bearer.hpp"

using namespace support;

namespace {

const double undefined = std::numeric_limits<double>::quiet_NaN();
const double infinity = std::numeric_limits<double>::infinity();

Runner moving_runner(const Chart& chart) {
    Runner runner = spawn(chart);
    pass(chart, runner, {1.0, 0.0}, 1.0);
    return runner;
}

bool valid(const Runner& runner) {
    const glm::dvec3 p = runner.position(), v = runner.velocity();
    for (const double value :
         {p.x, p.y, p.z, v.x, v.y, v.z, runner.speed(), runner.distance(), runner.yaw()}) {
        if (!std::isfinite(value)) {
            return false;
        }
    }
    return true;
}

}  // namespace

TEST_CASE("an undefined move counts as none and is reported, the runner stays valid") {
    const Chart chart = compile(bearer(ramp(12.0, 16.0, 10.0)));
    for (const Move move :
         {Move{undefined, 0.0}, Move{0.0, undefined}, Move{infinity, 0.0}, Move{-infinity, infinity}}) {
        Runner runner = moving_runner(chart);
        Runner idle = runner;
        CHECK(tick(chart, runner, move).intent_mended);
        static_cast<void>(tick(chart, idle, {}));
        CHECK(valid(runner));
        CHECK(digest(runner) == digest(idle));
    }
}

TEST_CASE("an over-long move is full stick, and not a mistake") {
    const Chart chart = compile(bearer());
    Runner runner = spawn(chart), full = runner;
    CHECK_FALSE(tick(chart, runner, {1e300, 0.0}).intent_mended);
    static_cast<void>(tick(chart, full, {1.0, 0.0}));
    CHECK(runner.velocity() == full.velocity());
}

TEST_CASE("an undefined or absurd look leaves the last one and is reported") {
    const Chart chart = compile(bearer());
    for (const double yaw : {undefined, infinity, -infinity, 1e300, 2e6}) {
        Runner runner = moving_runner(chart);
        CHECK(tick(chart, runner, {1.0, 0.0}, {}, 0.01, yaw).intent_mended);
        CHECK(runner.yaw() == 0.0);
        CHECK(valid(runner));
    }
}

TEST_CASE("dt of 0 takes the intent in and lets no time pass") {
    const Chart chart = compile(bearer());
    Runner runner = spawn(chart);
    const Report report = tick(chart, runner, {1.0, 0.0}, {chart.action("sprint")}, 0.0);
    CHECK(report.refusal == Refusal::none);
    CHECK(report.seconds == 0.0);
    CHECK(report.displacement == glm::dvec3(0.0));
    CHECK(chart.name(runner.state()) == "sprint");
    CHECK(runner.clock().value == 0.0);
    CHECK(runner.velocity().x == 6.5);
}

TEST_CASE("a negative or undefined dt is refused and changes nothing") {
    const Chart chart = compile(bearer());
    for (const double dt : {-1.0, -1e-300, undefined, -infinity}) {
        Runner runner = moving_runner(chart);
        const std::uint64_t before = digest(runner);
        const Report report = tick(chart, runner, {0.0, 1.0}, {chart.action("sprint")}, dt);
        CHECK(report.refusal == Refusal::bad_dt);
        CHECK(report.seconds == 0.0);
        CHECK(report.events().empty());
        CHECK(digest(runner) == before);
    }
}

TEST_CASE("a dt above the longest tick simulates just that and says so") {
    const Chart chart = compile(bearer());
    for (const double dt : {0.1000001, 5.0, infinity}) {
        Runner runner = spawn(chart);
        const Report report = tick(chart, runner, {1.0, 0.0}, {}, dt);
        CHECK(report.dt_shortened);
        CHECK(report.seconds == longest_tick.value);
        CHECK(near(runner.position().x, 0.24, 1e-15));
    }
    Runner runner = spawn(chart);
    CHECK_FALSE(tick(chart, runner, {}, {}, 0.1).dt_shortened);
}

TEST_CASE("very short ticks add up like long ones") {
    const Chart chart = compile(bearer(ramp(12.0, 16.0, 10.0)));
    Runner runner = spawn(chart), coarse = runner;
    for (int i = 0; i < 10000; ++i) {
        static_cast<void>(tick(chart, runner, {1.0, 0.0}, {}, 1e-5));
    }
    static_cast<void>(tick(chart, coarse, {1.0, 0.0}, {}, 0.1));
    CHECK(near(runner.position().x, coarse.position().x, 1e-12));
    static_cast<void>(tick(chart, runner, {1.0, 0.0}, {}, 1e-300));
    CHECK(valid(runner));
}

TEST_CASE("changes outside the tick are moved into it, unknown ones left out, each reported") {
    const Chart chart = compile(bearer());
    const ActionId sprint = chart.action("sprint");
    const auto mended = [&](std::vector<Change> changes) {
        Runner runner = spawn(chart);
        Intent intent;
        intent.move = {1.0, 0.0};
        intent.changes = changes;
        const Report report = advance(chart, runner, intent, Seconds{0.02});
        CHECK(valid(runner));
        CHECK(near(runner.clock().value, 0.02, 1e-15));
        return report.intent_mended;
    };
    CHECK_FALSE(mended({Change::press(sprint, 0.0), Change::release(sprint, 0.02)}));
    CHECK(mended({Change::press(sprint, -0.01)}));
    CHECK(mended({Change::press(sprint, 0.03)}));
    CHECK(mended({Change::press(sprint, undefined)}));
    CHECK(mended({Change::press(sprint, 0.01), Change::release(sprint, 0.005)}));
    CHECK(mended({Change::press(ActionId{9}, 0.01)}));
    CHECK(mended({Change::press(ActionId{200}, 0.01)}));
    CHECK(mended({Change::move_to({undefined, 0.0}, 0.01)}));
    CHECK(mended({Change::look_to({0.0, undefined}, 0.01)}));
    Change odd = Change::press(sprint, 0.0);
    odd.kind = static_cast<ChangeKind>(77);
    CHECK(mended({odd}));
}

TEST_CASE("keys that the chart does not have are ignored and reported") {
    const Chart chart = compile(bearer());
    Runner runner = spawn(chart);
    Intent intent;
    intent.held = 0xffff'fffe;
    CHECK(advance(chart, runner, intent, Seconds{0.01}).intent_mended);
    CHECK_FALSE(runner.on(ActionId{5}));
    CHECK_FALSE(runner.on(ActionId{77}));
    Intent none;
    none.hold(ActionId{40});
    CHECK(none.held == 0);
    IntentBuilder input;
    input.press(ActionId{40});
    input.next_tick();
    CHECK(input.intent().held == 0);
}

TEST_CASE("more changes than a tick can be cut at: the rest is taken in at once, and said") {
    const Chart chart = compile(bearer());
    const ActionId sprint = chart.action("sprint");
    std::vector<Change> changes;
    for (int i = 0; i < 1000; ++i) {
        const double at = 0.1 * i / 1000.0;
        changes.push_back(i % 2 == 0 ? Change::press(sprint, at) : Change::release(sprint, at));
    }
    Runner runner = spawn(chart);
    Intent intent;
    intent.move = {1.0, 0.0};
    intent.changes = changes;
    const Report report = advance(chart, runner, intent, Seconds{0.1});
    CHECK(report.instants_capped);
    CHECK(report.instants <= limits::instants_per_tick + 1);
    CHECK(report.events_lost > 0);
    CHECK(report.event_count == limits::events_per_report);
    CHECK(near(runner.clock().value, 0.1, 1e-15));
    CHECK_FALSE(runner.on(sprint));
    // The next tick goes on as usual.
    CHECK_FALSE(tick(chart, runner, {1.0, 0.0}).instants_capped);
    CHECK(chart.name(runner.state()) == "walk");
    CHECK(valid(runner));
}

TEST_CASE("a runner of another chart is refused") {
    const Chart chart = compile(bearer());
    ChartSpec other = bearer();
    other.states[0].speed.forward = 2.5;
    Runner runner = spawn(compile(other));
    const std::uint64_t before = digest(runner);
    CHECK(tick(chart, runner, {1.0, 0.0}).refusal == Refusal::foreign_chart);
    CHECK(digest(runner) == before);
}

TEST_CASE("an undefined placement is refused") {
    const Chart chart = compile(bearer());
    CHECK(complaint([&] {
              static_cast<void>(spawn(chart, {{undefined, 0.0, 0.0}, 0.0}));
          }) == "placement: is not finite; give a position in m and a yaw in rad");
    CHECK(complaint([&] {
              static_cast<void>(spawn(chart, {{0.0, 0.0, 0.0}, infinity}));
          }) != "(no complaint)");
}
