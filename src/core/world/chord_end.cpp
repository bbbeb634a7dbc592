#include <algorithm>
#include <cmath>

#include "core/contact/contact_limits.hpp"
#include "core/contact/intake.hpp"
#include "core/contact/normals.hpp"
#include "core/contact/pushes.hpp"
#include "core/contact/surroundings.hpp"
#include "core/motion/segment.hpp"
#include "core/numbers/space.hpp"
#include "core/runner/timers.hpp"
#include "core/world/traveller.hpp"

/// What the end of a chord makes of the runner: contacts taken in, ground lost over an edge or found again.
namespace cursimeter::detail {

void Traveller::take(const Chord& chord) {
    const Surroundings before = runner_.around;
    glide(chart_, runner_, chord.seconds);
    runner_.position = chord.position;
    runner_.around = chord.around;
    instant_.at = time();
    if (pays(chord)) {
        const double left = runner_.speed * runner_.speed - 2.0 * chart_.body.gravity * chord.stepped;
        const double factor = left > 0.0 ? std::sqrt(left) / runner_.speed : 0.0;
        set_velocity(runner_, runner_.velocity * factor);
        instant_.dirty.note(Changed::way);
    }
    if (world_.moves()) {
        make_room();
    }
    if (before.grounded && chord.around.grounded) {
        take_other_ground(instant_, velocity_of(chord.around.ground), before.ground != chord.around.ground);
    }
    if (!chord.changed) {
        return;
    }
    instant_.dirty.note(Changed::contact);
    if (before.grounded && !chord.around.grounded) {
        roll_off(chord);
        take_lift(instant_);
    } else if (!before.grounded && chord.around.grounded) {
        take_landing(instant_, velocity_of(chord.around.ground));
    } else if (chord.around.grounded) {
        follow_ground(runner_);
    }
    if (chord.blocked) {
        const glm::dvec3 velocity = runner_.velocity;
        take_barrier(instant_, chord.normal);
        const bool stuck = chord.seconds < instant_width.value && runner_.around.grounded &&
                           is_barrier(before, chord.normal) && runner_.velocity == velocity;
        stuck_ = stuck ? stuck_ + 1 : 0;
        runner_.around.cornered = runner_.around.cornered || stuck_ >= most_attempts;
    } else {
        stuck_ = 0;
    }
    take_wall(instant_, glm::dvec3(runner_.around.wall_normal), runner_.around.beside);
    if (chord.around.zones != before.zones || chord.around.wind != before.wind) {
        start_timer(runner_, timer::dwell, zone_dwell);
    }
    if (chord.push != nullptr) {
        take_zone_push(instant_, *chord.push);
    }
}

/// Leaves an edge along its tangent, at the speed at least at which it clears it: what rolls off slowly slips. What it has
/// along the edge it keeps.
void Traveller::roll_off(const Chord& chord) {
    const glm::dvec3 across = across_edge(runner_.velocity, chord.edge_line);
    const glm::dvec3 tangent = across - chord.edge * inner(across, chord.edge);
    const double size = length_of(tangent);
    if (is_zero(chord.edge) || size <= 1e-6 || chart_.states[runner_.state].traits.keeps_level) {
        return;
    }
    const double clearing = std::sqrt(chart_.body.radius * chart_.edge_gravity * std::max(0.0, chord.edge.z));
    set_velocity(runner_,
                 runner_.velocity - across + tangent * (std::max(length_of(across), clearing) / size));
}

/// A body that has been lifted and falls at once, as where a state is left at the moment in which it began, stands again where it
/// stood: the skin below is no height to fall from.
bool Traveller::sets_down() {
    const bool lifted = stood_ && !runner_.around.grounded;
    if (!lifted || runner_.velocity.z > 0.0 || acceleration_now(chart_, runner_).z >= 0.0) {
        return false;
    }
    Chord here = begin_chord(0.0);
    Hit below;
    const glm::dvec3 down(0.0, 0.0, -2.0 * skin);
    if (!looks_down(here.position, down, below) || !lands_on(below, here.position, here.velocity)) {
        return false;
    }
    here.position += down * below.fraction;
    stand_on(here, below);
    take(here);
    return true;
}

}  // namespace cursimeter::detail
