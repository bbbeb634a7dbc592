#include <catch2/catch.hpp>

#include "core/chart/chart_data.hpp"
#include "link/scene.hpp"
#include "link/wire/exact_runner.hpp"
#include "link/wire/replica_coding.hpp"
#include "support/full_chart.hpp"

/// The largest runner that there can be, on the wire.
using namespace support;
using namespace cursimeter::link;

namespace {

constexpr double full_tick = 1.0 / 60.0;

/// Everything that its chart has is in use.
void use_all(const Chart& chart, Runner& runner) {
    for (std::uint8_t i = 0; i < limits::cooldowns; ++i) {
        REQUIRE(try_use(chart, runner, CooldownId{i}));
    }
    for (std::uint8_t i = 0; i < limits::meters; ++i) {
        REQUIRE(try_spend(chart, runner, MeterId{i}, 1.0 + i / 3.0));
    }
    for (std::uint8_t i = 0; i < limits::blocks; ++i) {
        REQUIRE(block(chart, runner, BlockId{i}) == 1);
    }
    for (std::uint8_t i = 0; i < limits::modifiers; ++i) {
        REQUIRE(grant(chart, runner, ModifierId{i}, {.source = i, .strength = 0.37}));
        REQUIRE(grant(chart, runner, ModifierId{i}, {.source = 250, .strength = 0.37}));
    }
}

}  // namespace

TEST_CASE("A runner of a full chart fits a packet with everything in use, and others are told of it") {
    const Chart chart = compile(support::full_chart());
    Runner runner = spawn(chart, {{123.456, -98.765, 4.321}, 0.7});
    use_all(chart, runner);
    Intent intent;
    intent.held = ~std::uint32_t{0};
    for (int i = 0; i < 50; ++i) {
        intent.move = {0.3, 0.7};
        intent.look = {0.1 * i, 0.2};
        static_cast<void>(advance(chart, runner, intent, Seconds{full_tick}));
    }
    std::vector<std::byte> buffer(packet_bytes);
    wire::Writer writer(buffer);
    wire::write_runner(writer, runner);
    const std::size_t size = writer.finish();
    CHECK(size <= wire::most_exact_bytes);
    Runner read;
    wire::Reader reader({buffer.data(), size});
    REQUIRE(wire::read_runner(reader, chart, read));
    CHECK(digest(read) == digest(runner));

    const Cast cast(chart);
    Replica truth = rounded(observe(cast, runner, 0.0, 0)), came;
    CHECK(truth.modifiers.back().strength == 37);
    wire::ReplicaModels models, again;
    wire::Writer told(buffer);
    wire::code_replica(told, models, truth, Replica{}, 1U << 20U, 1U << 20U, wire::from_nothing);
    const std::size_t length = told.finish();
    wire::Reader heard({buffer.data(), length});
    wire::code_replica(heard, again, came, Replica{}, 1U << 20U, 1U << 20U, wire::from_nothing);
    CHECK(came == truth);
    CHECK(wire::charted(chart, came));
}

TEST_CASE("Messages wait where the largest runner fills a snapshot, and still come") {
    const Chart chart = compile(support::full_chart());
    support::Table table(support::Table::usual_config(), chart);
    Client& client = table.sit(1);
    table.ticks(60);
    Runner& runner = table.server.runner(table.keys[1]);
    use_all(chart, runner);
    table.intents[0].held = ~std::uint32_t{0};
    table.intents[0].move = {0.3, 0.7};
    std::vector<std::byte> message(longest_message, std::byte{0x5a});
    for (int i = 0; i < 4; ++i) {
        REQUIRE(table.server.send_message(client.seat(), message));
    }
    std::size_t came = 0, longest = 0;
    const auto pass = [&](int ticks, bool touched) {
        for (int i = 0; i < ticks; ++i) {
            if (touched) {
                push(runner, {.direction = {0.0, 1.0, 0.0}, .strength = 0.4, .seconds = 0.3});
            }
            table.tick();
            longest = std::max(longest, table.sent_down.back().size());
            while (const auto next = client.next_message()) {
                came += std::ranges::equal(*next, message) ? 1 : 0;
            }
        }
    };
    pass(120, true);
    REQUIRE(client.acknowledged());
    CHECK(table.server.now() - *client.acknowledged() <= 6);
    CHECK(client.statistics().malformed + client.statistics().damaged == 0);
    CHECK(longest > 1100);
    CHECK(longest <= packet_bytes);
    pass(300, false);
    CHECK(came == 4);
}

TEST_CASE("Messages fill what several exact runners leave of a packet, and no more") {
    if (!can_seal()) {
        return;
    }
    const KeyPair keys = make_key_pair();
    const Chart chart = compile(support::full_chart());
    std::size_t longest = 0;
    for (std::uint8_t used = 0; used <= limits::meters; ++used) {
        CAPTURE(int{used});
        ServerConfig config = support::Table::usual_config();
        config.keys = keys;
        config.players = 4;
        support::Table table(config, chart);
        table.spawns = false;
        ClientConfig four;
        four.identity = four.attempt = 1;
        four.players = config.players;
        four.server = keys.open;
        Client& client = table.sit(four, {chart});
        table.ticks(60);
        std::vector<RunnerKey> runners;
        for (std::size_t player = 0; player < config.players; ++player) {
            const double side = 3.0 * static_cast<double>(player);
            runners.push_back(*table.server.spawn(0, {{0.0, side, 0.0}, 0.0}, client.seat(), player));
            for (std::uint8_t meter = 0; meter < used; ++meter) {  // each makes it a little longer
                REQUIRE(
                    try_spend(chart, table.server.runner(runners.back()), MeterId{meter}, 0.3 + meter / 7.0));
            }
        }
        const std::vector<std::byte> message(longest_message, std::byte{0x5a});
        std::size_t sent = 0, came = 0;
        for (int i = 0; i < 500; ++i) {
            for (const RunnerKey& runner : runners) {
                if (i < 60) {  // nobody foresees it, so it is told in full
                    push(table.server.runner(runner),
                         {.direction = {0.0, 1.0, 0.0}, .strength = 0.4, .seconds = 0.3});
                }
            }
            sent += i < 60 && table.server.send_message(client.seat(), message) ? 1 : 0;
            table.tick();
            longest = std::max(longest, table.sent_down.back().size());
            while (const auto next = client.next_message()) {
                came += std::ranges::equal(*next, message) ? 1 : 0;
            }
        }
        CHECK(client.statistics().malformed + client.statistics().damaged == 0);
        CHECK(sent > 8);
        CHECK(came == sent);
    }
    CHECK(longest > packet_bytes - 30);
    CHECK(longest <= packet_bytes);
}
