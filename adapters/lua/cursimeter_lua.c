/* Cursimeter for Lua 5.4: a module over the C interface.
 *
 *     local cursimeter = require "cursimeter"
 *     local chart = cursimeter.load("bearer.toml")
 *     local runner = chart:spawn{x = 0, y = 0, z = 0, yaw = 0}
 *     local report = runner:advance{forward = 1, held = {"sprint"}, seconds = 1 / 60}
 *     print(runner.x, runner.state, runner:meter("stamina").level)
 *
 * Every mistake is a Lua error with the text of the C interface. docs/bindings.md lists what there is.
 */
#include <cursimeter/cursimeter.h>
#include <lauxlib.h>
#include <lua.h>
#include <string.h>

static const char chart_type[] = "cursimeter.chart";
static const char runner_type[] = "cursimeter.runner";
static const char terrain_type[] = "cursimeter.terrain";
static const char live_type[] = "cursimeter.live_chart";

typedef struct ChartBox {
    cursimeter_chart* chart;
} ChartBox;
typedef struct RunnerBox {
    cursimeter_runner runner;
    const cursimeter_chart* chart; /* kept alive by the user value */
} RunnerBox;
typedef struct TerrainBox {
    cursimeter_terrain* terrain;
} TerrainBox;

typedef struct LiveBox {
    cursimeter_live_chart* live;
} LiveBox;

/* Raises what went wrong. Frees the error first: a Lua error leaves this function by longjmp. */
static int raise(lua_State* L, cursimeter_error* error, const char* otherwise) {
    const char* text = cursimeter_error_text(error);
    lua_pushstring(L, text[0] != '\0' ? text : otherwise);
    cursimeter_error_free(error);
    return lua_error(L);
}

/* The index of a named thing of the chart. Raises an error that names the nearest. */
static int find(lua_State* L, const cursimeter_chart* chart, int list, const char* name) {
    const int known = cursimeter_find(chart, list, name, NULL);
    if (known < 0) {
        cursimeter_error* error = cursimeter_error_new();
        cursimeter_find(chart, list, name, error);
        raise(L, error, "there is no such name");
    }
    return known;
}

static double number_field(lua_State* L, int table, const char* key, double otherwise) {
    const int type = lua_getfield(L, table, key);
    double value = otherwise;
    if (type != LUA_TNIL) {
        int is_number = 0;
        value = lua_tonumberx(L, -1, &is_number);
        if (!is_number) {
            luaL_error(L, "%s is no number", key);
        }
    }
    lua_pop(L, 1);
    return value;
}

/* ---- charts ---- */

static int chart_load(lua_State* L) {
    const char* file = luaL_checkstring(L, 1);
    ChartBox* box = lua_newuserdatauv(L, sizeof *box, 0);
    box->chart = NULL;
    luaL_setmetatable(L, chart_type);
    cursimeter_error* error = cursimeter_error_new();
    if (cursimeter_chart_load(file, &box->chart, error) != CURSIMETER_OK) {
        return raise(L, error, "the chart cannot be loaded");
    }
    cursimeter_error_free(error);
    return 1;
}

static int chart_parse(lua_State* L) {
    size_t length = 0;
    const char* text = luaL_checklstring(L, 1, &length);
    const char* name = luaL_optstring(L, 2, "chart");
    ChartBox* box = lua_newuserdatauv(L, sizeof *box, 0);
    box->chart = NULL;
    luaL_setmetatable(L, chart_type);
    cursimeter_error* error = cursimeter_error_new();
    if (cursimeter_chart_parse(text, length, name, &box->chart, error) != CURSIMETER_OK) {
        return raise(L, error, "the chart cannot be read");
    }
    cursimeter_error_free(error);
    return 1;
}

static const cursimeter_chart* chart_at(lua_State* L, int index) {
    const ChartBox* box = luaL_checkudata(L, index, chart_type);
    return box->chart;
}

static int chart_free(lua_State* L) {
    ChartBox* box = luaL_checkudata(L, 1, chart_type);
    cursimeter_chart_free(box->chart);
    box->chart = NULL;
    return 0;
}

