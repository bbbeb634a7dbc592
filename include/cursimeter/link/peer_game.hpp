#pragma once

#include <cursimeter/link/protocol.hpp>
#include <cursimeter/runner.hpp>
#include <memory>
#include <optional>
#include <span>
#include <string>
#include <vector>

/// A game of two to four players without a server: everybody plays everybody, and plays again what turned out
/// otherwise.
///
/// Only what players want goes over the network. Where it has not come yet each end goes on with what was held
/// last; when it comes and is another, the runners go back to that tick and all is played again, in the same call.
/// So all ends come to the same to the bit, if their advancers do the same: digests are compared once a second.
///
/// Bytes in, bytes out, and the time; no socket, clock or thread is inside. All memory is taken when it is made.
/// One thread at a time. The loop of a game, once a frame, at any frame rate:
///
///     game.tell_time(seconds_of_a_steady_clock);
///     while (auto packet = transport.receive()) game.receive(packet->bytes, world);
///     while (game.due()) game.tick(intent, world);
///     while (auto packet = game.next_packet()) transport.send(address_of(packet->player), packet->bytes);
///     for (std::size_t i = 0; i < players; ++i) draw(game.shown(i));
///
/// Its connections are plain: anybody who can read the traffic can forge it. Players see all of the game, and can look
/// at what others want a little before it is played; a game in which they must not needs a server.
namespace cursimeter::link {

inline constexpr std::size_t most_peers = 4;

/// One of the players, the same at all of them.
struct PeerPlayer {
    std::size_t chart = 0;  ///< index
    Placement start;
};

struct PeerGameConfig {
    double tick_rate = 60.0;          ///< per second, 10 to 240
    std::vector<PeerPlayer> players;  ///< 2 to 4, in the same order at all
    std::size_t own = 0;              ///< which of them is here
    std::uint64_t session = 0;  ///< of this game, by its host (`random_number()`), the same at all; not 0
    std::uint64_t game = 0, world = 0;  ///< as ServerConfig has them: all must have the same
    /// By which the own intents are played later than they are wanted: others have them sooner, so less is played
    /// again. 0 to 0.2 s.
    Seconds input_delay{0.034};
    /// For which others' intents may be missing; then the game waits for them. Up to 0.5 s.
    Seconds most_predicted{0.25};
    Seconds silence{3.0};        ///< after which a player counts as gone, 0.5 to 60 s
    Seconds half_life{0.08};     ///< in which half of a visible change by playing again has faded, 0 to 1 s
    double visible_limit = 2.0;  ///< m; a change that is larger shows at once
    EventMask events = usual_events;
};

enum class PeerPhase : std::uint8_t {
    joining,  ///< not all have been heard of
    playing,
    refused,  ///< another player has something else, see `farewell`
    split,    ///< this end has come to another state than another: see `split`
    ended,    ///< it has left, or the others go on without it
};

enum class PeerEventKind : std::uint8_t {
    began,  ///< all are there
    gone,   ///< a player: its runner wants nothing any more
    split,
};
struct PeerEvent {
    PeerEventKind kind = PeerEventKind::began;
    std::size_t player = 0;
    Tick tick;
};

/// Where two ends have come apart: their worlds, charts or builds are not the same after all.
struct PeerSplit {
    Tick tick;               ///< after which they were compared; up to a second before they were the same
    std::size_t player = 0;  ///< whose runner differs
    std::size_t with = 0;    ///< the other end
    std::string field;       ///< the first that differs, "position.x"; empty until the other has told it
    std::string own, other;  ///< its values
};

struct PeerStatistics {
    std::uint64_t packets_in = 0, bytes_in = 0, packets_out = 0, bytes_out = 0;
    std::uint64_t damaged = 0, malformed = 0;
    std::uint64_t rollbacks = 0;  ///< times that something was played again
    std::uint64_t replayed = 0;   ///< ticks played again, all together
    int deepest = 0;              ///< ticks played again at once, at most
    std::uint64_t waits = 0;      ///< ticks that came late because others' intents were missing for too long
    std::uint64_t compared = 0;   ///< digests that were the same
    std::uint64_t events_lost = 0;
    /// By how much this end is ahead of the one that is furthest behind, ticks: the one ahead goes slower.
    double ahead = 0.0;
    Seconds round_trip{0.0};  ///< to the furthest of the others, about
};

struct PeerPacket {
    std::size_t player = 0;            ///< to whom
    std::span<const std::byte> bytes;  ///< valid until the game is used again
};

class PeerGame {
  public:
    /// Throws ChartError if a value is out of range, or cursimeter::spawn would.
    PeerGame(std::vector<Chart> charts, const PeerGameConfig& config);
    ~PeerGame();
    PeerGame(PeerGame&&) noexcept;
    PeerGame& operator=(PeerGame&&) noexcept;

