#include <catch2/catch.hpp>
#include <cursimeter/chartfile/chart_file.hpp>
#include <cursimeter/survey/check.hpp>
#include <cursimeter/survey/run.hpp>
#include <fstream>
#include <sstream>

#include "support/all_ways.hpp"
#include "support/random_drill.hpp"

using namespace support;
using survey::Finding;
using survey::FindingKind;
using survey::Severity;

namespace {

std::string demo_text(const std::string& name) {
    std::ifstream in(std::string(CURSIMETER_SOURCE_DIR) + "/demo/charts/" + name + ".toml");
    std::ostringstream text;
    text << in.rdbuf();
    return text.str();
}

using Edits = std::vector<std::pair<std::string, std::string>>;
ChartSpec with(const std::string& name, const Edits& edits) {
    std::string text = demo_text(name);
    for (const auto& [from, to] : edits) {
        const std::size_t at = text.find(from);
        REQUIRE(at != std::string::npos);
        text.replace(at, from.size(), to);
    }
    return parse_chart(text, name).spec;
}

/// Exactly these findings, by kind, severity and the place at fault.
struct Expected {
    FindingKind kind;
    Severity severity;
    std::string path;
};
void finds(const std::string& chart, const Edits& edits, const std::vector<Expected>& expected) {
    const std::vector<Finding> found = survey::check(with(chart, edits));
    std::string text;
    for (const Finding& finding : found) {
        text += finding.paths.front() + ": " + finding.what + "\n";
        CHECK_FALSE(finding.mend.empty());
    }
    CAPTURE(text);
    REQUIRE(found.size() == expected.size());
    for (std::size_t i = 0; i < found.size(); ++i) {
        CHECK(to_string(found[i].kind) == to_string(expected[i].kind));
        CHECK(to_string(found[i].severity) == to_string(expected[i].severity));
        CHECK(found[i].paths.front() == expected[i].path);
    }
}

const std::string ring_of_three = R"([states.one]
like  = "walk"
from  = ["three", "walk", "tread"]
enter = ["tread on"]
stay  = ["not tread on"]
[states.two]
like  = "walk"
from  = ["one"]
enter = ["tread on"]
stay  = ["not tread on"]
[states.three]
like  = "walk"
from  = ["two"]
enter = ["tread on"]
stay  = ["not tread on"]
[states.knocked])";

}  // namespace

TEST_CASE("nothing is found wrong with the demo charts") {
    for (const char* name : {"bearer", "gannet", "eel", "keeper"}) {
        finds(name, {}, {});
    }
    CHECK(survey::check(bearer()).empty());
}

