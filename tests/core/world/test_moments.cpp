#include "support/worlds.hpp"

using namespace support;

/// When a contact comes, to the moment, wherever ticks are cut; and how far off everything a body stands.
namespace {

constexpr double skin = 1e-4;    ///< m that a body keeps from everything
constexpr double moment = 1e-5;  ///< s to which a change is found

/// Walks, falls, and leaps 1 m high, at 20 m/s^2.
ChartSpec leaping(GainSpec gain = {}) {
    ChartSpec spec = walker({.forward = 5.0, .side = {}, .back = {}}, std::move(gain));
    spec.actions = {{.name = "jump"}, {.name = "brace"}};
    spec.body.gravity = 20.0;
    StateSpec leap = state("leap", {.forward = 5.0, .side = {}, .back = {}});
    leap.kind = StateKind::air;
    leap.launch.heights = {1.0};
    leap.enter = Condition{"jump pressed", "grounded"};
    leap.stay = Condition{"not grounded"};
    add_first(spec, leap);
    return spec;
}

}  // namespace

TEST_CASE("a leap lands at its time at every rate, whatever cuts it") {
    const Chart chart = compile(leaping());
    const double flight = 2.0 * std::sqrt(2.0 / 20.0);
    for (const double from : {0.5, 0.55, 0.611}) {
        for (double cut = 0.6; cut < flight; cut += 0.002) {  // s after the take-off
            Script script(2.0);
            script.look(0.0, 0.0).move(0.0, ahead).hold(from, "jump").hold(from + cut, "brace");
            for (const double rate : all_rates) {
                CAPTURE(from, cut, rate);
                const survey::Run run = run_in(floor_only(), chart, script, rate);
                CHECK(near(event(run, EventKind::landed).at, from + flight, moment));
            }
        }
    }
}

TEST_CASE("who speeds up towards a wall meets it at its time at every rate, and stands a skin off it") {
    GainSpec gain = ramp(10.0, 10.0, 10.0);
    const Chart chart = compile(leaping(gain));
    for (const double wall : {1.0, 1.5, 1.35, 0.6}) {
        CourseSpec course = floor_only();
        course.boxes.push_back({{wall, -5.0, 0.0}, {wall + 1.0, 5.0, 3.0}, Degrees{0.0}});
        const double way = wall - 0.35 - skin;
        for (const double rate : all_rates) {
            CAPTURE(wall, rate);
            const survey::Run run = run_in(course, chart, Script(1.0).look(0.0, 0.0).move(0.0, ahead), rate);
            const survey::TimedEvent bump = event(run, EventKind::bumped);
            CHECK(near(bump.at, std::sqrt(2.0 * way / 10.0), 1e-7));
            CHECK(near(bump.event.value, std::sqrt(2.0 * way * 10.0), 1e-6));
            CHECK(near(run.runner.position().x, way, 1e-9));
        }
    }
}

TEST_CASE("a body stands a skin above the ground, level or sloping, at every rate and in every tick") {
    const Chart chart = compile(leaping(ramp(20.0, 20.0, 20.0)));
    CourseSpec course = floor_only();
    course.ramps.push_back({{4.0, 0.0, 0.0}, {12.0, 0.0, 4.0}, 6.0, 0.5});
    const double up = std::sqrt(0.8);  // vertical part of the ramp's normal
    for (const double rate : all_rates) {
        const survey::Run run = run_in(course, chart, Script(2.0).look(0.0, 0.0).move(0.0, ahead), rate);
        int level = 0, sloping = 0;
        for (const survey::Sample& sample : run.samples) {
            CAPTURE(rate, sample.at, sample.position.x, sample.position.z);
            if (sample.at > 0.0 && sample.position.x < 3.5) {
                CHECK(near(sample.position.z, skin, 1e-12));
                ++level;
            } else if (sample.position.x > 5.0) {
                // The round underside touches the ramp beside the body's middle.
                const double touch = 0.5 * (sample.position.x - 4.0) + 0.35 * (1.0 / up - 1.0);
                CHECK(near(sample.position.z, touch + skin / up, 1e-9));
                ++sloping;
            }
        }
        CHECK(level > 3);
        CHECK(sloping > 3);
    }
}

