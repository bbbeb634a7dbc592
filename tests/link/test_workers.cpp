#include <catch2/catch.hpp>
#include <cursimeter/link/thread_workers.hpp>
#include <cursimeter/rehearsal/human_hands.hpp>

#include "link/scene.hpp"
#include "link/wire/packet.hpp"
#include "support/counting_new.hpp"
#include "support/share.hpp"

/// A server whose snapshots several write at once.
using namespace support;

namespace {

/// Does the pieces one after the other, the last first.
class Backwards final : public link::Workers {
  public:
    explicit Backwards(std::size_t count) : count_(count) {}
    [[nodiscard]] std::size_t count() const noexcept override { return count_; }
    void run(std::size_t pieces, link::Job& job) noexcept override {
        ++runs;
        for (std::size_t i = pieces; i-- > 0;) {
            job.piece(i);
        }
    }
    int runs = 0;

  private:
    std::size_t count_;
};

struct OddOnes final : link::Interest {
    double concern(link::SeatId seat, link::RunnerKey runner) noexcept override {
        return (seat.index + runner.place) % 5 == 0 ? 0.0 : 1.0 + runner.place % 3;
    }
};

/// All snapshots that a server sends to `players` clients in a game of human hands, over a network that loses some,
/// so bases differ, with so many other runners that packets are full; as one number.
std::uint64_t game(std::size_t players, link::Workers* workers, bool interested) {
    link::ServerConfig config = Table::usual_config();
    const std::size_t others = 14 * players;
    config.seats = players;
    config.runners = players + others;
    config.budget = 700;
    Table table(config);
    OddOnes interest;
    table.server.set_interest(interested ? &interest : nullptr);
    table.server.set_workers(workers);
    std::vector<rehearsal::HumanHands> hands;
    rehearsal::Random random(5);
    for (std::size_t i = 0; i < players; ++i) {
        link::ClientConfig mine;
        mine.identity = mine.attempt = i + 1;
        mine.runners = config.runners;
        table.sit(mine, {table.chart});
        hands.emplace_back(table.chart, i + 1);
    }
    std::vector<link::RunnerKey> led;
    for (std::size_t i = 0; i < others; ++i) {
        led.push_back(*table.server.spawn(0, {{0.0, 3.0 * static_cast<double>(i), 0.0}, 0.0}));
        hands.emplace_back(table.chart, 1000 + i);
    }
    std::uint64_t sum = 0;
    std::size_t largest = 0;
    std::vector<std::vector<Change>> changes(players);
    for (int tick = 0; tick < 120; ++tick) {
        for (std::size_t i = 0; i < players; ++i) {
            const Intent intent = hands[i].next(Seconds{table.dt});
            changes[i].assign(intent.changes.begin(), intent.changes.end());
            table.intents[i] = intent;
            table.intents[i].changes = changes[i];
        }
        for (std::size_t i = 0; i < others; ++i) {
            table.server.direct(led[i], hands[players + i].next(Seconds{table.dt}));
        }
        table.cut_down = random.chance(0.1);
        table.cut_up = random.chance(0.1);
        table.sent_down.clear();
        table.tick();
        for (const auto& bytes : table.sent_down) {
            if (static_cast<link::wire::Kind>(bytes[0]) ==
                link::wire::Kind::snapshot) {  // greetings have random tokens
                sum = link::wire::digest_of(bytes, sum);
                largest = std::max(largest, bytes.size());
            }
        }
    }
    CHECK(largest <= config.budget);
    if (players > 10 && !interested) {
        CHECK(largest >= config.budget - 50);  // hardly another fits
    }
    return sum;
}

}  // namespace

TEST_CASE("However many write the snapshots, in whatever order, the packets are the same to the bit",
          "[long]") {
    for (const bool interested : {false, true}) {
        CAPTURE(interested);
        const std::uint64_t alone = game(12, nullptr, interested);
        CHECK(game(12, nullptr, interested) == alone);
        Backwards backwards(7);
        CHECK(game(12, &backwards, interested) == alone);
        CHECK(backwards.runs > 30);  // a snapshot every third tick
        support::Share share;
        for (const std::size_t count : std::vector<std::size_t>{3, 1, 2}) {
            if (!share.takes()) {
                continue;
            }
            link::ThreadWorkers threads(count);
            CHECK(threads.count() == count);
            CHECK(game(12, &threads, interested) == alone);
        }
    }
    // More workers than clients.
    Backwards many(100);
    CHECK(game(3, &many, false) == game(3, nullptr, false));
}

