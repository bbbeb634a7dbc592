#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <cursimeter/survey/script.hpp>

#include "core/runner/field_text.hpp"

namespace cursimeter::survey {
namespace {

/// The first field that differs.
Difference difference_of(const Runner& recorded, const Runner& replayed) {
    if (const auto field = detail::first_difference(recorded, replayed)) {
        return {0, 0.0, field->name, field->first, field->second};
    }
    return {0, 0.0, "digest", fmt::format("{:016x}", digest(recorded)),
            fmt::format("{:016x}", digest(replayed))};
}

/// Plays a tick of a script.
void play(const Chart& chart, Runner& runner, const Script::Tick& tick, Seconds dt, CourseTerrain* terrain) {
    if (terrain == nullptr) {
        static_cast<void>(advance(chart, runner, tick.intent, dt));
    } else {
        terrain->set_time(tick.world_time);
        static_cast<void>(advance(chart, runner, tick.intent, *terrain, dt));
    }
}

/// What of a state and place differs, to 1 mm, for charts whose fields mean different things.
std::optional<Difference> seen_difference(const Chart& own, const Runner& recorded, const Chart& chart,
                                          const Runner& replayed) {
    const std::string &before = own.name(recorded.state()), &now = chart.name(replayed.state());
    if (before != now) {
        return Difference{0, 0.0, "state", before, now};
    }
    const glm::dvec3 gap = recorded.position() - replayed.position();
    if (std::sqrt(gap.x * gap.x + gap.y * gap.y + gap.z * gap.z) <= 1e-3) {
        return std::nullopt;
    }
    const auto place = [](const glm::dvec3& v) {
        return fmt::format("({:.3f}, {:.3f}, {:.3f})", v.x, v.y, v.z);
    };
    return Difference{0, 0.0, "position", place(recorded.position()), place(replayed.position())};
}

}  // namespace

Replay replay(const Take& take, const Chart& chart, const Course* course, const Chart* own) {
    std::optional<CourseTerrain> terrain;
    if (course != nullptr) {
        terrain.emplace(*course, chart);
    }
    TakeScript script(take, own);
    Replay result;
    Runner runner = script.begin(chart);
    result.exact = chart.digest() == take.chart_digest;
    result.digest = digest(runner);
    while (const auto tick = script.next(result.seconds, runner)) {
        const TakeTick& recorded = take.ticks[result.ticks++];
        play(chart, runner, *tick, Seconds{recorded.seconds}, terrain ? &*terrain : nullptr);
        result.seconds = tick->end;
        result.digest = digest(runner);
        std::optional<Difference> difference;
        if (!result.exact) {
            difference = seen_difference(*own, script.recorded(result.ticks), chart, runner);
        } else if (result.digest != recorded.digest) {
            const Runner then = script.recorded(result.ticks);
            difference = difference_of(then, runner);
            runner = then;  // so that one difference does not make all others
        }
        result.differing += difference ? 1 : 0;
        if (difference && !result.first) {
            result.first = std::move(difference);
            result.first->tick = result.ticks;
            result.first->at = result.seconds;
        }
    }
    return result;
}

}  // namespace cursimeter::survey
