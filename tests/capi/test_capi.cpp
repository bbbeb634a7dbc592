#include <cursimeter/cursimeter.h>

#include <catch2/catch.hpp>
#include <cmath>
#include <cstddef>
#include <cstring>
#include <cursimeter/chartfile/chart_file.hpp>
#include <cursimeter/chartfile/course_file.hpp>
#include <cursimeter/chartfile/whole_file.hpp>
#include <cursimeter/convention.hpp>
#include <cursimeter/cursimeter.hpp>
#include <random>

/// The C interface against the C++ one: the same runs, bit for bit, and nothing that a C program can hand over breaks it.
namespace {

const std::string demo = std::string(CURSIMETER_SOURCE_DIR) + "/demo/";

struct Loaded {
    cursimeter_error* error = cursimeter_error_new();
    cursimeter_chart* chart = nullptr;
    explicit Loaded(const std::string& name) {
        REQUIRE(cursimeter_chart_load((demo + "charts/" + name + ".toml").c_str(), &chart, error) ==
                CURSIMETER_OK);
    }
    Loaded(const Loaded&) = delete;
    Loaded& operator=(const Loaded&) = delete;
    ~Loaded() {
        cursimeter_chart_free(chart);
        cursimeter_error_free(error);
    }
};

/// Hands that do something new in most ticks: the same for both interfaces.
struct Hands {
    std::mt19937 random{7};
    cursimeter_change changes[3]{};
    cursimeter::Change same[3]{};
    cursimeter_intent next(const cursimeter::Chart& chart, cursimeter::Intent& twin) {
        cursimeter_intent intent = CURSIMETER_INTENT_INIT;
        const auto part = [&] { return static_cast<double>(random() % 1000) / 1000.0; };
        intent.forward = part() * 2.0 - 0.5;
        intent.side = part() - 0.5;
        intent.yaw = part() * 6.0;
        intent.pitch = part() - 0.5;
        intent.held = static_cast<std::uint32_t>(random()) & cursimeter::actions_below(chart.action_count());
        intent.facing = static_cast<std::int32_t>(random() % 2);
        const auto action = static_cast<std::uint8_t>(random() % chart.action_count());
        changes[0] = {0.002, CURSIMETER_PRESS, action, 0.0, 0.0};
        changes[1] = {0.005, CURSIMETER_LOOK, 0, intent.yaw + 0.1, 0.0};
        changes[2] = {0.009, CURSIMETER_RELEASE, action, 0.0, 0.0};
        intent.changes = changes;
        intent.change_count = random() % 4;
        same[0] = cursimeter::Change::press(cursimeter::ActionId{action}, 0.002);
        same[1] = cursimeter::Change::look_to({intent.yaw + 0.1, 0.0}, 0.005);
        same[2] = cursimeter::Change::release(cursimeter::ActionId{action}, 0.009);
        twin = {};
        twin.move = {intent.forward, intent.side};
        twin.look = {intent.yaw, intent.pitch};
        twin.held = intent.held;
        twin.facing = intent.facing == 1 ? cursimeter::Facing::movement : cursimeter::Facing::look;
        twin.changes = {same, intent.change_count};
        return intent;
    }
};

/// A runner at an address that is, or is not, a multiple of 128.
struct Place {
    alignas(128) std::byte room[sizeof(cursimeter_runner) + 128];
    explicit Place(bool aligned) : at(reinterpret_cast<cursimeter_runner*>(room + (aligned ? 0 : 8))) {}
    cursimeter_runner* at;
};

/// A course through a C program's functions.
const cursimeter::CourseTerrain* called_course = nullptr;
int called_sweep(void*, const cursimeter_sweep* asked, cursimeter_hit* out) {
    cursimeter::Hit hit;
    const bool met = called_course->sweep({{asked->radius, asked->height},
                                           {asked->from[0], asked->from[1], asked->from[2]},
                                           {asked->motion[0], asked->motion[1], asked->motion[2]},
                                           asked->at},
                                          hit);
    *out = {hit.fraction,
            {hit.normal.x, hit.normal.y, hit.normal.z},
            {hit.face.x, hit.face.y, hit.face.z},
            hit.surface};
    return met ? 1 : 0;
}
int called_overlap(void*, const cursimeter_sweep* asked, cursimeter_overlap* out) {
    cursimeter::Overlap overlap;
    const bool met = called_course->overlap(
        {asked->radius, asked->height}, {asked->from[0], asked->from[1], asked->from[2]}, asked->at, overlap);
    *out = {overlap.depth, {overlap.normal.x, overlap.normal.y, overlap.normal.z}};
    return met ? 1 : 0;
}

}  // namespace

