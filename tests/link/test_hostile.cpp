#include <catch2/catch.hpp>

#include "link/cheater.hpp"
#include "support/counting_new.hpp"

using namespace support;

namespace {

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
