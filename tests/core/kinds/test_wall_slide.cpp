#include "support/all_ways.hpp"
#include "support/worlds.hpp"

using namespace support;

namespace {

/// The leaper with a wall run: 6 m/s, 1 s at most, and a jump off at 60 degrees.
ChartSpec wall_runner() {
    ChartSpec spec = leaper();
    spec.states[0].speed.forward = 6.0;
    spec.states[2].launch.heights = std::vector<double>{1.6};
    StateSpec wall = kind("wallrun", StateKind::wall);
    wall.speed = {.forward = 6.0, .side = {}, .back = {}};
    wall.wall = {.reach = 0.3,
                 .least_speed = 3.0,
                 .most_angle = Degrees{50.0},
                 .seconds = 1.0,
                 .climb = 1.0,
                 .gravity = 4.0,
                 .growth = {}};
    wall.enter = Condition{"moving forward", "not grounded"};
    add_first(spec, wall);
    StateSpec off = kind("leap", StateKind::air);
    off.air = spec.states[1].air;
    off.launch.heights = std::vector<double>{0.9};
    off.launch.away = Degrees{60.0};
    off.launch.away_speed = 5.0;
    off.from = std::vector<std::string>{"wallrun"};
    off.enter = Condition{"jump pressed"};
    off.stay = Condition{"not grounded", "rise > 0"};
    add_first(spec, off);
    return spec;
}

/// A wall along x on the left, 0.5 m from the middle of a runner at y = 0; `length` m long from x = 0.
CourseSpec walled(double length) {
    CourseSpec spec = floor_only();
    spec.walls.push_back({{0.0, 0.6, 0.0}, {length, 0.6, 0.0}, 12.0, 0.2});
    return spec;
}

const survey::Visit* visit_of(const Chart& chart, const survey::Run& run, const std::string& state,
                              int n = 0) {
    for (const survey::Visit& visit : run.visits) {
        if (chart.name(visit.state) == state && n-- == 0) {
            return &visit;
        }
    }
    return nullptr;
}

}  // namespace

TEST_CASE("a wall run begins beside a wall, lasts its seconds, rises and sinks by its gravity") {
    const Chart chart = compile(wall_runner());
    const Script script = Script(3.0).move(0.0, ahead).hold(1.0, "jump").release(1.1, "jump");
    for (const double rate : usual_rates) {
        CAPTURE(rate);
        const survey::Run run = run_in(walled(100.0), chart, script, rate, {1.0, 0.0, 0.0});
        const survey::Visit* wall = visit_of(chart, run, "wallrun");
        REQUIRE(wall != nullptr);
        CHECK(near(wall->at, 1.0, 1e-3));  // the wall is at hand the moment it leaves the ground
        CHECK(near(wall->seconds, 1.0, 1e-3));
        CHECK(chart.term_path(visit_of(chart, run, "fall")->cause) == "states.wallrun.wall.seconds");
        // 8 m/s upward under 4 m/s^2 for 1 s: 6 m up.
        double high = 0.0;
        for (const survey::Sample& sample : run.samples) {
            high = std::max(high, sample.position.z);
            CHECK(std::fabs(sample.position.y) < 0.16);
        }
        // ... and 4 m/s are left, under 20 m/s^2.
        CHECK(near(high, 6.0 + 4.0 * 4.0 / 40.0, 0.05));
    }
}

TEST_CASE("a wall run needs speed and a flat angle") {
    ChartSpec spec = wall_runner();
    const Chart chart = compile(spec);
    const auto runs = [&](double stick, double yaw) {
        const Script script =
            Script(1.6).look(0.0, yaw).move(0.0, {.forward = stick, .side = 0.0}).hold(1.0, "jump");
        const double reach = 6.0 * stick * 0.95 * std::sin(yaw * 3.14159265 / 180.0);
        const survey::Run run = run_in(walled(100.0), chart, script, 60.0, {5.0, -reach, 0.0});
        return visit_of(chart, run, "wallrun") != nullptr;
    };
    CHECK(runs(1.0, 0.0));
    CHECK(runs(1.0, 40.0));
    CHECK_FALSE(runs(1.0, 65.0));
    CHECK_FALSE(runs(0.45, 0.0));
}

