#include <fmt/format.h>
#include <unistd.h>

#include <algorithm>
#include <cerrno>
#include <charconv>
#include <cmath>
#include <cstring>
#include <cursimeter/chartfile/chart_file.hpp>
#include <cursimeter/survey/sweep.hpp>
#include <cursimeter/survey/values.hpp>
#include <filesystem>
#include <fstream>
#include <nlohmann/json.hpp>
#include <set>
#include <sstream>

#include "commands/commands.hpp"
#include "files/call_files.hpp"
#include "files/files.hpp"
#include "picture/sensitivities.hpp"
#include "picture/sweep.hpp"
#include "ranks/ranks.hpp"
#include "ranks/units.hpp"

namespace cursimeter::tool {
namespace {

constexpr const char* heading_mark = ",trouble (chart ";

std::string number(double value) {
    return std::isnan(value) ? std::string() : fmt::format("{}", value);
}

/// The first line says what the rows are of, so that a table is only gone on with where it belongs.
std::string heading_of(const survey::SweepPlan& plan, const Chart& chart) {
    std::string line;
    for (const survey::SweepAxis& axis : plan.axes) {
        line += (line.empty() ? "" : ",") + axis.path;
    }
    for (const std::string& figure : plan.figures) {
        line += "," + figure;
    }
    return line + fmt::format("{}{:016x})\n", heading_mark, chart.digest());
}

std::string line_of(const survey::SweepRow& row) {
    std::string line;
    for (const double value : row.at) {
        line += (line.empty() ? "" : ",") + number(value);
    }
    for (const double value : row.values) {
        line += "," + number(value);
    }
    std::string trouble = row.trouble;
    std::replace(trouble.begin(), trouble.end(), '"', '\'');
    std::replace(trouble.begin(), trouble.end(), '\n', ' ');
    return line + (trouble.empty() ? ",\n" : ",\"" + trouble + "\"\n");
}

/// Rows of an earlier sweep with this heading; none if the file is of another or there is none. Half a line at the end,
/// as an interrupted sweep leaves it, does not count.
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

/// Throws ChartError if the name at which a sweep keeps its rows while it runs belongs to something else.
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

/// "sprint.distance": how much each value moves it, most first.
std::string sensitivity_table(const ChartFile& chart, const survey::SweepPlan& plan,
                              const std::vector<survey::SweepRow>& rows) {
    std::string text;
    std::size_t told = plan.figures.size();
    for (const survey::Sensitivity& one : survey::sensitivities(plan, rows)) {
        if (one.figure != told) {
            told = one.figure;
            text += fmt::format("{}{:<40} {:>12}  of its variance\n", text.empty() ? "" : "\n",
                                plan.figures[told], survey::figure(chart.spec, plan.figures[told]).unit);
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

void print_json(const ChartFile& chart, const survey::SweepPlan& plan,
                const std::vector<survey::SweepRow>& rows) {
    using nlohmann::ordered_json;
    ordered_json json{{"chart", chart.spec.name},
                      {"vary", ordered_json::array()},
                      {"figures", plan.figures},
                      {"rows", ordered_json::array()}};
    for (const survey::SweepAxis& axis : plan.axes) {
        json["vary"].push_back(
            {{"path", axis.path}, {"from", axis.from}, {"to", axis.to}, {"step", axis.step}});
    }
    for (const survey::SweepRow& row : rows) {
        ordered_json values = ordered_json::array();
        for (const double value : row.values) {
            values.push_back(std::isnan(value) ? ordered_json() : ordered_json(value));
        }
        ordered_json one{{"at", row.at}, {"values", values}};
        if (!row.trouble.empty()) {
            one["trouble"] = row.trouble;
        }
        json["rows"].push_back(std::move(one));
    }
    json["sensitivities"] = ordered_json::array();
    for (const survey::Sensitivity& one : survey::sensitivities(plan, rows)) {
        const auto number_or_null = [](double value) {
            return std::isnan(value) ? ordered_json() : ordered_json(value);
        };
        json["sensitivities"].push_back({{"figure", plan.figures[one.figure]},
                                         {"path", plan.axes[one.axis].path},
                                         {"change", number_or_null(one.change)},
                                         {"part", number_or_null(one.part)}});
    }
    fmt::print("{}\n", json.dump(2));
}

/// What a rank does with a unit: numbers of all axes, row by row.
std::string rows_of_unit(const ChartSpec& spec, const survey::SweepPlan& plan, const std::string& unit) {
    const std::vector<double> numbers = numbers_of(unit);
    const auto axes = static_cast<std::ptrdiff_t>(plan.axes.size());
    std::vector<survey::SweepRow> rows;
    for (auto at = numbers.begin(); at != numbers.end(); at += axes) {
        rows.push_back(survey::sweep_row(spec, plan, {at, at + axes}));
    }
    return bytes_of(rows);
}

/// Rows in units for several processes: a row takes about 0.2 ms, so that a unit is worth its message.
constexpr std::size_t rows_in_unit = 64;

void deal_rows(Ranks& ranks, const ChartSpec& spec, const survey::SweepPlan& plan,
               const std::vector<std::vector<double>>& wanted, const survey::SweepPlan::Found& found) {
    std::vector<std::string> units;
    for (std::size_t first = 0; first < wanted.size(); first += rows_in_unit) {
        std::vector<double> numbers;
        for (std::size_t i = first; i < std::min(first + rows_in_unit, wanted.size()); ++i) {
            numbers.insert(numbers.end(), wanted[i].begin(), wanted[i].end());
        }
        units.push_back(bytes_of(numbers));
    }
    ranks.deal(
        units, [&](const std::string& unit) { return rows_of_unit(spec, plan, unit); },
        [&](std::size_t unit, const std::string& result) {
            std::vector<survey::SweepRow> rows = rows_of(result);
            for (std::size_t i = 0; i < rows.size(); ++i) {
                found(unit * rows_in_unit + i, std::move(rows[i]));
            }
        });
}

}  // namespace

int sweep_command(const SweepOptions& options) {
    const CallFiles files{
        {{"CHART", options.chart}},
        {{"--out", options.out, FileKind::table}, picture_output("--picture", options.picture)},
        options.json};
    check_files(files);
    const ChartFile chart = open_chart(options.chart);
    survey::SweepPlan plan;
    for (const std::string& text : options.vary) {
        plan.axes.push_back(survey::read_axis(text, chart.spec));
    }
    plan.figures = options.figures;
    plan.threads = options.threads;
    plan.sample = options.sample;
    plan.seed = options.seed;
    if (std::set<std::string>(plan.figures.begin(), plan.figures.end()).size() != plan.figures.size()) {
        throw ChartError({{"--figure", "names a figure twice", "name each once", {}, 0, 0}});
    }
    Ranks* const ranks = ranks_of_call();
    if (ranks != nullptr && !ranks->leads()) {
        ranks->serve([&](const std::string& unit) { return rows_of_unit(chart.spec, plan, unit); });
        return 0;
    }
    if (ranks != nullptr && ranks->count() > 1) {
        plan.elsewhere = [&](const std::vector<std::vector<double>>& wanted, const auto& found) {
            deal_rows(*ranks, chart.spec, plan, wanted, found);
        };
    }
    const std::string heading = heading_of(plan, chart.chart);
    std::ofstream partial;
    const std::string partial_name = options.out + ".part";
    const bool keeps_rows = !options.out.empty() && !is_standard_output(options.out);
    if (keeps_rows) {
        refuse_foreign_part(partial_name);
        plan.known = known_rows(options.out, heading, plan);
        const std::vector<survey::SweepRow> interrupted = known_rows(partial_name, heading, plan);
        plan.known.insert(plan.known.end(), interrupted.begin(), interrupted.end());
        partial.open(partial_name, std::ios::binary);
        partial << table_of(heading, plan.known) << std::flush;
        if (!partial) {
            throw ChartError({{"--out", fmt::format("cannot be written: {}", std::strerror(errno)),
                               "check that its folder exists and may be written to", partial_name, 0, 0}});
        }
    }
    const std::size_t known = plan.known.size();
    const bool on_terminal = isatty(STDERR_FILENO) == 1;
    plan.progress = [&](std::size_t done, std::size_t all, const survey::SweepRow& row) {
        if (partial.is_open()) {
            partial << line_of(row) << std::flush;
        }
        if (on_terminal && (done % 16 == 0 || done == all)) {
            fmt::print(stderr, "\r{} of {} charts{}", done, all, done == all ? "\n" : "");
        }
    };
    const std::vector<survey::SweepRow> rows = survey::sweep(chart.spec, plan);
    if (!options.out.empty()) {
        write_text(options.out, table_of(heading, rows));
    }
    if (keeps_rows) {
        partial.close();
        static_cast<void>(std::remove(partial_name.c_str()));
    }
    if (!options.picture.empty()) {
        SweepPicture picture{chart.spec.name, plan.axes, {}, {}, {}, rows};
        for (const survey::SweepAxis& axis : plan.axes) {
            const survey::ChartValue value = survey::chart_value(chart.spec, axis.path);
            picture.units.push_back(value.unit);
            picture.own.push_back(value.value);
        }
        for (const std::string& name : plan.figures) {
            picture.figures.push_back(survey::figure(chart.spec, name));
        }
        plan.axes.size() <= 2 && !plan.sample ? draw_sweep(picture, options.picture)
                                              : draw_sensitivities(picture, plan, options.picture);
    }
    if (options.json) {
        print_json(chart, plan, rows);
        return 0;
    }
    if (options.sensitivity) {
        fmt::print(text_stream(files), "{}", sensitivity_table(chart, plan, rows));
    } else if (options.out.empty()) {
        fmt::print(text_stream(files), "{}", table_of(heading, rows));
    } else {
        fmt::print(text_stream(files), "{} rows, {} of them known before\n", rows.size(),
                   std::min(known, rows.size()));
    }
    tell_written(files);
    return 0;
}

}  // namespace cursimeter::tool
