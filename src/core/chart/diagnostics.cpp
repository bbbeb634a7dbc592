#include <fmt/format.h>

#include <algorithm>
#include <cursimeter/diagnostics.hpp>
#include <numeric>
#include <utility>

namespace cursimeter {
namespace {

std::string joined(const std::vector<Diagnostic>& diagnostics) {
    std::string text;
    for (const Diagnostic& diagnostic : diagnostics) {
        if (!text.empty()) {
            text += '\n';
        }
        text += diagnostic.text();
    }
    return text;
}

/// Edit distance in which two neighbours that have changed places count once (Damerau 1964).
std::size_t distance(std::string_view a, std::string_view b) {
    std::vector<std::size_t> before, last, row(b.size() + 1);
    std::iota(row.begin(), row.end(), std::size_t{0});
    for (std::size_t i = 1; i <= a.size(); ++i) {
        before = std::exchange(last, row);
        row[0] = i;
        for (std::size_t j = 1; j <= b.size(); ++j) {
            row[j] = std::min({last[j - 1] + (a[i - 1] == b[j - 1] ? 0 : 1), row[j - 1] + 1, last[j] + 1});
            if (i > 1 && j > 1 && a[i - 1] == b[j - 2] && a[i - 2] == b[j - 1]) {
                row[j] = std::min(row[j], before[j - 2] + 1);
            }
        }
    }
    return row.back();
}

}  // namespace

std::string Diagnostic::text() const {
    std::string place;
    if (!file.empty()) {
        place = line > 0 ? fmt::format("{}:{}:{}: ", file, line, column) : fmt::format("{}: ", file);
    }
    const std::string subject = path.empty() ? "" : path + ": ";
    return mend.empty() ? place + subject + what : fmt::format("{}{}{}; {}", place, subject, what, mend);
}

ChartError::ChartError(std::vector<Diagnostic> diagnostics)
    : std::runtime_error(joined(diagnostics)), diagnostics_(std::move(diagnostics)) {}

std::string_view nearest_name(std::string_view name, std::span<const std::string> candidates) {
    std::string_view best;
    std::size_t best_distance = std::max<std::size_t>(1, (name.size() + 1) / 3) + 1;
    for (const std::string& candidate : candidates) {
        const std::size_t d = distance(name, candidate);
        if (d < best_distance) {
            best = candidate;
            best_distance = d;
        }
    }
    return best;
}

}  // namespace cursimeter
