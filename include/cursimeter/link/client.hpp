#pragma once

#include <array>
#include <cursimeter/link/protocol.hpp>
#include <memory>
#include <optional>
#include <span>
#include <string_view>
#include <vector>

/// A player's side: its own runner answers at once, the others are shown a moment in the past, the server is right. Up
/// to four players at one machine share it (`ClientConfig::players`).
///
/// Bytes in, bytes out, and the time; no socket, clock or thread is inside. All memory is taken when it is made. One
/// thread at a time. The loop of a game, once a frame, at any frame rate:
///
///     client.tell_time(seconds_of_a_steady_clock);
///     while (auto bytes = transport.receive()) client.receive(*bytes, world);
///     while (client.due()) client.tick(intent, world);
///     while (auto bytes = client.next_packet()) transport.send(*bytes);
///     draw(client.own_shown()); for (RunnerKey key : client.others()) draw(client.shown(key));
namespace cursimeter::link {

struct ClientConfig {
    double tick_rate = 60.0;  ///< per second; the server's
    /// Who this is, for coming back to the same seat; not 0. Anybody who knows it can take the seat.
    std::uint64_t identity = 0;
    /// A larger number for each attempt to join, such as the time in ms; not 0. Smaller ones are refused while the
    /// server remembers the identity: they may have been recorded.
    std::uint64_t attempt = 0;
    /// The server's public key: then the connection is sealed, and nobody else can pass for the server.
    std::optional<PublicKey> server{};
    std::uint64_t game = 0;   ///< as ServerConfig::game
    std::uint64_t world = 0;  ///< as ServerConfig::world
    /// Players at this machine, 1 to most_players, each with intents and a runner of its own; they share the
    /// connection and what it shows of others. The server takes as many as ServerConfig::players.
    std::size_t players = 1;
    /// Of the game's own: a ticket of its login, a name, a team; up to longest_ticket bytes. It goes with each
    /// hello, sealed if the connection is.
    std::vector<std::byte> ticket{};
    Seconds silence{5.0};       ///< after which the server counts as gone
    std::size_t runners = 256;  ///< that the server may have at most, 1 to 1,024: about 15 kB each
    /// For which the server has intents in hand at its worst moment, besides one tick; 0 to 1 s.
    Seconds spare{0.01};
    Seconds extrapolate{0.25};   ///< for which a runner goes on without news, up to 1 s
    Seconds half_life{0.08};     ///< in which half of a visible correction has faded, 0 to 1 s
    double visible_limit = 2.0;  ///< m; a correction of the own runner that is larger shows at once
};

enum class Phase : std::uint8_t { joining, joined, refused, ended };

/// A correction of an own runner by the server.
struct Correction {
    Tick tick;               ///< whose state came
    double distance = 0.0;   ///< m by which the predicted place was wrong
    int replayed = 0;        ///< ticks that were played again
    std::size_t player = 0;  ///< whose runner it was
};

/// Another runner as it is shown now.
struct Shown {
    RunnerKey key;
    std::size_t chart = 0;
    Runner runner;             ///< what `present` and animation read; its position is the shown one
    glm::dvec3 position{0.0};  ///< m
    Look look;                 ///< where it looks: between two news it turns the short way, evenly
    StateId state;             ///< by the events told so far
    bool waiting = false;      ///< news are overdue: it goes on by the chart, or has stopped to
    struct Modifier {
        ModifierId modifier;
        double strength = 0.0;
        int stacks = 0;
    };
    std::array<Modifier, limits::modifiers> modifiers{};
    std::uint16_t blocks = 0;  ///< bit per block that is in force
};

struct ClientStatistics {
    std::uint64_t packets_in = 0, bytes_in = 0, packets_out = 0, bytes_out = 0;
    /// Of these, what told the own runners, the others with their events, and messages; intents, and messages. The
    /// rest is for envelopes and joining.
    std::uint64_t own_bytes_in = 0, others_bytes_in = 0, message_bytes_in = 0;
    std::uint64_t intent_bytes_out = 0, message_bytes_out = 0;
    std::uint64_t damaged = 0, malformed = 0, repeated = 0;  ///< packets that were left out
    std::uint64_t baseless = 0;     ///< snapshots told by one that was lost: of use for the own runners alone
    std::uint64_t corrections = 0;  ///< states of the server that differed from the prediction
    double largest_correction = 0.0;   ///< m
    std::uint64_t replayed = 0;        ///< ticks played again, all together
    int deepest = 0;                   ///< ticks played again at once, at most
    std::uint64_t confirmed = 0;       ///< times that a snapshot agreed on an own runner
    std::uint64_t events_skipped = 0;  ///< of other runners, which the server had no room to keep
    /// Ticks from an intent to its being played at the server, averaged over the last second: half of the way there
    /// and back, and the wait for its tick. As true as the two ways are alike.
    double input_delay = 0.0;
    /// The shortest of the last 32 ways there and back, with what packets wait for frames and snapshots.
    Seconds round_trip{0.0};
    double loss = 0.0;     ///< part of the last 64 snapshots that did not come, or of no use
    Seconds in_hand{0.0};  ///< that intents usually wait at the server
    /// By which they waited less at the worst moment of the last 24 s: jitter and loss together.
    Seconds jitter{0.0};
    double view_delay = 0.0;  ///< ticks that the others are shown behind the own runners
    /// How often the server knew it no longer, since it was started again, and has let it in again.
    std::uint64_t rejoins = 0;
};

/// A moment for a net graph: the figures as they were after a tick, and what came and went since the tick before.
struct NetSample {
    Seconds round_trip{0.0}, in_hand{0.0}, jitter{0.0};
    double loss = 0.0, input_delay = 0.0, view_delay = 0.0;  ///< as in ClientStatistics
    std::uint32_t bytes_in = 0, bytes_out = 0;
    std::uint16_t packets_in = 0, corrections = 0;
};

class Client {
  public:
    /// Throws ChartError if a value is out of range or there is no chart.
    Client(std::vector<Chart> charts, const ClientConfig& config);
    ~Client();
    Client(Client&&) noexcept;
    Client& operator=(Client&&) noexcept;

