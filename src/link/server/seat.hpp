#pragma once

#include <array>
#include <bitset>
#include <cursimeter/link/server.hpp>
#include <optional>
#include <vector>

#include "link/round_trips.hpp"
#include "link/server/crowd.hpp"
#include "link/server/in_hand.hpp"
#include "link/server/loss_meter.hpp"
#include "link/server/view_delay.hpp"
#include "link/wire/channel.hpp"
#include "link/wire/message_stream.hpp"
#include "link/wire/messages.hpp"

/// One client as the server knows it: its connection, its intents on their way, what it has been told.
namespace cursimeter::link {

/// Ticks for which intents are kept: those to come, and those played, by which later ones are told.
inline constexpr std::uint32_t intents_kept = 256;
/// How far ahead of the server an intent may be, in ticks. Twice that would alias in the ring.
inline constexpr std::int32_t furthest_ahead = 120;
/// How far behind its newest packet a packet may be.
inline constexpr std::int32_t packet_window = 64;

/// What came for a tick, besides what each player wants in it.
struct ReceivedIntents {
    std::uint32_t tick = 0;
    bool here = false;
    std::array<wire::IntentsHead::Prediction, most_players> predictions{};
    std::uint32_t behind = 0;  ///< how far behind it showed the others when it wanted this, as it says
    double shown = 0.0;        ///< the time that it showed then, in ticks, as far as it is believed
};

/// One of the players at a client.
struct SeatPlayer {
    std::optional<RunnerKey> runner;
    bool wants_exact = true;              ///< the next snapshot carries its whole runner
    std::optional<std::uint32_t> agreed;  ///< tick after which prediction and truth were equal
    StatedIntent wanted;                  ///< as last played

    /// What the client believes of the runner is not known.
    void know_nothing() {
        wants_exact = true;
        agreed.reset();
    }
};
using ActionsOfPlayers = std::array<std::uint32_t, most_players>;

/// What a client knows of one runner.
struct View {
    bool told = false;     ///< it is in its snapshots
    bool known = false;    ///< it has acknowledged one with it
    bool leaving = false;  ///< it is told that the runner is gone until it has acknowledged that
    std::uint16_t life = 0;
    SnapshotNumber since = 0;              ///< first snapshot with it
    SnapshotNumber acked = 0;              ///< newest replica that it has, if known
    std::uint32_t first_event = 0;         ///< that it is told
    std::uint32_t event_acked = 0;         ///< all events before this have come
    std::bitset<events_kept> events_came;  ///< of those from event_acked on, by number
    /// Events before these were told in the last entry, and in the one before it.
    std::array<std::uint32_t, 2> events_told{};
    SnapshotNumber all_events_at = 0;  ///< when all that are not acknowledged were told last
    float priority = 0.0F;
    float concern = 1.0F;         ///< as Interest::concern says
    SnapshotNumber sent_at = 0;   ///< newest snapshot in which it was told
    std::uint64_t sent_bits = 0;  ///< bit i: it was told in the snapshot i before that

    void note_sent(SnapshotNumber number);
    void ack_events(std::uint32_t first, std::uint32_t end);
};

struct SentEntry {
    std::uint16_t place = 0;
    bool gone = false;
    std::uint32_t first_event = 0, events_end = 0;
};
struct SentSnapshot {
    SnapshotNumber number = 0;
    bool sent = false, acked = false;
    std::vector<SentEntry> entries;
};

class Seat {
  public:
    void reserve(const ServerConfig& config);
    /// A new connection on this seat.
    void connect(PeerId peer, const wire::HelloBody& who, Tick now);

    /// Takes intents in from the body of a packet.
    /// `to_next` are the ticks, 0 to 1, until the one after `now` is played; `actions` what each player's chart has.
    void receive(std::span<const std::byte> bytes, Tick now, double to_next, const ActionsOfPlayers& actions,
                 Statistics& statistics);
    /// Finds what is wanted in a tick, for `SeatPlayer::wanted`: as the client said, or held keys again if that is
    /// missing.
    void begin_tick(Tick tick);
    /// Compares what the client predicted for the tick just played.
    void compare(Tick tick, std::size_t player, const Runner& runner);
    /// The players that are there now; others may have left their runners behind.
    [[nodiscard]] std::span<SeatPlayer> present() { return std::span(players).first(player_count); }
    [[nodiscard]] std::span<const SeatPlayer> present() const {
        return std::span(players).first(player_count);
    }

    bool used = false, connected = false;
    PeerId peer;
    std::uint64_t identity = 0, attempt = 0;
    decltype(wire::HelloBody::ticket) ticket;
    std::uint64_t key = 0;  ///< of a plain session
    wire::Channel channel;
    wire::MessageStream messages;
    std::array<SeatPlayer, most_players> players{};
    std::size_t player_count = 1;
    std::uint32_t heard = 0;              ///< tick in which it was last heard of
    std::uint32_t progressed = 0;         ///< tick in which it last acknowledged something new
    std::optional<std::uint32_t> newest;  ///< intent that has come
    InHand in_hand;
    std::optional<SnapshotNumber> acked;  ///< newest snapshot that it has
    /// The snapshot by which a runner is told now: one that it has, or most likely will have by then. Nothing if it
    /// must be told as a whole.
    [[nodiscard]] std::optional<SnapshotNumber> base_of(const View& view, SnapshotNumber number) const;
    /// The same for most runners; 0: none.
    [[nodiscard]] SnapshotNumber usual_base(SnapshotNumber number) const;
    std::optional<glm::dvec3> viewpoint;  ///< m; from where it looks without a runner
    RoundTrips round_trips;
    [[nodiscard]] double losses() const { return losses_.part(); }
    double cost_scale = 1.0;  ///< by which entries took more than guessed
    std::vector<View> views;
    std::array<SentSnapshot, wire::replicas_kept> sent;
    SeatReading reading;

    [[nodiscard]] const ReceivedIntents& received(std::uint32_t tick) const {
        return intents_[tick % intents_kept];
    }

  private:
    /// Whether such a packet may be opened: not too far off, not had before. Then it counts as had.
    bool admit(std::uint32_t newest_tick, Tick now, double to_next, Statistics& statistics);
    void take_acks(const wire::IntentsHead& head, Tick now, double to_next, bool fresh,
                   Statistics& statistics);
    void take_ack(SnapshotNumber number);
    /// Whether it was sent, and nothing says that it has not come.
    [[nodiscard]] bool may_have(SnapshotNumber number) const;

    /// What the players want in a tick that is kept.
    [[nodiscard]] std::span<StatedIntent> wanted_in(std::uint32_t tick) {
        const std::size_t places = wanted_.size() / intents_kept;
        return std::span(wanted_).subspan(tick % intents_kept * places, player_count);
    }

    std::vector<ReceivedIntents> intents_;  ///< ring by tick
    std::vector<StatedIntent> wanted_;      ///< the same, with a place for each player
    ViewDelay view_delay_;
    LossMeter losses_;
    SnapshotNumber decided_ = 0;  ///< newest of which it is known whether it came
    double tick_seconds_ = 0.0;
    std::uint32_t snapshot_every_ = 1;  ///< ticks
    std::uint32_t first_ = 0;           ///< tick of the first intent of this connection
    std::uint64_t window_ = 0;          ///< bit i: the packet i before the newest has come
};

}  // namespace cursimeter::link
