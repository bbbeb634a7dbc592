#include <algorithm>
#include <cmath>

#include "core/contact/contact_limits.hpp"
#include "core/contact/intake.hpp"
#include "core/contact/normals.hpp"
#include "core/contact/surroundings.hpp"
#include "core/motion/aim.hpp"
#include "core/numbers/space.hpp"
#include "core/runner/timers.hpp"
#include "core/want/move_and_look.hpp"
#include "core/world/traveller.hpp"

/// What is around a runner at the end of a chord.
namespace cursimeter::detail {

/// Forgets barriers that are no longer there; lands on one that has become ground.
void Traveller::probe_barriers(Chord& chord) const {
    Surroundings& around = chord.around;
    std::uint8_t kept = 0;
    for (std::uint8_t i = 0; i < around.barrier_count; ++i) {
        const glm::dvec3 normal = met_barrier(around, i);
        Hit hit;
        const bool there = sweep(body(), chord.position, normal * -lean_reach, hit);
        if (there && !around.grounded && runner_.velocity.z <= 0.0 &&
            lands_on(hit, chord.position, chord.velocity)) {
            stand_on(chord, hit);
        } else if (there) {
            around.barriers[kept++] = around.barriers[i];
            continue;
        }
        chord.changed = true;
        around.cornered = false;
    }
    around.barrier_count = kept;
}

void Traveller::probe_wall(Chord& chord) const {
    const CompiledState& state = chart_.states[runner_.state];
    Surroundings& around = chord.around;
    if (chart_.wall_reach <= 0.0) {
        return;
    }
    const bool was = around.by_wall;
    const std::uint32_t surface = around.beside;
    const glm::dvec3 normal(around.wall_normal);
    around.by_wall = false;
    bool on_edge = false;
    if (!around.grounded) {
        const bool running = state.traits.follows_wall && was;
        const double reach = (running ? state.wall.reach : chart_.wall_reach) + skin;
        glm::dvec3 aside =
            running ? flattened(normal) * -1.0 : glm::dvec3(-runner_.velocity.y, runner_.velocity.x, 0.0);
        const double size = length_of(aside);
        aside = size > 0.01 ? aside * (1.0 / size) : glm::dvec3(right_of(runner_), 0.0);
        double nearest = 2.0;
        for (const double side : {1.0, -1.0}) {
            Hit hit;
            if ((running && side < 0.0) || !sweep(body(), chord.position, aside * (side * reach), hit) ||
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
            around.wall_normal = glm::vec3(flattened(hit.normal));
        }
        if (running && chord.blocked && std::fabs(chord.normal.z) < wall_upright &&
            inner(chord.normal, normal) < 0.9) {
            around.by_wall = false;  // it ran into a corner
        }
    }
    if (!around.by_wall) {
        around.wall_normal = glm::vec3(0.0F);
        around.beside = 0;
    }
    const double turn = length_of(glm::dvec3(around.wall_normal) - normal);
    const bool same_wall = was && around.by_wall && (turn < wall_turn || on_edge);
    if (same_wall) {
        around.wall_normal = glm::vec3(normal);  // round an edge the normal turns all the time
    }
    chord.changed =
        chord.changed || around.by_wall != was || around.beside != surface || (around.by_wall && !same_wall);
}

void Traveller::probe_headroom(Chord& chord) const {
    bool room = true;
    if (chart_.states[runner_.state].low) {
        Overlap overlap;
        const Capsule full{chart_.body.radius, chart_.body.height};
        const bool inside =
            world_.overlap(full, chord.position + glm::dvec3(0.0, 0.0, skin), chord_end_, overlap);
        // Room that there is does not go before more than the skin is missing: the body rises and sinks within it.
        room = !inside || (chord.around.headroom && overlap.depth < skin);
    }
    chord.changed = chord.changed || room != chord.around.headroom;
    chord.around.headroom = room;
}

void Traveller::probe_zones(Chord& chord) const {
    if (ticks(runner_, timer::dwell)) {
        return;
    }
    const glm::dvec3 middle = chord.position + glm::dvec3(0.0, 0.0, 0.5 * body().height);
    const ZoneReading reading = world_.zones(middle, chord_end_);
    Surroundings& around = chord.around;
    const Surroundings before = around;
    const Push* push = take_zones(around, reading);
    chord.push = push != nullptr ? push : chord.push;
    chord.changed = chord.changed || around.zones != before.zones || around.pace != before.pace ||
                    around.wind != before.wind;
}

}  // namespace cursimeter::detail
