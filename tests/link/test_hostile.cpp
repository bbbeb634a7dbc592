#include <catch2/catch.hpp>

#include "link/scene.hpp"
#include "link/wire/message_stream.hpp"
#include "link/wire/messages.hpp"
#include "support/counting_new.hpp"

using namespace support;
using link::wire::Kind;

namespace {

using Bytes = std::vector<std::byte>;

/// A game of two honest clients, with room for a third that is not. Returns the digest of the honest runners.
template <class Attack>
std::uint64_t play(Attack&& attack, link::Statistics* statistics = nullptr) {
    Table table;
    table.sit(1);
    table.sit(2);
    table.ticks(60);
    std::uint64_t sum = 0;
    rehearsal::Random random(3);
    for (int i = 0; i < 200; ++i) {
        table.intents[0].move = {1.0, 0.3};
        table.intents[1].move = {i % 50 < 25 ? 1.0 : -1.0, 0.0};
        table.intents[1].held = i % 70 < 20 ? 1U : 0U;
        attack(table, random, i);
        table.tick();
        for (const std::uint64_t who : {1U, 2U}) {
            sum = link::wire::mix(sum, digest(table.server.runner(table.keys[who])));
        }
    }
    CHECK(table.clients[0]->phase() == link::Phase::joined);
    CHECK(table.clients[1]->statistics().corrections == 0);
    if (statistics != nullptr) {
        *statistics = table.server.statistics();
    }
    return sum;
}

const link::PeerId stranger{99};

Bytes stamped(Kind kind, std::uint64_t key, const Bytes& body) {
    Bytes packet(link::wire::envelope_bytes);
    packet.insert(packet.end(), body.begin(), body.end());
    link::wire::stamp(packet, kind, key);
    return packet;
}

}  // namespace

TEST_CASE("Nothing that comes from outside moves an honest client's runner by a bit, all of it is counted") {
    const std::uint64_t honest = play([](Table&, rehearsal::Random&, int) {});
    link::Statistics counted;

    SECTION("random bytes, from strangers and under the addresses of clients") {
        CHECK(honest == play(
                            [](Table& table, rehearsal::Random& random, int) {
                                for (int k = 0; k < 20; ++k) {
                                    Bytes bytes(random.below(1300));
                                    for (std::byte& byte : bytes) {
                                        byte = static_cast<std::byte>(random.next());
                                    }
                                    if (!bytes.empty() && random.chance(0.7)) {
                                        bytes[0] = static_cast<std::byte>(0xc0 + random.below(9));
                                    }
                                    table.server.receive(random.chance(0.5) ? stranger : Table::peer_of(0),
                                                         bytes);
                                }
                            },
                            &counted));
        CHECK(counted.damaged + counted.malformed + counted.strangers == 200 * 20);
    }
    SECTION("bit flips of real packets") {
        CHECK(honest == play(
                            [](Table& table, rehearsal::Random& random, int) {
                                Bytes bytes = table.sent_up.back();
                                bytes[random.below(bytes.size())] ^=
                                    static_cast<std::byte>(1U << random.below(8));
                                table.server.receive(Table::peer_of(1), bytes);
                            },
                            &counted));
        CHECK(counted.damaged + counted.malformed >= 195);
    }
    SECTION("real packets again, old and new") {
        CHECK(honest == play(
                            [](Table& table, rehearsal::Random& random, int) {
                                for (int k = 0; k < 10; ++k) {
                                    const Bytes bytes = table.sent_up[random.below(table.sent_up.size())];
                                    table.server.receive(Table::peer_of(random.below(2)), bytes);
                                }
                            },
                            &counted));
        CHECK(counted.repeated + counted.far_off + counted.damaged + counted.challenges >= 1500);
        CHECK(counted.repeated > 100);
    }
    SECTION("hellos without end: no seat is taken without a cookie, no memory is used") {
        std::size_t taken = 0;
        CHECK(honest ==
              play(
                  [&](Table& table, rehearsal::Random& random, int) {
                      std::array<std::byte, link::wire::hello_bytes> packet{};
                      for (int k = 0; k < 50; ++k) {
                          link::wire::Hello hello;
                          hello.body.identity = random.next();
                          hello.body.attempt = random.next();
                          hello.body.rate = 60000;
                          hello.body.chart_count = 1;
                          hello.body.charts[0] = static_cast<std::uint32_t>(bearer_chart().digest());
                          const std::size_t size = link::wire::write_message(packet, Kind::hello, hello, 0);
                          const std::size_t before = allocations();
                          table.server.receive({1000 + random.next() % 100000},
                                               std::span(packet).first(size));
                          taken += allocations() - before;
                      }
                  },
                  &counted));
        CHECK(counted.challenges == 200 * 50 + 2);  // two of them for the honest ones
        CHECK(counted.refused_joins == 0);
        CHECK(taken == 0);
    }
    SECTION("a flood from one address") {
        CHECK(honest == play(
                            [](Table& table, rehearsal::Random&, int) {
                                for (int k = 0; k < 500; ++k) {
                                    table.server.receive(Table::peer_of(0), table.sent_down.back());
                                    table.server.receive(Table::peer_of(0), table.sent_up.back());
                                }
                            },
                            &counted));
        CHECK(counted.damaged + counted.malformed + counted.repeated >= 200 * 1000);
    }
}

