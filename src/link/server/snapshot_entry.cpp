#include <algorithm>

#include "link/server/snapshot_writer.hpp"

/// What an entry of a snapshot says, as steps: found once for all who have the same baseline.
namespace cursimeter::link {
namespace {

/// How many snapshots an acknowledgement takes, about.
std::uint32_t round_trip(const Seat& seat, SnapshotNumber number) {
    return seat.acked ? number - *seat.acked + 2 : 4;
}

/// The first event to tell now: each is told in two entries in a row, so that single losses delay nothing, and then
/// again when acknowledgements are overdue.
std::uint32_t first_to_tell(const Actor& actor, View& view, const Seat& seat, SnapshotNumber number) {
    if (actor.next_event - view.event_acked > events_kept) {
        // The server no longer keeps them. The client counts what it never hears of.
        view.event_acked = actor.next_event - events_kept;
        view.events_came.reset();
    }
    const auto later = [](std::uint32_t a, std::uint32_t b) {
        return static_cast<std::int32_t>(a - b) > 0 ? a : b;
    };
    if (view.event_acked == actor.next_event || number - view.all_events_at >= round_trip(seat, number)) {
        view.all_events_at = number;
        return view.event_acked;
    }
    return later(view.event_acked, view.events_told[1]);
}

}  // namespace

void SnapshotWriter::forget() {
    for (std::vector<Told>& known : told_) {
        known.clear();
    }
    replicas_.clear();
}

std::span<const wire::Step> SnapshotWriter::replica(const Crowd& crowd, std::size_t place,
                                                    SnapshotNumber base) {
    for (const Told& told : told_[place]) {
        if (told.base == base) {
            return replicas_.steps(told.begin, told.end);
        }
    }
    if (replicas_.size() + wire::most_replica_steps > replicas_.capacity()) {
        forget();
    }
    const std::size_t begin = replicas_.size();
    const Actor& actor = crowd.actors()[place];
    const FineTime interval = every_ * fine_per_tick, now = actor.refreshed * interval;
    if (base == 0) {
        Replica replica = actor.told[actor.refreshed % wire::replicas_kept];
        replica.turned = now;
        wire::code_replica(replicas_, models_.replica, replica, Replica{}, now, now, wire::from_nothing);
    } else {
        Replica replica = crowd.told_by(place, base);
        const Replica expected = crowd.expected(place, base, replica);
        wire::code_replica(replicas_, models_.replica, replica, actor.told[base % wire::replicas_kept],
                           base * interval, now, [&](const Replica*) { return expected; });
    }
    told_[place].push_back({base, begin, replicas_.size()});
    return replicas_.steps(begin, replicas_.size());
}

SnapshotWriter::EntrySteps SnapshotWriter::entry(const Crowd& crowd, Seat& seat, SentSnapshot& sent,
                                                 const Shortlist::Candidate& candidate, std::uint16_t from,
                                                 SnapshotNumber number) {
    here_.clear();
    bool more = true;
    here_.bit(models_.more, more);
    const std::uint16_t place = candidate.place;
    const Actor& actor = crowd.actors()[place];
    View& view = seat.views[place];
    view.priority = 0.0F;
    wire::Entry entry;
    entry.place = place;
    const SnapshotNumber usual = seat.usual_base(number);
    const SnapshotNumber base_number = candidate.base;
    if (view.leaving) {
        entry.kind = wire::EntryKind::gone;
        wire::code(here_, models_, entry, from);
        sent.entries.push_back({place, true, 0, 0});
        return {here_.steps(0, here_.size())};
    }
    view.note_sent(number);
    if (base_number == 0) {
        entry.kind = wire::EntryKind::whole;
        entry.life = actor.life;
        entry.chart = actor.chart;
        entry.next_event = static_cast<std::uint16_t>(view.first_event);
    } else if (base_number != usual) {
        entry.kind = wire::EntryKind::by_other_base;
        entry.base = number - base_number;
    }
    wire::code(here_, models_, entry, from);
    const bool anew = base_number == 0 || base_number < actor.refreshed;
    here_.bit(models_.told, anew);
    if (anew) {
        std::uint32_t age = number - actor.refreshed;
        wire::count(here_, models_.age, age);
    }
    const std::size_t head_end = here_.size();
    std::uint32_t first = first_to_tell(actor, view, seat, number);
    const std::uint32_t telling = std::min(actor.next_event - first, wire::most_events_told);
    bool eventful = telling > 0;
    here_.bit(models_.eventful, eventful);
    if (eventful) {
        const SnapshotNumber there = anew ? actor.refreshed : base_number;
        const wire::Entered known = wire::entered_by(actor.told[there % wire::replicas_kept],
                                                     there * every_ * fine_per_tick, tick_seconds_);
        bool all = first == view.event_acked;
        here_.bit(models_.all_events, all);
        here_.bits(first, 10);
        for (std::uint32_t i = 0; i < telling; ++i) {
            wire::ToldEvent told = actor.events[(first + i) % events_kept];
            wire::code(here_, models_, told, number * every_ * fine_per_tick, known);
            more = i + 1 < telling;
            here_.bit(models_.several, more);
        }
    }
    view.events_told = {first + telling, view.events_told[0]};
    sent.entries.push_back({place, false, first, first + telling});
    return {here_.steps(0, head_end),
            anew ? replica(crowd, place, base_number) : std::span<const wire::Step>{},
            here_.steps(head_end, here_.size())};
}

}  // namespace cursimeter::link
