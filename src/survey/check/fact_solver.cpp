#include "survey/check/fact_solver.hpp"

#include <algorithm>
#include <bit>
#include <tuple>

#include "core/chart/facts.hpp"
#include "core/compile/term_reader.hpp"

namespace cursimeter::survey {
namespace {

namespace fact = detail::fact;
using detail::DerivedFact;
using detail::Quantity;

constexpr Literal yes(unsigned number) {
    return {static_cast<std::uint16_t>(number), true};
}
constexpr Literal no(unsigned number) {
    return {static_cast<std::uint16_t>(number), false};
}

bool is_ordered(Quantity quantity) {
    return quantity == Quantity::meter || quantity == Quantity::speed || quantity == Quantity::time ||
           quantity == Quantity::rise;
}

/// Of two levels of one quantity the higher implies the lower, said for neighbours; bounds are never crossed.
void order_levels(const detail::ChartData& chart, AllOf& always) {
    const std::vector<DerivedFact>& facts = chart.derived_facts;
    std::vector<unsigned> levels;
    for (unsigned i = 0; i < facts.size(); ++i) {
        if (is_ordered(facts[i].quantity)) {
            levels.push_back(i);
        }
    }
    const auto key = [&](unsigned i) { return std::tuple(facts[i].quantity, facts[i].index, facts[i].from); };
    std::stable_sort(levels.begin(), levels.end(), [&](unsigned a, unsigned b) { return key(a) < key(b); });
    for (std::size_t n = 1; n < levels.size(); ++n) {
        const unsigned lower = levels[n - 1], higher = levels[n];
        if (facts[lower].quantity != facts[higher].quantity || facts[lower].index != facts[higher].index) {
            continue;
        }
        always.push_back({no(derived_first + higher), yes(derived_first + lower)});
        if (facts[lower].from == facts[higher].from) {
            always.push_back({no(derived_first + lower), yes(derived_first + higher)});
        }
    }
    for (const unsigned i : levels) {
        if (facts[i].quantity != Quantity::rise && facts[i].from <= 0.0) {
            always.push_back({yes(derived_first + i)});
        }
        if (facts[i].quantity == Quantity::meter && facts[i].from > chart.meters[facts[i].index].capacity) {
            always.push_back({no(derived_first + i)});
        }
    }
}

/// While spent the meter is below the level that opens the latch, otherwise above the one that closes it.
void tie_latches(const detail::ChartData& chart, AllOf& always) {
    const std::vector<DerivedFact>& facts = chart.derived_facts;
    for (unsigned latch = 0; latch < facts.size(); ++latch) {
        if (facts[latch].quantity != Quantity::latch) {
            continue;
        }
        const detail::CompiledMeter& meter = chart.meters[facts[latch].index];
        const double nearly = 2.0 * meter.capacity * detail::meter_quantum;
        for (unsigned i = 0; i < facts.size(); ++i) {
            if (facts[i].quantity != Quantity::meter || facts[i].index != facts[latch].index) {
                continue;
            }
            if (facts[i].from >= meter.spent->until) {
                always.push_back({no(derived_first + latch), no(derived_first + i)});
            }
            if (facts[i].from <= meter.spent->at + nearly) {
                always.push_back({yes(derived_first + latch), yes(derived_first + i)});
            }
        }
    }
}

void tie_input_and_contacts(const detail::ChartData& chart, AllOf& always) {
    constexpr unsigned ways[] = {fact::moving_forward, fact::moving_sideways, fact::moving_backward};
    for (const unsigned way : ways) {
        always.push_back({no(way), yes(fact::moving)});
        for (const unsigned other : ways) {
            if (other > way) {
                always.push_back({no(way), no(other)});
            }
        }
    }
    always.push_back({no(fact::moving), yes(ways[0]), yes(ways[1]), yes(ways[2])});
    always.push_back({no(fact::locked), no(fact::moving)});
    always.push_back({no(fact::grounded), yes(fact::footing)});
    always.push_back({no(fact::wall), no(fact::grounded)});
    const bool any_low = std::any_of(chart.states.begin(), chart.states.end(),
                                     [](const detail::CompiledState& state) { return state.low; });
    if (!any_low) {
        always.push_back({yes(fact::headroom)});
    }
    for (unsigned i = 0; i < chart.derived_facts.size(); ++i) {
        if (chart.derived_facts[i].quantity == Quantity::possible) {
            const detail::CompiledState& state = chart.states[chart.derived_facts[i].index];
            if (state.kind == StateKind::wall || state.launch.off_wall) {
                always.push_back({no(derived_first + i), yes(fact::wall)});
            } else {  // the first jump is always there, and further ones only if the table has them
                always.push_back({no(fact::footing), yes(derived_first + i)});
                if (state.launch.count == 1) {
                    always.push_back({yes(fact::footing), no(derived_first + i)});
                }
            }
        }
    }
}

/// The lowest bit of what is left, and nothing else of it.
template <std::size_t Words>
bool lowest(const detail::Bits<Words>& bits, detail::Bits<Words>& only) {
    for (std::size_t i = 0; i < Words; ++i) {
        if (bits.words[i] != 0) {
            only.words[i] = bits.words[i] & (0 - bits.words[i]);
            return true;
        }
    }
    return false;
}
detail::Facts lowest_of(const detail::Facts& facts) {
    detail::Facts only;
    static_cast<void>(lowest(facts.fixed, only.fixed) || lowest(facts.derived, only.derived));
    return only;
}

/// What one demand comes to, word by word.
struct Judged {
    std::uint64_t holds = 0;  ///< not 0: it does
    int open = 0;             ///< facts that are not known, either of which could make it hold
};

template <std::size_t Words>
void judge(const detail::Bits<Words>& set, const detail::Bits<Words>& clear, const detail::Bits<Words>& known,
           const detail::Bits<Words>& now, Judged& judged) {
    for (std::size_t i = 0; i < Words; ++i) {
        const std::uint64_t read = set.words[i] | clear.words[i];
        if (read != 0) {
            judged.holds |=
                known.words[i] & ((set.words[i] & now.words[i]) | (clear.words[i] & ~now.words[i]));
            judged.open += std::popcount(read & ~known.words[i]);
        }
    }
}

detail::Facts unknown_of(const AnyOf& any, const Knowledge& now) {
    return {(any.set.fixed | any.clear.fixed) & ~now.known.fixed,
            (any.set.derived | any.clear.derived) & ~now.known.derived};
}
bool wants_set(const AnyOf& any, const detail::Facts& fact) {
    return (any.set.fixed & fact.fixed).any() || (any.set.derived & fact.derived).any();
}

/// `demands` are those that are not known to hold; they are used up.
std::optional<Knowledge> search(std::vector<const AnyOf*> demands, Knowledge now) {
    for (bool changed = true; changed;) {
        changed = false;
        std::size_t kept = 0;
        for (std::size_t i = 0; i < demands.size(); ++i) {
            const AnyOf& any = *demands[i];
            Judged judged;
            judge(any.set.fixed, any.clear.fixed, now.known.fixed, now.set.fixed, judged);
            judge(any.set.derived, any.clear.derived, now.known.derived, now.set.derived, judged);
            if (judged.holds != 0) {
                continue;
            }
            if (judged.open == 0) {
                return std::nullopt;
            }
            if (judged.open == 1) {
                const detail::Facts left = unknown_of(any, now);
                now.learn(left, wants_set(any, left));
                changed = true;
                continue;
            }
            demands[kept++] = &any;
        }
        demands.resize(kept);
    }
    if (demands.empty()) {
        return now;
    }
    const detail::Facts choice = lowest_of(unknown_of(*demands.front(), now));
    const bool first = wants_set(*demands.front(), choice);
    for (const bool is_set : {first, !first}) {
        Knowledge supposed = now;
        supposed.learn(choice, is_set);
        if (std::optional<Knowledge> found = search(demands, supposed)) {
            return found;
        }
    }
    return std::nullopt;
}

}  // namespace

void Knowledge::learn(const detail::Facts& which, bool are_set) {
    known.fixed |= which.fixed;
    known.derived |= which.derived;
    if (are_set) {
        set.fixed |= which.fixed;
        set.derived |= which.derived;
    } else {
        set.fixed &= ~which.fixed;
        set.derived &= ~which.derived;
    }
}

FactSolver::FactSolver(const detail::ChartData& chart) {
    order_levels(chart, always_);
    tie_latches(chart, always_);
    tie_input_and_contacts(chart, always_);
}

std::optional<Knowledge> FactSolver::solve(const AllOf& wanted) const {
    std::vector<const AnyOf*> demands;
    demands.reserve(wanted.size() + always_.size());
    for (const AllOf* list : {&wanted, &always_}) {
        for (const AnyOf& any : *list) {
            demands.push_back(&any);
        }
    }
    return search(std::move(demands), {});
}

AnyOf failing(const detail::ChartData& chart, const detail::Clause& clause) {
    AnyOf any;
    for (std::uint16_t i = 0; i < clause.term_count; ++i) {
        any.add(!literal_of(chart.terms[static_cast<std::size_t>(clause.first_term) + i]));
    }
    return any;
}

AllOf terms_of(const detail::ChartData& chart, const detail::Clause& clause) {
    AllOf all;
    for (std::uint16_t i = 0; i < clause.term_count; ++i) {
        all.push_back({literal_of(chart.terms[static_cast<std::size_t>(clause.first_term) + i])});
    }
    return all;
}

std::optional<AllOf> none_of(const detail::ChartData& chart, const detail::CompiledCondition& condition) {
    if (condition.clause_count == 0) {
        return std::nullopt;
    }
    AllOf all;
    for (std::uint16_t i = 0; i < condition.clause_count; ++i) {
        all.push_back(failing(chart, chart.clauses[static_cast<std::size_t>(condition.first_clause) + i]));
    }
    return all;
}

std::vector<AllOf> ways_of(const detail::ChartData& chart, const detail::CompiledCondition& condition) {
    std::vector<AllOf> ways;
    for (std::uint16_t i = 0; i < condition.clause_count; ++i) {
        ways.push_back(terms_of(chart, chart.clauses[static_cast<std::size_t>(condition.first_clause) + i]));
    }
    if (ways.empty()) {
        ways.emplace_back();
    }
    return ways;
}

}  // namespace cursimeter::survey
