#include <catch2/catch.hpp>
#include <cursimeter/chartfile/chart_file.hpp>
#include <cursimeter/chartfile/course_file.hpp>
#include <fstream>
#include <sstream>

#include "support/bearer.hpp"

using namespace support;

namespace {

/// A sound chart in which one piece of text is replaced by another.
std::string with(const std::string& piece, const std::string& instead) {
    std::string text = R"(format = 1
name   = "bearer"
rank   = ["sprint", "walk"]

[actions]
sprint = { press = "hold" }

[meters.stamina]
capacity = 100
refill   = { rate = 18, wait = 0.7 }
spent    = { at = 0, until = 30 }

[states.walk]
kind  = "ground"
speed = { forward = 2.4, side = 2.1 }
gain  = { law = "ramp", up = 12 }

[states.sprint]
like  = "walk"
speed = { forward = 6.5 }
enter = ["sprint on", "moving forward"]
stay  = ["sprint on", "stamina > 0"]
drain = { stamina = 12 }
)";
    const std::size_t at = text.find(piece);
    REQUIRE(at != std::string::npos);
    return text.replace(at, piece.size(), instead);
}

std::string about(const std::string& piece, const std::string& instead) {
    return complaint([&] { static_cast<void>(parse_chart(with(piece, instead), "c.toml")); });
}

}  // namespace

TEST_CASE("the sound chart is sound") {
    CHECK(about("bearer", "bearer") == "(no complaint)");
}

TEST_CASE("wrong types") {
    CHECK(about("capacity = 100", "capacity = \"100\"") ==
          "c.toml:9:1: meters.stamina.capacity: is text, not a number; write a number such as 1.5");
    CHECK(about("forward = 6.5", "forward = true") ==
          "c.toml:20:11: states.sprint.speed.forward: is true or false, not a number; write a number in m/s, "
          "such as "
          "1.5");
    CHECK(about("speed = { forward = 6.5 }", "speed = 6.5") ==
          "c.toml:20:1: states.sprint.speed: is a number, not a table; write speed = { ... }");
    CHECK(about("name   = \"bearer\"", "name = 7") ==
          "c.toml:2:1: name: is a number, not text; write it in quotes");
    CHECK(about("enter = [\"sprint on\", \"moving forward\"]", "enter = \"sprint on\"") ==
          "c.toml:21:1: states.sprint.enter: is text, not a list of text; write [\"sprint on\"]");
    CHECK(about("enter = [\"sprint on\", \"moving forward\"]", "enter = { sprint = true }") ==
          "c.toml:21:1: states.sprint.enter: is a table, not a list of text; write [\"...\", \"...\"]");
    CHECK(about("\"moving forward\"]", "3]") ==
          "c.toml:21:23: states.sprint.enter[2]: is a number, not text; write it in quotes");
    CHECK(about("until = 30 }", "until = 30, bars = 1 }") ==
          "c.toml:11:34: meters.stamina.spent.bars: is a number, not true or false; write true or false");
    CHECK(about("sprint = { press = \"hold\" }", "sprint = \"hold\"") ==
          "c.toml:6:1: actions.sprint: is text, not a table; write { ... }");
    CHECK(about("drain = { stamina = 12 }", "drain = { stamina = \"fast\" }") ==
          "c.toml:23:11: states.sprint.drain.stamina: is text, not a number; write a number in per second, "
          "such as "
          "1.5");
    CHECK(about("name   = \"bearer\"", "name = 2026-11-23") ==
          "c.toml:2:1: name: is a date or time, not text; write it in quotes");
}

TEST_CASE("one mistake is told once") {
    CHECK(about("up = 12", "up = \"12\"") ==
          "c.toml:16:25: states.walk.gain.up: is text, not a number; write a number in m/s^2, such as 1.5");
    CHECK(about("speed = { forward = 2.4, ", "speed = { forward = [], ") ==
          "c.toml:15:11: states.walk.speed.forward: is a list, not a number; write a number in m/s, such as "
          "1.5");
    CHECK(about("until = 30", "untill = 30") ==
          "c.toml:11:22: meters.stamina.spent.untill: is not a known key here; did you mean 'until'?");
}

TEST_CASE("unknown keys, with the nearest known one") {
    CHECK(about("refill   =", "refil =") ==
          "c.toml:10:1: meters.stamina.refil: is not a known key here; did you mean 'refill'?");
    CHECK(about("forward = 6.5", "forwards = 6.5") ==
          "c.toml:20:11: states.sprint.speed.forwards: is not a known key here; did you mean 'forward'?");
    CHECK(about("[actions]", "colour = 3\n[actions]") ==
          "c.toml:5:1: colour: is not a known key here; known: format, name, rank, body, input, zones, "
          "actions, meters, "
          "cooldowns, modifiers, blocks, "
          "states, require");
}

