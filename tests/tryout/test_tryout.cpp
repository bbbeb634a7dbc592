#include <catch2/catch.hpp>
#include <cursimeter/chartfile/drill_file.hpp>
#include <cursimeter/rehearsal/human_hands.hpp>
#include <cursimeter/survey/run.hpp>
#include <cursimeter/survey/take.hpp>
#include <cursimeter/survey/values.hpp>
#include <cursimeter/tryout/default_controls.hpp>
#include <cursimeter/tryout/tick_clock.hpp>
#include <cursimeter/tryout/tryout.hpp>

#include "support/bearer.hpp"
#include "support/counting_new.hpp"
#include "tryout/demo.hpp"

using namespace cursimeter;
using namespace support;
using tryout::Moment;
using tryout::Tryout;

namespace {

Tryout::Options at_rate(double rate) {
    Tryout::Options options;
    options.rate = rate;
    return options;
}

Chart tuned(const ChartSpec& spec, const std::string& path, double value) {
    ChartSpec other = spec;
    survey::set_chart_value(other, path, value);
    return compile(other);
}

}  // namespace

TEST_CASE("a minute of play, saved as a take or as a drill, is the same run to the bit", "[tryout][long]") {
    const double rate = GENERATE(20.0, 60.0, 144.0, 240.0);
    const bool on_course = GENERATE(false, true);
    const std::string name = GENERATE(as<std::string>{}, "bearer", "eel", "gannet");
    CAPTURE(rate, on_course, name);
    const ChartFile file = demo_chart(name);
    const std::optional<Course> course = on_course ? std::optional(demo_course()) : std::nullopt;
    Tryout::Options options = at_rate(rate);
    options.facing = on_course ? Facing::movement : Facing::look;
    Tryout play(file.chart, course, options);
    rehearsal::HumanHands hands(file.chart, 5);
    for (int i = 0; i < 60 * static_cast<int>(rate); ++i) {
        play.tick(hands.next(Seconds{1.0 / rate}));
    }
    const std::uint64_t played = digest(play.runner());

    const tryout::PlayedTake take = play.take_since({0}, file.spec, "a minute");
    CHECK(take.ticks == play.ticks());
    const survey::Take read = survey::read_take(take.bytes);
    const survey::Replay replay = survey::replay(read, file.chart, course ? &*course : nullptr);
    CHECK_FALSE(replay.first);
    CHECK(replay.digest == played);

    const std::string text = format_drill(play.drill_since({0}, "a minute"));
    const DrillFile drill = parse_drill(text, "a minute", file.chart);
    CHECK(drill.drill.facing() == options.facing);
    const std::vector<double> ends = survey::even_ticks(rate, drill.drill);
    const survey::Run run = course ? survey::run(file.chart, drill.drill, *course, ends)
                                   : survey::run(file.chart, drill.drill, ends);
    CHECK(run.ticks == play.ticks());
    CHECK(run.digest == played);
}

TEST_CASE("what was played since any moment is the same run to the bit, as a take and as a drill",
          "[tryout][long]") {
    const auto tried = GENERATE(table<double, std::string>(
        {{20.0, "bearer"}, {60.0, "eel"}, {60.0, "bearer"}, {128.0, "gannet"}, {144.0, "eel"}}));
    const double rate = std::get<0>(tried);
    const std::string name = std::get<1>(tried);
    const ChartFile file = demo_chart(name);
    const Course course = demo_course();
    Tryout play(file.chart, course, at_rate(rate));
    rehearsal::HumanHands hands(file.chart, 11);
    const auto live = [&](double seconds) {
        for (int i = 0; i < static_cast<int>(seconds * rate); ++i) {
            play.tick(hands.next(Seconds{1.0 / rate}));
        }
    };
    live(20.0);
    play.respawn();
    const std::uint64_t begun = play.now().value;
    live(40.0);
    const std::uint64_t played = digest(play.runner());
    for (std::uint64_t since = begun; since < play.now().value;
         since += static_cast<std::uint64_t>(rate * 2.9)) {
        CAPTURE(rate, name, since);
        const DrillSpec spec = play.drill_since({since}, "a stretch");
        CHECK(spec.start.runner.has_value() == (since != begun));
        CHECK(spec.seconds == Approx(static_cast<double>(play.now().value - since) / rate));
        const std::string text = format_drill(spec);
        CHECK((text.find("position = ") != std::string::npos) == (since == begun));  // a runner has its own
        CHECK((text.find("runner = ") != std::string::npos) == (since != begun));
        const DrillFile drill = parse_drill(text, "a stretch", file.chart);
        CHECK(drill.spec == spec);
        const std::vector<double> ends = survey::even_ticks(rate, drill.drill);
        const survey::Run run = survey::run(file.chart, drill.drill, course, ends);
        CHECK(run.ticks == play.now().value - since);
        CHECK(run.digest == played);
        CHECK(run.seconds == Approx(spec.seconds));

        const tryout::PlayedTake take = play.take_since({since}, file.spec, "a stretch");
        const survey::Take read = survey::read_take(take.bytes);
        CHECK_FALSE(survey::replay(read, file.chart, &course).first);

        // Played on in another window, it is the same again.
        Tryout::Options options;
        options.rate = rate;
        options.time = drill.drill.begin().value;
        if (drill.drill.saved()) {
            options.from = drill.drill.spawn(file.chart);
        }
        Tryout again(file.chart, course, options);
        DrillPlayer player(drill.drill, again.runner());
        for (std::size_t i = 0; i < ends.size(); ++i) {
            again.tick(player.intent(again.world_time(), ends[i]));
        }
        CHECK(digest(again.runner()) == played);
        again.respawn();
        CHECK(digest(again.runner()) == digest(drill.drill.spawn(file.chart)));
        CHECK(again.lived() == 0.0);
    }
}

