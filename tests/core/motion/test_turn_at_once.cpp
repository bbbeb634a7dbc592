#include <catch2/catch.hpp>
#include <cmath>
#include <random>

#include "support/bearer.hpp"
#include "support/leaper.hpp"
#include "support/play.hpp"

using namespace support;

/// `turn = "at_once"`: the velocity has the wanted direction at once, and the gain law changes the speed alone.
namespace {

constexpr double right_angle = 1.5707963267948966;

const SpeedSpec six{.forward = 6.0, .side = 6.0, .back = 6.0};
const std::vector<GainSpec> laws{
    ramp(12.0, 16.0, 10.0), ease(0.2, 0.1, 0.15),
    curve({{0.0, 0.0}, {0.2, 0.5}, {0.5, 1.0}}, {{0.0, 1.0}, {0.1, 0.5}, {0.4, 0.0}})};

/// Plays 4 s: walks on from the start, lets go at 2.5 s; `yaw` tells the look at a time.
template <class Yaw>
Runner play(const Chart& chart, double dt, Yaw&& yaw) {
    Runner runner = spawn(chart);
    const int ticks = static_cast<int>(std::lround(4.0 / dt));
    for (int i = 0; i < ticks; ++i) {
        const double at = i * dt;
        static_cast<void>(tick(chart, runner, at < 2.5 - 1e-9 ? ahead : Move{}, {}, dt, yaw(at)));
    }
    return runner;
}

}  // namespace

TEST_CASE("turning at once while the speed ramps: two straight lines, one ramp") {
    const Chart chart = compile(walker(six, at_once(ramp(12.0, 16.0, 10.0))));
    for (const double dt : {0.001, 0.025, 0.05}) {
        CAPTURE(dt);
        Runner runner = spawn(chart);
        pass(chart, runner, ahead, 0.25, dt);  // 3 m/s, 0.375 m
        for (double left = 0.75; left > 1e-9; left -= dt) {
            static_cast<void>(tick(chart, runner, ahead, {}, dt, right_angle));
        }
        // From 3 to 6 m/s in 0.25 s: 1.125 m; then 0.5 s at 6 m/s.
        CHECK(near(runner.position().x, 0.375, 1e-9));
        CHECK(near(runner.position().y, 1.125 + 3.0, 1e-9));
        CHECK(near(runner.distance(), 4.5, 1e-9));
        CHECK(near(runner.velocity().y, 6.0, 1e-12));
        CHECK(near(runner.velocity().x, 0.0, 1e-12));
    }
}

TEST_CASE("turning round at once keeps the speed, and the law brakes it to what the other direction allows") {
    const Chart chart =
        compile(walker({.forward = 6.0, .side = 6.0, .back = 2.0}, at_once(ramp(12.0, 16.0, 10.0))));
    Runner runner = spawn(chart);
    pass(chart, runner, ahead, 1.0);
    const double turned_at = runner.position().x;
    const Move back{.forward = -1.0, .side = 0.0};
    pass(chart, runner, back, 0.125, 0.125 / 8.0);  // 6 - 16 / 8 = 4 m/s: on the way back, 0.625 m
    CHECK(near(runner.velocity().x, -4.0, 1e-9));
    CHECK(near(runner.position().x, turned_at - 0.625, 1e-9));
    pass(chart, runner, back, 0.5);
    CHECK(near(runner.velocity().x, -2.0, 1e-9));
}

TEST_CASE("whatever the look does, a speed that turns at once is that of one who looks ahead") {
    for (const GainSpec& law : laws) {
        const Chart chart = compile(walker(six, at_once(law)));
        for (const double dt : {0.1, 0.02, 1.0 / 64.0}) {
            std::mt19937 dice(5);
            std::uniform_real_distribution<double> angle(-3.0, 3.0);
            CAPTURE(dt, static_cast<int>(*law.law));
            const Runner straight = play(chart, dt, [](double) { return 0.0; });
            const Runner turning = play(chart, dt, [](double at) { return 4.0 * at; });
            const Runner wild =
                play(chart, dt, [&](double at) { return at < 2.5 - 1e-9 ? angle(dice) : 1.0; });
            for (const Runner* runner : {&turning, &wild}) {
                CHECK(near(runner->distance(), straight.distance(), 1e-7));
                CHECK(near(runner->speed(), straight.speed(), 1e-7));
            }
            CHECK(std::hypot(turning.position().x, turning.position().y) < 0.5 * straight.position().x);
        }
    }
}

TEST_CASE("a turn at full speed is no instant of its own, whatever is compared with speeds") {
    for (const GainSpec& gain : {ramp(12.0, 16.0, 10.0), at_once(ramp(12.0, 16.0, 10.0)), GainSpec{}}) {
        ChartSpec spec = bearer(gain);
        spec.states[0].stay = Condition{"rise < 1"};
        spec.states[1].stay = Condition{"sprint on", "speed > 3", "not rise > 0"};
        const Chart chart = compile(spec);
        Runner runner = spawn(chart);
        pass(chart, runner, ahead, 1.0);
        Intent intent;
        intent.move = ahead;
        std::size_t instants = 0;
        for (int i = 1; i <= 300; ++i) {
            intent.look.yaw = 0.01 * i;
            const Change same = Change::look_to(intent.look, 0.0);
            intent.changes =
                i % 2 == 0 ? std::span(&same, 1) : std::span<const Change>();  // either way through a tick
            instants += advance(chart, runner, intent, Seconds{1.0 / 60.0}).instants;
        }
        CHECK(instants == 0);
        CHECK(near(runner.speed(), 2.4, 1e-9));
    }
}

