#include <SDL.h>

#include <catch2/catch.hpp>
#include <cursimeter/chartfile/chart_file.hpp>
#include <cursimeter/chartfile/course_file.hpp>
#include <cursimeter/survey/run.hpp>
#include <cursimeter/survey/take.hpp>
#include <cursimeter/tryout/default_controls.hpp>
#include <filesystem>
#include <fstream>

#define CURSIMETER_PROGRAM ""
#include "support/bearer.hpp"
#include "support/program.hpp"
#include "window/devices.hpp"
#include "window/input_names.hpp"
#include "window/session_time.hpp"

using namespace support;
using tool::Devices;
using tool::Session;
using tool::TryOptions;

namespace {

std::string state(const Session& session) {
    return session.play.chart().name(session.play.runner().state());
}

SDL_Event key(Uint32 type, SDL_Scancode scancode) {
    SDL_Event event{};
    event.type = type;
    event.key.keysym.scancode = scancode;
    event.common.timestamp = SDL_GetTicks();
    return event;
}

struct Sdl {
    Sdl() {
        SDL_SetHint(SDL_HINT_VIDEODRIVER, "dummy");
        SDL_SetHint(SDL_HINT_JOYSTICK_ALLOW_BACKGROUND_EVENTS, "1");
        SDL_SetHint(SDL_HINT_NO_SIGNAL_HANDLERS, "1");
        REQUIRE(SDL_Init(SDL_INIT_VIDEO | SDL_INIT_GAMECONTROLLER) == 0);
    }
    Sdl(const Sdl&) = delete;
    Sdl& operator=(const Sdl&) = delete;
    ~Sdl() { SDL_Quit(); }
};

}  // namespace

TEST_CASE("a key counts from its own time inside the tick, at any frame rate", "[window]") {
    const Folder folder("session");
    const double frame = GENERATE(1.0 / 30.0, 1.0 / 60.0, 1.0 / 144.0);
    Session session(options_for(folder));
    Time time(session);
    time.pass(0.5, frame);
    const double pressed = time.now() + 0.003;
    session.press("key.w", pressed);
    time.pass(0.5, frame);
    // By hand: 12 m/s^2 up to 2.4 m/s, from the moment of the press.
    const double moved = session.play.lived() - pressed;
    CHECK(session.play.runner().position().x == Approx(2.4 * moved - 2.4 * 2.4 / 24.0).margin(2e-3));
    session.release("key.w", time.now());
    time.pass(1.0, frame);
    CHECK(session.play.runner().speed() == 0.0);
}

