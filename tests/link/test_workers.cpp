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
/// so packets are full and bases differ; as one number.
std::uint64_t game(std::size_t players, link::Workers* workers, bool interested) {
    link::ServerConfig config = Table::usual_config();
    config.seats = config.runners = players;
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
        mine.runners = players;
        table.sit(mine, {table.chart});
        hands.emplace_back(table.chart, i + 1);
    }
    std::uint64_t sum = 0;
    std::vector<std::vector<Change>> changes(players);
    for (int tick = 0; tick < 180; ++tick) {
        for (std::size_t i = 0; i < players; ++i) {
            const Intent intent = hands[i].next(Seconds{table.dt});
            changes[i].assign(intent.changes.begin(), intent.changes.end());
            table.intents[i] = intent;
            table.intents[i].changes = changes[i];
        }
        table.cut_down = random.chance(0.1);
        table.cut_up = random.chance(0.1);
        table.sent_down.clear();
        table.tick();
        for (const auto& bytes : table.sent_down) {
            if (static_cast<link::wire::Kind>(bytes[0]) ==
                link::wire::Kind::snapshot) {  // greetings have random tokens
                sum = link::wire::digest_of(bytes, sum);
            }
        }
    }
    return sum;
}

}  // namespace

TEST_CASE("However many write the snapshots, in whatever order, the packets are the same to the bit",
          "[long]") {
    for (const bool interested : {false, true}) {
        CAPTURE(interested);
        const std::uint64_t alone = game(24, nullptr, interested);
        CHECK(game(24, nullptr, interested) == alone);
        Backwards backwards(7);
        CHECK(game(24, &backwards, interested) == alone);
        CHECK(backwards.runs > 40);
        support::Share share;
        for (const std::size_t count : std::vector<std::size_t>{3, 1, 2}) {
            if (!share.takes()) {
                continue;
            }
            link::ThreadWorkers threads(count);
            CHECK(threads.count() == count);
            CHECK(game(24, &threads, interested) == alone);
        }
    }
    // More workers than clients.
    Backwards many(100);
    CHECK(game(3, &many, false) == game(3, nullptr, false));
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
