#include "survey/require/speed_limits.hpp"

#include <algorithm>
#include <cmath>

#include "core/runner/amounts.hpp"

/// How each kind moves is told by core/kinds. Of that only what bounds the speed is used here: velocities go towards a target along
/// straight lines or round it at one distance, so they stay within the larger of what they were and the target.
namespace cursimeter::survey {

using detail::ChartData;
using detail::CompiledState;

namespace {

/// Size of the wish at full stick, in any direction.
double most_wanted(const ChartData& chart, const CompiledState& state) {
    return most_modified(chart, detail::measure::speed, std::max({state.forward, state.side, state.back}));
}

/// What a state steers to.
Fastest target_in(const ChartData& chart, const CompiledState& state) {
    const double wanted = most_wanted(chart, state);
    if (!state.traits.aims_in_space) {
        return {wanted, 0.0, 0.0, wanted};
    }
    const double by_look = state.fly.by_look ? wanted : 0.0;
    const double up = state.fly.climb - state.fly.sink, down = state.fly.dive + state.fly.sink;
    return {wanted, std::max(0.0, by_look + up), by_look + down, wanted + std::max(std::abs(up), down)};
}

double most_take_off(const ChartData& chart, const CompiledState& state) {
    double most = 0.0;
    for (std::size_t i = 0; i < state.launch.count; ++i) {
        most = std::max(most, state.launch.speeds[i]);
    }
    const double gravity = 2.0 * state.air.rise_gravity;
    const double height = most_modified(chart, detail::measure::jump, most * most / gravity);
    return height == most * most / gravity ? most : std::sqrt(gravity * height);
}

/// The velocity is made longer by `boost` as a whole, if it is below the limit, and up to it.
Fastest boosted(const detail::CompiledSlide& slide, Fastest fastest) {
    const auto longer = [&](double speed) {
        return std::max(speed, std::min(speed + slide.boost, slide.boost_limit));
    };
    return {longer(fastest.level), longer(fastest.up), longer(fastest.down), longer(fastest.whole)};
}

/// m/s; what falls gathers speed up to the terminal one.
double most_falling(const ChartData& chart, const CompiledState& state, double before,
                    const VisitLimits& limits) {
    if (limits.aloft) {
        return state.air.terminal;
    }
    const double pull = std::max({state.air.rise_gravity, state.air.fall_gravity, state.launch.cut_gravity});
    const double gathered = most_modified(chart, detail::measure::gravity, pull) * shortest_return.value;
    return std::min(state.air.terminal, before + gathered);
}

}  // namespace

void Fastest::widen(const Fastest& other) {
    level = std::max(level, other.level);
    up = std::max(up, other.up);
    down = std::max(down, other.down);
    whole = std::max(whole, other.whole);
}

void Fastest::put_together() {
    whole = std::hypot(level, std::max(up, down));
}

double most_modified(const ChartData& chart, unsigned measure, double base) {
    double adds = 0.0, factor = 1.0, at_least = 0.0, capped = 0.0;
    bool all_capped = true;
    for (const detail::CompiledModifier& modifier : chart.modifiers) {
        const double stacks = modifier.most * (detail::counts_once(modifier) ? 1.0 : limits::modifiers);
        double cap = detail::never;
        bool raises = false;
        for (const detail::Effect& effect : modifier.effects) {
            if (effect.measure != measure) {
                continue;
            }
            adds += std::max(0.0, effect.adds) * detail::most_strength * stacks;
            factor *= std::pow(1.0 + std::max(0.0, effect.times - 1.0) * detail::most_strength, stacks);
            at_least = std::max({at_least, effect.least, effect.sets.value_or(0.0)});
            cap = std::min(cap, effect.most);
            raises = raises || effect.adds > 0.0 || effect.times > 1.0 || effect.least > 0.0 || effect.sets;
        }
        if (raises) {
            all_capped = all_capped && cap < detail::never;
            capped = std::max(capped, cap);
        }
    }
    const double sum = base + adds;
    const double most = std::max(sum > 0.0 ? sum * factor : 0.0, at_least);
    // One that raises and has a limit of its own is never at work without it.
    return all_capped ? std::min(std::max(base, most), std::max(base, capped)) : std::max(base, most);
}

Fastest entered_at(const ChartData& chart, std::uint8_t from, std::uint8_t to, Fastest before) {
    const CompiledState& state = chart.states[to];
    const std::optional<After> after = chart.states[from].traits.after;
    Fastest now = after == After::stop     ? Fastest{}
                  : after == After::target ? target_in(chart, state)
                                           : before;
    switch (state.kind) {
        case StateKind::slide:
            now = boosted(state.slide, now);
            break;
        case StateKind::burst: {
            const double speed = most_modified(chart, detail::measure::burst, state.burst.speed);
            const auto* end = state.burst.along.data() + state.burst.along_count;
            const bool is_level = std::all_of(state.burst.along.data(), end, [](Along along) {
                return along == Along::input || along == Along::facing;
            });
            const double upright = is_level ? 0.0 : speed;
            now = {speed, upright, upright, speed};
            break;
        }
        case StateKind::wall:
            now.up = std::max(now.up, state.wall.climb);
            now.down = 0.0;
            now.put_together();
            break;
        case StateKind::ground:
        case StateKind::air:
        case StateKind::fly:
            break;
    }
    if (state.launch.count > 0) {
        now.level = state.launch.off_wall && state.launch.away_speed ? *state.launch.away_speed : now.level;
        now.up = most_take_off(chart, state);
        now.down = 0.0;
        now.put_together();
    }
    return now;
}

Fastest kept_at(const ChartData& chart, std::uint8_t number, Fastest entered, const VisitLimits& limits) {
    const CompiledState& state = chart.states[number];
    Fastest kept = entered;
    switch (state.kind) {
        case StateKind::ground:
        case StateKind::air:
        case StateKind::slide:  // each of them is thrown in the air
            kept.level = std::max(kept.level, most_wanted(chart, state));
            kept.down = std::max(kept.down, most_falling(chart, state, kept.down, limits));
            kept.put_together();
            break;
        case StateKind::burst:
            if (state.burst.gravity > 0.0) {
                kept.down += state.burst.gravity * limits.longest;
                kept.put_together();
            }
            break;
        case StateKind::fly:
            kept.widen(target_in(chart, state));
            if (state.gain.turns_at_once && state.gain.law != GainLaw::instant) {
                kept.level = kept.up = kept.down = kept.whole;
            }
            break;
        case StateKind::wall:
            kept.level = std::max(kept.level, most_wanted(chart, state));
            if (state.wall.gravity > 0.0 || state.wall.growth > 0.0) {
                const double gathered =
                    (state.wall.gravity + state.wall.growth * limits.longest) * limits.longest;
                kept.down = limits.longest < detail::never ? std::max(kept.down, gathered) : detail::never;
            }
            kept.put_together();
            break;
    }
    return kept;
}

double slowing_of(const ChartData& chart, std::uint8_t number) {
    const CompiledState& state = chart.states[number];
    const bool is_modified =
        std::any_of(chart.modifiers.begin(), chart.modifiers.end(), [](const detail::CompiledModifier& one) {
            return (one.measures >> detail::measure::gain & 1U) != 0;
        });
    if (state.kind == StateKind::slide) {
        return state.slide.friction;
    }
    return state.kind == StateKind::ground && state.gain.law == GainLaw::ramp && !is_modified
               ? state.gain.idle.value
               : 0.0;
}

}  // namespace cursimeter::survey
