#include <catch2/catch.hpp>

#include "link/scene.hpp"

/// What a game asks of whoever wants to join.
using namespace support;
using link::Farewell;
using link::Phase;

namespace {

std::span<const std::byte> bytes_of(const std::string& text) {
    return std::as_bytes(std::span(text));
}
std::string text_of(std::span<const std::byte> bytes) {
    return {reinterpret_cast<const char*>(bytes.data()), bytes.size()};
}

/// Lets in whoever has the ticket of its identity; the ferryman's office answers for number 3 only after a while.
class Ferryman final : public link::Admission {
  public:
    Verdict look_at(const link::Applicant& applicant, std::string_view& words) noexcept override {
        ++asked;
        last_seat = applicant.seat;
        if (applicant.identity == 3 && !office_open) {
            return Verdict::wait;
        }
        if (text_of(applicant.ticket) != "pier " + std::to_string(applicant.identity)) {
            words = "this ticket is for another pier";
            return Verdict::turn_away;
        }
        return Verdict::let_in;
    }
    int asked = 0;
    bool office_open = false;
    std::optional<link::SeatId> last_seat;
};

link::ClientConfig player(std::uint64_t identity, const std::string& ticket, std::uint64_t attempt = 1) {
    link::ClientConfig config;
    config.identity = identity;
    config.attempt = attempt;
    config.ticket.assign(bytes_of(ticket).begin(), bytes_of(ticket).end());
    return config;
}

}  // namespace

TEST_CASE("Whoever wants to join shows a ticket, and is let in, turned away in words, or kept waiting") {
    for (const bool sealed : {false, true}) {
        if (sealed && !link::can_seal()) {
            continue;
        }
        CAPTURE(sealed);
        link::ServerConfig config = Table::usual_config();
        if (sealed) {
            config.keys = link::make_key_pair();
        }
        Table table(config);
        Ferryman ferryman;
        table.server.set_admission(&ferryman);
        const auto sit = [&](link::ClientConfig mine) -> link::Client& {
            if (sealed) {
                mine.server = config.keys->open;
            }
            return table.sit(mine, {table.chart});
        };
        link::Client& good = sit(player(1, "pier 1"));
        link::Client& bad = sit(player(2, "pier 1"));
        link::Client& early = sit(player(3, "pier 3"));
        table.ticks(60);
        CHECK(good.phase() == Phase::joined);
        CHECK(text_of(table.server.ticket(good.seat())) == "pier 1");
        CHECK_FALSE(ferryman.last_seat);
        CHECK(bad.phase() == Phase::refused);
        CHECK(bad.farewell() == Farewell::turned_away);
        CHECK(bad.farewell_words() == "this ticket is for another pier");
        CHECK(link::describe_farewell(bad.farewell(), bad.farewell_detail()) ==
              "the server lets this player not in");
        CHECK(early.phase() == Phase::joining);
        CHECK(table.keys.size() == 1);
        // Those who wait ask some four times a second.
        CHECK(ferryman.asked >= 4);
        CHECK(ferryman.asked <= 8);
        ferryman.office_open = true;
        table.ticks(20);
        CHECK(early.phase() == Phase::joined);
        CHECK(table.keys.size() == 2);
        // Who is back is asked again, and has a seat that waits.
        good.leave();
        table.ticks(5);
        link::Client& back = sit(player(1, "pier 1", 2));
        table.ticks(30);
        CHECK(back.phase() == Phase::joined);
        CHECK(back.seat() == good.seat());
        REQUIRE(ferryman.last_seat);
        CHECK(*ferryman.last_seat == good.seat());
        // With another's identity alone nobody takes a seat over.
        link::Client& thief = sit(player(1, "", 9));
        table.ticks(30);
        CHECK(thief.phase() == Phase::refused);
        CHECK(back.phase() == Phase::joined);
        table.server.set_admission(nullptr);
        link::Client& anybody = sit(player(7, "none"));
        table.ticks(30);
        CHECK(anybody.phase() == Phase::joined);
    }
}

