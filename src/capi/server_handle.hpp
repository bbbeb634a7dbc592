#pragma once

#include <cursimeter/link/match.hpp>
#include <cursimeter/link/server.hpp>
#include <cursimeter/link/thread_workers.hpp>
#include <memory>

#include "capi/advancers.hpp"
#include "capi/rules.hpp"

/// What stands behind a server's handle.
struct cursimeter_server {
    cursimeter::capi::Cast cast;
    cursimeter::capi::CalledRules rules;
    std::unique_ptr<cursimeter::link::ThreadWorkers> workers;
    std::size_t seats;
    cursimeter::link::Server server;
    std::unique_ptr<cursimeter::link::MatchRecorder> match;  ///< null: nothing is recorded
};

namespace cursimeter::capi {

inline bool is_seat(const cursimeter_server* server, cursimeter_seat seat) noexcept {
    return seat >= 0 && static_cast<std::size_t>(seat) < server->seats;
}
/// CURSIMETER_OK: somebody has this seat. CURSIMETER_NO: nobody has. CURSIMETER_BAD_ARGUMENT: there is no such seat.
inline cursimeter_status find_client(const cursimeter_server* server, cursimeter_seat seat) {
    if (server == nullptr || !is_seat(server, seat)) {
        return CURSIMETER_BAD_ARGUMENT;
    }
    return server->server.read_seat({static_cast<std::uint16_t>(seat)}).identity != 0 ? CURSIMETER_OK
                                                                                      : CURSIMETER_NO;
}
inline link::SeatId seat_of(cursimeter_seat seat) noexcept {
    return {static_cast<std::uint16_t>(seat)};
}

}  // namespace cursimeter::capi
