#pragma once

#include <cursimeter/survey/take.hpp>
#include <vector>

#include "core/runner/field_words.hpp"

namespace cursimeter::survey {

/// A runner's fields as a take holds them.
struct TakeFields {
    using Fields = TakeRecorder::Fields;
    static constexpr std::size_t most = TakeRecorder::most_fields;

    /// Allocates nothing.
    static void read(const Runner& runner, Fields& fields) {
        fields.count = 0;
        detail::for_each_word(runner, [&](std::uint64_t word) {
            if (fields.count < most) {
                fields.values[fields.count++] = word;
            }
        });
    }

    /// Fills a runner of the chart. Returns false if there are too few fields or too many.
    static bool write(const std::vector<std::uint64_t>& fields, Runner& runner) {
        return detail::fill_from_words(fields, runner);
    }
};

}  // namespace cursimeter::survey
