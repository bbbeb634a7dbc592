#include <cursimeter/cursimeter_crowd.h>

#include <catch2/catch.hpp>
#include <cmath>
#include <cstring>
#include <limits>
#include <random>
#include <vector>

#include "capi/loaded.hpp"

using namespace support;

/// Crowds through the C interface against `cursimeter_advance` for each.
namespace {

struct MadeCrowd {
    cursimeter_crowd* all = nullptr;
    cursimeter_crowd_report* report = nullptr;
    explicit MadeCrowd(const Loaded& loaded, std::size_t most_events = 5000) {
        REQUIRE(cursimeter_crowd_new(loaded.chart, &all, loaded.error) == CURSIMETER_OK);
        REQUIRE(cursimeter_crowd_report_new(most_events, &report, loaded.error) == CURSIMETER_OK);
    }
    MadeCrowd(const MadeCrowd&) = delete;
    MadeCrowd& operator=(const MadeCrowd&) = delete;
    ~MadeCrowd() {
        cursimeter_crowd_report_free(report);
        cursimeter_crowd_free(all);
    }
    void fill(std::size_t count) {
        for (std::size_t i = 0; i < count; ++i) {
            const cursimeter_placement start{{0.0, 0.1 * static_cast<double>(i), 0.0}, 0.0};
            REQUIRE(cursimeter_crowd_spawn(all, &start, nullptr, nullptr) == CURSIMETER_OK);
        }
    }
    [[nodiscard]] std::vector<cursimeter_crowd_event> events() const {
        std::size_t count = 0;
        const cursimeter_crowd_event* first = cursimeter_crowd_events(report, &count);
        return {first, first + count};
    }
    [[nodiscard]] cursimeter_crowd_summary summary() const {
        cursimeter_crowd_summary summary = CURSIMETER_CROWD_SUMMARY_INIT;
        REQUIRE(cursimeter_crowd_summarise(report, &summary) == CURSIMETER_OK);
        return summary;
    }
    [[nodiscard]] std::uint64_t digest(std::size_t index) const {
        cursimeter_runner runner;
        REQUIRE(cursimeter_crowd_get(all, index, &runner) == CURSIMETER_OK);
        return cursimeter_digest(&runner);
    }
};

/// CrowdHands that hold keys for a while, turn in some ticks, tap inside ticks and look at a lamp.
struct CrowdHands {
    explicit CrowdHands(std::size_t count)
        : intents(count, CURSIMETER_INTENT_INIT), taps(count), lamps(count), random(9) {}
    void think() {
        for (std::size_t i = 0; i < intents.size(); ++i) {
            cursimeter_intent& intent = intents[i];
            if (random() % 20 == 0) {
                intent.forward = static_cast<double>(random() % 3) - 1.0;
                intent.side = static_cast<double>(random() % 3) - 1.0;
                intent.held = random() % 64;
                intent.facing = random() % 4 == 0 ? 1 : 0;
            }
            if (i % 2 == 0) {
                intent.yaw += static_cast<double>(random() % 100) * 1e-4;
            }
            const auto action = static_cast<std::int32_t>(random() % 6);
            taps[i] = {cursimeter_change{0.004, CURSIMETER_PRESS, action, 0, 0},
                       cursimeter_change{0.009, CURSIMETER_RELEASE, action, 0, 0}};
            intent.changes = taps[i].data();
            intent.change_count = random() % 15 == 0 ? 2 : 0;
            lamps[i] = {{5.0, 5.0, 0.0}, {0.1, 0.0, 0.0}, 1.6};
            intent.focus = i % 7 == 0 ? &lamps[i] : nullptr;
        }
    }
    std::vector<cursimeter_intent> intents;
    std::vector<std::array<cursimeter_change, 2>> taps;
    std::vector<cursimeter_focus> lamps;
    std::mt19937 random;
};

}  // namespace

