#include <catch2/catch.hpp>
#include <cursimeter/effects.hpp>

#include "link/scene.hpp"

using namespace support;

TEST_CASE(
    "60 s of the drill over a usual bad link: no correction, no missed input, the others within "
    "centimetres") {
    const rehearsal::Result result = rehearsal::rehearse(quay_scene(), usual_plan(3, 60.0));
    REQUIRE(result.clients.size() == 3);
    for (const rehearsal::ClientResult& client : result.clients) {
        CHECK(client.corrections == 0);
        CHECK(client.missing_after_first_second == 0);
        CHECK(client.digests_compared > 1000);
        CHECK(client.digests_differing == 0);
        CHECK(client.remote_error_median <= 0.02);
        CHECK(client.remote_error_p99 <= 0.15);
        CHECK(client.remote_jump_max <= 0.15);
        CHECK(client.events_shown > 700);
        CHECK(client.events_out_of_order == 0);
        CHECK(client.statistics.events_skipped == 0);
        CHECK(client.statistics.malformed == 0);
        CHECK(client.bytes_up_per_s <= 1500.0);
    }
    CHECK(result.bytes_per_remote_snapshot <= 4.5);
}

TEST_CASE("30 % loss in bursts of up to 100 ms: no correction that anybody sees") {
    rehearsal::Plan plan = usual_plan(3, 60.0);
    plan.up.loss = plan.down.loss = 0.3;
    plan.up.burst = plan.down.burst = Seconds{0.1};
    const rehearsal::Result result = rehearsal::rehearse(quay_scene(), plan);
    for (const rehearsal::ClientResult& client : result.clients) {
        CHECK(client.visible_corrections == 0);
        CHECK(client.correction_max <= 0.05);
        CHECK(client.digests_differing == 0);
        CHECK(client.remote_error_median <= 0.02);
        CHECK(client.remote_error_p99 <= 0.15);
        CHECK(client.events_out_of_order == 0);
        CHECK(client.statistics.events_skipped == 0);
    }
}

TEST_CASE("With a tenth of all packets lost nobody is seen to leap, whatever hands do in the gaps",
          "[long]") {
    for (const std::uint64_t seed : {2U, 4U, 7U}) {
        CAPTURE(seed);
        rehearsal::Scene scene = quay_scene();
        scene.human_hands = true;
        rehearsal::Plan plan = usual_plan(6, 20.0);
        plan.seed = seed;
        plan.frame_rate = 144.0;
        plan.up.jitter = plan.down.jitter = Seconds{0.01};
        plan.up.loss = plan.down.loss = 0.1;
        plan.up.duplicate = plan.down.duplicate = plan.up.reorder = plan.down.reorder = 0.0;
        const rehearsal::Result result = rehearsal::rehearse(scene, plan);
        for (const rehearsal::ClientResult& client : result.clients) {
            // m in a tick; a dash is ended, or turned, within one.
            CHECK(client.remote_jump_max <= 0.4);
        }
    }
}

TEST_CASE("The whole relay over a bad link: moving parts, walls and gusts are predicted, too") {
    rehearsal::Scene scene{bearer_chart(),
                           {load_drill(demo("drills/relay_bearer.toml"), bearer_chart()).drill},
                           load_course(demo("courses/relay.toml"))};
    const rehearsal::Result result = rehearsal::rehearse(scene, usual_plan(3, 56.0));
    for (const rehearsal::ClientResult& client : result.clients) {
        CHECK(client.corrections == 0);
        CHECK(client.digests_differing == 0);
        CHECK(client.remote_error_median <= 0.02);
        CHECK(client.remote_error_p99 <= 0.15);
        CHECK(client.remote_jump_max <= 0.15);
        CHECK(client.events_out_of_order == 0);
        CHECK(client.events_missing == 0);
    }
}

TEST_CASE("A push by the server is corrected once, in the packet that brings it, and everybody sees it") {
    rehearsal::Rehearsal rehearsal(hands_scene(2, 20.0, 4), usual_plan(2, 20.0));
    rehearsal.run_until(4.0);
    int pushes = 0;
    rehearsal.before_tick([&](link::Server& server) {
        if (server.now().value % 120 == 0 && pushes < 5) {
            ++pushes;
            Push push;
            push.direction = {0.0, 1.0, 0.0};
            push.strength = 6.0;
            push.seconds = 0.4;
            cursimeter::push(server.runner(server.runners().front()), push);
        }
    });
    rehearsal.run_until(18.0);
    const rehearsal::Result result = rehearsal.finish();
    CHECK(pushes == 5);
    CHECK(result.clients[0].corrections == 5);
    CHECK(result.clients[0].visible_corrections <= 5);
    CHECK(result.clients[0].correction_max > 0.05);
    CHECK(result.clients[1].corrections == 0);
    CHECK(result.clients[0].digests_differing == 0);
    CHECK(result.clients[1].remote_error_median <= 0.02);
}

