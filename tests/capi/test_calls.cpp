#include <cursimeter/cursimeter.h>

#include <catch2/catch.hpp>
#include <cmath>
#include <cstring>
#include <cursimeter/chartfile/whole_file.hpp>

#include "capi/loaded.hpp"

using namespace support;

/// The calls of the C interface, and that nothing which a C program can hand over breaks them.

TEST_CASE("meters, cooldowns, modifiers, blocks and pushes from C") {
    const Loaded keeper("keeper");
    cursimeter_runner runner;
    REQUIRE(cursimeter_spawn(keeper.chart, nullptr, &runner, nullptr) == CURSIMETER_OK);
    const int stamina = cursimeter_find(keeper.chart, CURSIMETER_METERS, "stamina", nullptr);
    REQUIRE(stamina >= 0);
    cursimeter_meter meter;
    REQUIRE(cursimeter_read_meter(keeper.chart, &runner, stamina, &meter, nullptr) == CURSIMETER_OK);
    CHECK(meter.level == meter.capacity);
    CHECK(cursimeter_spend(keeper.chart, &runner, stamina, meter.capacity * 2.0, nullptr) == CURSIMETER_NO);
    CHECK(cursimeter_spend(keeper.chart, &runner, stamina, meter.capacity, nullptr) == CURSIMETER_OK);
    double fitted = 0.0;
    CHECK(cursimeter_fill(keeper.chart, &runner, stamina, meter.capacity * 3.0, &fitted, nullptr) ==
          CURSIMETER_OK);
    CHECK(fitted == meter.capacity);
    CHECK(cursimeter_spend(keeper.chart, &runner, stamina, -1.0, keeper.error) == CURSIMETER_BAD_INPUT);
    CHECK(std::string(cursimeter_error_text(keeper.error)).find("-1") != std::string::npos);
    const int dash = cursimeter_find(keeper.chart, CURSIMETER_COOLDOWNS, "dash", nullptr);
    REQUIRE(dash >= 0);
    cursimeter_cooldown cooldown;
    int used = 0;
    while (cursimeter_use(keeper.chart, &runner, dash, nullptr) == CURSIMETER_OK) {
        ++used;
    }
    CHECK(used == 2);
    REQUIRE(cursimeter_read_cooldown(keeper.chart, &runner, dash, &cooldown, nullptr) == CURSIMETER_OK);
    CHECK(cooldown.ready == 0);
    CHECK(cooldown.left > 0.0);
    CHECK(cursimeter_refund(keeper.chart, &runner, dash, 2, nullptr) == CURSIMETER_OK);
    const int winded = cursimeter_find(keeper.chart, CURSIMETER_MODIFIERS, "winded", nullptr);
    REQUIRE(winded >= 0);
    cursimeter_modifier modifier;
    CHECK(cursimeter_remove(keeper.chart, &runner, winded, 3, 1, nullptr) == CURSIMETER_NO);
    CHECK(cursimeter_grant(keeper.chart, &runner, winded, 3, 1.0, nullptr) == CURSIMETER_OK);
    CHECK(cursimeter_read_modifier(keeper.chart, &runner, winded, &modifier, nullptr) == CURSIMETER_OK);
    CHECK(modifier.active == 1);
    CHECK(cursimeter_grant(keeper.chart, &runner, winded, 251, 1.0, nullptr) == CURSIMETER_BAD_ARGUMENT);
    if (cursimeter_count(keeper.chart, CURSIMETER_BLOCKS) > 0) {
        int count = -1;
        CHECK(cursimeter_unblock(keeper.chart, &runner, 0, &count, nullptr) == CURSIMETER_NO);
        CHECK(cursimeter_block(keeper.chart, &runner, 0, &count, nullptr) == CURSIMETER_OK);
        CHECK(count == 1);
    }
    cursimeter_push_spec push = CURSIMETER_PUSH_INIT;
    push.strength = 5.0;
    push.seconds = 0.5;
    CHECK(cursimeter_push(keeper.chart, &runner, &push, nullptr) == CURSIMETER_OK);
    push.strength = -5.0;
    CHECK(cursimeter_push(keeper.chart, &runner, &push, nullptr) == CURSIMETER_BAD_INPUT);
    cursimeter_presentation shown = CURSIMETER_PRESENTATION_INIT;
    CHECK(cursimeter_present(keeper.chart, &runner, &shown, nullptr) == CURSIMETER_OK);
}

