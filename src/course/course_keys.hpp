#pragma once

#include <cursimeter/course/course_spec.hpp>

#include "core/chart/key.hpp"

/// Every key of a course file.
namespace cursimeter::keys {

constexpr Key point_key(std::string_view name, std::string_view fallback, std::string_view meaning) {
    return {.name = name, .unit = "m", .fallback = fallback, .meaning = meaning, .least = -1e6, .most = 1e6};
}
constexpr Key thickness_key(std::string_view name, std::string_view fallback, std::string_view meaning) {
    return length_key(name, fallback, meaning, 0.001, 1e5);
}

template <class Visitor, class Spec>
void describe_box(Visitor& visitor, Spec& box) {
    visitor.vector3(point_key("from", "required", "a corner"), box.from);
    visitor.vector3(point_key("to", "required", "the opposite corner"), box.to);
    visitor.angle(angle_key("yaw", "0", "turned about the upright line through its middle", -3600.0, 3600.0),
                  box.yaw);
}

template <class Visitor, class Spec>
void describe_ramp(Visitor& visitor, Spec& ramp) {
    visitor.vector3(point_key("from", "required", "one end of the upper side's middle line"), ramp.from);
    visitor.vector3(point_key("to", "required", "the other end"), ramp.to);
    visitor.number(thickness_key("width", "required", "across"), ramp.width);
    visitor.number(thickness_key("thickness", "0.5", "below the upper side"), ramp.thickness);
}

template <class Visitor, class Spec>
void describe_course_wall(Visitor& visitor, Spec& wall) {
    visitor.vector3(point_key("from", "required", "one end of its foot"), wall.from);
    visitor.vector3(point_key("to", "required", "the other end"), wall.to);
    visitor.number(thickness_key("height", "required", "above the lower end"), wall.height);
    visitor.number(thickness_key("thickness", "0.3", "half of it on either side of the foot"),
                   wall.thickness);
}

template <class Visitor, class Spec>
void describe_ceiling(Visitor& visitor, Spec& ceiling) {
    visitor.vector3(point_key("from", "required", "a corner; the underside is at the lower z of the two"),
                    ceiling.from);
    visitor.vector3(point_key("to", "required", "the opposite corner"), ceiling.to);
    visitor.number(thickness_key("thickness", "0.3", "above the underside"), ceiling.thickness);
}

template <class Visitor, class Spec>
void describe_platform(Visitor& visitor, Spec& platform) {
    visitor.vector3({.name = "size",
                     .unit = "m",
                     .fallback = "required",
                     .meaning = "along x, y and z",
                     .least = 0.0,
                     .most = 1e5},
                    platform.size);
    visitor.points(
        point_key("path", "required",
                  "two points or more through which the middle of its upper side moves, to and fro"),
        platform.path);
    visitor.number({.name = "speed",
                    .unit = "m/s",
                    .fallback = "required",
                    .meaning = "along the path",
                    .least = 0.001,
                    .most = 100.0},
                   platform.speed);
    visitor.number(wait_key("pause", "0", "at either end", 3600.0), platform.pause);
}

template <class Visitor, class Spec>
void describe_gust(Visitor& visitor, Spec& gust) {
    visitor.vector3({.name = "direction",
                     .fallback = "[1, 0, 0]",
                     .meaning = "where it pushes; only its heading counts",
                     .least = -1e6,
                     .most = 1e6},
                    gust.direction);
    visitor.number({.name = "strength",
                    .unit = "m/s",
                    .fallback = "required",
                    .meaning = "speed at the start",
                    .least = 0.0,
                    .most = 1e4},
                   gust.strength);
    visitor.number({.name = "lift",
                    .fallback = "0",
                    .meaning = "part of the strength that goes upward",
                    .least = 0.0,
                    .most = 1.0},
                   gust.lift);
    visitor.number(wait_key("seconds", "0",
                            "in which it fades evenly; 0: it goes into the runner's own velocity", 300.0),
                   gust.seconds);
    visitor.truth(plain_key("locks", "false", "whether moves are ignored until it has faded"), gust.locks);
    visitor.truth(plain_key("replaces", "false", "whether it ends other pushes and stops the runner first"),
                  gust.replaces);
}

template <class Visitor, class Spec>
void describe_zone(Visitor& visitor, Spec& zone) {
    visitor.text(plain_key("kind", "required", "what charts call it: \"in mud\""), zone.kind);
    visitor.vector3(point_key("from", "required", "a corner"), zone.from);
    visitor.vector3(point_key("to", "required", "the opposite corner"), zone.to);
    visitor.number({.name = "pace",
                    .fallback = "1",
                    .meaning = "factor of speed targets inside",
                    .least = 0.0,
                    .most = 10.0},
                   zone.pace);
    visitor.vector3({.name = "wind",
                     .unit = "m/s",
                     .fallback = "[0, 0, 0]",
                     .meaning = "carries states by their `wind`",
                     .least = -1000.0,
                     .most = 1000.0},
                    zone.wind);
    visitor.number(
        length_key("fade", "0", "how far inside the borders the wind is full; it rises in 16 steps", 0.0,
                   1000.0),
        zone.fade);
    visitor.table(plain_key("push", "none", "a push, once on entry"), zone.push,
                  [](auto& v, auto& s) { describe_gust(v, s); });
}

template <class Visitor, class Spec>
void describe_gate(Visitor& visitor, Spec& gate) {
    visitor.vector3(point_key("from", "required", "one end of the gate's foot; it is 6 m high"), gate.from);
    visitor.vector3(point_key("to", "required", "the other end"), gate.to);
}

template <class Visitor, class Spec>
void describe_leg(Visitor& visitor, Spec& leg) {
    visitor.text(plain_key("name", "required", "what it is called in results"), leg.name);
    visitor.table(plain_key("start", "required", "the gate where its time begins"), leg.start,
                  [](auto& v, auto& s) { describe_gate(v, s); });
    visitor.table(plain_key("finish", "required", "the gate where its time ends"), leg.finish,
                  [](auto& v, auto& s) { describe_gate(v, s); });
}

template <class Visitor, class Spec>
void describe_course(Visitor& visitor, Spec& course) {
    visitor.text(plain_key("name", "required", "name of the course"), course.name);
    visitor.list(plain_key("box", "none", "boxes"), course.boxes,
                 [](auto& v, auto& s) { describe_box(v, s); });
    visitor.list(plain_key("ramp", "none", "slabs with a sloping upper side"), course.ramps,
                 [](auto& v, auto& s) { describe_ramp(v, s); });
    visitor.list(plain_key("wall", "none", "upright slabs"), course.walls,
                 [](auto& v, auto& s) { describe_course_wall(v, s); });
    visitor.list(plain_key("ceiling", "none", "flat slabs overhead"), course.ceilings,
                 [](auto& v, auto& s) { describe_ceiling(v, s); });
    visitor.list(plain_key("platform", "none", "boxes that move to and fro"), course.platforms,
                 [](auto& v, auto& s) { describe_platform(v, s); });
    visitor.list(plain_key("zone", "none", "boxes of air in which things are different"), course.zones,
                 [](auto& v, auto& s) { describe_zone(v, s); });
    visitor.list(plain_key("leg", "none", "stretches that are timed"), course.legs,
                 [](auto& v, auto& s) { describe_leg(v, s); });
}

}  // namespace cursimeter::keys
