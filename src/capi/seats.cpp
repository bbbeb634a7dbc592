#include "capi/server_handle.hpp"

/// What a server knows of its clients.
using namespace cursimeter;

extern "C" {

const void* cursimeter_server_ticket(const cursimeter_server* server, cursimeter_seat seat, size_t* length) {
    const auto ticket = capi::find_client(server, seat) == CURSIMETER_OK
                            ? server->server.ticket(capi::seat_of(seat))
                            : std::span<const std::byte>();
    if (length != nullptr) {
        *length = ticket.size();
    }
    return ticket.empty() ? nullptr : ticket.data();
}
cursimeter_status cursimeter_server_read_seat(const cursimeter_server* server, cursimeter_seat seat,
                                              cursimeter_seat_reading* out) {
    if (server == nullptr || !capi::is_seat(server, seat)) {
        return CURSIMETER_BAD_ARGUMENT;
    }
    const link::SeatReading reading = server->server.read_seat(capi::seat_of(seat));
    cursimeter_seat_reading told = CURSIMETER_SEAT_READING_INIT;
    told.connected = reading.connected ? 1 : 0;
    told.buffered = reading.buffered;
    told.identity = reading.identity;
    told.peer = reading.peer.value;
    told.intents = reading.intents;
    told.missing = reading.missing;
    told.late = reading.late;
    told.differing = reading.differing;
    told.packets_up = reading.packets_up;
    told.bytes_up = reading.bytes_up;
    told.packets_down = reading.packets_down;
    told.bytes_down = reading.bytes_down;
    told.round_trip = reading.round_trip.value;
    told.loss = reading.loss;
    told.players = static_cast<std::uint32_t>(reading.players);
    told.runner = reading.runners[0] ? capi::key_of(*reading.runners[0]) : CURSIMETER_NO_RUNNER;
    return !capi::hand_out(told, out) ? CURSIMETER_BAD_ARGUMENT
           : reading.identity != 0    ? CURSIMETER_OK
                                      : CURSIMETER_NO;
}
cursimeter_runner_key cursimeter_server_runner_of(const cursimeter_server* server, cursimeter_seat seat,
                                                  size_t player) {
    if (server == nullptr || !capi::is_seat(server, seat) || player >= link::most_players) {
        return CURSIMETER_NO_RUNNER;
    }
    const auto runner = server->server.read_seat(capi::seat_of(seat)).runners[player];
    return runner ? capi::key_of(*runner) : CURSIMETER_NO_RUNNER;
}
cursimeter_status cursimeter_server_remove(cursimeter_server* server, cursimeter_seat seat,
                                           const char* words) {
    const cursimeter_status there = capi::find_client(server, seat);
    if (there == CURSIMETER_OK) {
        server->server.remove(capi::seat_of(seat), words == nullptr ? "" : words);
    }
    return there;
}
cursimeter_status cursimeter_server_forget(cursimeter_server* server, cursimeter_seat seat) {
    const cursimeter_status there = capi::find_client(server, seat);
    if (there == CURSIMETER_OK) {
        server->server.forget(capi::seat_of(seat));
    }
    return there;
}
cursimeter_status cursimeter_server_set_viewpoint(cursimeter_server* server, cursimeter_seat seat,
                                                  const double at[3]) {
    const cursimeter_status there = capi::find_client(server, seat);
    if (there == CURSIMETER_OK) {
        server->server.set_viewpoint(capi::seat_of(seat),
                                     at == nullptr ? std::nullopt : std::optional(capi::vector_of(at)));
    }
    return there;
}

}  // extern "C"