TEST_CASE("what is null, out of range or of another version is refused and changes nothing") {
    const Loaded loaded("bearer");
    cursimeter_runner runner;
    REQUIRE(cursimeter_spawn(loaded.chart, nullptr, &runner, nullptr) == CURSIMETER_OK);
    const cursimeter_runner before = runner;
    cursimeter_intent intent = CURSIMETER_INTENT_INIT;
    cursimeter_chart* none = loaded.chart;
    CHECK(cursimeter_chart_load(nullptr, &none, loaded.error) == CURSIMETER_BAD_ARGUMENT);
    CHECK(none == nullptr);
    CHECK(std::string(cursimeter_error_text(loaded.error)) ==
          "file: is null, out of range or without its size; see cursimeter.h");
    CHECK(cursimeter_chart_load("gone.toml", &none, loaded.error) == CURSIMETER_BAD_INPUT);
    cursimeter_mistake mistake = CURSIMETER_MISTAKE_INIT;
    REQUIRE(cursimeter_error_count(loaded.error) == 1);
    REQUIRE(cursimeter_error_at(loaded.error, 0, &mistake) == CURSIMETER_OK);
    CHECK(std::string(mistake.file) == "gone.toml");
    CHECK(cursimeter_error_at(loaded.error, 1, &mistake) == CURSIMETER_BAD_ARGUMENT);
    CHECK(cursimeter_chart_parse("name = 1", 8, nullptr, &none, loaded.error) == CURSIMETER_BAD_INPUT);
    CHECK(cursimeter_error_count(loaded.error) > 1);
    CHECK(cursimeter_find(loaded.chart, CURSIMETER_STATES, "sprnt", loaded.error) == -1);
    CHECK(std::string(cursimeter_error_text(loaded.error)) ==
          "the chart has nothing named 'sprnt' there; did you mean 'sprint'?");
    CHECK(cursimeter_find(loaded.chart, 99, "x", nullptr) == -1);
    CHECK(cursimeter_name(loaded.chart, CURSIMETER_STATES, 64) == nullptr);
    const std::pair<int, const char*> kinds[]{
        {CURSIMETER_LEFT, "left"},       {CURSIMETER_ENTERED, "entered"},   {CURSIMETER_EMPTIED, "emptied"},
        {CURSIMETER_JUMPED, "jumped"},   {CURSIMETER_LANDED, "landed"},     {CURSIMETER_BEGAN, "began"},
        {CURSIMETER_REFUSED, "refused"}, {CURSIMETER_FOOTSTEP, "footstep"}, {CURSIMETER_CRUSHED, "crushed"}};
    for (const auto& [kind, name] : kinds) {
        CHECK(std::string(cursimeter_event_name(kind)) == name);
    }
    CHECK(cursimeter_event_name(-1) == nullptr);
    CHECK(cursimeter_event_name(1000) == nullptr);
    CHECK(cursimeter_advance(nullptr, &runner, &intent, nullptr, 0.01, nullptr) == CURSIMETER_BAD_ARGUMENT);
    CHECK(cursimeter_advance(loaded.chart, nullptr, &intent, nullptr, 0.01, nullptr) ==
          CURSIMETER_BAD_ARGUMENT);
    CHECK(cursimeter_advance(loaded.chart, &runner, nullptr, nullptr, 0.01, nullptr) ==
          CURSIMETER_BAD_ARGUMENT);
    CHECK(cursimeter_advance(loaded.chart, &runner, &intent, nullptr, std::nan(""), nullptr) ==
          CURSIMETER_BAD_INPUT);
    CHECK(cursimeter_advance(loaded.chart, &runner, &intent, nullptr, -1.0, nullptr) == CURSIMETER_BAD_INPUT);
    intent.size = 0;
    CHECK(cursimeter_advance(loaded.chart, &runner, &intent, nullptr, 0.01, nullptr) ==
          CURSIMETER_BAD_ARGUMENT);
    intent.size = sizeof(intent);
    intent.change_count = 3;
    CHECK(cursimeter_advance(loaded.chart, &runner, &intent, nullptr, 0.01, nullptr) ==
          CURSIMETER_BAD_ARGUMENT);
    for (const int index : {-1, 64, 1 << 20}) {
        cursimeter_meter meter;
        CHECK(cursimeter_read_meter(loaded.chart, &runner, index, &meter, nullptr) ==
              CURSIMETER_BAD_ARGUMENT);
        CHECK(cursimeter_force_state(loaded.chart, &runner, index, nullptr) == CURSIMETER_BAD_ARGUMENT);
        CHECK(cursimeter_hold(loaded.chart, &runner, index, 1, nullptr) == CURSIMETER_BAD_ARGUMENT);
    }
    CHECK(std::memcmp(&before, &runner, sizeof(runner)) == 0);
    // A runner of another chart, and one that was never spawned.
    const Loaded other("eel");
    intent.change_count = 0;
    CHECK(cursimeter_advance(other.chart, &runner, &intent, nullptr, 0.01, nullptr) == CURSIMETER_BAD_INPUT);
    cursimeter_runner garbage;
    std::memset(&garbage, 0xa5, sizeof(garbage));
    CHECK(cursimeter_advance(loaded.chart, &garbage, &intent, nullptr, 0.01, nullptr) ==
          CURSIMETER_BAD_INPUT);
    // A newer program knows a longer struct: nothing is written behind the end of this version's.
    struct Newer {
        cursimeter_reading known;
        double behind;
    } newer{CURSIMETER_READING_INIT, 7.0};
    newer.known.size = sizeof(newer);
    CHECK(cursimeter_read(loaded.chart, &runner, &newer.known) == CURSIMETER_OK);
    CHECK(newer.behind == 7.0);
    CHECK(newer.known.size == sizeof(newer));
    // No version had a shorter one: a size in the midst of a pointer must not leave half of it.
    const cursimeter_focus focus{{1, 2, 3}, {0, 0, 0}, 1.6};
    for (std::size_t size = 0; size < sizeof(intent); ++size) {
        intent.focus = &focus;
        intent.size = size;
        CHECK(cursimeter_advance(loaded.chart, &runner, &intent, nullptr, 0.01, nullptr) ==
              CURSIMETER_BAD_ARGUMENT);
        cursimeter_reading reading = CURSIMETER_READING_INIT;
        reading.size = size;
        CHECK(cursimeter_read(loaded.chart, &runner, &reading) == CURSIMETER_BAD_ARGUMENT);
    }
    cursimeter_error_free(nullptr);
    cursimeter_chart_free(nullptr);
    cursimeter_table_free(nullptr);
    cursimeter_plan_free(nullptr);
    cursimeter_terrain_free(nullptr);
    cursimeter_recorder_free(nullptr);
}

