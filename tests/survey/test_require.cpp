#include <catch2/catch.hpp>
#include <cursimeter/chartfile/chart_file.hpp>
#include <cursimeter/effects.hpp>
#include <cursimeter/survey/check.hpp>
#include <cursimeter/survey/require.hpp>
#include <cursimeter/survey/run.hpp>
#include <cursimeter/survey/trial.hpp>

#include "support/demo.hpp"
#include "support/leaper.hpp"

using namespace support;
using survey::Decision;
using survey::Ruling;

namespace {

/// A walker that sprints on stamina, dashes and jumps, small enough to be reasoned about by hand.
ChartSpec runner(const std::string& sprint =
                     "enter = [\"sprint on\", \"stamina >= 10\"]\nstay = [\"sprint on\", "
                     "\"stamina > 0\"]",
                 const std::string& more = "") {
    return parse_chart(
               "format = 1\nname = \"runner\"\nrank = [\"dash\", \"jump\", \"fall\", \"sprint\", \"walk\"]\n"
               "[actions]\nsprint = {}\ndash = {}\njump = {}\n"
               "[meters.stamina]\ncapacity = 100\nrefill = { rate = 20, wait = 0.5 }\n"
               "spent = { at = 0, until = 30 }\n"
               "[cooldowns.dash]\nseconds = 2\n"
               "[states.walk]\nkind = \"ground\"\nspeed = { forward = 2 }\n"
               "gain = { law = \"ramp\", up = 10, down = 10 }\n"
               "[states.sprint]\nlike = \"walk\"\nspeed = { forward = 6 }\ndrain = { stamina = 25 }\n" +
                   sprint +
                   "\n[states.fall]\nkind = \"air\"\nspeed = { forward = 4 }\n"
                   "air = { rise_gravity = 20, fall_gravity = 20, terminal = 40, steer = 10 }\n"
                   "enter = [\"not grounded\"]\n"
                   "[states.jump]\nlike = \"fall\"\nlaunch = { heights = [1] }\ncost = { stamina = 8 }\n"
                   "enter = [\"jump pressed\"]\nstay = [\"not grounded\", \"rise > 0\"]\n"
                   "[states.dash]\nkind = \"burst\"\nburst = { along = [\"facing\"], metres = 3, seconds = "
                   "0.2 }\n"
                   "cost = { stamina = 20 }\ncooldown = \"dash\"\nenter = [\"dash pressed\"]\n" +
                   more,
               "runner.toml")
        .spec;
}

survey::RequirePlan quick() {
    survey::RequirePlan plan;
    plan.ticks = 60'000;
    return plan;
}

/// What the breach shows, held against an expectation of its drill: `judge` knows nothing of how it was found.
bool is_broken_by(const ChartSpec& chart, const Ruling& ruling, ExpectSpec expected, double rate) {
    DrillSpec drill = *ruling.breach;
    drill.expects = {std::move(expected)};
    const std::vector<double> ends = survey::even_ticks(rate, Seconds{drill.seconds});
    return !survey::judge(chart, drill, nullptr, ends).front().kept;
}

}  // namespace

TEST_CASE("require: what conditions, costs and times rule out is proven") {
    const ChartSpec chart = runner();
    for (const auto& [words, because] :
         {std::pair("never sprint with stamina spent", "what enters and keeps sprint rules it out"),
          std::pair("never sprint with not sprint on", "what enters and keeps sprint rules it out"),
          std::pair("never jump with grounded", "what enters and keeps jump rules it out"),
          // entered with 20 at least, pays 20 and drains nothing: the cooldown lasts longer than the dash
          std::pair("never dash with dash ready", "what enters and keeps dash rules it out"),
          std::pair("never fall with grounded", "what enters and keeps fall rules it out"),
          std::pair("dash ends within 0.2 s", "what keeps dash is over after 0.2 s"),
          std::pair("dash ends within 1 s whatever is pressed", "what keeps dash is over after 0.2 s")}) {
        CAPTURE(words);
        const Ruling ruling = survey::rule_on(chart, words, quick());
        CHECK(ruling.requirement == words);
        CHECK(ruling.decision == Decision::proven);
        CHECK(ruling.because == because);
        CHECK_FALSE(ruling.breach);
    }
}

