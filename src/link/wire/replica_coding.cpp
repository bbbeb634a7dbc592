#include "link/wire/replica_coding.hpp"

#include "link/wire/snapshot_coding.hpp"

namespace cursimeter::link::wire {

const EntryModels fresh_entry_models{};

bool charted(const Chart& chart, const Replica& r) {
    bool fits = r.state < chart.state_count() && r.yaw < replica_yaw_units && r.age <= Replica::oldest &&
                r.pitch >= -replica_pitch_units && r.pitch <= replica_pitch_units;
    for (std::size_t i = 0; i < 3; ++i) {
        fits = fits && r.position[i] >= -2'000'000'000 && r.position[i] <= 2'000'000'000 &&
               r.velocity[i] >= -16'000'000 && r.velocity[i] <= 16'000'000 && r.drift[i] >= -16'000'000 &&
               r.drift[i] <= 16'000'000;
    }
    for (const std::int32_t level : r.level) {
        fits = fits && level >= 0 && level <= replica_meter_units;
    }
    for (const ReplicaModifier& modifier : r.modifiers) {
        fits = fits && (modifier.strength == 0 || modifier.modifier < chart.modifier_count());
    }
    return fits;
}

}  // namespace cursimeter::link::wire