TEST_CASE("unknown names in conditions, ranks, drains and likes") {
    CHECK(about("\"moving forward\"", "\"moving foward\"") ==
          "c.toml:21:23: states.sprint.enter[2]: 'moving foward' is not a known fact or comparison; did you "
          "mean "
          "'moving forward'?");
    CHECK(about("\"stamina > 0\"", "\"stammina > 0\"") ==
          "c.toml:22:23: states.sprint.stay[2]: 'stammina > 0': nothing that can be compared is named "
          "'stammina'; did "
          "you mean 'stamina'?");
    CHECK(about("rank   = [\"sprint\", ", "rank   = [\"sprnt\", ") ==
          "c.toml:3:11: rank[1]: no state is named 'sprnt'; did you mean 'sprint'?");
    CHECK(about("drain = { stamina = 12 }", "drain = { stam = 12 }") ==
          "c.toml:23:11: states.sprint.drain.stam: no meter is named 'stam'; known: stamina");
    CHECK(about("like  = \"walk\"", "like = \"wakl\"")
              .find("c.toml:19:1: states.sprint.like: no state is named 'wakl'; did you mean 'walk'?") == 0);
    CHECK(about("press = \"hold\"", "press = \"togle\"") ==
          "c.toml:6:12: actions.sprint.press: \"togle\" is not one of the choices; did you mean \"toggle\"? "
          "known: "
          "hold, toggle");
    CHECK(about("law = \"ramp\"", "law = \"spring\"")
              .find("c.toml:16:11: states.walk.gain.law: \"spring\" is not one of the choices; known: "
                    "instant, ramp, ease, "
                    "curve") == 0);
}

TEST_CASE("bad units and ranges") {
    CHECK(about("\"stamina > 0\"", "\"speed > 3 mph\"") ==
          "c.toml:22:23: states.sprint.stay[2]: 'speed > 3 mph': 'mph' is not a unit for this; speeds are in "
          "m/s");
    CHECK(about("up = 12", "up = -12") ==
          "c.toml:16:25: states.walk.gain.up: -12 is out of range; 0 < up <= 10000 m/s^2");
    CHECK(about("capacity = 100", "capacity = nan") ==
          "c.toml:9:1: meters.stamina.capacity: is not a finite number; 0.001 <= capacity <= 1000000");
    CHECK(about("until = 30", "until = 300") ==
          "c.toml:11:22: meters.stamina.spent.until: 300 is above the capacity 100; the meter would stay "
          "spent for "
          "ever; let it open at the capacity or below");
    CHECK(about("format = 1", "format = 2") ==
          "c.toml:1:10: format: is 2: the file is written for a newer version; this version reads format 1");
    CHECK(about("up = 12 }", "up = 12, up_curve = [[0, 0], [1]] }")
              .find("c.toml:16:54: states.walk.gain.up_curve[2]: is not a pair of numbers; write [seconds, "
                    "fraction], such "
                    "as [0.5, 1]") == 0);
}

TEST_CASE("duplicates and missing keys") {
    CHECK(complaint([] { static_cast<void>(parse_course("[[box]]\n[box]\n", "y.toml")); }) ==
          "y.toml:2:1: is not TOML: table header: cannot redefine existing array 'box' as table; write "
          "[[name]], "
          "in double brackets, before each of several; else keep one of the two; nothing after it was read");
    CHECK(about("capacity = 100\n", "capacity = 1e-9\n") ==
          "c.toml:9:1: meters.stamina.capacity: 1e-09 is out of range; 0.001 <= capacity <= 1000000");
    CHECK(
        about("wait = 0.7 }", "wait = 0.7 }\ncapacity = 3") ==
        "c.toml:11:12: is not TOML: key-value pair: cannot redefine existing integer 'capacity'; keep one of "
        "the two, or put both into one; nothing after it was read");
    CHECK(about("[states.sprint]", "[states.walk]") ==
          "c.toml:18:1: is not TOML: table header: cannot redefine existing table 'states.walk'; keep one of "
          "the two, or put both into one; nothing after it was read");
    CHECK(about("capacity = 100\n", "") ==
          "c.toml:8:9: meters.stamina.capacity: is missing; say capacity = ...: level of the full meter, in "
          "a unit of "
          "your own");
    CHECK(about("format = 1\n", "") ==
          "c.toml:1:1: format: is missing; say format = 1: version of the file format");
    CHECK(about("rate = 18, ", "") ==
          "c.toml:10:1: meters.stamina.refill.rate: is missing; say rate = ...: how fast the meter refills "
          "while "
          "nothing drains it");
    CHECK(about("kind  = \"ground\"\n", "") ==
          "c.toml:13:9: states.walk: has no kind; say kind = \"ground\", or be like a state that has one\n"
          "c.toml:17:9: states.sprint: has no kind; say kind = \"ground\", or be like a state that has one");
    CHECK(about("law = \"ramp\", up = 12", "law = \"ramp\"")
              .find("c.toml:16:1: states.walk.gain: law \"ramp\" needs up") == 0);
}

