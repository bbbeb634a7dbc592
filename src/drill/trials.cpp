#include <fmt/format.h>

#include <cursimeter/drill/trials.hpp>

#include "core/chart/limits_check.hpp"
#include "drill/trials_keys.hpp"

namespace cursimeter {
namespace {

void check_list(detail::Findings& findings, const std::string& path, const std::vector<std::string>& files) {
    if (files.empty()) {
        findings.add(path, "names no file", "name at least one");
    }
    for (std::size_t i = 0; i < files.size(); ++i) {
        if (files[i].empty()) {
            findings.add(fmt::format("{}[{}]", path, i + 1), "is empty", "name a file");
        }
    }
}

}  // namespace

void check_trials(const TrialsSpec& spec) {
    detail::Findings findings;
    detail::check_limits(keys::trials_table(), spec, findings);
    for (std::size_t i = 0; i < spec.trials.size(); ++i) {
        const std::string path = fmt::format("trial[{}]", i + 1);
        check_list(findings, path + ".charts", spec.trials[i].charts);
        check_list(findings, path + ".drills", spec.trials[i].drills);
        if (!spec.trials[i].courses.empty()) {
            check_list(findings, path + ".courses", spec.trials[i].courses);
        }
        if (spec.trials[i].rates.empty()) {
            findings.add(path + ".rates", "names no rate", "name at least one, or leave it out");
        }
    }
    for (std::size_t i = 0; i < spec.figures.size(); ++i) {
        const FigureBoundsSpec& figure = spec.figures[i];
        const std::string path = fmt::format("figure[{}]", i + 1);
        check_list(findings, path + ".charts", figure.charts);
        if (!figure.least && !figure.most) {
            findings.add_relation(path, "says no bound", "say `least`, `most` or both");
        } else if (figure.least && figure.most && *figure.least > *figure.most) {
            findings.add(path + ".least",
                         fmt::format("is {:g}, above `most`, {:g}", *figure.least, *figure.most),
                         "exchange the two");
        }
    }
    if (spec.trials.empty() && spec.figures.empty()) {
        findings.add("", "agrees upon nothing", "add [[trial]] or [[figure]] tables");
    }
    if (!findings.empty()) {
        throw ChartError(findings.take());
    }
}

}  // namespace cursimeter
