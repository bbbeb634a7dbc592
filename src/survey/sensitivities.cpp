#include <Eigen/Cholesky>
#include <algorithm>
#include <cmath>
#include <cursimeter/survey/sweep.hpp>

namespace cursimeter::survey {

std::vector<Sensitivity> sensitivities(const SweepPlan& plan, const std::vector<SweepRow>& rows) {
    std::vector<Sensitivity> list;
    const auto axes = static_cast<Eigen::Index>(plan.axes.size());
    for (std::size_t figure = 0; figure < plan.figures.size(); ++figure) {
        std::vector<const SweepRow*> known;
        for (const SweepRow& row : rows) {
            if (figure < row.values.size() && std::isfinite(row.values[figure])) {
                known.push_back(&row);
            }
        }
        const auto count = static_cast<Eigen::Index>(known.size());
        std::vector<Sensitivity> own;
        Eigen::VectorXd slopes = Eigen::VectorXd::Constant(axes, std::nan(""));
        Eigen::VectorXd parts = slopes;
        if (count > axes + 1) {
            // Each value from 0 to 1 over its range, so that a slope is the change over the range.
            Eigen::MatrixXd values(count, axes);
            Eigen::VectorXd figures(count);
            for (Eigen::Index k = 0; k < count; ++k) {
                const SweepRow& row = *known[static_cast<std::size_t>(k)];
                for (Eigen::Index i = 0; i < axes; ++i) {
                    const SweepAxis& axis = plan.axes[static_cast<std::size_t>(i)];
                    const double range = axis.to - axis.from;
                    values(k, i) =
                        range > 0.0 ? (row.at[static_cast<std::size_t>(i)] - axis.from) / range : 0.0;
                }
                figures(k) = row.values[figure];
            }
            const Eigen::MatrixXd centred = values.rowwise() - values.colwise().mean();
            const Eigen::VectorXd moved = figures.array() - figures.mean();
            slopes = (centred.transpose() * centred)
                         .ldlt()
                         .solve(centred.transpose() * moved);  // a value that stands still moves nothing
            const double whole = moved.squaredNorm();
            for (Eigen::Index i = 0; i < axes; ++i) {
                // The slope times the covariance: parts add up to what the line explains, however the values hang together.
                parts(i) = whole > 0.0 ? std::max(0.0, slopes(i) * centred.col(i).dot(moved) / whole) : 0.0;
            }
        }
        for (Eigen::Index i = 0; i < axes; ++i) {
            own.push_back({figure, static_cast<std::size_t>(i), slopes(i), parts(i)});
        }
        std::stable_sort(own.begin(), own.end(), [](const Sensitivity& a, const Sensitivity& b) {
            return std::fabs(a.change) > std::fabs(b.change);
        });
        list.insert(list.end(), own.begin(), own.end());
    }
    return list;
}

}  // namespace cursimeter::survey
