#pragma once

#include <bit>
#include <cursimeter/runner.hpp>
#include <span>

#include "core/chart/chart_data.hpp"
#include "core/runner/fields.hpp"

/// A runner's fields as a row of 64-bit words, in the order of fields.hpp: for whoever keeps them.
namespace cursimeter::detail {

/// Calls `each(word)` for every field. Allocates nothing.
template <class Each>
void for_each_word(const Runner& runner, Each&& each) {
    struct Reader {
        Each& each;
        double real(const char* /*name*/, double value) {
            each(std::bit_cast<std::uint64_t>(value));
            return value;
        }
        std::uint64_t word(const char* /*name*/, std::uint64_t value, unsigned /*bits*/) {
            each(value);
            return value;
        }
        std::uint64_t ahead(const char* name, std::uint64_t value, unsigned bits) {
            return word(name, value, bits);
        }
    };
    Runner copy = runner;
    Reader reader{each};
    visit_fields(RunnerAccess::state(copy), reader);
}

/// Fills a runner that has as many meters. Returns false if there are too few words or too many.
[[nodiscard]] inline bool fill_from_words(std::span<const std::uint64_t> words, Runner& runner) {
    struct Writer {
        std::span<const std::uint64_t> from;
        std::size_t next = 0;
        std::uint64_t take() { return next < from.size() ? from[next++] : (++next, 0); }
        double real(const char* /*name*/, double /*value*/) { return std::bit_cast<double>(take()); }
        std::uint64_t word(const char* /*name*/, std::uint64_t /*value*/, unsigned /*bits*/) {
            return take();
        }
        std::uint64_t ahead(const char* /*name*/, std::uint64_t /*value*/, unsigned /*bits*/) {
            return take();
        }
    };
    Writer writer{words};
    visit_fields(RunnerAccess::state(runner), writer);
    return writer.next == words.size();
}

}  // namespace cursimeter::detail
