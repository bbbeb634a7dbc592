#include "survey/require/soonest.hpp"

#include <algorithm>
#include <cursimeter/effects.hpp>

#include "core/chart/facts.hpp"
#include "survey/check/passage_map.hpp"

namespace cursimeter::survey {

using detail::DerivedFact;
using detail::Quantity;

Soonest::Soonest(const Asked& asked) : asked_(asked) {
    const PassageMap map(asked.data());
    leads_there_ = detail::StateMask{1} << *asked.state();
    for (detail::StateMask before = 0; before != leads_there_;) {
        before = leads_there_;
        for (std::uint8_t from = 0; from < asked.states(); ++from) {
            for (std::uint8_t to = 0; to < asked.states(); ++to) {
                if ((before >> to & 1U) != 0 && map.leads(from, to)) {
                    leads_there_ |= detail::StateMask{1} << from;
                }
            }
        }
    }
}

bool Soonest::is_modified(unsigned measure) const {
    const std::vector<detail::CompiledModifier>& all = asked_.data().modifiers;
    return std::any_of(all.begin(), all.end(), [&](const detail::CompiledModifier& one) {
        return (one.measures >> measure & 1U) != 0;
    });
}

double Soonest::until_level(std::uint8_t meter, double level, const Runner& runner) const {
    const detail::CompiledMeter& compiled = asked_.data().meters[meter];
    const double missing = level - read_meter(asked_.chart(), runner, MeterId{meter}).level;
    if (missing <= 0.0 || !compiled.refill_scale.empty() ||
        is_modified(detail::measure::refill_first + meter)) {
        return 0.0;
    }
    return compiled.refill_rate > 0.0 ? missing / compiled.refill_rate : detail::never;
}

double Soonest::by_clause(const detail::Clause& way, const Runner& runner) const {
    const detail::ChartData& data = asked_.data();
    double soonest = 0.0;
    for (std::size_t bit = 0; bit < data.derived_facts.size(); ++bit) {
        const DerivedFact& fact = data.derived_facts[bit];
        const auto number = static_cast<unsigned>(bit);
        if (!way.care.derived.test(number)) {
            continue;
        }
        const bool wanted = way.want.derived.test(number);
        if (fact.quantity == Quantity::meter && wanted) {
            soonest = std::max(soonest, until_level(fact.index, fact.from, runner));
        } else if (fact.quantity == Quantity::latch && !wanted &&
                   read_meter(asked_.chart(), runner, MeterId{fact.index}).spent) {
            soonest =
                std::max(soonest, until_level(fact.index, data.meters[fact.index].spent->until, runner));
        } else if (fact.quantity == Quantity::ready && wanted &&
                   !is_modified(detail::measure::cooldown_first + fact.index)) {
            const CooldownReading cooldown = read_cooldown(asked_.chart(), runner, CooldownId{fact.index});
            soonest = std::max(soonest, cooldown.ready ? 0.0 : cooldown.left.value);
        }
    }
    return soonest;
}

double Soonest::from(const Runner& runner) const {
    const detail::ChartData& data = asked_.data();
    const std::uint8_t state = runner.state().index;
    if (state == *asked_.state()) {
        return 0.0;
    }
    if ((leads_there_ >> state & 1U) == 0) {
        return detail::never;
    }
    const detail::CompiledCondition& enter = data.states[*asked_.state()].enter;
    double soonest = enter.clause_count == 0 ? 0.0 : detail::never;
    for (std::uint16_t i = 0; i < enter.clause_count; ++i) {
        const detail::Clause& way = data.clauses[static_cast<std::size_t>(enter.first_clause) + i];
        soonest = std::min(soonest, by_clause(way, runner));
    }
    return soonest;
}

}  // namespace cursimeter::survey
