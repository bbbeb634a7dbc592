#include <catch2/catch.hpp>

#include "link/scene.hpp"
#include "link/wire/channel.hpp"
#include "link/wire/messages.hpp"

/// Who may speak to whom: sealed connections, forged and recorded packets, floods.
using namespace support;
using link::Farewell;
using link::Phase;
using link::wire::Kind;

namespace {

link::ServerConfig sealed_config(const link::KeyPair& keys) {
    link::ServerConfig config = Table::usual_config();
    config.keys = keys;
    return config;
}
link::ClientConfig client_config(std::uint64_t identity, std::optional<link::PublicKey> server) {
    link::ClientConfig config;
    config.identity = identity;
    config.attempt = 1;
    config.server = server;
    return config;
}
Bytes flipped(Bytes bytes, std::size_t bit) {
    bytes[bit / 8] ^= static_cast<std::byte>(1U << (bit % 8));
    return bytes;
}
Kind kind_of(const Bytes& packet) {
    return static_cast<Kind>(packet[0]);
}

}  // namespace

TEST_CASE("A sealed connection plays the same game for 16 bytes more a packet, and hides who plays") {
    REQUIRE(link::can_seal());
    const link::KeyPair keys = link::make_key_pair();
    std::array<std::size_t, 2> up{}, count{};
    std::array<std::uint64_t, 2> digests{};
    for (const std::size_t sealed : {0U, 1U}) {
        Table table(sealed == 1 ? sealed_config(keys) : Table::usual_config());
        table.sit(client_config(9, sealed == 1 ? std::optional(keys.open) : std::nullopt), {table.chart});
        table.sit(client_config(2, sealed == 1 ? std::optional(keys.open) : std::nullopt), {table.chart});
        for (int i = 0; i < 300; ++i) {
            table.intents[0].move = {1.0, 0.0};
            table.intents[0].look.yaw = 0.01 * i;
            table.tick();
        }
        REQUIRE(table.clients[0]->phase() == Phase::joined);
        CHECK(table.clients[0]->statistics().corrections == 0);
        CHECK(table.clients[1]->others().size() == 1);
        CHECK(table.server.statistics().damaged == 0);
        digests[sealed] = digest(table.server.runner(table.keys[9]));
        for (const Bytes& packet : table.sent_up) {
            if (kind_of(packet) == Kind::intents) {
                up[sealed] += packet.size();
                ++count[sealed];
            }
            if (kind_of(packet) == Kind::hello) {
                CHECK((link::wire::read_message<link::wire::Hello>(packet).body.identity == 0) ==
                      (sealed == 1));
            }
        }
    }
    CHECK(digests[0] == digests[1]);
    CHECK(count[0] == count[1]);
    CHECK(up[1] == up[0] + 16 * count[0]);
}

TEST_CASE("Whoever has the wrong key, none, or one too many is told why") {
    const link::KeyPair keys = link::make_key_pair();
    Table sealed(sealed_config(keys)), plain;
    link::ClientConfig other = client_config(1, link::make_key_pair().open);
    other.silence = Seconds{1.0};
    link::Client& wrong = sealed.sit(other, {sealed.chart});
    link::Client& without = sealed.sit(client_config(2, std::nullopt), {sealed.chart});
    link::Client& right = sealed.sit(client_config(3, keys.open), {sealed.chart});
    link::Client& beyond = plain.sit(other, {plain.chart});
    sealed.ticks(90);
    plain.ticks(90);
    CHECK(right.phase() == Phase::joined);
    CHECK(without.phase() == Phase::refused);
    CHECK(without.farewell() == Farewell::sealed_only);
    // Nobody has proven to be the server that was asked for: so it is asked until there is silence.
    CHECK(wrong.phase() == Phase::ended);
    CHECK(wrong.farewell() == Farewell::other_key);
    CHECK(beyond.farewell() == Farewell::unsealed);
    CHECK_THAT(link::describe_farewell(Farewell::sealed_only, 0), Catch::Contains("ClientConfig::server"));
    // A refusal for a reason of the game's is sealed and comes at once.
    link::ClientConfig slow = client_config(4, keys.open);
    slow.tick_rate = 50.0;
    link::Client& refused = sealed.sit(slow, {sealed.chart});
    sealed.ticks(20);
    CHECK(refused.phase() == Phase::refused);
    CHECK(refused.farewell() == Farewell::other_tick_rate);
}

