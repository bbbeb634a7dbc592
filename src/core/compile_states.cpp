#include <fmt/format.h>

#include <algorithm>

#include "core/compile.hpp"

namespace cursimeter::detail {
namespace {

template <class T>
void take_over(std::optional<T>& mine, const std::optional<T>& theirs) {
    if (!mine) {
        mine = theirs;
    }
}

void take_over(std::vector<RateSpec>& mine, const std::vector<RateSpec>& theirs) {
    for (const RateSpec& rate : theirs) {
        const bool said = std::any_of(mine.begin(), mine.end(),
                                      [&](const RateSpec& own) { return own.meter == rate.meter; });
        if (!said) {
            mine.push_back(rate);
        }
    }
}

void take_over(GainSpec& mine, const GainSpec& theirs) {
    if (mine.law && theirs.law && *mine.law != *theirs.law) {
        return;  // another law's numbers mean nothing here
    }
    take_over(mine.law, theirs.law);
    take_over(mine.up, theirs.up);
    take_over(mine.down, theirs.down);
    take_over(mine.idle, theirs.idle);
    take_over(mine.up_half_life, theirs.up_half_life);
    take_over(mine.down_half_life, theirs.down_half_life);
    take_over(mine.idle_half_life, theirs.idle_half_life);
    take_over(mine.up_curve, theirs.up_curve);
    take_over(mine.down_curve, theirs.down_curve);
    take_over(mine.idle_curve, theirs.idle_curve);
}

void take_over(AirSpec& mine, const AirSpec& theirs) {
    take_over(mine.rise_gravity, theirs.rise_gravity);
    take_over(mine.fall_gravity, theirs.fall_gravity);
    take_over(mine.terminal, theirs.terminal);
    take_over(mine.steer, theirs.steer);
    take_over(mine.brake, theirs.brake);
}

void take_over(LaunchSpec& mine, const LaunchSpec& theirs) {
    take_over(mine.heights, theirs.heights);
    take_over(mine.least, theirs.least);
    take_over(mine.by, theirs.by);
    take_over(mine.away, theirs.away);
    take_over(mine.away_speed, theirs.away_speed);
}

void take_over(SlideSpec& mine, const SlideSpec& theirs) {
    take_over(mine.boost, theirs.boost);
    take_over(mine.boost_limit, theirs.boost_limit);
    take_over(mine.friction, theirs.friction);
    take_over(mine.slope, theirs.slope);
    take_over(mine.top, theirs.top);
}

void take_over(BurstSpec& mine, const BurstSpec& theirs) {
    take_over(mine.along, theirs.along);
    if (!mine.speed && !mine.metres) {  // either of them says how far it goes
        mine.speed = theirs.speed;
        mine.metres = theirs.metres;
    }
    take_over(mine.seconds, theirs.seconds);
    take_over(mine.after, theirs.after);
    take_over(mine.gravity, theirs.gravity);
}

void take_over(FlySpec& mine, const FlySpec& theirs) {
    take_over(mine.by_look, theirs.by_look);
    take_over(mine.up, theirs.up);
    take_over(mine.down, theirs.down);
    take_over(mine.climb, theirs.climb);
    take_over(mine.dive, theirs.dive);
    take_over(mine.sink, theirs.sink);
}

void take_over(WallSpec& mine, const WallSpec& theirs) {
    take_over(mine.reach, theirs.reach);
    take_over(mine.least_speed, theirs.least_speed);
    take_over(mine.most_angle, theirs.most_angle);
    take_over(mine.seconds, theirs.seconds);
    take_over(mine.climb, theirs.climb);
    take_over(mine.gravity, theirs.gravity);
    take_over(mine.growth, theirs.growth);
}

void take_over(StateSpec& mine, const StateSpec& theirs) {
    take_over(mine.kind, theirs.kind);
    take_over(mine.speed.forward, theirs.speed.forward);
    take_over(mine.speed.side, theirs.speed.side);
    take_over(mine.speed.back, theirs.speed.back);
    take_over(mine.gain, theirs.gain);
    take_over(mine.slope.up, theirs.slope.up);
    take_over(mine.slope.down, theirs.slope.down);
    take_over(mine.air, theirs.air);
    take_over(mine.launch, theirs.launch);
    take_over(mine.slide, theirs.slide);
    take_over(mine.burst, theirs.burst);
    take_over(mine.fly, theirs.fly);
    take_over(mine.wall, theirs.wall);
    take_over(mine.low, theirs.low);
    take_over(mine.again, theirs.again);
    take_over(mine.wind, theirs.wind);
    take_over(mine.cost, theirs.cost);
    take_over(mine.cooldown, theirs.cooldown);
    take_over(mine.enter, theirs.enter);
    take_over(mine.stay, theirs.stay);
    take_over(mine.from, theirs.from);
    take_over(mine.drain, theirs.drain);
    take_over(mine.drain_per_metre, theirs.drain_per_metre);
    take_over(mine.drain_above, theirs.drain_above);
}

/// Resolves one state after the state it is like. `open` are the states being resolved.
class LikeResolver {
  public:
    LikeResolver(const ChartSpec& spec, Findings& findings)
        : states_(spec.states), names_(names_of(spec.states)), done_(states_.size()), findings_(findings) {}

    std::vector<StateSpec> run() {
        for (std::size_t i = 0; i < states_.size(); ++i) {
            resolve(i);
        }
        return std::move(states_);
    }

