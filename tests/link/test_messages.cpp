#include <catch2/catch.hpp>
#include <cmath>
#include <cstdio>
#include <fstream>
#include <limits>

#include "core/chart/chart_data.hpp"
#include "link/scene.hpp"
#include "link/wire/exact_runner.hpp"
#include "link/wire/messages.hpp"
#include "link/wire/replica_coding.hpp"
#include "link/wire/stated_intent.hpp"

using namespace support;
using namespace cursimeter::link;

namespace {

constexpr double tick_seconds = 1.0 / 60.0;

/// Runs a player who tries everything and hands each tick_seconds's runner over.
template <class Each>
void play(std::uint64_t seed, double seconds, Each&& each) {
    rehearsal::Random random(seed);
    const Chart& chart = bearer_chart();
    const Drill drill(rehearsal::random_hands(chart, Seconds{seconds}, random), chart);
    Runner runner = drill.spawn(chart);
    DrillPlayer player(drill, runner);
    for (int i = 0; i < static_cast<int>(seconds / tick_seconds); ++i) {
        static_cast<void>(advance(chart, runner, player.intent(i * tick_seconds, (i + 1) * tick_seconds),
                                  Seconds{tick_seconds}));
        each(i, runner);
    }
}

StatedIntent stated_from(rehearsal::Random& random, const StatedIntent& before) {
    StatedIntent intent = random.chance(0.5) ? before.afterwards() : StatedIntent{};
    if (random.chance(0.3)) {
        intent.forward = static_cast<std::int16_t>(random.below(255)) - 127;
        intent.side = static_cast<std::int16_t>(random.below(255)) - 127;
    }
    intent.yaw = random.chance(0.5) ? static_cast<std::int16_t>(random.next() & 0xffffU) : intent.yaw;
    intent.pitch = random.chance(0.2) ? static_cast<std::int16_t>(random.below(65535)) - 32767 : intent.pitch;
    intent.held = random.chance(0.3) ? static_cast<std::uint16_t>(random.next()) : intent.held;
    intent.faces_movement = random.chance(0.1);
    if (random.chance(0.1)) {
        intent.focused = true;
        for (auto* part : {&intent.focus.position[0], &intent.focus.position[2], &intent.focus.velocity[1]}) {
            *part = static_cast<std::int32_t>(random.next());
        }
    } else {
        intent.focused = false;
        intent.focus = before.focus;
    }
    std::uint16_t at = 0;
    for (std::uint64_t i = random.below(4) * random.below(5); i > 0; --i) {
        StatedChange& change = intent.changes[intent.change_count++];
        at = static_cast<std::uint16_t>(at + random.below(80));
        change.at = at;
        change.kind = static_cast<ChangeKind>(random.below(4));
        if (change.kind == ChangeKind::press || change.kind == ChangeKind::release) {
            change.action = static_cast<std::uint8_t>(random.below(16));
        } else {
            change.x = static_cast<std::int16_t>(random.below(255)) - 127;
            change.y = static_cast<std::int16_t>(random.below(255)) - 127;
        }
    }
    return intent;
}

}  // namespace

TEST_CASE("Intents come out of the wire as they went in, each told by the one before") {
    rehearsal::Random random(3);
    for (int round = 0; round < 300; ++round) {
        std::vector<StatedIntent> sent;
        StatedIntent before;
        for (int i = 0; i < 12; ++i) {
            sent.push_back(before = stated_from(random, before));
        }
        std::vector<std::byte> buffer(4000);
        wire::Writer writer(buffer);
        wire::IntentModels models;
        before = {};
        for (StatedIntent intent : sent) {
            wire::code_intent(writer, models, intent, before);
            before = intent;
        }
        wire::Reader reader({buffer.data(), writer.finish()});
        wire::IntentModels again;
        before = {};
        for (const StatedIntent& expected : sent) {
            StatedIntent intent;
            wire::code_intent(reader, again, intent, before);
            REQUIRE(intent == expected);
            before = intent;
        }
    }
}

