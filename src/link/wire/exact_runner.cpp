#include "link/wire/exact_runner.hpp"

#include <array>
#include <bit>
#include <cmath>

#include "core/chart/chart_data.hpp"
#include "core/runner/fields.hpp"
#include "core/runner/plausible.hpp"

namespace cursimeter::link::wire {
namespace {

/// Codes one field after the other. Zeros and the usual sit in a flag.
template <class Coder>
class FieldCoder {
  public:
    explicit FieldCoder(Coder& coder) : coder_(coder) {}

    double real(const char*, double value) {
        auto bits = std::bit_cast<std::uint64_t>(value);
        bool plain = bits == 0;
        coder_.bit(zero_, plain);
        if (plain) {
            return 0.0;
        }
        bool again = bits == last_;
        coder_.bit(again_, again);
        if (again) {
            bits = last_;
        } else {
            // Floats and round numbers have their lower half empty.
            bool half = (bits & 0xffff'ffffU) == 0;
            coder_.bit(half_, half);
            auto upper = static_cast<std::uint32_t>(bits >> 32U);
            auto lower = static_cast<std::uint32_t>(bits);
            coder_.bits(upper, 32);
            if (half) {
                lower = 0;
            } else {
                coder_.bits(lower, 32);
            }
            bits = std::uint64_t{upper} << 32U | lower;
        }
        last_ = bits;
        return std::bit_cast<double>(bits);
    }
    std::uint64_t word(const char*, std::uint64_t value, unsigned bits) {
        bool plain = value == 0;
        coder_.bit(plain_, plain);
        if (plain) {
            return 0;
        }
        auto upper = static_cast<std::uint32_t>(value >> 32U);
        auto lower = static_cast<std::uint32_t>(value);
        if (bits > 32) {
            coder_.bits(upper, bits - 32);
        }
        coder_.bits(lower, bits < 32 ? bits : 32);
        return bits > 32 ? std::uint64_t{upper} << 32U | lower : lower;
    }
    std::uint64_t ahead(const char* name, std::uint64_t value, unsigned bits) {
        return word(name, value, bits);
    }

  private:
    Coder& coder_;
    Model zero_, again_{0xe000}, half_{0xc000}, plain_;
    std::uint64_t last_ = 0;
};

}  // namespace

void write_runner(Writer& writer, const Runner& runner) {
    detail::RunnerState state = detail::RunnerAccess::state(runner);
    FieldCoder coder(writer);
    detail::visit_fields(state, coder);
}

std::size_t length_of(const Runner& runner) {
    std::array<std::byte, most_exact_bytes> scratch;
    Writer writer(scratch);
    write_runner(writer, runner);
    return writer.finish();
}

bool read_runner(Reader& reader, const Chart& chart, Runner& runner) {
    detail::RunnerState state;
    state.meter_count = static_cast<std::uint8_t>(chart.meter_count()) & 15U;
    FieldCoder coder(reader);
    detail::visit_fields(state, coder);
    if (!detail::plausible(chart.data(), state)) {
        return false;
    }
    detail::RunnerAccess::state(runner) = state;
    return true;
}

}  // namespace cursimeter::link::wire
