#include <catch2/catch.hpp>
#include <cmath>
#include <cursimeter/crowd.hpp>
#include <cursimeter/reload.hpp>
#include <limits>

#include "core/crowd/crowd_hands.hpp"
#include "support/all_ways.hpp"
#include "support/counting_new.hpp"

using namespace support;

TEST_CASE("what a game does to one of a crowd is what it does to a runner") {
    const Chart chart = compile(all_ways());
    Crowd crowd(chart);
    Runner alone = spawn(chart);
    for (int i = 0; i < 5; ++i) {
        crowd.add();
    }
    std::vector<Intent> intents(5);
    for (Intent& intent : intents) {
        intent.move = {1.0, 0.0};
    }
    CrowdReport report;
    const auto tick = [&] {
        advance_all(crowd, intents, Seconds{1.0 / 60.0}, report);
        static_cast<void>(advance(chart, alone, intents[2], Seconds{1.0 / 60.0}));
    };
    for (int i = 0; i < 40; ++i) {
        tick();
    }
    const Push blast{{0.0, 1.0, 0.0}, 6.0, 0.2, 0.3, false, false};
    CHECK(crowd.change(2, [&](Runner& runner) { return push(runner, blast); }));
    CHECK(push(alone, blast));
    for (int i = 0; i < 40; ++i) {
        tick();
        REQUIRE(digest(crowd.runner(2)) == digest(alone));
    }
    CHECK(digest(crowd.runner(1)) != digest(alone));
    crowd.set(4, alone);
    CHECK(digest(crowd.runner(4)) == digest(alone));
    crowd.remove(1);  // the last takes its place
    CHECK(crowd.size() == 4);
    CHECK(digest(crowd.runner(1)) == digest(alone));
    CHECK(digest(crowd.runner(2)) == digest(alone));
    CHECK(crowd.add(crowd.runner(2)) == 4);
    CHECK(digest(crowd.runner(4)) == digest(alone));
    CHECK_THROWS_AS(crowd.remove(5), std::out_of_range);
}

TEST_CASE("a crowd takes no runner of another chart, and does not change then") {
    const Chart chart = compile(all_ways());
    const Chart other = compile(leaper());
    Crowd crowd(chart);
    crowd.add();
    const std::uint64_t before = digest(crowd.runner(0));
    CHECK_THROWS_WITH(
        crowd.add(spawn(other)),
        "runner: belongs to a chart that the crowd does not know; add its chart first: add_chart");
    CHECK_THROWS_AS(crowd.add(other, {}), ChartError);
    CHECK_THROWS_AS(crowd.set(0, spawn(other)), ChartError);
    CHECK_THROWS_AS(crowd.add(Placement{{std::nan(""), 0.0, 0.0}, 0.0}), ChartError);
    CHECK(crowd.size() == 1);
    CHECK(digest(crowd.runner(0)) == before);
}

