#include "support/worlds.hpp"

using namespace support;

namespace {

CourseSpec with_zone(ZoneSpec zone) {
    CourseSpec spec = floor_only();
    spec.zones.push_back(std::move(zone));
    return spec;
}

ZoneSpec zone_of(const std::string& kind, Point from, Point to) {
    ZoneSpec zone;
    zone.kind = kind;
    zone.from = from;
    zone.to = to;
    return zone;
}

}  // namespace

TEST_CASE("mud slows the speed target inside, and conditions can tell") {
    ChartSpec spec = leaper();
    spec.zones = {"mud"};
    StateSpec wade = spec.states[0];
    wade.name = "wade";
    wade.enter = Condition{"grounded", "in mud"};
    add_first(spec, wade);
    const Chart chart = compile(spec);
    ZoneSpec mud = zone_of("mud", {5.0, -5.0, -1.0}, {10.0, 5.0, 3.0});
    mud.pace = 0.5;
    for (const double rate : {20.0, 60.0, 240.0}) {
        CAPTURE(rate);
        const survey::Run run = run_in(with_zone(mud), chart, Script(6.0).move(0.0, ahead), rate);
        REQUIRE(run.visits.size() == 3);
        CHECK(chart.describe(run.visits[1].cause) == "enter: in mud");
        // 0.625 m in 0.25 s, the rest at 5 m/s; inside from 5 to 2.5 m/s at 20 m/s^2: 0.46875 m in 0.125 s.
        CHECK(near(run.visits[1].at, 0.25 + (5.0 - 0.625) / 5.0, 1e-4));
        CHECK(near(run.visits[1].seconds, 0.125 + (5.0 - 0.46875) / 2.5, 2e-4));
    }
}

TEST_CASE("an updraft lifts a glide by its wind less the sinking, and walkers not at all") {
    ChartSpec spec = leaper();
    spec.actions.push_back({.name = "cape"});
    StateSpec glide = kind("glide", StateKind::fly);
    glide.speed = {.forward = 4.0, .side = {}, .back = {}};
    glide.fly = {.by_look = false, .up = {}, .down = {}, .climb = {}, .dive = {}, .sink = 1.5};
    glide.enter = Condition{"cape on", "not grounded", "rise < 0"};
    glide.stay = Condition{"cape on", "not grounded"};
    add_first(spec, glide);
    const Chart chart = compile(spec);
    ZoneSpec updraft = zone_of("updraft", {-5.0, -5.0, 0.0}, {5.0, 5.0, 40.0});
    updraft.wind = {0.0, 0.0, 5.0};
    const CourseSpec course = with_zone(updraft);
    for (const double rate : {20.0, 60.0, 240.0}) {
        const survey::Run run = run_in(course, chart, Script(3.4).hold(0.0, "jump").hold(0.1, "cape"), rate);
        CHECK(near(run.runner.position().z, 1.6 + 3.5 * 3.0, 2e-3));  // the apex is at 0.4 s
        CHECK(run_in(course, chart, Script(1.0), rate).runner.grounded());
    }
}

TEST_CASE("the wind fades towards a zone's border, so that a glide finds a height to stay at") {
    ChartSpec spec = leaper();
    StateSpec glide = kind("glide", StateKind::fly);
    glide.speed = {.forward = 4.0, .side = {}, .back = {}};
    glide.fly.sink = 1.5;
    glide.enter = Condition{"not grounded"};
    add_first(spec, glide);
    const Chart chart = compile(spec);
    ZoneSpec updraft = zone_of("updraft", {-9.0, -9.0, 0.0}, {9.0, 9.0, 10.0});
    updraft.wind = {0.0, 0.0, 5.0};
    updraft.fade = 2.0;
    const survey::Run run = run_in(with_zone(updraft), chart, Script(20.0).hold(0.5, "jump"), 60.0);
    // The middle of the body hovers where the wind is 1.5 m/s: 0.6 m below the border, to a step of 1/8 m.
    CHECK(near(run.runner.position().z + 0.9, 10.0 - 0.6, 0.13));
    CHECK(run.ticks_capped == 0);
}

TEST_CASE("a gust pushes once on entry, and again only after it was left") {
    const Chart chart = compile(leaper());
    ZoneSpec gust = zone_of("gust", {5.0, -50.0, -1.0}, {15.0, 50.0, 3.0});
    gust.push = GustSpec{{0.0, 1.0, 0.0}, 4.0, 0.0, 0.5, false, false};
    for (const double rate : {20.0, 60.0, 240.0}) {
        const survey::Run run = run_in(
            with_zone(gust), chart,
            Script(6.0).move(0.0, ahead).move(2.0, {.forward = -1.0, .side = 0.0}).move(4.0, ahead), rate);
        CHECK(count(run, EventKind::pushed) == 2);
        CHECK(near(run.runner.position().y, 2.0, 1e-3));
    }
}
