#include <catch2/catch.hpp>
#include <cursimeter/link/peer_game.hpp>

#include "link/peers/ring.hpp"
#include "support/share.hpp"

/// Two to four players without a server: what they come to together.
using namespace support;
using link::PeerPhase;

namespace {

bool same(const link::RemoteEvent& a, const link::RemoteEvent& b) {
    return a.runner == b.runner && a.at == b.at && a.kind == b.kind && a.subject == b.subject &&
           a.value == b.value;
}

}  // namespace

TEST_CASE("Peers come to the same to the bit, whatever the network does, for two to four, at any rate") {
    const Faults networks[] = {{0.0}, {0.02}, {0.06, 0.02, 0.05, 0.02, 0.01}, {0.1, 0.03, 0.2, 0.05, 0.02}};
    support::Share share;
    for (const Faults& faults : networks) {
        for (const std::size_t players : std::vector<std::size_t>{2, 3, 4}) {
            for (const double rate : {20.0, 60.0, 144.0}) {
                if (!share.takes()) {
                    continue;
                }
                CAPTURE(faults.delay, faults.loss, players, rate);
                Ring ring(players, faults, rate);
                ring.run(12.0);
                ring.check_same();
                for (const Ring::End& end : ring.ends) {
                    CHECK(end.game->phase() == PeerPhase::playing);
                    const auto& figures = end.game->statistics();
                    CHECK(figures.compared >= 9 * (players - 1));
                    CHECK(figures.damaged + figures.malformed + figures.events_lost == 0);
                    CHECK(static_cast<double>(end.confirmed.size()) > 10.0 * rate);
                    // Each event once, the same for all, in order.
                    const std::size_t count = std::min(end.shown.size(), ring.ends.front().shown.size());
                    REQUIRE(count > 20);
                    for (std::size_t i = 0; i < count; ++i) {
                        REQUIRE(same(end.shown[i], ring.ends.front().shown[i]));
                    }
                }
            }
        }
    }
}

TEST_CASE("Without delay nothing is predicted wrongly but within the loop, and little is ever played again") {
    Ring near(2, {0.005});
    near.run(20.0);
    CHECK(near.ends[0].game->statistics().waits == 0);
    // The way takes less than the delay of the own input.
    CHECK(near.ends[0].game->statistics().replayed < 20);
    Ring far(2, {0.075});
    far.run(20.0);
    const auto& figures = far.ends[0].game->statistics();
    CHECK(figures.waits < 30);
    CHECK(figures.deepest <= 12);
    CHECK(figures.round_trip.value == Approx(0.15).margin(0.05));
}

TEST_CASE(
    "What was taken for granted and came so is not played again, and looks are taken to go on turning") {
    Ring ring(2, {0.075});
    ring.run(3.0);
    ring.hushed = true;
    ring.run(1.0);
    const std::uint64_t before = ring.ends[0].game->statistics().rollbacks;
    ring.run(5.0);
    CHECK(ring.ends[0].game->statistics().rollbacks == before);

    // A steady turn of 120 degrees a second, seen from the other end, 75 ms away.
    PeerGameConfig config;
    config.session = 5;
    config.input_delay = Seconds{0.0};
    config.players = {{0, {}}, {0, {{2.0, 0.0, 0.0}, 0.0}}};
    PeerGame turning({bearer_chart()}, config);
    config.own = 1;
    PeerGame watching({bearer_chart()}, config);
    link::OpenGround ground;
    std::vector<std::pair<int, std::vector<std::byte>>> flying[2];
    double worst = 0.0;
    for (int i = 0; i < 600; ++i) {
        for (PeerGame* game : {&turning, &watching}) {
            game->tell_time(Seconds{i / 60.0});
            auto& inbox = flying[game == &turning ? 1 : 0];
            for (auto packet = inbox.begin(); packet != inbox.end();) {
                if (packet->first <= i) {
                    game->receive(packet->second, ground);
                    packet = inbox.erase(packet);
                } else {
                    ++packet;
                }
            }
            while (game->due()) {
                Intent intent;
                intent.look.yaw = game == &turning ? 2.0 / 60.0 * (game->now().value + 1) : 0.0;
                game->tick(intent, ground);
            }
            while (const auto packet = game->next_packet()) {
                flying[game == &turning ? 0 : 1].emplace_back(
                    i + 5, std::vector<std::byte>(packet->bytes.begin(), packet->bytes.end()));
            }
        }
        if (i > 120) {
            const double truth = 2.0 / 60.0 * watching.now().value;
            worst = std::max(worst,
                             std::fabs(std::remainder(watching.runner(0).yaw() - truth, 6.283185307179586)));
        }
    }
    CHECK(worst < 0.01);  // ten ticks of it are 0.33
}

