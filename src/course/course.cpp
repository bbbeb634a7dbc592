#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <cursimeter/numbers/detmath.hpp>

#include "core/chart/limits_check.hpp"
#include "core/chart/table_digest.hpp"
#include "core/numbers/space.hpp"
#include "course/course_data.hpp"
#include "course/course_keys.hpp"

namespace cursimeter {
namespace {

using detail::Findings;
using detail::Track;

constexpr double least_size = 0.001;  ///< m

glm::dvec3 vector_of(const Point& point) {
    return {point[0], point[1], point[2]};
}

/// Builds solids; each mistake is told with the part's path.
class CourseBuilder {
  public:
    CourseBuilder(detail::CourseData& course, Findings& findings) : course_(course), findings_(findings) {}

    void build() {
        const CourseSpec& spec = course_.spec;
        for (std::size_t i = 0; i < spec.boxes.size(); ++i) {
            const BoxSpec& box = spec.boxes[i];
            upright(fmt::format("box[{}]", i + 1), vector_of(box.from), vector_of(box.to), box.yaw.radians());
        }
        for (std::size_t i = 0; i < spec.ramps.size(); ++i) {
            ramp(fmt::format("ramp[{}]", i + 1), spec.ramps[i]);
        }
        for (std::size_t i = 0; i < spec.walls.size(); ++i) {
            wall(fmt::format("wall[{}]", i + 1), spec.walls[i]);
        }
        for (std::size_t i = 0; i < spec.ceilings.size(); ++i) {
            const CeilingSpec& ceiling = spec.ceilings[i];
            const double under = std::min(ceiling.from[2], ceiling.to[2]);
            upright(fmt::format("ceiling[{}]", i + 1), {ceiling.from[0], ceiling.from[1], under},
                    {ceiling.to[0], ceiling.to[1], under + ceiling.thickness}, 0.0);
        }
        for (std::size_t i = 0; i < spec.platforms.size(); ++i) {
            platform(i, spec.platforms[i]);
        }
        for (std::size_t i = 0; i < spec.zones.size(); ++i) {
            const ZoneSpec& zone = spec.zones[i];
            const glm::dvec3 from = vector_of(zone.from), to = vector_of(zone.to);
            check_volume(fmt::format("zone[{}]", i + 1), from, to);
            course_.zones.push_back(detail::Extent{from, from}.with({to, to}));
            const GustSpec gust = zone.push.value_or(GustSpec{});
            course_.pushes.push_back({vector_of(gust.direction), gust.strength, gust.lift, gust.seconds,
                                      gust.locks, gust.replaces});
        }
        list_by_cells();
        for (std::size_t i = 0; i < spec.legs.size(); ++i) {
            const LegSpec& leg = spec.legs[i];
            if (leg.name.empty()) {
                findings_.add(fmt::format("leg[{}].name", i + 1), "is empty", "each leg needs a name");
            }
            check_gate(fmt::format("leg[{}].start", i + 1), leg.start);
            check_gate(fmt::format("leg[{}].finish", i + 1), leg.finish);
        }
    }

  private:
    void list_by_cells() {
        std::vector<detail::Extent>& wherever = course_.wherever;
        wherever = course_.extents;
        for (std::size_t i = 0; i < course_.solids.size(); ++i) {
            const int platform = course_.solids[i].platform;
            if (platform >= 0) {
                Track& track = course_.tracks[static_cast<std::size_t>(platform)];
                for (const glm::dvec3& point : track.points) {
                    wherever[i] = wherever[i].with(course_.extents[i].moved(point - track.points.front()));
                }
                track.swept = wherever[i];
            }
        }
        course_.solid_cells = detail::CellGrid(wherever);
        course_.zone_cells = detail::CellGrid(course_.zones);
        wherever.insert(wherever.end(), course_.zones.begin(), course_.zones.end());
        course_.wherever_cells = detail::CellGrid(wherever);
    }

    bool check_volume(const std::string& path, const glm::dvec3& from, const glm::dvec3& to) {
        const char* axes[] = {"x", "y", "z"};
        for (int i = 0; i < 3; ++i) {
            if (std::fabs(to[i] - from[i]) < least_size) {
                findings_.add(path, fmt::format("has no size along {}", axes[i]),
                              fmt::format("let from and to differ by {} m at least", least_size));
                return false;
            }
        }
        return true;
    }
    void check_gate(const std::string& path, const GateSpec& gate) {
        if (std::hypot(gate.to[0] - gate.from[0], gate.to[1] - gate.from[1]) < least_size) {
            findings_.add(path, "has no width", "let from and to differ along x or y");
        }
    }
    bool check_size(const std::string& path, const char* key, double size) {
        if (size < least_size) {
            findings_.add(path + "." + key, fmt::format("{} is too thin", size),
                          fmt::format("{} m at least", least_size));
            return false;
        }
        return true;
    }