TEST_CASE("circles of like") {
    CHECK(about("kind  = \"ground\"", "like = \"sprint\"\nkind  = \"ground\"") ==
          "c.toml:14:1: states.walk.like: goes round in a circle: walk is like sprint is like walk; let one "
          "of them "
          "say everything itself");
}

TEST_CASE("more than the limits") {
    std::string states, rank = "rank = [\"sprint\", \"walk\"", actions, meters;
    for (int i = 0; i < 80; ++i) {
        const std::string n = std::to_string(i);
        states += "[states.s" + n + "]\nlike = \"walk\"\n";
        rank += ", \"s" + n + "\"";
        actions += "a" + n + " = {}\n";
        meters += "[meters.m" + n + "]\ncapacity = 1\n";
    }
    std::string text = with("rank   = [\"sprint\", \"walk\"", rank) + states + meters;
    text.insert(text.find("[meters.stamina]"), actions);
    const std::string said = complaint([&] { static_cast<void>(parse_chart(text, "c.toml")); });
    CHECK(said.find("c.toml:5:2: actions: there are 81 actions; there can be 32") != std::string::npos);
    CHECK(said.find("meters: there are 81 meters; there can be 12") != std::string::npos);
    CHECK(said.find("states: there are 82 states; there can be 64") != std::string::npos);
}

TEST_CASE("everything that is wrong is told at once, in the order of the file") {
    std::string text = with("capacity = 100", "capacity = \"much\"");
    for (const auto& [piece, instead] : std::vector<std::pair<std::string, std::string>>{
             {"wait = 0.7", "wayt = 0.7"},
             {"up = 12", "up = 0"},
             {"\"sprint on\", \"moving", "\"spring on\", \"moving"}}) {
        text.replace(text.find(piece), piece.size(), instead);
    }
    try {
        static_cast<void>(parse_chart(text, "c.toml"));
        FAIL("loaded");
    } catch (const ChartError& error) {
        std::vector<int> lines;
        for (const Diagnostic& diagnostic : error.diagnostics()) {
            lines.push_back(diagnostic.line);
        }
        CHECK(lines == std::vector<int>{9, 10, 16, 21});
    }
}

TEST_CASE("what is not TOML, not a file, or empty") {
    CHECK(complaint([] { static_cast<void>(parse_chart("format = = 1", "c.toml")); }).find("c.toml:1:10: ") ==
          0);
    CHECK(complaint([] { static_cast<void>(load_chart("/nowhere/at/all.toml")); }) ==
          "/nowhere/at/all.toml: cannot be read: No such file or directory; check the path and its "
          "permissions");
    CHECK(complaint([] { static_cast<void>(load_chart("/")); }) == "/: is a folder; name a file");
    const std::string empty = complaint([] { static_cast<void>(parse_chart("", "c.toml")); });
    CHECK(empty.find("c.toml:1:1: format: is missing") == 0);
    CHECK(empty.find("states: is missing") != std::string::npos);
}

TEST_CASE("what people write that is not TOML is told with what they meant") {
    const auto mend = [](const std::string& piece, const std::string& instead) {
        const std::string told = about(piece, instead);
        constexpr std::string_view opening = ": is not TOML: ", end = "; nothing after it was read";
        REQUIRE(told.find(opening) != std::string::npos);
        REQUIRE(told.ends_with(end));
        const std::size_t begin = told.rfind("; ", told.size() - end.size() - 1) + 2;
        return told.substr(begin, told.size() - end.size() - begin);
    };
    const std::string number = "write the number alone: its unit is that of the key";
    const std::string digits = "write a digit before and after the point, as in 0.5";
    const std::string quotes =
        "write text in straight double quotes, and a number with a digit first, as in 0.5";
    CHECK(about("capacity = 100", "capacity = 99,5") ==
          "c.toml:9:14: is not TOML: key-value pair: expected a comment or whitespace, saw ','; write a "
          "number with a point, as in 1.5, and one key in a line; nothing after it was read");
    for (const char* said : {"100 m", "99.5m", "99.5 kg", "50%", "9.5%"}) {
        CAPTURE(said);
        CHECK(mend("capacity = 100", std::string("capacity = ") + said) == number);
    }
    CHECK(mend("capacity = 100", "capacity = .5") == digits);
    CHECK(mend("capacity = 100", "capacity = 5.") == digits);
    CHECK(mend("capacity = 100", "capacity = 0100") == "take the first 0 out");
    CHECK(mend("capacity = 100", "capacity =") == "write a value after =");
    CHECK(mend("capacity = 100", "capacity: 100") == "write key = value, and # before a comment");
    CHECK(mend("capacity = 100", "capacity = 100 // full") ==
          "end the line after the value, or write # before a comment");
    CHECK(mend("press = \"hold\"", "press = hold") == quotes);
    CHECK(mend("press = \"hold\"", "press = \u201chold\u201d") == quotes);
    CHECK(mend("kind  = \"ground\"", "kind  = \"ground") == "close the text with \" in the same line");
    CHECK(mend("until = 30 }", "until = 30, bars = True }") == "write true or false, in small letters");
    CHECK(mend("\"moving forward\"]", "\"moving forward\"") == "end the list with ]");
    CHECK(mend("\"sprint on\", \"moving", "\"sprint on\" \"moving") ==
          "put a comma between items, and ] at the end of the list");
    CHECK(mend("wait = 0.7 }", "wait = 0.7, }") == "take the last comma out");
    CHECK(mend("wait = 0.7 }", "wait = 0.7") ==
          "put a comma between keys, and } at the end of the table, all in one line");
    CHECK(mend("[actions]", "[actions") == "write the name of a section as [name] or [outer.inner]");
}

