#pragma once

#include <catch2/catch.hpp>
#include <cursimeter/survey/run.hpp>

#include "support/leaper_chart.hpp"

/// Scripts and what came of them.
namespace support {

/// A drill that presses and moves at given times.
struct Script {
    DrillSpec drill;
    explicit Script(double seconds) {
        drill.name = "script";
        drill.seconds = seconds;
    }
    Script& move(double at, Move move) {
        step(at).move = move;
        return *this;
    }
    Script& look(double at, double yaw, double pitch = 0.0) {
        step(at).look = LookSpec{Degrees{yaw}, Degrees{pitch}};
        return *this;
    }
    Script& hold(double at, const std::string& action) {
        step(at).hold.push_back(action);
        return *this;
    }
    Script& release(double at, const std::string& action) {
        step(at).release.push_back(action);
        return *this;
    }

  private:
    StepSpec& step(double at) {
        if (drill.steps.empty() || drill.steps.back().at != at) {
            drill.steps.emplace_back().at = at;
        }
        return drill.steps.back();
    }
};

/// Ticks a second at which everything must come out the same.
inline const std::vector<double> rates{10.0, 20.0, 30.0, 60.0, 144.0, 240.0, 1000.0};

/// Where each takes a while.
inline const std::vector<double> usual_rates{20.0, 30.0, 60.0, 144.0, 240.0};

inline survey::Run run_at(const Chart& chart, const Script& script, double rate) {
    const Drill drill(script.drill, chart);
    return survey::run(chart, drill, survey::even_ticks(rate, Seconds{script.drill.seconds}));
}

inline double highest(const survey::Run& run) {
    double z = -1e9;
    for (const survey::Sample& sample : run.samples) {
        z = std::max(z, sample.position.z);
    }
    return z;
}

/// Time and value of the n-th event of a kind.
inline survey::TimedEvent event(const survey::Run& run, EventKind kind, int n = 0) {
    for (const survey::TimedEvent& timed : run.events) {
        if (timed.event.kind == kind && n-- == 0) {
            return timed;
        }
    }
    FAIL("no such event");
    return {};
}

inline int count(const survey::Run& run, EventKind kind) {
    int n = 0;
    for (const survey::TimedEvent& timed : run.events) {
        n += timed.event.kind == kind ? 1 : 0;
    }
    return n;
}

}  // namespace support
