#include <algorithm>
#include <cmath>

#include "core/numbers/digest.hpp"
#include "link/peers/peer_work.hpp"
#include "link/settings_check.hpp"
#include "link/wire/messages.hpp"

namespace cursimeter::link {
namespace {

/// s from one hello to the next, and from one packet to the next while no tick is due.
constexpr double peer_hello_every = 0.1, peer_longest_pause = 0.05;
/// s that are made up for at most after a standstill: the others have waited meanwhile.
constexpr double peer_most_behind = 0.1;
/// Part by which a tick is longer for each tick that this end is ahead; at most; ticks ahead that do not matter.
constexpr double slower_by = 0.04, slowest = 0.25, harmless_lead = 0.25;

void check(const std::vector<Chart>& charts, const PeerGameConfig& config) {
    SettingsCheck settings;
    settings.number_of_charts(charts);
    settings.range("tick_rate", config.tick_rate, 10.0, 240.0, "10 to 240 ticks a second");
    settings.range("players", static_cast<double>(config.players.size()), 2.0, most_peers, "2 to 4 players");
    settings.range("own", static_cast<double>(config.own), 0.0,
                   static_cast<double>(config.players.size()) - 1.0, "the index of one of the players");
    for (const PeerPlayer& player : config.players) {
        settings.range("players.chart", static_cast<double>(player.chart), 0.0,
                       static_cast<double>(charts.size()) - 1.0, "the index of one of the charts");
    }
    settings.chosen("session", config.session,
                    "give the number that the host of the game made: random_number()");
    settings.range("input_delay", config.input_delay.value, 0.0, 0.2, "0 to 0.2 s");
    settings.range("most_predicted", config.most_predicted.value, 0.0, 0.5, "0 to 0.5 s");
    settings.range("silence", config.silence.value, 0.5, 60.0, "0.5 to 60 s");
    settings.range("half_life", config.half_life.value, 0.0, 1.0, "0 to 1 s");
    settings.range("visible_limit", config.visible_limit, 0.0, 1e9, "0 m or more");
    settings.finish();
}

/// Of everything that must be the same for all: whoever has it otherwise is refused by name.
std::uint64_t setup_of(const std::vector<Chart>& charts, const PeerGameConfig& config) {
    detail::Digest digest;
    digest.add(std::uint64_t{charts.size()});
    for (const Chart& chart : charts) {
        digest.add(chart.digest());
    }
    digest.add(std::uint64_t{config.players.size()});
    for (const PeerPlayer& player : config.players) {
        digest.add(std::uint64_t{player.chart});
        digest.add(player.start.position.x);
        digest.add(player.start.position.y);
        digest.add(player.start.position.z);
        digest.add(player.start.yaw);
    }
    return digest.value();
}

std::uint32_t ticks_of(Seconds time, double rate, std::uint32_t most) {
    return std::min(most, static_cast<std::uint32_t>(std::floor(time.value * rate + 1e-6)));
}

}  // namespace

PeerGame::Work::Work(std::vector<Chart> given, const PeerGameConfig& c)
    : charts(std::move(given)),
      config(c),
      key(wire::mix(c.session, protocol_version)),
      setup(setup_of(charts, c)),
      window(std::max(1U, ticks_of(c.most_predicted, c.tick_rate, most_predicted_ticks))),
      delay(ticks_of(c.input_delay, c.tick_rate, most_delay_ticks)),
      rollback(charts, config),
      compare_every(static_cast<std::uint32_t>(std::ceil(c.tick_rate))),
      next_comparison(compare_every),
      packet(packet_bytes) {
    // What nobody can have wanted yet.
    for (std::uint32_t i = 0; i < delay; ++i) {
        rollback.take(config.own, {});
    }
}

void PeerGame::Work::tell(PeerEventKind kind, std::size_t player, std::uint32_t tick) {
    if (events_count < events.size()) {
        events[(events_begin + events_count++) % events.size()] = {kind, player, Tick{tick}};
    }
}

void PeerGame::Work::send_to_all(Other::ToSend what) {
    for (std::size_t i = 0; i < players(); ++i) {
        if (i != config.own && !others[i].gone) {
            others[i].to_send = what;
        }
    }
    sent_at = clock.now();
}

void PeerGame::Work::begin_if_complete() {
    for (std::size_t i = 0; i < players(); ++i) {
        if (i != config.own && !(others[i].heard && others[i].complete)) {
            return;
        }
    }
    phase = PeerPhase::playing;
    due_at = clock.now();
    for (Other& other : others) {
        other.heard_at = clock.now();
    }
    tell(PeerEventKind::began, config.own, 0);
}

/// Whoever is ahead of another goes slower, so that all come to be at the same tick at the same time: with both
/// ways alike the way there is in what both see of one another, and goes out.
void PeerGame::Work::pace() {
    double ahead = 0.0, way = 0.0;
    for (std::size_t i = 0; i < players(); ++i) {
        const Other& other = others[i];
        if (i != config.own && !other.gone && other.led) {
            ahead = std::max(ahead, 0.5 * (other.my_lead - other.its_lead));
            way = std::max(way, other.my_lead + other.its_lead);
        }
    }
    statistics.ahead = ahead;
    statistics.round_trip = Seconds{std::max(0.0, way * tick_seconds())};
    const double longer = ahead > harmless_lead ? std::min(slowest, slower_by * ahead) : 0.0;
    due_at = std::max(due_at + tick_seconds() * (1.0 + longer), clock.now() - peer_most_behind);
}

PeerGame::PeerGame(std::vector<Chart> charts, const PeerGameConfig& config) {
    check(charts, config);
    work_ = std::make_unique<Work>(std::move(charts), config);
}
PeerGame::~PeerGame() = default;
PeerGame::PeerGame(PeerGame&&) noexcept = default;
PeerGame& PeerGame::operator=(PeerGame&&) noexcept = default;

void PeerGame::tell_time(Seconds now) noexcept {
    Work& w = *work_;
    const bool first = !w.clock.told();
    w.clock.tell(now);
    const double pause = w.clock.now() - w.sent_at;
    if (w.phase == PeerPhase::joining || w.phase == PeerPhase::refused) {  // the others are to know why
        if (first || pause >= peer_hello_every) {
            w.send_to_all(Work::Other::ToSend::hello);
        }
        return;
    }
    if (w.phase == PeerPhase::split) {
        if (pause >= peer_hello_every) {
            w.send_to_all(Work::Other::ToSend::state);
        }
        return;
    }
    if (w.phase != PeerPhase::playing) {
        return;
    }
    if (w.clock.stood_still()) {
        // Nobody is silent because this program did not listen.
        for (Work::Other& other : w.others) {
            other.heard_at = std::max(other.heard_at, w.clock.now() - 0.5 * w.config.silence.value);
        }
    }
    for (std::size_t i = 0; i < w.players(); ++i) {
        if (i != w.config.own && !w.others[i].gone &&
            w.clock.now() - w.others[i].heard_at > w.config.silence.value) {
            w.lose(i);
        }
    }
    w.waits = w.waits || (w.clock.now() >= w.due_at && !w.may_go_on());
    if (pause > peer_longest_pause) {
        w.send_to_all(Work::Other::ToSend::intents);
    }
}

bool PeerGame::due() const {
    return work_->clock.told() && work_->clock.now() >= work_->due_at && work_->may_go_on();
}
Seconds PeerGame::due_at() const {
    return work_->clock.outside(work_->due_at);
}
double PeerGame::tick_part() const {
    return work_->tick_part();
}

void PeerGame::tick(const Intent& intent, Advancer& advancer, const ExtraBytes& extra) noexcept {
    Work& w = *work_;
    if (!due()) {
        return;
    }
    StatedIntent stated =
        state_intent(intent, w.tick_seconds(), actions_below(w.rollback.chart(w.config.own).action_count()));
    stated.extra = extra;
    w.rollback.take(w.config.own, stated);
    w.rollback.tick(advancer);
    w.statistics.waits += w.waits ? 1 : 0;
    w.waits = false;
    w.pace();
    w.note_comparison();
    w.send_to_all(Work::Other::ToSend::intents);
}

void PeerGame::receive(std::span<const std::byte> bytes, Advancer& advancer) noexcept {
    Work& w = *work_;
    ++w.statistics.packets_in;
    w.statistics.bytes_in += bytes.size();
    if (bytes.size() < wire::envelope_bytes || bytes.size() > wire::most_packet_bytes ||
        !wire::is_stamped(bytes, w.key)) {
        ++w.statistics.damaged;
        return;
    }
    if (w.phase == PeerPhase::ended || w.phase == PeerPhase::refused) {
        return;
    }
    const std::span<const std::byte> body = bytes.subspan(wire::envelope_bytes);
    wire::Reader reader(body);
    switch (static_cast<wire::Kind>(bytes[0])) {
        case wire::Kind::peer_hello:
            w.take_hello(wire::read_body<wire::PeerHello>(body));
            break;
        case wire::Kind::peer_intents:
            w.take_intents(reader);
            w.rollback.settle(advancer, w.statistics);
            w.note_comparison();
            break;
        case wire::Kind::peer_state:
            w.take_state(reader);
            break;
        case wire::Kind::peer_goodbye: {
            const auto goodbye = wire::read_body<wire::PeerGoodbye>(body);
            if (goodbye.player < w.players() && goodbye.player != w.config.own) {
                w.lose(goodbye.player);
                w.rollback.settle(advancer, w.statistics);
            }
            break;
        }
        default:
            ++w.statistics.malformed;
    }
}

std::optional<PeerPacket> PeerGame::next_packet() noexcept {
    Work& w = *work_;
    for (std::size_t i = 0; i < w.players(); ++i) {
        const Work::Other::ToSend what = w.others[i].to_send;
        if (what == Work::Other::ToSend::nothing) {
            continue;
        }
        w.others[i].to_send = Work::Other::ToSend::nothing;
        const std::size_t size = w.write(i, what);
        if (size == 0) {
            continue;
        }
        ++w.statistics.packets_out;
        w.statistics.bytes_out += size;
        return PeerPacket{i, std::span<const std::byte>(w.packet).first(size)};
    }
    if (w.goodbyes_left > 0 && --w.goodbyes_left > 0) {
        w.send_to_all(Work::Other::ToSend::goodbye);
        return next_packet();
    }
    return std::nullopt;
}

void PeerGame::leave() noexcept {
    Work& w = *work_;
    if (w.phase != PeerPhase::ended) {
        w.phase = PeerPhase::ended;
        w.farewell = Farewell::left;
        w.goodbyes_left = wire::goodbyes;
        w.send_to_all(Work::Other::ToSend::goodbye);
    }
}

PeerPhase PeerGame::phase() const {
    return work_->phase;
}
Farewell PeerGame::farewell() const {
    return work_->farewell;
}
std::uint32_t PeerGame::farewell_detail() const {
    return work_->detail;
}
const std::optional<PeerSplit>& PeerGame::split() const {
    return work_->split;
}
Tick PeerGame::now() const {
    return Tick{work_->rollback.now()};
}
Tick PeerGame::confirmed() const {
    return Tick{work_->rollback.confirmed()};
}
std::size_t PeerGame::players() const {
    return work_->players();
}
bool PeerGame::is_gone(std::size_t player) const {
    return work_->others[work_->checked(player)].gone;
}
RunnerKey PeerGame::key(std::size_t player) const {
    return Rollback::key(work_->checked(player));
}
const Chart& PeerGame::chart(std::size_t player) const {
    return work_->rollback.chart(work_->checked(player));
}
const Runner& PeerGame::runner(std::size_t player) const {
    return work_->rollback.runner(work_->checked(player), work_->rollback.now());
}
glm::dvec3 PeerGame::shown(std::size_t player) const {
    return work_->rollback.shown(work_->checked(player), work_->tick_part());
}
const Report& PeerGame::report(std::size_t player) const {
    return work_->rollback.report(work_->checked(player));
}
std::optional<std::uint64_t> PeerGame::digest_at(Tick tick) const {
    if (!work_->rollback.keeps(tick.value)) {
        return std::nullopt;
    }
    detail::Digest all;
    for (std::size_t i = 0; i < work_->players(); ++i) {
        all.add(digest(work_->rollback.runner(i, tick.value)));
    }
    return all.value();
}
std::optional<glm::dvec3> PeerGame::place_at(std::size_t player, Tick tick) const {
    static_cast<void>(work_->checked(player));
    if (!work_->rollback.keeps(tick.value)) {
        return std::nullopt;
    }
    return work_->rollback.runner(player, tick.value).position();
}
std::optional<RemoteEvent> PeerGame::next_event() {
    return work_->rollback.next_event(work_->statistics);
}
std::optional<PeerEvent> PeerGame::next_peer_event() {
    Work& w = *work_;
    if (w.events_count == 0) {
        return std::nullopt;
    }
    const PeerEvent event = w.events[w.events_begin];
    w.events_begin = (w.events_begin + 1) % w.events.size();
    --w.events_count;
    return event;
}
const PeerStatistics& PeerGame::statistics() const {
    return work_->statistics;
}

}  // namespace cursimeter::link
