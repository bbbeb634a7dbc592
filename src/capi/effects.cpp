#include <cursimeter/effects.hpp>

#include "capi/boundary.hpp"

using namespace cursimeter;

namespace cursimeter::capi {
namespace {

/// Checks what every call here is given, then runs `work(chart, runner, index)`.
template <class RunnerPointer, class Work>
cursimeter_status with(const cursimeter_chart* chart, RunnerPointer runner, int list, int index,
                       cursimeter_error* error, Work&& work) {
    if (chart == nullptr || runner == nullptr) {
        return bad_argument(error, chart == nullptr ? "chart" : "runner");
    }
    if (!is_index(chart->file.chart, list, index)) {
        return bad_argument(error, "index");
    }
    return guarded(error, [&] {
        Borrowed lent(runner);
        return work(chart->file.chart, *lent, static_cast<std::uint8_t>(index));
    });
}

cursimeter_status answer(bool yes) {
    return yes ? CURSIMETER_OK : CURSIMETER_NO;
}

/// Puts a block into force, or lifts it; `change` returns how often it is in force then, or -1 if it could not.
cursimeter_status count_block(const cursimeter_chart* chart, cursimeter_runner* runner, int block_index,
                              int* count, cursimeter_error* error,
                              int (*change)(const Chart&, Runner&, BlockId)) {
    return with(chart, runner, CURSIMETER_BLOCKS, block_index, error,
                [&](const Chart& of, Runner& at, std::uint8_t index) {
                    const bool done = change(of, at, BlockId{index}) >= 0;
                    if (count != nullptr) {
                        *count = blocked(of, at, BlockId{index});
                    }
                    return answer(done);
                });
}

}  // namespace
}  // namespace cursimeter::capi

