#include <cursimeter/cursimeter_controls.h>

#include <cursimeter/chartfile/controls_file.hpp>
#include <cursimeter/controls/controls.hpp>

#include "capi/boundary.hpp"
#include "capi/intents.hpp"

using namespace cursimeter;

struct cursimeter_controls {
    Chart chart;
    Controls controls;
    capi::ToldIntent told{};
    std::string text{};
};

namespace cursimeter::capi {
namespace {

ControlsSpec settings_of(const char* text, std::size_t length, const char* name, const Chart& chart) {
    return parse_controls({text, length}, name == nullptr ? "controls" : name, chart);
}

InputId input_of(int input) noexcept {
    return InputId{static_cast<std::uint8_t>(input >= 0 && input < 255 ? input : 255)};
}
Consumed consumed_of(int consumed) noexcept {
    return consumed != 0 ? Consumed::yes : Consumed::no;
}

}  // namespace
}  // namespace cursimeter::capi

extern "C" {

cursimeter_status cursimeter_controls_load(const char* file, const cursimeter_chart* chart,
                                           cursimeter_controls** out, cursimeter_error* error) {
    if (out != nullptr) {
        *out = nullptr;
    }
    if (file == nullptr || chart == nullptr || out == nullptr) {
        return capi::bad_argument(error, file == nullptr ? "file" : chart == nullptr ? "chart" : "out");
    }
    return capi::guarded(error, [&] {
        const Chart& of = chart->file.chart;
        *out = new cursimeter_controls{of, Controls(of, load_controls(file, of))};
        return CURSIMETER_OK;
    });
}
cursimeter_status cursimeter_controls_parse(const char* text, size_t length, const char* name,
                                            const cursimeter_chart* chart, cursimeter_controls** out,
                                            cursimeter_error* error) {
    if (out != nullptr) {
        *out = nullptr;
    }
    if (text == nullptr || chart == nullptr || out == nullptr) {
        return capi::bad_argument(error, text == nullptr ? "text" : chart == nullptr ? "chart" : "out");
    }
    return capi::guarded(error, [&] {
        const Chart& of = chart->file.chart;
        *out = new cursimeter_controls{of, Controls(of, capi::settings_of(text, length, name, of))};
        return CURSIMETER_OK;
    });
}
void cursimeter_controls_free(cursimeter_controls* controls) {
    delete controls;
}
cursimeter_status cursimeter_controls_rebind(cursimeter_controls* controls, const char* text, size_t length,
                                             const char* name, double at, cursimeter_error* error) {
    if (controls == nullptr || text == nullptr) {
        return capi::bad_argument(error, controls == nullptr ? "controls" : "text");
    }
    return capi::guarded(error, [&] {
        controls->controls.rebind(controls->chart, capi::settings_of(text, length, name, controls->chart),
                                  at);
        return CURSIMETER_OK;
    });
}
cursimeter_status cursimeter_controls_carry_over(cursimeter_controls* controls, const cursimeter_chart* to,
                                                 cursimeter_error* error) {
    if (controls == nullptr || to == nullptr) {
        return capi::bad_argument(error, controls == nullptr ? "controls" : "to");
    }
    return capi::guarded(error, [&] {
        controls->controls.carry_over(to->file.chart);
        controls->chart = to->file.chart;
        return CURSIMETER_OK;
    });
}
const char* cursimeter_controls_text(cursimeter_controls* controls) {
    if (controls == nullptr) {
        return "";
    }
    static_cast<void>(capi::guarded(nullptr, [&] {
        controls->text = format_controls(controls->controls.spec());
        return CURSIMETER_OK;
    }));
    return controls->text.c_str();
}
const char* cursimeter_controls_conflicts(cursimeter_controls* controls) {
    if (controls == nullptr) {
        return "";
    }
    static_cast<void>(capi::guarded(nullptr, [&] {
        controls->text.clear();
        for (const std::string& conflict : conflicts(controls->controls.spec())) {
            controls->text += controls->text.empty() ? conflict : "\n" + conflict;
        }
        return CURSIMETER_OK;
    }));
    return controls->text.c_str();
}
cursimeter_status cursimeter_controls_apply_press_modes(const cursimeter_controls* controls,
                                                        cursimeter_runner* runner, cursimeter_error* error) {
    if (controls == nullptr || runner == nullptr) {
        return capi::bad_argument(error, controls == nullptr ? "controls" : "runner");
    }
    return capi::guarded(error, [&] {
        capi::Borrowed lent(runner);
        controls->controls.apply_press_modes(controls->chart, *lent);
        return CURSIMETER_OK;
    });
}

int cursimeter_controls_input(const cursimeter_controls* controls, const char* name) {
    return controls == nullptr || name == nullptr ? -1 : controls->controls.input(name).index;
}
void cursimeter_controls_press(cursimeter_controls* controls, int input, double at, int consumed) {
    if (controls != nullptr) {
        controls->controls.press(capi::input_of(input), at, capi::consumed_of(consumed));
    }
}
void cursimeter_controls_release(cursimeter_controls* controls, int input, double at) {
    if (controls != nullptr) {
        controls->controls.release(capi::input_of(input), at);
    }
}
void cursimeter_controls_axis(cursimeter_controls* controls, int input, double value, double at,
                              int consumed) {
    if (controls != nullptr) {
        controls->controls.axis(capi::input_of(input), value, at, capi::consumed_of(consumed));
    }
}
void cursimeter_controls_deflect(cursimeter_controls* controls, double x, double y, double at) {
    if (controls != nullptr) {
        controls->controls.deflect(x, y, at);
    }
}
void cursimeter_controls_turn(cursimeter_controls* controls, double x, double y) {
    if (controls != nullptr) {
        controls->controls.turn(x, y);
    }
}
void cursimeter_controls_deflect_look(cursimeter_controls* controls, double x, double y) {
    if (controls != nullptr) {
        controls->controls.deflect_look(x, y);
    }
}
void cursimeter_controls_face(cursimeter_controls* controls, int facing) {
    if (controls != nullptr) {
        controls->controls.face(facing == 1 ? Facing::movement : Facing::look);
    }
}
void cursimeter_controls_lock_on(cursimeter_controls* controls, const cursimeter_focus* focus) {
    if (controls != nullptr && focus != nullptr) {
        controls->controls.lock_on(capi::focus_of(*focus));
    }
}
void cursimeter_controls_let_go(cursimeter_controls* controls, const cursimeter_runner* runner) {
    if (controls != nullptr && runner != nullptr) {
        controls->controls.let_go(*capi::Borrowed(runner));
    }
}
void cursimeter_controls_release_all(cursimeter_controls* controls, double at) {
    if (controls != nullptr) {
        controls->controls.release_all(at);
    }
}
void cursimeter_controls_release_device(cursimeter_controls* controls, const char* prefix, double at) {
    if (controls != nullptr && prefix != nullptr) {
        controls->controls.release_device(prefix, at);
    }
}

cursimeter_status cursimeter_controls_intent(cursimeter_controls* controls, cursimeter_intent* out) {
    if (controls == nullptr) {
        return CURSIMETER_BAD_ARGUMENT;
    }
    return capi::hand_out(controls->told.tell(controls->controls.intent()), out) ? CURSIMETER_OK
                                                                                 : CURSIMETER_BAD_ARGUMENT;
}
void cursimeter_controls_next_tick(cursimeter_controls* controls, double seconds) {
    if (controls != nullptr && seconds >= 0.0) {
        controls->controls.next_tick(Seconds{seconds});
    }
}
cursimeter_status cursimeter_controls_look(const cursimeter_controls* controls, double* yaw, double* pitch) {
    if (controls == nullptr || yaw == nullptr || pitch == nullptr) {
        return CURSIMETER_BAD_ARGUMENT;
    }
    *yaw = controls->controls.look().yaw;
    *pitch = controls->controls.look().pitch;
    return CURSIMETER_OK;
}
void cursimeter_controls_set_look(cursimeter_controls* controls, double yaw, double pitch) {
    if (controls != nullptr) {
        controls->controls.set_look({yaw, pitch});
    }
}

}  // extern "C"
