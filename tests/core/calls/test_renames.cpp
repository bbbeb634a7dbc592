#include <catch2/catch.hpp>
#include <cursimeter/controls/controls.hpp>
#include <cursimeter/effects.hpp>
#include <cursimeter/reload.hpp>
#include <cursimeter/show/blend.hpp>

#include "support/play.hpp"

using namespace cursimeter;
using namespace support;

namespace {

/// Walks, sprints on stamina, steadies on breath; a cooldown, a modifier and a block.
ChartSpec before_renames() {
    ChartSpec spec;
    spec.name = "bearer";
    spec.actions = {{.name = "sprint"}, {.name = "brace"}};
    MeterSpec breath = stamina();
    breath.name = "breath";
    spec.meters = {stamina(), breath};
    spec.cooldowns = {{.name = "pant", .seconds = 9.0}};
    ModifierSpec broth;
    broth.name = "broth";
    broth.affects = {{.what = "speed", .times = 1.5}};
    spec.modifiers = {broth};
    spec.blocks = {{.name = "talk", .bans = {"brace"}}};
    StateSpec walk = state("walk", {.forward = 2.0});
    walk.enter = Condition();
    StateSpec sprint = state("sprint", {.forward = 6.0});
    sprint.enter = Condition{"sprint on", "stamina > 0"};
    sprint.drain = {{"stamina", 20.0}};
    StateSpec brace = state("brace", {.forward = 1.0});
    brace.enter = Condition{"brace on"};
    brace.cooldown = "pant";
    spec.states = {walk, sprint, brace};
    spec.rank = {"brace", "sprint", "walk"};
    return spec;
}

/// Everything has another name and lies elsewhere: stamina is wind, and wind's place is taken by another.
ChartSpec second_version() {
    ChartSpec spec = before_renames();
    spec.actions = {{.name = "kneel", .was = "brace"}, {.name = "wave"}, {.name = "run", .was = "sprint"}};
    spec.meters[0].was = "stamina";
    spec.meters[0].name = "wind";
    std::swap(spec.meters[0], spec.meters[1]);
    spec.cooldowns = {{.name = "rest", .seconds = 1.0}, {.name = "puff", .seconds = 9.0, .was = "pant"}};
    spec.modifiers[0].name = "soup";
    spec.modifiers[0].was = "broth";
    spec.blocks = {{.name = "story", .bans = {"kneel"}, .was = "talk"}};
    spec.states[1].name = "run";
    spec.states[1].was = "sprint";
    spec.states[1].enter = Condition{"run on", "wind > 0"};
    spec.states[1].drain = {{"wind", 20.0}};
    spec.states[2].enter = Condition{"kneel on"};
    spec.states[2].cooldown = "puff";
    std::swap(spec.states[0], spec.states[1]);
    spec.rank = {"brace", "run", "walk"};
    return spec;
}

}  // namespace

TEST_CASE("what has another name in the next version is carried over, and is no free refill") {
    const Chart before = compile(before_renames()), now = compile(second_version());
    Runner runner = spawn(before);
    pass(before, runner, {1.0, 0.0}, 2.0, 1.0 / 60.0, {before.action("sprint")});
    REQUIRE(grant(before, runner, before.modifier("broth")));
    REQUIRE(block(before, runner, before.block("talk")) == 1);
    REQUIRE(try_use(before, runner, before.cooldown("pant")));
    const double level = read_meter(before, runner, before.meter("stamina")).level;
    REQUIRE(near(level, 60.0, 1e-9));
    CarriedOver carried = carry_over(before, runner, now);
    CHECK(carried.lost.empty());
    CHECK(now.name(carried.runner.state()) == "run");
    CHECK(near(read_meter(now, carried.runner, now.meter("wind")).level, level, 1e-12));
    CHECK(read_meter(now, carried.runner, now.meter("breath")).level == 100.0);
    CHECK(carried.runner.on(now.action("run")));
    CHECK_FALSE(carried.runner.on(now.action("wave")));
    CHECK_FALSE(read_cooldown(now, carried.runner, now.cooldown("puff")).ready);
    CHECK(read_cooldown(now, carried.runner, now.cooldown("rest")).ready);
    CHECK(read_modifier(now, carried.runner, now.modifier("soup")).active);
    CHECK(blocked(now, carried.runner, now.block("story")) == 1);
    pass(now, carried.runner, {1.0, 0.0}, 1.0, 1.0 / 60.0, {now.action("run")});
    CHECK(near(read_meter(now, carried.runner, now.meter("wind")).level, level - 20.0, 1e-9));
    CHECK(carried.runner.speed() == 9.0);

    // The same file saved again: its names are those of before, whatever `was` still says.
    const CarriedOver again = carry_over(now, carried.runner, compile(second_version()));
    CHECK(again.lost.empty());
    CHECK(digest(again.runner) != 0);
    CHECK(now.name(again.runner.state()) == "run");
    CHECK(near(read_meter(now, again.runner, now.meter("wind")).level, level - 20.0, 1e-9));
}