static int chart_name(lua_State* L) {
    lua_pushstring(L, cursimeter_chart_name(chart_at(L, 1)));
    return 1;
}

static const char* const list_names[] = {"states",    "actions", "meters", "cooldowns",
                                         "modifiers", "blocks",  "zones",  NULL};

/* chart:names("states") */
static int chart_names(lua_State* L) {
    const cursimeter_chart* chart = chart_at(L, 1);
    const int list = luaL_checkoption(L, 2, NULL, list_names);
    lua_newtable(L);
    for (size_t i = 0; i < cursimeter_count(chart, list); ++i) {
        lua_pushstring(L, cursimeter_name(chart, list, i));
        lua_rawseti(L, -2, (lua_Integer)i + 1);
    }
    return 1;
}

static void read_placement(lua_State* L, int table, cursimeter_placement* placement) {
    memset(placement, 0, sizeof *placement);
    if (!lua_isnoneornil(L, table)) {
        luaL_checktype(L, table, LUA_TTABLE);
        placement->position[0] = number_field(L, table, "x", 0);
        placement->position[1] = number_field(L, table, "y", 0);
        placement->position[2] = number_field(L, table, "z", 0);
        placement->yaw = number_field(L, table, "yaw", 0);
    }
}

/* Pushes a box for a runner of the chart at 1, which it keeps alive. It is no runner yet. */
static RunnerBox* push_box(lua_State* L, const cursimeter_chart* chart) {
    RunnerBox* box = lua_newuserdatauv(L, sizeof *box, 1);
    memset(box, 0, sizeof *box);
    box->chart = chart;
    lua_pushvalue(L, 1);
    lua_setiuservalue(L, -2, 1);
    return box;
}

static int chart_spawn(lua_State* L) {
    const cursimeter_chart* chart = chart_at(L, 1);
    cursimeter_placement placement;
    read_placement(L, 2, &placement);
    RunnerBox* box = push_box(L, chart);
    cursimeter_error* error = cursimeter_error_new();
    if (cursimeter_spawn(chart, &placement, &box->runner, error) != CURSIMETER_OK) {
        return raise(L, error, "the runner cannot be placed there");
    }
    cursimeter_error_free(error);
    luaL_setmetatable(L, runner_type);
    return 1;
}

/* The lines of an error, or nil where there is none. */
static void push_lines(lua_State* L, const cursimeter_error* error) {
    if (cursimeter_error_count(error) > 0) {
        lua_pushstring(L, cursimeter_error_text(error));
    } else {
        lua_pushnil(L);
    }
}

/* local runner, lost = chart:restore(text) */
static int chart_restore(lua_State* L) {
    const cursimeter_chart* chart = chart_at(L, 1);
    const char* text = luaL_checkstring(L, 2);
    RunnerBox* box = push_box(L, chart);
    cursimeter_error* error = cursimeter_error_new();
    const cursimeter_status status = cursimeter_restore_runner(chart, text, &box->runner, error);
    if (status != CURSIMETER_OK && status != CURSIMETER_NO) {
        return raise(L, error, "the runner cannot be restored");
    }
    luaL_setmetatable(L, runner_type);
    push_lines(L, error);
    cursimeter_error_free(error);
    return 2;
}

/* chart:course("relay.toml") */
static int chart_course(lua_State* L) {
    const cursimeter_chart* chart = chart_at(L, 1);
    const char* file = luaL_checkstring(L, 2);
    TerrainBox* box = lua_newuserdatauv(L, sizeof *box, 0);
    box->terrain = NULL;
    luaL_setmetatable(L, terrain_type);
    cursimeter_error* error = cursimeter_error_new();
    if (cursimeter_terrain_load(file, chart, &box->terrain, error) != CURSIMETER_OK) {
        return raise(L, error, "the course cannot be loaded");
    }
    cursimeter_error_free(error);
    return 1;
}

static int terrain_free(lua_State* L) {
    TerrainBox* box = luaL_checkudata(L, 1, terrain_type);
    cursimeter_terrain_free(box->terrain);
    box->terrain = NULL;
    return 0;
}

