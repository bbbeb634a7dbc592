#pragma once

#include <cursimeter/ids.hpp>
#include <limits>
#include <string_view>

/// What is said about one key of the file formats. The tables of keys, one place for each format, are chart_keys with
/// state_keys here, drill_keys, controls_keys and course_keys beside their libraries; key_table.hpp says what a row is.
namespace cursimeter::keys {

inline constexpr double no_limit = std::numeric_limits<double>::infinity();

/// One key: everything that is said about it anywhere.
struct Key {
    std::string_view name;
    std::string_view unit{};
    std::string_view fallback{};  ///< what holds if it is not said; "required" if it must be
    std::string_view meaning;
    double least = -no_limit;
    double most = no_limit;    ///< of a text: letters
    bool above_least = false;  ///< `least` itself is out of range

    static constexpr double usual_letters = 200.0;
    [[nodiscard]] constexpr double most_letters() const { return most < no_limit ? most : usual_letters; }
    [[nodiscard]] constexpr bool required() const { return fallback == "required"; }
    /// Whether a number is in range; NaN and infinities never are.
    [[nodiscard]] constexpr bool admits(double value) const {
        return value >= least && value <= most && value < no_limit && value > -no_limit &&
               !(above_least && value == least);
    }
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
