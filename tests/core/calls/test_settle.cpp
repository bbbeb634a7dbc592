#include "game_mover.hpp"
#include "support/all_ways.hpp"
#include "support/worlds.hpp"

using namespace support;

namespace {

struct Entry {
    double at;
    std::string state;
};

/// States that were entered, with their times, and the last place.
struct SettleStory {
    std::vector<Entry> states;
    glm::dvec3 place{0.0};
};

void tell(SettleStory& story, const Chart& chart, const Report& report, double begin) {
    for (const Event& event : report.events()) {
        if (event.kind == EventKind::entered) {
            story.states.push_back({begin + event.at, chart.name(StateId{event.subject})});
        }
    }
}

SettleStory by_game(const CourseSpec& spec, const Chart& chart, const Script& script, double rate) {
    const Course course(spec);
    CourseTerrain terrain(course, chart);
    const Drill drill(script.drill, chart);
    Runner runner = drill.spawn(chart);
    DrillPlayer player(drill, runner);
    Contacts contacts;
    // What it stands on before the first tick.
    Plan nowhere = propose(chart, runner, {}, contacts, Seconds{1.0 / rate});
    nowhere.displacement = nowhere.carry = {0.0, 0.0, 0.0};
    static_cast<void>(GameMover(terrain, Seconds{0.0}).move(nowhere, runner.position(), contacts));
    SettleStory story;
    double begin = 0.0;
    for (const double end : survey::even_ticks(rate, drill.length())) {
        const Plan plan = propose(chart, runner, player.intent(begin, end), contacts, Seconds{end - begin});
        terrain.set_time(begin);
        const glm::dvec3 moved =
            GameMover(terrain, Seconds{end - begin}).move(plan, runner.position(), contacts);
        tell(story, chart, settle(chart, runner, plan, moved, contacts), begin);
        begin = end;
    }
    story.place = runner.position();
    return story;
}

SettleStory by_library(const CourseSpec& spec, const Chart& chart, const Script& script, double rate) {
    SettleStory story;
    const survey::Run run =
        run_in(spec, chart, script, rate, script.drill.start.position.value_or(std::array<double, 3>{}));
    for (std::size_t i = 1; i < run.visits.size(); ++i) {
        story.states.push_back({run.visits[i].at, chart.name(run.visits[i].state)});
    }
    story.place = run.runner.position();
    return story;
}

/// The game's run has the states of the library's, at their times as far as ticks tell, and ends at its place.
void check_same(const CourseSpec& spec, const Chart& chart, const Script& script, double margin) {
    const SettleStory own = by_library(spec, chart, script, 60.0);
    for (const double rate : {30.0, 60.0, 144.0}) {
        CAPTURE(rate);
        const SettleStory game = by_game(spec, chart, script, rate);
        for (const Entry& change : game.states) {
            UNSCOPED_INFO(change.at << " " << change.state);
        }
        REQUIRE(game.states.size() == own.states.size());
        for (std::size_t i = 0; i < own.states.size(); ++i) {
            CAPTURE(i, own.states[i].state, own.states[i].at, game.states[i].at);
            CHECK(game.states[i].state == own.states[i].state);
            CHECK(near(game.states[i].at, own.states[i].at, 2.5 / rate));
        }
        CAPTURE(game.place.x, own.place.x, game.place.z, own.place.z);
        CHECK(near(game.place.x, own.place.x, margin));
        CHECK(near(game.place.z, own.place.z, margin));
    }
}

/// Steps, a low ceiling, a ramp up and down, a gap, a wall at the end.
CourseSpec track() {
    CourseSpec spec;
    spec.name = "track";
    spec.boxes.push_back({{-5.0, -5.0, -2.0}, {40.0, 5.0, 0.0}, Degrees{0.0}});
    spec.boxes.push_back({{6.0, -5.0, 0.0}, {9.0, 5.0, 0.25}, Degrees{0.0}});
    spec.ceilings.push_back({{14.0, -5.0, 1.3}, {18.0, 5.0, 1.3}, 0.3});
    spec.ramps.push_back({{22.0, 0.0, 0.0}, {27.0, 0.0, 2.0}, 10.0, 0.5});
    spec.ramps.push_back({{27.0, 0.0, 2.0}, {34.0, 0.0, 0.0}, 10.0, 0.5});
    spec.boxes.push_back({{43.0, -5.0, -2.0}, {70.0, 5.0, 0.0}, Degrees{0.0}});
    spec.walls.push_back({{60.0, -5.0, 0.0}, {60.0, 5.0, 0.0}, 4.0, 0.3});
    return spec;
}

}  // namespace

