#include "survey/scout/cells.hpp"

#include <algorithm>
#include <bit>
#include <cmath>
#include <cursimeter/effects.hpp>
#include <cursimeter/numbers/detmath.hpp>
#include <queue>

#include "core/numbers/digest.hpp"

namespace cursimeter::survey {
namespace {

constexpr std::int64_t coordinate_middle = std::int64_t{1} << 17U;  // of a coordinate's 18 bits
constexpr std::uint64_t coordinate_mask = (std::uint64_t{1} << 18U) - 1;

std::uint64_t packed(double metres, double cell) {
    const double index = std::floor(metres / cell);
    return static_cast<std::uint64_t>(std::clamp(index, -131'000.0, 131'000.0) +
                                      static_cast<double>(coordinate_middle));
}

std::int64_t step_of(double value, double step) {
    return static_cast<std::int64_t>(std::floor(value / step));
}

}  // namespace

CellKey cell_of(const Errand& errand, const Situation& now) {
    const glm::dvec3 at = now.runner.position();
    const double size = errand.plan.cell;
    const auto gates = errand.all_legs == 0 ? 0U
                                            : static_cast<std::uint64_t>(std::popcount(now.progress.begun) +
                                                                         std::popcount(now.progress.ended));
    return packed(at.x, size) | packed(at.y, size) << 18U | packed(at.z, size) << 36U |
           std::min<std::uint64_t>(gates, 1023) << 54U;
}

std::uint64_t quarter_of(const Errand& errand, CellKey cell) {
    const auto share = static_cast<std::uint64_t>(std::max(1L, std::lround(8.0 / errand.plan.cell)));
    return (cell & coordinate_mask) / share | ((cell >> 18U & coordinate_mask) / share) << 18U |
           ((cell >> 36U & coordinate_mask) / share) << 36U | (cell >> 54U) << 54U;
}

glm::dvec3 middle_of(const Errand& errand, CellKey cell) {
    const auto metres = [&](unsigned shift) {
        return (static_cast<double>(static_cast<std::int64_t>(cell >> shift & coordinate_mask) -
                                    coordinate_middle) +
                0.5) *
               errand.plan.cell;
    };
    return {metres(0), metres(18), metres(36)};
}

std::uint64_t likeness_of(const Errand& errand, const Situation& now) {
    detail::Digest digest;
    const Chart& chart = errand.chart;
    const Runner& runner = now.runner;
    const glm::dvec3 velocity = runner.velocity() + carrying_velocity(chart, runner);
    const double level = std::sqrt(velocity.x * velocity.x + velocity.y * velocity.y);
    digest.add(std::uint64_t{runner.state().index});
    digest.add(static_cast<std::uint64_t>(step_of(level, 1.5)));
    digest.add(static_cast<std::uint64_t>(
        level < 0.5 ? 9
                    : std::lround(detmath::arc_tangent(velocity.y, velocity.x) * 4.0 / 3.141592653589793)));
    digest.add(static_cast<std::uint64_t>(runner.grounded() ? 0 : step_of(velocity.z, 3.0)));
    digest.add(static_cast<std::uint64_t>(runner.jumps()));
    digest.add(means_of(errand, now));
    return digest.value();
}

std::uint64_t means_of(const Errand& errand, const Situation& now) {
    detail::Digest digest;
    const Chart& chart = errand.chart;
    for (std::uint8_t i = 0; i < chart.meter_count(); ++i) {
        const MeterReading meter = read_meter(chart, now.runner, MeterId{i});
        digest.add(static_cast<std::uint64_t>(step_of(meter.fraction, 0.21)) * 2 + (meter.spent ? 1 : 0));
    }
    std::uint64_t ready = 0;
    for (std::uint8_t i = 0; i < chart.cooldown_count(); ++i) {
        ready |= std::uint64_t{read_cooldown(chart, now.runner, CooldownId{i}).ready} << i;
    }
    digest.add(ready);
    return digest.value();
}

std::uint32_t CellMap::number_of(CellKey cell) {
    const auto [found, fresh] = numbers_.try_emplace(cell, static_cast<std::uint32_t>(keys_.size()));
    if (fresh) {
        keys_.push_back(cell);
        came_from_.push_back(found->second);
        behind_.resize(std::max(behind_.size(), gates_of(cell) + 1));
        for (std::size_t gates = 0; gates <= gates_of(cell); ++gates) {
            ++behind_[gates];
        }
    }
    return found->second;
}

std::optional<std::uint32_t> CellMap::find(CellKey cell) const {
    const auto found = numbers_.find(cell);
    return found == numbers_.end() ? std::nullopt : std::optional(found->second);
}

void CellMap::add_passage(std::uint32_t from, std::uint32_t to, std::uint32_t ticks) {
    if (from == to) {
        return;
    }
    if (came_from_[to] == to && from < to) {
        came_from_[to] = from;
    }
    const auto [found, fresh] = passages_.try_emplace(std::uint64_t{from} << 32U | to, ticks);
    found->second = fresh ? ticks : std::min(found->second, ticks);
}

void CellMap::add_arrival(std::uint32_t from, std::uint32_t ticks) {
    arrivals_.resize(std::max(arrivals_.size(), std::size_t{from} + 1), no_time);
    arrivals_[from] = std::min(arrivals_[from], ticks);
}

CellPassages CellMap::passages(Direction direction) const {
    // Sorted, so that nothing hangs on the order of the table.
    std::vector<std::pair<std::uint64_t, std::uint32_t>> sorted;
    sorted.reserve(passages_.size());
    for (const auto& [key, ticks] : passages_) {
        sorted.emplace_back(direction == Direction::back ? std::rotl(key, 32) : key, ticks);
    }
    std::sort(sorted.begin(), sorted.end());
    CellPassages found;
    found.first.assign(keys_.size() + 1, 0);
    found.list.reserve(sorted.size());
    for (const auto& [key, ticks] : sorted) {
        ++found.first[(key >> 32U) + 1];
        found.list.push_back({static_cast<std::uint32_t>(key), ticks});
    }
    for (std::size_t i = 1; i < found.first.size(); ++i) {
        found.first[i] += found.first[i - 1];
    }
    return found;
}

void CellMap::settle() {
    const CellPassages back = passages(Direction::back);
    // Dijkstra's algorithm, backward from the goal.
    to_goal_.assign(keys_.size(), no_time);
    next_.assign(keys_.size(), no_number);
    using Open = std::pair<std::uint32_t, std::uint32_t>;  // ticks, cell
    std::priority_queue<Open, std::vector<Open>, std::greater<>> open;
    const auto begin_at = [&](std::uint32_t cell, std::uint32_t ticks) {
        to_goal_[cell] = ticks;
        open.emplace(ticks, cell);
    };
    for (std::uint32_t i = 0; i < arrivals_.size(); ++i) {
        if (arrivals_[i] != no_time) {
            begin_at(i, arrivals_[i]);
        }
    }
    for (std::uint32_t i = 0; arrivals_.empty() && behind_.size() > 1 && i < keys_.size(); ++i) {
        if (gates_of(keys_[i]) + 1 == behind_.size()) {
            begin_at(i, 0);
        }
    }
    while (!open.empty()) {
        const auto [ticks, cell] = open.top();
        open.pop();
        if (ticks > to_goal_[cell]) {
            continue;
        }
        for (const CellPassage& from : back.of(cell)) {
            const std::uint32_t further = ticks + from.ticks;
            if (further < to_goal_[from.other]) {
                to_goal_[from.other] = further;
                next_[from.other] = cell;
                open.emplace(further, from.other);
            }
        }
    }
}

std::optional<CellKey> CellMap::next(std::uint32_t cell) const {
    if (cell >= next_.size() || next_[cell] == no_number) {
        return std::nullopt;
    }
    return keys_[next_[cell]];
}

}  // namespace cursimeter::survey
