#include <algorithm>
#include <catch2/catch.hpp>
#include <cursimeter/chartfile/chart_file.hpp>
#include <cursimeter/chartfile/drill_file.hpp>

#include "support/demo.hpp"
#include "support/random_drill.hpp"
#include "support/same_run.hpp"

using namespace support;

namespace {

survey::Run demo_run(const Chart& chart, const Drill& drill, double rate) {
    return survey::run(chart, drill, survey::even_ticks(rate, drill.length()), false);
}

}  // namespace

TEST_CASE("the demo drill is one run at every rate and at random tick lengths") {
    const Chart chart = demo_chart("bearer").chart;
    const Drill drill = load_drill(demo_folder + "drills/quay_boards.toml", chart).drill;
    const survey::Run base = demo_run(chart, drill, 1000.0);
    CHECK(base.events_lost == 0);
    CHECK(base.ticks_capped == 0);
    for (const double rate : {20.0, 30.0, 60.0, 144.0, 240.0}) {
        CAPTURE(rate);
        check_same_run(chart, base, demo_run(chart, drill, rate));
    }
    std::mt19937 random(1);
    for (int round = 0; round < 20; ++round) {
        check_same_run(chart, base, survey::run(chart, drill, random_ticks(random, 60.0), false));
    }
}

TEST_CASE("the keeper's rounds are one run at every rate and at random tick lengths") {
    const Chart chart = demo_chart("keeper").chart;
    const Drill drill = load_drill(demo_folder + "drills/keeper_rounds.toml", chart).drill;
    const survey::Run base = demo_run(chart, drill, 1000.0);
    for (const EventKind kind : {EventKind::began, EventKind::stacked, EventKind::ended, EventKind::refused,
                                 EventKind::crossed, EventKind::ready, EventKind::footstep}) {
        CAPTURE(to_string(kind));
        CHECK(std::any_of(base.events.begin(), base.events.end(),
                          [&](const survey::TimedEvent& event) { return event.event.kind == kind; }));
    }
    for (const double rate : {20.0, 30.0, 60.0, 144.0, 240.0}) {
        CAPTURE(rate);
        check_same_run(chart, base, demo_run(chart, drill, rate));
    }
    std::mt19937 random(2);
    for (int round = 0; round < 20; ++round) {
        check_same_run(chart, base, survey::run(chart, drill, random_ticks(random, 40.0), false));
    }
}

TEST_CASE("the demo run's story, by hand") {
    const Chart chart = demo_chart("bearer").chart;
    const Drill drill = load_drill(demo_folder + "drills/quay_boards.toml", chart).drill;
    const survey::Run run = demo_run(chart, drill, 60.0);
    std::vector<std::pair<double, std::string>> meter_events;
    for (const survey::TimedEvent& event : run.events) {
        const EventKind kind = event.event.kind;
        if (kind == EventKind::emptied || kind == EventKind::recovered || kind == EventKind::filled) {
            meter_events.emplace_back(event.at, to_string(kind));
        }
    }
    REQUIRE(meter_events.size() == 6);
    // At 9 s from 1.6 m/s backward: braking by the curve reversed from 0.32 of full speed takes some
    // time; below 0.1 m/s on either side of standing nothing drains.
    const double first = meter_events[0].first;
    CHECK(first > 9.0 + 100.0 / 12.0);
    CHECK(first < 9.1 + 100.0 / 12.0);
    CHECK(near(meter_events[1].first - first, 0.7 + 30.0 / 18.0, 3e-7));
    CHECK(near(meter_events[2].first - meter_events[1].first, 30.0 / 12.0, 1e-9));
    // Released at 25 s; from then on wait and refill.
    const double left = 30.0 - 12.0 * (25.0 - meter_events[3].first);
    CHECK(near(meter_events[4].first, 25.0 + 0.7 + (100.0 - left) / 18.0, 3e-7));
    // The hammering: 200 presses of 10 ms at 12 per second.
    CHECK(near(meter_events[5].first, 41.99 + 0.7 + 200 * 0.01 * 12.0 / 18.0, 1e-6));
    CHECK(run.visits.size() == 411);
    CHECK(run.lowest[0] == 0.0);
}

TEST_CASE("the demo run's digest is pinned: it changes only when the run or the digest does") {
    const Chart chart = demo_chart("bearer").chart;
    const Drill drill = load_drill(demo_folder + "drills/quay_boards.toml", chart).drill;
    CHECK(demo_run(chart, drill, 60.0).digest == 0x8a2bf42dd54c06cfU);
}
