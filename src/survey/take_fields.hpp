#pragma once

#include <array>
#include <bit>
#include <cursimeter/runner.hpp>
#include <cursimeter/survey/take.hpp>
#include <vector>

#include "core/chart/chart_data.hpp"
#include "core/runner/fields.hpp"

/// A runner's fields as a row of 64-bit words, in the order of core/runner_fields.hpp.
namespace cursimeter::survey {

struct TakeFields {
    using Fields = TakeRecorder::Fields;
    static constexpr std::size_t most = TakeRecorder::most_fields;

    /// Allocates nothing.
    static void read(const Runner& runner, Fields& fields) {
        struct Reader {
            Fields& to;
            double real(const char* /*name*/, double value) {
                push(std::bit_cast<std::uint64_t>(value));
                return value;
            }
            std::uint64_t word(const char* /*name*/, std::uint64_t value, unsigned /*bits*/) {
                push(value);
                return value;
            }
            std::uint64_t ahead(const char* name, std::uint64_t value, unsigned bits) {
                return word(name, value, bits);
            }
            void push(std::uint64_t value) {
                if (to.count < most) {
                    to.values[to.count++] = value;
                }
            }
        };
        fields.count = 0;
        Runner copy = runner;
        Reader reader{fields};
        detail::visit_fields(detail::RunnerAccess::state(copy), reader);
    }

    /// Fills a runner of the chart. Returns false if there are too few fields or too many.
    static bool write(const std::vector<std::uint64_t>& fields, Runner& runner) {
        struct Writer {
            const std::vector<std::uint64_t>& from;
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
        Writer writer{fields};
        detail::visit_fields(detail::RunnerAccess::state(runner), writer);
        return writer.next == fields.size();
    }
};

}  // namespace cursimeter::survey
