#include <catch2/catch.hpp>
#include <glm/geometric.hpp>
#include <random>

#include "support/bearer.hpp"
#include "support/leaper.hpp"

using namespace support;

namespace {

constexpr double ln_two = 0.6931471805599453;

/// Position and speed after `seconds` of moving ahead, by ticks of any length.
void check_after(const ChartSpec& spec, double seconds, double distance, double speed) {
    const Chart chart = compile(spec);
    for (const double dt : {0.001, 1.0 / 144.0, 1.0 / 60.0, 1.0 / 20.0, 0.1}) {
        Runner runner = spawn(chart);
        pass(chart, runner, ahead, seconds, dt);
        CAPTURE(dt, seconds);
        CHECK(near(runner.position().x, distance, 1e-11));
        CHECK(near(runner.distance(), distance, 1e-11));
        CHECK(near(runner.speed(), speed, 1e-11));
        CHECK(runner.position().y == 0.0);
    }
}

}  // namespace

TEST_CASE("instant: the speed is the target from the first moment on") {
    check_after(walker({.forward = 3.0, .side = {}, .back = {}}), 0.7, 2.1, 3.0);
}

TEST_CASE("ramp: v = a t, x = a t^2 / 2, top speed after v / a") {
    const ChartSpec spec = walker({.forward = 6.0, .side = {}, .back = {}}, ramp(12.0, 16.0, 10.0));
    check_after(spec, 0.3, 0.5 * 12.0 * 0.09, 3.6);
    // Top speed after 0.5 s and 1.5 m; from then on steady.
    check_after(spec, 0.5, 1.5, 6.0);
    check_after(spec, 1.25, 1.5 + 0.75 * 6.0, 6.0);
}

TEST_CASE("ramp: letting go brakes at the idle rate: v^2 / 2a") {
    const Chart chart = compile(walker({.forward = 6.0, .side = {}, .back = {}}, ramp(12.0, 16.0, 10.0)));
    for (const double dt : {0.001, 0.017, 0.1}) {
        Runner runner = spawn(chart);
        pass(chart, runner, ahead, 1.0, dt);
        const double before = runner.position().x;
        pass(chart, runner, {}, 0.6 + 0.3, dt);  // 6 / 10 = 0.6 s to stop
        CHECK(near(runner.position().x - before, 36.0 / 20.0, 1e-11));
        CHECK(runner.speed() == 0.0);
    }
}

TEST_CASE("ramp: turning round brakes at `down` to a stop, then speeds up at `up`") {
    const Chart chart = compile(walker({.forward = 6.0, .side = 6.0, .back = 4.0}, ramp(12.0, 16.0, 10.0)));
    const Move back{.forward = -1.0, .side = 0.0};
    for (const double dt : {0.001, 0.013, 0.1}) {
        Runner runner = spawn(chart);
        pass(chart, runner, ahead, 1.0, dt);
        const double start = runner.position().x, walked = runner.distance();
        const double braking = 6.0 / 16.0, speeding = 4.0 / 12.0;
        pass(chart, runner, back, braking + speeding, dt);
        CHECK(near(runner.velocity().x, -4.0, 1e-11));
        const double forth = 36.0 / 32.0, hither = 16.0 / 24.0;
        CHECK(near(runner.position().x - start, forth - hither, 1e-11));
        CHECK(near(runner.distance() - walked, forth + hither, 1e-11));
    }
}

TEST_CASE("ramp: a turn walks the arc of its velocities, whose length has a closed form") {
    // From 3 m/s ahead to 3 m/s to the left at 9 m/s^2 on all counts: the velocity runs along the
    // chord, w from -3/sqrt2 to 3/sqrt2 with p = 3/sqrt2. The path is p^2 (sqrt2 + asinh 1) / a.
    const Chart chart = compile(walker({.forward = 3.0, .side = 3.0, .back = 3.0}, ramp(9.0, 9.0, 9.0)));
    for (const double dt : {0.001, 0.0123, 0.1}) {
        Runner runner = spawn(chart);
        pass(chart, runner, ahead, 1.0, dt);
        const double before = runner.distance();
        const double seconds = 3.0 * std::sqrt(2.0) / 9.0;
        pass(chart, runner, {.forward = 0.0, .side = -1.0}, seconds, dt);
        const double p = 3.0 / std::sqrt(2.0);
        CHECK(near(runner.distance() - before, p * p * (std::sqrt(2.0) + std::asinh(1.0)) / 9.0, 1e-11));
        CHECK(near(runner.velocity().y, 3.0, 1e-11));
        CHECK(near(runner.velocity().x, 0.0, 1e-11));
    }
}

