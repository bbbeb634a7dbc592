#include <cmath>
#include <cursimeter/advance.hpp>
#include <cursimeter/chartfile/chart_file.hpp>
#include <cursimeter/chartfile/course_file.hpp>
#include <cursimeter/diagnostics.hpp>
#include <cursimeter/survey/take.hpp>
#include <cursimeter/tryout/recording.hpp>

#include "tryout/sayable.hpp"

namespace cursimeter::tryout {
namespace {

[[noreturn]] void refuse_empty() {
    throw ChartError({{"", "nothing was played in this stretch", "play first, then save", {}, 0, 0}});
}

/// Steps of one time are taken in this order within a step.
int order_of(ChangeKind kind) {
    switch (kind) {
        case ChangeKind::release:
            return 0;
        case ChangeKind::press:
            return 1;
        case ChangeKind::move:
            return 2;
        case ChangeKind::look:
            return 3;
    }
    return 0;
}

void add(StepSpec& step, const Change& change, const Chart& chart) {
    switch (change.kind) {
        case ChangeKind::release:
            step.release.push_back(chart.name(change.action));
            break;
        case ChangeKind::press:
            step.hold.push_back(chart.name(change.action));
            break;
        case ChangeKind::move:
            step.move = Move{change.x, change.y};
            break;
        case ChangeKind::look:
            step.look = LookSpec{sayable::angle(change.x), sayable::angle(change.y)};
            break;
    }
}

}  // namespace

PlayedTake record_take(const History& history, Moment since, Moment until,
                       const std::optional<Course>& course, const ChartSpec& spec, const std::string& note) {
    if (!history.keeps(since) || !history.keeps(until) || since >= until) {
        refuse_empty();
    }
    const Chart chart = compile(spec);
    PlayedTake take;
    take.since = std::max(since, history.chart_since(until));
    if (history.chart({until.value - 1}).digest() != chart.digest()) {
        throw ChartError({{"", "the chart has changed since the last tick", "play on, then save", {}, 0, 0}});
    }
    const survey::TakeOrigin origin{format_chart(spec),
                                    course ? format_course(course->spec()) : std::string(), note};
    survey::TakeRecorder recorder(chart, history.runner(take.since), origin, 0);  // emptied after each tick
    for (Moment at = take.since; at < until; ++at.value) {
        const PlayedTick played = history.tick(at);
        const bool room =
            recorder.begin(played.before, played.intent, Seconds{played.seconds}, played.world_time) &&
            recorder.end(history.after(at));
        if (!room) {
            break;
        }
        const std::span<const std::byte> bytes = recorder.bytes();
        take.bytes.insert(take.bytes.end(), bytes.begin(), bytes.end());
        recorder.clear();
        ++take.ticks;
    }
    return take;
}

DrillSpec written_drill(const History& history, Moment since, Moment until, const std::string& name) {
    if (!history.keeps(since) || !history.keeps(until) || since >= until) {
        refuse_empty();
    }
    const PlayedTick first = history.tick(since);
    const PlayedTick last = history.tick({until.value - 1});
    const Chart& chart = history.chart(since);
    const Runner& begun = first.before;
    DrillSpec drill;
    drill.name = name;
    drill.start.position = {begun.position().x, begun.position().y, begun.position().z};
    drill.start.yaw = sayable::angle(begun.yaw());
    for (std::uint8_t i = 0; i < chart.action_count(); ++i) {
        const PressMode mode = begun.press_mode(ActionId{i});
        if (mode != chart.press_mode(ActionId{i})) {
            (mode == PressMode::toggle ? drill.set_toggle : drill.set_hold)
                .push_back(chart.name(ActionId{i}));
        }
    }
    const double origin = first.world_time;
    drill.seconds = last.world_time + last.seconds - origin;
    const auto put = [&](double at, const Change& change, const Chart& of) {
        const bool together = !drill.steps.empty() && drill.steps.back().at == at;
        if (together) {
            StepSpec& step = drill.steps.back();
            const int highest = step.look ? 3 : step.move ? 2 : !step.hold.empty() ? 1 : 0;
            if (order_of(change.kind) > highest || (order_of(change.kind) == highest && highest < 2)) {
                add(step, change, of);
                return;
            }
        }
        StepSpec& step = drill.steps.emplace_back();
        step.at = at;
        add(step, change, of);
    };
    const Look level{begun.yaw(), 0.0};
    if (first.intent.look != level) {
        put(0.0, Change::look_to(first.intent.look, 0.0), chart);
    }
    if (first.intent.move != Move{}) {
        put(0.0, Change::move_to(first.intent.move, 0.0), chart);
    }
    for (std::uint8_t i = 0; i < chart.action_count(); ++i) {
        if ((first.intent.held & key_bit(ActionId{i})) != 0) {
            put(0.0, Change::press(ActionId{i}, 0.0), chart);
        }
    }
    for (Moment at = since; at < until; ++at.value) {
        const PlayedTick played = history.tick(at);
        if (at > since && played.world_time == 0.0) {
            throw ChartError({{"",
                               "the character began again within the stretch",
                               "save what was played since then",
                               {},
                               0,
                               0}});
        }
        for (const Change& change : played.intent.changes) {
            put(std::max(0.0, sayable::time(played.world_time + change.at) - origin), change,
                history.chart(at));
        }
    }
    return drill;
}

}  // namespace cursimeter::tryout