TEST_CASE("no key sticks: losing the focus, the gamepad, and keys bound anew while they are down",
          "[window]") {
    const Folder folder("session");
    Session session(options_for(folder));
    Time time(session);
    const Sdl sdl;
    Devices devices(session);
    devices.take(key(SDL_KEYDOWN, SDL_SCANCODE_W), true, true, time.now());
    devices.take(key(SDL_KEYDOWN, SDL_SCANCODE_LSHIFT), true, true, time.now());
    time.pass(1.0);
    CHECK(state(session) == "sprint");

    SECTION("focus") {
        SDL_Event event{};
        event.type = SDL_WINDOWEVENT;
        event.window.event = SDL_WINDOWEVENT_FOCUS_LOST;
        devices.take(event, true, true, time.now());
        time.pass(1.0);
        CHECK(session.play.runner().speed() == 0.0);
    }
    SECTION("keys that go up while a panel has the keyboard") {
        devices.take(key(SDL_KEYUP, SDL_SCANCODE_LSHIFT), false, true, time.now());
        devices.take(key(SDL_KEYUP, SDL_SCANCODE_W), false, true, time.now());
        devices.take(key(SDL_KEYDOWN, SDL_SCANCODE_W), false, true, time.now());
        time.pass(1.0);
        CHECK(session.play.runner().speed() == 0.0);
    }
    SECTION("bound anew") {
        std::size_t sprint = 0;
        while (session.controls_spec().bindings[sprint].inputs[0] != "key.left_shift") {
            ++sprint;
        }
        devices.listen(true);
        devices.take(key(SDL_KEYDOWN, SDL_SCANCODE_K), true, true, time.now());
        REQUIRE(devices.heard() == "key.k");
        CHECK_FALSE(devices.heard());
        CHECK(session.rebind(sprint, "key.k"));
        time.pass(0.5);
        CHECK(state(session) == "walk");  // W is still down
        devices.take(key(SDL_KEYUP, SDL_SCANCODE_LSHIFT), true, true, time.now());
        devices.take(key(SDL_KEYUP, SDL_SCANCODE_K), true, true, time.now());
        devices.take(key(SDL_KEYDOWN, SDL_SCANCODE_K), true, true, time.now());
        time.pass(1.0);
        CHECK(state(session) == "sprint");
        CHECK(session.save_controls());
        TryOptions again = options_for(folder);
        again.controls = session.written().back();
        CHECK(Session(again).controls_spec().bindings[sprint].inputs == std::vector<std::string>{"key.k"});
        CHECK(session.rebind(sprint, "key.w"));
        CHECK(session.word().text.find("are both on key.w") != std::string::npos);
    }
    SECTION("a gamepad that is pulled out") {
        devices.take(key(SDL_KEYUP, SDL_SCANCODE_LSHIFT), true, true, time.now());
        devices.take(key(SDL_KEYUP, SDL_SCANCODE_W), true, true, time.now());
        time.pass(1.0);
        const int index = SDL_JoystickAttachVirtual(SDL_JOYSTICK_TYPE_GAMECONTROLLER, SDL_CONTROLLER_AXIS_MAX,
                                                    SDL_CONTROLLER_BUTTON_MAX, 0);
        REQUIRE(index >= 0);
        const auto poll = [&] {
            SDL_Event event;
            while (SDL_PollEvent(&event) != 0) {
                devices.take(event, true, true, time.now());
            }
        };
        poll();
        REQUIRE(devices.has_pad());
        SDL_Joystick* stick = SDL_JoystickOpen(index);
        REQUIRE(stick != nullptr);
        const double before = session.play.runner().position().x;
        SDL_JoystickSetVirtualAxis(stick, SDL_CONTROLLER_AXIS_LEFTY, -32768);
        SDL_JoystickSetVirtualButton(stick, SDL_CONTROLLER_BUTTON_LEFTSTICK, 1);
        poll();
        time.pass(1.0);
        poll();
        CHECK(state(session) == "sprint");
        CHECK(session.play.runner().position().x > before + 2.0);
        SDL_JoystickDetachVirtual(index);
        poll();
        CHECK_FALSE(devices.has_pad());
        time.pass(1.0);
        CHECK(session.play.runner().speed() == 0.0);
        CHECK(session.word().text == "the gamepad is gone");
        SDL_JoystickClose(stick);
    }
}

TEST_CASE("turned back, the look is the one of then, and goes on from there", "[window]") {
    const Folder folder("session");
    Session session(options_for(folder));
    Time time(session);
    for (int i = 0; i < 60; ++i) {
        session.turn(-10.0, 0.0, time.now());  // 1.5 degrees to the left
        time.pass(1.0 / 60.0);
    }
    const double yaw = session.play.runner().yaw();
    CHECK(yaw == Approx(59.0 * 1.5 * 3.141592653589793 / 180.0).margin(0.03));
    session.clock.pause(true);
    session.play.step_back(40);
    const double then = session.look().yaw;
    CHECK(then == Approx(yaw - 40.0 * 1.5 * 3.141592653589793 / 180.0).margin(0.03));
    session.clock.pause(false);
    time.pass(0.2);
    CHECK(session.play.runner().yaw() == Approx(then).margin(1e-9));
}

