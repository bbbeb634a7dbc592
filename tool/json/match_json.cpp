#include "json/match_json.hpp"

#include <nlohmann/json.hpp>

namespace cursimeter::tool {

std::string match_json(const MatchResult& result, const std::string& file) {
    const link::Match& match = result.match;
    const auto at = [&](std::uint32_t tick) { return (tick - result.first_tick) / match.tick_rate; };
    nlohmann::ordered_json json{{"match", file},
                                {"note", match.origin.note},
                                {"course", result.course},
                                {"ticks", match.ticks},
                                {"tick_rate", match.tick_rate},
                                {"seconds", match.ticks / match.tick_rate},
                                {"differing", result.differing},
                                {"cut_short", match.cut_short}};
    if (result.first) {
        json["first"] = {{"tick", result.first->tick},
                         {"at", at(result.first->tick)},
                         {"runner", result.first->runner + 1}};
    }
    json["runners"] = nlohmann::ordered_json::array();
    for (std::size_t i = 0; i < result.runners.size(); ++i) {
        const MatchRunner& runner = result.runners[i];
        json["runners"].push_back(
            {{"runner", i + 1},
             {"chart", runner.chart.name()},
             {"seat", runner.owner ? nlohmann::ordered_json(runner.owner->index) : nlohmann::ordered_json()},
             {"from", at(runner.first)},
             {"until", at(runner.last + 1)},
             {"walked", runner.walked},
             {"state", runner.chart.name(runner.state)},
             {"place", {runner.place.x, runner.place.y, runner.place.z}}});
    }
    return json.dump(2) + "\n";
}

}  // namespace cursimeter::tool
