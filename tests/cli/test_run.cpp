#include <fmt/format.h>

#include <algorithm>
#include <catch2/catch.hpp>
#include <cmath>
#include <fstream>
#include <nlohmann/json.hpp>

#include "support/program.hpp"

using namespace support;
using nlohmann::json;

namespace {
/// Where the letters of a picture stand from the page's left edge.
std::vector<double> lefts_of_letters(const std::string& svg) {
    std::ifstream file(svg);
    const std::string picture(std::istreambuf_iterator<char>(file), {});
    std::vector<double> lefts;
    const std::string mark = "<use xlink:href=\"#glyph";
    for (std::size_t at = picture.find(mark); at != std::string::npos; at = picture.find(mark, at + 1)) {
        lefts.push_back(std::stod(picture.substr(picture.find(" x=\"", at) + 4, 20)));
    }
    return lefts;
}

const std::string quay_call = "run demo/charts/bearer.toml --drill demo/drills/quay_boards.toml";
}  // namespace

TEST_CASE("the summary tells the run's story") {
    const Outcome outcome = run_program(quay_call);
    CHECK(outcome.code == 0);
    CHECK(outcome.errors.empty());
    for (const char* line :
         {"bearer through \"quay boards\": 60 s at 60 ticks a second (3600 ticks)", "distance  162.020 m",
          "stamina      0.00     69.50       100", "    9.000  sprint     enter: moving forward",
          "   17.354  walk       stay failed: stamina > 0", "   19.721  sprint     enter: not stamina spent",
          "   38.000  399 changes, each state for less than 0.25 s, until 41.990",
          "   17.354  stamina emptied", "sprint pressed 203 times, released 203 times",
          "tread pressed 2 times, released 2 times"}) {
        CAPTURE(line);
        CHECK(outcome.out.find(line) != std::string::npos);
    }
}

TEST_CASE("long names keep tables straight, and stand whole on the page before their bands") {
    const Folder folder("long_names");
    const std::string chart = folder.file("long.toml"), drill = folder.file("drill.toml");
    const auto letters = static_cast<std::size_t>(GENERATE(17, 40, 64));
    std::string umlauts;  // two bytes each
    for (std::size_t i = 0; i < 3 * letters / 2; ++i) {
        umlauts += i % 3 == 0 ? "e" : "\u00e4";
    }
    const std::string walk(letters, 'w'), key(letters, 'k'), meter(letters, 'm');
    std::string rank = "\"run\", \"" + walk + "\"", others;
    for (char digit = '0'; digit <= '9'; ++digit) {
        const std::string other = walk.substr(1) + digit;
        rank += ", \"" + other + "\"";
        others += "[states." + other + "]\nlike = \"" + walk + "\"\n";
    }
    std::ofstream(chart) << "format = 1\nname = \"" << std::string(3 * letters, 'n') << "\"\nrank = [" << rank
                         << "]\n[actions]\n"
                         << key << " = {}\n[meters." << meter << "]\ncapacity = 9\n[states." << walk
                         << "]\nkind = \"ground\"\nspeed = { forward = 2 }\n[states.run]\nlike = \"" << walk
                         << "\"\nenter = [\"" << key << " on\"]\n"
                         << others;
    std::ofstream(drill) << "format = 1\nname = \"" << umlauts
                         << "\"\nseconds = 3\n[[step]]\nat = 1\nhold = [\"" << key << "\"]\n";
    const Outcome outcome = run_program("run " + chart + " --drill " + drill + " --picture " +
                                        folder.file("out.svg") + " --map " + folder.file("map.svg"));
    CHECK(outcome.code == 0);
    const std::string gap(letters - 3, ' ');
    CHECK(outcome.out.find("\n    0.000  " + walk + " start\n    1.000  run" + gap + " enter: " + key +
                           " on\n") != std::string::npos);
    for (const char* name : {"out.svg", "map.svg"}) {
        CAPTURE(name);
        const std::vector<double> lefts = lefts_of_letters(folder.file(name));
        REQUIRE(lefts.size() > 100);
        CHECK(*std::min_element(lefts.begin(), lefts.end()) >= 0.0);
        CHECK(*std::max_element(lefts.begin(), lefts.end()) < 1280.0);
    }
    const Outcome why = run_program("why " + chart + " --drill " + drill + " --at 2");
    CHECK(why.out.find("  1  run" + gap + " ") != std::string::npos);
    CHECK(why.out.find("  2  " + walk + " ") != std::string::npos);
}

