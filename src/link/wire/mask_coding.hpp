#pragma once

#include <bit>

#include "link/wire/coder.hpp"

/// Masks by what they were before: how many bits differ, then how far apart these lie. Costs nothing for the width of
/// the mask.
namespace cursimeter::link::wire {

struct MaskModels {
    constexpr MaskModels() = default;
    /// For masks that are told where they differ only; `first` is the probability that the first bit does.
    constexpr explicit MaskModels(std::uint16_t first) : differing{0x0400, 0xf400}, gap(first) {}
    NumberModel differing{0xe000}, gap;
};

/// Bits of the mask that lie at `width` or beyond come out as they were.
template <class Coder, class Mask>
void code_mask(Coder& coder, MaskModels& models, Mask& mask, Mask before, unsigned width) {
    std::uint64_t differing = std::uint64_t{mask} ^ std::uint64_t{before};
    auto left = static_cast<std::uint32_t>(std::popcount(differing));
    count(coder, models.differing, left);
    std::uint64_t read = 0;
    for (std::uint32_t next = 0; left > 0 && next < width; --left) {
        std::uint32_t gap = 0;
        if constexpr (!Coder::reads) {
            gap = static_cast<std::uint32_t>(std::countr_zero(differing)) - next;
            differing &= differing - 1;
        }
        count(coder, models.gap, gap);
        if (gap >= width - next) {
            break;
        }
        next += gap;
        read |= std::uint64_t{1} << next++;
    }
    mask = static_cast<Mask>(before ^ read);
}

}  // namespace cursimeter::link::wire
