#include "link/others.hpp"

#include <algorithm>
#include <cmath>
#include <cursimeter/detmath.hpp>

#include "core/chart_data.hpp"

namespace cursimeter::link {
namespace {

double length_of(const glm::dvec3& v) {
    return std::sqrt(v.x * v.x + v.y * v.y + v.z * v.z);
}

/// Whether an event can be one of the chart's.
bool charted(const Chart& chart, const wire::ToldEvent& event) {
    if (event.kind > EventKind::crushed) {
        return false;
    }
    switch (subject_of(event.kind)) {
        case EventSubject::state:
            return event.subject < chart.state_count();
        case EventSubject::action:
            return event.subject < chart.action_count();
        case EventSubject::meter:
            return event.subject < chart.meter_count();
        case EventSubject::cooldown:
            return event.subject < chart.cooldown_count();
        case EventSubject::modifier:
            return event.subject < chart.modifier_count();
    }
    return false;
}

}  // namespace

Others::Others(const ClientConfig& config, const std::vector<Chart>& charts)
    : dt_(1.0 / config.tick_rate),
      fade_(config.half_life.value > 0.0 ? detmath::power_of_two(-dt_ / config.half_life.value) : 0.0),
      visible_limit_(config.visible_limit),
      extrapolate_(config.extrapolate.value * config.tick_rate),
      others_(config.runners) {
    for (const Chart& chart : charts) {
        casts_.emplace_back(chart);
    }
    keys_.reserve(config.runners);
    events_.reserve(config.runners * 4 + 64);
}

void Others::start(std::uint32_t snapshot_every) {
    every_ = snapshot_every;
    steps_ = {dt_, snapshot_every};
    for (Other& other : others_) {
        other.known = other.visible = false;
        other.told = 0;
    }
    keys_.clear();
    events_.clear();
    events_next_ = 0;
}

const Others::Kept* Others::kept(const Other& other, SnapshotNumber number) const {
    const Kept& there = other.kept[number % other.kept.size()];
    return other.known && there.here && there.number == number ? &there : nullptr;
}

Replica Others::base_of(const Other& other, SnapshotNumber base, SnapshotNumber now,
                        const Replica* wishes) const {
    return predict_to(casts_[other.chart], steps_, other.kept[base % other.kept.size()].replica, base, now,
                      wishes);
}

bool Others::read(wire::Reader& reader, SnapshotNumber number, std::uint32_t usual_base,
                  std::vector<News>& news) const {
    wire::EntryModels models;
    std::uint16_t from = 0;
    news.clear();
    for (;;) {
        bool more = false;
        reader.bit(models.more, more);
        if (!more) {
            return true;
        }
        if (news.size() == news.capacity()) {
            return false;
        }
        News& one = news.emplace_back();
        wire::code(reader, models, one.entry, from);
        if (one.entry.place < from || one.entry.place >= others_.size()) {
            return false;
        }
        from = static_cast<std::uint16_t>(one.entry.place + 1);
        const Other& other = others_[one.entry.place];
        Replica base;
        SnapshotNumber base_number = number;
        std::size_t chart = other.chart;
        switch (one.entry.kind) {
            case wire::EntryKind::gone:
                continue;
            case wire::EntryKind::whole:
                chart = one.entry.chart;
                break;
            case wire::EntryKind::by_other_base:
            case wire::EntryKind::by_usual_base: {
                const std::uint32_t ago =
                    one.entry.kind == wire::EntryKind::by_usual_base ? usual_base : one.entry.base;
                if (ago == 0 || ago >= wire::replicas_kept) {
                    return false;
                }
                if (const Kept* there = kept(other, number - ago); there != nullptr) {
                    base = there->replica;
                    base_number = number - ago;
                } else if (number < other.told) {
                    one.outdated = true;  // overtaken by the news that this runner is gone
                } else {
                    return false;
                }
                break;
            }
        }
        if (chart >= casts_.size()) {
            return false;
        }
        bool told = false;
        reader.bit(models.told, told);
        if (told) {
            std::uint32_t age = 0;
            wire::count(reader, models.age, age);
            if (age >= wire::replicas_kept || age > number) {
                return false;
            }
            one.told = number - age;
            wire::code_replica(reader, models.replica, one.replica, base, one.told * every_ * fine_steps,
                               [&](const Replica* wishes) {
                                   return base_number == number || one.told < base_number
                                              ? wire::from_nothing(wishes)
                                              : base_of(other, base_number, one.told, wishes);
                               });
        } else if (base_number == number && !one.outdated) {
            return false;
        } else {
            one.told = base_number;
            one.replica = base;
        }
        if (!one.outdated && !wire::charted(casts_[chart].chart, one.replica)) {
            return false;
        }
        bool eventful = false;
        reader.bit(models.eventful, eventful);
        if (eventful) {
            reader.bit(models.all_events, one.all_events);
            reader.bits(one.first_event, 10);
        }
        while (eventful) {
            if (one.event_count == wire::most_events_told) {
                return false;
            }
            wire::ToldEvent& event = one.events[one.event_count++];
            wire::code(reader, models, event, number * every_ * wire::event_time_steps);
            if (!one.outdated && !charted(casts_[chart].chart, event)) {
                return false;
            }
            reader.bit(models.several, eventful);
        }
    }
}

void Others::take(SnapshotNumber number, std::span<const News> news, ClientStatistics& statistics) {
    for (const News& one : news) {
        take_one(others_[one.entry.place], number, one, statistics);
    }
}

void Others::take_one(Other& other, SnapshotNumber number, const News& news, ClientStatistics& statistics) {
    const wire::Entry& entry = news.entry;
    const bool older = number < other.told;
    bool begins = false;  // its changes of state are told from here on
    if (news.outdated) {
        return;
    }
    if (entry.kind == wire::EntryKind::gone) {
        if (other.known && !older) {
            other.told = number;
            other.gone = std::min(other.gone.value_or(number), number);
        }
        return;
    }
    if (entry.kind == wire::EntryKind::whole) {
        const RunnerKey key{entry.place, entry.life};
        if (older && (!other.known || other.key != key)) {
            return;  // about one that is gone by now
        }
        if (!other.known || other.key != key || (other.gone && !older)) {
            const bool same = other.known && other.key == key;
            const std::uint32_t next = same ? expand(entry.next_event, other.next_event) : entry.next_event;
            const glm::dvec3 place = other.place;
            const bool visible = same && other.visible;
            const SnapshotNumber told = other.told;
            other = {};
            other.told = told;
            other.known = true;
            other.key = key;
            other.chart = static_cast<std::uint8_t>(entry.chart);
            other.next_event = next;
            other.first = number;
            begins = true;
            other.place = place;
            other.visible = visible;
        } else {
            // Told again from nothing: what happened in between was told, or out of view.
            const std::uint32_t next = expand(entry.next_event, other.next_event);
            while (static_cast<std::int32_t>(next - other.next_event) > 0) {
                other.here.reset(other.next_event++ % event_places);
            }
        }
    }
    // Was it going on by the chart alone? Then the news may move what is shown, and that fades.
    const bool bridged = other.visible && time_ > other.newest * static_cast<double>(every_);
    Runner runner;
    glm::dvec3 before{0.0}, after{0.0};
    Replica latest;
    bool waiting = false;
    const std::uint8_t teleports = other.kept[other.newest % other.kept.size()].replica.teleports;
    const bool was = bridged && locate(other, time_, runner, before, latest, waiting);

    // The server has told all of the time since then by this: it fills in what was lost on the way, too.
    Replica replica = news.replica;
    for (SnapshotNumber at = news.told; at != number; ++at) {
        Kept& between = other.kept[at % other.kept.size()];
        if (at >= other.first && (!between.here || between.number != at)) {
            between = {at, true, replica};
        }
        replica = predict_to(casts_[other.chart], steps_, replica, at, at + 1, nullptr);
    }
    other.kept[number % other.kept.size()] = {number, true, replica};
    other.state = begins ? replica.state : other.state;
    other.newest = std::max(other.newest, number);
    other.told = std::max(other.told, number);
    if (was && teleports == news.replica.teleports && locate(other, time_, runner, after, latest, waiting)) {
        other.offset += before - after;
        if (length_of(other.offset) > visible_limit_) {
            other.offset = glm::dvec3(0.0);
        }
    }
    take_events(other, news, statistics);
}

void Others::take_events(Other& other, const News& news, ClientStatistics& statistics) {
    if (news.event_count == 0) {
        return;
    }
    // Ten bits say which it is, near the next one to show.
    const std::uint32_t ahead = (news.first_event - other.next_event + 512U) & 1023U;
    const std::uint32_t first = other.next_event + ahead - 512U;
    const auto give_up_before = [&](std::uint32_t number) {
        while (static_cast<std::int32_t>(number - other.next_event) > 0) {
            statistics.events_skipped += other.here.test(other.next_event % event_places) ? 0 : 1;
            other.here.reset(other.next_event++ % event_places);
        }
    };
    if (news.all_events && !other.here.test(other.next_event % event_places)) {
        give_up_before(first);
    }
    for (std::uint32_t i = 0; i < news.event_count; ++i) {
        const std::uint32_t number = first + i;
        if (static_cast<std::int32_t>(number - other.next_event) < 0) {
            continue;  // shown before
        }
        if (number - other.next_event >= event_places) {
            give_up_before(number - event_places + 1);
        }
        other.events[number % event_places] = news.events[i];
        other.here.set(number % event_places);
    }
}

Runner Others::carry_far(const Other& other, const Kept& from, double ticks, const Replica* wishes) const {
    const Cast& cast = casts_[other.chart];
    Replica now = from.replica;
    std::uint16_t on_before = now.on;
    double wished = ticks + 1.0;
    if (wishes != nullptr) {
        const auto ahead = static_cast<std::int32_t>(wishes->changed - from.number * steps_.fine());
        wished = std::max(0.0, ahead / static_cast<double>(fine_steps));
    }
    for (;;) {
        if (wishes != nullptr && wished <= 0.0) {
            take_wishes(*wishes, now);
            wishes = nullptr;
        }
        const double part =
            std::min({ticks, static_cast<double>(every_), wishes != nullptr ? wished : ticks});
        if (part >= ticks) {
            return carry_on(cast, now, std::max(0.0, ticks) * dt_, on_before);
        }
        now = predict(cast, now, part * dt_, on_before);
        on_before = now.on;
        ticks -= part;
        wished -= part;
    }
}

/// What has to be added to the course that the chart took from the one replica, so that it ends in the other. Evenly
/// over time; or where a state was entered in between, only from then on, and on the way that leads to the other.
glm::dvec3 Others::lead_over(const Other& other, const Kept& before, const Kept& after, double ticks,
                             double whole, const glm::dvec3& place) const {
    const double begun = before.number * static_cast<double>(every_);
    double turn = 0.0;
    if (before.replica.state != after.replica.state) {
        for (std::uint32_t i = 0; i < wire::most_events_told; ++i) {
            const std::uint32_t number = other.next_event + i - wire::most_events_told / 2;
            const wire::ToldEvent& event = other.events[number % event_places];
            const double at = event.time / static_cast<double>(wire::event_time_steps) - begun;
            if (event.kind == EventKind::entered && event.subject == after.replica.state && at > turn &&
                at < whole) {
                turn = at;
            }
        }
    }
    const glm::dvec3 end = position_of(after.replica);
    const Replica* wishes = same_wishes(before.replica, after.replica) ? nullptr : &after.replica;
    const glm::dvec3 off = end - position_of(base_of(other, before.number, after.number, wishes));
    if (turn > 0.0) {
        const glm::dvec3 velocity = velocity_of(after.replica);
        const glm::dvec3 from = carry_far(other, before, turn, wishes).position();
        const auto back = [&](double at) { return end - velocity * ((whole - at) * dt_); };
        const glm::dvec3 apart = from - back(turn);
        if (length_of(apart) < length_of(off)) {
            return ticks <= turn ? glm::dvec3(0.0)
                                 : back(ticks) + apart * ((whole - ticks) / (whole - turn)) - place;
        }
    }
    return off * (ticks / whole);
}

bool Others::locate(const Other& other, double time, Runner& runner, glm::dvec3& place, Replica& latest,
                    bool& waiting) const {
    // The last replica at or before the time, and the first after it.
    const double at = time / every_;
    if (at < other.first) {
        return false;
    }
    auto number = std::min(static_cast<SnapshotNumber>(at), other.newest);
    const Kept* before = nullptr;
    for (std::size_t i = 0; i < other.kept.size() && number >= other.first; ++i, --number) {
        before = kept(other, number);
        if (before != nullptr || number == 0) {
            break;
        }
    }
    if (before == nullptr) {
        return false;
    }
    const Kept* after = nullptr;
    for (SnapshotNumber next = before->number + 1; next <= other.newest && after == nullptr; ++next) {
        after = kept(other, next);
    }
    latest = before->replica;
    const double begun = before->number * static_cast<double>(every_);
    double ticks = std::max(0.0, time - begun);
    waiting = after == nullptr && ticks > 0.0;
    ticks = after == nullptr ? std::min(ticks, extrapolate_) : ticks;
    const bool wished = after != nullptr && !same_wishes(before->replica, after->replica);
    runner = carry_far(other, *before, ticks, wished ? &after->replica : nullptr);
    place = runner.position();
    if (after != nullptr && after->replica.teleports == before->replica.teleports) {
        const double whole = (after->number - before->number) * static_cast<double>(every_);
        place += lead_over(other, *before, *after, ticks, whole, place);
    }
    return true;
}

void Others::show_one(Other& other, double time) {
    const glm::dvec3 last = other.place;
    glm::dvec3 place{0.0};
    if (!locate(other, time, other.runner, place, other.latest, other.waiting)) {
        return;
    }
    other.offset *= fade_;
    other.place = place + other.offset;
    if (other.visible) {
        const glm::dvec3 way = other.place - last;
        other.distance += std::sqrt(way.x * way.x + way.y * way.y);
    }
    other.visible = true;
    detail::RunnerState& state = detail::RunnerAccess::state(other.runner);
    state.position = other.place;
    state.distance = other.distance;
    state.state = other.state;
}

void Others::show(double time) {
    time_ = time;
    keys_.clear();
    for (Other& other : others_) {
        if (!other.known) {
            continue;
        }
        if (other.gone && time >= *other.gone * static_cast<double>(every_)) {
            other.known = other.visible = false;
            continue;
        }
        show_one(other, time);
        if (other.visible) {
            keys_.push_back(other.key);
        }
    }
    tell_events(time);
}

void Others::tell_events(double time) {
    if (events_next_ == events_.size()) {
        events_.clear();
        events_next_ = 0;
    }
    const std::size_t begin = events_.size();
    for (const RunnerKey key : keys_) {
        Other& other = others_[key.place];
        while (other.here.test(other.next_event % event_places) && events_.size() < events_.capacity()) {
            const wire::ToldEvent& event = other.events[other.next_event % event_places];
            const double at = event.time / static_cast<double>(wire::event_time_steps);
            if (at > time) {
                break;
            }
            other.here.reset(other.next_event++ % event_places);
            if (event.kind == EventKind::entered) {
                other.state = event.subject;
                detail::RunnerAccess::state(other.runner).state = event.subject;
            }
            events_.push_back(
                {key, at, event.kind, event.subject, event.which, event.rising, event.value / 10.0});
        }
    }
    std::stable_sort(events_.begin() + static_cast<std::ptrdiff_t>(begin), events_.end(),
                     [](const RemoteEvent& a, const RemoteEvent& b) { return a.at < b.at; });
}

std::optional<Shown> Others::shown(RunnerKey key) const {
    if (key.place >= others_.size()) {
        return std::nullopt;
    }
    const Other& other = others_[key.place];
    if (!other.visible || other.key != key) {
        return std::nullopt;
    }
    Shown shown;
    shown.key = key;
    shown.chart = other.chart;
    shown.runner = other.runner;
    shown.position = other.place;
    shown.state = StateId{other.state};
    shown.waiting = other.waiting;
    for (std::size_t i = 0; i < limits::modifiers; ++i) {
        const ReplicaModifier& modifier = other.latest.modifiers[i];
        shown.modifiers[i] = {ModifierId{modifier.modifier}, modifier.strength / 100.0, modifier.stacks};
    }
    shown.blocks = other.latest.blocks;
    return shown;
}

std::optional<RemoteEvent> Others::next_event() {
    if (events_next_ == events_.size()) {
        return std::nullopt;
    }
    return events_[events_next_++];
}

}  // namespace cursimeter::link
