#include <catch2/catch.hpp>

#include "support/play.hpp"
#include "support/three_actions.hpp"

using namespace cursimeter;
using namespace support;

namespace {

ControlsSpec usual() {
    ControlsSpec spec;
    spec.name = "usual";
    spec.bindings = {{"sprint", {"key.shift"}}, {"sprint", {"pad.left_stick"}},
                     {"dash", {"key.space"}},   {"lamp", {"key.ctrl", "key.space"}},
                     {"dash", {"key.w"}, 0.3},  {"move_forward", {"key.w"}},
                     {"move_right", {"key.d"}}, {"move_left", {"key.a"}}};
    return spec;
}

}  // namespace

TEST_CASE("several inputs press one action: it is released when the last of them is") {
    const Chart chart = compile(three_actions());
    Controls controls(chart, usual());
    const InputId shift = controls.input("key.shift"), stick = controls.input("pad.left_stick");
    const std::uint32_t sprint = key_bit(chart.action("sprint"));
    controls.press(shift, 0.01);
    controls.press(stick, 0.02);
    REQUIRE(controls.intent().changes.size() == 1);
    CHECK(controls.intent().changes[0].at == 0.01);
    CHECK(held_after(controls) == sprint);
    controls.release(shift);
    CHECK(held_after(controls) == sprint);
    controls.release(stick);
    CHECK(held_after(controls) == 0);
}

TEST_CASE("a chord counts in place of its parts, whichever of its inputs goes down last") {
    const Chart chart = compile(three_actions());
    Controls controls(chart, usual());
    const InputId ctrl = controls.input("key.ctrl"), space = controls.input("key.space");
    controls.press(ctrl);
    CHECK(held_after(controls) == 0);
    controls.press(space);
    CHECK(held_after(controls) == key_bit(chart.action("lamp")));
    controls.release(ctrl);
    CHECK(held_after(controls) == 0);
    controls.release(space);
    controls.press(space);
    CHECK(held_after(controls) == key_bit(chart.action("dash")));
}

TEST_CASE("a double tap counts within its time, across ticks of any length") {
    const Chart chart = compile(three_actions());
    for (const double second : {0.25, 0.35}) {
        for (const double dt : {0.01, 0.05, 0.1}) {
            Controls controls(chart, usual());
            const InputId w = controls.input("key.w");
            double time = 0.0;
            const auto to = [&](double wanted) {
                while (time + dt <= wanted + 1e-9) {
                    controls.next_tick(Seconds{dt});
                    time += dt;
                }
                return wanted - time;
            };
            controls.press(w, to(1.0));
            controls.release(w, to(1.05));
            controls.press(w, to(1.0 + second));
            CHECK((held_after(controls) == key_bit(chart.action("dash"))) == (second < 0.3));
        }
    }
}

TEST_CASE("what the game's interface has used presses nothing, and its release harms nothing") {
    const Chart chart = compile(three_actions());
    Controls controls(chart, usual());
    const InputId shift = controls.input("key.shift");
    controls.press(shift, 0.0, Consumed::yes);
    CHECK(held_after(controls) == 0);
    controls.release(shift);
    CHECK(held_after(controls) == 0);
    // Pressed in the game, released in the chat line: still released.
    controls.press(shift);
    CHECK(held_after(controls) == key_bit(chart.action("sprint")));
    controls.release(shift);
    CHECK(held_after(controls) == 0);
}

TEST_CASE("loss of focus releases everything, loss of a device what was on it") {
    const Chart chart = compile(three_actions());
    Controls controls(chart, usual());
    controls.press(controls.input("key.shift"));
    controls.press(controls.input("pad.left_stick"));
    controls.deflect(0.0, 1.0);
    controls.release_device("pad.");
    CHECK(held_after(controls) == key_bit(chart.action("sprint")));
    CHECK(controls.intent().move.forward == 1.0);
    controls.release_all();
    CHECK(held_after(controls) == 0);
    CHECK(controls.intent().move == Move{});
    controls.release(controls.input("key.shift"));  // its real release comes later
    CHECK(held_after(controls) == 0);
    controls.press(controls.input("key.shift"));
    CHECK(held_after(controls) == key_bit(chart.action("sprint")));
    controls.press(controls.input("key.unknown"));
    controls.release(controls.input("key.unknown"));
}

