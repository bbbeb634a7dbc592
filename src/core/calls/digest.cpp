#include "core/numbers/digest.hpp"

#include <algorithm>
#include <cmath>
#include <cursimeter/runner.hpp>
#include <string_view>

#include "core/chart/chart_data.hpp"
#include "core/runner/fields.hpp"
#include "core/runner/levels.hpp"
#include "core/runner/pair.hpp"

namespace cursimeter {
namespace {

struct DigestVisitor {
    detail::Digest digest;
    double real(const char*, double value) {
        digest.add(value);
        return value;
    }
    std::uint64_t word(const char*, std::uint64_t value, unsigned) {
        digest.add(value);
        return value;
    }
    static std::uint64_t ahead(const char*, std::uint64_t value, unsigned) { return value; }
};

/// Leaves out when it is: times count from the runner's clock, and those that are past only as far back as anything asks.
class SituationVisitor {
  public:
    SituationVisitor(const detail::ChartData& chart, double clock) : chart_(chart), clock_(clock) {
        for (const detail::TimeMark& mark : chart.time_marks) {
            longest_ = std::max(longest_, mark.seconds);
        }
    }

    double real(std::string_view name, double value) {
        constexpr std::string_view left_out[] = {"clock",      "distance",     "lag",          "next_due",
                                                 "metered_at", "meters.level", "condition_due"};
        if (name == "state_since") {
            add(std::min(clock_ - value, longest_));
        } else if (name == "landed_at" || name == "switched_at") {
            add(std::min(clock_ - value, longest_past));
        } else if (name == "segment_due" || (name == "scaled_until" && chart_.has_scales)) {
            add(value - clock_);
        } else if (name != "scaled_until" &&
                   std::find(std::begin(left_out), std::end(left_out), name) == std::end(left_out)) {
            add(value);
        }
        return value;
    }
    std::uint64_t word(std::string_view name, std::uint64_t value, unsigned) {
        if (name == "timers" || (name == "modifiers.stamp" && value != 0)) {
            add(detail::time_of(detail::stamp_from(value), clock_) - clock_);
        } else {
            digest_.add(value);
        }
        return value;
    }
    static std::uint64_t ahead(const char*, std::uint64_t value, unsigned) { return value; }

    /// To a millionth. The parts are shifted, so that round numbers, which rounding leaves a little above or below, do not lie where one
    /// part ends. What never comes is the same number always.
    void add(double value) {
        constexpr double parts = 1e6, shift = 0.381966, most = 9e18;
        const double scaled = std::floor(value * parts + shift);
        digest_.add(std::fabs(scaled) < most ? static_cast<std::uint64_t>(static_cast<std::int64_t>(scaled))
                                             : ~std::uint64_t{0});
    }
    [[nodiscard]] std::uint64_t value() const { return digest_.value(); }

  private:
    static constexpr double longest_past = 1.0;  // s; landing pauses and returns are far shorter

    const detail::ChartData& chart_;
    double clock_;
    double longest_ = shortest_return.value;
    detail::Digest digest_;
};

}  // namespace

std::uint64_t digest(const Runner& runner) {
    detail::RunnerState state = detail::RunnerAccess::state(runner);
    DigestVisitor visitor;
    detail::visit_fields(state, visitor);
    return visitor.digest.value();
}

std::uint64_t situation_digest(const Chart& chart, const Runner& runner) {
    detail::RunnerState state = detail::paired(chart, runner, "situation_digest");
    detail::write_levels(chart.data(), state);  // as they are now, not at the last instant
    state.lately_left = detail::is_lately(state, state.state_since) ? state.lately_left : 0;
    state.lately_switched = detail::is_lately(state, state.switched_at) ? state.lately_switched : 0;
    SituationVisitor visitor(chart.data(), state.clock);
    detail::visit_fields(state, visitor);
    for (std::size_t i = 0; i < state.meter_count; ++i) {
        visitor.add(state.meters[i].level);
    }
    return visitor.value();
}

}  // namespace cursimeter
