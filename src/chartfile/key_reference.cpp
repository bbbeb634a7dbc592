#include <fmt/format.h>

#include <cursimeter/chartfile/chart_file.hpp>
#include <cursimeter/chartfile/controls_file.hpp>
#include <cursimeter/chartfile/course_file.hpp>
#include <cursimeter/chartfile/drill_file.hpp>
#include <functional>

#include "controls/controls_keys.hpp"
#include "core/chart/chart_keys.hpp"
#include "course/course_keys.hpp"
#include "drill/drill_keys.hpp"

namespace cursimeter {
namespace {

using keys::Key;

/// The visitor that writes the key table as Markdown: one table of keys per TOML table.
class ReferenceWriter {
  public:
    template <class Spec, class Describe>
    std::string write(const std::string& heading, Describe describe) {
        section<Spec>(heading, describe,
                      [&] { row(keys::format_key, "whole number", range(keys::format_key)); });
        std::string text;
        for (const std::string& part : done_) {
            text += part;
        }
        return text;
    }

    template <class Value>
    void number(const Key& key, const Value& /*value*/) {
        row(key, "number", range(key));
    }
    void count(const Key& key, int /*value*/) { row(key, "whole number", range(key)); }
    template <class Value>
    void angle(const Key& key, const Value& /*value*/) {
        row(key, "number", range(key));
    }
    template <class Value>
    void truth(const Key& key, const Value& /*value*/) {
        row(key, "true or false", "");
    }
    void numbers(const Key& key, const std::optional<std::vector<double>>& /*value*/) {
        row(key, "list of numbers", range(key));
    }
    template <class Value, class Names>
    void choices(const Key& key, const Value& /*value*/, const Names& all) {
        std::string known;
        for (const auto& choice : all) {
            known += fmt::format("{}\"{}\"", known.empty() ? "" : ", ", choice.name);
        }
        row(key, "list of text", known);
    }
    template <class Value>
    void text(const Key& key, const Value& /*value*/) {
        row(key, "text", "");
    }
    template <class Value>
    void names(const Key& key, const Value& /*value*/) {
        row(key, "list of names", "");
    }
    template <class Value, class Names>
    void choice(const Key& key, const Value& /*value*/, const Names& choices) {
        std::string all;
        for (const auto& choice : choices) {
            all += fmt::format("{}\"{}\"", all.empty() ? "" : ", ", choice.name);
        }
        row(key, "text", all);
    }
    void condition(const Key& key, const std::optional<Condition>& /*value*/) { row(key, "condition", ""); }
    void curve(const Key& key, const std::optional<std::vector<CurvePoint>>& /*value*/) {
        row(key, "list of points", fmt::format("2 to {} points, 0 to 60 s, 0 to 1", limits::curve_points));
    }
    void rates(const Key& key, const std::vector<RateSpec>& /*value*/) {
        row(key, "table: meter = number", range(key));
    }
    void vector3(const Key& key, const std::array<double, 3>& /*value*/) {
        row(key, "list of three numbers", range(key));
    }
    void points(const Key& key, const std::vector<std::array<double, 3>>& /*value*/) {
        row(key, "list of points", range(key));
    }
    template <class Spec, class Describe>
    void table(const Key& key, const Spec& /*spec*/, Describe describe) {
        row(key, "table", "");
        sub_section<Spec>(inner_heading(key.name), describe);
    }
    template <class Spec, class Describe>
    void table(const Key& key, const std::optional<Spec>& /*spec*/, Describe describe) {
        row(key, "table", "");
        sub_section<Spec>(inner_heading(key.name), describe);
    }
    template <class Spec, class Describe>
    void each(const Key& key, const std::vector<Spec>& /*list*/, Describe describe) {
        row(key, "tables by name", fmt::format("up to {}", key.most));
        sub_section<Spec>(inner_heading(key.name) + ".NAME", describe);
    }
    template <class Spec, class Describe>
    void list(const Key& key, const std::vector<Spec>& /*list*/, Describe describe) {
        row(key, "list of tables", "");
        sub_section<Spec>(inner_heading(key.name), describe);
    }

  private:
    static std::string range(const Key& key) {
        return fmt::format("{} {} {}", key.above_least ? "above" : "from", key.least,
                           fmt::format("to {}", key.most));
    }
    [[nodiscard]] std::string inner_heading(std::string_view name) const {
        return heading_.find(' ') != std::string::npos ? std::string(name)
                                                       : heading_ + "." + std::string(name);
    }
    void row(const Key& key, std::string_view type, const std::string& range_text) {
        rows_ += fmt::format("| `{}` | {} | {} | {} | {} | {} |\n", key.name, type, key.unit, key.fallback,
                             range_text, key.meaning);
    }
    template <class Spec, class Describe>
    void sub_section(const std::string& heading, Describe describe) {
        pending_.push_back([this, heading, describe] { section<Spec>(heading, describe, [] {}); });
    }
    template <class Spec, class Describe, class First>
    void section(const std::string& heading, Describe describe, First first) {
        heading_ = heading;
        rows_.clear();
        std::vector<std::function<void()>> outer = std::move(pending_);
        pending_.clear();
        first();
        const Spec spec{};
        describe(*this, spec);
        const std::string title = heading.find(' ') != std::string::npos ? heading : "`[" + heading + "]`";
        done_.push_back(
            fmt::format("\n## {}\n\n| key | type | unit | default | range | meaning |\n"
                        "| --- | --- | --- | --- | --- | --- |\n{}",
                        title, rows_));
        std::vector<std::function<void()>> inner = std::move(pending_);
        pending_ = std::move(outer);
        for (const auto& write_inner : inner) {
            write_inner();
        }
    }

