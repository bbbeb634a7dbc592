#include <catch2/catch.hpp>
#include <cursimeter/advance.hpp>
#include <glm/geometric.hpp>
#include <random>

#include "core/chart/chart_data.hpp"
#include "link/client/continuation.hpp"
#include "link/scene.hpp"
#include "support/random_chart.hpp"
#include "support/restless_hands.hpp"

/// How others are carried on from a replica, frame by frame.
using namespace support;
using namespace cursimeter::link;

namespace {

constexpr SnapshotInterval third_tick{1.0 / 60.0, 3};

/// What others are told of a run, once a snapshot.
std::vector<Replica> told_run(const Cast& cast, unsigned seed, std::size_t snapshots) {
    Runner runner = spawn(cast.chart);
    RestlessHands hands(cast.chart, seed);
    std::vector<Replica> told;
    for (std::size_t i = 0; i < snapshots; ++i) {
        for (std::uint32_t tick = 0; tick < third_tick.every; ++tick) {
            static_cast<void>(advance(cast.chart, runner, hands.next(third_tick.tick_seconds),
                                      Seconds{third_tick.tick_seconds}));
        }
        told.push_back(rounded(observe(cast, runner, 0.0, 0)));
    }
    return told;
}

/// The runner that it is taken to, with all that the replica knows.
Runner taken(Continuation& continuation, const Cast& cast, double ticks) {
    const Carried carried = continuation.take_to(cast, ticks);
    Runner runner = continuation.by_chart();
    detail::RunnerAccess::state(runner).position = carried.position;
    detail::RunnerAccess::state(runner).velocity = carried.velocity;
    return runner;
}

/// Asks one continuation for later and later times, and for each of them a new one as well.
void follow(const Cast& cast, const std::vector<Replica>& told, std::mt19937& random) {
    const auto between = [&](double low, double high) {
        return std::uniform_real_distribution<double>(low, high)(random);
    };
    Continuation continuation;
    for (std::uint32_t number = 0; number + 4 < told.size(); ++number) {
        const std::uint32_t later = number + 1 + static_cast<std::uint32_t>(random() % 4);
        const double whole = (later - number) * third_tick.every;
        std::optional<Wishes> wishes;
        if (!same_wishes(told[number], told[later])) {
            wishes = Wishes{told[later], std::nullopt};
            wishes->replica.changed =
                number * third_tick.fine() +
                static_cast<std::uint32_t>(random() % ((later - number) * third_tick.fine()));
            wishes->replica.turned =
                number * third_tick.fine() + static_cast<std::uint32_t>(random() % third_tick.fine());
            if (random() % 2 == 0) {
                wishes->pressed = between(0.0, whole);
            }
        }
        continuation.begin(third_tick, number, told[number], wishes);
        const double frame = random() % 3 == 0 ? 0.5 : between(0.05, 1.5);
        for (double ticks = random() % 2 == 0 ? 0.0 : between(0.0, frame); ticks <= whole; ticks += frame) {
            Continuation anew;
            anew.begin(third_tick, number, told[number], wishes);
            const Runner gone_on = taken(continuation, cast, ticks), at_once = taken(anew, cast, ticks);
            CAPTURE(number, later, ticks, frame, wishes.has_value());
            CHECK(glm::distance(gone_on.position(), at_once.position()) < 1e-6);
            CHECK(glm::distance(gone_on.velocity(), at_once.velocity()) < 1e-5);
            CHECK(gone_on.state() == at_once.state());
        }
    }
}

}  // namespace

