#include "course/course_keys.hpp"

namespace cursimeter::keys {
namespace {

constexpr Key point_key(std::string_view name, std::string_view fallback, std::string_view meaning) {
    return {.name = name, .unit = "m", .fallback = fallback, .meaning = meaning, .least = -1e6, .most = 1e6};
}
constexpr Key thickness_key(std::string_view name, std::string_view fallback, std::string_view meaning) {
    return length_key(name, fallback, meaning, 0.001, 1e5);
}

constexpr Keys box_keys{
    row<&BoxSpec::from>(point_key("from", "required", "a corner")),
    row<&BoxSpec::to>(point_key("to", "required", "the opposite corner")),
    row<&BoxSpec::yaw>(
        angle_key("yaw", "0", "turned about the upright line through its middle", -3600.0, 3600.0))};

constexpr Keys ramp_keys{
    row<&RampSpec::from>(point_key("from", "required", "one end of the upper side's middle line")),
    row<&RampSpec::to>(point_key("to", "required", "the other end")),
    row<&RampSpec::width>(thickness_key("width", "required", "across")),
    row<&RampSpec::thickness>(thickness_key("thickness", "0.5", "below the upper side"))};

constexpr Keys course_wall_keys{
    row<&CourseWallSpec::from>(point_key("from", "required", "one end of its foot")),
    row<&CourseWallSpec::to>(point_key("to", "required", "the other end")),
    row<&CourseWallSpec::height>(thickness_key("height", "required", "above the lower end")),
    row<&CourseWallSpec::thickness>(
        thickness_key("thickness", "0.3", "half of it on either side of the foot"))};

constexpr Keys ceiling_keys{
    row<&CeilingSpec::from>(
        point_key("from", "required", "a corner; the underside is at the lower z of the two")),
    row<&CeilingSpec::to>(point_key("to", "required", "the opposite corner")),
    row<&CeilingSpec::thickness>(thickness_key("thickness", "0.3", "above the underside"))};

constexpr Keys platform_keys{
    row<&PlatformSpec::size>({.name = "size",
                              .unit = "m",
                              .fallback = "required",
                              .meaning = "along x, y and z",
                              .least = 0.0,
                              .most = 1e5}),
    row<&PlatformSpec::path>(
        point_key("path", "required",
                  "two points or more through which the middle of its upper side moves, to and fro")),
    row<&PlatformSpec::speed>({.name = "speed",
                               .unit = "m/s",
                               .fallback = "required",
                               .meaning = "along the path",
                               .least = 0.001,
                               .most = 100.0}),
    row<&PlatformSpec::pause>(wait_key("pause", "0", "at either end", 3600.0))};

constexpr Keys gust_keys{
    row<&GustSpec::direction>({.name = "direction",
                               .fallback = "[1, 0, 0]",
                               .meaning = "where it pushes; only its heading counts",
                               .least = -1e6,
                               .most = 1e6}),
    row<&GustSpec::strength>({.name = "strength",
                              .unit = "m/s",
                              .fallback = "required",
                              .meaning = "speed at the start",
                              .least = 0.0,
                              .most = 1e4}),
    row<&GustSpec::lift>({.name = "lift",
                          .fallback = "0",
                          .meaning = "part of the strength that goes upward",
                          .least = 0.0,
                          .most = 1.0}),
    row<&GustSpec::seconds>(wait_key(
        "seconds", "0", "in which it fades evenly; 0: it goes into the runner's own velocity", 300.0)),
    row<&GustSpec::locks>(plain_key("locks", "false", "whether moves are ignored until it has faded")),
    row<&GustSpec::replaces>(
        plain_key("replaces", "false", "whether it ends other pushes and stops the runner first"))};

constexpr Keys zone_keys{
    row<&ZoneSpec::kind>(plain_key("kind", "required", "what charts call it: \"in mud\"")),
    row<&ZoneSpec::from>(point_key("from", "required", "a corner")),
    row<&ZoneSpec::to>(point_key("to", "required", "the opposite corner")),
    row<&ZoneSpec::pace>({.name = "pace",
                          .fallback = "1",
                          .meaning = "factor of speed targets inside",
                          .least = 0.0,
                          .most = 10.0}),
    row<&ZoneSpec::wind>({.name = "wind",
                          .unit = "m/s",
                          .fallback = "[0, 0, 0]",
                          .meaning = "carries states by their `wind`",
                          .least = -1000.0,
                          .most = 1000.0}),
    row<&ZoneSpec::fade>(length_key(
        "fade", "0", "how far inside the borders the wind is full; it rises in 16 steps", 0.0, 1000.0)),
    inner_row<&ZoneSpec::push>(plain_key("push", "none", "a push, once on entry"), gust_keys)};

constexpr Keys gate_keys{
    row<&GateSpec::from>(point_key("from", "required", "one end of the gate's foot; it is 6 m high")),
    row<&GateSpec::to>(point_key("to", "required", "the other end"))};

constexpr Keys leg_keys{
    row<&LegSpec::name>(plain_key("name", "required", "what it is called in results")),
    inner_row<&LegSpec::start>(plain_key("start", "required", "the gate where its time begins"), gate_keys),
    inner_row<&LegSpec::finish>(plain_key("finish", "required", "the gate where its time ends"), gate_keys)};

constexpr Keys course_keys{
    row<&CourseSpec::name>(plain_key("name", "required", "name of the course")),
    listed_row<&CourseSpec::boxes>(plain_key("box", "none", "boxes"), box_keys),
    listed_row<&CourseSpec::ramps>(plain_key("ramp", "none", "slabs with a sloping upper side"), ramp_keys),
    listed_row<&CourseSpec::walls>(plain_key("wall", "none", "upright slabs"), course_wall_keys),
    listed_row<&CourseSpec::ceilings>(plain_key("ceiling", "none", "flat slabs overhead"), ceiling_keys),
    listed_row<&CourseSpec::platforms>(plain_key("platform", "none", "boxes that move to and fro"),
                                       platform_keys),
    listed_row<&CourseSpec::zones>(plain_key("zone", "none", "boxes of air in which things are different"),
                                   zone_keys),
    listed_row<&CourseSpec::legs>(plain_key("leg", "none", "stretches that are timed"), leg_keys)};

}  // namespace

Table<CourseSpec> course_table() {
    return course_keys.table();
}

}  // namespace cursimeter::keys
