#pragma once

#include <cstddef>
#include <cursimeter/advance.hpp>
#include <cursimeter/course/course.hpp>
#include <cursimeter/drill/drill.hpp>
#include <optional>
#include <span>
#include <string>
#include <vector>

/// Takes: what a runner was asked and what became of it, tick by tick, to be played again bit for bit. The format is
/// open and stands in docs/take-format.md.
namespace cursimeter::survey {

/// What a take is made from, kept in it as text, so that it needs nothing else to be played again.
struct TakeOrigin {
    std::string chart;   ///< as TOML (`format_chart`); empty: the player of the take needs the chart
    std::string course;  ///< as TOML (`format_course`); empty: open ground
    std::string note;    ///< anything: the drill, the build, the player
};

/// Records one runner as the game goes on. It allocates when it is made, and never again.
///
///     TakeRecorder take(chart, runner, {format_chart(spec), {}, "a jump that missed"});
///     take.begin(runner, intent, dt);                     // in each tick, before `advance` ...
///     Report report = advance(chart, runner, intent, dt);
///     take.end(runner);                                   // ... and after it
///
/// What the game does to the runner between two ticks (a push, a grant, a teleport) is noticed and recorded as it
/// came out. A take of a game's own world is a record; only takes of open ground or of a course can be played
/// again.
class TakeRecorder {
  public:
    /// Bytes that one tick takes at most. Usual are about 120.
    static constexpr std::size_t largest_tick = 8192;
    /// `room` bytes are set aside, beside the origin's; at least four of the largest ticks.
    TakeRecorder(const Chart& chart, const Runner& runner, const TakeOrigin& origin = {},
                 std::size_t room = std::size_t{1} << 20U);

    /// Each returns false, and the take is over at the tick before, if there was no room left: it stays whole.
    /// `world_time`: s, at the start of the tick, where moving parts of a course stand then; what passes between is
    /// taken for granted if it is left out.
    bool begin(const Runner& runner, const Intent& intent, Seconds dt,
               std::optional<double> world_time = std::nullopt) noexcept;
    bool end(const Runner& runner) noexcept;
    /// What has been recorded since the last `clear`: append it to a file. All pieces together are the take.
    [[nodiscard]] std::span<const std::byte> bytes() const { return {bytes_.data(), bytes_.size()}; }
    /// Makes room again once `bytes` have been written away. Not between `begin` and `end`.
    void clear() noexcept { bytes_.clear(); }
    [[nodiscard]] std::size_t ticks() const { return ticks_; }

  private:
    static constexpr std::size_t most_fields = 512;
    struct Fields {
        std::array<std::uint64_t, most_fields> values{};
        std::size_t count = 0;
    };
    friend struct TakeFields;
    void put(std::uint64_t value, unsigned bytes) noexcept;
    void put_fields(const Fields& now) noexcept;
    void put_intent(const Intent& intent, Seconds dt, double world_time) noexcept;

    std::vector<std::byte> bytes_;
    Fields last_;
    std::uint64_t last_digest_ = 0;
    Intent last_intent_;
    double last_dt_ = 0.0;
    double world_time_ = 0.0;  ///< of the next tick, unless it says otherwise
    std::size_t ticks_ = 0;
    bool over_ = false;
};

class Script;
/// Runs a script (survey/script.hpp), as `run` does, and records it. `course` may be null: open ground.
[[nodiscard]] std::vector<std::byte> record(const Chart& chart, Script& script, const Course* course,
                                            const TakeOrigin& origin);
[[nodiscard]] std::vector<std::byte> record(const Chart& chart, const Drill& drill, const Course* course,
                                            std::span<const double> tick_ends, const TakeOrigin& origin);

/// One tick of a take.
struct TakeTick {
    double seconds = 0.0;
    double world_time = 0.0;  ///< s, at its start
    Intent intent;            ///< its changes and focus live in the take
    std::vector<Change> changes;
    std::optional<Focus> focus;
    bool touched = false;               ///< the game changed the runner before this tick
    std::vector<std::uint64_t> before;  ///< the runner's fields then, if it was touched
    std::vector<std::uint64_t> fields;  ///< after the tick
    std::uint64_t digest = 0;
};
struct Take {
    Take() = default;
    Take(Take&&) = default;  // moved, not copied: intents refer to their changes
    Take& operator=(Take&&) = default;
    Take(const Take&) = delete;
    Take& operator=(const Take&) = delete;
    ~Take() = default;

    TakeOrigin origin;
    std::uint64_t chart_digest = 0;
    std::vector<std::uint64_t> start;  ///< fields of the runner before the first tick
    std::vector<TakeTick> ticks;
    bool cut_short = false;  ///< its last tick was not whole and was left out
};
/// Throws ChartError that names the byte at which it is no take.
[[nodiscard]] Take read_take(std::span<const std::byte> bytes, const std::string& name = {});

/// Where playing a take again first came out otherwise.
struct Difference {
    std::size_t tick = 0;  ///< from 1
    double at = 0.0;       ///< s, at the tick's end
    std::string field;     ///< "position.x"; of another chart "state" or "position"
    std::string recorded, replayed;
};
struct Replay {
    std::size_t ticks = 0;  ///< that were played
    double seconds = 0.0;
    bool exact = false;  ///< with the same chart, so that every bit counts
    std::optional<Difference> first;
    std::size_t differing =
        0;  ///< ticks that came out otherwise, each played from what the take had before it
    std::uint64_t digest = 0;  ///< of the last tick
};
/// Plays a take again. With its own chart every tick must give the take's digest. With another, `own` names the
/// actions of the first: it is run from the same start with the same keys, and states and places (to 1 mm) are
/// compared. `course` may be null: open ground.
[[nodiscard]] Replay replay(const Take& take, const Chart& chart, const Course* course,
                            const Chart* own = nullptr);

}  // namespace cursimeter::survey
