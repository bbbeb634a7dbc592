#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <cursimeter/diagnostics.hpp>
#include <cursimeter/id_map.hpp>
#include <cursimeter/survey/take.hpp>

#include "core/runner/plausible.hpp"
#include "survey/take_fields.hpp"

namespace cursimeter::survey {
namespace {

[[noreturn]] void refuse_fields(std::size_t tick) {
    throw ChartError({{fmt::format("tick {}", tick),
                       "has fields that no runner of this chart can have",
                       "the take and the chart do not belong together",
                       {},
                       0,
                       0}});
}

/// A runner of the chart, filled from a take.
Runner filled(const Chart& chart, const Runner& spawned, const std::vector<std::uint64_t>& fields,
              std::size_t tick) {
    Runner runner = spawned;
    if (!TakeFields::write(fields, runner) ||
        !detail::plausible(chart.data(), detail::RunnerAccess::state(runner))) {
        refuse_fields(tick);
    }
    return runner;
}

/// The first field that differs.
Difference difference_of(const Runner& recorded, const Runner& replayed) {
    const std::vector<TakeFields::Told> a = TakeFields::tell(recorded), b = TakeFields::tell(replayed);
    for (std::size_t i = 0; i < std::min(a.size(), b.size()); ++i) {
        if (a[i].name != b[i].name || a[i].value != b[i].value) {
            return {0, 0.0, a[i].name, a[i].value, b[i].value};
        }
    }
    return {0, 0.0, "digest", fmt::format("{:016x}", digest(recorded)),
            fmt::format("{:016x}", digest(replayed))};
}

Report one_tick(const Chart& chart, Runner& runner, const Intent& intent, double seconds,
                CourseTerrain* terrain, double at) {
    if (terrain == nullptr) {
        return advance(chart, runner, intent, Seconds{seconds});
    }
    terrain->set_time(at);
    return advance(chart, runner, intent, *terrain, Seconds{seconds});
}

/// Every tick from what the take had before it, so that one difference does not make all others.
Replay replay_exactly(const Take& take, const Chart& chart, CourseTerrain* terrain) {
    Replay result;
    result.exact = true;
    const Runner spawned = spawn(chart);
    Runner runner = filled(chart, spawned, take.start, 0);
    for (const TakeTick& tick : take.ticks) {
        if (tick.touched) {
            runner = filled(chart, spawned, tick.before, result.ticks + 1);
        }
        static_cast<void>(one_tick(chart, runner, tick.intent, tick.seconds, terrain, result.seconds));
        ++result.ticks;
        result.seconds += tick.seconds;
        result.digest = digest(runner);
        if (result.digest != tick.digest) {
            const Runner recorded = filled(chart, spawned, tick.fields, result.ticks);
            ++result.differing;
            if (!result.first) {
                result.first = difference_of(recorded, runner);
                result.first->tick = result.ticks;
                result.first->at = result.seconds;
            }
            runner = recorded;
        }
    }
    return result;
}

/// The take's changes with the actions of another chart. Those that it has not are left out.
std::vector<Change> changes_in(const IdMap& ids, const std::vector<Change>& changes) {
    std::vector<Change> mapped;
    for (Change change : changes) {
        const bool key = change.kind == ChangeKind::press || change.kind == ChangeKind::release;
        const std::optional<ActionId> action = key ? ids(change.action) : change.action;
        if (action) {
            change.action = *action;
            mapped.push_back(change);
        }
    }
    return mapped;
}

Replay replay_with_other(const Take& take, const Chart& own, const Chart& chart, CourseTerrain* terrain) {
    Replay result;
    const Runner own_spawned = spawn(own);
    const Runner start = filled(own, own_spawned, take.start, 0);
    Runner runner = spawn(chart, {start.position(), start.yaw()});
    const IdMap ids(own, chart);
    for (const TakeTick& tick : take.ticks) {
        Intent intent = tick.intent;
        intent.held = ids.held(intent.held);
        const std::vector<Change> changes = changes_in(ids, tick.changes);
        intent.changes = changes;
        static_cast<void>(one_tick(chart, runner, intent, tick.seconds, terrain, result.seconds));
        ++result.ticks;
        result.seconds += tick.seconds;
        const Runner recorded = filled(own, own_spawned, tick.fields, result.ticks);
        const std::string& before = own.name(recorded.state());
        const std::string& now = chart.name(runner.state());
        const glm::dvec3 gap = recorded.position() - runner.position();
        const bool apart = std::sqrt(gap.x * gap.x + gap.y * gap.y + gap.z * gap.z) > 1e-3;
        result.differing += before != now || apart ? 1 : 0;
        if (!result.first && (before != now || apart)) {
            const auto place = [](const glm::dvec3& v) {
                return fmt::format("({:.3f}, {:.3f}, {:.3f})", v.x, v.y, v.z);
            };
            result.first = before != now ? Difference{result.ticks, result.seconds, "state", before, now}
                                         : Difference{result.ticks, result.seconds, "position",
                                                      place(recorded.position()), place(runner.position())};
        }
    }
    result.digest = digest(runner);
    return result;
}

}  // namespace

Replay replay(const Take& take, const Chart& chart, const Course* course, const Chart* own) {
    std::optional<CourseTerrain> terrain;
    if (course != nullptr) {
        terrain.emplace(*course, chart);
    }
    CourseTerrain* world = terrain ? &*terrain : nullptr;
    if (chart.digest() == take.chart_digest) {
        return replay_exactly(take, chart, world);
    }
    if (own == nullptr || own->digest() != take.chart_digest) {
        throw ChartError({{"chart",
                           fmt::format("is not the take's: its digest is {:016x}, the take's {:016x}",
                                       chart.digest(), take.chart_digest),
                           "hand over the chart that it was recorded with, or both",
                           {},
                           0,
                           0}});
    }
    return replay_with_other(take, *own, chart, world);
}

}  // namespace cursimeter::survey
