#include <catch2/catch.hpp>
#include <cursimeter/effects.hpp>

#include "link/scene.hpp"

/// Several players at one client: each has intents and a runner, all share the connection.
using namespace support;
using link::RunnerKey;
using link::StepContext;

namespace {

link::ServerConfig server_for(std::size_t players) {
    link::ServerConfig config = Table::usual_config();
    config.players = players;
    return config;
}
link::ClientConfig client_with(std::size_t players, std::uint64_t identity, std::uint64_t attempt = 1) {
    link::ClientConfig config;
    config.identity = identity;
    config.attempt = attempt;
    config.players = players;
    return config;
}

/// What a stepper saw around each runner: the keys of the others, in their order.
using Around = std::map<std::pair<std::uint32_t, RunnerKey>, std::vector<RunnerKey>>;

/// Nobody comes nearer to anybody than 0.7 m; each that is in the way moves one on, so their order counts.
struct Jostling : link::Stepper {
    [[nodiscard]] bool wants_others() const noexcept override { return true; }
    Report step(const Chart& chart, Runner& runner, const Intent& intent,
                const StepContext& context) noexcept override {
        std::vector<RunnerKey>& keys = around[{context.tick.value, context.runner}];
        keys.clear();
        glm::dvec3 moved{0.0};
        for (const link::Neighbour& other : context.others) {
            keys.push_back(other.key);
            const glm::dvec3 off = runner.position() + moved - other.position;
            const double apart = std::sqrt(off.x * off.x + off.y * off.y);
            if (apart < 0.7 && apart > 0.0) {
                moved += off * ((0.7 - apart) / apart);
            }
        }
        if (moved.x != 0.0 || moved.y != 0.0) {
            place(chart, runner, {runner.position() + moved, runner.yaw()});
        }
        const int extra = context.extra.empty() ? 0 : std::to_integer<int>(context.extra[0]);
        if (extra != 0) {
            extras[context.runner] = extra;
        }
        return advance(chart, runner, intent, context.dt);
    }
    Around around;
    std::map<RunnerKey, int> extras;
};

/// A server and clients in virtual time over wires of 3 ticks, of which some packets are lost.
struct Wires {
    explicit Wires(const link::ServerConfig& config) : server({bearer_chart()}, config) {}
    link::Client& sit(const link::ClientConfig& config) {
        ends.push_back({std::make_unique<link::Client>(std::vector{bearer_chart()}, config), {}, {}, {}, {}});
        ends.back().intents.resize(config.players);
        ends.back().extras.resize(config.players);
        return *ends.back().client;
    }
    void tick() {
        ++ticks;
        time += 1.0 / 60.0;
        server.tell_time(Seconds{time});
        for (std::size_t i = 0; i < ends.size(); ++i) {
            End& end = ends[i];
            end.client->tell_time(Seconds{time});
            while (!end.down.empty() && end.down.front().first <= ticks) {
                end.client->receive(end.down.front().second, end.world);
                end.down.erase(end.down.begin());
            }
            while (end.client->due()) {
                end.client->tick_players(end.intents, end.world, end.extras);
            }
            while (const auto packet = end.client->next_packet()) {
                longest = std::max(longest, packet->size());
                if (random.part() >= loss) {
                    up.push_back({ticks + 3, {i, {packet->begin(), packet->end()}}});
                }
            }
        }
        while (!up.empty() && up.front().first <= ticks) {
            server.receive({up.front().second.first + 1}, up.front().second.second);
            up.erase(up.begin());
        }
        while (const auto event = server.next_event()) {
            if (event->kind != link::ServerEventKind::joined) {
                continue;
            }
            for (std::size_t p = 0; p < server.read_seat(event->seat).players; ++p) {
                const double at = static_cast<double>(event->identity * 4 + p);
                keys[{event->identity, p}] = *server.spawn(0, {{0.0, apart * at, 0.0}, 0.0}, event->seat, p);
            }
        }
        if (before_tick) {
            before_tick();
        }
        server.tick(world);
        while (const auto packet = server.next_packet()) {
            if (random.part() >= loss) {
                ends[packet->peer.value - 1].down.push_back(
                    {ticks + 3, {packet->bytes.begin(), packet->bytes.end()}});
            }
        }
    }
    void run(int count) {
        for (int i = 0; i < count; ++i) {
            tick();
        }
    }

