#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <cursimeter/diagnostics.hpp>
#include <cursimeter/survey/values.hpp>
#include <functional>

#include "core/chart/chart_keys.hpp"
#include "core/chart/limits_check.hpp"
#include "core/compile/compile.hpp"

namespace cursimeter::survey {
namespace {

using keys::Key;

/// A number of a spec: where it is, and its value to read and to write.
struct Number {
    const std::string& path;
    const Key& key;
    std::function<std::optional<double>()> read;
    std::function<void(double)> write;
    bool whole = false;
};
using Each = std::function<void(const Number&)>;

/// Meets every number of a spec; or, where a path is given, at least the number of that path.
class NumberWalk {
  public:
    NumberWalk(const Each& each, std::string_view only) : each_(each), only_(only) {}

    void meet(const Key& key, const keys::Value<double>& value, void* spec) {
        each_({path(key), key,
               [&] {
                   const double* said = value.said(spec);
                   return said != nullptr ? std::optional(*said) : std::nullopt;
               },
               [&](double wanted) { value.say(spec) = wanted; }});
    }
    void meet(const Key& key, const keys::Value<int>& value, void* spec) {
        each_({path(key), key, [&] { return std::optional(static_cast<double>(*value.said(spec))); },
               [&](double wanted) { value.say(spec) = static_cast<int>(std::lround(wanted)); }, true});
    }
    void meet(const Key& key, const keys::Value<std::vector<double>>& value, void* spec) {
        for (std::size_t i = 0; value.said(spec) != nullptr && i < value.said(spec)->size(); ++i) {
            plain(fmt::format("{}[{}]", path(key), i + 1), key, value.say(spec)[i]);
        }
    }
    void meet(const Key& key, const keys::Value<keys::Curve>& value, void* spec) {
        Key time = key, part = key;
        time.unit = "s";
        time.least = part.least = 0.0;
        time.most = 60.0;
        part.unit = "";
        part.most = 1.0;
        for (std::size_t i = 0; value.said(spec) != nullptr && i < value.said(spec)->size(); ++i) {
            CurvePoint& point = value.say(spec)[i];
            plain(fmt::format("{}[{}][1]", path(key), i + 1), time, point.seconds);
            plain(fmt::format("{}[{}][2]", path(key), i + 1), part, point.fraction);
        }
    }
    void meet(const Key& key, const keys::Value<keys::Rates>& value, void* spec) {
        for (RateSpec& rate : value.say(spec)) {
            plain(path(key) + "." + rate.meter, key, rate.rate);
        }
    }
    void meet(const Key& key, const keys::Inner& inner, void* spec) {
        if (inner.said(spec) != nullptr) {
            within(path(key), inner.rows, inner.say(spec));
        }
    }
    void meet(const Key& key, const keys::Named& named, void* spec) {
        for (std::size_t i = 0; i < named.count(spec); ++i) {
            void* item = named.edit(spec, i);
            within(path(key) + "." + named.name_of(item), named.rows, item);
        }
    }
    void meet(const Key& key, const keys::Listed& listed, void* spec) {
        for (std::size_t i = 0; i < listed.count(spec); ++i) {
            within(fmt::format("{}[{}]", path(key), i + 1), listed.rows, listed.edit(spec, i));
        }
    }
    /// No number, or none of a chart.
    template <class Value>
    void meet(const Key& /*key*/, const Value& /*value*/, void* /*spec*/) {}

  private:
    [[nodiscard]] std::string path(const Key& key) const {
        return prefix_.empty() ? std::string(key.name) : prefix_ + "." + std::string(key.name);
    }
    void plain(const std::string& place, const Key& key, double& value) {
        each_({place, key, [&] { return std::optional(value); }, [&](double wanted) { value = wanted; }});
    }
    void within(const std::string& place, const keys::Rows& rows, void* spec) {
        if (!only_.empty() && !only_.starts_with(place)) {
            return;
        }
        const std::string outer = prefix_;
        prefix_ = place;
        keys::walk(rows, spec, *this);
        prefix_ = outer;
    }

