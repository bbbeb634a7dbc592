#include "json/trial_json.hpp"

#include <fmt/format.h>

#include <cmath>

namespace cursimeter::tool {
namespace {

using nlohmann::ordered_json;

ordered_json number(double value) {
    return std::isfinite(value) ? ordered_json(value) : ordered_json();
}

ordered_json verdict_json(const survey::Verdict& verdict, const SourceMap& sources) {
    ordered_json one{{"said", verdict.said}, {"kept", verdict.kept}};
    if (!verdict.kept) {
        one["line"] = sources.find(fmt::format("expect[{}]", verdict.expect + 1)).line;
        one["at"] = number(verdict.at);
        one["instead"] = verdict.instead;
        one["why"] = verdict.why;
    }
    return one;
}

}  // namespace

ordered_json trial_json(const Trials& trials) {
    ordered_json json{
        {"kept", trials.kept()}, {"runs", ordered_json::array()}, {"figures", ordered_json::array()}};
    for (const Trial& trial : trials.trials()) {
        for (std::size_t rate = 0; rate < trial.rates.size(); ++rate) {
            ordered_json run{
                {"chart", trial.chart_name},
                {"drill", trial.drill.drill.name()},
                {"course", trial.course_name.empty() ? ordered_json() : ordered_json(trial.course_name)},
                {"file", trial.drill_file},
                {"rate", trial.rates[rate]},
                {"expectations", ordered_json::array()}};
            for (const survey::Verdict& verdict : trial.verdicts[rate]) {
                run["expectations"].push_back(verdict_json(verdict, trial.drill.sources));
            }
            json["runs"].push_back(std::move(run));
        }
    }
    for (const FigureTrial& figure : trials.figures()) {
        json["figures"].push_back({{"chart", figure.chart_name},
                                   {"said", figure.said},
                                   {"kept", figure.kept},
                                   {"value", number(figure.figure.value)},
                                   {"unit", figure.figure.unit},
                                   {"file", figure.file},
                                   {"line", figure.at.line}});
    }
    return json;
}

}  // namespace cursimeter::tool
