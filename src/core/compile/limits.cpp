#include "core/chart/chart_keys.hpp"
#include "core/chart/limits_check.hpp"
#include "core/compile/compile.hpp"

namespace cursimeter::detail {

void check_limits(const ChartSpec& spec, Findings& findings) {
    LimitsCheck check(findings);
    keys::describe_chart(check, spec);
}

}  // namespace cursimeter::detail
