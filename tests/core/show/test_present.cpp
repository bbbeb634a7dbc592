#include <catch2/catch.hpp>
#include <cmath>
#include <cursimeter/effects.hpp>
#include <cursimeter/numbers/detmath.hpp>
#include <cursimeter/show/blend.hpp>
#include <cursimeter/show/body_facing.hpp>
#include <cursimeter/show/lock_on.hpp>
#include <cursimeter/show/observers.hpp>
#include <cursimeter/show/present.hpp>
#include <cursimeter/show/smoothed.hpp>

#include "support/play.hpp"

using namespace cursimeter;
using namespace support;

namespace {

constexpr double half_turn = 3.141592653589793;

ChartSpec advancer(GainSpec gain = {}) {
    ChartSpec spec = bearer(gain);
    spec.states[0].stride = 0.8;
    spec.states[1].stride = 1.3;
    return spec;
}

}  // namespace

TEST_CASE("footsteps follow the distance: twice the speed, twice the pace") {
    const Chart chart = compile(advancer());
    for (const double dt : tick_lengths) {
        CAPTURE(dt);
        Play play(chart, dt);
        play.intent.move = {0.5, 0.0};
        play.until(2.01);  // 1.2 m/s, a step each 0.8 m
        const std::vector<double> slow = play.times(EventKind::footstep);
        REQUIRE(slow.size() == 3);
        for (std::size_t i = 0; i < slow.size(); ++i) {
            CHECK(near(slow[i], static_cast<double>(i + 1) * 0.8 / 1.2, 1e-6));
        }
        CHECK(near(present(chart, play.runner()).cadence, 1.5, 1e-9));
        play.intent.move = {1.0, 0.0};
        play.until(3.9);
        CHECK(near(present(chart, play.runner()).cadence, 3.0, 1e-9));
        CHECK(play.times(EventKind::footstep).size() == 8);  // 2.41 + 4.54 m
    }
}

TEST_CASE(
    "on a ramp feet come down when the way says so, feet alternate, the phase goes on through changes") {
    const Chart chart = compile(advancer(ramp(4.0, 4.0, 4.0)));
    for (const double dt : tick_lengths) {
        CAPTURE(dt);
        Play play(chart, dt);
        play.intent.move = {1.0, 0.0};
        play.until(0.9);
        REQUIRE(play.times(EventKind::footstep).size() == 1);  // 0.8 = 2.4^2/8 + 2.4 (t - 0.6)
        CHECK(near(play.times(EventKind::footstep)[0], 0.6 + (0.8 - 0.72) / 2.4, 1e-6));
        const double before = present(chart, play.runner()).stride;
        play.intent.hold(chart.action("sprint"));
        play.until(0.9 + 1e-6);
        CHECK(play.runner().state() == chart.state("sprint"));
        CHECK(near(present(chart, play.runner()).stride, before, 2e-5));
        play.until(5.0);
        int last = 0;
        for (const Played& played : play.events()) {
            if (played.event.kind == EventKind::footstep) {
                CHECK(played.event.which != last);
                last = played.event.which;
            }
        }
        CHECK(play.times(EventKind::footstep).size() > 10);
    }
}

TEST_CASE("under every gain law, and through turns, feet come down at the same times at any tick length") {
    for (const GainSpec& gain : {ramp(4.0, 4.0, 4.0), ease(0.3, 0.2, 0.2)}) {
        const Chart chart = compile(advancer(gain));
        std::vector<double> first;
        for (const double dt : tick_lengths) {
            CAPTURE(dt);
            Play play(chart, dt);
            for (int turn = 0; turn < 5; ++turn) {
                play.intent.move = {1.0, turn % 2 == 0 ? 0.0 : -1.0};
                play.intent.look.yaw = 0.9 * turn;
                play.until(1.0 + turn);
            }
            const std::vector<double> steps = play.times(EventKind::footstep);
            first = first.empty() ? steps : first;
            REQUIRE(steps.size() == first.size());
            REQUIRE(steps.size() > 8);
            for (std::size_t i = 0; i < steps.size(); ++i) {
                CHECK(near(steps[i], first[i], 1e-6));
            }
        }
    }
}

TEST_CASE("a step is told of once where the state changes as a foot comes down") {
    // Walking from rest at 2.4 m/s without gain: steps at k / 3 s. The key goes down and up around each of them.
    const Chart chart = compile(advancer());
    for (const double early : {0.0, 1e-6, 1e-5, 1e-4}) {
        CAPTURE(early);
        Play play(chart);
        play.intent.move = {1.0, 0.0};
        for (int k = 1; k <= 12; ++k) {
            play.until(k * 0.8 / 2.4 - early);
            const Change taps[2] = {Change::press(chart.action("sprint"), 0.0),
                                    Change::release(chart.action("sprint"), 1e-7)};
            play.intent.changes = taps;
            play.note(play.runner().clock().value, advance(chart, play.runner(), play.intent, Seconds{1e-6}));
            play.intent.changes = {};
        }
        play.until(5.1);
        const std::vector<double> steps = play.times(EventKind::footstep);
        CHECK(steps.size() == 15);
        for (std::size_t i = 1; i < steps.size(); ++i) {
            CHECK(near(steps[i] - steps[i - 1], 0.8 / 2.4, 1e-3));
        }
    }
}

