#pragma once

#include <random>

#include "support/bearer.hpp"

namespace support {

/// Chances for numbers as people write them. Two throws never stand in one call's arguments or on both sides of an operator:
/// compilers differ in which comes first, and each seed is to be the same chart everywhere. Within braces order is fixed.
class RoundDice {
  public:
    explicit RoundDice(unsigned seed) : dice_(seed), seldom_(seed + 1) {}

    unsigned below(unsigned count) { return static_cast<unsigned>(dice_() % count); }
    bool chance(unsigned percent) { return below(100) < percent; }
    /// By dice of its own: what is thrown for besides does not depend on it.
    bool seldom(unsigned percent) { return seldom_() % 100 < percent; }
    double one_of(std::initializer_list<double> values) {
        return values.begin()[below(static_cast<unsigned>(values.size()))];
    }
    std::string any(std::initializer_list<const char*> words) {
        return words.begin()[below(static_cast<unsigned>(words.size()))];
    }

  private:
    std::mt19937 dice_, seldom_;
};

/// The states of a random chart: how they move, what they cost, when they hold.
class RandomStates : public RoundDice {
  public:
    using RoundDice::RoundDice;

  protected:
    GainSpec gain() {
        GainSpec gain = gain_law();
        if (chance(20)) {
            gain.turn = Turning::at_once;
        }
        return gain;
    }

    GainSpec gain_law() {
        switch (below(5)) {
            case 0:
                return {};
            case 1: {
                const double faster = one_of({0.1, 0.2, 0.05}), slower = one_of({0.1, 0.2});
                return ease(faster, slower, one_of({0.1, 0.2}));
            }
            case 2:
                return curve({{0.0, 0.0}, {0.2, 0.5}, {0.5, 1.0}}, {{0.0, 1.0}, {0.1, 0.5}, {0.4, 0.0}});
            default: {
                const double faster = one_of({5.0, 10.0, 20.0, 40.0}), slower = one_of({10.0, 20.0});
                return ramp(faster, slower, one_of({10.0, 20.0}));
            }
        }
    }

    SpeedSpec speeds() {
        SpeedSpec speeds;
        speeds.forward = one_of({2.0, 4.0, 5.0, 6.0, 8.0});
        if (chance(40)) {
            speeds.side = 0.5 * *speeds.forward;
        }
        return speeds;
    }

    StateSpec walk() {
        const SpeedSpec fast = speeds();
        StateSpec walk = support::state("walk", fast, gain());
        drains(walk, {});
        walk.stride = chance(25) ? std::optional(one_of({0.8, 1.0})) : std::nullopt;
        return walk;
    }

    void drains(StateSpec& state, const std::vector<MeterSpec>& meters) {
        for (const MeterSpec& meter : meters) {
            if (chance(40)) {
                (chance(75) ? state.drain : state.drain_per_metre)
                    .push_back({meter.name, meter.capacity * one_of({0.1, 0.2, 0.5, 1.0}) * 0.5});
            } else if (chance(20)) {
                state.cost.push_back({meter.name, meter.capacity * one_of({0.1, 0.25, 0.5})});
            }
        }
        if (chance(20)) {
            state.drain_above = one_of({0.0, 1.0, 2.0});
        }
    }

    StateSpec state(const ChartSpec& spec, unsigned index) {
        StateSpec state;
        state.name = std::string("way") + static_cast<char>('a' + index);
        const StateKind kinds[]{StateKind::ground, StateKind::ground, StateKind::ground, StateKind::air,
                                StateKind::slide,  StateKind::burst,  StateKind::fly};
        state.kind = kinds[below(7)];
        state.speed = speeds();
        state.gain = gain();
        if (state.gain.law != GainLaw::curve && seldom(8)) {
            state.speed.forward = 0.0;  // braced
            state.speed.side = seldom(50) ? state.speed.side : std::nullopt;
        } else if (seldom(4)) {
            state.speed.side = 0.0;
            state.speed.back = seldom(50) ? std::optional(0.0) : std::nullopt;
        }
        state.enter = condition(spec, true);
        if (chance(50)) {
            state.stay = condition(spec, false);
        }
        drains(state, spec.meters);
        move_by_kind(state);
        if (!spec.cooldowns.empty() && chance(40)) {
            state.cooldown = "wait";
        }
        if (chance(15)) {
            state.from = std::vector<std::string>{"walk", "waya"};
        }
        state.again = chance(15) ? std::optional(true) : std::nullopt;
        state.stride = chance(15) ? std::optional(one_of({0.8, 1.0, 0.5})) : std::nullopt;
        return state;
    }

