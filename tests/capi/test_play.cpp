#include <cursimeter/cursimeter_controls.h>

#include <catch2/catch.hpp>
#include <cmath>
#include <cursimeter/chartfile/chart_file.hpp>
#include <cursimeter/chartfile/controls_file.hpp>
#include <cursimeter/cursimeter.hpp>
#include <cursimeter/reload.hpp>
#include <random>

#include "capi/loaded.hpp"

using namespace support;

/// Controls, reloads and zones through the C interface against the C++ one.
namespace {

const std::string settings = R"(format = 1
name = "left_handed"
[[bind]]
action = "move_forward"
inputs = ["key.i"]
[[bind]]
action = "sprint"
inputs = ["key.shift"]
[[bind]]
action = "dash"
inputs = ["key.shift", "key.space"]
[[bind]]
action = "oar"
inputs = ["pad.trigger"]
)";
const std::string toggled = settings + R"([actions.sprint]
press = "toggle"
)";

}  // namespace

TEST_CASE("controls in C give the intents of those in C++, through every call", "[capi]") {
    const Loaded keeper("keeper");
    const cursimeter::Chart chart = cursimeter::load_chart(demo + "charts/keeper.toml").chart;
    cursimeter_controls* controls = nullptr;
    cursimeter_error* error = keeper.error;
    REQUIRE(cursimeter_controls_parse(settings.data(), settings.size(), "mine", keeper.chart, &controls,
                                      error) == CURSIMETER_OK);
    cursimeter::Controls twin(chart, cursimeter::parse_controls(settings, "mine", chart));
    const std::vector<std::string> names{"key.i", "key.shift", "key.space", "pad.trigger", "key.none"};
    std::mt19937 random(5);
    const auto part = [&] { return static_cast<double>(random() % 2000) / 1000.0 - 1.0; };
    cursimeter_runner runner;
    REQUIRE(cursimeter_spawn(keeper.chart, nullptr, &runner, nullptr) == CURSIMETER_OK);
    cursimeter::Runner same = spawn(chart);
    std::size_t held = 0;
    for (int tick = 0; tick < 6000; ++tick) {
        for (auto calls = random() % 3; calls > 0; --calls) {
            const std::string& name = names[random() % names.size()];
            const int input = cursimeter_controls_input(controls, name.c_str());
            const cursimeter::InputId id = twin.input(name);
            const double at = std::fabs(part()) / 60.0, x = part(), y = part();
            switch (random() % 12) {
                case 0:
                case 1:
                case 2:
                    cursimeter_controls_press(controls, input, at, 0);
                    twin.press(id, at);
                    break;
                case 3:
                    cursimeter_controls_press(controls, input, at, 1);
                    twin.press(id, at, cursimeter::Consumed::yes);
                    break;
                case 4:
                case 5:
                    cursimeter_controls_release(controls, input, at);
                    twin.release(id, at);
                    break;
                case 6:
                    cursimeter_controls_axis(controls, input, std::fabs(x), at, 0);
                    twin.axis(id, std::fabs(x), at);
                    break;
                case 7:
                    cursimeter_controls_deflect(controls, x, y, at);
                    twin.deflect(x, y, at);
                    break;
                case 8:
                    cursimeter_controls_turn(controls, 100.0 * x, 100.0 * y);
                    twin.turn(100.0 * x, 100.0 * y);
                    cursimeter_controls_deflect_look(controls, y, x);
                    twin.deflect_look(y, x);
                    break;
                case 9: {
                    const cursimeter_focus focus{{20.0 * x, 20.0 * y, 0.0}, {x, 0.0, 0.0}, 1.6};
                    cursimeter_controls_lock_on(controls, &focus);
                    twin.lock_on({{20.0 * x, 20.0 * y, 0.0}, {x, 0.0, 0.0}, 1.6});
                    break;
                }
                case 10:
                    cursimeter_controls_let_go(controls, &runner);
                    twin.let_go(same);
                    cursimeter_controls_face(controls, x > 0.0 ? 1 : 0);
                    twin.face(x > 0.0 ? cursimeter::Facing::movement : cursimeter::Facing::look);
                    break;
                default:
                    if (random() % 4 == 0) {
                        cursimeter_controls_release_all(controls, at);
                        twin.release_all(at);
                    } else if (random() % 4 == 0) {
                        cursimeter_controls_release_device(controls, "pad.", at);
                        twin.release_device("pad.", at);
                    } else if (random() % 4 == 0) {
                        const std::string& next = random() % 2 == 0 ? settings : toggled;
                        REQUIRE(cursimeter_controls_rebind(controls, next.data(), next.size(), nullptr, at,
                                                           error) == CURSIMETER_OK);
                        twin.rebind(chart, cursimeter::parse_controls(next, "", chart), at);
                        REQUIRE(cursimeter_controls_apply_press_modes(controls, &runner, error) ==
                                CURSIMETER_OK);
                        twin.apply_press_modes(chart, same);
                    } else {
                        cursimeter_controls_set_look(controls, x, 0.5 * y);
                        twin.set_look({x, 0.5 * y});
                    }
            }
        }
        cursimeter_intent intent = CURSIMETER_INTENT_INIT;
        REQUIRE(cursimeter_controls_intent(controls, &intent) == CURSIMETER_OK);
        held += static_cast<std::size_t>(intent.held != 0);
        REQUIRE(cursimeter_advance(keeper.chart, &runner, &intent, nullptr, 1.0 / 60.0, nullptr) ==
                CURSIMETER_OK);
        static_cast<void>(advance(chart, same, twin.intent(), cursimeter::Seconds{1.0 / 60.0}));
        REQUIRE(cursimeter_digest(&runner) == digest(same));
        cursimeter_controls_next_tick(controls, 1.0 / 60.0);
        twin.next_tick(cursimeter::Seconds{1.0 / 60.0});
        double yaw = 0.0, pitch = 0.0;
        REQUIRE(cursimeter_controls_look(controls, &yaw, &pitch) == CURSIMETER_OK);
        REQUIRE(yaw == twin.look().yaw);
        REQUIRE(pitch == twin.look().pitch);
    }
    CHECK(held > 1000);

    // What is saved says the same; a mistake is told with its line and changes nothing.
    const std::string saved = cursimeter_controls_text(controls);
    CHECK(saved == cursimeter::format_controls(twin.spec()));
    CHECK(std::string(cursimeter_controls_conflicts(controls)).empty());
    const std::string wrong = "format = 1\nname = \"x\"\n[[bind]]\naction = \"sprnt\"\ninputs = [\"a\"]\n";
    CHECK(cursimeter_controls_rebind(controls, wrong.data(), wrong.size(), "menu.toml", 0.0, error) ==
          CURSIMETER_BAD_INPUT);
    CHECK(std::string(cursimeter_error_text(error)).find("menu.toml:4:1:") == 0);
    CHECK(std::string(cursimeter_error_text(error)).find("did you mean 'sprint'?") != std::string::npos);
    CHECK(cursimeter_controls_text(controls) == saved);
    const std::string twice = settings + "[[bind]]\naction = \"oar\"\ninputs = [\"key.i\"]\n";
    REQUIRE(cursimeter_controls_rebind(controls, twice.data(), twice.size(), "", 0.0, error) ==
            CURSIMETER_OK);
    CHECK(std::string(cursimeter_controls_conflicts(controls)) ==
          "'move_forward' and 'oar' are both on key.i");
    cursimeter_controls_free(controls);
    CHECK(cursimeter_controls_load("no/such.toml", keeper.chart, &controls, error) == CURSIMETER_BAD_INPUT);
    CHECK(controls == nullptr);
    CHECK(cursimeter_controls_load(nullptr, keeper.chart, &controls, error) == CURSIMETER_BAD_ARGUMENT);
    CHECK(cursimeter_controls_input(nullptr, "a") == -1);
    CHECK(cursimeter_controls_intent(nullptr, nullptr) == CURSIMETER_BAD_ARGUMENT);
    cursimeter_controls_press(nullptr, 0, 0.0, 0);
    cursimeter_controls_free(nullptr);
}

