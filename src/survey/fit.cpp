#include <fmt/format.h>
#include <nlopt.h>

#include <Eigen/Cholesky>
#include <algorithm>
#include <charconv>
#include <cmath>
#include <cursimeter/diagnostics.hpp>
#include <cursimeter/survey/figures.hpp>
#include <cursimeter/survey/fit.hpp>
#include <cursimeter/survey/values.hpp>
#include <memory>

#include "survey/trimmed.hpp"

/// Fitting is least squares over the wishes' relative errors. Gauss-Newton steps of least length (Eigen) come first:
/// most figures are smooth in most values, and the least step keeps the chart near to what it was. Where they stall, as
/// at a figure's kink, a search without derivatives (NLopt's BOBYQA, then Sbplx) goes on, and steps finish its work.
namespace cursimeter::survey {
namespace {

using Eigen::MatrixXd;
using Eigen::VectorXd;

constexpr double met_within = 1e-3;    ///< relative
constexpr double good_enough = 1e-10;  ///< sum of squares at which nothing is left to find

[[noreturn]] void refuse(const std::string& path, const std::string& what, const std::string& mend) {
    throw ChartError({{path, what, mend, {}, 0, 0}});
}

/// The number that the text begins with, and what follows it.
double leading_number(const std::string& text, const std::string& whole, const char* mend,
                      std::string& rest) {
    double value = 0.0;
    const auto [end, error] = std::from_chars(text.data(), text.data() + text.size(), value);
    if (error != std::errc()) {
        refuse(whole, fmt::format("'{}' is not a number", text), mend);
    }
    rest = trimmed(std::string(end, text.data() + text.size()));
    return value;
}

/// The charts that are tried, by values between 0 and 1 of their ranges.
class Trials {
  public:
    Trials(const ChartSpec& spec, const FitPlan& plan, std::vector<FitValue>& values)
        : spec_(spec), plan_(plan), values_(values) {
        for (const Wish& wish : plan.wishes) {
            names_.push_back(wish.figure);
        }
    }

    [[nodiscard]] ChartSpec chart(const VectorXd& x) const {
        ChartSpec turned = spec_;
        for (std::size_t i = 0; i < values_.size(); ++i) {
            set_chart_value(turned, values_[i].path, value(i, x));
        }
        return turned;
    }
    [[nodiscard]] double value(std::size_t i, const VectorXd& x) const {
        const FitValue& v = values_[i];
        return std::clamp(v.least + x[static_cast<Eigen::Index>(i)] * (v.most - v.least), v.least, v.most);
    }
    [[nodiscard]] double reached(std::size_t wish, const VectorXd& x) const {
        return figure(chart(x), plan_.wishes[wish].figure).value;
    }
    /// Relative errors. Charts that cannot be, or do not get to a figure, are far off.
    VectorXd errors(const VectorXd& x) {
        ++count;
        if (plan_.progress) {
            plan_.progress(count);
        }
        VectorXd r(static_cast<Eigen::Index>(plan_.wishes.size()));
        try {
            const std::vector<Figure> reached = figures(chart(x), names_);
            for (std::size_t i = 0; i < plan_.wishes.size(); ++i) {
                const Wish& wish = plan_.wishes[i];
                const double scale = wish.value != 0.0 ? std::fabs(wish.value) : 1.0;
                const double gap = (reached[i].value - wish.value) / scale;
                r[static_cast<Eigen::Index>(i)] = std::isfinite(gap) ? gap : 10.0;
            }
        } catch (const ChartError&) {
            r.setConstant(100.0);
        }
        return r;
    }
    MatrixXd slopes(const VectorXd& x) {
        constexpr double step = 1e-5;
        MatrixXd j(static_cast<Eigen::Index>(plan_.wishes.size()), x.size());
        for (Eigen::Index i = 0; i < x.size(); ++i) {
            VectorXd low = x, high = x;
            low[i] = std::max(0.0, x[i] - step);
            high[i] = std::min(1.0, x[i] + step);
            j.col(i) = (errors(high) - errors(low)) / (high[i] - low[i]);
        }
        return j;
    }
    std::size_t count = 0;

