#include <fmt/format.h>

#include <nlohmann/json.hpp>

#include "json/net_json.hpp"

namespace cursimeter::tool {
namespace {

using nlohmann::ordered_json;

ordered_json client_json(const rehearsal::ClientResult& client) {
    return {{"joined", client.joined},
            {"corrections", client.corrections},
            {"visible_corrections", client.visible_corrections},
            {"correction_max_m", client.correction_max},
            {"rollback_ticks", client.statistics.replayed},
            {"rollback_deepest_ticks", client.statistics.deepest},
            {"bytes_up_per_s", client.bytes_up_per_s},
            {"bytes_down_per_s", client.bytes_down_per_s},
            {"packets_up_per_s", client.packets_up_per_s},
            {"packets_down_per_s", client.packets_down_per_s},
            {"remote_error_median_m", client.remote_error_median},
            {"remote_error_p99_m", client.remote_error_p99},
            {"remote_error_max_m", client.remote_error_max},
            {"remote_jump_max_m", client.remote_jump_max},
            {"yaw_error_median_degrees", client.yaw_error_median},
            {"yaw_error_p99_degrees", client.yaw_error_p99},
            {"pitch_error_median_degrees", client.pitch_error_median},
            {"pitch_error_p99_degrees", client.pitch_error_p99},
            {"input_delay_s", client.input_delay},
            {"view_delay_s", client.view_delay},
            {"missing_inputs", client.seat.missing},
            {"missing_inputs_after_first_second", client.missing_after_first_second},
            {"late_inputs", client.seat.late},
            {"digests_compared", client.digests_compared},
            {"digests_differing", client.digests_differing},
            {"changes_shown", client.events_shown},
            {"changes_out_of_order", client.events_out_of_order},
            {"changes_missing", client.events_missing},
            {"events_skipped", client.statistics.events_skipped}};
}

}  // namespace

std::string net_json(const NetResult& net) {
    ordered_json clients = ordered_json::array();
    for (const rehearsal::ClientResult& client : net.result.clients) {
        clients.push_back(client_json(client));
    }
    const link::Statistics& server = net.result.server;
    const ordered_json json = {{"chart", net.chart.name()},
                               {"drill", net.drill},
                               {"seconds", net.result.seconds},
                               {"clients", clients},
                               {"bytes_per_remote_snapshot", net.result.bytes_per_remote_snapshot},
                               {"digest", fmt::format("{:016x}", net.result.digest)},
                               {"server",
                                {{"packets", server.packets},
                                 {"bytes", server.bytes},
                                 {"damaged", server.damaged},
                                 {"malformed", server.malformed},
                                 {"repeated", server.repeated},
                                 {"far_off", server.far_off}}}};
    return json.dump(2) + "\n";
}

std::string peers_json(const PeersResult& peers) {
    ordered_json ends = ordered_json::array();
    for (const rehearsal::PeerEndResult& end : peers.result.ends) {
        ends.push_back({{"playing", end.phase == link::PeerPhase::playing},
                        {"rollbacks", end.statistics.rollbacks},
                        {"replayed_ticks", end.statistics.replayed},
                        {"deepest_ticks", end.statistics.deepest},
                        {"late_ticks", end.statistics.waits},
                        {"compared", end.statistics.compared},
                        {"ahead_ticks", end.statistics.ahead},
                        {"round_trip_s", end.statistics.round_trip.value},
                        {"bytes_up_per_s", end.bytes_up_per_s},
                        {"packets_up_per_s", end.packets_up_per_s},
                        {"error_median_m", end.error_median},
                        {"error_p99_m", end.error_p99},
                        {"error_max_m", end.error_max}});
    }
    const ordered_json json = {{"chart", peers.chart.name()},
                               {"course", peers.course},
                               {"seconds", peers.options.seconds},
                               {"peers", ends},
                               {"confirmed_ticks", peers.result.confirmed},
                               {"same", peers.result.same},
                               {"digest", fmt::format("{:016x}", peers.result.digest)}};
    return json.dump(2) + "\n";
}

}  // namespace cursimeter::tool
