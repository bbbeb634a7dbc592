#include <fmt/format.h>

#include <algorithm>
#include <catch2/catch.hpp>
#include <cmath>
#include <cursimeter/survey/why.hpp>
#include <cursimeter/tryout/over_network.hpp>
#include <cursimeter/tryout/tryout.hpp>
#include <cursimeter/tryout/yard.hpp>
#include <glm/geometric.hpp>

#include "support/bearer.hpp"
#include "tryout/demo.hpp"

using namespace support;
using tryout::Tryout;

namespace {

Tryout in_yard(const Chart& chart, const tryout::Yard& yard, const glm::dvec3& place, double yaw) {
    Tryout::Options options;
    options.start = {place, yaw};
    return {chart, Course(yard.course), options};
}

}  // namespace

TEST_CASE("a yard is a world in which a chart's ways of moving can be tried", "[tryout]") {
    const ChartFile file = demo_chart("bearer");
    const Chart& chart = file.chart;
    const tryout::Yard yard = tryout::make_yard(chart);
    CHECK(yard.course.zones.size() == chart.zones().size());

    SECTION("it stands on level ground") {
        Tryout play = in_yard(chart, yard, yard.start.position, 0.0);
        play.tick({});
        CHECK(play.runner().grounded());
        CHECK_FALSE(play.fell_out());
    }
    SECTION("a ramp of 20 degrees can be gone up to its deck, 2.5 m high") {
        Tryout play = in_yard(chart, yard, {10.0, 15.5, 0.0}, 0.0);
        for (int i = 0; i < 60 * 9; ++i) {
            play.tick(held_ahead(chart, {}));
        }
        CHECK(play.runner().position().z == Approx(2.5).margin(0.01));
    }
    SECTION("under the ceiling only the low body fits") {
        Tryout play = in_yard(chart, yard, {-16.0, -13.0, 0.0}, 0.0);
        for (int i = 0; i < 180; ++i) {
            play.tick(held_ahead(chart, {}));
        }
        CHECK(play.runner().position().x < -13.9);
        for (int i = 0; i < 300; ++i) {
            play.tick(held_ahead(chart, {"crouch"}));
        }
        CHECK(play.runner().position().x > -12.0);
        CHECK_FALSE(play.runner().headroom());
    }
    SECTION("walls can be run along") {
        Tryout play = in_yard(chart, yard, {2.0, -20.6, 0.0}, 0.0);
        bool ran = false;
        for (int i = 0; i < 180; ++i) {
            Intent intent = held_ahead(chart, {"sprint"}, 0.08);
            if (i > 60) {
                intent.hold(chart.action("jump"));
            }
            play.tick(intent);
            ran = ran || chart.name(play.runner().state()) == "wallrun";
        }
        CHECK(ran);
    }
    SECTION("who misses a gap lands below and finds the way up again") {
        Tryout play = in_yard(chart, yard, {37.0, 0.0, 0.0}, 0.0);
        for (int i = 0; i < 240; ++i) {
            play.tick(held_ahead(chart, {}));
        }
        CHECK(play.runner().position().z == Approx(-2.5).margin(0.01));
        CHECK_FALSE(play.fell_out());
    }
    SECTION("beyond its edge there is nothing") {
        Tryout play = in_yard(chart, yard, {-19.5, 0.0, 0.0}, 3.141592653589793);
        for (int i = 0; i < 300 && !play.fell_out(); ++i) {
            play.tick(held_ahead(chart, {}, 3.141592653589793));
        }
        CHECK(play.fell_out());
        play.respawn();
        CHECK_FALSE(play.fell_out());
    }
}

TEST_CASE("a yard has a pool for a chart that swims", "[tryout]") {
    ChartSpec spec = demo_chart("bearer").spec;
    StateSpec swim;
    swim.name = "swim";
    swim.kind = StateKind::fly;
    swim.speed.forward = 2.0;
    swim.fly.up = "jump";
    swim.fly.climb = 1.2;
    swim.fly.sink = 0.3;
    swim.enter = Condition{"in deep"};
    spec.states.push_back(swim);
    spec.rank.insert(spec.rank.begin(), "swim");
    spec.zones.insert(spec.zones.begin() + 1, "deep");
    const Chart chart = compile(spec);
    const tryout::Yard yard = tryout::make_yard(chart);
    REQUIRE(yard.course.zones.size() == 3);
    for (const ZoneSpec& zone : yard.course.zones) {
        CHECK((zone.to[2] < 0.0) == (zone.kind == "deep"));
    }
    const ZoneSpec& pool = yard.course.zones[1];
    const double south = -1.5707963267948966;
    Tryout play = in_yard(chart, yard, {0.5 * (pool.from[0] + pool.to[0]), -18.0, 0.0}, south);
    const auto pass = [&](double seconds, const Intent& intent) {
        for (int i = 0; i < static_cast<int>(60.0 * seconds); ++i) {
            play.tick(intent);
        }
        return chart.name(play.runner().state());
    };
    Intent in;
    in.move.forward = 1.0;
    in.look.yaw = south;
    CHECK(pass(6.0, in) == "swim");
    CHECK(play.runner().position().z < -1.0);
    Intent still;
    still.look = in.look;
    CHECK(pass(20.0, still) == "swim");  // sinks to the ground, and not through it
    CHECK(play.runner().position().z == Approx(-2.5).margin(0.02));
    Intent out = in;
    out.look.yaw = -south;
    pass(12.0, out);
    CHECK(play.runner().position().y > pool.to[1]);
    CHECK(play.runner().position().z == Approx(0.0).margin(0.01));
    CHECK(chart.name(play.runner().state()) == "walk");
}

