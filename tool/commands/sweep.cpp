#include <fmt/format.h>
#include <zlib.h>

#include <algorithm>
#include <cerrno>
#include <cstring>
#include <cursimeter/chartfile/chart_file.hpp>
#include <cursimeter/survey/sweep.hpp>
#include <cursimeter/survey/values.hpp>
#include <fstream>
#include <set>

#include "commands/commands.hpp"
#include "files/call_files.hpp"
#include "files/files.hpp"
#include "json/sweep_json.hpp"
#include "picture/front.hpp"
#include "picture/sensitivities.hpp"
#include "picture/sweep.hpp"
#include "processes/processes.hpp"
#include "processes/units.hpp"
#include "text/progress.hpp"
#include "text/sweep_table.hpp"

namespace cursimeter::tool {
namespace {

/// Says which run the rows are of: a check sum of what it is read from.
std::string run_mark(const SweepOptions& options) {
    if (options.drill.empty()) {
        return "";
    }
    const std::string text =
        read_text(options.drill) + (options.course.empty() ? "" : read_text(options.course));
    const auto sum = crc32(0, reinterpret_cast<const Bytef*>(text.data()), static_cast<uInt>(text.size()));
    return fmt::format(", run {:08x} at {:g}", sum, options.rate);
}

/// What a process does with a unit: numbers of all axes, row by row.
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

void deal_rows(Processes& processes, const ChartSpec& spec, const survey::SweepPlan& plan,
               const std::vector<std::vector<double>>& wanted, const survey::SweepPlan::Found& found) {
    std::vector<std::string> units;
    for (std::size_t first = 0; first < wanted.size(); first += rows_in_unit) {
        std::vector<double> numbers;
        for (std::size_t i = first; i < std::min(first + rows_in_unit, wanted.size()); ++i) {
            numbers.insert(numbers.end(), wanted[i].begin(), wanted[i].end());
        }
        units.push_back(bytes_of(numbers));
    }
    processes.deal(
        units, [&](const std::string& unit) { return rows_of_unit(spec, plan, unit); },
        [&](std::size_t unit, const std::string& result) {
            std::vector<survey::SweepRow> rows = rows_of(result);
            for (std::size_t i = 0; i < rows.size(); ++i) {
                found(unit * rows_in_unit + i, std::move(rows[i]));
            }
        });
}

}  // namespace

namespace {

/// "more jump.height". All of them, which are two or none.
std::vector<survey::Preference> read_preferences(const SweepOptions& options) {
    const auto refuse = [](const std::string& what, const std::string& mend) {
        throw ChartError({{"--best", what, mend, {}, 0, 0}});
    };
    std::vector<survey::Preference> preferences;
    for (const std::string& text : options.preferences) {
        const bool more = text.starts_with("more "), less = text.starts_with("less ");
        if (!more && !less) {
            refuse(fmt::format("'{}' wants neither more nor less", text),
                   "write \"more FIGURE\" or \"less FIGURE\"");
        }
        const std::string name = text.substr(5);
        const auto place = std::find(options.figures.begin(), options.figures.end(), name);
        if (place == options.figures.end()) {
            refuse(fmt::format("'{}' is not told", name), fmt::format("add --figure {}", name));
        }
        preferences.push_back({static_cast<std::size_t>(place - options.figures.begin()), more});
    }
    if (!preferences.empty() && (preferences.size() != 2 || preferences[0].figure == preferences[1].figure)) {
        refuse("weighs two figures against each other", "give it twice, for two figures");
    }
    return preferences;
}

/// The rows that are to be printed.
std::vector<survey::SweepRow> told_rows(const std::vector<survey::SweepRow>& rows,
                                        const std::vector<survey::Preference>& preferences) {
    if (preferences.empty()) {
        return rows;
    }
    std::vector<survey::SweepRow> best;
    for (const std::size_t row : survey::best_rows(rows, preferences[0], preferences[1])) {
        best.push_back(rows[row]);
    }
    return best;
}

}  // namespace

int sweep_command(const SweepOptions& options) {
    const CallFiles files{
        {{"CHART", options.chart}, {"--drill", options.drill}, {"--course", options.course}},
        {{"--out", options.out, FileKind::table}, picture_output("--picture", options.picture)},
        options.json};
    check_files(files);
    const ChartFile chart = open_chart(options.chart);
    std::optional<DrillFile> drill;
    std::optional<Course> course;
    survey::SweepPlan plan;
    if (!options.drill.empty()) {
        drill = open_drill(options.drill, chart.chart);
        plan.drill = &drill->spec;
    }
    if (!options.course.empty()) {
        course = open_course(options.course);
        plan.course = &*course;
    }
    plan.rate = options.rate;
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
    const std::vector<survey::Preference> preferences = read_preferences(options);
    Processes* const processes = processes_of_call();
    if (processes != nullptr && !processes->leads()) {
        processes->serve([&](const std::string& unit) { return rows_of_unit(chart.spec, plan, unit); });
        return 0;
    }
    if (processes != nullptr && processes->count() > 1) {
        plan.elsewhere = [&](const std::vector<std::vector<double>>& wanted, const auto& found) {
            deal_rows(*processes, chart.spec, plan, wanted, found);
        };
    }
    const std::string heading = heading_of(plan, chart.chart, run_mark(options));
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
    Progress line(options.quiet);
    plan.progress = [&](std::size_t done, std::size_t all, const survey::SweepRow& row) {
        if (partial.is_open()) {
            partial << line_of(row) << std::flush;
        }
        line.count(done, all, "charts");
    };
    const std::vector<survey::SweepRow> rows = survey::sweep(chart.spec, plan);
    line.clear();
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
            picture.figures.push_back(survey::sweep_figure(chart.spec, plan, name));
        }
        if (!preferences.empty()) {
            draw_front(picture, preferences[0], preferences[1], options.picture);
        } else {
            plan.axes.size() <= 2 && !plan.sample ? draw_sweep(picture, options.picture)
                                                  : draw_sensitivities(picture, plan, options.picture);
        }
    }
    if (options.json) {
        fmt::print("{}\n", sweep_json(chart, plan, rows, preferences).dump(2));
        return 0;
    }
    if (options.sensitivity) {
        fmt::print(text_stream(files), "{}", sensitivity_table(chart, plan, rows));
    } else if (options.out.empty() || !preferences.empty()) {
        fmt::print(text_stream(files), "{}", table_of(heading, told_rows(rows, preferences)));
    } else {
        fmt::print(text_stream(files), "{} rows, {} of them known before\n", rows.size(),
                   std::min(known, rows.size()));
    }
    tell_written(files);
    return 0;
}

}  // namespace cursimeter::tool
