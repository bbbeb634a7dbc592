#include <catch2/catch.hpp>
#include <cursimeter/chartfile/chart_file.hpp>
#include <cursimeter/survey/figures.hpp>
#include <cursimeter/survey/run.hpp>
#include <cursimeter/survey/values.hpp>

#include "support/bearer.hpp"
#include "support/demo.hpp"
#include "support/leaper_chart.hpp"

using namespace support;
using survey::figure;

namespace {

double value(const ChartSpec& spec, const std::string& name) {
    return figure(spec, name).value;
}

/// A drill of holds and moves: {time, keys held from then on, move}.
struct Do {
    double at;
    std::vector<std::string> hold, release;
    Move move;
};
survey::Run play(const ChartSpec& spec, double seconds, const std::vector<Do>& steps) {
    DrillSpec drill;
    drill.name = "made for it";
    drill.seconds = seconds;
    for (const Do& step : steps) {
        StepSpec made;
        made.at = step.at;
        made.hold = step.hold;
        made.release = step.release;
        made.move = step.move;
        drill.steps.push_back(made);
    }
    const Chart chart = compile(spec);
    return survey::run(chart, Drill(drill, chart), survey::even_ticks(60.0, Seconds{seconds}));
}
const survey::Visit& visit(const survey::Run& run, const Chart& chart, const std::string& state) {
    for (const survey::Visit& visit : run.visits) {
        if (chart.name(visit.state) == state) {
            return visit;
        }
    }
    throw std::runtime_error("never in " + state);
}

}  // namespace

TEST_CASE("speeding up, stopping and turning by a ramp are v / a and v^2 / 2a") {
    const ChartSpec spec = walker({.forward = 6.0, .side = 4.0, .back = 3.0}, ramp(12.0, 15.0, 10.0));
    CHECK(value(spec, "walk.top_forward") == 6.0);
    CHECK(value(spec, "walk.top_side") == 4.0);
    CHECK(value(spec, "walk.top_back") == 3.0);
    CHECK(value(spec, "walk.up_time") == Approx(0.5).epsilon(1e-9));
    CHECK(value(spec, "walk.up_distance") == Approx(1.5).epsilon(1e-9));
    CHECK(value(spec, "walk.stop_time") == Approx(0.6).epsilon(1e-9));
    CHECK(value(spec, "walk.stop_distance") == Approx(1.8).epsilon(1e-9));
    CHECK(value(spec, "walk.turn_time") == Approx(0.4 + 0.5).epsilon(1e-9));
    CHECK(value(spec, "walk.turn_overshoot") == Approx(1.2).epsilon(1e-9));
}

TEST_CASE("by the instant law everything is at once") {
    const ChartSpec spec = walker({.forward = 6.0, .side = {}, .back = {}});
    for (const char* name : {"walk.up_time", "walk.stop_distance", "walk.turn_time", "walk.turn_overshoot"}) {
        CHECK(value(spec, name) == 0.0);
    }
}

TEST_CASE("who turns at once turns in no time, and speeds up and stops as the law says") {
    for (const GainSpec& law : {ramp(12.0, 15.0, 10.0), ease(0.2, 0.1, 0.15),
                                curve({{0.0, 0.0}, {0.5, 0.5}, {1.5, 1.0}}, {{0.0, 1.0}, {0.8, 0.0}})}) {
        const ChartSpec arc = walker({.forward = 6.0, .side = {}, .back = {}}, law);
        const ChartSpec spec = walker({.forward = 6.0, .side = {}, .back = {}}, at_once(law));
        for (const char* name : {"walk.turn_time", "walk.turn_overshoot"}) {
            CHECK(value(spec, name) == 0.0);
            CHECK(figure(spec, name).how == "closed form: at once");
        }
        for (const char* name :
             {"walk.up_time", "walk.up_distance", "walk.stop_time", "walk.stop_distance"}) {
            CHECK(value(spec, name) == value(arc, name));
            CHECK(figure(spec, name).how == figure(arc, name).how);
        }
        const Chart chart = compile(spec);
        Runner turning = spawn(chart);
        pass(chart, turning, {1.0, 0.0}, 10.0);
        const double from = turning.position().x;
        static_cast<void>(tick(chart, turning, {1.0, 0.0}, {}, 0.01, 3.141592653589793));
        CHECK(turning.velocity().x == Approx(-6.0).epsilon(1e-7));
        CHECK(turning.position().x - from == Approx(-0.06).epsilon(1e-7));
    }
}

