#include <algorithm>
#include <cursimeter/settle.hpp>

#include "capi/boundary.hpp"
#include "capi/intents.hpp"
#include "capi/reports.hpp"
#include "capi/worlds.hpp"
#include "capi/zones.hpp"

using namespace cursimeter;

struct cursimeter_plan {
    Plan plan;
};

namespace cursimeter::capi {
namespace {

/// What they push lives as long as `zones`.
Contacts contacts_of(const cursimeter_contacts& given, ReadZones& zones) {
    Contacts contacts;
    contacts.grounded = given.grounded != 0;
    contacts.headroom = given.headroom != 0;
    contacts.ground_normal = vector_of(given.ground_normal);
    contacts.ground_velocity = vector_of(given.ground_velocity);
    contacts.barrier_count = static_cast<std::uint8_t>(std::clamp(given.barrier_count, 0, 2));
    for (std::size_t i = 0; i < contacts.barrier_count; ++i) {
        contacts.barriers[i] = vector_of(given.barriers[i]);
    }
    contacts.by_wall = given.by_wall != 0;
    contacts.wall_normal = vector_of(given.wall_normal);
    contacts.wall_surface = given.wall_surface;
    contacts.zones = zones.take_in(given.zones);
    return contacts;
}

cursimeter_status status_of(Refusal refusal) {
    return refusal == Refusal::none ? CURSIMETER_OK : CURSIMETER_BAD_INPUT;
}

}  // namespace
}  // namespace cursimeter::capi

extern "C" {

const char* cursimeter_event_name(int32_t kind) {
    return kind < 0 || kind > static_cast<int32_t>(last_event_kind)
               ? nullptr
               : to_string(static_cast<EventKind>(kind)).data();
}

const char* cursimeter_refusal_name(int32_t refusal) {
    switch (refusal) {
        case static_cast<int32_t>(Refusal::none):
            return "none";
        case static_cast<int32_t>(Refusal::bad_dt):
            return "bad seconds";
        case static_cast<int32_t>(Refusal::foreign_chart):
            return "another chart's runner";
        case static_cast<int32_t>(Refusal::foreign_intent):
            return "another chart's intent";
        default:
            return nullptr;
    }
}

size_t cursimeter_describe_cause(const cursimeter_chart* chart, int32_t cause, int32_t term, char* buffer,
                                 size_t size) {
    std::string text;
    if (chart != nullptr && cause >= 0 && cause <= static_cast<int32_t>(CauseKind::fails) && term >= 0 &&
        term <= 0xffff) {
        static_cast<void>(capi::guarded(nullptr, [&] {
            text =
                chart->file.chart.describe({static_cast<CauseKind>(cause), static_cast<std::uint16_t>(term)});
            return CURSIMETER_OK;
        }));
    }
    return capi::put_text(text, buffer, size);
}

cursimeter_status cursimeter_advance(const cursimeter_chart* chart, cursimeter_runner* runner,
                                     const cursimeter_intent* intent, const cursimeter_terrain* terrain,
                                     double seconds, cursimeter_report* out) {
    capi::ReadIntent read;
    if (chart == nullptr || runner == nullptr || !read.take_in(intent) || !capi::has_report_size(out)) {
        return CURSIMETER_BAD_ARGUMENT;
    }
    capi::Borrowed lent(runner);
    Runner& at = *lent;
    const Report report = terrain == nullptr ? advance(chart->file.chart, at, read.intent(), Seconds{seconds})
                                             : advance(chart->file.chart, at, read.intent(), terrain->world(),
                                                       Seconds{seconds});
    capi::put_report(report, out);
    return capi::status_of(report.refusal);
}

cursimeter_plan* cursimeter_plan_new(void) {
    return new (std::nothrow) cursimeter_plan();
}
void cursimeter_plan_free(cursimeter_plan* plan) {
    delete plan;
}

cursimeter_status cursimeter_propose(const cursimeter_chart* chart, const cursimeter_runner* runner,
                                     const cursimeter_intent* intent, const cursimeter_contacts* contacts,
                                     double seconds, cursimeter_plan* plan, cursimeter_plan_reading* out) {
    capi::ReadIntent read;
    cursimeter_contacts given = CURSIMETER_CONTACTS_INIT;
    if (chart == nullptr || runner == nullptr || !read.take_in(intent) || !capi::take_in(contacts, given) ||
        plan == nullptr) {
        return CURSIMETER_BAD_ARGUMENT;
    }
    capi::ReadZones zones;
    const Plan& made = plan->plan = propose(chart->file.chart, *capi::Borrowed(runner), read.intent(),
                                            capi::contacts_of(given, zones), Seconds{seconds});
    cursimeter_plan_reading told = CURSIMETER_PLAN_READING_INIT;
    capi::put(made.displacement, told.displacement);
    capi::put(made.lean, told.lean);
    capi::put(made.carry, told.carry);
    told.radius = made.body.radius;
    told.height = made.body.height;
    told.full_radius = made.full_body.radius;
    told.full_height = made.full_body.height;
    told.reach = made.reach;
    told.step_height = made.step_height;
    told.slope_cosine = made.slope_cosine;
    told.keeps_to_ground = made.keeps_to_ground ? 1 : 0;
    told.refusal = static_cast<int32_t>(made.report.refusal);
    told.sticks = made.sticks ? 1 : 0;
    return capi::hand_out(told, out) ? capi::status_of(made.report.refusal) : CURSIMETER_BAD_ARGUMENT;
}

cursimeter_status cursimeter_settle(const cursimeter_chart* chart, cursimeter_runner* runner,
                                    const cursimeter_plan* plan, const double moved[3],
                                    const cursimeter_contacts* contacts, cursimeter_report* out) {
    cursimeter_contacts given = CURSIMETER_CONTACTS_INIT;
    if (chart == nullptr || runner == nullptr || plan == nullptr || moved == nullptr ||
        !capi::take_in(contacts, given) || !capi::has_report_size(out)) {
        return CURSIMETER_BAD_ARGUMENT;
    }
    capi::Borrowed lent(runner);
    capi::ReadZones zones;
    const Report report =
        settle(chart->file.chart, *lent, plan->plan, capi::vector_of(moved), capi::contacts_of(given, zones));
    capi::put_report(report, out);
    return capi::status_of(report.refusal);
}

}  // extern "C"
