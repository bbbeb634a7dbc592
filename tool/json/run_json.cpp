#include <fmt/format.h>

#include <cmath>
#include <nlohmann/json.hpp>

#include "json/run_json.hpp"
#include "scene/results.hpp"

namespace cursimeter::tool {
namespace {

using nlohmann::ordered_json;

ordered_json triple(const glm::dvec3& v) {
    return ordered_json::array({v.x, v.y, v.z});
}

ordered_json final_json(const RunResult& result) {
    const Runner& runner = result.run.runner;
    ordered_json meters = ordered_json::object();
    for (std::uint8_t i = 0; i < result.chart.meter_count(); ++i) {
        meters[result.chart.name(MeterId{i})] = read_meter(result.chart, runner, MeterId{i}).level;
    }
    return {{"state", result.chart.name(runner.state())},
            {"position", triple(runner.position())},
            {"velocity", triple(runner.velocity())},
            {"meters", meters}};
}

}  // namespace

std::string run_json(const RunResult& result) {
    const survey::Run& run = result.run;
    ordered_json json = {{"chart", result.chart.name()},
                         {"drill", result.drill},
                         {"rate", result.rate},
                         {"seconds", run.seconds},
                         {"ticks", run.ticks},
                         {"digest", fmt::format("{:016x}", run.digest)},
                         {"states_digest", fmt::format("{:016x}", survey::states_digest(result.chart, run))},
                         {"distance", run.distance},
                         {"final", final_json(result)}};
    ordered_json lowest = ordered_json::object();
    for (std::uint8_t i = 0; i < result.chart.meter_count(); ++i) {
        lowest[result.chart.name(MeterId{i})] = run.lowest[i];
    }
    json["lowest"] = lowest;
    json["states"] = ordered_json::array();
    for (const survey::Visit& visit : run.visits) {
        json["states"].push_back({{"state", result.chart.name(visit.state)},
                                  {"at", visit.at},
                                  {"seconds", visit.seconds},
                                  {"distance", visit.distance},
                                  {"cause", result.chart.describe(visit.cause)}});
    }
    json["events"] = ordered_json::array();
    for (const survey::TimedEvent& event : run.events) {
        const EventKind kind = event.event.kind;
        ordered_json told{
            {"at", event.at}, {"event", to_string(kind)}, {"of", subject_name(result.chart, event.event)}};
        if (kind == EventKind::refused) {
            told["cause"] = result.chart.describe(event.event.cause);
        } else if (kind == EventKind::stacked) {
            told["stacks"] = event.event.value;
        } else if (kind == EventKind::crossed) {
            told["threshold"] =
                result.chart.named_levels(MeterId{event.event.subject})[event.event.which].name;
            told["rising"] = event.event.rising;
        }
        json["events"].push_back(std::move(told));
    }
    if (result.course) {
        json["course"] = result.course->spec().name;
        json["legs"] = ordered_json::array();
        for (const survey::LegTime& leg : run.legs) {
            const auto time = [](double at) { return std::isnan(at) ? ordered_json() : ordered_json(at); };
            json["legs"].push_back({{"leg", leg.name},
                                    {"begun", time(leg.begun)},
                                    {"ended", time(leg.ended)},
                                    {"seconds", time(leg.ended - leg.begun)}});
        }
    }
    json["events_lost"] = run.events_lost;
    if (!result.also.empty()) {
        json["also_at"] = ordered_json::array();
    }
    for (const RunAtRate& at : result.also) {
        json["also_at"].push_back(
            {{"rate", at.rate},
             {"states_digest", fmt::format("{:016x}", survey::states_digest(result.chart, at.run))},
             {"first_difference", at.gap.first ? ordered_json(*at.gap.first) : ordered_json()},
             {"seconds_apart", at.gap.seconds},
             {"metres_apart", at.gap.metres}});
    }
    return json.dump(2) + "\n";
}

}  // namespace cursimeter::tool