TEST_CASE("a chart is reloaded under a runner in C, and controls go on with it", "[capi]") {
    const Loaded keeper("keeper");
    std::string text;
    {
        cursimeter::ChartFile file = cursimeter::load_chart(demo + "charts/keeper.toml");
        for (cursimeter::ModifierSpec& modifier : file.spec.modifiers) {
            modifier.name = modifier.name == "broth" ? "soup" : modifier.name;
        }
        text = cursimeter::format_chart(file.spec);
    }
    cursimeter_chart* next = nullptr;
    REQUIRE(cursimeter_chart_parse(text.data(), text.size(), "next", &next, keeper.error) == CURSIMETER_OK);
    cursimeter_runner runner, carried;
    REQUIRE(cursimeter_spawn(keeper.chart, nullptr, &runner, nullptr) == CURSIMETER_OK);
    CHECK(cursimeter_carry_over(keeper.chart, &runner, next, &carried, keeper.error) == CURSIMETER_OK);
    const int broth = cursimeter_find(keeper.chart, CURSIMETER_MODIFIERS, "broth", nullptr);
    REQUIRE(cursimeter_grant(keeper.chart, &runner, broth, 0, 1.0, nullptr) == CURSIMETER_OK);
    CHECK(cursimeter_carry_over(keeper.chart, &runner, next, &runner, keeper.error) == CURSIMETER_NO);
    CHECK(std::string(cursimeter_error_text(keeper.error)) == "modifier 'broth' is not in the new chart");
    cursimeter_intent intent = CURSIMETER_INTENT_INIT;
    CHECK(cursimeter_advance(keeper.chart, &runner, &intent, nullptr, 0.05, nullptr) == CURSIMETER_BAD_INPUT);
    CHECK(cursimeter_advance(next, &runner, &intent, nullptr, 0.05, nullptr) == CURSIMETER_OK);
    CHECK(cursimeter_carry_over(keeper.chart, &runner, next, &carried, keeper.error) == CURSIMETER_BAD_INPUT);
    CHECK(cursimeter_carry_over(nullptr, &runner, next, &carried, keeper.error) == CURSIMETER_BAD_ARGUMENT);

    cursimeter_controls* controls = nullptr;
    REQUIRE(cursimeter_controls_parse(settings.data(), settings.size(), nullptr, keeper.chart, &controls,
                                      nullptr) == CURSIMETER_OK);
    cursimeter_controls_press(controls, cursimeter_controls_input(controls, "key.shift"), 0.0, 0);
    const Loaded eel("eel");
    CHECK(cursimeter_controls_carry_over(controls, eel.chart, keeper.error) == CURSIMETER_BAD_INPUT);
    REQUIRE(cursimeter_controls_carry_over(controls, next, keeper.error) == CURSIMETER_OK);
    REQUIRE(cursimeter_controls_intent(controls, &intent) == CURSIMETER_OK);
    const int sprint = cursimeter_find(next, CURSIMETER_ACTIONS, "sprint", nullptr);
    CHECK(intent.held == 1U << sprint);
    CHECK(cursimeter_advance(next, &runner, &intent, nullptr, 0.05, nullptr) == CURSIMETER_OK);
    cursimeter_controls_free(controls);
    cursimeter_chart_free(next);
}

