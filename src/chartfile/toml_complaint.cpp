#include "chartfile/toml_complaint.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <array>

namespace cursimeter::chartfile {
namespace {

/// What a parser met where it expected something else.
enum class Met { anything, unit, comma, line_end };

/// The first that fits is said: `part` occurs in the complaint, and that was met.
struct Advice {
    std::string_view part;
    Met met;
    std::string_view mend;
};
constexpr std::string_view number_alone = "write the number alone: its unit is that of the key";
constexpr std::string_view digits_around = "write a digit before and after the point, as in 0.5";
constexpr std::array advices{
    Advice{"could not determine value type", Met::anything,
           "write text in straight double quotes, and a number with a digit first, as in 0.5"},
    Advice{"control characters", Met::anything, "close the text with \" in the same line"},
    Advice{"escape", Met::anything, R"(write \\ for a backslash)"},
    Advice{"cannot redefine existing array", Met::anything,
           "write [[name]], in double brackets, before each of several; else keep one of the two"},
    Advice{"cannot redefine existing", Met::anything, "keep one of the two, or put both into one"},
    Advice{"expected value", Met::anything, "write a value after ="},
    Advice{"expected '='", Met::anything, "write key = value, and # before a comment"},
    Advice{"array:", Met::line_end, "end the list with ]"},
    Advice{"array:", Met::anything, "put a comma between items, and ] at the end of the list"},
    Advice{"dangling comma", Met::anything, "take the last comma out"},
    Advice{"inline table:", Met::anything,
           "put a comma between keys, and } at the end of the table, all in one line"},
    Advice{"table header:", Met::anything, "write the name of a section as [name] or [outer.inner]"},
    Advice{"boolean:", Met::anything, "write true or false, in small letters"},
    Advice{"leading zeroes", Met::anything, "take the first 0 out"},
    Advice{"floating-point:", Met::unit, number_alone},
    Advice{"floating-point:", Met::anything, digits_around},
    Advice{"integer:", Met::anything, number_alone},
    Advice{"expected a comment", Met::comma, "write a number with a point, as in 1.5, and one key in a line"},
    Advice{"expected a comment", Met::unit, number_alone},
    Advice{"expected a comment", Met::anything, "end the line after the value, or write # before a comment"},
};

Met met_in(std::string_view complaint, int column) {
    if (column == 1) {
        return Met::line_end;  // of the line before
    }
    constexpr std::string_view opening = "saw '";
    const std::size_t at = complaint.rfind(opening);
    const std::string_view rest =
        at == std::string_view::npos ? std::string_view() : complaint.substr(at + opening.size());
    if (rest.empty()) {
        return Met::anything;
    }
    const char letter = rest.front();
    const bool is_letter = (letter >= 'a' && letter <= 'z') || (letter >= 'A' && letter <= 'Z');
    if (rest.starts_with("\\n") || rest.starts_with("\\r")) {
        return Met::line_end;
    }
    return letter == ',' ? Met::comma : is_letter || letter == '%' ? Met::unit : Met::anything;
}

}  // namespace

Diagnostic toml_diagnostic(std::string_view complaint, const std::string& file, int line, int column) {
    const Met met = met_in(complaint, column);
    const auto* const advice = std::find_if(advices.begin(), advices.end(), [&](const Advice& one) {
        return complaint.find(one.part) != std::string_view::npos &&
               (one.met == Met::anything || one.met == met);
    });
    const std::string_view mend = advice == advices.end() ? "mend it there" : advice->mend;
    return {"",
            fmt::format("is not TOML: {}", complaint),
            fmt::format("{}; nothing after it was read", mend),
            file,
            line,
            column};
}

}  // namespace cursimeter::chartfile
