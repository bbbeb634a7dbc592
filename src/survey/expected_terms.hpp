#pragma once

#include <cursimeter/survey/why.hpp>
#include <optional>
#include <string>
#include <vector>

/// When the terms of expectations hold in a run of a drill.
///
/// Terms are the chart's own: they are compiled into a copy of it, each list as the `enter` of a state that nothing leads to. So
/// nothing waits for them and no run is changed, and whoever looks on a run sees them come and go like every other fact.
namespace cursimeter::survey {

/// A time of an expectation is met to this, s.
inline constexpr double time_width = 1e-6;

/// From a time on it is so, or not: until the next one.
struct Flip {
    double at = 0.0;
    bool is_so = false;
};
/// In order of time; of several at one time the last is what counts.
using Flips = std::vector<Flip>;

[[nodiscard]] Flips settled(const Flips& flips);
/// Whether it is so at a time, to `width` s.
[[nodiscard]] bool is_so_at(const Flips& flips, double at, double width = time_width);
/// When it is first so (or, not `wanted`, first not so) from `from` on and before `to`; nothing if it is not.
[[nodiscard]] std::optional<double> first_time(const Flips& flips, bool wanted, double from, double to);

/// A copy of the chart with the terms as the `enter` of its last state, which nothing leads to. Throws ChartError, with the path of what
/// is wrong in `path`, for terms that are wrong, and for a chart that has no room for them.
[[nodiscard]] Chart compile_with_terms(const ChartSpec& spec, const std::string& path,
                                       const std::vector<std::string>& terms);

/// Lists of terms, by the number that adding them returns, watched through a run.
class ExpectedTerms {
  public:
    static constexpr int none = -1;

    /// `path` says where the drill says them: "expect[2].holds". An empty list has no number.
    int add(std::string path, std::vector<std::string> terms);
    /// Runs the drill by as many copies of the chart as it takes; one at least. Throws ChartError for terms that are wrong, and
    /// for a chart that has no room for them.
    void watch_all(const ChartSpec& spec, const Chart& base, const DrillSpec& drill, const Course* course,
                   std::span<const double> tick_ends);

    /// When all terms of a list hold; presses are left out, which hold for an instant.
    [[nodiscard]] Flips flips_of(int list) const;
    /// The times at which a list comes to hold, presses as well.
    [[nodiscard]] std::vector<double> beginnings(int list) const;

    /// The first copy of a chart, without any run.
    [[nodiscard]] Chart first_copy(const ChartSpec& spec, const Chart& base);

    /// The copy that has a list, its state there, and its run.
    [[nodiscard]] const Chart& chart_of(int list) const { return copy_of(list).chart; }
    [[nodiscard]] StateId state_of(int list) const { return lists_[static_cast<std::size_t>(list)].state; }
    /// What every copy has in common: the run, but for facts and digest.
    [[nodiscard]] const Run& run() const { return copies_.front().watched.run; }
    [[nodiscard]] const Chart& any_chart() const { return copies_.front().chart; }

  private:
    struct List {
        std::string path;
        std::vector<std::string> terms;
        StateId state;
    };
    struct Copy {
        Chart chart;
        std::size_t first = 0, count = 0;  ///< of the lists
        WatchedRun watched;
    };
    std::size_t add_states(ChartSpec& spec, const Chart& base, std::size_t first);
    [[nodiscard]] Chart compile_copy(const ChartSpec& spec, std::size_t first, std::size_t count) const;
    [[nodiscard]] const Copy& copy_of(int list) const;
    [[nodiscard]] bool holds(int list, const detail::Facts& facts) const;

    std::vector<List> lists_;
    std::vector<Copy> copies_;
};

}  // namespace cursimeter::survey
