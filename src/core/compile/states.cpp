#include <fmt/format.h>

#include <algorithm>

#include "core/compile/compile.hpp"
#include "core/kinds/kind.hpp"

namespace cursimeter::detail {
namespace {

/// Turns key points into pieces, ascending in fraction. A falling curve is walked backwards.
GainRate compile_curve(const std::string& path, const std::vector<CurvePoint>& points, bool rising,
                       ChartData& chart, Findings& findings) {
    GainRate rate;
    rate.first_piece = static_cast<std::uint16_t>(chart.pieces.size());
    if (points.size() < 2 || points.size() > limits::curve_points) {
        findings.add_relation(path, fmt::format("has {} key points", points.size()),
                              fmt::format("give 2 to {}", limits::curve_points));
        return rate;
    }
    const double first = rising ? 0.0 : 1.0;
    if (points.front() != CurvePoint{0.0, first} || points.back().fraction != 1.0 - first) {
        findings.add_relation(
            path,
            fmt::format("runs from [{}, {}] to [{}, {}]", points.front().seconds, points.front().fraction,
                        points.back().seconds, points.back().fraction),
            fmt::format("begin at [0, {}] and end at fraction {}", first, 1.0 - first));
        return rate;
    }
    for (std::size_t i = 1; i < points.size(); ++i) {
        const double seconds = points[i].seconds - points[i - 1].seconds;
        const double fraction = points[i].fraction - points[i - 1].fraction;
        if (!(seconds > 0.0) || !(rising ? fraction > 0.0 : fraction < 0.0)) {
            findings.add_relation(
                fmt::format("{}[{}]", path, i + 1),
                fmt::format("[{}, {}] does not follow [{}, {}]", points[i].seconds, points[i].fraction,
                            points[i - 1].seconds, points[i - 1].fraction),
                rising ? "let seconds and fractions both rise" : "let seconds rise and fractions fall",
                {path});
            return rate;
        }
        const double low = std::min(points[i].fraction, points[i - 1].fraction);
        const double high = std::max(points[i].fraction, points[i - 1].fraction);
        chart.pieces.push_back({low, high, (high - low) / seconds});
    }
    if (!rising) {
        std::reverse(chart.pieces.begin() + rate.first_piece, chart.pieces.end());
    }
    rate.piece_count = static_cast<std::uint16_t>(points.size() - 1);
    return rate;
}

CompiledGain compile_gain(const StateSpec& state, ChartData& chart, Findings& findings) {
    const GainSpec& gain = state.gain;
    const std::string path = fmt::format("states.{}.gain", state.name);
    CompiledGain compiled;
    compiled.law = gain.law.value_or(GainLaw::instant);
    compiled.turns_at_once = gain.turn == Turning::at_once || compiled.law == GainLaw::instant;
    const auto need = [&](bool given, const char* key, const char* law) {
        if (!given) {
            findings.add_relation(path, fmt::format("law \"{}\" needs {}", law, key),
                                  fmt::format("say {} = ...", key), {"*.gain"});
        }
    };
    switch (compiled.law) {
        case GainLaw::instant:
            break;
        case GainLaw::ramp:
            need(gain.up.has_value(), "up", "ramp");
            compiled.up.value = gain.up.value_or(1.0);
            compiled.down.value = gain.down.value_or(compiled.up.value);
            compiled.idle.value = gain.idle.value_or(compiled.down.value);
            break;
        case GainLaw::ease:
            need(gain.up_half_life.has_value(), "up_half_life", "ease");
            compiled.up.value = gain.up_half_life.value_or(1.0);
            compiled.down.value = gain.down_half_life.value_or(compiled.up.value);
            compiled.idle.value = gain.idle_half_life.value_or(compiled.down.value);
            break;
        case GainLaw::curve:
            need(gain.up_curve.has_value(), "up_curve", "curve");
            if (gain.up_curve) {
                compiled.up = compile_curve(path + ".up_curve", *gain.up_curve, true, chart, findings);
            }
            compiled.down = gain.down_curve ? compile_curve(path + ".down_curve", *gain.down_curve, false,
                                                            chart, findings)
                                            : compiled.up;
            compiled.idle = gain.idle_curve ? compile_curve(path + ".idle_curve", *gain.idle_curve, false,
                                                            chart, findings)
                                            : compiled.down;
            if (state.speed.forward && !(*state.speed.forward > 0.0)) {
                findings.add_relation(path, "a curve needs a forward speed to be a fraction of",
                                      "give speed.forward > 0 or another law", {"*.speed"});
            }
            break;
    }
    for (GainRate* rate : {&compiled.up, &compiled.down, &compiled.idle}) {
        rate->inverse = rate->value > 0.0 ? 1.0 / rate->value : 0.0;
    }
    return compiled;
}

void compile_drains(const StateSpec& state, const std::vector<std::string>& meters, CompiledState& compiled,
                    Findings& findings) {
    const auto add = [&](const std::vector<RateSpec>& rates, const char* key, double Drain::*member) {
        for (const RateSpec& rate : rates) {
            const auto found = std::find(meters.begin(), meters.end(), rate.meter);
            if (found == meters.end()) {
                findings.add(fmt::format("states.{}.{}.{}", state.name, key, rate.meter),
                             fmt::format("no meter is named '{}'", rate.meter),
                             advise_name(rate.meter, meters));
                continue;
            }
            if (!(rate.rate > 0.0)) {
                continue;
            }
            const auto index = static_cast<std::size_t>(found - meters.begin());
            if (index < limits::meters) {
                compiled.drains[index].*member = rate.rate;
                compiled.drained = static_cast<MeterMask>(compiled.drained | 1U << index);
            }
        }
    };
    add(state.drain, "drain", &Drain::per_second);
    add(state.drain_per_metre, "drain_per_metre", &Drain::per_metre);
}

}  // namespace

void compile_states(const ChartSpec& spec, const std::vector<StateSpec>& resolved, ChartData& chart,
                    Findings& findings) {
    const std::vector<std::string> names = names_of(resolved);
    const std::vector<std::string> meters = names_of(spec.meters);
    for (const StateSpec& state : resolved) {
        const std::string path = "states." + state.name;
        CompiledState compiled;
        compiled.name = state.name;
        compiled.was = state.was.value_or("");
        if (!state.kind) {
            findings.add_relation(path, "has no kind",
                                  "say kind = \"ground\", or be like a state that has one", {"*.kind"});
        }
        const bool needs_speed =
            row_of(state.kind.value_or(StateKind::ground)).needs_speed || state.air.steer.value_or(0.0) > 0.0;
        if (needs_speed && !state.speed.forward) {
            findings.add_relation(path + ".speed", "has no forward", "say speed = { forward = ... } in m/s",
                                  {"*.speed", "*.kind"});
        }
        compiled.forward = state.speed.forward.value_or(0.0);
        compiled.side = state.speed.side.value_or(compiled.forward);
        compiled.back = state.speed.back.value_or(compiled.side);
        compiled.strides_per_metre = state.stride && *state.stride > 0.0 ? 0.5 / *state.stride : 0.0;
        chart.has_strides = chart.has_strides || compiled.strides_per_metre > 0.0;
        compiled.gain = compile_gain(state, chart, findings);
        compile_drains(state, meters, compiled, findings);
        compile_kind(spec, state, chart, compiled, findings);
        if (!state.from) {
            compiled.from = ~StateMask{0};
        } else {
            for (std::size_t i = 0; i < state.from->size(); ++i) {
                const std::string& from = (*state.from)[i];
                const auto found = std::find(names.begin(), names.end(), from);
                if (found == names.end()) {
                    findings.add(fmt::format("{}.from[{}]", path, i + 1),
                                 fmt::format("no state is named '{}'", from), advise_name(from, names));
                } else {
                    compiled.from |= StateMask{1} << ((found - names.begin()) & 63);
                }
            }
        }
        chart.states.push_back(std::move(compiled));
    }
    for (CompiledState& state : chart.states) {  // steps are timed segment by segment
        state.follows_turns = state.traits.stands && state.gain.law != GainLaw::curve;
        state.arcs_on_ramp = state.gain.law == GainLaw::ramp && !state.gain.turns_at_once;
    }
}

}  // namespace cursimeter::detail
