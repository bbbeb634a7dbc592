#include <catch2/catch.hpp>
#include <cursimeter/chartfile/controls_file.hpp>

#include "support/bearer.hpp"

using namespace cursimeter;
using namespace support;

TEST_CASE("settings: an action that is on nothing is so in a file as well") {
    const Chart chart = compile(bearer());
    ControlsSpec spec;
    spec.name = "own";
    spec.bindings = {{"sprint", {}}, {"move_forward", {"key.w"}}};
    CHECK(parse_controls(format_controls(spec), "own.toml", chart) == spec);
}

TEST_CASE("a player's settings survive saving and loading") {
    const Chart chart = compile(bearer());
    ControlsSpec spec;
    spec.name = "left_handed";
    spec.bindings = {{"sprint", {"key.shift", "key.x"}}, {"move_forward", {"key.i"}, 0.25}};
    spec.presses = {{"sprint", PressMode::toggle}};
    spec.stick.exponent = 1.7;
    spec.look.invert_pitch = true;
    const std::string text = format_controls(spec);
    CHECK(parse_controls(text, "saved.toml", chart) == spec);
    CHECK(text.find("[actions.sprint]\npress = \"toggle\"") != std::string::npos);
}

TEST_CASE("mistakes in settings name file, line and column") {
    const Chart chart = compile(bearer());
    CHECK(complaint([&] {
              static_cast<void>(
                  parse_controls("format = 1\nname = \"x\"\n[[bind]]\naction = \"sprin\"\n"
                                 "inputs = [\"key.a\"]\n[stick]\ndead_zne = 0.1\n",
                                 "mine.toml", chart));
          }) ==
          "mine.toml:4:1: bind[1].action: the chart has no action named 'sprin'; did you mean 'sprint'?\n"
          "mine.toml:7:1: stick.dead_zne: is not a known key here; did you mean 'dead_zone'?");
}
