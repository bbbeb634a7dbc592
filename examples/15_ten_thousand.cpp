// A procession of 10,000 bearers on the shore: each goes its own round of four posts, thinks ten times a second, and sprints
// on long stretches. One call moves all of them on; here each of two threads takes half.
#include <barrier>
#include <cstdio>
#include <cursimeter/chartfile/chart_file.hpp>
#include <cursimeter/cursimeter.hpp>
#include <cursimeter/numbers/detmath.hpp>
#include <thread>

using namespace cursimeter;

int main() {
    const Chart chart = load_chart("demo/charts/bearer.toml").chart;
    const ActionId sprint = chart.action("sprint");
    constexpr std::size_t bearers = 10000;
    Crowd crowd(chart);
    std::vector<Intent> intents(bearers);
    std::vector<int> post(bearers), passed(bearers);
    for (std::size_t i = 0; i < bearers; ++i) {
        crowd.add(
            Placement{{3.0 * static_cast<double>(i % 100), 3.0 * static_cast<double>(i / 100), 0.0}, 0.0});
    }
    const auto think = [&](std::size_t i) {
        const double side = 8.0 + static_cast<double>(i % 9), step = 3.0;  // m
        const glm::dvec2 corner(step * static_cast<double>(i % 100), step * static_cast<double>(i / 100));
        const glm::dvec2 posts[] = {corner + glm::dvec2(side, 0.0), corner + glm::dvec2(side, side),
                                    corner + glm::dvec2(0.0, side), corner};
        glm::dvec2 way = posts[post[i]] - glm::dvec2(crowd.position(i));
        if (way.x * way.x + way.y * way.y < 1.0) {
            post[i] = (post[i] + 1) % 4;
            ++passed[i];
            way = posts[post[i]] - glm::dvec2(crowd.position(i));
        }
        intents[i].move.forward = 1.0;
        intents[i].look.yaw = detmath::arc_tangent(way.y, way.x);
        intents[i].held = side > 12.0 ? key_bit(sprint) : 0;
    };

    CrowdReport reports[2] = {CrowdReport(20000), CrowdReport(20000)};  // made once, used in every tick
    const auto advance_half = [&](std::size_t part) {
        const std::span<const Intent> wants(intents.data() + part * bearers / 2, bearers / 2);
        advance_part(crowd, part * bearers / 2, wants, Seconds{1.0 / 60.0}, reports[part]);
    };
    constexpr std::size_t ticks = 900;  // a quarter of a minute
    std::barrier<> turn(2);
    std::thread worker([&] {
        for (std::size_t tick = 0; tick < ticks; ++tick) {
            turn.arrive_and_wait();  // everybody has thought
            advance_half(1);
            turn.arrive_and_wait();  // everybody has moved
        }
    });
    std::size_t spent = 0;
    for (std::size_t tick = 0; tick < ticks; ++tick) {
        for (std::size_t i = tick % 6; i < bearers; i += 6) {
            think(i);
        }
        turn.arrive_and_wait();
        advance_half(0);
        turn.arrive_and_wait();
        for (const CrowdReport& report : reports) {
            for (const CrowdEvent& told : report.events()) {
                spent += told.event.kind == EventKind::spent ? 1 : 0;
            }
        }
    }
    worker.join();
    std::size_t posts = 0;
    for (const int count : passed) {
        posts += static_cast<std::size_t>(count);
    }
    std::printf("%zu posts passed; %zu times somebody was spent\n", posts, spent);
    std::printf("the last bearer: %016llx\n",
                static_cast<unsigned long long>(digest(crowd.runner(bearers - 1))));
}
// expected output:
// 38889 posts passed; 8888 times somebody was spent
// the last bearer: 486e55706069d15c
