#include "survey/require/speeds.hpp"

#include <algorithm>

#include "core/chart/facts.hpp"

namespace cursimeter::survey {
namespace {

using detail::DerivedFact;
using detail::Quantity;

/// What still grows after so many rounds is taken to grow without end: a boost that each slide adds anew.
constexpr int most_rounds = 200;

/// Nothing is faster than a speed that a way in asks to be below.
Fastest capped(const detail::ChartData& chart, const detail::Clause& way, Fastest before) {
    for (std::size_t bit = 0; bit < chart.derived_facts.size(); ++bit) {
        const DerivedFact& fact = chart.derived_facts[bit];
        const auto number = static_cast<unsigned>(bit);
        if (fact.quantity == Quantity::speed && way.care.derived.test(number) &&
            !way.want.derived.test(number)) {
            before.level = std::min(before.level, fact.from);
            before.up = std::min(before.up, fact.from);
            before.down = std::min(before.down, fact.from);
            before.whole = std::min(before.whole, fact.from);
        }
    }
    return before;
}

}  // namespace

Speeds::Speeds(const detail::ChartData& chart, const PassageMap& map, std::vector<VisitLimits> limits)
    : chart_(chart),
      map_(map),
      limits_(std::move(limits)),
      reachable_(map.begins()),
      entered_(chart.states.size()),
      kept_(chart.states.size()),
      ways_(chart.states.size() * chart.states.size()) {
    for (std::uint8_t state = 0; state < chart.states.size(); ++state) {
        kept_[state] = kept_at(chart, state, {}, limits_[state]);  // spawned at rest
    }
    detail::StateMask news = reachable_;
    for (int round = 0; news != 0; ++round) {
        detail::StateMask next = 0;
        for (std::uint8_t from = 0; from < chart.states.size(); ++from) {
            for (std::uint8_t to = 0; (news >> from & 1U) != 0 && to < chart.states.size(); ++to) {
                const bool may = from == to ? chart.states[to].again : map.leads(from, to);
                if (may && follow(from, to, round > most_rounds)) {
                    next |= detail::StateMask{1} << to;
                }
            }
        }
        news = next;
    }
}

/// Asks the solver about the ways from one state to another that were not open at the speeds so far, if it could say otherwise now.
void Speeds::open_ways(std::uint8_t from, std::uint8_t to, Ways& ways) const {
    const bool all_open = ways.ruled_out && std::all_of(ways.all.begin(), ways.all.end(),
                                                        [](const Way& way) { return way.aloft; });
    const AllOf before = during(from);
    // Speeds only grow, so that less and less is ruled out: by fewer demands, or by weaker ones.
    std::size_t ruled_out = 0;
    for (const AnyOf& demand : before) {
        ruled_out += demand.clear.fixed.any() ? 1 : 2;
    }
    if (all_open || ways.ruled_out == ruled_out) {
        return;
    }
    ways.ruled_out = ruled_out;
    const std::vector<AllOf> demands = map_.demands(from, to, When::any);
    ways.all.resize(demands.size());
    for (std::size_t i = 0; i < demands.size(); ++i) {
        AllOf moment = demands[i];
        append(moment, before);
        Way& way = ways.all[i];
        way.open = way.open || map_.solver().possible(moment);
        moment.push_back({Literal{detail::fact::grounded, false}});
        way.aloft = way.aloft || (way.open && map_.solver().possible(moment));
    }
}

/// Takes in how a state is entered from another. Returns whether that is news of it.
bool Speeds::follow(std::uint8_t from, std::uint8_t to, bool without_end) {
    const detail::CompiledCondition& enter = chart_.states[to].enter;
    Ways& ways = ways_[from * chart_.states.size() + to];
    open_ways(from, to, ways);
    Fastest entered = entered_[to];
    bool follows = false;
    for (std::size_t i = 0; i < ways.all.size(); ++i) {
        if (!ways.all[i].open) {
            continue;
        }
        follows = true;
        Fastest then = kept_[from];
        if (enter.clause_count != 0) {
            then = capped(chart_, chart_.clauses[static_cast<std::size_t>(enter.first_clause) + i], then);
        }
        if (!ways.all[i].aloft) {  // nothing goes up or down that stands
            then = {then.level, 0.0, 0.0, then.level};
        }
        entered.widen(entered_at(chart_, from, to, then));
    }
    const detail::StateMask bit = detail::StateMask{1} << to;
    const bool is_new = follows && (reachable_ & bit) == 0;
    const bool is_faster = entered != entered_[to];
    if (is_faster && without_end) {
        entered = {detail::never, detail::never, detail::never, detail::never};
    }
    reachable_ |= follows ? bit : 0U;
    entered_[to] = entered;
    Fastest kept = kept_[to];
    kept.widen(kept_at(chart_, to, entered, limits_[to]));
    const bool lasts_faster = kept != kept_[to];
    kept_[to] = kept;
    return is_new || lasts_faster;
}

AllOf Speeds::during(std::uint8_t state) const {
    const Fastest& fastest = kept_[state];
    AllOf known;
    for (std::size_t bit = 0; bit < chart_.derived_facts.size(); ++bit) {
        const DerivedFact& fact = chart_.derived_facts[bit];
        if (fact.quantity == Quantity::speed && fact.from > fastest.whole) {
            known.push_back({derived(bit, false)});
        } else if (fact.quantity == Quantity::speed && fact.from > fastest.level) {
            known.push_back({derived(bit, false), Literal{detail::fact::grounded, false}});
        } else if (fact.quantity == Quantity::rise && fact.from > fastest.up) {
            known.push_back({derived(bit, false)});
        } else if (fact.quantity == Quantity::rise && fact.from <= -fastest.down) {
            known.push_back({derived(bit, true)});
        }
    }
    return known;
}

}  // namespace cursimeter::survey
