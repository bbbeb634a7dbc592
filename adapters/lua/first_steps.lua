-- A bearer from Lua: load a chart, hand over what is held, advance, read what happened.
local cursimeter = require "cursimeter"
local chart = cursimeter.load("demo/charts/bearer.toml")
local runner = chart:spawn()
for tick = 1, 600 do -- ten seconds at 60 ticks a second
    local report = runner:advance{forward = 1, held = {"sprint"}, seconds = 1 / 60}
    for _, event in ipairs(report.events) do
        if event.kind == "entered" then
            print(("%s (%s)"):format(event.subject, event.cause))
        end
    end
end
print(("%.2f m, stamina %.1f"):format(runner.x, runner:meter("stamina").level))
-- expected output:
-- sprint (enter: sprint on)
-- walk (stay failed: stamina > 0)
-- 56.31 m, stamina 17.2
