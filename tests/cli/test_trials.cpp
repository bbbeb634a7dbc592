#include <catch2/catch.hpp>
#include <nlohmann/json.hpp>

#include "support/program.hpp"
#include "support/refuses.hpp"

using namespace support;

namespace {

const std::string demo_folder = std::string(CURSIMETER_SOURCE_DIR) + "/demo/";

/// A trials file that names the demo's files by their whole paths.
std::string trials_text(const std::string& rest) {
    return "format = 1\nname = \"agreed\"\n" + rest;
}
std::string quay_boards(const std::string& rates) {
    return "[[trial]]\ncharts = [\"" + demo_folder + "charts/bearer.toml\"]\ndrills = [\"" + demo_folder +
           "drills/quay_boards.toml\"]\nrates = " + rates + "\n";
}
std::string figure_text(const std::string& name, const std::string& bounds) {
    return "[[figure]]\nname = \"" + name + "\"\ncharts = [\"" + demo_folder + "charts/bearer.toml\"]\n" +
           bounds + "\n";
}

}  // namespace

TEST_CASE("trials: everything that was agreed about the demo charts is so") {
    const Outcome outcome = run_program("trial demo/trials.toml");
    CAPTURE(outcome.out, outcome.errors);
    CHECK(outcome.code == 0);
    CHECK(outcome.out.find("bearer, relay of the bearer on relay: 3 of 3 expectations kept at 20, 60, 144, "
                           "1000 ticks a second\n") != std::string::npos);
    CHECK(outcome.out.find("bearer: 4 of 4 figures kept\n") != std::string::npos);
    CHECK(outcome.out.ends_with("as agreed: 24 of 24 kept, in 16 runs\n"));
    CHECK(run_program("trial demo --threads 1").out == outcome.out);
}

TEST_CASE("trials: figures are held against their bounds, each with its line and what it is instead") {
    const Folder folder("figures");
    const std::string file = folder.write(
        "t.toml",
        trials_text(
            figure_text("jump.height", "least = 1.3\nmost = 1.3") +  // what the chart says, to the digit
            figure_text("dash.length", "least = 3.1") + figure_text("sprint.top_forward", "most = 6")));
    const Outcome outcome = run_program("trial" + quoted(file));
    CHECK(outcome.code == 1);
    CHECK(outcome.out == file + ":8:1: not so: dash.length at least 3.1 m\n    of bearer: 3 m\n" + file +
                             ":12:1: not so: sprint.top_forward at most 6 m/s\n    of bearer: 6.5 m/s\n"
                             "bearer: 1 of 3 figures kept\n"
                             "NOT as agreed: 1 of 3 kept, in 0 runs\n");
}

TEST_CASE("trials: runs, rates and results for programs and build servers") {
    const Folder folder("runs");
    const std::string file = folder.write(
        "t.toml", trials_text(quay_boards("[30, 125]") + figure_text("jump.height", "most = 1")));
    const Outcome as_json = run_program("trial --json" + quoted(file));
    CHECK(as_json.code == 1);
    const nlohmann::json told = nlohmann::json::parse(as_json.out);
    CHECK(told["kept"] == false);
    REQUIRE(told["runs"].size() == 2);
    CHECK(told["runs"][1]["rate"] == 125.0);
    CHECK(told["runs"][1]["course"].is_null());
    CHECK(told["runs"][1]["expectations"].size() == 7);
    REQUIRE(told["figures"].size() == 1);
    CHECK(told["figures"][0]["said"] == "jump.height at most 1 m");
    CHECK(told["figures"][0]["value"].get<double>() == Approx(1.3));
    CHECK(told["figures"][0]["line"] == 7);
    CHECK(nlohmann::json::parse(run_program("trial --json --rate 50" + quoted(file)).out)["runs"].size() ==
          1);

    const std::string xml = folder.file("t.xml");
    CHECK(run_program("trial" + quoted(file) + " --junit" + quoted(xml)).code == 1);
    const std::string text = read_file(xml);
    CHECK(text.find(
              "<testsuite name=\"bearer, quay boards at 125 ticks a second\" tests=\"7\" failures=\"0\">") !=
          std::string::npos);
    CHECK(text.find("<testsuite name=\"bearer, figures\" tests=\"1\" failures=\"1\">") != std::string::npos);
    CHECK(text.find("<failure message=\"1.3 m\"/>") != std::string::npos);
    refuses("trial" + quoted(file) + " --junit" + quoted(file), file + ": --junit: writes test results, ");
    const std::string twin = folder.file("twin.xml");
    std::filesystem::create_hard_link(file, twin);
    refuses("trial" + quoted(file) + " --junit" + quoted(twin), twin + ": --junit: ");
}

