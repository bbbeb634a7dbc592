#include "survey/check/entering.hpp"

#include "core/chart/facts.hpp"

namespace cursimeter::survey {

using detail::DerivedFact;
using detail::Quantity;

namespace {

/// Terms of a way into a state that are kept.
template <class IsKept>
AllOf terms_that(const detail::ChartData& chart, const detail::Clause& way, IsKept&& is_kept) {
    AllOf all;
    for (std::uint16_t i = 0; i < way.term_count; ++i) {
        const Literal literal = literal_of(chart.terms[static_cast<std::size_t>(way.first_term) + i]);
        if (is_kept(literal)) {
            all.push_back({literal});
        }
    }
    return all;
}

/// Whether one of its ways in that asks for no press can hold together with the end of its `stay`. `said` is what a way says then.
template <class Said>
bool ends_although(const detail::ChartData& chart, const FactSolver& solver, std::uint8_t state,
                   Said&& said) {
    const detail::CompiledState& compiled = chart.states[state];
    const std::optional<AllOf> ended = none_of(chart, compiled.stay);
    if (!ended) {
        return false;
    }
    bool ends = compiled.enter.clause_count == 0;
    for (std::uint16_t i = 0; i < compiled.enter.clause_count && !ends; ++i) {
        const detail::Clause& way = chart.clauses[static_cast<std::size_t>(compiled.enter.first_clause) + i];
        AllOf all = said(way);
        append(all, *ended);
        ends = detail::presses_of(way) == 0 && solver.possible(all);
    }
    return ends;
}

}  // namespace

AllOf just_entered(const detail::ChartData& chart, std::uint8_t state, const detail::Clause& way) {
    const detail::CompiledState& compiled = chart.states[state];
    const bool launches = compiled.launch.count > 0;
    const bool lifts = launches || compiled.kind == StateKind::burst || compiled.kind == StateKind::fly;
    const bool at_once = launches || compiled.kind == StateKind::burst || compiled.kind == StateKind::wall ||
                         (compiled.kind != StateKind::slide && compiled.gain.law == GainLaw::instant);
    const auto is_kept = [&](Literal literal) {
        if (literal.fact < derived_first) {  // entering leaves the ground; it never lands
            const bool stands =
                literal.fact == detail::fact::grounded || literal.fact == detail::fact::footing;
            return !lifts || (literal.fact != detail::fact::wall && !(stands && literal.set));
        }
        const DerivedFact& fact = chart.derived_facts[literal.fact - derived_first];
        switch (fact.quantity) {
            case Quantity::meter:
            case Quantity::latch:
                return compiled.costs[fact.index] == 0.0;
            case Quantity::speed:  // a slide is only made faster
                return !at_once && (compiled.kind != StateKind::slide || literal.set);
            case Quantity::rise:
                return !at_once;
            case Quantity::ready:
                return compiled.cooldown == detail::no_cooldown;
            case Quantity::possible:
                return !launches;
            case Quantity::time:  // of the state before
                return false;
            case Quantity::active:  // by a condition, which may ask for what changes
                return !chart.modifiers[fact.index].conditional;
        }
        return false;
    };
    AllOf all = terms_that(chart, way, is_kept);
    if (launches) {
        all.push_back({Literal{detail::fact::grounded, false}});
        all.push_back({Literal{detail::fact::footing, false}});
    }
    for (std::size_t bit = 0; bit < chart.derived_facts.size(); ++bit) {
        const DerivedFact& fact = chart.derived_facts[bit];
        if (fact.quantity == Quantity::time && fact.from > 0.0) {
            all.push_back({derived(bit, false)});
        }
    }
    return all;
}

bool is_left_at_once(const detail::ChartData& chart, const FactSolver& solver, std::uint8_t state) {
    return ends_although(chart, solver, state,
                         [&](const detail::Clause& way) { return just_entered(chart, state, way); });
}

bool may_be_held_back(const detail::ChartData& chart, const FactSolver& solver, std::uint8_t state) {
    return ends_although(chart, solver, state, [&](const detail::Clause& way) {
        return terms_that(chart, way, [&](Literal literal) {  // `time` is that of another state
            return literal.fact < derived_first ||
                   chart.derived_facts[literal.fact - derived_first].quantity != Quantity::time;
        });
    });
}

}  // namespace cursimeter::survey
