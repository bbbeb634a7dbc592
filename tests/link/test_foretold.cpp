#include <catch2/catch.hpp>
#include <cstring>
#include <cursimeter/effects.hpp>

#include "link/scene.hpp"

/// What a server says beforehand, by messages: both advancers do it at that tick, so that nothing is corrected.
using namespace support;
using link::AdvanceContext;
using link::Tick;

namespace {

/// Waves that push whoever stands on the jetty, by tick.
struct Jetty : link::Advancer {
    Report advance_runner(const Chart& chart, Runner& runner, const Intent& intent,
                          const AdvanceContext& context) noexcept override {
        if (const auto wave = waves.find(context.tick.value); wave != waves.end()) {
            Push push;
            push.direction = {0.0, 1.0, 0.0};
            push.strength = wave->second;
            push.seconds = 0.3;
            cursimeter::push(runner, push);
            ++(context.again ? again : once);
        }
        return advance(chart, runner, intent, context.dt);
    }
    std::map<std::uint32_t, double> waves;  ///< m/s
    int once = 0, again = 0;
};

struct Wave {
    std::uint32_t tick;
    double strength;
};

/// A server and a client, each with its jetty.
struct Pier {
    explicit Pier(double delay, double loss = 0.0) {
        rehearsal::LinkFaults faults;
        faults.delay = Seconds{delay};
        faults.loss = loss;
        up.set_faults(faults);
        down.set_faults(faults);
        link::ClientConfig config;
        config.identity = config.attempt = 1;
        client.emplace(std::vector{bearer_chart()}, config);
    }
    void tick() {
        time += 1.0 / 60.0;
        while (up.next_arrival().value_or(1e9) <= time) {
            server.receive({1}, up.take());
        }
        server.tell_time(Seconds{time});
        while (const auto event = server.next_event()) {
            if (event->kind == link::ServerEventKind::joined) {
                runner = server.spawn(0, {}, event->seat);
            }
        }
        while (server.due()) {
            server.tick(truth);
            if (runner) {
                digests[server.now().value] = digest(server.runner(*runner));
            }
        }
        while (const auto packet = server.next_packet()) {
            down.send(time, packet->bytes);
        }
        client->tell_time(Seconds{time});
        while (down.next_arrival().value_or(1e9) <= time) {
            client->receive(down.take(), shown);
        }
        while (const auto message = client->next_message()) {
            Wave wave{};
            std::memcpy(&wave, message->data(), sizeof wave);
            shown.waves[wave.tick] = wave.strength;
            client->play_again(Tick{wave.tick}, shown);
        }
        Intent intent;
        intent.move.forward = 1.0;
        intent.look.yaw = time;
        while (client->due()) {
            client->tick(intent, shown);
        }
        while (const auto packet = client->next_packet()) {
            up.send(time, *packet);
        }
    }
    void foretell(std::uint32_t ticks, double strength) {
        const Wave wave{server.now().value + ticks, strength};
        truth.waves[wave.tick] = strength;
        REQUIRE(server.send_message(client->seat(), std::as_bytes(std::span(&wave, 1))));
    }
    rehearsal::SimulatedLink up{{}, 1}, down{{}, 2};
    link::Server server{{bearer_chart()}, Table::usual_config()};
    std::optional<link::Client> client;
    std::optional<link::RunnerKey> runner;
    std::map<std::uint32_t, std::uint64_t> digests;
    Jetty truth, shown;
    double time = 0.0;
};

}  // namespace

TEST_CASE("A push that is foretold by more than the way takes is played by both at its tick") {
    for (const double delay : {0.0, 0.02, 0.05, 0.1}) {
        CAPTURE(delay);
        Pier pier(delay);
        for (int i = 0; i < 300; ++i) {
            pier.tick();
        }
        const std::uint64_t replayed = pier.client->statistics().replayed;
        const auto ticks = static_cast<std::uint32_t>((2.0 * delay + 0.15) * 60.0);
        for (int wave = 0; wave < 10; ++wave) {
            pier.foretell(ticks, 3.0 + wave);
            for (int i = 0; i < 37; ++i) {
                pier.tick();
                if (const auto mine = pier.client->digest_at(pier.server.now())) {
                    REQUIRE(*mine == pier.digests[pier.server.now().value]);
                }
            }
        }
        CHECK(pier.truth.once == 10);
        CHECK(pier.shown.once == 10);
        CHECK(pier.client->statistics().corrections == 0);
        CHECK(pier.client->statistics().replayed == replayed);
    }
}