    /// What time it is, by a clock that counts real seconds and never goes back, from any start.
    void tell_time(Seconds now) noexcept;
    /// Takes a packet in. What has turned out otherwise is played again here, in the same call.
    void receive(std::span<const std::byte> bytes, Advancer& advancer) noexcept;
    /// Whether the next tick is to be played by now: it is time, and what the others wanted is known recently enough.
    [[nodiscard]] bool due() const;
    /// When it will be at the earliest, by the clock of `tell_time`.
    [[nodiscard]] Seconds due_at() const;
    /// Goes on by one tick. `intent` counts after PeerGameConfig::input_delay. Does nothing unless a tick is due.
    void tick(const Intent& intent, Advancer& advancer, const ExtraBytes& extra = {}) noexcept;
    /// The part of a tick that has passed since the last one was due, 0 to 1.
    [[nodiscard]] double tick_part() const;
    /// The packets to send now, one by one.
    [[nodiscard]] std::optional<PeerPacket> next_packet() noexcept;
    /// Says goodbye to all. The packets that say so are the next ones.
    void leave() noexcept;

    [[nodiscard]] PeerPhase phase() const;
    /// Of `refused`: other_version, other_tick_rate, other_charts (or players) or other_game; `describe_farewell`
    /// says it.
    [[nodiscard]] Farewell farewell() const;
    [[nodiscard]] std::uint32_t farewell_detail() const;
    [[nodiscard]] const std::optional<PeerSplit>& split() const;

    /// The tick that was played last; 0 before the first.
    [[nodiscard]] Tick now() const;
    /// The newest tick that will not change any more: everybody's intents up to there are known.
    [[nodiscard]] Tick confirmed() const;
    [[nodiscard]] std::size_t players() const;
    /// What asks for a player throws std::out_of_range for an index that none of them has.
    [[nodiscard]] bool is_gone(std::size_t player) const;
    [[nodiscard]] RunnerKey key(std::size_t player) const;
    [[nodiscard]] const Chart& chart(std::size_t player) const;
    /// After `now`, as far as is known.
    [[nodiscard]] const Runner& runner(std::size_t player) const;
    /// Where to draw it, m: between the last two ticks; what playing again has changed fades.
    [[nodiscard]] glm::dvec3 shown(std::size_t player) const;
    /// What the last tick did when it was played first; may turn out otherwise.
    [[nodiscard]] const Report& report(std::size_t player) const;
    /// Digest of all runners after a tick, as it stands now, for the last four seconds at 60 ticks a second.
    [[nodiscard]] std::optional<std::uint64_t> digest_at(Tick tick) const;
    /// Where a runner was after a tick, as it stands now, m; the same time back.
    [[nodiscard]] std::optional<glm::dvec3> place_at(std::size_t player, Tick tick) const;
    /// What happened to runners, each once, when it cannot change any more.
    [[nodiscard]] std::optional<RemoteEvent> next_event();
    /// What happened to players.
    [[nodiscard]] std::optional<PeerEvent> next_peer_event();
    [[nodiscard]] const PeerStatistics& statistics() const;

  private:
    struct Work;
    std::unique_ptr<Work> work_;
};

}  // namespace cursimeter::link
