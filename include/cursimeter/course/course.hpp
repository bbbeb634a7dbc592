#pragma once

#include <cursimeter/course/course_spec.hpp>
#include <cursimeter/terrain.hpp>
#include <memory>
#include <span>
#include <vector>

namespace cursimeter {

namespace detail {
struct CourseData;
}

/// A box in any orientation, as everything solid on a course is one.
struct Solid {
    glm::dvec3 middle{0.0};            ///< m; of a platform, at the start of its path
    std::array<glm::dvec3, 3> axes{};  ///< unit vectors
    glm::dvec3 half{0.0};              ///< m along each axis
    int platform = -1;                 ///< index among the course's platforms, or -1
};

/// A checked course, copied cheaply. Throws ChartError with every diagnostic: values that are not finite or
/// out of range, boxes without volume, ramps and gates without length.
class Course {
  public:
    explicit Course(const CourseSpec& spec);
    [[nodiscard]] const CourseSpec& spec() const;
    /// 64-bit digest of everything that a course file says: two with one digest are the same world.
    [[nodiscard]] std::uint64_t digest() const;
    /// All solids; the number of a surface is the solid's index + 1.
    [[nodiscard]] std::span<const Solid> solids() const;
    /// Where a platform is at a time, relative to its start, m.
    [[nodiscard]] glm::dvec3 platform_offset(std::size_t platform, double time) const;
    /// For the library's own sources; the type is not installed.
    [[nodiscard]] const detail::CourseData& data() const { return *data_; }

  private:
    std::shared_ptr<const detail::CourseData> data_;
};

/// The course as a world for one chart's runners, which read its zones by their kinds' names. Kinds that
/// the chart does not know act all the same. Sweeps and overlaps are exact to 1e-7 m.
class CourseTerrain final : public Terrain {
  public:
    CourseTerrain(const Course& course, const Chart& chart);
    /// Sets the time at the start of the tick, s: platforms move by it.
    void set_time(double seconds) { time_ = seconds; }

    [[nodiscard]] bool sweep(const Sweep& sweep, Hit& hit) const noexcept override;
    [[nodiscard]] bool overlap(const Capsule& body, const glm::dvec3& feet, double at,
                               Overlap& overlap) const noexcept override;
    [[nodiscard]] ZoneReading zones(const glm::dvec3& point, double at) const noexcept override;
    /// Whether the path of a platform leads through the box.
    [[nodiscard]] bool moves(const glm::dvec3& low, const glm::dvec3& high) const noexcept override;
    [[nodiscard]] bool is_open(const glm::dvec3& low, const glm::dvec3& high,
                               LevelFloor& floor) const noexcept override;
    [[nodiscard]] glm::dvec3 surface_motion(std::uint32_t surface, double at,
                                            double seconds) const noexcept override;

  private:
    Course course_;
    std::vector<std::uint8_t> zone_bits_;  ///< by zone of the course
    double time_ = 0.0;
};

/// A stretch of a path: places and velocities at two times. In between it is taken as the cubic curve that fits them.
struct PathStretch {
    double begin = 0.0, end = 0.0;                    ///< s
    glm::dvec3 from{0.0}, to{0.0};                    ///< m
    glm::dvec3 velocity_from{0.0}, velocity_to{0.0};  ///< m/s
};
/// When the stretch passes a gate, s; NaN if it does not.
[[nodiscard]] double gate_passage(const GateSpec& gate, const PathStretch& stretch);

/// When a path passes the gates of a course's legs. A value: a copy goes on by itself.
class LegClock {
  public:
    explicit LegClock(const Course& course);
    /// The next stretch of the path.
    void pass(const PathStretch& stretch);
    /// Seconds at which each leg was begun and ended; NaN while it was not. A leg ends at the first passage
    /// of its finish after its start.
    struct Times {
        double begun, ended;
    };
    [[nodiscard]] std::span<const Times> times() const { return times_; }

  private:
    Course course_;
    std::vector<Times> times_;
};

}  // namespace cursimeter
