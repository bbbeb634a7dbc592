#include <catch2/catch.hpp>
#include <cursimeter/chartfile/chart_file.hpp>
#include <cursimeter/chartfile/course_file.hpp>
#include <cursimeter/chartfile/file_kind.hpp>
#include <cursimeter/chartfile/whole_file.hpp>
#include <filesystem>
#include <fstream>
#include <random>

#include "support/bearer.hpp"

using namespace support;

namespace {

const std::string source_dir = CURSIMETER_SOURCE_DIR;

/// A spec that says something for every key of the format.
ChartSpec full_spec() {
    ChartSpec spec = bearer(ramp(12.0, 16.0, 10.5));
    spec.name = "full \"quoted\" \\ name \u00e9";
    spec.input.forward_within = Degrees{47.3};
    spec.actions.push_back({.name = "tread", .press = PressMode::toggle});
    spec.meters[0].start = 33.3;
    spec.meters[0].spent->bars = false;
    spec.meters.push_back({.name = "breath", .capacity = 7.0, .start = {}, .refill = {}, .spent = {}});
    StateSpec tread = state("tread", {.forward = 1.1, .side = 0.1, .back = 1.0 / 3.0}, ease(0.1, 0.2, 0.3));
    tread.enter =
        Condition(std::vector<std::vector<std::string>>{{"tread on", "moving"}, {"not moving", "tread on"}});
    tread.stay = Condition{};
    tread.from = {{"walk", "sprint"}};
    StateSpec creep = state("creep", {.forward = 0.5, .side = {}, .back = {}},
                            curve({{0.0, 0.0}, {0.25, 0.4}, {1.0, 1.0}}, {{0.0, 1.0}, {0.5, 0.0}}));
    creep.gain.idle_curve = {{0.0, 1.0}, {0.125, 0.0}};
    creep.enter = Condition{"breath < 1"};
    creep.drain = {{"stamina", 1.5}, {"breath", 0.25}};
    creep.drain_per_metre = {{"breath", 0.1}};
    creep.drain_above = 0.75;
    spec.states.push_back(tread);
    spec.states.push_back(creep);
    spec.rank = {"creep", "tread", "sprint", "walk"};
    return spec;
}

}  // namespace

TEST_CASE("the demo chart loads and is what it says") {
    const ChartFile file = load_chart(source_dir + "/demo/charts/bearer.toml");
    CHECK(file.chart.name() == "bearer");
    CHECK(file.spec.rank == std::vector<std::string>{"knocked", "dash", "leap", "wallrun", "jump", "fall",
                                                     "slide", "crouch", "sprint", "tread", "walk"});
    CHECK(file.spec.states[0].name == "walk");  // the order of the file, not of the alphabet
    CHECK(file.spec.meters[0].refill->rate == 18.0);
    CHECK(file.spec.actions[1].press == PressMode::toggle);
    CHECK(file.spec.states[2].drain == std::vector<RateSpec>{{"stamina", 12.0}});
}

TEST_CASE("what is saved loads back equal") {
    for (const ChartSpec& spec : {full_spec(), bearer(), walker({.forward = 0.1, .side = {}, .back = {}}),
                                  load_chart(source_dir + "/demo/charts/bearer.toml").spec}) {
        const std::string text = format_chart(spec);
        CAPTURE(text);
        const ChartFile back = parse_chart(text, "saved.toml");
        CHECK(back.spec == spec);
        CHECK(back.chart.digest() == compile(spec).digest());
        CHECK(format_chart(back.spec) == text);
    }
}

TEST_CASE("random numbers survive saving to the last bit") {
    std::mt19937_64 random(4);
    std::uniform_real_distribution<double> exponent(-9.0, 2.5), digit(1.0, 9.0);
    for (int round = 0; round < 300; ++round) {
        ChartSpec spec = full_spec();
        const auto number = [&] { return digit(random) * std::pow(10.0, exponent(random)); };
        spec.states[0].speed = {
            .forward = std::min(number(), 500.0), .side = std::min(number(), 500.0), .back = 0.0};
        spec.states[0].gain.up = number() + 1e-9;
        spec.meters[0].refill = RefillSpec{.rate = number(), .wait = std::min(number(), 500.0)};
        spec.input.forward_within = Degrees{1.0 + 88.0 * digit(random) / 9.0};
        REQUIRE(parse_chart(format_chart(spec), "random.toml").spec == spec);
    }
}

