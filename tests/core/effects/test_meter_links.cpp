#include <catch2/catch.hpp>
#include <cursimeter/effects.hpp>

#include "support/play.hpp"

using namespace cursimeter;
using namespace support;

namespace {

/// Stamina that provisions shape: well-fed drains slowly and refills quickly, hungry the reverse.
ChartSpec fed(double provisions, std::optional<double> hunger = std::nullopt) {
    ChartSpec spec = bearer();
    spec.meters[0].refill->wait = 0.0;
    spec.meters[0].refill->rate = 10.0;
    spec.meters[0].refill->scale = {
        {.by = "provisions", .at = std::vector<double>{0.2, 0.8}, .factors = std::vector<double>{0.5, 2.0}}};
    spec.meters[0].drain_scale = {
        {.by = "provisions", .at = std::vector<double>{0.0, 1.0}, .factors = std::vector<double>{2.0, 1.0}}};
    spec.meters.push_back({.name = "provisions", .capacity = 50.0, .start = provisions});
    if (hunger) {
        spec.states[0].drain = {{"provisions", *hunger}};
        spec.states[0].drain_above = 0.0;
    }
    return spec;
}

double level(const Chart& chart, Play& play, const char* meter) {
    return read_meter(chart, play.runner(), chart.meter(meter)).level;
}

}  // namespace

TEST_CASE("another meter's fullness scales drain and refill, clamped at the ends") {
    for (const auto& [provisions, drain, refill] :
         {std::tuple{50.0, 12.0, 20.0}, std::tuple{0.0, 24.0, 5.0}, std::tuple{25.0, 18.0, 12.5},
          std::tuple{5.0, 22.8, 5.0}, std::tuple{45.0, 13.2, 20.0}}) {
        CAPTURE(provisions);
        const Chart chart = compile(fed(provisions));
        for (const double dt : tick_lengths) {
            Play play(chart, dt);
            play.intent.move = {1.0, 0.0};
            play.intent.hold(chart.action("sprint"));
            play.until(2.0);
            CHECK(near(level(chart, play, "stamina"), 100.0 - 2.0 * drain, 1e-9));
            play.intent.held = 0;
            play.until(2.5);
            CHECK(near(level(chart, play, "stamina"), 100.0 - 2.0 * drain + 0.5 * refill, 1e-9));
        }
    }
}

TEST_CASE("while the other meter flows, the scaled one follows its integral") {
    // Provisions fall from 40 by 2 a second: their fraction f = 0.8 - 0.04 t, the refill's factor
    // 0.5 + 1.5 (f - 0.2) / 0.6 = 2 - 0.1 t, so 10 (2 t - 0.05 t^2) has come back after t seconds.
    ChartSpec spec = fed(40.0, 2.0);
    spec.meters[0].start = 0.0;
    spec.meters[0].spent.reset();
    const Chart chart = compile(spec);
    for (const double dt : tick_lengths) {
        CAPTURE(dt);
        Play play(chart, dt);
        for (const double t : {0.5, 1.25, 3.0, 4.0}) {
            play.until(t);
            CHECK(near(level(chart, play, "provisions"), 40.0 - 2.0 * t, 1e-9));
            CHECK(level(chart, play, "stamina") ==
                  Approx(10.0 * (2.0 * t - 0.05 * t * t)).margin(1e-9).epsilon(0));
        }
    }
}

TEST_CASE("where the other meter stops, or loses a sum, the scaled one follows at once") {
    // Walking at 5 m/s costs a provision a metre, hopping costs ten; the refill is 10 (0.5 + 1.5 (f - 0.2) / 0.6) a second.
    // The game's own spending at 0.67 s and what it gives at 0.69 s count as well.
    ChartSpec spec = fed(40.0, 0.0);
    spec.meters[0].start = 0.0;
    spec.meters[0].spent.reset();
    spec.states[0].speed = {.forward = 5.0, .side = {}, .back = {}};
    spec.states[0].gain = {};
    spec.states[0].drain.clear();
    spec.states[0].drain_per_metre = {{"provisions", 1.0}};
    spec.states[0].drain_above.reset();
    spec.actions.push_back({.name = "hop"});
    StateSpec hop = state("hop", {.forward = 5.0, .side = {}, .back = {}});
    hop.cost = {{"provisions", 10.0}};
    hop.enter = Condition{"hop on"};
    spec.states.push_back(hop);
    spec.rank.insert(spec.rank.begin(), "hop");
    const Chart chart = compile(spec);
    const MeterId provisions = chart.meter("provisions");
    for (const double dt : tick_lengths) {
        CAPTURE(dt);
        Play play(chart, dt);
        double before = 0.0;
        const auto gains = [&](double until, double seconds, double left) {
            play.until(until);
            const double now = level(chart, play, "stamina");
            CHECK(near(level(chart, play, "provisions"), left, 1e-9));
            CHECK(now - before ==
                  Approx(seconds * 10.0 * (0.5 + 2.5 * (left / 50.0 - 0.2))).margin(1e-9).epsilon(0));
            before = now;
        };
        play.intent.move = {1.0, 0.0};
        play.until(0.63);
        before = level(chart, play, "stamina");
        play.intent.move = {0.0, 0.0};
        gains(0.64, 0.01, 36.85);
        play.intent.hold(chart.action("hop"));
        gains(0.66, 0.02, 26.85);
        play.intent.held = 0;
        gains(0.67, 0.01, 26.85);
        CHECK(try_spend(chart, play.runner(), provisions, 5.0));
        gains(0.69, 0.02, 21.85);
        grant(chart, play.runner(), provisions, 10.0);
        gains(0.7, 0.01, 31.85);
    }
}

