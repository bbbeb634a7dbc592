#include <algorithm>
#include <catch2/catch.hpp>
#include <random>

#include "support/play.hpp"
#include "support/three_actions.hpp"

using namespace support;

namespace {

ControlsSpec with(std::vector<BindingSpec> bindings) {
    ControlsSpec spec;
    spec.name = "own";
    spec.bindings = std::move(bindings);
    return spec;
}

/// Bindings of some actions on some of eight keys, now and then a chord.
ControlsSpec random_settings(std::mt19937& random) {
    const std::vector<std::string> targets{"sprint", "dash", "lamp", "move_forward", "move_left"};
    std::vector<BindingSpec> bindings;
    for (unsigned i = 0; i < 2 + random() % 6; ++i) {
        BindingSpec one{targets[random() % targets.size()], {"key." + std::to_string(random() % 8)}};
        if (random() % 4 == 0) {
            one.inputs.push_back("key." + std::to_string(8 + random() % 3));
        }
        if (std::find(bindings.begin(), bindings.end(), one) == bindings.end()) {
            bindings.push_back(one);
        }
    }
    if (random() % 3 == 0) {
        bindings.push_back({targets[random() % targets.size()], {}});
    }
    return with(std::move(bindings));
}

}  // namespace

TEST_CASE("rebinding: what a key does by both settings it goes on doing, the rest is released") {
    const Chart chart = compile(three_actions());
    const std::uint32_t sprint = key_bit(chart.action("sprint")), dash = key_bit(chart.action("dash"));
    Controls controls(
        chart, with({{"sprint", {"key.shift"}}, {"dash", {"key.space"}}, {"move_forward", {"key.w"}}}));
    const InputId shift = controls.input("key.shift"), space = controls.input("key.space"),
                  forward = controls.input("key.w");
    controls.set_look({1.0, 0.2});
    controls.press(shift);
    controls.press(space);
    controls.press(forward);
    REQUIRE(held_after(controls) == (sprint | dash));
    controls.rebind(chart,
                    with({{"move_forward", {"key.w"}},
                          {"dash", {"key.q"}},
                          {"sprint", {"key.shift"}},
                          {"lamp", {"key.space"}}}),
                    0.01);
    // The dash is released at its time, and nothing else happens: the lamp waits for a press of its own.
    REQUIRE(controls.intent().changes.size() == 1);
    CHECK(controls.intent().changes[0].at == 0.01);
    CHECK(held_after(controls) == sprint);
    CHECK(controls.intent().move.forward == 1.0);
    CHECK(controls.look().yaw == 1.0);
    CHECK(controls.look().pitch == 0.2);
    // The game's ids stay, and what was let go meanwhile is known.
    CHECK(controls.input("key.shift") == shift);
    controls.release(space);
    controls.press(space);
    CHECK(held_after(controls) == (sprint | key_bit(chart.action("lamp"))));
    controls.press(controls.input("key.q"));
    controls.release(shift);
    CHECK(held_after(controls) == (dash | key_bit(chart.action("lamp"))));
    controls.release(forward);
    held_after(controls);
    CHECK(controls.intent().move.forward == 0.0);
}

TEST_CASE("rebinding: a mistake or another chart changes nothing") {
    const Chart chart = compile(three_actions());
    Controls controls(chart, with({{"sprint", {"key.shift"}}}));
    controls.press(controls.input("key.shift"));
    CHECK(complaint([&] {
              controls.rebind(chart, with({{"sprnt", {"key.q"}}}));
          }) == "bind[1].action: the chart has no action named 'sprnt'; did you mean 'sprint'?");
    ChartSpec other = three_actions();
    other.actions[1].name = "burst";
    CHECK(complaint([&] {
              controls.rebind(compile(other), with({{"sprint", {"key.q"}}}));
          }) ==
          "chart: has other names than the one that these controls are for; give that chart, or carry the "
          "controls over "
          "first");
    CHECK(controls.spec().bindings == std::vector<BindingSpec>{{"sprint", {"key.shift"}}});
    CHECK(held_after(controls) == key_bit(chart.action("sprint")));
}

