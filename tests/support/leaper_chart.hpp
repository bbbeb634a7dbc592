#pragma once

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

}  // namespace support