    void upright(const std::string& path, const glm::dvec3& from, const glm::dvec3& to, double yaw) {
        if (check_volume(path, from, to)) {
            const detmath::SineCosine turned = detmath::sine_cosine(yaw);
            add((from + to) * 0.5, {turned.cosine, turned.sine, 0.0}, {-turned.sine, turned.cosine, 0.0},
                glm::dvec3(std::fabs(to.x - from.x), std::fabs(to.y - from.y), std::fabs(to.z - from.z)) *
                    0.5,
                -1);
        }
    }
    void ramp(const std::string& path, const RampSpec& spec) {
        const glm::dvec3 from = vector_of(spec.from), to = vector_of(spec.to), along = to - from;
        const glm::dvec2 plane(along.x, along.y);
        const double run = detail::length_of(plane), length = detail::length_of(along);
        if (run < least_size) {
            findings_.add(path, "has no length seen from above", "let from and to differ along x or y");
            return;
        }
        if (!check_size(path, "width", spec.width) || !check_size(path, "thickness", spec.thickness)) {
            return;
        }
        const glm::dvec3 forward = along * (1.0 / length);
        const glm::dvec3 aside(-plane.y / run, plane.x / run, 0.0);
        const glm::dvec3 up = detail::cross(forward, aside);
        add((from + to) * 0.5 - up * (0.5 * spec.thickness), forward, aside,
            {0.5 * length, 0.5 * spec.width, 0.5 * spec.thickness}, -1);
    }
    void wall(const std::string& path, const CourseWallSpec& spec) {
        const glm::dvec3 from = vector_of(spec.from), to = vector_of(spec.to);
        const glm::dvec2 plane(to.x - from.x, to.y - from.y);
        const double run = detail::length_of(plane);
        if (run < least_size) {
            findings_.add(path, "has no length", "let from and to differ along x or y");
            return;
        }
        if (!check_size(path, "height", spec.height) || !check_size(path, "thickness", spec.thickness)) {
            return;
        }
        const double foot = std::min(from.z, to.z);
        const glm::dvec3 along(plane.x / run, plane.y / run, 0.0);
        add({0.5 * (from.x + to.x), 0.5 * (from.y + to.y), foot + 0.5 * spec.height}, along,
            {-along.y, along.x, 0.0}, {0.5 * run, 0.5 * spec.thickness, 0.5 * spec.height}, -1);
    }
    void platform(std::size_t index, const PlatformSpec& spec) {
        const std::string path = fmt::format("platform[{}]", index + 1);
        Track track;
        track.speed = spec.speed;
        track.pause = spec.pause;
        for (const Point& point : spec.path) {
            track.distances.push_back(track.points.empty()
                                          ? 0.0
                                          : track.distances.back() +
                                                detail::length_of(vector_of(point) - track.points.back()));
            track.points.push_back(vector_of(point));
        }
        if (track.points.size() < 2 || track.distances.back() < least_size) {
            findings_.add(path + ".path", "leads nowhere", "give two different points at least");
            return;
        }
        const char* axes[] = {"x", "y", "z"};
        for (std::size_t i = 0; i < 3; ++i) {
            if (!check_size(path, "size", spec.size[i])) {
                findings_.shrink(findings_.size() - 1);
                findings_.add(path + ".size", fmt::format("has no size along {}", axes[i]),
                              fmt::format("{} m at least", least_size));
                return;
            }
        }
        const glm::dvec3 half = vector_of(spec.size) * 0.5;
        add(track.points.front() - glm::dvec3(0.0, 0.0, half.z), {1.0, 0.0, 0.0}, {0.0, 1.0, 0.0}, half,
            static_cast<int>(course_.tracks.size()));
        course_.tracks.push_back(std::move(track));
    }

    void add(const glm::dvec3& middle, const glm::dvec3& first, const glm::dvec3& second,
             const glm::dvec3& half, int platform) {
        Solid solid{middle, {first, second, detail::cross(first, second)}, half, platform};
        glm::dvec3 reach(0.0);
        for (int i = 0; i < 3; ++i) {
            for (std::size_t k = 0; k < 3; ++k) {
                reach[i] += std::fabs(solid.axes[k][i]) * half[static_cast<int>(k)];
            }
        }
        course_.extents.push_back({middle - reach, middle + reach});
        course_.solids.push_back(solid);
    }

    detail::CourseData& course_;
    Findings& findings_;
};

}  // namespace

Course::Course(const CourseSpec& spec) {
    auto data = std::make_shared<detail::CourseData>();
    data->spec = spec;
    data->digest = detail::digest_of(keys::course_table().rows, &spec);
    Findings findings;
    detail::check_limits(keys::course_table(), spec, findings);
    if (findings.empty()) {
        CourseBuilder(*data, findings).build();
    }
    if (!findings.empty()) {
        throw ChartError(findings.take());
    }
    data_ = std::move(data);
}

const CourseSpec& Course::spec() const {
    return data_->spec;
}

std::uint64_t Course::digest() const {
    return data_->digest;
}

std::span<const Solid> Course::solids() const {
    return data_->solids;
}

glm::dvec3 Course::platform_offset(std::size_t platform, double time) const {
    const Track& track = data_->tracks[platform];
    const double length = track.distances.back();
    const double trip = length / track.speed + track.pause;
    double phase = std::fmod(std::max(time, 0.0), 2.0 * trip);
    const bool back = phase >= trip;
    phase = std::min(back ? phase - trip : phase, length / track.speed);
    const double distance = back ? length - phase * track.speed : phase * track.speed;
    std::size_t i = 1;
    while (i + 1 < track.distances.size() && track.distances[i] < distance) {
        ++i;
    }
    const double piece = track.distances[i] - track.distances[i - 1];
    const double part = piece > 0.0 ? (distance - track.distances[i - 1]) / piece : 0.0;
    return track.points[i - 1] + (track.points[i] - track.points[i - 1]) * part - track.points.front();
}

}  // namespace cursimeter
