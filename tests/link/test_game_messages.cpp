#include <catch2/catch.hpp>

#include "link/scene.hpp"
#include "link/wire/message_stream.hpp"

/// The game's own messages beside snapshots and intents.
using namespace support;

namespace {

Bytes message_of(int number, std::size_t size) {
    Bytes bytes(size);
    for (std::size_t i = 0; i < size; ++i) {
        bytes[i] = static_cast<std::byte>((static_cast<std::size_t>(number) * 31 + i * 7) & 0xffU);
    }
    return bytes;
}

}  // namespace

TEST_CASE("Messages arrive once, whole and in order, both ways, whatever is lost, doubled or overtaken") {
    for (const double loss : {0.0, 0.05, 0.3, 0.6}) {
        CAPTURE(loss);
        Table table;
        link::Client& client = table.sit(1);
        table.ticks(30);
        rehearsal::Random random(static_cast<std::uint64_t>(loss * 100.0) + 1);
        int up = 0, down = 0, up_came = 0, down_came = 0;
        std::vector<Bytes> sent_up, sent_down;
        for (int i = 0; i < 2400; ++i) {
            if (i < 1500 && random.chance(0.1)) {
                const Bytes bytes = message_of(up, random.chance(0.1) ? 1024 : random.below(60));
                if (client.send_message(bytes)) {
                    sent_up.push_back(bytes);
                    ++up;
                }
            }
            if (i < 1500 && random.chance(0.05)) {
                const Bytes bytes = message_of(1000 + down, random.chance(0.1) ? 1000 : random.below(40));
                if (table.server.send_message(client.seat(), bytes)) {
                    sent_down.push_back(bytes);
                    ++down;
                }
            }
            table.cut_up = random.chance(loss);
            table.cut_down = random.chance(loss);
            table.tick();
            if (random.chance(0.1) && !table.sent_up.empty()) {
                table.server.receive(Table::peer_of(0),
                                     table.sent_up[table.sent_up.size() - 1 - random.below(3)]);
            }
            while (const auto message = table.server.next_message()) {
                REQUIRE(message->seat == client.seat());
                REQUIRE(up_came < up);
                REQUIRE(Bytes(message->bytes.begin(), message->bytes.end()) ==
                        sent_up[static_cast<std::size_t>(up_came++)]);
            }
            while (const auto message = client.next_message()) {
                REQUIRE(down_came < down);
                REQUIRE(Bytes(message->begin(), message->end()) ==
                        sent_down[static_cast<std::size_t>(down_came++)]);
            }
        }
        CHECK(up > 100);
        CHECK(down > 50);
        CHECK(up_came == up);
        CHECK(down_came == down);
        CHECK(client.statistics().corrections == 0);
    }
}

TEST_CASE("What is too long, too much, or for nobody is refused, and the rest still arrives") {
    Table table;
    link::Client& client = table.sit(1);
    CHECK_FALSE(client.send_message(message_of(1, 10)));  // not joined yet
    table.ticks(30);
    CHECK_FALSE(client.send_message(Bytes(1025)));
    CHECK_FALSE(table.server.send_message(link::SeatId{3}, message_of(1, 10)));
    CHECK_FALSE(table.server.send_message(link::SeatId{99}, message_of(1, 10)));
    int sent = 0;
    while (client.send_message(message_of(sent, 1000))) {
        ++sent;
    }
    CHECK(sent >= 8);
    CHECK(sent <= 9);
    CHECK(client.send_message({}) == (sent * 1002 + 2 <= 8 * 1026));
    table.ticks(10);
    int came = 0;
    // Nobody takes them: at most a row's worth waits at the server, and no more is let in.
    for (int i = 0; i < 200; ++i) {
        static_cast<void>(client.send_message(message_of(100 + i, 900)));
        table.tick();
    }
    while (const auto message = table.server.next_message()) {
        came += message->bytes.size() >= 900 ? 1 : 0;
    }
    CHECK(came >= 8);
    CHECK(came <= 10);
    for (int i = 0; i < 200; ++i) {
        table.tick();
        while (const auto message = table.server.next_message()) {
            came += message->bytes.size() >= 900 ? 1 : 0;
        }
    }
    CHECK(came >= 16);
    CHECK(table.server.read_seat(client.seat()).connected);
}

TEST_CASE("A row that no client of ours can have sent is given up, not read") {
    link::wire::MessageStream stream;
    link::wire::MessageStream::Piece piece;
    piece.size = 3;
    piece.bytes[0] = piece.bytes[1] = std::byte{0xff};
    stream.hear(piece);
    CHECK_FALSE(stream.next().has_value());
    CHECK_FALSE(stream.next().has_value());
    rehearsal::Random random(3);
    for (int i = 0; i < 100000; ++i) {
        piece.begin = static_cast<std::uint16_t>(random.next());
        piece.come = static_cast<std::uint16_t>(random.next());
        piece.any_come = random.chance(0.5);
        piece.size = static_cast<std::uint32_t>(random.below(257));
        stream.hear(piece);
        if (const auto message = stream.next()) {
            CHECK(message->size() <= link::longest_message);
        }
        static_cast<void>(stream.speak(random.below(300), i * 0.01, 0.1));
    }
}

TEST_CASE(
    "Messages go at the pace that is promised, and over a long way nothing is said twice without need") {
    Table table;
    link::Client& client = table.sit(1);
    table.ticks(30);
    std::size_t up = 0, down = 0;
    for (int i = 0; i < 600; ++i) {
        while (client.send_message(message_of(i, 500)) ||
               table.server.send_message(client.seat(), message_of(i, 500))) {
        }
        table.tick();
        while (const auto message = table.server.next_message()) {
            up += message->bytes.size();
        }
        while (const auto message = client.next_message()) {
            down += message->size();
        }
    }
    CHECK(up / 10 > 14500);  // 15 kB/s in ten seconds
    CHECK(down / 10 > 4700);
    for (const double way : {0.05, 0.3, 0.6}) {
        CAPTURE(way);
        link::wire::MessageStream here, there;
        std::multimap<double, link::wire::MessageStream::Piece> to, back;
        std::size_t said = 0, came = 0, sent = 0;
        for (double now = 0.0; now < 30.0; now += 1.0 / 60.0) {
            while (sent < 60 && here.send(message_of(static_cast<int>(sent), 1000))) {
                ++sent;
            }
            const auto piece = here.speak(256, now, 2.0 * way);
            said += piece.size;
            to.emplace(now + way, piece);
            back.emplace(now + way, there.speak(256, now, 2.0 * way));
            for (; !to.empty() && to.begin()->first <= now; to.erase(to.begin())) {
                there.hear(to.begin()->second);
            }
            for (; !back.empty() && back.begin()->first <= now; back.erase(back.begin())) {
                here.hear(back.begin()->second);
            }
            while (there.next()) {
                ++came;
            }
        }
        CHECK(came == 60);
        CHECK(said == 60 * 1002);
        CHECK_FALSE(here.waits());
    }
}
