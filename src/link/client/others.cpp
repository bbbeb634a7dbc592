#include "link/client/others.hpp"

#include <algorithm>
#include <cmath>
#include <cursimeter/numbers/detmath.hpp>

#include "core/chart/chart_data.hpp"
#include "core/numbers/space.hpp"
#include "core/want/move_and_look.hpp"
#include "link/client/view_world.hpp"
#include "link/neighbours.hpp"

namespace cursimeter::link {
namespace {

/// m/s that a correction of another adds to its motion at most while it fades: a third of a metre a tick at 60 ticks.
constexpr double fastest_fade = 20.0;

}  // namespace

Others::Others(const ClientConfig& config, const std::vector<Chart>& charts)
    : dt_(1.0 / config.tick_rate),
      half_life_(config.half_life.value),
      extrapolate_(config.extrapolate.value * config.tick_rate),
      others_(config.runners) {
    for (const Chart& chart : charts) {
        casts_.emplace_back(chart);
    }
    there_.reserve(config.runners);
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
    there_.clear();
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

Runner Others::carry_far(const Other& other, const Kept& from, double ticks, const Replica* wishes) const {
    const Cast& cast = casts_[other.chart];
    Replica now = from.replica;
    detail::ActionMask on_before = now.on;
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

Others::Lead Others::lead_between(const Other& other, const Kept& before, const Kept& after,
                                  double whole) const {
    Lead lead{before.number, after.number};
    const double begun = before.number * static_cast<double>(every_);
    if (before.replica.state != after.replica.state) {
        for (std::uint32_t i = 0; i < wire::most_events_told; ++i) {
            const std::uint32_t number = other.next_event + i - wire::most_events_told / 2;
            const wire::ToldEvent& event = other.events[number % event_places];
            const double at = event.time / static_cast<double>(fine_steps) - begun;
            if (event.kind == EventKind::entered && event.subject == after.replica.state && at > lead.bend &&
                at < whole) {
                lead.bend = at;
            }
        }
    }
    lead.end = position_of(after.replica);
    lead.velocity = velocity_of(after.replica);
    const Replica* wishes = same_wishes(before.replica, after.replica) ? nullptr : &after.replica;
    lead.off = lead.end - position_of(base_of(other, before.number, after.number, wishes));
    if (lead.bend > 0.0) {
        lead.apart =
            carry_far(other, before, lead.bend, wishes).position() - lead.back(lead.bend, whole, dt_);
        if (detail::length_of(lead.apart) >= detail::length_of(lead.off)) {
            lead.bend = 0.0;
        }
    }
    return lead;
}

glm::dvec3 Others::Lead::at(double ticks, double whole, double dt, const glm::dvec3& place) const {
    if (bend == 0.0) {
        return off * (ticks / whole);
    }
    return ticks <= bend ? glm::dvec3(0.0)
                         : back(ticks, whole, dt) + apart * ((whole - ticks) / (whole - bend)) - place;
}

/// A mouse moves in every tick, so the look turns evenly, the short way, from when it began to differ.
Look Others::look_between(const Kept& before, const Kept& after, double ticks, double whole) const {
    // What is told is when anything wanted changed first since the snapshot before: all there is to know of one
    // interval.
    const auto changed = static_cast<std::int32_t>(after.replica.changed - before.number * steps_.fine());
    const double told = changed / static_cast<double>(fine_steps);
    const double begun = after.number == before.number + 1 && told > 0.0 && told < whole ? told : 0.0;
    const double part = std::clamp((ticks - begun) / (whole - begun), 0.0, 1.0);
    return turned(look_of(before.replica), look_of(after.replica), part);
}

/// A turn goes on for a snapshot at most: nobody knows when a hand stops.
Look Others::look_beyond(const Other& other, const Kept& last, double ticks) const {
    const Look look = look_of(last.replica);
    const Kept* before = last.number > 0 ? kept(other, last.number - 1) : nullptr;
    if (before == nullptr || before->replica.teleports != last.replica.teleports) {
        return look;
    }
    return turned(look_of(before->replica), look, 1.0 + std::min(ticks / every_, 1.0));
}

bool Others::locate(const Other& other, double time, std::optional<Lead>& lead, Runner& runner,
                    glm::dvec3& place, Replica& latest, bool& waiting) const {
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
    const double whole =
        after != nullptr ? (after->number - before->number) * static_cast<double>(every_) : 0.0;
    const Look look =
        after != nullptr ? look_between(*before, *after, ticks, whole) : look_beyond(other, *before, ticks);
    static_cast<void>(detail::take_look(detail::RunnerAccess::state(runner), look.yaw, look.pitch));
    if (after != nullptr && after->replica.teleports == before->replica.teleports) {
        if (!lead || lead->before != before->number || lead->after != after->number) {
            lead = lead_between(other, *before, *after, whole);
        }
        place += lead->at(ticks, whole, dt_, place);
    }
    return true;
}

void Others::show_one(Other& other, double time) {
    const glm::dvec3 last = other.place;
    glm::dvec3 place{0.0};
    if (!locate(other, time, other.lead, other.runner, place, other.latest, other.waiting)) {
        return;
    }
    if (view_world_ != nullptr && other.waiting) {
        // The chart knows no world; the replica that it goes on from was in a free place.
        const Chart& chart = casts_[other.chart].chart;
        place = kept_out(*view_world_, chart.body(other.runner.state()), other.runner.grounded(),
                         chart.data().body.step_height, position_of(other.latest), place);
    }
    const double off = detail::length_of(other.offset);
    const double most = fastest_fade * passed_;
    other.offset *= off * (1.0 - fade_) > most ? 1.0 - most / off : fade_;
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

void Others::show(double time, double clock) {
    fade_ = half_life_ > 0.0 ? detmath::power_of_two(-(clock - clock_) / half_life_) : 0.0;
    passed_ = clock - clock_;
    clock_ = clock;
    time_ = time;
    keys_.clear();
    std::erase_if(there_, [&](std::uint16_t place) {
        Other& other = others_[place];
        const bool leaves = other.gone && time >= *other.gone * static_cast<double>(every_);
        if (leaves) {
            other.known = other.visible = false;
        }
        return leaves;
    });
    for (const std::uint16_t place : there_) {
        Other& other = others_[place];
        show_one(other, time);
        if (other.visible) {
            keys_.push_back(other.key);
        }
    }
    tell_events(time);
}

void Others::find_at(double time, std::vector<Neighbour>& found) const {
    for (const RunnerKey key : keys_) {
        const Other& other = others_[key.place];
        Runner runner;
        glm::dvec3 place{0.0};
        Replica latest;
        bool waiting = false;
        std::optional<Lead> lead = other.lead;
        if (locate(other, time, lead, runner, place, latest, waiting)) {
            found.push_back(neighbour(key, casts_[other.chart].chart, runner));
            found.back().position = place;
        }
    }
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
            const double at = event.time / static_cast<double>(fine_steps);
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
    shown.look = {other.runner.yaw(), other.runner.pitch()};
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
