#include "core/runner/pair.hpp"

#include <fmt/format.h>

#include <cursimeter/diagnostics.hpp>

namespace cursimeter::detail {

void refuse_pair(const char* call) {
    throw ChartError({{call,
                       "the runner was not spawned with this chart",
                       "give the chart of its spawn, or take it to this one by carry_over",
                       {},
                       0,
                       0}});
}

void refuse_id(const char* kind, std::size_t index, std::size_t count) {
    throw ChartError({{kind,
                       fmt::format("the chart has {} of them, and this id is number {}", count, index + 1),
                       "ids belong to one chart: look them up by name in this one",
                       {},
                       0,
                       0}});
}

}  // namespace cursimeter::detail