TEST_CASE("planted faults in conditions are found, and nothing else") {
    const Severity error = Severity::error, warning = Severity::warning;
    // Left at 20, entered again from 10 on.
    finds("bearer", {{"\"stamina > 0\"]", "\"stamina >= 20\"]"}},
          {{FindingKind::flicker, error, "states.sprint.stay"}});
    finds("bearer",
          {{"\"slide\", \"crouch\"", "\"slide\", \"one\", \"two\", \"three\", \"crouch\""},
           {"[states.knocked]", ring_of_three}},
          {{FindingKind::flicker, error, "states.one.stay"}});
    finds("bearer",
          {{"\"slide\", \"crouch\"", "\"slide\", \"roll\", \"crouch\""},
           {"[states.knocked]",
            "[states.roll]\nlike = \"walk\"\nfrom = [\"walk\"]\nlow = true\n"
            "enter = [\"crouch on\", \"grounded\"]\n"
            "stay = [\"crouch on\", \"grounded\", \"not moving\"]\n[states.knocked]"}},
          {{FindingKind::left_at_once, warning, "states.roll.stay"}});
    finds(
        "bearer",
        {{"\"moving forward\", \"grounded\", \"stamina >= 10\"", "\"moving forward\", \"moving backward\""}},
        {{FindingKind::never_entered, error, "states.sprint.enter"}});
    finds("bearer", {{"\"sprint\", \"tread\", \"walk\"]", "\"tread\", \"walk\", \"sprint\"]"}},
          {{FindingKind::hidden, error, "states.sprint.enter"}});
    finds("keeper",
          {{"rank   = [", "rank   = [\"stuck\", "},
           {"[states.dash]",
            "[states.stuck]\nlike = \"walk\"\nenter = [\"oar on\"]\nstay = []\n[states.dash]"}},
          {{FindingKind::never_left, error, "states.stuck.stay"}});
    finds("bearer", {{"from   = [\"wallrun\"]", "from   = [\"leap\"]"}},
          {{FindingKind::never_entered, error, "states.leap.from"}});
    finds("bearer", {{"\"speed > 2\"]", "\"speed > 2\", \"stamina >= 0\"]"}},
          {{FindingKind::always_true, warning, "states.slide.stay[4]"}});
    finds("bearer", {{"[\"not headroom\"]]", "[\"not headroom\"], [\"time < 0\"]]"}},
          {{FindingKind::never_true, warning, "states.crouch.enter[3][1]"}});
    finds("bearer", {{"[\"not headroom\"]]", "[\"not headroom\"], [\"grounded\", \"wall\"]]"}},
          {{FindingKind::contradiction, warning, "states.crouch.enter[3][1]"}});
    // An alternative that another one makes needless: with a term more, the same again, and by what the numbers say.
    finds("bearer", {{"[\"not headroom\"]]", "[\"not headroom\"], [\"not headroom\", \"grounded\"]]"}},
          {{FindingKind::needless, warning, "states.crouch.enter[3][1]"}});
    finds("bearer", {{"[\"not headroom\"]]", "[\"not headroom\"], [\"not headroom\"]]"}},
          {{FindingKind::needless, warning, "states.crouch.enter[3][1]"}});
    finds("bearer", {{"[\"not headroom\"]]", "[\"not headroom\"], [\"stamina > 50\"], [\"stamina > 60\"]]"}},
          {{FindingKind::needless, warning, "states.crouch.enter[4][1]"}});
    // The latch keeps it below 30 while it is spent.
    finds("bearer", {{"[\"not headroom\"]]", "[\"not headroom\"], [\"stamina spent\", \"stamina >= 40\"]]"}},
          {{FindingKind::contradiction, warning, "states.crouch.enter[3][1]"}});
}

TEST_CASE("a level that goes to and fro between two states many times a second is found") {
    const Severity error = Severity::error;
    const std::string refill =
                          "refill   = { rate = 18, wait = 0.7 }      # per second; s after the last drain",
                      spent = "spent    = { at = 0, until = 30 }         # once empty, no sprint before 30",
                      at_once = "refill = { rate = 18 }", enter = "\"stamina >= 10\"]",
                      same = "\"stamina > 0\"]";
    const Expected flicker{FindingKind::flicker, error, "states.sprint.stay"};
    // Left at 0, refilled at once, and entered again from anything above 0.
    finds("bearer", {{refill, at_once}, {spent, ""}, {enter, same}}, {flicker});
    // Each of these alone keeps it: the wait, the latch, or a start that needs more.
    finds("bearer", {{spent, ""}, {enter, same}}, {});
    finds("bearer", {{refill, at_once}, {enter, same}}, {});
    finds("bearer", {{refill, at_once}, {spent, ""}}, {});
    // A latch that opens where it closes, or that does not bar, keeps nothing.
    finds("bearer",
          {{refill, at_once}, {spent, "spent = { at = 0, until = 30, bars = false }"}, {enter, same}},
          {flicker});
    // Another level than 0.
    finds("bearer",
          {{refill, at_once},
           {spent, ""},
           {enter, "\"stamina >= 20\"]"},
           {"\"stamina > 0\"]", "\"stamina >= 20\"]"}},
          {flicker});
    // It comes back only in a state that does not lead to sprinting.
    finds("bearer", {{refill, "refill = { rate = 18, in = [\"crouch\"] }"}, {spent, ""}, {enter, same}}, {});
    std::vector<Finding> found =
        survey::check(with("bearer", {{refill, at_once}, {spent, ""}, {enter, same}}));
    survey::prove(with("bearer", {{refill, at_once}, {spent, ""}, {enter, same}}), found);
    REQUIRE(found.size() == 1);
    CHECK(found[0].what ==
          "sprint and walk follow each other many times a second once stamina is down to 0: sprint drains "
          "it, walk "
          "refills it at once, and sprint asks for no more");
    CHECK(found[0].proof);
}

