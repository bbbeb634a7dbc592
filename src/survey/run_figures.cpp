#include "survey/run_figures.hpp"

#include <algorithm>
#include <cmath>
#include <cursimeter/survey/trial.hpp>

#include "survey/figures/figure_table.hpp"

namespace cursimeter::survey {
namespace {

constexpr const char* how = "simulated by the sweep's drill";

Figure leg_figure(const LegSpec& leg, double seconds) {
    return {"leg." + name_part(leg.name), "s", seconds, how, "from the leg's start to its finish"};
}
Figure kept_figure(double count) {
    return {"trial.kept", "", count, how, "how many of the drill's expectations are kept"};
}

}  // namespace

std::vector<Figure> run_figures(const SweepPlan& plan) {
    std::vector<Figure> list;
    if (plan.drill == nullptr) {
        return list;
    }
    for (const LegSpec& leg : plan.course != nullptr ? plan.course->spec().legs : std::vector<LegSpec>{}) {
        list.push_back(leg_figure(leg, std::nan("")));
    }
    if (!plan.drill->expects.empty()) {
        list.push_back(kept_figure(std::nan("")));
    }
    return list;
}

std::vector<Figure> run_figures(const ChartSpec& spec, const SweepPlan& plan) {
    std::vector<Figure> list = run_figures(plan);
    const std::vector<double> ends =
        even_ticks(plan.rate, Seconds{plan.drill->seconds}, Seconds{plan.drill->start.time.value_or(0.0)});
    const auto asks_for = [&](std::string_view beginning) {
        return std::any_of(plan.figures.begin(), plan.figures.end(),
                           [&](const std::string& name) { return name.starts_with(beginning); });
    };
    if (plan.course != nullptr && asks_for("leg.")) {
        const Chart chart = compile(spec);
        const Drill drill(*plan.drill, chart);
        const Run run = survey::run(chart, drill, *plan.course, ends, false);
        for (std::size_t i = 0; i < run.legs.size(); ++i) {
            list[i].value = run.legs[i].ended - run.legs[i].begun;
        }
    }
    if (asks_for("trial.")) {
        const std::vector<Verdict> verdicts = judge(spec, *plan.drill, plan.course, ends);
        list.back().value = static_cast<double>(
            std::count_if(verdicts.begin(), verdicts.end(), [](const Verdict& one) { return one.kept; }));
    }
    return list;
}

}  // namespace cursimeter::survey
