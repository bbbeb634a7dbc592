#include <cmath>
#include <glm/geometric.hpp>

#include "survey/boards.hpp"

using namespace support;
using survey::ReachedPlace;
using survey::Scouted;
using survey::ScoutPlan;

TEST_CASE("scout: the way that is found is a drill that gives the same bits, and arrives at other rates") {
    const Chart chart = chart_of(chart_text());
    const Course course(two_boards(2.8));
    const ScoutPlan plan = over_the_gap(2.8);
    const Scouted found = survey::scout(chart, &course, plan);
    REQUIRE(found.way);
    CHECK(found.way->rates.size() == survey::scout_rates().size());
    const glm::dvec3 goal(4.8, 0.0, 0.0);
    for (const double rate : {50.0, 20.0, 144.0, 1000.0}) {
        const survey::Run run = played(chart, found.way->drill, course, rate);
        CAPTURE(rate);
        CHECK(glm::distance(run.runner.position(), goal) <
              plan.within + 0.11);  // the last tick may end before
    }
    const survey::Run run = played(chart, found.way->drill, course, plan.rate);
    CHECK(run.seconds - found.way->seconds >= 0.0);  // it arrives within the last tick
    CHECK(run.seconds - found.way->seconds <= 0.02);
    CHECK(glm::distance(run.runner.position(), goal) <= plan.within);
}

TEST_CASE("scout: one seed gives one answer, on any number of threads") {
    const Chart chart = chart_of(chart_text());
    const Course course(two_boards(2.8));
    ScoutPlan plan = over_the_gap(2.8);
    plan.effort = 0.12;
    plan.threads = 1;
    const Scouted one = survey::scout(chart, &course, plan);
    plan.threads = 3;
    const Scouted three = survey::scout(chart, &course, plan);
    REQUIRE(one.places.size() == three.places.size());
    CHECK(one.ticks == three.ticks);
    CHECK(std::equal(one.places.begin(), one.places.end(), three.places.begin(),
                     [](const ReachedPlace& a, const ReachedPlace& b) {
                         return a.middle == b.middle && a.ticks == b.ticks && a.returns == b.returns;
                     }));
    REQUIRE(one.way.has_value() == three.way.has_value());
    CHECK((!one.way || one.way->drill == three.way->drill));
    plan.seed = 2;
    CHECK(survey::scout(chart, &course, plan).ticks != one.ticks);
}

TEST_CASE("scout: all places are found, each with a drill, and those without a way back are told") {
    const Chart chart = chart_of(chart_text());
    const Course course(two_boards(2.8));
    const Scouted found = survey::scout(chart, &course, plan_for(0.9));
    CHECK_FALSE(found.way);
    std::size_t boards = 0, floor = 0, returning = 0;
    for (const ReachedPlace& place : found.places) {
        const bool above = place.middle[2] > -1.0;
        boards += above ? 1 : 0;
        floor += place.middle[2] < -4.0 ? 1 : 0;
        CHECK_FALSE((place.returns && !above));  // nothing leads up from the floor
        returning += place.returns ? 1 : 0;
        CHECK(place.seconds <= 10.0);
    }
    // 12 x 8 and 8 x 8 cells of half a metre; the floor has 32 x 20 less what the board on it takes, 8 x 8.
    CHECK(boards >= 160);
    CHECK(floor >= 400);
    CHECK(returning * 10 >= boards * 8);  // at edges a way back may not have been seen
    for (std::size_t i = 0; i < found.places.size(); i += 41) {
        const ReachedPlace& place = found.places[i];
        if (place.ticks == 0) {
            continue;
        }
        const DrillSpec drill = found.way_to(place);
        CHECK(drill.seconds == Approx(place.seconds));
        const glm::dvec3 at = played(chart, drill, course, 50.0).runner.position();
        for (int axis = 0; axis < 3; ++axis) {
            CHECK(std::fabs(at[axis] - place.middle[static_cast<std::size_t>(axis)]) <= 0.25 + 1e-9);
        }
    }
}

