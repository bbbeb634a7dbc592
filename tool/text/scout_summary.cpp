#include "text/scout_summary.hpp"

#include <fmt/format.h>
#include <fmt/ranges.h>

#include <algorithm>
#include <cmath>
#include <cursimeter/chartfile/drill_file.hpp>
#include <map>
#include <nlohmann/json.hpp>

namespace cursimeter::tool {
namespace {

constexpr double least_exploit = 0.03;  // by which a way has to beat going on foot to be told of

std::string point_text(const Point& point) {
    return fmt::format("({:g}, {:g}, {:g})", point[0] + 0.0, point[1] + 0.0, point[2] + 0.0);
}

std::size_t traps_of(const survey::Scouted& found) {
    return static_cast<std::size_t>(std::count_if(found.places.begin(), found.places.end(),
                                                  [](const auto& place) { return !place.returns; }));
}

struct Share {
    std::string state;
    double seconds = 0.0;
    std::size_t visits = 0;
};
/// States by the time that was spent in them, most first.
std::vector<Share> shares_of(const Chart& chart, const survey::Run& run) {
    std::map<std::string, Share> by_name;
    for (const survey::Visit& visit : run.visits) {
        Share& share = by_name[chart.name(visit.state)];
        share.state = chart.name(visit.state);
        share.seconds += visit.seconds;
        ++share.visits;
    }
    std::vector<Share> list;
    for (const auto& [name, share] : by_name) {
        list.push_back(share);
    }
    std::stable_sort(list.begin(), list.end(),
                     [](const Share& a, const Share& b) { return a.seconds > b.seconds; });
    return list;
}

std::string way_text(const ScoutOutcome& outcome, const survey::ScoutPlan& plan) {
    const survey::FoundWay& way = *outcome.found.way;
    std::string text =
        fmt::format("{}: reached in {:.3f} s, the fastest of {} ways found, {} steps\n", goal_text(plan),
                    way.seconds, outcome.found.arrivals, way.drill.steps.size());
    if (way.missed.empty()) {
        text += fmt::format("    arrives at {:g} ticks a second and at {:g} as well\n", plan.rate,
                            fmt::join(way.rates, ", "));
    } else {
        text += fmt::format("    arrives at {:g} ticks a second, but not at {:g}: it is that fine\n",
                            plan.rate, fmt::join(way.missed, ", "));
    }
    text += "    ";
    std::string list;
    for (const Share& share : shares_of(outcome.chart, *outcome.way)) {
        if (share.seconds >= 0.01 * way.seconds) {
            list += fmt::format("{}{} {:.1f} s in {}", list.empty() ? "" : ", ", share.state, share.seconds,
                                share.visits);
        }
    }
    return text + list + "\n";
}

std::string exploit_text(const ScoutOutcome& outcome, const survey::ScoutPlan& plan) {
    const double seconds = outcome.found.way->seconds, distance = *plan.distance;
    if (!outcome.on_foot) {
        return fmt::format("    on average {:.2f} m/s; by ground states alone no way was found\n",
                           distance / seconds);
    }
    const double gain = *outcome.on_foot / seconds - 1.0;
    std::string text =
        fmt::format("    on average {:.2f} m/s; by ground states alone {:.2f} m/s ({:.3f} s)\n",
                    distance / seconds, distance / *outcome.on_foot, *outcome.on_foot);
    if (gain < least_exploit) {
        return text + "    nothing was found that beats going on foot by 3 % or more\n";
    }
    std::string names;
    for (const Share& share : shares_of(outcome.chart, *outcome.way)) {
        const StateKind kind = outcome.chart.kind(outcome.chart.state(share.state));
        if (kind != StateKind::ground && share.seconds >= 0.05 * seconds) {
            names += fmt::format("{}{}", names.empty() ? "" : ", ", share.state);
        }
    }
    return text + fmt::format("    {:.0f} % faster than on foot, by {}: is it meant?\n", 100.0 * gain,
                              names.empty() ? "other states" : names);
}

nlohmann::ordered_json way_json(const ScoutOutcome& one) {
    using nlohmann::ordered_json;
    if (!one.found.way) {
        return {};
    }
    ordered_json way{{"seconds", one.found.way->seconds},
                     {"arrives_at", one.found.way->rates},
                     {"misses_at", one.found.way->missed},
                     {"states", ordered_json::array()},
                     {"drill", format_drill(one.found.way->drill)}};
    for (const survey::Visit& visit : one.way->visits) {
        way["states"].push_back(
            {{"state", one.chart.name(visit.state)}, {"at", visit.at}, {"seconds", visit.seconds}});
    }
    return way;
}

std::size_t arrived_of(const std::vector<SearchLine>& searches) {
    return static_cast<std::size_t>(std::count_if(
        searches.begin(), searches.end(), [](const SearchLine& one) { return one.seconds.has_value(); }));
}

}  // namespace

std::string goal_text(const survey::ScoutPlan& plan) {
    std::string text = plan.leg        ? fmt::format("the end of leg \"{}\"", *plan.leg)
                       : plan.place    ? point_text(*plan.place)
                       : plan.distance ? fmt::format("{:g} m ahead", *plan.distance)
                       : plan.all_legs ? "the end of every leg"
                                       : "all places";
    return text + (plan.all_legs && (plan.leg || plan.place) ? " through all gates" : "");
}

std::string scout_text(const ScoutOutcome& outcome, const survey::ScoutPlan& plan) {
    const survey::Scouted& found = outcome.found;
    std::string text = fmt::format(
        "{}: {} places to stand within {:g} s, in cells of {:g} m; from {} of them no way back was seen\n",
        outcome.chart.name(), found.places.size(), plan.seconds, plan.cell, traps_of(found));
    if (found.way) {
        text += way_text(outcome, plan);
        if (outcome.raced) {
            text += exploit_text(outcome, plan);
        }
    } else if (plan.leg || plan.place || plan.distance || plan.all_legs) {
        text += fmt::format(
            "{}: no way was found. That proves nothing: search with more --effort, or another --seed\n",
            goal_text(plan));
    }
    return text +
           fmt::format("{:.1f} million ticks were played{}\n", 1e-6 * static_cast<double>(found.ticks),
                       found.stopped ? ", then the time was up: another run may come to another answer" : "");
}

std::string comparison_text(const ScoutOutcome& one, const ScoutOutcome& other,
                            const survey::ScoutPlan& plan) {
    std::string text;
    const std::vector<survey::PlaceGroup> groups = survey::compare_places(one.found, other.found, plan.cell);
    constexpr std::size_t most_groups = 10;
    std::size_t told = 0, rest = 0;
    for (const survey::PlaceGroup& group : groups) {
        if (told == most_groups) {
            rest += group.places;
            continue;
        }
        ++told;
        const Chart& chart = group.by_first ? one.chart : other.chart;
        text +=
            fmt::format("only {} gets to {} places from {} to {}, in {:.2f} s\n", chart.name(), group.places,
                        point_text(group.low), point_text(group.high), group.earliest.seconds);
    }
    if (rest > 0) {
        text += fmt::format("    and to {} places more, in {} groups\n", rest, groups.size() - told);
    }
    if (groups.empty()) {
        text += fmt::format("{} and {} get to the same places\n", one.chart.name(), other.chart.name());
    }
    if (one.found.way && other.found.way) {
        const double before = one.found.way->seconds, after = other.found.way->seconds;
        text += fmt::format("{}: {:.3f} s by {}, {:.3f} s by {}: {:+.1f} %\n", goal_text(plan), before,
                            one.chart.name(), after, other.chart.name(), 100.0 * (after / before - 1.0));
    } else if (one.found.way.has_value() != other.found.way.has_value()) {
        text += fmt::format("{}: found by {} alone\n", goal_text(plan),
                            one.found.way ? one.chart.name() : other.chart.name());
    }
    return text;
}

std::string scout_json(const ScoutOutcome& outcome, const ScoutOutcome* other, const survey::ScoutPlan& plan,
                       const std::string& course) {
    using nlohmann::ordered_json;
    const auto json_of = [&](const ScoutOutcome& one) {
        ordered_json json{{"chart", one.chart.name()},
                          {"places", one.found.places.size()},
                          {"without_way_back", traps_of(one.found)},
                          {"ticks", one.found.ticks},
                          {"stopped", one.found.stopped},
                          {"arrivals", one.found.arrivals},
                          {"way", way_json(one)}};
        if (one.raced) {
            json["on_foot"] = one.on_foot ? ordered_json(*one.on_foot) : ordered_json();
        }
        return json;
    };
    ordered_json json = json_of(outcome);
    json["course"] = course.empty() ? ordered_json() : ordered_json(course);
    json["goal"] = goal_text(plan);
    json["seed"] = plan.seed;
    json["rate"] = plan.rate;
    if (other != nullptr) {
        json["other"] = json_of(*other);
        json["differences"] = ordered_json::array();
        for (const survey::PlaceGroup& group :
             survey::compare_places(outcome.found, other->found, plan.cell)) {
            json["differences"].push_back(
                {{"only", group.by_first ? outcome.chart.name() : other->chart.name()},
                 {"places", group.places},
                 {"low", group.low},
                 {"high", group.high},
                 {"seconds", group.earliest.seconds}});
        }
    }
    return json.dump(2) + "\n";
}

std::string seeds_text(const ScoutOutcome& best, const std::vector<SearchLine>& searches,
                       const survey::ScoutPlan& plan) {
    std::string text =
        fmt::format("{:>10}  {:>10}  {:>8}  {:>14}\n", "seed", "seconds", "ways", "million ticks");
    for (const SearchLine& one : searches) {
        text += fmt::format("{:>10}  {:>10}  {:>8}  {:>14.1f}\n", one.seed,
                            one.seconds ? fmt::format("{:.3f}", *one.seconds) : "none", one.arrivals,
                            1e-6 * static_cast<double>(one.ticks));
    }
    text += fmt::format("{} of {} searches found a way\n", arrived_of(searches), searches.size());
    return best.found.way ? text + way_text(best, plan) : text;
}

std::string seeds_json(const ScoutOutcome& best, const std::vector<SearchLine>& searches,
                       const survey::ScoutPlan& plan, const std::string& course) {
    using nlohmann::ordered_json;
    ordered_json json{{"chart", best.chart.name()},
                      {"course", course.empty() ? ordered_json() : ordered_json(course)},
                      {"goal", goal_text(plan)},
                      {"rate", plan.rate},
                      {"arrived", arrived_of(searches)},
                      {"searches", ordered_json::array()},
                      {"way", way_json(best)}};
    for (const SearchLine& one : searches) {
        json["searches"].push_back({{"seed", one.seed},
                                    {"seconds", one.seconds ? ordered_json(*one.seconds) : ordered_json()},
                                    {"arrivals", one.arrivals},
                                    {"ticks", one.ticks}});
    }
    return json.dump(2) + "\n";
}

std::string places_csv(const survey::Scouted& found) {
    std::string text = "x_m,y_m,z_m,time_s,returns\n";
    for (const survey::ReachedPlace& place : found.places) {
        text += fmt::format("{},{},{},{},{}\n", place.middle[0] + 0.0, place.middle[1] + 0.0,
                            place.middle[2] + 0.0, place.seconds, place.returns ? 1 : 0);
    }
    return text;
}

}  // namespace cursimeter::tool