TEST_CASE("what is shown of a runner") {
    const Chart chart = compile(advancer(ramp(4.0, 4.0, 4.0)));
    Play play(chart);
    CHECK(present(chart, play.runner()).heading == 0.0);
    play.intent.look.yaw = 1.0;
    play.intent.move = {0.0, 1.0};
    play.until(0.3);
    Presentation shown = present(chart, play.runner());
    CHECK(near(shown.heading, -half_turn / 2, 1e-9));
    CHECK(near(shown.pace, 1.2 / 2.4, 1e-9));
    CHECK(near(shown.lean_side, 4.0, 1e-9));
    CHECK(near(shown.lean_forward, 0.0, 1e-9));
    CHECK(near(shown.time_in_state.value, 0.3, 1e-12));
    play.intent.move = {-1.0, 0.0};
    play.until(3.0);
    CHECK(near(std::fabs(present(chart, play.runner()).heading), half_turn, 1e-9));
}

TEST_CASE("a character that faces its movement has its forward speed in every direction") {
    const Chart chart = compile(bearer());
    Play play(chart);
    play.intent.move = {-1.0, 0.0};
    play.until(0.1);
    CHECK(play.runner().speed() == 1.6);
    play.intent.facing = Facing::movement;
    play.until(0.2);
    CHECK(play.runner().speed() == 2.4);
    play.intent.hold(chart.action("sprint"));  // every way is ahead, so it may sprint
    play.until(0.3);
    CHECK(play.runner().speed() == 6.5);
    CHECK(play.runner().velocity().x < 0.0);
    play.intent.facing = Facing::look;
    play.until(0.4);
    CHECK(play.runner().speed() == 1.6);
}

TEST_CASE("circling a focus is the same run at any tick length, and as near to a circle as its steps") {
    const Chart chart = compile(bearer());
    std::optional<glm::dvec3> first;
    for (const double dt : {1.0 / 20.0, 1.0 / 30.0, 1.0 / 60.0, 1.0 / 144.0, 1.0 / 240.0, 0.0}) {
        CAPTURE(dt);
        Play play(chart, dt);
        const Focus lamp{{5.0, 0.0, 1.0}, {0.0, 0.0, 0.0}, 1.6};
        play.intent.focus = &lamp;
        play.intent.move = {0.0, 1.0};
        play.until(10.0);  // 2.1 m/s to the right of the look: counter-clockwise seen from below
        const glm::dvec3 place = play.runner().position();
        first = first.value_or(place);
        CHECK(std::hypot(place.x - first->x, place.y - first->y) < 1e-6);
        CHECK(near(std::hypot(place.x - 5.0, place.y), 5.0, 2e-3));
        CHECK(play.runner().state() == chart.state("walk"));
    }
}

TEST_CASE("with a focus a runner strafes, or turns to where it goes around it, as it is told") {
    const Chart chart = compile(bearer());
    const Focus lamp{{8.0, 0.0, 0.0}, {}, 0.0};
    for (const Facing facing : {Facing::look, Facing::movement}) {
        Play play(chart);
        play.intent.focus = &lamp;
        play.intent.facing = facing;
        play.intent.move = {0.0, 1.0};
        play.intent.hold(chart.action("sprint"));
        play.until(2.0);
        const bool strafes = facing == Facing::look;
        CHECK(near(play.runner().speed(), strafes ? 2.1 : 6.5, 1e-9));  // sideways, or sprinting
        CHECK(near(std::hypot(play.runner().position().x - 8.0, play.runner().position().y), 8.0, 0.1));
    }
}

TEST_CASE("a moving focus is followed, one straight above leaves the look as it is") {
    const Chart chart = compile(bearer());
    Play play(chart, 0.05);
    Focus boat{{10.0, 0.0, 0.0}, {0.0, 2.0, 0.0}, 0.0};
    play.intent.focus = &boat;
    for (int i = 0; i < 40; ++i) {
        boat.position.y = 2.0 * play.runner().clock().value;
        play.until(0.05 * (i + 1));
    }
    CHECK(near(play.runner().yaw(), std::atan2(4.0, 10.0), 3e-3));
    boat = {{0.0, 0.0, 9.0}, {}, 0.0};
    const double before = play.runner().yaw();
    play.until(3.0);
    CHECK(play.runner().yaw() == before);
    boat.position.x = std::nan("");
    play.until(3.5);
    CHECK(play.runner().yaw() == before);
}

