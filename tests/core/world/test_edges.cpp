#include "support/all_ways.hpp"
#include "support/worlds.hpp"

/// What bears a runner where it touches an edge, leaves a surface or skims it.
using namespace support;

TEST_CASE("a slide that comes down on the top edge of a ramp gains no energy while it rolls over the edge") {
    // The edge holds the body up where the slope's plane would have let it down already: that height is paid for.
    const Chart chart = compile(all_ways());
    CourseSpec spec = floor_only();
    spec.ramps.push_back({{4.0, 0.0, 0.0}, {0.0, 0.0, 3.7}, 4.0, 0.6});
    const Course course(spec);
    const CourseTerrain terrain(course, chart);
    int rolling = 0;
    for (int i = 0; i < 40; ++i) {
        Runner runner = spawn(chart, {{-0.1 + 0.01 * i, 0.0, 11.0}, 0.0});  // straight down onto the edge
        Intent intent;
        intent.hold(chart.action("crouch"));
        const auto energy = [&] {
            return 0.5 * runner.speed() * runner.speed() + 20.0 * runner.position().z;
        };
        double before = 1e9;
        for (int tick = 0; tick < 90; ++tick) {
            static_cast<void>(advance(chart, runner, intent, terrain, Seconds{1.0 / 60.0}));
            const bool slides = chart.name(runner.state()) == "slide";
            CAPTURE(i, tick, runner.position().x, runner.position().z, runner.speed());
            if (slides) {
                CHECK(energy() <= before + 0.05);
                // The foot's sphere is 0.35 m from the slope's plane once it is off the edge.
                const double middle = runner.position().z + 0.35 - 3.7 + 0.925 * runner.position().x;
                rolling += middle < 0.34 * std::sqrt(1.0 + 0.925 * 0.925) ? 1 : 0;
            }
            before = slides ? energy() : 1e9;
        }
    }
    CHECK(rolling > 10);
}

TEST_CASE("what moves away from something steep is not borne by it any longer") {
    const Chart chart = compile(all_ways());
    CourseSpec spec = floor_only();
    spec.ramps.push_back({{0.0, 0.0, 0.0}, {3.0, 0.0, 6.0}, 4.0, 0.6});  // 63 degrees: nobody stands on it
    const Course course(spec);
    const CourseTerrain terrain(course, chart);
    Runner runner = spawn(chart, {{1.8, 0.0, 4.2}, 0.0});
    const auto energy = [&] { return 0.5 * runner.speed() * runner.speed() + 20.0 * runner.position().z; };
    const auto pass = [&](double seconds) { return advance(chart, runner, {}, terrain, Seconds{seconds}); };
    for (int tick = 0; tick < 30; ++tick) {
        static_cast<void>(pass(0.01));
    }
    REQUIRE(runner.velocity().x < -1.0);  // it glides down along the slope
    CHECK(push(runner, {{-1.0, 0.0, 0.0}, 0.15, 0.0, 0.0, false, false}));
    static_cast<void>(pass(0.001));
    for (int tick = 0; tick < 10; ++tick) {
        const double before = energy();
        CAPTURE(tick, runner.position().x, runner.position().z);
        const Report report = pass(0.01);
        CHECK(energy() <= before + 1e-3);
        CHECK_FALSE(report.instants_capped);
    }
}

