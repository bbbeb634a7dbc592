#pragma once

#include <cursimeter/advance.hpp>
#include <cursimeter/chart_spec.hpp>
#include <cursimeter/course/course.hpp>
#include <cursimeter/id_map.hpp>
#include <cursimeter/tryout/history.hpp>
#include <cursimeter/tryout/recording.hpp>
#include <optional>
#include <string>
#include <vector>

/// A character under one's hands, as a value of plain code: played, turned back, played again, beside a ghost. No window,
/// clock or file is inside.
namespace cursimeter::tryout {

/// Gives a runner the press modes of another one of the same chart: a player's settings outlast a respawn.
void take_press_modes(const Chart& chart, Runner& runner, const Runner& like);

/// The same input under another chart, beside the runner.
struct GhostReading {
    std::string name;  ///< as it was started
    Runner runner;
    double since = 0.0;  ///< s of the history, when it began
    double apart = 0.0;  ///< m from the runner
    double ahead = 0.0;  ///< m that it has walked more since it began; negative: less
    /// s that it needed less for what both have walked; empty while one of them stands where it began.
    std::optional<double> earlier;
    /// When both were first in different states (by name), and in which.
    struct Parting {
        double at = 0.0;  ///< s of the history
        std::string own, ghost;
    };
    std::optional<Parting> parting;
};

class Tryout {
  public:
    struct Options {
        double rate = 60.0;   ///< ticks a second, 10 to 1,000
        Seconds keep{120.0};  ///< of history
        Placement start{};    ///< where the character begins, and begins again
        /// A runner of the chart in place of that: it goes on with all that it has, keys that are down too.
        std::optional<Runner> from{};
        double time = 0.0;             ///< s that the course's clock shows at the beginning
        Facing facing = Facing::look;  ///< all the time
    };
    /// Throws ChartError if an option is out of range or the course is none.
    Tryout(const Chart& chart, const std::optional<Course>& course, const Options& options);
    /// On open ground, at 60 ticks a second.
    explicit Tryout(const Chart& chart) : Tryout(chart, std::nullopt, Options{}) {}

    /// Plays a tick from the present moment on; what was kept of later ones is forgotten. While a stretch is looped, what was
    /// wanted in it is played, and `intent` left out. Of the intent its focus is left out, which no drill can say, and its facing:
    /// `Options::facing` holds.
    /// Returns what happened, valid until the next call.
    const Report& tick(const Intent& intent);

    [[nodiscard]] const Chart& chart() const { return chart_; }
    [[nodiscard]] const std::optional<Course>& course() const { return course_; }
    [[nodiscard]] const Runner& runner() const { return runner_; }
    /// As it was a tick ago, for drawing between the two; the runner itself after a leap in time or place.
    [[nodiscard]] const Runner& before() const { return before_; }
    [[nodiscard]] Seconds tick_length() const { return Seconds{1.0 / options_.rate}; }
    [[nodiscard]] const History& history() const { return history_; }
    /// Ticks that were played, whatever was turned back.
    [[nodiscard]] std::uint64_t ticks() const { return ticks_; }

    /// Another version of the chart, under the live runner, from the next tick on. Returns what could not be carried over.
    std::vector<std::string> set_chart(const Chart& chart);
    /// Begins again at the start. The history goes on.
    void respawn();
    /// s since the character began.
    [[nodiscard]] double lived() const { return world_time() - options_.time; }
    /// s that the course's clock shows.
    [[nodiscard]] double world_time() const { return lived_ == 0 ? options_.time : end_of_tick(lived_ - 1); }
    /// The moment at which it began, if that is still kept; else the oldest.
    [[nodiscard]] Moment begun() const;
    [[nodiscard]] const Placement& start() const { return options_.start; }
    [[nodiscard]] Facing facing() const { return options_.facing; }
    /// The game does something to the runner between two ticks.
    [[nodiscard]] Runner& touch() { return runner_; }

