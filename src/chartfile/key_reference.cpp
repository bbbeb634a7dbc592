#include <fmt/format.h>

#include <cursimeter/chartfile/chart_file.hpp>
#include <cursimeter/chartfile/controls_file.hpp>
#include <cursimeter/chartfile/course_file.hpp>
#include <cursimeter/chartfile/drill_file.hpp>
#include <cursimeter/chartfile/trials_file.hpp>
#include <utility>

#include "controls/controls_keys.hpp"
#include "core/chart/chart_keys.hpp"
#include "course/course_keys.hpp"
#include "drill/drill_keys.hpp"
#include "drill/trials_keys.hpp"

namespace cursimeter {
namespace {

using keys::Key;

/// Writes a table of keys as Markdown: one table of keys per TOML table. No spec is needed for it.
class ReferenceWriter {
  public:
    std::string write(const std::string& heading, const keys::Rows& rows) {
        row(keys::format_key, "whole number", range(keys::format_key));
        section(heading, rows);
        return text_;
    }

    void meet(const Key& key, const keys::Value<double>& /*value*/, const void* /*spec*/) {
        row(key, "number", range(key));
    }
    void meet(const Key& key, const keys::Value<int>& /*value*/, const void* /*spec*/) {
        row(key, "whole number", range(key));
    }
    void meet(const Key& key, const keys::Value<bool>& /*value*/, const void* /*spec*/) {
        row(key, "true or false", "");
    }
    void meet(const Key& key, const keys::Value<std::string>& /*value*/, const void* /*spec*/) {
        row(key, "text", fmt::format("up to {} letters", key.most_letters()));
    }
    void meet(const Key& key, const keys::Value<std::vector<double>>& /*value*/, const void* /*spec*/) {
        row(key, "list of numbers", range(key));
    }
    void meet(const Key& key, const keys::Value<std::vector<std::string>>& /*value*/, const void* /*spec*/) {
        row(key, "list of names", "");
    }
    void meet(const Key& key, const keys::Value<Condition>& /*value*/, const void* /*spec*/) {
        row(key, "condition", "");
    }
    void meet(const Key& key, const keys::Value<keys::Curve>& /*value*/, const void* /*spec*/) {
        row(key, "list of points", fmt::format("2 to {} points, 0 to 60 s, 0 to 1", limits::curve_points));
    }
    void meet(const Key& key, const keys::Value<keys::Rates>& /*value*/, const void* /*spec*/) {
        row(key, "table: meter = number", range(key));
    }
    void meet(const Key& key, const keys::Value<keys::Vector3>& /*value*/, const void* /*spec*/) {
        row(key, "list of three numbers", range(key));
    }
    void meet(const Key& key, const keys::Value<std::vector<keys::Vector3>>& /*value*/,
              const void* /*spec*/) {
        row(key, "list of points", range(key));
    }
    void meet(const Key& key, const keys::Choice& choice, const void* /*spec*/) {
        row(key, "text", names_of(choice.words));
    }
    void meet(const Key& key, const keys::Choices& choices, const void* /*spec*/) {
        row(key, "list of text", names_of(choices.words));
    }
    void meet(const Key& key, const keys::Inner& inner, const void* /*spec*/) {
        row(key, "table", "");
        inner_.push_back({inner_heading(key.name), inner.rows});
    }
    void meet(const Key& key, const keys::Named& named, const void* /*spec*/) {
        row(key, "tables by name", fmt::format("up to {}", key.most));
        inner_.push_back({inner_heading(key.name) + ".NAME", named.rows});
    }
    void meet(const Key& key, const keys::Listed& listed, const void* /*spec*/) {
        row(key, "list of tables", "");
        inner_.push_back({inner_heading(key.name), listed.rows});
    }

  private:
    struct Section {
        std::string heading;
        keys::Rows rows;
    };

    static std::string range(const Key& key) {
        return fmt::format("{} {} {}", key.above_least ? "above" : "from", key.least,
                           fmt::format("to {}", key.most));
    }
    static std::string names_of(keys::Words words) {
        std::string all;
        for (const keys::Word& word : words) {
            all += fmt::format("{}\"{}\"", all.empty() ? "" : ", ", word.name);
        }
        return all;
    }
    [[nodiscard]] std::string inner_heading(std::string_view name) const {
        return heading_.find(' ') != std::string::npos ? std::string(name)
                                                       : heading_ + "." + std::string(name);
    }
    void row(const Key& key, std::string_view type, const std::string& range_text) {
        rows_ += fmt::format("| `{}` | {} | {} | {} | {} | {} |\n", key.name, type, key.unit, key.fallback,
                             range_text, key.meaning);
    }
    /// A table of keys, and after it those inside.
    void section(const std::string& heading, const keys::Rows& rows) {
        heading_ = heading;
        keys::walk(rows, static_cast<const void*>(nullptr), *this);
        const std::string title = heading.find(' ') != std::string::npos ? heading : "`[" + heading + "]`";
        text_ += fmt::format(
            "\n## {}\n\n| key | type | unit | default | range | meaning |\n"
            "| --- | --- | --- | --- | --- | --- |\n{}",
            title, std::exchange(rows_, {}));
        for (const Section& inner : std::exchange(inner_, {})) {
            section(inner.heading, inner.rows);
        }
    }

    std::string heading_, rows_, text_;
    std::vector<Section> inner_;  ///< of the section at hand
};

constexpr std::string_view chart_preamble = R"(# Chart reference

A chart is a TOML file. This page is generated from the table of keys that the loader itself reads
(`cursimeter reference chart`), so it cannot be out of date. Seconds, metres, degrees; rates are per
second.

Names are a letter, then letters, digits and `_`, all in lower case, 64 at most; `not`, `speed`, `rise`, `time`,
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

constexpr std::string_view trials_preamble = R"(# Trials reference

What was agreed about charts, in a TOML file that `cursimeter trial FILE` holds them against. This page is generated from
the table of keys that the loader itself reads (`cursimeter reference trials`). What is expected of a run
stands in its drill, in `[[expect]]` ([drill reference](drill-reference.md)): here stands what goes through which.
)";

}  // namespace

std::string trials_reference() {
    return std::string(trials_preamble) +
           ReferenceWriter().write("Top of the file", keys::trials_table().rows);
}

std::string controls_reference() {
    return std::string(controls_preamble) +
           ReferenceWriter().write("Top of the file", keys::controls_table().rows);
}

std::string course_reference() {
    return std::string(course_preamble) +
           ReferenceWriter().write("Top of the file", keys::course_table().rows);
}

std::string chart_reference() {
    std::string preamble(chart_preamble);
    const std::string_view comparisons = "{comparisons}";
    preamble.replace(preamble.find(comparisons), comparisons.size(), std::to_string(limits::derived_facts));
    return preamble + ReferenceWriter().write("Top of the file", keys::chart_table().rows);
}

std::string drill_reference() {
    return std::string(drill_preamble) + ReferenceWriter().write("Top of the file", keys::drill_table().rows);
}

}  // namespace cursimeter
