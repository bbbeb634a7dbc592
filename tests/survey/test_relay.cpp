#include <cursimeter/chartfile/chart_file.hpp>
#include <cursimeter/chartfile/course_file.hpp>
#include <cursimeter/chartfile/drill_file.hpp>

#include "support/demo.hpp"
#include "support/worlds.hpp"

using namespace support;

namespace {

struct Relay {
    Course course = demo_course();
    Chart chart;
    Drill drill;

    explicit Relay(const std::string& name)
        : chart(demo_chart(name).chart),
          drill(load_drill(demo_folder + "drills/relay_" + name + ".toml", chart).drill) {}
    [[nodiscard]] survey::Run run(double rate) const {
        return survey::run(chart, drill, course, survey::even_ticks(rate, drill.length()));
    }
};

/// Changes that depend on where the runner is in the world, not on a key, a wait or a meter.
bool by_contact(const Chart& chart, const survey::Visit& visit) {
    const std::string cause = chart.describe(visit.cause);
    for (const char* word : {"grounded", "rise", "wall", "headroom", "locked", "moving forward", "follows"}) {
        if (cause.find(word) != std::string::npos) {
            return true;
        }
    }
    return false;
}

const survey::Visit& visit_of(const Relay& relay, const survey::Run& run, const std::string& state) {
    for (const survey::Visit& visit : run.visits) {
        if (relay.chart.name(visit.state) == state) {
            return visit;
        }
    }
    FAIL("never in " << state);
    return run.visits.front();
}

/// The highest place from a state's entry to a tick after its end.
double highest_in(const Relay& relay, const survey::Run& run, const std::string& state, double rate) {
    const survey::Visit& visit = visit_of(relay, run, state);
    double high = -1e9;
    for (const survey::Sample& sample : run.samples) {
        if (sample.at >= visit.at && sample.at <= visit.at + visit.seconds + 1.0 / rate) {
            high = std::max(high, sample.position.z);
        }
    }
    return high;
}

}  // namespace

TEST_CASE("the whole relay, three charts: one run at any rate from 20 to 2000 ticks a second") {
    for (const std::string name : {"bearer", "gannet", "eel"}) {
        const Relay relay(name);
        const survey::Run base = relay.run(60.0);
        REQUIRE(base.legs.size() == 8);
        CHECK(base.events_lost == 0);
        CHECK(base.ticks_capped == 0);
        for (const survey::LegTime& leg : base.legs) {
            CAPTURE(name, leg.name);
            CHECK(leg.ended > leg.begun);
        }
        CHECK(base.runner.position().x > 157.0);
        CHECK(near(base.runner.position().z, 10.0, 0.001));
        for (const double rate : {20.0, 30.0, 144.0, 240.0, 500.0, 1000.0, 2000.0}) {
            const survey::Run run = relay.run(rate);
            CAPTURE(name, rate);
            REQUIRE(run.visits.size() == base.visits.size());
            for (std::size_t i = 0; i < run.visits.size(); ++i) {
                CAPTURE(i, relay.chart.name(base.visits[i].state),
                        relay.chart.describe(base.visits[i].cause));
                CHECK(run.visits[i].state == base.visits[i].state);
                CHECK(run.visits[i].cause == base.visits[i].cause);
                CHECK(near(run.visits[i].at, base.visits[i].at,
                           by_contact(relay.chart, base.visits[i]) ? 1e-4 : 1e-6));
            }
            for (std::size_t i = 0; i < run.legs.size(); ++i) {
                CAPTURE(run.legs[i].name);
                // A leg's clock takes the way within a tick for a cubic curve, and the gate at the foot of a ramp stands where it bends.
                CHECK(near(run.legs[i].ended - run.legs[i].begun, base.legs[i].ended - base.legs[i].begun,
                           1e-3));
            }
        }
    }
}

TEST_CASE("on the relay a dash, a jump and a slide are as long as the closed forms say, within 1 cm") {
    const Relay bearer("bearer"), eel("eel");
    for (const double rate : {20.0, 30.0, 60.0, 144.0, 240.0}) {
        CAPTURE(rate);
        const survey::Run run = bearer.run(rate);
        CHECK(near(visit_of(bearer, run, "dash").distance, 3.0, 0.01));
        CHECK(near(visit_of(eel, eel.run(rate), "dash").distance, 7.0, 0.01));
        // The first jump is cut short: its key goes up after t s, at 18 m/s^2 until then and 18 * 1.3 / 0.5
        // afterwards.
        const survey::Visit& jump = visit_of(bearer, run, "jump");
        double released = 0.0;
        for (const survey::TimedEvent& timed : run.events) {
            const bool of_jump = timed.event.kind == EventKind::released &&
                                 bearer.chart.name(ActionId{timed.event.subject}) == "jump";
            released = of_jump && released == 0.0 ? timed.at : released;
        }
        const double held = released - jump.at, speed = std::sqrt(2.0 * 18.0 * 1.3);
        REQUIRE(held > 0.1);
        const double left = speed - 18.0 * held;
        const double height = speed * held - 9.0 * held * held + left * left / (2.0 * 18.0 * 1.3 / 0.5);
        const double forward = 6.5 * (held + left / (18.0 * 1.3 / 0.5));
        CHECK(near(jump.seconds * 6.5, forward, 0.01));
        // The path is sampled at ticks; the apex lies between two of them.
        CHECK(near(highest_in(bearer, run, "jump", rate), height, 0.01 + 26.0 / (rate * rate)));
        CHECK(near(visit_of(bearer, run, "slide").distance,
                   visit_of(bearer, bearer.run(1000.0), "slide").distance, 0.01));
    }
}