TEST_CASE("a step of a scale is not lost where a segment ends at the same moment as the tick") {
    // Segments begin and end at borders of the steps, many of which are borders of ticks too.
    for (const double rate : {12.0, 24.0, 16.0, 8.0}) {
        ChartSpec spec = fed(60.0, 1.0);
        spec.meters[0].capacity = 1000.0;
        spec.meters[0].start = 5.0;
        spec.meters[0].spent.reset();
        spec.meters[1].capacity = 75.0;
        spec.states[0].gain = ramp(rate, rate, rate);
        const Chart chart = compile(spec);
        std::optional<double> first;
        for (const double dt : {1.0 / 1000.0, 1.0 / 20.0, 1.0 / 60.0, 1.0 / 144.0, 1.0 / 240.0, 0.0}) {
            CAPTURE(rate, dt);
            Play play(chart, dt);
            for (int i = 1; i <= 60; ++i) {
                play.intent.move = {i % 2 == 0 ? 1.0 : 0.0, 0.0};
                play.until(0.35 * i);
            }
            first = first.value_or(level(chart, play, "stamina"));
            CHECK(near(level(chart, play, "stamina"), *first, 1e-7));
        }
    }
}

TEST_CASE("a meter refills only in the states, and while the conditions hold, that its chart names") {
    ChartSpec spec = bearer();
    spec.meters[0].start = 50.0;
    spec.meters[0].refill =
        RefillSpec{.rate = 10.0, .in = std::vector<std::string>{"walk"}, .when = Condition{"not moving"}};
    const Chart chart = compile(spec);
    for (const double dt : tick_lengths) {
        Play play(chart, dt);
        play.until(1.0);
        CHECK(near(level(chart, play, "stamina"), 60.0, 1e-9));
        play.intent.move = {1.0, 0.0};
        play.until(2.0);
        CHECK(near(level(chart, play, "stamina"), 60.0, 1e-9));
        play.intent.move = {0.0, 0.0};
        play.until(2.5);
        CHECK(near(level(chart, play, "stamina"), 65.0, 1e-9));
    }
}

TEST_CASE("thresholds are told of by name, both ways") {
    ChartSpec spec = bearer();
    spec.meters[0].thresholds = {{.name = "low", .level = 25.0}, {.name = "half", .level = 50.0}};
    const Chart chart = compile(spec);
    Play play(chart);
    play.intent.move = {1.0, 0.0};
    play.intent.hold(chart.action("sprint"));
    play.until(7.0);
    play.intent.held = 0;
    play.until(12.0);
    std::vector<std::string> told;
    for (const Played& played : play.events()) {
        if (played.event.kind == EventKind::crossed) {
            told.push_back(chart.named_levels(MeterId{0})[played.event.which].name +
                           (played.event.rising ? " up" : " down"));
        }
    }
    CHECK(told == std::vector<std::string>{"half down", "low down", "low up", "half up"});
    CHECK(near(play.times(EventKind::crossed)[0], 50.0 / 12.0, 1e-9));
    CHECK(near(play.times(EventKind::crossed)[1], 75.0 / 12.0, 1e-9));
}

TEST_CASE("try_spend answers yes or no and spends nothing on no, grant fills up to the capacity") {
    const Chart chart = compile(bearer());
    Play play(chart);
    const MeterId stamina = chart.meter("stamina");
    CHECK(try_spend(chart, play.runner(), stamina, 70.0));
    const std::uint64_t before = digest(play.runner());
    CHECK_FALSE(try_spend(chart, play.runner(), stamina, 30.5));
    CHECK(digest(play.runner()) == before);
    play.until(0.69);
    CHECK(read_meter(chart, play.runner(), stamina).level == 30.0);  // the refill waits as after any drain
    play.until(1.7);
    CHECK(near(read_meter(chart, play.runner(), stamina).level, 48.0, 1e-5));
    CHECK(near(grant(chart, play.runner(), stamina, 30.0), 30.0, 1e-9));
    CHECK(near(grant(chart, play.runner(), stamina, 30.0), 22.0, 1e-5));
    CHECK(read_meter(chart, play.runner(), stamina).level == 100.0);
    CHECK(try_spend(chart, play.runner(), stamina, 100.0));
    play.settle();
    CHECK(read_meter(chart, play.runner(), stamina).spent);
    CHECK(play.times(EventKind::spent).size() == 1);
    static_cast<void>(grant(chart, play.runner(), stamina, 40.0));
    play.settle();
    CHECK_FALSE(read_meter(chart, play.runner(), stamina).spent);
    CHECK(play.times(EventKind::recovered).size() == 1);
    for (const double amount : {-1.0, std::nan(""), 1.0 / 0.0}) {
        CHECK_THROWS_AS(grant(chart, play.runner(), stamina, amount), ChartError);
        CHECK_THROWS_AS(static_cast<void>(try_spend(chart, play.runner(), stamina, amount)), ChartError);
    }
}