TEST_CASE("a list of terms that states before it in rank always win over is found") {
    // A runner without ground under its feet falls, or runs along a wall, which come first.
    finds("bearer",
          {{"[\"not headroom\"]]", "[\"not headroom\"], [\"not grounded\", \"headroom\", \"tread on\"]]"}},
          {{FindingKind::needless, Severity::warning, "states.crouch.enter[3][1]"}});
    const std::vector<Finding> found = survey::check(with(
        "bearer",
        {{"[\"not headroom\"]]", "[\"not headroom\"], [\"not grounded\", \"headroom\", \"tread on\"]]"}}));
    REQUIRE(found.size() == 1);
    CHECK(found[0].what ==
          "this list of crouch decides nothing: whenever it holds, fall comes first in rank");
    // One that decides something somewhere is not told of.
    finds("bearer",
          {{"[\"not headroom\"]]", "[\"not headroom\"], [\"grounded\", \"tread on\", \"sprint on\"]]"}}, {});
}

TEST_CASE("a state that ends after a time is not left when it has just been entered") {
    ChartSpec spec = bearer(ramp(10.0, 10.0, 10.0));
    StateSpec rest = state("rest", {.forward = 1.0, .side = {}, .back = {}}, ramp(10.0, 10.0, 10.0));
    rest.enter = Condition{"sprint on"};
    rest.stay = Condition{"sprint on", "time < 0.5"};
    add_first(spec, rest);
    for (const Finding& finding : survey::check(spec)) {
        CAPTURE(finding.what);
        CHECK(std::find(finding.states.begin(), finding.states.end(), "rest") == finding.states.end());
    }
    // The same without the time is left at once, and is told of.
    spec.states.back().stay = Condition{"not sprint on"};
    const std::vector<Finding> found = survey::check(spec);
    CHECK(std::any_of(found.begin(), found.end(), [](const Finding& finding) {
        return finding.kind == FindingKind::flicker || finding.kind == FindingKind::left_at_once;
    }));
}

TEST_CASE("planted faults in amounts are found, and nothing else") {
    const Severity error = Severity::error, warning = Severity::warning;
    const std::string refill = "refill   = { rate = 18, wait = 0.7 }",
                      spent = "spent    = { at = 0, until = 30 }";
    finds("bearer", {{refill, ""}}, {{FindingKind::latch_never_opens, error, "meters.stamina"}});
    finds("bearer", {{refill, ""}, {spent, ""}}, {{FindingKind::never_refills, error, "meters.stamina"}});
    finds("bearer", {{refill, "refill = { rate = 18, when = [\"stamina spent\", \"stamina >= 50\"] }"}},
          {{FindingKind::latch_never_opens, error, "meters.stamina.refill"}});
    finds("bearer", {{"seconds = 3\n", "seconds = 0.1\n"}},
          {{FindingKind::short_cooldown, warning, "cooldowns.dash.seconds"}});
    finds("keeper",
          {{"affects  = [{ what = \"speed\", times = 0.7 }",
            "then = \"staggered\"\naffects  = [{ what = \"speed\", times = 0.7 }"}},
          {{FindingKind::endless, warning, "modifiers.staggered.then"}});
    finds("keeper", {{"seconds = 0.6\n", ""}},
          {{FindingKind::endless, warning, "meters.stamina.spent.grants"}});
    finds("keeper", {{"seconds = 0.6\n", "seconds = 6\nstacking = \"extend\"\n"}},
          {{FindingKind::piles_up, warning, "modifiers.staggered.seconds"}});
    finds("bearer", {{"[actions]\n", "[actions]\nbow = { press = \"hold\" }\n"}},
          {{FindingKind::unused, warning, "actions.bow"}});
    finds("bearer", {{"[cooldowns.dash]", "[meters.oil]\ncapacity = 3\n[cooldowns.dash]"}},
          {{FindingKind::unused, warning, "meters.oil"}});
    finds("bearer", {{"[cooldowns.dash]", "[cooldowns.nap]\nseconds = 3\n[cooldowns.dash]"}},
          {{FindingKind::unused, warning, "cooldowns.nap"}});
    finds("bearer", {{"heights = [1.3]", "heights = [31]"}},
          {{FindingKind::implausible, Severity::advice, "states.jump.launch.heights[1]"}});
}