TEST_CASE("the page of a large chart's timeline grows until everything has room") {
    const Folder folder("large");
    const std::string chart = folder.file("large.toml"), drill = folder.file("drill.toml");
    std::string rank, actions, meters, states;
    for (int i = 0; i < 32; ++i) {
        rank += fmt::format("\"state_{}\", ", i);
        states += fmt::format("[states.state_{}]\nkind = \"ground\"\nspeed = {{ forward = 2 }}\n{}", i,
                              i < 31 ? fmt::format("enter = [\"key_{} on\"]\n", i % 20) : "");
        actions += i < 20 ? fmt::format("key_{} = {{}}\n", i) : "";
        meters += i < 3 ? fmt::format("[meters.meter_{}]\ncapacity = 9\n", i) : "";
    }
    std::ofstream(chart) << "format = 1\nname = \"large\"\nrank = [" << rank << "]\n[actions]\n"
                         << actions << meters << states;
    std::ofstream(drill) << "format = 1\nname = \"d\"\nseconds = 3\n";
    const std::string picture = folder.file("out.svg");
    CHECK(run_program("run " + chart + " --drill " + drill + " --picture " + picture).code == 0);
    std::ifstream file(picture);
    const std::string text(std::istreambuf_iterator<char>(file), {});
    // By hand: 76 above and 46 below, 32 lanes of 14, 20 of 11, 56 for events, 6 gaps of 20, 90 for the speed and 76.5 for each
    // of three meters: 1285.5.
    CHECK(text.substr(0, 400).find("height=\"1286") != std::string::npos);
}

TEST_CASE("the option --json prints exactly one object with everything in it") {
    const Outcome outcome = run_program(quay_call + " --json --rate 144 --seconds 20");
    CHECK(outcome.code == 0);
    const json run = json::parse(outcome.out);
    CHECK(run.at("chart") == "bearer");
    CHECK(run.at("drill") == "quay boards");
    CHECK(run.at("rate") == 144.0);
    CHECK(run.at("seconds") == 20.0);
    CHECK(run.at("ticks") == 2880);
    CHECK(run.at("digest").get<std::string>().find_first_not_of("0123456789abcdef") == std::string::npos);
    CHECK(run.at("digest").get<std::string>().size() == 16);
    CHECK(run.at("final").at("state") == "sprint");
    CHECK(run.at("final").at("position").size() == 3);
    CHECK(run.at("final").at("velocity").size() == 3);
    CHECK(run.at("final").at("meters").at("stamina").get<double>() > 20.0);
    CHECK(run.at("distance").get<double>() > 60.0);
    CHECK(run.at("states").at(0) == json({{"state", "walk"},
                                          {"at", 0.0},
                                          {"seconds", 9.0},
                                          {"distance", run["states"][0]["distance"]},
                                          {"cause", "start"}}));
    CHECK(run.at("states").at(1).at("cause") == "enter: moving forward");
    bool emptied = false;
    for (const json& event : run.at("events")) {
        if (event.at("event") == "emptied") {
            emptied = true;
            CHECK(event.at("of") == "stamina");
            CHECK(std::fabs(event.at("at").get<double>() - run["states"][2]["at"].get<double>()) < 1e-9);
        }
    }
    CHECK(emptied);
    // Times are printed with all their digits.
    CHECK(outcome.out.find("17.35") != std::string::npos);
    const std::size_t at = outcome.out.find("17.35");
    CHECK(outcome.out.find_first_not_of("0123456789.", at) - at >= 10);
}

TEST_CASE("the same call prints the same bytes") {
    CHECK(run_program(quay_call + " --json").out == run_program(quay_call + " --json").out);
}