TEST_CASE("A verdict that never comes ends in silence, and takes no seat") {
    Table table;
    Ferryman ferryman;
    table.server.set_admission(&ferryman);
    link::Client& waits = table.sit(player(3, "pier 3"), {table.chart});
    table.ticks(6 * 60);
    CHECK(waits.phase() == Phase::ended);
    CHECK(waits.farewell() == Farewell::silent);
    CHECK(table.events.empty());
    CHECK_THROWS_AS(table.server.ticket(link::SeatId{0}), std::out_of_range);
}

TEST_CASE("Tickets of every length arrive whole, and one that is too long is refused at once") {
    for (const std::size_t size : std::vector<std::size_t>{0, 1, 2, 100, 255, 256}) {
        CAPTURE(size);
        std::string ticket;
        for (std::size_t i = 0; i < size; ++i) {
            ticket += static_cast<char>(i * 37 % 251);
        }
        Table table;
        link::Client& client = table.sit(player(1, ticket), {table.chart});
        table.ticks(30);
        REQUIRE(client.phase() == Phase::joined);
        CHECK(text_of(table.server.ticket(client.seat())) == ticket);
        for (const auto& packet : table.sent_down) {
            CHECK(packet.size() <= table.sent_up.front().size());
        }
    }
    CHECK_THROWS_WITH(
        link::Client({bearer_chart()}, player(1, std::string(257, 'x'))),
        "ticket: 257 is out of range; 0 to 256 bytes; what is longer goes into the first message");
}

TEST_CASE("The ticket of somebody else's address is never looked at") {
    Table table;
    Ferryman ferryman;
    table.server.set_admission(&ferryman);
    link::Client& honest = table.sit(player(1, "pier 1"), {table.chart});
    table.ticks(30);
    REQUIRE(honest.phase() == Phase::joined);
    const int before = ferryman.asked;
    // Its hellos, recorded and sent from elsewhere: the cookie is another address's.
    for (std::uint64_t peer = 50; peer < 60; ++peer) {
        for (std::size_t i = 0; i < 4; ++i) {
            table.server.receive(link::PeerId{peer}, table.sent_up[i]);
        }
    }
    CHECK(ferryman.asked == before);
    // A full server asks nobody.
    for (std::uint64_t identity = 2; identity <= 4; ++identity) {
        table.sit(player(identity, "pier " + std::to_string(identity)), {table.chart});
    }
    ferryman.office_open = true;
    table.ticks(60);
    const int all = ferryman.asked;
    link::Client& fifth = table.sit(player(5, "pier 5"), {table.chart});
    table.ticks(60);
    CHECK(fifth.farewell() == Farewell::full);
    CHECK(ferryman.asked == all);
}

TEST_CASE("Another world is refused as such, and a course's digest tells worlds apart") {
    const Course relay = load_course(demo("courses/relay.toml"));
    CourseSpec moved = relay.spec();
    moved.boxes.front().to[0] += 0.01;
    CHECK(relay.digest() == Course(relay.spec()).digest());
    CHECK(relay.digest() != Course(moved).digest());
    link::ServerConfig config = Table::usual_config();
    config.world = relay.digest();
    Table table(config);
    link::ClientConfig mine = player(1, "");
    mine.world = Course(moved).digest();
    link::Client& other = table.sit(mine, {table.chart});
    mine.identity = 2;
    mine.world = relay.digest();
    link::Client& same = table.sit(mine, {table.chart});
    table.ticks(30);
    CHECK(same.phase() == Phase::joined);
    REQUIRE(other.phase() == Phase::refused);
    CHECK(other.farewell() == Farewell::other_game);
    CHECK(link::describe_farewell(other.farewell(), other.farewell_detail()) ==
          "the server plays in another world");
}
