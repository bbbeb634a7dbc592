#include "window/state_json.hpp"

#include <fmt/format.h>

#include <nlohmann/json.hpp>

namespace cursimeter::tool {

std::string state_json(const Session& session, const LoopFigures& figures, const std::string& view,
                       bool holds_mouse) {
    using nlohmann::ordered_json;
    const tryout::Tryout& play = session.play;
    const Chart& chart = play.chart();
    const bool net = session.net() != nullptr && session.net()->playing();
    const Runner& runner = net ? session.net()->own() : play.runner();
    ordered_json json;
    json["chart"] = chart.name();
    json["chart_digest"] = fmt::format("{:016x}", chart.digest());
    json["state"] = chart.name(runner.state());
    json["position"] = {runner.position().x, runner.position().y, runner.position().z};
    json["speed"] = runner.speed();
    json["speed_target"] = runner.speed_target();
    json["yaw_degrees"] = runner.yaw() * 180.0 / 3.141592653589793;
    json["grounded"] = runner.grounded();
    json["digest"] = fmt::format("{:016x}", digest(runner));
    for (std::uint8_t i = 0; i < chart.meter_count(); ++i) {
        json["meters"][chart.name(MeterId{i})] = read_meter(chart, runner, MeterId{i}).level;
    }
    json["actions_on"] = ordered_json::array();
    for (std::uint8_t i = 0; i < chart.action_count(); ++i) {
        if (runner.on(ActionId{i})) {
            json["actions_on"].push_back(chart.name(ActionId{i}));
        }
    }
    json["time"] = play.time();
    json["moment"] = play.now().value;
    json["newest_moment"] = play.history().end().value;
    json["ticks"] = play.ticks();
    json["paused"] = session.clock.paused();
    json["pace"] = session.clock.pace();
    json["left_out_seconds"] = session.clock.left_out().value;
    json["looping"] = play.looped().has_value();
    json["fell_out"] = play.fell_out();
    json["drill"] = session.drill_is_playing();
    json["view"] = view;
    json["holds_mouse"] = holds_mouse;
    json["changed"] = ordered_json::array();
    for (const tryout::ChangedValue& change : session.tuning.changed()) {
        json["changed"].push_back({{"path", change.path},
                                   {"saved", change.saved ? ordered_json(*change.saved) : ordered_json()},
                                   {"now", change.now ? ordered_json(*change.now) : ordered_json()}});
    }
    json["written"] = session.written();
    json["said"] = session.word().text;
    json["file_errors"] = session.file_errors();
    if (const std::optional<tryout::GhostReading> ghost = play.ghost()) {
        json["ghost"] = {{"name", ghost->name}, {"apart", ghost->apart}, {"ahead", ghost->ahead}};
    }
    if (net) {
        const link::ClientStatistics& statistics = session.net()->client().statistics();
        json["network"] = {{"round_trip_ms", statistics.round_trip.value * 1000.0},
                           {"corrections", statistics.corrections},
                           {"loss", statistics.loss}};
    }
    json["frames"] = figures.frames;
    json["frame_ms"] = figures.frame_ms;
    json["work_ms"] = figures.work_ms;
    return json.dump(2) + "\n";
}

}  // namespace cursimeter::tool
