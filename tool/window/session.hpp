#pragma once

#include <array>
#include <cstdint>
#include <cursimeter/chartfile/drill_file.hpp>
#include <cursimeter/chartfile/saved_file.hpp>
#include <cursimeter/controls/controls.hpp>
#include <cursimeter/show/body_facing.hpp>
#include <cursimeter/tryout/over_network.hpp>
#include <cursimeter/tryout/tick_clock.hpp>
#include <cursimeter/tryout/tryout.hpp>
#include <cursimeter/tryout/tuning.hpp>
#include <cursimeter/tryout/yard.hpp>
#include <deque>
#include <filesystem>
#include <optional>
#include <set>
#include <string>

#include "window/options.hpp"

namespace cursimeter::tool {

/// Whose bodies the stage shows: of the player, of the chart as it was, of the server, and as another player sees it.
enum class ShownBody : std::uint8_t { own, ghost, truth, seen };
constexpr std::size_t shown_bodies = 4;

/// Everything that the window shows and does, but for devices and drawing: a chart file that is tuned, the character, its
/// controls, time, files.
class Session {
  public:
    /// Reads the files. Throws ChartError with what is wrong with them.
    explicit Session(const TryOptions& options);

    /// Devices, in the order in which things happened; s of the clock of `run_until`.
    void press(const std::string& input, double time);
    void release(const std::string& input, double time);
    void turn(double x, double y, double time);
    void deflect(double x, double y, double time);
    void deflect_look(double x, double y);
    void release_all();
    void release_device(const std::string& prefix);

    /// Plays the ticks that are due.
    void run_until(double now);
    /// Takes files in that others have saved; a few times a second. `closely`: reads them even if they look untouched.
    void look_at_files(bool closely = false);

  private:
    SavedFile chart_saved_;  ///< before the chart is read: no save is missed

  public:
    tryout::Tuning tuning;

  private:
    std::optional<DrillFile> drill_file_;
    std::vector<tryout::Sign> signs_;

  public:
    tryout::Tryout play;
    tryout::TickClock clock;

    /// The tuned chart is another one: puts it to work under the live runner.
    void use_tuned_chart();
    /// Puts the numbers into the chart's file. Returns false, and tells why, if that cannot be.
    bool save();
    void respawn();
    void ghost(bool on);
    void network(bool on);
    [[nodiscard]] bool is_on_network() const { return net_ != nullptr; }
    [[nodiscard]] tryout::OverNetwork* net() { return net_.get(); }
    [[nodiscard]] const tryout::OverNetwork* net() const { return net_.get(); }
    /// What was played last, over a network or not.
    [[nodiscard]] const tryout::History& history() const { return net_ ? net_history_ : play.history(); }

    /// Controls.
    [[nodiscard]] const ControlsSpec& controls_spec() const { return controls_spec_; }
    [[nodiscard]] const Controls& controls() const { return controls_; }
    /// Puts an input in place of one of a binding's; what is held stays held. Returns false, and tells why, if it cannot be.
    bool rebind(std::size_t binding, const std::string& input);
    void set_controls(const ControlsSpec& spec);
    bool save_controls();

    /// Files for the other tools, under names that are not in use. They tell how to go on.
    void save_drill(tryout::Moment since);
    void save_take(tryout::Moment since);

    /// The last thing worth telling, and since when.
    struct Word {
        std::string text;
        bool wrong = false;
        double at = 0.0;  ///< s
    };
    [[nodiscard]] const Word& word() const { return word_; }
    void tell(std::string text, bool wrong = false);
    /// What of the call is allowed, and hardly meant.
    [[nodiscard]] const std::vector<std::string>& cautions() const { return cautions_; }

    [[nodiscard]] const std::vector<tryout::Sign>& signs() const { return signs_; }
    [[nodiscard]] const std::string& chart_file() const { return chart_file_; }
    [[nodiscard]] bool drill_is_playing() const { return drill_.has_value(); }
    /// Errors of the chart's file as it is now, if it is not usable; the last good one is at work.
    [[nodiscard]] const std::string& file_errors() const { return file_errors_; }
    [[nodiscard]] double now() const { return now_; }
    /// Where the picture looks: at once where hands lead, else as the runner does.
    [[nodiscard]] Look look() const;
    /// What one of the bodies on the stage faces: where it looks, or after the way that it goes.
    [[nodiscard]] Look faced(ShownBody body) const;
    /// Files written since it began.
    [[nodiscard]] const std::vector<std::string>& written() const { return written_; }

  private:
    enum class InputKind { press, release, turn, deflect };
    struct Input {
        double time;
        InputKind kind;
        InputId id;
        double x, y;
    };
    void queue(const Input& input);
    void take_inputs(double before);
    void apply(const Input& input, double at);
    [[nodiscard]] Intent wanted(double tick_begin, double tick_end);
    [[nodiscard]] std::string fresh_file(const std::string& what, const std::string& ending) const;
    void hands_take_over();
    void end_drill(const char* why);
    /// Each body that is shown now: which, its runner, and where that looks.
    template <class Work>
    void each_body(Work&& work) const;
    void turn_bodies(Seconds time);
    void play_tick();
    void play_over_network(double passed);

    std::string chart_file_, controls_file_, course_file_;
    std::vector<std::string> cautions_;
    ControlsSpec controls_spec_;
    Controls controls_;
    std::set<std::string> down_;
    std::deque<Input> inputs_;
    std::optional<DrillPlayer> drill_;
    std::optional<ChartFile> against_;
    std::string against_name_;
    std::unique_ptr<tryout::OverNetwork> net_;
    std::string file_errors_;
    Word word_;
    std::vector<std::string> written_;
    double now_ = 0.0, net_time_ = 0.0;  ///< s
    std::uint64_t net_ticks_ = 0;
    tryout::History net_history_;
    double rate_;
    std::array<BodyFacing, shown_bodies> facings_;
    tryout::Moment turned_;    ///< what the facings belong to
    tryout::Moment expected_;  ///< after the last tick by hands: elsewhere the look is the runner's
};

}  // namespace cursimeter::tool