TEST_CASE("while time stands still one can look around, and what is held then counts when it goes on",
          "[window]") {
    const Folder folder("session");
    Session session(options_for(folder));
    Time time(session);
    time.pass(0.5);
    session.clock.pause(true);
    session.turn(-100.0, 0.0, time.now());
    session.press("key.w", time.now());
    time.pass(0.5);
    CHECK(session.play.ticks() == 30);
    CHECK(session.look().yaw == Approx(15.0 * 3.141592653589793 / 180.0));
    CHECK(session.play.runner().yaw() == 0.0);
    session.clock.pause(false);
    time.pass(1.0);
    CHECK(session.play.runner().speed() == Approx(2.4));
    CHECK(session.play.runner().yaw() == Approx(15.0 * 3.141592653589793 / 180.0).margin(1e-5));
    session.release("key.w", time.now());
    session.clock.pause(true);
    time.pass(0.2);
    session.clock.pause(false);
    time.pass(1.0);
    CHECK(session.play.runner().speed() == 0.0);
}

TEST_CASE("press modes of a player's settings and of a drill hold from the first tick, over a network too",
          "[window]") {
    const Folder folder("session");
    TryOptions options = options_for(folder);
    options.controls =
        folder.write("mine.toml", "format = 1\nname = \"mine\"\n[actions.sprint]\npress = \"toggle\"\n");
    options.network = GENERATE(false, true);
    Session session(options);
    Time time(session);
    time.pass(1.0);  // to join
    session.press("key.w", time.now());
    session.press("key.left_shift", time.now());
    time.pass(0.2);
    session.release("key.left_shift", time.now());
    time.pass(1.5);
    const Runner& runner = session.net() != nullptr ? session.net()->own() : session.play.runner();
    CHECK(session.play.chart().name(runner.state()) == "sprint");

    options.controls.clear();
    options.drill =
        folder.write("drill.toml",
                     "format = 1\nname = \"d\"\nseconds = 3\nset_toggle = [\"sprint\"]\n[[step]]\nat = 0.5\n"
                     "press = [\"sprint\"]\nmove = { forward = 1 }\n");
    options.network = false;
    Session scripted(options);
    Time its_time(scripted);
    its_time.pass(2.0);
    CHECK(state(scripted) == "sprint");
    its_time.pass(2.0);  // the drill is over, and the player's own mode holds again
    CHECK_FALSE(scripted.drill_is_playing());
    CHECK(scripted.play.runner().press_mode(scripted.play.chart().action("sprint")) == PressMode::hold);
}

TEST_CASE("saving: what cannot be saved is told, and nothing of anybody's is overwritten", "[window]") {
    const Folder folder("session");
    const TryOptions options = options_for(folder);
    Session session(options);
    Time time(session);
    time.pass(1.0);
    session.tuning.set("states.walk.speed.forward", 3.0);
    session.use_tuned_chart();
    const std::string mine = folder.write("bearer.played-1.take", "mine");
    session.save_take(session.play.begun());
    CHECK(session.word().wrong);  // the chart has changed since the last tick
    time.pass(1.0);
    session.save_take(session.play.begun());
    CHECK(session.word().text.find("bearer.played-2.take") != std::string::npos);
    CHECK(session.word().text.find("since the chart was changed last") != std::string::npos);
    CHECK(read_file(mine) == "mine");

    SECTION("somebody else has saved the file meanwhile: both changes are kept") {
        std::string text = read_file(options.chart);
        text.replace(text.find("forward = 6.5"), 13, "forward = 6.7");
        const auto saved_at = std::filesystem::last_write_time(options.chart);
        const std::string written = folder.write("bearer.toml", text);
        std::filesystem::last_write_time(options.chart, saved_at);  // in the same moment, and as long
        CHECK(session.save());
        const std::string saved = read_file(options.chart);
        CHECK(saved.find("forward = 6.7 ") != std::string::npos);
        CHECK(saved.find("forward = 3,") != std::string::npos);
    }
    SECTION("somebody else has broken the file meanwhile: it stays as it is") {
        const std::string written = folder.write("bearer.toml", "format = 1\nrank = [\n");
        CHECK_FALSE(session.save());
        CHECK(session.word().wrong);
        CHECK(read_file(options.chart) == "format = 1\nrank = [\n");
        CHECK(session.tuning.changed().size() == 1);
    }
    SECTION("the file is gone: it is written anew") {
        std::filesystem::remove(options.chart);
        session.look_at_files();
        CHECK(session.file_errors().find("is gone") != std::string::npos);
        CHECK(session.save());
        CHECK(read_file(options.chart).find("forward = 3,") != std::string::npos);
        CHECK(session.file_errors().empty());
    }
    SECTION("the folder is gone: it is told") {
        std::filesystem::remove_all(std::filesystem::path(options.chart).parent_path());
        CHECK_FALSE(session.save());
        CHECK(session.word().text.find("not saved") != std::string::npos);
        CHECK(session.tuning.changed().size() == 1);
        std::filesystem::create_directories(std::filesystem::path(options.chart).parent_path());
    }
}