TEST_CASE(
    "What is told too late for its tick is played again from there, before the server could correct it") {
    for (const double delay : {0.05, 0.1}) {
        CAPTURE(delay);
        Pier pier(delay);
        for (int i = 0; i < 300; ++i) {
            pier.tick();
        }
        for (int wave = 0; wave < 10; ++wave) {
            pier.foretell(5, 3.0 + wave);
            for (int i = 0; i < 40; ++i) {
                pier.tick();
            }
            REQUIRE(pier.client->digest_at(pier.server.now()) == pier.digests[pier.server.now().value]);
        }
        CHECK(pier.truth.once == 10);
        CHECK(pier.shown.once == 0);
        CHECK(pier.shown.again >= 10);
        CHECK(pier.client->statistics().corrections == 0);
        CHECK(pier.client->statistics().deepest >= static_cast<int>(delay * 60.0));
    }
}

TEST_CASE("With losses a foretold push is rarely late, and always right in the end") {
    Pier pier(0.05, 0.05);
    for (int i = 0; i < 300; ++i) {
        pier.tick();
    }
    const std::uint64_t before = pier.client->statistics().corrections;
    for (int wave = 0; wave < 40; ++wave) {
        pier.foretell(18, 3.0);
        for (int i = 0; i < 60; ++i) {
            pier.tick();
        }
    }
    for (int i = 0; i < 60; ++i) {
        pier.tick();
    }
    CHECK(pier.truth.once == 40);
    CHECK(pier.shown.waves.size() == 40);
    CHECK(pier.shown.once >= 36);
    CHECK(pier.client->statistics().corrections - before <= 2);
}

TEST_CASE("To play again what is to come, what is long past, or what nobody owns does nothing") {
    Pier pier(0.0);
    pier.client->play_again(Tick{0}, pier.shown);
    for (int i = 0; i < 400; ++i) {
        pier.tick();
    }
    const std::uint64_t replayed = pier.client->statistics().replayed;
    const auto digest = pier.client->digest_at(pier.client->now());
    pier.client->play_again(pier.client->now() + 1, pier.shown);
    pier.client->play_again(pier.client->now() + 100, pier.shown);
    pier.client->play_again(pier.client->now() - 300, pier.shown);
    CHECK(pier.client->statistics().replayed == replayed);
    pier.client->play_again(pier.client->now() - 100, pier.shown);
    CHECK(pier.client->statistics().replayed == replayed + 101);
    CHECK(pier.client->digest_at(pier.client->now()) == digest);
    pier.server.despawn(*pier.runner);
    pier.runner.reset();
    for (int i = 0; i < 10; ++i) {
        pier.tick();
    }
    pier.client->play_again(pier.client->now() - 10, pier.shown);
    CHECK(pier.client->statistics().replayed == replayed + 101);
}

TEST_CASE("A short message comes although the packet that told it first is lost") {
    Table table;
    link::Client& client = table.sit(1);
    table.ticks(60);
    const std::byte word[] = {std::byte{7}, std::byte{8}};
    int late = 0;
    for (int i = 0; i < 20; ++i) {
        REQUIRE(table.server.send_message(client.seat(), word));
        // The next snapshot is lost, the one after it is not.
        int ticks = 0;
        for (bool come = false; !come && ticks < 30; ++ticks) {
            table.cut_down = ticks < 3;
            table.tick();
            come = client.next_message().has_value();
        }
        late = std::max(late, ticks);
    }
    CHECK(late <= 7);
}