TEST_CASE("a crowd's charts come and go: a chart is reloaded under the crowd") {
    const Chart chart = compile(all_ways()), other = compile(leaper());
    ChartSpec tuned_spec = all_ways();
    tuned_spec.states[0].speed.forward = *tuned_spec.states[0].speed.forward + 1.0;
    const Chart tuned = compile(tuned_spec);
    Crowd crowd(chart);
    crowd.add_chart(other);
    crowd.add_chart(compile(leaper()));  // the same once more
    REQUIRE(crowd.charts().size() == 2);
    for (int i = 0; i < 6; ++i) {
        i % 2 == 0 ? crowd.add() : crowd.add(other);
    }
    Intent walk;
    walk.move = {1.0, 0.0};
    const std::vector<Intent> intents(6, walk);
    CrowdReport report;
    const auto play = [&] {
        for (int i = 0; i < 60; ++i) {
            advance_all(crowd, intents, Seconds{1.0 / 60.0}, report);
            REQUIRE(report.advanced() == crowd.size());
        }
    };
    play();

    CHECK_FALSE(crowd.remove_chart(chart));  // runners are of it
    CHECK_FALSE(crowd.remove_chart(tuned));  // not the crowd's
    CHECK(crowd.charts().size() == 2);
    crowd.add_chart(tuned);
    std::vector<Runner> alone;
    for (std::size_t i = 0; i < crowd.size(); ++i) {
        if (crowd.chart(i).digest() == chart.digest()) {
            crowd.set(i, carry_over(chart, crowd.runner(i), tuned).runner);
        }
        alone.push_back(crowd.runner(i));
    }
    CHECK(crowd.remove_chart(chart));
    REQUIRE(crowd.charts().size() == 2);
    CHECK(crowd.charts()[0].digest() == other.digest());
    CHECK(crowd.charts()[1].digest() == tuned.digest());
    play();
    for (std::size_t i = 0; i < crowd.size(); ++i) {
        const Chart& of = i % 2 == 0 ? tuned : other;
        CHECK(crowd.chart(i).digest() == of.digest());
        for (int tick = 0; tick < 60; ++tick) {
            static_cast<void>(advance(of, alone[i], walk, Seconds{1.0 / 60.0}));
        }
        CHECK(digest(crowd.runner(i)) == digest(alone[i]));
    }
    // By a game's own change, and by removal, where the last takes the place.
    crowd.change(0, [&](Runner& runner) { runner = spawn(other); });
    CHECK(crowd.chart(0).digest() == other.digest());
    crowd.remove(1);
    CHECK(crowd.chart(1).digest() == other.digest());
    crowd.remove(2);
    CHECK(crowd.chart(2).digest() == tuned.digest());
    play();
    Crowd single(chart);
    CHECK_FALSE(single.remove_chart(chart));
}

TEST_CASE("an intent that means another chart's actions is refused, of runners at rest and on their way") {
    const Chart chart = compile(all_ways()), other = compile(leaper());
    Crowd crowd(chart);
    crowd.add_chart(other);
    crowd.add(chart);
    crowd.add(other);
    std::vector<Intent> intents(2);
    intents[0].naming = chart.naming();
    intents[1].naming = other.naming();
    CrowdReport report;
    for (int i = 0; i < 100; ++i) {  // until both go on as they are
        advance_all(crowd, intents, Seconds{0.01}, report);
        REQUIRE(report.refused() == 0);
    }
    std::swap(intents[0].naming, intents[1].naming);
    advance_all(crowd, intents, Seconds{0.01}, report);
    CHECK(report.refused() == 2);
    CHECK(report.first_refusal() == Refusal::foreign_intent);
}

TEST_CASE("a runner of another chart that a game slips into a crowd is refused in every tick") {
    const Chart chart = compile(all_ways());
    ChartSpec other = all_ways();
    other.states[0].speed.forward = 3.0;
    Crowd crowd(chart);
    crowd.add();
    crowd.add();
    const Chart its_own = compile(other);
    Runner foreign = spawn(its_own);
    Intent walk;
    walk.move = {1.0, 0.0};
    for (int i = 0; i < 100; ++i) {  // at an even speed, with nothing due
        static_cast<void>(advance(its_own, foreign, walk, Seconds{0.01}));
    }
    crowd.change(1, [&](Runner& runner) { runner = foreign; });
    CrowdReport report;
    const std::vector<Intent> intents(2, walk);
    for (int i = 0; i < 5; ++i) {
        advance_all(crowd, intents, Seconds{0.01}, report);
        CHECK(report.advanced() == 1);
        CHECK(report.refused() == 1);
        CHECK(report.first_refused() == 1);
        CHECK(report.first_refusal() == Refusal::foreign_chart);
    }
    CHECK(digest(crowd.runner(1)) == digest(foreign));
}