namespace {

/// A floor at 0 with a gust beyond x = 2 m.
struct Quay final : cursimeter::Terrain {
    cursimeter::Push gust{{0.0, 1.0, 0.0}, 4.0, 0.0, 0.5, false, false};
    [[nodiscard]] bool sweep(const cursimeter::Sweep& sweep, cursimeter::Hit& hit) const noexcept override {
        const double end = sweep.from.z + sweep.motion.z;
        if (sweep.motion.z >= 0.0 || end > 0.0) {
            return false;
        }
        hit = {std::max(0.0, sweep.from.z / -sweep.motion.z), {0.0, 0.0, 1.0}, {0.0, 0.0, 1.0}, 1};
        return true;
    }
    [[nodiscard]] bool overlap(const cursimeter::Capsule&, const glm::dvec3& feet, double,
                               cursimeter::Overlap& overlap) const noexcept override {
        overlap = {-feet.z, {0.0, 0.0, 1.0}};
        return feet.z < 0.0;
    }
    [[nodiscard]] cursimeter::ZoneReading zones(const glm::dvec3& point, double) const noexcept override {
        cursimeter::ZoneReading reading;
        reading.zones = point.x > 2.0 ? 1 : 0;
        reading.push = point.x > 2.0 ? &gust : nullptr;
        return reading;
    }
};
int quay_sweep(void* user, const cursimeter_sweep* asked, cursimeter_hit* out) {
    return swept(*static_cast<Quay*>(user), *asked, *out);
}
int quay_overlap(void*, const cursimeter_sweep* body, cursimeter_overlap* out) {
    *out = {-body->from[2], {0.0, 0.0, 1.0}};
    return body->from[2] < 0.0 ? 1 : 0;
}
void quay_zones(void*, const double point[3], double, cursimeter_zone_reading* out) {
    static cursimeter_push_spec gust = CURSIMETER_PUSH_INIT;
    gust.direction[0] = 0.0;
    gust.direction[1] = 1.0;
    gust.strength = 4.0;
    gust.seconds = 0.5;
    out->zones = point[0] > 2.0 ? 1 : 0;
    out->push = point[0] > 2.0 ? &gust : nullptr;
}

}  // namespace