    struct End {
        std::unique_ptr<link::Client> client;
        Jostling world;
        std::vector<Intent> intents;
        std::vector<link::ExtraBytes> extras;
        std::vector<std::pair<int, std::vector<std::byte>>> down;
    };
    link::Server server;
    Jostling world;
    std::vector<End> ends;
    std::vector<std::pair<int, std::pair<std::uint64_t, std::vector<std::byte>>>> up;
    std::map<std::pair<std::uint64_t, std::size_t>, RunnerKey> keys;  ///< by identity and player
    std::function<void()> before_tick;
    rehearsal::Random random{5};
    double loss = 0.0, apart = 2.0, time = 0.0;
    int ticks = 0;
    std::size_t longest = 0;
};

}  // namespace

TEST_CASE("One to four players at each client: nothing is corrected and all see what happened") {
    for (const std::size_t players : {1U, 2U, 3U, 4U}) {
        for (const double loss : {0.0, 0.05, 0.3}) {
            CAPTURE(players, loss);
            rehearsal::Plan plan = usual_plan(3, 20.0);
            plan.seed = 10 * players;
            plan.up.loss = plan.down.loss = loss;
            plan.client.players = players;
            // Calm hands where much is lost, of which held keys tell all that matters: some intents and news are late
            // then, whoever plays.
            rehearsal::Scene scene = hands_scene(3 * players, plan.seconds, plan.seed);
            scene.human_hands = loss < 0.3;
            rehearsal::Rehearsal rehearsal(scene, plan);
            rehearsal.run_until(plan.seconds);
            for (std::size_t i = 0; i < 3; ++i) {
                CHECK(rehearsal.client(i).others().size() == 2 * players);
            }
            const rehearsal::Result result = rehearsal.finish();
            for (const rehearsal::ClientResult& client : result.clients) {
                CHECK(client.corrections == 0);
                CHECK((client.missing_after_first_second == 0 || loss == 0.3));
                CHECK(client.digests_compared > 200 * players);
                CHECK(client.digests_differing == 0);
                CHECK(client.events_shown > 20 * players);
                CHECK(client.events_out_of_order == 0);
                CHECK((client.events_missing == 0 || loss == 0.3));
                CHECK(client.statistics.malformed == 0);
                CHECK(client.seat.players == players);
            }
            CHECK(result.server.malformed == 0);
        }
    }
}

TEST_CASE("A client's players stall together, and count again together") {
    rehearsal::Plan plan = usual_plan(2, 40.0);
    plan.client.players = 2;
    plan.stall = Seconds{1.0};
    rehearsal::Scene scene = quay_scene();
    scene.human_hands = true;
    const rehearsal::Result result = rehearsal::rehearse(scene, plan);
    for (const rehearsal::ClientResult& client : result.clients) {
        CHECK(client.corrections <= 2 * 4 * 3);  // players, stalls, and what one stall may cost
        CHECK(client.digests_differing == 0);
        CHECK(client.digests_compared > 1000);
    }
}

TEST_CASE("A server that takes fewer players says so") {
    Table table(server_for(2));
    const link::Client& three = table.sit(client_with(3, 1), {bearer_chart()});
    const link::Client& two = table.sit(client_with(2, 2), {bearer_chart()});
    table.ticks(60);
    CHECK(three.phase() == link::Phase::refused);
    CHECK(three.farewell() == link::Farewell::turned_away);
    CHECK(three.farewell_words() == "3 players at one machine, and this server takes 2");
    CHECK(two.phase() == link::Phase::joined);

    link::ServerConfig five = Table::usual_config();
    five.players = 5;
    CHECK_THROWS_WITH(link::Server({bearer_chart()}, five), Catch::Contains("players"));
    link::ClientConfig none = client_with(0, 1);
    CHECK_THROWS_WITH(link::Client({bearer_chart()}, none), Catch::Contains("1 to 4"));
}