TEST_CASE("runs through the C interface are those of C++, bit for bit, wherever a runner lies") {
    for (const char* name : {"bearer", "eel", "gannet", "keeper"}) {
        for (const bool aligned : {true, false}) {
            const Loaded loaded(name);
            const cursimeter::Chart chart = cursimeter::load_chart(demo + "charts/" + name + ".toml").chart;
            Place place(aligned);
            const cursimeter_placement start{{1.0, 2.0, 3.0}, 0.5};
            REQUIRE(cursimeter_spawn(loaded.chart, &start, place.at, nullptr) == CURSIMETER_OK);
            cursimeter::Runner twin = cursimeter::spawn(chart, {{1.0, 2.0, 3.0}, 0.5});
            Hands hands;
            auto report = std::make_unique<cursimeter_report>();
            report->size = sizeof(cursimeter_report);
            std::size_t events = 0;
            for (int tick = 0; tick < 1500; ++tick) {
                cursimeter::Intent same;
                const cursimeter_intent intent = hands.next(chart, same);
                REQUIRE(cursimeter_advance(loaded.chart, place.at, &intent, nullptr, 1.0 / 60.0,
                                           report.get()) == CURSIMETER_OK);
                const cursimeter::Report told = advance(chart, twin, same, cursimeter::Seconds{1.0 / 60.0});
                REQUIRE(cursimeter_digest(place.at) == digest(twin));
                REQUIRE(report->event_count == told.event_count);
                for (std::size_t i = 0; i < told.event_count; ++i) {
                    const cursimeter::Event& event = told.event_table[i];
                    CHECK(report->events[i].at == event.at);
                    CHECK(std::string(cursimeter_event_name(report->events[i].kind)) ==
                          to_string(event.kind));
                    CHECK(cursimeter_name(loaded.chart, report->events[i].list,
                                          static_cast<std::size_t>(report->events[i].subject)) ==
                          subject_name(chart, event));
                    if (event.kind == cursimeter::EventKind::entered) {
                        char text[200];
                        CHECK(cursimeter_describe_cause(loaded.chart, report->events[i].cause,
                                                        report->events[i].term, text,
                                                        sizeof(text)) == chart.describe(event.cause).size());
                        CHECK(text == chart.describe(event.cause));
                    }
                    ++events;
                }
            }
            CHECK(events > 1000);
            cursimeter_reading reading = CURSIMETER_READING_INIT;
            REQUIRE(cursimeter_read(loaded.chart, place.at, &reading) == CURSIMETER_OK);
            CHECK(reading.position[0] == twin.position().x);
            CHECK(reading.speed == twin.speed());
            CHECK(reading.clock == twin.clock().value);
            CHECK(reading.state == twin.state().index);
            CHECK(reading.size == sizeof(reading));
        }
    }
}