TEST_CASE("a cost above the capacity is refused at loading already") {
    CHECK(
        complaint([] {
            static_cast<void>(with("bearer", {{"cost     = { stamina = 15 }", "cost = { stamina = 150 }"}}));
        }).find("states.dash.cost.stamina: 150 is more than stamina can hold, 100") != std::string::npos);
}

TEST_CASE("a meter that only scales another may be the game's to fill") {
    // The keeper's provisions have no refill: nothing needs them.
    CHECK(survey::check(with("keeper", {})).empty());
}

TEST_CASE("drills show what was found, and are as short as that takes") {
    std::vector<Finding> findings =
        survey::check(with("bearer", {{"\"stamina > 0\"]", "\"stamina >= 20\"]"}}));
    REQUIRE(findings.size() == 1);
    const ChartSpec spec = with("bearer", {{"\"stamina > 0\"]", "\"stamina >= 20\"]"}});
    survey::prove(spec, findings);
    REQUIRE(findings[0].proof);
    const Chart chart = compile(spec);
    const Drill drill(*findings[0].proof, chart);
    const survey::Run run = survey::run(chart, drill, survey::even_ticks(60.0, drill.length()));
    CHECK(run.visits.size() > 6);
    // 80 of 12 a second from half a second on, a moment for speeding up, and not much longer.
    CHECK(findings[0].proof->seconds > 0.5 + 80.0 / 12.0);
    CHECK(findings[0].proof->seconds < 0.5 + 80.0 / 12.0 + 0.5);

    const ChartSpec dry = with("bearer", {{"refill   = { rate = 18, wait = 0.7 }", ""}});
    std::vector<Finding> latch = survey::check(dry);
    survey::prove(dry, latch);
    REQUIRE(latch.size() == 1);
    REQUIRE(latch[0].proof);
    CHECK(latch[0].shown == "sprint is asked for and not entered for a minute");

    // What no key can bring about cannot be shown.
    const ChartSpec never = with("bearer", {{"\"moving forward\", \"grounded\", \"stamina >= 10\"",
                                             "\"moving forward\", \"moving backward\""}});
    std::vector<Finding> unseen = survey::check(never);
    survey::prove(never, unseen);
    REQUIRE(unseen.size() == 1);
    CHECK_FALSE(unseen[0].proof);
}

TEST_CASE("random runs take no change that the reasoning says cannot be") {
    std::mt19937 random(3);
    std::size_t taken = 0;
    for (const ChartSpec& spec :
         {with("bearer", {}), with("gannet", {}), with("eel", {}), with("keeper", {}), all_ways()}) {
        const Chart chart = compile(spec);
        const std::vector<survey::Passage> passages = survey::passages(spec);
        for (int i = 0; i < 10; ++i) {
            const Drill drill(random_drill(random, chart, 30.0), chart);
            const survey::Run run = survey::run(chart, drill, random_ticks(random, 30.0), false);
            for (std::size_t k = 1; k < run.visits.size(); ++k) {
                const StateId from = run.visits[k - 1].state, to = run.visits[k].state;
                CAPTURE(spec.name, chart.name(from), chart.name(to));
                CHECK((from == to ||
                       std::any_of(passages.begin(), passages.end(), [&](const survey::Passage& passage) {
                           return passage.from == from.index && passage.to == to.index;
                       })));
                ++taken;
            }
        }
    }
    CHECK(taken > 500);
}

TEST_CASE("the changes that conditions allow are those that runs take, and more") {
    const ChartSpec spec = all_ways();
    const Chart chart = compile(spec);
    const std::vector<survey::Passage> passages = survey::passages(spec);
    const auto allows = [&](std::uint8_t from, std::uint8_t to) {
        return std::any_of(passages.begin(), passages.end(), [&](const survey::Passage& passage) {
            return passage.from == from && passage.to == to;
        });
    };
    CHECK(allows(chart.state("run").index, chart.state("jump").index));
    CHECK_FALSE(allows(chart.state("run").index, chart.state("walljump").index));  // from a wall run only
    CHECK_THROWS_AS(survey::passages(ChartSpec{}), ChartError);
}
