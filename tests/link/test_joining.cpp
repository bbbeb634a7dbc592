#include <catch2/catch.hpp>

#include "link/scene.hpp"
#include "link/server/peer_table.hpp"
#include "link/wire/messages.hpp"

using namespace support;
using link::Farewell;
using link::Phase;
using link::ServerEventKind;

TEST_CASE("A client joins, gets a runner, plays it at once and agrees with the server") {
    Table table;
    link::Client& client = table.sit(7);
    CHECK(client.phase() == Phase::joining);
    table.ticks(10);
    REQUIRE(client.phase() == Phase::joined);
    CHECK(table.count(ServerEventKind::joined) == 1);
    CHECK(table.events.front().identity == 7);
    table.intents[0].move = {1.0, 0.0};
    table.ticks(120);
    REQUIRE(client.own_key() == table.keys[7]);
    CHECK(client.now() - table.server.now() > 0);
    CHECK(client.own().position().x > 3.0);
    CHECK(client.statistics().corrections == 0);
    const auto tick = client.acknowledged();
    REQUIRE(tick == table.server.now() - table.server.now().value % 3);
    if (*tick == table.server.now()) {
        CHECK(client.digest_at(*tick) == digest(table.server.runner(table.keys[7])));
    }
    const link::SeatReading seat = table.server.read_seat(client.seat());
    CHECK(seat.connected);
    CHECK(seat.identity == 7);
    CHECK(seat.missing == 0);
    CHECK(seat.intents > 100);
}

TEST_CASE("Whoever does not fit is refused with a reason that helps") {
    Table table;
    link::ClientConfig config;
    config.identity = config.attempt = 1;
    config.tick_rate = 50.0;
    link::Client& slow = table.sit(config, {bearer_chart()});
    config.tick_rate = 60.0;
    const Chart eel = load_chart(demo("charts/eel.toml")).chart;
    link::Client& other = table.sit(config, {eel});
    link::Client& more = table.sit(config, {bearer_chart(), eel});
    config.runners = 8;
    config.identity = 9;
    link::Client& small = table.sit(config, {bearer_chart()});
    table.ticks(30);
    CHECK(slow.phase() == Phase::refused);
    CHECK(slow.farewell() == Farewell::other_tick_rate);
    CHECK(link::describe_farewell(slow.farewell(), slow.farewell_detail()) ==
          "the server plays 60 ticks a second");
    CHECK(other.farewell() == Farewell::other_charts);
    CHECK(link::describe_farewell(other.farewell(), other.farewell_detail()) ==
          "chart 0 is not the server's");
    CHECK(more.farewell() == Farewell::other_charts);
    CHECK(more.farewell_detail() == 1);
    CHECK(small.farewell() == Farewell::too_many);
    CHECK(link::describe_farewell(small.farewell(), small.farewell_detail()) ==
          "the server has 64 runners, more than ClientConfig::runners");
    CHECK(table.server.statistics().refused_joins >= 3);
}

TEST_CASE("A full server says so, a seat that is free again can be taken") {
    link::ServerConfig config = Table::usual_config();
    config.seats = 2;
    Table table(config);
    link::Client& first = table.sit(1);
    table.sit(2);
    table.ticks(20);
    link::Client& third = table.sit(3);
    table.ticks(40);
    CHECK(third.farewell() == Farewell::full);
    CHECK(third.farewell_detail() == 2);
    table.server.forget(first.seat());
    table.ticks(10);
    CHECK(first.phase() == Phase::ended);
    CHECK(first.farewell() == Farewell::removed);
    CHECK(table.count(ServerEventKind::forgotten) == 1);
    CHECK_FALSE(table.server.exists(table.keys[1]));
    link::Client& fourth = table.sit(3, 2);
    table.ticks(40);
    CHECK(fourth.phase() == Phase::joined);
}

TEST_CASE("Who leaves and comes back in time finds the same seat and runner, later, nothing is left") {
    link::ServerConfig config = Table::usual_config();
    config.keep = Seconds{2.0};
    Table table(config);
    link::Client& client = table.sit(5);
    table.intents[0].move = {1.0, 0.0};
    table.ticks(90);
    const link::RunnerKey key = table.keys[5];
    const double reached = table.server.runner(key).position().x;
    client.leave();
    table.ticks(30);
    CHECK(client.phase() == Phase::ended);
    CHECK(client.farewell() == Farewell::left);
    REQUIRE(table.count(ServerEventKind::left) == 1);
    CHECK(table.events.back().why == Farewell::left);
    // Without its player it comes to rest.
    CHECK(table.server.runner(key).speed() == 0.0);
    link::Client& again = table.sit(5, 2);
    table.ticks(60);
    CHECK(table.count(ServerEventKind::rejoined) == 1);
    CHECK(table.count(ServerEventKind::joined) == 1);
    CHECK(again.own_key() == key);
    CHECK(again.own().position().x >= reached);
    CHECK(again.statistics().corrections == 0);
    again.leave();
    table.ticks(150);
    CHECK(table.count(ServerEventKind::forgotten) == 1);
    CHECK_FALSE(table.server.exists(key));
}

