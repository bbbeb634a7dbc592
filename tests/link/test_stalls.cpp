#include <catch2/catch.hpp>

#include "link/scene.hpp"
#include "support/share.hpp"

/// Programs that stand still, clocks that run wrong, loops of any pace: with a hand at the mouse in every tick, so that
/// each intent that is lost is a correction.
using namespace support;

namespace {

rehearsal::Scene human_scene() {
    rehearsal::Scene scene = quay_scene();
    scene.human_hands = true;
    return scene;
}

rehearsal::Plan even_plan(double rate, double round_trip) {
    rehearsal::Plan plan;
    plan.clients = 2;
    plan.server.tick_rate = rate;
    plan.server.snapshot_every = static_cast<std::uint32_t>(std::max(1.0, rate / 20.0));
    plan.server.seats = 2;
    plan.up.delay = plan.down.delay = Seconds{round_trip / 2.0};
    return plan;
}

struct Count {
    std::uint64_t corrections = 0, missing = 0;
};
Count count(rehearsal::Rehearsal& game, std::size_t client = 0) {
    return {game.client(client).statistics().corrections,
            game.server().read_seat(game.client(client).seat()).missing};
}
double lead_of(rehearsal::Rehearsal& game, std::size_t client, double rate) {
    return static_cast<double>(game.client(client).now() - game.server().now()) / rate;
}

}  // namespace

TEST_CASE(
    "After a program has stood still, whatever its loop, inputs count again at once and little is "
    "corrected",
    "[long]") {
    support::Share share;
    for (const double rate : {10.0, 30.0, 60.0, 128.0}) {
        for (const double frames : {0.0, 57.0, 144.0}) {
            for (const int most : {0, 4}) {
                for (const double stall : {0.1, 0.3, 0.7, 2.0, 2.2, 3.0}) {
                    if (!share.takes()) {
                        continue;
                    }
                    if (most != 0 && frames * most < 1.5 * rate) {
                        continue;  // cannot even play in time
                    }
                    CAPTURE(rate, frames, most, stall);
                    rehearsal::Plan plan = even_plan(rate, 0.1);
                    plan.frame_rate = frames;
                    plan.most_ticks_a_frame = most;
                    rehearsal::Rehearsal game(human_scene(), plan);
                    game.run_until(6.0);
                    const Count before = count(game);
                    const double lead = lead_of(game, 0, rate);
                    game.stall(0, Seconds{stall});
                    game.run_until(6.0 + stall + 0.4);  // a round trip and 0.3 s
                    const Count then = count(game);
                    CHECK(then.corrections - before.corrections <= 3);
                    game.run_until(12.0 + stall);
                    const Count after = count(game);
                    CHECK(after.missing == then.missing);
                    CHECK(after.corrections - before.corrections <= 3);
                    CHECK(lead_of(game, 0, rate) <= lead + 0.05 + 1.0 / rate);
                    CHECK(count(game, 1).corrections == 0);
                }
            }
        }
    }
}

TEST_CASE("A stall longer than can be played again, or than what is kept, is made good as well") {
    for (const double stall : {4.5, 12.0}) {
        CAPTURE(stall);
        rehearsal::Plan plan = even_plan(240.0, 0.1);
        plan.server.silence = plan.client.silence = Seconds{30.0};
        rehearsal::Rehearsal game(human_scene(), plan);
        game.run_until(4.0);
        const Count before = count(game);
        game.stall(0, Seconds{stall});
        game.run_until(4.4 + stall);
        const Count then = count(game);
        game.run_until(8.0 + stall);
        CHECK(count(game).missing == then.missing);
        CHECK(count(game).corrections - before.corrections <= 3);
        CHECK(game.client(0).own_key().has_value());
    }
}

TEST_CASE("A server that stands still is caught up with, or waited for") {
    for (const double rate : {10.0, 60.0, 128.0}) {
        for (const double stall : {0.3, 0.9, 3.0}) {
            CAPTURE(rate, stall);
            rehearsal::Plan plan = even_plan(rate, 0.1);
            rehearsal::Rehearsal game(human_scene(), plan);
            game.run_until(6.0);
            const double lead = lead_of(game, 0, rate);
            game.stall_server(Seconds{stall});
            // It catches up a second at most: the rest is time that has not been, and the clients wait for as long.
            game.run_until(7.5 + stall + std::max(0.0, stall - 1.0));
            const Count then = count(game);
            game.run_until(16.0 + stall);
            CHECK(count(game).missing == then.missing);
            CHECK(lead_of(game, 0, rate) <= lead + 0.1 + 1.0 / rate);
        }
    }
}