TEST_CASE("a game that moves the runner itself sees the run that the library's own moving gives") {
    ChartSpec spec = all_ways();
    spec.states[0].speed.forward = 5.0;
    const Chart chart = compile(spec);
    const Script script = Script(18.0)
                              .move(0.0, ahead)
                              .hold(2.4, "crouch")
                              .release(6.0, "crouch")
                              .hold(11.3, "jump")
                              .release(11.7, "jump");
    const SettleStory own = by_library(track(), chart, script, 60.0);
    CHECK(near(own.place.x, 60.0 - 0.15 - 0.35, 1e-3));
    check_same(track(), chart, script, 0.01);
}

TEST_CASE("the game's mover goes along with a platform, and leaves it with its pace") {
    const Chart chart = compile(all_ways());
    CourseSpec spec;
    spec.name = "crossing";
    spec.boxes.push_back({{-50.0, -50.0, -5.0}, {50.0, 50.0, -3.0}, Degrees{0.0}});
    spec.platforms.push_back({{4.0, 4.0, 0.4}, {{0.0, 0.0, 0.0}, {30.0, 0.0, 3.0}}, 3.0, 0.0});
    const Script ride(4.0);
    CHECK(near(by_library(spec, chart, ride, 60.0).place.x, 4.0 * 3.0 * 30.0 / std::hypot(30.0, 3.0), 0.01));
    check_same(spec, chart, ride, 0.01);
    // Hops on it, walks against its way and leaps off it backwards: its 3 m/s forward stay with the runner.
    check_same(spec, chart,
               Script(4.0)
                   .hold(0.5, "jump")
                   .release(0.55, "jump")
                   .move(1.9, {.forward = -1.0, .side = 0.0})
                   .hold(2.2, "jump")
                   .release(2.25, "jump"),
               0.1);
}

TEST_CASE("who is too fast to stick flies off edges and crests by the game's mover too") {
    ChartSpec spec = all_ways();
    spec.states[0].speed.forward = 15.0;
    CourseSpec steps;
    steps.name = "steps";
    steps.boxes.push_back({{-5.0, -5.0, -9.0}, {20.0, 5.0, 0.0}, Degrees{0.0}});
    steps.boxes.push_back({{20.0, -5.0, -9.0}, {60.0, 5.0, -0.3}, Degrees{0.0}});  // below the step height
    steps.ramps.push_back({{60.0, 0.0, -0.3}, {120.0, 0.0, -6.3}, 10.0, 0.5});
    for (const bool sticks : {false, true}) {
        CAPTURE(sticks);
        spec.body.stick_speed = sticks ? 16.0 : 12.0;
        const Chart chart = compile(spec);
        const Script script = Script(6.0).move(0.0, ahead);
        const SettleStory own = by_library(steps, chart, script, 60.0);
        CHECK(own.states.size() == (sticks ? 0U : 4U));  // twice up and down
        check_same(steps, chart, script, 0.05);
    }
}

TEST_CASE("the game's mover finds the wall that a run along it needs") {
    const Chart chart = compile(all_ways());
    CourseSpec spec = floor_only();
    spec.walls.push_back({{0.0, 0.6, 0.0}, {100.0, 0.6, 0.0}, 12.0, 0.2});
    Script script = Script(3.5).move(0.0, ahead).hold(1.0, "jump").release(1.1, "jump");
    script.drill.start.position = {1.0, 0.0, 0.0};
    const SettleStory own = by_library(spec, chart, script, 60.0);
    CHECK(std::any_of(own.states.begin(), own.states.end(),
                      [](const Entry& entry) { return entry.state == "wallrun"; }));
    check_same(spec, chart, script, 0.1);
}