TEST_CASE("a crowd tells whom it did not move on, and why") {
    const Chart chart = compile(all_ways());
    Crowd crowd(chart);
    for (int i = 0; i < 4; ++i) {
        crowd.add();
    }
    CrowdReport report;
    std::vector<Intent> intents(4);
    const std::uint64_t before = digest(crowd.runner(0));
    for (const double bad : {-1.0, std::nan(""), -std::numeric_limits<double>::infinity()}) {
        advance_all(crowd, intents, Seconds{bad}, report);
        CHECK(report.advanced() == 0);
        CHECK(report.refused() == 4);
        CHECK(report.first_refused() == 0);
        CHECK(report.first_refusal() == Refusal::bad_dt);
        CHECK(digest(crowd.runner(0)) == before);
    }
    intents[2].naming = chart.naming() + 1;
    advance_all(crowd, intents, Seconds{0.01}, report);
    CHECK(report.advanced() == 3);
    CHECK(report.refused() == 1);
    CHECK(report.first_refused() == 2);
    CHECK(report.first_refusal() == Refusal::foreign_intent);
    CHECK(digest(crowd.runner(2)) == before);
    intents[2].naming = chart.naming();
    advance_all(crowd, std::span(intents).first(3), Seconds{1.0}, report);
    CHECK(report.advanced() == 3);
    CHECK(report.dt_shortened());
    CHECK(report.refused() == 1);
    CHECK(report.first_refused() == 3);
    CHECK(report.first_refusal() == Refusal::none);
    // A part may be any, also none, and never leads past the end.
    intents.resize(9);
    advance_part(crowd, 2, intents, Seconds{0.01}, report);
    CHECK(report.advanced() == 2);
    CHECK(report.refused() == 0);
    advance_part(crowd, 40, intents, Seconds{0.01}, report);
    CHECK(report.advanced() == 0);
    advance_all(crowd, {}, Seconds{0.01}, report);
    CHECK(report.refused() == 4);
}

TEST_CASE("events that do not fit into a crowd's report are counted") {
    const Chart chart = compile(all_ways());
    Crowd crowd(chart);
    for (int i = 0; i < 10; ++i) {
        crowd.add();
    }
    std::vector<Intent> intents(10);
    for (Intent& intent : intents) {
        intent.hold(chart.action("jump"));
    }
    Crowd twin = crowd;
    CrowdReport all, few(7), none(0);
    advance_all(crowd, intents, Seconds{0.01}, all);
    REQUIRE(all.events().size() >= 30);  // pressed, left, entered, jumped of each
    CHECK(all.events_lost() == 0);
    Crowd third = twin;
    advance_all(twin, intents, Seconds{0.01}, few);
    REQUIRE(few.events().size() == 7);
    CHECK(few.events_lost() == all.events().size() - 7);
    for (std::size_t i = 0; i < 7; ++i) {
        CHECK(same_event(few.events()[i].event, all.events()[i].event));
    }
    advance_all(third, intents, Seconds{0.01}, none);
    CHECK(none.events().empty());
    CHECK(none.events_lost() == all.events().size());
    CHECK(digest(third.runner(9)) == digest(crowd.runner(9)));
}

TEST_CASE("a crowd allocates nothing while it moves on") {
    const Chart chart = compile(all_ways());
    Crowd crowd(chart);
    crowd.reserve(50);
    const Runner spawned = spawn(chart);
    const std::size_t start = allocations();
    for (int i = 0; i < 50; ++i) {
        crowd.add(spawned);
    }
    CHECK(allocations() == start);
    CrowdHands hands(chart, 50, 2);
    CrowdReport report;
    std::size_t events = 0;
    const std::size_t before = allocations();
    for (int i = 0; i < 2000; ++i) {
        advance_all(crowd, hands.next(1.0 / 60.0), Seconds{1.0 / 60.0}, report);
        events += report.events().size();
    }
    CHECK(allocations() == before);
    CHECK(events > 1000);
}