TEST_CASE("rebinding: as often as one likes, with keys of any name") {
    const Chart chart = compile(three_actions());
    Controls controls(chart, with({{"sprint", {"key.shift"}}, {"dash", {"key.0"}}}));
    const InputId shift = controls.input("key.shift");
    controls.press(shift);
    for (int i = 1; i < 300; ++i) {
        const std::string key = "key." + std::to_string(i);
        controls.rebind(chart, with({{"sprint", {"key.shift"}}, {"dash", {key}}}));
        const InputId id = controls.input(key);
        controls.press(id);
        REQUIRE(held_after(controls) == (key_bit(chart.action("sprint")) | key_bit(chart.action("dash"))));
        controls.release(id);
        REQUIRE(held_after(controls) == key_bit(chart.action("sprint")));
        REQUIRE(controls.input("key.shift") == shift);
    }
}

TEST_CASE("rebinding at random: nothing sticks, and the same settings change nothing") {
    const Chart chart = compile(three_actions());
    std::mt19937 random(3);
    Controls controls(chart, random_settings(random));
    for (int i = 0; i < 3000; ++i) {
        const InputId key = controls.input("key." + std::to_string(random() % 11));
        random() % 2 == 0 ? controls.press(key) : controls.release(key);
        if (random() % 8 == 0) {
            controls.rebind(chart, random_settings(random));
        }
        if (random() % 16 == 0) {
            held_after(controls);
            controls.rebind(chart, ControlsSpec(controls.spec()));
            REQUIRE(controls.intent().changes.empty());
        }
        if (random() % 32 == 0) {
            controls.release_all();
            REQUIRE(held_after(controls) == 0);
            REQUIRE(controls.intent().move.forward == 0.0);
            REQUIRE(controls.intent().move.side == 0.0);
        }
        held_after(controls);
    }
}

TEST_CASE("settings: an action can be on nothing, though the game has it on something") {
    const ControlsSpec game = with({{"sprint", {"key.shift"}}, {"dash", {"key.space"}}});
    const ControlsSpec own = with({{"dash", {}}});
    const ControlsSpec merged = over_defaults(game, own);
    CHECK(conflicts(over_defaults(game, with({{"dash", {}}, {"sprint", {}}}))).empty());
    const Chart chart = compile(three_actions());
    Controls controls(chart, merged);
    controls.press(controls.input("key.space"));
    CHECK(held_after(controls) == 0);
    controls.press(controls.input("key.shift"));
    CHECK(held_after(controls) == key_bit(chart.action("sprint")));
}

TEST_CASE("settings: what is saved is what differs from the game's, and gives the same over them") {
    ControlsSpec game = with({{"sprint", {"key.shift"}}, {"dash", {"key.space"}}, {"dash", {"pad.south"}}});
    game.presses = {{"lamp", PressMode::hold}};
    ControlsSpec all = game;
    all.bindings = {{"sprint", {"key.shift"}}, {"dash", {"key.q"}}, {"dash", {"pad.south"}}};
    all.look.sensitivity = 0.3;
    const ControlsSpec own = without_defaults(game, all);
    CHECK(own.bindings == std::vector<BindingSpec>{{"dash", {"key.q"}}, {"dash", {"pad.south"}}});
    CHECK(own.presses.empty());
    CHECK(own.look.sensitivity == 0.3);
    std::mt19937 random(5);
    const auto sorted = [](ControlsSpec spec) {
        std::erase_if(spec.bindings, [](const BindingSpec& one) { return one.inputs.empty(); });
        std::sort(spec.bindings.begin(), spec.bindings.end(), [](const BindingSpec& a, const BindingSpec& b) {
            return std::tie(a.action, a.inputs) < std::tie(b.action, b.inputs);
        });
        return spec;
    };
    for (int i = 0; i < 500; ++i) {
        const ControlsSpec defaults = random_settings(random), chosen = random_settings(random);
        const ControlsSpec saved = without_defaults(defaults, chosen);
        // An action that the player has both on nothing and on something is on something.
        CHECK(sorted(over_defaults(defaults, saved)) == sorted(chosen));
        CHECK(without_defaults(defaults, over_defaults(defaults, saved)).bindings.size() ==
              saved.bindings.size());
    }
}
