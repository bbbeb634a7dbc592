#pragma once

#include <cmath>
#include <cursimeter/chart.hpp>
#include <cursimeter/survey/values.hpp>
#include <random>

namespace support {

using namespace cursimeter;

/// Which numbers a chart is given: those that people might write, or any that its keys allow.
enum class Limits : std::uint8_t { plausible, any };

/// The chart with up to three of its numbers, said or not, at a limit, at 0, next to it, as large again, or as large as another of its
/// numbers; what does not compile is left as it was.
inline ChartSpec at_limits(ChartSpec spec, Limits limits, unsigned seed) {
    std::mt19937 dice(seed);
    const auto compiles = [](const ChartSpec& tried) {
        try {
            static_cast<void>(compile(tried));
            return true;
        } catch (const ChartError&) {
            return false;
        }
    };
    for (int attempt = 0, changed = 0; attempt < 30 && changed < 3; ++attempt) {
        const std::vector<survey::ChartValue> values = survey::chart_values(spec);
        const survey::ChartValue& one = values[dice() % values.size()];
        const survey::ChartValue& other = values[dice() % values.size()];
        const auto kind = dice() % 6;
        if (!one.value && dice() % 8 != 0) {
            continue;
        }
        const double now = one.value.value_or(1.0), part = std::pow(10.0, -static_cast<double>(dice() % 7));
        const double candidates[] = {one.least,
                                     0.0,
                                     one.least + 1e-3,
                                     2.0 * now,
                                     other.value.value_or(0.5),
                                     std::min(one.most, 10.0 * now)};
        const double far[] = {one.least,       0.0,     one.most, one.least + (one.most - one.least) * part,
                              one.most * part, one.most};
        const double number = limits == Limits::plausible ? candidates[kind] : far[kind];
        ChartSpec tried = spec;
        try {
            survey::set_chart_value(tried, one.path, one.whole ? std::round(number) : number);
        } catch (const ChartError&) {
            continue;  // out of the key's range
        }
        if (compiles(tried)) {
            spec = std::move(tried);
            ++changed;
        }
    }
    return spec;
}

}  // namespace support