TEST_CASE("require: a cost leaves what it must, to the level") {
    ChartSpec chart = runner();
    for (StateSpec& state : chart.states) {
        if (state.name == "dash") {
            state.enter = Condition(std::vector<std::vector<std::string>>{{"dash pressed", "stamina >= 50"}});
            state.stay = Condition();
        }
    }
    // Entered with 50 at least, of which it pays 20; nothing drains it meanwhile.
    CHECK(survey::rule_on(chart, "never dash with stamina < 30", quick()).decision == Decision::proven);
    CHECK(survey::rule_on(chart, "never dash with stamina spent", quick()).decision == Decision::proven);
    const Ruling more = survey::rule_on(chart, "never dash with stamina < 31", quick());
    CHECK(more.decision != Decision::proven);
    // As it is written first it may pay the last that there is.
    CHECK(survey::rule_on(runner(), "never dash with stamina < 1", quick()).decision != Decision::proven);
}

TEST_CASE(
    "require: what is asked for at the door stays so where nothing drains, and a state lasts as long as its "
    "meter") {
    ChartSpec chart = runner(
        "enter = [\"sprint on\", \"stamina >= 20\"]\nstay = [\"sprint on\", \"stamina > 10\"]\n"
        "drain_above = 0");
    chart.actions.push_back({.name = "poise"});
    StateSpec poise = chart.states.front();
    poise.name = "poise";
    poise.enter = Condition{"poise pressed", "not stamina spent"};
    poise.stay = Condition{"poise on"};
    chart.states.push_back(poise);
    chart.rank.insert(chart.rank.begin(), "poise");
    CHECK(survey::rule_on(chart, "never poise with stamina spent", quick()).decision == Decision::proven);
    // From 100 down to 10 at 25 a second.
    const Ruling lasts = survey::rule_on(chart, "sprint ends within 3.6 s whatever is pressed", quick());
    CHECK(lasts.decision == Decision::proven);
    CHECK(lasts.because == "what keeps sprint is over after 3.6 s");
    CHECK(survey::rule_on(chart, "sprint ends within 3.5 s whatever is pressed", quick()).decision !=
          Decision::proven);
}

TEST_CASE("require: what is reached is refuted, by a drill that breaks it at any tick rate") {
    const ChartSpec chart = runner();
    struct Planted {
        const char* words;
        ExpectSpec expected;
    };
    const auto never = [](std::vector<std::string> terms) {
        ExpectSpec expected;
        expected.never = std::move(terms);
        return expected;
    };
    for (const auto& [words, expected] :
         {Planted{"never stamina spent", never({"stamina spent"})},
          Planted{"never walk with stamina < 20", never({"stamina < 20"})},
          Planted{"never speed > 5", never({"speed > 5"})},
          Planted{"never jump with speed > 5", never({"speed > 5", "not grounded", "rise > 0"})},
          Planted{"never fall with speed > 3", never({"speed > 3", "not grounded"})}}) {
        CAPTURE(words);
        const Ruling ruling = survey::rule_on(chart, words, quick());
        REQUIRE(ruling.decision == Decision::refuted);
        for (const double rate : {20.0, 60.0, 240.0}) {
            CHECK(is_broken_by(chart, ruling, expected, rate));
        }
        CHECK(ruling.breach->seconds < ruling.at + 0.2);
    }
}

