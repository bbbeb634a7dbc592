#include <algorithm>
#include <cmath>
#include <cursimeter/survey/scout.hpp>

#include "survey/scout/trim.hpp"
#include "survey/work.hpp"

namespace cursimeter::survey {
namespace {

constexpr double search_part = 0.75;  // of the effort; the rest makes the way shorter
constexpr int most_passes = 10;       // that explore
constexpr int enough_idle = 4;        // passes in a row without an earlier arrival
constexpr int enough_rounds = 150;    // of edits in a row that gain nothing
constexpr std::size_t least_width = 16, first_width = 128, most_width = 20'000;  // situations a layer

/// So that the first passes cost a small part of the effort each.
std::size_t width_for(double effort, double seconds) {
    constexpr double part = 0.12, layers_a_second = 10.0, ticks_each = 240.0;
    return static_cast<std::size_t>(std::clamp(part * effort / (seconds * layers_a_second * ticks_each),
                                               static_cast<double>(least_width),
                                               static_cast<double>(first_width)));
}

}  // namespace

DrillSpec Scouted::way_to(const ReachedPlace& place) const {
    return drill_of(way_of(branches->list, place.branch, place.ticks), branches->chart, branches->start,
                    branches->rate);
}

Scouted scout(const Chart& chart, const Course* course, const ScoutPlan& plan) {
    const Errand errand(chart, course, plan);
    const unsigned threads = threads_of(plan.threads);
    const double effort = plan.effort * 1e6;
    Scouted found;
    Search search(errand, threads);
    ScoutProgress progress;
    const auto tell = [&](const char* doing, std::uint64_t ticks, double best) {
        progress.doing = doing;
        progress.part = std::min(1.0, static_cast<double>(ticks) / effort);
        progress.cells = search.place_count();
        progress.best = std::isnan(best) ? std::nullopt : std::optional(best);
        found.stopped = found.stopped || (plan.progress && !plan.progress(progress));
        return !found.stopped;
    };
    const auto left = [&] { return static_cast<double>(search.ticks()) < search_part * effort; };
    const char* doing = "exploring";
    search.going_on = [&] { return tell(doing, search.ticks(), search.best()) && left(); };
    // A small world is soon used up: passes that find nothing more come to an end however much effort is left.
    const auto explore = [&] {
        doing = "exploring";
        std::size_t width = width_for(effort, plan.seconds);
        for (int pass = 0; pass < most_passes && left() && !found.stopped && !search.found(); ++pass) {
            search.explore(width);
            width = std::min(2 * width, most_width);
        }
    };
    const auto narrow = [&] {
        doing = "narrowing";
        std::size_t width = std::max(least_width, width_for(effort, plan.seconds) / 4);
        for (int idle = 0; idle < enough_idle && left() && !found.stopped && search.knows_goal();) {
            const double before = search.bound();
            search.narrow(width);
            width = std::min(2 * width, most_width);
            idle = search.bound() < before - 1e-3 ? 0 : idle + 1;
        }
    };
    for (DrillSpec known : plan.known) {
        known.expects.clear();  // what it expects may be another chart's states
        search.learn_from(Drill(known, chart));
    }
    narrow();
    if (!search.found()) {  // nothing is known, or what is does not lead there by the moves that are tried
        explore();
        narrow();
    }
    found.ticks = search.ticks();
    if (search.found()) {
        Trimmer trimmer(errand, threads);
        trimmer.begin(search.arrivals());
        for (int idle = 0; idle < enough_rounds &&
                           static_cast<double>(search.ticks() + trimmer.ticks()) < effort &&
                           tell("trimming", search.ticks() + trimmer.ticks(), trimmer.seconds());) {
            const double before = trimmer.seconds();
            trimmer.round();
            idle = trimmer.seconds() < before ? 0 : idle + 1;
        }
        found.way = trimmer.result();
        found.ticks += trimmer.ticks();
    }
    found.places = search.places();
    found.arrivals = search.arrival_count();
    found.branches = std::make_shared<const Scouted::Branches>(
        Scouted::Branches{search.branches(), errand.begin, plan.rate, chart});
    return found;
}

}  // namespace cursimeter::survey
