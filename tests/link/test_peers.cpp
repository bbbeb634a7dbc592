#include <catch2/catch.hpp>
#include <cursimeter/effects.hpp>
#include <cursimeter/link/peer_game.hpp>
#include <cursimeter/rehearsal/human_hands.hpp>

#include "link/peers/peer_coding.hpp"
#include "link/scene.hpp"
#include "link/wire/exact_runner.hpp"
#include "link/wire/packet.hpp"
#include "support/counting_new.hpp"

/// Two to four players without a server.
using namespace support;
using link::PeerGame;
using link::PeerGameConfig;
using link::PeerPhase;
using link::Tick;

namespace {

struct Faults {
    double delay = 0.03, jitter = 0.0, loss = 0.0, reorder = 0.0, duplicate = 0.0;
    [[nodiscard]] rehearsal::LinkFaults of() const {
        rehearsal::LinkFaults faults;
        faults.delay = Seconds{delay};
        faults.jitter = Seconds{jitter};
        faults.loss = loss;
        faults.reorder = reorder;
        faults.duplicate = duplicate;
        return faults;
    }
};

/// Runners that cannot pass through one another, so that what one wants matters to all.
struct Narrow : link::Stepper {
    [[nodiscard]] bool wants_others() const noexcept override { return true; }
    Report step(const Chart& chart, Runner& runner, const Intent& intent,
                const link::StepContext& context) noexcept override {
        for (const link::Neighbour& other : context.others) {
            const glm::dvec3 off = runner.position() - other.position;
            if (off.x * off.x + off.y * off.y < 0.5) {
                push(runner, {.direction = {off.x + 0.01, off.y, 0.0}, .strength = 2.0, .seconds = 0.1});
            }
        }
        if (broken_at != 0 && context.tick.value == broken_at) {
            push(runner, {.direction = {1.0, 0.0, 0.0}, .strength = 0.5, .seconds = 0.1});
        }
        return advance(chart, runner, intent, context.dt);
    }
    std::uint32_t broken_at = 0;
};

/// Ends of a game, each with a clock and a loop of its own, in virtual time.
struct Ring {
    struct End {
        std::unique_ptr<PeerGame> game;
        Narrow world;
        std::unique_ptr<rehearsal::HumanHands> hands;
        std::vector<rehearsal::SimulatedLink> to;  ///< by player
        double wakes_at = 0.0, frame = 1.0 / 144.0, stands_until = 0.0, drift = 0.0;
        std::vector<std::vector<std::byte>> inbox;
        std::vector<link::PeerEvent> events;
        std::vector<link::RemoteEvent> shown;
        std::map<std::uint32_t, std::uint64_t> confirmed;  ///< digests of ticks that cannot change any more
        bool runs = true;
    };
    Ring(std::size_t players, const Faults& faults, double rate = 60.0, std::uint64_t seed = 1)
        : rate_(rate) {
        PeerGameConfig config;
        config.tick_rate = rate;
        config.session = 99;
        for (std::size_t i = 0; i < players; ++i) {
            config.players.push_back(
                {0, {{1.5 * static_cast<double>(i), 0.0, 0.0}, 0.3 * static_cast<double>(i)}});
        }
        for (std::size_t i = 0; i < players; ++i) {
            config.own = i;
            End end;
            end.game = std::make_unique<PeerGame>(std::vector{bearer_chart()}, config);
            end.hands = std::make_unique<rehearsal::HumanHands>(bearer_chart(), seed * 100 + i);
            for (std::size_t k = 0; k < players; ++k) {
                end.to.emplace_back(faults.of(), seed * 1000 + i * 10 + k);
            }
            end.wakes_at = 0.004 * static_cast<double>(i);
            ends.push_back(std::move(end));
        }
    }
    void run(double seconds) {
        const double until = time + seconds;
        while (true) {
            double next = until;
            for (const End& from : ends) {
                next = std::min(next, from.runs ? from.wakes_at : until);
                for (const auto& link : from.to) {
                    next = std::min(next, link.next_arrival().value_or(until));
                }
            }
            time = next;
            if (time >= until) {
                return;
            }
            for (std::size_t i = 0; i < ends.size(); ++i) {
                for (std::size_t k = 0; k < ends.size(); ++k) {
                    while (ends[i].to[k].next_arrival().value_or(1e18) <= time) {
                        ends[k].inbox.push_back(ends[i].to[k].take());
                    }
                }
            }
            for (std::size_t i = 0; i < ends.size(); ++i) {
                End& end = ends[i];
                if (end.runs && end.wakes_at <= time) {
                    end.wakes_at = std::max(end.wakes_at + end.frame, end.stands_until);
                    turn(end);
                }
            }
        }
    }
    void turn(End& end) {
        PeerGame& game = *end.game;
        game.tell_time(Seconds{50.0 + time * (1.0 + end.drift)});
        for (const auto& bytes : end.inbox) {
            game.receive(bytes, end.world);
        }
        end.inbox.clear();
        while (game.due()) {
            game.tick(hushed ? Intent{} : end.hands->next(Seconds{1.0 / rate_}), end.world);
        }
        while (const auto packet = game.next_packet()) {
            end.to[packet->player].send(time, packet->bytes);
        }
        while (const auto event = game.next_peer_event()) {
            end.events.push_back(*event);
        }
        while (const auto event = game.next_event()) {
            end.shown.push_back(*event);
        }
        for (std::uint32_t tick = end.confirmed.empty() ? 1 : end.confirmed.rbegin()->first + 1;
             tick <= game.confirmed().value; ++tick) {
            end.confirmed[tick] = game.digest_at(Tick{tick}).value_or(0);
        }
    }
    void check_same() const {
        for (const End& end : ends) {
            for (const auto& [tick, digest] : end.confirmed) {
                const auto there = ends.front().confirmed.find(tick);
                if (there != ends.front().confirmed.end()) {
                    REQUIRE(there->second == digest);
                }
            }
        }
    }
    std::vector<End> ends;
    double time = 0.0;
    bool hushed = false;

