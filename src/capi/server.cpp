#include <cursimeter/show/present.hpp>

#include "capi/intents.hpp"
#include "capi/reports.hpp"
#include "capi/server_handle.hpp"

using namespace cursimeter;

namespace cursimeter::capi {
namespace {

static_assert(CURSIMETER_SEAT_FORGOTTEN == static_cast<int>(link::ServerEventKind::forgotten));

link::ServerConfig config_of(const cursimeter_server_config& given) {
    link::ServerConfig config;
    config.tick_rate = given.tick_rate;
    config.snapshot_every = given.snapshot_every;
    config.seats = given.seats;
    config.runners = given.runners;
    config.secret = given.secret;
    if (given.secret_key != nullptr) {
        link::SecretKey secret;
        std::copy_n(given.secret_key, secret.bytes.size(), secret.bytes.begin());
        config.keys = link::key_pair_of(secret);
    }
    config.game = given.game;
    config.world = given.world;
    config.silence = Seconds{given.silence};
    config.keep = Seconds{given.keep};
    config.history = Seconds{given.history};
    config.interest = given.interest;
    config.budget = given.budget;
    config.players = std::max(given.players, std::uint32_t{1});
    return config;
}

/// Asks one thing of a runner that exists.
template <class Work>
cursimeter_status with_runner(const cursimeter_server* server, cursimeter_runner_key key, Work&& work) {
    if (server == nullptr) {
        return CURSIMETER_BAD_ARGUMENT;
    }
    return server->server.exists(key_of(key)) ? guarded(nullptr, std::forward<Work>(work)) : CURSIMETER_NO;
}

}  // namespace
}  // namespace cursimeter::capi

