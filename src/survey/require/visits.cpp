#include "survey/require/visits.hpp"

#include <algorithm>

#include "core/chart/facts.hpp"
#include "survey/check/entering.hpp"

namespace cursimeter::survey {
namespace {

using detail::DerivedFact;
using detail::Quantity;

std::vector<const detail::Clause*> clauses_of(const detail::ChartData& chart,
                                              const detail::CompiledCondition& condition) {
    std::vector<const detail::Clause*> all;
    for (std::uint16_t i = 0; i < condition.clause_count; ++i) {
        all.push_back(&chart.clauses[static_cast<std::size_t>(condition.first_clause) + i]);
    }
    return all;
}

}  // namespace

Visits::Visits(const detail::ChartData& chart, const FactSolver& solver, detail::StateMask restless,
               const Speeds* speeds)
    : chart_(chart), solver_(solver), speeds_(speeds), restless_(restless) {
    for (std::uint8_t state = 0; state < chart.states.size(); ++state) {
        restless_ |= is_left_at_once(chart, solver, state) ? detail::StateMask{1} << state : 0U;
    }
}

/// That no other state may be taken from this one; nothing if one always may.
std::optional<AllOf> Visits::none_takes_over(std::uint8_t state) const {
    AllOf all;
    for (std::uint8_t other = 0; other < chart_.states.size(); ++other) {
        if (other == state || (chart_.states[other].from >> state & 1U) == 0) {
            continue;
        }
        const std::optional<AllOf> none = none_of(chart_, chart_.states[other].enter);
        if (!none) {
            return std::nullopt;
        }
        append(all, *none);
    }
    return all;
}

std::vector<AllOf> Visits::settled(std::uint8_t state) const {
    std::vector<AllOf> moments;
    const detail::CompiledState& compiled = chart_.states[state];
    AllOf before;  // nothing that is tried earlier may be taken
    bool always_passed = false;
    for (const std::uint8_t earlier : chart_.rank) {
        if (earlier == state) {
            break;
        }
        if ((chart_.states[earlier].from >> state & 1U) == 0) {
            continue;
        }
        const std::optional<AllOf> none = none_of(chart_, chart_.states[earlier].enter);
        if (!none) {
            always_passed = true;
            break;
        }
        append(before, *none);
    }
    if (!always_passed) {
        for (AllOf& way : ways_of(chart_, compiled.stay)) {
            append(way, before);
            moments.push_back(std::move(way));
        }
    }
    const std::optional<AllOf> ended = none_of(chart_, compiled.stay);
    std::optional<AllOf> alone = none_takes_over(state);
    if (ended && alone) {
        append(*alone, *ended);
        moments.push_back(std::move(*alone));
    }
    if ((restless_ >> state & 1U) != 0) {
        for (const detail::Clause* way : clauses_of(chart_, compiled.enter)) {
            moments.push_back(just_entered(chart_, state, *way));
        }
    }
    for (std::uint8_t other = 0; other < chart_.states.size(); ++other) {
        const bool held_back = other == state || (chart_.states[other].from >> state & 1U) != 0;
        if (held_back && (restless_ >> other & 1U) != 0) {
            for (AllOf& way : ways_of(chart_, chart_.states[other].enter)) {
                moments.push_back(std::move(way));
            }
        }
    }
    return moments;
}

bool Visits::is_modified(unsigned measure) const {
    return std::any_of(
        chart_.modifiers.begin(), chart_.modifiers.end(),
        [&](const detail::CompiledModifier& one) { return (one.measures >> measure & 1U) != 0; });
}

/// Whether each way into the state asks for it.
bool Visits::asks_for(std::uint8_t state, Literal literal) const {
    const std::vector<const detail::Clause*> ways = clauses_of(chart_, chart_.states[state].enter);
    const unsigned bit = literal.fact - derived_first;
    return !ways.empty() && std::all_of(ways.begin(), ways.end(), [&](const detail::Clause* way) {
        return way->care.derived.test(bit) && way->want.derived.test(bit) == literal.set;
    });
}

/// The level just after the cost was paid.
Visits::Range Visits::level_at_entry(std::uint8_t state, std::uint8_t meter) const {
    const double capacity = chart_.meters[meter].capacity;
    const std::vector<const detail::Clause*> ways = clauses_of(chart_, chart_.states[state].enter);
    Range all = ways.empty() ? Range{0.0, capacity} : Range{capacity, 0.0};
    for (const detail::Clause* way : ways) {
        Range one{0.0, capacity};
        for (std::size_t bit = 0; bit < chart_.derived_facts.size(); ++bit) {
            const DerivedFact& fact = chart_.derived_facts[bit];
            const auto number = static_cast<unsigned>(bit);
            if (fact.quantity != Quantity::meter || fact.index != meter || !way->care.derived.test(number)) {
                continue;
            }
            if (way->want.derived.test(number)) {
                one.least = std::max(one.least, fact.from);
            } else {
                one.most = std::min(one.most, fact.from);
            }
        }
        all.least = std::min(all.least, one.least);
        all.most = std::max(all.most, one.most);
    }
    all.least = std::max(0.0, all.least - chart_.states[state].costs[meter]);
    return all;
}

/// Whether a runner may be spawned in the state, which then was not entered and paid nothing.
bool Visits::may_begin(std::uint8_t state) const {
    const std::vector<const detail::Clause*> ways = clauses_of(chart_, chart_.states[state].enter);
    return ways.empty() || std::any_of(ways.begin(), ways.end(), [](const detail::Clause* way) {
               return detail::presses_of(*way) == 0;
           });
}

AllOf Visits::during(std::uint8_t state) const {
    const detail::CompiledState& compiled = chart_.states[state];
    AllOf known = speeds_during(state);
    if (may_begin(state)) {
        return known;
    }
    for (std::size_t bit = 0; bit < chart_.derived_facts.size(); ++bit) {
        const DerivedFact& fact = chart_.derived_facts[bit];
        if (fact.quantity == Quantity::meter) {
            const detail::CompiledMeter& meter = chart_.meters[fact.index];
            const Range at_entry = level_at_entry(state, fact.index);
            const bool drains = (compiled.drained >> fact.index & 1U) != 0;
            const bool refills =
                (meter.refill_in >> state & 1U) != 0 &&
                (meter.refill_rate > 0.0 || is_modified(detail::measure::refill_first + fact.index));
            const double rounding = 1e-3 * meter.capacity * detail::meter_quantum;
            if (!drains && fact.from <= at_entry.least + rounding) {
                known.push_back({derived(bit, true)});
            }
            if (!refills && at_entry.most < meter.capacity && fact.from >= at_entry.most) {
                known.push_back({derived(bit, false)});
            }
        } else if (fact.quantity == Quantity::latch) {
            const detail::CompiledMeter& meter = chart_.meters[fact.index];
            const bool drains = (compiled.drained >> fact.index & 1U) != 0;
            const double nearly = 4.0 * meter.capacity * detail::meter_quantum;
            const double least = level_at_entry(state, fact.index).least;
            const bool stays_open = asks_for(state, derived(bit, false)) &&
                                    (compiled.costs[fact.index] == 0.0 || least > meter.spent->at + nearly);
            const bool is_opened = least >= meter.spent->until - nearly;  // levels so near count as equal
            if (!drains && (stays_open || is_opened)) {
                known.push_back({derived(bit, false)});
            }
        } else if (fact.quantity == Quantity::ready && fact.index == compiled.cooldown) {
            const detail::CompiledCooldown& cooldown = chart_.cooldowns[fact.index];
            const std::optional<double> lasts = longest(state);
            if (!cooldown.from_end && cooldown.charges == 1 && lasts && *lasts < cooldown.seconds &&
                !is_modified(detail::measure::cooldown_first + fact.index)) {
                known.push_back({derived(bit, false)});
            }
        }
    }
    return known;
}

AllOf Visits::speeds_during(std::uint8_t state) const {
    return speeds_ != nullptr ? speeds_->during(state) : AllOf{};
}

/// Whether its `stay` keeps a runner on the ground and lets nobody steer, so that it slows down all through a visit.
bool Visits::slows_throughout(std::uint8_t state) const {
    const detail::CompiledState& compiled = chart_.states[state];
    const std::vector<const detail::Clause*> ways = clauses_of(chart_, compiled.stay);
    const bool is_steered = compiled.kind != StateKind::slide;
    return !ways.empty() && std::all_of(ways.begin(), ways.end(), [&](const detail::Clause* way) {
        const detail::FixedFacts &care = way->care.fixed, &want = way->want.fixed;
        const bool stands = care.test(detail::fact::grounded) && want.test(detail::fact::grounded);
        const bool coasts = care.test(detail::fact::moving) && !want.test(detail::fact::moving);
        return stands && (coasts || !is_steered);
    });
}

/// How long a clause of `stay` can hold from the entry on, by a time, by a meter that runs dry, or by a speed that is lost.
std::optional<double> Visits::longest_by(std::uint8_t state, const detail::Clause& clause) const {
    std::optional<double> bound;
    const auto limit = [&](double seconds) { bound = bound ? std::min(*bound, seconds) : seconds; };
    for (std::size_t bit = 0; bit < chart_.derived_facts.size(); ++bit) {
        const DerivedFact& fact = chart_.derived_facts[bit];
        const auto number = static_cast<unsigned>(bit);
        if (!clause.care.derived.test(number)) {
            continue;
        }
        const bool wanted = clause.want.derived.test(number);
        if (fact.quantity == Quantity::time && !wanted) {
            limit(fact.from);
        }
        if (fact.quantity == Quantity::speed && wanted && speeds_ != nullptr && slows_throughout(state)) {
            const double slowing = slowing_of(chart_, state), fastest = speeds_->entered(state).level;
            if (slowing > 0.0 && fastest < detail::never) {
                limit(std::max(0.0, fastest - fact.from) / slowing);
            }
        }
        const bool by_level = fact.quantity == Quantity::meter && wanted;
        const bool by_latch = fact.quantity == Quantity::latch && !wanted;
        if (by_level || by_latch) {
            const detail::CompiledState& compiled = chart_.states[state];
            const detail::CompiledMeter& meter = chart_.meters[fact.index];
            const double rate = compiled.drains[fact.index].per_second;
            const double floor = by_level ? fact.from : meter.spent->at;
            if (rate > 0.0 && !compiled.drain_gate && meter.drain_scale.empty() &&
                !is_modified(detail::measure::drain_first + fact.index)) {
                limit(std::max(0.0, meter.capacity - floor) / rate);
            }
        }
    }
    return bound;
}

std::optional<double> Visits::longest(std::uint8_t state, const AllOf& given) const {
    const detail::CompiledState& compiled = chart_.states[state];
    std::optional<AllOf> ended = none_of(chart_, compiled.stay);
    if (!ended) {
        return std::nullopt;
    }
    // Once `stay` is over, there must be something to take its place.
    if (std::optional<AllOf> alone = none_takes_over(state)) {
        append(*alone, *ended);
        append(*alone, given);
        append(*alone, speeds_during(state));
        if (solver_.possible(*alone)) {
            return std::nullopt;
        }
    }
    double longest = 0.0;
    for (const detail::Clause* clause : clauses_of(chart_, compiled.stay)) {
        AllOf holds = terms_of(chart_, *clause);
        append(holds, given);
        append(holds, speeds_during(state));
        if (!solver_.possible(holds)) {
            continue;
        }
        const std::optional<double> bound = longest_by(state, *clause);
        if (!bound) {
            return std::nullopt;
        }
        longest = std::max(longest, *bound);
    }
    return longest;
}

}  // namespace cursimeter::survey
