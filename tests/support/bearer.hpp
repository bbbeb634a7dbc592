#pragma once

#include <cmath>
#include <cursimeter/cursimeter.hpp>
#include <cursimeter/drill/drill.hpp>
#include <string>
#include <vector>

/// Charts and small helpers that many tests share.
namespace support {

using namespace cursimeter;

inline constexpr Move ahead{.forward = 1.0, .side = 0.0};

inline GainSpec ramp(double up, double down, double idle) {
    GainSpec gain;
    gain.law = GainLaw::ramp;
    gain.up = up;
    gain.down = down;
    gain.idle = idle;
    return gain;
}

inline GainSpec ease(double up, double down, double idle) {
    GainSpec gain;
    gain.law = GainLaw::ease;
    gain.up_half_life = up;
    gain.down_half_life = down;
    gain.idle_half_life = idle;
    return gain;
}

inline GainSpec curve(std::vector<CurvePoint> up, std::vector<CurvePoint> down) {
    GainSpec gain;
    gain.law = GainLaw::curve;
    gain.up_curve = std::move(up);
    gain.down_curve = std::move(down);
    return gain;
}

/// The same law, for the speed alone.
inline GainSpec at_once(GainSpec gain) {
    gain.turn = Turning::at_once;
    return gain;
}

inline StateSpec state(const std::string& name, SpeedSpec speed, GainSpec gain = {}) {
    StateSpec spec;
    spec.name = name;
    spec.kind = StateKind::ground;
    spec.speed = speed;
    spec.gain = std::move(gain);
    return spec;
}

inline MeterSpec stamina() {
    return {.name = "stamina",
            .capacity = 100.0,
            .start = {},
            .refill = RefillSpec{.rate = 18.0, .wait = 0.7},
            .spent = SpentSpec{.at = 0.0, .until = 30.0}};
}

/// One state, nothing else.
inline ChartSpec walker(SpeedSpec speed, GainSpec gain = {}) {
    ChartSpec spec;
    spec.name = "walker";
    spec.rank = {"walk"};
    spec.states = {state("walk", speed, std::move(gain))};
    return spec;
}

/// Walk, and sprint on stamina.
inline ChartSpec bearer(GainSpec gain = {}) {
    ChartSpec spec;
    spec.name = "bearer";
    spec.rank = {"sprint", "walk"};
    spec.actions = {{.name = "sprint"}};
    spec.meters = {stamina()};
    StateSpec sprint = state("sprint", {.forward = 6.5, .side = {}, .back = {}});
    sprint.gain = {};
    sprint.like = "walk";
    sprint.enter = Condition{"sprint on", "moving forward", "grounded", "stamina >= 10"};
    sprint.stay = Condition{"sprint on", "moving forward", "grounded", "stamina > 0"};
    sprint.drain = {{"stamina", 12.0}};
    spec.states = {state("walk", {.forward = 2.4, .side = 2.1, .back = 1.6}, std::move(gain)), sprint};
    return spec;
}

/// One call of advance with an intent that does not change inside the tick.
inline Report tick(const Chart& chart, Runner& runner, Move move, std::vector<ActionId> held = {},
                   double dt = 1.0 / 60.0, double yaw = 0.0) {
    Intent intent;
    intent.move = move;
    intent.look.yaw = yaw;
    for (const ActionId action : held) {
        intent.hold(action);
    }
    return advance(chart, runner, intent, Seconds{dt});
}

/// Advances by `seconds` in ticks of `dt`, the last one shorter.
inline void pass(const Chart& chart, Runner& runner, Move move, double seconds, double dt = 1.0 / 60.0,
                 std::vector<ActionId> held = {}) {
    while (seconds > 1e-12) {
        static_cast<void>(tick(chart, runner, move, held, std::min(dt, seconds)));
        seconds -= dt;
    }
}

inline bool near(double a, double b, double margin) {
    return std::fabs(a - b) <= margin;
}

/// The first event of a kind in a report, or null.
inline const Event* find(const Report& report, EventKind kind) {
    for (const Event& event : report.events()) {
        if (event.kind == kind) {
            return &event;
        }
    }
    return nullptr;
}

inline std::size_t count(const Report& report, EventKind kind) {
    std::size_t n = 0;
    for (const Event& event : report.events()) {
        n += event.kind == kind ? 1 : 0;
    }
    return n;
}

/// The text of all diagnostics of a call that must throw.
template <class Call>
std::string complaint(Call&& call) {
    try {
        call();
    } catch (const ChartError& error) {
        return error.what();
    }
    return "(no complaint)";
}

}  // namespace support