/* terrain:set_time(seconds) */
static int terrain_set_time(lua_State* L) {
    const TerrainBox* box = luaL_checkudata(L, 1, terrain_type);
    if (cursimeter_terrain_set_time(box->terrain, luaL_checknumber(L, 2)) != CURSIMETER_OK) {
        return luaL_error(L, "the time is no finite number");
    }
    return 0;
}

/* ---- runners ---- */

static RunnerBox* runner_at(lua_State* L, int index) {
    return luaL_checkudata(L, index, runner_type);
}

static int same_list(lua_State* L, RunnerBox* box, int list) {
    return find(L, box->chart, list, luaL_checkstring(L, 2));
}

/* The keys of `held`: a list of actions' names. */
static uint32_t read_held(lua_State* L, const cursimeter_chart* chart, int table) {
    uint32_t held = 0;
    if (lua_getfield(L, table, "held") != LUA_TNIL) {
        if (!lua_istable(L, -1)) {
            luaL_error(L, "held is no list of actions");
        }
        const lua_Integer count = (lua_Integer)lua_rawlen(L, -1);
        for (lua_Integer i = 1; i <= count; ++i) {
            lua_rawgeti(L, -1, i);
            const char* name = lua_tostring(L, -1);
            if (name == NULL) {
                luaL_error(L, "held is no list of actions");
            }
            held |= (uint32_t)1 << find(L, chart, CURSIMETER_ACTIONS, name);
            lua_pop(L, 1);
        }
    }
    lua_pop(L, 1);
    return held;
}

static void push_report(lua_State* L, const cursimeter_chart* chart, const cursimeter_report* report) {
    lua_createtable(L, 0, 4);
    lua_pushnumber(L, report->seconds);
    lua_setfield(L, -2, "seconds");
    lua_pushboolean(L, report->intent_mended);
    lua_setfield(L, -2, "intent_mended");
    lua_pushboolean(L, report->dt_shortened);
    lua_setfield(L, -2, "dt_shortened");
    lua_createtable(L, (int)report->event_count, 0);
    for (uint32_t i = 0; i < report->event_count; ++i) {
        const cursimeter_event* event = &report->events[i];
        lua_createtable(L, 0, 5);
        lua_pushstring(L, cursimeter_event_name(event->kind));
        lua_setfield(L, -2, "kind");
        lua_pushstring(L, cursimeter_name(chart, event->list, (size_t)event->subject));
        lua_setfield(L, -2, "subject");
        lua_pushnumber(L, event->at);
        lua_setfield(L, -2, "at");
        lua_pushnumber(L, event->value);
        lua_setfield(L, -2, "value");
        if (event->kind == CURSIMETER_ENTERED || event->kind == CURSIMETER_REFUSED) {
            char cause[256];
            cursimeter_describe_cause(chart, event->cause, event->term, cause, sizeof cause);
            lua_pushstring(L, cause);
            lua_setfield(L, -2, "cause");
        }
        lua_rawseti(L, -2, (lua_Integer)i + 1);
    }
    lua_setfield(L, -2, "events");
}

/* runner:advance{forward = 1, side = 0, yaw = 0, pitch = 0, held = {...}, facing = "movement", seconds = 1 / 60}, terrain */
static int runner_advance(lua_State* L) {
    RunnerBox* box = runner_at(L, 1);
    luaL_checktype(L, 2, LUA_TTABLE);
    const TerrainBox* terrain = lua_isnoneornil(L, 3) ? NULL : luaL_checkudata(L, 3, terrain_type);
    cursimeter_intent intent = CURSIMETER_INTENT_INIT;
    intent.forward = number_field(L, 2, "forward", 0);
    intent.side = number_field(L, 2, "side", 0);
    intent.yaw = number_field(L, 2, "yaw", 0);
    intent.pitch = number_field(L, 2, "pitch", 0);
    intent.held = read_held(L, box->chart, 2);
    lua_getfield(L, 2, "facing");
    intent.facing = lua_tostring(L, -1) != NULL && strcmp(lua_tostring(L, -1), "movement") == 0;
    lua_pop(L, 1);
    const double seconds = number_field(L, 2, "seconds", 1.0 / 60.0);
    cursimeter_report report;
    report.size = sizeof report;
    report.refusal = 0;
    if (cursimeter_advance(box->chart, &box->runner, &intent, terrain == NULL ? NULL : terrain->terrain,
                           seconds, &report) != CURSIMETER_OK) {
        return luaL_error(L, "the tick is refused: %s", cursimeter_refusal_name(report.refusal));
    }
    push_report(L, box->chart, &report);
    return 1;
}