TEST_CASE("bodies turn the short way at their rate, numbers halve their gap, the same at any tick rate") {
    for (const double rate : {20.0, 60.0, 144.0, 240.0}) {
        BodyFacing body(3.0, 2.0);
        Smoothed number(0.0, Seconds{0.25});
        for (int i = 0; i < static_cast<int>(rate) / 10; ++i) {
            body.turn_to(-3.0, Seconds{1.0 / rate});
            number.follow(8.0, Seconds{1.0 / rate});
        }
        const double time = static_cast<double>(static_cast<int>(rate) / 10) / rate;
        CHECK(near(body.yaw(),
                   3.0 + 2.0 * time > half_turn ? 3.0 + 2.0 * time - 2.0 * half_turn : 3.0 + 2.0 * time,
                   1e-9));
        CHECK(near(number.value(), 8.0 * (1.0 - std::pow(0.5, time / 0.25)), 1e-9));
        body.turn_to(-3.0, Seconds{1.0});
        CHECK(body.yaw() == -3.0);
    }
    CHECK(BodyFacing(0.0, 0.0).turn_to(2.0, Seconds{0.0}) == 2.0);
}

TEST_CASE("a lock-on tells when its target is reached and lost, and does not flicker") {
    const Chart chart = compile(bearer());
    const Runner runner = spawn(chart);
    LockOn lock(2.0, 10.0);
    const auto at = [&](double distance) { return lock.follow(runner, {{distance, 0.0, 5.0}, {}, 0.0}); };
    CHECK(at(5.0) == LockOn::Status::held);
    CHECK(at(2.0) == LockOn::Status::reached);
    CHECK(at(2.15) == LockOn::Status::reached);
    CHECK(at(2.25) == LockOn::Status::held);
    CHECK(at(10.5) == LockOn::Status::lost);
    CHECK(at(5.0) == LockOn::Status::lost);
    lock.renew();
    CHECK(at(5.0) == LockOn::Status::held);
    CHECK(at(std::nan("")) == LockOn::Status::lost);
}

TEST_CASE("a modifier of the turn rate changes what the game's body turns by") {
    ChartSpec spec = bearer();
    spec.modifiers = {{.name = "laden", .affects = {{.what = "turn", .times = 0.5}}}};
    const Chart chart = compile(spec);
    Runner runner = spawn(chart);
    CHECK(turn_rate(chart, runner, 6.0) == 6.0);
    REQUIRE(grant(chart, runner, ModifierId{0}));
    CHECK(turn_rate(chart, runner, 6.0) == 3.0);
    BodyFacing body(0.0, 6.0);
    body.set_rate(turn_rate(chart, runner, 6.0));
    CHECK(near(body.turn_to(1.0, Seconds{0.1}), 0.3, 1e-12));
}

TEST_CASE("a blend runs from the last state to the present one") {
    const Chart chart = compile(bearer());
    Runner runner = spawn(chart);
    Blend blend(runner.state(), Seconds{0.2});
    CHECK(blend.weight() == 1.0);
    blend.follow(tick(chart, runner, {1.0, 0.0}, {chart.action("sprint")}, 0.05));
    CHECK(blend.from() == chart.state("walk"));
    CHECK(blend.to() == chart.state("sprint"));
    CHECK(near(blend.weight(), 0.25, 1e-12));
    blend.follow(tick(chart, runner, {1.0, 0.0}, {chart.action("sprint")}, 0.1));
    blend.follow(tick(chart, runner, {1.0, 0.0}, {chart.action("sprint")}, 0.1));
    CHECK(blend.weight() == 1.0);
    // And back again from the very beginning, however long it was there.
    blend.follow(tick(chart, runner, {1.0, 0.0}, {}, 0.05));
    CHECK(blend.to() == chart.state("walk"));
    CHECK(near(blend.weight(), 0.25, 1e-12));
}

TEST_CASE("observers are called in order, of their kind only, until they are removed") {
    const Chart chart = compile(bearer());
    Runner runner = spawn(chart);
    std::string heard;
    const auto note = [](void* context, const Chart& c, const Runner&, const Event& event) {
        *static_cast<std::string*>(context) +=
            subject_name(c, event) + " " + std::string(to_string(event.kind)) + "; ";
    };
    Observers observers;
    CHECK(observers.add(EventKind::entered, note, &heard));
    CHECK(observers.add(EventKind::left, note, &heard));
    observers.tell(chart, runner, tick(chart, runner, {1.0, 0.0}, {chart.action("sprint")}));
    CHECK(heard == "walk left; sprint entered; ");
    CHECK(observers.remove(note, &heard) == 2);
    heard.clear();
    observers.tell(chart, runner, tick(chart, runner, {1.0, 0.0}));
    CHECK(heard.empty());
    for (std::size_t i = 0; i < Observers::most; ++i) {
        CHECK(observers.add(EventKind::entered, note, &heard));
    }
    CHECK_FALSE(observers.add(EventKind::entered, note, &heard));
}

TEST_CASE("the arc tangent is right in every quadrant") {
    for (int i = -180; i <= 180; ++i) {
        const double angle = i * half_turn / 180.0;
        const double y = std::sin(angle) * 3.0, x = std::cos(angle) * 3.0;
        CHECK(near(detmath::arc_tangent(y, x), std::atan2(y, x), 1e-15 * 8));
    }
    CHECK(detmath::arc_tangent(0.0, 0.0) == 0.0);
    CHECK(detmath::arc_tangent(0.0, -1.0) == half_turn);
}
