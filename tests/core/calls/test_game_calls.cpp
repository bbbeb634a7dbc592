#include <catch2/catch.hpp>
#include <cursimeter/effects.hpp>
#include <cursimeter/reload.hpp>
#include <cursimeter/show/blend.hpp>
#include <cursimeter/show/present.hpp>

#include "support/leaper_chart.hpp"
#include "support/play.hpp"

using namespace support;

/// What a game does to a runner between two ticks, and what it is told of it.
namespace {

ChartSpec tired() {
    ChartSpec spec = bearer();
    spec.meters[0].thresholds = {{.name = "half", .level = 50.0}, {.name = "low", .level = 20.0}};
    spec.actions.push_back({.name = "dash"});
    StateSpec dash = state("dash", {.forward = 9.0, .side = {}, .back = {}});
    dash.kind = StateKind::burst;
    dash.burst.speed = 12.0;
    dash.burst.seconds = 0.2;
    dash.cost = {{"stamina", 70.0}};
    dash.enter = Condition{"dash pressed"};
    spec.states.push_back(dash);
    spec.rank = {"dash", "sprint", "walk"};
    return spec;
}

std::vector<std::string> told(const Chart& chart, const Report& report) {
    std::vector<std::string> lines;
    for (const Event& event : report.events()) {
        if (subject_of(event.kind) == EventSubject::meter) {
            std::string line(to_string(event.kind));
            if (event.kind == EventKind::crossed) {
                line += " " + chart.named_levels(MeterId{event.subject})[event.which].name +
                        (event.rising ? " upward" : " downward");
            }
            lines.push_back(line);
        }
    }
    return lines;
}

using Lines = std::vector<std::string>;

}  // namespace

TEST_CASE("a level tells the same whatever moves it: a cost, the game, a drain") {
    const Chart chart = compile(tired());
    const MeterId stamina = chart.meter("stamina");
    Runner runner = spawn(chart);
    CHECK(told(chart, tick(chart, runner, {1.0, 0.0}, {chart.action("dash")})) ==
          Lines{"crossed half downward"});
    CHECK(read_meter(chart, runner, stamina).level == 30.0);
    REQUIRE(try_spend(chart, runner, stamina, 30.0));
    CHECK(told(chart, tick(chart, runner, {})) == Lines{"crossed low downward", "emptied", "spent"});
    CHECK(grant(chart, runner, stamina, 1000.0) == 100.0);
    CHECK(told(chart, tick(chart, runner, {})) ==
          Lines{"crossed low upward", "recovered", "crossed half upward", "filled"});
    // Spent and given back between two ticks: nothing has come of it.
    REQUIRE(try_spend(chart, runner, stamina, 60.0));
    CHECK(grant(chart, runner, stamina, 60.0) == 60.0);
    CHECK(told(chart, tick(chart, runner, {})).empty());
}