TEST_CASE("who is lifted by a state that ends at once stands again at once, in a world as on open ground") {
    ChartSpec spec = leaping();
    StateSpec flit = state("flit", {.forward = 5.0, .side = {}, .back = {}}, ramp(20.0, 20.0, 20.0));
    flit.kind = StateKind::fly;
    flit.fly.up = "brace";
    flit.fly.climb = 4.0;
    flit.fly.sink = 1.0;
    flit.enter = Condition{"brace pressed"};
    flit.stay = Condition{"speed > 8"};
    add_first(spec, flit);
    const Chart chart = compile(spec);
    for (const double at : {0.08, 0.5, 0.611}) {
        Script script(1.0);
        script.look(0.0, 0.0).move(0.0, ahead).hold(at, "brace");
        for (const double rate : all_rates) {
            CAPTURE(at, rate);
            const survey::Run world = run_in(floor_only(), chart, script, rate);
            const survey::Run open = run_at(chart, script, rate);
            for (const survey::Run* run : {&world, &open}) {
                CHECK(near(event(*run, EventKind::lifted).at, at, 1e-9));
                CHECK(near(event(*run, EventKind::landed).at, at, 1e-9));
            }
            CHECK(near(world.runner.position().x, open.runner.position().x, 1e-9));
        }
    }
}

TEST_CASE("a slide pays for the edge that it rolls over alike at every rate") {
    ChartSpec spec = leaping();
    StateSpec slide = state("slide", {.forward = 5.0, .side = {}, .back = {}});
    slide.kind = StateKind::slide;
    slide.slide.friction = 0.0;
    slide.enter = Condition{"brace pressed"};
    slide.stay = Condition{"grounded"};
    add_first(spec, slide);
    const Chart chart = compile(spec);
    CourseSpec course = floor_only();
    course.boxes.push_back({{4.0, -5.0, 0.0}, {40.0, 5.0, 0.2}, Degrees{0.0}});
    Script script(3.0);
    script.look(0.0, 0.0).move(0.0, ahead).hold(0.5, "brace");
    for (const double rate : all_rates) {
        CAPTURE(rate);
        const survey::Run run = run_in(course, chart, script, rate);
        // v^2 - 2 g h on top of the step, whatever the way up; the gravity is 20 m/s^2.
        CHECK(near(run.runner.speed(), std::sqrt(25.0 - 2.0 * 20.0 * 0.2), 1e-3));
        const survey::Run fine = run_in(course, chart, script, 480.0);
        CHECK(near(run.runner.position().x, fine.runner.position().x, 2e-3));
    }
}

TEST_CASE("who is too fast to stick leaves the ground at the edge, at every rate") {
    for (const double speed : {12.5, 20.0}) {
        ChartSpec spec = walker({.forward = speed, .side = {}, .back = {}});
        spec.body.gravity = 20.0;
        spec.body.stick_speed = 12.0;
        const Chart chart = compile(spec);
        for (const double height : {0.002, 0.02, 0.1, 0.3, 0.35, 0.8, 3.0}) {  // the step height is 0.35 m
            CourseSpec course = floor_only();
            course.boxes.push_back({{-10.0, -5.0, 0.0}, {4.0, 5.0, height}, Degrees{0.0}});
            for (const double rate : all_rates) {
                CAPTURE(speed, height, rate);
                const survey::Run run = run_in(course, chart, Script(1.0).look(0.0, 0.0).move(0.0, ahead),
                                               rate, {0.0, 0.0, height + skin});
                CHECK(count(run, EventKind::lifted) == 1);
                CHECK(near(event(run, EventKind::lifted).at, 4.0 / speed, 1e-4));
                const double flight = std::sqrt(2.0 * height / 20.0);
                CHECK(near(event(run, EventKind::landed).at, 4.0 / speed + flight, 1e-4));
            }
        }
    }
}

