#include <catch2/catch.hpp>
#include <functional>
#include <limits>

#include "support/bearer.hpp"

using namespace support;

namespace {

/// The diagnostics of the bearer after a change.
std::string after(const std::function<void(ChartSpec&)>& change) {
    ChartSpec spec = bearer(ramp(12.0, 16.0, 10.0));
    change(spec);
    return complaint([&] { static_cast<void>(compile(spec)); });
}

}  // namespace

TEST_CASE("numbers out of range are told with their range") {
    CHECK(after([](ChartSpec& s) { s.states[0].speed.forward = -1.0; }) ==
          "states.walk.speed.forward: -1 is out of range; 0 <= forward <= 500 m/s");
    CHECK(after([](ChartSpec& s) { s.states[0].gain.up = 0.0; }) ==
          "states.walk.gain.up: 0 is out of range; 0 < up <= 10000 m/s^2");
    CHECK(after([](ChartSpec& s) { s.meters[0].refill->rate = std::numeric_limits<double>::infinity(); }) ==
          "meters.stamina.refill.rate: is not a finite number; 0 < rate <= 1000000 per second");
    CHECK(after([](ChartSpec& s) { s.states[1].drain[0].rate = -12.0; }) ==
          "states.sprint.drain.stamina: -12 is out of range; 0 <= stamina <= 1000000 per second");
    CHECK(after([](ChartSpec& s) { s.input.forward_within = Degrees{90.0}; }) ==
          "input.forward_within: 90 is out of range; 1 <= forward_within <= 89 deg");
    CHECK(after([](ChartSpec& s) { s.meters[0].start = 120.0; }) ==
          "meters.stamina.start: 120 is above the capacity 100; start at the capacity or below");
}

TEST_CASE("a latch that could never open, or open before it closes, is refused") {
    CHECK(
        after([](ChartSpec& s) { s.meters[0].spent = SpentSpec{.at = 20.0, .until = 20.0}; }) ==
        "meters.stamina.spent.until: 20 is not above `at`, 20; the latch must open at a higher level than it "
        "closes");
    CHECK(after([](ChartSpec& s) { s.meters[0].spent = SpentSpec{.at = 0.0, .until = 101.0}; }) ==
          "meters.stamina.spent.until: 101 is above the capacity 100; the meter would stay spent for ever; "
          "let it "
          "open at the capacity or below");
}

TEST_CASE("names must be names, single, and no words of the conditions") {
    CHECK(after([](ChartSpec& s) { s.actions[0].name = "Sprint!"; })
              .find("actions.Sprint!: 'Sprint!' cannot be a name; names are a letter, then letters, digits "
                    "and _, all in "
                    "lower case") != std::string::npos);
    CHECK(after([](ChartSpec& s) { s.meters.push_back(s.meters[0]); }) ==
          "meters.stamina: there are two meters named 'stamina'; rename one of them");
    CHECK(after([](ChartSpec& s) { s.actions.push_back({.name = "speed"}); }) ==
          "actions.speed: 'speed' is a word of the conditions; choose another name");
    CHECK(after([](ChartSpec& s) { s.name = ""; }) == "name: is empty; name of the chart");
}

TEST_CASE("the rank holds every state once") {
    CHECK(after([](ChartSpec& s) {
              s.rank = {"sprint", "wlak"};
          }) == "rank[2]: no state is named 'wlak'; did you mean 'walk'?");
    CHECK(after([](ChartSpec& s) {
              s.rank = {"sprint", "march"};
          }) ==
          "rank[2]: no state is named 'march'; known: walk, sprint\n"
          "states.walk: is not in the rank and could never be taken; add \"walk\" to rank");
    CHECK(after([](ChartSpec& s) { s.rank.clear(); }) ==
          "rank: is empty: no state could be taken; say in which order they are tried, such as "
          "rank = [\"walk\", \"sprint\"]");
    CHECK(after([](ChartSpec& s) {
              s.rank = {"sprint", "walk", "sprint"};
          }) == "rank[3]: 'sprint' stands in the rank twice; keep one of them");
    CHECK(after([](ChartSpec& s) {
              s.states.clear();
              s.rank.clear();
          }) == "states: there is no state; a chart needs one at least, such as [states.walk]");
}

