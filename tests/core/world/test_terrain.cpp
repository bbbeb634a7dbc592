#include "support/worlds.hpp"

using namespace support;

namespace {

int airborne_samples(const survey::Run& run) {
    int n = 0;
    for (const survey::Sample& sample : run.samples) {
        n += sample.grounded ? 0 : 1;
    }
    return n;
}

/// The leaper at 6.5 m/s.
ChartSpec sprinter() {
    ChartSpec spec = leaper();
    spec.states[0].speed.forward = 6.5;
    return spec;
}

CourseSpec ramp_world(double degrees, double length) {
    CourseSpec spec = floor_only();
    const double rise = length * std::tan(degrees * 3.14159265358979 / 180.0);
    spec.ramps.push_back({{5.0, 0.0, 0.0}, {5.0 + length, 0.0, rise}, 20.0, 0.5});
    spec.boxes.push_back({{5.0 + length, -10.0, rise - 3.0}, {500.0, 10.0, rise}, Degrees{0.0}});
    return spec;
}

}  // namespace

TEST_CASE("on a flat floor a run is that of open ground") {
    const Chart chart = compile(sprinter());
    const Script script = Script(4.0)
                              .move(0.0, ahead)
                              .hold(1.0, "jump")
                              .look(2.0, 70.0)
                              .move(3.0, {.forward = 0.3, .side = 0.4});
    const survey::Run open = run_at(chart, script, 60.0);
    for (const double rate : usual_rates) {
        CAPTURE(rate);
        const survey::Run run = run_in(floor_only(), chart, script, rate);
        REQUIRE(run.visits.size() == open.visits.size());
        for (std::size_t i = 0; i < run.visits.size(); ++i) {
            CHECK(run.visits[i].state == open.visits[i].state);
            CHECK(near(run.visits[i].at, open.visits[i].at, 5e-5));
        }
        CHECK(near(run.runner.position().x, open.runner.position().x, 1e-3));
        CHECK(near(run.runner.position().y, open.runner.position().y, 1e-3));
        CHECK(near(run.runner.position().z, 0.0, 1e-3));
    }
}

TEST_CASE("walking down 35 degrees at sprint speed stays on the ground in every tick") {
    const Chart chart = compile(sprinter());
    CourseSpec spec = ramp_world(35.0, 20.0);
    const double top = 20.0 * std::tan(35.0 * 3.14159265358979 / 180.0);
    for (const double rate : usual_rates) {
        CAPTURE(rate);
        const survey::Run run = run_in(spec, chart, Script(6.0).move(0.0, {.forward = -1.0, .side = 0.0}),
                                       rate, {30.0, 0.0, top});
        CHECK(airborne_samples(run) == 0);
        CHECK(run.visits.size() == 1);
        CHECK(near(run.runner.position().z, 0.0, 1e-3));
        // Speed along the ground is the same everywhere.
        CHECK(near(run.runner.speed(), 6.5, 1e-9));
        CHECK(near(run.runner.distance(), 6.5 * 6.0 - 6.5 * 6.5 / 40.0, 1e-6));
    }
}

TEST_CASE("a ramp is climbed at the same speed, one beyond the slope limit is a wall") {
    const Chart chart = compile(sprinter());
    for (const double rate : usual_rates) {
        CAPTURE(rate);
        const survey::Run up = run_in(ramp_world(35.0, 20.0), chart, Script(3.0).move(0.0, ahead), rate);
        CHECK(near(up.runner.speed(), 6.5, 1e-9));
        CHECK(up.runner.position().z > 5.0);
        CHECK(airborne_samples(up) == 0);
        const survey::Run steep = run_in(ramp_world(55.0, 20.0), chart, Script(3.0).move(0.0, ahead), rate);
        CHECK(steep.runner.position().x < 5.0);
        CHECK(near(steep.runner.position().z, 0.0, 0.01));
        CHECK(steep.runner.speed() < 1e-6);
    }
}

TEST_CASE("slopes change the speed target as the chart says") {
    ChartSpec spec = sprinter();
    spec.body.slope_limit = Degrees{45.0};
    spec.states[0].slope = {.up = 0.5, .down = 1.2};
    const Chart chart = compile(spec);
    const survey::Run up = run_in(ramp_world(30.0, 40.0), chart, Script(4.0).move(0.0, ahead), 60.0);
    const double part = 0.5 / std::sqrt(0.5);  // sin 30 / sin 45
    CHECK(near(up.runner.speed(), 6.5 * (1.0 - 0.5 * part), 1e-6));
    const survey::Run down =
        run_in(ramp_world(30.0, 40.0), chart, Script(3.0).move(0.0, {.forward = -1.0, .side = 0.0}), 60.0,
               {50.0, 0.0, 40.0 * std::tan(3.14159265358979 / 6.0)});
    CHECK(near(down.runner.speed(), 6.5 * (1.0 + 0.2 * part), 1e-6));
}

