#include <cursimeter/cursimeter.h>

#include <catch2/catch.hpp>
#include <cmath>
#include <cursimeter/chartfile/chart_file.hpp>
#include <cursimeter/chartfile/course_file.hpp>
#include <cursimeter/cursimeter.hpp>
#include <random>

#include "capi/loaded.hpp"

using namespace support;

/// The C interface against the C++ one: the same runs, bit for bit.
namespace {

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
    return swept(*called_course, *asked, *out);
}
int called_overlap(void*, const cursimeter_sweep* asked, cursimeter_overlap* out) {
    cursimeter::Overlap overlap;
    const bool met = called_course->overlap(
        {asked->radius, asked->height}, {asked->from[0], asked->from[1], asked->from[2]}, asked->at, overlap);
    *out = {overlap.depth, {overlap.normal.x, overlap.normal.y, overlap.normal.z}};
    return met ? 1 : 0;
}
int called_open_boxes = 0;
int called_is_open(void*, const double low[3], const double high[3], double* height, std::uint32_t* surface) {
    cursimeter::LevelFloor floor{*height, *surface};
    const bool open = called_course->is_open({low[0], low[1], low[2]}, {high[0], high[1], high[2]}, floor);
    *height = floor.height;
    *surface = floor.surface;
    called_open_boxes += open ? 1 : 0;
    return open ? 1 : 0;
}
int called_moves(void*, const double low[3], const double high[3]) {
    return called_course->moves({low[0], low[1], low[2]}, {high[0], high[1], high[2]}) ? 1 : 0;
}
void called_motion(void*, std::uint32_t surface, double at, double seconds, double out[3]) {
    const glm::dvec3 moved = called_course->surface_motion(surface, at, seconds);
    out[0] = moved.x;
    out[1] = moved.y;
    out[2] = moved.z;
}

}  // namespace

TEST_CASE("runs through the C interface are those of C++, bit for bit, wherever a runner lies") {
    for (const char* name : {"bearer", "eel", "gannet", "keeper"}) {
        for (const auto& [aligned, rate] :
             {std::pair(true, 60.0), std::pair(false, 20.0), std::pair(false, 144.0)}) {
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
                REQUIRE(cursimeter_advance(loaded.chart, place.at, &intent, nullptr, 1.0 / rate,
                                           report.get()) == CURSIMETER_OK);
                const cursimeter::Report told = advance(chart, twin, same, cursimeter::Seconds{1.0 / rate});
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

TEST_CASE("what moves, and what is open, in a world of C functions is as in C++") {
    const Loaded loaded("bearer");
    const cursimeter::Chart chart = cursimeter::load_chart(demo + "charts/bearer.toml").chart;
    cursimeter::CourseSpec spec;
    spec.name = "hoist";
    spec.boxes.push_back({{-50.0, -50.0, -1.0}, {50.0, 50.0, 0.0}, cursimeter::Degrees{0.0}});
    spec.platforms.push_back({{4.0, 4.0, 0.5}, {{0.0, 0.0, 0.5}, {6.0, 0.0, 3.0}}, 1.5, 0.5});
    cursimeter::CourseTerrain course(cursimeter::Course(spec), chart);
    called_course = &course;
    cursimeter_world world = CURSIMETER_WORLD_INIT;
    world.sweep = called_sweep;
    world.overlap = called_overlap;
    world.moves = called_moves;
    cursimeter_terrain* terrain = nullptr;
    REQUIRE(cursimeter_terrain_new(&world, &terrain, nullptr) ==
            CURSIMETER_BAD_ARGUMENT);  // one without the other
    world.surface_motion = called_motion;
    world.is_open = called_is_open;
    REQUIRE(cursimeter_terrain_new(&world, &terrain, nullptr) == CURSIMETER_OK);
    cursimeter_runner runner, walker;
    const cursimeter_placement start{{0.0, 0.0, 0.6}, 0.0}, apart{{20.0, 20.0, 0.0}, 0.0};
    REQUIRE(cursimeter_spawn(loaded.chart, &start, &runner, nullptr) == CURSIMETER_OK);
    REQUIRE(cursimeter_spawn(loaded.chart, &apart, &walker, nullptr) == CURSIMETER_OK);
    cursimeter::Runner twin = cursimeter::spawn(chart, {{0.0, 0.0, 0.6}, 0.0});
    cursimeter::Runner walking_twin = cursimeter::spawn(chart, {{20.0, 20.0, 0.0}, 0.0});
    const cursimeter_intent intent = CURSIMETER_INTENT_INIT;
    cursimeter_intent ahead = CURSIMETER_INTENT_INIT;
    ahead.forward = 1.0;
    cursimeter::Intent same_ahead;
    same_ahead.move.forward = 1.0;
    for (int tick = 0; tick < 120; ++tick) {
        course.set_time(tick / 60.0);
        REQUIRE(cursimeter_advance(loaded.chart, &runner, &intent, terrain, 1.0 / 60.0, nullptr) ==
                CURSIMETER_OK);
        static_cast<void>(
            advance(chart, twin, cursimeter::Intent{}, course, cursimeter::Seconds{1.0 / 60.0}));
        REQUIRE(cursimeter_advance(loaded.chart, &walker, &ahead, terrain, 1.0 / 60.0, nullptr) ==
                CURSIMETER_OK);
        static_cast<void>(advance(chart, walking_twin, same_ahead, course, cursimeter::Seconds{1.0 / 60.0}));
        REQUIRE(cursimeter_digest(&runner) == digest(twin));
        REQUIRE(cursimeter_digest(&walker) == digest(walking_twin));
    }
    CHECK(called_open_boxes > 60);
    // After 2 s on a path of 6 m ahead and 2.5 m up, at 1.5 m/s.
    CHECK(std::fabs(twin.position().x - 3.0 * 6.0 / 6.5) < 0.01);
    cursimeter_terrain_free(terrain);
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
        CHECK(wanted.step_height == same_plan.step_height);
        CHECK(wanted.slope_cosine == same_plan.slope_cosine);
        CHECK(wanted.reach == same_plan.reach);
        CHECK(wanted.keeps_to_ground == (same_plan.keeps_to_ground ? 1 : 0));
        CHECK(wanted.sticks == (same_plan.sticks ? 1 : 0));
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
