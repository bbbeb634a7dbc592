#include <catch2/catch.hpp>
#include <cursimeter/drill/recorder.hpp>
#include <cursimeter/drill/sayable.hpp>
#include <random>

#include "support/bearer.hpp"

using namespace support;

namespace {

constexpr double rate = 60.0;

double time_of(int tick) {
    return tick / rate;
}

/// Plays a drill for so many ticks, and tells each to whoever listens.
template <class Each>
Runner play(const Chart& chart, const DrillSpec& spec, int ticks, Each&& each) {
    const Drill drill(spec, chart);
    Runner runner = drill.spawn(chart);
    DrillPlayer player(drill, runner);
    for (int i = 0; i < ticks; ++i) {
        const Intent intent = player.intent(time_of(i), time_of(i + 1));
        each(intent, i);
        static_cast<void>(advance(chart, runner, intent, Seconds{time_of(i + 1) - time_of(i)}));
    }
    return runner;
}
Runner play(const Chart& chart, const DrillSpec& spec, int ticks) {
    return play(chart, spec, ticks, [](const Intent&, int) {});
}

StepSpec step_at(double seconds, std::vector<std::string> hold, std::vector<std::string> release,
                 std::optional<Move> move = {}, std::optional<LookSpec> look = {}) {
    StepSpec step;
    step.at = seconds;
    step.hold = std::move(hold);
    step.release = std::move(release);
    step.move = move;
    step.look = look;
    return step;
}

}  // namespace

TEST_CASE("what a drill's player does is recorded as a drill that does the same, to the bit") {
    const Chart chart = compile(bearer(ramp(12.0, 16.0, 10.0)));
    DrillSpec spec;
    spec.name = "played";
    spec.seconds = 3.0;
    spec.start.position = {1.0, 2.0, 0.0};
    spec.start.yaw = Degrees{30.0};
    spec.set_toggle = {"sprint"};
    spec.steps = {step_at(0.0, {}, {}, Move{1.0, 0.0}),
                  step_at(0.25, {"sprint"}, {}),
                  step_at(0.251, {}, {"sprint"}),
                  step_at(1.0, {}, {}, Move{0.5, -0.5}, LookSpec{Degrees{90.0}, Degrees{10.0}}),
                  step_at(1.0, {"sprint"}, {}),  // after the look: a step of its own
                  step_at(2.0, {}, {"sprint"}, Move{0.0, 0.0})};
    const Drill drill(spec, chart);
    DrillRecorder recorder(chart, drill.spawn(chart));
    const Runner played = play(chart, spec, 180, [&](const Intent& intent, int i) {
        recorder.tick(chart, intent, time_of(i), Seconds{time_of(i + 1) - time_of(i)});
    });
    const DrillSpec recorded = recorder.drill("played");
    CHECK(recorded == spec);
    CHECK(digest(play(chart, recorded, 180)) == digest(played));
}

TEST_CASE("a runner in the middle of its life is recorded with all that it has") {
    const Chart chart = compile(bearer(ramp(12.0, 16.0, 10.0)));
    Runner runner = spawn(chart);
    Intent intent;
    intent.move = {1.0, -0.25};
    intent.look = {0.4, -0.2};
    intent.hold(chart.action("sprint"));
    double begin = 0.0;
    for (int i = 0; i < 75; ++i) {
        static_cast<void>(advance(chart, runner, intent, Seconds{time_of(i + 1) - time_of(i)}));
        begin = time_of(i + 1);
    }
    REQUIRE(chart.name(runner.state()) == "sprint");
    DrillRecorder recorder(chart, runner, Seconds{begin});
    for (int i = 75; i < 200; ++i) {
        const auto in_tick = [&](double at) { return sayable::time(time_of(i) + at) - time_of(i); };
        std::vector<Change> changes;
        if (i % 40 == 10) {
            changes = {Change::release(chart.action("sprint"), in_tick(0.003)),
                       Change::press(chart.action("sprint"), in_tick(0.011))};
        } else if (i == 95) {
            changes = {Change::move_to({0.5, 0.5}, in_tick(0.004))};
        } else {
            changes = {Change::look_to(sayable::look({intent.look.yaw + 0.01, -0.2}), in_tick(0.002))};
        }
        intent.changes = changes;
        const Seconds dt{time_of(i + 1) - time_of(i)};
        recorder.tick(chart, intent, time_of(i), dt);
        static_cast<void>(advance(chart, runner, intent, dt));
        for (const Change& change : changes) {
            intent.take_in(change);
        }
    }
    const DrillSpec spec = recorder.drill("from the middle");
    CHECK(spec.start.time == begin);
    CHECK_FALSE(spec.start.position);
    CHECK(spec.seconds == Approx(125.0 / rate));
    CHECK(spec.steps.front().hold.empty());  // it is down already
    const Drill drill(spec, chart);
    REQUIRE(drill.saved());
    CHECK(drill.saved()->exact);
    Runner again = drill.spawn(chart);
    DrillPlayer player(drill, again);
    for (int i = 0; i < 125; ++i) {
        const double from = i == 0 ? begin : tick_end(rate, begin, static_cast<std::uint64_t>(i - 1));
        const double to = tick_end(rate, begin, static_cast<std::uint64_t>(i));
        static_cast<void>(advance(chart, again, player.intent(from, to), Seconds{to - from}));
    }
    CHECK(digest(again) == digest(runner));
}

