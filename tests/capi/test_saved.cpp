#include <unistd.h>

#include <cstring>
#include <filesystem>
#include <fstream>
#include <vector>

#include "capi/loaded.hpp"
#include "support/folder.hpp"

using namespace support;

/// Charts that are tuned while the game runs, and runners that outlive it.
namespace {

std::string chart_text(const std::string& name) {
    std::ifstream file(demo + "charts/" + name + ".toml");
    return {std::istreambuf_iterator<char>(file), {}};
}
std::string replaced(std::string text, const std::string& old, const std::string& by) {
    const std::size_t at = text.find(old);
    REQUIRE(at != std::string::npos);
    return text.replace(at, old.size(), by);
}
/// A file that is saved, so that its time differs from the one before.
void save(const std::string& file, const std::string& text) {
    static int saved = 0;
    std::ofstream(file) << text;
    std::filesystem::last_write_time(
        file, std::filesystem::file_time_type::clock::now() - std::chrono::seconds(100 - ++saved));
}
void play(const cursimeter_chart* chart, cursimeter_runner& runner, int ticks) {
    cursimeter_intent intent = CURSIMETER_INTENT_INIT;
    intent.forward = 1.0;
    intent.held = 1U << cursimeter_find(chart, CURSIMETER_ACTIONS, "sprint", nullptr);
    for (int i = 0; i < ticks; ++i) {
        REQUIRE(cursimeter_advance(chart, &runner, &intent, nullptr, 1.0 / 60.0, nullptr) == CURSIMETER_OK);
    }
}

}  // namespace

TEST_CASE("a runner is saved as text from C, and restored", "[capi]") {
    const Loaded keeper("keeper");
    cursimeter_runner runner{}, back{};
    REQUIRE(cursimeter_spawn(keeper.chart, nullptr, &runner, keeper.error) == CURSIMETER_OK);
    play(keeper.chart, runner, 50);
    std::size_t length = 1;
    CHECK(cursimeter_save_runner(keeper.chart, &runner, nullptr, 0, &length, keeper.error) == CURSIMETER_NO);
    CHECK(length > 500);
    std::vector<char> room(length + 1, '#');
    CHECK(cursimeter_save_runner(keeper.chart, &runner, room.data(), length, nullptr, keeper.error) ==
          CURSIMETER_NO);
    CHECK(room[0] == '#');
    REQUIRE(cursimeter_save_runner(keeper.chart, &runner, room.data(), length + 1, &length, keeper.error) ==
            CURSIMETER_OK);
    CHECK(std::strlen(room.data()) == length);
    REQUIRE(cursimeter_restore_runner(keeper.chart, room.data(), &back, keeper.error) == CURSIMETER_OK);
    CHECK(cursimeter_digest(&back) == cursimeter_digest(&runner));
    play(keeper.chart, runner, 100);
    play(keeper.chart, back, 100);
    CHECK(cursimeter_digest(&back) == cursimeter_digest(&runner));

    // Into a chart without its states: what is lost is told.
    const Loaded bearer("bearer");
    CHECK(cursimeter_grant(keeper.chart, &runner,
                           cursimeter_find(keeper.chart, CURSIMETER_MODIFIERS, "broth", nullptr), 0, 1,
                           keeper.error) == CURSIMETER_OK);
    REQUIRE(cursimeter_save_runner(keeper.chart, &runner, room.data(), room.size(), &length, keeper.error) !=
            CURSIMETER_BAD_INPUT);
    room.resize(length + 1);
    REQUIRE(cursimeter_save_runner(keeper.chart, &runner, room.data(), room.size(), &length, keeper.error) ==
            CURSIMETER_OK);
    CHECK(cursimeter_restore_runner(bearer.chart, room.data(), &back, bearer.error) == CURSIMETER_NO);
    CHECK(std::string(cursimeter_error_text(bearer.error)).find("modifier 'broth' is not in the new chart") !=
          std::string::npos);
    play(bearer.chart, back, 10);

    CHECK(cursimeter_restore_runner(keeper.chart, "runner-1-00", &back, keeper.error) ==
          CURSIMETER_BAD_INPUT);
    CHECK(std::string(cursimeter_error_text(keeper.error)).find("saved runner: is damaged") == 0);
    CHECK(cursimeter_save_runner(bearer.chart, &runner, room.data(), room.size(), &length, bearer.error) ==
          CURSIMETER_BAD_INPUT);
    CHECK(length == 0);
    CHECK(cursimeter_restore_runner(nullptr, "", &back, keeper.error) == CURSIMETER_BAD_ARGUMENT);
    CHECK(cursimeter_restore_runner(keeper.chart, nullptr, &back, keeper.error) == CURSIMETER_BAD_ARGUMENT);
    CHECK(cursimeter_restore_runner(keeper.chart, "", nullptr, keeper.error) == CURSIMETER_BAD_ARGUMENT);
    CHECK(cursimeter_save_runner(keeper.chart, nullptr, nullptr, 0, nullptr, keeper.error) ==
          CURSIMETER_BAD_ARGUMENT);
}

