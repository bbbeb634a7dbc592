#pragma once

#include "core/runner/charges.hpp"
#include "link/replica/replica.hpp"
#include "link/wire/coder.hpp"
#include "link/wire/mask_coding.hpp"

namespace cursimeter::link::wire {

/// What a packet has learnt about replicas so far. Each packet begins anew, with what is usual: packets get lost.
/// The start values are rounded from what hands at a mouse and three charts make of it.
struct ReplicaModels {
    Model moved{0x3400}, turned{0x1800}, wished{0x1000}, posture{0xd800};
    Model has_drift{0xf000}, has_floor{0x0800}, keyed{0xd800}, stirred{0x9800}, pitched{0x2400},
        faced{0xf800};
    MaskModels keys{0x4000}, metered{0xe000}, cooldowns, latches, blocked;
    NumberModel since{0x1c00, 0x4400, 0x9000, 0xf000}, still{0x9800, 0xac00, 0xac00, 0xf000};
    Model acted{0x4800}, inside{0x2000}, by_stick{0xf000};
    /// Of a move by keys, ahead and to the side, by what it was before: whether there is none, and the sign.
    std::array<std::array<Model, 3>, 2> no_part{
        {{Model{0xd800}, Model{0xc400}, Model{0xd800}}, {Model{0xa800}, Model{0x7800}, Model{0x7800}}}},
        backward{
            {{Model{0xc800}, Model{0xb000}, Model{0xd000}}, {Model{0x8000}, Model{0x5800}, Model{0xa000}}}};
    static constexpr NumberModel level_place{0x5800, 0xc000, 0x9000, 0xa000, 0xa800, 0x6800, 0xa800, 0xf000};
    static constexpr NumberModel height{0xe400, 0xd000, 0x1800, 0x2800, 0x4800, 0x9000};
    static constexpr NumberModel level_speed{0x8000, 0x6400, 0x5400, 0x5000, 0x5c00,
                                             0x9400, 0xb000, 0x6800, 0x8800, 0xf000};
    static constexpr NumberModel climb{0xe800, 0x7000, 0x4800, 0x2000, 0x1000,
                                       0x2800, 0x6400, 0xb800, 0xf000};
    std::array<NumberModel, 3> position{level_place, level_place, height},
        velocity{level_speed, level_speed, climb}, drift{};
    NumberModel yaw{0x0800, 0x0c00, 0x1400, 0x2400, 0x4400, 0x8800, 0x8000, 0x6c00, 0xd400, 0xf800};
    NumberModel pitch{0x1000, 0x4400, 0x8800, 0xd000, 0xd800, 0xf000};
    NumberModel move{0x2400, 0x0800, 0x0800, 0x0800, 0x0c00, 0x3400, 0x8400, 0xf000};
    NumberModel age{0x6800, 0x4400, 0x2000, 0x4400, 0x4400, 0xb000, 0x7800, 0xa000, 0xe000, 0xf400};
    NumberModel floor, pace{0xf000};
    NumberModel meter{0x0800, 0xb400, 0xd000, 0x4000, 0x1000, 0x1000, 0xe000};
    NumberModel rate{0xa000, 0x4000, 0x4000, 0xa000, 0xe000};
    std::array<Model, 5> flags{Model{0xf000}, Model{0xf000}, Model{0xf000}, Model{0xf000}, Model{0xf000}};
    Model entered{0xe800}, grounded{0xf000}, around{0xf000}, meters{0x9000}, effects{0xf800};
};

/// Parts of a move that keys give: all, or as much as goes ahead and to the side at once.
inline constexpr int key_part = 127, key_parts = 90;
static_assert(2 * (2 * key_parts - 1) * (2 * key_parts - 1) < 4 * key_part * key_part &&
                  4 * key_part * key_part < 2 * (2 * key_parts + 1) * (2 * key_parts + 1),
              "127 over the root of 2, rounded, as observe_wishes does it");
/// Whether keys give such a move: each of its two parts is none, or as much as another.
inline bool is_by_keys(int forward, int side) {
    const int part = forward != 0 && side != 0 ? key_parts : key_part;
    return (forward == 0 || forward == part || forward == -part) &&
           (side == 0 || side == part || side == -part);
}

/// The move wanted, by the one before. Keys give eight and none.
template <class Coder>
void code_move(Coder& coder, ReplicaModels& models, Replica& r, const Replica& base) {
    bool by_stick = !is_by_keys(r.forward, r.side);
    coder.bit(models.by_stick, by_stick);
    const std::array<std::int8_t*, 2> parts{&r.forward, &r.side};
    const std::array<int, 2> before{base.forward, base.side};
    std::array<int, 2> signs{};
    for (std::size_t i = 0; i < 2; ++i) {
        if (by_stick) {
            std::int32_t wide = *parts[i];
            against(coder, models.move, wide, std::int32_t{before[i]});
            *parts[i] = static_cast<std::int8_t>(wide);
            continue;
        }
        const std::size_t was = before[i] == 0 ? 0 : before[i] > 0 ? 1 : 2;
        bool none = *parts[i] == 0, back = *parts[i] < 0;
        coder.bit(models.no_part[i][was], none);
        if (!none) {
            coder.bit(models.backward[i][was], back);
        }
        signs[i] = none ? 0 : back ? -1 : 1;
    }
    if (!by_stick) {
        const int part = signs[0] != 0 && signs[1] != 0 ? key_parts : key_part;
        r.forward = static_cast<std::int8_t>(signs[0] * part);
        r.side = static_cast<std::int8_t>(signs[1] * part);
    }
}

/// What the runner wants, by what it wanted before, at FineTime `base_at`, and since when.
template <class Coder>
void code_wishes(Coder& coder, ReplicaModels& models, Replica& r, const Replica& base, FineTime base_at,
                 FineTime now) {
    const auto narrow = [&](NumberModel& model, auto& value, auto before) {
        // Signed bytes stand for signed numbers. NOLINTNEXTLINE(bugprone-signed-char-misuse)
        std::int32_t wide = value;
        against(coder, model, wide, std::int32_t{before});
        value = static_cast<std::remove_reference_t<decltype(value)>>(wide);
    };
    const auto part = [&](Model& model, bool& differs, auto&& code) {
        coder.bit(model, differs);
        if (differs) {
            code();
        }
    };
    // Something differs: where the first flags say nothing else, the last needs none.
    bool looks = !same_look(r, base);
    part(models.turned, looks, [&] {
        // The short way round.
        std::int32_t turned =
            ((r.yaw - base.yaw + replica_yaw_units / 2) & (replica_yaw_units - 1)) - replica_yaw_units / 2;
        number(coder, models.yaw, turned);
        r.yaw = static_cast<std::uint16_t>((base.yaw + turned) & (replica_yaw_units - 1));
        bool pitched = r.pitch != base.pitch;
        part(models.pitched, pitched, [&] { narrow(models.pitch, r.pitch, base.pitch); });
        std::uint32_t still = (r.turned - base_at) / fine_per_tick;
        count(coder, models.still, still);
        r.turned = base_at + still * fine_per_tick;
    });
    bool acts = !same_acts(r, base);
    if (looks) {
        coder.bit(models.acted, acts);
    } else {
        acts = true;
    }
    if (!acts) {
        return;
    }
    // In whole ticks and the part of one, counted back.
    std::uint32_t ago = now - r.changed;
    std::uint32_t ticks = ago / fine_per_tick, rest = ago % fine_per_tick;
    count(coder, models.since, ticks);
    bool inside = rest != 0;  // keys that are read once a tick change at its beginning
    coder.bit(models.inside, inside);
    if (inside) {
        coder.bits(rest, 4);
    } else {
        rest = 0;
    }
    r.changed = now - (ticks * fine_per_tick + rest);
    bool stirred = r.forward != base.forward || r.side != base.side;
    part(models.stirred, stirred, [&] { code_move(coder, models, r, base); });
    bool faces = r.faces_movement != base.faces_movement;
    coder.bit(models.faced, faces);
    r.faces_movement = base.faces_movement != faces;
    bool keyed = r.on != base.on;
    if (stirred || faces) {
        coder.bit(models.keyed, keyed);
    } else {
        keyed = true;
    }
    if (keyed) {
        code_mask(coder, models.keys, r.on, base.on, limits::actions);
    }
}

/// A replica by the one that its reader has, `base`, of an earlier snapshot at FineTime `base_at`. What the runner wants goes first; then
/// `expect(wishes)` says what the chart makes of the base until now: with these wishes, or with its own if there are
/// none. The replica is rounded; `now` is its FineTime. What comes in is bounded by `charted`, not here.
template <class Coder, class Expect>
void code_replica(Coder& coder, ReplicaModels& models, Replica& r, const Replica& base, FineTime base_at,
                  FineTime now, Expect&& expect) {
    // Each part is preceded by a flag: whether anything in it differs.
    const auto part = [&](Model& model, bool differs, auto&& code) {
        coder.bit(model, differs);
        if (differs) {
            code();
        }
    };
    const auto toggled = [&](Model& model, bool& value, bool before) {
        bool changed = value != before;
        coder.bit(model, changed);
        value = before != changed;
    };
    // Both are multiples of told_unit.
    const auto told = [&](NumberModel& model, std::int32_t& value, std::int32_t before) {
        std::int32_t units = value / told_unit;
        against(coder, model, units, before / told_unit);
        value = static_cast<std::int32_t>(static_cast<std::uint32_t>(units) * std::uint32_t{told_unit});
    };
    const auto narrow = [&](NumberModel& model, auto& value, auto before) {
        // Signed bytes stand for signed numbers. NOLINTNEXTLINE(bugprone-signed-char-misuse)
        std::int32_t wide = value;
        against(coder, model, wide, std::int32_t{before});
        value = static_cast<std::remove_reference_t<decltype(value)>>(wide);
    };

    if constexpr (Coder::reads) {
        take_wishes(base, r);
    }
    bool wished = !same_wishes(r, base);
    coder.bit(models.wished, wished);
    if (wished) {
        code_wishes(coder, models, r, base, base_at, now);
    }
    const Replica expected = expect(wished ? &r : nullptr);
    if constexpr (Coder::reads) {
        r = expected;
    }
    part(models.moved,
         r.position != expected.position || r.velocity != expected.velocity || r.drift != expected.drift ||
             r.floor != expected.floor || r.grounded != expected.grounded,
         [&] {
             toggled(models.grounded, r.grounded, expected.grounded);
             for (std::size_t i = 0; i < 3; ++i) {
                 told(models.position[i], r.position[i], expected.position[i]);
                 told(models.velocity[i], r.velocity[i], expected.velocity[i]);
             }
             part(models.has_drift, r.drift != expected.drift, [&] {
                 for (std::size_t i = 0; i < 3; ++i) {
                     told(models.drift[i], r.drift[i], expected.drift[i]);
                 }
             });
             // Where it stands is where it would land; otherwise the floor is as expected or unknown.
             bool usual = r.floor == (r.grounded ? r.position[2] : expected.floor);
             coder.bit(models.has_floor, usual);
             if (usual) {
                 r.floor = r.grounded ? r.position[2] : expected.floor;
             } else {
                 bool known = r.floor != no_floor;
                 coder.bit(models.has_floor, known);
                 if (known) {
                     told(models.floor, r.floor, r.position[2]);
                 } else {
                     r.floor = no_floor;
                 }
             }
         });
    part(models.posture, r.state != expected.state || r.age != expected.age || r.used != expected.used, [&] {
        part(models.entered, r.state != expected.state, [&] { coder.bits(r.state, 6); });
        narrow(models.age, r.age, expected.age);
        std::uint32_t differing = 0;
        for (std::size_t i = 0; i < limits::cooldowns; ++i) {
            differing |= detail::charges_in(r.used ^ expected.used, i) != 0 ? 1U << i : 0U;
        }
        code_mask(coder, models.cooldowns, differing, std::uint32_t{0}, limits::cooldowns);
        std::uint64_t used = expected.used;
        for (std::size_t i = 0; i < limits::cooldowns; ++i) {
            if ((differing >> i & 1U) != 0) {
                unsigned charges = detail::charges_in(r.used, i);
                coder.bits(charges, 4);
                used = detail::with_charges(used, i, charges);
            }
        }
        r.used = used;
    });
    part(models.around,
         r.pace != expected.pace || r.barrier != expected.barrier || r.zones != expected.zones ||
             r.headroom != expected.headroom || r.cut != expected.cut || r.locked != expected.locked ||
             r.teleports != expected.teleports,
         [&] {
             narrow(models.pace, r.pace, expected.pace);
             part(models.flags[1], r.barrier != expected.barrier, [&] { coder.bits(r.barrier, 8); });
             part(models.flags[2], r.zones != expected.zones, [&] { coder.bits(r.zones, 8); });
             toggled(models.flags[3], r.headroom, expected.headroom);
             toggled(models.flags[3], r.cut, expected.cut);
             toggled(models.flags[3], r.locked, expected.locked);
             part(models.flags[4], r.teleports != expected.teleports, [&] { coder.bits(r.teleports, 2); });
         });
    part(models.meters, r.level != expected.level || r.rate != expected.rate || r.spent != expected.spent,
         [&] {
             std::uint32_t differing = 0;
             for (std::size_t i = 0; i < limits::meters; ++i) {
                 const bool differs = r.level[i] != expected.level[i] || r.rate[i] != expected.rate[i];
                 differing |= differs ? 1U << i : 0U;
             }
             code_mask(coder, models.metered, differing, std::uint32_t{0}, limits::meters);
             for (std::size_t i = 0; i < limits::meters; ++i) {
                 if ((differing >> i & 1U) != 0) {
                     told(models.meter, r.level[i], expected.level[i]);
                     narrow(models.rate, r.rate[i], expected.rate[i]);
                 }
             }
             code_mask(coder, models.latches, r.spent, expected.spent, limits::meters);
         });
    part(models.effects, r.blocks != expected.blocks || r.modifiers != expected.modifiers, [&] {
        code_mask(coder, models.blocked, r.blocks, expected.blocks, limits::blocks);
        bool more = true;  // those at work come first
        for (ReplicaModifier& modifier : r.modifiers) {
            if (more) {
                more = modifier.strength != 0;
                coder.bit(models.flags[2], more);
            }
            if (more) {
                coder.bits(modifier.modifier, 5);
                coder.bits(modifier.strength, 8);
                coder.bits(modifier.stacks, 4);
            } else {
                modifier = {};
            }
        }
    });
}

/// What is expected of a runner of which nothing is known but, perhaps, what it wants.
[[nodiscard]] inline Replica from_nothing(const Replica* wishes) {
    Replica replica;
    if (wishes != nullptr) {
        take_wishes(*wishes, replica);
    }
    return replica;
}

/// Whether the numbers are such as the chart has; what comes from outside is asked before it is used.
[[nodiscard]] bool charted(const Chart& chart, const Replica& replica);

}  // namespace cursimeter::link::wire
