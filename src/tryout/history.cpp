#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <cursimeter/diagnostics.hpp>
#include <cursimeter/tryout/history.hpp>

namespace cursimeter::tryout {
namespace {

constexpr std::size_t most_events = 16384;

void check(bool fine, const char* path, double value, const char* mend) {
    if (!fine) {
        throw ChartError({{path, fmt::format("{} is out of range", value), mend, {}, 0, 0}});
    }
}

std::size_t ticks_in(Seconds length, double rate) {
    check(length.value >= 1.0 && length.value <= 3600.0, "length", length.value, "1 <= length <= 3600 s");
    check(rate >= 10.0 && rate <= 1000.0, "rate", rate, "10 <= rate <= 1000");
    return static_cast<std::size_t>(std::ceil(length.value * rate));
}

}  // namespace

const std::size_t History::bytes_per_tick = sizeof(Kept);

History::History(Seconds length, double rate) : ticks_(ticks_in(length, rate)), events_(most_events) {
    charts_.reserve(most_charts);
}

void History::take_chart(const Chart& chart) noexcept {
    if (charts_end_ > 0) {
        const Chart& last = charts_[(charts_end_ - 1) % most_charts];
        if (&last.data() == &chart.data() || last.digest() == chart.digest()) {
            return;
        }
    }
    if (charts_.size() < most_charts) {
        charts_.push_back(chart);
    } else {
        const std::uint64_t oldest = charts_end_ - most_charts;
        Moment kept_from = first_;
        while (kept_from < end_ && kept(kept_from).chart <= oldest) {
            ++kept_from.value;
        }
        forget_before(kept_from);
        charts_[charts_end_ % most_charts] = chart;
    }
    ++charts_end_;
}

void History::forget_before(Moment moment) noexcept {
    first_ = std::max(first_, moment);
    while (events_begin_ < events_end_ && events_[events_begin_ % most_events].tick < first_.value) {
        ++events_begin_;
    }
}

void History::begin_tick(const Chart& chart, const Runner& runner, const Intent& intent, Seconds dt,
                         std::optional<double> world_time) noexcept {
    take_chart(chart);
    if (size() == ticks_.size()) {
        forget_before({first_.value + 1});
    }
    Kept& tick = kept(end_);
    tick.before = runner;
    tick.intent = intent;
    tick.change_count = static_cast<std::uint8_t>(std::min(intent.changes.size(), most_changes));
    std::copy_n(intent.changes.begin(), tick.change_count, tick.changes.begin());
    tick.has_focus = intent.focus != nullptr;
    if (tick.has_focus) {
        tick.focus = *intent.focus;
    }
    tick.at = now_;
    tick.seconds = dt.value;
    tick.world_time = world_time.value_or(now_);
    tick.chart = charts_end_ - 1;
}

void History::end_tick(const Runner& runner, const Report& report) noexcept {
    Kept& tick = kept(end_);
    tick.after = runner;
    for (const Event& event : report.events()) {
        if (events_end_ - events_begin_ == most_events) {
            ++events_begin_;
        }
        events_[events_end_ % most_events] = {end_.value, tick.at + event.at, event};
        ++events_end_;
    }
    now_ += tick.seconds;
    ++end_.value;
}

PlayedTick History::tick(Moment moment) const {
    const Kept& found = kept(moment);
    PlayedTick played{found.before, found.intent, found.at, found.seconds, found.world_time};
    played.intent.changes = std::span(found.changes).first(found.change_count);
    played.intent.focus = found.has_focus ? &found.focus : nullptr;
    return played;
}

const Runner& History::runner(Moment moment) const {
    // What the game did to it between two ticks belongs to the moment.
    return moment < end_ ? kept(moment).before : kept({moment.value - 1}).after;
}

const Chart& History::chart(Moment moment) const {
    const Moment tick = moment < end_ ? moment : Moment{moment.value - 1};
    return charts_[kept(tick).chart % most_charts];
}

double History::time(Moment moment) const {
    return moment < end_ ? kept(moment).at : now_;
}

Moment History::moment_at(double time) const {
    std::uint64_t low = first_.value, high = end_.value;
    while (low < high) {
        const std::uint64_t middle = high - (high - low) / 2;
        if (this->time({middle}) <= time) {
            low = middle;
        } else {
            high = middle - 1;
        }
    }
    return {low};
}

Moment History::chart_since(Moment until) const {
    Moment since = until;
    while (since > first_ && kept({since.value - 1}).chart == kept({until.value - 1}).chart) {
        --since.value;
    }
    return since;
}

const PlayedEvent* History::entry_of(const Runner& runner) const {
    const auto entered_at = [](const Runner& one) { return one.clock().value - one.time_in_state().value; };
    for (std::size_t i = event_count(); i-- > 0;) {
        const PlayedEvent& one = event(i);
        if (one.event.kind != EventKind::entered || one.event.subject != runner.state().index) {
            continue;
        }
        const Runner& then = after({one.tick});
        if (then.state() == runner.state() &&
            std::fabs(entered_at(then) - entered_at(runner)) < instant_width.value) {
            return &one;
        }
    }
    return nullptr;
}

const PlayedEvent& History::event(std::size_t number) const {
    return events_[(events_begin_ + number) % most_events];
}

void History::cut(Moment moment) noexcept {
    if (!keeps(moment) || moment == end_) {
        return;
    }
    now_ = kept(moment).at;
    end_ = moment;
    while (events_end_ > events_begin_ && events_[(events_end_ - 1) % most_events].tick >= end_.value) {
        --events_end_;
    }
}

void History::clear() noexcept {
    first_ = end_;
    events_begin_ = events_end_;
}

}  // namespace cursimeter::tryout
