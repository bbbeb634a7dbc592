#pragma once

#include <catch2/catch.hpp>
#include <cursimeter/survey/run.hpp>

#include "support/bearer.hpp"

/// A chart with every kind of motion, in round numbers.
namespace support {

inline StateSpec kind(const std::string& name, StateKind kind) {
    StateSpec spec;
    spec.name = name;
    spec.kind = kind;
    return spec;
}

/// Ground at 5 m/s by the given gain, jump (two jumps), fall.
inline ChartSpec leaper(GainSpec gain = ramp(20.0, 20.0, 20.0)) {
    ChartSpec spec;
    spec.name = "leaper";
    spec.rank = {"jump", "fall", "run"};
    spec.body.gravity = 20.0;
    spec.actions = {{.name = "jump"}};
    StateSpec run = state("run", {.forward = 5.0, .side = {}, .back = {}}, std::move(gain));
    run.enter = Condition{"grounded"};
    StateSpec fall = kind("fall", StateKind::air);
    fall.air = {.rise_gravity = {}, .fall_gravity = 30.0, .terminal = 25.0, .steer = {}, .brake = {}};
    fall.enter = Condition{"not grounded"};
    StateSpec jump = kind("jump", StateKind::air);
    jump.air = fall.air;
    jump.launch.heights = std::vector<double>{1.6, 0.9};
    jump.again = true;
    jump.enter = Condition{"jump pressed"};
    jump.stay = Condition{"not grounded", "rise > 0"};
    spec.states = {run, fall, jump};
    return spec;
}

/// Adds a state in front of the rank.
inline void add_first(ChartSpec& spec, const StateSpec& state) {
    spec.rank.insert(spec.rank.begin(), state.name);
    spec.states.push_back(state);
}

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