    /// Time. The present moment is `now`; moments after it can be gone to until the next tick is played.
    [[nodiscard]] Moment now() const { return now_; }
    [[nodiscard]] double time() const { return history_.size() > 0 ? history_.time(now_) : 0.0; }
    /// To a moment of the history; to the nearest that is kept if there is no such. The runner is carried over to the present
    /// chart.
    void go_to(Moment moment);
    /// By ticks, as far as the history goes. At the newest moment a step on plays one more tick of what is held.
    void step_back(std::uint64_t ticks = 1);
    void step_on(std::uint64_t ticks = 1);

    /// Plays what was wanted from one moment to another again and again, under the chart as it is now. Returns false for an
    /// empty stretch.
    bool loop(Moment from, Moment until);
    void end_loop();
    struct Stretch {
        Moment from, until;
    };
    [[nodiscard]] std::optional<Stretch> looped() const;

    /// A ghost begins where the runner is, under another chart; each loop it begins again.
    void start_ghost(const Chart& chart, std::string name);
    void end_ghost();
    [[nodiscard]] std::optional<GhostReading> ghost() const;
    [[nodiscard]] const Chart* ghost_chart() const { return ghost_ ? &ghost_->chart : nullptr; }
    /// As it was a tick ago.
    [[nodiscard]] const Runner& ghost_before() const { return ghost_->before; }

    /// What was played from a moment up to now. `spec` is the present chart's. Throws ChartError if nothing was.
    [[nodiscard]] PlayedTake take_since(Moment moment, const ChartSpec& spec, const std::string& note) const;
    /// The keys that were pressed as a drill, which gives the same run, to the bit. From a moment at which the character did not begin, it
    /// holds the runner as it was. Throws ChartError if nothing was played.
    [[nodiscard]] DrillSpec drill_since(Moment moment, const std::string& name) const;

    /// Whether the character has fallen below everything that there is.
    [[nodiscard]] bool fell_out() const;

  private:
    struct Ghost {
        Chart chart;
        std::string name;
        IdMap ids;
        std::optional<CourseTerrain> terrain;
        Runner runner, before;
        Moment since;
        Runner start, own_start;
        std::vector<Runner> kept;  ///< a ring: at each moment
        std::optional<GhostReading::Parting> parting;
        Moment parted;
    };
    /// One tick of a loop.
    struct Wanted {
        Move move;
        Look look;
        std::uint32_t held = 0;
        std::vector<Change> changes;
        [[nodiscard]] Intent intent() const {
            return {.move = move, .look = look, .held = held, .changes = changes};
        }
    };
    [[nodiscard]] static Wanted mapped(const IdMap& ids, const Wanted& wanted);

    Intent as_a_drill_says_it(const Intent& intent);
    [[nodiscard]] double end_of_tick(std::uint64_t tick) const;
    void play_ghost(const Intent& intent, double begin, Seconds dt);
    void place_ghost();
    void restart_ghost();
    [[nodiscard]] std::uint64_t lived_at(Moment moment) const;
    [[nodiscard]] Intent hands_at(Moment moment) const;
    void begin_with(const Runner& runner);

    Options options_;
    Chart chart_, first_chart_;
    std::optional<Course> course_;
    std::optional<CourseTerrain> terrain_;
    double floor_ = 0.0;  ///< m; below this there is nothing
    History history_;
    Runner runner_, before_, newest_;
    Moment now_;
    std::uint64_t lived_ = 0, newest_lived_ = 0;  ///< ticks since the character began
    Intent hands_;                 ///< what is held, wanted and looked at at the present moment
    std::vector<Change> changes_;  ///< of the tick that is played
    Report report_;
    std::uint64_t ticks_ = 0;
    std::optional<Ghost> ghost_;
    std::vector<Wanted> loop_;
    Stretch stretch_;
    std::size_t loop_next_ = 0;
};

}  // namespace cursimeter::tryout
