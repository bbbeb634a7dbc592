#include <cmath>
#include <cursimeter/chartfile/course_file.hpp>
#include <cursimeter/chartfile/drill_file.hpp>
#include <cursimeter/survey/figures.hpp>
#include <cursimeter/survey/run.hpp>
#include <cursimeter/survey/values.hpp>

#include "capi/boundary.hpp"

using namespace cursimeter;

struct cursimeter_table {
    std::vector<std::string> columns;
    std::vector<double> numbers;  ///< row after row
};

namespace cursimeter::capi {
namespace {

/// Makes a table by `fill`, and hands it out whole or not at all.
template <class Fill>
cursimeter_status make_table(cursimeter_table** out, cursimeter_error* error, Fill&& fill) {
    return guarded(error, [&] {
        auto table = std::make_unique<cursimeter_table>();
        fill(*table);
        *out = table.release();
        return CURSIMETER_OK;
    });
}

void fill_with_run(cursimeter_table& table, const Chart& chart, const survey::Run& run) {
    table.columns = {"time_s",    "state",  "x_m",    "y_m",       "z_m",
                     "vx_mps",    "vy_mps", "vz_mps", "speed_mps", "speed_target_mps",
                     "distance_m"};
    for (std::uint8_t i = 0; i < chart.meter_count(); ++i) {
        table.columns.push_back("meter_" + chart.name(MeterId{i}));
    }
    for (const survey::Sample& sample : run.samples) {
        table.numbers.insert(table.numbers.end(),
                             {sample.at, static_cast<double>(sample.state.index), sample.position.x,
                              sample.position.y, sample.position.z, sample.velocity.x, sample.velocity.y,
                              sample.velocity.z, sample.speed, sample.speed_target, sample.distance});
        table.numbers.insert(table.numbers.end(), sample.levels.begin(),
                             sample.levels.begin() + static_cast<std::ptrdiff_t>(chart.meter_count()));
    }
}

void fill_with_visits(cursimeter_table& table, const Chart& /*chart*/, const survey::Run& run) {
    table.columns = {"at_s", "seconds", "state", "distance_m"};
    for (const survey::Visit& visit : run.visits) {
        table.numbers.insert(table.numbers.end(), {visit.at, visit.seconds,
                                                   static_cast<double>(visit.state.index), visit.distance});
    }
}

/// Runs the files of a call, and makes a table of what happened.
cursimeter_status table_of_run(const char* chart_file, const char* drill_file, const char* course_file,
                               double rate, cursimeter_table** out, cursimeter_error* error,
                               void (*fill)(cursimeter_table&, const Chart&, const survey::Run&)) {
    if (out != nullptr) {
        *out = nullptr;
    }
    if (chart_file == nullptr || drill_file == nullptr || out == nullptr) {
        return bad_argument(error, chart_file == nullptr   ? "chart_file"
                                   : drill_file == nullptr ? "drill_file"
                                                           : "out");
    }
    return make_table(out, error, [&](cursimeter_table& table) {
        const ChartFile chart = load_chart(chart_file);
        const DrillFile drill = load_drill(drill_file, chart.chart);
        const std::vector<double> ends = survey::even_ticks(rate, drill.drill);
        const survey::Run run = course_file == nullptr
                                    ? survey::run(chart.chart, drill.drill, ends)
                                    : survey::run(chart.chart, drill.drill, load_course(course_file), ends);
        fill(table, chart.chart, run);
    });
}

}  // namespace
}  // namespace cursimeter::capi

extern "C" {

cursimeter_status cursimeter_run_files(const char* chart_file, const char* drill_file,
                                       const char* course_file, double rate, cursimeter_table** out,
                                       cursimeter_error* error) {
    return capi::table_of_run(chart_file, drill_file, course_file, rate, out, error, capi::fill_with_run);
}

cursimeter_status cursimeter_visits_files(const char* chart_file, const char* drill_file,
                                          const char* course_file, double rate, cursimeter_table** out,
                                          cursimeter_error* error) {
    return capi::table_of_run(chart_file, drill_file, course_file, rate, out, error, capi::fill_with_visits);
}

cursimeter_status cursimeter_sweep_file(const char* chart_file, const char* path, const double* values,
                                        size_t count, const char* const* figures, size_t figure_count,
                                        cursimeter_table** out, cursimeter_error* error) {
    if (out != nullptr) {
        *out = nullptr;
    }
    constexpr std::size_t most = 1'000'000;
    if (chart_file == nullptr || path == nullptr || values == nullptr || figures == nullptr ||
        out == nullptr || count > most || figure_count > most / (count + 1)) {
        return capi::bad_argument(error, "an argument");
    }
    return capi::make_table(out, error, [&](cursimeter_table& table) {
        const ChartSpec spec = load_chart(chart_file).spec;
        table.columns.emplace_back(path);
        for (std::size_t i = 0; i < figure_count; ++i) {
            table.columns.emplace_back(figures[i] == nullptr ? "" : figures[i]);
            static_cast<void>(
                survey::figure(spec, table.columns.back()));  // complains of one that there is not
        }
        static_cast<void>(survey::chart_value(spec, path));
        for (std::size_t row = 0; row < count; ++row) {
            ChartSpec turned = spec;
            table.numbers.push_back(values[row]);
            bool valid = true;
            try {
                survey::set_chart_value(turned, path, values[row]);
                static_cast<void>(compile(turned));
            } catch (const ChartError&) {
                valid = false;
            }
            for (std::size_t i = 0; i < figure_count; ++i) {
                table.numbers.push_back(valid ? survey::figure(turned, table.columns[i + 1]).value
                                              : std::nan(""));
            }
        }
    });
}

cursimeter_status cursimeter_figures_file(const char* chart_file, cursimeter_table** out,
                                          cursimeter_error* error) {
    if (out != nullptr) {
        *out = nullptr;
    }
    if (chart_file == nullptr || out == nullptr) {
        return capi::bad_argument(error, chart_file == nullptr ? "chart_file" : "out");
    }
    return capi::make_table(out, error, [&](cursimeter_table& table) {
        for (const survey::Figure& figure : survey::figures(load_chart(chart_file).spec)) {
            table.columns.push_back(figure.name);
            table.numbers.push_back(figure.value);
        }
    });
}

void cursimeter_table_free(cursimeter_table* table) {
    delete table;
}
size_t cursimeter_table_rows(const cursimeter_table* table) {
    return table == nullptr || table->columns.empty() ? 0 : table->numbers.size() / table->columns.size();
}
size_t cursimeter_table_columns(const cursimeter_table* table) {
    return table == nullptr ? 0 : table->columns.size();
}
const char* cursimeter_table_column_name(const cursimeter_table* table, size_t column) {
    return table == nullptr || column >= table->columns.size() ? nullptr : table->columns[column].c_str();
}
const double* cursimeter_table_numbers(const cursimeter_table* table) {
    return table == nullptr || table->numbers.empty() ? nullptr : table->numbers.data();
}

}  // extern "C"