TEST_CASE("Both ends expect of an even turn, and of a key, what comes of it") {
    const Cast cast(bearer_chart());
    const double dt = third_tick.tick_seconds;
    constexpr std::uint32_t base_at = 16, now_at = 20;
    for (const std::uint32_t still : {0U, 5U, 9U}) {
        CAPTURE(still);
        Runner runner = spawn(cast.chart);
        Replica base;
        Intent hands;
        hands.move = {1.0, 0.0};
        const ActionId sprint = cast.chart.action("sprint");
        const Change press = Change::press(sprint, 0.25 * dt);
        for (std::uint32_t tick = 1; tick <= now_at * third_tick.every; ++tick) {
            hands.look.yaw += tick > base_at * third_tick.every + still ? 0.03 : 0.0;  // 103 degrees a second
            hands.changes = {};
            if (tick == base_at * third_tick.every + 7) {
                hands.changes = {&press, 1};
            }
            static_cast<void>(advance(cast.chart, runner, hands, Seconds{dt}));
            if (tick > base_at * third_tick.every + 6) {
                hands.held = key_bit(sprint);
            }
            if (tick == base_at * third_tick.every) {
                base = rounded(observe(cast, runner, 0.0, 0));
            }
        }
        Replica told = observe(cast, runner, 0.0, 0);
        told.turned = base_at * third_tick.fine() + still * fine_per_tick;
        told.changed = base_at * third_tick.fine() + 6 * fine_per_tick + 4;
        const auto off = [&] {
            const Replica expected = predict_to(cast, third_tick, base, base_at, now_at, &told);
            CHECK(same_wishes(expected, told));
            CHECK(expected.state == told.state);
            return glm::distance(position_of(expected), runner.position());
        };
        CHECK(off() < 0.02);
        told.changed += 3 * fine_per_tick;
        CHECK(off() > 0.02);  // sprinting came later
        told.changed -= 3 * fine_per_tick;
        if (still == 0) {
            told.turned = now_at * third_tick.fine() - fine_per_tick;
            CHECK(off() > 0.06);  // it looked there in the last tick only
        }
    }
}

TEST_CASE("Another runner is carried on to the same places at any frames") {
    std::mt19937 random(7);
    const Cast bearer(bearer_chart());
    follow(bearer, told_run(bearer, 1, 200), random);
    for (unsigned seed = 1; seed <= 40; ++seed) {
        CAPTURE(seed);
        RandomChart charts(seed);
        const Cast cast(compile(charts.chart()));
        follow(cast, told_run(cast, seed, 40), random);
    }
}

TEST_CASE("What is carried on and asked for an earlier time begins again, as for a new replica or wish") {
    const Cast cast(bearer_chart());
    Replica replica = rounded(observe(cast, spawn(cast.chart), 0.0, 0));
    replica.forward = 127;
    Continuation continuation;
    Runner runner, first;
    continuation.begin(third_tick, 5, replica, std::nullopt);
    first = taken(continuation, cast, 1.0);
    REQUIRE(first.position().x > 1e-3);
    runner = taken(continuation, cast, 3.0);
    CHECK(runner.position().x > first.position().x);
    continuation.begin(third_tick, 5, replica, std::nullopt);
    runner = taken(continuation, cast, 1.0);
    CHECK(digest(runner) == digest(first));

    Replica moved = replica;
    moved.position[0] += 1600;  // a metre
    continuation.begin(third_tick, 5, moved, std::nullopt);
    runner = taken(continuation, cast, 1.0);
    CHECK(runner.position().x == Approx(first.position().x + 1.0).margin(1e-9));

    // It stops after two ticks, and from then on only coasts.
    Wishes stop{replica, std::nullopt};
    stop.replica.forward = 0;
    stop.replica.changed = 5 * third_tick.fine() + 2 * fine_per_tick;
    continuation.begin(third_tick, 5, replica, stop);
    runner = taken(continuation, cast, 2.0);
    const double fast = runner.velocity().x;
    runner = taken(continuation, cast, 3.0);
    CHECK(runner.velocity().x < fast);

    // A wall beside it and a wind: the way into the one is left out, and that of the other added, from the replica on.
    Replica leaning = replica;
    leaning.barrier = 128;  // it faces -x, against its way
    leaning.drift = {0, static_cast<std::int32_t>(1.0 / replica_speed), 0};
    continuation.begin(third_tick, 6, leaning, std::nullopt);
    for (const double ticks : {1.0, 2.5, 6.0, 15.0}) {
        runner = taken(continuation, cast, ticks);
        CHECK(std::fabs(runner.position().x) < 0.02);
        CHECK(runner.position().y == Approx(ticks / 60.0).margin(0.02));
    }
}