TEST_CASE("a runner of another chart, and ids that a chart has not, are refused by every call in one way") {
    ChartSpec other_spec = tired();
    other_spec.name = "other";
    other_spec.blocks = {{.name = "talk", .bans = {"sprint"}}};
    other_spec.cooldowns = {{.name = "throw", .seconds = 2.0}};
    other_spec.modifiers = {{.name = "broth", .seconds = 1.0, .affects = {{.what = "speed", .times = 1.5}}}};
    const Chart chart = compile(bearer()), other = compile(other_spec);
    const Runner own = spawn(chart);
    const std::uint64_t before = digest(own);
    Runner runner = own;
    const std::string refusal = "the runner was not spawned with this chart";
    const auto refuses = [&](auto&& call) {
        const std::string text = complaint(call);
        CAPTURE(text);
        CHECK(text.find(refusal) != std::string::npos);
        CHECK(digest(runner) == before);
    };
    refuses([&] { static_cast<void>(try_spend(other, runner, MeterId{0}, 1.0)); });
    refuses([&] { static_cast<void>(grant(other, runner, MeterId{0}, 1.0)); });
    refuses([&] { static_cast<void>(grant(other, runner, ModifierId{0})); });
    refuses([&] { static_cast<void>(remove(other, runner, ModifierId{0}, 0)); });
    refuses([&] { static_cast<void>(read_modifier(other, runner, ModifierId{0})); });
    refuses([&] { static_cast<void>(read_cooldown(other, runner, CooldownId{0})); });
    refuses([&] { static_cast<void>(cooldown_left(other, runner, CooldownId{0})); });
    refuses([&] { static_cast<void>(refund(other, runner, CooldownId{0}, 1)); });
    refuses([&] { static_cast<void>(try_use(other, runner, CooldownId{0})); });
    refuses([&] { static_cast<void>(block(other, runner, BlockId{0})); });
    refuses([&] { static_cast<void>(unblock(other, runner, BlockId{0})); });
    refuses([&] { static_cast<void>(blocked(other, runner, BlockId{0})); });
    refuses([&] { static_cast<void>(could_enter(other, runner, StateId{2})); });
    refuses([&] { static_cast<void>(force_state(other, runner, StateId{2})); });
    refuses([&] { hold_action(other, runner, ActionId{1}, true); });
    refuses([&] { static_cast<void>(turn_rate(other, runner, 1.0)); });
    refuses([&] { static_cast<void>(read_speed(other, runner)); });
    refuses([&] { static_cast<void>(read_meter(other, runner, MeterId{0})); });
    refuses([&] { static_cast<void>(carrying_velocity(other, runner)); });
    refuses([&] { place(other, runner, {}); });
    refuses([&] { static_cast<void>(present(other, runner)); });
    CHECK(advance(other, runner, {}, Seconds{0.1}).refusal == Refusal::foreign_chart);
    CHECK(digest(runner) == before);
    CHECK(complaint([&] { static_cast<void>(chart.name(StateId{9})); }).find("this id is number 10") !=
          std::string::npos);
    CHECK(complaint([&] {
              static_cast<void>(try_spend(chart, runner, MeterId{3}, 1.0));
          }).find("look them up by name") != std::string::npos);
}

TEST_CASE("the game holds an action for as long as it says, and uses a cooldown itself") {
    ChartSpec spec = bearer();
    spec.cooldowns = {{.name = "throw", .seconds = 2.0, .charges = 2},
                      {.name = "shout", .seconds = 1.0, .begins = Begins::end}};
    const Chart chart = compile(spec);
    Play play(chart);
    play.intent.move = {1.0, 0.0};
    hold_action(chart, play.runner(), chart.action("sprint"), true);
    play.until(1.0);
    CHECK(play.runner().state() == chart.state("sprint"));
    CHECK(play.runner().on(chart.action("sprint")));
    hold_action(chart, play.runner(), chart.action("sprint"), false);
    play.until(1.5);
    CHECK(play.runner().state() == chart.state("walk"));
    CHECK(play.last_change() == "walk: stay failed: sprint on");

    const CooldownId toss = chart.cooldown("throw"), shout = chart.cooldown("shout");
    CHECK(try_use(chart, play.runner(), toss));
    CHECK(try_use(chart, play.runner(), toss));
    CHECK_FALSE(try_use(chart, play.runner(), toss));
    CHECK(try_use(chart, play.runner(), shout));
    CHECK_FALSE(try_use(chart, play.runner(), shout));
    play.until(2.6);
    CHECK(try_use(chart, play.runner(), shout));
    play.until(3.7);
    CHECK(read_cooldown(chart, play.runner(), toss).charges == 1);
    CHECK(play.times(EventKind::ready).size() == 3);
}

TEST_CASE("a press during a state of its own is refused, and told why") {
    const Chart chart = compile(tired());
    Runner runner = spawn(chart);
    static_cast<void>(tick(chart, runner, {1.0, 0.0}, {chart.action("dash")}));
    static_cast<void>(tick(chart, runner, {1.0, 0.0}));
    const Report report = tick(chart, runner, {1.0, 0.0}, {chart.action("dash")});
    const Event* refused = find(report, EventKind::refused);
    REQUIRE(refused != nullptr);
    CHECK(chart.describe(refused->cause) == "not from: dash");
}

