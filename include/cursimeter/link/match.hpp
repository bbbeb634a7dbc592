#pragma once

#include <cursimeter/link/server.hpp>
#include <memory>
#include <optional>
#include <span>
#include <string>
#include <vector>

/// Whole matches, recorded at the server and played again bit for bit: all runners, what each of them was made to
/// want in each tick, and what the game did to them. The format stands in docs/match-format.md.
///
/// What is recorded is how the runners moved, and no more: no addresses, no identities, no messages.
namespace cursimeter::link {

/// What a match is made from, kept in it as text, so that it needs nothing else to be played again.
struct MatchOrigin {
    /// As TOML, one for each of the server's, or none: then the player of the match needs them.
    std::vector<std::string> charts;
    std::string course;  ///< as TOML; empty: open ground, or a world of the game's own
    std::string note;    ///< anything: the map, the build, the day
};

/// Records a match while the server plays it (`Server::record`). It allocates when it is made, and never again.
///
///     MatchRecorder match(server, {{format_chart(spec)}, {}, "the longest night"});
///     server.record(&match);
///     ... server.tick(world); file.write(match.bytes()); match.clear(); ...
///
/// With a mouse that moves in every tick a runner takes 3 to 4 bytes a tick, the whole of it each 10 s among them. A
/// tick costs the server 1.4 us more for each runner (`scripts/bench-link`).
class MatchRecorder {
  public:
    /// `room` bytes are set aside for what has not been cleared; at least twice what the largest tick takes.
    /// Throws ChartError unless there are as many texts of charts as charts, or none.
    explicit MatchRecorder(const Server& server, const MatchOrigin& origin = {},
                           std::size_t room = std::size_t{1} << 20U);
    ~MatchRecorder();
    MatchRecorder(MatchRecorder&&) noexcept;
    MatchRecorder& operator=(MatchRecorder&&) noexcept;

    /// What has been recorded since the last `clear`: append it to a file. All pieces together are the match; one
    /// that is cut off somewhere is one up to there.
    [[nodiscard]] std::span<const std::byte> bytes() const;
    /// Makes room again once `bytes` have been written away. Between two ticks.
    void clear() noexcept;
    /// Ticks that were recorded.
    [[nodiscard]] std::uint32_t ticks() const;
    /// There was no room for a tick: the match is whole up to the one before, and nothing is recorded any more.
    [[nodiscard]] bool over() const;

  private:
    friend class Server;
    struct Work;
    std::unique_ptr<Work> work_;
};

/// A match that was read.
struct Match {
    MatchOrigin origin;
    double tick_rate = 60.0;                   ///< per second
    std::uint64_t game = 0, world = 0;         ///< as ServerConfig has them
    std::vector<std::uint64_t> chart_digests;  ///< one for each chart
    std::size_t places = 0;                    ///< for runners
    std::uint32_t ticks = 0;
    bool cut_short = false;  ///< its last tick was not whole and was left out

    /// Where a tick stands in the bytes.
    struct Block {
        std::size_t begin, size;
    };
    std::vector<Block> blocks;
    std::vector<std::byte> bytes;  ///< all of it
};
/// Throws ChartError that names the byte at which it is no match.
[[nodiscard]] Match read_match(std::span<const std::byte> bytes, const std::string& name = {});

/// Where playing a match again came out otherwise.
struct MatchDifference {
    Tick tick;
    RunnerKey runner;
};

/// Plays a match again, tick by tick. Wherever the advancer does what the server's did, every bit is the same.
class MatchPlayer {
  public:
    /// `match` must live as long. Throws ChartError unless these are its charts.
    MatchPlayer(const Match& match, std::vector<Chart> charts);
    ~MatchPlayer();
    MatchPlayer(MatchPlayer&&) noexcept;
    MatchPlayer& operator=(MatchPlayer&&) noexcept;

    /// Plays the next tick. Returns false at the end. Throws ChartError where the match is damaged.
    bool next(Advancer& advancer);
    /// The tick that was played last, as the server counted.
    [[nodiscard]] Tick now() const;

    /// The runners there are, in a fixed order.
    [[nodiscard]] std::vector<RunnerKey> runners() const;
    /// Each throws std::out_of_range for a key that does not exist.
    [[nodiscard]] const Runner& runner(RunnerKey key) const;
    [[nodiscard]] const Chart& chart(RunnerKey key) const;
    [[nodiscard]] std::size_t chart_index(RunnerKey key) const;
    [[nodiscard]] std::optional<SeatId> owner(RunnerKey key) const;
    [[nodiscard]] const Report& report(RunnerKey key) const;

    /// What came out otherwise in the last tick. Such a runner goes on as it was played, until the match has the
    /// whole of it: each 10 s.
    [[nodiscard]] std::span<const MatchDifference> differences() const;

  private:
    struct Work;
    std::unique_ptr<Work> work_;
};

}  // namespace cursimeter::link
