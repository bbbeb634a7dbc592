#include <algorithm>
#include <cursimeter/crowd.hpp>
#include <limits>
#include <optional>
#include <stdexcept>

#include "core/crowd/crowd_access.hpp"
#include "core/crowd/crowd_tick.hpp"
#include "core/crowd/lane_block.hpp"

namespace cursimeter {
namespace detail {
namespace {

/// Where those go on for which there is an intent; the others are told of as refused.
std::span<const Intent> begin_part(const Crowd& crowd, std::size_t first, std::span<const Intent> intents,
                                   CrowdReport& report, bool whole) {
    CrowdAccess::begin(report);
    const std::size_t there = first < crowd.size() ? crowd.size() - first : 0;
    const std::size_t count = std::min(intents.size(), there);
    if (whole && count < there) {
        CrowdAccess::refuse(report, first + count, there - count, Refusal::none);
    }
    return intents.first(count);
}

/// Where the chart with a tag is in the list.
std::optional<std::uint16_t> place_of_tag(std::span<const Chart> charts, std::uint32_t tag) {
    for (std::size_t i = 0; i < charts.size(); ++i) {
        if (charts[i].data().tag == tag) {
            return static_cast<std::uint16_t>(i);
        }
    }
    return std::nullopt;
}

std::uint16_t chart_of(std::span<const Chart> charts, const Runner& runner) {
    if (const auto place = place_of_tag(charts, RunnerAccess::state(runner).chart_tag)) {
        return *place;
    }
    throw ChartError({{"runner",
                       "belongs to a chart that the crowd does not know",
                       "add its chart first: add_chart",
                       {},
                       0,
                       0}});
}

}  // namespace
}  // namespace detail

Crowd::Crowd(const Chart& chart) : charts_{chart}, lanes_(detail::most_lanes()) {}

void Crowd::use_lanes(std::size_t most) {
    lanes_ = std::clamp<std::size_t>(most, 1, detail::most_lanes());
}

void Crowd::catch_up(std::size_t index) noexcept {
    if (going_on_[index] != detail::GoingOn::whole) {
        detail::leave_lane(blocks_[detail::block_of(index)], detail::lane_of(index),
                           detail::RunnerAccess::state(whole_[index]));
        going_on_[index] = detail::GoingOn::whole;
    }
}

void Crowd::note_chart(std::size_t index) noexcept {
    const std::uint32_t tag = detail::RunnerAccess::state(whole_[index]).chart_tag;
    // One of a chart that the crowd does not know is refused in every tick, by whichever chart.
    chart_of_[index] = detail::place_of_tag(charts_, tag).value_or(chart_of_[index]);
}

void Crowd::add_chart(const Chart& chart) {
    if (detail::place_of_tag(charts_, chart.data().tag)) {
        return;
    }
    constexpr std::size_t most = std::numeric_limits<std::uint16_t>::max();
    if (charts_.size() == most) {
        throw ChartError({{"chart",
                           "the crowd knows 65,535 charts already",
                           "remove_chart those that none is of",
                           {},
                           0,
                           0}});
    }
    charts_.push_back(chart);
}

bool Crowd::remove_chart(const Chart& chart) {
    const auto place = detail::place_of_tag(charts_, chart.data().tag);
    if (!place || charts_.size() == 1 ||
        std::find(chart_of_.begin(), chart_of_.end(), *place) != chart_of_.end()) {
        return false;
    }
    charts_.erase(charts_.begin() + *place);
    for (std::uint16_t& of : chart_of_) {
        of = static_cast<std::uint16_t>(of > *place ? of - 1 : of);
    }
    return true;
}

void Crowd::reserve(std::size_t runners) {
    chart_of_.reserve(runners);
    whole_.reserve(runners);
    blocks_.reserve(runners / detail::lanes_of_block + 1);
    going_on_.reserve(runners);
}

std::size_t Crowd::add(const Runner& runner) {
    const std::uint16_t of = detail::chart_of(charts_, runner);
    const Runner added = runner;  // which may be one of this crowd's own
    const std::size_t room = std::min({chart_of_.capacity(), whole_.capacity(),
                                       blocks_.capacity() * detail::lanes_of_block, going_on_.capacity()});
    if (size() == room) {
        reserve(std::max<std::size_t>(16, 2 * size()));  // before any grows, so that all do or none
    }
    chart_of_.push_back(of);
    whole_.push_back(added);
    going_on_.push_back(detail::GoingOn::whole);
    blocks_.resize(detail::block_of(size() - 1) + 1);
    return size() - 1;
}

std::size_t Crowd::add(const Chart& chart, const Placement& placement) {
    return add(spawn(chart, placement));
}

void Crowd::remove(std::size_t index) {
    if (index >= size()) {
        throw std::out_of_range("Crowd::remove: there is no runner of this index");
    }
    catch_up(size() - 1);
    chart_of_[index] = chart_of_.back();
    whole_[index] = whole_.back();
    going_on_[index] = detail::GoingOn::whole;
    chart_of_.pop_back();
    whole_.pop_back();
    going_on_.pop_back();
    blocks_.resize(detail::block_of(size() + detail::lanes_of_block - 1));
}

Runner Crowd::runner(std::size_t index) const {
    Runner now = whole_[index];
    if (going_on_[index] != detail::GoingOn::whole) {
        detail::leave_lane(blocks_[detail::block_of(index)], detail::lane_of(index),
                           detail::RunnerAccess::state(now));
    }
    return now;
}

void Crowd::set(std::size_t index, const Runner& runner) {
    chart_of_[index] = detail::chart_of(charts_, runner);
    whole_[index] = runner;
    going_on_[index] = detail::GoingOn::whole;
}

CrowdReport::CrowdReport(std::size_t most_events) : events_(most_events) {}

void advance_all(Crowd& crowd, std::span<const Intent> intents, Seconds dt, CrowdReport& report) noexcept {
    detail::advance_crowd(crowd, 0, detail::begin_part(crowd, 0, intents, report, true), dt, report);
}

void advance_all(Crowd& crowd, std::span<const Intent> intents, const Terrain& terrain, Seconds dt,
                 CrowdReport& report) noexcept {
    detail::advance_crowd_in_world(crowd, 0, detail::begin_part(crowd, 0, intents, report, true), terrain, dt,
                                   report);
}

void advance_part(Crowd& crowd, std::size_t first, std::span<const Intent> intents, Seconds dt,
                  CrowdReport& report) noexcept {
    detail::advance_crowd(crowd, first, detail::begin_part(crowd, first, intents, report, false), dt, report);
}

void advance_part(Crowd& crowd, std::size_t first, std::span<const Intent> intents, const Terrain& terrain,
                  Seconds dt, CrowdReport& report) noexcept {
    detail::advance_crowd_in_world(crowd, first, detail::begin_part(crowd, first, intents, report, false),
                                   terrain, dt, report);
}

}  // namespace cursimeter
