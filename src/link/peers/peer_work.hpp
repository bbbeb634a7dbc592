#pragma once

#include <array>
#include <cursimeter/link/peer_game.hpp>
#include <optional>
#include <stdexcept>
#include <vector>

#include "link/clock.hpp"
#include "link/peers/peer_coding.hpp"
#include "link/peers/rollback.hpp"

namespace cursimeter::link {

/// Most ticks that may be predicted, and by which own intents may be late: within what is kept.
inline constexpr std::uint32_t most_predicted_ticks = 64, most_delay_ticks = 48;

/// All that one end of a game of peers holds.
struct PeerGame::Work {
    Work(std::vector<Chart> given, const PeerGameConfig& c);

    /// What is known of another player's end.
    struct Other {
        bool heard = false;                             ///< it has said something
        bool complete = false;                          ///< it has heard of all
        bool gone = false;                              ///< as it seems, or as somebody says
        bool ended = false;                             ///< all agree on its last tick
        double heard_at = 0.0;                          ///< on the clock
        std::uint32_t says_gone = 0;                    ///< bit per player
        std::array<std::uint32_t, most_peers> known{};  ///< what it has of each
        double my_lead =
            0.0;  ///< ticks by which this end seems ahead of it, with the way that its packets take
        double its_lead = 0.0;       ///< the same, as it says
        bool led = false;            ///< both have been read
        std::uint32_t compared = 0;  ///< tick of its newest digests
        std::array<std::uint32_t, most_peers> digests{};
        std::uint32_t agreed = 0;  ///< tick of the newest that were the same
        enum class ToSend : std::uint8_t {
            nothing,
            hello,
            intents,
            state,
            goodbye
        } to_send = ToSend::nothing;
    };
    /// All runners after a tick that is known for good.
    struct Comparison {
        std::uint32_t tick = 0;
        std::array<std::uint32_t, most_peers> digests{};
        std::array<Runner, most_peers> runners{};
    };

    [[nodiscard]] double tick_seconds() const { return 1.0 / config.tick_rate; }
    [[nodiscard]] std::size_t players() const { return config.players.size(); }
    [[nodiscard]] bool lives(std::size_t player) const {
        return player == config.own || !others[player].gone;
    }
    [[nodiscard]] double tick_part() const {
        return std::clamp(1.0 - (due_at - clock.now()) / tick_seconds(), 0.0, 1.0);
    }
    [[nodiscard]] bool may_go_on() const {
        return phase == PeerPhase::playing && rollback.now() - rollback.confirmed() < window;
    }
    /// Throws std::out_of_range if there is no such player.
    [[nodiscard]] std::size_t checked(std::size_t player) const {
        if (player >= players()) {
            throw std::out_of_range("there is no player with this index");
        }
        return player;
    }
    void tell(PeerEventKind kind, std::size_t player, std::uint32_t tick);
    void send_to_all(Other::ToSend what);

    void take_hello(const wire::PeerHello& hello);
    void greet(const wire::PeerHello& hello);
    void refuse(Farewell why, std::uint32_t more);
    void take_intents(wire::Reader& reader);
    void take_rows(wire::Reader& reader, std::uint32_t now);
    void take_state(wire::Reader& reader);
    void hear(std::size_t player);
    void lose(std::size_t player);
    void begin_if_complete();
    /// Those who are gone for all, and whose intents have all come, want nothing from then on.
    void end_the_gone();
    void note_comparison();
    void compare_with(std::size_t player);
    void come_apart(std::uint32_t tick, std::size_t player, std::size_t with);
    [[nodiscard]] const Comparison* comparison(std::uint32_t tick) const;
    void pace();
    std::size_t write(std::size_t to, Other::ToSend what);
    std::size_t write_intents(std::size_t to);

    std::vector<Chart> charts;
    PeerGameConfig config;
    std::uint64_t key, setup;
    std::uint32_t window, delay;  ///< ticks
    Rollback rollback;
    PeerPhase phase = PeerPhase::joining;
    Farewell farewell = Farewell::none;
    std::uint32_t detail = 0;
    std::optional<PeerSplit> split;
    std::array<Other, most_peers> others;
    Clock clock;
    double due_at = 0.0;   ///< on the clock
    double sent_at = 0.0;  ///< the same, as of the last packets
    bool waits = false;    ///< a tick is late, since others' intents are missing
    int goodbyes_left = 0;
    std::array<Comparison, 4> comparisons;
    std::uint32_t compare_every;
    std::uint32_t next_comparison;
    std::array<PeerEvent, 16> events{};
    std::size_t events_begin = 0, events_count = 0;
    PeerStatistics statistics;
    std::vector<std::byte> packet;
};

}  // namespace cursimeter::link
