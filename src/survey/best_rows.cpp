#include <algorithm>
#include <cmath>
#include <cursimeter/survey/sweep.hpp>

namespace cursimeter::survey {

std::vector<std::size_t> best_rows(const std::vector<SweepRow>& rows, const Preference& first,
                                   const Preference& second) {
    const auto worth = [&](std::size_t row, const Preference& preference) {
        const double value = rows[row].values[preference.figure];
        return preference.more ? value : -value;
    };
    std::vector<std::size_t> order;
    for (std::size_t i = 0; i < rows.size(); ++i) {
        if (std::isfinite(worth(i, first)) && std::isfinite(worth(i, second))) {
            order.push_back(i);
        }
    }
    std::stable_sort(order.begin(), order.end(), [&](std::size_t a, std::size_t b) {
        return worth(a, first) != worth(b, first) ? worth(a, first) > worth(b, first)
                                                  : worth(a, second) > worth(b, second);
    });
    // From the best in the first figure on, whatever is better in the second than all before it.
    std::vector<std::size_t> best;
    for (const std::size_t row : order) {
        if (best.empty() || worth(row, second) > worth(best.back(), second)) {
            best.push_back(row);
        }
    }
    return best;
}

}  // namespace cursimeter::survey
