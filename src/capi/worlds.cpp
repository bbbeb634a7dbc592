#include "capi/worlds.hpp"

#include <cmath>
#include <cursimeter/chartfile/course_file.hpp>

namespace cursimeter::capi {
namespace {

cursimeter_sweep sweep_of(const Capsule& body, const glm::dvec3& from, const glm::dvec3& motion, double at) {
    cursimeter_sweep sweep{body.radius, body.height, {0, 0, 0}, {0, 0, 0}, at};
    put(from, sweep.from);
    put(motion, sweep.motion);
    return sweep;
}

Capsule capsule_of(const cursimeter_sweep& sweep) {
    return {sweep.radius, sweep.height};
}
bool is_finite(const double vector[3]) {
    return std::isfinite(vector[0]) && std::isfinite(vector[1]) && std::isfinite(vector[2]);
}
/// Whether a program's question can be asked.
bool is_sound(const cursimeter_sweep* sweep) {
    return sweep != nullptr && sweep->radius > 0.0 && sweep->height >= 2.0 * sweep->radius &&
           std::isfinite(sweep->height) && is_finite(sweep->from) && is_finite(sweep->motion) &&
           std::isfinite(sweep->at);
}

/// A terrain of the course that `read` returns.
template <class Read>
cursimeter_status made_of_course(const char* source, const char* source_name, const cursimeter_chart* chart,
                                 cursimeter_terrain** out, cursimeter_error* error, Read&& read) {
    if (out != nullptr) {
        *out = nullptr;
    }
    if (source == nullptr || chart == nullptr || out == nullptr) {
        return bad_argument(error, source == nullptr ? source_name : chart == nullptr ? "chart" : "out");
    }
    return guarded(error, [&] {
        *out = new cursimeter_terrain{nullptr, std::make_unique<CourseTerrain>(read(), chart->file.chart)};
        return CURSIMETER_OK;
    });
}

}  // namespace

bool CalledTerrain::sweep(const Sweep& sweep, Hit& hit) const noexcept {
    const cursimeter_sweep asked = sweep_of(sweep.body, sweep.from, sweep.motion, sweep.at);
    cursimeter_hit answer{1.0, {0, 0, 1}, {0, 0, 1}, 0};
    if (world_.sweep(world_.user, &asked, &answer) == 0) {
        return false;
    }
    hit = {answer.fraction, vector_of(answer.normal), vector_of(answer.face), answer.surface};
    return true;
}

bool CalledTerrain::overlap(const Capsule& body, const glm::dvec3& feet, double at,
                            Overlap& overlap) const noexcept {
    const cursimeter_sweep asked = sweep_of(body, feet, glm::dvec3(0.0), at);
    cursimeter_overlap answer{0.0, {0, 0, 1}};
    if (world_.overlap(world_.user, &asked, &answer) == 0) {
        return false;
    }
    overlap = {answer.depth, vector_of(answer.normal)};
    return true;
}

ZoneReading CalledTerrain::zones(const glm::dvec3& point, double at) const noexcept {
    cursimeter_zone_reading answer{0, 1.0, {0, 0, 0}, nullptr};
    if (world_.zones != nullptr) {
        const double place[3]{point.x, point.y, point.z};
        world_.zones(world_.user, place, at, &answer);
    }
    return zones_.take_in(answer);
}

bool CalledTerrain::moves(const glm::dvec3& low, const glm::dvec3& high) const noexcept {
    if (world_.moves == nullptr) {
        return false;
    }
    const double from[3]{low.x, low.y, low.z}, to[3]{high.x, high.y, high.z};
    return world_.moves(world_.user, from, to) != 0;
}

bool CalledTerrain::is_open(const glm::dvec3& low, const glm::dvec3& high, LevelFloor& floor) const noexcept {
    if (world_.is_open == nullptr) {
        return false;
    }
    const double from[3]{low.x, low.y, low.z}, to[3]{high.x, high.y, high.z};
    return world_.is_open(world_.user, from, to, &floor.height, &floor.surface) != 0;
}

glm::dvec3 CalledTerrain::surface_motion(std::uint32_t surface, double at, double seconds) const noexcept {
    double moved[3]{0.0, 0.0, 0.0};
    if (world_.surface_motion != nullptr) {
        world_.surface_motion(world_.user, surface, at, seconds, moved);
    }
    return vector_of(moved);
}

}  // namespace cursimeter::capi

using namespace cursimeter;

extern "C" {

cursimeter_status cursimeter_terrain_new(const cursimeter_world* world, cursimeter_terrain** out,
                                         cursimeter_error* error) {
    if (out != nullptr) {
        *out = nullptr;
    }
    cursimeter_world known = CURSIMETER_WORLD_INIT;
    if (out == nullptr || !capi::take_in(world, known) || known.sweep == nullptr ||
        known.overlap == nullptr || (known.moves == nullptr) != (known.surface_motion == nullptr)) {
        return capi::bad_argument(error, out == nullptr ? "out" : "world");
    }
    return capi::guarded(error, [&] {
        *out = new cursimeter_terrain{std::make_unique<capi::CalledTerrain>(known), nullptr};
        return CURSIMETER_OK;
    });
}

cursimeter_status cursimeter_terrain_load(const char* course_file, const cursimeter_chart* chart,
                                          cursimeter_terrain** out, cursimeter_error* error) {
    return capi::made_of_course(course_file, "course_file", chart, out, error,
                                [&] { return load_course(course_file); });
}
cursimeter_status cursimeter_terrain_parse(const char* text, size_t length, const char* name,
                                           const cursimeter_chart* chart, cursimeter_terrain** out,
                                           cursimeter_error* error) {
    return capi::made_of_course(text, "text", chart, out, error, [&] {
        return parse_course({text, length}, name == nullptr ? "" : name);
    });
}

cursimeter_status cursimeter_terrain_sweep(const cursimeter_terrain* terrain, const cursimeter_sweep* sweep,
                                           cursimeter_hit* out) {
    if (terrain == nullptr || !capi::is_sound(sweep) || out == nullptr) {
        return CURSIMETER_BAD_ARGUMENT;
    }
    Hit hit;
    if (!terrain->world().sweep({capi::capsule_of(*sweep), capi::vector_of(sweep->from),
                                 capi::vector_of(sweep->motion), sweep->at},
                                hit)) {
        return CURSIMETER_NO;
    }
    *out = {hit.fraction, {}, {}, hit.surface};
    capi::put(hit.normal, out->normal);
    capi::put(hit.face, out->face);
    return CURSIMETER_OK;
}
cursimeter_status cursimeter_terrain_overlap(const cursimeter_terrain* terrain, const cursimeter_sweep* body,
                                             cursimeter_overlap* out) {
    if (terrain == nullptr || !capi::is_sound(body) || out == nullptr) {
        return CURSIMETER_BAD_ARGUMENT;
    }
    Overlap overlap;
    if (!terrain->world().overlap(capi::capsule_of(*body), capi::vector_of(body->from), body->at, overlap)) {
        return CURSIMETER_NO;
    }
    *out = {overlap.depth, {}};
    capi::put(overlap.normal, out->normal);
    return CURSIMETER_OK;
}

cursimeter_status cursimeter_terrain_set_time(cursimeter_terrain* terrain, double seconds) {
    if (terrain == nullptr || !std::isfinite(seconds)) {
        return CURSIMETER_BAD_ARGUMENT;
    }
    if (terrain->course) {
        terrain->course->set_time(seconds);
    }
    return CURSIMETER_OK;
}

void cursimeter_terrain_free(cursimeter_terrain* terrain) {
    delete terrain;
}

}  // extern "C"
