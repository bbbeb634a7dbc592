#include "core/crowd/crowd_hands.hpp"
#include "support/all_ways.hpp"
#include "support/random_chart.hpp"
#include "support/worlds.hpp"

using namespace support;

TEST_CASE("a crowd is its runners by themselves, to the bit, in any number of parts") {
    const Chart chart = compile(all_ways());
    for (const std::size_t parts : {1U, 2U, 3U, 7U}) {
        for (const unsigned seed : {8U, 9U, 10U, 11U}) {  // on one lane, two, four, eight
            play_both({chart}, nullptr, 60, parts, 400, seed);
        }
    }
    play_both({chart}, nullptr, 1, 1, 200, 5);
    play_both({chart}, nullptr, 3, 7, 50, 5);  // more parts than runners
}

TEST_CASE("crowds of random charts are their runners by themselves, to the bit") {
    for (unsigned seed = 1; seed <= 60; ++seed) {
        CAPTURE(seed);
        play_both({compile(RandomChart(seed).chart())}, nullptr, 12, 1 + seed % 2, 150, seed);
    }
}

TEST_CASE("runners of several charts in one crowd are themselves, to the bit, in any number of parts") {
    for (unsigned seed = 100; seed < 130; ++seed) {
        CAPTURE(seed);
        std::vector<Chart> charts{compile(all_ways())};
        while (charts.size() < 1 + seed % 5) {
            charts.push_back(compile(RandomChart(seed * 10 + static_cast<unsigned>(charts.size())).chart()));
        }
        play_both(charts, nullptr, 23, 1 + seed % 3, 150, seed);
    }
}

TEST_CASE("a crowd in a world is its runners by themselves, to the bit") {
    const Chart chart = compile(all_ways());
    CourseSpec course = floor_only();
    course.boxes.push_back({{2.0, -3.0, 0.0}, {6.0, 3.0, 0.3}, Degrees{20.0}});
    course.walls.push_back({{-10.0, 4.0, 0.0}, {20.0, 4.0, 0.0}, 5.0, 0.3});
    const CourseTerrain terrain(Course(course), chart);
    play_both({chart}, &terrain, 20, 2, 150, 3);
}
