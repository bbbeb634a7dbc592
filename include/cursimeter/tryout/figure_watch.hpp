#pragma once

#include <cursimeter/survey/figures.hpp>
#include <memory>
#include <string>
#include <vector>

namespace cursimeter::tryout {

/// A figure before and after.
struct FigureChange {
    std::string name, unit, meaning;
    double before = 0.0, after = 0.0;  ///< NaN where there is none
};

/// Figures of a chart that is being turned, found on a thread of its own while the game goes on. The newest chart wins:
/// what is no longer wanted is given up after the figure at hand. Searches of whole courses (`best_average`) are left out.
class FigureWatch {
  public:
    FigureWatch();
    ~FigureWatch();
    FigureWatch(const FigureWatch&) = delete;
    FigureWatch& operator=(const FigureWatch&) = delete;

    /// Compare this chart with that one. Cheap: it is copied and left to the thread.
    void ask(const ChartSpec& before, const ChartSpec& after);
    struct Answer {
        std::vector<FigureChange> changes;  ///< that differ by more than a millionth
        std::size_t figures = 0;            ///< that were compared
        bool whole = false;                 ///< of the charts that were asked for last, and all of them
    };
    /// What is known by now.
    [[nodiscard]] Answer answer() const;

  private:
    struct Work;
    std::unique_ptr<Work> work_;
};

}  // namespace cursimeter::tryout
