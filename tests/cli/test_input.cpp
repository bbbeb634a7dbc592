#include <catch2/catch.hpp>
#include <cursimeter/cursimeter.hpp>
#include <nlohmann/json.hpp>

#include "support/bearer.hpp"
#include "support/folder.hpp"
#include "support/program.hpp"
#include "support/refuses.hpp"

using namespace support;

TEST_CASE("errors are JSON where JSON was asked for, and all missing files are told at once") {
    const Outcome outcome = run_program("run gone.toml --drill away.toml --course nowhere.toml --json");
    CHECK(outcome.code == 2);
    CHECK(outcome.errors ==
          "gone.toml: error: cannot be read: No such file or directory; check the path and its permissions\n"
          "away.toml: error: cannot be read: No such file or directory; check the path and its permissions\n"
          "nowhere.toml: error: cannot be read: No such file or directory; check the path and its "
          "permissions\n");
    const nlohmann::json told = nlohmann::json::parse(outcome.out);
    REQUIRE(told["errors"].size() == 3);
    CHECK(told["errors"][1]["file"] == "away.toml");
    CHECK(told["errors"][1]["what"] == "cannot be read: No such file or directory");
    CHECK(nlohmann::json::parse(run_program("run --colour --json").out)["errors"].size() == 1);
}

TEST_CASE("a file that nobody wrote by hand is refused, quickly and in a few lines") {
    const Folder folder("bounds");
    refuses("run /dev/zero --drill " + quay_file,
            "/dev/zero: holds more than 16 MB; check that it is the file that you meant\n");
    std::string keys = "format = 1\nname = \"x\"\n";
    for (int i = 0; i < 400'000; ++i) {
        keys += "unknown_key_" + std::to_string(i) + " = 1\n";
    }
    const Outcome many = run_program("check" + quoted(folder.write("keys.toml", keys)));
    CHECK(many.code == 2);
    CHECK(std::count(many.errors.begin(), many.errors.end(), '\n') == 51);
    CHECK(many.errors.find("more mistakes are not listed; correct these first\n") != std::string::npos);
    std::string dots = "a";
    for (int i = 0; i < 50'000; ++i) {
        dots += ".a";
    }
    const std::string deep = folder.write("deep.toml", "format = 1\n" + dots + " = 1\n");
    refuses("check" + quoted(deep),
            deep + ":2:1: has a key of more than 32 parts; no key of these files has more than five\n");
    refuses("check" + quoted(folder.write("head.toml", "[" + dots + "]\n")),
            folder.file("head.toml") + ":1:1: has a key of more");
    refuses("check" + quoted(folder.write("inline.toml", "x = { " + dots + " = 1 }\n")),
            folder.file("inline.toml") + ":1:1: has a key of more");
    std::string text = source(bearer_file);
    text.replace(text.find("moving forward"), 14, std::string(1'000'000, 'x'));
    const Outcome term = run_program("check" + quoted(folder.write("term.toml", text)));
    CHECK(term.code == 2);
    CHECK(term.errors.size() < 5000);
    text = source(bearer_file);
    text.replace(text.find("moving forward"), 14, "\\u001b[31mred\\u009b");
    const Outcome control = run_program("check" + quoted(folder.write("control.toml", text)));
    CHECK(control.errors.find("'\\x1b[31mred\\x9b' is not a known fact") != std::string::npos);
    CHECK(control.errors.find('\x1b') == std::string::npos);
}