extern "C" {

cursimeter_status cursimeter_read_meter(const cursimeter_chart* chart, const cursimeter_runner* runner,
                                        int meter, cursimeter_meter* out, cursimeter_error* error) {
    return capi::with(
        chart, runner, CURSIMETER_METERS, meter, error,
        [&](const Chart& of, const Runner& at, std::uint8_t index) {
            if (out == nullptr) {
                return capi::bad_argument(error, "out");
            }
            const MeterReading reading = read_meter(of, at, MeterId{index});
            *out = {reading.level, of.capacity(MeterId{index}), reading.fraction, reading.spent ? 1 : 0, 0};
            return CURSIMETER_OK;
        });
}

cursimeter_status cursimeter_spend(const cursimeter_chart* chart, cursimeter_runner* runner, int meter,
                                   double amount, cursimeter_error* error) {
    return capi::with(chart, runner, CURSIMETER_METERS, meter, error,
                      [&](const Chart& of, Runner& at, std::uint8_t index) {
                          return capi::answer(try_spend(of, at, MeterId{index}, amount));
                      });
}

cursimeter_status cursimeter_fill(const cursimeter_chart* chart, cursimeter_runner* runner, int meter,
                                  double amount, double* fitted, cursimeter_error* error) {
    return capi::with(chart, runner, CURSIMETER_METERS, meter, error,
                      [&](const Chart& of, Runner& at, std::uint8_t index) {
                          const double taken = grant(of, at, MeterId{index}, amount);
                          if (fitted != nullptr) {
                              *fitted = taken;
                          }
                          return CURSIMETER_OK;
                      });
}

cursimeter_status cursimeter_read_cooldown(const cursimeter_chart* chart, const cursimeter_runner* runner,
                                           int cooldown, cursimeter_cooldown* out, cursimeter_error* error) {
    return capi::with(
        chart, runner, CURSIMETER_COOLDOWNS, cooldown, error,
        [&](const Chart& of, const Runner& at, std::uint8_t index) {
            if (out == nullptr) {
                return capi::bad_argument(error, "out");
            }
            const CooldownReading reading = read_cooldown(of, at, CooldownId{index});
            *out = {reading.ready ? 1 : 0, reading.charges, reading.left.value, reading.fraction};
            return CURSIMETER_OK;
        });
}

cursimeter_status cursimeter_use(const cursimeter_chart* chart, cursimeter_runner* runner, int cooldown,
                                 cursimeter_error* error) {
    return capi::with(chart, runner, CURSIMETER_COOLDOWNS, cooldown, error,
                      [&](const Chart& of, Runner& at, std::uint8_t index) {
                          return capi::answer(try_use(of, at, CooldownId{index}));
                      });
}

cursimeter_status cursimeter_refund(const cursimeter_chart* chart, cursimeter_runner* runner, int cooldown,
                                    int charges, cursimeter_error* error) {
    return capi::with(chart, runner, CURSIMETER_COOLDOWNS, cooldown, error,
                      [&](const Chart& of, Runner& at, std::uint8_t index) {
                          return capi::answer(refund(of, at, CooldownId{index}, charges) > 0);
                      });
}

cursimeter_status cursimeter_read_modifier(const cursimeter_chart* chart, const cursimeter_runner* runner,
                                           int modifier, cursimeter_modifier* out, cursimeter_error* error) {
    return capi::with(chart, runner, CURSIMETER_MODIFIERS, modifier, error,
                      [&](const Chart& of, const Runner& at, std::uint8_t index) {
                          if (out == nullptr) {
                              return capi::bad_argument(error, "out");
                          }
                          const ModifierReading reading = read_modifier(of, at, ModifierId{index});
                          *out = {reading.active ? 1 : 0, reading.stacks, reading.strength,
                                  reading.left ? reading.left->value : -1.0};
                          return CURSIMETER_OK;
                      });
}

cursimeter_status cursimeter_grant(const cursimeter_chart* chart, cursimeter_runner* runner, int modifier,
                                   int source, double strength, cursimeter_error* error) {
    return capi::with(chart, runner, CURSIMETER_MODIFIERS, modifier, error,
                      [&](const Chart& of, Runner& at, std::uint8_t index) {
                          if (source < 0 || source > 250) {
                              return capi::bad_argument(error, "source");
                          }
                          return capi::answer(grant(of, at, ModifierId{index},
                                                    Grant{static_cast<std::uint8_t>(source), strength}));
                      });
}

cursimeter_status cursimeter_remove(const cursimeter_chart* chart, cursimeter_runner* runner, int modifier,
                                    int source, int at_once, cursimeter_error* error) {
    return capi::with(
        chart, runner, CURSIMETER_MODIFIERS, modifier, error,
        [&](const Chart& of, Runner& at, std::uint8_t index) {
            if (source < 0 || source > 250) {
                return capi::bad_argument(error, "source");
            }
            return capi::answer(remove(of, at, ModifierId{index}, static_cast<std::uint8_t>(source),
                                       at_once != 0 ? Removal::at_once : Removal::fades));
        });
}

cursimeter_status cursimeter_block(const cursimeter_chart* chart, cursimeter_runner* runner, int block_index,
                                   int* count, cursimeter_error* error) {
    return capi::count_block(chart, runner, block_index, count, error, block);
}

cursimeter_status cursimeter_unblock(const cursimeter_chart* chart, cursimeter_runner* runner,
                                     int block_index, int* count, cursimeter_error* error) {
    return capi::count_block(chart, runner, block_index, count, error, unblock);
}

cursimeter_status cursimeter_hold(const cursimeter_chart* chart, cursimeter_runner* runner, int action,
                                  int on, cursimeter_error* error) {
    return capi::with(chart, runner, CURSIMETER_ACTIONS, action, error,
                      [&](const Chart& of, Runner& at, std::uint8_t index) {
                          hold_action(of, at, ActionId{index}, on != 0);
                          return CURSIMETER_OK;
                      });
}

cursimeter_status cursimeter_set_press_mode(const cursimeter_chart* chart, cursimeter_runner* runner,
                                            int action, int toggle, cursimeter_error* error) {
    return capi::with(
        chart, runner, CURSIMETER_ACTIONS, action, error, [&](const Chart&, Runner& at, std::uint8_t index) {
            set_press_mode(at, ActionId{index}, toggle != 0 ? PressMode::toggle : PressMode::hold);
            return CURSIMETER_OK;
        });
}

cursimeter_status cursimeter_could_enter(const cursimeter_chart* chart, const cursimeter_runner* runner,
                                         int state, int32_t* cause, int32_t* term, cursimeter_error* error) {
    return capi::with(chart, runner, CURSIMETER_STATES, state, error,
                      [&](const Chart& of, const Runner& at, std::uint8_t index) {
                          const Possibility could = could_enter(of, at, StateId{index});
                          if (cause != nullptr) {
                              *cause = could.possible ? 0 : static_cast<int32_t>(could.cause.kind);
                          }
                          if (term != nullptr) {
                              *term = could.possible ? 0 : could.cause.term;
                          }
                          return capi::answer(could.possible);
                      });
}

cursimeter_status cursimeter_force_state(const cursimeter_chart* chart, cursimeter_runner* runner, int state,
                                         cursimeter_error* error) {
    return capi::with(chart, runner, CURSIMETER_STATES, state, error,
                      [&](const Chart& of, Runner& at, std::uint8_t index) {
                          static_cast<void>(force_state(of, at, StateId{index}));
                          return CURSIMETER_OK;
                      });
}

cursimeter_status cursimeter_push(const cursimeter_chart* chart, cursimeter_runner* runner,
                                  const cursimeter_push_spec* push_spec, cursimeter_error* error) {
    cursimeter_push_spec said = CURSIMETER_PUSH_INIT;
    if (chart == nullptr || runner == nullptr || !capi::take_in(push_spec, said)) {
        return capi::bad_argument(error, chart == nullptr ? "chart" : runner == nullptr ? "runner" : "push");
    }
    return capi::guarded(error, [&] {
        capi::Borrowed lent(runner);
        return capi::answer(push(*lent, capi::push_of(said)));
    });
}

}  // extern "C"
