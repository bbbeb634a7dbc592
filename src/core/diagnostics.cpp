#include <fmt/format.h>

#include <algorithm>
#include <cursimeter/diagnostics.hpp>
#include <numeric>

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

/// Edit distance (Levenshtein 1966) in one row.
std::size_t distance(std::string_view a, std::string_view b) {
    std::vector<std::size_t> row(b.size() + 1);
    std::iota(row.begin(), row.end(), std::size_t{0});
    for (std::size_t i = 0; i < a.size(); ++i) {
        std::size_t diagonal = row[0];
        row[0] = i + 1;
        for (std::size_t j = 0; j < b.size(); ++j) {
            const std::size_t substituted = diagonal + (a[i] == b[j] ? 0 : 1);
            diagonal = row[j + 1];
            row[j + 1] = std::min({substituted, row[j] + 1, row[j + 1] + 1});
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