TEST_CASE("a zone of a world in C pushes as one in C++ does, through both doors", "[capi]") {
    const Loaded bearer("bearer");
    const cursimeter::Chart chart = cursimeter::load_chart(demo + "charts/bearer.toml").chart;
    REQUIRE(!chart.zones().empty());
    Quay quay;
    cursimeter_world world = CURSIMETER_WORLD_INIT;
    world.user = &quay;
    world.sweep = quay_sweep;
    world.overlap = quay_overlap;
    world.zones = quay_zones;
    cursimeter_terrain* terrain = nullptr;
    REQUIRE(cursimeter_terrain_new(&world, &terrain, nullptr) == CURSIMETER_OK);
    cursimeter_runner runner;
    REQUIRE(cursimeter_spawn(bearer.chart, nullptr, &runner, nullptr) == CURSIMETER_OK);
    cursimeter::Runner twin = spawn(chart);
    cursimeter_intent intent = CURSIMETER_INTENT_INIT;
    intent.forward = 1.0;
    cursimeter::Intent same;
    same.move.forward = 1.0;
    auto report = std::make_unique<cursimeter_report>();
    report->size = sizeof(cursimeter_report);
    int pushed = 0;
    const auto count_pushes = [&] {
        for (std::uint32_t i = 0; i < report->event_count; ++i) {
            pushed += report->events[i].kind == CURSIMETER_PUSHED ? 1 : 0;
        }
    };
    for (int tick = 0; tick < 120; ++tick) {
        REQUIRE(cursimeter_advance(bearer.chart, &runner, &intent, terrain, 1.0 / 60.0, report.get()) ==
                CURSIMETER_OK);
        static_cast<void>(advance(chart, twin, same, quay, cursimeter::Seconds{1.0 / 60.0}));
        REQUIRE(cursimeter_digest(&runner) == digest(twin));
        count_pushes();
    }
    CHECK(pushed == 1);
    CHECK(twin.position().y == Approx(1.0).margin(1e-6));  // 4 m/s * 0.5 s / 2
    cursimeter_terrain_free(terrain);

    SECTION("where the game's own collision moves it") {
        REQUIRE(cursimeter_spawn(bearer.chart, nullptr, &runner, nullptr) == CURSIMETER_OK);
        cursimeter_contacts contacts = CURSIMETER_CONTACTS_INIT;
        cursimeter_plan* plan = cursimeter_plan_new();
        cursimeter_plan_reading reading = CURSIMETER_PLAN_READING_INIT;
        cursimeter_reading now = CURSIMETER_READING_INIT;
        pushed = 0;
        for (int tick = 0; tick < 120; ++tick) {
            REQUIRE(cursimeter_propose(bearer.chart, &runner, &intent, &contacts, 1.0 / 60.0, plan,
                                       &reading) == CURSIMETER_OK);
            REQUIRE(cursimeter_read(bearer.chart, &runner, &now) == CURSIMETER_OK);
            const double x = now.position[0] + reading.displacement[0];
            cursimeter_push_spec gust = CURSIMETER_PUSH_INIT;  // lives as long as the call
            gust.direction[0] = 0.0;
            gust.direction[1] = 1.0;
            gust.strength = 4.0;
            gust.seconds = 0.5;
            contacts.zones.zones = x > 2.0 ? 1 : 0;
            contacts.zones.push = x > 2.0 ? &gust : nullptr;
            REQUIRE(cursimeter_settle(bearer.chart, &runner, plan, reading.displacement, &contacts,
                                      report.get()) == CURSIMETER_OK);
            contacts.zones.push = nullptr;
            count_pushes();
        }
        CHECK(pushed == 1);
        REQUIRE(cursimeter_read(bearer.chart, &runner, &now) == CURSIMETER_OK);
        CHECK(now.position[1] == Approx(1.0).margin(1e-6));
        cursimeter_plan_free(plan);
    }
}