TEST_CASE("keys and stick make one move, dead zone, full deflection and curve hold") {
    const Chart chart = compile(three_actions());
    ControlsSpec spec = usual();
    spec.stick = {.dead_zone = 0.2, .full_at = 0.9, .exponent = 2.0};
    Controls controls(chart, spec);
    const auto forward = [&](double deflection) {
        controls.deflect(0.0, deflection);
        static_cast<void>(held_after(controls));
        return controls.intent().move.forward;
    };
    CHECK(forward(0.2) == 0.0);
    CHECK(near(forward(0.55), 0.25, 1e-12));
    CHECK(forward(0.9) == 1.0);
    CHECK(forward(-1.0) == -1.0);
    CHECK(forward(std::nan("")) == 0.0);
    controls.press(controls.input("key.w"));
    controls.press(controls.input("key.d"));
    static_cast<void>(held_after(controls));
    CHECK(controls.intent().move == Move{1.0, 1.0});
    controls.press(controls.input("key.a"));
    static_cast<void>(held_after(controls));
    CHECK(controls.intent().move == Move{1.0, 0.0});
}

TEST_CASE("mouse and stick turn the look: sensitivity, inversion, limits, wrap, smoothing at any tick rate") {
    const Chart chart = compile(three_actions());
    constexpr double degree = 3.141592653589793 / 180.0;
    ControlsSpec spec = usual();
    spec.look = {.sensitivity = 0.5, .turn_rate = 90.0, .invert_pitch = false, .most_pitch = 60.0};
    Controls controls(chart, spec);
    controls.turn(20.0, 40.0);
    controls.next_tick(Seconds{0.02});
    CHECK(near(controls.look().yaw, -10.0 * degree, 1e-12));
    CHECK(near(controls.look().pitch, 20.0 * degree, 1e-12));
    controls.turn(0.0, 1000.0);
    controls.next_tick(Seconds{0.02});
    CHECK(near(controls.look().pitch, 60.0 * degree, 1e-12));
    controls.turn(400.0, 0.0);  // 200 degrees more to the right
    controls.next_tick(Seconds{0.02});
    CHECK(near(controls.look().yaw, 150.0 * degree, 1e-12));
    CHECK(controls.intent().look == controls.look());

    spec.look.invert_pitch = true;
    spec.look.smoothing = 0.1;
    for (const double rate : {20.0, 60.0, 240.0}) {
        Controls smooth(chart, spec);
        smooth.turn(-20.0, 20.0);
        for (int i = 0; i < static_cast<int>(rate) / 10 * 2; ++i) {
            smooth.next_tick(Seconds{1.0 / rate});
        }
        CHECK(near(smooth.look().yaw, 10.0 * degree * 0.75, 1e-12));
        CHECK(near(smooth.look().pitch, -10.0 * degree * 0.75, 1e-12));
        Controls turning(chart, usual());
        turning.deflect_look(-1.0, 0.0);
        for (int i = 0; i < static_cast<int>(rate) / 10; ++i) {
            turning.next_tick(Seconds{1.0 / rate});
        }
        CHECK(near(turning.look().yaw, 18.0 * degree, 1e-9));
    }
}

TEST_CASE("a trigger counts as down from half way on, and does not flicker there") {
    const Chart chart = compile(three_actions());
    Controls controls(chart, usual());
    const InputId trigger = controls.input("pad.left_stick");
    const std::uint32_t sprint = key_bit(chart.action("sprint"));
    for (const auto& [value, down] :
         {std::pair{0.45, false}, std::pair{0.5, true}, std::pair{0.41, true}, std::pair{0.39, false},
          std::pair{0.9, true}, std::pair{std::nan(""), false}}) {
        controls.axis(trigger, value);
        CHECK(held_after(controls) == (down ? sprint : 0));
    }
}

TEST_CASE("the player's settings stand over the game's") {
    ControlsSpec own;
    own.bindings = {{"sprint", {"key.x"}}};
    own.presses = {{"sprint", PressMode::toggle}};
    ControlsSpec defaults = usual();
    defaults.presses = {{"sprint", PressMode::hold}, {"lamp", PressMode::hold}};
    const ControlsSpec merged = over_defaults(defaults, own);
    CHECK(merged.name == "usual");
    CHECK(merged.bindings.size() == 1 + usual().bindings.size() - 2);  // two were for sprint
    CHECK(merged.bindings[0] == own.bindings[0]);
    CHECK(merged.presses ==
          std::vector<PressChoice>{{"sprint", PressMode::toggle}, {"lamp", PressMode::hold}});
    CHECK(over_defaults(defaults, {}).bindings == defaults.bindings);
}

