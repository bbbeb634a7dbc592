#include <catch2/catch.hpp>
#include <cursimeter/effects.hpp>
#include <cursimeter/settle.hpp>
#include <set>

#include "link/scene.hpp"

/// A game's own world under prediction: what rides on intents, who stands in the way, what the server does not allow.
using namespace support;
using link::AdvanceContext;

namespace {

/// Notes what it is told.
struct Noting : link::Advancer {
    Report advance_runner(const Chart& chart, Runner& runner, const Intent& intent,
                          const AdvanceContext& context) noexcept override {
        if (!context.extra.empty()) {
            (context.again ? again : once)
                .emplace_back(context.tick.value, std::to_integer<int>(context.extra[0]));
        }
        keys.insert(context.runner);
        dt = context.dt.value;
        Intent played = intent;
        played.held &= ~forbidden;
        return advance(chart, runner, played, context.dt);
    }
    std::vector<std::pair<std::uint32_t, int>> once, again;
    std::set<link::RunnerKey> keys;
    std::uint32_t forbidden = 0;
    double dt = 0.0;
};

/// Nobody gets nearer than 0.7 m to anybody.
struct Crowded : link::Advancer {
    [[nodiscard]] bool wants_others() const noexcept override { return true; }
    Report advance_runner(const Chart& chart, Runner& runner, const Intent& intent,
                          const AdvanceContext& context) noexcept override {
        Contacts contacts;
        const Plan plan = propose(chart, runner, intent, contacts, context.dt);
        glm::dvec3 moved = plan.displacement;
        for (const link::Neighbour& other : context.others) {
            const glm::dvec3 to = other.position - (runner.position() + moved);
            const double apart = std::sqrt(to.x * to.x + to.y * to.y);
            if (apart < 0.7 && apart > 0.0 && contacts.barrier_count < contacts.barriers.size()) {
                const glm::dvec3 there{to.x / apart, to.y / apart, 0.0};
                moved -= there * (0.7 - apart);
                contacts.barriers[contacts.barrier_count++] = -there;
            }
        }
        seen = context.others.size();
        return settle(chart, runner, plan, moved, contacts);
    }
    std::size_t seen = 0;
};

link::ExtraBytes extra_of(int value) {
    link::ExtraBytes extra;
    const auto byte = static_cast<std::byte>(value);
    extra.add({&byte, 1});
    return extra;
}

/// A server and two clients, each with a world of its own, over wires that lose a part of the packets.
template <class World>
struct Yard {
    Yard() {
        for (std::size_t i = 0; i < 2; ++i) {
            link::ClientConfig config;
            config.identity = i + 1;
            config.attempt = 1;
            clients.push_back(std::make_unique<link::Client>(std::vector{bearer_chart()}, config));
        }
    }
    void tick(double loss) {
        time += 1.0 / 60.0;
        server.tell_time(Seconds{time});
        for (std::size_t i = 0; i < 2; ++i) {
            clients[i]->tell_time(Seconds{time});
            while (clients[i]->due()) {
                const bool fires = i == 0 && clients[i]->own_key() && random.chance(0.3);
                clients[i]->tick(intents[i], worlds[i], fires ? extra_of(++fired) : link::ExtraBytes{});
            }
            while (const auto packet = clients[i]->next_packet()) {
                if (!random.chance(loss)) {
                    server.receive({i + 1}, *packet);
                }
            }
        }
        while (const auto event = server.next_event()) {
            if (event->kind == link::ServerEventKind::joined) {
                keys.push_back(*server.spawn(
                    0, {{static_cast<double>(event->identity == 1 ? 0 : 4), 0.0, 0.0}, 0.0}, event->seat));
            }
        }
        while (server.due()) {
            server.tick(truth);
        }
        while (const auto packet = server.next_packet()) {
            if (!random.chance(loss)) {
                clients[packet->peer.value - 1]->receive(packet->bytes, worlds[packet->peer.value - 1]);
            }
        }
    }
    link::Server server{{bearer_chart()}, Table::usual_config()};
    std::vector<std::unique_ptr<link::Client>> clients;
    std::array<World, 2> worlds;
    World truth;
    std::array<Intent, 2> intents{};
    std::vector<link::RunnerKey> keys;
    rehearsal::Random random{5};
    double time = 0.0;
    int fired = 0;
};

}  // namespace

