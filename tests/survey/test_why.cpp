#include <catch2/catch.hpp>
#include <cursimeter/chartfile/chart_file.hpp>
#include <cursimeter/chartfile/course_file.hpp>
#include <cursimeter/chartfile/drill_file.hpp>
#include <cursimeter/survey/why.hpp>

#include "support/all_ways.hpp"
#include "support/demo.hpp"
#include "support/random_drill.hpp"

using namespace support;
using survey::Standing;
using survey::StandingKind;

namespace {

/// Whether two answers to "why not" differ.
bool answers_differ(const Standing& a, const Standing& b) {
    return a.kind != b.kind || a.failing.has_value() != b.failing.has_value() ||
           (a.failing && a.failing->term != b.failing->term);
}

/// For every choice of a run and every state: the answer agrees with the core, the term named fails, and if it held the
/// answer would be another.
std::size_t hold_against_core(const Chart& chart, const survey::WatchedRun& watched) {
    std::size_t named = 0;
    for (const survey::Moment& moment : watched.moments) {
        std::size_t taken = 0;
        for (std::uint8_t i = 0; i < chart.state_count(); ++i) {
            const Standing standing = survey::standing(chart, moment, StateId{i});
            if (standing.kind == StandingKind::taken) {
                ++taken;
                CHECK(moment.taken == StateId{i});
            }
            if (standing.kind == StandingKind::outranked) {
                CHECK(standing.first == moment.taken);
            }
            if (standing.kind != StandingKind::fails) {
                continue;
            }
            REQUIRE(standing.failing);
            CHECK_FALSE(standing.failing->holds);
            const survey::Moment otherwise = survey::suppose(chart, moment, standing.failing->term, true);
            CHECK(answers_differ(standing, survey::standing(chart, otherwise, StateId{i})));
            ++named;
        }
        CHECK(taken == 1);
    }
    return named;
}

}  // namespace

TEST_CASE("over random runs every answer agrees with the core, and its term decides") {
    std::mt19937 random(11);
    std::size_t named = 0, moments = 0;
    for (const char* name : {"bearer", "gannet", "eel", "keeper"}) {
        const Chart chart = demo_chart(name).chart;
        for (int i = 0; i < 6; ++i) {
            const Drill drill(random_drill(random, chart, 20.0), chart);
            const survey::WatchedRun watched =
                survey::watch(chart, drill, nullptr, random_ticks(random, 20.0));
            named += hold_against_core(chart, watched);
            moments += watched.moments.size();
        }
    }
    CHECK(moments > 1000);
    CHECK(named > 10000);
}

TEST_CASE("in a world, too: the relay, choice by choice") {
    const ChartFile chart = demo_chart("bearer");
    const Course course = demo_course();
    const DrillFile drill = load_drill(demo_folder + "drills/relay_bearer.toml", chart.chart);
    const survey::WatchedRun watched =
        survey::watch(chart.chart, drill.drill, &course, survey::even_ticks(60.0, drill.drill.length()));
    CHECK(hold_against_core(chart.chart, watched) > 1000);
}

TEST_CASE("looking on changes nothing: the same run, and the choices are those of its visits") {
    std::mt19937 random(5);
    for (int i = 0; i < 10; ++i) {
        const Chart chart = compile(all_ways());
        const Drill drill(random_drill(random, chart, 30.0), chart);
        const std::vector<double> ends = survey::even_ticks(60.0, Seconds{30.0});
        const survey::WatchedRun watched = survey::watch(chart, drill, nullptr, ends);
        CHECK(watched.run.digest == survey::run(chart, drill, ends).digest);
        std::size_t visit = 1;
        for (const survey::Moment& moment : watched.moments) {
            if (moment.changed) {
                REQUIRE(visit < watched.run.visits.size());
                const survey::Visit& entered = watched.run.visits[visit++];
                CHECK(entered.state == moment.taken);
                CHECK(entered.at == Approx(moment.at).margin(1e-6));
                CHECK(entered.cause == moment.cause);
            }
        }
        CHECK(visit == watched.run.visits.size());
    }
}

