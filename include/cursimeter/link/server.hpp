#pragma once

#include <array>
#include <cursimeter/link/protocol.hpp>
#include <cursimeter/link/workers.hpp>
#include <memory>
#include <optional>
#include <span>
#include <string_view>
#include <vector>

/// The authority: it plays every runner by the intents that clients send and tells them how things are.
///
/// Bytes in, bytes out, and the time: no socket, clock or thread is inside, nothing is random. All memory is taken
/// when it is made. One thread at a time. Nothing that comes from a client can throw, take memory, or move another
/// client's runner by a bit; what is wrong with it is counted (`Statistics`). The loop of a server, at any pace:
///
///     server.tell_time(seconds_of_a_steady_clock);
///     while (auto packet = transport.receive()) server.receive(packet->from, packet->bytes);
///     while (auto event = server.next_event()) { ... spawn a runner for the client that joined ... }
///     while (server.due()) server.tick(world);
///     while (auto packet = server.next_packet()) transport.send(packet->peer, packet->bytes);
///
/// The sooner a packet is handed over after it has come, the less the clients have to be ahead.
namespace cursimeter::link {

struct ServerConfig {
    double tick_rate = 60.0;           ///< per second, 10 to 1,000
    std::uint32_t snapshot_every = 3;  ///< ticks, 1 to 100 and at most 0.1 s
    std::size_t seats = 16;            ///< 1 to 1,024
    std::size_t runners = 64;          ///< 1 to 1,024
    /// At one client, 1 to most_players, each with a runner: some 50 kB for each seat and player.
    std::size_t players = 1;
    /// For session keys and cookies: a number that nobody can guess, another one at each start; not 0.
    /// `random_number()`.
    std::uint64_t secret = 0;
    /// With them all connections are sealed, and clients must have the public one. Without, anybody who can read the
    /// traffic can forge it: for trusted networks, or under an encrypting transport.
    std::optional<KeyPair> keys{};
    std::uint64_t game = 0;   ///< of this version of the game: clients must have the same
    std::uint64_t world = 0;  ///< digest of the world, such as Course::digest: clients must have the same
    Seconds silence{5.0};     ///< after which a client counts as gone
    Seconds keep{60.0};       ///< for which its seat and runners wait for it, 0 to a day
    Seconds history{1.0};     ///< of lag compensation, up to 2 s
    double interest = 1e9;    ///< m; runners further than this from all of a client's own are not told
    std::size_t budget = packet_bytes;  ///< of one snapshot to one client, 700 to packet_bytes
    EventMask events = usual_events;    ///< told to others
};

enum class ServerEventKind : std::uint8_t {
    joined,     ///< a client has taken a seat; it has no runner yet
    rejoined,   ///< a client is back on its seat, with the runners that it had
    left,       ///< its connection has ended; seat and runners stay for ServerConfig::keep
    forgotten,  ///< its seat is free again; the runners that it had are despawned
};
struct ServerEvent {
    ServerEventKind kind = ServerEventKind::joined;
    SeatId seat;
    std::uint64_t identity = 0;     ///< the client's, as it says
    Farewell why = Farewell::none;  ///< of left
};

struct OutgoingPacket {
    PeerId peer;
    std::span<const std::byte> bytes;  ///< valid until the server is used again
};

/// What was refused, by reason. Everything counts since the server was made.
struct Statistics {
    std::uint64_t packets = 0, bytes = 0;  ///< that came in
    std::uint64_t damaged = 0;             ///< wrong checksum: damage, or another session
    std::uint64_t malformed = 0;           ///< sealed well but without sense
    std::uint64_t strangers = 0;           ///< of peers without a seat, other than hellos
    std::uint64_t repeated = 0;            ///< that came before
    std::uint64_t far_off = 0;             ///< ticks too far in the past or the future
    std::uint64_t false_acks = 0;          ///< of snapshots that were never sent
    std::uint64_t baseless = 0;            ///< relative to an intent that never came
    std::uint64_t refused_joins = 0, challenges = 0;
};
/// How a client does.
struct SeatReading {
    bool connected = false;
    std::uint64_t identity = 0;
    PeerId peer;
    std::size_t players = 1;  ///< that the client has
    /// Of each player; of one who did not come back with the client too, until it is despawned.
    std::array<std::optional<RunnerKey>, most_players> runners{};
    std::uint64_t intents = 0;    ///< ticks of intents, played as they came
    std::uint64_t missing = 0;    ///< ticks for which none had come in time: held keys were repeated
    std::uint64_t late = 0;       ///< intents that came after their tick
    std::uint64_t differing = 0;  ///< ticks after which the client's prediction of a runner differed
    int buffered = 0;             ///< ticks of intents that wait now
    std::uint64_t packets_up = 0, bytes_up = 0, packets_down = 0, bytes_down = 0;
    std::uint64_t remotes_told = 0;  ///< runners in its snapshots, each each time
    std::uint64_t remote_bits = 0;   ///< that they took
    std::uint64_t own_bytes = 0;     ///< that its own runners took, and what goes before
    std::uint64_t message_bytes = 0;
    std::uint64_t exact_states = 0;  ///< of its own runners, told as a whole
    Seconds round_trip{0.0};  ///< the shortest of the last 32, with what the client waits for its next frame
    double loss = 0.0;        ///< part of the snapshots of the last seconds that it could not use
};

/// A runner as a client saw it: for hit tests.
struct Seen {
    double at = 0.0;  ///< in ticks: the time that was shown
    glm::dvec3 position{0.0};
    glm::dvec3 velocity{0.0};
    Look look;
    StateId state;
    Capsule body;
};

/// Decides which runners each client sees: teams, lines of sight. What is not sent to a client cannot be shown by a cheat.
class Interest {
  public:
    virtual ~Interest() = default;
    /// How much a runner concerns the seat: 0 not at all, it is not sent; 1 as usual; more, it
    /// comes first where not all fit into a snapshot. Asked for each seat, runner and snapshot: about as fast as a
    /// lookup.
    [[nodiscard]] virtual double concern(SeatId seat, RunnerKey runner) noexcept = 0;
};

/// Somebody who wants to join and fits: same version, game, world and charts.
struct Applicant {
    PeerId peer;
    std::uint64_t identity = 0;
    std::span<const std::byte> ticket;  ///< ClientConfig::ticket; nothing vouches for it but what it says
    /// The seat that waits for this identity, or is still connected: a client that is let in takes it over.
    std::optional<SeatId> seat;
    std::size_t players = 1;  ///< that it has
};

/// Decides who may join, by what a game knows: tickets, bans, who is expected.
class Admission {
  public:
    virtual ~Admission() = default;
    enum class Verdict : std::uint8_t {
        let_in,
        turn_away,
        wait,  ///< not known yet: nothing is said, and it asks again within 0.3 s, for ClientConfig::silence
    };
    /// Asked for each hello of an address that has shown to be right, at most 64 in a tick, if a seat is free for
    /// it. `words` may be set to say why it is turned away, in up to 100 bytes that live until the next call.
    [[nodiscard]] virtual Verdict look_at(const Applicant& applicant, std::string_view& words) noexcept = 0;
};

struct Message {
    SeatId seat;
    std::span<const std::byte> bytes;  ///< valid until the next call
};

class MatchRecorder;

class Server {
  public:
    /// Throws ChartError if a value is out of range or there is no chart.
    Server(std::vector<Chart> charts, const ServerConfig& config);
    ~Server();
    Server(Server&&) noexcept;
    Server& operator=(Server&&) noexcept;