TEST_CASE("require: how long a state lasts is refuted by a drill that stays in it") {
    const ChartSpec chart = runner();
    const Ruling dash = survey::rule_on(chart, "dash ends within 0.15 s", quick());
    REQUIRE(dash.decision == Decision::refuted);
    const Drill drill(*dash.breach, compile(chart));
    const survey::Run run =
        survey::run(compile(chart), drill, survey::even_ticks(60.0, Seconds{dash.breach->seconds}), false);
    const bool stays = std::any_of(run.visits.begin(), run.visits.end(), [&](const survey::Visit& visit) {
        return compile(chart).name(visit.state) == "dash" && visit.seconds > 0.15;
    });
    CHECK(stays);
    // Four seconds of stamina, but none is drained while standing still with the key held.
    CHECK(survey::rule_on(chart, "sprint ends within 4 s", quick()).decision == Decision::refuted);
    CHECK(survey::rule_on(chart, "walk ends within 2 s", quick()).decision == Decision::refuted);
    // A jump rises for v / g = sqrt(2 g h) / g = 0.316 s.
    CHECK(survey::rule_on(chart, "jump ends within 0.3 s", quick()).decision == Decision::refuted);
    CHECK(survey::rule_on(chart, "jump ends within 0.33 s", quick()).decision == Decision::undecided);
}

TEST_CASE("require: what can be had from any state, and what keeps one waiting for it") {
    const ChartSpec chart = runner("enter = [\"sprint on\"]\nstay = [\"sprint on\"]");
    const Ruling walking = survey::rule_on(chart, "from sprint: walk possible within 0 s", quick());
    CHECK(walking.decision == Decision::proven);
    CHECK(walking.because == "its keys bring walk about at once");
    // A dash lasts 0.2 s whatever is pressed.
    CHECK(survey::rule_on(chart, "from dash: walk possible within 0.1 s", quick()).decision ==
          Decision::undecided);
    // 2 s of cooldown are left after it.
    const Ruling dash = survey::rule_on(chart, "dash possible within 1 s", quick());
    REQUIRE(dash.decision == Decision::refuted);
    CHECK(dash.because.find("whatever is pressed then, dash cannot be had for ") != std::string::npos);
    CHECK(survey::rule_on(chart, "from any state, dash possible within 2.5 s", quick()).decision ==
          Decision::undecided);
    // Spent until 30, refilled at 20 a second: 1.5 s at least.
    CHECK(survey::rule_on(runner(), "from walk: sprint possible within 1.4 s", quick()).decision ==
          Decision::refuted);
}

TEST_CASE("require: hands that bring a state about must first have done what the chart asks for") {
    const auto with = [](const std::string& actions, const std::string& more, const std::string& rank) {
        return parse_chart("format = 1\nname = \"hands\"\nrank = [" + rank + "\"walk\"]\n[actions]\n" +
                               actions +
                               "[states.walk]\nkind = \"ground\"\nspeed = { forward = 2 }\n"
                               "gain = { law = \"ramp\", up = 10, down = 10 }\n" +
                               more,
                           "hands.toml")
            .spec;
    };
    const auto is_proven = [](const ChartSpec& chart, const std::string& words) {
        return survey::rule_on(chart, words, quick()).decision == Decision::proven;
    };
    const std::string vault =
        "[states.vault]\nlike = \"walk\"\nenter = [\"sprint on\", \"jump pressed\"]\nstay = [\"sprint "
        "on\"]\n";
    CHECK(is_proven(with("sprint = {}\njump = {}\n", vault, "\"vault\", "),
                    "from walk: vault possible within 0 s"));
    // Sprint must go down first, or with the jump: then it lunges.
    const std::string lunge =
        "[states.lunge]\nkind = \"burst\"\nburst = { speed = 9, seconds = 0.2 }\nenter = [\"sprint "
        "pressed\"]\n";
    CHECK_FALSE(is_proven(with("sprint = {}\njump = {}\n", vault + lunge, "\"lunge\", \"vault\", "),
                          "from walk: vault possible within 0.1 s"));
    // A key that is let go may bring something about itself.
    const std::string run = "[states.run]\nlike = \"walk\"\nenter = [\"sprint on\"]\n";
    const std::string skid =
        "[states.skid]\nkind = \"burst\"\nburst = { speed = 1, seconds = 1 }\nenter = [\"sprint "
        "released\"]\n";
    CHECK(is_proven(with("sprint = {}\n", run, "\"run\", "), "from run: walk possible within 0 s"));
    CHECK_FALSE(is_proven(with("sprint = {}\n", run + skid, "\"skid\", \"run\", "),
                          "from run: walk possible within 0.5 s"));
    CHECK(is_proven(with("sprint = {}\n", run + skid, "\"skid\", \"run\", "),
                    "from run: walk possible within 1 s"));
    // So may a press that waits: up to 0.3 s, and then the hop lasts 0.2 s.
    const std::string hop =
        "[states.hop]\nkind = \"burst\"\nburst = { speed = 1, seconds = 0.2 }\nenter = [\"jump pressed\", "
        "\"not sprint on\"]\n";
    const ChartSpec waiting = with("sprint = {}\njump = { buffer = 0.3 }\n", run + hop, "\"hop\", \"run\", ");
    CHECK_FALSE(is_proven(waiting, "from run: walk possible within 0.1 s"));
    CHECK(is_proven(waiting, "from run: walk possible within 0.5 s"));
    // A toggle stays as it was left.
    CHECK_FALSE(is_proven(with("sprint = { press = \"toggle\" }\n", run, "\"run\", "),
                          "from run: walk possible within 5 s"));
}