TEST_CASE("turned back and given the same input, time takes the same way", "[tryout]") {
    const ChartFile file = demo_chart("bearer");
    Tryout play(file.chart, demo_course(), at_rate(60.0));
    const auto run_on = [&](int from, int ticks) {
        rehearsal::HumanHands hands(file.chart, 9);
        for (int i = 0; i < from + ticks; ++i) {
            const Intent intent = hands.next(Seconds{1.0 / 60.0});
            if (i >= from) {
                play.tick(intent);
            }
        }
        return digest(play.runner());
    };
    const std::uint64_t first = run_on(0, 900);
    for (const std::uint64_t back : {899U, 600U, 450U, 1U, 0U}) {
        CAPTURE(back);
        play.go_to({back});
        CHECK(play.now() == Moment{back});
        CHECK(play.time() == Approx(static_cast<double>(back) / 60.0));
        CHECK(run_on(static_cast<int>(back), static_cast<int>(900 - back)) == first);
        CHECK(play.history().size() == 900);
    }
}

TEST_CASE("going back and forth changes nothing until a tick is played", "[tryout]") {
    const ChartFile file = demo_chart("bearer");
    Tryout play(file.chart);
    for (int i = 0; i < 120; ++i) {
        play.tick(held_ahead(file.chart, {"sprint"}));
    }
    const std::uint64_t now = digest(play.runner());
    play.step_back(50);
    CHECK(play.time() == Approx(70.0 / 60.0));
    CHECK(play.runner().clock().value == Approx(70.0 / 60.0));
    play.step_on(20);
    play.step_back(1000);
    CHECK(play.now() == Moment{0});
    play.step_on(1000);
    CHECK(digest(play.runner()) == now);
    CHECK(play.history().size() == 120);
    play.step_back(20);
    play.tick(held_ahead(file.chart));
    CHECK(play.history().size() == 101);
}

TEST_CASE("a chart changed under the live runner is at work in the next tick, and can be turned back over",
          "[tryout]") {
    const ChartFile file = demo_chart("bearer");
    Tryout play(file.chart);
    for (int i = 0; i < 120; ++i) {
        play.tick(held_ahead(file.chart));
    }
    CHECK(play.runner().speed() == Approx(2.4));
    const Chart faster = tuned(file.spec, "states.walk.speed.forward", 4.0);
    CHECK(play.set_chart(faster).empty());
    play.tick(held_ahead(faster));
    CHECK(play.runner().speed() == Approx(2.4 + 12.0 / 60.0));
    CHECK(play.runner().speed_target() == Approx(4.0));
    play.go_to({60});
    CHECK(play.runner().speed() == Approx(2.4));
    play.tick(held_ahead(faster));
    CHECK(play.runner().speed_target() == Approx(4.0));
    // A take has one chart: it begins where this one did.
    const tryout::PlayedTake take = [&] {
        ChartSpec spec = file.spec;
        survey::set_chart_value(spec, "states.walk.speed.forward", 4.0);
        return play.take_since({0}, spec, "");
    }();
    CHECK(take.since == Moment{60});
    CHECK(take.ticks == 1);
    CHECK_FALSE(survey::replay(survey::read_take(take.bytes), faster, nullptr).first);
    CHECK(complaint([&] { static_cast<void>(play.take_since({0}, file.spec, "")); }).find("changed since") !=
          std::string::npos);
}