TEST_CASE("a crest at speed leaves the ground above the chart's limit only") {
    CourseSpec course = ramp_world(25.0, 10.0);
    ChartSpec spec = sprinter();
    spec.body.stick_speed = 6.6;
    const Chart sticking = compile(spec);
    spec.body.stick_speed = 6.4;
    const Chart flying = compile(spec);
    for (const double rate : usual_rates) {
        CAPTURE(rate);
        CHECK(airborne_samples(run_in(course, sticking, Script(3.0).move(0.0, ahead), rate)) == 0);
        const survey::Run flown = run_in(course, flying, Script(3.0).move(0.0, ahead), rate);
        CHECK(count(flown, EventKind::lifted) == 1);
        CHECK(count(flown, EventKind::landed) == 1);
    }
}

TEST_CASE("stairs below the step height do not slow the run, up or down, one above it stops it") {
    const Chart chart = compile(sprinter());
    CourseSpec stairs = floor_only();
    for (int i = 0; i < 10; ++i) {
        stairs.boxes.push_back({{5.0 + 0.3 * i, -5.0, -1.0}, {100.0, 5.0, 0.2 * (i + 1)}, Degrees{0.0}});
    }
    for (const double rate : usual_rates) {
        CAPTURE(rate);
        const survey::Run up = run_in(stairs, chart, Script(3.0).move(0.0, ahead), rate);
        CHECK(near(up.runner.position().x, 6.5 * 3.0 - 6.5 * 6.5 / 40.0, 1e-6));
        CHECK(near(up.runner.position().z, 2.0, 1e-3));
        CHECK(airborne_samples(up) == 0);
        const survey::Run down = run_in(stairs, chart, Script(3.0).move(0.0, {.forward = -1.0, .side = 0.0}),
                                        rate, {15.0, 0.0, 2.0});
        CHECK(near(down.runner.position().x, 15.0 - 6.5 * 3.0 + 6.5 * 6.5 / 40.0, 1e-6));
        CHECK(near(down.runner.position().z, 0.0, 1e-3));
        CHECK(airborne_samples(down) == 0);
    }
    CourseSpec block = floor_only();
    block.boxes.push_back({{5.0, -5.0, 0.0}, {10.0, 5.0, 0.4}, Degrees{0.0}});
    const survey::Run stopped = run_in(block, chart, Script(3.0).move(0.0, ahead), 60.0);
    CHECK(stopped.runner.position().x < 5.0);
    CHECK(stopped.runner.speed() == 0.0);
    CHECK(near(event(stopped, EventKind::bumped).event.value, 6.5, 1e-6));
}

TEST_CASE("along a wall the run slides, it ends, and the run turns to its target again") {
    const Chart chart = compile(sprinter());
    CourseSpec spec = floor_only();
    spec.walls.push_back({{0.0, 3.0, 0.0}, {20.0, 3.0, 0.0}, 3.0, 0.2});
    const Script script = Script(5.0).look(0.0, 30.0).move(0.0, ahead);
    for (const double rate : usual_rates) {
        CAPTURE(rate);
        const survey::Run run = run_in(spec, chart, script, rate);
        for (const survey::Sample& sample : run.samples) {
            CHECK((sample.position.x > 19.9 || sample.position.y <= 2.9 - 0.35 + 1e-6));
        }
        CHECK(run.runner.position().y > 3.0);  // past the end
        CHECK(near(run.runner.speed(), 6.5, 1e-6));
        CHECK(count(run, EventKind::bumped) == 1);
        static double first_y = run.runner.position().y;
        CHECK(near(run.runner.position().y, first_y, 0.01));
    }
}

TEST_CASE("nothing passes through a wall, at 200 m/s and more") {
    ChartSpec spec = leaper();
    spec.actions.push_back({.name = "dash"});
    StateSpec dash = kind("dash", StateKind::burst);
    dash.burst.speed = 200.0;
    dash.burst.seconds = 0.5;
    dash.enter = Condition{"dash pressed"};
    add_first(spec, dash);
    const Chart chart = compile(spec);
    spec.states.back().burst.speed = 20000.0;
    const Chart blink = compile(spec);
    CourseSpec world = floor_only();
    world.walls.push_back({{30.0, -50.0, 0.0}, {30.0, 50.0, 0.0}, 5.0, 0.01});
    for (const double rate : {10.0, 20.0, 240.0}) {
        for (const Chart& each : {chart, blink}) {
            const survey::Run run = run_in(world, each, Script(2.0).hold(0.5, "dash"), rate);
            CHECK(run.runner.position().x < 29.65);
            CHECK(run.runner.position().x > 29.6);
            CHECK(run.ticks_capped == 0);
        }
    }
}

