#include <fmt/format.h>

#include <algorithm>
#include <atomic>
#include <charconv>
#include <cmath>
#include <cursimeter/diagnostics.hpp>
#include <cursimeter/survey/figures.hpp>
#include <cursimeter/survey/sweep.hpp>
#include <cursimeter/survey/values.hpp>
#include <mutex>
#include <thread>

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

SweepRow find_row(const ChartSpec& spec, const SweepPlan& plan, std::vector<double> at) {
    SweepRow row{std::move(at), {}, {}};
    row.values.assign(plan.figures.size(), std::nan(""));
    ChartSpec turned = spec;
    try {
        for (std::size_t i = 0; i < plan.axes.size(); ++i) {
            set_chart_value(turned, plan.axes[i].path, row.at[i]);
        }
        const std::vector<Figure> found = figures(turned, plan.figures);
        for (std::size_t i = 0; i < found.size(); ++i) {
            row.values[i] = found[i].value;
        }
    } catch (const ChartError& error) {
        row.trouble = error.diagnostics().front().text();
    }
    return row;
}

}  // namespace

std::size_t SweepAxis::count() const {
    return static_cast<std::size_t>(std::floor((to - from) / step + 1e-9)) + 1;
}

double SweepAxis::at(std::size_t index) const {
    // To twelve digits, so that 12 + 3 x 1 and 5 + 8 x 0.1 are 15 and 5.8 in tables and in charts.
    const std::string digits = fmt::format("{:.12g}", from + static_cast<double>(index) * step);
    double value = 0.0;
    std::from_chars(digits.data(), digits.data() + digits.size(), value);
    return value;
}

SweepAxis read_axis(const std::string& said, const ChartSpec& spec) {
    std::string text = said;
    std::erase_if(text, [](char c) { return c == ' ' || c == '\t'; });
    const std::size_t equal = text.find('=');
    const std::size_t first = text.find(':', equal == std::string::npos ? 0 : equal);
    const std::size_t second = first == std::string::npos ? first : text.find(':', first + 1);
    if (equal == std::string::npos || second == std::string::npos) {
        refuse(text, "is not PATH=FROM:TO:STEP", "write such as states.sprint.speed.forward=5:9:0.5");
    }
    SweepAxis axis;
    axis.path = text.substr(0, equal);
    static_cast<void>(chart_value(spec, axis.path));
    axis.from = read_number(text.substr(equal + 1, first - equal - 1), text);
    axis.to = read_number(text.substr(first + 1, second - first - 1), text);
    axis.step = read_number(text.substr(second + 1), text);
    if (!(axis.step > 0.0) || !(axis.to >= axis.from)) {
        refuse(text, fmt::format("a step of {} does not lead from {} to {}", axis.step, axis.from, axis.to),
               "give a step above 0, and TO at or above FROM");
    }
    if ((axis.to - axis.from) / axis.step >= static_cast<double>(most_numbers)) {
        refuse(text, "has too many steps", fmt::format("{} numbers at most", most_numbers));
    }
    return axis;
}

std::vector<SweepRow> sweep(const ChartSpec& spec, const SweepPlan& plan) {
    if (plan.axes.empty() || plan.axes.size() > 2) {
        refuse("vary", fmt::format("{} values are turned", plan.axes.size()), "turn one or two");
    }
    const std::vector<std::string> known = figure_names(spec);
    for (const std::string& name : plan.figures) {
        if (std::find(known.begin(), known.end(), name) == known.end()) {
            static_cast<void>(figure(spec, name));  // complains, with the nearest name
        }
    }
    std::vector<SweepRow> rows;
    const std::size_t inner = plan.axes.size() > 1 ? plan.axes[1].count() : 1;
    if (plan.axes[0].count() * inner > most_rows) {
        refuse("vary", fmt::format("there would be {} rows", plan.axes[0].count() * inner),
               fmt::format("{} at most: take longer steps", most_rows));
    }
    for (std::size_t i = 0; i < plan.axes[0].count(); ++i) {
        for (std::size_t k = 0; k < inner; ++k) {
            std::vector<double> at{plan.axes[0].at(i)};
            if (plan.axes.size() > 1) {
                at.push_back(plan.axes[1].at(k));
            }
            rows.push_back({std::move(at), {}, {}});
        }
    }
    std::vector<std::size_t> open;
    for (std::size_t i = 0; i < rows.size(); ++i) {
        const auto same = std::find_if(plan.known.begin(), plan.known.end(), [&](const SweepRow& row) {
            return row.at == rows[i].at && row.values.size() == plan.figures.size();
        });
        if (same != plan.known.end()) {
            rows[i] = *same;
        } else {
            open.push_back(i);
        }
    }
    std::atomic<std::size_t> next{0};
    std::mutex telling;
    std::size_t done = rows.size() - open.size();
    const auto work = [&] {
        for (std::size_t k = next++; k < open.size(); k = next++) {
            SweepRow& row = rows[open[k]];
            row = find_row(spec, plan, row.at);
            const std::lock_guard<std::mutex> lock(telling);
            ++done;
            if (plan.progress) {
                plan.progress(done, rows.size(), row);
            }
        }
    };
    const std::size_t wanted =
        plan.threads != 0 ? plan.threads : std::max(1U, std::thread::hardware_concurrency());
    std::vector<std::thread> workers;
    for (std::size_t i = 1; i < std::min(wanted, open.size()); ++i) {
        workers.emplace_back(work);
    }
    work();
    for (std::thread& worker : workers) {
        worker.join();
    }
    return rows;
}

}  // namespace cursimeter::survey