TEST_CASE("a saved chart reads as a person would write it") {
    CHECK(format_chart(bearer(ramp(12.0, 16.0, 10.5))) == R"(format = 1
name = "bearer"
rank = ["sprint", "walk"]

[body]
radius = 0.35
height = 1.8
step_height = 0.35
slope_limit = 50
stick_speed = 12
gravity = 20
coyote = 0

[input]
forward_within = 60

[actions.sprint]
press = "hold"
buffer = 0

[meters.stamina]
capacity = 100
refill = { rate = 18, wait = 0.7 }
spent = { at = 0, until = 30, bars = true }

[states.walk]
kind = "ground"
speed = { forward = 2.4, side = 2.1, back = 1.6 }
gain = { law = "ramp", up = 12, down = 16, idle = 10.5 }

[states.sprint]
like = "walk"
kind = "ground"
speed = { forward = 6.5 }
enter = ["sprint on", "moving forward", "grounded", "stamina >= 10"]
stay = ["sprint on", "moving forward", "grounded", "stamina > 0"]
drain = { stamina = 12 }
)");
}

TEST_CASE("a chart from a file and the same chart from C++ give the same run") {
    const Chart from_code = compile(bearer(ramp(12.0, 16.0, 10.5)));
    const Chart from_file = parse_chart(format_chart(bearer(ramp(12.0, 16.0, 10.5))), "x").chart;
    Runner a = spawn(from_code), b = spawn(from_file);
    pass(from_code, a, {0.9, 0.3}, 3.0, 0.017, {ActionId{0}});
    pass(from_file, b, {0.9, 0.3}, 3.0, 0.017, {ActionId{0}});
    CHECK(digest(a) == digest(b));
}

TEST_CASE("saving to a file replaces it as a whole, what cannot be written says so and harms nothing") {
    const std::filesystem::path dir = std::filesystem::temp_directory_path() / "cursimeter_save_test";
    std::filesystem::create_directories(dir);
    const std::filesystem::path file = dir / "chart.toml";
    save_chart(bearer(), file);
    save_chart(full_spec(), file);
    CHECK(load_chart(file).spec == full_spec());
    CHECK(std::distance(std::filesystem::directory_iterator(dir), {}) == 1);
    ChartSpec broken = bearer();
    broken.rank = {};
    CHECK_THROWS_AS(save_chart(broken, file), ChartError);
    CHECK(load_chart(file).spec == full_spec());
    const std::filesystem::path nowhere = dir / "missing" / "chart.toml";
    CHECK(complaint([&] { save_chart(bearer(), nowhere); }) ==
          nowhere.string() +
              ": cannot be written: No such file or directory; check the path; its folder must exist");
    std::filesystem::remove_all(dir);
}