TEST_CASE("a crowd in C runs as its runners do alone, in one part or in two, to the bit", "[capi]") {
    const bool on_course = GENERATE(false, true);
    const Loaded bearer("bearer");
    cursimeter_terrain* relay = nullptr;
    if (on_course) {
        REQUIRE(cursimeter_terrain_load((demo + "courses/relay.toml").c_str(), bearer.chart, &relay,
                                        nullptr) == CURSIMETER_OK);
    }
    constexpr std::size_t count = 60;
    MadeCrowd whole(bearer), parts(bearer);
    whole.fill(count);
    parts.fill(count);
    cursimeter_crowd_report* second = nullptr;
    REQUIRE(cursimeter_crowd_report_new(5000, &second, nullptr) == CURSIMETER_OK);
    std::vector<cursimeter_runner> alone(count);
    for (std::size_t i = 0; i < count; ++i) {
        REQUIRE(cursimeter_crowd_get(whole.all, i, &alone[i]) == CURSIMETER_OK);
    }
    CrowdHands hands(count);
    cursimeter_report report;
    report.size = sizeof(report);
    std::size_t told = 0;
    for (int tick = 0; tick < 200; ++tick) {
        hands.think();
        const double dt = tick % 10 == 9 ? 0.05 : 1.0 / 60.0;
        REQUIRE(cursimeter_crowd_advance(whole.all, 0, hands.intents.data(), count, relay, dt, whole.report,
                                         nullptr) == CURSIMETER_OK);
        REQUIRE(cursimeter_crowd_advance(parts.all, 0, hands.intents.data(), 17, relay, dt, parts.report,
                                         nullptr) == CURSIMETER_OK);
        REQUIRE(cursimeter_crowd_advance(parts.all, 17, hands.intents.data() + 17, count - 17, relay, dt,
                                         second, nullptr) == CURSIMETER_OK);
        const std::vector<cursimeter_crowd_event> events = whole.events();
        std::size_t next = 0;
        for (std::size_t i = 0; i < count; ++i) {
            REQUIRE(cursimeter_advance(bearer.chart, &alone[i], &hands.intents[i], relay, dt, &report) ==
                    CURSIMETER_OK);
            for (std::uint32_t k = 0; k < report.event_count; ++k, ++next) {
                REQUIRE(next < events.size());
                CHECK(events[next].runner == i);
                CHECK(std::memcmp(&events[next].event, &report.events[k], sizeof(cursimeter_event)) == 0);
            }
        }
        CHECK(next == events.size());
        told += next;
        std::size_t of_first = 0, of_second = 0;
        static_cast<void>(cursimeter_crowd_events(parts.report, &of_first));
        static_cast<void>(cursimeter_crowd_events(second, &of_second));
        CHECK(of_first + of_second == next);
    }
    CHECK(told > 1000);
    std::vector<double> places(3 * count);
    REQUIRE(cursimeter_crowd_positions(whole.all, 0, count, places.data()) == CURSIMETER_OK);
    for (std::size_t i = 0; i < count; ++i) {
        CHECK(whole.digest(i) == cursimeter_digest(&alone[i]));
        CHECK(parts.digest(i) == cursimeter_digest(&alone[i]));
        cursimeter_reading reading = CURSIMETER_READING_INIT;
        cursimeter_crowd_reading seen = CURSIMETER_CROWD_READING_INIT;
        REQUIRE(cursimeter_read(bearer.chart, &alone[i], &reading) == CURSIMETER_OK);
        REQUIRE(cursimeter_crowd_read(whole.all, i, &seen) == CURSIMETER_OK);
        CHECK(std::memcmp(seen.position, reading.position, sizeof(seen.position)) == 0);
        CHECK(std::memcmp(&places[3 * i], reading.position, sizeof(seen.position)) == 0);
        CHECK(std::memcmp(seen.velocity, reading.velocity, sizeof(seen.velocity)) == 0);
        CHECK(seen.speed == reading.speed);
        CHECK(seen.distance == reading.distance);
        CHECK(seen.yaw == reading.yaw);
        CHECK(seen.state == reading.state);
        CHECK(seen.grounded == reading.grounded);
    }
    cursimeter_crowd_report_free(second);
    cursimeter_terrain_free(relay);
}

