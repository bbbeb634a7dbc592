#pragma once

#include <cursimeter/course/course.hpp>

#include "support/leaper.hpp"

/// Small worlds.
namespace support {

/// Ticks a second at which whatever a world does must come out the same.
inline const std::vector<double> all_rates{10.0, 20.0, 30.0, 37.0, 60.0, 100.0, 144.0, 240.0, 480.0, 1000.0};

/// A floor whose upper side is at z = 0.
inline CourseSpec floor_only() {
    CourseSpec spec;
    spec.name = "floor";
    spec.boxes.push_back({{-500.0, -500.0, -2.0}, {500.0, 500.0, 0.0}, Degrees{0.0}});
    return spec;
}

inline survey::Run run_in(const CourseSpec& course, const Chart& chart, const Script& script, double rate,
                          std::array<double, 3> start = {}) {
    DrillSpec spec = script.drill;
    spec.start.position = start;
    const Drill drill(spec, chart);
    return survey::run(chart, drill, Course(course), survey::even_ticks(rate, Seconds{spec.seconds}));
}

}  // namespace support
