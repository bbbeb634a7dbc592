#pragma once

#include <functional>
#include <limits>

#include "survey/figures/figure_table.hpp"
#include "survey/probe.hpp"

/// Leaps: jumps, jumps off a wall and bursts, one after the other in one flight, tried at times of the flight.
namespace cursimeter::survey {

/// What a leap can be made of: a state that a press brings about.
struct LeapPart {
    std::uint8_t state = 0;
    std::size_t times = 1;             ///< that it can be brought about in one flight
    std::vector<double> pitches{0.0};  ///< degrees; looks that are tried with it
};
/// A jump with every further one of its table.
[[nodiscard]] LeapPart jump_part(const FigureSource& source, std::uint8_t jump);
/// A burst as often as it has charges, with looks up to straight up where it goes by them.
[[nodiscard]] LeapPart burst_part(const FigureSource& source, std::uint8_t burst);
/// The fastest run that input alone brings about, from which leaps are begun.
[[nodiscard]] std::optional<std::uint8_t> fastest_run(const FigureSource& source);
/// The first launch that needs no wall, if the chart has one.
[[nodiscard]] std::optional<std::uint8_t> first_jump(const FigureSource& source);
/// Whether a burst follows the look's pitch although the stick is pushed forward.
[[nodiscard]] bool goes_up(const FigureSource& source, std::uint8_t burst);

class Leaps {
  public:
    /// Out of a run in a ground state. `held` are actions that are held besides those of the run.
    Leaps(const FigureSource& source, std::uint8_t run, std::vector<LeapPart> parts, std::uint32_t held = 0);

    /// When a flight is given up: lower than `floor`, or lower than `sinking` with nothing left but to fall.
    struct Goal {
        std::function<bool(const Runner&)> wanted;                  ///< of a runner that has just landed
        double floor = -1.0;                                        ///< m
        double sinking = -std::numeric_limits<double>::infinity();  ///< m
    };
    /// Whether a runner that leaps now lands where it is wanted.
    [[nodiscard]] bool lead(const Runner& from, const Terrain& terrain, const Goal& goal) const;
    /// Actions that are held in the run.
    [[nodiscard]] std::uint32_t run_held() const { return run_.held | run_.pressed | besides_; }
    [[nodiscard]] const Move& move() const { return run_.move; }
    /// How many presses a flight can have.
    [[nodiscard]] std::size_t count() const;
    /// Further presses are tried every 50 ms, or every 25 ms, which takes twice as long for each.
    void try_often() { press_steps_ = 6; }

    static constexpr double fine_step = 1.0 / 240.0;  // s

  private:
    using Left = std::vector<std::size_t>;  ///< of each part
    [[nodiscard]] bool leaps(const Probe& at, const Left& left, const Goal& goal) const;
    [[nodiscard]] bool begins(Probe& probe, const LeapPart& part, double pitch) const;
    [[nodiscard]] bool flies(Probe& probe, const Left& left, const Goal& goal) const;

    const FigureSource& source_;
    Recipe run_;
    std::vector<LeapPart> parts_;
    std::uint32_t besides_;
    int press_steps_ = 12;  ///< fine steps between two times at which a further press is tried
};

/// The largest m, to 1 mm, for which a leap gets there, if it does for any above `least` and not for all up to `most`. Looked for
/// from below: to be sure that nothing gets there takes longest.
[[nodiscard]] std::optional<double> largest_that(const std::function<bool(double)>& gets_there, double least,
                                                 double most);
/// A figure that `how` tells the finding of, if there is any.
[[nodiscard]] Answer answer_of(std::optional<double> largest, const std::string& how);

}  // namespace cursimeter::survey
