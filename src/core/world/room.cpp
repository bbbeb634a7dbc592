#include "core/contact/contact_limits.hpp"
#include "core/contact/normals.hpp"
#include "core/contact/pushes.hpp"
#include "core/contact/surroundings.hpp"
#include "core/motion/segment.hpp"
#include "core/numbers/space.hpp"
#include "core/world/traveller.hpp"

/// Room for the body: getting it out of what has come to where it is, or holding it where there is none.
namespace cursimeter::detail {

void Traveller::arrive() {
    stood_ = runner_.around.grounded;
    if (runner_.around.grounded && runner_.around.ground == 0 && world_.moves()) {
        Chord here;  // what it stands on is not known yet
        here.position = runner_.position;
        here.around = runner_.around;
        keep_to_ground(here);
        runner_.around.ground = here.around.ground;
        feel_ground();
    }
    make_room();
}

/// Who is crushed has no velocity, whatever it was or a state has given it: none gathers, no way is counted.
void Traveller::stand_still() {
    if (!is_zero(runner_.velocity) || runner_.segment != SegmentKind::steady) {
        set_velocity(runner_, {0.0, 0.0, 0.0});
        keep_velocity(runner_);
        instant_.dirty.note(Changed::way);
    }
}

void Traveller::make_room() {
    const glm::dvec3 before = runner_.position;
    Overlap overlap;
    for (int attempt = 0; attempt < most_attempts; ++attempt) {
        if (!world_.overlap(body(), runner_.position, time(), overlap) || !is_unit(overlap.normal) ||
            !(overlap.depth > 0.0 && overlap.depth < 1e3)) {
            if (runner_.around.crushed) {
                runner_.around.crushed = false;
                instant_.dirty.note(Changed::way);
            }
            return;
        }
        if (overlap.depth > chart_.body.radius) {
            break;  // so deep that the shortest way out may lead through to the other side
        }
        runner_.position += overlap.normal * (overlap.depth + skin);
        if (inner(runner_.velocity, overlap.normal) < 0.0) {
            stop_against(runner_, overlap.normal);
            instant_.dirty.note(Changed::way);
        }
        stop_pushes_against(runner_, overlap.normal);
    }
    if (world_.overlap(body(), runner_.position, time(), overlap) && overlap.depth > crush_depth) {
        runner_.position = before;
        if (!runner_.around.crushed) {
            instant_.emit(EventKind::crushed, runner_.state, overlap.depth);
        }
        runner_.around.crushed = true;
        stand_still();
    }
}

}  // namespace cursimeter::detail
