#include <algorithm>
#include <array>
#include <cursimeter/link/client.hpp>
#include <limits>
#include <string>

#include "capi/advancers.hpp"
#include "capi/intents.hpp"
#include "capi/reports.hpp"
#include "capi/worlds.hpp"

using namespace cursimeter;

struct cursimeter_client {
    capi::Cast cast;
    link::Client client;
    std::string words;
    std::size_t players = 1;
    std::size_t player = 0;  ///< of whom is told
};

namespace cursimeter::capi {
/// It has a player since.
template <>
inline constexpr std::size_t first_size<cursimeter_correction> = offsetof(cursimeter_correction, player);

namespace {

static_assert(CURSIMETER_MOST_PLAYERS == link::most_players);

static_assert(CURSIMETER_SHOWN_MODIFIERS == limits::modifiers);
static_assert(CURSIMETER_PHASE_ENDED == static_cast<int>(link::Phase::ended));

link::ClientConfig config_of(const cursimeter_client_config& given) {
    link::ClientConfig config;
    config.tick_rate = given.tick_rate;
    config.identity = given.identity;
    config.attempt = given.attempt;
    if (given.server_key != nullptr) {
        config.server.emplace();
        std::copy_n(given.server_key, config.server->bytes.size(), config.server->bytes.begin());
    }
    config.game = given.game;
    config.world = given.world;
    const auto ticket = bytes_of(given.ticket, given.ticket_length);
    config.ticket.assign(ticket.begin(), ticket.end());
    config.silence = Seconds{given.silence};
    config.runners = given.runners;
    config.players = std::max(given.players, std::uint32_t{1});
    config.spare = Seconds{given.spare};
    config.extrapolate = Seconds{given.extrapolate};
    config.half_life = Seconds{given.half_life};
    config.visible_limit = given.visible_limit;
    return config;
}

bool has_own(const cursimeter_client* client) noexcept {
    return client->client.own_key(client->player).has_value();
}

}  // namespace
}  // namespace cursimeter::capi

