#include <imgui.h>

#include <algorithm>
#include <catch2/catch.hpp>
#include <cursimeter/panels/panels.hpp>
#include <cursimeter/tryout/over_network.hpp>
#include <cursimeter/tryout/yard.hpp>
#include <fstream>

#include "panels/screen.hpp"
#include "support/bearer.hpp"
#include "support/counting_new.hpp"
#include "tryout/demo.hpp"

using namespace support;

TEST_CASE("panels say what a runner is at, in words that can be checked by hand", "[panels]") {
    const ChartFile file = demo_chart("bearer");
    const Chart& chart = file.chart;
    tryout::Tryout play(chart);
    for (int i = 0; i < 300; ++i) {
        play.tick(held_ahead(chart, {"sprint"}));
    }
    Screen screen;
    const std::string text = screen.frame([&] {
        panels::show_state(chart, play.runner(), play.history());
        panels::show_rank(chart, play.runner());
        panels::show_speed(chart, play.runner());
        panels::show_meters(chart, play.runner());
        panels::show_cooldowns(chart, play.runner());
        panels::show_modifiers(chart, play.runner());
    });
    INFO(text);
    CHECK(has(text, "sprint for 5.00 s"));
    CHECK(has(text, "enter: sprint on"));
    CHECK(has(text, "is taken"));
    CHECK(has(text, "needs dash pressed"));
    CHECK(has(text, "may not follow sprint"));          // leap
    CHECK(has(text, "holds, but sprint comes first"));  // walk
    CHECK(has(text, "6.50 of 6.50 m/s"));
    CHECK(has(text, "base 6.50 m/s"));
    const double level = read_meter(chart, play.runner(), chart.meter("stamina")).level;
    CHECK(level == Approx(40.0).margin(0.2));  // 5 s at 12 a second, while it really moves
    CHECK(has(text, fmt::format("stamina {:.1f} of 100", level)));
    CHECK(has(text, "dash ready"));
    CHECK(has(text, "no modifier or block is at work"));
}

TEST_CASE("turned back, the cause of the state of that moment is shown", "[panels]") {
    const ChartFile file = demo_chart("bearer");
    tryout::Tryout play(file.chart);
    for (int i = 0; i < 120; ++i) {
        play.tick(held_ahead(file.chart, {i < 60 ? "sprint" : "crouch"}));
    }
    Screen screen;
    const auto text = [&] {
        return screen.frame([&] { panels::show_state(file.chart, play.runner(), play.history()); });
    };
    CHECK(has(text(), "enter: crouch on"));
    play.go_to({40});
    CHECK(has(text(), "enter: sprint on"));
    play.go_to({0});
    CHECK(has(text(), "start"));
    play.go_to(play.history().end());
    play.respawn();
    CHECK(has(text(), "start"));
}

TEST_CASE("panels show latches, waits, modifiers with stacks and blocks", "[panels]") {
    const ChartFile file = demo_chart("keeper");
    const Chart& chart = file.chart;
    tryout::Tryout play(chart);
    static_cast<void>(grant(chart, play.touch(), chart.modifier("broth")));
    static_cast<void>(block(chart, play.touch(), BlockId{0}));
    for (int i = 0; i < 60; ++i) {
        play.tick({});
    }
    const CooldownReading waits = [&] {
        static_cast<void>(try_use(chart, play.touch(), CooldownId{0}));
        play.tick({});
        return read_cooldown(chart, play.runner(), CooldownId{0});
    }();
    Screen screen;
    const std::string text = screen.frame([&] {
        panels::show_cooldowns(chart, play.runner());
        panels::show_modifiers(chart, play.runner());
    });
    INFO(text);
    CHECK(has(text, fmt::format("{} in {:.2f} s", chart.name(CooldownId{0}), waits.left.value)));
    CHECK(has(text, "broth 100 %"));
    CHECK(has(text, "block " + chart.name(BlockId{0})));
}

