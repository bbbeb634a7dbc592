#include "survey/fact_solver.hpp"

#include <algorithm>

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

/// Of two levels of one quantity the higher implies the lower; bounds are never crossed.
void order_levels(const detail::ChartData& chart, AllOf& always) {
    const std::vector<DerivedFact>& facts = chart.derived_facts;
    for (unsigned i = 0; i < facts.size(); ++i) {
        if (!is_ordered(facts[i].quantity)) {
            continue;
        }
        for (unsigned k = 0; k < facts.size(); ++k) {
            if (k != i && facts[k].quantity == facts[i].quantity && facts[k].index == facts[i].index &&
                facts[k].from >= facts[i].from) {
                always.push_back({no(derived_first + k), yes(derived_first + i)});
            }
        }
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

enum class Outcome { holds, fails, open };

/// Whether one of the literals holds; if only one is left open, that one.
Outcome judge(const AnyOf& any, const Knowledge& now, const Literal*& left) {
    left = nullptr;
    std::size_t open = 0;
    for (const Literal& literal : any) {
        if (!now.knows(literal.fact)) {
            left = &literal;
            ++open;
        } else if (now.is_set(literal.fact) == literal.set) {
            return Outcome::holds;
        }
    }
    return open == 0 ? Outcome::fails : Outcome::open;
}

std::optional<Knowledge> search(const AllOf& always, const AllOf& wanted, Knowledge now) {
    const AnyOf* undecided = nullptr;
    for (bool changed = true; changed;) {
        changed = false;
        undecided = nullptr;
        for (const AllOf* list : {&wanted, &always}) {
            for (const AnyOf& any : *list) {
                const Literal* left = nullptr;
                const Outcome outcome = judge(any, now, left);
                if (outcome == Outcome::fails) {
                    return std::nullopt;
                }
                if (outcome == Outcome::holds) {
                    continue;
                }
                const auto open = std::count_if(
                    any.begin(), any.end(), [&](const Literal& literal) { return !now.knows(literal.fact); });
                if (open == 1) {
                    now.learn(*left);
                    changed = true;
                } else if (undecided == nullptr) {
                    undecided = &any;
                }
            }
        }
    }
    if (undecided == nullptr) {
        return now;
    }
    const Literal* left = nullptr;
    static_cast<void>(judge(*undecided, now, left));
    for (const Literal choice : {*left, !*left}) {
        Knowledge supposed = now;
        supposed.learn(choice);
        if (std::optional<Knowledge> found = search(always, wanted, supposed)) {
            return found;
        }
    }
    return std::nullopt;
}

}  // namespace

void Knowledge::learn(Literal literal) {
    const auto put = [&](detail::Facts& facts, bool value) {
        if (literal.fact < derived_first) {
            value ? facts.fixed.set(literal.fact) : facts.fixed.clear(literal.fact);
        } else {
            const unsigned bit = literal.fact - derived_first;
            value ? facts.derived.set(bit) : facts.derived.clear(bit);
        }
    };
    put(known, true);
    put(set, literal.set);
}

FactSolver::FactSolver(const detail::ChartData& chart) {
    order_levels(chart, always_);
    tie_latches(chart, always_);
    tie_input_and_contacts(chart, always_);
}

std::optional<Knowledge> FactSolver::solve(const AllOf& wanted) const {
    return search(always_, wanted, {});
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
        AnyOf failing;
        for (const AnyOf& term :
             terms_of(chart, chart.clauses[static_cast<std::size_t>(condition.first_clause) + i])) {
            failing.push_back(!term.front());
        }
        all.push_back(std::move(failing));
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
