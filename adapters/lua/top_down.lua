-- A game seen from above: the stick says where to go on the screen, the mouse where to look. The screen's right is +x, its
-- top +y.
local cursimeter = require "cursimeter"
local chart = cursimeter.load("demo/charts/keeper.toml")
local keeper = chart:spawn()

-- The intent of a player who moves by the screen's directions and aims at a point.
local function intent_of(runner, stick, aim, held)
    local x, y = aim.x - runner.x, aim.y - runner.y
    -- A cursor on the runner itself turns nothing.
    local yaw = x * x + y * y > 0.01 and cursimeter.arc_tangent(y, x) or runner.yaw
    -- Moves are relative to the look: turn the stick back by it.
    local sine, cosine = cursimeter.sine_cosine(yaw)
    return {forward = stick.right * cosine + stick.up * sine, side = stick.right * sine - stick.up * cosine, yaw = yaw,
            held = held, seconds = 1 / 60}
end

local function show(what, runner, x, y)
    print(("%-34s %.2f m/s, %+5.2f right %+5.2f up"):format(what, runner.speed, runner.x - x, runner.y - y))
end
local function walk(what, stick, aim, held)
    local x, y = keeper.x, keeper.y
    for _ = 1, 120 do
        keeper:advance(intent_of(keeper, stick, aim, held))
    end
    show(what, keeper, x, y)
end

walk("right, looking far to the right", {right = 1, up = 0}, {x = 1000, y = 0})
walk("right, looking far up", {right = 1, up = 0}, {x = keeper.x, y = 1000})
walk("right, looking far to the left", {right = 1, up = 0}, {x = -1000, y = 0})
walk("up, looking far to the right", {right = 0, up = 1}, {x = 1000, y = keeper.y})
walk("up, half a stick", {right = 0, up = 0.5}, {x = keeper.x, y = 1000})
-- A dash goes where the stick says, wherever it looks.
walk("a dash to the left, looking up", {right = -1, up = 0}, {x = keeper.x, y = 1000}, {"dash"})

-- In a game that does not aim, the character faces where it goes, and the chart's forward speed counts in every direction.
local other = chart:spawn()
for _ = 1, 120 do
    -- Of a look that stays along +x: forward is right, side is down.
    other:advance{forward = -0.6, side = 0.8, facing = "movement", seconds = 1 / 60}
end
show("facing where it goes", other, 0, 0)