TEST_CASE("the same wall is run along once until the ground or another wall") {
    const Chart chart = compile(wall_runner());
    Script script(5.0);
    script.move(0.0, ahead).hold(0.5, "jump").release(0.6, "jump");
    const survey::Run once = run_in(walled(100.0), chart, script, 60.0, {1.0, 0.0, 0.0});
    CHECK(visit_of(chart, once, "wallrun", 1) == nullptr);  // it falls along the wall, and lands
    CourseSpec other = walled(6.0);
    other.walls.push_back({{6.5, 0.6, 0.0}, {60.0, 0.6, 0.0}, 12.0, 0.2});
    const survey::Run twice = run_in(other, chart, script, 60.0, {1.0, 0.0, 0.0});
    CHECK(visit_of(chart, twice, "wallrun", 1) != nullptr);
    script.hold(4.0, "jump");
    const survey::Run again = run_in(walled(100.0), chart, script, 60.0, {1.0, 0.0, 0.0});
    CHECK(visit_of(chart, again, "wallrun", 1) != nullptr);
}

TEST_CASE("at the wall's end the run goes on into the air without a snag") {
    const Chart chart = compile(wall_runner());
    const Script script = Script(2.5).move(0.0, ahead).hold(0.5, "jump");
    double left = 0.0;
    for (const double rate : usual_rates) {
        const survey::Run run = run_in(walled(6.0), chart, script, rate, {1.0, 0.0, 0.0});
        const survey::Visit* fall = visit_of(chart, run, "fall");
        REQUIRE(fall != nullptr);
        left = left == 0.0 ? fall->at : left;
        CHECK(near(fall->at, left, 2e-4));
        CHECK(chart.describe(fall->cause) == "stay failed: wall");
        for (const survey::Sample& sample : run.samples) {
            if (sample.at > 0.5) {
                CHECK(near(std::hypot(sample.velocity.x, sample.velocity.y), 6.0, 1e-6));
            }
        }
    }
}

TEST_CASE("the jump off a wall leads outward by its angle") {
    const Chart chart = compile(wall_runner());
    const Script script =
        Script(1.2).move(0.0, ahead).hold(0.5, "jump").release(0.6, "jump").hold(0.9, "jump");
    for (const double rate : usual_rates) {
        const survey::Run run = run_in(walled(100.0), chart, script, rate, {1.0, 0.0, 0.0});
        const glm::dvec3 v = run.runner.velocity();
        REQUIRE(visit_of(chart, run, "leap") != nullptr);
        CHECK(near(visit_of(chart, run, "leap")->at, 0.9, 1e-6));
        CHECK(near(v.x, 5.0 * 0.5, 1e-6));
        CHECK(near(v.y, -5.0 * std::sqrt(0.75), 1e-6));
    }
}

TEST_CASE("a slide down a slope gains 2 (g sin - f) s, up a slope loses it") {
    ChartSpec spec = leaper();
    spec.actions.push_back({.name = "crouch"});
    StateSpec slide = kind("slide", StateKind::slide);
    slide.slide = {.boost = {}, .boost_limit = {}, .friction = 3.0, .slope = {}, .top = 15.0};
    slide.enter = Condition{"crouch on", "grounded"};
    slide.stay = slide.enter;
    add_first(spec, slide);
    const Chart chart = compile(spec);
    CourseSpec course;
    course.name = "slope";
    const double rise = 100.0 * std::tan(3.14159265358979 / 9.0);  // 20 degrees
    course.ramps.push_back({{0.0, 0.0, 0.0}, {100.0, 0.0, rise}, 40.0, 0.5});
    const double sine = std::sin(3.14159265358979 / 9.0), pull = 20.0 * sine;
    for (const double rate : usual_rates) {
        CAPTURE(rate);
        // Down: from 5 m/s at 20 sin 20 - 3 = 3.84 m/s^2 to the top speed of 15.
        const survey::Run down =
            run_in(course, chart, Script(5.0).move(0.0, {.forward = -1.0, .side = 0.0}).hold(1.0, "crouch"),
                   rate, {90.0, 0.0, 0.9 * rise});
        const double gain = pull - 3.0, seconds = 10.0 / gain;
        CHECK(near(down.runner.speed(), 15.0, 1e-6));
        CHECK(near(down.visits[1].distance, (225.0 - 25.0) / (2.0 * gain) + 15.0 * (4.0 - seconds), 1e-3));
        // Up: 25 = 2 (g sin + f) s, and down again, since the slope pulls harder than the friction.
        const survey::Run up = run_in(course, chart, Script(3.0).move(0.0, ahead).hold(1.0, "crouch"), rate,
                                      {20.0, 0.0, 0.2 * rise});
        const double loss = pull + 3.0, stop = 5.0 / loss, back = 2.0 - stop;
        CHECK(near(up.visits[1].distance, 25.0 / (2.0 * loss) + 0.5 * gain * back * back, 1e-3));
        CHECK(up.runner.velocity().x < 0.0);
        // Across: friction turns with the velocity; the way does not depend on the tick rate.
        const survey::Run across =
            run_in(course, chart, Script(3.0).look(0.0, 90.0).move(0.0, ahead).hold(1.0, "crouch"), rate,
                   {50.0, 0.0, 0.5 * rise});
        static glm::dvec3 first = across.runner.position();
        CHECK(near(across.runner.position().x, first.x, 1e-3));
        CHECK(near(across.runner.position().y, first.y, 1e-3));
    }
}

