#include <fmt/format.h>

#include <algorithm>
#include <charconv>
#include <cmath>
#include <cursimeter/chart.hpp>
#include <cursimeter/diagnostics.hpp>
#include <cursimeter/survey/sweep.hpp>
#include <cursimeter/survey/values.hpp>
#include <iterator>
#include <map>
#include <mutex>

#include "core/chart/findings.hpp"
#include "survey/dice.hpp"
#include "survey/run_figures.hpp"
#include "survey/work.hpp"

namespace cursimeter::survey {
namespace {

constexpr std::size_t most_numbers = 10000;  // of an axis
constexpr std::size_t most_rows = 1'000'000;

[[noreturn]] void refuse(const std::string& path, const std::string& what, const std::string& mend) {
    throw ChartError({{path, what, mend, {}, 0, 0}});
}

double read_number(const std::string& text, const std::string& whole) {
    double value = 0.0;
    const auto [rest, error] = std::from_chars(text.data(), text.data() + text.size(), value);
    if (error != std::errc() || rest != text.data() + text.size()) {
        refuse(whole, fmt::format("'{}' is not a number", text),
               "write PATH=FROM:TO:STEP, such as ...=5:9:0.5");
    }
    return value;
}

/// To twelve digits, so that 12 + 3 x 1 and 5 + 8 x 0.1 are 15 and 5.8 in tables and in charts.
double rounded(double number) {
    const std::string digits = fmt::format("{:.12g}", number);
    double value = 0.0;
    std::from_chars(digits.data(), digits.data() + digits.size(), value);
    return value;
}

void check_plan(const ChartSpec& spec, const SweepPlan& plan) {
    if (plan.axes.empty() || plan.axes.size() > most_sweep_axes) {
        refuse("vary", fmt::format("{} values are turned", plan.axes.size()),
               fmt::format("turn 1 to {}", most_sweep_axes));
    }
    for (std::size_t i = 0; i < plan.axes.size(); ++i) {
        const SweepAxis& axis = plan.axes[i];
        if (std::any_of(plan.axes.begin(), plan.axes.begin() + static_cast<std::ptrdiff_t>(i),
                        [&](const SweepAxis& other) { return other.path == axis.path; })) {
            refuse(axis.path, "is turned twice", "name each value once");
        }
        if (axis.step == 0.0 && !plan.sample) {
            refuse(axis.path, "has no step", "write PATH=FROM:TO:STEP, or take a sample");
        }
        if (axis.to > axis.from && axis.step > axis.to - axis.from && !plan.sample) {
            refuse(axis.path,
                   fmt::format("a step of {} leads beyond {}: only {} would be tried", axis.step, axis.to,
                               axis.from),
                   "the third number is how far apart values are, not how many");
        }
        if (!chart_value(spec, axis.path).value) {
            refuse(axis.path, "is not said by the chart, so it may be that nothing reads it",
                   "say it in the chart first");
        }
    }
    if (plan.sample && (*plan.sample < 2 || *plan.sample > most_rows)) {
        refuse("sample", fmt::format("{} rows", *plan.sample), fmt::format("2 to {} rows", most_rows));
    }
    if (plan.drill != nullptr) {
        static_cast<void>(run_figures(spec, plan));  // complains of rates, terms and actions that are wrong
    }
    std::vector<std::string> known = figure_names(spec, plan.course);
    for (const Figure& of_run : run_figures(plan)) {
        known.push_back(of_run.name);
    }
    for (const std::string& name : plan.figures) {
        if (std::find(known.begin(), known.end(), name) == known.end()) {
            refuse(name, "is no figure of this chart" + std::string(plan.drill != nullptr ? " or run" : ""),
                   detail::advise_name(name, known));
        }
    }
}

/// Those that a plan asks for, in its order.
std::vector<Figure> plan_figures(const ChartSpec& spec, const SweepPlan& plan) {
    const std::vector<Figure> own = run_figures(plan);
    std::vector<std::string> of_chart;
    const auto of_run = [&](const std::string& name) {
        return std::find_if(own.begin(), own.end(), [&](const Figure& one) { return one.name == name; });
    };
    std::copy_if(plan.figures.begin(), plan.figures.end(), std::back_inserter(of_chart),
                 [&](const std::string& name) { return of_run(name) == own.end(); });
    const std::vector<Figure> chart = figures(spec, of_chart, plan.course);
    const std::vector<Figure> run =
        of_chart.size() < plan.figures.size() ? run_figures(spec, plan) : std::vector<Figure>{};
    std::vector<Figure> all;
    std::size_t next = 0;
    for (const std::string& name : plan.figures) {
        const auto place = of_run(name);
        all.push_back(place == own.end() ? chart[next++]
                                         : run[static_cast<std::size_t>(place - own.begin())]);
    }
    return all;
}

std::vector<SweepRow> grid_rows(const SweepPlan& plan) {
    std::size_t count = 1;
    for (const SweepAxis& axis : plan.axes) {
        count *= axis.count();
        if (count > most_rows) {
            refuse("vary", fmt::format("there would be {} rows or more", count),
                   fmt::format("{} at most: take longer steps, or a sample", most_rows));
        }
    }
    std::vector<SweepRow> rows(count);
    for (std::size_t row = 0; row < count; ++row) {
        std::size_t rest = row;
        rows[row].at.resize(plan.axes.size());
        for (std::size_t i = plan.axes.size(); i-- > 0;) {  // the last turns quickest
            rows[row].at[i] = plan.axes[i].at(rest % plan.axes[i].count());
            rest /= plan.axes[i].count();
        }
    }
    return rows;
}

std::vector<SweepRow> sampled_rows(const ChartSpec& spec, const SweepPlan& plan) {
    const std::size_t count = *plan.sample;
    std::vector<SweepRow> rows(count);
    for (SweepRow& row : rows) {
        row.at.resize(plan.axes.size());
    }
    for (std::size_t i = 0; i < plan.axes.size(); ++i) {
        const SweepAxis& axis = plan.axes[i];
        const bool whole = chart_value(spec, axis.path).whole;
        Dice dice(plan.seed, i);
        std::vector<std::size_t> slots(count);  // each slot of the range once, in an order by chance
        for (std::size_t k = 0; k < count; ++k) {
            const std::size_t other = dice.below(static_cast<std::uint32_t>(k + 1));
            slots[k] = slots[other];
            slots[other] = k;
        }
        for (std::size_t k = 0; k < count; ++k) {
            const double part = (static_cast<double>(slots[k]) + dice.part()) / static_cast<double>(count);
            double value = axis.from + part * (axis.to - axis.from);
            if (axis.step > 0.0) {
                value = axis.at(std::min(axis.count() - 1,
                                         static_cast<std::size_t>(part * static_cast<double>(axis.count()))));
            } else if (whole) {
                value = std::round(value);
            }
            rows[k].at[i] = rounded(value);
        }
    }
    return rows;
}

}  // namespace

std::size_t SweepAxis::count() const {
    return step > 0.0 ? static_cast<std::size_t>(std::floor((to - from) / step + 1e-9)) + 1 : 1;
}

double SweepAxis::at(std::size_t index) const {
    return rounded(from + static_cast<double>(index) * step);
}

SweepAxis read_axis(const std::string& said, const ChartSpec& spec) {
    std::string text = said;
    std::erase_if(text, [](char c) { return c == ' ' || c == '\t'; });
    const std::size_t equal = text.find('=');
    const std::size_t first = text.find(':', equal == std::string::npos ? 0 : equal);
    const std::size_t second = first == std::string::npos ? first : text.find(':', first + 1);
    if (equal == std::string::npos || first == std::string::npos) {
        refuse(text, "is not PATH=FROM:TO:STEP", "write such as states.sprint.speed.forward=5:9:0.5");
    }
    SweepAxis axis;
    axis.path = text.substr(0, equal);
    static_cast<void>(chart_value(spec, axis.path));
    axis.from = read_number(text.substr(equal + 1, first - equal - 1), text);
    axis.to = read_number(text.substr(first + 1, second - first - 1), text);
    const bool stepped = second != std::string::npos;
    axis.step = stepped ? read_number(text.substr(second + 1), text) : 0.0;
    if ((stepped && !(axis.step > 0.0)) || !(axis.to >= axis.from)) {
        refuse(text, fmt::format("a step of {} does not lead from {} to {}", axis.step, axis.from, axis.to),
               "give a step above 0, and TO at or above FROM");
    }
    if (stepped && (axis.to - axis.from) / axis.step >= static_cast<double>(most_numbers)) {
        refuse(text, "has too many steps", fmt::format("{} numbers at most", most_numbers));
    }
    return axis;
}

Figure sweep_figure(const ChartSpec& spec, const SweepPlan& plan, const std::string& name) {
    SweepPlan one;
    one.figures = {name};
    one.drill = plan.drill;
    one.course = plan.course;
    one.rate = plan.rate;
    for (const Figure& of_run : run_figures(one)) {
        if (of_run.name == name) {
            return plan_figures(spec, one).front();
        }
    }
    return figure(spec, name, plan.course);
}

SweepRow sweep_row(const ChartSpec& spec, const SweepPlan& plan, std::vector<double> at) {
    SweepRow row{std::move(at), {}, {}};
    row.values.assign(plan.figures.size(), std::nan(""));
    ChartSpec turned = spec;
    try {
        for (std::size_t i = 0; i < plan.axes.size(); ++i) {
            set_chart_value(turned, plan.axes[i].path, row.at[i]);
        }
        const std::vector<Figure> found = plan_figures(turned, plan);
        for (std::size_t i = 0; i < found.size(); ++i) {
            row.values[i] = found[i].value;
        }
    } catch (const ChartError& error) {
        row.trouble = error.diagnostics().front().text();
    }
    return row;
}

std::vector<SweepRow> sweep(const ChartSpec& spec, const SweepPlan& plan) {
    check_plan(spec, plan);
    std::vector<SweepRow> rows = plan.sample ? sampled_rows(spec, plan) : grid_rows(plan);
    std::map<std::vector<double>, const SweepRow*> known;
    for (const SweepRow& row : plan.known) {
        if (row.values.size() == plan.figures.size()) {
            known.try_emplace(row.at, &row);
        }
    }
    std::vector<std::size_t> open;
    for (std::size_t i = 0; i < rows.size(); ++i) {
        if (const auto same = known.find(rows[i].at); same != known.end()) {
            rows[i] = *same->second;
        } else {
            open.push_back(i);
        }
    }
    std::mutex telling;
    std::size_t done = rows.size() - open.size();
    const auto found = [&](std::size_t index, SweepRow row) {
        const std::lock_guard<std::mutex> lock(telling);
        rows[open[index]] = std::move(row);
        ++done;
        if (plan.progress) {
            plan.progress(done, rows.size(), rows[open[index]]);
        }
    };
    if (plan.elsewhere) {
        std::vector<std::vector<double>> wanted;
        for (const std::size_t index : open) {
            wanted.push_back(rows[index].at);
        }
        plan.elsewhere(wanted, found);
    } else {
        work_in_parallel(open.size(), threads_of(plan.threads), [&](std::size_t /*worker*/, std::size_t k) {
            found(k, sweep_row(spec, plan, rows[open[k]].at));
        });
    }
    return rows;
}

}  // namespace cursimeter::survey