TEST_CASE(
    "Modifiers, bans, spending and teleports by the server reach the owner exactly and the others in kind") {
    const Chart chart = load_chart(demo("charts/keeper.toml")).chart;
    Table table(Table::usual_config(), chart);
    link::Client& owner = table.sit(1);
    link::Client& other = table.sit(2);
    table.ticks(60);
    REQUIRE(owner.own_key() == table.keys[1]);
    const ModifierId broth = chart.modifier("broth");
    Runner& runner = table.server.runner(table.keys[1]);
    CHECK(grant(chart, runner, broth));
    CHECK(block(chart, runner, BlockId{0}) == 1);
    CHECK(try_spend(chart, runner, MeterId{0}, 30.0));
    table.ticks(30);
    CHECK(read_modifier(chart, owner.own(), broth).active);
    CHECK(blocked(chart, owner.own(), BlockId{0}) == 1);
    const auto acknowledged = owner.acknowledged();
    REQUIRE(acknowledged);
    CHECK(table.server.now() - *acknowledged < 6);
    CHECK(owner.digest_at(*acknowledged).has_value());
    CHECK(owner.statistics().corrections == 1);
    const auto shown = other.shown(table.keys[1]);
    REQUIRE(shown);
    CHECK(shown->modifiers[0].modifier == broth);
    CHECK(shown->blocks == 1);
    CHECK(shown->modifiers[0].strength == 1.0);
    CHECK(read_meter(chart, shown->runner, MeterId{0}).fraction < 0.95);

    const glm::dvec3 before = shown->position;
    table.server.teleport(table.keys[1], {{50.0, 3.0, 0.0}, 0.0});
    for (int i = 0; i < 40; ++i) {
        table.tick();
        // There or here, never in between.
        const double x = other.shown(table.keys[1])->position.x;
        CHECK((std::fabs(x - before.x) < 0.1 || std::fabs(x - 50.0) < 0.1));
    }
    CHECK(std::fabs(owner.own().position().x - 50.0) < 0.01);
    CHECK(std::fabs(other.shown(table.keys[1])->position.x - 50.0) < 0.02);
}

TEST_CASE("A plan played twice gives the same digest, another seed another") {
    rehearsal::Plan plan = usual_plan(2, 6.0);
    const auto first = rehearsal::rehearse(hands_scene(2, 6.0, 3), plan);
    CHECK(rehearsal::rehearse(hands_scene(2, 6.0, 3), plan).digest == first.digest);
    plan.seed = 2;
    CHECK(rehearsal::rehearse(hands_scene(2, 6.0, 3), plan).digest != first.digest);
}

TEST_CASE("A simulated link drops, doubles, holds up and damages what it is told to, to within chance") {
    rehearsal::LinkFaults faults;
    faults.delay = Seconds{0.05};
    faults.jitter = Seconds{0.01};
    faults.loss = 0.2;
    faults.duplicate = 0.1;
    faults.corrupt = 0.05;
    rehearsal::SimulatedLink link(faults, 7);
    const std::vector<std::byte> packet(100, std::byte{0});
    constexpr int sent = 20000;
    for (int i = 0; i < sent; ++i) {
        link.send(i * 0.02, packet);
    }
    int came = 0, damaged = 0;
    double last = 0.0;
    while (const auto at = link.next_arrival()) {
        CHECK(*at >= last);
        last = *at;
        ++came;
        damaged += link.take() != packet ? 1 : 0;
    }
    CHECK(link.sent() == sent);
    CHECK(std::fabs(static_cast<double>(link.dropped()) / sent - 0.2) < 0.01);
    CHECK(std::fabs(came / (0.8 * sent) - 1.1) < 0.015);
    CHECK(std::fabs(damaged / static_cast<double>(came) - 0.05) < 0.008);

    faults = {};
    faults.loss = 0.3;
    faults.burst = Seconds{0.1};
    rehearsal::SimulatedLink bursts(faults, 7);
    int longest = 0, row = 0;
    for (int i = 0; i < 60000; ++i) {
        const std::uint64_t before = bursts.dropped();
        bursts.send(i / 60.0, packet);
        row = bursts.dropped() > before ? row + 1 : 0;
        longest = std::max(longest, row);
    }
    CHECK(std::fabs(static_cast<double>(bursts.dropped()) / 60000.0 - 0.3) < 0.02);
    CHECK(longest <= 7);

    faults = {};
    faults.bandwidth = 1000.0;
    rehearsal::SimulatedLink narrow(faults, 7);
    narrow.send(0.0, packet);
    narrow.send(0.0, packet);
    CHECK(*narrow.next_arrival() == Approx(0.1));
    static_cast<void>(narrow.take());
    CHECK(*narrow.next_arrival() == Approx(0.2));
}

TEST_CASE("A silent link loses everything until its time, a reordering one lets later packets overtake") {
    rehearsal::SimulatedLink silent({}, 1);
    const std::vector<std::byte> packet(10);
    silent.be_silent_until(1.0);
    silent.send(0.99, packet);
    CHECK_FALSE(silent.next_arrival().has_value());
    silent.send(1.0, packet);
    CHECK(silent.next_arrival() == 1.0);

    rehearsal::LinkFaults faults;
    faults.reorder = 0.1;
    rehearsal::SimulatedLink link(faults, 1);
    for (unsigned i = 0; i < 1000; ++i) {
        link.send(i * 0.016,
                  std::vector<std::byte>{static_cast<std::byte>(i & 0xffU), static_cast<std::byte>(i >> 8U)});
    }
    int overtaken = 0;
    unsigned highest = 0;
    while (link.next_arrival()) {
        const auto bytes = link.take();
        const unsigned number = std::to_integer<unsigned>(bytes[0]) | std::to_integer<unsigned>(bytes[1])
                                                                          << 8U;
        overtaken += number < highest ? 1 : 0;
        highest = std::max(highest, number);
    }
    // Held up by 20 to 60 ms, all of them are overtaken by the next, sent 16 ms later.
    CHECK(overtaken > 70);
    CHECK(overtaken < 130);
}
