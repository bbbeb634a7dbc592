#include "fuzz/decoders/decoder.hpp"
#include "link/wire/messages.hpp"

/// Snapshots, from a server that says anything: the client stays whole, and what it shows is finite.
extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    using namespace decoders;
    static link::OpenGround ground;
    static std::optional<link::Client> client;
    static int used = 0;
    static std::size_t players = 1;
    static double time = 0.0;
    const auto go_on = [&](const Intent& intent) {
        client->tell_time(Seconds{time += 1.0 / 60.0});
        client->tick(intent, ground);
    };
    constexpr std::uint64_t key = 5;
    if (!client || ++used == 200) {
        used = 0;
        players = 3 - players;  // one and two, in turn
        link::ClientConfig config;
        config.players = players;
        config.identity = 1;
        config.attempt = 3;
        client.emplace(std::vector{bearer_chart()}, config);
        go_on({});
        std::array<std::byte, link::wire::most_packet_bytes> packet{};
        link::wire::Welcome welcome;
        welcome.token = token_of(*client);
        welcome.key = key;
        welcome.snapshot_every = 3;
        welcome.runners = 64;
        const std::size_t length = link::wire::write_message(packet, link::wire::Kind::welcome, welcome, 0);
        client->receive(std::span(packet).first(length), ground);
    }
    client->receive(stamped(link::wire::Kind::snapshot, key, data, size), ground);
    Intent intent;
    intent.move = {1.0, 0.0};
    go_on(intent);
    while (client->next_packet()) {
    }
    while (client->next_event()) {
    }
    for (const link::RunnerKey other : client->others()) {
        const auto shown = client->shown(other);
        require(shown && std::isfinite(shown->position.x) &&
                shown->state.index < bearer_chart().state_count());
    }
    return 0;
}
