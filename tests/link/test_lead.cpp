#include <catch2/catch.hpp>

#include "link/client/lead.hpp"
#include "link/client/shown_time.hpp"
#include "link/scene.hpp"

using namespace support;

namespace {

/// A client's lead and a server that hears of a tick `way` seconds after it was played, at a tick rate.
struct Ride {
    explicit Ride(double rate) : dt(1.0 / rate), lead(0.01, dt) { lead.start(0, 0.0); }
    /// Lets the time pass in steps of 5 ms.
    void run(double seconds) {
        const double end = now + seconds;
        for (; now < end; before = now, now += 0.005) {
            while (now >= lead.due_at()) {
                skipped += lead.skip(now, now - before > 0.1);
                tick += skipped - noted;
                noted = skipped;
                lead.play();
                // Tick n is due at the server at n tick lengths less what it is behind.
                margin = std::min(margin, (tick * dt + behind - now - way) / dt);
                slowest = std::max(slowest, lead.pace());
                ++tick;
            }
            if (now >= next_news && margin < 1e9) {
                next_news += 0.05;
                lead.observe(margin, tick - 1, now);
                margin = 1e9;
            }
        }
    }
    [[nodiscard]] double in_hand() const {
        return lead.due_at() > 0.0 ? tick * dt + behind - lead.due_at() - way : 0.0;
    }

    double dt;
    link::Lead lead;
    double now = 0.0, before = 0.0, next_news = 0.0, way = 0.05, behind = 0.2, margin = 1e9, slowest = 0.0;
    std::uint32_t tick = 0, skipped = 0, noted = 0;
};

}  // namespace

TEST_CASE(
    "The lead is what the way takes, a tick and 10 to 20 ms, at every tick rate, from above and from below") {
    for (const double rate : {10.0, 20.0, 30.0, 60.0, 128.0}) {
        for (const double behind : {0.0, 0.04, 0.3, 1.5}) {
            CAPTURE(rate, behind);
            Ride ride(rate);
            ride.behind = behind;
            ride.run(60.0);
            CHECK(ride.in_hand() >= 0.009 + ride.dt);
            CHECK(ride.in_hand() <= 0.025 + ride.dt);
            ride.way += 0.1;
            ride.run(10.0);
            CHECK(ride.in_hand() >= 0.009 + ride.dt);
        }
    }
}

TEST_CASE(
    "A lead that is too large is given up so slowly that nobody sees it, one that is far too small at once") {
    Ride ride(60.0);
    ride.behind = 0.35;
    ride.run(2.9);
    CHECK(ride.slowest <= 1.0);  // not before it knows the network
    ride.run(30.0);
    CHECK(ride.slowest <= 1.06);
    CHECK(ride.skipped == 0);
    ride.way += 0.3;
    ride.run(0.5);
    CHECK(ride.skipped >= 17);
    CHECK(ride.skipped <= 25);
    CHECK(ride.in_hand() >= 0.0);
}

TEST_CASE("A server that has left time out is waited for, not fled from") {
    Ride ride(128.0);
    ride.run(20.0);
    ride.behind += 3.0;
    ride.run(4.0);
    CHECK(ride.in_hand() >= 0.01);
    CHECK(ride.in_hand() <= 0.15);  // the rest is given up slowly
    CHECK(ride.skipped == 0);
}

TEST_CASE("After a standstill the ticks that come too late are gone over, and nothing is learnt from it") {
    for (const double stall : {0.05, 0.2, 0.7, 3.0, 100.0}) {
        CAPTURE(stall);
        Ride ride(60.0);
        ride.run(20.0);
        const double before = ride.in_hand();
        ride.now += stall;
        ride.margin = 1e9;
        ride.run(0.3);
        CHECK(ride.skipped + 3 >= static_cast<std::uint32_t>(std::max(0.0, (stall - before) * 60.0)));
        CHECK(ride.skipped <= static_cast<std::uint32_t>(stall * 60.0));
        CHECK(ride.in_hand() >= 0.0);
        if (stall >= 0.1) {
            ride.run(1.0);
            CHECK(ride.in_hand() == Approx(before).margin(0.012));
        }
    }
}

TEST_CASE(
    "The shown time keeps behind the news, also when they come late, and jumps only when it is far off") {
    link::ShownTime time(60.0);
    time.start();
    rehearsal::Random random(4);
    double last = 0.0;
    int early = 0;
    double largest_step = 0.0, before = 0.0;
    for (int i = 1; i < 3000; ++i) {
        const double clock = i;
        if (i % 3 == 0) {
            // Ten ticks on the way, up to two more.
            const double newest = i - 10.0 - random.part() * 2.0;
            time.observe(last, newest, clock);
            last = newest;
        }
        time.go_on(clock);
        if (i > 300) {
            early += time.now() > last ? 1 : 0;
            largest_step = std::max(largest_step, time.now() - before);
        }
        before = time.now();
    }
    CHECK(early < 3000 / 20);
    CHECK(largest_step < 1.1);
    CHECK(last - time.now() < 5.0);
    for (int i = 0; i < 200; ++i) {
        time.observe(last + 500.0 + i, last + 503.0 + i, 3000.0 + i);
        time.go_on(3000.0 + i);
    }
    CHECK(time.now() > last + 500.0);
}
