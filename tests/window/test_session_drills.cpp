#include <catch2/catch.hpp>
#include <cursimeter/chartfile/course_file.hpp>
#include <cursimeter/survey/run.hpp>

#include "support/bearer.hpp"
#include "window/session_time.hpp"

using namespace support;
using tool::ShownBody;

TEST_CASE("a drill plays until somebody presses a key", "[window]") {
    const Folder folder("session");
    TryOptions options = options_for(folder);
    options.drill = std::string(CURSIMETER_SOURCE_DIR) + "/demo/drills/quay_boards.toml";
    Session session(options);
    Time time(session);
    time.pass(3.0);
    CHECK(session.drill_is_playing());
    const DrillFile drill = load_drill(options.drill, session.play.chart());
    Runner alone = drill.drill.spawn(session.play.chart());
    DrillPlayer player(drill.drill, alone);
    for (int i = 0; i < static_cast<int>(session.play.ticks()); ++i) {
        const double begin = i / 60.0, end = (i + 1) / 60.0;
        static_cast<void>(
            advance(session.play.chart(), alone, player.intent(begin, end), Seconds{end - begin}));
    }
    CHECK(session.play.runner().position().x == Approx(alone.position().x).margin(1e-3));
    CHECK(session.play.runner().state() == alone.state());
    session.press("key.a", time.now());
    time.pass(0.1);
    CHECK_FALSE(session.drill_is_playing());
    CHECK(session.word().text.find("your hands") != std::string::npos);
}

TEST_CASE("a stretch that is saved as a drill goes on in another window as it was played", "[window]") {
    const Folder folder("session");
    TryOptions options = options_for(folder);
    Session session(options);
    Time time(session);
    time.pass(0.5);
    session.press("key.w", time.now() + 0.003);
    session.press("key.left_shift", time.now() + 0.003);
    time.pass(2.0);
    session.turn(150.0, -20.0, time.now() + 0.004);
    time.pass(0.3);
    const tryout::Moment since = session.play.now();
    REQUIRE(session.play.runner().speed() > 4.0);
    session.turn(-90.0, 0.0, time.now() + 0.006);
    time.pass(0.4);
    session.release("key.left_shift", time.now() + 0.002);
    time.pass(0.8);
    session.save_drill(since);
    REQUIRE(session.written().size() == 2);  // the yard as well
    const std::uint64_t played = digest(session.play.runner());
    const std::uint64_t ticks = session.play.now().value - since.value;

    TryOptions other = options_for(folder);
    other.drill = session.written()[0];
    other.course = session.written()[1];
    Session again(other);
    CHECK(again.play.runner().speed() > 4.0);
    CHECK(again.drill_is_playing());
    Time later(again);
    while (again.play.ticks() < ticks) {
        later.pass(1.0 / 60.0);
    }
    CHECK(digest(again.play.runner()) == played);
    later.pass(0.5);
    CHECK_FALSE(again.drill_is_playing());
    again.respawn();
    CHECK(again.play.runner().speed() > 4.0);
    CHECK(again.drill_is_playing());
    // With other numbers it begins there all the same.
    again.tuning.set("states.sprint.speed.forward", 5.0);
    again.tuning.end_turn();
    again.use_tuned_chart();
    again.respawn();
    CHECK(again.play.runner().speed() > 4.0);
    CHECK(again.drill_is_playing());
    // A server spawns by itself.
    again.network(true);
    CHECK_FALSE(again.drill_is_playing());
    CHECK(again.word().text.find("saved runner") != std::string::npos);

    const DrillFile drill = load_drill(other.drill, session.play.chart());
    const survey::Run run = survey::run(session.play.chart(), drill.drill, load_course(other.course),
                                        survey::even_ticks(60.0, drill.drill));
    CHECK(run.digest == played);
}

TEST_CASE("a window in which all that are shown face where they go", "[window]") {
    const double pi = Degrees{180.0}.radians();
    const Folder folder("session");
    for (const std::string facing : {"", "look", "movement"}) {
        TryOptions options = options_for(folder);
        options.facing = facing;
        Session session(options);
        Time time(session);
        time.pass(0.5);
        session.press("key.s", time.now());
        time.pass(1.5);
        CHECK(session.play.runner().speed() == Approx(facing == "movement" ? 2.4 : 1.6).margin(1e-9));
        const double back = facing == "movement" ? pi : 0.0;
        CHECK(std::fabs(session.faced(ShownBody::own).yaw) == Approx(back).margin(1e-9));
        CHECK(session.look().yaw == 0.0);
    }
    TryOptions options = options_for(folder);
    options.facing = "movement";
    {
        Session session(options);
        Time time(session);
        time.pass(0.5);
        session.ghost(true);
        session.press("key.a", time.now());
        time.pass(1.0);
        session.release("key.a", time.now());
        session.press("key.s", time.now());
        time.pass(1.0);
        const auto yaw = [&](ShownBody body) { return std::fabs(session.faced(body).yaw); };
        CHECK(yaw(ShownBody::ghost) == Approx(pi).margin(1e-9));  // as it goes, though it looks ahead
        CHECK(session.play.ghost()->runner.yaw() == 0.0);
        session.clock.pause(true);
        session.play.step_back(70);  // to where both went to the left
        time.pass(1.0 / 60.0);
        CHECK(yaw(ShownBody::own) == Approx(0.5 * pi).margin(1e-9));
        CHECK(yaw(ShownBody::ghost) == Approx(0.5 * pi).margin(1e-9));
        session.clock.pause(false);
        session.network(true);
        time.pass(1.0);
        session.release("key.s", time.now());
        session.press("key.d", time.now());
        time.pass(2.0);
        CHECK(session.faced(ShownBody::own).yaw == Approx(-0.5 * pi).margin(1e-3));
        CHECK(session.faced(ShownBody::truth).yaw == Approx(-0.5 * pi).margin(1e-3));
        CHECK(session.faced(ShownBody::seen).yaw == Approx(-0.5 * pi).margin(0.01));
    }
    options.drill =
        folder.write("back.toml",
                     "format = 1\nname = \"back\"\nseconds = 5\nstart = { facing = \"movement\" }\n"
                     "[[step]]\nat = 0\nmove = { forward = -1 }\n");
    for (const bool told : {false, true}) {
        options.facing = told ? "look" : "";
        Session session(options);
        Time time(session);
        time.pass(2.0);
        CHECK(session.play.runner().speed() == Approx(told ? 1.6 : 2.4).margin(1e-9));
    }
}