extern "C" {

cursimeter_status cursimeter_server_new(cursimeter_chart* const* charts, size_t count,
                                        const cursimeter_server_config* config, cursimeter_server** out,
                                        cursimeter_error* error) {
    if (out != nullptr) {
        *out = nullptr;
    }
    cursimeter_server_config known = CURSIMETER_SERVER_CONFIG_INIT;
    if (out == nullptr || !capi::take_in(config, known) || known.threads < 1 || known.threads > 64) {
        return capi::bad_argument(error, out == nullptr ? "out" : "config");
    }
    return capi::guarded(error, [&] {
        capi::Cast cast;
        if (!cast.take_in(charts, count, known.runners)) {
            return capi::bad_argument(error, "charts");
        }
        link::Server server(cast.list(), capi::config_of(known));
        std::unique_ptr<link::ThreadWorkers> workers;
        if (known.threads > 1) {
            workers = std::make_unique<link::ThreadWorkers>(known.threads);
            server.set_workers(workers.get());
        }
        *out = new cursimeter_server{std::move(cast),   {}, std::move(workers), known.seats,
                                     std::move(server), {}};
        return CURSIMETER_OK;
    });
}

void cursimeter_server_free(cursimeter_server* server) {
    delete server;
}

void cursimeter_server_tell_time(cursimeter_server* server, double seconds) {
    if (server != nullptr) {
        server->server.tell_time(Seconds{seconds});
    }
}
int cursimeter_server_due(const cursimeter_server* server) {
    return server != nullptr && server->server.due() ? 1 : 0;
}
double cursimeter_server_due_at(const cursimeter_server* server) {
    return server == nullptr ? 0.0 : server->server.due_at().value;
}
void cursimeter_server_receive(cursimeter_server* server, uint64_t peer, const void* bytes, size_t length) {
    if (server != nullptr) {
        server->server.receive({peer}, capi::bytes_of(bytes, length));
    }
}
void cursimeter_server_disconnected(cursimeter_server* server, uint64_t peer) {
    if (server != nullptr) {
        server->server.disconnected({peer});
    }
}
cursimeter_status cursimeter_server_tick(cursimeter_server* server, const cursimeter_advancer* advancer) {
    if (server == nullptr) {
        return CURSIMETER_BAD_ARGUMENT;
    }
    capi::CalledAdvancer called(server->cast, advancer);
    if (!called.ok()) {
        return CURSIMETER_BAD_ARGUMENT;
    }
    server->server.tick(called);
    return CURSIMETER_OK;
}
cursimeter_status cursimeter_server_next_packet(cursimeter_server* server, uint64_t* peer, const void** bytes,
                                                size_t* length) {
    if (server == nullptr || peer == nullptr || bytes == nullptr || length == nullptr) {
        return CURSIMETER_BAD_ARGUMENT;
    }
    const auto packet = server->server.next_packet();
    *peer = packet ? packet->peer.value : 0;
    return capi::put_bytes(packet ? std::optional(packet->bytes) : std::nullopt, bytes, length);
}
uint32_t cursimeter_server_now(const cursimeter_server* server) {
    return server == nullptr ? 0 : server->server.now().value;
}

cursimeter_status cursimeter_server_next_event(cursimeter_server* server, cursimeter_server_event* out) {
    if (server == nullptr || out == nullptr || out->size < sizeof(*out)) {
        return CURSIMETER_BAD_ARGUMENT;
    }
    const auto event = server->server.next_event();
    if (!event) {
        return CURSIMETER_NO;
    }
    const cursimeter_server_event told{0,
                                       static_cast<int32_t>(event->kind),
                                       event->seat.index,
                                       event->identity,
                                       static_cast<int32_t>(event->why),
                                       0};
    return capi::hand_out(told, out) ? CURSIMETER_OK : CURSIMETER_BAD_ARGUMENT;
}
cursimeter_status cursimeter_server_send_message(cursimeter_server* server, cursimeter_seat seat,
                                                 const void* bytes, size_t length) {
    if (server == nullptr || !capi::is_seat(server, seat) || (bytes == nullptr && length > 0)) {
        return CURSIMETER_BAD_ARGUMENT;
    }
    return server->server.send_message(capi::seat_of(seat), capi::bytes_of(bytes, length)) ? CURSIMETER_OK
                                                                                           : CURSIMETER_NO;
}
cursimeter_status cursimeter_server_next_message(cursimeter_server* server, cursimeter_seat* seat,
                                                 const void** bytes, size_t* length) {
    if (server == nullptr || seat == nullptr || bytes == nullptr || length == nullptr) {
        return CURSIMETER_BAD_ARGUMENT;
    }
    const auto message = server->server.next_message();
    *seat = message ? message->seat.index : -1;
    return capi::put_bytes(message ? std::optional(message->bytes) : std::nullopt, bytes, length);
}

cursimeter_status cursimeter_server_spawn(cursimeter_server* server, size_t chart,
                                          const cursimeter_placement* placement, cursimeter_seat seat,
                                          cursimeter_runner_key* out, cursimeter_error* error) {
    return cursimeter_server_spawn_for(server, chart, placement, seat, 0, out, error);
}
cursimeter_status cursimeter_server_spawn_for(cursimeter_server* server, size_t chart,
                                              const cursimeter_placement* placement, cursimeter_seat seat,
                                              size_t player, cursimeter_runner_key* out,
                                              cursimeter_error* error) {
    if (out != nullptr) {
        *out = CURSIMETER_NO_RUNNER;
    }
    if (server == nullptr || out == nullptr || chart >= server->cast.charts.size() || seat < -1 ||
        (seat >= 0 && !capi::is_seat(server, seat))) {
        return capi::bad_argument(error, server == nullptr                     ? "server"
                                         : out == nullptr                      ? "out"
                                         : chart >= server->cast.charts.size() ? "chart"
                                                                               : "seat");
    }
    if (seat >= 0 && player >= server->server.read_seat(capi::seat_of(seat)).players) {
        return capi::bad_argument(error, "player");
    }
    return capi::guarded(error, [&] {
        const auto owner = seat < 0 ? std::nullopt : std::optional(capi::seat_of(seat));
        const auto key = server->server.spawn(chart, capi::placement_of(placement), owner, player);
        *out = key ? capi::key_of(*key) : CURSIMETER_NO_RUNNER;
        return key ? CURSIMETER_OK : CURSIMETER_NO;
    });
}
cursimeter_status cursimeter_server_despawn(cursimeter_server* server, cursimeter_runner_key key) {
    return capi::with_runner(server, key, [&] {
        return server->server.despawn(capi::key_of(key)) ? CURSIMETER_OK : CURSIMETER_NO;
    });
}
size_t cursimeter_server_runners(const cursimeter_server* server, cursimeter_runner_key* keys, size_t room) {
    std::size_t count = 0;
    if (server != nullptr) {
        static_cast<void>(capi::guarded(nullptr, [&] {
            count = capi::put_keys(server->server.runners(), keys, room);
            return CURSIMETER_OK;
        }));
    }
    return count;
}
cursimeter_status cursimeter_server_get(const cursimeter_server* server, cursimeter_runner_key key,
                                        cursimeter_runner* out) {
    if (out == nullptr) {
        return CURSIMETER_BAD_ARGUMENT;
    }
    return capi::with_runner(server, key, [&] {
        capi::put_runner(server->server.runner(capi::key_of(key)), out);
        return CURSIMETER_OK;
    });
}
cursimeter_status cursimeter_server_set(cursimeter_server* server, cursimeter_runner_key key,
                                        const cursimeter_runner* runner) {
    if (runner == nullptr) {
        return CURSIMETER_BAD_ARGUMENT;
    }
    return capi::with_runner(server, key, [&] {
        capi::Borrowed lent(runner);
        static_cast<void>(
            present(server->server.chart(capi::key_of(key)), *lent));  // throws for another chart's
        server->server.runner(capi::key_of(key)) = *lent;
        return CURSIMETER_OK;
    });
}
int cursimeter_server_chart_of(const cursimeter_server* server, cursimeter_runner_key key) {
    int found = -1;
    static_cast<void>(capi::with_runner(server, key, [&] {
        found = static_cast<int>(server->cast.index_of(server->server.chart(capi::key_of(key))));
        return CURSIMETER_OK;
    }));
    return found;
}
cursimeter_status cursimeter_server_report(const cursimeter_server* server, cursimeter_runner_key key,
                                           cursimeter_report* out) {
    if (out == nullptr || !capi::has_report_size(out)) {
        return CURSIMETER_BAD_ARGUMENT;
    }
    return capi::with_runner(server, key, [&] {
        capi::put_report(server->server.report(capi::key_of(key)), out);
        return CURSIMETER_OK;
    });
}
cursimeter_status cursimeter_server_teleport(cursimeter_server* server, cursimeter_runner_key key,
                                             const cursimeter_placement* placement, cursimeter_error* error) {
    if (server == nullptr || placement == nullptr) {
        return capi::bad_argument(error, server == nullptr ? "server" : "placement");
    }
    return capi::guarded(error, [&] {
        if (!server->server.exists(capi::key_of(key))) {
            return CURSIMETER_NO;
        }
        server->server.teleport(capi::key_of(key), capi::placement_of(placement));
        return CURSIMETER_OK;
    });
}
cursimeter_status cursimeter_server_direct(cursimeter_server* server, cursimeter_runner_key key,
                                           const cursimeter_intent* intent) {
    capi::ReadIntent read;
    if (!read.take_in(intent)) {
        return CURSIMETER_BAD_ARGUMENT;
    }
    return capi::with_runner(server, key, [&] {
        Intent lasting = read.intent();
        lasting.focus = nullptr;
        server->server.direct(capi::key_of(key), lasting);
        return CURSIMETER_OK;
    });
}

cursimeter_status cursimeter_server_seen_by(const cursimeter_server* server, cursimeter_seat seat,
                                            cursimeter_runner_key key, uint32_t tick, cursimeter_seen* out) {
    if (server == nullptr || out == nullptr || !capi::is_seat(server, seat)) {
        return CURSIMETER_BAD_ARGUMENT;
    }
    return capi::with_runner(server, key, [&] {
        const auto seen = server->server.seen_by(capi::seat_of(seat), capi::key_of(key), {tick});
        if (!seen) {
            return CURSIMETER_NO;
        }
        cursimeter_seen told = CURSIMETER_SEEN_INIT;
        told.at = seen->at;
        capi::put(seen->position, told.position);
        capi::put(seen->velocity, told.velocity);
        told.yaw = seen->look.yaw;
        told.pitch = seen->look.pitch;
        told.radius = seen->body.radius;
        told.height = seen->body.height;
        told.state = seen->state.index;
        return capi::hand_out(told, out) ? CURSIMETER_OK : CURSIMETER_BAD_ARGUMENT;
    });
}

cursimeter_status cursimeter_server_set_rules(cursimeter_server* server, const cursimeter_rules* rules) {
    cursimeter_rules known = CURSIMETER_RULES_INIT;
    if (server == nullptr || (rules != nullptr && !capi::take_in(rules, known))) {
        return CURSIMETER_BAD_ARGUMENT;
    }
    server->rules.take_in(known);
    server->server.set_admission(known.look_at != nullptr ? &server->rules : nullptr);
    server->server.set_interest(known.concern != nullptr ? &server->rules : nullptr);
    return CURSIMETER_OK;
}
cursimeter_status cursimeter_server_read_statistics(const cursimeter_server* server,
                                                    cursimeter_server_statistics* out) {
    if (server == nullptr) {
        return CURSIMETER_BAD_ARGUMENT;
    }
    const link::Statistics& now = server->server.statistics();
    const cursimeter_server_statistics told{0,
                                            now.packets,
                                            now.bytes,
                                            now.damaged,
                                            now.malformed,
                                            now.strangers,
                                            now.repeated,
                                            now.far_off,
                                            now.false_acks,
                                            now.baseless,
                                            now.refused_joins,
                                            now.challenges};
    return capi::hand_out(told, out) ? CURSIMETER_OK : CURSIMETER_BAD_ARGUMENT;
}

}  // extern "C"