static int runner_copy(lua_State* L) {
    RunnerBox* box = runner_at(L, 1);
    RunnerBox* twin = lua_newuserdatauv(L, sizeof *twin, 1);
    *twin = *box;
    lua_getiuservalue(L, 1, 1);
    lua_setiuservalue(L, -2, 1);
    luaL_setmetatable(L, runner_type);
    return 1;
}

/* runner:save(): a line of text */
static int runner_save(lua_State* L) {
    const RunnerBox* box = runner_at(L, 1);
    cursimeter_error* error = cursimeter_error_new();
    size_t length = 0;
    cursimeter_save_runner(box->chart, &box->runner, NULL, 0, &length, error);
    luaL_Buffer text;
    char* room = luaL_buffinitsize(L, &text, length + 1);
    if (cursimeter_save_runner(box->chart, &box->runner, room, length + 1, NULL, error) != CURSIMETER_OK) {
        return raise(L, error, "the runner cannot be saved");
    }
    cursimeter_error_free(error);
    luaL_pushresultsize(&text, length);
    return 1;
}

/* local lost = runner:carry_over(chart): goes on with another version of its chart */
static int runner_carry_over(lua_State* L) {
    RunnerBox* box = runner_at(L, 1);
    const cursimeter_chart* to = chart_at(L, 2);
    cursimeter_error* error = cursimeter_error_new();
    const cursimeter_status status = cursimeter_carry_over(box->chart, &box->runner, to, &box->runner, error);
    if (status != CURSIMETER_OK && status != CURSIMETER_NO) {
        return raise(L, error, "the runner cannot be carried over");
    }
    box->chart = to;
    lua_pushvalue(L, 2);
    lua_setiuservalue(L, 1, 1); /* the runner keeps its chart alive */
    push_lines(L, error);
    cursimeter_error_free(error);
    return 1;
}

static int runner_digest(lua_State* L) {
    lua_pushfstring(L, "%I", (LUAI_UACINT)cursimeter_digest(&runner_at(L, 1)->runner));
    return 1;
}

static int runner_meter(lua_State* L) {
    RunnerBox* box = runner_at(L, 1);
    cursimeter_meter meter;
    cursimeter_read_meter(box->chart, &box->runner, same_list(L, box, CURSIMETER_METERS), &meter, NULL);
    lua_createtable(L, 0, 4);
    lua_pushnumber(L, meter.level);
    lua_setfield(L, -2, "level");
    lua_pushnumber(L, meter.capacity);
    lua_setfield(L, -2, "capacity");
    lua_pushnumber(L, meter.fraction);
    lua_setfield(L, -2, "fraction");
    lua_pushboolean(L, meter.spent);
    lua_setfield(L, -2, "spent");
    return 1;
}

static int runner_cooldown(lua_State* L) {
    RunnerBox* box = runner_at(L, 1);
    cursimeter_cooldown cooldown;
    cursimeter_read_cooldown(box->chart, &box->runner, same_list(L, box, CURSIMETER_COOLDOWNS), &cooldown,
                             NULL);
    lua_createtable(L, 0, 4);
    lua_pushboolean(L, cooldown.ready);
    lua_setfield(L, -2, "ready");
    lua_pushinteger(L, cooldown.charges);
    lua_setfield(L, -2, "charges");
    lua_pushnumber(L, cooldown.left);
    lua_setfield(L, -2, "left");
    lua_pushnumber(L, cooldown.fraction);
    lua_setfield(L, -2, "fraction");
    return 1;
}

