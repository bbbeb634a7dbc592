/* A player's own settings in C: which keys, buttons and sticks mean which action. C99.
 *
 * The game gives its inputs names of its own ("key.w", "pad.south"), which the settings use. What the game's own interface has
 * used already is handed in as consumed: it presses nothing; releases always count, so no key is ever stuck. Times are s after
 * the present tick's start. The loop:
 *
 *     cursimeter_controls_press(controls, input, at, 0);            as the game's events come
 *     cursimeter_controls_intent(controls, &intent);
 *     cursimeter_advance(chart, &runner, &intent, ...);
 *     cursimeter_controls_next_tick(controls, seconds);
 *
 * docs/controls-reference.md has the format of the files.
 */
#ifndef CURSIMETER_CURSIMETER_CONTROLS_H
#define CURSIMETER_CURSIMETER_CONTROLS_H

#include <cursimeter/cursimeter.h>

#ifdef __cplusplus
extern "C" {
#endif

typedef struct cursimeter_controls cursimeter_controls;

/* From a file of settings, for one chart. */
CURSIMETER_API cursimeter_status cursimeter_controls_load(const char* file, const cursimeter_chart* chart,
                                                          cursimeter_controls** out, cursimeter_error* error);
/* From text of `length` bytes. `name` stands for the file in messages; it may be null. */
CURSIMETER_API cursimeter_status cursimeter_controls_parse(const char* text, size_t length, const char* name,
                                                           const cursimeter_chart* chart,
                                                           cursimeter_controls** out,
                                                           cursimeter_error* error);
CURSIMETER_API void cursimeter_controls_free(cursimeter_controls* controls);
/* Takes other settings for the same chart, as from the player's menu. The look, the sticks and what is down stay: a key goes
 * on doing what it does by both settings, what it no longer does is released at `at`. Nothing changes for mistakes. */
CURSIMETER_API cursimeter_status cursimeter_controls_rebind(cursimeter_controls* controls, const char* text,
                                                            size_t length, const char* name, double at,
                                                            cursimeter_error* error);
/* Goes on with another version of the chart, after cursimeter_carry_over. Nothing changes if an action is gone. */
CURSIMETER_API cursimeter_status cursimeter_controls_carry_over(cursimeter_controls* controls,
                                                                const cursimeter_chart* to,
                                                                cursimeter_error* error);
/* The settings as TOML, to be saved. It lives until they change. */
CURSIMETER_API const char* cursimeter_controls_text(cursimeter_controls* controls);
/* Chords that mean two things, a line each; empty: none. It lives until the settings change. */
CURSIMETER_API const char* cursimeter_controls_conflicts(cursimeter_controls* controls);
/* Gives the player's press modes to a runner: hold or toggle. */
CURSIMETER_API cursimeter_status cursimeter_controls_apply_press_modes(const cursimeter_controls* controls,
                                                                       cursimeter_runner* runner,
                                                                       cursimeter_error* error);

/* The number of an input; one that nothing is bound to may be pressed and released without effect. -1 for null. */
CURSIMETER_API int cursimeter_controls_input(const cursimeter_controls* controls, const char* name);
/* `consumed` 1: the game's own interface has used it. */
CURSIMETER_API void cursimeter_controls_press(cursimeter_controls* controls, int input, double at,
                                              int consumed);
CURSIMETER_API void cursimeter_controls_release(cursimeter_controls* controls, int input, double at);
/* An axis that is bound like a key, such as a trigger: down from 0.5 on, up below 0.4. */
CURSIMETER_API void cursimeter_controls_axis(cursimeter_controls* controls, int input, double value,
                                             double at, int consumed);
/* The stick's deflection, each -1 to 1, y ahead. Keys and stick are added up. */
CURSIMETER_API void cursimeter_controls_deflect(cursimeter_controls* controls, double x, double y, double at);
/* A mouse's way: x to the right, y up. */
CURSIMETER_API void cursimeter_controls_turn(cursimeter_controls* controls, double x, double y);
/* A look stick's deflection, each -1 to 1, until the next call. */
CURSIMETER_API void cursimeter_controls_deflect_look(cursimeter_controls* controls, double x, double y);
/* 0: the character faces where it looks; 1: where it goes. */
CURSIMETER_API void cursimeter_controls_face(cursimeter_controls* controls, int facing);
/* Keeps the look on a point until let_go; tell it before each tick if it moves. */
CURSIMETER_API void cursimeter_controls_lock_on(cursimeter_controls* controls, const cursimeter_focus* focus);
/* Turns freely again, from where the runner looks. */
CURSIMETER_API void cursimeter_controls_let_go(cursimeter_controls* controls,
                                               const cursimeter_runner* runner);
/* The window is in front no more: everything goes up, the sticks to rest. */
CURSIMETER_API void cursimeter_controls_release_all(cursimeter_controls* controls, double at);
/* A device is gone: every input whose name begins so goes up ("pad."). */
CURSIMETER_API void cursimeter_controls_release_device(cursimeter_controls* controls, const char* prefix,
                                                       double at);

/* What has been gathered for the present tick. What it points to lives until the next call for these controls. */
CURSIMETER_API cursimeter_status cursimeter_controls_intent(cursimeter_controls* controls,
                                                            cursimeter_intent* out);
/* Ends the tick: the look turns on, what is held stays. */
CURSIMETER_API void cursimeter_controls_next_tick(cursimeter_controls* controls, double seconds);
/* Where it looks, rad. */
CURSIMETER_API cursimeter_status cursimeter_controls_look(const cursimeter_controls* controls, double* yaw,
                                                          double* pitch);
/* At once, as after a teleport. */
CURSIMETER_API void cursimeter_controls_set_look(cursimeter_controls* controls, double yaw, double pitch);

#ifdef __cplusplus
}
#endif

#endif