TEST_CASE("the options --trace and --picture write a table and draw it, and both are named") {
    const Folder folder("outputs");
    for (const std::string ending : {"png", "svg"}) {
        const std::string picture = folder.file("p." + ending), trace = folder.file("t.csv");
        const Outcome outcome =
            run_program(quay_call + " --trace '" + trace + "' --picture '" + picture + "'");
        CHECK(outcome.code == 0);
        CHECK(outcome.out.find("wrote " + trace + "\nwrote " + picture + "\n") != std::string::npos);
        const std::string csv = read_file(trace);
        CHECK(std::count(csv.begin(), csv.end(), '\n') == 3602);
    }
    const std::string png = read_file(folder.file("p.png"));
    REQUIRE(png.size() > 10000);
    CHECK(png.substr(1, 3) == "PNG");
    const auto number = [&](std::size_t at) {  // big-endian, as PNG has it
        unsigned value = 0;
        for (std::size_t i = 0; i < 4; ++i) {
            value = value * 256 + static_cast<unsigned char>(png[at + i]);
        }
        return value;
    };
    CHECK(number(16) == 1280);
    CHECK(number(20) == 800);
    const std::string svg = read_file(folder.file("p.svg"));
    CHECK(svg.find("<svg") != std::string::npos);
    CHECK(svg.find("width=\"1280pt\"") != std::string::npos);
}

TEST_CASE("a chart without meters and actions runs and is drawn") {
    const Folder folder("plain");
    const std::string chart =
        folder.write("c.toml",
                     "format = 1\nname = \"plain\"\nrank = [\"walk\"]\n[states.walk]\nkind = "
                     "\"ground\"\nspeed = { forward = 2 }\n");
    const std::string drill = folder.write(
        "d.toml", "format = 1\nname = \"d\"\nseconds = 1\n[[step]]\nat = 0\nmove = { forward = 1 }\n");
    const Outcome outcome =
        run_program("run '" + chart + "' --drill '" + drill + "' --picture '" + folder.file("p.png") + "'");
    CHECK(outcome.code == 0);
    CHECK(outcome.out.find("distance  2.000 m") != std::string::npos);
    CHECK(read_file(folder.file("p.png")).substr(1, 3) == "PNG");
}

TEST_CASE("a run over a course tells its legs, and draws the map") {
    const Folder folder("map");
    const std::string run =
        "run demo/charts/eel.toml --drill demo/drills/relay_eel.toml --course demo/courses/relay.toml";
    const Outcome told = run_program(run + " --map '" + folder.file("m.png") + "'");
    CHECK(told.code == 0);
    CHECK(told.out.find("eel through \"relay of the eel\" over \"relay\": 33 s") == 0);
    CHECK(told.out.find("\nwhole relay ") != std::string::npos);
    CHECK(told.out.find("landed in fall, ") != std::string::npos);
    CHECK(read_file(folder.file("m.png")).substr(1, 3) == "PNG");
    const Outcome map = run_program(run + " --map '" + folder.file("m.svg") + "' --json");
    CHECK(read_file(folder.file("m.svg")).find("<svg") != std::string::npos);
    const auto told_json = nlohmann::json::parse(map.out);
    CHECK(told_json["course"] == "relay");
    REQUIRE(told_json["legs"].size() == 8);
    CHECK(told_json["legs"][0]["leg"] == "quay boards");
    CHECK(told_json["legs"][0]["seconds"] == Approx(5.65).margin(0.01));
    const auto cut = nlohmann::json::parse(run_program(run + " --seconds 3 --json").out);
    CHECK(cut["legs"][1]["seconds"].is_null());
}

TEST_CASE("a run tells of modifiers, thresholds and refused presses, in words and for programs") {
    const std::string run = "run demo/charts/keeper.toml --drill demo/drills/keeper_rounds.toml";
    const Outcome told = run_program(run);
    CHECK(told.code == 0);
    for (const char* line :
         {"    1.400  dash refused, fails: breather ready\n", "   10.073  stamina fell below 'low'\n",
          "   12.697  winded began\n", "   22.400  pull at 2 stacks\n", "   30.400  pull at 1 stack\n",
          "   31.000  pull ended\n"}) {
        CAPTURE(line);
        CHECK(told.out.find(line) != std::string::npos);
    }
    const json events = json::parse(run_program(run + " --json").out).at("events");
    const auto first = [&](const char* kind) {
        return *std::find_if(events.begin(), events.end(),
                             [&](const json& event) { return event["event"] == kind; });
    };
    CHECK(first("refused")["cause"] == "fails: breather ready");
    CHECK(first("stacked")["stacks"] == 2);
    CHECK(first("crossed")["threshold"] == "low");
    CHECK(first("crossed")["rising"] == false);
}