TEST_CASE("a dash into a slope climbs it, off an edge goes on level, under a ceiling stays below it") {
    ChartSpec spec = leaper();
    spec.actions.push_back({.name = "dash"});
    StateSpec dash = kind("dash", StateKind::burst);
    dash.burst.metres = 6.0;
    dash.burst.seconds = 0.5;
    dash.burst.after = After::keep;
    dash.enter = Condition{"dash pressed"};
    add_first(spec, dash);
    const Chart chart = compile(spec);
    for (const double rate : usual_rates) {
        CAPTURE(rate);
        const survey::Run slope =
            run_in(ramp_world(30.0, 20.0), chart, Script(0.7).hold(0.1, "dash"), rate, {4.0, 0.0, 0.0});
        CHECK(slope.runner.position().z > 2.0);
        CHECK(near(slope.visits[1].distance, 6.0, 0.01));
        CourseSpec edge;
        edge.name = "edge";
        edge.boxes.push_back({{-10.0, -10.0, -1.0}, {2.0, 10.0, 0.0}, Degrees{0.0}});
        const survey::Run off = run_in(edge, chart, Script(0.65).hold(0.1, "dash"), rate);
        CHECK(near(off.visits[1].distance, 6.0, 1e-6));
        CHECK(off.samples[off.samples.size() * 58 / 65].position.z > -0.13);
        CHECK(off.runner.grounded() == false);
        CourseSpec low = floor_only();
        low.ceilings.push_back({{1.0, -5.0, 1.9}, {20.0, 5.0, 1.9}, 0.3});
        const survey::Run under =
            run_in(low, chart, Script(0.7).look(0.0, 0.0, 40.0).hold(0.1, "dash"), rate);
        CHECK(under.runner.position().z < 0.1);
        CHECK(under.runner.position().x > 5.0);
    }
}

TEST_CASE("under a low ceiling the body stays low, and stands up by itself once it is out") {
    ChartSpec spec = leaper();
    spec.actions.push_back({.name = "crouch"});
    StateSpec crouch = state("crouch", {.forward = 2.0, .side = {}, .back = {}}, ramp(20.0, 20.0, 20.0));
    crouch.low = true;
    crouch.enter =
        Condition(std::vector<std::vector<std::string>>{{"crouch on", "grounded"}, {"not headroom"}});
    add_first(spec, crouch);
    const Chart chart = compile(spec);
    CourseSpec course = floor_only();
    course.ceilings.push_back({{3.0, -5.0, 1.3}, {6.0, 5.0, 1.3}, 0.3});
    const Script script = Script(6.0).move(0.0, ahead).hold(0.0, "crouch").release(2.0, "crouch");
    double rises = 0.0;
    for (const double rate : usual_rates) {
        CAPTURE(rate);
        const survey::Run run = run_in(course, chart, script, rate);
        // At 2 s it is at 3.9 m, under the ceiling; it ends at 6 m and lets the head out a little later.
        REQUIRE(run.visits.size() == 3);
        CHECK(chart.name(run.visits[1].state) == "crouch");
        CHECK(chart.describe(run.visits[2].cause) == "enter: headroom");
        CHECK(near(run.visits[2].at, (6.0 + 0.1) / 2.0, 0.2));
        rises = rises == 0.0 ? run.visits[2].at : rises;
        CHECK(near(run.visits[2].at, rises, 2e-4));
        // Standing up, it does not fit in from the other side.
        const survey::Run tall = run_in(course, chart, Script(3.0).move(0.0, ahead), rate);
        CHECK(tall.runner.position().x < 3.0);
    }
}

TEST_CASE("coyote time: a jump still counts shortly after the edge, and is the first") {
    ChartSpec spec = sprinter();
    spec.body.coyote = 0.1;
    spec.states[2].launch.heights = std::vector<double>{1.6};
    spec.states[2].enter = Condition{"jump pressed", "footing"};
    const Chart chart = compile(spec);
    CourseSpec course;
    course.name = "edge";
    course.boxes.push_back({{-10.0, -5.0, -1.0}, {10.0, 5.0, 0.0}, Degrees{0.0}});
    const survey::Run fallen = run_in(course, chart, Script(2.5).move(0.0, ahead), 240.0);
    const double edge = event(fallen, EventKind::lifted).at;
    for (const double rate : usual_rates) {
        CAPTURE(rate);
        const auto jumps = [&](double at) {
            return count(run_in(course, chart, Script(2.5).move(0.0, ahead).hold(at, "jump"), rate),
                         EventKind::jumped);
        };
        CHECK(near(event(run_in(course, chart, Script(2.5).move(0.0, ahead), rate), EventKind::lifted).at,
                   edge, 1e-4));
        CHECK(jumps(edge + 0.09) == 1);
        CHECK(jumps(edge + 0.11) == 0);
    }
}

