#include <algorithm>

#include "link/client/client_work.hpp"
#include "link/settings_check.hpp"
#include "link/wire/messages.hpp"

namespace cursimeter::link {
namespace {

/// s without a packet, at most: where the next tick is long in coming the last intents are told again.
constexpr double longest_pause = 0.1;
/// Ticks that are played at once at most; more would make a program that stood still for long stand still again.
constexpr std::uint32_t most_skipped = 1024;

void check(const std::vector<Chart>& charts, const ClientConfig& config) {
    SettingsCheck settings;
    settings.shared(charts, config.tick_rate, config.runners, config.silence);
    settings.chosen("identity", config.identity, "give the number by which the game knows this player");
    settings.chosen("attempt", config.attempt,
                    "give a larger number for each attempt to join, such as the time in ms");
    settings.range("players", static_cast<double>(config.players), 1.0, most_players, "1 to 4");
    settings.sealable("server", config.server.has_value());
    settings.range("ticket", static_cast<double>(config.ticket.size()), 0.0, longest_ticket,
                   "0 to 256 bytes; what is longer goes into the first message");
    settings.range("spare", config.spare.value, 0.0, 1.0, "0 to 1 s");
    settings.range("extrapolate", config.extrapolate.value, 0.0, 1.0, "0 to 1 s");
    settings.range("half_life", config.half_life.value, 0.0, 1.0, "0 to 1 s");
    settings.range("visible_limit", config.visible_limit, 0.0, 1e9, "0 m or more");
    settings.finish();
}

}  // namespace

Client::Client(std::vector<Chart> charts, const ClientConfig& config) {
    check(charts, config);
    work_ = std::make_unique<Work>(std::move(charts), config);
    work_->prepare();
}
Client::~Client() = default;
Client::Client(Client&&) noexcept = default;
Client& Client::operator=(Client&&) noexcept = default;

void Client::tell_time(Seconds now) noexcept {
    Work& w = *work_;
    w.clock.tell(now);
    w.show_others();
    if (w.phase == Phase::joined && w.clock.now() - w.sent_at > longest_pause) {
        w.to_send = Work::ToSend::intents;  // while it waits for the server it can still be heard, and hears
    }
}

void Client::receive(std::span<const std::byte> bytes, Advancer& advancer) noexcept {
    Work& w = *work_;
    ++w.statistics.packets_in;
    w.statistics.bytes_in += bytes.size();
    if (w.phase != Phase::joining && w.phase != Phase::joined) {
        return;
    }
    if (bytes.size() < wire::envelope_bytes || bytes.size() > wire::most_packet_bytes) {
        ++w.statistics.damaged;
        return;
    }
    const auto kind = static_cast<wire::Kind>(bytes[0]);
    if (wire::is_greeting(kind)) {
        wire::is_stamped(bytes, 0) ? w.take_greeting(kind, bytes) : static_cast<void>(++w.statistics.damaged);
        return;
    }
    const std::uint64_t repeated = w.channel.repeated();
    const auto body = w.phase == Phase::joined ? w.channel.open(bytes) : std::nullopt;
    if (!body) {
        ++(w.channel.repeated() != repeated ? w.statistics.repeated : w.statistics.damaged);
        return;
    }
    w.heard = w.clock.now();
    if (kind == wire::Kind::snapshot) {
        w.take_snapshot(*body, advancer);
    } else if (kind == wire::Kind::goodbye) {
        const auto goodbye = wire::read_body<wire::Goodbye>(*body);
        w.words = goodbye.words;
        w.finish(known(goodbye.why), 0, Phase::ended);
    } else {
        ++w.statistics.malformed;
    }
}

void Client::tick(const Intent& intent, Advancer& advancer, const ExtraBytes& extra) noexcept {
    tick_players(std::span(&intent, 1), advancer, std::span(&extra, 1));
}

void Client::tick_players(std::span<const Intent> intents, Advancer& advancer,
                          std::span<const ExtraBytes> extras) noexcept {
    Work& w = *work_;
    if (!due()) {
        return;
    }
    const bool silent = w.clock.now() - w.heard > w.config.silence.value;
    if (silent && (w.phase == Phase::joining || w.phase == Phase::joined)) {
        w.finish(w.phase == Phase::joining && w.hint != Farewell::none ? w.hint : Farewell::silent, 0,
                 Phase::ended);
        return;
    }
    w.due_at = w.clock.now() + w.tick_seconds();
    if (w.phase == Phase::joining) {
        w.say_hello();
        return;
    }
    if (w.phase != Phase::joined) {
        w.to_send = w.goodbyes_left > 0 ? Work::ToSend::goodbye : Work::ToSend::nothing;
        return;
    }
    if (const std::uint32_t skipped = w.lead.skip(w.clock.now(), w.clock.stood_still()); skipped > 0) {
        w.skip(skipped, advancer);
    }
    if (w.greets()) {
        w.say_hello();
    }
    w.lead.play();
    for (std::size_t i = 0; i < w.players.size(); ++i) {
        w.players[i].tick(i < intents.size() ? intents[i] : Intent{},
                          i < extras.size() ? extras[i] : ExtraBytes{}, advancer);
    }
    w.note_view();
    w.take_sample();
    w.to_send = Work::ToSend::intents;
}

void Client::Work::skip(std::uint32_t ticks, Advancer& advancer) {
    if (ticks > most_skipped) {
        for (Prediction& player : players) {
            player.leap(ticks);
        }
    } else {
        // Tick by tick: they may be in each other's way.
        for (std::uint32_t i = 0; i < ticks; ++i) {
            for (Prediction& player : players) {
                player.hold(advancer);
            }
        }
    }
    for (std::uint32_t i = 0; i < std::min(ticks, ticks_kept); ++i) {
        behind[(now() - i).value % ticks_kept] = 0;  // nobody looked
    }
}

bool Client::due() const {
    const Work& w = *work_;
    return w.clock.told() && w.clock.now() >= w.next_due();
}

Seconds Client::due_at() const {
    return work_->clock.outside(work_->next_due());
}

double Client::tick_part() const {
    const Work& w = *work_;
    return std::clamp(1.0 - (w.next_due() - w.clock.now()) / w.tick_seconds(), 0.0, 1.0);
}

std::optional<std::span<const std::byte>> Client::next_packet() noexcept {
    Work& w = *work_;
    std::size_t size = 0;
    if (w.hello_waits) {
        w.hello_waits = false;
        size = w.write_hello();
    } else if (w.to_send == Work::ToSend::intents) {
        size = w.write_intents();
        w.sent_at = w.clock.now();
        w.to_send = Work::ToSend::nothing;
    } else if (w.to_send == Work::ToSend::goodbye) {
        size = wire::write_in(w.channel, w.packet, wire::Kind::goodbye, wire::Goodbye{});
        if (--w.goodbyes_left == 0) {
            w.to_send = Work::ToSend::nothing;
        }
    }
    if (size == 0) {
        return std::nullopt;
    }
    w.statistics.packets_out += 1;
    w.statistics.bytes_out += size;
    return std::span<const std::byte>(w.packet).first(size);
}

bool Client::send_message(std::span<const std::byte> message) noexcept {
    return work_->phase == Phase::joined && work_->messages.send(message);
}

std::optional<std::span<const std::byte>> Client::next_message() noexcept {
    return work_->messages.next();
}

void Client::play_again(Tick since, Advancer& advancer) noexcept {
    if (work_->phase == Phase::joined) {
        for (Prediction& player : work_->players) {
            player.play_again(since, advancer, work_->statistics);
        }
    }
}

void Client::leave() noexcept {
    Work& w = *work_;
    if (w.phase == Phase::joined) {
        w.finish(Farewell::left, 0, Phase::ended);
        w.goodbyes_left = wire::goodbyes;
        w.to_send = Work::ToSend::goodbye;
    } else if (w.phase == Phase::joining) {
        w.finish(Farewell::left, 0, Phase::ended);
    }
}

Phase Client::phase() const {
    return work_->phase;
}
Farewell Client::farewell() const {
    return work_->farewell;
}
std::uint32_t Client::farewell_detail() const {
    return work_->detail;
}
std::string_view Client::farewell_words() const {
    return {reinterpret_cast<const char*>(work_->words.bytes.data()), work_->words.size};
}
SeatId Client::seat() const {
    return work_->seat;
}
Tick Client::now() const {
    return work_->now();
}
std::optional<RunnerKey> Client::own_key(std::size_t player) const {
    return work_->players.at(player).key();
}
const Runner& Client::own(std::size_t player) const {
    return work_->players.at(player).runner();
}
const Chart& Client::own_chart(std::size_t player) const {
    return work_->charts[work_->players.at(player).chart()];
}
glm::dvec3 Client::own_shown(std::size_t player) const {
    return work_->players.at(player).shown(tick_part());
}
std::optional<Tick> Client::acknowledged(std::size_t player) const {
    return work_->players.at(player).acknowledged();
}
std::optional<std::uint64_t> Client::digest_at(Tick tick, std::size_t player) const {
    return work_->players.at(player).digest_at(tick);
}
const Report& Client::report(std::size_t player) const {
    return work_->players.at(player).report();
}
std::optional<Correction> Client::next_correction() {
    Prediction* oldest = nullptr;
    for (Prediction& player : work_->players) {
        const Correction* next = player.oldest_correction();
        if (next != nullptr && (oldest == nullptr || next->tick - oldest->oldest_correction()->tick < 0)) {
            oldest = &player;
        }
    }
    if (oldest == nullptr) {
        return std::nullopt;
    }
    Correction correction = *oldest->oldest_correction();
    correction.player = static_cast<std::size_t>(oldest - work_->players.data());
    oldest->drop_correction();
    return correction;
}
void Client::set_view_world(const Terrain* world) noexcept {
    work_->others.set_view_world(world);
}
double Client::shown_time() const {
    return work_->shown_time.now();
}
std::span<const RunnerKey> Client::others() const {
    return work_->others.keys();
}
std::optional<Shown> Client::shown(RunnerKey runner) const {
    return work_->others.shown(runner);
}
std::optional<RemoteEvent> Client::next_event() {
    return work_->others.next_event();
}
std::optional<NetSample> Client::sample(std::size_t ticks_ago) const {
    const Work& w = *work_;
    if (ticks_ago >= w.samples.size() || ticks_ago >= w.samples_taken) {
        return std::nullopt;
    }
    return w.samples[(w.samples_taken - 1 - ticks_ago) % w.samples.size()];
}
const ClientStatistics& Client::statistics() const {
    return work_->statistics;
}

}  // namespace cursimeter::link
