#include <catch2/catch.hpp>
#include <cursimeter/rehearsal/human_hands.hpp>

#include "link/recorded_match.hpp"
#include "support/counting_new.hpp"
#include "support/share.hpp"

/// Recordings of a whole match, played again.
using namespace support;

TEST_CASE("A match plays again bit for bit, whatever hands, network and game did") {
    support::Share share;
    for (const bool on_course : {false, true}) {
        for (const double rate : {20.0, 60.0, 128.0}) {
            if (!share.takes()) {
                continue;
            }
            CAPTURE(on_course, rate);
            const Recording recording = record(3, 25.0, on_course, rate);
            const Match match = link::read_match(recording.bytes);
            CHECK_FALSE(match.cut_short);
            CHECK(match.origin.note == "meddled with");
            CHECK(match.tick_rate == rate);
            CHECK(match.ticks == recording.digests.size());
            MatchPlayer player(match, {bearer_chart()});
            link::OpenGround ground;
            std::optional<rehearsal::OnCourse> course;
            if (on_course) {
                course.emplace(*recording.course, bearer_chart(), rate);
            }
            link::Advancer& world = on_course ? static_cast<link::Advancer&>(*course) : ground;
            std::size_t runners = 0, most = 0;
            while (player.next(world)) {
                REQUIRE(player.differences().empty());
                const auto& then = recording.digests.at(player.now().value);
                const std::vector<RunnerKey> keys = player.runners();
                REQUIRE(keys.size() <= then.size());  // those who have just come are noted already
                for (const RunnerKey key : keys) {
                    REQUIRE(digest(player.runner(key)) == then.at(key));
                    ++runners;
                }
                most = std::max(most, keys.size());
            }
            CHECK(most == 5);
            CHECK_FALSE(player.next(world));
            CHECK(static_cast<double>(recording.bytes.size()) / static_cast<double>(runners) < 7.0);
        }
    }
}

TEST_CASE(
    "In another world it comes out otherwise, and is told which runner and when, and whole states bring it "
    "back") {
    const Recording recording = record(4, 25.0, true);
    const Match match = link::read_match(recording.bytes);
    MatchPlayer player(match, {bearer_chart()});
    link::OpenGround ground;
    std::uint32_t first = 0, wholes = 0;
    while (player.next(ground)) {
        for (const link::MatchDifference& difference : player.differences()) {
            first = first == 0 ? difference.tick.value : first;
            CHECK(difference.tick == player.now());
        }
        if (player.now().value % 600 == 0) {
            for (const RunnerKey key : player.runners()) {
                REQUIRE(digest(player.runner(key)) == recording.digests.at(player.now().value).at(key));
                ++wholes;
            }
        }
    }
    CHECK(first > 0);
    CHECK(wholes >= 8);
}

TEST_CASE("The owner of a runner is known by its seat, and its extra bytes come to the advancer again") {
    struct Counting : link::Advancer {
        Report advance_runner(const Chart& chart, Runner& runner, const Intent& intent,
                              const link::AdvanceContext& context) noexcept override {
            sum += context.extra.empty() ? 0 : std::to_integer<int>(context.extra[0]);
            others += context.others.size();
            return advance(chart, runner, intent, context.dt);
        }
        [[nodiscard]] bool wants_others() const noexcept override { return true; }
        int sum = 0;
        std::size_t others = 0;
    };
    Table table;
    MatchRecorder recorder(table.server);
    table.server.record(&recorder);
    Counting truth, again;
    for (std::uint64_t identity = 1; identity <= 3; ++identity) {
        table.sit(identity);
    }
    int fired = 0;
    for (int i = 0; i < 200; ++i) {
        table.time += table.dt;
        table.server.tell_time(Seconds{table.time});
        for (std::size_t k = 0; k < table.clients.size(); ++k) {
            link::Client& client = *table.clients[k];
            client.tell_time(Seconds{table.time});
            while (client.due()) {
                link::ExtraBytes extra;
                const std::byte bytes[] = {std::byte{3}, std::byte{9}};
                if (client.own_key() && i % 7 == 0) {
                    extra.add(bytes);
                    ++fired;
                }
                client.tick({}, table.ground, extra);
            }
            while (const auto packet = client.next_packet()) {
                table.server.receive(Table::peer_of(k), *packet);
            }
        }
        while (const auto event = table.server.next_event()) {
            if (event->kind == link::ServerEventKind::joined) {
                table.server.spawn(0, {}, event->seat);
            }
        }
        table.server.tick(truth);
        while (const auto packet = table.server.next_packet()) {
            table.clients[packet->peer.value - 1]->receive(packet->bytes, table.ground);
        }
    }
    REQUIRE(truth.sum > 100);
    const Match match = link::read_match(recorder.bytes());
    MatchPlayer player(match, {bearer_chart()});
    while (player.next(again)) {
        REQUIRE(player.differences().empty());
    }
    CHECK(again.sum == truth.sum);
    CHECK(again.others == truth.others);
    REQUIRE(player.runners().size() == 3);
    for (const RunnerKey key : player.runners()) {
        REQUIRE(player.owner(key));
        CHECK(table.server.read_seat(*player.owner(key)).runners[0] == key);
        CHECK(player.chart_index(key) == 0);
    }
    CHECK_THROWS_AS(player.runner({7, 7}), std::out_of_range);
    CHECK(fired > 60);
}