TEST_CASE("Silence ends a connection at both ends, the same identity from elsewhere takes its seat over") {
    link::ServerConfig config = Table::usual_config();
    config.silence = Seconds{0.5};
    Table table(config);
    link::ClientConfig mine;
    mine.identity = 4;
    mine.attempt = 1;
    mine.silence = Seconds{0.5};
    link::Client& client = table.sit(mine, {bearer_chart()});
    table.ticks(60);
    table.cut_up = table.cut_down = true;
    table.ticks(40);
    CHECK(client.phase() == Phase::ended);
    CHECK(client.farewell() == Farewell::silent);
    CHECK(table.events.back().why == Farewell::silent);

    table.cut_up = table.cut_down = false;
    link::Client& second = table.sit(4, 2);
    table.ticks(40);
    REQUIRE(second.phase() == Phase::joined);
    link::Client& third = table.sit(4, 3);
    table.ticks(40);
    CHECK(third.phase() == Phase::joined);
    CHECK(second.phase() == Phase::ended);
    CHECK(second.farewell() == Farewell::moved);
    CHECK(third.own_key() == table.keys[4]);
}

TEST_CASE(
    "Joining late shows all that are there, leaving the view and coming back is told, events are not "
    "doubled") {
    link::ServerConfig config = Table::usual_config();
    config.interest = 30.0;
    Table table(config);
    link::Client& first = table.sit(1);
    table.sit(2);
    table.ticks(100);
    link::Client& late = table.sit(3);
    table.ticks(60);
    CHECK(late.others().size() == 2);
    CHECK(first.others().size() == 2);
    table.server.teleport(table.keys[2], {{100.0, 0.0, 0.0}, 0.0});
    table.ticks(40);
    CHECK(first.others().size() == 1);
    CHECK_FALSE(first.shown(table.keys[2]).has_value());
    table.server.teleport(table.keys[2], {{10.0, 0.0, 0.0}, 0.0});
    table.ticks(40);
    REQUIRE(first.shown(table.keys[2]).has_value());
    CHECK(first.shown(table.keys[2])->position.x == Approx(10.0).margin(0.02));
    CHECK(table.server.despawn(table.keys[2]));
    CHECK_FALSE(table.server.despawn(table.keys[2]));
    table.ticks(40);
    CHECK(first.others().size() == 1);
    CHECK_THROWS_WITH(table.server.runner(table.keys[2]), Catch::Contains("despawned"));
    // The place is used again by another life.
    const auto next = table.server.spawn(0, {{5.0, 0.0, 0.0}, 0.0});
    REQUIRE(next);
    CHECK(next->place == table.keys[2].place);
    CHECK(next->life != table.keys[2].life);
    table.ticks(40);
    CHECK(first.shown(*next).has_value());
}

TEST_CASE("Runners without an owner do what the game says") {
    Table table;
    link::Client& client = table.sit(1);
    table.ticks(20);
    const auto bot = table.server.spawn(0, {{0.0, -5.0, 0.0}, 0.0});
    REQUIRE(bot);
    Intent intent;
    intent.move = {1.0, 0.0};
    table.server.direct(*bot, intent);
    table.ticks(120);
    // 120 ticks at the chart's walking speed of 2.4 m/s, speeding up with 12 m/s^2: 4.8 m less 0.24 m.
    CHECK(table.server.runner(*bot).position().x == Approx(4.8 - 0.24).margin(0.001));
    REQUIRE(client.shown(*bot));
    CHECK(client.shown(*bot)->position.x > 4.0);
    CHECK_FALSE(table.server.spawn(0, {}, client.seat()).has_value());  // it has one
    CHECK_THROWS_AS(table.server.spawn(3, {}), std::out_of_range);
}

TEST_CASE("Bad settings are refused by name") {
    const auto text_of = [](auto&& make) {
        try {
            make();
        } catch (const ChartError& error) {
            std::string text;
            for (const Diagnostic& diagnostic : error.diagnostics()) {
                text += diagnostic.text() + "\n";
            }
            return text;
        }
        return std::string();
    };
    link::ServerConfig config;
    config.tick_rate = 0.0;
    config.seats = 0;
    config.budget = 5000;
    const std::string text = text_of([&] { link::Server({bearer_chart()}, config); });
    CHECK_THAT(text, Catch::Contains("tick_rate") && Catch::Contains("seats") && Catch::Contains("budget") &&
                         Catch::Contains("10 to 1000 ticks a second"));
    CHECK_THAT(text, Catch::Contains("secret: is 0") && Catch::Contains("from the system's random source"));
    CHECK_THAT(text_of([] { link::Server({}, {}); }), Catch::Contains("give 1 to 16 charts"));
    link::ClientConfig mine;
    mine.half_life = Seconds{-1.0};
    CHECK_THAT(text_of([&] { link::Client({bearer_chart()}, mine); }),
               Catch::Contains("half_life") && Catch::Contains("identity: is 0") &&
                   Catch::Contains("attempt: is 0"));
}

