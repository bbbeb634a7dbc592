#pragma once

#include <algorithm>
#include <cstdint>
#include <optional>
#include <vector>

/// Things that have another name in the next version of a chart (`was`).
namespace cursimeter::detail {

/// Place of the thing number `index` of one version's list in the next version's.
template <class Named>
[[nodiscard]] std::optional<std::uint8_t> place_in_next(const std::vector<Named>& from,
                                                        const std::vector<Named>& to, std::size_t index) {
    const std::string& name = from[index].name;
    const auto any = [&](auto&& holds) { return std::any_of(from.begin(), from.end(), holds); };
    for (std::size_t i = 0; i < to.size(); ++i) {
        // A rename may stay written down: one that the version before has too was done when that was loaded.
        const bool done =
            any([&](const Named& thing) { return thing.name == to[i].name && thing.was == to[i].was; });
        const bool renamed =
            !done && !to[i].was.empty() && any([&](const Named& thing) { return thing.name == to[i].was; });
        if ((renamed ? to[i].was : to[i].name) == name) {
            return static_cast<std::uint8_t>(i);
        }
    }
    return std::nullopt;
}

/// Place of what has this name, or had it before; for what is kept outside, such as a player's settings.
template <class Named>
[[nodiscard]] std::optional<std::uint8_t> place_of_old(const std::vector<Named>& list,
                                                       std::string_view name) {
    for (const auto of : {&Named::name, &Named::was}) {
        for (std::size_t i = 0; i < list.size() && !name.empty(); ++i) {
            if (list[i].*of == name) {
                return static_cast<std::uint8_t>(i);
            }
        }
    }
    return std::nullopt;
}

}  // namespace cursimeter::detail
