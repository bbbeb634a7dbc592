#include <fmt/format.h>

#include <cursimeter/survey/trace.hpp>
#include <iterator>

namespace cursimeter::survey {

std::string trace_csv(const Chart& chart, const Run& run) {
    std::string csv = "time_s,state,x_m,y_m,z_m,vx_mps,vy_mps,vz_mps,speed_mps,speed_target_mps,distance_m";
    for (std::uint8_t i = 0; i < chart.meter_count(); ++i) {
        csv += ",meter_" + chart.name(MeterId{i});
    }
    for (std::uint8_t i = 0; i < chart.action_count(); ++i) {
        csv += ",on_" + chart.name(ActionId{i});
    }
    csv += '\n';
    auto out = std::back_inserter(csv);
    for (const Sample& sample : run.samples) {
        fmt::format_to(out, "{},{},{},{},{},{},{},{},{},{},{}", sample.at, chart.name(sample.state),
                       sample.position.x, sample.position.y, sample.position.z, sample.velocity.x,
                       sample.velocity.y, sample.velocity.z, sample.speed, sample.speed_target,
                       sample.distance);
        for (std::size_t i = 0; i < chart.meter_count(); ++i) {
            fmt::format_to(out, ",{}", sample.levels[i]);
        }
        for (std::size_t i = 0; i < chart.action_count(); ++i) {
            fmt::format_to(out, ",{}", sample.on >> i & 1U);
        }
        csv += '\n';
    }
    return csv;
}

}  // namespace cursimeter::survey