TEST_CASE("along an arc a turn costs speed, at once it does not") {
    const auto slowest = [](const GainSpec& gain) {
        const Chart chart = compile(walker(six, gain));
        Runner runner = spawn(chart);
        pass(chart, runner, ahead, 1.0);
        double least = runner.speed();
        for (int i = 0; i < 60; ++i) {
            static_cast<void>(tick(chart, runner, ahead, {}, 1.0 / 60.0, right_angle));
            least = std::min(least, runner.speed());
        }
        return least;
    };
    CHECK(slowest(ramp(12.0, 12.0, 12.0)) < 5.0);
    CHECK(slowest(at_once(ramp(12.0, 12.0, 12.0))) == 6.0);
}

TEST_CASE("whoever lets go slows down along the way that it has, whatever it looks at") {
    const Chart chart = compile(walker(six, at_once(ramp(12.0, 16.0, 10.0))));
    Runner runner = spawn(chart);
    pass(chart, runner, ahead, 1.0);
    const double from = runner.position().x;
    for (int i = 0; i < 60; ++i) {
        static_cast<void>(tick(chart, runner, {}, {}, 1.0 / 60.0, 0.1 * i));
    }
    CHECK(near(runner.position().x - from, 36.0 / 20.0, 1e-9));
    CHECK(runner.position().y == 0.0);
    CHECK(runner.speed() == 0.0);
}

TEST_CASE("a push takes the direction away, and who has control again has its own at once") {
    const Chart chart = compile(walker(six, at_once(ramp(12.0, 16.0, 10.0))));
    Runner runner = spawn(chart);
    pass(chart, runner, ahead, 1.0);
    Push shove;
    shove.direction = {0.0, 1.0, 0.0};
    shove.strength = 4.0;
    shove.seconds = 0.5;
    shove.locks = true;
    static_cast<void>(push(runner, shove));
    pass(chart, runner, ahead, 0.25);
    CHECK(near(runner.velocity().y, 0.0, 1e-12));
    CHECK(runner.velocity().x > 0.0);
    pass(chart, runner, ahead, 1.5);
    CHECK(near(runner.velocity().x, 6.0, 1e-9));
}

TEST_CASE("a flier that turns at once: a look that sinks crosses its rise at that moment, at any tick rate") {
    ChartSpec spec = leaper();
    spec.actions.push_back({.name = "fly", .press = PressMode::hold});
    StateSpec fly = kind("fly", StateKind::fly);
    fly.speed = {.forward = 8.0, .side = {}, .back = {}};
    fly.gain = at_once(ramp(10.0, 10.0, 10.0));
    fly.fly.up = "jump";
    fly.fly.climb = 10.0;
    fly.enter = Condition{"fly on"};
    StateSpec dive = fly;
    dive.name = "dive";
    dive.enter = Condition{"fly on", "rise < -2"};
    spec.states.insert(spec.states.end(), {dive, fly});
    spec.rank.insert(spec.rank.begin(), {"dive", "fly"});
    const Chart chart = compile(spec);
    const double down = -0.5;  // rad: 8 m/s sink by 3.8
    for (const double dt : {0.01, 0.02, 0.05}) {
        CAPTURE(dt);
        Play play(chart, dt);
        play.intent.hold(chart.action("fly"));
        play.intent.hold(chart.action("jump"));
        play.until(1.0);
        play.intent.held = key_bit(chart.action("fly"));
        play.intent.move = ahead;
        play.until(3.0);
        CHECK(chart.name(play.runner().state()) == "fly");
        CHECK(near(play.runner().velocity().x, 8.0, 1e-12));
        const double high = play.runner().position().z;
        play.intent.look.pitch = down;
        play.until(3.5);
        CHECK(chart.name(play.runner().state()) == "dive");
        CHECK(near(play.times(EventKind::entered).back(), 3.0, 1e-9));
        CHECK(near(play.runner().position().z, high + 8.0 * std::sin(down) * 0.5, 1e-9));
        play.intent.look.pitch = 0.0;
        play.until(4.0);
        CHECK(chart.name(play.runner().state()) == "fly");
        CHECK(near(play.times(EventKind::entered).back(), 3.5, 1e-9));
    }
}

TEST_CASE("how one turns is taken over by `like`, with another law too") {
    ChartSpec spec = bearer(at_once(ramp(12.0, 16.0, 10.0)));
    spec.states[1].gain = ease(0.2, 0.2, 0.2);
    const Chart chart = compile(spec);
    Runner runner = spawn(chart);
    Intent intent;
    intent.move = ahead;
    intent.hold(chart.action("sprint"));
    for (int i = 0; i < 120; ++i) {
        static_cast<void>(advance(chart, runner, intent, Seconds{1.0 / 60.0}));
    }
    REQUIRE(chart.name(runner.state()) == "sprint");
    const double speed = runner.speed();
    intent.look.yaw = right_angle;
    static_cast<void>(advance(chart, runner, intent, Seconds{0.0}));
    CHECK(near(runner.velocity().y, speed, 1e-12));
    CHECK(runner.speed() == speed);
}
