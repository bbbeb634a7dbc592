#include "core/runner/instant.hpp"

namespace cursimeter::detail {

void Instant::emit(EventKind kind, std::uint8_t subject, double value, Cause cause) {
    if (report.event_count == report.event_table.size()) {
        ++report.events_lost;
        return;
    }
    report.event_table[report.event_count++] = {at, value, kind, subject, cause, 0, false};
}

void Instant::emit_crossed(std::uint8_t meter, std::uint8_t threshold, bool rising, double level) {
    const std::uint16_t index = report.event_count;
    emit(EventKind::crossed, meter, level);
    if (report.event_count > index) {
        report.event_table[index].which = threshold;
        report.event_table[index].rising = rising;
    }
}

}  // namespace cursimeter::detail
