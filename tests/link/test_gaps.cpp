#include <catch2/catch.hpp>
#include <cmath>

#include "link/scene.hpp"
#include "link/wire/script.hpp"
#include "link/wire/snapshot_coding.hpp"

using namespace support;
using namespace cursimeter::link;

TEST_CASE("While intents are missing, held keys stay held and no key goes down or up") {
    Table table;
    table.sit(1);
    table.ticks(60);
    const RunnerKey key = table.keys[1];
    const ActionId sprint = table.chart.action("sprint");
    table.intents[0].move = {1.0, 0.0};
    table.intents[0].hold(sprint);
    table.ticks(60);
    REQUIRE(table.server.runner(key).on(sprint));
    const std::uint64_t missing = table.server.read_seat(table.clients[0]->seat()).missing;
    table.cut_up = true;
    table.intents[0] = {};  // let go, but the server cannot know
    std::uint64_t edges = 0;
    double slowest = 100.0;
    for (int i = 0; i < 30; ++i) {
        table.tick();
        for (const Event& event : table.server.report(key).events()) {
            edges += event.kind == EventKind::pressed || event.kind == EventKind::released ? 1 : 0;
        }
        slowest = std::min(slowest, table.server.runner(key).speed());
    }
    CHECK(table.server.read_seat(table.clients[0]->seat()).missing - missing > 10);
    CHECK(edges == 0);
    CHECK(slowest > 6.0);
    table.cut_up = false;
    table.ticks(60);
    // What was let go is let go once, and both agree again.
    CHECK_FALSE(table.server.runner(key).on(sprint));
    CHECK(table.server.runner(key).speed() == 0.0);
    CHECK(table.clients[0]->statistics().corrections >= 1);
    CHECK(table.clients[0]->own().position() == table.server.runner(key).position());
}

TEST_CASE("A correction shows at first where the runner was, half as far off after the half-life") {
    Table table;
    link::ClientConfig config;
    config.identity = config.attempt = 1;
    config.half_life = Seconds{0.1};  // six ticks
    Client& client = table.sit(config, {table.chart});
    table.ticks(120);
    REQUIRE(client.own_key());
    const glm::dvec3 before = client.own_shown();
    place(table.chart, table.server.runner(*client.own_key()), {{1.0, before.y, 0.0}, 0.0});
    while (!client.next_correction()) {
        table.tick();
    }
    const glm::dvec3 place = client.own().position();
    CHECK(place.x == 1.0);
    CHECK(client.own_shown().x == Approx(before.x).margin(1e-9));
    table.ticks(6);
    CHECK(client.own_shown().x - before.x == Approx(0.5).margin(1e-9));
    table.ticks(6);
    CHECK(client.own_shown().x - before.x == Approx(0.75).margin(1e-9));

    // Further than visible_limit: at once.
    cursimeter::place(table.chart, table.server.runner(*client.own_key()), {{50.0, before.y, 0.0}, 0.0});
    while (!client.next_correction()) {
        table.tick();
    }
    CHECK(client.own_shown() == client.own().position());
}

TEST_CASE("Without news another runner goes on by the chart for the time it may, then stands") {
    Table table;
    link::ClientConfig config;
    config.identity = config.attempt = 1;
    config.extrapolate = Seconds{0.25};
    Client& client = table.sit(config, {table.chart});
    table.ticks(20);
    const auto bot = table.server.spawn(0, {{0.0, -5.0, 0.0}, 0.0});
    Intent run;
    run.move = {1.0, 0.0};
    table.server.direct(*bot, run);
    table.ticks(120);
    CHECK_FALSE(client.shown(*bot)->waiting);
    const double newest = table.server.runner(*bot).position().x;
    table.cut_down = true;
    table.ticks(12);
    REQUIRE(client.shown(*bot)->waiting);
    // 0.25 s beyond the last news at 2.4 m/s, which are 0 to 2 ticks old.
    table.ticks(60);
    const double stands = client.shown(*bot)->position.x;
    CHECK(stands > newest + 0.6 - 0.1);
    CHECK(stands < newest + 0.6 + 0.03);
    table.ticks(20);
    CHECK(client.shown(*bot)->position.x == Approx(stands).margin(1e-6));
    table.cut_down = false;
    table.ticks(60);
    CHECK_FALSE(client.shown(*bot)->waiting);
}

TEST_CASE("Every jump and landing of another is heard once and in order, whatever is lost") {
    Table table;
    table.sit(1);
    Client& listener = table.sit(2);
    table.ticks(60);
    const RunnerKey jumper = table.keys[1];
    const ActionId jump = table.chart.action("jump");
    rehearsal::Random random(6);
    std::vector<std::pair<EventKind, double>> truth, heard;
    const auto kept = [](EventKind kind) { return kind == EventKind::jumped || kind == EventKind::landed; };
    for (int i = 0; i < 900; ++i) {
        table.intents[0].held = i < 780 && i % 60 < 10 ? key_bit(jump) : 0;
        table.cut_down = i < 800 && random.chance(0.4);
        table.tick();
        for (const Event& event : table.server.report(jumper).events()) {
            if (kept(event.kind)) {
                truth.emplace_back(event.kind, event.value);
            }
        }
        while (const auto event = listener.next_event()) {
            if (event->runner == jumper && kept(event->kind)) {
                heard.emplace_back(event->kind, event->value);
            }
        }
    }
    REQUIRE(truth.size() == 26);  // thirteen jumps
    REQUIRE(heard.size() == truth.size());
    for (std::size_t i = 0; i < truth.size(); ++i) {
        CHECK(heard[i].first == truth[i].first);
        CHECK(std::fabs(heard[i].second - truth[i].second) <= 0.1);
    }
}

