#include <fmt/format.h>

#include <algorithm>

#include "capi/boundary.hpp"

namespace cursimeter::capi {
namespace {

std::size_t count_of(const Chart& chart, int list) {
    switch (list) {
        case CURSIMETER_STATES:
            return chart.state_count();
        case CURSIMETER_ACTIONS:
            return chart.action_count();
        case CURSIMETER_METERS:
            return chart.meter_count();
        case CURSIMETER_COOLDOWNS:
            return chart.cooldown_count();
        case CURSIMETER_MODIFIERS:
            return chart.modifier_count();
        case CURSIMETER_BLOCKS:
            return chart.block_count();
        case CURSIMETER_ZONES:
            return chart.zones().size();
    }
    return 0;
}

const std::string& name_of(const Chart& chart, int list, std::uint8_t index) {
    switch (list) {
        case CURSIMETER_STATES:
            return chart.name(StateId{index});
        case CURSIMETER_ACTIONS:
            return chart.name(ActionId{index});
        case CURSIMETER_METERS:
            return chart.name(MeterId{index});
        case CURSIMETER_COOLDOWNS:
            return chart.name(CooldownId{index});
        case CURSIMETER_MODIFIERS:
            return chart.name(ModifierId{index});
        case CURSIMETER_BLOCKS:
            return chart.name(BlockId{index});
        case CURSIMETER_ZONES:
            break;
    }
    return chart.zones()[index];
}

cursimeter_status make(cursimeter_chart** out, cursimeter_error* error, ChartFile (*load)(const void*),
                       const void* from) {
    return guarded(error, [&] {
        *out = new cursimeter_chart{load(from)};
        return CURSIMETER_OK;
    });
}

}  // namespace

bool is_index(const Chart& chart, int list, int index) noexcept {
    return index >= 0 && static_cast<std::size_t>(index) < count_of(chart, list);
}

}  // namespace cursimeter::capi

using namespace cursimeter;

extern "C" {

cursimeter_status cursimeter_chart_load(const char* file, cursimeter_chart** out, cursimeter_error* error) {
    if (out != nullptr) {
        *out = nullptr;
    }
    if (file == nullptr || out == nullptr) {
        return capi::bad_argument(error, file == nullptr ? "file" : "out");
    }
    return capi::make(
        out, error, [](const void* name) { return load_chart(static_cast<const char*>(name)); }, file);
}

cursimeter_status cursimeter_chart_parse(const char* text, size_t length, const char* name,
                                         cursimeter_chart** out, cursimeter_error* error) {
    if (out != nullptr) {
        *out = nullptr;
    }
    if (text == nullptr || out == nullptr) {
        return capi::bad_argument(error, text == nullptr ? "text" : "out");
    }
    struct Text {
        std::string_view text;
        const char* name;
    };
    const Text given{{text, length}, name == nullptr ? "chart" : name};
    return capi::make(
        out, error,
        [](const void* from) {
            const Text& said = *static_cast<const Text*>(from);
            return parse_chart(said.text, said.name);
        },
        &given);
}

void cursimeter_chart_free(cursimeter_chart* chart) {
    delete chart;
}
const char* cursimeter_chart_name(const cursimeter_chart* chart) {
    return chart == nullptr ? nullptr : chart->file.chart.name().c_str();
}
uint64_t cursimeter_chart_digest(const cursimeter_chart* chart) {
    return chart == nullptr ? 0 : chart->file.chart.digest();
}
size_t cursimeter_count(const cursimeter_chart* chart, int list) {
    return chart == nullptr ? 0 : capi::count_of(chart->file.chart, list);
}
const char* cursimeter_name(const cursimeter_chart* chart, int list, size_t index) {
    if (chart == nullptr || index >= capi::count_of(chart->file.chart, list)) {
        return nullptr;
    }
    return capi::name_of(chart->file.chart, list, static_cast<std::uint8_t>(index)).c_str();
}

int cursimeter_find(const cursimeter_chart* chart, int list, const char* name, cursimeter_error* error) {
    int found = -1;
    if (chart == nullptr || name == nullptr || list < CURSIMETER_STATES || list > CURSIMETER_ZONES) {
        static_cast<void>(capi::bad_argument(error, chart == nullptr  ? "chart"
                                                    : name == nullptr ? "name"
                                                                      : "list"));
        return found;
    }
    static_cast<void>(capi::guarded(error, [&] {
        const Chart& of = chart->file.chart;
        std::vector<std::string> names;
        for (std::size_t i = 0; i < capi::count_of(of, list); ++i) {
            names.push_back(capi::name_of(of, list, static_cast<std::uint8_t>(i)));
        }
        const auto at = std::find(names.begin(), names.end(), name);
        if (at == names.end()) {
            const std::string_view near = nearest_name(name, names);
            throw ChartError({{"",
                               fmt::format("the chart has nothing named '{}' there", name),
                               near.empty() ? fmt::format("known: {}", fmt::join(names, ", "))
                                            : fmt::format("did you mean '{}'?", near),
                               {},
                               0,
                               0}});
        }
        found = static_cast<int>(at - names.begin());
        return CURSIMETER_OK;
    }));
    return found;
}

}  // extern "C"