TEST_CASE("Stating an intent keeps full stick and key times, and turns nonsense into nothing") {
    Intent intent;
    intent.move = {1.0, 0.0};
    intent.look = {-1.0, 0.5};
    const Change press = Change::press(ActionId{0}, tick_seconds * 0.5);
    intent.changes = std::span(&press, 1);
    const StatedIntent stated = state_intent(intent, tick_seconds, 0x3);
    const PlayedIntent played(stated, tick_seconds);
    CHECK(played.intent().move == Move{1.0, 0.0});
    CHECK(std::fabs(played.intent().look.yaw + 1.0) < 5e-5);
    CHECK(std::fabs(played.intent().look.pitch - 0.5) < 5e-5);
    REQUIRE(played.intent().changes.size() == 1);
    CHECK(played.intent().changes[0].at == tick_seconds * 0.5);

    const double nan = std::numeric_limits<double>::quiet_NaN(),
                 endless = std::numeric_limits<double>::infinity();
    for (const double bad : {nan, endless, -endless, 1e300}) {
        Intent worse;
        worse.move = {bad, bad};
        worse.look = {bad, bad};
        worse.held = 0xffff'ffff;
        const Change changes[3] = {{bad, ChangeKind::move, {}, bad, bad},
                                   {bad, ChangeKind::press, ActionId{200}, 0, 0},
                                   {bad, ChangeKind::release, ActionId{1}, 0, 0}};
        worse.changes = changes;
        const StatedIntent mended = state_intent(worse, tick_seconds, 0x3);
        CHECK(mended.held == 0x3);
        CHECK(mended.change_count == 2);
        const PlayedIntent sane(mended, tick_seconds);
        CHECK(std::hypot(sane.intent().move.forward, sane.intent().move.side) < 1.5);
        CHECK(std::fabs(sane.intent().look.yaw) <= 3.1416);
    }
    std::vector<Change> many(40, Change::press(ActionId{0}, 0.001));
    intent.changes = many;
    CHECK(state_intent(intent, tick_seconds, 0x3).change_count == most_stated_changes);
}

TEST_CASE("A runner comes out of the wire with the same digest, whatever it is doing, and goes on alike") {
    const Chart& chart = bearer_chart();
    std::size_t largest = 0, compared = 0;
    play(5, 40.0, [&](int i, const Runner& runner) {
        std::vector<std::byte> buffer(600);
        wire::Writer writer(buffer);
        wire::write_runner(writer, runner);
        const std::size_t size = writer.finish();
        largest = std::max(largest, size);
        Runner read;
        wire::Reader reader({buffer.data(), size});
        REQUIRE(wire::read_runner(reader, chart, read));
        REQUIRE(digest(read) == digest(runner));
        if (i % 10 == 0) {
            Runner original = runner;
            Intent intent;
            intent.move = {1.0, 0.0};
            static_cast<void>(advance(chart, original, intent, Seconds{0.1}));
            static_cast<void>(advance(chart, read, intent, Seconds{0.1}));
            REQUIRE(digest(read) == digest(original));
            ++compared;
        }
    });
    CHECK(compared > 200);
    CHECK(largest <= 400);  // of a packet's 1,200 bytes
}

TEST_CASE("A runner with one field that no runner can have is refused, whichever it is") {
    const Chart& chart = bearer_chart();
    const auto comes = [&](auto&& spoil) {
        Runner runner = spawn(chart);
        spoil(detail::RunnerAccess::state(runner));
        std::vector<std::byte> bytes(packet_bytes);
        wire::Writer writer(bytes);
        wire::write_runner(writer, runner);
        const std::size_t size = writer.finish();
        wire::Reader reader({bytes.data(), size});
        Runner read;
        return wire::read_runner(reader, chart, read);
    };
    using State = detail::RunnerState;
    const double nothing = std::numeric_limits<double>::quiet_NaN();
    CHECK(comes([](State&) {}));
    CHECK_FALSE(comes([](State& s) { s.state = 63; }));
    CHECK_FALSE(comes([](State& s) { s.chart_tag ^= 1U; }));
    CHECK_FALSE(comes([](State& s) { s.clock = -1.0; }));
    CHECK_FALSE(comes([](State& s) { s.clock = 2e9; }));
    CHECK_FALSE(comes([](State& s) { s.lag = 1.0F; }));
    CHECK_FALSE(comes([](State& s) { s.lag = -1e-10F; }));
    CHECK_FALSE(comes([](State& s) { s.held = 1U << 31U; }));
    CHECK_FALSE(comes([](State& s) { s.toggles = 1U << 31U; }));
    CHECK_FALSE(comes([](State& s) { s.ticking = detail::TimerMask{1} << (limits::timers - 1); }));
    CHECK_FALSE(comes([](State& s) { s.spent = 1U << 11U; }));
    CHECK_FALSE(comes([](State& s) { s.used = std::uint64_t{9} << 60U; }));
    CHECK_FALSE(comes([](State& s) { s.blocks.back() = 1; }));
    CHECK_FALSE(comes([](State& s) { s.above[0] = 200; }));
    CHECK_FALSE(comes([](State& s) { s.modifier_count = 1; }));
    CHECK_FALSE(comes([](State& s) {
        s.modifier_count = 1;
        s.modifiers[0].modifier = 31;
        s.modifiers[0].strength = 100;
    }));
    CHECK_FALSE(comes([](State& s) { s.holders[0] = {31, 0, 100}; }));
    CHECK_FALSE(comes([&](State& s) { s.position.y = nothing; }));
    CHECK_FALSE(comes([&](State& s) { s.velocity.z = nothing; }));
    CHECK_FALSE(comes([&](State& s) { s.meters[0].level = nothing; }));
    CHECK_FALSE(comes([&](State& s) { s.look_yaw = std::numeric_limits<double>::infinity(); }));
    CHECK_FALSE(comes([&](State& s) { s.segment_due = nothing; }));
    CHECK_FALSE(comes([&](State& s) { s.condition_due = nothing; }));
}

