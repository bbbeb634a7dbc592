#include <cursimeter/cursimeter_peers.h>

#include <cursimeter/link/peer_game.hpp>

#include "capi/advancers.hpp"
#include "capi/intents.hpp"
#include "capi/reports.hpp"

using namespace cursimeter;

struct cursimeter_peers {
    capi::Cast cast;
    link::PeerGame game;
};

namespace cursimeter::capi {
namespace {

static_assert(CURSIMETER_MOST_PEERS == link::most_peers);
static_assert(CURSIMETER_PEERS_ENDED == static_cast<int>(link::PeerPhase::ended));
static_assert(CURSIMETER_PEERS_CAME_APART == static_cast<int>(link::PeerEventKind::split));

link::PeerGameConfig config_of(const cursimeter_peers_config& given) {
    link::PeerGameConfig config;
    config.tick_rate = given.tick_rate;
    for (std::uint32_t i = 0; i < given.player_count; ++i) {
        const cursimeter_peer_player& player = given.players[i];
        config.players.push_back({player.chart, placement_of(&player.start)});
    }
    config.own = given.own;
    config.session = given.session;
    config.game = given.game;
    config.world = given.world;
    config.input_delay = Seconds{given.input_delay};
    config.most_predicted = Seconds{given.most_predicted};
    config.silence = Seconds{given.silence};
    config.half_life = Seconds{given.half_life};
    config.visible_limit = given.visible_limit;
    return config;
}

bool has_player(const cursimeter_peers* game, std::size_t player) noexcept {
    return game != nullptr && player < game->game.players();
}

}  // namespace
}  // namespace cursimeter::capi

