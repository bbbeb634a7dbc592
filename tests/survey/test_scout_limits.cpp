#include <cursimeter/survey/figures.hpp>

#include "support/share.hpp"
#include "survey/boards.hpp"

using namespace support;
using survey::Scouted;
using survey::ScoutPlan;

TEST_CASE("scout: a gap is crossed if the jump carries over it, and by the jump alone") {
    const Chart chart = chart_of(chart_text());
    const Course narrow(two_boards(2.8));
    ScoutPlan plan = over_the_gap(2.8);
    plan.effort = 0.5;
    const Scouted over = survey::scout(chart, &narrow, plan);
    REQUIRE(over.way);
    CHECK(over.way->missed.empty());
    // 8.8 m less 0.6 m around the goal at 5 m/s; nothing is faster than straight ahead.
    CHECK(over.way->seconds >= 1.64);
    CHECK(over.way->seconds <= 1.80);
    plan.without = {"dash", "jump"};
    CHECK_FALSE(survey::scout(chart, &narrow, plan).way);
}

TEST_CASE("scout: the widest gap that is crossed is the one that the figures tell, to 1 %", "[long]") {
    const ChartFile chart = parse_chart(chart_text(), "scout.toml");
    const double gap = survey::figure(chart.spec, "jump.widest_gap").value;
    CHECK(gap > 3.16);  // the jump, and something of the foot at either edge
    CHECK(gap < 3.16 + 2.0 * 0.35);
    Share share;
    for (const auto& [part, crossed] : {std::pair(0.99, true), {1.01, false}}) {
        if (!share.takes()) {
            continue;
        }
        // The last percent is a matter of a tick or two: a short search finds it with every third seed.
        const Course course(two_boards(part * gap));
        ScoutPlan plan = over_the_gap(part * gap);
        plan.effort = 1.0;
        bool found = false;
        for (plan.seed = 1; plan.seed <= 6 && !found; ++plan.seed) {
            found = survey::scout(chart.chart, &course, plan).way.has_value();
        }
        CAPTURE(gap, part);
        CHECK(found == crossed);
    }
}

TEST_CASE("scout: a ledge is reached up to the height that the figures tell, to 1 cm", "[long]") {
    Share share;
    for (const std::string heights : {"1", "1, 0.5"}) {
        const ChartFile chart = parse_chart(chart_text(heights), "scout.toml");
        const double ledge = survey::figure(chart.spec, "jump.highest_ledge").value;
        for (const auto& [more, reached] : {std::pair(-0.01, true), {0.01, false}}) {
            if (!share.takes()) {
                continue;
            }
            const Course course(two_boards(1.0, ledge + more));
            ScoutPlan plan = over_the_gap(1.0, ledge + more);
            plan.effort = 1.0;
            CAPTURE(heights, ledge, more);
            CHECK(survey::scout(chart.chart, &course, plan).way.has_value() == reached);
        }
    }
}

TEST_CASE("scout: a dash that goes where one looks carries up to what nothing else gets onto") {
    const Chart chart = chart_of(looking_chart_text());
    // 3.6 m by the dash, straight up, and 1 m by the jump before it.
    const Course course(two_boards(1.0, 3.0));
    ScoutPlan plan = over_the_gap(1.0, 3.0);
    plan.without.clear();
    CHECK(survey::scout(chart, &course, plan).way);
    plan.without = {"dash"};
    CHECK_FALSE(survey::scout(chart, &course, plan).way);
}

// Two presses at the right moments, each to a few ticks, are what the search finds last: of the widest gap all but 6 %.
TEST_CASE("scout: with a dash and beside a wall it gets nearly as far and high as the figures tell, no more",
          "[long]") {
    struct Limit {
        const char* name;
        std::string chart;
        double less, more;  ///< m than the figure says: what is reached, and what is not
        std::function<CourseSpec(double)> course;
        std::function<ScoutPlan(double)> plan;
    };
    const auto flat = [](double gap) { return over_the_gap(gap); };
    const auto high = [](double rise) { return over_the_gap(0.0, rise); };
    const Limit limits[] = {
        {"dash.widest_gap", chart_text(), 0.42, 0.08, [](double gap) { return two_boards(gap); }, flat},
        {"dash.highest_ledge", looking_chart_text(), 0.03, 0.02,
         [](double rise) { return two_boards(0.0, rise); }, high},
        {"wallrun.highest_ledge", wall_chart_text(), 0.2, 0.02,
         [](double rise) { return beside_a_wall(0.0, rise); }, high},
    };
    Share share;
    for (const Limit& limit : limits) {
        const ChartFile chart = parse_chart(limit.chart, "scout.toml");
        const double figure = survey::figure(chart.spec, limit.name).value;
        for (const auto& [more, reached] : {std::pair(-limit.less, true), {limit.more, false}}) {
            if (!share.takes()) {
                continue;
            }
            const double asked = figure + more;
            const Course course(limit.course(asked));
            ScoutPlan plan = limit.plan(asked);
            if (limit.name != std::string("wallrun.highest_ledge")) {
                plan.without.clear();
            }
            plan.effort = 5.0;
            CAPTURE(limit.name, figure, asked);
            CHECK(survey::scout(chart.chart, &course, plan).way.has_value() == reached);
        }
    }
}

TEST_CASE("scout: on open ground it finds what is faster than going on foot") {
    const Chart chart = chart_of(chart_text());
    ScoutPlan plan = plan_for(0.5);
    plan.start = {};
    plan.seconds = 30.0;
    plan.distance = 50.0;
    // 3.6 m in 0.3 s, then 5 m/s until the second is over: 7.1 m a second at best.
    const Scouted dashing = survey::scout(chart, nullptr, plan);
    REQUIRE(dashing.way);
    CHECK(dashing.way->seconds > 50.0 / 7.1 - 0.6);
    CHECK(dashing.way->seconds < 8.0);
    plan.on_foot = true;
    const Scouted walking = survey::scout(chart, nullptr, plan);
    REQUIRE(walking.way);
    CHECK(walking.way->seconds == Approx(10.0).margin(0.05));
}

TEST_CASE("figures: gaps from centimetres to most of 200 m are told") {
    // 0.632 s in the air, and more by the round foot: it slips off the near edge, and touches the far one up to 0.35 m below.
    for (const auto& [speed, least, most] :
         {std::tuple("0.2", 0.126, 1.5), {"5", 3.16, 3.87}, {"250", 158.0, 175.0}}) {
        std::string text = chart_text();
        for (std::size_t at = 0; (at = text.find("forward = 5", at)) != std::string::npos; ++at) {
            text.replace(at, 11, "forward = " + std::string(speed));
        }
        CAPTURE(speed);
        const double gap = survey::figure(parse_chart(text, "scout.toml").spec, "jump.widest_gap").value;
        CHECK(gap > least);
        CHECK(gap < most);
    }
}

TEST_CASE("figures: a jump so late that the body has sunk beside the far edge clears no gap") {
    // In 0.3 s of coyote time it falls by 0.9 m, deeper than the body is wide: in a narrow gap solids leave it no room there.
    std::string text = chart_text();
    const double at_once = survey::figure(parse_chart(text, "scout.toml").spec, "jump.widest_gap").value;
    text.replace(text.find("[body]"), 6, "[body]\ncoyote = 0.3");
    const double late = survey::figure(parse_chart(text, "scout.toml").spec, "jump.widest_gap").value;
    CHECK(late > at_once + 0.3);
    CHECK(late < at_once + 5.0 * 0.3);
}