TEST_CASE("Bytes that are no runner of the chart are refused, and others can be run without harm") {
    const Chart& chart = bearer_chart();
    rehearsal::Random random(8);
    Runner good = spawn(chart);
    std::vector<std::byte> original(600);
    wire::Writer writer(original);
    wire::write_runner(writer, good);
    original.resize(writer.finish());
    std::size_t refused = 0, taken = 0;
    for (int i = 0; i < 3000; ++i) {
        std::vector<std::byte> bytes = original;
        for (std::uint64_t k = 1 + random.below(4); k > 0; --k) {
            bytes[random.below(bytes.size())] ^= static_cast<std::byte>(1U << random.below(8));
        }
        Runner runner = good;
        wire::Reader reader(bytes);
        if (!wire::read_runner(reader, chart, runner)) {
            ++refused;
            REQUIRE(digest(runner) == digest(good));
            continue;
        }
        ++taken;
        for (int tick_number = 0; tick_number < 5; ++tick_number) {
            static_cast<void>(advance(chart, runner, Intent{}, Seconds{tick_seconds}));
        }
    }
    CHECK(refused > 1000);
    CHECK(taken > 0);
}

TEST_CASE(
    "What others are told is within a centimetre of the truth, and equal at both ends from any baseline") {
    const Cast cast(bearer_chart());
    const SnapshotInterval interval{tick_seconds, 3};
    std::vector<Replica> told;
    std::vector<std::size_t> refreshed;
    std::size_t quiet = 0;
    play(11, 60.0, [&](int i, const Runner& runner) {
        if ((i + 1) % static_cast<int>(interval.every) != 0) {
            return;
        }
        const auto number = static_cast<std::uint32_t>(told.size());
        Replica truth = observe(cast, runner, 0.0, 0);
        truth.changed = number == 0 ? 0 : number * interval.fine() - 20;
        truth.turned = number == 0 ? 0 : (number - 1) * interval.fine() + number % 3 * fine_per_tick;
        Replica now = rounded(truth);
        bool fresh = true;
        if (number > 0) {
            const bool wished = wishes_differ(told.back(), truth);
            const Replica predicted =
                predict_to(cast, interval, told.back(), number - 1, number, wished ? &truth : nullptr);
            now = settle_on(predicted, truth);
            fresh = wished || !(now == predicted);
            now = fresh ? rounded(now) : now;
            quiet += fresh ? 0 : 1;
        }
        refreshed.push_back(fresh ? told.size() : refreshed.back());
        told.push_back(now);
        const glm::dvec3 off = position_of(now) - runner.position();
        // Told to 1 cm when it is more than 1 cm off.
        REQUIRE(std::fabs(off.x) <= 0.0155);
        REQUIRE(std::fabs(off.y) <= 0.0155);
        REQUIRE(std::fabs(off.z) <= 0.0155);
        REQUIRE(now.state == runner.state().index);
    });
    CHECK(quiet > told.size() / 3);
    // The receiver goes on from an older replica by itself, and from there to the present one by what was sent.
    rehearsal::Random random(2);
    for (auto now = std::uint32_t{30}; now < told.size(); ++now) {
        const auto base = static_cast<std::uint32_t>(now - 1 - random.below(12));
        const auto last = static_cast<std::uint32_t>(refreshed[now]);
        if (last <= base) {
            REQUIRE(predict_to(cast, interval, told[base], base, now, nullptr) == told[now]);
            continue;
        }
        const auto expect = [&](const Replica* wishes) {
            return predict_to(cast, interval, told[base], base, last, wishes);
        };
        std::vector<std::byte> buffer(300);
        wire::Writer writer(buffer);
        wire::ReplicaModels models, again;
        Replica sent = told[last], came;
        sent.turned = (base + static_cast<std::uint32_t>(random.below(last - base))) * interval.fine();
        wire::code_replica(writer, models, sent, told[base], base * interval.fine(), last * interval.fine(),
                           expect);
        wire::Reader reader({buffer.data(), writer.finish()});
        wire::code_replica(reader, again, came, told[base], base * interval.fine(), last * interval.fine(),
                           expect);
        REQUIRE(came == told[last]);
        REQUIRE(predict_to(cast, interval, came, last, now, nullptr) == told[now]);
        REQUIRE(wire::charted(bearer_chart(), came));
    }
}