TEST_CASE("two things may change their names with one another") {
    ChartSpec swapped = before_renames();
    swapped.meters[0].name = "breath";
    swapped.meters[0].was = "stamina";
    swapped.meters[1].name = "stamina";
    swapped.meters[1].was = "breath";
    swapped.states[1].enter = Condition{"sprint on", "breath > 0"};
    swapped.states[1].drain = {{"breath", 20.0}};
    const Chart before = compile(before_renames()), now = compile(swapped);
    Runner runner = spawn(before);
    REQUIRE(try_spend(before, runner, before.meter("stamina"), 70.0));
    const CarriedOver carried = carry_over(before, runner, now);
    CHECK(near(read_meter(now, carried.runner, now.meter("breath")).level, 30.0, 1e-9));
    CHECK(read_meter(now, carried.runner, now.meter("stamina")).level == 100.0);
    CHECK(carried.ids(before.meter("stamina")) == now.meter("breath"));
}

TEST_CASE("a rename that is still written down at the next save is done once") {
    // Two that changed their names with one another: saved again, they stay as they are.
    ChartSpec swapped = before_renames();
    std::swap(swapped.meters[0].name, swapped.meters[1].name);
    swapped.meters[0].was = "stamina";
    swapped.meters[1].was = "breath";
    const Chart before = compile(before_renames()), now = compile(swapped);
    swapped.body.gravity = 19.0;
    const Chart tuned = compile(swapped);
    Runner runner = spawn(before);
    REQUIRE(try_spend(before, runner, before.meter("stamina"), 70.0));
    const CarriedOver once = carry_over(before, runner, now);
    const CarriedOver again = carry_over(now, once.runner, tuned);
    CHECK(near(read_meter(tuned, again.runner, tuned.meter("breath")).level, 30.0, 1e-9));
    CHECK(read_meter(tuned, again.runner, tuned.meter("stamina")).level == 100.0);
    CHECK(again.ids(now.meter("breath")) == tuned.meter("breath"));

    // A new thing that takes the old name, while `was` still names it.
    ChartSpec renamed = second_version();
    MeterSpec fresh = stamina();
    fresh.capacity = 40.0;
    renamed.meters.push_back(fresh);
    const Chart with_new = compile(renamed);
    renamed.body.gravity = 19.0;
    const Chart saved = compile(renamed);
    const CarriedOver first = carry_over(before, runner, with_new);
    CHECK(near(read_meter(with_new, first.runner, with_new.meter("wind")).level, 30.0, 1e-9));
    CHECK(read_meter(with_new, first.runner, with_new.meter("stamina")).level == 40.0);
    const CarriedOver second = carry_over(with_new, first.runner, saved);
    CHECK(second.lost.empty());
    CHECK(near(read_meter(saved, second.runner, saved.meter("wind")).level, 30.0, 1e-9));
    CHECK(read_meter(saved, second.runner, saved.meter("stamina")).level == 40.0);
}

