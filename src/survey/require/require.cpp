#include <cursimeter/survey/require.hpp>

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "survey/check/checker.hpp"
#include "survey/expected_terms.hpp"
#include "survey/require/asked.hpp"
#include "survey/require/breach_search.hpp"
#include "survey/require/proof.hpp"
#include "survey/require/soonest.hpp"

namespace cursimeter::survey {
namespace {

/// What a proof leaves out that reasons about speeds.
constexpr const char* faster_by_others = "a push, a slope, an edge, a zone or moving ground makes it faster";

/// Rules on one requirement: proves it, or looks for a drill that breaks it.
class Judgement {
  public:
    Judgement(const ChartSpec& spec, const std::string& text, const RequirePlan& plan)
        : spec_(spec), plan_(plan), base_(compile(spec)), asked_(spec, read_requirement(text, spec)) {
        ruling_.requirement = text;
    }

    Ruling run() {
        if (std::optional<Proven> proof = prove(asked_, Checker(spec_).restless())) {
            ruling_.decision = Decision::proven;
            ruling_.because = std::move(proof->because);
            ruling_.unless = proof->by_speeds ? faster_by_others : "";
            return ruling_;
        }
        switch (asked_.requirement().kind) {
            case RequirementKind::never:
                search([&](const Runner& runner,
                           const detail::Facts& facts) { return looks_forbidden(runner, facts); },
                       [&](const Way& way) { return forbidden_in(way); });
                break;
            case RequirementKind::ends:
                search(
                    [&](const Runner& runner, const detail::Facts&) {
                        return runner.state().index == *asked_.state() &&
                               runner.time_in_state().value + 1.0 / plan_.rate > limit_of_visit();
                    },
                    [&](const Way& way) { return overstayed_in(way); });
                break;
            case RequirementKind::possible: {
                const Soonest soonest(asked_);
                search(
                    [&](const Runner& runner, const detail::Facts&) {
                        return asked_.begins_in(runner.state().index) &&
                               soonest.from(runner) > limit_of_visit();
                    },
                    [&](const Way& way) { return out_of_reach_in(way, soonest); });
                break;
            }
        }
        return ruling_;
    }

  private:
    [[nodiscard]] double limit_of_visit() const { return asked_.requirement().seconds + held_back_seconds; }

    [[nodiscard]] bool looks_forbidden(const Runner& runner, const detail::Facts& facts) const {
        return (!asked_.state() || runner.state().index == *asked_.state()) &&
               (asked_.terms() == nullptr || asked_.terms()->holds(facts));
    }

    [[nodiscard]] std::vector<double> ends_of(const DrillSpec& drill) const {
        return even_ticks(plan_.rate, Seconds{drill.seconds});
    }
    /// The way as a drill, a little longer, so that what begins at its end can last.
    [[nodiscard]] DrillSpec drill_for(Way way) const {
        way.end += static_cast<std::uint32_t>(std::ceil(2.0 * held_back_seconds * plan_.rate)) + 1;
        return drill_of(way, base_, {}, plan_.rate);
    }

    /// When state and terms first hold together for longer than 10 ms; looked at instant by instant.
    std::optional<double> forbidden_in(const Way& way) {
        const DrillSpec drill = drill_for(way);
        const std::vector<double> ends = ends_of(drill);
        ExpectedTerms terms;
        const int list = terms.add("require", asked_.requirement().terms);
        terms.watch_all(spec_, base_, drill, nullptr, ends);
        Flips together{{0.0, true}};
        if (list != ExpectedTerms::none) {
            together = terms.flips_of(list);
        }
        for (const Visit& visit : terms.run().visits) {
            if (asked_.state() && visit.state.index != *asked_.state()) {
                continue;
            }
            const double end = visit.at + visit.seconds;
            for (std::size_t i = 0; i < together.size(); ++i) {
                const double until = i + 1 < together.size() ? together[i + 1].at : drill.seconds;
                const double from = std::max(visit.at, together[i].at), to = std::min(end, until);
                if (together[i].is_so && to - from > held_back_seconds + time_width) {
                    shown_ = fmt::format("{} from {:.6g} s on", what_text(), from);
                    return from;
                }
            }
        }
        return std::nullopt;
    }
    [[nodiscard]] std::string what_text() const {
        const Requirement& requirement = asked_.requirement();
        const std::string terms = fmt::format("{}", fmt::join(requirement.terms, ", "));
        return requirement.state.empty() ? terms
                                         : requirement.state + (terms.empty() ? "" : " with " + terms);
    }

