#include <catch2/catch.hpp>
#include <cmath>
#include <cursimeter/chartfile/chart_edit.hpp>
#include <cursimeter/chartfile/chart_file.hpp>
#include <cursimeter/survey/compare.hpp>
#include <cursimeter/survey/figures.hpp>
#include <cursimeter/survey/fit.hpp>
#include <cursimeter/survey/values.hpp>
#include <fstream>
#include <sstream>

#include "support/bearer.hpp"
#include "support/demo.hpp"

using namespace support;

namespace {

/// From a start that is half off, the values come back that the figures were read of.
void recovers(const std::string& name, const std::vector<std::string>& figures,
              const std::vector<std::string>& paths, double off) {
    const ChartSpec own = demo_chart(name).spec;
    ChartSpec start = own;
    survey::FitPlan plan;
    for (const std::string& path : paths) {
        survey::set_chart_value(start, path, off * survey::chart_value(own, path).value.value());
        plan.vary.push_back({path, {}, {}});
    }
    for (const std::string& figure : figures) {
        plan.wishes.push_back({figure, survey::figure(own, figure).value, {}});
    }
    const survey::Fit fit = survey::fit(start, plan);
    CAPTURE(name, figures, paths, fit.charts);
    CHECK(fit.met);
    CHECK(fit.conflicts.empty());
    for (const survey::FitValue& value : fit.values) {
        CHECK(value.after == Approx(*survey::chart_value(own, value.path).value).epsilon(1e-3));
        CHECK(survey::chart_value(fit.spec, value.path).value == value.after);
    }
}

}  // namespace

TEST_CASE("values come back from their own figures to a thousandth, from half off") {
    recovers("bearer", {"sprint.distance", "stamina.recover"},
             {"states.sprint.drain.stamina", "meters.stamina.refill.rate"}, 1.5);
    recovers("bearer", {"walk.up_time", "walk.turn_overshoot"},
             {"states.walk.gain.up", "states.walk.gain.down"}, 0.5);
    recovers("bearer", {"jump.air_time", "jump.length_from_walk"},
             {"states.fall.air.fall_gravity", "states.walk.speed.forward"}, 0.5);
    recovers("bearer", {"slide.length", "dash.length"},
             {"states.slide.slide.friction", "states.dash.burst.metres"}, 1.5);
    recovers("eel", {"sprint.seconds", "sprint.up_distance"},
             {"states.sprint.drain.breath", "states.sprint.speed.forward"}, 0.5);
    recovers("gannet", {"glide.ratio", "jump.height"},
             {"states.glide.fly.sink", "states.jump.launch.heights[1]"}, 1.5);
    recovers("bearer", {"wallrun.length"}, {"states.wallrun.speed.forward"}, 0.5);
}

TEST_CASE("wishes that pull against each other are named, and so are ends of ranges") {
    const ChartSpec spec = demo_chart("bearer").spec;
    survey::FitPlan plan;
    plan.wishes = {survey::read_wish("sprint.distance = 40 m", spec),
                   survey::read_wish("sprint.seconds = 12 s", spec)};
    plan.vary = {survey::read_fit_range("states.sprint.drain.stamina", spec)};
    const survey::Fit fit = survey::fit(spec, plan);
    CHECK_FALSE(fit.met);
    REQUIRE(fit.conflicts.size() == 1);
    CHECK(fit.conflicts[0] == std::pair<std::size_t, std::size_t>(0, 1));

    plan.wishes = {survey::read_wish("sprint.distance=400", spec)};
    plan.vary = {survey::read_fit_range("states.sprint.drain.stamina = 11 : 13", spec)};
    const survey::Fit bound = survey::fit(spec, plan);
    CHECK_FALSE(bound.met);
    CHECK(bound.conflicts.empty());
    CHECK(bound.values[0].at_bound);
    CHECK(bound.values[0].after == Approx(11.0));

    plan.vary = {survey::read_fit_range("states.sprint.drain.stamina", spec)};
    plan.keep_within = 0.25;
    CHECK(survey::fit(spec, plan).values[0].after == Approx(9.0));
    CHECK_THROWS_AS(survey::fit(spec, {}), ChartError);
}