TEST_CASE("Sealed packets are taken as they are, once, and by nobody else") {
    const auto keys = link::make_key_pair(), mine = link::make_key_pair();
    const auto up = link::guard::client_keys(mine, keys.open),
               down = link::guard::server_keys(keys, mine.open);
    REQUIRE(up);
    REQUIRE(down);
    CHECK(up->in == down->out);
    CHECK(up->out == down->in);
    link::wire::Channel client, server;
    client.start(*up);
    server.start(*down);
    rehearsal::Random random(3);
    std::vector<Bytes> sent;
    for (std::size_t i = 0; i < 300; ++i) {
        Bytes packet(client.before_body() + i % 70, std::byte{7});
        CHECK(client.before_body() <= 24);
        client.close(packet, Kind::intents);
        sent.push_back(packet);
    }
    // Every bit of one.
    for (std::size_t bit = 0; bit < sent[40].size() * 8; ++bit) {
        CHECK_FALSE(server.open(flipped(sent[40], bit)).has_value());
    }
    CHECK_FALSE(server.open(std::span(sent[40]).first(sent[40].size() - 1)).has_value());
    CHECK_FALSE(client.open(sent[40]).has_value());  // not its own
    // In an order of the network's, some twice.
    std::size_t taken = 0;
    for (std::size_t i = 0; i < sent.size(); ++i) {
        const std::size_t which = std::min(sent.size() - 1, i + random.below(3));
        const auto body = server.open(sent[which]);
        if (body) {
            ++taken;
            CHECK(Bytes(body->begin(), body->end()) == Bytes(which % 70, std::byte{7}));
            CHECK_FALSE(server.open(sent[which]).has_value());
        }
    }
    CHECK(taken > 150);
    for (const Bytes& packet : sent) {
        static_cast<void>(server.open(packet));
    }
    for (const Bytes& packet : sent) {
        CHECK_FALSE(server.open(packet).has_value());
    }
    CHECK(server.repeated() >= sent.size());
}

TEST_CASE("Keys can be kept as text") {
    const link::KeyPair keys = link::make_key_pair();
    CHECK(link::public_key_from(link::to_text(keys.open)) == keys.open);
    const auto secret = link::secret_key_from(link::to_text(keys.secret));
    REQUIRE(secret);
    CHECK(link::key_pair_of(*secret).open == keys.open);
    CHECK(link::to_text(link::PublicKey{}).size() == 64);
    CHECK_FALSE(link::public_key_from("12").has_value());
    CHECK_FALSE(link::public_key_from(std::string(63, 'a') + "g").has_value());
    CHECK(link::random_number() != link::random_number());
}

TEST_CASE("A cookie is good for its address and its client alone, and a recorded hello for nobody") {
    const link::KeyPair keys = link::make_key_pair();
    for (const bool sealed : {false, true}) {
        CAPTURE(sealed);
        Table table(sealed ? sealed_config(keys) : Table::usual_config());
        table.spawns = false;
        table.sit(client_config(5, sealed ? std::optional(keys.open) : std::nullopt), {table.chart});
        table.ticks(30);
        REQUIRE(table.clients[0]->phase() == Phase::joined);
        std::vector<Bytes> hellos;
        for (const Bytes& packet : table.sent_up) {
            if (kind_of(packet) == Kind::hello) {
                hellos.push_back(packet);
            }
        }
        REQUIRE(hellos.size() >= 2);
        const link::PeerId thief{77};
        const auto before = table.server.statistics();
        table.server.receive(thief, hellos.back());
        CHECK(table.server.statistics().challenges == before.challenges + 1);
        // With a cookie of its own the thief still has no letter for it.
        auto hello = link::wire::read_message<link::wire::Hello>(hellos.back());
        std::optional<link::OutgoingPacket> answer;
        while (const auto packet = table.server.next_packet()) {
            answer = packet->peer == thief ? packet : answer;
        }
        REQUIRE(answer);
        hello.cookie = link::wire::read_message<link::wire::Challenge>(answer->bytes).cookie;
        hello.body.attempt += 1;
        std::array<std::byte, link::wire::most_packet_bytes> packet{};
        const std::size_t size = link::wire::write_message(packet, Kind::hello, hello, 0);
        for (std::size_t bit = 0; bit < 64; ++bit) {
            link::wire::Hello guess = hello;
            guess.cookie ^= std::uint64_t{1} << bit;
            std::array<std::byte, link::wire::most_packet_bytes> other{};
            const std::size_t length = link::wire::write_message(other, Kind::hello, guess, 0);
            table.server.receive(thief, std::span(other).first(length));
        }
        CHECK(table.server.statistics().challenges == before.challenges + 65);
        table.server.receive(thief, std::span(packet).first(size));
        table.ticks(30);
        // In a plain game whoever could read the identity may take the seat.
        CHECK(table.count(link::ServerEventKind::rejoined) == (sealed ? 0 : 1));
        CHECK(table.clients[0]->phase() == (sealed ? Phase::joined : Phase::ended));
    }
}

