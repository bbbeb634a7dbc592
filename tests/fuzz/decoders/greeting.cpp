#include "fuzz/decoders/decoder.hpp"

/// What a client hears before it is in, and goodbyes: the first byte chooses the kind of packet.
extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    using namespace decoders;
    if (size == 0) {
        return 0;
    }
    static link::OpenGround ground;
    link::ClientConfig config;
    config.identity = 1;
    config.attempt = 0x0102030405060708;
    config.runners = 8;
    static std::optional<link::Client> client;
    static double time = 0.0;
    const auto go_on = [&] {
        client->tell_time(Seconds{time += 1.0 / 60.0});
        client->tick({}, ground);
    };
    if (!client || client->phase() != link::Phase::joining) {
        client.emplace(std::vector{bearer_chart()}, config);
        go_on();
    }
    constexpr link::wire::Kind kinds[] = {link::wire::Kind::challenge, link::wire::Kind::welcome,
                                          link::wire::Kind::refusal,   link::wire::Kind::goodbye,
                                          link::wire::Kind::snapshot,  link::wire::Kind::intents};
    client->receive(sealed(kinds[data[0] % std::size(kinds)], 0, data + 1, size - 1), ground);
    for (int i = 0; i < 3; ++i) {
        go_on();
        while (client->next_packet()) {
        }
    }
    require(client->phase() != link::Phase::refused || client->farewell() != link::Farewell::none);
    require(!link::describe_farewell(client->farewell(), client->farewell_detail()).empty());
    return 0;
}
