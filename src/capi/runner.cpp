#include <cursimeter/reload.hpp>
#include <cursimeter/show/present.hpp>

#include "capi/boundary.hpp"

using namespace cursimeter;

namespace {

/// What another chart could not take over stands in the error, a line each.
cursimeter_status tell_lost(const std::vector<std::string>& lines, cursimeter_error* error) {
    std::vector<Diagnostic> lost;
    for (const std::string& line : lines) {
        lost.push_back({"", line, "", {}, 0, 0});
    }
    capi::keep(error, std::move(lost));
    return lines.empty() ? CURSIMETER_OK : CURSIMETER_NO;
}

}  // namespace

extern "C" {

cursimeter_status cursimeter_spawn(const cursimeter_chart* chart, const cursimeter_placement* placement,
                                   cursimeter_runner* out, cursimeter_error* error) {
    if (chart == nullptr || out == nullptr) {
        return capi::bad_argument(error, chart == nullptr ? "chart" : "out");
    }
    return capi::guarded(error, [&] {
        capi::put_runner(spawn(chart->file.chart, capi::placement_of(placement)), out);
        return CURSIMETER_OK;
    });
}

cursimeter_status cursimeter_place(const cursimeter_chart* chart, cursimeter_runner* runner,
                                   const cursimeter_placement* placement, cursimeter_error* error) {
    if (chart == nullptr || runner == nullptr) {
        return capi::bad_argument(error, chart == nullptr ? "chart" : "runner");
    }
    return capi::guarded(error, [&] {
        capi::Borrowed lent(runner);
        place(chart->file.chart, *lent, capi::placement_of(placement));
        return CURSIMETER_OK;
    });
}

cursimeter_status cursimeter_read(const cursimeter_chart* chart, const cursimeter_runner* runner,
                                  cursimeter_reading* out) {
    if (chart == nullptr || runner == nullptr) {
        return CURSIMETER_BAD_ARGUMENT;
    }
    capi::Borrowed seen(runner);
    const Runner& at = *seen;
    cursimeter_reading told = CURSIMETER_READING_INIT;
    capi::put(at.position(), told.position);
    capi::put(at.velocity(), told.velocity);
    told.speed = at.speed();
    told.speed_target = at.speed_target();
    told.distance = at.distance();
    told.yaw = at.yaw();
    told.pitch = at.pitch();
    told.clock = at.clock().value;
    told.time_in_state = at.time_in_state().value;
    told.state = at.state().index;
    told.jumps = at.jumps();
    told.grounded = at.grounded() ? 1 : 0;
    told.headroom = at.headroom() ? 1 : 0;
    told.by_wall = at.by_wall() ? 1 : 0;
    told.crushed = at.crushed() ? 1 : 0;
    told.locked = at.locked() ? 1 : 0;
    for (std::uint8_t i = 0; i < chart->file.chart.action_count(); ++i) {
        told.on |= at.on(ActionId{i}) ? key_bit(ActionId{i}) : 0;
    }
    told.zones = at.zones();
    return capi::hand_out(told, out) ? CURSIMETER_OK : CURSIMETER_BAD_ARGUMENT;
}

uint64_t cursimeter_digest(const cursimeter_runner* runner) {
    return runner == nullptr ? 0 : digest(*capi::Borrowed(runner));
}

cursimeter_status cursimeter_present(const cursimeter_chart* chart, const cursimeter_runner* runner,
                                     cursimeter_presentation* out, cursimeter_error* error) {
    if (chart == nullptr || runner == nullptr) {
        return capi::bad_argument(error, chart == nullptr ? "chart" : "runner");
    }
    return capi::guarded(error, [&] {
        const Presentation shown = present(chart->file.chart, *capi::Borrowed(runner));
        const cursimeter_presentation told{0,
                                           shown.pace,
                                           shown.heading,
                                           shown.rise,
                                           shown.slope,
                                           shown.lean_forward,
                                           shown.lean_side,
                                           shown.stride,
                                           shown.cadence,
                                           shown.time_in_state.value};
        return capi::hand_out(told, out) ? CURSIMETER_OK : capi::bad_argument(error, "out");
    });
}

cursimeter_status cursimeter_save_runner(const cursimeter_chart* chart, const cursimeter_runner* runner,
                                         char* buffer, size_t size, size_t* length, cursimeter_error* error) {
    if (length != nullptr) {
        *length = 0;
    }
    if (chart == nullptr || runner == nullptr) {
        return capi::bad_argument(error, chart == nullptr ? "chart" : "runner");
    }
    return capi::guarded(error, [&] {
        const std::string saved = save_runner(chart->file.chart, *capi::Borrowed(runner));
        if (length != nullptr) {
            *length = saved.size();
        }
        if (buffer == nullptr || size <= saved.size()) {
            return CURSIMETER_NO;
        }
        capi::put_text(saved, buffer, size);
        return CURSIMETER_OK;
    });
}

cursimeter_status cursimeter_restore_runner(const cursimeter_chart* chart, const char* text,
                                            cursimeter_runner* out, cursimeter_error* error) {
    if (chart == nullptr || text == nullptr || out == nullptr) {
        return capi::bad_argument(error, chart == nullptr ? "chart" : text == nullptr ? "text" : "out");
    }
    return capi::guarded(error, [&] {
        const RestoredRunner restored = restore_runner(chart->file.chart, text);
        capi::put_runner(restored.runner, out);
        return tell_lost(restored.lost, error);
    });
}

cursimeter_status cursimeter_carry_over(const cursimeter_chart* from, const cursimeter_runner* runner,
                                        const cursimeter_chart* to, cursimeter_runner* out,
                                        cursimeter_error* error) {
    if (from == nullptr || runner == nullptr || to == nullptr || out == nullptr) {
        return capi::bad_argument(error, from == nullptr     ? "from"
                                         : runner == nullptr ? "runner"
                                         : to == nullptr     ? "to"
                                                             : "out");
    }
    return capi::guarded(error, [&] {
        const CarriedOver carried = carry_over(from->file.chart, *capi::Borrowed(runner), to->file.chart);
        capi::put_runner(carried.runner, out);
        return tell_lost(carried.lost, error);
    });
}

}  // extern "C"