    const Each& each_;
    std::string_view only_;
    std::string prefix_;
};

void walk_numbers(ChartSpec& spec, const Each& each, std::string_view only = {}) {
    NumberWalk walk(each, only);
    keys::walk(keys::chart_table().rows, static_cast<void*>(&spec), walk);
}

[[noreturn]] void refuse(std::string_view path, std::string what, std::string mend) {
    throw ChartError({{std::string(path), std::move(what), std::move(mend), {}, 0, 0}});
}

/// Whether `part` is some of the names in `path`, in a row.
bool has_part(const std::string& path, std::string_view part) {
    return fmt::format(".{}.", path).find(fmt::format(".{}.", part)) != std::string::npos;
}

[[noreturn]] void refuse_path(const ChartSpec& spec, std::string_view path) {
    constexpr std::size_t most_listed = 6;
    std::vector<std::string> known, having;
    for (const ChartValue& value : chart_values(spec)) {
        known.push_back(value.path);
        if (having.size() <= most_listed && has_part(value.path, path)) {
            having.push_back(value.path);
        }
    }
    const std::string_view near = nearest_name(path, known);
    std::string mend = "name one as the chart writes it, such as states.walk.speed.forward";
    if (!having.empty()) {
        const bool more = having.size() > most_listed;
        having.resize(std::min(having.size(), most_listed));
        mend = having.size() == 1 ? fmt::format("did you mean '{}'?", having.front())
                                  : fmt::format("did you mean one of {}{}?", fmt::join(having, ", "),
                                                more ? " and so on" : "");
    } else if (!near.empty()) {
        mend = fmt::format("did you mean '{}'?", near);
    }
    refuse(path, "is no number of this chart", std::move(mend));
}

void check_range(std::string_view path, const Key& key, double value) {
    if (!key.admits(value)) {
        refuse(path, fmt::format("{} is out of range", value), detail::range_text(key));
    }
}

}  // namespace

std::vector<ChartValue> chart_values(const ChartSpec& spec) {
    ChartSpec resolved = spec;
    detail::Findings ignored;
    resolved.states = detail::resolve_like(spec, ignored);
    std::vector<ChartValue> values;
    walk_numbers(resolved, [&](const Number& number) {
        const Key& key = number.key;
        values.push_back({number.path, std::string(key.unit), number.read(), false, key.least, key.most,
                          key.above_least, number.whole, std::string(key.fallback),
                          std::string(key.meaning)});
    });
    ChartSpec own = spec;
    std::size_t next = 0;
    walk_numbers(own, [&](const Number& number) {
        while (next < values.size() && values[next].path != number.path) {
            ++next;  // taken over by `like`
        }
        if (next < values.size()) {
            values[next].said = number.read().has_value();
        }
    });
    return values;
}

ChartValue chart_value(const ChartSpec& spec, std::string_view path) {
    for (ChartValue& value : chart_values(spec)) {
        if (value.path == path) {
            return std::move(value);
        }
    }
    refuse_path(spec, path);
}

void set_chart_value(ChartSpec& spec, std::string_view path, double value) {
    bool found = false;
    const Each set = [&](const Number& number) {
        if (number.path == path) {
            check_range(path, number.key, value);
            number.write(value);
            found = true;
        }
    };
    walk_numbers(spec, set, path);
    if (found) {
        return;
    }
    // What a state takes over whole (a list, a curve, a rate) it says itself from now on.
    detail::Findings ignored;
    ChartSpec resolved = spec;
    resolved.states = detail::resolve_like(spec, ignored);
    walk_numbers(resolved, set, path);
    if (!found) {
        refuse_path(spec, path);
    }
    for (std::size_t i = 0; i < spec.states.size(); ++i) {
        StateSpec& own = spec.states[i];
        if (path.starts_with("states." + own.name + ".")) {
            const std::string_view key = path.substr(8 + own.name.size());
            const StateSpec& whole = resolved.states[i];
            if (key.starts_with("launch.heights")) {
                own.launch.heights = whole.launch.heights;
            } else if (key.starts_with("gain.up_curve")) {
                own.gain.up_curve = whole.gain.up_curve;
            } else if (key.starts_with("gain.down_curve")) {
                own.gain.down_curve = whole.gain.down_curve;
            } else if (key.starts_with("gain.idle_curve")) {
                own.gain.idle_curve = whole.gain.idle_curve;
            } else if (key.starts_with("drain_per_metre.")) {
                own.drain_per_metre = whole.drain_per_metre;
            } else if (key.starts_with("drain.")) {
                own.drain = whole.drain;
            } else if (key.starts_with("cost.")) {
                own.cost = whole.cost;
            }
        }
    }
}

}  // namespace cursimeter::survey
