-- Every function of the Lua module with arguments of any kind, fewer and more than it takes: it answers, or it says by an error what is
-- wrong. Two charts are at hand, so that runners, names and worlds meet the chart that is not theirs.
-- usage: test_any_argument.lua PROJECT
local cursimeter = require "cursimeter"
local project = arg[1]
math.randomseed(11)

local bearer, eel = cursimeter.load(project .. "/demo/charts/bearer.toml"), cursimeter.load(project .. "/demo/charts/eel.toml")
local relay = bearer:course(project .. "/demo/courses/relay.toml")
local live = cursimeter.live(project .. "/demo/charts/bearer.toml")
local odd = {0, 1, -1, 3, 1e300, -1e300, 0.5, 0 / 0, 1 / 0, math.mininteger, math.maxinteger, true, false, "", "stamina", "sprint", "dash",
    "states", "no such thing", string.rep("x", 5000), "a\0b", print, {}, {1, 2, 3}, {"sprint"}, {held = 1}, {held = {"sprint", 7}},
    {seconds = "long"}, {seconds = -1}, {seconds = 1 / 0}, {forward = 0 / 0}, {terrain = 5}, {held = {}, pressed = {"nothing"}},
    {direction = 1}, {x = "1"}, coroutine.create(print)}
local function any()
    local pick = math.random(#odd + 8)
    if pick <= #odd then return odd[pick] end
    return ({bearer, eel, bearer:spawn(), eel:spawn(), relay, live, nil, io.stdout})[pick - #odd]
end

local functions, objects = {"load", "parse", "live", "arc_tangent", "sine_cosine"}, {
    {bearer, {"name", "names", "spawn", "course", "restore"}},
    {relay, {"set_time"}},
    {live, {"take_in"}},
    {nil, {"advance", "copy", "save", "carry_over", "digest", "meter", "cooldown", "spend", "fill", "use", "grant", "remove", "block",
        "unblock", "place", "push", "could_enter"}},
}
local calls, refused = 0, 0
local function try(call, ...)
    local fine, what = pcall(call, ...)
    calls = calls + 1
    if not fine then
        refused = refused + 1
        assert(type(what) == "string" and #what > 0, "an error without words")
    end
end
for round = 1, 400 do
    for _, name in ipairs(functions) do
        try(cursimeter[name], any(), any(), any())
    end
    for _, object in ipairs(objects) do
        local self = object[1] or bearer:spawn()
        for _, name in ipairs(object[2]) do
            local call = self[name]
            assert(call, name)
            try(call, self, table.unpack({any(), any(), any()}, 1, math.random(0, 3)))
            if round % 10 == 0 then try(call, any(), any(), any()) end
        end
    end
end
print(("%d calls, %d refused"):format(calls, refused))
assert(calls > 10000 and refused > calls / 4)