TEST_CASE("a session begins only with files that are usable, each mistake with its place", "[window]") {
    const Folder folder("session");
    TryOptions options = options_for(folder);
    CHECK(complaint([&] {
              TryOptions other = options;
              other.chart = folder.write("broken.toml", "format = 1\nname = \"x\"\nrank = [\"walk\"]\n");
              Session{other};
          }).find("broken.toml:1:1: states: is missing") != std::string::npos);
    CHECK(complaint([&] {
              TryOptions other = options;
              other.set = "states.walk.speed.forward";
              Session{other};
          }).find("write PATH=NUMBER") != std::string::npos);
    CHECK(complaint([&] {
              TryOptions other = options;
              other.rate = 5.0;
              Session{other};
          }).find("rate: 5 is out of range") != std::string::npos);
    CHECK(complaint([&] {
              TryOptions other = options;
              other.course = folder.file("none.toml");
              Session{other};
          }).find("none.toml") != std::string::npos);

    // A course without ground: the character falls, and begins again.
    options.course = folder.write(
        "void.toml", "format = 1\nname = \"void\"\n[[zone]]\nkind = \"mud\"\nfrom = [0,0,0]\nto = [1,1,1]\n");
    Session session(options);
    Time time(session);
    time.pass(4.0);
    CHECK(session.play.fell_out());
    session.respawn();
    CHECK_FALSE(session.play.fell_out());
}

TEST_CASE("a machine that stands still leaves time out, and says so", "[window]") {
    const Folder folder("session");
    Session session(options_for(folder));
    Time time(session);
    time.pass(2.0);
    const std::uint64_t ticks = session.play.ticks();
    session.run_until(time.now() + 3.0);
    CHECK(session.play.ticks() - ticks == 15);
    CHECK(session.word().text == "the machine stood still: 2.75 s were left out");
}

TEST_CASE("inputs of a controls file that the window never gives are told, with those that are meant",
          "[window]") {
    const Folder folder("inputs");
    TryOptions options = options_for(folder);
    options.controls = folder.file("keys.toml");
    std::ofstream(options.controls) << R"(format = 1
name = "keys"
bind = [
    { action = "jump", inputs = ["space"] },
    { action = "jump", inputs = ["key.left_shft", "mouse.left"] },
    { action = "dash", inputs = ["left"] },
    { action = "dash", inputs = ["Q"] },
    { action = "tread", inputs = ["the third pedal"] },
])";
    const std::string told = options.controls + ": caution: bind[";
    const std::vector<std::string> expected{
        told + "1].inputs: the window knows no input 'space'; did you mean 'key.space'?",
        told + "2].inputs: the window knows no input 'key.left_shft'; did you mean 'key.left_shift'?",
        told + "3].inputs: the window knows no input 'left'; did you mean 'key.left'?",
        told + "4].inputs: the window knows no input 'Q'; did you mean 'key.q'?",
        told +
            "5].inputs: the window knows no input 'the third pedal'; names are as in key.space, mouse.left "
            "or "
            "pad.south; the window's keys tab writes them"};
    const Session session(options);
    CHECK(session.cautions() == expected);
    CHECK(session.word().text == expected.front());
    CHECK(session.word().wrong);
}

TEST_CASE("the window gives every input of the usual controls", "[window]") {
    for (const char* name : {"bearer", "eel", "gannet", "keeper"}) {
        const Chart chart =
            load_chart(std::string(CURSIMETER_SOURCE_DIR) + "/demo/charts/" + name + ".toml").chart;
        CHECK(tool::cautions_of(tryout::default_controls(chart)) == std::vector<std::string>{});
    }
}
