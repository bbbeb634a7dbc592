#include <fmt/format.h>

#include <algorithm>
#include <bit>
#include <cmath>
#include <set>

#include "core/facts.hpp"
#include "survey/checker.hpp"

/// Findings about conditions: states that cannot be entered or left, flicker, terms.
namespace cursimeter::survey {
namespace {

namespace fact = detail::fact;

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
    const std::uint32_t reachable = map_.reachable();
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
        const std::uint32_t from = state.from & reachable & ~(std::uint32_t{1} << index);
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
    const std::uint32_t reachable = map_.reachable();
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
    return std::any_of(demands.begin(), demands.end(), [&](const AnyOf& any) {
        return std::any_of(any.begin(), any.end(), [&](const Literal& literal) {
            return literal.fact >= 64 &&
                   data_.derived_facts[literal.fact - 64U].quantity == detail::Quantity::speed;
        });
    });
}

/// The states of a ring that do not stay although they have just been entered: those to be mended.
void Checker::tell_ring(const std::vector<std::uint8_t>& ring, const AllOf& moment) {
    std::vector<std::string> names, paths;
    bool news = false;
    for (std::size_t i = 0; i < ring.size(); ++i) {
        const std::string& name = data_.states[ring[i]].name;
        names.push_back(name);
        ringed_.insert({ring[i], ring[(i + 1) % ring.size()]});
        ringed_.insert({ring[(i + 1) % ring.size()], ring[i]});
        AllOf kept = moment;
        const std::optional<AllOf> ended = none_of(data_, data_.states[ring[i]].stay);
        if (ended) {
            kept.insert(kept.end(), ended->begin(), ended->end());
        }
        if (ended && map_.solver().possible(kept)) {
            news = restless_.insert(ring[i]).second || news;
            paths.push_back("states." + name + ".stay");
            paths.push_back("states." + name + ".enter");
        }
    }
    if (!news && !paths.empty()) {
        return;  // the same states in another ring
    }
    for (const std::string& name : names) {
        if (paths.empty()) {
            paths.push_back("states." + name + ".enter");
        }
    }
    add({Severity::error,
         FindingKind::flicker,
         paths,
         fmt::format("{} lead back to one another without end while nothing changes: {}", joined(names, ", "),
                     told(*map_.solver().solve(moment), ring)),
         "let each `stay` hold wherever its own `enter` does",
         names,
         {},
         {}});
}

/// Whether a ring goes on without end at a moment. The core enters a state once in an instant and goes on after a
/// pause, so an instant ends where it began, in some state of the ring whose next one is barred; there, no state outside
/// the ring may be taken. Returns what must hold for that.
std::optional<AllOf> Checker::goes_on(const std::vector<std::uint8_t>& ring, const AllOf& moment) const {
    for (std::size_t i = 0; i < ring.size(); ++i) {
        const std::uint8_t here = ring[i], barred = ring[(i + 1) % ring.size()];
        AllOf wanted = moment;
        bool after_barred = false, taken = false;
        for (const std::uint8_t state : data_.rank) {
            const detail::CompiledState& other = data_.states[state];
            after_barred = after_barred || state == barred;
            if (!after_barred) {
                continue;
            }
            if (state == here) {  // if it stays, nothing after it is tried
                for (AllOf way : ways_of(data_, other.stay)) {
                    way.insert(way.end(), wanted.begin(), wanted.end());
                    if (map_.solver().possible(way)) {
                        return way;
                    }
                }
                continue;
            }
            const bool outside = std::find(ring.begin(), ring.end(), state) == ring.end();
            if (!outside || (other.from >> here & 1U) == 0) {
                continue;
            }
            const std::optional<AllOf> none = none_of(data_, other.enter);
            if (!none) {
                taken = true;
                break;
            }
            wanted.insert(wanted.end(), none->begin(), none->end());
        }
        if (!taken && map_.solver().possible(wanted)) {
            return wanted;
        }
    }
    return std::nullopt;
}

/// Rings of states that lead on to one another at one and the same moment. A moment that lasts, so the runner goes
/// round as often as the core lets it.
void Checker::flicker() {
    for (std::uint8_t first = 0; first < data_.states.size(); ++first) {
        if ((map_.reachable() >> first & 1U) != 0 && is_inert(first)) {
            ring_from({first}, {{}});
        }
    }
}

void Checker::ring_from(const std::vector<std::uint8_t>& ring, const std::vector<AllOf>& moments) {
    constexpr std::size_t longest_ring = 4;
    const std::uint8_t first = ring.front(), last = ring.back();
    const auto follow = [&](std::uint8_t next) {
        std::vector<AllOf> possible;
        for (const AllOf& way : map_.demands(last, next, When::steady)) {
            const bool jumps = data_.states[next].gain.law == GainLaw::instant ||
                               data_.states[last].gain.law == GainLaw::instant;
            if (jumps && reads_speed(way)) {
                continue;  // the speed makes a jump on entry
            }
            for (AllOf both : moments) {
                both.insert(both.end(), way.begin(), way.end());
                if (map_.solver().possible(both)) {
                    possible.push_back(std::move(both));
                }
            }
        }
        return possible;
    };
    if (ring.size() >= 2) {
        for (const AllOf& closed : follow(first)) {
            if (std::optional<AllOf> endless = goes_on(ring, closed)) {
                tell_ring(ring, *endless);
                return;
            }
        }
    }
    if (ring.size() == longest_ring) {
        return;
    }
    for (std::uint8_t next = static_cast<std::uint8_t>(first + 1); next < data_.states.size(); ++next) {
        const bool new_one = std::find(ring.begin(), ring.end(), next) == ring.end();
        if (!new_one || !map_.leads(last, next) || !is_inert(next)) {
            continue;
        }
        std::vector<AllOf> onward = follow(next);
        if (!onward.empty()) {
            std::vector<std::uint8_t> longer = ring;
            longer.push_back(next);
            ring_from(longer, onward);
        }
    }
}

/// States whose `enter` and the end of whose `stay` can hold at one moment.
void Checker::left_at_once() {
    for (std::uint8_t index = 0; index < data_.states.size(); ++index) {
        if ((map_.reachable() >> index & 1U) == 0 || !is_inert(index)) {
            continue;
        }
        for (std::uint8_t next = 0; next < data_.states.size(); ++next) {
            if (next == index || !map_.leads(index, next) || ringed_.count({index, next}) != 0) {
                continue;
            }
            const std::optional<AllOf> ended = none_of(data_, data_.states[index].stay);
            if (!ended) {
                continue;  // a better state takes over: that is what rank is for
            }
            bool found = false;
            for (std::uint8_t from = 0; from < data_.states.size() && !found; ++from) {
                if (from == index || (map_.reachable() >> from & 1U) == 0) {
                    continue;
                }
                for (AllOf way : map_.demands(from, index, When::steady)) {
                    way.insert(way.end(), ended->begin(), ended->end());
                    if (std::optional<Knowledge> moment = map_.find(index, next, When::steady, way)) {
                        add({Severity::warning,
                             FindingKind::left_at_once,
                             {"states." + data_.states[index].name + ".stay",
                              "states." + data_.states[index].name + ".enter"},
                             fmt::format(
                                 "{} can be left for {} in the very instant in which it is entered: {}",
                                 data_.states[index].name, data_.states[next].name, told(*moment, {index})),
                             "let its `stay` hold wherever its `enter` does",
                             {data_.states[index].name},
                             {},
                             {}});
                        found = true;
                        break;
                    }
                }
            }
            if (found) {
                break;
            }
        }
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
