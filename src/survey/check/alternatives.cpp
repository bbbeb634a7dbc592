#include <fmt/format.h>

#include "survey/check/checker.hpp"

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

}  // namespace cursimeter::survey
