-- The Lua module: what it gives, and that every mistake is an error in words.
local cursimeter = require "cursimeter"
local folder = arg[1]

local function refuses(part, call, ...)
    local fine, text = pcall(call, ...)
    assert(not fine, "nothing was refused")
    assert(tostring(text):find(part, 1, true), ("'%s' does not say '%s'"):format(text, part))
end

local chart = cursimeter.load(folder .. "/demo/charts/keeper.toml")
assert(chart:name() == "keeper")
assert(#chart:names("states") > 2)
refuses("gone.toml: cannot be read", cursimeter.load, "gone.toml")
refuses("is a drill file, not a chart file", cursimeter.load, folder .. "/demo/drills/quay_boards.toml")
refuses("mine.toml:", cursimeter.parse, "name = 1", "mine.toml")
refuses("invalid option", chart.names, chart, "wheels")
refuses("string expected", cursimeter.load)

local runner = chart:spawn{x = 1, y = 2, z = 3, yaw = 0.5}
assert(runner.x == 1 and runner.y == 2 and runner.z == 3)
refuses("x is no number", chart.spawn, chart, {x = "here"})
refuses("position", chart.spawn, chart, {x = 0 / 0})
refuses("a runner has no 'wings'", function() return runner.wings end)
refuses("did you mean 'stamina'?", runner.meter, runner, "stamna")
refuses("held is no list", runner.advance, runner, {held = "dash"})
refuses("nothing named 'swim'", runner.advance, runner, {held = {"swim"}})
refuses("the tick is refused: bad seconds", runner.advance, runner, {seconds = -1})
refuses("cursimeter.runner expected", runner.advance, chart, {})

local sine, cosine = cursimeter.sine_cosine(0.5)
assert(math.abs(sine - math.sin(0.5)) < 1e-12 and math.abs(cosine - math.cos(0.5)) < 1e-12)
assert(math.abs(cursimeter.arc_tangent(-1, -1) + 0.75 * math.pi) < 1e-12)
refuses("number expected", cursimeter.arc_tangent, "up", 1)

assert(runner:meter("stamina").fraction == 1)
assert(runner:spend("stamina", 1e6) == false)
assert(runner:spend("stamina", 10) == true)
assert(runner:fill("stamina", 1000) == 10)
assert(runner:use("dash") and runner:use("dash") and not runner:use("dash"))
assert(runner:cooldown("dash").charges == 0)
assert(runner:grant("winded", 2) and runner:remove("winded", 2, true) and not runner:remove("winded", 2))
refuses("source", runner.grant, runner, "winded", 999)
assert(runner:push{x = 1, strength = 3, seconds = 0.5})
local possible, why = runner:could_enter("dash")
assert(possible == false and type(why) == "string")

-- A line of text outlives the program.
local saved = runner:save()
local loaded, nothing = chart:restore(saved)
assert(loaded:digest() == runner:digest() and nothing == nil)
refuses("saved runner: is none", chart.restore, chart, "yesterday's")
local bearer = cursimeter.load(folder .. "/demo/charts/bearer.toml")
local guest, lost = bearer:restore(saved)
assert(lost:find("is not in the new chart", 1, true))
guest:advance{forward = 1}
refuses("cursimeter.chart expected", runner.carry_over, runner, runner)

-- A chart is tuned under a runner.
local function write(text)
    local file = assert(io.open("live.chart.toml", "w"))
    file:write(text)
    file:close()
end
local function read(name)
    local file = assert(io.open(folder .. "/demo/charts/" .. name))
    local text = file:read("a")
    file:close()
    return text
end
local text = read("keeper.toml")
write(text)
local live, tuned = cursimeter.live("live.chart.toml")
local twin = tuned:spawn{}
twin:advance{forward = 1}
assert(live:take_in() == nil)
write((text:gsub("capacity = 100", "capcity = 100")))
local next_chart, mistakes = live:take_in()
assert(next_chart == nil and mistakes:find("did you mean 'capacity'?", 1, true))
write((text:gsub("capacity = 100", "capacity = 60") .. "\n# longer, so that its size tells\n"))
next_chart, mistakes = live:take_in()
assert(mistakes == nil)
assert(twin:carry_over(next_chart) == nil)
tuned, next_chart, live = nil, nil, nil
collectgarbage()
collectgarbage()
twin:advance{forward = 1} -- it keeps its new chart alive
assert(twin:meter("stamina").capacity == 60)
assert(twin:carry_over(bearer) ~= nil)
os.remove("live.chart.toml")
refuses("gone.toml: cannot be read", cursimeter.live, "gone.toml")

-- A copy is a moment that can be gone back to.
local before = runner:copy()
for _ = 1, 50 do runner:advance{forward = 1} end
for _ = 1, 50 do before:advance{forward = 1} end
assert(runner:digest() == before:digest())
local course = chart:course(folder .. "/demo/courses/relay.toml")
course:set_time(1)
before:advance({forward = 1}, course)
chart, runner = nil, nil
collectgarbage()
collectgarbage()
assert(before.state ~= nil) -- it keeps its chart alive
print("lua is fine")