TEST_CASE("at a time of the demo the failing term, its value and its stretch are told") {
    const ChartFile chart = demo_chart("bearer");
    const DrillFile drill = load_drill(demo_folder + "drills/quay_boards.toml", chart.chart);
    const std::vector<double> ends = survey::even_ticks(60.0, drill.drill.length());
    const survey::Explanation told = survey::explain(chart.chart, drill.drill, nullptr, ends, Seconds{18.0});
    CHECK(chart.chart.name(told.state) == "walk");
    CHECK(told.rank.size() == chart.chart.state_count());
    const auto sprint =
        std::find_if(told.rank.begin(), told.rank.end(), [&](const survey::StateExplanation& one) {
            return chart.chart.name(one.standing.state) == "sprint";
        });
    REQUIRE(sprint != told.rank.end());
    REQUIRE(sprint->standing.failing);
    CHECK(sprint->standing.failing->text == "stamina >= 10");
    CHECK(sprint->standing.failing->path == "states.sprint.enter[4]");
    REQUIRE(sprint->failing_stretch);
    // Empty at 17.354 s, and after the wait of 0.7 s it takes 10 / 18 s.
    CHECK(sprint->failing_stretch->until - told.since == Approx(0.7 + 10.0 / 18.0).margin(1e-6));
    const std::size_t place = 3;
    CHECK(sprint->values[0][place].find("stamina 0") == 0);
    CHECK_THROWS_AS(survey::explain(chart.chart, drill.drill, nullptr, ends, Seconds{61.0}), ChartError);
    CHECK_THROWS_AS(survey::explain(chart.chart, drill.drill, nullptr, ends, Seconds{std::nan("")}),
                    ChartError);
}

TEST_CASE("stretches in which a state was wanted and not taken, by cause") {
    const ChartFile chart = demo_chart("bearer");
    const DrillFile drill = load_drill(demo_folder + "drills/quay_boards.toml", chart.chart);
    const std::vector<double> ends = survey::even_ticks(60.0, drill.drill.length());
    const survey::WatchedRun watched = survey::watch(chart.chart, drill.drill, nullptr, ends);
    const std::vector<survey::Denial> denials =
        survey::denials(chart.chart, watched, chart.chart.state("sprint"));
    REQUIRE(denials.size() == 6);
    // Held from 8 s on while walking backward until 9 s.
    CHECK(denials[0].from == Approx(8.0));
    CHECK(denials[0].until == Approx(9.0));
    CHECK(denials[0].standing.failing->text == "moving forward");
    CHECK(denials[1].standing.failing->text == "stamina >= 10");
    CHECK(denials[2].standing.failing->text == "not stamina spent");
    CHECK(denials[2].from == Approx(denials[1].until));
    CHECK(survey::denials(chart.chart, watched, chart.chart.state("walk")).empty());
}

TEST_CASE("a press that comes to nothing is a denial of no length") {
    ChartSpec spec = bearer();
    spec.actions.push_back({.name = "dash"});
    spec.cooldowns = {{.name = "dash", .seconds = 3.0}};
    StateSpec dash;
    dash.name = "dash";
    dash.kind = StateKind::burst;
    dash.burst.speed = 10.0;
    dash.burst.seconds = 0.2;
    dash.cooldown = "dash";
    dash.enter = Condition{"dash pressed"};
    spec.states.push_back(dash);
    spec.rank.insert(spec.rank.begin(), "dash");
    const Chart chart = compile(spec);
    DrillSpec drill;
    drill.name = "two dashes";
    drill.seconds = 3.0;
    for (const double at : {0.5, 1.5}) {
        StepSpec step;
        step.at = at;
        step.press = {"dash"};
        drill.steps.push_back(step);
    }
    const survey::WatchedRun watched =
        survey::watch(chart, Drill(drill, chart), nullptr, survey::even_ticks(60.0, Seconds{3.0}));
    const std::vector<survey::Denial> denials = survey::denials(chart, watched, chart.state("dash"));
    REQUIRE(denials.size() == 1);
    CHECK(denials[0].from == Approx(1.5));
    CHECK(denials[0].until == denials[0].from);
    CHECK(denials[0].standing.failing->text == "dash ready");
}
