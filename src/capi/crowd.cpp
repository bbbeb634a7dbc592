#include <cursimeter/cursimeter_crowd.h>

#include <cursimeter/crowd.hpp>
#include <vector>

#include "capi/boundary.hpp"
#include "capi/intents.hpp"
#include "capi/reports.hpp"
#include "capi/worlds.hpp"

using namespace cursimeter;

struct cursimeter_crowd {
    Crowd crowd;
};

struct cursimeter_crowd_report {
    explicit cursimeter_crowd_report(std::size_t most_events) : report(most_events) {
        events.reserve(most_events);
    }
    CrowdReport report;
    std::vector<cursimeter_crowd_event> events;
    capi::ReadIntents read;
};

namespace cursimeter::capi {
namespace {

bool has(const cursimeter_crowd* crowd, std::size_t index) noexcept {
    return crowd != nullptr && index < crowd->crowd.size();
}
bool has(const cursimeter_crowd* crowd, std::size_t first, std::size_t count) noexcept {
    return crowd != nullptr && first <= crowd->crowd.size() && count <= crowd->crowd.size() - first;
}

/// Adds by `add` and tells the index.
template <class Add>
cursimeter_status added(cursimeter_crowd* crowd, std::size_t* index, cursimeter_error* error, Add&& add) {
    if (crowd == nullptr) {
        return bad_argument(error, "crowd");
    }
    return guarded(error, [&] {
        const std::size_t at = add(crowd->crowd);
        if (index != nullptr) {
            *index = at;
        }
        return CURSIMETER_OK;
    });
}

}  // namespace
}  // namespace cursimeter::capi

