#pragma once

#include <fmt/format.h>

#include <cursimeter/cursimeter.hpp>
#include <cursimeter/survey/require.hpp>
#include <functional>
#include <optional>
#include <string>

#include "support/random_chart.hpp"

/// Requirements by chance for a random chart.
namespace support {

/// A requirement in words, and what breaks it at the end of a tick.
struct Asked {
    std::string words;
    std::string state;  ///< "" for any
    std::function<bool(const Runner&)> so;
    double most = -1.0;   ///< s in the state; below 0: no such bound
    std::string wanted;   ///< that is possible from `state`; "": nothing is asked so
    double within = 0.0;  ///< s
};

/// A bound on what a runner's speed comes to: above `speed` it is broken.
struct SpeedTerms {
    const char* words;  ///< with a place for the bound
    double (*of)(const Runner& runner);
};
inline constexpr SpeedTerms speed_terms[] = {
    {"speed > {}", [](const Runner& r) { return r.speed(); }},
    {"speed > {}, grounded", [](const Runner& r) { return r.grounded() ? r.speed() : 0.0; }},
    {"rise > {}", [](const Runner& r) { return r.velocity().z; }},
    {"rise < -{}", [](const Runner& r) { return -r.velocity().z; }},
};

inline std::string words_for(const std::string& state, const std::string& terms) {
    return state.empty() ? "never " + terms : fmt::format("never {} with {}", state, terms);
}

/// The least bound that is proven, to a thousandth: what lies just above it shows every bound that is too low. Nothing if not even
/// the greatest is.
template <class Words>
std::optional<double> least_proven(const ChartSpec& chart, double greatest, Words&& words) {
    survey::RequirePlan none;
    none.ticks = 1;
    const auto is_proven = [&](double bound) {
        return survey::rule_on(chart, words(bound), none).decision == survey::Decision::proven;
    };
    if (!is_proven(greatest)) {
        return std::nullopt;
    }
    double unproven = 0.0, proven = greatest;
    while (proven - unproven > 1e-3) {
        const double tried = (unproven + proven) / 2.0;
        (is_proven(tried) ? proven : unproven) = tried;
    }
    return proven;
}

/// Half of the time a round number, as charts have them, half of the time as sharp as proofs get.
inline void some_speed(RandomChart& dice, const ChartSpec& chart, Asked& asked) {
    const SpeedTerms& terms = speed_terms[dice.below(4)];
    double most = dice.one_of({0.5, 1.0, 2.0, 3.0, 4.0, 5.0, 6.0, 8.0, 10.0, 12.0, 20.0, 40.0, 60.0});
    const auto words = [&](double bound) {
        return words_for(asked.state, fmt::format(fmt::runtime(terms.words), bound));
    };
    if (dice.chance(50)) {
        most = least_proven(chart, 1000.0, words).value_or(most);
    }
    asked.words = words(most);
    asked.so = [most, of = terms.of](const Runner& runner) { return of(runner) > most + 1e-6; };
}

inline Asked some_requirement(RandomChart& dice, const ChartSpec& chart, const Chart& compiled) {
    Asked asked;
    const StateSpec& state = chart.states[dice.below(static_cast<unsigned>(chart.states.size()))];
    if (dice.chance(20)) {
        asked.wanted = chart.states[dice.below(static_cast<unsigned>(chart.states.size()))].name;
        asked.within = dice.one_of({0.0, 0.1, 0.5, 1.0, 2.0, 5.0});
        asked.state = dice.chance(30) ? "" : state.name;
        asked.words = (asked.state.empty() ? "" : "from " + asked.state + ": ") +
                      fmt::format("{} possible within {} s", asked.wanted, asked.within);
        return asked;
    }
    if (dice.chance(30)) {
        asked.most = dice.one_of({0.1, 0.3, 0.5, 1.0, 2.0, 5.0, 10.0, 20.0});
        asked.state = state.name;
        const auto words = [&](double bound) {
            return fmt::format("{} ends within {} s", state.name, bound);
        };
        if (dice.chance(50)) {
            asked.most = least_proven(chart, 300.0, words).value_or(asked.most);
        }
        asked.words = words(asked.most);
        return asked;
    }
    asked.state = dice.chance(15) ? "" : state.name;
    std::string terms;
    if (!chart.meters.empty() && dice.chance(50)) {
        const MeterSpec& meter = chart.meters[dice.below(static_cast<unsigned>(chart.meters.size()))];
        const std::string name = meter.name;
        if (meter.spent && dice.chance(50)) {
            const bool spent = dice.chance(70);
            terms = (spent ? "" : "not ") + name + " spent";
            asked.so = [&compiled, id = compiled.meter(name), spent](const Runner& runner) {
                return read_meter(compiled, runner, id).spent == spent;
            };
        } else {
            const double level = meter.capacity * dice.one_of({0.01, 0.1, 0.2, 0.3, 0.5, 0.9});
            const bool below = dice.chance(60);
            terms = fmt::format("{} {} {}", name, below ? "<" : ">=", level);
            asked.so = [&compiled, id = compiled.meter(name), below, level](const Runner& runner) {
                const double now = read_meter(compiled, runner, id).level;
                return below ? now < level - 1e-6 : now > level + 1e-6;
            };
        }
    } else if (!chart.cooldowns.empty() && dice.chance(20)) {
        const std::string name = chart.cooldowns[0].name;
        terms = name + " ready";
        asked.so = [&compiled, id = compiled.cooldown(name)](const Runner& runner) {
            return read_cooldown(compiled, runner, id).ready;
        };
    } else {
        some_speed(dice, chart, asked);
        return asked;
    }
    asked.words = words_for(asked.state, terms);
    return asked;
}

}  // namespace support