extern "C" {

cursimeter_status cursimeter_client_new(cursimeter_chart* const* charts, size_t count,
                                        const cursimeter_client_config* config, cursimeter_client** out,
                                        cursimeter_error* error) {
    if (out != nullptr) {
        *out = nullptr;
    }
    cursimeter_client_config known = CURSIMETER_CLIENT_CONFIG_INIT;
    if (out == nullptr || !capi::take_in(config, known) ||
        (known.ticket == nullptr && known.ticket_length > 0)) {
        return capi::bad_argument(error, out == nullptr ? "out" : "config");
    }
    return capi::guarded(error, [&] {
        capi::Cast cast;
        if (!cast.take_in(charts, count, known.runners)) {
            return capi::bad_argument(error, "charts");
        }
        const link::ClientConfig made = capi::config_of(known);
        link::Client client(cast.list(), made);
        *out = new cursimeter_client{std::move(cast), std::move(client), {}, made.players, 0};
        return CURSIMETER_OK;
    });
}
void cursimeter_client_free(cursimeter_client* client) {
    delete client;
}

void cursimeter_client_tell_time(cursimeter_client* client, double seconds) {
    if (client != nullptr) {
        client->client.tell_time(Seconds{seconds});
    }
}
cursimeter_status cursimeter_client_receive(cursimeter_client* client, const void* bytes, size_t length,
                                            const cursimeter_advancer* advancer) {
    return client == nullptr ? CURSIMETER_BAD_ARGUMENT
                             : capi::receive_by(client->client, client->cast, bytes, length, advancer);
}
int cursimeter_client_due(const cursimeter_client* client) {
    return client != nullptr && client->client.due() ? 1 : 0;
}
double cursimeter_client_due_at(const cursimeter_client* client) {
    return client == nullptr ? 0.0 : client->client.due_at().value;
}
cursimeter_status cursimeter_client_tick(cursimeter_client* client, const cursimeter_intent* intent,
                                         const cursimeter_advancer* advancer, const void* extra,
                                         size_t extra_length) {
    return client == nullptr
               ? CURSIMETER_BAD_ARGUMENT
               : capi::tick_by(client->client, client->cast, intent, advancer, extra, extra_length);
}
cursimeter_status cursimeter_client_tick_players(cursimeter_client* client,
                                                 const cursimeter_player_intent* players, size_t count,
                                                 const cursimeter_advancer* advancer) {
    if (client == nullptr || (players == nullptr && count > 0) || count > link::most_players) {
        return CURSIMETER_BAD_ARGUMENT;
    }
    std::array<capi::ReadIntent, link::most_players> read;
    std::array<Intent, link::most_players> intents;
    std::array<link::ExtraBytes, link::most_players> extras;
    capi::CalledAdvancer called(client->cast, advancer);
    for (std::size_t i = 0; i < count; ++i) {
        const cursimeter_player_intent& one = players[i];
        if ((one.intent != nullptr && !read[i].take_in(one.intent)) ||
            (one.extra == nullptr && one.extra_length > 0) ||
            !extras[i].add(capi::bytes_of(one.extra, one.extra_length))) {
            return CURSIMETER_BAD_ARGUMENT;
        }
        intents[i] = one.intent != nullptr ? read[i].intent() : Intent{};
    }
    if (!called.ok()) {
        return CURSIMETER_BAD_ARGUMENT;
    }
    client->client.tick_players(std::span(intents).first(count), called, std::span(extras).first(count));
    return CURSIMETER_OK;
}
cursimeter_status cursimeter_client_choose_player(cursimeter_client* client, size_t player) {
    if (client == nullptr || player >= client->players) {
        return CURSIMETER_BAD_ARGUMENT;
    }
    client->player = player;
    return CURSIMETER_OK;
}
double cursimeter_client_tick_part(const cursimeter_client* client) {
    return client == nullptr ? 0.0 : client->client.tick_part();
}
cursimeter_status cursimeter_client_next_packet(cursimeter_client* client, const void** bytes,
                                                size_t* length) {
    if (client == nullptr || bytes == nullptr || length == nullptr) {
        return CURSIMETER_BAD_ARGUMENT;
    }
    return capi::put_bytes(client->client.next_packet(), bytes, length);
}
cursimeter_status cursimeter_client_send_message(cursimeter_client* client, const void* bytes,
                                                 size_t length) {
    if (client == nullptr || (bytes == nullptr && length > 0)) {
        return CURSIMETER_BAD_ARGUMENT;
    }
    return client->client.send_message(capi::bytes_of(bytes, length)) ? CURSIMETER_OK : CURSIMETER_NO;
}
cursimeter_status cursimeter_client_next_message(cursimeter_client* client, const void** bytes,
                                                 size_t* length) {
    if (client == nullptr || bytes == nullptr || length == nullptr) {
        return CURSIMETER_BAD_ARGUMENT;
    }
    return capi::put_bytes(client->client.next_message(), bytes, length);
}
cursimeter_status cursimeter_client_play_again(cursimeter_client* client, uint32_t since,
                                               const cursimeter_advancer* advancer) {
    if (client == nullptr) {
        return CURSIMETER_BAD_ARGUMENT;
    }
    capi::CalledAdvancer called(client->cast, advancer);
    if (!called.ok()) {
        return CURSIMETER_BAD_ARGUMENT;
    }
    client->client.play_again({since}, called);
    return CURSIMETER_OK;
}
void cursimeter_client_leave(cursimeter_client* client) {
    if (client != nullptr) {
        client->client.leave();
    }
}

int cursimeter_client_phase(const cursimeter_client* client) {
    return client == nullptr ? CURSIMETER_PHASE_ENDED : static_cast<int>(client->client.phase());
}
int cursimeter_client_farewell(const cursimeter_client* client, uint32_t* detail) {
    if (detail != nullptr) {
        *detail = client == nullptr ? 0 : client->client.farewell_detail();
    }
    return client == nullptr ? CURSIMETER_FAREWELL_NONE : static_cast<int>(client->client.farewell());
}
const char* cursimeter_client_farewell_words(cursimeter_client* client) {
    if (client == nullptr) {
        return "";
    }
    static_cast<void>(capi::guarded(nullptr, [&] {
        client->words = client->client.farewell_words();
        return CURSIMETER_OK;
    }));
    return client->words.c_str();
}
cursimeter_seat cursimeter_client_seat(const cursimeter_client* client) {
    return client != nullptr && client->client.phase() == link::Phase::joined ? client->client.seat().index
                                                                              : -1;
}

uint32_t cursimeter_client_now(const cursimeter_client* client) {
    return client == nullptr ? 0 : client->client.now().value;
}
cursimeter_runner_key cursimeter_client_own_key(const cursimeter_client* client) {
    return client != nullptr && capi::has_own(client) ? capi::key_of(*client->client.own_key(client->player))
                                                      : CURSIMETER_NO_RUNNER;
}
cursimeter_status cursimeter_client_own(const cursimeter_client* client, cursimeter_runner* out, int* chart) {
    if (client == nullptr || out == nullptr) {
        return CURSIMETER_BAD_ARGUMENT;
    }
    if (!capi::has_own(client)) {
        return CURSIMETER_NO;
    }
    capi::put_runner(client->client.own(client->player), out);
    if (chart != nullptr) {
        *chart = static_cast<int>(client->cast.index_of(client->client.own_chart(client->player)));
    }
    return CURSIMETER_OK;
}
cursimeter_status cursimeter_client_own_shown(const cursimeter_client* client, double at[3]) {
    if (client == nullptr || at == nullptr) {
        return CURSIMETER_BAD_ARGUMENT;
    }
    if (!capi::has_own(client)) {
        return CURSIMETER_NO;
    }
    capi::put(client->client.own_shown(client->player), at);
    return CURSIMETER_OK;
}
cursimeter_status cursimeter_client_report(const cursimeter_client* client, cursimeter_report* out) {
    if (client == nullptr || out == nullptr || !capi::has_report_size(out)) {
        return CURSIMETER_BAD_ARGUMENT;
    }
    if (!capi::has_own(client)) {
        return CURSIMETER_NO;
    }
    capi::put_report(client->client.report(client->player), out);
    return CURSIMETER_OK;
}
cursimeter_status cursimeter_client_acknowledged(const cursimeter_client* client, uint32_t* tick) {
    if (client == nullptr || tick == nullptr) {
        return CURSIMETER_BAD_ARGUMENT;
    }
    const auto newest = client->client.acknowledged(client->player);
    *tick = newest ? newest->value : 0;
    return newest ? CURSIMETER_OK : CURSIMETER_NO;
}
cursimeter_status cursimeter_client_digest_at(const cursimeter_client* client, uint32_t tick,
                                              uint64_t* digest) {
    if (client == nullptr || digest == nullptr) {
        return CURSIMETER_BAD_ARGUMENT;
    }
    return capi::put_digest(client->client.digest_at({tick}, client->player), digest);
}
cursimeter_status cursimeter_client_next_correction(cursimeter_client* client, cursimeter_correction* out) {
    if (client == nullptr || out == nullptr || out->size < capi::first_size<cursimeter_correction>) {
        return CURSIMETER_BAD_ARGUMENT;
    }
    const auto correction = client->client.next_correction();
    if (!correction) {
        return CURSIMETER_NO;
    }
    const cursimeter_correction told{0,
                                     correction->distance,
                                     correction->tick.value,
                                     correction->replayed,
                                     static_cast<std::uint32_t>(correction->player),
                                     0};
    return capi::hand_out(told, out) ? CURSIMETER_OK : CURSIMETER_BAD_ARGUMENT;
}

void cursimeter_client_set_view_world(cursimeter_client* client, const cursimeter_terrain* terrain) {
    if (client != nullptr) {
        client->client.set_view_world(terrain == nullptr ? nullptr : &terrain->world());
    }
}
double cursimeter_client_shown_time(const cursimeter_client* client) {
    return client == nullptr ? 0.0 : client->client.shown_time();
}
size_t cursimeter_client_others(const cursimeter_client* client, cursimeter_runner_key* keys, size_t room) {
    return client == nullptr ? 0 : capi::put_keys(client->client.others(), keys, room);
}
cursimeter_status cursimeter_client_shown(const cursimeter_client* client, cursimeter_runner_key key,
                                          cursimeter_shown* out) {
    if (client == nullptr || out == nullptr || out->size < sizeof(*out)) {
        return CURSIMETER_BAD_ARGUMENT;
    }
    const auto shown = client->client.shown(capi::key_of(key));
    if (!shown) {
        return CURSIMETER_NO;
    }
    out->key = key;
    out->chart = static_cast<int32_t>(shown->chart);
    capi::put(shown->position, out->position);
    out->yaw = shown->look.yaw;
    out->pitch = shown->look.pitch;
    out->state = shown->state.index;
    out->waiting = shown->waiting ? 1 : 0;
    out->blocks = shown->blocks;
    out->modifier_count = 0;
    for (const link::Shown::Modifier& modifier : shown->modifiers) {
        if (modifier.stacks > 0) {
            out->modifiers[out->modifier_count++] = {modifier.modifier.index, modifier.stacks,
                                                     modifier.strength};
        }
    }
    capi::put_runner(shown->runner, &out->runner);
    return CURSIMETER_OK;
}
cursimeter_status cursimeter_client_next_event(cursimeter_client* client, cursimeter_remote_event* out) {
    return client == nullptr ? CURSIMETER_BAD_ARGUMENT : capi::next_event_of(client->client, out);
}

cursimeter_status cursimeter_client_read_statistics(const cursimeter_client* client,
                                                    cursimeter_client_statistics* out) {
    if (client == nullptr) {
        return CURSIMETER_BAD_ARGUMENT;
    }
    const link::ClientStatistics& now = client->client.statistics();
    const cursimeter_client_statistics told{
        0,
        now.packets_in,
        now.bytes_in,
        now.packets_out,
        now.bytes_out,
        now.damaged,
        now.malformed,
        now.repeated,
        now.baseless,
        now.corrections,
        now.replayed,
        now.confirmed,
        now.largest_correction,
        now.input_delay,
        now.view_delay,
        now.round_trip.value,
        now.in_hand.value,
        now.jitter.value,
        now.loss,
    };
    return capi::hand_out(told, out) ? CURSIMETER_OK : CURSIMETER_BAD_ARGUMENT;
}

}  // extern "C"
