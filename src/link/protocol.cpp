#include <fmt/format.h>

#include <cursimeter/link/protocol.hpp>

namespace cursimeter::link {

std::string_view to_string(Farewell why) {
    switch (why) {
        case Farewell::none:
            return "none";
        case Farewell::other_version:
            return "other version";
        case Farewell::other_tick_rate:
            return "other tick rate";
        case Farewell::other_charts:
            return "other charts";
        case Farewell::full:
            return "full";
        case Farewell::too_many:
            return "too many runners";
        case Farewell::left:
            return "left";
        case Farewell::removed:
            return "removed";
        case Farewell::silent:
            return "silent";
        case Farewell::moved:
            return "moved";
        case Farewell::outdated:
            return "outdated attempt";
        case Farewell::sealed_only:
            return "sealed only";
        case Farewell::unsealed:
            return "unsealed";
        case Farewell::other_key:
            return "other key";
        case Farewell::other_game:
            return "other game";
        case Farewell::turned_away:
            return "turned away";
    }
    return "unknown";
}

std::string describe_farewell(Farewell why, std::uint32_t detail) {
    switch (why) {
        case Farewell::none:
            return "connected";
        case Farewell::other_version:
            return fmt::format("the server speaks version {} of the protocol, this client {}", detail,
                               protocol_version);
        case Farewell::other_tick_rate:
            return fmt::format("the server plays {} ticks a second", detail / 1000.0);
        case Farewell::other_charts:
            return fmt::format("chart {} is not the server's", detail);
        case Farewell::full:
            return fmt::format("the server is full ({} seats)", detail);
        case Farewell::too_many:
            return fmt::format("the server has {} runners, more than ClientConfig::runners", detail);
        case Farewell::left:
            return "left";
        case Farewell::removed:
            return "removed by the server";
        case Farewell::silent:
            return "nothing was heard for too long";
        case Farewell::moved:
            return "the same identity has joined from elsewhere";
        case Farewell::outdated:
            return "this identity has joined with a later attempt, or with this one before: the next must be "
                   "larger";
        case Farewell::sealed_only:
            return "the server takes sealed connections only: give its public key as ClientConfig::server";
        case Farewell::unsealed:
            return "the server does not seal its connections: give it ServerConfig::keys, or leave out "
                   "ClientConfig::server";
        case Farewell::other_key:
            return "the server's public key is not ClientConfig::server";
        case Farewell::other_game:
            return detail == 0 ? "the server plays another version of the game"
                               : "the server plays in another world";
        case Farewell::turned_away:
            return "the server lets this player not in";
    }
    return "ended";
}

Report OpenGround::advance_runner(const Chart& chart, Runner& runner, const Intent& intent,
                                  const AdvanceContext& context) noexcept {
    return advance(chart, runner, intent, context.dt);
}

Report InTerrain::advance_runner(const Chart& chart, Runner& runner, const Intent& intent,
                                 const AdvanceContext& context) noexcept {
    return advance(chart, runner, intent, terrain_, context.dt);
}

}  // namespace cursimeter::link
