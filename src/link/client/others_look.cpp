#include <algorithm>
#include <cmath>
#include <optional>

#include "link/client/others.hpp"
#include "link/wire/whole.hpp"

/// Where other runners look between two news of them, and beyond the last.
namespace cursimeter::link {
namespace {

/// rad; the short way from one angle to another.
double way_between(double from, double to) {
    return std::remainder(to - from, turn);
}

}  // namespace

double Others::AngleWay::at(double ticks, double whole) const {
    if (bend == 0.0) {
        return from + way * (ticks / whole);
    }
    return from + (ticks < bend ? came * ticks : way - goes * (whole - ticks));
}

Look Others::LookWay::at(double ticks, double whole) const {
    if (begun > 0.0) {
        const double part = std::clamp((ticks - begun) / (whole - begun), 0.0, 1.0);
        return {yaw.at(part, 1.0), std::clamp(pitch.at(part, 1.0), -turn / 4.0, turn / 4.0)};
    }
    return {yaw.at(ticks, whole), std::clamp(pitch.at(ticks, whole), -turn / 4.0, turn / 4.0)};
}

Others::LookWay Others::look_between(const Other& other, const Kept& before, const Kept& after,
                                     double whole) const {
    constexpr double least_bend = turn / 1800.0;  // rad a tick, above the noise of what is told
    const Look from = look_of(before.replica), to = look_of(after.replica);
    LookWay look;
    look.yaw.from = from.yaw;
    look.yaw.way = way_between(from.yaw, to.yaw);
    look.pitch.from = from.pitch;
    look.pitch.way = way_between(from.pitch, to.pitch);
    // What is told is when it began to turn, since the snapshot that the news was told by. A hand that was still until then turns
    // from then on.
    const auto turned_at = static_cast<std::int32_t>(after.replica.turned - before.number * interval_.fine());
    const double begun = turned_at / static_cast<double>(fine_per_tick);
    if (after.number == before.number + 1 && begun > 0.0 && begun < whole) {
        look.begun = begun;
        return look;
    }
    // A hand turns evenly, with bends between: where the rates at which it came and goes on are both known, the bend is where
    // their lines meet.
    const Kept* earlier = before.number > 0 ? kept(other, before.number - 1) : nullptr;
    const Kept* later = kept(other, after.number + 1);
    if (earlier == nullptr || later == nullptr || earlier->replica.teleports != before.replica.teleports ||
        later->replica.teleports != after.replica.teleports) {
        return look;
    }
    const Look came = look_of(earlier->replica), goes = look_of(later->replica);
    const auto find_bend = [&](AngleWay& angle, double Look::*which) {
        angle.came = way_between(came.*which, from.*which) / every_;
        angle.goes = way_between(to.*which, goes.*which) / every_;
        if (std::fabs(angle.came - angle.goes) > least_bend) {
            const double bend = (angle.way - angle.goes * whole) / (angle.came - angle.goes);
            angle.bend = bend > 0.0 && bend < whole ? bend : 0.0;
        }
    };
    find_bend(look.yaw, &Look::yaw);
    find_bend(look.pitch, &Look::pitch);
    return look;
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
