#pragma once

#include <cursimeter/advance.hpp>
#include <cursimeter/course/course.hpp>
#include <cursimeter/survey/scout.hpp>
#include <limits>
#include <optional>

#include "survey/scout/hands.hpp"

/// What a search looks for, and from where.
namespace cursimeter::survey {

inline constexpr double never = std::numeric_limits<double>::quiet_NaN();

/// Gates passed so far, bit per leg of the course. A leg ends at the first passage of its finish after its start.
struct Progress {
    std::uint64_t begun = 0, ended = 0;
    double arrived = never;  ///< s; when the goal was reached
};

/// All that the next tick depends on.
struct Situation {
    Runner runner;
    Hands hands;
    std::uint32_t tick = 0;
    double stood_at = 0.0;  ///< m; its height when it was last on the ground
    Progress progress;
};

/// Where a platform goes to and fro, and around it, and how long it takes.
struct Ferry {
    glm::dvec3 low{0.0}, high{0.0};  ///< m
    double period = 0.0;             ///< s
};

/// What is looked for, resolved: the same for all threads.
struct Errand {
    const Chart& chart;
    const Course* course;  ///< null: open ground
    const ScoutPlan& plan;
    std::uint32_t actions = 0;    ///< bit per action that may be used
    std::uint64_t all_legs = 0;   ///< bit per leg that must be passed; 0: none
    int leg = -1;                 ///< whose end is the goal, or -1
    std::uint32_t last_tick = 0;  ///< no way is longer
    std::vector<ZoneSpec> avoided;
    std::vector<Ferry> ferries;
    StartSpec begin;                                 ///< its yaw in whole degrees
    double floor = 0.0;                              ///< m; below it nothing comes back
    glm::dvec3 origin{0.0}, heading{1.0, 0.0, 0.0};  ///< where it starts, and looks

    /// Throws ChartError for names that are not the chart's or the course's, and values out of range.
    Errand(const Chart& chart, const Course* course, const ScoutPlan& plan);
    [[nodiscard]] bool has_goal() const { return leg >= 0 || plan.place || plan.distance || all_legs != 0; }
    /// Where to look for it, roughly.
    [[nodiscard]] std::optional<glm::dvec3> goal_place() const;
    /// Where to go next: with every leg to pass, the first gate that is left.
    [[nodiscard]] std::optional<glm::dvec3> next_place(const Progress& progress) const;
    /// Whether hands press or hold an action that may not be used.
    [[nodiscard]] bool uses_barred(const Intent& intent) const;
    [[nodiscard]] Situation start() const;
    /// Where something moves it matters when one is there: 0 where nothing does, else another number for each part of its round.
    [[nodiscard]] std::uint16_t phase_of(const Situation& now) const;
    /// s at which a tick begins.
    [[nodiscard]] double time_of(std::uint32_t tick) const { return static_cast<double>(tick) / plan.rate; }
};

}  // namespace cursimeter::survey
