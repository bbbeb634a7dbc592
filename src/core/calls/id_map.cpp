#include <bit>
#include <cursimeter/id_map.hpp>

#include "core/chart/chart_data.hpp"
#include "core/chart/renamed.hpp"

namespace cursimeter {
template <std::size_t Size, class List>
void IdMap::fill(Places<Size>& places, const List& from, const List& to) {
    places.fill(gone);
    for (std::size_t i = 0; i < from.size(); ++i) {
        places[i] = detail::place_in_next(from, to, i).value_or(gone);
    }
}

IdMap::IdMap(const Chart& from, const Chart& to) {
    const detail::ChartData &before = from.data(), &now = to.data();
    fill(states_, before.states, now.states);
    fill(actions_, before.actions, now.actions);
    fill(meters_, before.meters, now.meters);
    fill(cooldowns_, before.cooldowns, now.cooldowns);
    fill(modifiers_, before.modifiers, now.modifiers);
    fill(blocks_, before.blocks, now.blocks);
}

std::uint32_t IdMap::held(std::uint32_t mask) const {
    std::uint32_t now = 0;
    for (; mask != 0; mask &= mask - 1) {
        const auto place = (*this)(ActionId{static_cast<std::uint8_t>(std::countr_zero(mask))});
        now |= place ? key_bit(*place) : 0;
    }
    return now;
}

}  // namespace cursimeter