TEST_CASE("require: a cooldown keeps nobody waiting while a charge is left") {
    ChartSpec spec = runner();
    spec.cooldowns[0].charges = 2;
    const Ruling ruling = survey::rule_on(spec, "dash possible within 0.5 s", quick());
    REQUIRE(ruling.decision == Decision::refuted);
    const Chart chart = compile(spec);
    const Drill drill(*ruling.breach, chart);
    const survey::Run run =
        survey::run(chart, drill, survey::even_ticks(60.0, Seconds{ruling.breach->seconds}), false);
    CHECK_FALSE(read_cooldown(chart, run.runner, chart.cooldown("dash")).ready);
}

TEST_CASE("require: what nothing leads to, or back to, is told as that") {
    ChartSpec chart = runner();
    StateSpec lost = chart.states[0];
    lost.name = "lost";
    lost.from = {"dash"};
    lost.enter = Condition(std::vector<std::vector<std::string>>{{"jump pressed"}});
    lost.stay = Condition(std::vector<std::vector<std::string>>{{"stamina >= 0"}});
    chart.states.push_back(lost);
    chart.rank.insert(chart.rank.begin(), "lost");
    const Ruling trap = survey::rule_on(chart, "walk possible within 5 s", quick());
    REQUIRE(trap.decision == Decision::refuted);
    CHECK(trap.because.find("nothing leads from there to walk") != std::string::npos);
    CHECK(survey::rule_on(chart, "never lost", quick()).decision == Decision::refuted);
    chart.states.back().enter =
        Condition(std::vector<std::vector<std::string>>{{"stamina >= 10", "stamina < 5"}});
    const Ruling never = survey::rule_on(chart, "never lost", quick());
    CHECK(never.decision == Decision::proven);
    CHECK(never.because == "no moment brings lost about");
}

TEST_CASE("require: one seed gives one answer, and the search is bounded") {
    const ChartSpec chart = demo_chart("bearer").spec;
    const Ruling first = survey::rule_on(chart, "never crouch with speed > 6", quick());
    const Ruling again = survey::rule_on(chart, "never crouch with speed > 6", quick());
    CHECK(first.decision == again.decision);
    CHECK(first.breach == again.breach);
    survey::RequirePlan none = quick();
    none.ticks = 1;
    CHECK(survey::rule_on(chart, "never walk with stamina spent", none).decision == Decision::undecided);
}

TEST_CASE("require: text that is no requirement says what would be") {
    const ChartSpec chart = runner();
    const auto refused = [&](const char* text) {
        try {
            static_cast<void>(survey::rule_on(chart, text, quick()));
        } catch (const ChartError& error) {
            return error.diagnostics().front().message();
        }
        return std::string();
    };
    CHECK(refused("sprint is fast").starts_with("require: 'sprint is fast' is no requirement; write "));
    CHECK(refused("never sprnt with stamina spent") ==
          "require: the chart has no state 'sprnt'; did you mean 'sprint'?");
    CHECK(refused("never sprint with stamia spent").starts_with("require[1]: "));
    CHECK(refused("dash ends within soon") ==
          "require: 'soon' is no time; write a number of seconds, from 0 to 600, and \"s\": \"2 s\"");
    CHECK(refused("dash ends within 2 m").starts_with("require: '2 m' is no time; "));
    CHECK(refused("never walk with jump pressed")
              .starts_with("require: 'jump pressed' is over in an instant; "));
    CHECK(refused("never walk with stamina spent,") ==
          "require: a term is missing; write terms as conditions have them, with a comma between two");
    CHECK(refused("from nowhere: jump possible within 1 s").starts_with("require: the chart has no state "));
    CHECK(refused("").starts_with("require: '' is no requirement; "));
    survey::RequirePlan slow = quick();
    slow.rate = 5.0;
    CHECK_THROWS_AS(survey::rule_on(chart, "never walk", slow), ChartError);
}