TEST_CASE("help, version and the references") {
    CHECK(run_program("--version").out == "0.1.0\n");
    CHECK(run_program("run --help").out.find("--picture") != std::string::npos);
    CHECK(run_program("reference chart").out == source("docs/chart-reference.md"));
    CHECK(run_program("reference drill").out == source("docs/drill-reference.md"));
    CHECK(run_program("reference course").out == source("docs/course-reference.md"));
}

TEST_CASE("run compares a drill with itself at other tick rates") {
    const Outcome outcome = run_program(quay_call + " --also-at 20,144,1000");
    CHECK(outcome.code == 0);
    for (const char* rate : {"20", "144", "1000"}) {
        CHECK(outcome.out.find(std::string("at ") + rate) != std::string::npos);
    }
    const std::string same =
        "the same states, at times under 1 us apart at most; the ends are under 1 um apart\n";
    std::size_t lines = 0;
    for (std::size_t at = 0; (at = outcome.out.find(same, at)) != std::string::npos; ++at) {
        ++lines;
    }
    CHECK(lines == 3);

    const json one = json::parse(run_program(quay_call + " --json").out);
    const json other = json::parse(run_program(quay_call + " --json -r 37 --also-at 60").out);
    CHECK(one.at("digest") != other.at("digest"));
    CHECK(one.at("states_digest") == other.at("states_digest"));
    CHECK_FALSE(one.contains("also_at"));
    const json& at = other.at("also_at").at(0);
    CHECK(at.at("rate") == 60.0);
    CHECK(at.at("states_digest") == one.at("states_digest"));
    CHECK(at.at("first_difference").is_null());
    CHECK(at.at("seconds_apart").get<double>() < 1e-9);
    CHECK(at.at("metres_apart").get<double>() < 1e-9);
}

TEST_CASE("run says from where on states differ at another tick rate, and exits with 1") {
    // A key that is hammered every half millisecond: more changes than the report of a tick of 0.1 s holds.
    std::string drill =
        "format = 1\nname = \"hammer\"\nseconds = 2\n[[step]]\nat = 0\nmove = { forward = 1 }\n";
    for (int i = 0; i < 160; ++i) {
        drill += "[[step]]\nat = " + std::to_string(0.5 + 0.0005 * i) +
                 (i % 2 == 0 ? "\nhold" : "\nrelease") + " = [\"sprint\"]\n";
    }
    const Folder folder("hammer");
    const std::string call =
        "run demo/charts/bearer.toml -r 1000 --also-at 10 -d" + quoted(folder.write("hammer.toml", drill));
    const Outcome outcome = run_program(call);
    CHECK(outcome.code == 1);
    CHECK(contains(outcome.out,
                   "\nat 10     OTHER STATES from visit 34 on: no further state; at 1000 sprint at 0.516 s "
                   "(enter: sprint on); 416 events did not fit into their tick's report\n"));
    const Outcome told = run_program(call + " --json");
    CHECK(told.code == 1);
    CHECK(json::parse(told.out).at("also_at").at(0).at("first_difference") == 33);
}

TEST_CASE("run refuses other tick rates that make no sense") {
    CHECK(run_program(quay_call + " --also-at 5").errors ==
          "cursimeter: error: --also-at: 5 ticks a second is out of range; 10 <= rate <= 100000\n");
    CHECK(run_program(quay_call + " --also-at 20,x").code == 2);
    const Folder folder("also_at");
    const std::string take = folder.file("also.take");
    CHECK(run_program(quay_call + " -s 1 --take" + quoted(take)).code == 0);
    const Outcome outcome = run_program("run --from" + quoted(take) + " --also-at 20");
    CHECK(outcome.code == 2);
    CHECK(outcome.errors ==
          "cursimeter: error: --also-at: cannot be used with a take: its ticks are part of it; give the "
          "drill in place "
          "of the take\n");
}