TEST_CASE("a world of C functions, and a course, give the run that C++ gives there") {
    const Loaded loaded("bearer");
    const cursimeter::Chart chart = cursimeter::load_chart(demo + "charts/bearer.toml").chart;
    const cursimeter::CourseTerrain course(cursimeter::load_course(demo + "courses/relay.toml"), chart);
    called_course = &course;
    cursimeter_world world = CURSIMETER_WORLD_INIT;
    world.sweep = called_sweep;
    world.overlap = called_overlap;
    cursimeter_terrain *called = nullptr, *file = nullptr;
    REQUIRE(cursimeter_terrain_new(&world, &called, nullptr) == CURSIMETER_OK);
    REQUIRE(cursimeter_terrain_load((demo + "courses/relay.toml").c_str(), loaded.chart, &file, nullptr) ==
            CURSIMETER_OK);
    cursimeter_runner by_calls, by_file;
    const cursimeter_placement start{{-2.0, 0.0, 0.0}, 0.0};
    REQUIRE(cursimeter_spawn(loaded.chart, &start, &by_calls, nullptr) == CURSIMETER_OK);
    by_file = by_calls;
    cursimeter::Runner twin = cursimeter::spawn(chart, {{-2.0, 0.0, 0.0}, 0.0});
    cursimeter_intent intent = CURSIMETER_INTENT_INIT;
    intent.forward = 1.0;
    cursimeter::Intent same;
    same.move = {1.0, 0.0};
    for (int tick = 0; tick < 900; ++tick) {
        REQUIRE(cursimeter_terrain_set_time(file, tick / 60.0) == CURSIMETER_OK);
        REQUIRE(cursimeter_advance(loaded.chart, &by_calls, &intent, called, 1.0 / 60.0, nullptr) ==
                CURSIMETER_OK);
        REQUIRE(cursimeter_advance(loaded.chart, &by_file, &intent, file, 1.0 / 60.0, nullptr) ==
                CURSIMETER_OK);
        cursimeter::CourseTerrain timed = course;
        timed.set_time(tick / 60.0);
        static_cast<void>(advance(chart, twin, same, timed, cursimeter::Seconds{1.0 / 60.0}));
        REQUIRE(cursimeter_digest(&by_file) == digest(twin));
    }
    cursimeter_reading reading = CURSIMETER_READING_INIT;
    REQUIRE(cursimeter_read(loaded.chart, &by_calls, &reading) == CURSIMETER_OK);
    CHECK(reading.position[0] > 20.0);
    cursimeter_terrain_free(called);
    cursimeter_terrain_free(file);
}

TEST_CASE("the form for games that move characters themselves is that of C++") {
    const Loaded loaded("bearer");
    const cursimeter::Chart chart = cursimeter::load_chart(demo + "charts/bearer.toml").chart;
    cursimeter_runner runner;
    REQUIRE(cursimeter_spawn(loaded.chart, nullptr, &runner, nullptr) == CURSIMETER_OK);
    cursimeter::Runner twin = cursimeter::spawn(chart);
    cursimeter_plan* plan = cursimeter_plan_new();
    cursimeter_contacts contacts = CURSIMETER_CONTACTS_INIT;
    cursimeter::Contacts same_contacts;
    Hands hands;
    for (int tick = 0; tick < 300; ++tick) {
        cursimeter::Intent same;
        const cursimeter_intent intent = hands.next(chart, same);
        cursimeter_plan_reading wanted = CURSIMETER_PLAN_READING_INIT;
        REQUIRE(cursimeter_propose(loaded.chart, &runner, &intent, &contacts, 0.01, plan, &wanted) ==
                CURSIMETER_OK);
        const cursimeter::Plan same_plan =
            propose(chart, twin, same, same_contacts, cursimeter::Seconds{0.01});
        CHECK(wanted.displacement[0] == same_plan.displacement.x);
        CHECK(wanted.height == same_plan.body.height);
        contacts.barrier_count = tick % 50 == 20 ? 1 : 0;
        contacts.barriers[0][0] = -1.0;
        same_contacts.barrier_count = static_cast<std::uint8_t>(contacts.barrier_count);
        same_contacts.barriers[0] = {-1.0, 0.0, 0.0};
        const double moved[3]{wanted.displacement[0] * 0.5, wanted.displacement[1], wanted.displacement[2]};
        REQUIRE(cursimeter_settle(loaded.chart, &runner, plan, moved, &contacts, nullptr) == CURSIMETER_OK);
        static_cast<void>(settle(chart, twin, same_plan, {moved[0], moved[1], moved[2]}, same_contacts));
        REQUIRE(cursimeter_digest(&runner) == digest(twin));
    }
    cursimeter_plan_free(plan);
}

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
    // An older program knows a shorter struct: the rest is as by default, and nothing is written behind its end.
    struct Old {
        std::size_t size;
        double position[3];
        double behind;
    } old{offsetof(Old, behind), {0, 0, 0}, 7.0};
    CHECK(cursimeter_read(loaded.chart, &runner, reinterpret_cast<cursimeter_reading*>(&old)) ==
          CURSIMETER_OK);
    CHECK(old.behind == 7.0);
    CHECK(old.size == offsetof(Old, behind));
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

