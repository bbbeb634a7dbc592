#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <cursimeter/survey/figures.hpp>

#include "core/chart/facts.hpp"
#include "survey/figures/figure_table.hpp"

namespace cursimeter::survey {
namespace {

double between(const GateSpec& a, const GateSpec& b) {
    double squared = 0.0;
    for (std::size_t i = 0; i < 3; ++i) {
        const double from = 0.5 * (a.from[i] + a.to[i]), to = 0.5 * (b.from[i] + b.to[i]);
        squared += (to - from) * (to - from);
    }
    return std::sqrt(squared);
}

void add_course_figures(FigureTable& table, const FigureSource& source) {
    for (const LegSpec& leg : source.course->spec().legs) {
        const double length = between(leg.start, leg.finish);
        const std::string first = "course." + name_part(leg.name);
        table.push_back({first + ".length", "m", "straight from the leg's start to its finish", [length] {
                             return Answer{length, "closed form: distance of the gates' middles"};
                         }});
        for (const std::uint8_t index : run_up_states(source)) {
            const detail::CompiledState& state = source.state(index);
            const double speed = state.forward;
            table.push_back({fmt::format("{}.{}_seconds", first, state.name), "s",
                             fmt::format("that far at the top speed of {}", state.name), [length, speed] {
                                 return Answer{length / speed, "closed form: length / top speed"};
                             }});
        }
    }
}

/// All figures, or at least those of the given names: what others there are is left out where that is known from the name of
/// a state or a meter.
FigureTable table_of(const FigureSource& source, std::span<const std::string> only = {}) {
    const auto wanted = [&](const std::string& thing) {
        return only.empty() || std::any_of(only.begin(), only.end(), [&](const std::string& name) {
                   return name.size() > thing.size() && name.starts_with(thing) && name[thing.size()] == '.';
               });
    };
    FigureTable table;
    for (std::uint8_t i = 0; i < source.data().states.size(); ++i) {
        if (!wanted(source.state(i).name)) {
            continue;
        }
        if (source.state(i).kind == StateKind::ground) {
            add_ground_figures(table, source, i);
            add_effort_figures(table, source, i);
        }
        add_kind_figures(table, source, i);
    }
    for (std::uint8_t i = 0; i < source.data().meters.size(); ++i) {
        if (wanted(source.data().meters[i].name)) {
            add_meter_figures(table, source, i);
        }
    }
    table.push_back({"body.step_height", "m", "steps up to this height are walked over", [&source] {
                         return Answer{source.spec.body.step_height, "closed form: the chart's"};
                     }});
    if (source.course != nullptr) {
        add_course_figures(table, source);
    }
    return table;
}

Figure answer(const FigureEntry& entry) {
    Answer found = entry.find();
    return {entry.name, entry.unit, found.value, std::move(found.how), entry.meaning};
}

}  // namespace

std::string name_part(const std::string& text) {
    std::string part;
    for (const char c : text) {
        const bool plain = (c >= 'a' && c <= 'z') || (c >= '0' && c <= '9');
        const bool capital = c >= 'A' && c <= 'Z';
        part += plain ? c : capital ? static_cast<char>(c - 'A' + 'a') : '_';
    }
    return part;
}

std::vector<std::uint8_t> run_up_states(const FigureSource& source) {
    std::vector<std::uint8_t> states;
    const std::vector<detail::CompiledState>& all = source.data().states;
    for (std::uint8_t i = 0; i < all.size(); ++i) {
        bool by_input = all[i].enter.clause_count == 0;
        for (std::uint16_t k = 0; k < all[i].enter.clause_count; ++k) {
            const detail::Clause& clause =
                source.data().clauses[static_cast<std::size_t>(all[i].enter.first_clause) + k];
            const detail::FixedFacts& want = clause.want.fixed;
            by_input = by_input || !(want.test(detail::fact::pushed) || want.test(detail::fact::locked) ||
                                     detail::fact::any_zone(want));
        }
        if (all[i].kind == StateKind::ground && !all[i].low && all[i].forward > 0.0 && by_input) {
            states.push_back(i);
        }
    }
    std::stable_sort(states.begin(), states.end(),
                     [&](std::uint8_t a, std::uint8_t b) { return all[a].forward < all[b].forward; });
    return states;
}

std::vector<std::string> figure_names(const ChartSpec& spec, const Course* course) {
    const FigureSource source{spec, compile(spec), course};
    std::vector<std::string> names;
    for (const FigureEntry& entry : table_of(source)) {
        names.push_back(entry.name);
    }
    return names;
}

std::vector<Figure> figures(const ChartSpec& spec, const Course* course) {
    const FigureSource source{spec, compile(spec), course};
    std::vector<Figure> found;
    for (const FigureEntry& entry : table_of(source)) {
        found.push_back(answer(entry));
    }
    return found;
}

namespace {

const FigureEntry* find_entry(const FigureTable& table, std::string_view name) {
    const auto found = std::find_if(table.begin(), table.end(),
                                    [&](const FigureEntry& entry) { return entry.name == name; });
    return found != table.end() ? &*found : nullptr;
}

[[noreturn]] void refuse_figure(const FigureSource& source, std::string_view name) {
    std::vector<std::string> known;
    for (const FigureEntry& entry : table_of(source)) {
        known.push_back(entry.name);
    }
    const std::string_view near = nearest_name(name, known);
    throw ChartError(
        {{std::string(name),
          "is no figure of this chart",
          near.empty() ? "`cursimeter figures` lists them" : fmt::format("did you mean '{}'?", near),
          {},
          0,
          0}});
}

}  // namespace

std::vector<Figure> figures(const ChartSpec& spec, std::span<const std::string> names, const Course* course) {
    const FigureSource source{spec, compile(spec), course};
    const FigureTable table = table_of(source, names);
    std::vector<Figure> found;
    for (const std::string& name : names) {
        const FigureEntry* entry = find_entry(table, name);
        if (entry == nullptr) {
            refuse_figure(source, name);
        }
        found.push_back(answer(*entry));
    }
    return found;
}

Figure figure(const ChartSpec& spec, std::string_view name, const Course* course) {
    const std::string one(name);
    return figures(spec, {&one, 1}, course).front();
}

}  // namespace cursimeter::survey