TEST_CASE("a drill that goes on from a saved runner is run, and refused where runners begin by themselves") {
    const Folder folder("saved");
    ChartSpec spec = bearer();
    spec.blocks.push_back({.name = "slumber", .bans = {"movement"}});
    const Chart chart = compile(spec);
    Runner runner = spawn(chart, {{3.0, 4.0, 0.0}, 0.0});
    REQUIRE(try_spend(chart, runner, chart.meter("stamina"), 60.0));
    REQUIRE(block(chart, runner, chart.block("slumber")));
    const std::string saved = save_runner(chart, runner);
    const auto drill = [&](const std::string& start) {
        return folder.write("on.toml",
                            "format = 1\nname = \"on\"\nseconds = 0.5\n[start]\ntime = 2\n" + start);
    };
    std::string file = drill("runner = \"" + saved + "\"\n");
    const Outcome run = run_program("run demo/charts/bearer.toml --json --drill " + file);
    CHECK(run.code == 0);
    CHECK(run.errors ==
          file +
              ": caution: its runner was saved with another chart, and is taken over by names:\n"
              "  block 'slumber' is not in the new chart\n");
    const nlohmann::json told = nlohmann::json::parse(run.out);
    CHECK(told.at("final").at("position").at(0) == 3.0);
    CHECK(told.at("final").at("position").at(1) == 4.0);
    CHECK(told.at("final").at("meters").at("stamina").get<double>() < 50.0);
    CHECK(told.at("seconds") == 0.5);
    refuses("net demo/charts/bearer.toml --seconds 1 --drill " + file,
            file + ":4:2: start: 'on' goes on from a saved runner, and here runners begin at rest, at 0 s");
    refuses("scout demo/charts/bearer.toml --effort 0.1 --drill " + file,
            file + ":4:2: start: 'on' goes on from a saved runner");

    refuses("scout demo/charts/bearer.toml --effort 0.1 --known " + file,
            file + ":4:2: start: 'on' goes on from a saved runner");

    file = drill("");
    refuses("net demo/charts/bearer.toml --seconds 1 --drill " + file,
            file + ":4:2: start: 'on' goes on from 2 s");
    file = drill("runner = \"" + saved.substr(0, 300) + "\"\n");
    refuses("run demo/charts/bearer.toml --drill " + file,
            file + ":6:1: start.runner: is damaged; it has to be kept letter by letter");
    file = drill("yaw = 90\nrunner = \"" + saved + "\"\n");
    refuses("run demo/charts/bearer.toml --drill " + file,
            file + ":4:2: start: has a place, and a runner that has a place of its own");
}

TEST_CASE("a course on which a run is hardly meant is cautioned of") {
    const Folder folder("cautions");
    const auto cautions = [&](const std::string& text) {
        const std::string file = folder.write("c.toml", "format = 1\nname = \"c\"\n" + text);
        const Outcome outcome = run_program(
            "run demo/charts/gannet.toml --seconds 1 --drill demo/drills/relay_gannet.toml --course" +
            quoted(file));
        CHECK(outcome.code == 0);
        const std::string place = file + ": ";
        CHECK((outcome.errors.empty() || outcome.errors.starts_with(place)));
        return outcome.errors.substr(std::min(place.size(), outcome.errors.size()));
    };
    const std::string ground = "[[box]]\nfrom = [-50, -50, -1]\nto = [50, 50, 0]\n";
    CHECK(cautions(ground).empty());
    CHECK(cautions("[[box]]\nfrom = [10, 10, 0]\nto = [12, 12, 1]\n") ==
          "caution: there is no ground below the start, [-2, 0, 0]: the runner falls for ever\n");
    CHECK(cautions("[[box]]\nfrom = [-5, -5, -1]\nto = [5, 5, 0.5]\n")
              .find("caution: the start, [-2, 0, 0], is 0.50 m deep in a solid\n") == 0);
    CHECK(cautions(ground + "[[zone]]\nkind = \"updraf\"\nfrom = [5, 5, 0]\nto = [6, 6, 2]\n") ==
          "caution: zone[1]: the chart knows no zone 'updraf'; did you mean 'updraft'?\n");
    CHECK(cautions(ground + "[[zone]]\nkind = \"harbour\"\nfrom = [5, 5, 0]\nto = [6, 6, 2]\n").empty());
}