/* Answers a call that is yes, no or a mistake: true, false, or an error. */
static int answer(lua_State* L, cursimeter_status status, cursimeter_error* error) {
    if (status != CURSIMETER_OK && status != CURSIMETER_NO) {
        return raise(L, error, "an argument is out of range");
    }
    cursimeter_error_free(error);
    lua_pushboolean(L, status == CURSIMETER_OK);
    return 1;
}

static int runner_spend(lua_State* L) {
    RunnerBox* box = runner_at(L, 1);
    const int meter = same_list(L, box, CURSIMETER_METERS);
    const double amount = luaL_checknumber(L, 3);
    cursimeter_error* error = cursimeter_error_new();
    return answer(L, cursimeter_spend(box->chart, &box->runner, meter, amount, error), error);
}

static int runner_fill(lua_State* L) {
    RunnerBox* box = runner_at(L, 1);
    const int meter = same_list(L, box, CURSIMETER_METERS);
    const double amount = luaL_checknumber(L, 3);
    double fitted = 0.0;
    cursimeter_error* error = cursimeter_error_new();
    answer(L, cursimeter_fill(box->chart, &box->runner, meter, amount, &fitted, error), error);
    lua_pushnumber(L, fitted);
    return 1;
}

static int runner_use(lua_State* L) {
    RunnerBox* box = runner_at(L, 1);
    const int cooldown = same_list(L, box, CURSIMETER_COOLDOWNS);
    cursimeter_error* error = cursimeter_error_new();
    return answer(L, cursimeter_use(box->chart, &box->runner, cooldown, error), error);
}

static int runner_grant(lua_State* L) {
    RunnerBox* box = runner_at(L, 1);
    const int modifier = same_list(L, box, CURSIMETER_MODIFIERS);
    const int source = (int)luaL_optinteger(L, 3, 0);
    const double strength = luaL_optnumber(L, 4, 1);
    cursimeter_error* error = cursimeter_error_new();
    return answer(L, cursimeter_grant(box->chart, &box->runner, modifier, source, strength, error), error);
}

static int runner_remove(lua_State* L) {
    RunnerBox* box = runner_at(L, 1);
    const int modifier = same_list(L, box, CURSIMETER_MODIFIERS);
    const int source = (int)luaL_optinteger(L, 3, 0);
    cursimeter_error* error = cursimeter_error_new();
    return answer(
        L, cursimeter_remove(box->chart, &box->runner, modifier, source, lua_toboolean(L, 4), error), error);
}

static int change_block(lua_State* L, cursimeter_status (*change)(const cursimeter_chart*, cursimeter_runner*,
                                                                  int, int*, cursimeter_error*)) {
    RunnerBox* box = runner_at(L, 1);
    const int block = same_list(L, box, CURSIMETER_BLOCKS);
    cursimeter_error* error = cursimeter_error_new();
    return answer(L, change(box->chart, &box->runner, block, NULL, error), error);
}

static int runner_block(lua_State* L) {
    return change_block(L, cursimeter_block);
}

static int runner_unblock(lua_State* L) {
    return change_block(L, cursimeter_unblock);
}

static int runner_place(lua_State* L) {
    RunnerBox* box = runner_at(L, 1);
    cursimeter_placement placement;
    read_placement(L, 2, &placement);
    cursimeter_error* error = cursimeter_error_new();
    return answer(L, cursimeter_place(box->chart, &box->runner, &placement, error), error);
}

/* runner:push{x = 1, strength = 5, seconds = 0.4, lift = 0.2} */
static int runner_push(lua_State* L) {
    RunnerBox* box = runner_at(L, 1);
    luaL_checktype(L, 2, LUA_TTABLE);
    cursimeter_push_spec push = CURSIMETER_PUSH_INIT;
    push.direction[0] = number_field(L, 2, "x", 0);
    push.direction[1] = number_field(L, 2, "y", 0);
    push.direction[2] = number_field(L, 2, "z", 0);
    push.strength = number_field(L, 2, "strength", 0);
    push.lift = number_field(L, 2, "lift", 0);
    push.seconds = number_field(L, 2, "seconds", 0);
    lua_getfield(L, 2, "locks");
    push.locks = lua_toboolean(L, -1);
    lua_pop(L, 1);
    cursimeter_error* error = cursimeter_error_new();
    return answer(L, cursimeter_push(box->chart, &box->runner, &push, error), error);
}