TEST_CASE("A hello that was recorded throws nobody out") {
    Table table;
    table.sit(4, 7);
    table.ticks(40);
    std::vector<std::vector<std::byte>> hellos;
    for (const auto& packet : table.sent_up) {
        if (packet[0] == static_cast<std::byte>(link::wire::Kind::hello)) {
            hellos.push_back(packet);
        }
    }
    REQUIRE(hellos.size() >= 2);  // the last with its cookie
    link::Client& later = table.sit(4, 8);
    table.ticks(40);
    REQUIRE(later.phase() == Phase::joined);
    table.clients[0]->leave();
    const std::size_t told = table.events.size();
    for (int i = 0; i < 100; ++i) {
        for (const std::size_t peer : {0U, 1U}) {
            table.server.receive(Table::peer_of(peer), hellos[static_cast<std::size_t>(i) % hellos.size()]);
        }
        table.tick();
    }
    CHECK(later.phase() == Phase::joined);
    CHECK(later.statistics().corrections == 0);
    CHECK(table.events.size() == told);
}

TEST_CASE("A client that is started again with the same attempt is told so at once") {
    Table table;
    table.sit(4, 7);
    table.ticks(60);
    REQUIRE(table.clients[0]->phase() == Phase::joined);
    link::ClientConfig config;
    config.identity = 4;
    config.attempt = 7;
    table.clients[0] = std::make_unique<link::Client>(std::vector{table.chart}, config);
    table.ticks(30);
    CHECK(table.clients[0]->phase() == Phase::refused);
    CHECK(table.clients[0]->farewell() == Farewell::outdated);
    CHECK(link::describe_farewell(Farewell::outdated, 0) ==
          "this identity has joined with a later attempt, or with this one before: the next must be larger");
    config.attempt = 8;
    table.clients[0] = std::make_unique<link::Client>(std::vector{table.chart}, config);
    table.ticks(30);
    CHECK(table.clients[0]->phase() == Phase::joined);
    CHECK(table.clients[0]->own_key() == table.keys[4]);
}

TEST_CASE("A hello of nobody is not let in") {
    Table table;
    std::array<std::byte, link::wire::most_packet_bytes> packet{};
    for (const auto& [identity, attempt] : {std::pair{0U, 1U}, std::pair{1U, 0U}}) {
        link::wire::Hello hello;
        hello.body.identity = identity;
        hello.body.attempt = attempt;
        hello.body.rate = 60000;
        hello.body.chart_count = 1;
        hello.body.charts[0] = static_cast<std::uint32_t>(bearer_chart().digest());
        for (int i = 0; i < 2; ++i) {
            const std::size_t size = link::wire::write_message(packet, link::wire::Kind::hello, hello, 0);
            table.server.receive(Table::peer_of(0), std::span(packet).first(size));
            const auto answer = table.server.next_packet();
            REQUIRE(answer.has_value() == (i == 0));
            hello.cookie = i == 0 ? link::wire::read_message<link::wire::Challenge>(answer->bytes).cookie : 0;
        }
    }
    CHECK(table.server.statistics().malformed == 2);
}

TEST_CASE("Packets find their seats, whoever came and went before") {
    struct There {
        bool connected = false;
        link::PeerId peer;
    };
    std::vector<There> seats(200);
    link::PeerTable table(seats.size(), 7);
    rehearsal::Random random(4);
    for (int round = 0; round < 300; ++round) {
        There& seat = seats[random.below(seats.size())];
        seat.connected = !seat.connected;
        seat.peer = {random.chance(0.5) ? random.next() : 1000 + static_cast<std::uint64_t>(round)};
        table.take(seats);
        for (std::size_t i = 0; i < seats.size(); ++i) {
            if (seats[i].connected) {
                REQUIRE(table.find(seats[i].peer) == i);
            } else {
                REQUIRE(table.find(seats[i].peer) == std::nullopt);
            }
        }
        REQUIRE(table.find({random.next()}) == std::nullopt);
    }
}

TEST_CASE("What greets a client that is in already is counted and changes nothing") {
    Table table;
    link::Client& client = table.sit(1);
    table.ticks(30);
    REQUIRE(client.own_key());
    REQUIRE(table.sent_down.size() > 2);
    const Bytes challenge = table.sent_down[0], welcome = table.sent_down[1];
    const std::uint64_t before = client.statistics().repeated;
    client.receive(challenge, table.ground);
    CHECK(client.statistics().repeated == before + 1);
    client.receive(welcome, table.ground);
    CHECK(client.statistics().repeated == before + 2);
    table.ticks(30);
    CHECK(client.own().position() == table.server.runner(*client.own_key()).position());
    CHECK(client.statistics().corrections == 0);
    CHECK(table.count(link::ServerEventKind::joined) == 1);
}
