#pragma once

#include <fmt/format.h>

#include <cursimeter/runner.hpp>
#include <optional>
#include <string>
#include <utility>
#include <vector>

#include "core/chart/chart_data.hpp"
#include "core/runner/fields.hpp"

/// A runner's fields for people: "position.x", "3.25".
namespace cursimeter::detail {

struct FieldText {
    std::string name, value;
};

[[nodiscard]] inline std::vector<FieldText> tell_fields(const Runner& runner) {
    struct Teller {
        std::vector<FieldText> told;
        std::string last;
        std::size_t repeated = 0;
        void add(const char* name, std::string value) {
            repeated = name == last ? repeated + 1 : 0;
            last = name;
            told.push_back({name, std::move(value)});
            if (repeated > 0) {  // x, y, z of one vector come one after the other
                constexpr const char* parts[] = {".x", ".y", ".z"};
                told[told.size() - 2].name = last + parts[(repeated - 1) % 3];
                told.back().name = last + parts[repeated % 3];
            }
        }
        double real(const char* name, double value) {
            add(name, fmt::format("{}", value));
            return value;
        }
        std::uint64_t word(const char* name, std::uint64_t value, unsigned bits) {
            add(name, bits > 8 ? fmt::format("{:#x}", value) : fmt::format("{}", value));
            return value;
        }
        std::uint64_t ahead(const char* name, std::uint64_t value, unsigned bits) {
            return word(name, value, bits);
        }
    };
    Teller teller;
    Runner copy = runner;
    visit_fields(RunnerAccess::state(copy), teller);
    return std::move(teller.told);
}

/// The first field that two runners have otherwise.
struct FieldDifference {
    std::string name, first, second;
};
[[nodiscard]] inline std::optional<FieldDifference> first_difference(const Runner& first,
                                                                     const Runner& second) {
    const std::vector<FieldText> a = tell_fields(first), b = tell_fields(second);
    for (std::size_t i = 0; i < std::min(a.size(), b.size()); ++i) {
        if (a[i].name != b[i].name || a[i].value != b[i].value) {
            return FieldDifference{a[i].name, a[i].value, b[i].value};
        }
    }
    return std::nullopt;
}

}  // namespace cursimeter::detail