TEST_CASE(
    "A hand that changes sixteen things a tick, unheard for most of a second, still gets its intents "
    "through") {
    Table table;
    table.sit(1);
    table.ticks(60);
    const std::uint64_t missing = table.server.read_seat(table.clients[0]->seat()).missing;
    std::array<Change, 16> changes{};
    rehearsal::Random random(2);
    for (int i = 0; i < 120; ++i) {
        for (std::size_t k = 0; k < changes.size(); ++k) {
            changes[k] = Change::look_to({random.between(-3.0, 3.0), random.between(-1.0, 1.0)},
                                         static_cast<double>(k) * 0.001);
        }
        table.intents[0].changes = changes;
        table.cut_down = i >= 20 && i < 70;  // nothing is acknowledged
        const std::size_t sent = table.sent_up.size();
        table.tick();
        REQUIRE(table.sent_up.size() == sent + 1);
        REQUIRE(table.sent_up.back().size() <= packet_bytes);
    }
    CHECK(table.server.read_seat(table.clients[0]->seat()).missing == missing);
    CHECK(table.clients[0]->statistics().corrections == 0);
}

TEST_CASE("The largest entry of a runner fits into what is left for it") {
    Replica most;
    most.position = {2'000'000'000 / 16 * 16, -2'000'000'000 / 16 * 16, 1'999'999'984};
    most.velocity = {15'999'984, -15'999'984, 15'999'984};
    most.drift = most.velocity;
    most.grounded = false;
    most.floor = -1'999'999'984;
    most.yaw = replica_yaw_units - 1;
    most.pitch = -link::replica_pitch_units;
    most.forward = -127;
    most.side = 127;
    most.state = 63;
    most.age = 1023;
    most.on = ~detail::ActionMask{0};
    most.used = ~std::uint64_t{0};
    most.pace = most.blocks = 65535;
    most.barrier = most.zones = 255;
    most.spent = 4095;
    most.teleports = 3;
    most.headroom = false;
    most.cut = most.locked = most.faces_movement = true;
    most.level.fill(replica_meter_units);
    most.rate.fill(-127);
    most.modifiers.fill({31, 255, 15});
    for (std::uint32_t events = 0; events <= wire::most_events_told; ++events) {
        CAPTURE(events);
        std::vector<std::byte> buffer(2000);
        wire::Writer writer(buffer);
        wire::EntryModels models;
        wire::Script replica(wire::in_a_row(models)), rest(wire::in_a_row(models));
        wire::Entry entry{1000, wire::EntryKind::whole, 0, 65535, 15, 65535};
        wire::code(rest, models, entry, 0);
        wire::code_replica(replica, models.replica, most, Replica{}, 1U << 20U, 1U << 20U,
                           wire::from_nothing);
        for (std::uint32_t i = 0; i < events; ++i) {
            wire::ToldEvent event{
                i * 7919U, i % 2 == 0 ? EventKind::crushed : EventKind::crossed, 63, 15, true, 1'000'000};
            wire::code(rest, models, event, 1U << 20U, wire::Entered{});
            rest.bit(models.several, true);
        }
        CHECK(replica.size() <= wire::most_replica_steps);
        CHECK(rest.size() <= wire::most_replica_steps);
        writer.play(replica.steps(0, replica.size()), wire::in_a_row(models));
        writer.play(rest.steps(0, rest.size()), wire::in_a_row(models));
        CHECK(writer.finish() <= wire::most_entry_bytes(events));
    }
}

TEST_CASE("What is told by a lost snapshot and overtaken on its way loses no event") {
    Table table;
    link::Client& client = table.sit(1);
    table.ticks(20);
    const auto bot = table.server.spawn(0, {{0.0, 5.0, 0.0}, 0.0});
    const ActionId jump = bearer_chart().action("jump");
    std::vector<std::uint8_t> truth, shown;
    const auto go_on = [&](int ticks) {
        for (int i = 0; i < ticks; ++i) {
            Intent intent;
            intent.move = {1.0, 0.0};
            if (table.server.now().value % 9 < 4) {
                intent.hold(jump);
            }
            table.server.direct(*bot, intent);
            table.tick();
            for (const Event& event : table.server.report(*bot).events()) {
                if (event.kind == EventKind::entered) {
                    truth.push_back(event.subject);
                }
            }
            while (const auto event = client.next_event()) {
                if (event->kind == EventKind::entered) {
                    shown.push_back(event->subject);
                }
            }
        }
    };
    go_on(2400);  // nothing is lost, so snapshots are told by what is not acknowledged
    const std::uint64_t before = client.statistics().baseless;
    CHECK(before == 0);
    for (int round = 0; round < 40; ++round) {
        table.cut_down = true;
        const std::size_t first = table.sent_down.size();
        go_on(12);  // four snapshots
        REQUIRE(table.sent_down.size() == first + 4);
        for (const std::size_t which : {1U, 3U, 2U}) {  // the first is lost, the one told by it overtaken
            client.receive(table.sent_down[first + which], table.ground);
        }
        table.cut_down = false;
        go_on(round < 20 ? 1200 : 9);
    }
    go_on(60);
    CHECK(client.statistics().baseless > before);
    CHECK(client.statistics().malformed == 0);
    CHECK(client.statistics().events_skipped == 0);
    REQUIRE(shown.size() > 1000);
    // A stretch of the truth without a gap: the first were before its time, the last are not shown yet.
    bool whole = false;
    for (std::size_t later = 0; later < 8 && shown.size() + later <= truth.size(); ++later) {
        whole = whole ||
                std::equal(shown.rbegin(), shown.rend(), truth.rbegin() + static_cast<std::ptrdiff_t>(later));
    }
    CHECK(whole);
}
