#include <imgui.h>

#include <algorithm>
#include <catch2/catch.hpp>
#include <cursimeter/panels/panels.hpp>
#include <cursimeter/tryout/over_network.hpp>
#include <cursimeter/tryout/yard.hpp>
#include <vector>

#include "panels/screen.hpp"
#include "support/bearer.hpp"
#include "support/counting_new.hpp"
#include "tryout/demo.hpp"

using namespace support;

TEST_CASE("a timeline leads to the moment that is pointed at, and chooses a stretch", "[panels]") {
    const ChartFile file = demo_chart("bearer");
    tryout::Tryout play(file.chart);
    for (int i = 0; i < 600; ++i) {
        play.tick(held_ahead(file.chart, {i > 200 && i < 400 ? "sprint" : "crouch"}));
    }
    Screen screen;
    panels::Timeline timeline;
    timeline.set_seconds(10.0);
    panels::Timeline::Choice choice;
    const auto frame = [&] {
        screen.frame([&] { choice = timeline.show(play.history(), play.now(), 200.0); });
    };
    Screen::mouse(400.0F, 100.0F);
    frame();
    frame();
    CHECK_FALSE(choice.moment);
    Screen::mouse(400.0F, 100.0F, true);
    frame();
    frame();
    REQUIRE(choice.moment);
    const double middle = play.history().time(*choice.moment);
    CHECK(middle > 3.5);
    CHECK(middle < 6.5);
    Screen::mouse(600.0F, 100.0F, true);
    frame();
    const double later = play.history().time(*choice.moment);
    CHECK(later - middle == Approx(10.0 * 200.0 / (784.0 - 65.0)).margin(0.15));
    Screen::mouse(600.0F, 100.0F);
    frame();
    Screen::mouse(400.0F, 100.0F, false, true);
    frame();
    Screen::mouse(600.0F, 100.0F, false, true);
    frame();
    Screen::mouse(600.0F, 100.0F);
    frame();
    CHECK(choice.stretch_chosen);
    REQUIRE(timeline.stretch());
    CHECK(play.history().time(timeline.stretch()->from) == Approx(middle).margin(0.03));
    CHECK(play.history().time(timeline.stretch()->until) == Approx(later).margin(0.03));
    timeline.forget_stretch();
    CHECK_FALSE(timeline.stretch());
}

TEST_CASE("two timelines of one window keep apart", "[panels]") {
    const ChartFile file = demo_chart("bearer");
    tryout::Tryout first(file.chart), second(file.chart);
    for (int i = 0; i < 600; ++i) {
        first.tick(held_ahead(file.chart));
        second.tick({});
    }
    Screen screen;
    panels::Timeline upper, lower;
    panels::Timeline::Choice above, below;
    const auto frame = [&] {
        screen.frame([&] {
            above = upper.show(first.history(), first.now(), 150.0);
            below = lower.show(second.history(), second.now(), 150.0);
            panels::show_rank(file.chart, first.runner());
            panels::show_rank(file.chart, second.runner());
        });
    };
    for (const bool left : {false, false, true, true}) {
        Screen::mouse(200.0F, 250.0F, left);
        frame();
    }
    CHECK_FALSE(above.moment);
    CHECK(below.moment);
}

TEST_CASE("a timeline is drawn over histories of any kind", "[panels]") {
    const ChartFile file = demo_chart("bearer"), eel = demo_chart("eel");
    Screen screen;
    panels::Timeline timeline;
    tryout::Tryout play(file.chart);
    const auto drawn = [&] {
        screen.frame([&] { static_cast<void>(timeline.show(play.history(), play.now())); });
        return ImGui::GetDrawData()->TotalVtxCount;
    };
    const int empty = drawn();
    play.tick({});
    CHECK(drawn() > empty);
    for (int i = 0; i < 400; ++i) {
        play.tick(held_ahead(play.chart()));
    }
    play.set_chart(eel.chart);  // other states, meters and actions
    for (int i = 0; i < 400; ++i) {
        play.tick(held_ahead(play.chart()));
    }
    CHECK(drawn() > empty + 100);
    play.go_to(play.history().first());
    CHECK(drawn() > empty + 100);
    play.tick({});
    CHECK(drawn() > empty);
}

TEST_CASE("a curve takes a corner only where it bends, and passes every tick within half a pixel",
          "[panels]") {
    const ChartFile file = demo_chart("bearer");
    tryout::Tryout play(file.chart);
    for (int i = 0; i < 900; ++i) {
        play.tick(held_ahead(file.chart, {i > 200 && i < 400 ? "sprint" : "tread"}));
    }
    Screen screen;
    panels::Timeline timeline;
    timeline.set_seconds(15.0);
    Screen::mouse(-1.0F, -1.0F);
    screen.frame([&] { static_cast<void>(timeline.show(play.history(), play.now(), 300.0)); });
    const MeterId stamina = file.chart.meter("stamina");
    const std::uint32_t colour = panels::packed(tryout::colour_of(stamina));
    // A stroke has two vertices of its colour at each corner, and two without colour.
    std::vector<ImVec2> edges;
    const ImDrawData* drawn = ImGui::GetDrawData();
    for (int list = 0; list < drawn->CmdListsCount; ++list) {
        for (const ImDrawVert& vertex : drawn->CmdLists[list]->VtxBuffer) {
            const bool label = vertex.pos.x < 70.0F;
            if (vertex.col == colour && !label) {
                edges.push_back(vertex.pos);
            }
        }
    }
    std::vector<ImVec2> corners;
    for (std::size_t i = 0; i + 1 < edges.size(); i += 2) {
        corners.push_back({0.5F * (edges[i].x + edges[i + 1].x), 0.5F * (edges[i].y + edges[i + 1].y)});
    }
    REQUIRE(corners.size() >= 4);  // full, drained, waited, refilled
    CHECK(corners.size() < 20);
    CHECK(std::is_sorted(corners.begin(), corners.end(),
                         [](const ImVec2& a, const ImVec2& b) { return a.x < b.x; }));
    const auto drawn_at = [&](float x) {
        const auto next = std::find_if(corners.begin() + 1, corners.end() - 1,
                                       [&](const ImVec2& corner) { return corner.x >= x; });
        const ImVec2 from = *(next - 1), to = *next;
        return from.y + (to.y - from.y) * (x - from.x) / (to.x - from.x);
    };
    // From time to pixels by the two ends, from level to pixels by the highest and the lowest.
    const tryout::History& history = play.history();
    const double begin = history.time(history.first()), end = history.time(history.end());
    const auto fraction = [&](tryout::Moment at) {
        return read_meter(file.chart, history.runner(at), stamina).fraction;
    };
    const auto [high, low] = std::minmax_element(corners.begin(), corners.end(),
                                                 [](const ImVec2& a, const ImVec2& b) { return a.y < b.y; });
    double least = 1.0;
    for (tryout::Moment at = history.first(); at <= history.end(); ++at.value) {
        least = std::min(least, fraction(at));
    }
    REQUIRE(least < 0.8);
    for (tryout::Moment at = history.first(); at <= history.end(); ++at.value) {
        const double x = corners.front().x +
                         (corners.back().x - corners.front().x) * (history.time(at) - begin) / (end - begin);
        const double y = high->y + (low->y - high->y) * (1.0 - fraction(at)) / (1.0 - least);
        INFO(history.time(at));
        CHECK(drawn_at(static_cast<float>(x)) == Approx(y).margin(0.5));
    }
}