TEST_CASE("Whoever is ahead goes slower until all are at the same tick, by clocks that run wrong") {
    for (const double drift : {0.0, 0.01, -0.01}) {
        CAPTURE(drift);
        Ring ring(2, {0.05});
        ring.ends[1].drift = drift;
        ring.ends[1].wakes_at = 0.7;  // it comes later, and begins when all are there
        ring.run(20.0);
        ring.check_same();
        CHECK(std::abs(ring.ends[0].game->now() - ring.ends[1].game->now()) <= 2);
        CHECK(ring.ends[0].game->statistics().ahead < 1.5);
        CHECK(ring.ends[1].game->statistics().ahead < 1.5);
    }
}

TEST_CASE("A program that stands still is waited for, and all go on as if nothing had been") {
    for (const double stall : {0.1, 0.3, 1.0, 2.5}) {
        CAPTURE(stall);
        Ring ring(3, {0.04, 0.01, 0.05});
        ring.run(5.0);
        ring.ends[1].stands_until = ring.time + stall;
        ring.run(5.0 + stall);
        ring.check_same();
        for (const Ring::End& end : ring.ends) {
            CHECK(end.game->phase() == PeerPhase::playing);
            CHECK(end.events.size() == 1);
            CHECK(end.confirmed.size() > 520);
        }
        CHECK(ring.ends[0].game->statistics().waits < 12);
    }
}

TEST_CASE("Whoever leaves, or falls silent, is gone for all at the same tick, and the others go on") {
    for (const bool says_so : {true, false}) {
        for (const double loss : {0.0, 0.3}) {
            CAPTURE(says_so, loss);
            Ring ring(4, {0.05, 0.02, loss});
            ring.run(6.0);
            if (says_so) {
                ring.ends[2].game->leave();
            } else {
                ring.ends[2].runs = false;
                ring.ends[2].to[0].be_silent_until(
                    1e9);  // its last packets reach one of them more than another
            }
            ring.run(says_so ? 1.0 : 4.0);
            for (const std::size_t i : std::vector<std::size_t>{0, 1, 3}) {
                CHECK(ring.ends[i].game->is_gone(2));  // who says so is gone within a second
            }
            ring.run(says_so ? 7.0 : 4.0);
            ring.ends[2].confirmed.clear();
            ring.check_same();
            std::optional<std::uint32_t> last;
            for (const std::size_t i : std::vector<std::size_t>{0, 1, 3}) {
                const Ring::End& end = ring.ends[i];
                CHECK(end.game->phase() == PeerPhase::playing);
                CHECK(end.game->is_gone(2));
                REQUIRE(end.events.size() == 2);
                CHECK(end.events[1].kind == link::PeerEventKind::gone);
                CHECK(end.events[1].player == 2);
                last = last.value_or(end.events[1].tick.value);
                CHECK(end.events[1].tick.value == *last);
                CHECK(end.confirmed.size() > 9 * 60);
                CHECK(end.game->statistics().compared >= 24);
            }
            // The next one, and the last alone.
            ring.ends[0].runs = false;
            ring.ends[1].runs = false;
            ring.run(5.0);
            CHECK(ring.ends[3].game->phase() == PeerPhase::playing);
            CHECK(ring.ends[3].events.size() == 4);
            const Tick before = ring.ends[3].game->now();
            ring.run(2.0);
            CHECK(ring.ends[3].game->now() - before >= 115);
        }
    }
}

