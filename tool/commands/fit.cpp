#include <fmt/format.h>

#include <cmath>
#include <cursimeter/chartfile/chart_edit.hpp>
#include <cursimeter/chartfile/chart_file.hpp>
#include <cursimeter/survey/fit.hpp>
#include <cursimeter/survey/values.hpp>
#include <nlohmann/json.hpp>

#include "commands/commands.hpp"
#include "files/call_files.hpp"
#include "files/files.hpp"
#include "text/progress.hpp"

namespace cursimeter::tool {
namespace {

/// Six digits are nearer than anybody can tell; charts read better with them.
double rounded(double value) {
    return std::stod(fmt::format("{:.6g}", value));
}

void write_chart(const FitOptions& options, const survey::Fit& fit) {
    std::vector<NumberEdit> edits;
    for (const survey::FitValue& value : fit.values) {
        edits.push_back({value.path, rounded(value.after)});
    }
    write_text(options.out, edit_chart_text(read_text(options.chart), shown_name(options.chart), edits));
}

void print_text(std::FILE* to, const std::string& chart, const survey::Fit& fit) {
    fmt::print(to, "{}: {} charts tried\n\n{:<38} {:>12} {:>12} {:>12}\n", chart, fit.charts, "wish",
               "wanted", "before", "reached");
    for (const survey::FitWish& wish : fit.wishes) {
        fmt::print(to, "{:<38} {:>12.4f} {:>12.4f} {:>12.4f} {:<4} {}\n", wish.wish.figure, wish.wish.value,
                   wish.before, wish.reached, wish.wish.unit, wish.met ? "met" : "missed");
    }
    fmt::print(to, "\n{:<38} {:>12} {:>12} {:>12}\n", "value", "before", "after", "change");
    for (const survey::FitValue& value : fit.values) {
        const double change = value.before != 0.0 ? 100.0 * (value.after - value.before) / value.before : 0.0;
        fmt::print(to, "{:<38} {:>12.6g} {:>12.6g} {:>10.1f} % {:<4} {}\n", value.path, value.before,
                   value.after, change, value.unit,
                   value.at_bound
                       ? fmt::format("at the end of its range, {:g} to {:g}", value.least, value.most)
                       : "");
    }
    for (const auto& [a, b] : fit.conflicts) {
        fmt::print(to,
                   "\nthese pull against each other: {} and {}; vary another value, or give one of them up\n",
                   fit.wishes[a].wish.figure, fit.wishes[b].wish.figure);
    }
    if (!fit.met && fit.conflicts.empty()) {
        fmt::print(to, "\nno value here brings it nearer: widen a range, or vary another value\n");
    }
}

void print_json(const std::string& chart, const survey::Fit& fit) {
    using nlohmann::ordered_json;
    ordered_json json{{"chart", chart},
                      {"met", fit.met},
                      {"charts", fit.charts},
                      {"wishes", ordered_json::array()},
                      {"values", ordered_json::array()},
                      {"conflicts", ordered_json::array()}};
    for (const survey::FitWish& wish : fit.wishes) {
        json["wishes"].push_back({{"figure", wish.wish.figure},
                                  {"unit", wish.wish.unit},
                                  {"wanted", wish.wish.value},
                                  {"before", wish.before},
                                  {"reached", wish.reached},
                                  {"met", wish.met}});
    }
    for (const survey::FitValue& value : fit.values) {
        json["values"].push_back({{"path", value.path},
                                  {"unit", value.unit},
                                  {"before", value.before},
                                  {"after", value.after},
                                  {"least", value.least},
                                  {"most", value.most},
                                  {"at_bound", value.at_bound}});
    }
    for (const auto& [a, b] : fit.conflicts) {
        json["conflicts"].push_back({fit.wishes[a].wish.figure, fit.wishes[b].wish.figure});
    }
    fmt::print("{}\n", json.dump(2));
}

}  // namespace

int fit_command(const FitOptions& options) {
    const CallFiles files{
        {{"CHART", options.chart}}, {{"--out", options.out, FileKind::chart}}, options.json};
    check_files(files);
    const ChartFile chart = open_chart(options.chart);
    survey::FitPlan plan;
    for (const std::string& text : options.want) {
        plan.wishes.push_back(survey::read_wish(text, chart.spec));
    }
    for (const std::string& text : options.vary) {
        plan.vary.push_back(survey::read_fit_range(text, chart.spec));
    }
    if (options.keep_within) {
        if (!(*options.keep_within > 0.0)) {
            throw ChartError({{"--keep-within",
                               fmt::format("{} % leaves nothing to choose", *options.keep_within),
                               "give more than 0",
                               {},
                               0,
                               0}});
        }
        plan.keep_within = *options.keep_within / 100.0;
    }
    Progress line(options.quiet);
    plan.progress = [&](std::size_t tried) { line.tell(fmt::format("{} charts tried", tried)); };
    const survey::Fit fit = survey::fit(chart.spec, plan);
    line.clear();
    if (!options.out.empty()) {
        write_chart(options, fit);
    }
    if (options.json) {
        print_json(chart.spec.name, fit);
    } else {
        print_text(text_stream(files), chart.spec.name, fit);
        fmt::print(text_stream(files), "{}", options.out.empty() ? "" : "\n");
        tell_written(files);
    }
    return fit.met ? 0 : 1;
}

}  // namespace cursimeter::tool