TEST_CASE("a time that counts from another comes back as it was") {
    std::mt19937 random(2);
    std::size_t plainly = 0;
    for (int i = 0; i < 20'000; ++i) {
        const double tick_rates[] = {60.0, 144.0, 33.3};
        const double begin = tick_end(tick_rates[i % 3], 0.0, random() % 5000);
        const double time = sayable::time(begin + static_cast<double>(random() % 40'000'000) * 1e-6);
        const double tick = tick_end(tick_rates[i % 3], begin, random() % 5000);
        CAPTURE(begin, time, tick);
        REQUIRE(sayable::later(begin, sayable::since(begin, time)) == time);
        plainly += begin + (time - begin) == time ? 1 : 0;
        const double back = sayable::later(begin, sayable::since(begin, tick));
        REQUIRE(std::fabs(back - tick) < 1e-13);
    }
    CHECK(plainly < 20'000);
    CHECK(sayable::since(0.0, 0.35) == 0.35);
    CHECK(sayable::later(0.0, 0.35) == 0.35);
}

TEST_CASE("ends of ticks that are counted from a tick's end are those that were counted from 0") {
    for (const double ticks : {10.0, 33.3, 59.94, 60.0, 128.0, 1000.0}) {
        for (std::uint64_t first : {1U, 7U, 59U, 60U, 1001U, 77777U}) {
            const double begin = tick_end(ticks, 0.0, first - 1);
            CAPTURE(ticks, first);
            for (std::uint64_t i = 0; i < 500; ++i) {
                REQUIRE(tick_end(ticks, begin, i) == tick_end(ticks, 0.0, first + i));
            }
        }
    }
    CHECK(tick_end(10.0, 0.0, 2) == 0.3);
    CHECK(tick_end(10.0, 0.05, 2) == Approx(0.35).epsilon(1e-15));  // begins between two ticks
}

TEST_CASE("hands that are told at the starts of ticks only are recorded there") {
    const Chart chart = compile(bearer());
    Runner runner = spawn(chart);
    DrillRecorder recorder(chart, runner);
    for (int i = 0; i < 120; ++i) {
        Intent intent;
        intent.move = i < 30 ? Move{} : Move{1.0, 0.0};
        intent.look.yaw = i < 60 ? 0.0 : Degrees{45.0}.radians();
        if (i >= 40 && i < 90) {
            intent.hold(chart.action("sprint"));
        }
        recorder.tick(chart, intent, time_of(i), Seconds{time_of(i + 1) - time_of(i)});
        static_cast<void>(advance(chart, runner, intent, Seconds{time_of(i + 1) - time_of(i)}));
    }
    const DrillSpec drill = recorder.drill("told");
    REQUIRE(drill.steps.size() == 4);
    CHECK(drill.seconds == 2.0);
    CHECK(drill.steps[0] == step_at(time_of(30), {}, {}, Move{1.0, 0.0}));
    CHECK(drill.steps[1] == step_at(time_of(40), {"sprint"}, {}));
    CHECK(drill.steps[2] == step_at(time_of(60), {}, {}, {}, LookSpec{Degrees{45.0}, Degrees{0.0}}));
    CHECK(drill.steps[3] == step_at(time_of(90), {}, {"sprint"}));
    CHECK(digest(play(chart, drill, 120)) == digest(runner));
}

TEST_CASE("what the first tick faces is faced all through the recorded drill") {
    const Chart chart = compile(bearer(ramp(12.0, 16.0, 10.0)));
    for (const Facing facing : {Facing::look, Facing::movement}) {
        Runner runner = spawn(chart);
        DrillRecorder recorder(chart, runner);
        Intent intent;
        intent.move = {-1.0, 0.0};
        intent.facing = facing;
        for (int i = 0; i < 90; ++i) {
            recorder.tick(chart, intent, time_of(i), Seconds{time_of(i + 1) - time_of(i)});
            static_cast<void>(advance(chart, runner, intent, Seconds{time_of(i + 1) - time_of(i)}));
        }
        const DrillSpec drill = recorder.drill("facing");
        CHECK(drill.start.facing == facing);
        CHECK(digest(play(chart, drill, 90, [](const Intent&, int) {})) == digest(runner));
    }
}
