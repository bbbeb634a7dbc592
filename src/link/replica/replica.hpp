#pragma once

#include <array>
#include <cstdint>
#include <cstring>
#include <cursimeter/chart.hpp>
#include <cursimeter/detail/runner_state.hpp>
#include <cursimeter/intent.hpp>
#include <cursimeter/runner.hpp>
#include <type_traits>

/// What others are told of a runner, in whole numbers, and how it goes on from there.
///
/// Server and clients run the same chart, and the same numbers give the same bits everywhere. So from one
/// replica both know what the chart makes of it a snapshot later, and only what came differently is sent:
/// a key and when it went down, a contact, a push. The server keeps one replica per runner and lets the chart carry it on for as long
/// as it stays within `tolerance` of the truth; then a runner costs a fraction of a bit.
namespace cursimeter::link {

/// Numbers are kept finer than they are told, so that a replica that goes on by itself does not drift: what is told is
/// a multiple of this.
inline constexpr std::int32_t told_unit = 16;
inline constexpr double replica_length = 0.01 / told_unit;  ///< m; unit of positions, told to 1 cm
inline constexpr double replica_speed = 0.02 / told_unit;   ///< m/s; unit of velocities, told to 2 cm/s
inline constexpr double replica_age = 1.0 / 256;            ///< s; unit of the time in a state
inline constexpr int replica_yaw_units = 2048;              ///< per turn
inline constexpr int replica_pitch_units = 256;             ///< from level to straight up
inline constexpr int replica_meter_units = 64 * told_unit;  ///< from empty to full
inline constexpr std::int32_t no_floor = INT32_MIN;

/// How far a replica may be off before it is told anew.
namespace tolerance {
inline constexpr std::int32_t position = told_unit;      ///< 1 cm per axis
inline constexpr std::int32_t velocity = 2 * told_unit;  ///< 4 cm/s per axis
inline constexpr std::int32_t yaw = 3;                   ///< of replica_yaw_units: half a degree
inline constexpr std::int32_t pitch = 1;  ///< of replica_pitch_units: what is two off is off by half a degree
inline constexpr std::int32_t pace = 4;   ///< in 1/1024
inline constexpr std::int32_t meter = 2 * told_unit;  ///< 3 %
}  // namespace tolerance

struct ReplicaModifier {
    std::uint8_t modifier = 0;
    std::uint8_t strength = 0;  ///< percent; 0: none
    std::uint8_t stacks = 0;
    friend bool operator==(const ReplicaModifier&, const ReplicaModifier&) = default;
};

/// Those at work first. Compared as the bytes that they are: for each other runner and snapshot, and mostly nobody has any.
struct ReplicaModifiers : std::array<ReplicaModifier, limits::modifiers> {
    friend bool operator==(const ReplicaModifiers& a, const ReplicaModifiers& b) {
        static_assert(std::has_unique_object_representations_v<ReplicaModifiers>);
        return std::memcmp(&a, &b, sizeof(a)) == 0;
    }
};

struct Replica {
    std::array<std::int32_t, 3> position{};  ///< replica_length
    std::array<std::int32_t, 3> velocity{};  ///< replica_speed; its own
    std::array<std::int32_t, 3> drift{};     ///< replica_speed; what carries it besides, and slopes
    std::int32_t floor = no_floor;           ///< replica_length; where it would land
    std::uint16_t yaw = 0;                   ///< replica_yaw_units
    std::int16_t pitch = 0;                  ///< replica_pitch_units
    std::int8_t forward = 0, side = 0;       ///< the move wanted, in 1/127
    std::uint8_t state = 0;
    std::uint16_t age = 0;      ///< replica_age, at most `oldest`: time in the state
    detail::ActionMask on = 0;  ///< also of one pressed and let go since the last snapshot
    /// FineTime at which it came to want this move and these actions; told with a change.
    std::uint32_t changed = 0;
    /// FineTime, of a tick's end, up to which it looked as in the base that it is told by; told with a look.
    std::uint32_t turned = 0;
    std::uint64_t used = 0;     ///< as RunnerState::used
    std::uint16_t pace = 1024;  ///< of the speed target, in 1/1024: slopes, zones, modifiers together
    std::uint8_t barrier = 0;   ///< heading of what it leans against, in 1/255 turns from 1 on; 0: nothing
    std::uint8_t zones = 0;
    std::uint16_t blocks = 0;  ///< bit per block that is in force
    detail::MeterMask spent = 0;
    std::uint8_t teleports = 0;  ///< counts placements by the game, modulo 4
    bool faces_movement = false, grounded = true, headroom = true, cut = false, locked = false;
    std::array<std::int32_t, limits::meters> level{};  ///< of replica_meter_units
    std::array<std::int8_t, limits::meters> rate{};    ///< of the capacity per second, in 1/64
    ReplicaModifiers modifiers{};

