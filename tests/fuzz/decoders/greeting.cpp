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
    static std::uint64_t token = 0;
    const auto go_on = [&] {
        client->tell_time(Seconds{time += 1.0 / 60.0});
        client->tick({}, ground);
    };
    if (!client || client->phase() != link::Phase::joining) {
        client.emplace(std::vector{bearer_chart()}, config);
        go_on();
        token = token_of(*client);
    }
    constexpr link::wire::Kind kinds[] = {link::wire::Kind::challenge, link::wire::Kind::welcome,
                                          link::wire::Kind::refusal,   link::wire::Kind::goodbye,
                                          link::wire::Kind::snapshot,  link::wire::Kind::intents,
                                          link::wire::Kind::unknown};
    const link::wire::Kind kind = kinds[data[0] % std::size(kinds)];
    Bytes packet = stamped(kind, 0, data + 1, size - 1, 300);
    // With the token that the client waits for: whoever cannot know it is not heard.
    const auto answer = [&]<class Message>(Message message) {
        message.token = token;
        packet.resize(link::wire::write_message(packet, kind, message, 0));
    };
    if (kind == link::wire::Kind::challenge) {
        answer(link::wire::read_message<link::wire::Challenge>(packet));
    } else if (kind == link::wire::Kind::welcome) {
        answer(link::wire::read_message<link::wire::Welcome>(packet));
    } else if (kind == link::wire::Kind::refusal) {
        answer(link::wire::read_message<link::wire::Refused>(packet));
    }
    client->receive(packet, ground);
    for (int i = 0; i < 3; ++i) {
        go_on();
        while (client->next_packet()) {
        }
    }
    require(client->phase() != link::Phase::refused || client->farewell() != link::Farewell::none);
    require(!link::describe_farewell(client->farewell(), client->farewell_detail()).empty());
    return 0;
}
