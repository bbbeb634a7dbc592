#include <catch2/catch.hpp>

#include "link/scene.hpp"

/// Who is told of whom, in what words one is thrown out, and what a net graph shows.
using namespace support;
using link::Farewell;
using link::Phase;

namespace {

/// Runners of even places see each other, those of odd places as well; nobody sees the others.
struct Teams : link::Interest {
    explicit Teams(std::map<std::uint16_t, int> seats) : team_of_seat(std::move(seats)) {}
    double concern(link::SeatId seat, link::RunnerKey runner) noexcept override {
        ++asked;
        return team_of_seat[seat.index] == runner.place % 2 ? 1.0 : 0.0;
    }
    std::map<std::uint16_t, int> team_of_seat;
    int asked = 0;
};

}  // namespace

TEST_CASE("A game decides who is told of whom, and a spectator sees what is near its viewpoint") {
    link::ServerConfig config = Table::usual_config();
    config.interest = 30.0;
    Table table(config);
    for (std::uint64_t i = 1; i <= 4; ++i) {
        table.spawns = i < 4;  // the last is a spectator
        table.sit(i);
        table.ticks(15);
    }
    table.ticks(30);
    CHECK(table.clients[0]->others().size() == 2);
    CHECK(table.clients[3]->others().size() == 3);  // from nowhere, it is told of all
    CHECK_FALSE(table.clients[3]->own_key().has_value());
    table.server.set_viewpoint(table.clients[3]->seat(), glm::dvec3{500.0, 0.0, 0.0});
    table.ticks(40);
    CHECK(table.clients[3]->others().empty());
    table.server.set_viewpoint(table.clients[3]->seat(), glm::dvec3{10.0, 0.0, 0.0});
    table.ticks(40);
    CHECK(table.clients[3]->others().size() == 3);
    Teams teams({{0, 0}, {1, 1}, {2, 0}, {3, 1}});
    table.server.set_interest(&teams);
    table.ticks(40);
    CHECK(teams.asked > 0);
    CHECK(table.clients[0]->others().size() == 1);  // the third
    CHECK(table.clients[1]->others().empty());
    CHECK(table.clients[3]->others().size() == 1);
    CHECK_FALSE(table.clients[1]->shown(table.keys[1]).has_value());
    table.server.set_interest(nullptr);
    table.ticks(40);
    CHECK(table.clients[1]->others().size() == 2);
    CHECK_THROWS_AS(table.server.set_viewpoint(link::SeatId{77}, std::nullopt), std::out_of_range);
}

TEST_CASE("Another version of the game is refused, and whoever is thrown out is told in words") {
    link::ServerConfig config = Table::usual_config();
    config.game = 12;
    Table table(config);
    link::ClientConfig mine;
    mine.identity = mine.attempt = 1;
    mine.game = 11;
    link::Client& other = table.sit(mine, {table.chart});
    mine.identity = 2;
    mine.game = 12;
    link::Client& same = table.sit(mine, {table.chart});
    table.ticks(30);
    CHECK(other.phase() == Phase::refused);
    CHECK(other.farewell() == Farewell::other_game);
    CHECK(link::describe_farewell(other.farewell(), 0) == "the server plays another version of the game");
    REQUIRE(same.phase() == Phase::joined);
    CHECK(same.farewell_words().empty());
    table.server.remove(same.seat(), "the ferry has left without you");
    table.ticks(2);
    CHECK(same.phase() == Phase::ended);
    CHECK(same.farewell() == Farewell::removed);
    CHECK(same.farewell_words() == "the ferry has left without you");
    mine.identity = 3;
    link::Client& third = table.sit(mine, {table.chart});
    table.ticks(30);
    table.server.remove(third.seat(), std::string(300, 'x'));
    table.ticks(2);
    CHECK(third.farewell_words() == std::string(100, 'x'));
}

TEST_CASE("Snapshots that are overtaken are not taken for lost") {
    for (const std::uint32_t every : {1U, 3U}) {
        CAPTURE(every);
        rehearsal::Plan plan;
        plan.clients = 2;
        plan.server.seats = 2;
        plan.server.snapshot_every = every;
        plan.up.delay = plan.down.delay = Seconds{0.05};
        plan.down.reorder = 0.3;  // held up by 20 to 60 ms
        rehearsal::Rehearsal game(quay_scene(), plan);
        double most = 0.0;
        for (double at = 20.0; at < 60.0; at += 0.1) {
            game.run_until(at);
            most = std::max(most, game.server().read_seat(game.client(0).seat()).loss);
        }
        CHECK(most <= 0.001);
        CHECK(game.client(0).statistics().baseless == 0);
    }
}

