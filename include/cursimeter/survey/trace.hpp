#pragma once

#include <cursimeter/survey/run.hpp>
#include <string>

namespace cursimeter::survey {

/// The run as CSV (RFC 4180, one header line, numbers that read back exactly): one line for the start
/// and one per tick.
///
///     time_s           s from the start of the run
///     state            name of the state
///     x_m y_m z_m      position of the feet
///     vx_mps vy_mps vz_mps   velocity
///     speed_mps        length of the velocity
///     speed_target_mps length of the velocity aimed for
///     distance_m       length of the path walked so far
///     meter_NAME       level of each meter, in its own unit
///     on_NAME          1 while the action is on, else 0
[[nodiscard]] std::string trace_csv(const Chart& chart, const Run& run);

}  // namespace cursimeter::survey