TEST_CASE("yards of all demo charts can be walked in", "[tryout]") {
    for (const std::string name : {"bearer", "eel", "gannet", "keeper"}) {
        const ChartFile file = demo_chart(name);
        const tryout::Yard yard = tryout::make_yard(file.chart);
        Tryout play(file.chart, Course(yard.course), {});
        for (int i = 0; i < 60; ++i) {
            Intent intent;
            intent.move.forward = 1.0;
            play.tick(intent);
        }
        CHECK(play.runner().grounded());
        CHECK(play.runner().position().x > 1.0);
    }
}

TEST_CASE("the rank of a live runner names the term that fails, with what it compares", "[tryout]") {
    const ChartFile file = demo_chart("bearer");
    const Chart& chart = file.chart;
    Runner runner = spawn(chart);
    for (int i = 0; i < 600; ++i) {
        static_cast<void>(advance(chart, runner, held_ahead(chart, {"sprint"}), Seconds{1.0 / 60.0}));
    }
    const std::uint64_t before = digest(runner);
    const std::vector<survey::StateExplanation> rank = survey::read_rank(chart, runner);
    CHECK(digest(runner) == before);
    REQUIRE(rank.size() == chart.state_count());
    CHECK(chart.name(rank.front().standing.state) == "knocked");
    for (const survey::StateExplanation& one : rank) {
        const bool is = one.standing.state == runner.state();
        CHECK((one.standing.kind == survey::StandingKind::taken) == is);
        if (chart.name(one.standing.state) == "sprint") {
            REQUIRE(one.standing.failing);
            CHECK(one.standing.failing->text == "not stamina spent");
            const double level = read_meter(chart, runner, chart.meter("stamina")).level;
            const std::vector<std::string>& told = one.values[0];
            CHECK(std::count(told.begin(), told.end(),
                             fmt::format("stamina {:.4g}, latch opens at 30", level)) == 1);
        }
    }
}

TEST_CASE("over a network the owner, the server and another player agree when all stands still", "[tryout]") {
    const ChartFile file = demo_chart("bearer");
    const bool on_course = GENERATE(false, true);
    const std::optional<Course> course =
        on_course ? std::optional(Course(tryout::make_yard(file.chart).course)) : std::nullopt;
    tryout::OverNetwork net(file.chart, course, 60.0, {}, spawn(file.chart));
    rehearsal::LinkFaults faults;
    faults.delay = Seconds{0.075};
    faults.jitter = Seconds{0.02};
    faults.loss = 0.05;
    net.set_faults(faults);
    Intent wanted;
    double now = 3.0;
    const auto pass = [&](double seconds) {
        for (const double end = now + seconds; now < end;) {
            now += 1.0 / 70.0;
            net.run_until(now, [&](Seconds) { return wanted; });
        }
    };
    pass(2.0);
    REQUIRE(net.playing());
    wanted = held_ahead(file.chart, {"sprint"});
    pass(3.0);
    CHECK(net.own().speed() == Approx(6.5));
    // The owner is ahead of the server, and the other player behind it.
    REQUIRE(net.seen());
    CHECK(net.own().position().x > net.truth().position().x + 0.3);
    CHECK(net.truth().position().x > net.seen()->position.x + 0.3);
    CHECK(net.traffic().up > 500.0);
    CHECK(net.traffic().down > 200.0);
    CHECK(net.client().statistics().round_trip.value > 0.11);
    CHECK(net.client().statistics().round_trip.value < 0.2);
    wanted = {};
    pass(3.0);
    CHECK(glm::length(net.own().position() - net.truth().position()) <
          1e-4);  // ticks apart: the skin of a standing body
    CHECK(glm::length(net.seen()->position - net.truth().position()) < 0.02);
    CHECK(net.client().statistics().corrections == 0);
    // A pause in the telling of time is no pause of the network's.
    net.run_until(now + 100.0, [&](Seconds) { return wanted; });
    CHECK(net.playing());
}
