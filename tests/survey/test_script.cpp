#include <catch2/catch.hpp>
#include <cursimeter/chartfile/chart_file.hpp>
#include <cursimeter/chartfile/course_file.hpp>
#include <cursimeter/chartfile/drill_file.hpp>
#include <cursimeter/effects.hpp>
#include <cursimeter/survey/why.hpp>

#include "support/all_ways.hpp"
#include "support/demo.hpp"
#include "support/random_drill.hpp"

/// Takes wherever a drill can stand: a player's own run is looked at like any other.
using namespace support;

namespace {

void check_same(const survey::Run& a, const survey::Run& b) {
    CHECK(a.digest == b.digest);
    CHECK(a.ticks == b.ticks);
    CHECK(a.distance == b.distance);
    CHECK(a.lowest == b.lowest);
    REQUIRE(a.visits.size() == b.visits.size());
    for (std::size_t i = 0; i < a.visits.size(); ++i) {
        CHECK(a.visits[i].state == b.visits[i].state);
        CHECK(a.visits[i].at == Approx(b.visits[i].at).margin(1e-9));
        CHECK(a.visits[i].cause == b.visits[i].cause);
    }
    REQUIRE(a.events.size() == b.events.size());
    REQUIRE(a.legs.size() == b.legs.size());
    for (std::size_t i = 0; i < a.legs.size(); ++i) {
        CHECK(a.legs[i].ended == Approx(b.legs[i].ended).margin(1e-9));
    }
}

void check_same(const survey::Explanation& a, const survey::Explanation& b) {
    CHECK(a.state == b.state);
    CHECK(a.since == Approx(b.since).margin(1e-9));
    CHECK(a.cause == b.cause);
    REQUIRE(a.rank.size() == b.rank.size());
    for (std::size_t i = 0; i < a.rank.size(); ++i) {
        CHECK(a.rank[i].standing.kind == b.rank[i].standing.kind);
        CHECK(a.rank[i].values == b.rank[i].values);
        REQUIRE(a.rank[i].failing_stretch.has_value() == b.rank[i].failing_stretch.has_value());
        if (a.rank[i].failing_stretch) {
            CHECK(a.rank[i].failing_stretch->since == Approx(b.rank[i].failing_stretch->since).margin(1e-9));
        }
    }
}

}  // namespace

TEST_CASE("The take of a run is the run, to every question: random hands, uneven ticks") {
    const Chart chart = compile(all_ways());
    std::mt19937 random(7);
    for (int i = 0; i < 8; ++i) {
        const Drill drill(random_drill(random, chart, 10.0), chart);
        const std::vector<double> ends = random_ticks(random, 10.0);
        const survey::Take take = survey::read_take(survey::record(chart, drill, nullptr, ends, {}));
        survey::TakeScript script(take);
        CHECK(script.end() == Approx(10.0));
        check_same(survey::run(chart, script, nullptr), survey::run(chart, drill, ends));
        for (const double at : {0.0, 0.3, 1.0, 4.321, 9.999, 10.0}) {
            check_same(survey::explain(chart, script, nullptr, Seconds{std::min(at, script.end())}),
                       survey::explain(chart, drill, nullptr, ends, Seconds{at}));
        }
    }
}

TEST_CASE("The take of the relay is the relay, with its legs and its moving hoist") {
    const ChartFile chart = demo_chart("bearer");
    const Course course = demo_course();
    const DrillFile drill = load_drill(demo_folder + "drills/relay_bearer.toml", chart.chart);
    const std::vector<double> ends = survey::even_ticks(60.0, drill.drill.length());
    const survey::Take take = survey::read_take(survey::record(chart.chart, drill.drill, &course, ends, {}));
    survey::TakeScript script(take);
    check_same(survey::run(chart.chart, script, &course),
               survey::run(chart.chart, drill.drill, course, ends));
    // A take of a take is the take.
    const survey::Take second = survey::read_take(survey::record(chart.chart, script, &course, {}));
    CHECK(second.ticks.back().digest == take.ticks.back().digest);
    CHECK_FALSE(survey::replay(second, chart.chart, &course).first);
}

