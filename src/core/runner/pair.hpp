#pragma once

#include <cursimeter/chart.hpp>
#include <cursimeter/runner.hpp>

#include "core/chart/chart_data.hpp"

/// The door of every call that takes a chart and a runner outside a tick: they must belong together, by one comparison.
namespace cursimeter::detail {

/// Throws ChartError.
[[noreturn]] void refuse_pair(const char* call);
[[noreturn]] void refuse_id(const char* kind, std::size_t index, std::size_t count);

template <class R>
[[nodiscard]] inline auto& paired(const Chart& chart, R& runner, const char* call) {
    auto& state = RunnerAccess::state(runner);
    if (state.chart_tag != chart.data().tag) [[unlikely]] {
        refuse_pair(call);
    }
    return state;
}

/// The thing that an id stands for.
template <class Named>
[[nodiscard]] inline const Named& named(const std::vector<Named>& list, std::size_t index, const char* kind) {
    if (index >= list.size()) [[unlikely]] {
        refuse_id(kind, index, list.size());
    }
    return list[index];
}

}  // namespace cursimeter::detail