TEST_CASE("a chart is tuned under a runner from C", "[capi]") {
    const Folder folder("live_c");
    const std::string file = folder.file("keeper.toml");
    save(file, chart_text("keeper"));
    cursimeter_error* error = cursimeter_error_new();
    cursimeter_live_chart* live = nullptr;
    cursimeter_chart *chart = nullptr, *next = nullptr;
    REQUIRE(cursimeter_live_chart_new(file.c_str(), &live, &chart, error) == CURSIMETER_OK);
    cursimeter_runner runner{};
    REQUIRE(cursimeter_spawn(chart, nullptr, &runner, error) == CURSIMETER_OK);
    play(chart, runner, 60);
    CHECK(cursimeter_live_chart_take_in(live, &next, error) == CURSIMETER_NO);
    CHECK(next == nullptr);
    CHECK(cursimeter_error_count(error) == 0);

    // Saved with a slip: the chart stays, and the slip is told as long as it is there.
    save(file, replaced(chart_text("keeper"), "capacity = 100", "capcity = 100"));
    for (int i = 0; i < 2; ++i) {
        CHECK(cursimeter_live_chart_take_in(live, &next, error) == CURSIMETER_NO);
        CHECK(next == nullptr);
        CHECK(std::string(cursimeter_error_text(error)).find("did you mean 'capacity'?") !=
              std::string::npos);
    }
    play(chart, runner, 10);

    save(file, replaced(chart_text("keeper"), "capacity = 100", "capacity = 60"));
    REQUIRE(cursimeter_live_chart_take_in(live, &next, error) == CURSIMETER_OK);
    REQUIRE(next != nullptr);
    CHECK(cursimeter_error_count(error) == 0);
    CHECK(cursimeter_carry_over(chart, &runner, next, &runner, error) == CURSIMETER_OK);
    cursimeter_chart_free(chart);  // each handle lives on its own
    play(next, runner, 10);
    cursimeter_meter stamina{};
    REQUIRE(cursimeter_read_meter(next, &runner, cursimeter_find(next, CURSIMETER_METERS, "stamina", nullptr),
                                  &stamina, error) == CURSIMETER_OK);
    CHECK(stamina.capacity == 60.0);
    cursimeter_live_chart_free(live);
    play(next, runner, 10);
    cursimeter_chart_free(next);

    CHECK(cursimeter_live_chart_new(folder.file("gone.toml").c_str(), &live, &chart, error) ==
          CURSIMETER_BAD_INPUT);
    CHECK(live == nullptr);
    CHECK(chart == nullptr);
    CHECK(std::string(cursimeter_error_text(error)).find("gone.toml: cannot be read") != std::string::npos);
    CHECK(cursimeter_live_chart_new(nullptr, &live, &chart, error) == CURSIMETER_BAD_ARGUMENT);
    CHECK(cursimeter_live_chart_new(file.c_str(), &live, nullptr, error) == CURSIMETER_BAD_ARGUMENT);
    CHECK(cursimeter_live_chart_take_in(nullptr, &next, error) == CURSIMETER_BAD_ARGUMENT);
    cursimeter_live_chart_free(nullptr);
    cursimeter_error_free(error);
}