/* runner:could_enter("dash"): true, or false and the reason. */
static int runner_could_enter(lua_State* L) {
    RunnerBox* box = runner_at(L, 1);
    const int state = same_list(L, box, CURSIMETER_STATES);
    int32_t cause = 0, term = 0;
    const cursimeter_status status =
        cursimeter_could_enter(box->chart, &box->runner, state, &cause, &term, NULL);
    lua_pushboolean(L, status == CURSIMETER_OK);
    if (status == CURSIMETER_OK) {
        return 1;
    }
    char text[256];
    cursimeter_describe_cause(box->chart, cause, term, text, sizeof text);
    lua_pushstring(L, text);
    return 2;
}

static const luaL_Reg runner_methods[] = {{"advance", runner_advance},
                                          {"copy", runner_copy},
                                          {"save", runner_save},
                                          {"carry_over", runner_carry_over},
                                          {"digest", runner_digest},
                                          {"meter", runner_meter},
                                          {"cooldown", runner_cooldown},
                                          {"spend", runner_spend},
                                          {"fill", runner_fill},
                                          {"use", runner_use},
                                          {"grant", runner_grant},
                                          {"remove", runner_remove},
                                          {"block", runner_block},
                                          {"unblock", runner_unblock},
                                          {"place", runner_place},
                                          {"push", runner_push},
                                          {"could_enter", runner_could_enter},
                                          {NULL, NULL}};

/* runner.x, runner.state and its like; otherwise a method. */
static int runner_index(lua_State* L) {
    RunnerBox* box = runner_at(L, 1);
    const char* key = luaL_checkstring(L, 2);
    cursimeter_reading now = CURSIMETER_READING_INIT;
    cursimeter_read(box->chart, &box->runner, &now);
    const struct {
        const char* name;
        double value;
    } numbers[] = {{"x", now.position[0]},
                   {"y", now.position[1]},
                   {"z", now.position[2]},
                   {"vx", now.velocity[0]},
                   {"vy", now.velocity[1]},
                   {"vz", now.velocity[2]},
                   {"speed", now.speed},
                   {"speed_target", now.speed_target},
                   {"distance", now.distance},
                   {"yaw", now.yaw},
                   {"pitch", now.pitch},
                   {"clock", now.clock},
                   {"time_in_state", now.time_in_state}};
    for (size_t i = 0; i < sizeof numbers / sizeof numbers[0]; ++i) {
        if (strcmp(key, numbers[i].name) == 0) {
            lua_pushnumber(L, numbers[i].value);
            return 1;
        }
    }
    const struct {
        const char* name;
        int value;
    } truths[] = {{"grounded", now.grounded},
                  {"headroom", now.headroom},
                  {"by_wall", now.by_wall},
                  {"crushed", now.crushed}};
    for (size_t i = 0; i < sizeof truths / sizeof truths[0]; ++i) {
        if (strcmp(key, truths[i].name) == 0) {
            lua_pushboolean(L, truths[i].value);
            return 1;
        }
    }
    if (strcmp(key, "state") == 0) {
        lua_pushstring(L, cursimeter_name(box->chart, CURSIMETER_STATES, (size_t)now.state));
        return 1;
    }
    for (const luaL_Reg* method = runner_methods; method->name != NULL; ++method) {
        if (strcmp(key, method->name) == 0) {
            lua_pushcfunction(L, method->func);
            return 1;
        }
    }
    return luaL_error(L, "a runner has no '%s'", key);
}

static void make_type(lua_State* L, const char* name, const luaL_Reg* methods, lua_CFunction free) {
    luaL_newmetatable(L, name);
    lua_newtable(L);
    luaL_setfuncs(L, methods, 0);
    lua_setfield(L, -2, "__index");
    lua_pushcfunction(L, free);
    lua_setfield(L, -2, "__gc");
    lua_pushliteral(L, "locked"); /* nobody takes __gc to call it twice */
    lua_setfield(L, -2, "__metatable");
    lua_pop(L, 1);
}