TEST_CASE("cut or garbled files are refused or read, never a crash") {
    const std::string whole = with("bearer", "bearer");
    for (std::size_t length = 0; length < whole.size(); ++length) {
        static_cast<void>(
            complaint([&] { static_cast<void>(parse_chart(whole.substr(0, length), "c.toml")); }));
        std::string garbled = whole;
        garbled[length] = static_cast<char>(garbled[length] ^ 0x15);
        static_cast<void>(complaint([&] { static_cast<void>(parse_chart(garbled, "c.toml")); }));
    }
    CHECK(complaint([&] { static_cast<void>(parse_chart(whole.substr(0, 200), "c.toml")); }) !=
          "(no complaint)");
}

TEST_CASE("mistakes in every kind's keys are told at once, each with its place and a mend") {
    const std::string text = R"(format = 1
name = "bad"
rank = ["dash", "jump", "walk"]
[body]
height = 0.5
slope_limit = 95
[actions]
dash = { buffer = 2 }
jump = {}
[cooldowns.dash]
seconds = 3
[meters.stamina]
capacity = 10
[states.walk]
kind = "ground"
speed = { forward = 2 }
enter = ["in mud", "dsh ready", "jump posible", "rise > 3 km/h", "headroomm"]
[states.dash]
kind = "burts"
burst = { along = ["inptu"], speed = 3, metres = 4 }
cooldown = "dahs"
cost = { stamina = 20, breath = 1 }
[states.jump]
kind = "air"
launch = { heights = [1, -2], least = 3, by = "jmp" }
low = 1
)";
    const std::string told = complaint([&] { static_cast<void>(parse_chart(text, "c.toml")); });
    CAPTURE(told);
    for (const char* line :
         {"c.toml:5:1: body.height: 0.5 is below twice the radius; a capsule of radius 0.35 is at least 0.7 "
          "high",
          "c.toml:6:1: body.slope_limit: 95 is out of range; 1 <= slope_limit <= 89 deg",
          "c.toml:8:10: actions.dash.buffer: 2 is out of range; 0 <= buffer <= 1 s",
          "c.toml:17:10: states.walk.enter[1]: 'in mud': the chart's zones have no 'mud'; say zones = "
          "[\"mud\"] at "
          "the top of the chart",
          "c.toml:17:20: states.walk.enter[2]: 'dsh ready': no cooldown is named 'dsh'; did you mean 'dash'?",
          "c.toml:17:33: states.walk.enter[3]: 'jump posible' is not a known fact or comparison; did you "
          "mean 'jump "
          "possible'?",
          "c.toml:17:49: states.walk.enter[4]: 'rise > 3 km/h': 'km/h' is not a unit for this; speeds are in "
          "m/s",
          "c.toml:20:20: states.dash.burst.along[1]: \"inptu\" is not one of the choices; did you mean "
          "\"input\"?",
          "c.toml:21:1: states.dash.cooldown: no cooldown is named 'dahs'; did you mean 'dash'?",
          "c.toml:22:10: states.dash.cost.stamina: 20 is more than stamina can hold, 10; the state could "
          "never be "
          "entered; let it cost less",
          "c.toml:25:26: states.jump.launch.heights[2]: -2 is out of range; 0.01 <= heights[2] <= 200 m",
          "c.toml:25:42: states.jump.launch.by: no action is named 'jmp'; did you mean 'jump'?",
          "c.toml:26:1: states.jump.low: is a number, not true or false; write true or false"}) {
        CAPTURE(line);
        CHECK(told.find(line) != std::string::npos);
    }
    CHECK(told.find("low_height") == std::string::npos);  // one mistake is told once
}