TEST_CASE("a loop plays what was wanted again and again, from the same moment", "[tryout]") {
    const ChartFile file = demo_chart("bearer");
    Tryout play(file.chart);
    rehearsal::HumanHands hands(file.chart, 2);
    std::vector<glm::dvec3> way;
    for (int i = 0; i < 300; ++i) {
        play.tick(hands.next(Seconds{1.0 / 60.0}));
        way.push_back(play.runner().position());
    }
    CHECK_FALSE(play.loop({200}, {200}));
    REQUIRE(play.loop({100}, {160}));
    for (int pass = 0; pass < 3; ++pass) {
        for (std::size_t i = 100; i < 160; ++i) {
            play.tick({});
            CHECK(play.runner().position() == way[i]);
        }
    }
    CHECK(play.history().end() == Moment{160});
    // A change shows in the next pass; the way up to it is what it was.
    play.set_chart(tuned(file.spec, "states.walk.speed.forward", 1.2));
    play.tick({});
    play.tick({});
    play.end_loop();
    CHECK_FALSE(play.looped());
    play.tick({});
    CHECK(play.history().end() == Moment{103});
}

TEST_CASE("a ghost runs on the same input under the chart as it was", "[tryout]") {
    const ChartFile file = demo_chart("bearer");
    Tryout play(file.chart);
    for (int i = 0; i < 60; ++i) {
        play.tick(held_ahead(file.chart));
    }
    CHECK_FALSE(play.ghost());
    play.start_ghost(file.chart, "saved");
    const Chart faster = tuned(file.spec, "states.walk.speed.forward", 3.6);
    play.set_chart(faster);
    for (int i = 0; i < 240; ++i) {
        play.tick(held_ahead(faster));
    }
    // By hand: 1.2 m/s more after 0.1 s of ramp at 12 m/s^2, so 4 s x 1.2 m/s less the ramp's half.
    tryout::GhostReading ghost = *play.ghost();
    CHECK(ghost.name == "saved");
    CHECK(ghost.ahead == Approx(-(4.0 * 1.2 - 0.06)));
    CHECK(ghost.apart == Approx(4.0 * 1.2 - 0.06));
    // The runner was at the ghost's 9.6 m after (9.6 + 0.06) / 3.6 s.
    REQUIRE(ghost.earlier);
    CHECK(*ghost.earlier == Approx(-(4.0 - 9.66 / 3.6)).margin(1e-6));
    CHECK_FALSE(ghost.parting);
    for (int i = 0; i < 300; ++i) {
        play.tick(held_ahead(faster, {"sprint"}));
    }
    // Turned back, the ghost is where it was then.
    play.go_to({300});
    CHECK(play.ghost()->ahead == Approx(ghost.ahead));
    // 58 ticks after the change the ghost is where the runner was between two ticks, after 39.67.
    play.go_to({118});
    CHECK(*play.ghost()->earlier == Approx(-(58.0 / 60.0 - (58.0 * 0.04 + 0.06) / 3.6)).margin(1e-6));
    play.go_to({10});
    CHECK(play.ghost()->apart == 0.0);

    SECTION("the moment at which both came to other states is told") {
        play.start_ghost(tuned(file.spec, "meters.stamina.capacity", 36.0), "short of breath");
        for (int i = 0; i < 240; ++i) {
            play.tick(held_ahead(faster, {"sprint"}));
        }
        ghost = *play.ghost();
        REQUIRE(ghost.parting);
        CHECK(ghost.parting->own == "sprint");
        CHECK(ghost.parting->ghost == "walk");
        CHECK(ghost.parting->at == Approx(10.0 / 60.0 + 3.0).margin(1.0 / 60.0 + 1e-9));
    }
}

TEST_CASE("begun again, the character stands at its start with fresh meters and a drill of its own",
          "[tryout]") {
    const ChartFile file = demo_chart("bearer");
    Tryout::Options options;
    options.start = {{3.0, -2.0, 0.0}, 0.7};
    Tryout play(file.chart, std::nullopt, options);
    rehearsal::HumanHands hands(file.chart, 3);
    for (int i = 0; i < 200; ++i) {
        play.tick(hands.next(Seconds{1.0 / 60.0}));
    }
    play.respawn();
    CHECK(play.runner().position() == glm::dvec3(3.0, -2.0, 0.0));
    CHECK(read_meter(file.chart, play.runner(), file.chart.meter("stamina")).fraction == 1.0);
    const Moment begun = play.now();
    for (int i = 0; i < 200; ++i) {
        play.tick(hands.next(Seconds{1.0 / 60.0}));
    }
    const DrillSpec drill = play.drill_since(begun, "second");
    const std::vector<double> ends = survey::even_ticks(60.0, Seconds{drill.seconds});
    CHECK(survey::run(file.chart, Drill(drill, file.chart), ends).digest == digest(play.runner()));
    CHECK(complaint([&] { static_cast<void>(play.drill_since({0}, "both")); }).find("began again") !=
          std::string::npos);
    CHECK(complaint([&] {
              static_cast<void>(play.drill_since(play.now(), "none"));
          }).find("nothing was played") != std::string::npos);
}

