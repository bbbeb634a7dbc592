#include <catch2/catch.hpp>
#include <cursimeter/chartfile/chart_file.hpp>
#include <cursimeter/chartfile/course_file.hpp>
#include <cursimeter/chartfile/drill_file.hpp>
#include <cursimeter/effects.hpp>
#include <cursimeter/survey/run.hpp>
#include <cursimeter/survey/take.hpp>

#include "support/all_ways.hpp"
#include "support/counting_new.hpp"
#include "support/demo.hpp"
#include "support/random_drill.hpp"

using namespace support;

namespace {

std::vector<std::byte> recorded(const Chart& chart, std::uint32_t seed, double seconds) {
    std::mt19937 random(seed);
    const Drill drill(random_drill(random, chart, seconds), chart);
    return survey::record(chart, drill, nullptr, random_ticks(random, seconds), {{}, {}, "random"});
}

}  // namespace

TEST_CASE("takes of random runs play again bit for bit") {
    const Chart chart = compile(all_ways());
    for (std::uint32_t seed = 1; seed <= 20; ++seed) {
        const std::vector<std::byte> bytes = recorded(chart, seed, 10.0);
        const survey::Take take = survey::read_take(bytes);
        CHECK(take.origin.note == "random");
        CHECK_FALSE(take.cut_short);
        const survey::Replay again = survey::replay(take, chart, nullptr);
        CHECK(again.exact);
        CHECK(again.ticks == take.ticks.size());
        CHECK_FALSE(again.first);
        CHECK(again.seconds == Approx(10.0));
        CHECK(bytes.size() < 200 * take.ticks.size());
    }
}

TEST_CASE("a take of the relay holds its chart and its course") {
    const ChartFile chart = demo_chart("bearer");
    const Course course = demo_course();
    const DrillFile drill = load_drill(demo_folder + "drills/relay_bearer.toml", chart.chart);
    const std::vector<double> ends = survey::even_ticks(60.0, drill.drill.length());
    const std::vector<std::byte> bytes =
        survey::record(chart.chart, drill.drill, &course, ends,
                       {format_chart(chart.spec), format_course(course.spec()), "relay"});
    const survey::Take take = survey::read_take(bytes);
    const ChartFile own = parse_chart(take.origin.chart, "take");
    const Course laid = parse_course(take.origin.course, "take");
    const survey::Replay again = survey::replay(take, own.chart, &laid);
    CHECK(again.exact);
    CHECK_FALSE(again.first);
    CHECK(again.digest == survey::run(chart.chart, drill.drill, course, ends).digest);

    // On open ground it comes out otherwise.
    CHECK(survey::replay(take, own.chart, nullptr).first);
}

TEST_CASE("a bit that differs is named by tick and field, and costs one tick only") {
    const Chart chart = compile(all_ways());
    const std::vector<std::byte> bytes = recorded(chart, 3, 5.0);
    survey::Take take = survey::read_take(bytes);
    // As if another build had come to another place in tick 17.
    const std::size_t tick = 16;
    take.ticks[tick].fields[2] ^= 1U;  // position.x, see core/runner_fields.hpp
    take.ticks[tick].digest ^= 1U;
    const survey::Replay again = survey::replay(take, chart, nullptr);
    REQUIRE(again.first);
    CHECK(again.first->tick == tick + 1);
    CHECK(again.first->field == "position.x");
    CHECK(again.first->recorded != again.first->replayed);
    CHECK(again.differing >= 1);
    CHECK(again.differing <= 2);  // that one, and the next, which begins at the place recorded
}

TEST_CASE("what the game does between two ticks is part of the take") {
    const Chart chart = compile(all_ways());
    Runner runner = spawn(chart);
    survey::TakeRecorder recorder(chart, runner);
    Intent intent;
    intent.move = {1.0, 0.0};
    for (int i = 0; i < 60; ++i) {
        if (i == 20) {
            REQUIRE(push(runner, {.direction = {0, 1, 0}, .strength = 5.0, .seconds = 0.5}));
        }
        if (i == 40) {
            place(chart, runner, {{5.0, 5.0, 0.0}, 1.0});
        }
        CHECK(recorder.begin(runner, intent, Seconds{1.0 / 60.0}));
        static_cast<void>(advance(chart, runner, intent, Seconds{1.0 / 60.0}));
        CHECK(recorder.end(runner));
    }
    const survey::Take take = survey::read_take(recorder.bytes());
    REQUIRE(take.ticks.size() == 60);
    CHECK_FALSE(take.ticks[19].touched);
    CHECK(take.ticks[20].touched);
    CHECK(take.ticks[40].touched);
    CHECK_FALSE(survey::replay(take, chart, nullptr).first);
}

