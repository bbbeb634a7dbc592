#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <cursimeter/effects.hpp>

#include "core/chart/facts.hpp"
#include "core/choose/choose.hpp"
#include "core/choose/gather.hpp"
#include "core/effects/cooldowns.hpp"
#include "core/effects/grants.hpp"
#include "core/effects/meters.hpp"
#include "core/motion/aim.hpp"
#include "core/numbers/space.hpp"
#include "core/runner/amounts.hpp"
#include "core/runner/charges.hpp"
#include "core/runner/instant.hpp"
#include "core/runner/levels.hpp"
#include "core/runner/pair.hpp"
#include "core/runner/timers.hpp"
#include "core/runner/wake.hpp"
#include "core/tick/entry.hpp"
#include "core/want/blocks.hpp"

namespace cursimeter {
namespace {

using detail::ChartData;
using detail::RunnerAccess;
using detail::RunnerState;

[[noreturn]] void refuse(const char* what, std::string wrong, std::string mend) {
    throw ChartError({{what, std::move(wrong), std::move(mend), {}, 0, 0}});
}

double checked_amount(const char* what, double amount) {
    if (!(amount >= 0.0) || !std::isfinite(amount)) {
        refuse(what, fmt::format("{} is no amount", amount), "give a finite number of 0 or more");
    }
    return amount;
}

}  // namespace

bool try_spend(const Chart& chart, Runner& runner, MeterId meter, double amount) {
    static_cast<void>(chart.name(meter));
    checked_amount("try_spend", amount);
    RunnerState& state = detail::paired(chart, runner, "try_spend");
    if (detail::level_now(chart.data(), state, meter.index) < amount) {
        return false;
    }
    detail::write_levels(chart.data(), state);
    double& level = state.meters[meter.index].level;
    level = detail::level_beside_marks(chart.data().meters[meter.index], level - amount);
    detail::hold_refill(chart.data(), state, meter.index);
    state.levels_moved = static_cast<detail::MeterMask>(state.levels_moved | 1U << meter.index);
    detail::wake(state);
    return true;
}

double grant(const Chart& chart, Runner& runner, MeterId meter, double amount) {
    const double capacity = chart.capacity(meter);
    checked_amount("grant", amount);
    RunnerState& state = detail::paired(chart, runner, "grant");
    detail::write_levels(chart.data(), state);
    double& level = state.meters[meter.index].level;
    const double before = level;
    level = detail::level_beside_marks(chart.data().meters[meter.index], std::min(capacity, level + amount));
    state.levels_moved = static_cast<detail::MeterMask>(state.levels_moved | 1U << meter.index);
    detail::wake(state);
    return level - before;
}

bool grant(const Chart& chart, Runner& runner, ModifierId modifier, const Grant& grant) {
    static_cast<void>(chart.name(modifier));
    if (!(grant.strength >= detail::least_strength) || !(grant.strength <= detail::most_strength) ||
        grant.source > 250) {
        refuse("grant",
               fmt::format("source {} with strength {} is out of range", grant.source, grant.strength),
               fmt::format("give a source of 0 to 250 and a strength of {} to {}", detail::least_strength,
                           detail::most_strength));
    }
    RunnerState& state = detail::paired(chart, runner, "grant");
    const auto strength = static_cast<std::uint8_t>(grant.strength * 100.0 + 0.5);
    if (!detail::grant_modifier(chart.data(), state, modifier.index, grant.source, strength)) {
        return false;
    }
    detail::wake(state);
    return true;
}

bool remove(const Chart& chart, Runner& runner, ModifierId modifier, std::uint8_t source, Removal removal) {
    static_cast<void>(chart.name(modifier));
    RunnerState& state = detail::paired(chart, runner, "remove");
    const bool any =
        detail::release_modifier(chart.data(), state, modifier.index, source, removal == Removal::at_once);
    if (any) {
        detail::wake(state);
    }
    return any;
}

ModifierReading read_modifier(const Chart& chart, const Runner& runner, ModifierId modifier) {
    static_cast<void>(chart.name(modifier));
    const RunnerState& state = detail::paired(chart, runner, "read_modifier");
    ModifierReading reading;
    for (const detail::ModifierState& at_work : state.modifiers) {
        if (at_work.strength == 0 || at_work.modifier != modifier.index) {
            continue;
        }
        reading.active = reading.active || detail::is_active(at_work);
        reading.stacks += detail::is_active(at_work) ? at_work.stacks : 0;
        reading.strength = std::max(reading.strength, detail::weight_of(chart.data(), state, at_work));
        if (at_work.timed) {
            const double left = std::max(0.0, detail::time_of(at_work.stamp, state.clock) - state.clock);
            reading.left = Seconds{std::max(left, reading.left.value_or(Seconds{0.0}).value)};
        }
    }
    return reading;
}

CooldownReading read_cooldown(const Chart& chart, const Runner& runner, CooldownId cooldown) {
    static_cast<void>(chart.name(cooldown));
    const ChartData& data = chart.data();
    const RunnerState& state = detail::paired(chart, runner, "read_cooldown");
    const unsigned used = detail::charges_used(state, cooldown.index);
    CooldownReading reading;
    reading.charges = static_cast<int>(data.cooldowns[cooldown.index].charges - used);
    reading.ready = reading.charges > 0;
    reading.left = cooldown_left(chart, runner, cooldown);
    const double rate = detail::cooldown_rates(data, state)[cooldown.index];
    const double whole = data.cooldowns[cooldown.index].seconds / rate;
    reading.fraction = used == 0 ? 1.0 : std::clamp(1.0 - reading.left.value / whole, 0.0, 1.0);
    if (used != 0 && reading.left.value == 0.0) {
        reading.fraction = 0.0;  // the wait has not begun: the state is still on
    }
    return reading;
}

bool try_use(const Chart& chart, Runner& runner, CooldownId cooldown) {
    static_cast<void>(chart.name(cooldown));
    const ChartData& data = chart.data();
    RunnerState& state = detail::paired(chart, runner, "try_use");
    if (!detail::is_ready(data, state, cooldown.index)) {
        return false;
    }
    detail::use_charge(data, state, cooldown.index);
    detail::leave_cooldown(data, state, cooldown.index);  // what it is used for is over at once
    detail::wake(state);
    return true;
}

int refund(const Chart& chart, Runner& runner, CooldownId cooldown, int charges) {
    static_cast<void>(chart.name(cooldown));
    if (charges < 0) {
        refuse("refund", fmt::format("{} is no number of charges", charges), "give 0 or more");
    }
    RunnerState& state = detail::paired(chart, runner, "refund");
    detail::wake(state);
    return static_cast<int>(detail::refund_charges(state, cooldown.index, static_cast<unsigned>(charges)));
}

int block(const Chart& chart, Runner& runner, BlockId block) {
    static_cast<void>(chart.name(block));
    return detail::begin_block(chart.data(), detail::paired(chart, runner, "block"), block.index);
}

int unblock(const Chart& chart, Runner& runner, BlockId block) {
    static_cast<void>(chart.name(block));
    return detail::end_block(chart.data(), detail::paired(chart, runner, "unblock"), block.index);
}

int blocked(const Chart& chart, const Runner& runner, BlockId block) {
    static_cast<void>(chart.name(block));
    return detail::paired(chart, runner, "blocked").blocks[block.index];
}

void hold_action(const Chart& chart, Runner& runner, ActionId action, bool on) {
    static_cast<void>(chart.name(action));
    RunnerState& state = detail::paired(chart, runner, "hold_action");
    const detail::ActionMask mask = key_bit(action);
    state.held_by_game = on ? state.held_by_game | mask : state.held_by_game & ~mask;
    detail::wake(state);
}

Possibility could_enter(const Chart& chart, const Runner& runner, StateId state) {
    static_cast<void>(chart.name(state));
    RunnerState now = detail::paired(chart, runner, "could_enter");
    const ChartData& data = chart.data();
    detail::catch_up_levels(data, now);
    const detail::Facts facts = detail::gather(data, now, 0, detail::meter_facts(data, now));
    const detail::CompiledState& asked = data.states[state.index];
    const int ban = detail::block_against(data, now, {0, detail::StateMask{1} << state.index, false});
    if (ban >= 0) {
        return {false, {CauseKind::blocked, static_cast<std::uint16_t>(ban)}};
    }
    if ((asked.from >> now.state & 1U) == 0) {
        return {false, {CauseKind::from, now.state}};
    }
    std::optional<Cause> first;
    for (std::uint16_t i = 0; i < asked.enter.clause_count; ++i) {
        const detail::Clause& clause = data.clauses[static_cast<std::size_t>(asked.enter.first_clause) + i];
        std::optional<Cause> failing;
        for (std::uint16_t k = 0; k < clause.term_count && !failing; ++k) {
            const auto term = static_cast<std::uint16_t>(clause.first_term + k);
            const detail::Term& wanted = data.terms[term];
            if (!wanted.is_momentary() && !wanted.holds(facts)) {
                failing = Cause{CauseKind::fails, term};
            }
        }
        if (!failing) {
            return {true, {CauseKind::follows, 0}};
        }
        first = first ? first : failing;
    }
    return first ? Possibility{false, *first} : Possibility{true, {CauseKind::follows, 0}};
}

double turn_rate(const Chart& chart, const Runner& runner, double base) {
    return detail::modified(chart.data(), detail::paired(chart, runner, "turn_rate"), detail::measure::turn,
                            base);
}

SpeedReading read_speed(const Chart& chart, const Runner& runner) {
    const ChartData& data = chart.data();
    const RunnerState& state = detail::paired(chart, runner, "read_speed");
    const detail::WantedParts parts = detail::wanted_parts(data, state);
    const double base = detail::length_of(parts.full);
    SpeedReading reading;
    reading.base = detail::full_speed_of(data, state);
    reading.top =
        detail::modified(data, state, detail::measure::speed, reading.base) * parts.pace * parts.slope;
    const auto add = [&](SpeedPart part) { reading.parts[reading.count++] = part; };
    add({SpeedPartKind::base, {}, base, 1.0});
    double sum = base, factor = 1.0;
    for (std::uint8_t i = 0; i < data.modifiers.size(); ++i) {
        const detail::Amount amount = detail::amount_of(data, state, i, detail::measure::speed);
        if (amount.adds != 0.0 || amount.times != 1.0) {
            add({SpeedPartKind::modifier, ModifierId{i}, amount.adds, amount.times});
            sum += amount.adds;
            factor *= amount.times;
        }
    }
    const double held = detail::modified(data, state, detail::measure::speed, base);
    if (sum * factor > 0.0 && std::fabs(held - sum * factor) > 1e-12 * held) {
        add({SpeedPartKind::limit, {}, 0.0, held / (sum * factor)});
    }
    add({SpeedPartKind::stick, {}, 0.0, parts.stick});
    add({SpeedPartKind::zone, {}, 0.0, parts.pace});
    add({SpeedPartKind::slope, {}, 0.0, parts.slope});
    reading.target = held * parts.stick * parts.pace * parts.slope;
    return reading;
}

Report force_state(const Chart& chart, Runner& runner, StateId state) {
    static_cast<void>(chart.name(state));
    Report report;
    RunnerState& now = detail::paired(chart, runner, "force_state");
    detail::write_levels(chart.data(), now);
    detail::Instant instant{chart.data(), now, report};
    detail::enter_state(instant, state.index, {CauseKind::forced, 0}, detail::Price::free);
    detail::wake(now);
    return report;
}

}  // namespace cursimeter
