#pragma once

#include <cursimeter/ids.hpp>
#include <limits>
#include <string_view>

/// How keys of the file formats are told. The tables themselves, one place for every key, are in
/// chart_keys.hpp with state_keys.hpp, drill_keys.hpp, and course/course_keys.hpp.
/// Each `describe` function lists the keys of one
/// table in the order in which people write them, bound to the members of the spec. Whoever walks a
/// spec is a visitor: the range check, the TOML reader and writer, and the generated reference all
/// read these same lines, so they cannot drift apart.
///
/// A visitor has one function per shape of value:
///   number(key, double or optional)     angle(key, Degrees)        truth(key, bool)
///   count(key, int)                     text(key, optional string) choice(key, enum or optional, names)
///   numbers(key, optional list)         choices(key, optional list of enums, names)
///   names(key, list of names)           condition(key, optional)   curve(key, optional)
///   rates(key, list of meter rates)     vector3(key, array)     points(key, list of arrays)
///   table(key, value or optional, describe)     one table
///   each(key, list, describe)                   tables by name: [states.walk]
///   list(key, list, describe)                   an array of tables: [[step]]
namespace cursimeter::keys {

inline constexpr double no_limit = std::numeric_limits<double>::infinity();

/// One key: everything that is said about it anywhere.
struct Key {
    std::string_view name;
    std::string_view unit{};
    std::string_view fallback{};  ///< what holds if it is not said; "required" if it must be
    std::string_view meaning;
    double least = -no_limit;
    double most = no_limit;
    bool above_least = false;  ///< `least` itself is out of range

    [[nodiscard]] constexpr bool required() const { return fallback == "required"; }
};

template <class Enum>
struct ChoiceName {
    std::string_view name;
    Enum value;
};

constexpr Key speed_key(std::string_view name, std::string_view fallback, std::string_view meaning) {
    return {
        .name = name, .unit = "m/s", .fallback = fallback, .meaning = meaning, .least = 0.0, .most = 500.0};
}
constexpr Key ramp_key(std::string_view name, std::string_view fallback, std::string_view meaning) {
    return {.name = name,
            .unit = "m/s^2",
            .fallback = fallback,
            .meaning = meaning,
            .least = 0.0,
            .most = 10000.0,
            .above_least = true};
}
constexpr Key ease_key(std::string_view name, std::string_view fallback, std::string_view meaning) {
    return {
        .name = name, .unit = "s", .fallback = fallback, .meaning = meaning, .least = 0.001, .most = 60.0};
}
constexpr Key curve_key(std::string_view name, std::string_view fallback, std::string_view meaning) {
    return {.name = name, .unit = "[s, fraction]", .fallback = fallback, .meaning = meaning};
}
constexpr Key acceleration_key(std::string_view name, std::string_view fallback, std::string_view meaning) {
    return {.name = name,
            .unit = "m/s^2",
            .fallback = fallback,
            .meaning = meaning,
            .least = 0.0,
            .most = 10000.0};
}
constexpr Key length_key(std::string_view name, std::string_view fallback, std::string_view meaning,
                         double least, double most) {
    return {
        .name = name, .unit = "m", .fallback = fallback, .meaning = meaning, .least = least, .most = most};
}
constexpr Key wait_key(std::string_view name, std::string_view fallback, std::string_view meaning,
                       double most) {
    return {.name = name, .unit = "s", .fallback = fallback, .meaning = meaning, .least = 0.0, .most = most};
}
constexpr Key angle_key(std::string_view name, std::string_view fallback, std::string_view meaning,
                        double least, double most) {
    return {
        .name = name, .unit = "deg", .fallback = fallback, .meaning = meaning, .least = least, .most = most};
}
constexpr Key plain_key(std::string_view name, std::string_view fallback, std::string_view meaning) {
    return {.name = name, .fallback = fallback, .meaning = meaning};
}

/// A table by name; `most` things at most can be in it.
constexpr Key tables_key(std::string_view name, std::string_view fallback, std::string_view meaning,
                         std::size_t most) {
    return {.name = name, .fallback = fallback, .meaning = meaning, .most = static_cast<double>(most)};
}

/// The first key of every file.
inline constexpr Key format_key{.name = "format",
                                .fallback = "required",
                                .meaning = "version of the file format",
                                .least = 1.0,
                                .most = 1.0};

}  // namespace cursimeter::keys