TEST_CASE("the closed forms of an ease agree with runs of it") {
    const ChartSpec spec = walker({.forward = 5.0, .side = {}, .back = {}}, ease(0.2, 0.1, 0.15));
    const Chart chart = compile(spec);
    Runner runner = spawn(chart);
    pass(chart, runner, {1.0, 0.0}, value(spec, "walk.up_time"));
    CHECK(runner.speed() == Approx(0.99 * 5.0).epsilon(1e-6));
    CHECK(runner.distance() == Approx(value(spec, "walk.up_distance")).epsilon(1e-6));
    pass(chart, runner, {1.0, 0.0}, 20.0);
    const double walked = runner.distance();
    pass(chart, runner, {}, value(spec, "walk.stop_time"));
    CHECK(runner.speed() == Approx(0.01 * 5.0).epsilon(1e-6));
    CHECK(runner.distance() - walked == Approx(value(spec, "walk.stop_distance")).epsilon(1e-6));

    Runner turning = spawn(chart);
    pass(chart, turning, {1.0, 0.0}, 20.0);
    const double from = turning.position().x;
    double farthest = from;
    for (double t = 0.0; t < value(spec, "walk.turn_time") - 1e-9; t += 1e-3) {
        static_cast<void>(tick(chart, turning, {1.0, 0.0}, {},
                               std::min(1e-3, value(spec, "walk.turn_time") - t), 3.141592653589793));
        farthest = std::max(farthest, turning.position().x);
    }
    CHECK(turning.velocity().x == Approx(-0.99 * 5.0).epsilon(1e-6));
    CHECK(farthest - from == Approx(value(spec, "walk.turn_overshoot")).epsilon(1e-3));
}

TEST_CASE("figures of a curve are its key points, and its area the way") {
    const ChartSpec spec = walker({.forward = 4.0, .side = {}, .back = {}},
                                  curve({{0.0, 0.0}, {0.5, 0.5}, {1.5, 1.0}}, {{0.0, 1.0}, {0.8, 0.0}}));
    CHECK(value(spec, "walk.up_time") == Approx(1.5).epsilon(1e-6));
    CHECK(value(spec, "walk.up_distance") == Approx(4.0 * (0.5 * 0.5 * 0.5 + 0.75 * 1.0)).epsilon(1e-6));
    CHECK(value(spec, "walk.stop_time") == Approx(0.8).epsilon(1e-6));
    CHECK(value(spec, "walk.stop_distance") == Approx(4.0 * 0.4).epsilon(1e-6));
    CHECK(value(spec, "walk.turn_time") == Approx(0.8 + 1.5).margin(2e-4));
}

TEST_CASE("what stamina allows agrees with a run of a drill to 1 ms and 1 cm") {
    const ChartSpec spec = bearer(ramp(12.0, 16.0, 10.0));
    const Chart chart = compile(spec);
    const survey::Run run = play(spec, 30.0, {{1.0, {"sprint"}, {}, {1.0, 0.0}}});
    const survey::Visit& sprint = visit(run, chart, "sprint");
    CHECK(value(spec, "sprint.seconds") == Approx(sprint.seconds).margin(1e-3));
    CHECK(value(spec, "sprint.distance") == Approx(sprint.distance).margin(1e-2));
    REQUIRE(run.visits.size() >= 4);
    CHECK(value(spec, "sprint.again") == Approx(run.visits[2].seconds).margin(1e-3));
    CHECK(value(spec, "sprint.cycle") == Approx(sprint.seconds + run.visits[2].seconds).margin(2e-3));
    // The wait, then 30 of 18 a second; to the full 100 likewise.
    CHECK(value(spec, "stamina.recover") == Approx(0.7 + 30.0 / 18.0).epsilon(1e-12));
    CHECK(value(spec, "stamina.fill") == Approx(0.7 + 100.0 / 18.0).epsilon(1e-12));
    // Held all the time the rhythm is what the latch makes it; the best is no worse.
    CHECK(value(spec, "sprint.best_average") >= value(spec, "sprint.average"));
    CHECK(value(spec, "sprint.average") > 2.4);
    CHECK(value(spec, "sprint.best_average") < 6.5);
}

TEST_CASE("jumps: height as charted, air time and length by gravity and speed") {
    const ChartSpec spec = demo_chart("bearer").spec;
    const double up = std::sqrt(2.0 * 18.0 * 1.3) / 18.0, down = std::sqrt(2.0 * 1.3 / 26.0);
    CHECK(value(spec, "jump.height") == 1.3);
    CHECK(value(spec, "jump.air_time") == Approx(up + down).epsilon(1e-6));
    CHECK(value(spec, "jump.length_from_sprint") == Approx(6.5 * (up + down)).epsilon(1e-6));
    // Steered by 10 m/s^2 up to 4 m/s, which takes 0.4 s.
    CHECK(value(spec, "jump.length_from_standing") ==
          Approx(0.5 * 10.0 * 0.16 + 4.0 * (up + down - 0.4)).epsilon(1e-6));

    const Chart chart = compile(spec);
    const survey::Run run =
        play(spec, 8.0, {{0.5, {"sprint"}, {}, {1.0, 0.0}}, {4.0, {"jump"}, {}, {1.0, 0.0}}});
    double jumped = 0.0, landed = 0.0;
    for (const survey::TimedEvent& event : run.events) {
        jumped = event.event.kind == EventKind::jumped ? event.at : jumped;
        landed = event.event.kind == EventKind::landed ? event.at : landed;
    }
    CHECK(landed - jumped == Approx(value(spec, "jump.air_time")).margin(1e-3));
}