TEST_CASE("a state's reason never lies over its name, however long that is", "[panels]") {
    const auto letters = static_cast<std::size_t>(GENERATE(4, 9, 12, 14, 20, 40, 64));
    ChartSpec spec = bearer();
    spec.states[0].name.resize(letters, 'w');
    spec.states[1].name.resize(letters, 's');
    spec.states[1].like = spec.states[0].name;
    spec.rank = {spec.states[1].name, spec.states[0].name};
    const Chart chart = compile(spec);
    const Runner runner = spawn(chart);
    Screen screen;
    const std::string text = screen.frame([&] {
        ImGui::BeginChild("narrow", {290.0F, 500.0F});
        panels::show_rank(chart, runner);
        ImGui::EndChild();
    });
    INFO(text);
    CHECK(has(text, "needs sprint on"));
    CHECK(has(text, "is taken"));
    std::vector<ImVec4> names, reasons;  // boxes of their triangles
    for (int i = 0; i < ImGui::GetDrawData()->CmdListsCount; ++i) {
        const ImDrawList& list = *ImGui::GetDrawData()->CmdLists[i];
        for (int k = 0; k + 2 < list.IdxBuffer.Size; k += 3) {
            ImVec4 box{1e9F, 1e9F, -1e9F, -1e9F};
            for (int corner = 0; corner < 3; ++corner) {
                const ImVec2 at = list.VtxBuffer[list.IdxBuffer[k + corner]].pos;
                box = {std::min(box.x, at.x), std::min(box.y, at.y), std::max(box.z, at.x),
                       std::max(box.w, at.y)};
            }
            const ImU32 colour = list.VtxBuffer[list.IdxBuffer[k]].col;
            if (colour == panels::packed(tryout::faint)) {
                names.push_back(box);
            } else if (colour == panels::packed(tryout::ink)) {
                reasons.push_back(box);
            }
        }
    }
    CHECK(names.size() >= 2 * std::min<std::size_t>(letters, 20));  // two triangles a letter
    CHECK(reasons.size() > 20);
    const bool apart = std::all_of(names.begin(), names.end(), [&](const ImVec4& name) {
        return std::none_of(reasons.begin(), reasons.end(), [&](const ImVec4& reason) {
            return name.x < reason.z && reason.x < name.z && name.y < reason.w && reason.y < name.w;
        });
    });
    CHECK(apart);
}

TEST_CASE("a runner of another chart is refused by panels as by readings", "[panels]") {
    const ChartFile bearer = demo_chart("bearer"), eel = demo_chart("eel");
    const Runner runner = spawn(eel.chart);
    Screen screen;
    CHECK_THROWS_AS(screen.frame([&] { panels::show_meters(bearer.chart, runner); }), ChartError);
}

TEST_CASE("a ghost's panel tells metres, seconds and states apart", "[panels]") {
    tryout::GhostReading ghost;
    ghost.name = "as saved";
    ghost.apart = 4.74;
    ghost.ahead = -4.74;
    ghost.earlier = -1.3167;
    ghost.parting = {3.5, "walk", "sprint"};
    Screen screen;
    const std::string text = screen.frame([&] { panels::show_ghost(ghost); });
    CHECK(has(text, "4.74 m apart; it has walked 4.74 m less"));
    CHECK(has(text, "it is 1.317 s behind"));
    CHECK(has(text, "at 3.500 s: walk here, sprint there"));
}

TEST_CASE("the panel of numbers turns, finds, takes back and wants to save", "[panels]") {
    const ChartFile file = demo_chart("bearer");
    tryout::Tuning tuning(format_chart(file.spec), "bearer.toml");
    panels::TuningPanel panel;
    panel.look_for("walk speed forward");
    Screen screen;
    panels::TuningPanel::Choice choice;
    const auto frame = [&] { return screen.frame([&] { choice = panel.show(tuning); }); };
    std::string text = frame();
    CHECK(has(text, "walk.speed.forward"));
    CHECK_FALSE(has(text, "sprint.speed.forward"));
    CHECK(has(text, "as saved"));
    tuning.set("states.walk.speed.forward", 3.0);
    frame();
    for (int i = 0; i < 200'000 && !has(text, "figures differ"); ++i) {
        text = frame();
    }
    INFO(text);
    CHECK(has(text, "1 changed"));
    CHECK(has(text, "3 m/s"));
    CHECK(has(text, "walk.top_forward  2.4 -> 3 m/s"));
    panel.tell("the disk is full", true);
    CHECK(has(frame(), "the disk is full"));

    // "save" is the first thing in the window.
    Screen::mouse(25.0F, 18.0F);
    frame();
    Screen::mouse(25.0F, 18.0F, true);
    frame();
    Screen::mouse(25.0F, 18.0F);
    frame();
    CHECK(choice.save);
    CHECK_FALSE(choice.changed);

    // Dragged along the value: it turns, and all of the drag is one step.
    const float x = 620.0F;
    panel.tell("");
    frame();
    bool changed = false;
    for (float y = 60.0F; y < 120.0F && !changed; y += 5.0F) {  // the row is where the font lets it be
        for (int i = 0; i < 20; ++i) {
            Screen::mouse(x + static_cast<float>(i) * 4.0F, y, i > 1);
            frame();
            changed = changed || choice.changed;
        }
        Screen::mouse(x, y);
        frame();
    }
    CHECK(changed);
    CHECK(survey::chart_value(tuning.spec(), "states.walk.speed.forward").value.value() > 3.0);
    CHECK(tuning.undo());
    CHECK(survey::chart_value(tuning.spec(), "states.walk.speed.forward").value.value() == 3.0);
}