TEST_CASE("like must name a state and not go round") {
    CHECK(after([](ChartSpec& s) {
              s.states[1].like = "wlk";
          }).find("states.sprint.like: no state is named 'wlk'; did you mean 'walk'?") != std::string::npos);
    CHECK(after([](ChartSpec& s) { s.states[0].like = "sprint"; }) ==
          "states.walk.like: goes round in a circle: walk is like sprint is like walk; let one of them say "
          "everything itself");
    CHECK(
        after([](ChartSpec& s) { s.states[0].like = "walk"; }) ==
        "states.walk.like: goes round in a circle: walk is like walk; let one of them say everything itself");
}

TEST_CASE("what a state lacks is told") {
    CHECK(after([](ChartSpec& s) { s.states[0].kind.reset(); }) ==
          "states.walk: has no kind; say kind = \"ground\", or be like a state that has one");
    CHECK(after([](ChartSpec& s) { s.states[0].speed.forward.reset(); }) ==
          "states.walk.speed: has no forward; say speed = { forward = ... } in m/s");
    CHECK(after([](ChartSpec& s) {
              s.states[0].gain.up.reset();
          }).find("states.walk.gain: law \"ramp\" needs up; say up = ...") != std::string::npos);
    CHECK(after([](ChartSpec& s) { s.states[1].gain.law = GainLaw::ease; }) ==
          "states.sprint.gain: law \"ease\" needs up_half_life; say up_half_life = ...");
    CHECK(after([](ChartSpec& s) { s.states[1].gain.law = GainLaw::curve; }) ==
          "states.sprint.gain: law \"curve\" needs up_curve; say up_curve = ...");
    CHECK(after([](ChartSpec& s) { s.states[1].from = {{"wlak"}}; }) ==
          "states.sprint.from[1]: no state is named 'wlak'; did you mean 'walk'?");
    CHECK(after([](ChartSpec& s) {
              s.states[1].drain = {{"stamin", 1.0}};
          }) == "states.sprint.drain.stamin: no meter is named 'stamin'; did you mean 'stamina'?");
}

TEST_CASE("curves must run from end to end, in order, within bounds") {
    const auto with_curve = [](std::vector<CurvePoint> up, std::vector<CurvePoint> down) {
        return after([&](ChartSpec& s) { s.states[1].gain = curve(up, down); });
    };
    const std::vector<CurvePoint> up{{0.0, 0.0}, {1.0, 1.0}}, down{{0.0, 1.0}, {1.0, 0.0}};
    CHECK(with_curve(up, down) == "(no complaint)");
    CHECK(with_curve({{0.0, 0.0}}, down) == "states.sprint.gain.up_curve: has 1 key points; give 2 to 16");
    CHECK(with_curve({{0.0, 0.2}, {1.0, 1.0}}, down) ==
          "states.sprint.gain.up_curve: runs from [0, 0.2] to [1, 1]; begin at [0, 0] and end at fraction 1");
    CHECK(with_curve(up, {{0.0, 1.0}, {0.5, 0.1}}) ==
          "states.sprint.gain.down_curve: runs from [0, 1] to [0.5, 0.1]; begin at [0, 1] and end at "
          "fraction 0");
    CHECK(with_curve({{0.0, 0.0}, {0.5, 0.4}, {0.4, 0.6}, {1.0, 1.0}}, down) ==
          "states.sprint.gain.up_curve[3]: [0.4, 0.6] does not follow [0.5, 0.4]; let seconds and fractions "
          "both "
          "rise");
    CHECK(with_curve({{0.0, 0.0}, {0.5, 1.4}, {1.0, 1.0}}, down)
              .find("states.sprint.gain.up_curve[2]: [0.5, 1.4] is out of range; 0 <= seconds <= 60 and 0 <= "
                    "fraction <= "
                    "1") != std::string::npos);
    CHECK(after([](ChartSpec& s) {
              s.states[1].speed.forward = 0.0;
              s.states[1].gain = curve({{0.0, 0.0}, {1.0, 1.0}}, {{0.0, 1.0}, {1.0, 0.0}});
          }) ==
          "states.sprint.gain: a curve needs a forward speed to be a fraction of; give speed.forward > 0 or "
          "another law");
}

TEST_CASE("more than the documented limits is refused by its count") {
    CHECK(
        after([](ChartSpec& s) {
            for (std::size_t i = 0; i < limits::states; ++i) {
                s.states.push_back(state("s" + std::to_string(i), {.forward = 1.0, .side = {}, .back = {}}));
                s.rank.insert(s.rank.begin(), s.states.back().name);
            }
        }) == "states: there are 66 states; there can be 64: take 2 out, or let one do the work of several");
    CHECK(after([](ChartSpec& s) {
              for (std::size_t i = 0; i < limits::actions; ++i) {
                  s.actions.push_back({.name = "a" + std::to_string(i)});
              }
          }) ==
          "actions: there are 33 actions; there can be 32: take 1 out, or let one do the work of several");
    CHECK(after([](ChartSpec& s) {
              for (std::size_t i = 0; i < limits::meters; ++i) {
                  s.meters.push_back(stamina());
                  s.meters.back().name = "m" + std::to_string(i);
              }
          }) ==
          "meters: there are 13 meters; there can be 12: take 1 out, or let one do the work of several");
}