TEST_CASE("ids, controls and blends go on with the next version, and what was forgotten is refused") {
    const Chart before = compile(before_renames()), now = compile(second_version());
    ControlsSpec spec;
    spec.name = "keys";
    spec.bindings = {{.action = "sprint", .inputs = {"key.shift"}},
                     {.action = "move_forward", .inputs = {"key.w"}}};
    spec.presses = {{.name = "sprint", .press = PressMode::hold}};
    Controls controls(before, spec);
    const InputId shift = controls.input("key.shift"), w = controls.input("key.w");
    controls.press(shift, 0.0);
    controls.press(w, 0.0);
    Runner runner = spawn(before);
    Blend blend(runner.state());
    const Seconds dt{1.0 / 60.0};
    const auto play = [&](const Chart& chart, double seconds) {
        for (int i = 0; i < static_cast<int>(seconds * 60.0 + 0.5); ++i) {
            const Report report = advance(chart, runner, controls.intent(), dt);
            REQUIRE(report.refusal == Refusal::none);
            blend.follow(report);
            controls.next_tick(dt);
        }
    };
    play(before, 1.0);
    REQUIRE(before.name(runner.state()) == "sprint");
    const CarriedOver carried = carry_over(before, runner, now);
    runner = carried.runner;

    const std::uint64_t at_rest = digest(runner);
    CHECK(advance(now, runner, controls.intent(), dt).refusal == Refusal::foreign_intent);
    CHECK(propose(now, runner, controls.intent(), {}, dt).report.refusal == Refusal::foreign_intent);
    CHECK(digest(runner) == at_rest);
    controls.carry_over(now);
    blend.carry_over(carried.ids, runner.state());
    CHECK(now.name(blend.to()) == "run");
    CHECK(now.name(blend.from()) == "walk");
    play(now, 1.0);
    CHECK(now.name(runner.state()) == "run");
    CHECK(runner.on(now.action("run")));
    CHECK(runner.speed() == 6.0);
    controls.release(shift, 0.0);
    play(now, 0.5);
    CHECK(now.name(runner.state()) == "walk");
    controls.release(w, 0.0);
    play(now, 0.5);
    CHECK(runner.speed() == 0.0);
    controls.press(shift, 0.0);
    play(now, 0.1);
    CHECK(runner.on(now.action("run")));

    CHECK(carried.ids(before.action("sprint")) == now.action("run"));
    CHECK(carried.ids(before.state("brace")) == now.state("brace"));
    CHECK(carried.ids(before.cooldown("pant")) == now.cooldown("puff"));
    CHECK(carried.ids(before.modifier("broth")) == now.modifier("soup"));
    CHECK(carried.ids(before.block("talk")) == now.block("story"));
    CHECK_FALSE(carried.ids(ActionId{7}));
    CHECK_FALSE(carried.ids(ActionId{200}));
    CHECK(carried.ids.held(key_bit(before.action("sprint"))) == key_bit(now.action("run")));
    CHECK(IdMap(now, before).held(key_bit(now.action("wave")) | key_bit(now.action("kneel"))) == 0);

    // A number that changes leaves all ids as they are.
    ChartSpec tuned = before_renames();
    tuned.states[1].speed.forward = 7.0;
    CHECK(compile(tuned).naming() == before.naming());
    CHECK(compile(tuned).digest() != before.digest());
    CHECK(now.naming() != before.naming());

    ControlsSpec gone = spec;
    gone.bindings[0].action = "wave";
    Controls waving(now, gone);
    CHECK(complaint([&] {
              waving.carry_over(before);
          }).find("bind[1].action: the chart has no action named 'wave'") == 0);
    CHECK(waving.intent().naming == now.naming());
}

TEST_CASE("a drill belongs to the names that it was made for") {
    const Chart before = compile(before_renames()), now = compile(second_version());
    DrillSpec spec;
    spec.name = "dash about";
    spec.seconds = 1.0;
    spec.steps.emplace_back();
    spec.steps[0].hold = {"sprint"};
    const Drill drill(spec, before);
    CHECK(complaint([&] { static_cast<void>(drill.spawn(now)); }) ==
          "drill: 'dash about' was made for a chart with other names; make it again: Drill(spec, chart)");
    CHECK(complaint([&] { static_cast<void>(Drill(spec, now)); }) ==
          "step[1].hold[1]: the chart has no action named 'sprint'; it is 'run' now");
    Runner runner = spawn(now);
    DrillPlayer player(drill, runner);
    CHECK(advance(now, runner, player.intent(0.0, 0.1), Seconds{0.1}).refusal == Refusal::foreign_intent);
}

TEST_CASE("mistakes in `was` are told with their mends, and it shapes no run") {
    ChartSpec spec = before_renames();
    const std::uint64_t plain = compile(spec).digest();
    spec.meters[0].was = "puff";
    CHECK(compile(spec).digest() == plain);
    spec.meters[1].was = "puff";
    spec.actions[0].was = "sprint";
    spec.states[0].was = "Not A Name";
    CHECK(complaint([&] { static_cast<void>(compile(spec)); }) ==
          "actions.sprint.was: is its name still; take it out, or say the name before\n"
          "meters.stamina.was: 'puff' has become several meters; say it of the one that goes on with what "
          "there was\n"
          "meters.breath.was: 'puff' has become several meters; say it of the one that goes on with what "
          "there was\n"
          "states.walk.was: 'Not A Name' cannot have been a name; names are a letter, then letters, digits "
          "and _, "
          "all in lower case, 64 at most");
    spec = before_renames();
    spec.states[1].was = "dart";
    spec.states[2].like = "sprint";
    spec.states[2].kind.reset();
    CHECK(compile(spec).name(compile(spec).state("brace")) ==
          "brace");  // `was` is not taken over with `like`
}