TEST_CASE("scout: zones that are to be avoided are not entered") {
    const Chart chart = chart_of(chart_text());
    CourseSpec spec = two_boards(0.5);
    ZoneSpec mud;
    mud.kind = "mud";
    mud.from = {-2.0, -2.0, -1.0};
    mud.to = {-1.0, 1.0, 3.0};
    spec.zones.push_back(mud);
    const Course course(spec);
    ScoutPlan plan = over_the_gap(0.5);
    const Scouted straight = survey::scout(chart, &course, plan);
    plan.avoid = {"mud"};
    const Scouted around = survey::scout(chart, &course, plan);
    REQUIRE(straight.way);
    REQUIRE(around.way);
    CHECK(around.way->seconds > straight.way->seconds);
    for (const survey::Sample& sample : played(chart, around.way->drill, course, 50.0).samples) {
        CHECK_FALSE((sample.position.x > -2.0 && sample.position.x < -1.0 && sample.position.y < 1.0));
    }
}

TEST_CASE("scout: a place that is passed between two ticks is reached, at the same time at any rate") {
    const Chart chart = chart_of(chart_text());
    const Course course(floor_only());
    for (const double rate : {10.0, 50.0, 200.0}) {
        ScoutPlan plan = plan_for(0.1);
        plan.start = {};
        plan.rate = rate;
        plan.place = Point{3.3, 0.0, 0.0};
        plan.within = 0.1;  // a tick at 10 a second leads half a metre further
        plan.without = {"dash"};
        const Scouted found = survey::scout(chart, &course, plan);
        CAPTURE(rate);
        REQUIRE(found.way);
        CHECK(found.way->seconds == Approx(3.2 / 5.0).margin(2e-3));
    }
}

TEST_CASE("scout: a way that was found is played as the runner faces") {
    const Chart chart = chart_of(chart_text());
    for (const Facing facing : {Facing::look, Facing::movement}) {
        ScoutPlan plan = plan_for(0.2);
        plan.start.facing = facing;
        plan.distance = 10.0;
        plan.without = {"dash"};
        const Scouted found = survey::scout(chart, nullptr, plan);
        REQUIRE(found.way);
        CHECK(found.way->drill.start.facing == facing);
        const Drill drill(found.way->drill, chart);
        const survey::Run run = survey::run(chart, drill, survey::even_ticks(plan.rate, drill));
        CHECK(run.samples.back().position.x >= -4.0 + 10.0 - 1e-9);
        CHECK(run.samples.back().position.x < -4.0 + 10.0 + 0.2);
    }
}

TEST_CASE("scout: a zone that is to be avoided bars the way however thin it is") {
    const Chart chart = chart_of(chart_text());
    CourseSpec spec = two_boards(0.5);
    ZoneSpec thread;
    thread.kind = "thread";
    thread.from = {-2.0, -20.0, -20.0};
    thread.to = {-1.99, 20.0, 20.0};
    spec.zones.push_back(thread);
    const Course course(spec);
    ScoutPlan plan = over_the_gap(0.5);
    CHECK(survey::scout(chart, &course, plan).way);
    plan.avoid = {"thread"};
    const Scouted barred = survey::scout(chart, &course, plan);
    CHECK_FALSE(barred.way);
    for (const ReachedPlace& place : barred.places) {
        CHECK(place.middle[0] < -1.5);
    }
}

TEST_CASE("scout: a start that looks anywhere is rounded to whole degrees, and its drill begins so") {
    const Chart chart = chart_of(chart_text());
    ScoutPlan plan = plan_for(0.2);
    plan.start.yaw = Degrees{89.6};
    plan.distance = 5.0;
    plan.without = {"dash", "jump"};
    const Scouted found = survey::scout(chart, nullptr, plan);
    REQUIRE(found.way);
    CHECK(found.way->drill.start.yaw == Degrees{90.0});
    const Drill drill(found.way->drill, chart);
    const survey::Run run = survey::run(chart, drill, survey::even_ticks(50.0, drill.length()));
    CHECK(run.runner.position().y >= 5.0);
    CHECK(found.way->seconds == Approx(1.0).margin(1e-6));
}

TEST_CASE("scout: what only one of two charts reaches is told, the largest first") {
    const Chart low = chart_of(chart_text("1")), high = chart_of(chart_text("2"));
    const Course course(two_boards(1.0, 1.6));
    const Scouted first = survey::scout(low, &course, plan_for(0.3)),
                  second = survey::scout(high, &course, plan_for(0.3));
    const std::vector<survey::PlaceGroup> groups = survey::compare_places(first, second, 0.5);
    REQUIRE_FALSE(groups.empty());
    CHECK_FALSE(groups.front().by_first);
    CHECK(groups.front().places >= 40);
    CHECK(groups.front().high[2] == Approx(1.75));  // the board's upper side lies in this cell
    CHECK(survey::compare_places(first, first, 0.5).empty());
}

