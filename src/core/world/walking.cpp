#include <algorithm>
#include <cmath>

#include "core/contact/contact_limits.hpp"
#include "core/contact/normals.hpp"
#include "core/contact/surroundings.hpp"
#include "core/numbers/space.hpp"
#include "core/world/traveller.hpp"

/// How a body gets along: walking with steps and slopes, and flying.
namespace cursimeter::detail {

namespace {

/// Whether it touches at an edge and not on a face.
bool is_edge(const Hit& hit) {
    return inner(hit.normal, hit.face) < 1.0 - edge_turn;
}

}  // namespace

void Traveller::stop_at(Chord& chord, const Hit& hit) const {
    chord.blocked = true;
    chord.changed = true;
    chord.normal = hit.normal;
}

/// Whether it touches ground, not at an edge, whose gradient is another than that underfoot.
bool Traveller::lies_on_other_ground(const Hit& hit) const {
    const glm::dvec2 turn = gradient_of(hit.face) - glm::dvec2(runner_.around.gradient);
    return walkable(hit.face) && !is_edge(hit) && length_of(turn) > gradient_step;
}

void Traveller::stand_on(Chord& chord, const Hit& hit) const {
    // On an edge the body touches at an angle between two faces, and either could be told: it keeps to the
    // one it came from until it lies on the other.
    if (lies_on_other_ground(hit) || !runner_.around.grounded) {
        chord.around.gradient = glm::vec2(gradient_of(hit.face));
        chord.changed = true;
    }
    chord.around.grounded = true;
    chord.around.ground = hit.surface;
}

/// Sweeps the body along a motion. Motion along a barrier that it leans against meets it again at a graze, since the
/// barrier's normal is kept in few bits: that is no news, and the motion is turned aside by what is missing. Taken for a
/// blow, it would leave no time between one contact and the next.
bool Traveller::meets(const Chord& chord, glm::dvec3& motion, Hit& hit) const {
    if (!sweep(body(), chord.position, motion, hit)) {
        return false;
    }
    const Surroundings& around = chord.around;
    const glm::dvec3 normal = met_normal(around, hit.normal);
    const double closing = -inner(motion, hit.normal), facing = inner(normal, hit.normal);
    if (!is_barrier(around, hit.normal) || closing > graze * length_of(motion) || facing < least_facing) {
        return true;
    }
    const double gap = hit.fraction == 0.0 ? 0.5 * skin : 0.0;  // keep the skin between
    motion += normal * ((closing + gap) / facing);
    return sweep(body(), chord.position, motion, hit);
}

void Traveller::walk(Chord& chord, glm::dvec3 motion) const {
    Hit hit;
    if (!meets(chord, motion, hit)) {
        chord.position += motion;
    } else if (lies_on_other_ground(hit)) {
        chord.position += motion * hit.fraction;
        chord.seconds *= hit.fraction;
        stand_on(chord, hit);
        return;
    } else if (!gets_over(chord, motion, hit)) {
        chord.position += motion * hit.fraction;
        chord.seconds *= hit.fraction;
        stop_at(chord, hit);
    }
    keep_to_ground(chord);
}

/// Up, forward and down again. Returns false if that leads no further than the obstacle, which may turn out to be something
/// beside the step: whoever took the step itself for it would be caught between the two.
bool Traveller::step_over(Chord& chord, const glm::dvec3& motion, Hit& hit) const {
    const glm::dvec3 forward(motion.x, motion.y, 0.0);
    const double height = chart_.body.step_height;
    Hit ceiling, ahead, below;
    const glm::dvec3 up(0.0, 0.0, height);
    const double lift = sweep(body(), chord.position, up, ceiling) ? height * ceiling.fraction : height;
    if (lift <= skin || is_zero(forward)) {
        return false;
    }
    glm::dvec3 place = chord.position + glm::dvec3(0.0, 0.0, lift);
    const bool stopped = sweep(body(), place, forward, ahead);
    const double fraction = stopped ? ahead.fraction : 1.0;
    if ((fraction - hit.fraction) * length_of(forward) <= 1e-6) {
        // What turns nothing of the motion aside would be met again and again.
        const bool bars = stopped && inner(motion, met_normal(chord.around, ahead.normal)) < 0.0;
        hit.normal = bars ? ahead.normal : hit.normal;
        return false;
    }
    place += forward * fraction;
    const glm::dvec3 down(0.0, 0.0, -lift - height);
    if (!sweep(body(), place, down, below) || !walkable(below.face)) {
        return false;
    }
    place += down * below.fraction;
    // The height of the step is that of the point it comes to rest on: the round underside begins to roll
    // over edges that are higher than the body rises at first. It touches lower than the skin lets it come.
    const double touch = place.z + down.z * part_kept_off(down, below.normal);
    const double rest = touch + chart_.body.radius * (1.0 - below.normal.z);
    if (rest - chord.position.z > height + 10.0 * skin) {
        return false;
    }
    chord.stepped = std::max(0.0, place.z - (chord.position.z + motion.z));
    chord.position = place;
    if (stopped) {
        chord.seconds *= fraction;
        stop_at(chord, ahead);
    }
    return true;
}

/// A step over as much of the motion as can be, else over a little more than up to the obstacle: over the side of a ramp a long
/// way ends higher than a step, and every part of it does not.
bool Traveller::gets_over(Chord& chord, const glm::dvec3& motion, Hit& hit) const {
    if (step_over(chord, motion, hit)) {
        return true;
    }
    const double part = hit.fraction + short_step / length_of(motion);
    Hit near = hit;
    near.fraction = hit.fraction / part;
    if (part >= 1.0 || !step_over(chord, motion * part, near)) {
        return false;
    }
    chord.seconds *= part;
    return true;
}

/// Whether it touches an edge that it moves away from at its own velocity; one that lies ahead is climbed.
bool Traveller::rolls_off(const Hit& hit, const glm::dvec3& own) const {
    return walkable(hit.face) && is_edge(hit) && inner(own, hit.normal) > 0.0;
}

/// A body that rolls over an edge leaves it where its speed across the edge carries it off: on a circle of the body's
/// radius it would need more than gravity to keep to the edge. From there on it clears the edge in free fall.
bool Traveller::clears_edge(const Hit& hit, const glm::dvec3& own) const {
    if (!rolls_off(hit, own)) {
        return false;
    }
    const glm::dvec3 across = across_edge(own, edge_line(hit.normal, hit.face));
    return inner(across, across) >= chart_.body.radius * chart_.edge_gravity * hit.normal.z;
}

/// Whether what it touches bears it at its own velocity along it: one rule for what it stands on and for what it comes to,
/// else it would land on an edge and leave it over and over. What it touches with its side bears nothing.
bool Traveller::bears(const Hit& hit, const glm::dvec3& position, const glm::dvec3& own) const {
    if (hit.normal.z < brushed) {
        return false;
    }
    if (clears_edge(hit, own)) {
        return (sticks(chart_.body, own) || is_seam(position, own)) && step_holds(position);
    }
    return carries_weight(hit, position);
}

bool Traveller::lands_on(const Hit& hit, const glm::dvec3& position, const glm::dvec3& velocity) const {
    if (!walkable(hit.face)) {
        return false;
    }
    const glm::dvec3 own = velocity - velocity_of(hit.surface);
    return bears(hit, position, own - hit.face * inner(own, hit.face));
}

/// What lies below. An upright face that the body brushes on its way down, as where it has just cleared an edge, bears
/// nothing: what does is asked for a little off it. The fraction is below 0 for who is nearer than the skin.
bool Traveller::looks_down(const glm::dvec3& position, const glm::dvec3& down, Hit& hit) const {
    if (!touches(body(), position, down, hit)) {
        return false;
    }
    if (std::fabs(hit.normal.z) < brushed) {
        const glm::dvec3 off = flattened(hit.normal) * (2.0 * skin);
        Hit beside;
        if (touches(body(), position + off, down, beside)) {
            hit = beside;
        }
    }
    hit.fraction = std::max(hit.fraction - part_kept_off(down, hit.normal), -2.0 * skin / length_of(down));
    return true;
}

/// Whether it stands on ground although something steep beside it is met first, `drop` below: looks inside of that, for ground
/// that the whole body would touch no more than `beside_reach` deeper. A thin body comes deeper on a slope than the whole one.
bool Traveller::stands_beside(const glm::dvec3& position, double drop, Hit& ground) const {
    const double radius = chart_.body.radius, thin = 0.6 * radius;
    const glm::dvec3 down(0.0, 0.0, -step_reach());
    Hit inside;
    if (!sweep({thin, body().height}, position, down, inside) || !walkable(inside.face)) {
        return false;
    }
    const double deeper = (radius - thin) * (1.0 / inside.face.z - 1.0);
    ground = inside;
    return -down.z * inside.fraction - deeper - drop < beside_reach;
}

/// Whether the edge that it moves off is a mere seam: the ground goes on beyond it, hardly lower.
bool Traveller::is_seam(const glm::dvec3& position, const glm::dvec3& own) const {
    const double thin = 0.2 * chart_.body.radius;
    const glm::dvec3 ahead = own * (2.0 * thin / length_of(own));
    const glm::dvec3 from = position + ahead + glm::dvec3(0.0, 0.0, seam_depth);
    Hit below;
    return sweep({thin, 2.0 * thin}, from, {0.0, 0.0, -2.0 * seam_depth}, below) && walkable(below.face);
}

/// Whether ground falls away from who is too fast to stick to it, at an edge or a crest: it flies on as it came.
bool Traveller::falls_away(const Hit& hit, const glm::dvec3& position, const glm::dvec3& own,
                           double drop) const {
    if (sticks(chart_.body, own)) {
        return false;
    }
    if (drop > seam_depth) {
        return true;
    }
    return inner(own, hit.normal) > (is_edge(hit) ? 0.0 : crest * length_of(own)) && !is_seam(position, own);
}

void Traveller::keep_to_ground(Chord& chord) const {
    // Motion follows the ground's gradient, so what is further below than a step is another place, whatever the chord.
    const glm::dvec3 down(0.0, 0.0, -step_reach());
    Hit hit;
    const bool found = looks_down(chord.position, down, hit);
    const double drop = found ? -down.z * hit.fraction : 0.0;
    if (found && !falls_away(hit, chord.position, chord.velocity, drop)) {
        const glm::dvec3 place = chord.position + down * hit.fraction;
        if (bears(hit, place, chord.velocity)) {
            if (is_edge(hit)) {
                chord.rest = hit.normal;
                chord.stepped += std::max(0.0, place.z - chord.position.z);
            }
            chord.position = place;
            stand_on(chord, hit);
            return;
        }
        if (rolls_off(hit, chord.velocity)) {
            chord.position = place;  // off the edge from where it touches it, wherever the chord began
            chord.edge = hit.normal;
            chord.edge_line = edge_line(hit.normal, hit.face);
        } else if (stands_beside(chord.position, drop, hit)) {
            chord.position = place;
            stand_on(chord, hit);
            return;
        }
    }
    chord.around.grounded = false;
    chord.changed = true;
}

void Traveller::fly(Chord& chord, glm::dvec3 motion) const {
    Hit hit;
    const bool met = meets(chord, motion, hit);
    if (skims(chord, motion, met ? hit.fraction : 1.0)) {
        return;
    }
    if (!met) {
        chord.position += motion;
        return;
    }
    chord.position += motion * hit.fraction;
    chord.seconds *= hit.fraction;
    // On a ramp, which falls are, what is between the ends is in proportion.
    chord.velocity = runner_.velocity + (chord.velocity - runner_.velocity) * hit.fraction;
    if (motion.z <= 0.0 && lands_on(hit, chord.position, chord.velocity)) {
        stand_on(chord, hit);
    } else {
        stop_at(chord, hit);
    }
}

/// A level burst that comes over ground at its own height has reached it, and is let down on it: left above, it would
/// pass over it in the air. It comes there where a body a little lower would touch it; what that body touches as the
/// chord begins it has left. Ground that falls away from its way it has left, however little it is above it, and ground that closes
/// in on it is met by the way itself.
bool Traveller::skims(Chord& chord, const glm::dvec3& motion, double most) const {
    const glm::dvec3 lower(0.0, 0.0, -skim_height),
        down = lower * 1.1;  // a touch exactly at a sweep's end may be missed
    Hit level, below;
    if (motion.z > 0.0 || !chart_.states[runner_.state].traits.keeps_level ||
        !touches(body(), chord.position + lower, motion, level) || level.fraction <= 0.0 ||
        level.fraction > most) {
        return false;
    }
    const glm::dvec3 place = chord.position + motion * level.fraction;
    if (!sweep(body(), place, down, below) || !lands_on(below, place, chord.velocity) ||
        std::fabs(inner(chord.velocity, below.face)) > crest * length_of(chord.velocity)) {
        return false;
    }
    chord.position = place + down * below.fraction;
    chord.seconds *= level.fraction;
    stand_on(chord, below);
    return true;
}

}  // namespace cursimeter::detail