TEST_CASE("Nobody can make a client believe that its server has forgotten it") {
    const link::KeyPair keys = link::make_key_pair();
    for (const bool sealed : {false, true}) {
        CAPTURE(sealed);
        Table table(sealed ? sealed_config(keys) : Table::usual_config());
        table.sit(client_config(5, sealed ? std::optional(keys.open) : std::nullopt), {table.chart});
        table.ticks(60);
        std::array<std::byte, link::wire::most_packet_bytes> packet{};
        rehearsal::Random random(1);
        for (int i = 0; i < 300; ++i) {
            std::size_t size = link::wire::write_message(packet, Kind::unknown, link::wire::Unknown{}, 0);
            table.clients[0]->receive(std::span(packet).first(size), table.ground);
            size = link::wire::write_message(packet, Kind::welcome,
                                             link::wire::Welcome{random.next(), 1, 0, 0, 9, 3, 8}, 0);
            table.clients[0]->receive(std::span(packet).first(size), table.ground);
            size = link::wire::write_message(packet, Kind::refusal,
                                             link::wire::Refused{random.next(), Farewell::full, 1}, 0);
            table.clients[0]->receive(std::span(packet).first(size), table.ground);
            table.intents[0].look.yaw = 0.02 * i;
            table.tick();
        }
        CHECK(table.clients[0]->phase() == Phase::joined);
        CHECK(table.clients[0]->statistics().rejoins == 0);
        CHECK(table.clients[0]->statistics().corrections == 0);
        CHECK(table.events.size() == 1);
        CHECK(table.server.read_seat(table.clients[0]->seat()).missing == 0);
    }
}

TEST_CASE("A server that was started again has its clients back within half a second") {
    const link::KeyPair keys = link::make_key_pair();
    for (const bool sealed : {false, true}) {
        CAPTURE(sealed);
        link::ServerConfig config = sealed ? sealed_config(keys) : Table::usual_config();
        Table table(config);
        for (std::uint64_t i = 1; i <= 3; ++i) {
            table.sit(client_config(i, sealed ? std::optional(keys.open) : std::nullopt), {table.chart});
        }
        table.ticks(200);
        config.secret = 78;
        table.server = link::Server({table.chart}, config);
        table.events.clear();
        table.ticks(30);
        CHECK(table.count(link::ServerEventKind::joined) == 3);
        for (const auto& client : table.clients) {
            CHECK(client->phase() == Phase::joined);
            CHECK(client->statistics().rejoins == 1);
            CHECK(client->own_key().has_value());
            CHECK(client->others().size() == 2);
        }
        table.ticks(200);
        CHECK(table.clients[0]->statistics().corrections == 0);
    }
}

TEST_CASE("Among 2,000 forged hellos a tick an honest client joins within a second") {
    const link::KeyPair keys = link::make_key_pair();
    for (const bool sealed : {false, true}) {
        CAPTURE(sealed);
        Table table(sealed ? sealed_config(keys) : Table::usual_config());
        table.sit(client_config(5, sealed ? std::optional(keys.open) : std::nullopt), {table.chart});
        rehearsal::Random random(1);
        int ticks = 0;
        while (ticks < 60 && table.clients[0]->phase() != Phase::joined) {
            ++ticks;
            std::array<std::byte, link::wire::most_packet_bytes> packet{};
            for (int i = 0; i < 2000; ++i) {
                link::wire::Hello hello;
                hello.token = random.next();
                hello.cookie = random.next();
                hello.sealed = sealed;
                const std::size_t size = link::wire::write_message(packet, Kind::hello, hello, 0);
                table.server.receive({1000 + random.next() % 100000}, std::span(packet).first(size));
            }
            table.tick();
        }
        CHECK(ticks < 60);
        CHECK(table.server.statistics().challenges >= 2000);
    }
}

TEST_CASE("Whoever acknowledges nothing is sent little") {
    Table table;
    table.sit(1);
    table.sit(2);
    table.ticks(120);
    table.cut_up = true;  // nothing comes back, but the seat is not silent yet
    const auto sent = [&] { return table.server.read_seat(table.clients[0]->seat()).packets_down; };
    table.ticks(60);
    const std::uint64_t before = sent();
    table.ticks(120);
    CHECK(sent() - before <= 3);  // one a second in place of 20
    table.cut_up = false;
    table.ticks(20);
    const std::uint64_t again = sent();
    table.ticks(60);
    CHECK(sent() - again == 20);
    CHECK(table.clients[0]->phase() == Phase::joined);
}