  private:
    const ChartSpec& spec_;
    const FitPlan& plan_;
    std::vector<FitValue>& values_;
    std::vector<std::string> names_;
};

/// The shortest of the steps that take r nearest to nothing: J'(J J' + e)^-1 (-r), where the small e (Levenberg) keeps
/// wishes that ask for the same from dividing by nothing.
VectorXd shortest_step(const MatrixXd& j, const VectorXd& r) {
    MatrixXd square = j * j.transpose();
    square.diagonal().array() += 1e-12 * std::max(square.trace(), 1e-12);
    return j.transpose() * square.ldlt().solve(-r);
}

/// Gauss-Newton steps of least length, halved until they help, inside the ranges.
void step_down(Trials& trials, VectorXd& x, int most) {
    VectorXd r = trials.errors(x);
    for (int round = 0; round < most && r.squaredNorm() > good_enough * 1e-6; ++round) {
        MatrixXd j = trials.slopes(x);
        VectorXd step = shortest_step(j, r);
        for (Eigen::Index i = 0; i < x.size(); ++i) {  // what would leave its range stays at its border
            const bool out = (x[i] <= 0.0 && step[i] < 0.0) || (x[i] >= 1.0 && step[i] > 0.0);
            if (out) {
                j.col(i).setZero();
                step = shortest_step(j, r);
            }
        }
        bool better = false;
        for (double part = 1.0; part > 1e-4 && !better; part *= 0.5) {
            const VectorXd there = (x + part * step).cwiseMax(0.0).cwiseMin(1.0);
            const VectorXd then = trials.errors(there);
            better = then.squaredNorm() < r.squaredNorm() * (1.0 - 1e-9);
            if (better) {
                x = there;
                r = then;
            }
        }
        if (!better) {
            return;
        }
    }
}

/// A search that needs no slopes.
void search(Trials& trials, VectorXd& x, nlopt_algorithm algorithm, int most) {
    struct Goal {
        Trials& trials;
        static double of(unsigned n, const double* at, double* /*gradient*/, void* data) {
            const VectorXd there = Eigen::Map<const VectorXd>(at, static_cast<Eigen::Index>(n));
            return static_cast<Goal*>(data)->trials.errors(there).squaredNorm();
        }
    } goal{trials};
    const std::unique_ptr<std::remove_pointer_t<nlopt_opt>, decltype(&nlopt_destroy)> optimizer(
        nlopt_create(algorithm, static_cast<unsigned>(x.size())), nlopt_destroy);
    nlopt_set_min_objective(optimizer.get(), &Goal::of, &goal);
    nlopt_set_lower_bounds1(optimizer.get(), 0.0);
    nlopt_set_upper_bounds1(optimizer.get(), 1.0);
    nlopt_set_initial_step1(optimizer.get(), 0.1);
    nlopt_set_maxeval(optimizer.get(), most);
    nlopt_set_stopval(optimizer.get(), good_enough);
    nlopt_set_xtol_abs1(optimizer.get(), 1e-9);
    VectorXd at = x;
    double least = 0.0;
    const double before = trials.errors(x).squaredNorm();
    nlopt_optimize(optimizer.get(), at.data(), &least);
    if (trials.errors(at).squaredNorm() < before) {
        x = at;
    }
}

std::vector<FitValue> values_of(const ChartSpec& spec, const FitPlan& plan) {
    std::vector<FitValue> values;
    for (const FitRange& range : plan.vary) {
        const ChartValue known = chart_value(spec, range.path);
        if (!known.value) {
            refuse(range.path, "is not said by the chart, so there is nothing to begin from",
                   "write its present value into the chart first");
        }
        if (known.whole) {
            refuse(range.path, "is a whole number", "fit turns quantities; try `sweep` for counts");
        }
        const double now = *known.value;
        double low = now > 0.0 ? now / 4.0 : now - 1.0, high = now > 0.0 ? now * 4.0 : now + 1.0;
        if (plan.keep_within) {
            low = now - std::fabs(now) * *plan.keep_within;
            high = now + std::fabs(now) * *plan.keep_within;
        }
        low = range.from.value_or(low);
        high = range.to.value_or(high);
        const double least = known.above_least ? known.least + 1e-6 : known.least;
        FitValue value{range.path, known.unit, now, now, std::max(low, least), std::min(high, known.most),
                       false};
        if (!(value.most > value.least)) {
            refuse(range.path, fmt::format("from {} to {} there is nothing to choose", low, high),
                   "give a wider range");
        }
        values.push_back(value);
    }
    return values;
}

}  // namespace

Wish read_wish(const std::string& text, const ChartSpec& spec) {
    constexpr const char* mend = "write such as \"sprint.distance = 40 m\"";
    const std::size_t equal = text.find('=');
    if (equal == std::string::npos) {
        refuse(text, "is no wish", mend);
    }
    Wish wish;
    wish.figure = trimmed(text.substr(0, equal));
    const std::string unit = figure(spec, wish.figure).unit;
    wish.value = leading_number(trimmed(text.substr(equal + 1)), text, mend, wish.unit);
    if (!wish.unit.empty() && wish.unit != unit) {
        refuse(wish.figure, fmt::format("'{}' is not its unit", wish.unit),
               unit.empty() ? "it has none" : fmt::format("it is in {}", unit));
    }
    wish.unit = unit;
    return wish;
}

FitRange read_fit_range(const std::string& text, const ChartSpec& spec) {
    constexpr const char* mend = "write PATH, or PATH=FROM:TO such as states.sprint.speed.forward=5:9";
    const std::size_t equal = text.find('=');
    FitRange range;
    range.path = trimmed(text.substr(0, equal));
    static_cast<void>(chart_value(spec, range.path));
    if (equal != std::string::npos) {
        std::string rest, nothing;
        range.from = leading_number(trimmed(text.substr(equal + 1)), text, mend, rest);
        if (rest.empty() || rest[0] != ':') {
            refuse(text, "names no range", mend);
        }
        range.to = leading_number(trimmed(rest.substr(1)), text, mend, nothing);
        if (!nothing.empty() || !(*range.to > *range.from)) {
            refuse(text, "names no range", mend);
        }
    }
    return range;
}

Fit fit(const ChartSpec& spec, const FitPlan& plan) {
    if (plan.wishes.empty() || plan.vary.empty()) {
        refuse("fit", plan.wishes.empty() ? "nothing is wanted" : "nothing may be turned",
               "give at least one wish and one value to vary");
    }
    Fit result;
    result.values = values_of(spec, plan);
    Trials trials(spec, plan, result.values);
    const auto n = static_cast<Eigen::Index>(result.values.size());
    VectorXd x(n);
    for (Eigen::Index i = 0; i < n; ++i) {
        const FitValue& value = result.values[static_cast<std::size_t>(i)];
        x[i] = std::clamp((value.before - value.least) / (value.most - value.least), 0.0, 1.0);
    }
    const VectorXd start = x;
    for (const Wish& wish : plan.wishes) {
        result.wishes.push_back({wish, figure(spec, wish.figure).value, 0.0, false});
    }
    step_down(trials, x, 20);
    for (const nlopt_algorithm algorithm : {NLOPT_LN_BOBYQA, NLOPT_LN_SBPLX}) {
        if (trials.errors(x).squaredNorm() > good_enough) {
            VectorXd other = algorithm == NLOPT_LN_SBPLX ? start : x;
            if (n > 1 || algorithm != NLOPT_LN_BOBYQA) {  // BOBYQA is for two values and more
                search(trials, other, algorithm, 300);
                step_down(trials, other, 10);
                x = trials.errors(other).squaredNorm() < trials.errors(x).squaredNorm() ? other : x;
            }
        }
    }

    result.spec = trials.chart(x);
    const VectorXd r = trials.errors(x);
    result.met = true;
    for (std::size_t i = 0; i < result.wishes.size(); ++i) {
        result.wishes[i].reached = trials.reached(i, x);
        result.wishes[i].met = std::fabs(r[static_cast<Eigen::Index>(i)]) <= met_within;
        result.met = result.met && result.wishes[i].met;
    }
    MatrixXd j = trials.slopes(x);
    for (std::size_t i = 0; i < result.values.size(); ++i) {
        const auto k = static_cast<Eigen::Index>(i);
        result.values[i].after = trials.value(i, x);
        result.values[i].at_bound = x[k] <= 1e-6 || x[k] >= 1.0 - 1e-6;
        if (result.values[i].at_bound) {
            j.col(k).setZero();
        }
    }
    // At the best compromise the pulls of the wishes that are missed cancel out: who pulls against whom is a conflict.
    for (Eigen::Index a = 0; !result.met && a < r.size(); ++a) {
        for (Eigen::Index b = a + 1; b < r.size(); ++b) {
            const VectorXd pull_a = j.row(a).transpose() * r[a], pull_b = j.row(b).transpose() * r[b];
            const double size = pull_a.norm() * pull_b.norm();
            const bool missed = std::fabs(r[a]) > met_within && std::fabs(r[b]) > met_within;
            if (missed && size > 0.0 && pull_a.dot(pull_b) < -0.3 * size) {
                result.conflicts.emplace_back(static_cast<std::size_t>(a), static_cast<std::size_t>(b));
            }
        }
    }
    result.charts = trials.count;
    return result;
}

}  // namespace cursimeter::survey