/* ---- charts that are tuned while the game runs ---- */

/* local live, chart = cursimeter.live(file) */
static int live_new(lua_State* L) {
    const char* file = luaL_checkstring(L, 1);
    LiveBox* live = lua_newuserdatauv(L, sizeof *live, 0);
    live->live = NULL;
    luaL_setmetatable(L, live_type);
    ChartBox* box = lua_newuserdatauv(L, sizeof *box, 0);
    box->chart = NULL;
    luaL_setmetatable(L, chart_type);
    cursimeter_error* error = cursimeter_error_new();
    if (cursimeter_live_chart_new(file, &live->live, &box->chart, error) != CURSIMETER_OK) {
        return raise(L, error, "the chart cannot be loaded");
    }
    cursimeter_error_free(error);
    return 2;
}

static int live_free(lua_State* L) {
    LiveBox* box = luaL_checkudata(L, 1, live_type);
    cursimeter_live_chart_free(box->live);
    box->live = NULL;
    return 0;
}

/* local next, mistakes = live:take_in(): the chart of the file if it was saved, or nil, and what is wrong with it */
static int live_take_in(lua_State* L) {
    const LiveBox* live = luaL_checkudata(L, 1, live_type);
    ChartBox* box = lua_newuserdatauv(L, sizeof *box, 0);
    box->chart = NULL;
    luaL_setmetatable(L, chart_type);
    cursimeter_error* error = cursimeter_error_new();
    const cursimeter_status status = cursimeter_live_chart_take_in(live->live, &box->chart, error);
    if (status == CURSIMETER_OK) {
        cursimeter_error_free(error);
        return 1;
    }
    if (status != CURSIMETER_NO) {
        return raise(L, error, "the chart cannot be taken in");
    }
    lua_pushnil(L);
    push_lines(L, error);
    cursimeter_error_free(error);
    return 2;
}

/* cursimeter.arc_tangent(y, x): rad, the same bits on every machine */
static int angle_of(lua_State* L) {
    lua_pushnumber(L, cursimeter_arc_tangent(luaL_checknumber(L, 1), luaL_checknumber(L, 2)));
    return 1;
}
/* local sine, cosine = cursimeter.sine_cosine(angle) */
static int sides_of(lua_State* L) {
    double sine, cosine;
    cursimeter_sine_cosine(luaL_checknumber(L, 1), &sine, &cosine);
    lua_pushnumber(L, sine);
    lua_pushnumber(L, cosine);
    return 2;
}

LUALIB_API int luaopen_cursimeter(lua_State* L);
LUALIB_API int luaopen_cursimeter(lua_State* L) {
    luaL_checkversion(L);
    const luaL_Reg chart_methods[] = {{"name", chart_name},       {"names", chart_names},
                                      {"spawn", chart_spawn},     {"course", chart_course},
                                      {"restore", chart_restore}, {NULL, NULL}};
    const luaL_Reg terrain_methods[] = {{"set_time", terrain_set_time}, {NULL, NULL}};
    make_type(L, chart_type, chart_methods, chart_free);
    const luaL_Reg live_methods[] = {{"take_in", live_take_in}, {NULL, NULL}};
    make_type(L, terrain_type, terrain_methods, terrain_free);
    make_type(L, live_type, live_methods, live_free);
    luaL_newmetatable(L, runner_type);
    lua_pushcfunction(L, runner_index);
    lua_setfield(L, -2, "__index");
    lua_pop(L, 1);
    const luaL_Reg functions[] = {{"load", chart_load},      {"parse", chart_parse},    {"live", live_new},
                                  {"arc_tangent", angle_of}, {"sine_cosine", sides_of}, {NULL, NULL}};
    luaL_newlib(L, functions);
    lua_pushstring(L, cursimeter_version());
    lua_setfield(L, -2, "version");
    return 1;
}