TEST_CASE("runners join a crowd in C, are changed, and leave it", "[capi]") {
    const Loaded bearer("bearer");
    MadeCrowd crowd(bearer);
    REQUIRE(cursimeter_crowd_reserve(crowd.all, 100, nullptr) == CURSIMETER_OK);
    CHECK(cursimeter_crowd_size(crowd.all) == 0);
    crowd.fill(3);
    cursimeter_runner runner;
    REQUIRE(cursimeter_crowd_get(crowd.all, 1, &runner) == CURSIMETER_OK);
    const int stamina = cursimeter_find(bearer.chart, CURSIMETER_METERS, "stamina", nullptr);
    REQUIRE(cursimeter_spend(bearer.chart, &runner, stamina, 40.0, nullptr) == CURSIMETER_OK);
    const std::uint64_t tired = cursimeter_digest(&runner);
    std::size_t index = 0;
    REQUIRE(cursimeter_crowd_add(crowd.all, &runner, &index, nullptr) == CURSIMETER_OK);
    CHECK(index == 3);
    CHECK(crowd.digest(3) == tired);
    CHECK(crowd.digest(1) != tired);
    REQUIRE(cursimeter_crowd_set(crowd.all, 1, &runner, nullptr) == CURSIMETER_OK);
    CHECK(crowd.digest(1) == tired);
    const std::uint64_t first = crowd.digest(0);
    REQUIRE(cursimeter_crowd_remove(crowd.all, 2) == CURSIMETER_OK);
    CHECK(cursimeter_crowd_size(crowd.all) == 3);
    CHECK(crowd.digest(2) == tired);  // the last one took its place
    CHECK(crowd.digest(0) == first);
    cursimeter_chart* second = nullptr;
    REQUIRE(cursimeter_chart_load((demo + "charts/eel.toml").c_str(), &second, nullptr) == CURSIMETER_OK);
    REQUIRE(cursimeter_spawn(second, nullptr, &runner, nullptr) == CURSIMETER_OK);
    cursimeter_chart_free(second);
    CHECK(cursimeter_crowd_set(crowd.all, 0, &runner, bearer.error) == CURSIMETER_BAD_INPUT);
    CHECK(cursimeter_crowd_add(crowd.all, &runner, nullptr, bearer.error) == CURSIMETER_BAD_INPUT);
    CHECK(crowd.digest(0) == first);
    CHECK(cursimeter_crowd_size(crowd.all) == 3);
}

