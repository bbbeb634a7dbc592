#include <algorithm>
#include <catch2/catch.hpp>
#include <cmath>
#include <cursimeter/survey/sweep.hpp>
#include <cursimeter/survey/values.hpp>
#include <random>
#include <set>

#include "support/bearer.hpp"
#include "support/demo.hpp"

using namespace support;

/// Values turned over ranges and samples, and what becomes of figures.

TEST_CASE("a value at which the chart cannot be is a row with its trouble") {
    const ChartSpec spec = demo_chart("bearer").spec;
    survey::SweepPlan plan;
    plan.axes = {survey::read_axis("meters.stamina.spent.until=90:110:20", spec)};
    plan.figures = {"stamina.recover"};
    const std::vector<survey::SweepRow> rows = survey::sweep(spec, plan);
    REQUIRE(rows.size() == 2);
    CHECK(rows[0].trouble.empty());
    CHECK(rows[0].values[0] == Approx(0.7 + 90.0 / 18.0));
    CHECK(rows[1].trouble.find("110 is above the capacity 100") != std::string::npos);
    CHECK(std::isnan(rows[1].values[0]));
}

TEST_CASE("axes count in tenths without drifting, and nonsense is refused") {
    const ChartSpec spec = demo_chart("bearer").spec;
    const survey::SweepAxis axis = survey::read_axis("states.sprint.speed.forward=5:6:0.1", spec);
    REQUIRE(axis.count() == 11);
    CHECK(axis.at(3) == 5.3);
    CHECK(axis.at(10) == 6.0);
    const survey::SweepAxis drain = survey::read_axis("states.sprint.drain.stamina=12:18:1", spec);
    for (std::size_t i = 0; i < drain.count(); ++i) {
        CHECK(drain.at(i) == 12.0 + static_cast<double>(i));
    }
    for (const char* text : {"states.sprint.speed.forward", "states.sprint.speed.forward=5:6:0",
                             "states.sprint.speed.forward=6:5:1", "states.sprint.speed.forward=5:x:1",
                             "states.sprint.speed.forward=0:100:0.001", "speed=1:2:1"}) {
        CHECK_THROWS_AS(survey::read_axis(text, spec), ChartError);
    }
    survey::SweepPlan plan;
    CHECK_THROWS_AS(survey::sweep(spec, plan), ChartError);
    plan.axes = {axis};
    plan.figures = {"sprint.reach"};
    CHECK_THROWS_AS(survey::sweep(spec, plan), ChartError);
}

TEST_CASE("a sweep turns any number of values, the last quickest") {
    const ChartSpec spec = demo_chart("bearer").spec;
    survey::SweepPlan plan;
    plan.axes = {survey::read_axis("states.sprint.speed.forward=6:7:1", spec),
                 survey::read_axis("states.sprint.drain.stamina=10:20:5", spec),
                 survey::read_axis("meters.stamina.refill.rate=10:20:10", spec)};
    plan.figures = {"sprint.seconds"};
    const std::vector<survey::SweepRow> rows = survey::sweep(spec, plan);
    REQUIRE(rows.size() == 12);
    CHECK(rows[0].at == std::vector<double>{6.0, 10.0, 10.0});
    CHECK(rows[1].at == std::vector<double>{6.0, 10.0, 20.0});
    CHECK(rows[2].at == std::vector<double>{6.0, 15.0, 10.0});
    CHECK(rows[11].at == std::vector<double>{7.0, 20.0, 20.0});
    for (const survey::SweepRow& row : rows) {  // 100 units at so many a second, and a moment until it drains
        CHECK(row.values[0] == Approx(100.0 / row.at[1]).margin(0.25));
    }
}