TEST_CASE("with values to spare the chart stays near to what it was") {
    const ChartSpec spec = demo_chart("bearer").spec;
    survey::FitPlan plan;
    plan.wishes = {survey::read_wish("sprint.distance = 57 m", spec)};
    plan.vary = {survey::read_fit_range("states.sprint.drain.stamina", spec),
                 survey::read_fit_range("states.sprint.speed.forward", spec)};
    const survey::Fit fit = survey::fit(spec, plan);
    CHECK(fit.met);
    CHECK(fit.wishes[0].before == Approx(51.80097).epsilon(1e-6));
    for (const survey::FitValue& value : fit.values) {
        CHECK(value.after == Approx(value.before).epsilon(0.12));
    }
}

TEST_CASE("wishes and ranges that cannot be read say what they should be") {
    const ChartSpec spec = demo_chart("bearer").spec;
    const auto wish = [&](const char* text) {
        return complaint([&] { static_cast<void>(survey::read_wish(text, spec)); });
    };
    CHECK(wish("sprint.distance") == "sprint.distance: is no wish; write such as \"sprint.distance = 40 m\"");
    CHECK(wish("sprint.distance = 40 s") == "sprint.distance: 's' is not its unit; it is in m");
    CHECK(wish("sprint.distance = far").find("'far' is not a number") != std::string::npos);
    CHECK(wish("sprint.distanc = 4").find("did you mean 'sprint.distance'?") != std::string::npos);
    const auto range = [&](const char* text) {
        return complaint([&] { static_cast<void>(survey::read_fit_range(text, spec)); });
    };
    CHECK(range("states.sprint.speed.forward=5").find("names no range") != std::string::npos);
    CHECK(range("states.sprint.speed.forward=9:5").find("names no range") != std::string::npos);
    CHECK(range("states.sprint.speed.forwad").find("did you mean 'states.sprint.speed.forward'?") !=
          std::string::npos);
    survey::FitPlan plan;
    plan.wishes = {survey::read_wish("sprint.distance = 40 m", spec)};
    plan.vary = {survey::read_fit_range("states.walk.drain_above", spec)};  // a default, said nowhere
    CHECK(complaint([&] { static_cast<void>(survey::fit(spec, plan)); }).find("is not said by the chart") !=
          std::string::npos);
}

TEST_CASE("numbers are put into a chart's text, and all else stays") {
    const std::string text = R"(# the bearer's first steps
format = 1
name   = "walker"
rank   = ["run", "walk"]   # runs first

[states.walk]              # \u00e4 comment
kind  = "ground"
speed = { forward = 2.4, side = 2 }   # m/s
gain  = { law = "ramp", up = 12 }

[states.run]
like  = "walk"
enter = ["moving forward"]
)";
    const std::string edited =
        edit_chart_text(text, "walker", {{"states.walk.speed.forward", 2.75}, {"states.walk.gain.up", 9.0}});
    std::string expected = text;
    expected.replace(expected.find("2.4"), 3, "2.75");
    expected.replace(expected.find("12 }"), 4, "9 }");
    CHECK(edited == expected);

    // What a state takes over is added to it; what a table has not, to the table.
    const std::string added = edit_chart_text(
        text, "walker",
        {{"states.run.speed.forward", 6.0}, {"states.walk.speed.back", 1.5}, {"body.coyote", 0.1}});
    const ChartSpec spec = parse_chart(added, "walker").spec;
    CHECK(spec.states[1].speed.forward == 6.0);
    CHECK(spec.states[0].speed.back == 1.5);
    CHECK(spec.states[0].speed.forward == 2.4);
    CHECK(spec.body.coyote == 0.1);
    CHECK(added.find("{ forward = 2.4, side = 2, back = 1.5 }   # m/s") != std::string::npos);
    CHECK(added.find("# runs first") != std::string::npos);

    CHECK_THROWS_AS(edit_chart_text(text, "walker", {{"states.run.launch.heights[1]", 1.0}}), ChartError);
    CHECK_THROWS_AS(edit_chart_text(text, "walker", {{"states.walk.speed.forward", -1.0}}), ChartError);
    CHECK_THROWS_AS(edit_chart_text(text, "walker", {{"name", 1.0}}), ChartError);
}

