#include "survey/scout/errand.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <cursimeter/numbers/detmath.hpp>
#include <glm/common.hpp>
#include <glm/geometric.hpp>
#include <glm/vector_relational.hpp>

#include "core/chart/chart_data.hpp"
#include "core/chart/findings.hpp"

namespace cursimeter::survey {
namespace {

constexpr double depth = 5.0;  // m below everything solid, from where nobody comes back

/// The index of a name, or a finding that names the nearest.
template <class Names>
std::optional<std::size_t> index_of(const Names& names, const std::string& name, const std::string& path,
                                    const char* what, detail::Findings& findings) {
    const auto found = std::find(names.begin(), names.end(), name);
    if (found == names.end()) {
        findings.add(path, fmt::format("there is no {} named '{}'", what, name),
                     detail::advise_name(name, names));
        return std::nullopt;
    }
    return static_cast<std::size_t>(found - names.begin());
}

glm::dvec3 middle_of(const GateSpec& gate) {
    return {0.5 * (gate.from[0] + gate.to[0]), 0.5 * (gate.from[1] + gate.to[1]),
            0.5 * (gate.from[2] + gate.to[2])};
}

void check_range(const char* path, double value, double least, double most, detail::Findings& findings) {
    if (!(value >= least && value <= most)) {
        findings.add(path, fmt::format("{:g} is out of range", value),
                     fmt::format("{:g} <= {} <= {:g}", least, path, most));
    }
}

/// Along its path and back, with a pause at either end.
Ferry ferry_of(const PlatformSpec& platform) {
    constexpr double around = 1.0;  // m
    Ferry ferry;
    ferry.low = glm::dvec3(1e300);
    ferry.high = glm::dvec3(-1e300);
    double length = 0.0;
    for (std::size_t i = 0; i < platform.path.size(); ++i) {
        const glm::dvec3 at(platform.path[i][0], platform.path[i][1], platform.path[i][2]);
        const glm::dvec3 reach(0.5 * platform.size[0] + around, 0.5 * platform.size[1] + around, around);
        ferry.low = glm::min(ferry.low, at - reach);
        ferry.high = glm::max(ferry.high, at + reach);
        if (i > 0) {
            const auto& before = platform.path[i - 1];
            length += glm::distance(at, glm::dvec3(before[0], before[1], before[2]));
        }
    }
    ferry.period = 2.0 * (length / platform.speed + platform.pause);
    return ferry;
}

}  // namespace

Errand::Errand(const Chart& own, const Course* world, const ScoutPlan& wanted)
    : chart(own), course(world), plan(wanted) {
    detail::Findings findings;
    check_range("rate", plan.rate, 10.0, 1000.0, findings);
    check_range("seconds", plan.seconds, 0.5, 600.0, findings);
    check_range("cell", plan.cell, 0.1, 10.0, findings);
    check_range("effort", plan.effort, 0.1, 2000.0, findings);
    check_range("within", plan.within, 0.05, 100.0, findings);
    check_range("start.yaw", plan.start.yaw.value_or(Degrees{0.0}).value, -36000.0, 36000.0, findings);
    check_range("threads", plan.threads, 0.0, 1024.0, findings);
    if (plan.place) {
        for (const double coordinate : *plan.place) {
            check_range("goal", coordinate, -1e6, 1e6, findings);
        }
    }
    const glm::dvec3 placed = plan.start.place().position;
    for (int axis = 0; axis < 3; ++axis) {
        check_range("start", placed[axis], -1e6, 1e6, findings);
    }
    if (plan.start.runner || plan.start.time) {
        findings.add("start", "goes on from a saved runner, or from a time; a search begins at rest, at 0 s",
                     "say `position` and `yaw` alone");
    }
    if (plan.distance) {
        check_range("distance", *plan.distance, 1.0, 10'000.0, findings);
    }
    if ((plan.leg ? 1 : 0) + (plan.place ? 1 : 0) + (plan.distance ? 1 : 0) > 1) {
        findings.add("goal", "is said in more than one way", "say one of a leg, a place and a distance");
    }
    actions = actions_below(chart.action_count());
    const std::vector<std::string> names = detail::names_of(chart.data().actions);
    for (const std::string& name : plan.without) {
        if (const auto action = index_of(names, name, "without", "action", findings)) {
            actions &= ~(std::uint32_t{1} << *action);
        }
    }
    if (course == nullptr && (plan.leg || plan.all_legs || !plan.avoid.empty())) {
        findings.add("course", "is missing: legs and zones are a course's", "give a course");
    } else if (course != nullptr) {
        std::vector<std::string> legs, kinds;
        for (const LegSpec& one : course->spec().legs) {
            legs.push_back(one.name);
        }
        for (const ZoneSpec& zone : course->spec().zones) {
            kinds.push_back(zone.kind);
        }
        if (plan.leg) {
            const auto found = index_of(legs, *plan.leg, "leg", "leg", findings);
            leg = found ? static_cast<int>(*found) : -1;
        }
        if (legs.size() > 64) {
            findings.add("course", fmt::format("has {} legs", legs.size()), "64 at most for a search");
        } else if (plan.all_legs) {
            for (std::size_t i = 0; i < legs.size(); ++i) {
                all_legs |= std::uint64_t{1} << i;
            }
            if (legs.empty()) {
                findings.add("course", "has no legs to pass", "give its file [[leg]] tables");
            }
        }
        for (const std::string& kind : plan.avoid) {
            if (index_of(kinds, kind, "avoid", "zone", findings)) {
                std::copy_if(course->spec().zones.begin(), course->spec().zones.end(),
                             std::back_inserter(avoided),
                             [&](const ZoneSpec& zone) { return zone.kind == kind; });
            }
        }
        for (const PlatformSpec& platform : course->spec().platforms) {
            ferries.push_back(ferry_of(platform));
        }
        floor = 1e300;
        for (const Solid& solid : course->solids()) {
            floor = std::min(floor, solid.middle.z - glm::length(solid.half));
        }
        floor = std::min(floor, placed.z) - depth;
    } else {
        floor = -1e300;
    }
    if (!findings.empty()) {
        throw ChartError(findings.take());
    }
    last_tick = static_cast<std::uint32_t>(std::llround(plan.seconds * plan.rate));
    begin = plan.start;
    const Degrees yaw = plan.start.yaw.value_or(Degrees{0.0});
    begin.yaw = Degrees(whole_degrees(static_cast<int>(std::lround(yaw.value))));
    const Situation now = start();
    origin = now.runner.position();
    const detmath::SineCosine looks = detmath::sine_cosine(now.runner.yaw());
    heading = {looks.cosine, looks.sine, 0.0};
}

std::optional<glm::dvec3> Errand::goal_place() const {
    if (plan.place) {
        return glm::dvec3((*plan.place)[0], (*plan.place)[1], (*plan.place)[2]);
    }
    if (plan.distance) {
        return origin + heading * *plan.distance;
    }
    if (course == nullptr || course->spec().legs.empty() || !has_goal()) {
        return std::nullopt;
    }
    const GateSpec& gate = leg >= 0 ? course->spec().legs[static_cast<std::size_t>(leg)].finish
                                    : course->spec().legs.back().finish;
    return middle_of(gate);
}

std::optional<glm::dvec3> Errand::next_place(const Progress& progress) const {
    for (std::size_t i = 0; all_legs != 0 && i < course->spec().legs.size(); ++i) {
        const LegSpec& one = course->spec().legs[i];
        const std::uint64_t bit = std::uint64_t{1} << i;
        if ((progress.begun & bit) == 0) {
            return middle_of(one.start);
        }
        if ((progress.ended & bit) == 0) {
            return middle_of(one.finish);
        }
    }
    return goal_place();
}

bool Errand::uses_barred(const Intent& intent) const {
    return (intent.held & ~actions) != 0 ||
           std::any_of(intent.changes.begin(), intent.changes.end(), [&](const Change& change) {
               return change.kind == ChangeKind::press && (key_bit(change.action) & ~actions) != 0;
           });
}

std::uint16_t Errand::phase_of(const Situation& now) const {
    constexpr double part = 0.5;  // s
    const glm::dvec3 at = now.runner.position();
    for (const Ferry& ferry : ferries) {
        if (glm::all(glm::greaterThanEqual(at, ferry.low)) && glm::all(glm::lessThanEqual(at, ferry.high))) {
            const double round = time_of(now.tick) / ferry.period;
            return static_cast<std::uint16_t>(1.0 + (round - std::floor(round)) * ferry.period / part);
        }
    }
    return 0;
}

Situation Errand::start() const {
    Situation now;
    now.hands.yaw = static_cast<std::int16_t>(begin.yaw->value);
    now.runner = spawn(chart, begin.place());
    now.stood_at = now.runner.position().z;
    for (std::uint8_t i = 0; i < chart.action_count(); ++i) {
        if (chart.press_mode(ActionId{i}) == PressMode::toggle) {
            set_press_mode(now.runner, ActionId{i}, PressMode::hold);
        }
    }
    return now;
}

}  // namespace cursimeter::survey
