#include <catch2/catch.hpp>
#include <cursimeter/drill/recorder.hpp>

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
