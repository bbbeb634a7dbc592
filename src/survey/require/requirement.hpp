#pragma once

#include <cursimeter/chart_spec.hpp>
#include <string>
#include <vector>

/// Requirements as people write them.
namespace cursimeter::survey {

enum class RequirementKind : std::uint8_t { never, ends, possible };

struct Requirement {
    RequirementKind kind = RequirementKind::never;
    std::string state;               ///< that it is about; of `never` empty for any
    std::vector<std::string> terms;  ///< of `never`
    std::vector<std::string> from;   ///< of `possible`: where it begins; empty for any state
    double seconds = 0.0;
};

/// Throws ChartError, whose path is "require".
[[nodiscard]] Requirement read_requirement(const std::string& text, const ChartSpec& spec);

}  // namespace cursimeter::survey