TEST_CASE("Runners of a client come and go one by one") {
    Table table(server_for(2));
    link::Client& client = table.sit(client_with(2, 1), {bearer_chart()});
    const link::Client& other = table.sit(2);
    table.ticks(60);
    link::Server& server = table.server;
    const link::SeatId seat = client.seat();
    REQUIRE(client.own_key(0) == table.keys[1]);
    CHECK_FALSE(client.own_key(1));
    CHECK_THROWS_AS(client.own_key(2), std::out_of_range);
    CHECK_THROWS_AS(server.spawn(0, {}, seat, 2), std::out_of_range);
    CHECK_THROWS_AS(server.spawn(0, {}, other.seat(), 1), std::out_of_range);
    CHECK_FALSE(server.spawn(0, {}, seat, 0));
    const auto second = server.spawn(0, {{0.0, -3.0, 0.0}, 0.0}, seat, 1);
    REQUIRE(second);
    CHECK_FALSE(server.spawn(0, {}, seat, 1));
    table.ticks(60);
    REQUIRE(client.own_key(1) == second);
    CHECK(client.others().size() == 1);  // not its own
    CHECK(other.others().size() == 2);
    CHECK(server.read_seat(seat).runners[0] == table.keys[1]);
    CHECK(server.read_seat(seat).runners[1] == second);

    // The intent of one player steers the first; the other stands.
    table.intents[0].move.forward = 1.0;
    table.ticks(60);
    CHECK(client.own(0).position().x > 2.0);
    CHECK(client.own(1).position().x == 0.0);
    CHECK(client.report(1).event_count == 0);

    server.despawn(table.keys[1]);
    table.ticks(30);
    CHECK_FALSE(client.own_key(0));
    CHECK(client.own_key(1) == second);
    CHECK(other.others().size() == 1);
    REQUIRE(server.spawn(0, {{0.0, 9.0, 0.0}, 0.0}, seat, 0));
    table.ticks(30);
    CHECK(client.own_key(0) == server.read_seat(seat).runners[0]);
    CHECK(client.own(0).position().y == 9.0);

    server.forget(seat);
    CHECK(server.runners().size() == 1);
    CHECK(client.statistics().corrections == 0);
}

TEST_CASE("A player who does not come back leaves a runner that stands, and is shown to the other") {
    Table table(server_for(3));
    table.spawns = false;
    link::Client& pair = table.sit(client_with(2, 1), {bearer_chart()});
    table.ticks(30);
    const link::SeatId seat = pair.seat();
    const auto first = table.server.spawn(0, {}, seat, 0);
    const auto second = table.server.spawn(0, {{0.0, 2.0, 0.0}, 0.0}, seat, 1);
    table.ticks(60);
    REQUIRE(pair.own_key(1) == second);

    link::Client& alone = table.sit(client_with(1, 1, 2), {bearer_chart()});
    table.intents.back().move.forward = 1.0;
    table.ticks(60);
    REQUIRE(alone.phase() == link::Phase::joined);
    CHECK(alone.own_key() == first);
    CHECK(alone.own().position().x > 2.0);
    CHECK(table.server.runner(*second).position().x == 0.0);
    REQUIRE(alone.others().size() == 1);
    CHECK(alone.others()[0] == second);
    CHECK(table.server.read_seat(seat).players == 1);
    CHECK(table.server.read_seat(seat).runners[1] == second);

    const link::Client& three = table.sit(client_with(3, 1, 3), {bearer_chart()});
    table.ticks(60);
    CHECK(three.own_key(0) == first);
    CHECK(three.own_key(1) == second);
    CHECK_FALSE(three.own_key(2));
    CHECK(three.others().empty());
}

