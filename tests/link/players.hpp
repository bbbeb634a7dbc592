#pragma once

#include "link/scene.hpp"

/// Clients with several players, and wires between them and a server.
namespace support {

using link::RunnerKey;

inline link::ServerConfig server_for(std::size_t players) {
    link::ServerConfig config = Table::usual_config();
    config.players = players;
    return config;
}
inline link::ClientConfig client_with(std::size_t players, std::uint64_t identity,
                                      std::uint64_t attempt = 1) {
    link::ClientConfig config;
    config.identity = identity;
    config.attempt = attempt;
    config.players = players;
    return config;
}

/// What an advancer saw around each runner: the keys of the others, in their order.
using Around = std::map<std::pair<std::uint32_t, RunnerKey>, std::vector<RunnerKey>>;

/// Nobody comes nearer to anybody than 0.7 m; each that is in the way moves one on, so their order counts.
struct Jostling : link::Advancer {
    [[nodiscard]] bool wants_others() const noexcept override { return true; }
    Report advance_runner(const Chart& chart, Runner& runner, const Intent& intent,
                          const link::AdvanceContext& context) noexcept override {
        std::vector<RunnerKey>& keys = around[{context.tick.value, context.runner}];
        keys.clear();
        glm::dvec3 moved{0.0};
        for (const link::Neighbour& other : context.others) {
            keys.push_back(other.key);
            const glm::dvec3 off = runner.position() + moved - other.position;
            const double apart = std::sqrt(off.x * off.x + off.y * off.y);
            if (apart < 0.7 && apart > 0.0) {
                moved += off * ((0.7 - apart) / apart);
            }
        }
        if (moved.x != 0.0 || moved.y != 0.0) {
            place(chart, runner, {runner.position() + moved, runner.yaw()});
        }
        const int extra = context.extra.empty() ? 0 : std::to_integer<int>(context.extra[0]);
        if (extra != 0) {
            extras[context.runner] = extra;
        }
        return advance(chart, runner, intent, context.dt);
    }
    Around around;
    std::map<RunnerKey, int> extras;
};

/// A server and clients in virtual time over wires of 3 ticks, of which some packets are lost.
struct Wires {
    explicit Wires(const link::ServerConfig& config) : server({bearer_chart()}, config) {}
    link::Client& sit(const link::ClientConfig& config) {
        ends.push_back(
            {std::make_unique<link::Client>(std::vector{bearer_chart()}, config), {}, {}, {}, {}, 0});
        ends.back().intents.resize(config.players);
        ends.back().extras.resize(config.players);
        return *ends.back().client;
    }
    void tick() {
        ++ticks;
        time += 1.0 / 60.0;
        server.tell_time(Seconds{time});
        for (std::size_t i = 0; i < ends.size(); ++i) {
            End& end = ends[i];
            if (ticks < end.stands_until) {
                continue;
            }
            end.client->tell_time(Seconds{time});
            while (!end.down.empty() && end.down.front().first <= ticks) {
                end.client->receive(end.down.front().second, end.world);
                end.down.erase(end.down.begin());
            }
            while (end.client->due()) {
                end.client->tick_players(end.intents, end.world, end.extras);
            }
            while (const auto packet = end.client->next_packet()) {
                longest = std::max(longest, packet->size());
                if (random.part() >= loss) {
                    up.push_back({ticks + 3, {i, {packet->begin(), packet->end()}}});
                }
            }
        }
        while (!up.empty() && up.front().first <= ticks) {
            server.receive({up.front().second.first + 1}, up.front().second.second);
            up.erase(up.begin());
        }
        while (const auto event = server.next_event()) {
            if (event->kind != link::ServerEventKind::joined) {
                continue;
            }
            for (std::size_t p = 0; p < server.read_seat(event->seat).players; ++p) {
                const double at = static_cast<double>(event->identity * 4 + p);
                keys[{event->identity, p}] = *server.spawn(0, {{0.0, apart * at, 0.0}, 0.0}, event->seat, p);
            }
        }
        if (before_tick) {
            before_tick();
        }
        server.tick(world);
        while (const auto packet = server.next_packet()) {
            if (random.part() >= loss) {
                ends[packet->peer.value - 1].down.push_back(
                    {ticks + 3, {packet->bytes.begin(), packet->bytes.end()}});
            }
        }
    }
    void run(int count) {
        for (int i = 0; i < count; ++i) {
            tick();
        }
    }

    struct End {
        std::unique_ptr<link::Client> client;
        Jostling world;
        std::vector<Intent> intents;
        std::vector<link::ExtraBytes> extras;
        std::vector<std::pair<int, std::vector<std::byte>>> down;
        int stands_until = 0;  ///< its program, in ticks
    };
    link::Server server;
    Jostling world;
    std::vector<End> ends;
    std::vector<std::pair<int, std::pair<std::uint64_t, std::vector<std::byte>>>> up;
    std::map<std::pair<std::uint64_t, std::size_t>, RunnerKey> keys;  ///< by identity and player
    std::function<void()> before_tick;
    rehearsal::Random random{5};
    double loss = 0.0, apart = 2.0, time = 0.0;
    int ticks = 0;
    std::size_t longest = 0;
};

}  // namespace support