TEST_CASE("one call finds everything that is wrong") {
    ChartSpec spec = bearer();
    spec.states[0].speed.forward = -1.0;
    spec.states[1].enter = Condition{"sprnt on", "stamina >= 10"};
    spec.meters[0].spent->until = 200.0;
    spec.rank = {"sprint"};
    try {
        static_cast<void>(compile(spec));
        FAIL("compiled");
    } catch (const ChartError& error) {
        CHECK(error.diagnostics().size() == 4);
    }
}

TEST_CASE("a chart tells the kinds of zones that it knows, in the order of their bits") {
    ChartSpec spec = walker({.forward = 1.0});
    spec.zones = {"mud", "updraft"};
    CHECK(compile(spec).zones() == std::vector<std::string>{"mud", "updraft"});
}

TEST_CASE("a chart that was moved from is still a chart") {
    Chart chart = compile(bearer());
    const Chart other = std::move(chart);
    CHECK(chart.name() == other.name());  // NOLINT(bugprone-use-after-move)
}

TEST_CASE("ids by name, and the nearest name when there is none") {
    const Chart chart = compile(bearer());
    CHECK(chart.name(chart.state("sprint")) == "sprint");
    CHECK(chart.capacity(chart.meter("stamina")) == 100.0);
    CHECK(complaint([&] { static_cast<void>(chart.action("sprit")); }) ==
          "the chart has no action named 'sprit'; did you mean 'sprint'?");
    CHECK_THROWS_AS(chart.name(StateId{9}), ChartError);
}

TEST_CASE("a chart's digest changes with everything that shapes a run") {
    const std::uint64_t base = compile(bearer(ramp(12.0, 16.0, 10.0))).digest();
    const auto changed = [&](const std::function<void(ChartSpec&)>& change) {
        ChartSpec spec = bearer(ramp(12.0, 16.0, 10.0));
        change(spec);
        return compile(spec).digest() != base;
    };
    CHECK_FALSE(changed([](ChartSpec&) {}));
    CHECK(changed([](ChartSpec& s) { s.states[0].speed.side = 2.11; }));
    CHECK(changed([](ChartSpec& s) { s.states[0].gain.idle = 9.0; }));
    CHECK(changed([](ChartSpec& s) { s.meters[0].refill->wait = 0.8; }));
    CHECK(changed([](ChartSpec& s) { s.meters[0].spent->bars = false; }));
    CHECK(changed([](ChartSpec& s) { s.actions[0].press = PressMode::toggle; }));
    CHECK(changed([](ChartSpec& s) { s.states[1].stay = Condition{"sprint on"}; }));
    CHECK(changed([](ChartSpec& s) { s.states[1].from = {{"walk"}}; }));
    CHECK(changed([](ChartSpec& s) { s.rank = {"walk", "sprint"}; }));
    CHECK(changed([](ChartSpec& s) { s.input.forward_within = Degrees{45.0}; }));
    CHECK(changed([](ChartSpec& s) { s.states[1].drain_per_metre = {{"stamina", 1.0}}; }));
    CHECK(changed([](ChartSpec& s) { s.states[0].gain.turn = Turning::at_once; }));
}

TEST_CASE("a chart's digest is of each value under its key, and of no key that is left out") {
    const auto digest_with = [](const std::function<void(StateSpec&)>& say) {
        ChartSpec spec = walker({.forward = 3.0, .side = {}, .back = {}}, ramp(12.0, 16.0, 10.0));
        say(spec.states[0]);
        return compile(spec).digest();
    };
    const std::uint64_t plain = digest_with([](StateSpec&) {});
    const std::uint64_t side = digest_with([](StateSpec& state) { state.speed.side = 2.0; });
    const std::uint64_t back = digest_with([](StateSpec& state) { state.speed.back = 2.0; });
    CHECK(plain != side);
    CHECK(side != back);
    CHECK(digest_with([](StateSpec& state) { state.low = true; }) != plain);
    CHECK(digest_with([](StateSpec& state) { state.drain = {}; }) == plain);
    CHECK(digest_with([](StateSpec& state) { state.was = "stroll"; }) == plain);
}
