#include <algorithm>
#include <cmath>

#include "core/numbers/space.hpp"
#include "link/client/others.hpp"

/// What snapshots say of other runners: read as a whole, then taken in.
namespace cursimeter::link {
namespace {

/// m; what is off by more was not seen for so long that it may as well appear where it is.
constexpr double largest_fade = 30.0;

/// Whether an event can be one of the chart's.
bool charted(const Chart& chart, const wire::ToldEvent& event) {
    if (event.kind > last_event_kind) {
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

Others::Reading Others::read(wire::Reader& reader, SnapshotNumber number, std::uint32_t usual_base,
                             std::vector<News>& news) const {
    wire::EntryModels models = wire::fresh_entry_models;
    std::uint16_t from = 0;
    news.clear();
    for (;;) {
        bool more = false;
        reader.bit(models.more, more);
        if (!more) {
            return Reading::whole;
        }
        if (news.size() == news.capacity()) {
            return Reading::nonsense;
        }
        News& one = news.emplace_back();
        wire::code(reader, models, one.entry, from);
        if (one.entry.place < from || one.entry.place >= others_.size()) {
            return Reading::nonsense;
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
                    return Reading::nonsense;
                }
                if (const Kept* there = kept(other, number - ago); there != nullptr) {
                    base = there->replica;
                    base_number = number - ago;
                } else if (number < other.told && (!other.known || number - ago < other.first)) {
                    one.outdated = true;  // overtaken by the news that this runner is gone
                } else {
                    return Reading::no_base;
                }
                break;
            }
        }
        if (chart >= casts_.size()) {
            return Reading::nonsense;
        }
        bool told = false;
        reader.bit(models.told, told);
        if (told) {
            std::uint32_t age = 0;
            wire::count(reader, models.age, age);
            if (age >= wire::replicas_kept || age > number) {
                return Reading::nonsense;
            }
            one.told = number - age;
            wire::code_replica(reader, models.replica, one.replica, base,
                               (base_number == number ? one.told : base_number) * every_ * fine_per_tick,
                               one.told * every_ * fine_per_tick, [&](const Replica* wishes) {
                                   return base_number == number || one.told < base_number
                                              ? wire::from_nothing(wishes)
                                              : rounded(base_of(other, base_number, one.told, wishes));
                               });
        } else if (base_number == number && !one.outdated) {
            return Reading::nonsense;
        } else {
            one.told = base_number;
            one.replica = base;
        }
        if (!one.outdated && !wire::charted(casts_[chart].chart, one.replica)) {
            return Reading::nonsense;
        }
        const wire::Entered known = wire::entered_by(one.replica, one.told * every_ * fine_per_tick, dt_);
        bool eventful = false;
        reader.bit(models.eventful, eventful);
        if (eventful) {
            reader.bit(models.all_events, one.all_events);
            reader.bits(one.first_event, 10);
        }
        while (eventful) {
            if (one.event_count == wire::most_events_told) {
                return Reading::nonsense;
            }
            wire::ToldEvent& event = one.events[one.event_count++];
            wire::code(reader, models, event, number * every_ * fine_per_tick, known);
            if (!one.outdated && !charted(casts_[chart].chart, event)) {
                return Reading::nonsense;
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
        if (!older) {
            // Also of one that was never known here: what told of it may still be on its way.
            other.told = number;
            if (other.known) {
                other.gone = std::min(other.gone.value_or(number), number);
            }
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
            if (!other.known) {
                there_.insert(std::upper_bound(there_.begin(), there_.end(), entry.place), entry.place);
            }
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
    const std::uint8_t teleports = other.kept[other.newest % other.kept.size()].replica.teleports;
    const std::optional<Located> before = bridged ? locate(other, time_, other.way) : std::nullopt;

    // The server has told all of the time since then by this: it fills in what was lost on the way, too.
    Replica replica = news.replica;
    for (SnapshotNumber at = news.told; at != number; ++at) {
        Kept& between = other.kept[at % other.kept.size()];
        if (at >= other.first && (!between.here || between.number != at)) {
            between = {at, true, replica};
        }
        replica = predict_to(casts_[other.chart], interval_, replica, at, at + 1, nullptr);
    }
    other.kept[number % other.kept.size()] = {number, true, replica};
    other.state = begins ? replica.state : other.state;
    other.newest = std::max(other.newest, number);
    other.told = std::max(other.told, number);
    other.way.lead.reset();
    const std::optional<Located> after =
        before && teleports == news.replica.teleports ? locate(other, time_, other.way) : std::nullopt;
    if (after) {
        other.offset += before->place - after->place;
        if (detail::length_of(other.offset) > largest_fade) {
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

}  // namespace cursimeter::link