TEST_CASE("What the server does to one runner of a client corrects that one alone") {
    Table table(server_for(2));
    link::Client& client = table.sit(client_with(2, 1), {bearer_chart()});
    table.ticks(60);
    const auto second = table.server.spawn(0, {{0.0, 9.0, 0.0}, 0.0}, client.seat(), 1);
    REQUIRE(second);
    table.ticks(60);
    push(table.server.runner(*second), {.direction = {1.0, 0.0, 0.0}, .strength = 5.0, .seconds = 0.3});
    table.ticks(60);
    const auto correction = client.next_correction();
    REQUIRE(correction);
    CHECK(correction->player == 1);
    CHECK_FALSE(client.next_correction());
    push(table.server.runner(*second), {.direction = {1.0, 0.0, 0.0}, .strength = 5.0, .seconds = 0.3});
    table.ticks(30);
    push(table.server.runner(table.keys[1]), {.direction = {1.0, 0.0, 0.0}, .strength = 5.0, .seconds = 0.3});
    table.ticks(30);
    const auto earlier = client.next_correction(), later = client.next_correction();
    REQUIRE(later);
    CHECK(earlier->player == 1);
    CHECK(later->player == 0);
    for (std::size_t player = 0; player < 2; ++player) {
        const auto tick = client.acknowledged(player);
        REQUIRE(tick);
        CHECK(client.own(player).position() ==
              table.server.runner(*table.server.read_seat(client.seat()).runners[player]).position());
    }
}

TEST_CASE("Both ends see the same others around each runner, in one order") {
    Wires wires(server_for(3));
    const link::Client& three = wires.sit(client_with(3, 1));
    wires.sit(client_with(1, 2));
    const link::Client& two = wires.sit(client_with(2, 3));
    wires.run(90);
    REQUIRE(three.own_key(2));
    REQUIRE(two.own_key(1));
    wires.world.around.clear();
    wires.run(120);
    std::size_t compared = 0;
    for (const Wires::End& end : wires.ends) {
        for (const auto& [when, there] : wires.world.around) {
            const auto here = end.world.around.find(when);
            if (here != end.world.around.end()) {
                CHECK(there.size() == 5);
                CHECK(here->second == there);
                ++compared;
            }
        }
    }
    CHECK(compared > 600);
}

TEST_CASE("Players of one client who jostle each other are predicted") {
    Wires wires(server_for(4));
    wires.apart = 0.75;
    const link::Client& four = wires.sit(client_with(4, 1));
    wires.run(90);
    REQUIRE(four.own_key(3));
    rehearsal::Random random(8);
    wires.loss = 0.1;
    for (int i = 0; i < 60; ++i) {
        for (Intent& intent : wires.ends[0].intents) {
            intent.move.forward = random.part() * 2.0 - 1.0;
            intent.look.yaw = random.part() * 6.28;
        }
        wires.run(10);
    }
    CHECK(four.statistics().corrections == 0);
    CHECK(four.statistics().confirmed > 400);
    // What the game does to one of them meets the rest here as well.
    std::uint64_t pushed = 0;
    wires.before_tick = [&] {
        if (wires.ticks % 60 == 0) {
            ++pushed;
            push(wires.server.runner(wires.keys[{1, wires.ticks / 60 % 4}]),
                 {.direction = {0.0, 1.0, 0.0}, .strength = 6.0, .seconds = 0.2});
        }
    };
    wires.run(600);
    CHECK(pushed == 10);
    CHECK(four.statistics().corrections >= 10);
    CHECK(four.statistics().corrections <= 40);
}

TEST_CASE("What rides on an intent comes with the runner of its player") {
    Wires wires(server_for(2));
    const link::Client& client = wires.sit(client_with(2, 1));
    wires.run(60);
    REQUIRE(client.own_key(1));
    for (std::size_t player = 0; player < 2; ++player) {
        const std::byte bytes[] = {static_cast<std::byte>(20 + player)};
        wires.ends[0].extras[player].add(bytes);
    }
    wires.run(30);
    for (std::size_t player = 0; player < 2; ++player) {
        const RunnerKey key = wires.keys[{1, player}];
        CHECK(wires.world.extras[key] == 20 + static_cast<int>(player));
        CHECK(wires.ends[0].world.extras[key] == 20 + static_cast<int>(player));
    }
}

