#include <catch2/catch.hpp>
#include <nlohmann/json.hpp>

#include "support/program.hpp"
#include "support/refuses.hpp"

using namespace support;

TEST_CASE("check: the requirements of the demo chart are proven, those of the call are ruled on besides") {
    const Outcome own = run_program("check " + bearer_file);
    CHECK(own.code == 0);
    CHECK(
        own.out.starts_with("proven: never sprint with stamina spent\n"
                            "    what enters and keeps sprint rules it out\n"));
    CHECK(own.out.ends_with("bearer: sound: 11 states, nothing to find; of 5 requirements 5 proven\n"));
    const Outcome more =
        run_program("check " + bearer_file + " --require 'knocked ends within 2 s' --effort 0.01");
    CHECK(more.code == 0);  // what is not decided is not wrong
    CHECK(more.out.find(
              "not decided: knocked ends within 2 s\n    no proof; not broken in 0.01 million ticks from ") !=
          std::string::npos);
    CHECK(more.out.ends_with("nothing to find; of 6 requirements 5 proven, 1 not decided\n"));
}

TEST_CASE("check: a requirement that is refuted comes with a drill that plays") {
    const Folder folder("breach");
    const std::string file = folder.file("breach.toml");
    const Outcome outcome = run_program("check " + bearer_file +
                                        " --require 'never walk with stamina spent' --proof" + quoted(file));
    CHECK(outcome.code == 1);
    CHECK(outcome.out.find("refuted: never walk with stamina spent\n    walk with stamina spent from ") !=
          std::string::npos);
    CHECK(outcome.out.find("s on, by " + file + "\n") != std::string::npos);
    CHECK(outcome.out.ends_with("bearer: nothing else to find; of 6 requirements 5 proven, 1 refuted\n"));
    const Outcome run = run_program("run " + bearer_file + " --drill" + quoted(file));
    CHECK(run.code == 0);
    CHECK(run.out.find("stamina emptied") != std::string::npos);
    const Outcome as_json =
        run_program("check " + bearer_file + " --json --require 'never walk with stamina spent'");
    const nlohmann::json told = nlohmann::json::parse(as_json.out);
    CHECK(told["sound"] == false);
    REQUIRE(told["requirements"].size() == 6);
    CHECK(told["requirements"][0]["decision"] == "proven");
    CHECK(told["requirements"][5]["decision"] == "refuted");
    CHECK(told["requirements"][5]["breach"].get<std::string>() == read_file(file));
}

TEST_CASE("check: a requirement that is wrong is told at its place, in the call or in the chart") {
    const Folder folder("wrong");
    refuses("check " + bearer_file + " --require 'never sprnt with stamina spent'",
            "--require: the chart has no state 'sprnt'; did you mean 'sprint'?\n");
    refuses("check " + bearer_file + " --require 'never sprint with stamia spent'", "--require: ");
    for (const char* effort : {"0", "-1", "nan", "1e9"}) {
        refuses("check " + bearer_file + " --effort " + effort, "--effort: is ");
    }
    refuses("check " + bearer_file + " --require fast", "--require: 'fast' is no requirement; write ");
    const std::string own = source(bearer_file);
    const std::string chart = folder.write("c.toml", own + "[[require]]\nthat = \"dash is short\"\n");
    const auto lines = std::count(own.begin(), own.end(), '\n');
    refuses("check" + quoted(chart), chart + ":" + std::to_string(lines + 2) +
                                         ":1: require[6].that: 'dash is short' is no requirement; write ");
    const std::string key =
        folder.write("k.toml", source(bearer_file) + "\n[[require]]\nthta = \"never sprint\"\n");
    refuses("check" + quoted(key), key + ":");
}
