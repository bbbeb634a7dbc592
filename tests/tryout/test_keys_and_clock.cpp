#include <catch2/catch.hpp>
#include <cursimeter/tryout/default_controls.hpp>
#include <cursimeter/tryout/tick_clock.hpp>
#include <cursimeter/tryout/tryout.hpp>
#include <set>

#include "support/bearer.hpp"
#include "tryout/demo.hpp"

using namespace cursimeter;
using namespace support;

TEST_CASE("usual actions are on the keys that their names suggest, and no input is used twice", "[tryout]") {
    for (const std::string name : {"bearer", "eel", "gannet", "keeper"}) {
        const ChartFile file = demo_chart(name);
        const ControlsSpec spec = tryout::default_controls(file.chart);
        CHECK(conflicts(spec).empty());
        CHECK_NOTHROW(Controls(file.chart, spec));
        for (std::uint8_t i = 0; i < file.chart.action_count(); ++i) {
            const std::string& action = file.chart.name(ActionId{i});
            const auto bound = std::count_if(spec.bindings.begin(), spec.bindings.end(),
                                             [&](const BindingSpec& one) { return one.action == action; });
            CHECK(bound == 2);  // a key and a pad button
        }
        for (const BindingSpec& one : spec.bindings) {
            CHECK((one.action != "jump" || one.inputs[0] == "key.space" || one.inputs[0] == "pad.south"));
            CHECK(one.inputs[0].find("ctrl") == std::string::npos);  // those are the window's
        }
    }
    // More actions than keys: the last have none.
    ChartSpec many = walker({.forward = 2.0, .side = {}, .back = {}});
    for (int i = 0; i < 32; ++i) {
        many.actions.push_back(
            {.name = "deed_" + std::string(1, static_cast<char>('a' + i % 26)) + (i < 26 ? "" : "x")});
    }
    const Chart chart = compile(many);
    CHECK(conflicts(tryout::default_controls(chart)).empty());
}

TEST_CASE("a tick clock gives each second its ticks, whatever the frames", "[tryout]") {
    const double rate = GENERATE(20.0, 60.0, 144.0, 240.0);
    const double frame = GENERATE(1.0 / 30.0, 1.0 / 60.0, 1.0 / 61.0, 1.0 / 144.0, 0.2);
    tryout::TickClock clock(rate);
    int ticks = 0;
    double now = 1000.0;
    clock.tell_time(Seconds{now});
    for (int i = 0; i < static_cast<int>(10.0 / frame); ++i) {
        now += frame;
        clock.tell_time(Seconds{now});
        while (clock.due()) {
            ++ticks;
            clock.next();
        }
        REQUIRE(clock.part() >= 0.0);
        REQUIRE(clock.part() < 1.0);
    }
    CHECK(std::abs(ticks - (now - 1000.0) * rate) < 1.001);
    CHECK(clock.left_out().value == 0.0);
}

TEST_CASE("a tick clock leaves out stalls, slows down and stands still", "[tryout]") {
    tryout::TickClock clock(60.0);
    const auto ticks_until = [&](double now) {
        clock.tell_time(Seconds{now});
        int ticks = 0;
        for (; clock.due(); clock.next()) {
            ++ticks;
        }
        return ticks;
    };
    CHECK(ticks_until(5.0) == 0);
    CHECK(ticks_until(8.0) == 15);  // 0.25 s
    CHECK(clock.left_out().value == Approx(2.75));
    clock.set_pace(0.1);
    CHECK(ticks_until(8.15) == 0);
    CHECK(clock.part() == Approx(0.9));
    CHECK(ticks_until(8.2) == 1);
    clock.pause(true);
    CHECK(ticks_until(30.0) == 0);
    CHECK(clock.left_out().value == Approx(2.75));
    clock.pause(false);
    CHECK(ticks_until(30.1) == 0);
    for (const double pace : std::vector<double>{0.5, 0.2, 0.1, 0.05, 0.02, 0.02}) {
        pace == 0.5 ? clock.set_pace(0.9) : void();  // none of the list: the next one below it
        clock.go_slower();
        CHECK(clock.pace() == pace);
    }
    for (const double pace : std::vector<double>{0.05, 0.1, 0.2, 0.5, 1.0, 1.0}) {
        clock.go_faster();
        CHECK(clock.pace() == pace);
    }
    clock.set_pace(0.1);
    // An input lies in the tick where it happened: at this pace 50 ms are 5.
    CHECK(clock.place(Seconds{30.05}) == Approx(clock.place(Seconds{30.1}) - 0.005));
    CHECK(clock.place(Seconds{0.0}) == 0.0);
}