TEST_CASE("files are recognised by a look, with mistakes in them too") {
    CHECK(kind_of_file("") == FileKind::unknown);
    CHECK(kind_of_file("format = 1\nname = \"x\"\n") == FileKind::unknown);
    CHECK(kind_of_file("[states.walk]\nspeed =") == FileKind::chart);
    CHECK(kind_of_file("# states\n\n  [[ step ]]\nat = 1\n") == FileKind::drill);
    CHECK(kind_of_file("[[box]]\nfrom = [0, 0, 0]\n") == FileKind::course);
    CHECK(kind_of_file("actions = { sprint = { press = \"toggle\" } }\n[[bind]]\n") == FileKind::controls);
    CHECK(kind_of_file("name = \"x\"\n[[figure]]\nname = \"jump.height\"\n") == FileKind::trials);
    CHECK(kind_of_file("actions = {}\n") == FileKind::unknown);  // charts have them, and controls
    // Where no key is known, those count for which they are meant.
    CHECK(kind_of_file("format = 1\nname = \"x\"\n[[trials]]\ncharts = []\n") == FileKind::trials);
    CHECK(kind_of_file("[[figures]]\nname = \"jump.height\"\n") == FileKind::trials);
    CHECK(kind_of_file("[[binds]]\naction = \"jump\"\n") == FileKind::controls);
    CHECK(kind_of_file("[[boxes]]\nfrom = [0, 0, 0]\n") == FileKind::unknown);  // as near to body
    CHECK(kind_of_file("[package]\nversion = \"1\"\n[dependencies]\n") == FileKind::unknown);
    CHECK(kind_of_file("time_s,state,x_m\n0,walk,0\n") == FileKind::table);
    CHECK(kind_of_file("<?xml version=\"1.0\" encoding=\"UTF-8\"?>\n<testsuites>\n") == FileKind::results);
    CHECK(kind_of_file("<?xml version=\"1.0\" encoding=\"UTF-8\"?>\n<svg>") == FileKind::svg);
    CHECK(kind_of_file("\x89PNG\r\n") == FileKind::png);
    for (const char* name : {"charts/bearer", "charts/eel", "charts/gannet", "charts/keeper"}) {
        std::string text = read_whole_file(source_dir + "/demo/" + name + ".toml");
        CHECK(kind_of_file(text) == FileKind::chart);
        text.resize(text.size() / 2);
        CHECK(kind_of_file(text) == FileKind::chart);
    }
    CHECK(kind_of_file(format_chart(full_spec())) == FileKind::chart);
    CHECK(complaint([] { static_cast<void>(load_course(source_dir + "/demo/charts/eel.toml")); }) ==
          source_dir +
              "/demo/charts/eel.toml: is a chart file, not a course file; check which file goes where");
}

TEST_CASE("names that a terminal would obey, or that nobody can read, are refused") {
    ChartSpec spec = bearer();
    spec.name = "red \x1b[31m";
    CHECK(complaint([&] { static_cast<void>(compile(spec)); }) ==
          "name: holds a control character; leave it out: terminals would obey it");
    spec.name = std::string(201, 'n');
    CHECK(complaint([&] { static_cast<void>(compile(spec)); }) == "name: is 201 letters long; 200 at most");
    spec.name = std::string(200, 'n');
    CHECK_NOTHROW(compile(spec));
    spec.meters.push_back(
        {.name = std::string(65, 'm'), .capacity = 7.0, .start = {}, .refill = {}, .spent = {}});
    CHECK_THROWS_AS(compile(spec), ChartError);
    spec.meters.back().name = std::string(64, 'm');
    CHECK_NOTHROW(compile(spec));
}

TEST_CASE("a ChartError is short and safe to print, whatever is wrong") {
    std::vector<Diagnostic> many(70,
                                 {"a\x1b[1mb", std::string(2000, 'w') + "\xc2\x9b", "line\nnext", "f", 1, 2});
    const ChartError error(many);
    REQUIRE(error.diagnostics().size() == most_diagnostics + 1);
    const Diagnostic& first = error.diagnostics().front();
    CHECK(first.path == "a\\x1b[1mb");
    CHECK(first.what.size() < 450);
    CHECK(first.what.ends_with("w\\x9b"));
    CHECK(first.mend == "line next");
    CHECK(error.diagnostics().back().text() == "f: 20 more mistakes are not listed; correct these first");
}

TEST_CASE("a cause leads to the line of its term") {
    const ChartFile file = load_chart(source_dir + "/demo/charts/bearer.toml");
    const SourcePosition stay = file.sources.find("states.sprint.stay[4]");
    std::ifstream in(source_dir + "/demo/charts/bearer.toml");
    std::string line;
    for (int i = 0; i < stay.line; ++i) {
        std::getline(in, line);
    }
    CHECK(line.substr(static_cast<std::size_t>(stay.column) - 1, 13) == "\"stamina > 0\"");
    CHECK(file.sources.find("states.sprint.nonsense").line == file.sources.find("states.sprint").line);
}
