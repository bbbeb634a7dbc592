#pragma once

#include <functional>

#include "survey/figures/figure_table.hpp"
#include "survey/probe.hpp"

/// Jumps with every further one of their table, tried at times of the flight.
namespace cursimeter::survey {

class Leaps {
  public:
    /// Out of a run in a ground state with a launch that input brings about.
    Leaps(const FigureSource& source, std::uint8_t run, std::uint8_t jump);

    /// Whether a runner that jumps now lands where it is wanted; it flies until it is below `floor` m.
    [[nodiscard]] bool lead(const Runner& from, const Terrain& terrain, double floor,
                            const std::function<bool(const Runner&)>& wanted) const;
    /// Actions that are held in the run.
    [[nodiscard]] std::uint32_t run_held() const { return run_.held | run_.pressed; }
    [[nodiscard]] const Move& move() const { return run_.move; }
    /// Jumps of the table.
    [[nodiscard]] std::size_t count() const { return source_.state(jump_).launch.count; }

    static constexpr double fine_step = 1.0 / 240.0;  // s

  private:
    struct Flight {
        double floor;
        const std::function<bool(const Runner&)>& wanted;
    };
    [[nodiscard]] bool jumps(Probe& probe, std::size_t further, const Flight& flight) const;
    [[nodiscard]] bool jumps_again(const Probe& flying, std::size_t further, const Flight& flight) const;

    const FigureSource& source_;
    std::uint8_t jump_;
    Recipe run_;
    std::uint32_t held_ = 0, pressed_ = 0;
};

/// The largest m, to 1 mm, for which a leap gets there, if it does for any and not for all up to `most`. Looked for from
/// below: to be sure that nothing gets there takes longest.
[[nodiscard]] Answer largest_that(const std::function<bool(double)>& gets_there, double most,
                                  const char* how);

}  // namespace cursimeter::survey
