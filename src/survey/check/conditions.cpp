#include <fmt/format.h>

#include <algorithm>
#include <bit>
#include <cmath>
#include <set>

#include "core/chart/facts.hpp"
#include "core/choose/choose.hpp"
#include "survey/check/checker.hpp"

/// Findings about conditions: states that cannot be entered or left, flicker, terms.
namespace cursimeter::survey {
namespace {

bool is_written(const detail::Term& term) {
    return term.path.ends_with(']');  // what a state needs by nature has the path of a key
}

std::string joined(const std::vector<std::string>& parts, const char* between) {
    return fmt::format("{}", fmt::join(parts, between));
}

}  // namespace

/// "sprint on, stamina >= 5": what a moment asks of the terms that the conditions of some states write down.
std::string Checker::told(const Knowledge& moment, const std::vector<std::uint8_t>& states) const {
    std::vector<std::string> parts;
    std::set<std::pair<std::uint8_t, bool>> said;
    for (const std::uint8_t state : states) {
        for (const detail::CompiledCondition* condition :
             {&data_.states[state].enter, &data_.states[state].stay}) {
            for (std::uint16_t i = 0; i < condition->clause_count; ++i) {
                const detail::Clause& clause =
                    data_.clauses[static_cast<std::size_t>(condition->first_clause) + i];
                for (std::uint16_t k = 0; k < clause.term_count; ++k) {
                    const detail::Term& term = data_.terms[static_cast<std::size_t>(clause.first_term) + k];
                    const Literal literal = literal_of(term);
                    if (!is_written(term) || !moment.knows(literal.fact) ||
                        !said.insert({literal.fact, true}).second) {
                        continue;
                    }
                    const bool holds = moment.is_set(literal.fact) == literal.set;
                    const bool negated = term.text.starts_with("not ");
                    parts.push_back(holds ? term.text : negated ? term.text.substr(4) : "not " + term.text);
                }
            }
        }
    }
    return joined(parts, ", ");
}

void Checker::states_never_entered() {
    const detail::StateMask reachable = map_.reachable();
    for (std::uint8_t index = 0; index < data_.states.size(); ++index) {
        if ((reachable >> index & 1U) != 0) {
            continue;
        }
        const detail::CompiledState& state = data_.states[index];
        const std::string path = "states." + state.name;
        std::vector<AllOf> ways = ways_of(data_, state.enter);
        const bool can_hold = std::any_of(ways.begin(), ways.end(),
                                          [&](const AllOf& way) { return map_.solver().possible(way); });
        if (!can_hold) {
            add({Severity::error,
                 FindingKind::never_entered,
                 {path + ".enter"},
                 fmt::format("{} can never be entered: {}", state.name, why_never(state.enter)),
                 "take out or change one of these terms",
                 {state.name},
                 {},
                 {}});
            continue;
        }
        const detail::StateMask from = state.from & reachable & ~(detail::StateMask{1} << index);
        if (from == 0) {
            // Not told of where it only follows from another state that cannot be entered for a reason of its own.
            bool follows = false;
            for (std::uint8_t other = 0; other < data_.states.size(); ++other) {
                const bool before = (state.from >> other & 1U) != 0 && other != index;
                follows = follows || (before && (data_.states[other].from & reachable) != 0);
            }
            if (!follows) {
                add({Severity::error,
                     FindingKind::never_entered,
                     {path + ".from"},
                     fmt::format("{} can never be entered: none of the states in its `from` can be",
                                 state.name),
                     "let it follow a state that can be entered",
                     {state.name},
                     {},
                     {}});
            }
            continue;
        }
        std::vector<std::string> hiding;
        std::vector<std::string> paths{path + ".enter"};
        for (const std::uint8_t earlier : data_.rank) {
            if (earlier == index) {
                break;
            }
            const detail::CompiledState& other = data_.states[earlier];
            const std::optional<AllOf> none = none_of(data_, other.enter);
            const bool hides = std::none_of(ways.begin(), ways.end(), [&](AllOf way) {
                if (!none) {
                    return false;
                }
                way.insert(way.end(), none->begin(), none->end());
                return map_.solver().possible(way);
            });
            if (hides && (other.from & from) == from) {
                hiding.push_back(other.name);
                paths.push_back("states." + other.name + ".enter");
            }
        }
        paths.emplace_back("rank");
        add({Severity::error,
             FindingKind::hidden,
             paths,
             fmt::format("{} is never taken: whenever it could be, {} first in rank", state.name,
                         hiding.empty() ? "other states together come" : joined(hiding, ", ") + " comes"),
             "move it up in rank, or narrow the `enter` of what hides it",
             {state.name},
             {},
             {}});
    }
}

/// The terms because of which a condition never holds: one that never does by itself, or two that exclude each other.
std::string Checker::why_never(const detail::CompiledCondition& condition) const {
    std::vector<std::string> reasons;
    for (std::uint16_t i = 0; i < condition.clause_count; ++i) {
        const detail::Clause& clause = data_.clauses[static_cast<std::size_t>(condition.first_clause) + i];
        reasons.push_back(conflict_in(clause));
    }
    return joined(reasons, "; and ");
}

std::string Checker::conflict_in(const detail::Clause& clause) const {
    const auto term = [&](std::uint16_t k) -> const detail::Term& {
        return data_.terms[static_cast<std::size_t>(clause.first_term) + k];
    };
    for (std::uint16_t i = 0; i < clause.term_count; ++i) {
        if (!map_.solver().possible({{literal_of(term(i))}})) {
            return fmt::format("'{}' never holds", term(i).text);
        }
    }
    for (std::uint16_t i = 0; i < clause.term_count; ++i) {
        for (std::uint16_t k = static_cast<std::uint16_t>(i + 1); k < clause.term_count; ++k) {
            if (!map_.solver().possible({{literal_of(term(i))}, {literal_of(term(k))}})) {
                return fmt::format("'{}' and '{}' cannot hold together", term(i).text, term(k).text);
            }
        }
    }
    return "its terms cannot all hold together";
}

void Checker::states_never_left() {
    const detail::StateMask reachable = map_.reachable();
    if (std::popcount(reachable) < 2) {
        return;
    }
    for (std::uint8_t index = 0; index < data_.states.size(); ++index) {
        const detail::CompiledState& state = data_.states[index];
        bool leads = (reachable >> index & 1U) == 0;
        for (std::uint8_t to = 0; to < data_.states.size(); ++to) {
            leads = leads || (to != index && map_.leads(index, to));
        }
        if (!leads) {
            add({Severity::error,
                 FindingKind::never_left,
                 {"states." + state.name + ".stay"},
                 fmt::format("{} can never be left: no moment ends its `stay` and brings another state about",
                             state.name),
                 "give it a `stay` that can end, or let a state before it in rank follow it",
                 {state.name},
                 {},
                 {}});
        }
    }
}

/// Whether entering the state changes nothing that a condition could read in the same instant.
bool Checker::is_inert(std::uint8_t index) const {
    const detail::CompiledState& state = data_.states[index];
    const bool pays =
        std::any_of(state.costs.begin(), state.costs.end(), [](double cost) { return cost > 0.0; });
    const bool kind = state.kind == StateKind::ground || state.kind == StateKind::air ||
                      (state.kind == StateKind::slide && state.slide.boost <= 0.0);
    return kind && !pays && state.cooldown == detail::no_cooldown && state.launch.count == 0;
}

bool Checker::reads_speed(const AllOf& demands) const {
    detail::DerivedFacts speeds;
    for (unsigned i = 0; i < data_.derived_facts.size(); ++i) {
        if (data_.derived_facts[i].quantity == detail::Quantity::speed) {
            speeds.set(i);
        }
    }
    return std::any_of(demands.begin(), demands.end(), [&](const AnyOf& any) {
        return ((any.set.derived | any.clear.derived) & speeds).any();
    });
}

/// The states that a runner in `from` goes through for ever while these facts hold, by the core's own choice: each is
/// entered once in an instant, and after a pause it begins anew. Empty if it comes to rest, or if entering a state
/// changes what holds.
std::vector<std::uint8_t> Checker::ring_of(std::uint8_t from, const detail::Facts& facts) const {
    detail::RunnerState runner;
    runner.state = from;
    std::vector<std::uint8_t> begun_in;
    for (;;) {
        std::vector<std::uint8_t> entered_now;
        detail::StateMask entered = 0;
        for (;;) {
            const detail::Choice choice = detail::choose(data_, runner, facts, facts, entered, {});
            if (!choice.change) {
                break;
            }
            if (!is_inert(choice.state)) {
                return {};
            }
            entered |= detail::StateMask{1} << choice.state;
            entered_now.push_back(choice.state);
            runner.state = choice.state;
        }
        if (entered_now.size() < 2) {
            return {};  // at rest, or on the way there
        }
        if (std::find(begun_in.begin(), begun_in.end(), runner.state) != begun_in.end()) {
            std::sort(entered_now.begin(), entered_now.end());
            return entered_now;
        }
        begun_in.push_back(runner.state);
    }
}

/// States whose `enter` and the end of whose `stay` can hold at one moment: the runner goes round and round between
/// them and others, or at least comes and goes in one instant.
void Checker::restless_states() {
    const detail::StateMask reachable = map_.reachable();
    for (std::uint8_t index = 0; index < data_.states.size(); ++index) {
        const std::optional<AllOf> ended = none_of(data_, data_.states[index].stay);
        if ((reachable >> index & 1U) == 0 || !is_inert(index) || !ended) {
            continue;  // without an end of its own, it is left for a better state only: that is what rank is for
        }
        std::optional<std::pair<std::uint8_t, Knowledge>> left;  // for which state, and at which moment
        bool rings = false;
        for (std::uint8_t from = 0; from < data_.states.size() && !rings; ++from) {
            if (from == index || (reachable >> from & 1U) == 0 || !map_.leads(from, index)) {
                continue;
            }
            std::vector<AllOf> ways = map_.demands(from, index, When::steady);
            for (AllOf& way : ways) {
                way.insert(way.end(), ended->begin(), ended->end());
            }
            std::erase_if(ways, [&](const AllOf& way) { return !map_.solver().possible(way); });
            for (std::uint8_t next = 0; next < data_.states.size() && !rings; ++next) {
                if (next == index || !map_.leads(index, next)) {
                    continue;
                }
                for (const AllOf& way : ways) {
                    const std::optional<Knowledge> moment = map_.find(index, next, When::steady, way);
                    // Under the instant law the speed makes a jump on entry, so what it is then is not known here.
                    const bool jumps = data_.states[index].gain.law == GainLaw::instant && reads_speed(way);
                    if (!moment || jumps) {
                        continue;
                    }
                    left = left ? left : std::optional(std::pair(next, *moment));
                    const std::vector<std::uint8_t> ring = ring_of(from, moment->set);
                    if (std::find(ring.begin(), ring.end(), index) != ring.end()) {
                        tell_ring(ring, *moment);
                        rings = true;
                        break;
                    }
                }
            }
        }
        if (left && !rings && restless_.insert(index).second) {
            const std::string& name = data_.states[index].name;
            add({Severity::warning,
                 FindingKind::left_at_once,
                 {"states." + name + ".stay", "states." + name + ".enter"},
                 fmt::format("{} can be left for {} in the very instant in which it is entered: {}", name,
                             data_.states[left->first].name, told(left->second, {index})),
                 "let its `stay` hold wherever its `enter` does",
                 {name},
                 {},
                 {}});
        }
    }
}

/// Tells of a ring once for all those of its states that do not stay although they have just been entered.
void Checker::tell_ring(const std::vector<std::uint8_t>& ring, const Knowledge& moment) {
    std::vector<std::string> names, paths;
    bool news = false;
    for (const std::uint8_t state : ring) {
        const std::string& name = data_.states[state].name;
        names.push_back(name);
        if (detail::holding_clause(data_, data_.states[state].stay, moment.set) == -1) {
            news = restless_.insert(state).second || news;
            paths.push_back("states." + name + ".stay");
            paths.push_back("states." + name + ".enter");
        }
    }
    if (news) {
        add({Severity::error,
             FindingKind::flicker,
             paths,
             fmt::format("{} lead back to one another without end while nothing changes: {}",
                         joined(names, ", "), told(moment, ring)),
             "let each `stay` hold wherever its own `enter` does",
             names,
             {},
             {}});
    }
}

void Checker::terms() {
    std::set<std::string> seen;
    std::vector<std::string> told_already;  // conditions of states that were told of as never entered
    for (const Finding& finding : findings_) {
        if (finding.kind == FindingKind::never_entered) {
            told_already.push_back(finding.paths.front());
        }
    }
    for (const detail::Term& term : data_.terms) {
        const bool known = std::any_of(told_already.begin(), told_already.end(),
                                       [&](const std::string& path) { return term.path.starts_with(path); });
        if (known || !is_written(term) || !seen.insert(term.path).second) {
            continue;
        }
        const Literal literal = literal_of(term);
        if (!map_.solver().possible({{literal}})) {
            add({Severity::warning,
                 FindingKind::never_true,
                 {term.path},
                 fmt::format("'{}' never holds", term.text),
                 "take it out, or compare with a value that can be reached",
                 {},
                 {},
                 {}});
        } else if (!map_.solver().possible({{!literal}})) {
            add({Severity::warning,
                 FindingKind::always_true,
                 {term.path},
                 fmt::format("'{}' always holds", term.text),
                 "take it out",
                 {},
                 {},
                 {}});
        }
    }
    for (const detail::CompiledState& state : data_.states) {
        for (const bool stay : {false, true}) {
            const detail::CompiledCondition& condition = stay ? state.stay : state.enter;
            std::vector<std::uint16_t> never;
            for (std::uint16_t i = 0; i < condition.clause_count; ++i) {
                const detail::Clause& clause =
                    data_.clauses[static_cast<std::size_t>(condition.first_clause) + i];
                if (!map_.solver().possible(terms_of(data_, clause))) {
                    never.push_back(i);
                }
            }
            // All of them: told of as a state that can never be entered, or never kept.
            if (never.empty() || (!stay && never.size() == condition.clause_count)) {
                continue;
            }
            for (const std::uint16_t i : never) {
                const detail::Clause& clause =
                    data_.clauses[static_cast<std::size_t>(condition.first_clause) + i];
                const detail::Term& term = data_.terms[clause.first_term];
                const std::string what = conflict_in(clause);
                if (what.ends_with("never holds") || !seen.insert(term.path + what).second) {
                    continue;  // that term was told of
                }
                add({Severity::warning,
                     FindingKind::contradiction,
                     {term.path},
                     fmt::format("this list of {} never holds: {}", state.name, what),
                     "take one of them out, or the list",
                     {state.name},
                     {},
                     {}});
            }
        }
    }
}

}  // namespace cursimeter::survey