    void move_by_kind(StateSpec& state) {
        switch (*state.kind) {
            case StateKind::air:
                state.air.steer = one_of({0.0, 5.0, 10.0});
                if (chance(30)) {
                    state.air.rise_gravity = one_of({10.0, 18.0});
                    state.air.fall_gravity = one_of({20.0, 26.0});
                }
                state.air.terminal = chance(20) ? std::optional(one_of({2.0, 5.0})) : std::nullopt;
                state.air.brake = chance(20) ? std::optional(one_of({2.0, 5.0})) : std::nullopt;
                if (chance(70)) {
                    state.launch.heights = std::vector<double>{one_of({0.5, 1.0, 1.25})};
                    if (chance(30)) {
                        state.launch.heights->push_back(one_of({0.5, 1.0}));
                    }
                    if (chance(50)) {
                        state.launch.by = "jump";
                        state.launch.least = 0.25;
                    }
                }
                break;
            case StateKind::slide:
                state.slide.friction = one_of({0.0, 2.0, 5.0});
                state.slide.boost = one_of({0.0, 1.0, 2.0});
                state.slide.boost_limit = chance(30) ? std::optional(one_of({5.0, 6.0})) : std::nullopt;
                state.slide.top = chance(30) ? std::optional(one_of({6.0, 8.0})) : std::nullopt;
                break;
            case StateKind::burst:
                state.burst.seconds = one_of({0.1, 0.2, 0.25});
                if (chance(50)) {
                    state.burst.speed = one_of({10.0, 8.0, 20.0});
                } else {
                    state.burst.metres = one_of({0.5, 2.0, 3.0});
                }
                state.burst.after = chance(40) ? After::keep : chance(50) ? After::stop : After::target;
                if (chance(40)) {
                    const Along first = chance(50) ? Along::look : Along::velocity;
                    state.burst.along = std::vector<Along>{first, Along::input, Along::facing};
                }
                state.burst.gravity = chance(30) ? std::optional(true) : std::nullopt;
                break;
            case StateKind::fly:
                state.fly.up = "jump";
                state.fly.down = chance(40) ? std::optional<std::string>("dash") : std::nullopt;
                state.fly.climb = one_of({2.0, 4.0});
                state.fly.sink = one_of({0.0, 1.0});
                state.fly.by_look = chance(30) ? std::optional(false) : std::nullopt;
                break;
            case StateKind::ground:
            case StateKind::wall:
                break;
        }
    }

    static std::string words(std::initializer_list<std::string> parts) {
        std::string joined;
        for (const std::string& part : parts) {
            joined += joined.empty() ? part : " " + part;
        }
        return joined;
    }

    std::string term(const ChartSpec& spec, bool momentary) {
        std::vector<std::string> terms{
            any({"speed", "speed", "speed", "time", "time"}) == "speed"
                ? words({"speed", any({">", ">=", "<", "<="}),
                         any({"1", "2", "2.5", "3", "4", "4.2", "5", "6"})})
                : words({"time", any({"<", "<", ">"}), any({"0.1", "0.2", "0.5", "1", "0.3"})}),
            any({"sprint on", "not sprint on", "dash on", "jump on"}),
            any({"moving", "not moving", "moving forward", "moving backward", "not moving sideways"}),
            any({"grounded", "grounded", "not grounded", "footing"}),
        };
        if (chance(30)) {
            terms.push_back(words({"rise", any({">", ">=", "<", "<="}), any({"0", "1", "2", "-2", "-5"})}));
        }
        if (!spec.states.empty()) {
            terms.push_back(any({"", "not "}) + spec.states.front().name + " possible");
        }
        if (momentary) {
            terms.push_back(any({"dash pressed", "jump pressed", "sprint pressed", "dash released"}));
            terms.push_back(any({"dash pressed", "jump pressed"}));
        }
        for (const MeterSpec& meter : spec.meters) {
            terms.push_back(
                words({meter.name, any({">=", ">", "<", "<="}), any({"0", "10%", "25%", "50%", "100%"})}));
            if (meter.spent) {
                terms.push_back(any({"", "not "}) + meter.name + " spent");
            }
        }
        if (!spec.cooldowns.empty()) {
            terms.push_back(any({"wait ready", "not wait ready"}));
        }
        if (!spec.modifiers.empty()) {
            terms.push_back(any({"", "not "}) + spec.modifiers.back().name + " active");
        }
        return terms[below(static_cast<unsigned>(terms.size()))];
    }

    Condition condition(const ChartSpec& spec, bool momentary) {
        std::vector<std::vector<std::string>> clauses(chance(20) ? 2 : 1);
        for (std::vector<std::string>& clause : clauses) {
            const unsigned terms = 1 + below(3);
            for (unsigned i = 0; i < terms; ++i) {
                clause.push_back(term(spec, momentary));
            }
        }
        return Condition(clauses);
    }
};

}  // namespace support
