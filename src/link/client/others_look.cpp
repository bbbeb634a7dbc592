#include <algorithm>
#include <cmath>
#include <optional>

#include "link/client/others.hpp"
#include "link/wire/whole.hpp"

/// Where other runners look between two news of them, and beyond the last.
namespace cursimeter::link {
namespace {

/// How far an angle has come, rad, after `ticks` of `whole` on a way of `way`, given the rates at which it came and goes on,
/// rad a tick. A hand turns evenly, with bends between: where both rates are known, the bend is where their lines meet.
double bent(double way, double ticks, double whole, std::optional<double> came, std::optional<double> goes) {
    constexpr double least_bend = turn / 1800.0;  // rad a tick, above the noise of what is told
    if (came && goes && std::fabs(*came - *goes) > least_bend) {
        const double bend = (way - *goes * whole) / (*came - *goes);
        if (bend > 0.0 && bend < whole) {
            return ticks < bend ? *came * ticks : way - *goes * (whole - ticks);
        }
    }
    return way * (ticks / whole);
}

}  // namespace

Look Others::look_between(const Other& other, const Kept& before, const Kept& after, double ticks,
                          double whole) const {
    const Look from = look_of(before.replica), to = look_of(after.replica);
    // What is told is when anything wanted changed first since the snapshot before: all there is to know of one
    // interval. A hand that was still turns from then on.
    const auto changed = static_cast<std::int32_t>(after.replica.changed - before.number * interval_.fine());
    const double begun = changed / static_cast<double>(fine_per_tick);
    if (after.number == before.number + 1 && begun > 0.0 && begun < whole) {
        return turned(from, to, std::clamp((ticks - begun) / (whole - begun), 0.0, 1.0));
    }
    const Kept* earlier = before.number > 0 ? kept(other, before.number - 1) : nullptr;
    const Kept* later = kept(other, after.number + 1);
    const auto way = [](const Kept& a, const Kept& b, double Look::*angle) {
        return std::remainder(look_of(b.replica).*angle - look_of(a.replica).*angle, turn);
    };
    const auto rate = [&](const Kept* a, const Kept* b, double Look::*angle) -> std::optional<double> {
        const bool whole_way = a != nullptr && b != nullptr && a->replica.teleports == b->replica.teleports;
        return whole_way ? std::optional(way(*a, *b, angle) / every_) : std::nullopt;
    };
    const auto angle = [&](double Look::*which) {
        return from.*which + bent(way(before, after, which), ticks, whole, rate(earlier, &before, which),
                                  rate(&after, later, which));
    };
    return {angle(&Look::yaw), std::clamp(angle(&Look::pitch), -turn / 4.0, turn / 4.0)};
}

/// A turn goes on for a snapshot at most: nobody knows when a hand stops.
Look Others::look_beyond(const Other& other, const Kept& last, double ticks) const {
    const Look look = look_of(last.replica);
    const Kept* before = last.number > 0 ? kept(other, last.number - 1) : nullptr;
    if (before == nullptr || before->replica.teleports != last.replica.teleports) {
        return look;
    }
    return turned(look_of(before->replica), look, 1.0 + std::min(ticks / every_, 1.0));
}

}  // namespace cursimeter::link
