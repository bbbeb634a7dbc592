#pragma once

#include <cursimeter/chart_spec/body_and_input.hpp>
#include <cursimeter/chart_spec/condition.hpp>
#include <cursimeter/chart_spec/effects.hpp>
#include <cursimeter/chart_spec/meters.hpp>
#include <cursimeter/chart_spec/states.hpp>
#include <string>
#include <vector>

/// The chart as a person writes it: plain values, in C++ or in a file (cursimeter/chartfile). Every
/// member is described, with unit, range and default, in docs/chart-reference.md, which is generated
/// from the same table (src/core/chart/chart_keys.cpp) that checks these values.
///
/// An empty optional means "not said": a state that is `like` another takes it over from there, and
/// otherwise the default holds. `compile` (cursimeter/chart.hpp) turns a spec into a `Chart`.
namespace cursimeter {

/// What has to be so whatever is pressed: `survey::rule_on` and `cursimeter check` rule on it, nothing else reads it, and no digest
/// depends on it.
struct RequirementSpec {
    std::string that{};  ///< "never sprint with stamina spent"; see cursimeter/survey/require.hpp
    friend bool operator==(const RequirementSpec&, const RequirementSpec&) = default;
};

/// One kind of character.
struct ChartSpec {
    std::string name{};
    std::vector<std::string> rank{};  ///< states in the order in which they are tried
    BodySpec body;
    InputSpec input;
    std::vector<std::string> zones{};  ///< kinds of zones that conditions can tell apart
    std::vector<ActionSpec> actions{};
    std::vector<MeterSpec> meters{};
    std::vector<CooldownSpec> cooldowns{};
    std::vector<ModifierSpec> modifiers{};
    std::vector<BlockSpec> blocks{};
    std::vector<StateSpec> states{};
    std::vector<RequirementSpec> requirements{};
    friend bool operator==(const ChartSpec&, const ChartSpec&) = default;
};

}  // namespace cursimeter
