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

constexpr std::size_t most_letters = 400;  // of a text; longer ones quote what nobody wrote by hand

/// Length of the control character at the start of a UTF-8 text; 0 if there is none. Those of one byte, and the second
/// set in two bytes (U+0080 to U+009F), which terminals obey as well.
std::size_t control_length(std::string_view text) {
    const auto byte = [&](std::size_t i) { return static_cast<unsigned char>(text[i]); };
    if (byte(0) < 0x20 || byte(0) == 0x7f) {
        return 1;
    }
    return text.size() > 1 && byte(0) == 0xc2 && byte(1) >= 0x80 && byte(1) < 0xa0 ? 2 : 0;
}

/// A text that fits on a terminal's line: control characters are spelt out, the middle of a long text is left out.
std::string readable(std::string_view text) {
    std::string told;
    while (!text.empty()) {
        const std::size_t control = control_length(text);
        const bool space = text.front() == '\n' || text.front() == '\t';
        if (control == 0 || space) {
            told += space ? ' ' : text.front();
            text.remove_prefix(1);
        } else {
            told += fmt::format("\\x{:02x}", static_cast<unsigned char>(text[control - 1]));
            text.remove_prefix(control);
        }
        if (told.size() > most_letters / 2 && text.size() > most_letters) {
            told += " ... ";
            text.remove_prefix(text.size() - most_letters / 2);
        }
    }
    return told;
}

std::vector<Diagnostic> tidy(std::vector<Diagnostic> diagnostics) {
    const std::size_t all = diagnostics.size();
    diagnostics.resize(std::min(all, most_diagnostics));
    for (Diagnostic& diagnostic : diagnostics) {
        for (std::string* text : {&diagnostic.path, &diagnostic.what, &diagnostic.mend, &diagnostic.file}) {
            *text = readable(*text);
        }
    }
    if (all > most_diagnostics) {
        const Diagnostic& last = diagnostics.back();
        diagnostics.push_back({"", fmt::format("{} more mistakes are not listed", all - most_diagnostics),
                               "correct these first", last.file, 0, 0});
    }
    return diagnostics;
}

}  // namespace

std::string Diagnostic::place() const {
    return line > 0 ? fmt::format("{}:{}:{}", file, line, column) : file;
}

std::string Diagnostic::message() const {
    const std::string subject = path.empty() ? "" : path + ": ";
    return mend.empty() ? subject + what : fmt::format("{}{}; {}", subject, what, mend);
}

std::string Diagnostic::text() const {
    return file.empty() ? message() : place() + ": " + message();
}

ChartError::ChartError(std::vector<Diagnostic> diagnostics)
    : ChartError(Tidy{tidy(std::move(diagnostics))}) {}

ChartError::ChartError(Tidy tidied)
    : std::runtime_error(joined(tidied.diagnostics)), diagnostics_(std::move(tidied.diagnostics)) {}

std::string_view nearest_name(std::string_view name, std::span<const std::string> candidates) {
    constexpr std::size_t longest_name = 100;  // nobody meant a longer one, and comparing takes their product
    if (name.size() > longest_name) {
        return {};
    }
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
