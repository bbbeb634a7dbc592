#include "core/chart/findings.hpp"

#include <fmt/format.h>

namespace cursimeter::detail {

std::string advise_name(std::string_view name, const std::vector<std::string>& candidates) {
    const std::string_view near = nearest_name(name, candidates);
    if (!near.empty()) {
        return fmt::format("did you mean '{}'?", near);
    }
    std::string all;
    for (const std::string& candidate : candidates) {
        all += (all.empty() ? "" : ", ") + candidate;
    }
    return all.empty() ? "there is none yet" : "known: " + all;
}

void check_count(const char* what, std::size_t count, std::size_t most, Findings& findings) {
    if (count > most) {
        findings.add(what, fmt::format("there are {} {}", count, what),
                     fmt::format("a chart can have {}", most));
    }
}

}  // namespace cursimeter::detail