TEST_CASE("a take recorded through C plays again, and says where it differs") {
    const Loaded loaded("bearer");
    const std::string text = cursimeter::read_whole_file(demo + "charts/bearer.toml");
    cursimeter_runner runner;
    REQUIRE(cursimeter_spawn(loaded.chart, nullptr, &runner, nullptr) == CURSIMETER_OK);
    cursimeter_recorder* recorder = nullptr;
    REQUIRE(cursimeter_recorder_new(loaded.chart, &runner, text.c_str(), "from C", &recorder, nullptr) ==
            CURSIMETER_OK);
    cursimeter_intent intent = CURSIMETER_INTENT_INIT;
    intent.forward = 1.0;
    for (int tick = 0; tick < 200; ++tick) {
        intent.held = tick % 40 < 20 ? 1 : 0;
        REQUIRE(cursimeter_record_begin(recorder, &runner, &intent, 0.01) == CURSIMETER_OK);
        REQUIRE(cursimeter_advance(loaded.chart, &runner, &intent, nullptr, 0.01, nullptr) == CURSIMETER_OK);
        REQUIRE(cursimeter_record_end(recorder, &runner) == CURSIMETER_OK);
    }
    std::size_t length = 0;
    const auto* bytes = static_cast<const char*>(cursimeter_recorder_bytes(recorder, &length));
    std::string take(bytes, length);
    cursimeter_replay replay = CURSIMETER_REPLAY_INIT;
    CHECK(cursimeter_replay_take(take.data(), take.size(), &replay, loaded.error) == CURSIMETER_OK);
    CHECK(replay.ticks == 200);
    CHECK(replay.digest == cursimeter_digest(&runner));
    CHECK(cursimeter_replay_take("nonsense", 8, &replay, loaded.error) == CURSIMETER_BAD_INPUT);
    cursimeter_recorder_free(recorder);
}

TEST_CASE("runs, sweeps and figures are tables of numbers") {
    cursimeter_error* error = cursimeter_error_new();
    cursimeter_table* table = nullptr;
    const std::string chart = demo + "charts/bearer.toml", drill = demo + "drills/quay_boards.toml";
    REQUIRE(cursimeter_run_files(chart.c_str(), drill.c_str(), nullptr, 60.0, &table, error) ==
            CURSIMETER_OK);
    CHECK(cursimeter_table_rows(table) == 3601);
    CHECK(cursimeter_table_columns(table) == 12);
    CHECK(std::string(cursimeter_table_column_name(table, 11)) == "meter_stamina");
    CHECK(cursimeter_table_numbers(table)[3600 * 12] == Approx(60.0));
    cursimeter_table_free(table);
    const double values[]{6.0, 7.0, -1.0};
    const char* figures[]{"sprint.top_forward"};
    REQUIRE(cursimeter_sweep_file(chart.c_str(), "states.sprint.speed.forward", values, 3, figures, 1, &table,
                                  error) == CURSIMETER_OK);
    REQUIRE(cursimeter_table_rows(table) == 3);
    CHECK(cursimeter_table_numbers(table)[1] == 6.0);
    CHECK(cursimeter_table_numbers(table)[3] == 7.0);
    CHECK(std::isnan(cursimeter_table_numbers(table)[5]));
    cursimeter_table_free(table);
    REQUIRE(cursimeter_figures_file(chart.c_str(), &table, error) == CURSIMETER_OK);
    CHECK(cursimeter_table_rows(table) == 1);
    CHECK(cursimeter_table_columns(table) > 20);
    cursimeter_table_free(table);
    CHECK(cursimeter_run_files(chart.c_str(), drill.c_str(), nullptr, 1.0, &table, error) ==
          CURSIMETER_BAD_INPUT);
    CHECK(table == nullptr);
    cursimeter_error_free(error);
}