TEST_CASE("a level dash some millimetres above the ground reaches it once, and goes all its way") {
    const Chart chart = compile(all_ways());
    const Course course(floor_only());
    const CourseTerrain terrain(course, chart);
    for (const double height : {0.0005, 0.002, 0.0049, 0.0051, 0.02}) {  // m at which the dash begins
        CAPTURE(height);
        Runner runner = spawn(chart, {{0.0, 0.0, 0.5}, 0.0});
        const double when = std::sqrt((0.5 - height) / 10.0);  // falling at 20 m/s^2
        IntentBuilder input;
        int landed = 0, lifted = 0;
        for (double begin = 0.0; begin < 0.6; begin += 1.0 / 60.0) {
            if (begin <= when && when < begin + 1.0 / 60.0) {
                CHECK(input.press(chart.action("dash"), when - begin));
            }
            const Report report = advance(chart, runner, input.intent(), terrain, Seconds{1.0 / 60.0});
            input.next_tick();
            landed += static_cast<int>(count(report, EventKind::landed));
            lifted +=
                begin > 0.0 ? static_cast<int>(count(report, EventKind::lifted)) : 0;  // spawned in the air
            CHECK_FALSE(report.instants_capped);
        }
        CHECK(near(runner.position().x, 200.0 * 0.1, 0.01));
        CHECK(landed == 1);
        CHECK(lifted == 0);
        CHECK(near(runner.position().z, 0.0, 1e-3));
    }
}

TEST_CASE("under an overhang the ground bears nothing of what the slope beyond pulls") {
    const Chart chart = compile(all_ways());
    CourseSpec spec = floor_only();
    spec.ramps.push_back({{8.0, 0.0, 0.5}, {2.0, 0.0, 3.5}, 8.0, 0.3});  // its underside, towards the runner
    spec.ramps.push_back({{0.0, 5.0, 0.0}, {0.0, 25.0, 4.0}, 14.0, 0.5});  // and the slope
    const Course course(spec);
    const CourseTerrain terrain(course, chart);
    for (const double heading : {0.2, 0.5, 0.8}) {  // rad
        CAPTURE(heading);
        Runner runner = spawn(chart, {{0.0, -3.0, 0.0}, 0.0});
        Intent intent;
        intent.move = {1.0, 0.0};
        intent.hold(chart.action("sprint"));
        double farthest = 0.0, before = 1e9;
        int slid = 0;
        for (int tick = 0; tick < 200; ++tick) {
            const bool away = tick > 50;  // it has met the overhang, and runs to the slope
            intent.look.yaw = away ? 1.8 : heading;
            if (runner.position().y > 7.0) {
                intent.hold(chart.action("crouch"));
            }
            const Report report = advance(chart, runner, intent, terrain, Seconds{1.0 / 60.0});
            const double energy = 0.5 * runner.speed() * runner.speed() + 20.0 * runner.position().z;
            const bool slides = chart.name(runner.state()) == "slide";
            CAPTURE(tick, runner.position().x, runner.position().y, runner.position().z, runner.speed());
            CHECK(runner.grounded());
            CHECK_FALSE(report.instants_capped);
            if (slides) {
                CHECK(energy <= before + 0.05);
                ++slid;
            }
            farthest = std::max(farthest, runner.position().x);
            before = slides ? energy : 1e9;
        }
        CHECK(farthest > 3.5);
        CHECK(farthest < 5.0);
        CHECK(slid > 20);
    }
}

TEST_CASE("who walks off an edge lands at one time and place at every tick rate, slow or fast") {
    for (const double speed : {1.0, 2.4, 5.0, 7.0}) {
        for (const double height : {0.5, 0.8, 5.0}) {
            for (const double gravity : {10.0, 20.0}) {
                CAPTURE(speed, height, gravity);
                ChartSpec spec = leaper();
                spec.states[0].speed.forward = speed;
                spec.body.gravity = gravity;
                for (StateSpec& state : spec.states) {
                    state.air.fall_gravity = gravity;
                }
                const Chart chart = compile(spec);
                CourseSpec course;
                course.name = "ledge";
                course.boxes.push_back({{-10.0, -5.0, -2.0}, {2.0, 5.0, 0.0}, Degrees{0.0}});
                course.boxes.push_back({{-10.0, -5.0, -2.0 - height}, {100.0, 5.0, -height}, Degrees{0.0}});
                const Script script = Script(2.0 / speed + 2.0).move(0.0, {1.0, 0.0});
                std::optional<std::vector<double>> first;
                std::optional<glm::dvec3> place;
                for (const double rate : {20.0, 37.0, 60.0, 90.0, 240.0}) {
                    CAPTURE(rate);
                    const survey::Run run = run_in(course, chart, script, rate);
                    std::vector<double> times;
                    for (const survey::TimedEvent& event : run.events) {
                        if (event.event.kind == EventKind::lifted || event.event.kind == EventKind::landed) {
                            times.push_back(event.at);
                        }
                    }
                    REQUIRE(times.size() == 2);
                    first = first.value_or(times);
                    place = place.value_or(run.runner.position());
                    CHECK(near(times[0], (*first)[0], 1e-4));
                    CHECK(near(times[1], (*first)[1], 1e-3));
                    CHECK(near(run.runner.position().x, place->x, 1e-3));
                }
                // Rolled off the edge a little lower than it, it falls less than freely from its height.
                CHECK((*first)[1] - (*first)[0] < std::sqrt(2.0 * height / gravity) + 1e-3);
            }
        }
    }
}

