#include <fmt/format.h>

#include <cursimeter/diagnostics.hpp>
#include <cursimeter/survey/script.hpp>

#include "core/runner/plausible.hpp"
#include "survey/take_fields.hpp"

namespace cursimeter::survey {
namespace {

/// A runner of the chart with the fields of a take.
Runner filled(const Chart& chart, const std::vector<std::uint64_t>& fields, std::size_t tick) {
    Runner runner = spawn(chart);
    if (!TakeFields::write(fields, runner) ||
        !detail::plausible(chart.data(), detail::RunnerAccess::state(runner))) {
        throw ChartError({{fmt::format("tick {}", tick),
                           "has fields that no runner of this chart can have",
                           "the take and the chart do not belong together",
                           {},
                           0,
                           0}});
    }
    return runner;
}

/// The take's changes with the actions of another chart. Those that it has not are left out.
void map_changes(const IdMap& ids, const std::vector<Change>& changes, std::vector<Change>& mapped) {
    mapped.clear();
    for (const Change& change : changes) {
        if (const std::optional<Change> same = ids(change)) {
            mapped.push_back(*same);
        }
    }
}

}  // namespace

DrillScript::DrillScript(const Drill& drill, std::span<const double> tick_ends)
    : drill_(drill), tick_ends_(tick_ends) {
    if (!tick_ends.empty() && tick_ends.front() < drill.begin().value) {
        throw ChartError({{"tick_ends",
                           fmt::format("begin at {} s, where the drill's clock begins at {}",
                                       tick_ends.front(), drill.begin().value),
                           "take even_ticks(rate, drill)",
                           {},
                           0,
                           0}});
    }
}

DrillScript::DrillScript(const Drill& drill, std::span<const double> tick_ends, const Runner& from)
    : DrillScript(drill, tick_ends) {
    from_ = from;
}

Runner DrillScript::begin(const Chart& chart) {
    next_ = 0;
    const Runner runner = from_ ? *from_ : drill_.spawn(chart);
    player_.emplace(drill_, runner);
    return runner;
}

std::optional<Script::Tick> DrillScript::next(double /*begin*/, Runner& /*runner*/) {
    if (next_ == tick_ends_.size()) {
        return std::nullopt;
    }
    const double origin = drill_.begin().value;
    const double begin = next_ == 0 ? origin : tick_ends_[next_ - 1], end = tick_ends_[next_];
    ++next_;
    return Tick{end - origin, end - begin, begin, player_->intent(begin, end)};
}

Runner TakeScript::begin(const Chart& chart) {
    next_ = 0;
    const bool exact = chart.digest() == take_.chart_digest;
    if (!exact && (own_ == nullptr || own_->digest() != take_.chart_digest)) {
        throw ChartError({{"chart",
                           fmt::format("is not the take's: its digest is {:016x}, the take's {:016x}",
                                       chart.digest(), take_.chart_digest),
                           "hand over the chart that it was recorded with, or both",
                           {},
                           0,
                           0}});
    }
    chart_ = exact ? chart : *own_;
    ids_.reset();
    const Runner start = recorded(0);
    if (exact) {
        return start;
    }
    ids_.emplace(*own_, chart);
    return spawn(chart, {start.position(), start.yaw()});
}

std::optional<Script::Tick> TakeScript::next(double begin, Runner& runner) {
    if (next_ == take_.ticks.size()) {
        return std::nullopt;
    }
    const TakeTick& tick = take_.ticks[next_++];
    Tick played{begin + tick.seconds, tick.seconds, tick.world_time, tick.intent};
    if (ids_) {
        played.intent.held = ids_->held(played.intent.held);
        map_changes(*ids_, tick.changes, changes_);
        played.intent.changes = changes_;
    } else if (tick.touched) {
        runner = filled(*chart_, tick.before, next_);
    }
    return played;
}

double TakeScript::end() const {
    double end = 0.0;
    for (const TakeTick& tick : take_.ticks) {
        end += tick.seconds;
    }
    return end;
}

Runner TakeScript::recorded(std::size_t tick) const {
    return filled(*chart_, tick == 0 ? take_.start : take_.ticks[tick - 1].fields, tick);
}

}  // namespace cursimeter::survey
