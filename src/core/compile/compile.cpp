#include "core/compile/compile.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>
#include <cursimeter/chart.hpp>
#include <cursimeter/numbers/detmath.hpp>

#include "core/chart/chart_keys.hpp"
#include "core/chart/limits_check.hpp"
#include "core/chart/table_digest.hpp"
#include "core/numbers/digest.hpp"

namespace cursimeter {
namespace detail {
namespace {

void compile_meters(const ChartSpec& spec, ChartData& chart, Findings& findings) {
    for (const MeterSpec& meter : spec.meters) {
        const std::string path = "meters." + meter.name;
        CompiledMeter compiled;
        compiled.name = meter.name;
        compiled.was = meter.was.value_or("");
        compiled.capacity = meter.capacity;
        compiled.start = meter.start.value_or(meter.capacity);
        compiled.refill_rate = meter.refill ? meter.refill->rate : 0.0;
        compiled.refill_wait = meter.refill ? meter.refill->wait : 0.0;
        compiled.spent = meter.spent;
        compiled.thresholds = meter.thresholds;
        compile_scales(spec, meter, compiled, findings);
        chart.has_scales =
            chart.has_scales || !compiled.refill_scale.empty() || !compiled.drain_scale.empty();
        chart.has_refill_conditions = chart.has_refill_conditions || (meter.refill && meter.refill->when);
        if (!(meter.capacity > 0.0)) {  // said already; nothing can be compared with it
            chart.meters.push_back(std::move(compiled));
            continue;
        }
        if (compiled.start > meter.capacity) {
            findings.add_relation(path + ".start",
                                  fmt::format("{} is above the capacity {}", compiled.start, meter.capacity),
                                  "start at the capacity or below", {path + ".capacity"});
        }
        for (const LevelSpec& threshold : meter.thresholds) {
            if (threshold.level > meter.capacity) {
                findings.add_relation(
                    fmt::format("{}.thresholds.{}.level", path, threshold.name),
                    fmt::format("{} is above the capacity {}", threshold.level, meter.capacity),
                    "it would never be crossed", {path + ".capacity"});
            }
        }
        if (meter.spent) {
            if (!(meter.spent->until > meter.spent->at)) {
                findings.add_relation(
                    path + ".spent.until",
                    fmt::format("{} is not above `at`, {}", meter.spent->until, meter.spent->at),
                    "the latch must open at a higher level than it closes", {path + ".spent.at"});
            }
            if (meter.spent->until > meter.capacity) {
                findings.add_relation(
                    path + ".spent.until",
                    fmt::format("{} is above the capacity {}", meter.spent->until, meter.capacity),
                    "the meter would stay spent for ever; let it open at the capacity or below",
                    {path + ".capacity"});
            }
        }
        chart.meters.push_back(std::move(compiled));
    }
}

void compile_body(const BodySpec& spec, ChartData& chart, Findings& findings) {
    CompiledBody& body = chart.body;
    body.radius = spec.radius;
    body.height = spec.height;
    body.low_height = spec.low_height.value_or(std::max(0.6 * spec.height, 2.0 * spec.radius));
    const auto check = [&](const char* key, double height) {
        if (height < 2.0 * spec.radius) {
            findings.add_relation(
                fmt::format("body.{}", key), fmt::format("{} is below twice the radius", height),
                fmt::format("a capsule of radius {} is at least {} high", spec.radius, 2.0 * spec.radius),
                {"body.radius"});
        }
    };
    check("height", body.height);
    if (spec.low_height) {
        check("low_height", body.low_height);
    }
    if (spec.low_height && body.low_height > body.height) {
        findings.add_relation("body.low_height",
                              fmt::format("{} is above the height {}", body.low_height, body.height),
                              "a low body is not the taller one", {"body.height"});
    }
    if (spec.step_height > spec.height - 2.0 * spec.radius && spec.step_height > spec.radius) {
        findings.add_relation(
            "body.step_height", fmt::format("{} is too high for this body", spec.step_height),
            "steps are at most as high as the radius, or as the straight part of the capsule",
            {"body.radius", "body.height", "body.low_height"});
    }
    const detmath::SineCosine limit = detmath::sine_cosine(spec.slope_limit.radians());
    body.step_height = spec.step_height;
    body.limit_cosine = limit.cosine;
    body.limit_sine = limit.sine;
    body.stick_speed = spec.stick_speed;
    body.gravity = spec.gravity;
    body.coyote = spec.coyote;
}

void compile_actions(const ChartSpec& spec, ChartData& chart, Findings& findings) {
    for (std::size_t i = 0; i < spec.actions.size(); ++i) {
        const ActionSpec& action = spec.actions[i];
        CompiledAction compiled;
        compiled.name = action.name;
        compiled.was = action.was.value_or("");
        compiled.press = action.press;
        compiled.buffer = action.buffer;
        if (action.buffer > 0.0) {
            if (chart.buffered_count < limits::buffers) {
                compiled.buffer_slot = chart.buffered_count;
                chart.buffered[chart.buffered_count] = static_cast<std::uint8_t>(i);
            } else {
                findings.add(fmt::format("actions.{}.buffer", action.name), "is one buffer too many",
                             too_many(limits::buffers + 1U, limits::buffers));
            }
            ++chart.buffered_count;
        }
        if (action.press == PressMode::toggle) {
            chart.toggles = chart.toggles | ActionMask{1} << (i & 31U);
        }
        chart.actions.push_back(std::move(compiled));
    }
}

void compile_zones(const ChartSpec& spec, ChartData& chart, Findings& findings) {
    if (spec.zones.size() > limits::zones) {
        findings.add("zones", fmt::format("there are {} zones", spec.zones.size()),
                     too_many(spec.zones.size(), limits::zones));
    }
    for (std::size_t i = 0; i < spec.zones.size(); ++i) {
        if (std::find(chart.zones.begin(), chart.zones.end(), spec.zones[i]) != chart.zones.end()) {
            findings.add(fmt::format("zones[{}]", i + 1),
                         fmt::format("'{}' stands there twice", spec.zones[i]), "keep one of them");
        }
        chart.zones.push_back(spec.zones[i]);
    }
}

void compile_rank(const ChartSpec& spec, ChartData& chart, Findings& findings) {
    const std::vector<std::string> names = names_of(spec.states);
    if (names.empty()) {
        findings.add_relation("states", "there is no state",
                              "a chart needs one at least, such as [states.walk]");
        return;
    }
    if (spec.rank.empty()) {
        std::string all;
        for (const std::string& name : names) {
            all += fmt::format("{}\"{}\"", all.empty() ? "" : ", ", name);
        }
        findings.add_relation("rank", "is empty: no state could be taken",
                              fmt::format("say in which order they are tried, such as rank = [{}]", all));
        return;
    }
    std::vector<bool> ranked(names.size()), meant(names.size());
    const auto index_of = [&](std::string_view name) {
        return static_cast<std::size_t>(std::find(names.begin(), names.end(), name) - names.begin());
    };
    for (std::size_t i = 0; i < spec.rank.size(); ++i) {
        const std::string path = fmt::format("rank[{}]", i + 1);
        const std::size_t index = index_of(spec.rank[i]);
        if (index == names.size()) {
            const std::string_view near = nearest_name(spec.rank[i], names);
            if (near.empty() || valid_name(near)) {  // otherwise that name is told already
                findings.add(path, fmt::format("no state is named '{}'", spec.rank[i]),
                             advise_name(spec.rank[i], names));
            }
            if (!near.empty()) {
                meant[index_of(near)] = true;
            }
            continue;
        }
        if (ranked[index]) {
            findings.add(path, fmt::format("'{}' stands in the rank twice", spec.rank[i]),
                         "keep one of them");
            continue;
        }
        ranked[index] = true;
        chart.rank.push_back(static_cast<std::uint8_t>(index));
    }
    for (std::size_t i = 0; i < names.size(); ++i) {
        if (!ranked[i] && !meant[i]) {
            findings.add("states." + names[i], "is not in the rank and could never be taken",
                         fmt::format("add \"{}\" to rank", names[i]));
        }
    }
}

}  // namespace

}  // namespace detail

Chart compile(const ChartSpec& spec) {
    detail::Findings findings;
    detail::check_limits(keys::chart_table(), spec, findings);

    auto chart = std::make_shared<detail::ChartData>();
    chart->name = spec.name;
    chart->forward_cosine = detmath::sine_cosine(spec.input.forward_within.radians()).cosine;
    detail::compile_body(spec.body, *chart, findings);
    detail::compile_actions(spec, *chart, findings);
    detail::compile_zones(spec, *chart, findings);
    detail::compile_cooldowns(spec, *chart, findings);
    const std::vector<StateSpec> resolved = detail::resolve_like(spec, findings);
    detail::compile_meters(spec, *chart, findings);
    detail::compile_modifiers(spec, *chart, findings);
    detail::compile_blocks(spec, *chart, findings);
    detail::compile_rank(spec, *chart, findings);
    detail::compile_states(spec, resolved, *chart, findings);
    detail::compile_conditions(spec, resolved, *chart, findings);
    detail::check_renames(spec, findings);
    if (!findings.empty()) {
        throw ChartError(findings.take());
    }
    detail::compile_attempts(*chart);
    chart->naming = detail::naming_of(*chart);
    chart->digest = detail::digest_of(keys::chart_table().rows, &spec);
    chart->tag = detail::tag_of(chart->digest);
    return Chart(std::move(chart));
}

}  // namespace cursimeter