TEST_CASE("a network's panel tells a client's figures", "[panels]") {
    const ChartFile file = demo_chart("bearer");
    tryout::OverNetwork net(file.chart, std::nullopt, 60.0, {}, spawn(file.chart));
    rehearsal::LinkFaults faults;
    faults.delay = Seconds{0.05};
    net.set_faults(faults);
    Screen screen;
    const auto text = [&] { return screen.frame([&] { panels::show_network(net.client(), 60.0); }); };
    CHECK(has(text(), "0 corrections"));
    for (int i = 0; i < 600; ++i) {
        net.run_until(static_cast<double>(i) / 100.0, [&](Seconds) { return held_ahead(file.chart); });
    }
    const std::string told = text();
    INFO(told);
    CHECK(has(told, "round trip"));
    CHECK(has(told, "0 corrections, at most 0.00 m; 0 ticks played again"));
    CHECK_FALSE(has(told, "the last second: 0 bytes up"));
}

TEST_CASE("a sketch draws what can be seen, in its place", "[panels]") {
    const Course course(tryout::make_yard(demo_chart("bearer").chart).course);
    Screen screen;
    int bare = 0, drawn = 0;
    screen.frame([] {});
    bare = ImGui::GetDrawData()->TotalVtxCount;
    screen.frame([&] {
        const panels::Sketch picture({3.0, 4.0, 1.0}, 40.0);
        // 800 x 900 pixels: a metre to the right, one to the north, one up.
        CHECK(picture.place({3.0, 4.0, 1.0}).x == Approx(400.0));
        CHECK(picture.place({3.0, 4.0, 1.0}).y == Approx(540.0));
        CHECK(picture.place({4.0, 4.0, 1.0}).x == Approx(440.0));
        CHECK(picture.place({3.0, 5.0, 1.0}).y == Approx(520.0));
        CHECK(picture.place({3.0, 4.0, 2.0}).y == Approx(505.2));
        picture.draw(course, 1.0);
        picture.draw({0.0, 0.0, 0.0}, Capsule{}, tryout::lantern);
    });
    drawn = ImGui::GetDrawData()->TotalVtxCount;
    CHECK(drawn - bare > 4 * 2 * static_cast<int>(course.solids().size()));
}

TEST_CASE("panels that are closed take no memory in a tick", "[panels]") {
    const ChartFile file = demo_chart("bearer");
    tryout::History history(Seconds{30.0}, 60.0);
    Runner runner = spawn(file.chart);
    const Intent intent = held_ahead(file.chart, {"sprint"});
    const Seconds dt{1.0 / 60.0};
    const std::size_t before = allocations();
    for (int i = 0; i < 4000; ++i) {
        history.begin_tick(file.chart, runner, intent, dt);
        const Report report = advance(file.chart, runner, intent, dt);
        history.end_tick(runner, report);
    }
    CHECK(allocations() == before);
}

TEST_CASE("what the docs show of panels is what stands here", "[panels]") {
    const ChartFile file = demo_chart("bearer");
    const Chart& chart = file.chart;
    Runner runner = spawn(chart);
    const Intent intent = held_ahead(chart);
    const Seconds dt{1.0 / 60.0};
    // clang-format off
tryout::History history(Seconds{60.0}, 60.0);       // beside the runner; all its memory is taken here
    const auto tick = [&] {
history.begin_tick(chart, runner, intent, dt);      // in each tick, around `advance`
const Report report = advance(chart, runner, intent, dt);
history.end_tick(runner, report);
    };
    const auto frame = [&] {
ImGui::Begin("runner");                             // in a frame, if the debug menu is open
panels::show_state(chart, runner, history);
panels::show_rank(chart, runner);                   // why each other state is not taken, now
panels::show_meters(chart, runner);
ImGui::End();
    };
    // clang-format on
    for (int i = 0; i < 60; ++i) {
        tick();
    }
    Screen screen;
    CHECK(has(screen.frame(frame), "stamina 100.0 of 100"));

    const auto lines_of = [](const std::string& name) {
        std::ifstream in(std::string(CURSIMETER_SOURCE_DIR) + name);
        std::vector<std::string> lines;
        for (std::string line; std::getline(in, line);) {
            lines.push_back(line);
        }
        return lines;
    };
    const std::vector<std::string> page = lines_of("/docs/embedding.md"),
                                   here = lines_of("/tests/panels/test_panels.cpp");
    auto line = std::find(page.begin(), page.end(), "#include <cursimeter/panels/panels.hpp>");
    REQUIRE(line != page.end());
    for (; *line != "```"; ++line) {
        CAPTURE(*line);
        CHECK((line->empty() || std::find(here.begin(), here.end(), *line) != here.end()));
    }
}