TEST_CASE("Four players who change as much as can be said, with messages: all comes through") {
    Wires wires(server_for(4));
    link::Client& four = wires.sit(client_with(4, 1));
    wires.run(90);
    REQUIRE(four.own_key(3));
    const link::SeatId seat = four.seat();
    const std::uint64_t before = wires.server.read_seat(seat).missing;
    rehearsal::Random random(3);
    std::array<std::array<Change, 16>, 4> changes{};
    std::array<Focus, 4> focuses{};
    std::vector<std::byte> message(link::longest_message, std::byte{0xa5});
    std::size_t said = 0, heard = 0;
    for (int i = 0; i < 300; ++i) {
        for (std::size_t p = 0; p < 4; ++p) {
            Intent& intent = wires.ends[0].intents[p];
            for (std::size_t k = 0; k < 16; ++k) {
                changes[p][k] = Change::look_to(Look{random.part() * 6.0, random.part() - 0.5},
                                                (static_cast<double>(k) + random.part()) / 16.0 / 60.0);
            }
            intent.changes = changes[p];
            intent.move = {random.part() * 2.0 - 1.0, random.part() * 2.0 - 1.0};
            intent.look = {random.part() * 6.0, random.part() * 2.0 - 1.0};
            intent.held = static_cast<std::uint32_t>(random.next());
            focuses[p].position = {random.part() * 1e5, random.part() * 1e5, random.part() * 1e5};
            focuses[p].velocity = {random.part() * 1e3, random.part() * 1e3, random.part() * 1e3};
            intent.focus = &focuses[p];
            link::ExtraBytes& extra = wires.ends[0].extras[p];
            extra = {};
            for (std::size_t k = 0; k < link::ExtraBytes::most; ++k) {
                const auto byte = static_cast<std::byte>(random.next());
                extra.add({&byte, 1});
            }
        }
        said += four.send_message(message) ? 1 : 0;
        wires.tick();
        while (const auto came = wires.server.next_message()) {
            heard += std::ranges::equal(came->bytes, message) ? 1 : 0;
        }
    }
    for (Intent& intent : wires.ends[0].intents) {
        intent = {};
    }
    for (int i = 0; i < 600; ++i) {
        wires.tick();
        while (const auto came = wires.server.next_message()) {
            heard += std::ranges::equal(came->bytes, message) ? 1 : 0;
        }
    }
    CHECK(wires.longest <= link::packet_bytes);
    CHECK(wires.longest > 700);
    CHECK(wires.server.read_seat(seat).missing == before);
    CHECK(four.statistics().corrections == 0);
    CHECK(said > 10);
    CHECK(heard == said);
}

TEST_CASE("Whole runners that do not fit one snapshot come in turn") {
    link::ServerConfig config = server_for(4);
    config.budget = 700;
    Wires wires(config);
    const link::Client& four = wires.sit(client_with(4, 1));
    wires.run(90);
    REQUIRE(four.own_key(3));
    // All are touched in every tick, so that all are wanted as a whole in every snapshot.
    std::array<int, 4> longest{};
    wires.before_tick = [&] {
        for (std::size_t p = 0; p < 4; ++p) {
            push(wires.server.runner(wires.keys[{1, p}]),
                 {.direction = {0.0, 1.0, 0.0}, .strength = 0.5, .seconds = 0.1});
        }
    };
    for (int i = 0; i < 300; ++i) {
        wires.tick();
        for (std::size_t p = 0; p < 4; ++p) {
            const auto tick = four.acknowledged(p);
            REQUIRE(tick);
            longest[p] = std::max(longest[p], wires.server.now() - *tick);
        }
    }
    for (const int ticks : longest) {
        CHECK(ticks <= 4 * 3 + 3 + 3);  // four snapshots, and the way
    }
    CHECK(four.statistics().malformed == 0);
}

TEST_CASE("A client sees what is near any of its runners") {
    link::ServerConfig config = server_for(2);
    config.interest = 20.0;
    Table table(config);
    link::Client& client = table.sit(client_with(2, 1), {bearer_chart()});
    table.ticks(30);
    REQUIRE(table.server.spawn(0, {{1000.0, 0.0, 0.0}, 0.0}, client.seat(), 1));
    const auto near_first = table.server.spawn(0, {{10.0, 3.0, 0.0}, 0.0});
    const auto near_second = table.server.spawn(0, {{990.0, 0.0, 0.0}, 0.0});
    const auto between = table.server.spawn(0, {{500.0, 0.0, 0.0}, 0.0});
    table.ticks(60);
    CHECK(client.shown(*near_first));
    CHECK(client.shown(*near_second));
    CHECK_FALSE(client.shown(*between));
}