    std::string heading_, rows_;
    std::vector<std::string> done_;
    std::vector<std::function<void()>> pending_;
};

constexpr std::string_view chart_preamble = R"(# Chart reference

A chart is a TOML file. This page is generated from the table of keys that the loader itself reads
(`cursimeter reference chart`), so it cannot be out of date. Seconds, metres, degrees; rates are per
second.

Names are a letter, then letters, digits and `_`, all in lower case; `not`, `speed`, `rise`, `time`,
`moving`, `grounded`, `footing`, `headroom`, `wall`, `in`, `pushed` and `locked` are taken. All conditions of a chart together read at most {comparisons} different
comparisons and latches.

## Conditions

A condition is a list of terms, all of which must hold: `["sprint on", "moving forward"]`. A list of
such lists holds when any of them does. `[]` always holds. Any term may begin with `not`.

| term | holds |
| --- | --- |
| `ACTION on` | while the action is on: held down, or switched on in toggle mode |
| `MODIFIER active` | while the modifier is at work, fading included |
| `ACTION pressed`, `ACTION released` | at the instant at which its key goes down or up; used up by the state it brings about |
| `moving` | while a move is wanted (the stick is pushed) |
| `moving forward`, `moving sideways`, `moving backward` | while it is wanted in that direction, relative to the look; one of the three |
| `grounded` | while the runner stands on the ground |
| `footing` | while it does, and for `body.coyote` after it walked off an edge |
| `headroom` | while the full body fits where the runner is |
| `wall` | while a wall is at hand, in the air |
| `pushed`, `locked` | while a push acts; while one takes control away |
| `in ZONE` | while the middle of the body is in a zone of that kind |
| `COOLDOWN ready` | while the cooldown is not running |
| `STATE possible` | while what the state's kind asks for is there: a jump left, a wall to run along or to jump off |
| `METER >= 10`, also `>`, `<`, `<=` | by the meter's level; `METER >= 10%` by its capacity |
| `METER spent` | while the meter's latch is closed |
| `speed > 4.5`, `speed > 4.5 m/s` | by the real speed |
| `rise > 0`, `rise < -2 m/s` | by the vertical speed, upward positive |
| `time < 0.18`, `time < 0.18 s` | by the time in the present state |

States are tried in the order of `rank`: for the present state its `stay` counts, for another its
`enter` and its `from`; the first that may be is taken. If none may, the present one is kept. A state
that was left does not come back within 10 ms by meters, speeds, times and contacts alone: what the player
does lets it come back at once.

What a state needs by its nature is added to its conditions, and causes name it: a state that drains a
meter with a `spent` latch needs `not METER spent`, unless the latch says `bars = false`; a `cost` needs
that level, a `cooldown` that it is ready, a `launch` and a wall run that they are possible, a body that is
not `low` headroom, if the chart has a low one. A burst is kept for its `seconds`, a wall run for its
`seconds` and while the wall is there.
)";

constexpr std::string_view drill_preamble = R"(# Drill reference

A drill is a scripted input sequence in a TOML file. This page is generated from the table of keys that
the loader itself reads (`cursimeter reference drill`). Steps stand in order of time; within one step,
keys are released first, then held, then pressed. What happens at the same time in `[[step]]` and
`[[repeat]]` happens in that order.
)";

constexpr std::string_view course_preamble = R"(# Course reference

A course is a simple world in a TOML file: solids, zones, and legs that are timed. This page is generated
from the table of keys that the loader itself reads (`cursimeter reference course`). Metres; up is +z.
There is no ground but what the file lays out.
)";

constexpr std::string_view controls_preamble = R"(# Controls reference

A player's own settings in a TOML file: which inputs of the game mean which action. This page is generated
from the table of keys that the loader itself reads (`cursimeter reference controls`). The names of inputs
are the game's own.
)";

}  // namespace

std::string controls_reference() {
    return std::string(controls_preamble) +
           ReferenceWriter().write<ControlsSpec>("Top of the file",
                                                 [](auto& v, auto& s) { keys::describe_controls(v, s); });
}

std::string course_reference() {
    return std::string(course_preamble) +
           ReferenceWriter().write<CourseSpec>("Top of the file",
                                               [](auto& v, auto& s) { keys::describe_course(v, s); });
}

std::string chart_reference() {
    std::string preamble(chart_preamble);
    const std::string_view comparisons = "{comparisons}";
    preamble.replace(preamble.find(comparisons), comparisons.size(), std::to_string(limits::derived_facts));
    return preamble + ReferenceWriter().write<ChartSpec>(
                          "Top of the file", [](auto& v, auto& s) { keys::describe_chart(v, s); });
}

std::string drill_reference() {
    return std::string(drill_preamble) +
           ReferenceWriter().write<DrillSpec>("Top of the file",
                                              [](auto& v, auto& s) { keys::describe_drill(v, s); });
}

}  // namespace cursimeter