TEST_CASE("What rides on an intent comes to both advancers, once, at the same tick, whatever is lost") {
    for (const double loss : {0.0, 0.1}) {
        CAPTURE(loss);
        Yard<Noting> yard;
        for (int i = 0; i < 900; ++i) {
            yard.intents[0].look.yaw = 0.01 * i;
            yard.tick(loss);
        }
        REQUIRE(yard.fired > 150);
        // The last may still be on their way.
        const auto& at_server = yard.truth.once;
        const auto& at_client = yard.worlds[0].once;
        REQUIRE(at_server.size() + 5 >= at_client.size());
        CHECK(std::equal(at_server.begin(), at_server.end(), at_client.begin()));
        CHECK(yard.truth.again.empty());
        CHECK(yard.truth.keys.size() == 2);
        CHECK(yard.worlds[0].keys == std::set{*yard.clients[0]->own_key()});
        CHECK(yard.truth.dt == 1.0 / 60.0);
    }
}

TEST_CASE("What a correction plays again is said to be played again") {
    Yard<Noting> yard;
    for (int i = 0; i < 120; ++i) {
        yard.tick(0.0);
    }
    Push push;
    push.direction = {0.0, 1.0, 0.0};
    push.strength = 5.0;
    push.seconds = 0.2;
    cursimeter::push(yard.server.runner(yard.keys[0]), push);
    for (int i = 0; i < 60; ++i) {
        yard.tick(0.0);
    }
    REQUIRE(yard.clients[0]->statistics().corrections >= 1);
    CHECK_FALSE(yard.worlds[0].again.empty());
    for (std::size_t i = 1; i < yard.worlds[0].once.size(); ++i) {
        CHECK(yard.worlds[0].once[i].second == yard.worlds[0].once[i - 1].second + 1);
    }
}

TEST_CASE("The server may play another intent than it was told, and is right") {
    Yard<Noting> yard;
    const ActionId sprint = bearer_chart().action("sprint");
    yard.truth.forbidden = key_bit(sprint);
    yard.intents[0].move = {1.0, 0.0};
    yard.intents[0].hold(sprint);
    for (int i = 0; i < 240; ++i) {
        yard.tick(0.0);
    }
    CHECK(bearer_chart().name(yard.server.runner(yard.keys[0]).state()) == "walk");
    CHECK(yard.clients[0]->statistics().corrections > 0);
    CHECK(yard.server.runner(yard.keys[0]).speed() < 2.5);
}

TEST_CASE("Runners that block each other do so at both ends") {
    Yard<Crowded> yard;
    for (int i = 0; i < 60; ++i) {
        yard.tick(0.0);
    }
    REQUIRE(yard.keys.size() == 2);
    CHECK(yard.truth.seen == 1);
    CHECK(yard.worlds[0].seen == 1);
    yard.intents[0].move = {1.0, 0.0};  // straight at the other, who stands
    double nearest = 100.0;
    for (int i = 0; i < 300; ++i) {
        yard.tick(0.02);
        nearest = std::min(nearest, std::fabs(yard.server.runner(yard.keys[0]).position().x -
                                              yard.server.runner(yard.keys[1]).position().x));
    }
    CHECK(nearest >= 0.69);
    CHECK(yard.server.runner(yard.keys[0]).position().x == Approx(3.3).margin(0.02));
    CHECK(yard.clients[0]->own().position().x == Approx(3.3).margin(0.02));
    // The one that stands is where everybody knows it to be, so nothing has to be corrected but roundings.
    CHECK(yard.clients[0]->statistics().largest_correction < 0.02);
}

namespace {

/// A shot costs stamina and pushes its owner back, at both ends at the same tick.
struct Recoiling : link::Advancer {
    Report advance_runner(const Chart& chart, Runner& runner, const Intent& intent,
                          const AdvanceContext& context) noexcept override {
        if (!context.extra.empty() && try_spend(chart, runner, chart.meter("stamina"), 5.0)) {
            Push push;
            push.direction = {-1.0, 0.0, 0.0};
            push.strength = 3.0;
            push.seconds = 0.2;
            cursimeter::push(runner, push);
            ++shots;
        }
        return advance(chart, runner, intent, context.dt);
    }
    int shots = 0;
};

}  // namespace

TEST_CASE(
    "What a game does to its own runner for what rode on an intent is predicted, and needs no correction") {
    for (const double loss : {0.0, 0.05}) {
        CAPTURE(loss);
        Yard<Recoiling> yard;
        for (int i = 0; i < 900; ++i) {
            yard.intents[0].look.yaw = 0.01 * i;
            yard.tick(loss);
        }
        CHECK(yard.truth.shots > 30);
        CHECK(yard.worlds[0].shots >= yard.truth.shots);
        CHECK(yard.clients[0]->statistics().corrections == 0);
        CHECK(yard.server.runner(yard.keys[0]).position().x < -1.0);
    }
}
