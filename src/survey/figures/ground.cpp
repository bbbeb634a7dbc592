#include <fmt/format.h>

#include <cmath>

#include "core/compile/compile.hpp"
#include "survey/figures/figure_table.hpp"
#include "survey/probe.hpp"

/// Speeding up, stopping and turning round, by gain law. With v the top speed and a the rate of a ramp:
/// time v / a, way v^2 / 2a. An ease with half-life h never arrives, so it counts from 99 % on: its gap to the target
/// is 2^(-t/h), so that takes h log2(100), and the gap's integral is h / ln 2 times what it has shrunk by.
namespace cursimeter::survey {
namespace {

constexpr double arrived = 0.01;  ///< part of the top speed that is left of an ease

struct Stretch {
    double seconds = 0.0, metres = 0.0;
};

/// From standing to the top speed.
Stretch ramp_way(double v, double a) {
    return {v / a, v * v / (2.0 * a)};
}
Stretch ease_up(double v, double h) {
    const double seconds = h * std::log2(1.0 / arrived);
    return {seconds, v * seconds - v * (1.0 - arrived) * h / std::log(2.0)};
}
Stretch ease_down(double v, double h) {
    return {h * std::log2(1.0 / arrived), v * (1.0 - arrived) * h / std::log(2.0)};
}

/// The chart with this state alone, always in force, and another that its speed leads to.
ChartSpec alone(const FigureSource& source, std::uint8_t index) {
    detail::Findings findings;
    StateSpec state = detail::resolve_like(source.spec, findings)[index];
    state.like.reset();
    state.enter = Condition{};
    state.stay.reset();
    state.from.reset();
    state.cost.clear();
    state.drain.clear();
    state.drain_per_metre.clear();
    state.cooldown.reset();
    state.low.reset();
    state.stride.reset();
    ChartSpec spec;
    spec.name = "alone";
    spec.body = source.spec.body;
    spec.states = {state};
    spec.rank = {state.name};
    return spec;
}

/// Simulated: when the speed passes a mark, with a move or without, from standing or from the top speed.
Stretch time_to(const FigureSource& source, std::uint8_t index, bool from_top, bool wanted, double speed) {
    ChartSpec spec = alone(source, index);
    StateSpec mark = spec.states[0];
    mark.name = mark.name + "_mark";
    mark.enter = Condition{fmt::format("speed {} {}", from_top ? "<=" : ">=", speed)};
    if (from_top) {
        spec.actions = {{.name = "brake"}};
        mark.enter->any_of[0].insert(mark.enter->any_of[0].begin(), "brake on");
    }
    spec.states.push_back(mark);
    spec.rank.insert(spec.rank.begin(), mark.name);
    const Chart chart = compile(spec);
    Probe probe(chart);
    if (from_top) {
        probe.move = {1.0, 0.0};
        probe.settle_speed(60.0);
        probe.held = 1;
        probe.move = wanted ? Move{1.0, 0.0} : Move{};
    } else {
        probe.move = {1.0, 0.0};
    }
    const double begun = probe.now(), walked = probe.runner().distance();
    if (!probe.until_event(EventKind::entered, 1, 60.0)) {
        return {no_figure, no_figure};
    }
    return {probe.now() - begun, probe.runner().distance() - walked};
}

/// Turning round at the top speed, simulated: until the velocity along the new way is `reached`. `metres` is how
/// far it went on the old way meanwhile.
Stretch turn_round(const FigureSource& source, std::uint8_t index, double reached) {
    const Chart chart = compile(alone(source, index));
    Probe probe(chart);
    probe.move = {1.0, 0.0};
    probe.settle_speed(60.0);
    const double begun = probe.now(), from = probe.runner().position().x;
    probe.look.yaw = 3.141592653589793;
    double farthest = 0.0, step = 1e-4;
    while (probe.now() - begun < 60.0) {
        probe.pass(step);
        farthest = std::max(farthest, probe.runner().position().x - from);
        if (-probe.runner().velocity().x >= reached) {
            return {probe.now() - begun, farthest};
        }
    }
    return {no_figure, no_figure};
}

struct Changing {
    Stretch up, stop, turn;
    std::string how, how_turned;
};

const std::string at_once = "closed form: at once";

Changing changing_of(const FigureSource& source, std::uint8_t index) {
    const detail::CompiledState& state = source.state(index);
    const detail::CompiledGain& gain = state.gain;
    const double v = state.forward;
    Changing found;
    switch (gain.law) {
        case GainLaw::instant:
            found.how = at_once;
            break;
        case GainLaw::ramp: {
            found.up = ramp_way(v, gain.up.value);
            found.stop = ramp_way(v, gain.idle.value);
            const Stretch brake = ramp_way(v, gain.down.value);
            found.turn = {brake.seconds + found.up.seconds, brake.metres};
            found.how = "closed form: v / a, v^2 / 2a";
            break;
        }
        case GainLaw::ease: {
            found.up = ease_up(v, gain.up.value);
            found.stop = ease_down(v, gain.idle.value);
            const double h = gain.down.value;  // its gap halves from 2 v to v until it stands
            found.turn = {h + found.up.seconds, v * h * (1.0 / std::log(2.0) - 1.0)};
            found.how = "closed form: half-lives, to 99 %";
            break;
        }
        case GainLaw::curve:
            found.up = time_to(source, index, false, true, v);
            found.stop = time_to(source, index, true, false, 1e-9);
            found.turn = turn_round(source, index, v * (1.0 - 1e-9));
            found.how = simulated + ", turning to 0.1 ms";
            break;
    }
    found.how_turned = found.how;
    if (gain.turns_at_once) {
        found.turn = {};
        found.how_turned = at_once;
    }
    return found;
}

}  // namespace

void add_ground_figures(FigureTable& table, const FigureSource& source, std::uint8_t index) {
    const detail::CompiledState& state = source.state(index);
    const std::string first = state.name + ".";
    const auto top = [&](const char* name, double speed, const char* where) {
        table.push_back({first + name, "m/s", fmt::format("top speed {}", where), [speed] {
                             return Answer{speed, "closed form: the chart's"};
                         }});
    };
    top("top_forward", state.forward, "ahead");
    top("top_side", state.side, "sideways");
    top("top_back", state.back, "backward");
    if (state.forward <= 0.0) {
        return;
    }
    const auto add = [&](const char* name, const char* unit, const char* meaning, auto part,
                         std::string Changing::*how = &Changing::how) {
        table.push_back({first + name, unit, meaning, [&source, index, part, how] {
                             const Changing found = changing_of(source, index);
                             return Answer{part(found), found.*how};
                         }});
    };
    add("up_time", "s", "from standing to the top speed ahead",
        [](const Changing& c) { return c.up.seconds; });
    add("up_distance", "m", "the way that takes", [](const Changing& c) { return c.up.metres; });
    add("stop_time", "s", "from the top speed to a stand, nothing held",
        [](const Changing& c) { return c.stop.seconds; });
    add("stop_distance", "m", "the way that takes", [](const Changing& c) { return c.stop.metres; });
    add(
        "turn_time", "s", "from the top speed to the top speed the other way",
        [](const Changing& c) { return c.turn.seconds; }, &Changing::how_turned);
    add(
        "turn_overshoot", "m", "how far it goes on the old way meanwhile",
        [](const Changing& c) { return c.turn.metres; }, &Changing::how_turned);
}

}  // namespace cursimeter::survey
