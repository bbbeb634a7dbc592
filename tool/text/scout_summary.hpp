#pragma once

#include <cursimeter/survey/run.hpp>
#include <cursimeter/survey/scout.hpp>
#include <optional>
#include <string>

namespace cursimeter::tool {

/// What one chart's search came to.
struct ScoutOutcome {
    const Chart& chart;
    survey::Scouted found;
    std::optional<survey::Run> way;  ///< the fastest, if there is one
    bool raced = false;              ///< whether ground states alone were looked for as well
    std::optional<double> on_foot;   ///< s; the fastest way by them
};

/// "the end of leg \"sea wall\"", "(150, 0, 10)", "100 m ahead", "all places".
[[nodiscard]] std::string goal_text(const survey::ScoutPlan& plan);
/// For a person.
[[nodiscard]] std::string scout_text(const ScoutOutcome& outcome, const survey::ScoutPlan& plan);
/// Of one among several searches.
struct SearchLine {
    std::uint64_t seed = 1;
    std::optional<double> seconds;
    std::size_t arrivals = 0;
    std::uint64_t ticks = 0;
};
/// What several searches came to, and the fastest way of all.
[[nodiscard]] std::string seeds_text(const ScoutOutcome& best, const std::vector<SearchLine>& searches,
                                     const survey::ScoutPlan& plan);
[[nodiscard]] std::string seeds_json(const ScoutOutcome& best, const std::vector<SearchLine>& searches,
                                     const survey::ScoutPlan& plan, const std::string& course);
/// What two charts reach otherwise.
[[nodiscard]] std::string comparison_text(const ScoutOutcome& one, const ScoutOutcome& other,
                                          const survey::ScoutPlan& plan);
[[nodiscard]] std::string scout_json(const ScoutOutcome& outcome, const ScoutOutcome* other,
                                     const survey::ScoutPlan& plan, const std::string& course);
/// x, y, z in m, s, and whether a way back was seen, a line for each place.
[[nodiscard]] std::string places_csv(const survey::Scouted& found);

}  // namespace cursimeter::tool