TEST_CASE("scout: every leg is passed where that is asked for", "[long]") {
    const Chart chart = chart_of(chart_text());
    CourseSpec spec = floor_only();
    spec.legs.push_back({"out", {{1.0, -1.0, 0.0}, {1.0, 1.0, 0.0}}, {{3.0, 3.0, 0.0}, {3.0, 5.0, 0.0}}});
    spec.legs.push_back({"home", {{3.0, 3.0, 0.0}, {3.0, 5.0, 0.0}}, {{8.0, -1.0, 0.0}, {8.0, 1.0, 0.0}}});
    spec.legs.push_back({"whole", {{1.0, -1.0, 0.0}, {1.0, 1.0, 0.0}}, {{8.0, -1.0, 0.0}, {8.0, 1.0, 0.0}}});
    const Course course(spec);
    ScoutPlan plan = plan_for(0.3);
    plan.start.position = {-1.0, 0.0, 0.0};
    plan.leg = "whole";
    plan.without = {"dash"};
    const Scouted straight = survey::scout(chart, &course, plan);
    plan.all_legs = true;
    plan.effort = 1.0;  // with 0.3 half of the seeds arrive
    const Scouted around = survey::scout(chart, &course, plan);
    REQUIRE(straight.way);
    REQUIRE(around.way);
    CHECK(straight.way->seconds == Approx(9.0 / 5.0).margin(0.06));
    CHECK(around.way->seconds > straight.way->seconds + 0.3);
    for (const survey::LegTime& leg : played(chart, around.way->drill, course, 50.0).legs) {
        CHECK(std::isfinite(leg.ended));
    }
}

TEST_CASE("scout: behind many gates, each of which most who try miss, a way is found as a rule", "[long]") {
    const Chart chart = chart_of(chart_text());
    CourseSpec spec;
    spec.name = "islets";
    spec.boxes.push_back(
        {{-60.0, -60.0, -6.0}, {90.0, 60.0, -5.0}, Degrees{0.0}});  // no way leads up from it
    constexpr double length = 3.0, gap = 2.0, beyond = 0.3;
    double end = -1.5;
    spec.boxes.push_back({{end - length, -1.5, -6.0}, {end, 1.5, 0.0}, Degrees{0.0}});
    for (int i = 0; i < 5; ++i) {
        const double begin = end + gap;
        spec.legs.push_back({"gap " + std::to_string(i),
                             {{end, -1.5, 0.0}, {end, 1.5, 0.0}},
                             {{begin + beyond, -1.5, 0.0}, {begin + beyond, 1.5, 0.0}}});
        end = begin + length;
        spec.boxes.push_back({{begin, -1.5, -6.0}, {end, 1.5, 0.0}, Degrees{0.0}});
    }
    const Course course(spec);
    ScoutPlan plan = plan_for(2.0);
    plan.start.position = {-3.0, 0.0, 0.0};
    plan.seconds = 12.0;
    plan.all_legs = true;
    plan.without = {"dash"};
    int arrived = 0;
    for (plan.seed = 1; plan.seed <= 4; ++plan.seed) {
        const Scouted found = survey::scout(chart, &course, plan);
        if (found.way) {
            ++arrived;
            // 23.8 m at 5 m/s; nothing is faster than straight ahead.
            CHECK(found.way->seconds >= 23.79 / 5.0);
            CHECK(found.way->seconds < 7.0);
        }
    }
    CHECK(arrived >= 3);
}

