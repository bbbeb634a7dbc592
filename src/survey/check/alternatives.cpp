#include <fmt/format.h>

#include <algorithm>

#include "survey/check/checker.hpp"

/// Findings about conditions of several lists.
namespace cursimeter::survey {

/// A list of terms among several decides nothing if another one holds whenever it does. Looked for from the last to the first,
/// so that of two equal lists the first is kept.
void Checker::alternatives() {
    std::set<std::string> told;  // a condition that was taken over by `like` is the same list
    for (const detail::CompiledState& state : data_.states) {
        for (const bool stay : {false, true}) {
            const detail::CompiledCondition& condition = stay ? state.stay : state.enter;
            std::vector<bool> needless(condition.clause_count, false);
            for (std::size_t i = condition.clause_count; i-- > 0;) {
                const detail::Clause& clause = data_.clauses[condition.first_clause + i];
                AllOf alone = terms_of(data_, clause);
                if (!map_.solver().possible(alone)) {
                    continue;  // told of as a contradiction
                }
                bool has_others = false;
                for (std::size_t other = 0; other < condition.clause_count; ++other) {
                    if (other != i && !needless[other]) {
                        alone.push_back(failing(data_, data_.clauses[condition.first_clause + other]));
                        has_others = true;
                    }
                }
                if (!has_others || map_.solver().possible(alone)) {
                    continue;
                }
                needless[i] = true;
                const std::string& path = data_.terms[clause.first_term].path;
                if (!told.insert(path).second) {
                    continue;
                }
                add({Severity::warning,
                     FindingKind::needless,
                     {path},
                     fmt::format("this list of {} decides nothing: whenever it holds, another one does",
                                 state.name),
                     "take it out, or take a term out of it",
                     {state.name},
                     {},
                     {}});
            }
        }
    }
}

/// Whether a runner can begin its life in the state by one of the lists of its `enter`.
bool Checker::can_begin(const detail::CompiledState& state, const detail::Clause& clause) const {
    const detail::StateMask any = ~detail::StateMask{0};
    if (state.from != any || detail::presses_of(clause) != 0) {
        return false;
    }
    AllOf all = terms_of(data_, clause);
    for (const std::uint8_t earlier : data_.rank) {
        const detail::CompiledState& other = data_.states[earlier];
        if (&other == &state) {
            break;
        }
        if (other.from == any) {
            const std::optional<AllOf> none = none_of(data_, other.enter);
            if (!none) {
                return false;
            }
            all.insert(all.end(), none->begin(), none->end());
        }
    }
    return map_.solver().possible(all);
}

/// A list of `enter` that holds only where states before it in rank are taken, or kept, decides nothing either.
void Checker::outranked_alternatives() {
    for (std::uint8_t index = 0; index < data_.states.size(); ++index) {
        const detail::CompiledState& state = data_.states[index];
        if (state.enter.clause_count < 2 || (map_.reachable() >> index & 1U) == 0) {
            continue;
        }
        std::vector<bool> decides(state.enter.clause_count, false);
        for (std::uint8_t from = 0; from < data_.states.size(); ++from) {
            if ((map_.reachable() >> from & 1U) == 0 || (from == index && !state.again)) {
                continue;
            }
            const std::vector<AllOf> ways = map_.demands(from, index, When::any);
            for (std::size_t i = 0; i < ways.size(); ++i) {
                decides[i] = decides[i] || map_.solver().possible(ways[i]);
            }
        }
        for (std::size_t i = 0; i < decides.size(); ++i) {
            const detail::Clause& clause = data_.clauses[state.enter.first_clause + i];
            const std::string& path = data_.terms[clause.first_term].path;
            const AllOf alone = terms_of(data_, clause);
            const bool told = std::any_of(findings_.begin(), findings_.end(), [&](const Finding& finding) {
                return finding.paths.front() == path;
            });
            if (decides[i] || told || !map_.solver().possible(alone) || can_begin(state, clause)) {
                continue;
            }
            add({Severity::warning,
                 FindingKind::needless,
                 {path, "rank"},
                 fmt::format("this list of {} decides nothing: whenever it holds, {} first in rank",
                             state.name, first_in_rank(index, alone)),
                 "take it out, or move the state up in rank",
                 {state.name},
                 {},
                 {}});
        }
    }
}

/// "jump comes", of the state that comes before another in rank wherever these terms hold.
std::string Checker::first_in_rank(std::uint8_t index, const AllOf& terms) const {
    for (const std::uint8_t earlier : data_.rank) {
        if (earlier == index) {
            break;
        }
        AllOf all = terms;
        const std::optional<AllOf> none = none_of(data_, data_.states[earlier].enter);
        if (none) {
            all.insert(all.end(), none->begin(), none->end());
        }
        if (!none || !map_.solver().possible(all)) {
            return data_.states[earlier].name + " comes";
        }
    }
    return "other states together come";
}

}  // namespace cursimeter::survey
