#include <algorithm>
#include <array>
#include <cmath>
#include <cursimeter/survey/scout.hpp>
#include <map>

namespace cursimeter::survey {
namespace {

using Cell = std::array<long, 3>;

Cell cell_of(const ReachedPlace& place, double size) {
    return {std::lround(place.middle[0] / size - 0.5), std::lround(place.middle[1] / size - 0.5),
            std::lround(place.middle[2] / size - 0.5)};
}

/// Calls with each of the 27 cells around one, itself included, until one is taken.
template <class Take>
bool any_around(const Cell& cell, Take&& take) {
    for (long x = -1; x <= 1; ++x) {
        for (long y = -1; y <= 1; ++y) {
            for (long z = -1; z <= 1; ++z) {
                if (take(Cell{cell[0] + x, cell[1] + y, cell[2] + z})) {
                    return true;
                }
            }
        }
    }
    return false;
}

void add_groups(const Scouted& one, const Scouted& other, double size, bool first,
                std::vector<PlaceGroup>& groups) {
    std::map<Cell, const ReachedPlace*> reached, alone;
    for (const ReachedPlace& place : other.places) {
        reached[cell_of(place, size)] = &place;
    }
    for (const ReachedPlace& place : one.places) {
        const Cell cell = cell_of(place, size);
        if (!any_around(cell, [&](const Cell& at) { return reached.contains(at); })) {
            alone[cell] = &place;
        }
    }
    while (!alone.empty()) {
        PlaceGroup group;
        group.by_first = first;
        group.low = group.high = alone.begin()->second->middle;
        group.earliest = *alone.begin()->second;
        std::vector<Cell> open{alone.begin()->first};
        while (!open.empty()) {
            const Cell cell = open.back();
            open.pop_back();
            const auto found = alone.find(cell);
            if (found == alone.end()) {
                continue;
            }
            const ReachedPlace& place = *found->second;
            ++group.places;
            for (std::size_t axis = 0; axis < 3; ++axis) {
                group.low[axis] = std::min(group.low[axis], place.middle[axis]);
                group.high[axis] = std::max(group.high[axis], place.middle[axis]);
            }
            if (place.seconds < group.earliest.seconds) {
                group.earliest = place;
            }
            alone.erase(found);
            any_around(cell, [&](const Cell& at) {
                if (alone.contains(at)) {
                    open.push_back(at);
                }
                return false;
            });
        }
        groups.push_back(group);
    }
}

}  // namespace

std::vector<PlaceGroup> compare_places(const Scouted& first, const Scouted& second, double cell) {
    std::vector<PlaceGroup> groups;
    add_groups(first, second, cell, true, groups);
    add_groups(second, first, cell, false, groups);
    std::stable_sort(groups.begin(), groups.end(),
                     [](const PlaceGroup& a, const PlaceGroup& b) { return a.places > b.places; });
    return groups;
}

}  // namespace cursimeter::survey