TEST_CASE("every part of an intent comes back") {
    const Chart chart = compile(all_ways());
    Runner runner = spawn(chart);
    survey::TakeRecorder recorder(chart, runner);
    const Focus focus{{4.0, 3.0, 1.0}, {0.5, 0.0, 0.0}, 1.6};
    const Change changes[] = {Change::press(ActionId{1}, 0.002), Change::move_to({0.5, -0.5}, 0.004),
                              Change::look_to({0.3, 0.1}, 0.006), Change::release(ActionId{1}, 0.008)};
    Intent intent;
    intent.held = 5;
    intent.facing = Facing::movement;
    intent.focus = &focus;
    intent.changes = changes;
    REQUIRE(recorder.begin(runner, intent, Seconds{0.05}));
    static_cast<void>(advance(chart, runner, intent, Seconds{0.05}));
    REQUIRE(recorder.end(runner));
    const survey::Take take = survey::read_take(recorder.bytes());
    REQUIRE(take.ticks.size() == 1);
    const Intent& back = take.ticks[0].intent;
    CHECK(back.held == 5);
    CHECK(back.facing == Facing::movement);
    REQUIRE(back.focus != nullptr);
    CHECK(back.focus->position == focus.position);
    CHECK(back.focus->eye_height == 1.6);
    REQUIRE(back.changes.size() == 4);
    CHECK(back.changes[1].x == 0.5);
    CHECK(back.changes[2].at == 0.006);
    CHECK(take.ticks[0].seconds == 0.05);
    CHECK_FALSE(survey::replay(take, chart, nullptr).first);
}

TEST_CASE("with another chart it is run by the same keys, and the first state that differs is named") {
    const ChartSpec spec = bearer(ramp(12.0, 16.0, 10.0));
    const Chart own = compile(spec);
    DrillSpec drill;
    drill.name = "run";
    drill.seconds = 12.0;
    StepSpec step;
    step.at = 1.0;
    step.hold = {"sprint"};
    step.move = Move{1.0, 0.0};
    drill.steps = {step};
    const std::vector<std::byte> bytes =
        survey::record(own, Drill(drill, own), nullptr, survey::even_ticks(60.0, Seconds{12.0}), {});
    const survey::Take take = survey::read_take(bytes);
    ChartSpec other = spec;
    other.actions.insert(other.actions.begin(), {.name = "crouch"});  // other numbers, the same names
    other.states[0].enter = Condition{"not crouch on"};
    const survey::Replay same = survey::replay(take, compile(other), nullptr, &own);
    CHECK_FALSE(same.exact);
    CHECK_FALSE(same.first);
    other.meters[0].capacity = 50.0;
    const survey::Replay shorter = survey::replay(take, compile(other), nullptr, &own);
    REQUIRE(shorter.first);
    CHECK(shorter.first->field == "state");
    CHECK(shorter.first->recorded == "sprint");
    CHECK(shorter.first->replayed == "walk");
    CHECK(shorter.first->at == Approx(1.0 + 50.0 / 12.0).margin(0.05));
    CHECK_THROWS_AS(survey::replay(take, compile(other), nullptr), ChartError);
}

TEST_CASE("recording allocates nothing, and a full recorder ends its take whole") {
    const Chart chart = compile(all_ways());
    Runner runner = spawn(chart);
    survey::TakeRecorder recorder(chart, runner, {}, 0);
    Intent intent;
    intent.move = {1.0, 0.0};
    std::size_t ticks = 0;
    const std::size_t before = allocations();
    while (recorder.begin(runner, intent, Seconds{1.0 / 60.0})) {
        intent.look.yaw += 0.01;
        static_cast<void>(advance(chart, runner, intent, Seconds{1.0 / 60.0}));
        static_cast<void>(recorder.end(runner));
        ++ticks;
    }
    CHECK(allocations() == before);
    CHECK(ticks > 20);
    CHECK_FALSE(recorder.end(runner));
    CHECK(recorder.ticks() == ticks);
    CHECK(survey::read_take(recorder.bytes()).ticks.size() == ticks);
}

TEST_CASE("what is no take, or not whole, is refused with its place or cut at the last whole tick") {
    const Chart chart = compile(all_ways());
    std::vector<std::byte> bytes = recorded(chart, 9, 2.0);
    const std::size_t ticks = survey::read_take(bytes).ticks.size();
    const auto refused = [&](std::vector<std::byte> broken) {
        return complaint([&] { static_cast<void>(survey::read_take(broken, "x.take")); });
    };
    CHECK(refused({}).find("x.take: byte 0: is no take") == 0);
    std::vector<std::byte> other = bytes;
    other[8] = std::byte{9};
    CHECK(refused(other).find("is a take of version 9; this program reads version 3") != std::string::npos);
    CHECK(refused({bytes.begin(), bytes.begin() + 30}).find("is cut off in its heading") !=
          std::string::npos);
    bytes.resize(bytes.size() - 5);
    const survey::Take cut = survey::read_take(bytes);
    CHECK(cut.cut_short);
    CHECK(cut.ticks.size() == ticks - 1);
    CHECK_FALSE(survey::replay(cut, chart, nullptr).first);
}

TEST_CASE("no bytes at all bring the reader down") {
    const Chart chart = compile(all_ways());
    const std::vector<std::byte> whole = recorded(chart, 4, 1.0);
    std::mt19937 random(1);
    std::size_t refused = 0, read = 0;
    for (int i = 0; i < 3000; ++i) {
        std::vector<std::byte> bytes = whole;
        for (int k = 0; k < 4; ++k) {
            bytes[random() % bytes.size()] = static_cast<std::byte>(random() & 0xffU);
        }
        bytes.resize(1 + random() % bytes.size());
        try {
            const survey::Take take = survey::read_take(bytes);
            static_cast<void>(survey::replay(take, chart, nullptr));
            ++read;
        } catch (const ChartError&) {
            ++refused;
        }
    }
    CHECK(read > 100);
    CHECK(refused > 100);
}
