#include <catch2/catch.hpp>
#include <cursimeter/chartfile/chart_file.hpp>
#include <cursimeter/chartfile/drill_file.hpp>

#include "support/bearer.hpp"
#include "support/demo.hpp"

using namespace support;

namespace {

std::string told_of_drill(const std::string& text) {
    return complaint([&] { static_cast<void>(parse_drill(text, "d.toml", compile(bearer()))); });
}

const std::string head = "format = 1\nname = \"d\"\nseconds = 10\n";

}  // namespace

TEST_CASE("a drill of more steps than anybody plays is refused before it is laid out") {
    std::string text =
        "format = 1\nname = \"x\"\nseconds = 86400\n[[repeat]]\nfrom = 0\nevery = 0.5\ntimes = 100000\n";
    for (int i = 0; i < 11; ++i) {
        text += "[[repeat.step]]\nat = 0.1\nmove = { forward = 1 }\n";
    }
    try {
        static_cast<void>(parse_drill(text, "d.toml", compile(support::bearer())));
        FAIL("it was laid out");
    } catch (const ChartError& error) {
        CHECK(
            std::string(error.what()).find("repeat[1]: brings the drill to 1100000 steps; 1000000 at most") !=
            std::string::npos);
    }
}

TEST_CASE("the demo drill loads for the demo chart") {
    const Chart chart = demo_chart("bearer").chart;
    const DrillFile file = load_drill(demo_folder + "drills/quay_boards.toml", chart);
    CHECK(file.drill.name() == "quay boards");
    CHECK(file.drill.length().value == 60.0);
    CHECK(file.spec.repeats.at(0).times == 200);
    CHECK(file.drill.changes().size() > 400);
}

TEST_CASE("every key of a drill is read, and what is formatted loads back equal") {
    const Chart chart = compile(bearer());
    DrillSpec spec;
    spec.name = "everything";
    spec.seconds = 12.5;
    spec.press_seconds = 0.125;
    spec.set_toggle = {"sprint"};
    spec.set_hold = {"sprint"};
    spec.start.position = {1.0, -2.5, 0.125};
    spec.start.yaw = Degrees{-90.0};
    spec.start.facing = Facing::movement;
    StepSpec step;
    step.at = 1.1;
    step.release = {"sprint"};
    step.hold = {"sprint"};
    step.press = {"sprint"};
    step.move = Move{0.1, -0.7};
    step.look = LookSpec{Degrees{33.3}, Degrees{-12.0}};
    spec.steps = {step, step};
    StepSpec inner = step;
    inner.at = 0.01;
    spec.repeats = {{.from = 3.0, .every = 0.5, .times = 4, .steps = {inner, inner}}};
    const std::string text = format_drill(spec);
    CAPTURE(text);
    CHECK(parse_drill(text, "d.toml", chart).spec == spec);
    const DrillSpec demo =
        load_drill(demo_folder + "drills/quay_boards.toml", demo_chart("bearer").chart).spec;
    CHECK(parse_drill(format_drill(demo), "d.toml", demo_chart("bearer").chart).spec == demo);
}

TEST_CASE("mistakes in drills are told with their place") {
    CHECK(told_of_drill(head + "[[step]]\nat = 1\nhold = [\"sprit\"]\n") ==
          "d.toml:6:9: step[1].hold[1]: the chart has no action named 'sprit'; did you mean 'sprint'?");
    CHECK(
        told_of_drill(head + "[[step]]\nhold = [\"sprint\"]\n") ==
        "d.toml:4:1: step[1].at: is missing; say at = ...: when; in a repeat, after the start of each pass");
    CHECK(told_of_drill(head + "[[step]]\nat = 1\nmove = { forwrd = 1 }\n") ==
          "d.toml:6:10: step[1].move.forwrd: is not a known key here; did you mean 'forward'?");
    CHECK(told_of_drill(head + "[[step]]\nat = 1\nmove = { forward = 2 }\n") ==
          "d.toml:6:10: step[1].move.forward: 2 is out of range; -1 <= forward <= 1");
    CHECK(told_of_drill(head + "[step]\nat = 1\n") ==
          "d.toml:4:2: step: is a table, not a list of tables; write [[step]]");
    CHECK(told_of_drill(head + "[[repeat]]\nfrom = 1\nevery = 1\ntimes = 1.5\nstep = []\n") ==
          "d.toml:7:1: repeat[1].times: is a number, not a whole number in range; a whole number, 1 <= times "
          "<= "
          "100000");
    CHECK(told_of_drill(head + "[start]\nposition = [1, 2]\n") ==
          "d.toml:5:1: start.position: is not a list of three numbers; write [x, y, z] in m");
    CHECK(told_of_drill("format = 1\nname = \"d\"\n") ==
          "d.toml:1:1: seconds: is missing; say seconds = ...: length of the drill");
    CHECK(told_of_drill(head + "[[step]]\nat = 3\n[[step]]\nat = 2\n") ==
          "d.toml:7:1: step[2].at: 2 s comes after a step at 3 s; put the steps in order of time");
}