TEST_CASE("a gap that the body bridges is run over, and its far edge throws nobody up") {
    for (const double speed : {1.0, 3.0, 4.6, 7.0}) {
        ChartSpec spec = leaper();
        spec.states[0].speed.forward = speed;
        const Chart chart = compile(spec);
        CourseSpec course;
        course.name = "gap";
        course.boxes.push_back({{-10.0, -5.0, -2.0}, {2.0, 5.0, 0.0}, Degrees{0.0}});
        course.boxes.push_back({{2.5, -5.0, -2.0}, {100.0, 5.0, 0.0}, Degrees{0.0}});
        for (const double rate : {20.0, 60.0, 240.0}) {
            CAPTURE(speed, rate);
            const survey::Run run =
                run_in(course, chart, Script(3.0 / speed + 1.0).move(0.0, {1.0, 0.0}), rate);
            double highest = 0.0;
            for (const survey::Sample& sample : run.samples) {
                highest = std::max(highest, sample.position.z);
            }
            CHECK(highest < 1e-3);
            CHECK(run.runner.grounded());
            CHECK(run.runner.position().x > 3.0);
            CHECK(run.runner.position().z > -1e-3);
        }
    }
}

TEST_CASE("what comes down on an edge lands or leaves it, and does not do both over and over") {
    ChartSpec chart_spec = all_ways();
    chart_spec.body.gravity = 9.81;
    for (StateSpec& state : chart_spec.states) {
        state.air.fall_gravity = 26.0;
    }
    const Chart chart = compile(chart_spec);
    CourseSpec spec;
    spec.name = "jetty";
    spec.boxes.push_back({{-100.0, -100.0, -9.0}, {100.0, 100.0, -8.0}, Degrees{0.0}});
    spec.boxes.push_back({{-100.0, -4.0, -2.0}, {100.0, 4.0, 0.0}, Degrees{0.0}});
    const Course course(spec);
    const CourseTerrain terrain(course, chart);
    int left = 0, stayed = 0;
    for (const double height : {0.0, 0.3, 1.0}) {
        for (int beyond = -10; beyond <= 34; beyond += 4) {  // cm past the edge
            for (const double yaw : {0.0, 10.0, 30.0, 60.0, 90.0, 120.0, 180.0}) {
                for (const double speed : {1.0, 2.0, 3.0, 5.0, 9.0}) {
                    CAPTURE(height, beyond, yaw, speed);
                    Runner runner = spawn(chart, {{0.0, 4.0 + 0.01 * beyond, height}, 0.0});
                    const double turn = Degrees{yaw}.radians();
                    REQUIRE(
                        push(runner, {{std::cos(turn), std::sin(turn), 0.0}, speed, 0.0, 0.0, false, true}));
                    int instants = 0;
                    for (int tick = 0; tick < 40; ++tick) {
                        const Report report = advance(chart, runner, {}, terrain, Seconds{1.0 / 60.0});
                        CHECK_FALSE(report.instants_capped);
                        instants += report.instants;
                    }
                    CHECK(instants < 30);
                    ++(runner.position().z < -0.5 ? left : stayed);
                }
            }
        }
    }
    CHECK(left > 100);
    CHECK(stayed > 100);
}