    /// What time it is, by a clock that counts real seconds and never goes back, from any start; once a frame, before
    /// everything else. Shows the others at this time. Without it nothing is ever due.
    void tell_time(Seconds now) noexcept;
    /// Takes a packet in. A correction is played through here, in the same call.
    void receive(std::span<const std::byte> bytes, Advancer& advancer) noexcept;
    /// Whether the next tick is to be played by now. The client plays ahead of the server by as much as the network
    /// asks for, so the time from one tick to the next is a little more or less than a tick's.
    [[nodiscard]] bool due() const;
    /// When it will be, by the clock of `tell_time`: a program that does nothing else may sleep until then.
    [[nodiscard]] Seconds due_at() const;
    /// Goes on by one tick. Before it has joined, or has a runner, the intent is not used. Does nothing unless a
    /// tick is due. After the program has stood still, the ticks that would come too late for the server are played
    /// first, with what was held, as the server has done. `extra` goes with the intent to both advancers.
    void tick(const Intent& intent, Advancer& advancer, const ExtraBytes& extra = {}) noexcept;
    /// The same with the intent of each player; one for whom there is none wants nothing.
    void tick_players(std::span<const Intent> intents, Advancer& advancer,
                      std::span<const ExtraBytes> extras = {}) noexcept;
    /// The part of a tick that has passed since the last one was due, 0 to 1: to draw other things between two ticks.
    [[nodiscard]] double tick_part() const;
    /// The packets to send now, one by one; valid until the client is used again.
    [[nodiscard]] std::optional<std::span<const std::byte>> next_packet() noexcept;
    /// Sends a message of the game's own, up to longest_message bytes: it arrives once and in order with the
    /// others, whatever is lost, as long as the connection holds. Some 15 kB a second go up. Returns false, and
    /// sends nothing, if it is too long, some 8 kB wait already, or the client has not joined.
    bool send_message(std::span<const std::byte> message) noexcept;
    /// The server's messages, oldest first; valid until the next call.
    [[nodiscard]] std::optional<std::span<const std::byte>> next_message() noexcept;
    /// The advancer does something else in this tick than when it was played: a message announced a push, or a door
    /// that opened then. Plays the own runners from there again, in this call; what that changes fades as a
    /// correction does. Does nothing for a tick to come, which will be played so anyway, and for one that is kept
    /// no longer.
    void play_again(Tick since, Advancer& advancer) noexcept;
    /// Says goodbye. The packets that say so are the next ones.
    void leave() noexcept;