TEST_CASE("a game with other axes: y up, centimetres, left-handed, degrees") {
    // x right, y up, z ahead, in centimetres; yaw in degrees, clockwise, 0 along z.
    cursimeter_convention game = CURSIMETER_CONVENTION_INIT;
    game.forward = 3;
    game.up = 2;
    game.left_handed = 1;
    game.clockwise_yaw = 1;
    game.metres = 0.01;
    game.radians = 3.14159265358979323846 / 180.0;
    const float ahead[3]{0.0F, 200.0F, 300.0F}, right[3]{100.0F, 0.0F, 0.0F};
    double out[3];
    REQUIRE(cursimeter_from_game_f(&game, CURSIMETER_LENGTH, ahead, out) == CURSIMETER_OK);
    CHECK(out[0] == Approx(3.0));
    CHECK(out[1] == Approx(0.0));
    CHECK(out[2] == Approx(2.0));
    REQUIRE(cursimeter_from_game_f(&game, CURSIMETER_LENGTH, right, out) == CURSIMETER_OK);
    CHECK(out[1] == Approx(-1.0));  // the library's left is +y
    float back[3];
    REQUIRE(cursimeter_to_game_f(&game, CURSIMETER_LENGTH, out, back) == CURSIMETER_OK);
    CHECK(back[0] == 100.0F);
    CHECK(cursimeter_yaw_from_game(&game, 90.0) == Approx(-1.5707963267948966));  // to the right
    CHECK(cursimeter_yaw_to_game(&game, -1.5707963267948966) == Approx(90.0));
    game.up = 3;
    CHECK(cursimeter_from_game_f(&game, CURSIMETER_LENGTH, ahead, out) == CURSIMETER_BAD_INPUT);
    game.up = 7;
    CHECK(cursimeter_from_game_f(&game, CURSIMETER_LENGTH, ahead, out) == CURSIMETER_BAD_ARGUMENT);
}

TEST_CASE("every convention turns there and back, keeps lengths, and agrees with its own yaw") {
    std::mt19937 random(3);
    const auto part = [&] { return static_cast<double>(random() % 20001) / 10.0 - 1000.0; };
    int tried = 0;
    for (const int forward : {-3, -2, -1, 1, 2, 3}) {
        for (const int up : {-3, -2, -1, 1, 2, 3}) {
            for (const bool left_handed : {false, true}) {
                for (const bool clockwise : {false, true}) {
                    if (std::abs(forward) == std::abs(up)) {
                        continue;
                    }
                    const cursimeter::Converter converter(
                        {static_cast<cursimeter::Axis>(forward), static_cast<cursimeter::Axis>(up),
                         left_handed, clockwise, 0.01, 30.0, 3.14159265358979323846 / 180.0});
                    const glm::dvec3 place(part(), part(), part());
                    const glm::dvec3 own = converter.from_game(place), again = converter.to_game(own);
                    for (int i = 0; i < 3; ++i) {
                        CHECK(again[i] == Approx(place[i]).epsilon(1e-15));
                    }
                    const double square = place.x * place.x + place.y * place.y + place.z * place.z;
                    CHECK(own.x * own.x + own.y * own.y + own.z * own.z == Approx(square * 1e-4));
                    CHECK(converter.yaw_from_game(30.0) == Approx(0.0).margin(1e-15));
                    const double yaw = part() / 100.0;
                    CHECK(converter.yaw_from_game(converter.yaw_to_game(yaw)) == Approx(yaw));
                    // Turned a quarter to the left of ahead, a direction is what `up x forward` says in right-handed axes.
                    const glm::dvec3 left = converter.direction_to_game({0.0, 1.0, 0.0}),
                                     f = converter.direction_to_game({1.0, 0.0, 0.0}),
                                     u = converter.direction_to_game({0.0, 0.0, 1.0});
                    const double volume = f.x * (left.y * u.z - left.z * u.y) -
                                          f.y * (left.x * u.z - left.z * u.x) +
                                          f.z * (left.x * u.y - left.y * u.x);
                    CHECK(volume == (left_handed ? -1.0 : 1.0));
                    ++tried;
                }
            }
        }
    }
    CHECK(tried == 96);
}
