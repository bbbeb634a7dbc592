#include <fmt/format.h>

#include <algorithm>
#include <cursimeter/effects.hpp>

#include "survey/figures/figure_table.hpp"
#include "survey/probe.hpp"

/// How long a meter lasts, how long it takes to come back, and the best use of it.
namespace cursimeter::survey {
namespace {

constexpr double longest_tried = 3600.0;  ///< s that are tried
constexpr double far_way = 1000.0;        ///< m

const std::string unreachable = "input alone does not bring it about";

/// Whether the state's recipe leads to it.
bool reachable(const FigureSource& source, std::uint8_t index) {
    Probe probe(source.chart);
    const Recipe recipe = recipe_of(source.data(), index);
    probe.move = recipe.move;
    probe.held = recipe.held | recipe.pressed;
    return probe.until_event(EventKind::entered, index, 5.0).has_value();
}

/// What a state that drains a meter allows.
struct Effort {
    double seconds = no_figure, metres = no_figure, again = no_figure;
    std::string trouble;
};

Effort effort_of(const FigureSource& source, std::uint8_t index) {
    Probe probe(source.chart);
    const Recipe recipe = recipe_of(source.data(), index);
    probe.move = recipe.move;
    probe.held = recipe.held | recipe.pressed;
    Effort effort;
    if (!probe.until_event(EventKind::entered, index, 5.0)) {
        effort.trouble = unreachable;
        return effort;
    }
    const double begun = probe.now(), from = probe.runner().distance();
    if (!probe.until_event(EventKind::left, index, longest_tried)) {
        effort.trouble = "it never ends by itself";
        return effort;
    }
    effort.seconds = probe.now() - begun;
    effort.metres = probe.runner().distance() - from;
    const double left = probe.now();
    if (probe.until_event(EventKind::entered, index, longest_tried)) {
        effort.again = probe.now() - left;
    } else {
        effort.trouble = "it never comes back by itself";
    }
    return effort;
}

/// Seconds for 1 km when the state is asked for from a level `start` down to a level `stop`, fractions of the
/// capacity, over and over. With start 0 it is asked for all the time.
double seconds_for_far_way(const FigureSource& source, std::uint8_t index, std::uint8_t meter, double stop,
                           double start) {
    Probe probe(source.chart);
    const Recipe recipe = recipe_of(source.data(), index);
    probe.move = recipe.move;
    bool asked = true;
    constexpr double step = 0.05;
    while (probe.runner().distance() < far_way) {
        if (probe.now() > longest_tried) {
            return no_figure;
        }
        const double full = read_meter(source.chart, probe.runner(), MeterId{meter}).fraction;
        asked = start <= 0.0 || (asked ? full > stop : full >= start);
        probe.held = asked ? recipe.held | recipe.pressed : 0;
        const double before = probe.runner().distance();
        static_cast<void>(probe.tick(step));
        const double after = probe.runner().distance();
        if (after >= far_way) {
            return probe.now() - step * (after - far_way) / (after - before);
        }
    }
    return probe.now();
}

struct Rhythm {
    double speed = 0.0, stop = 0.0, start = 0.0;
};

/// The best of a grid of levels at which to stop and to start again, then of a finer one around it.
Rhythm best_rhythm(const FigureSource& source, std::uint8_t index, std::uint8_t meter) {
    Rhythm best;
    const auto attempt = [&](double stop, double start) {
        if (stop < 0.0 || start > 1.0 || stop >= start) {
            return;
        }
        const double speed = far_way / seconds_for_far_way(source, index, meter, stop, start);
        if (speed > best.speed) {
            best = {speed, stop, start};
        }
    };
    for (int stop = 0; stop < 10; ++stop) {
        for (int start = stop + 1; start <= 10; ++start) {
            attempt(0.1 * stop, 0.1 * start);
        }
    }
    const Rhythm coarse = best;
    for (int i = -2; i <= 2; ++i) {
        for (int k = -2; k <= 2; ++k) {
            attempt(coarse.stop + 0.03 * i, coarse.start + 0.03 * k);
        }
    }
    return best;
}

/// Seconds until a meter that was emptied has come to an event, standing still.
double come_back(const FigureSource& source, std::uint8_t meter, EventKind kind) {
    Probe probe(source.chart);
    const double level = read_meter(source.chart, probe.runner(), MeterId{meter}).level;
    static_cast<void>(try_spend(source.chart, probe.runner(), MeterId{meter}, level));
    return probe.until_event(kind, meter, longest_tried) ? probe.now() : no_figure;
}

}  // namespace

void add_effort_figures(FigureTable& table, const FigureSource& source, std::uint8_t index) {
    const detail::CompiledState& state = source.state(index);
    if (state.drained == 0) {
        return;
    }
    std::uint8_t meter = 0;
    while ((state.drained >> meter & 1U) == 0) {
        ++meter;
    }
    const std::string& of = source.data().meters[meter].name;
    const auto add = [&](const char* name, const char* unit, const std::string& meaning, auto part) {
        table.push_back({state.name + "." + name, unit, meaning, [&source, index, part] {
                             const Effort effort = effort_of(source, index);
                             const double value = part(effort);
                             return Answer{value, value == value ? simulated : effort.trouble};
                         }});
    };
    add("seconds", "s", fmt::format("how long it lasts on full {}", of),
        [](const Effort& effort) { return effort.seconds; });
    add("distance", "m", "how far that goes", [](const Effort& effort) { return effort.metres; });
    add("again", "s", "until it comes back, its keys held all the while",
        [](const Effort& effort) { return effort.again; });
    add("cycle", "s", "both together", [](const Effort& effort) { return effort.seconds + effort.again; });
    table.push_back(
        {state.name + ".average", "m/s", "over 1 km, its keys held all the time", [&source, index, meter] {
             return Answer{far_way / seconds_for_far_way(source, index, meter, 0.0, 0.0),
                           "simulated over 1 km"};
         }});
    table.push_back(
        {state.name + ".best_average", "m/s", "over 1 km, at the best rhythm", [&source, index, meter, of] {
             if (!reachable(source, index)) {
                 return Answer{no_figure, unreachable};
             }
             const Rhythm best = best_rhythm(source, index, meter);
             return Answer{best.speed, fmt::format("simulated over 1 km: down to {:.0f} % of {}, then "
                                                   "not before {:.0f} %; levels tried in steps of 3 %",
                                                   100.0 * best.stop, of, 100.0 * best.start)};
         }});
}

void add_meter_figures(FigureTable& table, const FigureSource& source, std::uint8_t index) {
    const detail::CompiledMeter& meter = source.data().meters[index];
    if (meter.refill_rate <= 0.0) {
        return;
    }
    const bool plain = meter.refill_scale.empty() && meter.refill_when.clause_count == 0 &&
                       meter.refill_in == ~detail::StateMask{0};
    const auto add = [&](const char* name, const std::string& meaning, double amount, EventKind kind) {
        table.push_back(
            {meter.name + "." + name, "s", meaning, [&source, &meter, index, plain, amount, kind] {
                 return plain ? Answer{meter.refill_wait + amount / meter.refill_rate,
                                       "closed form: wait + amount / rate"}
                              : Answer{come_back(source, index, kind), simulated + ", standing still"};
             }});
    };
    if (meter.spent && meter.spent->at <= 0.0) {
        add("recover", "from empty until it is no longer spent", meter.spent->until, EventKind::recovered);
    }
    add("fill", "from empty to full", meter.capacity, EventKind::filled);
}

}  // namespace cursimeter::survey