TEST_CASE("what holds over time cannot read a press") {
    ChartSpec spec = bearer();
    spec.modifiers = {{.name = "brisk", .affects = {{.what = "speed", .times = 2.0}}}};
    spec.modifiers[0].while_holds = Condition{"sprint pressed"};
    CHECK(complaint([&] { static_cast<void>(compile(spec)); })
              .find("modifiers.brisk.while[1]: 'sprint pressed' is true for an instant only, and "
                    "this holds over time; say \"sprint on\"") != std::string::npos);
    spec.modifiers.clear();
    spec.meters[0].refill->when = Condition{"sprint released"};
    CHECK(complaint([&] { static_cast<void>(compile(spec)); }).find("meters.stamina.refill.when[1]") !=
          std::string::npos);
}

TEST_CASE("a push goes where its direction points, upward too") {
    const Chart chart = compile(leaper());
    Runner runner = spawn(chart);
    REQUIRE(push(runner, {.direction = {3.0, 0.0, 4.0}, .strength = 10.0}));
    static_cast<void>(tick(chart, runner, {}, {}, 0.0));
    CHECK_FALSE(runner.grounded());
    CHECK(runner.velocity().x == Approx(6.0));
    CHECK(runner.velocity().z == Approx(8.0));
    Runner other = spawn(chart);
    REQUIRE(push(other, {.direction = {1e200, 0.0, 0.0}, .strength = 10.0, .lift = 0.6}));
    static_cast<void>(tick(chart, other, {}, {}, 0.0));
    CHECK(other.velocity().x == Approx(8.0));
    CHECK(other.velocity().z == Approx(6.0));
}

TEST_CASE("a circle round a focus stays a circle") {
    ChartSpec spec = walker({.forward = 5.0, .side = {}, .back = {}});
    const Chart chart = compile(spec);
    Runner runner = spawn(chart, {{0.0, -5.0, 0.0}, 0.0});
    const Focus focus{{0.0, 0.0, 0.0}, {0.0, 0.0, 0.0}, 1.6};
    Intent intent;
    intent.move = {0.0, 1.0};
    intent.focus = &focus;
    const double turn = 2.0 * 3.141592653589793;  // s: 5 m at 5 m/s
    double farthest = 0.0;
    for (int i = 0; i < static_cast<int>(5.0 * turn * 60.0); ++i) {
        static_cast<void>(advance(chart, runner, intent, Seconds{1.0 / 60.0}));
        farthest = std::max(farthest, std::hypot(runner.position().x, runner.position().y));
    }
    CHECK(farthest < 5.0 * 1.002);
    CHECK(farthest > 4.99);
}

TEST_CASE("a blend that is turned round goes back from where it was") {
    const Chart chart = compile(bearer());
    Blend blend(chart.state("walk"), Seconds{0.2});
    Runner runner = spawn(chart);
    const ActionId sprint = chart.action("sprint");
    for (int i = 0; i < 5; ++i) {  // 5 ticks of 16 ms: at 0.4
        blend.follow(tick(chart, runner, {1.0, 0.0}, {sprint}, 0.016));
    }
    CHECK(blend.to() == chart.state("sprint"));
    CHECK(blend.weight() == Approx(0.4));
    blend.follow(tick(chart, runner, {1.0, 0.0}, {}, 0.016));
    CHECK(blend.to() == chart.state("walk"));
    CHECK(blend.from() == chart.state("sprint"));
    CHECK(blend.weight() == Approx(0.6 + 0.08));
}

TEST_CASE("what is shown of a runner goes by the body that the game shows") {
    const Chart chart = compile(walker({.forward = 5.0, .side = {}, .back = {}}));
    Runner runner = spawn(chart);
    Intent intent;
    intent.facing = Facing::movement;
    intent.move = {0.0, -1.0};  // to the left: +y
    static_cast<void>(advance(chart, runner, intent, Seconds{0.1}));
    CHECK(present(chart, runner).heading == Approx(0.0).margin(1e-9));
    CHECK(present(chart, runner, 0.0).heading == Approx(1.5707963267948966));
    CHECK(present(chart, runner, 1.5707963267948966).heading == Approx(0.0).margin(1e-9));
}