    [[nodiscard]] Phase phase() const;
    /// Why it was refused, or has ended; for a person: `describe_farewell`.
    [[nodiscard]] Farewell farewell() const;
    [[nodiscard]] std::uint32_t farewell_detail() const;
    /// What the game said with it (Server::remove, Admission), if anything.
    [[nodiscard]] std::string_view farewell_words() const;
    [[nodiscard]] SeatId seat() const;

    /// The tick that was played last, ahead of the server's.
    [[nodiscard]] Tick now() const;
    /// A player's runner, if there is one. This and what follows throw std::out_of_range for a player who is not
    /// there.
    [[nodiscard]] std::optional<RunnerKey> own_key(std::size_t player = 0) const;
    /// As predicted. Only while there is one.
    [[nodiscard]] const Runner& own(std::size_t player = 0) const;
    [[nodiscard]] const Chart& own_chart(std::size_t player = 0) const;
    /// Where to draw it now, m: between the last two ticks, so it moves evenly at any frame rate, a tick later at
    /// most; a correction fades instead of jumping.
    [[nodiscard]] glm::dvec3 own_shown(std::size_t player = 0) const;
    /// The newest tick whose state the server has sent.
    [[nodiscard]] std::optional<Tick> acknowledged(std::size_t player = 0) const;
    /// Digest of the own runner after a tick, as it stands now, for the last four seconds at 60 ticks a second.
    /// At an acknowledged tick it equals the server's.
    [[nodiscard]] std::optional<std::uint64_t> digest_at(Tick tick, std::size_t player = 0) const;
    /// What the last tick did to it, for sounds and effects.
    [[nodiscard]] const Report& report(std::size_t player = 0) const;
    /// What the server changed, oldest first; the last 64 of each player are kept.
    [[nodiscard]] std::optional<Correction> next_correction();

    /// The world, for views of others: while news of them are late the chart carries them on, and what is solid
    /// here stops them; nullptr: nothing does. It must live as long as it is asked, in `tell_time`; a sweep or two
    /// for each that waits. Of moving parts, where they stand at `shown_time` counts.
    void set_view_world(const Terrain* world) noexcept;
    /// The server's time that is shown for others, in ticks.
    [[nodiscard]] double shown_time() const;
    /// The other runners that are there now; not those of this client's own players.
    [[nodiscard]] std::span<const RunnerKey> others() const;
    [[nodiscard]] std::optional<Shown> shown(RunnerKey runner) const;
    /// Events of others as their time is shown, each once, each runner's in order.
    [[nodiscard]] std::optional<RemoteEvent> next_event();

    [[nodiscard]] const ClientStatistics& statistics() const;
    /// How things were so many ticks ago, 0: the last one; nothing from before it joined. 256 are kept.
    [[nodiscard]] std::optional<NetSample> sample(std::size_t ticks_ago) const;

  private:
    struct Work;
    std::unique_ptr<Work> work_;
};

}  // namespace cursimeter::link
