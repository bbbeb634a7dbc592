#include "survey/boards.hpp"

using namespace support;
using survey::ReachedPlace;
using survey::Scouted;
using survey::ScoutPlan;

namespace {

/// The same search without and with a run that is known.
struct Both {
    Scouted alone, along;
};

Both both(const Chart& chart, const Course& course, ScoutPlan plan, const DrillSpec& known) {
    Both found;
    found.alone = survey::scout(chart, &course, plan);
    plan.known = {known};
    found.along = survey::scout(chart, &course, plan);
    return found;
}

/// The faster of each of three seeds: a short search is a matter of luck.
Both fastest_of_both(const Chart& chart, const Course& course, ScoutPlan plan, const DrillSpec& known) {
    Both fastest;
    for (plan.seed = 1; plan.seed <= 3; ++plan.seed) {
        Both now = both(chart, course, plan, known);
        for (const auto which : {&Both::alone, &Both::along}) {
            if ((now.*which).way &&
                (!(fastest.*which).way || (now.*which).way->seconds < (fastest.*which).way->seconds)) {
                fastest.*which = std::move(now.*which);
            }
        }
    }
    return fastest;
}

}  // namespace

TEST_CASE("scout: a search that begins along a known run is through sooner, whoever's hands it was",
          "[long]") {
    const Chart chart = chart_of(chart_text());
    CourseSpec spec;
    spec.name = "seven boards";
    for (int i = 0; i < 7; ++i) {
        const double from = -6.0 + 8.5 * i;
        spec.boxes.push_back({{from, -2.0, -1.0}, {from + 6.0, 2.0, 0.0}, Degrees{0.0}});
    }
    const Course course(spec);
    // Not a good run: half a second of standing about on each board, and an analog stick that is not quite pushed over.
    const Move slower{.forward = 0.93, .side = 0.0};
    Script script(17.0);
    for (int i = 0; i < 7; ++i) {
        const double at = 2.328 * i;  // the way from a board to the next at 4.65 m/s, and the wait
        script.move(at, {}).move(at + 0.5, slower).hold(at + 1.3, "jump").release(at + 1.5, "jump");
    }
    ScoutPlan plan = plan_for(1.0);
    plan.seconds = 30.0;
    plan.place = Point{49.4, 0.0, 0.0};
    plan.without = {"dash"};
    script.drill.start.position = plan.start.position;
    double sum_alone = 0.0, sum_along = 0.0;
    for (const std::uint64_t seed : {2U, 3U, 5U}) {
        plan.seed = seed;
        plan.known.clear();
        const Scouted alone = survey::scout(chart, &course, plan);
        sum_alone += alone.way ? alone.way->seconds : plan.seconds;
        plan.known = {script.drill};
        const Scouted along = survey::scout(chart, &course, plan);
        REQUIRE(along.way);
        CHECK(along.way->seconds > 10.559);  // 52.8 m at 5 m/s
        CHECK(along.way->seconds < 11.0);
        sum_along += along.way->seconds;
        for (const ReachedPlace& place : along.places) {  // only what it played itself has a drill
            CHECK(place.seconds <= plan.seconds);
        }
    }
    CHECK(sum_along < 0.9 * sum_alone);
    plan.known.front().steps.back().hold = {"leap"};
    CHECK_THROWS_AS(survey::scout(chart, &course, plan), ChartError);
}

TEST_CASE("scout: a known run that leads nowhere, or where one must not go, does no harm", "[long]") {
    const Chart chart = chart_of(chart_text());
    Script into_the_sea(5.0);
    into_the_sea.move(0.0, {.forward = 0.0, .side = 1.0});
    const auto [alone, along] =
        fastest_of_both(chart, Course(two_boards(2.8)), over_the_gap(2.8), into_the_sea.drill);
    REQUIRE(alone.way);
    REQUIRE(along.way);
    CHECK(along.way->seconds == Approx(alone.way->seconds).margin(0.1));
}

TEST_CASE("scout: a known run counts up to where it does what is barred", "[long]") {
    const Chart chart = chart_of(chart_text());
    const Course course(floor_only());
    // By dashes 3.6 m each second in 0.3 s; without them it takes 10 s.
    Script dashing(9.0);
    dashing.move(0.0, ahead);
    for (int i = 0; i < 8; ++i) {
        dashing.hold(0.1 + i, "dash").release(0.2 + i, "dash");
    }
    ScoutPlan plan = plan_for(1.0);
    plan.start = {};
    plan.seconds = 12.0;
    plan.place = Point{50.0, 0.0, 0.0};
    plan.known = {dashing.drill};
    const Scouted free = survey::scout(chart, &course, plan);
    REQUIRE(free.way);
    CHECK(free.way->seconds < 8.5);
    plan.without = {"dash"};
    const Scouted without = survey::scout(chart, &course, plan);
    REQUIRE(without.way);
    CHECK(without.way->seconds == Approx(49.4 / 5.0).margin(0.05));
}

TEST_CASE("scout: a known run that begins with what is barred teaches nothing") {
    const Chart chart = chart_of(chart_text());
    const ScoutPlan plan = over_the_gap(2.8);
    Script dashing(3.0);
    dashing.drill.start.position = plan.start.position;
    dashing.move(0.0, ahead).hold(0.0, "dash");
    const auto [alone, along] = both(chart, Course(two_boards(2.8)), plan, dashing.drill);
    CHECK(along.ticks == alone.ticks);
    REQUIRE(along.way.has_value() == alone.way.has_value());
    CHECK((!along.way || along.way->drill == alone.way->drill));
}

TEST_CASE("scout: a known run from elsewhere shows the rest of the way, and bounds nothing", "[long]") {
    const Chart chart = chart_of(chart_text());
    const Course course(two_boards(2.8));
    Script from_the_edge(3.0);
    from_the_edge.drill.start.position = {-1.0, 0.0, 0.0};
    from_the_edge.move(0.0, ahead).hold(0.18, "jump").release(0.3, "jump");
    REQUIRE(played(chart, from_the_edge.drill, course, 50.0).samples.back().position.x > 3.0);
    ExpectSpec glides;  // of the chart that it was written for
    glides.state = "glide";
    from_the_edge.drill.expects = {glides};
    const auto [alone, along] = fastest_of_both(chart, course, over_the_gap(2.8), from_the_edge.drill);
    REQUIRE(alone.way);
    REQUIRE(along.way);
    CHECK(along.way->seconds == Approx(alone.way->seconds).margin(0.05));
}