namespace {

/// What a cheating client with a seat of its own could send.
struct Cheat {
    link::wire::IntentsHead head;
    std::vector<link::StatedIntent> intents;
    std::uint32_t behind = 0;  ///< in 1/16 ticks

    [[nodiscard]] Bytes packet(std::uint64_t key) const {
        Bytes body(1100);
        link::wire::Writer writer(body);
        link::wire::IntentsHead said = head;
        link::wire::code(writer, said);
        link::wire::MessageStream::Piece piece;
        link::wire::code(writer, piece);
        link::wire::PlayersModels models(1);
        link::StatedIntent before;
        std::uint32_t behind_before = 0;
        for (link::StatedIntent intent : intents) {
            std::uint32_t told = behind;
            link::wire::code_intents(writer, models, {&intent, 1}, {&before, 1}, 1, told, behind_before);
            before = intent;
            behind_before = told;
        }
        body.resize(writer.finish());
        return stamped(Kind::intents, key, body);
    }
};

/// A server with one seat taken by hand, so that its key is known.
struct Cheater {
    explicit Cheater(std::uint32_t with = 1) : players(with), table(config_for(with)) {
        send(Kind::hello, hello());
        const auto challenge = link::wire::read_message<link::wire::Challenge>(answer());
        cookie = challenge.cookie;
        send(Kind::hello, hello());
        const auto welcome = link::wire::read_message<link::wire::Welcome>(answer());
        key = welcome.key;
        seat = link::SeatId{welcome.seat};
        while (table.server.next_event()) {
        }
        for (std::size_t i = 0; i < players; ++i) {
            runner = *table.server.spawn(0, {}, seat, i);
        }
    }
    static link::ServerConfig config_for(std::size_t players) {
        link::ServerConfig config = Table::usual_config();
        config.players = players;
        return config;
    }
    [[nodiscard]] link::wire::Hello hello() const {
        link::wire::Hello hello;
        hello.body.identity = 66;
        hello.body.attempt = 1;
        hello.cookie = cookie;
        hello.body.rate = 60000;
        hello.body.players = players;
        hello.body.chart_count = 1;
        hello.body.charts[0] = static_cast<std::uint32_t>(bearer_chart().digest());
        return hello;
    }
    void send(Kind kind, const link::wire::Hello& hello) {
        std::array<std::byte, link::wire::most_packet_bytes> packet{};
        const std::size_t size = link::wire::write_message(packet, kind, hello, 0);
        table.server.receive(peer, std::span(packet).first(size));
    }
    Bytes answer() {
        const auto packet = table.server.next_packet();
        REQUIRE(packet);
        return {packet->bytes.begin(), packet->bytes.end()};
    }
    void tick() {
        table.server.tick(table.ground);
        while (table.server.next_packet()) {
        }
    }

    std::uint32_t players;
    Table table;
    link::PeerId peer{50};
    std::uint64_t key = 0, cookie = 0;
    link::SeatId seat;
    link::RunnerKey runner;
};

link::StatedIntent ahead(std::uint16_t held = 0) {
    link::StatedIntent intent;
    intent.forward = 127;
    intent.held = held;
    return intent;
}

}  // namespace

