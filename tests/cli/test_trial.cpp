#include <catch2/catch.hpp>
#include <nlohmann/json.hpp>

#include "support/program.hpp"
#include "support/refuses.hpp"

using namespace support;

namespace {

/// The quay boards with something more that is expected; and the line in which that begins.
std::string with(const Folder& folder, const std::string& expected, int& line) {
    const std::string text = source(quay_file) + "\n" + expected;
    line = 1 + static_cast<int>(
                   std::count(text.begin(), text.end() - static_cast<std::ptrdiff_t>(expected.size()), '\n'));
    return folder.write("d.toml", text);
}

}  // namespace

TEST_CASE("trial: the demo charts do what was agreed, at every tick rate") {
    const Outcome quay_boards = run_program("trial " + bearer_file + " --drill " + quay_file);
    CHECK(quay_boards.out == "bearer, quay boards: 7 of 7 expectations kept at 20, 60, 144 ticks a second\n");
    CHECK(quay_boards.code == 0);
    for (const char* name : {"bearer", "eel", "gannet"}) {
        const std::string chart(name);
        const Outcome relay =
            run_program("trial demo/charts/" + chart + ".toml --drill demo/drills/relay_" + chart +
                        ".toml --course demo/courses/relay.toml --rate 20 --rate 60 --rate 240 --rate 1000");
        CAPTURE(chart, relay.out, relay.errors);
        CHECK(relay.code == 0);
        CHECK(relay.out.find("at 20, 60, 240, 1000 ticks a second\n") != std::string::npos);
    }
}

TEST_CASE("trial: what was not kept is told with its line, its time, what was instead and why") {
    const Folder folder("trial");
    int line = 0;
    const std::string drill = with(folder, "[[expect]]\nstate = \"sprint\"\nat = 18\n", line);
    const Outcome outcome = run_program("trial " + bearer_file + " --drill" + quoted(drill));
    CHECK(outcome.code == 1);
    CHECK(outcome.out == drill + ":" + std::to_string(line) +
                             ":1: not so: sprint at 18 s\n"
                             "    at 20 ticks a second: walk at 18 s\n"
                             "        sprint: no: stamina >= 10 does not hold (stamina 0)\n"
                             "bearer, quay boards: 7 of 8 expectations kept at 20, 60, 144 ticks a second\n");
    const Outcome as_json = run_program("trial --rate 60 " + bearer_file + " --json --drill" + quoted(drill));
    CHECK(as_json.code == 1);
    const nlohmann::json told = nlohmann::json::parse(as_json.out);
    CHECK(told["kept"] == false);
    REQUIRE(told["runs"].size() == 1);
    const nlohmann::json& last = told["runs"][0]["expectations"].back();
    CHECK(last["said"] == "sprint at 18 s");
    CHECK(last["kept"] == false);
    CHECK(last["line"] == line);
    CHECK(last["at"] == 18.0);
    CHECK(last["instead"] == "walk");
    CHECK(told["runs"][0]["expectations"][0]["kept"] == true);
}

TEST_CASE("trial: results for a build server name what failed and hold whatever a term holds") {
    const Folder folder("junit");
    int line = 0;
    const std::string drill = with(folder, "[[expect]]\nholds = [\"speed < 1\"]\nfrom = 2\nto = 3\n", line);
    const std::string xml = folder.file("t.xml");
    const Outcome outcome =
        run_program("trial " + bearer_file + " --rate 60 --drill" + quoted(drill) + " --junit" + quoted(xml));
    CHECK(outcome.code == 1);
    CHECK(outcome.out.find("wrote " + xml + "\n") != std::string::npos);
    const std::string text = read_file(xml);
    CHECK(text.find(
              "<testsuite name=\"bearer, quay boards at 60 ticks a second\" tests=\"8\" failures=\"1\">") !=
          std::string::npos);
    CHECK(text.find(
              "name=\"speed &lt; 1 from 2 to 3 s\">\n      <failure message=\"speed 1.2 m/s at 2 s\"/>") !=
          std::string::npos);
}

TEST_CASE("trial: what is proposed is kept as it is") {
    const Folder folder("record");
    const Outcome proposed = run_program("trial " + bearer_file + " --record --drill " + quay_file);
    CHECK(proposed.code == 0);
    CHECK(proposed.out.starts_with("# What the run does now."));
    const std::string text = source(quay_file);
    const std::string drill =
        folder.write("d.toml", text.substr(0, text.find("# What was agreed")) + proposed.out);
    const Outcome kept = run_program("trial " + bearer_file + " --drill" + quoted(drill));
    CAPTURE(kept.out, kept.errors);
    CHECK(kept.code == 0);
    CHECK(kept.out.find("12 of 12 expectations kept") != std::string::npos);
}

TEST_CASE("trial: calls and expectations that are wrong are told with their places") {
    const Folder folder("wrong");
    const std::string bare = folder.write("bare.toml", "format = 1\nname = \"bare\"\nseconds = 1\n");
    refuses("trial " + bearer_file + " --drill" + quoted(bare),
            bare +
                ": expect: is missing: nothing is expected of this drill; add [[expect]] tables; --record "
                "proposes some\n");
    refuses("trial " + bearer_file,
            "--drill: is missing; give --drill FILE, with what is expected in it, or a trials file\n");
    refuses("trial " + quay_file,
            quay_file + ": is a drill file, not a chart file; check which file goes where\n");
    refuses("trial demo/charts/beaer.toml",
            "demo/charts/beaer.toml: cannot be read: No such file or directory");
    int line = 0;
    const std::string drill = with(folder, "[[expect]]\nholds = [\"stamia > 3\"]\n", line);
    refuses("trial " + bearer_file + " --drill" + quoted(drill),
            drill + ":" + std::to_string(line + 1) + ":10: expect[8].holds[1]: ");
    refuses("trial " + bearer_file + " --drill demo/drills/relay_bearer.toml",
            "demo/drills/relay_bearer.toml:");  // its legs want the course
    refuses("trial " + bearer_file + " --record --junit t.xml --drill " + quay_file, "--");
    refuses("trial " + bearer_file + " --drill " + quay_file + " --rate 5", "rate: 5 ");
}
