#pragma once

#include <algorithm>
#include <array>
#include <compare>
#include <cstddef>
#include <cstdint>
#include <cursimeter/advance.hpp>
#include <cursimeter/link/seal.hpp>
#include <cursimeter/link/tick.hpp>
#include <span>
#include <string>
#include <string_view>

/// What server and client have in common. docs/netcode.md has the packets bit by bit.
namespace cursimeter::link {

/// Both ends must have the same.
inline constexpr std::uint16_t protocol_version = 7;
/// No packet is longer, whatever it carries.
inline constexpr std::size_t packet_bytes = 1200;
/// Bytes of a message of the game's (`send_message`).
inline constexpr std::size_t longest_message = 1024;
/// Bytes that a client may hand over as it joins (`ClientConfig::ticket`).
inline constexpr std::size_t longest_ticket = 256;

/// Players at one client, such as two at one machine: each has a runner of its own.
inline constexpr std::size_t most_players = 4;

/// Whom packets come from and go to: a number that the transport gives, the same for the same address.
struct PeerId {
    std::uint64_t value = 0;
    friend constexpr auto operator<=>(PeerId, PeerId) = default;
};
/// A client's place at the server. Kept while it is away, see ServerConfig::keep.
struct SeatId {
    std::uint16_t index = 0;
    friend constexpr auto operator<=>(SeatId, SeatId) = default;
};
/// A runner of the game, the same number at the server and at every client. A key that was despawned is not
/// used again before 65,536 others of its place.
struct RunnerKey {
    std::uint16_t place = 0;
    std::uint16_t life = 0;
    friend constexpr auto operator<=>(RunnerKey, RunnerKey) = default;
};

/// Why a server does not let somebody in, or a connection has ended.
enum class Farewell : std::uint8_t {
    none,
    other_version,    ///< refused: another protocol_version; detail: the server's
    other_tick_rate,  ///< refused; detail: the server's, in thousandths per second
    other_charts,     ///< refused; detail: index of the first chart that differs, or their number
    full,             ///< refused: no seat is free; detail: how many there are
    too_many,         ///< the server has more runners than this client was made for; detail: how many
    left,             ///< the client said goodbye
    removed,          ///< the server said goodbye
    silent,           ///< nothing was heard for too long
    moved,            ///< the same identity joined from elsewhere
    outdated,         ///< refused: the identity has joined with this attempt before, or with a later one
    sealed_only,      ///< refused: the server seals its connections, and ClientConfig::server was not given
    unsealed,         ///< the server does not seal, and ClientConfig::server was given
    other_key,        ///< the server's key is not ClientConfig::server
    other_game,       ///< refused: another version of the game (detail 0) or another world (detail 1)
    /// Refused by the game at the server, which may say why in words; or there are more players at this client than
    /// ServerConfig::players, which the words say.
    turned_away,
};
[[nodiscard]] std::string_view to_string(Farewell why);
/// "the server is full (16 seats)", for a person.
[[nodiscard]] std::string describe_farewell(Farewell why, std::uint32_t detail);

/// Bytes of the game's own that ride on an intent: fire, use, what was shot at. They are lost with it, if it never
/// comes in time; then nothing is played twice.
class ExtraBytes {
  public:
    static constexpr std::size_t most = 16;
    /// Returns false, and adds nothing, if there is no room.
    bool add(std::span<const std::byte> bytes) {
        if (bytes.size() > most - count_) {
            return false;
        }
        std::copy(bytes.begin(), bytes.end(), bytes_.begin() + count_);
        count_ = static_cast<std::uint8_t>(count_ + bytes.size());
        return true;
    }
    [[nodiscard]] std::span<const std::byte> bytes() const { return std::span(bytes_).first(count_); }
    friend bool operator==(const ExtraBytes&, const ExtraBytes&) = default;

  private:
    std::uint8_t count_ = 0;
    std::array<std::byte, most> bytes_{};
};

/// Another runner while one is moved on.
struct Neighbour {
    RunnerKey key;
    glm::dvec3 position{0.0};  ///< m
    glm::dvec3 velocity{0.0};  ///< m/s
    Look look;
    Capsule body;
};

/// What an advancer learns about the tick.
struct AdvanceContext {
    Tick tick;         ///< that is played
    Seconds dt;        ///< its length
    RunnerKey runner;  ///< that is moved: a game's own collision may keep things for it
    /// At a client: it was played before, and a correction plays it again. Nothing outside is to happen twice.
    bool again = false;
    std::span<const std::byte> extra;  ///< that came with the intent
    /// All the others as they were after the tick before, if `wants_others` says so. At a client as far as it can
    /// know: what comes differently is corrected.
    std::span<const Neighbour> others;
};

/// Moves runners on by one tick, at the server and, for prediction, at its client: with the same chart, runner,
/// intent and tick it must do the same to the bit at both. A game with a world of its own derives from it; `tick`
/// tells it where moving parts stand. At the server it may look at an intent before it plays it, and play another.
class Advancer {
  public:
    virtual ~Advancer() = default;
    [[nodiscard]] virtual Report advance_runner(const Chart& chart, Runner& runner, const Intent& intent,
                                                const AdvanceContext& context) noexcept = 0;
    /// Whether it is to be told where the others are. At a client that costs a little for each of them and tick.
    [[nodiscard]] virtual bool wants_others() const noexcept { return false; }
};

/// Open flat ground.
class OpenGround final : public Advancer {
  public:
    [[nodiscard]] Report advance_runner(const Chart& chart, Runner& runner, const Intent& intent,
                                        const AdvanceContext& context) noexcept override;
};

/// A world without moving parts.
class InTerrain final : public Advancer {
  public:
    /// The terrain must live as long as this.
    explicit InTerrain(const Terrain& terrain) : terrain_(terrain) {}
    [[nodiscard]] Report advance_runner(const Chart& chart, Runner& runner, const Intent& intent,
                                        const AdvanceContext& context) noexcept override;

  private:
    const Terrain& terrain_;
};

/// Something that happened to a runner, as other clients get it.
struct RemoteEvent {
    RunnerKey runner;
    double at = 0.0;  ///< in ticks: 12.5 is half way through tick 13
    EventKind kind = EventKind::entered;
    std::uint8_t subject = 0;  ///< as Event::subject
    std::uint8_t which = 0;    ///< as Event::which
    bool rising = false;       ///< as Event::rising
    double value = 0.0;        ///< as Event::value, to 0.1
};

/// A bit per EventKind.
using EventMask = std::uint32_t;
[[nodiscard]] constexpr EventMask event_bit(EventKind kind) {
    return EventMask{1} << static_cast<unsigned>(kind);
}
/// What others see and hear of a runner. Footsteps follow from the shown motion (`present`), so are not told.
inline constexpr EventMask usual_events =
    event_bit(EventKind::entered) | event_bit(EventKind::jumped) | event_bit(EventKind::landed) |
    event_bit(EventKind::bumped) | event_bit(EventKind::pushed) | event_bit(EventKind::began) |
    event_bit(EventKind::stacked) | event_bit(EventKind::ended) | event_bit(EventKind::crushed);

}  // namespace cursimeter::link