TEST_CASE("Nothing is allocated while a match is recorded, and without room it ends whole") {
    Table table;
    const std::size_t room = std::size_t{1} << 19U;
    MatchRecorder recorder(table.server, {}, room);
    table.server.record(&recorder);
    table.sit(1);
    table.sit(2);
    table.ticks(60);
    for (std::size_t i = 0; i < 2; ++i) {
        table.intents[i].move.forward = 1.0;
    }
    std::size_t allocated = 0;
    std::uint32_t recorded = 0;
    for (int i = 0; i < 200000 && !recorder.over(); ++i) {
        const std::size_t before = allocations();
        for (std::size_t k = 0; k < 2; ++k) {
            table.intents[k].look.yaw = 0.37 * i + 0.01 * i * i;  // so that every tick takes room
        }
        table.server.tick(table.ground);
        while (table.server.next_packet()) {
        }
        allocated += allocations() - before;
        recorded = recorder.ticks();
    }
    CHECK(allocated == 0);
    REQUIRE(recorder.over());
    const Match match = link::read_match(recorder.bytes());
    CHECK(match.ticks == recorded);
    CHECK_FALSE(match.cut_short);
    MatchPlayer player(match, {bearer_chart()});
    while (player.next(table.ground)) {
        REQUIRE(player.differences().empty());
    }
}

TEST_CASE("A match of two charts over a course plays again, each runner by its own") {
    const std::vector<Chart> charts{bearer_chart(), load_chart(demo("charts/eel.toml")).chart};
    const Course relay = load_course(demo("courses/relay.toml"));
    for (const double rate : {10.0, 30.0, 240.0}) {
        CAPTURE(rate);
        link::ServerConfig config = Table::usual_config();
        config.runners = 5;
        config.tick_rate = rate;
        config.snapshot_every = 1;
        link::Server server(charts, config);
        MatchRecorder recorder(server);
        server.record(&recorder);
        rehearsal::OnCourse world(relay, charts, rate), again(relay, charts, rate);
        std::vector<rehearsal::HumanHands> hands;
        std::vector<RunnerKey> keys;
        for (std::size_t i = 0; i < 5; ++i) {
            keys.push_back(*server.spawn(i % 2, {{static_cast<double>(i), 0.0, 0.0}, 0.0}));
            hands.emplace_back(charts[i % 2], i + 1);
        }
        const auto ticks = static_cast<std::uint32_t>(12.0 * rate);
        for (std::uint32_t tick = 0; tick < ticks; ++tick) {
            for (std::size_t i = 0; i < 5; ++i) {
                server.direct(keys[i], hands[i].next(Seconds{1.0 / rate}));
            }
            server.tick(world);
        }
        const Match match = link::read_match(recorder.bytes());
        CHECK(match.ticks == ticks);
        MatchPlayer player(match, charts);
        while (player.next(again)) {
            REQUIRE(player.differences().empty());
        }
        for (std::size_t i = 0; i < 5; ++i) {
            CHECK(digest(player.runner(keys[i])) == digest(server.runner(keys[i])));
            CHECK(player.chart_index(keys[i]) == i % 2);
        }
        CHECK_THROWS_AS(MatchPlayer(match, {charts[1], charts[0]}), ChartError);
    }
}