TEST_CASE("what the game reports is what counts") {
    const Chart chart = compile(leaper());
    Runner runner = spawn(chart);
    Contacts contacts;
    const auto step = [&](double part, const Contacts& found) {
        Intent intent;
        intent.move = ahead;
        const Plan plan = propose(chart, runner, intent, contacts, Seconds{0.05});
        contacts = found;
        return settle(chart, runner, plan, plan.displacement * part, found);
    };
    for (int i = 0; i < 20; ++i) {
        static_cast<void>(step(1.0, {}));
    }
    CHECK(near(runner.speed(), 5.0, 1e-9));
    const double before = runner.position().x;
    static_cast<void>(step(0.5, {}));  // half the way, without a word why
    CHECK(near(runner.position().x - before, 0.125, 1e-9));
    CHECK(near(runner.speed(), 2.5, 1e-9));

    Contacts wall;
    wall.barriers[0] = {-1.0, 0.0, 0.0};
    wall.barrier_count = 1;
    const Report bumped = step(0.0, wall);
    REQUIRE(find(bumped, EventKind::bumped) != nullptr);
    CHECK(runner.speed() == 0.0);
    static_cast<void>(step(1.0, wall));
    CHECK(runner.speed() == 0.0);  // it leans against the wall and does not speed up

    Contacts air;
    air.grounded = false;
    const Report lifted = step(1.0, air);
    CHECK(find(lifted, EventKind::lifted) != nullptr);
    CHECK(chart.name(runner.state()) == "fall");
    Contacts slope;
    slope.ground_normal = {-0.6, 0.0, 0.8};
    for (int i = 0; i < 4; ++i) {
        static_cast<void>(step(1.0, air));
    }
    const Report landed = step(1.0, slope);
    REQUIRE(find(landed, EventKind::landed) != nullptr);
    CHECK(near(find(landed, EventKind::landed)->value, 0.8 * 30.0 * 0.25, 1e-6));
    CHECK(chart.name(runner.state()) == "run");
}

TEST_CASE("nonsense from the game is left out and told") {
    const Chart chart = compile(leaper());
    Runner runner = spawn(chart);
    Contacts bad;
    bad.ground_normal = {NAN, 0.0, 0.0};
    bad.barriers[0] = {0.0, 0.0, 0.0};
    bad.barrier_count = 200;
    const Plan plan = propose(chart, runner, {}, bad, Seconds{0.02});
    const Report report = settle(chart, runner, plan, {NAN, 0.0, 0.0}, bad);
    CHECK(report.intent_mended);
    CHECK(runner.position() == glm::dvec3(0.0));
    CHECK(runner.grounded());
    const std::uint64_t before = digest(runner);
    const Plan refused = propose(chart, runner, {}, {}, Seconds{-1.0});
    CHECK(settle(chart, runner, refused, {1.0, 0.0, 0.0}, {}).refusal == Refusal::bad_dt);
    CHECK(digest(runner) == before);
}

TEST_CASE("a game that stops a runner a little short slows it, by very little it does not") {
    const Chart chart = compile(walker({.forward = 6.0}, ramp(20.0, 20.0, 20.0)));
    const auto speed_after = [&](double part) {
        Runner runner = spawn(chart);
        pass(chart, runner, ahead, 1.0);
        Intent intent;
        intent.move = ahead;
        const Contacts flat;
        const Plan first = propose(chart, runner, intent, flat, Seconds{1.0 / 60.0});
        static_cast<void>(settle(chart, runner, first, first.displacement, flat));
        const Plan plan = propose(chart, runner, intent, flat, Seconds{1.0 / 60.0});
        const Report report = settle(chart, runner, plan, plan.displacement * part, flat);
        CHECK(report.instants == (part > 0.98 ? 0 : 1));  // the game's answer changed something
        return runner.speed();
    };
    CHECK(near(speed_after(1.0), 6.0, 1e-12));
    CHECK(near(speed_after(0.985), 6.0, 1e-12));  // 1.5 mm of 100: rounding of the game's own
    CHECK(near(speed_after(0.9), 5.4, 1e-9));
}

TEST_CASE("a wall at hand takes nothing from who falls beside it and moves away") {
    const Chart chart = compile(all_ways());
    Runner runner = spawn(chart, {{0.0, 0.0, 5.0}, 0.0});
    Contacts beside;
    beside.grounded = false;
    beside.by_wall = true;
    beside.wall_normal = {0.0, -1.0, 0.0};
    beside.wall_surface = 3;
    for (int i = 0; i < 6; ++i) {
        const Plan plan = propose(chart, runner, {}, beside, Seconds{1.0 / 60.0});
        static_cast<void>(settle(chart, runner, plan, plan.displacement, beside));
        if (i == 2) {
            REQUIRE(push(runner, {.direction = {0.0, -1.0, 0.0}, .strength = 2.0}));
        }
    }
    CHECK_FALSE(runner.grounded());
    CHECK(near(runner.velocity().y, -2.0, 1e-12));
}
