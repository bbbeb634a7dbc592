#pragma once

#include <array>
#include <cursimeter/link/client.hpp>
#include <optional>
#include <vector>

#include "link/client/lead.hpp"
#include "link/client/others.hpp"
#include "link/client/prediction.hpp"
#include "link/client/shown_time.hpp"
#include "link/clock.hpp"
#include "link/round_trips.hpp"
#include "link/wire/channel.hpp"
#include "link/wire/message_stream.hpp"

namespace cursimeter::link {

/// All that a client holds: its connection, the runners of its players, the others.
struct Client::Work {
    Work(std::vector<Chart> given, const ClientConfig& c)
        : charts(std::move(given)),
          config(c),
          others(c, charts),
          lead(c.spare.value, 1.0 / c.tick_rate),
          shown_time(c.tick_rate),
          packet(packet_bytes) {
        players.reserve(config.players);
        for (std::size_t i = 0; i < config.players; ++i) {
            players.emplace_back(config, charts, others, players);
        }
        news.reserve(config.runners);
    }

    std::vector<Chart> charts;
    ClientConfig config;
    Phase phase = Phase::joining;
    Farewell farewell = Farewell::none;
    std::uint32_t detail = 0;
    wire::Words words;  ///< that the server said with it
    SeatId seat;
    std::uint64_t token = 0, cookie = 0;
    KeyPair own_keys;  ///< of a sealed connection: for one session
    std::optional<guard::SessionKeys> session;
    wire::Channel channel;
    wire::MessageStream messages;
    bool hello_waits = false;  ///< to be sent
    double asks_until =
        -1.0;  ///< on `clock`: the server seems to have forgotten this client, which says hello again
    Farewell hint = Farewell::none;  ///< why nothing may be heard: nobody has proven to have said it
    std::uint32_t snapshot_every = 1;
    Others others;
    std::vector<Prediction> players;  ///< all at the same tick
    Lead lead;
    ShownTime shown_time;
    ClientStatistics statistics, sampled;  ///< and as they were when the last sample was taken
    std::array<NetSample, ticks_kept> samples{};
    std::size_t samples_taken = 0;
    std::vector<News> news;
    std::array<double, ticks_kept> sent_times{};  ///< s, on `clock`
    RoundTrips round_trips;
    std::array<std::uint32_t, ticks_kept> behind{};  ///< how far, wire::behind_units a tick
    Clock clock;
    double heard = 0.0;   ///< on `clock`, as the next
    double due_at = 0.0;  ///< unless it has joined: then the lead says
    double hello_due = 0.0, sent_at = 0.0;
    int goodbyes_left = 0;
    std::optional<SnapshotNumber> newest;  ///< snapshot
    std::uint64_t came = 0;                ///< bit i: the snapshot i before the newest has come
    std::optional<std::uint32_t> acked;    ///< newest intent that the server has
    std::vector<std::byte> packet;
    enum class ToSend : std::uint8_t { nothing, intents, goodbye } to_send = ToSend::nothing;

    [[nodiscard]] Tick now() const { return players.front().now(); }
    [[nodiscard]] bool keeps(Tick tick) const { return players.front().keeps(tick); }
    [[nodiscard]] double tick_seconds() const { return 1.0 / config.tick_rate; }
    [[nodiscard]] double next_due() const { return phase == Phase::joined ? lead.due_at() : due_at; }
    /// Of its clock, for the way there and back.
    [[nodiscard]] std::uint32_t milliseconds() const {
        return static_cast<std::uint32_t>(static_cast<std::uint64_t>(clock.now() * 1000.0));
    }

    void finish(Farewell why, std::uint32_t more, Phase end) {
        phase = end;
        farewell = why;
        detail = more;
        to_send = ToSend::nothing;
        hello_waits = false;
    }
    /// Makes what is needed for a new session.
    void prepare();
    [[nodiscard]] bool greets() const { return phase == Phase::joining || clock.now() < asks_until; }
    /// Reads an answer that comes before there is a session.
    void take_greeting(wire::Kind kind, std::span<const std::byte> bytes);
    template <class Message>
    [[nodiscard]] std::optional<Message> opened(std::span<const std::byte> bytes) const;
    [[nodiscard]] std::size_t write_hello();
    void take_challenge(std::span<const std::byte> bytes);
    void take_welcome(const wire::Welcome& welcome);
    void take_refusal(std::span<const std::byte> bytes);
    void take_unknown();
    void take_snapshot(std::span<const std::byte> bytes, Advancer& advancer);
    /// Reads the whole runners that a snapshot has, nothing where it has none. Returns false if one is nonsense.
    [[nodiscard]] bool read_runners(const wire::SnapshotHead& head, wire::Reader& reader,
                                    std::array<std::optional<Runner>, most_players>& exact) const;
    /// What the newest snapshot says of the own runners and their intents.
    void take_own(const wire::SnapshotHead& head,
                  const std::array<std::optional<Runner>, most_players>& exact, Tick tick,
                  Advancer& advancer);
    /// The server had an intent of this client when it sent the news of `tick`.
    void note_input_delay(std::uint32_t intent, Tick tick);
    /// Shows the others at the time that it is.
    void show_others();
    /// Goes on at once, with what is held, to catch up with the server.
    void skip(std::uint32_t ticks, Advancer& advancer);
    void say_hello();
    void note_figures();
    void take_sample();
    /// Notes how far behind the newest tick the others are shown.
    void note_view();
    /// How many of the last intents are told.
    [[nodiscard]] std::uint32_t intents_in_time() const;
    std::size_t write_intents();
    std::size_t write_intents(wire::IntentsHead& head, wire::MessageStream::Piece& piece);
};

/// Four bits can say more than there are reasons.
[[nodiscard]] Farewell known(Farewell why);

}  // namespace cursimeter::link
