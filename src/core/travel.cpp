#include "core/travel.hpp"

#include <algorithm>
#include <cmath>

#include "core/aim.hpp"
#include "core/entry.hpp"
#include "core/leg.hpp"
#include "core/pushes.hpp"
#include "core/surroundings.hpp"

/// A leg says where the runner wants to be; here it meets the world.
///
/// The tick's time is walked in strides. A stride is short enough that the straight line between its ends
/// is the leg's path to a fraction of a millimetre, so one sweep tells what is in the way, and long enough
/// that most ticks hold one. When the world around changes within a stride (the ground's face, a wall at
/// hand, a zone, the headroom, the loss of the ground), the moment is found by halving; a blow is found by
/// the sweep itself. Height on the ground follows from the place alone: after each stride the body is let
/// down onto what is below. So neither steps nor slopes depend on how time is cut.
namespace cursimeter::detail {
namespace {

/// The body keeps this far from everything, m: sweeps then never begin in a touch.
constexpr double skin = 1e-4;
/// Deviation of a stride's chord from the leg's path, m.
constexpr double chord_error = 1e-4;
/// A change is placed in time to this, s.
constexpr double moment_width = 1e-5;
/// How far behind a barrier may be and still be leant against, m.
constexpr double lean_reach = 0.01;
/// Ground this much deeper than a steep thing beside the body still carries it, m.
constexpr double beside_reach = 0.003;
/// A level burst is on ground that is no more than this below it, m.
constexpr double skim_height = 0.005;
/// A change of the ground's gradient that is worth a new leg.
constexpr double gradient_step = 1e-3;
/// A touch whose direction is this far off a face's normal (1 - cosine) is one of an edge.
constexpr double edge_turn = 1e-6;
constexpr double least_step = 1e-3;  ///< m; what rises less is the world's own rounding
/// Walls are this upright: their normal's vertical part is at most this.
constexpr double wall_upright = 0.35;
/// Where the body touches a wall's edge, its direction may be this far off the wall's face (cosine): 8
/// degrees. So a curved wall of many faces is one wall, and a corner is the end of it.
constexpr double wall_edge = 0.99;
/// A wall's normal counts as another when it has turned by this, rad.
constexpr double wall_turn = 0.05;
/// Strides of one call; past that they grow longer. Sweeps stay safe at any length.
constexpr int most_strides = 256;
/// A zone's push acts for this long at least, s, and pushes nobody on whom a push still acts: at its border
/// it could otherwise push without end.
constexpr double zone_dwell =
    0.01;  ///< s; a zone that was entered or left is not left or entered again sooner
constexpr double least_gust = 0.05;
constexpr int most_attempts = 8;                // to get out of solids
constexpr double crush_depth = 1e-3;            ///< m
constexpr double ground_time = 1e-4;            ///< s over which the velocity of moving ground is taken
constexpr double longest_moving_stride = 0.01;  ///< s, where the world moves

bool is_unit(const glm::dvec3& normal) {
    const double squared = inner(normal, normal);
    return squared > 0.98 && squared < 1.02;
}

glm::dvec2 gradient_of(const glm::dvec3& face) {
    return {-face.x / face.z, -face.y / face.z};
}

glm::dvec3 level(const glm::dvec3& normal) {
    const double size = std::sqrt(normal.x * normal.x + normal.y * normal.y);
    return size > 1e-6 ? glm::dvec3(normal.x / size, normal.y / size, 0.0) : normal;
}

}  // namespace

Capsule Traveller::body() const {
    const CompiledBody& body = chart_.body;
    return {body.radius, chart_.states[runner_.state].low ? body.low_height : body.height};
}

bool Traveller::walkable(const glm::dvec3& normal) const {
    return normal.z >= chart_.body.limit_cosine - 1e-9;
}

/// The world's answer, checked, with the skin taken off.
bool Traveller::sweep(const Capsule& body, const glm::dvec3& from, const glm::dvec3& motion, Hit& hit) const {
    const double length = length_of(motion);
    if (length <= 0.0 || !terrain_.sweep({body, from, motion, stride_end_}, hit)) {
        return false;
    }
    if (!is_unit(hit.normal) || !(hit.fraction >= 0.0 && hit.fraction <= 1.0)) {
        return false;
    }
    hit.face = is_unit(hit.face) ? hit.face : hit.normal;
    const double closing = -inner(motion, hit.normal);
    hit.fraction = closing > 0.0
                       ? std::max(0.0, hit.fraction - std::min(skin / closing, skin / (0.01 * length)))
                       : hit.fraction;
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
    const double thin = 0.2 * chart_.body.radius;
    Hit below;
    return sweep({thin, 2.0 * thin}, position + glm::dvec3(0.0, 0.0, skin),
                 {0.0, 0.0, -chart_.body.step_height - 3.0 * skin}, below) &&
           walkable(below.face);
}

double Traveller::longest_stride(double seconds) const {
    const double bend = length_of(acceleration_now(chart_, runner_));
    double longest = bend > 0.0 ? std::sqrt(8.0 * chord_error / bend) : seconds;
    const double speed = runner_.speed + length_of(carrying_velocity(chart_, runner_));
    const double reach = chart_.body.radius * (runner_.around.grounded ? 0.5 : 1.0);
    // On a ramp the speed at the stride's end counts as well.
    longest = std::min(longest, reach / std::max(speed + bend * std::min(longest, seconds), 1e-3));
    if (terrain_.moves()) {
        longest = std::min(longest, longest_moving_stride);
    }
    longest = std::max(longest, seconds / std::max(1, most_strides - strides_));
    return std::min(longest, seconds);
}

void Traveller::block(Stride& stride, const Hit& hit) const {
    stride.blocked = true;
    stride.changed = true;
    // What is too steep to walk on is a wall to someone who stands on the ground.
    stride.normal = stride.around.grounded && hit.normal.z > 0.0 ? level(hit.normal) : hit.normal;
}

/// Whether it touches ground, not at an edge, whose gradient is another than that underfoot.
bool Traveller::lies_on_other_ground(const Hit& hit) const {
    const glm::dvec2 turn = gradient_of(hit.face) - glm::dvec2(runner_.around.gradient);
    return walkable(hit.face) && inner(hit.normal, hit.face) >= 1.0 - edge_turn &&
           length_of(turn) > gradient_step;
}

void Traveller::stand_on(Stride& stride, const Hit& hit) const {
    // On an edge the body touches at an angle between two faces, and either could be told: it keeps to the
    // one it came from until it lies on the other.
    if (lies_on_other_ground(hit) || !runner_.around.grounded) {
        stride.around.gradient = glm::vec2(gradient_of(hit.face));
        stride.changed = true;
    }
    stride.around.grounded = true;
    stride.around.ground = hit.surface;
}

void Traveller::walk(Stride& stride, const glm::dvec3& motion) const {
    Hit hit;
    if (!sweep(body(), stride.position, motion, hit)) {
        stride.position += motion;
    } else if (lies_on_other_ground(hit)) {
        stride.position += motion * hit.fraction;
        stride.seconds *= hit.fraction;
        stand_on(stride, hit);
        return;
    } else if (!step_over(stride, motion, hit)) {
        stride.position += motion * hit.fraction;
        stride.seconds *= hit.fraction;
        block(stride, hit);
    }
    keep_to_ground(stride, motion);
}

/// Up, forward and down again. Returns false if that leads no further than the obstacle.
bool Traveller::step_over(Stride& stride, const glm::dvec3& motion, const Hit& hit) const {
    const glm::dvec3 forward(motion.x, motion.y, 0.0);
    const double height = chart_.body.step_height;
    Hit ceiling, ahead, below;
    const glm::dvec3 up(0.0, 0.0, height);
    const double lift = sweep(body(), stride.position, up, ceiling) ? height * ceiling.fraction : height;
    if (lift <= skin || is_zero(forward)) {
        return false;
    }
    glm::dvec3 place = stride.position + glm::dvec3(0.0, 0.0, lift);
    const bool stopped = sweep(body(), place, forward, ahead);
    const double fraction = stopped ? ahead.fraction : 1.0;
    if ((fraction - hit.fraction) * length_of(forward) <= 1e-6) {
        return false;
    }
    place += forward * fraction;
    const glm::dvec3 down(0.0, 0.0, -lift - height);
    if (!sweep(body(), place, down, below) || !walkable(below.face)) {
        return false;
    }
    place += down * below.fraction;
    // The height of the step is that of the point it comes to rest on: the round underside begins to roll
    // over edges that are higher than the body rises at first.
    const double rest = place.z + chart_.body.radius * (1.0 - below.normal.z);
    if (rest - stride.position.z > height + 10.0 * skin) {
        return false;
    }
    stride.stepped = std::max(0.0, place.z - stride.position.z - std::max(0.0, motion.z));
    stride.position = place;
    if (stopped) {
        stride.seconds *= fraction;
        block(stride, ahead);
    }
    return true;
}

void Traveller::keep_to_ground(Stride& stride, const glm::dvec3& motion) const {
    const double level_motion = std::sqrt(motion.x * motion.x + motion.y * motion.y);
    const double steepest = chart_.body.limit_sine / chart_.body.limit_cosine;
    const glm::dvec3 down(0.0, 0.0, -chart_.body.step_height - level_motion * steepest - skin);
    Hit hit;
    if (sweep(body(), stride.position, down, hit)) {
        const double drop = -down.z * hit.fraction;
        const bool falls_away = drop > 10.0 * skin && runner_.speed > chart_.body.stick_speed;
        const glm::dvec3 place = stride.position + down * hit.fraction;
        if (!falls_away && carries_weight(hit, place)) {
            stride.position = place;
            if (hit.fraction == 0.0) {  // keep the skin between
                stride.position.z += 0.5 * skin;
            }
            stand_on(stride, hit);
            return;
        }
        // Something steep beside it may be met first although it stands on the ground: look inside of it.
        const Capsule narrow{0.6 * chart_.body.radius, body().height};
        Hit inside;
        if (!falls_away && sweep(narrow, stride.position, down, inside) && walkable(inside.face) &&
            -down.z * inside.fraction - drop < beside_reach) {
            stride.position = place;
            stand_on(stride, inside);
            return;
        }
    }
    stride.around.grounded = false;
    stride.changed = true;
}

void Traveller::fly(Stride& stride, const glm::dvec3& motion) const {
    Hit hit;
    if (!sweep(body(), stride.position, motion, hit)) {
        stride.position += motion;
        skim(stride, motion);
        return;
    }
    stride.position += motion * hit.fraction;
    stride.seconds *= hit.fraction;
    if (motion.z <= 0.0 && carries_weight(hit, stride.position)) {
        stand_on(stride, hit);
    } else {
        block(stride, hit);
    }
}

/// A level burst that comes over ground at its own height has reached it.
void Traveller::skim(Stride& stride, const glm::dvec3& motion) const {
    Hit below;
    if (motion.z <= 0.0 && chart_.states[runner_.state].kind == StateKind::burst &&
        sweep(body(), stride.position, {0.0, 0.0, -skim_height}, below) &&
        carries_weight(below, stride.position)) {
        stand_on(stride, below);
    }
}

/// Forgets barriers that are no longer there; lands on one that has become ground.
void Traveller::probe_barriers(Stride& stride) const {
    Surroundings& around = stride.around;
    std::uint8_t kept = 0;
    for (std::uint8_t i = 0; i < around.barrier_count; ++i) {
        const glm::dvec3 normal(around.barriers[i]);
        Hit hit;
        const bool there = sweep(body(), stride.position, normal * -lean_reach, hit);
        if (there && !around.grounded && runner_.velocity.z <= 0.0 && carries_weight(hit, stride.position)) {
            stand_on(stride, hit);
        } else if (there) {
            around.barriers[kept++] = around.barriers[i];
            continue;
        }
        stride.changed = true;
        around.cornered = false;
    }
    around.barrier_count = kept;
}

void Traveller::probe_wall(Stride& stride) const {
    const CompiledState& state = chart_.states[runner_.state];
    Surroundings& around = stride.around;
    if (chart_.wall_reach <= 0.0 || state.kind == StateKind::burst) {
        return;
    }
    const bool was = around.by_wall;
    const std::uint32_t surface = around.beside;
    const glm::dvec3 bearing(around.bearing);
    around.by_wall = false;
    bool on_edge = false;
    if (!around.grounded) {
        const bool running = state.kind == StateKind::wall && was;
        const double reach = (running ? state.wall.reach : chart_.wall_reach) + skin;
        glm::dvec3 aside =
            running ? level(bearing) * -1.0 : glm::dvec3(-runner_.velocity.y, runner_.velocity.x, 0.0);
        const double size = length_of(aside);
        aside = size > 0.01 ? aside * (1.0 / size) : glm::dvec3(right_of(runner_), 0.0);
        double nearest = 2.0;
        for (const double side : {1.0, -1.0}) {
            Hit hit;
            if ((running && side < 0.0) || !sweep(body(), stride.position, aside * (side * reach), hit) ||
                std::fabs(hit.normal.z) > wall_upright || hit.fraction >= nearest) {
                continue;
            }
            const double on_face = inner(hit.normal, hit.face);
            if (on_face < wall_edge) {
                continue;  // the wall ends here
            }
            nearest = hit.fraction;
            on_edge = on_face < 1.0 - edge_turn;
            around.by_wall = true;
            around.beside = hit.surface;
            around.bearing = glm::vec3(level(hit.normal));
        }
        if (running && stride.blocked && std::fabs(stride.normal.z) < wall_upright &&
            inner(stride.normal, bearing) < 0.9) {
            around.by_wall = false;  // it ran into a corner
        }
    }
    if (!around.by_wall) {
        around.bearing = glm::vec3(0.0F);
        around.beside = 0;
    }
    const double turn = length_of(glm::dvec3(around.bearing) - bearing);
    const bool same_wall = was && around.by_wall && (turn < wall_turn || on_edge);
    if (same_wall) {
        around.bearing = glm::vec3(bearing);  // round an edge the normal turns all the time
    }
    stride.changed =
        stride.changed || around.by_wall != was || around.beside != surface || (around.by_wall && !same_wall);
}

void Traveller::probe_headroom(Stride& stride) const {
    bool room = true;
    if (chart_.states[runner_.state].low) {
        Overlap overlap;
        const Capsule full{chart_.body.radius, chart_.body.height};
        room = !terrain_.overlap(full, stride.position + glm::dvec3(0.0, 0.0, skin), stride_end_, overlap);
    }
    stride.changed = stride.changed || room != stride.around.headroom;
    stride.around.headroom = room;
}

void Traveller::probe_zones(Stride& stride) const {
    if (ticks(runner_, timer::dwell)) {
        return;
    }
    const glm::dvec3 middle = stride.position + glm::dvec3(0.0, 0.0, 0.5 * body().height);
    const ZoneReading reading = terrain_.zones(middle, stride_end_);
    Surroundings& around = stride.around;
    const float pace = reading.pace >= 0.0 && reading.pace <= 10.0 ? static_cast<float>(reading.pace) : 1.0F;
    const bool blows = length_of(reading.wind) <= 1e4;
    const glm::vec3 wind = blows ? glm::vec3(reading.wind) : glm::vec3(0.0F);
    if ((reading.zones & ~around.zones) != 0) {
        stride.push = reading.push;
    }
    stride.changed =
        stride.changed || reading.zones != around.zones || pace != around.pace || wind != around.wind;
    around.zones = reading.zones;
    around.pace = pace;
    around.wind = wind;
}

Traveller::Stride Traveller::stride(double seconds) const {
    Stride stride;
    stride.position = runner_.position;
    stride.around = runner_.around;
    stride.seconds = seconds;
    glm::dvec3 motion = displacement_after(chart_, runner_, seconds);
    if (runner_.carried) {
        motion += carried_by(chart_, runner_, seconds);
    }
    if (stride.around.grounded) {
        if (stride.around.ground != 0 && terrain_.moves()) {
            motion += terrain_.surface_motion(stride.around.ground, time(), seconds);
        }
        walk(stride, without_barred(stride.around, motion));
    } else {
        fly(stride, without_barred(stride.around, motion));
    }
    probe_barriers(stride);
    probe_wall(stride);
    probe_headroom(stride);
    probe_zones(stride);
    return stride;
}

void Traveller::feel_ground() {
    instant_.ground_velocity = {0.0, 0.0, 0.0};
    if (runner_.around.grounded && runner_.around.ground != 0 && terrain_.moves()) {
        const glm::dvec3 moved = terrain_.surface_motion(runner_.around.ground, time(), ground_time);
        instant_.ground_velocity = length_of(moved) < 1.0 ? moved * (1.0 / ground_time) : moved * 0.0;
    }
}

double Traveller::pass(double seconds) {
    double passed = 0.0;
    feel_ground();
    if (runner_.around.crushed) {
        const glm::dvec3 held = runner_.position;
        glide(chart_, runner_, seconds);
        runner_.position = held;
        make_room();
        return seconds;
    }
    while (passed < seconds) {
        const double length = longest_stride(seconds - passed);
        ++strides_;
        stride_end_ = time() + length;
        Stride next = stride(length);
        if (next.changed && !next.blocked) {
            double low = 0.0, high = next.seconds;
            while (high - low > moment_width) {
                const double middle = 0.5 * (low + high);
                Stride half = stride(middle);
                if (half.changed) {
                    high = std::min(middle, half.seconds);
                    next = half;
                } else {
                    low = middle;
                }
            }
        }
        take(next);
        passed += next.seconds;
        if (next.changed || next.seconds <= 0.0) {
            return passed;
        }
    }
    return seconds;
}

void Traveller::take(const Stride& stride) {
    const Surroundings before = runner_.around;
    glide(chart_, runner_, stride.seconds);
    runner_.position = stride.position;
    runner_.around = stride.around;
    instant_.at = time();
    if (stride.stepped > least_step && chart_.states[runner_.state].kind == StateKind::slide) {
        // Nobody's legs lift a slide over a step: it pays with its speed.
        const double left = runner_.speed * runner_.speed - 2.0 * chart_.body.gravity * stride.stepped;
        const double factor = left > 0.0 ? std::sqrt(left) / runner_.speed : 0.0;
        set_velocity(runner_, runner_.velocity * factor);
        instant_.turned = true;
        instant_.facts_changed = true;
    }
    if (terrain_.moves()) {
        make_room();
        if (stride.around.grounded) {
            feel_ground();
        }
    }
    if (!stride.changed) {
        return;
    }
    instant_.facts_changed = true;
    instant_.wanted_changed = true;
    if (before.grounded && !stride.around.grounded) {
        leave_ground(instant_);
        set_velocity(runner_, runner_.velocity + instant_.ground_velocity);
    } else if (!before.grounded && stride.around.grounded) {
        runner_.around.grounded = false;
        touch_down(instant_);
    } else if (stride.around.grounded) {
        follow_ground(runner_);
    }
    if (stride.blocked) {
        const double blow = -inner(runner_.velocity, stride.normal);
        add_barrier(runner_.around, stride.normal);
        stop_against(runner_, stride.normal);
        set_velocity(runner_, without_barred(runner_.around, runner_.velocity));
        stop_pushes_against(runner_, stride.normal);
        if (blow > 0.1) {
            instant_.emit(EventKind::bumped, runner_.state, blow);
        }
    }
    if (chart_.states[runner_.state].kind == StateKind::wall && runner_.around.by_wall) {
        const glm::dvec3 normal(runner_.around.bearing);
        const double into = inner(runner_.velocity, normal);
        set_velocity(runner_, runner_.velocity - normal * into);
    }
    if (stride.around.zones != before.zones || stride.around.wind != before.wind) {
        start_timer(runner_, timer::dwell, zone_dwell);
    }
    if (stride.push != nullptr && !is_pushed(runner_)) {
        Push push = *stride.push;
        push.seconds = std::max(push.seconds, least_gust);
        apply_push(runner_, push);
    }
}

void Traveller::arrive() {
    if (runner_.around.grounded && runner_.around.ground == 0 && terrain_.moves()) {
        Stride here;  // what it stands on is not known yet
        here.position = runner_.position;
        here.around = runner_.around;
        keep_to_ground(here, {0.0, 0.0, 0.0});
        runner_.around.ground = here.around.ground;
        feel_ground();
    }
    make_room();
}

void Traveller::make_room() {
    const glm::dvec3 before = runner_.position;
    Overlap overlap;
    for (int attempt = 0; attempt < most_attempts; ++attempt) {
        if (!terrain_.overlap(body(), runner_.position, time(), overlap) || !is_unit(overlap.normal) ||
            !(overlap.depth > 0.0 && overlap.depth < 1e3)) {
            runner_.around.crushed = false;
            return;
        }
        if (overlap.depth > chart_.body.radius) {
            break;  // so deep that the shortest way out may lead through to the other side
        }
        runner_.position += overlap.normal * (overlap.depth + skin);
        if (inner(runner_.velocity, overlap.normal) < 0.0) {
            stop_against(runner_, overlap.normal);
            instant_.turned = true;
            instant_.facts_changed = true;
        }
        stop_pushes_against(runner_, overlap.normal);
    }
    if (terrain_.overlap(body(), runner_.position, time(), overlap) && overlap.depth > crush_depth) {
        runner_.position = before;
        if (!runner_.around.crushed) {
            instant_.emit(EventKind::crushed, runner_.state, overlap.depth);
        }
        runner_.around.crushed = true;
    }
}

}  // namespace cursimeter::detail