extern "C" {

cursimeter_status cursimeter_crowd_new(const cursimeter_chart* chart, cursimeter_crowd** out,
                                       cursimeter_error* error) {
    if (out != nullptr) {
        *out = nullptr;
    }
    if (chart == nullptr || out == nullptr) {
        return capi::bad_argument(error, chart == nullptr ? "chart" : "out");
    }
    return capi::guarded(error, [&] {
        *out = new cursimeter_crowd{Crowd(chart->file.chart)};
        return CURSIMETER_OK;
    });
}
void cursimeter_crowd_free(cursimeter_crowd* crowd) {
    delete crowd;
}
size_t cursimeter_crowd_size(const cursimeter_crowd* crowd) {
    return crowd == nullptr ? 0 : crowd->crowd.size();
}
cursimeter_status cursimeter_crowd_reserve(cursimeter_crowd* crowd, size_t runners, cursimeter_error* error) {
    if (crowd == nullptr) {
        return capi::bad_argument(error, "crowd");
    }
    return capi::guarded(error, [&] {
        crowd->crowd.reserve(runners);
        return CURSIMETER_OK;
    });
}
cursimeter_status cursimeter_crowd_add_chart(cursimeter_crowd* crowd, const cursimeter_chart* chart,
                                             cursimeter_error* error) {
    if (crowd == nullptr || chart == nullptr) {
        return capi::bad_argument(error, crowd == nullptr ? "crowd" : "chart");
    }
    return capi::guarded(error, [&] {
        crowd->crowd.add_chart(chart->file.chart);
        return CURSIMETER_OK;
    });
}
cursimeter_status cursimeter_crowd_remove_chart(cursimeter_crowd* crowd, const cursimeter_chart* chart) {
    const bool removed = crowd != nullptr && chart != nullptr && crowd->crowd.remove_chart(chart->file.chart);
    return removed ? CURSIMETER_OK : CURSIMETER_BAD_ARGUMENT;
}
int32_t cursimeter_crowd_is_of(const cursimeter_crowd* crowd, size_t index, const cursimeter_chart* chart) {
    return capi::has(crowd, index) && chart != nullptr &&
                   crowd->crowd.chart(index).digest() == chart->file.chart.digest()
               ? 1
               : 0;
}
cursimeter_status cursimeter_crowd_spawn_of(cursimeter_crowd* crowd, const cursimeter_chart* chart,
                                            const cursimeter_placement* placement, size_t* index,
                                            cursimeter_error* error) {
    if (chart == nullptr) {
        return capi::bad_argument(error, "chart");
    }
    return capi::added(crowd, index, error,
                       [&](Crowd& all) { return all.add(chart->file.chart, capi::placement_of(placement)); });
}
cursimeter_status cursimeter_crowd_spawn(cursimeter_crowd* crowd, const cursimeter_placement* placement,
                                         size_t* index, cursimeter_error* error) {
    return capi::added(crowd, index, error,
                       [&](Crowd& all) { return all.add(capi::placement_of(placement)); });
}
cursimeter_status cursimeter_crowd_add(cursimeter_crowd* crowd, const cursimeter_runner* runner,
                                       size_t* index, cursimeter_error* error) {
    if (runner == nullptr) {
        return capi::bad_argument(error, "runner");
    }
    return capi::added(crowd, index, error, [&](Crowd& all) { return all.add(*capi::Borrowed(runner)); });
}
cursimeter_status cursimeter_crowd_remove(cursimeter_crowd* crowd, size_t index) {
    if (!capi::has(crowd, index)) {
        return CURSIMETER_BAD_ARGUMENT;
    }
    crowd->crowd.remove(index);
    return CURSIMETER_OK;
}

cursimeter_status cursimeter_crowd_get(const cursimeter_crowd* crowd, size_t index, cursimeter_runner* out) {
    if (!capi::has(crowd, index) || out == nullptr) {
        return CURSIMETER_BAD_ARGUMENT;
    }
    capi::put_runner(crowd->crowd.runner(index), out);
    return CURSIMETER_OK;
}
cursimeter_status cursimeter_crowd_set(cursimeter_crowd* crowd, size_t index, const cursimeter_runner* runner,
                                       cursimeter_error* error) {
    if (!capi::has(crowd, index) || runner == nullptr) {
        return capi::bad_argument(error, runner == nullptr ? "runner" : "index");
    }
    return capi::guarded(error, [&] {
        crowd->crowd.set(index, *capi::Borrowed(runner));
        return CURSIMETER_OK;
    });
}

cursimeter_status cursimeter_crowd_read(const cursimeter_crowd* crowd, size_t index,
                                        cursimeter_crowd_reading* out) {
    if (!capi::has(crowd, index)) {
        return CURSIMETER_BAD_ARGUMENT;
    }
    const Crowd& all = crowd->crowd;
    cursimeter_crowd_reading told = CURSIMETER_CROWD_READING_INIT;
    capi::put(all.position(index), told.position);
    capi::put(all.velocity(index), told.velocity);
    told.speed = all.speed(index);
    told.distance = all.distance(index);
    told.yaw = all.yaw(index);
    told.state = all.state(index).index;
    told.grounded = all.grounded(index) ? 1 : 0;
    return capi::hand_out(told, out) ? CURSIMETER_OK : CURSIMETER_BAD_ARGUMENT;
}
cursimeter_status cursimeter_crowd_positions(const cursimeter_crowd* crowd, size_t first, size_t count,
                                             double* out) {
    if (!capi::has(crowd, first, count) || (out == nullptr && count > 0)) {
        return CURSIMETER_BAD_ARGUMENT;
    }
    for (std::size_t i = 0; i < count; ++i) {
        capi::put(crowd->crowd.position(first + i), out + 3 * i);
    }
    return CURSIMETER_OK;
}

cursimeter_status cursimeter_crowd_report_new(size_t most_events, cursimeter_crowd_report** out,
                                              cursimeter_error* error) {
    if (out == nullptr) {
        return capi::bad_argument(error, "out");
    }
    *out = nullptr;
    return capi::guarded(error, [&] {
        *out = new cursimeter_crowd_report(most_events);
        return CURSIMETER_OK;
    });
}
void cursimeter_crowd_report_free(cursimeter_crowd_report* report) {
    delete report;
}

cursimeter_status cursimeter_crowd_advance(cursimeter_crowd* crowd, size_t first,
                                           const cursimeter_intent* intents, size_t count,
                                           const cursimeter_terrain* terrain, double seconds,
                                           cursimeter_crowd_report* report, cursimeter_error* error) {
    if (!capi::has(crowd, first, count) || report == nullptr || (intents == nullptr && count > 0)) {
        return capi::bad_argument(error, crowd == nullptr                  ? "crowd"
                                         : report == nullptr               ? "report"
                                         : !capi::has(crowd, first, count) ? "first or count"
                                                                           : "intents");
    }
    return capi::guarded(error, [&] {
        if (const std::size_t wrong = report->read.take_in(intents, count); wrong != count) {
            return capi::bad_argument(error, ("intents[" + std::to_string(wrong) + "]").c_str());
        }
        const std::span<const Intent> wants = report->read.intents();
        CrowdReport& told = report->report;
        if (terrain == nullptr) {
            advance_part(crowd->crowd, first, wants, Seconds{seconds}, told);
        } else {
            advance_part(crowd->crowd, first, wants, terrain->world(), Seconds{seconds}, told);
        }
        report->events.clear();
        for (const CrowdEvent& event : told.events()) {
            report->events.push_back({event.runner, capi::told_of(event.event)});
        }
        return told.refused() == 0 ? CURSIMETER_OK : CURSIMETER_BAD_INPUT;
    });
}

const cursimeter_crowd_event* cursimeter_crowd_events(const cursimeter_crowd_report* report, size_t* count) {
    if (count != nullptr) {
        *count = report == nullptr ? 0 : report->events.size();
    }
    return report == nullptr ? nullptr : report->events.data();
}

cursimeter_status cursimeter_crowd_summarise(const cursimeter_crowd_report* report,
                                             cursimeter_crowd_summary* out) {
    if (report == nullptr) {
        return CURSIMETER_BAD_ARGUMENT;
    }
    const CrowdReport& told = report->report;
    const cursimeter_crowd_summary summary{0,
                                           told.advanced(),
                                           told.refused(),
                                           told.first_refused(),
                                           told.events_lost(),
                                           told.intents_mended(),
                                           told.instants_capped(),
                                           static_cast<int32_t>(told.first_refusal()),
                                           told.dt_shortened() ? 1 : 0};
    return capi::hand_out(summary, out) ? CURSIMETER_OK : CURSIMETER_BAD_ARGUMENT;
}

}  // extern "C"