  private:
    double rate_;
};

bool same(const link::RemoteEvent& a, const link::RemoteEvent& b) {
    return a.runner == b.runner && a.at == b.at && a.kind == b.kind && a.subject == b.subject &&
           a.value == b.value;
}

}  // namespace

TEST_CASE("Peers come to the same to the bit, whatever the network does, for two to four, at any rate") {
    const Faults networks[] = {{0.0}, {0.02}, {0.06, 0.02, 0.05, 0.02, 0.01}, {0.1, 0.03, 0.2, 0.05, 0.02}};
    for (const Faults& faults : networks) {
        for (const std::size_t players : std::vector<std::size_t>{2, 3, 4}) {
            for (const double rate : {20.0, 60.0, 144.0}) {
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

TEST_CASE("Packets of this game that make no sense are left out and counted") {
    Ring ring(2, {0.03});
    ring.run(3.0);
    PeerGame& game = *ring.ends[0].game;
    const auto send = [&](link::wire::Kind kind, const auto& fill) {
        std::vector<std::byte> bytes(link::wire::most_packet_bytes);
        const std::span<std::byte> room(bytes);
        link::wire::Writer writer(room.subspan(link::wire::envelope_bytes));
        fill(writer);
        bytes.resize(link::wire::envelope_bytes + writer.finish());
        link::wire::stamp(bytes, kind, link::wire::mix(99, link::protocol_version));
        const std::uint64_t before = game.statistics().malformed;
        game.receive(bytes, ring.ends[0].world);
        return game.statistics().malformed - before;
    };
    const auto intents = [&](std::uint32_t player, std::uint32_t now) {
        return send(link::wire::Kind::peer_intents, [&](link::wire::Writer& writer) {
            link::wire::PeerHead head;
            head.player = player;
            head.now = now;
            link::wire::code(writer, head, 2);
            link::wire::Model more{0x4000};
            bool any = false;
            writer.bit(more, any);
        });
    };
    CHECK(intents(0, game.now().value) == 1);  // itself
    CHECK(intents(2, game.now().value) == 1);  // nobody
    CHECK(intents(1, game.now().value + 100000) == 1);
    CHECK(intents(1, game.now().value + 0x80000000U) == 1);
    CHECK(intents(1, game.now().value) == 0);
    const auto state = [&](std::uint32_t from, std::uint32_t player, std::uint32_t tick) {
        return send(link::wire::Kind::peer_state, [&](link::wire::Writer& writer) {
            link::wire::PeerStateHead head{from, player, tick};
            link::wire::code(writer, head);
            link::wire::write_runner(writer, game.runner(0));
        });
    };
    CHECK(state(1, 0, 61) == 1);  // never compared
    CHECK(state(0, 0, 60) == 1);  // from itself
    CHECK(state(1, 3, 60) == 1);  // of nobody
    CHECK(send(link::wire::Kind::snapshot, [](link::wire::Writer&) {}) == 1);
    CHECK(game.phase() == PeerPhase::playing);
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

TEST_CASE("Who has another version, rate, chart, world or other players is refused by name") {
    PeerGameConfig config;
    config.session = 5;
    config.players = {{0, {}}, {0, {{2.0, 0.0, 0.0}, 0.0}}};
    const auto meet = [&](PeerGameConfig other, std::vector<Chart> charts) {
        other.own = 1;
        PeerGame a({bearer_chart()}, config), b(std::move(charts), other);
        Narrow world;
        for (int i = 0; i < 100; ++i) {
            for (auto* game : {&a, &b}) {
                game->tell_time(Seconds{i / 60.0});
                while (const auto packet = game->next_packet()) {
                    (game == &a ? b : a).receive(packet->bytes, world);
                }
            }
        }
        CHECK(a.phase() == b.phase());
        return std::pair(a.phase(), a.farewell());
    };
    CHECK(meet(config, {bearer_chart()}).first == PeerPhase::playing);
    PeerGameConfig other = config;
    other.tick_rate = 30.0;
    CHECK(meet(other, {bearer_chart()}) == std::pair(PeerPhase::refused, link::Farewell::other_tick_rate));
    other = config;
    other.world = 3;
    CHECK(meet(other, {bearer_chart()}) == std::pair(PeerPhase::refused, link::Farewell::other_game));
    other = config;
    other.players[0].start.yaw = 0.1;
    CHECK(meet(other, {bearer_chart()}) == std::pair(PeerPhase::refused, link::Farewell::other_charts));
    CHECK(meet(config, {load_chart(demo("charts/eel.toml")).chart}) ==
          std::pair(PeerPhase::refused, link::Farewell::other_charts));
    other = config;
    other.session = 6;  // another game: not heard at all
    CHECK(meet(other, {bearer_chart()}).first == PeerPhase::joining);
    for (const auto& [what, change] :
         std::vector<std::pair<std::string, std::function<void(PeerGameConfig&)>>>{
             {"session: is 0", [](PeerGameConfig& c) { c.session = 0; }},
             {"players: 1 is out of range; 2 to 4 players", [](PeerGameConfig& c) { c.players.resize(1); }},
             {"players: 5 is out of range", [](PeerGameConfig& c) { c.players.resize(5); }},
             {"own: 2 is out of range", [](PeerGameConfig& c) { c.own = 2; }},
             {"players.chart: 1 is out of range", [](PeerGameConfig& c) { c.players[1].chart = 1; }},
             {"tick_rate: 300 is out of range; 10 to 240", [](PeerGameConfig& c) { c.tick_rate = 300.0; }},
             {"silence: 0.2 is out of range; 0.5 to 60 s",
              [](PeerGameConfig& c) { c.silence = Seconds{0.2}; }}}) {
        other = config;
        change(other);
        CHECK_THROWS_WITH(PeerGame({bearer_chart()}, other), Catch::Contains(what));
    }
}

TEST_CASE("Junk and packets that were turned over harm no game of peers") {
    Ring ring(2, {0.03});
    ring.run(3.0);
    rehearsal::Random random(4);
    PeerGame& game = *ring.ends[0].game;
    const std::uint64_t damaged = game.statistics().damaged;
    std::size_t allocated = 0;
    for (int i = 0; i < 3000; ++i) {
        std::vector<std::byte> bytes(random.below(200));
        for (std::byte& byte : bytes) {
            byte = static_cast<std::byte>(random.next());
        }
        if (!bytes.empty() && random.chance(0.5)) {
            bytes[0] = static_cast<std::byte>(0xc9 + random.below(5));
        }
        if (bytes.size() > 8 && random.chance(0.5)) {  // with a checksum that is right
            link::wire::stamp(bytes, static_cast<link::wire::Kind>(0xca + random.below(2)),
                              link::wire::mix(99, link::protocol_version));
        }
        const std::size_t before = allocations();
        game.receive(bytes, ring.ends[0].world);
        allocated += allocations() - before;
        if (i % 50 == 0) {
            ring.run(0.05);
        }
    }
    CHECK(game.statistics().damaged > damaged + 500);
    CHECK(std::isfinite(game.runner(1).position().x));
    CHECK(allocated < 2000);  // some say that ends came apart, and to name the field takes memory
}

TEST_CASE("Nothing is allocated while peers play") {
    Ring ring(2, {0.04});
    ring.run(3.0);
    std::size_t allocated = 0;
    Ring::End& end = ring.ends[0];
    PeerGame& game = *end.game;
    const std::vector<std::vector<std::byte>> inbox = end.inbox;
    for (int i = 0; i < 5; ++i) {
        const Intent intent = end.hands->next(Seconds{1.0 / 60.0});
        const std::size_t before = allocations();
        game.tell_time(Seconds{50.0 + ring.time + 0.02 * i});
        while (game.due()) {
            game.tick(intent, end.world);
        }
        while (game.next_packet()) {
        }
        while (game.next_event()) {
        }
        allocated += allocations() - before;
    }
    CHECK(allocated == 0);
}