TEST_CASE("a platform carries whoever stands on it, and hands its speed on at a jump") {
    const Chart chart = compile(leaper());
    CourseSpec course = floor_only();
    course.platforms.push_back({{4.0, 4.0, 1.0}, {{0.0, 0.0, 1.0}, {20.0, 0.0, 1.0}}, 2.0, 1.0});
    course.platforms.push_back({{4.0, 4.0, 1.0}, {{0.0, 20.0, 1.0}, {0.0, 20.0, 6.0}}, 1.0, 0.0});
    for (const double rate : usual_rates) {
        CAPTURE(rate);
        const survey::Run carried = run_in(course, chart, Script(14.0), rate, {0.0, 0.0, 1.0});
        // 10 s there, 1 s of rest, 3 s back.
        CHECK(near(carried.runner.position().x, 14.0, 1e-3));
        CHECK(airborne_samples(carried) == 0);
        const survey::Run lifted = run_in(course, chart, Script(3.0), rate, {0.0, 20.0, 1.0});
        CHECK(near(lifted.runner.position().z, 4.0, 2e-3));
        const survey::Run jumped =
            run_in(course, chart, Script(1.3).hold(1.0, "jump"), rate, {0.0, 0.0, 1.0});
        CHECK(near(jumped.runner.velocity().x, 2.0, 1e-6));
        // A platform that comes against it pushes it along.
        const survey::Run shoved = run_in(course, chart, Script(5.0), rate, {4.0, 0.0, 0.0});
        CHECK(shoved.runner.position().x > 10.0 + 2.0 + 0.34);
    }
}

namespace {

/// Counts what a terrain is asked.
class Counted final : public Terrain {
  public:
    explicit Counted(const Terrain& inner) : inner_(inner) {}
    mutable int asked = 0;
    bool sweep(const Sweep& sweep, Hit& hit) const noexcept override {
        ++asked;
        return inner_.sweep(sweep, hit);
    }
    bool overlap(const Capsule& body, const glm::dvec3& feet, double at,
                 Overlap& overlap) const noexcept override {
        ++asked;
        return inner_.overlap(body, feet, at, overlap);
    }

  private:
    const Terrain& inner_;
};

}  // namespace

TEST_CASE("however fast and small a body is, a tick asks a bounded number of times and covers its way") {
    ChartSpec spec = walker({.forward = 400.0});
    spec.body.radius = 0.05;
    spec.body.height = 0.2;
    spec.body.step_height = 0.05;
    const Chart chart = compile(spec);
    const Course course(floor_only());
    const CourseTerrain flat(course, chart);
    const Counted terrain(flat);
    Runner runner = spawn(chart, {{-200.0, 0.0, 0.0}, 0.0});
    Intent intent;
    intent.move = ahead;
    for (int i = 1; i <= 5; ++i) {
        terrain.asked = 0;
        static_cast<void>(advance(chart, runner, intent, terrain, Seconds{0.1}));
        CHECK(near(runner.position().x, -200.0 + 40.0 * i, 1e-6));
        CHECK(terrain.asked <= 2 * 256 + 8);  // twice in each stride
    }
}

TEST_CASE("a body that takes no step, or next to none, keeps to the floor and to a slope as any other") {
    for (const double step : {0.0, 1e-5, 1e-4, 2e-4, 1e-3, 0.35}) {
        ChartSpec spec = sprinter();
        spec.body.step_height = step;
        const Chart chart = compile(spec);
        const double high = 15.0 * std::tan(20.0 * 3.14159265358979 / 180.0);
        for (const double rate : usual_rates) {
            CAPTURE(step, rate);
            const survey::Run flat =
                run_in(floor_only(), chart, Script(3.0).move(0.0, ahead).look(1.0, 120.0), rate);
            CHECK(airborne_samples(flat) == 0);
            CHECK(flat.visits.size() == 1);
            const survey::Run down = run_in(
                ramp_world(20.0, 20.0), chart, Script(4.0).move(0.0, {.forward = -1.0, .side = 0.0}), rate,
                {20.0, 0.0, high});  // on the slope: over its crest it would fly, as nothing holds it
            CHECK(airborne_samples(down) == 0);
            CHECK(down.visits.size() == 1);
            CHECK(near(down.runner.position().z, 0.0, 1e-3));
        }
    }
}

TEST_CASE("who walks on a floor keeps a skin of 0.1 to 0.15 mm from it") {
    const Chart chart = compile(leaper());
    const survey::Run run = run_in(floor_only(), chart, Script(2.0).move(0.0, ahead), 60.0);
    for (const survey::Sample& sample : run.samples) {
        if (sample.position.x > 0.0) {
            CHECK(sample.position.z >= 0.99e-4);
            CHECK(sample.position.z <= 1.51e-4);
        }
    }
}