TEST_CASE("A client that claims to have seen the past is believed no further than its news go") {
    Cheater cheater;
    Cheat cheat;
    const auto target = cheater.table.server.spawn(0, {{0.0, 20.0, 0.0}, 0.0});
    cheat.head.any_snapshot = true;
    cheat.intents = {ahead()};
    // It has each snapshot at once, and plays three ticks ahead: those before the newest are 6 to 8 ticks old.
    const auto seen_at = [&](std::uint32_t behind) {
        const std::uint32_t now = cheater.table.server.now().value, every = 3;
        cheat.head.newest = static_cast<std::uint16_t>(now + 3);
        cheat.head.snapshot = static_cast<std::uint16_t>(now / every);
        cheat.behind = behind;
        cheater.table.server.receive(cheater.peer, cheat.packet(cheater.key));
        for (int i = 0; i < 3; ++i) {
            cheater.tick();
        }
        const link::Tick played = cheater.table.server.now();
        const auto seen = cheater.table.server.seen_by(cheater.seat, *target, played);
        REQUIRE(seen);
        return played.value - seen->at;
    };
    for (int i = 0; i < 10; ++i) {
        cheater.tick();
    }
    static_cast<void>(seen_at(0));
    for (int i = 0; i < 100; ++i) {
        CHECK(seen_at(8 * 16) == 8.0);  // what an honest one would say
    }
    for (int i = 0; i < 20; ++i) {
        // Three ticks ahead, the snapshot before the newest at most 4 old, and 3: not 512, nor the 60 of the history.
        CHECK(seen_at(8191) <= 10.0);
        CHECK(seen_at(16 * 59) <= 10.0);
    }
    // Nor after it has said that it plays a second ahead.
    Cheat far = cheat;
    far.head.newest = static_cast<std::uint16_t>(cheater.table.server.now().value + 60);
    far.head.snapshot = static_cast<std::uint16_t>(cheater.table.server.now().value / 3);
    far.behind = 8191;
    cheater.table.server.receive(cheater.peer, far.packet(cheater.key));
    for (int i = 0; i < 12; ++i) {
        CHECK(seen_at(16 * 59) <= 10.0);
    }
    // Silence is seen by the server as well: after it as much is believed as it took.
    for (int i = 0; i < 24; ++i) {
        cheater.tick();
    }
    CHECK(seen_at(8191) >= 30.0);
    CHECK(seen_at(8191) <= 45.0);
}

TEST_CASE("Nonsense under the right key, of one to four players, steers nothing but their own runners") {
    for (const std::uint32_t players : {1U, 2U, 4U}) {
        CAPTURE(players);
        Cheater cheater(players);
        link::Server& server = cheater.table.server;
        const auto bystander = server.spawn(0, {{0.0, 500.0, 0.0}, 0.0});
        rehearsal::Random random(players);
        for (int tick = 0; tick < 600; ++tick) {
            for (int k = 0; k < 20; ++k) {
                Bytes body(1 + random.below(random.chance(0.5) ? 40 : 1100));
                for (std::byte& byte : body) {
                    byte = static_cast<std::byte>(random.next());
                }
                const auto newest = static_cast<std::uint16_t>(server.now().value + random.below(12));
                body[0] = static_cast<std::byte>(newest >> 8U);  // a tick that is let in
                if (body.size() > 1) {
                    body[1] = static_cast<std::byte>(newest);
                }
                server.receive(cheater.peer, stamped(Kind::intents, cheater.key, body));
            }
            cheater.tick();
        }
        const link::SeatReading seat = server.read_seat(cheater.seat);
        CHECK(seat.players == players);
        CHECK(seat.intents > 300);
        bool moved = false;
        for (std::size_t i = 0; i < players; ++i) {
            const glm::dvec3 place = server.runner(*seat.runners[i]).position();
            CHECK(std::isfinite(place.x + place.y + place.z));
            moved = moved || place.x != 0.0 || place.y != 0.0;
        }
        CHECK(moved);
        CHECK(server.runner(*bystander).position() == glm::dvec3(0.0, 500.0, 0.0));
    }
}

TEST_CASE("However many intents a client sends, one is played in a tick, and each only once") {
    Cheater cheater;
    Cheat cheat;
    for (std::uint32_t tick = 1; tick <= 60; ++tick) {
        // Ten packets a tick, each with other wishes for the same and the next ticks.
        for (int k = 0; k < 10; ++k) {
            cheat.head.newest = static_cast<std::uint16_t>(tick + static_cast<std::uint32_t>(k));
            cheat.head.count = 1;
            cheat.intents = {ahead(static_cast<std::uint16_t>(k))};
            cheater.table.server.receive(cheater.peer, cheat.packet(cheater.key));
        }
        cheater.tick();
    }
    // One second at walking speed: 2.4 m, less the 0.24 m that speeding up costs; sprinting would be 6.5 m at most.
    const Runner& runner = cheater.table.server.runner(cheater.runner);
    CHECK(runner.position().x <= 6.5);
    CHECK(runner.clock().value == Approx(1.0).margin(1e-9));
    CHECK(cheater.table.server.read_seat(cheater.seat).intents == 60);
}

