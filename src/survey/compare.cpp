#include <algorithm>
#include <cmath>
#include <cursimeter/survey/compare.hpp>

#include "core/numbers/digest.hpp"

namespace cursimeter::survey {
namespace {

/// Runs of more visits are compared up to here: the table of common rows grows with the square.
constexpr std::size_t most_visits = 2000;

}  // namespace

std::vector<RunChange> compare_runs(const Chart& chart_before, const Run& before, const Chart& chart_after,
                                    const Run& after, Seconds within) {
    const std::size_t n = std::min(before.visits.size(), most_visits),
                      m = std::min(after.visits.size(), most_visits);
    const auto name_before = [&](std::size_t i) -> const std::string& {
        return chart_before.name(before.visits[i].state);
    };
    const auto name_after = [&](std::size_t k) -> const std::string& {
        return chart_after.name(after.visits[k].state);
    };
    // common[i][k]: length of the longest common row of states from visit i and visit k on.
    std::vector<std::vector<std::uint16_t>> common(n + 1, std::vector<std::uint16_t>(m + 1));
    for (std::size_t i = n; i-- > 0;) {
        for (std::size_t k = m; k-- > 0;) {
            common[i][k] = name_before(i) == name_after(k)
                               ? static_cast<std::uint16_t>(common[i + 1][k + 1] + 1)
                               : std::max(common[i + 1][k], common[i][k + 1]);
        }
    }
    std::vector<RunChange> changes;
    std::size_t i = 0, k = 0;
    while (i < n || k < m) {
        if (i < n && k < m && name_before(i) == name_after(k)) {
            const Visit &a = before.visits[i++], &b = after.visits[k++];
            const bool moved =
                std::fabs(a.at - b.at) > within.value || std::fabs(a.seconds - b.seconds) > within.value;
            if (moved) {
                changes.push_back(
                    {RunChangeKind::moved, chart_after.name(b.state), a.at, b.at, a.seconds, b.seconds});
            }
        } else if (k == m || (i < n && common[i + 1][k] >= common[i][k + 1])) {
            const Visit& a = before.visits[i];
            changes.push_back({RunChangeKind::removed, name_before(i++), a.at, 0.0, a.seconds, 0.0});
        } else {
            const Visit& b = after.visits[k];
            changes.push_back({RunChangeKind::added, name_after(k++), 0.0, b.at, 0.0, b.seconds});
        }
    }
    return changes;
}

std::uint64_t states_digest(const Chart& chart, const Run& run) {
    detail::Digest digest;
    for (const Visit& visit : run.visits) {
        digest.add(chart.name(visit.state));
        digest.add(chart.describe(visit.cause));
    }
    return digest.value();
}

RateGap rate_gap(const Chart& chart, const Run& one, const Run& other) {
    RateGap gap;
    const std::size_t both = std::min(one.visits.size(), other.visits.size());
    for (std::size_t i = 0; i < both && !gap.first; ++i) {
        const Visit &a = one.visits[i], &b = other.visits[i];
        if (a.state != b.state || chart.describe(a.cause) != chart.describe(b.cause)) {
            gap.first = i;
        } else {
            gap.seconds = std::max(gap.seconds, std::fabs(a.at - b.at));
        }
    }
    if (!gap.first && one.visits.size() != other.visits.size()) {
        gap.first = both;
    }
    const glm::dvec3 apart = one.runner.position() - other.runner.position();
    gap.metres = std::sqrt(apart.x * apart.x + apart.y * apart.y + apart.z * apart.z);
    return gap;
}

}  // namespace cursimeter::survey
