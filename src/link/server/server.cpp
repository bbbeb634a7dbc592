#include <algorithm>
#include <cmath>

#include "link/match/match_recorder.hpp"
#include "link/server/server_work.hpp"
#include "link/settings_check.hpp"

namespace cursimeter::link {
namespace {

/// s without a new acknowledgement for which a client is sent all snapshots; for which it is sent one each
/// `quarter`; from then on one each `once`.
constexpr double full_rate_for = 0.5, silent_after = 1.0, quarter = 0.25, once = 1.0;
/// s that a server which stood still catches up at most.
constexpr double most_behind = 1.0;

void check(const std::vector<Chart>& charts, const ServerConfig& config) {
    SettingsCheck settings;
    settings.shared(charts, config.tick_rate, config.runners, config.silence);
    settings.range("snapshot_every", config.snapshot_every, 1.0,
                   std::min(100.0, config.tick_rate * 0.1 + 1e-9),
                   "at least 1 tick, and at most 0.1 s of them");
    settings.chosen("secret", config.secret,
                    "give a number that nobody can guess, from the system's random source, another at each "
                    "start: random_number()");
    settings.sealable("keys", config.keys.has_value());
    settings.range("seats", static_cast<double>(config.seats), 1.0, 1024.0, "1 to 1024");
    settings.range("players", static_cast<double>(config.players), 1.0, most_players, "1 to 4");
    settings.range("keep", config.keep.value, 0.0, 86400.0, "0 to 86400 s");
    settings.range("history", config.history.value, 0.0, 2.0, "0 to 2 s");
    settings.range("interest", config.interest, 0.0, 1e300, "0 m or more");
    settings.range("budget", static_cast<double>(config.budget), 700.0, static_cast<double>(packet_bytes),
                   "700 to 1200 bytes, so that a whole runner and some others fit");
    settings.finish();
}

}  // namespace

bool Server::Work::hears(const Seat& seat, SnapshotNumber number) const {
    const double quiet = (now.value - seat.progressed) * tick_seconds();
    if (quiet <= full_rate_for) {
        return true;
    }
    const double every = quiet <= silent_after ? quarter : once;
    const auto snapshots = static_cast<SnapshotNumber>(every / (config.snapshot_every * tick_seconds()));
    return number % std::max(snapshots, SnapshotNumber{1}) == 0;
}

void Server::Work::advance_at(std::size_t place, Advancer& advancer) {
    Actor& actor = crowd.actors()[place];
    Seat* seat = actor.owner ? &seats[actor.owner->index] : nullptr;
    if (seat == nullptr) {
        crowd.advance(actor, actor.directed, advancer, now);
        return;
    }
    // Whoever is away wants nothing.
    const bool here = seat->connected && actor.player < seat->player_count;
    crowd.advance(actor, here ? seat->players[actor.player].wanted : StatedIntent{}, advancer, now);
    if (here) {
        seat->compare(now, actor.player, actor.runner);
    }
}

void Server::Work::write_part(std::size_t writer, SnapshotNumber number) {
    for (std::size_t i = writer; i < writings.size(); i += writers.size()) {
        const Writing& writing = writings[i];
        Seat& seat = seats[writing.seat];
        const std::size_t size =
            writers[writer].write(crowd, seat, SeatId{static_cast<std::uint16_t>(writing.seat)}, now, number,
                                  outbox.packets.reserved(writing.packet));
        outbox.packets.close(writing.packet, size);
        seat.reading.packets_down += 1;
        seat.reading.bytes_down += size;
    }
}

void Server::Work::send_snapshots() {
    const SnapshotNumber number = now.value / config.snapshot_every;
    crowd.take_snapshot(number);
    writings.clear();
    for (std::size_t i = 0; i < seats.size(); ++i) {
        if (!seats[i].connected || !hears(seats[i], number)) {
            continue;
        }
        if (const auto packet = outbox.packets.reserve(seats[i].peer)) {
            writings.push_back({i, *packet});
        }
    }
    for (SnapshotWriter& writer : writers) {
        writer.begin();
    }
    struct Part final : Job {
        Part(Work& w, SnapshotNumber n) : work(w), snapshot(n) {}
        void piece(std::size_t index) noexcept override { work.write_part(index, snapshot); }
        Work& work;
        SnapshotNumber snapshot;
    } part(*this, number);
    if (workers != nullptr && writings.size() > 1) {
        workers->run(writers.size(), part);
    } else {
        for (std::size_t i = 0; i < writers.size(); ++i) {
            part.piece(i);
        }
    }
    for (const SnapshotWriter& writer : writers) {
        for (const std::uint16_t place : writer.wanted_whole()) {
            crowd.actors()[place].wanted_whole = true;
        }
    }
}

Server::Server(std::vector<Chart> charts, const ServerConfig& config) {
    check(charts, config);
    work_ = std::make_unique<Work>(std::move(charts), config);
}
Server::~Server() = default;
Server::Server(Server&&) noexcept = default;
Server& Server::operator=(Server&&) noexcept = default;

void Server::tell_time(Seconds now) noexcept {
    Work& w = *work_;
    const bool first = !w.clock.told();
    w.clock.tell(now);
    w.due_at = first ? w.clock.now() : std::max(w.due_at, w.clock.now() - most_behind);
}

bool Server::due() const {
    return work_->clock.told() && work_->clock.now() >= work_->due_at;
}

Seconds Server::due_at() const {
    return work_->clock.outside(work_->due_at);
}

void Server::receive(PeerId peer, std::span<const std::byte> bytes) noexcept {
    Work& w = *work_;
    ++w.statistics.packets;
    w.statistics.bytes += bytes.size();
    if (bytes.size() < wire::envelope_bytes || bytes.size() > wire::most_packet_bytes) {
        ++w.statistics.malformed;
        return;
    }
    const auto kind = static_cast<wire::Kind>(bytes[0]);
    if (kind == wire::Kind::hello) {
        wire::is_stamped(bytes, 0) ? w.hello(peer, bytes) : static_cast<void>(++w.statistics.damaged);
        return;
    }
    Seat* seat = w.seat_of(peer);
    if (seat == nullptr) {
        ++w.statistics.strangers;
        if (kind == wire::Kind::intents) {
            w.note(peer, wire::Kind::unknown, wire::Unknown{});
        }
        return;
    }
    const std::uint64_t repeated = seat->channel.repeated();
    const auto body = seat->channel.open(bytes);
    if (!body) {
        ++(seat->channel.repeated() != repeated ? w.statistics.repeated : w.statistics.damaged);
        return;
    }
    seat->heard = w.now.value;
    seat->reading.packets_up += 1;
    seat->reading.bytes_up += bytes.size();
    if (kind == wire::Kind::intents) {
        seat->receive(*body, w.now, w.to_next_tick(), w.actions_of(*seat), w.statistics);
    } else if (kind == wire::Kind::goodbye) {
        w.disconnect(*seat, Farewell::left, false);
    } else {
        ++w.statistics.malformed;
    }
}

void Server::disconnected(PeerId peer) noexcept {
    if (Seat* seat = work_->seat_of(peer)) {
        work_->disconnect(*seat, Farewell::left, false);
    }
}

void Server::tick(Advancer& advancer) noexcept {
    Work& w = *work_;
    w.now = w.now + 1;
    w.due_at += w.tick_seconds();
    w.proven = 0;
    for (Seat& seat : w.seats) {
        const std::uint32_t quiet = seat.used ? w.now.value - seat.heard : 0;
        if (seat.connected && quiet > w.silence_ticks) {
            w.disconnect(seat, Farewell::silent, true);
        } else if (seat.used && !seat.connected && quiet > w.keep_ticks) {
            w.forget(seat);
        }
        if (seat.connected) {
            seat.begin_tick(w.now);
        }
    }
    if (w.recorder != nullptr) {
        w.recorder->work_->begin(w.crowd, w.now);
    }
    w.crowd.note_neighbours(advancer.wants_others());
    for (std::size_t i = 0; i < w.crowd.actors().size(); ++i) {
        if (w.crowd.actors()[i].used) {
            w.advance_at(i, advancer);
        }
    }
    if (w.recorder != nullptr) {
        w.recorder->work_->end(w.crowd);
    }
    if (w.now.value % w.config.snapshot_every == 0) {
        w.send_snapshots();
    }
}

std::optional<OutgoingPacket> Server::next_packet() noexcept {
    return work_->outbox.next();
}

std::optional<ServerEvent> Server::next_event() noexcept {
    Work& w = *work_;
    if (w.events_next == w.events.size()) {
        return std::nullopt;
    }
    return w.events[w.events_next++];
}

bool Server::send_message(SeatId seat, std::span<const std::byte> message) noexcept {
    Work& w = *work_;
    return seat.index < w.seats.size() && w.seats[seat.index].connected &&
           w.seats[seat.index].messages.send(message);
}

std::optional<Message> Server::next_message() noexcept {
    Work& w = *work_;
    for (std::size_t i = 0; i < w.seats.size(); ++i) {
        const std::size_t at = (w.message_seat + i) % w.seats.size();
        if (!w.seats[at].connected) {
            continue;
        }
        if (const auto message = w.seats[at].messages.next()) {
            w.message_seat = at;
            return Message{SeatId{static_cast<std::uint16_t>(at)}, *message};
        }
    }
    return std::nullopt;
}

Tick Server::now() const {
    return work_->now;
}

std::optional<RunnerKey> Server::spawn(std::size_t chart, const Placement& placement,
                                       std::optional<SeatId> owner, std::size_t player) {
    Work& w = *work_;
    static_cast<void>(w.charts.at(chart));
    SeatPlayer* own = owner ? &w.player(*owner, player) : nullptr;
    if (own != nullptr && own->runner) {
        return std::nullopt;
    }
    const auto key = w.crowd.spawn(chart, placement, owner, player, w.now);
    if (own != nullptr && key) {
        own->runner = key;
        own->know_nothing();
    }
    return key;
}

bool Server::despawn(RunnerKey runner) {
    Work& w = *work_;
    if (!w.crowd.exists(runner)) {
        return false;
    }
    const Actor& actor = w.crowd.at(runner);
    if (actor.owner) {
        w.seats[actor.owner->index].players[actor.player].runner.reset();
    }
    w.crowd.despawn(runner.place);
    return true;
}

bool Server::exists(RunnerKey runner) const {
    return work_->crowd.exists(runner);
}

std::vector<RunnerKey> Server::runners() const {
    std::vector<RunnerKey> keys;
    for (std::size_t i = 0; i < work_->crowd.actors().size(); ++i) {
        if (work_->crowd.actors()[i].used) {
            keys.push_back(work_->crowd.key(i));
        }
    }
    return keys;
}

Runner& Server::runner(RunnerKey runner) {
    return work_->crowd.at(runner).runner;
}
const Runner& Server::runner(RunnerKey runner) const {
    return work_->crowd.at(runner).runner;
}
const Chart& Server::chart(RunnerKey runner) const {
    return work_->charts[work_->crowd.at(runner).chart];
}
const Report& Server::report(RunnerKey runner) const {
    return work_->crowd.at(runner).report;
}

void Server::teleport(RunnerKey runner, const Placement& placement) {
    Actor& actor = work_->crowd.at(runner);
    place(work_->charts[actor.chart], actor.runner, placement);
    ++actor.teleports;
}

void Server::direct(RunnerKey runner, const Intent& intent) {
    Actor& actor = work_->crowd.at(runner);
    Intent lasting = intent;
    lasting.changes = {};
    actor.directed = state_intent(lasting, work_->tick_seconds(),
                                  actions_below(work_->charts[actor.chart].action_count()));
}

std::optional<Seen> Server::seen_by(SeatId seat, RunnerKey runner, Tick tick) const {
    Work& w = *work_;
    const Seat& there = w.seat(seat);
    const Actor& actor = w.crowd.at(runner);
    const ReceivedIntents& intent = there.received(tick.value);
    if (!intent.here || intent.tick != tick.value) {
        return std::nullopt;
    }
    if (w.now - tick > static_cast<std::int32_t>(w.config.history.value * w.config.tick_rate)) {
        return std::nullopt;
    }
    // What it cannot have been sent yet it cannot have seen; what is long past nobody would shoot at.
    const double history = w.config.history.value * w.config.tick_rate;
    const double latest = w.now.value;
    const double time = std::clamp(intent.shown, std::max(0.0, latest - history), latest);
    return w.crowd.seen(actor, time);
}

SeatReading Server::read_seat(SeatId seat) const {
    if (seat.index >= work_->seats.size() || !work_->seats[seat.index].used) {
        return {};
    }
    const Seat& there = work_->seats[seat.index];
    SeatReading reading = there.reading;
    reading.connected = there.connected;
    reading.identity = there.identity;
    reading.peer = there.peer;
    reading.players = there.player_count;
    for (std::size_t i = 0; i < there.players.size(); ++i) {
        reading.runners[i] = there.players[i].runner;
    }
    reading.round_trip = Seconds{there.round_trips.shortest()};
    reading.loss = there.losses();
    return reading;
}

const Statistics& Server::statistics() const {
    return work_->statistics;
}

void Server::remove(SeatId seat, std::string_view words) {
    work_->disconnect(work_->seat(seat), Farewell::removed, true, words);
}
void Server::record(MatchRecorder* recorder) {
    if (recorder != nullptr && !recorder->work_->fits(work_->crowd, work_->charts)) {
        throw ChartError({{"recorder",
                           "was made for a server with other places or charts",
                           "make one for this server: MatchRecorder(server)",
                           {},
                           0,
                           0}});
    }
    work_->recorder = recorder;
}
void Server::set_admission(Admission* admission) noexcept {
    work_->admission = admission;
}
std::span<const std::byte> Server::ticket(SeatId seat) const {
    return work_->seat(seat).ticket.kept();
}
void Server::set_interest(Interest* interest) noexcept {
    work_->interest = interest;
    for (SnapshotWriter& writer : work_->writers) {
        writer.set_interest(interest);
    }
}
void Server::set_workers(Workers* workers) {
    Work& w = *work_;
    w.workers = workers;
    w.make_writers(workers != nullptr ? std::clamp<std::size_t>(workers->count(), 1, w.seats.size()) : 1);
}
void Server::set_viewpoint(SeatId seat, std::optional<glm::dvec3> viewpoint) {
    work_->seat(seat).viewpoint = viewpoint;
}
void Server::forget(SeatId seat) {
    work_->forget(work_->seat(seat));
}

}  // namespace cursimeter::link