extern "C" {

cursimeter_status cursimeter_peers_new(cursimeter_chart* const* charts, size_t count,
                                       const cursimeter_peers_config* config, cursimeter_peers** out,
                                       cursimeter_error* error) {
    if (out != nullptr) {
        *out = nullptr;
    }
    cursimeter_peers_config known = CURSIMETER_PEERS_CONFIG_INIT;
    if (out == nullptr || !capi::take_in(config, known) || known.player_count > CURSIMETER_MOST_PEERS ||
        (known.players == nullptr && known.player_count > 0)) {
        return capi::bad_argument(error, out == nullptr ? "out" : "config");
    }
    return capi::guarded(error, [&] {
        capi::Cast cast;
        if (!cast.take_in(charts, count, CURSIMETER_MOST_PEERS)) {
            return capi::bad_argument(error, "charts");
        }
        link::PeerGame game(cast.list(), capi::config_of(known));
        *out = new cursimeter_peers{std::move(cast), std::move(game)};
        return CURSIMETER_OK;
    });
}
void cursimeter_peers_free(cursimeter_peers* game) {
    delete game;
}

void cursimeter_peers_tell_time(cursimeter_peers* game, double seconds) {
    if (game != nullptr) {
        game->game.tell_time(Seconds{seconds});
    }
}
cursimeter_status cursimeter_peers_receive(cursimeter_peers* game, const void* bytes, size_t length,
                                           const cursimeter_advancer* advancer) {
    return game == nullptr ? CURSIMETER_BAD_ARGUMENT
                           : capi::receive_by(game->game, game->cast, bytes, length, advancer);
}
int cursimeter_peers_due(const cursimeter_peers* game) {
    return game != nullptr && game->game.due() ? 1 : 0;
}
double cursimeter_peers_due_at(const cursimeter_peers* game) {
    return game == nullptr ? 0.0 : game->game.due_at().value;
}
cursimeter_status cursimeter_peers_tick(cursimeter_peers* game, const cursimeter_intent* intent,
                                        const cursimeter_advancer* advancer, const void* extra,
                                        size_t extra_length) {
    return game == nullptr ? CURSIMETER_BAD_ARGUMENT
                           : capi::tick_by(game->game, game->cast, intent, advancer, extra, extra_length);
}
double cursimeter_peers_tick_part(const cursimeter_peers* game) {
    return game == nullptr ? 0.0 : game->game.tick_part();
}
cursimeter_status cursimeter_peers_next_packet(cursimeter_peers* game, size_t* player, const void** bytes,
                                               size_t* length) {
    if (game == nullptr || player == nullptr || bytes == nullptr || length == nullptr) {
        return CURSIMETER_BAD_ARGUMENT;
    }
    const auto packet = game->game.next_packet();
    if (packet) {
        *player = packet->player;
    }
    return capi::put_bytes(packet ? std::optional(packet->bytes) : std::nullopt, bytes, length);
}
void cursimeter_peers_leave(cursimeter_peers* game) {
    if (game != nullptr) {
        game->game.leave();
    }
}

int cursimeter_peers_phase_of(const cursimeter_peers* game) {
    return game == nullptr ? CURSIMETER_PEERS_ENDED : static_cast<int>(game->game.phase());
}
int cursimeter_peers_farewell(const cursimeter_peers* game, uint32_t* detail) {
    if (detail != nullptr) {
        *detail = game == nullptr ? 0 : game->game.farewell_detail();
    }
    return game == nullptr ? CURSIMETER_FAREWELL_NONE : static_cast<int>(game->game.farewell());
}
cursimeter_status cursimeter_peers_read_split(const cursimeter_peers* game, cursimeter_peers_split* out) {
    if (game == nullptr || out == nullptr || out->size < sizeof(*out)) {
        return CURSIMETER_BAD_ARGUMENT;
    }
    const auto& split = game->game.split();
    if (!split) {
        return CURSIMETER_NO;
    }
    const cursimeter_peers_split told{0,
                                      split->tick.value,
                                      static_cast<std::uint32_t>(split->player),
                                      static_cast<std::uint32_t>(split->with),
                                      0,
                                      split->field.c_str(),
                                      split->own.c_str(),
                                      split->other.c_str()};
    return capi::hand_out(told, out) ? CURSIMETER_OK : CURSIMETER_BAD_ARGUMENT;
}

uint32_t cursimeter_peers_now(const cursimeter_peers* game) {
    return game == nullptr ? 0 : game->game.now().value;
}
uint32_t cursimeter_peers_confirmed(const cursimeter_peers* game) {
    return game == nullptr ? 0 : game->game.confirmed().value;
}
size_t cursimeter_peers_players(const cursimeter_peers* game) {
    return game == nullptr ? 0 : game->game.players();
}
int cursimeter_peers_is_gone(const cursimeter_peers* game, size_t player) {
    return capi::has_player(game, player) && game->game.is_gone(player) ? 1 : 0;
}
cursimeter_runner_key cursimeter_peers_key(const cursimeter_peers* game, size_t player) {
    return capi::has_player(game, player) ? capi::key_of(game->game.key(player)) : CURSIMETER_NO_RUNNER;
}
cursimeter_status cursimeter_peers_get(const cursimeter_peers* game, size_t player, cursimeter_runner* out,
                                       int* chart) {
    if (!capi::has_player(game, player) || out == nullptr) {
        return CURSIMETER_BAD_ARGUMENT;
    }
    capi::put_runner(game->game.runner(player), out);
    if (chart != nullptr) {
        *chart = static_cast<int>(game->cast.index_of(game->game.chart(player)));
    }
    return CURSIMETER_OK;
}
cursimeter_status cursimeter_peers_shown(const cursimeter_peers* game, size_t player, double at[3]) {
    if (!capi::has_player(game, player) || at == nullptr) {
        return CURSIMETER_BAD_ARGUMENT;
    }
    capi::put(game->game.shown(player), at);
    return CURSIMETER_OK;
}
cursimeter_status cursimeter_peers_report(const cursimeter_peers* game, size_t player,
                                          cursimeter_report* out) {
    if (!capi::has_player(game, player) || out == nullptr || !capi::has_report_size(out)) {
        return CURSIMETER_BAD_ARGUMENT;
    }
    capi::put_report(game->game.report(player), out);
    return CURSIMETER_OK;
}
cursimeter_status cursimeter_peers_digest_at(const cursimeter_peers* game, uint32_t tick, uint64_t* digest) {
    return game == nullptr ? CURSIMETER_BAD_ARGUMENT : capi::digest_of(game->game, tick, digest);
}
cursimeter_status cursimeter_peers_place_at(const cursimeter_peers* game, size_t player, uint32_t tick,
                                            double at[3]) {
    if (!capi::has_player(game, player) || at == nullptr) {
        return CURSIMETER_BAD_ARGUMENT;
    }
    const auto known = game->game.place_at(player, {tick});
    if (known) {
        capi::put(*known, at);
    }
    return known ? CURSIMETER_OK : CURSIMETER_NO;
}

cursimeter_status cursimeter_peers_next_event(cursimeter_peers* game, cursimeter_remote_event* out) {
    return game == nullptr ? CURSIMETER_BAD_ARGUMENT : capi::next_event_of(game->game, out);
}
cursimeter_status cursimeter_peers_next_peer_event(cursimeter_peers* game, cursimeter_peer_event* out) {
    if (game == nullptr || out == nullptr || out->size < sizeof(*out)) {
        return CURSIMETER_BAD_ARGUMENT;
    }
    const auto event = game->game.next_peer_event();
    if (!event) {
        return CURSIMETER_NO;
    }
    const cursimeter_peer_event told{0, static_cast<int32_t>(event->kind),
                                     static_cast<std::uint32_t>(event->player), event->tick.value, 0};
    return capi::hand_out(told, out) ? CURSIMETER_OK : CURSIMETER_BAD_ARGUMENT;
}

cursimeter_status cursimeter_peers_read_statistics(const cursimeter_peers* game,
                                                   cursimeter_peers_statistics* out) {
    if (game == nullptr) {
        return CURSIMETER_BAD_ARGUMENT;
    }
    const link::PeerStatistics& now = game->game.statistics();
    const cursimeter_peers_statistics told{0,
                                           now.packets_in,
                                           now.bytes_in,
                                           now.packets_out,
                                           now.bytes_out,
                                           now.damaged,
                                           now.malformed,
                                           now.rollbacks,
                                           now.replayed,
                                           static_cast<std::uint64_t>(now.deepest),
                                           now.waits,
                                           now.compared,
                                           now.events_lost,
                                           now.ahead,
                                           now.round_trip.value};
    return capi::hand_out(told, out) ? CURSIMETER_OK : CURSIMETER_BAD_ARGUMENT;
}

}  // extern "C"
