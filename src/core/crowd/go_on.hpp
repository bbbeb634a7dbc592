#pragma once

#include <cstddef>
#include <cstdint>
#include <cursimeter/detail/crowd_lanes.hpp>

#include "core/motion/arc.hpp"
#include "core/numbers/lanes.hpp"
#include "core/numbers/sine_cosine.hpp"

/// A tick of runners of a crowd that go on as they are, side by side. It is written once, for any number of lanes, and does what
/// tick/open_ground.hpp and tick/turning.cpp do for one runner in the ticks that detail::GoingOn names; all other ticks are theirs.
namespace cursimeter::detail {

inline constexpr std::size_t numbers_of_intent = sizeof(void*) == 8 ? 9 : 7;  ///< from one to the next

/// A tick of a block.
struct LaneWork {
    double seconds = 0.0;
    double reach = 0.0;         ///< s: the same, but at least as long as an instant
    double largest_look = 0.0;  ///< rad: a look beyond it is refused
    /// The intents, from that of lane `first_lane` on, as numbers: each begins with forward and side of the move, yaw and pitch of the look.
    const double* intents = nullptr;
    std::size_t first_lane = 0;
    GoingOn how[lanes_of_block]{};  ///< `whole` also where something else is new: such a lane does not go on
};

/// Moves a block on: by ones any part of it, otherwise a whole one. Returns a bit for each lane: whether its tick is done. Otherwise the lane is as it was.
using GoOn = unsigned (*)(LaneBlock& block, const LaneWork& work);
unsigned go_on_by_ones(LaneBlock& block, const LaneWork& work);  ///< lanes that are `whole` are not touched
unsigned go_on_by_twos(LaneBlock& block, const LaneWork& work);
unsigned go_on_by_fours(LaneBlock& block, const LaneWork& work);   ///< where the processor has AVX2
unsigned go_on_by_eights(LaneBlock& block, const LaneWork& work);  ///< where it has AVX-512

/// As many lanes from `lane` on as a Number has.
template <class Number>
[[gnu::always_inline]] inline unsigned go_on(LaneBlock& block, std::size_t lane, std::size_t first_lane,
                                             const LaneWork& work) {
    using Mask = MaskOf<Number>;
    const auto read = [&](const double* row) __attribute__((always_inline)) {
        return load_lanes<Number>(row + lane);
    };
    const auto wanted = [&](std::size_t number) __attribute__((always_inline)) {
        return gather_lanes<Number>([&](std::size_t i) __attribute__((always_inline)) {
            return work.intents[(lane + i - first_lane) * numbers_of_intent + number];
        });
    };
    const auto how = gather_wholes<Number>([&](std::size_t i) __attribute__((always_inline)) {
        return static_cast<std::uint8_t>(work.how[lane + i]);
    });
    const auto is_more_than = [&](GoingOn less) __attribute__((always_inline)) {
        return how > static_cast<std::int64_t>(less);
    };
    const Number yaw = wanted(2), pitch = wanted(3);
    const Number yaw_before = read(block.look_yaw), pitch_before = read(block.look_pitch);
    const Mask looks_same = all_hold<Mask>(same_bits(yaw, yaw_before), same_bits(pitch, pitch_before));
    const Mask moves_same = all_hold<Mask>(same_bits(wanted(0), read(block.move_forward)),
                                           same_bits(wanted(1), read(block.move_side)));
    const Number clock = read(block.clock), next_due = read(block.next_due);
    const Number x = read(block.x), y = read(block.y), z = read(block.z), distance = read(block.distance);
    const Number velocity_x = read(block.velocity_x), velocity_y = read(block.velocity_y);
    const Number velocity_z = read(block.velocity_z), speed = read(block.speed);
    const Number later = clock + work.seconds;
    const Number even_x = velocity_x * work.seconds, even_y = velocity_y * work.seconds;
    const Number even_z = z + velocity_z * work.seconds, even_walked = speed * work.seconds;
    const Mask evenly =
        all_hold<Mask>(is_more_than(GoingOn::whole), moves_same, looks_same, later < next_due);
    const auto keep = [&](double* row, const Mask& done, const Number& now, const Number& before)
        __attribute__((always_inline)) {
        store_lanes<Number>(row + lane, done ? now : before);
    };

    const Mask reaches = clock + work.reach < next_due;
    const Mask looks =
        all_hold<Mask>(is_more_than(GoingOn::evenly), moves_same, inverse_of(looks_same), reaches,
                       magnitude(yaw) <= work.largest_look, magnitude(pitch) <= work.largest_look);
    if (bits_of(looks) == 0) {
        keep(block.clock, evenly, later, clock);
        keep(block.x, evenly, x + even_x, x);
        keep(block.y, evenly, y + even_y, y);
        keep(block.z, evenly, even_z, z);
        keep(block.distance, evenly, distance + even_walked, distance);
        return bits_of(evenly) << lane;
    }

    const Mask turns = all_hold<Mask>(looks, is_more_than(GoingOn::looking));
    const Number facing_x_before = read(block.facing_x), facing_y_before = read(block.facing_y);
    const Mask turned = all_hold<Mask>(looks, yaw != yaw_before);
    const auto facing = detmath::sine_cosine_lanes<Number>(turned ? yaw : yaw_before);
    const Number facing_x = turned ? facing.cosine : facing_x_before;
    const Number facing_y = turned ? facing.sine : facing_y_before;
    const auto [target_x, target_y] =
        level_target_of<Number>(facing_x, facing_y, read(block.wanted_x), read(block.wanted_y));
    const Number one = in_every_lane<Number>(1.0);  // for those who stand
    const auto arc = arc_at_speed<Number>(velocity_x, velocity_y, target_x, target_y, turns ? speed : one,
                                          read(block.down_inverse), read(block.up_inverse), work.seconds);
    const Mask is_arc = all_hold<Mask>(turns, arc.fits, read(block.clear_below) < speed - arc.half);
    const Mask done = any_holds<Mask>(evenly, all_hold<Mask>(looks, inverse_of(turns)), is_arc);
    keep(block.clock, done, later, clock);
    keep(block.x, done, x + (is_arc ? arc.moved_x : even_x), x);
    keep(block.y, done, y + (is_arc ? arc.moved_y : even_y), y);
    keep(block.z, done, is_arc ? z : even_z, z);
    keep(block.distance, done, distance + (is_arc ? arc.walked : even_walked), distance);
    keep(block.velocity_x, is_arc, target_x, velocity_x);
    keep(block.velocity_y, is_arc, target_y, velocity_y);
    keep(block.speed, is_arc, arc.speed, speed);
    keep(block.look_yaw, done, yaw, yaw_before);
    keep(block.look_pitch, done, pitch, pitch_before);
    keep(block.facing_x, done, facing_x, facing_x_before);
    keep(block.facing_y, done, facing_y, facing_y_before);
    return bits_of(done) << lane;
}

}  // namespace cursimeter::detail
