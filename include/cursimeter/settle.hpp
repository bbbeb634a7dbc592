#pragma once

#include <array>
#include <cursimeter/advance.hpp>

/// For games that move characters by their own collision: the library says where the runner wants to be,
/// the game moves it and tells what really happened.
///
///     const Plan plan = propose(chart, runner, intent, contacts, dt);
///     const glm::dvec3 moved = game_moves(plan.body, runner.position(), plan.displacement, contacts);
///     const Report report = settle(chart, runner, plan, moved, contacts);
///
/// Both share everything with `advance` but the search for contacts: within a tick the contacts are taken to
/// be those of its start, and what changed is known at its end. Keys, timers and meters keep their exact
/// times inside the tick.
namespace cursimeter {

/// What the world is like around the runner, as the game found it at the end of a tick.
struct Contacts {
    bool grounded = true;
    glm::dvec3 ground_normal{0.0, 0.0, 1.0};  ///< unit; of the face underfoot
    glm::dvec3 ground_velocity{0.0};  ///< m/s; of moving ground, which the game carries the runner with
    /// Unit normals of what stopped it, up to two.
    std::array<glm::dvec3, 2> barriers{};
    std::uint8_t barrier_count = 0;
    bool by_wall = false;            ///< a wall is within reach at either side
    glm::dvec3 wall_normal{0.0};     ///< unit
    std::uint32_t wall_surface = 0;  ///< the same wall has the same number; 0: unknown
    bool headroom = true;            ///< the full body fits here
    ZoneReading zones;
};

/// What a runner wants to do in a tick. A value; the runner itself is untouched until `settle`.
struct Plan {
    /// m, without what moving ground carries it. It includes `lean`.
    glm::dvec3 displacement{0.0};
    /// m; 2 mm into each barrier that the runner leans against, so that the game's collision finds out whether
    /// it is still there. One that holds is kept, told or not.
    glm::dvec3 lean{0.0};
    /// m; how far the ground underfoot moves meanwhile: the game also carries the runner so far.
    glm::dvec3 carry{0.0};
    glm::dvec3 ground_velocity{0.0};  ///< m/s, of the ground that it still stands on; 0 in the air
    Capsule body;                     ///< at the end of the tick
    Capsule full_body;                ///< for `Contacts::headroom`
    double reach = 0.0;  ///< m; how far off a wall counts as at hand; 0: the chart has no use for walls
    bool keeps_to_ground = true;  ///< it stands at the end: the game lets it down onto steps and slopes
    bool sticks =
        true;  ///< slow enough for its chart (`stick_speed`) to keep to ground that falls away from its way
    double step_height = 0.0;   ///< m
    double slope_cosine = 0.0;  ///< of the steepest ground that it can stand on
    Report report;              ///< of `settle`, as far as it is known
    Runner after;               ///< as it would be if nothing were in the way
};

/// Plans a tick from the contacts that the last `settle` ended with. Refusals and mended intents are told in
/// `Plan::report`. Nothing is changed.
[[nodiscard]] Plan propose(const Chart& chart, const Runner& runner, const Intent& intent,
                           const Contacts& contacts, Seconds dt) noexcept;

/// Ends the tick: the runner is where it was plus `moved`, and what stopped it is gone from its velocity. What
/// it was kept from besides, without a barrier being told, counts as stopped, too. Contacts that changed are worked as
/// an instant at the tick's end, so a landing's state change is in this report. Values that are not
/// finite are left out and told as `intent_mended`.
[[nodiscard]] Report settle(const Chart& chart, Runner& runner, const Plan& plan, const glm::dvec3& moved,
                            const Contacts& contacts) noexcept;

}  // namespace cursimeter