TEST_CASE("Both ends know the way there and back, what is lost, and how long intents wait") {
    for (const double round_trip : {0.02, 0.1, 0.3}) {
        for (const double loss : {0.0, 0.1}) {
            CAPTURE(round_trip, loss);
            rehearsal::Plan plan;
            plan.clients = 2;
            plan.server.seats = 2;
            plan.up.delay = plan.down.delay = Seconds{round_trip / 2.0};
            plan.down.loss = loss;
            rehearsal::Rehearsal game(quay_scene(), plan);
            game.run_until(20.0);
            const link::ClientStatistics& client = game.client(0).statistics();
            const link::SeatReading seat = game.server().read_seat(game.client(0).seat());
            // What comes waits for a tick there, and for a snapshot here, at most.
            CHECK(client.round_trip.value >= round_trip - 1e-9);
            CHECK(client.round_trip.value <= round_trip + 0.05);
            CHECK(seat.round_trip.value >= round_trip - 1e-9);
            CHECK(seat.round_trip.value <= round_trip + 0.02);
            CHECK(client.loss == Approx(loss).margin(0.06));
            CHECK(seat.loss == Approx(loss).margin(0.06));
            CHECK(client.in_hand.value >= 0.02);
            CHECK(client.in_hand.value <= 0.06);
            CHECK(client.jitter.value >= 0.0);
            CHECK(client.jitter.value <= 0.03);
        }
    }
}

TEST_CASE("Bytes are told by kind at both ends, and each tick of the last seconds is there for a net graph") {
    rehearsal::Plan plan;
    plan.clients = 3;
    plan.server.seats = 3;
    plan.up.delay = plan.down.delay = Seconds{0.03};
    rehearsal::Rehearsal game(quay_scene(), plan);
    game.run_until(5.0);
    link::Client& client = game.client(0);
    const link::ClientStatistics before = client.statistics();
    const std::vector<std::byte> letter(400, std::byte{7});
    REQUIRE(client.send_message(letter));
    REQUIRE(game.server().send_message(client.seat(), letter));
    game.run_until(8.0);
    const link::ClientStatistics& now = client.statistics();
    // What is not told by kind are the envelopes, 5 bytes a packet, and the hellos from before.
    const auto told = [](const link::ClientStatistics& s) {
        return std::pair(
            static_cast<double>(s.bytes_in - s.own_bytes_in - s.others_bytes_in - s.message_bytes_in),
            static_cast<double>(s.bytes_out - s.intent_bytes_out - s.message_bytes_out));
    };
    const auto packets = static_cast<double>(now.packets_in - before.packets_in);
    const auto sent = static_cast<double>(now.packets_out - before.packets_out);
    CHECK(told(now).first - told(before).first == Approx(5.0 * packets).margin(packets));
    CHECK(told(now).second - told(before).second == Approx(5.0 * sent).margin(sent));
    CHECK(now.message_bytes_in - before.message_bytes_in >= 400);
    CHECK(now.message_bytes_in - before.message_bytes_in < 900);
    CHECK(now.message_bytes_out - before.message_bytes_out >= 400);
    CHECK(now.message_bytes_out - before.message_bytes_out < 1200);
    CHECK(now.others_bytes_in > 500);
    const link::SeatReading seat = game.server().read_seat(client.seat());
    CHECK(static_cast<double>(seat.message_bytes) ==
          Approx(static_cast<double>(now.message_bytes_in)).margin(0.5 * packets + 100.0));
    CHECK(static_cast<double>(seat.own_bytes) ==
          Approx(static_cast<double>(now.own_bytes_in)).margin(2.0 * packets));

    CHECK_FALSE(client.sample(256));
    std::uint64_t in = 0;
    int heard = 0;
    for (std::size_t ago = 0; ago < 180; ++ago) {
        const auto sample = client.sample(ago);
        REQUIRE(sample);
        in += sample->bytes_in;
        heard += sample->packets_in;
        CHECK(sample->round_trip.value == Approx(0.06).margin(0.05));
        CHECK(sample->corrections == 0);
    }
    CHECK(static_cast<double>(in) ==
          Approx(static_cast<double>(now.bytes_in - before.bytes_in)).epsilon(0.05));
    CHECK(heard == Approx(60).margin(3));  // snapshots of three seconds
}