TEST_CASE("dashes, slides, glides and wall runs") {
    const ChartSpec bearer = demo_chart("bearer").spec;
    CHECK(value(bearer, "dash.length") == Approx(3.0).epsilon(1e-9));
    CHECK(value(bearer, "dash.seconds") == 0.2);
    CHECK(value(bearer, "dash.per_minute") == 20.0);  // one every 3 s, from the first press on
    // In at 6.5 m/s, boosted to 8, braked by 5 m/s^2, out at 2: (64 - 4) / 10.
    CHECK(value(bearer, "slide.length") == Approx(6.0).epsilon(1e-6));
    CHECK(value(bearer, "slide.length_down_10") > value(bearer, "slide.length"));
    CHECK(value(bearer, "slide.length_up_10") < value(bearer, "slide.length"));
    CHECK(value(bearer, "wallrun.seconds") == Approx(1.4).margin(2e-3));
    CHECK(value(bearer, "wallrun.length") == Approx(6.0 * 1.4).margin(0.1));
    CHECK(value(bearer, "wallrun.highest") > value(bearer, "jump.height"));
    CHECK(value(demo_chart("gannet").spec, "glide.ratio") == Approx(7.5 / 1.2).epsilon(1e-12));
    const survey::Figure endless = figure(demo_chart("eel").spec, "slide.length_down_10");
    CHECK(std::isnan(endless.value));  // gravity outweighs its friction there
    CHECK(endless.how == "it does not end by itself");
}

TEST_CASE("a dash and a slide of a drill are what the sheet says, to 1 ms and 1 cm") {
    const ChartSpec spec = demo_chart("bearer").spec;
    const Chart chart = compile(spec);
    const survey::Run dashed = play(spec, 3.0, {{0.5, {}, {}, {1.0, 0.0}}, {1.5, {"dash"}, {}, {1.0, 0.0}}});
    const survey::Visit& dash = visit(dashed, chart, "dash");
    CHECK(dash.seconds == Approx(value(spec, "dash.seconds")).margin(1e-3));
    CHECK(dash.distance == Approx(value(spec, "dash.length")).margin(1e-2));
    const survey::Run slid =
        play(spec, 8.0, {{0.5, {"sprint"}, {}, {1.0, 0.0}}, {4.0, {"crouch"}, {}, {1.0, 0.0}}});
    CHECK(visit(slid, chart, "slide").distance == Approx(value(spec, "slide.length")).margin(1e-2));
}

TEST_CASE("a meter that another scales is timed by running it") {
    const ChartSpec spec = demo_chart("keeper").spec;
    CHECK(value(spec, "stamina.recover") == Approx(0.7 + 30.0 / 18.0).epsilon(1e-6));  // well fed
    const survey::Figure row = figure(spec, "row.seconds");
    CHECK(row.value > 0.0);
}

TEST_CASE("each figure alone is what the sheet says, and no sheet lists one twice", "[long]") {
    for (const char* name : {"bearer", "gannet", "eel"}) {
        const ChartSpec spec = demo_chart(name).spec;
        const std::vector<survey::Figure> all = survey::figures(spec);
        CHECK(all.size() > 20);
        std::vector<std::string> names;
        for (const survey::Figure& one : all) {
            CAPTURE(one.name);
            CHECK_FALSE(one.how.empty());
            CHECK_FALSE(one.meaning.empty());
            CHECK(std::count(names.begin(), names.end(), one.name) == 0);
            names.push_back(one.name);
            if (one.how.find("closed form") == 0) {
                CHECK(figure(spec, one.name).value == one.value);
            }
        }
        CHECK(names == survey::figure_names(spec));
    }
}

TEST_CASE("a figure that the chart has not is named with the nearest") {
    const ChartSpec spec = bearer();
    CHECK(complaint([&] { static_cast<void>(figure(spec, "sprint.distence")); }) ==
          "sprint.distence: is no figure of this chart; did you mean 'sprint.distance'?");
    ChartSpec broken = bearer();
    broken.rank.clear();
    CHECK_THROWS_AS(survey::figures(broken), ChartError);
}

TEST_CASE("a course adds the length of its legs") {
    CourseSpec course;
    course.name = "quay";
    course.legs = {{"The Quay", {{0, -1, 0}, {0, 1, 0}}, {{24, -1, 0}, {24, 1, 0}}}};
    const Course laid(course);
    const ChartSpec spec = bearer();
    CHECK(figure(spec, "course.the_quay.length", &laid).value == Approx(24.0));
    CHECK(figure(spec, "course.the_quay.walk_seconds", &laid).value == Approx(10.0));
}