    std::optional<double> overstayed_in(const Way& way) {
        const DrillSpec spec = drill_for(way);
        const Drill drill(spec, base_);
        const Run run = survey::run(base_, drill, ends_of(spec), false);
        for (const Visit& visit : run.visits) {
            if (visit.state.index == *asked_.state() && visit.seconds > limit_of_visit() + time_width) {
                shown_ = fmt::format("{} from {:.6g} s on, and still after {:.6g} s",
                                     asked_.requirement().state, visit.at, asked_.requirement().seconds);
                return visit.at + asked_.requirement().seconds;
            }
        }
        return std::nullopt;
    }

    std::optional<double> out_of_reach_in(const Way& way, const Soonest& soonest) {
        const DrillSpec spec = drill_of(way, asked_.chart(), {}, plan_.rate);
        const Drill drill(spec, asked_.chart());
        const Run run = survey::run(asked_.chart(), drill, ends_of(spec), false);
        const double wait = soonest.from(run.runner);
        if (!asked_.begins_in(run.runner.state().index) || !(wait > limit_of_visit() + time_width)) {
            return std::nullopt;
        }
        const std::string& wanted = asked_.requirement().state;
        const std::string state = asked_.chart().name(run.runner.state());
        shown_ =
            std::isfinite(wait)
                ? fmt::format("{} at {:.6g} s: whatever is pressed then, {} cannot be had for {:.6g} s",
                              state, spec.seconds, wanted, wait)
                : fmt::format("{} at {:.6g} s: nothing leads from there to {}", state, spec.seconds, wanted);
        return spec.seconds;
    }

    void search(const LooksBroken& looks, const Breaks& breaks) {
        BreachSearch search(asked_, plan_);
        std::optional<std::pair<Way, double>> found = search.run(looks, breaks);
        if (!found) {
            ruling_.because =
                fmt::format("no proof; not broken in {:.2g} million ticks from {} kinds of moments",
                            static_cast<double>(search.ticks()) / 1e6, search.kinds());
            return;
        }
        ruling_.at = *breaks(found->first);  // once more: this is what is told
        ruling_.decision = Decision::refuted;
        ruling_.because = shown_;
        ruling_.breach = asked_.requirement().kind == RequirementKind::possible
                             ? drill_of(found->first, base_, {}, plan_.rate)
                             : drill_for(found->first);
        ruling_.breach->name = "breach";
    }

    const ChartSpec& spec_;
    RequirePlan plan_;
    Chart base_;
    Asked asked_;
    Ruling ruling_;
    std::string shown_;
};

}  // namespace

std::string_view to_string(Decision decision) {
    switch (decision) {
        case Decision::proven:
            return "proven";
        case Decision::refuted:
            return "refuted";
        case Decision::undecided:
            return "not decided";
    }
    return "";
}

Ruling rule_on(const ChartSpec& spec, const std::string& requirement, const RequirePlan& plan) {
    if (!(plan.rate >= 10.0 && plan.rate <= 1000.0)) {
        throw ChartError({{"rate", fmt::format("{:g} ticks a second", plan.rate), "10 to 1000", {}, 0, 0}});
    }
    return Judgement(spec, requirement, plan).run();
}

}  // namespace cursimeter::survey