    /// What time it is, by a clock that counts real seconds and never goes back, from any start.
    void tell_time(Seconds now) noexcept;
    /// Whether the next tick is to be played by now. A server that has stood still catches up, but for no more than
    /// the last second: what is before that is left out, and the clients wait.
    [[nodiscard]] bool due() const;
    /// When it will be, by the clock of `tell_time`: a program that does nothing else may sleep until then.
    [[nodiscard]] Seconds due_at() const;
    /// Takes a packet in. Constant work.
    void receive(PeerId peer, std::span<const std::byte> bytes) noexcept;
    /// The transport knows that the peer is gone: as if it had said goodbye. Without it, silence tells.
    void disconnected(PeerId peer) noexcept;
    /// Plays one tick, due or not: one intent of each client, every runner, then the snapshots that are due.
    void tick(Advancer& advancer) noexcept;
    /// The packets to send now, one by one.
    [[nodiscard]] std::optional<OutgoingPacket> next_packet() noexcept;
    /// What happened to clients, oldest first. Ask until there is nothing more, at least once a tick.
    [[nodiscard]] std::optional<ServerEvent> next_event() noexcept;

    /// Sends a message of the game's own to a client: see Client::send_message. Some 5 kB a second go down to each,
    /// out of the snapshots' budget.
    bool send_message(SeatId seat, std::span<const std::byte> message) noexcept;
    /// Messages of clients, those of each in order. Ask until there is none: what nobody takes lets no more in.
    [[nodiscard]] std::optional<Message> next_message() noexcept;

