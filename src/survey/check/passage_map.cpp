#include "survey/check/passage_map.hpp"

#include <fmt/format.h>

#include <cursimeter/survey/check.hpp>

#include "core/chart/facts.hpp"
#include "survey/check/entering.hpp"

namespace cursimeter::survey {
namespace {

namespace fact = detail::fact;

/// Nothing is pressed or released, and no time has passed in the present state.
AllOf steady_facts(const detail::ChartData& chart) {
    AllOf all;
    for (unsigned number = 0; number < fact::count; ++number) {
        if (fact::is_momentary(number)) {
            all.push_back({Literal{static_cast<std::uint16_t>(number), false}});
        }
    }
    for (unsigned i = 0; i < chart.derived_facts.size(); ++i) {
        const detail::DerivedFact& derived = chart.derived_facts[i];
        if (derived.quantity == detail::Quantity::time && derived.from > 0.0) {
            all.push_back({Literal{static_cast<std::uint16_t>(derived_first + i), false}});
        }
    }
    return all;
}

/// At rest, as everybody is who is spawned.
AllOf resting_facts(const detail::ChartData& chart) {
    AllOf all;
    for (unsigned i = 0; i < chart.derived_facts.size(); ++i) {
        const detail::DerivedFact& fact = chart.derived_facts[i];
        if (fact.quantity == detail::Quantity::speed || fact.quantity == detail::Quantity::rise) {
            all.push_back({derived(i, fact.from <= 0.0)});
        }
    }
    return all;
}

}  // namespace

PassageMap::PassageMap(const detail::ChartData& chart)
    : chart_(chart), solver_(chart), leads_(chart.states.size()) {
    for (std::uint8_t state = 0; state < chart.states.size(); ++state) {
        held_back_ |= may_be_held_back(chart, solver_, state) ? detail::StateMask{1} << state : 0U;
        brief_ |= is_left_at_once(chart, solver_, state) ? detail::StateMask{1} << state : 0U;
    }
    for (detail::StateMask before = ~held_back_; before != held_back_;) {
        before = held_back_;
        find_ways();
        add_left_for_brief_ones();
    }
    find_beginnings();
    find_reachable();
}

void PassageMap::find_ways() {
    for (std::uint8_t from = 0; from < chart_.states.size(); ++from) {
        for (std::uint8_t to = 0; to < chart_.states.size(); ++to) {
            if (from != to && !leads(from, to) && find(from, to, When::any)) {
                leads_[from] |= detail::StateMask{1} << to;
            }
        }
    }
}

/// Who is left for a state that is left at once has to wait as well, although nothing has changed for it.
void PassageMap::add_left_for_brief_ones() {
    for (std::uint8_t from = 0; from < chart_.states.size(); ++from) {
        for (std::uint8_t brief = 0; brief < chart_.states.size(); ++brief) {
            if (from != brief && (brief_ >> brief & 1U) != 0 && (held_back_ >> from & 1U) == 0 &&
                leads(from, brief) && find(from, brief, When::any, steady_facts(chart_))) {
                held_back_ |= detail::StateMask{1} << from;
            }
        }
    }
}

std::vector<AllOf> PassageMap::demands(std::uint8_t from, std::uint8_t to, When when) const {
    std::vector<AllOf> found;
    const detail::CompiledState& wanted = chart_.states[to];
    if ((wanted.from >> from & 1U) == 0) {
        return found;
    }
    AllOf before;  // nothing that is tried earlier may be taken
    for (const std::uint8_t earlier : chart_.rank) {
        if (earlier == to) {
            break;
        }
        const detail::CompiledState& state = chart_.states[earlier];
        const bool candidate = earlier == from || (state.from >> from & 1U) != 0;
        const bool may_wait =
            when == When::any && earlier != from && ((held_back_ >> earlier | brief_ >> from) & 1U) != 0;
        if (!candidate || may_wait) {
            continue;
        }
        const std::optional<AllOf> none = none_of(chart_, earlier == from ? state.stay : state.enter);
        if (!none) {
            return found;
        }
        append(before, *none);
    }
    if (when == When::steady) {
        append(before, steady_facts(chart_));
    }
    for (AllOf& way : ways_of(chart_, wanted.enter)) {
        append(way, before);
        found.push_back(std::move(way));
    }
    return found;
}

std::optional<Knowledge> PassageMap::find(std::uint8_t from, std::uint8_t to, When when,
                                          const AllOf& also) const {
    for (AllOf& way : demands(from, to, when)) {
        append(way, also);
        if (std::optional<Knowledge> moment = solver_.solve(way)) {
            return moment;
        }
    }
    return std::nullopt;
}

void PassageMap::find_beginnings() {
    const detail::StateMask any = ~detail::StateMask{0};
    AllOf before = steady_facts(chart_);
    append(before, resting_facts(chart_));
    for (const std::uint8_t state : chart_.rank) {
        const detail::CompiledState& compiled = chart_.states[state];
        if (compiled.from != any) {
            continue;
        }
        for (AllOf way : ways_of(chart_, compiled.enter)) {
            append(way, before);
            if (solver_.possible(way)) {
                begins_ |= detail::StateMask{1} << state;
            }
        }
        const std::optional<AllOf> none = none_of(chart_, compiled.enter);
        if (!none) {
            break;
        }
        append(before, *none);
    }
    if (!chart_.rank.empty() && begins_ == 0) {
        begins_ = detail::StateMask{1} << chart_.rank.back();
    }
}

void PassageMap::find_reachable() {
    reachable_ = begins_;
    for (detail::StateMask before_round = 0; before_round != reachable_;) {
        before_round = reachable_;
        for (std::uint8_t state = 0; state < chart_.states.size(); ++state) {
            reachable_ |= (before_round >> state & 1U) != 0 ? leads_[state] : 0U;
        }
    }
}

std::vector<Passage> passages(const ChartSpec& spec) {
    const Chart chart = compile(spec);
    const detail::ChartData& data = chart.data();
    const PassageMap map(data);
    const auto written = [&](const detail::CompiledCondition& condition) {
        std::string text;
        for (std::uint16_t i = 0; i < condition.clause_count; ++i) {
            const detail::Clause& clause = data.clauses[static_cast<std::size_t>(condition.first_clause) + i];
            std::string terms;
            for (std::uint16_t k = 0; k < clause.term_count; ++k) {
                const detail::Term& term = data.terms[static_cast<std::size_t>(clause.first_term) + k];
                const bool by_chart = term.path.find(".enter") != std::string::npos ||
                                      term.path.find(".stay") != std::string::npos;
                if (by_chart) {
                    terms += (terms.empty() ? "" : ", ") + term.text;
                }
            }
            text += terms.empty() ? "" : (text.empty() ? "" : " or ") + terms;
        }
        return text;
    };
    std::vector<Passage> found;
    for (std::uint8_t from = 0; from < data.states.size(); ++from) {
        for (std::uint8_t to = 0; to < data.states.size(); ++to) {
            if ((map.reachable() >> from & 1U) == 0 || !map.leads(from, to)) {
                continue;
            }
            Passage passage{from, to, written(data.states[to].enter), {}};
            for (const std::uint8_t first : data.rank) {
                if (first == from) {  // it is tried first: the new state takes over what it leaves
                    passage.unless = written(data.states[from].stay);
                    break;
                }
                if (first == to) {
                    break;
                }
            }
            found.push_back(std::move(passage));
        }
    }
    return found;
}

}  // namespace cursimeter::survey
