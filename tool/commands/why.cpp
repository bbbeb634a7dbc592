#include <fmt/format.h>

#include <cmath>
#include <cursimeter/survey/why.hpp>
#include <nlohmann/json.hpp>

#include "commands/commands.hpp"
#include "files/call_files.hpp"
#include "files/files.hpp"
#include "scene/scene.hpp"

namespace cursimeter::tool {
namespace {

using nlohmann::ordered_json;
using survey::Standing;
using survey::StandingKind;

std::string_view word_of(StandingKind kind) {
    switch (kind) {
        case StandingKind::taken:
            return "taken";
        case StandingKind::fails:
            return "fails";
        case StandingKind::after:
            return "after";
        case StandingKind::banned:
            return "banned";
        case StandingKind::outranked:
            return "outranked";
        case StandingKind::held_back:
            return "held back";
    }
    return "";
}

std::string until_text(const survey::Stretch& stretch) {
    return std::isnan(stretch.until) ? "to the end of the run" : fmt::format("until {:.3f} s", stretch.until);
}

class Teller {
  public:
    explicit Teller(const Scene& scene) : scene_(scene), chart_(scene.chart.chart) {}

    std::string at(const survey::Explanation& told, const std::string& only) {
        print("{}, {}, at {:.3f} s: {}, since {:.3f} s ({})\n\n", chart_.name(), scene_.name, told.at,
              chart_.name(told.state), told.since, chart_.describe(told.cause));
        std::size_t place = 0;
        for (const survey::StateExplanation& state : told.rank) {
            widest_ = std::max(widest_, chart_.name(state.standing.state).size());
        }
        for (const survey::StateExplanation& state : told.rank) {
            ++place;
            if (only.empty() || chart_.name(state.standing.state) == only) {
                one(place, state, told);
            }
        }
        return std::move(text_);
    }

  private:
    template <class... Args>
    void print(fmt::format_string<Args...> format, Args&&... args) {
        text_ += fmt::format(format, std::forward<Args>(args)...);
    }

    void one(std::size_t place, const survey::StateExplanation& state, const survey::Explanation& told) {
        const Standing& standing = state.standing;
        print("{:>3}  {:<{}} {}\n", place, chart_.name(standing.state), widest_,
              survey::describe(chart_, standing, told.state));
        for (std::size_t i = 0; i < standing.clauses.size(); ++i) {
            const std::string_view what = standing.by_stay ? "stay" : "enter";
            const std::string label = i == 0 ? std::string(what) : "or";
            for (std::size_t k = 0; k < standing.clauses[i].size(); ++k) {
                const survey::TermReading& term = standing.clauses[i][k];
                const std::string& value = state.values[i][k];
                print("       {:>5}  {} {:<28}{}\n", k == 0 ? label : "", term.holds ? "\u2713" : "\u2717",
                      term.text, value.empty() ? "" : "now " + value);
            }
        }
        if (standing.failing) {
            print("       {}: {}{}\n",
                  place_of(scene_.chart_name, scene_.chart.sources, standing.failing->path),
                  standing.failing->text,
                  state.failing_stretch
                      ? fmt::format(" fails since {:.3f} s, {}", state.failing_stretch->since,
                                    until_text(*state.failing_stretch))
                      : " holds at the instant of its key only");
        }
    }