TEST_CASE("require: entering a state may itself end what brought it about") {
    // Who hops has used the jump up and is in the air, though `grounded` brought it there: no vault before it has landed.
    const auto with = [](const std::string& hop) {
        return parse_chart(
                   "format = 1\nname = \"hopper\"\nrank = [\"vault\", \"hop\", \"fall\", \"walk\"]\n"
                   "[actions]\nhop = {}\nvault = {}\n"
                   "[states.walk]\nkind = \"ground\"\nspeed = { forward = 2 }\n"
                   "[states.fall]\nkind = \"air\"\nspeed = { forward = 2 }\nenter = [\"not grounded\"]\n"
                   "[states.vault]\nlike = \"fall\"\nlaunch = { heights = [1] }\nenter = [\"vault on\"]\n" +
                       hop,
                   "hopper.toml")
            .spec;
    };
    const std::string asked = "from hop: vault possible within 0.1 s";
    const ChartSpec hopping = with(
        "[states.hop]\nlike = \"fall\"\nlaunch = { heights = [0.5] }\nenter = [\"hop on\", \"grounded\"]\n");
    CHECK(survey::rule_on(hopping, asked, quick()).decision != Decision::proven);
    const ChartSpec creeping =
        with("[states.hop]\nlike = \"walk\"\nspeed = { forward = 1 }\nenter = [\"hop on\", \"grounded\"]\n");
    CHECK(survey::rule_on(creeping, asked, quick()).decision == Decision::proven);
}

TEST_CASE("require: a state that has to wait before it comes back hides nothing behind it") {
    // The lunge is over after 0.2 s and could begin anew, for which it waits 10 ms; meanwhile the runner walks, floats up, and there it cannot.
    const auto with = [](const std::string& floats) {
        return parse_chart(
                   "format = 1\nname = \"floater\"\nrank = [\"lunge\", \"float\", \"fall\", \"walk\"]\n"
                   "[actions]\nlunge = {}\nup = {}\n"
                   "[states.walk]\nkind = \"ground\"\nspeed = { forward = 2 }\n"
                   "[states.fall]\nkind = \"air\"\nspeed = { forward = 2 }\nenter = [\"not grounded\"]\n"
                   "[states.lunge]\nkind = \"burst\"\nburst = { speed = 4, seconds = 0.2 }\nenter = [\"lunge "
                   "on\", \"grounded\"]\n"
                   "[states.float]\nkind = \"fly\"\nspeed = { forward = 2 }\nfly = { up = \"up\", climb = 2 "
                   "}\n"
                   "enter = [\"lunge on\", \"grounded\"]\n" +
                       floats,
                   "floater.toml")
            .spec;
    };
    const ChartSpec chart = with("stay = [\"lunge on\"]\nfrom = [\"walk\"]\n");
    const Chart compiled = compile(chart);
    Script script(2.0);
    script.hold(0.0, "lunge").hold(0.1, "up");
    const Drill drill(script.drill, compiled);
    const survey::Run run = survey::run(compiled, drill, survey::even_ticks(60.0, drill.length()));
    CHECK(compiled.name(run.runner.state()) == "float");
    CHECK(run.runner.position().z > 3.0);
    CHECK(survey::rule_on(chart, "never float with rise > 1", quick()).decision == Decision::refuted);
    for (const survey::Finding& finding : survey::check(chart)) {
        CHECK(finding.kind != survey::FindingKind::hidden);
    }
}