TEST_CASE("a burst that is too fast to stick keeps its level beyond a crest, however gentle, at every rate") {
    ChartSpec spec = leaping();
    spec.body.stick_speed = 12.0;
    StateSpec dash = state("dash", {.forward = 5.0, .side = {}, .back = {}});
    dash.kind = StateKind::burst;
    dash.burst.along = {{Along::facing}};
    dash.burst.metres = 7.5;
    dash.burst.seconds = 0.5;
    dash.enter = Condition{"brace pressed"};
    add_first(spec, dash);
    const Chart chart = compile(spec);
    for (const double fall :
         {0.007, 0.01, 0.02, 0.1}) {  // m for each metre: it is 5 mm above the ground 0.7 to 0.05 m on
        CourseSpec course = floor_only();
        course.boxes.push_back({{-10.0, -5.0, 0.0}, {4.0, 5.0, 8.0}, Degrees{0.0}});
        course.ramps.push_back({{4.0, 0.0, 8.0}, {44.0, 0.0, 8.0 - 40.0 * fall}, 10.0, 1.0});
        for (const double rate : all_rates) {
            CAPTURE(fall, rate);
            const survey::Run run =
                run_in(course, chart, Script(0.89).look(0.0, 0.0).move(0.0, ahead).hold(0.4, "brace"), rate,
                       {0.0, 0.0, 8.0 + skin});
            CHECK(count(run, EventKind::lifted) == 1);
            CHECK(near(event(run, EventKind::lifted).at, 0.4 + 2.0 / 15.0, 1e-4));
            CHECK(count(run, EventKind::landed) == 0);
            CHECK(near(run.runner.position().z, 8.0 + skin, 1e-6));
        }
    }
}

TEST_CASE("who is too fast to stick flies off a crest, at every rate") {
    const double speed = 12.5;
    ChartSpec spec = walker({.forward = speed, .side = {}, .back = {}});
    spec.body.gravity = 20.0;
    spec.body.stick_speed = 12.0;
    const Chart chart = compile(spec);
    for (const double fall : {0.05, 0.1, 0.2}) {  // m for each metre
        CourseSpec course = floor_only();
        course.boxes.push_back({{-10.0, -5.0, 0.0}, {4.0, 5.0, 8.0}, Degrees{0.0}});
        course.ramps.push_back({{4.0, 0.0, 8.0}, {34.0, 0.0, 8.0 - 30.0 * fall}, 10.0, 1.0});
        // The round underside rests higher on a slope, above the body's middle.
        const double rest = 0.35 * (std::sqrt(1.0 + fall * fall) - 1.0), half = 0.5 * speed * fall / 10.0;
        const double flight = half + std::sqrt(half * half - rest / 10.0);
        for (const double rate : all_rates) {
            CAPTURE(fall, rate);
            const survey::Run run = run_in(course, chart, Script(1.0).look(0.0, 0.0).move(0.0, ahead), rate,
                                           {0.0, 0.0, 8.0 + skin});
            CHECK(count(run, EventKind::lifted) == 1);
            CHECK(near(event(run, EventKind::lifted).at, 4.0 / speed, 1e-4));
            // Ground that comes within the skin as a tick ends is touched in the next one.
            const double late = skin / (speed * fall);
            CHECK(near(event(run, EventKind::landed).at, 4.0 / speed + flight, 1e-4 + late));
        }
    }
}

TEST_CASE("a seam is no edge, however fast one is, at every rate") {
    for (const double speed : {5.0, 15.0}) {
        ChartSpec spec = walker({.forward = speed, .side = {}, .back = {}});
        spec.body.stick_speed = 12.0;
        const Chart chart = compile(spec);
        for (const double lower : {0.0, 1e-5, 2e-4, 8e-4, -8e-4}) {  // m, of the ground beyond
            for (const double gap : {0.0, 1e-3}) {
                CourseSpec course;
                course.name = "seam";
                course.boxes.push_back({{-10.0, -5.0, -1.0}, {3.0, 5.0, 0.0}, Degrees{0.0}});
                course.boxes.push_back({{3.0 + gap, -5.0, -1.0}, {50.0, 5.0, -lower}, Degrees{0.0}});
                for (const double rate : all_rates) {
                    CAPTURE(speed, lower, gap, rate);
                    const survey::Run run = run_in(course, chart, Script(1.0).look(0.0, 0.0).move(0.0, ahead),
                                                   rate, {0.0, 0.0, skin});
                    CHECK(count(run, EventKind::lifted) == 0);
                    CHECK(near(run.runner.position().x, speed, 1e-3));
                    CHECK(near(run.runner.position().z, skin - lower, 1e-9));
                }
            }
        }
    }
}
