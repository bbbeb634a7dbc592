#include "link/server/crowd.hpp"

#include <algorithm>
#include <cmath>
#include <stdexcept>
#include <utility>

#include "core/chart/chart_data.hpp"

namespace cursimeter::link {
Crowd::Crowd(const std::vector<Chart>& charts, const ServerConfig& config)
    : dt_(1.0 / config.tick_rate),
      interval_{1.0 / config.tick_rate, config.snapshot_every},
      told_events_(config.events),
      actors_(config.runners),
      neighbours_(config.runners) {
    for (const Chart& chart : charts) {
        casts_.emplace_back(chart);
    }
    const auto ticks = static_cast<std::size_t>(std::ceil(config.history.value * config.tick_rate)) + 2;
    for (std::size_t i = 0; i < actors_.size(); ++i) {
        actors_[i].trail.resize(ticks);
    }
}

std::optional<RunnerKey> Crowd::spawn(std::size_t chart, const Placement& placement,
                                      std::optional<SeatId> owner, std::size_t player, Tick now) {
    const Runner runner = cursimeter::spawn(casts_.at(chart).chart, placement);
    for (std::size_t i = 0; i < actors_.size(); ++i) {
        Actor& actor = actors_[i];
        if (actor.used) {
            continue;
        }
        actor.used = true;
        actor.fresh = true;
        actor.chart = static_cast<std::uint8_t>(chart);
        actor.owner = owner;
        actor.player = static_cast<std::uint8_t>(player);
        actor.runner = runner;
        actor.directed = {};
        actor.rising = 0.0;
        actor.since = now.value;
        const Look look{placement.yaw, 0.0};
        actor.trail[now.value % actor.trail.size()] = {placement.position, {},        look,
                                                       runner.state(),     now.value, actor.teleports};
        return key(i);
    }
    return std::nullopt;
}

void Crowd::despawn(std::uint16_t place) {
    Actor& actor = actors_[place];
    actor.used = false;
    actor.owner.reset();
    ++actor.life;
}

bool Crowd::exists(RunnerKey key) const {
    return key.place < actors_.size() && actors_[key.place].used && actors_[key.place].life == key.life;
}

Actor& Crowd::at(RunnerKey key) {
    if (!exists(key)) {
        throw std::out_of_range("there is no runner with this key (despawned?)");
    }
    return actors_[key.place];
}

void Crowd::note_event(Actor& actor, const Event& event, Tick tick) {
    if ((told_events_ & event_bit(event.kind)) == 0) {
        return;
    }
    wire::ToldEvent& told = actor.events[actor.next_event % events_kept];
    ++actor.next_event;
    const double part = std::floor(event.at / dt_ * fine_per_tick);
    const double most = fine_per_tick;
    told.time = (tick.value - 1) * fine_per_tick +
                static_cast<std::uint32_t>(part > 0.0 ? std::min(part, most) : 0.0);
    told.kind = event.kind;
    told.subject = event.subject;
    told.which = event.which;
    told.rising = event.rising;
    told.value = wire::tells_value(event.kind)
                     ? static_cast<std::int32_t>(std::clamp(event.value * 10.0, -1e6, 1e6))
                     : 0;
}

/// When its move or actions have changed: at the first of the intent's changes, or else with the tick.
void Crowd::note_wishes(Actor& actor, const Intent& intent, Tick tick) const {
    for (const Event& event : actor.report.events()) {
        if (event.kind == EventKind::pressed) {
            actor.pressed |= key_bit(ActionId{event.subject});
        }
    }
    Replica wishes;
    observe_wishes(actor.runner, wishes);
    const bool tapped = (actor.pressed & ~wishes.on) != 0;
    if (!actor.acted_at && (tapped || !same_acts(wishes, actor.wishes))) {
        const double at = intent.changes.empty() ? 0.0 : intent.changes.front().at / dt_;
        actor.acted_at = (tick.value - 1) * fine_per_tick +
                         static_cast<FineTime>(std::clamp(at, 0.0, 1.0) * (fine_per_tick - 1));
    }
    actor.wishes = wishes;
}

void Crowd::note_neighbours(bool wanted) {
    neighbours_.clear();
    for (std::size_t i = 0; wanted && i < actors_.size(); ++i) {
        const Actor& actor = actors_[i];
        if (actor.used) {
            neighbours_.add(key(i), cast(actor).chart, actor.runner);
        }
    }
}

void Crowd::advance(Actor& actor, const StatedIntent& intent, Advancer& advancer, Tick tick) {
    const Chart& chart = cast(actor).chart;
    const double height = actor.runner.position().z;
    const bool grounded = actor.runner.grounded();
    const auto place = static_cast<std::size_t>(&actor - actors_.data());
    actor.played = intent;
    const PlayedIntent played(intent, dt_);
    neighbours_.around(place, [&](std::span<const Neighbour> others) {
        actor.report =
            advancer.advance_runner(chart, actor.runner, played.intent(),
                                    {tick, Seconds{dt_}, key(place), false, intent.extra.bytes(), others});
    });
    for (const Event& event : actor.report.events()) {
        note_event(actor, event, tick);
    }
    note_wishes(actor, played.intent(), tick);
    const Runner& runner = actor.runner;
    actor.rising = grounded && runner.grounded() ? (runner.position().z - height) / dt_ : 0.0;
    Trail& trail = actor.trail[tick.value % actor.trail.size()];
    trail.position = runner.position();
    trail.velocity = runner.velocity();
    trail.look = {runner.yaw(), detail::RunnerAccess::state(runner).look_pitch};
    trail.state = runner.state();
    trail.tick = tick.value;
    trail.teleports = actor.teleports;
}

void Crowd::take_snapshot(SnapshotNumber number) {
    for (std::size_t i = 0; i < actors_.size(); ++i) {
        Actor& actor = actors_[i];
        if (!actor.used) {
            continue;
        }
        const Cast& from = cast(actor);
        Replica truth = observe(from, actor.runner, actor.rising, actor.teleports);
        truth.on |= actor.pressed;
        actor.pressed = 0;
        Replica& now = actor.told[number % wire::replicas_kept];
        const auto acted_at = std::exchange(actor.acted_at, std::nullopt);
        if (actor.fresh) {
            actor.fresh = false;
            actor.refreshed = number;
            now = rounded(truth);
            continue;
        }
        const Replica& before = actor.told[(number - 1) % wire::replicas_kept];
        // What nobody changed in between differs since that snapshot: an action that was only tapped before it.
        truth.changed =
            acted_at.value_or(same_acts(before, truth) ? before.changed : (number - 1) * interval_.fine());
        truth.turned = still_until(actor, before, number - 1, number);
        const bool wished = wishes_differ(before, truth);
        const Replica predicted =
            predict_to(from, interval_, before, number - 1, number, wished ? &truth : nullptr);
        now = settle_on(predicted, truth);
        if (wished || actor.wanted_whole || !(now == predicted)) {
            now = rounded(now);
            actor.refreshed = number;
            actor.wanted_whole = false;
        }
    }
}

FineTime Crowd::still_until(const Actor& actor, const Replica& base, SnapshotNumber from,
                            SnapshotNumber to) const {
    const std::uint32_t begin = from * interval_.every, end = to * interval_.every;
    for (std::uint32_t tick = begin + 1; tick < end; ++tick) {
        const Trail& there = actor.trail[tick % actor.trail.size()];
        if (there.tick != tick) {
            return begin * fine_per_tick;  // too long ago
        }
        Replica looking;
        observe_look(there.look, looking);
        if (looks_differ(base, looking)) {
            return (tick - 1) * fine_per_tick;
        }
    }
    return (end - 1) * fine_per_tick;
}

Replica Crowd::told_by(std::size_t place, SnapshotNumber base) const {
    const Actor& actor = actors_[place];
    Replica told = actor.told[actor.refreshed % wire::replicas_kept];
    told.turned = still_until(actor, actor.told[base % wire::replicas_kept], base, actor.refreshed);
    return told;
}

Replica Crowd::expected(std::size_t place, SnapshotNumber base, const Replica& told) const {
    const Actor& actor = actors_[place];
    const Replica& from = actor.told[base % wire::replicas_kept];
    const bool wished = !same_wishes(from, told);
    return rounded(predict_to(cast(actor), interval_, from, base, actor.refreshed, wished ? &told : nullptr));
}

std::optional<Seen> Crowd::seen(const Actor& actor, double time) const {
    const double whole = std::floor(time);
    const auto tick = static_cast<std::uint32_t>(whole);
    const Trail& before = actor.trail[tick % actor.trail.size()];
    const Trail& after = actor.trail[(tick + 1) % actor.trail.size()];
    if (before.tick != tick || tick < actor.since) {
        return std::nullopt;
    }
    Seen seen;
    seen.at = time;
    const double part = time - whole;
    const bool between = after.tick == tick + 1 && after.teleports == before.teleports;
    seen.position = between ? before.position + (after.position - before.position) * part : before.position;
    seen.velocity = between ? before.velocity + (after.velocity - before.velocity) * part : before.velocity;
    seen.look = between ? turned(before.look, after.look, part) : before.look;
    seen.state = before.state;
    seen.body = cast(actor).chart.body(before.state);
    return seen;
}

}  // namespace cursimeter::link