TEST_CASE("a history keeps its length and takes no memory while it is written", "[tryout]") {
    const ChartFile file = demo_chart("bearer");
    tryout::History history(Seconds{2.0}, 60.0);
    Runner runner = spawn(file.chart);
    rehearsal::HumanHands hands(file.chart, 8);
    std::vector<std::uint64_t> digests{digest(runner)};
    const auto play = [&] {
        const Intent intent = hands.next(Seconds{1.0 / 60.0});
        const Seconds dt{1.0 / 60.0};
        const std::size_t before = allocations();
        history.begin_tick(file.chart, runner, intent, dt);
        const Report report = advance(file.chart, runner, intent, dt);
        history.end_tick(runner, report);
        const std::size_t allocated = allocations() - before;
        digests.push_back(digest(runner));
        return allocated;
    };
    for (int i = 0; i < 500; ++i) {
        REQUIRE(play() == 0);
    }
    CHECK(history.size() == 120);
    CHECK(history.first() == Moment{380});
    for (Moment at = history.first(); at <= history.end(); ++at.value) {
        REQUIRE(digest(history.runner(at)) == digests[at.value]);
        REQUIRE(history.moment_at(history.time(at)) == at);
        REQUIRE(history.time(at) == Approx(static_cast<double>(at.value) / 60.0));
    }
    CHECK(history.moment_at(-5.0) == history.first());
    CHECK(history.moment_at(1e9) == history.end());
    CHECK(history.moment_at(history.time({400}) + 0.01) == Moment{400});
    for (std::size_t i = 0; i < history.event_count(); ++i) {
        REQUIRE(history.event(i).tick >= history.first().value);
        REQUIRE(history.event(i).tick < history.end().value);
    }
    const std::size_t events = history.event_count();
    CHECK(events > 0);
    history.cut({410});
    CHECK(history.end() == Moment{410});
    CHECK(history.event_count() < events);
    history.cut({100});  // not kept: nothing is forgotten
    CHECK(history.end() == Moment{410});
    // As the header says, to a tenth: 30 MB for two minutes at 60 ticks a second.
    CHECK(static_cast<double>(tryout::History::bytes_per_tick) * 7200.0 == Approx(30e6).epsilon(0.1));
    CHECK(complaint([] { tryout::History(Seconds{0.5}, 60.0); }).find("length: 0.5 is out of range") !=
          std::string::npos);
    CHECK(complaint([] { tryout::History(Seconds{5.0}, 5.0); }).find("rate: 5 is out of range") !=
          std::string::npos);
}

TEST_CASE("a history with more charts than it keeps forgets the ticks of the oldest", "[tryout]") {
    const ChartFile file = demo_chart("bearer");
    Tryout play(file.chart);
    for (int i = 0; i < 300; ++i) {
        play.set_chart(tuned(file.spec, "states.walk.speed.forward", 2.0 + 0.01 * i));
        play.tick(held_ahead(file.chart));
    }
    CHECK(play.history().size() == tryout::History::most_charts);
    play.go_to(play.history().first());
    CHECK(play.history().chart(play.now()).digest() ==
          tuned(file.spec, "states.walk.speed.forward", 2.0 + 0.01 * 44).digest());
    play.tick(held_ahead(file.chart));
    CHECK(play.runner().speed_target() == Approx(2.0 + 0.01 * 299));
}

TEST_CASE("how a runner came into its state is found whatever was turned back, or said not to be known",
          "[tryout]") {
    const ChartFile file = demo_chart("bearer");
    Tryout play(file.chart);
    CHECK(play.history().entry_of(play.runner()) == nullptr);
    for (int i = 0; i < 300; ++i) {
        play.tick(held_ahead(file.chart, {i / 50 % 2 == 0 ? "crouch" : "sprint"}));
    }
    for (Moment at = play.history().first(); at <= play.history().end(); ++at.value) {
        play.go_to(at);
        const tryout::PlayedEvent* entry = play.history().entry_of(play.runner());
        REQUIRE((entry == nullptr) == (at.value == 0));
        if (entry != nullptr) {
            REQUIRE(StateId{entry->event.subject} == play.runner().state());
            REQUIRE(entry->at == Approx(play.time() - play.runner().time_in_state().value).margin(1e-9));
        }
    }
    play.respawn();
    CHECK(play.history().entry_of(play.runner()) == nullptr);
}