TEST_CASE("a dash away from a wall at hand, in a chart without wall runs") {
    ChartSpec spec = leaper();
    spec.actions.push_back({.name = "dash"});
    StateSpec dash = kind("dash", StateKind::burst);
    dash.burst.along = std::vector<Along>{Along::away, Along::facing};
    dash.burst.metres = 2.0;
    dash.burst.seconds = 0.2;
    dash.enter = Condition{"dash pressed"};
    add_first(spec, dash);
    const Chart chart = compile(spec);
    const auto way = [&](const CourseSpec& course) {
        const survey::Run run =
            run_in(course, chart, Script(0.8).hold(0.2, "jump").hold(0.5, "dash"), 60.0, {5.0, 0.0, 0.0});
        return run.runner.position();
    };
    CHECK(near(way(walled(20.0)).y, -2.0, 1e-3));  // out from the wall on the left
    CHECK(near(way(floor_only()).x, 7.0, 1e-3));   // no wall: ahead
}

TEST_CASE("a slide that runs over a step pays for the height, and goes on braking") {
    ChartSpec spec = leaper();
    spec.actions.push_back({.name = "crouch"});
    StateSpec slide = kind("slide", StateKind::slide);
    slide.slide.friction = 2.0;
    slide.enter = Condition{"crouch on", "grounded"};
    add_first(spec, slide);
    const Chart chart = compile(spec);
    CourseSpec course = floor_only();
    course.boxes.push_back({{4.0, -5.0, 0.0}, {50.0, 5.0, 0.25}, Degrees{0.0}});
    for (const double rate : usual_rates) {
        CAPTURE(rate);
        const survey::Run run = run_in(course, chart, Script(1.4).move(0.0, ahead).hold(0.6, "crouch"), rate);
        // v^2 falls by 2 f s and by 2 g h.
        const double slid = run.runner.distance() - (0.625 + 0.35 * 5.0);
        CHECK(near(run.runner.position().z, 0.25, 1e-3));
        CHECK(
            near(run.runner.speed() * run.runner.speed(), 25.0 - 2.0 * 2.0 * slid - 2.0 * 20.0 * 0.25, 0.15));
    }
}

TEST_CASE("a slide ends in what is held and fits: jump, sprint, crouch under a ceiling") {
    ChartSpec spec = all_ways();
    spec.states[0].speed.forward = 8.0;  // fast enough to slide
    const Chart chart = compile(spec);
    const auto script = [&](double release) {
        return Script(4.0).move(0.0, ahead).hold(1.0, "crouch").release(release, "crouch");
    };
    const auto next = [&](const CourseSpec& course, const Script& told) {
        const survey::Run run = run_in(course, chart, told, 60.0, {-10.0, 0.0, 0.0});
        for (std::size_t i = 0; i + 1 < run.visits.size(); ++i) {
            if (chart.name(run.visits[i].state) == "slide") {
                return chart.name(run.visits[i + 1].state);
            }
        }
        return std::string("no slide");
    };
    CHECK(next(floor_only(), script(1.3)) == "run");
    CHECK(next(floor_only(), script(3.9)) == "crouch");  // too slow at last, and still held
    CHECK(next(floor_only(), Script(4.0).move(0.0, ahead).hold(1.0, "crouch").hold(1.3, "jump")) == "jump");
    CHECK(next(floor_only(),
               Script(4.0).move(0.0, ahead).hold(1.0, "crouch").hold(1.2, "sprint").release(1.3, "crouch")) ==
          "sprint");
    CourseSpec low = floor_only();
    low.ceilings.push_back({{-2.5, -5.0, 1.3}, {20.0, 5.0, 1.3}, 0.3});
    CHECK(next(low, script(1.3)) == "crouch");  // nobody holds it, but there is no room to stand
}