TEST_CASE("Ends that come apart say when, whose runner and which field, and play no further") {
    Ring ring(3, {0.04, 0.01, 0.05});
    ring.ends[1].world.broken_at = 200;
    ring.run(12.0);
    for (const std::size_t i : std::vector<std::size_t>{0, 1, 2}) {
        CAPTURE(i);
        const Ring::End& end = ring.ends[i];
        REQUIRE(end.game->phase() == PeerPhase::split);
        REQUIRE(end.game->split());
        const link::PeerSplit& split = *end.game->split();
        CHECK(split.tick.value == 240);
        CHECK(split.player == 0);
        CHECK((i == 1 ? split.with != 1 : split.with == 1));
        CHECK_FALSE(split.field.empty());
        CHECK(split.own != split.other);
        CHECK(end.events.back().kind == link::PeerEventKind::split);
        CHECK(end.game->now().value < 400);
        CHECK_FALSE(end.game->due());
    }
}

TEST_CASE("Players of two charts, and a world that moves, come to the same") {
    PeerGameConfig config;
    config.session = 8;
    config.players = {
        {1, {{-2.0, 0.0, 0.0}, 0.0}}, {0, {{0.0, 1.0, 0.0}, 0.2}}, {1, {{1.0, -1.0, 0.0}, 0.0}}};
    const std::vector<Chart> charts{bearer_chart(), load_chart(demo("charts/eel.toml")).chart};
    const Course relay = load_course(demo("courses/relay.toml"));
    struct End {
        std::unique_ptr<PeerGame> game;
        std::unique_ptr<rehearsal::OnCourse> world;
        std::unique_ptr<rehearsal::HumanHands> hands;
    };
    std::vector<End> ends;
    for (std::size_t i = 0; i < 3; ++i) {
        config.own = i;
        ends.push_back({std::make_unique<PeerGame>(charts, config),
                        std::make_unique<rehearsal::OnCourse>(relay, charts, 60.0),
                        std::make_unique<rehearsal::HumanHands>(charts[config.players[i].chart], i + 1)});
    }
    std::vector<std::tuple<int, std::size_t, std::vector<std::byte>>> flying;
    for (int tick = 0; tick < 900; ++tick) {
        for (std::size_t i = 0; i < 3; ++i) {
            PeerGame& game = *ends[i].game;
            game.tell_time(Seconds{tick / 60.0});
            for (auto packet = flying.begin(); packet != flying.end();) {
                if (std::get<1>(*packet) == i && std::get<0>(*packet) <= tick) {
                    game.receive(std::get<2>(*packet), *ends[i].world);
                    packet = flying.erase(packet);
                } else {
                    ++packet;
                }
            }
            while (game.due()) {
                game.tick(ends[i].hands->next(Seconds{1.0 / 60.0}), *ends[i].world);
            }
            while (const auto packet = game.next_packet()) {
                flying.emplace_back(tick + 4, packet->player,
                                    std::vector<std::byte>(packet->bytes.begin(), packet->bytes.end()));
            }
        }
    }
    const Tick tick{
        std::min({ends[0].game->confirmed(), ends[1].game->confirmed(), ends[2].game->confirmed()})};
    CHECK(tick.value > 850);
    for (const End& end : ends) {
        CHECK(end.game->phase() == PeerPhase::playing);
        CHECK(end.game->digest_at(tick) == ends[0].game->digest_at(tick));
        CHECK(end.game->chart(0).name() == "eel");
        CHECK(end.game->chart(1).name() == "bearer");
        CHECK(end.game->statistics().compared >= 26);
    }
}
