#include "core/world/traveller.hpp"

#include <algorithm>
#include <cmath>

#include "core/contact/contact_limits.hpp"
#include "core/contact/intake.hpp"
#include "core/contact/normals.hpp"
#include "core/contact/pushes.hpp"
#include "core/contact/surroundings.hpp"
#include "core/motion/segment.hpp"
#include "core/numbers/space.hpp"

/// A segment says where the runner wants to be; here it meets the world.
///
/// The tick's time is walked in chords. A chord is short enough that the straight line between its ends
/// is the segment's path to a fraction of a millimetre, so one sweep tells what is in the way, and long enough
/// that most ticks hold one. What stops a chord ends it, and is swept for again on a chord that ends there: on the segment,
/// that is. When the world around changes within a chord (the ground's face, a wall at
/// hand, a zone, the headroom, the loss of the ground), the moment is found by halving. Height on the ground
/// follows from the place alone: after each chord the body is let down onto what is below. So neither steps nor slopes
/// depend on how time is cut.
namespace cursimeter::detail {
Capsule Traveller::body() const {
    const CompiledBody& body = chart_.body;
    return {body.radius, chart_.states[runner_.state].low ? body.low_height : body.height};
}

bool Traveller::walkable(const glm::dvec3& normal) const {
    return normal.z >= chart_.body.limit_cosine - 1e-9;
}

/// The world's answer, checked: the part of the motion up to the touch itself.
bool Traveller::touches(const Capsule& body, const glm::dvec3& from, const glm::dvec3& motion,
                        Hit& hit) const {
    if (length_of(motion) <= 0.0 || !world_.sweep({body, from, motion, chord_end_}, hit)) {
        return false;
    }
    if (!is_unit(hit.normal) || !(hit.fraction >= 0.0 && hit.fraction <= 1.0)) {
        return false;
    }
    hit.face = is_unit(hit.face) ? hit.face : hit.normal;
    return true;
}

/// The same with the skin taken off.
bool Traveller::sweep(const Capsule& body, const glm::dvec3& from, const glm::dvec3& motion, Hit& hit) const {
    if (!touches(body, from, motion, hit)) {
        return false;
    }
    hit.fraction = std::max(0.0, hit.fraction - part_kept_off(motion, hit.normal));
    return true;
}

/// Whether the runner can stand on what it touches. On an edge it can while it does not lean over it too
/// far, and where a step below would hold it anyway.
bool Traveller::carries_weight(const Hit& hit, const glm::dvec3& position) const {
    if (!walkable(hit.face)) {
        return false;
    }
    if (walkable(hit.normal)) {
        return true;
    }
    return step_holds(position);
}

/// How far below the body a step may lie, of exactly the step height or of no height at all: the body stands a skin above the ground,
/// and more where it touches a slope or an edge.
double Traveller::step_reach() const {
    return chart_.body.step_height + 3.0 * skin;
}

/// Whether a step below the middle of the body would hold it. The steep end of what it leaves may come first: then the
/// step is asked for beside that.
bool Traveller::step_holds(const glm::dvec3& position) const {
    const double thin = 0.2 * chart_.body.radius;
    const Capsule middle{thin, 2.0 * thin};
    const glm::dvec3 from = position + glm::dvec3(0.0, 0.0, skin);
    const glm::dvec3 down(0.0, 0.0, -step_reach());
    Hit below;
    if (!sweep(middle, from, down, below)) {
        return false;
    }
    return walkable(below.face) ||
           (sweep(middle, from + flattened(below.normal) * (2.0 * thin), down, below) &&
            walkable(below.face));
}

/// Asks the world about a box that the segment does not leave in `seconds`.
void Traveller::ask_world(double seconds) {
    const double bend = length_of(acceleration_now(chart_, runner_)) * seconds;
    const double speed = runner_.speed + carrying_speed() + bend;
    const double reach = chart_.body.radius + std::max(chart_.wall_reach, lean_reach) + speed * seconds;
    world_.ask(runner_.position - glm::dvec3(reach, reach, reach + chart_.body.step_height),
               runner_.position + glm::dvec3(reach, reach, reach + chart_.body.height), questions_);
}

double Traveller::carrying_speed() const {
    return runner_.carried ? length_of(carrying_velocity(chart_, runner_)) : 0.0;
}

double Traveller::longest_reach() const {
    return chart_.body.radius * (runner_.around.grounded ? 0.5 : 1.0);
}

double Traveller::longest_chord(double seconds) const {
    const double bend = length_of(acceleration_now(chart_, runner_));
    double longest = bend > 0.0 ? std::sqrt(8.0 * chord_error / bend) : seconds;
    const double speed = runner_.speed + carrying_speed();
    // On a ramp the speed at the chord's end counts as well.
    longest = std::min(longest, longest_reach() / std::max(speed + bend * std::min(longest, seconds), 1e-3));
    if (world_.moves()) {
        longest = std::min(longest, longest_moving_chord);
    }
    longest = std::max(longest, seconds / std::max(1, most_chords - chords_));
    return std::min(longest, seconds);
}

/// Nothing lifts a slide over a step: it pays with its speed.
bool Traveller::pays(const Chord& chord) const {
    return chord.stepped > least_climb * runner_.speed * chord.seconds &&
           chart_.states[runner_.state].traits.pays_for_steps;
}

Traveller::Chord Traveller::begin_chord(double seconds) {
    chord_end_ = time() + seconds;  // the world is asked how it stands then
    Chord chord;
    chord.position = runner_.position;
    chord.velocity = runner_.velocity;
    chord.around = runner_.around;
    chord.seconds = seconds;
    return chord;
}

void Traveller::probe(Chord& chord) const {
    probe_barriers(chord);
    probe_wall(chord);
    probe_headroom(chord);
    probe_zones(chord);
}

Traveller::Chord Traveller::chord(double seconds) {
    Chord chord = begin_chord(seconds);
    chord.velocity = velocity_after(chart_, runner_, seconds);
    glm::dvec3 motion = displacement_after(chart_, runner_, seconds);
    if (runner_.carried) {
        motion += carried_by(chart_, runner_, seconds);
    }
    if (chord.around.grounded) {
        motion += surface_motion(chord.around.ground, seconds);
        walk(chord, without_barred(chord.around, motion));
    } else {
        fly(chord, without_barred(chord.around, motion));
    }
    probe(chord);
    return chord;
}

bool Traveller::crosses(const glm::dvec3& motion, const glm::dvec3& velocity, double seconds,
                        glm::dvec3& place, Surroundings& around) {
    if (world_.moves() || length_of(motion) > longest_reach()) {
        return false;
    }
    Chord chord = begin_chord(seconds);
    chord.velocity = velocity;
    if (chord.around.grounded) {
        walk(chord, motion);
    } else {
        fly(chord, motion);
    }
    if (!chord.changed) {
        probe(chord);
    }
    if (chord.changed || chord.blocked || chord.push != nullptr || pays(chord)) {
        return false;
    }
    // A step may have taken it over a part of the way only; and who moves away over an edge, and changes its speed, may have
    // cleared it in between.
    const bool rolls = inner(velocity, chord.rest) > 0.0 || inner(runner_.velocity, chord.rest) > 0.0;
    if (chord.seconds < seconds || (rolls && velocity != runner_.velocity)) {
        return false;
    }
    place = chord.position;
    around = chord.around;
    return true;
}

glm::dvec3 Traveller::surface_motion(std::uint32_t surface, double seconds) const {
    if (surface == 0 || !world_.moves()) {
        return {0.0, 0.0, 0.0};
    }
    const glm::dvec3 moved = world_.surface_motion(surface, time(), seconds);
    return is_finite(moved) && length_of(moved) <= fastest_world * seconds ? moved : glm::dvec3(0.0);
}

glm::dvec3 Traveller::velocity_of(std::uint32_t surface) const {
    return surface_motion(surface, ground_time) * (1.0 / ground_time);
}

void Traveller::feel_ground() {
    instant_.ground_velocity = runner_.around.grounded ? velocity_of(runner_.around.ground) : glm::dvec3(0.0);
}

/// Seconds until a segment that still leads away from what a chord is blocked by turns back to it; 0 if it leads into it. A
/// chord that bends back, out of a corner and into it, is cut there: its straight line would touch at once, again and again.
double Traveller::turns_back(const Chord& chord) const {
    const double pull = -inner(acceleration_now(chart_, runner_), chord.normal);
    const double leaving = inner(runner_.velocity, chord.normal);
    return pull > 0.0 && leaving - pull * chord.seconds > leaving_speed ? leaving / pull : 0.0;
}

/// A chord that something stops lies beside the segment by up to `chord_error`, and its length decides where it stops. One that ends
/// where it stops ends on the segment.
Traveller::Chord Traveller::without_bend(Chord stopped, double length) {
    double tried = length;
    for (int attempt = 0; attempt < most_attempts; ++attempt) {
        if (stopped.seconds <= moment_width || tried - stopped.seconds <= instant_width.value) {
            break;
        }
        tried = stopped.seconds;
        stopped = chord(tried);
    }
    return stopped;
}

double Traveller::pass(double seconds) {
    double passed = 0.0;
    ask_world(seconds);
    feel_ground();
    if (runner_.around.crushed) {
        const glm::dvec3 held = runner_.position;
        stand_still();
        glide(chart_, runner_, seconds);
        runner_.position = held;
        make_room();
        return seconds;
    }
    if (sets_down()) {
        return 0.0;
    }
    while (passed < seconds) {
        const double length = longest_chord(seconds - passed);
        const bool bends = !is_zero(acceleration_now(chart_, runner_));
        ++chords_;
        Chord next = chord(length);
        for (int attempt = 0; attempt < most_attempts && next.blocked; ++attempt) {
            const double turns = turns_back(next);
            if (turns <= 0.0) {
                break;
            }
            next = chord(std::min(turns, length));
        }
        if (bends) {
            next = without_bend(next, length);
        }
        if (pays(next) && length > longest_paying_chord) {
            next = chord(longest_paying_chord);
        }
        const bool lost_ground = runner_.around.grounded && !next.around.grounded;
        if (next.changed && (!next.blocked || lost_ground)) {  // it may have lost it before it was stopped
            double low = 0.0, high = next.seconds;
            while (high - low > moment_width) {
                const double middle = 0.5 * (low + high);
                Chord half = chord(middle);
                if (half.changed) {
                    high = std::min(middle, half.seconds);
                    next = half;
                } else {
                    low = middle;
                }
            }
        }
        take(next);
        stood_ = runner_.around.grounded;
        passed += next.seconds;
        if (next.changed || instant_.dirty.any(dirty::facts) || next.seconds <= 0.0) {
            return passed;
        }
    }
    return seconds;
}

}  // namespace cursimeter::detail