    const Scene& scene_;
    const Chart& chart_;
    std::size_t widest_ = 12;  ///< letters of a state's name
    std::string text_;
};

ordered_json standing_json(const Scene& scene, const Standing& standing) {
    const Chart& chart = scene.chart.chart;
    ordered_json told{{"state", chart.name(standing.state)},
                      {"standing", word_of(standing.kind)},
                      {"condition", standing.by_stay ? "stay" : "enter"}};
    told["clauses"] = ordered_json::array();
    for (const auto& clause : standing.clauses) {
        ordered_json terms = ordered_json::array();
        for (const survey::TermReading& term : clause) {
            terms.push_back({{"term", term.text}, {"holds", term.holds}, {"path", term.path}});
        }
        told["clauses"].push_back(std::move(terms));
    }
    if (standing.failing) {
        told["failing"] = standing.failing->text;
        told["place"] = place_of(scene.chart_name, scene.chart.sources, standing.failing->path);
    }
    if (standing.kind == StandingKind::outranked) {
        told["first"] = chart.name(standing.first);
    }
    return told;
}

int explain_at(const WhyOptions& options, const Scene& scene) {
    const Chart& chart = scene.chart.chart;
    const survey::Explanation told =
        survey::explain(chart, *scene.script(), scene.world(), Seconds{*options.at});
    if (!options.json) {
        fmt::print("{}", Teller(scene).at(told, options.state));
        return 0;
    }
    ordered_json json{
        {"chart", chart.name()},           {"drill", scene.name}, {"at", told.at},
        {"state", chart.name(told.state)}, {"since", told.since}, {"cause", chart.describe(told.cause)},
        {"rank", ordered_json::array()}};
    for (const survey::StateExplanation& state : told.rank) {
        if (!options.state.empty() && chart.name(state.standing.state) != options.state) {
            continue;
        }
        ordered_json one = standing_json(scene, state.standing);
        for (std::size_t i = 0; i < state.values.size(); ++i) {
            for (std::size_t k = 0; k < state.values[i].size(); ++k) {
                if (!state.values[i][k].empty()) {
                    one["clauses"][i][k]["now"] = state.values[i][k];
                }
            }
        }
        if (state.failing_stretch) {
            one["fails_since"] = state.failing_stretch->since;
            one["fails_until"] = std::isnan(state.failing_stretch->until)
                                     ? ordered_json()
                                     : ordered_json(state.failing_stretch->until);
        }
        json["rank"].push_back(std::move(one));
    }
    fmt::print("{}\n", json.dump(2));
    return 0;
}

int tell_denials(const WhyOptions& options, const Scene& scene) {
    const Chart& chart = scene.chart.chart;
    const StateId state = chart.state(options.state);
    const survey::WatchedRun watched = survey::watch(chart, *scene.script(), scene.world());
    const std::vector<survey::Denial> denials = survey::denials(chart, watched, state);
    if (options.json) {
        ordered_json json{{"chart", chart.name()},
                          {"drill", scene.name},
                          {"state", options.state},
                          {"denials", ordered_json::array()}};
        for (const survey::Denial& denial : denials) {
            ordered_json one = standing_json(scene, denial.standing);
            one["from"] = denial.from;
            one["until"] = denial.until;
            json["denials"].push_back(std::move(one));
        }
        fmt::print("{}\n", json.dump(2));
        return 0;
    }
    fmt::print("{}, {}: {} wanted and not taken\n\n", chart.name(), scene.name, options.state);
    if (denials.empty()) {
        fmt::print("never: whenever its keys asked for it, it was taken\n");
        return 0;
    }
    fmt::print("{:>9}  {:>9}  {:>8}  cause\n", "from s", "until s", "for s");
    for (const survey::Denial& denial : denials) {
        fmt::print(
            "{:>9.3f}  {:>9.3f}  {:>8.3f}  {}{}\n", denial.from, denial.until, denial.until - denial.from,
            survey::describe(chart, denial.standing, denial.standing.first),
            denial.standing.failing
                ? "  (" + place_of(scene.chart_name, scene.chart.sources, denial.standing.failing->path) + ")"
                : "");
    }
    return 0;
}

}  // namespace

int why_command(const WhyOptions& options) {
    if (!options.at && options.state.empty()) {
        throw ChartError({{"--at",
                           "is missing, and so is --state",
                           "give --at SECONDS for one time, or --state STATE for a whole run",
                           {},
                           0,
                           0}});
    }
    check_files({inputs_of(options.scene), {}});
    const Scene scene(options.scene);
    if (!options.state.empty()) {
        static_cast<void>(scene.chart.chart.state(options.state));  // complains of a name that there is not
    }
    return options.at ? explain_at(options, scene) : tell_denials(options, scene);
}

}  // namespace cursimeter::tool