  private:
    void resolve(std::size_t index) {
        StateSpec& state = states_[index];
        if (done_[index] || !state.like) {
            done_[index] = true;
            return;
        }
        const std::string path = fmt::format("states.{}.like", state.name);
        const auto found = std::find(names_.begin(), names_.end(), *state.like);
        if (found == names_.end()) {
            findings_.add(path, fmt::format("no state is named '{}'", *state.like),
                          advise_name(*state.like, names_));
            give_up(index);
            return;
        }
        const auto other = static_cast<std::size_t>(found - names_.begin());
        const auto begin = std::find(open_.begin(), open_.end(), index);
        if (begin != open_.end()) {
            std::string ring;
            for (auto it = begin; it != open_.end(); ++it) {
                ring += names_[*it] + " is like ";
            }
            findings_.add(path, fmt::format("goes round in a circle: {}{}", ring, state.name),
                          "let one of them say everything itself");
            for (auto it = begin; it != open_.end(); ++it) {
                give_up(*it);
            }
            return;
        }
        open_.push_back(index);
        resolve(other);
        open_.pop_back();
        if (!done_[index]) {
            take_over(state, states_[other]);
            done_[index] = true;
        }
    }

    /// What the state would have taken over is unknown, and not missing: complain of nothing else.
    void give_up(std::size_t index) {
        StateSpec& state = states_[index];
        state.kind = state.kind.value_or(StateKind::ground);
        state.speed.forward = state.speed.forward.value_or(1.0);
        state.burst.seconds = state.burst.seconds.value_or(1.0);
        state.burst.speed = state.burst.speed.value_or(1.0);
        done_[index] = true;
    }

    std::vector<StateSpec> states_;
    std::vector<std::string> names_;
    std::vector<bool> done_;
    std::vector<std::size_t> open_;
    Findings& findings_;
};

/// Turns key points into pieces, ascending in fraction. A falling curve is walked backwards.
GainRate compile_curve(const std::string& path, const std::vector<CurvePoint>& points, bool rising,
                       ChartData& chart, Findings& findings) {
    GainRate rate;
    rate.first_piece = static_cast<std::uint16_t>(chart.pieces.size());
    if (points.size() < 2 || points.size() > limits::curve_points) {
        findings.add(path, fmt::format("has {} key points", points.size()),
                     fmt::format("give 2 to {}", limits::curve_points));
        return rate;
    }
    const double first = rising ? 0.0 : 1.0;
    if (points.front() != CurvePoint{0.0, first} || points.back().fraction != 1.0 - first) {
        findings.add(path,
                     fmt::format("runs from [{}, {}] to [{}, {}]", points.front().seconds,
                                 points.front().fraction, points.back().seconds, points.back().fraction),
                     fmt::format("begin at [0, {}] and end at fraction {}", first, 1.0 - first));
    }
    for (std::size_t i = 1; i < points.size(); ++i) {
        const double seconds = points[i].seconds - points[i - 1].seconds;
        const double fraction = points[i].fraction - points[i - 1].fraction;
        if (!(seconds > 0.0) || !(rising ? fraction > 0.0 : fraction < 0.0)) {
            findings.add(
                fmt::format("{}[{}]", path, i + 1),
                fmt::format("[{}, {}] does not follow [{}, {}]", points[i].seconds, points[i].fraction,
                            points[i - 1].seconds, points[i - 1].fraction),
                rising ? "let seconds and fractions both rise" : "let seconds rise and fractions fall");
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
    const auto need = [&](bool given, const char* key, const char* law) {
        if (!given) {
            findings.add(path, fmt::format("law \"{}\" needs {}", law, key),
                         fmt::format("say {} = ...", key));
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
                findings.add(path, "a curve needs a forward speed to be a fraction of",
                             "give speed.forward > 0 or another law");
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
                compiled.drained = static_cast<std::uint8_t>(compiled.drained | 1U << index);
            }
        }
    };
    add(state.drain, "drain", &Drain::per_second);
    add(state.drain_per_metre, "drain_per_metre", &Drain::per_metre);
}

}  // namespace

std::vector<StateSpec> resolve_like(const ChartSpec& spec, Findings& findings) {
    return LikeResolver(spec, findings).run();
}

void compile_states(const ChartSpec& spec, const std::vector<StateSpec>& resolved, ChartData& chart,
                    Findings& findings) {
    const std::vector<std::string> names = names_of(resolved);
    const std::vector<std::string> meters = names_of(spec.meters);
    for (const StateSpec& state : resolved) {
        const std::string path = "states." + state.name;
        CompiledState compiled;
        compiled.name = state.name;
        if (!state.kind) {
            findings.add(path, "has no kind", "say kind = \"ground\", or be like a state that has one");
        }
        const StateKind kind = state.kind.value_or(StateKind::ground);
        const bool steered = kind == StateKind::ground || kind == StateKind::fly || kind == StateKind::wall ||
                             (kind == StateKind::air && state.air.steer.value_or(0.0) > 0.0);
        if (steered && !state.speed.forward) {
            findings.add(path, "has no speed.forward", "say speed = { forward = ... } in m/s");
        }
        compiled.forward = state.speed.forward.value_or(0.0);
        compiled.side = state.speed.side.value_or(compiled.forward);
        compiled.back = state.speed.back.value_or(compiled.side);
        compiled.gain = compile_gain(state, chart, findings);
        compile_drains(state, meters, compiled, findings);
        compile_kind(spec, state, chart, compiled, findings);
        if (!state.from) {
            compiled.from = ~std::uint32_t{0};
        } else {
            for (std::size_t i = 0; i < state.from->size(); ++i) {
                const std::string& from = (*state.from)[i];
                const auto found = std::find(names.begin(), names.end(), from);
                if (found == names.end()) {
                    findings.add(fmt::format("{}.from[{}]", path, i + 1),
                                 fmt::format("no state is named '{}'", from), advise_name(from, names));
                } else {
                    compiled.from |= std::uint32_t{1} << ((found - names.begin()) & 31);
                }
            }
        }
        chart.states.push_back(std::move(compiled));
    }
}

}  // namespace cursimeter::detail
