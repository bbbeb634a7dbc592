#include "text/trial_output.hpp"

#include <fmt/format.h>

#include <cmath>

#include "scene/scene.hpp"

namespace cursimeter::tool {
namespace {

using survey::Verdict;

std::string title_of(const Trial& trial) {
    return fmt::format("{}, {}{}", trial.chart_name, trial.drill.drill.name(),
                       trial.course_name.empty() ? "" : " on " + trial.course_name);
}

std::string value_text(const survey::Figure& figure) {
    return std::isnan(figure.value)
               ? "the chart does not get there: " + figure.how
               : fmt::format("{:.10g}{}{}", figure.value, figure.unit.empty() ? "" : " ", figure.unit);
}

void print_failures(std::FILE* to, const Trial& trial) {
    for (std::size_t i = 0; i < trial.drill.spec.expects.size(); ++i) {
        std::string last;
        for (std::size_t rate = 0; rate < trial.rates.size(); ++rate) {
            const Verdict& verdict = trial.verdicts[rate][i];
            if (verdict.kept) {
                continue;
            }
            const std::string instead = instead_text(verdict);
            if (last.empty()) {
                fmt::print(to, "{}: not so: {}\n",
                           place_of(trial.drill_file, trial.drill.sources, fmt::format("expect[{}]", i + 1)),
                           verdict.said);
            }
            if (instead != last) {
                fmt::print(to, "    at {:g} ticks a second: {}\n", trial.rates[rate], instead);
                if (!verdict.why.empty()) {
                    fmt::print(to, "        {}\n", verdict.why);
                }
            }
            last = instead;
        }
    }
}

/// The figures of one chart after another.
template <class Each>
void each_chart(const std::vector<FigureTrial>& figures, Each each) {
    std::vector<std::string> charts;
    for (const FigureTrial& figure : figures) {
        if (std::find(charts.begin(), charts.end(), figure.chart_name) == charts.end()) {
            charts.push_back(figure.chart_name);
        }
    }
    for (const std::string& chart : charts) {
        std::vector<const FigureTrial*> of_chart;
        for (const FigureTrial& figure : figures) {
            if (figure.chart_name == chart) {
                of_chart.push_back(&figure);
            }
        }
        each(chart, of_chart);
    }
}

void print_figures(std::FILE* to, const std::string& chart, const std::vector<const FigureTrial*>& figures) {
    std::size_t kept = 0;
    for (const FigureTrial* figure : figures) {
        kept += figure->kept ? 1 : 0;
        if (!figure->kept) {
            fmt::print(to, "{}:{}:{}: not so: {}\n    of {}: {}\n", figure->file, figure->at.line,
                       figure->at.column, figure->said, chart, value_text(figure->figure));
        }
    }
    fmt::print(to, "{}: {} of {} figures kept\n", chart, kept, figures.size());
}

}  // namespace

std::string instead_text(const Verdict& verdict) {
    const std::string when =
        std::isfinite(verdict.at) ? fmt::format(" at {:.10g} s", std::round(verdict.at * 1e6) / 1e6) : "";
    return verdict.instead + when;
}

void print_trials(std::FILE* to, const Trials& trials) {
    std::size_t runs = 0, kept = 0, all = trials.figures().size();
    for (const Trial& trial : trials.trials()) {
        print_failures(to, trial);
        const std::size_t expected = trial.drill.spec.expects.size();
        fmt::print(to, "{}: {} of {} expectations kept at {:g} ticks a second\n", title_of(trial),
                   trial.kept(), expected, fmt::join(trial.rates, ", "));
        runs += trial.rates.size();
        kept += trial.kept();
        all += expected;
    }
    each_chart(trials.figures(), [&](const std::string& chart, const std::vector<const FigureTrial*>& of) {
        print_figures(to, chart, of);
        for (const FigureTrial* figure : of) {
            kept += figure->kept ? 1 : 0;
        }
    });
    if (trials.trials().size() + trials.figures().size() > 1) {
        fmt::print(to, "{}: {} of {} kept, in {} runs\n", kept == all ? "as agreed" : "NOT as agreed", kept,
                   all, runs);
    }
}

std::vector<TestSuite> suites_of(const Trials& trials) {
    std::vector<TestSuite> suites;
    for (const Trial& trial : trials.trials()) {
        for (std::size_t rate = 0; rate < trial.rates.size(); ++rate) {
            TestSuite& suite = suites.emplace_back();
            suite.name = fmt::format("{} at {:g} ticks a second", title_of(trial), trial.rates[rate]);
            for (const Verdict& verdict : trial.verdicts[rate]) {
                std::string failure;
                if (!verdict.kept) {
                    failure = instead_text(verdict);
                    failure += verdict.why.empty() ? "" : "; " + verdict.why;
                }
                suite.cases.push_back({verdict.said, failure, !verdict.kept});
            }
        }
    }
    each_chart(trials.figures(), [&](const std::string& chart, const std::vector<const FigureTrial*>& of) {
        TestSuite& suite = suites.emplace_back();
        suite.name = chart + ", figures";
        for (const FigureTrial* one : of) {
            suite.cases.push_back({one->said, one->kept ? "" : value_text(one->figure), !one->kept});
        }
    });
    return suites;
}

}  // namespace cursimeter::tool