    /// The tick that was played last.
    [[nodiscard]] Tick now() const;
    /// Puts a runner into the game, owned by a player of a client or by nobody. Returns nothing if there is no place
    /// left, or the player has one already. Throws as cursimeter::spawn, and for a chart, a seat or a player (from 0;
    /// SeatReading::players) that is not there.
    std::optional<RunnerKey> spawn(std::size_t chart, const Placement& placement,
                                   std::optional<SeatId> owner = std::nullopt, std::size_t player = 0);
    /// Takes a runner out of the game.
    bool despawn(RunnerKey runner);
    [[nodiscard]] bool exists(RunnerKey runner) const;
    /// All runners there are, in a fixed order.
    [[nodiscard]] std::vector<RunnerKey> runners() const;
    /// For the game to read, push, modify and block between ticks; its client is corrected by the next snapshot.
    /// Throws std::out_of_range for a key that does not exist.
    [[nodiscard]] Runner& runner(RunnerKey runner);
    [[nodiscard]] const Runner& runner(RunnerKey runner) const;
    [[nodiscard]] const Chart& chart(RunnerKey runner) const;
    /// What the last tick did to it.
    [[nodiscard]] const Report& report(RunnerKey runner) const;
    /// Puts a runner elsewhere at once (see cursimeter::place); others see it jump instead of running there.
    void teleport(RunnerKey runner, const Placement& placement);
    /// What a runner without an owner wants from the next tick on. Its changes are not kept.
    void direct(RunnerKey runner, const Intent& intent);

    /// The runner as the client saw it when it wanted its intent of `tick` (a tick that was played within
    /// ServerConfig::history): the hit test for a shot of that tick. What a client says about the time it was shown
    /// counts only within what it can have been sent.
    [[nodiscard]] std::optional<Seen> seen_by(SeatId seat, RunnerKey runner, Tick tick) const;

    /// An empty reading if nobody has the seat.
    [[nodiscard]] SeatReading read_seat(SeatId seat) const;
    [[nodiscard]] const Statistics& statistics() const;
    /// Ends a client's connection, and says why in up to 100 bytes of words. Its seat waits for it as after any
    /// goodbye.
    void remove(SeatId seat, std::string_view words = {});
    /// Who may join; nullptr: everybody. It must live as long as it is asked.
    void set_admission(Admission* admission) noexcept;
    /// What the client on this seat handed over as it joined.
    [[nodiscard]] std::span<const std::byte> ticket(SeatId seat) const;
    /// Which runners each client sees, beyond distance; nullptr: everybody in ServerConfig::interest. It must live as long as
    /// it is asked.
    void set_interest(Interest* interest) noexcept;
    /// Lets snapshots be written by several at once, which is most of the work where many see many; nullptr: by the
    /// caller of `tick`, as at first. The packets are the same to the bit. It must live as long as it is asked,
    /// which is in `tick`; Interest::concern is called from its threads then. Takes memory, about 20 kB for each
    /// worker and runner.
    void set_workers(Workers* workers);
    /// From where a client without a runner looks, m: a spectator, or one whose runner is gone; nothing: it sees
    /// all. With runners, their places count. Say it again when the client joins again.
    void set_viewpoint(SeatId seat, std::optional<glm::dvec3> viewpoint);
    /// Records every tick from now on (see match.hpp); nullptr: none. It must live as long. Throws ChartError unless
    /// it was made for a server with this one's places and charts.
    void record(MatchRecorder* recorder);
    /// Frees a seat and despawns its runners at once.
    void forget(SeatId seat);

  private:
    friend class MatchRecorder;
    struct Work;
    std::unique_ptr<Work> work_;
};

}  // namespace cursimeter::link
