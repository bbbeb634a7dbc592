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

std::string too_many(std::size_t have, std::size_t most) {
    return fmt::format("there can be {}: take {} out, or let one do the work of several", most, have - most);
}

}  // namespace cursimeter::detail