TEST_CASE(
    "The page about the wire is of this version, and has every kind of packet with the length it says") {
    std::ifstream file(CURSIMETER_SOURCE_DIR "/docs/netcode.md");
    const std::string page{std::istreambuf_iterator<char>(file), {}};
    CHECK(page.find("Version " + std::to_string(protocol_version) + ". A packet is") != std::string::npos);
    for (unsigned kind = 0xc1; kind <= 0xc8; ++kind) {
        char text[16];
        std::snprintf(text, sizeof text, "| 0x%x ", kind);
        CAPTURE(text);
        CHECK(page.find(text) != std::string::npos);
    }
    std::array<std::byte, 600> packet{};
    const auto says = [&](std::size_t bytes) {
        return page.find(std::to_string(bytes) + " bytes") != std::string::npos;
    };
    CHECK(says(wire::write_message(packet, wire::Kind::hello, wire::Hello{}, 0)));
    wire::Hello sealed;
    sealed.sealed = true;
    sealed.key.fill(0xa5);
    sealed.letter.fill(0x5a);
    CHECK(wire::write_message(packet, wire::Kind::hello, sealed, 0) == wire::hello_bytes);
    CHECK(says(wire::write_message(packet, wire::Kind::challenge, wire::Challenge{~0ULL, ~0ULL}, 0)));
    wire::Welcome welcome{~0ULL, ~0ULL, ~0U, 0xffff, ~0U, 255, 0xffff};
    CHECK(says(wire::write_message(packet, wire::Kind::welcome, welcome, 0)));
    const std::vector<std::byte> ticket(longest_ticket, std::byte{0xff});
    wire::Refused refused{~0ULL, Farewell::turned_away, ~0U, {}};
    CHECK(says(wire::write_message(packet, wire::Kind::refusal, refused, 0)));
    refused.words.keep(ticket);
    CHECK(says(wire::write_message(packet, wire::Kind::refusal, refused, 0)));
    // The greatest bodies fit into their letters.
    wire::HelloBody body;
    body.identity = body.attempt = body.game = body.world = ~0ULL;
    body.rate = ~0U;
    body.chart_count = 31;
    body.charts.fill(~0U);
    body.ticket.keep(ticket);
    const std::array<std::uint8_t, 32> key{1};
    const auto letter = wire::write_letter(body, key, 7);
    const auto read = wire::read_letter<wire::HelloBody>(std::as_bytes(std::span(letter)), key, 7);
    REQUIRE(read);
    CHECK(read->charts == body.charts);
    CHECK(read->identity == body.identity);
    CHECK(std::equal(ticket.begin(), ticket.end(), read->ticket.kept().begin(), read->ticket.kept().end()));
    CHECK_FALSE(wire::read_letter<wire::HelloBody>(std::as_bytes(std::span(letter)), key, 8).has_value());
    const auto second = wire::write_letter(welcome, key, 7);
    CHECK(wire::read_letter<wire::Welcome>(std::as_bytes(std::span(second)), key, 7)->runners == 0xffff);
    const auto third = wire::write_letter(refused, key, 7);
    CHECK(wire::read_letter<wire::Refused>(std::as_bytes(std::span(third)), key, 7)->words.size == 100);
}
