#pragma once

#include <cstdint>
#include <cursimeter/chart.hpp>
#include <cursimeter/course/course.hpp>
#include <cursimeter/drill/drill.hpp>
#include <functional>
#include <memory>
#include <optional>
#include <string>
#include <vector>

/// What can a character reach, and how fast can it be? A search over what hands can do.
///
/// It plays stretches of input by chance from places that it has reached, keeps the earliest arrivals that differ in place,
/// speed, state and meters, and goes on from those. Whatever it tells has been played by the core, so it is true: what it does
/// not find may still be there. The same plan gives the same answer on every machine and with any number of threads.
namespace cursimeter::survey {

/// How far a search has come.
struct ScoutProgress {
    std::string doing;           ///< "exploring", "narrowing", "trimming"
    double part = 0.0;           ///< of the effort that is used up, 0 to 1
    std::size_t cells = 0;       ///< where it can stand
    std::optional<double> best;  ///< s; the earliest arrival at the goal so far
};

/// What to look for, and how hard.
struct ScoutPlan {
    StartSpec start;  ///< its yaw is rounded to whole degrees
    // The goal; none: all places that there are.
    std::optional<std::string> leg;  ///< of the course: to its end, through its start
    std::optional<Point> place;      ///< m
    double within = 0.6;             ///< m around the place
    std::optional<double> distance;  ///< m: so far ahead of the start, the way that it looks
    bool all_legs = false;           ///< through the start and the end of every leg of the course
    // What is barred.
    std::vector<std::string> without;  ///< actions that are not used
    std::vector<std::string> avoid;    ///< kinds of zones that are not entered
    bool on_foot = false;              ///< only states of kind ground
    double seconds = 60.0;             ///< the longest way, 0.5 to 600
    double cell = 0.5;                 ///< m; places in one cell are one place, 0.1 to 10
    double rate = 50.0;                ///< ticks a second, 10 to 1000
    double effort =
        100.0;  ///< millions of ticks that are played, about, 0.1 to 2000; up to 8 MB of memory for each
    std::uint64_t seed = 1;
    /// Runs that are known to get there, such as recorded ones, by any hands: the search begins along where they led. They may start
    /// elsewhere; what is barred ends them.
    std::vector<DrillSpec> known;
    unsigned threads = 0;  ///< 0: as many as there are cores
    /// Told now and then, from the calling thread. False stops the search; what has been found by then is returned.
    std::function<bool(const ScoutProgress&)> progress;
};

/// A place where the character can stand.
struct ReachedPlace {
    Point middle{};        ///< m; of its cell
    double seconds = 0.0;  ///< the least time that was found, from the start
    bool returns = false;  ///< whether a way back to the start was seen: otherwise it may be a trap
    std::uint32_t branch = 0, ticks = 0;  ///< see `Scouted::way_to`
};

/// A way to the goal.
struct FoundWay {
    double seconds = 0.0;        ///< until the goal is reached, from the start
    DrillSpec drill;             ///< gives the same bits at the plan's rate
    std::vector<double> rates;   ///< ticks a second at which the drill was also tried, and arrived
    std::vector<double> missed;  ///< ... and did not
};

/// What a search found.
struct Scouted {
    std::vector<ReachedPlace> places;  ///< in order of time
    std::optional<FoundWay> way;       ///< the fastest that arrives at all of the rates, if there is one
    std::size_t arrivals = 0;          ///< ways to the goal that were found
    std::uint64_t ticks = 0;           ///< played
    bool stopped = false;              ///< by `progress`
    /// A drill that gets to one of the places in its least time.
    [[nodiscard]] DrillSpec way_to(const ReachedPlace& place) const;

    struct Branches;
    std::shared_ptr<const Branches> branches;  ///< how each place was come to
};

/// Ticks a second at which a way to the goal has to arrive, ticks a second.
[[nodiscard]] const std::vector<double>& scout_rates();

/// Searches. `course` may be null: open ground. Throws ChartError for a plan that is out of range or names what there is not,
/// and for a known drill that the chart cannot play.
[[nodiscard]] Scouted scout(const Chart& chart, const Course* course, const ScoutPlan& plan);

/// Places next to one another that one search reached, and another did not come near.
struct PlaceGroup {
    bool by_first = true;  ///< which of the two searches reached them
    std::size_t places = 0;
    Point low{}, high{};    ///< m; the box around their middles
    ReachedPlace earliest;  ///< of them
};
/// What two searches with the same plan but for the chart reached alone, the largest groups first. A place counts if the other has none in
/// the cells around it: the last cell at an edge is found by chance.
[[nodiscard]] std::vector<PlaceGroup> compare_places(const Scouted& first, const Scouted& second,
                                                     double cell);

}  // namespace cursimeter::survey