TEST_CASE("every number of a demo chart's file can be edited in place") {
    for (const char* name : {"bearer", "gannet", "eel", "keeper"}) {
        const std::string file = std::string(CURSIMETER_SOURCE_DIR) + "/demo/charts/" + name + ".toml";
        const ChartSpec spec = load_chart(file).spec;
        std::ifstream in(file);
        std::ostringstream text;
        text << in.rdbuf();
        std::size_t edited = 0;
        for (const survey::ChartValue& value : survey::chart_values(spec)) {
            if (value.said && value.value) {
                CAPTURE(name, value.path);
                CHECK(
                    parse_chart(edit_chart_text(text.str(), name, {{value.path, *value.value}}), name).spec ==
                    spec);
                ++edited;
            }
        }
        CHECK(edited > 20);
    }
}

TEST_CASE("two runs are compared visit by visit") {
    const ChartSpec before = bearer();
    ChartSpec after = before;
    after.meters[0].capacity = 80.0;
    const Chart a = compile(before), b = compile(after);
    DrillSpec drill;
    drill.name = "once";
    drill.seconds = 12.0;
    StepSpec step;
    step.at = 1.0;
    step.hold = {"sprint"};
    step.move = Move{1.0, 0.0};
    StepSpec stop;
    stop.at = 9.0;
    stop.release = {"sprint"};
    drill.steps = {step, stop};
    const std::vector<double> ends = survey::even_ticks(60.0, Seconds{12.0});
    const survey::Run one = survey::run(a, Drill(drill, a), ends),
                      two = survey::run(b, Drill(drill, b), ends);
    CHECK(survey::compare_runs(a, one, a, one).empty());
    const std::vector<survey::RunChange> changes = survey::compare_runs(a, one, b, two);
    REQUIRE(changes.size() >= 2);
    CHECK(changes[0].state == "sprint");
    CHECK(changes[0].kind == survey::RunChangeKind::moved);
    CHECK(changes[0].seconds_before == Approx(8.0));
    CHECK(changes[0].seconds_after == Approx(80.0 / 12.0));
}

TEST_CASE("two tick rates are compared by states, times and the place at the end") {
    const Chart chart = compile(bearer());
    DrillSpec spec;
    spec.name = "once";
    spec.seconds = 4.0;
    StepSpec step;
    step.at = 1.0;
    step.hold = {"sprint"};
    step.move = Move{1.0, 0.0};
    spec.steps = {step};
    const auto at = [&](double rate) {
        return survey::run(chart, Drill(spec, chart), survey::even_ticks(rate, Seconds{4.0}));
    };
    const survey::Run one = at(37.0);
    survey::Run other = at(60.0);
    CHECK(survey::states_digest(chart, one) == survey::states_digest(chart, other));
    CHECK_FALSE(survey::rate_gap(chart, one, other).first);
    CHECK(survey::rate_gap(chart, one, other).seconds < 1e-12);
    CHECK(survey::rate_gap(chart, one, other).metres < 1e-9);

    other.visits[1].at += 0.25;
    CHECK(survey::rate_gap(chart, one, other).seconds == Approx(0.25));
    other.visits[1].cause = {};
    CHECK(survey::rate_gap(chart, one, other).first == std::size_t{1});
    CHECK(survey::rate_gap(chart, one, other).seconds == 0.0);  // counts up to there
    CHECK(survey::states_digest(chart, one) != survey::states_digest(chart, other));
    other.visits.pop_back();
    CHECK(survey::rate_gap(chart, one, other).first == std::size_t{1});
    CHECK(survey::rate_gap(chart, other, one).first == std::size_t{1});
    CHECK(survey::rate_gap(chart, one, at(60.0)).metres < 1e-9);
    survey::Run short_run = survey::run(chart, Drill(spec, chart), survey::even_ticks(60.0, Seconds{3.0}));
    CHECK(survey::rate_gap(chart, one, short_run).metres == Approx(6.5));
}