TEST_CASE("trials: everything that is wrong with any of the files is told at once, each with its place") {
    const Folder folder("wrong");
    const std::string file = folder.write(
        "t.toml",
        trials_text("[[trial]]\ncharts = [\"beaer.toml\", \"bad.toml\"]\ndrills = [\"none.toml\"]\n" +
                    figure_text("jump.heigth", "most = 1")));
    const std::string bad =
        folder.write("bad.toml", "format = 1\nname = \"bad\"\n[states.walk]\nkind = \"grund\"\n");
    const Outcome outcome = run_program("trial" + quoted(file));
    CHECK(outcome.code == 2);
    CHECK(outcome.out.empty());
    for (const std::string& wanted :
         {file + ":4:11: error: trial[1].charts[1]: there is no file '" + folder.file("beaer.toml") +
              "'; files are named from the folder of the trials file on\n",
          file + ":5:11: error: trial[1].drills[1]: there is no file '" + folder.file("none.toml") + "'; ",
          file + ":7:1: error: figure[1].name: of " + demo_folder + "charts/bearer.toml: ",
          std::string("did you mean 'jump.height'?")}) {
        CAPTURE(wanted, outcome.errors);
        CHECK(outcome.errors.find(wanted) != std::string::npos);
    }
    static_cast<void>(bad);
}

TEST_CASE("trials: files and calls that agree upon nothing are refused") {
    const Folder folder("refused");
    const auto refused = [&](const std::string& text, const std::string& complaint) {
        const std::string file = folder.write("t.toml", text);
        refuses("trial" + quoted(file), file + complaint);
    };
    refused(trials_text("[[trial]]\ncharts = []\ndrills = [\"d\"]\n"),
            ":4:1: trial[1].charts: names no file; name at least one\n");
    refused(trials_text(figure_text("jump.height", "")),
            ":3:1: figure[1]: says no bound; say `least`, `most` or both\n");
    refused(trials_text(figure_text("jump.height", "least = 2\nmost = 1")),
            ":6:1: figure[1].least: is 2, above `most`, 1; exchange the two\n");
    refused(trials_text("[[trial]]\ncharts = [\"c\"]\ndrills = [\"d\"]\nrates = [5]\n"), ":6:");
    refused(trials_text("[[trial]]\nchart = [\"c\"]\ndrills = [\"d\"]\n"),
            ":4:1: trial[1].chart: is not a known key here; did you mean 'charts'?\n");
    const std::string empty = folder.file("empty");
    std::filesystem::create_directories(empty);
    refuses("trial" + quoted(empty), empty +
                                         ": is a folder without any trials file; write one: see "
                                         "docs/trials-reference.md\n");
    refuses("trial demo/trials.toml --drill demo/drills/quay_boards.toml",
            "--drill: goes with a chart, not with a trials file; leave it out, or name a chart\n");
    const Outcome missing = run_program("trial none.toml --drill none_either.toml");
    CHECK(missing.code == 2);  // all that is missing is told at once
    CHECK(missing.errors.find("none.toml: ") != std::string::npos);
    CHECK(missing.errors.find("none_either.toml: ") != std::string::npos);
    refuses("trial demo/trials.toml --record", "--record: goes with a chart, not with a trials file; ");
    refuses("run demo/trials.toml --drill demo/drills/quay_boards.toml",
            "demo/trials.toml: is a trials file, not a chart file; ");
}