TEST_CASE("A clock that runs wrong by a hundredth, or a loop at another pace, keeps its inputs in time",
          "[long]") {
    support::Share share;
    for (const double drift : {-0.01, -0.0002, 0.0002, 0.01}) {
        for (const double frames : {0.0, 60.0}) {
            if (!share.takes()) {
                continue;
            }
            CAPTURE(drift, frames);
            rehearsal::Plan plan = even_plan(60.0, 0.1);
            plan.clock_drift = drift;
            plan.frame_rate = frames;
            rehearsal::Rehearsal game(human_scene(), plan);
            game.run_until(8.0);
            const Count before = count(game);
            game.run_until(60.0);
            CHECK(count(game).missing == before.missing);
            CHECK(count(game).corrections <= 3);
        }
    }
    // One tick a turn of a loop that is a hundredth too slow, or too quick: it plays what is due, and goes over the rest.
    for (const double frames : {59.4, 60.6}) {
        CAPTURE(frames);
        rehearsal::Plan plan = even_plan(60.0, 0.1);
        plan.frame_rate = frames;
        plan.most_ticks_a_frame = 1;
        rehearsal::Rehearsal game(human_scene(), plan);
        game.run_until(60.0);
        CHECK(count(game).corrections <= 3);
        CHECK(lead_of(game, 0, 60.0) < 0.25);
    }
}

TEST_CASE("Joining costs no correction at any distance", "[long]") {
    for (const double rate : {10.0, 30.0, 60.0, 128.0}) {
        for (const double round_trip : {0.0, 0.02, 0.1, 0.24, 0.3, 0.5}) {
            for (const double frames : {0.0, 60.0}) {
                CAPTURE(rate, round_trip, frames);
                rehearsal::Plan plan = even_plan(rate, round_trip);
                plan.frame_rate = frames;
                rehearsal::Rehearsal game(human_scene(), plan);
                game.run_until(6.0);
                for (std::size_t i = 0; i < 2; ++i) {
                    CHECK(game.client(i).own_key().has_value());
                    CHECK(count(game, i).corrections == 0);
                    CHECK(count(game, i).missing == 0);
                }
            }
        }
    }
}

TEST_CASE("Without jitter intents wait at the server for a tick and 30 ms at most", "[long]") {
    for (const double rate : {10.0, 20.0, 30.0, 60.0, 128.0}) {
        for (const double round_trip : {0.02, 0.15}) {
            CAPTURE(rate, round_trip);
            rehearsal::Rehearsal game(human_scene(), even_plan(rate, round_trip));
            game.run_until(15.0);
            double most = 0.0;
            for (double at = 15.0; at < 25.0; at += 0.0917) {
                game.run_until(at);
                // Tick n is played there at (n - 1) tick lengths.
                const double played = (game.client(0).now().value - 1.0) / rate;
                most = std::max(most, played - at - round_trip / 2.0);
            }
            CHECK(most <= 0.03 + 1.0 / rate);
            CHECK(count(game).missing == 0);
        }
    }
}

TEST_CASE("Bursts of loss that have been seen cost next to no correction any more", "[long]") {
    rehearsal::Plan plan = even_plan(60.0, 0.15);
    plan.frame_rate = 144.0;
    plan.up.loss = plan.down.loss = 0.05;
    plan.up.burst = plan.down.burst = Seconds{0.2};
    rehearsal::Rehearsal game(human_scene(), plan);
    game.run_until(20.0);
    const Count first = count(game, 0), second = count(game, 1);
    game.run_until(140.0);
    // It was 2.75 for each client and minute, so 11 for these two.
    CHECK(count(game, 0).corrections - first.corrections + count(game, 1).corrections - second.corrections <=
          1);
    const rehearsal::Result result = game.finish();
    for (const rehearsal::ClientResult& client : result.clients) {
        CHECK(client.remote_jump_max <= 0.5);
        CHECK(client.input_delay <= 0.45);
    }
}

TEST_CASE("Of ticks that a client has not come to yet it does not claim to know the server's state") {
    Table table;
    link::Client& client = table.sit(1);
    table.ticks(90);
    REQUIRE(client.acknowledged());
    const link::Tick before = *client.acknowledged(), now = client.now();
    // The program stands still for half a second, and the server pushes its runner meanwhile.
    Push push;
    push.direction = {0.0, 1.0, 0.0};
    push.strength = 3.0;
    push.seconds = 0.1;
    cursimeter::push(table.server.runner(table.keys[1]), push);
    for (int i = 0; i < 30; ++i) {
        table.time += table.dt;
        table.server.tell_time(Seconds{table.time});
        table.server.tick(table.ground);
        while (const auto packet = table.server.next_packet()) {
            client.receive(packet->bytes, table.ground);
            REQUIRE(*client.acknowledged() <= now);
        }
    }
    CHECK(*client.acknowledged() >= before);
    table.ticks(20);
    CHECK(*client.acknowledged() > now);
    CHECK(client.statistics().corrections >= 1);
}
