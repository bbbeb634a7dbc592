#include "capi/advancers.hpp"

#include "capi/intents.hpp"
#include "capi/reports.hpp"
#include "capi/worlds.hpp"

namespace cursimeter::capi {
namespace {

cursimeter_neighbour told_of(const link::Neighbour& other) noexcept {
    cursimeter_neighbour out{};
    out.key = key_of(other.key);
    put(other.position, out.position);
    put(other.velocity, out.velocity);
    out.yaw = other.look.yaw;
    out.pitch = other.look.pitch;
    out.radius = other.body.radius;
    out.height = other.body.height;
    return out;
}

}  // namespace

bool Cast::take_in(cursimeter_chart* const* given, std::size_t count, std::size_t runners) {
    charts.reserve(count);
    for (std::size_t i = 0; i < count; ++i) {
        if (given == nullptr || given[i] == nullptr) {
            return false;
        }
        charts.push_back(*given[i]);
    }
    others.reserve(runners);
    return count > 0;
}

std::vector<Chart> Cast::list() const {
    std::vector<Chart> list;
    for (const cursimeter_chart& chart : charts) {
        list.push_back(chart.file.chart);
    }
    return list;
}

std::size_t Cast::index_of(const Chart& chart) const noexcept {
    std::size_t index = 0;
    while (charts[index].file.chart.digest() != chart.digest()) {
        ++index;
    }
    return index;
}

cursimeter_remote_event told_of(const link::RemoteEvent& event) noexcept {
    return {0,
            event.at,
            event.value,
            key_of(event.runner),
            static_cast<int32_t>(event.kind),
            event.subject,
            list_of(subject_of(event.kind)),
            event.which,
            event.rising ? 1 : 0};
}

std::size_t put_keys(std::span<const link::RunnerKey> keys, cursimeter_runner_key* out,
                     std::size_t room) noexcept {
    for (std::size_t i = 0; out != nullptr && i < std::min(room, keys.size()); ++i) {
        out[i] = key_of(keys[i]);
    }
    return keys.size();
}

cursimeter_status put_bytes(std::optional<std::span<const std::byte>> bytes, const void** out,
                            std::size_t* length) noexcept {
    *out = bytes ? bytes->data() : nullptr;
    *length = bytes ? bytes->size() : 0;
    return bytes ? CURSIMETER_OK : CURSIMETER_NO;
}

Report CalledAdvancer::advance_runner(const Chart& chart, Runner& runner, const Intent& intent,
                                      const link::AdvanceContext& context) noexcept {
    if (known_.advance == nullptr) {
        if (known_.terrain == nullptr) {
            return advance(chart, runner, intent, context.dt);
        }
        if (known_.terrain->course) {
            // A tick goes from the time of the one before to its own.
            known_.terrain->course->set_time((context.tick.value - 1.0) * context.dt.value);
        }
        return advance(chart, runner, intent, known_.terrain->world(), context.dt);
    }
    ToldIntent told;
    cast_.others.clear();
    for (const link::Neighbour& other : context.others) {
        cast_.others.push_back(told_of(other));
    }
    cursimeter_advance_context handed{};
    handed.size = sizeof(handed);
    handed.chart = &cast_.charts[cast_.index_of(chart)];
    handed.intent = &told.tell(intent);
    handed.seconds = context.dt.value;
    handed.tick = context.tick.value;
    handed.key = key_of(context.runner);
    handed.again = context.again ? 1 : 0;
    handed.extra = context.extra.data();
    handed.extra_length = context.extra.size();
    handed.others = cast_.others.data();
    handed.other_count = cast_.others.size();
    alignas(Runner) cursimeter_runner lent;
    put_runner(runner, &lent);
    cursimeter_report report;
    report.size = sizeof(report);
    put_report(Report(), &report);
    known_.advance(known_.user, &handed, &lent, &report);
    std::memcpy(static_cast<void*>(&runner), &lent, sizeof(runner));
    return report_of(chart, report);
}

}  // namespace cursimeter::capi