TEST_CASE("ease: the difference halves in each half-life") {
    const double h = 0.2, v = 4.0;
    const ChartSpec spec = walker({.forward = v, .side = {}, .back = {}}, ease(h, 0.1, 0.05));
    for (const double t : {0.05, 0.2, 0.6, 2.0}) {
        const double left = std::exp2(-t / h);
        check_after(spec, t, v * t - v * (1.0 - left) * h / ln_two, v * (1.0 - left));
    }
}

TEST_CASE("ease: it arrives, so that nothing creeps for ever") {
    const Chart chart = compile(walker({.forward = 4.0, .side = {}, .back = {}}, ease(0.1, 0.1, 0.1)));
    Runner runner = spawn(chart);
    pass(chart, runner, ahead, 10.0);
    CHECK(runner.speed() == 4.0);
    pass(chart, runner, {}, 10.0);
    CHECK(runner.speed() == 0.0);
    const double there = runner.position().x;
    pass(chart, runner, {}, 1.0);
    CHECK(runner.position().x == there);
}

TEST_CASE("ease: the path of a turn agrees with a numeric integral") {
    const Chart chart = compile(walker({.forward = 3.0, .side = 2.0, .back = 1.0}, ease(0.3, 0.2, 0.1)));
    Runner fine = spawn(chart), coarse = fine;
    pass(chart, fine, ahead, 3.0, 0.1);
    coarse = fine;
    const Move turn{.forward = -0.4, .side = 0.9};
    double sum = 0.0;
    // Simpson's rule over many small ticks, from the speeds alone.
    const int steps = 4000;
    const double dt = 0.8 / steps;
    double last = fine.speed(), start = fine.distance();
    for (int i = 0; i < steps; i += 2) {
        static_cast<void>(tick(chart, fine, turn, {}, dt));
        const double middle = fine.speed();
        static_cast<void>(tick(chart, fine, turn, {}, dt));
        sum += dt / 3.0 * (last + 4.0 * middle + fine.speed());
        last = fine.speed();
    }
    pass(chart, coarse, turn, 0.8, 0.1);
    CHECK(near(coarse.distance() - start, sum, 1e-7));  // the rule's own error at the bend
    CHECK(near(coarse.distance(), fine.distance(), 1e-11));
}

TEST_CASE("curve: key points are met at their times, with straight lines between") {
    const ChartSpec spec =
        walker({.forward = 5.0, .side = {}, .back = {}},
               curve({{0.0, 0.0}, {0.2, 0.6}, {1.0, 1.0}}, {{0.0, 1.0}, {0.4, 0.5}, {0.5, 0.0}}));
    check_after(spec, 0.1, 0.5 * 0.1 * 1.5, 1.5);
    check_after(spec, 0.2, 0.5 * 0.2 * 3.0, 3.0);
    check_after(spec, 0.6, 0.3 + 0.4 * (3.0 + 4.0) / 2.0, 4.0);
    check_after(spec, 1.0, 0.3 + 0.8 * 4.0, 5.0);
    check_after(spec, 2.0, 0.3 + 3.2 + 5.0, 5.0);
}

TEST_CASE("curve: letting go half-way goes back from where it is, without a jump in speed") {
    const Chart chart =
        compile(walker({.forward = 5.0, .side = {}, .back = {}},
                       curve({{0.0, 0.0}, {1.0, 1.0}}, {{0.0, 1.0}, {0.4, 0.5}, {0.5, 0.0}})));
    Runner runner = spawn(chart);
    pass(chart, runner, ahead, 0.7, 0.01);
    CHECK(near(runner.speed(), 3.5, 1e-11));
    static_cast<void>(tick(chart, runner, {}, {}, 1e-6));
    CHECK(near(runner.speed(), 3.5, 1e-4));
    // From 0.7 on the falling curve: 0.16 s to 0.5, then 0.1 s to standing.
    pass(chart, runner, {}, 0.16 - 1e-6, 0.01);
    CHECK(near(runner.speed(), 2.5, 1e-10));
    pass(chart, runner, {}, 0.1, 0.01);
    CHECK(near(runner.speed(), 0.0, 1e-10));
    // And up again from half-way down.
    pass(chart, runner, ahead, 0.5, 0.01);
    pass(chart, runner, {}, 0.02, 0.01);
    const double speed = runner.speed();
    pass(chart, runner, ahead, 0.1, 0.01);
    CHECK(near(runner.speed(), speed + 0.5, 1e-10));
}

