#include "link/server/seat.hpp"

#include <algorithm>
#include <cmath>

namespace cursimeter::link {
namespace {

/// s by which a snapshot may come later than those that were sent after it.
constexpr double overtaken_by = 0.1;
/// Snapshots for which a client may have acknowledged nothing to be told anything by what it has not acknowledged.
constexpr SnapshotNumber longest_bet = 16;

}  // namespace

void View::ack_events(std::uint32_t first, std::uint32_t end) {
    for (std::uint32_t number = first; number != end; ++number) {
        if (static_cast<std::int32_t>(number - event_acked) >= 0) {
            events_came.set(number % events_kept);
        }
    }
    while (events_came.test(event_acked % events_kept)) {
        events_came.reset(event_acked % events_kept);
        ++event_acked;
    }
}

void View::note_sent(SnapshotNumber number) {
    const SnapshotNumber later = number - sent_at;
    sent_bits = sent_bits != 0 && later < 64 ? sent_bits << later | 1U : 1U;
    sent_at = number;
}

void Seat::reserve(const ServerConfig& config) {
    const std::size_t runners = config.runners;
    snapshot_every_ = config.snapshot_every;
    tick_seconds_ = 1.0 / config.tick_rate;
    views.resize(runners);
    intents_.resize(intents_kept);
    wanted_.resize(intents_kept * config.players);
    for (SentSnapshot& snapshot : sent) {
        snapshot.entries.reserve(runners);
    }
}

void Seat::connect(PeerId from, const wire::HelloBody& who, Tick now) {
    used = connected = true;
    peer = from;
    identity = who.identity;
    attempt = who.attempt;
    ticket = who.ticket;
    player_count = who.players;
    heard = progressed = now.value;
    for (SeatPlayer& player : players) {
        player.know_nothing();
        player.wanted = {};
    }
    newest.reset();
    acked.reset();
    in_hand.start();
    std::fill(views.begin(), views.end(), View{});
    for (SentSnapshot& snapshot : sent) {
        snapshot.sent = false;
    }
    std::fill(intents_.begin(), intents_.end(), ReceivedIntents{});
    window_ = 0;
    messages.start();
    viewpoint.reset();
    round_trips = {};
    cost_scale = 1.0;
    view_delay_.start();
    losses_.start();
    decided_ = 0;
    reading = {};
}

bool Seat::admit(std::uint32_t newest_tick, Tick now, double to_next, Statistics& statistics) {
    const std::int32_t ahead = Tick{newest_tick} - now;
    if (ahead > furthest_ahead || ahead < -furthest_ahead) {
        if (ahead > 0) {
            in_hand.hear(newest_tick);
            in_hand.come(ahead - 1 + to_next);  // so that it comes back from there
        }
        ++statistics.far_off;
        return false;
    }
    if (!newest) {
        newest = first_ = newest_tick;
        window_ = 1;
        return true;
    }
    const std::int32_t later = Tick{newest_tick} - Tick{*newest};
    if (later > 0) {
        window_ = later < packet_window ? window_ << static_cast<unsigned>(later) | 1U : 1U;
        newest = newest_tick;
        return true;
    }
    if (later <= -packet_window) {
        ++statistics.far_off;
        return false;
    }
    const std::uint64_t bit = std::uint64_t{1} << static_cast<unsigned>(-later);
    if ((window_ & bit) != 0) {
        ++statistics.repeated;
        return false;
    }
    window_ |= bit;
    return true;
}

void Seat::receive(std::span<const std::byte> bytes, Tick now, double to_next,
                   const ActionsOfPlayers& actions, Statistics& statistics) {
    wire::Reader reader(bytes);
    wire::IntentsHead head;
    head.players = player_count;
    wire::code(reader, head);
    if (!makes_sense(head)) {
        ++statistics.malformed;
        return;
    }
    wire::MessageStream::Piece piece;
    wire::code(reader, piece);
    const std::uint32_t newest_tick = expand(head.newest, now.value);
    const std::uint32_t first = newest_tick - (head.count - 1);
    const ReceivedIntents& base = received(first - head.gap);
    if (head.based && !(base.here && base.tick == first - head.gap)) {
        ++statistics.baseless;
        return;
    }
    const bool fresh = admit(newest_tick, now, to_next, statistics);
    // A client that waits for the server tells its last intents again, and what has come since.
    take_acks(head, now, to_next, fresh, statistics);
    if (!fresh) {
        return;
    }
    in_hand.hear(newest_tick);
    messages.hear(piece);
    // What is told again was first sent earlier, by as many ticks as it lies before the newest.
    const double first_view = now.value - view_delay_.most() - newest_tick;
    wire::IntentRows rows;
    if (head.based) {
        std::ranges::copy(wanted_in(first - head.gap), rows.before().begin());
    }
    std::uint32_t behind = head.based ? base.behind : 0;
    wire::PlayersModels models(player_count);
    for (std::uint32_t i = 0; i < head.count; ++i, rows.next()) {
        const std::span intents = std::span(rows.now()).first(player_count);
        wire::code_intents(reader, models, intents, rows.before(), i == 0 && head.based ? head.gap : 1,
                           behind, behind);
        for (std::size_t player = 0; player < player_count; ++player) {
            intents[player].held &= actions[player];
        }
        const std::uint32_t tick = first + i;
        ReceivedIntents& slot = intents_[tick % intents_kept];
        const bool known = slot.here && slot.tick == tick;
        if (Tick{tick} - now <= 0) {
            // Too late to be played; kept all the same, as later ones may be told by it.
            reading.late += !known && tick == newest_tick ? 1 : 0;
        }
        if (Tick{tick} - now < -static_cast<std::int32_t>(intents_kept) / 2) {
            continue;
        }
        if (!known) {
            in_hand.come(Tick{tick} - now - 1 + to_next);
            slot = {};
            slot.tick = tick;
            slot.here = true;
            std::ranges::copy(intents, wanted_in(tick).begin());
            slot.behind = behind;
            slot.shown = tick + std::max(-(behind / wire::behind_units), first_view);
        }
        if (tick == newest_tick) {
            slot.predictions = head.predictions;
        }
    }
}

void Seat::take_acks(const wire::IntentsHead& head, Tick now, double to_next, bool fresh,
                     Statistics& statistics) {
    if (!head.any_snapshot) {
        return;
    }
    // The newest that was sent is near what this means.
    SnapshotNumber newest_sent = 0;
    bool any = false;
    for (const SentSnapshot& snapshot : sent) {
        if (snapshot.sent && (!any || snapshot.number > newest_sent)) {
            newest_sent = snapshot.number;
            any = true;
        }
    }
    const SnapshotNumber number = expand(head.snapshot, newest_sent);
    const SentSnapshot& there = sent[number % sent.size()];
    if (!any || !there.sent || there.number != number) {
        // Long ago, or never sent at all.
        statistics.false_acks += !any || number > newest_sent ? 1 : 0;
        return;
    }
    const bool newer = !acked || number > *acked;
    const SnapshotNumber before = acked.value_or(number);
    if (!fresh && !newer) {
        return;  // recorded, or doubled on the way
    }
    if (newer) {
        acked = number;
        round_trips.add((now - Tick{number * snapshot_every_} + 1.0 - to_next) * tick_seconds_);
        progressed = now.value;
    }
    view_delay_.hear(now.value, number * snapshot_every_);
    for (unsigned i = wire::acked_before; i-- > 0;) {
        if (head.before[i]) {
            take_ack(number - 1 - i);
        }
    }
    take_ack(number);
    if (newer) {
        const SnapshotNumber oldest = number - std::min<SnapshotNumber>(number, wire::acked_before);
        for (SnapshotNumber at = std::max(before + 1, oldest); at < number; ++at) {
            const SentSnapshot& one = sent[at % sent.size()];
            if (one.sent && one.number == at) {
                losses_.note_order(one.acked);
            }
        }
        losses_.note_order(true);
        // Those that are some way back and have not come yet will not come.
        const auto overtaken =
            static_cast<SnapshotNumber>(std::ceil(overtaken_by / (snapshot_every_ * tick_seconds_)));
        const SnapshotNumber still = std::min<SnapshotNumber>(overtaken, wire::acked_before - 1);
        const SnapshotNumber until = number > still ? number - still : 0;
        for (SnapshotNumber at = std::max(decided_ + 1, oldest); at <= until; ++at) {
            const SentSnapshot& one = sent[at % sent.size()];
            if (one.sent && one.number == at) {
                losses_.decide(one.acked);
            }
        }
        decided_ = std::max(decided_, until);
    }
}

bool Seat::may_have(SnapshotNumber number) const {
    const SentSnapshot& snapshot = sent[number % sent.size()];
    return snapshot.sent && snapshot.number == number && (snapshot.acked || (acked && number > *acked));
}

SnapshotNumber Seat::usual_base(SnapshotNumber number) const {
    const std::uint32_t distance = losses_.distance();
    if (!acked || number - *acked >= wire::replicas_kept - 2) {
        return 0;
    }
    return distance != 0 && number - *acked < longest_bet && may_have(number - distance) ? number - distance
                                                                                         : *acked;
}

std::optional<SnapshotNumber> Seat::base_of(const View& view, SnapshotNumber number) const {
    if (!view.known || number - view.acked >= wire::replicas_kept - 2) {
        return std::nullopt;
    }
    const std::uint32_t distance = losses_.distance();
    if (distance == 0 || number - view.acked >= longest_bet) {
        return view.acked;
    }
    for (SnapshotNumber at = number - distance; at > view.acked; at -= distance) {
        const SnapshotNumber back = view.sent_at - at;
        if (back < 64 && (view.sent_bits >> back & 1U) != 0 && may_have(at)) {
            return at;
        }
    }
    return view.acked;
}

void Seat::take_ack(SnapshotNumber number) {
    SentSnapshot& snapshot = sent[number % sent.size()];
    if (!snapshot.sent || snapshot.number != number || snapshot.acked) {
        return;
    }
    snapshot.acked = true;
    for (const SentEntry& entry : snapshot.entries) {
        View& view = views[entry.place];
        if (number < view.since) {
            continue;  // about an earlier stay
        }
        if (entry.gone) {
            if (view.leaving) {
                view = {};
            }
            continue;
        }
        view.acked = view.known ? std::max(view.acked, number) : number;
        view.known = true;
        view.ack_events(entry.first_event, entry.events_end);
    }
}

void Seat::begin_tick(Tick tick) {
    if (newest) {
        reading.buffered = std::max(0, Tick{*newest} - tick + 1);
    }
    const ReceivedIntents& slot = received(tick.value);
    const bool here = slot.here && slot.tick == tick.value;
    const bool missing = !here && connected && newest && Tick{tick.value} - Tick{first_} >= 0;
    reading.intents += here ? 1 : 0;
    reading.missing += missing ? 1 : 0;
    const std::span<const StatedIntent> said = wanted_in(tick.value);
    for (std::size_t i = 0; i < player_count; ++i) {
        SeatPlayer& player = players[i];
        player.wanted = here ? said[i] : player.wanted.afterwards();
        player.wants_exact = player.wants_exact || missing;
    }
}

void Seat::compare(Tick tick, std::size_t player, const Runner& runner) {
    const ReceivedIntents& slot = received(tick.value);
    const wire::IntentsHead::Prediction& said = slot.predictions[player];
    if (!slot.here || slot.tick != tick.value || !said.predicted) {
        return;
    }
    SeatPlayer& own = players[player];
    own.wants_exact = said.digest != wire::told_digest(digest(runner));
    if (own.wants_exact) {
        reading.differing += 1;
    } else {
        own.agreed = tick.value;
    }
}

}  // namespace cursimeter::link