    static constexpr std::uint16_t oldest = 1023;
    /// Apart from `changed` and `turned`.
    friend bool operator==(const Replica& a, const Replica& b);
};

/// A chart, and a runner of it from which others are posed.
struct Cast {
    explicit Cast(const Chart& from) : chart(from), model(spawn(from)) {}
    Chart chart;
    Runner model;
};

/// Time in 1/16 ticks, as far as it fits.
using FineTime = std::uint32_t;
inline constexpr std::uint32_t fine_per_tick = 16;

/// The truth in whole numbers. `rising` is the speed at which solid ground lifts it, m/s.
[[nodiscard]] Replica observe(const Cast& cast, const Runner& runner, double rising, std::uint8_t teleports);
/// A look, into the replica's fields for that.
void observe_look(const Look& look, Replica& replica);
/// What the runner wants, into the replica's fields for that.
void observe_wishes(const Runner& runner, Replica& replica);
/// Whether they look elsewhere, by more than the tolerance.
[[nodiscard]] bool looks_differ(const Replica& a, const Replica& b);
/// Whether they want other things, or look elsewhere by more than the tolerance.
[[nodiscard]] bool wishes_differ(const Replica& a, const Replica& b);
/// Whether they look the very same way; whether they want the very same move and actions; both.
[[nodiscard]] bool same_look(const Replica& a, const Replica& b);
[[nodiscard]] bool same_acts(const Replica& a, const Replica& b);
[[nodiscard]] bool same_wishes(const Replica& a, const Replica& b);
/// Takes over how the other looks, and since when; its move and actions; both.
void take_look(const Replica& from, Replica& replica);
void take_acts(const Replica& from, Replica& replica);
void take_wishes(const Replica& from, Replica& replica);

/// A runner as the replica describes it, before its next tick. What a replica does not hold (waits, exact levels) is as for a fresh
/// one. Actions that are on and were not `on_before` are pressed in that tick.
void pose(const Cast& cast, const Replica& replica, detail::ActionMask on_before, Runner& runner);
/// Takes a posed runner on by the chart alone.
void advance_posed(const Cast& cast, const Replica& replica, double seconds, Runner& runner);
/// Where a runner is and how it moves, with all that the replica knows.
struct Carried {
    glm::dvec3 position{0.0}, velocity{0.0};  ///< m, m/s
};

/// Of a runner that the chart took on for `seconds`, with what that does not know: what carries it, what it leans against.
[[nodiscard]] Carried with_surroundings(const Replica& replica, double seconds, const Runner& runner);
/// The replica `seconds` later, as the chart has it. The same bits on every machine.
[[nodiscard]] Replica predict(const Cast& cast, const Replica& replica, double seconds,
                              detail::ActionMask on_before);

/// How both ends take a replica from one snapshot to another.
struct SnapshotInterval {
    double tick_seconds = 0.0;
    std::uint32_t every = 1;  ///< ticks from one snapshot to the next
    [[nodiscard]] FineTime fine() const { return every * fine_per_tick; }
};
/// The replica of snapshot `from` at snapshot `to`. If `wishes` is given, the runner wants the move and the actions that it says
/// from `wishes->changed` on, and turns evenly, from `wishes->turned` until the end, to where that looks: each tick has a
/// look of its own, as a hand at a mouse gives it.
[[nodiscard]] Replica predict_to(const Cast& cast, const SnapshotInterval& interval, const Replica& replica,
                                 std::uint32_t from, std::uint32_t to, const Replica* wishes);
/// The prediction where it is near enough to the truth, the truth in what is not.
[[nodiscard]] Replica settle_on(const Replica& predicted, const Replica& truth);

/// What can be told of it: the nearest multiples of told_unit.
[[nodiscard]] Replica rounded(const Replica& replica);

/// The look on the short way from one to another: 0 the one, 1 the other, beyond it further on.
[[nodiscard]] Look turned(const Look& from, const Look& to, double part);
/// Where it looks, rad.
[[nodiscard]] Look look_of(const Replica& replica);
/// The position, m.
[[nodiscard]] glm::dvec3 position_of(const Replica& replica);
/// The velocity over ground, with what carries it, m/s.
[[nodiscard]] glm::dvec3 velocity_of(const Replica& replica);

}  // namespace cursimeter::link