TEST_CASE("the player's press modes hold for the runner") {
    const Chart chart = compile(three_actions());
    ControlsSpec spec = usual();
    spec.presses = {{"sprint", PressMode::toggle}, {"lamp", PressMode::hold}};
    Runner runner = spawn(chart);
    Controls(chart, spec).apply_press_modes(chart, runner);
    CHECK(runner.press_mode(chart.action("sprint")) == PressMode::toggle);
    CHECK(runner.press_mode(chart.action("lamp")) == PressMode::hold);
    Controls(chart, usual()).apply_press_modes(chart, runner);
    CHECK(runner.press_mode(chart.action("sprint")) == PressMode::hold);
    CHECK(runner.press_mode(chart.action("lamp")) == PressMode::toggle);
}

TEST_CASE("chords that mean two things are listed, mistakes are told with their mends") {
    ControlsSpec spec = usual();
    CHECK(conflicts(spec).empty());
    spec.bindings.push_back({"lamp", {"key.shift"}});
    spec.bindings.push_back({"dash", {"key.space", "key.ctrl"}});
    CHECK(conflicts(spec) == std::vector<std::string>{"'sprint' and 'lamp' are both on key.shift",
                                                      "'lamp' and 'dash' are both on key.ctrl + key.space"});
    const Chart chart = compile(three_actions());
    spec = usual();
    spec.bindings[0].action = "sprnt";
    spec.stick.full_at = 0.1;
    spec.presses = {{"lump", PressMode::hold}};
    CHECK(complaint([&] { static_cast<void>(Controls(chart, spec)); }) ==
          "bind[1].action: the chart has no action named 'sprnt'; did you mean 'sprint'?\n"
          "actions.lump: the chart has no action named 'lump'; did you mean 'lamp'?\n"
          "stick.full_at: 0.1 is not above the dead zone, 0.15; let the deflections between them be some");
    spec = usual();
    spec.stick.dead_zone = 15.0;
    CHECK(complaint([&] { static_cast<void>(Controls(chart, spec)); }) ==
          "stick.dead_zone: 15 is out of range; 0 <= dead_zone <= 0.9");
}

TEST_CASE(
    "what the character faces and is locked on to comes out with the intent, through rebinding and "
    "reloading") {
    const Chart chart = compile(three_actions());
    Controls controls(chart, usual());
    CHECK(controls.intent().facing == Facing::look);
    CHECK(controls.intent().focus == nullptr);
    controls.turn(-200.0, 0.0);
    controls.deflect_look(1.0, 0.0);
    controls.face(Facing::movement);
    controls.lock_on({{0.0, 10.0, 0.0}, {1.0, 0.0, 0.0}, 1.6});
    controls.next_tick(Seconds{0.1});
    const double yaw = controls.look().yaw;
    controls.turn(500.0, 20.0);  // while it is locked on, hands turn nothing
    controls.next_tick(Seconds{0.1});
    CHECK(controls.look().yaw == yaw);
    controls.rebind(chart, usual());
    controls.carry_over(compile(three_actions()));
    Controls copy = controls;
    for (const Controls* one : {&controls, &copy}) {
        const Intent intent = one->intent();
        CHECK(intent.facing == Facing::movement);
        REQUIRE(intent.focus != nullptr);
        CHECK(intent.focus->position.y == 10.0);
        CHECK(intent.focus->velocity.x == 1.0);
    }
    CHECK(copy.intent().focus != controls.intent().focus);  // each its own

    // The runner looks at the point; let go, the look goes on from there, and the stick turns it again.
    Runner runner = spawn(chart);
    static_cast<void>(advance(chart, runner, controls.intent(), Seconds{0.1}));
    CHECK(runner.yaw() == Approx(1.5607).margin(1e-3));
    controls.let_go(runner);
    CHECK(controls.intent().focus == nullptr);
    CHECK(controls.look().yaw == runner.yaw());
    CHECK(controls.intent().look.pitch == runner.pitch());
    controls.next_tick(Seconds{0.1});
    CHECK(controls.look().yaw == Approx(runner.yaw() - 18.0 * 3.14159265358979 / 180.0));
}