TEST_CASE("a crowd in C holds runners of several charts, which come and go", "[capi]") {
    const Loaded bearer("bearer"), gannet("gannet"), eel("eel");
    MadeCrowd crowd(bearer);
    REQUIRE(cursimeter_crowd_add_chart(crowd.all, gannet.chart, nullptr) == CURSIMETER_OK);
    REQUIRE(cursimeter_crowd_add_chart(crowd.all, gannet.chart, nullptr) == CURSIMETER_OK);  // once more
    std::vector<cursimeter_runner> alone(6);
    for (std::size_t i = 0; i < alone.size(); ++i) {
        const cursimeter_placement start{{1.0, 2.0, 0.0}, 0.5};
        std::size_t index = 99;
        REQUIRE(cursimeter_crowd_spawn_of(crowd.all, i % 2 == 0 ? bearer.chart : gannet.chart, &start, &index,
                                          bearer.error) == CURSIMETER_OK);
        CHECK(index == i);
        CHECK(cursimeter_crowd_is_of(crowd.all, i, bearer.chart) == (i % 2 == 0 ? 1 : 0));
        CHECK(cursimeter_crowd_is_of(crowd.all, i, gannet.chart) == (i % 2 == 0 ? 0 : 1));
        REQUIRE(cursimeter_crowd_get(crowd.all, i, &alone[i]) == CURSIMETER_OK);
    }
    CrowdHands hands(alone.size());
    cursimeter_report report;
    report.size = sizeof(report);
    for (int tick = 0; tick < 200; ++tick) {
        hands.think();
        REQUIRE(cursimeter_crowd_advance(crowd.all, 0, hands.intents.data(), alone.size(), nullptr,
                                         1.0 / 60.0, crowd.report, nullptr) == CURSIMETER_OK);
        for (std::size_t i = 0; i < alone.size(); ++i) {
            REQUIRE(cursimeter_advance(i % 2 == 0 ? bearer.chart : gannet.chart, &alone[i], &hands.intents[i],
                                       nullptr, 1.0 / 60.0, &report) == CURSIMETER_OK);
            REQUIRE(crowd.digest(i) == cursimeter_digest(&alone[i]));
        }
    }
    CHECK(cursimeter_crowd_spawn_of(crowd.all, eel.chart, nullptr, nullptr, bearer.error) ==
          CURSIMETER_BAD_INPUT);
    CHECK(std::string(cursimeter_error_text(bearer.error)) ==
          "runner: belongs to a chart that the crowd does not know; add its chart first: add_chart");
    CHECK(cursimeter_crowd_set(crowd.all, 0, &alone[1], bearer.error) == CURSIMETER_OK);
    CHECK(cursimeter_crowd_is_of(crowd.all, 0, gannet.chart) == 1);
    CHECK(cursimeter_crowd_remove_chart(crowd.all, bearer.chart) == CURSIMETER_BAD_ARGUMENT);
    REQUIRE(cursimeter_crowd_remove(crowd.all, 4) == CURSIMETER_OK);
    REQUIRE(cursimeter_crowd_remove(crowd.all, 2) == CURSIMETER_OK);
    CHECK(cursimeter_crowd_remove_chart(crowd.all, bearer.chart) == CURSIMETER_OK);
    CHECK(cursimeter_crowd_remove_chart(crowd.all, bearer.chart) == CURSIMETER_BAD_ARGUMENT);
    CHECK(cursimeter_crowd_remove_chart(crowd.all, gannet.chart) == CURSIMETER_BAD_ARGUMENT);
    std::size_t last = 0;
    REQUIRE(cursimeter_crowd_spawn(crowd.all, nullptr, &last, nullptr) == CURSIMETER_OK);
    CHECK(cursimeter_crowd_is_of(crowd.all, last, gannet.chart) == 1);
    CHECK(cursimeter_crowd_is_of(crowd.all, last + 1, gannet.chart) == 0);
    CHECK(cursimeter_crowd_is_of(crowd.all, last, nullptr) == 0);
    CHECK(cursimeter_crowd_is_of(nullptr, 0, gannet.chart) == 0);
    CHECK(cursimeter_crowd_add_chart(nullptr, gannet.chart, bearer.error) == CURSIMETER_BAD_ARGUMENT);
    CHECK(cursimeter_crowd_add_chart(crowd.all, nullptr, bearer.error) == CURSIMETER_BAD_ARGUMENT);
    CHECK(cursimeter_crowd_remove_chart(nullptr, gannet.chart) == CURSIMETER_BAD_ARGUMENT);
    CHECK(cursimeter_crowd_remove_chart(crowd.all, nullptr) == CURSIMETER_BAD_ARGUMENT);
    CHECK(cursimeter_crowd_spawn_of(crowd.all, nullptr, nullptr, nullptr, bearer.error) ==
          CURSIMETER_BAD_ARGUMENT);
}