TEST_CASE("curve: without a falling curve the rising one runs backwards") {
    GainSpec gain;
    gain.law = GainLaw::curve;
    gain.up_curve = {{0.0, 0.0}, {0.2, 0.6}, {1.0, 1.0}};
    const Chart chart = compile(walker({.forward = 5.0, .side = {}, .back = {}}, gain));
    Runner runner = spawn(chart);
    pass(chart, runner, ahead, 2.0);
    pass(chart, runner, {}, 0.8);
    CHECK(near(runner.speed(), 3.0, 1e-10));
    pass(chart, runner, {}, 0.2);
    CHECK(near(runner.speed(), 0.0, 1e-10));
}

TEST_CASE("curve: half a stick takes the time at which the curve reaches half") {
    const Chart chart =
        compile(walker({.forward = 5.0, .side = {}, .back = {}},
                       curve({{0.0, 0.0}, {0.2, 0.6}, {1.0, 1.0}}, {{0.0, 1.0}, {0.5, 0.0}})));
    Runner runner = spawn(chart);
    pass(chart, runner, {.forward = 0.5, .side = 0.0}, 0.1, 0.01);
    CHECK(near(runner.speed(), 1.5, 1e-11));
    pass(chart, runner, {.forward = 0.5, .side = 0.0}, 0.2, 0.01);
    CHECK(near(runner.speed(), 2.5, 1e-11));
}

TEST_CASE("a look that moves in every tick is followed as it is segment by segment") {
    // Charts with footsteps plan every segment; others follow such a look in one go. Both must walk the same way.
    const auto turning = [](bool with_steps) {
        ChartSpec spec = walker({.forward = 6.5, .side = 2.1, .back = 1.6}, ramp(12.0, 16.0, 10.0));
        if (with_steps) {
            spec.states[0].stride = 1.2;
        }
        ModifierSpec soaked;
        soaked.name = "soaked";
        soaked.affects = {{.what = "gain", .times = 0.3}};
        spec.modifiers = {soaked};
        StateSpec fast = spec.states[0];  // a speed that something watches, in the midst of every turn
        fast.name = "fast";
        fast.enter = Condition{"speed > 5.5"};
        fast.stay = Condition{"speed > 4"};
        spec.states.push_back(fast);
        spec.rank = {"fast", spec.states[0].name};
        return compile(spec);
    };
    const Chart in_one_go = turning(false), segment_by_segment = turning(true);
    std::mt19937 random(11);
    const auto between = [&](double low, double high) {
        return std::uniform_real_distribution<double>(low, high)(random);
    };
    int arrived = 0, on_the_way = 0, slow = 0;
    for (int round = 0; round < 60; ++round) {
        Runner a = spawn(in_one_go), b = spawn(segment_by_segment);
        if (round % 4 == 3) {
            CHECK(grant(in_one_go, a, ModifierId{0}));
            CHECK(grant(segment_by_segment, b, ModifierId{0}));
        }
        Intent intent;
        const double widest = std::pow(10.0, between(-8.0, 0.5));  // rad
        for (int tick = 0; tick < 200; ++tick) {
            if (tick % 40 == 0) {
                intent.move = {between(-1.0, 1.0), tick % 80 == 0 ? 0.0 : between(-1.0, 1.0)};
            }
            intent.look.yaw += between(-widest, widest);
            const Seconds dt{tick % 2 == 0 ? 1.0 / 60.0 : between(0.001, 0.1)};
            const Report one = advance(in_one_go, a, intent, dt),
                         other = advance(segment_by_segment, b, intent, dt);
            CAPTURE(round, tick, widest);
            REQUIRE(a.state() == b.state());
            REQUIRE(one.seconds == other.seconds);
            REQUIRE(glm::distance(a.position(), b.position()) <= 1e-9);
            REQUIRE(glm::distance(a.velocity(), b.velocity()) <= 1e-9);
            REQUIRE(near(a.distance(), b.distance(), 1e-9));
            arrived += near(a.speed(), a.speed_target(), 1e-9) ? 1 : 0;
            on_the_way += near(a.speed(), a.speed_target(), 1e-9) ? 0 : 1;
            slow += one.instants > 0 ? 1 : 0;
        }
    }
    CHECK(arrived > 1000);
    CHECK(on_the_way > 1000);
    CHECK(slow > 50);
}

