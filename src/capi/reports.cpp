#include "capi/reports.hpp"

#include <algorithm>
#include <cursimeter/cursimeter.hpp>

namespace cursimeter::capi {

static_assert(CURSIMETER_MOST_EVENTS == limits::events_per_report);
static_assert(CURSIMETER_CRUSHED == static_cast<int>(last_event_kind));

cursimeter_list list_of(EventSubject subject) noexcept {
    switch (subject) {
        case EventSubject::state:
            return CURSIMETER_STATES;
        case EventSubject::action:
            return CURSIMETER_ACTIONS;
        case EventSubject::meter:
            return CURSIMETER_METERS;
        case EventSubject::cooldown:
            return CURSIMETER_COOLDOWNS;
        case EventSubject::modifier:
            return CURSIMETER_MODIFIERS;
    }
    return CURSIMETER_STATES;
}

cursimeter_event told_of(const Event& event) noexcept {
    const bool has_cause = event.kind == EventKind::entered || event.kind == EventKind::refused;
    return {event.at,
            event.value,
            static_cast<int32_t>(event.kind),
            event.subject,
            list_of(subject_of(event.kind)),
            has_cause ? static_cast<int32_t>(event.cause.kind) : 0,
            has_cause ? event.cause.term : 0,
            event.kind == EventKind::crossed || event.kind == EventKind::footstep ? event.which : 0,
            event.kind == EventKind::crossed && event.rising ? 1 : 0,
            0};
}

void put_report(const Report& report, cursimeter_report* out) noexcept {
    if (out == nullptr) {
        return;
    }
    out->seconds = report.seconds;
    put(report.displacement, out->displacement);
    out->refusal = static_cast<int32_t>(report.refusal);
    out->intent_mended = report.intent_mended ? 1 : 0;
    out->dt_shortened = report.dt_shortened ? 1 : 0;
    out->instants_capped = report.instants_capped ? 1 : 0;
    out->instants = report.instants;
    out->event_count = report.event_count;
    out->events_lost = report.events_lost;
    out->reserved = 0;
    for (std::size_t i = 0; i < report.event_count; ++i) {
        out->events[i] = told_of(report.event_table[i]);
    }
}

Report report_of(const Chart& chart, const cursimeter_report& given) noexcept {
    Report report;
    report.seconds = given.seconds;
    report.displacement = vector_of(given.displacement);
    report.refusal = static_cast<Refusal>(std::clamp(given.refusal, 0, int32_t{3}));
    report.intent_mended = given.intent_mended != 0;
    report.dt_shortened = given.dt_shortened != 0;
    report.instants_capped = given.instants_capped != 0;
    report.instants = static_cast<std::uint16_t>(std::min(given.instants, 0xffffU));
    report.events_lost = given.events_lost;
    const std::size_t count = std::min<std::size_t>(given.event_count, CURSIMETER_MOST_EVENTS);
    for (std::size_t i = 0; i < count; ++i) {
        const cursimeter_event& told = given.events[i];
        if (told.kind < 0 || told.kind > static_cast<int32_t>(last_event_kind)) {
            continue;
        }
        const auto kind = static_cast<EventKind>(told.kind);
        if (!is_index(chart, list_of(subject_of(kind)), told.subject)) {
            continue;
        }
        report.event_table[report.event_count++] = {
            told.at,
            told.value,
            kind,
            static_cast<std::uint8_t>(told.subject),
            {static_cast<CauseKind>(told.cause), static_cast<std::uint16_t>(told.term)},
            static_cast<std::uint8_t>(told.which),
            told.rising != 0};
    }
    return report;
}

}  // namespace cursimeter::capi