TEST_CASE(
    "scout: a plan that names what there is not, or is out of range, is refused with all that is wrong") {
    const Chart chart = chart_of(chart_text());
    CourseSpec spec = two_boards(2.8);
    spec.legs.push_back({"over", {{0.0, -2.0, 0.0}, {0.0, 2.0, 0.0}}, {{2.8, -2.0, 0.0}, {2.8, 2.0, 0.0}}});
    const Course course(spec);
    const auto refusal = [&](const auto& change, const Course* world) -> std::string {
        ScoutPlan plan = plan_for(0.1);
        change(plan);
        try {
            static_cast<void>(survey::scout(chart, world, plan));
        } catch (const ChartError& error) {
            return error.what();
        }
        return "taken";
    };
    CHECK(refusal([](ScoutPlan& plan) { plan.leg = "ovre"; }, &course) ==
          "leg: there is no leg named 'ovre'; did you mean 'over'?");
    CHECK(refusal([](ScoutPlan& plan) { plan.without = {"dahs"}; }, &course) ==
          "without: there is no action named 'dahs'; did you mean 'dash'?");
    CHECK(refusal([](ScoutPlan& plan) { plan.leg = "over"; }, nullptr) ==
          "course: is missing: legs and zones are a course's; give a course");
    CHECK(refusal([](ScoutPlan& plan) { plan.effort = 0.0; }, &course) ==
          "effort: 0 is out of range; 0.1 <= effort <= 2000");
    CHECK(refusal([](ScoutPlan& plan) { plan.cell = std::nan(""); }, &course) ==
          "cell: nan is out of range; 0.1 <= cell <= 10");
    CHECK(refusal(
              [](ScoutPlan& plan) {
                  plan.leg = "over";
                  plan.distance = 10.0;
              },
              &course) == "goal: is said in more than one way; say one of a leg, a place and a distance");
    CHECK(refusal(
              [](ScoutPlan& plan) {
                  plan.start.position = {std::nan(""), 0.0, 0.0};
              },
              &course) == "start: nan is out of range; -1e+06 <= start <= 1e+06");
    CHECK(refusal(
              [](ScoutPlan& plan) {
                  plan.place = Point{0.0, 0.0, std::nan("")};
              },
              &course) == "goal: nan is out of range; -1e+06 <= goal <= 1e+06");
    CHECK(refusal([](ScoutPlan& plan) { plan.start.yaw = Degrees{1e300}; }, &course) ==
          "start.yaw: 1e+300 is out of range; -36000 <= start.yaw <= 36000");
    CHECK(refusal([](ScoutPlan& plan) { plan.threads = 100000; }, &course) ==
          "threads: 100000 is out of range; 0 <= threads <= 1024");
}

TEST_CASE("scout: it can be stopped, and tells what it has by then") {
    const Chart chart = chart_of(chart_text());
    const Course course(two_boards(2.8));
    ScoutPlan plan = plan_for(50.0);
    int calls = 0;
    plan.progress = [&](const survey::ScoutProgress& progress) {
        CHECK(progress.part <= 1.0);
        return ++calls < 20;
    };
    const Scouted found = survey::scout(chart, &course, plan);
    CHECK(found.stopped);
    CHECK(calls == 20);
    CHECK(found.places.size() > 10);
}

TEST_CASE("a stretch of a path passes a gate at a time in closed form") {
    const GateSpec gate{{2.0, -1.0, 0.0}, {2.0, 1.0, 0.0}};
    // Even motion: 4 m in 2 s from x = 0.
    PathStretch stretch{10.0, 12.0, {0.0, 0.0, 0.0}, {4.0, 0.0, 0.0}, {2.0, 0.0, 0.0}, {2.0, 0.0, 0.0}};
    CHECK(gate_passage(gate, stretch) == Approx(11.0).margin(1e-9));
    stretch.from.y = stretch.to.y = 1.5;  // past its end
    CHECK(std::isnan(gate_passage(gate, stretch)));
    stretch.from.y = stretch.to.y = 0.0;
    stretch.from.z = stretch.to.z = 6.5;  // over it
    CHECK(std::isnan(gate_passage(gate, stretch)));
}

TEST_CASE("scout: it waits for what moves, and rides it", "[long]") {
    // Eight metres up, where nothing but a slow lift goes: above when one comes to it.
    const Chart chart = chart_of(chart_text());
    CourseSpec spec;
    spec.name = "lift";
    spec.boxes.push_back({{-4.0, -3.0, -1.0}, {6.0, 3.0, 0.0}, Degrees{0.0}});
    spec.boxes.push_back({{6.0, -3.0, -1.0}, {12.0, 3.0, 8.0}, Degrees{0.0}});
    PlatformSpec lift;
    lift.size = {2.0, 2.0, 0.3};
    lift.path = {{5.0, 0.0, 8.0}, {5.0, 0.0, 0.0}};
    lift.speed = 1.0;
    lift.pause = 3.0;
    spec.platforms.push_back(lift);
    const Course course(spec);
    ScoutPlan plan = plan_for(1.3);
    plan.seconds = 25.0;
    plan.place = Point{9.0, 0.0, 8.0};
    plan.within = 1.0;
    const Scouted found = survey::scout(chart, &course, plan);
    REQUIRE(found.way);
    // Down in 8 s, three below, and up until a jump of one metre is enough.
    CHECK(found.way->seconds > 8.0 + 3.0 + 7.0);
    CHECK(found.way->seconds < 19.0);
}
