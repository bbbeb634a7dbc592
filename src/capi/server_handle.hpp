#pragma once

#include <cursimeter/link/match.hpp>
#include <cursimeter/link/server.hpp>
#include <cursimeter/link/thread_workers.hpp>
#include <memory>

#include "capi/rules.hpp"
#include "capi/steppers.hpp"

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
inline link::SeatId seat_of(cursimeter_seat seat) noexcept {
    return {static_cast<std::uint16_t>(seat)};
}

}  // namespace cursimeter::capi