TEST_CASE("However many play the clients of a rehearsal, in whatever order, it is the same game") {
    rehearsal::Plan far = usual_plan(5, 8.0), near = far, none = far, stalling = far;
    far.keep_paths = true;
    far.down.loss = 0.1;
    near.up.delay = Seconds{0.004};  // less than a tick: one after the other
    near.up.jitter = Seconds{0.001};
    none.up = none.down = {};
    stalling.stall = Seconds{0.8};
    stalling.frame_rate = 90.0;
    stalling.up.reorder = stalling.down.duplicate = 0.05;
    support::Share share;
    for (const rehearsal::Plan& plan : {far, near, none, stalling}) {
        if (!share.takes()) {
            continue;
        }
        CAPTURE(plan.up.delay.value, plan.stall.value);
        const auto played = [&](link::Workers* workers) {
            rehearsal::Scene scene = hands_scene(plan.clients, plan.seconds, 3);
            scene.human_hands = true;
            rehearsal::Rehearsal game(std::move(scene), plan);
            game.set_workers(workers);
            game.run_until(plan.seconds / 2.0);
            game.leave(1);
            game.run_until(plan.seconds);
            return game.finish();
        };
        const rehearsal::Result alone = played(nullptr);
        REQUIRE(alone.clients[0].statistics.packets_in > 100);
        Backwards backwards(4);
        link::ThreadWorkers threads(3);
        for (link::Workers* workers : std::initializer_list<link::Workers*>{&backwards, &threads}) {
            const rehearsal::Result together = played(workers);
            CHECK(together.digest == alone.digest);
            CHECK(together.server.packets == alone.server.packets);
            CHECK(together.server.bytes == alone.server.bytes);
            CHECK(together.seen.size() == alone.seen.size());
            for (std::size_t i = 0; i < plan.clients; ++i) {
                const rehearsal::ClientResult &one = alone.clients[i], &other = together.clients[i];
                CHECK(other.remote_error_p99 == one.remote_error_p99);
                CHECK(other.yaw_error_p99 == one.yaw_error_p99);
                CHECK(other.events_shown == one.events_shown);
                CHECK(other.events_missing == one.events_missing);
                CHECK(other.digests_compared == one.digests_compared);
                CHECK(other.missing_after_first_second == one.missing_after_first_second);
                CHECK(other.seat.bytes_down == one.seat.bytes_down);
                CHECK(other.input_delay == one.input_delay);
            }
        }
        // Clients are handed out where a packet takes a tick at least; snapshots always are.
        const bool apart = plan.up.delay.value >= 1.0 / plan.server.tick_rate;
        CHECK(backwards.runs > (apart ? 200 : 100));
    }
}

TEST_CASE("Nothing is allocated in ticks of a server with workers") {
    Backwards workers(3);
    Table table;
    table.server.set_workers(&workers);
    for (std::uint64_t identity = 1; identity <= 4; ++identity) {
        table.sit(identity);
    }
    table.ticks(120);
    std::size_t allocated = 0;
    for (int i = 0; i < 60; ++i) {
        table.tick();
        const std::size_t before = allocations();
        table.server.tick(table.ground);
        while (table.server.next_packet()) {
        }
        allocated += allocations() - before;
    }
    CHECK(allocated == 0);
}

TEST_CASE("ThreadWorkers do every piece once, job after job, and end when they are told") {
    struct Counting final : link::Job {
        void piece(std::size_t index) noexcept override { ++done[index]; }
        std::array<std::atomic<int>, 64> done{};
    };
    for (const std::size_t count : std::vector<std::size_t>{1, 2, 5}) {
        link::ThreadWorkers threads(count);
        for (int round = 0; round < 200; ++round) {
            Counting job;
            const std::size_t pieces = static_cast<std::size_t>(round) % 64;
            threads.run(pieces, job);
            for (std::size_t i = 0; i < job.done.size(); ++i) {
                REQUIRE(job.done[i] == (i < pieces ? 1 : 0));
            }
        }
    }
    CHECK(link::ThreadWorkers().count() >= 1);
}
