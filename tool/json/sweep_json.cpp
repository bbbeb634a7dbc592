#include "json/sweep_json.hpp"

#include <cmath>

namespace cursimeter::tool {

using nlohmann::ordered_json;

ordered_json sweep_json(const ChartFile& chart, const survey::SweepPlan& plan,
                        const std::vector<survey::SweepRow>& rows,
                        const std::vector<survey::Preference>& preferences) {
    ordered_json json{{"chart", chart.spec.name},
                      {"vary", ordered_json::array()},
                      {"figures", plan.figures},
                      {"rows", ordered_json::array()}};
    for (const survey::SweepAxis& axis : plan.axes) {
        json["vary"].push_back(
            {{"path", axis.path}, {"from", axis.from}, {"to", axis.to}, {"step", axis.step}});
    }
    for (const survey::SweepRow& row : rows) {
        ordered_json values = ordered_json::array();
        for (const double value : row.values) {
            values.push_back(std::isnan(value) ? ordered_json() : ordered_json(value));
        }
        ordered_json one{{"at", row.at}, {"values", values}};
        if (!row.trouble.empty()) {
            one["trouble"] = row.trouble;
        }
        json["rows"].push_back(std::move(one));
    }
    json["sensitivities"] = ordered_json::array();
    for (const survey::Sensitivity& one : survey::sensitivities(plan, rows)) {
        const auto number_or_null = [](double value) {
            return std::isnan(value) ? ordered_json() : ordered_json(value);
        };
        json["sensitivities"].push_back({{"figure", plan.figures[one.figure]},
                                         {"path", plan.axes[one.axis].path},
                                         {"change", number_or_null(one.change)},
                                         {"part", number_or_null(one.part)}});
    }
    if (!preferences.empty()) {
        json["best"] = survey::best_rows(rows, preferences[0], preferences[1]);  // indices of rows
    }
    return json;
}

}  // namespace cursimeter::tool
