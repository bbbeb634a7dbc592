#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <cursimeter/chartfile/chart_file.hpp>
#include <cursimeter/chartfile/course_file.hpp>
#include <cursimeter/survey/figures.hpp>
#include <nlohmann/json.hpp>
#include <optional>

#include "commands/commands.hpp"
#include "files/call_files.hpp"
#include "files/files.hpp"
#include "text/figures_output.hpp"

namespace cursimeter::tool {
namespace {

/// A figure of one chart beside that of another; either may lack it.
struct Row {
    std::optional<survey::Figure> first, second;
    [[nodiscard]] const survey::Figure& any() const { return first ? *first : *second; }
    [[nodiscard]] bool differs() const {
        if (!first || !second) {
            return true;
        }
        const double a = first->value, b = second->value;
        return std::isnan(a) != std::isnan(b) || std::fabs(a - b) > 1e-9 * std::max(1.0, std::fabs(a));
    }
};

std::vector<Row> side_by_side(std::vector<survey::Figure> first, const std::vector<survey::Figure>& second) {
    std::vector<Row> rows;
    for (survey::Figure& figure : first) {
        rows.push_back({std::move(figure), {}});
    }
    for (const survey::Figure& figure : second) {
        const auto same = std::find_if(rows.begin(), rows.end(),
                                       [&](const Row& row) { return row.any().name == figure.name; });
        if (same != rows.end()) {
            same->second = figure;
        } else {
            rows.push_back({{}, figure});
        }
    }
    return rows;
}

std::string text_of(const std::optional<survey::Figure>& figure) {
    return figure ? figure_text(*figure) : "";
}

std::string change_text(const Row& row) {
    if (!row.differs()) {
        return "";
    }
    if (!row.first || !row.second) {
        return "*";
    }
    const double a = row.first->value, b = row.second->value;
    return std::isnan(a) || std::isnan(b) || a == 0.0 ? "*" : fmt::format("* {:+.1f} %", 100.0 * (b - a) / a);
}

std::string csv_field(const std::string& text) {
    std::string quoted = "\"";
    for (const char c : text) {
        quoted += c == '"' ? "\"\"" : std::string(1, c);
    }
    return quoted + "\"";
}

void print_compared(const std::string& first, const std::string& second, const std::vector<Row>& rows) {
    fmt::print("{:<28} {:>10} {:>10}  {:<5} {}\n", "figure", first, second, "", "differs");
    std::size_t differing = 0;
    for (const Row& row : rows) {
        differing += row.differs() ? 1 : 0;
        fmt::print("{:<28} {:>10} {:>10}  {:<5} {}\n", row.any().name, text_of(row.first),
                   text_of(row.second), row.any().unit, change_text(row));
    }
    fmt::print("\n{} of {} figures differ\n", differing, rows.size());
}

void print_csv(const std::string& first, const std::string& second, const std::vector<Row>& rows) {
    fmt::print("figure,unit,{}{}{},how,meaning\n", first, second.empty() ? "" : ",", second);
    const auto number = [](const std::optional<survey::Figure>& figure) {
        return figure && !std::isnan(figure->value) ? fmt::format("{}", figure->value) : std::string();
    };
    for (const Row& row : rows) {
        fmt::print("{},{},{}{}{},{},{}\n", row.any().name, row.any().unit, number(row.first),
                   second.empty() ? "" : ",", number(row.second), csv_field(row.any().how),
                   csv_field(row.any().meaning));
    }
}

void print_json(const std::string& first, const std::string& second, const std::vector<Row>& rows) {
    using nlohmann::ordered_json;
    const auto number = [](const std::optional<survey::Figure>& figure) {
        return figure && !std::isnan(figure->value) ? ordered_json(figure->value) : ordered_json();
    };
    ordered_json json{{"chart", first}};
    if (!second.empty()) {
        json["compared_with"] = second;
    }
    json["figures"] = ordered_json::array();
    for (const Row& row : rows) {
        ordered_json told{{"name", row.any().name}, {"unit", row.any().unit}, {"value", number(row.first)}};
        if (!second.empty()) {
            told["compared_value"] = number(row.second);
            told["differs"] = row.differs();
        }
        told["how"] = row.any().how;
        told["meaning"] = row.any().meaning;
        json["figures"].push_back(std::move(told));
    }
    fmt::print("{}\n", json.dump(2));
}

}  // namespace

std::string figure_text(const survey::Figure& figure) {
    return std::isnan(figure.value) ? "-" : fmt::format("{:.3f}", figure.value);
}

std::string figure_table(const std::vector<survey::Figure>& figures) {
    std::size_t width = 6;
    for (const survey::Figure& figure : figures) {
        width = std::max(width, figure.name.size());
    }
    std::string text =
        fmt::format("{:<{}}  {:>9}  {:<4} {}\n", "figure", width, "value", "", "what, and how it was found");
    std::string group;
    for (const survey::Figure& figure : figures) {
        const std::string of = figure.name.substr(0, figure.name.find('.'));
        text += of != group && !group.empty() ? "\n" : "";
        group = of;
        text += fmt::format("{:<{}}  {:>9}  {:<4} {}; {}\n", figure.name, width, figure_text(figure),
                            figure.unit, figure.meaning, figure.how);
    }
    return text;
}

int figures_command(const FiguresOptions& options) {
    check_files(
        {{{"CHART", options.chart}, {"--course", options.course}, {"--compare", options.compare}}, {}});
    std::optional<Course> course;
    if (!options.course.empty()) {
        course = open_course(options.course);
    }
    const Course* world = course ? &*course : nullptr;
    const ChartFile chart = open_chart(options.chart);
    std::vector<survey::Figure> first = survey::figures(chart.spec, world), second;
    std::string other;
    if (!options.compare.empty()) {
        const ChartFile compared = open_chart(options.compare);
        second = survey::figures(compared.spec, world);
        other = compared.spec.name == chart.spec.name ? compared.spec.name + "_2" : compared.spec.name;
    }
    if (!options.json && !options.csv && other.empty()) {
        fmt::print("{}", figure_table(first));
        return 0;
    }
    const std::vector<Row> rows = side_by_side(std::move(first), second);
    if (options.json) {
        print_json(chart.spec.name, other, rows);
    } else if (options.csv) {
        print_csv(chart.spec.name, other, rows);
    } else {
        print_compared(chart.spec.name, other, rows);
    }
    return 0;
}

}  // namespace cursimeter::tool