TEST_CASE("a sample takes each slot of each range once, and a seed gives it again") {
    const ChartSpec spec = demo_chart("bearer").spec;
    survey::SweepPlan plan;
    plan.axes = {survey::read_axis("states.sprint.speed.forward=5:9", spec),
                 survey::read_axis("states.jump.launch.heights[1]=0.5:1.5", spec),
                 survey::read_axis("states.sprint.drain.stamina=10:20:5", spec)};
    plan.figures = {"jump.height"};
    plan.sample = 40;
    const std::vector<survey::SweepRow> rows = survey::sweep(spec, plan);
    REQUIRE(rows.size() == 40);
    for (std::size_t axis = 0; axis < 2; ++axis) {
        std::set<int> slots;
        for (const survey::SweepRow& row : rows) {
            const survey::SweepAxis& range = plan.axes[axis];
            slots.insert(static_cast<int>(40.0 * (row.at[axis] - range.from) / (range.to - range.from)));
        }
        CHECK(slots.size() == 40);
    }
    for (const survey::SweepRow& row : rows) {
        CHECK((row.at[2] == 10.0 || row.at[2] == 15.0 || row.at[2] == 20.0));
        CHECK(row.values[0] == Approx(row.at[1]));
    }
    const std::vector<survey::SweepRow> again = survey::sweep(spec, plan);
    CHECK(std::equal(rows.begin(), rows.end(), again.begin(),
                     [](const survey::SweepRow& a, const survey::SweepRow& b) { return a.at == b.at; }));
    plan.seed = 2;
    CHECK(survey::sweep(spec, plan)[0].at != rows[0].at);

    // A jump's height is its own value, and nothing else moves it.
    const std::vector<survey::Sensitivity> found = survey::sensitivities(plan, rows);
    REQUIRE(found.size() == 3);
    CHECK(found[0].axis == 1);
    CHECK(found[0].change == Approx(1.0));
    CHECK(found[0].part == Approx(1.0).margin(1e-6));
    CHECK(std::fabs(found[1].change) < 1e-9);
}

TEST_CASE("a value that the chart does not say, one named twice, or one without a step is refused") {
    const ChartSpec spec = demo_chart("bearer").spec;
    const auto refusal = [&](std::initializer_list<const char*> texts,
                             std::optional<std::size_t> sample = {}) {
        survey::SweepPlan plan;
        for (const char* text : texts) {
            plan.axes.push_back(survey::read_axis(text, spec));
        }
        plan.figures = {"sprint.seconds"};
        plan.sample = sample;
        return complaint([&] { static_cast<void>(survey::sweep(spec, plan)); });
    };
    CHECK(
        refusal({"states.walk.slide.friction=1:2:1"}) ==
        "states.walk.slide.friction: is not said by the chart, so it may be that nothing reads it; say it in "
        "the chart first");
    CHECK(refusal({"states.sprint.speed.forward=5:6:1", "states.sprint.speed.forward=5:6:1"}) ==
          "states.sprint.speed.forward: is turned twice; name each value once");
    CHECK(refusal({"states.sprint.speed.forward=5:6"}) ==
          "states.sprint.speed.forward: has no step; write PATH=FROM:TO:STEP, or take a sample");
    CHECK(refusal({"states.sprint.speed.forward=5:6:20"}) ==
          "states.sprint.speed.forward: a step of 20 leads beyond 6: only 5 would be tried; the third number "
          "is how far apart "
          "values are, not how many");
    CHECK(refusal({"states.sprint.speed.forward=5:6"}, 1) == "sample: 1 rows; 2 to 1000000 rows");
}

TEST_CASE("the rows that no other beats are those, of random rows too") {
    using survey::Preference;
    std::mt19937 random(3);
    for (int trial = 0; trial < 50; ++trial) {
        std::vector<survey::SweepRow> rows;
        for (int i = 0; i < 40; ++i) {
            survey::SweepRow row;
            row.values = {static_cast<double>(random() % 8), static_cast<double>(random() % 8)};
            if (random() % 10 == 0) {
                row.values[random() % 2] = std::nan("");
            }
            rows.push_back(row);
        }
        for (const bool more : {true, false}) {
            const Preference first{0, more}, second{1, true};
            const auto beats = [&](const survey::SweepRow& a, const survey::SweepRow& b) {
                const double sign = more ? 1.0 : -1.0;
                const double one = sign * (a.values[0] - b.values[0]), other = a.values[1] - b.values[1];
                return one >= 0.0 && other >= 0.0 && (one > 0.0 || other > 0.0);
            };
            const std::vector<std::size_t> best = survey::best_rows(rows, first, second);
            REQUIRE_FALSE(best.empty());
            for (const std::size_t row : best) {
                CHECK(std::none_of(rows.begin(), rows.end(),
                                   [&](const survey::SweepRow& other) { return beats(other, rows[row]); }));
            }
            for (std::size_t i = 0; i < rows.size();
                 ++i) {  // all others are beaten, alike to one, or without a figure
                const bool told = std::find(best.begin(), best.end(), i) != best.end();
                const bool excused =
                    std::isnan(rows[i].values[0] + rows[i].values[1]) ||
                    std::any_of(best.begin(), best.end(), [&](std::size_t row) {
                        return beats(rows[row], rows[i]) || rows[row].values == rows[i].values;
                    });
                CHECK((told || excused));
            }
        }
    }
}