TEST_CASE("mistakes with a crowd in C are refused, and nobody moves", "[capi]") {
    const Loaded bearer("bearer");
    MadeCrowd crowd(bearer, 4);
    crowd.fill(5);
    const std::uint64_t before = crowd.digest(0);
    std::vector<cursimeter_intent> intents(5, CURSIMETER_INTENT_INIT);
    for (cursimeter_intent& intent : intents) {
        intent.forward = 1.0;
        intent.held = 1;
    }
    const auto advance = [&](std::size_t first, std::size_t count, double seconds = 0.02) {
        return cursimeter_crowd_advance(crowd.all, first, intents.data(), count, nullptr, seconds,
                                        crowd.report, bearer.error);
    };
    const auto words = [&] { return std::string(cursimeter_error_text(bearer.error)); };
    SECTION("of the call") {
        CHECK(advance(0, 6) == CURSIMETER_BAD_ARGUMENT);
        CHECK(words().find("first or count") == 0);
        CHECK(advance(1, 5) == CURSIMETER_BAD_ARGUMENT);
        CHECK(advance(6, 0) == CURSIMETER_BAD_ARGUMENT);
        CHECK(advance(5, 0) == CURSIMETER_OK);
        CHECK(advance(std::numeric_limits<std::size_t>::max(), 2) == CURSIMETER_BAD_ARGUMENT);
        CHECK(advance(2, std::numeric_limits<std::size_t>::max()) == CURSIMETER_BAD_ARGUMENT);
        CHECK(cursimeter_crowd_advance(nullptr, 0, intents.data(), 5, nullptr, 0.02, crowd.report,
                                       bearer.error) == CURSIMETER_BAD_ARGUMENT);
        CHECK(words().find("crowd") != std::string::npos);
        CHECK(cursimeter_crowd_advance(crowd.all, 0, nullptr, 5, nullptr, 0.02, crowd.report, nullptr) ==
              CURSIMETER_BAD_ARGUMENT);
        CHECK(cursimeter_crowd_advance(crowd.all, 0, intents.data(), 5, nullptr, 0.02, nullptr,
                                       bearer.error) == CURSIMETER_BAD_ARGUMENT);
        CHECK(words().find("report") != std::string::npos);
        CHECK(crowd.digest(0) == before);
    }
    SECTION("of an intent: it is named") {
        intents[3].size = 0;
        CHECK(advance(0, 5) == CURSIMETER_BAD_ARGUMENT);
        CHECK(words().find("intents[3]") != std::string::npos);
        intents[3] = CURSIMETER_INTENT_INIT;
        intents[2].change_count = 1;
        CHECK(advance(0, 5) == CURSIMETER_BAD_ARGUMENT);
        CHECK(words().find("intents[2]") != std::string::npos);
        const std::vector<cursimeter_change> many(40);
        intents[2].changes = many.data();
        intents[2].change_count = many.size();
        CHECK(advance(0, 5) == CURSIMETER_BAD_ARGUMENT);
        intents[2].change_count = 0;
        intents[0].size = 8;
        CHECK(advance(0, 5) == CURSIMETER_BAD_ARGUMENT);
        CHECK(words().find("intents[0]") != std::string::npos);
        CHECK(crowd.digest(0) == before);
    }
    SECTION("of the time: told in the summary") {
        CHECK(advance(0, 5, std::nan("")) == CURSIMETER_BAD_INPUT);
        CHECK(crowd.summary().refused == 5);
        CHECK(crowd.summary().advanced == 0);
        CHECK(std::string(cursimeter_refusal_name(crowd.summary().first_refusal)) == "bad seconds");
        CHECK(crowd.digest(0) == before);
        CHECK(advance(0, 5, 3.0) == CURSIMETER_OK);
        CHECK(crowd.summary().dt_shortened == 1);
        CHECK(crowd.summary().advanced == 5);
        intents[1].forward = std::nan("");
        CHECK(advance(0, 5) == CURSIMETER_OK);
        CHECK(crowd.summary().intents_mended == 1);
    }
    SECTION("events that do not fit are counted") {
        CHECK(advance(0, 5) == CURSIMETER_OK);
        CHECK(crowd.events().size() == 4);
        CHECK(crowd.summary().events_lost > 5);
    }
    SECTION("of reading") {
        cursimeter_runner runner;
        cursimeter_crowd_reading reading = CURSIMETER_CROWD_READING_INIT;
        std::vector<double> places(15);
        CHECK(cursimeter_crowd_get(crowd.all, 5, &runner) == CURSIMETER_BAD_ARGUMENT);
        CHECK(cursimeter_crowd_get(crowd.all, 0, nullptr) == CURSIMETER_BAD_ARGUMENT);
        CHECK(cursimeter_crowd_set(crowd.all, 0, nullptr, nullptr) == CURSIMETER_BAD_ARGUMENT);
        CHECK(cursimeter_crowd_remove(crowd.all, 5) == CURSIMETER_BAD_ARGUMENT);
        CHECK(cursimeter_crowd_read(crowd.all, 5, &reading) == CURSIMETER_BAD_ARGUMENT);
        reading.size = 1;
        CHECK(cursimeter_crowd_read(crowd.all, 0, &reading) == CURSIMETER_BAD_ARGUMENT);
        CHECK(cursimeter_crowd_positions(crowd.all, 1, 5, places.data()) == CURSIMETER_BAD_ARGUMENT);
        CHECK(cursimeter_crowd_positions(crowd.all, 0, 5, nullptr) == CURSIMETER_BAD_ARGUMENT);
        CHECK(cursimeter_crowd_positions(nullptr, 0, 0, nullptr) == CURSIMETER_BAD_ARGUMENT);
        cursimeter_crowd* other = crowd.all;
        CHECK(cursimeter_crowd_new(nullptr, &other, nullptr) == CURSIMETER_BAD_ARGUMENT);
        CHECK(other == nullptr);
        CHECK(cursimeter_crowd_report_new(4, nullptr, nullptr) == CURSIMETER_BAD_ARGUMENT);
        CHECK(cursimeter_crowd_spawn(nullptr, nullptr, nullptr, nullptr) == CURSIMETER_BAD_ARGUMENT);
        const cursimeter_placement nowhere{{std::nan(""), 0.0, 0.0}, 0.0};
        CHECK(cursimeter_crowd_spawn(crowd.all, &nowhere, nullptr, bearer.error) == CURSIMETER_BAD_INPUT);
        CHECK(cursimeter_crowd_reserve(crowd.all, std::numeric_limits<std::size_t>::max(), bearer.error) !=
              CURSIMETER_OK);
        CHECK(cursimeter_crowd_size(crowd.all) == 5);
        cursimeter_crowd_free(nullptr);
        cursimeter_crowd_report_free(nullptr);
        std::size_t count = 7;
        CHECK(cursimeter_crowd_events(nullptr, &count) == nullptr);
        CHECK(count == 0);
    }
}

TEST_CASE("a program with a longer intent than this version knows moves its crowd", "[capi]") {
    struct Longer {
        cursimeter_intent intent = CURSIMETER_INTENT_INIT;
        double later[3] = {7.0, 7.0, 7.0};
    };
    const Loaded bearer("bearer");
    MadeCrowd crowd(bearer), same(bearer);
    crowd.fill(4);
    same.fill(4);
    std::vector<Longer> longer(4);
    std::vector<cursimeter_intent> intents(4, CURSIMETER_INTENT_INIT);
    for (std::size_t i = 0; i < 4; ++i) {
        intents[i].forward = longer[i].intent.forward = 0.25 * static_cast<double>(i);
        longer[i].intent.size = sizeof(Longer);
    }
    REQUIRE(cursimeter_crowd_advance(crowd.all, 0, &longer[0].intent, 4, nullptr, 0.05, crowd.report,
                                     nullptr) == CURSIMETER_OK);
    REQUIRE(cursimeter_crowd_advance(same.all, 0, intents.data(), 4, nullptr, 0.05, same.report, nullptr) ==
            CURSIMETER_OK);
    for (std::size_t i = 0; i < 4; ++i) {
        CHECK(crowd.digest(i) == same.digest(i));
    }
}
