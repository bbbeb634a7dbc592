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
/// Ticks after any snapshot.
constexpr double never_pressed = 1e9;

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
    interval_ = {dt_, snapshot_every};
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
    return predict_to(casts_[other.chart], interval_, other.kept[base % other.kept.size()].replica, base, now,
                      wishes);
}

double Others::entered_between(const Other& other, const Kept& before, const Kept& after,
                               double whole) const {
    if (before.replica.state == after.replica.state) {
        return 0.0;
    }
    const double begun = before.number * static_cast<double>(every_);
    double entered = 0.0;
    for (std::uint32_t i = 0; i < wire::most_events_told; ++i) {
        const std::uint32_t number = other.next_event + i - wire::most_events_told / 2;
        const wire::ToldEvent& event = other.events[number % event_places];
        const double at = event.time / static_cast<double>(fine_per_tick) - begun;
        if (event.kind == EventKind::entered && event.subject == after.replica.state && at > entered &&
            at < whole) {
            entered = at;
        }
    }
    // An event is told twice, and if both are lost not again for a round trip. The age says it less finely.
    const double by_age = whole - after.replica.age * replica_age / dt_;
    return entered > 0.0 ? entered : by_age > 0.0 && by_age < whole ? by_age : 0.0;
}

Others::Lead Others::lead_between(const Other& other, const Kept& before, const Kept& after, double whole,
                                  double ticks, Continuation& onward) const {
    Lead lead;
    lead.before = before.number;
    lead.after = after.number;
    lead.bend = entered_between(other, before, after, whole);
    lead.look = look_between(other, before, after, whole);
    lead.end = position_of(after.replica);
    lead.velocity = velocity_of(after.replica);
    lead.wishes = wishes_between(other, before.replica, after.replica, lead.bend);
    const Cast& cast = casts_[other.chart];
    onward.begin(interval_, before.number, before.replica, lead.wishes);
    // What is ahead is found by a copy: the frames after this one ask for what lies before that.
    static_cast<void>(onward.take_to(cast, lead.bend > 0.0 ? std::min(lead.bend, ticks) : ticks));
    Continuation ahead = onward;
    glm::dvec3 bend{0.0};
    if (lead.bend > 0.0) {
        bend = ahead.take_to(cast, lead.bend).position;
    }
    lead.off = lead.end - ahead.take_to(cast, whole).position;
    if (lead.bend > 0.0) {
        lead.apart = bend - lead.back(lead.bend, whole, dt_);
        const double apart = detail::length_of(lead.apart);
        if (apart >= detail::length_of(lead.off)) {
            lead.bend = 0.0;
        }
        lead.early = lead.bend > whole - lead.bend && apart > fastest_fade * dt_ * (whole - lead.bend);
    }
    return lead;
}

std::optional<Wishes> Others::wishes_between(const Other& other, const Replica& before, const Replica& after,
                                             double entered) const {
    if (same_wishes(before, after)) {
        return std::nullopt;
    }
    Wishes wishes{after, std::nullopt};
    if (entered > 0.0) {
        wishes.pressed = entered;
    } else if (before.state == after.state &&
               !casts_[other.chart].chart.data().states[after.state].traits.aims_in_space) {
        wishes.pressed = never_pressed;  // no state was entered; a flier's keys lead it all the same
    }
    return wishes;
}

glm::dvec3 Others::Lead::at(double ticks, double whole, double dt, const glm::dvec3& place) const {
    if (bend == 0.0) {
        return off * (ticks / whole);
    }
    if (ticks <= bend) {
        return early ? apart * (-ticks / bend) : glm::dvec3(0.0);
    }
    const double left = early ? 0.0 : (whole - ticks) / (whole - bend);
    return back(ticks, whole, dt) + apart * left - place;
}

std::optional<Others::Located> Others::locate(const Other& other, double time, Way& way) const {
    // The last replica at or before the time, and the first after it.
    const double at = time / every_;
    if (at < other.first) {
        return std::nullopt;
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
        return std::nullopt;
    }
    const Kept* after = nullptr;
    for (SnapshotNumber next = before->number + 1; next <= other.newest && after == nullptr; ++next) {
        after = kept(other, next);
    }
    const double begun = before->number * static_cast<double>(every_);
    double ticks = std::max(0.0, time - begun);
    const bool waiting = after == nullptr && ticks > 0.0;
    ticks = after == nullptr ? std::min(ticks, extrapolate_) : ticks;
    const double whole =
        after != nullptr ? (after->number - before->number) * static_cast<double>(every_) : 0.0;
    const Cast& cast = casts_[other.chart];
    if (after == nullptr) {
        way.lead.reset();
        way.onward.begin(interval_, before->number, before->replica, std::nullopt);
    } else if (!way.lead || way.lead->before != before->number || way.lead->after != after->number) {
        way.lead = lead_between(other, *before, *after, whole, ticks, way.onward);
    }
    const Carried carried = way.onward.take_to(cast, ticks);
    Located located{carried.position, carried.velocity,
                    after != nullptr ? way.lead->look.at(ticks, whole) : look_beyond(other, *before, ticks),
                    &before->replica, waiting};
    if (after != nullptr && after->replica.teleports == before->replica.teleports) {
        located.place += way.lead->at(ticks, whole, dt_, located.place);
    }
    return located;
}

void Others::show_one(Other& other, double time) {
    const glm::dvec3 last = other.place;
    const std::optional<Located> located = locate(other, time, other.way);
    if (!located) {
        return;
    }
    glm::dvec3 place = located->place;
    other.velocity = located->velocity;
    other.look = located->look;
    other.waiting = located->waiting;
    other.modifiers = located->latest->modifiers;
    other.blocks = located->latest->blocks;
    if (view_world_ != nullptr && other.waiting) {
        // The chart knows no world; the replica that it goes on from was in a free place.
        const Chart& chart = casts_[other.chart].chart;
        const Runner& runner = other.way.onward.by_chart();
        place = kept_out(*view_world_, chart.body(runner.state()), runner.grounded(),
                         chart.data().body.step_height, position_of(*located->latest), place);
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
        Way way = other.way;
        if (const auto located = locate(other, time, way)) {
            found.push_back({key, located->place, located->velocity, located->look,
                             casts_[other.chart].chart.body(way.onward.by_chart().state())});
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
            const double at = event.time / static_cast<double>(fine_per_tick);
            if (at > time) {
                break;
            }
            other.here.reset(other.next_event++ % event_places);
            if (event.kind == EventKind::entered) {
                other.state = event.subject;
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
    shown.runner = other.way.onward.by_chart();
    detail::RunnerState& state = detail::RunnerAccess::state(shown.runner);
    state.position = other.place;
    state.velocity = other.velocity;
    state.distance = other.distance;
    state.state = other.state;
    static_cast<void>(detail::take_look(state, other.look.yaw, other.look.pitch));
    shown.position = other.place;
    shown.look = other.look;
    shown.state = StateId{other.state};
    shown.waiting = other.waiting;
    for (std::size_t i = 0; i < limits::modifiers; ++i) {
        const ReplicaModifier& modifier = other.modifiers[i];
        shown.modifiers[i] = {ModifierId{modifier.modifier}, modifier.strength / 100.0, modifier.stacks};
    }
    shown.blocks = other.blocks;
    return shown;
}

std::optional<RemoteEvent> Others::next_event() {
    if (events_next_ == events_.size()) {
        return std::nullopt;
    }
    return events_[events_next_++];
}

}  // namespace cursimeter::link
