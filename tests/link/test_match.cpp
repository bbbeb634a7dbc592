#include <catch2/catch.hpp>
#include <cstring>
#include <cursimeter/effects.hpp>
#include <cursimeter/link/match.hpp>
#include <cursimeter/reload.hpp>

#include "link/scene.hpp"
#include "support/counting_new.hpp"

/// Recordings of a whole match.
using namespace support;
using link::Match;
using link::MatchPlayer;
using link::MatchRecorder;
using link::RunnerKey;

namespace {

using Bytes = std::vector<std::byte>;

/// What a server's runners were after each tick, and the match that was recorded.
struct Recording {
    std::map<std::uint32_t, std::map<RunnerKey, std::uint64_t>> digests;
    Bytes bytes;
    std::optional<Course> course;
};

/// A game of human hands over a bad network, with a game that meddles.
Recording record(std::uint64_t seed, double seconds, bool on_course, double rate = 60.0) {
    Recording recording;
    rehearsal::Plan plan = usual_plan(4, seconds);
    plan.seed = seed;
    plan.server.runners = 8;
    plan.server.tick_rate = rate;
    plan.server.snapshot_every = std::max(1U, static_cast<std::uint32_t>(rate / 20.0));
    plan.client.tick_rate = rate;
    rehearsal::Scene scene = quay_scene();
    scene.human_hands = true;
    if (on_course) {
        recording.course = load_course(demo("courses/relay.toml"));
        scene.course = recording.course;
    }
    rehearsal::Rehearsal game(scene, plan);
    rehearsal::Random random(seed);
    std::optional<MatchRecorder> recorder;
    std::optional<RunnerKey> ghost;
    const auto note = [&](link::Server& server) {
        if (!recorder) {
            recorder.emplace(server, link::MatchOrigin{{}, {}, "meddled with"});
            server.record(&*recorder);
        } else {
            recording.digests[server.now().value];
            for (const RunnerKey key : server.runners()) {
                recording.digests[server.now().value][key] = digest(server.runner(key));
            }
            if (random.chance(0.3)) {
                recording.bytes.insert(recording.bytes.end(), recorder->bytes().begin(),
                                       recorder->bytes().end());
                recorder->clear();
            }
        }
    };
    game.before_tick([&](link::Server& server) {
        note(server);
        const std::vector<RunnerKey> keys = server.runners();
        if (keys.empty()) {
            return;
        }
        const RunnerKey any = keys[random.below(keys.size())];
        if (random.chance(0.02)) {
            push(server.runner(any), {.direction = {0.3, 1.0, 0.0}, .strength = 4.0, .seconds = 0.4});
        }
        if (random.chance(0.01)) {
            server.teleport(any, {{random.between(-5.0, 5.0), random.between(-5.0, 5.0), 0.0}, 1.0});
        }
        if (!ghost && random.chance(0.05)) {
            ghost = server.spawn(0, {{9.0, 9.0, 0.0}, 0.5});
        } else if (ghost && random.chance(0.01)) {
            server.despawn(*ghost);
            ghost.reset();
        } else if (ghost && random.chance(0.1)) {
            Intent intent;
            intent.move.forward = 1.0;
            intent.look.yaw = random.between(-3.0, 3.0);
            server.direct(*ghost, intent);
        }
    });
    game.run_until(seconds);
    note(game.server());  // the last tick
    game.server().record(nullptr);
    recording.bytes.insert(recording.bytes.end(), recorder->bytes().begin(), recorder->bytes().end());
    return recording;
}

std::string complaint_of(const Bytes& bytes) {
    try {
        static_cast<void>(link::read_match(bytes, "night.match"));
    } catch (const ChartError& error) {
        return error.what();
    }
    return {};
}

}  // namespace