TEST_CASE("whoever walks along the foot of something steep stands on the ground all the while") {
    const Chart chart = compile(leaper());
    for (const double steep : {1.3, 1.7, 2.5, 6.0}) {  // rise over run
        CourseSpec spec = floor_only();
        spec.ramps.push_back({{2.0, 0.0, 0.0}, {5.0, 0.0, 3.0 * steep}, 60.0, 0.6});
        const Course course(spec);
        const CourseTerrain terrain(course, chart);
        for (const double yaw : {0.0, 0.7, 1.3, -1.5}) {
            for (const double rate : {20.0, 37.0, 60.0, 240.0}) {
                CAPTURE(steep, yaw, rate);
                Runner runner = spawn(chart, {{0.0, 0.0, 0.0}, 0.0});
                Intent intent;
                intent.move = {1.0, 0.0};
                intent.look.yaw = yaw;
                std::size_t lifted = 0;
                for (int tick = 0; tick < static_cast<int>(4.0 * rate); ++tick) {
                    const Report report = advance(chart, runner, intent, terrain, Seconds{1.0 / rate});
                    lifted += count(report, EventKind::lifted);
                    CHECK_FALSE(report.instants_capped);
                }
                CHECK(lifted == 0);
                CHECK(runner.position().z < 2e-3);
                CHECK(near(runner.position().y, 5.0 * std::sin(yaw) * 4.0, 0.7));
            }
        }
    }
}

TEST_CASE("whoever speeds up as it rolls over an edge leaves it at one moment, however time is cut") {
    CourseSpec spec;
    spec.name = "jetty";
    spec.boxes.push_back({{-100.0, -100.0, -9.0}, {100.0, 100.0, -8.0}, Degrees{0.0}});
    spec.boxes.push_back({{-100.0, -4.0, -2.0}, {0.0, 4.0, 0.0}, Degrees{0.0}});
    const Course course(spec);
    int left = 0;
    for (const double pull : {10.0, 20.0, 30.0, 50.0}) {
        ChartSpec chart_spec = leaper(ramp(pull, pull, pull));
        chart_spec.body.gravity = 3.0;  // so that the speed decides, and not how far it leans over
        for (StateSpec& state : chart_spec.states) {
            state.air.fall_gravity = 3.0;
        }
        const Chart chart = compile(chart_spec);
        const CourseTerrain terrain(course, chart);
        for (const double beyond : {0.02, 0.05, 0.08, 0.12}) {
            std::optional<double> first;
            for (const double rate : {1000.0, 240.0, 60.0, 37.0, 20.0}) {
                for (const bool plainly : {false, true}) {
                    CAPTURE(pull, beyond, rate, plainly);
                    const double low = std::sqrt(0.35 * 0.35 - beyond * beyond) - 0.35;
                    Runner runner = spawn(chart, {{beyond, 0.0, low + 0.001}, 0.0});
                    Intent intent;
                    double at = -1.0;
                    for (int tick = 0; at < 0.0 && tick < rate; ++tick) {
                        intent.move.forward = tick < rate / 5.0 ? 0.0 : 1.0;
                        const Change same = Change::look_to(intent.look, 0.0);
                        intent.changes = plainly ? std::span(&same, 1) : std::span<const Change>();
                        const Report report = advance(chart, runner, intent, terrain, Seconds{1.0 / rate});
                        for (const Event& event : report.events()) {
                            if (event.kind == EventKind::lifted) {
                                at = tick / rate + event.at - std::ceil(rate / 5.0) / rate;
                            }
                        }
                    }
                    first = first.value_or(at);
                    CHECK(near(at, *first, 1e-3));
                    left += at > 0.0 ? 1 : 0;
                }
            }
        }
    }
    CHECK(left > 100);
}