TEST_CASE("between two ticks the game reads, spends and asks by the levels of now") {
    ChartSpec spec = bearer();
    spec.meters[0].spent.reset();
    spec.states[0].drain = {{"stamina", 10.0}};
    spec.states[0].drain_above = 0.0;
    const Chart chart = compile(spec);
    Play play(chart);
    play.until(8.5);  // 15 are left, and no mark has been met since 100
    const MeterId stamina = chart.meter("stamina");
    CHECK_FALSE(try_spend(chart, play.runner(), stamina, 15.5));
    play.intent.move = {1.0, 0.0};
    play.intent.hold(chart.action("sprint"));
    CHECK(try_spend(chart, play.runner(), stamina, 6.0));
    const Possibility sprint = could_enter(chart, play.runner(), chart.state("sprint"));
    CHECK_FALSE(sprint.possible);
    CHECK(near(read_meter(chart, play.runner(), stamina).level, 9.0, 1e-9));
    play.until(8.6);
    CHECK(play.runner().state() == chart.state("walk"));
}

TEST_CASE("a spent meter grants its modifier: winded, then breath again") {
    ChartSpec spec = bearer();
    spec.meters[0].spent->grants = "winded";
    spec.modifiers = {{.name = "winded", .seconds = 2.0, .affects = {{.what = "speed", .times = 0.5}}}};
    const Chart chart = compile(spec);
    for (const double dt : tick_lengths) {
        CAPTURE(dt);
        Play play(chart, dt);
        play.intent.move = {1.0, 0.0};
        play.intent.hold(chart.action("sprint"));
        play.until(100.0 / 12.0 + 0.5);
        CHECK(play.runner().speed() == 1.2);
        REQUIRE(play.times(EventKind::began).size() == 1);
        CHECK(near(play.times(EventKind::began)[0], 100.0 / 12.0, 1e-6));
        play.intent.held = 0;
        play.until(100.0 / 12.0 + 2.1);
        CHECK(play.runner().speed() == 2.4);
    }
}

TEST_CASE("mistakes in what shapes a meter are told with their mends") {
    const auto of = [](const std::function<void(ChartSpec&)>& change) {
        ChartSpec spec = fed(20.0);
        change(spec);
        return complaint([&] { static_cast<void>(compile(spec)); });
    };
    CHECK(of([](ChartSpec& s) { s.meters[0].refill->scale[0].by = "provision"; }) ==
          "meters.stamina.refill.scale[1].by: no meter is named 'provision'; did you mean 'provisions'?");
    CHECK(of([](ChartSpec& s) { s.meters[0].drain_scale[0].factors->push_back(1.0); }) ==
          "meters.stamina.drain_scale[1]: has 2 fractions and 3 factors; give as many factors as fractions, "
          "and "
          "the fractions rising");
    CHECK(of([](ChartSpec& s) { s.meters[0].thresholds = {{.name = "high", .level = 120.0}}; }) ==
          "meters.stamina.thresholds.high.level: 120 is above the capacity 100; it would never be crossed");
    CHECK(of([](ChartSpec& s) { s.meters[0].refill->in = std::vector<std::string>{"wlk"}; }) ==
          "meters.stamina.refill.in[1]: no state is named 'wlk'; did you mean 'walk'?");
    CHECK(of([](ChartSpec& s) { s.meters[0].spent->grants = "winded"; }) ==
          "meters.stamina.spent.grants: no modifier is named 'winded'; there is none yet");
}

TEST_CASE("a key that means nothing to a scaled meter moves none of its steps") {
    ChartSpec spec = fed(40.0, 2.0);
    spec.meters[0].start = 0.0;
    spec.meters[0].spent.reset();
    spec.meters[1].drain_scale = {
        {.by = "stamina", .at = std::vector<double>{0.0, 1.0}, .factors = std::vector<double>{1.0, 5.0}}};
    spec.actions.push_back({.name = "wave"});
    const Chart chart = compile(spec);
    Play calm(chart), waving(chart);
    for (int i = 1; i <= 40; ++i) {
        waving.intent.held = i % 2 == 0 ? 0 : 1U << chart.action("wave").index;
        calm.until(0.073 * i);
        waving.until(0.073 * i);
        CAPTURE(i);
        CHECK(near(level(chart, waving, "stamina"), level(chart, calm, "stamina"), 1e-12));
    }
}
