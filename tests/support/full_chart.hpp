#pragma once

#include "support/bearer.hpp"

/// A chart that is full: as many of everything as one chart can hold, and each of them works.
namespace support {

inline std::string numbered(const char* what, std::size_t number) {
    return what + std::to_string(number);
}

/// State s1 to s63: s{i} is entered while a{i/2} is on, if i is even moving, otherwise standing; each asks four meters
/// for levels of its own. s0 is what remains. The last state uses the last meter and the last cooldown.
inline ChartSpec full_chart() {
    ChartSpec spec;
    spec.name = "full";
    for (std::size_t i = 0; i < limits::actions; ++i) {
        spec.actions.push_back(
            {.name = numbered("a", i), .buffer = i + limits::buffers < limits::actions ? 0.0 : 0.2});
    }
    for (std::size_t i = 0; i < limits::meters; ++i) {
        MeterSpec meter = stamina();
        meter.name = numbered("m", i);
        spec.meters.push_back(meter);
    }
    for (std::size_t i = 0; i < limits::cooldowns; ++i) {
        spec.cooldowns.push_back({.name = numbered("c", i), .seconds = 5.0});
    }
    for (std::size_t i = 0; i < limits::modifier_kinds; ++i) {
        ModifierSpec modifier;
        modifier.name = numbered("k", i);
        modifier.seconds = 100.0;
        modifier.affects = {{.what = "speed", .adds = 0.125}, {.what = "drain.m11", .times = 1.0}};
        spec.modifiers.push_back(modifier);
    }
    for (std::size_t i = 0; i < limits::blocks; ++i) {
        spec.blocks.push_back({.name = numbered("b", i), .bans = {numbered("a", 2 * i + 1)}});
    }
    for (std::size_t i = 0; i < limits::states; ++i) {
        StateSpec made = state(numbered("s", i), {.forward = 1.0 + 0.125 * static_cast<double>(i)});
        made.enter = Condition();
        if (i > 0) {
            std::vector<std::string> terms{numbered("a", i / 2) + " on",
                                           i % 2 == 0 ? "moving" : "not moving"};
            for (std::size_t k = 0; k < 4; ++k) {
                const double level = 1.0 + 0.25 * static_cast<double>(i) + 10.0 * static_cast<double>(k);
                terms.push_back(numbered("m", (i + 3 * k) % limits::meters) + " >= " + std::to_string(level));
            }
            made.enter = Condition(std::vector<std::vector<std::string>>{terms});
        }
        spec.states.push_back(made);
        spec.rank.insert(spec.rank.begin(), made.name);
    }
    // 63 x 4 comparisons so far; with the cooldown, the drain and the speed as many as there can be.
    StateSpec& last = spec.states.back();
    last.cooldown = numbered("c", limits::cooldowns - 1);
    last.stay = Condition{numbered("a", limits::actions - 1) + " on", "speed < 100", "time < 100"};
    last.drain = {{numbered("m", limits::meters - 1), 8.0}};
    last.drain_above = 0.0;
    return spec;
}

}  // namespace support