TEST_CASE("a wall at hand is known during a burst, too") {
    ChartSpec spec = wall_runner();
    spec.actions.push_back({.name = "dash"});
    StateSpec dash = kind("dash", StateKind::burst);
    dash.burst.speed = 10.0;
    dash.burst.seconds = 0.3;
    dash.enter = Condition{"dash pressed"};
    add_first(spec, dash);
    const Chart chart = compile(spec);
    const Course course(walled(40.0));
    CourseTerrain terrain(course, chart);
    Runner runner = spawn(chart, {{1.0, 0.0, 2.0}, 0.0});
    Intent intent;
    intent.hold(chart.action("dash"));
    for (int i = 0; i < 12; ++i) {
        static_cast<void>(advance(chart, runner, intent, terrain, Seconds{1.0 / 60.0}));
        CHECK(runner.state() == chart.state("dash"));
    }
    CHECK(runner.by_wall());
}

TEST_CASE("a dash downhill keeps to the ground") {
    ChartSpec spec = leaper();
    spec.actions.push_back({.name = "dash"});
    StateSpec dash = kind("dash", StateKind::burst);
    dash.burst.metres = 3.0;
    dash.burst.seconds = 0.4;
    dash.enter = Condition{"dash pressed"};
    add_first(spec, dash);
    const Chart chart = compile(spec);
    CourseSpec course = floor_only();
    course.ramps.push_back({{10.0, 0.0, 0.0}, {0.0, 0.0, 2.0}, 10.0, 0.5});
    const survey::Run run = run_in(course, chart, Script(0.8).hold(0.3, "dash"), 60.0, {2.0, 0.0, 1.6});
    CHECK(count(run, EventKind::lifted) == 0);
    // The round foot of a capsule touches a slope beside its middle: 7 mm higher here.
    CHECK(near(run.runner.position().z, 2.0 - 0.2 * run.runner.position().x, 0.01));
    CHECK(run.runner.position().x > 4.9);
}

TEST_CASE("where a wall bends, the run follows it and leaps off what is at hand then") {
    const Chart chart = compile(wall_runner());
    CourseSpec course = floor_only();
    course.walls.push_back({{0.0, 0.6, 0.0}, {8.0, 0.6, 0.0}, 12.0, 0.2});
    course.walls.push_back({{8.0, 0.6, 0.0}, {18.0, -1.163, 0.0}, 12.0, 0.2});  // 10 degrees inward
    for (const double rate : usual_rates) {
        CAPTURE(rate);
        const survey::Run run = run_in(course, chart,
                                       Script(2.0)
                                           .move(0.0, ahead)
                                           .hold(1.0, "jump")
                                           .release(1.1, "jump")
                                           .hold(1.75, "jump")
                                           .release(1.8, "jump"),
                                       rate);
        const survey::Visit* leap = visit_of(chart, run, "leap");
        REQUIRE(leap != nullptr);
        CHECK(near(leap->at, 1.75, 1e-6));
        const glm::dvec3 off = run.runner.velocity();
        const double heading = std::atan2(off.y, off.x) * 180.0 / 3.14159265358979;
        CHECK(near(heading, -70.0, 0.1));  // 60 degrees off the second wall
    }
}

TEST_CASE("between two walls that leave a corner open downward a fall is as fast as without them") {
    ChartSpec spec = leaper();
    spec.states[1].speed.forward = 5.0;
    spec.states[1].air.steer = 20.0;
    const Chart chart = compile(spec);
    CourseSpec course = floor_only();
    // A wedge of 60 degrees that opens towards where it comes from.
    course.walls.push_back({{4.0, 0.0, 0.0}, {-2.0, 3.464, 0.0}, 12.0, 0.2});
    course.walls.push_back({{4.0, 0.0, 0.0}, {-2.0, -3.464, 0.0}, 12.0, 0.2});
    const survey::Run run = run_in(course, chart, Script(1.5).move(0.0, ahead), 60.0, {2.5, 0.0, 9.0});
    // 25 m/s after 0.833 s and 10.4 m: it lands before.
    CHECK(near(event(run, EventKind::landed).at, std::sqrt(2.0 * 9.0 / 30.0), 1e-4));
    CHECK(count(run, EventKind::bumped) > 0);
}