TEST_CASE("A match plays again bit for bit, whatever hands, network and game did") {
    for (const bool on_course : {false, true}) {
        for (const double rate : {20.0, 60.0, 128.0}) {
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
            link::Stepper& world = on_course ? static_cast<link::Stepper&>(*course) : ground;
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

TEST_CASE("The owner of a runner is known by its seat, and its extra bytes come to the stepper again") {
    struct Counting : link::Stepper {
        Report step(const Chart& chart, Runner& runner, const Intent& intent,
                    const link::StepContext& context) noexcept override {
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
        CHECK(table.server.read_seat(*player.owner(key)).runner == key);
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

TEST_CASE("What is no match, of another version, damaged or cut off is told with its byte") {
    const Recording recording = record(5, 3.0, false);
    const Bytes& good = recording.bytes;
    const Match whole = link::read_match(good);
    CHECK(complaint_of({}) ==
          "night.match: byte 0: is no match; record one with MatchRecorder, or `cursimeter net --match`");
    Bytes other = good;
    other[8] = std::byte{9};
    CHECK(complaint_of(other) ==
          "night.match: byte 12: is a match of version 9; this program reads version 1");
    for (std::size_t size : {20U, 40U, 50U}) {
        CHECK_THAT(complaint_of(Bytes(good.begin(), good.begin() + static_cast<std::ptrdiff_t>(size))),
                   Catch::Contains("is cut off in its heading") || Catch::Contains("has 0 places"));
    }
    for (const double rate : {5.0, 2000.0, std::nan("")}) {
        other = good;
        std::memcpy(&other[12], &rate, sizeof rate);  // on a machine whose lowest byte comes first
        CHECK_THAT(complaint_of(other), Catch::Contains(" ticks a second; 10 to 1000 are possible"));
    }
    for (const auto& [at, value] : {std::pair{36, 0}, {38, 0}, {38, 17}}) {
        other = good;
        other[static_cast<std::size_t>(at)] = static_cast<std::byte>(value);
        CHECK_THAT(complaint_of(other), Catch::Contains(" charts; the file is damaged"));
    }
    Bytes damaged = good;
    damaged[whole.blocks[7].begin] ^= std::byte{4};
    CHECK_THAT(complaint_of(damaged),
               Catch::Contains("byte " + std::to_string(whole.blocks[6].begin + whole.blocks[6].size) +
                               ": is damaged in tick 8; what stands before it can be kept"));
    // Cut off anywhere it is a match up to there.
    rehearsal::Random random(1);
    for (int i = 0; i < 200; ++i) {
        const std::size_t size = whole.blocks[0].begin + random.below(good.size() - whole.blocks[0].begin);
        const Match cut =
            link::read_match(Bytes(good.begin(), good.begin() + static_cast<std::ptrdiff_t>(size)));
        REQUIRE(cut.ticks <= whole.ticks);
        MatchPlayer player(cut, {bearer_chart()});
        link::OpenGround ground;
        while (player.next(ground)) {
            REQUIRE(player.differences().empty());
        }
    }
    CHECK_THROWS_WITH(MatchPlayer(whole, {}),
                      Catch::Contains("chart 0: is not the match's; give the 1 charts"));
    CHECK_THROWS_WITH(MatchPlayer(whole, {load_chart(demo("charts/eel.toml")).chart}),
                      Catch::Contains("chart 0: is not the match's"));
    Table table;
    CHECK_THROWS_WITH(MatchRecorder(table.server, {{"a", "b"}, {}, {}}),
                      Catch::Contains("charts: 2 texts for 1 charts"));
}

TEST_CASE("Bytes that a checksum vouches for and that make no sense harm nobody") {
    const Recording recording = record(6, 2.0, false);
    const Match whole = link::read_match(recording.bytes);
    rehearsal::Random random(2);
    std::size_t refused = 0;
    for (int i = 0; i < 400; ++i) {
        Match wild = whole;
        for (std::uint64_t k = 1 + random.below(30); k > 0; --k) {
            const Match::Block& block = wild.blocks[random.below(wild.blocks.size())];
            if (block.size > 0) {
                wild.bytes[block.begin + random.below(block.size)] = static_cast<std::byte>(random.next());
            }
        }
        MatchPlayer player(wild, {bearer_chart()});
        link::OpenGround ground;
        try {
            while (player.next(ground)) {
                for (const RunnerKey key : player.runners()) {
                    REQUIRE(std::isfinite(player.runner(key).position().x));
                }
            }
        } catch (const ChartError&) {
            ++refused;
        }
    }
    CHECK(refused > 20);
}