TEST_CASE(
    "Ticks far off, false acknowledgements, absent bases and senseless counts are left out and counted") {
    Cheater cheater;
    cheater.tick();
    const auto& statistics = cheater.table.server.statistics();
    Cheat cheat;
    cheat.intents = {ahead()};
    cheat.head.newest = 5000;
    cheater.table.server.receive(cheater.peer, cheat.packet(cheater.key));
    CHECK(statistics.far_off == 1);
    cheat.head.newest = static_cast<std::uint16_t>(-500);
    cheater.table.server.receive(cheater.peer, cheat.packet(cheater.key));
    CHECK(statistics.far_off == 2);
    cheat.head.newest = 4;
    cheat.head.based = true;
    cheater.table.server.receive(cheater.peer, cheat.packet(cheater.key));
    CHECK(statistics.baseless == 1);
    cheat.head.based = false;
    cheat.head.any_snapshot = true;
    cheat.head.snapshot = 700;
    cheater.table.server.receive(cheater.peer, cheat.packet(cheater.key));
    CHECK(statistics.false_acks == 1);
    cheat.head.count = 60;
    cheat.head.newest = 9;
    cheater.table.server.receive(cheater.peer, cheat.packet(cheater.key));
    CHECK(statistics.malformed == 1);
    cheater.table.server.receive(cheater.peer, stamped(Kind::welcome, cheater.key, Bytes(10)));
    CHECK(statistics.malformed == 2);
    for (int i = 0; i < 5; ++i) {
        cheater.tick();
    }
    CHECK(cheater.table.server.read_seat(cheater.seat).connected);
}

TEST_CASE(
    "10,000 joins from 10,000 addresses that answer their challenge take no memory and no more than the "
    "seats") {
    Table table;
    std::array<std::byte, link::wire::most_packet_bytes> packet{};
    std::size_t before = 0, welcomes = 0;
    for (std::uint64_t i = 0; i < 10000; ++i) {
        before = i == 100 ? allocations() : before;
        link::wire::Hello hello;
        hello.body.identity = hello.body.attempt = hello.token = i + 1;
        hello.body.rate = 60000;
        hello.body.chart_count = 1;
        hello.body.charts[0] = static_cast<std::uint32_t>(bearer_chart().digest());
        for (int k = 0; k < 2; ++k) {
            const std::size_t size = link::wire::write_message(packet, Kind::hello, hello, 0);
            table.server.receive({500 + i}, std::span(packet).first(size));
            while (const auto answer = table.server.next_packet()) {
                const auto kind = static_cast<Kind>(answer->bytes[0]);
                if (kind == Kind::challenge) {
                    hello.cookie = link::wire::read_message<link::wire::Challenge>(answer->bytes).cookie;
                }
                welcomes += kind == Kind::welcome ? 1 : 0;
            }
        }
        while (table.server.next_event()) {
        }
        if (i % 8 == 0) {
            table.server.tick(table.ground);
            while (table.server.next_packet()) {
            }
        }
    }
    CHECK(welcomes >= 4);
    CHECK(welcomes <=
          4 * (10000 / 8 / 300 + 2));  // seats that fell silent may be taken again after their keep
    CHECK(allocations() == before);
    CHECK(table.server.statistics().refused_joins > 9000);
}

TEST_CASE("Server and client take no memory while they play, whatever the network does") {
    Table table;
    table.sit(1);
    table.sit(2);
    table.sent_up.reserve(100000);
    table.sent_down.reserve(100000);
    table.ticks(120);
    std::size_t during = 0;
    for (int i = 0; i < 300; ++i) {
        table.intents[0].move = {1.0, 0.0};
        table.intents[0].held = i % 40 < 10 ? 3U : 0U;
        const std::size_t before = allocations();
        table.time += table.dt;
        table.server.tell_time(Seconds{table.time});
        table.clients[0]->tell_time(Seconds{table.time});
        while (table.clients[0]->due()) {
            table.clients[0]->tick(table.intents[0], table.ground);
        }
        const auto packet = table.clients[0]->next_packet();
        if (packet && i % 7 != 0) {
            table.server.receive(Table::peer_of(0), *packet);
        }
        table.server.tick(table.ground);
        while (const auto out = table.server.next_packet()) {
            if (i % 5 != 0 && out->peer == Table::peer_of(0)) {
                table.clients[0]->receive(out->bytes, table.ground);
            }
        }
        while (table.clients[0]->next_event()) {
        }
        during += allocations() - before;
    }
    CHECK(during == 0);
}