TEST_CASE("instant: a state that waits for a speed is entered at the very moment of the jump to it") {
    ChartSpec spec = walker({.forward = 5.0});
    StateSpec stride = state("stride", {.forward = 5.0});
    stride.enter = Condition{"speed > 4"};
    spec.states.push_back(stride);
    spec.rank = {"stride", "walk"};
    const Chart chart = compile(spec);
    for (const double dt : {0.001, 1.0 / 60.0, 0.1}) {
        CAPTURE(dt);
        Runner runner = spawn(chart);
        pass(chart, runner, {}, 0.2, dt);
        const Report report = tick(chart, runner, ahead, {}, dt);
        REQUIRE(find(report, EventKind::entered) != nullptr);
        CHECK(find(report, EventKind::entered)->at == 0.0);
        CHECK(runner.state() == chart.state("stride"));
    }
}

TEST_CASE("ease: speeds that a state waits for are met at their times, on the way up and on the way down") {
    constexpr double half_life = 0.2;
    GainSpec gain;
    gain.law = GainLaw::ease;
    gain.up_half_life = gain.down_half_life = gain.idle_half_life = half_life;
    for (const double mark : {0.5, 1.0, 2.0, 5.0, 6.0}) {
        ChartSpec spec = walker({.forward = 8.0}, gain);
        StateSpec brisk = spec.states[0];
        brisk.name = "brisk";
        brisk.enter = Condition{"speed > " + std::to_string(mark)};
        spec.states.push_back(brisk);
        spec.rank = {"brisk", spec.states[0].name};
        const Chart chart = compile(spec);
        for (const double rate : {10.0, 37.0, 60.0, 1000.0}) {
            CAPTURE(mark, rate);
            const survey::Run run = run_at(chart, Script(14.0).move(0.0, ahead).move(10.0, Move{}), rate);
            REQUIRE(run.visits.size() == 3);
            // 8 (1 - 2^(-t/h)) going up, 8 * 2^(-t/h) coming down.
            CHECK(near(run.visits[1].at, half_life * std::log2(8.0 / (8.0 - mark)), 1e-9));
            CHECK(near(run.visits[2].at, 10.0 + half_life * std::log2(8.0 / mark), 1e-9));
        }
    }
}

TEST_CASE("ease: a turn by next to nothing is as long as its chord, whatever way it is walked") {
    for (const auto& [up, down] : {std::pair(0.1, 0.2), std::pair(0.05, 0.1), std::pair(0.3, 0.3)}) {
        const Chart chart = compile(bearer(ease(up, down, down)));
        for (const double turn : {1e-3, 1e-4, 1e-5, 1e-6, 1e-7}) {
            for (const bool plainly : {false, true}) {
                CAPTURE(up, turn, plainly);
                Runner runner = spawn(chart);
                Intent intent;
                intent.move.forward = 1.0;
                for (int i = 0; i < 2000; ++i) {
                    intent.look.yaw += turn * (i % 7 - 2);
                    const Change same = Change::look_to(intent.look, 0.0);  // for which no short way is taken
                    intent.changes = plainly ? std::span(&same, 1) : std::span<const Change>();
                    const double before = runner.distance();
                    const Report report = advance(chart, runner, intent, Seconds{1.0 / 240.0});
                    if (i > 1000) {
                        const double chord = std::sqrt(report.displacement.x * report.displacement.x +
                                                       report.displacement.y * report.displacement.y);
                        REQUIRE(near(runner.distance() - before, chord, 1e-11 + 1e-2 * turn * turn));
                    }
                }
            }
        }
    }
}
