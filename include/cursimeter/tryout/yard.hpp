#pragma once

#include <cursimeter/chart.hpp>
#include <cursimeter/course/course_spec.hpp>
#include <cursimeter/runner.hpp>
#include <string>
#include <vector>

namespace cursimeter::tryout {

/// A word or a figure at a place of a yard.
struct Sign {
    Point place{};  ///< m
    std::string text;
};

/// A yard to try a chart in, laid out by its body: a level ground of 60 m; ramps of 10, 20 and 30 degrees; blocks to step on; a
/// ceiling under which only the low body fits (or just the full one, if there is no low one); gaps of growing width, over a
/// lower ground with a way back up; walls to run along; a platform that goes to and fro, and a lift; a zone of each kind that
/// the chart tells apart: a pool with a ramp out of it for a kind in which a character without input flies, which is swimming, and a
/// zone on the ground for any other.
struct Yard {
    CourseSpec course;
    std::vector<Sign> signs;
    Placement start;
};
[[nodiscard]] Yard make_yard(const Chart& chart);

}  // namespace cursimeter::tryout
