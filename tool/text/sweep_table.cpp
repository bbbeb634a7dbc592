#include "text/sweep_table.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <charconv>
#include <cmath>
#include <cursimeter/survey/values.hpp>
#include <filesystem>
#include <sstream>

#include "files/files.hpp"

namespace cursimeter::tool {
namespace {

constexpr const char* heading_mark = ",trouble (chart ";

std::string cell_text(double value) {
    return std::isnan(value) ? std::string() : fmt::format("{}", value);
}

}  // namespace

std::string heading_of(const survey::SweepPlan& plan, const Chart& chart, const std::string& run) {
    std::string line;
    for (const survey::SweepAxis& axis : plan.axes) {
        line += (line.empty() ? "" : ",") + axis.path;
    }
    for (const std::string& figure : plan.figures) {
        line += "," + figure;
    }
    return line + fmt::format("{}{:016x}{})\n", heading_mark, chart.digest(), run);
}

std::string line_of(const survey::SweepRow& row) {
    std::string line;
    for (const double value : row.at) {
        line += (line.empty() ? "" : ",") + cell_text(value);
    }
    for (const double value : row.values) {
        line += "," + cell_text(value);
    }
    std::string trouble = row.trouble;
    std::replace(trouble.begin(), trouble.end(), '"', '\'');
    std::replace(trouble.begin(), trouble.end(), '\n', ' ');
    return line + (trouble.empty() ? ",\n" : ",\"" + trouble + "\"\n");
}

std::vector<survey::SweepRow> known_rows(const std::string& file, const std::string& heading,
                                         const survey::SweepPlan& plan) {
    std::vector<survey::SweepRow> rows;
    std::istringstream in(std::filesystem::exists(file) ? read_text(file, most_recording_bytes)
                                                        : std::string());
    std::string line;
    if (!std::getline(in, line) || line + "\n" != heading) {
        return rows;
    }
    while (std::getline(in, line) && !in.eof()) {
        survey::SweepRow row;
        const char* at = line.data();
        const char* const end = line.data() + line.size();
        bool whole = true;
        for (std::size_t i = 0; i < plan.axes.size() + plan.figures.size() && whole; ++i) {
            double value = std::nan("");
            const auto [rest, error] = std::from_chars(at, end, value);
            at = error == std::errc() ? rest : at;
            whole = at < end && *at == ',';
            ++at;
            (i < plan.axes.size() ? row.at : row.values).push_back(value);
        }
        row.trouble = whole && at < end ? std::string(at + 1, end - 1) : std::string();
        if (whole) {
            rows.push_back(std::move(row));
        }
    }
    return rows;
}

void refuse_foreign_part(const std::string& file) {
    std::error_code ignored;
    const auto status = std::filesystem::symlink_status(file, ignored);
    bool own = !std::filesystem::exists(status);
    if (std::filesystem::is_regular_file(status)) {  // a pipe would wait for somebody to write into it
        const std::string held = read_text(file, most_recording_bytes);
        own = held.empty() || held.substr(0, held.find('\n')).find(heading_mark) != std::string::npos;
    }
    if (!own) {
        throw ChartError(
            {{"--out", "is where the rows are kept until the sweep ends, and holds something else",
              "name another file, or remove this one first", file, 0, 0}});
    }
}

std::string table_of(const std::string& heading, const std::vector<survey::SweepRow>& rows) {
    std::string text = heading;
    for (const survey::SweepRow& row : rows) {
        text += line_of(row);
    }
    return text;
}

std::string sensitivity_table(const ChartFile& chart, const survey::SweepPlan& plan,
                              const std::vector<survey::SweepRow>& rows) {
    std::string text;
    std::size_t told = plan.figures.size();
    for (const survey::Sensitivity& one : survey::sensitivities(plan, rows)) {
        if (one.figure != told) {
            told = one.figure;
            text += fmt::format("{}{:<40} {:>12}  of its variance\n", text.empty() ? "" : "\n",
                                plan.figures[told],
                                survey::sweep_figure(chart.spec, plan, plan.figures[told]).unit);
        }
        const survey::SweepAxis& axis = plan.axes[one.axis];
        text += std::isnan(one.change)
                    ? fmt::format("  {:<38} too few rows have this figure\n", axis.path)
                    : fmt::format("  {:<38} {:>+12.4g} {:>8.0f} %   from {:g} to {:g} {}\n", axis.path,
                                  one.change, 100.0 * one.part, axis.from, axis.to,
                                  survey::chart_value(chart.spec, axis.path).unit);
    }
    return text;
}

}  // namespace cursimeter::tool
