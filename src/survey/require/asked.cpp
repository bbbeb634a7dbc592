#include "survey/require/asked.hpp"

#include <algorithm>

#include "survey/expected_terms.hpp"

namespace cursimeter::survey {
namespace {

Chart chart_with(const ChartSpec& spec, const std::vector<std::string>& terms) {
    if (terms.empty()) {
        return compile(spec);
    }
    return compile_with_terms(spec, "require", terms);
}

}  // namespace

Asked::Asked(const ChartSpec& spec, Requirement requirement)
    : requirement_(std::move(requirement)),
      states_(static_cast<std::uint8_t>(spec.states.size())),
      chart_(chart_with(spec, requirement_.terms)) {
    if (!requirement_.state.empty()) {
        state_ = index_of(requirement_.state);
    }
    for (const std::string& name : requirement_.from) {
        from_ |= detail::StateMask{1} << index_of(name);
    }
    if (requirement_.from.empty()) {
        from_ = ~detail::StateMask{0};
    }
}

std::uint8_t Asked::index_of(const std::string& name) const {
    return chart_.state(name).index;
}

const detail::Clause* Asked::terms() const {
    if (requirement_.terms.empty()) {
        return nullptr;
    }
    return &data().clauses[data().states[states_].enter.first_clause];
}

}  // namespace cursimeter::survey