TEST_CASE(
    "A take that begins in the middle counts its own seconds and metres, whatever the game did meanwhile") {
    const Chart chart = compile(all_ways());
    Runner runner = spawn(chart);
    Intent intent;
    intent.move = {1.0, 0.0};
    const Seconds dt{1.0 / 64.0};
    for (int i = 0; i < 640; ++i) {
        static_cast<void>(advance(chart, runner, intent, dt));
    }
    const double before = runner.distance();
    survey::TakeRecorder recorder(chart, runner);
    std::uint64_t last = 0;
    for (int i = 0; i < 256; ++i) {
        if (i == 100) {
            push(runner, {.direction = {0, 1, 0}, .strength = 6.0, .seconds = 0.5});
        }
        if (i == 200) {
            runner = spawn(chart);  // a new life, with a clock that begins anew
        }
        REQUIRE(recorder.begin(runner, intent, dt));
        static_cast<void>(advance(chart, runner, intent, dt));
        REQUIRE(recorder.end(runner));
        last = digest(runner);
    }
    const survey::Take take = survey::read_take(recorder.bytes());
    survey::TakeScript script(take);
    const survey::WatchedRun watched = survey::watch(chart, script, nullptr);
    CHECK(watched.run.digest == last);
    CHECK(watched.run.seconds == 4.0);
    CHECK(watched.run.visits.front().at == 0.0);
    CHECK(watched.run.visits.front().distance < before);
    REQUIRE(!watched.moments.empty());
    double at = 0.0;
    for (const survey::Moment& moment : watched.moments) {
        CHECK(moment.at >= at - 1e-9);
        CHECK(moment.at <= 4.0 + 1e-9);
        at = moment.at;
    }
    CHECK(survey::explain(chart, script, nullptr, Seconds{3.5}).at == 3.5);
    CHECK_THROWS_AS(survey::explain(chart, script, nullptr, Seconds{4.5}), ChartError);
}

TEST_CASE("Where a hoist stood is part of the take, whenever in the game it was recorded") {
    const Chart chart = demo_chart("bearer").chart;
    CourseSpec spec;
    spec.name = "a hoist";
    spec.platforms.push_back(
        {.size = {4.0, 4.0, 0.4}, .path = {{0.0, 0.0, 1.0}, {30.0, 0.0, 7.0}}, .speed = 1.7, .pause = 0.3});
    const Course course(spec);
    CourseTerrain terrain(course, chart);
    const double dt = 1.0 / 60.0;
    for (const std::uint32_t first : {0U, 77U, 12345U}) {
        CAPTURE(first);
        terrain.set_time(first * dt);
        Runner runner =
            spawn(chart, {course.platform_offset(0, first * dt) + glm::dvec3{0.0, 0.0, 1.0}, 0.0});
        survey::TakeRecorder recorder(chart, runner);
        for (std::uint32_t i = 0; i < 300; ++i) {
            Intent intent;
            intent.look.yaw = 0.01 * i;
            REQUIRE(recorder.begin(runner, intent, Seconds{dt}, (first + i) * dt));
            terrain.set_time((first + i) * dt);
            static_cast<void>(advance(chart, runner, intent, terrain, Seconds{dt}));
            REQUIRE(recorder.end(runner));
        }
        CHECK(runner.grounded());
        const survey::Take take = survey::read_take(recorder.bytes());
        CHECK_FALSE(survey::replay(take, chart, &course).first);
        survey::TakeScript script(take);
        CHECK(survey::run(chart, script, &course).digest == digest(runner));
        CHECK(survey::replay(take, chart, nullptr).first);
    }
}

TEST_CASE("Another chart plays a take's keys, and a chart that is neither is refused") {
    const ChartFile own = demo_chart("bearer");
    const ChartFile eel = demo_chart("eel");
    const DrillFile drill = load_drill(demo_folder + "drills/quay_boards.toml", own.chart);
    const std::vector<double> ends = survey::even_ticks(60.0, Seconds{20.0});
    const survey::Take take = survey::read_take(survey::record(own.chart, drill.drill, nullptr, ends, {}));
    survey::TakeScript script(take, &own.chart);
    const survey::Run run = survey::run(eel.chart, script, nullptr);
    CHECK(run.ticks == 1200);
    CHECK(run.distance > 10.0);
    survey::TakeScript lone(take);
    CHECK_THROWS_WITH(static_cast<void>(survey::run(eel.chart, lone, nullptr)),
                      Catch::Matchers::Contains("chart: is not the take's: its digest is"));
}

TEST_CASE("a drill goes on from a runner that was saved") {
    const Chart chart = compile(bearer(ramp(12.0, 16.0, 10.0)));
    DrillSpec spec;
    spec.name = "whole";
    spec.seconds = 4.0;
    StepSpec go, stop;
    go.move = Move{1.0, 0.0};
    go.hold = {"sprint"};
    stop.at = 3.0;
    stop.release = {"sprint"};
    spec.steps = {go, stop};
    const std::vector<double> ends = survey::even_ticks(64.0, Seconds{4.0});
    const survey::Run whole = survey::run(chart, Drill(spec, chart), ends);
    const std::span<const double> half(ends.data(), ends.size() / 2);
    const survey::Run first = survey::run(chart, Drill(spec, chart), half);
    // The second half as a drill of its own: the keys are down again, as they were.
    spec.seconds = 2.0;
    spec.steps[1].at = 1.0;
    const Drill rest(spec, chart);
    survey::DrillScript script(rest, half, first.runner);
    const survey::Run second = survey::run(chart, script, nullptr);
    CHECK(digest(second.runner) == digest(whole.runner));
    CHECK(second.distance == Approx(whole.distance - first.distance).margin(1e-12));
    REQUIRE(second.samples.size() == half.size() + 1);
    CHECK(second.samples.front().position == first.runner.position());
}