TEST_CASE("numbers of a chart are read and turned by their paths") {
    ChartSpec spec = demo_chart("bearer").spec;
    CHECK(survey::chart_value(spec, "states.sprint.speed.forward").value == 6.5);
    CHECK(survey::chart_value(spec, "states.sprint.speed.forward").unit == "m/s");
    CHECK(survey::chart_value(spec, "states.sprint.speed.side").value == 2.1);  // by `like`
    CHECK_FALSE(survey::chart_value(spec, "states.sprint.speed.side").said);
    CHECK(survey::chart_value(spec, "states.jump.launch.heights[1]").value == 1.3);
    CHECK(survey::chart_value(spec, "states.sprint.gain.up_curve[2][1]").value == 0.25);
    CHECK(survey::chart_value(spec, "states.sprint.drain.stamina").value == 12.0);
    CHECK(survey::chart_value(spec, "meters.stamina.spent.until").value == 30.0);
    CHECK(survey::chart_value(spec, "body.slope_limit").value == 50.0);

    survey::set_chart_value(spec, "states.leap.air.steer", 3.0);  // takes the rest over still
    CHECK(survey::chart_value(spec, "states.leap.air.steer").value == 3.0);
    CHECK(survey::chart_value(spec, "states.leap.air.fall_gravity").value == 26.0);
    static_cast<void>(compile(spec));
    CHECK(complaint([&] { survey::set_chart_value(spec, "states.walk.speed.forwrd", 1.0); }) ==
          "states.walk.speed.forwrd: is no number of this chart; did you mean 'states.walk.speed.forward'?");
    // A part of a path is told with the paths that have it.
    const auto mend = [&](const char* path) {
        const std::string told = complaint([&] { survey::set_chart_value(spec, path, 1.0); });
        const std::string before = std::string(path) + ": is no number of this chart; ";
        REQUIRE(told.starts_with(before));
        return told.substr(before.size());
    };
    CHECK(mend("walk.speed") ==
          "did you mean one of states.walk.speed.forward, states.walk.speed.side, states.walk.speed.back?");
    CHECK(mend("states.walk.speed") == mend("walk.speed"));
    CHECK(mend("slope_limit") == "did you mean 'body.slope_limit'?");
    CHECK(mend("states").ends_with(" and so on?"));
    CHECK(mend("alk.spee") == "name one as the chart writes it, such as states.walk.speed.forward");
    const ChartSpec before = spec;
    CHECK(complaint([&] {
              survey::set_chart_value(spec, "states.walk.speed.forward", -1.0);
          }).find("-1 is out of range") != std::string::npos);
    CHECK(complaint([&] {
              survey::set_chart_value(spec, "states.walk.speed.forward", std::nan(""));
          }).find("out of range") != std::string::npos);
    CHECK(spec == before);
}

TEST_CASE("saying every number again changes nothing") {
    for (const char* name : {"bearer", "gannet", "eel", "keeper"}) {
        const ChartSpec spec = demo_chart(name).spec;
        ChartSpec again = spec;
        std::size_t said = 0;
        for (const survey::ChartValue& one : survey::chart_values(spec)) {
            if (one.said && one.value) {
                survey::set_chart_value(again, one.path, *one.value);
                ++said;
            }
        }
        CHECK(said > 20);
        CHECK(again == spec);
    }
}

TEST_CASE("modifiers that hold while they, or one another, are active do not lead round and round") {
    const auto with = [](const std::string& modifiers) {
        return parse_chart(
                   "format = 1\nname = \"keen\"\nrank = [\"sprint\", \"walk\"]\n[actions]\nsprint = {}\n" +
                       modifiers +
                       "[states.walk]\nkind = \"ground\"\nspeed = { forward = 2 }\n"
                       "[states.sprint]\nlike = \"walk\"\nspeed = { forward = 5 }\n"
                       "enter = [\"sprint on\", \"keen active\"]\n",
                   "keen.toml")
            .spec;
    };
    const std::string affects = "affects = [{ what = \"speed\", times = 1.5 }]\n";
    const ChartSpec itself = with("[modifiers.keen]\nwhile = [\"keen active\"]\n" + affects);
    const ChartSpec each_other =
        with("[modifiers.keen]\nwhile = [\"eager active\"]\n" + affects +
             "[modifiers.eager]\nwhile = [\"keen active\", \"sprint on\"]\n" + affects);
    for (const ChartSpec& spec : {itself, each_other}) {
        CHECK(value(spec, "walk.top_forward") == Approx(2.0));
        CHECK(survey::figures(spec).size() > 8);
    }
}
