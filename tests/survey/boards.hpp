#pragma once

#include <catch2/catch.hpp>
#include <cursimeter/chartfile/chart_file.hpp>
#include <cursimeter/survey/run.hpp>
#include <cursimeter/survey/scout.hpp>

#include "support/worlds.hpp"

/// Worlds in which it is known what can be reached, and how fast.
namespace support {

/// Walks 5 m/s at once; jumps 1 m high if not said otherwise under 20 m/s^2, which takes 0.632 s and carries 3.16 m; dashes 12 m/s for 0.3 s, once a second.
inline std::string chart_text(const std::string& heights = "1") {
    return "format = 1\nname = \"scout\"\nrank = [\"dash\", \"jump\", \"fall\", \"walk\"]\n"
           "[body]\nstep_height = 0\n[actions]\njump = {}\ndash = {}\n[cooldowns]\ndash = { seconds = 1 }\n"
           "[states.walk]\nkind = \"ground\"\nspeed = { forward = 5 }\ngain = { law = \"instant\" }\n"
           "[states.fall]\nkind = \"air\"\nspeed = { forward = 5 }\nenter = [\"not grounded\"]\n"
           "air = { rise_gravity = 20, fall_gravity = 20, terminal = 40, steer = 20 }\n"
           "[states.jump]\nlike = \"fall\"\nlaunch = { heights = [" +
           heights +
           "] }\nenter = [\"jump pressed\", \"footing\"]\nstay = [\"not grounded\", \"rise > 0\"]\n"
           "[states.dash]\nkind = \"burst\"\nenter = [\"dash pressed\", \"moving\"]\nstay = []\ncooldown = "
           "\"dash\"\n"
           "burst = { seconds = 0.3, speed = 12, along = [\"input\"] }\n";
}

/// The same, and its dash goes where one looks.
inline std::string looking_chart_text() {
    std::string text = chart_text();
    text.replace(text.find("along = [\"input\"]"), 17, "along = [\"look\"]");
    return text;
}

/// The same; it runs along walls for 1 s, and leaps off them, not to come back to them in that flight.
inline std::string wall_chart_text() {
    std::string text = chart_text();
    text.replace(text.find("steer = 20"), 10, "steer = 1");
    text.replace(text.find("\"jump\", \"fall\""), 6, "\"leap\", \"wallrun\", \"jump\"");
    return text +
           "[states.wallrun]\nkind = \"wall\"\nspeed = { forward = 5 }\nenter = [\"moving forward\", \"not "
           "grounded\"]\n"
           "wall = { reach = 0.35, least_speed = 3, seconds = 1, climb = 3, gravity = 5 }\n"
           "[states.leap]\nlike = \"fall\"\nlaunch = { heights = [0.8], away = 35, away_speed = 5 }\n"
           "from = [\"wallrun\"]\nenter = [\"jump pressed\"]\nstay = [\"not grounded\", \"rise > 0\"]\n";
}

inline Chart chart_of(const std::string& text) {
    return parse_chart(text, "scout.toml").chart;
}

/// A board of 6 m, and another behind a gap, `rise` m higher; 5 m below lies a wide floor without a way up.
inline CourseSpec two_boards(double gap, double rise = 0.0) {
    CourseSpec course;
    course.name = "two boards";
    course.boxes.push_back({{-6.0, -2.0, -1.0}, {0.0, 2.0, 0.0}, Degrees{0.0}});
    course.boxes.push_back({{gap, -2.0, -6.0}, {gap + 4.0, 2.0, rise}, Degrees{0.0}});
    course.boxes.push_back({{-8.0, -5.0, -6.0}, {8.0, 5.0, -5.0}, Degrees{0.0}});
    return course;
}

/// Two boards with a wall beside them, on the right of whoever goes ahead.
inline CourseSpec beside_a_wall(double gap, double rise) {
    CourseSpec course = two_boards(gap, rise);
    course.boxes.push_back({{-8.0, -1.4, -6.0}, {gap + 8.0, -0.9, 30.0}, Degrees{0.0}});
    return course;
}

inline survey::ScoutPlan plan_for(double effort, std::uint64_t seed = 1) {
    survey::ScoutPlan plan;
    plan.start.position = {-4.0, 0.0, 0.0};
    plan.effort = effort;
    plan.seed = seed;
    plan.seconds = 10.0;
    return plan;
}

inline survey::ScoutPlan over_the_gap(double gap, double rise = 0.0) {
    survey::ScoutPlan plan = plan_for(0.2);
    plan.place = Point{gap + 2.0, 0.0, rise};
    plan.without = {"dash"};
    return plan;
}

inline survey::Run played(const Chart& chart, const DrillSpec& spec, const Course& course, double rate) {
    const Drill drill(spec, chart);
    return survey::run(chart, drill, course, survey::even_ticks(rate, drill.length()));
}

}  // namespace support
