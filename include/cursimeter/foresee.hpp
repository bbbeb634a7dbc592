#pragma once

#include <algorithm>
#include <cursimeter/advance.hpp>

/// What would come of it: for characters that a program steers, which must brake in time and take a run-up, and for displays.
namespace cursimeter {

/// When something came about, and how far the runner had moved by then.
struct Foreseen {
    bool happens = false;  ///< within the time that was asked for
    double seconds = 0.0;  ///< from now on, to 10 us; if it does not happen, all of the time
    double metres = 0.0;   ///< moved by itself along its path
    glm::dvec3 at{0.0};    ///< m; where it is then
};

/// Plays on a copy of the runner with hands that stay as they are (the intent's changes are taken in at once), until
/// `until(runner)` holds: asked every 0.05 s, then found by halving, so what holds for less than that may be missed. States
/// change, meters drain and waits end as they would. `terrain` may be null: level open ground. Moving platforms stay where
/// the terrain has them. `at_most` is cut to an hour; undefined or negative it is 0. Costs 20 ticks for each second that
/// passes and some 13 more, and allocates nothing.
template <class Until>
[[nodiscard]] Foreseen foresee(const Chart& chart, const Runner& runner, const Intent& hands,
                               const Terrain* terrain, Until until, Seconds at_most = Seconds{10.0}) {
    constexpr double stride = 0.05, exact = 1e-5, longest = 3600.0;
    const double most = at_most.value > 0.0 ? std::min(at_most.value, longest) : 0.0;
    Intent steady = hands;
    for (const Change& change : hands.changes) {
        steady.take_in(change);
    }
    steady.changes = {};
    Runner now = runner;
    double passed = 0.0, step = stride;
    bool happens = until(now);
    while (!happens && passed < most) {
        Runner next = now;
        const double length = step < most - passed ? step : most - passed;
        static_cast<void>(terrain != nullptr ? advance(chart, next, steady, *terrain, Seconds{length})
                                             : advance(chart, next, steady, Seconds{length}));
        const bool there = until(next);
        if (there && step > exact) {
            step *= 0.5;  // nearer, from before it
            continue;
        }
        now = next;
        passed += length;
        happens = there;
    }
    return {happens, passed, now.distance() - runner.distance(), now.position()};
}

/// Until it stands still if everything is let go now.
[[nodiscard]] Foreseen foresee_stop(const Chart& chart, const Runner& runner,
                                    const Terrain* terrain = nullptr, Seconds at_most = Seconds{10.0});
/// Until it is at least so fast, m/s, with such hands.
[[nodiscard]] Foreseen foresee_speed(const Chart& chart, const Runner& runner, const Intent& hands,
                                     double speed, const Terrain* terrain = nullptr,
                                     Seconds at_most = Seconds{10.0});

}  // namespace cursimeter
